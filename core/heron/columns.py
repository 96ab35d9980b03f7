"""Tables and their columns, as the readers hand them out."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats
from heron.errors import ChoiceError

if TYPE_CHECKING:
    import pandas as pd

Kind = Literal["continuous", "count", "ordered", "category", "date-time", "text", "identifier"]
KINDS: tuple[Kind, ...] = ("continuous", "count", "ordered", "category", "date-time", "text", "identifier")
SET_ASIDE = "set aside"
NUMBER_KINDS: tuple[Kind, ...] = ("continuous", "count", "ordered")


@dataclass(frozen=True, repr=False)
class Column:
    """One variable.

    numbers: (n_rows,) float64, NaN for missing, for continuous, count and numeric ordered columns; for date-time,
    seconds since 1970 (as written, without a zone). For the rest, None, and codes: (n_rows,) int32 into `levels`, -1
    for missing. reasons: (n_rows,) uint8, 0 where there is a value, else 1 + the index of why it is missing in
    `missing_codes`, whose first entry is always "blank". level_numbers: for ordered levels that stand on a number
    axis, the number of each. limits: (n_rows,) float64, the limit below which a value is only known to lie (the
    limit, or half of it, stands in `numbers`), NaN elsewhere; None where no value is so.
    """

    symbol: str
    label: str
    unit: str
    kind: Kind
    numbers: Floats | None
    codes: NDArray[np.int32] | None
    levels: tuple[str, ...]
    reasons: NDArray[np.uint8]
    missing_codes: tuple[str, ...] = ("blank",)
    decimals: int | None = None
    level_numbers: tuple[float, ...] = ()
    limits: Floats | None = None

    @property
    def values(self) -> NDArray[Any]:
        """(n_rows,) numbers with NaN for missing, datetime64 with NaT, or labels with None for missing."""
        if self.kind == "date-time" and self.numbers is not None:
            stamps = np.full(self.numbers.size, np.datetime64("NaT", "ms"))
            known = ~np.isnan(self.numbers)
            stamps[known] = np.rint(self.numbers[known] * 1000).astype("datetime64[ms]")
            return stamps
        if self.numbers is not None:
            return self.numbers
        assert self.codes is not None
        return np.array([*self.levels, None], dtype=object)[self.codes]

    def __repr__(self) -> str:
        unit = f" ({self.unit})" if self.unit else ""
        return f"Column {self.symbol}: {self.label}{unit}, {self.kind}, {self.n_rows} rows, {self.n_missing} missing"

    def __array__(self, dtype: Any = None, copy: bool | None = None) -> NDArray[Any]:
        """Its values, so that functions of arrays take a column."""
        return np.array(self.values, dtype=dtype) if copy else np.asarray(self.values, dtype=dtype)

    @cached_property
    def whole_days(self) -> bool:
        """Whether the column is of days, without a time of day."""
        if self.kind != "date-time" or self.numbers is None:
            return False
        known = self.numbers[~np.isnan(self.numbers)]
        return known.size > 0 and bool(np.all(known % 86_400 == 0))

    def with_levels(self, levels: Sequence[str]) -> "Column":
        """The same labels with their levels in another order; `levels` names each level once."""
        if self.codes is None or sorted(levels) != sorted(self.levels):
            raise ChoiceError(list(levels), self.levels, where=f"levels of {self.symbol}")
        place = {level: i for i, level in enumerate(levels)}
        new_code = np.array([*(place[level] for level in self.levels), -1], dtype=np.int32)
        return replace(self, codes=new_code[self.codes], levels=tuple(levels))

    def rows(self, first: int, end: int) -> "Column":
        """The rows from one position to before another, as a column of their own."""
        here = slice(first, end)
        return replace(
            self,
            numbers=None if self.numbers is None else self.numbers[here],
            codes=None if self.codes is None else self.codes[here],
            reasons=self.reasons[here],
            limits=None if self.limits is None else self.limits[here],
        )

    def at(self, positions: NDArray[np.int64]) -> "Column":
        """The rows at some positions, as a column of their own."""
        return replace(
            self,
            numbers=None if self.numbers is None else self.numbers[positions],
            codes=None if self.codes is None else self.codes[positions],
            reasons=self.reasons[positions],
            limits=None if self.limits is None else self.limits[positions],
        )

    def set_aside(self, positions: NDArray[np.int64]) -> "Column":
        """The same column with some values taken out of the calculations; they count as missing by SET_ASIDE."""
        if positions.size == 0:
            return self
        codes = self.missing_codes if SET_ASIDE in self.missing_codes else (*self.missing_codes, SET_ASIDE)
        reasons = self.reasons.copy()
        reasons[positions] = codes.index(SET_ASIDE) + 1
        numbers, labels = self.numbers, self.codes
        if numbers is not None:
            numbers = numbers.copy()
            numbers[positions] = np.nan
        if labels is not None:
            labels = labels.copy()
            labels[positions] = -1
        limits = self.limits
        if limits is not None:
            limits = limits.copy()
            limits[positions] = np.nan
        return replace(self, numbers=numbers, codes=labels, reasons=reasons, missing_codes=codes, limits=limits)

    @property
    def n_rows(self) -> int:
        return self.reasons.size

    @property
    def n_limited(self) -> int:
        """How many values are only known to lie below a limit."""
        return 0 if self.limits is None else int(np.count_nonzero(~np.isnan(self.limits)))

    @property
    def n_missing(self) -> int:
        return int(np.count_nonzero(self.reasons))

    @property
    def missing_counts(self) -> dict[str, int]:
        """How often each missing code occurs, codes that never do left out."""
        counts = np.bincount(self.reasons, minlength=len(self.missing_codes) + 1)[1:]
        return {code: int(count) for code, count in zip(self.missing_codes, counts, strict=True) if count}


def joined_columns(parts: Sequence[Column]) -> Column:
    """The rows of parts of one column, one behind the other, as the first describes them all."""
    arrays: dict[str, Any] = {}
    for name in ("numbers", "codes", "reasons", "limits"):
        given = [getattr(part, name) for part in parts]
        arrays[name] = None if given[0] is None else np.concatenate(given)
    return replace(parts[0], **arrays)


@dataclass(frozen=True, repr=False)
class Table:
    """Columns of equal length, by symbol; row i is record i + 1 of its source."""

    name: str
    n_rows: int
    columns: dict[str, Column] = field(default_factory=dict)

    def __getitem__(self, symbol: str) -> Column:
        return self.columns[symbol]

    @classmethod
    def from_frame(
        cls, frame: "pd.DataFrame", *, name: str = "table", units: Mapping[str, str] | None = None
    ) -> "Table":
        """Return a pandas table as one of ours: numbers continuous, whole numbers counts, dates date-times, all else
        categories. units: by column."""
        columns = {
            str(symbol): _of_series(str(symbol), frame[symbol], (units or {}).get(symbol, "")) for symbol in frame
        }
        return cls(name, len(frame), columns)

    def to_frame(self) -> "pd.DataFrame":
        """Return the values as a pandas table, a column for each variable: levels as categories in their order."""
        import pandas as pd

        return pd.DataFrame(
            {
                symbol: column.values
                if column.codes is None
                else pd.Categorical.from_codes(column.codes, column.levels)
                for symbol, column in self.columns.items()
            }
        )

    def __repr__(self) -> str:
        lines = [
            f"{symbol}: {column.label}{f' ({column.unit})' if column.unit else ''}, {column.kind}, "
            f"{column.n_missing} missing"
            for symbol, column in self.columns.items()
        ]
        return "\n".join([f"Table {self.name}: {self.n_rows} rows", *lines])

    def __iter__(self) -> Iterator[str]:
        return iter(self.columns)


def _of_series(symbol: str, series: "pd.Series[Any]", unit: str) -> Column:
    missing = series.isna().to_numpy(dtype=bool)
    reasons = missing.astype(np.uint8)
    kind = series.dtype.kind
    if kind in "iuf":
        numbers = series.to_numpy(dtype=np.float64)
        return Column(symbol, symbol, unit, "continuous" if kind == "f" else "count", numbers, None, (), reasons)
    if kind == "M":
        seconds = series.to_numpy(dtype="datetime64[ms]").astype(np.float64) / 1000
        return Column(symbol, symbol, unit, "date-time", np.where(missing, np.nan, seconds), None, (), reasons)
    labels = series.astype("category").cat
    levels = tuple(map(str, labels.categories))
    return Column(symbol, symbol, unit, "category", None, labels.codes.to_numpy(dtype=np.int32), levels, reasons)
