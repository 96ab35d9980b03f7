"""Readings: the rows in force, given to the core, and its results with what a reader needs beside them."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from heron import density, frequency, groups, normality, quantiles, reading, summary
from heron.checks import Floats, Ints
from heron.columns import NUMBER_KINDS, Column
from heron.errors import InputError

from server.readings import thinning
from server.readings.overtaken import Wanted
from server.studies import store
from server.studies.models import Table, Variable
from server.studies.selectors import variable as find_variable


@dataclass(frozen=True)
class Used:
    """How many rows a reading used; missing_counts says why the others have no value."""

    n: int
    missing: int
    missing_counts: dict[str, int]


@dataclass(frozen=True)
class Subject:
    """What a reading is of, and at which revision of its table."""

    symbol: str
    label: str
    unit: str
    kind: str
    decimals: int | None
    revision: int


@dataclass(frozen=True)
class Spread:
    """The numbers, the box and the points of one variable. values, rows: (n_sent,), rows counted from 1."""

    subject: Subject
    used: Used
    words: tuple[reading.Sentence, ...]
    summary: summary.Summary
    box: groups.Box
    values: Floats
    rows: Ints
    n_points: int


@dataclass(frozen=True)
class NormalityReading:
    """The checks and the Q-Q plot; qq is None where it cannot be drawn, with the reason. rows are counted from 1."""

    subject: Subject
    used: Used
    check: normality.Normality
    qq: normality.QQ | None
    qq_reason: str
    n_points: int


@dataclass(frozen=True)
class Comparison:
    """Quartiles under one definition."""

    definition: quantiles.Definition
    q1: float
    median: float
    q3: float


def spread(table: Table, symbol: str, definition: quantiles.Definition, level: float, wanted: Wanted) -> Spread:
    subject, column, used = _numbers(table, symbol)
    assert column.numbers is not None
    wanted.check()
    numbers = summary.summarize(column.numbers, quantile_definition=definition, level=level)
    wanted.check()
    box = groups.box(column.numbers, quantile_definition=definition).groups[0]
    known = np.flatnonzero(column.reasons == 0)
    always = np.searchsorted(known, box.outlier_rows)
    sent = known[thinning.points(known.size, always)]
    words = reading.describe(numbers, box)
    shown = tuple(reading.Sentence(said.text, tuple(row + 1 for row in said.rows)) for said in words)
    return Spread(
        subject, used, shown, _short_modes(numbers), _from_one(box), column.numbers[sent], sent + 1, known.size
    )


def classes(table: Table, symbol: str, **options: Any) -> tuple[Subject, Used, frequency.Classes]:
    subject, column, used = _numbers(table, symbol)
    if not any(options.get(name) is not None for name in ("rule", "count", "width", "boundaries")):
        options["rule"] = "integers" if column.kind in ("count", "ordered") else "freedman-diaconis"
    return subject, used, frequency.classify(column.numbers, **options)


def density_curve(
    table: Table, symbol: str, bandwidth: float | density.BandwidthRule, kernel: density.Kernel
) -> tuple[Subject, Used, density.Density]:
    subject, column, used = _numbers(table, symbol)
    return subject, used, density.estimate(column.numbers, bandwidth=bandwidth, kernel=kernel)


def normality_reading(table: Table, symbol: str, level: float, wanted: Wanted) -> NormalityReading:
    subject, column, used = _numbers(table, symbol)
    wanted.check()
    check = normality.check(column.numbers)
    wanted.check()
    try:
        plot, reason = normality.qq(column.numbers, level=level), ""
    except InputError as error:
        return NormalityReading(subject, used, check, None, error.problem, 0)
    return NormalityReading(subject, used, check, _thinned(plot), reason, plot.n)


def counts(table: Table, symbol: str) -> tuple[Subject, Used, frequency.ValueCounts]:
    """How often each level or value occurs, levels in their order."""
    found = find_variable(table, symbol)
    column = store.column(found, table.revision)
    if column.codes is None:
        values: Any = column.numbers
        counted = frequency.count_values(values)
    else:
        by_level = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))
        kept = np.flatnonzero(by_level)[: frequency.MOST_CLASSES]
        counted = frequency.count_values(
            [column.levels[i] for i in kept], weights=by_level[kept], order=[column.levels[i] for i in kept]
        )
    return _subject(found, table), _used(column), counted


def compare_definitions(table: Table, symbol: str) -> list[Comparison]:
    """The quartiles under every definition, since programs and hands differ."""
    _, column, used = _numbers(table, symbol)
    if used.n == 0:
        return []
    shares = np.array([0.25, 0.5, 0.75])
    found = []
    for definition in quantiles.DEFINITIONS:
        q1, median, q3 = np.asarray(quantiles.quantile(column.numbers, shares, definition=definition)).tolist()
        found.append(Comparison(definition, q1, median, q3))
    return found


def _numbers(table: Table, symbol: str) -> tuple[Subject, Column, Used]:
    found = find_variable(table, symbol)
    if found.kind not in NUMBER_KINDS:
        raise InputError(
            "not-numeric",
            f"{found.label} is {found.kind}, not a number.",
            where="variable",
            remedy="Choose a continuous, count or ordered variable.",
        )
    column = store.column(found, table.revision)
    if column.numbers is None:
        raise InputError("not-numeric", f"{found.label} has levels that are words.", where="variable")
    return _subject(found, table), column, _used(column)


def _subject(found: Variable, table: Table) -> Subject:
    return Subject(found.symbol, found.label, found.unit, found.kind, found.decimals, table.revision)


def _used(column: Column) -> Used:
    return Used(column.n_rows - column.n_missing, column.n_missing, column.missing_counts)


def _short_modes(numbers: summary.Summary) -> summary.Summary:
    return replace(numbers, modes=numbers.modes[:12])


def _from_one(box: groups.Box) -> groups.Box:
    return replace(box, outlier_rows=box.outlier_rows + 1, far_rows=box.far_rows + 1)


def _thinned(plot: normality.QQ) -> normality.QQ:
    sent = thinning.quantiles(plot.n)
    names = ("scores", "ordered", "point_low", "point_high", "simultaneous_low", "simultaneous_high")
    arrays = {name: getattr(plot, name)[sent] for name in names}
    return replace(plot, rows=plot.rows[sent] + 1, **arrays)
