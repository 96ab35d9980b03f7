"""Panels of rows that deserve a second look."""

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron import influence as fitting
from heron.checks import Floats
from heron.errors import InputError
from heron.figure import pairs as related
from heron.figure import spread as alone
from heron.figure.build.context import Context, left_out, named, number, titled, variable_at
from heron.figure.choices import ROW_MEASURES
from heron.figure.scene import Axis, Facts, Layer, Scene, SceneSeries
from heron.figure.source import DistancesSource, InfluenceSource, LeftOutSource, RulesSource
from heron.formatting import counted, fixed, significant, typeset
from heron.ledger import VariableView
from heron.outliers import OPTIONS, RULES
from heron.readings.influence import InfluenceFound, RelationSettings, measured, normal_scores, smoothed
from heron.readings.outliers import FlaggedRows, far_rows, flagged_rows, left_out_of
from heron.readings.subject import Subject, series_of, subject_of, used_of
from heron.sensitivity import STATISTICS


def rules(context: Context, source: RulesSource) -> Scene:
    variable = variable_at(context, source)
    by = variable.beside(source.by)
    options = {name: getattr(source, name) for name in OPTIONS}
    result = flagged_rows(variable, by, source.rules, options, context.cancellation)
    subject, used = subject_of(variable), used_of(variable, series_of(variable))
    judged = f", judged within {typeset(by.label)}" if by is not None else ""
    in_rows = " by row" if source.form == "rows" else ""
    drawn = _in_lanes(result, subject, by) if source.form == "lanes" else _by_row(result, subject, split=by is not None)
    limits = any(layer.role in ("limits", "rule limits") for layer in drawn.layers)
    facts = Facts(
        titled(context.words(f"{named(subject.label, subject.unit)}{in_rows}{judged}")),
        (f"Ringed points: flagged by {', '.join(RULES[rule.rule].told(**options) for rule in result.rules)}.",
         *(["Lines: the limits of the rules."] if limits else []),
         *([f"Other points: of {counted(result.drawn, 'row')} drawn at random."] if result.drawn else [])),
        n=(("", used.n),), **left_out(replace(used, sampled=0)),
    )  # fmt: skip
    return replace(drawn, facts=facts, numbers=tuple(number("rows named", float(result.counts.flagged))))


_NOTHING = Facts("")


def _by_row(flagged_rows: FlaggedRows, subject: Subject, *, split: bool) -> Scene:
    limits = [] if split else [
        (float(limit), "") for rule in flagged_rows.rules for limit in (rule.low, rule.high)
        if limit is not None and np.isfinite(limit)
    ]  # fmt: skip
    shown = flagged_rows.shown
    beyond = np.flatnonzero(shown.flagged)
    drawn = alone.InOrder(
        (shown.positions + 1).astype(np.float64), shown.values, shown.positions + 1,
        np.empty(0, dtype=np.int64),
        limits=tuple(limits), beyond=beyond, joined=False,
    )  # fmt: skip
    return alone.ordered(drawn, Axis("Row"), titled(subject.label), subject.unit, _NOTHING)


_NEAR = 0.2  # of the range of the values: limits that lie further off do not stretch the axis


def _in_lanes(flagged_rows: FlaggedRows, subject: Subject, by: VariableView | None) -> Scene:
    """Values along their axis, a lane for each level, the first on top; each rule's limits across its lane."""
    shown = flagged_rows.shown
    values, rows = shown.values, shown.positions + 1
    k = len(flagged_rows.labels) - 1
    at = k - shown.groups.astype(np.float64)
    lane = at + 0.56 * alone.scatter(rows)
    kept = np.isfinite(values) & (shown.groups >= 0)
    beyond = kept & shown.flagged
    low, high = (float(values[kept].min()), float(values[kept].max())) if kept.any() else (0.0, 1.0)
    air = (high - low) * _NEAR
    layers, series = [], []
    for rule_index, rule in enumerate(flagged_rows.rules):
        ends = np.column_stack((rule.limits_low, rule.limits_high))
        near = np.isfinite(ends) & (ends > low - air) & (ends < high + air)
        lines = [(float(ends[i, side]), float(k - i)) for i, side in zip(*np.nonzero(near), strict=True)]
        if lines:
            x = np.repeat([value for value, _ in lines], 3)
            y = np.concatenate([(middle - 0.44, middle + 0.44, np.nan) for _, middle in lines])
            layers.append(Layer("line", "rule limits", RULES[rule.rule].label, x, y))
            series.append(SceneSeries(RULES[rule.rule].label, RULES[rule.rule].label, rule_index, rule.n_flagged))
    for role, which in (("points", kept & ~beyond), ("beyond", beyond)):
        layers.append(Layer("points", role, "", values[which], lane[which], rows=rows[which], upright=False))  # type: ignore[arg-type]
    across = Axis(titled(subject.label), subject.unit).over([layer.x for layer in layers], 0.03)
    split = by is not None
    up = Axis(
        "", "", "levels" if split else "bare", low=-0.56, high=k + 0.56,
        levels=tuple(typeset(label) for label in flagged_rows.labels[::-1]) if split else (),
    )  # fmt: skip
    return Scene(across, up, tuple(layers), _NOTHING, tuple(series), "Rule")


