"""Tables in one of their states: as they stand, as they stood at a revision, with a scale tried or at one level."""

from bisect import bisect_right
from collections.abc import Callable, Hashable, Iterator, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeVar, cast
from uuid import UUID

import numpy as np
from heron.checks import Ints
from heron.chunked import used_in
from heron.columns import Column
from heron.formatting import numbers_now
from heron.ledger import TableState, TableView, VariableView, View
from heron.variables import SHAPING

from server.caching import Kept, bytes_of
from server.problems import Refusal
from server.studies.column_summary import summary_of
from server.studies.models import SourceFile, Study, Table
from server.studies.parts import StoredChunks
from server.studies.store import StoredImports, size_of

Answer = TypeVar("Answer")
_worked: Kept[Any] = Kept(3 * 2**25, bytes_of)
_summaries: Kept[dict[str, Any]] = Kept(4_000)
_parts: Kept[Column] = Kept(2**27, size_of)  # of long tables, as they are read row by row


@dataclass(frozen=True)
class VariableSnapshot(VariableView):
    """A variable as the database and its lists know it besides.

    missing_counts, n_missing, levels and shape are of its values with what is set aside still among them.
    """

    table: "TableSnapshot" = field(repr=False, compare=False)
    levels: list[str]
    missing_codes: list[str]
    missing_counts: dict[str, int]
    n_missing: int
    note: str
    shape: list[float]

    def beside(self, symbol: str) -> "VariableSnapshot | None":
        """Another variable of the same table; None for ""."""
        return self.table.variable(symbol) if symbol else None


