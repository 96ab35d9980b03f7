"""Where the rows of a panel come from, and the words that all kinds of panels share."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import numpy as np
from django.http import Http404
from heron.figure.scene import Number
from heron.ledger import Used
from heron.readings import Cancellation
from heron.wording import typeset

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.making import refresh_if_stale
from server.ledger.request_params import recipe_asked
from server.plates.documents import Only, Source
from server.problems import Refusal
from server.studies.snapshots import TableSnapshot, VariableSnapshot

NOBODY = Cancellation()
DAY = 86_400.0
RULES = {
    "freedman-diaconis": "Freedman and Diaconis' rule", "scott": "Scott's rule", "sturges": "Sturges' rule",
    "square-root": "the square-root rule", "integers": "one for each value", "silverman": "Silverman's rule",
    "plug-in": "the plug-in rule", "normal-reference": "the normal-reference rule",
}  # fmt: skip
CENTRES = {
    "mean": "mean", "median": "median", "geometric-mean": "geometric mean", "trimmed-mean": "trimmed mean",
    "share": "share",
}  # fmt: skip


@dataclass(frozen=True)
class Place:
    """Where a panel's rows come from: the table, narrowed to one level where only that is shown."""

    table: TableSnapshot
    only: Only | None = None

    def words(self, text: str) -> str:
        """What is shown, with the level to which it is narrowed."""
        if self.only is None:
            return text
        return f"{text}, {typeset(self.table.variable(self.only.by).label)} {typeset(self.only.level)}"

    @property
    def n_hidden(self) -> int:
        """How many rows are not at the level; readings row by row have them as missing."""
        shown = self.table.state.shown
        return 0 if shown is None else int(np.count_nonzero(~shown))


def table_of(user: User, table_id: UUID) -> TableSnapshot:
    """The table as it stands, made anew where its sources changed."""
    try:
        found = ledger.snapshot(user, table_id)
    except Http404:
        raise Refusal(
            404, "no-table", "A table that it stands on is not here any more.", where="source",
            remedy="Bring it in again and keep the plate anew, or take the plate away.",
        ) from None  # fmt: skip
    return ledger.snapshot(user, table_id) if refresh_if_stale(found.row) else found


def place_of(table: TableSnapshot, only: Only | None) -> Place:
    if only is None:
        return Place(table)
    table.variable(only.by)  # a Refusal where there is none
    return Place(table.narrowed(only.by, only.level), only)


def variable_at(place: Place, source: Source) -> VariableSnapshot:
    found = place.table.variable(source.variable)
    return place.table.tried(source.variable, recipe_asked(source.variable, source.as_if)) if source.as_if else found


def needed(question: Any, kind: str) -> Any:
    if question is None:
        raise Refusal(422, "invalid-request", f"A panel of kind {kind} needs its question.", where="source")
    return question


def titled(text: str) -> str:
    return text[:1].upper() + text[1:]


def named(label: str, unit: str) -> str:
    return f"{label} ({unit})" if unit else label


def entries(place: Place, symbols: Sequence[str]) -> tuple[int, ...]:
    """The numbers of the entries by which rows are set aside."""
    looked = ledger.row_decisions(place.table, [each for each in symbols if each])
    standing = np.unique(looked.of_row[looked.of_row > 0])
    found = [looked.actions[int(i) - 1] for i in standing]
    return tuple(sorted({entry.number for deed, entry in found if deed == "set aside"}))


def left_out(place: Place, used: Used, symbols: Sequence[str]) -> dict[str, Any]:
    aside = used.set_aside
    return {"missing": used.missing, "aside": aside, "entries": entries(place, symbols) if aside else ()}


def number(name: str, value: float | None, unit: str = "") -> list[Number]:
    return [] if value is None or not np.isfinite(value) else [Number(name, float(value), unit)]


def signed(intercept: float, slope: float, name: str) -> str:
    sign = "\u2212" if slope < 0 else "+"
    return f"{intercept:.4g} {sign} {abs(slope):.4g} \u00d7 {name}".replace("-", "\u2212")


def r_words(r_squared: float | None) -> str:
    return "" if r_squared is None else f", R\u00b2 = {r_squared:.3f}".replace("-", "\u2212")
