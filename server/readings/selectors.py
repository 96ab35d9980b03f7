"""Readings: the rows in force as the core takes them, and which rows a mark stands for."""

from collections.abc import Collection
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from heron import audit
from heron.checks import Floats, Ints
from heron.columns import NUMBER_KINDS, Column, Table
from heron.errors import InputError
from heron.ledger import Series, Used, load_series
from heron.wording import typeset

from server.studies.snapshots import TableSnapshot, VariableSnapshot

Bools = np.ndarray[tuple[int], np.dtype[np.bool_]]


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
    the row of each, None where that is its place; series: with the variables that were asked for besides."""

    subject: Subject
    used: Used
    column: Column
    values: Floats
    at: Ints | None
    series: Series

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


def series_of(
    variable: VariableSnapshot,
    *others: VariableSnapshot | None,
    weights: Literal["repeat", "refuse", "ignore"] = "repeat",
) -> Series:
    """Variables of one table as the core's load_series has them; those that are None are left out."""
    symbols = [each.symbol for each in (variable, *others) if each is not None]
    return load_series(variable.table.state, symbols, weights=weights)


def numbers_of(
    variable: VariableSnapshot, *others: VariableSnapshot | None, kinds: Collection[str] = NUMBER_KINDS
) -> Numbers:
    """The variable as numbers, what it is, and the rows used; an InputError for one of another kind."""
    series, symbol = series_of(variable, *others), variable.symbol
    values = series.numbers(symbol, kinds)
    return Numbers(subject_of(variable), series.used(symbol), series.columns[symbol], values, series.places, series)


def subject_of(variable: VariableSnapshot) -> Subject:
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


def used_rows(variable: VariableSnapshot) -> Used:
    return series_of(variable).used(variable.symbol)


def within(variable: VariableSnapshot, low: float, high: float, closed: str) -> Within:
    """The rows from low to high; `closed` says which ends belong: "left", "right" or "both"."""
    numbers = series_of(variable, weights="ignore").numbers(variable.symbol, (*NUMBER_KINDS, "date-time"))
    above = numbers >= low if closed in ("left", "both") else numbers > low
    below = numbers <= high if closed in ("right", "both") else numbers < high
    rows = np.flatnonzero(above & below)
    return Within(rows + 1, numbers[rows])


def missing_rows(variable: VariableSnapshot) -> Within:
    """The rows without a value, those set aside left out."""
    series = series_of(variable, weights="ignore")
    rows = np.flatnonzero((series.reasons(variable.symbol) > 0) & ~series.is_aside(variable.symbol))
    return Within(rows + 1, np.full(rows.size, np.nan))


def rows_aside(variable: VariableSnapshot) -> Within:
    """The rows that are set aside, or whose value is."""
    rows = np.flatnonzero(series_of(variable, weights="ignore").is_aside(variable.symbol))
    return Within(rows + 1, np.full(rows.size, np.nan))


def at_level(variable: VariableSnapshot, level: str) -> Within:
    """The rows that hold a level."""
    labels, index = series_of(variable, weights="ignore").levels(variable.symbol)
    if variable.kind in ("continuous", "count", "date-time") or level not in labels:
        raise InputError("no-level", f"{variable.label} has no level {level}.", where="level", remedy="Choose another.")
    rows = np.flatnonzero(index == labels.index(level))
    return Within(rows + 1, np.full(rows.size, np.nan))


def audited(table: TableSnapshot) -> audit.Audit:
    """The audit of a table as it stands, rows counted from 1."""
    bounds = {variable.symbol: (variable.lower, variable.upper) for variable in table.variables}
    columns = load_series(table.state, table.state.symbols, weights="ignore").columns
    found = audit.audit(Table(table.name, table.n_rows, dict(columns)), bounds=bounds)
    return replace(found, findings=tuple(replace(each, rows=each.rows + 1) for each in found.findings))
