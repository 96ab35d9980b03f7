"""The shape of one variable, or of each level of it: classes and curves, and in rooms beside them box and points."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from heron.checks import Floats, Ints
from heron.density import Bumps, Density
from heron.errors import InputError
from heron.figure.scene import Axis, Facts, Lane, Layer, Number, Scale, Scene, SceneSeries, turned
from heron.figure.source import ShapeSource
from heron.figure.spread import beyond_layers, box_layer, outline, scatter
from heron.formatting import significant
from heron.frequency import Classes
from heron.groups import Box
from heron.normality import NormalCurve

RIDGE = 1.6  # of a lane: how high the highest ridge stands
# Rooms for marks without a height, from the heights outwards: in sizes of type, and as shares of a lane.
_ROOMS = {"rug": 1.0, "violin": 6.4, "box": 4.4, "points": 4.4}
_OF_LANE = {"rug": 0.06, "violin": 0.5, "box": 0.2, "points": 0.18}
_BODY_OF_LANE = 0.6
_FENCES = ("outer_low", "inner_low", "inner_high", "outer_high")


def _nothing() -> Floats:
    return np.empty(0)


@dataclass(frozen=True)
class Shape:
    """One variable, or one level of it, with its place among all levels. values, rows: of the points that are drawn;
    limited: (n_points,) which of them are known to lie below a limit; n: of all values; low, high: the least and the
    largest."""

    label: str
    place: int
    n: int
    values: Floats
    rows: Ints
    limited: Floats = field(default_factory=_nothing)
    low: float | None = None
    high: float | None = None
    mean: float | None = None
    classes: Classes | None = None
    density: Density | None = None
    normal: NormalCurve | None = None
    bumps: Bumps | None = None
    box: Box | None = None


def shape(
    parts: Sequence[Shape],
    title: str,
    unit: str,
    facts: Facts,
    source: ShapeSource,
    *,
    by: str = "",
    limits: Sequence[tuple[float, str]] = (),
    numbers: Sequence[Number] = (),
) -> Scene:
    """Shapes on one axis, over one another or back to back with rooms below, or each in a lane of its own. by: what
    sets parts apart; limits: values that were declared for the variable, with their names."""
    scale: Scale = "log10" if source.axis == "log" else "linear"
    factors = [_factor(part, source, scale) for part in parts]
    bodies = [_bodies(part, factor, source, by) for part, factor in zip(parts, factors, strict=True)]
    top = max((_top(layers) for layers in bodies), default=0.0)
    if not math.isfinite(top):
        raise InputError(
            "too-close",
            f"Values of {title} lie too close together for a density: its heights are too large to be drawn.",
            where="measure",
            remedy="Draw counts or percents.",
        )
    across = Axis(title, unit, scale=scale)
    lined = [Layer("line", "limits", "", _twice(at), np.array([0.0, 0.0]), texts=(name,)) for at, name in limits]
    lanes = by != "" and source.form in ("lanes", "ridges")
    if lanes:
        heights, layers, rooms = _in_lanes(parts, bodies, factors, top, source)
    else:
        heights, layers = _on_one(parts, bodies, factors, top, unit, source, by)
        rooms = tuple(Lane(part.place, i, part.label, 0.0, 0.0, _median(part)) for i, part in enumerate(parts) if by)
    layers = [*layers, *lined]
    # A normal curve reaches on for ever, and so does what each value adds: the axis follows the data and their density.
    held = [layer for layer in layers if layer.role not in ("normal", "bumps", "piled", "fences")]
    touched = [values for layer in held for values in (layer.x, layer.high_x, layer.low, layer.high)]
    if "bumps" in source.layers:
        touched += [_seen(part.density.x, part.density.density)[0] for part in parts if part.density is not None]
    series = tuple(SceneSeries(part.label, part.label, i, part.n) for i, part in enumerate(parts)) if by else ()
    scene = Scene(
        across.over(touched, 0.02), heights, tuple(layers), facts, series, by, told_by_place=lanes,
        numbers=tuple(numbers), lanes=rooms,
    )  # fmt: skip
    return turned(scene) if source.upright else scene


def _twice(at: float) -> Floats:
    return np.array([at, at])


def _factor(part: Shape, source: ShapeSource, scale: Scale) -> float:
    """What densities are multiplied by to stand on the measure of the heights."""
    if source.measure != "density" and part.classes is not None:
        edges = part.classes.boundaries
        widths = np.diff(np.log10(edges) if scale == "log10" else edges)
        per = float(np.sum(part.classes.counts)) if source.measure == "counts" else 100.0
        return per * float(np.median(widths))
    if source.scaling == "count":
        return float(part.n)
    if source.scaling == "height":
        heights = [] if part.density is None else [float(part.density.density.max(initial=0.0))]
        if "classes" in source.layers and part.classes is not None:
            heights.append(float(part.classes.densities.max(initial=0.0)))
        return 1 / max(heights) if heights and max(heights) > 0 else 1.0
    return 1.0


def _class_heights(classes: Classes, factor: float, source: ShapeSource) -> Floats:
    known = {"counts": classes.counts, "percents": classes.percents}.get(source.measure)
    return classes.densities * factor if known is None else np.asarray(known, dtype=np.float64)


def _bodies(part: Shape, factor: float, source: ShapeSource, by: str) -> list[Layer]:
    """What has a height, from 0 upwards."""
    key = part.label if by else ""
    layers = source.layers
    ridges = by != "" and source.form == "ridges"
    result: list[Layer] = []
    if "classes" in layers and part.classes is not None:
        edges, heights = part.classes.boundaries, _class_heights(part.classes, factor, source)
        result.append(
            Layer("blocks", "classes", key, edges[:-1], np.zeros(heights.size), edges[1:], heights,
                  value=part.classes.counts.astype(np.float64))
        )  # fmt: skip
    if "bumps" in layers and part.bumps is not None:
        result += _bump_layers(part.bumps, factor, key)
    bare = ridges and not {"classes", "density", "normal"} & set(layers)
    if ("density" in layers or bare) and part.density is not None:
        x, heights = _seen(part.density.x, part.density.density * factor)
        filled = "classes" not in layers if by else False
        result.append(
            Layer("area" if filled else "line", "density", key, *(outline(x, heights) if filled else (x, heights)))
        )
    if "normal" in layers and part.normal is not None:
        result.append(Layer("line", "normal", key, part.normal.x, part.normal.density * factor))
    return result


_LEAST_SEEN = 0.004


def _seen(x: Floats, heights: Floats) -> tuple[Floats, Floats]:
    """A curve from where it first stands off its foot to where it last does: what is flatter is not seen."""
    high = np.flatnonzero(heights >= _LEAST_SEEN * heights.max(initial=0.0))
    return (x[high[0] : high[-1] + 1], heights[high[0] : high[-1] + 1]) if high.size else (x, heights)


def _bump_layers(bumps: Bumps, factor: float, key: str) -> list[Layer]:
    """Each row's own bump, and all of them laid one on the other, with a gap after each."""
    n = bumps.rows.size
    heights = bumps.heights.reshape(n, -1) * factor
    gap = np.full((n, 1), np.nan)
    x = np.column_stack((np.tile(bumps.x, (n, 1)), gap)).ravel()
    rows = np.repeat(bumps.rows, bumps.x.size + 1)
    return [
        Layer("line", "piled", key, x, np.column_stack((np.cumsum(heights, axis=0), gap)).ravel()),
        Layer("line", "bumps", key, x, np.column_stack((heights, gap)).ravel(), rows=rows),
    ]


