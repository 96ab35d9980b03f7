"""Rows that are results already: an estimate with its limits, from one column each, or from two blocks of columns."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, same_length
from heron.errors import InputError


@dataclass(frozen=True)
class Estimates:
    """estimate, low, high: (n_rows,) in the unit of the data, NaN where a row has none; a row of which the limits do
    not enclose the estimate is among `outside` (rows from 0), one without limits among `bare`, one without an estimate
    among `empty`; exchanged: rows whose limits stood the other way round and were turned."""

    estimate: Floats
    low: Floats
    high: Floats
    outside: Ints
    bare: Ints
    empty: Ints
    exchanged: Ints


def with_limits(estimate: ArrayLike, one: ArrayLike, other: ArrayLike) -> Estimates:
    """Return estimates with limits that stand in two columns, in any order.

    Parameters: estimate, one, other (n_rows,) floats, NaN for missing.
    """
    middle, a, b = (np.asarray(values, dtype=np.float64) for values in (estimate, one, other))
    for end in (a, b):
        same_length(middle.size, end.size, where="limits")
    low, high = np.fmin(a, b), np.fmax(a, b)
    half = np.isnan(a) | np.isnan(b)
    low[half] = high[half] = np.nan
    # Most rows say which column holds the lower limits; the others were turned.
    turned = a > b
    if np.count_nonzero(turned) * 2 > np.count_nonzero(~half):
        turned = ~turned & (a != b) & ~half
    return _checked(middle, low, high, np.flatnonzero(turned))


def with_width(estimate: ArrayLike, width: ArrayLike) -> Estimates:
    """Return estimates with one width to each side, as of an SD or a standard error; a width below 0 is refused."""
    middle, reach = (np.asarray(values, dtype=np.float64) for values in (estimate, width))
    same_length(middle.size, reach.size, where="width")
    below = np.flatnonzero(reach < 0)
    if below.size:
        raise InputError(
            "negative-width",
            f"A width to each side cannot be below 0; {below.size} are.",
            where="width",
            remedy="Choose the column of widths, or the two of lower and upper limits.",
            rows=below.tolist(),
        )
    return _checked(middle, middle - reach, middle + reach, np.empty(0, dtype=np.int64))


def _checked(middle: Floats, low: Floats, high: Floats, turned: Ints) -> Estimates:
    empty = np.isnan(middle)
    bare = np.isnan(low) & ~empty
    outside = (middle < low) | (middle > high)
    return Estimates(
        middle, low, high, np.flatnonzero(outside), np.flatnonzero(bare), np.flatnonzero(empty), turned[~empty[turned]]
    )


# What tells columns of centres and columns of widths apart in their names, and so is not part of what they are of.
_ROLES = re.compile(
    r"\b(mean|means|average|avg|median|estimate|centre|centre|m|sd|s\.d\.|stdev|std|se|s\.e\.|sem|error|err|width|"
    r"half[ _-]?width|deviation|standard|interval|ci)\b",
    re.IGNORECASE,
)


@dataclass(frozen=True)
class Match:
    """Which column of widths belongs to which column of centres. pairs: (centre, width) places; name: what each pair
    is of; alone: places of centres without a width; left: places of widths without a centre."""

    pairs: tuple[tuple[int, int], ...]
    names: tuple[str, ...]
    alone: tuple[int, ...]
    left: tuple[int, ...]


def match(centres: Sequence[str], widths: Sequence[str]) -> Match:
    """Match two blocks of columns by their names, without what only says which block they are of.

    A name that is left empty, or that two columns share, is matched by its place among those left over when both blocks
    have as many; nothing else is guessed.
    """
    first, second = [_bare(name) for name in centres], [_bare(name) for name in widths]
    pairs: dict[int, int] = {}
    for i, name in enumerate(first):
        if name and first.count(name) == 1 and second.count(name) == 1:
            pairs[i] = second.index(name)
    alone = [i for i in range(len(first)) if i not in pairs]
    left = [j for j in range(len(second)) if j not in pairs.values()]
    if len(alone) == len(left) and not pairs:
        pairs.update(zip(alone, left, strict=True))
        alone, left = [], []
    ordered = tuple(sorted(pairs.items()))
    names = tuple(_shown(centres[i]) or centres[i] for i, _ in ordered)
    return Match(ordered, names, tuple(alone), tuple(left))


def _shown(name: str) -> str:
    return re.sub(r"\s+", " ", _ROLES.sub(" ", name.replace("_", " "))).strip(" ,;:()-")


def _bare(name: str) -> str:
    return _shown(name).casefold()
