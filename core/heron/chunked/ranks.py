"""Spearman's correlation of all pairs of a long table: of their exact ranks where values repeat in few levels, else of
ranks in bins, with a bound on what that can change."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints
from heron.chunked.pairs import Of2
from heron.chunked.values import Basics
from heron.ledger import Chunks, Of, Part

_BINS = 8_192


@dataclass(frozen=True)
class RankCounts:
    """A look at how many pairs lie in each bin of x, and behind these in each of y. edges: as bytes, ascending; a bin
    begins at an edge and ends before the next."""

    of: Of2
    edges_x: bytes
    edges_y: bytes

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Ints:
        counts = []
        for values, edges in zip(self.of.pairs(part), (self.edges_x, self.edges_y), strict=True):
            before = np.searchsorted(np.sort(values), np.frombuffer(edges))
            counts.append(np.diff(before, prepend=0, append=values.size))
        return np.concatenate(counts)

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))


@dataclass(frozen=True)
class RankProducts:
    """A look at the sum over pairs of what stands for the bin of x times what stands for that of y. of_x, of_y: the
    latter, as bytes."""

    of: Of2
    edges_x: bytes
    edges_y: bytes
    of_x: bytes
    of_y: bytes

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> float:
        x, y = self.of.pairs(part)
        u = np.frombuffer(self.of_x)[np.searchsorted(np.frombuffer(self.edges_x), x, side="right")]
        v = np.frombuffer(self.of_y)[np.searchsorted(np.frombuffer(self.edges_y), y, side="right")]
        return float(u @ v)

    def merge(self, records: Sequence[float]) -> float:
        return math.fsum(records)


@dataclass(frozen=True)
class Ranked:
    """Spearman's rho of n pairs, and by how much it may be off, 0 where ranks are exact; None without spread."""

    n: int
    rho: float | None
    off_by: float


@dataclass(frozen=True)
class _Bins:
    """What stands for the bins of a variable: their middle ranks from that of all, over n, and their sum of squares;
    rest: at most that of what ranks within bins may add."""

    ranks: Floats
    squares: float
    rest: float


def ranked_in(chunks: Chunks, of: Of2, sample: tuple[Floats, Floats]) -> Ranked:
    """Spearman's rho of all pairs. sample: (n,) of both variables, by which bins are chosen.

    Notes: with u, v the ranks, u', v' the middle ranks of their bins, and e, f what is left, u'e = v'f = 0, and so
    |uv - u'v'| <= |u'||f| + |e||v'| + |e||f|.
    """
    basics = chunks.over(Basics(Of(of.x)), Basics(Of(of.y)))
    found = [
        (basis.distinct.values, np.ones(basis.distinct.values.size, dtype=bool)) if basis.distinct else _edges(values)
        for basis, values in zip(basics, sample, strict=True)
    ]
    edges_x, edges_y = (edges.tobytes() for edges, _ in found)
    counts = chunks.over(RankCounts(of, edges_x, edges_y))[0]
    first = found[0][0].size + 1
    bins = [_bins(n, alone) for n, (_, alone) in zip((counts[:first], counts[first:]), found, strict=True)]
    n = int(counts[:first].sum())
    if not bins[0].squares or not bins[1].squares:
        return Ranked(n, None, 0.0)
    products = chunks.over(RankProducts(of, edges_x, edges_y, bins[0].ranks.tobytes(), bins[1].ranks.tobytes()))[0]
    e, f = (math.sqrt(one.rest / one.squares) for one in bins)
    rho = products / math.sqrt(bins[0].squares) / math.sqrt(bins[1].squares)
    return Ranked(n, min(max(rho, -1.0), 1.0), e + f + e * f + (e * e + f * f) / 2)


def _edges(values: Floats) -> tuple[Floats, np.ndarray[tuple[int], np.dtype[np.bool_]]]:
    """Where bins begin, and whether a bin holds one value alone: values that repeat in a sample have one."""
    known, counts = np.unique(values[np.isfinite(values)], return_counts=True)
    cuts = known[np.unique(np.linspace(0, known.size - 1, _BINS).astype(np.int64))] if known.size else known
    atoms = known[counts > max(known.size // _BINS, 1)]
    behind = np.nextafter(atoms, np.inf)
    edges = np.unique(np.concatenate((cuts, atoms, behind)))
    return edges, np.isin(edges, atoms)


def _bins(counts: Ints, alone: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> _Bins:
    """alone: whether the bin behind each edge holds one value."""
    n = int(counts.sum())
    if n == 0:
        return _Bins(np.zeros(counts.size), 0.0, 0.0)
    ranks = (np.cumsum(counts) - counts + counts / 2 - n / 2) / n
    within = np.where(np.concatenate(([False], alone)), 0.0, counts * (counts.astype(np.float64) ** 2 - 1) / 12)
    return _Bins(ranks, float(counts @ ranks**2), float(within.sum()) / n**2)
