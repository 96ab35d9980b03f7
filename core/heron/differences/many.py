"""How many groups differ: by centre, by spread, and pair by pair; the size first, the p value second."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from itertools import combinations
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron import studentized
from heron.checks import Floats, as_values, within
from heron.differences.effects import LARGEST, TOO_LARGE, satterthwaite
from heron.errors import InputError
from heron.grouping import By, Grouping, groups_of
from heron.normality import holm
from heron.results import Result

MOST_PAIRED = 20  # groups of which all pairs are compared


@dataclass(frozen=True)
class Test:
    """A test's statistic with its degrees of freedom and p value, and an effect size by name."""

    statistic: float
    df1: float
    df2: float | None
    p_value: float
    effect: float | None = None
    effect_name: str = ""


@dataclass(frozen=True)
class Spreads(Result, rows=("levene", "brown_forsythe")):
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
    """Of the first group from the second. difference of means with simultaneous limits; p_value adjusted for all
    pairs; dunn_p: of the difference of mean ranks, adjusted after Holm."""

    first: str
    second: str
    difference: float
    low: float | None
    high: float | None
    p_value: float | None
    dunn_p: float | None


@dataclass(frozen=True)
class GroupsCompared(Result, rows="pairs"):
    """Groups together: Welch's analysis of variance with omega squared, Kruskal and Wallis' with epsilon squared, and
    all pairs (Games and Howell), or those with a reference."""

    welch: Test | None
    kruskal_wallis: Test | None
    pairs: tuple[Pair, ...]
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def _parts(values: ArrayLike, by: By, order: Sequence[object] | None) -> tuple[dict[str, Floats], int]:
    """The values of each group by its label, and how many rows of groups have none."""
    x = as_values(values, where="values")
    grouping = groups_of(by, x.length, order=order)
    parts = Grouping(grouping.labels, grouping.places[x.positions]).rows()
    known = {label: x.values[own] for label, own in zip(grouping.labels, parts, strict=True)}
    return known, int(np.count_nonzero(grouping.places >= 0)) - sum(part.size for part in parts)


