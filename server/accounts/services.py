"""Signing up, in and out."""

import hashlib
import secrets
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.core.exceptions import ValidationError
from django.db import IntegrityError, transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone

from server.accounts import events, passwords, rates, second, sessions
from server.accounts.models import Token, User
from server.problems import Refusal

DEMO_NAME = "demo"
VISIT = timedelta(days=1)


def sign_up(name: str, password: str) -> User:
    user = User(username=name)
    try:
        User.username_validator(name)
    except ValidationError as error:
        raise Refusal(422, "sign-up", " ".join(error.messages), where="name", remedy="Choose another.") from error
    passwords.valid(password, user)
    user.set_password(password)
    taken = Refusal(409, "name-taken", f"The name {name} is taken.", where="name", remedy="Choose another name.")
    if not name_is_free(name):
        raise taken
    try:
        with transaction.atomic():
            user.save()
    except IntegrityError as error:
        raise taken from error
    return user


def name_is_free(name: str) -> bool:
    return name.lower() != DEMO_NAME and not User.objects.filter(username__iexact=name).exists()


def open_session(request: HttpRequest, user: User) -> None:
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")


def sign_in(request: HttpRequest, name: str, password: str, code: str = "") -> User:
    """Let in who knows a name, its password and, where the account takes one, a code."""
    rates.require(rates.WRONG_PASSWORD, request, name)
    user = authenticate(request, username=name, password=password)
    if user is None:
        rates.count(rates.WRONG_PASSWORD, request, name)
        events.record("wrong-password", request, User.objects.filter(username=name).first(), name=name)
        raise Refusal(401, "wrong-password", "Name and password do not match.", remedy="Check both, then try again.")
    assert isinstance(user, User)
    second.require(request, user, code)
    login(request, user)
    events.record("signed-in", request, user)
    return user


def sign_out(request: HttpRequest, user: User) -> None:
    logout(request)
    events.record("signed-out", request, user)


def keep_address(request: HttpRequest, user: User, address: str) -> None:
    """The mail address to which a link for a new password is sent; "" for none."""
    require_account(user)
    sessions.require_confirmed(request)
    before, user.email = user.email, address
    user.save(update_fields=["email"])
    events.record("address-changed", request, user, to=before)


def demo_account() -> User:
    """An account without a password, for looking around, where the server has such: everybody's, or a new one."""
    if settings.DEMO == "off":
        raise Refusal(404, "no-demo", "This server has no demo account.", remedy="Sign up, or sign in.")
    if settings.DEMO == "each":
        return without_password(f"visitor-{secrets.token_hex(6)}", demo=True)
    user = User.objects.filter(username=DEMO_NAME, demo=True).first()
    return user or without_password(DEMO_NAME, demo=True)


def visitors_gone() -> QuerySet[User]:
    """Who looked around for a day, in an account of their own."""
    ended = timezone.now() - VISIT
    return User.objects.filter(demo=True, date_joined__lt=ended).exclude(username=DEMO_NAME)


def without_password(name: str, **said: bool) -> User:
    user = User(username=name, **said)
    user.set_unusable_password()
    user.save()
    return user


def keep_listed(user: User, listed: dict[str, Any]) -> None:
    """Keep which statistics a person wants listed; guests, and the demo account, which many share, keep nothing."""
    if user.own:
        user.listed = listed
        user.save(update_fields=["listed"])


def make_guest() -> User:
    """Whoever comes by a link: nobody's name, no password, and nothing of their own."""
    return without_password(f"guest-{secrets.token_hex(8)}", guest=True)


def refuse_guest(user: User) -> None:
    if user.guest:
        raise _no_account()


def require_account(user: User) -> None:
    """Refuse guests, and whoever looks around in a demo account, what belongs to one person who stays."""
    if not user.own:
        raise _no_account()


def _no_account() -> Refusal:
    return Refusal(403, "no-account", "That takes an account of your own.", remedy="Sign in, or sign up.")


MOST_TOKENS = 50
_USED_EVERY = timedelta(minutes=1)


def digest_of(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def make_token(user: User, name: str, days: int = 90, scope: str = Token.Scope.WRITE) -> tuple[Token, str]:
    """A new token and its text, which is shown this once. days: until it ends."""
    require_account(user)
    if user.tokens.count() >= MOST_TOKENS:
        raise Refusal(422, "too-many", f"A person has at most {MOST_TOKENS} tokens.", remedy="Revoke one first.")
    text = f"heron_{secrets.token_urlsafe(32)}"
    ends = timezone.now() + timedelta(days=days)
    said = {"name": name.strip(), "digest": digest_of(text), "ending": text[-4:], "ends": ends, "scope": scope}
    return Token.objects.create(user=user, **said), text


def revoke_token(user: User, token_id: int) -> None:
    user.tokens.filter(pk=token_id).delete()


def token_of(text: str) -> Token | None:
    """The token with a text; None where it is nobody's any more, or its time is over."""
    now = timezone.now()
    known = Token.objects.select_related("user")
    result = known.filter(digest=digest_of(text), user__is_active=True, ends__gt=now).first()
    if result is None:
        return None
    if result.used is None or now - result.used > _USED_EVERY:
        Token.objects.filter(pk=result.pk).update(used=now)
    return result
