"""What happened to accounts, kept for a year: for the person whom it concerns, and for who runs the server."""

import logging
from datetime import timedelta

from django.conf import settings
from django.core.mail import send_mail
from django.http import HttpRequest
from django.utils import timezone

from server.accounts.models import Event, User

logger = logging.getLogger(__name__)
KEPT = timedelta(days=365)
# What each kind is called.
KINDS = {
    "signed-in": "signed in", "wrong-password": "a wrong password", "signed-out": "signed out",
    "idle": "signed out after a time without use", "session-ended": "another browser signed out",
    "signed-up": "account created", "password-changed": "password changed", "reset-asked": "a new password asked for",
    "password-reset": "password set anew by mail", "address-changed": "mail address changed",
    "token-made": "token made", "token-revoked": "token revoked", "link-made": "study shared by a link",
    "link-revoked": "link revoked", "exported": "own data taken away", "removed": "account removed",
    "wrong-code": "a wrong code", "second-factor-on": "second factor turned on", "codes-made": "new codes made",
    "second-factor-off": "second factor turned off", "institution-linked": "sign-in through the institution added",
    "institution-unlinked": "sign-in through the institution ended",
    "invited": "invited somebody", "person-changed": "was changed by who runs the server",
}  # fmt: skip


# What a person is told by mail, where they gave an address: who else may have done it.
TOLD = {
    "password-changed", "password-reset", "address-changed", "second-factor-on", "second-factor-off",
    "institution-linked", "institution-unlinked",
}  # fmt: skip


def record(
    kind: str,
    request: HttpRequest | None,
    user: User | None,
    *,
    name: str = "",
    detail: str = "",
    to: str | None = None,
) -> None:
    """Keep that something happened, and tell the person where it matters to them. name: of an account that may not
    exist; to: another mail address than the account's, "" for none."""
    Event.objects.create(
        user=user, name=(user.get_username() if user else name)[:150], kind=kind, detail=detail[:300],
        address=address_of(request) if request else "",
    )  # fmt: skip

    address = user.email if user and to is None else to
    if user and kind in TOLD and address:
        _tell(user, KINDS[kind], address)


def _tell(user: User, what: str, address: str) -> None:
    text = (
        f"On the account {user.get_username()} of Velvet Heron: {what}.\n\nIf that was not you, set a new password, "
        "and tell whoever runs the server.\n"
    )
    try:
        send_mail(f"Velvet Heron: {what}", text, settings.DEFAULT_FROM_EMAIL, [address])
    except OSError:
        logger.warning("A letter could not be sent.", exc_info=True)


def address_of(request: HttpRequest) -> str:
    return str(request.META.get("REMOTE_ADDR", ""))[:64]


def forget_old() -> None:
    Event.objects.filter(at__lte=timezone.now() - KEPT).delete()
