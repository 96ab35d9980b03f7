"""The numbers that describe one variable."""

import math
import sys
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import TOO_LARGE_TO_WRITE, Floats, Ints, as_values, choose, within
from heron.errors import InputError
from heron.formatting import significant
from heron.moments import Moments, safe_unit
from heron.ordered import InOrder, Ordered
from heron.quantiles import DEFINITIONS, Definition, of_sorted
from heron.results import Result

_LARGEST_POWER = math.log(sys.float_info.max)

MAD_FACTOR = 1 / float(special.ndtri(0.75))

_FENCE = 1.5  # IQRs beyond the quartiles


@dataclass(frozen=True)
class Summary(Result):
    """Statistics of one variable, in its unit unless said otherwise; None where undefined, with the reason.

    mean_low, mean_high: t interval; sd_low, sd_high: chi-square interval, right only if normal; median_low,
    median_high: order statistics whose exact coverage is median_level; fence_low, fence_high: 1.5 IQR beyond the
    quartiles; whisker_low, whisker_high: the furthest values within them; mad_scaled estimates a normal SD; cv is a
    ratio; skewness G1 and excess kurtosis G2 with their standard errors "if normal" have no unit; geometric_sd is a
    factor; modes: (k,) the most frequent values, empty when no value repeats.
    """

    n: int
    n_missing: int
    mean: float | None
    se: float | None
    mean_low: float | None
    mean_high: float | None
    sd: float | None
    sd_low: float | None
    sd_high: float | None
    variance: float | None
    cv: float | None
    minimum: float | None
    q1: float | None
    median: float | None
    q3: float | None
    maximum: float | None
    iqr: float | None
    fence_low: float | None
    fence_high: float | None
    whisker_low: float | None
    whisker_high: float | None
    range: float | None
    mad: float | None
    mad_scaled: float | None
    trimmed_mean: float | None
    winsorized_mean: float | None
    geometric_mean: float | None
    geometric_sd: float | None
    geometric_low: float | None
    geometric_high: float | None
    skewness: float | None
    skewness_se: float | None
    kurtosis: float | None
    kurtosis_se: float | None
    median_low: float | None
    median_high: float | None
    median_level: float | None
    modes: Floats
    total: float | None
    level: float
    trim: float
    quantile_definition: Definition
    undefined: dict[str, str] = field(default_factory=dict)


def summarize(
    x: ArrayLike,
    *,
    quantile_definition: Definition = 7,
    level: float = 0.95,
    trim: float = 0.1,
    true_zero: bool = True,
    weights: ArrayLike | None = None,
) -> Summary:
    """Return the numbers that describe one variable.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    quantile_definition : int or "hinges", optional
        Of the quartiles: 1 to 9 as Hyndman and Fan number them, or Tukey's hinges.
    level : float, optional
        Of the intervals, between 0 and 1.
    trim : float, optional
        The share that the trimmed and the winsorized mean cut, or pull in, at each end: from 0 to below 0.5.
    true_zero : bool, optional
        Whether zero means none; without, there is no coefficient of variation.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    Summary
        In the unit of x unless it says otherwise; None where undefined, with the reason in `undefined`.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.
    ChoiceError
        For a choice that there is not.

    Notes
    -----
    SD and variance divide by n - 1; skewness is G1 = g1 sqrt(n (n - 1))/(n - 2), kurtosis G2 = (n - 1)/((n - 2)(n - 3))
    ((n + 1) g2 + 6); floor(trim n) values are cut or pulled in at each end.

    References
    ----------
    joanes-gill-1998
    hyndman-fan-1996, for quartiles

    Examples
    --------
    The textbook's distances from the median are 1, 1, 0, 0, 2, 4 and 7:

    >>> result = summarize([1, 1, 2, 2, 4, 6, 9])
    >>> result.median, result.mad
    (2.0, 1.0)
    """
    checked = as_values(x, weights=weights)
    ordered = InOrder(np.sort(checked.values))
    return summary_of_ordered(ordered, checked.n_missing, quantile_definition, level, trim, true_zero)


def summary_of_ordered(
    ordered: Ordered, n_missing: int, definition: Definition, level: float, trim: float, true_zero: bool
) -> Summary:
    """The numbers of values that are known by their order, as `summarize` has them."""
    choose(definition, DEFINITIONS, where="quantile_definition")
    within(level, above=0, below=1, where="level")
    if not 0 <= trim < 0.5:
        raise InputError(
            "out-of-range", f"trim must be at least 0 and below 0.5; it is {significant(trim)}.", where="trim"
        )
    settings = (level, trim, definition)
    n = ordered.size
    if n == 0:
        return _wrap(0, n_missing, {}, np.empty(0), dict.fromkeys(_STATISTICS, "There is no value."), settings)
    ordered.foresee(ranks_in_summary(n, level, trim))
    result, why = _by_order(ordered, _median_depth(n, level), level, trim, definition)
    _by_moments(ordered, level, result, why)
    _geometric(ordered, level, result, why)
    _ratios(result, why, true_zero)
    if result.get("variance") == 0 and result["sd"] > 0:
        why["variance"] = "It is below the smallest number that can be written, about 5e-324."
    for name, value in result.items():
        if not math.isfinite(value):
            why[name] = TOO_LARGE_TO_WRITE
    return _wrap(n, n_missing, result, ordered.modes(), why, settings)


