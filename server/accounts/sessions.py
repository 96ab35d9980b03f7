"""Browsers in which people are signed in: listed, ended, and closed after a time without use."""

import time
from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import logout
from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.contrib.sessions.models import Session
from django.dispatch import receiver
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from server.accounts import events
from server.accounts.models import OpenSession, User
from server.problems import Refusal

CONFIRMED_FOR = 600  # seconds, for which a password that was typed is not asked for again
_SEEN_EVERY = 60
_BY_ITSELF = ("/pulse", "/progress", "/api/session")  # what a page asks for with nobody before it


class IdleLimit:
    """A session that nobody used for a time ends; one that is used is seen."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if settings.SESSION_COOKIE_NAME in request.COOKIES and "_auth_user_id" in request.session:
            now, seen = int(time.time()), int(request.session.get("seen", 0))
            if seen and now - seen > settings.IDLE_SECONDS:
                user = request.user
                logout(request)
                if isinstance(user, User):
                    events.record("idle", request, user)
            elif now - seen >= _SEEN_EVERY and not request.path.endswith(_BY_ITSELF):
                request.session["seen"] = now
                OpenSession.objects.filter(key=request.session.session_key).update(seen=timezone.now())
        return self.get_response(request)


@receiver(user_logged_in)
def _began(sender: Any, request: HttpRequest, user: User, **_: Any) -> None:
    now = int(time.time())
    request.session["seen"], request.session["confirmed"] = now, now
    if not user.own:
        return
    browser = request.headers.get("User-Agent", "")[:200]
    said = {"user": user, "address": events.address_of(request), "browser": browser, "seen": timezone.now()}
    OpenSession.objects.update_or_create(key=request.session.session_key, defaults=said)


@receiver(user_logged_out)
def _ended(sender: Any, request: HttpRequest, user: User | None, **_: Any) -> None:
    OpenSession.objects.filter(key=request.session.session_key or "").delete()


def open_of(user: User) -> list[OpenSession]:
    """Where a person is signed in, the one used last first."""
    since = timezone.now() - timedelta(seconds=settings.IDLE_SECONDS)
    return list(user.open_sessions.filter(seen__gt=since))


def end(user: User, *, session_id: int | None = None, but: str | None = None) -> None:
    """End one session of a person, or all but that with a key."""
    ending = user.open_sessions.all()
    ending = ending.exclude(key=but) if session_id is None else ending.filter(pk=session_id)
    Session.objects.filter(session_key__in=list(ending.values_list("key", flat=True))).delete()
    ending.delete()


def require_confirmed(request: HttpRequest) -> None:
    """Refuse what takes the password of whoever is before the screen, or another sign-in through their institution,
    where that was too long ago; programs come by a token of their own."""
    user = request.user
    by_token = "_auth_user_id" not in request.session
    if by_token or (isinstance(user, User) and not user.own):
        return
    if time.time() - float(request.session.get("confirmed", 0)) > CONFIRMED_FOR:
        if isinstance(user, User) and not user.has_usable_password():
            raise Refusal(
                403, "sign-in-again", "That takes you to sign in again.", remedy="Sign in through your institution."
            )
        raise Refusal(403, "confirm", "That takes your password again.", remedy="Type it to go on.")


def confirm(request: HttpRequest) -> None:
    request.session["confirmed"] = int(time.time())


def forget_ended() -> None:
    """Let go of sessions that are over."""
    Session.objects.filter(expire_date__lt=timezone.now()).delete()
    since = timezone.now() - timedelta(seconds=settings.IDLE_SECONDS)
    OpenSession.objects.filter(seen__lte=since).delete()