@dataclass(frozen=True)
class TableSnapshot(TableView):
    """A table as the database knows it besides. row: what it holds of it."""

    row: Table = field(kw_only=True, repr=False)

    @classmethod
    def of(cls, row: Table) -> "TableSnapshot":
        """The table as it stands."""
        state, resting = decided_state(row), row.state.get("resting")
        if resting:
            derived = {symbol: recipe for symbol, recipe in state.derived.items() if symbol not in resting}
            state = replace(state, derived=derived)
        return cls(row.name, state, row.revision, row=row)

    @property
    def pk(self) -> UUID:
        return self.row.pk

    @property
    def study(self) -> Study:
        return self.row.study

    @property
    def source(self) -> SourceFile | None:
        return self.row.source

    @property
    def origin(self) -> dict[str, Any]:
        return self.row.origin or {}

    @property
    def choices(self) -> dict[str, Any]:
        """How the import in force was read."""
        return cast(dict[str, Any], self.row.imports[self.state.import_version].get("choices", {}))

    @property
    def n_rows(self) -> int:
        return int(self.row.imports[self.state.import_version]["n_rows"])

    @property
    def chunks(self) -> StoredChunks | None:
        return StoredChunks(self.state, self.row) if self.state.is_long else None

    def described_at(self, position: int, symbol: str) -> tuple[Column, int]:
        """The column in which a cell stands, and its place there: of a long table the column of its part alone."""
        state = self.state
        if not state.is_long:
            return state.column(symbol, "described"), position
        number = bisect_right(state.bounds, position) - 1
        column = _parts.answer((self.key, number, symbol), lambda: state.part(number).column(symbol, "described"))
        return column, position - state.bounds[number]

    def pieces(self, positions: Ints, symbol: str, view: View) -> Iterator[tuple[Column, Ints, Ints]]:
        """Cells of a variable at ascending positions: the columns in which they stand, their places there, and their
        positions; of a long table the column of each part alone."""
        state = self.state
        if not state.is_long:
            yield state.column(symbol, view), positions, positions
            return
        ends = np.searchsorted(positions, state.bounds)
        for number in np.flatnonzero(np.diff(ends)).tolist():
            held = positions[ends[number] : ends[number + 1]]
            yield state.part(number).column(symbol, view), held - state.bounds[number], held

    @property
    def key(self) -> str:
        """What the table is known by in caches: two snapshots with one key answer every question alike."""
        return f"{self.pk} {self.revision} {self.state.key}"

    @property
    def variables(self) -> tuple[VariableSnapshot, ...]:
        return tuple(self.by_symbol.values())

    @cached_property
    def by_symbol(self) -> dict[str, VariableSnapshot]:
        return {symbol: self._variable(symbol) for symbol in self.state.symbols}

    def variable(self, symbol: str) -> VariableSnapshot:
        result = self.by_symbol.get(symbol)
        if result is None:
            raise Refusal(
                404, "no-variable", f"{self.name} has no variable {symbol!r}.", where="variable",
                remedy="Choose another.",
            )  # fmt: skip
        return result

    def tried(self, symbol: str, recipe: Mapping[str, Any]) -> VariableSnapshot:
        """A variable as if a recipe had made it of this one, for readings before it is adopted."""
        return cast(VariableSnapshot, super().tried(symbol, recipe))

    def remembered(self, question: Hashable, compute: Callable[[], Answer]) -> Answer:
        """What is worked of the table again and again: kept from the last time that it was asked for, or computed."""
        kept: Answer = _worked.answer((self.key, question, numbers_now()), compute)
        return kept

    def _variable(self, symbol: str) -> VariableSnapshot:
        state, recipe = self.state, self.state.derived.get(symbol, {})
        said = state.description(symbol)
        if recipe:
            named = {"label": recipe.get("label", symbol), "unit": recipe.get("unit", "")}
            kept: dict[str, Any] = {"lower": None, "upper": None, "note": "", **named, **self.summary(symbol)}
        else:
            row = cast(StoredImports, state.imports).variables(state.import_version)[symbol]
            kept = {name: getattr(row, name) for name in _KEPT}
            if symbol in state.corrected or said.keys() & SHAPING:
                kept |= self.summary(symbol)
        kept |= {name: said[name] for name in ("label", "unit", "lower", "upper", "note") if name in said}
        if said.get("decimals") is not None:
            kept["decimals"] = said["decimals"]
        kept["properties"] = {**kept["properties"], **said}
        return VariableSnapshot(self, symbol, **kept, recipe=recipe)

    def summary(self, symbol: str) -> dict[str, Any]:
        """What a list says of a variable: as it was written down when the table came to stand so, or else computed."""
        key = self.state.column_key(symbol, "described")
        written = self.row.summaries.get(symbol, {})
        if written.get("key") == key:
            return {name: value for name, value in written.items() if name != "key"}
        return _summaries.answer(key, lambda: self._summary(symbol))

    def _summary(self, symbol: str) -> dict[str, Any]:
        result = summary_of(self.state.glimpsed(symbol))
        if self.chunks is not None:
            used = used_in(self.chunks, symbol)
            result |= {"missing_counts": used.missing_counts, "n_missing": used.missing}
        return result


_KEPT = (
    "label", "unit", "kind", "levels", "missing_codes", "missing_counts", "n_missing", "decimals", "lower", "upper",
    "note", "properties", "shape",
)  # fmt: skip
# What a table holds of its state.
STATE_FIELDS = ["state", "import_version", "n_rows", "summaries"]


def decided_state(row: Table) -> TableState:
    """What the decisions on a table come to, with derived variables that rest, since nothing makes them now."""
    return TableState.from_json({**row.state, "import_version": row.import_version}, StoredImports(row))


def materialize_state(row: Table, decided: TableState) -> TableSnapshot:
    """Write what decisions come to into what the database holds of a table, with the summaries that its lists show; not
    saved. Returns the table as it stands then."""
    state = decided.settled({written["key"] for written in row.summaries.values()})
    row.import_version, row.n_rows = state.import_version, row.imports[state.import_version]["n_rows"]
    row.state = {name: value for name, value in decided.to_json().items() if name != "import_version"}
    row.state["resting"] = [symbol for symbol in decided.derived if symbol not in state.derived]
    snapshot = TableSnapshot(row.name, state, row.revision, row=row)
    shaped = [
        symbol for symbol in state.symbols
        if symbol in state.derived or symbol in state.corrected or state.description(symbol).keys() & SHAPING
    ]  # fmt: skip
    row.summaries = {
        symbol: {"key": state.column_key(symbol, "described"), **snapshot.summary(symbol)} for symbol in shaped
    }
    return snapshot
