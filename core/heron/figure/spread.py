"""One variable: classes, density, normal curve, box and points on one axis; its levels; its quantiles; its order."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from heron import thinning
from heron.checks import Floats, Ints
from heron.density import Density
from heron.errors import InputError
from heron.figure.scene import Axis, Facts, Layer, Number, Scale, Scene, SceneSeries, turned
from heron.frequency import Classes, ValueCounts
from heron.groups import Box
from heron.quantiles import distribution

_BOX_LANE, _POINT_LANE = 0.13, 0.13


@dataclass(frozen=True)
class Shape:
    """One variable, or one level of it. normal_x, normal_heights: of the normal curve, empty for none."""

    label: str
    values: Floats
    rows: Ints
    classes: Classes | None = None
    density: Density | None = None
    box: Box | None = None
    normal_x: Floats | None = None
    normal_heights: Floats | None = None


def scatter(n: int, seed: int = 7) -> Floats:
    """(n,) places from -0.5 to 0.5 that spread points sideways, the same each time."""
    return np.random.default_rng(seed).random(n) - 0.5


def outline(x: Floats, heights: Floats, foot: float = 0.0) -> tuple[Floats, Floats]:
    """A curve closed along its foot."""
    if x.size == 0:
        return x, heights
    return np.concatenate(([x[0]], x, [x[-1]])), np.concatenate(([foot], foot + heights, [foot]))


def box_layer(
    boxes: Sequence[Box | None], places: Sequence[float], width: float, series: str, *, upright: bool
) -> Layer:
    """Boxes at their places on the other axis; groups without values have none."""
    kept = [(place, box) for place, box in zip(places, boxes, strict=True) if box is not None and box.q1 is not None]

    def of(name: str) -> Floats:
        return np.array([getattr(box, name) for _, box in kept], dtype=np.float64)

    at, middle = np.array([place for place, _ in kept], dtype=np.float64), of("median")
    x, y = (at, middle) if upright else (middle, at)
    return Layer(
        "box", "box", series, x, y, low=of("whisker_low"), high=of("whisker_high"), q1=of("q1"), q3=of("q3"),
        width=width, upright=upright,
    )  # fmt: skip


def beyond_layers(box: Box | None, place: float, series: str, *, upright: bool) -> list[Layer]:
    """The values beyond a box's whiskers, ringed, by row; of very many a fair sample with the furthest."""
    if box is None or box.outlier_rows.size == 0:
        return []
    sent = thinning.points(np.arange(box.outlier_rows.size), box.outlier_values)
    values, at = box.outlier_values[sent], np.full(sent.size, place)
    x, y = (at, values) if upright else (values, at)
    return [Layer("points", "beyond", series, x, y, rows=box.outlier_rows[sent])]


def _heights(classes: Classes, measure: str) -> Floats:
    known = {"density": classes.densities, "counts": classes.counts, "percents": classes.percents}
    return np.asarray(known.get(measure, classes.densities), dtype=np.float64)


