"""Two variables of a long table: sums of their products, and where their pairs lie."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from heron import bivariate
from heron.checks import Floats, Ints
from heron.ledger import Levels, Part
from heron.moments import safe_unit
from heron.relation import Scale, forth


@dataclass(frozen=True)
class Of2:
    """Which pairs are looked at: those of two variables, or those at some levels of others; on which scales, and what
    x is multiplied by before. standing: other scales of x, and of y, that pairs must stand on too."""

    x: str
    y: str
    at: Levels = ()
    scales: tuple[Scale, Scale] = ("as-is", "as-is")
    factor: float = 1.0
    standing: tuple[tuple[Scale, ...], tuple[Scale, ...]] = ((), ())

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.x, self.y, *(symbol for symbol, _ in self.at))

    def pairs(self, part: Part) -> tuple[Floats, Floats]:
        """The pairs of a part that stand on both scales."""
        return self.both(part)[:2]

    def both(self, part: Part) -> tuple[Floats, Floats, Floats, Floats]:
        """The pairs of a part that stand on both scales: there, and as they are."""
        x, y = part.both(self.x, self.y, self.at)
        x = x * self.factor if self.factor != 1 else x

        def on(scale: Scale, side: int) -> Floats:
            return part.once((self.x, self.y, self.at, self.factor, scale, side), lambda: forth(scale, (x, y)[side]))

        u, v = on(self.scales[0], 0), on(self.scales[1], 1)
        known = np.isfinite(u) & np.isfinite(v)
        for side in (0, 1):
            for scale in self.standing[side]:
                known &= np.isfinite(on(scale, side))
        return (u, v, x, y) if known.all() else (u[known], v[known], x[known], y[known])

    def positions(self, part: Part) -> Ints:
        """The positions in the table of the rows of these pairs."""
        x, y = part.both(self.x, self.y, self.at)
        known = np.isfinite(forth(self.scales[0], x * self.factor)) & np.isfinite(forth(self.scales[1], y))
        return part.entries_at(self.x, self.y, self.at)[known]


@dataclass(frozen=True)
class PairSums:
    """n pairs: their means, each as a number and what is to be added to it; the sums
    of squares and of products about them, each variable in a unit of its own; and their ends."""

    n: int
    units: tuple[float, float]
    means: tuple[float, float]
    rests: tuple[float, float]
    squares: tuple[float, float]
    products: float
    lows: tuple[float, float]
    highs: tuple[float, float]

    def in_units(self, units: tuple[float, float]) -> "PairSums":
        a, b = self.units[0] / units[0], self.units[1] / units[1]
        return replace(
            self, units=units, means=(self.means[0] * a, self.means[1] * b),
            rests=(self.rests[0] * a, self.rests[1] * b),
            squares=(self.squares[0] * a * a, self.squares[1] * b * b), products=self.products * a * b,
        )  # fmt: skip

    @property
    def line(self) -> tuple[float, float, float, float] | None:
        """Slope, both means and the sum of squares of x about its own, in the variables' units; None where no line can
        be put through the pairs."""
        a, b = self.units
        if self.n < 3 or not self.squares[0] or self.lows[0] == self.highs[0]:
            return None
        slope = self.products / self.squares[0] * (b / a)
        middle = [(self.means[i] + self.rests[i]) * self.units[i] for i in (0, 1)]
        return slope, middle[0], middle[1], self.squares[0] * a * a

    @property
    def r(self) -> float:
        """Pearson's r of variables with spread."""
        r = self.products / math.sqrt(self.squares[0]) / math.sqrt(self.squares[1])
        return min(max(r, -1.0), 1.0)


NO_PAIRS = PairSums(
    0, (1.0, 1.0), (0.0, 0.0), (0.0, 0.0), (0.0, 0.0), 0.0, (math.inf, math.inf), (-math.inf, -math.inf)
)


