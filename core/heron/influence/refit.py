"""A fit without some of its rows, from the decomposition of all of them."""

import math
from dataclasses import dataclass, field

import numpy as np

from heron.checks import Floats, Ints
from heron.influence.design import Design


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
    n, p = made.n, made.p
    y = made.y - made.y.mean()
    b = made.q.T @ y
    e = y - made.q @ b
    removed = (
        np.flatnonzero(np.isin(made.rows, rows)) if len(rows) > 50 else np.searchsorted(made.rows, np.unique(rows))
    )
    removed = removed[removed < n]
    removed = removed[np.isin(made.rows[removed], rows)]
    whole = np.column_stack((np.full(removed.size, 1 / math.sqrt(n)), made.q[removed]))
    beta = np.concatenate(([math.sqrt(n) * float(made.y.mean())], b))
    rss, tss = float(np.dot(e, e)), float(np.dot(y, y))
    with_all = _numbers(made, beta, np.eye(p), rss, tss, n)
    m = n - removed.size
    left = np.eye(p) - whole.T @ whole
    if m <= p or np.linalg.cond(left) > 1e12:
        why = f"{m} rows are left, and they do not determine {p} coefficients."
        return Pulled(made.names, *with_all, None, None, None, None, n, m, {"without": why})
    pulled = whole.T @ e[removed]
    inverse = np.linalg.inv(left)
    fewer = max(rss - float(np.dot(e[removed], e[removed])) - float(pulled @ inverse @ pulled), 0.0)
    kept = y.sum() - y[removed].sum()
    total = tss - float(np.dot(y[removed], y[removed])) - float(kept) ** 2 / m
    without = _numbers(made, beta - inverse @ pulled, inverse, fewer, total, m)
    return Pulled(made.names, *with_all, *without, n, m)


def _numbers(
    made: Design, beta: Floats, inverse: Floats, rss: float, tss: float, n: int
) -> tuple[Floats, Floats, float, float | None]:
    """Coefficients, their standard errors, the residual SD and R squared, from coefficients on the orthonormal columns
    and the inverse of their products."""
    p = made.p
    to_columns = np.zeros((p, p))
    to_columns[1:, 1:] = np.linalg.solve(made.r, np.eye(p - 1))
    to_columns[0, 0] = 1 / math.sqrt(made.n)
    to_columns[0, 1:] = -made.means @ to_columns[1:, 1:]
    sigma = math.sqrt(rss / (n - p))
    variances = np.einsum("ij,jk,ik->i", to_columns, inverse, to_columns)
    share = 1 - rss / tss if tss > 0 else None
    return to_columns @ beta, sigma * np.sqrt(np.maximum(variances, 0)), sigma, share
