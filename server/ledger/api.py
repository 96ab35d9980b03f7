from uuid import UUID

from django.http import HttpRequest
from ninja import Router

from server.ledger import selectors, services
from server.ledger.schemas import DecisionIn, DescribeIn, LedgerOut, RevisionIn, ledger_out
from server.studies.selectors import table as find_table

router = Router(tags=["ledger"])


@router.get("/tables/{table_id}/ledger", response=LedgerOut)
def ledger(request: HttpRequest, table_id: UUID):
    return ledger_out(selectors.entries(find_table(request.user, table_id)))


@router.post("/tables/{table_id}/ledger", response=LedgerOut)
def decide(request: HttpRequest, table_id: UUID, decision: DecisionIn):
    table = find_table(request.user, table_id)
    services.decide(request.user, table, services.Asked(**decision.model_dump()))
    return ledger_out(selectors.entries(table))


@router.post("/tables/{table_id}/ledger/describe", response=LedgerOut)
def describe(request: HttpRequest, table_id: UUID, said: DescribeIn):
    table = find_table(request.user, table_id)
    changes = said.changes.model_dump(exclude_unset=True)
    services.describe(request.user, table, said.variable, changes, said.revision)
    return ledger_out(selectors.entries(table))


@router.post("/tables/{table_id}/ledger/undo", response=LedgerOut)
def undo(request: HttpRequest, table_id: UUID, seen: RevisionIn):
    table = find_table(request.user, table_id)
    services.undo(request.user, table, seen.revision)
    return ledger_out(selectors.entries(table))


@router.post("/tables/{table_id}/ledger/redo", response=LedgerOut)
def redo(request: HttpRequest, table_id: UUID, seen: RevisionIn):
    table = find_table(request.user, table_id)
    services.redo(request.user, table, seen.revision)
    return ledger_out(selectors.entries(table))
