"""Colours of series, and whether readers can tell them apart: those with full colour vision, without one kind of cone,
and those who have a copy in grey."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations
from pathlib import Path
from typing import Any

import numpy as np

from heron.checks import Floats

# Machado, Oliveira and Fernandes (2009), severity 1, for linear sRGB.
VIEWS: dict[str, tuple[tuple[float, float, float], ...]] = {
    "protan": ((0.152286, 1.052583, -0.204868), (0.114503, 0.786281, 0.099216), (-0.003882, -0.048116, 1.051998)),
    "deutan": ((0.367322, 0.860646, -0.227968), (0.280085, 0.672501, 0.047413), (-0.011820, 0.042940, 0.968881)),
    "tritan": ((1.255528, -0.076749, -0.178779), (-0.078411, 0.930809, 0.147602), (0.004733, 0.691367, 0.303900)),
    "grey": ((0.2126, 0.7152, 0.0722),) * 3,
}
VIEW_WORDS = {
    "protan": "readers without red cones",
    "deutan": "readers without green cones",
    "tritan": "readers without blue cones",
    "grey": "a copy in grey",
}
# Shapes, dashes and ramps, which every renderer reads.
LOOK: dict[str, Any] = json.loads((Path(__file__).parent / "look.json").read_text(encoding="utf-8"))
# Two marks of a few points across are told apart at sight from about this difference on.
LEAST = 8.0
_WHITE = np.array([0.95047, 1.0, 1.08883])
_TO_XYZ = np.array(
    [[0.4124564, 0.3575761, 0.1804375], [0.2126729, 0.7151522, 0.0721750], [0.0193339, 0.1191920, 0.9503041]]
)


@dataclass(frozen=True)
class ColourSet:
    """Colours of series in their order. views: in which of "protan", "deutan", "tritan" and "grey" the first `sure` of
    them are told apart (CIEDE2000 of at least 8)."""

    name: str
    words: str
    colours: tuple[str, ...]
    fills: tuple[str, ...]


SETS: tuple[ColourSet, ...] = (
    ColourSet(
        "notebook",
        "the colours of the stages",
        ("#427798", "#702751", "#AE8325", "#4E6018", "#AE6246", "#638C8C", "#554B7C", "#6E5C50"),
        ("#CEE3F2", "#F3D6E4", "#FEF0D6", "#DBE4CB", "#F5D9CE", "#D6EEED", "#E0DCF3", "#ECDCD2"),
    ),
    ColourSet(
        "dusk to dawn",
        "from dark to light, apart in grey too",
        ("#2E1B3C", "#7A2E55", "#3F7DA3", "#C08A3E", "#92BFBD", "#F0E4BA"),
        ("#CFC8D6", "#E6CFDA", "#D2E1EB", "#F0E2CD", "#E6F1F0", "#F8F2DF"),
    ),
    ColourSet(
        "graphite",
        "ink alone, for print in grey",
        ("#1F1A24", "#6B6670", "#A39DA8", "#D0CBD3"),
        ("#8F8A94", "#BDB8C1", "#DAD6DD", "#EFEDF0"),
    ),
)


def of_rank(rank: float, ramp: str, style_colours: str) -> str:
    """The colour of a rank along a ramp, from 0 to 1; in print without colour, a share of ink."""
    steps = ["#FFFFFF", "#1F1A24"] if style_colours == "graphite" else LOOK["ramps"][ramp]
    share = 0.1 + 0.8 * rank if style_colours == "graphite" else rank
    at = min(max(share, 0.0), 1.0) * (len(steps) - 1)
    low = min(int(at), len(steps) - 2)
    ends = [[int(step[i : i + 2], 16) for i in (1, 3, 5)] for step in steps[low : low + 2]]
    return "#" + "".join(f"{round(a + (b - a) * (at - low)):02x}" for a, b in zip(*ends, strict=True))


def linear(colour: str) -> Floats:
    """The linear sRGB of a colour written as #rrggbb, from 0 to 1."""
    coded = np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)]) / 255
    return np.where(coded <= 0.04045, coded / 12.92, ((coded + 0.055) / 1.055) ** 2.4)


