"""Invitations: who may make an account where not everybody may."""

import secrets
from datetime import timedelta

from django.conf import settings
from django.utils import timezone

from server.accounts.models import Invitation, User
from server.accounts.services import digest_of
from server.problems import Refusal

MOST_OPEN = 500


def make(operator: User, name: str, days: int) -> tuple[Invitation, str]:
    """A new invitation and its secret, which is told this once."""
    if Invitation.objects.filter(used_by=None, expires__gt=timezone.now()).count() >= MOST_OPEN:
        raise Refusal(422, "too-many", f"At most {MOST_OPEN} invitations are open.", remedy="Revoke some first.")
    text = secrets.token_urlsafe(24)
    said = {"name": name.strip(), "digest": digest_of(text), "expires": timezone.now() + timedelta(days=days)}
    return Invitation.objects.create(made_by=operator, **said), text


def required(secret: str, *, known: bool = False) -> Invitation | None:
    """The invitation with a secret; refused where it takes one and this is none. known: whether an institution says who
    somebody is. Called within a transaction."""
    open_ones = Invitation.objects.select_for_update().filter(used_by=None, expires__gt=timezone.now())
    found = open_ones.filter(digest=digest_of(secret)).first() if secret else None
    takes_one = settings.SIGN_UP == "invited" or (settings.SIGN_UP == "institution" and not known)
    if found is None and (secret or takes_one):
        raise Refusal(
            403, "no-invitation", "An account here takes an invitation, and this is none that holds.",
            where="invitation", remedy="Ask who runs this server for one.",
        )  # fmt: skip
    return found
