"""Least squares, and how much each row has to say in it."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, fields
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import special

from heron.checks import Floats, Ints, within
from heron.influence.design import Design, Terms, design_of
from heron.results import Result

_LONE = 1e-12  # 1 - leverage below which a row is fitted whatever its value
_BLOCK = 16_384  # rows
_NOTHING_LEFT = 1e-14  # share of the residual variance below which none is left without a row


@dataclass(frozen=True)
class Cutoffs:
    """Where a measure asks for a second look. leverage, high_leverage: 2p/n and 3p/n; external: 2, and
    external_all, the Bonferroni limit over all rows; cooks: 4/n, and cooks_large, 1; dffits: 2 sqrt(p/n); dfbetas:
    2/sqrt(n); covratio: 3p/n, of its distance from 1."""

    leverage: float
    high_leverage: float
    external: float
    external_all: float | None
    cooks: float
    cooks_large: float
    dffits: float
    dfbetas: float
    covratio: float


@dataclass(frozen=True)
class LinearFit(Result):
    """A least-squares fit without its rows. In the order intercept, then predictors: names, coefficients, se, low, high
    (t limits at `level`), t, p_values; robust_se, robust_low, robust_high and robust_p, which hold where spreads differ
    (HC3), NaN where a row of leverage 1 leaves none; partial_r: the correlation with the response given the other
    predictors, NaN for the intercept. inflation: of each predictor, how many times the variance of its coefficients is
    what it would be without the others (of a category, for each of its levels). sigma: residual SD. curvature_p: of an
    added squared fitted value; fanning_p: Breusch and Pagan's test in Koenker's form.
    """

    names: tuple[str, ...]
    coefficients: Floats
    se: Floats
    low: Floats
    high: Floats
    t: Floats
    p_values: Floats
    robust_se: Floats
    robust_low: Floats
    robust_high: Floats
    robust_p: Floats
    partial_r: Floats
    inflation: dict[str, float]
    sigma: float
    r_squared: float | None
    adjusted_r_squared: float | None
    curvature_p: float | None
    fanning_p: float | None
    cutoffs: Cutoffs
    baselines: dict[str, str]
    without_rows: dict[str, tuple[str, ...]]
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class RowMeasures:
    """What each row does to a fit, (n_rows,), NaN where the row was not used or the measure is undefined: fitted,
    residuals, leverage, internal and external (studentized residuals), cooks, dffits, covratio, and dfbetas
    (n_rows, p)."""

    fitted: Floats
    residuals: Floats
    leverage: Floats
    internal: Floats
    external: Floats
    cooks: Floats
    dffits: Floats
    dfbetas: Floats
    covratio: Floats

    def at(self, rows: Ints) -> "RowMeasures":
        """Those of some rows, by position."""
        return RowMeasures(*(getattr(self, each.name)[rows] for each in fields(RowMeasures)))

    def beyond(self, cut: Cutoffs) -> dict[str, NDArray[np.bool_]]:
        """Which rows pass the cut-off of each measure."""
        with np.errstate(invalid="ignore"):
            return {
                "leverage": self.leverage > cut.high_leverage,
                "external": np.abs(self.external) > (cut.external_all or np.inf),
                "cooks": self.cooks > cut.cooks,
                "dffits": np.abs(self.dffits) > cut.dffits,
                "covratio": np.abs(self.covratio - 1) > cut.covratio,
                "dfbetas": np.asarray((np.abs(self.dfbetas) > cut.dfbetas).any(axis=1)),
            }


@dataclass(frozen=True)
class Diagnosis(
    LinearFit,
    RowMeasures,
    columns=("fitted", "residuals", "leverage", "internal", "external", "cooks", "dffits", "covratio"),
):
    """A least-squares fit, and what each row does to it: the fields of LinearFit and those of RowMeasures."""


def diagnose_fit(
    y: ArrayLike,
    predictors: Mapping[str, Any],
    *,
    interactions: Sequence[tuple[str, str]] = (),
    level: float = 0.95,
) -> Diagnosis:
    """Return the least-squares fit of y on its predictors, and what each row does to it.

    Parameters
    ----------
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    predictors : mapping of str to (n_rows,) array_like
        By name: floats, or labels for a category, compared with its first level.
    interactions : sequence of (str, str), optional
        Pairs of names whose product is a predictor too.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Diagnosis
        Coefficients with limits; of each row fitted value, residual, leverage, studentized residuals, Cook's distance,
        DFFITS, DFBETAS and COVRATIO, with their cut-offs.

    Raises
    ------
    InputError
        For too few rows, or predictors that follow from each other.

    Notes
    -----
    QR of centred columns, never normal equations. p counts the intercept. With leverage h, residual e, s the residual
    SD and s(i) that without the row: internal e/(s sqrt(1 - h)), external e/(s(i) sqrt(1 - h)), Cook's D = internal^2
    h/((1 - h) p), DFFITS = external sqrt(h/(1 - h)), COVRATIO = (s(i)/s)^(2p)/(1 - h). A row of leverage 1 is fitted
    exactly whatever its value, and its measures are undefined. Robust standard errors are HC3: each row has e^2/(1 -
    h)^2 in place of s^2. Inflation is det(C1) det(C2)/det(C) of the correlations within a predictor's columns, within
    the others', and of all, to the power of one over its columns: for a number 1/(1 - R^2) of it on the others.

    References
    ----------
    cook-1977
    belsley-1980
    koenker-1981
    mackinnon-white-1985, and long-ervin-2000 for HC3
    fox-monette-1992, for the inflation of categories

    Examples
    --------
    In the fourth of Anscombe's (1973) sets one row alone decides the slope:

    >>> x = [8, 8, 8, 8, 8, 8, 8, 19, 8, 8, 8]
    >>> y = [6.58, 5.76, 7.71, 8.84, 8.47, 7.04, 5.25, 12.50, 5.56, 7.91, 6.89]
    >>> round(float(diagnose_fit(y, {"x": x}).leverage[7]), 9)
    1.0
    """
    return measured(design_of(y, predictors, interactions=interactions), level=level)


def measured(made: Design, *, level: float = 0.95) -> Diagnosis:
    """Return the same of a design that is there already."""
    within(level, above=0, below=1, where="level")
    base, residuals = base_of(made)
    rows, sums = measured_rows(base, made.q, residuals)
    rows = RowMeasures(made.y - residuals, *(getattr(rows, each.name) for each in fields(RowMeasures)[1:]))
    fit = fit_of(base, sums, made.length - made.n, level)
    told: dict[str, Any] = {each.name: _over(made, getattr(rows, each.name)) for each in fields(RowMeasures)}
    told |= {each.name: getattr(fit, each.name) for each in fields(LinearFit)}
    return Diagnosis(**told)


@dataclass(frozen=True)
class Base:
    """What a fit comes from: n complete rows, and of their centred columns the triangle r and means; b: (k,) products
    of the orthonormal columns with the response; mean: of the response, rss and tss: sums of squares of residuals and
    about the mean, squares: about 0."""

    terms: Terms
    n: int
    r: Floats
    means: Floats
    b: Floats
    mean: float
    rss: float
    tss: float
    squares: float

    @property
    def p(self) -> int:
        return len(self.r) + 1

    @property
    def df(self) -> int:
        return self.n - self.p

    @property
    def is_exact(self) -> bool:
        return self.rss <= 1e-26 * max(self.tss, self.squares)

    @property
    def sigma(self) -> float:
        return 0.0 if self.is_exact else math.sqrt(self.rss / self.df)

    @cached_property
    def r_inverse(self) -> Floats:
        return np.asarray(np.linalg.solve(self.r, np.eye(self.p - 1)))

    @cached_property
    def unscaled(self) -> Floats:
        """(p,) variances of the coefficients, in those of a residual."""
        toward = self.r_inverse.T @ self.means
        return np.concatenate((
            [1 / self.n + float(np.dot(toward, toward))], np.einsum("ij,ij->i", self.r_inverse, self.r_inverse)
        ))  # fmt: skip

    @cached_property
    def coefficients(self) -> Floats:
        slopes = np.linalg.solve(self.r, self.b) if self.p > 1 else np.empty(0)
        return np.concatenate(([self.mean - float(np.dot(self.means, slopes))], slopes))

    def orthonormal(self, x: Floats) -> Floats:
        """(n, k) the orthonormal columns of rows, from their columns (k, n)."""
        return np.asarray((self.r_inverse.T @ (x - self.means[:, None])).T)


def base_of(made: Design) -> tuple[Base, Floats]:
    """What the fit of a design comes from, and its residuals."""
    top = float(np.abs(made.y).max()) or 1.0
    mean = float((made.y / top).mean() * top)
    y = made.y - mean
    b = made.q.T @ y
    # One more pass takes out what rounding left of the columns in the residuals.
    residuals = y - made.q @ b
    extra = made.q.T @ residuals
    residuals = residuals - made.q @ extra
    base = Base(
        made.terms, made.n, made.r, made.means, b + extra, mean, float(np.dot(residuals, residuals)),
        float(np.dot(y, y)), float(np.dot(made.y, made.y)),
    )  # fmt: skip
    return base, residuals


@dataclass(frozen=True)
class RowSums:
    """Sums over rows. robust: (p,) the squared moves of coefficients by e/(1 - h); with f the fitted value in its
    spread about the mean, z = f^2 - 1, s = e^2 in its variance, and q the orthonormal columns: z, z2, zq (k,), ze; s,
    s2, sq (k,). lone: how many rows have leverage 1."""

    robust: Floats
    z: float
    z2: float
    zq: Floats
    ze: float
    s: float
    s2: float
    sq: Floats
    lone: int

    @staticmethod
    def joined(sums: Sequence["RowSums"]) -> "RowSums":
        return RowSums(*(sum(getattr(each, name.name) for each in sums) for name in fields(RowSums)))


def measured_rows(base: Base, q: Floats, residuals: Floats) -> tuple[RowMeasures, RowSums]:
    """Every measure of rows, from their orthonormal columns (n, k) and residuals, and the sums that the fit needs of
    them."""
    n, p, df, sigma = base.n, base.p, base.df, base.sigma
    h = 1 / n + np.einsum("ji,ji->i", q.T, q.T)
    lone = int(np.count_nonzero(h > 1 - _LONE))
    # What a residual of 1 adds to each coefficient, in its standard errors.
    by_column = np.vstack((-base.means @ base.r_inverse, base.r_inverse)) / np.sqrt(base.unscaled)[:, None]
    shift = 1 / (n * math.sqrt(base.unscaled[0]))
    robust = np.zeros(p)
    internal, external, cooks, dffits, covratio = np.empty((5, h.size))
    moves = np.empty((p, h.size))
    with np.errstate(all="ignore"):
        # In blocks that fit the processor's cache: what is worked row by row waits for memory else.
        for start in range(0, h.size, _BLOCK):
            block = slice(start, start + _BLOCK)
            hi = h[block]
            left = 1 - hi
            if lone:
                left[left < _LONE] = np.nan
            inverse = 1 / left
            root = np.sqrt(inverse)
            inner = np.multiply(residuals[block], root, out=internal[block])
            inner /= sigma or np.nan
            squares = inner * inner
            # s(i)^2/s^2, which is all that the other measures need.
            ratio = (df - squares) / (df - 1 if df > 1 else np.nan)
            if not float(ratio.min()) >= _NOTHING_LEFT:
                ratio[ratio < _NOTHING_LEFT] = np.nan
            outer = np.divide(inner, np.sqrt(ratio), out=external[block])
            reached = hi * inverse
            np.multiply(squares, reached, out=squares)
            np.divide(squares, p, out=cooks[block])
            np.multiply(outer, np.sqrt(reached), out=dffits[block])
            np.multiply(inverse, _whole_power(ratio, p), out=covratio[block])
            part = by_column @ q.T[:, block]
            part[0] += shift
            np.multiply(part, outer * root, out=moves[:, block])
            robust += np.square(part) @ np.square(residuals[block] * inverse)
        off = q @ base.b
        z = off / (math.sqrt(float(np.dot(base.b, base.b)) / n) or 1.0)
        z *= z
        z -= 1
        s = residuals / (sigma or 1.0)
        s *= s
    measures = RowMeasures(base.mean + off, residuals, h, internal, external, cooks, dffits, moves.T, covratio)
    sums = RowSums(
        robust, float(z.sum()), float(np.dot(z, z)), q.T @ z, float(np.dot(z, residuals)), float(s.sum()),
        float(np.dot(s, s)), q.T @ s, lone,
    )  # fmt: skip
    return measures, sums


def fit_of(base: Base, sums: RowSums, n_missing: int, level: float) -> LinearFit:
    """The fit, from what it comes from and the sums over its rows."""
    n, p, df, sigma = base.n, base.p, base.df, base.sigma
    undefined: dict[str, str] = {}
    if base.is_exact:
        undefined["external"] = "The fit is perfect: no residual is left to measure rows by."
    if sums.lone:
        undefined["leverage"] = "Some rows have leverage 1: the fit goes through them whatever their value."
    if base.tss == 0:
        undefined["r_squared"] = "The response has no spread."
    coefficients, se = base.coefficients, sigma * np.sqrt(base.unscaled)
    quantile = float(special.stdtrit(df, 0.5 + level / 2))
    with np.errstate(all="ignore"):
        t = np.where(se > 0, coefficients / se, np.nan)
        robust_se = np.sqrt(sums.robust * base.unscaled)
        robust_p = 2 * special.stdtr(df, -np.abs(np.where(robust_se > 0, coefficients / robust_se, np.nan)))
        partial_r = np.where(np.isfinite(t), t / np.sqrt(t * t + df), np.nan)
    partial_r[0] = np.nan
    share = None if base.tss == 0 else 1 - (0.0 if base.is_exact else base.rss) / base.tss
    return LinearFit(
        base.terms.names,
        coefficients,
        se,
        coefficients - quantile * se,
        coefficients + quantile * se,
        t,
        2 * special.stdtr(df, -np.abs(t)),
        robust_se,
        coefficients - quantile * robust_se,
        coefficients + quantile * robust_se,
        robust_p,
        partial_r,
        _inflation(base),
        sigma,
        share,
        None if share is None else 1 - (1 - share) * (n - 1) / df,
        None if base.is_exact else _curvature(base, sums),
        None if base.is_exact else _fanning(base, sums),
        cutoffs_of(n, p),
        base.terms.baselines,
        base.terms.without_rows,
        level,
        n,
        n_missing,
        undefined,
    )


def _inflation(base: Base) -> dict[str, float]:
    """Of each predictor, how many times its variance is what it would be without the others."""
    scaled = base.r / np.abs(base.r).max(axis=0, initial=0)  # so that no square vanishes
    sizes = np.sqrt(np.einsum("ij,ij->j", scaled, scaled))
    scaled = scaled / sizes
    together = scaled.T @ scaled
    whole = float(np.linalg.slogdet(scaled)[1]) * 2
    result, start = {}, 0
    for name, width in base.terms.widths.items():
        columns = np.arange(start, start + width)
        rest = np.setdiff1d(np.arange(sizes.size), columns)
        parts = (float(np.linalg.slogdet(together[np.ix_(part, part)])[1]) for part in (columns, rest))
        result[name] = math.exp(min((sum(parts) - whole) / max(width, 1), 700.0))
        start += width
    return result


def _whole_power(x: Floats, power: int) -> Floats:
    """x to a whole power by multiplication, which is many times faster than the general one."""
    result, square = None, x
    while True:
        if power & 1:
            result = square if result is None else result * square
        power >>= 1
        if result is not None and not power:
            return result
        square = square * square


def _over(made: Design, values: Floats) -> Floats:
    """Values of the rows used, laid over all rows."""
    if made.n == made.length:
        return values
    whole = np.full((made.length, *values.shape[1:]), np.nan)
    whole[made.rows] = values
    return whole


def cutoffs_of(n: int, p: int) -> Cutoffs:
    """The cut-offs of n rows and p coefficients."""
    limit = float(special.stdtrit(n - p - 1, 1 - 0.05 / (2 * n))) if n > p + 1 else None
    return Cutoffs(2 * p / n, 3 * p / n, 2, limit, 4 / n, 1, 2 * math.sqrt(p / n), 2 / math.sqrt(n), 3 * p / n)


def _curvature(base: Base, sums: RowSums) -> float | None:
    """The p value of a squared fitted value added to the columns."""
    df = base.df - 1
    size = sums.z2 - sums.z**2 / base.n - float(np.dot(sums.zq, sums.zq))
    if df < 1 or not base.b.any() or size < 1e-10 * base.n:
        return None
    part = sums.ze**2 / size
    return float(special.fdtrc(1, df, part / ((base.rss - part) / df))) if base.rss > part else 0.0


def _fanning(base: Base, sums: RowSums) -> float | None:
    """The p value of n R squared of the squared residuals on the columns."""
    total = sums.s2 - sums.s**2 / base.n
    if base.p < 2 or total <= 1e-12 * sums.s2:
        return None
    explained = float(np.dot(sums.sq, sums.sq))
    return float(special.chdtrc(base.p - 1, base.n * explained / total))


def added_variable(base: Base, q: Floats, residuals: Floats, coefficient: int) -> tuple[Floats, Floats]:
    """Return what the other predictors leave of one column, and of the response, of rows: the axes of the partial
    (added-variable) plot of the coefficient at a place from 1 on, 0 being the intercept. The line through all rows has
    the coefficient's slope.

    Parameters: q, residuals: of the rows, their orthonormal columns (n, k) and residuals.
    References: belsley-1980, section 2.1.
    """
    direction = base.r_inverse[coefficient - 1]
    x = q @ direction / float(np.dot(direction, direction))
    return x, residuals + float(base.coefficients[coefficient]) * x
