"""What deserves a look before a figure leaves, each finding with the change that mends it."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from heron.checks import Floats
from heron.figure.colours import VIEW_WORDS, merged, of_rank
from heron.figure.roles import ROLES
from heron.figure.scene import Axis, Scene, drawn_at, extents, reach
from heron.figure.styles import LEAST_LINE, LEAST_TYPE, colour_of
from heron.figure.words import caption as written
from heron.figure.words import letters, n_words, names_of
from heron.formatting import counted, numbers_as, significant


@dataclass(frozen=True)
class Change:
    """One change of a specification: the names and places that lead to it, and what stands there then."""

    path: tuple[str | int, ...]
    value: Any


@dataclass(frozen=True)
class Finding:
    """One check. holds: nothing is wrong; words say how far. panel: -1 for the sheet. mend: what a button would say, ""
    where nothing needs mending; changes: what it does; say: a sentence that it adds to the caption."""

    code: str
    panel: int
    holds: bool
    words: str
    mend: str = ""
    changes: tuple[Change, ...] = ()
    say: str = ""


Document = Mapping[str, Any]


def check(document: Document, scenes: Sequence[Scene], caption: str | None = None) -> list[Finding]:
    """Every check of a specification over its scenes. caption: as it goes out, that written from the scenes if None."""
    with numbers_as(document["numbers"]):
        return _checked(document, scenes, caption)


def _checked(document: Document, scenes: Sequence[Scene], caption: str | None) -> list[Finding]:
    caption = written(document, scenes) if caption is None else caption
    named = letters(len(scenes), "A")
    result = [*_sizes(document)]
    for i, (panel, scene) in enumerate(zip(document["panels"], scenes, strict=True)):
        at = f" in panel {named[i]}" if named[i] else ""
        result.extend(
            [*_cut(i, panel, scene, at), *_zero(i, panel, scene, at), *_lost(i, panel, scene, at, caption),
             *_merging(i, panel, scene, at, document), *_bars(i, scene, at, caption), *_legend(i, panel, scene, at),
             *_empty(i, panel, scene, at), *_rings(i, panel, scene, at), *_few(i, panel, scene, at),
             *_unequal(i, panel, scene, at), *_hidden(i, panel, scene, at),
             *_beyond(i, panel, scene, at)]
        )  # fmt: skip
    result.append(_counted(document, scenes, caption))
    return result


def ends_of(axis: Axis, settings: Mapping[str, Any]) -> tuple[float, float]:
    """The ends of an axis as they are drawn."""
    low = axis.low if settings["low"] is None else float(settings["low"])
    high = axis.high if settings["high"] is None else float(settings["high"])
    return low, high


def _under(least: float) -> str:
    return f", under {significant(least)} pt"


def _sizes(document: Document) -> list[Finding]:
    style = document["style"]
    types = {"type_size": style["type_size"], "title_size": style["title_size"]}
    small = [name for name, size in types.items() if size < LEAST_TYPE]
    least = min(types.values())
    lines = {"axis_line": style["axis_line"], "mark_line": style["mark_line"]}
    thin = [name for name, width in lines.items() if width < LEAST_LINE]
    narrow = [
        (("panels", i, "series", key, "line"), settings["line"])
        for i, panel in enumerate(document["panels"]) for key, settings in panel["series"].items()
        if (settings.get("line") or LEAST_LINE) < LEAST_LINE
    ]  # fmt: skip
    thinnest = min([*lines.values(), *(width for _, width in narrow)])
    return [
        Finding(
            "type", -1, not small,
            f"The smallest type is {significant(least)} pt{_under(LEAST_TYPE) if small else ''}.",
            f"make it {significant(LEAST_TYPE)} pt" if small else "",
            tuple(Change(("style", name), LEAST_TYPE) for name in small),
        ),
        Finding(
            "line", -1, not thin and not narrow,
            f"The thinnest line is {significant(thinnest)} pt{_under(LEAST_LINE) if thin or narrow else ''}.",
            f"make it {significant(LEAST_LINE)} pt" if thin or narrow else "",
            tuple(Change(path, LEAST_LINE) for path in [*(("style", name) for name in thin), *dict(narrow)]),
        ),
    ]  # fmt: skip


_MOST_NAMED = 4


def _cut(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Marks that an axis cuts, one by one and by their names."""
    logarithmic = [_is_log(axis, panel[side]) for side, axis in (("across", scene.across), ("up", scene.up))]
    x_low, x_high = ends_of(scene.across, panel["across"])
    y_low, y_high = ends_of(scene.up, panel["up"])
    set_by_hand = any(panel[side][end] is not None for side in ("across", "up") for end in ("low", "high"))
    n: dict[str, int] = {}
    names: dict[str, list[str]] = {}
    for layer in scene.layers:
        # Where the ends follow from the data, a curve that runs on is ended by right.
        if ROLES[layer.role].endless or (layer.form == "line" and not set_by_hand):
            continue
        if layer.strip is not None and layer.form in ("area", "blocks", "line"):  # of each variable by itself
            continue
        left, right, low, high = extents(layer)
        # What a logarithmic axis cannot hold is told as lost: no end of the axis would show it.
        left, right = (_above_zero(left), _above_zero(right)) if logarithmic[0] else (left, right)
        low, high = (_above_zero(low), _above_zero(high)) if logarithmic[1] else (low, high)
        if layer.form == "points":  # one that a logarithmic axis cannot hold is no other axis's to cut
            stands = ~(np.isnan(left) | np.isnan(low))
            left, right, low, high = (np.where(stands, end, np.nan) for end in (left, right, low, high))
        cut = int(np.count_nonzero((left < x_low) | (right > x_high) | (low < y_low) | (high > y_high)))
        if cut:
            n[layer.role] = n.get(layer.role, 0) + cut
            if layer.series and layer.form != "points":
                names.setdefault(layer.role, []).append(
                    panel["series"].get(layer.series, {}).get("name") or layer.series
                )
    if not n:
        return [Finding("cut", i, True, f"All points and bars lie inside the axes{at}.")]
    said = [_cut_words(role, many, list(dict.fromkeys(names.get(role, ())))) for role, many in n.items()]
    listed = f"{', '.join(said[:-1])} and {said[-1]}" if len(said) > 1 else said[0]
    back = tuple(Change(("panels", i, side, end), None) for side in ("across", "up") for end in ("low", "high"))
    return [Finding("cut", i, False, f"The axes cut off {listed}{at}.", "show all", back)]


