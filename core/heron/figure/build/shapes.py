"""Panels of the shape of one variable, or of each level of it."""

from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from heron import density, frequency, statistics
from heron.checks import Floats, Ints
from heron.density import BANDWIDTH_RULES, KERNELS
from heron.errors import InputError
from heron.figure.build.context import Context, left_out, named, number, titled, variable_at
from heron.figure.scene import Facts, Number, Scene
from heron.figure.shapes import Shape, shape
from heron.figure.source import CumulativeSource, ShapeSource
from heron.formatting import counted, grouped, significant, typeset
from heron.frequency import CLASS_RULES
from heron.ledger import VariableView, in_rounds
from heron.quantiles import DEFINITION_WORDS
from heron.readings import Numbers, Subject, numbers_of, spread
from heron.readings.detection import below
from heron.readings.subject import ALL, Whose, look_first
from heron.summary import Summary

MOST_BUMPS = 60
MOST_LEVELS = 300


def shapes(context: Context, source: ShapeSource) -> Scene:
    variable = variable_at(context, source)
    by = variable.beside(source.by)
    if by is None:
        look_first(variable)
    result = numbers_of(variable, by)
    unit = result.subject.unit
    labels, index = levels_of(result, by)
    if by is not None:
        look_first(variable, *(((source.by, label),) for label in labels))
    on_axis = spread.on_axis(result, source.axis)
    drawn = set(source.layers)
    sent = np.zeros(result.values.size, dtype=bool)
    if drawn & {"points", "rug"}:
        sent[spread.sent_places(variable, result)] = True
    box = spread.BoxSettings(source.quantile_definition, (), source.reach, source.whiskers, source.share)
    boxed = by is not None or bool(drawn & {"box", "violin"})
    no_bumps: set[int] = set()

    def cut_all() -> frequency.Classes | None:
        if "classes" not in drawn and source.measure == "density":
            return None
        return spread.classes_of(variable, result, source.axis, cut_of(source))

    def shape_of(i: int, label: str) -> tuple[Shape, Summary] | None:
        """The shape of a level, None where it has no value; of all values without a split."""
        context.cancellation.check()
        group_rows = np.flatnonzero(index == i) if by is not None else np.arange(result.values.size)
        is_long = context.table.chunks is not None  # whose sample may hold no row of a level
        if by is not None and not is_long and not np.isfinite(result.values[group_rows]).any():
            return None
        part = result.among(group_rows) if by is not None else result
        whose = ((source.by, label),) if by is not None else ALL
        summary = spread.numbers_with(variable, part, box, source.level, whose)
        if by is not None and summary.n == 0:
            return None
        shown_rows = group_rows[sent[group_rows]]
        bumps, cut = None, cut_all()
        if "bumps" in drawn and summary.n > MOST_BUMPS:
            no_bumps.add(i)
        elif "bumps" in drawn:
            bumps = _bumps(variable, on_axis[group_rows], part, source)
        return Shape(
            typeset(label), i, summary.n, result.values[shown_rows], result.positions(shown_rows) + 1,
            result.limited[shown_rows].astype(np.float64), summary.minimum, summary.maximum, summary.mean,
            None if cut is None else _in_classes(variable, part, cut, source, whose),
            _density(variable, part, source, whose),
            spread.normal_curve_of(variable, part, summary, source.axis, whose) if "normal" in drawn else None,
            bumps,
            spread.box_with(variable, part, box, whose) if boxed else None,
        ), summary  # fmt: skip

    in_rounds(context.table.chunks, cut_all, *(partial(shape_of, i, label) for i, label in enumerate(labels)))
    cut = cut_all()
    parts, numbers, notes = [], [], []
    summary = None
    for i, label in enumerate(labels):
        made = shape_of(i, label)
        if made is None:
            continue
        part, summary = made
        parts.append(part)
        numbers += numbers_named(summary, unit, f", {part.label}" if by is not None else "")
        if by is None:
            notes += _back_words(variable, summary)
            numbers += _back_numbers(variable, summary)
    curve = parts[-1].density if parts else None
    if len(parts) > MOST_LEVELS:
        raise InputError(
            "too-many-groups",
            f"{by.label if by else ''} has {len(parts)} levels; at most {MOST_LEVELS} are set side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    limits = limits_of(result.subject) if "limits" in drawn else []
    lines = [f"{name} {significant(at)}{_spaced(unit)}" for at, name in limits]
    marks = [
        *_class_words(cut, source, unit),
        *_curve_words(curve, result.subject, source, alone=by is None),
        *_normal_words(parts, source, unit, alone=by is None),
        *(["Thin lines: each row's own share of the density, on the axis and laid one on the other."]
          if any(part.bumps for part in parts) else []),
        *_box_words(parts, source, box),
        *_point_words(result, sent, source),
        *([f"Lines: {', '.join(lines)}."] if lines else []),
    ]  # fmt: skip
    cannot = []
    if no_bumps:
        cannot.append(f"Bumps stand for up to {MOST_BUMPS} rows; there are more here.")
    without = int(np.count_nonzero((index < 0) & ~np.isnan(result.values)))
    if without and by is not None:
        cannot.append(f"{counted(without, 'row')} with a value but no {typeset(by.label)} not shown.")
    unmarked = sum(part.box.n_outliers for part in parts if part.box is not None and "box" in drawn)
    subject = named(result.subject.label, unit)
    facts = Facts(
        titled(context.words(f"{subject}{f' by {typeset(by.label)}' if by else ''}")), tuple(marks), notes=tuple(notes),
        n=tuple((part.label, part.n) for part in parts), cannot=tuple(cannot),
        named=(("across", subject), *((("series", typeset(by.label)),) if by else ())),
        unmarked=0 if source.rings or "points" in drawn else unmarked,
        **left_out(result.whole),
    )  # fmt: skip
    return shape(
        parts, titled(result.subject.label), unit, facts, source, by=typeset(by.label) if by else "", limits=limits,
        numbers=numbers,
    )  # fmt: skip


def levels_of(numbers: Numbers, by: VariableView | None) -> tuple[list[str], Ints]:
    """The levels of a split and the place of each value among them; one of all values without `by`."""
    return ([""], np.zeros(numbers.values.size, dtype=np.int64)) if by is None else numbers.series.levels(by.symbol)


def cut_of(source: ShapeSource | CumulativeSource) -> dict[str, Any]:
    """How classes are set, as frequency.classify takes it."""
    said = {name: getattr(source, name) for name in ("rule", "count", "width", "start", "closed")}
    return {**said, "boundaries": source.boundaries or None}


def _spaced(unit: str) -> str:
    return f" {unit}" if unit else ""


def _in_classes(
    variable: VariableView, part: Numbers, cut: frequency.Classes, source: ShapeSource, whose: Whose
) -> frequency.Classes:
    """The classes of all levels, with the rows of one counted in them."""
    if not source.by:
        return cut
    own = spread.classes_of(variable, part, "linear", {"boundaries": cut.boundaries, "closed": cut.closed}, whose)
    widths = np.diff(np.log10(cut.boundaries) if source.axis == "log" else cut.boundaries)
    return replace(cut, counts=own.counts, percents=own.percents, densities=own.percents / 100 / widths)


def _rests_on_density(source: ShapeSource) -> bool:
    return bool({"density", "violin", "bumps"} & set(source.layers)) or source.form == "ridges"


def _density(variable: VariableView, part: Numbers, source: ShapeSource, whose: Whose) -> density.Density | None:
    if not _rests_on_density(source):
        return None
    try:
        return spread.density_with(variable, part, source.bandwidth, source.kernel, source.axis, whose)
    except InputError:
        return None


def _bumps(variable: VariableView, values: Floats, part: Numbers, source: ShapeSource) -> density.Bumps | None:
    low, high = spread.bounds_on(variable, source.axis)
    try:
        result = density.bumps(values, bandwidth=source.bandwidth, kernel=source.kernel, lower=low, upper=high)
    except InputError:
        return None
    x = spread.from_log10(result.x) if source.axis == "log" else result.x
    return replace(result, x=x, rows=part.positions(result.rows) + 1)


def limits_of(subject: Subject) -> list[tuple[float, str]]:
    """The specification limits and the target that were declared."""
    known = ((subject.spec_lower, "lower limit"), (subject.target, "target"), (subject.spec_upper, "upper limit"))
    return [(at, name) for at, name in known if at is not None]


def numbers_named(summary: Summary, unit: str, of: str) -> list[Number]:
    """Every statistic of a summary by its name, with `of` behind it; what is undefined is left out."""
    return [
        told for field, (name, in_unit) in statistics.NAMES.items()
        for told in number(f"{name}{of}", getattr(summary, field), unit if in_unit else "")
    ]  # fmt: skip


def _back_words(variable: VariableView, summary: Summary) -> list[str]:
    """The mean of a scale, back-transformed to the unit of its source."""
    back = spread.back_on_source(variable, summary)
    if back is None or back.mean is None:
        return []
    unit = f" {typeset(back.unit)}" if back.unit else ""
    limits = (
        ""
        if back.low is None or back.high is None
        else f" (95 % limits {significant(back.low, 4)} to {significant(back.high, 4)})"
    )
    return [f"The back-transformed mean is {significant(back.mean, 4)}{unit}{limits}."]


def _back_numbers(variable: VariableView, summary: Summary) -> list[Number]:
    back = spread.back_on_source(variable, summary)
    if back is None:
        return []
    unit = typeset(back.unit)
    return [
        told
        for record in statistics.LISTED.values() if record.back
        for field, name in record.numbers.items()
        for told in number(name, getattr(back, field), unit)
    ]  # fmt: skip


def _class_words(cut: frequency.Classes | None, source: ShapeSource, unit: str) -> list[str]:
    if cut is None or "classes" not in source.layers:
        return []
    log = source.axis == "log"
    width = f"{significant(cut.width, 4)}{'' if log else _spaced(unit)} wide" if cut.width else "of unequal width"
    rule = f" ({CLASS_RULES[cut.rule].told()})" if cut.rule in CLASS_RULES else ""
    return [f"Classes {width}{', in powers of ten' if log else ''}{rule}."]


_SCALINGS = {"area": "", "height": ", each of the same height", "count": ", areas as the numbers of rows"}


def _curve_words(curve: density.Density | None, subject: Subject, source: ShapeSource, *, alone: bool) -> list[str]:
    """The kernel and its width; where levels have widths of their own, the rule alone."""
    if curve is None or not _rests_on_density(source):
        return []
    log = source.axis == "log"
    unit = "" if log else _spaced(subject.unit)
    rule = source.bandwidth if isinstance(source.bandwidth, str) else ""
    width = f", SD {significant(curve.bandwidth, 3)}{unit}" if alone or not rule else ""
    by = f" by {BANDWIDTH_RULES[rule].told()}" if rule else ""
    said = f"Density: {KERNELS[source.kernel].told()}{width}{by}"
    raised = curve.rule.split(", ", 1)[1:] if alone else []
    bounds = [significant(at, 4) for at in (subject.lower, subject.upper) if at is not None]
    turned_back = f", turned back at {' and '.join(bounds)}{_spaced(subject.unit)}" if bounds else ""
    of_logs = ", of log10 of the values" if log else ""
    said += "".join(f", {words}" for words in raised) + turned_back + of_logs
    return [f"{said}{'' if alone else _SCALINGS[source.scaling]}."]


def _normal_words(parts: list[Shape], source: ShapeSource, unit: str, *, alone: bool) -> list[str]:
    curves = [part.normal for part in parts if part.normal is not None]
    if not curves:
        return []
    log = source.axis == "log"
    of = " of log10 of the values" if log else ""
    if not alone:
        return [f"Dotted lines: normal curves{of} of the same mean and SD."]
    mean, sd = (f"{significant(value, 4)}{'' if log else _spaced(unit)}" for value in (curves[0].mean, curves[0].sd))
    return [f"Dotted line: normal curve{of} of the same mean ({mean}) and SD ({sd}).".replace("(-", "(\u2212")]


def _box_words(parts: list[Shape], source: ShapeSource, box: spread.BoxSettings) -> list[str]:
    layers, marks = source.layers, source.box_marks
    result = []
    if "violin" in layers:
        across = "" if "box" in layers else "; lines across: quartiles and median"
        result.append(f"Violin: the density and its mirror image, cut at the range of the values{across}.")
    if "box" not in layers or not any(part.box is not None for part in parts):
        return result
    beyond = any(part.box is not None and part.box.n_outliers for part in parts)
    rings = "" if not beyond else "; ringed: rows beyond" if source.rings else "; rows beyond are not ringed"
    quartiles = DEFINITION_WORDS[str(box.quantile_definition)]
    result.append(f"Box: quartiles by {quartiles}; whiskers to {box.words()}{rings}.")
    more = {
        "fences": "Dashed lines: fences, 1.5 and 3 IQR beyond the quartiles.",
        "notch": "Notch: median \u00b1 1.57 IQR/\u221an.",
        "mean": "Diamond: mean.",
        "widths": "Width of a box: root of n.",
    }
    return [*result, *(more[name] for name in more if name in marks and (name != "widths" or source.by))]


def _point_words(numbers: Numbers, sent: Any, source: ShapeSource) -> list[str]:
    said = []
    if "rug" in source.layers:
        said.append("Strokes: values.")
    if "points" in source.layers:
        n = int(sent.sum())
        if n < numbers.used.n:
            said.append(
                f"Points: a random sample of {counted(n, 'row')} of {grouped(numbers.used.n)}, scattered sideways."
            )
        else:
            said.append("Points: rows, scattered sideways.")
    limited = int(np.count_nonzero(numbers.limited))
    if limited:
        stands = "half the limit" if numbers.subject.below_limit == "half" else "the limit"
        where = " (open points)" if "points" in source.layers else ""
        said.append(
            f"{counted(limited, 'value')} known to lie below a limit, for which {stands} stands{where}; "
            "quantiles within that share are not given."
        )
        said += [
            f"Of all values by {way.name} mean {significant(way.mean, 4)}, SD {significant(way.sd, 4)}."
            for way in below(numbers).ways if way.advised and way.mean is not None and way.sd is not None
        ][:1]  # fmt: skip
    return said
