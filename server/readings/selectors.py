"""Readings: the rows in force, given to the core, and its results with what a reader needs beside them."""

from collections import OrderedDict
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np
from heron import audit, density, frequency, groups, limits, normality, quantiles, reading, summary
from heron.checks import Floats, Ints
from heron.columns import NUMBER_KINDS, SET_ASIDE, Column
from heron.errors import InputError
from heron.wording import typeset

from server.readings import thinning
from server.readings.overtaken import Wanted
from server.studies import store
from server.studies.models import Table, Variable
from server.studies.selectors import variables, whole, zero_means_none

MOST_ASIDE = 2_000


@dataclass(frozen=True)
class Used:
    """How many rows a reading used; missing_counts says why others have no value; the rest were set aside."""

    n: int
    missing: int
    missing_counts: dict[str, int]
    set_aside: int


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
class Spread:
    """The numbers, the box, the normal curve (None without spread) and the points of one variable.

    classes, density: by the usual rules, None where they cannot be had. values, rows: (n_sent,); aside_values,
    aside_rows: (n_aside,) what is set aside, as it was; rows counted from 1.
    """

    subject: Subject
    used: Used
    words: tuple[reading.Sentence, ...]
    summary: summary.Summary
    box: groups.Box
    normal: normality.NormalCurve | None
    values: Floats
    rows: Ints
    n_points: int
    aside_values: Floats
    aside_rows: Ints
    classes: frequency.Classes | None
    density: density.Density | None
    beyond: limits.Beyond | None


@dataclass(frozen=True)
class Intervals:
    """Limits that hold a share of the population, and reference intervals, with and without a normal distribution."""

    subject: Subject
    used: Used
    tolerance: tuple[limits.Tolerance, ...]
    reference: tuple[limits.Reference, ...]


@dataclass(frozen=True)
class ScreenQQ:
    """A Q-Q plot for the screen: the points that the spread shows, and the bands at fewer positions.

    scores, ordered, rows: (n_sent,), rows counted from 1; the bands' arrays: (n_positions,), simultaneous limits NaN
    where there are none, with the reason.
    """

    scores: Floats
    ordered: Floats
    rows: Ints
    band_scores: Floats
    point_low: Floats
    point_high: Floats
    simultaneous_low: Floats
    simultaneous_high: Floats
    simultaneous_reason: str
    slope: float
    intercept: float
    level: float
    n: int


@dataclass(frozen=True)
class Within:
    """The rows whose value lies within limits, and those values. rows are counted from 1."""

    rows: Ints
    values: Floats


@dataclass(frozen=True)
class NormalityReading:
    """The checks and the Q-Q plot; qq is None where it cannot be drawn, with the reason."""

    subject: Subject
    used: Used
    check: normality.Normality
    qq: ScreenQQ | None
    qq_reason: str


@dataclass(frozen=True)
class Comparison:
    """Quartiles under one definition."""

    definition: quantiles.Definition
    q1: float
    median: float
    q3: float


def spread(
    variable: Variable,
    definition: quantiles.Definition,
    level: float,
    wanted: Wanted,
    *,
    closed: Literal["left", "right"] = "left",
    kernel: density.Kernel = "gaussian",
) -> Spread:
    subject, column, used = numbers_of(variable)
    assert column.numbers is not None
    wanted.check()
    numbers = summary.summarize(
        column.numbers, quantile_definition=definition, level=level, true_zero=zero_means_none(variable)
    )
    wanted.check()
    box = groups.box(column.numbers, quantile_definition=definition).groups[0]
    sent = _sent(variable, column)
    words = reading.describe(numbers, box)
    shown = tuple(reading.Sentence(said.text, said.rows + 1) for said in words)
    return Spread(
        subject,
        used,
        shown,
        _short_modes(numbers),
        _from_one(box),
        _normal_curve(numbers),
        column.numbers[sent],
        sent + 1,
        used.n,
        *_aside(variable),
        *_usual_pictures(variable, closed, kernel, wanted),
        _beyond(variable, column),
    )


def _beyond(variable: Variable, column: Column) -> limits.Beyond | None:
    low, high = variable.properties.get("spec_lower"), variable.properties.get("spec_upper")
    if low is None and high is None:
        return None
    assert column.numbers is not None
    return limits.beyond(column.numbers, lower=low, upper=high)


