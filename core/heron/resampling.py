"""Bootstrap intervals, by seeded resamples in blocks."""

from collections.abc import Callable

import numpy as np
from scipy import special

from heron.checks import Floats
from heron.errors import InputError

RESAMPLES = 9_999
MOST_VALUES = 50_000
_BLOCK = 4_000_000  # numbers drawn at a time
Statistic = Callable[[Floats], Floats]
Progress = Callable[[float], None]


def _unheard(share: float) -> None:
    """Nobody asks how far it is."""


def resampled(
    values: Floats, statistic: Statistic, *, seed: int, resamples: int = RESAMPLES, progress: Progress = _unheard
) -> Floats:
    """A statistic of resamples of the values. statistic takes (n_resamples, n) and gives (n_resamples,); progress is
    told the share that is done after each block, and may raise to end it."""
    n = values.size
    if n > MOST_VALUES:
        raise InputError(
            "too-many-values",
            f"Resampling is done for up to {MOST_VALUES} values; a group has {n}.",
            where="bars",
            remedy="Of so many values the t interval is as good.",
        )
    rng = np.random.default_rng(seed)
    rows = max(1, _BLOCK // max(n, 1))
    parts = []
    for start in range(0, resamples, rows):
        parts.append(statistic(values[rng.integers(0, n, (min(rows, resamples - start), n))]))
        progress(min((start + rows) / resamples, 1.0))
    return np.concatenate(parts)


def percentile(resampled_values: Floats, level: float) -> tuple[float, float]:
    """The interval between the percent points of resampled statistics."""
    low, high = np.quantile(resampled_values, [(1 - level) / 2, (1 + level) / 2])
    return float(low), float(high)


def bca(whole: float, without_each: Floats, resampled_values: Floats, level: float) -> tuple[float, float] | None:
    """The bias-corrected and accelerated interval; None where it cannot be had, as without spread.

    whole: the statistic of the values; without_each: (n,) that without each of them, from which the acceleration comes;
    resampled_values: that of resamples. References: efron-1987.
    """
    below = float(np.mean(resampled_values < whole) + np.mean(resampled_values == whole) / 2)
    off = without_each.mean() - without_each
    largest = float(np.abs(off).max())
    if not 0 < below < 1 or largest == 0:
        return None
    off = off / largest  # its unit falls out, so that no power of it overflows
    size = float(np.sum(off**2))
    bias = float(special.ndtri(below))
    acceleration = float(np.sum(off**3)) / (6 * size**1.5)
    ends = []
    for share in ((1 - level) / 2, (1 + level) / 2):
        z = bias + float(special.ndtri(share))
        ends.append(float(special.ndtr(bias + z / (1 - acceleration * z))))
    if not np.isfinite(ends).all():
        return None
    low, high = np.quantile(resampled_values, ends)
    return float(low), float(high)


def mean_without_each(values: Floats) -> Floats:
    """(n,) the mean without each value."""
    mean = float(values.mean())
    return mean + (mean - values) / (values.size - 1)


def trimmed_without_each(values: Floats, cut: int) -> Floats:
    """(n,) the mean of what is left without each value, so many of the rest being cut at each end."""
    order = np.argsort(values, kind="stable")
    ordered, n = values[order], values.size
    middle = float(ordered[n // 2])
    sums = np.concatenate(([0.0], np.cumsum(ordered - middle)))
    i = np.arange(n)
    # Of the rest, those from `cut` to n - 1 - cut are averaged: a value that is taken out below moves them up by one.
    inner = sums[n - cut] - sums[cut] - (ordered - middle)
    below, above = sums[n - cut] - sums[cut + 1], sums[n - 1 - cut] - sums[cut]
    result = np.empty(n)
    result[order] = middle + np.where(i < cut, below, np.where(i >= n - cut, above, inner)) / (n - 1 - 2 * cut)
    return result


def sd_without_each(values: Floats) -> Floats:
    """(n,) the SD without each value."""
    off = values - values.mean()
    squares = float(np.dot(off, off)) - off**2 * values.size / (values.size - 1)
    return np.asarray(np.sqrt(np.maximum(squares, 0) / (values.size - 2)))
