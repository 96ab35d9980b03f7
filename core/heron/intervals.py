"""How surely numbers of one variable are known: percent points by order statistics, spread and shape by resampling."""

import math
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron import resampling
from heron.checks import Floats, as_values, choose, within
from heron.choices import displays
from heron.formatting import significant
from heron.limits import ranks_around
from heron.quantiles import quantile
from heron.results import Result
from heron.sensitivity import leave_one_out
from heron.summary import summarize

Resampled = Literal["sd", "cv", "skewness"]
RESAMPLED = displays({"sd": "SD", "cv": "coefficient of variation", "skewness": "skewness"})
MOST_VALUES = 10_000


@dataclass(frozen=True)
class Interval(Result):
    """A number with its limits; None with the reason where there are none. name: what it is; achieved: the confidence
    that order statistics have, at least `level`; None for resampling."""

    name: str
    estimate: float | None
    low: float | None
    high: float | None
    achieved: float | None
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def percent_point_interval(x: ArrayLike, percent: float, *, level: float = 0.95) -> Interval:
    """Return a percent point with limits that need no distribution.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    percent : float
        The share that lies below, from above 0 to below 100.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Interval
        The percent point by definition 7, and the two order statistics about it that hold it with at least the level;
        None where no two do.

    Raises
    ------
    InputError
        For infinite values, or a percent or level outside its range.

    Notes
    -----
    The number of values below the percent point is binomial; ends are taken as evenly as that allows.

    References
    ----------
    hahn-meeker-1991, section 5.2

    Examples
    --------
    Of 100 values the median lies between the 40th and the 61st with a confidence of 96.48 %:

    >>> interval = percent_point_interval(range(1, 101), 50)
    >>> interval.low, interval.high, round(interval.achieved, 4)
    (40.0, 61.0, 0.9648)
    """
    within(level, above=0, below=1, where="level")
    within(percent, above=0, below=100, where="percent")
    checked = as_values(x)
    ordered = np.sort(checked.values)
    n, missing = ordered.size, checked.length - ordered.size
    name = f"{significant(percent)} % point"
    if n == 0:
        return Interval(name, None, None, None, None, level, n, missing, {"estimate": "There is no value."})
    estimate = float(quantile(ordered, percent / 100))
    ranks = ranks_around(n, percent / 100, level)
    if ranks is None:
        why = f"No two of {n} values hold it with a confidence of {significant(100 * level)} %."
        return Interval(name, estimate, None, None, None, level, n, missing, {"low": why, "high": why})
    first, last, achieved = ranks
    return Interval(name, estimate, float(ordered[first]), float(ordered[last]), achieved, level, n, missing)


def resampled_interval(
    x: ArrayLike,
    statistic: Resampled,
    *,
    level: float = 0.95,
    true_zero: bool = True,
    seed: int = 20_243,
    progress: resampling.Progress | None = None,
) -> Interval:
    """Return a number of spread or shape with limits by resampling.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    statistic : {"sd", "cv", "skewness"}
        SD, coefficient of variation or skewness.
    level : float, optional
        Of the limits, between 0 and 1.
    true_zero : bool, optional
        Whether 0 means none, without which there is no coefficient of variation.
    seed : int, optional
        Of what is drawn at random.
    progress : callable, optional
        Told the share that is done, from 0 to 1; what it raises ends the work.

    Returns
    -------
    Interval
        Limits by 9,999 resamples, bias-corrected and accelerated; None for more than 10,000 values, and where there is
        no spread.

    Raises
    ------
    ChoiceError
        For a statistic that there is not.
    InputError
        For infinite values, or a level outside its range.

    References
    ----------
    efron-1987

    Examples
    --------
    >>> interval = resampled_interval([4.1, 5.0, 3.8, 6.2, 5.5, 4.7, 5.9, 4.4], "sd")
    >>> round(interval.estimate, 4)
    0.8602
    """
    choose(statistic, RESAMPLED, where="statistic")
    within(level, above=0, below=1, where="level")
    checked = as_values(x)
    values = checked.values
    n, missing = values.size, checked.length - values.size
    numbers = summarize(values, true_zero=true_zero)
    whole: float | None = getattr(numbers, statistic)
    name = RESAMPLED[statistic].label
    why = ""
    if whole is None:
        why = numbers.undefined.get(statistic, "There are too few values.")
    elif n > MOST_VALUES:
        why = f"Resampling is done for up to {MOST_VALUES} values; there are {n}."
    elif values.min() == values.max():
        why = "There is no spread."
    if why or whole is None:
        return Interval(name, whole, None, None, None, level, n, missing, {"low": why, "high": why})
    scale = 2.0 ** min(math.frexp(float(np.abs(values).max()))[1], 1_023)
    drawn = resampling.resampled(
        values / scale, _OF_BLOCKS[statistic], seed=seed, progress=progress or (lambda share: None)
    )
    times = scale if statistic == "sd" else 1.0
    ends = resampling.bca(whole / times, _without_each(values, statistic) / times, drawn[np.isfinite(drawn)], level)
    if ends is None:
        why = "Resamples do not tell how far it may be off."
        return Interval(name, whole, None, None, None, level, n, missing, {"low": why, "high": why})
    return Interval(name, whole, ends[0] * times, ends[1] * times, None, level, n, missing)


def _without_each(values: Floats, statistic: Resampled) -> Floats:
    if statistic == "cv":
        return leave_one_out(values, "sd").values / resampling.mean_without_each(values)
    return leave_one_out(values, statistic).values


def _sd(x: Floats) -> Floats:
    return np.asarray(x.std(axis=1, ddof=1))


def _cv(x: Floats) -> Floats:
    with np.errstate(all="ignore"):
        return np.asarray(x.std(axis=1, ddof=1) / x.mean(axis=1))


def _skewness(x: Floats) -> Floats:
    n = x.shape[1]
    off = x - x.mean(axis=1, keepdims=True)
    with np.errstate(all="ignore"):
        g1 = (off**3).mean(axis=1) / (off**2).mean(axis=1) ** 1.5
    return np.asarray(g1 * math.sqrt(n * (n - 1)) / (n - 2))


_OF_BLOCKS = {"sd": _sd, "cv": _cv, "skewness": _skewness}
