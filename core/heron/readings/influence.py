"""A relation as it is fitted: its variables, its design, and every row's part in it."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron import influence, normality, thinning
from heron.checks import Floats, Ints
from heron.columns import KINDS, NUMBER_KINDS, Column
from heron.errors import InputError
from heron.ledger import Series, TableView, VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.subject import series_of

MOST_ROWS = 60
MOST_PREDICTORS = 12
# Of many coefficients, nearly every row moves one by more than 2/sqrt(n): such rows are marked, not counted.
_COUNTED = ("leverage", "external", "cooks", "dffits")


@dataclass(frozen=True)
class RelationSettings:
    """A relation as it is asked for, by symbols. product: two predictors whose products take part too."""

    response: str
    predictors: Sequence[str]
    product: Sequence[str] = ()


Read = Callable[[VariableView], Column]


def columns_of(
    table: TableView, settings: RelationSettings, read: Read | None = None
) -> tuple[VariableView, list[VariableView], Floats, dict[str, Any]]:
    """The response, the predictors, the response's numbers, and the predictors as the core takes them, by label. read:
    how columns are read where they are not what they are now."""
    symbols = list(dict.fromkeys(settings.predictors))
    if settings.response in symbols:
        raise InputError("itself", "A variable cannot be fitted on itself.", where="predictors")
    if not 1 <= len(symbols) <= MOST_PREDICTORS:
        raise InputError("predictors", f"A relation takes 1 to {MOST_PREDICTORS} predictors.", where="predictors")
    response = table.variable(settings.response)
    predictors = [table.variable(symbol) for symbol in symbols]
    series = series_of(response, *predictors, weights="refuse")
    if read is not None:
        series = Series({variable.symbol: read(variable) for variable in (response, *predictors)}, None)
    taken: dict[str, Any] = {}
    for variable in predictors:
        if series.columns[variable.symbol].numbers is not None and variable.kind in NUMBER_KINDS:
            taken[variable.label] = series.numbers(variable.symbol, KINDS)
        else:
            labels, index = series.levels(variable.symbol)
            taken[variable.label] = _Labels(np.array([*labels, None], dtype=object)[index], labels)
    return response, predictors, series.numbers(response.symbol), taken


class _Labels(list):  # type: ignore[type-arg]
    """Labels of rows with the order of their levels, the first of which the others are compared with."""

    def __init__(self, labels: Any, categories: Sequence[str]) -> None:
        super().__init__(labels.tolist())
        self.categories = categories


def products_of(predictors: list[VariableView], settings: RelationSettings) -> list[tuple[str, str]]:
    labels = {variable.symbol: variable.label for variable in predictors}
    if not settings.product:
        return []
    if len(set(settings.product)) != 2 or any(symbol not in labels for symbol in settings.product):
        raise InputError("product", "A product is of two of the predictors.", where="product")
    return [(labels[settings.product[0]], labels[settings.product[1]])]


@dataclass(frozen=True)
class Relation:
    """A relation of a table at a revision: its variables, its columns, and its design."""

    response: VariableView
    predictors: list[VariableView]
    taken: dict[str, Any]
    y: Floats
    design: influence.Design


def relation_of(table: TableView, settings: RelationSettings) -> Relation:
    """The relation, kept for the next question: rows are pulled out of the same one again and again."""
    question = "relation", settings.response, tuple(settings.predictors), tuple(settings.product)
    return table.remembered(question, lambda: _worked(table, settings))


def _worked(table: TableView, settings: RelationSettings) -> Relation:
    response, predictors, y, taken = columns_of(table, settings)
    return Relation(
        response, predictors, taken, y, influence.design_of(y, taken, interactions=products_of(predictors, settings))
    )


@dataclass(frozen=True)
class InfluenceFound:
    """A relation measured. beyond: by measure, (n_rows,) whether a row passes its cut-off; any_beyond: (n_rows,)
    whether it passes that of some measure that counts rows; first: positions of the rows of most influence, those
    beyond first; shown: positions of the points of a plot, with these."""

    relation: Relation
    found: influence.Diagnosis
    beyond: dict[str, NDArray[np.bool_]]
    any_beyond: NDArray[np.bool_]
    first: Ints
    shown: Ints


def measured(table: TableView, settings: RelationSettings, cancellation: Cancellation) -> InfluenceFound:
    """Every measure of influence of a relation, worked once."""
    question = "measured", settings.response, tuple(settings.predictors), tuple(settings.product)
    influence_found: InfluenceFound = table.remembered(question, lambda: _measured(table, settings, cancellation))
    return influence_found


def _measured(table: TableView, settings: RelationSettings, cancellation: Cancellation) -> InfluenceFound:
    whole = relation_of(table, settings)
    result = influence.measured(whole.design)
    cancellation.check()
    beyond = _beyond(result)
    any_beyond = np.zeros(whole.y.size, dtype=bool)
    for measure in _COUNTED:
        any_beyond |= beyond[measure]
    order = np.argsort(-np.nan_to_num(result.cooks, nan=-1), kind="stable")
    order = order[~np.isnan(result.fitted[order])]
    first = order[np.argsort(~any_beyond[order], kind="stable")][:MOST_ROWS]
    known = whole.design.rows
    shown = np.union1d(thinning.points(known, np.nan_to_num(result.external[known])), first)
    return InfluenceFound(whole, result, beyond, any_beyond, first, shown)


def _beyond(diagnosis: influence.Diagnosis) -> dict[str, NDArray[np.bool_]]:
    """Which rows pass the cut-off of each measure."""
    cut = diagnosis.cutoffs
    with np.errstate(invalid="ignore"):
        return {
            "leverage": diagnosis.leverage > cut.high_leverage,
            "external": np.abs(diagnosis.external) > (cut.external_all or np.inf),
            "cooks": diagnosis.cooks > cut.cooks,
            "dffits": np.abs(diagnosis.dffits) > cut.dffits,
            "covratio": np.abs(diagnosis.covratio - 1) > cut.covratio,
            "dfbetas": np.asarray((np.abs(diagnosis.dfbetas) > cut.dfbetas).any(axis=1)),
        }


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


def normal_band(external: Floats) -> tuple[Floats, Floats, Floats] | None:
    """Normal scores and the pointwise band of studentized residuals, at a few positions; None where there is none."""
    kept = external[np.isfinite(external)]
    try:
        plot = normality.quantile_plot(kept)
    except InputError:
        return None
    at = thinning.positions(plot.scores.size)
    return plot.scores[at], plot.point_low[at], plot.point_high[at]
