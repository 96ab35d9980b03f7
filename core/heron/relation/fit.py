"""A line on the scales on which the relation is straight, carried back to the units in which it was measured."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, choose, within
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.formatting import significant, with_marks
from heron.least_squares import Simple, curvature, fanning, simple, unfit
from heron.relation.correlations import pairs
from heron.results import Result

Scale = Literal["as-is", "square-root", "log10", "reciprocal"]
CURVE_POINTS = 161


@dataclass(frozen=True, kw_only=True)
class ScaleChoice(Choice):
    """A scale of a fit. forth: values on it, NaN where they cannot stand on it; back: values from it to their own unit,
    NaN where no value stands for them; code: an expression of a script, of "{}"; words: of a variable on it."""

    forth: Callable[[Floats], Floats]
    back: Callable[[Floats], Floats]
    code: str
    words: str


def _scale(identity: Scale, label: str, help_text: str, words: str, **of_it: Any) -> ScaleChoice:
    told = f"{identity} of {{variable}}"
    return ScaleChoice(
        id=identity, label=label, help=help_text, caption=told, methods=told, words=words, **of_it
    )  # fmt: skip


def _square(values: Floats) -> Floats:
    return np.where(values >= 0, values, np.nan) ** 2


def _reciprocal(values: Floats) -> Floats:
    return 1 / np.where(values != 0, values, np.nan)


SCALES: dict[str, ScaleChoice] = by_id(
    (
        _scale(
            "as-is", "untransformed", "As it was measured.", "untransformed",
            forth=lambda values: values, back=lambda values: values, code="{}",
        ),
        _scale(
            "square-root", "square root", "For counts, and areas that grow with a length.", "on roots",
            forth=lambda values: np.sqrt(np.where(values >= 0, values, np.nan)), back=_square, code="np.sqrt({})",
        ),
        _scale(
            "log10", "log", "For what grows by factors; values above 0.", "on logs",
            forth=lambda values: np.log10(np.where(values > 0, values, np.nan)),
            back=lambda values: np.asarray(10.0**values), code="np.log10({})",
        ),
        _scale(
            "reciprocal", "reciprocal", "Times as rates, rates as times.", "as reciprocals",
            forth=_reciprocal, back=_reciprocal, code="1 / {}",
        ),
    )
)  # fmt: skip


def forth(scale: Scale, values: Floats) -> Floats:
    """Values on a scale; NaN where they cannot stand on it (roots below 0, logs of 0 or less, 1/0)."""
    with np.errstate(all="ignore"):
        return SCALES[scale].forth(values)


def back(scale: Scale, values: Floats) -> Floats:
    """Values from a scale to their own unit; NaN where no value stands for them."""
    with np.errstate(all="ignore"):
        return SCALES[scale].back(values)


@dataclass(frozen=True)
class Fit(Result):
    """A line of least squares on two scales. slope, intercept (and their se and limits at `level`), sigma, r_squared:
    on the scales; slope_robust_*: limits by HC3, which hold where spreads differ along x. original_r_squared: 1 -
    SSE/SST of the curve drawn in the unit of y, below 0 where it tells less than the mean; None where y has no spread.

    curve_x, curve_y: (k,) the curve in the variables' units; low, high: the band of the line; one_low, one_high: of one
    more value; NaN where none stands for them, and where reciprocals go on without end on that side. smearing: the
    factor (log y) that turns the curve, which follows the median of y, into its mean; None for other scales. lost_rows:
    with a value missing; off_scale_rows: those that cannot stand on a scale, n_off_scale: how many; curvature_p,
    fanning_p: of the residuals on the scales. x_range: between which x was seen.
    """

    slope: float
    intercept: float
    slope_se: float
    intercept_se: float
    slope_low: float
    slope_high: float
    slope_robust_low: float | None
    slope_robust_high: float | None
    intercept_low: float
    intercept_high: float
    r_squared: float | None
    original_r_squared: float | None
    sigma: float
    x_scale: Scale
    y_scale: Scale
    level: float
    curve_x: Floats
    curve_y: Floats
    low: Floats
    high: Floats
    one_low: Floats
    one_high: Floats
    smearing: float | None
    curvature_p: float | None
    fanning_p: float | None
    x_range: tuple[float, float]
    n_pairs: int
    lost_rows: Ints
    off_scale_rows: Ints
    n_off_scale: int
    line: Simple
    rows: Ints
    undefined: dict[str, str] = field(default_factory=dict)


def fit_line(
    x: ArrayLike, y: ArrayLike, *, x_scale: Scale = "as-is", y_scale: Scale = "as-is", level: float = 0.95
) -> Fit:
    """Return the line of least squares of y on x, each on its scale, and its curve in their own units.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    x_scale, y_scale : {"as-is", "square-root", "log10", "reciprocal"}, optional
        On which each variable is fitted.
    level : float, optional
        Of the limits and bands, between 0 and 1.

    Returns
    -------
    Fit
        Slope and intercept on the scales, with limits; the curve and its bands in the units of x and y.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For fewer than 3 pairs, x without spread, or values that cannot be squared.

    Notes
    -----
    Bands are worked on the scales and carried back, so that they are not symmetric in the unit of y. On log y the curve
    is that of the median; `smearing` is the mean of 10^residual.

    References
    ----------
    duan-1983
    koenker-1981

    Examples
    --------
    The first of Anscombe's (1973) sets, of which y = 3.00 + 0.500 x:

    >>> x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
    >>> y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]
    >>> line = fit_line(x, y)
    >>> round(line.intercept, 2), round(line.slope, 3)
    (3.0, 0.5)
    """
    choose(x_scale, SCALES, where="x_scale")
    choose(y_scale, SCALES, where="y_scale")
    within(level, above=0, below=1, where="level")
    a, b, known = pairs(x, y)
    u, v = forth(x_scale, a), forth(y_scale, b)
    stands = np.isfinite(u) & np.isfinite(v)
    rows = known[stands]
    u, v, a, b = u[stands], v[stands], a[stands], b[stands]
    why = unfit(u, v)
    if why:
        raise InputError("no-line", why, where="x", remedy="Choose other scales, units or variables.")
    line = simple(u, v)
    drawn = back(y_scale, line.intercept + line.slope * u)
    off = b - b.mean()
    with np.errstate(all="ignore"):
        missed = float(np.sum((b - drawn) ** 2))
    facts = LineFacts(
        line.robust_se(u),
        float(np.mean(10.0**line.residuals)) if y_scale == "log10" else None,
        curvature(line, u),
        fanning(line, u),
        missed,
        float(off @ off),
        (float(u.min()), float(u.max())),
        (float(a.min()), float(a.max())),
        int(np.count_nonzero(~stands)),
    )
    fit = fit_of(line, facts, x_scale=x_scale, y_scale=y_scale, level=level)
    lost = np.setdiff1d(np.arange(np.asarray(x).size), known, assume_unique=True)
    return replace(fit, lost_rows=lost, off_scale_rows=known[~stands], rows=rows)


@dataclass(frozen=True)
class LineFacts:
    """What else a fit tells of its pairs. robust_se: of the slope, None where a row is fitted whatever its value;
    smearing: the mean of 10^residual, None where y is no log; curvature_p, fanning_p: of the residuals; missed, total:
    the sums of squares about the curve, and about the mean, in the unit of y; u_range: of x on its scale; x_range: of
    x; n_off_scale: pairs that cannot stand on the scales."""

    robust_se: float | None
    smearing: float | None
    curvature_p: float | None
    fanning_p: float | None
    missed: float
    total: float
    u_range: tuple[float, float]
    x_range: tuple[float, float]
    n_off_scale: int


def fit_of(line: Simple, facts: LineFacts, *, x_scale: Scale, y_scale: Scale, level: float) -> Fit:
    """The fit of a line that is known, without the rows that it is of."""
    n = line.n
    slope_se = line.sigma / math.sqrt(line.spread_u)
    intercept_se = line.sigma * math.sqrt(1 / n + line.mean_u**2 / line.spread_u)
    at = np.linspace(*facts.u_range, CURVE_POINTS)
    t = float(line.reach(np.array([line.mean_u]), level)[0]) / (line.sigma / math.sqrt(n)) if line.sigma else 0.0
    middle, half_width, one = (
        line.intercept + line.slope * at,
        line.reach(at, level),
        line.reach(at, level, of_one=True),
    )
    curve_x = back(x_scale, at)
    order = np.argsort(curve_x)
    ends = [_ends(y_scale, middle, reach) for reach in (half_width, one)]
    undefined: dict[str, str] = {}
    original = None if facts.total == 0 or not np.isfinite(facts.missed) else 1 - facts.missed / facts.total
    if original is None:
        said = "Of some rows the curve has no value." if facts.total else "y has no spread."
        undefined["original_r_squared"] = said
    robust, none = facts.robust_se, np.empty(0, dtype=np.int64)
    return Fit(
        line.slope,
        line.intercept,
        slope_se,
        intercept_se,
        line.slope - t * slope_se,
        line.slope + t * slope_se,
        None if robust is None else line.slope - t * robust,
        None if robust is None else line.slope + t * robust,
        line.intercept - t * intercept_se,
        line.intercept + t * intercept_se,
        line.r_squared,
        original,
        line.sigma,
        x_scale,
        y_scale,
        level,
        curve_x[order],
        back(y_scale, middle)[order],
        ends[0][0][order],
        ends[0][1][order],
        ends[1][0][order],
        ends[1][1][order],
        facts.smearing,
        facts.curvature_p,
        facts.fanning_p,
        facts.x_range,
        n,
        none,
        none,
        facts.n_off_scale,
        line,
        none,
        undefined,
    )


def without_rows(fit: Fit) -> Fit:
    """A fit without its long arrays of rows and residuals."""
    line = replace(fit.line, residuals=fit.line.residuals[:0])
    return replace(fit, line=line, rows=fit.rows[:0], lost_rows=fit.lost_rows[:0])


def _ends(scale: Scale, middle: Floats, reach: Floats) -> tuple[Floats, Floats]:
    """Limits in the unit of y; a scale that falls exchanges them, and a limit off it is cut at its end. Reciprocals on
    both sides of 0 go on without end on the side of the curve: there the limit is NaN."""
    low, high = middle - reach, middle + reach
    if scale == "square-root":
        low = np.maximum(low, 0)
    a, b = back(scale, low), back(scale, high)
    if scale == "reciprocal":
        across = (low <= 0) & (high >= 0)
        above, below = across & (middle > 0), across & (middle < 0)
        return (
            np.where(above, b, np.where(across, np.nan, np.fmin(a, b))),
            np.where(below, a, np.where(across, np.nan, np.fmax(a, b))),
        )
    return np.fmin(a, b), np.fmax(a, b)


@dataclass(frozen=True)
class Predicted(Result):
    """At one x, in the unit of y: the curve, the limits of the curve and those of one more value; mean: the curve times
    the smearing factor, on log y. outside: x lies outside of those seen."""

    x: float
    y: float | None
    low: float | None
    high: float | None
    one_low: float | None
    one_high: float | None
    mean: float | None
    outside: bool


def predict(fit: Fit, x: float) -> Predicted:
    """Return what a fit says of one x.

    Parameters
    ----------
    fit : Fit
        As `fit_line` gives it.
    x : float
        In the unit of the fitted x.

    Returns
    -------
    Predicted
        y with the limits of the line and of one more value, in its unit; whether x lies outside what was fitted.

    Raises
    ------
    InputError
        Where x cannot stand on its scale.

    Notes
    -----
    Limits are by t with n - 2 degrees of freedom, carried back from the scales.

    References
    ----------
    duan-1983, for the mean on a log scale

    Examples
    --------
    >>> from heron import fit_line
    >>> predict(fit_line([1, 2, 3, 4], [2, 4, 6, 8]), 5.0).y
    10.0
    """
    u = forth(fit.x_scale, np.array([x]))
    if not np.isfinite(u).all():
        raise InputError("off-scale", f"{significant(x)} cannot stand on the scale of x.", where="at")
    middle = fit.intercept + fit.slope * u
    result = [back(fit.y_scale, middle)]
    for of_one in (False, True):
        reach = fit.line.reach(u, fit.level, of_one=of_one)
        result += _ends(fit.y_scale, middle, reach)
    y, low, high, one_low, one_high = (float(end[0]) if np.isfinite(end[0]) else None for end in result)
    mean = None if fit.smearing is None or y is None else y * fit.smearing
    outside = not fit.x_range[0] <= x <= fit.x_range[1]
    return Predicted(x, y, low, high, one_low, one_high, mean, outside)


_SCALED: dict[Scale, Callable[[str], str]] = {
    "as-is": lambda name: name,
    "square-root": lambda name: f"√({name})",
    "log10": lambda name: f"log10({name})",
    "reciprocal": lambda name: f"1/({name})",
}


def scaled(scale: Scale, name: str) -> str:
    """What a variable is called on a scale."""
    return _SCALED[scale](name)


def equation(fit: Fit, x: str, y: str, *, digits: int = 4) -> str:
    """The line on its scales, in the variables' names."""
    sign = "−" if fit.slope < 0 else "+"
    right = f"{_number(fit.intercept, digits)} {sign} {_number(abs(fit.slope), digits)} × {scaled(fit.x_scale, x)}"
    return f"{scaled(fit.y_scale, y)} = {right}"


