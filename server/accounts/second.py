"""A second factor: codes that an app makes from a secret and the time (RFC 6238), and ten codes for when it is lost."""

from base64 import urlsafe_b64encode
from hashlib import sha256

from allauth.mfa.adapter import DefaultMFAAdapter
from allauth.mfa.models import Authenticator
from allauth.mfa.recovery_codes.internal.auth import RecoveryCodes
from allauth.mfa.totp.internal.auth import TOTP, generate_totp_secret, validate_totp_code
from cryptography.fernet import Fernet, InvalidToken, MultiFernet
from django.conf import settings
from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest

from server.accounts import events, rates
from server.accounts.models import User
from server.problems import Refusal

_BEGUN = "second-factor"  # in the session: a secret that no code was typed for yet
ISSUER = "Velvet Heron"


class Adapter(DefaultMFAAdapter):
    """Keeps secrets encrypted with the server's own, so that a copy of the database alone opens nothing."""

    def encrypt(self, text: str) -> str:
        return _cipher().encrypt(text.encode()).decode()

    def decrypt(self, encrypted_text: str) -> str:
        return _cipher().decrypt(encrypted_text.encode()).decode()

    def get_totp_issuer(self) -> str:
        return ISSUER

    def get_totp_label(self, user: object) -> str:
        assert isinstance(user, User)
        return user.get_username()


def _cipher() -> MultiFernet:
    keys = [
        sha256(b"second factor:" + key.encode()).digest()
        for key in (settings.SECRET_KEY, *settings.SECRET_KEY_FALLBACKS)
    ]
    return MultiFernet([Fernet(urlsafe_b64encode(key)) for key in keys])


def _kept(user: User) -> QuerySet[Authenticator]:
    return Authenticator.objects.filter(user=user)


def is_on(user: User) -> bool:
    return _kept(user).filter(type="totp").exists()


def codes_left(user: User) -> int:
    """How many of the ten codes were not used yet."""
    held = _kept(user).filter(type="recovery_codes").first()
    return len(held.wrap().get_unused_codes()) if held else 0


def begin(request: HttpRequest, user: User) -> tuple[str, str]:
    """A new secret, as letters for typing and as a picture for an app's camera; a code of it turns the factor on."""
    if not user.has_usable_password():
        raise Refusal(422, "no-password", "Your institution asks for a second factor where it wants one.")
    if is_on(user):
        raise Refusal(409, "is-on", "The second factor is on already.", remedy="Turn it off to begin again.")
    secret = generate_totp_secret()
    request.session[_BEGUN] = Adapter().encrypt(secret)
    return secret, Adapter().build_totp_svg(Adapter().build_totp_url(user, secret))


@transaction.atomic
def turn_on(request: HttpRequest, user: User, code: str) -> list[str]:
    """Take a code from now on. Returns the ten codes that stand in for it, each once."""
    begun = request.session.get(_BEGUN)
    User.objects.select_for_update().get(pk=user.pk)
    if begun is None or is_on(user):
        raise Refusal(409, "not-begun", "No second factor was begun here.", remedy="Begin again.")
    secret = Adapter().decrypt(begun)
    if not validate_totp_code(secret, code):
        raise _wrong("Type the newest one that the app shows; its phone must have the right time.")
    del request.session[_BEGUN]
    TOTP.activate(user, secret)
    events.record("second-factor-on", request, user)
    return _new_codes(user)


@transaction.atomic
def new_codes(request: HttpRequest, user: User) -> list[str]:
    """Ten other codes; those from before hold no longer."""
    User.objects.select_for_update().get(pk=user.pk)
    if not is_on(user):
        raise Refusal(409, "is-off", "The second factor is off.", remedy="Turn it on first.")
    events.record("codes-made", request, user)
    return _new_codes(user)


def _new_codes(user: User) -> list[str]:
    _kept(user).filter(type="recovery_codes").delete()
    return RecoveryCodes.activate(user).generate_codes()


def forget(user: User) -> None:
    _kept(user).delete()


def turn_off(request: HttpRequest, user: User) -> None:
    forget(user)
    events.record("second-factor-off", request, user)


def require(request: HttpRequest, user: User, code: str) -> None:
    """Refuse whoever knows the password of an account and has no code, where it takes one."""
    if not is_on(user):
        return
    if not code:
        raise Refusal(401, "second-factor", "This account takes a code besides.", where="code", remedy="Type it.")
    rates.require(rates.WRONG_CODE, request, user.get_username())
    if not _holds(user, code):
        rates.count(rates.WRONG_CODE, request, user.get_username())
        events.record("wrong-code", request, user)
        raise _wrong("Type the newest one of the app, or one of your ten codes that was not used.")


def _holds(user: User, code: str) -> bool:
    """Whether a code is one of the app's now, or one of the ten; either once."""
    try:
        return any(held.wrap().validate_code(code) for held in _kept(user).order_by("-type"))
    except InvalidToken as error:
        raise Refusal(
            409, "secret-changed", "This server's secret was changed, and your codes with it.",
            remedy="Ask who runs it to turn your second factor off.",
        ) from error  # fmt: skip


def _wrong(remedy: str) -> Refusal:
    return Refusal(403, "wrong-code", "That code does not hold.", where="code", remedy=remedy)
