"""How far two groups lie apart by the order of their values."""

import math
from collections.abc import Callable, Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron import resampling
from heron.checks import Floats
from heron.differences.two import Estimate, no_effect, two_groups
from heron.grouping import By


def cliffs_delta(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
) -> Estimate:
    """Return how much more often a value of the first group lies above one of the second than below.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; rows of no group take no part.
    order : sequence of 2 labels, optional
        Which group is the first; by default as their labels bring it, or sort.
    unit : (n_rows,) labels, optional
        What each row is of: the groups are then compared pair by pair, over the units that both have, each by its mean
        in a group.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Estimate
        From -1 to 1, with limits that are not alike on both sides.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150. For pairs,
        of which it is not.

    Notes
    -----
    Limits are Feng and Cliff's, from the variance of each value's own dominance; at -1 and 1, where it is 0, those
    with one pair of values the other way round.

    References
    ----------
    feng-cliff-2004

    Examples
    --------
    >>> cliffs_delta([3.0, 4.0, 1.0, 3.0], list("aabb")).estimate
    0.75
    """
    if unit is not None:
        raise no_effect("It is for groups that are not paired.")
    two = two_groups(values, by, order, None, level)
    x, y = two.x, two.y
    apart = float(x.min() > y.max()) - float(y.min() > x.max())
    if apart:
        # No pair lies the other way round, so that the variance is 0: the limits are those with one such pair.
        x, y = np.full(x.size, apart), np.full(y.size, -apart)
        x[0], y[0] = -apart / 3, apart / 3
    delta, low, high = _dominance(x, y, level)
    return two.estimate(apart or delta, -1.0 if apart < 0 else low, 1.0 if apart > 0 else high)


def _dominance(x: Floats, y: Floats, level: float) -> tuple[float, float, float]:
    """Cliff's delta and Feng and Cliff's limits, from the variances of each value's own dominance."""
    n, m = x.size, y.size
    # Counted in sorted order.
    sorted_x, sorted_y = np.sort(x), np.sort(y)
    below = np.searchsorted(sorted_y, x, side="left")
    not_above = np.searchsorted(sorted_y, x, side="right")
    own_x = (below - (m - not_above)) / m
    own_y = (n - np.searchsorted(sorted_x, y, side="right") - np.searchsorted(sorted_x, y, side="left")) / n
    delta = float(own_x.mean())
    ties = float((not_above - below).sum())
    across = (n * m - ties) - n * m * delta**2
    numerator = m**2 * float(np.sum((own_x - delta) ** 2)) + n**2 * float(np.sum((own_y - delta) ** 2)) - across
    variance = max(numerator / (n * m * (n - 1) * (m - 1)), (1 - delta**2) / (n * m - 1))
    z = float(special.ndtri(0.5 + level / 2))
    spread = z * math.sqrt(variance) * math.sqrt((1 - delta**2) ** 2 + z**2 * variance)
    under = 1 - delta**2 + z**2 * variance
    middle = delta - delta**3
    return delta, max((middle - spread) / under, -1.0), min((middle + spread) / under, 1.0)


def median_difference(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
    seed: int = 20_240,
    progress: resampling.Progress | None = None,
) -> Estimate:
    """Return the difference of the medians, in the unit of the data.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; rows of no group take no part.
    order : sequence of 2 labels, optional
        Which group is the first; by default as their labels bring it, or sort.
    unit : (n_rows,) labels, optional
        What each row is of: the groups are then compared pair by pair, over the units that both have, each by its mean
        in a group.
    level : float, optional
        Of the limits, between 0 and 1.
    seed : int, optional
        Of what is drawn at random.
    progress : callable, optional
        Told the share that is done, from 0 to 1; what it raises ends the work.

    Returns
    -------
    Estimate
        Of the first group from the second, with limits; of pairs, the median of their differences.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150. For more
        than 50,000 values in a group.

    Notes
    -----
    Limits are percentiles of 9,999 seeded resamples of each group, or of the pairs.

    References
    ----------
    efron-tibshirani-1993

    Examples
    --------
    >>> median_difference([5.0, 6.0, 7.0, 1.0, 2.0, 3.0], list("aaabbb")).estimate
    4.0
    """
    two = two_groups(values, by, order, unit, level)
    samples: list[Floats] = [two.x - two.y] if two.paired else [two.x, two.y]

    def told(share: float, done: int) -> None:
        if progress is not None:
            progress((done + share) / len(samples))

    parts = [
        resampling.resampled(sample, _medians, seed=seed + i, progress=lambda share, i=i: told(share, i))  # type: ignore[misc]
        for i, sample in enumerate(samples)
    ]
    low, high = resampling.percentile(parts[0] if two.paired else parts[0] - parts[1], level)
    middle = float(np.median(samples[0])) - (0.0 if two.paired else float(np.median(samples[1])))
    return two.estimate(middle, low, high)


