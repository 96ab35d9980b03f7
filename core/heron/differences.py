"""How groups differ: two of them by size, all of them by centre and by spread; the size first, the p value second."""

import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from itertools import combinations

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron import resampling, studentized
from heron.checks import Floats, as_values, within
from heron.errors import InputError
from heron.normality import holm
from heron.summary import exponential

MOST_PAIRED = 20  # groups of which all pairs are compared
_LARGEST = 1e150
_TOO_LARGE = f"Values beyond {_LARGEST:g} cannot be squared, and so not be compared."


@dataclass(frozen=True)
class Estimate:
    """A difference with its limits; p_value of no difference, None where none is given."""

    estimate: float
    low: float | None
    high: float | None
    p_value: float | None = None


@dataclass(frozen=True)
class Difference:
    """Of the first group from the second: mean_difference in the unit of the data (Welch; paired, of the pairs'
    differences), median_difference (percentile bootstrap; paired, of the differences), hedges_g (paired: mean
    difference in SDs of the differences), cliffs_delta from -1 to 1, ratio_of_geometric_means. None where undefined,
    with the reason. seed: of resampling."""

    mean_difference: Estimate | None
    median_difference: Estimate | None
    hedges_g: Estimate | None
    cliffs_delta: Estimate | None
    ratio_of_geometric_means: Estimate | None
    level: float
    paired: bool
    seed: int
    n: int
    n_first: int
    n_second: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


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
class Spreads:
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
class Several:
    """Groups together: Welch's analysis of variance with omega squared, Kruskal and Wallis' with epsilon squared, and
    all pairs (Games and Howell), or those with a reference."""

    welch: Test | None
    kruskal_wallis: Test | None
    pairs: tuple[Pair, ...]
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def compare(
    a: ArrayLike,
    b: ArrayLike,
    *,
    level: float = 0.95,
    paired: bool = False,
    seed: int = 20_240,
    progress: resampling.Progress | None = None,
) -> Difference:
    """Return how much the first group differs from the second.

    Parameters: a, b (n,) floats, NaN for missing, of equal length where paired (pairs with a gap are left out); level
    of the limits; seed of the bootstrap; progress is told the share of it that is done, and may raise to end it.
    Raises: InputError for fewer than 2 values in a group.
    Notes: Hedges' g by the pooled SD with the exact gamma correction, limits from the noncentral t multiplied by the
    same; Cliff's delta with Feng and Cliff's asymmetric limits; the ratio by Welch's interval on logs.
    References: welch-1947; hedges-1981; feng-cliff-2004.
    """
    within(level, above=0, below=1, where="level")
    if paired:
        return _compare_paired(np.asarray(a, dtype=np.float64), np.asarray(b, dtype=np.float64), level, seed)
    first, second = as_values(a, where="a"), as_values(b, where="b")
    x, y = first.values, second.values
    if x.size < 2 or y.size < 2:
        raise InputError("too-few-values", "A difference needs 2 values in each group.", where="a")
    if max(float(np.abs(x).max()), float(np.abs(y).max())) > _LARGEST:
        raise InputError("too-large", _TOO_LARGE, where="a", remedy="Put the variable in a larger unit.")
    undefined: dict[str, str] = {}
    mean, g = _welch(x, y, level), _hedges(x, y, level)
    if g is None:
        undefined["hedges_g"] = "Neither group has any spread."
    ratio = None
    if x.min() > 0 and y.min() > 0:
        logs = _welch(np.log(x), np.log(y), level)
        ends = [None if end is None else exponential(end) for end in (logs.low, logs.high)]
        ratio = Estimate(exponential(logs.estimate), ends[0], ends[1], logs.p_value)
    else:
        undefined["ratio_of_geometric_means"] = "It needs values above 0."
    median = None
    if max(x.size, y.size) <= resampling.MOST_VALUES:
        parts = [
            resampling.resampled(
                each,
                lambda block: np.asarray(np.median(block, axis=1)),
                seed=seed + i,
                progress=lambda share, i=i: progress((i + share) / 2) if progress else None,  # type: ignore[misc]
            )
            for i, each in enumerate((x, y))
        ]
        low, high = resampling.percentile(parts[0] - parts[1], level)
        median = Estimate(float(np.median(x) - np.median(y)), low, high)
    else:
        undefined["median_difference"] = f"It is resampled for up to {resampling.MOST_VALUES} values in a group."
    missing = first.n_missing + second.n_missing
    return Difference(
        mean, median, g, _cliff(x, y, level), ratio, level, False, seed, x.size + y.size, x.size, y.size, missing,
        undefined,
    )  # fmt: skip


