"""Checks at the edge of the core: every public function passes its arguments through here, once."""

import sys
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, TypeVar

import numpy as np
from numpy.typing import ArrayLike, NDArray

from heron.errors import ChoiceError, InputError, LengthMismatch
from heron.formatting import fixed, significant

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Choice = TypeVar("Choice")

LARGEST_WEIGHTED_COUNT = 100_000_000
LARGEST_NUMBER = sys.float_info.max
TOO_LARGE_TO_WRITE = "It is beyond the largest number that can be written, about 1.8e308."


@dataclass(frozen=True)
class Checked:
    """The values that take part.

    values: (n,) float64, finite. rows: (n,) the row of each, None where that is its place. length: rows given.
    n_missing: rows without a value (frequencies counted).
    """

    values: Floats
    rows: Ints | None
    length: int
    n_missing: int

    @property
    def positions(self) -> Ints:
        """(n,) the row of each value."""
        return np.arange(self.values.size) if self.rows is None else self.rows

    @property
    def n(self) -> int:
        return self.values.size


def as_values(x: ArrayLike, *, where: str = "x", weights: ArrayLike | None = None) -> Checked:
    """Return the finite values of a one-dimensional array, missing ones (NaN) taken out.

    Weights are frequencies: whole numbers, 0 or more; a value of weight 3 counts as three rows.
    """
    try:
        array = np.asarray(x, dtype=np.float64)
    except (TypeError, ValueError) as error:
        raise InputError(
            "not-numbers",
            f"{where} must hold numbers.",
            where=where,
            remedy="Give an array of floats, NaN for missing.",
        ) from error
    if array.ndim != 1:
        raise InputError(
            "not-one-dimensional",
            f"{where} must be one column of values; it has {array.ndim} dimensions.",
            where=where,
            remedy="Give one array per variable.",
        )
    if weights is None and np.isfinite(array).all():
        return Checked(array, None, array.size, 0)
    known = ~np.isnan(array)
    infinite = np.flatnonzero(np.isinf(array))
    if infinite.size:
        raise InputError(
            "infinite-values",
            f"{where} needs finite values; {infinite.size} of {array.size} are infinite.",
            where=where,
            rows=infinite[:100].tolist(),
            remedy="Declare them missing, or correct them.",
        )
    if weights is None:
        positions = np.flatnonzero(known)
        return Checked(array[positions], positions, array.size, array.size - positions.size)
    counts = frequencies(weights, array.size)
    positions = np.repeat(np.arange(array.size), np.where(known, counts, 0))
    return Checked(array[positions], positions, array.size, int(counts[~known].sum()))


def frequencies(weights: ArrayLike, length: int) -> Ints:
    """Frequency weights as whole numbers; an InputError for others, or for more rows than can be held."""
    counts = np.asarray(weights, dtype=np.float64)
    same_length(length, counts.size, where="weights")
    bad = np.flatnonzero(~(np.isfinite(counts) & (counts >= 0) & (counts == np.floor(counts))))
    if bad.size:
        raise InputError(
            "not-frequencies",
            f"weights are frequencies, whole numbers of 0 or more; {bad.size} of {counts.size} are not.",
            where="weights",
            rows=bad[:100].tolist(),
            remedy="Give how often each value occurred.",
        )
    if counts.sum() > LARGEST_WEIGHTED_COUNT:
        raise InputError(
            "too-many-weighted",
            f"weights add up to {fixed(counts.sum(), 0)}; at most {LARGEST_WEIGHTED_COUNT} are taken.",
            where="weights",
            remedy="Divide the frequencies by a common factor.",
        )
    return counts.astype(np.int64)


def same_length(expected: int, result: int, *, where: str) -> None:
    if expected != result:
        raise LengthMismatch(
            "length-mismatch",
            f"{where} has {result} entries where {expected} are needed.",
            where=where,
            remedy="Give one entry per row.",
        )


def choose(given: Choice, allowed: Iterable[Choice], *, where: str) -> Choice:
    """Return the choice when it is among those allowed, else raise ChoiceError."""
    options: Sequence[Any] = tuple(allowed)
    if given not in options:
        raise ChoiceError(given, options, where=where)
    return given


def within(given: float, *, above: float, below: float, where: str) -> float:
    """Return a number that lies strictly between two limits."""
    number = float(given)
    if not above < number < below:
        limits = (
            f"above {significant(above)}"
            if below == np.inf
            else f"between {significant(above)} and {significant(below)}"
        )
        raise InputError(
            "out-of-range",
            f"{where} must lie {limits}; it is {significant(number)}.",
            where=where,
            remedy=f"Give a number {limits}.",
        )
    return number


def to_the_largest(x: Floats) -> Floats:
    """The numbers, those beyond the largest that can be written held at it: nothing can lie beyond them either way."""
    return np.clip(x, -LARGEST_NUMBER, LARGEST_NUMBER)
