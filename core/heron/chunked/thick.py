"""The density of all pairs of a long table, in two looks: what falls to each point of a grid, and how high it stands at
each pair."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.bivariate import DensityGrid, PairDensity, WidthRule, density_grid, normal_reference, plug_in
from heron.checks import Floats, Ints
from heron.chunked.pairs import Of2, PairSums
from heron.chunked.values import ChunkedValues
from heron.ledger import Chunks, Of, Part

_HEIGHTS = 4_001  # at which pairs are counted


@dataclass(frozen=True)
class InDensity:
    """A look at what linear binning of pairs gives to each point of a grid."""

    of: Of2
    grid: DensityGrid

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Floats:
        return self.grid.masses(*self.of.pairs(part))

    def merge(self, records: Sequence[Floats]) -> Floats:
        return np.asarray(np.sum(records, axis=0))


@dataclass(frozen=True)
class Lowest:
    """How many pairs stand below each of some heights; and of those that stand lowest (k,) the heights, both values as
    they are, and the positions of their rows."""

    reached: Ints
    heights: Floats
    x: Floats
    y: Floats
    positions: Ints

    def at(self, places: Ints) -> "Lowest":
        """With these of its pairs alone."""
        return Lowest(self.reached, self.heights[places], self.x[places], self.y[places], self.positions[places])


@dataclass(frozen=True)
class Heights:
    """A look at how high a density stands at each pair. density, edges: as bytes; sparse: how many of the lowest are
    named."""

    of: Of2
    grid: DensityGrid
    density: bytes
    edges: bytes
    sparse: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Lowest:
        u, v, x, y = self.of.both(part)
        heights = self.grid.heights(np.frombuffer(self.density), u, v)
        reached = np.searchsorted(np.sort(heights), np.frombuffer(self.edges))
        kept = np.argsort(heights, kind="stable")[: self.sparse] if self.sparse else np.empty(0, dtype=np.int64)
        return Lowest(reached, heights[kept], x[kept], y[kept], self.of.positions(part)[kept])

    def merge(self, records: Sequence[Lowest]) -> Lowest:
        joined = Lowest(
            np.asarray(np.sum([record.reached for record in records], axis=0, dtype=np.int64)),
            np.concatenate([record.heights for record in records]),
            np.concatenate([record.x for record in records]),
            np.concatenate([record.y for record in records]),
            np.concatenate([record.positions for record in records]),
        )
        return joined.at(np.argsort(joined.heights, kind="stable")[: self.sparse])


def density_in(
    chunks: Chunks,
    of: Of2,
    sums: PairSums,
    sample: tuple[Floats, Floats],
    *,
    bandwidths: tuple[float | None, float | None],
    rule: WidthRule,
    points: int,
    shares: tuple[float, ...],
    sparse: int,
) -> tuple[PairDensity, Lowest]:
    """The density of all pairs, as `pair_density` has it, and its sparsest pairs. sums: of the pairs; sample: (n,) some
    of them, by which heights are chosen at which all are counted, so that a share is met to a four-thousandth."""
    n = sums.n
    wide = [_width(chunks, of, sums, i, rule) if width is None else width for i, width in enumerate(bandwidths)]
    ends = [(sums.lows[i], sums.highs[i]) for i in (0, 1)]
    grid = density_grid(ends[0], ends[1], (wide[0], wide[1]), points)
    density = grid.density(chunks.over(InDensity(of, grid))[0], n)
    edges = np.unique(np.quantile(grid.heights(density, *sample), np.linspace(0, 1, _HEIGHTS)))
    lowest: Lowest = chunks.over(Heights(of, grid, density.tobytes(), edges.tobytes(), sparse))[0]
    levels = np.interp([(1 - share) * n for share in shares], lowest.reached, edges)
    x, y = grid.axes
    found = lowest.at(np.argsort(lowest.positions))
    return PairDensity(x, y, density, wide[0], wide[1], shares, levels, found.positions, n, 0), found


def _width(chunks: Chunks, of: Of2, sums: PairSums, i: int, rule: WidthRule) -> float:
    if rule == "normal-reference":
        return normal_reference(math.sqrt(sums.squares[i] / (sums.n - 1)) * sums.units[i], sums.n)
    log = of.scales[i] == "log10"
    values = ChunkedValues(chunks, Of((of.x, of.y)[i], of.at, "log10" if log else "as they are"))
    return plug_in(values, sums.n) * (of.factor if i == 0 and not log else 1.0)
