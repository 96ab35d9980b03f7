"""The values of a long table in the order of its rows: runs about the median, and the outline of what is drawn."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import reduce
from itertools import pairwise

import numpy as np

from heron.checks import Floats, Ints
from heron.ledger import Part


@dataclass(frozen=True)
class Run:
    """A run of values on one side of the median, from the position of one row to that of another."""

    above: bool
    length: int
    first: int
    last: int


NO_RUN = Run(False, 0, -1, -1)


@dataclass(frozen=True)
class InRows:
    """n values, of n_rows; n_above, n_below the median; runs: how many, with the first, the last and the longest (of
    equal ones that which comes first). positions, values: of the least and the largest of each stretch."""

    n: int
    n_rows: int
    n_above: int
    n_below: int
    runs: int
    first: Run
    last: Run
    longest: Run
    positions: Ints
    values: Floats


@dataclass(frozen=True)
class Outlined:
    """The look at values in the order of the rows. median: of all; stretches: of each part."""

    symbol: str
    median: float
    stretches: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol,)

    def partial(self, part: Part) -> InRows:
        series = part.rows_of(self.symbol)
        numbers = series.numbers(self.symbol)
        known = np.flatnonzero(~np.isnan(numbers))
        values, positions = numbers[known], series.positions(known) + part.first
        off = np.flatnonzero(values != self.median)
        side = values[off] > self.median
        n_above, sent = int(np.count_nonzero(side)), self._outline(values)
        whole = InRows(
            known.size, series.n, n_above, off.size - n_above, 0, NO_RUN, NO_RUN, NO_RUN, positions[sent], values[sent]
        )
        if off.size == 0:
            return whole
        starts = np.concatenate(([0], np.flatnonzero(side[1:] != side[:-1]) + 1, [off.size]))
        lengths = np.diff(starts)

        def run(i: int) -> Run:
            ends = off[starts[i]], off[starts[i + 1] - 1]
            return Run(bool(side[starts[i]]), int(lengths[i]), int(positions[ends[0]]), int(positions[ends[1]]))

        return InRows(
            whole.n, whole.n_rows, n_above, whole.n_below, lengths.size, run(0), run(lengths.size - 1),
            run(int(lengths.argmax())), whole.positions, whole.values,
        )  # fmt: skip

    def _outline(self, values: Floats) -> Ints:
        return outline(values, self.stretches) if values.size > 2 * self.stretches else np.arange(values.size)

    def merge(self, records: Sequence[InRows]) -> InRows:
        return reduce(_joined, records)


def outline(values: Floats, stretches: int) -> Ints:
    """The places of the least and the largest value of each stretch, ascending."""
    starts = np.linspace(0, values.size, stretches + 1).astype(np.int64)
    low = [int(a + values[a:b].argmin()) for a, b in pairwise(starts)]
    high = [int(a + values[a:b].argmax()) for a, b in pairwise(starts)]
    return np.unique(np.concatenate((low, high)))


def _joined(one: InRows, other: InRows) -> InRows:
    """Two stretches of rows, one behind the other: a run may go on from one into the other."""
    runs, first, last = one.runs + other.runs, one.first, other.last
    longest = [one.longest, other.longest]
    if not one.runs or not other.runs:
        first, last = (one.first, one.last) if one.runs else (other.first, other.last)
    elif one.last.above == other.first.above:
        through = Run(one.last.above, one.last.length + other.first.length, one.last.first, other.first.last)
        runs -= 1
        first, last = through if one.runs == 1 else first, through if other.runs == 1 else last
        longest.append(through)
    held = [run for run in longest if run.length]
    return InRows(
        one.n + other.n, one.n_rows + other.n_rows, one.n_above + other.n_above, one.n_below + other.n_below, runs,
        first, last, max(held, key=lambda run: (run.length, -run.first)) if held else NO_RUN,
        np.concatenate((one.positions, other.positions)), np.concatenate((one.values, other.values)),
    )  # fmt: skip
