"""What a reading is of, and its values as arrays."""

from collections.abc import Collection
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.columns import NUMBER_KINDS, Column
from heron.formatting import typeset
from heron.ledger import Series, Used, VariableView, load_series


@dataclass(frozen=True)
class Subject:
    """What a reading is of, and at which revision of its table."""

    symbol: str
    label: str
    unit: str
    kind: str
    decimals: int | None
    lower: float | None
    upper: float | None
    spec_lower: float | None
    spec_upper: float | None
    target: float | None
    n_limited: int
    below_limit: str
    revision: int


@dataclass(frozen=True)
class Numbers:
    """A variable as numbers. values: (n,) NaN for missing, each row as often as it counts; at: (n,) the position of
    the row of each, None where that is its place; series: with the variables that were asked for besides."""

    subject: Subject
    used: Used
    column: Column
    values: Floats
    at: Ints | None
    series: Series

    @property
    def limited(self) -> NDArray[np.bool_]:
        """(n,) whether a value is only known to lie below a limit."""
        limits = self.column.limits
        if limits is None:
            return np.zeros(self.values.size, dtype=bool)
        known = ~np.isnan(limits)
        return known if self.at is None else known[self.at]

    def positions(self, places: Ints) -> Ints:
        """The row positions, from 0, of places among the values."""
        return places if self.at is None else self.at[places]

    def rows(self, places: Ints) -> Ints:
        """The row numbers, from 1, of places among the values, each row once."""
        return places + 1 if self.at is None else np.unique(self.at[places]) + 1


def series_of(
    variable: VariableView,
    *others: VariableView | None,
    weights: Literal["repeat", "refuse", "ignore"] = "repeat",
) -> Series:
    """Variables of one table as the core's load_series has them; those that are None are left out."""
    symbols = [variable_view.symbol for variable_view in (variable, *others) if variable_view is not None]
    return load_series(variable.table.state, symbols, weights=weights)


def numbers_of(variable: VariableView, *others: VariableView | None, kinds: Collection[str] = NUMBER_KINDS) -> Numbers:
    """The variable as numbers, what it is, and the rows used; an InputError for one of another kind."""
    series, symbol = series_of(variable, *others), variable.symbol
    values = series.numbers(symbol, kinds)
    return Numbers(subject_of(variable), series.used(symbol), series.columns[symbol], values, series.places, series)


def subject_of(variable: VariableView) -> Subject:
    said = variable.properties
    return Subject(
        variable.symbol,
        typeset(variable.label),
        typeset(variable.unit),
        variable.kind,
        variable.decimals,
        variable.lower,
        variable.upper,
        said.get("spec_lower"),
        said.get("spec_upper"),
        said.get("target"),
        said.get("n_limited", 0),
        said.get("below_limit") or "missing",
        variable.table.revision,
    )