def intervals(variable: Variable, share: float, level: float) -> Intervals:
    subject, column, used = numbers_of(variable)
    assert column.numbers is not None
    return Intervals(
        subject,
        used,
        tuple(limits.tolerance(column.numbers, share=share, level=level, method=method) for method in limits.METHODS),
        tuple(limits.reference(column.numbers, method=method) for method in limits.METHODS),
    )


_samples: OrderedDict[tuple[int, int], Ints] = OrderedDict()
_KEPT_SAMPLES = 64


def _sent(variable: Variable, column: Column) -> Ints:
    """The positions of the rows that are sent as points, the same for every picture of the variable."""
    key = (variable.pk, variable.table.revision)
    found = _samples.get(key)
    if found is None:
        assert column.numbers is not None
        known = np.flatnonzero(column.reasons == 0)
        found = _samples[key] = thinning.points(known, column.numbers[known])
        while len(_samples) > _KEPT_SAMPLES:
            _samples.popitem(last=False)
    return found


def _usual_pictures(
    variable: Variable, closed: Literal["left", "right"], kernel: density.Kernel, wanted: Wanted
) -> tuple[frequency.Classes | None, density.Density | None]:
    """Classes and curve as they are first shown; where one cannot be had, its own question says why."""
    wanted.check()
    try:
        counted = classes(variable, closed=closed)[2]
    except InputError:
        return None, None
    try:
        return counted, density_curve(variable, "silverman", kernel)[2]
    except InputError:
        return counted, None


def _aside(variable: Variable) -> tuple[Floats, Ints]:
    """The values that are set aside and their rows, from 1; at most 2,000 of them."""
    positions = store.aside_positions(variable.table, variable.symbol)
    if positions.size == 0:
        return np.empty(0), positions
    before = store.original(variable)
    assert before.numbers is not None
    known = positions[before.reasons[positions] == 0][:MOST_ASIDE]
    return before.numbers[known], known + 1


def _normal_curve(numbers: summary.Summary) -> normality.NormalCurve | None:
    if not numbers.sd or numbers.mean is None:
        return None
    try:
        return normality.curve(numbers.mean, numbers.sd)
    except InputError:  # too extreme to draw
        return None


def classes(variable: Variable, **options: Any) -> tuple[Subject, Used, frequency.Classes]:
    subject, column, used = numbers_of(variable, (*NUMBER_KINDS, "date-time"))
    if any(options.get(name) is not None for name in ("rule", "count", "width", "boundaries")):
        return subject, used, frequency.classify(column.numbers, **options)
    if column.kind in ("count", "ordered"):
        return subject, used, frequency.classify(column.numbers, **{**options, "rule": "integers"})
    usual = frequency.classify(column.numbers, **{**options, "rule": "freedman-diaconis"})
    # Classes narrower than the step in which the values were recorded would be a comb of empty ones.
    if column.kind == "continuous" and column.decimals == 0 and (usual.width or 1) < 1:
        usual = frequency.classify(column.numbers, **{**options, "rule": "integers"})
    return subject, used, usual


def within(variable: Variable, low: float, high: float, closed: str) -> Within:
    """The rows from low to high; `closed` says which ends belong: "left", "right" or "both"."""
    column = numbers_of(variable, (*NUMBER_KINDS, "date-time"))[1]
    assert column.numbers is not None
    above = column.numbers >= low if closed in ("left", "both") else column.numbers > low
    below = column.numbers <= high if closed in ("right", "both") else column.numbers < high
    rows = np.flatnonzero(above & below)
    return Within(rows + 1, column.numbers[rows])


def missing_rows(variable: Variable) -> Within:
    """The rows without a value, those set aside left out."""
    column = _column(variable)
    rows = np.flatnonzero((column.reasons > 0) & ~_is_aside(column))
    return Within(rows + 1, np.full(rows.size, np.nan))


def rows_aside(variable: Variable) -> Within:
    """The rows that are set aside, or whose value is."""
    rows = np.flatnonzero(_is_aside(_column(variable)))
    return Within(rows + 1, np.full(rows.size, np.nan))


def _is_aside(column: Column) -> np.ndarray:
    if SET_ASIDE not in column.missing_codes:
        return np.zeros(column.n_rows, dtype=bool)
    return column.reasons == column.missing_codes.index(SET_ASIDE) + 1


def at_level(variable: Variable, level: str) -> Within:
    """The rows that hold a level."""
    column = _column(variable)
    if column.codes is None or level not in column.levels:
        raise InputError("no-level", f"{column.label} has no level {level}.", where="level", remedy="Choose another.")
    rows = np.flatnonzero(column.codes == column.levels.index(level))
    return Within(rows + 1, np.full(rows.size, np.nan))


