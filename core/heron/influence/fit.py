"""Least squares, and how much each row has to say in it."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, within
from heron.influence.design import Design, design_of
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
class Diagnosis(
    Result, columns=("fitted", "residuals", "leverage", "internal", "external", "cooks", "dffits", "covratio")
):
    """A least-squares fit. In the order intercept, then predictors: names, coefficients, se, low, high (t limits at
    `level`), t, p_values; robust_se, robust_low, robust_high and robust_p, which hold where spreads differ (HC3), NaN
    where a row of leverage 1 leaves none; partial_r: the correlation with the response given the other predictors, NaN
    for the intercept. inflation: of each predictor, how many times the variance of its coefficients is what it would be
    without the others (of a category, for each of its levels).

    Per row, (n_rows,), NaN where the row was not used or the measure is undefined: fitted, residuals, leverage,
    internal and external (studentized residuals), cooks, dffits, covratio, and dfbetas (n_rows, p). sigma: residual SD.
    curvature_p: of an added squared fitted value; fanning_p: Breusch and Pagan's test in Koenker's form.
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
    fitted: Floats
    residuals: Floats
    leverage: Floats
    internal: Floats
    external: Floats
    cooks: Floats
    dffits: Floats
    dfbetas: Floats
    covratio: Floats
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
    n, p, q, r = made.n, made.p, made.q, made.r
    undefined: dict[str, str] = {}
    top = float(np.abs(made.y).max()) or 1.0
    mean = float((made.y / top).mean() * top)
    y = made.y - mean
    b = q.T @ y
    # One more pass takes out what rounding left of the columns in the residuals.
    residuals = y - q @ b
    extra = q.T @ residuals
    residuals = residuals - q @ extra
    b = b + extra
    slopes = np.linalg.solve(r, b) if p > 1 else np.empty(0)
    fitted = made.y - residuals
    h = 1 / n + np.einsum("ji,ji->i", q.T, q.T)
    rss, tss = float(np.dot(residuals, residuals)), float(np.dot(y, y))
    exact = rss <= 1e-26 * max(tss, float(np.dot(made.y, made.y)))
    if exact:
        rss = 0.0
        undefined["external"] = "The fit is perfect: no residual is left to measure rows by."
    df = n - p
    sigma = math.sqrt(rss / df)
    r_inverse = np.linalg.solve(r, np.eye(p - 1))
    unscaled = np.empty(p)
    unscaled[1:] = np.einsum("ij,ij->i", r_inverse, r_inverse)
    toward = r_inverse.T @ made.means
    unscaled[0] = 1 / n + float(np.dot(toward, toward))
    coefficients = np.concatenate(([mean - float(np.dot(made.means, slopes))], slopes))
    se = sigma * np.sqrt(unscaled)
    reach = float(special.stdtrit(df, 0.5 + level / 2)) * se
    lone = float(h.max()) > 1 - _LONE
    # What a residual of 1 adds to each coefficient, in its standard errors.
    by_column = np.vstack((-made.means @ r_inverse, r_inverse)) / np.sqrt(unscaled)[:, None]
    shift = 1 / (n * math.sqrt(unscaled[0]))
    robust = np.zeros(p)
    internal, external, cooks, dffits, covratio = np.empty((5, n))
    moves = np.empty((p, n))
    with np.errstate(all="ignore"):
        # In blocks that fit the processor's cache: what is worked row by row waits for memory else.
        for start in range(0, n, _BLOCK):
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
        t = np.where(se > 0, coefficients / se, np.nan)
        robust_se = np.sqrt(robust * unscaled)
        robust_p = 2 * special.stdtr(df, -np.abs(np.where(robust_se > 0, coefficients / robust_se, np.nan)))
        partial_r = np.where(np.isfinite(t), t / np.sqrt(t * t + df), np.nan)
    partial_r[0] = np.nan
    robust_reach = float(special.stdtrit(df, 0.5 + level / 2)) * robust_se
    if lone:
        undefined["leverage"] = "Some rows have leverage 1: the fit goes through them whatever their value."
    if tss == 0:
        undefined["r_squared"] = "The response has no spread."
    share = None if tss == 0 else 1 - rss / tss
    curvature, fanning = (
        (None, None) if exact else (_curvature(made, fitted, residuals, rss), _fanning(made, residuals))
    )
    return Diagnosis(
        made.names,
        coefficients,
        se,
        coefficients - reach,
        coefficients + reach,
        t,
        2 * special.stdtr(df, -np.abs(t)),
        robust_se,
        coefficients - robust_reach,
        coefficients + robust_reach,
        robust_p,
        partial_r,
        _inflation(made),
        _over(made, fitted),
        _over(made, residuals),
        _over(made, h),
        _over(made, internal),
        _over(made, external),
        _over(made, cooks),
        _over(made, dffits),
        _over(made, moves.T),
        _over(made, covratio),
        sigma,
        share,
        None if share is None else 1 - (1 - share) * (n - 1) / df,
        curvature,
        fanning,
        _cutoffs(n, p),
        made.baselines,
        made.without_rows,
        level,
        n,
        made.length - n,
        undefined,
    )


