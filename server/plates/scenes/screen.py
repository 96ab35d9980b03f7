"""Panels of rows that deserve a second look."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from heron.checks import Floats
from heron.figure import pairs as related
from heron.figure import spread as alone
from heron.figure.scene import Axis, Facts, Scene
from scipy.special import ndtri

from server.plates.documents import Source
from server.plates.scenes.place import NOBODY, Place, left_out, named, needed, number, titled, variable_at
from server.readings import relation, screen


def rules(place: Place, source: Source) -> Scene:
    asked = needed(source.rules, source.kind)
    variable = variable_at(place, source)
    by = place.table.variable(asked.by) if asked.by else None
    found = screen.screened(variable, by, asked.rules, asked.options(), NOBODY)
    limits = [
        (float(limit), rule.rule) for rule in found.rules for limit in (rule.low, rule.high)
        if limit is not None and np.isfinite(limit)
    ] if by is None else []  # fmt: skip
    flagged = {row.row for row in found.rows if any(row.flagged)}
    beyond = np.flatnonzero(np.isin(found.positions, list(flagged)))
    unit = found.subject.unit
    rules = ", ".join(rule.rule for rule in found.rules)
    judged = f", judged within {found.within}" if found.within else ""
    facts = Facts(
        titled(place.words(f"{named(found.subject.label, unit)} by row{judged}")),
        (f"Ringed points: named by {rules}.", *(["Lines: the limits of the rules."] if limits else [])),
        n=(("", found.used.n),), **left_out(place, found.used, (source.variable,)),
    )  # fmt: skip
    scene = alone.ordered(
        found.positions.astype(np.float64), found.values, found.positions, np.empty(0, dtype=np.int64), Axis("Row"),
        titled(found.subject.label), unit, facts, limits=limits, beyond=beyond, joined=False,
    )  # fmt: skip
    return replace(scene, numbers=tuple(number("rows named", float(found.n_flagged))))


def distances(place: Place, source: Source) -> Scene:
    asked = needed(source.distances, source.kind)
    found = screen.together(place.table, asked.variables, NOBODY)
    names = ", ".join(each.label for each in found.variables)
    facts = Facts(
        place.words(f"Robust against plain distances over {names}"),
        (f"Ringed points: beyond the {found.reference} limit, drawn as a line.",),
        n=(("", found.n),),
        missing=found.n_missing - place.n_hidden,
    )
    beyond = (found.robust > found.cutoff).astype(np.float64)
    return related.examined(
        found.classical,
        found.robust,
        found.positions,
        beyond,
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


def influence(place: Place, source: Source) -> Scene:
    asked = needed(source.influence, source.kind)
    found = relation.related(place.table, asked.asked(), NOBODY)
    plot = _plot(found, source)
    unit = found.response.unit
    names = ", ".join(each.label for each in found.predictors)
    fit = f"{named(found.response.label, unit)} fitted on {names}"
    facts = Facts(
        place.words(f"{plot.up[0]} over {plot.across[0].lower()} for {fit}"),
        ("Ringed points: rows beyond a cut-off.", *([plot.words] if plot.words else []),
         *(["Curve: smooth."] if plot.trend else [])),
        n=(("", found.n),), missing=found.n_missing - place.n_hidden,
    )  # fmt: skip
    scene = related.examined(
        plot.x, plot.y, found.positions, np.asarray(plot.beyond, dtype=np.float64), plot.across, plot.up, facts,
        limits=plot.limits, trend=plot.trend,
    )  # fmt: skip
    return replace(scene, numbers=tuple(number("R\u00b2", found.r_squared) + number("residual SD", found.sigma, unit)))


def _plot(found: relation.RelationReading, source: Source) -> _Plot:
    cut, unit = found.cutoffs, found.response.unit
    fitted, studentized = ("Fitted value", unit), ("Studentized residual", "")
    reach = cut.external_all or np.inf
    far = np.abs(found.external) > reach
    rows = found.positions.astype(np.float64)
    p = len(found.coefficients)
    at = min(source.coefficient, p - 1)
    if source.view == "residuals":
        trend = (found.trend.x, found.trend.y) if found.trend else None
        return _Plot(found.fitted, found.residuals, fitted, ("Residual", unit), (0.0,), far, "", trend)
    if source.view == "size":
        trend = (found.size_trend.x, found.size_trend.y) if found.size_trend else None
        root = ("Root of the size of the studentized residual", "")
        return _Plot(found.fitted, np.sqrt(np.abs(found.external)), fitted, root, (), far, "", trend)
    if source.view == "qq":
        scores = np.full(found.external.size, np.nan)
        known = np.flatnonzero(np.isfinite(found.external))
        ranks = np.argsort(np.argsort(found.external[known], kind="stable"), kind="stable") + 1
        scores[known] = ndtri((ranks - 0.375) / (known.size + 0.25))
        return _Plot(scores, found.external, ("Normal score", ""), studentized, (), far, "")
    if source.view == "dfbetas":
        y = found.dfbetas.reshape(-1, p)[:, at]
        limits: tuple[float, ...] = (-cut.dfbetas, cut.dfbetas)
        name = (f"DFBETAS of {found.coefficients[at].name}", "")
        return _Plot(rows, y, ("Row", ""), name, limits, np.abs(y) > cut.dfbetas, "Lines: 2/\u221an.")
    if source.view == "partial":
        at = max(at, 1)
        x, y = (each.reshape(-1, p - 1)[:, at - 1] for each in (found.partial_x, found.partial_y))
        others = "given the others" if p > 2 else "about its mean"
        up = (f"{found.response.label}, {others}", unit)
        return _Plot(x, y, (f"{found.coefficients[at].name}, {others}", ""), up, (), far, "")
    if source.view == "order":
        y = getattr(found, source.row_measure)
        limits = {
            "cooks": (cut.cooks,), "leverage": (cut.high_leverage,), "external": (-reach, reach),
            "dffits": (-cut.dffits, cut.dffits), "covratio": (1 - cut.covratio, 1 + cut.covratio),
        }[source.row_measure]  # fmt: skip
        with np.errstate(invalid="ignore"):
            past = (y > limits[-1]) | ((y < limits[0]) if len(limits) > 1 else False)
        return _Plot(
            rows, y, ("Row", ""), (_MEASURES[source.row_measure], ""), limits, past, "Lines: the usual cut-off."
        )
    past = far | (found.leverage > cut.high_leverage) | (found.cooks > cut.cooks)
    words = "Lines: the Bonferroni limit of the largest residual."
    return _Plot(found.leverage, found.external, ("Leverage", ""), studentized, (-reach, reach), past, words)
