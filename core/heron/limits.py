"""Shares beyond specification limits, and limits that hold a share of a population."""

from dataclasses import dataclass, field, fields, replace
from typing import Any, Literal, TypeVar

import numpy as np
from numpy.typing import ArrayLike
from scipy import optimize, special, stats

from heron.checks import TOO_LARGE_TO_WRITE, as_values, choose, within
from heron.formatting import percent
from heron.moments import safe_unit
from heron.ordered import InOrder, Ordered, ends, mean_and_sd, sd_of
from heron.results import Result

Method = Literal["normal", "distribution-free"]
METHODS: tuple[Method, ...] = ("normal", "distribution-free")


@dataclass(frozen=True)
class Beyond:
    """How many of n values lie strictly beyond specification limits, and the shares from 0 to 1 that would under the
    normal distribution of the same mean and SD (None without spread). None on a side without a limit."""

    n: int
    n_below: int | None
    n_above: int | None
    normal_below: float | None
    normal_above: float | None


@dataclass(frozen=True)
class Tolerance(Result):
    """Limits that hold at least `share` of the population, with confidence `level`; None where there are none, with
    the reason. achieved: the exact confidence of order statistics."""

    low: float | None
    high: float | None
    share: float
    level: float
    achieved: float | None
    method: Method
    n: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Reference(Result):
    """The values between which the middle 95 % of the population lie, each with its own interval at `level`; None
    where there are none, with the reason."""

    low: float | None
    low_from: float | None
    low_to: float | None
    high: float | None
    high_from: float | None
    high_to: float | None
    level: float
    method: Method
    n: int
    undefined: dict[str, str] = field(default_factory=dict)


def beyond(x: ArrayLike, *, lower: float | None = None, upper: float | None = None) -> Beyond:
    """Return how many values lie beyond specification limits, observed and under the fitted normal distribution.

    Parameters: x (n_rows,) floats, NaN for missing; lower, upper in the unit of x, None for no limit on that side.
    """
    return beyond_of_ordered(InOrder(np.sort(as_values(x).values)), lower=lower, upper=upper)


def beyond_of_ordered(values: Ordered, *, lower: float | None, upper: float | None) -> Beyond:
    """How many of values that are known by their order lie beyond limits, as `beyond` says."""
    n = values.size
    below = above = None
    if n > 1:
        low, high = ends(values)
        if low < high:
            moments = values.moments(safe_unit(max(abs(low), abs(high))))
            mean, sd = moments.mean * moments.unit, sd_of(values)
            below = None if lower is None else float(special.ndtr((lower - mean) / sd))
            above = None if upper is None else float(special.ndtr((mean - upper) / sd))
    return Beyond(
        n,
        None if lower is None else int(values.reached([lower], right=False)[0]) if n else 0,
        None if upper is None else n - int(values.reached([upper], right=True)[0]) if n else 0,
        below,
        above,
    )


