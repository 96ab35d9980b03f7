"""Errors as problem documents (RFC 9457): one place maps what went wrong to a status."""

import errno
import json
import logging
import re
import sys
from collections.abc import Sequence
from typing import Any
from uuid import uuid4

from django.conf import settings
from django.core.exceptions import (
    BadRequest,
    ObjectDoesNotExist,
    PermissionDenied,
    RequestDataTooBig,
    SuspiciousOperation,
)
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from heron.errors import HeronError, ReadError
from heron.formatting import fixed
from heron.intake import unstorable
from ninja import NinjaAPI, Schema
from ninja.errors import AuthenticationError, HttpError, ValidationError
from ninja.parser import Parser
from psycopg.errors import DiskFull

logger = logging.getLogger(__name__)


class Refusal(Exception):
    """The server will not do what was asked: status, and the same facts as a HeronError."""

    def __init__(
        self, status: int, code: str, problem: str, *, where: str = "", remedy: str = "", retry_after: int = 0
    ) -> None:
        super().__init__(problem)
        self.status, self.code, self.problem, self.where, self.remedy = status, code, problem, where, remedy
        self.retry_after = retry_after


class Problem(Schema):
    """What went wrong (RFC 9457). code: a word for programs; problem, remedy: sentences for people; where: the field or
    part; rows: those concerned, from 1."""

    type: str
    title: str
    status: int
    code: str
    problem: str
    where: str
    rows: list[int]
    remedy: str


DOCUMENTED = {
    "description": "400 and 422: it cannot be read, or breaks a rule; 401, 403: not signed in, not allowed; "
    "404: not here; 409: something has changed meanwhile, or the question was overtaken; 413: too large; 429: too "
    "often, with Retry-After; 500: unforeseen, with a number that stands in the log; 503: the database is away, with "
    "Retry-After.",
    "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
}


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


def refused(error: Refusal) -> HttpResponse:
    answer = problem(error.status, error.code, error.problem, where=error.where, remedy=error.remedy)
    if error.retry_after:
        answer["Retry-After"] = str(error.retry_after)
    return answer


def locked_out(request: HttpRequest, *args: object, **kwargs: object) -> HttpResponse:
    """What the sign-in throttle answers."""
    answer = problem(
        429, "locked-out", "Too many wrong passwords.", remedy="Wait a quarter of an hour, then try again."
    )
    answer["Retry-After"] = "900"
    return answer


def disk_full() -> Refusal:
    return Refusal(
        503, "disk-full", "The server's disk is nearly full, so nothing more is stored.",
        remedy="Nothing is lost, and what is stored can be looked at. Tell who runs this server; once there is room, "
        "it goes on by itself.",
        retry_after=30,
    )  # fmt: skip


def unexpected(error: BaseException | None) -> HttpResponse:
    """What nobody foresaw, under a number that stands in the log beside its cause; a database that is away, or a disk
    that is full, as that."""
    no_room = isinstance(error, OSError) and error.errno == errno.ENOSPC
    if error is not None and (no_room or isinstance(error.__cause__, DiskFull)):
        logger.error("the disk is full: %s", error)
        return refused(disk_full())
    if isinstance(error, OperationalError | InterfaceError):
        logger.warning("the database does not answer: %s", error)
        answer = problem(503, "away", "The database does not answer.", remedy="Nothing is lost. Try again in a moment.")
        answer["Retry-After"] = "5"
        return answer
    number = uuid4().hex[:8]
    logger.error("unexpected error, number %s", number, exc_info=error)
    return problem(
        500, "unexpected", f"Something went wrong on the server, number {number}.",
        remedy="Nothing was changed. Tell who runs this server the number; the log says more under it.",
    )  # fmt: skip


def broken(request: HttpRequest) -> HttpResponse:
    """What is answered to an error outside the API's operations."""
    return unexpected(sys.exc_info()[1])


def unreadable(request: HttpRequest, exception: object) -> HttpResponse:
    """What is answered to a request that is none."""
    if isinstance(exception, RequestDataTooBig):
        return problem(413, "too-large", "The request is too large.", remedy="Send less at once, or a file.")
    return problem(400, "broken-request", "The request cannot be read.", remedy="Reload the page and try again.")


class BodyParser(Parser):
    """Reads the JSON of a request; text that no text here can hold is refused wherever it stands."""

    def parse_body(self, request: HttpRequest) -> Any:
        result = json.loads(request.body)
        if _SUSPECT.search(request.body):
            check_text(result)
        return result


_SUSPECT = re.compile(rb"\\u(?:0000|[dD][89a-fA-F])")


def check_text(value: Any) -> None:
    """Refuse text with a NUL or half of a character, however deep it lies."""
    if isinstance(value, str):
        trouble = unstorable(value)
        if trouble:
            raise Refusal(422, "invalid-request", f"A text holds {trouble}, which no text here can.")
    elif isinstance(value, list):
        for item in value:
            check_text(item)
    elif isinstance(value, dict):
        for name, item in value.items():
            check_text(name)
            check_text(item)


def register(api: NinjaAPI) -> None:
    @api.exception_handler(Exception)
    def anything(request: HttpRequest, error: Exception) -> HttpResponse:
        return unexpected(error)

    @api.exception_handler(HttpError)
    def http_error(request: HttpRequest, error: HttpError) -> HttpResponse:
        if isinstance(error.__cause__, Refusal | SuspiciousOperation):  # of the parser of bodies
            return api.on_exception(request, error.__cause__)
        return problem(error.status_code, "broken-request", f"{str(error).rstrip('.')}.")

    @api.exception_handler(ObjectDoesNotExist)
    def gone(request: HttpRequest, error: ObjectDoesNotExist) -> HttpResponse:
        return problem(404, "not-found", "It is not here any more.", remedy="Go back to your studies.")

    for kind in (SuspiciousOperation, BadRequest, MultiPartParserError, UnreadablePostError, RecursionError):
        api.add_exception_handler(kind, unreadable)

    @api.exception_handler(HeronError)
    def heron(request: HttpRequest, error: HeronError) -> HttpResponse:
        status = 400 if isinstance(error, ReadError) else 422
        rows = [row + 1 for row in error.rows]
        return problem(status, error.code, error.problem, where=error.where, rows=rows, remedy=error.remedy)

    @api.exception_handler(Refusal)
    def refusal(request: HttpRequest, error: Refusal) -> HttpResponse:
        return refused(error)

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
        f"The file is {fixed(megabytes, 0)} MB; at most {fixed(limit, 0)} MB are taken.",
        remedy="Split the file, or leave out columns that are not needed.",
    )


def oversize_problem(size: int) -> HttpResponse:
    refused = oversize(size / 1e6)
    return problem(refused.status, refused.code, refused.problem, remedy=refused.remedy)
