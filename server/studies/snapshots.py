"""Tables in one of their states: as they stand, as they stood at a revision, with a scale tried or at one level."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, cast
from uuid import UUID

from heron import derived
from heron.columns import Column
from heron.columns import Table as CoreTable
from heron.ledger import TRIED, TableState
from heron.variables import SHAPING
from heron.variables import zero_means_none as column_zero

from server.caching import Kept
from server.problems import Refusal
from server.studies.column_summary import summary_of
from server.studies.models import SourceFile, Study, Table
from server.studies.store import StoredImports

_summaries: Kept[dict[str, Any]] = Kept(4_000)


@dataclass(frozen=True)
class VariableSnapshot:
    """A variable of a table in one of its states, as it is described there.

    missing_counts, n_missing, levels and shape are of its values with what is set aside still among them. properties:
    whether zero means none, limits of detection and specification: what readings ask for by name. recipe: how it is
    made of others, empty for one that was imported.
    """

    table: "TableSnapshot" = field(repr=False, compare=False)
    symbol: str
    label: str
    unit: str
    kind: str
    levels: list[str]
    missing_codes: list[str]
    missing_counts: dict[str, int]
    n_missing: int
    decimals: int | None
    lower: float | None
    upper: float | None
    note: str
    properties: dict[str, Any]
    shape: list[float]
    recipe: Mapping[str, Any] = field(default_factory=dict)

    @property
    def imported(self) -> Column:
        """Its values as the source holds them, or as its recipe makes them."""
        return self.table.state.column(self.symbol, "imported")

    @property
    def described(self) -> Column:
        """Its values as described and corrected, with what is set aside still in them."""
        return self.table.state.column(self.symbol, "described")

    def beside(self, symbol: str) -> "VariableSnapshot | None":
        """Another variable of the same table; None for ""."""
        return self.table.variable(symbol) if symbol else None

    @property
    def sources(self) -> list["VariableSnapshot"]:
        """The variables that it is made of."""
        there = self.table.by_symbol
        return [there[symbol] for symbol in derived.sources_of(self.recipe) if symbol in there] if self.recipe else []

    @property
    def zero_means_none(self) -> bool:
        """Whether zero means none: as somebody said, or else as the values and the unit suggest."""
        said = self.properties.get("true_zero")
        if said is None:
            said = self.properties.get("zero_means_none")
        return column_zero(self.described) if said is None else bool(said)


@dataclass(frozen=True)
class TableSnapshot:
    """A table in one of its states. row: what the database holds of it; revision: at which it stands, or stood."""

    row: Table = field(repr=False)
    revision: int
    state: TableState

    @classmethod
    def of(cls, row: Table) -> "TableSnapshot":
        """The table as it stands."""
        state, resting = decided_state(row), row.state.get("resting")
        if resting:
            derived = {symbol: recipe for symbol, recipe in state.derived.items() if symbol not in resting}
            state = replace(state, derived=derived)
        return cls(row, row.revision, state)

    @property
    def pk(self) -> UUID:
        return self.row.pk

    @property
    def name(self) -> str:
        return self.row.name

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
        found = self.by_symbol.get(symbol)
        if found is None:
            raise Refusal(
                404, "no-variable", f"{self.name} has no variable {symbol!r}.", where="variable",
                remedy="Choose another.",
            )  # fmt: skip
        return found

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
        return _summaries.answer(key, lambda: summary_of(self.state.column(symbol, "described")))

    def tried(self, variable: VariableSnapshot, recipe: dict[str, Any]) -> VariableSnapshot:
        """A variable as if a recipe had made it of this one, for readings before it is adopted."""
        for symbol in derived.sources_of(recipe) if recipe["how"] != "expression" else ():  # which says where it stands
            self.variable(symbol)
        return replace(self, state=self.state.tried(recipe, variable.label)).variable(TRIED)

    def narrowed(self, by: str, level: str) -> "TableSnapshot":
        """The table with the rows of one level alone."""
        return replace(self, state=self.state.narrowed(by, level))

    def described(self) -> CoreTable:
        """The table as it is described and corrected, with what is set aside still in it."""
        return self._core("described")

    def active(self) -> CoreTable:
        """The table as it stands, for a file of its own."""
        return self._core("active")

    def _core(self, view: Any) -> CoreTable:
        columns = {symbol: self.state.column(symbol, view) for symbol in self.state.symbols}
        return CoreTable(self.name, self.n_rows, columns)


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
    snapshot = TableSnapshot(row, row.revision, state)
    shaped = [
        symbol for symbol in state.symbols
        if symbol in state.derived or symbol in state.corrected or state.description(symbol).keys() & SHAPING
    ]  # fmt: skip
    row.summaries = {
        symbol: {"key": state.column_key(symbol, "described"), **snapshot.summary(symbol)} for symbol in shaped
    }
    return snapshot
