"""How closely two variables move together: along a line, in their ranks, pair by pair."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import special, stats

from heron.checks import LARGEST_NUMBER, Floats, Ints, same_length, within
from heron.formatting import counted, there_are
from heron.results import Result

_KENDALL_VARIANCE = 0.437
_SPEARMAN_WIDER = 0.5
_MOST_PERMUTED = 9
MOST_RANKED = 200_000  # pairs of which Kendall's tau, that looks at each with each, is worked


@dataclass(frozen=True)
class Coefficient:
    """From -1 to 1, with its limits and the p value of none; limits are None for too few pairs."""

    estimate: float
    low: float | None
    high: float | None
    p_value: float | None


@dataclass(frozen=True)
class Correlations(Result, rows=("pearson", "spearman", "kendall")):
    """lost_rows: rows in which either value is missing. A coefficient is None where a variable has no spread."""

    pearson: Coefficient | None
    spearman: Coefficient | None
    kendall: Coefficient | None
    level: float
    n_pairs: int
    lost_rows: Ints
    undefined: dict[str, str] = field(default_factory=dict)


def pairs(x: ArrayLike, y: ArrayLike) -> tuple[Floats, Floats, Ints]:
    """The values of the rows in which both are there, and the positions of those rows."""
    a, b = np.asarray(x, dtype=np.float64), np.asarray(y, dtype=np.float64)
    same_length(a.size, b.size, where="y")
    known = np.flatnonzero(np.isfinite(a) & np.isfinite(b))
    return a[known], b[known], known


def correlate(x: ArrayLike, y: ArrayLike, *, level: float = 0.95) -> Correlations:
    """Return Pearson's, Spearman's and Kendall's coefficients of two variables.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    y : (n_rows,) array_like of float
        Values in their unit, NaN for missing; rows with either missing take no part.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Correlations
        Each from -1 to 1 with its limits and the p value of none; None where a variable has no spread.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.

    Notes
    -----
    Pearson's limits are by Fisher's z, 1/sqrt(n - 3); Spearman's likewise with sqrt((1 + r^2/2)/(n - 3)); Kendall's is
    tau-b, its limits z +/- sqrt(0.437/(n - 4)) of its arctanh, worked for up to 200,000 pairs. The p values of both are
    exact, by all orders, for up to 9 pairs; that of a rho of 1 or -1 is 2/n!, by the orders of ties more.

    References
    ----------
    fisher-1921
    bonett-wright-2000
    fieller-1957

    Examples
    --------
    The first of Anscombe's (1973) sets, of which r = 0.816:

    >>> x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
    >>> y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]
    >>> round(correlate(x, y).pearson.estimate, 3)
    0.816
    """
    within(level, above=0, below=1, where="level")
    a, b, known = pairs(x, y)
    n = known.size
    lost = np.setdiff1d(np.arange(np.asarray(x).size), known, assume_unique=True)
    if n < 2 or a.min() == a.max() or b.min() == b.max():
        why = "There are fewer than 2 pairs." if n < 2 else "A variable has no spread."
        return Correlations(None, None, None, level, n, lost, dict.fromkeys(("pearson", "spearman", "kendall"), why))
    undefined: dict[str, str] = {}
    r = _product_moment(a, b)
    ranks = stats.rankdata(a), stats.rankdata(b)
    rho = _product_moment(*ranks)
    kendall = None
    if n <= MOST_RANKED:
        result = stats.kendalltau(a, b)
        p = _exact_p(*ranks, _agreements) if n <= _MOST_PERMUTED else float(result.pvalue)
        kendall = _limits(float(result.statistic), math.sqrt(_KENDALL_VARIANCE / (n - 4)) if n > 4 else None, level)
        kendall = replace(kendall, p_value=p)
    else:
        undefined["kendall"] = f"It is worked for up to {MOST_RANKED} pairs."
    pearson = pearson_of(r, n, level)
    spearman = spearman_of(rho, n, level)
    if n <= _MOST_PERMUTED:
        spearman = replace(spearman, p_value=_exact_p(*ranks, _products))
    elif abs(rho) == 1:
        spearman = replace(spearman, p_value=_p_of_one_order(ranks[0]))
    return Correlations(pearson, spearman, kendall, level, n, lost, undefined)


def _exact_p(a: Floats, b: Floats, statistic: Callable[[Floats, Floats], Floats]) -> float:
    """The share of all orders of ranks in which they agree, or disagree, at least as closely as they do."""
    sizes = _sizes_over_all_orders(tuple(np.sort(a).tolist()), tuple(np.sort(b).tolist()), statistic)
    observed = abs(float(statistic(a - a.mean(), (b - b.mean())[None, :])[0]))
    return float(np.count_nonzero(sizes >= observed - 1e-9)) / sizes.size


@lru_cache(maxsize=64)
def _sizes_over_all_orders(
    a: tuple[float, ...], b: tuple[float, ...], statistic: Callable[[Floats, Floats], Floats]
) -> Floats:
    """(n!,) the sizes of a statistic of ranks, ties among them, over all orders of the second."""
    first, second = np.array(a) - np.mean(a), np.array(b) - np.mean(b)
    return np.abs(statistic(first, second[_orders(len(a))]))


@lru_cache(maxsize=_MOST_PERMUTED)
def _orders(n: int) -> NDArray[np.int8]:
    """(n!, n) all orders of n things: each of one thing less, with the last put at every place."""
    result = np.zeros((1, 1), dtype=np.int8)
    for size in range(2, n + 1):
        result = np.concatenate([np.insert(result, position, size - 1, axis=1) for position in range(size)])
    return result


def _products(a: Floats, b: Floats) -> Floats:
    """(k,) the sum of products of ranks, which orders them as Spearman's rho does; b (k, n)."""
    return np.asarray(b @ a)