def shape(
    parts: Sequence[Shape],
    title: str,
    unit: str,
    facts: Facts,
    *,
    layers: Sequence[str],
    measure: str = "density",
    scale: Scale = "linear",
    series_title: str = "",
    numbers: Sequence[Number] = (),
    lost: int = 0,
) -> Scene:
    """Shapes on one axis, those of several levels over one another; boxes and points stand in lanes below them.

    measure: what heights are ("density", "counts", "percents"); curves are drawn on the same measure, by the width of
    the classes."""
    split = len(parts) > 1
    found: list[Layer] = []
    tops = [0.0]
    for part in parts:
        key = part.label if split else ""
        factor = 1.0
        if part.classes is not None:
            heights = _heights(part.classes, measure)
            widths = np.diff(np.log10(part.classes.boundaries) if scale == "log10" else part.classes.boundaries)
            total = float(np.sum(part.classes.counts))
            per = {"counts": total, "percents": 100.0}.get(measure, 1.0)
            factor = per * float(np.median(widths)) if measure != "density" else 1.0
            if "classes" in layers:
                edges = part.classes.boundaries
                found.append(Layer("blocks", "classes", key, edges[:-1], np.zeros(heights.size), edges[1:], heights))
                tops.append(float(heights.max(initial=0.0)))
        if "density" in layers and part.density is not None:
            heights = part.density.density * factor
            form = "area" if split or "classes" not in layers else "line"
            xy = outline(part.density.x, heights) if form == "area" else (part.density.x, heights)
            found.append(Layer(form, "density", key, *xy))  # type: ignore[arg-type]
            tops.append(float(heights.max(initial=0.0)))
        if "normal" in layers and part.normal_x is not None and part.normal_heights is not None:
            found.append(Layer("line", "normal", key, part.normal_x, part.normal_heights * factor))
            tops.append(float((part.normal_heights * factor).max(initial=0.0)))
    top = max(tops)
    if not math.isfinite(top):
        raise InputError(
            "too-close",
            f"Values of {title} lie too close together for a density: its heights are too large to be drawn.",
            where="measure",
            remedy="Draw counts or percents.",
        )
    high = (top or 1.0) * 1.04
    lane = -0.03 * high
    if "box" in layers:
        width = _BOX_LANE * high * (0.7 if split else 1.0)
        for part in parts:
            lane -= width
            key = part.label if split else ""
            found.append(box_layer([part.box], [lane + width / 2], width * 0.72, key, upright=False))
            if part.box is not None and ("points" not in layers or part.values.size < part.box.n):
                found += beyond_layers(part.box, lane + width / 2, key, upright=False)
        lane -= 0.02 * high
    for role in ("points", "rug"):
        if role not in layers:
            continue
        depth = (_POINT_LANE if role == "points" else 0.05) * high * (0.7 if split else 1.0)
        for i, part in enumerate(parts):
            key = part.label if split else ""
            lane -= depth
            if role == "points":
                at = lane + depth / 2 + depth * 0.8 * scatter(part.values.size, 7 + i)
                found.append(Layer("points", "points", key, part.values, at, rows=part.rows))
            else:
                n = part.values.size
                x = np.column_stack((part.values, part.values, np.full(n, np.nan))).ravel()
                y = np.tile([lane + 0.15 * depth, lane + 0.85 * depth, np.nan], n)
                found.append(Layer("line", "rug", key, x, y))
    measured = top > 0
    low = lane - 0.02 * high if lane < -0.03 * high else 0.0
    # A normal curve reaches on for ever: the axis follows the data and their density.
    touched = [each for layer in found if layer.role != "normal" for each in (layer.x, layer.high_x)]
    touched += [np.concatenate((layer.low, layer.high)) for layer in found if not layer.upright]
    across = Axis(title, unit, scale=scale, lost=lost).over(touched, 0.02)
    heights_title = {"counts": "Rows", "percents": "Percent of rows"}.get(measure, "Density")
    per_unit = (
        f"per {'decade' if scale == 'log10' else unit}" if measure == "density" and (unit or scale != "linear") else ""
    )
    up = Axis(
        heights_title if measured else "", per_unit if measured else "", "number" if measured else "bare",
        low=low, high=high if measured else 0.02 * high, foot=0.0, from_zero="classes" in layers,
    )  # fmt: skip
    series = (
        tuple(SceneSeries(part.label, part.label, i, int(part.values.size)) for i, part in enumerate(parts))
        if split
        else ()
    )
    return Scene(across, up, tuple(found), facts, series, series_title, numbers=tuple(numbers))


def cumulative(parts: Sequence[Shape], title: str, unit: str, facts: Facts, *, series_title: str = "") -> Scene:
    """The empirical distribution function of each part as steps, in percent of its rows."""
    found, series = [], []
    for i, part in enumerate(parts):
        key = part.label if len(parts) > 1 else ""
        steps = distribution(part.values)
        x = np.repeat(steps.x, 2)
        y = 100 * np.concatenate(([0.0], np.repeat(steps.share, 2)[:-1]))
        found.append(Layer("line", "steps", key, x, y))
        series.append(SceneSeries(key, part.label, i, int(part.values.size)))
    across = Axis(title, unit).over([layer.x for layer in found])
    up = Axis("Rows at or below", "%", low=0.0, high=102.0, foot=0.0)
    return Scene(across, up, tuple(found), facts, tuple(series) if len(parts) > 1 else (), series_title)


def counted(found: ValueCounts, title: str, facts: Facts, *, percents: bool, along: bool = True) -> Scene:
    """How often each value occurs, as bodies from zero."""
    labels = tuple(str(row.value) for row in found.rows)
    heights = np.array([row.percent if percents else row.count for row in found.rows], dtype=np.float64)
    at = np.arange(len(labels), dtype=np.float64)
    layer = Layer("blocks", "classes", "", at - 0.36, np.zeros(at.size), at + 0.36, heights)
    levels = Axis(title, "", "levels", low=-0.6, high=len(labels) - 0.4, levels=labels)
    top = float(heights.max(initial=0.0)) or 1.0
    values = Axis("Rows", "%" if percents else "", low=0.0, high=top * 1.05, from_zero=True)
    numbers = tuple(
        Number(label, float(value), "%" if percents else "") for label, value in zip(labels, heights, strict=True)
    )
    scene = Scene(levels, values, (layer,), facts, numbers=numbers)
    if not along:
        return scene
    return upside_down(turned(scene))


