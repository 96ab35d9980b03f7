"""Panels of one variable: its shape, its distribution function, its counts, its quantiles, its order."""

from dataclasses import replace
from typing import Any

import numpy as np

from heron import density, frequency
from heron.checks import Ints
from heron.errors import InputError
from heron.figure import spread as alone
from heron.figure.build.place import DAY, RULES, Place, left_out, named, number, titled, variable_at
from heron.figure.scene import Axis, Facts, Number, Scale, Scene
from heron.figure.source import (
    CountsSource,
    CumulativeSource,
    OrderedSource,
    QuantilesSource,
    ShapeSource,
    TimesSource,
)
from heron.ledger import VariableView
from heron.readings import Numbers, numbers_of, spread
from heron.readings import normality as normal
from heron.readings import ordering as ordered
from heron.wording import counted, grouped, typeset


def shape(place: Place, source: ShapeSource) -> Scene:
    variable = variable_at(place, source)
    by = variable.beside(source.by)
    found = numbers_of(variable, by)
    unit = found.subject.unit
    labels, index = _levels(found, by)
    scale: Scale = "log10" if source.axis == "log" else "linear"
    sent = np.zeros(found.values.size, dtype=bool)
    sent[spread.sent_places(variable, found)] = True
    on_axis = spread.on_axis(found, source.axis)
    cut = None
    if "classes" in source.layers or source.measure != "density":
        cut = spread.classes_of(found, source.axis, _cut(source))
    parts, n, numbers, notes, boxes = [], [], [], [], spread.BoxSettings()
    bandwidth = ""
    for i, label in enumerate(labels):
        own = np.flatnonzero(index == i)
        if by is not None and not np.isfinite(found.values[own]).any():
            continue
        part = replace(found, values=found.values[own], at=found.positions(own))
        boxes = _box(source)
        summary = spread.numbers_with(variable, part, boxes, source.level)
        curve = _density(variable, on_axis[own], source)
        if curve is not None:
            rule: str = source.bandwidth if isinstance(source.bandwidth, str) else ""
            of = "" if rule else f", SD {curve.bandwidth:.3g}{f' {unit}' if unit and scale == 'linear' else ''}"
            bandwidth = f"Density: {source.kernel} kernel{of}{f' by {RULES[rule]}' if rule else ''}"
            if rule and by is None:
                bandwidth += f", SD {curve.bandwidth:.3g}{f' {unit}' if unit and scale == 'linear' else ''}"
            bandwidth += ", of log10 of the values." if scale == "log10" else "."
        normal_x, heights = None, None
        if "normal" in source.layers:
            drawn = spread.normal_curve_of(part, summary, source.axis)
            if drawn is not None:
                normal_x, heights = drawn.x, drawn.density
        here = own[sent[own]]
        classes = None
        if cut is not None:
            at = frequency.places(found.values[own], cut.boundaries, closed=cut.closed)
            counts = np.bincount(at[at >= 0], minlength=cut.counts.size)
            total = max(int(counts.sum()), 1)
            widths = np.diff(np.log10(cut.boundaries) if scale == "log10" else cut.boundaries)
            classes = replace(cut, counts=counts, percents=100 * counts / total, densities=counts / total / widths)
        parts.append(
            alone.Shape(
                typeset(label), found.values[here], found.positions(here) + 1, classes, curve,
                spread.rows_from_one(spread.box_of(part.values, boxes), part), normal_x, heights,
            )
        )  # fmt: skip
        n.append((typeset(label), summary.n))
        of = f", {typeset(label)}" if by is not None else ""
        for name, value in (("mean", summary.mean), ("SD", summary.sd), ("median", summary.median)):
            numbers += number(f"{name}{of}", value, unit)
        numbers += number(f"first quartile{of}", summary.q1, unit) + number(f"third quartile{of}", summary.q3, unit)
        numbers += number(f"n{of}", float(summary.n))
        for name, value in (
            ("SE of the mean", summary.se), ("lower limit of the mean", summary.mean_low),
            ("upper limit of the mean", summary.mean_high), ("minimum", summary.minimum), ("maximum", summary.maximum),
        ):  # fmt: skip
            numbers += number(f"{name}{of}", value, unit)
        numbers += number(f"skewness{of}", summary.skewness) + number(f"excess kurtosis{of}", summary.kurtosis)
        if by is None:
            notes += _back_words(variable, summary)
    marks = []
    if "classes" in source.layers and cut is not None:
        width = (
            f"{cut.width:.4g}{f' {unit}' if unit and scale == 'linear' else ''} wide"
            if cut.width
            else "of unequal width"
        )
        rule = f" ({RULES[cut.rule]})" if cut.rule in RULES else ""
        marks.append(f"Classes {width}{', in powers of ten' if scale == 'log10' else ''}{rule}.")
    if "density" in source.layers and bandwidth:
        marks.append(bandwidth)
    if "normal" in source.layers:
        marks.append("Dotted line: normal curve of the same mean and SD.")
    if "box" in source.layers:
        beyond = any(part.box is not None and part.box.outlier_rows.size for part in parts)
        rings = "; ringed: rows beyond" if beyond and "points" not in source.layers else ""
        marks.append(f"Box: quartiles by definition {boxes.quantile_definition}; whiskers to {boxes.words()}{rings}.")
    if "points" in source.layers:
        marks.append(_points_words(found, int(sent.sum())))
    subject = titled(place.words(f"{named(found.subject.label, unit)}{f' by {typeset(by.label)}' if by else ''}"))
    facts = Facts(
        subject, tuple(marks), notes=tuple(notes), n=tuple(n),
        **left_out(found.used),
    )  # fmt: skip
    return alone.shape(
        parts, titled(found.subject.label), unit, facts, layers=source.layers, measure=source.measure, scale=scale,
        series_title=typeset(by.label) if by else "", numbers=numbers,
    )  # fmt: skip


