"""Passwords: what they must not be besides what Django says, changed, and set anew by mail."""

from typing import Any

from django.conf import settings
from django.contrib.auth import update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.tokens import default_token_generator
from django.core.exceptions import ValidationError
from django.core.mail import send_mail
from django.db.models import Q
from django.http import HttpRequest
from django.utils.http import urlsafe_base64_decode, urlsafe_base64_encode

from server.accounts import events, rates, sessions
from server.accounts.models import User
from server.problems import Refusal

LEAST_DIFFERENT = 5


class DifferentCharactersValidator:
    """Refuses a password of few different characters, however long."""

    def validate(self, password: str, user: Any = None) -> None:
        if len(set(password)) < LEAST_DIFFERENT:
            raise ValidationError(self.get_help_text(), code="few-characters")

    def get_help_text(self) -> str:
        return f"A password needs at least {LEAST_DIFFERENT} different characters."


def valid(password: str, user: User) -> None:
    try:
        validate_password(password, user)
    except ValidationError as error:
        raise Refusal(422, "password", " ".join(error.messages), where="password", remedy="Choose another.") from error


def change(request: HttpRequest, user: User, old: str, new: str) -> None:
    """A new password, for whoever knows the old one; every other browser is signed out."""
    check(request, user, old)
    valid(new, user)
    user.set_password(new)
    user.save(update_fields=["password"])
    before = request.session.session_key
    update_session_auth_hash(request, user)  # this browser stays, with a new key
    user.open_sessions.filter(key=before).update(key=request.session.session_key)
    sessions.end(user, but=request.session.session_key)
    events.record("password-changed", request, user)


def check(request: HttpRequest, user: User, password: str) -> None:
    """Refuse who does not know a person's password, and after some tries whoever asks."""
    rates.require(rates.WRONG_PASSWORD, request, user.get_username())
    if not user.check_password(password):
        rates.count(rates.WRONG_PASSWORD, request, user.get_username())
        events.record("wrong-password", request, user)
        raise Refusal(403, "wrong-password", "That is not your password.", where="password", remedy="Type it again.")
    sessions.confirm(request)


def ask_anew(request: HttpRequest, who: str) -> None:
    """Send a link by which the password is set anew to the address of whoever has this name or address. What is
    answered does not tell whether there is such a person."""
    rates.require(rates.RESET, request, who)
    rates.count(rates.RESET, request, who)
    found = User.objects.filter(Q(username__iexact=who) | Q(email__iexact=who), guest=False, is_active=True)
    for user in found.exclude(email=""):
        if not user.has_usable_password():
            continue  # an institution's
        send_mail(
            "A new password for Velvet Heron",
            f"Somebody, perhaps you, asked for a new password for {user.get_username()}.\n\n"
            f"Set it here within the hour:\n{request.build_absolute_uri(f'/reset/{key_of(user)}')}\n\n"
            "If it was not you, nothing needs to be done: your password stays as it is.\n",
            settings.DEFAULT_FROM_EMAIL, [user.email],
        )  # fmt: skip
        events.record("reset-asked", request, user)


def key_of(user: User) -> str:
    """By which a password is set anew within the hour, once."""
    return f"{urlsafe_base64_encode(str(user.pk).encode())}/{default_token_generator.make_token(user)}"


def set_anew(request: HttpRequest, person: str, token: str, new: str) -> User:
    """A new password, for whoever has the link that was sent; every browser is signed out."""
    rates.require(rates.WRONG_LINK, request)
    try:
        user = User.objects.get(pk=int(urlsafe_base64_decode(person)), is_active=True)
    except (ValueError, OverflowError, User.DoesNotExist):
        user = None
    if user is None or not default_token_generator.check_token(user, token):
        rates.count(rates.WRONG_LINK, request)
        raise Refusal(403, "no-link", "This link is used up, or its hour is over.", remedy="Ask for a new one.")
    valid(new, user)
    user.set_password(new)
    user.save(update_fields=["password"])
    sessions.end(user)
    events.record("password-reset", request, user)
    return user
