"""Pairs counted: in hexagons, in the pixels of a window, at equal places; and the rows inside an outline."""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints
from heron.errors import InputError

_MASK = 512  # cells on each side of the mask by which most rows are told inside or outside


@dataclass(frozen=True)
class Hexagons:
    """x, y: (k,) middles; counts: (k,) pairs within each; radius_x, radius_y: from the middle to a corner along x, and
    to a corner along y, of hexagons that stand on a corner."""

    x: Floats
    y: Floats
    counts: Ints
    radius_x: float
    radius_y: float
    n: int


def _known(x: ArrayLike, y: ArrayLike) -> tuple[Floats, Floats, Ints]:
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    whole = np.isfinite(a) & np.isfinite(b)
    if whole.all():
        return a, b, np.arange(a.size)
    rows = np.flatnonzero(whole)
    return a[rows], b[rows], rows


def hexagons(x: ArrayLike, y: ArrayLike, *, across: int = 40, aspect: float = 0.7) -> Hexagons:
    """Return how many pairs lie in each hexagon that is not empty.

    Parameters: x, y (n_rows,) floats, NaN for missing; across, hexagons along x; aspect, height over width of the
    picture, so that they come out regular.
    """
    if not 4 <= across <= 200:
        raise InputError("out-of-range", f"4 to 200 hexagons stand across; {across} are asked for.", where="across")
    a, b, _ = _known(x, y)
    if a.size == 0:
        raise InputError("no-spread", "Hexagons need two variables with spread.", where="x")
    grid = hexagon_grid((float(a.min()), float(a.max())), (float(b.min()), float(b.max())), across, aspect)
    return grid.hexagons(grid.counts(a, b))


@dataclass(frozen=True)
class HexagonGrid:
    """Hexagons over the range of two variables. low_x, low_y: of the range; width, rise: of a hexagon, and from one row
    of them to the next."""

    low_x: float
    low_y: float
    width: float
    rise: float
    columns: int

    def counts(self, a: Floats, b: Floats) -> Ints:
        """How many pairs lie in each hexagon, row by row, as far as there is any."""
        # In units of the width of a hexagon; those of every other row are shifted by half.
        u, v = (a - self.low_x) / self.width, (b - self.low_y) / self.rise
        first_i, first_j = np.rint(u), np.rint(v / 2)
        other_i, other_j = np.floor(u), np.floor(v / 2)
        # A step along v is sqrt(3)/2 of a width, so that squared distances weigh it by 3/4.
        near = (u - first_i) ** 2 + 0.75 * (v - 2 * first_j) ** 2
        far = (u - other_i - 0.5) ** 2 + 0.75 * (v - 2 * other_j - 1) ** 2
        odd = far < near
        hexagon = np.where(odd, other_i, first_i).astype(np.int64) + self.columns * (
            2 * np.where(odd, other_j, first_j) + odd
        ).astype(np.int64)
        return np.bincount(hexagon)

    def hexagons(self, counts: Ints) -> Hexagons:
        """Those that hold a pair."""
        filled = np.flatnonzero(counts)
        row, column = filled // self.columns, filled % self.columns
        return Hexagons(
            np.asarray(self.low_x + self.width * (column + 0.5 * (row % 2)), dtype=np.float64),
            np.asarray(self.low_y + self.rise * row, dtype=np.float64),
            counts[filled],
            self.width / 2,
            self.rise * 2 / 3,
            int(counts.sum()),
        )


def hexagon_grid(x_range: tuple[float, float], y_range: tuple[float, float], across: int, aspect: float) -> HexagonGrid:
    """The grid of so many hexagons along x over two ranges; aspect: height over width of the picture."""
    if x_range[0] == x_range[1] or y_range[0] == y_range[1]:
        raise InputError("no-spread", "Hexagons need two variables with spread.", where="x")
    width = (x_range[1] - x_range[0]) / across
    rise = (y_range[1] - y_range[0]) / (across * aspect * 2 / math.sqrt(3))
    if not (np.isfinite(width) and np.isfinite(rise) and width > 0 and rise > 0):
        raise InputError("too-large", "The values are too large for hexagons.", where="x")
    return HexagonGrid(x_range[0], y_range[0], width, rise, across + 3)


def window(
    x: ArrayLike, y: ArrayLike, *, x_from: float, x_to: float, y_from: float, y_to: float, columns: int, rows: int
) -> Ints:
    """Return how many pairs lie in each pixel of a window, (rows, columns), the lowest row first."""
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    with np.errstate(all="ignore"):
        # By halves, since the whole of a window may be too large for a number.
        i = (a / 2 - x_from / 2) / (x_to / 2 - x_from / 2) * columns
        j = (b / 2 - y_from / 2) / (y_to / 2 - y_from / 2) * rows
        inside = (a >= x_from) & (a <= x_to) & (b >= y_from) & (b <= y_to)
    i, j = i[inside].astype(np.int32), j[inside].astype(np.int32)
    np.minimum(i, columns - 1, out=i)
    np.minimum(j, rows - 1, out=j)
    return np.bincount(j * columns + i, minlength=rows * columns).reshape(rows, columns)