def lab(rgb: Floats) -> Floats:
    """CIE L*a*b* (D65) of linear sRGB."""
    t = _TO_XYZ @ np.clip(rgb, 0, 1) / _WHITE
    f = np.where(t > 216 / 24389, np.cbrt(t), (24389 / 27 * t + 16) / 116)
    return np.array([116 * f[1] - 16, 500 * (f[0] - f[1]), 200 * (f[1] - f[2])])


def difference(a: Floats, b: Floats) -> float:
    """CIEDE2000 of two colours in L*a*b* (Sharma, Wu and Dalal 2005)."""
    c_mean = (np.hypot(a[1], a[2]) + np.hypot(b[1], b[2])) / 2
    g = 0.5 * (1 - np.sqrt(c_mean**7 / (c_mean**7 + 25.0**7)))
    (a1, b1), (a2, b2) = ((1 + g) * a[1], a[2]), ((1 + g) * b[1], b[2])
    c1, c2 = np.hypot(a1, b1), np.hypot(a2, b2)
    h1, h2 = (np.degrees(np.arctan2(y, x)) % 360 for x, y in ((a1, b1), (a2, b2)))
    grey = c1 * c2 == 0
    dh = 0.0 if grey else (h2 - h1 + 180) % 360 - 180
    d_hue = 2 * np.sqrt(c1 * c2) * np.sin(np.radians(dh / 2))
    l_mean, c_bar = (a[0] + b[0]) / 2, (c1 + c2) / 2
    over_zero = 360 if abs(h1 - h2) > 180 else 0
    h_mean = h1 + h2 if grey else (h1 + h2 + over_zero) / 2 % 360
    t = (
        1 - 0.17 * np.cos(np.radians(h_mean - 30)) + 0.24 * np.cos(np.radians(2 * h_mean))
        + 0.32 * np.cos(np.radians(3 * h_mean + 6)) - 0.20 * np.cos(np.radians(4 * h_mean - 63))
    )  # fmt: skip
    s_l = 1 + 0.015 * (l_mean - 50) ** 2 / np.sqrt(20 + (l_mean - 50) ** 2)
    s_c, s_h = 1 + 0.045 * c_bar, 1 + 0.015 * c_bar * t
    turn = 30 * np.exp(-(((h_mean - 275) / 25) ** 2))
    r = -np.sin(np.radians(2 * turn)) * 2 * np.sqrt(c_bar**7 / (c_bar**7 + 25.0**7))
    parts = (b[0] - a[0]) / s_l, (c2 - c1) / s_c, d_hue / s_h
    return float(np.sqrt(parts[0] ** 2 + parts[1] ** 2 + parts[2] ** 2 + r * parts[1] * parts[2]))


def seen(colour: str, view: str) -> Floats:
    """A colour as it is seen in a view, in L*a*b*; "" for full colour vision."""
    rgb = linear(colour)
    return lab(np.array(VIEWS[view]) @ rgb if view else rgb)


@dataclass(frozen=True)
class Merged:
    """Two series, by their places in the list, that cannot be told apart by colour in a view ("" for all readers)."""

    first: int
    second: int
    view: str
    difference: float


def merged(colours: Sequence[str]) -> list[Merged]:
    """The pairs of colours that merge for some readers."""
    result = []
    for view in ("", *VIEWS):
        # Many series repeat few colours.
        shown = {colour: seen(colour, view) for colour in colours}
        apart = {(a, b): difference(shown[a], shown[b]) for a in shown for b in shown}
        for i, j in combinations(range(len(colours)), 2):
            distance = apart[colours[i], colours[j]]
            if distance < LEAST:
                result.append(Merged(i, j, view, distance))
    return result