def _medians(block: Floats) -> Floats:
    return np.asarray(np.median(block, axis=1), dtype=np.float64)


EXACT = 50  # values of a group, or pairs, up to which ranks without ties are counted out
_MOST_LAID_OUT = 4_000_000  # differences that are sorted; more are counted


def shift(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
) -> Estimate:
    """Return by how much one group is shifted against another: the median of the differences of their values.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; rows of no group take no part.
    order : sequence of 2 labels, optional
        Which group is the first; by default as their labels bring it, or sort.
    unit : (n_rows,) labels, optional
        What each row is of: the groups are then compared pair by pair, over the units that both have, each by its mean
        in a group.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Estimate
        Hodges and Lehmann's shift of the first group against the second, in the unit of the data, with limits, and
        the p value of Mann and Whitney's test; of pairs, the median of the means of any two of their differences, with
        the p value of Wilcoxon's signed ranks. Limits are None where so few values cannot hold the level.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150.

    Notes
    -----
    Limits are the differences, in order, between which the rank statistic would not tell the groups apart. Counted out
    for up to 50 values in each group, or 50 pairs, without ties; else by the normal distribution, ties taken out of the
    variance, and half a step towards the middle. Pairs without a difference take no part in the p value.

    References
    ----------
    hodges-lehmann-1963
    mann-whitney-1947
    wilcoxon-1945
    hollander-wolfe-1999, for the limits

    Examples
    --------
    Permeability of ten membranes at term and of five before it:

    >>> term = [0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46]
    >>> result = shift([*term, 1.15, 0.88, 0.90, 0.74, 1.21], ["term"] * 10 + ["early"] * 5, order=["term", "early"])
    >>> round(result.estimate, 3), round(result.p_value, 4)
    (0.305, 0.2544)
    """
    two = two_groups(values, by, order, unit, level)
    if two.paired:
        return two.estimate(*_signed(np.sort(two.x - two.y), level))
    return two.estimate(*_ranked(np.sort(two.x), np.sort(two.y), level))


_Found = tuple[float, float | None, float | None, float | None]


def _ranked(x: Floats, y: Floats, level: float) -> _Found:
    """Of two sorted groups, by Mann and Whitney's U, which counts the differences above 0."""
    n, m = x.size, y.size
    below, not_above = np.searchsorted(y, x, side="left"), np.searchsorted(y, x, side="right")
    u = float((below + not_above).sum()) / 2
    tied = _ties(np.concatenate((x, y)))
    exact = tied == 0 and max(n, m) <= EXACT
    ways = _ways_of_ranks(n, m) if exact else None
    variance = n * m / 12 * (n + m + 1 - tied / ((n + m) * (n + m - 1)))
    p = _two_sided(u, n * m, variance, ways)
    if n * m <= _MOST_LAID_OUT:
        laid_out = np.sort(np.subtract.outer(x, y), axis=None)
        return _shifted(lambda k: float(laid_out[k - 1]), n * m, p, variance, ways, level)

    def counted(t: float) -> int:
        """How many differences are t or less."""
        return n * m - int(np.searchsorted(y, x - t, side="left").sum())

    ends = float(x[0] - y[-1]), float(x[-1] - y[0])
    return _shifted(lambda k: _in_place(k, counted, *ends), n * m, p, variance, ways, level)


