"""How many groups differ: by centre, by spread, and pair by pair; the size first, the p value second."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import combinations, pairwise
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import optimize, special, stats

from heron import resampling
from heron.checks import Floats, Ints, as_values, choose, within
from heron.differences.limits import LIMITS, SPREADS, LimitsChoice, Spreads, groups_of_limits, limits, limits_of
from heron.differences.tests import Test
from heron.differences.two import LARGEST, TOO_LARGE
from heron.errors import InputError
from heron.formatting import fixed, sureness
from heron.grouping import By, Grouping, groups_of
from heron.normality import holm
from heron.results import Result

MOST_PAIRED = 20  # groups of which all pairs are compared


@dataclass(frozen=True)
class SpreadsCompared(Result, rows=("levene", "brown_forsythe")):
    """Whether groups are equally spread: Levene's test (about means), Brown and Forsythe's (about medians), the ratio
    of the largest SD to the smallest."""

    levene: Test | None
    brown_forsythe: Test | None
    sd_ratio: float | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Pair:
    """Of the first group from the second. difference of means with its limits; p_value belongs to these; dunn_p: of the
    difference of mean ranks, adjusted after Holm."""

    first: str
    second: str
    difference: float
    low: float | None
    high: float | None
    p_value: float | None
    dunn_p: float | None


@dataclass(frozen=True)
class GroupsCompared(Result, rows="pairs"):
    """Groups together: analysis of variance (Welch's, and the classical one) with omega squared, Kruskal and Wallis'
    test with epsilon squared, and all pairs, or those with a reference. limits: how theirs are had, a key of LIMITS."""

    welch: Test | None
    classical: Test | None
    kruskal_wallis: Test | None
    pairs: tuple[Pair, ...]
    limits: str
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def _parts(values: ArrayLike, by: By, order: Sequence[object] | None) -> tuple[dict[str, Floats], int]:
    """The values of each group by its label, and how many rows of groups have none."""
    x = as_values(values, where="values")
    grouping = groups_of(by, x.length, order=order)
    parts = Grouping(grouping.labels, grouping.places[x.positions]).rows()
    known = {label: x.values[rows] for label, rows in zip(grouping.labels, parts, strict=True)}
    return known, int(np.count_nonzero(grouping.places >= 0)) - sum(part.size for part in parts)


def compare_spreads(values: ArrayLike, by: By, *, order: Sequence[object] | None = None) -> SpreadsCompared:
    """Return whether groups are equally spread.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; groups of fewer than 2 values take no part.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.

    Returns
    -------
    SpreadsCompared
        Levene's test about means, Brown and Forsythe's about medians, and the ratio of the largest SD to the smallest.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    Analysis of variance of the distances from the groups' centres.

    References
    ----------
    levene-1960
    brown-forsythe-1974

    Examples
    --------
    >>> compare_spreads([1, 2, 3, 10, 20, 30], list("aaabbb")).sd_ratio
    10.0
    """
    known, missing = _parts(values, by, order)
    parts = [values for values in known.values() if values.size > 1]
    n = sum(values.size for values in known.values())
    if len(parts) < 2:
        why = "It needs 2 groups of 2 values or more."
        return SpreadsCompared(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
    undefined: dict[str, str] = {}
    if max(float(np.abs(values).max()) for values in parts) > LARGEST:
        why = TOO_LARGE
        return SpreadsCompared(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
    sds = [float(values.std(ddof=1)) for values in parts]
    ratio = max(sds) / min(sds) if min(sds) > 0 else None
    if ratio is None:
        undefined["sd_ratio"] = "A group has no spread."
    tests: dict[str, Test | None] = {}
    centres: tuple[tuple[str, Literal["mean", "median"]], ...] = (("levene", "mean"), ("brown_forsythe", "median"))
    for name, centre in centres:
        tests[name] = _levene(parts, centre)
        if tests[name] is None:
            undefined[name] = "There is no spread to compare."
    return SpreadsCompared(tests["levene"], tests["brown_forsythe"], ratio, n, missing, undefined)


def _levene(parts: list[Floats], centre: Literal["mean", "median"]) -> Test | None:
    """Analysis of variance of the distances from the groups' centres; None where these are all the same."""
    n, k = sum(part.size for part in parts), len(parts)
    with np.errstate(all="ignore"):
        test = stats.levene(*parts, center=centre)
    return Test(float(test.statistic), k - 1, n - k, float(test.pvalue)) if np.isfinite(test.statistic) else None


def compare_groups(
    values: ArrayLike,
    by: By,
    *,
    order: Sequence[object] | None = None,
    level: float = 0.95,
    reference: str | None = None,
    together: bool = True,
    spreads: Spreads = "unequal",
) -> GroupsCompared:
    """Return how the centres of groups differ.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; groups of fewer than 2 values take no part.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    level : float, optional
        Of the simultaneous limits, between 0 and 1.
    reference : str, optional
        The group with which alone the others are compared in `pairs`.
    together : bool, optional
        Whether the limits of the pairs hold for all of them at once, or each for itself.
    spreads : {"unequal", "equal"}, optional
        Whether the limits rest on each group's own SD, or on one that is pooled over all groups.

    Returns
    -------
    GroupsCompared
        Analysis of variance, Kruskal and Wallis' test, and the pairs of groups in the unit of the data.

    Raises
    ------
    InputError
        For a reference that is no group.

    Notes
    -----
    Omega squared is df1 (F - 1)/(df1 (F - 1) + n), no less than 0, its limits those noncentralities L of F under which
    the observed one would be a percent point, as L/(L + n). Epsilon squared is H/(n - 1), its limits the percent points
    of 999 seeded resamples of each group, for up to 10,000 values. Limits of pairs: together and unequal, Games and
    Howell, or with a reference Hasler and Hothorn; together and equal, Tukey and Kramer, or with a reference Dunnett;
    each for itself, Welch, or Student's t with the pooled SD. Dunn's p values are adjusted after Holm.

    References
    ----------
    welch-1951
    hays-1963, for omega squared
    steiger-fouladi-1997, for its limits
    kelley-1935, for epsilon squared
    kruskal-wallis-1952, table 1
    games-howell-1976
    tukey-1953, and kramer-1956 for unequal sizes
    dunnett-1955
    hasler-hothorn-2008
    dunn-1964
    holm-1979

    Examples
    --------
    Daily bottle-caps of three machines, of which Kruskal and Wallis give H = 5.656:

    >>> caps = [340, 345, 330, 342, 338, 339, 333, 344, 347, 343, 349, 355]
    >>> machine = ["standard"] * 5 + ["first"] * 3 + ["second"] * 4
    >>> round(compare_groups(caps, machine).kruskal_wallis.statistic, 3)
    5.656
    """
    within(level, above=0, below=1, where="level")
    known, missing = _parts(values, by, order)
    if reference is not None and reference not in known:
        raise InputError("no-group", f"There is no group {reference!r}.", where="reference")
    choose(spreads, SPREADS, where="spreads")
    how = limits_of(together=together, equal=spreads == "equal", reference=reference is not None)
    n = sum(values.size for values in known.values())
    parts = {label: values for label, values in known.items() if values.size > 1}
    if len(parts) < 2:
        why = "It needs 2 groups of 2 values or more."
        undefined = dict.fromkeys(("welch", "classical", "kruskal_wallis", "pairs"), why)
        return GroupsCompared(None, None, None, (), how.id, level, n, missing, undefined)
    kept = list(parts.values())
    kruskal, ranks, tied = _kruskal(kept, level)
    if max(float(np.abs(values).max()) for values in kept) > LARGEST:
        undefined = dict.fromkeys(("welch", "classical", "pairs"), TOO_LARGE)
        return GroupsCompared(None, None, kruskal, (), how.id, level, n, missing, undefined)
    undefined = {}
    spread = [float(values.var(ddof=1)) for values in kept]
    welch = _analysis_of_variance(kept, level, equal=False) if min(spread) > 0 else None
    if welch is None:
        undefined["welch"] = "A group has no spread."
    classical = _analysis_of_variance(kept, level, equal=True) if max(spread) > 0 else None
    if classical is None:
        undefined["classical"] = "No group has any spread."
    if kruskal is None:
        undefined["kruskal_wallis"] = "All values are the same."
    if len(parts) > MOST_PAIRED and reference is None:
        undefined["pairs"] = f"All pairs are compared for up to {MOST_PAIRED} groups; choose a reference."
        return GroupsCompared(welch, classical, kruskal, (), how.id, level, n, missing, undefined)
    pairs = _pairs(parts, ranks, tied, how, level, reference)
    return GroupsCompared(welch, classical, kruskal, pairs, how.id, level, n, missing, undefined)


def _analysis_of_variance(parts: list[Floats], level: float, *, equal: bool) -> Test:
    k, n = len(parts), sum(part.size for part in parts)
    sizes = np.array([part.size for part in parts])
    with np.errstate(all="ignore"):
        test = stats.f_oneway(*parts, equal_var=equal)
    f, df2 = float(test.statistic), float(n - k)
    if not equal:
        weights = sizes / np.array([part.var(ddof=1) for part in parts])
        df2 = (k**2 - 1) / (3 * float(np.sum((1 - weights / weights.sum()) ** 2 / (sizes - 1))))
    omega = max((k - 1) * (f - 1) / ((k - 1) * (f - 1) + n), 0.0)
    ends = [_noncentrality(f, k - 1, df2, share) for share in ((1 + level) / 2, (1 - level) / 2)]
    low, high = (None if end is None else end / (end + n) for end in ends)
    return Test(f, k - 1, df2, float(test.pvalue), omega, "omega squared", low, high)


def _noncentrality(f: float, df1: float, df2: float, share: float) -> float | None:
    """The noncentrality of F under which that share lies below f; 0 where none does, None where it is not found."""
    if float(special.fdtr(df1, df2, f)) <= share:
        return 0.0

    def off(noncentrality: float) -> float:
        return float(special.ncfdtr(df1, df2, noncentrality, f)) - share

    high = df1 * f + 1
    while high < _LARGEST_NONCENTRALITY and off(high) > 0:
        high *= 2
    return float(optimize.brentq(off, 0, high, rtol=1e-10)) if high < _LARGEST_NONCENTRALITY else None


_LARGEST_NONCENTRALITY = 1e6  # beyond, groups are as good as apart, and the distribution takes long
_RESAMPLES = 999
MOST_RESAMPLED = 10_000  # values, for limits of epsilon squared


def _kruskal(parts: list[Floats], level: float) -> tuple[Test | None, list[float], float]:
    """The test, the mean rank of each group, and what ties take from the variance of ranks."""
    joined = np.concatenate(parts)
    n = joined.size
    ranked = stats.rankdata(joined)
    counts = np.unique(joined, return_counts=True)[1].astype(np.float64)
    tied = float(np.sum(counts**3 - counts))
    ends = np.cumsum([part.size for part in parts])
    group_ranks = np.split(ranked, ends[:-1])
    means = [float(part.mean()) for part in group_ranks]
    if tied == n**3 - n:
        return None, means, tied
    h, p_value = stats.kruskal(*parts)
    limits = _epsilon_resampled(joined, ends, level) if n <= MOST_RESAMPLED else (None, None)
    test = Test(float(h), len(parts) - 1, None, float(p_value), float(h) / (n - 1), "epsilon squared", *limits)
    return test, means, tied


def _epsilon_resampled(joined: Floats, ends: Ints, level: float) -> tuple[float, float]:
    """Limits of epsilon squared: it is what groups have of the variance of ranks, here of resamples of each group, each
    of which is told by how often it has every value."""
    rng = np.random.default_rng(20_241)
    codes = np.unique(joined, return_inverse=True)[1]
    n, distinct, middle = joined.size, int(codes.max()) + 1, (joined.size + 1) / 2
    groups = list(pairwise([0, *ends.tolist()]))
    starts, sizes = np.array([start for start, _ in groups]), np.diff([0, *ends.tolist()])
    rows = max(1, 2_000_000 // n)
    result = []
    for first in range(0, _RESAMPLES, rows):
        m = min(rows, _RESAMPLES - first)
        drawn = np.concatenate([codes[rng.integers(start, end, (m, end - start))] for start, end in groups], axis=1)
        at = drawn + distinct * np.arange(m)[:, None]
        counts = np.bincount(at.ravel(), minlength=m * distinct).reshape(m, distinct)
        off = np.cumsum(counts, axis=1) - (counts - 1) / 2 - middle
        sums = np.add.reduceat(off.ravel()[at], starts, axis=1)
        whole = np.einsum("ij,ij->i", counts, off**2)
        result.append(np.divide((sums**2 / sizes).sum(axis=1), whole, out=np.zeros(m), where=whole > 0))
    return resampling.percentile(np.concatenate(result), level)


def _pairs(
    parts: dict[str, Floats], ranks: list[float], tied: float, how: LimitsChoice, level: float, reference: str | None
) -> tuple[Pair, ...]:
    labels = list(parts)
    n = sum(part.size for part in parts.values())
    wanted = [
        (i, j)
        for i, j in combinations(range(len(labels)), 2)
        if reference is None or reference in (labels[i], labels[j])
    ]
    # The reference stands second, so that each difference is from it.
    wanted = [(j, i) if reference == labels[i] else (i, j) for i, j in wanted]
    variance = (n * (n + 1) - tied / (n - 1)) / 12
    dunn = []
    for i, j in wanted:
        sizes = 1 / parts[labels[i]].size + 1 / parts[labels[j]].size
        z = abs(ranks[i] - ranks[j]) / math.sqrt(variance * sizes) if variance > 0 else 0.0
        dunn.append(2 * float(special.ndtr(-z)))
    measured = groups_of_limits(list(parts.values()))
    return tuple(
        Pair(labels[i], labels[j], float(measured.means[i] - measured.means[j]), *ends, adjusted)
        for (i, j), ends, adjusted in zip(wanted, limits(measured, wanted, how, level), holm(dunn), strict=True)
    )


def words_on_differences(groups_compared: GroupsCompared, spreads: SpreadsCompared) -> tuple[str, ...]:
    """Sentences: the size of what lies between groups first, then how surely, then whether spreads agree."""
    said = []
    equal = LIMITS[groups_compared.limits].equal
    test = groups_compared.classical if equal else groups_compared.welch
    if test is not None and test.effect is not None:
        name = "analysis of variance, spreads taken for equal," if equal else "Welch's analysis of variance"
        said.append(
            f"Groups account for about {fixed(100 * test.effect, 0)} % of the variance (omega squared); by {name} "
            f"{sureness(test.p_value)} a difference of means."
        )
    if groups_compared.kruskal_wallis is not None:
        said.append(f"By ranks (Kruskal and Wallis) {sureness(groups_compared.kruskal_wallis.p_value)} a difference.")
    if spreads.sd_ratio is not None:
        words = f"The largest SD is {fixed(spreads.sd_ratio, 1)} times the smallest"
        test = spreads.brown_forsythe
        said.append(f"{words}; {sureness(test.p_value)} unequal spreads." if test else f"{words}.")
    return tuple(said)
