"""A table and its variables as they are described in one of their states: what readings and figures take."""

from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any, Self, TypeVar

from heron import derived
from heron.columns import Column, Table
from heron.errors import InputError
from heron.ledger.looks import Chunks
from heron.ledger.state import TRIED, TableState, View
from heron.variables import zero_means_none

Answer = TypeVar("Answer")


@dataclass(frozen=True)
class VariableView:
    """A variable of a table in one of its states, as it is described there.

    properties: whether zero means none, limits of detection and specification: what readings ask for by name. recipe:
    how it is made of others, empty for one that was imported.
    """

    table: "TableView" = field(repr=False, compare=False)
    symbol: str
    label: str
    unit: str
    kind: str
    decimals: int | None
    lower: float | None
    upper: float | None
    properties: Mapping[str, Any]
    recipe: Mapping[str, Any]

    @property
    def imported(self) -> Column:
        """Its values as the source holds them, or as its recipe makes them."""
        return self.table.state.column(self.symbol, "imported")

    @property
    def described(self) -> Column:
        """Its values as described and corrected, with what is set aside still in them."""
        return self.table.state.column(self.symbol, "described")

    def beside(self, symbol: str) -> "VariableView | None":
        """Another variable of the same table; None for ""."""
        return self.table.variable(symbol) if symbol else None

    @property
    def sources(self) -> "list[VariableView]":
        """The variables that it is made of."""
        present = self.table.state.symbols
        named = derived.sources_of(self.recipe) if self.recipe else ()
        return [self.table.variable(symbol) for symbol in named if symbol in present]

    @property
    def zero_means_none(self) -> bool:
        """Whether zero means none: as somebody said, or else as the values and the unit suggest."""
        said = self.properties.get("true_zero")
        if said is None:
            said = self.properties.get("zero_means_none")
        if said is not None:
            return bool(said)
        return zero_means_none(self.table.state.glimpsed(self.symbol))


@dataclass(frozen=True)
class TableView:
    """A table in one of its states. revision: at which it stands, or stood."""

    name: str
    state: TableState = field(repr=False)
    revision: int = 0

    @property
    def chunks(self) -> Chunks | None:
        """The table to be looked at in parts, where it is too long to be held; None where it is not."""
        return Chunks(self.state) if self.state.is_long else None

    @property
    def n_rows(self) -> int:
        if self.state.is_long:
            return self.state.bounds[-1]
        symbols = self.state.symbols
        return self.state.column(symbols[0], "imported").n_rows if symbols else 0

    def variable(self, symbol: str) -> VariableView:
        """A variable by its symbol; an InputError for one that the table does not have."""
        if symbol not in self.state.symbols:
            raise InputError(
                "no-variable", f"{self.name} has no variable {symbol!r}.", where="variable", remedy="Choose another."
            )
        column, said = self.state.column(symbol, "described"), self.state.description(symbol)
        return VariableView(
            self, symbol, column.label, column.unit, column.kind, column.decimals, said.get("lower"),
            said.get("upper"), {"n_limited": column.n_limited, **said}, self.state.derived.get(symbol, {}),
        )  # fmt: skip

    def tried(self, symbol: str, recipe: Mapping[str, Any]) -> VariableView:
        """A variable as if a recipe had made it of this one, for readings before it is adopted."""
        if recipe["how"] != "expression":  # which says where it stands
            for source in derived.sources_of(recipe):
                self.variable(source)
        return replace(self, state=self.state.tried(recipe, self.variable(symbol).label)).variable(TRIED)

    def narrowed(self, by: str, level: str) -> Self:
        """The table with the rows of one level alone."""
        self.variable(by)
        return replace(self, state=self.state.narrowed(by, level))

    def described(self) -> Table:
        """The table as it is described and corrected, with what is set aside still in it."""
        return self._whole("described")

    def active(self) -> Table:
        """The table as it stands."""
        return self._whole("active")

    def _whole(self, view: View) -> Table:
        columns = {symbol: self.state.column(symbol, view) for symbol in self.state.symbols}
        return Table(self.name, self.n_rows, columns)

    def remembered(self, question: Hashable, compute: Callable[[], Answer]) -> Answer:
        """What is worked of the table again and again: kept from the last time that it was asked for, or computed."""
        return compute()
