"""One variable: rows up to each value; how often each occurs; its quantiles; its order. Parts of pictures: boxes."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from heron import thinning
from heron.checks import Floats, Ints
from heron.figure.scene import Axis, Facts, Lane, Layer, Number, Scene, SceneSeries, turned
from heron.figure.source import CumulativeSource
from heron.formatting import fixed, grouped
from heron.frequency import Classes, ValueCounts
from heron.groups import Box
from heron.quantiles import distribution

_MOST_STEPS = 5_000


def scatter(rows: Ints) -> Floats:
    """(n,) places from -0.5 to 0.5 for rows, always the same for a row; one that counts several times stands in as many
    places, one after the other."""
    seed = rows.astype(np.int64)
    starts = np.flatnonzero(np.r_[True, seed[1:] != seed[:-1]]) if seed.size else np.empty(0, dtype=np.int64)
    times = np.arange(seed.size) - np.repeat(starts, np.diff(np.r_[starts, seed.size]))
    seed = np.where(times > 0, seed * 1_021 + times, seed)
    h = (seed.astype(np.uint32) ^ np.uint32(0x9E3779B9)) * np.uint32(0x85EBCA6B)
    h = (h ^ (h >> np.uint32(13))) * np.uint32(0xC2B2AE35)
    h ^= h >> np.uint32(16)
    return h / 2.0**32 - 0.5


def outline(x: Floats, heights: Floats, foot: float = 0.0) -> tuple[Floats, Floats]:
    """A curve closed along its foot."""
    if x.size == 0:
        return x, heights
    return np.concatenate(([x[0]], x, [x[-1]])), np.concatenate(([foot], foot + heights, [foot]))


def box_layer(
    boxes: Sequence[Box | None], places: Sequence[float], width: float, series: str, *, upright: bool
) -> Layer:
    """Boxes at their places on the other axis; groups without values have none."""
    kept = [
        (position, box) for position, box in zip(places, boxes, strict=True) if box is not None and box.q1 is not None
    ]

    def of(name: str) -> Floats:
        return np.array([getattr(box, name) for _, box in kept], dtype=np.float64)

    at, middle = np.array([position for position, _ in kept], dtype=np.float64), of("median")
    x, y = (at, middle) if upright else (middle, at)
    return Layer(
        "box", "box", series, x, y, low=of("whisker_low"), high=of("whisker_high"), q1=of("q1"), q3=of("q3"),
        width=width, upright=upright,
    )  # fmt: skip


def beyond_layers(box: Box | None, position: float, series: str, *, upright: bool) -> list[Layer]:
    """The values beyond a box's whiskers, ringed, by row; of very many a fair sample with the furthest."""
    if box is None or box.outlier_rows.size == 0:
        return []
    sent = thinning.points(np.arange(box.outlier_rows.size), box.outlier_values)
    values, at = box.outlier_values[sent], np.full(sent.size, position)
    x, y = (at, values) if upright else (values, at)
    far = np.isin(box.outlier_rows[sent], box.far_rows).astype(np.float64)
    return [Layer("points", "beyond", series, x, y, rows=box.outlier_rows[sent], far=far)]


@dataclass(frozen=True)
class Rising:
    """The values of one variable, or of one level of it, and the classes over which a polygon goes."""

    label: str
    values: Floats
    classes: Classes | None = None


