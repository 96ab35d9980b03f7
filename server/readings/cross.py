"""How often the values of two variables occur together."""

from dataclasses import dataclass
from typing import Any

import numpy as np
from heron import frequency
from heron.checks import Ints
from heron.columns import Column
from heron.errors import InputError
from heron.variables import labels_of

from server.readings.selectors import Subject, Used, subject_of, used_rows, weights_of
from server.readings.spread import classes
from server.studies import store
from server.studies.models import Variable

MOST_COLUMNS = 60
MOST_ROWS = frequency.MOST_CLASSES
_MISSING = "missing"


@dataclass(frozen=True)
class Cross:
    """Counts of a variable's levels or classes within the levels of another. without_level: rows with a value but no
    level; outside: rows with a value in no class, or beyond the levels shown."""

    subject: Subject
    by: str
    used: Used
    table: frequency.CrossCounts
    without_level: int
    outside: int


def cross(variable: Variable, by: Variable, *, missing: bool, options: dict[str, Any]) -> Cross:
    """The variable's levels, or its classes by the options, within each level of another; `missing` gives rows
    without a value and without a level a line and a column of their own."""
    column, other = store.column(variable), store.column(by)
    rows, row_labels = _lines(variable, column, options)
    columns, column_labels = _shown(other)
    if len(column_labels) > MOST_COLUMNS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {len(column_labels)} levels; at most {MOST_COLUMNS} stand side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    known, level = column.reasons == 0, columns >= 0
    weights = weights_of(variable)
    each = np.ones(known.size) if weights is None else weights.counts
    without, outside = int(each[known & ~level].sum()), int(each[known & level & (rows < 0)].sum())
    if missing:
        here = column.reasons != _aside_code(column)
        rows = np.where(known | ~here, rows, len(row_labels))
        columns = np.where(level | ~here, columns, len(column_labels))
        row_labels, column_labels = [*row_labels, _MISSING], [*column_labels, _MISSING]
    counted = frequency.cross_counts(rows, row_labels, columns, column_labels, weights=each)
    return Cross(subject_of(variable), by.label, used_rows(variable), counted, without, outside)


def _aside_code(column: Column) -> int:
    return column.missing_codes.index("set aside") + 1 if "set aside" in column.missing_codes else -1


def _lines(variable: Variable, column: Column, options: dict[str, Any]) -> tuple[Ints, list[str]]:
    if column.numbers is None:
        return _shown(column)
    counted = classes(variable, **options)[2]
    index = frequency.places(column.numbers, counted.boundaries, closed=counted.closed)
    return index, list(frequency.class_labels(counted))


def _shown(column: Column) -> tuple[Ints, list[str]]:
    """The levels that have a row, in their order, and the place of each row among them."""
    levels, index = labels_of(column)
    here = np.flatnonzero(np.bincount(index[index >= 0], minlength=len(levels)))[:MOST_ROWS]
    place = np.full(len(levels) + 1, -1)
    place[here] = np.arange(here.size)
    return place[index], [levels[i] for i in here.tolist()]
