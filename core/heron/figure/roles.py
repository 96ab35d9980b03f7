"""The roles of marks: one record for each, with its names in sentences."""

from dataclasses import dataclass
from typing import Literal

from heron.choices import Display, by_id

Role = Literal[
    "points", "beyond", "classes", "density", "normal", "box", "bars", "from zero", "violin", "joined", "pairs", "fit",
    "median line", "smooth", "band", "steps", "polygon", "tiles", "limits", "rug", "answers", "combined", "values",
    "bumps", "piled", "quartiles", "mean", "fences", "limited", "level lines", "run", "jumps",
    "rule limits", "stepped limits", "contours", "counted", "enclosed", "one more", "point bars",
]  # fmt: skip


@dataclass(frozen=True, kw_only=True)
class MarkRole(Display):
    """What marks are of. label: all of them, in the plate editor; drawn: what a figure is drawn as, for its alternative
    text; one, many: one mark of it, and several, where they are counted; endless: whether it goes on where nothing was
    seen, so that an axis ends it by right."""

    drawn: str
    one: str
    many: str
    endless: bool


def _role(
    identity: Role, label: str, drawn: str, one: str = "mark", many: str = "marks", *, endless: bool = False
) -> MarkRole:
    return MarkRole(id=identity, label=label, drawn=drawn, one=one, many=many, endless=endless)


ROLES: dict[str, MarkRole] = by_id(
    (
        _role("points", "points", "points", "point", "points"),
        _role("beyond", "ringed points", "ringed points beyond a limit", "ringed point", "ringed points"),
        _role("classes", "classes", "a histogram", "class", "classes"),
        _role("density", "densities", "a density curve", "curve", "curves"),
        _role("normal", "normal curves", "a normal curve", endless=True),
        _role("box", "boxes", "box plots", "box", "boxes"),
        _role("bars", "centres with bars", "centres with bars", "bar", "bars"),
        _role("point bars", "bars of points", "points with bars", "bar", "bars"),
        _role("from zero", "bars from zero", "bars from zero", "bar from zero", "bars from zero"),
        _role("violin", "violins", "violins", "density", "densities"),
        _role("joined", "joining lines", "a joined line", "joined line", "joined lines"),
        _role("pairs", "lines of pairs", "thin lines that join pairs", endless=True),
        _role("fit", "fitted lines", "a fitted line", endless=True),
        _role("median line", "Theil-Sen lines", "a Theil-Sen line", endless=True),
        _role("smooth", "lowess curves", "a lowess curve", endless=True),
        _role("band", "bands", "a band", endless=True),
        _role("steps", "steps", "steps of a distribution function", "line of steps", "lines of steps"),
        _role("polygon", "polygons", "a polygon of shares", "polygon", "polygons"),
        _role("tiles", "shaded cells", "shades of where pairs lie thickest", "cell", "cells"),
        _role("limits", "limit lines", "limit lines", endless=True),
        _role("stepped limits", "limits of each point", "limits of each point", endless=True),
        _role("rug", "rugs", "a rug", "line of the rug", "lines of the rug"),
        _role("answers", "parts of bars", "stacked bars", "part", "parts"),
        _role("combined", "combined estimates", "combined estimates", "combined estimate", "combined estimates"),
        _role("values", "values written out", "values written out", endless=True),
        _role("bumps", "bumps", "a bump for each row", endless=True),
        _role("piled", "piled bumps", "bumps laid one on the other", endless=True),
        _role("quartiles", "quartiles of violins", "quartiles"),
        _role("mean", "means of boxes", "a mean", "mean", "means"),
        _role("fences", "fences", "fences", endless=True),
        _role("limited", "open points", "open points below a limit", "open point", "open points"),
        _role("level lines", "median and quartiles", "lines at the median and the quartiles", endless=True),
        _role("run", "the shaded run", "a shaded run", endless=True),
        _role("jumps", "rings of jumps", "ringed jumps", "ringed jump", "ringed jumps"),
        _role("rule limits", "limits of rules", "limits of rules", endless=True),
        _role("contours", "contours", "contours", endless=True),
        _role("counted", "points that count", "points that count pairs", "place", "places"),
        _role("enclosed", "areas that enclose shares", "areas that enclose shares of the pairs"),
        _role("one more", "bands of one more value", "a band of one more value", endless=True),
    )
)
