"""Groups side by side: their centres with bars, and the rows that stand behind them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any, Literal

import numpy as np

from heron import groups
from heron.checks import Floats, Ints
from heron.chunked import cells_in
from heron.errors import InputError, all_rows_at_once
from heron.formatting import typeset
from heron.grouping import Grouping
from heron.groups import BARS, Bars, Centre, Components
from heron.ledger import Series, Used, VariableView, in_rounds
from heron.readings.cancellation import Cancellation
from heron.readings.subject import Subject, Whose, in_parts, series_of, subject_of, used_of

MOST_GROUPS = 300


@dataclass(frozen=True)
class CompareSettings:
    """What is compared: across the levels of `by`, and of `second` within each; n counts rows, or units."""

    by: VariableView
    second: VariableView | None
    centre: Centre
    bars: Bars
    level: float
    units: bool
    percents: tuple[float, float]
    trim: float
    pair: VariableView | None
    line: Literal["none", "rows", "centres"]
    log: bool


@dataclass(frozen=True)
class ComparedGroup:
    """One group. place: of its level; second_place: of the second one; number: where its level stands on a number axis,
    None where levels have none; n_lost: values that a log axis cannot show."""

    label: str
    second: str
    place: int
    second_place: int
    number: float | None
    centred: groups.Centred
    n_lost: int

    @property
    def name(self) -> str:
        """The group by its levels."""
        return f"{self.label} {self.second}".strip()


@dataclass(frozen=True)
class FittedLine:
    """A line over the numbers of the levels, for one level of the second grouping (0 where there is none); None with
    the reason where none can be drawn."""

    second_place: int
    found: groups.Line | None
    why: str


@dataclass(frozen=True)
class Comparison:
    """Groups in the order of the levels; empty_levels have no row. pair_label: what joins values across groups, ""
    for nothing; n_joined, n_alone: units with and without a value in 2 groups. unit_label: what n counts, "" for
    rows; repeated: what several rows of a group belong to, "" for nothing; components: how much these resemble each
    other, then."""

    subject: Subject
    used: Used
    by: str
    by_unit: str
    second: str
    second_labels: tuple[str, ...]
    groups: tuple[ComparedGroup, ...]
    centre: Centre
    bars: Bars
    level: float
    percents: tuple[float, float]
    trim: float
    seed: int | None
    left_out: int
    empty_levels: tuple[str, ...]
    pair_label: str
    n_joined: int
    n_alone: int
    lines: tuple[FittedLine, ...]
    line: str
    unit_label: str
    repeated: str
    components: Components | None
    without_group: int
    fits_badly: bool
    words: tuple[str, ...]


def levels_of(series: Series, variable: VariableView) -> tuple[list[str], Ints, list[float | None]]:
    """The levels of a variable, the place of each entry among them, and the number that each stands for."""
    column = series.columns[variable.symbol]
    if column.numbers is not None and column.codes is None:
        return _numbers_as_levels(variable, series.entries(column.numbers))
    labels, index = series.levels(variable.symbol)
    if column.level_numbers:
        return labels, index, [float(number) for number in column.level_numbers]
    return labels, index, [None] * len(labels)


def _numbers_as_levels(variable: VariableView, x: Floats) -> tuple[list[str], Ints, list[float | None]]:
    """Each value of a number, as of a dose or a time, a level of its own."""
    result, places = np.unique(np.where(np.isnan(x), np.inf, x), return_inverse=True)
    places[np.isnan(x)] = -1
    result = result[: int(places.max(initial=-1)) + 1]
    if result.size > MOST_GROUPS:
        raise _too_many(result.size, variable.label)
    return [f"{value:.12g}" for value in result.tolist()], places, list(result.tolist())


def _too_many(n: int, of: str) -> InputError:
    return InputError(
        "too-many-groups",
        f"{of} has {n} groups; at most {MOST_GROUPS} are set side by side.",
        where="by",
        remedy="Choose a variable with fewer levels, or put it in classes under Rescale.",
    )


def unit_of(variable: VariableView) -> VariableView | None:
    """What each row of its table is of, None where the table does not say."""
    symbol = variable.table.state.description("").get("unit_variable")
    return variable.table.variable(symbol) if symbol in variable.table.state.symbols else None


def groups_reading(variable: VariableView, settings: CompareSettings, cancellation: Cancellation) -> Comparison:
    """How groups stand, in numbers and words; kept, since a picture and its numbers ask the same."""
    symbols = [role and role.symbol for role in (variable, settings.by, settings.second, settings.pair)]
    how = (
        settings.centre,
        settings.bars,
        settings.level,
        settings.units,
        settings.percents,
        settings.trim,
        settings.line,
        settings.log,
    )
    return variable.table.remembered(
        ("compared", *symbols, *how), lambda: _groups_reading(variable, settings, cancellation)
    )


def _groups_reading(variable: VariableView, settings: CompareSettings, cancellation: Cancellation) -> Comparison:
    own_unit = unit_of(variable)
    chunks = variable.table.chunks
    if chunks is not None and (settings.pair is not None or (settings.units and own_unit is not None)):
        raise all_rows_at_once("What joins or averages the rows of a unit")
    laid = grouped_rows(variable, settings.by, settings.second, settings.pair, own_unit)
    series, x, of_rows, cells, k = laid.series, laid.values, laid.of_rows, laid.cells, len(laid.second_labels)
    units = series.grouping(own_unit.symbol) if own_unit is not None and settings.units else None
    cancellation.check()
    result = _centres(variable, laid, settings, units, cancellation)
    cancellation.check()
    known = np.flatnonzero(~np.isnan(x) & (of_rows >= 0))
    lost = _not_above_zero(variable, laid, known) if settings.log else np.zeros(cells.size)
    parts = tuple(
        ComparedGroup(
            typeset(laid.labels[cell // k]),
            typeset(laid.second_labels[cell % k]),
            cell // k,
            cell % k,
            laid.numbers[cell // k],
            result.groups[i],
            int(lost[i]),
        )
        for i, cell in enumerate(cells.tolist())
    )
    repeated = (
        ""
        if settings.units or own_unit is None or chunks is not None
        else _repeated(series, own_unit, of_rows[known], known)
    )
    alike = None
    if repeated and own_unit is not None:
        alike = groups.components(x, laid.grouping(), unit=series.grouping(own_unit.symbol), level=settings.level)
        cancellation.check()
    pairs = paired_values(laid, settings.pair)
    present = set((cells // k).tolist())
    return Comparison(
        subject_of(variable),
        _used(variable, series, settings),
        typeset(settings.by.label),
        typeset(settings.by.unit),
        typeset(settings.second.label) if settings.second else "",
        tuple(typeset(label) for label in laid.second_labels) if settings.second else (),
        parts,
        settings.centre,
        settings.bars,
        settings.level,
        settings.percents,
        settings.trim,
        result.seed,
        result.left_out,
        tuple(typeset(label) for i, label in enumerate(laid.labels) if i not in present),
        typeset(settings.pair.label) if settings.pair else "",
        pairs.n_joined if pairs else 0,
        pairs.n_alone if pairs else 0,
        _lines(parts, x, of_rows, settings),
        settings.line,
        typeset(own_unit.label) if own_unit is not None and settings.units else "",
        repeated,
        alike,
        int(np.count_nonzero(~np.isnan(x) & (of_rows < 0)))
        if chunks is None
        else used_of(variable, series).n - result.n,
        bool(groups.fits_badly(result)),
        groups.words_on_groups(result, unit=typeset(variable.unit)),
    )


def _used(variable: VariableView, series: Series, settings: CompareSettings) -> Used:
    """The rows used: what is resampled, and a line through all rows, are of a sample of a long table."""
    used = used_of(variable, series)
    sampled = BARS[settings.bars].seeded or settings.line == "rows"
    return used if sampled else replace(used, sampled=0)


def _centres(
    variable: VariableView,
    laid: "GroupedRows",
    settings: CompareSettings,
    units: Grouping | None,
    cancellation: Cancellation,
) -> groups.Centres:
    """The centre of each group with its bar."""
    names = [_named(laid, cell, settings.by) for cell in laid.cells.tolist()]
    how: dict[str, Any] = {name: getattr(settings, name) for name in ("centre", "bars", "level", "percents", "trim")}
    chunks = variable.table.chunks
    if chunks is None:
        return groups.group_centres(
            laid.values, Grouping(tuple(names), laid.of_rows), unit=units, progress=cancellation.progress, **how
        )
    values = [laid.values[entries] for entries in laid.entries()]
    every = [in_parts(variable, chunks, laid.whose(i)) for i in range(laid.cells.size)]
    in_rounds(chunks, *(partial(getattr, ordered, "basis") for ordered in every))

    def of_groups(places: Sequence[int]) -> groups.Centres:
        made = [groups.OrderedGroup(names[i], every[i], every[i].basis.n_missing, values[i]) for i in places]
        n_missing = sum(group.n_missing for group in made)
        return groups.centres_of_ordered(made, n_missing=n_missing, progress=cancellation.progress, **how)

    if not BARS[settings.bars].seeded:
        in_rounds(chunks, *(partial(of_groups, [i]) for i in range(len(every))))
    return of_groups(range(len(every)))


def _not_above_zero(variable: VariableView, laid: "GroupedRows", known: Ints) -> Ints:
    """How many values of each group a log axis cannot show."""
    chunks = variable.table.chunks
    if chunks is None:
        return np.bincount(laid.of_rows[known][laid.values[known] <= 0], minlength=laid.cells.size)
    every = [in_parts(variable, chunks, laid.whose(i)) for i in range(laid.cells.size)]
    return np.array([ordered.n_to(0.0) for ordered in every], dtype=np.int64)


def _named(laid: "GroupedRows", cell: int, by: VariableView) -> str:
    """A group in a sentence; a level that is a bare number takes the variable's name before it."""
    k = len(laid.second_labels)
    label = typeset(laid.labels[cell // k])
    if laid.numbers[cell // k] is not None and label[:1] in "0123456789-.":
        label = f"{typeset(by.label)} {label}"
    return f"{label} {typeset(laid.second_labels[cell % k])}".strip()


@dataclass(frozen=True)
class GroupedRows:
    """The rows of groups. values: (n,) of the variable; labels, numbers: of the levels, and what they stand for; cells:
    level x second of each group that has rows; of_rows: (n,) the group of each row, -1 for none. Of a long table the
    rows are a sample, and groups those that any of its rows is in. by: the symbols of both variables, "" for none."""

    by: tuple[str, str]
    series: Series
    values: Floats
    labels: list[str]
    numbers: list[float | None]
    second_labels: list[str]
    cells: Ints
    of_rows: Ints

    def whose(self, i: int) -> Whose:
        """The levels that a group is at."""
        cell, k = int(self.cells[i]), len(self.second_labels)
        at = ((self.by[0], self.labels[cell // k]), (self.by[1], self.second_labels[cell % k]))
        return tuple(pair for pair in at if pair[0])

    def grouping(self) -> Grouping:
        """The groups by their places."""
        return Grouping(tuple(map(str, self.cells.tolist())), self.of_rows)

    def entries(self) -> list[Ints]:
        """Of each group, where its values stand among all."""
        known = np.flatnonzero(~np.isnan(self.values) & (self.of_rows >= 0))
        order = known[np.argsort(self.of_rows[known], kind="stable")]
        return np.split(order, np.searchsorted(self.of_rows[order], np.arange(1, self.cells.size)))


def grouped_rows(
    variable: VariableView, by: VariableView, second: VariableView | None, *others: VariableView | None
) -> GroupedRows:
    """The rows of a variable by the levels of another, and of a second one within each; others are loaded besides."""
    roles = (variable, by, second, *others)
    question = "grouped rows", *(role and role.symbol for role in roles)
    return variable.table.remembered(question, lambda: _grouped_rows(variable, by, second, *others))


def _grouped_rows(
    variable: VariableView, by: VariableView, second: VariableView | None, *others: VariableView | None
) -> GroupedRows:
    series = series_of(variable, by, second, *others)
    x = series.numbers(variable.symbol)
    labels, index, numbers = levels_of(series, by)
    second_labels, second_index = [""], np.zeros(index.size, dtype=np.int64)
    if second is not None:
        second_labels, second_index, _ = levels_of(series, second)
    chunks = variable.table.chunks
    found = None if chunks is None else cells_in(chunks, *[role.symbol for role in (by, second) if role])
    if found is not None:  # levels of which the sample has no row
        labels, index, numbers = _with_levels(labels, index, numbers, {of[0] for of in found})
        if second is not None:
            second_labels, second_index, _ = _with_levels(second_labels, second_index, [], {of[1] for of in found})
    k = len(second_labels)
    joined = np.where((index < 0) | (second_index < 0), -1, index * k + second_index)
    if found is None:
        cells = np.flatnonzero(np.bincount(joined[joined >= 0], minlength=len(labels) * k))
    else:
        cells = np.array(
            sorted(labels.index(of[0]) * k + (second_labels.index(of[1]) if second else 0) for of in found),
            dtype=np.int64,
        )
    if cells.size > MOST_GROUPS:
        raise _too_many(cells.size, by.label)
    group = np.full(len(labels) * k + 1, -1, dtype=np.int64)
    group[cells] = np.arange(cells.size)
    of = by.symbol, second.symbol if second else ""
    return GroupedRows(of, series, x, labels, numbers, second_labels, cells, group[joined])


def _with_levels(
    labels: list[str], index: Ints, numbers: list[float | None], every: set[str]
) -> tuple[list[str], Ints, list[float | None]]:
    """The levels of a sample with others that occur in the table; numbers keep their order."""
    new = sorted(every - set(labels))
    if not new:
        return labels, index, numbers
    if not any(number is not None for number in numbers):
        return [*labels, *new], index, [*numbers, *[None] * len(new)]
    together = sorted({*labels, *new}, key=float)
    place = np.array([*(together.index(label) for label in labels), -1])
    return together, place[index], [float(label) for label in together]


def paired_values(laid: GroupedRows, pair: VariableView | None) -> groups.Paired | None:
    """The values of each unit of `pair` across the groups; None without one."""
    if pair is None:
        return None
    return groups.paired_across(laid.values, laid.grouping(), unit=laid.series.grouping(pair.symbol))


def rows_of_group(variable: VariableView, by: VariableView, second: VariableView | None, group: int) -> Ints:
    """The row numbers, from 1, of the values of a group, by its place among the groups compared."""
    laid = grouped_rows(variable, by, second)
    if not 0 <= group < laid.cells.size:
        raise InputError("no-group", f"There is no group {group} of {laid.cells.size}.", where="group")
    return laid.series.rows(laid.entries()[group])


def _lines(
    parts: Sequence[ComparedGroup], x: Floats, of_rows: Ints, settings: CompareSettings
) -> tuple[FittedLine, ...]:
    """The line over the numbers of the levels, through all rows of the groups or through their centres."""
    if settings.line == "none" or any(part.number is None for part in parts):
        return ()
    numbers_of = np.array([part.number for part in parts], dtype=np.float64)
    kinds = np.array([part.second_place for part in parts], dtype=np.int64)
    result = []
    for kind in np.unique(kinds).tolist():
        of_kind = np.flatnonzero(kinds == kind)
        if settings.line == "rows":
            rows = np.flatnonzero(np.isin(of_rows, of_kind))
            places, values = numbers_of[of_rows[rows]], x[rows]
        else:
            centres = [parts[i].centred.centre for i in of_kind.tolist()]
            places, values = numbers_of[of_kind], np.array([np.nan if centre is None else centre for centre in centres])
        if settings.log:
            values = np.log10(values, where=values > 0, out=np.full(values.size, np.nan))
        try:
            result.append(FittedLine(kind, groups.line(places, values, level=settings.level), ""))
        except InputError as error:
            result.append(FittedLine(kind, None, error.problem))
    return tuple(result)


def _repeated(series: Series, unit: VariableView, group: Ints, entries: Ints) -> str:
    """The unit's label where some unit has several entries in a group, so that n counts too much."""
    codes = series.levels(unit.symbol)[1][entries]
    pairs = np.unique(np.column_stack((group, codes))[codes >= 0], axis=0)
    return typeset(unit.label) if len(pairs) < int(np.count_nonzero(codes >= 0)) else ""