def without_each(context: Context, source: LeftOutSource) -> Scene:
    variable = variable_at(context, source)
    result = left_out_of(variable, source.statistic)
    if result.whole is None:
        raise InputError("no-values", result.undefined.get("values", "There are too few values."), where="statistic")
    subject, used = result.subject, used_of(variable, series_of(variable))
    name = STATISTICS[source.statistic].label
    furthest = f" Ringed: without row {result.furthest} it moves most." if result.furthest else ""
    facts = Facts(
        titled(context.words(f"{name} of {named(subject.label, subject.unit)} without each row")),
        (f"Line: with all rows, {significant(result.whole, 5)}.{furthest}",),
        n=(("", used.n),), **left_out(used),
    )  # fmt: skip
    unit = subject.unit if source.statistic in ("mean", "sd", "median") else ""
    plot = related.Examined(
        result.positions.astype(np.float64), result.values, result.positions,
        result.positions == (result.furthest or 0),
        ("Row left out", ""), (f"{titled(name)} without it", unit), guides=(("up", result.whole, "with all rows"),),
    )  # fmt: skip
    return replace(related.examined(plot, facts), numbers=tuple(number(name, result.whole, unit)))


def distances(context: Context, source: DistancesSource) -> Scene:
    far = far_rows(context.table, source.variables, context.cancellation)
    shown = far.shown
    names = ", ".join(typeset(variable.label) for variable in far.variables)
    facts = Facts(
        context.words(f"Robust against plain distances over {names}"),
        (
            f"Ringed points: beyond the {far.reference} limit, drawn as a line.",
            *([f"Other points: of {counted(far.sampled, 'row')} drawn at random."] if far.sampled else []),
        ),
        n=(("", far.n),),
        missing=far.n_missing - context.n_hidden,
    )
    plot = related.Examined(
        far.classical[shown], far.robust[shown], far.positions[shown] + 1, far.robust[shown] > far.cutoff,
        ("Plain distance", ""), ("Robust distance", ""),
        guides=(("up", far.cutoff, f"97.5 %: {fixed(far.cutoff, 2)}"), ("across", far.cutoff, "")), zero=True,
    )  # fmt: skip
    return related.examined(plot, facts)


def influence(context: Context, source: InfluenceSource) -> Scene:
    settings = RelationSettings(source.response, source.predictors, source.product)
    found = measured(context.table, settings, context.cancellation)
    fit = found.fit
    if "external" in fit.undefined and source.view not in ("partial", "fit"):
        raise InputError("no-plot", fit.undefined["external"], where="view")
    plot, words = _normal_plot(context, settings, found) if source.view == "qq" else _plot(found, source)
    response = subject_of(found.response)
    names = ", ".join(typeset(predictor.label) for predictor in found.predictors)
    related_to = f"{named(response.label, response.unit)} fitted on {names}"
    drawn = f" of {counted(found.sampled, 'row')} drawn at random" if found.sampled else ""
    facts = Facts(
        context.words(f"{plot.up[0]} over {plot.across[0].lower()} for {related_to}"),
        ("Ringed points: rows beyond a cut-off.", *([words] if words else []),
         *([f"Other points:{drawn}."] if drawn else []),
         *([f"Curve: lowess{drawn}."] if plot.trend else [])), notes=_inflation(fit),
        n=(("", fit.n),), missing=fit.n_missing - context.n_hidden,
    )  # fmt: skip
    shown = found.shown
    plot = replace(
        plot, x=plot.x[shown], y=plot.y[shown], rows=found.positions[shown] + 1, beyond=plot.beyond[shown],
        sizes=plot.sizes[shown] if plot.sizes.size else plot.sizes,
    )  # fmt: skip
    numbers = number("R\u00b2", fit.r_squared) + number("residual SD", fit.sigma, response.unit)
    for i, name in enumerate(fit.names[1:], 1):
        numbers += number(f"standard error by HC3, {typeset(name)}", fit.robust_se[i])
        numbers += number(f"partial correlation, {typeset(name)}", fit.partial_r[i])
    for name, times in fit.inflation.items():
        numbers += number(f"variance inflation, {typeset(name)}", times)
    return replace(related.examined(plot, facts), numbers=tuple(numbers))


