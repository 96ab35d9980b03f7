"""Fewer points for the screen: what is sent where there are too many to tell apart."""

import numpy as np
from heron.checks import Ints

MOST_POINTS = 20_000
MOST_POSITIONS = 400
_EACH_TAIL = 60
_SEED = 7_411


def points(rows: Ints, always: Ints) -> Ints:
    """At most 20,000 of some ascending row positions, drawn at random (the same each time), `always` among them."""
    if rows.size <= MOST_POINTS:
        return rows
    chosen = np.zeros(rows[-1] + 1, dtype=bool)
    chosen[np.random.default_rng([_SEED, rows.size]).choice(rows, MOST_POINTS, replace=False)] = True
    chosen[always[: MOST_POINTS // 4]] = True
    return np.flatnonzero(chosen)


def positions(n: int) -> Ints:
    """At most 400 positions in n ordered values: all of both tails, and evenly between."""
    if n <= MOST_POSITIONS:
        return np.arange(n)
    middle = np.linspace(_EACH_TAIL, n - _EACH_TAIL - 1, MOST_POSITIONS - 2 * _EACH_TAIL).round().astype(np.int64)
    return np.unique(np.concatenate((np.arange(_EACH_TAIL), middle, np.arange(n - _EACH_TAIL, n))))
