"""A table of numbers for publication: what stands in it, before it is written with so many decimals in some format."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from heron.figure.scene import Number

Form = Literal["value", "count", "percent", "p"]


@dataclass(frozen=True)
class Figure:
    """A number in a cell. decimals: as the data suggest."""

    value: float
    form: Form = "value"
    decimals: int = 0


@dataclass(frozen=True)
class Cell:
    """What stands in a place. pattern: how its figures stand together, as "{} ({})"; text: words in their place; se:
    the standard error by which decimals may be chosen; None where there is none."""

    pattern: str = "{}"
    figures: tuple[Figure, ...] = ()
    text: str = ""
    se: float | None = None

    @property
    def is_whole(self) -> bool:
        """Whether each of its figures is a number."""
        return all(math.isfinite(figure.value) for figure in self.figures)


def cell(pattern: str, *values: float | None, decimals: int = 0, form: Form = "value", se: float | None = None) -> Cell:
    """A cell of numbers in one form; a dash where any of them is missing."""
    if any(value is None or not math.isfinite(value) for value in values):
        return Cell(text="–")
    return Cell(pattern, tuple(Figure(float(value), form, decimals) for value in values if value is not None), se=se)


def count_of(n: int) -> Cell:
    return Cell(figures=(Figure(float(n), "count"),))


def share_of(n: int, of: int) -> Cell:
    """A count with its percent."""
    if of == 0:
        return Cell(text="–")
    return Cell("{} ({})", (Figure(float(n), "count"), Figure(100 * n / of, "percent", 1)))


def p_of(p: float | None) -> Cell:
    return Cell(text="–") if p is None else Cell(figures=(Figure(p, "p"),))


@dataclass(frozen=True)
class Column:
    """key: by which documents name it; n: of how many rows, None where it says no n; note: keys of footnotes."""

    key: str
    label: str
    n: int | None = None
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Row:
    """key: by which documents name it; depth: 1 for what stands under a heading; cells: none for a heading, else one
    for each column; precision: decimals of the data, None where it has none; notes: keys of footnotes."""

    key: str
    label: str
    cells: tuple[Cell, ...] = ()
    depth: int = 0
    precision: int | None = None
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Footnote:
    """What is said below a table. key: by which rows and columns refer to it, "" for what holds for all of it."""

    key: str
    words: str


@dataclass(frozen=True)
class NumberTable:
    """A table of numbers. subject: what the table shows, as its caption begins; stub: what the first column holds, and
    across, what the others are of; methods: what its numbers were found by, as `uses_of` knows them."""

    kind: str
    subject: str
    stub: str
    columns: tuple[Column, ...]
    rows: tuple[Row, ...]
    notes: tuple[Footnote, ...] = ()
    across: str = ""
    methods: tuple[str, ...] = ()

    @property
    def numbers(self) -> tuple[Number, ...]:
        """Every number by the names of its row and its column."""
        return tuple(self._numbers())

    def _numbers(self) -> Iterator[Number]:
        heading = ""
        for row in self.rows:
            heading = row.label if row.depth == 0 else heading
            name = f"{heading}, {row.label}" if row.depth else row.label
            for column, held in zip(self.columns, row.cells, strict=False):
                for i, figure in enumerate(held.figures):
                    yield Number(f"{name}, {column.label}{f' {i + 1}' if i else ''}", figure.value, "")

    def turned(self) -> "NumberTable":
        """The table with its columns as rows; rows under a heading carry its name."""
        lines, heading = [], ""
        for row in self.rows:
            if row.depth == 0:
                heading = row.label
            if row.cells:
                lines.append((row, f"{heading}: {row.label}" if row.depth else row.label))
        columns = tuple(Column(row.key, label, None, row.notes) for row, label in lines)
        rows = tuple(
            Row(column.key, column.label, tuple(row.cells[i] for row, _ in lines), 0, None, column.notes)
            for i, column in enumerate(self.columns)
        )
        if any(column.n is not None for column in self.columns):
            columns = (Column("n", "n"), *columns)
            sizes = [Cell() if column.n is None else count_of(column.n) for column in self.columns]
            rows = tuple(replace(row, cells=(n, *row.cells)) for row, n in zip(rows, sizes, strict=True))
        return replace(self, stub=self.across, across=self.stub, columns=columns, rows=rows)