def _inflation(fit: fitting.LinearFit) -> tuple[str, ...]:
    """How much predictors share, where there are several."""
    times = fit.inflation
    if len(times) < 2:
        return ()
    return (
        f"Variance inflation: "
        f"{', '.join(f'{typeset(name)} {significant(factor, 3)}' for name, factor in times.items())}.",
    )


_STUDENTIZED = "Studentized residual", ""


def _ringed(found: InfluenceFound) -> NDArray[np.bool_]:
    with np.errstate(invalid="ignore"):
        large = found.measures.cooks > found.fit.cutoffs.cooks_large
    return np.asarray(found.beyond["leverage"] | found.beyond["external"] | large)


def _normal_plot(context: Context, settings: RelationSettings, found: InfluenceFound) -> tuple[related.Examined, str]:
    """Studentized residuals over their normal scores."""
    external = found.measures.external
    scores, band = normal_scores(context.table, settings, found)
    known = scores[np.isfinite(scores)]
    ends = _ends(known) if known.size else known
    plot = related.Examined(
        scores, external, found.positions + 1, _ringed(found), ("Normal score", ""), _STUDENTIZED,
        bands=(band,) if band else (), fit=(ends, ends),
    )  # fmt: skip
    return plot, "Line: agreement; band: 95 % at each point." if band else "Line: agreement."


def _plot(found: InfluenceFound, source: InfluenceSource) -> tuple[related.Examined, str]:
    """The plot over all rows loaded, those without a fit having no place, and what is said of its lines."""
    measures, fit, known = found.measures, found.fit, found.used
    cut, p = fit.cutoffs, len(fit.names)
    response = subject_of(found.response)
    unit = response.unit
    ringed = _ringed(found)
    at = min(source.coefficient, p - 1)
    rows = found.positions + 1
    numbered = rows.astype(np.float64)
    fitted = ("Fitted value", unit)

    def plot(x: Floats, y: Floats, across: tuple[str, str], up: tuple[str, str], **said: Any) -> related.Examined:
        return related.Examined(x, y, rows, said.pop("beyond", ringed), across, up, **said)

    if source.view == "fit":
        return _fit(found, plot, (titled(response.label), unit), fitted)
    if source.view == "residuals":
        trend = _trend(measures.fitted[known], measures.residuals[known])
        return plot(
            measures.fitted, measures.residuals, fitted, ("Residual", unit), guides=(("up", 0.0, ""),), trend=trend
        ), ""
    if source.view == "size":
        trend = _trend(measures.fitted[known], np.sqrt(np.abs(measures.internal[known])))
        root = ("Root of the size of the studentized residual", "")
        return plot(measures.fitted, np.sqrt(np.abs(measures.external)), fitted, root, trend=trend), ""
    if source.view == "dfbetas":
        y = measures.dfbetas[:, at]
        with np.errstate(invalid="ignore"):
            past = np.abs(y) > cut.dfbetas
        return plot(
            numbered, y, ("Row", ""), (f"DFBETAS of {fit.names[at]}", ""), beyond=past,
            guides=_both(cut.dfbetas, "2/\u221an"),
        ), "Lines: 2/\u221an."  # fmt: skip
    if source.view == "partial":
        at = max(at, 1)
        x, y = map(found.laid, fitting.added_variable(found.base, found.q, measures.residuals[known], at))
        others = "given the others" if p > 2 else "about its mean"
        ends = _ends(x)
        return plot(
            x, y, (titled(f"{fit.names[at]}, {others}"), ""),
            (titled(f"{response.label}, {others}"), unit),
            fit=(ends, fit.coefficients[at] * ends),
        ), "Line: the coefficient."  # fmt: skip
    if source.view == "order":
        y = getattr(measures, source.row_measure)
        guides = _cuts(found, source.row_measure)
        limits = [value for _, value, _ in guides]
        with np.errstate(invalid="ignore"):
            past = found.beyond[source.row_measure] if limits else np.zeros(y.size, dtype=bool)
        name = (titled(ROW_MEASURES[source.row_measure].label), "")
        return plot(numbered, y, ("Row", ""), name, beyond=past, guides=guides), "Lines: the usual cut-offs."
    sizes = np.clip(np.nan_to_num(measures.cooks), 0, 2) / 2
    reach = cut.external_all
    guides = (
        ("across", cut.leverage, "2p/n"), ("across", cut.high_leverage, "3p/n"), *_both(2.0, "2"),
        *(_both(reach, "5 % over all rows") if reach is not None else ()),
    )  # fmt: skip
    contours = cooks_contours(fit.n, p, found.largest)
    words = "Lines: 2p/n and 3p/n of leverage, 2 and the Bonferroni limit of residuals; curves: Cook's distance."
    return plot(
        measures.leverage, measures.external, ("Leverage", ""), _STUDENTIZED, guides=guides, contours=contours,
        sizes=sizes,
    ), f"{words} Larger points: larger Cook's distance."  # fmt: skip


