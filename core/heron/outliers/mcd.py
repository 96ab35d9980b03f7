"""The minimum covariance determinant: the middle half of the rows that lies closest together."""

import numpy as np
from scipy import special

from heron.checks import Floats

STARTS = 500
_BEST = 10
_MOST_STEPS = 100
_AT_ONCE = 2_000_000  # distances that are held at a time


def mcd(x: Floats, *, seed: int, starts: int = STARTS) -> tuple[Floats, Floats]:
    """Return centre (p,) and covariance (p, p) of the h = (n + p + 1)/2 rows of x (n, p) whose covariance has the
    smallest determinant that was found, made consistent for normal data; singular where h rows lie on a plane.

    Inputs already checked: finite, of rank p. Each start is p + 1 rows, and more where these lie on a plane.
    References: rousseeuw-van-driessen-1999.
    """
    n, p = x.shape
    half = (n + p + 1) // 2
    rng = np.random.default_rng(seed)
    at_once = max(1, _AT_ONCE // n)
    found_size, found_centre, found_covariance = np.empty(starts), np.empty((starts, p)), np.empty((starts, p, p))
    for first in range(0, starts, at_once):
        part = slice(first, min(first + at_once, starts))
        centre, covariance = _started(x, part.stop - first, rng)
        for _ in range(2):
            centre, covariance = _concentrated(x, centre, covariance, half)
        found_centre[part], found_covariance[part] = centre, covariance
        found_size[part] = _log_size(covariance)
    best = np.argsort(found_size, kind="stable")[:_BEST]
    centre, covariance, size = found_centre[best], found_covariance[best], found_size[best]
    for _ in range(_MOST_STEPS):
        if not np.isfinite(size).all():  # h rows on a plane: nothing is smaller
            break
        centre, covariance = _concentrated(x, centre, covariance, half)
        smaller = _log_size(covariance)
        if np.allclose(smaller, size, rtol=0, atol=1e-12):
            break
        size = smaller
    least = int(np.argmin(_log_size(covariance)))
    return centre[least], covariance[least] * consistency(half / n, p)


def consistency(share: float, p: int) -> float:
    """The factor that makes the covariance of the central share of normal data that of all of them."""
    if share >= 1:
        return 1.0
    inside = float(special.chdtr(p + 2, special.chdtri(p, 1 - share)))
    return share / inside


def _started(x: Floats, count: int, rng: np.random.Generator) -> tuple[Floats, Floats]:
    """Centres (count, p) and covariances (count, p, p) of a few rows each, drawn at random."""
    n, p = x.shape
    order = rng.permuted(np.tile(np.arange(n), (count, 1)), axis=1)
    rows = p + 1
    centre, covariance = _moments(x[order[:, :rows]])
    flat = np.flatnonzero(~_regular(covariance))
    while flat.size and rows < n:
        rows = min(rows + p + 1, n)
        centre[flat], covariance[flat] = _moments(x[order[flat, :rows]])
        flat = flat[~_regular(covariance[flat])]
    return centre, covariance


def _concentrated(x: Floats, centre: Floats, covariance: Floats, half: int) -> tuple[Floats, Floats]:
    """Centre and covariance of the `half` rows that are closest by those given; a flat one stays as it is."""
    regular = np.flatnonzero(_regular(covariance))
    centre, covariance = centre.copy(), covariance.copy()
    if regular.size:
        inverse = np.linalg.inv(covariance[regular])
        off = x[None, :, :] - centre[regular][:, None, :]
        squared = np.einsum("snj,snj->sn", off @ inverse, off)
        closest = np.argpartition(squared, half - 1, axis=1)[:, :half]
        centre[regular], covariance[regular] = _moments(x[closest])
    return centre, covariance


def _moments(rows: Floats) -> tuple[Floats, Floats]:
    centre = rows.mean(axis=1)
    off = rows - centre[:, None, :]
    return centre, np.swapaxes(off, 1, 2) @ off / rows.shape[1]


def _regular(covariance: Floats) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    """Which covariances have an inverse that means something."""
    values = np.linalg.eigvalsh(covariance)
    return np.asarray(values[:, 0] > 1e-12 * np.maximum(values[:, -1], 1e-300))


def _log_size(covariance: Floats) -> Floats:
    """The log of each determinant, minus infinity for a flat one."""
    return np.where(_regular(covariance), np.linalg.slogdet(covariance)[1], -np.inf)
