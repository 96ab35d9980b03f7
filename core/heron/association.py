"""Two categories: whether, and how closely, they go together."""

import math
from dataclasses import dataclass, field

import numpy as np
from scipy import special, stats

from heron import resampling
from heron.checks import Floats, Ints, within
from heron.formatting import counted, fixed, p_words, percent, sureness
from heron.grouping import By, groups_of
from heron.results import Result

MOST_CELLS = 3_000  # of which tables are drawn at random
_SEED = 20_242


@dataclass(frozen=True)
class Association(Result):
    """How two categories go together. expected: (n_first * n_second,) counts of independent categories, line by line;
    n_small: cells that expect fewer than 5. exact_p: by Fisher's exact test of a 2 x 2 table, else by tables drawn with
    the same margins; drawn: how many, 0 for Fisher's. v: Cramér's V, corrected for its bias in v_corrected, of which
    v_low and v_high are limits. None with the reason where there is none."""

    chi_square: float | None
    df: int
    p_value: float | None
    exact_p: float | None
    drawn: int
    v: float | None
    v_corrected: float | None
    v_low: float | None
    v_high: float | None
    expected: Floats
    n_small: int
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def associate(
    first: By,
    second: By,
    *,
    level: float = 0.95,
    seed: int = _SEED,
) -> Association:
    """Return how closely two categories go together.

    Parameters
    ----------
    first : (n_rows,) labels
        The category of each row, in any form that `groups_of` takes.
    second : (n_rows,) labels
        The other category of each row; rows without either take no part.
    level : float, optional
        Of the limits of Cramér's V, between 0 and 1.
    seed : int, optional
        Of what is drawn at random.

    Returns
    -------
    Association
        Chi-square with its p value, an exact p value, Cramér's V, and the counts expected of independent categories.

    Raises
    ------
    InputError
        For columns of different lengths, or a level outside its range.

    Notes
    -----
    Chi-square is Pearson's, without a correction for continuity. The exact p is Fisher's for two by two levels, and
    else the share of 9,999 tables with the same margins whose chi-square is as large, this one counted among them. V is
    sqrt(chi-square/(n min(r - 1, c - 1))); its bias is taken out as Bergsma has it, and limits are percent points of
    that in 9,999 tables drawn with the shares seen.

    References
    ----------
    pearson-1900
    fisher-1935
    cramer-1946
    bergsma-2013

    Examples
    --------
    Cups told apart by taste, three of four of each kind rightly:

    >>> made, told = ["milk"] * 4 + ["tea"] * 4, ["milk"] * 3 + ["tea"] + ["milk"] + ["tea"] * 3
    >>> round(associate(made, told).exact_p, 4)
    0.4857
    """
    within(level, above=0, below=1, where="level")
    one = groups_of(first, where="first")
    other = groups_of(second, one.places.size, where="second")
    both = (one.places >= 0) & (other.places >= 0)
    width = len(other.labels)
    cells = np.bincount(one.places[both] * width + other.places[both], minlength=len(one.labels) * width)
    table = cells.reshape(len(one.labels), width)
    return of_counts(table, n_missing=int(np.count_nonzero(~both)), level=level, seed=seed)


def of_counts(table: Ints, *, n_missing: int = 0, level: float = 0.95, seed: int = _SEED) -> Association:
    """Return the same of counts, (n_first, n_second)."""
    n = int(table.sum())
    lines, columns = table.sum(axis=1), table.sum(axis=0)
    expected = np.outer(lines, columns) / n if n else np.zeros(table.shape)
    kept = table[lines > 0][:, columns > 0]
    kept = min(
        kept, kept.T, key=lambda counts_or_turned: (counts_or_turned.shape, counts_or_turned.tolist())
    )  # so that both ways round draw the same
    r, c = kept.shape
    if min(r, c) < 2:
        lacking = dict.fromkeys(("chi_square", "exact_p", "v"), "It needs two levels with rows of each.")
        nothing = (None,) * 3
        return Association(None, 0, None, None, 0, *nothing, None, expected.ravel(), 0, level, n, n_missing, lacking)
    within_table = np.outer(kept.sum(axis=1), kept.sum(axis=0)) / n
    small = int(np.count_nonzero(within_table < 5))
    df = (r - 1) * (c - 1)
    chi = float(np.sum((kept - within_table) ** 2 / within_table))
    p = float(special.chdtrc(df, chi))
    undefined: dict[str, str] = {}
    exact_p, drawn = None, 0
    v_low, v_high = None, None
    if r == c == 2:
        exact_p = float(stats.fisher_exact(kept).pvalue)
    elif kept.size <= MOST_CELLS:
        exact_p, drawn = _permuted(kept, chi, seed), resampling.RESAMPLES
    else:
        undefined["exact_p"] = f"Tables are drawn at random for up to {MOST_CELLS} cells."
    if kept.size <= MOST_CELLS:
        v_low, v_high = _resampled(kept, level, seed)
    v = math.sqrt(chi / (n * (min(r, c) - 1)))
    corrected = float(_corrected(np.array([chi]), n, np.array([r]), np.array([c]))[0])
    return Association(
        chi, df, p, exact_p, drawn, v, corrected, v_low, v_high, expected.ravel(), small, level, n, n_missing, undefined
    )


