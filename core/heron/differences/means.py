"""How far two groups lie apart by their means, plain, standardized, trimmed or of logs."""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats
from heron.differences.two import Estimate, Two, no_effect, two_groups
from heron.errors import InputError
from heron.formatting import significant
from heron.grouping import By
from heron.summary import cut_of, exponential


def mean_difference(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
) -> Estimate:
    """Return the difference of the means, in the unit of the data.

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
        Of the first group from the second, with limits and p value.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150.

    Notes
    -----
    Limits and p value are Welch's, whose degrees of freedom do not take spreads for equal; of pairs, those of the mean
    of their differences by Student's t.

    References
    ----------
    welch-1947

    Examples
    --------
    >>> mean_difference([5.0, 6.0, 7.0, 1.0, 2.0, 3.0], list("aaabbb")).estimate
    4.0
    """
    two = two_groups(values, by, order, unit, level)
    return two.estimate(*_means(two, level))


def ratio_of_geometric_means(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
) -> Estimate:
    """Return the ratio of the geometric means.

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
        A factor: the first group's over the second's, with limits and the p value of no difference.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150. For values
        of 0 or below.

    Notes
    -----
    Limits are those of the difference of mean logs by Welch, laid back.

    References
    ----------
    welch-1947

    Examples
    --------
    >>> round(ratio_of_geometric_means([2.0, 8.0, 1.0, 4.0], list("aabb")).estimate, 9)
    2.0
    """
    two = two_groups(values, by, order, unit, level)
    if min(float(two.x.min()), float(two.y.min())) <= 0:
        raise no_effect("It needs values above 0.")
    gap, low, high, p = _means(Two(np.log(two.x), np.log(two.y), two.n_missing, two.paired), level)
    low, high = (None if end is None else exponential(end) for end in (low, high))
    return two.estimate(exponential(gap), low, high, p)


def hedges_g(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
) -> Estimate:
    """Return the difference of the means in SDs, with the exact correction of its bias.

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
        Without unit: in pooled SDs; of pairs, in SDs of their differences.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150. Where
        nothing has any spread.

    Notes
    -----
    g = J d with J = Gamma(df/2)/(sqrt(df/2) Gamma((df - 1)/2)). Limits are those noncentralities of t under which the
    observed one would be a percent point, times the correction.

    References
    ----------
    hedges-1981
    steiger-fouladi-1997, for the limits

    Examples
    --------
    >>> round(hedges_g([5.0, 6.0, 7.0, 1.0, 2.0, 3.0], list("aaabbb")).estimate, 4)
    3.1915
    """
    two = two_groups(values, by, order, unit, level)
    n, m = two.x.size, two.y.size
    if two.paired:
        off = two.x - two.y
        sd, df, scale = float(off.std(ddof=1)), n - 1, math.sqrt(n)
        if sd == 0:
            raise no_effect("The differences are all the same.")
        d = float(off.mean()) / sd
    else:
        df, scale = n + m - 2, math.sqrt(n * m / (n + m))
        pooled = math.sqrt(((n - 1) * float(two.x.var(ddof=1)) + (m - 1) * float(two.y.var(ddof=1))) / df)
        if pooled == 0:
            raise no_effect("Neither group has any spread.")
        d = float(two.x.mean() - two.y.mean()) / pooled
    low = float(special.nctdtrinc(df, (1 + level) / 2, d * scale))
    high = float(special.nctdtrinc(df, (1 - level) / 2, d * scale))
    j = math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else 0.0
    return two.estimate(j * d, j * low / scale, j * high / scale)


def trimmed_mean_difference(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    unit: By | None = None,
    level: float = 0.95,
    trim: float = 0.1,
) -> Estimate:
    """Return the difference of the trimmed means, in the unit of the data.

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
    trim : float, optional
        The share of the values that is cut at each end, from 0 to below 0.5.

    Returns
    -------
    Estimate
        Of the first group from the second, with limits and p value; of pairs, the trimmed mean of their differences.

    Raises
    ------
    InputError
        For other than 2 groups, fewer than 2 values in one, or fewer than 2 pairs; for values beyond 1e150; where a cut
        leaves fewer than 2 values.

    Notes
    -----
    Of n values floor(trim n) are cut at each end and h stay. A squared standard error is the sum of squares of the
    winsorized values over h(h - 1); limits are Student's t with Welch's degrees of freedom of h in place of n (Yuen).

    References
    ----------
    yuen-1974
    tukey-mclaughlin-1963, for pairs

    Examples
    --------
    >>> trimmed_mean_difference([5, 6, 7, 900, 1, 2, 3, -90], list("aaaabbbb"), trim=0.25).estimate
    5.0
    """
    if not 0 <= trim < 0.5:
        raise InputError(
            "out-of-range", f"trim must be at least 0 and below 0.5; it is {significant(trim)}.", where="trim"
        )
    two = two_groups(values, by, order, unit, level)
    if two.paired:
        middle, square, h = _trimmed(two.x - two.y, trim)
        return two.estimate(*_by_t(middle, math.sqrt(square), h - 1, level))
    (first, a, n), (second, b, m) = (_trimmed(part, trim) for part in (two.x, two.y))
    df = satterthwaite(a, b, n, m) if a + b else 1.0
    return two.estimate(*_by_t(first - second, math.sqrt(a + b), df, level))


def _trimmed(x: Floats, trim: float) -> tuple[float, float, int]:
    """The trimmed mean, its squared standard error, and how many values stay."""
    cut = cut_of(trim, x.size)
    ordered = np.sort(x)
    kept = ordered[cut : x.size - cut]
    h = kept.size
    if h < 2:
        raise no_effect("So large a cut leaves fewer than 2 values.")
    off = np.clip(ordered, kept[0], kept[-1])
    off = off - off.mean()
    return float(kept.mean()), float(np.dot(off, off)) / (h * (h - 1)), h


def satterthwaite(a: float, b: float, n: int, m: int) -> float:
    """Welch's degrees of freedom of two squared standard errors, by their shares, which do not underflow."""
    share = a / (a + b)
    return 1 / (share**2 / (n - 1) + (1 - share) ** 2 / (m - 1))


def _means(two: Two, level: float) -> tuple[float, float | None, float | None, float | None]:
    """The difference of means, its limits and its p value, by Welch, or of the differences of pairs; without spread the
    difference alone."""
    x, y = two.x, two.y
    if two.paired:
        off = x - y
        gap, se, df = float(off.mean()), float(off.std(ddof=1)) / math.sqrt(off.size), float(off.size - 1)
    else:
        a, b = float(x.var(ddof=1)) / x.size, float(y.var(ddof=1)) / y.size
        gap, se = float(x.mean() - y.mean()), math.sqrt(a + b)
        df = satterthwaite(a, b, x.size, y.size) if se else 1.0
    return _by_t(gap, se, df, level)


def _by_t(gap: float, se: float, df: float, level: float) -> tuple[float, float | None, float | None, float | None]:
    """A difference with its limits and its p value by Student's t."""
    if se == 0:  # nothing tells how far such a difference may be off
        return gap, None, None, None
    reach = float(special.stdtrit(df, 0.5 + level / 2)) * se
    return gap, gap - reach, gap + reach, 2 * float(special.stdtr(df, -abs(gap / se)))
