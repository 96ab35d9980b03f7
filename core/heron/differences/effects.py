"""How much two groups differ: one function for each effect size."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal, Protocol

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron import resampling
from heron.checks import Floats, as_values, within
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.grouping import By, groups_of
from heron.groups import paired_across
from heron.results import Result
from heron.summary import exponential

Effect = Literal["mean", "hedges-g", "cliffs-delta", "ratio", "median"]
LARGEST = 1e150
TOO_LARGE = f"Values beyond {LARGEST:g} cannot be squared, and so not be compared."


@dataclass(frozen=True)
class Estimate(Result):
    """A difference of the first group from the second, with its limits.

    p_value: of no difference, None where none is given. n: how many values it is of, or how many pairs; n_missing: how
    many values, or pairs, are left out.
    """

    estimate: float
    low: float | None
    high: float | None
    p_value: float | None = None
    n: int = 0
    n_missing: int = 0


@dataclass(frozen=True)
class _Two:
    """Two groups without what is missing; paired, those pairs that are whole."""

    x: Floats
    y: Floats
    n_missing: int
    paired: bool

    @property
    def n(self) -> int:
        return self.x.size if self.paired else self.x.size + self.y.size

    def estimate(self, estimate: float, low: float | None, high: float | None, p: float | None = None) -> Estimate:
        return Estimate(estimate, low, high, p, self.n, self.n_missing)


def _two(values: ArrayLike, by: By, order: Sequence[object] | None, unit: By | None, level: float) -> _Two:
    within(level, above=0, below=1, where="level")
    x = as_values(values, where="values")
    grouping = groups_of(by, x.length, order=order)
    if len(grouping.labels) != 2:
        problem = f"A difference is of 2 groups; there {_are(len(grouping.labels))}."
        raise InputError("not-two-groups", problem, where="by", remedy="Keep the rows of two groups.")
    if unit is not None:
        side_by_side = paired_across(values, grouping, unit=unit).values
        whole = np.isfinite(side_by_side).all(axis=1)
        first, second = side_by_side[whole].T
        two = _Two(first, second, int(np.count_nonzero(~whole)), paired=True)
        few = "A paired difference needs 2 pairs."
    else:
        places = grouping.places[x.positions]
        one, other = x.values[places == 0], x.values[places == 1]
        in_groups = int(np.count_nonzero(grouping.places >= 0))
        two = _Two(one, other, in_groups - one.size - other.size, paired=False)
        few = "A difference needs 2 values in each group."
    if min(two.x.size, two.y.size) < 2:
        raise InputError("too-few-values", few, where="values")
    if max(float(np.abs(two.x).max()), float(np.abs(two.y).max())) > LARGEST:
        raise InputError("too-large", TOO_LARGE, where="values", remedy="Put the variable in a larger unit.")
    return two


def _are(n: int) -> str:
    return "is 1" if n == 1 else f"are {n}"


def _none(words: str) -> InputError:
    return InputError("no-effect", words, where="measure", remedy="Choose another measure of the difference.")


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
    two = _two(values, by, order, unit, level)
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
    two = _two(values, by, order, unit, level)
    if min(float(two.x.min()), float(two.y.min())) <= 0:
        raise _none("It needs values above 0.")
    gap, low, high, p = _means(_Two(np.log(two.x), np.log(two.y), two.n_missing, two.paired), level)
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
    two = _two(values, by, order, unit, level)
    n, m = two.x.size, two.y.size
    if two.paired:
        off = two.x - two.y
        sd, df, scale = float(off.std(ddof=1)), n - 1, math.sqrt(n)
        if sd == 0:
            raise _none("The differences are all the same.")
        d = float(off.mean()) / sd
    else:
        df, scale = n + m - 2, math.sqrt(n * m / (n + m))
        pooled = math.sqrt(((n - 1) * float(two.x.var(ddof=1)) + (m - 1) * float(two.y.var(ddof=1))) / df)
        if pooled == 0:
            raise _none("Neither group has any spread.")
        d = float(two.x.mean() - two.y.mean()) / pooled
    low = float(special.nctdtrinc(df, (1 + level) / 2, d * scale))
    high = float(special.nctdtrinc(df, (1 - level) / 2, d * scale))
    j = math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else 0.0
    return two.estimate(j * d, j * low / scale, j * high / scale)


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
    Limits are Feng and Cliff's, from the variance of each value's own dominance.

    References
    ----------
    feng-cliff-2004

    Examples
    --------
    >>> cliffs_delta([3.0, 4.0, 1.0, 3.0], list("aabb")).estimate
    0.75
    """
    if unit is not None:
        raise _none("It is for groups that are not paired.")
    two = _two(values, by, order, None, level)
    x, y = two.x, two.y
    n, m = x.size, y.size
    # From the variances of each value's own dominance, counted in sorted order.
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
    if under == 0:
        return two.estimate(delta, delta, delta)
    middle = delta - delta**3
    return two.estimate(delta, max((middle - spread) / under, -1.0), min((middle + spread) / under, 1.0))


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
    two = _two(values, by, order, unit, level)
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


