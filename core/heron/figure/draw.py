"""Scenes drawn by matplotlib: for scripts that travel with a study, and for reports that no page drew figures for."""

import io
import re
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path as FilePath
from typing import IO, Any

import matplotlib as mpl
import numpy as np
from matplotlib.collections import LineCollection, PatchCollection
from matplotlib.colors import ListedColormap, LogNorm
from matplotlib.figure import Figure
from matplotlib.font_manager import FontProperties, fontManager
from matplotlib.patches import PathPatch, Polygon, Rectangle
from matplotlib.path import Path
from matplotlib.ticker import FuncFormatter, MultipleLocator, ScalarFormatter

from heron.figure.colours import LOOK, of_rank
from heron.figure.scene import Axis, Layer, Scene, drawn_at
from heron.figure.styles import colour_of
from heron.figure.words import letters
from heron.formatting import numbers_as, significant, with_marks

_MM = 1 / 25.4
_MARKERS = {
    "disc": "o",
    "square": "s",
    "triangle": "^",
    "diamond": "D",
    "triangle down": "v",
    "cross": "P",
    "star": "*",
    "wye": "1",
}
_SHAPES = [_MARKERS[name] for name in LOOK["shapes"]]
_DASHES: list[Any] = [(0, tuple(map(float, dash.split()))) if dash else "-" for dash in LOOK["dashes"]]
_ROLE_DASHES: dict[str, Any] = {
    role: (0, tuple(map(float, dash.split()))) for role, dash in LOOK["role_dashes"].items()
}
_GROUND = (1.0, 1.0, 1.0, 0.82)  # of a box, through which points are still seen
_INK = {"limits": 1, "joined": 1, "pairs": 1}


def draw(document: Mapping[str, Any], scenes: Sequence[Scene], *into: FilePath | IO[bytes], caption: str = "") -> None:
    """Draw the panels of a plate on one sheet of its size into files, or as a PNG; a caption is kept with them."""
    family = "DejaVu Serif" if document["style"]["font"] == "serif" else "DejaVu Sans"
    with mpl.rc_context({"svg.fonttype": "none"}), _drawn(document, scenes, family) as figure:
        for path in into:
            titled = not isinstance(path, FilePath) or path.suffix in (".pdf", ".png")
            figure.savefig(path, dpi=300, metadata={"Title": caption[:200]} if titled else None)
            figure.set_layout_engine("none")  # where everything stands is the same in each


def svg_of(document: Mapping[str, Any], scenes: Sequence[Scene], faces: Mapping[str, FilePath]) -> str:
    """The same as SVG whose letters are outlines. faces: files of type, "serif" and "sans"."""
    type_file = faces[document["style"]["font"]]
    fontManager.addfont(type_file)
    family = FontProperties(fname=type_file).get_name()
    sink = io.BytesIO()
    outlines: Any = {"svg.fonttype": "path", "svg.hashsalt": "heron"}
    with mpl.rc_context(outlines), _drawn(document, scenes, family) as figure:
        figure.savefig(sink, format="svg", metadata={"Date": None})
    return sink.getvalue().decode()


