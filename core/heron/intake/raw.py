"""A table on its way in: every cell as text, before the columns are typed."""

from dataclasses import dataclass, field
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from heron.columns import Kind
from heron.intake.found import Guess, Problem

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


def text_column(cells: list[object]) -> pa.Array:
    return pa.array([as_text(cell) for cell in cells], pa.string())
