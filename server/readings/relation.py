"""A fitted relation between variables: its coefficients, what each row does to them, and the fit without some rows."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from heron import influence, normality, thinning
from heron.checks import Floats, Ints
from heron.columns import KINDS, NUMBER_KINDS, Column
from heron.errors import InputError
from heron.ledger import Series
from heron.readings import Cancellation, Subject, series_of, subject_of
from heron.wording import typeset

from server.caching import Kept
from server.ledger.selectors import row_decisions
from server.readings.screen import action_of, decided_on, positions_of
from server.studies.snapshots import TableSnapshot, VariableSnapshot

MOST_ROWS = 60
MOST_PREDICTORS = 12
_MEASURES = ("leverage", "external", "cooks", "dffits", "covratio")
# Of many coefficients, nearly every row moves one by more than 2/sqrt(n): such rows are marked, not counted.
_COUNTED = ("leverage", "external", "cooks", "dffits")


@dataclass(frozen=True)
class RelationSettings:
    """A relation as it is asked for, by symbols. product: two predictors whose products take part too."""

    response: str
    predictors: Sequence[str]
    product: Sequence[str] = ()


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
class Smooth:
    x: Floats
    y: Floats


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


Read = Callable[[VariableSnapshot], Column]


def _columns(
    table: TableSnapshot, asked: RelationSettings, read: Read | None = None
) -> tuple[VariableSnapshot, list[VariableSnapshot], Floats, dict[str, Any]]:
    """The response, the predictors, the response's numbers, and the predictors as the core takes them, by label. read:
    how columns are read where they are not what they are now."""
    symbols = list(dict.fromkeys(asked.predictors))
    if asked.response in symbols:
        raise InputError("itself", "A variable cannot be fitted on itself.", where="predictors")
    if not 1 <= len(symbols) <= MOST_PREDICTORS:
        raise InputError("predictors", f"A relation takes 1 to {MOST_PREDICTORS} predictors.", where="predictors")
    response = table.variable(asked.response)
    own = [table.variable(symbol) for symbol in symbols]
    series = series_of(response, *own, weights="refuse")
    if read is not None:
        series = Series({variable.symbol: read(variable) for variable in (response, *own)}, None)
    taken: dict[str, Any] = {}
    for variable in own:
        if series.columns[variable.symbol].numbers is not None and variable.kind in NUMBER_KINDS:
            taken[variable.label] = series.numbers(variable.symbol, KINDS)
        else:
            labels, index = series.levels(variable.symbol)
            taken[variable.label] = _Labels(np.array([*labels, None], dtype=object)[index], labels)
    return response, own, series.numbers(response.symbol), taken


class _Labels(list):  # type: ignore[type-arg]
    """Labels of rows with the order of their levels, the first of which the others are compared with."""

    def __init__(self, labels: Any, categories: Sequence[str]) -> None:
        super().__init__(labels.tolist())
        self.categories = categories


def _product(own: list[VariableSnapshot], asked: RelationSettings) -> list[tuple[str, str]]:
    labels = {variable.symbol: variable.label for variable in own}
    if not asked.product:
        return []
    if len(set(asked.product)) != 2 or any(symbol not in labels for symbol in asked.product):
        raise InputError("product", "A product is of two of the predictors.", where="product")
    return [(labels[asked.product[0]], labels[asked.product[1]])]


@dataclass(frozen=True)
class _Made:
    """A relation of a table at a revision: its variables, its columns, and its design."""

    response: VariableSnapshot
    own: list[VariableSnapshot]
    taken: dict[str, Any]
    y: Floats
    design: influence.Design


_made: Kept[_Made] = Kept(4)


def _made_of(table: TableSnapshot, asked: RelationSettings) -> _Made:
    """The relation, kept for the next question: rows are pulled out of the same one again and again."""
    key = (table.key, asked.response, tuple(asked.predictors), tuple(asked.product))
    return _made.answer(key, lambda: _worked(table, asked))


def _worked(table: TableSnapshot, asked: RelationSettings) -> _Made:
    response, own, y, taken = _columns(table, asked)
    return _Made(response, own, taken, y, influence.design_of(y, taken, interactions=_product(own, asked)))


def _before(table: TableSnapshot, asked: RelationSettings) -> influence.Diagnosis | None:
    """The fit of the values as they were read; None where it cannot be had."""
    try:
        _, own, y, taken = _columns(table, asked, _as_read)
        return influence.diagnose(y, taken, interactions=_product(own, asked))
    except InputError:
        return None


def _as_read(variable: VariableSnapshot) -> Column:
    """A column as its source holds it, before anything was set aside or corrected."""
    described = variable.described
    return described if described.numbers is not None and variable.imported.numbers is None else variable.imported


def related(table: TableSnapshot, asked: RelationSettings, cancellation: Cancellation) -> RelationReading:
    whole = _made_of(table, asked)
    response, own, taken, y, made = whole.response, whole.own, whole.taken, whole.y, whole.design
    found = influence.measured(made)
    cancellation.check()
    beyond = _beyond(found)
    any_beyond = np.zeros(y.size, dtype=bool)
    for measure in _COUNTED:
        any_beyond |= beyond[measure]
    order = np.argsort(-np.nan_to_num(found.cooks, nan=-1), kind="stable")
    order = order[~np.isnan(found.fitted[order])]
    first = order[np.argsort(~any_beyond[order], kind="stable")][:MOST_ROWS]
    looked = row_decisions(table, [asked.response, *asked.predictors])
    decided = decided_on(response, looked)
    n_beyond = int(np.count_nonzero(any_beyond))
    n_undecided = int(np.count_nonzero(any_beyond & (looked.of_row == 0)))
    known = made.rows
    sent = np.union1d(thinning.points(known, np.nan_to_num(found.external[known])), first)
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
        _smooth(found.fitted[known], found.residuals[known]),
        _smooth(found.fitted[known], np.sqrt(np.abs(found.internal[known]))),
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


def _beyond(found: influence.Diagnosis) -> dict[str, Any]:
    """Which rows pass the cut-off of each measure."""
    cut = found.cutoffs
    with np.errstate(invalid="ignore"):
        return {
            "leverage": found.leverage > cut.high_leverage,
            "external": np.abs(found.external) > (cut.external_all or np.inf),
            "cooks": found.cooks > cut.cooks,
            "dffits": np.abs(found.dffits) > cut.dffits,
            "covratio": np.abs(found.covratio - 1) > cut.covratio,
            "dfbetas": (np.abs(found.dfbetas) > cut.dfbetas).any(axis=1),
        }


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


_SMOOTHED = 2_000


def _smooth(x: Floats, y: Floats) -> Smooth | None:
    """A lowess of up to 2,000 points, drawn evenly along x; None where it has nothing to follow."""
    from statsmodels.nonparametric.smoothers_lowess import lowess  # imported on first use: all of it takes seconds

    kept = np.flatnonzero(~np.isnan(x) & ~np.isnan(y))
    if kept.size < 8:
        return None
    order = kept[np.argsort(x[kept], kind="stable")]
    if order.size > _SMOOTHED:
        order = order[np.linspace(0, order.size - 1, _SMOOTHED).astype(np.int64)]
    span = float(x[order[-1]] - x[order[0]])
    if not span > 0:
        return None
    found = lowess(y[order], x[order], frac=2 / 3, it=3, delta=0.01 * span, return_sorted=True)
    if not np.isfinite(found).all():
        return None
    return Smooth(found[:, 0], found[:, 1])


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
    whole = _made_of(table, asked)
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
