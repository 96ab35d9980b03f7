"""From a ledger to the steps of a routine, and the digest by which two ledgers are known to be the same."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from heron.ledger import Decision, Kind, decisions_in_force, moved_recipe
from heron.numbering import Moves, Runs, moved

# What says how rows are numbered since, or that somebody looked; no decision on the data.
_NO_STEP = ("reread", "follow", "line-up")


@dataclass(frozen=True)
class Step:
    """A decision that stands, with its rows numbered as the table's are now. number: its place, from 1. changes, rows
    and variable: as heron.ledger.Decision has them."""

    number: int
    kind: Kind
    rows: Runs = ()
    variable: str = ""
    changes: Mapping[str, Any] = field(default_factory=dict)
    reason: str = ""


def steps_of(decisions: Sequence[Decision], reasons: Mapping[int, str]) -> tuple[Step, ...]:
    """Return the steps that decisions come to: those that stand, in order, their rows numbered as after the last.

    Parameters: reasons, by the number of the decision. What was taken back, and what only says that a file was read
    again, is no step; a decision all of whose rows are gone is none either.
    Taken on the table as it was read last, the steps come to what the decisions come to.
    """
    steps: list[Step] = []
    for decision in decisions_in_force(decisions):
        if "moves" in decision.changes and decision.kind in ("reread", "follow"):
            steps = [step for step in (_moved(step, decision.changes["moves"]) for step in steps) if step is not None]
        if decision.kind not in _NO_STEP:
            reason = reasons.get(decision.number, "")
            steps.append(Step(0, decision.kind, decision.rows, decision.variable, decision.changes, reason))
    return tuple(
        Step(number, step.kind, step.rows, step.variable, step.changes, step.reason)
        for number, step in enumerate(steps, 1)
    )


def _moved(step: Step, moves: Moves) -> Step | None:
    rows, changes = step.rows, step.changes
    if rows:
        rows = moved(rows, moves)
        if not rows:
            return None
    if step.kind == "correct":
        changes = {symbol: _moved_cells(cells, moves) for symbol, cells in changes.items()}
        changes = {symbol: cells for symbol, cells in changes.items() if cells}
    elif step.kind == "derive":
        changes = {symbol: moved_recipe(how, moves) if how else how for symbol, how in changes.items()}
    return Step(step.number, step.kind, rows, step.variable, changes, step.reason)


def _moved_cells(cells: Mapping[str, Any], moves: Moves) -> dict[str, Any]:
    return {
        str(int(row) - first + new): cell
        for row, cell in cells.items()
        for first, last, new in moves
        if first <= int(row) <= last
    }


def as_decisions(steps: Sequence[Step]) -> list[Decision]:
    """Steps as decisions on the table that they are taken on."""
    return [Decision(step.number, step.kind, step.rows, step.variable, 0, step.changes) for step in steps]


def digest(source: str, choices: Mapping[str, Any], steps: Sequence[Step]) -> str:
    """Return the SHA-256, in hexadecimal, of what a table stands on: its source, how it was read, and the steps taken
    with their reasons. Who took them, and when, is left out: the same steps on the same file have the same digest.

    Parameters: source, the SHA-256 of the file, or of how the table was made.
    """
    said = {
        "source": source,
        "choices": {name: value for name, value in choices.items() if value not in (None, [], {})},
        "steps": [
            [step.kind, [list(run) for run in step.rows], step.variable, step.changes, step.reason] for step in steps
        ],
    }
    text = json.dumps(_plain(said), sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def _plain(value: Any) -> Any:
    """The value with whole numbers written one way, whatever they came as."""
    if isinstance(value, Mapping):
        return {str(key): _plain(inner) for key, inner in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(inner) for inner in value]
    return int(value) if isinstance(value, float) and value.is_integer() else value
