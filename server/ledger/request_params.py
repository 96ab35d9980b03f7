"""What a request asks for: a table or variable as it stands, or as it stood at the revision in its address."""

from typing import Any
from uuid import UUID

from pydantic import ValidationError

from server.accounts.requests import SignedIn
from server.ledger import selectors
from server.ledger.making import refresh_if_stale
from server.ledger.schemas import AsIf, recipe_of
from server.problems import Refusal
from server.studies.snapshots import TableSnapshot, VariableSnapshot


def table_of_request(request: SignedIn, table_id: UUID) -> TableSnapshot:
    at = _revision(request.GET.get("at"))
    result = selectors.snapshot(request.user, table_id, at)
    return selectors.snapshot(request.user, table_id, at) if refresh_if_stale(result.row) else result


def variable_of_request(request: SignedIn, table_id: UUID, symbol: str) -> VariableSnapshot:
    """The variable named; where the address says so, as if it were on another scale."""
    result = table_of_request(request, table_id).variable(symbol)
    as_if = request.GET.get("as_if")
    return result.table.tried(symbol, recipe_of_request(symbol, as_if)) if as_if else result


def recipe_of_request(symbol: str, as_if: str) -> dict[str, Any]:
    """The recipe that an address holds."""
    try:
        way = AsIf.model_validate_json(as_if).root
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise Refusal(422, "invalid-request", f"as_if, {where}: {first['msg']}.", where="as_if") from None
    return recipe_of(symbol, way)


def _revision(text: str | None) -> int | None:
    """The revision that an address asks for; None for the newest."""
    if text is None:
        return None
    if not text.isdecimal() or len(text) > 9:
        raise Refusal(
            422, "invalid-request", f"at must be a revision, a whole number; it is {text[:20]!r}.", where="at"
        )
    return int(text)
