"""A relation as it is fitted: its variables, its design, and every row's part in it."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron import influence, normality, thinning
from heron.checks import Floats, Ints
from heron.chunked import (
    BelowEach,
    Feels,
    Felt,
    Fitted,
    Rows,
    RowsAt,
    Solved,
    cells_in,
    counted_beyond,
    joined_rows,
    solved,
    strongest_first,
    triangle_of,
)
from heron.columns import KINDS, NUMBER_KINDS
from heron.errors import InputError
from heron.ledger import Chunks, Series, TableView, VariableView, load_series
from heron.readings.cancellation import Cancellation
from heron.readings.subject import series_of

MOST_PREDICTORS = 12


@dataclass(frozen=True)
class RelationSettings:
    """A relation as it is asked for, by symbols. product: two predictors whose products take part too."""

    response: str
    predictors: Sequence[str]
    product: Sequence[str] = ()


def variables_of(table: TableView, settings: RelationSettings) -> tuple[VariableView, list[VariableView]]:
    """The response and the predictors; an InputError where these cannot be fitted."""
    symbols = list(dict.fromkeys(settings.predictors))
    if settings.response in symbols:
        raise InputError("itself", "A variable cannot be fitted on itself.", where="predictors")
    if not 1 <= len(symbols) <= MOST_PREDICTORS:
        raise InputError("predictors", f"A relation takes 1 to {MOST_PREDICTORS} predictors.", where="predictors")
    return table.variable(settings.response), [table.variable(symbol) for symbol in symbols]


def _is_number(variable: VariableView, series: Series) -> bool:
    return series.columns[variable.symbol].numbers is not None and variable.kind in NUMBER_KINDS


class _Labels(list):  # type: ignore[type-arg]
    """Labels of rows with the order of their levels, the first of which the others are compared with."""

    def __init__(self, labels: Any, categories: Sequence[str]) -> None:
        super().__init__(labels.tolist())
        self.categories = categories


def _products(predictors: list[VariableView], settings: RelationSettings) -> list[tuple[str, str]]:
    labels = {variable.symbol: variable.label for variable in predictors}
    if not settings.product:
        return []
    if len(set(settings.product)) != 2 or any(symbol not in labels for symbol in settings.product):
        raise InputError("product", "A product is of two of the predictors.", where="product")
    return [(labels[settings.product[0]], labels[settings.product[1]])]


@dataclass(frozen=True)
class Relation:
    """A relation of a table at a revision: its variables, and its design.

    y: (n_rows,) the response; x: the one predictor that is a number, None else.
    """

    response: VariableView
    predictors: list[VariableView]
    y: Floats
    x: Floats | None
    design: influence.Design


def relation_of(table: TableView, settings: RelationSettings) -> Relation:
    """The relation of a table in memory, kept for the next question: rows are pulled out of the same one again and
    again."""
    question = "relation", settings.response, tuple(settings.predictors), tuple(settings.product)
    return table.remembered(question, lambda: _worked(table, settings))


def _worked(table: TableView, settings: RelationSettings) -> Relation:
    response, predictors = variables_of(table, settings)
    series = series_of(response, *predictors, weights="refuse")
    taken: dict[str, Any] = {}
    for variable in predictors:
        if _is_number(variable, series):
            taken[variable.label] = series.numbers(variable.symbol, KINDS)
        else:
            labels, index = series.levels(variable.symbol)
            taken[variable.label] = _Labels(np.array([*labels, None], dtype=object)[index], labels)
    y, first = series.numbers(response.symbol), taken[predictors[0].label]
    design = influence.design_of(y, taken, interactions=_products(predictors, settings))
    return Relation(
        response, predictors, y, first if len(taken) == 1 and isinstance(first, np.ndarray) else None, design
    )


@dataclass(frozen=True)
class InParts:
    """A relation of a long table: its variables, what it is fitted on, and what its fit comes from.

    n_missing: rows left out; ends: the least and largest of the first predictor.
    """

    response: VariableView
    predictors: list[VariableView]
    fitted: Fitted
    solved: Solved
    n_missing: int
    ends: tuple[float, float]

    @property
    def is_line(self) -> bool:
        """Whether there is one predictor, and it is a number."""
        return len(self.predictors) == 1 and self.fitted.predictors[0][2] is None


def relation_in(table: TableView, chunks: Chunks, settings: RelationSettings) -> InParts:
    """The relation of a long table, kept likewise."""
    question = "relation in parts", settings.response, tuple(settings.predictors), tuple(settings.product)
    return table.remembered(question, lambda: _worked_in(table, chunks, settings))


def _worked_in(table: TableView, chunks: Chunks, settings: RelationSettings) -> InParts:
    response, predictors = variables_of(table, settings)
    symbols = [response.symbol, *(variable.symbol for variable in predictors)]
    load_series(chunks.state.part(0), symbols, weights="refuse")
    series = series_of(response, *predictors)
    series.numbers(response.symbol)  # which refuses what is no number
    named: list[tuple[str, str, tuple[str, ...] | None]] = []
    for variable in predictors:
        levels = None
        if not _is_number(variable, series):
            found = {label for (label,) in cells_in(chunks, variable.symbol)}
            influence.check_levels(variable.label, len(found))
            of_sample = series.grouping(variable.symbol).labels
            levels = (*of_sample, *sorted(found - set(of_sample)))
        named.append((variable.symbol, variable.label, levels))
    fitted = Fitted(response.symbol, tuple(named))
    terms, triangle = triangle_of(chunks, fitted, _products(predictors, settings))
    n_missing, ends = triangle.n_rows - triangle.n, (triangle.low, triangle.high)
    return InParts(response, predictors, fitted, solved(terms, triangle), n_missing, ends)


@dataclass(frozen=True)
class InfluenceFound:
    """A relation measured: of all rows its fit, what this comes from, how many rows pass a cut-off that counts rows,
    and the number and Cook's distance of the row that moves it most; and the rows loaded: all of the table, or of a
    long one a sample and the rows of most influence.

    positions: of the rows loaded, ascending; y, x: the response, and the one predictor that is a number, with the
    ends of it in all rows; measures: what these rows do, NaN where a row was not used; used, q: places of the rows
    used, and their orthonormal columns; beyond: by measure, which pass its cut-off; any_beyond: which pass one that
    counts rows. first: places of the rows of most influence, those beyond first; shown: of the points of a plot, with
    these. largest: leverage of any row. sampled: how many rows were drawn, and felt, what all rows do, of a long table.
    """

    response: VariableView
    predictors: list[VariableView]
    fit: influence.LinearFit
    base: influence.Base
    n_beyond: int
    most: tuple[int, float] | None
    positions: Ints
    y: Floats
    x: Floats | None
    ends: tuple[float, float]
    measures: influence.RowMeasures
    used: Ints
    q: Floats
    beyond: dict[str, NDArray[np.bool_]]
    any_beyond: NDArray[np.bool_]
    first: Ints
    shown: Ints
    largest: float
    sampled: int = 0
    felt: Felt | None = None

    def laid(self, values: Floats) -> Floats:
        """Values of the rows used, laid over the rows loaded."""
        whole = np.full(self.positions.size, np.nan)
        whole[self.used] = values
        return whole


def measured(table: TableView, settings: RelationSettings, cancellation: Cancellation) -> InfluenceFound:
    """Every measure of influence of a relation, worked once."""
    question = "measured", settings.response, tuple(settings.predictors), tuple(settings.product)
    chunks = table.chunks
    influence_found: InfluenceFound = table.remembered(
        question,
        lambda: _measured(table, settings, cancellation) if chunks is None else _measured_in(table, chunks, settings),
    )
    return influence_found


def _measured(table: TableView, settings: RelationSettings, cancellation: Cancellation) -> InfluenceFound:
    whole = relation_of(table, settings)
    result = influence.measured(whole.design)
    cancellation.check()
    beyond = result.beyond(result.cutoffs)
    any_beyond = counted_beyond(beyond)
    used = whole.design.rows
    cooks = np.nan_to_num(result.cooks[used], nan=-np.inf)
    first = used[strongest_first(cooks, any_beyond[used])]
    most = int(used[np.argmax(cooks)])
    return InfluenceFound(
        whole.response,
        whole.predictors,
        result,
        influence.base_of(whole.design)[0],
        int(np.count_nonzero(any_beyond)),
        (most + 1, float(result.cooks[most])) if np.isfinite(result.cooks[most]) else None,
        np.arange(whole.y.size),
        whole.y,
        whole.x,
        (0.0, 0.0) if whole.x is None else _ends(whole.x[used]),
        result,
        used,
        whole.design.q,
        beyond,
        any_beyond,
        first,
        np.union1d(thinning.points(used, np.nan_to_num(result.external[used])), first),
        float(np.nanmax(result.leverage, initial=0.0)),
    )


def fit_of_all(table: TableView, settings: RelationSettings) -> influence.LinearFit:
    """The fit of all rows of a table."""
    chunks = table.chunks
    if chunks is None:
        return influence.measured(relation_of(table, settings).design)
    return _felt(table, chunks, settings)[0]


def _felt(table: TableView, chunks: Chunks, settings: RelationSettings) -> tuple[influence.LinearFit, Felt]:
    """The fit of all rows of a long table, and what these do to it."""
    whole = relation_in(table, chunks, settings)
    base = whole.solved.base
    felt: Felt = chunks.over(Feels(whole.fitted, whole.solved, influence.cutoffs_of(base.n, base.p)))[0]
    return influence.fit_of(base, felt.sums, whole.n_missing, 0.95), felt


def _measured_in(table: TableView, chunks: Chunks, settings: RelationSettings) -> InfluenceFound:
    """The same of all rows of a long table; loaded are its sample and the rows of most influence."""
    whole = relation_in(table, chunks, settings)
    fit, felt = _felt(table, chunks, settings)
    drawn = whole.fitted.rows_of(series_of(whole.response, *whole.predictors))
    others = ~np.isin(felt.first.positions, drawn.positions)
    rows = joined_rows([drawn, felt.first.at(np.flatnonzero(others))], len(whole.predictors))
    rows = rows.at(np.argsort(rows.positions, kind="stable"))
    q, residuals = whole.solved.columns(whole.fitted, rows)
    measures, _ = influence.measured_rows(whole.solved.base, q, residuals)
    beyond = measures.beyond(fit.cutoffs)
    first = np.searchsorted(rows.positions, felt.first.positions)
    loaded = np.arange(rows.y.size)
    shown = np.union1d(thinning.points(loaded, np.nan_to_num(measures.external)), first)
    return InfluenceFound(
        whole.response,
        whole.predictors,
        fit,
        whole.solved.base,
        felt.n_beyond,
        (felt.most_at + 1, felt.most) if np.isfinite(felt.most) else None,
        rows.positions,
        rows.y,
        rows.x if whole.is_line else None,
        whole.ends,
        measures,
        loaded,
        q,
        beyond,
        counted_beyond(beyond),
        first,
        shown,
        felt.largest,
        drawn.n,
        felt,
    )


def n_beyond_of(table: TableView, settings: RelationSettings, found: InfluenceFound, positions: Ints) -> int:
    """How many of some rows pass a cut-off that counts rows."""
    chunks = table.chunks
    if chunks is None:
        return int(np.count_nonzero(found.any_beyond[positions]))
    whole = relation_in(table, chunks, settings)
    rows = chunks.over(RowsAt(whole.fitted, tuple(positions.tolist())))[0]
    if rows.y.size == 0:
        return 0
    measures, _ = influence.measured_rows(whole.solved.base, *whole.solved.columns(whole.fitted, rows))
    return int(np.count_nonzero(counted_beyond(measures.beyond(found.fit.cutoffs))))


def _ends(x: Floats) -> tuple[float, float]:
    return float(x.min()), float(x.max())


@dataclass(frozen=True)
class PulledFound:
    """A fit without rows. number: of the one predictor that is a number, None else; ends: the least and largest of it
    among the rows used."""

    pulled: influence.Pulled
    ends: tuple[float, float] | None


def pulled_out(table: TableView, settings: RelationSettings, positions: Ints) -> PulledFound:
    """The fit with and without some rows."""
    chunks = table.chunks
    if chunks is None:
        relation = relation_of(table, settings)
        result = influence.refit_without(relation.design, positions)
        return PulledFound(result, None if relation.x is None else _ends(relation.x[relation.design.rows]))
    whole = relation_in(table, chunks, settings)
    rows: Rows = chunks.over(RowsAt(whole.fitted, tuple(positions.tolist())))[0]
    q, residuals = whole.solved.columns(whole.fitted, rows)
    result = influence.refit_of(whole.solved.base, q, residuals, rows.y)
    return PulledFound(result, whole.ends if whole.is_line else None)


@dataclass(frozen=True)
class Smooth:
    x: Floats
    y: Floats


_SMOOTHED = 2_000


def smoothed(x: Floats, y: Floats) -> Smooth | None:
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
    result = lowess(y[order], x[order], frac=2 / 3, it=3, delta=0.01 * span, return_sorted=True)
    if not np.isfinite(result).all():
        return None
    return Smooth(result[:, 0], result[:, 1])


Band = tuple[Floats, Floats, Floats]


def normal_scores(table: TableView, settings: RelationSettings, found: InfluenceFound) -> tuple[Floats, Band | None]:
    """Normal scores of the studentized residuals loaded, of a long table of those shown; and the band of all at a few
    scores, with its low and high, None where there is none."""
    external, chunks, felt = found.measures.external, table.chunks, found.felt
    scores = np.full(external.size, np.nan)
    if chunks is None or felt is None:
        finite = np.flatnonzero(np.isfinite(external))
        ranks = np.argsort(np.argsort(external[finite], kind="stable"), kind="stable")
        scores[finite] = normality.blom_score(ranks, finite.size)
        return scores, _normal_band(external[finite])
    known = found.shown[np.isfinite(external[found.shown])]
    if known.size == 0:
        return scores, None
    whole, values = relation_in(table, chunks, settings), np.unique(external[known])
    below = chunks.over(BelowEach(whole.fitted, whole.solved, tuple(values.tolist())))[0]
    ranks = below[np.searchsorted(values, external[known])]
    scores[known] = normality.blom_score(ranks, felt.n_known)
    sd = math.sqrt(felt.squares / max(felt.n_known - 1, 1))
    if sd == 0 or felt.n_known <= normality.SIMULATED_UP_TO:
        return scores, _normal_band(external[known])
    plot = normality.large_band(felt.mean, sd, felt.n_known, thinning.positions(felt.n_known), 0.95)
    return scores, (plot.scores, plot.low, plot.high)


def _normal_band(external: Floats) -> Band | None:
    """Normal scores and the pointwise band of studentized residuals, at a few positions; None where there is none."""
    try:
        plot = normality.quantile_plot(external)
    except InputError:
        return None
    at = thinning.positions(plot.scores.size)
    return plot.scores[at], plot.point_low[at], plot.point_high[at]
