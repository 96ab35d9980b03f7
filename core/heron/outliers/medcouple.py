"""The medcouple, a measure of skewness that a few far values cannot move."""

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, as_values

_ENUMERATED = 2_000_000  # pairs that are looked at one by one in the end


def medcouple(x: ArrayLike) -> float | None:
    """Return the medcouple: the median of ((b - m) - (m - a))/(b - a) over all pairs a <= m <= b, m the median.

    Parameters: x (n_rows,) floats, NaN for missing. Returns: from -1 to 1, 0 for a symmetric sample; None for no value.
    Notes: pairs of values that equal the median count as 1, 0 and -1, as the source has it. The number of pairs above
    a bound follows from one sorted search, so that the median is closed in on by halving, n log n each, and only the
    last pairs are written out.
    References: brys-2004.
    """
    values = np.sort(as_values(x).values)
    if values.size == 0:
        return None
    half = values / 2  # so that no difference overflows
    middle = values.size // 2
    median = half[middle] if values.size % 2 else half[middle - 1] / 2 + half[middle] / 2
    above = half[half > median] - median
    below = median - half[half < median]
    below.sort()
    ties = int(np.count_nonzero(half == median))
    ones = above.size * ties + ties * (ties - 1) // 2
    minus_ones = below.size * ties + ties * (ties - 1) // 2
    total = (above.size + ties) * (below.size + ties)
    ranks = [(total - 1) // 2, total // 2]  # from 0, ascending
    inner = above.size * below.size
    result = [
        -1.0
        if rank < minus_ones
        else _kth(above, below, rank - minus_ones, inner, ties)
        if rank < total - ones
        else 1.0
        for rank in ranks
    ]
    return float(sum(result) / 2)


def _kth(above: Floats, below: Floats, rank: int, inner: int, zeros: int) -> float:
    """The value of that rank, ascending from 0, among the pairs off the median and `zeros` noughts."""
    low, high = -1.0, 1.0
    n_low = 0  # pairs at or below `low`

    def at_most(t: float) -> int:
        # (a - b)/(a + b) <= t where b >= a (1 - t)/(1 + t).
        limit = above * ((1 - t) / (1 + t)) if t > -1 else np.full(above.size, np.inf)
        pairs = inner - int(np.searchsorted(below, limit, side="left").sum())
        return pairs + (zeros if t >= 0 else 0)

    n_high = inner + zeros
    while n_high - n_low > _ENUMERATED:
        middle = low / 2 + high / 2
        if middle in (low, high):
            return high  # all that is left between them is one value
        n_middle = at_most(middle)
        if n_middle > rank:
            high, n_high = middle, n_middle
        else:
            low, n_low = middle, n_middle
    # a/(1 + h) is monotone: for each value above, the pairs in (low, high] are a run of those below.
    start = np.searchsorted(below, above * ((1 - high) / (1 + high)), side="left")
    stop = np.searchsorted(below, above * ((1 - low) / (1 + low)), side="left") if low > -1 else below.size
    counts = np.broadcast_to(np.asarray(stop), start.shape) - start
    a = np.repeat(above, counts)
    within = np.arange(a.size) - np.repeat(np.cumsum(counts) - counts, counts)
    b = below[np.repeat(start, counts) + within]
    pairs = (a - b) / (a + b)
    if low < 0 <= high:
        pairs = np.concatenate((pairs, np.zeros(zeros)))
    index = min(max(rank - n_low, 0), pairs.size - 1)
    return float(np.partition(pairs, index)[index])
