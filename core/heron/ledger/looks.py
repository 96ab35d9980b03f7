"""A long table looked at in parts: of each part a small record, and of all records one."""

from collections.abc import Callable, Hashable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from itertools import product
from typing import Any, Literal, Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.columns import Column
from heron.errors import InputError
from heron.ledger.series import Series, load_series
from heron.ledger.state import TableState

Record = TypeVar("Record")
Found = TypeVar("Found")
Way = Literal["as they are", "log10"]
Levels = tuple[tuple[str, str], ...]  # of variables by their symbols
_WITH_NUMBERS = ("continuous", "count", "ordered", "date-time")


@dataclass(frozen=True)
class Of:
    """Which values of a table are looked at: those of a variable, or those at some levels of others; on which scale."""

    symbol: str
    at: Levels = ()
    way: Way = "as they are"

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol, *(symbol for symbol, _ in self.at))


class Part:
    """Some rows of a table while they are looked at; what several looks need of them is worked once.

    first: how many rows of the table lie before them.
    """

    def __init__(self, state: TableState, number: int) -> None:
        self.first = state.bounds[number]
        self.n_rows = state.bounds[number + 1] - self.first
        self._state = state.part(number)
        self._series: dict[tuple[str, ...], Series] = {}
        self._split: dict[tuple[str, ...], dict[tuple[str, ...], Ints]] = {}
        self._values: dict[Of, tuple[Floats, Ints | None]] = {}
        self._ordered: dict[Of, Floats] = {}
        self._once: dict[Hashable, Any] = {}

    @property
    def rows_aside(self) -> Ints:
        """The positions in the part of the rows that are set aside."""
        return self._state.positions_aside("", self.n_rows)

    def described(self, symbol: str) -> Column:
        """A column as it is described, with what is set aside still in it."""
        return self._state.column(symbol, "described")

    def once(self, question: Hashable, compute: Callable[[], Found]) -> Found:
        """What several looks need of the part."""
        if question not in self._once:
            self._once[question] = compute()
        found: Found = self._once[question]
        return found

    def series(self, *symbols: str) -> Series:
        if symbols not in self._series:
            self._series[symbols] = load_series(self._state, symbols)
        return self._series[symbols]

    def rows_of(self, *symbols: str) -> Series:
        """Variables with an entry for each row, whatever these count."""
        return load_series(self._state, symbols, weights="ignore")

    def values(self, of: Of) -> Floats:
        """The values that are known."""
        return self._known(of)[0]

    def ordered(self, of: Of) -> Floats:
        """The values that are known, ascending."""
        if of not in self._ordered:
            self._ordered[of] = np.sort(self.values(of))
        return self._ordered[of]

    def n_missing(self, of: Of) -> int:
        """How many entries have no value."""
        n = self._at_levels(of).size if of.at else self.series(*of.symbols).n
        return n - self.values(of).size

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
            if of.at:
                entries = self._at_levels(of)
                values = values[entries]
            known = np.isfinite(values)
            if not known.all():
                places = np.flatnonzero(known)
                values, entries = values[places], places if entries is None else entries[places]
            self._values[of] = (np.log10(values) if of.way == "log10" else values), entries
        return self._values[of]

    def both(self, x: str, y: str, at: Levels = ()) -> tuple[Floats, Floats]:
        """Two variables, entry by entry, or those at some levels; NaN for missing."""
        series = self.series(x, y, *(symbol for symbol, _ in at))
        first, second = (series.numbers(symbol, _WITH_NUMBERS) for symbol in (x, y))
        if not at:
            return first, second
        held = self._at(series, at)
        return first[held], second[held]

    def entries_at(self, x: str, y: str, at: Levels = ()) -> Ints:
        """The positions in the table of the rows of these entries."""
        series = self.series(x, y, *(symbol for symbol, _ in at))
        entries = np.flatnonzero(self._at(series, at)) if at else np.arange(series.n)
        return series.positions(entries) + self.first

    def _at(self, series: Series, at: Levels) -> NDArray[np.bool_]:
        held = np.ones(series.n, dtype=bool)
        for symbol, level in at:
            labels, places = series.levels_or_numbers(symbol)
            held &= places == (labels.index(level) if level in labels else -2)
        return held

    def _at_levels(self, of: Of) -> Ints:
        """The entries at some levels."""
        if of.symbols not in self._split:
            self._split[of.symbols] = self.split(of.symbols)
        return self._split[of.symbols].get(tuple(level for _, level in of.at), np.empty(0, dtype=np.int64))

    def split(self, symbols: tuple[str, ...]) -> dict[tuple[str, ...], Ints]:
        """The entries at each combination of levels that occurs of the variables behind the first."""
        series = self.series(*(symbol for symbol in symbols if symbol))
        together = np.zeros(series.n, dtype=np.int64)
        labels: list[list[str]] = []
        for symbol in symbols[1:]:
            levels, places = series.levels_or_numbers(symbol)
            together = np.where((places < 0) | (together < 0), -1, together * len(levels) + places)
            labels.append(levels)
        names = list(product(*labels))
        order = np.argsort(together, kind="stable")
        starts = np.searchsorted(together[order], np.arange(len(names) + 1))
        return {
            name: order[first:end]
            for name, first, end in zip(names, starts[:-1].tolist(), starts[1:].tolist(), strict=True) if end > first
        }  # fmt: skip


