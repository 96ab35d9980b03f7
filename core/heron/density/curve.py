"""Kernel density estimates of one variable."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Checked, Floats, Ints, as_values, choose
from heron.density.bandwidths import BandwidthRule, bandwidth_of
from heron.density.kernels import KERNELS, Kernel, KernelChoice
from heron.errors import InputError
from heron.formatting import significant
from heron.ordered import InOrder, Ordered, ends
from heron.results import Result

DIRECT_SUM_UP_TO = 2_000


@dataclass(frozen=True)
class Density(Result, columns=("x", "density")):
    """A density curve: x and density (points,), in the unit of x and its inverse.

    bandwidth: the kernel's SD, in the unit of x; rule: what set it; peak: where the curve is highest; cautions: what
    the reader must know before trusting the curve.
    """

    x: Floats
    density: Floats
    bandwidth: float
    rule: str
    kernel: Kernel
    peak: float
    n: int
    n_missing: int
    cautions: tuple[str, ...] = ()
    undefined: dict[str, str] = field(default_factory=dict)


def kernel_density(
    x: ArrayLike,
    *,
    bandwidth: float | BandwidthRule = "silverman",
    kernel: Kernel = "gaussian",
    points: int = 512,
    lower: float | None = None,
    upper: float | None = None,
    weights: ArrayLike | None = None,
) -> Density:
    """Return a kernel density estimate on an even grid.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    bandwidth : float or str, optional
        The kernel's SD in the unit of x, or the name of a rule; their records are in `heron.density.BANDWIDTH_RULES`.
    kernel : str, optional
        Its shape; their records are in `heron.density.KERNELS`.
    points : int, optional
        Of the grid, from 2 to 65,536.
    lower, upper : float, optional
        What x cannot lie beyond, and where the curve is reflected.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    Density
        x in its unit, density per unit; its area is 1.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For fewer than 2 different values under a rule, no value at all, or values beyond the bounds.

    Notes
    -----
    The density is the mean of kernels of SD h about the values, summed directly for few values and by linear binning
    and a Fourier transform for many.

    References
    ----------
    silverman-1986
    botev-2010

    Examples
    --------
    The height of the standard normal curve:

    >>> round(float(kernel_density([0.0], bandwidth=1.0).density.max()), 4)
    0.3989
    """
    checked = as_values(x, weights=weights)
    check_bounds(checked, lower, upper)
    # Sorted for the quartiles; and in order the bins are filled faster.
    return density_of_ordered(
        InOrder(np.sort(checked.values)), checked.n_missing, bandwidth=bandwidth, kernel=kernel, points=points,
        lower=lower, upper=upper,
    )  # fmt: skip


def density_of_ordered(
    values: Ordered,
    n_missing: int,
    *,
    bandwidth: float | BandwidthRule = "silverman",
    kernel: Kernel = "gaussian",
    points: int = 512,
    lower: float | None = None,
    upper: float | None = None,
) -> Density:
    """The density of values that are known by their order, as `kernel_density` has it."""
    shape = KERNELS[choose(kernel, KERNELS, where="kernel")]
    if not 2 <= points <= 65_536:
        raise InputError("out-of-range", f"points must be from 2 to 65536; it is {points}.", where="points")
    if values.size == 0:
        raise InputError("no-values", "A density needs at least 1 value; there is none.", where="x")
    low, high = ends(values)
    if (lower is not None and low < lower) or (upper is not None and high > upper):
        below = 0 if lower is None else int(values.reached([lower], right=False)[0])
        above = 0 if upper is None else values.size - int(values.reached([upper], right=True)[0])
        raise _beyond_bound(below + above, values.size)
    if high / 2 - low / 2 > 1e300 or 0 < high / 2 - low / 2 < 1e-290:
        raise InputError(
            "range-extreme",
            f"The values span from {significant(low)} to {significant(high)}, too far to draw a density.",
            where="x",
            remedy="Set aside the extreme values, or choose a log scale.",
        )
    width, rule, cautions = bandwidth_of(values, low, high, bandwidth)
    start = low - 3.5 * width if lower is None else max(lower, low - 3.5 * width)
    stop = high + 3.5 * width if upper is None else min(upper, high + 3.5 * width)
    grid = np.linspace(start, stop, points)
    if values.size <= DIRECT_SUM_UP_TO:
        nodes, masses = values[np.arange(values.size)], np.full(values.size, 1 / values.size)
        summed = _direct
    else:
        nodes, masses = values.binned(low, width / shape.bins)
        summed = _windowed
    density = summed(grid, nodes, masses, width, shape)
    # A bound beyond the curve's own ends has nothing to turn back.
    if lower is not None and start == lower:
        density += summed(2 * lower - grid, nodes, masses, width, shape)
    if upper is not None and stop == upper:
        density += summed(2 * upper - grid, nodes, masses, width, shape)
    return Density(
        grid,
        density,
        width,
        rule,
        kernel,
        float(grid[density.argmax()]),
        values.size,
        n_missing,
        cautions,
    )


@dataclass(frozen=True)
class Bumps:
    """Each value's own share of a density: x (points,); heights (n, points) laid end to end, value by value ascending;
    rows (n,) of the values. All bumps together are the curve."""

    x: Floats
    heights: Floats
    rows: Ints
    bandwidth: float
    n: int


def bumps(
    x: ArrayLike,
    *,
    bandwidth: float | BandwidthRule = "silverman",
    kernel: Kernel = "gaussian",
    points: int = 256,
    lower: float | None = None,
    upper: float | None = None,
) -> Bumps:
    """Return what each value adds to a density estimate: a kernel of area 1/n, turned back at declared bounds.

    Parameters as in `kernel_density`. Raises: as `kernel_density`; InputError for more than 60 values.
    """
    curve = kernel_density(x, bandwidth=bandwidth, kernel=kernel, points=points, lower=lower, upper=upper)
    if curve.n > MOST_BUMPS:
        raise InputError("too-many-bumps", f"Bumps are drawn for up to {MOST_BUMPS} values; there are {curve.n}.")
    checked = as_values(x)
    order = np.argsort(checked.values, kind="stable")
    values, shape, width = checked.values[order][:, None], KERNELS[kernel], curve.bandwidth
    centres = [values]
    if lower is not None and curve.x[0] == lower:
        centres.append(2 * lower - values)
    if upper is not None and curve.x[-1] == upper:
        centres.append(2 * upper - values)
    heights = sum(shape.height((curve.x[None, :] - centre) / width) for centre in centres) / (width * curve.n)
    return Bumps(curve.x, np.asarray(heights).ravel(), checked.positions[order], width, curve.n)


MOST_BUMPS = 60


def check_bounds(checked: Checked, lower: float | None, upper: float | None) -> None:
    """Refuse values beyond what a variable can be, with their rows."""
    outside = np.zeros(checked.n, dtype=bool)
    if lower is not None:
        outside |= checked.values < lower
    if upper is not None:
        outside |= checked.values > upper
    if outside.any():
        raise _beyond_bound(int(np.count_nonzero(outside)), checked.n, checked.positions[outside][:100].tolist())


def _beyond_bound(n_outside: int, n: int, rows: Sequence[int] = ()) -> InputError:
    return InputError(
        "beyond-bound",
        f"{n_outside} of {n} values lie beyond the declared bounds.",
        where="x",
        rows=rows,
        remedy="Correct them, set them aside, or change the bounds.",
    )


def _direct(grid: Floats, nodes: Floats, masses: Floats, width: float, shape: KernelChoice) -> Floats:
    """(points,) sum over all nodes."""
    with np.errstate(over="ignore"):  # what lies so far away that its square overflows has no height
        heights = shape.height((grid[:, None] - nodes[None, :]) / width)
    return heights @ masses / width


def _windowed(grid: Floats, nodes: Floats, masses: Floats, width: float, shape: KernelChoice) -> Floats:
    """(points,) sum over the nodes within the kernel's reach of each grid point; all windows end to end."""
    first = np.searchsorted(nodes, grid - shape.reach * width, side="left")
    last = np.searchsorted(nodes, grid + shape.reach * width, side="right")
    lengths = last - first
    owner = np.repeat(np.arange(grid.size), lengths)
    node = np.arange(owner.size)
    node += np.repeat(first - np.cumsum(lengths) + lengths, lengths)
    away = np.repeat(grid, lengths)
    away -= nodes[node]
    away /= width
    heights = shape.height(away)
    heights *= masses[node]
    return np.bincount(owner, weights=heights, minlength=grid.size) / width
