"""From a report's document to what it comes to."""

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from heron.formatting import typeset, visible
from heron.report.record import Block, Failed, Figure, Heading, KeptFigure, KeptTable, Missing, Report, Table
from heron.report.text import blocks_of, keys_in

Kept = KeptFigure | KeptTable | Failed
_NAMES = {"figure": "Figure", "table": "Table"}


def compose(document: Mapping[str, Any], kept: Mapping[str, Kept], sections: Mapping[str, Sequence[Block]]) -> Report:
    """Return a report with its figures and tables numbered in their order and references to them in words.

    document: title, authors, paper, font, and parts, each with its kind: "heading" (text, level), "text" (text),
    "figure" and "table" (key, plate), or the name of a section (heading). kept: what stands on plates, by id; sections:
    what the parts say that write themselves.
    """
    labels = labels_of(document)
    kept = {plate: _visible(shown) for plate, shown in kept.items()}
    blocks: list[Block] = []
    for part in document["parts"]:
        kind = part["kind"]
        if kind == "heading":
            blocks.append(Heading(visible(typeset(part["text"])), part["level"]))
        elif kind == "text":
            blocks += blocks_of(part["text"], labels)
        elif kind in _NAMES:
            blocks.append(_kept(part, labels[part["key"]], kept))
        elif sections.get(kind):
            blocks += [Heading(visible(typeset(part["heading"])))] if part["heading"] else []
            blocks += sections[kind]
    named = [key for part in document["parts"] if part["kind"] == "text" for key in keys_in(part["text"])]
    unknown = tuple(dict.fromkeys(key for key in named if key not in labels))
    title, authors = (visible(typeset(document[name])) for name in ("title", "authors"))
    return Report(title, authors, document["paper"], document["font"], tuple(blocks), labels, unknown)


def _visible(kept: Kept) -> Kept:
    if isinstance(kept, Failed):
        return kept
    if isinstance(kept, KeptTable):
        return replace(kept, caption=visible(kept.caption))
    return replace(kept, caption=visible(kept.caption), alternative=visible(kept.alternative))


def labels_of(document: Mapping[str, Any]) -> dict[str, str]:
    """What figures and tables are called, by their keys: "Figure 1", "Table 1" and so on, each kind in its order."""
    seen = dict.fromkeys(_NAMES, 0)
    labels = {}
    for part in document["parts"]:
        if part["kind"] in seen:
            seen[part["kind"]] += 1
            labels[part["key"]] = f"{_NAMES[part['kind']]} {seen[part['kind']]}"
    return labels


def _kept(part: Mapping[str, Any], label: str, kept: Mapping[str, Kept]) -> Block:
    shown = kept.get(part["plate"], Failed("it is not kept in this study any more"))
    if isinstance(shown, KeptFigure):
        return Figure(part["key"], label, part["plate"], shown)
    if isinstance(shown, KeptTable):
        return Table(part["key"], label, shown)
    return Missing(part["key"], label, f"{label} could not be made: {shown.words.rstrip('.')}.")