class Look(Protocol[Record]):
    """A question that is answered part by part: a frozen dataclass of plain values, by which it is also known.

    symbols: of the variables that it is about.
    """

    @property
    def symbols(self) -> tuple[str, ...]: ...

    def partial(self, part: Part) -> Record: ...

    def merge(self, records: Sequence[Record]) -> Record:
        """The record of several parts, in their order; of one, itself."""


Watch = Callable[[float], None]
Tell = Callable[[str], None]
_watch: ContextVar[Watch] = ContextVar("watch", default=lambda share: None)
_tell: ContextVar[Tell] = ContextVar("tell", default=lambda words: None)


@contextmanager
def watched(watch: Watch, tell_words: Tell) -> Iterator[None]:
    """Have `watch` told, while parts are looked at, which share of all that is done; what it raises ends the work.
    tell_words: takes what is to be known of how they are looked at."""
    looks_before = 0

    def tell(share: float) -> None:
        # How often all parts will be looked at is not known beforehand: each time takes half of what is left.
        nonlocal looks_before
        watch(1 - 0.5**looks_before * (1 - share / 2))
        looks_before += share >= 1

    tokens = _watch.set(tell), _tell.set(tell_words)
    try:
        yield
    finally:
        _watch.reset(tokens[0])
        _tell.reset(tokens[1])


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

    def watch(self) -> Watch:
        """What is told of the share that is done."""
        return _watch.get()

    def tell(self, words: str) -> None:
        """Say what is to be known of how parts are looked at, while they are."""
        _tell.get()(words)

    def over(self, *looks: Look[Any]) -> list[Any]:
        """The records of some looks at all rows, taken together."""
        asking = _round.get()
        if asking is None:
            check_looks(self.state, looks)
            return self.taken(looks)
        if any(look not in asking.found for look in looks):
            asking.wanted |= dict.fromkeys(look for look in looks if look not in asking.found)
            raise _NotYet
        return [asking.found[look] for look in looks]

    def taken(self, looks: Sequence[Look[Any]]) -> list[Any]:
        """The records of looks that are allowed."""
        parts = [record_part(self.state, looks, number) for number in range(self.n_parts)]
        return [look.merge([part[i] for part in parts]) for i, look in enumerate(looks)]


class _NotYet(Exception):
    """An answer needs a look that was not taken yet."""


@dataclass
class _Round:
    found: dict[Look[Any], Any]
    wanted: dict[Look[Any], None]


_round: ContextVar[_Round | None] = ContextVar("round", default=None)


def in_rounds(chunks: Chunks | None, *answers: Callable[[], Any]) -> None:
    """Have answers about a long table worked side by side, so that what they look for next is looked for together.

    Each is begun anew after every look, and so must keep what it found; one that is refused ends.
    """
    if chunks is None:
        return
    around = _round.get()
    if around is not None:  # which takes their looks together with others
        answered = [_answered(answer, around) for answer in answers]
        if not all(answered):
            raise _NotYet
        return
    asking, waiting = _Round({}, {}), list(answers)
    while waiting:
        waiting = [answer for answer in waiting if not _answered(answer, asking)]
        wanted, asking.wanted = list(asking.wanted), {}
        if wanted:
            asking.found |= zip(wanted, chunks.over(*wanted), strict=True)


def _answered(answer: Callable[[], Any], asking: _Round) -> bool:
    token = _round.set(asking)
    try:
        answer()
    except _NotYet:
        return False
    except InputError:  # said again when it is asked for by itself
        return True
    finally:
        _round.reset(token)
    return True


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
