"""Panels of a process in its order: values or means within their limits, and the spread of each."""

from dataclasses import replace

import numpy as np

from heron.checks import Floats
from heron.control import CHARTS
from heron.errors import InputError
from heron.figure.build.context import DAY, Context, left_out, named, number, titled, variable_at
from heron.figure.scene import Axis, Facts, Layer, Scene
from heron.figure.source import ControlSource
from heron.formatting import counted, fixed, significant
from heron.readings.control import ControlDrawn, ControlReading, ControlSettings, controlled

_MOST_NAMED = 40
_SPREADS = {"individuals": "moving range", "range": "range", "sd": "SD"}


def control_chart(context: Context, source: ControlSource) -> Scene:
    table = context.table
    along, subgroup = (table.variable(symbol) if symbol else None for symbol in (source.along, source.subgroup))
    settings = ControlSettings(along, source.chart, subgroup, source.baseline)
    drawn = controlled(variable_at(context, source), settings)
    told, found = drawn.told, drawn.found
    if found.centre is None:
        raise InputError("no-limits", next(iter(found.undefined.values())), where="variable")
    of_spread = source.plot == "spreads"
    level = np.full(found.centres.size, found.centre)
    y, middle = (found.spreads, found.spread_centres) if of_spread else (found.centres, level)
    low, high = (found.spread_lower, found.spread_upper) if of_spread else (found.lower, found.upper)
    broken = np.zeros(y.size, dtype=bool)
    places = [found.spread_beyond] if of_spread else [signal.places for signal in found.signals]
    for at in places:
        broken[at] = True
    time = drawn.along_kind == "date-time"
    x = drawn.places / DAY if time else drawn.places
    subject = told.subject
    spread = _SPREADS[source.chart]
    what = f"{spread} of {subject.label}" if of_spread else subject.label
    if source.chart != "individuals" and not of_spread:
        what = f"mean of {subject.label}"
    order = told.along or ("its rows" if not told.subgroup else "appearance")
    marks = [
        f"Control chart of {CHARTS[source.chart].caption}; lines: centre and limits of 3 standard errors"
        f"{'' if found.baseline == y.size else f', from the first {found.baseline}'}.",
    ]
    if broken.any():
        rules = [] if of_spread else [f"{signal.label} ({signal.places.size})" for signal in found.signals]
        marks.append(f"Ringed: {'; '.join(rules) if rules else 'beyond a limit'}.")
    noun = "value" if source.chart == "individuals" else "subgroup"
    notes = [f"{counted(y.size, noun)}."] if told.subgroup else []
    notes += [] if of_spread else _capability(told)
    facts = Facts(
        titled(context.words(f"{named(what, subject.unit)} in order of {order}")), tuple(marks),
        notes=tuple(notes), n=(("", found.n),), **left_out(told.used),
    )  # fmt: skip
    known = np.isfinite(y)
    across = _axis(drawn, time)
    if across.kind == "levels":
        x = x - 1
    else:
        across = across.over([x], 0.01)
        # Room at the end, where the values of the lines stand.
        across = replace(across, high=across.high + 0.07 * (across.high - across.low))
    up = Axis(titled(spread if of_spread else what), subject.unit).over(
        [y[known], low[np.isfinite(low)], high[np.isfinite(high)]], 0.05
    )
    layers = [
        _level(ends, across) or Layer("line", "stepped limits", "", *_steps(x, ends)) for ends in (low, middle, high)
    ]
    layers.append(Layer("line", "joined", "", x, np.where(known, y, np.nan)))
    rows = drawn.rows
    for role, which in (("points", known & ~broken), ("beyond", known & broken)):
        if which.any() or role == "points":
            of_points = rows[which] if rows.size else rows
            layers.append(Layer("points", role, "", x[which], y[which], rows=of_points))  # type: ignore[arg-type]
    numbers = [*number("centre", found.centre, subject.unit), *number("SD within", found.sigma, subject.unit)]
    if told.capability is not None and not of_spread:
        for name in ("cp", "cpk", "pp", "ppk"):
            numbers += number(name.capitalize(), getattr(told.capability, name))
    return Scene(across, up, tuple(layers), facts, numbers=tuple(numbers))


def _capability(told: ControlReading) -> list[str]:
    """What the process is capable of, where limits are declared: within subgroups, else over all."""
    able = told.capability
    if able is None:
        return []
    for name, index, low, high in (
        ("Cpk", able.cpk, able.cpk_low, able.cpk_high),
        ("Ppk", able.ppk, able.ppk_low, able.ppk_high),
    ):
        if index is not None and low is not None and high is not None:
            return [f"{name} {fixed(index, 2)} ({fixed(low, 2)} to {fixed(high, 2)})."]
    return []


def _axis(drawn: ControlDrawn, time: bool) -> Axis:
    told, labels = drawn.told, drawn.found.labels
    if told.subgroup and len(labels) <= _MOST_NAMED:
        return Axis(titled(told.subgroup), kind="levels", low=-0.5, high=len(labels) - 0.5, levels=labels)
    if told.subgroup:
        return Axis(titled(f"{told.subgroup}, in order"))
    return Axis(titled(told.along or "row"), "" if time else drawn.along_unit, "time" if time else "number")


def _level(ends: Floats, across: Axis) -> Layer | None:
    """A limit that is the same all along, with its value; None for one that is not."""
    known = ends[np.isfinite(ends)]
    if known.size == 0 or float(np.ptp(known)) > 1e-12 * float(np.abs(known).max()):
        return None
    text = significant(known[0], 4)
    along = np.array([across.low, across.high])
    return Layer("line", "limits", "", along, np.full(2, known[0]), texts=(text,))


def _steps(x: Floats, ends: Floats) -> tuple[Floats, Floats]:
    """A line that is level about each point, and steps half-way to the next."""
    if x.size < 2:
        return x, ends
    edges = np.concatenate(([x[0] - (x[1] - x[0]) / 2], (x[1:] + x[:-1]) / 2, [x[-1] + (x[-1] - x[-2]) / 2]))
    return np.repeat(edges, 2)[1:-1], np.repeat(ends, 2)
