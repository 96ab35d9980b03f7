"""What a reading is of, and its values as arrays."""

from collections.abc import Collection
from dataclasses import dataclass, replace
from functools import partial
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.chunked import ChunkedValues, used_in
from heron.columns import NUMBER_KINDS, Column
from heron.formatting import counted, typeset
from heron.ledger import Chunks, Levels, Of, Series, Used, VariableView, Way, in_rounds, load_series
from heron.ordered import InOrder, Ordered

Whose = Levels  # which values of a variable: those at some levels of others, or all
ALL: Whose = ()


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
    """A variable as numbers, of a long table a sample of them.

    values: (n,) NaN for missing, each row as often as it counts; at: (n,) the row of `column` of each, None where that
    is its place; series: with the variables that were asked for besides. used: how many were looked at; whole: where
    what is said is of all rows whatever was looked at.
    """

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
        held = places if self.at is None else self.at[places]
        return held if self.series.sampled is None else self.series.sampled[held]

    def rows(self, places: Ints) -> Ints:
        """The row numbers, from 1, of places among the values, each row once."""
        return (self.positions(places) if self.at is None else np.unique(self.positions(places))) + 1

    def among(self, places: Ints) -> "Numbers":
        """Only the values at some places."""
        return replace(self, values=self.values[places], at=places if self.at is None else self.at[places])

    @property
    def whole(self) -> Used:
        return replace(self.used, sampled=0)


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
    return Numbers(
        subject_of(variable), used_of(variable, series), series.columns[symbol], values, series.places, series
    )


def used_of(variable: VariableView, series: Series) -> Used:
    """How many rows have a value of the variable, and of how many of them the series is."""
    chunks = variable.table.chunks
    return series.used(variable.symbol) if chunks is None else replace(_counted(variable, chunks), sampled=series.n)


def _counted(variable: VariableView, chunks: Chunks) -> Used:
    return variable.table.remembered(("used", variable.symbol), lambda: used_in(chunks, variable.symbol))


def look_first(variable: VariableView, *whose: Whose) -> None:
    """Look together, in a long table, for what most questions about a variable, or about levels, rest on."""
    chunks = variable.table.chunks
    if chunks is not None:
        every = [in_parts(variable, chunks, one) for one in whose or (ALL,)]
        in_rounds(chunks, lambda: _counted(variable, chunks), *(partial(getattr, values, "basis") for values in every))


def in_parts(variable: VariableView, chunks: Chunks, whose: Whose, way: Way = "as they are") -> ChunkedValues:
    """The values of a variable of a long table, or those at some levels."""
    of = Of(variable.symbol, whose, way)
    return variable.table.remembered(("in order", of), lambda: ChunkedValues(chunks, of))


def ordered_of(variable: VariableView, numbers: Numbers, whose: Whose = ALL, way: Way = "as they are") -> Ordered:
    """The values of a variable, or those at a level, by their order, with all rows of a long table."""
    chunks = variable.table.chunks
    if chunks is not None:
        return in_parts(variable, chunks, whose, way)

    def sort() -> InOrder:
        values = numbers.values[~np.isnan(numbers.values)]
        return InOrder(np.sort(np.log10(values) if way == "log10" else values))

    if whose != ALL or numbers.at is not None:
        return sort()
    return variable.table.remembered(("in order", variable.symbol, way), sort)


def n_missing_of(ordered: Ordered, numbers: Numbers) -> int:
    """How many entries have no value."""
    if isinstance(ordered, ChunkedValues):
        return ordered.basis.n_missing
    return numbers.values.size - ordered.size


def n_limited_of(ordered: Ordered, numbers: Numbers) -> int:
    """How many values are only known to lie below a limit."""
    return ordered.basis.n_limited if isinstance(ordered, ChunkedValues) else int(np.count_nonzero(numbers.limited))


def sample_words(series: Series) -> tuple[str, ...]:
    """What is to be known of numbers that are told from a sample of a long table."""
    return () if series.sampled is None else (f"Told from {counted(series.n, 'row')} drawn at random.",)


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
