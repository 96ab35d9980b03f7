"""The words of a figure, written from what it shows: its caption and its alternative text."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from heron.figure.roles import ROLES
from heron.figure.scene import Axis, Facts, Scene
from heron.figure.telling import what_it_shows
from heron.formatting import counted, grouped, numbers_as, significant, typeset

_MANY = 8


def letters(n: int, form: str) -> list[str]:
    """What n panels are called."""
    if n < 2 or form == "none":
        return [""] * n
    start = ord("a" if form == "a" else "A")
    return [chr(start + i) if i < 26 else f"{chr(start + i % 26)}{i // 26 + 1}" for i in range(n)]


def n_words(facts: Facts, names: Mapping[str, str] | None = None) -> str:
    """n of the figure, by group where there are groups. names: other words for groups."""
    if not facts.n:
        return ""
    facts = replace(facts, n=tuple(((names or {}).get(label, label), n) for label, n in facts.n))
    if len(facts.n) == 1:
        label, n = facts.n[0]
        said = f"n\u00a0=\u00a0{grouped(n)}{f' ({label})' if label else ''}"
    elif len(facts.n) <= _MANY:
        said = "n: " + ", ".join(f"{label} {grouped(n)}" for label, n in facts.n)
    else:
        sizes = [n for _, n in facts.n]
        few, many = grouped(min(sizes)), grouped(max(sizes))
        said = f"n\u00a0=\u00a0{grouped(sum(sizes))} in {len(sizes)} groups of {few} to {many}"
    return f"{said}, counting {facts.counts_of}." if facts.counts_of else f"{said}."


def aside_words(facts: Facts) -> str:
    """How many rows were set aside, and where the Ledger says why."""
    if not facts.aside:
        return ""
    where = ", ".join(map(str, facts.entries[:6])) + (" and more" if len(facts.entries) > 6 else "")
    return f"{counted(facts.aside, 'row')} set aside{f' (Ledger {where})' if where else ''}."


def subject_of(scene: Scene, panel: Mapping[str, Any]) -> str:
    """What is shown, with the titles that were typed in the place of those that follow from the data."""
    typed = {"across": panel["across"]["title"], "up": panel["up"]["title"], "series": panel["legend"]["title"]}
    said = scene.facts.subject
    for which, words in scene.facts.named:
        title = typed[which]
        if title is not None and words:
            at = said.lower().find(words.lower())
            said = said[:at] + title + said[at + len(words) :] if at >= 0 else said
    return said[:1].upper() + said[1:]


def _scale_words(scene: Scene, panel: Mapping[str, Any]) -> list[str]:
    """Which axes are logarithmic, as they are drawn."""
    sides = {"across": "across", "up": "that goes up"}
    log = [side for side in sides if scale_of(getattr(scene, side), panel[side]) != "linear"]
    numeric = [side for side in sides if getattr(scene, side).kind == "number"]
    if not log:
        return []
    if len(log) == 2:
        return ["Both axes are logarithmic."]
    return ["The axis is logarithmic." if len(numeric) == 1 else f"The axis {sides[log[0]]} is logarithmic."]


def scale_of(axis: Axis, settings: Mapping[str, Any]) -> str:
    """On which scale an axis is drawn."""
    return str(settings["scale"] or axis.scale) if axis.kind == "number" else "linear"


def names_of(panel: Mapping[str, Any]) -> dict[str, str]:
    """Other words for groups: those at the ticks of the axes, else those of their series."""
    series = {key: settings["name"] for key, settings in panel["series"].items() if settings.get("name")}
    return {**series, **panel["across"].get("names", {}), **panel["up"].get("names", {})}


def _sentences(scene: Scene, panel: Mapping[str, Any]) -> list[str]:
    facts = scene.facts
    n = n_words(facts, names_of(panel))
    result = [f"{subject_of(scene, panel)}.", *facts.marks, *facts.notes, *_scale_words(scene, panel), n]
    if facts.missing:
        why = ", ".join(f"{typeset(code)} {grouped(n)}" for code, n in facts.codes)
        result.append(f"{counted(facts.missing, 'row')} without a value{f' ({why})' if why else ''}.")
    if facts.weighted:
        result.append(f"Each row counts as often as {typeset(facts.weighted)} says.")
    if facts.sampled:
        result.append(f"Told from {counted(facts.sampled, 'row')} drawn at random.")
    return [sentence for sentence in [*result, *facts.cannot, aside_words(facts)] if sentence]


def caption(document: Mapping[str, Any], scenes: Sequence[Scene]) -> str:
    """What is shown, of how many, by which marks, on which scale, with what left out; panels by their letters.

    Sentences that all panels share are told once, at the end.
    """
    with numbers_as(document["numbers"]):
        return _caption(document, scenes)


def _caption(document: Mapping[str, Any], scenes: Sequence[Scene]) -> str:
    parts = [_sentences(scene, panel) for scene, panel in zip(scenes, document["panels"], strict=True)]
    extra = [_furniture_words(panel) for panel in document["panels"]]
    for facts, more in zip(parts, extra, strict=True):
        facts.extend(more)
    if len(parts) == 1:
        return " ".join(parts[0])
    shared = [part for part in parts[0][1:] if all(part in other for other in parts[1:])]
    named = letters(len(parts), document["sheet"]["letters"])
    said = []
    for letter, facts in zip(named, parts, strict=True):
        text = " ".join(sentence for sentence in facts if sentence not in shared)
        said.append(f"({letter}) {text}" if letter else text)
    return " ".join([*said, *shared])


def _furniture_words(panel: Mapping[str, Any]) -> list[str]:
    lines = [piece["text"] for piece in panel["furniture"] if piece["kind"] in ("line", "band") and piece["text"]]
    return [f"Reference: {', '.join(map(typeset, lines))}."] if lines else []


def axis_title(axis: Axis) -> str:
    """The title of an axis as it stands: its words, with the unit in brackets."""
    return f"{axis.title} ({axis.unit})" if axis.unit and axis.title else axis.title or axis.unit


def alternative(document: Mapping[str, Any], scenes: Sequence[Scene]) -> str:
    """The alternative text of the figure: its kind, its axes with their ends, what it shows, and its main numbers."""
    with numbers_as(document["numbers"]):
        return _alternative(document, scenes)


def _alternative(document: Mapping[str, Any], scenes: Sequence[Scene]) -> str:
    named = letters(len(scenes), document["sheet"]["letters"])
    said = [f"A figure of {len(scenes)} panels."] if len(scenes) > 1 else []
    for letter, scene, panel in zip(named, scenes, document["panels"], strict=True):
        forms = list(dict.fromkeys(ROLES[layer.role].drawn for layer in scene.layers if layer.role != "limits"))
        listed = f"{', '.join(forms[:-1])} and {forms[-1]}" if len(forms) > 1 else "".join(forms)
        text = f"{subject_of(scene, panel)}, drawn as {listed or 'an empty frame'}. "
        text += " ".join(
            _axis_words(side, axis, panel[side]) for side, axis in (("across", scene.across), ("up", scene.up))
        )
        text = " ".join([text.rstrip(), *what_it_shows(scene)])
        numbers = scene.numbers[:12]
        if numbers:
            listed = "; ".join(
                f"{number.name} {significant(number.value, number.digits)}{_unit(number.unit)}" for number in numbers
            )
            text += f" {listed}{' and others' if len(scene.numbers) > 12 else ''}."
        said.append(f"Panel {letter}: {text}" if letter else text)
    return " ".join(said)


def _axis_words(side: str, axis: Axis, settings: Mapping[str, Any]) -> str:
    name = "Across" if side == "across" else "Up"
    if axis.kind == "levels":
        shown = ", ".join(settings.get("names", {}).get(level, level) for level in axis.levels[:_MANY]) + (
            f" and {len(axis.levels) - _MANY} more" if len(axis.levels) > _MANY else ""
        )
        return f"{name}: {axis.title}{': ' if axis.title else ''}{shown}."
    if axis.kind in ("bare", "time"):
        return f"{name}: {axis.title}." if axis.title else ""
    low, high = (
        axis.low if settings["low"] is None else settings["low"],
        axis.high if settings["high"] is None else settings["high"],
    )
    log = ", logarithmic" if scale_of(axis, settings) != "linear" else ""
    title = axis.title if settings["title"] is None else settings["title"]
    return f"{name}: {title} from {significant(low, 3)} to {significant(high, 3)}{_unit(axis.unit)}{log}."


def _unit(unit: str) -> str:
    return f" {unit}" if unit else ""
