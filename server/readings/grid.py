"""Rows of a table in an order and under a condition, a page at a time."""

from dataclasses import dataclass

import numpy as np
from heron import numbering
from heron.checks import Ints
from heron.chunked import Paging
from heron.columns import Column
from heron.errors import InputError
from heron.listing import Bools, Listing, holding, listed, sort_values
from heron.variables import cell_text

from server.caching import Kept
from server.studies.snapshots import TableSnapshot

_KEPT_ORDERS = 8


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
    """A page of the listing. n: rows in it; place: of the row that was looked for, from 0, None where it is not."""

    n: int
    start: int
    rows: list[GridRow]
    place: int | None


@dataclass(frozen=True)
class Sought:
    """Where a text stands next: the place of its row in the listing, from 0, its row number and variable; n: how many
    listed rows hold it. None where it stands nowhere."""

    n: int
    place: int | None
    row: int | None
    variable: str


_orders: Kept[Ints] = Kept(_KEPT_ORDERS)


def grid(table: TableSnapshot, listing: Listing, *, start: int, count: int, find: int | None) -> Grid:
    """A page of at most `count` rows from place `start`, counted from 0; with `find`, the place of that row too."""
    place: int | None = None
    looked_for = find - 1 if find is not None and 1 <= find <= table.n_rows else None
    if listing == Listing():
        n, place = table.n_rows, looked_for
        page = np.arange(start, min(start + count, n))
    elif table.chunks is not None:
        _check(table, listing)
        paging = _paging(table, listing)
        n, page = paging.n, paging.rows(start, start + count)
        place = None if looked_for is None else paging.place_of(looked_for)
    else:
        positions = _order(table, listing)
        n, page = positions.size, positions[start : start + count]
        found = np.flatnonzero(positions == looked_for)
        place = int(found[0]) if found.size else None
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
    return Grid(n, start, rows, place)


def seek(table: TableSnapshot, listing: Listing, text: str, *, after: int) -> Sought:
    """The next row behind place `after` that holds the text, and after the last one the first again."""
    _check(table, listing)
    if table.chunks is not None:
        found = _paging(table, listing).sought(text.strip(), table.state.symbols, after)
        if found is None:
            return Sought(0, None, None, "")
        n, place, position, symbol = found
        return Sought(n, place, position + 1, symbol)
    positions = None if listing == Listing() else _order(table, listing)
    hits: dict[str, Bools] = {}
    for symbol, column in table.described().columns.items():
        result = holding(column, text.strip())
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


def _paging(table: TableSnapshot, listing: Listing) -> Paging:
    """The listing of a long table; what it found of where rows stand is kept."""
    chunks = table.chunks
    assert chunks is not None
    return table.remembered(("paging", listing), lambda: Paging(chunks, listing))


def _order(table: TableSnapshot, listing: Listing) -> Ints:
    """The positions of the rows of a listing. The last few are kept."""
    return _orders.answer((table.key, listing), lambda: _worked_order(table, listing))


def _worked_order(table: TableSnapshot, listing: Listing) -> Ints:
    _check(table, listing)

    def described(symbol: str) -> Column:
        return table.variable(symbol).described

    aside = table.state.positions_aside("", table.n_rows)
    places = np.flatnonzero(listed(listing, described, aside, table.n_rows))
    values = sort_values(listing, described, places)
    return places[np.argsort(values, kind="stable")] if listing.sort else places


def _check(table: TableSnapshot, listing: Listing) -> None:
    for symbol in listing.symbols:
        if symbol not in table.state.symbols:
            raise InputError(
                "no-variable", f"The table has no variable {symbol!r}.", where="sort", remedy="Choose another."
            )
