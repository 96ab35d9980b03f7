"""Panels of one variable: rows up to each value, counts of values, quantiles, order, times."""

from dataclasses import replace

import numpy as np

from heron import frequency
from heron.errors import InputError
from heron.figure import spread as alone
from heron.figure.build.context import DAY, Context, left_out, named, number, titled, variable_at
from heron.figure.build.shapes import cut_of, levels_of, limits_of
from heron.figure.scene import Axis, Facts, Number, Scene
from heron.figure.source import (
    CountsSource,
    CumulativeSource,
    OrderedSource,
    QuantilesSource,
    TimesSource,
)
from heron.formatting import counted, percent, significant, typeset
from heron.ledger import Used, VariableView
from heron.readings import Subject, numbers_of, spread
from heron.readings import normality as normal
from heron.readings import ordering as ordered


def cumulative(context: Context, source: CumulativeSource) -> Scene:
    variable = variable_at(context, source)
    by = variable.beside(source.by)
    result = numbers_of(variable, by)
    labels, index = levels_of(result, by)
    cut = spread.classes_of(variable, result, "linear", cut_of(source)) if "polygon" in source.lines else None
    parts = []
    for i, label in enumerate(labels):
        group_rows = np.flatnonzero((index == i) & ~np.isnan(result.values))
        if group_rows.size:
            values = result.values[group_rows]
            edges = None if cut is None else frequency.classify(values, boundaries=cut.boundaries, closed=cut.closed)
            parts.append(alone.Rising(typeset(label), values, edges))
    if not parts:
        raise InputError("no-values", f"{variable.label} has no value.", where="variable")
    side = "at or above" if source.at_least else "at or below"
    of = "rows" if source.measure == "counts" else "percent of rows"
    marks = []
    if cut is not None:
        marks.append(f"Polygon: {of} {side} each boundary of {counted(cut.counts.size, 'class', 'classes')}.")
    if "steps" in source.lines:
        marks.append(f"Steps: {of} {side} each value.")
    subject = named(result.subject.label, result.subject.unit)
    facts = Facts(
        titled(context.words(f"{subject}{f' by {typeset(by.label)}' if by else ''}")), tuple(marks),
        n=tuple((part.label, int(part.values.size)) for part in parts),
        named=(("across", subject), *((("series", typeset(by.label)),) if by else ())),
        **left_out(result.used),
    )  # fmt: skip
    return alone.cumulative(
        parts, titled(result.subject.label), result.subject.unit, facts, source, typeset(by.label) if by else ""
    )


MOST_BARS = 60


def counts(context: Context, source: CountsSource) -> Scene:
    variable = variable_at(context, source)
    subject, used, result = spread.counts(variable)
    more = len(result.rows) - MOST_BARS
    shown = tuple(replace(row, value=typeset(_label(row.value))) for row in result.rows[:MOST_BARS])
    percents = source.measure == "percents"
    facts = Facts(
        titled(context.words(f"{subject.label}: {'percent' if percents else 'number'} of rows at each value")),
        n=(("", result.n),),
        cannot=(f"{counted(more, 'more value')} not shown.",) if more > 0 else (),
        **left_out(used),
    )
    title = titled(named(subject.label, subject.unit))
    return alone.counted(replace(result, rows=shown), title, facts, percents=percents, written=source.written)


def _label(value: float | str | None) -> str:
    return significant(value) if isinstance(value, float) else str(value)


def quantiles(context: Context, source: QuantilesSource) -> Scene:
    variable = variable_at(context, source)
    if source.family == "normal" and source.plot != "shares":
        drawn, facts, title, of, unit, numbers = _normal_quantiles(context, variable, source)
    else:
        drawn, facts, title, of, unit, numbers = _other_quantiles(context, variable, source)
    if source.plot == "off the line":
        drawn, title = drawn.off_the_line(), f"{title}, off the line"
    return replace(alone.quantiles(drawn, title, unit, of, facts), numbers=tuple(numbers))


_Drawn = tuple[alone.Quantiles, Facts, str, str, str, list[Number]]


def _normal_quantiles(context: Context, variable: VariableView, source: QuantilesSource) -> _Drawn:
    reading, qq = normal.judged(variable, source.level, context.cancellation, by=variable.beside(source.by))
    if qq is None:
        raise InputError("no-plot", reading.qq_reason, where="variable")
    known = {
        "simultaneous": (qq.band_scores, qq.simultaneous_low, qq.simultaneous_high),
        "pointwise": (qq.band_scores, qq.point_low, qq.point_high),
    }
    wanted = [name for name in known if name in source.bands and np.isfinite(known[name][1]).any()]
    # Of very many values there is no band for all together; that of each point then stands alone.
    wanted = wanted or (["pointwise"] if source.bands and np.isfinite(qq.point_low).any() else [])
    drawn = alone.Quantiles(
        qq.scores, qq.ordered, qq.rows, qq.slope, qq.intercept, tuple(known[name] for name in wanted)
    )
    subject = reading.subject
    bands = (
        f"; {'bands' if len(wanted) > 1 else 'band'}: {percent(source.level)} {' and '.join(wanted)}" if wanted else ""
    )
    line = "from the line of mean and SD" if source.plot == "off the line" else "mean and SD of the data"
    marks = [
        f"{'Distances' if source.plot == 'off the line' else 'Line'}: {line}{bands}.",
        *([f"Values are distances from the mean of their {reading.within}."] if reading.within else []),
    ]
    numbers = number("Shapiro and Wilk's W", reading.check.shapiro_wilk.statistic)
    numbers += number("p of W", reading.check.shapiro_wilk.p_value)
    title = "Distance from the mean" if reading.within else titled(subject.label)
    return (
        drawn,
        _against(context, subject, reading.used, "normal scores", marks, reading.check.n),
        title,
        "Normal scores",
        subject.unit,
        numbers,
    )


