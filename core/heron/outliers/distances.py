"""How far rows lie from the middle of several variables together, by estimates that far rows cannot move."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats, Ints, same_length, within
from heron.errors import InputError
from heron.formatting import fixed
from heron.outliers.mcd import consistency, mcd
from heron.results import Result

MOST_FITTED = 3_000
_EXACT_BELOW = 500  # rows below which the distances are referred to Hardin and Rocke's F
_SIMULATED_BELOW = 10  # rows for each variable below which that F is too small
_SAMPLES, _STARTS_OF_SAMPLES = 300, 100
_SHARE = 0.975
_SEED = 20_240


@dataclass(frozen=True)
class Distances(Result, columns=("robust", "classical")):
    """Distances in the variables' joint spread, not squared.

    robust: (n_rows,) by the minimum covariance determinant; classical: (n_rows,) by mean and covariance, for
    comparison; NaN where a variable is missing. cutoff: of the robust distance; flagged: (k,) row positions beyond it.
    centre (n_variables,), covariance (n_variables, n_variables) as fitted; reference: what the cut-off rests on;
    n_fitted: rows that the fit was made of, a seeded sample where there are more.
    """

    names: tuple[str, ...]
    robust: Floats
    classical: Floats
    cutoff: float
    flagged: Ints
    centre: Floats
    covariance: Floats
    reference: str
    n_fitted: int
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def robust_distances(
    columns: Mapping[str, ArrayLike],
    *,
    share: float = _SHARE,
    seed: int = _SEED,
    progress: Callable[[float], None] | None = None,
) -> Distances:
    """Return how far each row lies from the middle of several variables together.

    Parameters
    ----------
    columns : mapping of str to (n_rows,) array_like of float
        Two or more variables by name, NaN for missing; rows with a gap are left out.
    share : float, optional
        Of well-behaved rows that lie within the cut-off, between 0 and 1.
    seed : int, optional
        Of what is drawn at random.
    progress : callable, optional
        Told the share that is done, from 0 to 1; what it raises ends the work.

    Returns
    -------
    Distances
        Robust and classical distances, without unit; the cut-off, and the rows beyond it.

    Raises
    ------
    InputError
        For fewer than two variables, fewer than 5 complete rows for each, or variables of which one follows from the
        others.

    Notes
    -----
    Minimum covariance determinant over h = (n + p + 1)/2 rows, made consistent for normal data: 500 random starts with
    two concentration steps each, of which the ten best are carried on. From 500 rows on reweighted once by the rows
    within the cut-off, and the squared distance referred to chi-square(p); below, not reweighted and referred to F as
    the source says, or, below 10 rows for each variable, where that F does not hold, to the distances in 300 normal
    samples of the same size. Above 3,000 rows fitted on so many, drawn with the seed.

    References
    ----------
    rousseeuw-van-driessen-1999
    hardin-rocke-2005

    Examples
    --------
    A row that goes against what the others have in common:

    >>> import numpy as np
    >>> a = np.random.default_rng(1).normal(size=60)
    >>> b = a + np.random.default_rng(2).normal(size=60) / 10
    >>> a[7], b[7] = 1.0, -1.0
    >>> int(np.nanargmax(robust_distances({"a": a, "b": b}).robust))
    7
    """
    tell = progress or (lambda done: None)
    tell(0.05)
    within(share, above=0, below=1, where="share")
    names = tuple(columns)
    if len(names) < 2:
        raise InputError("too-few-variables", "Distances need two variables or more.", where="columns")
    data = [np.asarray(column, dtype=np.float64) for column in columns.values()]
    for name, values in zip(names, data, strict=True):
        same_length(data[0].size, values.size, where=name)
    x = np.column_stack(data)
    whole = np.flatnonzero(np.isfinite(x).all(axis=1))
    n = whole.size
    kept = x[whole]
    middle = middle_of(names, kept, share=share, seed=seed, tell=tell)
    tell(0.9)
    robust, classical = np.full(x.shape[0], np.nan), np.full(x.shape[0], np.nan)
    robust[whole] = middle.robust(kept)
    classical[whole] = middle.classical(kept, kept.mean(axis=0), np.cov(kept, rowvar=False))
    return Distances(
        names,
        robust,
        classical,
        middle.cutoff,
        np.flatnonzero(robust > middle.cutoff),
        np.array(middle.centre) * middle.scale + middle.origin,
        np.array(middle.covariance) * np.outer(middle.scale, middle.scale),
        middle.reference,
        middle.n_fitted,
        n,
        x.shape[0] - n,
    )


@dataclass(frozen=True)
class Middle:
    """What distances are measured from, in plain values. origin, scale: (p,) what variables are brought to; centre (p,)
    and covariance (p, p) by the minimum covariance determinant, there."""

    origin: tuple[float, ...]
    scale: tuple[float, ...]
    centre: tuple[float, ...]
    covariance: tuple[tuple[float, ...], ...]
    cutoff: float
    reference: str
    n_fitted: int

    def robust(self, x: Floats) -> Floats:
        """(n,) the distances of rows (n, p)."""
        return np.sqrt(_squared(self._brought(x), np.array(self.centre), np.array(self.covariance)))

    def classical(self, x: Floats, mean: Floats, covariance: Floats) -> Floats:
        """(n,) the distances of rows by a mean and a covariance in the units of the variables."""
        scale = np.array(self.scale)
        return np.sqrt(_squared(self._brought(x), (mean - self.origin) / scale, covariance / np.outer(scale, scale)))

    def _brought(self, x: Floats) -> Floats:
        return np.asarray((x - np.array(self.origin)) / np.array(self.scale))


def middle_of(
    names: Sequence[str],
    kept: Floats,
    *,
    share: float = _SHARE,
    seed: int = _SEED,
    tell: Callable[[float], None] = lambda done: None,
) -> Middle:
    """What the distances of complete rows (n, p) are measured from, and which of them are far.

    Raises: InputError as `robust_distances`.
    """
    n, p = kept.shape
    if n < 5 * p:
        raise InputError(
            "too-few-rows",
            f"{p} variables together need {5 * p} complete rows; there are {n}.",
            where="columns",
            remedy="Take fewer variables.",
        )
    origin = np.median(kept, axis=0)
    scale = np.median(np.abs(kept - origin), axis=0)
    scale = np.where(scale > 0, scale, np.std(kept, axis=0))
    flat = [name for name, size in zip(names, scale, strict=True) if not size > 0]
    if flat:
        raise InputError("no-spread", f"{', '.join(flat)} has no spread.", where="columns")
    z = (kept - origin) / scale
    if np.linalg.matrix_rank(z - z.mean(axis=0)) < p:
        raise InputError(
            "collinear",
            "One of the variables follows from the others.",
            where="columns",
            remedy="Take it out of the variables.",
        )
    fitted = z
    if n > MOST_FITTED:
        fitted = z[np.random.default_rng(seed).choice(n, MOST_FITTED, replace=False)]
    tell(0.2)
    centre, covariance = mcd(fitted, seed=seed)
    tell(0.7)
    if np.linalg.matrix_rank(covariance) < p:
        raise InputError(
            "half-alike",
            "More than half the rows lie on a line or plane, so that there is no distance from it.",
            where="columns",
            remedy="Leave out a variable with many equal values.",
        )
    rows = fitted.shape[0]
    if rows < _SIMULATED_BELOW * p:
        cutoff, reference = simulated_cutoff(rows, p, share), f"{_SAMPLES} normal samples of {rows} rows"
    elif rows < _EXACT_BELOW:
        m = _freedom(rows, p, (rows + p + 1) // 2)
        cutoff = math.sqrt(p * m / (m - p + 1) * float(stats.f.ppf(share, p, m - p + 1)))
        reference = f"F({p}, {fixed(m - p + 1, 1)})"
    else:
        limit = float(special.chdtri(p, 1 - share))
        inside = fitted[_squared(fitted, centre, covariance) <= limit]
        centre = inside.mean(axis=0)
        covariance = np.cov(inside, rowvar=False) * consistency(share, p)
        cutoff, reference = math.sqrt(limit), f"chi-square({p})"
    plain = tuple(map(tuple, covariance.tolist()))
    return Middle(tuple(origin.tolist()), tuple(scale.tolist()), tuple(centre.tolist()), plain, cutoff, reference, rows)


def _squared(z: Floats, centre: Floats, covariance: Floats) -> Floats:
    half = np.linalg.solve(np.linalg.cholesky(covariance), (z - centre).T)
    return np.asarray(np.einsum("ij,ij->j", half, half))


@lru_cache(maxsize=64)
def simulated_cutoff(n: int, p: int, share: float) -> float:
    """The distance within which that share of the rows of normal samples (n, p) lies, each by its own estimates."""
    rng = np.random.default_rng(19_990)
    result = np.empty((_SAMPLES, n))
    for i in range(_SAMPLES):
        sample = rng.normal(size=(n, p))
        result[i] = _squared(sample, *mcd(sample, seed=i, starts=_STARTS_OF_SAMPLES))
    return math.sqrt(float(np.quantile(result, share)))


def _freedom(n: int, p: int, half: int) -> float:
    """Hardin and Rocke's degrees of freedom: the asymptotic ones of the covariance, adjusted for n."""
    alpha = (n - half) / n
    q = float(special.chdtri(p, alpha))
    c = 1 / float(special.chdtr(p + 2, q)) * (1 - alpha)
    c2 = -float(special.chdtr(p + 2, q)) / 2
    c3 = -float(special.chdtr(p + 4, q)) / 2
    c4 = 3 * c3
    b1 = c * (c3 - c4) / (1 - alpha)
    b2 = 0.5 + c / (1 - alpha) * (c3 - q / p * (c2 + (1 - alpha) / 2))
    v1 = (1 - alpha) * b1**2 * (alpha * (c * q / p - 1) ** 2 - 1) - 2 * c3 * c**2 * (
        3 * (b1 - p * b2) ** 2 + (p + 2) * b2 * (2 * b1 - p * b2)
    )
    v2 = n * (b1 * (b1 - p * b2) * (1 - alpha)) ** 2 * c**2
    asymptotic = 2 / (c**2 * v1 / v2)
    return float(asymptotic * math.exp(0.725 - 0.00663 * p - 0.0780 * math.log(n)))
