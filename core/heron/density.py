"""Kernel density estimates of one variable."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import fft, optimize

from heron.checks import Checked, Floats, Ints, as_values, choose, within
from heron.errors import InputError
from heron.quantiles import of_sorted

Kernel = Literal["gaussian", "epanechnikov", "triangular", "uniform", "biweight"]
BandwidthRule = Literal["silverman", "scott", "plug-in"]
BANDWIDTH_RULES: tuple[BandwidthRule, ...] = ("silverman", "scott", "plug-in")
DIRECT_SUM_UP_TO = 2_000
_BLOCK = 65_536


@dataclass(frozen=True)
class _Shape:
    """A kernel scaled to SD 1: it is 0 beyond `reach`; `bins` is how many bins a bandwidth is cut into."""

    reach: float
    bins: int
    height: Callable[[Floats], Floats]


# The more abruptly a kernel ends, the finer the bins must be to keep the error under 0.1 % of the peak.
_KERNELS: dict[Kernel, _Shape] = {
    "gaussian": _Shape(8.5, 16, lambda z: np.exp(-0.5 * z * z) / math.sqrt(2 * math.pi)),
    "epanechnikov": _Shape(math.sqrt(5), 64, lambda z: 0.75 / math.sqrt(5) * np.maximum(1 - z * z / 5, 0)),
    "triangular": _Shape(math.sqrt(6), 64, lambda z: np.maximum(1 - np.abs(z) / math.sqrt(6), 0) / math.sqrt(6)),
    "uniform": _Shape(math.sqrt(3), 4096, lambda z: (np.abs(z) <= math.sqrt(3)) / (2 * math.sqrt(3))),
    "biweight": _Shape(math.sqrt(7), 32, lambda z: 15 / 16 / math.sqrt(7) * np.maximum(1 - z * z / 7, 0) ** 2),
}
KERNELS: tuple[Kernel, ...] = tuple(_KERNELS)


@dataclass(frozen=True)
class Density:
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


def estimate(
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

    Parameters: x (n_rows,) floats, NaN for missing; bandwidth, the kernel's SD in the unit of x, or the name of a rule;
    points of the grid, 2 to 65,536; lower, upper: bounds of what x can be, at which the curve is reflected; weights
    (n_rows,) frequencies.
    Returns: Density; its area is 1. Raises: ChoiceError; InputError for fewer than 2 different values under a rule, no
    value at all, or values beyond a bound.
    Notes: silverman 0.9 min(SD, IQR/1.34) n^(-1/5), the SD alone where the IQR is 0; scott 1.06 SD n^(-1/5); plug-in by
    the fixed point of Botev and others. Above 2,000 values they are binned linearly, a bandwidth to at least 16 bins,
    and only bins within a kernel's reach are summed.
    References: silverman-1986, equation 3.31; scott-1992; botev-2010.
    """
    checked = as_values(x, weights=weights)
    shape = _KERNELS[choose(kernel, KERNELS, where="kernel")]
    if not 2 <= points <= 65_536:
        raise InputError("out-of-range", f"points must be from 2 to 65536; it is {points}.", where="points")
    if checked.n == 0:
        raise InputError("no-values", "A density needs at least 1 value; there is none.", where="x")
    _check_bounds(checked, lower, upper)
    values = np.sort(checked.values)  # for the quartiles, and in order the bins are filled faster
    low, high = float(values[0]), float(values[-1])
    if high / 2 - low / 2 > 1e300 or 0 < high / 2 - low / 2 < 1e-290:
        raise InputError(
            "range-extreme",
            f"The values span from {low:g} to {high:g}, too far to draw a density.",
            where="x",
            remedy="Set aside the extreme values, or choose a log scale.",
        )
    width, rule, cautions = _bandwidth(values, low, high, bandwidth)
    start = low - 3.5 * width if lower is None else max(lower, low - 3.5 * width)
    stop = high + 3.5 * width if upper is None else min(upper, high + 3.5 * width)
    grid = np.linspace(start, stop, points)
    if values.size <= DIRECT_SUM_UP_TO:
        nodes, masses = values, np.full(values.size, 1 / values.size)
        summed = _direct
    else:
        nodes, masses = _bin(values, low, width / shape.bins)
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
        checked.n,
        checked.n_missing,
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

    Parameters as in `estimate`. Raises: as `estimate`; InputError for more than 60 values.
    """
    curve = estimate(x, bandwidth=bandwidth, kernel=kernel, points=points, lower=lower, upper=upper)
    if curve.n > MOST_BUMPS:
        raise InputError("too-many-bumps", f"Bumps are drawn for up to {MOST_BUMPS} values; there are {curve.n}.")
    checked = as_values(x)
    order = np.argsort(checked.values, kind="stable")
    values, shape, width = checked.values[order][:, None], _KERNELS[kernel], curve.bandwidth
    centres = [values]
    if lower is not None and curve.x[0] == lower:
        centres.append(2 * lower - values)
    if upper is not None and curve.x[-1] == upper:
        centres.append(2 * upper - values)
    heights = sum(shape.height((curve.x[None, :] - centre) / width) for centre in centres) / (width * curve.n)
    return Bumps(curve.x, np.asarray(heights).ravel(), checked.positions[order], width, curve.n)


MOST_BUMPS = 60


def _check_bounds(checked: Checked, lower: float | None, upper: float | None) -> None:
    outside = np.zeros(checked.n, dtype=bool)
    if lower is not None:
        outside |= checked.values < lower
    if upper is not None:
        outside |= checked.values > upper
    if outside.any():
        raise InputError(
            "beyond-bound",
            f"{np.count_nonzero(outside)} of {checked.n} values lie beyond the declared bounds.",
            where="x",
            rows=checked.positions[outside][:100].tolist(),
            remedy="Correct them, set them aside, or change the bounds.",
        )


def _bandwidth(values: Floats, low: float, high: float, asked: float | str) -> tuple[float, str, tuple[str, ...]]:
    if not isinstance(asked, str):
        return within(asked, above=1e-290, below=1e300, where="bandwidth"), "by hand", ()
    choose(asked, BANDWIDTH_RULES, where="bandwidth")
    if low == high:
        raise InputError(
            "no-spread",
            "A density needs at least 2 different values; "
            + (f"there is one, {low:g}." if values.size == 1 else f"all {values.size} are {low:g}."),
            where="x",
            remedy="Give a bandwidth as a number to draw one bump.",
        )
    factor = values.size**-0.2
    if asked == "plug-in":
        width, rule = _plug_in(values, low, high)
    else:
        spread = _sd(values)
        if asked == "scott":
            width, rule = 1.06 * spread * factor, "scott"
        else:
            width, rule = 0.9 * _smaller_spread(values, spread) * factor, "silverman"
    step = _recording_step(values)
    if width < step / 2:
        caution = (
            f"The values stand in steps of {step:g}; the bandwidth was raised to half a step, "
            "so that the curve does not show the steps."
        )
        return step / 2, f"{rule}, raised to half a recording step", (caution,)
    return width, rule, ()


def _sd(ordered: Floats) -> float:
    """The SD, on a scale on which no square overflows or vanishes; in blocks, which stay in the processor's cache."""
    half = float(ordered[-1] / 2 - ordered[0] / 2)
    unit = 1.0 if 1e-140 < half < 1e140 else half
    centre = float(ordered[0] / 2 + ordered[-1] / 2)
    blocks = [(ordered[i : i + _BLOCK] - centre) / unit for i in range(0, ordered.size, _BLOCK)]
    mean = math.fsum(float(block.sum()) for block in blocks) / ordered.size
    squares = math.fsum(float(np.dot(block - mean, block - mean)) for block in blocks)
    return math.sqrt(squares / (ordered.size - 1)) * unit


