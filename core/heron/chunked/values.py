"""The values of a variable of a long table, known by their order as if they were sorted."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.chunked.counts import Binned, Gathered, InSteps, Nodes, Reached
from heron.chunked.order import (
    Bins,
    Ranges,
    bins_of,
    edges_within,
    joined_bins,
    narrower,
    ranges_of,
    values_of,
)
from heron.ledger import Chunks, Of, Part
from heron.moments import NO_MOMENTS, Moments, joined, moments_of, moments_of_logs, safe_unit
from heron.ordered import About, in_steps
from heron.summary import ranks_in_summary

MOST_DISTINCT = 65_536
_TRIED = 8_192
_GATHERED = 2**18  # values that are brought together whatever share they are
_FEW_EDGES = 2_000
_MOST_EDGES = 20_000  # at which values are counted at once


@dataclass(frozen=True)
class Distinct:
    """Different values, ascending, and how often each occurs."""

    values: Floats
    counts: Ints


NO_VALUES = Distinct(np.empty(0), np.empty(0, dtype=np.int64))


@dataclass(frozen=True)
class Basis:
    """What most questions about n values rest on.

    n_missing: entries without a value; n_limited: values only known to lie below a limit; moments: in a unit safe for
    them; logs: of their natural logarithms, None where one is not above 0; n_to_zero: how many are not; bins: by their
    first bits; distinct: None where more than 65,536 values differ.
    """

    n_missing: int
    n_limited: int
    moments: Moments
    logs: Moments | None
    low: float
    high: float
    n_to_zero: int
    bins: Bins
    distinct: Distinct | None


@dataclass(frozen=True)
class Basics:
    """The look at what most questions rest on."""

    of: Of

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Basis:
        values = part.values(self.of)
        if values.size == 0:
            nothing = np.empty(0, dtype=np.int64)
            return Basis(
                part.n_missing(self.of),
                0,
                NO_MOMENTS,
                NO_MOMENTS,
                math.inf,
                -math.inf,
                0,
                Bins(nothing, nothing),
                NO_VALUES,
            )
        low, high = float(values.min()), float(values.max())
        unit = safe_unit(max(abs(low), abs(high)))
        return Basis(
            part.n_missing(self.of),
            part.n_limited(self.of),
            moments_of(values if unit == 1 else values / unit, unit),
            moments_of_logs(values) if low > 0 else None,
            low,
            high,
            0 if low > 0 else int(np.count_nonzero(values <= 0)),
            bins_of(values),
            _distinct(values),
        )

    def merge(self, records: Sequence[Basis]) -> Basis:
        if len(records) == 1:
            return records[0]
        logs = [record.logs for record in records if record.logs is not None]
        return Basis(
            sum(record.n_missing for record in records),
            sum(record.n_limited for record in records),
            joined([record.moments for record in records]),
            joined(logs) if len(logs) == len(records) else None,
            min(record.low for record in records),
            max(record.high for record in records),
            sum(record.n_to_zero for record in records),
            joined_bins([record.bins for record in records]),
            _joined_distinct([record.distinct for record in records]),
        )


def _distinct(values: Floats) -> Distinct | None:
    """None where there are too many; a few of very many tell that."""
    if values.size > MOST_DISTINCT:
        tried = values[:: values.size // _TRIED]
        if np.unique(tried).size > 0.97 * tried.size:
            return None
    distinct, counts = np.unique(values + 0.0, return_counts=True)
    return Distinct(distinct, counts) if distinct.size <= MOST_DISTINCT else None


def _joined_distinct(parts: Sequence[Distinct | None]) -> Distinct | None:
    held = [part for part in parts if part is not None]
    if len(held) < len(parts):
        return None
    values, place = np.unique(np.concatenate([part.values for part in held]), return_inverse=True)
    if values.size > MOST_DISTINCT:
        return None
    counts = np.zeros(values.size, dtype=np.int64)
    np.add.at(counts, place, np.concatenate([part.counts for part in held]))
    return Distinct(values, counts)


@dataclass(frozen=True)
class End:
    """The outermost values that are not beyond two limits, and the sum of all where those beyond two others stand at
    these."""

    first: float
    last: float
    pulled_in: float


@dataclass(frozen=True)
class Ends:
    """A look at what lies not beyond two limits, and at the sum with all pulled in to two others, in a unit."""

    of: Of
    low: float
    high: float
    least: float
    most: float
    unit: float

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> End:
        values = part.ordered(self.of)
        first, last = np.searchsorted(values, self.low), np.searchsorted(values, self.high, side="right")
        below, above = np.searchsorted(values, self.least), np.searchsorted(values, self.most, side="right")
        inner = values[below:above]
        total = float((inner if self.unit == 1 else inner / self.unit).sum())
        outer = int(below) * (self.least / self.unit) + (values.size - int(above)) * (self.most / self.unit)
        return End(
            float(values[first]) if first < values.size else math.inf,
            float(values[last - 1]) if last else -math.inf,
            total + outer,
        )

    def merge(self, records: Sequence[End]) -> End:
        return End(
            min(record.first for record in records),
            max(record.last for record in records),
            math.fsum(record.pulled_in for record in records),
        )


class ChunkedValues:
    """The known values of a long table, as heron.ordered.Ordered has them."""

    def __init__(self, chunks: Chunks, of: Of) -> None:
        self.chunks = chunks
        self.of = of
        self._found: dict[int, float] = {}
        self._reached: dict[Reached, Ints] = {}

    @cached_property
    def basis(self) -> Basis:
        basis: Basis = self.chunks.over(Basics(self.of))[0]
        return basis

    @property
    def size(self) -> int:
        return self.basis.moments.n

    def foresee(self, ranks: Ints) -> None:
        self._find(ranks)

    def __getitem__(self, ranks: Ints) -> Floats:
        asked = np.asarray(ranks, dtype=np.int64)
        self._find(asked.ravel())
        return np.array([self._found[rank] for rank in asked.ravel().tolist()]).reshape(asked.shape)

    def moments(self, unit: float) -> Moments:
        return self.basis.moments.in_unit(unit)

    def log_moments(self) -> Moments:
        assert self.basis.logs is not None
        return self.basis.logs

    def n_to(self, value: float) -> int:
        if value == 0:
            return self.basis.n_to_zero
        return int(self.reached((value,), right=True)[0])

    def reached(self, edges: Sequence[float] | Floats, *, right: bool) -> Ints:
        look = Reached(self.of, np.asarray(edges, dtype=np.float64).tobytes(), right)
        if look not in self._reached:
            reached = self.chunks.over(look)[0]
            if reached.size > _FEW_EDGES:
                return np.asarray(reached)
            self._reached[look] = reached
        return self._reached[look]

    def modes(self) -> Floats | None:
        distinct = self.basis.distinct
        if distinct is None:
            return None
        most = distinct.counts.max(initial=0)
        return distinct.values[distinct.counts == most] if most > 1 else np.empty(0)

    def distinct(self) -> Floats | None:
        return None if self.basis.distinct is None else self.basis.distinct.values

    def in_steps(self, step: float) -> bool:
        distinct = self.basis.distinct
        if distinct is not None:
            return in_steps(distinct.values, step)
        return bool(self.chunks.over(InSteps(self.of, step))[0])

    def binned(self, low: float, width: float) -> tuple[Floats, Floats]:
        nodes: Nodes = self.chunks.over(Binned(self.of, low, width))[0]
        return np.asarray(low + nodes.numbers * width, dtype=np.float64), nodes.masses / self.size

    def n_beyond(self, low: float, high: float) -> int:
        """How many values lie beyond two limits at most, as far as their first bits tell."""
        ranges = ranges_of(self.basis.bins)
        lowest, highest = ranges.ends
        return int(ranges.counts[(lowest < low) | (highest > high)].sum())

    def about(self, low: float, high: float, centre: float, cut: int) -> About:
        n, unit = self.size, self.basis.moments.unit
        wanted = np.array([(n + 1) // 2, n // 2 + 1]) - 1
        least, most = self[np.array([cut, n - 1 - cut])].tolist()
        shell = ranges_of(self.basis.bins)
        while True:
            held, inside = _shell(shell, centre, wanted)
            shell = shell.at(np.flatnonzero(held))
            if int(shell.counts.sum()) <= self._most_gathered or (shell.end - shell.first).max() == 1:
                break
            wanted = wanted - inside
            shell = self._narrower(shell)
        ends = Ends(self.of, low, high, least, most, unit)
        if (shell.end - shell.first).max() == 1:
            (end,) = self.chunks.over(ends)
            near = Distinct(values_of(shell.first), shell.counts)
        else:
            end, values = self.chunks.over(ends, self._gathered(shell))
            near = Distinct(values, np.ones(values.size, dtype=np.int64))
        with np.errstate(over="ignore"):
            away = np.abs(near.values - centre)
        outward = np.argsort(away, kind="stable")
        reached = np.cumsum(near.counts[outward])
        distances = away[outward[np.searchsorted(reached, wanted - inside, side="right")]]
        total = end.pulled_in - cut * (least / unit) - cut * (most / unit)
        inner = least if least == most else total / (n - 2 * cut) * unit
        return About(end.first, end.last, float(0.5 * distances[0] + 0.5 * distances[1]), inner)

    def _find(self, ranks: Ints) -> None:
        """Look for the values of ranks that are not known yet, all of them together."""
        self._found |= {0: self.basis.low, self.size - 1: self.basis.high}
        if self._found.keys() >= set(ranks.tolist()):
            return
        # Whatever is asked for first, what a summary tells is asked for besides: so all first questions are the same.
        wanted = set(ranks.tolist()) | set(ranks_in_summary(self.size).tolist())
        missing = np.array(sorted(wanted - self._found.keys()), dtype=np.int64)
        ranges = ranges_of(self.basis.bins)
        while True:
            held = np.unique(np.searchsorted(ranges.before, missing, side="right") - 1)
            ranges = ranges.at(held)
            if (ranges.end - ranges.first).max() == 1 or int(ranges.counts.sum()) <= self._most_gathered:
                break
            ranges = self._narrower(ranges)
        place = np.searchsorted(ranges.before, missing, side="right") - 1
        if (ranges.end - ranges.first).max() == 1:
            found = values_of(ranges.first)[place]
        else:
            gathered = self.chunks.over(self._gathered(ranges))[0]
            found = gathered[(np.cumsum(ranges.counts) - ranges.counts)[place] + missing - ranges.before[place]]
        self._found |= dict(zip(missing.tolist(), found.tolist(), strict=True))

    @property
    def _most_gathered(self) -> int:
        return max(_GATHERED, self.size // 32)

    def _gathered(self, ranges: Ranges) -> Gathered:
        lows, highs = ranges.ends
        return Gathered(self.of, lows.tobytes(), highs.tobytes())

    def _narrower(self, ranges: Ranges) -> Ranges:
        """The same values in narrower ranges."""
        edges = edges_within(ranges, _MOST_EDGES)
        return narrower(ranges, edges, self.reached(values_of(edges), right=False))


def _shell(ranges: Ranges, centre: float, ranks: Ints) -> tuple[NDArray[np.bool_], int]:
    """Which ranges may hold the distances from a centre of some ranks, and how many values are surely nearer."""
    low, high = ranges.ends
    with np.errstate(over="ignore"):
        nearest = np.maximum(np.maximum(low - centre, centre - high), 0.0)
        furthest = np.maximum(np.abs(low - centre), np.abs(high - centre))
    outward = np.argsort(furthest, kind="stable")
    last = furthest[outward[np.searchsorted(np.cumsum(ranges.counts[outward]), ranks.max(), side="right")]]
    inward = np.argsort(nearest, kind="stable")
    first = nearest[inward[np.searchsorted(np.cumsum(ranges.counts[inward]), ranks.min(), side="right")]]
    sure = furthest < first
    return ~sure & (nearest <= last), int(ranges.counts[sure].sum())