class EffectSize(Protocol):
    """A function that measures how much two groups differ."""

    __name__: str

    def __call__(
        self,
        values: ArrayLike,
        by: By,
        *,
        order: Sequence[object] | None = None,
        unit: By | None = None,
        level: float = 0.95,
    ) -> Estimate: ...


@dataclass(frozen=True, kw_only=True)
class EffectChoice(Choice):
    """An effect size. measure: of two groups; code: an expression of a script that gives it of `a` and `b`, "" for
    none; factor: whether it is a factor, so that 1 means no difference; together: another record, of the same where all
    pairs have limits together."""

    measure: EffectSize
    code: str = ""
    factor: bool = False
    together: Choice | None = None


EFFECTS: dict[str, EffectChoice] = by_id(
    (
        EffectChoice(
            id="mean",
            label="difference of means",
            help="In the unit of the data; Welch's limits, all pairs together by Games and Howell.",
            definition="Welch's interval; all pairs together by Games and Howell.",
            caption="difference of means",
            methods="differences of means have {percent} limits by Welch, each pair for itself",
            sources=("welch-1947",),
            rank=1,
            measure=mean_difference,
            code="np.mean(a) - np.mean(b)",
            together=Choice(
                id="games-howell",
                label="all pairs together",
                help="Limits that hold for all pairs at once.",
                caption="simultaneous {percent} limits",
                methods="differences of means have simultaneous {percent} limits",
                sources=("games-howell-1976",),
            ),
        ),
        EffectChoice(
            id="median",
            label="difference of medians",
            help="In the unit of the data; far values do not move it.",
            definition="Percentile bootstrap interval of the difference.",
            caption="difference of medians",
            methods="differences of medians have bootstrap limits",
            sources=("efron-tibshirani-1993",),
            rank=2,
            measure=median_difference,
            code="np.median(a) - np.median(b)",
        ),
        EffectChoice(
            id="ratio",
            label="ratio of geometric means",
            help="A factor, for values above 0.",
            definition="Welch's interval of the difference of mean logs, back-transformed.",
            caption="ratio of geometric means",
            methods="differences are given as ratios of geometric means",
            rank=3,
            measure=ratio_of_geometric_means,
            code="stats.gmean(a) / stats.gmean(b)",
            factor=True,
        ),
        EffectChoice(
            id="hedges-g",
            label="Hedges' g",
            help="In SDs, for results in different units.",
            definition="(mean − mean)/pooled SD times the exact gamma correction; limits by the noncentral t.",
            caption="Hedges' g",
            methods="differences are given as Hedges' g",
            sources=("hedges-1981", "steiger-fouladi-1997"),
            rank=4,
            measure=hedges_g,
        ),
        EffectChoice(
            id="cliffs-delta",
            label="Cliff's delta",
            help="How often a value of the first group is the larger; needs order alone.",
            definition="Share of pairs in which the first is larger less that in which it is smaller; limits are not "
            "symmetric.",
            caption="Cliff's delta",
            methods="differences are given as Cliff's delta",
            sources=("feng-cliff-2004",),
            rank=5,
            measure=cliffs_delta,
            code="2 * stats.mannwhitneyu(a, b).statistic / (a.size * b.size) - 1",
        ),
    )
)


def satterthwaite(a: float, b: float, n: int, m: int) -> float:
    """Welch's degrees of freedom of two squared standard errors, by their shares, which do not underflow."""
    share = a / (a + b)
    return 1 / (share**2 / (n - 1) + (1 - share) ** 2 / (m - 1))


def _means(two: _Two, level: float) -> tuple[float, float | None, float | None, float | None]:
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
    if se == 0:  # nothing tells how far such a difference may be off
        return gap, None, None, None
    reach = float(special.stdtrit(df, 0.5 + level / 2)) * se
    return gap, gap - reach, gap + reach, 2 * float(special.stdtr(df, -abs(gap / se)))
