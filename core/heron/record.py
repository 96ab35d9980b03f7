"""Decisions on a table, in order, and what follows: what is set aside, and how variables are described."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Ints
from heron.columns import Table
from heron.errors import InputError

Kind = Literal["set-aside", "put-back", "describe", "undo", "redo"]
Description = dict[str, str | float | None]
Runs = tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class Decision:
    """One entry of the ledger. rows: runs of row numbers (from 1, both ends belong); variable: the symbol whose values
    are meant, "" for whole rows; changes: for describe, what the variable is said to be (label, unit, lower, upper,
    note); of: for undo and redo, the number of the entry that is taken back or made again."""

    number: int
    kind: Kind
    rows: Runs = ()
    variable: str = ""
    of: int = 0
    changes: Description = field(default_factory=dict)


@dataclass(frozen=True)
class Aside:
    """What is set aside: whole rows, and single values by variable; runs of row numbers."""

    rows: Runs = ()
    values: dict[str, Runs] = field(default_factory=dict)


def to_runs(rows: Iterable[int]) -> Runs:
    """Row numbers as runs, ascending and without repeats: 4, 5, 6, 9 are (4, 6), (9, 9)."""
    ordered = np.unique(np.fromiter(rows, dtype=np.int64))
    if ordered.size == 0:
        return ()
    breaks = np.flatnonzero(np.diff(ordered) > 1)
    starts = ordered[np.concatenate(([0], breaks + 1))]
    ends = ordered[np.concatenate((breaks, [ordered.size - 1]))]
    return tuple((int(a), int(b)) for a, b in zip(starts, ends, strict=True))


def from_runs(runs: Iterable[Sequence[int]]) -> Ints:
    """The row numbers that runs hold, ascending."""
    parts = [np.arange(a, b + 1, dtype=np.int64) for a, b in runs]
    return np.unique(np.concatenate(parts)) if parts else np.empty(0, dtype=np.int64)


def standing(decisions: Sequence[Decision]) -> tuple[Decision, ...]:
    """The decisions that stand: those that were not undone, or were made again."""
    undone: set[int] = set()
    for decision in decisions:
        if decision.kind == "undo":
            undone.add(decision.of)
        elif decision.kind == "redo":
            undone.discard(decision.of)
    return tuple(d for d in decisions if d.kind not in ("undo", "redo") and d.number not in undone)


def undone_last(decisions: Sequence[Decision]) -> int | None:
    """The entry that can be made again: the one undone last, as long as nothing else was decided since."""
    waiting: list[int] = []
    for decision in decisions:
        if decision.kind == "undo":
            waiting.append(decision.of)
        elif decision.kind == "redo":
            waiting.remove(decision.of)
        else:
            waiting.clear()
    return waiting[-1] if waiting else None


def aside_after(decisions: Sequence[Decision]) -> Aside:
    """What is set aside once all decisions are taken in their order."""
    rows: NDArray[np.int64] = np.empty(0, dtype=np.int64)
    values: dict[str, NDArray[np.int64]] = {}
    for decision in standing(decisions):
        if decision.kind == "describe":
            continue
        named = from_runs(decision.rows)
        before = values.get(decision.variable, np.empty(0, dtype=np.int64)) if decision.variable else rows
        after = np.union1d(before, named) if decision.kind == "set-aside" else np.setdiff1d(before, named)
        if decision.variable:
            values[decision.variable] = after
        else:
            rows = after
    return Aside(to_runs(rows), {symbol: to_runs(held) for symbol, held in sorted(values.items()) if held.size})


def described_after(decisions: Sequence[Decision]) -> dict[str, Description]:
    """What each variable is said to be, by symbol, later words over earlier ones."""
    said: dict[str, Description] = {}
    for decision in standing(decisions):
        if decision.kind == "describe":
            said[decision.variable] = said.get(decision.variable, {}) | decision.changes
    return said


def replay(decisions: Sequence[Decision], original: Table) -> Table:
    """Return the original table with what the decisions set aside marked as missing, by the code "set aside", and
    with the labels and units that they gave.

    Raises: InputError where a decision names a row or variable that the table does not have.
    """
    for decision in decisions:
        last = max((end for _, end in decision.rows), default=0)
        first = min((start for start, _ in decision.rows), default=1)
        if last > original.n_rows or first < 1:
            wrong = last if last > original.n_rows else first
            raise InputError(
                "no-such-row",
                f"Entry {decision.number} names row {wrong}; the table has rows 1 to {original.n_rows}.",
                where="rows",
            )
        if decision.variable and decision.variable not in original.columns:
            raise InputError(
                "no-such-variable",
                f"Entry {decision.number} names {decision.variable!r}, which the table does not have.",
                where="variable",
            )
    aside, said = aside_after(decisions), described_after(decisions)
    columns = {}
    for symbol, column in original.columns.items():
        gone = np.union1d(from_runs(aside.rows), from_runs(aside.values.get(symbol, ()))) - 1
        own = said.get(symbol, {})
        label, unit = str(own.get("label", column.label)), str(own.get("unit", column.unit))
        columns[symbol] = replace(column.set_aside(gone), label=label, unit=unit)
    return replace(original, columns=columns)
