from django.conf import settings
from django.http import HttpRequest
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf

from server.accounts import services
from server.accounts.schemas import Credentials, Listed, SessionOut

router = Router(tags=["accounts"])


def anyone(request: HttpRequest) -> bool:
    """For operations before sign-in: anybody, but only from our own pages."""
    if check_csrf(request):
        raise HttpError(403, "CSRF check failed")
    return True


def session_out(request: HttpRequest) -> SessionOut:
    user = request.user
    name = user.get_username() if user.is_authenticated else None
    return SessionOut(
        name=name,
        is_demo=name == services.DEMO_NAME,
        demo_mode=settings.DEMO_MODE,
        upload_limit=settings.UPLOAD_LIMIT,
        # The demo account is many people's; what they list stays in their browser.
        listed=Listed(**user.listed) if name not in (None, services.DEMO_NAME) and user.listed else None,
    )


@router.get("/session", response=SessionOut, auth=None)
def session(request: HttpRequest):
    return session_out(request)


@router.post("/session/sign-in", response=SessionOut, auth=anyone)
def sign_in(request: HttpRequest, credentials: Credentials):
    services.sign_in(request, credentials.name, credentials.password)
    return session_out(request)


@router.put("/session/listed", response=SessionOut)
def keep_listed(request: HttpRequest, listed: Listed):
    services.keep_listed(request.user, listed.model_dump())
    return session_out(request)


@router.post("/session/sign-out", response=SessionOut)
def sign_out(request: HttpRequest):
    services.sign_out(request)
    return session_out(request)
