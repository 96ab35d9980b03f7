"""Answers on their way out: computed once for a table's revision and a question, then known by their ETag."""

import hashlib
import json
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any
from uuid import UUID

import heron
from django.conf import settings
from django.http import HttpResponse
from heron.formatting import numbers_now
from heron.ledger import watched
from heron.readings import Cancellation

from server.accounts import rates
from server.accounts.requests import SignedIn
from server.caching import Kept
from server.ledger.request_params import variable_of_request
from server.readings.answers import envelope, plain
from server.readings.cancellation import ViewCancellation
from server.studies.snapshots import TableSnapshot, VariableSnapshot

_answers: Kept[bytes] = Kept(settings.READING_CACHE_BYTES, len)


@cache
def _code() -> str:
    """A digest of the computation, so that a new version of it makes old answers unknown."""
    digest = hashlib.sha256()
    for folder in (Path(heron.__file__).parent, Path(__file__).parent):
        for file in sorted(folder.rglob("*.py")):
            digest.update(file.read_bytes())
    return digest.hexdigest()[:12]


def answer(
    request: SignedIn,
    table_id: UUID,
    symbol: str,
    compute: Callable[[VariableSnapshot, Cancellation], Any],
    *,
    binary: bool,
) -> HttpResponse:
    """The answer to a question about a variable, or 304 when the browser has it already."""
    variable = variable_of_request(request, table_id, symbol)
    return answer_of(request, variable.table, lambda cancellation: compute(variable, cancellation), binary=binary)


def answer_of(
    request: SignedIn, table: TableSnapshot, compute: Callable[[Cancellation], Any], *, binary: bool
) -> HttpResponse:
    """The answer to a question about a table at its revision, from what was computed before where it was."""
    cancellation = ViewCancellation(request.user.pk, request.headers.get("X-Heron-View"))
    question = f"{table.pk}|{table.revision}|{request.get_full_path()}|{numbers_now()}|{_code()}"
    tag = hashlib.sha256(question.encode()).hexdigest()[:32]
    if f'"{tag}"' in request.headers.get("If-None-Match", ""):
        response = HttpResponse(status=304)
    else:

        def work() -> bytes:
            cancellation.check()
            with rates.long_reading(request, request.user.username), watched(cancellation.progress, cancellation.tell):
                result = compute(cancellation)
            return envelope(result) if binary else json.dumps(plain(result), allow_nan=False).encode()

        body = _answers.answer(tag, work)
        response = HttpResponse(body, content_type="application/octet-stream" if binary else "application/json")
    response["ETag"] = f'"{tag}"'
    response["Cache-Control"] = "private, no-cache"
    return response
