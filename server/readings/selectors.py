"""Readings: the rows in force as the core takes them, and which rows a mark stands for."""

from dataclasses import dataclass, replace

import numpy as np
from heron import audit
from heron.checks import Floats, Ints, as_values
from heron.columns import NUMBER_KINDS, SET_ASIDE, Column
from heron.errors import InputError
from heron.wording import typeset

from server.problems import Refusal
from server.studies import store
from server.studies.models import Table, Variable
from server.studies.selectors import variable_of, variables, whole

Bools = np.ndarray[tuple[int], np.dtype[np.bool_]]


@dataclass(frozen=True)
class Used:
    """How many rows a reading used; missing_counts says why others have no value; the rest were set aside.

    weighted_by: the variable that says how often each row counts, "" for none; all counts are then of what the rows
    stand for. weightless: rows that count for nothing, since that variable is missing or 0 there.
    """

    n: int
    missing: int
    missing_counts: dict[str, int]
    set_aside: int
    weighted_by: str = ""
    weightless: int = 0


@dataclass(frozen=True)
class Subject:
    """What a reading is of, and at which revision of its table."""

    symbol: str
    label: str
    unit: str
    kind: str
    decimals: int | None
    lower: float | None
    upper: float | None
    spec_lower: float | None
    spec_upper: float | None
    target: float | None
    n_limited: int
    below_limit: str
    revision: int


@dataclass(frozen=True)
class Within:
    """The rows whose value lies within limits, and those values. rows are counted from 1."""

    rows: Ints
    values: Floats


@dataclass(frozen=True)
class Numbers:
    """A variable as numbers. values: (n,) NaN for missing, each row as often as it counts; at: (n,) the position of
    the row of each, None where that is its place."""

    subject: Subject
    used: Used
    column: Column
    values: Floats
    at: Ints | None

    @property
    def limited(self) -> Bools:
        """(n,) whether a value is only known to lie below a limit."""
        limits = self.column.limits
        if limits is None:
            return np.zeros(self.values.size, dtype=bool)
        known = ~np.isnan(limits)
        return known if self.at is None else known[self.at]

    def positions(self, places: Ints) -> Ints:
        """The row positions, from 0, of places among the values."""
        return places if self.at is None else self.at[places]

    def rows(self, places: Ints) -> Ints:
        """The row numbers, from 1, of places among the values, each row once."""
        return places + 1 if self.at is None else np.unique(self.at[places]) + 1


def numbers_of(variable: Variable, kinds: tuple[str, ...] = NUMBER_KINDS) -> Numbers:
    """The variable as numbers, what it is, and the rows used; an InputError for one of another kind."""
    column = store.column(variable)
    if variable.kind not in kinds or column.numbers is None:
        raise InputError(
            "not-numeric",
            f"{variable.label} is {variable.kind}, not a number.",
            where="variable",
            remedy="Choose a continuous, count or ordered variable.",
        )
    weights = weights_of(variable)
    if weights is None:
        return Numbers(subject_of(variable), used_rows(variable), column, column.numbers, None)
    counted = as_values(column.numbers, weights=weights.counts)
    return Numbers(subject_of(variable), _weighted(column, weights), column, counted.values, counted.positions)


@dataclass(frozen=True)
class Weights:
    """How often each row counts, by which variable. counts: (n_rows,) 0 where it says nothing."""

    label: str
    counts: Floats


def weights_of(variable: Variable) -> Weights | None:
    """The table's frequency weights, where it has them and the variable is not they."""
    symbol = variable.table.described.get("", {}).get("weight_variable")
    if not symbol or symbol == variable.symbol:
        return None
    try:
        other = variable_of(variable.table, symbol)
    except Refusal:  # it was taken away since
        return None
    counts = store.column(other).numbers
    if counts is None:
        raise InputError("not-numeric", f"{other.label} has no numbers to weight by.", where="weights")
    return Weights(other.label, np.nan_to_num(counts, nan=0.0))