_FURNITURE = {"line": "line", "note": "note", "bracket": "bracket"}


def _beyond(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Lines and notes that stand where no axis reaches, with the axis widened so far."""
    pieces = [piece for piece in panel["furniture"] if piece["kind"] in _FURNITURE]
    if not pieces:
        return []
    ends = {side: ends_of(axis, panel[side]) for side, axis in (("across", scene.across), ("up", scene.up))}
    wider: dict[tuple[str, str], float] = {}
    names: list[str] = []
    for piece in pieces:
        off = False
        for side, value in _stands(piece):
            low, high = ends[side]
            if value is None or low <= value <= high:
                continue
            axis = scene.across if side == "across" else scene.up
            end = "low" if value < low else "high"
            key, air = (side, end), 0.0 if _is_log(axis, panel[side]) else 0.04 * (high - low)
            reach = value - air if end == "low" else value + air
            wider[key] = (min if end == "low" else max)(wider.get(key, reach), reach)
            off = True
        if off:
            said = f" \u201c{piece['text']}\u201d" if piece["text"] else ""
            names.append(f"the {_FURNITURE[piece['kind']]}{said}")
    if not names:
        return [Finding("beyond", i, True, f"All notes and lines lie inside the axes{at}.")]
    listed = f"{', '.join(names[:-1])} and {names[-1]}" if len(names) > 1 else names[0]
    words = f"{listed[:1].upper()}{listed[1:]} {'lies' if len(names) == 1 else 'lie'} beyond the axes{at}."
    mend = tuple(Change(("panels", i, side, end), reach) for (side, end), reach in wider.items())
    return [Finding("beyond", i, False, words, "widen the axes", mend)]


def _stands(piece: Mapping[str, Any]) -> list[tuple[str, float | None]]:
    """Where a line or a note stands: values by their axes."""
    if piece["kind"] == "line":
        return [(piece["axis"], piece["at"])]
    if piece["kind"] == "note":
        return [("across", piece["x"]), ("up", piece["y"])]
    return [("up", piece["y"])]


def _is_log(axis: Axis, settings: Mapping[str, Any]) -> bool:
    return bool((settings["scale"] or axis.scale).startswith("log"))


def _above_zero(values: Floats) -> Floats:
    return np.where(values > 0, values, np.nan)


def _cut_words(role: str, n: int, names: Sequence[str]) -> str:
    one, several = ROLES[role].one, ROLES[role].many
    if not names:
        return counted(n, one, several)
    more = f" and {len(names) - _MOST_NAMED} more" if len(names) > _MOST_NAMED else ""
    return f"the {one if n == 1 else several} of {', '.join(names[:_MOST_NAMED])}{more}"


def _zero(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    result = []
    for side, axis in (("across", scene.across), ("up", scene.up)):
        if not axis.from_zero:
            continue
        low, high = ends_of(axis, panel[side])
        if low <= 0 <= high and not _is_log(axis, panel[side]):
            result.append(Finding("zero", i, True, f"Bars begin at zero{at}."))
        else:
            mend = (Change(("panels", i, side, "low"), None), Change(("panels", i, side, "scale"), None))
            result.append(Finding("zero", i, False, f"Bars do not begin at zero{at}.", "begin at zero", mend))
    return result


def _lost(i: int, panel: Mapping[str, Any], scene: Scene, at: str, caption: str) -> list[Finding]:
    result = []
    for side, axis in (("across", scene.across), ("up", scene.up)):
        if not _is_log(axis, panel[side]):
            continue
        below, running = axis.lost, 0
        if axis.scale == "linear":
            end = 0 if side == "across" else 2
            reaching = [(layer.form, extents(layer)[end]) for layer in scene.layers]
            below += sum(int(np.count_nonzero(low <= 0)) for form, low in reaching if form == "points")
            running = sum(int(np.count_nonzero(low <= 0)) for form, low in reaching if form in ("interval", "box"))
        if not below and not running:
            continue
        lost = counted(below, "value") if below else counted(running, "bar or box", "bars and boxes")
        words = f"{lost} of 0 or below cannot stand on the logarithmic axis"
        if "cannot stand" in caption:
            result.append(Finding("lost", i, True, f"{words}{at}; the caption says so."))
        elif panel[side]["scale"]:
            back = (Change(("panels", i, side, "scale"), None),)
            result.append(Finding("lost", i, False, f"{words}{at}.", "make it straight", back))
        else:
            result.append(Finding("lost", i, False, f"{words}{at}.", "say it in the caption", say=f"{words}."))
    return result


def _merging(i: int, panel: Mapping[str, Any], scene: Scene, at: str, document: Document) -> list[Finding]:
    style = document["style"]
    shown = [series for series in scene.series if not panel["series"].get(series.key, {}).get("hidden")]
    if len(shown) < 2:
        return []
    if scene.told_by_place:
        return [Finding("merge", i, True, f"{counted(len(shown), 'group')} stand apart, each with its name{at}.")]
    settings = [panel["series"].get(series.key, {}) for series in shown]
    colours = [
        of_rank(series.rank, scene.ramp, style["colours"])
        if series.rank is not None and scene.ramp and not settings[k].get("colour")
        else colour_of(style, series.place, settings[k].get("colour"))
        for k, series in enumerate(shown)
    ]
    forms = {layer.form for layer in scene.layers if layer.series}

    def look(k: int) -> tuple[Any, ...]:
        series_index = shown[k].place
        return (
            (settings[k].get("shape") or (series_index % 5 if style["shapes"] else 0))
            if "points" in forms or "interval" in forms
            else 0,
            (settings[k].get("dash") or (series_index % 5 if style["dashes"] else 0)) if "line" in forms else 0,
            (settings[k].get("hatch") or (series_index % 5 if style["hatches"] else 0))
            if forms & {"blocks", "area"}
            else 0,
        )

    close = merged(colours)
    looks = [look(k) for k in range(len(shown))]
    alike = [pair for pair in close if looks[pair.first] == looks[pair.second]]
    if not alike:
        by_colour = not close
        how = "by colour, in grey too" if by_colour else "by colour, or by shape, dash or hatch where colours merge"
        return [Finding("merge", i, True, f"{counted(len(shown), 'series', 'series')} are told apart {how}{at}.")]
    worst = alike[0]
    who = VIEW_WORDS.get(worst.view, "all readers")
    words = f"{shown[worst.first].label} and {shown[worst.second].label} merge for {who}{at}."
    mend = [Change(("style", name), True) for name in ("shapes", "dashes", "hatches")]
    mend += [
        Change(("panels", i, "series", series.key, name), None)
        for series in shown if series.key in panel["series"] for name in ("shape", "dash", "hatch", "colour")
    ]  # fmt: skip
    return [Finding("merge", i, False, words, "add shapes, dashes and hatches", tuple(mend))]


def _bars(i: int, scene: Scene, at: str, caption: str) -> list[Finding]:
    if not scene.facts.bars:
        return []
    core = re.sub(r"^(the|one|from) ", "", scene.facts.bars)
    if core.lower() in caption.lower():
        return [Finding("bars", i, True, f"The caption says what bars are{at}.")]
    told = next((mark for mark in scene.facts.marks if core in mark), f"Bars: {scene.facts.bars}.")
    return [Finding("bars", i, False, f"Nothing says what the bars are{at}.", "say it in the caption", say=told)]


_LEAST_FOR_DENSITY = 5


def _rings(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Rows beyond the whiskers of boxes that nothing shows."""
    n = scene.facts.unmarked
    if not n:
        return []
    words = f"{counted(n, 'row')} beyond the whiskers {'has' if n == 1 else 'have'} no mark{at}."
    ring = (Change(("panels", i, "source", "rings"), True),)
    return [Finding("rings", i, False, words, "ring them", ring if "rings" in panel.get("source", {}) else ())]


def _few(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Densities of so few values that their shape is that of the kernel."""
    few = [label for label, n in scene.facts.n if 0 < n < _LEAST_FOR_DENSITY]
    source = panel.get("source", {})
    if not few or not any(layer.role == "violin" for layer in scene.layers):
        return []
    named = ", ".join(few[:_MOST_NAMED]) + (f" and {len(few) - _MOST_NAMED} more" if len(few) > _MOST_NAMED else "")
    name = "layers" if "layers" in source else "marks"
    marks = [mark for mark in source.get(name, ()) if mark not in ("violin", "points")]
    points = (Change(("panels", i, "source", name), ["points", *marks]),)
    words = f"The density of {named} stands on fewer than {_LEAST_FOR_DENSITY} values{at}."
    return [Finding("few", i, False, words, "draw points instead", points)]


def _unequal(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Counts over classes of unequal width, whose areas then mislead."""
    if panel.get("source", {}).get("measure", "density") == "density":
        return []
    log = _is_log(scene.across, panel["across"]), _is_log(scene.up, panel["up"])
    for layer in scene.layers:
        if layer.role != "classes" or layer.x.size < 2 or scene.up.kind == "levels":
            continue
        upright = scene.up.from_zero
        ends = (layer.x, layer.high_x) if upright else (layer.y, layer.high_y)
        low, high = (np.log10(end) for end in ends) if log[0 if upright else 1] else ends
        widths = high - low
        if float(np.ptp(widths)) > 1e-6 * float(widths.max()):
            density = (Change(("panels", i, "source", "measure"), "density"),)
            words = f"Classes differ in width, and their heights are counts or percents{at}: wide ones look too large."
            return [Finding("unequal", i, False, words, "draw densities", density)]
    return []


_SHARE_HIDDEN = 0.05


def _hidden(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Points that lie wholly under another one."""
    points = [drawn_at(layer) for layer in scene.layers if layer.role in ("points", "limited")]
    x, y = (np.concatenate([point[side] for point in points]) if points else np.empty(0) for side in (0, 1))
    # As complex numbers places are sorted at once.
    spots = np.sort((x + 1j * y)[np.isfinite(x) & np.isfinite(y)])
    hidden = int(np.count_nonzero(spots[1:] == spots[:-1]))
    if hidden <= _SHARE_HIDDEN * len(spots):
        return []
    source = panel.get("source", {})
    way = {"groups": ("points", "apart", "set them apart"), "pair": ("shown", "counts", "count them at their places")}
    name, value, mend = ("", "", "") if source.get("also") else way.get(source.get("kind", ""), ("", "", ""))
    change = (Change(("panels", i, "source", name), value),) if name else ()
    words = f"{hidden} of {counted(len(spots), 'point')} {'lies' if hidden == 1 else 'lie'} wholly under another{at}."
    return [Finding("hidden", i, False, words, mend, change)]


def _legend(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    shown = [series for series in scene.series if not panel["series"].get(series.key, {}).get("hidden")]
    if panel["legend"]["shown"] not in ("yes", "ends") or len(shown) > 1:
        return []
    off = (Change(("panels", i, "legend", "shown"), "no"),)
    return [Finding("legend", i, False, f"A legend names one series only{at}.", "leave it out", off)]


def _empty(i: int, panel: Mapping[str, Any], scene: Scene, at: str) -> list[Finding]:
    """Whether there are marks, and they fill at least half of what the axes span."""
    shares = []
    shown = [layer for layer in scene.layers if layer.role != "limits"]
    if not any(layer.x.size for layer in shown):
        return [Finding("empty", i, False, f"No mark is drawn{at}.")]
    touched = [(layer.form in ("points", "line"), *reach(layer)) for layer in shown]
    for k, (side, axis) in enumerate((("across", scene.across), ("up", scene.up))):
        low, high = ends_of(axis, panel[side])
        # A body that reaches over an end fills what there is up to it.
        reached = [mark[1 + k] if mark[0] else np.clip(mark[1 + k], low, high) for mark in touched]
        values = np.concatenate(reached or [np.empty(0)])
        values = values[np.isfinite(values) & (values >= low) & (values <= high)]
        if (panel[side]["scale"] or axis.scale).startswith("log") and low > 0:
            low, high, values = np.log10(low), np.log10(high), np.log10(values[values > 0])
        whole = high / 2 - low / 2
        if axis.kind == "levels" or whole <= 0:
            shares.append(1.0)
        else:
            shares.append(float(values.max() / 2 - values.min() / 2) / whole if values.size else 0.0)
    if shares[0] * shares[1] >= 0.5:
        return []
    ends = [(side, end) for side in ("across", "up") for end in ("low", "high")]
    if any(panel[side][end] is not None for side, end in ends):
        back = tuple(Change(("panels", i, side, end), None) for side, end in ends)
        return [Finding("empty", i, False, f"More than half of the data area is empty{at}.", "fit the axes", back)]
    return []


def _counted(document: Document, scenes: Sequence[Scene], caption: str) -> Finding:
    if re.search(r"\bn\s?[=:]|\bn counts\b", caption.replace("\u00a0", " ")):
        return Finding("n", -1, True, "The caption tells n.")
    told = zip(scenes, document["panels"], strict=True)
    say = " ".join(dict.fromkeys(n_words(scene.facts, names_of(panel)) for scene, panel in told if scene.facts.n))
    return Finding("n", -1, not say, "The caption does not tell n.", "say it in the caption" if say else "", say=say)
