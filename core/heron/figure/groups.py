"""Groups side by side: centres with bars, boxes, curves and points; shares of answers; estimates under one another."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints
from heron.figure.scene import Axis, Facts, Layer, Number, Scale, Scene, SceneSeries, aired, least_above_zero, turned
from heron.figure.spread import beyond_layers, box_layer, scatter, upside_down
from heron.groups import Box

_LANE = 0.86


@dataclass(frozen=True)
class Part:
    """One group. place, second: of its level and of its level of the second grouping, from 0; number: where its level
    stands on a number axis. low, high: ends of the bar. x, heights: its density, cut at the range of its data."""

    label: str
    place: int
    second: int
    number: float | None
    n: int
    center: float | None
    low: float | None
    high: float | None
    box: Box | None
    x: Floats
    heights: Floats
    values: Floats
    rows: Ints


@dataclass(frozen=True)
class Drawn:
    """How groups are drawn. marks: of "points", "violin", "box", "centre", "joined", "from zero". points: "scattered",
    "apart" or "line"; violin: "whole", "half", "ridges" or "facing"; side: "both", "up" or "down"; on_numbers: levels
    stand at their numbers."""

    marks: Sequence[str]
    points: str = "scattered"
    jitter: float = 0.6
    violin: str = "whole"
    side: str = "both"
    caps: bool = False
    on_numbers: bool = False
    upright: bool = True


def apart(values: Floats, room: float, low: float, high: float, rows: int = 46) -> Floats:
    """(n,) places sideways, such that no point covers another: values of one of so many strips stand in a row about the
    middle. Where a strip holds too many for the room, they stand closer."""
    strip = np.floor((values - low) / max(high - low, 5e-324) * rows).astype(np.int64)
    order = np.lexsort((values, strip))
    first = np.r_[True, strip[order][1:] != strip[order][:-1]]
    starts = np.flatnonzero(first)
    own = np.arange(values.size) - np.repeat(starts, np.diff(np.r_[starts, values.size]))
    step = np.where(own % 2 == 1, (own + 1) / 2, -(own / 2))
    widest = float(np.abs(step).max(initial=0.0))
    found = np.empty(values.size)
    found[order] = step * min(0.055, room / 2 / widest if widest else 0.055)
    return found


def compared(
    parts: Sequence[Part],
    by: tuple[str, str],
    title: str,
    unit: str,
    facts: Facts,
    drawn: Drawn,
    *,
    seconds: tuple[str, Sequence[str]] = ("", ()),
    pairs: Floats | None = None,
    lines: Sequence[tuple[int, float, float]] = (),
    scale: Scale = "linear",
    lost: int = 0,
    numbers: Sequence[Number] = (),
) -> Scene:
    """Groups side by side. by: the label and unit of what sets them apart; seconds: the label and levels of a second
    grouping; pairs: (n_units, n_groups) values joined across groups; lines: (second, intercept, slope) over the numbers
    of the levels, of log10 on a logarithmic axis."""
    order = sorted({part.place for part in parts}, key=[part.place for part in parts].index)
    kinds = sorted({part.second for part in parts})
    on_numbers = drawn.on_numbers and all(part.number is not None for part in parts)
    stands = {place: float(i) for i, place in enumerate(order)}
    step = 1.0
    if on_numbers:
        stands = {part.place: float(part.number or 0) for part in parts}
        apart_by = np.diff(np.unique(list(stands.values())))
        step = float(apart_by.min()) if apart_by.size else 1.0
    lane = _LANE * step / len(kinds)
    facing = "violin" in drawn.marks and drawn.violin == "facing" and len(kinds) == 2

    def place_of(part: Part) -> float:
        return stands[part.place] + (kinds.index(part.second) - (len(kinds) - 1) / 2) * lane

    known = np.concatenate([part.values for part in parts] or [np.empty(0)])
    low, high = (float(known.min()), float(known.max())) if known.size else (0.0, 1.0)
    top = max((float(part.heights.max(initial=0.0)) for part in parts), default=0.0)
    layers: list[Layer] = []

    def add(role: str, part: Part) -> None:
        at = place_of(part)
        key = seconds[1][part.second] if seconds[0] else part.label
        body = -0.25 * lane if drawn.violin == "half" and "violin" in drawn.marks else 0.0
        room = 0.46 * lane if body else 0.8 * lane
        if role == "from zero" and part.center is not None:
            half = 0.36 * lane
            x, y, high_x, high_y = map(_one, (at - half, 0.0, at + half, part.center))
            layers.append(Layer("blocks", "from zero", key, x, y, high_x, high_y))
        elif role == "violin" and part.x.size and top > 0:
            layers.append(Layer("area", "violin", key, *_body(part, at, lane, top, drawn.violin, kinds, facing)))
        elif role == "points" and part.values.size:
            off = np.zeros(part.values.size)
            if drawn.points == "scattered":
                off = room * drawn.jitter * scatter(part.values.size, 7 + part.place)
            elif drawn.points == "apart":
                shown = np.log10(part.values) if scale == "log10" else part.values
                least, most = (
                    (float(np.log10(known[known > 0].min())), float(np.log10(high)))
                    if scale == "log10"
                    else (low, high)
                )
                off = apart(shown, room, least, most) * (step if on_numbers else 1.0)
            layers.append(Layer("points", "points", key, at + body + off, part.values, rows=part.rows))
        elif role == "box" and part.box is not None:
            layers.append(box_layer([part.box], [at + body], min(0.3 * lane, 0.3 * step), key, upright=True))
            if "points" not in drawn.marks or part.values.size < part.box.n:
                layers.extend(beyond_layers(part.box, at + body, key, upright=True))
        elif role == "centre" and part.center is not None:
            from_, to = (np.nan if each is None else each for each in (part.low, part.high))
            if drawn.side == "up":
                from_ = part.center
            if drawn.side == "down":
                to = part.center
            layers.append(
                Layer("interval", "bars", key, _one(at), _one(part.center), low=_one(from_), high=_one(to),
                      width=0.16 * lane if drawn.caps else 0.0, caps=drawn.caps)
            )  # fmt: skip

    for role in ("violin", "from zero"):
        if role in drawn.marks:
            for part in parts:
                add(role, part)
    if pairs is not None and pairs.size:
        places = np.array([place_of(part) for part in parts])
        x = np.column_stack((np.tile(places, (len(pairs), 1)), np.full(len(pairs), np.nan))).ravel()
        layers.append(Layer("line", "pairs", "", x, np.column_stack((pairs, np.full(len(pairs), np.nan))).ravel()))
    for role in ("points", "box"):
        if role in drawn.marks:
            for part in parts:
                add(role, part)
    if "joined" in drawn.marks:
        for kind in kinds:
            own = sorted(
                (place_of(part), part.center) for part in parts if part.second == kind and part.center is not None
            )
            key = seconds[1][kind] if seconds[0] else ""
            layers.append(
                Layer(
                    "line",
                    "joined",
                    key,
                    np.array([x for x, _ in own]),
                    np.array([y for _, y in own], dtype=np.float64),
                )
            )
    for kind, intercept, slope in lines:
        ends = np.array(sorted(stands.values()))[[0, -1]]
        y = intercept + slope * ends
        layers.append(
            Layer("line", "fit", seconds[1][kind] if seconds[0] else "", ends, 10**y if scale == "log10" else y)
        )
    if "centre" in drawn.marks:
        for part in parts:
            add("centre", part)
    ups = [np.concatenate((layer.y, layer.high_y, layer.low, layer.high)) for layer in layers]
    from_zero = "from zero" in drawn.marks
    ends_up = aired(ups, 0.05, scale)
    if from_zero and ends_up[0] < 0 <= min(float(np.nanmin(each)) for each in ups if each.size):
        ends_up = (0.0, ends_up[1])
    least = least_above_zero(ups)
    up = Axis(
        title, unit, scale=scale, low=ends_up[0], high=ends_up[1], from_zero=from_zero, lost=lost, above_zero=least
    )
    if on_numbers:
        at = np.array(list(stands.values()))
        across = Axis(*by, low=float(at.min()) - 0.6 * step, high=float(at.max()) + 0.6 * step)
    else:
        firsts = [next(part for part in parts if part.place == place) for place in order]
        levels = tuple(part.label for part in firsts)
        counts = tuple(sum(part.n for part in parts if part.place == place) for place in order)
        wide = 1.6 if drawn.violin == "ridges" and "violin" in drawn.marks else 0.6
        across = Axis(*by, "levels", low=-0.6, high=len(order) - 1 + wide, levels=levels, counts=counts)
    if seconds[0]:
        series = tuple(
            SceneSeries(label, label, i, sum(part.n for part in parts if part.second == i))
            for i, label in enumerate(seconds[1]) if i in kinds
        )  # fmt: skip
    else:
        series = tuple(SceneSeries(part.label, part.label, part.place, part.n) for part in parts)
    scene = Scene(
        across, up, tuple(layers), facts, series, seconds[0] or by[0], told_by_place=not seconds[0],
        numbers=tuple(numbers),
    )  # fmt: skip
    if drawn.upright:
        return scene
    along = turned(scene)
    return upside_down(along) if across.kind == "levels" else along


def _one(value: float) -> Floats:
    return np.array([value], dtype=np.float64)


def _body(
    part: Part, at: float, lane: float, top: float, form: str, kinds: Sequence[int], facing: bool
) -> tuple[Floats, Floats]:
    """The outline of a density about its place, of equal area for all groups."""
    rise = {"half": 0.46, "ridges": 1.6}.get(form, 0.46) * lane / top * part.heights
    foot = at - 0.4 * lane if form == "ridges" else at
    if facing:
        second = part.second == kinds[1]
        foot, rise = at + (-0.5 if second else 0.5) * lane, (1 if second else -1) * rise * 2
    if form == "whole" or (form == "facing" and not facing):
        return np.concatenate((at + rise, (at - rise)[::-1])), np.concatenate((part.x, part.x[::-1]))
    return np.concatenate((foot + rise, [foot, foot])), np.concatenate((part.x, [part.x[-1], part.x[0]]))


def shares(
    labels: Sequence[str], n: Sequence[int], found: Sequence[tuple[float | None, float | None, float | None]],
    answer: str, by: str, facts: Facts, numbers: Sequence[Number] = (),
) -> Scene:  # fmt: skip
    """The share of an answer in each group with its interval, in percent."""
    kept = [i for i, (share, _, _) in enumerate(found) if share is not None]
    at = np.array(kept, dtype=np.float64)
    y, low, high = (100 * np.array([found[i][k] for i in kept], dtype=np.float64) for k in range(3))
    layers = tuple(
        Layer("interval", "bars", labels[i], at[j : j + 1], y[j : j + 1], low=low[j : j + 1], high=high[j : j + 1])
        for j, i in enumerate(kept)
    )
    across = Axis(by, "", "levels", low=-0.6, high=len(labels) - 0.4, levels=tuple(labels), counts=tuple(n))
    up = Axis(answer, "%", low=0.0, high=min(float(np.nanmax(high, initial=5.0)) * 1.08, 102.0))
    series = tuple(SceneSeries(label, label, i, n[i]) for i, label in enumerate(labels))
    return Scene(across, up, layers, facts, series, by, told_by_place=True, numbers=tuple(numbers))


def stacked(
    labels: Sequence[str], n: Sequence[int], edges: Sequence[Floats], answers: Sequence[str], by: str, facts: Facts,
    *, about: bool,
) -> Scene:  # fmt: skip
    """All answers of each group as parts of one bar, in percent, about a neutral answer where there is one. edges:
    (n_answers + 1,) of each group."""
    layers = []
    for j, answer in enumerate(answers):
        at = np.arange(len(labels), dtype=np.float64)
        low = np.array([each[j] for each in edges], dtype=np.float64)
        high = np.array([each[j + 1] for each in edges], dtype=np.float64)
        layers.append(Layer("blocks", "answers", answer, at - 0.36, low, at + 0.36, high))
    ends = [np.concatenate((layer.y, layer.high_y)) for layer in layers]
    across = Axis(by, "", "levels", low=-0.6, high=len(labels) - 0.4, levels=tuple(labels), counts=tuple(n))
    whole = Axis("Answers", "%", low=0.0, high=100.0, from_zero=True)
    up = whole.over(ends, 0.02) if about else whole
    series = tuple(SceneSeries(answer, answer, j, 0) for j, answer in enumerate(answers))
    scene = Scene(across, up, tuple(layers), facts, series, "")
    return upside_down(turned(scene))


@dataclass(frozen=True)
class Estimate:
    label: str
    value: float
    low: float | None
    high: float | None
    combined: bool = False
    series: str = ""
    weight: float | None = None


def estimates(
    rows: Sequence[Estimate], title: str, unit: str, facts: Facts, *, none: float | None = None, series_title: str = ""
) -> Scene:
    """Estimates one under the other with their intervals; none: the value that means no difference."""
    keys = list(dict.fromkeys(row.series for row in rows))
    names = list(dict.fromkeys(row.label for row in rows))
    gap = 0.24 if len(keys) > 1 else 0.0
    layers = []
    for k, key in enumerate(keys):
        for combined in (False, True):
            own = [row for row in rows if row.series == key and row.combined == combined]
            if not own:
                continue
            at = np.array([names.index(row.label) for row in own]) + (k - (len(keys) - 1) / 2) * gap
            x = np.array([row.value for row in own])
            low, high = (
                np.array([np.nan if end is None else end for end in ends], dtype=np.float64)
                for ends in ([row.low for row in own], [row.high for row in own])
            )
            weights = np.array([row.weight or 0.0 for row in own])
            size = weights / weights.max() if weights.max(initial=0.0) > 0 else np.empty(0)
            role = "combined" if combined else "bars"
            layers.append(Layer("interval", role, key, x, at, low=low, high=high, upright=False, size=size))  # type: ignore[arg-type]
    ends = [np.concatenate((layer.x, layer.low, layer.high)) for layer in layers]
    if none is not None:
        ends.append(_one(none))
    if none is not None:
        layers.insert(0, Layer("line", "limits", "", np.array([none, none]), np.array([-0.6, len(names) - 0.4])))
    across = Axis(title, unit).over(ends, 0.05)
    up = Axis("", "", "levels", low=-0.6, high=len(names) - 0.4, levels=tuple(names))
    numbers = tuple(
        Number(row.label if not row.series else f"{row.label}, {row.series}", row.value, unit) for row in rows
    )
    series = tuple(SceneSeries(key, key, i, 0) for i, key in enumerate(keys)) if len(keys) > 1 else ()
    return upside_down(Scene(across, up, tuple(layers), facts, series, series_title, numbers=numbers))