@dataclass(frozen=True)
class Stacks:
    """Pairs at equal places. x, y: (k,) the places; counts: (k,) pairs at each; rows: (k,) the first row of each."""

    x: Floats
    y: Floats
    counts: Ints
    rows: Ints


def stacks(x: ArrayLike, y: ArrayLike) -> Stacks:
    """Return the different places of pairs and how many lie at each."""
    a, b, rows = _known(x, y)
    first, i = np.unique(a, return_inverse=True)
    second, j = np.unique(b, return_inverse=True)
    places, at, counts = np.unique(i * second.size + j, return_index=True, return_counts=True)
    return Stacks(first[places // second.size], second[places % second.size], counts, rows[at])


def inside(x: ArrayLike, y: ArrayLike, outline_x: ArrayLike, outline_y: ArrayLike) -> Ints:
    """Return the positions of the pairs inside a closed outline, by the even-odd rule.

    Parameters: x, y (n_rows,) floats, NaN for missing; outline_x, outline_y (m,) its corners in order, m at least 3.
    Notes: a mask of the outline tells most rows; only those in a cell that an edge crosses are tried edge by edge.
    """
    px, py = np.asarray(outline_x, dtype=np.float64), np.asarray(outline_y, dtype=np.float64)
    if px.size < 3 or px.size != py.size:
        raise InputError("outline", "An outline has 3 corners or more.", where="outline")
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    box = (px.min(), px.max(), py.min(), py.max())
    with np.errstate(invalid="ignore"):
        near = np.flatnonzero((a >= box[0]) & (a <= box[1]) & (b >= box[2]) & (b <= box[3]))
    if near.size < 20_000 or box[0] == box[1] or box[2] == box[3]:
        return np.asarray(near[_even_odd(a[near], b[near], px, py)])
    mask = _mask(px, py, box)
    u, v = a[near], b[near]
    i = np.minimum(((u - box[0]) * (_MASK / (box[1] - box[0]))).astype(np.int32), _MASK - 1)
    j = np.minimum(((v - box[2]) * (_MASK / (box[3] - box[2]))).astype(np.int32), _MASK - 1)
    said = mask[j * _MASK + i]
    unsure = np.flatnonzero(said == 2)
    said[unsure] = _even_odd(u[unsure], v[unsure], px, py)
    return np.asarray(near[said == 1])


def _mask(px: Floats, py: Floats, box: tuple[float, float, float, float]) -> np.ndarray:
    """0 outside, 1 inside, 2 where an edge may cross: of each cell."""
    ex = (px - box[0]) * (_MASK / (box[1] - box[0]))
    ey = (py - box[2]) * (_MASK / (box[3] - box[2]))
    nx, ny = np.roll(ex, -1), np.roll(ey, -1)
    middles = np.arange(_MASK) + 0.5
    turns = np.zeros((_MASK, _MASK + 1), dtype=np.int32)
    touched: list[tuple[Floats, Floats]] = []
    for x0, y0, x1, y1 in zip(ex, ey, nx, ny, strict=True):
        along = np.linspace(0, 1, 2 * math.ceil(max(abs(x1 - x0), abs(y1 - y0))) + 2)
        touched.append((x0 + along * (x1 - x0), y0 + along * (y1 - y0)))
        low, high = np.searchsorted(middles, sorted((y0, y1)))
        if low < high:
            at = x0 + (middles[low:high] - y0) / (y1 - y0) * (x1 - x0)
            turns[np.arange(low, high), np.clip(np.ceil(at - 0.5).astype(np.int32), 0, _MASK)] += 1
    i, j = (np.concatenate(part).astype(np.int32) for part in zip(*touched, strict=True))
    mask = np.zeros((_MASK + 2, _MASK + 2), dtype=np.int8)
    for di in (0, 1, 2):
        for dj in (0, 1, 2):
            mask[np.minimum(j + dj, _MASK + 1), np.minimum(i + di, _MASK + 1)] = 2
    mask = mask[1:-1, 1:-1]
    filled = np.cumsum(turns, axis=1)[:, :_MASK] % 2
    return np.where(mask == 2, mask, filled.astype(np.int8)).ravel()


def _even_odd(x: Floats, y: Floats, px: Floats, py: Floats) -> np.ndarray:
    result = np.zeros(x.size, dtype=bool)
    for x0, y0, x1, y1 in zip(px, py, np.roll(px, -1), np.roll(py, -1), strict=True):
        if y0 == y1:
            continue
        crosses = (y0 > y) != (y1 > y)
        result ^= crosses & (x < x0 + (y - y0) / (y1 - y0) * (x1 - x0))
    return result
