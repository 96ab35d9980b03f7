"""Tables put together, and a table narrowed."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Ints
from heron.columns import Column, Table
from heron.errors import InputError
from heron.formatting import counted
from heron.rearranging.made import Made, from_labels, needed, one_after_another, symbol_for, taken_at
from heron.variables import labels_of

# Rows of each table in a stack have their own range of keys.
_ROWS_PER_TABLE = 1 << 32


@dataclass(frozen=True)
class Condition:
    """What a row must meet: values from low to high (either may be None), one of some levels, missing or known."""

    variable: str
    test: Literal["between", "levels", "missing", "known"]
    low: float | None = None
    high: float | None = None
    levels: tuple[str, ...] = ()


def stack(tables: Sequence[Table], *, name: str = "table") -> Made:
    """Return the rows of several tables, one table after another, with a first variable that says from which.

    Columns are matched by symbol; where a table has none of that name its rows are blank there, and the notes say so.
    """
    if len(tables) < 2:
        raise InputError("too-few-tables", "Choose at least two tables to stack.", where="tables")
    sizes = np.array([table.n_rows for table in tables])
    which = np.repeat(np.arange(len(tables)), sizes)
    every = list(dict.fromkeys(symbol for table in tables for symbol in table))
    source_symbol = symbol_for(name, every)
    names = [
        table.name if [t.name for t in tables].count(table.name) == 1 else f"{table.name} ({i})"
        for i, table in enumerate(tables, 1)
    ]
    columns = {source_symbol: from_labels(source_symbol, name.strip(), list(names), which)}
    notes = []
    for symbol in every:
        having = [table for table in tables if symbol in table.columns]
        parts = []
        for table in tables:
            model = table.columns.get(symbol) or having[0][symbol]
            blank = np.full(table.n_rows, -1) if symbol not in table.columns else np.arange(table.n_rows)
            parts.append(taken_at(model, blank) if symbol not in table.columns else model)
        columns[symbol] = one_after_another(parts)
        if len(having) < len(tables):
            lacking = ", ".join(table.name for table in tables if symbol not in table.columns)
            notes.append(f"{columns[symbol].label} is blank in the rows of {lacking}, which has none.")
    origins = np.concatenate([i * _ROWS_PER_TABLE + np.arange(table.n_rows) for i, table in enumerate(tables)])
    return Made(Table(" and ".join(names)[:200], int(sizes.sum()), columns), origins, tuple(notes))


def look_up(
    table: Table, other: Table, *, key: str | Sequence[str], other_key: str | Sequence[str], symbols: Sequence[str]
) -> Made:
    """Return the table with columns of another beside its own, found by a key that both have, or by several together.

    Every row stays. Keys without a partner give blanks; of a key that occurs more than once in the other table the
    first row is taken. The notes list both, and `rows` the positions of the rows without a partner.
    """
    mine, theirs = (
        needed(one, [keys] if isinstance(keys, str) else keys) for one, keys in ((table, key), (other, other_key))
    )
    if not mine or len(mine) != len(theirs):
        raise InputError(
            "unlike-keys", "Each key needs its partner in the other table.", where="key", remedy="Choose one for each."
        )
    wanted = needed(other, symbols)
    if not wanted:
        raise InputError("no-columns", "Choose which variables to look up.", where="symbols")
    texts, index = _together(mine)
    their_texts, their_index = _together(theirs)
    first = np.full(len(their_texts), -1, dtype=np.int64)
    known = np.flatnonzero(their_index >= 0)
    first[their_index[known[::-1]]] = known[::-1]
    row_of = {text: int(row) for text, row in zip(map(_plainly, their_texts), first, strict=True)}
    at = np.array([*(row_of.get(_plainly(text), -1) for text in texts), -1], dtype=np.int64)[index]
    columns = dict(table.columns)
    for column in wanted:
        symbol = symbol_for(
            column.symbol if column.symbol not in columns else f"{column.label} {other.name}", list(columns)
        )
        columns[symbol] = replace(taken_at(column, at), symbol=symbol)
    lost = np.flatnonzero(at < 0)
    notes = []
    if lost.size:
        unmatched = list(dict.fromkeys(" ".join(texts[i]) for i in index[lost] if i >= 0))
        some = ", ".join(unmatched[:8]) + (" …" if len(unmatched) > 8 else "")
        notes.append(f"{counted(lost.size, 'row')} without a partner{': ' + some if unmatched else ''}.")
    counts = np.bincount(their_index[known], minlength=len(their_texts))
    twice = [" ".join(text) for text, count in zip(their_texts, counts, strict=True) if count > 1]
    if twice:
        some = ", ".join(twice[:8]) + (" …" if len(twice) > 8 else "")
        notes.append(f"{counted(len(twice), 'key')} more than once in {other.name}, the first row taken: {some}.")
    mine_plain = set(map(_plainly, texts))
    unused = [" ".join(text) for text in their_texts if _plainly(text) not in mine_plain]
    if unused:
        some = ", ".join(unused[:8]) + (" …" if len(unused) > 8 else "")
        notes.append(f"{counted(len(unused), 'key')} of {other.name} not asked for: {some}.")
    made = replace(table, name=f"{table.name} with {other.name}"[:200], columns=columns)
    return Made(made, np.arange(table.n_rows), tuple(notes), tuple(lost[:1000].tolist()))


def _together(keys: Sequence[Column]) -> tuple[list[tuple[str, ...]], Ints]:
    """The combinations of keys that occur, as text in the order of their rows, and the index of each row among them; -1
    where a key is missing."""
    parts = [labels_of(key) for key in keys]
    joint = np.zeros(keys[0].n_rows, dtype=np.int64)
    missing = np.zeros(keys[0].n_rows, dtype=bool)
    for levels, index in parts:
        joint = np.unique(joint * (len(levels) + 1) + index, return_inverse=True)[1].astype(np.int64)
        missing |= index < 0
    known = np.flatnonzero(~missing)
    _, first, place = np.unique(joint[known], return_index=True, return_inverse=True)
    result = np.full(missing.size, -1, dtype=np.int64)
    result[known] = place
    return [tuple(levels[index[row]] for levels, index in parts) for row in known[first]], result


def _plainly(texts: tuple[str, ...]) -> tuple[str, ...]:
    return tuple(map(_plain, texts))


def _plain(text: str) -> str:
    """A key as it is compared: numbers by their value, so that 7 and 7.0 are one."""
    try:
        return f"{float(text):.15g}"
    except ValueError:
        return text.strip()


def subset(table: Table, conditions: Sequence[Condition], *, symbols: Sequence[str] = ()) -> Made:
    """Return the rows that meet all conditions, and the columns named (all where none is)."""
    kept: NDArray[np.bool_] = np.ones(table.n_rows, dtype=bool)
    for condition in conditions:
        (column,) = needed(table, [condition.variable])
        kept &= _meets(column, condition)
    rows = np.flatnonzero(kept)
    columns = {column.symbol: taken_at(column, rows) for column in needed(table, symbols or list(table))}
    notes = () if rows.size else ("No row meets all conditions.",)
    return Made(Table(f"{table.name}, part", rows.size, columns), rows, notes)


def _meets(column: Column, condition: Condition) -> NDArray[np.bool_]:
    known: NDArray[np.bool_] = column.reasons == 0
    if condition.test in ("missing", "known"):
        return ~known if condition.test == "missing" else known
    if condition.test == "levels":
        texts, index = labels_of(column)
        wanted = [i for i, text in enumerate(texts) if text in condition.levels]
        result: NDArray[np.bool_] = np.isin(index, wanted)
        return result
    if column.numbers is None:
        raise InputError(
            "not-numeric", f"{column.label} has no numbers to compare.", where="conditions", remedy="Choose levels."
        )
    low = -np.inf if condition.low is None else condition.low
    high = np.inf if condition.high is None else condition.high
    within: NDArray[np.bool_] = known & (column.numbers >= low) & (column.numbers <= high)
    return within
