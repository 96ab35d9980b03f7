"""Row numbers in runs: (first, last), from 1, both ends belong; so that any number of rows costs what it says."""

from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Sequence
from itertools import chain, islice

import numpy as np

from heron.checks import Ints

Runs = tuple[tuple[int, int], ...]
Moves = Sequence[Sequence[int]]


def to_runs(rows: Iterable[int]) -> Runs:
    """Row numbers as runs, ascending and without repeats: 4, 5, 6, 9 are (4, 6), (9, 9)."""
    ordered = np.unique(np.fromiter(rows, dtype=np.int64))
    if ordered.size == 0:
        return ()
    breaks = np.flatnonzero(np.diff(ordered) > 1)
    starts = ordered[np.concatenate(([0], breaks + 1))]
    ends = ordered[np.concatenate((breaks, [ordered.size - 1]))]
    return tuple((int(a), int(b)) for a, b in zip(starts, ends, strict=True))


def from_runs(runs: Iterable[Sequence[int]]) -> Ints:
    """The row numbers that runs hold, ascending; as many in memory as there are."""
    parts = [np.arange(first, last + 1, dtype=np.int64) for first, last in joined(runs)]
    return np.concatenate(parts) if parts else np.empty(0, dtype=np.int64)


def as_text(runs: Runs) -> str:
    """Runs in few characters: "4-6 9-9" for (4, 6), (9, 9)."""
    return " ".join([f"{first}-{last}" for first, last in runs])


def from_text(text: str) -> Runs:
    """The runs that `as_text` wrote."""
    ends = map(int, text.replace("-", " ").split())
    return tuple(zip(ends, ends, strict=True))


def joined(runs: Iterable[Sequence[int]]) -> Runs:
    """The same rows in runs that neither overlap nor touch, ascending; a run that ends before it begins holds none."""
    result: list[tuple[int, int]] = []
    for first, last in sorted((first, last) for first, last in runs if first <= last):
        if result and first <= result[-1][1] + 1:
            result[-1] = (result[-1][0], max(result[-1][1], last))
        else:
            result.append((first, last))
    return tuple(result)


def without(runs: Iterable[Sequence[int]], others: Iterable[Sequence[int]]) -> Runs:
    """The rows of runs that others do not hold."""
    held = joined(others)
    ends = [last for _, last in held]
    result: list[tuple[int, int]] = []
    for first, last in joined(runs):
        for gone, until in held[bisect_left(ends, first) :]:
            if gone > last:
                break
            if first < gone:
                result.append((first, gone - 1))
            first = until + 1
        if first <= last:
            result.append((first, last))
    return tuple(result)


def up_to(runs: Iterable[Sequence[int]], end: int) -> Runs:
    """The rows of runs that are not beyond an end."""
    return tuple((first, min(last, end)) for first, last in joined(runs) if first <= end)


def renumbered(runs: Runs, first: int, last: int) -> Runs:
    """The rows of ascending runs from one row to another, numbered from 1 again."""
    begin = bisect_left(runs, first, key=lambda run: run[1])
    end = bisect_right(runs, last, key=lambda run: run[0])
    return tuple((max(a, first) - first + 1, min(b, last) - first + 1) for a, b in runs[begin:end])


def n_rows_of(runs: Iterable[Sequence[int]]) -> int:
    """How many rows runs hold, each counted once."""
    return sum(last - first + 1 for first, last in joined(runs))


def first_rows(runs: Iterable[Sequence[int]], most: int) -> list[int]:
    """The lowest row numbers that runs hold, at most so many."""
    return list(islice(chain.from_iterable(range(first, last + 1) for first, last in joined(runs)), most))


def moved(runs: Iterable[Sequence[int]], moves: Moves) -> Runs:
    """Rows under their new numbering; those that no move names are gone.

    Parameters: moves, as (first, last, new first), of rows that no two of them share.
    """
    ordered = sorted((first, last, new) for first, last, new in moves)
    ends = [last for _, last, _ in ordered]
    result: list[tuple[int, int]] = []
    for first, last in joined(runs):
        for start, end, new in islice(ordered, bisect_left(ends, first), None):
            if start > last:
                break
            result.append((max(first, start) - start + new, min(last, end) - start + new))
    return joined(result)


def moves_between(before: Ints, after: Ints) -> tuple[tuple[int, int, int], ...]:
    """How rows are numbered anew when each is known by a key of its own: (first, last, new first), row numbers from 1.

    before, after: (n_before,), (n_after,) the keys, unlike within each.
    """
    _, old, new = np.intersect1d(before, after, assume_unique=True, return_indices=True)
    order = np.argsort(old)
    old, new = old[order], new[order]
    if old.size == 0:
        return ()
    breaks = np.flatnonzero((np.diff(old) != 1) | (np.diff(new) != 1)) + 1
    starts = np.concatenate(([0], breaks))
    ends = np.concatenate((breaks, [old.size])) - 1
    return tuple((int(old[a]) + 1, int(old[b]) + 1, int(new[a]) + 1) for a, b in zip(starts, ends, strict=True))
