"""A straight line by least squares through many pairs, and what its residuals say: closed forms, no matrix."""

import math
from dataclasses import dataclass

import numpy as np
from scipy import special

from heron.checks import Floats
from heron.formatting import significant

_LARGEST = 1e150
_SMALLEST = 1e-150


def ends(values: Floats) -> tuple[float, float]:
    """The least and the largest of values; those of none are infinite."""
    return float(values.min(initial=np.inf)), float(values.max(initial=-np.inf))


def unfit(u: Floats, v: Floats, least: int = 3) -> str:
    """Why no line can be put through the pairs, "" where one can."""
    return unfit_within(u.size, ends(u), ends(v), least)


def unfit_within(n: int, u: tuple[float, float], v: tuple[float, float], least: int = 3) -> str:
    """The same of n pairs with these ends."""
    if n < least:
        return f"A line needs {least} pairs; {n} stand on these scales."
    if u[0] == u[1]:
        return "All pairs have the same x."
    if max(*map(abs, u), *map(abs, v)) > _LARGEST:
        return f"Values beyond {significant(_LARGEST)} cannot be squared, and so not be fitted."
    if min(u[1] - u[0], v[1] - v[0] or 1.0) < _SMALLEST:
        return f"Differences below {significant(_SMALLEST)} cannot be squared, and so not be fitted."
    return ""


@dataclass(frozen=True)
class Simple:
    """v = intercept + slope u. mean_u, spread_u: mean and sum of squares about it; rss: sum of squared residuals;
    residuals: (n,); r_squared: None where v has no spread."""

    slope: float
    intercept: float
    mean_u: float
    mean_v: float
    spread_u: float
    rss: float
    residuals: Floats
    r_squared: float | None
    n: int

    @property
    def sigma(self) -> float:
        """The residual SD; 0 for 2 points."""
        return math.sqrt(self.rss / (self.n - 2)) if self.n > 2 else 0.0

    def reach(self, u: Floats, level: float, *, of_one: bool = False) -> Floats:
        """Half the width of the band of the line at u, or of the interval of one more value there."""
        t = float(special.stdtrit(self.n - 2, 0.5 + level / 2)) if self.n > 2 else math.nan
        return np.asarray(t * self.sigma * np.sqrt(of_one + 1 / self.n + (u - self.mean_u) ** 2 / self.spread_u))

    def robust_se(self, u: Floats) -> float | None:
        """The standard error of the slope that holds where spreads differ along u, HC3; None where a row is fitted
        whatever its value."""
        off = u - self.mean_u
        left = 1 - 1 / self.n - off**2 / self.spread_u
        if float(left.min()) < 1e-12:
            return None
        return math.sqrt(float(np.sum((off * self.residuals / left) ** 2))) / self.spread_u


def simple(u: Floats, v: Floats) -> Simple:
    """The line of least squares of v on u, (n,) each, without gaps; u must have spread."""
    mean_u, mean_v = float(u.mean()), float(v.mean())
    off, up = u - mean_u, v - mean_v
    spread, total = float(off @ off), float(up @ up)
    slope = float(off @ up) / spread
    residuals = up - slope * off
    rss = float(residuals @ residuals)
    share = None if total == 0 else max(1 - rss / total, 0.0)
    return Simple(slope, mean_v - slope * mean_u, mean_u, mean_v, spread, rss, residuals, share, u.size)


def curvature(line: Simple, u: Floats) -> float | None:
    """The p value of a squared term added to the line; None for too few different places."""
    off = (u - line.mean_u) / math.sqrt(line.spread_u / line.n)
    square = off * off
    square -= square.mean()
    square -= off * (float(off @ square) / line.n)
    size, df = float(square @ square), line.n - 3
    if df < 1 or size < 1e-10 * line.n or line.rss == 0:
        return None
    part = float(square @ line.residuals) ** 2 / size
    return float(special.fdtrc(1, df, part / ((line.rss - part) / df))) if line.rss > part else 0.0


def fanning(line: Simple, u: Floats) -> float | None:
    """Breusch and Pagan's test that the spread of the residuals changes along u, in Koenker's form."""
    most = float(np.abs(line.residuals).max())
    if line.n < 4 or most == 0:
        return None
    squares = (line.residuals / most) ** 2
    squares -= squares.mean()
    total = float(squares @ squares)
    if total == 0:
        return None
    explained = float((u - line.mean_u) @ squares) ** 2 / line.spread_u
    return float(special.chdtrc(1, line.n * explained / total))
