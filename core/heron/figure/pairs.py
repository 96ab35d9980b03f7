"""Two variables: points or where they lie thickest, with lines, curves and bands; and what rows do to a fit."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.figure.roles import Role
from heron.figure.scene import Axis, Facts, Layer, Number, Ramp, Scale, Scene, SceneSeries, turned_layer
from heron.figure.source import PairSource
from heron.figure.spread import beyond_layers, box_layer, outline
from heron.formatting import percent
from heron.groups import Box


def _nothing() -> Floats:
    return np.empty(0)


@dataclass(frozen=True)
class Cloud:
    """Points of one group, or of all ("" then). size: from 0 to 1 of each, empty for all alike; aside_x, aside_y: by
    how much each is drawn beside its place; counts: how many pairs lie at each, empty where points are rows; bars_x,
    bars_y: (n, 2) the ends of their bars, without rows where there are none."""

    label: str
    place: int
    x: Floats
    y: Floats
    rows: Ints
    size: Floats
    aside_x: Floats = field(default_factory=_nothing)
    aside_y: Floats = field(default_factory=_nothing)
    counts: Floats = field(default_factory=_nothing)
    bars_x: Floats = field(default_factory=_nothing)
    bars_y: Floats = field(default_factory=_nothing)


@dataclass(frozen=True)
class Curve:
    """A line through a group, with its bands: the role, low and high of each. role: "fit", "median line", "smooth" or
    "joined"."""

    label: str
    role: Role
    x: Floats
    y: Floats
    bands: tuple[tuple[Role, Floats, Floats], ...] = ()


@dataclass(frozen=True)
class Tiles:
    """Where pairs lie, in cells from x to high_x and y to high_y; value: how many where counted, else how thick.
    form: blocks, or hexagons that stand on a corner."""

    x: Floats
    y: Floats
    high_x: Floats
    high_y: Floats
    value: Floats
    title: str
    form: Literal["blocks", "hexagons"] = "blocks"
    counted: bool = True


@dataclass(frozen=True)
class Enclosing:
    """An area that encloses a share of the pairs: x, y of its outlines, NaN between them."""

    share: float
    x: Floats
    y: Floats


@dataclass(frozen=True)
class Margin:
    """One variable of one group by itself. edges, counts: its classes; x, heights: its density; box; values: a rug."""

    of: Literal["x", "y"]
    label: str
    edges: Floats = field(default_factory=_nothing)
    counts: Floats = field(default_factory=_nothing)
    x: Floats = field(default_factory=_nothing)
    heights: Floats = field(default_factory=_nothing)
    box: Box | None = None
    values: Floats = field(default_factory=_nothing)


_ROOM = {"histograms": 4.4, "densities": 4.4, "boxes": 1.9, "rugs": 1.0}
MOST_IN_ROOMS = 12


def rooms_of(source: PairSource, n: int) -> tuple[float, ...]:
    """The rooms along an axis for each variable by itself, in sizes of type: one for all groups, or one for each."""
    if source.margins == "none":
        return ()
    apart = source.margins in ("boxes", "rugs")
    return (_ROOM[source.margins],) * (min(n, MOST_IN_ROOMS) if apart else 1)


def _margin_layers(margins: Sequence[Margin], source: PairSource, labels: Sequence[str]) -> Iterator[Layer]:
    """Each variable by itself in its rooms, where values of x go across, and those of y up."""
    rooms = len(rooms_of(source, len(labels)))
    key = len(labels) > 1
    for of in ("x", "y"):
        of_axis = [margin for margin in margins if margin.of == of]
        tallest = max(
            (float(np.max(values, initial=0.0)) for m in of_axis for values in (m.counts, m.heights)), default=0.0
        )
        for margin in of_axis:
            room = labels.index(margin.label) if rooms > 1 else 0
            if room >= rooms:
                continue
            for layer in _by_itself(margin, margin.label if key else "", 0.94 / tallest if tallest > 0 else 0.0):
                laid = replace(layer, upright=False, strip=rooms + room)
                yield laid if of == "x" else replace(turned_layer(laid), strip=room)


def steps(low: float, high: float, n: int) -> Floats:
    """(n + 1,) ends of n equal steps, however far apart these are."""
    share = np.linspace(0, 1, n + 1)
    return low * (1 - share) + high * share


def _by_itself(margin: Margin, key: str, rise: float) -> Iterator[Layer]:
    if margin.counts.size:
        foot = np.full(margin.counts.size, -0.5)
        yield Layer(
            "blocks", "classes", key, margin.edges[:-1], foot, margin.edges[1:], foot + rise * margin.counts,
            value=margin.counts,
        )  # fmt: skip
    if margin.heights.size:
        yield Layer("area", "density", key, *outline(margin.x, rise * margin.heights, -0.5))
    if margin.box is not None:
        yield box_layer([margin.box], [0.0], 0.6, key, upright=False)
        yield from beyond_layers(margin.box, 0.0, key, upright=False)
    if margin.values.size:
        x = np.column_stack((margin.values, margin.values, np.full(margin.values.size, np.nan))).ravel()
        yield Layer("line", "rug", key, x, np.tile([-0.4, 0.4, np.nan], margin.values.size))


@dataclass(frozen=True)
class Related:
    """What a picture of pairs is made of. across, up: its axes, their ends still to be found; reach_x, reach_y: what
    these hold. sizes_title, sizes_high: what the area of points tells, sizes_step: how far along the first axis two
    neighbours stand apart, 0 where they do not."""

    clouds: Sequence[Cloud]
    curves: Sequence[Curve]
    across: Axis
    up: Axis
    reach_x: Floats
    reach_y: Floats
    facts: Facts
    tiles: Tiles | None = None
    enclosing: Sequence[Enclosing] = ()
    sparse: Cloud | None = None
    margins: Sequence[Margin] = ()
    series_title: str = ""
    numbers: Sequence[Number] = ()
    sizes_title: str = ""
    sizes_high: float = 1.0
    sizes_step: float = 0.0
    equations: Sequence[str] = ()


def scene_of_pairs(plot: Related, source: PairSource) -> Scene:
    """Points of two variables or where they lie thickest, with what was fitted to them, and each by itself."""
    several = len(plot.clouds) > 1
    tiles, ramp = plot.tiles, _RAMPS[source.shade]
    layers: list[Layer] = []
    if tiles is not None:
        kept = tiles.value > 0
        x, y, high_x, high_y = (values[kept] for values in (tiles.x, tiles.y, tiles.high_x, tiles.high_y))
        layers.append(Layer(tiles.form, "tiles", "", x, y, high_x, high_y, value=tiles.value[kept]))
    layers += [
        Layer("area", "enclosed", _share_words(contour.share), contour.x, contour.y)
        for contour in sorted(plot.enclosing, key=lambda contour: -contour.share)
    ]
    layers += [band for curve in plot.curves for band in _bands(curve)]
    points = [*(plot.clouds if source.shown in ("points", "counts") else ()), *([plot.sparse] if plot.sparse else ())]
    layers += [bar for point in points for bar in _point_bars(plot, point, point.label if several else "")]
    layers += [
        Layer(
            "points", "counted" if point.counts.size else "points", point.label if several else "", point.x, point.y,
            rows=point.rows, size=point.size, value=point.counts, aside_x=point.aside_x, aside_y=point.aside_y,
        )
        for point in points
    ]  # fmt: skip
    layers += [Layer("line", curve.role, curve.label, curve.x, curve.y) for curve in plot.curves]
    labels = [cloud.label for cloud in plot.clouds]
    layers += _margin_layers(plot.margins, source, labels)
    series = [SceneSeries(cloud.label, cloud.label, cloud.place, int(cloud.x.size)) for cloud in plot.clouds if several]
    n = len(plot.enclosing)
    inner = [
        SceneSeries(_share_words(contour.share), _share_words(contour.share), i, 0, 0.75 - 0.6 * i / max(n - 1, 1))
        for i, contour in enumerate(plot.enclosing)
    ]
    rooms = rooms_of(source, len(labels))
    held = [layer for layer in layers if layer.role in ("tiles", "enclosed")]
    across = replace(plot.across, strips=rooms).over(
        [plot.reach_x, *(e for layer in held for e in (layer.x, layer.high_x))]
    )
    ends = np.log10([across.low, across.high]) if across.scale == "log10" else np.array([across.low, across.high])
    return Scene(
        across,
        replace(plot.up, strips=rooms).over(
            [plot.reach_y, *(e for layer in held for e in (layer.y, layer.high_y))], 0.04
        ),
        tuple(layers),
        plot.facts,
        (*series, *inner),
        plot.series_title if not inner else "" if series else "Share of the pairs",
        numbers=tuple(plot.numbers),
        ramp=ramp if inner else "",
        values_title=tiles.title if tiles else "",
        values_low=1.0 if tiles and tiles.counted else 0.0,
        values_high=float(tiles.value.max(initial=0.0)) if tiles else 1.0,
        values_scale="log10" if tiles and tiles.counted else "linear",
        values_ramp=ramp,
        sizes_title=plot.sizes_title,
        sizes_high=plot.sizes_high,
        sizes_room=min(plot.sizes_step / float(ends[1] - ends[0]), 1.0),
        equations=tuple(plot.equations),
    )


_RAMPS: dict[str, Ramp] = {
    "heron": "sequential", "moss": "alternate", "ember": "ember", "lagoon": "lagoon", "ink": "ink",
}  # fmt: skip


def _share_words(share: float) -> str:
    return percent(share)


def _point_bars(plot: Related, cloud: Cloud, key: str) -> Iterator[Layer]:
    """The bars of points that can stand on both axes, where these are drawn."""
    stands = np.ones(cloud.x.size, dtype=bool)
    for axis, values in ((plot.across, cloud.x), (plot.up, cloud.y)):
        stands &= (values > 0) | (axis.scale == "linear")
    x, y = (at + aside if aside.size else at for at, aside in ((cloud.x, cloud.aside_x), (cloud.y, cloud.aside_y)))
    for ends, upright in ((cloud.bars_x, False), (cloud.bars_y, True)):
        barred = np.isfinite(ends).any(axis=1) & stands if ends.size else np.zeros(0, dtype=bool)
        if barred.any():
            low, high = ends[barred].T
            yield Layer("interval", "point bars", key, x[barred], y[barred], low=low, high=high, upright=upright)


def _bands(curve: Curve) -> Iterator[Layer]:
    """The bands of a curve, the widest first, each in as many parts as it has without a gap."""
    for role, low, high in curve.bands:
        known = np.isfinite(low) & np.isfinite(high)
        parts = [run for run in np.split(np.arange(known.size), np.flatnonzero(np.diff(known)) + 1) if known[run].all()]
        gap = np.array([np.nan])
        x = [values for run in parts if run.size for values in (curve.x[run], curve.x[run][::-1], gap)]
        y = [values for run in parts if run.size for values in (low[run], high[run][::-1], gap)]
        if x:
            yield Layer("area", role, curve.label, np.concatenate(x)[:-1], np.concatenate(y)[:-1])


def residuals(plot: Related, source: PairSource, n_groups: int) -> Scene:
    """What lines leave of each pair, over the axis of the pairs themselves, where these are of so many groups."""
    several = len(plot.clouds) > 1
    values = np.concatenate([cloud.y for cloud in plot.clouds])
    reach = float(np.abs(values).max(initial=0.0))
    layers = [Layer("line", "limits", "", np.array([plot.reach_x.min(), plot.reach_x.max()]), np.zeros(2))]
    layers += [
        Layer("points", "points", cloud.label if several else "", cloud.x, cloud.y, rows=cloud.rows)
        for cloud in plot.clouds
    ]
    series = tuple(
        SceneSeries(cloud.label, cloud.label, cloud.place, int(cloud.x.size)) for cloud in plot.clouds if several
    )
    # A room beside it keeps x at the places at which it stands in the picture above.
    return Scene(
        replace(plot.across, strips=rooms_of(source, n_groups)).over([plot.reach_x]),
        plot.up.over([np.array([-reach, reach])], 0.06), tuple(layers), plot.facts, series, plot.series_title,
    )  # fmt: skip


@dataclass(frozen=True)
class Examined:
    """A diagnostic plot: one measure of each row over another. beyond: (n,) which rows are ringed; sizes: (n,) of the
    points, from 0 to 1, empty where all are alike; guides: ("across" or "up", value, name) of lines; trend, fit:
    curves; bands: (x, low, high) of each; contours: (x, y, name) of curves; zero: both axes reach it; log: both are
    logarithmic; bands_reach: whether the axis reaches the bands too."""

    x: Floats
    y: Floats
    rows: Ints
    beyond: NDArray[np.bool_]
    across: tuple[str, str]
    up: tuple[str, str]
    sizes: Floats = field(default_factory=lambda: np.empty(0))
    guides: tuple[tuple[str, float, str], ...] = ()
    trend: tuple[Floats, Floats] | None = None
    fit: tuple[Floats, Floats] | None = None
    bands: tuple[tuple[Floats, Floats, Floats], ...] = ()
    contours: tuple[tuple[Floats, Floats, str], ...] = ()
    zero: bool = False
    log: bool = False
    bands_reach: bool = False
    air: float = 0.03


def examined(plot: Examined, facts: Facts) -> Scene:
    """The points of a diagnostic plot, with what they are judged by. Axes reach the points and the guides."""
    x, y = plot.x, plot.y
    kept = np.isfinite(x) & np.isfinite(y)
    marked = kept & plot.beyond
    guides = [guide for guide in plot.guides if np.isfinite(guide[1])]
    reached = {side: np.array([value for on, value, _ in guides if on == side]) for side in ("across", "up")}
    origin = np.zeros(1) if plot.zero else np.empty(0)
    scale: Scale = "log10" if plot.log else "linear"
    banded = [ends for _, *ends in plot.bands] if plot.bands_reach else []
    along = Axis(*plot.across, scale=scale).over([x[kept], reached["across"], origin], plot.air)
    up = Axis(*plot.up, scale=scale).over(
        [y[kept], reached["up"], origin, *(end for ends in banded for end in ends)], 0.05
    )
    layers = []
    for at, low, high in plot.bands:
        layers.append(Layer("area", "band", "", np.concatenate((at, at[::-1])), np.concatenate((low, high[::-1]))))
    for on, value, name in guides:
        ends, twice = np.array([along.low, along.high]), np.array([value, value])
        across = (twice, np.array([up.low, up.high])) if on == "across" else (ends, twice)
        layers.append(Layer("line", "limits", "", *across, texts=(name,) if name else ()))
    layers += [Layer("line", "contours", "", *_within(cx, cy, up), texts=(name,)) for cx, cy, name in plot.contours]
    if plot.fit is not None:
        layers.append(Layer("line", "fit", "", *plot.fit))
    for role, which in (("points", kept & ~marked), ("beyond", marked)):
        if which.any() or role == "points":
            size = plot.sizes[which] if plot.sizes.size else plot.sizes
            layers.append(Layer("points", role, "", x[which], y[which], rows=plot.rows[which], size=size))  # type: ignore[arg-type]
    if plot.trend is not None:
        layers.append(Layer("line", "smooth", "", *plot.trend))
    return Scene(along, up, tuple(layers), facts)


def _within(x: Floats, y: Floats, up: Axis) -> tuple[Floats, Floats]:
    inside = (y > up.low) & (y < up.high)
    return x[inside], y[inside]
