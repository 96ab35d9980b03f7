from typing import Any

from allauth.socialaccount.models import SocialAccount
from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from ninja.errors import HttpError
from ninja.security import HttpBearer, SessionAuth
from ninja.utils import check_csrf

from server.accounts import events, passwords, second, services, sessions
from server.accounts.models import Token, User
from server.accounts.requests import SignedIn
from server.accounts.schemas import (
    AccountOut,
    AddressIn,
    AskedAnewIn,
    BegunFactorOut,
    CodeIn,
    CodesOut,
    Listed,
    MadeTokenOut,
    NewPasswordIn,
    PasswordIn,
    SessionOut,
    SetAnewIn,
    SignInIn,
    TokenIn,
    TokenOut,
)
from server.documenting import asks_only
from server.problems import Refusal

router = Router(tags=["accounts"])


def anyone(request: HttpRequest) -> bool:
    """For operations before sign-in: anybody, but only from our own pages."""
    if check_csrf(request):
        raise HttpError(403, "CSRF check failed")
    return True


class TokenAuth(HttpBearer):
    """Programs: "Authorization: Bearer heron_..."; what it may do is what its person may, or to read that alone."""

    def authenticate(self, request: HttpRequest, token: str) -> User | None:
        held = services.token_of(token)
        if held is None:
            return None
        if held.scope == Token.Scope.READ and not asks_only(request):
            raise Refusal(
                403, "reads-only", "This token reads, and changes nothing.", remedy="Make one that may write."
            )
        request.user = held.user
        return held.user


def session_out(request: HttpRequest) -> SessionOut:
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    # Of who looks around, what they list stays in their browser.
    listed = user.listed if user.is_authenticated and not user.demo else None
    return SessionOut(
        name=name,
        is_demo=user.is_authenticated and user.demo,
        guest=user.is_authenticated and user.guest,
        operator=user.is_authenticated and user.is_staff,
        password=user.is_authenticated and user.has_usable_password(),
        sign_up=settings.SIGN_UP,
        institution=settings.INSTITUTION,
        demo=settings.DEMO,
        upload_limit=settings.UPLOAD_LIMIT,
        listed=Listed(**listed) if listed else None,
    )


@router.get("/session", response=SessionOut, auth=None)
def session(request: HttpRequest) -> Any:
    return session_out(request)


@router.post("/session/sign-in", response=SessionOut, auth=anyone)
def sign_in(request: HttpRequest, said: SignInIn) -> Any:
    services.sign_in(request, said.name, said.password, said.code)
    return session_out(request)


@router.put("/session/listed", response=SessionOut)
def keep_listed(request: SignedIn, listed: Listed) -> Any:
    services.keep_listed(request.user, listed.model_dump())
    return session_out(request)


@router.post("/session/sign-out", response=SessionOut)
def sign_out(request: SignedIn) -> Any:
    services.sign_out(request, request.user)
    return session_out(request)


@router.get("/session/tokens", response=list[TokenOut])
def tokens(request: SignedIn) -> Any:
    return list(request.user.tokens.all())


@router.post("/session/tokens", response={201: MadeTokenOut}, auth=SessionAuth())
def make_token(request: SignedIn, asked: TokenIn) -> Any:
    """A token makes no tokens: this takes a person who is signed in, and their password."""
    services.require_account(request.user)
    sessions.require_confirmed(request)
    made, text = services.make_token(request.user, asked.name, asked.days, asked.scope)
    events.record("token-made", request, request.user, detail=made.name)
    return 201, {**{name: getattr(made, name) for name in TokenOut.model_fields}, "text": text}


@router.delete("/session/tokens/{token_id}", response={204: None})
def revoke_token(request: SignedIn, token_id: int) -> Any:
    services.revoke_token(request.user, token_id)
    events.record("token-revoked", request, request.user)
    return 204, None


@router.post("/session/confirm", response={204: None}, auth=SessionAuth())
def confirm(request: SignedIn, said: PasswordIn) -> Any:
    """The password again, as some things take it; it holds for ten minutes."""
    passwords.check(request, request.user, said.password)
    return 204, None


@router.put("/session/password", response={204: None}, auth=SessionAuth())
def change_password(request: SignedIn, said: NewPasswordIn) -> Any:
    """A new password; every other browser is signed out."""
    services.require_account(request.user)
    passwords.change(request, request.user, said.old, said.new)
    return 204, None


@router.post("/session/second-factor", response=BegunFactorOut, auth=SessionAuth())
def begin_second_factor(request: SignedIn) -> Any:
    """A secret for an app that makes codes; it holds once a code of it was typed."""
    services.require_account(request.user)
    sessions.require_confirmed(request)
    secret, picture = second.begin(request, request.user)
    return {"secret": secret, "picture": picture}


@router.put("/session/second-factor", response=CodesOut, auth=SessionAuth())
def turn_on_second_factor(request: SignedIn, said: CodeIn) -> Any:
    """Take a code at each sign-in from now on."""
    return {"codes": second.turn_on(request, request.user, said.code)}


@router.post("/session/second-factor/codes", response=CodesOut, auth=SessionAuth())
def make_codes(request: SignedIn) -> Any:
    """Ten other codes; those from before hold no longer."""
    sessions.require_confirmed(request)
    return {"codes": second.new_codes(request, request.user)}


@router.delete("/session/second-factor", response={204: None}, auth=SessionAuth())
def turn_off_second_factor(request: SignedIn) -> Any:
    sessions.require_confirmed(request)
    second.turn_off(request, request.user)
    return 204, None


@router.post("/session/reset", response={204: None}, auth=anyone)
def ask_anew(request: HttpRequest, said: AskedAnewIn) -> Any:
    """Send a link for a new password to the mail address of a person, where there is one."""
    passwords.ask_anew(request, said.who.strip())
    return 204, None


@router.post("/session/reset/set", response={204: None}, auth=anyone)
def set_anew(request: HttpRequest, said: SetAnewIn) -> Any:
    """A new password by the link that was sent; every browser is signed out."""
    passwords.set_anew(request, said.person, said.token, said.password)
    return 204, None


@router.get("/session/account", response=AccountOut, auth=SessionAuth())
def account(request: SignedIn) -> Any:
    """What is kept of a person besides their studies: where they are signed in, and what happened to the account."""
    services.require_account(request.user)
    here = request.session.session_key
    return {
        "name": request.user.get_username(), "address": request.user.email, "joined": request.user.date_joined,
        "idle_hours": settings.IDLE_SECONDS / 3600,
        "second_factor": second.is_on(request.user), "codes_left": second.codes_left(request.user),
        "institution": SocialAccount.objects.filter(user=request.user).exists(),
        "sessions": [
            {"id": one.pk, "address": one.address, "browser": one.browser, "began": one.began, "seen": one.seen,
             "here": one.key == here} for one in sessions.open_of(request.user)
        ],
        "events": [
            {"what": events.KINDS.get(event.kind, event.kind), "detail": event.detail, "address": event.address,
             "at": event.at} for event in request.user.events.all()[:100]
        ],
    }  # fmt: skip


@router.put("/session/address", response={204: None}, auth=SessionAuth())
def keep_address(request: SignedIn, said: AddressIn) -> Any:
    """The mail address for a new password; "" for none."""
    services.keep_address(request, request.user, said.address)
    return 204, None


@router.delete("/session/open/{session_id}", response={204: None}, auth=SessionAuth())
def end_session(request: SignedIn, session_id: int) -> Any:
    """Sign out in another browser."""
    sessions.end(request.user, session_id=session_id)
    events.record("session-ended", request, request.user)
    return 204, None
