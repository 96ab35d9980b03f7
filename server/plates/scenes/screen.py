"""Panels of rows that deserve a second look."""

from dataclasses import replace

import numpy as np
from heron.figure import pairs as related
from heron.figure import spread as alone
from heron.figure.scene import Axis, Facts, Scene

from server.plates.documents import Source
from server.plates.scenes.place import NOBODY, Place, left_out, named, needed, number, titled, variable_at
from server.readings import relation, screen
from server.studies.selectors import variable_of


def rules(place: Place, source: Source) -> Scene:
    asked = needed(source.rules, source.kind)
    variable = variable_at(place, source)
    by = variable_of(place.table, asked.by) if asked.by else None
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


def influence(place: Place, source: Source) -> Scene:
    asked = needed(source.influence, source.kind)
    found = relation.related(place.table, asked.asked(), NOBODY)
    cut = found.cutoffs
    leverage, external = ("Leverage", ""), ("Studentized residual", "")
    unit = found.response.unit
    trend, limits = None, []
    if source.view == "fitted":
        x, y, across, up = found.fitted, found.residuals, ("Fitted value", unit), ("Residual", unit)
        limits = [0.0]
        trend = (found.trend.x, found.trend.y) if found.trend else None
        beyond = np.abs(found.external) > (cut.external_all or np.inf)
    elif source.view == "spread":
        x, y = found.fitted, np.sqrt(np.abs(found.external))
        across, up = ("Fitted value", unit), ("Root of the size of the studentized residual", "")
        trend = (found.size_trend.x, found.size_trend.y) if found.size_trend else None
        beyond = np.abs(found.external) > (cut.external_all or np.inf)
    elif source.view == "cooks":
        x, y, across, up = found.positions.astype(np.float64), found.cooks, ("Row", ""), ("Cook's distance", "")
        limits, beyond = [cut.cooks], found.cooks > cut.cooks
    else:
        x, y, across, up = found.leverage, found.external, leverage, external
        reach = cut.external_all
        limits = [-reach, reach] if reach else []
        beyond = (
            (np.abs(found.external) > (reach or np.inf))
            | (found.leverage > cut.high_leverage)
            | (found.cooks > cut.cooks)
        )
    names = ", ".join(each.label for each in found.predictors)
    rule = {"cooks": "Line: 4/n.", "influence": "Lines: the Bonferroni limit of the largest residual."}.get(
        source.view, ""
    )
    facts = Facts(
        place.words(f"{up[0]} over {across[0].lower()} for {named(found.response.label, unit)} fitted on {names}"),
        ("Ringed points: rows beyond a cut-off.", *([rule] if rule else []), *(["Curve: smooth."] if trend else [])),
        n=(("", found.n),), missing=found.n_missing,
    )  # fmt: skip
    scene = related.examined(
        x, y, found.positions, beyond.astype(np.float64), across, up, facts, limits=limits, trend=trend
    )
    return replace(scene, numbers=tuple(number("R\u00b2", found.r_squared) + number("residual SD", found.sigma, unit)))
