"""Tables as they stand or stood, and decisions on them with reason, author and time; entries are only ever added."""

import re
from typing import Any
from uuid import UUID

from django.http import HttpResponse, StreamingHttpResponse
from heron import numbering, writing
from heron.ledger import TableView
from heron.variables import cell_text
from ninja import Router

from server.accounts.requests import SignedIn
from server.documenting import file_of
from server.ledger import selectors, services
from server.ledger.request_params import table_of_request
from server.ledger.schemas import (
    CorrectIn,
    DecisionIn,
    DeriveIn,
    DeriveOut,
    DescribeIn,
    DigestOut,
    LedgerOut,
    LossesIn,
    PickIn,
    PickOut,
    RevisionIn,
    TakeAwayIn,
    ledger_out,
)
from server.ledger.tasks import defer_reading
from server.problems import Refusal
from server.studies import selectors as studies
from server.studies.schemas import JobOut, RowOut, StoreAgainIn, TableOut, job_out, table_out
from server.studies.services import remove_table as remove

router = Router(tags=["ledger"])


@router.get("/tables/{table_id}", response=TableOut)
def table(request: SignedIn, table_id: UUID) -> Any:
    return table_out(table_of_request(request, table_id))


@router.delete("/tables/{table_id}", response={204: None})
def remove_table(request: SignedIn, table_id: UUID) -> Any:
    remove(request.user, studies.table(request.user, table_id))
    return HttpResponse(status=204)


@router.get("/tables/{table_id}/rows", response=list[RowOut])
def rows(request: SignedIn, table_id: UUID, numbers: str) -> Any:
    result = table_of_request(request, table_id)
    asked = [int(number) for number in numbers.split(",")[:200] if number.isdecimal() and len(number) < 10]
    wanted = [number for number in asked if 1 <= number <= result.n_rows]
    symbols = result.state.symbols
    cells = [[cell_text(*result.described_at(number - 1, symbol)) for symbol in symbols] for number in wanted]
    aside = {symbol: set(numbering.from_runs(runs).tolist()) for symbol, runs in result.state.aside.items()}
    return [
        RowOut(
            row=number,
            cells=row,
            aside=number in aside.get("", ()),
            aside_values=[symbol for symbol, held in aside.items() if symbol and number in held],
        )
        for number, row in zip(wanted, cells, strict=True)
    ]


_MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "parquet": "application/vnd.apache.parquet",
    "json": "application/json",
    "package": "application/zip",
}


@router.get(
    "/tables/{table_id}/file", response=None, openapi_extra=file_of(*(kind.split(";")[0] for kind in _MEDIA.values()))
)
def table_file(request: SignedIn, table_id: UUID, form: writing.Format, marked: bool = False) -> Any:
    """The table as it stands, or with every value still there and what is set aside marked in a column of its own."""
    table = table_of_request(request, table_id)
    whole = selectors.marked if marked else TableView.active
    response: HttpResponse | StreamingHttpResponse
    if not table.state.is_long:
        response = HttpResponse(writing.write(whole(table), form), content_type=_MEDIA[form])
    elif form in writing.PARTWISE:
        parts = writing.write_parts(selectors.parts_of(table, whole), form)
        response = StreamingHttpResponse(parts, content_type=_MEDIA[form])
    else:
        raise Refusal(
            422, "too-many-rows", f"A file of this kind is not made of {table.n_rows} rows.", where="form",
            remedy="Choose CSV or Parquet.",
        )  # fmt: skip
    name = re.sub(r"[^A-Za-z0-9]+", "-", table.name).strip("-").lower() or "table"
    response["Content-Disposition"] = f'attachment; filename="{name}.{"zip" if form == "package" else form}"'
    return response


@router.get("/tables/{table_id}/ledger", response=LedgerOut)
def ledger(request: SignedIn, table_id: UUID, before: int | None = None) -> Any:
    """The last entries, or the last before a number."""
    table = selectors.snapshot(request.user, table_id)
    return ledger_out(table, selectors.page(table.row, before))


@router.get("/tables/{table_id}/ledger/digest", response=DigestOut)
def digest(request: SignedIn, table_id: UUID) -> Any:
    return DigestOut(digest=selectors.digest(studies.table(request.user, table_id)))


def _changed(decided: services.Decided, since: int) -> LedgerOut:
    return ledger_out(decided.table, selectors.changed_by(decided.entry, since))


@router.post("/tables/{table_id}/ledger", response=LedgerOut)
def decide(request: SignedIn, table_id: UUID, decision: DecisionIn) -> Any:
    result = studies.table(request.user, table_id)
    return _changed(
        services.decide(request.user, result, services.RowDecision(**decision.model_dump())), decision.revision
    )


@router.post("/tables/{table_id}/ledger/describe", response=LedgerOut)
def describe(request: SignedIn, table_id: UUID, said: DescribeIn) -> Any:
    result = studies.table(request.user, table_id)
    return _changed(services.describe(request.user, result, said.by_symbol(), said.revision), said.revision)


@router.post("/tables/{table_id}/ledger/losses", response=list[str])
def losses(request: SignedIn, table_id: UUID, said: LossesIn) -> Any:
    result = studies.table(request.user, table_id)
    return services.would_lose(result, said.variable, said.changes.model_dump(exclude_unset=True))


@router.post("/tables/{table_id}/ledger/correct", response=LedgerOut)
def correct(request: SignedIn, table_id: UUID, asked: CorrectIn) -> Any:
    result = studies.table(request.user, table_id)
    cells = [services.Cell(cell.variable, cell.row, cell.text) for cell in asked.cells]
    return _changed(services.correct(request.user, result, cells, asked.reason, asked.revision), asked.revision)


@router.post("/tables/{table_id}/ledger/derive", response=DeriveOut)
def derive(request: SignedIn, table_id: UUID, asked: DeriveIn) -> Any:
    result = studies.table(request.user, table_id)
    more = {"instead": asked.instead, "reason": asked.reason}
    first, *also = services.derive(request.user, result, asked.recipes(), asked.revision, **more)
    return DeriveOut(symbol=first, also=also)


@router.post("/tables/{table_id}/ledger/take-away", response=LedgerOut)
def take_away(request: SignedIn, table_id: UUID, asked: TakeAwayIn) -> Any:
    result = studies.table(request.user, table_id)
    return _changed(services.take_away(request.user, result, asked.variable, asked.revision), asked.revision)


@router.post("/uploads/{upload_id}/store-again", response=JobOut)
def store_again(request: SignedIn, upload_id: UUID, asked: StoreAgainIn) -> Any:
    upload = studies.upload(request.user, upload_id)
    return job_out(services.start_rereading(request.user, upload, asked.choices.given(), defer_reading))


@router.post("/tables/{table_id}/ledger/line-up", response=PickOut)
def pick(request: SignedIn, table_id: UUID, asked: PickIn) -> Any:
    result = studies.table(request.user, table_id)
    picked = services.Picked(asked.variable, asked.seed, asked.place, asked.seen_before)
    return PickOut(place=services.pick(request.user, result, picked, asked.revision))


@router.post("/tables/{table_id}/ledger/undo", response=LedgerOut)
def undo(request: SignedIn, table_id: UUID, seen: RevisionIn) -> Any:
    result = studies.table(request.user, table_id)
    return _changed(services.undo(request.user, result, seen.revision), seen.revision)


@router.post("/tables/{table_id}/ledger/redo", response=LedgerOut)
def redo(request: SignedIn, table_id: UUID, seen: RevisionIn) -> Any:
    result = studies.table(request.user, table_id)
    return _changed(services.redo(request.user, result, seen.revision), seen.revision)
