"""Text as people type it: paragraphs between empty lines, lists, *emphasis*, **strong words**, {references}."""

import re
from collections.abc import Iterator, Mapping

from heron.formatting import typeset, visible
from heron.report.record import Listed, Paragraph, Run

KEY = r"[a-z0-9](?:[a-z0-9-]*[a-z0-9])?"  # of a figure or table
_MARK = re.compile(
    rf"\\(?P<plain>[\\*{{}}])|(?<!\w)\*\*(?=\S)(?P<strong>.+?)(?<=\S)\*\*(?![\w*])"
    rf"|(?<!\w)\*(?=[^\s*])(?P<emphasis>.+?)(?<=[^\s*])\*(?!\w)|\{{(?P<refers>{KEY})\}}",
    re.DOTALL,
)
_ITEM = re.compile(r"\s*(?:(?P<dash>[-*•])|\d{1,3}[.)])\s+(?P<rest>.*)")


def blocks_of(text: str, labels: Mapping[str, str]) -> Iterator[Paragraph | Listed]:
    """The paragraphs and lists of a text. labels: what references are written as, by their keys; one that stands for
    nothing stays as it was typed."""
    for part in re.split(r"\n\s*\n", visible(text).strip()):
        yield from _of_part(part, labels)


def _of_part(part: str, labels: Mapping[str, str]) -> Iterator[Paragraph | Listed]:
    """Lines that follow each other: each that begins like an item begins one, others go on with what stands before."""
    gathered: list[tuple[str, list[str]]] = []  # "plain", "dash" or "number", and lines of one paragraph or item
    for line in part.splitlines():
        item = _ITEM.fullmatch(line)
        if item:
            gathered.append(("dash" if item["dash"] else "number", [item["rest"]]))
        elif gathered:
            gathered[-1][1].append(line.strip())
        elif line.strip():
            gathered.append(("plain", [line.strip()]))
    items: list[tuple[Run, ...]] = []
    for i, (kind, lines) in enumerate(gathered):
        runs = runs_in(" ".join(lines), labels)
        if kind == "plain":
            yield Paragraph(runs)
            continue
        items.append(runs)
        if i + 1 == len(gathered) or gathered[i + 1][0] != kind:
            yield Listed(tuple(items), kind == "number")
            items = []


def runs_in(text: str, labels: Mapping[str, str], *, strong: bool = False, emphasis: bool = False) -> tuple[Run, ...]:
    """A paragraph's words, by how they look."""
    runs: list[Run] = []

    def add(words: str, refers: str = "") -> None:
        if not words:
            return
        if runs and not refers and not runs[-1].refers and (runs[-1].strong, runs[-1].emphasis) == (strong, emphasis):
            runs[-1] = Run(runs[-1].text + words, strong, emphasis)
        else:
            runs.append(Run(words, strong, emphasis, refers))

    at = 0
    for mark in _MARK.finditer(text):
        add(typeset(text[at : mark.start()]))
        at = mark.end()
        if mark["plain"]:
            add(mark["plain"])
        elif mark["refers"]:
            key = mark["refers"]
            add(labels.get(key, mark[0]), key if key in labels else "")
        elif mark["strong"]:
            runs += runs_in(mark["strong"], labels, strong=True, emphasis=emphasis)
        else:
            runs += runs_in(mark["emphasis"], labels, strong=strong, emphasis=True)
    add(typeset(text[at:]))
    return tuple(runs)


def keys_in(text: str) -> list[str]:
    """The keys that a text refers to, in their order."""
    found = []
    for mark in _MARK.finditer(text):
        if mark["refers"]:
            found.append(mark["refers"])
        else:
            found += keys_in(mark["strong"] or mark["emphasis"] or "")
    return found
