"""The density of pairs, by a product of normal kernels on a grid."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, choose, same_length
from heron.density.bandwidths import bandwidth_of
from heron.errors import InputError
from heron.moments import moments_of, safe_unit
from heron.ordered import InOrder, Ordered
from heron.ordered import ends as ends_of
from heron.results import Result

WidthRule = Literal["normal-reference", "plug-in"]
SHARES = (0.25, 0.5, 0.75, 0.9, 0.95)
GRID = 200
_REACH = 3.5  # kernel SDs beyond the data that the grid takes in


@dataclass(frozen=True)
class PairDensity(Result):
    """x, y: (grid,) where the density stands; density: (grid, grid), a row for each y, per unit of x times unit of y.
    levels: (k,) the heights above which lie `shares` of the pairs, from the smallest share on; sparse_rows: positions
    of the pairs where the density is least; bandwidth_x, bandwidth_y: the kernel's SDs."""

    x: Floats
    y: Floats
    density: Floats
    bandwidth_x: float
    bandwidth_y: float
    shares: tuple[float, ...]
    levels: Floats
    sparse_rows: Ints
    n: int
    n_missing: int

    @property
    def drawn_with(self) -> tuple[float, float]:
        """The SDs of the kernel on this grid: one narrower than its steps is widened, so that nothing is lost."""
        steps = (float(axis[1] - axis[0]) for axis in (self.x, self.y))
        return _on_grid(self.bandwidth_x, next(steps)), _on_grid(self.bandwidth_y, next(steps))


_LEAST_STEPS = 0.6


def _on_grid(h: float, step: float) -> float:
    return max(h, _LEAST_STEPS * step)


def pair_density(
    x: ArrayLike,
    y: ArrayLike,
    *,
    bandwidths: tuple[float | None, float | None] = (None, None),
    rule: WidthRule = "normal-reference",
    grid: int = GRID,
    shares: tuple[float, ...] = SHARES,
    sparse: int = 0,
) -> PairDensity:
    """Return the density of pairs.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    bandwidths : (float or None, float or None), optional
        The kernel's SD on each axis, by the rule where None.
    rule : {"normal-reference", "plug-in"}, optional
        SD n^(-1/6), or the plug-in bandwidth of each variable by itself times n^(1/30), as two dimensions need.
    grid : int, optional
        Points on each axis.
    shares : sequence of float, optional
        Of the pairs to be enclosed by contours.
    sparse : int, optional
        How many pairs of least density to name.

    Returns
    -------
    PairDensity
        Heights per unit of x and y on a grid; the level of each share, and the rows of the sparsest pairs.

    Raises
    ------
    ChoiceError
        For an unknown rule.
    InputError
        For fewer than 3 pairs, or a variable without spread.

    Notes
    -----
    Linear binning on the grid, then the kernel along each axis. A level is the height that a share of the pairs lie
    above, each taken at its own place.

    References
    ----------
    scott-1992, for the normal-reference rule
    botev-2010, for the plug-in rule
    hyndman-1996, for the contours

    Examples
    --------
    >>> result = pair_density([0, 1, 2, 9], [0, 1, 2, 0], sparse=1)
    >>> result.sparse_rows.tolist()
    [3]
    """
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    same_length(a.size, b.size, where="y")
    whole = np.isfinite(a) & np.isfinite(b)
    rows = np.flatnonzero(whole)
    n = rows.size
    if n < a.size:
        a, b = a[rows], b[rows]
    if n < 3 or a.min() == a.max() or b.min() == b.max():
        why = "It needs 3 pairs." if n < 3 else "A variable has no spread."
        raise InputError("no-density", f"There is no density to draw. {why}", where="x")
    by = _WIDTHS[choose(rule, _WIDTHS, where="rule")]
    wide = [by(values) if h is None else h for values, h in zip((a, b), bandwidths, strict=True)]
    ends = [(float(values.min()), float(values.max())) for values in (a, b)]
    where = density_grid(ends[0], ends[1], (wide[0], wide[1]), grid)
    result = where.density(where.masses(a, b), n)
    heights = where.heights(result, a, b)
    levels = np.quantile(heights, [1 - share for share in shares]) if shares else np.empty(0)
    few = min(sparse, n)
    sparsest = np.argpartition(heights, few - 1)[:few] if few else np.empty(0, dtype=np.int64)
    x_axis, y_axis = where.axes
    return PairDensity(
        x_axis, y_axis, result, wide[0], wide[1], tuple(shares), levels, np.sort(rows[sparsest]), n, whole.size - n
    )  # fmt: skip