def carried_back(fit: Fit, x: str, y: str, *, digits: int = 4) -> str:
    """The curve in the variables' own units: a power law of logs, an exponential of log y; "" where y is as it is."""
    sign = "−" if fit.slope < 0 else "+"
    inner = f"{_number(fit.intercept, digits)} {sign} {_number(abs(fit.slope), digits)} × {scaled(fit.x_scale, x)}"
    if fit.y_scale == "log10":
        start = 10.0**fit.intercept if abs(fit.intercept) < 300 else None
        power = _number(fit.slope, digits)
        if start is None:
            return f"{y} = 10^{{{inner}}}"
        if fit.x_scale == "log10":
            return f"{y} = {_number(start, digits)} × {x}^{{{power}}}"
        return f"{y} = {_number(start, digits)} × 10^{{{power} × {scaled(fit.x_scale, x)}}}"
    if fit.y_scale == "square-root":
        return f"{y} = ({inner})^{{2}}"
    return f"{y} = 1/({inner})" if fit.y_scale == "reciprocal" else ""


def _number(value: float, digits: int) -> str:
    part, _, power = f"{value:.{digits}g}".partition("e")
    raised = str(int(power)).replace("-", "−") if power else ""
    return f"{with_marks(part)} × 10^{{{raised}}}" if raised else with_marks(part)
