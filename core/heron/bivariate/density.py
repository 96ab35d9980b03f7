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
from heron.ordered import InOrder
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
    if not 16 <= grid <= 512:
        raise InputError("out-of-range", f"The grid has from 16 to 512 points; {grid} are asked for.", where="grid")
    by = _WIDTHS[choose(rule, _WIDTHS, where="rule")]
    wide = [by(values) if h is None else h for values, h in zip((a, b), bandwidths, strict=True)]
    if not all(np.isfinite(width) and width > 0 for width in wide):
        raise InputError("out-of-range", "A bandwidth lies above 0.", where="bandwidth")
    axes = [_axis(values, h, grid) for values, h in zip((a, b), wide, strict=True)]
    places = [(values - axis[0]) / (axis[1] - axis[0]) for values, axis in zip((a, b), axes, strict=True)]
    low = [np.minimum(position.astype(np.int64), grid - 2) for position in places]
    part = [position - whole_part for position, whole_part in zip(places, low, strict=True)]
    corner = low[1] * grid + low[0]
    counts = np.zeros(grid * grid)
    for up, right in ((0, 0), (0, 1), (1, 0), (1, 1)):
        weight = (part[1] if up else 1 - part[1]) * (part[0] if right else 1 - part[0])
        counts += np.bincount(corner + up * grid + right, weights=weight, minlength=grid * grid)
    kernels = [_kernel(axis, h) for axis, h in zip(axes, wide, strict=True)]
    result = kernels[1] @ counts.reshape(grid, grid) @ kernels[0].T / n
    flat = result.ravel()
    heights = (1 - part[1]) * ((1 - part[0]) * flat[corner] + part[0] * flat[corner + 1])
    heights += part[1] * ((1 - part[0]) * flat[corner + grid] + part[0] * flat[corner + grid + 1])
    levels = np.quantile(heights, [1 - share for share in shares]) if shares else np.empty(0)
    few = min(sparse, n)
    sparsest = np.argpartition(heights, few - 1)[:few] if few else np.empty(0, dtype=np.int64)
    return PairDensity(
        axes[0], axes[1], result, wide[0], wide[1], tuple(shares), levels, np.sort(rows[sparsest]), n, whole.size - n
    )  # fmt: skip


def _plug_in(values: Floats) -> float:
    ordered = np.sort(values)
    width = bandwidth_of(InOrder(ordered), float(ordered[0]), float(ordered[-1]), "plug-in")[0]
    return width * math.pow(values.size, 1 / 30)


def _normal_reference(values: Floats) -> float:
    return _spread(values) * math.pow(values.size, -1 / 6)


_WIDTHS: dict[str, Callable[[Floats], float]] = {"normal-reference": _normal_reference, "plug-in": _plug_in}


def _spread(values: Floats) -> float:
    top = float(np.abs(values).max())
    return float((values / top).std(ddof=1)) * top


def _axis(values: Floats, h: float, grid: int) -> Floats:
    low, high = float(values.min()) - _REACH * h, float(values.max()) + _REACH * h
    if not np.isfinite(high - low):
        raise InputError("too-large", "The values are too large for a density.", where="x")
    axis = np.linspace(low, high, grid)
    if not (h > 1e-290 and axis[1] > axis[0]):
        raise InputError("too-small", "The values lie too close together for a density.", where="x")
    return axis


def _kernel(axis: Floats, h: float) -> Floats:
    """What each grid point gives to each; a kernel narrower than a step becomes a step, so that nothing is lost."""
    step = axis[1] - axis[0]
    width = max(h, 0.6 * step)
    off = (axis[:, None] - axis[None, :]) / width
    return np.asarray(np.exp(-0.5 * off * off) / (width * np.sqrt(2 * np.pi)))