def tolerance_limits(x: ArrayLike, *, share: float = 0.95, level: float = 0.95, method: Method = "normal") -> Tolerance:
    """Return two-sided limits that hold at least a share of the population with the stated confidence.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    share : float, optional
        Of the population, between 0 and 1.
    level : float, optional
        The confidence, between 0 and 1.
    method : {"normal", "distribution-free"}, optional
        Mean -/+ k SD, or the order statistics x(r) and x(n + 1 - r) of the largest r whose confidence is at least the
        level.

    Returns
    -------
    Tolerance
        Limits in the unit of x, None where there are none, with the reason.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    k is exact: it makes P(content >= share) = level over the distributions of mean and SD. The content of order
    statistics is Beta(n + 1 - 2r, 2r).

    References
    ----------
    hahn-meeker-1991, chapters 4 and 5

    Examples
    --------
    Of 93 values the extremes hold 95 % with a confidence of just over 95 %:

    >>> limits = tolerance_limits(range(93), method="distribution-free")
    >>> limits.low, limits.high, round(limits.achieved, 4)
    (0.0, 92.0, 0.95)
    """
    choose(method, METHODS, where="method")
    within(share, above=0, below=1, where="share")
    within(level, above=0, below=1, where="level")
    ordered = np.sort(as_values(x).values)
    n = ordered.size
    if method == "normal":
        if n < 2:
            return _no_tolerance("It needs at least 2 values.", share, level, method, n)
        k = normal_factor(n, share, level)
        mean, sd = mean_and_sd(InOrder(ordered))
        return _written(Tolerance(mean - k * sd, mean + k * sd, share, level, None, method, n))
    r = np.arange(1, n // 2 + 1)
    confidence = special.betainc(2 * r, n + 1 - 2 * r, 1 - share) if r.size else np.empty(0)
    fits = np.flatnonzero(confidence >= level)
    if fits.size == 0:
        needed = _fewest_for(share, level)
        return _no_tolerance(f"Without a distribution it needs at least {needed} values.", share, level, method, n)
    best = int(fits[-1])
    return Tolerance(
        float(ordered[best]), float(ordered[n - 1 - best]), share, level, float(confidence[best]), method, n
    )


Limits = TypeVar("Limits", Tolerance, Reference)


def _written(limits: Limits) -> Limits:
    """The limits without those that no number can be written for."""
    given = {field.name: getattr(limits, field.name) for field in fields(limits)}
    beyond = [name for name, value in given.items() if isinstance(value, float) and not np.isfinite(value)]
    without: dict[str, Any] = dict.fromkeys(beyond)
    return replace(limits, **without, undefined=dict.fromkeys(beyond, TOO_LARGE_TO_WRITE))


def _no_tolerance(why: str, share: float, level: float, method: Method, n: int) -> Tolerance:
    return Tolerance(None, None, share, level, None, method, n, {"low": why, "high": why})


def _fewest_for(share: float, level: float) -> int:
    """The fewest values whose extremes hold the share with that confidence: 1 - n p^(n-1) + (n-1) p^n >= level."""
    n = 2
    while 1 - n * share ** (n - 1) + (n - 1) * share**n < level:
        n += 1
    return n


def normal_factor(n: int, share: float, level: float) -> float:
    """The factor k of the two-sided normal tolerance interval mean -/+ k SD, exact by integration over the mean."""
    # Above, Howe's approximation is exact to more digits than anybody reads.
    if n > 2_000:
        z = stats.norm.ppf((1 + share) / 2) * np.sqrt(1 + 1 / n)
        return float(z * np.sqrt((n - 1) / stats.chi2.ppf(1 - level, n - 1)))

    def half_width(shift: float) -> float:
        """The half width that holds the share when the centre is off by `shift` SD."""
        content = lambda r: special.ndtr(shift + r) - special.ndtr(shift - r) - share  # noqa: E731
        return float(optimize.brentq(content, 0, shift + 10, xtol=1e-13))

    nodes, weights = np.polynomial.hermite_e.hermegauss(60)
    widths = np.array([half_width(abs(node) / np.sqrt(n)) for node in nodes])
    weights = weights / weights.sum()

    def confidence(k: float) -> float:
        return float(weights @ stats.chi2.sf((n - 1) * widths**2 / k**2, n - 1)) - level

    return float(optimize.brentq(confidence, 1e-6, 1e4, xtol=1e-12))


def reference_limits(x: ArrayLike, *, level: float = 0.90, method: Method = "distribution-free") -> Reference:
    """Return the 2.5 and 97.5 percent points of the population with an interval for each.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    level : float, optional
        Of the intervals of both ends, between 0 and 1.
    method : {"normal", "distribution-free"}, optional
        Mean -/+ 1.96 SD with intervals by the noncentral t distribution, or quantiles by definition 6 with intervals by
        order statistics.

    Returns
    -------
    Reference
        Limits in the unit of x, None where there are none, with the reason.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    Distribution-free intervals are given from 120 values on.

    References
    ----------
    hahn-meeker-1991, section 4.4
    clsi-2008, for the 120 values

    Examples
    --------
    From 120 values the lower interval reaches from the first to the seventh:

    >>> limits = reference_limits(range(1, 121))
    >>> limits.low_from, limits.low_to
    (1.0, 7.0)
    """
    choose(method, METHODS, where="method")
    within(level, above=0, below=1, where="level")
    ordered = np.sort(as_values(x).values)
    n = ordered.size
    if method == "normal":
        if n < 2:
            return _no_reference("It needs at least 2 values.", level, method, n)
        mean, sd = mean_and_sd(InOrder(ordered))
        z = float(stats.norm.ppf(0.975))
        near, far = stats.nct.ppf([(1 - level) / 2, (1 + level) / 2], n - 1, z * np.sqrt(n)) / np.sqrt(n)
        low, low_from, low_to, high, high_from, high_to = (
            mean + float(k) * sd for k in (-z, -far, -near, z, near, far)
        )
        return _written(Reference(low, low_from, low_to, high, high_from, high_to, level, method, n))
    if n < 120:
        return _no_reference("Without a distribution it needs at least 120 values.", level, method, n)
    low, high = np.quantile(ordered, [0.025, 0.975], method="weibull")
    ranks = ranks_around(n, 0.025, level)
    if ranks is None:
        why = f"No two of {n} values hold it with a confidence of {percent(level)}."
        undefined = dict.fromkeys(("low_from", "low_to", "high_from", "high_to"), why)
        return Reference(float(low), None, None, float(high), None, None, level, method, n, undefined)
    first, last, _ = ranks
    return Reference(
        float(low),
        float(ordered[first]),
        float(ordered[last]),
        float(high),
        float(ordered[n - 1 - last]),
        float(ordered[n - 1 - first]),
        level,
        method,
        n,
    )


def ranks_around(n: int, share: float, level: float) -> tuple[int, int, float] | None:
    """The places, from 0, of two of n order statistics that hold a quantile with at least the stated confidence, and
    what that is; None where no two do, since too often no value lies below it, or above."""
    if share > 0.5:
        mirrored = ranks_around(n, 1 - share, level)
        return mirrored and (n - 1 - mirrored[1], n - 1 - mirrored[0], mirrored[2])
    below = stats.binom(n, share)
    first, last = (int(below.ppf(end)) for end in ((1 - level) / 2, (1 + level) / 2))
    if first == 0:  # the smallest value begins; the other end makes up for it
        first, last = 1, int(below.ppf(min(level + float(below.pmf(0)), 1.0)))
    achieved = float(below.cdf(last) - below.cdf(first - 1))
    return (first - 1, last, achieved) if last < n and achieved >= level else None


def _no_reference(why: str, level: float, method: Method, n: int) -> Reference:
    return Reference(None, None, None, None, None, None, level, method, n, {"low": why, "high": why})
