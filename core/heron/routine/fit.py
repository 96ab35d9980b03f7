"""Whether a routine fits another table: what is in its way, before anything runs."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from heron.columns import NUMBER_KINDS, Column, Kind, Table
from heron.derived import sources_of
from heron.errors import HeronError
from heron.formatting import counted, grouped, significant
from heron.ledger import TablesAsImports, TableState, replay_decisions
from heron.numbering import Runs, first_rows, joined, n_rows_of, to_runs, up_to, without
from heron.routine.steps import Step, as_decisions
from heron.variables import can_hold, cell_text, holds

_ROWS_NAMED = 100


@dataclass(frozen=True)
class Known:
    """A variable as the routine knows it. levels: of categories and ordered labels."""

    symbol: str
    label: str
    unit: str
    kind: Kind
    levels: tuple[str, ...] = ()
    lower: float | None = None
    upper: float | None = None


@dataclass(frozen=True)
class Conflict:
    """What is in the way of a routine. steps: the numbers of the steps that it concerns; hinders: they cannot be taken,
    or not wholly, else they can, and a reader should know; rows: of the table, from 1, the first hundred of n_rows."""

    code: Literal[
        "missing-variable", "other-kind", "new-level", "lost-level", "out-of-bounds", "no-such-row", "other-cell",
        "other-rows", "cannot-follow",
    ]  # fmt: skip
    variable: str
    steps: tuple[int, ...]
    hinders: bool
    words: str
    rows: tuple[int, ...] = ()
    n_rows: int = 0


def conflicts(
    known: Sequence[Known], steps: Sequence[Step], used: Collection[str], table: Table, *, same_file: bool
) -> list[Conflict]:
    """Return what is in the way of taking steps on a table.

    Parameters: known, the variables that the routine was made on; used, the symbols of those that its steps and plates
    speak of; table, as it was read, its columns under the routine's symbols; same_file, whether it came from the very
    file, so that its rows are the same.
    """
    state = _sayable_state(steps, table)
    by_symbol = {variable.symbol: variable for variable in known}
    described, result = {}, []
    for symbol, column in table.columns.items():
        try:
            described[symbol] = state.column(symbol, "described")
        except HeronError as error:
            described[symbol] = column
            words = f"{column.label} cannot be described so: {error.problem}"
            result.append(Conflict("other-kind", symbol, _describing(symbol, steps), True, words))
    for symbol in used:
        if symbol in by_symbol and symbol not in described:
            result.append(_missing(by_symbol[symbol], steps))
    for symbol in used:
        if symbol in by_symbol and symbol in described:
            result += _of_values(by_symbol[symbol], described[symbol], steps)
    result += _of_rows(steps, table, same_file=same_file)
    for symbol, recipe in state.derived.items():
        if all(of in described for of in sources_of(recipe)):
            try:
                described[symbol] = state.column(symbol, "described")
            except HeronError as error:
                numbers = tuple(step.number for step in steps if step.kind == "derive" and symbol in step.changes)
                words = f"{recipe['label']} cannot be made: {error.problem}"
                result.append(Conflict("cannot-follow", symbol, numbers, True, words))
    return result


def _described(table: Table, symbol: str, steps: Sequence[Step]) -> Column:
    """A column of the table as steps leave it."""
    return _sayable_state(steps, table).column(symbol, "described")


def _sayable_state(steps: Sequence[Step], table: Table) -> TableState:
    """The table as steps leave it, without corrections and levels that its columns cannot hold."""
    state = replay_decisions(as_decisions(steps), TablesAsImports(table))
    cells = {
        symbol: {row: text for row, text in texts.items() if can_hold(table[symbol], text)}
        for symbol, texts in state.corrected.items()
        if symbol in table.columns
    }
    described = {
        symbol: _sayable(table[symbol], said) if symbol in table.columns else said
        for symbol, said in state.described.items()
    }
    return replace(state, corrected=cells, described=described)


def _sayable(column: Column, said: Mapping[str, Any]) -> dict[str, Any]:
    """What can be said of a column: an order of levels that are not all its own is left out."""
    levels = said.get("levels")
    if levels and column.codes is not None and sorted(levels) != sorted(column.levels):
        return {**said, "levels": [level for level in levels if level in column.levels] + _behind(column, levels)}
    return dict(said)


def _behind(column: Column, levels: Collection[str]) -> list[str]:
    return [level for level in column.levels if level not in levels]


def _describing(symbol: str, steps: Sequence[Step]) -> tuple[int, ...]:
    return tuple(step.number for step in steps if step.kind == "describe" and symbol in step.changes)


def _speaking_of(symbol: str, steps: Sequence[Step]) -> tuple[int, ...]:
    """The numbers of the steps that cannot do without a variable."""
    return tuple(
        step.number
        for step in steps
        if step.variable == symbol
        or (step.kind in ("describe", "correct") and symbol in step.changes)
        or (step.kind == "derive" and any(how and symbol in sources_of(how) for how in step.changes.values()))
    )


def _missing(known: Known, steps: Sequence[Step]) -> Conflict:
    unit = f" ({known.unit})" if known.unit else ""
    words = f"The file has no variable {known.symbol}: {known.label}{unit}."
    return Conflict("missing-variable", known.symbol, _speaking_of(known.symbol, steps), True, words)


def _of_values(known: Known, column: Column, steps: Sequence[Step]) -> list[Conflict]:
    speaking = _speaking_of(known.symbol, steps)
    labels = ("ordered", "category", "text", "identifier")
    alike = known.kind == column.kind or (
        known.kind in labels and column.kind in labels
        if column.numbers is None
        else known.kind in NUMBER_KINDS and column.kind in NUMBER_KINDS
    )
    if not alike:
        words = f"{known.label} was {known.kind}; here it is {column.kind}."
        return [Conflict("other-kind", known.symbol, speaking, False, words)]
    result = []
    if known.levels and column.codes is not None and known.kind in ("category", "ordered"):
        new = [level for level in column.levels if level not in known.levels]
        if new:
            rows = np.flatnonzero(np.isin(column.codes, [column.levels.index(level) for level in new])) + 1
            listed = ", ".join(new[:5]) + (f" and {len(new) - 5} more" if len(new) > 5 else "")
            words = (
                f"{known.label} has {counted(len(new), 'level')} that the routine does not know: {listed} "
                f"({counted(rows.size, 'row')}). New levels stand behind the others; a recoding gives them no label."
            )
            result.append(_with_rows("new-level", known.symbol, speaking, words, rows))
        seen = {column.levels[i] for i in np.unique(column.codes[column.codes >= 0])}
        lost = [level for level in known.levels if level not in seen]
        if lost:
            listed = ", ".join(lost[:5]) + (f" and {len(lost) - 5} more" if len(lost) > 5 else "")
            words = f"No row of {known.label} is {listed}, which the routine knows."
            result.append(Conflict("lost-level", known.symbol, speaking, False, words))
    if column.numbers is not None and (known.lower is not None or known.upper is not None):
        low = -np.inf if known.lower is None else known.lower
        high = np.inf if known.upper is None else known.upper
        rows = np.flatnonzero((column.numbers < low) | (column.numbers > high)) + 1
        if rows.size:
            ends = [f"{name} {significant(end)}" for name, end in (("below", low), ("above", high)) if np.isfinite(end)]
            lie = "lies" if rows.size == 1 else "lie"
            words = f"{counted(rows.size, 'value')} of {known.label} {lie} {' or '.join(ends)}."
            result.append(_with_rows("out-of-bounds", known.symbol, speaking, words, rows))
    return result


def _with_rows(code: Any, symbol: str, steps: tuple[int, ...], words: str, rows: Any) -> Conflict:
    return Conflict(code, symbol, steps, False, words, tuple(rows[:_ROWS_NAMED].tolist()), int(rows.size))


def _of_rows(steps: Sequence[Step], table: Table, *, same_file: bool) -> list[Conflict]:
    """What is in the way of the steps that name rows."""
    result, naming, short = [], [], []
    beyond: list[tuple[int, int]] = []
    for i, step in enumerate(steps):
        rows = rows_of(step)
        if not rows:
            continue
        naming.append(step.number)
        if rows[-1][1] > table.n_rows:
            short.append(step.number)
            beyond += without(rows, [(1, table.n_rows)])
        other = _other_cells(step, steps[:i], table) if step.kind == "correct" else []
        if other:
            hold = "holds" if len(other) == 1 else "hold"
            words = f"Step {step.number} corrects {counted(len(other), 'cell')} that {hold} something else here."
            result.append(
                Conflict("other-cell", "", (step.number,), True, words, tuple(other[:_ROWS_NAMED]), len(other))
            )
    if beyond:
        n, named = n_rows_of(beyond), first_rows(beyond, _ROWS_NAMED)
        words = (
            f"{counted(n, 'row')} of the routine {'does' if n == 1 else 'do'} not exist here, the first of them row "
            f"{grouped(named[0])}; there are {grouped(table.n_rows)}."
        )
        result.append(Conflict("no-such-row", "", tuple(short), True, words, tuple(named), n))
    if naming and not same_file:
        one = len(naming) == 1
        words = (
            f"{counted(len(naming), 'step')} {'names' if one else 'name'} rows by number; in another file these are "
            f"others. {'It rests' if one else 'They rest'} unless you say so."
        )
        result.append(Conflict("other-rows", "", tuple(naming), False, words))
    return result


def _other_cells(step: Step, before: Sequence[Step], table: Table) -> list[int]:
    """The rows of corrected cells that do not hold what they held."""
    other: list[int] = []
    for symbol, cells in step.changes.items():
        if symbol in table.columns:
            column = _described(table, symbol, before)
            at = [(int(row), str(cell["old"])) for row, cell in cells.items() if int(row) <= table.n_rows]
            other += [row for row, old in at if not holds(column, row - 1, old)]
    return other


def rows_of(step: Step) -> Runs:
    """The rows that a step names."""
    named = list(step.rows)
    for how in step.changes.values() if step.kind == "derive" else ():
        if how:
            named += [(row, row) for row in [*(how.get("rows") or ()), how.get("row")] if row]
    return joined(named)


def fitted(steps: Sequence[Step], table: Table, leave_out: Collection[int]) -> list[Step]:
    """Return the steps as they can be taken on a table: those left out are gone, the others without the rows, cells
    and variables that the table does not have, numbered anew; one of which nothing is left is gone too.

    Parameters: leave_out, numbers of steps.
    """
    present = set(table.columns)
    result: list[Step] = []
    for step in steps:
        if step.number in leave_out or (step.variable and step.variable not in present):
            continue
        rows, changes = step.rows, step.changes
        if step.kind in ("set-aside", "put-back", "keep"):
            rows = up_to(rows, table.n_rows)
            if not rows:
                continue
        elif step.kind == "describe":
            changes = {
                symbol: _sayable(table[symbol], said) if symbol in table.columns else said
                for symbol, said in changes.items() if symbol in present or symbol == ""
            }  # fmt: skip
            of_table = {name: symbol for name, symbol in changes.get("", {}).items() if not symbol or symbol in present}
            changes = {symbol: of_table if symbol == "" else said for symbol, said in changes.items()}
            changes = {symbol: said for symbol, said in changes.items() if said}
        elif step.kind == "correct":
            changes = {
                symbol: _cells_here(_described(table, symbol, result), said)
                for symbol, said in changes.items() if symbol in table.columns
            }  # fmt: skip
            changes = {symbol: said for symbol, said in changes.items() if said}
            rows = to_runs(int(row) for said in changes.values() for row in said)
        elif step.kind == "derive":
            changes = {
                symbol: how for symbol, how in changes.items()
                if how is None or set(sources_of(how)) <= present | set(changes)
            }  # fmt: skip
            present |= {symbol for symbol, how in changes.items() if how}
        if step.kind in ("describe", "correct", "derive") and not changes:
            continue
        result.append(replace(step, number=len(result) + 1, rows=rows, changes=changes))
    return result


def _cells_here(column: Column, cells: Mapping[str, Any]) -> dict[str, Any]:
    """Corrections of cells that the column has and can hold, each with what stands there now."""
    return {
        row: {"old": cell_text(column, int(row) - 1), "new": cell["new"]}
        for row, cell in cells.items()
        if int(row) <= column.n_rows and can_hold(column, str(cell["new"]))
    }
