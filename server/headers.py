"""What every answer says of itself to the browser, besides what Django's own middleware says."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from heron.formatting import NUMBER_STYLES, USUAL_NUMBERS, numbers_as

from server.problems import problem

_UNUSED = ("camera", "display-capture", "geolocation", "microphone", "midi", "payment", "serial", "usb")
_POLICY = ", ".join(f"{feature}=()" for feature in _UNUSED)


class Headers:
    """No use of the machine's senses; no other origin may embed an answer; what the API says is stored nowhere, but for
    answers that are asked for again with their tag."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        response["Permissions-Policy"] = _POLICY
        response["Cross-Origin-Resource-Policy"] = "same-origin"
        if request.path.startswith("/api/"):
            # An answer that is opened as a page is a file, never a page.
            response.setdefault("Content-Disposition", 'attachment; filename="answer"')
            response.setdefault("Cache-Control", "no-store")
        return response


NUMBERS = "X-Heron-Numbers"


class Numbers:
    """What is told has its numbers as whoever reads it writes them."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        style = request.headers.get(NUMBERS, USUAL_NUMBERS)
        if style not in NUMBER_STYLES:
            return problem(
                400, "invalid-request", f"{NUMBERS} must be one of {', '.join(NUMBER_STYLES)}.", where=NUMBERS
            )
        with numbers_as(style):
            return self.get_response(request)
