"""Which scales straighten a relation: every scale of x with every scale of y."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.relation.correlations import pairs
from heron.relation.fit import SCALES, Scale, forth
from heron.relation.simple import curvature, fanning, simple, unfit

_SURE = 0.01


@dataclass(frozen=True)
class Cell:
    """A pair of scales. r_squared of the line there, None with the reason in `why`; curvature_p, fanning_p of its
    residuals; bends: the squared term's share of what the line leaves; n_lost: pairs that cannot stand there."""

    x_scale: Scale
    y_scale: Scale
    r_squared: float | None
    curvature_p: float | None
    fanning_p: float | None
    bends: float | None
    n_pairs: int
    n_lost: int
    why: str


@dataclass(frozen=True)
class Board:
    """cells: y scale by y scale, x scales within. proposed: the place of the cell to try, None where no scale does
    better than the plain ones."""

    cells: tuple[Cell, ...]
    proposed: int | None
    n_pairs: int


def board(x: ArrayLike, y: ArrayLike) -> Board:
    """Return the line of every pair of scales, of x and y (n_rows,), NaN for missing.

    Notes: proposed is the cell that loses no pair and whose residuals bend least (the squared term's share of what the
    line leaves), fanning told apart where two bend alike. R squared is of y on its scale, so cells are not ranked by it
    across scales of y.
    """
    a, b, known = pairs(x, y)
    on_x = {scale: forth(scale, a) for scale in SCALES}
    cells = []
    for y_scale in SCALES:
        v = forth(y_scale, b)
        cells += [_cell(x_scale, y_scale, u, v) for x_scale, u in on_x.items()]
    return Board(tuple(cells), _proposed(cells), known.size)


def _cell(x_scale: Scale, y_scale: Scale, u: np.ndarray, v: np.ndarray) -> Cell:
    stands = np.isfinite(u) & np.isfinite(v)
    lost = int(u.size - np.count_nonzero(stands))
    if lost:
        u, v = u[stands], v[stands]
    why = unfit(u, v, 4) or ("" if v.min() < v.max() else "All pairs have the same y.")
    if why:
        return Cell(x_scale, y_scale, None, None, None, None, u.size, lost, why)
    line = simple(u, v)
    bend = curvature(line, u)
    share = None
    if bend is not None:
        off = u - line.mean_u
        square = off * off
        square -= square.mean()
        square -= off * (float(off @ square) / line.spread_u)
        size = float(square @ square)
        share = float(square @ line.residuals) ** 2 / size / line.rss if size > 0 and line.rss > 0 else None
    return Cell(x_scale, y_scale, line.r_squared, bend, fanning(line, u), share, u.size, lost, "")


def _proposed(cells: list[Cell]) -> int | None:
    least = min((cell.n_lost for cell in cells if cell.bends is not None), default=0)
    whole = [(i, cell) for i, cell in enumerate(cells) if cell.bends is not None and cell.n_lost == least]
    if not whole:
        return None
    straight = [(i, cell) for i, cell in whole if (cell.curvature_p or 0) >= _SURE]
    even = [(i, cell) for i, cell in straight if (cell.fanning_p or 0) >= _SURE]
    pool = even or straight or whole
    plain = next((i for i, cell in pool if cell.x_scale == cell.y_scale == "as-is"), None)
    if plain is not None and even:
        return None
    if straight:
        return max(pool, key=lambda each: (each[1].fanning_p or 0, each[1].curvature_p or 0))[0]
    return min(pool, key=lambda each: each[1].bends or 0)[0]