def _compare_paired(a: Floats, b: Floats, level: float, seed: int) -> Difference:
    if a.size != b.size:
        raise InputError("length-mismatch", f"Pairs need equal lengths; there are {a.size} and {b.size}.", where="b")
    whole = np.isfinite(a) & np.isfinite(b)
    x, y = a[whole], b[whole]
    n = x.size
    if n < 2:
        raise InputError("too-few-values", "A paired difference needs 2 pairs.", where="a")
    undefined = {"cliffs_delta": "It is for groups that are not paired."}
    mean = _one_sample(x - y, level)
    sd = float((x - y).std(ddof=1))
    g = None
    if sd > 0:
        t = float((x - y).mean()) / sd * math.sqrt(n)
        low, high = _noncentral(t, n - 1, level)
        j = _gamma_correction(n - 1)
        g = Estimate(j * t / math.sqrt(n), j * low / math.sqrt(n), j * high / math.sqrt(n))
    else:
        undefined["hedges_g"] = "The differences are all the same."
    ratio = None
    if n and x.min() > 0 and y.min() > 0:
        logs = _one_sample(np.log(x) - np.log(y), level)
        ends = [None if end is None else exponential(end) for end in (logs.low, logs.high)]
        ratio = Estimate(exponential(logs.estimate), ends[0], ends[1], logs.p_value)
    else:
        undefined["ratio_of_geometric_means"] = "It needs values above 0."
    found = resampling.resampled(x - y, lambda block: np.asarray(np.median(block, axis=1)), seed=seed)
    median = Estimate(float(np.median(x - y)), *resampling.percentile(found, level))
    return Difference(mean, median, g, None, ratio, level, True, seed, n, n, n, a.size - n, undefined)


def _satterthwaite(a: float, b: float, n: int, m: int) -> float:
    """Welch's degrees of freedom of two squared standard errors, by their shares, which do not underflow."""
    share = a / (a + b)
    return 1 / (share**2 / (n - 1) + (1 - share) ** 2 / (m - 1))


def _one_sample(d: Floats, level: float) -> Estimate:
    n, middle = d.size, float(d.mean())
    se = float(d.std(ddof=1)) / math.sqrt(n)
    if se == 0:
        return Estimate(middle, middle, middle)
    reach = float(special.stdtrit(n - 1, 0.5 + level / 2)) * se
    return Estimate(middle, middle - reach, middle + reach, 2 * float(special.stdtr(n - 1, -abs(middle / se))))


def _welch(x: Floats, y: Floats, level: float) -> Estimate:
    gap = float(x.mean() - y.mean())
    parts = [float(each.var(ddof=1)) / each.size for each in (x, y)]
    total = sum(parts)
    if total == 0:
        return Estimate(gap, gap, gap)
    df = _satterthwaite(parts[0], parts[1], x.size, y.size)
    se = math.sqrt(total)
    reach = float(special.stdtrit(df, 0.5 + level / 2)) * se
    return Estimate(gap, gap - reach, gap + reach, 2 * float(special.stdtr(df, -abs(gap / se))))


def _gamma_correction(df: float) -> float:
    return math.exp(math.lgamma(df / 2) - math.lgamma((df - 1) / 2)) / math.sqrt(df / 2) if df > 1 else 0.0


def _noncentral(t: float, df: float, level: float) -> tuple[float, float]:
    """The noncentralities under which t would be an upper or lower percent point."""
    low = float(special.nctdtrinc(df, (1 + level) / 2, t))
    high = float(special.nctdtrinc(df, (1 - level) / 2, t))
    return low, high


def _hedges(x: Floats, y: Floats, level: float) -> Estimate | None:
    n, m = x.size, y.size
    df = n + m - 2
    pooled = math.sqrt(((n - 1) * float(x.var(ddof=1)) + (m - 1) * float(y.var(ddof=1))) / df)
    if pooled == 0:
        return None
    scale = math.sqrt(n * m / (n + m))
    d = float(x.mean() - y.mean()) / pooled
    low, high = _noncentral(d * scale, df, level)
    j = _gamma_correction(df)
    return Estimate(j * d, j * low / scale, j * high / scale)