def _chi_squares(tables: Floats) -> Floats:
    """(n_tables,) of each table; lines and columns without a count take no part."""
    n = tables.sum(axis=(1, 2), keepdims=True)
    expected = tables.sum(axis=2, keepdims=True) * tables.sum(axis=1, keepdims=True) / n
    off = np.divide((tables - expected) ** 2, expected, out=np.zeros_like(expected), where=expected > 0)
    return np.asarray(off.sum(axis=(1, 2)))


def _blocks(size: int) -> list[int]:
    """How many tables of so many cells are worked at a time."""
    rows = max(1, min(resampling.RESAMPLES, 4_000_000 // size))
    return [min(rows, resampling.RESAMPLES - start) for start in range(0, resampling.RESAMPLES, rows)]


def _permuted(table: Ints, chi: float, seed: int) -> float:
    """The share of tables with the same margins that depart as far, this one among them."""
    drawing, rng = stats.random_table(table.sum(axis=1), table.sum(axis=0)), np.random.default_rng(seed)
    as_far = 0
    for m in _blocks(table.size):
        tables = np.asarray(drawing.rvs(m, random_state=rng), dtype=np.float64)
        as_far += int(np.count_nonzero(_chi_squares(tables) >= chi * (1 - 1e-9)))
    return (as_far + 1) / (resampling.RESAMPLES + 1)


def _resampled(table: Ints, level: float, seed: int) -> tuple[float, float]:
    """Percent points of the corrected V of tables drawn with the shares seen."""
    n, rng = int(table.sum()), np.random.default_rng(seed + 1)
    result = []
    for m in _blocks(table.size):
        tables = rng.multinomial(n, (table / n).ravel(), m).reshape(m, *table.shape).astype(np.float64)
        r, c = ((tables.sum(axis=axis) > 0).sum(axis=1) for axis in (2, 1))
        result.append(_corrected(_chi_squares(tables), n, r, c))
    return resampling.percentile(np.concatenate(result), level)


def _corrected(chi: Floats, n: int, r: Ints, c: Ints) -> Floats:
    """Cramér's V without its bias, 0 where that is all there is."""
    if n < 2:
        return np.zeros(chi.size)
    square = np.maximum(chi / n - (r - 1) * (c - 1) / (n - 1), 0)
    least = np.minimum(r - (r - 1) ** 2 / (n - 1), c - (c - 1) ** 2 / (n - 1)) - 1
    return np.asarray(np.sqrt(np.minimum(np.divide(square, least, out=np.zeros(chi.size), where=least > 0), 1)))


def words_on_association(result: Association, first: str, second: str) -> tuple[str, ...]:
    """Sentences on two categories by their names: how closely they go together first, then how surely."""
    if result.v_corrected is None or result.p_value is None:
        return ()
    limits = (
        ""
        if result.v_low is None or result.v_high is None
        else f" ({fixed(result.v_low, 2)} to {fixed(result.v_high, 2)} at {percent(result.level)})"
    )
    said = [
        f"Cramér's V is {fixed(result.v_corrected, 2)}{limits}, from 0 for none to 1; by chi-square "
        f"{sureness(result.p_value)} {first} and {second} going together."
    ]
    if result.n_small:
        exact = (
            "" if result.exact_p is None else f": rather than its p take the exact one (p {p_words(result.exact_p)})"
        )
        expect = "expects" if result.n_small == 1 else "expect"
        said.append(f"{counted(result.n_small, 'cell')} {expect} fewer than 5 rows{exact}.")
    return tuple(said)