def _levels(found: Numbers, by: VariableView | None) -> tuple[list[str], Ints]:
    """The levels of a split and the place of each value among them; one of all values without `by`."""
    return ([""], np.zeros(found.values.size, dtype=np.int64)) if by is None else found.series.levels(by.symbol)


def _cut(source: ShapeSource) -> dict[str, Any]:
    """How classes are set, as frequency.classify takes it."""
    said = {name: getattr(source, name) for name in ("rule", "count", "width", "start", "closed")}
    return {**said, "boundaries": source.boundaries or None}


def _box(source: ShapeSource) -> spread.BoxSettings:
    return spread.BoxSettings(source.quantile_definition, (), source.reach, source.whiskers, source.share)


def _density(variable: VariableView, values: Any, source: ShapeSource) -> Any:
    low, high = spread.bounds_on(variable, source.axis)
    try:
        found = density.estimate(values, bandwidth=source.bandwidth, kernel=source.kernel, lower=low, upper=high)
    except InputError:
        return None
    return replace(found, x=spread.from_log10(found.x)) if source.axis == "log" else found


def _back_words(variable: VariableView, summary: Any) -> list[str]:
    """The mean of a scale, brought back to the unit of its source."""
    back = spread.back_on_source(variable, summary)
    if back is None or back.mean is None:
        return []
    unit = f" {typeset(back.unit)}" if back.unit else ""
    limits = "" if back.low is None or back.high is None else f" (95 % limits {back.low:.4g} to {back.high:.4g})"
    return [f"Back on the scale of the data, the mean is {back.mean:.4g}{unit}{limits}."]


def _points_words(found: Numbers, n_sent: int) -> str:
    if n_sent < found.used.n:
        return f"Points: a random sample of {counted(n_sent, 'row')} of {grouped(found.used.n)}, scattered sideways."
    return "Points: rows, scattered sideways."


def cumulative(place: Place, source: CumulativeSource) -> Scene:
    variable = variable_at(place, source)
    by = variable.beside(source.by)
    found = numbers_of(variable, by)
    labels, index = _levels(found, by)
    parts = []
    for i, label in enumerate(labels):
        own = np.flatnonzero((index == i) & ~np.isnan(found.values))
        if own.size:
            parts.append(alone.Shape(typeset(label), found.values[own], found.positions(own) + 1))
    if not parts:
        raise InputError("no-values", f"{variable.label} has no value.", where="variable")
    facts = Facts(
        titled(
            place.words(f"{named(found.subject.label, found.subject.unit)}{f' by {typeset(by.label)}' if by else ''}")
        ),
        ("Steps: percent of rows at or below each value.",),
        n=tuple((part.label, int(part.values.size)) for part in parts),
        **left_out(found.used),
    )
    return alone.cumulative(
        parts, titled(found.subject.label), found.subject.unit, facts, series_title=typeset(by.label) if by else ""
    )


