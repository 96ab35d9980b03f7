"""A long table looked at in parts: of each part a small record, and of all records one."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal, Protocol, TypeVar

import numpy as np

from heron.checks import Floats, Ints
from heron.ledger.series import Series, load_series
from heron.ledger.state import TableState

Record = TypeVar("Record")
Way = Literal["as they are", "log10"]
_WITH_NUMBERS = ("continuous", "count", "ordered", "date-time")


@dataclass(frozen=True)
class Of:
    """Which values of a table are looked at: those of a variable, or those at one level of another; on which scale."""

    symbol: str
    by: str = ""
    level: str = ""
    way: Way = "as they are"

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol, self.by) if self.by else (self.symbol,)


class Part:
    """Some rows of a table while they are looked at; what several looks need of them is worked once.

    first: how many rows of the table lie before them.
    """

    def __init__(self, state: TableState, number: int) -> None:
        self.first = state.bounds[number]
        self._state = state.part(number)
        self._series: dict[tuple[str, ...], Series] = {}
        self._split: dict[tuple[str, ...], dict[str, Ints]] = {}
        self._values: dict[Of, tuple[Floats, Ints | None]] = {}

    def series(self, *symbols: str) -> Series:
        if symbols not in self._series:
            self._series[symbols] = load_series(self._state, symbols)
        return self._series[symbols]

    def values(self, of: Of) -> Floats:
        """The values that are known."""
        return self._known(of)[0]

    def n_missing(self, of: Of) -> int:
        """How many entries have no value."""
        n = self._at_levels(of.symbols).get(of.level, ()) if of.by else range(self.series(*of.symbols).n)
        return len(n) - self.values(of).size

    def n_limited(self, of: Of) -> int:
        """How many of the values are only known to lie below a limit."""
        limited = self.series(*of.symbols).limited(of.symbol)
        entries = self._known(of)[1]
        return int(np.count_nonzero(limited if entries is None else limited[entries]))

    def positions(self, of: Of) -> Ints:
        """The positions in the table of the rows of these values, from 0."""
        values, entries = self._known(of)
        places = np.arange(values.size) if entries is None else entries
        return self.series(*of.symbols).positions(places) + self.first

    def _known(self, of: Of) -> tuple[Floats, Ints | None]:
        """The values, and which entries they are, None for all."""
        if of not in self._values:
            values = self.series(*of.symbols).numbers(of.symbol, _WITH_NUMBERS)
            entries = None
            if of.by:
                entries = self._at_levels(of.symbols).get(of.level, np.empty(0, dtype=np.int64))
                values = values[entries]
            known = np.isfinite(values)
            if not known.all():
                places = np.flatnonzero(known)
                values, entries = values[places], places if entries is None else entries[places]
            self._values[of] = (np.log10(values) if of.way == "log10" else values), entries
        return self._values[of]

    def _at_levels(self, symbols: tuple[str, ...]) -> dict[str, Ints]:
        if symbols not in self._split:
            grouping = self.series(*symbols).grouping(symbols[1])
            self._split[symbols] = dict(zip(grouping.labels, grouping.rows(), strict=True))
        return self._split[symbols]


class Look(Protocol[Record]):
    """A question that is answered part by part: a frozen dataclass of plain values, by which it is also known.

    symbols: of the variables that it is about.
    """

    @property
    def symbols(self) -> tuple[str, ...]: ...

    def partial(self, part: Part) -> Record: ...

    def merge(self, records: Sequence[Record]) -> Record:
        """The record of several parts, in their order; of one, itself."""


class Chunks:
    """A table that is looked at in parts, here one after the other in this process."""

    def __init__(self, state: TableState) -> None:
        self.state = state

    @property
    def n_rows(self) -> int:
        return self.state.bounds[-1]

    @property
    def n_parts(self) -> int:
        return len(self.state.bounds) - 1

    def over(self, *looks: Look[Any]) -> list[Any]:
        """The records of some looks at all rows, taken together."""
        check_looks(self.state, looks)
        parts = [record_part(self.state, looks, number) for number in range(self.n_parts)]
        return [look.merge([part[i] for part in parts]) for i, look in enumerate(looks)]


def check_looks(state: TableState, looks: Sequence[Look[Any]]) -> None:
    """Refuse, by an InputError, what a table in parts cannot have."""
    for symbol in {symbol for look in looks for symbol in look.symbols}:
        state.check_by_row(symbol)
    if state.level is not None:
        state.check_by_row(state.level[0])


def record_part(state: TableState, looks: Sequence[Look[Any]], number: int) -> list[Any]:
    """The records of one part."""
    part = Part(state, number)
    return [look.partial(part) for look in looks]