def in_time(boundaries: Floats, counts: Ints, title: str, facts: Facts) -> Scene:
    """How many rows fall into each unit of time, as bodies from zero; boundaries (n + 1,) in days since 1970."""
    heights = counts.astype(np.float64)
    layer = Layer("blocks", "classes", "", boundaries[:-1], np.zeros(heights.size), boundaries[1:], heights)
    top = float(heights.max(initial=0.0)) or 1.0
    up = Axis("Rows", high=top * 1.05, from_zero=True)
    return Scene(Axis(title, kind="time").over([boundaries], 0.01), up, (layer,), facts)


def upside_down(scene: Scene) -> Scene:
    """Levels on the axis that goes up, the first of them at its top."""
    k = len(scene.up.levels) - 1

    def flip(y: Floats) -> Floats:
        return k - y

    def layer(each: Layer) -> Layer:
        if each.form == "blocks":
            return replace(each, y=flip(each.high_y), high_y=flip(each.y))
        return replace(each, y=flip(each.y))

    up = replace(
        scene.up,
        levels=scene.up.levels[::-1],
        counts=scene.up.counts[::-1],
        beside=scene.up.beside[::-1],
        heads=tuple(k - place for place in scene.up.heads),
        low=k - scene.up.high,
        high=k - scene.up.low,
    )
    lanes = tuple(replace(lane, at=k - lane.at) for lane in scene.lanes)
    return replace(scene, up=up, layers=tuple(map(layer, scene.layers)), lanes=lanes)


@dataclass(frozen=True)
class Quantiles:
    """A quantile plot: scores and ordered values with their rows, the line (slope, intercept), and a band at scores of
    its own."""

    scores: Floats
    ordered: Floats
    rows: Ints
    slope: float
    intercept: float
    band_scores: Floats
    low: Floats
    high: Floats


def quantiles(found: Quantiles, title: str, unit: str, scores_title: str, facts: Facts) -> Scene:
    """Values over the quantiles that a distribution would give them, with its line and band."""
    layers = []
    known = np.isfinite(found.low) & np.isfinite(found.high)
    if known.any():
        s = found.band_scores[known]
        layers.append(
            Layer(
                "area",
                "band",
                "",
                np.concatenate((s, s[::-1])),
                np.concatenate((found.low[known], found.high[known][::-1])),
            )
        )
    ends = np.array([found.scores.min(initial=0.0), found.scores.max(initial=1.0)])
    layers.append(Layer("line", "fit", "", ends, found.intercept + found.slope * ends))
    layers.append(Layer("points", "points", "", found.scores, found.ordered, rows=found.rows))
    across = Axis(scores_title).over([found.scores])
    up = Axis(title, unit).over([found.ordered, layers[0].y])
    return Scene(across, up, tuple(layers), facts)


def ordered(
    places: Floats, values: Floats, rows: Ints, breaks: Ints, along: Axis, title: str, unit: str, facts: Facts,
    *, limits: Sequence[tuple[float, str]] = (), beyond: Ints | None = None, joined: bool = True,
) -> Scene:  # fmt: skip
    """Values in order; the line that joins them is broken before the places named; `beyond`: places of marked rows;
    limits: values with their names, drawn across."""
    layers = []
    if joined:
        layers.append(Layer("line", "joined", "", np.insert(places, breaks, np.nan), np.insert(values, breaks, np.nan)))
    marked = np.zeros(values.size, dtype=bool)
    if beyond is not None:
        marked[beyond] = True
    layers.append(Layer("points", "points", "", places[~marked], values[~marked], rows=rows[~marked]))
    if marked.any():
        layers.append(Layer("points", "beyond", "", places[marked], values[marked], rows=rows[marked]))
    across = along.over([places])
    for value, _ in limits:
        layers.append(Layer("line", "limits", "", np.array([across.low, across.high]), np.array([value, value])))
    up = Axis(title, unit).over([values, np.array([value for value, _ in limits])])
    return Scene(across, up, tuple(layers), facts)