def counts(place: Place, source: CountsSource) -> Scene:
    variable = variable_at(place, source)
    subject, used, found = spread.counts(variable)
    found = replace(found, rows=tuple(replace(row, value=typeset(_label(row.value))) for row in found.rows))
    if len(found.rows) > 60:
        raise InputError(
            "too-many-levels", f"{variable.label} has {len(found.rows)} values; at most 60 stand on a plate.",
            where="variable", remedy="Put it in classes under Rescale.",
        )  # fmt: skip
    percents = source.measure == "percents"
    facts = Facts(
        titled(place.words(f"{subject.label}: {'percent' if percents else 'number'} of rows at each value")),
        n=(("", found.n),),
        **left_out(used),
    )
    return alone.counted(found, titled(named(subject.label, subject.unit)), facts, percents=percents)


def _label(value: float | str | None) -> str:
    return f"{value:g}" if isinstance(value, float) else str(value)


def quantiles(place: Place, source: QuantilesSource) -> Scene:
    variable = variable_at(place, source)
    if source.family == "normal":
        by = variable.beside(source.by)
        reading = normal.normality_reading(variable, source.level, place.cancellation, by=by)
        if reading.qq is None:
            raise InputError("no-plot", reading.qq_reason, where="variable")
        qq = reading.qq
        low, high, band = qq.simultaneous_low, qq.simultaneous_high, "simultaneous"
        if not np.isfinite(low).any():
            low, high, band = qq.point_low, qq.point_high, "pointwise"
        drawn = alone.Quantiles(qq.scores, qq.ordered, qq.rows, qq.slope, qq.intercept, qq.band_scores, low, high)
        subject, used, of, n = reading.subject, reading.used, "normal scores", qq.n
        marks = [
            f"Line: mean and SD of the data; band: {100 * qq.level:g} % {band}.",
            *([f"Values are distances from the mean of their {reading.within}."] if reading.within else []),
        ]
        numbers = number("Shapiro and Wilk's W", reading.check.shapiro_wilk.statistic)
        numbers += number("p of W", reading.check.shapiro_wilk.p_value)
    else:
        found = normal.against(variable, source.family, source.level)
        drawn = alone.Quantiles(
            found.expected, found.ordered, found.rows, 1.0, 0.0, found.expected, found.low, found.high
        )
        subject, used, of, n = (
            found.subject,
            found.used,
            f"quantiles of the fitted {found.family} distribution",
            found.n,
        )
        fitted = ", ".join(f"{name} {value:.4g}" for name, value in found.parameters.items())
        band = "" if found.no_band else f"; band: {100 * found.level:g} % of refitted samples"
        marks = [f"Line: perfect agreement with the {found.family} distribution fitted ({fitted}){band}."]
        numbers = [Number(name, value) for name, value in found.parameters.items()]
    facts = Facts(
        titled(place.words(f"{named(subject.label, subject.unit)} against {of}")), tuple(marks), n=(("", n),),
        **left_out(used),
    )  # fmt: skip
    scene = alone.quantiles(drawn, titled(subject.label), subject.unit, titled(of), facts)
    return replace(scene, numbers=tuple(numbers))


def ordered_rows(place: Place, source: OrderedSource) -> Scene:
    variable = variable_at(place, source)
    along = place.table.variable(source.along) if source.along else None
    found = ordered.order(variable, along)
    time = found.along_kind == "date-time"
    axis = Axis(
        titled(found.along or "row"), "" if time else found.along_unit, "time" if time else "number"
    )  # fmt: skip
    places = found.places + 1 if not found.along else found.places / DAY if time else found.places
    facts = Facts(
        titled(
            place.words(f"{named(found.subject.label, found.subject.unit)} in order of {found.along or 'its rows'}")
        ),
        ("Lines join neighbours, broken where a value is missing.",),
        n=(("", found.found.n),),
        **left_out(found.used),
    )
    return alone.ordered(
        places,
        found.values,
        found.rows,
        found.after_hole,
        axis,
        titled(found.subject.label),
        found.subject.unit,
        facts,
    )


def times(place: Place, source: TimesSource) -> Scene:
    variable = variable_at(place, source)
    found = ordered.in_time(variable, source.unit)
    facts = Facts(
        titled(place.words(f"{found.subject.label}: rows in each {found.times.unit}")),
        n=(("", found.times.n),),
        **left_out(found.used),
    )
    return alone.in_time(found.times.boundaries / DAY, found.times.counts, titled(found.subject.label), facts)
