"""Sums of powers of deviations: of any part of the values, and of the parts together."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats


@dataclass(frozen=True)
class Moments:
    """The first four moments of n values, in a unit in which nothing overflows or vanishes.

    total: their sum. Their mean is mean + rest, of which rest is what a number of that size cannot hold; m2, m3, m4 are
    the sums of powers of deviations from it.
    """

    n: int
    unit: float
    total: float
    mean: float
    rest: float
    m2: float
    m3: float
    m4: float

    def in_unit(self, unit: float) -> "Moments":
        """The same in another unit, a power of two like this one."""
        if unit == self.unit:
            return self
        by = self.unit / unit
        return Moments(
            self.n, unit, self.total * by, self.mean * by, self.rest * by,
            self.m2 * by**2, self.m3 * by**3, self.m4 * by**4,
        )  # fmt: skip


NO_MOMENTS = Moments(0, 1.0, 0.0, 0.0, 0.0, 0.0, 0.0, 0.0)


def safe_unit(largest: float) -> float:
    """1, or a power of two near the largest magnitude where sums of fourth powers would overflow or vanish."""
    if largest == 0 or 1e-60 < largest < 1e75:
        return 1.0
    return math.ldexp(1.0, min(max(math.frexp(largest)[1], -1000), 1000))


_BLOCK = 16_384  # values whose powers fit into the fast memory of a core
_GUESSED_BY = 1_024  # values
_FAR = 0.25  # of the mean square: how much a guess may be off in square before powers are summed anew


def moments_of(values: Floats, unit: float) -> Moments:
    """The moments of finite values that are counted in a unit already."""
    return _moments(values, unit, np.positive)


def moments_of_logs(values: Floats) -> Moments:
    """The moments of the natural logarithms of values above 0."""
    return _moments(values, 1.0, np.log)


def _moments(values: Floats, unit: float, form: np.ufunc) -> Moments:
    n = values.size
    if n == 0:
        return NO_MOMENTS
    first = float(form(values[0]))
    if values[-1] == values[0] and (values == values[0]).all():
        return Moments(n, unit, n * first, first, 0.0, 0.0, 0.0, 0.0)
    guess = float(form(values[:: -(-n // _GUESSED_BY)]).mean())
    total, s1, s2, s3, s4 = _powers(values, form, guess, 0.0)
    off = s1 / n
    mean = guess + off
    rest = off - (mean - guess)
    if n * off * off > _FAR * s2:
        total, _, s2, s3, s4 = _powers(values, form, guess, off)
        return Moments(n, unit, total, mean, rest, s2, s3, s4)
    return Moments(
        n,
        unit,
        total,
        mean,
        rest,
        s2 - n * off**2,
        s3 - 3 * off * s2 + 2 * n * off**3,
        s4 - 4 * off * s3 + 6 * off**2 * s2 - 3 * n * off**4,
    )


def _powers(values: Floats, form: np.ufunc, guess: float, off: float) -> tuple[float, ...]:
    """The sum of values in a form, and those of the first four powers of how far these lie from a guess of their mean,
    and from that by how far it is off."""
    deviations, squares = np.empty((2, min(values.size, _BLOCK)))
    sums = []
    for begin in range(0, values.size, _BLOCK):
        block = values[begin : begin + _BLOCK]
        d, q = deviations[: block.size], squares[: block.size]
        form(block, out=d)
        total = float(d.sum())
        d -= guess
        if off:
            d -= off
        np.multiply(d, d, out=q)
        sums.append((total, float(d.sum()), float(q.sum()), float(np.dot(q, d)), float(np.dot(q, q))))
    return tuple(math.fsum(of_power) for of_power in zip(*sums, strict=True))


def joined(parts: Sequence[Moments]) -> Moments:
    """The moments of all values of several parts, whose sums are added without loss.

    Notes: with d the distance of a part's mean from that of all, M2 = sum of (m2 + n d^2), M3 = sum of (m3 + 3 d m2 +
    n d^3), M4 = sum of (m4 + 4 d m3 + 6 d^2 m2 + n d^4).
    References: pebay-2008
    """
    held = [part for part in parts if part.n]
    if len(held) < 2:
        return held[0] if held else NO_MOMENTS
    unit = max(part.unit for part in held)
    held = [part.in_unit(unit) for part in held]
    n, centre = sum(part.n for part in held), held[0].mean
    offsets = [(part.mean - centre) + part.rest for part in held]
    offset = math.fsum(part.n * of_part for part, of_part in zip(held, offsets, strict=True)) / n
    distances = [of_part - offset for of_part in offsets]
    each = list(zip(held, distances, strict=True))
    mean = centre + offset
    return Moments(
        n,
        unit,
        math.fsum(part.total for part in held),
        mean,
        offset - (mean - centre),
        math.fsum(part.m2 + part.n * d * d for part, d in each),
        math.fsum(part.m3 + 3 * d * part.m2 + part.n * d**3 for part, d in each),
        math.fsum(part.m4 + 4 * d * part.m3 + 6 * d * d * part.m2 + part.n * d**4 for part, d in each),
    )
