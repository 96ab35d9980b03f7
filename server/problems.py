"""Errors as problem documents (RFC 9457): one place maps what went wrong to a status."""

import json
from collections.abc import Sequence

from django.conf import settings
from django.core.exceptions import PermissionDenied
from django.http import Http404, HttpRequest, HttpResponse
from heron.errors import HeronError, ReadError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, ValidationError


class Refusal(Exception):
    """The server will not do what was asked: status, and the same facts as a HeronError."""

    def __init__(self, status: int, code: str, problem: str, *, where: str = "", remedy: str = "") -> None:
        super().__init__(problem)
        self.status, self.code, self.problem, self.where, self.remedy = status, code, problem, where, remedy


def problem(
    status: int, code: str, text: str, *, where: str = "", rows: Sequence[int] = (), remedy: str = ""
) -> HttpResponse:
    """A problem document; rows are row numbers, counted from 1 as people see them."""
    document = {
        "type": f"urn:velvet-heron:problem:{code}",
        "title": text,
        "status": status,
        "code": code,
        "problem": text,
        "where": where,
        "rows": list(rows),
        "remedy": remedy,
    }
    return HttpResponse(json.dumps(document), status=status, content_type="application/problem+json")


def locked_out(request: HttpRequest, *args: object, **kwargs: object) -> HttpResponse:
    """What the sign-in throttle answers."""
    return problem(429, "locked-out", "Too many wrong passwords.", remedy="Wait a quarter of an hour, then try again.")


def register(api: NinjaAPI) -> None:
    @api.exception_handler(HeronError)
    def heron(request: HttpRequest, error: HeronError) -> HttpResponse:
        status = 400 if isinstance(error, ReadError) else 422
        rows = [row + 1 for row in error.rows]
        return problem(status, error.code, error.problem, where=error.where, rows=rows, remedy=error.remedy)

    @api.exception_handler(Refusal)
    def refusal(request: HttpRequest, error: Refusal) -> HttpResponse:
        return problem(error.status, error.code, error.problem, where=error.where, remedy=error.remedy)

    @api.exception_handler(Http404)
    def not_found(request: HttpRequest, error: Http404) -> HttpResponse:
        return problem(404, "not-found", "There is no such thing here.", remedy="Go back to your studies.")

    @api.exception_handler(AuthenticationError)
    def unknown(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem(401, "signed-out", "You are not signed in.", remedy="Sign in, then try again.")

    @api.exception_handler(PermissionDenied)
    def denied(request: HttpRequest, error: PermissionDenied) -> HttpResponse:
        return problem(403, "not-allowed", "You may look at this study, but not change it.")

    @api.exception_handler(ValidationError)
    def invalid(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0]
        where = ".".join(str(part) for part in first.get("loc", ())[1:])
        return problem(422, "invalid-request", f"{where}: {first.get('msg', 'is not valid')}.", where=where)


def oversize(megabytes: float) -> Refusal:
    limit = settings.UPLOAD_LIMIT / 1e6
    return Refusal(
        413,
        "too-large",
        f"The file is {megabytes:.0f} MB; at most {limit:.0f} MB are taken.",
        remedy="Split the file, or leave out columns that are not needed.",
    )
