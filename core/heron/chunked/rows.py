"""Rows of a long table that hold something, as long as they are few enough to be listed."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.formatting import counted, grouped
from heron.ledger import Chunks, Part, Series

MOST_LISTED = 100_000


@dataclass(frozen=True)
class Listed:
    """How many rows there are; their positions, ascending, and what stands there, none where they are too many."""

    n: int
    positions: Ints
    values: Floats


def _listed(n: int, positions: Ints, values: Floats) -> Listed:
    return Listed(n, positions, values) if n <= MOST_LISTED else Listed(n, positions[:0], values[:0])


@dataclass(frozen=True)
class Holding:
    """A look for rows by a variable: with a value between two limits, at a level, without a value, or set aside.
    closed: which limits belong."""

    symbol: str
    what: Literal["within", "level", "missing", "aside"]
    low: float = 0.0
    high: float = 0.0
    closed: str = "both"
    level: str = ""

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol,)

    def partial(self, part: Part) -> Listed:
        series = part.rows_of(self.symbol)
        values = np.full(series.n, np.nan)
        if self.what == "within":
            values = series.numbers(self.symbol, ("continuous", "count", "ordered", "date-time"))
        held = np.flatnonzero(self._held(series, values))
        return _listed(held.size, held + part.first, values[held])

    def _held(self, series: Series, values: Floats) -> NDArray[np.bool_]:
        match self.what:
            case "within":
                return within(values, self.low, self.high, self.closed)
            case "level":
                labels, places = series.levels(self.symbol)
                return np.asarray(places == (labels.index(self.level) if self.level in labels else -2))
            case "aside":
                return series.is_aside(self.symbol)
        return np.asarray((series.reasons(self.symbol) > 0) & ~series.is_aside(self.symbol))

    def merge(self, records: Sequence[Listed]) -> Listed:
        n = sum(record.n for record in records)
        positions, values = ([getattr(record, name) for record in records] for name in ("positions", "values"))
        return _listed(n, np.concatenate(positions), np.concatenate(values))


def within(values: Floats, low: float, high: float, closed: str) -> NDArray[np.bool_]:
    """Which values lie from low to high. closed: which ends belong, "left", "right" or "both"."""
    above = values >= low if closed in ("left", "both") else values > low
    below = values <= high if closed in ("right", "both") else values < high
    return np.asarray(above & below)


def rows_holding(chunks: Chunks, look: Holding) -> Listed:
    """The rows of a long table that a look finds; an InputError where they are too many to be listed."""
    found: Listed = chunks.over(look)[0]
    if found.n > MOST_LISTED:
        raise InputError(
            "too-many-rows", f"{counted(found.n, 'row')} lie there; at most {grouped(MOST_LISTED)} are listed.",
            where="rows", remedy="Choose fewer of them.",
        )  # fmt: skip
    return found
