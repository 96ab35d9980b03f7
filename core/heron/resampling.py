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


def bca(values: Floats, statistic: Statistic, resampled_values: Floats, level: float) -> tuple[float, float] | None:
    """The bias-corrected and accelerated interval; None where it cannot be had, as without spread.

    resampled_values: the statistic of resamples. References: efron-1987.
    """
    n = values.size
    whole = float(statistic(values[None, :])[0])
    below = float(np.mean(resampled_values < whole) + np.mean(resampled_values == whole) / 2)
    left = statistic(_without_each(values)) if n <= 2_000 else _jackknifed(values, statistic)
    off = left.mean() - left
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
    low, high = np.quantile(resampled_values, ends)
    return float(low), float(high)


def _without_each(values: Floats) -> Floats:
    n = values.size
    keep = ~np.eye(n, dtype=bool)
    return np.broadcast_to(values, (n, n))[keep].reshape(n, n - 1)


def _jackknifed(values: Floats, statistic: Statistic) -> Floats:
    """The statistic without each of 40 blocks of values: of many values a block tells as much as a row."""
    order = np.random.default_rng(values.size).permutation(values.size)
    return np.array([statistic(np.delete(values, part)[None, :])[0] for part in np.array_split(order, 40)])
