"""What a request asks for: a table or variable as it stands, or as it stood at the revision in its address."""

from uuid import UUID

from django.http import HttpRequest

from server.ledger import selectors
from server.ledger.making import freshen
from server.problems import Refusal
from server.studies.models import Table, Variable


def table_asked(request: HttpRequest, table_id: UUID) -> Table:
    at = _revision(request.GET.get("at"))
    found = selectors.table(request.user, table_id, at)
    return selectors.table(request.user, table_id, at) if freshen(found) else found


def variable_asked(request: HttpRequest, table_id: UUID, symbol: str) -> Variable:
    at = _revision(request.GET.get("at"))
    found = selectors.variable(request.user, table_id, symbol, at)
    return selectors.variable(request.user, table_id, symbol, at) if freshen(found.table) else found


def _revision(text: str | None) -> int | None:
    """The revision that an address asks for; None for the newest."""
    if text is None:
        return None
    if not text.isdecimal() or len(text) > 9:
        raise Refusal(
            422, "invalid-request", f"at must be a revision, a whole number; it is {text[:20]!r}.", where="at"
        )
    return int(text)