def above_limited(summary: Summary, n_limited: int) -> Summary:
    """Return the summary without the quantiles that lie within the share of values known only to lie below a limit. The
    minimum stays what stands for the limit.

    Parameters: n_limited, how many of the n values stand for a limit, or a part of it.
    """
    if n_limited == 0 or summary.n == 0:
        return summary
    share = n_limited / summary.n
    gone = [name for name, p in (("q1", 0.25), ("median", 0.5), ("q3", 0.75)) if p <= share]
    if not gone:
        return summary
    gone += ["iqr", "fence_low", "fence_high", "whisker_low", "whisker_high", "mad", "mad_scaled"]
    gone += ["median_low", "median_high", "median_level"] if "median" in gone else ["median_low"]
    why = f"{significant(100 * share, 3)} % of the values are only known to lie below a limit."
    without: dict[str, Any] = dict.fromkeys(gone)
    return replace(summary, **without, undefined={**summary.undefined, **dict.fromkeys(gone, why)})


def exponential(power: float) -> float:
    """e to a power; beyond all numbers the largest that there is."""
    return math.exp(min(power, _LARGEST_POWER))


def cut_of(trim: float, n: int) -> int:
    """How many values a trimmed mean leaves out at each end: floor(trim n), and one value at least stays."""
    return min(math.floor(trim * n + 1e-9), (n - 1) // 2)


@dataclass(frozen=True)
class _Depth:
    """Where an interval for the median lies among n values: from the k-th to the k-th from above; None where no k is
    enough. level: its exact coverage."""

    k: int | None
    level: float

    def ranks(self, n: int) -> tuple[int, ...]:
        return () if self.k is None else (self.k - 1, n - self.k)


def _median_depth(n: int, level: float) -> _Depth:
    """The largest k whose coverage 1 - 2 P(B <= k-1), B binomial (n, 1/2), is enough."""
    # The functions behind scipy's distributions: with many small groups, their checks would take most of the time.
    k = max(math.ceil(float(special.bdtrik((1 - level) / 2, n, 0.5))) - 2, 0)
    while 2 * special.bdtr(k, n, 0.5) <= 1 - level:
        k += 1
    return _Depth(k, 1 - 2 * float(special.bdtr(k - 1, n, 0.5))) if k >= 1 else _Depth(None, level)


def ranks_in_summary(n: int, level: float = 0.95, trim: float = 0.1) -> Ints:
    """The ranks, from 0, of the values that a summary of n values speaks of."""
    cut = cut_of(trim, n)
    return np.array(sorted({0, n - 1, cut, n - 1 - cut, *_quartile_ranks(n), *_median_depth(n, level).ranks(n)}))


def median_and_mad(ordered: Ordered) -> tuple[float, float]:
    """The median, and the median distance from it; found by what a summary asks, so that a long table is asked once."""
    q1, median, q3 = of_sorted(ordered, np.array([0.25, 0.5, 0.75]), 7).tolist()
    reach = _FENCE * (q3 - q1)
    return median, ordered.about(q1 - reach, q3 + reach, median, cut_of(0.1, ordered.size)).mad


def _quartile_ranks(n: int) -> list[int]:
    """The ranks between which every definition has its quartiles."""
    around = [math.floor(n * share) + step for share in (0.25, 0.5, 0.75) for step in (-2, -1, 0, 1)]
    return [min(max(rank, 0), n - 1) for rank in around]


def _by_order(
    ordered: Ordered, depth: _Depth, level: float, trim: float, definition: Definition
) -> tuple[dict[str, float], dict[str, str]]:
    n = ordered.size
    result: dict[str, float] = {}
    why: dict[str, str] = {}
    low, high = ordered[np.array([0, n - 1])].tolist()
    q1, median, q3 = of_sorted(ordered, np.array([0.25, 0.5, 0.75]), definition).tolist()
    reach = _FENCE * (q3 - q1)
    result.update(minimum=low, maximum=high, q1=q1, median=median, q3=q3, iqr=q3 - q1, range=high - low)
    result.update(fence_low=q1 - reach, fence_high=q3 + reach)
    cut = cut_of(trim, n)
    about = ordered.about(q1 - reach, q3 + reach, median, cut)
    result.update(whisker_low=about.whisker_low, whisker_high=about.whisker_high)
    result.update(mad=about.mad, mad_scaled=about.mad * MAD_FACTOR)
    if cut and low != high:
        first, last = ordered[np.array([cut, n - 1 - cut])].tolist()
        result["trimmed_mean"] = about.inner_mean
        result["winsorized_mean"] = about.inner_mean * ((n - 2 * cut) / n) + first * (cut / n) + last * (cut / n)
    if depth.k is None:
        for name in ("median_low", "median_high", "median_level"):
            why[name] = f"At level {significant(level)} it needs more than {n} values."
    else:
        result["median_low"], result["median_high"] = ordered[np.array(depth.ranks(n))].tolist()
        result["median_level"] = depth.level
    return result, why


def _by_moments(ordered: Ordered, level: float, result: dict[str, float], why: dict[str, str]) -> None:
    n = ordered.size
    unit = safe_unit(max(abs(result["minimum"]), abs(result["maximum"])))
    moments = ordered.moments(unit)
    mean = moments.mean
    on_scale = {"mean": mean, "total": moments.total}
    if n == 1:
        for name in ("sd", "se", "mean_low", "mean_high", "sd_low", "sd_high", "variance"):
            why[name] = "It needs at least 2 values; there is 1."
        for name in ("skewness", "skewness_se", "kurtosis", "kurtosis_se"):
            why[name] = f"It needs at least {3 if name.startswith('s') else 4} values; there is 1."
    else:
        sd = math.sqrt(moments.m2 / (n - 1))
        se = sd / math.sqrt(n)
        half = float(special.stdtrit(n - 1, (1 + level) / 2)) * se
        upper, lower = (2 * float(special.gammaincinv((n - 1) / 2, p)) for p in ((1 + level) / 2, (1 - level) / 2))
        on_scale.update(sd=sd, se=se, mean_low=mean - half, mean_high=mean + half)
        on_scale.update(sd_low=sd * math.sqrt((n - 1) / upper), sd_high=sd * math.sqrt((n - 1) / lower))
        result["variance"] = sd * sd * unit * unit
        _shape(moments, sd, result, why)
    result.update({name: value * unit for name, value in on_scale.items()})
    for name in ("trimmed_mean", "winsorized_mean"):
        result.setdefault(name, result["mean"])


def _shape(moments: Moments, sd: float, result: dict[str, float], why: dict[str, str]) -> None:
    n = moments.n
    if n >= 3:
        result["skewness_se"] = math.sqrt(6 * n * (n - 1) / ((n - 2) * (n + 1) * (n + 3)))
    if n >= 4:
        result["kurtosis_se"] = 2 * result["skewness_se"] * math.sqrt((n * n - 1) / ((n - 3) * (n + 5)))
    for name, least in (("skewness", 3), ("kurtosis", 4)):
        if n < least:
            why[name] = why[f"{name}_se"] = f"It needs at least {least} values; there are {n}."
        elif sd == 0:
            why[name] = "All values are the same."
    if sd == 0 or n < 3:
        return
    variance = moments.m2 / n
    result["skewness"] = moments.m3 / n / variance**1.5 * math.sqrt(n * (n - 1)) / (n - 2)
    if n >= 4:
        g2 = moments.m4 / n / variance**2 - 3
        result["kurtosis"] = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6)


