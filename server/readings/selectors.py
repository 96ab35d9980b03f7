"""Readings: the rows in force as the core takes them, and which rows a mark stands for."""

from dataclasses import dataclass, replace

import numpy as np
from heron import audit, glance
from heron.checks import Floats, Ints
from heron.chunked import Audited, Holding, rows_holding
from heron.chunked import within as lies_within
from heron.columns import NUMBER_KINDS, Table
from heron.errors import InputError
from heron.ledger import Used, load_series
from heron.readings import Cancellation, series_of, used_of

from server.studies.snapshots import TableSnapshot, VariableSnapshot


@dataclass(frozen=True)
class Within:
    """The rows whose value lies within limits, and those values. rows are counted from 1."""

    rows: Ints
    values: Floats


@dataclass(frozen=True)
class Glance:
    """What stands out. sampled: of how many rows, drawn at random, it is told but for an audit; 0 for all."""

    findings: tuple[glance.StandsOut, ...]
    sampled: int


def used_rows(variable: VariableSnapshot) -> Used:
    return used_of(variable, series_of(variable))


def within(variable: VariableSnapshot, low: float, high: float, closed: str) -> Within:
    """The rows from low to high; `closed` says which ends belong: "left", "right" or "both"."""
    if variable.table.chunks is not None:
        return _listed(variable, Holding(variable.symbol, "within", low, high, closed))
    numbers = series_of(variable, weights="ignore").numbers(variable.symbol, (*NUMBER_KINDS, "date-time"))
    rows = np.flatnonzero(lies_within(numbers, low, high, closed))
    return Within(rows + 1, numbers[rows])


def _listed(variable: VariableSnapshot, look: Holding) -> Within:
    """The rows of a long table, as far as they can be listed."""
    assert variable.table.chunks is not None
    found = rows_holding(variable.table.chunks, look)
    return Within(found.positions + 1, found.values)


def missing_rows(variable: VariableSnapshot) -> Within:
    """The rows without a value, those set aside left out."""
    if variable.table.chunks is not None:
        return _listed(variable, Holding(variable.symbol, "missing"))
    series = series_of(variable, weights="ignore")
    rows = np.flatnonzero((series.reasons(variable.symbol) > 0) & ~series.is_aside(variable.symbol))
    return Within(rows + 1, np.full(rows.size, np.nan))


def rows_aside(variable: VariableSnapshot) -> Within:
    """The rows that are set aside, or whose value is."""
    if variable.table.chunks is not None:
        return _listed(variable, Holding(variable.symbol, "aside"))
    rows = np.flatnonzero(series_of(variable, weights="ignore").is_aside(variable.symbol))
    return Within(rows + 1, np.full(rows.size, np.nan))


def at_level(variable: VariableSnapshot, level: str) -> Within:
    """The rows that hold a level."""
    if variable.kind not in ("continuous", "count", "date-time"):
        if variable.table.chunks is not None:
            if level in variable.levels:
                return _listed(variable, Holding(variable.symbol, "level", level=level))
        else:
            labels, index = series_of(variable, weights="ignore").levels(variable.symbol)
            if level in labels:
                rows = np.flatnonzero(index == labels.index(level))
                return Within(rows + 1, np.full(rows.size, np.nan))
    raise InputError("no-level", f"{variable.label} has no level {level}.", where="level", remedy="Choose another.")


def audited(table: TableSnapshot) -> audit.Audit:
    """The audit of a table as it stands, rows counted from 1."""
    result = _audited(table)
    return replace(result, findings=tuple(replace(finding, rows=finding.rows + 1) for finding in result.findings))


def _audited(table: TableSnapshot) -> audit.Audit:
    bounds = {variable.symbol: (variable.lower, variable.upper) for variable in table.variables}
    if table.chunks is not None:
        columns = load_series(table.state, table.state.symbols).columns  # of a sample, for what is said of them
        in_order = [columns[symbol] for symbol in bounds]
        look = Audited(tuple(bounds), tuple(bounds.values()), tuple(column.decimals for column in in_order))
        found = table.chunks.over(look)[0]
        return audit.audit_of_facts(in_order, found.facts, found.patterns, table.n_rows)
    columns = load_series(table.state, table.state.symbols, weights="ignore").columns
    return audit.audit(Table(table.name, table.n_rows, dict(columns)), bounds=bounds)


def glanced(table: TableSnapshot, cancellation: Cancellation) -> Glance:
    """What stands out in a table as it stands, rows counted from 1."""
    columns = load_series(table.state, table.state.symbols, weights="ignore").columns
    found = glance.glance(Table(table.name, table.n_rows, dict(columns)), _audited(table), cancellation.check)
    sample = table.state.sample_rows if table.chunks is not None else None
    findings = []
    for one in found:
        at = one.rows if sample is None or one.code != "far" else tuple(int(sample[row]) for row in one.rows)
        findings.append(replace(one, rows=tuple(row + 1 for row in at)))
    return Glance(tuple(findings), 0 if sample is None else int(sample.size))
