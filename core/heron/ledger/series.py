"""From the variables of a table to the arrays that statistics are computed from: the only way."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints, frequencies
from heron.columns import NUMBER_KINDS, SET_ASIDE, Column
from heron.errors import InputError, all_rows_at_once
from heron.grouping import Grouping
from heron.ledger.state import TableState
from heron.variables import labels_of

Entry = TypeVar("Entry", bound=np.generic)


@dataclass(frozen=True)
class Used:
    """How many rows a reading used; missing_counts says why others have no value; the rest were set aside.

    weighted_by: the variable that says how often each row counts, "" for none; all counts are then of what the rows
    stand for. weightless: rows that count for nothing, since that variable is missing or 0 there. sampled: how many
    rows, drawn at random of all, were looked at in their place; 0 where all were.
    """

    n: int
    missing: int
    missing_counts: dict[str, int]
    set_aside: int
    weighted_by: str = ""
    weightless: int = 0
    sampled: int = 0


@dataclass(frozen=True)
class Series:
    """Variables of a table as arrays of n entries: each row as often as it counts, one behind the other.

    columns: by symbol, each whole, or of a long table its rows at `sampled`, without what is set aside. places: (n,)
    the row of the columns that each entry is; None where entry i is row i. weighted_by, weightless: as in Used.
    sampled: of a long table the positions of the rows that the columns hold; None where they hold all.
    """

    columns: Mapping[str, Column]
    places: Ints | None
    weighted_by: str = ""
    weightless: int = 0
    sampled: Ints | None = None

    def numbers(self, symbol: str, kinds: Collection[str] = NUMBER_KINDS) -> Floats:
        """(n,) the numbers of a variable, NaN for missing; an InputError for one of another kind."""
        column = self.columns[symbol]
        if column.kind not in kinds or column.numbers is None:
            raise InputError(
                "not-numeric",
                f"{column.label} is {column.kind}, not a number.",
                where="variable",
                remedy="Choose a continuous, count or ordered variable.",
            )
        return self.entries(column.numbers)

    def levels(self, symbol: str) -> tuple[list[str], Ints]:
        """The levels of a variable, in their order and as text, and (n,) the index among them, -1 where missing."""
        labels, index = labels_of(self.columns[symbol])
        return labels, self.entries(index)

    def levels_or_numbers(self, symbol: str) -> tuple[list[str], Ints]:
        """The levels of a variable as above; of a number, as of a dose or a time, each value as a level of its own."""
        column = self.columns[symbol]
        if column.numbers is None or column.codes is not None or column.kind == "ordered":
            return self.levels(symbol)
        distinct, places = np.unique(self.entries(column.numbers), return_inverse=True)
        places[np.isnan(distinct)[places]] = -1
        return [f"{value:.12g}" for value in distinct[~np.isnan(distinct)].tolist()], places

    def grouping(self, symbol: str) -> Grouping:
        """The entries in groups by the levels of a variable."""
        labels, index = self.levels(symbol)
        return Grouping(tuple(labels), index)

    def reasons(self, symbol: str) -> NDArray[np.uint8]:
        """(n,) why a variable is missing, as Column has it."""
        return self.entries(self.columns[symbol].reasons)

    def is_aside(self, symbol: str) -> NDArray[np.bool_]:
        """(n,) whether a variable's value is set aside."""
        codes = self.columns[symbol].missing_codes
        code = codes.index(SET_ASIDE) + 1 if SET_ASIDE in codes else 0
        return np.asarray((self.reasons(symbol) == code) & (code > 0))

    def limited(self, symbol: str) -> NDArray[np.bool_]:
        """(n,) whether a value is only known to lie below a limit."""
        limits = self.columns[symbol].limits
        return np.zeros(self.n, dtype=bool) if limits is None else self.entries(~np.isnan(limits))

    def used(self, symbol: str) -> Used:
        """How many entries have a value of the variable, and why others have none."""
        codes = self.columns[symbol].missing_codes
        sums = np.bincount(self.reasons(symbol), minlength=len(codes) + 1)
        counts = {code: int(sums[reason]) for reason, code in enumerate(codes, 1) if sums[reason]}
        aside = counts.pop(SET_ASIDE, 0)
        return Used(int(sums[0]), sum(counts.values()), counts, aside, self.weighted_by, self.weightless)

    @property
    def n(self) -> int:
        """How many entries there are."""
        return next(iter(self.columns.values())).n_rows if self.places is None else self.places.size

    def entries(self, by_row: NDArray[Entry]) -> NDArray[Entry]:
        """(n,) what stands (n_rows,) for each row, as often as the row counts."""
        return by_row if self.places is None else by_row[self.places]

    def positions(self, entries: Ints) -> Ints:
        """The positions, from 0, of the rows of entries."""
        held = entries if self.places is None else self.places[entries]
        return held if self.sampled is None else self.sampled[held]

    def rows(self, entries: Ints) -> Ints:
        """The row numbers, from 1, of entries, each row once, ascending."""
        return (self.positions(entries) if self.places is None else np.unique(self.positions(entries))) + 1


