"""Requests that are too large are refused before their body is read; questions too long for an address are taken."""

from collections.abc import Callable
from urllib.parse import quote_from_bytes

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from server.problems import oversize_problem, problem

FORM_OVERHEAD = 1_000_000


class UploadLimit:
    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        length = request.META.get("CONTENT_LENGTH") or "0"
        if length.isdigit() and int(length) > settings.UPLOAD_LIMIT + FORM_OVERHEAD:
            return oversize_problem(int(length))
        return self.get_response(request)


LONG_QUESTION = "X-Heron-Question"
_LONGEST = 400_000
_ASCII = "".join(map(chr, range(33, 127)))  # stands as it was sent; the rest is quoted, as in an address


class LongQuestion:
    """A question whose parameters are too long for an address comes as a POST that says so, with them as its body; it
    is answered as the GET that it stands for."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        if request.method == "POST" and LONG_QUESTION in request.headers and request.path.startswith("/api/"):
            asked = request.read(_LONGEST + 1)
            if len(asked) > _LONGEST:
                return problem(413, "too-large", "The question is too long.", remedy="Ask for less at once.")
            request.method = request.META["REQUEST_METHOD"] = "GET"
            request.META["QUERY_STRING"] = quote_from_bytes(asked, safe=_ASCII)
        return self.get_response(request)
