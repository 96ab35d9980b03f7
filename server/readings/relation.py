"""A fitted relation between variables: its coefficients, what each row does to them, and the fit without some rows."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from heron import influence, normality, thinning
from heron.checks import Floats, Ints
from heron.columns import Column
from heron.errors import InputError
from heron.ledger import VariableView
from heron.readings import Cancellation, Subject, subject_of
from heron.readings.influence import (
    RelationSettings,
    Smooth,
    columns_of,
    measured,
    products_of,
    relation_of,
    smoothed,
)
from heron.wording import typeset

from server.ledger.selectors import row_decisions
from server.readings.screen import action_of, decided_on, positions_of
from server.studies.snapshots import TableSnapshot

_MEASURES = ("leverage", "external", "cooks", "dffits", "covratio")


@dataclass(frozen=True)
class Coefficient:
    name: str
    value: float
    se: float
    low: float
    high: float
    t: float | None
    p_value: float | None


@dataclass(frozen=True)
class InfluentialRow:
    """A row beyond a cut-off, or among those of most influence. beyond: the measures whose cut-off it passes."""

    row: int
    response: float
    fitted: float
    leverage: float
    external: float | None
    cooks: float | None
    dffits: float | None
    covratio: float | None
    dfbetas: tuple[float | None, ...]
    beyond: tuple[str, ...]
    deed: str
    entry: int
    note: str


@dataclass(frozen=True)
class RelationReading:
    """A fit for the screen. Arrays of (n_sent,) points, positions from 1; x: of the first predictor that is a number,
    None-filled where none is; line_x, line_y: (2,) the line, where there is one predictor and it is a number.
    dfbetas: (n_sent * p,) row by row; partial_x, partial_y: (n_sent * (p - 1),) row by row, of the coefficients but the
    intercept. trend, size_trend: smooths of the residuals, and of the root of their size, over the fitted values.
    """

    response: Subject
    predictors: tuple[Subject, ...]
    coefficients: tuple[Coefficient, ...]
    level: float
    sigma: float
    r_squared: float | None
    adjusted_r_squared: float | None
    curvature_p: float | None
    fanning_p: float | None
    cutoffs: influence.Cutoffs
    n: int
    n_missing: int
    n_beyond: int
    n_undecided: int
    positions: Ints
    x: Floats
    y: Floats
    fitted: Floats
    residuals: Floats
    leverage: Floats
    external: Floats
    cooks: Floats
    dffits: Floats
    covratio: Floats
    dfbetas: Floats
    partial_x: Floats
    partial_y: Floats
    line_x: Floats
    line_y: Floats
    trend: Smooth | None
    size_trend: Smooth | None
    qq_scores: Floats
    qq_low: Floats
    qq_high: Floats
    rows: tuple[InfluentialRow, ...]
    undefined: dict[str, str]
    words: tuple[str, ...]
    report: tuple[str, ...]


@dataclass(frozen=True)
class PulledReading:
    """The fit with and without rows; line_y, line_y_without: (2,) the lines at line_x, empty where there is none."""

    pulled: influence.Pulled
    line_x: Floats
    line_y: Floats
    line_y_without: Floats
    without_rows: int


def _before(table: TableSnapshot, asked: RelationSettings) -> influence.Diagnosis | None:
    """The fit of the values as they were read; None where it cannot be had."""
    try:
        _, own, y, taken = columns_of(table, asked, _as_read)
        return influence.diagnose(y, taken, interactions=products_of(own, asked))
    except InputError:
        return None


def _as_read(variable: VariableView) -> Column:
    """A column as its source holds it, before anything was set aside or corrected."""
    described = variable.described
    return described if described.numbers is not None and variable.imported.numbers is None else variable.imported


def related(table: TableSnapshot, asked: RelationSettings, cancellation: Cancellation) -> RelationReading:
    measures = measured(table, asked, cancellation)
    whole, found, beyond = measures.relation, measures.found, measures.beyond
    own, taken, y, made = whole.own, whole.taken, whole.y, whole.design
    any_beyond, first, sent = measures.any_beyond, measures.first, measures.shown
    response = table.variable(asked.response)
    looked = row_decisions(table, [asked.response, *asked.predictors])
    decided = decided_on(response, looked)
    n_beyond = int(np.count_nonzero(any_beyond))
    n_undecided = int(np.count_nonzero(any_beyond & (looked.of_row == 0)))
    known = made.rows
    cancellation.check()
    number = next((variable for variable in own if isinstance(taken[variable.label], np.ndarray)), None)
    x = taken[number.label] if number else np.full(y.size, np.nan)
    line = _line(x, made.rows, found.coefficients) if number and len(found.names) == 2 else (np.empty(0),) * 2
    partials = [influence.partial(made, place) for place in range(1, made.p)]
    scores, low, high = _band(found.external[known])
    return RelationReading(
        subject_of(response),
        tuple(subject_of(variable) for variable in own),
        tuple(Coefficient(name, *(float(part[i]) for part in _parts(found))) for i, name in enumerate(found.names)),
        found.level,
        found.sigma,
        found.r_squared,
        found.adjusted_r_squared,
        found.curvature_p,
        found.fanning_p,
        found.cutoffs,
        found.n,
        found.n_missing,
        n_beyond,
        n_undecided,
        sent + 1,
        x[sent],
        y[sent],
        found.fitted[sent],
        found.residuals[sent],
        found.leverage[sent],
        found.external[sent],
        found.cooks[sent],
        found.dffits[sent],
        found.covratio[sent],
        found.dfbetas[sent].ravel(),
        np.column_stack([part.x[sent] for part in partials]).ravel(),
        np.column_stack([part.y[sent] for part in partials]).ravel(),
        *line,
        smoothed(found.fitted[known], found.residuals[known]),
        smoothed(found.fitted[known], np.sqrt(np.abs(found.internal[known]))),
        scores,
        low,
        high,
        tuple(_row(found, y, i, beyond, action_of(looked, i)) for i in first.tolist()),
        found.undefined,
        influence.describe(found, any_beyond),
        influence.report(
            typeset(response.label),
            typeset(response.unit),
            [typeset(each.label) for each in own],
            found,
            n_beyond,
            n_undecided,
            decided,
            _before(table, asked) if any(each.deed in ("set aside", "corrected") for each in decided) else None,
        ),
    )


def _parts(found: influence.Diagnosis) -> tuple[Floats, ...]:
    return found.coefficients, found.se, found.low, found.high, found.t, found.p_values


def _row(
    found: influence.Diagnosis, y: Floats, i: int, beyond: dict[str, Any], deed: tuple[str, int, str]
) -> InfluentialRow:
    def known(value: float) -> float | None:
        return float(value) if np.isfinite(value) else None

    measures = {name: known(getattr(found, name)[i]) for name in _MEASURES}
    said, entry, reason = deed
    return InfluentialRow(
        i + 1,
        float(y[i]),
        float(found.fitted[i]),
        float(found.leverage[i]),
        measures["external"],
        measures["cooks"],
        measures["dffits"],
        measures["covratio"],
        tuple(known(value) for value in found.dfbetas[i]),
        tuple(name for name, rows in beyond.items() if rows[i]),
        said,
        entry,
        reason,
    )


def _line(x: Floats, rows: Ints, coefficients: Floats) -> tuple[Floats, Floats]:
    ends = np.array([x[rows].min(), x[rows].max()])
    return ends, coefficients[0] + coefficients[1] * ends


def _band(external: Floats) -> tuple[Floats, Floats, Floats]:
    """Normal scores and the pointwise band of studentized residuals, at a few positions; empty where there is none."""
    kept = external[np.isfinite(external)]
    try:
        plot = normality.qq(kept)
    except InputError:
        return np.empty(0), np.empty(0), np.empty(0)
    at = thinning.positions(plot.scores.size)
    return plot.scores[at], plot.point_low[at], plot.point_high[at]


def pulled(table: TableSnapshot, asked: RelationSettings, rows: Sequence[int]) -> PulledReading:
    whole = relation_of(table, asked)
    own, taken, y, made = whole.own, whole.taken, whole.y, whole.design
    positions = positions_of(rows, y.size)
    found = influence.pull(made, positions)
    none = np.empty(0)
    number = taken[own[0].label]
    if not isinstance(number, np.ndarray) or made.p != 2:
        return PulledReading(found, none, none, none, found.n - found.n_without)
    ends, line = _line(number, made.rows, found.coefficients)
    without = none if found.without is None else found.without[0] + found.without[1] * ends
    return PulledReading(found, ends, line, without, found.n - found.n_without)
