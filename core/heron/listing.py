"""Which rows of a table are listed, in which order, and in which of them a text stands."""

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.columns import Column
from heron.errors import InputError

# The column of a variable, by its symbol, as it is described.
Described = Callable[[str], Column]
Bools = NDArray[np.bool_]


@dataclass(frozen=True)
class Listing:
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

    @property
    def symbols(self) -> tuple[str, ...]:
        """The variables that it speaks of."""
        return tuple(symbol for symbol in dict.fromkeys((self.variable, self.sort)) if symbol)


def listed(listing: Listing, described: Described, rows_aside: Ints, n_rows: int) -> Bools:
    """(n_rows,) whether a row is listed. rows_aside: positions of the rows that are set aside."""
    wanted = np.ones(n_rows, dtype=bool)
    if listing.set_aside:
        wanted[:] = False
        wanted[rows_aside] = True
    if not listing.variable:
        return wanted
    column = described(listing.variable)
    if listing.missing:
        wanted &= column.reasons > 0
    if listing.level is not None:
        code = column.levels.index(listing.level) if listing.level in column.levels else -2
        wanted &= column.codes == code if column.codes is not None else np.zeros(n_rows, dtype=bool)
    if listing.low is not None or listing.high is not None:
        if column.numbers is None:
            raise InputError("not-numeric", f"{column.label} has no numbers to compare.", where="low")
        wanted &= column.numbers >= (-np.inf if listing.low is None else listing.low)
        wanted &= column.numbers <= (np.inf if listing.high is None else listing.high)
    return wanted


def sort_values(listing: Listing, described: Described, places: Ints) -> Floats:
    """What listed rows are sorted by, ascending; rows of equal value stay in their own order, missing ones are last."""
    if not listing.sort:
        return np.zeros(places.size)
    column = described(listing.sort)
    if column.numbers is not None:
        values = column.numbers[places]
    else:
        assert column.codes is not None
        values = column.codes[places].astype(np.float64)
    return np.where(column.reasons[places] == 0, -values if listing.descending else values, np.inf)


def holding(column: Column, text: str) -> Bools | None:
    """Which cells hold a text; None where none does.

    Labels and missing codes hold what stands in them, whatever the case; numbers and days are equal to what is typed.
    """
    wanted = text.lower()
    codes = [i + 1 for i, code in enumerate(column.missing_codes) if code != "blank" and wanted in code.lower()]
    result: Bools = np.isin(column.reasons, codes) if codes else np.zeros(column.n_rows, dtype=bool)
    if column.codes is not None:
        result = result | np.isin(column.codes, [i for i, level in enumerate(column.levels) if wanted in level.lower()])
    elif column.kind == "date-time" and column.numbers is not None:
        try:
            day = np.datetime64(text, "D").astype("datetime64[s]").astype(np.int64)
        except ValueError:
            return result if codes else None
        result = result | ((column.numbers >= day) & (column.numbers < day + 86_400))
    elif column.numbers is not None:
        with suppress(ValueError):
            result = result | (column.numbers == float(text.replace("\u2212", "-")))
    return result if result.any() else None