def _agreements(a: Floats, b: Floats) -> Floats:
    """(k,) pairs in the same order less pairs in the other, which orders them as Kendall's tau does; b (k, n)."""
    columns = np.ascontiguousarray(np.rint(2 * b).T.astype(np.int8))  # ranks are whole or halves
    total = np.zeros(b.shape[0], dtype=np.int8)
    for i, j in zip(*np.tril_indices(a.size, -1), strict=True):
        if a[i] != a[j]:
            high, low = (i, j) if a[i] > a[j] else (j, i)
            total += (columns[high] > columns[low]).view(np.int8) - (columns[high] < columns[low]).view(np.int8)
    return total.astype(np.float64)


def _p_of_one_order(ranks: Floats) -> float:
    """The share of all orders in which ranks agree, or disagree, wholly; those of ties are alike."""
    alike = np.unique(ranks, return_counts=True)[1]
    return float(min(2 * np.exp(np.sum(special.gammaln(alike + 1)) - special.gammaln(ranks.size + 1)), 1.0))


def _product_moment(a: Floats, b: Floats) -> float:
    """Pearson's r, each variable put on a scale on which it can be squared."""
    # From a value among them: what they share is lost before they are divided; by halves where a difference overflows.
    u, v = (
        values - values[0] if float(np.abs(values).max()) < LARGEST_NUMBER / 2 else values / 2 - values[0] / 2
        for values in (a, b)
    )
    u, v = (values / (float(np.abs(values).max()) or 1.0) for values in (u, v))
    u, v = u - u.mean(), v - v.mean()
    u, v = u / (float(np.abs(u).max()) or 1.0), v / (float(np.abs(v).max()) or 1.0)
    r = float(u @ v) / math.sqrt(float(u @ u) * float(v @ v))
    return min(max(r, -1.0), 1.0)


def pearson_of(r: float, n: int, level: float) -> Coefficient:
    """Pearson's r of n pairs with its limits and p value, as `correlate` gives it."""
    return _limits(r, 1 / math.sqrt(n - 3) if n > 3 else None, level, n)


def spearman_of(rho: float, n: int, level: float) -> Coefficient:
    """Spearman's rho of n pairs with its limits and p value, as `correlate` gives it of ten pairs and more."""
    wide = math.sqrt((1 + _SPEARMAN_WIDER * rho * rho) / (n - 3)) if n > 3 else None
    return _limits(rho, wide, level, n)


def _limits(estimate: float, se: float | None, level: float, n: int | None = None) -> Coefficient:
    p = None
    if n is not None and n > 2:
        left = (1 - estimate) * (1 + estimate)
        p = 0.0 if left <= 0 else 2 * float(special.stdtr(n - 2, -abs(estimate) * math.sqrt((n - 2) / left)))
    if se is None:
        return Coefficient(estimate, None, None, p)
    if abs(estimate) == 1:
        return Coefficient(estimate, estimate, estimate, p)
    z, reach = math.atanh(estimate), float(special.ndtri(0.5 + level / 2)) * se
    return Coefficient(estimate, math.tanh(z - reach), math.tanh(z + reach), p)


def correlate_partially(columns: ArrayLike, *, level: float = 0.95) -> list[list[Correlations]]:
    """Return the correlations of each variable with each earlier one, given all the others.

    Parameters
    ----------
    columns : (n_variables, n_rows) array_like of float
        Values in their units, NaN for missing; rows with any missing take no part.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    list of list of Correlations
        Of variable i with variable j < i; Kendall's is not worked.

    Raises
    ------
    InputError
        For a level outside its range.

    Notes
    -----
    From the inverse C of the correlations: -C_ij/sqrt(C_ii C_jj). Limits by Fisher's z with 1/sqrt(n - k - 3) for k
    variables given, and Student's t on n - k - 2 degrees of freedom; Spearman's likewise of ranks.

    References
    ----------
    fisher-1924
    """
    within(level, above=0, below=1, where="level")
    given = np.asarray(columns, dtype=np.float64)
    whole = np.isfinite(given).all(axis=0)
    used = given[:, whole]
    m, n = used.shape
    lost = np.flatnonzero(~whole)
    why = ""
    if n < m + 2:
        why = f"Given {counted(m - 2, 'other')} it needs {m + 2} complete rows; {there_are(n)}."
    elif (used.min(axis=1) == used.max(axis=1)).any():
        why = "A variable has no spread."
    tables = [None, None] if why else [_inverse(used), _inverse(stats.rankdata(used, axis=1))]
    result = []
    for i in range(m):
        line = []
        for j in range(i):
            estimates = [None if table is None else _partial(table, i, j, n, m - 2, level) for table in tables]
            lacking = dict.fromkeys(("pearson", "spearman"), why or "A variable follows from the others.")
            undefined = {name: lacking[name] for name, r in zip(lacking, estimates, strict=True) if r is None}
            line.append(Correlations(estimates[0], estimates[1], None, level, n, lost, undefined))
        result.append(line)
    return result


def _inverse(columns: Floats) -> Floats | None:
    """The inverse of the correlations of columns, None where one follows from the others."""
    table = np.array([[_product_moment(a, b) for b in columns] for a in columns])
    return None if np.linalg.cond(table) > 1e12 else np.asarray(np.linalg.inv(table))


def _partial(table: Floats, i: int, j: int, n: int, k: int, level: float) -> Coefficient:
    r = -float(table[i, j]) / math.sqrt(float(table[i, i] * table[j, j]))
    return _limits(min(max(r, -1.0), 1.0), 1 / math.sqrt(n - k - 3) if n > k + 3 else None, level, n - k)
