"""Rows of one variable that deserve a second look: by which rules, how far, and what was decided."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from heron import outliers, sensitivity, summary
from heron.checks import Ints
from heron.formatting import typeset
from heron.ledger import Decision, Used
from heron.numbering import to_runs
from heron.ordered import mean_of
from heron.readings import Cancellation, Subject, subject_of
from heron.readings.outliers import (
    MOST_ROWS,
    FarRows,
    RuleFound,
    far_rows,
    flagged_rows,
    grouping_of,
    levels_in,
    n_far_of,
    numbers,
)
from heron.readings.subject import in_parts, numbers_of, ordered_of
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

    flagged: the numbers from 1 of all flagged rows, none where they are too many to be taken in hand. words: what a
    careful colleague would say; report: what was done, for a methods section.
    """

    subject: Subject
    used: Used
    within: str
    group_labels: tuple[str, ...]
    rules: tuple[RuleFound, ...]
    rows: tuple[FlaggedRow, ...]
    flagged: Ints
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
    labels, first = result.labels, result.first
    looked = row_decisions(variable.table, [variable.symbol])
    aside = variable.table.state.positions_aside(variable.symbol, variable.table.n_rows)[:MOST_ROWS]
    of_flagged = looked.at(first.positions)
    rows = []
    for i, (position, text, value) in enumerate(_cells(variable, first.positions[:MOST_ROWS])):
        group = labels[first.groups[i]] if by is not None and first.groups[i] >= 0 else ""
        scores = tuple(None if np.isnan(score) else float(score) for score in result.scores[i])
        deed = action_of(looked, position)
        rows.append(FlaggedRow(position + 1, value, text, group, scores, tuple(result.named[i].tolist()), *deed))
    for position, text, value in _cells(variable, aside):
        no_score, not_named = (None,) * len(rules), (False,) * len(rules)
        rows.append(FlaggedRow(position + 1, value, text, "", no_score, not_named, *action_of(looked, position)))
    counts = result.counts
    complete = first.positions.size == counts.flagged
    undecided = int(np.count_nonzero(of_flagged < 0)) + counts.flagged - first.positions.size
    few = sorted(zip((first.positions + 1).tolist(), first.values.tolist(), strict=True), key=_away(result.median))
    unit, label = typeset(variable.unit), typeset(variable.label)
    return ScreenReading(
        subject_of(variable),
        replace(used_rows(variable), sampled=0),
        "" if by is None else by.label,
        tuple(typeset(label) for label in labels),
        result.rules,
        tuple(rows),
        np.sort(first.positions) + 1 if complete else first.positions[:0],
        counts.flagged,
        undecided,
        outliers.words_on_flags(rules, counts, few if len(few) <= outliers.FEW_FLAGGED else (), unit=unit, label=label),
        outliers.report(
            label,
            unit,
            rules,
            options,
            "" if by is None else typeset(by.label),
            counts.flagged,
            undecided,
            decided_on(variable, looked),
            _summary(_as_read(variable)),
            _summary(variable),
        )
        if rules
        else (),
    )


def _away(median: float) -> Callable[[tuple[int, float]], float]:
    return lambda row: -abs(row[1] / 2 - median / 2)


def _cells(variable: VariableSnapshot, positions: Ints) -> list[tuple[int, str, float | None]]:
    """Positions with what stands there, as text and as a number, in their order."""
    found: dict[int, tuple[int, str, float | None]] = {}
    for column, places, held in variable.table.pieces(np.sort(positions), variable.symbol, "described"):
        for place, position in zip(places.tolist(), held.tolist(), strict=True):
            number = float("nan") if column.numbers is None else float(column.numbers[place])
            found[position] = position, cell_text(column, place), number if np.isfinite(number) else None
    return [found[position] for position in positions.tolist()]


def _as_read(variable: VariableSnapshot) -> VariableSnapshot:
    """The variable before anything was set aside or corrected."""
    table = variable.table
    return replace(table, state=replace(table.state, aside={}, corrected={})).variable(variable.symbol)


def _summary(variable: VariableSnapshot) -> summary.Summary:
    ordered = ordered_of(variable, numbers_of(variable))
    return summary.summary_of_ordered(ordered, 0, 7, 0.95, 0.1, True)


