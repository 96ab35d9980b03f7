"""Signing in through an institution (OpenID Connect): what comes back from it, and what that means here.

allauth asks the institution and checks its answer; who it is here, and whether they may come in, is decided below.
"""

import re
import time
from typing import Any, Literal

from allauth.core.exceptions import ImmediateHttpResponse
from allauth.socialaccount.adapter import DefaultSocialAccountAdapter
from allauth.socialaccount.models import SocialAccount, SocialLogin
from django.conf import settings
from django.http import HttpRequest, HttpResponseRedirect
from requests import RequestException

from server.accounts import events, sessions
from server.accounts.models import User
from server.accounts.services import name_is_free, open_session, without_password
from server.joining import services
from server.problems import Refusal

PROVIDER = "institution"
Purpose = Literal["sign-in", "confirm", "link"]
_FRESH = 120  # seconds, within which somebody signs in who is asked to do so again
_BACK = {"sign-in": "/", "confirm": "/account", "link": "/account"}


class Adapter(DefaultSocialAccountAdapter):
    """Takes over from allauth once an institution has said who somebody is, or that it will not."""

    def pre_social_login(self, request: HttpRequest, sociallogin: SocialLogin) -> None:
        raise ImmediateHttpResponse(HttpResponseRedirect(_arrive(request, sociallogin)))

    def on_authentication_error(self, request: HttpRequest, *said: Any, **more: Any) -> None:
        raise ImmediateHttpResponse(HttpResponseRedirect("/?institution=refused"))


def address(request: HttpRequest, purpose: Purpose, back: str, invitation: str) -> str:
    """Where a browser goes to be told apart. back: the page to come back to."""
    if not settings.INSTITUTION:
        raise Refusal(404, "no-institution", "This server knows no institution.", remedy="Sign in with a password.")
    provider = Adapter(request).get_provider(request, PROVIDER)
    again = {"prompt": "login", "max_age": "0"} if purpose == "confirm" else {}
    params = {**provider.get_auth_params(), **again}
    said = {"purpose": purpose, "back": back, "invitation": invitation, "asked": time.time()}
    try:
        return str(provider.redirect(request, process="redirect", auth_params=params, **said).url)
    except (RequestException, ValueError, KeyError) as error:
        raise Refusal(
            503, "institution-away", f"{settings.INSTITUTION} does not answer.", remedy="Try again in a minute.",
            retry_after=60,
        ) from error  # fmt: skip


def _arrive(request: HttpRequest, came: SocialLogin) -> str:
    """Do what somebody went to their institution for; the page that comes next."""
    state, said = came.state, came.account.extra_data
    if came.account.pk:  # allauth keeps whatever an institution tells; here it is who somebody is alone
        came.account.extra_data = {}
        came.account.save(update_fields=["extra_data"])
    purpose: str = state.get("purpose", "sign-in")
    there = came.account.user if came.account.pk else None
    try:
        if purpose == "confirm":
            refused = _confirm(request, there, said, float(state["asked"]))
        elif purpose == "link":
            refused = _link(request, there, came)
        else:
            refused = _let_in(request, there, came, said, state.get("invitation", ""))
    except Refusal as refusal:
        refused = refusal.code
    if refused:
        return f"{_BACK[purpose]}?institution={refused}"
    return str(state.get("back") or _BACK[purpose])


def _let_in(request: HttpRequest, user: User | None, came: SocialLogin, said: dict[str, Any], invitation: str) -> str:
    if user is None:
        user = services.join(request, invitation, lambda: _made(came, said), known=True)
    elif not user.is_active:
        return "shut-out"
    open_session(request, user)
    events.record("signed-in", request, user, detail=settings.INSTITUTION)
    return ""


def _confirm(request: HttpRequest, user: User | None, said: dict[str, Any], asked: float) -> str:
    """The same person again, who was asked for it just now."""
    told = said.get("id_token", {}).get("auth_time")
    if user is None or user != request.user:
        return "another"
    if told is not None and float(told) < asked - _FRESH:
        return "not-again"
    sessions.confirm(request)
    return ""


def _link(request: HttpRequest, user: User | None, came: SocialLogin) -> str:
    """An account with a password is signed in to through the institution too."""
    if not (isinstance(request.user, User) and request.user.own):
        return "refused"
    sessions.require_confirmed(request)
    if user is not None:
        return "" if user == request.user else "taken"
    _keep(request.user, came)
    events.record("institution-linked", request, request.user, detail=settings.INSTITUTION)
    return ""


def _made(came: SocialLogin, told: dict[str, Any]) -> User:
    said = told.get("userinfo") or told.get("id_token") or {}
    user = without_password(_free_name(str(said.get("preferred_username") or said.get("email") or "")))
    _keep(user, came)
    return user


def _keep(user: User, came: SocialLogin) -> None:
    """Which person of the institution it is, and nothing else that it told."""
    came.account.user = user
    came.account.extra_data = {}
    came.account.save()


def _free_name(wished: str) -> str:
    """The name that an institution uses of somebody, or what is before the @ of an address, with a number where it is
    taken."""
    stem = re.sub(r"[^\w.+-]", "", wished.split("@")[0])[:100] or "person"
    number = 1
    while not name_is_free(name := stem if number == 1 else f"{stem}-{number}"):
        number += 1
    return name


def unlink(request: HttpRequest, user: User) -> None:
    """Sign in with the password alone from now on."""
    if not user.has_usable_password():
        raise Refusal(422, "no-password", "There is no other way into this account.", remedy="Keep the institution.")
    SocialAccount.objects.filter(user=user).delete()
    events.record("institution-unlinked", request, user, detail=settings.INSTITUTION)
