"""Panels of rows that deserve a second look."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from scipy.special import ndtri

from heron import influence as fitting
from heron.checks import Floats
from heron.figure import pairs as related
from heron.figure import spread as alone
from heron.figure.build.place import Place, left_out, named, number, titled, variable_at
from heron.figure.scene import Axis, Facts, Scene
from heron.figure.source import DistancesSource, InfluenceSource, RulesSource
from heron.readings.influence import InfluenceFound, RelationSettings, measured, smoothed
from heron.readings.outliers import MOST_ROWS, far_rows, flagged_rows
from heron.readings.subject import series_of, subject_of
from heron.wording import typeset


def rules(place: Place, source: RulesSource) -> Scene:
    variable = variable_at(place, source)
    by = variable.beside(source.by)
    options = {name: getattr(source, name) for name in ("reach", "quantile_definition", "suspects")}
    found = flagged_rows(variable, by, source.rules, options, place.cancellation)
    limits = [
        (float(limit), "") for rule in found.rules for limit in (rule.low, rule.high)
        if limit is not None and np.isfinite(limit)
    ] if by is None else []  # fmt: skip
    beyond = np.flatnonzero(np.isin(found.shown, found.first[:MOST_ROWS]))
    subject, used = subject_of(variable), series_of(variable).used(variable.symbol)
    rules = ", ".join(rule.rule for rule in found.rules)
    judged = f", judged within {typeset(by.label)}" if by is not None else ""
    facts = Facts(
        titled(place.words(f"{named(subject.label, subject.unit)} by row{judged}")),
        (f"Ringed points: named by {rules}.", *(["Lines: the limits of the rules."] if limits else [])),
        n=(("", used.n),), **left_out(used),
    )  # fmt: skip
    drawn = alone.InOrder(
        (found.shown + 1).astype(np.float64), found.values[found.shown], found.shown + 1, np.empty(0, dtype=np.int64),
        limits=tuple(limits), beyond=beyond, joined=False,
    )  # fmt: skip
    scene = alone.ordered(drawn, Axis("Row"), titled(subject.label), subject.unit, facts)
    return replace(scene, numbers=tuple(number("rows named", float(found.flagged.size))))


def distances(place: Place, source: DistancesSource) -> Scene:
    far = far_rows(place.table, source.variables, place.cancellation)
    found, shown = far.found, far.shown
    names = ", ".join(typeset(each.label) for each in far.variables)
    facts = Facts(
        place.words(f"Robust against plain distances over {names}"),
        (f"Ringed points: beyond the {found.reference} limit, drawn as a line.",),
        n=(("", found.n),),
        missing=found.n_missing - place.n_hidden,
    )
    return related.examined(
        found.classical[shown],
        found.robust[shown],
        shown + 1,
        (found.robust[shown] > found.cutoff).astype(np.float64),
        ("Plain distance", ""),
        ("Robust distance", ""),
        facts,
        limits=[found.cutoff],
    )


@dataclass(frozen=True)
class _Plot:
    """A diagnostic plot of a fit: what is drawn over what, and past which limits rows are ringed."""

    x: Floats
    y: Floats
    across: tuple[str, str]
    up: tuple[str, str]
    limits: tuple[float, ...]
    beyond: Any
    words: str
    trend: tuple[Floats, Floats] | None = None


_MEASURES = {
    "cooks": "Cook's distance",
    "leverage": "Leverage",
    "external": "Studentized residual",
    "dffits": "DFFITS",
    "covratio": "COVRATIO",
}


def influence(place: Place, source: InfluenceSource) -> Scene:
    asked = RelationSettings(source.response, source.predictors, source.product)
    measures = measured(place.table, asked, place.cancellation)
    found, whole = measures.found, measures.relation
    plot = _plot(measures, source)
    response = subject_of(whole.response)
    names = ", ".join(typeset(each.label) for each in whole.own)
    fit = f"{named(response.label, response.unit)} fitted on {names}"
    facts = Facts(
        place.words(f"{plot.up[0]} over {plot.across[0].lower()} for {fit}"),
        ("Ringed points: rows beyond a cut-off.", *([plot.words] if plot.words else []),
         *(["Curve: smooth."] if plot.trend else [])),
        n=(("", found.n),), missing=found.n_missing - place.n_hidden,
    )  # fmt: skip
    shown = measures.shown
    scene = related.examined(
        plot.x[shown], plot.y[shown], shown + 1, np.asarray(plot.beyond, dtype=np.float64)[shown], plot.across, plot.up,
        facts, limits=plot.limits, trend=plot.trend,
    )  # fmt: skip
    numbers = number("R\u00b2", found.r_squared) + number("residual SD", found.sigma, response.unit)
    return replace(scene, numbers=tuple(numbers))


def _plot(measures: InfluenceFound, source: InfluenceSource) -> _Plot:
    """The plot over all rows; those without a fit have no place."""
    found, response = measures.found, subject_of(measures.relation.response)
    cut, unit = found.cutoffs, response.unit
    fitted, studentized = ("Fitted value", unit), ("Studentized residual", "")
    reach = cut.external_all or np.inf
    known = measures.relation.design.rows
    rows = np.arange(1, found.fitted.size + 1, dtype=np.float64)
    p = len(found.names)
    at = min(source.coefficient, p - 1)
    with np.errstate(invalid="ignore"):
        far = np.abs(found.external) > reach
    if source.view == "residuals":
        trend = smoothed(found.fitted[known], found.residuals[known])
        ends = (trend.x, trend.y) if trend else None
        return _Plot(found.fitted, found.residuals, fitted, ("Residual", unit), (0.0,), far, "", ends)
    if source.view == "size":
        trend = smoothed(found.fitted[known], np.sqrt(np.abs(found.internal[known])))
        root = ("Root of the size of the studentized residual", "")
        ends = (trend.x, trend.y) if trend else None
        return _Plot(found.fitted, np.sqrt(np.abs(found.external)), fitted, root, (), far, "", ends)
    if source.view == "qq":
        scores = np.full(found.external.size, np.nan)
        finite = np.flatnonzero(np.isfinite(found.external))
        ranks = np.argsort(np.argsort(found.external[finite], kind="stable"), kind="stable") + 1
        scores[finite] = ndtri((ranks - 0.375) / (finite.size + 0.25))
        return _Plot(scores, found.external, ("Normal score", ""), studentized, (), far, "")
    if source.view == "dfbetas":
        y = found.dfbetas[:, at]
        limits: tuple[float, ...] = (-cut.dfbetas, cut.dfbetas)
        name = (f"DFBETAS of {found.names[at]}", "")
        with np.errstate(invalid="ignore"):
            return _Plot(rows, y, ("Row", ""), name, limits, np.abs(y) > cut.dfbetas, "Lines: 2/\u221an.")
    if source.view == "partial":
        at = max(at, 1)
        part = fitting.partial(measures.relation.design, at)
        others = "given the others" if p > 2 else "about its mean"
        up = (f"{response.label}, {others}", unit)
        return _Plot(part.x, part.y, (f"{found.names[at]}, {others}", ""), up, (), far, "")
    if source.view == "order":
        y = getattr(found, source.row_measure)
        limits = {
            "cooks": (cut.cooks,), "leverage": (cut.high_leverage,), "external": (-reach, reach),
            "dffits": (-cut.dffits, cut.dffits), "covratio": (1 - cut.covratio, 1 + cut.covratio),
        }[source.row_measure]  # fmt: skip
        with np.errstate(invalid="ignore"):
            past = (y > limits[-1]) | ((y < limits[0]) if len(limits) > 1 else False)
        name = (_MEASURES[source.row_measure], "")
        return _Plot(rows, y, ("Row", ""), name, limits, past, "Lines: the usual cut-off.")
    with np.errstate(invalid="ignore"):
        past = far | (found.leverage > cut.high_leverage) | (found.cooks > cut.cooks)
    words = "Lines: the Bonferroni limit of the largest residual."
    return _Plot(found.leverage, found.external, ("Leverage", ""), studentized, (-reach, reach), past, words)