def _cliff(x: Floats, y: Floats, level: float) -> Estimate:
    """Feng and Cliff's: from the variances of each value's own dominance, counted in sorted order."""
    n, m = x.size, y.size
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
        return Estimate(delta, delta, delta)
    middle = delta - delta**3
    return Estimate(delta, max((middle - spread) / under, -1.0), min((middle + spread) / under, 1.0))


def _known(groups: Mapping[str, ArrayLike]) -> tuple[dict[str, Floats], int]:
    checked = {label: as_values(values, where=label) for label, values in groups.items()}
    return {label: each.values for label, each in checked.items()}, sum(each.n_missing for each in checked.values())


def spread(groups: Mapping[str, ArrayLike]) -> Spreads:
    """Return whether groups, by label, are equally spread; groups of fewer than 2 values take no part.

    References: levene-1960; brown-forsythe-1974.
    """
    known, missing = _known(groups)
    parts = [values for values in known.values() if values.size > 1]
    n = sum(values.size for values in known.values())
    if len(parts) < 2:
        why = "It needs 2 groups of 2 values or more."
        return Spreads(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
    undefined: dict[str, str] = {}
    if max(float(np.abs(values).max()) for values in parts) > _LARGEST:
        why = _TOO_LARGE
        return Spreads(None, None, None, n, missing, {"levene": why, "brown_forsythe": why, "sd_ratio": why})
    sds = [float(values.std(ddof=1)) for values in parts]
    ratio = max(sds) / min(sds) if min(sds) > 0 else None
    if ratio is None:
        undefined["sd_ratio"] = "A group has no spread."
    tests: dict[str, Test | None] = {}
    for name, center in (("levene", "mean"), ("brown_forsythe", "median")):
        off = [np.abs(values - (values.mean() if center == "mean" else np.median(values))) for values in parts]
        tests[name] = _anova(off)
        if tests[name] is None:
            undefined[name] = "There is no spread to compare."
    return Spreads(tests["levene"], tests["brown_forsythe"], ratio, n, missing, undefined)


def _anova(parts: list[Floats]) -> Test | None:
    """Analysis of variance of one factor, by sums about means."""
    total, k = sum(part.size for part in parts), len(parts)
    grand = float(np.concatenate(parts).mean())
    between = sum(part.size * (float(part.mean()) - grand) ** 2 for part in parts)
    inside = sum(float(np.sum((part - part.mean()) ** 2)) for part in parts)
    if inside == 0 or total <= k:
        return None
    f = between / (k - 1) / (inside / (total - k))
    return Test(f, k - 1, total - k, float(special.fdtrc(k - 1, total - k, f)))


def several(groups: Mapping[str, ArrayLike], *, level: float = 0.95, reference: str | None = None) -> Several:
    """Return how the centres of groups, by label, differ.

    Parameters: groups, (n,) floats each, NaN for missing; those of fewer than 2 values take no part; level of the
    simultaneous limits; reference: the group with which alone the others are compared in `pairs`.
    Raises: InputError for a reference that is no group.
    Notes: omega squared df1 (F - 1)/(df1 (F - 1) + n), no less than 0; epsilon squared H/(n - 1). Games and Howell's
    limits hold for all pairs together whether or not spreads are equal; Dunn's p values after Holm.
    References: welch-1951; kruskal-wallis-1952; games-howell-1976; dunn-1964; holm-1979.
    """
    within(level, above=0, below=1, where="level")
    known, missing = _known(groups)
    if reference is not None and reference not in known:
        raise InputError("no-group", f"There is no group {reference!r}.", where="reference")
    n = sum(values.size for values in known.values())
    parts = {label: values for label, values in known.items() if values.size > 1}
    if len(parts) < 2:
        why = "It needs 2 groups of 2 values or more."
        return Several(None, None, (), level, n, missing, {"welch": why, "kruskal_wallis": why, "pairs": why})
    undefined: dict[str, str] = {}
    if max(float(np.abs(values).max()) for values in parts.values()) > _LARGEST:
        kruskal = _kruskal(list(parts.values()))[0]
        return Several(None, kruskal, (), level, n, missing, {"welch": _TOO_LARGE, "pairs": _TOO_LARGE})
    spreads = [float(values.var(ddof=1)) for values in parts.values()]
    welch = _welch_anova(list(parts.values())) if min(spreads) > 0 else None
    if welch is None:
        undefined["welch"] = "A group has no spread."
    kruskal, ranks, tied = _kruskal(list(parts.values()))
    if kruskal is None:
        undefined["kruskal_wallis"] = "All values are the same."
    if len(parts) > MOST_PAIRED and reference is None:
        undefined["pairs"] = f"All pairs are compared for up to {MOST_PAIRED} groups; choose a reference."
        return Several(welch, kruskal, (), level, n, missing, undefined)
    return Several(welch, kruskal, _pairs(parts, ranks, tied, level, reference), level, n, missing, undefined)


def _welch_anova(parts: list[Floats]) -> Test:
    k, n = len(parts), sum(part.size for part in parts)
    means = np.array([part.mean() for part in parts])
    sizes = np.array([part.size for part in parts])
    weights = sizes / np.array([part.var(ddof=1) for part in parts])
    grand = float(np.sum(weights * means) / weights.sum())
    between = float(np.sum(weights * (means - grand) ** 2)) / (k - 1)
    lack = float(np.sum((1 - weights / weights.sum()) ** 2 / (sizes - 1)))
    f = between / (1 + 2 * (k - 2) / (k**2 - 1) * lack)
    df2 = (k**2 - 1) / (3 * lack)
    omega = max((k - 1) * (f - 1) / ((k - 1) * (f - 1) + n), 0.0)
    return Test(f, k - 1, df2, float(special.fdtrc(k - 1, df2, f)), omega, "omega squared")


def _kruskal(parts: list[Floats]) -> tuple[Test | None, list[float], float]:
    """The test, the mean rank of each group, and what ties take from the variance of ranks."""
    joined = np.concatenate(parts)
    n = joined.size
    ranked = stats.rankdata(joined)
    counts = np.unique(joined, return_counts=True)[1].astype(np.float64)
    tied = float(np.sum(counts**3 - counts))
    ends = np.cumsum([part.size for part in parts])
    own = np.split(ranked, ends[:-1])
    means = [float(each.mean()) for each in own]
    spread = 1 - tied / (n**3 - n)
    if spread == 0:
        return None, means, tied
    h = sum(each.size * (mean - (n + 1) / 2) ** 2 for each, mean in zip(own, means, strict=True))
    h *= 12 / (n * (n + 1)) / spread
    k = len(parts)
    test = Test(h, k - 1, None, float(special.chdtrc(k - 1, h)), h / (n - 1), "epsilon squared")
    return test, means, tied


def _pairs(
    parts: dict[str, Floats], ranks: list[float], tied: float, level: float, reference: str | None
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
    found = []
    for (i, j), p in zip(wanted, adjusted, strict=True):
        x, y = parts[labels[i]], parts[labels[j]]
        gap = float(x.mean() - y.mean())
        low, high, own_p = _games_howell(x, y, gap, len(labels), level)
        found.append(Pair(labels[i], labels[j], gap, low, high, own_p, p))
    return tuple(found)


def _games_howell(
    x: Floats, y: Floats, gap: float, k: int, level: float
) -> tuple[float | None, float | None, float | None]:
    """Simultaneous limits by the studentized range with Welch's degrees of freedom, and the adjusted p value."""
    a, b = float(x.var(ddof=1)) / x.size, float(y.var(ddof=1)) / y.size
    if a + b == 0:
        return None, None, None
    df = _satterthwaite(a, b, x.size, y.size)
    se = math.sqrt((a + b) / 2)
    reach = studentized.point(level, k, df) * se
    return gap - reach, gap + reach, studentized.upper_tail(abs(gap) / se, k, df)


def describe(found: Several, spreads: Spreads) -> tuple[str, ...]:
    """Sentences: the size of what lies between groups first, then how surely, then whether spreads agree."""
    said = []
    if found.welch is not None and found.welch.effect is not None:
        said.append(
            f"Groups account for about {100 * found.welch.effect:.0f} % of the variance (omega squared); by Welch's "
            f"analysis of variance {_sureness(found.welch.p_value)} a difference of means."
        )
    if found.kruskal_wallis is not None:
        said.append(f"By ranks (Kruskal and Wallis) {_sureness(found.kruskal_wallis.p_value)} a difference.")
    if spreads.sd_ratio is not None:
        words = f"The largest SD is {spreads.sd_ratio:.1f} times the smallest"
        test = spreads.brown_forsythe
        said.append(f"{words}; {_sureness(test.p_value)} unequal spreads." if test else f"{words}.")
    return tuple(said)


def _sureness(p: float) -> str:
    words = "there is little evidence for" if p >= 0.05 else "there is some evidence for"
    return f"{words if p >= 0.01 else 'there is strong evidence for'}"
