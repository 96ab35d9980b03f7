"""A table of numbers as it is written: labels as edited, rows in their order, numbers with their decimals."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from heron.formatting import NUMBER_STYLES, NumberStyle, fixed, grouped, numbers_as, p_words, typeset, visible
from heron.tables.record import Cell, Column, Figure, NumberTable, Row

FIGURE_SPACE = "\u2007"  # as wide as a digit
_MINUS = "\u2212"
_MOST_DECIMALS = 12


@dataclass(frozen=True)
class Head:
    """A column's head. n: what it says of n, "" for nothing; markers: of footnotes."""

    key: str
    label: str
    n: str
    markers: str

    @property
    def with_n(self) -> str:
        """Its label, with its n below."""
        return f"{self.label}\n{self.n}" if self.n else self.label


@dataclass(frozen=True)
class Line:
    """A row. cells: as text; lead: of each, how many figure spaces bring its decimal mark under those of the others."""

    key: str
    label: str
    markers: str
    depth: int
    cells: tuple[str, ...]
    lead: tuple[int, ...]

    @property
    def is_heading(self) -> bool:
        return not self.cells

    def led(self, i: int) -> str:
        """A cell with its figure spaces before it."""
        return FIGURE_SPACE * self.lead[i] + self.cells[i]


@dataclass(frozen=True)
class Laid:
    """A table as it is written. notes: marker, "" for none, and words."""

    title: str
    stub: str
    heads: tuple[Head, ...]
    lines: tuple[Line, ...]
    notes: tuple[tuple[str, str], ...]


def titled_caption(laid: Laid, caption: str) -> str:
    """A caption with the title before it, where there is one."""
    return f"{laid.title}. {caption}" if laid.title else caption


def laid_out(table: NumberTable, document: Mapping[str, Any]) -> Laid:
    """Return a table as its document has it written.

    document: title; labels, other words for rows, columns and the stub by their keys; hidden, keys of rows and columns
    that are not shown; order, keys of rows that come first; decimals, of rows and columns by their keys, as {"by":
    "fixed" | "significant" | "se", "digits"}; sizes, whether heads say n; note, words of one's own below; numbers, the
    style in which they are written.
    """
    with numbers_as(document["numbers"]):
        return _laid_out(table, document)


def _laid_out(table: NumberTable, document: Mapping[str, Any]) -> Laid:
    labels, hidden = document["labels"], set(document["hidden"])
    columns = [(i, column) for i, column in enumerate(table.columns) if column.key not in hidden]
    rows = _in_order([row for row in table.rows if not _is_hidden(row, hidden)], document["order"])
    rows = [row for i, row in enumerate(rows) if row.cells or _has_lines(rows, i)]
    keys = [key for row in rows for key in row.notes] + [key for _, column in columns for key in column.notes]
    keyed = [note for note in table.notes if note.key in keys]
    markers = {note.key: chr(ord("a") + i) for i, note in enumerate(keyed)}
    decimals = document["decimals"]
    texts = [
        [_text(row.cells[i], decimals.get(row.key) or decimals.get(column.key)) for i, column in columns]
        if row.cells else [] for row in rows
    ]  # fmt: skip
    style = NUMBER_STYLES[document["numbers"]]
    before = [[_before(text, style) for text in line] for line in texts]
    widest = [max((line[i] for line in before if line), default=0) for i in range(len(columns))]
    lines = tuple(
        Line(
            row.key, visible(labels.get(row.key, row.label)), _marked(row, markers), row.depth, tuple(texts[i]),
            tuple(widest[k] - at if texts[i][k] else 0 for k, at in enumerate(before[i])),
        ) for i, row in enumerate(rows)
    )  # fmt: skip
    heads = tuple(
        Head(
            column.key, visible(labels.get(column.key, column.label)),
            f"n = {grouped(column.n)}" if column.n is not None and document["sizes"] else "", _marked(column, markers),
        ) for _, column in columns
    )  # fmt: skip
    notes = [("", note.words) for note in table.notes if not note.key]
    notes = [*((markers[note.key], note.words) for note in keyed), *notes]
    if document["note"]:
        notes.append(("", document["note"]))
    stub = visible(typeset(labels.get("stub", table.stub)))
    said = tuple((marker, visible(words)) for marker, words in notes)
    return Laid(visible(typeset(document["title"])), stub, heads, lines, said)


def _is_hidden(row: Row, hidden: set[str]) -> bool:
    """Whether a row, or the heading that it stands under, is not shown."""
    return row.key in hidden or any(row.key.startswith(f"{key}:") for key in hidden)


def _has_lines(rows: Sequence[Row], i: int) -> bool:
    return i + 1 < len(rows) and rows[i + 1].depth > rows[i].depth


def _in_order(rows: list[Row], order: Sequence[str]) -> list[Row]:
    """Rows with what stands under them, those that are named first."""
    blocks: list[list[Row]] = []
    for row in rows:
        if row.depth == 0 or not blocks:
            blocks.append([row])
        else:
            blocks[-1].append(row)
    place = {key: i for i, key in enumerate(order)}
    blocks.sort(key=lambda block: place.get(block[0].key, len(place)))
    for block in blocks:
        block[1:] = sorted(block[1:], key=lambda row: place.get(row.key, len(place)))
    return [row for block in blocks for row in block]


def _marked(part: Row | Column, markers: Mapping[str, str]) -> str:
    return ",".join(markers[key] for key in part.notes if key in markers)


def _text(cell: Cell, rule: Mapping[str, Any] | None) -> str:
    if not cell.figures:
        return visible(cell.text)
    return cell.pattern.format(*(written(figure, rule, cell.se) for figure in cell.figures))


def written(figure: Figure, rule: Mapping[str, Any] | None = None, se: float | None = None) -> str:
    """A figure as it is written: counts whole, p below 0.001 as such, percents with their sign."""
    value = figure.value
    if figure.form == "count":
        return grouped(round(value)).replace("-", _MINUS)
    if figure.form == "p":
        return p_written(value)
    decimals = figure.decimals if rule is None else _by_rule(figure, rule, se)
    text = fixed(value, min(decimals, _MOST_DECIMALS))
    if not text.strip(f"{_MINUS}0."):
        text = text.lstrip(_MINUS)  # what rounds to nothing has no sign
    return f"{text} %" if figure.form == "percent" else text


def _by_rule(figure: Figure, rule: Mapping[str, Any], se: float | None) -> int:
    digits = int(rule["digits"])
    if rule["by"] == "fixed":
        return digits
    of = se if rule["by"] == "se" else abs(figure.value)
    if not of or not math.isfinite(of):
        return figure.decimals
    return max(0, digits - 1 - math.floor(math.log10(of)))


def p_written(p: float) -> str:
    """A p value in a table: two digits, three from 0.001 to 0.01, and none below."""
    if p < 0.001:
        return p_words(p)
    return fixed(p, 3) if p < 0.1 else fixed(p, 2)


def _before(text: str, style: NumberStyle) -> int:
    """How many characters stand before the decimal mark of the first number of a cell, or behind its last digit where
    it has none."""
    for i, char in enumerate(text):
        if char == style.decimal:
            return i
        if not (char.isdigit() or char in f"{_MINUS}{style.thousands}< "):
            return i
        if char == " " and not text.startswith("<"):
            return i
    return len(text)
