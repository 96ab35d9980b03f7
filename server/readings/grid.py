"""Rows of a table in an order and under a condition, a page at a time."""

from contextlib import suppress
from dataclasses import dataclass

import numpy as np
from heron import numbering
from heron.checks import Ints
from heron.columns import Column
from heron.errors import InputError, all_rows_at_once
from heron.variables import cell_text

from server.caching import Kept
from server.studies.snapshots import TableSnapshot

_KEPT_ORDERS = 8
Bools = np.ndarray[tuple[int], np.dtype[np.bool_]]


@dataclass(frozen=True)
class View:
    """Which rows, and in which order. sort: a symbol, "" for the table's own order; variable: the one that `low`,
    `high`, `level` or `missing` speak of, "" for all rows; set_aside: only rows set aside."""

    sort: str = ""
    descending: bool = False
    variable: str = ""
    low: float | None = None
    high: float | None = None
    level: str | None = None
    missing: bool = False
    set_aside: bool = False


@dataclass(frozen=True)
class GridRow:
    """One row as it stands in its file: cells as text, which of them are missing, what is set aside."""

    row: int
    cells: list[str]
    missing: list[bool]
    aside: bool
    aside_values: list[str]


@dataclass(frozen=True)
class Grid:
    """A page of the view. n: rows in the view; place: of the row that was looked for, from 0, None where it is not."""

    n: int
    start: int
    rows: list[GridRow]
    place: int | None


@dataclass(frozen=True)
class Sought:
    """Where a text stands next: the place of its row in the view, from 0, its row number and variable; n: how many
    rows of the view hold it. None where it stands nowhere."""

    n: int
    place: int | None
    row: int | None
    variable: str


_orders: Kept[Ints] = Kept(_KEPT_ORDERS)


def grid(table: TableSnapshot, view: View, *, start: int, count: int, find: int | None) -> Grid:
    """A page of at most `count` rows from place `start`, counted from 0; with `find`, the place of that row too."""
    if table.state.is_long and view != View():
        raise all_rows_at_once("Another order, or a part of the rows,")
    positions = _order(table, view)
    n = table.n_rows if positions is None else positions.size
    page = np.arange(start, min(start + count, n)) if positions is None else positions[start : start + count]
    sought = None
    if find is not None and 1 <= find <= table.n_rows:
        result = [find - 1] if positions is None else np.flatnonzero(positions == find - 1)
        sought = int(result[0]) if len(result) else None
    aside = {symbol: set(numbering.from_runs(runs).tolist()) for symbol, runs in table.state.aside.items()}
    rows = []
    for position in page.tolist():
        cells = [table.described_at(position, symbol) for symbol in table.state.symbols]
        rows.append(
            GridRow(
                position + 1,
                [cell_text(column, place) for column, place in cells],
                [bool(column.reasons[place]) for column, place in cells],
                position + 1 in aside.get("", ()),
                [symbol for symbol, held in aside.items() if symbol and position + 1 in held],
            )
        )
    return Grid(n, start, rows, sought)


def seek(table: TableSnapshot, view: View, text: str, *, after: int) -> Sought:
    """The next row behind place `after` that holds the text, and after the last one the first again.

    Labels and missing codes hold what stands in them, whatever the case; numbers and days are equal to what is typed.
    """
    positions = _order(table, view)
    hits: dict[str, Bools] = {}
    for symbol, column in table.described().columns.items():
        result = _holding(column, text.strip())
        if result is not None:
            hits[symbol] = result if positions is None else result[positions]
    if not hits:
        return Sought(0, None, None, "")
    places = np.flatnonzero(np.logical_or.reduce(list(hits.values())))
    if places.size == 0:
        return Sought(0, None, None, "")
    behind = places[places > after]
    row = int(behind[0] if behind.size else places[0])
    symbol = next(name for name, hit in hits.items() if hit[row])
    return Sought(places.size, row, row + 1 if positions is None else int(positions[row]) + 1, symbol)


def _holding(column: Column, text: str) -> Bools | None:
    """Which cells hold the text; None where none does."""
    wanted = text.lower()
    codes = [i + 1 for i, code in enumerate(column.missing_codes) if code != "blank" and wanted in code.lower()]
    bools: Bools = np.isin(column.reasons, codes) if codes else np.zeros(column.n_rows, dtype=bool)
    if column.codes is not None:
        bools = bools | np.isin(column.codes, [i for i, level in enumerate(column.levels) if wanted in level.lower()])
    elif column.kind == "date-time" and column.numbers is not None:
        try:
            day = np.datetime64(text, "D").astype("datetime64[s]").astype(np.int64)
        except ValueError:
            return bools if codes else None
        bools = bools | ((column.numbers >= day) & (column.numbers < day + 86_400))
    elif column.numbers is not None:
        with suppress(ValueError):
            bools = bools | (column.numbers == float(text.replace("\u2212", "-")))
    return bools if bools.any() else None


def _order(table: TableSnapshot, view: View) -> Ints | None:
    """Row positions of the view; None for all rows in the table's own order. The last few are kept."""
    if view == View():
        return None
    return _orders.answer((table.key, view), lambda: _worked_order(table, view))


def _worked_order(table: TableSnapshot, view: View) -> Ints:
    kept = _kept(table, view)
    return kept[_ranks(_named(table, view.sort), kept, view.descending)] if view.sort else kept


def _named(table: TableSnapshot, symbol: str) -> Column:
    if symbol not in table.state.symbols:
        raise InputError(
            "no-variable", f"The table has no variable {symbol!r}.", where="sort", remedy="Choose another."
        )
    return table.variable(symbol).described


def _kept(table: TableSnapshot, view: View) -> Ints:
    wanted = np.ones(table.n_rows, dtype=bool)
    if view.set_aside:
        wanted[:] = False
        wanted[numbering.from_runs(table.state.aside.get("", ())) - 1] = True
    if view.variable:
        column = _named(table, view.variable)
        if view.missing:
            wanted &= column.reasons > 0
        if view.level is not None:
            code = column.levels.index(view.level) if view.level in column.levels else -2
            wanted &= column.codes == code if column.codes is not None else np.zeros(table.n_rows, dtype=bool)
        if view.low is not None or view.high is not None:
            if column.numbers is None:
                raise InputError("not-numeric", f"{column.label} has no numbers to compare.", where="low")
            wanted &= column.numbers >= (-np.inf if view.low is None else view.low)
            wanted &= column.numbers <= (np.inf if view.high is None else view.high)
    return np.flatnonzero(wanted)


def _ranks(column: Column, kept: Ints, descending: bool) -> Ints:
    """The order of the kept rows by a column, rows of equal value in their own order, missing ones last."""
    values = column.numbers[kept] if column.numbers is not None else column.codes[kept].astype(np.float64)  # type: ignore[index]
    known = column.reasons[kept] == 0
    keys = np.where(known, -values if descending else values, np.inf)
    return np.argsort(keys, kind="stable")
