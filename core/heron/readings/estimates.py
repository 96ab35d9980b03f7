"""Rows that are results already: estimates with their limits, from columns of a table."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from heron import estimates
from heron.checks import Floats
from heron.errors import InputError
from heron.formatting import counted, typeset
from heron.ledger import Series, TableView, VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.subject import series_of
from heron.variables import written

MOST_ROWS = 1_000


@dataclass(frozen=True)
class EstimatesSettings:
    """Symbols. of: columns of estimates (several: a block); limits: two columns, or none; widths: one, or a block;
    label, weight, heading: a column, "" for none."""

    of: tuple[str, ...]
    limits: tuple[str, ...]
    widths: tuple[str, ...]
    label: str
    weight: str
    heading: str


@dataclass(frozen=True)
class EstimateRow:
    """row: of the table, from 1; series: which pair of columns it is of, by its place among `series`."""

    row: int
    label: str
    series: int
    estimate: float
    low: float | None
    high: float | None
    weight: float | None
    heading: str


@dataclass(frozen=True)
class Matched:
    """A column of estimates and the column of widths that belongs to it, by their labels; "" where there is none."""

    name: str
    centre: str
    width: str


@dataclass(frozen=True)
class EstimatesReading:
    """series: names of the pairs of columns, one "" where there is one; matches: how two blocks were put together."""

    rows: tuple[EstimateRow, ...]
    series: tuple[str, ...]
    title: str
    unit: str
    decimals: int
    label: str
    numeric_labels: bool
    heading: str
    weight: str
    limits: str
    matches: tuple[Matched, ...]
    words: tuple[str, ...]


def estimated(table: TableView, settings: EstimatesSettings, cancellation: Cancellation) -> EstimatesReading:
    centres = [table.variable(symbol) for symbol in settings.of]
    widths = [table.variable(symbol) for symbol in settings.widths]
    label, weight, heading = (
        table.variable(symbol) if symbol else None for symbol in (settings.label, settings.weight, settings.heading)
    )
    if table.n_rows * max(len(centres), 1) > MOST_ROWS:
        raise InputError(
            "too-many-rows",
            f"{table.name} has {table.n_rows} rows; at most {MOST_ROWS} estimates are set one under the other.",
            where="of",
            remedy="Compare groups of rows instead.",
        )
    if len(settings.limits) == 1 or (settings.limits and len(centres) > 1):
        raise InputError(
            "two-limits",
            "Limits stand in two columns, beside one column of estimates.",
            where="limits",
            remedy="Choose both, or none; for a block of estimates choose a block of widths.",
        )
    pairs, names, matches = _pairs(centres, widths)
    cancellation.check()
    ends = [table.variable(symbol) for symbol in settings.limits]
    loaded = series_of(*centres, *widths, *ends, label, weight, heading, weights="refuse")
    sizes = loaded.numbers(weight.symbol) if weight is not None else None
    if sizes is not None and np.any(sizes < 0):
        raise InputError("negative-weight", "A weight cannot be below 0.", where="weight")
    rows: list[EstimateRow] = []
    said: list[str] = []
    for series, (i, j) in enumerate(pairs):
        result = ends_in(loaded, loaded.numbers(centres[i].symbol), ends or ([] if j is None else [widths[j]]))
        said += _said(result, names[series] if len(pairs) > 1 else "", bool(settings.limits or j is not None))
        for row in np.flatnonzero(~np.isnan(result.estimate)).tolist():
            rows.append(
                EstimateRow(
                    row + 1,
                    _cell(loaded, label, row) or f"row {row + 1}",
                    series,
                    float(result.estimate[row]),
                    _known(result.low, row),
                    _known(result.high, row),
                    None if sizes is None else _known(sizes, row),
                    _cell(loaded, heading, row),
                )
            )
    unmatched = [match.centre or match.width for match in matches if not match.centre or not match.width]
    if unmatched and widths:
        said.append(f"Without a partner: {', '.join(unmatched)}.")
    first = centres[0]
    return EstimatesReading(
        tuple(rows),
        tuple(names) if len(pairs) > 1 else ("",),
        typeset(first.label) if len(centres) == 1 else "",
        typeset(first.unit),
        _decimals([*centres, *widths, *ends], rows),
        typeset(label.label) if label else "",
        label is not None and loaded.columns[label.symbol].numbers is not None,
        typeset(heading.label) if heading else "",
        typeset(weight.label) if weight else "",
        bars_named(ends or widths, limits=bool(ends)),
        matches,
        (f"{counted(len(rows), 'estimate')}.", *said),
    )


def decimals_of_limits(results: Sequence[tuple[float, float | None, float | None]]) -> int:
    """As many as tell the width of usual limits to three digits."""
    widths = [high - low for _, low, high in results if low is not None and high is not None and high > low]
    size = float(np.median(widths)) if widths else max((abs(value) for value, _, _ in results), default=0.0)
    return 0 if not 0 < size < np.inf else int(min(max(2 - np.floor(np.log10(size)), 0), 6))


def _decimals(columns: list[VariableView], rows: list[EstimateRow]) -> int:
    """Those of the columns, so that a limit of 0.05 beside an estimate of 0.3 stays 0.05; beyond four only where the
    limits are as narrow as that."""
    suited = decimals_of_limits([(row.estimate, row.low, row.high) for row in rows])
    recorded = [column.decimals for column in columns]
    if any(decimals is None for decimals in recorded):
        return suited
    return min(max(decimals or 0 for decimals in recorded), max(suited, 4))


def _pairs(
    centres: list[VariableView], widths: list[VariableView]
) -> tuple[list[tuple[int, int | None]], list[str], tuple[Matched, ...]]:
    """Which width belongs to which centre, what each pair is of, and the match as it is shown."""
    labels = [typeset(centre.label) for centre in centres]
    if not widths:
        return [(i, None) for i in range(len(centres))], labels, ()
    if len(centres) == 1 and len(widths) == 1:
        return [(0, 0)], labels, ()
    others = [typeset(width.label) for width in widths]
    result = estimates.match(labels, others)
    shown = [Matched(name, labels[i], others[j]) for name, (i, j) in zip(result.names, result.pairs, strict=True)]
    shown += [Matched("", labels[i], "") for i in result.alone] + [Matched("", "", others[j]) for j in result.left]
    pairs: list[tuple[int, int | None]] = [*result.pairs, *((i, None) for i in result.alone)]
    return pairs, [*result.names, *(labels[i] for i in result.alone)], tuple(shown)


def ends_in(loaded: Series, values: Floats, columns: Sequence[VariableView]) -> estimates.Estimates:
    """Values with the ends of their bars: of two columns the limits, of one the width to each side, of none nothing."""
    held = [loaded.numbers(column.symbol) for column in columns]
    if len(held) == 1:
        return estimates.with_width(values, held[0])
    nothing = np.full(values.size, np.nan)
    return estimates.with_limits(values, *(held or (nothing, nothing)))


def bars_named(columns: Sequence[VariableView], *, limits: bool | None = None) -> str:
    """What bars are, of the columns of their limits (two, unless said otherwise) or of their widths."""
    labels = [typeset(column.label) for column in columns]
    if len(columns) == 2 if limits is None else limits:
        return " and ".join(labels)
    return f"{', '.join(labels)} to each side" if labels else ""


def odd_ends(result: estimates.Estimates, of: str) -> list[str]:
    """Values without bars, or not enclosed by them, and limits that were turned."""
    return _said(replace(result, empty=result.empty[:0]), of, limited=True)


def _cell(loaded: Series, variable: VariableView | None, row: int) -> str:
    return typeset(written(loaded.columns[variable.symbol], row)) if variable is not None else ""


def _known(values: Floats, row: int) -> float | None:
    return None if np.isnan(values[row]) else float(values[row])


def _said(result: estimates.Estimates, of: str, limited: bool) -> list[str]:
    within = f" of {of}" if of else ""
    said = []
    if result.empty.size:
        said.append(
            f"{counted(result.empty.size, 'row')}{within} without an estimate left out: {_named(result.empty)}."
        )
    if result.bare.size and limited:
        said.append(f"Without limits{within}: {_named(result.bare)}.")
    if result.outside.size:
        said.append(f"The limits do not enclose the estimate{within}: {_named(result.outside)}.")
    if result.exchanged.size:
        said.append(f"Limits{within} that stood the other way round were turned: {_named(result.exchanged)}.")
    return said


def _named(rows: np.ndarray) -> str:
    shown = ", ".join(f"row {row + 1}" for row in rows[:8].tolist())
    return shown if rows.size <= 8 else f"{shown} and {rows.size - 8} more"
