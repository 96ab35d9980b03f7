"""Repeated columns to rows, and rows to repeated columns."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from heron.checks import Ints
from heron.columns import Column, Table
from heron.errors import InputError
from heron.formatting import counted, there_are
from heron.intake.names import is_unit
from heron.rearranging.made import Made, from_labels, needed, one_after_another, symbol_for, taken_at
from heron.variables import apply_description, labels_of

# A number as it stands behind a name, or alone; a unit or a word may follow it: "dose 0.5", "4 h", "t0 SE".
_REPEATED = re.compile(
    r"(?:(?P<name>.*?[^\W\d_].*?)[ _.:-]*?)??(?P<mark>(?:(?<= )[-+]|^[-+])?(?<![\d.])\d+(?:\.\d+)?)"
    r"[ _.]*(?P<tail>[^\W\d_][^\d]*|[%\u00b0]\S*)?"
)
_SET = re.compile(
    r"(t|time|hours?|days?|weeks?|months?|years?|age|dose|dosage|conc(entration)?|temp(erature)?|depth)", re.I
)
MOST_COLUMNS = 2_000


@dataclass(frozen=True)
class Stem:
    """Columns that repeat one measurement: strength_1 ... strength_5. label: of what they measure; marks: the numbers
    that tell them apart, as they stand; mark_name: what these are, with their unit, "" where the names do not say."""

    label: str
    symbols: tuple[str, ...]
    marks: tuple[str, ...]
    mark_name: str


def stems(table: Table) -> tuple[Stem, ...]:
    """Return the columns that seem to repeat one measurement: like names with numbers, like kinds and units."""
    result: dict[tuple[str, str, str, str, bool], dict[str, str]] = {}
    for symbol, column in table.columns.items():
        part = _REPEATED.fullmatch(column.label)
        if part:
            words = (part["tail"] or "").split()
            unit = words.pop(0) if words and is_unit(words[0], spaced=True) else ""
            name = (part["name"] or "").strip(" _.:-")
            key = name, " ".join(words), unit, column.unit, column.numbers is not None
            result.setdefault(key, {}).setdefault(part["mark"], symbol)
    return tuple(
        _stem(name, tail, unit, members) for (name, tail, unit, *_), members in result.items() if len(members) > 1
    )


def _stem(name: str, tail: str, unit: str, members: Mapping[str, str]) -> Stem:
    """A name such as "dose" is of the numbers; what they measure is then still to be named."""
    of_marks = name if _SET.fullmatch(name) else ""
    mark_name = f"{of_marks or 'at'} ({unit})" if unit else of_marks
    label = " ".join(filter(None, ("value" if of_marks or not name else name, tail)))
    return Stem(label, tuple(members.values()), tuple(members), mark_name)


def longer(table: Table, sets: Mapping[str, Sequence[str]], *, marks: Sequence[str], mark_name: str) -> Made:
    """Return the table with repeated columns as rows: each row once for every mark, its other values repeated.

    Parameters: sets, the columns of each measurement by its new name, one column for each mark, in their order; marks,
    what tells the columns apart (text; whole numbers make an ordered variable), under the name mark_name.
    Returns: Made; a row's marks stand one after another, below the row before.
    Raises: InputError for columns that are not there, or sets that do not have one column for each mark.
    """
    if not sets or not marks:
        raise InputError("no-columns", "No repeated columns are named.", where="sets", remedy="Choose at least two.")
    twice = next((mark for mark in marks if list(marks).count(mark) > 1), None)
    if twice is not None:
        members = next(iter(sets.values()))
        named = [
            table[s].label for s, mark in zip(members, marks, strict=False) if mark == twice and s in table.columns
        ]
        raise InputError(
            "repeated-marks", f"{twice} stands for several columns: {', '.join(named)}.", where="marks",
            remedy="Give each column a mark of its own.",
        )  # fmt: skip
    for name, members in sets.items():
        if len(members) != len(marks):
            raise InputError(
                "unlike-sets",
                f"{name} has {counted(len(members), 'column')}, but {there_are(len(marks))} marks.",
                where="sets",
                remedy="Choose one column for each mark.",
            )
    repeated = {symbol for members in sets.values() for symbol in members}
    needed(table, sorted(repeated))
    k, n = len(marks), table.n_rows
    rows = np.repeat(np.arange(n), k)
    columns = {s: taken_at(column, rows) for s, column in table.columns.items() if s not in repeated}
    symbol = symbol_for(mark_name, list(columns))
    mark = from_labels(symbol, mark_name.strip(), list(marks), np.tile(np.arange(k), n))
    if mark.numbers is not None and (mark.decimals or 0) == 0:
        mark = apply_description(mark, {"kind": "ordered"})
    columns[symbol] = mark
    woven = np.arange(n * k).reshape(k, n).T.ravel()
    for name, members in sets.items():
        parts = needed(table, members)
        symbol = symbol_for(name, list(columns))
        column = taken_at(one_after_another(parts), woven)
        units = {part.unit for part in parts}
        columns[symbol] = replace(
            column, symbol=symbol, label=name.strip(), unit=units.pop() if len(units) == 1 else ""
        )
    return Made(Table(f"{table.name}, longer", n * k, columns), rows * k + np.tile(np.arange(k), n))


def wider(table: Table, *, keys: Sequence[str], mark: str, values: Sequence[str]) -> Made:
    """Return the table with one row for each combination of the keys, and a column for each level of the mark.

    Other columns stay where they are the same throughout each combination. Raises: InputError where a combination
    has one level of the mark twice, with those rows, or where keys or mark are missing.
    """
    key_columns, (mark_column,) = needed(table, keys), needed(table, [mark])
    value_columns = needed(table, values)
    if not keys or not values:
        raise InputError("no-columns", "Keys and values are needed.", where="keys", remedy="Choose at least one each.")
    levels, level_of = labels_of(mark_column)
    if len(levels) * len(values) > MOST_COLUMNS:
        raise InputError(
            "too-many-columns", f"{mark_column.label} has {len(levels)} levels; that is too many columns.", where="mark"
        )
    key_of, first = _combinations(key_columns, table.n_rows)
    if np.any(level_of < 0):
        lost = np.flatnonzero(level_of < 0)
        raise InputError(
            "missing-mark",
            f"{mark_column.label} is missing in {counted(lost.size, 'row')}.",
            where="mark",
            rows=lost[:100].tolist(),
            remedy="Set them aside in a table of their own first, or fill them.",
        )
    cell = key_of * max(len(levels), 1) + level_of
    order = np.argsort(cell, kind="stable")
    twice = order[1:][np.diff(cell[order]) == 0] if cell.size else order
    if twice.size:
        raise InputError(
            "repeated-keys",
            f"{counted(twice.size, 'row')} would fall on a cell that is taken: another has the same "
            f"{', '.join(column.label for column in key_columns)} and {mark_column.label}.",
            where="keys",
            rows=np.sort(twice)[:100].tolist(),
            remedy="Choose more keys, so that each combination has each level once.",
        )
    n = first.size
    columns: dict[str, Column] = {}
    varying = []
    for symbol, column in table.columns.items():
        if symbol in (mark, *values):
            continue
        if symbol in keys or _constant_within(column, key_of, first):
            columns[symbol] = taken_at(column, first)
        else:
            varying.append(column.label)
    for column in value_columns:
        for position, level in enumerate(levels):
            at = np.full(n, -1, dtype=np.int64)
            rows = np.flatnonzero(level_of == position)
            at[key_of[rows]] = rows
            symbol = symbol_for(f"{column.symbol} {level}", list(columns))
            columns[symbol] = replace(taken_at(column, at), symbol=symbol, label=f"{column.label} {level}")
    notes = [f"Left out, since they differ within a row: {', '.join(varying)}."] if varying else []
    return Made(Table(f"{table.name}, wider", n, columns), first, tuple(notes))


def _combinations(keys: Sequence[Column], n: int) -> tuple[Ints, Ints]:
    """The number of each row's combination of key values, in the order of first appearance, and its first row."""
    joint = np.zeros(n, dtype=np.int64)
    for column in keys:
        levels, index = labels_of(column)
        joint = np.unique(joint * (len(levels) + 1) + index + 1, return_inverse=True)[1].astype(np.int64)
    _, first, index = np.unique(joint, return_index=True, return_inverse=True)
    order = np.argsort(first)
    rank = np.empty_like(order)
    rank[order] = np.arange(order.size)
    return rank[index], first[order]


def _constant_within(column: Column, key_of: Ints, first: Ints) -> bool:
    _, index = labels_of(column)
    return bool(np.all(index == index[first][key_of]))
