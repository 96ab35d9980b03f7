"""A column split into parts, and columns joined into one."""

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from heron.columns import Column, Table
from heron.errors import InputError
from heron.formatting import counted
from heron.rearranging.made import Made, from_labels, needed, symbol_for
from heron.variables import labels_of

_MOST_PARTS = 50


def split(table: Table, symbol: str, *, at: str, names: Sequence[str] = ()) -> Made:
    """Return the table with a variable's text split wherever `at` stands, into variables of their own beside it.

    names: for the parts, in their order; those not named are called after the variable. A part that is a number in
    every row becomes numbers. Rows with fewer parts have blanks, and are counted in the notes.
    """
    (column,) = needed(table, [symbol])
    if not at:
        raise InputError("no-delimiter", "Say at which mark to split.", where="at", remedy="Type it, such as - or /.")
    texts, index = labels_of(column)
    pieces = [[piece.strip() for piece in text.split(at)] for text in texts]
    width = max((len(piece) for piece in pieces), default=1)
    if width < 2:
        raise InputError("nothing-to-split", f"{at!r} stands nowhere in {column.label}.", where="at")
    if width > _MOST_PARTS:
        raise InputError("too-many-parts", f"{column.label} would have {width} parts.", where="at")
    columns: dict[str, Column] = {}
    for column_symbol, each in table.columns.items():
        columns[column_symbol] = each
        if column_symbol != symbol:
            continue
        for part in range(width):
            named = names[part].strip() if part < len(names) else ""
            name = named or f"{column.label} {part + 1}"
            taken = [*table.columns, *columns]
            fresh = symbol_for(name, taken)
            columns[fresh] = from_labels(
                fresh, name, [piece[part] if part < len(piece) else None for piece in pieces], index
            )
    counts = np.bincount(index[index >= 0], minlength=len(texts))
    fewer = int(sum(counts[i] for i, piece in enumerate(pieces) if len(piece) < width))
    notes = (f"{counted(fewer, 'row')} {'has' if fewer == 1 else 'have'} fewer than {width} parts.",) if fewer else ()
    return Made(replace(table, name=f"{table.name}, split", columns=columns), np.arange(table.n_rows), notes)


def join(table: Table, symbols: Sequence[str], *, between: str, name: str) -> Made:
    """Return the table with a further variable: the texts of several, in their order, with `between` between them.
    Where one of them is missing the joined one is blank."""
    parts = needed(table, symbols)
    if len(parts) < 2:
        raise InputError("too-few-columns", "Choose at least two variables to join.", where="variables")
    known = np.ones(table.n_rows, dtype=bool)
    texts = []
    for column in parts:
        levels, index = labels_of(column)
        known &= index >= 0
        texts.append(np.array([*levels, ""], dtype=object)[index])
    joined = texts[0].copy()
    for text in texts[1:]:
        joined = joined + between + text
    joined[~known] = ""
    distinct, index = np.unique(joined.astype(str), return_inverse=True)
    fresh = symbol_for(name, list(table.columns))
    levels = [str(text) for text in distinct]
    column = from_labels(fresh, name.strip(), [level or None for level in levels], index)
    return Made(
        replace(table, name=f"{table.name}, joined", columns={**table.columns, fresh: column}),
        np.arange(table.n_rows),
    )
