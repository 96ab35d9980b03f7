"""Rows of a long table under a condition and in an order: those at some places, the place of one, and where a text
stands next. They are found by the bits of what they are sorted by, without sorting them all."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from heron.checks import Ints
from heron.chunked.order import FIRST_BITS, Ranges, edges_within, keys_of, narrower
from heron.ledger import Chunks, Part
from heron.listing import Listing, holding, listed, sort_values

_GATHERED = 2**17  # rows that are brought together
_EDGES = 20_000
_INTS = np.iinfo(np.int64)


@dataclass(frozen=True)
class Standing:
    """Rows of a listing: what they are sorted by, as keys, and their positions in the table."""

    keys: Ints
    positions: Ints

    def at(self, places: Ints) -> "Standing":
        return Standing(self.keys[places], self.positions[places])

    @property
    def sorted(self) -> "Standing":
        return self.at(np.lexsort((self.positions, self.keys)))


def _standing(listing: Listing, part: Part) -> Standing:
    def held() -> Standing:
        places = np.flatnonzero(listed(listing, part.described, part.rows_aside, part.n_rows))
        return Standing(keys_of(sort_values(listing, part.described, places) + 0.0), places + part.first)

    return part.once(listing, held)


@dataclass(frozen=True)
class KeyRanges:
    """Listed rows that share the first bits of their keys. lows, highs: (k,) the outermost keys; counts: (k,)."""

    lows: Ints
    highs: Ints
    counts: Ints


def _key_ranges(lows: Ints, highs: Ints, counts: Ints) -> KeyRanges:
    """By the first bits of keys, whose lowest ascend."""
    if lows.size == 0:
        return KeyRanges(lows, highs, counts)
    shared = lows >> (64 - FIRST_BITS)
    starts = np.concatenate(([0], np.flatnonzero(np.diff(shared)) + 1))
    return KeyRanges(lows[starts], np.maximum.reduceat(highs, starts), np.add.reduceat(counts, starts))


@dataclass(frozen=True)
class KeyBins:
    """A look at where the keys of listed rows lie."""

    listing: Listing

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.listing.symbols

    def partial(self, part: Part) -> KeyRanges:
        keys = np.sort(_standing(self.listing, part).keys)
        return _key_ranges(keys, keys, np.ones(keys.size, dtype=np.int64))

    def merge(self, records: Sequence[KeyRanges]) -> KeyRanges:
        lows = np.concatenate([record.lows for record in records])
        order = np.argsort(lows, kind="stable")
        highs, counts = (np.concatenate([getattr(record, name) for record in records]) for name in ("highs", "counts"))
        return _key_ranges(lows[order], highs[order], counts[order])


@dataclass(frozen=True)
class KeysReached:
    """A look at how many listed rows stand before each of some keys. edges: as bytes."""

    listing: Listing
    edges: bytes

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.listing.symbols

    def partial(self, part: Part) -> Ints:
        return np.searchsorted(np.sort(_standing(self.listing, part).keys), np.frombuffer(self.edges, dtype=np.int64))

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))


@dataclass(frozen=True)
class WithKeys:
    """A look at the listed rows whose keys lie from one to before another."""

    listing: Listing
    first: int
    end: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.listing.symbols

    def partial(self, part: Part) -> Standing:
        standing = _standing(self.listing, part)
        return standing.at(np.flatnonzero((standing.keys >= self.first) & (standing.keys < self.end)))

    def merge(self, records: Sequence[Standing]) -> Standing:
        return Standing(
            np.concatenate([record.keys for record in records]),
            np.concatenate([record.positions for record in records]),
        )


@dataclass(frozen=True)
class OfKey:
    """A look at how many listed rows of one key each part holds."""

    listing: Listing
    key: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.listing.symbols

    def partial(self, part: Part) -> Ints:
        return np.array([np.count_nonzero(_standing(self.listing, part).keys == self.key)])

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.concatenate(records)


@dataclass(frozen=True)
class Before:
    """A look at how many listed rows stand before one of a key and a position, and whether it is listed itself."""

    listing: Listing
    key: int
    position: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.listing.symbols

    def partial(self, part: Part) -> Ints:
        standing = _standing(self.listing, part)
        before = (standing.keys < self.key) | ((standing.keys == self.key) & (standing.positions < self.position))
        return np.array([np.count_nonzero(before), np.count_nonzero(standing.positions == self.position)])

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))


@dataclass(frozen=True)
class Hits:
    """How many listed rows hold a text, and of the next and of the first of them the key, the position and the
    variable; none of them where there is none."""

    n: int
    next: tuple[int, int, str] | None
    first: tuple[int, int, str] | None


@dataclass(frozen=True)
class Holds:
    """A look for the listed rows that hold a text. variables: in which it is looked for; key, position: of the row
    behind which the next one is meant."""

    listing: Listing
    text: str
    variables: tuple[str, ...]
    key: int
    position: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return (*self.listing.symbols, *self.variables)

    def partial(self, part: Part) -> Hits:
        standing = _standing(self.listing, part)
        places = standing.positions - part.first
        hits = {symbol: holding(part.described(symbol), self.text) for symbol in self.variables}
        held = {symbol: hit[places] for symbol, hit in hits.items() if hit is not None}
        if not held:
            return Hits(0, None, None)
        found = np.flatnonzero(np.logical_or.reduce(list(held.values())))
        of_hits = standing.at(found)
        behind = (of_hits.keys > self.key) | ((of_hits.keys == self.key) & (of_hits.positions > self.position))

        def foremost(among: Ints) -> tuple[int, int, str] | None:
            if among.size == 0:
                return None
            best = int(among[np.lexsort((of_hits.positions[among], of_hits.keys[among]))[0]])
            symbol = next(symbol for symbol, hit in held.items() if hit[found[best]])
            return int(of_hits.keys[best]), int(of_hits.positions[best]), symbol

        return Hits(found.size, foremost(np.flatnonzero(behind)), foremost(np.arange(found.size)))

    def merge(self, records: Sequence[Hits]) -> Hits:
        following = [record.next for record in records if record.next is not None]
        first = [record.first for record in records if record.first is not None]
        return Hits(sum(record.n for record in records), min(following, default=None), min(first, default=None))


class Paging:
    """The rows of a long table in a listing."""

    def __init__(self, chunks: Chunks, listing: Listing) -> None:
        self._chunks = chunks
        self._listing = listing

    @cached_property
    def _ranges(self) -> Ranges:
        found: KeyRanges = self._chunks.over(KeyBins(self._listing))[0]
        return Ranges(found.lows, found.highs + 1, np.cumsum(found.counts) - found.counts, found.counts)

    def _part(self, number: int) -> Part:
        return Part(self._chunks.state, number)

    @property
    def n(self) -> int:
        """How many rows are listed."""
        return int(self._ranges.counts.sum())

    def rows(self, start: int, end: int) -> Ints:
        """The positions in the table of the rows at places from one to before another."""
        return self._rows(start, min(end, self.n)).positions

    def place_of(self, position: int) -> int | None:
        """The place of a row in the listing; None where it is not listed."""
        number = int(np.searchsorted(self._chunks.state.bounds, position, side="right")) - 1
        standing = _standing(self._listing, self._part(number))
        found = np.flatnonzero(standing.positions == position)
        return self._before(int(standing.keys[found[0]]), position) if found.size else None

    def sought(self, text: str, variables: Sequence[str], after: int) -> tuple[int, int, int, str] | None:
        """How many listed rows hold a text, and of the next behind place `after`, or else the first, its place, its
        position and the variable; None where there is none."""
        key, position = _INTS.min, -1
        last = self._rows(after, after + 1) if 0 <= after < self.n else None
        if last is not None:
            key, position = int(last.keys[0]), int(last.positions[0])
        hits: Hits = self._chunks.over(Holds(self._listing, text, tuple(variables), int(key), position))[0]
        found = hits.next or hits.first
        if found is None:
            return None
        return hits.n, self._before(found[0], found[1]), found[1], found[2]

    def _before(self, key: int, position: int) -> int:
        return int(self._chunks.over(Before(self._listing, key, position))[0][0])

    def _rows(self, start: int, end: int) -> Standing:
        if end <= start:
            return Standing(np.empty(0, dtype=np.int64), np.empty(0, dtype=np.int64))
        ranges = self._holding(self._ranges, start, end)
        while True:
            wide = (ranges.counts > _GATHERED) & (ranges.end - ranges.first > 1)
            if not wide.any():
                break
            edges = edges_within(ranges, _EDGES)
            reached = self._chunks.over(KeysReached(self._listing, edges.tobytes()))[0]
            ranges = self._holding(narrower(ranges, edges, reached), start, end)
        pieces, at = [], 0
        while at < ranges.first.size:
            many = int(ranges.counts[at]) > _GATHERED
            behind = at + 1
            while not many and behind < ranges.first.size and int(ranges.counts[at : behind + 1].sum()) <= _GATHERED:
                behind += 1
            before, held = int(ranges.before[at]), int(ranges.counts[at:behind].sum())
            first, last = max(start - before, 0), min(end - before, held)
            if many:
                pieces.append(self._of_key(int(ranges.first[at]), first, last))
            else:
                look = WithKeys(self._listing, int(ranges.first[at]), int(ranges.end[behind - 1]))
                found: Standing = self._chunks.over(look)[0]
                pieces.append(found.sorted.at(np.arange(first, last)))
            at = behind
        return Standing(np.concatenate([p.keys for p in pieces]), np.concatenate([p.positions for p in pieces]))

    def _of_key(self, key: int, first: int, end: int) -> Standing:
        """Rows of one key, by their place among them."""
        counts = self._chunks.over(OfKey(self._listing, key))[0]
        before = np.cumsum(counts) - counts
        positions = [np.empty(0, dtype=np.int64)]
        for number in np.flatnonzero((before < end) & (before + counts > first)).tolist():
            standing = _standing(self._listing, self._part(number))
            ties = standing.positions[standing.keys == key]
            positions.append(ties[max(first - int(before[number]), 0) : end - int(before[number])])
        found = np.concatenate(positions)
        return Standing(np.full(found.size, key), found)

    @staticmethod
    def _holding(ranges: Ranges, start: int, end: int) -> Ranges:
        """The ranges in which some places lie."""
        return ranges.at(np.flatnonzero((ranges.before < end) & (ranges.before + ranges.counts > start)))
