"""From a ledger to the steps of a routine, and the digest by which two ledgers are known to be the same."""

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from heron.derived import sources_of
from heron.record import Decision, Kind, Moves, Runs, from_runs, moved, moved_recipe, standing, to_runs
from heron.wording import counted, grouped

# What says how rows are numbered since, or that somebody looked; no decision on the data.
_NO_STEP = ("reread", "follow", "line-up")


@dataclass(frozen=True)
class Step:
    """A decision that stands, with its rows numbered as the table's are now. number: its place, from 1. changes, rows
    and variable: as heron.record.Decision has them."""

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
    found: list[Step] = []
    for decision in standing(decisions):
        if "moves" in decision.changes and decision.kind in ("reread", "follow"):
            found = [step for step in (_moved(each, decision.changes["moves"]) for each in found) if step is not None]
        if decision.kind not in _NO_STEP:
            reason = reasons.get(decision.number, "")
            found.append(Step(0, decision.kind, decision.rows, decision.variable, decision.changes, reason))
    return tuple(
        Step(place, step.kind, step.rows, step.variable, step.changes, step.reason)
        for place, step in enumerate(found, 1)
    )


def _moved(step: Step, moves: Moves) -> Step | None:
    rows, changes = step.rows, step.changes
    if rows:
        rows = to_runs(moved(from_runs(rows), moves).tolist())
        if not rows:
            return None
    if step.kind == "correct":
        changes = {symbol: _moved_cells(own, moves) for symbol, own in changes.items()}
        changes = {symbol: own for symbol, own in changes.items() if own}
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


def _rows_named(rows: Sequence[int]) -> str:
    if len(rows) == 1:
        return f"row {grouped(rows[0])}"
    if len(rows) > 4 or not rows:
        return counted(len(rows), "row")
    return f"rows {', '.join(map(grouped, rows[:-1]))} and {grouped(rows[-1])}"


def _plain(value: Any) -> Any:
    """The value with whole numbers written one way, whatever they came as."""
    if isinstance(value, Mapping):
        return {str(key): _plain(own) for key, own in value.items()}
    if isinstance(value, list | tuple):
        return [_plain(own) for own in value]
    return int(value) if isinstance(value, float) and value.is_integer() else value


def words_of(step: Step, labels: Mapping[str, str]) -> str:
    """What a step does, in words: "sets aside rows 3 and 4", "makes log mass of shell mass".

    Parameters: labels, by symbol.
    """

    def named(symbols: Sequence[str]) -> str:
        listed = [labels.get(symbol, symbol) for symbol in symbols[:3]]
        return ", ".join(listed) + (f" and {len(symbols) - 3} more" if len(symbols) > 3 else "")

    rows = _rows_named(from_runs(step.rows).tolist())
    of = f"the {labels.get(step.variable, step.variable)} of " if step.variable else ""
    match step.kind:
        case "set-aside":
            return f"sets aside {of}{rows}"
        case "put-back":
            return f"puts back {of}{rows}"
        case "keep":
            return f"looks at {of}{rows} and keeps what is there"
        case "correct":
            cells = sum(len(own) for own in step.changes.values())
            return f"corrects {counted(cells, 'cell')} of {named(list(step.changes))}"
        case "derive":
            made = [f"{how['label']} of {named(sources_of(how))}" for how in step.changes.values() if how]
            return f"makes {'; '.join(made)}" if made else f"takes away {named(list(step.changes))}"
    said = [symbol for symbol in step.changes if symbol]
    return f"describes {named(said)}" if said else "says what n counts, or how rows are weighted"
