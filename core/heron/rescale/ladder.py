"""The ladder of powers, and the powers that likelihood and equal spreads would choose."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import ArrayLike
from scipy import optimize, special

from heron.checks import Checked, Floats, Ints, as_values, within
from heron.errors import InputError
from heron.grouping import By, groups_of
from heron.least_squares import simple
from heron.normality import blom_scores, shapiro_of_ordered
from heron.quantiles import of_sorted
from heron.rescale.ways import transform
from heron.results import Result

LADDER = (-2.0, -1.0, -0.5, 0.0, 0.5, 1.0, 2.0, 3.0)
_FEWEST = 3
_DRAWN = 48
_BEGINS, _ENDS = 8.0, 1e6  # of the search for a power, from 0 on either side
_LARGEST_EXPONENT = 600.0
_SMALLEST, _LARGEST = 1e-200, 1e200  # between which sums of squares have all their digits


@dataclass(frozen=True)
class Rung:
    """One step of the ladder: the values on that scale, within groups as distances from the group's mean.

    n: values that the scale takes; lost: (k,) the rows that it does not. skewness G1, qq_correlation with normal
    scores, shapiro_w and its p: None where they cannot be had. counts: (n_classes,) of equal classes from the smallest
    to the largest, for a small picture; low, high: the ends; mean, sd: of the values there. scores, standard: (k,) at
    most 48 normal scores and the ordered values of those ranks in SDs from the mean, for a small Q-Q plot.
    """

    power: float
    n: int
    lost: Ints
    skewness: float | None
    qq_correlation: float | None
    shapiro_w: float | None
    shapiro_p: float | None
    counts: Floats
    low: float | None
    high: float | None
    mean: float | None
    sd: float | None
    scores: Floats
    standard: Floats


@dataclass(frozen=True)
class BoxCox(Result):
    """The power of largest likelihood, that log-likelihood, and the profile-likelihood interval at `level`; a limit is
    None where it lies beyond -8 or 8, with the reason in `undefined`."""

    power: float
    power_low: float | None
    power_high: float | None
    log_likelihood: float
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Ladder(Result, rows="steps"):
    """All steps. best: the power of the highest Q-Q correlation among those that lose no value. estimate: Box and
    Cox's, or Yeo and Johnson's where a value is not above 0 (said in `family`); spread_slope: of log IQR on log median
    over the groups, spread_power: 1 - slope, the power for equal spreads."""

    steps: tuple[Rung, ...]
    best: float | None
    family: str
    estimate: BoxCox | None
    spread_slope: float | None
    spread_power: float | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def power_ladder(values: ArrayLike, by: By | None = None, *, level: float = 0.95) -> Ladder:
    """Return how a variable looks on each step of the ladder of powers.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes: each step is then judged within groups, on distances
        from the group's mean.
    level : float, optional
        Of the interval of the estimated power, between 0 and 1.

    Returns
    -------
    Ladder
        For each power skewness, W and Q-Q correlation of the rescaled values; the best step, the power of largest
        likelihood, and, of groups, the power for equal spreads.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    Negative powers are -x^p; 0 is log10. The spread-versus-level slope is the least-squares slope of log10 IQR on log10
    median, over groups of 4 values or more whose median and IQR are above 0.

    References
    ----------
    tukey-1977
    box-cox-1964
    yeo-johnson-2000

    Examples
    --------
    >>> power_ladder([1, 2, 4, 8, 16, 32, 64]).best
    0.0
    """
    checked = as_values(values, where="values")
    x, rows, groups = _within_groups(checked, by)
    in_order = np.sort(x) if groups is None else None
    rungs = tuple(_rung(power, x, rows, groups, in_order) for power in LADDER)
    whole = [rung for rung in rungs if rung.lost.size == 0 and rung.qq_correlation is not None]
    best = max(whole, key=lambda rung: rung.qq_correlation or 0.0).power if whole else None
    undefined: dict[str, str] = {}
    estimate, family = None, "Box-Cox"
    try:
        if x.size and x.min() <= 0:
            family = "Yeo-Johnson"
            estimate = yeo_johnson(x, groups, level=level)
        else:
            estimate = box_cox(x, groups, level=level)
    except InputError as error:
        undefined["estimate"] = error.problem
    slope = None if groups is None else _spread_slope(x, groups)
    power = None if slope is None else 1 - slope
    if slope is None:
        undefined["spread_slope"] = (
            "It needs groups." if groups is None else "It needs 2 groups whose median and IQR are above 0."
        )
    missing = checked.length - x.size
    return Ladder(rungs, best, family, estimate, slope, power, x.size, missing, undefined)


def _within_groups(checked: Checked, by: By | None) -> tuple[Floats, Ints, Ints | None]:
    """The values that take part, their rows, and the group of each, None without groups."""
    values, rows = checked.values, checked.positions
    if by is None:
        return values, rows, None
    places = groups_of(by, checked.length).places[rows]
    known = places >= 0
    return values[known], rows[known], np.unique(places[known], return_inverse=True)[1]


def _rung(power: float, values: Floats, rows: Ints, groups: Ints | None, in_order: Floats | None) -> Rung:
    """in_order: the values, ascending, where there are no groups."""
    setting = {"way": "power", "power": power}
    result = transform(values if in_order is None else in_order, setting)
    if in_order is not None and result.lost.size:
        result = transform(values, setting)
    y, kept = result.values, None
    if result.lost.size:
        kept = np.flatnonzero(~np.isnan(y))
        y = y[kept]
    if groups is not None and y.size:
        y = _within(y, groups if kept is None else groups[kept])
    ordered = y if kept is None and in_order is not None and (y[1:] >= y[:-1]).all() else np.sort(y)
    n, lost = ordered.size, rows[result.lost]
    none = np.empty(0)
    if n < _FEWEST or ordered[0] == ordered[-1]:
        return Rung(power, n, lost, None, None, None, None, none, None, None, None, None, none, none)
    half = ordered[-1] / 2 - ordered[0] / 2
    z = ordered / half
    z = z - z.mean()
    sd = float(z.std(ddof=1))
    m2 = float(np.dot(z, z)) / n
    g1 = float(np.dot(z * z, z)) / n / m2**1.5
    scores = blom_scores(n)
    correlation = float(np.dot(z, scores) / math.sqrt(float(np.dot(z, z)) * float(np.dot(scores, scores))))
    classes = min(max(math.ceil(math.log2(n)) + 1, 5), 24)
    test = shapiro_of_ordered(ordered)
    drawn = np.unique(np.linspace(0, n - 1, _DRAWN).astype(np.int64))
    return Rung(
        power,
        n,
        lost,
        g1 * math.sqrt(n * (n - 1)) / (n - 2),
        correlation,
        test.statistic,
        test.p_value,
        _class_counts(ordered, classes),
        float(ordered[0]),
        float(ordered[-1]),
        float((ordered / half).mean() * half),
        sd * float(half),
        scores[drawn],
        z[drawn] / sd,
    )


def _class_counts(ordered: Floats, classes: int) -> Floats:
    """How many ascending values lie in each of some even classes over their range; an edge belongs to the class above
    it, the last to the last."""
    low, high = ordered[0] / 2, ordered[-1] / 2
    edges = 2 * (low + (high - low) * (np.arange(1, classes) / classes))
    before = np.searchsorted(ordered, edges)
    return np.asarray(np.diff(before, prepend=0, append=ordered.size), dtype=np.float64)


def _within(y: Floats, groups: Ints) -> Floats:
    n = np.bincount(groups)
    return y - (np.bincount(groups, weights=y) / np.maximum(n, 1))[groups]


def _spread_slope(values: Floats, groups: Ints) -> float | None:
    order = np.argsort(groups, kind="stable")
    parts = np.split(values[order], np.flatnonzero(np.diff(groups[order])) + 1)
    points = []
    for part in parts:
        if part.size < 4:
            continue
        q1, median, q3 = of_sorted(np.sort(part), np.array([0.25, 0.5, 0.75]), 7).tolist()
        if median > 0 and q3 > q1:
            points.append((math.log10(median), math.log10(q3 - q1)))
    if len({at for at, _ in points}) < 2:
        return None
    levels, spreads = np.array(points).T
    return simple(levels, spreads).slope


def box_cox(values: ArrayLike, by: By | None = None, *, design: Floats | None = None, level: float = 0.95) -> BoxCox:
    """Return the Box-Cox power of largest likelihood with its profile interval.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values above 0, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; group means are then fitted too.
    design : (n, k) array_like of float, optional
        The columns of a linear model that is fitted too, a row for each value.
    level : float, optional
        Of the interval, between 0 and 1.

    Returns
    -------
    BoxCox
        The power with the ends of its interval, without unit.

    Raises
    ------
    InputError
        For fewer than 3 values, no spread, or a value that is not above 0.

    Notes
    -----
    The profile log-likelihood is -n/2 ln(RSS/n) + (p - 1) sum ln x; the interval holds all powers whose log-likelihood
    lies within chi-square(level, 1)/2 of the largest.

    References
    ----------
    box-cox-1964

    Examples
    --------
    Values that are evenly spaced on a log scale:

    >>> abs(box_cox([1, 2, 4, 8, 16, 32, 64]).power) < 1e-6
    True
    """
    x, groups, missing = _fit_for(values, by)
    if x.min() <= 0:
        raise InputError("not-above-zero", "Box and Cox's power needs values above 0.", where="values")
    return _profile(_box_cox_likelihood(np.log(x), groups, design), x.size, missing, level)


def _box_cox_likelihood(logs: Floats, groups: Ints | None, design: Floats | None = None) -> Callable[[float], float]:
    # On the scale of the geometric mean the likelihood is that of the residuals alone.
    total = float(logs.sum())
    logs = logs - logs.mean()
    fitted = None if design is None else np.linalg.qr(design)[0]

    def likelihood(power: float) -> float:
        y, scale = _powers(logs, power * logs, power)
        return _residual_likelihood(y if fitted is None else y - fitted @ (fitted.T @ y), groups, scale) - total

    return likelihood


def _powers(logs: Floats, exponents: Floats, power: float | Floats) -> tuple[Floats, float]:
    """(exp(exponents) - 1)/power, exact near a power of 0, over exp(scale), which keeps it within numbers."""
    scale = float(exponents.max())
    with np.errstate(divide="ignore", invalid="ignore", over="ignore"):
        near = np.expm1(exponents if scale < _LARGEST_EXPONENT else np.minimum(exponents, 1.0)) / power
        near = (near if power else logs) if isinstance(power, float) else np.where(power == 0, logs, near)
        if scale < _LARGEST_EXPONENT:
            return near, 0.0
        far = (np.exp(exponents - scale) - math.exp(-scale)) / power
    return np.where(exponents > 1, far, near * math.exp(-scale)), scale


def yeo_johnson(values: ArrayLike, by: By | None = None, *, level: float = 0.95) -> BoxCox:
    """Return Yeo and Johnson's power of largest likelihood with its profile interval.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; group means are then fitted too.
    level : float, optional
        Of the interval, between 0 and 1.

    Returns
    -------
    BoxCox
        The power with the ends of its interval, without unit; values may have any sign.

    Raises
    ------
    InputError
        For fewer than 3 values, or no spread.

    Notes
    -----
    As `box_cox`, with the Jacobian (p - 1) sum sign(x) ln(1 + |x|).

    References
    ----------
    yeo-johnson-2000

    Examples
    --------
    Values that are symmetric about 0 ask for no change, a power of 1:

    >>> round(yeo_johnson([-3, -1, 0, 1, 3]).power, 6)
    1.0
    """
    x, groups, missing = _fit_for(values, by)
    if x.min() >= 0 or x.max() <= 0:
        # Box and Cox's of 1 + |x|, mirrored below 0, which keeps the digits of values far from 0.
        likelihood = _box_cox_likelihood(np.log1p(np.abs(x)), groups)
        result = _profile(likelihood, x.size, missing, level)
        return result if x.min() >= 0 else _mirrored(result)
    logs = np.log1p(np.abs(x))
    jacobian = float(np.sum(np.sign(x) * logs))

    def likelihood_of_both(power: float) -> float:
        powers = np.where(x >= 0, power, 2 - power)
        y, scale = _powers(logs, powers * logs, powers)
        return _residual_likelihood(np.sign(x) * y, groups, scale) + (power - 1) * jacobian

    return _profile(likelihood_of_both, x.size, missing, level)


def _mirrored(result: BoxCox) -> BoxCox:
    """The power of values below 0, of which 2 - power is that of their magnitudes."""
    low, high = (None if end is None else 2 - end for end in (result.power_high, result.power_low))
    names = {"power_low": "power_high", "power_high": "power_low"}
    undefined = {names[name]: why for name, why in result.undefined.items()}
    return replace(result, power=2 - result.power, power_low=low, power_high=high, undefined=undefined)


def _fit_for(given: ArrayLike, by: By | None) -> tuple[Floats, Ints | None, int]:
    checked = as_values(given, where="values")
    values, _, groups = _within_groups(checked, by)
    if values.size < _FEWEST or values.min() == values.max():
        raise InputError(
            "no-spread", "A power is estimated from at least 3 values that are not all the same.", where="values"
        )
    return values, groups, checked.length - values.size


def _residual_likelihood(y: Floats, groups: Ints | None, scale: float) -> float:
    left = y - y.mean() if groups is None else _within(y, groups)
    squares = float(np.dot(left, left))
    if _SMALLEST < squares < _LARGEST:
        return -y.size / 2 * (math.log(squares / y.size) + 2 * scale)
    if not np.all(np.isfinite(y)):
        return -math.inf
    top = float(np.abs(left).max())
    if top == 0:
        return -math.inf
    squares = float(np.dot(left / top, left / top))
    return -y.size / 2 * (math.log(squares / y.size) + 2 * math.log(top) + 2 * scale)


def _profile(likelihood: Callable[[float], float], n: int, n_missing: int, level: float) -> BoxCox:
    """The power of largest likelihood with its interval: both are looked for until they are enclosed."""
    within(level, above=0, below=1, where="level")
    reach = _BEGINS
    with np.errstate(over="ignore", invalid="ignore"):
        while True:
            result = optimize.minimize_scalar(
                lambda p: -likelihood(p), bounds=(-reach, reach), method="bounded", options={"xatol": 1e-9}
            )
            if abs(result.x) < 0.99 * reach or reach > _ENDS:
                break
            reach *= 4
        power, top = float(result.x), -float(result.fun)
        drop = float(special.chdtri(1, 1 - level)) / 2

        def gap(p: float) -> float:
            return likelihood(p) - top + drop

        ends = [_where_below(gap, power, side) for side in (-1, 1)]
    named = zip(("power_low", "power_high"), ends, strict=True)
    undefined = {name: "The interval is open on this side." for name, end in named if end is None}
    return BoxCox(power, ends[0], ends[1], top, level, n, n_missing, undefined)


def _where_below(gap: Callable[[float], float], start: float, side: int) -> float | None:
    """Where a curve that is above 0 at the start comes to 0 on one side; None where it does not."""
    step = 0.5
    while gap(start + side * step) >= 0:
        step *= 2
        if step > _ENDS:
            return None
    low, high = sorted((start, start + side * step))
    return float(optimize.brentq(gap, low, high, xtol=1e-9))
