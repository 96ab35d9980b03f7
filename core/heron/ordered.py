"""Values known by their order: sorted in memory, or looked for in the chunks of a long table."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np

from heron.checks import Floats, Ints
from heron.moments import Moments, moments_of, moments_of_logs, safe_unit


@dataclass(frozen=True)
class About:
    """What lies about given places of the values.

    whisker_low, whisker_high: the outermost values that are not beyond two limits; mad: the median distance from a
    centre; inner_mean: the mean without so many values at each end.
    """

    whisker_low: float
    whisker_high: float
    mad: float
    inner_mean: float


class Ordered(Protocol):
    """n values, at least one, of which those of any rank can be had."""

    @property
    def size(self) -> int: ...

    def foresee(self, ranks: Ints) -> None:
        """Say which ranks will be asked for, so that they can be looked for together."""

    def __getitem__(self, ranks: Ints) -> Floats:
        """The values of ranks, from 0 for the smallest."""

    def moments(self, unit: float) -> Moments: ...

    def log_moments(self) -> Moments:
        """Of the natural logarithms of values above 0."""

    def n_to(self, value: float) -> int:
        """How many are not above a value."""

    def about(self, low: float, high: float, centre: float, cut: int) -> About: ...

    def modes(self) -> Floats | None:
        """The values that occur most often, none where no value repeats; None where that is not known."""

    def reached(self, edges: Sequence[float] | Floats, *, right: bool) -> Ints:
        """How many lie below each edge, or also on it where the right side is closed."""

    def distinct(self) -> Floats | None:
        """The different values, ascending; None where these are too many to be told apart."""

    def in_steps(self, step: float) -> bool:
        """Whether all are whole numbers of steps, but for rounding."""

    def binned(self, low: float, width: float) -> tuple[Floats, Floats]:
        """The nodes of an even grid from low on that hold something, ascending, and the share of the values that linear
        binning gives to each: a value between two nodes falls to both, to the nearer one more."""


def ends(ordered: Ordered) -> tuple[float, float]:
    """The smallest and the largest value."""
    low, high = ordered[np.array([0, ordered.size - 1])].tolist()
    return low, high


def mean_of(ordered: Ordered) -> float:
    moments = _safe_moments(ordered)
    return moments.mean * moments.unit


def mean_and_sd(ordered: Ordered) -> tuple[float, float]:
    """The mean and the SD of at least two values."""
    moments = _safe_moments(ordered)
    return moments.mean * moments.unit, float(np.sqrt(moments.m2 / (moments.n - 1)) * moments.unit)


def _safe_moments(ordered: Ordered) -> Moments:
    low, high = ends(ordered)
    return ordered.moments(safe_unit(max(abs(low), abs(high))))


def sd_of(ordered: Ordered) -> float:
    """The SD of at least two values."""
    return mean_and_sd(ordered)[1]


@dataclass(frozen=True)
class InOrder:
    """Values in memory, ascending."""

    values: Floats

    @property
    def size(self) -> int:
        return self.values.size

    def foresee(self, ranks: Ints) -> None:
        """All ranks are at hand."""

    def __getitem__(self, ranks: Ints) -> Floats:
        return self.values[ranks]

    @cached_property
    def _moments(self) -> Moments:
        unit = safe_unit(max(abs(float(self.values[0])), abs(float(self.values[-1]))))
        return moments_of(self.values if unit == 1 else self.values / unit, unit)

    def moments(self, unit: float) -> Moments:
        return self._moments.in_unit(unit)

    def log_moments(self) -> Moments:
        return moments_of_logs(self.values)

    def n_to(self, value: float) -> int:
        return int(np.searchsorted(self.values, value, side="right"))

    def about(self, low: float, high: float, centre: float, cut: int) -> About:
        values, n = self.values, self.size
        first = int(np.searchsorted(values, low))
        last = int(np.searchsorted(values, high, side="right")) - 1
        inner = values[cut : n - cut]
        unit = max(abs(float(inner[0])), abs(float(inner[-1])))
        return About(
            float(values[min(first, n - 1)]),
            float(values[max(last, 0)]),
            0.5 * self._distance(centre, (n + 1) // 2) + 0.5 * self._distance(centre, n // 2 + 1),
            float((inner / unit).mean()) * unit if unit > 1e290 else float(inner.mean()),
        )

    def _distance(self, centre: float, k: int) -> float:
        """The k-th smallest distance from a centre: the k nearest stand together, and of all that do, those that reach
        as far above it as below are the nearest."""
        values = self.values
        low, high = 0, values.size - k
        while low < high:
            middle = (low + high) // 2
            if centre - float(values[middle]) > float(values[middle + k - 1]) - centre:
                low = middle + 1
            else:
                high = middle
        begins = range(max(low - 1, 0), low + 1)
        return min(max(centre - float(values[i]), float(values[i + k - 1]) - centre) for i in begins)

    @cached_property
    def _starts(self) -> Ints:
        """Where another value begins."""
        return np.flatnonzero(np.concatenate(([True], self.values[1:] != self.values[:-1])))

    def modes(self) -> Floats:
        starts = self._starts
        if starts.size == self.size:
            return np.empty(0)
        lengths = np.diff(starts, append=self.size)
        return np.asarray(self.values[starts[lengths == lengths.max()]], dtype=np.float64)

    def reached(self, edges: Sequence[float] | Floats, *, right: bool) -> Ints:
        return np.searchsorted(self.values, np.asarray(edges, dtype=np.float64), side="right" if right else "left")

    def distinct(self) -> Floats:
        return self.values[self._starts]

    def in_steps(self, step: float) -> bool:
        return in_steps(self.values, step)

    def binned(self, low: float, width: float) -> tuple[Floats, Floats]:
        part = self.values - low
        part /= width
        if part[-1] < self.size:
            before = np.searchsorted(part, np.arange(int(part[-1]) + 2))
            below = np.flatnonzero(before[1:] > before[:-1])
            starts = before[below]
            counts = np.diff(starts, append=self.size)
            to_above = np.add.reduceat(part, starts) - below * counts
        else:  # most nodes hold nothing
            node = part.astype(np.int64)
            part -= node
            starts = np.flatnonzero(np.concatenate(([True], node[1:] != node[:-1])))
            below, counts, to_above = node[starts], np.diff(starts, append=self.size), np.add.reduceat(part, starts)
        last = np.append(below[1:] != below[:-1] + 1, True)  # whether the node above is below nothing
        place = np.arange(below.size) + np.cumsum(last) - last
        occupied = np.empty(below.size + int(last.sum()))
        occupied[place], occupied[place[last] + 1] = below, below[last] + 1
        mass = np.zeros(occupied.size)
        mass[place] = counts - to_above
        mass[place + 1] += to_above
        return np.asarray(low + occupied * width, dtype=np.float64), mass / self.size


def in_steps(values: Floats, step: float) -> bool:
    """Whether values are whole numbers of steps, but for rounding."""
    with np.errstate(over="ignore", invalid="ignore"):
        steps = values / step
        return bool(np.all(np.abs(steps - np.rint(steps)) < 1e-6))
