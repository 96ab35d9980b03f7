"""How far, and how surely, a variable departs from a normal distribution, or another one."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from heron import normality, thinning
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.ledger import Used, VariableView, in_rounds
from heron.moments import safe_unit
from heron.ordered import ends, sd_of
from heron.readings.cancellation import Cancellation
from heron.readings.spread import sent_places
from heron.readings.subject import Numbers, Subject, n_missing_of, numbers_of, ordered_of


@dataclass(frozen=True)
class Quantiles:
    """A Q-Q plot: the points that a shape shows, and the bands at fewer positions.

    scores, ordered, rows: (n_sent,), rows counted from 1; the bands' arrays: (n_positions,), simultaneous limits NaN
    where there are none.
    """

    scores: Floats
    ordered: Floats
    rows: Ints
    band_scores: Floats
    point_low: Floats
    point_high: Floats
    simultaneous_low: Floats
    simultaneous_high: Floats
    slope: float
    intercept: float


@dataclass(frozen=True)
class NormalityReading:
    """The checks, and why there is no Q-Q plot, or no band for all of its points at once; "" where there is. within:
    the variable within whose levels the values were taken as distances from their mean, "" where they were not."""

    subject: Subject
    used: Used
    within: str
    check: normality.Normality
    level: float
    qq_reason: str
    simultaneous_reason: str


@dataclass(frozen=True)
class Against:
    """A fitted distribution, and why there is no band about it, "" where there is."""

    subject: Subject
    used: Used
    family: normality.Family
    parameters: dict[str, float]
    correlation: float
    no_band: str
    level: float
    n: int


@dataclass(frozen=True)
class Fitted:
    """Both plots against a fitted distribution, at the points that a shape shows; rows from 1. positions: Blom's;
    probabilities: of the values under the fit; low, high: NaN where there is no band."""

    ordered: Floats
    rows: Ints
    expected: Floats
    low: Floats
    high: Floats
    positions: Floats
    probabilities: Floats


def normality_reading(
    variable: VariableView, level: float, cancellation: Cancellation, *, by: VariableView | None = None
) -> NormalityReading:
    """The checks of a variable, or of what is left of it once the mean of each level of another is taken off."""
    return judged(variable, level, cancellation, by=by)[0]


def judged(
    variable: VariableView, level: float, cancellation: Cancellation, *, by: VariableView | None = None
) -> tuple[NormalityReading, Quantiles | None]:
    """The checks with their Q-Q plot, None where it cannot be drawn; worked once."""
    result = numbers_of(variable, by)
    if variable.table.chunks is not None and by is None:
        long = "normality in parts", variable.symbol, level
        return variable.table.remembered(long, lambda: _judged_in_parts(variable, result, level, cancellation))

    def compute() -> tuple[NormalityReading, Quantiles | None]:
        values = result.values if by is None else _residuals(result, by)
        cancellation.check()
        check = normality.check_normality(values)
        cancellation.check()
        said = NormalityReading(result.subject, result.used, "" if by is None else by.label, check, level, "", "")
        try:
            plot = normality.quantile_plot(values, level=level)
        except InputError as error:
            return replace(said, qq_reason=error.problem), None
        simultaneous = plot.undefined.get("simultaneous_low", "")
        return replace(said, simultaneous_reason=simultaneous), _shown(plot, sent_places(variable, result), result)

    question = "normality", variable.symbol, "" if by is None else by.symbol, result.used.weighted_by, level
    answer: tuple[NormalityReading, Quantiles | None] = variable.table.remembered(question, compute)
    return answer


def _judged_in_parts(
    variable: VariableView, numbers: Numbers, level: float, cancellation: Cancellation
) -> tuple[NormalityReading, Quantiles | None]:
    """The checks that moments and quantiles of all rows allow; a Q-Q plot of a sample, each at its rank among all."""
    ordered = ordered_of(variable, numbers)
    if ordered.size == 0:
        raise InputError("no-values", "There is no value.", where="variable")
    sent = sent_places(variable, numbers)
    sent = sent[np.argsort(numbers.values[sent], kind="stable")]
    values = numbers.values[sent]
    found: dict[str, Any] = {}
    in_rounds(
        variable.table.chunks,
        lambda: found.update(reached=ordered.reached(values, right=False)),
        lambda: found.update(check=normality.check_of_ordered(ordered, n_missing_of(ordered, numbers))),
    )
    check = found["check"]
    cancellation.check()
    said = NormalityReading(numbers.subject, numbers.whole, "", check, level, "", "")
    low, high = ends(ordered)
    if low == high:
        return replace(said, qq_reason="All values are the same."), None
    unit = safe_unit(max(abs(low), abs(high)))
    mean, sd = ordered.moments(unit).mean * unit, sd_of(ordered)
    band = normality.large_band(mean, sd, ordered.size, thinning.positions(ordered.size), level)
    none = np.full(band.scores.size, np.nan)
    reason = "The simultaneous band is simulated for fewer values."
    return replace(said, simultaneous_reason=reason), Quantiles(
        scores=normality.blom_score(found["reached"], ordered.size),
        ordered=values,
        rows=numbers.positions(sent) + 1,
        band_scores=band.scores,
        point_low=band.low,
        point_high=band.high,
        simultaneous_low=none,
        simultaneous_high=none,
        slope=sd,
        intercept=mean,
    )


def _residuals(numbers: Numbers, by: VariableView) -> Floats:
    """(n,) distances from the mean of the level; NaN where there is no level."""
    levels, group = numbers.series.levels(by.symbol)
    known = (group >= 0) & ~np.isnan(numbers.values)
    sums = np.bincount(group[known], weights=numbers.values[known], minlength=len(levels))
    n = np.bincount(group[known], minlength=len(levels))
    residuals = np.full(numbers.values.size, np.nan)
    residuals[known] = numbers.values[known] - (sums / np.maximum(n, 1))[group[known]]
    return residuals


def against(variable: VariableView, family: normality.Family, level: float) -> Against:
    return fitted(variable, family, level)[0]


def fitted(variable: VariableView, family: normality.Family, level: float) -> tuple[Against, Fitted]:
    """A distribution fitted to a variable, and the plots against it; worked once."""
    result = numbers_of(variable)

    def compute() -> tuple[Against, Fitted]:
        fit = normality.fit_family(result.values, family=family, level=level)
        shown = np.zeros(result.values.size, dtype=bool)
        shown[sent_places(variable, result)] = True
        at = np.flatnonzero(shown[fit.rows])
        said = Against(
            result.subject, result.used, fit.family, fit.parameters, fit.correlation, fit.undefined.get("low", ""),
            fit.level, fit.n,
        )  # fmt: skip
        rows = result.positions(fit.rows[at]) + 1
        drawn = (fit.ordered, fit.expected, fit.low, fit.high, fit.positions, fit.probabilities)
        ordered, *rest = (values[at] for values in drawn)
        return said, Fitted(ordered, rows, *rest)

    question = "fitted", variable.symbol, result.used.weighted_by, family, level
    answer: tuple[Against, Fitted] = variable.table.remembered(question, compute)
    return answer


def _shown(plot: normality.QQ, sent: Ints, numbers: Numbers) -> Quantiles:
    """The points of the rows sent, and the bands at all positions of both tails and evenly between."""
    shown = np.zeros(plot.rows.size, dtype=bool)
    shown[sent] = True
    points = np.flatnonzero(shown[plot.rows[: plot.n]])
    at = thinning.positions(plot.n)
    return Quantiles(
        scores=plot.scores[points],
        ordered=plot.ordered[points],
        rows=numbers.positions(plot.rows[points]) + 1,
        band_scores=plot.scores[at],
        point_low=plot.point_low[at],
        point_high=plot.point_high[at],
        simultaneous_low=plot.simultaneous_low[at],
        simultaneous_high=plot.simultaneous_high[at],
        slope=plot.slope,
        intercept=plot.intercept,
    )