def decided_on(variable: VariableSnapshot, looked: RowDecisions) -> list[outliers.Decided]:
    """What was decided on rows that have a value, an entry each."""
    result = []
    for number, (deed, entry) in enumerate(looked.actions):
        rows: list[int] = []
        texts: list[str] = []
        of_entry = looked.rows[looked.of == number] - 1
        for column, places, positions in variable.table.pieces(of_entry, variable.symbol, "imported"):
            known = column.reasons[places] == 0
            rows += (positions[known] + 1).tolist()
            texts += [cell_text(column, i) for i in places[known][: MOST_ROWS - len(texts)].tolist()]
        if rows:
            texts += [""] * (len(rows) - len(texts))
            result.append(outliers.Decided(deed, rows, texts, entry.reason, entry.number))
    return result


def action_of(looked: RowDecisions, position: int) -> tuple[str, int, str]:
    """What was decided on a row, the number of the entry and its note."""
    index = int(looked.at(np.array([position]))[0])
    if index < 0:
        return "", 0, ""
    deed, entry = looked.actions[index]
    return deed, entry.number, entry.reason


def positions_of(rows: Sequence[int], n_rows: int) -> Ints:
    """Row numbers from 1 as positions; those that the table does not have are left out."""
    result = np.unique(np.array(rows, dtype=np.int64)) - 1
    return result[(result >= 0) & (result < n_rows)]


def weighed(variable: VariableSnapshot, by: VariableSnapshot | None, rows: Sequence[int]) -> Weighed:
    positions = positions_of(rows, variable.table.n_rows)
    if variable.table.state.is_long:
        return _weighed_in(variable, by, positions)
    x = numbers(variable)
    grouping = grouping_of(by, x.size)
    changes = sensitivity.results_without(x, grouping, without=positions)
    n_known = int(np.count_nonzero(~np.isnan(x[positions])))
    return Weighed(subject_of(variable), changes, grouping.labels[0], n_known)


def _weighed_in(variable: VariableSnapshot, by: VariableSnapshot | None, positions: Ints) -> Weighed:
    """The same of a long table: what is looked at anew are the parts of these rows."""
    table, runs = variable.table, to_runs(positions + 1)
    decided = table.state.decided(Decision(0, "set-aside", runs, variable.symbol))
    both = [variable, replace(table, state=decided).variable(variable.symbol)]
    found = [_summary(one) for one in both]
    labels, means = levels_in(variable, by), []
    for one in both:
        chunks = one.table.chunks
        groups = [in_parts(one, chunks, ((by.symbol, label),)) for label in labels] if by and chunks else []
        means.append([mean_of(group) if group.size else None for group in groups])
    no_test = (None, None)
    changes = sensitivity.changes_of((found[0], found[1]), (no_test, no_test), labels if by else (), means)
    return Weighed(subject_of(variable), changes, labels[0], found[0].n - found[1].n)


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
    variables = [table.variable(variable.symbol) for variable in far.variables]
    looked = row_decisions(table, [variable.symbol for variable in variables])
    rows = tuple(_far_row(table, far, i, variables, looked) for i in far.first[:MOST_ROWS].tolist())
    n_decided = n_far_of(table, far, in_use(looked))
    return TogetherReading(
        tuple(subject_of(variable) for variable in variables),
        far.cutoff,
        far.reference,
        rows,
        far.n_flagged,
        far.n_flagged - n_decided,
        far.n_fitted,
        far.n,
        far.n_missing,
        outliers.words_on_far_rows(far.n, far.n_flagged, far.n_hidden, cutoff=far.cutoff, n_fitted=far.n_fitted),
    )


def in_use(looked: RowDecisions) -> Ints:
    """The positions of rows on which something was decided, without those set aside, which are judged by nothing."""
    used = np.array([deed != "set aside" for deed, _ in looked.actions], dtype=bool)[looked.of]
    return np.asarray(looked.rows[used] - 1)


def _far_row(
    table: TableSnapshot, far: FarRows, i: int, variables: Sequence[VariableSnapshot], looked: RowDecisions
) -> FarRow:
    """A row by its place among those loaded."""
    position = int(far.positions[i])
    cells = [cell_text(*table.described_at(position, variable.symbol)) for variable in variables]
    said = action_of(looked, position)
    return FarRow(position + 1, float(far.robust[i]), float(far.classical[i]), tuple(cells), *said)