def density_curve(
    variable: Variable, bandwidth: float | density.BandwidthRule, kernel: density.Kernel
) -> tuple[Subject, Used, density.Density]:
    subject, column, used = numbers_of(variable)
    low, high = variable.lower, variable.upper
    curve = density.estimate(column.numbers, bandwidth=bandwidth, kernel=kernel, lower=low, upper=high)
    return subject, used, curve


def normality_reading(variable: Variable, level: float, wanted: Wanted) -> NormalityReading:
    subject, column, used = numbers_of(variable)
    wanted.check()
    check = normality.check(column.numbers)
    wanted.check()
    try:
        plot, reason = normality.qq(column.numbers, level=level), ""
    except InputError as error:
        return NormalityReading(subject, used, check, None, error.problem)
    return NormalityReading(subject, used, check, _for_screen(plot, _sent(variable, column)), reason)


def counts(variable: Variable) -> tuple[Subject, Used, frequency.ValueCounts]:
    """How often each level or value occurs, levels in their order."""
    column = _column(variable)
    if column.codes is None:
        values: Any = column.numbers
        counted = frequency.count_values(values)
    else:
        by_level = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))
        kept = np.flatnonzero(by_level)[: frequency.MOST_CLASSES]
        counted = frequency.count_values(
            [column.levels[i] for i in kept], weights=by_level[kept], order=[column.levels[i] for i in kept]
        )
    return subject_of(variable), used_rows(variable), counted


def audited(table: Table) -> audit.Audit:
    """The audit of a table as it stands, rows counted from 1."""
    bounds = {variable.symbol: (variable.lower, variable.upper) for variable in variables(table)}
    found = audit.audit(whole(table), bounds=bounds)
    return replace(found, findings=tuple(replace(each, rows=each.rows + 1) for each in found.findings))


def compare_definitions(variable: Variable) -> list[Comparison]:
    """The quartiles under every definition, since programs and hands differ."""
    _, column, used = numbers_of(variable)
    if used.n == 0:
        return []
    shares = np.array([0.25, 0.5, 0.75])
    found = []
    for definition in quantiles.DEFINITIONS:
        q1, median, q3 = np.asarray(quantiles.quantile(column.numbers, shares, definition=definition)).tolist()
        found.append(Comparison(definition, q1, median, q3))
    return found


def _column(variable: Variable) -> Column:
    return store.column(variable)


def numbers_of(variable: Variable, kinds: tuple[str, ...] = NUMBER_KINDS) -> tuple[Subject, Column, Used]:
    """The variable as numbers, what it is, and the rows used; an InputError for one of another kind."""
    column = _column(variable)
    if variable.kind not in kinds or column.numbers is None:
        raise InputError(
            "not-numeric",
            f"{variable.label} is {variable.kind}, not a number.",
            where="variable",
            remedy="Choose a continuous, count or ordered variable.",
        )
    return subject_of(variable), column, used_rows(variable)


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
    table = variable.table
    # What is set aside in the source of a derived table came as missing by that name.
    counts = dict(variable.missing_counts) if not table.aside else _column(variable).missing_counts
    aside = counts.pop(SET_ASIDE, 0)
    missing = sum(counts.values())
    return Used(table.n_rows - missing - aside, missing, counts, aside)


def _short_modes(numbers: summary.Summary) -> summary.Summary:
    return replace(numbers, modes=numbers.modes[:12])


def _from_one(box: groups.Box) -> groups.Box:
    return replace(box, outlier_rows=box.outlier_rows + 1, far_rows=box.far_rows + 1)


def _for_screen(plot: normality.QQ, sent: Ints) -> ScreenQQ:
    """The points of the rows sent, and the bands at all positions of both tails and evenly between."""
    shown = np.zeros(plot.rows.size, dtype=bool)
    shown[sent] = True
    points = np.flatnonzero(shown[plot.rows[: plot.n]])
    at = thinning.positions(plot.n)
    return ScreenQQ(
        scores=plot.scores[points],
        ordered=plot.ordered[points],
        rows=plot.rows[points] + 1,
        band_scores=plot.scores[at],
        point_low=plot.point_low[at],
        point_high=plot.point_high[at],
        simultaneous_low=plot.simultaneous_low[at],
        simultaneous_high=plot.simultaneous_high[at],
        simultaneous_reason=plot.undefined.get("simultaneous_low", ""),
        slope=plot.slope,
        intercept=plot.intercept,
        level=plot.level,
        n=plot.n,
    )
