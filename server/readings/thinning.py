"""Fewer points for the screen: what is sent, by position, where there are too many to tell apart."""

import numpy as np
from heron.checks import Ints

MOST_POINTS = 20_000
MOST_QUANTILES = 1_200
_EACH_TAIL = 200
_SEED = 7_411


def points(n: int, always: Ints) -> Ints:
    """Positions of at most 20,000 of n points, drawn at random (the same each time), `always` among them."""
    if n <= MOST_POINTS:
        return np.arange(n)
    chosen = np.random.default_rng([_SEED, n]).choice(n, MOST_POINTS, replace=False)
    return np.unique(np.concatenate((chosen, always[: MOST_POINTS // 4])))


def quantiles(n: int) -> Ints:
    """Positions of at most 1,200 of n ordered points: all of both tails, and evenly between."""
    if n <= MOST_QUANTILES:
        return np.arange(n)
    middle = np.linspace(_EACH_TAIL, n - _EACH_TAIL - 1, MOST_QUANTILES - 2 * _EACH_TAIL).round().astype(np.int64)
    return np.unique(np.concatenate((np.arange(_EACH_TAIL), middle, np.arange(n - _EACH_TAIL, n))))
