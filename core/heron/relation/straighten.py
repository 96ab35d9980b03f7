"""Which scales straighten a relation: every scale of x with every scale of y, compared by likelihood."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import get_args

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats
from heron.least_squares import Simple, curvature, ends, fanning, simple, unfit_within
from heron.relation.correlations import pairs
from heron.relation.fit import Scale, forth

_SURE = 0.01  # the p value, and the share of what the line leaves, from which a line bends or fans
_TIE = 2.0  # units of log-likelihood within which two pairs of scales serve alike
_MOST_LOST = 0.05  # share of the pairs that a pair of scales may lose and be proposed


@dataclass(frozen=True)
class Cell:
    """A pair of scales. r_squared of the line there, None with the reason in `why`. curvature_p, fanning_p of its
    residuals; bend_share: the squared term's share of the residual sum of squares; fan_share: the share of the spread
    of the squared residuals that goes with x; bends, fans: whether p is below 0.01 and the share above 1 %. gain: by
    how much the log-likelihood of y in its own units is above that of the untransformed scales; None where the cell is
    no candidate. n_lost: pairs that cannot stand there."""

    x_scale: Scale
    y_scale: Scale
    r_squared: float | None
    curvature_p: float | None
    fanning_p: float | None
    bend_share: float | None
    fan_share: float | None
    bends: bool
    fans: bool
    gain: float | None
    n_pairs: int
    n_lost: int
    why: str


@dataclass(frozen=True)
class Board:
    """cells: y scale by y scale, x scales within. proposed: the place of the cell to try, None where the untransformed
    scales serve or none can be compared. n_compared: pairs over which likelihoods were compared."""

    cells: tuple[Cell, ...]
    proposed: int | None
    n_pairs: int
    n_compared: int


def board(x: ArrayLike, y: ArrayLike) -> Board:
    """Return the line of every pair of scales, of x and y (n_rows,), NaN for missing, and which pair is likeliest.

    Notes: on each pair of scales the normal log-likelihood of y in its own units is that of the line on the scale of y,
    with the variance rss/n, plus the sum of the logs of the scale's derivative; so a scale on which nothing is
    explained is not likely, however straight. Candidates lose at most 5 % of the pairs, and are compared over the pairs
    that all of them can use (0 cannot be used on roots of y, whose derivative is infinite there). Proposed is the
    likeliest; among those within 2 units of it one that neither bends nor fans, then the plainer. The untransformed
    scales serve where they are within 2 units and neither bend nor fan. R squared is of y on its scale, so cells are
    not ranked by it across scales of y.
    References: box-cox-1964.
    """
    a, b, _ = pairs(x, y)
    on_x = {scale: forth(scale, a) for scale in get_args(Scale)}
    on_y = {scale: forth(scale, b) for scale in get_args(Scale)}
    cells = [_cell(x_scale, y_scale, u, v) for y_scale, v in on_y.items() for x_scale, u in on_x.items()]
    usable_x = {scale: np.isfinite(u) for scale, u in on_x.items()}
    usable_y = {scale: np.isfinite(v) & ((b > 0) | (scale != "square-root")) for scale, v in on_y.items()}
    usable = [usable_x[cell.x_scale] & usable_y[cell.y_scale] for cell in cells]
    stands = candidates(cells, [int(np.count_nonzero(rows)) for rows in usable])
    common = np.logical_and.reduce([rows for rows, is_one in zip(usable, stands, strict=True) if is_one] or [a == a])
    likely = [
        _likelihood(on_x[cell.x_scale][common], on_y[cell.y_scale][common], cell.y_scale, b[common]) if is_one else None
        for cell, is_one in zip(cells, stands, strict=True)
    ]
    return board_of(cells, likely, int(np.count_nonzero(common)))


def candidates(cells: Sequence[Cell], n_usable: Sequence[int]) -> list[bool]:
    """Which cells are compared by likelihood. n_usable: of each, the pairs that it can use for that."""
    least = (1 - _MOST_LOST) * (cells[0].n_pairs + cells[0].n_lost)
    return [cell.r_squared is not None and n >= least for cell, n in zip(cells, n_usable, strict=True)]


def board_of(cells: Sequence[Cell], likely: Sequence[float | None], n_compared: int) -> Board:
    """The board of cells, y scale by y scale, x scales within, and their log-likelihoods, None of no candidate."""
    n_pairs, plain = cells[0].n_pairs + cells[0].n_lost, likely[0]
    if plain is None:
        return Board(tuple(cells), None, n_pairs, 0)
    cells = [
        replace(cell, gain=None if value is None else value - plain) for cell, value in zip(cells, likely, strict=True)
    ]
    return Board(tuple(cells), _proposed(cells), n_pairs, n_compared)


@dataclass(frozen=True)
class LineTold:
    """What is told of a line on two scales: the fields of a cell by these names."""

    r_squared: float | None
    curvature_p: float | None = None
    fanning_p: float | None = None
    bend_share: float | None = None
    fan_share: float | None = None


def cell_of(scales: tuple[Scale, Scale], n: int, n_lost: int, told: LineTold | None, why: str) -> Cell:
    """The cell of two scales. told: None where no line can be put there, with the reason."""
    if told is None:
        return Cell(*scales, None, None, None, None, None, False, False, None, n, n_lost, why)
    bend, fan = told.curvature_p, told.fanning_p
    bends = bend is not None and bend < _SURE and (told.bend_share or 0) >= _SURE
    fans = fan is not None and fan < _SURE and (told.fan_share or 0) >= _SURE
    return Cell(
        *scales, told.r_squared, bend, fan, told.bend_share, told.fan_share, bends, fans, None, n, n_lost, ""
    )  # fmt: skip


def unlined(n: int, u: tuple[float, float], v: tuple[float, float]) -> str:
    """Why no line is put through n pairs, "" where one is. u, v: their ends on both scales."""
    return unfit_within(n, u, v, 4) or ("" if v[0] < v[1] else "All pairs have the same y.")


def _cell(x_scale: Scale, y_scale: Scale, u: Floats, v: Floats) -> Cell:
    stands = np.isfinite(u) & np.isfinite(v)
    lost = int(u.size - np.count_nonzero(stands))
    if lost:
        u, v = u[stands], v[stands]
    scales = x_scale, y_scale
    why = unlined(u.size, ends(u), ends(v))
    if why:
        return cell_of(scales, u.size, lost, None, why)
    line = simple(u, v)
    if line.rss <= rounding(u.size, ends(v)):
        return cell_of(scales, u.size, lost, LineTold(line.r_squared), "")
    told = LineTold(line.r_squared, curvature(line, u), fanning(line, u), _bend_share(line, u), _fan_share(line, u))
    return cell_of(scales, u.size, lost, told, "")


def rounding(n: int, v: tuple[float, float]) -> float:
    """The sum of squares below which n residuals are nothing but rounding. v: the ends of what is fitted."""
    return n * (1e-14 * max(abs(v[0]), abs(v[1]))) ** 2


def _bend_share(line: Simple, u: Floats) -> float | None:
    off = (u - line.mean_u) / math.sqrt(line.spread_u / line.n)
    square = off * off
    square -= square.mean()
    square -= off * (float(off @ square) / line.n)
    size = float(square @ square)
    if size < 1e-10 * line.n or line.rss == 0:
        return None
    return float(square @ line.residuals) ** 2 / size / line.rss


def _fan_share(line: Simple, u: Floats) -> float | None:
    most = float(np.abs(line.residuals).max())
    if most == 0:
        return None
    squares = (line.residuals / most) ** 2
    squares -= squares.mean()
    total = float(squares @ squares)
    return float((u - line.mean_u) @ squares) ** 2 / line.spread_u / total if total > 0 else None


def _likelihood(u: Floats, v: Floats, y_scale: Scale, y: Floats) -> float | None:
    """The log-likelihood of y (n,) in its own units, for the line of v on u; None where no line can be put there."""
    if unlined(u.size, ends(u), ends(v)):
        return None
    return likelihood(u.size, simple(u, v).rss, ends(v), y_scale, lambda: float(np.log(np.abs(y)).sum()))


def likelihood(n: int, rss: float, v: tuple[float, float], y_scale: Scale, logs: Callable[[], float]) -> float:
    """The log-likelihood of n values of y in their own units, for a line on a scale of y. v: the ends of y there;
    logs: the sum of the logs of the sizes of y."""
    rss = max(rss, rounding(n, v))  # so that no scale wins by it
    normal = -0.5 * n * (math.log(2 * math.pi) + math.log(rss / n) + 1)
    # The logs of the derivative of the scale.
    if y_scale == "square-root":
        return normal - n * math.log(2) - 0.5 * logs()
    if y_scale == "log10":
        return normal - n * math.log(math.log(10)) - logs()
    return normal - 2 * logs() if y_scale == "reciprocal" else normal


def _proposed(cells: Sequence[Cell]) -> int | None:
    gains = [-math.inf if cell.gain is None else cell.gain for cell in cells]
    near = [i for i, gain in enumerate(gains) if gain >= max(gains) - _TIE]
    calm = [i for i in near if not (cells[i].bends or cells[i].fans)]
    # Fewest scales that are transformed, then in the order of the board.
    best = min(calm or near, key=lambda i: ((cells[i].x_scale != "as-is") + (cells[i].y_scale != "as-is"), i))
    return None if best == 0 else best
