"""The words of a table: its caption, its alternative text, and what deserves a look before it leaves."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from heron.formatting import counted, numbers_as, typeset
from heron.tables.laid import Laid, laid_out, written
from heron.tables.record import Cell, NumberTable, Row

_FEW = 20  # rows, below which percents stand with their counts
_BEYOND = 2  # decimals more than the data have


@dataclass(frozen=True)
class TableFinding:
    """What deserves a look. holds: whether it is well; words: what was found; mend: what would help."""

    code: str
    holds: bool
    words: str
    mend: str = ""


def caption(table: NumberTable) -> str:
    """What a table shows."""
    return f"{table.subject}."


def alternative(table: NumberTable, document: Mapping[str, Any]) -> str:
    """The table in words, for who does not see it."""
    with numbers_as(document["numbers"]):
        return _alternative(table, laid_out(table, document))


def _alternative(table: NumberTable, laid: Laid) -> str:
    heads = ", ".join(head.label for head in laid.heads)
    first = next((line for line in laid.lines if line.cells), None)
    heading = next((line.label for line in laid.lines if line.is_heading), "")
    said = f"A table of {counted(len(laid.lines), 'row')} and {counted(len(laid.heads), 'column')}: {heads}."
    if first is not None:
        name = f"{heading}, {first.label}" if first.depth else first.label
        said += f" Its first row, {name}: {', '.join(filter(None, first.cells))}."
    return f"{table.subject}. {said}"


def check(table: NumberTable, document: Mapping[str, Any]) -> tuple[TableFinding, ...]:
    """What deserves a look before a table leaves."""
    with numbers_as(document["numbers"]):
        return tuple(_checks(table, document, laid_out(table, document)))


def _checks(table: NumberTable, document: Mapping[str, Any], laid: Laid) -> Iterator[TableFinding]:
    shown = {line.key for line in laid.lines} | {head.key for head in laid.heads}
    finer = [
        line.label for row in table.rows if row.precision is not None
        for line in laid.lines if line.key == row.key and _finest(table, row, document) > row.precision + _BEYOND
    ]  # fmt: skip
    yield TableFinding(
        "decimals", not finer,
        f"{_some(finer)}: more decimals than the data bear." if finer else "No number has more decimals than its data.",
        "Take fewer decimals." if finer else "",
    )  # fmt: skip
    columns = {column.key: column for column in table.columns}
    few = [head.label for head in laid.heads if (columns[head.key].n or _FEW) < _FEW]
    bare = [
        cell for row in table.rows if row.key in shown for cell in row.cells
        if any(figure.form == "percent" for figure in cell.figures) and len(cell.figures) == 1
    ]  # fmt: skip
    counts = any(column.key == "count" for column in table.columns if column.key in shown)
    alone = bool(bare) and not counts
    short = alone and (bool(few) or _total(table) < _FEW)
    if bare:
        yield TableFinding(
            "percents", not short,
            "Percents of fewer than 20 rows stand without their counts." if short
            else "Percents of few rows stand with their counts.",
            "Show the column of counts." if short else "",
        )  # fmt: skip
    sized = [head for head in laid.heads if columns[head.key].n is not None]
    grouped = table.kind == "groups"
    if sized or grouped:
        lacking = not document["sizes"] if sized else "n" not in shown
        yield TableFinding(
            "sizes", not lacking, "Groups stand without their n." if lacking else "Groups say their n.",
            "Show n." if lacking else "",
        )  # fmt: skip
    if grouped and "bar" in shown:
        spread = "centre" not in shown
        yield TableFinding(
            "spread", not spread, "Bars stand without what they reach from." if spread
            else "Spreads stand with centres.", "Show the column of centres." if spread else "",
        )  # fmt: skip
    if grouped and "p" in shown:
        unnamed = "difference" not in shown
        yield TableFinding(
            "tests", not unnamed, "p values stand without the difference that they are of." if unnamed
            else "Each p value says its test.", "Show the column of differences." if unnamed else "",
        )  # fmt: skip
    long = [line.label for line in laid.lines if len(line.label) > 120]
    if long:
        yield TableFinding("labels", False, f"{_some(long)}: labels of over 120 characters.", "Shorten them.")


def _total(table: NumberTable) -> int:
    sizes = [column.n for column in table.columns if column.n is not None]
    return max(sizes, default=_most(table))


def _most(table: NumberTable) -> int:
    """The largest count of a table without sizes."""
    cells: list[Cell] = [cell for row in table.rows for cell in row.cells]
    return int(max((f.value for cell in cells for f in cell.figures if f.form == "count"), default=_FEW))


def _finest(table: NumberTable, row: Row, document: Mapping[str, Any]) -> int:
    """The most decimals with which a number in the unit of the data is written in a row."""
    rules = document["decimals"]
    texts = [
        written(figure, rules.get(row.key) or rules.get(column.key), cell.se)
        for column, cell in zip(table.columns, row.cells, strict=False) if column.key not in document["hidden"]
        for figure in cell.figures if figure.form == "value" and column.key != "standardized"
    ]  # fmt: skip
    return max((len(text.split(".")[1]) for text in texts if "." in text and "×" not in text), default=0)


def _some(labels: list[str]) -> str:
    unique = list(dict.fromkeys(map(typeset, labels)))
    return ", ".join(unique[:3]) + (f" and {len(unique) - 3} more" if len(unique) > 3 else "")