def cumulative(
    parts: Sequence[Rising], title: str, unit: str, facts: Facts, source: CumulativeSource, by: str
) -> Scene:
    """Rows at or below each value of each part, or at or above: as steps, and as a polygon over classes."""
    result, series = [], []
    counts = source.measure == "counts"
    for i, part in enumerate(parts):
        key, n = part.label if by else "", part.values.size
        whole = float(n) if counts else 100.0

        def height(share: Floats, whole: float = whole) -> Floats:
            return whole * (1 - share if source.at_least else share)

        if "polygon" in source.lines and part.classes is not None:
            cut = part.classes
            shares = np.concatenate(([cut.below], cut.below + cut.cumulative_counts)) / cut.n
            result.append(Layer("line", "polygon", key, cut.boundaries, height(shares)))
        if "steps" in source.lines:
            steps = distribution(part.values)
            kept = np.arange(steps.x.size)
            if kept.size > _MOST_STEPS:
                kept = np.unique(np.linspace(0, steps.x.size - 1, _MOST_STEPS).astype(np.int64))
            x, shares = np.repeat(steps.x[kept], 2), np.repeat(steps.share[kept], 2)
            result.append(Layer("line", "steps", key, x, height(np.concatenate(([0.0], shares[:-1])))))
        series.append(SceneSeries(key, part.label, i, int(n)))
    across = Axis(title, unit).over([layer.x for layer in result])
    top = float(max(part.values.size for part in parts)) if counts else 100.0
    side = "at or above" if source.at_least else "at or below"
    up = Axis(f"Rows {side}", "" if counts else "%", low=0.0, high=1.02 * top)
    return Scene(across, up, tuple(result), facts, tuple(series) if by else (), by)


def counted(value_counts: ValueCounts, title: str, facts: Facts, *, percents: bool, written: bool) -> Scene:
    """How often each value occurs, as bars from zero, the first on top."""
    labels = tuple(str(row.value) for row in value_counts.rows)
    heights = np.array([row.percent if percents else row.count for row in value_counts.rows], dtype=np.float64)
    at = np.arange(len(labels), dtype=np.float64)
    sizes = np.array([row.count for row in value_counts.rows], dtype=np.float64)
    layers = [Layer("blocks", "classes", "", at - 0.36, np.zeros(at.size), at + 0.36, heights, value=sizes)]
    if written:
        texts = tuple(f"{grouped(row.count)}  ({fixed(row.percent, 1)}\u202f%)" for row in value_counts.rows)
        layers.append(Layer("words", "values", "", at, heights, low=heights, high=heights, texts=texts))
    levels = Axis(title, "", "levels", low=-0.6, high=len(labels) - 0.4, levels=labels)
    top = float(heights.max(initial=0.0)) or 1.0
    values = Axis("Rows", "%" if percents else "", low=0.0, high=top * (1.25 if written else 1.05), from_zero=True)
    numbers = tuple(
        Number(label, float(value), "%" if percents else "") for label, value in zip(labels, heights, strict=True)
    )
    lanes = tuple(
        Lane(i, i, label, float(i), 0.9, float(size)) for i, (label, size) in enumerate(zip(labels, sizes, strict=True))
    )
    return upside_down(turned(Scene(levels, values, tuple(layers), facts, numbers=numbers, lanes=lanes)))


def in_time(boundaries: Floats, counts: Ints, title: str, facts: Facts) -> Scene:
    """How many rows fall into each unit of time, as bars from zero; boundaries (n + 1,) in days since 1970."""
    heights = counts.astype(np.float64)
    layer = Layer(
        "blocks", "classes", "", boundaries[:-1], np.zeros(heights.size), boundaries[1:], heights, value=heights
    )
    top = float(heights.max(initial=0.0)) or 1.0
    up = Axis("Rows", high=top * 1.05, from_zero=True)
    return Scene(Axis(title, kind="time").over([boundaries], 0.01), up, (layer,), facts)


def upside_down(scene: Scene) -> Scene:
    """Levels on the axis that goes up, the first of them at its top."""
    k = len(scene.up.levels) - 1

    def flip(y: Floats) -> Floats:
        return k - y

    def layer(given: Layer) -> Layer:
        if given.form == "blocks":
            return replace(given, y=flip(given.high_y), high_y=flip(given.y))
        return replace(given, y=flip(given.y))

    up = replace(
        scene.up,
        levels=scene.up.levels[::-1],
        counts=scene.up.counts[::-1],
        beside=scene.up.beside[::-1],
        heads=tuple(k - head for head in scene.up.heads),
        low=k - scene.up.high,
        high=k - scene.up.low,
    )
    lanes = tuple(replace(lane, at=k - lane.at) for lane in scene.lanes)
    return replace(scene, up=up, layers=tuple(map(layer, scene.layers)), lanes=lanes)


