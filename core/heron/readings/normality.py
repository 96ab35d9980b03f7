"""How far, and how surely, a variable departs from a normal distribution, or another one."""

from dataclasses import dataclass

import numpy as np

from heron import normality, thinning
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.ledger import Used, VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.spread import sent_places
from heron.readings.subject import Numbers, Subject, numbers_of


@dataclass(frozen=True)
class ScreenQQ:
    """A Q-Q plot for the screen: the points that the spread shows, and the bands at fewer positions.

    scores, ordered, rows: (n_sent,), rows counted from 1; the bands' arrays: (n_positions,), simultaneous limits NaN
    where there are none, with the reason.
    """

    scores: Floats
    ordered: Floats
    rows: Ints
    band_scores: Floats
    point_low: Floats
    point_high: Floats
    simultaneous_low: Floats
    simultaneous_high: Floats
    simultaneous_reason: str
    slope: float
    intercept: float
    level: float
    n: int


@dataclass(frozen=True)
class NormalityReading:
    """The checks and the Q-Q plot; qq is None where it cannot be drawn, with the reason. within: the variable within
    whose levels the values were taken as distances from their mean, "" where they were not."""

    subject: Subject
    used: Used
    within: str
    check: normality.Normality
    qq: ScreenQQ | None
    qq_reason: str


@dataclass(frozen=True)
class Against:
    """Both plots of a variable against a fitted distribution, at the points that the spread shows; rows from 1.

    positions: Blom's; probabilities: of the values under the fit; low, high NaN where there is no band, with reason.
    """

    subject: Subject
    used: Used
    family: normality.Family
    parameters: dict[str, float]
    correlation: float
    ordered: Floats
    rows: Ints
    expected: Floats
    low: Floats
    high: Floats
    positions: Floats
    probabilities: Floats
    no_band: str
    level: float
    n: int


def normality_reading(
    variable: VariableView, level: float, cancellation: Cancellation, *, by: VariableView | None = None
) -> NormalityReading:
    """The checks of a variable, or of what is left of it once the mean of each level of another is taken off."""
    found = numbers_of(variable, by)
    values = found.values if by is None else _residuals(found, by)
    cancellation.check()
    check = normality.check(values)
    cancellation.check()
    within = "" if by is None else by.label
    try:
        plot, reason = normality.qq(values, level=level), ""
    except InputError as error:
        return NormalityReading(found.subject, found.used, within, check, None, error.problem)
    screen = _for_screen(plot, sent_places(variable, found), found)
    return NormalityReading(found.subject, found.used, within, check, screen, reason)


def _residuals(found: Numbers, by: VariableView) -> Floats:
    """(n,) distances from the mean of the level; NaN where there is no level."""
    levels, group = found.series.levels(by.symbol)
    known = (group >= 0) & ~np.isnan(found.values)
    sums = np.bincount(group[known], weights=found.values[known], minlength=len(levels))
    n = np.bincount(group[known], minlength=len(levels))
    residuals = np.full(found.values.size, np.nan)
    residuals[known] = found.values[known] - (sums / np.maximum(n, 1))[group[known]]
    return residuals


def against(variable: VariableView, family: normality.Family, level: float) -> Against:
    found = numbers_of(variable)
    fit = normality.fitted(found.values, family=family, level=level)
    shown = np.zeros(found.values.size, dtype=bool)
    shown[sent_places(variable, found)] = True
    at = np.flatnonzero(shown[fit.rows])
    return Against(
        found.subject,
        found.used,
        fit.family,
        fit.parameters,
        fit.correlation,
        fit.ordered[at],
        found.positions(fit.rows[at]) + 1,
        fit.expected[at],
        fit.low[at],
        fit.high[at],
        fit.positions[at],
        fit.probabilities[at],
        fit.undefined.get("low", ""),
        fit.level,
        fit.n,
    )


def _for_screen(plot: normality.QQ, sent: Ints, found: Numbers) -> ScreenQQ:
    """The points of the rows sent, and the bands at all positions of both tails and evenly between."""
    shown = np.zeros(plot.rows.size, dtype=bool)
    shown[sent] = True
    points = np.flatnonzero(shown[plot.rows[: plot.n]])
    at = thinning.positions(plot.n)
    return ScreenQQ(
        scores=plot.scores[points],
        ordered=plot.ordered[points],
        rows=found.positions(plot.rows[points]) + 1,
        band_scores=plot.scores[at],
        point_low=plot.point_low[at],
        point_high=plot.point_high[at],
        simultaneous_low=plot.simultaneous_low[at],
        simultaneous_high=plot.simultaneous_high[at],
        simultaneous_reason=plot.undefined.get("simultaneous_low", ""),
        slope=plot.slope,
        intercept=plot.intercept,
        level=plot.level,
        n=plot.n,
    )
