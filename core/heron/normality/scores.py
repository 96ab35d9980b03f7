"""What is expected of ordered normal values."""

from functools import lru_cache

import numpy as np
from scipy import special

from heron.checks import Floats, Ints


@lru_cache(maxsize=16)
def blom_scores(n: int) -> Floats:
    """Return the (n,) standard normal scores expected of ordered values, by Blom's positions."""
    scores = np.asarray(special.ndtri((np.arange(1, n + 1) - 0.375) / (n + 0.25)), dtype=np.float64)
    scores.setflags(write=False)
    return scores


def blom_score(ranks: Ints, n: int) -> Floats:
    """The normal scores of some ranks, from 0, among n values."""
    return np.asarray(special.ndtri((ranks + 0.625) / (n + 0.25)), dtype=np.float64)
