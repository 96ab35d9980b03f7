"""The order of numbers by the bits that write them, by which values of any rank are found without sorting them all."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import LARGEST_NUMBER, Floats, Ints

FIRST_BITS = 20  # sign, exponent and 8 bits of the fraction: 256 bins between a number and its double
_REST = 64 - FIRST_BITS
_ALL_BUT_SIGN = np.int64(0x7FFF_FFFF_FFFF_FFFF)


def keys_of(values: Floats) -> Ints:
    """Whole numbers that stand in the order of finite values, one for each number there is."""
    bits = values.view(np.int64)
    turned = bits >> 63  # of numbers below 0 all bits but the sign are turned over
    turned &= _ALL_BUT_SIGN
    turned ^= bits
    return turned


def values_of(keys: Ints) -> Floats:
    """The numbers that stand for keys; beyond the largest, the largest."""
    held = np.clip(keys, _LOWEST, _HIGHEST)
    bits = np.asarray(held ^ ((held >> 63) & _ALL_BUT_SIGN))
    return bits.view(np.float64)


_LOWEST, _HIGHEST = keys_of(np.array([-LARGEST_NUMBER, LARGEST_NUMBER])).tolist()


@dataclass(frozen=True)
class Bins:
    """How many values share their first bits. first: (k,) what they share, ascending; counts: (k,)."""

    first: Ints
    counts: Ints


def bins_of(values: Floats) -> Bins:
    """Values by their first bits."""
    keys = keys_of(values + 0.0)  # of which -0 is 0
    if keys.size == 0:
        return Bins(keys, keys)
    keys >>= _REST
    low = int(keys.min())
    keys -= low
    counts = np.bincount(keys)
    held = np.flatnonzero(counts)
    return Bins(held + low, counts[held])


def joined_bins(parts: Sequence[Bins]) -> Bins:
    held = [part for part in parts if part.first.size]
    if len(held) < 2:
        return held[0] if held else Bins(np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64))
    low = min(int(part.first[0]) for part in held)
    total = np.zeros(max(int(part.first[-1]) for part in held) - low + 1, dtype=np.int64)
    for part in held:
        total[part.first - low] += part.counts
    first = np.flatnonzero(total)
    return Bins(first + low, total[first])


@dataclass(frozen=True)
class Ranges:
    """Ranges of keys, ascending, none of which overlap: (k,) the first of each, the key behind its last, and how many
    values lie before it and in it."""

    first: Ints
    end: Ints
    before: Ints
    counts: Ints

    def at(self, places: Ints) -> "Ranges":
        return Ranges(self.first[places], self.end[places], self.before[places], self.counts[places])

    @property
    def ends(self) -> tuple[Floats, Floats]:
        """The lowest and the highest number of each."""
        return values_of(self.first), values_of(self.end - 1)


def ranges_of(bins: Bins) -> Ranges:
    """The ranges of bins."""
    first = bins.first << _REST
    before = np.cumsum(bins.counts) - bins.counts
    return Ranges(first, first + (np.int64(1) << _REST), before, bins.counts)


def edges_within(ranges: Ranges, most: int) -> Ints:
    """Keys that cut ranges into narrower ones, at most so many in all; their own firsts are among them."""
    pieces = max(most // ranges.first.size, 2)
    widths = ranges.end - ranges.first
    steps = np.maximum(-(-widths // pieces), 1)
    cut = ranges.first[:, None] + np.arange(pieces, dtype=np.int64)[None, :] * steps[:, None]
    return np.asarray(cut[cut < ranges.end[:, None]])


def narrower(ranges: Ranges, edges: Ints, reached: Ints) -> Ranges:
    """The ranges into which edges cut others, that hold values. reached: how many values lie before each edge."""
    place = np.searchsorted(ranges.first, edges, side="right") - 1
    last = np.append(place[1:] != place[:-1], True)
    end = np.where(last, ranges.end[place], np.append(edges[1:], 0))
    behind = np.where(last, ranges.before[place] + ranges.counts[place], np.append(reached[1:], 0))
    held = behind > reached
    return Ranges(edges[held], end[held], reached[held], (behind - reached)[held])
