"""The numbers that describe one variable."""

import math
import sys
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import TOO_LARGE_TO_WRITE, Floats, as_values, choose, within
from heron.errors import InputError
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
    choose(quantile_definition, DEFINITIONS, where="quantile_definition")
    within(level, above=0, below=1, where="level")
    if not 0 <= trim < 0.5:
        raise InputError("out-of-range", f"trim must be at least 0 and below 0.5; it is {trim:g}.", where="trim")
    n = checked.n
    settings = (level, trim, quantile_definition)
    if n == 0:
        return _wrap(0, checked.n_missing, {}, np.empty(0), dict.fromkeys(_STATISTICS, "There is no value."), settings)
    ordered = np.sort(checked.values)
    largest = max(abs(ordered[0]), abs(ordered[-1]))
    scale = _power_of_two(largest)
    result, why = _on_safe_scale(ordered / scale if scale != 1 else ordered, level, trim, quantile_definition)
    if scale != 1:
        _rescale(result, scale)
    _geometric(ordered, level, result, why)
    _ratios(result, why, true_zero)
    if result.get("variance") == 0 and result["sd"] > 0:
        why["variance"] = "It is below the smallest number that can be written, about 5e-324."
    for name, value in result.items():
        if not math.isfinite(value):
            why[name] = TOO_LARGE_TO_WRITE
    return _wrap(n, checked.n_missing, result, _modes(ordered), why, settings)


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
    why = f"{100 * share:.3g} % of the values are only known to lie below a limit."
    without: dict[str, Any] = dict.fromkeys(gone)
    return replace(summary, **without, undefined={**summary.undefined, **dict.fromkeys(gone, why)})


def _power_of_two(largest: float) -> float:
    """1, or a power of two near the largest magnitude where sums of squares would overflow or vanish."""
    if largest == 0 or 1e-60 < largest < 1e75:
        return 1.0
    return math.ldexp(1.0, min(max(math.frexp(largest)[1], -1000), 1000))


def exponential(power: float) -> float:
    """e to a power; beyond all numbers the largest that there is."""
    return math.exp(min(power, _LARGEST_POWER))


