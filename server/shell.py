"""The page that carries the interface, for every address that is not the API's."""

from collections.abc import Callable
from datetime import timedelta

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from django.template.loader import get_template
from django.utils import timezone
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_safe


class SetsCookie:
    """For ./dev, where the page comes from elsewhere: the cookie that changes are checked by comes with any answer."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        get_token(request)
        return self.get_response(request)


@require_safe
def robots(request: HttpRequest) -> HttpResponse:
    """Nothing here is for a search engine."""
    return HttpResponse("User-agent: *\nDisallow: /\n", content_type="text/plain")


@require_safe
def security(request: HttpRequest) -> HttpResponse:
    """Whom to tell of a fault (RFC 9116), where whoever runs this server says so."""
    if not settings.SECURITY_CONTACT:
        return HttpResponse("Nobody is named.\n", content_type="text/plain", status=404)
    ends = (timezone.now() + timedelta(days=180)).strftime("%Y-%m-%dT00:00:00Z")
    text = f"Contact: {settings.SECURITY_CONTACT}\nExpires: {ends}\nPreferred-Languages: en\n"
    return HttpResponse(text, content_type="text/plain; charset=utf-8")


# The first parts of the interface's addresses; all else is not here, and the interface leads back from it.
_PAGES = {
    "", "look", "tables", "studies", "plates", "table-plates", "reports", "help", "reference", "account", "reset",
    "people", "join",
}  # fmt: skip


@require_safe
@never_cache
@ensure_csrf_cookie
def shell(request: HttpRequest) -> HttpResponse:
    page = get_template("index.html").template.source  # type: ignore[attr-defined]
    # The nonce lets the interface's overlays add their one style element; no script is ever inline.
    status = 200 if request.path.split("/")[1] in _PAGES else 404
    return HttpResponse(page.replace("__NONCE__", str(request.csp_nonce)), status=status)  # type: ignore[attr-defined]