def refuse_weights(variable: Variable) -> None:
    """For readings that count each row once: refused where the table says that rows count more often than that."""
    weights = weights_of(variable)
    if weights is not None:
        raise InputError(
            "weighted",
            f"Rows count here once each, but the table says that they count as often as {weights.label} says.",
            where="weights",
            remedy="Name no weight variable under Variables, or bring in a table in which each row stands that often.",
        )


def _weighted(column: Column, weights: Weights) -> Used:
    sums = np.bincount(column.reasons, weights=weights.counts, minlength=len(column.missing_codes) + 1)
    counts = {code: int(sums[i]) for i, code in enumerate(column.missing_codes, 1) if sums[i]}
    aside = counts.pop(SET_ASIDE, 0)
    weightless = int(np.count_nonzero(weights.counts == 0))
    return Used(int(sums[0]), sum(counts.values()), counts, aside, weights.label, weightless)


def subject_of(variable: Variable) -> Subject:
    said = variable.properties
    return Subject(
        variable.symbol,
        typeset(variable.label),
        typeset(variable.unit),
        variable.kind,
        variable.decimals,
        variable.lower,
        variable.upper,
        said.get("spec_lower"),
        said.get("spec_upper"),
        said.get("target"),
        said.get("n_limited", 0),
        said.get("below_limit") or "missing",
        variable.table.revision,
    )


def used_rows(variable: Variable) -> Used:
    weights = weights_of(variable)
    if weights is not None:
        return _weighted(store.column(variable), weights)
    table = variable.table
    # What is set aside in the source of a derived table came as missing by that name.
    counts = dict(variable.missing_counts) if not table.aside else store.column(variable).missing_counts
    aside = counts.pop(SET_ASIDE, 0)
    missing = sum(counts.values())
    return Used(table.n_rows - missing - aside, missing, counts, aside)


def within(variable: Variable, low: float, high: float, closed: str) -> Within:
    """The rows from low to high; `closed` says which ends belong: "left", "right" or "both"."""
    column = numbers_of(variable, (*NUMBER_KINDS, "date-time")).column
    assert column.numbers is not None
    above = column.numbers >= low if closed in ("left", "both") else column.numbers > low
    below = column.numbers <= high if closed in ("right", "both") else column.numbers < high
    rows = np.flatnonzero(above & below)
    return Within(rows + 1, column.numbers[rows])


def missing_rows(variable: Variable) -> Within:
    """The rows without a value, those set aside left out."""
    column = store.column(variable)
    rows = np.flatnonzero((column.reasons > 0) & ~is_aside(column))
    return Within(rows + 1, np.full(rows.size, np.nan))


def rows_aside(variable: Variable) -> Within:
    """The rows that are set aside, or whose value is."""
    rows = np.flatnonzero(is_aside(store.column(variable)))
    return Within(rows + 1, np.full(rows.size, np.nan))


def is_aside(column: Column) -> np.ndarray:
    if SET_ASIDE not in column.missing_codes:
        return np.zeros(column.n_rows, dtype=bool)
    return np.asarray(column.reasons == column.missing_codes.index(SET_ASIDE) + 1)


def at_level(variable: Variable, level: str) -> Within:
    """The rows that hold a level."""
    column = store.column(variable)
    if column.codes is None or level not in column.levels:
        raise InputError("no-level", f"{column.label} has no level {level}.", where="level", remedy="Choose another.")
    rows = np.flatnonzero(column.codes == column.levels.index(level))
    return Within(rows + 1, np.full(rows.size, np.nan))


def audited(table: Table) -> audit.Audit:
    """The audit of a table as it stands, rows counted from 1."""
    bounds = {variable.symbol: (variable.lower, variable.upper) for variable in variables(table)}
    found = audit.audit(whole(table), bounds=bounds)
    return replace(found, findings=tuple(replace(each, rows=each.rows + 1) for each in found.findings))
