"""Long columns of numbers or dates, read without a list of their distinct texts, which would take more room than they.

The result is what `kinds` makes of the same texts. Where a column asks a question, or is anything but numbers or dates
with the year first beside words that mean missing, there is none, and `kinds` looks at its words one by one.
"""

from collections.abc import Collection

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from heron.checks import Floats
from heron.intake.dates import read_dates
from heron.intake.missing import TOKENS
from heron.intake.questions import MOST_CODES

LONG = 500_000  # rows
_SLICE = 500_000
NUMBER = r"^[-+]?(\d+(\.\d*)?|\.\d+)([eE][-+]?\d+)?$"


def numbers_with_codes(
    text: pa.Array, decimal: str, given: Collection[str] | None, values: Collection[float], *, wanted: bool
) -> tuple[Floats, NDArray[np.uint8], list[str]] | None:
    """(n,) numbers, NaN where a word means missing, (n,) which it is, from 1, and these words; None where `kinds` is to
    look. text: trimmed; given, values: the words and numbers that mean missing, None for the well-known words; wanted:
    whether numbers are expected, however few there are."""
    as_written = text
    if decimal == ",":
        if pc.any(pc.match_substring(text, ".")).as_py():  # between thousands
            return None
        text = pc.replace_substring(text, ",", ".")
    is_number = pc.match_substring_regex(text, NUMBER)
    numeric = np.asarray(is_number.to_numpy(zero_copy_only=False))
    coded = _coded(as_written, ~numeric, given) if wanted or _most(text, numeric) else None
    if coded is None:
        return None
    numbers = np.asarray(
        pc.cast(pc.if_else(is_number, text, pa.scalar(None, pa.string())), pa.float64()).to_numpy(zero_copy_only=False)
    )
    if np.isinf(numbers).any():
        return None
    coded |= np.isin(numbers, list(values))
    said = _reasons(as_written, coded)
    if said is None:
        return None
    return np.where(coded, np.nan, numbers), *said


def dates_with_codes(
    text: pa.Array, given: Collection[str] | None
) -> tuple[Floats, NDArray[np.uint8], list[str]] | None:
    """As `numbers_with_codes`, (n,) seconds since 1970."""
    moments, zones = [], set()
    for start in range(0, len(text), _SLICE):
        dates = read_dates(text.slice(start, _SLICE))
        zones |= set(dates.zones)
        if not np.isin(dates.ways, (0, 1)).all() or len(zones) > 1:
            return None
        moments.append(dates.moments)
    seconds = np.concatenate(moments)
    dated = ~np.isnan(seconds)
    coded = _coded(text, ~dated, given) if _most(text, dated) else None
    said = None if coded is None else _reasons(text, coded)
    return None if said is None else (seconds, *said)


def _most(text: pa.Array, meant: NDArray[np.bool_]) -> bool:
    """Whether most of the texts that are not blank are meant."""
    filled = len(text) - (pc.sum(pc.equal(text, "")).as_py() or 0)
    return int(np.count_nonzero(meant)) * 2 > filled


def _coded(text: pa.Array, odd: NDArray[np.bool_], given: Collection[str] | None) -> NDArray[np.bool_] | None:
    """Which rows hold a word that means missing; None where an odd one does not."""
    known = pa.array(["", *(TOKENS if given is None else given)], pa.string())
    meant = pc.is_in(pc.utf8_lower(text.filter(pa.array(odd))), value_set=known)
    return odd.copy() if pc.all(meant).as_py() is not False else None


def _reasons(text: pa.Array, coded: NDArray[np.bool_]) -> tuple[NDArray[np.uint8], list[str]] | None:
    words = text.filter(pa.array(coded)).dictionary_encode()
    listed = [word for word in words.dictionary.to_pylist() if word]
    if len(listed) > MOST_CODES:
        return None
    codes = ["blank", *listed]
    reason_of = np.array([codes.index(word or "blank") + 1 for word in words.dictionary.to_pylist()], dtype=np.uint8)
    reasons = np.zeros(len(text), dtype=np.uint8)
    if listed or reason_of.size:
        reasons[coded] = reason_of[words.indices.to_numpy(zero_copy_only=False)]
    return reasons, codes
