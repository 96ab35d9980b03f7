"""Decisions on a table, in the order in which they were taken, and which of them are in force."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from heron.derived import sources_of
from heron.numbering import Moves, Runs, first_rows, from_runs, moved, n_rows_of, to_runs

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
    another (heron.derived) by its symbol, None where it is taken away; reread, the number of the import version
    ("reading") that is in force from here (0 is the first) and "moves"; follow, "moves": how rows are numbered after a
    derived table was made anew, as (first, last, new first); line-up, what was picked.
    """

    number: int
    kind: Kind
    rows: Runs = ()
    variable: str = ""
    of: int = 0
    changes: Mapping[str, Any] = field(default_factory=dict)


def decisions_in_force(decisions: Sequence[Decision]) -> tuple[Decision, ...]:
    """The decisions that were not undone, or were made again."""
    undone: set[int] = set()
    for decision in decisions:
        if decision.kind == "undo":
            undone.add(decision.of)
        elif decision.kind == "redo":
            undone.discard(decision.of)
    return tuple(d for d in decisions if d.kind not in ("undo", "redo") and d.number not in undone)


def revocable(decisions: Sequence[Decision]) -> tuple[Decision, ...]:
    """The decisions in force that can be taken back."""
    return tuple(d for d in decisions_in_force(decisions) if d.kind not in KEPT_ONLY)


_OF_ROWS = ("set-aside", "put-back", "keep")
_OF_EVERYTHING = ("reread", "follow", "undo", "redo")


def meet(one: Decision, other: Decision) -> bool:
    """Whether two decisions are about the same, so that whoever takes the second should have seen the first.

    Decisions on rows and corrections meet where they share a row and a variable. What is said of a variable meets what
    is said of it too, its corrections, what is decided on its values, and what is made of it; not what is decided on
    whole rows. What is made of variables meets what is said of them alone. Whatever concerns all rows meets everything;
    a pick in a line-up meets nothing.
    """
    kinds = {one.kind, other.kind}
    if "line-up" in kinds:
        return False
    if kinds & set(_OF_EVERYTHING):
        return True
    if "derive" in kinds and kinds & {*_OF_ROWS, "correct"}:
        return False
    named, others = _variables(one), _variables(other)
    if kinds & {"describe", "derive"}:
        return bool(named and others and named & others)
    shared = n_rows_of(one.rows) + n_rows_of(other.rows) > n_rows_of([*one.rows, *other.rows])
    return shared and (named is None or others is None or bool(named & others))


def _variables(decision: Decision) -> set[str] | None:
    """The symbols that a decision is about; None for whole rows."""
    if decision.kind in _OF_ROWS:
        return {decision.variable} if decision.variable else None
    recipes = decision.changes.values() if decision.kind == "derive" else ()
    return {*decision.changes, *(source for recipe in recipes if recipe for source in sources_of(recipe))}


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


def moved_recipe(recipe: Mapping[str, Any], moves: Moves) -> Mapping[str, Any]:
    """A recipe that names rows, with their new numbers; a row that is gone is row 0, which no table has, since to name
    no row would mean all of them."""
    result = dict(recipe)
    if recipe.get("rows"):
        result["rows"] = from_runs(moved(to_runs(recipe["rows"]), moves)).tolist() or [0]
    if recipe.get("row"):
        result["row"] = next(iter(first_rows(moved([(recipe["row"], recipe["row"])], moves), 1)), 0)
    return result