def _smaller_spread(ordered: Floats, sd: float) -> float:
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7).tolist()
    return sd if q3 == q1 else min(sd, (q3 - q1) / 1.34)


def _recording_step(values: Floats) -> float:
    """The smallest gap between different values where at least half of them repeat another, else 0."""
    thinned = values[:: max(1, values.size // 4_000)]
    if np.unique(thinned).size > 0.5 * thinned.size:
        return 0.0
    distinct = np.unique(values)
    if distinct.size < 2 or distinct.size > 0.5 * values.size:
        return 0.0
    return float(f"{np.diff(distinct).min():.9g}")


def _plug_in(values: Floats, low: float, high: float) -> tuple[float, str]:
    """The improved Sheather-Jones fixed point on 2^14 bins of the range widened by a tenth at each end."""
    bins = 2**14
    margin = (high - low) / 10
    span = high - low + 2 * margin
    shares = np.histogram(values, bins=bins, range=(low - margin, high + margin))[0] / values.size
    squared = (fft.dct(shares)[1:] / 2) ** 2
    frequencies = np.arange(1, bins, dtype=np.float64) ** 2
    distinct = np.unique(values).size

    def norm(order: int, time: float) -> float:
        terms = frequencies**order * squared * np.exp(-frequencies * np.pi**2 * time)
        return 2 * math.pi ** (2 * order) * float(terms.sum())

    def gap(time: float) -> float:
        f = norm(7, time)
        for order in range(6, 1, -1):
            odd = math.prod(range(1, 2 * order, 2)) / math.sqrt(2 * math.pi)
            factor = (1 + 0.5 ** (order + 0.5)) / 3
            f = norm(order, (2 * factor * odd / (distinct * f)) ** (2 / (3 + 2 * order)))
        return float(time - (2 * distinct * math.sqrt(math.pi) * f) ** -0.4)

    try:
        with np.errstate(all="ignore"):
            time = float(optimize.brentq(gap, 1e-12, 0.1))
    except (ValueError, ZeroDivisionError, OverflowError):
        return 0.9 * _smaller_spread(values, _sd(values)) * values.size**-0.2, "plug-in found no solution, so silverman"
    return math.sqrt(time) * span, "plug-in"


def _direct(grid: Floats, nodes: Floats, masses: Floats, width: float, shape: _Shape) -> Floats:
    """(points,) sum over all nodes."""
    with np.errstate(over="ignore"):  # what lies so far away that its square overflows has no height
        heights = shape.height((grid[:, None] - nodes[None, :]) / width)
    return heights @ masses / width


def _bin(ordered: Floats, low: float, bin_width: float) -> tuple[Floats, Floats]:
    """Occupied nodes, ascending, and the share of the ascending values that linear binning gives to each."""
    part = ordered - low
    part /= bin_width
    node = part.astype(np.int64)
    part -= node
    starts = np.flatnonzero(np.concatenate(([True], node[1:] != node[:-1])))
    below = node[starts]
    to_above = np.add.reduceat(part, starts)
    occupied = np.unique(np.concatenate((below, below + 1)))
    mass = np.zeros(occupied.size)
    mass[np.searchsorted(occupied, below)] = np.diff(np.append(starts, ordered.size)) - to_above
    mass[np.searchsorted(occupied, below + 1)] += to_above
    return np.asarray(low + occupied * bin_width, dtype=np.float64), mass / ordered.size


def _windowed(grid: Floats, nodes: Floats, masses: Floats, width: float, shape: _Shape) -> Floats:
    """(points,) sum over the nodes within the kernel's reach of each grid point; all windows end to end."""
    first = np.searchsorted(nodes, grid - shape.reach * width, side="left")
    last = np.searchsorted(nodes, grid + shape.reach * width, side="right")
    lengths = last - first
    owner = np.repeat(np.arange(grid.size), lengths)
    within_window = np.arange(owner.size) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    node = first[owner] + within_window
    heights = shape.height((grid[owner] - nodes[node]) / width) * masses[node]
    return np.bincount(owner, weights=heights, minlength=grid.size) / width
