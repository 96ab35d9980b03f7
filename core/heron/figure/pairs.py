"""Two variables: points or where they lie thickest, with lines, curves and bands; and what rows do to a fit."""

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.figure.scene import Axis, Facts, Layer, Number, Role, Scale, Scene, SceneSeries


@dataclass(frozen=True)
class Cloud:
    """Points of one group, or of all ("" then). size: from 0 to 1 of each, empty for all alike."""

    label: str
    place: int
    x: Floats
    y: Floats
    rows: Ints
    size: Floats


@dataclass(frozen=True)
class Curve:
    """A line through a group, with a band where it has one. role: "fit", "median line", "smooth" or "joined"."""

    label: str
    role: Role
    x: Floats
    y: Floats
    low: Floats
    high: Floats


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


def paired(
    clouds: Sequence[Cloud],
    curves: Sequence[Curve],
    across: tuple[str, str],
    up: tuple[str, str],
    facts: Facts,
    *,
    tiles: Tiles | None = None,
    series_title: str = "",
    scales: tuple[Scale, Scale] = ("linear", "linear"),
    time: bool = False,
    lost: int = 0,
    numbers: Sequence[Number] = (),
) -> Scene:
    """Points of two variables, with what was fitted to them."""
    several = len(clouds) > 1
    layers: list[Layer] = []
    if tiles is not None:
        kept = tiles.value > 0
        layers.append(
            Layer(tiles.form, "tiles", "", tiles.x[kept], tiles.y[kept], tiles.high_x[kept], tiles.high_y[kept],
                  value=tiles.value[kept])
        )  # fmt: skip
    for curve in curves:
        known = np.isfinite(curve.low) & np.isfinite(curve.high) if curve.low.size else np.empty(0, dtype=bool)
        if known.any():
            x = np.concatenate((curve.x[known], curve.x[known][::-1]))
            y = np.concatenate((curve.low[known], curve.high[known][::-1]))
            layers.append(Layer("area", "band", curve.label, x, y))
    if tiles is None:
        layers.extend(
            Layer("points", "points", each.label if several else "", each.x, each.y, rows=each.rows, size=each.size)
            for each in clouds
        )
    layers.extend(Layer("line", curve.role, curve.label, curve.x, curve.y) for curve in curves)
    # Curves may run far off where nothing was seen: the axis follows what was.
    seen_x = [each.x for each in clouds] if tiles is None else [tiles.x[tiles.value > 0], tiles.high_x[tiles.value > 0]]
    seen_y = [each.y for each in clouds] if tiles is None else [tiles.y[tiles.value > 0], tiles.high_y[tiles.value > 0]]
    named = clouds if several else ()
    series = tuple(SceneSeries(each.label, each.label, each.place, int(each.x.size)) for each in named)
    return Scene(
        Axis(*across, kind="time" if time else "number", scale=scales[0], lost=lost).over(seen_x),
        Axis(*up, scale=scales[1]).over(seen_y, 0.04),
        tuple(layers),
        facts,
        series,
        series_title,
        numbers=tuple(numbers),
        values_title=tiles.title if tiles else "",
        values_low=1.0 if tiles and tiles.counted else 0.0,
        values_high=float(tiles.value.max(initial=0.0)) if tiles else 1.0,
        values_scale="log10" if tiles and tiles.counted else "linear",
    )


@dataclass(frozen=True)
class Examined:
    """A diagnostic plot: one measure of each row over another. beyond: (n,) which rows are ringed; sizes: (n,) of the
    points, from 0 to 1, empty where all are alike; guides: ("across" or "up", value, name) of lines; trend, fit:
    curves; band: (x, low, high); contours: (x, y, name) of curves; zero: both axes reach it."""

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
    band: tuple[Floats, Floats, Floats] | None = None
    contours: tuple[tuple[Floats, Floats, str], ...] = ()
    zero: bool = False


def examined(plot: Examined, facts: Facts) -> Scene:
    """The points of a diagnostic plot, with what they are judged by. Axes reach the points and the guides."""
    x, y = plot.x, plot.y
    kept = np.isfinite(x) & np.isfinite(y)
    marked = kept & plot.beyond
    guides = [each for each in plot.guides if np.isfinite(each[1])]
    reached = {side: np.array([value for on, value, _ in guides if on == side]) for side in ("across", "up")}
    origin = np.zeros(1) if plot.zero else np.empty(0)
    along = Axis(*plot.across).over([x[kept], reached["across"], origin])
    up = Axis(*plot.up).over([y[kept], reached["up"], origin], 0.05)
    layers = []
    if plot.band is not None:
        at, low, high = plot.band
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
