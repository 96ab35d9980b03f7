"""The order of numbers by the bits that write them, by which values of any rank are found without sorting them all."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import LARGEST_NUMBER, Floats, Ints
from heron.ledger import Of, Part

WHOLE = 64
FIRST_BITS = 20  # sign, exponent and 8 bits of the fraction: 256 bins between a number and its double
_MORE_BITS = 12
_ALL_BUT_SIGN = np.int64(0x7FFF_FFFF_FFFF_FFFF)


def in_order(values: Floats) -> Ints:
    """Whole numbers that stand in the order of finite values."""
    bits = values.view(np.int64)
    turned = bits >> 63  # of numbers below 0 all bits but the sign are turned over
    turned &= _ALL_BUT_SIGN
    turned ^= bits
    return turned


def back(keys: Ints) -> Floats:
    """The values that such numbers stand for."""
    bits = np.asarray(keys ^ ((keys >> 63) & _ALL_BUT_SIGN))
    return bits.view(np.float64)


def ends_of(first: Ints, bits: int) -> tuple[Floats, Floats]:
    """The lowest and the highest finite value that has these first bits."""
    rest = WHOLE - bits
    largest = in_order(np.array([-LARGEST_NUMBER, LARGEST_NUMBER]))
    low, high = first << rest, (first << rest) | np.int64((1 << rest) - 1)
    return back(np.clip(low, *largest)), back(np.clip(high, *largest))


@dataclass(frozen=True)
class Bins:
    """How many values share their first bits. first: (k,) what they share, ascending; counts: (k,)."""

    first: Ints
    counts: Ints


def bins_of(values: Floats) -> Bins:
    """Values by their first bits."""
    keys = in_order(values)
    if keys.size == 0:
        return Bins(keys, keys)
    keys >>= WHOLE - FIRST_BITS
    low = int(keys.min())
    keys -= low
    counts = np.bincount(keys)
    held = np.flatnonzero(counts)
    return Bins(held + low, counts[held])


def joined_bins(parts: Sequence[Bins]) -> Bins:
    held = [part for part in parts if part.first.size]
    if len(held) < 2:
        return held[0] if held else Bins(np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64))
    every, counts = np.concatenate([part.first for part in held]), np.concatenate([part.counts for part in held])
    first, place = np.unique(every, return_inverse=True)
    total = np.zeros(first.size, dtype=np.int64)
    np.add.at(total, place, counts)
    return Bins(first, total)


@dataclass(frozen=True)
class Finer:
    """A look at the values that share their first bits with some bins, by more bits. bins: ascending; bits: theirs."""

    of: Of
    bins: tuple[int, ...]
    bits: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    @property
    def more(self) -> int:
        return min(self.bits + _MORE_BITS, WHOLE)

    def partial(self, part: Part) -> Bins:
        keys = _within(part.values(self.of), self.bins, self.bits) >> (WHOLE - self.more)
        return Bins(*np.unique(keys, return_counts=True))

    def merge(self, records: Sequence[Bins]) -> Bins:
        return joined_bins(records)


@dataclass(frozen=True)
class Gathered:
    """A look that brings the values themselves that share their first bits with some bins, ascending."""

    of: Of
    bins: tuple[int, ...]
    bits: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Floats:
        return np.sort(back(_within(part.values(self.of), self.bins, self.bits)))

    def merge(self, records: Sequence[Floats]) -> Floats:
        return np.sort(np.concatenate(records))


def _within(values: Floats, bins: Sequence[int], bits: int) -> Ints:
    """The keys of values in the bins."""
    keys = in_order(values)
    shared = keys >> (WHOLE - bits)
    wanted = np.array(bins, dtype=np.int64)
    low = int(wanted[0])
    span = int(wanted[-1]) - low + 1
    if span <= 2**22:  # a table of all bins between is quicker than looking each up
        is_wanted = np.zeros(span + 2, dtype=bool)
        is_wanted[wanted - low + 1] = True
        shared -= low - 1
        return np.asarray(keys[is_wanted.take(shared, mode="clip")])
    place = np.minimum(np.searchsorted(wanted, shared), wanted.size - 1)
    return np.asarray(keys[wanted[place] == shared])