def _signed(off: Floats, level: float) -> _Found:
    """Of sorted differences of pairs, by the sum of the ranks of those above 0."""
    n = off.size
    total = n * (n + 1) // 2
    given = off[off != 0]
    sizes = np.abs(given)
    tied = _ties(sizes)
    exact = tied == 0 and given.size == n and n <= EXACT
    ways = _ways_of_signs(n) if exact else None
    k = given.size
    p = None
    if k:
        positive = float(stats.rankdata(sizes)[given > 0].sum())
        p = _two_sided(positive, k * (k + 1) / 2, k * (k + 1) * (2 * k + 1) / 24 - tied / 48, ways)
    variance = n * (n + 1) * (2 * n + 1) / 24 - _ties(np.abs(off)) / 48
    if total <= _MOST_LAID_OUT:
        rows, columns = np.triu_indices(n)
        laid_out = np.sort(off[rows] / 2 + off[columns] / 2)
        return _shifted(lambda rank: float(laid_out[rank - 1]), total, p, variance, ways, level)

    def counted(t: float) -> int:
        """How many means of two differences are t or less, each with itself once."""
        both = int(np.searchsorted(off, 2 * t - off, side="right").sum())
        return (both + int(np.count_nonzero(off <= t))) // 2

    return _shifted(
        lambda rank: _in_place(rank, counted, float(off[0]), float(off[-1])), total, p, variance, ways, level
    )


def _shifted(
    value: Callable[[int], float], total: int, p: float | None, variance: float, ways: Floats | None, level: float
) -> _Found:
    """The median of so many differences, of which `value` gives the k-th from 1, and the two that hold the level."""
    middle = value((total + 1) // 2) / 2 + value(total // 2 + 1) / 2
    if ways is not None:
        below = np.cumsum(ways)
        k = int(np.searchsorted(below, (1 - level) / 2 * (1 + 1e-12), side="right"))  # P(statistic < k) fits
    else:
        z = float(special.ndtri(0.5 + level / 2))
        k = math.floor(total / 2 - z * math.sqrt(max(variance, 0.0)))
    if k < 1 or variance <= 0:
        return middle, None, None, p
    return middle, value(k), value(total + 1 - k), p


def _two_sided(statistic: float, most: float, variance: float, ways: Floats | None) -> float | None:
    """How often the statistic, from 0 to the most, lies as far from its middle, where nothing differs."""
    if ways is not None:
        low = min(statistic, most - statistic)
        return min(2 * float(ways[: int(low) + 1].sum()), 1.0)
    if variance <= 0:
        return None
    off = max(abs(statistic - most / 2) - 0.5, 0.0)
    return 2 * float(special.ndtr(-off / math.sqrt(variance)))


def _ties(values: Floats) -> float:
    """What ties take: the sum of t^3 - t over runs of t equal values."""
    counts = np.unique(values, return_counts=True)[1].astype(np.float64)
    return float(np.sum(counts**3 - counts))


@lru_cache(maxsize=32)
def _ways_of_ranks(n: int, m: int) -> Floats:
    """(n m + 1,) how often each U comes up among all orders of n and m values."""
    ways = np.zeros((n + 1, n * m + 1))
    ways[0, 0] = 1.0  # of i values of the first group, each above j of the second
    for j in range(m + 1):
        for i in range(1, n + 1):
            ways[i, j:] += ways[i - 1, : n * m + 1 - j]
    return np.asarray(ways[n] / ways[n].sum())


@lru_cache(maxsize=32)
def _ways_of_signs(n: int) -> Floats:
    """(n (n + 1)/2 + 1,) how often each sum of positive ranks comes up among all signs."""
    ways = np.zeros(n * (n + 1) // 2 + 1)
    ways[0] = 1.0
    for rank in range(1, n + 1):
        ways[rank:] = ways[rank:] / 2 + ways[: ways.size - rank] / 2
        ways[:rank] /= 2
    return ways


def _in_place(k: int, counted: Callable[[float], int], low: float, high: float) -> float:
    """The k-th smallest of differences from low to high that are too many to be laid out, by halving what is left."""
    for _ in range(200):
        middle = low / 2 + high / 2
        if not low < middle < high:
            break
        low, high = (low, middle) if counted(middle) >= k else (middle, high)
    return high