def _top(layers: Sequence[Layer]) -> float:
    ends = [np.concatenate((layer.y, layer.high_y)) for layer in layers]
    return max((float(np.nanmax(end)) for end in ends if end.size), default=0.0)


def _rooms(source: ShapeSource) -> list[str]:
    """Which rooms a part needs; a box stands within the violin."""
    result = [name for name in _ROOMS if name in source.layers]
    return [name for name in result if name != "box" or "violin" not in result]


def _laid(part: Shape, room: str, key: str, reach: float, source: ShapeSource) -> list[Layer]:
    """The marks of a room, their places in it from -0.5 to 0.5. reach: what half a violin's height is multiplied by."""
    if room == "rug":
        n = part.values.size
        x = np.column_stack((part.values, part.values, np.full(n, np.nan))).ravel()
        return [Layer("line", "rug", key, x, np.tile([-0.35, 0.35, np.nan], n), upright=False)]
    if room == "points":
        at = 0.8 * scatter(part.rows)
        known = np.ones(part.rows.size, dtype=bool) if part.limited.size == 0 else part.limited == 0
        return [
            Layer("points", role, key, part.values[kept], at[kept], rows=part.rows[kept], upright=False)  # type: ignore[arg-type]
            for role, kept in (("points", known), ("limited", ~known)) if kept.any()
        ]  # fmt: skip
    result = _violin(part, key, reach, source) if room == "violin" else []
    if "box" in source.layers and part.box is not None and part.box.q1 is not None:
        result += _box(part, part.box, key, 0.16 if room == "violin" else 0.56, source)
    return result


