"""What a figure shows, told from its marks for whoever does not see it: shape, centre, what lies far, trend.

Everything is read off the scene, so that any figure can be told, frozen ones too. Distances between marks are those of
the data; ranks, not distances, tell a trend, so that the scale of an axis changes nothing.
"""

from collections import defaultdict
from collections.abc import Callable, Iterator

import numpy as np
from scipy.stats import rankdata

from heron.checks import Floats
from heron.figure.scene import Axis, Layer, Scene
from heron.formatting import counted, significant

_DIGITS = 4
_VALLEY, _LESSER = 0.8, 0.2  # of the lesser of two peaks, and of the highest, for a peak to be told
_LONGER = 1.5  # times the other tail
_MOST_SERIES = 6
_DAYS_WITH_HOURS = 30
_TREND = ((0.1, ""), (0.35, "weakly"), (0.7, "clearly"), (1.1, "closely"))


def what_it_shows(scene: Scene) -> list[str]:
    """Sentences on the marks of a figure, each kind of mark by itself; none for one that shows nothing."""
    by_role: dict[str, list[Layer]] = defaultdict(list)
    for layer in scene.layers:
        if layer.x.size:
            by_role[layer.role].append(layer)
    tellers: tuple[Callable[[Scene, dict[str, list[Layer]]], Iterator[str]], ...] = (
        _shapes, _counts, _parts, _steps, _boxes, _bars, _lines, _clouds, _off_the_line, _beyond,
    )  # fmt: skip
    named = tuple(f"{series.label}{sign}" for series in scene.series for sign in (": ", " ") if series.label)
    said = [sentence for tell in tellers for sentence in tell(scene, by_role)]
    return [sentence if sentence.startswith(named) else sentence[:1].upper() + sentence[1:] for sentence in said]


