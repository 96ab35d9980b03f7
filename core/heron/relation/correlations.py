"""How closely two variables move together: along a line, in their ranks, pair by pair."""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats, Ints, same_length, within

_KENDALL_VARIANCE = 0.437
_SPEARMAN_WIDER = 0.5
MOST_RANKED = 200_000  # pairs of which Kendall's tau, that looks at each with each, is worked


@dataclass(frozen=True)
class Coefficient:
    """From -1 to 1, with its limits and the p value of none; limits are None for too few pairs."""

    estimate: float
    low: float | None
    high: float | None
    p_value: float | None


@dataclass(frozen=True)
class Correlations:
    """lost_rows: rows in which either value is missing. A coefficient is None where a variable has no spread."""

    pearson: Coefficient | None
    spearman: Coefficient | None
    kendall: Coefficient | None
    level: float
    n_pairs: int
    lost_rows: Ints
    undefined: dict[str, str] = field(default_factory=dict)


def pairs(x: ArrayLike, y: ArrayLike) -> tuple[Floats, Floats, Ints]:
    """The values of the rows in which both are there, and the positions of those rows."""
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    same_length(a.size, b.size, where="y")
    known = np.flatnonzero(np.isfinite(a) & np.isfinite(b))
    return a[known], b[known], known


def correlate(x: ArrayLike, y: ArrayLike, *, level: float = 0.95) -> Correlations:
    """Return Pearson's, Spearman's and Kendall's coefficients of x and y (n_rows,), NaN for missing.

    Notes: Pearson's limits by Fisher's z, 1/sqrt(n - 3); Spearman's likewise with sqrt((1 + r^2/2)/(n - 3)); Kendall's
    is tau-b, its limits z +/- sqrt(0.437/(n - 4)) of its arctanh, worked for up to 200,000 pairs.
    References: fisher-1921; bonett-wright-2000; fieller-1957.
    """
    within(level, above=0, below=1, where="level")
    a, b, known = pairs(x, y)
    n = known.size
    lost = np.setdiff1d(np.arange(np.asarray(x).size), known, assume_unique=True)
    if n < 2 or a.min() == a.max() or b.min() == b.max():
        why = "There are fewer than 2 pairs." if n < 2 else "A variable has no spread."
        return Correlations(None, None, None, level, n, lost, dict.fromkeys(("pearson", "spearman", "kendall"), why))
    undefined: dict[str, str] = {}
    r = _product_moment(a, b)
    rho = _product_moment(stats.rankdata(a), stats.rankdata(b))
    kendall = None
    if n <= MOST_RANKED:
        found = stats.kendalltau(a, b)
        kendall = _limits(float(found.statistic), math.sqrt(_KENDALL_VARIANCE / (n - 4)) if n > 4 else None, level)
        kendall = Coefficient(kendall.estimate, kendall.low, kendall.high, float(found.pvalue))
    else:
        undefined["kendall"] = f"It is worked for up to {MOST_RANKED} pairs."
    pearson = _limits(r, 1 / math.sqrt(n - 3) if n > 3 else None, level, n)
    wide = math.sqrt((1 + _SPEARMAN_WIDER * rho * rho) / (n - 3)) if n > 3 else None
    return Correlations(pearson, _limits(rho, wide, level, n), kendall, level, n, lost, undefined)


def _product_moment(a: Floats, b: Floats) -> float:
    """Pearson's r, each variable put on a scale on which it can be squared."""
    u, v = (each / (float(np.abs(each).max()) or 1.0) for each in (a, b))
    u, v = u - u.mean(), v - v.mean()
    u, v = u / (float(np.abs(u).max()) or 1.0), v / (float(np.abs(v).max()) or 1.0)
    r = float(u @ v) / math.sqrt(float(u @ u) * float(v @ v))
    return min(max(r, -1.0), 1.0)


def _limits(estimate: float, se: float | None, level: float, n: int | None = None) -> Coefficient:
    p = None
    if n is not None and n > 2:
        left = (1 - estimate) * (1 + estimate)
        p = 0.0 if left <= 0 else 2 * float(special.stdtr(n - 2, -abs(estimate) * math.sqrt((n - 2) / left)))
    if se is None:
        return Coefficient(estimate, None, None, p)
    if abs(estimate) == 1:
        return Coefficient(estimate, estimate, estimate, p)
    z, reach = math.atanh(estimate), float(special.ndtri(0.5 + level / 2)) * se
    return Coefficient(estimate, math.tanh(z - reach), math.tanh(z + reach), p)
