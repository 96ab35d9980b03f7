"""What a figure shows, in data units: axes, layers of marks, series, and the facts that its caption tells.

A scene knows no colours, no millimetres and no type: a specification adds those.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from heron.checks import Floats, Ints
from heron.figure.roles import Role

Ramp = Literal["sequential", "alternate", "ember", "lagoon", "ink"]
Form = Literal["points", "line", "area", "blocks", "hexagons", "interval", "box", "words"]
Scale = Literal["linear", "log10"]


def _none() -> Floats:
    return np.empty(0)


def _nobody() -> Ints:
    return np.empty(0, dtype=np.int64)


@dataclass(frozen=True)
class Axis:
    """One axis of a scene. title: in the variable's words, with its unit apart. low, high: what its marks reach, with a
    little air. levels: stand at 0, 1, 2 ...; counts: how many values each has. strips: rooms below
    its low end for marks without a height, the nearest first, each so many sizes of type thick; they fill a bare axis.
    mirrored: what stands below 0 is written without its sign. from_zero: bars reach from zero, so that cutting it off
    misleads. lost: values that a logarithmic axis cannot show. above_zero: the smallest value above 0, from which
    a logarithmic axis can begin; 0 where there is none. kind "time": days since 1970."""

    title: str
    unit: str = ""
    kind: Literal["number", "levels", "time", "bare"] = "number"
    scale: Scale = "linear"
    low: float = 0.0
    high: float = 1.0
    levels: tuple[str, ...] = ()
    counts: tuple[int, ...] = ()
    heads: tuple[int, ...] = ()
    beside: tuple[str, ...] = ()
    strips: tuple[float, ...] = ()
    mirrored: bool = False
    from_zero: bool = False
    lost: int = 0
    above_zero: float = 0.0

    def over(self, values: Sequence[Floats], share: float = 0.03) -> "Axis":
        """The axis with ends that leave a little air about values."""
        low, high = aired(values, share, self.scale)
        return replace(self, low=low, high=high, above_zero=least_above_zero(values))


@dataclass(frozen=True)
class Layer:
    """Marks of one form for one series ("" where there are none). All arrays have the length of x or are empty.

    points: x, y, rows (from 1); size: of each, from 0 to 1. line, area: x, y, NaN between parts. blocks: x to high_x, y
    to high_y; value: what its shade says. hexagons: likewise, each standing on a corner within these ends. interval: x,
    y, and low to high along the values. box: likewise with q1, q3 and y the median. words: texts beside x, y, clear of
    what reaches from low to high. upright: whether values stand on the axis that goes up; width: of boxes and caps, in
    units of the other axis. strip: the room in which marks without a height stand, their places there from -0.5 to 0.5;
    notch_low, notch_high: where boxes are drawn in about their medians; far: which points lie beyond an outer fence.
    aside_x, aside_y: by how much points are drawn beside their place, so that each is seen."""

    form: Form
    role: Role
    series: str = ""
    x: Floats = field(default_factory=_none)
    y: Floats = field(default_factory=_none)
    high_x: Floats = field(default_factory=_none)
    high_y: Floats = field(default_factory=_none)
    low: Floats = field(default_factory=_none)
    high: Floats = field(default_factory=_none)
    q1: Floats = field(default_factory=_none)
    q3: Floats = field(default_factory=_none)
    value: Floats = field(default_factory=_none)
    size: Floats = field(default_factory=_none)
    notch_low: Floats = field(default_factory=_none)
    notch_high: Floats = field(default_factory=_none)
    far: Floats = field(default_factory=_none)
    aside_x: Floats = field(default_factory=_none)
    aside_y: Floats = field(default_factory=_none)
    rows: Ints = field(default_factory=_nobody)
    texts: tuple[str, ...] = ()
    width: float = 0.0
    upright: bool = True
    caps: bool = False
    strip: int | None = None


@dataclass(frozen=True)
class SceneSeries:
    """Marks that belong together. place: among the colours and shapes, the same in every stage; rank: along the ramp of
    the scene, from 0 to 1, where series have an order."""

    key: str
    label: str
    place: int
    n: int
    rank: float | None = None


@dataclass(frozen=True)
class Lane:
    """Room of one group on the axis that groups stand along. group: its place among the groups of its reading; level:
    the place of its level among those drawn; label: its levels; value: of its centre, NaN where it has none."""

    group: int
    level: int
    label: str
    at: float
    width: float
    value: float


@dataclass(frozen=True)
class Number:
    """A number that the figure stands on, by name: for number slips, and to say what moved."""

    name: str
    value: float
    unit: str = ""
    digits: int = 4


@dataclass(frozen=True)
class Facts:
    """What the words of a figure are made of. subject: what is shown, without a full stop; named: words in it for what
    stands "across", "up" or as "series", in whose place a title typed for these stands. marks: a sentence on each kind
    of mark; unmarked: rows beyond the whiskers of boxes that no mark shows; bars: the name of what bars are, "" for
    none. notes: scale, bandwidth, equation, tests. n: (label, n) of each group, or one with "". aside: how many rows
    are set aside, by the numbers of their entries in the Ledger. missing: rows without a value, codes: why, with how
    many each. weighted: the variable that says how often each row counts. sampled: how many rows, drawn at random, all
    of this is told from; 0 where it is told from all."""

    subject: str
    marks: tuple[str, ...] = ()
    bars: str = ""
    notes: tuple[str, ...] = ()
    n: tuple[tuple[str, int], ...] = ()
    counts_of: str = ""
    missing: int = 0
    codes: tuple[tuple[str, int], ...] = ()
    weighted: str = ""
    aside: int = 0
    entries: tuple[int, ...] = ()
    cannot: tuple[str, ...] = ()
    named: tuple[tuple[str, str], ...] = ()
    unmarked: int = 0
    sampled: int = 0


@dataclass(frozen=True)
class Scene:
    """A figure in data units. lanes: where its groups stand; ramp: of series that have an order.
    told_by_place: series stand apart and are named where they stand, so that colour says nothing that place does not;
    values_title, values_low, values_high, values_scale, values_ramp: of the shade of tiles; counts stand in steps of
    equal ratio from 1. sizes_title: what the area of points tells, sizes_high: of the largest, sizes_room: the
    share of the data area that it may be wide, 0 for any. equations: lines in the
    upper left corner, powers as in TeX."""

    across: Axis
    up: Axis
    layers: tuple[Layer, ...]
    facts: Facts
    series: tuple[SceneSeries, ...] = ()
    series_title: str = ""
    told_by_place: bool = False
    numbers: tuple[Number, ...] = ()
    lanes: tuple[Lane, ...] = ()
    ramp: Literal["", "sequential", "alternate", "ember", "lagoon", "ink", "diverging"] = ""
    values_title: str = ""
    values_low: float = 0.0
    values_high: float = 1.0
    values_scale: Scale = "linear"
    values_ramp: Ramp = "sequential"
    sizes_title: str = ""
    sizes_high: float = 1.0
    sizes_room: float = 0.0
    equations: tuple[str, ...] = ()


def least_above_zero(values: Sequence[Floats]) -> float:
    """The smallest finite value above 0; 0 where there is none."""
    result = np.concatenate([np.asarray(value, dtype=np.float64).ravel() for value in values] or [np.empty(0)])
    result = result[np.isfinite(result) & (result > 0)]
    return float(result.min()) if result.size else 0.0


def aired(values: Sequence[Floats], share: float = 0.03, scale: Scale = "linear") -> tuple[float, float]:
    """Ends of an axis that leave a little air about all finite values; equal ratios on a logarithmic one."""
    result = np.concatenate([np.asarray(value, dtype=np.float64).ravel() for value in values] or [np.empty(0)])
    result = result[np.isfinite(result) & ((result > 0) | (scale == "linear"))]
    if result.size == 0:
        return (1.0, 10.0) if scale == "log10" else (0.0, 1.0)
    low, high = float(result.min()), float(result.max())
    if scale == "log10":
        ratio = 1.5 if low == high else 10 ** ((np.log10(high) - np.log10(low)) * share)
        with np.errstate(over="ignore", under="ignore"):
            return max(float(low / ratio), 5e-324), min(float(high * ratio), float(np.finfo(float).max))
    most = float(np.finfo(float).max)
    if low == high:
        half = abs(low) * 1e-3 if abs(low) > 1e15 else 0.5
        return max(low - half, -most), min(high + half, most)
    air = (high / 2 - low / 2) * 2 * share
    return max(low - air, -most), min(high + air, most)


def turned_layer(layer: Layer) -> Layer:
    """A layer whose axes change places."""
    return replace(
        layer, x=layer.y, y=layer.x, high_x=layer.high_y, high_y=layer.high_x, aside_x=layer.aside_y,
        aside_y=layer.aside_x, upright=not layer.upright,
    )  # fmt: skip


def turned(scene: Scene) -> Scene:
    """The same figure with its values going across: both axes change places, and every mark with them."""

    other = {"across": "up", "up": "across"}
    facts = replace(scene.facts, named=tuple((other.get(which, which), words) for which, words in scene.facts.named))
    return replace(scene, across=scene.up, up=scene.across, layers=tuple(map(turned_layer, scene.layers)), facts=facts)


def drawn_at(layer: Layer) -> tuple[Floats, Floats]:
    """Where its marks are drawn, across and up: at their places, or beside them."""
    return (
        layer.x + layer.aside_x if layer.aside_x.size else layer.x,
        layer.y + layer.aside_y if layer.aside_y.size else layer.y,
    )


def extents(layer: Layer) -> tuple[Floats, Floats, Floats, Floats]:
    """Of each mark, what it touches: its lowest and highest place across, and up. A line or an area is one mark. Where
    in its strip a mark stands, it touches nothing."""
    if layer.strip is not None:
        result = list(extents(replace(layer, strip=None)))
        nothing = np.full(result[0].size, np.nan)
        first = 0 if layer.upright else 2
        result[first : first + 2] = nothing, nothing
        return result[0], result[1], result[2], result[3]
    x, y = drawn_at(layer)
    if layer.form in ("line", "area"):
        return tuple(np.array([end]) for ends in map(_ends, (x, y)) for end in ends)  # type: ignore[return-value]
    ends = [x, layer.high_x if layer.high_x.size else x, y, layer.high_y if layer.high_y.size else y]
    along, other = (2, 0) if layer.upright else (0, 2)
    for each in (layer.low, layer.high) if layer.form in ("interval", "box") else ():
        if each.size:
            ends[along], ends[along + 1] = np.fmin(ends[along], each), np.fmax(ends[along + 1], each)
    if layer.form == "box":
        ends[other], ends[other + 1] = ends[other] - layer.width / 2, ends[other + 1] + layer.width / 2
    return np.fmin(ends[0], ends[1]), np.fmax(ends[0], ends[1]), np.fmin(ends[2], ends[3]), np.fmax(ends[2], ends[3])


def _ends(values: Floats) -> tuple[float, float]:
    known = values[np.isfinite(values)]
    return (float(known.min()), float(known.max())) if known.size else (np.nan, np.nan)


def reach(layer: Layer) -> tuple[Floats, Floats]:
    """Everything that the marks of a layer touch, across and up, NaN left in; nothing along a strip's own way."""
    if layer.strip is not None:
        across_, up_ = reach(replace(layer, strip=None))
        return (np.empty(0), up_) if layer.upright else (across_, np.empty(0))
    along = np.concatenate((layer.low, layer.high))
    x, y = drawn_at(layer)
    across = [x, layer.high_x]
    up = [y, layer.high_y]
    (up if layer.upright else across).append(along)
    if layer.width and layer.x.size:
        other, middle = (across, layer.x) if layer.upright else (up, layer.y)
        other.append(np.concatenate((middle - layer.width / 2, middle + layer.width / 2)))
    return np.concatenate(across), np.concatenate(up)
