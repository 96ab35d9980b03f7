"""Rows of one variable that deserve a second look: by which rules, how far, and what was decided."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from heron import outliers, sensitivity, summary
from heron.checks import Floats, Ints
from heron.formatting import typeset
from heron.ledger import Used
from heron.readings import Cancellation, Subject, series_of, subject_of
from heron.readings.outliers import MOST_ROWS, RuleFound, far_rows, flagged_rows, grouping_of, numbers
from heron.variables import cell_text

from server.ledger.selectors import RowDecisions, row_decisions
from server.readings.selectors import used_rows
from server.studies.snapshots import TableSnapshot, VariableSnapshot


@dataclass(frozen=True)
class FlaggedRow:
    """A row named by a rule, or decided on. scores, flagged: by rule, in their order; deed: what was decided, ""
    where nothing was, with its entry of the ledger and the note."""

    row: int
    value: float | None
    text: str
    group: str
    scores: tuple[float | None, ...]
    flagged: tuple[bool, ...]
    deed: str
    entry: int
    note: str


@dataclass(frozen=True)
class ScreenReading:
    """rows: those named by most rules first, at most 300, then those set aside; n_flagged, n_undecided: of all rows.

    words: what a careful colleague would say; report: what was done, for a methods section.
    """

    subject: Subject
    used: Used
    within: str
    group_labels: tuple[str, ...]
    rules: tuple[RuleFound, ...]
    rows: tuple[FlaggedRow, ...]
    n_flagged: int
    n_undecided: int
    words: tuple[str, ...]
    report: tuple[str, ...]


@dataclass(frozen=True)
class Weighed:
    """What results are with and without rows. rows: how many of those named have a value."""

    subject: Subject
    changes: tuple[sensitivity.Change, ...]
    first_group: str
    rows: int


def screened(
    variable: VariableSnapshot,
    by: VariableSnapshot | None,
    rules: Sequence[outliers.Rule],
    options: dict[str, Any],
    cancellation: Cancellation,
) -> ScreenReading:
    result = flagged_rows(variable, by, rules, options, cancellation)
    labels, index, named = result.labels, result.groups, result.named
    looked = row_decisions(variable.table, [variable.symbol])
    aside = np.flatnonzero(series_of(variable, weights="ignore").is_aside(variable.symbol))
    original = variable.described
    rows = []
    for i in [*result.first[:MOST_ROWS].tolist(), *aside[:MOST_ROWS].tolist()]:
        deed, entry, note = action_of(looked, i)
        value = None if original.numbers is None else float(original.numbers[i])
        group = labels[index[i]] if by is not None and index[i] >= 0 else ""
        rows.append(
            FlaggedRow(
                i + 1,
                value if value is None or np.isfinite(value) else None,
                cell_text(original, i),
                group,
                tuple(None if np.isnan(score) else float(score) for score in result.scores[i]),
                tuple(named[i].tolist()),
                deed,
                entry,
                note,
            )
        )
    flagged, x = result.flagged, result.values
    undecided = int(np.count_nonzero(looked.of_row[flagged] == 0))
    return ScreenReading(
        subject_of(variable),
        used_rows(variable),
        "" if by is None else by.label,
        tuple(typeset(label) for label in labels),
        result.rules,
        tuple(rows),
        int(flagged.size),
        undecided,
        outliers.words_on_flags(named, rules, x, unit=typeset(variable.unit), label=typeset(variable.label)),
        outliers.report(
            typeset(variable.label),
            typeset(variable.unit),
            rules,
            options,
            "" if by is None else typeset(by.label),
            int(flagged.size),
            undecided,
            decided_on(variable, looked),
            summary.summarize(_as_read(variable)),
            summary.summarize(x),
        )
        if rules
        else (),
    )


def _as_read(variable: VariableSnapshot) -> Floats:
    """The values as their source holds them, before anything was set aside or corrected."""
    read = variable.imported.numbers
    return numbers(variable) if read is None else read


def decided_on(variable: VariableSnapshot, looked: RowDecisions) -> list[outliers.Decided]:
    """What was decided on rows that have a value, an entry each."""
    read = variable.imported
    result = []
    for number, (deed, entry) in enumerate(looked.actions, 1):
        rows = np.flatnonzero(looked.of_row == number)
        rows = rows[read.reasons[rows] == 0]
        if rows.size:
            texts = [cell_text(read, i) for i in rows[:MOST_ROWS].tolist()]
            texts += [""] * (rows.size - len(texts))
            result.append(outliers.Decided(deed, (rows + 1).tolist(), texts, entry.reason, entry.number))
    return result


def action_of(looked: RowDecisions, position: int) -> tuple[str, int, str]:
    """What was decided on a row, the number of the entry and its note."""
    index = int(looked.of_row[position])
    if index == 0:
        return "", 0, ""
    deed, entry = looked.actions[index - 1]
    return deed, entry.number, entry.reason


def positions_of(rows: Sequence[int], n_rows: int) -> Ints:
    """Row numbers from 1 as positions; those that the table does not have are left out."""
    result = np.unique(np.array(rows, dtype=np.int64)) - 1
    return result[(result >= 0) & (result < n_rows)]


def weighed(variable: VariableSnapshot, by: VariableSnapshot | None, rows: Sequence[int]) -> Weighed:
    x = numbers(variable)
    grouping = grouping_of(by, x.size)
    positions = positions_of(rows, x.size)
    changes = sensitivity.results_without(x, grouping, without=positions)
    n_known = int(np.count_nonzero(~np.isnan(x[positions])))
    return Weighed(subject_of(variable), changes, grouping.labels[0], n_known)


@dataclass(frozen=True)
class FarRow:
    """A row beyond the cut-off. values: of the variables, as text."""

    row: int
    robust: float
    classical: float
    values: tuple[str, ...]
    deed: str
    entry: int
    note: str


@dataclass(frozen=True)
class TogetherReading:
    """Distances over several variables. rows: those beyond the cut-off, the farthest first, at most 300."""

    variables: tuple[Subject, ...]
    cutoff: float
    reference: str
    rows: tuple[FarRow, ...]
    n_flagged: int
    n_undecided: int
    n_fitted: int
    n: int
    n_missing: int
    words: tuple[str, ...]


def together(table: TableSnapshot, symbols: Sequence[str], cancellation: Cancellation) -> TogetherReading:
    far = far_rows(table, symbols, cancellation)
    variables, result = [table.variable(variable.symbol) for variable in far.variables], far.found
    looked = row_decisions(table, [variable.symbol for variable in variables])
    originals = [variable.described for variable in variables]
    rows = tuple(
        FarRow(
            i + 1,
            float(result.robust[i]),
            float(result.classical[i]),
            tuple(cell_text(original, i) for original in originals),
            *action_of(looked, i),
        )
        for i in far.first[:MOST_ROWS].tolist()
    )
    return TogetherReading(
        tuple(subject_of(variable) for variable in variables),
        result.cutoff,
        result.reference,
        rows,
        int(result.flagged.size),
        int(np.count_nonzero(looked.of_row[result.flagged] == 0)),
        result.n_fitted,
        result.n,
        result.n_missing,
        outliers.words_on_distances(result),
    )