def _inflation(made: Design) -> dict[str, float]:
    """Of each predictor, how many times its variance is what it would be without the others."""
    scaled = made.r / np.abs(made.r).max(axis=0, initial=0)  # so that no square vanishes
    sizes = np.sqrt(np.einsum("ij,ij->j", scaled, scaled))
    scaled = scaled / sizes
    together = scaled.T @ scaled
    whole = float(np.linalg.slogdet(scaled)[1]) * 2
    result, start = {}, 0
    for name, width in made.terms.items():
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


def _cutoffs(n: int, p: int) -> Cutoffs:
    limit = float(special.stdtrit(n - p - 1, 1 - 0.05 / (2 * n))) if n > p + 1 else None
    return Cutoffs(2 * p / n, 3 * p / n, 2, limit, 4 / n, 1, 2 * math.sqrt(p / n), 2 / math.sqrt(n), 3 * p / n)


def _curvature(made: Design, fitted: Floats, residuals: Floats, rss: float) -> float | None:
    """The p value of a squared fitted value added to the columns."""
    df = made.n - made.p - 1
    z = fitted - float(fitted.mean())
    spread = math.sqrt(float(np.dot(z, z)) / made.n)
    if spread == 0 or df < 1:
        return None
    z /= spread
    z *= z
    z -= float(z.mean())
    z -= made.q @ (made.q.T @ z)
    size = float(np.dot(z, z))
    if size < 1e-10 * made.n:
        return None
    part = float(np.dot(z, residuals)) ** 2 / size
    return float(special.fdtrc(1, df, part / ((rss - part) / df))) if rss > part else 0.0


def _fanning(made: Design, residuals: Floats) -> float | None:
    """The p value of n R squared of the squared residuals on the columns."""
    if made.p < 2:
        return None
    squares = residuals / max(float(residuals.max()), -float(residuals.min()))
    squares *= squares
    squares -= float(squares.mean())
    total = float(np.dot(squares, squares))
    if total == 0:
        return None
    explained = made.q.T @ squares
    return float(special.chdtrc(made.p - 1, made.n * float(np.dot(explained, explained)) / total))


@dataclass(frozen=True)
class Partial:
    """x, y: (n_rows,) what the other predictors leave of one column and of the response; the line through them has the
    coefficient's slope. NaN where the row was not used."""

    name: str
    x: Floats
    y: Floats
    slope: float


def partial(made: Design, coefficient: int) -> Partial:
    """Return the partial (added-variable) plot of the coefficient at a place from 1 on, 0 being the intercept.

    References: belsley-1980, section 2.1.
    """
    r_inverse = np.linalg.solve(made.r, np.eye(made.p - 1))
    direction = made.q @ r_inverse[coefficient - 1]
    x = direction / float(np.dot(direction, direction))
    y = made.y - made.y.mean()
    slope = float(np.dot(direction, y))
    return Partial(made.names[coefficient], _over(made, x), _over(made, y - made.q @ (made.q.T @ y) + slope * x), slope)