def _violin(part: Shape, key: str, reach: float, source: ShapeSource) -> list[Layer]:
    if part.density is None or part.low is None or part.high is None:
        return []
    x = part.density.x
    x = np.concatenate(([part.low], x[(x > part.low) & (x < part.high)], [part.high]))
    half = reach * np.interp(x, part.density.x, part.density.density)
    result = [
        Layer("area", "violin", key, np.concatenate((x, x[::-1])), np.concatenate((half, -half[::-1])), upright=False)
    ]
    if "box" not in source.layers and part.box is not None and part.box.q1 is not None:
        at = np.array([part.box.q1, part.box.median, part.box.q3], dtype=np.float64)
        wide = np.interp(at, x, half)
        ends = np.column_stack((wide, -wide, np.full(3, np.nan))).ravel()
        result.append(Layer("line", "quartiles", key, np.repeat(at, 3), ends, upright=False))
    return result


def _box(part: Shape, box: Box, key: str, wide: float, source: ShapeSource) -> list[Layer]:
    marks = source.box_marks
    drawn = box_layer([box], [0.0], wide, key, upright=False)
    notch = np.array([box.notch_low, box.notch_high], dtype=np.float64)
    if "notch" in marks and np.isfinite(notch).all():
        drawn = replace(drawn, notch_low=notch[:1], notch_high=notch[1:])
    result = [drawn]
    if "fences" in marks and box.fences is not None:
        at = np.array([getattr(box.fences, name) for name in _FENCES])
        high = wide / 2 + 0.1
        result.append(
            Layer("line", "fences", key, np.repeat(at, 3), np.tile([-high, high, np.nan], at.size), upright=False)
        )
        texts = tuple(significant(value, 4) for value in at)
        result.append(
            Layer("words", "fences", key, at, np.full(at.size, high), low=at, high=at, texts=texts, upright=False)
        )
    if source.rings:
        result += [replace(beyond_layer, upright=False) for beyond_layer in beyond_layers(box, 0.0, key, upright=False)]
    if "mean" in marks and part.mean is not None:
        result.append(Layer("points", "mean", key, np.array([part.mean]), np.zeros(1), upright=False))
    return result


def _width_of(part: Shape, parts: Sequence[Shape], source: ShapeSource) -> float:
    """The width of a box, of the widest: by the root of n where that is asked for."""
    most = max(drawn.n for drawn in parts)
    return max(math.sqrt(part.n / most), 0.08) if "widths" in source.box_marks and most else 1.0