def _geometric(ordered: Ordered, level: float, result: dict[str, float], why: dict[str, str]) -> None:
    n = ordered.size
    if result["minimum"] <= 0:
        reason = f"It needs values above 0; {ordered.n_to(0.0)} of {n} are not."
        why.update(dict.fromkeys(("geometric_mean", "geometric_sd", "geometric_low", "geometric_high"), reason))
        return
    if result["minimum"] == result["maximum"]:
        result["geometric_mean"] = result["minimum"]
        mean, squares = math.log(result["minimum"]), 0.0
    else:
        logs = ordered.log_moments()
        mean, squares = logs.mean, logs.m2
        result["geometric_mean"] = math.exp(mean)
    if n == 1:
        reason = "It needs at least 2 values; there is 1."
        why.update(dict.fromkeys(("geometric_sd", "geometric_low", "geometric_high"), reason))
        return
    spread = math.sqrt(squares / (n - 1))
    half = float(special.stdtrit(n - 1, (1 + level) / 2)) * spread / math.sqrt(n)
    for name, power in (
        ("geometric_sd", spread),
        ("geometric_low", mean - half),
        ("geometric_high", mean + half),
    ):
        result[name] = exponential(power)


def _ratios(result: dict[str, float], why: dict[str, str], true_zero: bool) -> None:
    if "sd" not in result:
        why["cv"] = why["sd"]
    elif not true_zero:
        why["cv"] = "Zero does not mean none here, so a ratio to the mean says nothing."
    elif result["mean"] <= 0:
        why["cv"] = "It needs a mean above 0."
    else:
        result["cv"] = result["sd"] / result["mean"]


_STATISTICS = tuple(
    name
    for name in Summary.__dataclass_fields__
    if name not in {"n", "n_missing", "modes", "level", "trim", "quantile_definition", "undefined"}
)


def _wrap(
    n: int,
    n_missing: int,
    result: dict[str, float],
    modes: Floats | None,
    why: dict[str, str],
    settings: tuple[float, float, Definition],
) -> Summary:
    level, trim, definition = settings
    values = {name: None if name in why else result[name] for name in _STATISTICS}
    undefined = {name: why[name] for name in _STATISTICS if name in why}
    if modes is None:
        undefined["modes"] = "It is not looked for among so many different values."
    return Summary(
        n=n,
        n_missing=n_missing,
        modes=np.empty(0) if modes is None else modes,
        level=level,
        trim=trim,
        quantile_definition=definition,
        undefined=undefined,
        **values,
    )
