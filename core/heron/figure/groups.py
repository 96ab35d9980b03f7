"""Groups side by side: centres with bars, boxes, curves and points; shares of answers; estimates under one another."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np

from heron.checks import Floats, Ints
from heron.figure.scene import (
    Axis,
    Facts,
    Lane,
    Layer,
    Number,
    Scale,
    Scene,
    SceneSeries,
    aired,
    least_above_zero,
    turned,
)
from heron.figure.shapes import RIDGE
from heron.figure.source import Standing
from heron.figure.spread import beyond_layers, box_layer, scatter, upside_down
from heron.formatting import fixed
from heron.groups import Box

_LANE, _CLOSE = 0.86, 0.24


def _none() -> Floats:
    return np.empty(0)


def _nobody() -> Ints:
    return np.empty(0, dtype=np.int64)


@dataclass(frozen=True)
class Part:
    """One group. group: its place among the groups of its reading; place, second: of its level and of its level of the
    second grouping, from 0; number: where its level stands on a number axis. low, high: ends of the bar. x, heights:
    its density, cut at the range of its data. What is not drawn is empty."""

    group: int
    label: str
    place: int
    second: int
    number: float | None
    n: int
    centre: float | None
    low: float | None
    high: float | None
    box: Box | None = None
    x: Floats = field(default_factory=_none)
    heights: Floats = field(default_factory=_none)
    values: Floats = field(default_factory=_none)
    rows: Ints = field(default_factory=_nobody)


def apart(values: Floats, room: float, low: float, high: float, rows: int = 46) -> Floats:
    """(n,) places sideways, such that no point covers another: values of one of so many strips stand in a row about the
    middle. Where a strip holds too many for the room, they stand closer."""
    strip = np.floor((values - low) / max(high - low, 5e-324) * rows).astype(np.int64)
    order = np.lexsort((values, strip))
    first = np.r_[True, strip[order][1:] != strip[order][:-1]]
    starts = np.flatnonzero(first)
    position = np.arange(values.size) - np.repeat(starts, np.diff(np.r_[starts, values.size]))
    step = np.where(position % 2 == 1, (position + 1) / 2, -(position / 2))
    widest = float(np.abs(step).max(initial=0.0))
    result = np.empty(values.size)
    result[order] = step * min(0.055, room / 2 / widest if widest else 0.055)
    return result


def scene_of_groups(
    parts: Sequence[Part],
    by: tuple[str, str],
    title: str,
    unit: str,
    facts: Facts,
    standing: Standing,
    *,
    seconds: tuple[str, Sequence[str]] = ("", ()),
    pairs: Floats | None = None,
    lines: Sequence[tuple[int, float, float]] = (),
    scale: Scale = "linear",
    lost: int = 0,
    numbers: Sequence[Number] = (),
    begins: float | None = None,
) -> Scene:
    """Groups side by side. by: the label and unit of what sets them apart; seconds: the label and levels of a second
    grouping; pairs: (n_units, n_groups) values joined across groups; lines: (second, intercept, slope) over the numbers
    of the levels, of log10 on a logarithmic axis; begins: where the axis of the values does, else below the least."""
    marks = standing.marks
    order = sorted({part.place for part in parts}, key=[part.place for part in parts].index)
    kinds = sorted({part.second for part in parts})
    on_numbers = standing.on_numbers and all(part.number is not None for part in parts)
    stands = {level: float(i) for i, level in enumerate(order)}
    step = 1.0
    if on_numbers:
        stands = {part.place: float(part.number or 0) for part in parts}
        apart_by = np.diff(np.unique(list(stands.values())))
        step = float(apart_by.min()) if apart_by.size else 1.0
    # Centres alone need little room, and so stand close to their numbers.
    close = on_numbers and set(marks) <= {"centre", "joined"}
    lane = (_CLOSE if close else _LANE) * step / len(kinds)
    # Levels that stand one under the other are turned upside down, and what grows is to grow upwards.
    sign = 1 if standing.upright or on_numbers else -1
    violins = _Violins(standing.violin, sign * lane, parts, stands, kinds, seconds=bool(seconds[0]))
    body = -0.25 * sign * lane if "violin" in marks and standing.violin == "half" else 0.0
    room = 0.46 * lane if body else 0.8 * lane
    places = [stands[part.place] + (kinds.index(part.second) - (len(kinds) - 1) / 2) * lane for part in parts]
    placed = list(zip(parts, places, strict=True))
    known = np.concatenate([part.values for part in parts] or [np.empty(0)])

    # One relation over a number axis is one series.
    alone = on_numbers and not seconds[0]

    def key_of(part: Part) -> str:
        return seconds[1][part.second] if seconds[0] else "" if alone else part.label

    layers: list[Layer] = []
    if "violin" in marks and violins.top > 0:
        layers += [
            Layer("area", "violin", key_of(part), *violins.outline(part, at)) for part, at in placed if part.x.size
        ]
    half = 0.36 * lane
    for part, at in placed if "from zero" in marks else ():
        if part.centre is not None:
            x, y, high_x, high_y = map(_one, (at - half, 0.0, at + half, part.centre))
            layers.append(Layer("blocks", "from zero", key_of(part), x, y, high_x, high_y))
    if pairs is not None and pairs.size:
        gap = np.full(len(pairs), np.nan)
        x = np.column_stack((np.tile(places, (len(pairs), 1)), gap)).ravel()
        layers.append(Layer("line", "pairs", "", x, np.column_stack((pairs, gap)).ravel()))
    for part, at in placed if "points" in marks else ():
        if part.values.size:
            off = _sideways(part, known, standing, room, scale, step if on_numbers else 1.0)
            layers.append(Layer("points", "points", key_of(part), at + body + off, part.values, rows=part.rows))
    for part, at in placed if "box" in marks else ():
        wide = min(0.3 * lane, 0.3 * step)
        layers.append(box_layer([part.box], [at + body], wide, key_of(part), upright=True))
        if standing.rings and part.box is not None and ("points" not in marks or part.values.size < part.box.n):
            layers += beyond_layers(part.box, at + body, key_of(part), upright=True)
    for kind in kinds if "joined" in marks else ():
        centres = sorted((at, part.centre) for part, at in placed if part.second == kind and part.centre is not None)
        xy = np.array(centres, dtype=np.float64).reshape(-1, 2).T
        layers.append(Layer("line", "joined", seconds[1][kind] if seconds[0] else "", xy[0], xy[1]))
    for kind, intercept, slope in lines:
        ends = np.array(sorted(stands.values()))[[0, -1]]
        y = intercept + slope * ends
        key = seconds[1][kind] if seconds[0] else ""
        layers.append(Layer("line", "fit", key, ends, 10**y if scale == "log10" else y))
    if "centre" in marks:
        for part, at in placed:
            if part.centre is not None:
                low, high = _ends(part, standing.side)
                layers.append(
                    Layer("interval", "bars", key_of(part), _one(at), _one(part.centre), low=_one(low), high=_one(high),
                          width=0.16 * lane if standing.caps else 0.0, caps=standing.caps)
                )  # fmt: skip
    if standing.values is not None:
        layers.append(_values(placed, standing))
    ups = [np.concatenate((layer.y, layer.high_y, layer.low, layer.q1, layer.q3, layer.high)) for layer in layers]
    from_zero = "from zero" in marks
    bottom, top = aired(ups, 0.05, scale)
    if from_zero and bottom < 0 <= min(float(np.nanmin(each)) for each in ups if each.size):
        bottom = 0.0
    bottom = bottom if begins is None else begins
    least = least_above_zero(ups)
    up = Axis(title, unit, scale=scale, low=bottom, high=top, from_zero=from_zero, lost=lost, above_zero=least)
    if on_numbers:
        numbered = np.array(list(stands.values()))
        across = Axis(*by, low=float(numbered.min()) - 0.6 * step, high=float(numbered.max()) + 0.6 * step)
    else:
        firsts = [next(part for part in parts if part.place == level) for level in order]
        levels = tuple(part.label for part in firsts)
        counts = tuple(sum(part.n for part in parts if part.place == level) for level in order)
        rise = RIDGE if "violin" in marks and standing.violin == "ridges" else 0.6
        low, high = (-0.6, rise) if sign > 0 else (-rise, 0.6)
        across = Axis(*by, "levels", low=low, high=len(order) - 1 + high, levels=levels, counts=counts)
    if seconds[0]:
        series = tuple(
            SceneSeries(label, label, i, sum(part.n for part in parts if part.second == i))
            for i, label in enumerate(seconds[1]) if i in kinds
        )  # fmt: skip
    else:
        series = () if alone else tuple(SceneSeries(part.label, part.label, part.place, part.n) for part in parts)
    lanes = tuple(
        Lane(
            part.group,
            order.index(part.place),
            f"{part.label}, {seconds[1][part.second]}" if seconds[0] else part.label,
            at,
            lane,
            np.nan if part.centre is None else part.centre,
        )
        for part, at in placed
    )
    scene = Scene(
        across, up, tuple(layers), facts, series, "" if alone else seconds[0] or by[0], told_by_place=not seconds[0],
        numbers=tuple(numbers), lanes=lanes,
    )  # fmt: skip
    if standing.upright:
        return scene
    along = turned(scene)
    return upside_down(along) if across.kind == "levels" else along


def _ends(part: Part, side: str) -> tuple[float, float]:
    """The ends of a bar, both ways or one; NaN where it has none."""
    low, high = (np.nan if end is None else end for end in (part.low, part.high))
    centre = np.nan if part.centre is None else part.centre
    return (centre if side == "up" else low), (centre if side == "down" else high)


def _values(placed: Sequence[tuple[Part, float]], standing: Standing) -> Layer:
    """Centres written out, each beside its mark."""
    known = [(part, at, part.centre) for part, at in placed if part.centre is not None]
    bars = [_ends(part, standing.side) if "centre" in standing.marks else (centre, centre) for part, _, centre in known]
    ends = np.array(bars, dtype=np.float64).reshape(-1, 2).T
    return Layer(
        "words", "values", "", np.array([at for _, at, _ in known]), np.array([centre for _, _, centre in known]),
        low=ends[0], high=ends[1],
        texts=tuple(fixed(centre, standing.values or 0) for _, _, centre in known),
    )  # fmt: skip


def _sideways(part: Part, known: Floats, standing: Standing, room: float, scale: Scale, step: float) -> Floats:
    """Where the points of a group stand off its middle."""
    if standing.points == "line":
        return np.zeros(part.values.size)
    if standing.points == "scattered":
        return room * standing.jitter * scatter(part.rows)
    values, every = part.values, known
    if scale == "log10":
        values, every = np.log10(values), np.log10(every[every > 0])
    return apart(values, room, float(every.min()), float(every.max())) * step


class _Violins:
    """Outlines of densities, of equal area for all groups."""

    def __init__(
        self, form: str, lane: float, parts: Sequence[Part], stands: Mapping[int, float], kinds: Sequence[int], *,
        seconds: bool,
    ) -> None:  # fmt: skip
        self._form, self._lane, self._stands = form, lane, stands
        self._last = kinds[-1] if seconds else None
        self._facing = form == "facing" and (len(kinds) == 2 if seconds else len(stands) == 2)
        self.top = max((float(part.heights.max(initial=0.0)) for part in parts), default=0.0)

    def outline(self, part: Part, at: float) -> tuple[Floats, Floats]:
        rise = {"half": 0.46, "ridges": RIDGE}.get(self._form, 0.46) * self._lane / self.top * part.heights
        if self._form == "whole" or (self._form == "facing" and not self._facing):
            return np.concatenate((at + rise, (at - rise)[::-1])), np.concatenate((part.x, part.x[::-1]))
        foot = at - 0.4 * self._lane if self._form == "ridges" else at
        if self._facing:
            # Two share one foot: the levels of the second grouping within a level, or else the two levels themselves.
            middles = list(self._stands.values())
            second = at > float(np.mean(middles)) if self._last is None else part.second == self._last
            foot = float(np.mean(middles)) if self._last is None else at + (-0.5 if second else 0.5) * self._lane
            rise = (1 if second else -1) * rise * 2
        return np.concatenate((foot + rise, [foot, foot])), np.concatenate((part.x, [part.x[-1], part.x[0]]))


def _one(value: float) -> Floats:
    return np.array([value], dtype=np.float64)


def stacked(
    labels: Sequence[str], n: Sequence[int], edges: Sequence[Floats], answers: Sequence[str], by: str, facts: Facts,
    *, ordered: bool, neutral: int | None,
) -> Scene:  # fmt: skip
    """All answers of each group as parts of one bar, in percent, about a neutral answer where there is one. edges:
    (n_answers + 1,) of each group; ordered: whether answers have an order, which their colours then follow."""
    layers = []
    for j, answer in enumerate(answers):
        at = np.arange(len(labels), dtype=np.float64)
        low = np.array([edge[j] for edge in edges], dtype=np.float64)
        high = np.array([edge[j + 1] for edge in edges], dtype=np.float64)
        texts = tuple(f"{fixed(width, 0)}\u202f%" if width > 0 else "" for width in (high - low).tolist())
        layers.append(Layer("blocks", "answers", answer, at - 0.36, low, at + 0.36, high, texts=texts))
    ends = [np.concatenate((layer.y, layer.high_y)) for layer in layers]
    across = Axis(by, "", "levels", low=-0.6, high=len(labels) - 0.4, levels=tuple(labels), counts=tuple(n))
    whole = Axis("Answers", "%", low=0.0, high=100.0, from_zero=True)
    up = whole if neutral is None else whole.over(ends, 0.02)
    ranks = [_rank(j, len(answers), neutral) if ordered else None for j in range(len(answers))]
    series = tuple(SceneSeries(answer, answer, j, 0, ranks[j]) for j, answer in enumerate(answers))
    lanes = tuple(Lane(i, i, label, float(i), 0.72, np.nan) for i, label in enumerate(labels))
    ramp: Literal["", "sequential", "diverging"] = "diverging" if neutral is not None else "sequential"
    scene = Scene(across, up, tuple(layers), facts, series, "", lanes=lanes, ramp=ramp if ordered else "")
    return upside_down(turned(scene))


def _rank(answer: int, n: int, neutral: int | None) -> float:
    """Where an answer stands along the ramp of n, about the neutral one where there is one."""
    if neutral is None:
        return 0.5 if n < 2 else 0.08 + 0.82 * answer / (n - 1)
    return 0.5 + 0.46 * (answer - neutral) / max(neutral, n - 1 - neutral, 1)


@dataclass(frozen=True)
class Estimate:
    """A row that is a result. beside: its numbers in words; heading: under which it stands; row: its number."""

    label: str
    value: float
    low: float | None
    high: float | None
    combined: bool = False
    weight: float | None = None
    beside: str = ""
    heading: str = ""
    row: int = 0


def estimates(
    rows: Sequence[Estimate], title: str, unit: str, facts: Facts, *, none: float | None = None, none_words: str = "",
    scale: Scale = "linear",
) -> Scene:  # fmt: skip
    """Estimates one under the other with their intervals, under headings where they have such. none: the value that
    means no difference, with its words."""
    levels: list[str] = []
    heads: list[int] = []
    beside: list[str] = []
    at = np.empty(len(rows))
    for i, row in enumerate(rows):
        if row.heading and (i == 0 or rows[i - 1].heading != row.heading):
            heads.append(len(levels))
            levels.append(row.heading)
            beside.append("")
        at[i] = len(levels)
        levels.append(row.label)
        beside.append(row.beside)
    weights = np.array([row.weight or 0.0 for row in rows])
    sizes = weights / weights.max() if weights.max(initial=0.0) > 0 else np.empty(0)
    x = np.array([row.value for row in rows])
    low, high = (
        np.array([np.nan if end is None or (scale == "log10" and end <= 0) else end for end in ends], dtype=np.float64)
        for ends in ([row.low for row in rows], [row.high for row in rows])
    )
    layers = []
    for role, which in (("bars", False), ("combined", True)):
        kind = np.flatnonzero([row.combined == which for row in rows])
        if kind.size:
            layers.append(
                Layer("interval", role, "", x[kind], at[kind], low=low[kind], high=high[kind], upright=False,  # type: ignore[arg-type]
                      size=sizes[kind] if sizes.size else sizes)
            )  # fmt: skip
    ends = [np.concatenate((layer.x, layer.low, layer.high)) for layer in layers]
    if none is not None and (scale == "linear" or none > 0):
        ends.append(_one(none))
        line = np.array([none, none]), np.array([-0.6, len(levels) - 0.4])
        layers.insert(0, Layer("line", "limits", "", *line, texts=(none_words,) if none_words else ()))
    lost = int(np.count_nonzero(x <= 0)) if scale == "log10" else 0
    across = Axis(title, unit, scale=scale, lost=lost).over(ends, 0.05)
    up = Axis(
        "", "", "levels", low=-0.6, high=len(levels) - 0.4, levels=tuple(levels), heads=tuple(heads),
        beside=tuple(beside) if any(beside) else (),
    )  # fmt: skip
    numbers = tuple(Number(row.label, row.value, unit) for row in rows)
    lanes = tuple(Lane(row.row or i, int(at[i]), row.label, float(at[i]), 1.0, row.value) for i, row in enumerate(rows))
    return upside_down(Scene(across, up, tuple(layers), facts, numbers=numbers, lanes=lanes))