def _on_one(
    parts: Sequence[Shape], bodies: Sequence[Sequence[Layer]], factors: Sequence[float], top: float, unit: str,
    source: ShapeSource, by: str,
) -> tuple[Axis, list[Layer]]:  # fmt: skip
    """Heights over one foot, the second of two downwards where they stand back to back; rooms in strips."""
    facing = source.form == "facing" and len(parts) == 2
    layers = [
        _mapped(layer, lambda y, sign=-1.0 if facing and i == 1 else 1.0: sign * y)  # type: ignore[misc]
        for i, body in enumerate(bodies) for layer in body
    ]  # fmt: skip
    strips: list[float] = []
    for room in _rooms(source):
        for i, part in enumerate(parts):
            for layer in _laid(part, room, part.label if by else "", _reach(parts, factors, i), source):
                layers.append(replace(layer, width=layer.width * _width_of(part, parts, source), strip=len(strips)))
            strips.append(_ROOMS[room] * (0.6 if by else 1.0))
    measured = top > 0
    high = (top or 1.0) * 1.04
    title = {"counts": "Rows", "percents": "Percent of rows"}.get(source.measure, "")
    title = title or {"height": "Share of the highest", "count": "Density \u00d7 rows"}.get(source.scaling, "Density")
    per_unit = "decade" if source.axis == "log" else unit
    heights = Axis(
        title if measured else "", f"per {per_unit}" if measured and title.startswith("Density") and per_unit else "",
        "number" if measured else "bare", low=-high if facing and measured else 0.0, high=high if measured else 1.0,
        strips=tuple(strips), mirrored=facing, from_zero="classes" in source.layers and measured,
    )  # fmt: skip
    return heights, layers


def _reach(parts: Sequence[Shape], factors: Sequence[float], i: int) -> float:
    """What a density is multiplied by to be half a violin: the widest of all fills its room."""
    tops = [
        0.0 if part.density is None else float(part.density.density.max(initial=0.0)) * factor
        for part, factor in zip(parts, factors, strict=True)
    ]
    return 0.46 * factors[i] / max(tops) if max(tops) > 0 else 0.0


def _median(part: Shape) -> float:
    return np.nan if part.box is None or part.box.median is None else part.box.median


def _mapped(layer: Layer, moved: Callable[[Floats], Floats]) -> Layer:
    return replace(layer, y=moved(layer.y), high_y=moved(layer.high_y))


def _in_lanes(
    parts: Sequence[Shape], bodies: Sequence[Sequence[Layer]], factors: Sequence[float], top: float,
    source: ShapeSource,
) -> tuple[Axis, list[Layer], tuple[Lane, ...]]:  # fmt: skip
    """Each part in a lane, the first on top, or at the left where values go up."""
    k = len(parts) - 1
    ridges = source.form == "ridges"
    names = [] if ridges else _rooms(source)[::-1]
    shares = {name: _OF_LANE[name] for name in names}
    tall = top > 0 and any(body for body in bodies)
    whole = sum(shares.values()) + (_BODY_OF_LANE if tall else 0.0)
    scale = 0.92 / whole if whole > 0 else 1.0
    layers: list[Layer] = []
    rooms = []
    for i, (part, body) in enumerate(zip(parts, bodies, strict=True)):
        at = float(i if source.upright else k - i)
        start = at - 0.46
        for name in names:
            depth = shares[name] * scale
            middle = start + depth / 2
            for layer in _laid(part, name, part.label, _reach(parts, factors, i), source):
                laid = _mapped(layer, lambda y, middle=middle, depth=depth: middle + depth * y)  # type: ignore[misc]
                layers.append(replace(laid, width=layer.width * depth * _width_of(part, parts, source)))
            start += depth
        rise = (RIDGE if ridges else at + 0.46 - start) / top if top > 0 else 0.0
        foot = start if not ridges else at - 0.4
        layers += [_mapped(layer, lambda y, foot=foot, rise=rise: foot + rise * y) for layer in body]  # type: ignore[misc]
        rooms.append(Lane(part.place, i, part.label, at, 1.0, _median(part)))
    order = parts if source.upright else parts[::-1]
    levels = Axis(
        "", "", "levels", low=-0.56, high=k + (RIDGE - 0.34 if ridges else 0.56),
        levels=tuple(part.label for part in order), counts=tuple(part.n for part in order),
    )  # fmt: skip
    return levels, layers, tuple(rooms)