@dataclass(frozen=True)
class DensityGrid:
    """A grid on which a density of pairs is worked. x, y: where it begins and ends, and the SD of the kernel there;
    points: on each axis."""

    x: tuple[float, float, float]
    y: tuple[float, float, float]
    points: int

    @property
    def axes(self) -> tuple[Floats, Floats]:
        first, second = (np.linspace(low, high, self.points) for low, high, _ in (self.x, self.y))
        return first, second

    def masses(self, a: Floats, b: Floats) -> Floats:
        """(points * points,) what linear binning of pairs gives to each point, row by row from below."""
        corner, right, up = self._places(a, b)
        grid, result = self.points, np.zeros(self.points**2)
        for above, beside in ((0, 0), (0, 1), (1, 0), (1, 1)):
            weight = (up if above else 1 - up) * (right if beside else 1 - right)
            result += np.bincount(corner + above * grid + beside, weights=weight, minlength=grid * grid)
        return result

    def density(self, masses: Floats, n: int) -> Floats:
        """(points, points) the density of n pairs, a row for each y."""
        kernels = [_kernel(axis, h) for axis, h in zip(self.axes, (self.x[2], self.y[2]), strict=True)]
        return np.asarray(kernels[1] @ masses.reshape(self.points, self.points) @ kernels[0].T / n)

    def heights(self, density: Floats, a: Floats, b: Floats) -> Floats:
        """(n,) a density at the places of pairs, between the points of the grid."""
        corner, right, up = self._places(a, b)
        flat, grid = density.ravel(), self.points
        result = (1 - up) * ((1 - right) * flat[corner] + right * flat[corner + 1])
        result += up * ((1 - right) * flat[corner + grid] + right * flat[corner + grid + 1])
        return np.asarray(result)

    def _places(self, a: Floats, b: Floats) -> tuple[Ints, Floats, Floats]:
        """The point to the lower left of each pair, and how far it lies from there, in steps."""
        places = [(values - axis[0]) / (axis[1] - axis[0]) for values, axis in zip((a, b), self.axes, strict=True)]
        low = [np.minimum(position.astype(np.int64), self.points - 2) for position in places]
        return low[1] * self.points + low[0], places[0] - low[0], places[1] - low[1]


def density_grid(
    x: tuple[float, float], y: tuple[float, float], widths: tuple[float, float], points: int
) -> DensityGrid:
    """The grid for pairs that lie between ends, with kernels of some widths.

    Raises: InputError where it cannot be laid, or for a number of points that it does not have.
    """
    if not 16 <= points <= 512:
        raise InputError("out-of-range", f"The grid has from 16 to 512 points; {points} are asked for.", where="grid")
    if not all(math.isfinite(width) and width > 0 for width in widths):
        raise InputError("out-of-range", "A bandwidth lies above 0.", where="bandwidth")
    ends = []
    for (low, high), h in zip((x, y), widths, strict=True):
        # A kernel that the steps widen reaches further, and so the steps are wider still.
        steps = points - 1 - 2 * _REACH * _LEAST_STEPS
        reach = _REACH * max(h, _LEAST_STEPS * (high / steps - low / steps))
        ends.append((low - reach, high + reach, h))
    for low, high, h in ends:
        if not math.isfinite(high - low):
            raise InputError("too-large", "The values are too large for a density.", where="x")
        if not (h > 1e-290 and low + (high - low) / (points - 1) > low):
            raise InputError("too-small", "The values lie too close together for a density.", where="x")
    return DensityGrid(ends[0], ends[1], points)


def normal_reference(sd: float, n: int) -> float:
    """The SD of a kernel for n pairs of which one variable has an SD. References: scott-1992."""
    return sd * math.pow(n, -1 / 6)


def plug_in(values: Ordered, n: int) -> float:
    """The SD of a kernel for n pairs of which one variable has values. References: botev-2010."""
    low, high = ends_of(values)
    return bandwidth_of(values, low, high, "plug-in")[0] * math.pow(n, 1 / 30)


_WIDTHS: dict[str, Callable[[Floats], float]] = {
    "normal-reference": lambda values: normal_reference(_spread(values), values.size),
    "plug-in": lambda values: plug_in(InOrder(np.sort(values)), values.size),
}


def _spread(values: Floats) -> float:
    unit = safe_unit(max(abs(float(values.min())), abs(float(values.max()))))
    moments = moments_of(values if unit == 1 else values / unit, unit)
    return math.sqrt(moments.m2 / (moments.n - 1)) * unit


def _kernel(axis: Floats, h: float) -> Floats:
    """What each grid point gives to each."""
    width = _on_grid(h, float(axis[1] - axis[0]))
    off = (axis[:, None] - axis[None, :]) / width
    return np.asarray(np.exp(-0.5 * off * off) / (width * np.sqrt(2 * np.pi)))
