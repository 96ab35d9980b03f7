"""An account that is new: whose it may be, and what is there at a first look."""

from collections.abc import Callable

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest

from server.accounts import events, invitations
from server.accounts.models import User
from server.accounts.services import visitors_gone
from server.demo.services import load_worked
from server.studies import services as studies


def join(request: HttpRequest, invitation: str, make: Callable[[], User], *, known: bool = False) -> User:
    """Make an account where it may be made, with its first study. invitation: the secret of one, or ""; known: whether
    an institution says who it is."""
    with transaction.atomic():
        used = invitations.required(invitation, known=known)
        user = make()
        if used is not None:
            used.used_by = user
            used.save(update_fields=["used_by"])
    if settings.DEMO != "off":
        load_worked(user)  # a first look at real shapes, never a blank page
    else:
        studies.create_study(user, "First study")
    events.record("signed-up", request, user)
    return user


def forget_visitors() -> None:
    """Remove who looked around for a day, with their copy of the demo study."""
    for visitor in visitors_gone():
        with transaction.atomic():
            studies.remove_all(visitor)
            visitor.delete()
