"""A table on its way in: every cell as text, before the columns are typed."""

from dataclasses import dataclass, field
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from heron.columns import Kind
from heron.errors import ReadError
from heron.intake.found import Guess, Problem

MOST_OF_NAME = 4_000

Cells = Any  # a pyarrow Array or ChunkedArray of strings


@dataclass(frozen=True)
class Raw:
    """columns: one array of text a column, "" for blank, all of equal length; names and units as the source has them,
    of which the columns may have more. labels, kinds, levels (in their order) and codes (that mean missing): what the
    source itself declares, by place; missing_codes: those that it declares for all."""

    columns: list[Cells]
    names: tuple[str, ...]
    found: dict[str, Guess]
    units: tuple[str, ...] = ()
    decimal: str = "."
    problems: tuple[Problem, ...] = ()
    labels: dict[int, str] = field(default_factory=dict)
    kinds: dict[int, Kind] = field(default_factory=dict)
    levels: dict[int, tuple[str, ...]] = field(default_factory=dict)
    codes: dict[int, tuple[str, ...]] = field(default_factory=dict)
    missing_codes: tuple[str, ...] | None = None
    title: str = ""


def as_text(value: object) -> str:
    """A cell of a workbook or record as text that reads back to the same value."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return repr(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    return str(value)


def is_blank(column: Cells) -> bool:
    """Whether no cell of a column holds more than blanks."""
    return not pc.any(pc.not_equal(pc.utf8_trim_whitespace(column), "")).as_py()


def text_column(cells: list[object], before: int = 0) -> pa.Array:
    """The cells as text; ReadError where one holds what no table can. before: how many rows stand over them."""
    texts = [as_text(cell) for cell in cells]
    try:
        return storable_cells(pa.array(texts, pa.string()), before)
    except UnicodeEncodeError:
        row = before + next(i for i, text in enumerate(texts) if unstorable(text))
        raise _unstorable("half of a character", f"A cell in row {row + 1}", row) from None


def storable_cells(column: Cells, before: int = 0) -> Cells:
    """The column of texts; ReadError where one holds a NUL character."""
    row = before + pc.index(pc.match_substring(column, "\x00"), True).as_py()
    if row >= before:
        raise _unstorable("a NUL character", f"A cell in row {row + 1}", row)
    return column


def unstorable(text: str) -> str:
    """What in a text no table can hold, in words; "" where there is nothing."""
    if "\x00" in text:
        return "a NUL character"
    return "half of a character" if any("\ud800" <= sign <= "\udfff" for sign in text) else ""


def check_storable(raw: "Raw") -> None:
    """Refuse names that hold what no table can, or are longer than any."""
    for index, name in enumerate([*raw.names, *raw.units, *raw.labels.values()]):
        trouble = unstorable(name) or (f"more than {MOST_OF_NAME} characters" if len(name) > MOST_OF_NAME else "")
        if trouble:
            raise _unstorable(trouble, f"The name of column {index % max(len(raw.names), 1) + 1}")
    for words in (*raw.levels.values(), *raw.codes.values(), raw.missing_codes or (), (raw.title,)):
        trouble = next(filter(None, map(unstorable, words)), "")
        if trouble:
            raise _unstorable(trouble, "What the file says of its levels, codes or title")


def _unstorable(trouble: str, where: str, *rows: int) -> ReadError:
    return ReadError(
        "unstorable-text", f"{where} holds {trouble}.", rows=rows, remedy="Write it anew without, or as text."
    )
