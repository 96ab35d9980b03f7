"""Values that stand for missing ones."""

import re

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats

# Compared in lower case, in columns that otherwise hold numbers or dates.
TOKENS = frozenset(
    {
        "na",
        "n/a",
        "#n/a",
        "n/r",
        "nr",
        "n.d.",
        "nd",
        "nan",
        "null",
        "none",
        "nil",
        "-",
        "--",
        "---",
        ".",
        "..",
        "?",
        "missing",
    }
)
# In columns of words only those that are no word: "none" may be an answer.
WORD_TOKENS = frozenset({"NA", "N/A", "n/a", "#N/A", "n/r", "NaN", "NULL", "null", "-", "--", "---", ".", "?"})

_LIMITED = re.compile(r"<\s*([-+]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][-+]?\d+)?)")

_CODES = (-9.0, -99.0, -999.0, -9999.0, 99.0, 999.0, 9999.0, -88.0, -888.0, -77.0)


def limited_text(word: str) -> float | None:
    """The limit that a text such as "<0.5", with a point, names; None where it names none."""
    result = _LIMITED.fullmatch(word.strip())
    return float(result[1]) if result else None


def number_codes(numbers: Floats) -> dict[str, NDArray[np.int64]]:
    """Numbers that act as missing codes, far from all else, with their row positions.

    A code is suspected where it lies beyond the others by more than twice their range, or is the only negative value.
    """
    known = numbers[~np.isnan(numbers)]
    result: dict[str, NDArray[np.int64]] = {}
    if known.size < 10:
        return result
    low, high = known.min(), known.max()
    if low >= 0 and high < 99:
        return result
    for code in _CODES:
        if not low <= code <= high:
            continue
        rows = np.flatnonzero(numbers == code)
        if rows.size == 0 or rows.size > known.size / 2:
            continue
        others = known[(known != code) & ~np.isin(known, _CODES)]
        if others.size == 0:
            continue
        least, most = others.min(), others.max()
        span = max(most - least, abs(most), 1e-9)
        if (code < 0 <= least) or code > most + 2 * span or code < least - 2 * span:
            result[f"{code:g}"] = rows
    return result
