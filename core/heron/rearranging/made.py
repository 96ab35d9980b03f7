"""What every rearrangement gives, and how columns are taken apart and put together."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heron.checks import Ints
from heron.columns import Column, Table
from heron.errors import InputError
from heron.intake import symbols as safe_symbols
from heron.variables import apply_description


@dataclass(frozen=True)
class Made:
    """A table made of others. origins: (n_rows,) a key for each row that stays the same while its sources have the
    row. notes: what a reader should know of it, a sentence each; rows: positions, from 0, of the first source that the
    notes speak of."""

    table: Table
    origins: Ints
    notes: tuple[str, ...] = ()
    rows: tuple[int, ...] = ()


def needed(table: Table, symbols: Sequence[str]) -> list[Column]:
    """The columns named; an InputError where the table has one no more."""
    for symbol in symbols:
        if symbol not in table.columns:
            raise InputError(
                "no-variable", f"{table.name} has no variable {symbol!r}.", where="variables", remedy="Choose another."
            )
    return [table[symbol] for symbol in symbols]


def symbol_for(name: str, taken: Sequence[str]) -> str:
    """A safe symbol for a new variable, unlike those taken."""
    if not name.strip():
        raise InputError("no-name", "The new variable needs a name.", where="name", remedy="Type one.")
    return safe_symbols([*taken, name])[-1]


def taken_at(column: Column, positions: NDArray[np.int64]) -> Column:
    """The column's rows at positions, in their order; -1 gives a blank."""
    known = positions >= 0
    if column.n_rows == 0:
        known[:] = False
    at = np.where(known, positions, 0)
    reasons = np.ones(positions.size, dtype=np.uint8)
    reasons[known] = column.reasons[at[known]]
    numbers = codes = limits = None
    if column.numbers is not None:
        numbers = np.full(positions.size, np.nan)
        numbers[known] = column.numbers[at[known]]
    if column.codes is not None:
        codes = np.full(positions.size, -1, dtype=np.int32)
        codes[known] = column.codes[at[known]]
    if column.limits is not None:
        limits = np.full(positions.size, np.nan)
        limits[known] = column.limits[at[known]]
    return replace(column, numbers=numbers, codes=codes, limits=limits, reasons=reasons)


def one_after_another(columns: Sequence[Column]) -> Column:
    """Columns of like kind as one, each after the one before; of unlike kinds, as labels."""
    first = columns[0]
    numeric = all(column.numbers is not None for column in columns)
    times = {column.kind == "date-time" for column in columns}
    if not (numeric and len(times) == 1) and any(column.numbers is not None for column in columns):
        columns = [apply_description(column, {"kind": "category"}) for column in columns]
        first, numeric = columns[0], False
    codes = tuple(dict.fromkeys(code for column in columns for code in column.missing_codes))
    reasons = np.concatenate(
        [
            np.array([0, *(codes.index(code) + 1 for code in column.missing_codes)], dtype=np.uint8)[column.reasons]
            for column in columns
        ]
    )
    if numeric:
        numbers = np.concatenate([column.numbers for column in columns if column.numbers is not None])
        limits = None
        if any(column.limits is not None for column in columns):
            blank = [np.full(column.n_rows, np.nan) if column.limits is None else column.limits for column in columns]
            limits = np.concatenate(blank)
        places = [column.decimals for column in columns if column.decimals is not None]
        kind = first.kind if len({column.kind for column in columns}) == 1 else "continuous"
        levels = tuple(dict.fromkeys(level for column in columns for level in column.levels))
        return replace(
            first,
            kind=kind,
            numbers=numbers,
            codes=None,
            reasons=reasons,
            missing_codes=codes,
            decimals=max(places, default=None),
            levels=levels if kind == "ordered" else (),
            limits=limits,
        )
    levels = tuple(dict.fromkeys(level for column in columns for level in column.levels))
    kind = first.kind if len({column.kind for column in columns}) == 1 else "category"
    if kind == "category" and first.kind != "ordered":
        levels = tuple(sorted(levels))
    code_of = {level: position for position, level in enumerate(levels)}
    labels = np.concatenate(
        [
            np.array([*(code_of[level] for level in column.levels), -1], dtype=np.int32)[column.codes]
            for column in columns
        ]
    )
    return replace(
        first,
        kind=kind,
        numbers=None,
        codes=labels,
        levels=levels,
        reasons=reasons,
        missing_codes=codes,
        decimals=None,
        limits=None,
        level_numbers=(),
    )


def from_labels(symbol: str, label: str, texts: Sequence[str | None], index: Ints) -> Column:
    """A column of labels from distinct texts and the index of each row among them (None is blank): numbers where all
    of them are, in their own order; else a category."""
    known = [text for text in texts if text]
    numeric = bool(known) and all(re.fullmatch(r"[-+]?(\d+(\.\d*)?|\.\d+)", text) for text in known)
    levels = tuple(dict.fromkeys(sorted(known, key=float) if numeric else sorted(known)))
    code_of = {level: position for position, level in enumerate(levels)}
    codes = np.array([*(code_of[text] if text else -1 for text in texts), -1], dtype=np.int32)[index]
    reasons = (codes < 0).astype(np.uint8)
    column = Column(symbol, label, "", "category", None, codes, levels, reasons)
    return apply_description(column, {"kind": "continuous"}) if numeric else column
