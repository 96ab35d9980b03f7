"""Dates and times as people write them, and the moments that they name."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from heron.checks import Floats, Ints

DateOrder = Literal["day-first", "month-first"]
DATE_ORDERS: tuple[DateOrder, ...] = ("day-first", "month-first")

_TIME = (
    r"(?:[ T](?P<h>\d{1,2}):(?P<i>\d{2})(?::(?P<s>\d{2})(?:\.(?P<f>\d{1,9}))?)?(?: ?(?P<p>[AaPp])\.?[Mm]\.?)?)?"
    r" ?(?P<z>Z|[+-]\d{2}:?\d{2})?$"
)
_YEAR_FIRST = r"^(?P<y>\d{4})[-/.](?P<a>\d{1,2})[-/.](?P<b>\d{1,2})" + _TIME
_YEAR_LAST = r"^(?P<a>\d{1,2})(?P<mark>[-/.])(?P<b>\d{1,2})[-/.](?P<y>\d{4})" + _TIME
_DAY_NAME = r"^(?P<b>\d{1,2})[. -]{1,2}(?P<a>[A-Za-z]{3,9})\.?[ ,-]{1,2}(?P<y>\d{4})" + _TIME
_NAME_DAY = r"^(?P<a>[A-Za-z]{3,9})\.? (?P<b>\d{1,2}),? (?P<y>\d{4})" + _TIME
_LOOKS_DATED = r"^(\d{1,4}[-/.]\d{1,2}[-/.]\d|\d{1,2}[. -]{1,2}[A-Za-z]{3}|[A-Za-z]{3,9}\.? \d)"
_MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november",
    "december",
)  # fmt: skip


@dataclass(frozen=True)
class Dates:
    """moments: (n,) seconds since 1970-01-01, NaN where a text names no moment, or where it is open which. open: (n,)
    texts with a day and a month whose order nothing tells; disagreeing: whether that is because some can only have the
    day first and others only the month. ways: (n,) how each is written: 1 year first, 2 year last, 3 by a month's name,
    0 for no date. zones: those that the texts name; where it is one, moments are as written, else of universal time."""

    moments: Floats
    open: NDArray[np.bool_]
    disagreeing: bool
    ways: Ints
    zones: tuple[str, ...]


def read_dates(texts: pa.Array | Sequence[str], order: DateOrder | None = None) -> Dates:
    """Return the moments that texts of one variable name.

    Parameters: order, of day and month in front of a year, where it is known. Else points between them mean the day
    first, and other marks the only order in which all of them are dates, if there is one.
    """
    texts = texts if isinstance(texts, pa.Array) else pa.array(texts, pa.string())
    n = len(texts)
    dates = Dates(np.full(n, np.nan), np.zeros(n, dtype=bool), False, np.zeros(n, dtype=np.int64), ())
    at = np.flatnonzero(pc.match_substring_regex(texts, _LOOKS_DATED).to_numpy(zero_copy_only=False))
    if at.size == 0:
        return dates
    looked_at = texts.take(pa.array(at))
    ahead = np.zeros(n)  # of universal time, in seconds
    zones: set[str] = set()
    for way, pattern in ((1, _YEAR_FIRST), (3, _DAY_NAME), (3, _NAME_DAY)):
        rows, parts = _parts(looked_at, pattern)
        if rows.size:
            month = _months(parts["a"]) if way == 3 else _whole(parts["a"])
            moments = _moments(parts, month, _whole(parts["b"]))
            dates.moments[at[rows]] = moments
            dates.ways[at[rows]] = np.where(np.isnan(moments), 0, way)
            ahead[at[rows]] = _ahead(parts["z"], zones)
            at = np.delete(at, rows)  # no text has two of these patterns
            looked_at = texts.take(pa.array(at))
    rows, parts = _parts(looked_at, _YEAR_LAST)
    ahead[at[rows]] = _ahead(parts["z"], zones)
    first, second = _whole(parts["a"]), _whole(parts["b"])
    day_first, month_first = _moments(parts, second, first), _moments(parts, first, second)
    told, disagreeing = _told(parts["mark"], day_first, month_first, order)
    dates.moments[at[rows]] = told
    dated = ~np.isnan(day_first) | ~np.isnan(month_first) if order is None else ~np.isnan(told)
    dates.open[at[rows]] = dated & np.isnan(told)
    dates.ways[at[rows]] = np.where(dated, 2, 0)
    moments = dates.moments - ahead if len(zones) > 1 else dates.moments
    return Dates(moments, dates.open, disagreeing, dates.ways, tuple(sorted(zones)))


def _told(marks: pa.Array, day_first: Floats, month_first: Floats, order: DateOrder | None) -> tuple[Floats, bool]:
    """The moments in the order that is known or can be told, and whether the texts want different orders."""
    if order is not None:
        return (day_first if order == "day-first" else month_first), False
    pointed = pc.equal(marks, ".").to_numpy(zero_copy_only=False)
    told = np.where(pointed, day_first, np.nan)
    either = ~pointed & (~np.isnan(day_first) | ~np.isnan(month_first))
    by_day, by_month = (bool(np.all(~np.isnan(moments[either]))) for moments in (day_first, month_first))
    if by_day and (not by_month or np.array_equal(day_first[either], month_first[either])):
        told[either] = day_first[either]
    elif by_month and not by_day:
        told[either] = month_first[either]
    return told, not by_day and not by_month


def _parts(texts: pa.Array, pattern: str) -> tuple[Ints, dict[str, pa.Array]]:
    """Which texts have a pattern, and its parts in these."""
    struct = pc.extract_regex(texts, pattern)
    rows = np.flatnonzero(struct.is_valid().to_numpy(zero_copy_only=False))
    matched = struct.take(pa.array(rows))
    return rows, {name: matched.field(name) for name in [field.name for field in struct.type]}


def _whole(digits: pa.Array) -> Ints:
    """Digits as numbers, 0 where there are none."""
    filled = pc.if_else(pc.equal(digits, ""), "0", digits)
    return np.asarray(pc.cast(filled, pa.int64()).to_numpy(zero_copy_only=False))


def _months(names: pa.Array) -> Ints:
    """Months by an English name or its beginning, 0 for other words."""
    encoded = names.dictionary_encode()
    by_word = [
        next((i for i, month in enumerate(_MONTHS, 1) if month.startswith(word.lower().removesuffix("t"))), 0)
        for word in encoded.dictionary.to_pylist()
    ]
    return np.asarray(np.array(by_word, dtype=np.int64)[encoded.indices.to_numpy(zero_copy_only=False)])


def _ahead(marks: pa.Array, zones: set[str]) -> Floats:
    """How many seconds each mark of a zone is ahead of universal time; the marks are added to the zones."""
    encoded = marks.dictionary_encode()
    words = encoded.dictionary.to_pylist()
    zones |= set(words) - {""}
    by_word = [
        0.0 if word in ("", "Z") else (-60 if word[0] == "-" else 60) * (int(word[1:3]) * 60.0 + int(word[-2:]))
        for word in words
    ]
    return np.asarray(np.array(by_word, dtype=np.float64)[encoded.indices.to_numpy(zero_copy_only=False)])


def _moments(parts: dict[str, pa.Array], month: Ints, day: Ints) -> Floats:
    """(n,) seconds since 1970, NaN where there is no such day or time."""
    year, hour, minute, second = (_whole(parts[name]) for name in ("y", "h", "i", "s"))
    fraction = _whole(pc.utf8_rpad(pc.utf8_slice_codeunits(parts["f"], 0, 6), 6, "0"))
    half = pc.utf8_lower(parts["p"])
    halved = pc.not_equal(half, "").to_numpy(zero_copy_only=False)
    late = pc.equal(half, "p").to_numpy(zero_copy_only=False)
    fits = ~halved | ((hour >= 1) & (hour <= 12))
    hour = np.where(halved, hour % 12 + 12 * late, hour)
    begins = ((year - 1970) * 12 + np.clip(month, 1, 12) - 1).astype("datetime64[M]")
    first = begins.astype("datetime64[D]")
    length = ((begins + 1).astype("datetime64[D]") - first).astype(np.int64)
    good = (
        fits & (month >= 1) & (month <= 12) & (day >= 1) & (day <= length) & (hour < 24) & (minute < 60) & (second < 60)
    )
    days = first.astype(np.int64) + day - 1
    seconds = ((days * 24 + hour) * 60 + minute) * 60 + second
    return np.where(good, (seconds * 1_000_000 + fraction) / 1e6, np.nan)
