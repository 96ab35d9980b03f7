"""Operations on two variables of a table."""

from collections.abc import Callable
from typing import Any
from uuid import UUID

from django.http import HttpResponse
from heron.readings import Cancellation, pairs
from heron.readings import lines as fits
from heron.readings.agreement import AgreementSettings, agreement_reading
from ninja import Query, Router

from server.accounts.requests import SignedIn
from server.documenting import ENVELOPED
from server.ledger.request_params import table_of_request
from server.readings.answers import envelope
from server.readings.delivery import answer_of
from server.readings.schemas import (
    AgreementIn,
    AgreementOut,
    BoardOut,
    CorrelatedIn,
    CorrelatedOut,
    EnclosedIn,
    EnclosedOut,
    FitsIn,
    FitsOut,
    MatrixIn,
    MatrixOut,
    PairIn,
    PairsIn,
    PairsOut,
    PredictedOut,
    PredictIn,
)
from server.studies.snapshots import VariableSnapshot

router = Router(tags=["relations"])


def _of_pair(
    request: SignedIn,
    table_id: UUID,
    asked: PairIn,
    compute: Callable[[VariableSnapshot, VariableSnapshot, Any], Any],
    *,
    binary: bool,
) -> HttpResponse:
    """The answer to a question about two variables of one table."""
    table = table_of_request(request, table_id)
    x, y = (table.variable(symbol) for symbol in (asked.x, asked.y))
    return answer_of(request, table, lambda cancellation: compute(x, y, cancellation), binary=binary)


@router.get("/tables/{table_id}/readings/pairs", response=PairsOut)
def paired(request: SignedIn, table_id: UUID, asked: Query[PairsIn]) -> Any:
    table = table_of_request(request, table_id)
    return answer_of(
        request, table, lambda cancellation: pairs.pairs_reading(table, asked.asked(), cancellation), binary=False
    )


@router.get("/tables/{table_id}/readings/correlations", response=CorrelatedOut)
def correlated(request: SignedIn, table_id: UUID, asked: Query[CorrelatedIn]) -> Any:
    def compute(x: VariableSnapshot, y: VariableSnapshot, cancellation: Cancellation) -> Any:
        return pairs.correlated(x, y, x.beside(asked.by), asked.level, cancellation)

    return _of_pair(request, table_id, asked, compute, binary=False)


@router.get("/tables/{table_id}/readings/matrix", response=MatrixOut, openapi_extra=ENVELOPED)
def matrix(request: SignedIn, table_id: UUID, asked: Query[MatrixIn]) -> Any:
    table = table_of_request(request, table_id)

    def compute(cancellation: Cancellation) -> Any:
        return pairs.matrix(table, asked.variables, asked.alike, asked.partial, asked.level, cancellation)

    return answer_of(request, table, compute, binary=True)


@router.get("/tables/{table_id}/readings/agreement", response=AgreementOut)
def agreed(request: SignedIn, table_id: UUID, asked: Query[AgreementIn]) -> Any:
    """How far two methods of measuring the same lie apart, y from x."""
    settings = AgreementSettings(asked.scale, asked.margin, asked.level)
    return _of_pair(
        request,
        table_id,
        asked,
        lambda x, y, cancellation: agreement_reading(y, x, settings, cancellation),
        binary=False,
    )


@router.post("/tables/{table_id}/readings/enclosed", response=EnclosedOut, openapi_extra=ENVELOPED)
def enclosed(request: SignedIn, table_id: UUID, asked: EnclosedIn) -> Any:
    """The rows inside an outline; a question that changes nothing, posted since outlines may be long."""
    table = table_of_request(request, table_id)
    x, y = (table.variable(symbol) for symbol in (asked.x, asked.y))
    result = pairs.enclosed(x, y, asked.outline_x, asked.outline_y)
    return HttpResponse(envelope(result), content_type="application/octet-stream")


@router.get("/tables/{table_id}/readings/straighten", response=BoardOut, openapi_extra=ENVELOPED)
def straighten(request: SignedIn, table_id: UUID, asked: Query[PairIn]) -> Any:
    return _of_pair(request, table_id, asked, lambda x, y, cancellation: pairs.straighten(x, y), binary=True)


@router.get("/tables/{table_id}/readings/fits", response=FitsOut)
def fitted(request: SignedIn, table_id: UUID, asked: Query[FitsIn]) -> Any:
    return _of_pair(
        request, table_id, asked, lambda x, y, cancellation: fits.fits(x, y, asked.asked(x), cancellation), binary=False
    )


@router.get("/tables/{table_id}/readings/predict", response=PredictedOut)
def predicted(request: SignedIn, table_id: UUID, asked: Query[PredictIn]) -> Any:
    def compute(x: VariableSnapshot, y: VariableSnapshot, cancellation: Cancellation) -> Any:
        return fits.predicted(x, y, asked.x_scale, asked.y_scale, asked.level, asked.value)

    return _of_pair(request, table_id, asked, compute, binary=False)
