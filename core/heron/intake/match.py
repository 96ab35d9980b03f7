"""Two readings of one file: which rows and variables of the first are which of the second."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heron.columns import Column, Table
from heron.formatting import counted, grouped

_SHIFTS = (0, *(sign * step for step in range(1, 13) for sign in (1, -1)))
_LOOKED_AT = 200


@dataclass(frozen=True)
class Match:
    """How the rows of an earlier reading are numbered in a later one.

    moves: (first, last, new first), row numbers from 1; empty where the rows are not the same. n: rows matched;
    n_gone, n_new: rows of only the earlier, only the later; n_changed: cells of matched rows and variables that are
    read otherwise. words: all of it, a sentence each.
    """

    moves: tuple[tuple[int, int, int], ...]
    n: int
    n_gone: int
    n_new: int
    n_changed: int
    gone: tuple[str, ...]
    new: tuple[str, ...]
    words: tuple[str, ...]


def match(before: Table, after: Table) -> Match:
    """Return which rows of one reading are which of another: a few lines may have become rows or stopped being rows."""
    gone = tuple(symbol for symbol in before if symbol not in after.columns)
    new = tuple(symbol for symbol in after if symbol not in before.columns)
    shift = _shift(before, after)
    if shift is None:
        lost = "The rows are not those of the reading before: decisions on rows and cells rest until it is taken back."
        return Match((), 0, before.n_rows, after.n_rows, 0, gone, new, (lost,))
    first, last = max(1, 1 - shift), min(before.n_rows, after.n_rows - shift)
    n = max(0, last - first + 1)
    moves = ((first, last, first + shift),) if n else ()
    changed = 0
    rows, moved = slice(first - 1, last), slice(first - 1 + shift, last + shift)
    for symbol in before:
        if symbol in after.columns:
            changed += _differences(before[symbol], after[symbol], rows, moved)
    n_gone, n_new = before.n_rows - n, after.n_rows - n
    words = [f"{counted(n, 'row')} matched" + (f", {_moved(shift)}" if shift else "") + "."]
    words += [f"{counted(n_gone, 'row')} of before {'is' if n_gone == 1 else 'are'} no longer there."] if n_gone else []
    words += [f"{counted(n_new, 'row')} {'is' if n_new == 1 else 'are'} new."] if n_new else []
    words += [f"No longer there: {', '.join(gone)}."] if gone else []
    words += [f"New: {', '.join(new)}."] if new else []
    words += [f"{counted(changed, 'cell')} {'is' if changed == 1 else 'are'} read otherwise."] if changed else []
    return Match(moves, n, n_gone, n_new, changed, gone, new, tuple(words))


def _moved(shift: int) -> str:
    return f"each numbered {grouped(abs(shift))} {'more' if shift > 0 else 'less'} than before"


def _shift(before: Table, after: Table) -> int | None:
    """By how much rows are numbered otherwise, from how many of the first cells agree; None where few do."""
    pairs = list(zip(before.columns.values(), after.columns.values(), strict=False))[:12]
    if not pairs or before.n_rows == 0 or after.n_rows == 0:
        return 0 if before.n_rows == after.n_rows == 0 else None
    looked = min(before.n_rows, _LOOKED_AT)
    texts = [
        (_texts(old, slice(0, looked)), _texts(fresh, slice(0, looked + max(_SHIFTS) + 1))) for old, fresh in pairs
    ]
    best, share = 0, 0.0
    for shift in _SHIFTS:
        agree = total = 0
        for old, fresh in texts:
            kept, other = (old, fresh[shift:]) if shift >= 0 else (old[-shift:], fresh)
            length = min(len(kept), len(other))
            agree += int(np.count_nonzero(kept[:length] == other[:length]))
            total += length
        if total and agree / total > share:
            best, share = shift, agree / total
    return best if share >= 0.5 else None


def _texts(column: Column, rows: slice) -> NDArray[np.object_]:
    """The cells as plain texts, numbers without idle digits."""
    codes = np.array(["", *column.missing_codes], dtype=object)
    if column.codes is not None:
        plain = np.array([*(_bare(level) for level in column.levels), ""], dtype=object)[column.codes[rows]]
    else:
        assert column.numbers is not None
        values = column.values[rows] if column.kind == "date-time" else column.numbers[rows]
        plain = np.array([_bare(str(value)) for value in values], dtype=object)
    reasons = column.reasons[rows]
    return np.where(reasons > 0, np.array([_bare(code) for code in codes], dtype=object)[reasons], plain)


def _bare(text: str) -> str:
    try:
        return f"{float(text):.12g}"
    except ValueError:
        return "" if text == "blank" else text


def _differences(old: Column, fresh: Column, rows: slice, moved: slice) -> int:
    if old.numbers is not None and fresh.numbers is not None:
        unlike = old.numbers[rows] != fresh.numbers[moved]
        both_missing = (old.reasons[rows] > 0) & (fresh.reasons[moved] > 0)
        return int(np.count_nonzero(unlike & ~both_missing))
    if old.codes is not None and fresh.codes is not None and old.levels == fresh.levels:
        return int(np.count_nonzero(old.codes[rows] != fresh.codes[moved]))
    return int(np.count_nonzero(_texts(old, rows) != _texts(fresh, moved)))
