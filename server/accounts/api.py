from typing import Any

from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from ninja.errors import HttpError
from ninja.security import HttpBearer, SessionAuth
from ninja.utils import check_csrf

from server.accounts import services
from server.accounts.models import User
from server.accounts.requests import SignedIn
from server.accounts.schemas import Credentials, Listed, MadeTokenOut, SessionOut, TokenIn, TokenOut

router = Router(tags=["accounts"])


def anyone(request: HttpRequest) -> bool:
    """For operations before sign-in: anybody, but only from our own pages."""
    if check_csrf(request):
        raise HttpError(403, "CSRF check failed")
    return True


class TokenAuth(HttpBearer):
    """Programs: "Authorization: Bearer heron_..."; what it may do is what its person may."""

    def authenticate(self, request: HttpRequest, token: str) -> User | None:
        user = services.user_of_token(token)
        if user is not None:
            request.user = user
        return user


def session_out(request: HttpRequest) -> SessionOut:
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    # The demo account is many people's; what they list stays in their browser.
    listed = user.listed if user.is_authenticated and name != services.DEMO_NAME else None
    return SessionOut(
        name=name,
        is_demo=name == services.DEMO_NAME,
        guest=user.is_authenticated and user.guest,
        demo_mode=settings.DEMO_MODE,
        upload_limit=settings.UPLOAD_LIMIT,
        listed=Listed(**listed) if listed else None,
    )


@router.get("/session", response=SessionOut, auth=None)
def session(request: HttpRequest) -> Any:
    return session_out(request)


@router.post("/session/sign-in", response=SessionOut, auth=anyone)
def sign_in(request: HttpRequest, credentials: Credentials) -> Any:
    services.sign_in(request, credentials.name, credentials.password)
    return session_out(request)


@router.put("/session/listed", response=SessionOut)
def keep_listed(request: SignedIn, listed: Listed) -> Any:
    services.keep_listed(request.user, listed.model_dump())
    return session_out(request)


@router.post("/session/sign-out", response=SessionOut)
def sign_out(request: SignedIn) -> Any:
    services.sign_out(request)
    return session_out(request)


@router.get("/session/tokens", response=list[TokenOut])
def tokens(request: SignedIn) -> Any:
    return list(request.user.tokens.all())


@router.post("/session/tokens", response={201: MadeTokenOut}, auth=SessionAuth())
def make_token(request: SignedIn, asked: TokenIn) -> Any:
    """A token makes no tokens: this takes a person who is signed in."""
    made, text = services.make_token(request.user, asked.name)
    return 201, {**{name: getattr(made, name) for name in TokenOut.model_fields}, "text": text}


@router.delete("/session/tokens/{token_id}", response={204: None})
def revoke_token(request: SignedIn, token_id: int) -> Any:
    services.revoke_token(request.user, token_id)
    return 204, None