def _other_quantiles(context: Context, variable: VariableView, source: QuantilesSource) -> _Drawn:
    result, plots = normal.fitted(variable, source.family, source.level)
    fitted = ", ".join(f"{name} {significant(value, 4)}" for name, value in result.parameters.items())
    numbers = [Number(name, value) for name, value in result.parameters.items()]
    if source.plot == "shares":
        drawn = alone.Quantiles(plots.positions, plots.probabilities, plots.rows, 1.0, 0.0)
        marks = [f"Line: perfect agreement with the {result.family} distribution fitted ({fitted})."]
        of, title, unit = "share expected below", f"Share below by the {result.family}", ""
    else:
        bands = () if result.no_band or not source.bands else ((plots.expected, plots.low, plots.high),)
        drawn = alone.Quantiles(plots.expected, plots.ordered, plots.rows, 1.0, 0.0, bands)
        band = f"; band: {percent(result.level)} of refitted samples" if bands else ""
        marks = [f"Line: perfect agreement with the {result.family} distribution fitted ({fitted}){band}."]
        of, title, unit = (
            f"quantiles of the fitted {result.family} distribution",
            titled(result.subject.label),
            result.subject.unit,
        )
    return drawn, _against(context, result.subject, result.used, of, marks, result.n), title, titled(of), unit, numbers


def _against(context: Context, subject: Subject, used: Used, of: str, marks: list[str], n: int) -> Facts:
    words = titled(context.words(f"{named(subject.label, subject.unit)} against {of}"))
    return Facts(words, tuple(marks), n=(("", n),), **left_out(used))


def ordered_rows(context: Context, source: OrderedSource) -> Scene:
    variable = variable_at(context, source)
    along = context.table.variable(source.along) if source.along else None
    result, drawn = ordered.in_order(variable, along)
    told, subject, marks = result.found, result.subject, source.marks
    time = result.along_kind == "date-time"
    axis = Axis(titled(result.along or "row"), "" if time else result.along_unit, "time" if time else "number")
    places = drawn.places / DAY if time else drawn.places
    words = []
    if "joined" in marks:
        words.append("Lines join neighbours, broken where a value is missing.")
    quartiles = ((told.median, "median"), (told.q1, "Q1"), (told.q3, "Q3"))
    levels = tuple((at, name) for at, name in quartiles if at is not None) if "quartiles" in marks else ()
    if levels:
        words.append("Level lines: median and quartiles.")
    run = _run(result, drawn) if "run" in marks else None
    if run is not None:
        words.append("Shaded: the longest run on one side of the median.")
    jumps = np.flatnonzero(np.isin(drawn.rows, told.jumps)) if "jumps" in marks else None
    if jumps is not None and jumps.size:
        words.append("Rings: values after a jump.")
    declared = tuple(limits_of(subject)) if "limits" in marks else ()
    if drawn.values.size < told.n:
        words.append("Drawn: the smallest and largest value of each stretch of rows.")
    facts = Facts(
        titled(context.words(f"{named(subject.label, subject.unit)} in order of {result.along or 'its rows'}")),
        tuple(words),
        n=(("", told.n),),
        **left_out(result.used),
    )
    shown = alone.InOrder(
        places, drawn.values, drawn.rows, drawn.after_hole, levels, declared, run, jumps, joined="joined" in marks
    )
    return alone.ordered(shown, axis, titled(subject.label), subject.unit, facts)


def _run(order_reading: ordered.OrderReading, drawn: ordered.Ordered) -> tuple[int, int] | None:
    """From which place to which the longest run goes, where it is longer than chance would have it."""
    told = order_reading.found
    if told.longest is None or told.long_from is None or told.longest < told.long_from:
        return None
    at = [np.flatnonzero(drawn.rows == row) for row in (told.longest_first, told.longest_last)]
    return (int(at[0][0]), int(at[1][0])) if at[0].size and at[1].size else None


def times(context: Context, source: TimesSource) -> Scene:
    variable = variable_at(context, source)
    result = ordered.in_time(variable, source.unit)
    facts = Facts(
        titled(context.words(f"{result.subject.label}: rows in each {result.times.unit}")),
        ("Times as written, without a zone.",),
        n=(("", result.times.n),),
        **left_out(result.used),
    )
    return alone.in_time(result.times.boundaries / DAY, result.times.counts, titled(result.subject.label), facts)
