"""A fit without some of its rows, from the decomposition of all of them."""

import math
from dataclasses import dataclass, field

import numpy as np

from heron.checks import Floats, Ints
from heron.influence.design import Design
from heron.influence.fit import Base, base_of


@dataclass(frozen=True)
class Pulled:
    """A fit without rows, and with them. coefficients, without: (p,) the intercept first; None for without where the
    rows that are left do not determine them, with the reason."""

    names: tuple[str, ...]
    coefficients: Floats
    se: Floats
    sigma: float
    r_squared: float | None
    without: Floats | None
    without_se: Floats | None
    without_sigma: float | None
    without_r_squared: float | None
    n: int
    n_without: int
    undefined: dict[str, str] = field(default_factory=dict)


def refit_without(made: Design, rows: Ints) -> Pulled:
    """Return the coefficients, residual SD and R squared of a design with and without rows, by position.

    Notes: with Q the orthonormal columns (the intercept's too) and S the rows taken out, the coefficients move by
    R^-1 (I - Qs'Qs)^-1 Qs' es, and the residual sum of squares falls by es'es + (Qs'es)'(I - Qs'Qs)^-1 (Qs'es): nothing
    is fitted again.
    References: belsley-1980, section 2.1 and its appendix.
    """
    removed = (
        np.flatnonzero(np.isin(made.rows, rows)) if len(rows) > 50 else np.searchsorted(made.rows, np.unique(rows))
    )
    removed = removed[removed < made.n]
    removed = removed[np.isin(made.rows[removed], rows)]
    base, residuals = base_of(made)
    return refit_of(base, made.q[removed], residuals[removed], made.y[removed])


def refit_of(base: Base, q: Floats, e: Floats, y: Floats) -> Pulled:
    """The same from what a fit comes from, and of the rows taken out their orthonormal columns, residuals and
    responses."""
    n, p = base.n, base.p
    whole = np.column_stack((np.full(e.size, 1 / math.sqrt(n)), q))
    beta = np.concatenate(([math.sqrt(n) * base.mean], base.b))
    with_all = _numbers(base, beta, np.eye(p), base.rss, base.tss, n)
    m, names = n - e.size, base.terms.names
    left = np.eye(p) - whole.T @ whole
    if m <= p or np.linalg.cond(left) > 1e12:
        why = f"{m} rows are left, and they do not determine {p} coefficients."
        return Pulled(names, *with_all, None, None, None, None, n, m, {"without": why})
    pulled, inverse, off = whole.T @ e, np.linalg.inv(left), y - base.mean
    fewer = max(base.rss - float(np.dot(e, e)) - float(pulled @ inverse @ pulled), 0.0)
    total = base.tss - float(np.dot(off, off)) - float(off.sum()) ** 2 / m
    without = _numbers(base, beta - inverse @ pulled, inverse, fewer, total, m)
    return Pulled(names, *with_all, *without, n, m)


def _numbers(
    base: Base, beta: Floats, inverse: Floats, rss: float, tss: float, n: int
) -> tuple[Floats, Floats, float, float | None]:
    """Coefficients, their standard errors, the residual SD and R squared, from coefficients on the orthonormal columns
    and the inverse of their products."""
    p = base.p
    to_columns = np.zeros((p, p))
    to_columns[1:, 1:] = base.r_inverse
    to_columns[0, 0] = 1 / math.sqrt(base.n)
    to_columns[0, 1:] = -base.means @ base.r_inverse
    sigma = math.sqrt(rss / (n - p))
    variances = np.einsum("ij,jk,ik->i", to_columns, inverse, to_columns)
    share = 1 - rss / tss if tss > 0 else None
    return to_columns @ beta, sigma * np.sqrt(np.maximum(variances, 0)), sigma, share