def _shapes(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """Where densities are highest, or classes where there is no curve."""
    curves = [layer for layer in by_role["density"] if layer.form == "line"]
    for layer in curves[:_MOST_SERIES]:
        axis, values, heights = (
            (scene.across, layer.x, layer.y) if layer.upright else (scene.up, layer.y, layer.x)
        )  # fmt: skip
        known = np.isfinite(values) & np.isfinite(heights)
        if not known.any():
            continue
        peaks = _peaks(values[known], heights[known])
        listed = " and ".join(_at(axis, peak) for peak in peaks)
        yield f"{_of(scene, layer)}{'one peak' if len(peaks) == 1 else f'{len(peaks)} peaks'}, near {listed}."
    for layer in by_role["classes"][:_MOST_SERIES] if not curves else ():
        axis, other, low, high, heights = _blocks(scene, layer)
        if axis.kind == "number" and other.kind != "levels":
            most = int(np.argmax(heights))
            yield f"{_of(scene, layer)}most in the class from {_at(axis, low[most])} to {_at(axis, high[most])}."


def _peaks(values: Floats, heights: Floats) -> list[float]:
    """Where a curve is highest, and where else it rises again from a valley."""
    inner = np.flatnonzero((heights[1:-1] >= heights[:-2]) & (heights[1:-1] > heights[2:])) + 1
    taken: list[int] = []
    for at in sorted(inner.tolist(), key=lambda i: -heights[i]):
        apart = all(
            heights[min(at, other) : max(at, other) + 1].min() <= _VALLEY * heights[at] for other in taken
        )  # fmt: skip
        if apart and heights[at] >= _LESSER * heights.max():
            taken.append(at)
    return [float(values[at]) for at in sorted(taken or [int(np.argmax(heights))])][:4]


def _blocks(scene: Scene, layer: Layer) -> tuple[Axis, Axis, Floats, Floats, Floats]:
    """The axis along which blocks stand, the one that they reach along, their ends, and how far they reach."""
    if layer.upright:
        return scene.across, scene.up, layer.x, layer.high_x, np.abs(layer.high_y - layer.y)
    return scene.up, scene.across, layer.y, layer.high_y, np.abs(layer.high_x - layer.x)


def _counts(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """The longest and the shortest of bars for levels, values or times."""
    for layer in by_role["classes"]:
        axis, other, low, high, heights = _blocks(scene, layer)
        if axis.kind not in ("levels", "time") and other.kind == "number" and scene.up.kind == "number":
            continue
        names = [_at(axis, (a + b) / 2) for a, b in zip(low, high, strict=True)]
        most, least = int(np.argmax(heights)), int(np.argmin(heights))
        unit = f" {other.unit}" if other.unit else ""
        told = [f"{significant(heights[i], _DIGITS)}{unit}" for i in (most, least)]
        if heights[most] == heights[least]:
            yield (
                f"{_of(scene, layer)}all {len(names)} alike, {told[0]}."
                if len(names) > 1
                else f"{names[0]}: {told[0]}."
            )
        else:
            yield f"{_of(scene, layer)}most at {names[most]}: {told[0]}; fewest at {names[least]}: {told[1]}."


def _parts(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """The largest part of stacked bars, and the part that differs most between them."""
    layers = by_role["answers"]
    if not layers:
        return
    widths = {layer.series: _blocks(scene, layer)[4] for layer in layers}
    names = {series.key: series.label for series in scene.series}
    largest = max(widths, key=lambda key: float(widths[key].mean()))
    differs = max(widths, key=lambda key: float(np.ptp(widths[key])))
    for words, key in (("The largest part is", largest), ("Bars differ most in", differs)):
        low, high = significant(widths[key].min(), 3), significant(widths[key].max(), 3)
        yield f"{words} {names.get(key, key)}, {f'{low} to {high}' if low != high else low} %."


def _steps(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """The quartiles that a cumulative line passes through."""
    for layer in [*by_role["steps"], *by_role["polygon"]][:_MOST_SERIES]:
        y = layer.y[np.isfinite(layer.y)]
        x = layer.x[np.isfinite(layer.y)]
        if y.size < 2 or y.max() <= 0:
            continue
        rising = y[-1] >= y[0]
        shares = (y if rising else y[::-1]) / y.max()
        at = [_at(scene.across, float((x if rising else x[::-1])[np.argmax(shares >= q)])) for q in (0.25, 0.5, 0.75)]
        yield f"{_of(scene, layer)}half are reached at {at[1]}, a quarter at {at[0]}, three quarters at {at[2]}."


def _boxes(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """The median and quartiles of one box and its longer tail; of several the highest and the lowest median."""
    boxes = [(layer, i) for layer in by_role["box"] for i in range(layer.x.size)]
    if len(boxes) == 1:
        layer, _ = boxes[0]
        axis = scene.up if layer.upright else scene.across
        median, q1, q3 = (layer.y if layer.upright else layer.x)[0], layer.q1[0], layer.q3[0]
        below, above = median - layer.low[0], layer.high[0] - median
        tail = "the high" if above > _LONGER * below else "the low" if below > _LONGER * above else ""
        longer = f"; the longer tail is on {tail} side" if tail else ""
        yield f"Median {_at(axis, median)}, half between {_at(axis, q1)} and {_at(axis, q3)}{longer}."
    elif boxes:
        values = [(layer.y if layer.upright else layer.x)[i] for layer, i in boxes]
        yield from _extremes(scene, boxes, values, "median")


def _bars(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """The highest and the lowest centre; where a line says what no difference is, how many bars lie beside it."""
    bars = [(layer, i) for layer in by_role["bars"] for i in range(layer.x.size)]
    if not bars:
        return
    values = [float((layer.y if layer.upright else layer.x)[i]) for layer, i in bars]
    if len(bars) > 1:
        yield from _extremes(scene, bars, values, "centre")
    upright = bars[0][0].upright
    lines = [(layer.y if upright else layer.x) for layer in by_role["limits"]]
    lines = [line for line in lines if line.size and np.ptp(line) == 0]
    if len(lines) == 1 and (scene.across if upright else scene.up).kind == "levels":
        none = float(lines[0][0])
        ends = [(float(layer.low[i]), float(layer.high[i])) for layer, i in bars]
        above, below = sum(low > none for low, _ in ends), sum(high < none for _, high in ends)
        axis = scene.up if upright else scene.across
        holding = len(ends) - above - below
        yield (
            f"Of {counted(len(ends), 'bar')} {above} lie above {_at(axis, none)}, {below} below it, and {holding} "
            f"{'holds' if holding == 1 else 'hold'} it."
        )


def _extremes(scene: Scene, marks: list[tuple[Layer, int]], values: list[float], what: str) -> Iterator[str]:
    finite = [i for i, value in enumerate(values) if np.isfinite(value)]
    if len(finite) < 2:
        return
    axis = scene.up if marks[0][0].upright else scene.across
    low, high = min(finite, key=values.__getitem__), max(finite, key=values.__getitem__)
    if values[low] == values[high]:
        yield f"All {len(finite)} stand alike: {what} {_at(axis, values[low])}."
        return
    told = [f"{_name(scene, *marks[i])} {_at(axis, values[i])}" for i in (high, low)]
    yield f"The highest {what}: {told[0]}; the lowest: {told[1]}."


def _name(scene: Scene, layer: Layer, i: int) -> str:
    """What a mark among groups is called: its level, and its series where that is another."""
    along, at = (scene.across, layer.x[i]) if layer.upright else (scene.up, layer.y[i])
    label = next((series.label for series in scene.series if series.key == layer.series), "")
    if along.kind != "levels":
        return label or _at(along, float(at))
    place = int(min(max(round(float(at)), 0), len(along.levels) - 1))
    level = along.levels[place] if along.levels else ""
    return level if label in ("", level) else f"{level} {label}".strip()


def _lines(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """From where to where lines that join centres go."""
    for layer in by_role["joined"][:_MOST_SERIES] if not by_role["points"] and not by_role["beyond"] else ():
        values = layer.y if layer.upright else layer.x
        values = values[np.isfinite(values)]
        if values.size < 2:
            continue
        axis = scene.up if layer.upright else scene.across
        first, last = float(values[0]), float(values[-1])
        steps = np.diff(values)
        straight = "all the way " if (steps >= 0).all() or (steps <= 0).all() else ""
        way = "rises" if last > first else "falls" if last < first else "ends as it began"
        of = _of(scene, layer) or "the line "
        yield f"{of.replace(': ', ' ')}{way} {straight}from {_at(axis, first)} to {_at(axis, last)}."


def _clouds(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """How points rise or fall along the other axis, by rank; where pairs lie thickest."""
    both = [layer for role in ("points", "beyond", "counted") for layer in by_role[role] if layer.strip is None]
    if both and {scene.across.kind, scene.up.kind} <= {"number", "time"}:
        for key in list(dict.fromkeys(layer.series for layer in both))[:_MOST_SERIES]:
            mine = [layer for layer in both if layer.series == key]
            x = np.concatenate([layer.x for layer in mine])
            y = np.concatenate([layer.y for layer in mine])
            in_order = bool(by_role["fit"]) and bool((np.diff(y[np.argsort(x, kind="stable")]) >= 0).all())
            if not in_order:  # those of a Q-Q plot are, however they lie
                yield f"{_of(scene, mine[0])}{_trend(x, y)}."
    for layer in by_role["tiles"]:
        if layer.value.size and layer.high_x.size:
            most = int(np.nanargmax(layer.value))
            x, y = (layer.x[most] + layer.high_x[most]) / 2, (layer.y[most] + layer.high_y[most]) / 2
            yield f"Thickest near {_at(scene.across, x)} across and {_at(scene.up, y)} up."


def _trend(x: Floats, y: Floats) -> str:
    known = np.isfinite(x) & np.isfinite(y)
    x, y = x[known], y[known]
    if x.size < 3 or np.ptp(x) == 0 or np.ptp(y) == 0:
        return f"{counted(x.size, 'point')}, too few different ones for a trend"
    rho = float(np.corrcoef(rankdata(x), rankdata(y))[0, 1])
    strength = next(word for limit, word in _TREND if abs(rho) < limit)
    if not strength:
        return f"points neither rise nor fall from left to right (rank correlation {significant(rho, 2)})"
    way = "rise" if rho > 0 else "fall"
    return f"points {way} {strength} from left to right (rank correlation {significant(rho, 2)})"


def _off_the_line(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """On which side of a straight line points end, as those of a Q-Q plot do."""
    lines = [layer for layer in by_role["fit"] if layer.x.size == 2 and np.ptp(layer.x) > 0]
    if len(lines) != 1 or len(by_role["points"]) != 1 or by_role["points"][0].x.size < 20:
        return
    line, points = lines[0], by_role["points"][0]
    slope = np.diff(line.y)[0] / np.diff(line.x)[0]
    off = points.y - (line.y[0] + slope * (points.x - line.x[0]))
    order = np.argsort(points.x)
    few = max(points.x.size // 20, 1)
    low, high = float(np.median(off[order[:few]])), float(np.median(off[order[-few:]]))
    sides = ["above" if side > 0 else "below" for side in (low, high)]
    yield f"At the low end the points lie {sides[0]} the line, at the high end {sides[1]} it."


def _beyond(scene: Scene, by_role: dict[str, list[Layer]]) -> Iterator[str]:
    """How many points are ringed, and the farthest of them."""
    layers = by_role["beyond"]
    n = sum(layer.x.size for layer in layers)
    if n == 0:
        return
    upright = layers[0].upright
    axis = scene.up if upright else scene.across
    values = np.concatenate([layer.y if upright else layer.x for layer in layers])
    rows = np.concatenate([layer.rows for layer in layers])
    low, high = int(np.argmin(values)), int(np.argmax(values))
    told = [f"{_at(axis, float(values[i]))}{f' (row {rows[i]})' if rows.size == n else ''}" for i in (low, high)]
    reach = f"from {told[0]} to {told[1]}" if n > 1 else f"at {told[0]}"
    yield f"{counted(n, 'point is', 'points are')} ringed, {reach}."


def _of(scene: Scene, layer: Layer) -> str:
    label = next((series.label for series in scene.series if series.key == layer.series), layer.series)
    return f"{label}: " if label else ""


def _at(axis: Axis, value: float) -> str:
    """A place on an axis in words: its level, its day, or its number with the unit."""
    if axis.kind == "levels":
        place = round(float(value))
        return axis.levels[place] if 0 <= place < len(axis.levels) else significant(value, _DIGITS)
    if axis.kind == "time":
        moment = str(np.datetime64(round(float(value) * 86_400), "s")).replace("T", " ")
        return moment[:-3] if axis.high - axis.low <= _DAYS_WITH_HOURS else moment.partition(" ")[0]
    return f"{significant(float(value), _DIGITS)}{f' {axis.unit}' if axis.unit else ''}"
