"""The line of least squares through all pairs of a long table, in two looks: sums of products, and what it leaves."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np
from scipy import special

from heron.checks import Floats
from heron.chunked.pairs import Of2, PairSums, Products
from heron.errors import InputError
from heron.least_squares import Simple
from heron.ledger import Chunks, Part
from heron.relation import Fit, LineFacts, back, fit_of

_BLOCK = 16_384  # pairs, which fit the processor's cache


@dataclass(frozen=True)
class Left:
    """Sums over pairs of what a line leaves, e, with z the distance from the mean of x: of e^2 and e^4; z e^2, z^2 e;
    z^3 and z^4; 10^e; of z e squared over one less the leverage, with the least of that; missed: of squared distances
    from the curve; y, squares: of distances from a middle, and of these squared, in the unit of y; low, high: of x."""

    e2: float
    e4: float
    ze2: float
    z2e: float
    z3: float
    z4: float
    smear: float
    robust: float
    least: float
    missed: float
    y: float
    squares: float
    low: float
    high: float


@dataclass(frozen=True)
class Leaves:
    """The look at what a line leaves of each pair. scale: what z is divided by; centre: a middle of y; bare: without
    what only the line's limits and its curve need."""

    of: Of2
    slope: float
    mean_u: float
    mean_v: float
    spread_u: float
    n: int
    scale: float
    centre: float
    bare: bool = False

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.of.symbols

    def partial(self, part: Part) -> Left:
        pairs = self.of.both(part)
        blocks = [
            self._of(*(each[start : start + _BLOCK] for each in pairs)) for start in range(0, pairs[0].size, _BLOCK)
        ]
        return self.merge(blocks or [Left(0, 0, 0, 0, 0, 0, 0, 0, math.inf, 0, 0, 0, math.inf, -math.inf)])

    def _of(self, u: Floats, v: Floats, a: Floats, b: Floats) -> Left:
        off = u - self.mean_u
        e = (v - self.mean_v) - self.slope * off
        z, squares = off / self.scale, e * e
        z2 = z * z
        told = Left(
            float(squares.sum()), float(squares @ squares), float(z @ squares), float(z2 @ e), float(z2 @ z),
            float(z2 @ z2), 0, 0, math.inf, 0, 0, 0, float(a.min()), float(a.max()),
        )  # fmt: skip
        if self.bare:
            return told
        left = 1 - 1 / self.n - off**2 / self.spread_u
        y = b - self.centre
        with np.errstate(all="ignore"):
            return replace(
                told,
                robust=float(np.sum((off * e / left) ** 2)),
                missed=float(np.sum((b - back(self.of.scales[1], v - e)) ** 2)),
                smear=float(np.sum(10.0**e)) if self.of.scales[1] == "log10" else 0.0,
                least=float(left.min()),
                y=float(y.sum()),
                squares=float(y @ y),
            )

    def merge(self, records: Sequence[Left]) -> Left:
        summed = {
            field.name: math.fsum(getattr(record, field.name) for record in records)
            for field in fields(Left) if field.name not in ("least", "low", "high")
        }  # fmt: skip
        least, low = (min(getattr(record, name) for record in records) for name in ("least", "low"))
        return Left(**summed, least=least, low=low, high=max(record.high for record in records))


def line_in(chunks: Chunks, of: Of2, n_pairs: int, level: float) -> Fit:
    """The fit through all pairs of a long table. n_pairs: those that there are as they are.

    Raises: InputError where no line can be put through the pairs.
    """
    sums: PairSums = chunks.over(Products(of))[0]
    known = sums.line
    if known is None:
        why = "All pairs have the same x." if sums.n > 2 else f"A line needs 3 pairs; {sums.n} stand on these scales."
        raise InputError("no-line", why, where="x", remedy="Choose other scales, units or variables.")
    slope, mean_u, mean_v, spread = known
    n, total = sums.n, sums.squares[1] * sums.units[1] ** 2
    centre = float(back(of.scales[1], np.array([mean_v]))[0])
    scale = math.sqrt(spread / n)
    left: Left = chunks.over(Leaves(of, slope, mean_u, mean_v, spread, n, scale, centre))[0]
    share = None if total == 0 else max(1 - left.e2 / total, 0.0)
    line = Simple(slope, mean_v - slope * mean_u, mean_u, mean_v, spread, left.e2, np.empty(0), share, n)
    facts = LineFacts(
        None if left.least < 1e-12 else math.sqrt(left.robust) / spread,
        left.smear / n if of.scales[1] == "log10" else None,
        curvature_of(left, n),
        fanning_of(left, n),
        left.missed,
        left.squares - left.y * left.y / n,
        (sums.lows[0], sums.highs[0]),
        (left.low, left.high),
        n_pairs - n,
    )
    return fit_of(line, facts, x_scale=of.scales[0], y_scale=of.scales[1], level=level)


def square_left(left: Left, n: int) -> tuple[float, float] | None:
    """What the line leaves of squares of z, which has mean square 1: their sum of squares, and what of that of the
    residuals goes with it. None for too few different places."""
    size = left.z4 - n - left.z3**2 / n
    return None if size < 1e-10 * n else (size, left.z2e**2 / size)


def curvature_of(left: Left, n: int) -> float | None:
    """As heron.least_squares.curvature, of sums."""
    square, df = square_left(left, n), n - 3
    if df < 1 or square is None or left.e2 == 0:
        return None
    part = square[1]
    return float(special.fdtrc(1, df, part / ((left.e2 - part) / df))) if left.e2 > part else 0.0


def fanning_of(left: Left, n: int) -> float | None:
    """As heron.least_squares.fanning, of sums."""
    total = left.e4 - left.e2**2 / n
    if n < 4 or total <= 0:
        return None
    return float(special.chdtrc(1, left.ze2**2 / total))
