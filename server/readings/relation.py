"""A fitted relation between variables: its coefficients, what each row does to them, and the fit without some rows."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from heron import influence
from heron.checks import Floats, Ints
from heron.columns import Column
from heron.errors import InputError
from heron.formatting import typeset
from heron.ledger import VariableView
from heron.readings import Cancellation, Subject, subject_of
from heron.readings.influence import (
    RelationSettings,
    columns_of,
    measured,
    products_of,
    relation_of,
)

from server.ledger.selectors import row_decisions
from server.readings.screen import action_of, decided_on, positions_of
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


def _before(table: TableSnapshot, settings: RelationSettings) -> influence.Diagnosis | None:
    """The fit of the values as they were read; None where it cannot be had."""
    try:
        _, predictors, y, taken = columns_of(table, settings, _as_read)
        return influence.diagnose_fit(y, taken, interactions=products_of(predictors, settings))
    except InputError:
        return None


def _as_read(variable: VariableView) -> Column:
    """A column as its source holds it, before anything was set aside or corrected."""
    described = variable.described
    return described if described.numbers is not None and variable.imported.numbers is None else variable.imported


def related(table: TableSnapshot, settings: RelationSettings, cancellation: Cancellation) -> RelationReading:
    measures = measured(table, settings, cancellation)
    whole, result, beyond = measures.relation, measures.found, measures.beyond
    predictors, y = whole.predictors, whole.y
    any_beyond, first = measures.any_beyond, measures.first
    response = table.variable(settings.response)
    looked = row_decisions(table, [settings.response, *settings.predictors])
    decided = decided_on(response, looked)
    n_beyond = int(np.count_nonzero(any_beyond))
    n_undecided = int(np.count_nonzero(looked.at(np.flatnonzero(any_beyond)) < 0))
    return RelationReading(
        subject_of(response),
        tuple(subject_of(variable) for variable in predictors),
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
        n_beyond,
        n_undecided,
        tuple(_row(result, y, i, beyond, action_of(looked, i)) for i in first.tolist()),
        result.undefined,
        influence.words_on_fit(result, any_beyond),
        influence.report(
            typeset(response.label),
            typeset(response.unit),
            [typeset(variable.label) for variable in predictors],
            result,
            n_beyond,
            n_undecided,
            decided,
            _before(table, settings)
            if any(decision.deed in ("set aside", "corrected") for decision in decided)
            else None,
        ),
    )


def _parts(diagnosis: influence.Diagnosis) -> tuple[Floats, ...]:
    usual = diagnosis.coefficients, diagnosis.se, diagnosis.low, diagnosis.high, diagnosis.t, diagnosis.p_values
    robust = diagnosis.robust_se, diagnosis.robust_low, diagnosis.robust_high, diagnosis.robust_p
    return *usual, *robust, diagnosis.partial_r


def _row(
    diagnosis: influence.Diagnosis, y: Floats, i: int, beyond: dict[str, Any], deed: tuple[str, int, str]
) -> InfluentialRow:
    def known(value: float) -> float | None:
        return float(value) if np.isfinite(value) else None

    measures = {name: known(getattr(diagnosis, name)[i]) for name in _MEASURES}
    said, entry, reason = deed
    return InfluentialRow(
        i + 1,
        float(y[i]),
        float(diagnosis.fitted[i]),
        float(diagnosis.leverage[i]),
        measures["external"],
        measures["cooks"],
        measures["dffits"],
        measures["covratio"],
        tuple(known(value) for value in diagnosis.dfbetas[i]),
        tuple(name for name, rows in beyond.items() if rows[i]),
        said,
        entry,
        reason,
    )


def _line(x: Floats, rows: Ints, coefficients: Floats) -> tuple[Floats, Floats]:
    ends = np.array([x[rows].min(), x[rows].max()])
    return ends, coefficients[0] + coefficients[1] * ends


def pulled(table: TableSnapshot, settings: RelationSettings, rows: Sequence[int]) -> PulledReading:
    whole = relation_of(table, settings)
    predictors, taken, y, made = whole.predictors, whole.taken, whole.y, whole.design
    positions = positions_of(rows, y.size)
    result = influence.refit_without(made, positions)
    none = np.empty(0)
    number = taken[predictors[0].label]
    if not isinstance(number, np.ndarray) or made.p != 2:
        return PulledReading(result, none, none, none, result.n - result.n_without)
    ends, line = _line(number, made.rows, result.coefficients)
    without = none if result.without is None else result.without[0] + result.without[1] * ends
    return PulledReading(result, ends, line, without, result.n - result.n_without)
