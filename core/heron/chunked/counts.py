"""How many values there are in parts of a long table, and where: in classes, on a grid, beyond limits; why missing."""

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.groups.box import Beyond, Limits
from heron.ledger import Chunks, Of, Part, Used
from heron.ordered import in_steps

_MOST_NAMED = 10_000  # rows beyond a limit that are named besides the outermost
_OUTERMOST = 1_000  # at each end
_MOST_NODES = 2**20


@dataclass(frozen=True)
class Reached:
    """A look at how many values lie below each of some edges, or also on it where the right side is closed.

    edges: as bytes, since there may be many.
    """

    of: Of
    edges: bytes
    right: bool

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Ints:
        return np.searchsorted(part.ordered(self.of), np.frombuffer(self.edges), side="right" if self.right else "left")

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))


@dataclass(frozen=True)
class Gathered:
    """A look that brings the values themselves that lie in ranges, ascending; lows, highs: their ends, which belong to
    them, as bytes."""

    of: Of
    lows: bytes
    highs: bytes

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Floats:
        ordered = part.ordered(self.of)
        first = np.searchsorted(ordered, np.frombuffer(self.lows))
        end = np.searchsorted(ordered, np.frombuffer(self.highs), side="right")
        return np.concatenate(
            [ordered[a:b] for a, b in zip(first.tolist(), end.tolist(), strict=True)] or [ordered[:0]]
        )

    def merge(self, records: Sequence[Floats]) -> Floats:
        return np.sort(np.concatenate(records))


@dataclass(frozen=True)
class InSteps:
    """A look at whether all values are whole numbers of steps."""

    of: Of
    step: float

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> bool:
        return in_steps(part.values(self.of), self.step)

    def merge(self, records: Sequence[bool]) -> bool:
        return all(records)


@dataclass(frozen=True)
class Nodes:
    """Nodes of an even grid by their numbers, ascending, and what linear binning gives to each, in values."""

    numbers: Ints
    masses: Floats


@dataclass(frozen=True)
class Binned:
    """A look at the values as linear binning lays them on an even grid."""

    of: Of
    low: float
    width: float

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Nodes:
        places = part.values(self.of) - self.low
        places /= self.width
        nodes = places.astype(np.int64)
        places -= nodes
        if nodes.size == 0:
            return Nodes(nodes, places.astype(np.float64))
        first, last = int(nodes.min()), int(nodes.max())
        if last - first > _MOST_NODES:
            return _joined_nodes([Nodes(nodes, 1 - places), Nodes(nodes + 1, places)])
        nodes -= first
        above = np.bincount(nodes, weights=places, minlength=last - first + 2)
        masses: Floats = np.bincount(nodes, minlength=last - first + 2).astype(np.float64) - above
        masses[1:] += above[:-1]
        held = np.flatnonzero((masses != 0) | (above != 0))
        return Nodes(held + first, masses[held])

    def merge(self, records: Sequence[Nodes]) -> Nodes:
        return _joined_nodes(records)


def _joined_nodes(parts: Sequence[Nodes]) -> Nodes:
    numbers, place = np.unique(np.concatenate([part.numbers for part in parts]), return_inverse=True)
    masses: Floats = np.zeros(numbers.size)
    np.add.at(masses, place, np.concatenate([part.masses for part in parts]))
    return Nodes(numbers, masses)


@dataclass(frozen=True)
class Counted:
    """A look at how many rows have a value of a variable, why others have none, and how many count for nothing."""

    symbol: str

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol,)

    def partial(self, part: Part) -> Used:
        return part.series(self.symbol).used(self.symbol)

    def merge(self, records: Sequence[Used]) -> Used:
        codes: dict[str, int] = {}
        for record in records:
            for code, count in record.missing_counts.items():
                codes[code] = codes.get(code, 0) + count
        return Used(
            sum(record.n for record in records),
            sum(record.missing for record in records),
            codes,
            sum(record.set_aside for record in records),
            records[0].weighted_by,
            sum(record.weightless for record in records),
        )


@dataclass(frozen=True)
class Cells:
    """A look at how many rows stand at each combination of levels of some variables, by the labels as a JSON list."""

    of: tuple[str, ...]

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of

    def partial(self, part: Part) -> dict[str, int]:
        found = part.split(("", *self.of))
        return {json.dumps(labels): entries.size for labels, entries in found.items()}

    def merge(self, records: Sequence[Mapping[str, int]]) -> dict[str, int]:
        result: dict[str, int] = {}
        for record in records:
            for labels, count in record.items():
                result[labels] = result.get(labels, 0) + count
        return result


def cells_in(chunks: Chunks, *symbols: str) -> dict[tuple[str, ...], int]:
    """How many rows of a long table stand at each combination of levels that occurs."""
    found = chunks.over(Cells(symbols))[0]
    return {tuple(json.loads(labels)): count for labels, count in found.items()}


@dataclass(frozen=True)
class Outside:
    """A look at the rows beyond two limits, and beyond two further ones: all of them where they are few, else the
    outermost and, of the others, about a share of all, the same for each table of so many rows."""

    of: Of
    limits: Limits
    share: float

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> "Outlying":
        values = part.values(self.of)
        low, high, far_low, far_high = self.limits
        beyond = np.flatnonzero((values < low) | (values > high))
        outlying = values[beyond]
        kept = values if beyond.size == 0 else np.delete(values, beyond)
        rows = part.positions(self.of)[beyond]
        named = _named(rows, outlying, self.share)
        return Outlying(
            rows[named],
            outlying[named],
            beyond.size,
            int(np.count_nonzero((outlying < far_low) | (outlying > far_high))),
            float(kept.min(initial=math.inf)),
            float(kept.max(initial=-math.inf)),
        )

    def merge(self, records: Sequence["Outlying"]) -> "Outlying":
        rows, values = (np.concatenate(parts) for parts in zip(*((r.rows, r.values) for r in records), strict=True))
        named = _named(rows, values, self.share)
        return Outlying(
            rows[named],
            values[named],
            sum(record.n for record in records),
            sum(record.n_far for record in records),
            min(record.low for record in records),
            max(record.high for record in records),
        )


@dataclass(frozen=True)
class Outlying:
    """Positions and values of rows beyond limits; how many there are, and how far values go that are not beyond."""

    rows: Ints
    values: Floats
    n: int
    n_far: int
    low: float
    high: float


def _named(rows: Ints, values: Floats, share: float) -> NDArray[np.bool_]:
    """The outermost at each end, and others as their row says by chance."""
    if share >= 1:
        return np.ones(rows.size, dtype=bool)
    chance = (rows.astype(np.uint64) * np.uint64(0x9E3779B97F4A7C15)) >> np.uint64(11)
    named = np.asarray(chance < share * 2.0**53)
    if rows.size:
        outward = np.argsort(values, kind="stable")
        named[outward[:_OUTERMOST]] = named[outward[-_OUTERMOST:]] = True
    return named


def outside(chunks: Chunks, of: Of, limits: Limits, n_at_most: int) -> Beyond:
    """What lies beyond limits, of which at most so many values are."""
    share = min(1.0, _MOST_NAMED / max(n_at_most, 1))
    found: Outlying = chunks.over(Outside(of, limits, share))[0]
    far = (found.values < limits[2]) | (found.values > limits[3])
    kept = (found.low, found.high) if found.low <= found.high else None
    return Beyond(found.rows, found.values, found.rows[far], found.n, found.n_far, kept)


def used_in(chunks: Chunks, symbol: str) -> Used:
    """How many rows of a long table have a value of a variable, and why others have none."""
    used: Used = chunks.over(Counted(symbol))[0]
    return used