def cut_of(trim: float, n: int) -> int:
    """How many values a trimmed mean leaves out at each end: floor(trim n), and one value at least stays."""
    return min(math.floor(trim * n + 1e-9), (n - 1) // 2)


def _on_safe_scale(
    ordered: Floats, level: float, trim: float, definition: Definition
) -> tuple[dict[str, float], dict[str, str]]:
    n = ordered.size
    result: dict[str, float] = {}
    why: dict[str, str] = {}
    constant = ordered[0] == ordered[-1]
    mean = float(ordered[0]) if constant else float(ordered.mean())
    deviations = ordered - mean
    if not constant:
        correction = float(deviations.mean())
        mean += correction
        deviations -= correction
    q1, median, q3 = of_sorted(ordered, np.array([0.25, 0.5, 0.75]), definition).tolist()
    result.update(mean=mean, minimum=float(ordered[0]), maximum=float(ordered[-1]), q1=q1, median=median, q3=q3)
    result.update(iqr=q3 - q1, range=float(ordered[-1] - ordered[0]), total=float(ordered.sum()))
    low, high = q1 - _FENCE * (q3 - q1), q3 + _FENCE * (q3 - q1)
    first, last = int(np.searchsorted(ordered, low)), int(np.searchsorted(ordered, high, side="right")) - 1
    result.update(fence_low=low, fence_high=high)
    result.update(whisker_low=float(ordered[min(first, n - 1)]), whisker_high=float(ordered[max(last, 0)]))
    result["mad"] = 0.5 * _distance(ordered, median, (n + 1) // 2) + 0.5 * _distance(ordered, median, n // 2 + 1)
    result["mad_scaled"] = result["mad"] * MAD_FACTOR
    cut = cut_of(trim, n)
    inner = ordered[cut : n - cut]
    result["trimmed_mean"] = mean if cut == 0 or constant else float(inner.mean())
    result["winsorized_mean"] = mean if cut == 0 or constant else float(inner.sum() + cut * (inner[0] + inner[-1])) / n
    if n == 1:
        for name in ("sd", "se", "mean_low", "mean_high", "sd_low", "sd_high", "variance"):
            why[name] = "It needs at least 2 values; there is 1."
        for name in ("skewness", "skewness_se", "kurtosis", "kurtosis_se"):
            why[name] = f"It needs at least {3 if name.startswith('s') else 4} values; there is 1."
    else:
        squares = deviations * deviations
        sd = math.sqrt(float(squares.sum()) / (n - 1))
        se = sd / math.sqrt(n)
        half = float(special.stdtrit(n - 1, (1 + level) / 2)) * se
        upper, lower = (2 * float(special.gammaincinv((n - 1) / 2, p)) for p in ((1 + level) / 2, (1 - level) / 2))
        result.update(sd=sd, variance=sd * sd, se=se, mean_low=mean - half, mean_high=mean + half)
        result.update(sd_low=sd * math.sqrt((n - 1) / upper), sd_high=sd * math.sqrt((n - 1) / lower))
        _shape(deviations, squares, sd, result, why)
    _median_interval(ordered, level, result, why)
    return result, why


def _distance(ordered: Floats, centre: float, k: int) -> float:
    """The k-th smallest distance from a centre: the k nearest values stand together, so the best window is sought."""
    return float(np.maximum(centre - ordered[: ordered.size - k + 1], ordered[k - 1 :] - centre).min())


def _shape(deviations: Floats, squares: Floats, sd: float, result: dict[str, float], why: dict[str, str]) -> None:
    n = deviations.size
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
    variance = float(squares.mean())
    g1 = float(np.dot(squares, deviations)) / n / variance**1.5
    result["skewness"] = g1 * math.sqrt(n * (n - 1)) / (n - 2)
    if n >= 4:
        g2 = float(np.dot(squares, squares)) / n / variance**2 - 3
        result["kurtosis"] = (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6)


def _median_interval(ordered: Floats, level: float, result: dict[str, float], why: dict[str, str]) -> None:
    """x(k) to x(n+1-k) with the largest k whose coverage 1 - 2 P(B <= k-1), B binomial (n, 1/2), is enough."""
    n = ordered.size
    # The functions behind scipy's distributions: with many small groups, their checks would take most of the time.
    k = max(math.ceil(float(special.bdtrik((1 - level) / 2, n, 0.5))) - 2, 0)
    while 2 * special.bdtr(k, n, 0.5) <= 1 - level:
        k += 1
    if k < 1:
        for name in ("median_low", "median_high", "median_level"):
            why[name] = f"At level {level:g} it needs more than {n} values."
        return
    result["median_low"], result["median_high"] = float(ordered[k - 1]), float(ordered[n - k])
    result["median_level"] = 1 - 2 * float(special.bdtr(k - 1, n, 0.5))


_UNITLESS = {"skewness", "skewness_se", "kurtosis", "kurtosis_se", "median_level"}


def _rescale(result: dict[str, float], scale: float) -> None:
    for name in result:
        if name == "variance":
            result[name] = result[name] * scale * scale
        elif name not in _UNITLESS:
            result[name] *= scale


def _geometric(ordered: Floats, level: float, result: dict[str, float], why: dict[str, str]) -> None:
    n = ordered.size
    if ordered[0] <= 0:
        count = int(np.searchsorted(ordered, 0.0, side="right"))
        reason = f"It needs values above 0; {count} of {n} are not."
        why.update(dict.fromkeys(("geometric_mean", "geometric_sd", "geometric_low", "geometric_high"), reason))
        return
    if ordered[0] == ordered[-1]:
        result["geometric_mean"] = float(ordered[0])
        mean, spread = math.log(ordered[0]), 0.0
    else:
        logs = np.log(ordered)
        mean = float(logs.mean())
        logs -= mean
        spread = math.sqrt(float(np.dot(logs, logs)) / (n - 1))
        result["geometric_mean"] = math.exp(mean)
    if n == 1:
        reason = "It needs at least 2 values; there is 1."
        why.update(dict.fromkeys(("geometric_sd", "geometric_low", "geometric_high"), reason))
        return
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


def _modes(ordered: Floats) -> Floats:
    new = ordered[1:] != ordered[:-1]
    if new.all():
        return np.empty(0)
    starts = np.flatnonzero(np.concatenate(([True], new)))
    lengths = np.diff(np.append(starts, ordered.size))
    return np.asarray(ordered[starts[lengths == lengths.max()]], dtype=np.float64)


_STATISTICS = tuple(
    name
    for name in Summary.__dataclass_fields__
    if name not in {"n", "n_missing", "modes", "level", "trim", "quantile_definition", "undefined"}
)


def _wrap(
    n: int,
    n_missing: int,
    result: dict[str, float],
    modes: Floats,
    why: dict[str, str],
    settings: tuple[float, float, Definition],
) -> Summary:
    level, trim, definition = settings
    values = {name: None if name in why else result[name] for name in _STATISTICS}
    return Summary(
        n=n,
        n_missing=n_missing,
        modes=modes,
        level=level,
        trim=trim,
        quantile_definition=definition,
        undefined={name: why[name] for name in _STATISTICS if name in why},
        **values,
    )
