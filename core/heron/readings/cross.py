"""How often the values of two variables occur together."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from heron import frequency
from heron.association import Association, of_counts, words_on_association
from heron.checks import Ints
from heron.columns import NUMBER_KINDS
from heron.errors import InputError
from heron.formatting import typeset
from heron.ledger import Series, Used, VariableView
from heron.readings.spread import classes
from heron.readings.subject import Subject, series_of, subject_of, used_of

MOST_COLUMNS = 60
MOST_ROWS = frequency.MOST_CLASSES
_MISSING = "missing"


@dataclass(frozen=True)
class Cross:
    """Counts of a variable's levels or classes within the levels of another, and how closely they go together, rows
    that are missing left out of that. without_level: rows with a value but no level; outside: rows with a value in no
    class, or beyond the levels shown."""

    subject: Subject
    by: str
    used: Used
    table: frequency.CrossCounts
    without_level: int
    outside: int
    association: Association
    words: tuple[str, ...]


def cross(variable: VariableView, by: VariableView, *, missing: bool, options: dict[str, Any]) -> Cross:
    """The variable's levels, or its classes by the options, within each level of another; `missing` gives rows
    without a value and without a level a line and a column of their own."""
    series = series_of(variable, by)
    rows, row_labels = _lines(variable, series, options)
    columns, column_labels = _shown(series, by.symbol)
    if len(column_labels) > MOST_COLUMNS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {len(column_labels)} levels; at most {MOST_COLUMNS} stand side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    known, level = series.reasons(variable.symbol) == 0, columns >= 0
    without, outside = int(np.count_nonzero(known & ~level)), int(np.count_nonzero(known & level & (rows < 0)))
    counted = frequency.cross_counts(rows, row_labels, columns, column_labels)
    together = of_counts(np.array([line.counts for line in counted.rows]).reshape(len(row_labels), -1))
    if missing:
        active = ~series.is_aside(variable.symbol)
        rows = np.where(known | ~active, rows, len(row_labels))
        columns = np.where(level | ~active, columns, len(column_labels))
        row_labels, column_labels = [*row_labels, _MISSING], [*column_labels, _MISSING]
        counted = frequency.cross_counts(rows, row_labels, columns, column_labels)
    words = words_on_association(together, typeset(variable.label), typeset(by.label))
    used = used_of(variable, series)
    return Cross(subject_of(variable), by.label, used, counted, without, outside, together, words)


def _lines(variable: VariableView, series: Series, options: dict[str, Any]) -> tuple[Ints, list[str]]:
    if series.columns[variable.symbol].numbers is None:
        return _shown(series, variable.symbol)
    counted = classes(variable, **options)[2]
    numbers = series.numbers(variable.symbol, (*NUMBER_KINDS, "date-time"))
    index = frequency.places(numbers, counted.boundaries, closed=counted.closed)
    return index, list(frequency.class_labels(counted))


def _shown(series: Series, symbol: str) -> tuple[Ints, list[str]]:
    """The levels that have a row, in their order, and the place of each row among them."""
    levels, index = series.levels(symbol)
    occurring = np.flatnonzero(np.bincount(index[index >= 0], minlength=len(levels)))[:MOST_ROWS]
    row_of = np.full(len(levels) + 1, -1)
    row_of[occurring] = np.arange(occurring.size)
    return row_of[index], [levels[i] for i in occurring.tolist()]