@contextmanager
def _drawn(document: Mapping[str, Any], scenes: Sequence[Scene], family: str) -> Iterator[Figure]:
    """The sheet with its panels, to be saved while numbers are written as the document says."""
    sheet, style = document["sheet"], document["style"]
    columns = min(sheet["columns"], len(scenes))
    lines = -(-len(scenes) // columns)
    settings: Any = {
        "font.family": family, "font.size": style["type_size"], "axes.labelsize": style["title_size"],
        "axes.linewidth": style["axis_line"], "text.color": style["ink"], "axes.edgecolor": style["ink"],
        "axes.labelcolor": style["ink"], "xtick.color": style["ink"], "ytick.color": style["ink"],
        "xtick.direction": style["ticks"], "ytick.direction": style["ticks"],
        "pdf.fonttype": 42, "lines.scale_dashes": False,
    }  # fmt: skip
    with mpl.rc_context(settings), numbers_as(document["numbers"]):
        figure = Figure(
            figsize=(sheet["width"] * _MM, sheet["height"] * _MM), facecolor=style["paper"], layout="constrained"
        )
        axes = figure.subplots(
            lines, columns, squeeze=False, sharex=sheet["share_across"], sharey=sheet["share_up"],
            height_ratios=heights_of(sheet, lines),
        ).ravel()  # fmt: skip
        named = letters(len(scenes), sheet["letters"])
        for panel_index, (panel, scene) in enumerate(zip(document["panels"], scenes, strict=True)):
            _panel(axes[panel_index], panel, scene, style)
            if named[panel_index]:
                axes[panel_index].set_title(
                    named[panel_index], loc="left", fontsize=style["letter_size"], fontweight="bold"
                )
            if panel["title"]:
                axes[panel_index].set_title(_typeset(panel["title"]), fontsize=style["title_size"])
        for spare in axes[len(scenes) :]:
            spare.remove()
        if sheet["title"]:
            figure.suptitle(_typeset(sheet["title"]))
        yield figure


def heights_of(sheet: Mapping[str, Any], n: int) -> list[float]:
    """How high the rows of a sheet are beside each other."""
    said = list(sheet.get("heights", ()))[:n]
    return [*said, *(1.0 for _ in range(n - len(said)))]


def _panel(ax: Any, panel: Mapping[str, Any], scene: Scene, style: Mapping[str, Any]) -> None:
    scene, shares = _settled(scene, panel, style, ax)
    places = {series.key: series.place for series in scene.series}
    ranks = {series.key: series.rank for series in scene.series}
    for layer in scene.layers:
        settings = {**panel["marks"].get(layer.role, {}), **_given(panel["series"].get(layer.series, {}))}
        if settings.get("hidden"):
            continue
        series_index = places.get(layer.series, 0)
        colour = colour_of(dict(style), series_index, settings.get("colour"))
        if layer.role in _INK or layer.form == "words":
            colour = settings.get("colour") or style["ink"]
        rank = ranks.get(layer.series)
        if rank is not None and scene.ramp and not settings.get("colour"):
            colour = of_rank(rank, scene.ramp, style["colours"])
        _layer(ax, layer, colour, settings, series_index, style, scene)
    for side, axis, name in (("across", scene.across, "x"), ("up", scene.up, "y")):
        _axis(ax, axis, panel[side], name, shares[side])
    for series_index, text in enumerate(scene.equations):
        ax.annotate(_typeset(text), (0, 1), (4, -4 - 1.3 * style["type_size"] * series_index), xycoords="axes fraction",
                    textcoords="offset points", va="top", color=style["ink"], zorder=10)  # fmt: skip
    if style["frame"] == "open":
        ax.spines[["top", "right"]].set_visible(False)
    if style["gridlines"]:
        ax.grid(visible=True, linewidth=0.4, alpha=0.5)
    for piece in panel["furniture"]:
        _furniture(ax, piece, scene, style)
    legend = panel["legend"]
    wanted = legend["shown"] == "yes" or (legend["shown"] == "auto" and not scene.told_by_place)
    if wanted and len(scene.series) > 1:
        chosen = [(panel["series"].get(series.key) or {}).get("colour") for series in scene.series]
        colours = [
            of_rank(series.rank, scene.ramp, style["colours"])
            if series.rank is not None and scene.ramp and not settings
            else colour_of(dict(style), series.place, settings)
            for series, settings in zip(scene.series, chosen, strict=True)
        ]
        handles = [Rectangle((0, 0), 1, 1, color=colour) for colour in colours]
        names = [
            _typeset((panel["series"].get(series.key) or {}).get("name") or series.label) for series in scene.series
        ]
        ax.legend(
            handles, names, title=_typeset(legend["title"] or scene.series_title), frameon=False, fontsize="small"
        )


_MOST_OF_STRIPS = 0.42


def _settled(
    scene: Scene, panel: Mapping[str, Any], style: Mapping[str, Any], ax: Any
) -> tuple[Scene, dict[str, float]]:
    """The scene with what stands in strips beneath the low ends of their axes, and the share of each that they take."""
    shares = {}
    for side in ("across", "up"):
        scene, shares[side] = _with_strips(scene, side, panel, style, ax)
    return scene, shares


def _with_strips(
    scene: Scene, side: str, panel: Mapping[str, Any], style: Mapping[str, Any], ax: Any
) -> tuple[Scene, float]:
    axis = getattr(scene, side)
    if not axis.strips:
        return scene, 0.0
    first_strip = len(scene.across.strips) if side == "up" else 0
    low, high = _ends(axis, panel[side])
    log = axis.scale != "linear" and low > 0
    if log:
        low, high = np.log10(low), np.log10(high)
    room = 0.8 * ax.get_figure().get_size_inches()[0 if side == "across" else 1] * 72
    whole = sum(axis.strips)
    share = 1.0 if axis.kind == "bare" else min(whole * style["type_size"] / room, _MOST_OF_STRIPS)
    # Of a bare axis nothing but the strips is seen.
    below = (high - low) if share == 1.0 else (high - low) * share / (1 - share)
    first = high if share == 1.0 else low
    edges = first - below * np.cumsum([0.0, *axis.strips]) / whole

    def layer(given: Layer) -> Layer:
        if given.strip is None or given.upright != (side == "across"):
            return given
        top, bottom = edges[given.strip - first_strip : given.strip - first_strip + 2]

        def laid(share: Any) -> Any:
            at = (top + bottom) / 2 + share * (top - bottom)
            return 10.0**at if log else at

        name = "x" if given.upright else "y"
        moved = {name: laid(getattr(given, name)), f"high_{name}": laid(getattr(given, f"high_{name}"))}
        # On a logarithmic axis a box is as wide as the half of it that lies further from the data.
        wide = 2 * (laid(0.0) - laid(-given.width / 2)) if log else given.width * (top - bottom)
        return replace(given, **moved, width=wide)

    return replace(scene, layers=tuple(map(layer, scene.layers))), share


def _ends(axis: Axis, settings: Mapping[str, Any]) -> tuple[float, float]:
    low = axis.low if settings["low"] is None else settings["low"]
    high = axis.high if settings["high"] is None else settings["high"]
    return low, high


def _given(settings: Mapping[str, Any]) -> dict[str, Any]:
    return {name: value for name, value in settings.items() if value is not None}


def _layer(
    ax: Any,
    layer: Layer,
    colour: str,
    settings: Mapping[str, Any],
    series_index: int,
    style: Mapping[str, Any],
    scene: Scene,
) -> None:
    width = settings.get("line") or style["mark_line"]
    opacity = settings.get("opacity") if settings.get("opacity") is not None else style["opacity"]
    if layer.form == "points":
        size = (settings.get("size") or style["point_size"]) ** 2
        barred = layer.role == "points" and any(other.role == "point bars" for other in scene.layers)
        size *= _BARRED**2 if barred else 1
        areas = _areas(ax, layer, size, style, scene) if layer.size.size else size
        ringed = layer.role in ("beyond", "jumps", "limited")
        marker = (
            "o"
            if ringed
            else _SHAPES[
                settings["shape"]
                if settings.get("shape") is not None
                else series_index % LOOK["shapes_in_turn"]
                if style["shapes"]
                else 0
            ]
        )
        ax.scatter(
            *drawn_at(layer), s=areas, marker="D" if layer.role == "mean" else marker,
            alpha=None if ringed else 1.0 if barred else opacity, zorder=9 if layer.role == "mean" else 3,
            facecolors="none" if ringed else colour,
            edgecolors="none" if not ringed else colour if layer.role == "limited" else LOOK["beyond"],
            linewidths=width,
        )  # fmt: skip
        if layer.far.size:
            far = layer.far > 0
            ax.scatter(layer.x[far], layer.y[far], s=size / 4, color=LOOK["beyond"], zorder=4)
    elif layer.form == "line":
        dash = _DASHES[
            settings["dash"]
            if settings.get("dash") is not None
            else series_index % len(_DASHES)
            if style["dashes"]
            else 0
        ]
        thin = 0.5 if layer.role in ("pairs", "rug", "bumps", "piled", "level lines") else 1.0
        kind = _ROLE_DASHES.get(layer.role, dash)
        if layer.series and (layer.role == "smooth" or (dash != "-" and layer.role == "median line")):
            kind = dash
        if layer.role in ("limits", "level lines"):
            upright = layer.x[0] == layer.x[1]
            (ax.axvline if upright else ax.axhline)(
                layer.x[0] if upright else layer.y[0], color=colour, linewidth=width * thin, linestyle=kind, zorder=4
            )
            for text in filter(None, layer.texts):
                at, coordinates = ((layer.x[0], 1), ("data", "axes fraction"))
                if not upright:
                    at, coordinates = ((1, layer.y[0]), ("axes fraction", "data"))
                ax.annotate(_typeset(text), at, (4, -2), xycoords=coordinates, textcoords="offset points", va="top",
                            color=style["ink"], annotation_clip=False)  # fmt: skip
            return
        ax.plot(
            layer.x,
            layer.y,
            color=colour,
            linewidth=width * thin,
            linestyle=kind,
            alpha=0.4 if thin < 1 else 1.0,
            zorder=4,
        )
        for text in layer.texts if layer.x.size else ():
            ax.annotate(_typeset(text), (layer.x[-1], layer.y[-1]), (0, 3), textcoords="offset points", ha="right",
                        color=style["ink"])  # fmt: skip
    elif layer.form == "area":
        band, whole = layer.role in ("band", "one more"), layer.role == "enclosed"
        opacity = {"band": 0.18, "one more": 0.1, "enclosed": 1.0}.get(layer.role, 0.35)
        line = "none" if band else style["paper"] if whole else colour
        ax.add_patch(
            PathPatch(_outline(layer), facecolor=colour, alpha=opacity, edgecolor=line, linewidth=width, zorder=1)
        )
    elif layer.form in ("blocks", "hexagons"):
        shape = Rectangle if layer.form == "blocks" else _hexagon
        boxes = [
            shape((x, y), high_x - x, high_y - y)
            for x, y, high_x, high_y in zip(layer.x, layer.y, layer.high_x, layer.high_y, strict=True)
        ]
        patch_collection = PatchCollection(
            boxes,
            facecolor=colour,
            edgecolor="white",
            linewidth=0.4,
            alpha={"answers": 1.0, "run": 0.15}.get(layer.role, 0.6),
            zorder=1,
        )
        if layer.role == "tiles":
            patch_collection = PatchCollection(boxes, edgecolor="none", cmap=_shades(scene, style), zorder=1)
            patch_collection.set_array(layer.value)
            if scene.values_scale == "log10" and scene.values_high > 1:
                patch_collection.set_norm(LogNorm(1, scene.values_high))
            else:
                patch_collection.set_clim(scene.values_low, scene.values_high)
            ax.get_figure().colorbar(patch_collection, ax=ax, label=_typeset(scene.values_title))
        ax.add_collection(patch_collection)
        for text, x, y, high_x, high_y in zip(
            layer.texts, layer.x, layer.y, layer.high_x, layer.high_y, strict=bool(layer.texts)
        ):
            ax.text((x + high_x) / 2, (y + high_y) / 2, text, ha="center", va="center", clip_on=True)
    elif layer.form == "words":
        for text, x, y in zip(layer.texts, layer.x, layer.y, strict=True):
            ax.annotate(text, (x, y), (5, 0), textcoords="offset points", va="center", color=colour, weight="bold",
                        zorder=9)  # fmt: skip
    else:
        _standing(ax, layer, colour, width, scene)


_COUNTED = 0.95  # of the size of type: the radius of the point that counts most
_ONE = 1.2  # times a point: the radius of a point that counts one pair, at most
_BARRED = 1.6  # times a point: the radius of one with bars
_SIZED = 2.1  # times a point: the radius of the largest where points tell a number


def _areas(ax: Any, layer: Layer, size: float, style: Mapping[str, Any], scene: Scene) -> Any:
    """The areas of points that tell a number."""
    if layer.role == "counted":
        largest = min((2 * _COUNTED * style["type_size"]) ** 2, _ONE**2 * size * scene.sizes_high)
        if scene.sizes_room:
            largest = min(
                largest, (scene.sizes_room * 72 * ax.get_figure().get_figwidth() * ax.get_position().width) ** 2
            )
        return np.maximum(largest * layer.size, size * 0.12)
    if scene.sizes_title:
        return np.maximum(_SIZED**2 * size * layer.size, size * 0.12)
    return size * (0.2 + 0.8 * layer.size)


def _outline(layer: Layer) -> Path:
    """An area as a path of parts, each closed, with holes where parts turn the other way."""
    known = np.isfinite(layer.x) & np.isfinite(layer.y)
    parts = np.split(np.arange(known.size), np.flatnonzero(~known))
    paths = [
        Path(np.column_stack((layer.x[drawn], layer.y[drawn])), closed=False)
        for part in parts if (drawn := part[known[part]]).size > 1
    ]  # fmt: skip
    return Path.make_compound_path(*paths) if paths else Path(np.empty((0, 2)))


def _shades(scene: Scene, style: Mapping[str, Any]) -> ListedColormap:
    shares = np.linspace(0.06, 1.0, 64)
    return ListedColormap([of_rank(share, scene.values_ramp, style["colours"]) for share in shares])


def _hexagon(low: tuple[float, float], wide: float, tall: float) -> Polygon:
    (x, y), across = low, np.array([0.0, 0.5, 1.0, 1.0, 0.5, 0.0])
    up = np.array([0.25, 0.0, 0.25, 0.75, 1.0, 0.75])
    return Polygon(np.column_stack((x + across * wide, y + up * tall)), closed=True)


def _upright(a: Any, b: Any) -> tuple[Any, Any]:
    return a, b


def _along(a: Any, b: Any) -> tuple[Any, Any]:
    return b, a


def _standing(ax: Any, layer: Layer, colour: str, width: float, scene: Scene) -> None:
    """Boxes, and centres with their bars."""
    at, centre = (layer.x, layer.y) if layer.upright else (layer.y, layer.x)
    swap = _upright if layer.upright else _along
    reaches = [(layer.low, layer.high)]
    if layer.form == "box":  # what of the whiskers lies outside of it
        reaches = [(layer.low, np.maximum(layer.q1, layer.low)), (np.minimum(layer.q3, layer.high), layer.high)]
    ends = [
        [swap(a, low), swap(a, high)]
        for lows, highs in reaches
        for a, low, high in zip(at, lows, highs, strict=True) if np.isfinite(low) and np.isfinite(high)
    ]  # fmt: skip
    ax.add_collection(LineCollection(ends, colors=colour, linewidths=width, zorder=5))
    if layer.form == "box":
        half = layer.width / 2
        for i, (a, q1, q3, middle) in enumerate(zip(at, layer.q1, layer.q3, centre, strict=True)):
            waist = half / 2 if layer.notch_low.size else half
            low, high = (layer.notch_low[i], layer.notch_high[i]) if layer.notch_low.size else (middle, middle)
            near = [(-half, q1), (-half, low), (-waist, middle), (-half, high), (-half, q3)]
            outline = [swap(a + off, value) for off, value in [*near, *((-off, value) for off, value in near[::-1])]]
            ax.add_patch(Polygon(outline, closed=True, facecolor=_GROUND, edgecolor=colour, linewidth=width, zorder=6))
            ax.plot(
                *zip(swap(a - waist, middle), swap(a + waist, middle), strict=True),
                color=colour,
                linewidth=2 * width,
                zorder=7,
            )
        return
    if layer.role == "point bars":  # the points stand on top
        return
    marker = "D" if layer.role == "combined" else "o"
    sizes = 18 * (0.5 + layer.size) if layer.size.size else 18
    ax.scatter(
        *swap(at, centre), marker=marker, s=sizes, facecolors="white", edgecolors=colour, linewidths=width, zorder=8
    )


def _axis(ax: Any, axis: Axis, settings: Mapping[str, Any], name: str, share: float) -> None:
    set_label, set_scale, set_ends = (getattr(ax, f"set_{name}{what}") for what in ("label", "scale", "lim"))
    ticks = getattr(ax, f"{name}axis")
    title = (
        settings["title"]
        if settings["title"] is not None
        else f"{axis.title} ({axis.unit})"
        if axis.unit
        else axis.title
    )
    set_label(_typeset(title))
    scale = settings["scale"] or axis.scale
    if scale != "linear":
        set_scale("log", base=2 if scale == "log2" else 10)
    low, high = _ends(axis, settings)
    if scale == "linear":
        ticks.set_major_formatter(_Marked())
    names = settings.get("names", {})
    if np.isfinite([low, high]).all() and low < high and (scale == "linear" or low > 0):
        set_ends(low if share in (0.0, 1.0) else low - (high - low) * share / (1 - share), high)
    if axis.kind == "levels":
        ticks.set_ticks(range(len(axis.levels)), [_typeset(names.get(level, level)) for level in axis.levels])
        for head in axis.heads:
            ticks.get_ticklabels()[head].set_fontweight("bold")
        for head, words in enumerate(axis.beside):
            ax.annotate(_typeset(words), (1, head), (6, 0), xycoords=("axes fraction", "data"),
                        textcoords="offset points", va="center", annotation_clip=False)  # fmt: skip
    elif axis.kind == "bare":
        ticks.set_ticks([])
    elif axis.kind == "time":
        ticks.set_major_formatter(FuncFormatter(lambda day, _: str(np.datetime64(round(day), "D"))))
    elif settings["at"]:
        ticks.set_ticks(settings["at"])
        if names:
            ticks.set_major_formatter(
                FuncFormatter(lambda value, _: _typeset(names.get(f"{value:g}", significant(value))))
            )
    elif settings["every"] and scale == "linear":
        ticks.set_major_locator(MultipleLocator(settings["every"]))
    if axis.mirrored:
        ticks.set_major_formatter(FuncFormatter(lambda value, _: significant(abs(value))))
    if axis.kind == "number" and axis.strips and not settings["at"]:
        ticks.set_ticks([tick for tick in ticks.get_ticklocs() if low <= tick <= high])
    if settings["rotation"]:
        ax.tick_params(axis=name, labelrotation=settings["rotation"])


class _Marked(ScalarFormatter):
    """Numbers at ticks with the marks of the plate."""

    def __call__(self, value: float, pos: int | None = None) -> str:
        return with_marks(super().__call__(value, pos).replace("\u2212", "-"))


def _furniture(ax: Any, piece: Mapping[str, Any], scene: Scene, style: Mapping[str, Any]) -> None:
    colour, along = piece["colour"] or style["ink"], piece["axis"] == "across"
    if piece["kind"] == "line" and piece["at"] is not None:
        (ax.axvline if along else ax.axhline)(piece["at"], color=colour, linewidth=0.8, linestyle="--")
    elif piece["kind"] == "band" and piece["at"] is not None and piece["to"] is not None:
        (ax.axvspan if along else ax.axhspan)(piece["at"], piece["to"], color=colour, alpha=0.12, zorder=0)
    elif piece["kind"] == "note" and piece["x"] is not None and piece["y"] is not None:
        tip = None if piece["arrow_x"] is None or piece["arrow_y"] is None else (piece["arrow_x"], piece["arrow_y"])
        arrow = {"arrowstyle": "->", "color": colour} if tip else None
        ax.annotate(
            _typeset(piece["text"]),
            tip or (piece["x"], piece["y"]),
            (piece["x"], piece["y"]),
            color=colour,
            arrowprops=arrow,
        )
    elif piece["kind"] == "bracket" and None not in (piece["at"], piece["to"], piece["y"]):
        ax.plot([piece["at"], piece["to"]], [piece["y"]] * 2, color=colour, linewidth=0.8)
        ax.annotate(
            _typeset(piece["text"]),
            ((piece["at"] + piece["to"]) / 2, piece["y"]),
            ha="center",
            va="bottom",
            color=colour,
        )
    elif piece["kind"] == "slip":
        known = {number.name: number for number in scene.numbers}
        said = [known[name] for name in piece["names"] if name in known]
        words = "\n".join(
            f"{number.name} {significant(number.value, number.digits)} {number.unit}".strip() for number in said
        )
        ax.text(piece["x"] or 0.02, 1 - (piece["y"] or 0.02), words, transform=ax.transAxes, va="top", fontsize="small")


def _typeset(text: str) -> str:
    """Raised and lowered parts, as TeX writes them, by matplotlib's own."""
    plain = text.replace("$", r"\$")
    return re.sub(r"([\^_])\{([^{}]*)\}", r"$\1{\\mathregular{\2}}$", plain)