@dataclass(frozen=True)
class Quantiles:
    """A quantile plot: scores and ordered values with their rows, the line (slope, intercept), and bands, the narrowest
    last: (scores, low, high) of each."""

    scores: Floats
    ordered: Floats
    rows: Ints
    slope: float
    intercept: float
    bands: tuple[tuple[Floats, Floats, Floats], ...] = ()

    def off_the_line(self) -> "Quantiles":
        """All as distances from the line."""

        def off(values: Floats, scores: Floats) -> Floats:
            return values - self.intercept - self.slope * scores

        bands = tuple((scores, off(low, scores), off(high, scores)) for scores, low, high in self.bands)
        return replace(self, ordered=off(self.ordered, self.scores), slope=0.0, intercept=0.0, bands=bands)


def quantiles(quantiles: Quantiles, title: str, unit: str, scores_title: str, facts: Facts) -> Scene:
    """Values over the quantiles that a distribution would give them, with its line and bands."""
    layers = []
    for scores, low, high in quantiles.bands:
        known = np.isfinite(low) & np.isfinite(high)
        if known.any():
            x, low, high = scores[known], low[known], high[known]
            layers.append(Layer("area", "band", "", np.concatenate((x, x[::-1])), np.concatenate((low, high[::-1]))))
    ends = np.array([quantiles.scores.min(initial=0.0), quantiles.scores.max(initial=1.0)])
    layers.append(Layer("line", "fit", "", ends, quantiles.intercept + quantiles.slope * ends))
    layers.append(Layer("points", "points", "", quantiles.scores, quantiles.ordered, rows=quantiles.rows))
    across = Axis(scores_title).over([quantiles.scores], 0.04)
    # Away from the line, the bands are what the points are judged by.
    judged = [layer.y for layer in layers if layer.form != "area" or quantiles.slope == 0]
    return Scene(across, Axis(title, unit).over(judged, 0.04), tuple(layers), facts)


@dataclass(frozen=True)
class InOrder:
    """Values in order. breaks: places before which the line that joins them is broken; levels, limits: values with
    their names, drawn across; run: from which place to which; jumps: places after a jump; beyond: of marked rows."""

    places: Floats
    values: Floats
    rows: Ints
    breaks: Ints
    levels: tuple[tuple[float, str], ...] = ()
    limits: tuple[tuple[float, str], ...] = ()
    run: tuple[int, int] | None = None
    jumps: Ints | None = None
    beyond: Ints | None = None
    joined: bool = True


def ordered(in_order: InOrder, along: Axis, title: str, unit: str, facts: Facts) -> Scene:
    """Values in order, with what is told of their order."""
    places, values, rows = in_order.places, in_order.values, in_order.rows
    across = along.over([places], 0.01)
    up = Axis(title, unit).over([values, np.array([value for value, _ in in_order.limits])], 0.04)
    layers = []
    if in_order.run is not None:
        x, high_x = (places[[end]] for end in in_order.run)
        layers.append(Layer("blocks", "run", "", x, np.array([up.low]), high_x, np.array([up.high])))
    for role, lines in (("level lines", in_order.levels), ("limits", in_order.limits)):
        for value, name in lines:
            ends = np.array([across.low, across.high])
            layers.append(Layer("line", role, "", ends, _twice(value), texts=(name,) if name else ()))  # type: ignore[arg-type]
    if in_order.joined:
        gaps = in_order.breaks
        layers.append(Layer("line", "joined", "", np.insert(places, gaps, np.nan), np.insert(values, gaps, np.nan)))
    marked = np.zeros(values.size, dtype=bool)
    if in_order.beyond is not None:
        marked[in_order.beyond] = True
    layers.append(Layer("points", "points", "", places[~marked], values[~marked], rows=rows[~marked]))
    if in_order.jumps is not None and in_order.jumps.size:
        layers.append(
            Layer("points", "jumps", "", places[in_order.jumps], values[in_order.jumps], rows=rows[in_order.jumps])
        )
    if marked.any():
        layers.append(Layer("points", "beyond", "", places[marked], values[marked], rows=rows[marked]))
    return Scene(across, up, tuple(layers), facts)


def _twice(value: float) -> Floats:
    return np.array([value, value])
