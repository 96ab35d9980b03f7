from typing import Any

from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from ninja.security import SessionAuth

from server.accounts import rates
from server.accounts import services as accounts
from server.accounts.api import anyone, session_out
from server.accounts.models import User
from server.accounts.requests import SignedIn, as_person
from server.accounts.schemas import SessionOut
from server.accounts.sessions import require_confirmed
from server.demo.services import load_worked
from server.joining import institution, services
from server.joining.schemas import LeaveForIn, LeaveForOut, NewAccount

router = Router(tags=["accounts"])


@router.post("/session/demo", response=SessionOut, auth=anyone)
def look_around(request: HttpRequest) -> Any:
    if isinstance(request.user, User) and request.user.demo:
        return session_out(request)
    if settings.DEMO == "each":
        rates.require(rates.VISIT, request)
        rates.count(rates.VISIT, request)
    user = accounts.demo_account()
    load_worked(user)
    accounts.open_session(request, user)
    return session_out(request)


@router.post("/session/sign-up", response=SessionOut, auth=anyone)
def sign_up(request: HttpRequest, said: NewAccount) -> Any:
    rates.require(rates.SIGN_UP, request)
    user = services.join(request, said.invitation, lambda: accounts.sign_up(said.name, said.password))
    rates.count(rates.SIGN_UP, request)
    accounts.open_session(request, user)
    return session_out(request)


@router.post("/session/institution", response=LeaveForOut, auth=anyone)
def leave_for_institution(request: HttpRequest, said: LeaveForIn) -> Any:
    """The address of the institution at which somebody signs in; it sends the browser back."""
    if said.purpose == "link":
        accounts.require_account(as_person(request))
        require_confirmed(request)
    return {"address": institution.address(request, said.purpose, said.back, said.invitation)}


@router.delete("/session/institution", response={204: None}, auth=SessionAuth())
def unlink_institution(request: SignedIn) -> Any:
    """Sign in with the password alone."""
    accounts.require_account(request.user)
    require_confirmed(request)
    institution.unlink(request, request.user)
    return 204, None