def compare_spreads(values: ArrayLike, by: By, *, order: Sequence[object] | None = None) -> Spreads:
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
    Spreads
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
        return Spreads(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
    undefined: dict[str, str] = {}
    if max(float(np.abs(values).max()) for values in parts) > LARGEST:
        why = TOO_LARGE
        return Spreads(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
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
    return Spreads(tests["levene"], tests["brown_forsythe"], ratio, n, missing, undefined)


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
    simultaneous: bool = True,
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
    simultaneous : bool, optional
        Whether the pairs have limits and p values, which take the longest.

    Returns
    -------
    GroupsCompared
        Welch's analysis of variance, Kruskal and Wallis' test, and the pairs of groups in the unit of the data.

    Raises
    ------
    InputError
        For a reference that is no group.

    Notes
    -----
    Omega squared is df1 (F - 1)/(df1 (F - 1) + n), no less than 0; epsilon squared H/(n - 1). Games and Howell's limits
    hold for all pairs together whether or not spreads are equal; Dunn's p values are adjusted after Holm.

    References
    ----------
    welch-1951
    hays-1963, for omega squared
    kelley-1935, for epsilon squared
    kruskal-wallis-1952, table 1
    games-howell-1976
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
    n = sum(values.size for values in known.values())
    parts = {label: values for label, values in known.items() if values.size > 1}
    if len(parts) < 2:
        why = "It needs 2 groups of 2 values or more."
        return GroupsCompared(None, None, (), level, n, missing, {"welch": why, "kruskal_wallis": why, "pairs": why})
    undefined: dict[str, str] = {}
    if max(float(np.abs(values).max()) for values in parts.values()) > LARGEST:
        kruskal = _kruskal(list(parts.values()))[0]
        return GroupsCompared(None, kruskal, (), level, n, missing, {"welch": TOO_LARGE, "pairs": TOO_LARGE})
    spreads = [float(values.var(ddof=1)) for values in parts.values()]
    welch = _welch_anova(list(parts.values())) if min(spreads) > 0 else None
    if welch is None:
        undefined["welch"] = "A group has no spread."
    kruskal, ranks, tied = _kruskal(list(parts.values()))
    if kruskal is None:
        undefined["kruskal_wallis"] = "All values are the same."
    if len(parts) > MOST_PAIRED and reference is None:
        undefined["pairs"] = f"All pairs are compared for up to {MOST_PAIRED} groups; choose a reference."
        return GroupsCompared(welch, kruskal, (), level, n, missing, undefined)
    pairs = _pairs(parts, ranks, tied, level if simultaneous else None, reference)
    return GroupsCompared(welch, kruskal, pairs, level, n, missing, undefined)


def _welch_anova(parts: list[Floats]) -> Test:
    k, n = len(parts), sum(part.size for part in parts)
    sizes = np.array([part.size for part in parts])
    weights = sizes / np.array([part.var(ddof=1) for part in parts])
    lack = float(np.sum((1 - weights / weights.sum()) ** 2 / (sizes - 1)))
    df2 = (k**2 - 1) / (3 * lack)
    test = stats.f_oneway(*parts, equal_var=False)
    f = float(test.statistic)
    omega = max((k - 1) * (f - 1) / ((k - 1) * (f - 1) + n), 0.0)
    return Test(f, k - 1, df2, float(test.pvalue), omega, "omega squared")


def _kruskal(parts: list[Floats]) -> tuple[Test | None, list[float], float]:
    """The test, the mean rank of each group, and what ties take from the variance of ranks."""
    joined = np.concatenate(parts)
    n = joined.size
    ranked = stats.rankdata(joined)
    counts = np.unique(joined, return_counts=True)[1].astype(np.float64)
    tied = float(np.sum(counts**3 - counts))
    ends = np.cumsum([part.size for part in parts])
    own = np.split(ranked, ends[:-1])
    means = [float(part.mean()) for part in own]
    if tied == n**3 - n:
        return None, means, tied
    h, p_value = stats.kruskal(*parts)
    test = Test(float(h), len(parts) - 1, None, float(p_value), float(h) / (n - 1), "epsilon squared")
    return test, means, tied


def _pairs(
    parts: dict[str, Floats], ranks: list[float], tied: float, level: float | None, reference: str | None
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
    adjusted = holm(dunn)
    result = []
    for (i, j), p in zip(wanted, adjusted, strict=True):
        x, y = parts[labels[i]], parts[labels[j]]
        gap = float(x.mean() - y.mean())
        low, high, own_p = (None,) * 3 if level is None else _games_howell(x, y, gap, len(labels), level)
        result.append(Pair(labels[i], labels[j], gap, low, high, own_p, p))
    return tuple(result)


def _games_howell(
    x: Floats, y: Floats, gap: float, k: int, level: float
) -> tuple[float | None, float | None, float | None]:
    """Simultaneous limits by the studentized range with Welch's degrees of freedom, and the adjusted p value."""
    a, b = float(x.var(ddof=1)) / x.size, float(y.var(ddof=1)) / y.size
    if a + b == 0:
        return None, None, None
    df = satterthwaite(a, b, x.size, y.size)
    se = math.sqrt((a + b) / 2)
    reach = studentized.point(level, k, df) * se
    return gap - reach, gap + reach, studentized.upper_tail(abs(gap) / se, k, df)


def words_on_differences(groups_compared: GroupsCompared, spreads: Spreads) -> tuple[str, ...]:
    """Sentences: the size of what lies between groups first, then how surely, then whether spreads agree."""
    said = []
    if groups_compared.welch is not None and groups_compared.welch.effect is not None:
        said.append(
            f"Groups account for about {100 * groups_compared.welch.effect:.0f} % of the variance (omega squared); by "
            "Welch's "
            f"analysis of variance {_sureness(groups_compared.welch.p_value)} a difference of means."
        )
    if groups_compared.kruskal_wallis is not None:
        said.append(f"By ranks (Kruskal and Wallis) {_sureness(groups_compared.kruskal_wallis.p_value)} a difference.")
    if spreads.sd_ratio is not None:
        words = f"The largest SD is {spreads.sd_ratio:.1f} times the smallest"
        test = spreads.brown_forsythe
        said.append(f"{words}; {_sureness(test.p_value)} unequal spreads." if test else f"{words}.")
    return tuple(said)


def _sureness(p: float) -> str:
    words = "there is little evidence for" if p >= 0.05 else "there is some evidence for"
    return f"{words if p >= 0.01 else 'there is strong evidence for'}"
