"""Fewer points for the screen: what is sent where there are too many to tell apart."""

from collections.abc import Sequence
from itertools import pairwise

import numpy as np

from heron.checks import Floats, Ints

MOST_POINTS = 20_000
EACH_EXTREME = 10
MOST_SAMPLED = 200_000
MOST_POSITIONS = 400
_EACH_TAIL = 60
_SEED = 7_411


def points(rows: Ints, values: Floats) -> Ints:
    """At most 20,000 of some ascending row positions, drawn at random (the same each time), and the extremes.

    values: (rows.size,) the value of each; the 10 smallest and the 10 largest are always among the rows sent.
    """
    if rows.size <= MOST_POINTS:
        return rows
    chosen = np.zeros(rows.size, dtype=bool)
    chosen[np.random.default_rng([_SEED, rows.size]).choice(rows.size, MOST_POINTS, replace=False)] = True
    ends = np.argpartition(values, (EACH_EXTREME, rows.size - EACH_EXTREME))
    chosen[ends[:EACH_EXTREME]] = chosen[ends[-EACH_EXTREME:]] = True
    return rows[chosen]


def sample(bounds: Sequence[int]) -> Ints:
    """At most 200,000 row positions of a table in parts, drawn at random (the same each time), as many of each part as
    its share; ascending.

    bounds: where the parts begin, and where the last ends.
    """
    n = bounds[-1]
    result = []
    for number, (first, end) in enumerate(pairwise(bounds)):
        drawn = min(MOST_SAMPLED * (end - first) // max(n, 1), end - first)
        chosen = np.random.default_rng([_SEED, number, end - first]).choice(end - first, drawn, replace=False)
        result.append(np.sort(chosen) + first)
    return np.concatenate(result).astype(np.int64) if result else np.empty(0, dtype=np.int64)


def positions(n: int) -> Ints:
    """At most 400 positions in n ordered values: all of both tails, and evenly between."""
    if n <= MOST_POSITIONS:
        return np.arange(n)
    middle = np.linspace(_EACH_TAIL, n - _EACH_TAIL - 1, MOST_POSITIONS - 2 * _EACH_TAIL).round().astype(np.int64)
    return np.unique(np.concatenate((np.arange(_EACH_TAIL), middle, np.arange(n - _EACH_TAIL, n))))