@dataclass(frozen=True)
class Products:
    """The look at the sums of pairs."""

    of: Of2

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> PairSums:
        pairs = self.of.pairs(part)
        if pairs[0].size == 0:
            return NO_PAIRS
        lows, highs = (tuple(float(end(values)) for values in pairs) for end in (np.min, np.max))
        units = tuple(safe_unit(max(abs(a), abs(b))) for a, b in zip(lows, highs, strict=True))
        scaled = [values / unit if unit != 1 else values for values, unit in zip(pairs, units, strict=True)]
        means = [float(values.mean()) for values in scaled]
        off = [values - mean for values, mean in zip(scaled, means, strict=True)]
        rests = [float(values.mean()) for values in off]
        off = [values - rest for values, rest in zip(off, rests, strict=True)]
        squares = tuple(float(np.dot(values, values)) for values in off)
        return PairSums(
            pairs[0].size, (units[0], units[1]), (means[0], means[1]), (rests[0], rests[1]), (squares[0], squares[1]),
            float(np.dot(off[0], off[1])), (lows[0], lows[1]), (highs[0], highs[1]),
        )  # fmt: skip

    def merge(self, records: Sequence[PairSums]) -> PairSums:
        held = [record for record in records if record.n]
        if len(held) < 2:
            return held[0] if held else NO_PAIRS
        units = (max(record.units[0] for record in held), max(record.units[1] for record in held))
        held = [record.in_units(units) for record in held]
        n = sum(record.n for record in held)
        first = held[0].means
        offsets = [[record.means[i] - first[i] + record.rests[i] for record in held] for i in (0, 1)]
        middle = [math.fsum(r.n * d for r, d in zip(held, offsets[i], strict=True)) / n for i in (0, 1)]
        away = [[d - middle[i] for d in offsets[i]] for i in (0, 1)]
        each = list(zip(held, away[0], away[1], strict=True))
        squares = [math.fsum(r.squares[i] + r.n * d * d for r, d in zip(held, away[i], strict=True)) for i in (0, 1)]
        return PairSums(
            n, units, first, (middle[0], middle[1]), (squares[0], squares[1]),
            math.fsum(r.products + r.n * a * b for r, a, b in each),
            (min(r.lows[0] for r in held), min(r.lows[1] for r in held)),
            (max(r.highs[0] for r in held), max(r.highs[1] for r in held)),
        )  # fmt: skip


@dataclass(frozen=True)
class NoPairs:
    """A look at how many rows are no pair: without x, without y, without both, and those of which one is set aside."""

    x: str
    y: str

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.x, self.y)

    def partial(self, part: Part) -> Ints:
        series = part.series(self.x, self.y)
        without = [series.reasons(symbol) > 0 for symbol in (self.x, self.y)]
        aside = series.is_aside(self.x) | series.is_aside(self.y)
        return np.array([np.count_nonzero(rows) for rows in lost_rows(without[0], without[1], aside)], dtype=np.int64)

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))


def lost_rows(no_x: NDArray[np.bool_], no_y: NDArray[np.bool_], aside: NDArray[np.bool_]) -> list[NDArray[np.bool_]]:
    """Which rows are no pair: without x alone, without y alone, without both, set aside."""
    return [no_x & ~no_y & ~aside, ~no_x & no_y & ~aside, no_x & no_y & ~aside, (no_x | no_y) & aside]


@dataclass(frozen=True)
class InHexagons:
    """A look at how many pairs lie in each hexagon of a grid."""

    of: Of2
    grid: bivariate.HexagonGrid

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Ints:
        return self.grid.counts(*self.of.pairs(part))

    def merge(self, records: Sequence[Ints]) -> Ints:
        total = np.zeros(max(record.size for record in records), dtype=np.int64)
        for record in records:
            total[: record.size] += record
        return total


@dataclass(frozen=True)
class InCells:
    """A look at how many pairs lie in each cell of a window, row by row from below."""

    of: Of2
    ends: tuple[float, float, float, float]
    columns: int
    rows: int

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Ints:
        x0, x1, y0, y1 = self.ends
        counts = bivariate.window(
            *self.of.pairs(part), x_from=x0, x_to=x1, y_from=y0, y_to=y1, columns=self.columns, rows=self.rows
        )
        return np.asarray(counts.ravel(), dtype=np.int64)

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0, dtype=np.int64))
