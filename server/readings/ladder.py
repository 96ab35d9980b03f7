"""How a variable looks on other scales, before one of them is adopted."""

from dataclasses import dataclass, replace

import numpy as np
from heron import derived, rescale
from heron.checks import Ints
from heron.columns import NUMBER_KINDS, Column
from heron.errors import InputError
from heron.ledger import TRIED, Used
from heron.readings import Cancellation, Subject, numbers_of, subject_of
from heron.variables import cell_text

from server.studies.snapshots import TableSnapshot, VariableSnapshot

MOST_ROWS = 200
FIRST_ROWS = 8


@dataclass(frozen=True)
class LadderReading:
    """The ladder of a variable, within the levels of another where one is named; at most 200 lost rows each, from 1."""

    subject: Subject
    used: Used
    within: str
    ladder: rescale.Ladder


@dataclass(frozen=True)
class Gain:
    """How much the best step of the ladder would bring a variable nearer to normal."""

    subject: Subject
    power: float | None
    now: float | None
    then: float | None
    lost: int
    estimate: float | None


@dataclass(frozen=True)
class Gains:
    variables: tuple[Gain, ...]


@dataclass(frozen=True)
class TriedRow:
    row: int
    before: tuple[str, ...]
    after: str


@dataclass(frozen=True)
class Tried:
    """What would be made: its proposed label and unit, its kind and levels with their counts, how many rows have no
    value there though all they are made of have one, which (at most 200, from 1), why, what can be done, and the first
    rows. of: labels of what it is made of; doubts: where units in an expression do not agree; offsets: what could be
    added before a log; tied: rows that share their place in an order (at most 200, from 1), with their number."""

    label: str
    unit: str
    kind: str
    levels: tuple[str, ...]
    level_counts: Ints
    of: tuple[str, ...]
    n: int
    n_lost: int
    lost: Ints
    why: str
    ways_out: tuple[str, ...]
    rows: tuple[TriedRow, ...]
    doubts: tuple[rescale.UnitDoubt, ...]
    offsets: rescale.Offsets | None
    n_tied: int
    tied: Ints


def ladder(variable: VariableSnapshot, by: VariableSnapshot | None) -> LadderReading:
    result = numbers_of(variable, by)
    whole = rescale.power_ladder(result.values, None if by is None else result.series.grouping(by.symbol))
    rungs = tuple(replace(rung, lost=result.rows(rung.lost)[:MOST_ROWS]) for rung in whole.steps)
    return LadderReading(result.subject, result.used, "" if by is None else by.label, replace(whole, steps=rungs))


def gains(table: TableSnapshot, cancellation: Cancellation) -> Gains:
    """Every numeric variable, those first that the best step of the ladder brings most."""
    result = []
    for variable in table.variables:
        if variable.kind not in NUMBER_KINDS or variable.decimals is None:
            continue
        cancellation.check()
        steps = rescale.power_ladder(numbers_of(variable).values)
        by_power = {rung.power: rung for rung in steps.steps}
        now = by_power[1.0].qq_correlation
        best = by_power[steps.best] if steps.best is not None else None
        result.append(
            Gain(
                subject_of(variable),
                steps.best,
                now,
                best.qq_correlation if best else None,
                int(best.lost.size) if best else 0,
                steps.estimate.power if steps.estimate else None,
            )
        )
    result.sort(key=lambda gain: (gain.now or 0) - (gain.then or 0))
    return Gains(tuple(result))


def tried(variable: VariableSnapshot) -> Tried:
    """What a variable that is only tried would be."""
    column, how = variable.described, variable.recipe
    sources = {source.symbol: source for source in variable.sources}
    columns = {symbol: source.described for symbol, source in sources.items()}
    whole = np.ones(column.n_rows, dtype=bool)
    for column_read in columns.values():
        whole &= column_read.reasons == 0
    lost = np.flatnonzero(whole & (column.reasons > 0))
    why, offsets = "", None
    ways_out: tuple[str, ...] = ()
    if lost.size and how["how"] == "scale":
        source = next(iter(columns.values()))
        assert source.numbers is not None
        said = rescale.transform(source.numbers, how["setting"])
        why, ways_out = said.why, said.ways_out
        if rescale.SHIFT in ways_out:
            offsets = rescale.offsets(source.numbers)
    elif lost.size:
        why = f"They would count as missing: {column.missing_codes[-1]}."
    counts = np.empty(0, dtype=np.int64)
    if column.codes is not None:
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))
    units = {symbol: column_of_source.unit for symbol, column_of_source in columns.items()}
    doubts = rescale.unit_of(rescale.parse(how["text"]), units).doubts if how["how"] == "expression" else ()
    tied = derived.along_of(how, columns).tied if how["how"] == "along" else np.empty(0, dtype=np.int64)
    rows = tuple(
        TriedRow(i + 1, tuple(cell_text(cell_column, i) for cell_column in columns.values()), _shown(column, i))
        for i in range(min(FIRST_ROWS, column.n_rows))
    )
    return Tried(
        column.label,
        column.unit,
        column.kind,
        column.levels[:MOST_ROWS],
        counts[:MOST_ROWS],
        tuple(view.label for view in sources.values()),
        column.n_rows - column.n_missing,
        int(lost.size),
        lost[:MOST_ROWS] + 1,
        why,
        ways_out,
        rows,
        doubts,
        offsets,
        int(tied.size),
        tied[:MOST_ROWS] + 1,
    )


def _shown(column: Column, position: int) -> str:
    if column.numbers is None or column.reasons[position]:
        return cell_text(column, position)
    return f"{column.numbers[position]:.6g}"


def needs_trial(variable: VariableSnapshot) -> None:
    if variable.symbol != TRIED:
        raise InputError("nothing-tried", "The address names no scale to try.", where="as_if")
