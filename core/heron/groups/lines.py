"""A straight line through groups that stand at numbers: through their rows, or through their centres."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import same_length, within
from heron.errors import InputError
from heron.least_squares import simple

_SMALLEST = 1e-150  # a difference of places that can still be squared


@dataclass(frozen=True)
class Line:
    """value = intercept + slope x place, by least squares. slope in units of the value per unit of the place, with its
    t interval (None for 2 points); r_squared None where the values are all the same; n: points it goes through."""

    slope: float
    intercept: float
    slope_low: float | None
    slope_high: float | None
    r_squared: float | None
    n: int


def line(places: ArrayLike, values: ArrayLike, *, level: float = 0.95) -> Line:
    """Return the line of least squares of values (n,) on places (n,); pairs with a gap take no part.

    Raises: InputError for fewer than 2 different places.
    Notes: worked about the means. Through centres the line leaves out what lies within groups, so its R squared is
    higher than through rows and does not say how well single rows are told.
    """
    within(level, above=0, below=1, where="level")
    x, y = np.asarray(places, dtype=np.float64), np.asarray(values, dtype=np.float64)
    same_length(x.size, y.size, where="values")
    known = np.isfinite(x) & np.isfinite(y)
    x, y = x[known], y[known]
    n = x.size
    if n < 2 or not x.max() - x.min() > _SMALLEST:
        raise InputError("too-few-places", "A line needs values at 2 different places.", where="places")
    top = float(np.abs(y).max()) or 1.0
    fit = simple(x, y / top)
    reach = None
    if n > 2:
        t = float(special.stdtrit(n - 2, 0.5 + level / 2))
        reach = t * fit.sigma / math.sqrt(fit.spread_u) * top
    slope = fit.slope * top
    return Line(
        slope,
        fit.intercept * top,
        None if reach is None else slope - reach,
        None if reach is None else slope + reach,
        fit.r_squared,
        n,
    )