def load_series(
    state: TableState, symbols: Sequence[str], *, weights: Literal["repeat", "refuse", "ignore"] = "repeat"
) -> Series:
    """Return variables of a table as arrays of one length.

    Where the table names a variable of frequency weights, a row of weight 3 is three equal entries, and one whose
    weight is missing or 0 is none: whatever is computed of the entries is what the table with its rows repeated would
    give. Where the weights are themselves among the variables, each row is one entry. Where the state is narrowed to a
    level, the other rows are none. Of a table that is too long to be held these are a fixed sample of its rows.

    Parameters: state; symbols, of the variables; weights, what becomes of frequency weights. "repeat": rows are
    repeated, as above. "refuse", for what speaks of rows one by one: there is an entry for each row, in order, without
    a value where the row is not at the level. "ignore", for lists of rows, which count nothing: likewise.
    Raises: InputError("all-rows-at-once") for what speaks of rows one by one in a table too long to be held;
    InputError("weighted") where weights are refused and the table has some; InputError for weights that are no
    frequencies; KeyError for a variable that the table does not have.
    """
    if state.is_long:
        if weights != "repeat":
            raise all_rows_at_once("What speaks of rows one by one")
        for symbol in symbols:
            state.check_by_row(symbol)
        return replace(load_series(state.sampled, symbols), sampled=state.sample_rows)
    columns = {symbol: state.column(symbol, "active") for symbol in symbols}
    by, shown = state.weights_of(symbols), state.shown
    if weights != "repeat":
        if by and weights == "refuse":
            raise _weighted(state.column(by, "active").label)
        if shown is not None:
            hidden = np.flatnonzero(~shown)
            columns = {symbol: column.set_aside(hidden) for symbol, column in columns.items()}
        return Series(columns, None)
    if not by:
        return Series(columns, None if shown is None else np.flatnonzero(shown))
    levels_column = state.column(by, "active")
    if levels_column.numbers is None:
        raise InputError("not-numeric", f"{levels_column.label} has no numbers to weight by.", where="weights")
    counts = frequencies(np.nan_to_num(levels_column.numbers, nan=0.0), levels_column.n_rows)
    places = np.repeat(np.arange(levels_column.n_rows), counts if shown is None else np.where(shown, counts, 0))
    weightless = np.count_nonzero((counts == 0) if shown is None else shown & (counts == 0))
    return Series(columns, places, levels_column.label, int(weightless))


def _weighted(label: str) -> InputError:
    return InputError(
        "weighted",
        f"Rows count here once each, but the table says that they count as often as {label} says.",
        where="weights",
        remedy="Name no weight variable under Variables, or bring in a table in which each row stands that often.",
    )