def _fit(
    found: InfluenceFound, plot: Any, up: tuple[str, str], fitted: tuple[str, str]
) -> tuple[related.Examined, str]:
    """The response over its one number with the line, else over the fitted values with the line of agreement."""
    if found.x is not None:
        subject = subject_of(found.predictors[0])
        ends = np.array(found.ends)
        line = ends, found.fit.coefficients[0] + found.fit.coefficients[1] * ends
        return plot(found.x, found.y, (titled(subject.label), subject.unit), up, fit=line), "Line: least squares."
    ends = _ends(found.measures.fitted)
    return plot(found.measures.fitted, found.y, fitted, up, fit=(ends, ends)), "Line: agreement."


def _ends(x: Floats) -> Floats:
    return np.array([np.nanmin(x, initial=np.inf), np.nanmax(x, initial=-np.inf)])


def _trend(x: Floats, y: Floats) -> tuple[Floats, Floats] | None:
    result = smoothed(x, y)
    return (result.x, result.y) if result else None


def _both(value: float, name: str) -> tuple[tuple[str, float, str], ...]:
    return ("up", value, name), ("up", -value, "")


def _cuts(found: InfluenceFound, measure: str) -> tuple[tuple[str, float, str], ...]:
    """The cut-offs of a measure with their names; a Cook's distance of 1 only where something comes near it."""
    cut = found.fit.cutoffs
    reach = cut.external_all
    largest = found.most[1] if found.most else 0.0
    large = (("up", cut.cooks_large, "1"),) if cut.cooks_large <= 1.3 * max(largest, cut.cooks) else ()
    return {
        "cooks": (("up", cut.cooks, "4/n"), *large),
        "external": (*_both(2.0, "2"), *(_both(reach, "5 % over all rows") if reach is not None else ())),
        "leverage": (("up", cut.leverage, "2p/n"), ("up", cut.high_leverage, "3p/n")),
        "dffits": _both(cut.dffits, "2\u221a(p/n)"),
        "covratio": (("up", 1 + cut.covratio, "1 + 3p/n"), ("up", 1 - cut.covratio, "1 \u2212 3p/n")),
    }[measure]


_STEPS = 60


def cooks_contours(n: int, p: int, most: float) -> tuple[tuple[Floats, Floats, str], ...]:
    """Where Cook's distance is 0.5 and 1: D = t\u00b2 h/((1 \u2212 h) p) for the internal residual t, drawn for the
    external one."""
    result: list[tuple[Floats, Floats, str]] = []
    left = n - p
    h = np.linspace(0, most * 1.03, _STEPS + 1)[1:]
    h = h[h < 1]
    for level in (0.5, 1.0):
        internal = level * p * (1 - h) / h
        kept = internal < left
        t = np.sqrt(internal[kept] * (left - 1) / (left - internal[kept]))
        result += [(h[kept], t, f"D = {significant(level)}"), (h[kept], -t, "")]
    return tuple(result)
