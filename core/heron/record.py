"""Decisions on a table, in order, and what follows: what is set aside, corrected, and said of variables."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np

from heron.columns import Column, Table
from heron.derived import follow, in_order, sources_of
from heron.errors import InputError
from heron.numbering import Moves, Runs, first_rows, from_runs, joined, moved, to_runs, without
from heron.variables import as_described, corrected

Kind = Literal[
    "set-aside", "put-back", "keep", "describe", "correct", "derive", "reread", "follow", "line-up", "undo", "redo"
]
# Kept in the ledger, but nobody's decision on the data: they cannot be taken back.
KEPT_ONLY = ("follow", "line-up")


@dataclass(frozen=True)
class Decision:
    """One entry of the ledger.

    rows: runs of row numbers (from 1, both ends belong). variable: the symbol whose values are meant, "" for whole
    rows; of the kind keep, they were looked at and stay. of: for undo and redo, the number of the entry that is taken
    back or made again. changes, by kind: describe, what is said of each variable by symbol, and under "" of the table;
    correct, the new text by symbol and row, as {"old", "new"}; derive, the recipe of a variable that follows from
    another (heron.derived) by its symbol, None where it is taken away; reread, the number of the "reading" of the file
    that is in force from here (0 is the first) and "moves"; follow, "moves": how rows are numbered after a derived
    table was made anew, as (first, last, new first); line-up, what was picked.
    """

    number: int
    kind: Kind
    rows: Runs = ()
    variable: str = ""
    of: int = 0
    changes: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Aside:
    """What is set aside: whole rows, and single values by variable; runs of row numbers."""

    rows: Runs = ()
    values: dict[str, Runs] = field(default_factory=dict)


@dataclass(frozen=True)
class Standing:
    """What all decisions come to. kept: rows that were looked at and stay, by variable, "" for whole rows; described:
    by symbol; corrected: new text by symbol and row; derived: recipes by symbol, each behind those that it stands on;
    reading: which reading of the source file is in force."""

    aside: Aside = field(default_factory=Aside)
    described: dict[str, dict[str, Any]] = field(default_factory=dict)
    corrected: dict[str, dict[int, str]] = field(default_factory=dict)
    derived: dict[str, Mapping[str, Any]] = field(default_factory=dict)
    reading: int = 0
    kept: dict[str, Runs] = field(default_factory=dict)


def standing(decisions: Sequence[Decision]) -> tuple[Decision, ...]:
    """The decisions that stand: those that were not undone, or were made again."""
    undone: set[int] = set()
    for decision in decisions:
        if decision.kind == "undo":
            undone.add(decision.of)
        elif decision.kind == "redo":
            undone.discard(decision.of)
    return tuple(d for d in decisions if d.kind not in ("undo", "redo") and d.number not in undone)


def revocable(decisions: Sequence[Decision]) -> tuple[Decision, ...]:
    """The decisions that stand and can be taken back."""
    return tuple(d for d in standing(decisions) if d.kind not in KEPT_ONLY)


def undone_last(decisions: Sequence[Decision]) -> int | None:
    """The entry that can be made again: the one undone last, as long as nothing else was decided since."""
    waiting: list[int] = []
    for decision in decisions:
        if decision.kind == "undo":
            waiting.append(decision.of)
        elif decision.kind == "redo":
            waiting.remove(decision.of)
        elif decision.kind not in KEPT_ONLY:
            waiting.clear()
    return waiting[-1] if waiting else None


def after(decisions: Sequence[Decision]) -> Standing:
    """What stands once all decisions are taken in their order."""
    aside: dict[str, Runs] = {}
    looked_at: dict[str, Runs] = {}
    said: dict[str, dict[str, Any]] = {}
    cells: dict[str, dict[int, str]] = {}
    derived: dict[str, Mapping[str, Any]] = {}
    reading = 0
    for decision in standing(decisions):
        changes = decision.changes
        if decision.kind == "set-aside":
            aside[decision.variable] = joined((*aside.get(decision.variable, ()), *decision.rows))
        elif decision.kind == "put-back":
            aside[decision.variable] = without(aside.get(decision.variable, ()), decision.rows)
        elif decision.kind == "keep":
            looked_at[decision.variable] = joined((*looked_at.get(decision.variable, ()), *decision.rows))
        elif decision.kind == "describe":
            for symbol, own in changes.items():
                said[symbol] = said.get(symbol, {}) | own
        elif decision.kind == "correct":
            for symbol, own in changes.items():
                cells.setdefault(symbol, {}).update({int(row): str(cell["new"]) for row, cell in own.items()})
        elif decision.kind == "derive":
            for symbol, recipe in changes.items():
                if recipe is None:
                    derived.pop(symbol, None)
                else:
                    derived[symbol] = recipe
                    # A new recipe names the variable anew, over what was said of it.
                    own = said.get(symbol, {})
                    said[symbol] = {name: what for name, what in own.items() if name not in ("label", "unit")}
        elif decision.kind != "line-up":
            reading = int(changes.get("reading", reading))
            moves = changes["moves"]
            aside = {symbol: moved(held, moves) for symbol, held in aside.items()}
            looked_at = {symbol: moved(held, moves) for symbol, held in looked_at.items()}
            derived = {symbol: moved_recipe(how, moves) for symbol, how in derived.items()}
            cells = {symbol: _moved_cells(own, moves) for symbol, own in cells.items()}
    held = {symbol: alone for symbol, alone in sorted(aside.items()) if symbol and alone}
    new_text = {symbol: own for symbol, own in sorted(cells.items()) if own}
    said = {symbol: own for symbol, own in said.items() if own}
    kept_rows = {symbol: own for symbol, own in sorted(looked_at.items()) if own}
    return Standing(Aside(aside.get("", ()), held), said, new_text, in_order(derived), reading, kept_rows)


def moved_recipe(recipe: Mapping[str, Any], moves: Moves) -> Mapping[str, Any]:
    """A recipe that names rows, with their new numbers; a baseline row that is gone is row 0, which no table has."""
    found = dict(recipe)
    if recipe.get("rows"):
        found["rows"] = from_runs(moved(to_runs(recipe["rows"]), moves)).tolist()
    if recipe.get("row"):
        found["row"] = next(iter(first_rows(moved([(recipe["row"], recipe["row"])], moves), 1)), 0)
    return found


def _moved_cells(cells: dict[int, str], moves: Moves) -> dict[int, str]:
    return {
        row - first + new: text for row, text in cells.items() for first, last, new in moves if first <= row <= last
    }


def replay(decisions: Sequence[Decision], original: Table, *read_again: Table) -> Table:
    """Return the table that the decisions make of the original: described, corrected, with what they set aside marked
    as missing, by the code "set aside", and with the variables that follow from others behind.

    Parameters: original, the table as first read; read_again, its later readings in their order.
    Raises: InputError where a decision names a row or variable that the table does not have.
    """
    state = after(decisions)
    readings = (original, *read_again)
    if state.reading >= len(readings):
        raise InputError("no-such-reading", f"The file was read {state.reading + 1} times.", where="read_again")
    # A row or variable may have been there in an earlier reading only.
    last, symbols = max(table.n_rows for table in readings), {symbol for table in readings for symbol in table}
    symbols |= {symbol for decision in decisions if decision.kind == "derive" for symbol in decision.changes}
    for decision in decisions:
        _check(decision, last, symbols)
    table = readings[state.reading]
    columns = {symbol: in_force(column, state) for symbol, column in table.columns.items()}
    for symbol, recipe in state.derived.items():
        of = sources_of(recipe)
        if all(each in columns for each in of):  # another reading of the file may lack one
            columns[symbol] = in_force(follow(symbol, recipe, {each: columns[each] for each in of}), state)
    return replace(table, columns=columns)


def _check(decision: Decision, last: int, symbols: set[str]) -> None:
    named = decision.rows or ((1, 1),)
    wrong = next((row for row in (named[0][0], named[-1][1]) if not 1 <= row <= max(last, 1)), None)
    if wrong is not None:
        raise InputError(
            "no-such-row",
            f"Entry {decision.number} names row {wrong}; the table has rows 1 to {last}.",
            where="rows",
        )
    spoken_of = {decision.variable, *(decision.changes if decision.kind in ("describe", "correct") else ())} - {""}
    for symbol in sorted(spoken_of - symbols):
        raise InputError(
            "no-such-variable",
            f"Entry {decision.number} names {symbol!r}, which the table does not have.",
            where="variable",
        )


def in_force(column: Column, state: Standing) -> Column:
    """A column as the decisions leave it: described, corrected, without what is set aside."""
    gone = np.union1d(from_runs(state.aside.rows), from_runs(state.aside.values.get(column.symbol, ()))) - 1
    return spoken_of(column, state).set_aside(gone[gone < column.n_rows])


def spoken_of(column: Column, state: Standing) -> Column:
    """A column as it is described and corrected, with what is set aside still in it."""
    said = as_described(column, state.described.get(column.symbol, {}))
    cells = state.corrected.get(column.symbol, {})
    return corrected(said, {row - 1: text for row, text in cells.items() if row <= column.n_rows})
