"""Values of which some are only known to lie below a limit: what can be said of all of them."""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, same_length
from heron.errors import InputError
from heron.formatting import counted, fixed, significant
from heron.least_squares import simple, unfit
from heron.results import Result

_FEWEST = 3  # values above their limits
_MOST_BELOW = 0.8  # of all values, beyond which little is known of them
_LARGEST = 1e150


@dataclass(frozen=True)
class Moments:
    """Of all values by one way. advised: whether it is more than a comparison; None with the reason where it has
    none."""

    name: str
    mean: float | None
    sd: float | None
    median: float | None
    advised: bool
    why: str = ""


@dataclass(frozen=True)
class BelowDetection(Result, rows="ways"):
    """What is said of values of which n_below are only known to lie below a limit. ways: by Kaplan and Meier, by
    regression on order statistics, and, for comparison, by numbers put in their place."""

    ways: tuple[Moments, ...]
    n: int
    n_below: int
    n_limits: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def below_detection(x: ArrayLike, limits: ArrayLike) -> BelowDetection:
    """Return mean, SD and median of values of which some lie below a limit of detection.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN where missing or below a limit.
    limits : (n_rows,) array_like of float
        The limit below which a value lies, NaN where it is known or missing.

    Returns
    -------
    BelowDetection
        By Kaplan and Meier's estimate, turned round; by regression on order statistics, log-normal; and with the limit,
        half of it or 0 in the place of each.

    Raises
    ------
    InputError
        For columns of different lengths, or infinite values.

    Notes
    -----
    Kaplan and Meier: from the largest value down, each keeps its share of those that are or may be as low; what is left
    below the lowest value known stands at the lowest limit, so that the mean is then at most so large. The SD is that
    of this distribution times sqrt(n/(n - 1)). Regression: the logs of known values on normal scores of their plotting
    positions, which count what lies below each limit; those below are taken from the line.

    References
    ----------
    kaplan-meier-1958
    helsel-cohn-1988
    helsel-2012

    Examples
    --------
    >>> result = below_detection([0.5, 0.7, 1.5, 2.8, float("nan")], [float("nan")] * 4 + [1.0])
    >>> result.n_below, round(result.ways[0].mean, 3)
    (1, 1.22)
    """
    values, lowest = np.asarray(x, dtype=np.float64), np.asarray(limits, dtype=np.float64)
    same_length(values.size, lowest.size, where="limits")
    if np.isinf(values).any() or np.isinf(lowest).any():
        raise InputError("infinite", "Values and limits must be numbers.", where="x")
    below = ~np.isnan(lowest)
    known = ~np.isnan(values) & ~below
    detected, under = np.sort(values[known]), np.sort(lowest[below])
    n = detected.size + under.size
    why = ""
    if under.size == 0:
        why = "No value lies below a limit."
    elif detected.size < _FEWEST:
        why = f"It needs {_FEWEST} values above their limits; there are {detected.size}."
    elif max(float(np.abs(detected).max()), float(np.abs(under).max())) > _LARGEST:
        why = f"Values beyond {significant(_LARGEST)} cannot be squared."
    told = (n, int(under.size), int(np.unique(under).size), values.size - n)
    if why:
        return BelowDetection((), *told, {"ways": why})
    ways = [_kaplan_meier(detected, under), _regressed(detected, under)]
    for name, times in (("the limit itself", 1.0), ("half the limit", 0.5), ("0", 0.0)):
        whole = np.concatenate((detected, times * under))
        ways.append(Moments(name, *_moments(whole), advised=False))
    undefined = {}
    if under.size > _MOST_BELOW * n:
        undefined["ways"] = f"{fixed(100 * under.size / n, 0)} % lie below a limit: take all of this for rough."
    return BelowDetection(tuple(ways), *told, undefined)


def _moments(x: Floats) -> tuple[float, float, float]:
    return float(x.mean()), float(x.std(ddof=1)), float(np.median(x))


def _kaplan_meier(detected: Floats, under: Floats) -> Moments:
    at, counts = np.unique(detected, return_counts=True)
    # As low as a value, or perhaps so: what is known to be, and what lies below a limit of it or less.
    as_low = np.searchsorted(detected, at, side="right") + np.searchsorted(under, at, side="right")
    kept = np.cumprod((1 - counts / as_low)[::-1])[::-1]  # the share below each value
    above = np.append(kept[1:], 1.0)
    shares = above - kept
    left = float(kept[0])
    if left > 1e-12:
        at, shares = np.append(min(float(under[0]), float(at[0])), at), np.append(left, shares)
    n = detected.size + under.size
    mean = float(np.dot(shares, at))
    sd = math.sqrt(float(np.dot(shares, (at - mean) ** 2)) * n / (n - 1))
    middle = int(np.searchsorted(np.cumsum(shares), 0.5 - 1e-12))
    name = "Kaplan-Meier"
    median = None if left >= 0.5 else float(at[min(middle, at.size - 1)])
    why = "More than half lie below the lowest value known." if median is None else ""
    return Moments(name, mean, sd, median, advised=True, why=why)


def _regressed(detected: Floats, under: Floats) -> Moments:
    name = "log-normal regression"
    if float(detected[0]) <= 0 or float(under[0]) <= 0:
        return Moments(name, None, None, None, advised=True, why="It needs values and limits above 0.")
    scores, scores_under = _scores(detected, under)
    logs = np.log(detected)
    lack = unfit(scores, logs)
    if lack:
        return Moments(name, None, None, None, advised=True, why=lack)
    line = simple(scores, logs)
    return Moments(
        name, *_moments(np.concatenate((detected, np.exp(line.intercept + line.slope * scores_under)))), True
    )


def _scores(detected: Floats, under: Floats) -> tuple[Floats, Floats]:
    """Normal scores of the plotting positions of values known, and of those below a limit."""
    limits, below_here = np.unique(under, return_counts=True)
    if limits[0] > detected[0]:
        limits, below_here = np.append(-np.inf, limits), np.append(0, below_here)
    edges = np.append(limits, np.inf)
    start, end = (np.searchsorted(detected, ends, side="left") for ends in (edges[:-1], edges[1:]))
    known = end - start
    lower = start + np.searchsorted(under, limits, side="right")  # known below the limit, or below one of it or less
    exceeding = np.zeros(limits.size + 1)
    for i in range(limits.size - 1, -1, -1):
        both = known[i] + lower[i]
        exceeding[i] = exceeding[i + 1] + (known[i] / both if both else 0.0) * (1 - exceeding[i + 1])
    of_known, others = [], []
    for i in range(limits.size):
        share = np.arange(1, known[i] + 1) / (known[i] + 1)
        of_known.append(1 - exceeding[i] + share * (exceeding[i] - exceeding[i + 1]))
        others.append(np.arange(1, below_here[i] + 1) / (below_here[i] + 1) * (1 - exceeding[i]))
    return special.ndtri(np.concatenate(of_known)), special.ndtri(np.concatenate(others))


def words_on_detection(result: BelowDetection) -> tuple[str, ...]:
    """Sentences on values below a limit."""
    said = [
        f"{counted(result.n_below, 'value')} of {result.n} {'lies' if result.n_below == 1 else 'lie'} below "
        f"{'a limit' if result.n_limits == 1 else f'one of {result.n_limits} limits'}."
    ]
    if result.ways:
        said.append(
            "With numbers in their place (the limit, half of it, 0) for comparison alone: those were not measured."
        )
    return (*said, *result.undefined.values())
