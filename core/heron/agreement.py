"""Two ways of measuring the same: how far they lie apart, and within which limits."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, Ints, choose, within
from heron.choices import displays
from heron.errors import InputError
from heron.formatting import counted, p_words, significant, sureness, there_are
from heron.least_squares import simple, unfit
from heron.limits import reference_limits
from heron.relation import pairs
from heron.results import Result

DifferenceScale = Literal["as-is", "log"]
DIFFERENCE_SCALES = displays(
    {
        "as-is": ("differences", "The first method less the second, in their unit."),
        "log": ("ratios", "The first method over the second: for values above 0 whose differences grow with them."),
    }
)
_FEWEST = 3
_LARGEST = 1e150
_LARGEST_LOG = 709.0  # of which the exponential is a number


@dataclass(frozen=True)
class Agreement(Result, columns=("means", "differences")):
    """How far two methods lie apart. differences: (n_pairs,) of the first from the second, on the log scale their
    ratios; means: (n_pairs,) of both, on the log scale geometric ones; bias: the mean difference, or the geometric mean
    of ratios, with its limits; low, high: between which 95 % of differences lie, each with its interval; beyond:
    (n_pairs,) whether a pair lies outside of these; slope: of differences on means (of their logs on logs), with the p
    value of none; margin_p: of a bias beyond the margin, by two one-sided tests. None with the reason where there is
    none."""

    means: Floats
    differences: Floats
    beyond: Ints
    rows: Ints
    bias: float | None
    bias_low: float | None
    bias_high: float | None
    sd: float | None
    low: float | None
    low_from: float | None
    low_to: float | None
    high: float | None
    high_from: float | None
    high_to: float | None
    slope: float | None
    slope_p: float | None
    margin: float | None
    margin_p: float | None
    scale: DifferenceScale
    level: float
    n_pairs: int
    n_off_scale: int
    lost_rows: Ints
    undefined: dict[str, str] = field(default_factory=dict)


def agree(
    first: ArrayLike,
    second: ArrayLike,
    *,
    scale: DifferenceScale = "as-is",
    margin: float | None = None,
    level: float = 0.95,
) -> Agreement:
    """Return how far two methods of measuring the same lie apart.

    Parameters
    ----------
    first : (n_rows,) array_like of float
        What the one method measured, in the unit of both, NaN for missing.
    second : (n_rows,) array_like of float
        What the other measured of the same.
    scale : {"as-is", "log"}, optional
        Whether the methods are compared by differences or by ratios.
    margin : float, optional
        The bias that does no harm: above 0 in the unit of both, or of ratios a factor above 1.
    level : float, optional
        Of all intervals, between 0 and 1.

    Returns
    -------
    Agreement
        Bias and limits of agreement with their intervals, and whether differences grow with what is measured.

    Raises
    ------
    ChoiceError
        For a scale that there is not.
    InputError
        For columns of different lengths, or a margin or level outside its range.

    Notes
    -----
    Limits of agreement are mean -/+ 1.96 SD of the differences, their intervals by the noncentral t. On the log scale
    all of it is of the differences of logs, carried back. The bias lies within the margin by two one-sided t tests:
    margin_p is the larger of theirs.

    References
    ----------
    bland-altman-1986
    bland-altman-1999
    schuirmann-1987, for the margin

    Examples
    --------
    >>> result = agree([5.1, 6.3, 7.0, 8.2], [5.0, 6.0, 7.1, 8.0])
    >>> round(result.bias, 3), round(result.sd, 3)
    (0.125, 0.171)
    """
    choose(scale, DIFFERENCE_SCALES, where="scale")
    within(level, above=0, below=1, where="level")
    if margin is not None and not margin > (1 if scale == "log" else 0):
        least = "a factor above 1" if scale == "log" else "above 0"
        raise InputError("out-of-range", f"The margin must be {least}; it is {margin:g}.", where="margin")
    a, b, known = pairs(first, second)
    stands = (a > 0) & (b > 0) if scale == "log" else np.ones(a.size, dtype=bool)
    a, b, rows = a[stands], b[stands], known[stands]
    lost = np.setdiff1d(np.arange(np.asarray(first).size), known, assume_unique=True)
    u, v = (np.log(a), np.log(b)) if scale == "log" else (a, b)
    off, middle = u - v, u / 2 + v / 2
    back = _back if scale == "log" else _same
    told = _numbers(
        off, middle, back, None if margin is None else math.log(margin) if scale == "log" else margin, level
    )
    drawn = (np.exp(middle), np.exp(np.minimum(off, _LARGEST_LOG))) if scale == "log" else (middle, off)
    low, high = told.get("low"), told.get("high")
    outside = (drawn[1] < low) | (drawn[1] > high) if low is not None and high is not None else np.zeros(off.size, bool)
    names = (
        "bias", "bias_low", "bias_high", "sd", "low", "low_from", "low_to", "high", "high_from", "high_to", "slope",
        "slope_p", "margin_p",
    )  # fmt: skip
    numbers: dict[str, Any] = {name: told.get(name) for name in names}
    few = off.size < _FEWEST
    why = (
        f"It needs {_FEWEST} pairs; {there_are(off.size)}."
        if few
        else f"Values beyond {significant(_LARGEST)} cannot be squared."
    )
    return Agreement(
        means=drawn[0],
        differences=drawn[1],
        beyond=outside.astype(np.int64),
        rows=rows,
        **numbers,
        margin=margin,
        scale=scale,
        level=level,
        n_pairs=off.size,
        n_off_scale=int(np.count_nonzero(~stands)),
        lost_rows=lost,
        undefined={"bias": why} if "bias" not in told else {} if told["sd"] else {"low": "All of them are the same."},
    )


def _same(value: float) -> float:
    return value


def _back(value: float) -> float:
    return math.exp(min(value, _LARGEST_LOG))


def _numbers(
    off: Floats, middle: Floats, back: Callable[[float], float], margin: float | None, level: float
) -> dict[str, float | None]:
    """What is told of differences, by name, carried back to the unit of what is shown."""
    n = off.size
    if n < _FEWEST or max(float(np.abs(off).max()), float(np.abs(middle).max())) > _LARGEST:
        return {}
    scale = float(np.abs(off).max()) or 1.0
    mean, sd = float((off / scale).mean()) * scale, float((off / scale).std(ddof=1)) * scale
    told: dict[str, float | None] = {"bias": back(mean), "sd": sd}
    if sd == 0:  # nothing tells how far such a bias may be off
        return told
    limits = reference_limits(off, level=level, method="normal")
    reach = float(special.stdtrit(n - 1, 0.5 + level / 2)) * sd / math.sqrt(n)
    ends = {name: getattr(limits, name) for name in ("low", "low_from", "low_to", "high", "high_from", "high_to")}
    ends |= {"bias_low": mean - reach, "bias_high": mean + reach}
    told |= {name: None if end is None else back(end) for name, end in ends.items()}
    if not unfit(middle, off):
        line = simple(middle, off)
        told["slope"] = line.slope
        error = line.sigma / math.sqrt(line.spread_u)
        told["slope_p"] = 2 * float(special.stdtr(n - 2, -abs(line.slope) / error)) if error else None
    if margin is not None:
        error = sd / math.sqrt(n)
        told["margin_p"] = max(float(special.stdtr(n - 1, (way * mean - margin) / error)) for way in (-1, 1))
    return told


def _said(value: float) -> str:
    return significant(value, 3)


def words_on_agreement(result: Agreement, first: str, second: str, unit: str) -> tuple[str, ...]:
    """Sentences on two methods by their names: how far they lie apart, and whether that changes."""
    if result.bias is None:
        return tuple(result.undefined.values())
    of = f" {unit}" if unit and result.scale == "as-is" else ""
    times = result.scale == "log"
    limits = (
        ""
        if result.bias_low is None or result.bias_high is None
        else f" ({_said(result.bias_low)} to {_said(result.bias_high)})"
    )
    what = f"{first} / {second}" if times else f"{first} \u2212 {second}"
    if result.low is None or result.high is None:
        return (f"{what} is {_said(result.bias)}{of} in all of {counted(result.n_pairs, 'pair')}.",)
    said = [
        f"On average {what} is {_said(result.bias)}{of}{limits}; 95 % of {'ratios' if times else 'differences'} are "
        f"expected between {_said(result.low)} and {_said(result.high)}{of} ({counted(result.n_pairs, 'pair')})."
    ]
    if result.slope_p is not None and result.slope_p < 0.05:
        said.append(
            f"Differences change with what is measured (p {p_words(result.slope_p)}): one bias does not tell all of "
            f"them" + ("." if times else "; ratios may.")
        )
    if result.margin is not None and result.margin_p is not None:
        between = (
            f"1/{result.margin:g} and {result.margin:g}"
            if times
            else f"\u2212{result.margin:g} and {result.margin:g}{of}"
        )
        said.append(f"By two one-sided tests {sureness(result.margin_p)} a bias within {between}.")
    if result.n_off_scale:
        said.append(f"{counted(result.n_off_scale, 'pair')} of 0 or below cannot have a ratio.")
    return tuple(said)
