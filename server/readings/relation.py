"""A fitted relation between variables: its coefficients, what each row does to them, and the fit without some rows."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from heron import influence
from heron.checks import Floats
from heron.errors import InputError
from heron.formatting import typeset
from heron.readings import Cancellation, Subject, subject_of
from heron.readings.influence import (
    InfluenceFound,
    RelationSettings,
    fit_of_all,
    measured,
    n_beyond_of,
    pulled_out,
)

from server.ledger.selectors import row_decisions
from server.readings.screen import action_of, decided_on, in_use, positions_of
from server.studies.snapshots import TableSnapshot

_MEASURES = ("leverage", "external", "cooks", "dffits", "covratio")


@dataclass(frozen=True)
class Coefficient:
    """robust_*: by HC3, which holds where spreads differ; partial_r: with the response, given the other predictors."""

    name: str
    value: float
    se: float
    low: float
    high: float
    t: float | None
    p_value: float | None
    robust_se: float | None
    robust_low: float | None
    robust_high: float | None
    robust_p: float | None
    partial_r: float | None


@dataclass(frozen=True)
class Inflation:
    """How many times the variance of a predictor's coefficients is what it would be without the others."""

    name: str
    times: float


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
    """What is told of a fit. rows: those beyond a cut-off, or of most influence."""

    response: Subject
    predictors: tuple[Subject, ...]
    coefficients: tuple[Coefficient, ...]
    inflation: tuple[Inflation, ...]
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


def _before(table: TableSnapshot, settings: RelationSettings) -> influence.LinearFit | None:
    """The fit of the values before anything was set aside or corrected; None where it cannot be had."""
    bare = replace(table, state=replace(table.state, aside={}, corrected={}))
    try:
        return fit_of_all(bare, settings)
    except InputError:
        return None


def related(table: TableSnapshot, settings: RelationSettings, cancellation: Cancellation) -> RelationReading:
    found = measured(table, settings, cancellation)
    result = found.fit
    looked = row_decisions(table, [settings.response, *settings.predictors])
    decided = decided_on(table.variable(settings.response), looked)
    n_decided = n_beyond_of(table, settings, found, in_use(looked))
    return RelationReading(
        subject_of(found.response),
        tuple(subject_of(variable) for variable in found.predictors),
        tuple(Coefficient(name, *(float(part[i]) for part in _parts(result))) for i, name in enumerate(result.names)),
        tuple(Inflation(typeset(name), times) for name, times in result.inflation.items() if len(result.inflation) > 1),
        result.level,
        result.sigma,
        result.r_squared,
        result.adjusted_r_squared,
        result.curvature_p,
        result.fanning_p,
        result.cutoffs,
        result.n,
        result.n_missing,
        found.n_beyond,
        found.n_beyond - n_decided,
        tuple(_row(found, i, action_of(looked, int(found.positions[i]))) for i in found.first.tolist()),
        result.undefined,
        influence.words_on_fit(result, found.n_beyond, found.most),
        influence.report(
            typeset(found.response.label),
            typeset(found.response.unit),
            [typeset(variable.label) for variable in found.predictors],
            result,
            found.n_beyond,
            found.n_beyond - n_decided,
            decided,
            _before(table, settings)
            if any(decision.deed in ("set aside", "corrected") for decision in decided)
            else None,
        ),
    )


def _parts(fit: influence.LinearFit) -> tuple[Floats, ...]:
    usual = fit.coefficients, fit.se, fit.low, fit.high, fit.t, fit.p_values
    return *usual, fit.robust_se, fit.robust_low, fit.robust_high, fit.robust_p, fit.partial_r


def _row(found: InfluenceFound, i: int, deed: tuple[str, int, str]) -> InfluentialRow:
    """A row by its place among those loaded."""

    def known(value: float) -> float | None:
        return float(value) if np.isfinite(value) else None

    measures = {name: known(getattr(found.measures, name)[i]) for name in _MEASURES}
    said, entry, reason = deed
    return InfluentialRow(
        int(found.positions[i]) + 1,
        float(found.y[i]),
        float(found.measures.fitted[i]),
        float(found.measures.leverage[i]),
        measures["external"],
        measures["cooks"],
        measures["dffits"],
        measures["covratio"],
        tuple(known(value) for value in found.measures.dfbetas[i]),
        tuple(name for name, rows in found.beyond.items() if rows[i]),
        said,
        entry,
        reason,
    )


def pulled(table: TableSnapshot, settings: RelationSettings, rows: Sequence[int]) -> PulledReading:
    found = pulled_out(table, settings, positions_of(rows, table.n_rows))
    result, none = found.pulled, np.empty(0)
    if found.ends is None:
        return PulledReading(result, none, none, none, result.n - result.n_without)
    ends = np.array(found.ends)
    line = result.coefficients[0] + result.coefficients[1] * ends
    without = none if result.without is None else result.without[0] + result.without[1] * ends
    return PulledReading(result, ends, line, without, result.n - result.n_without)
