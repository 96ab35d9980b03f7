"""How much rows of one unit resemble each other, and so how little more they tell than one of them."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from scipy import optimize, stats

from heron.checks import Floats, Ints, as_values, within
from heron.formatting import significant
from heron.grouping import By, groups_of
from heron.results import Result

_MOST = 1 - 1e-9  # of the correlation, short of units that agree wholly
_LARGEST = 1e150
MOST_CELLS = 5_000_000  # units times groups


@dataclass(frozen=True)
class Components(Result):
    """Two levels of spread. unit_sd: between units of one group; rest_sd: between rows of one unit; intraclass: the
    share of the variance that lies between units, with its limits; design_effect: how many times as many rows are
    needed as if all were independent; n_effective: how many independent rows they amount to. None with the reason
    where there are none."""

    unit_sd: float | None
    rest_sd: float | None
    intraclass: float | None
    low: float | None
    high: float | None
    design_effect: float | None
    n_effective: float | None
    level: float
    n: int
    n_units: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def components(
    values: ArrayLike, by: By | None = None, *, order: Sequence[object] | None = None, unit: By, level: float = 0.95
) -> Components:
    """Return how much of the spread within groups lies between units.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; by default all rows are one group.
    order : sequence of labels, optional
        The groups in their order.
    unit : (n_rows,) labels
        What each row is of, such as an animal or a batch.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Components
        SDs between and within units, the intraclass correlation with its limits, and the design effect.

    Raises
    ------
    InputError
        For infinite values, columns of different lengths, or a level outside its range.

    Notes
    -----
    Each value is the mean of its group, a normal deviation of its unit and a normal rest; variances by restricted
    maximum likelihood, limits of the correlation r where twice the log-likelihood falls by chi-square(1). The design
    effect is 1 + (m - 1) r with m the sum of squares of the rows of units over their sum.

    References
    ----------
    patterson-thompson-1971
    kish-1965, for the design effect

    Examples
    --------
    Yield of six batches of dyestuff, five samples of each:

    >>> batches = [[1545, 1440, 1440, 1520, 1580], [1540, 1555, 1490, 1560, 1495], [1595, 1550, 1605, 1510, 1560],
    ...            [1445, 1440, 1595, 1465, 1545], [1595, 1630, 1515, 1635, 1625], [1520, 1455, 1450, 1480, 1445]]
    >>> result = components([y for batch in batches for y in batch], unit=[i for i in range(6) for _ in range(5)])
    >>> round(result.unit_sd, 2), round(result.rest_sd, 2)
    (42.0, 49.51)
    """
    within(level, above=0, below=1, where="level")
    checked = as_values(values)
    grouping = groups_of(by, checked.length, order=order)
    units = groups_of(unit, checked.length, where="unit").places[checked.positions]
    group = grouping.places[checked.positions]
    kept = (group >= 0) & (units >= 0)
    x, group, units = checked.values[kept], group[kept], units[kept]
    missing = int(np.count_nonzero(grouping.places >= 0)) - x.size
    _, units = np.unique(units, return_inverse=True)
    _, group = np.unique(group, return_inverse=True)
    n, k, p = x.size, int(units.max(initial=-1)) + 1, int(group.max(initial=-1)) + 1

    def without(why: str) -> Components:
        return Components(*(None,) * 7, level, n, k, missing, {"intraclass": why})

    if k < 2 or n <= k or n - p < 2:
        return without("It needs 2 units, and rows of one unit in one group.")
    if k * p > MOST_CELLS:
        return without("There are too many units in too many groups.")
    if float(np.abs(x).max()) > _LARGEST:
        return without(f"Values beyond {significant(_LARGEST)} cannot be squared.")
    x = x - x.mean()
    scale = float(np.abs(x).max())
    if scale == 0:
        return without("All values are the same.")
    lack = _Likelihood(x / scale, units, group, k, p)
    if lack.rest == 0:
        return without("Rows of one unit in one group are all the same.")
    best = optimize.minimize_scalar(lack, bounds=(0.0, _MOST), method="bounded", options={"xatol": 1e-10})
    r, least = (0.0, lack(0.0)) if lack(0.0) <= best.fun else (float(best.x), float(best.fun))
    fall = float(stats.chi2.ppf(level, 1))

    def over(share: float) -> float:
        return lack(share) - least - fall

    low = float(optimize.brentq(over, 0.0, r)) if r > 0 and over(0.0) > 0 else 0.0
    high = float(optimize.brentq(over, r, _MOST)) if over(_MOST) > 0 else 1.0
    whole = lack.variance(r) * scale**2
    rows = np.bincount(units).astype(np.float64)
    effect = 1 + (float(np.sum(rows**2)) / n - 1) * r
    return Components(
        math.sqrt(r * whole), math.sqrt((1 - r) * whole), r, low, high, effect, n / effect, level, n, k, missing
    )


class _Likelihood:
    """Minus twice the restricted log-likelihood of an intraclass correlation, from sums over units and groups."""

    def __init__(self, x: Floats, units: Ints, group: Ints, k: int, p: int) -> None:
        cell = np.asarray(units * p + group, dtype=np.int64)
        self._counts = np.bincount(cell, minlength=k * p).reshape(k, p).astype(np.float64)
        means = np.bincount(cell, weights=x, minlength=k * p).reshape(k, p)
        inside = x - (means.ravel() / np.maximum(self._counts.ravel(), 1))[cell]
        self.rest = float(np.dot(inside, inside))
        self._sums, self._rows = means, self._counts.sum(axis=1)
        self._squares = float(np.dot(x, x))
        self._df = x.size - p

    def _worked(self, share: float) -> tuple[float, float]:
        """The residual sum of squares, and the logarithms of both determinants."""
        ratio = share / (1 - share)
        drawn = ratio / (1 + ratio * self._rows)
        total = self._sums.sum(axis=1)
        table = np.diag(self._counts.sum(axis=0)) - (self._counts * drawn[:, None]).T @ self._counts
        right = self._sums.sum(axis=0) - self._counts.T @ (drawn * total)
        lead = self._squares - float(np.dot(drawn, total**2))
        left = lead - float(np.dot(right, np.linalg.lstsq(table, right, rcond=None)[0]))
        logs = float(np.sum(np.log1p(ratio * self._rows))) + float(np.linalg.slogdet(table)[1])
        return max(left, 1e-300), logs

    def variance(self, share: float) -> float:
        """Of a value about the mean of its group, both levels together."""
        return self._worked(share)[0] / self._df / (1 - share)

    def __call__(self, share: float) -> float:
        left, logs = self._worked(share)
        return self._df * math.log(left) + logs
