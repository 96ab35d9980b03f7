from typing import Any

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest
from ninja import Router

from server.accounts import events, invitations, rates
from server.accounts import services as accounts
from server.accounts.api import anyone, session_out
from server.accounts.schemas import NewAccount, SessionOut
from server.demo import services
from server.studies import services as studies

router = Router(tags=["accounts"])


@router.post("/session/demo", response=SessionOut, auth=anyone)
def look_around(request: HttpRequest) -> Any:
    user = accounts.demo_account()
    services.load_worked(user)
    accounts.open_session(request, user)
    return session_out(request)


@router.post("/session/sign-up", response=SessionOut, auth=anyone)
def sign_up(request: HttpRequest, said: NewAccount) -> Any:
    rates.require(rates.SIGN_UP, request)
    with transaction.atomic():
        invitation = invitations.required(said.invitation)
        user = accounts.sign_up(said.name, said.password)
        if invitation is not None:
            invitation.used_by = user
            invitation.save(update_fields=["used_by"])
    rates.count(rates.SIGN_UP, request)
    if settings.DEMO_MODE:
        services.load_worked(user)  # a first look at real shapes, never a blank page
    else:
        studies.create_study(user, "First study")
    events.record("signed-up", request, user)
    accounts.open_session(request, user)
    return session_out(request)
