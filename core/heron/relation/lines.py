"""Lines that follow the pairs in other ways: the median of slopes, a local smooth, and slopes compared."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, within
from heron.choices import Choice, Option, by_id
from heron.errors import InputError, NotInstalled
from heron.formatting import significant
from heron.grouping import By, groups_of
from heron.least_squares import simple, unfit
from heron.normality import holm
from heron.relation.correlations import pairs
from heron.results import Result

LineKind = Literal["least-squares", "median", "smooth"]
LINES: dict[str, Choice] = by_id(
    (
        Choice(
            id="least-squares",
            label="least squares",
            help="The line with the smallest sum of squared residuals; far points pull it.",
            definition="On the scales chosen, worked about the means; bands of the line and of one more value by t "
            "with n − 2 degrees of freedom, carried back to the unit of y.",
            caption="line of least squares",
            methods="lines were fitted by least squares{scales}",
            rank=1,
        ),
        Choice(
            id="median",
            label="Theil-Sen line",
            help="The median of the slopes of all pairs; far points hardly move it.",
            definition="Median of the slopes of all pairs of points (a seeded sample of 2,000,000 above 2,000 rows), "
            "Sen's limits; intercept the median of y − slope x.",
            caption="Theil-Sen line",
            methods="Theil-Sen lines have the median of all slopes",
            sources=("theil-1950", "sen-1968"),
            rank=2,
        ),
        Choice(
            id="smooth",
            label="lowess",
            help="Local lines: how the middle of y follows x, without a straight line.",
            definition="Local lines over a share of the pairs, three robust passes.",
            caption="lowess",
            methods="lowess curves are robust local lines over {span} % of the pairs",
            sources=("cleveland-1979",),
            options=(Option("span", "Share of the pairs", 0.67, 0.05, 1),),
            rank=3,
        ),
    )
)
MOST_ROWS = 2_000  # of which all slopes are looked at
_SAMPLED = 2_000_000
MOST_SMOOTHED = 20_000


@dataclass(frozen=True)
class Median(Result):
    """slope: the median of the slopes of all pairs of points, with Sen's limits; intercept: the median of
    y - slope x. n_slopes: slopes looked at; sampled: whether they are a seeded sample of all."""

    slope: float
    intercept: float
    low: float
    high: float
    n_pairs: int
    n_slopes: int
    sampled: bool


def theil_sen(x: ArrayLike, y: ArrayLike, *, level: float = 0.95, seed: int = 20_240) -> Median:
    """Return Theil and Sen's line; far points hardly move it.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    level : float, optional
        Of the limits, between 0 and 1.
    seed : int, optional
        Of what is drawn at random.

    Returns
    -------
    Median
        Slope, the median of the slopes of all pairs of rows, with limits, and intercept, in the units of x and y.

    Raises
    ------
    InputError
        For fewer than 3 pairs or x without spread.

    Notes
    -----
    Above 2,000 rows 2,000,000 slopes drawn with the seed are looked at.

    References
    ----------
    theil-1950
    sen-1968

    Examples
    --------
    Sen's own example, of which the slope is 4:

    >>> theil_sen([1, 2, 3, 4, 10, 12, 18], [9, 15, 19, 20, 45, 55, 78]).slope
    4.0
    """
    within(level, above=0, below=1, where="level")
    a, b, known = pairs(x, y)
    n = known.size
    if n < 3 or a.min() == a.max():
        raise InputError("too-few-pairs", "The line needs 3 pairs with different x.", where="x")
    if n <= MOST_ROWS:
        i, j = np.triu_indices(n, 1)
    else:
        i, j = np.random.default_rng(seed).integers(0, n, (2, _SAMPLED))
    with np.errstate(all="ignore"):
        run = a[j] - a[i]
        slopes = np.sort((b[j] - b[i])[run != 0] / run[run != 0])
    slope = float(np.median(slopes))
    if not np.isfinite(slopes[[0, -1]]).all():
        raise InputError(
            "too-large", "The slopes are too large to be numbers.", where="x", remedy="Choose other units."
        )
    ties = np.unique(a, return_counts=True)[1].astype(np.float64)
    variance = (n * (n - 1) * (2 * n + 5) - float(np.sum(ties * (ties - 1) * (2 * ties + 5)))) / 18
    # Sen's ranks among all slopes, thinned as the slopes are where they are a sample.
    every = n * (n - 1) / 2 - float(np.sum(ties * (ties - 1))) / 2
    reach = float(special.ndtri(0.5 + level / 2)) * math.sqrt(variance) * slopes.size / every
    ends = [(slopes.size - reach) / 2, (slopes.size + reach) / 2]
    low, high = (slopes[min(max(round(end), 0), slopes.size - 1)] for end in (ends[0] - 1, ends[1]))
    return Median(
        slope, float(np.median(b - slope * a)), float(low), float(high), n, slopes.size, n > MOST_ROWS
    )  # fmt: skip


@dataclass(frozen=True)
class Smooth(Result, columns=("x", "y")):
    """x, y: (k,) the smooth from left to right; n_used: pairs it was made of, a seeded sample where there are more."""

    x: Floats
    y: Floats
    span: float
    n_pairs: int
    n_used: int


def smooth_line(x: ArrayLike, y: ArrayLike, *, span: float = 2 / 3, passes: int = 3, seed: int = 20_240) -> Smooth:
    """Return a lowess: local lines over a share of the pairs, with robust passes.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    span : float, optional
        The share of the pairs that each local line is fitted to, from 0.02 to 1.
    passes : int, optional
        How often far points are given less weight and the line is fitted again.
    seed : int, optional
        Of what is drawn at random.

    Returns
    -------
    Smooth
        Places and heights in the units of x and y; above 20,000 pairs of so many drawn at random.

    Raises
    ------
    InputError
        For fewer than 5 pairs, x without spread, or a span outside its range.
    NotInstalled
        Without the packages of velvet-heron[script].

    Notes
    -----
    Tricube weights by distance along x, bisquare weights by residual.

    References
    ----------
    cleveland-1979

    Examples
    --------
    What lies on a line stays on it:

    >>> curve = smooth_line([0, 1, 2, 3, 4, 5], [1, 3, 5, 7, 9, 11])
    >>> curve.y.round(6).tolist()
    [1.0, 3.0, 5.0, 7.0, 9.0, 11.0]
    """
    try:
        from statsmodels.nonparametric.smoothers_lowess import lowess  # imported on first use: all of it takes seconds
    except ModuleNotFoundError as error:
        raise NotInstalled("statsmodels", "script") from error
    if not 0.02 <= span <= 1:
        raise InputError("out-of-range", f"The span lies from 0.02 to 1; it is {significant(span)}.", where="span")
    a, b, known = pairs(x, y)
    if known.size < 5 or a.min() == a.max():
        raise InputError("too-few-pairs", "A lowess curve needs 5 pairs with different x.", where="x")
    if known.size > MOST_SMOOTHED:
        taken = np.random.default_rng(seed).choice(known.size, MOST_SMOOTHED, replace=False)
        a, b = a[taken], b[taken]
    order = np.argsort(a, kind="stable")
    a, b = a[order], b[order]
    top = float(np.abs(b).max()) or 1.0
    width = float(a[-1] / 2 - a[0] / 2) * 2
    result = lowess(b / top, a / width, frac=max(span, 3 / a.size), it=passes, delta=0.005, return_sorted=True)
    places, first = np.unique(a, return_index=True)
    values = result[first, 1] * top
    kept = np.isfinite(values)
    return Smooth(places[kept], values[kept], span, known.size, a.size)


def thinned(smooth: Smooth, most: int = 400) -> Smooth:
    """A smooth at no more places than can be told apart."""
    if smooth.x.size <= most:
        return smooth
    at = np.unique(np.linspace(0, smooth.x.size - 1, most).astype(np.int64))
    return replace(smooth, x=smooth.x[at], y=smooth.y[at])


@dataclass(frozen=True)
class SlopePair:
    """By how much the slope of the first group is above that of the second; p_value adjusted after Holm."""

    first: str
    second: str
    difference: float
    low: float
    high: float
    p_value: float


@dataclass(frozen=True)
class Slopes(Result, rows="pairs"):
    """Whether groups have one slope: F test of the interaction, and all pairs with Welch-like limits at `level`."""

    statistic: float | None
    df1: int
    df2: int
    p_value: float | None
    pairs: tuple[SlopePair, ...]
    level: float


def compare_slopes(
    x: ArrayLike, y: ArrayLike, by: By, *, order: Sequence[object] | None = None, level: float = 0.95
) -> Slopes:
    """Return whether lines within groups have the same slope.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; groups of fewer than 3 pairs, or without spread in x,
        take no part.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Slopes
        The F test of equal slopes, and all pairs of slopes with limits, in the unit of y over that of x.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    F of separate slopes over one common slope with separate intercepts; each difference of slopes with its own standard
    errors, t on the degrees of freedom summed by Welch and Satterthwaite; p values adjusted after Holm.

    References
    ----------
    welch-1947
    holm-1979

    Examples
    --------
    >>> result = compare_slopes([1, 2, 3, 1, 2, 3], [1, 2, 3.5, 3, 2, 0.5], list("aaabbb"))
    >>> result.pairs[0].difference
    2.5
    """
    within(level, above=0, below=1, where="level")
    xs, ys = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    grouping, lines = groups_of(by, xs.size, order=order), {}
    for label, rows in zip(grouping.labels, grouping.rows(), strict=True):
        a, b, _ = pairs(xs[rows], ys[rows])
        if not unfit(a, b):
            lines[label] = simple(a, b)
    labels = list(lines)
    k, n = len(labels), sum(line.n for line in lines.values())
    if k < 2:
        return Slopes(None, 0, 0, None, (), level)
    rss = sum(line.rss for line in lines.values())
    across = sum(line.spread_u for line in lines.values())
    common = sum(line.slope * line.spread_u for line in lines.values()) / across
    apart = sum((line.slope - common) ** 2 * line.spread_u for line in lines.values())
    df2 = n - 2 * k
    f = None if df2 < 1 or rss == 0 else apart / (k - 1) / (rss / df2)
    result, ps = [], []
    for i in range(k):
        for j in range(i + 1, k):
            both = lines[labels[i]], lines[labels[j]]
            parts = [line.rss / (line.n - 2) / line.spread_u for line in both]
            total, gap = sum(parts), both[0].slope - both[1].slope
            squares = sum(part**2 / (line.n - 2) for part, line in zip(parts, both, strict=True))
            df = total**2 / squares if squares > 0 else math.inf
            se = math.sqrt(total)
            reach = float(special.stdtrit(min(df, 1e9), 0.5 + level / 2)) * se
            p = 2 * float(special.stdtr(min(df, 1e9), -abs(gap / se))) if se > 0 else float(gap == 0)
            result.append((labels[i], labels[j], gap, gap - reach, gap + reach))
            ps.append(p)
    paired = tuple(SlopePair(*told, p) for told, p in zip(result, holm(ps), strict=True))
    p_value = None if f is None else float(special.fdtrc(k - 1, df2, f))
    return Slopes(f, k - 1, df2, p_value, paired, level)
