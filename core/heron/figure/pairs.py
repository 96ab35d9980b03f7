"""Two variables: points or where they lie thickest, with lines, curves and bands; and what rows do to a fit."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

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


def examined(
    x: Floats, y: Floats, rows: Ints, beyond: Floats, across: tuple[str, str], up: tuple[str, str],
    facts: Facts, *, limits: Sequence[float] = (), trend: tuple[Floats, Floats] | None = None,
) -> Scene:  # fmt: skip
    """A diagnostic plot: one measure of each row over another; beyond: 1 past a cut-off; limits: drawn across."""
    kept = np.isfinite(x) & np.isfinite(y)
    marked = kept & (beyond > 0)
    plain = kept & ~marked
    along = Axis(*across).over([x[kept]])
    layers = [
        Layer("line", "limits", "", np.array([along.low, along.high]), np.array([value, value]))
        for value in limits if np.isfinite(value)
    ]  # fmt: skip
    layers.append(Layer("points", "points", "", x[plain], y[plain], rows=rows[plain]))
    if marked.any():
        layers.append(Layer("points", "beyond", "", x[marked], y[marked], rows=rows[marked]))
    if trend is not None:
        layers.append(Layer("line", "smooth", "", *trend))
    reached = [y[kept], np.array([value for value in limits if np.isfinite(value)])]
    return Scene(along, Axis(*up).over(reached, 0.05), tuple(layers), facts)
