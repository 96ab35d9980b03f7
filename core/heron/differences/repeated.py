"""Groups of the same units: whether their centres differ."""

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats
from heron.differences.tests import Test
from heron.differences.two import LARGEST, TOO_LARGE
from heron.formatting import counted, fixed, sureness
from heron.grouping import By
from heron.groups import paired_across
from heron.results import Result


@dataclass(frozen=True)
class Repeated(Result, rows=("repeated", "friedman")):
    """Tests over the units that have all groups. epsilon: Greenhouse and Geisser's, from 1/(k - 1) to 1; n_units: how
    many such units; n_left_out: the others."""

    repeated: Test | None
    friedman: Test | None
    epsilon: float | None
    n_units: int
    n_left_out: int
    undefined: dict[str, str] = field(default_factory=dict)


def compare_repeated(values: ArrayLike, by: By, *, order: Sequence[object] | None = None, unit: By) -> Repeated:
    """Return whether groups of the same units differ.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels
        The group of each row, in any form that `groups_of` takes; rows of no group take no part.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    unit : (n_rows,) labels
        What each row is of; several rows of one in a group are averaged.

    Returns
    -------
    Repeated
        Analysis of variance with partial eta squared, and Friedman's test with Kendall's W, over the units that have
        all groups.

    Raises
    ------
    InputError
        For infinite values, or columns of different lengths.

    Notes
    -----
    F is that of groups against what is left beside units and groups; both of its degrees of freedom are multiplied by
    Greenhouse and Geisser's epsilon, (sum of the eigenvalues)^2 over (k - 1) times the sum of their squares, of the
    double-centred covariances of the groups. W is Friedman's statistic over n (k - 1).

    References
    ----------
    greenhouse-geisser-1959
    friedman-1937
    kendall-smith-1939, for W

    Examples
    --------
    >>> result = compare_repeated([1, 2, 4, 2, 3, 6, 1, 3, 5], list("abc") * 3, unit=list("uuuvvvwww"))
    >>> result.n_units, result.friedman.effect
    (3, 1.0)
    """
    side_by_side = paired_across(values, by, order=order, unit=unit).values
    whole = side_by_side[np.isfinite(side_by_side).all(axis=1)]
    n, k = whole.shape
    left_out = side_by_side.shape[0] - n
    if n < 2 or k < 2:
        why = "It needs 2 groups, and 2 units that have all of them."
        return Repeated(None, None, None, n, left_out, dict.fromkeys(("repeated", "friedman"), why))
    undefined: dict[str, str] = {}
    friedman = _friedman(whole)
    if friedman is None:
        undefined["friedman"] = "Within each unit all values are the same."
    if float(np.abs(whole).max()) > LARGEST:
        return Repeated(None, friedman, None, n, left_out, undefined | {"repeated": TOO_LARGE})
    repeated, epsilon = _variances(whole)
    if repeated is None:
        undefined["repeated"] = "Beside units and groups nothing is left to compare with."
    return Repeated(repeated, friedman, epsilon, n, left_out, undefined)


def _variances(x: Floats) -> tuple[Test | None, float | None]:
    n, k = x.shape
    x = x - x.mean()
    scale = float(np.abs(x).max()) or 1.0
    x = x / scale
    rest = x - x.mean(axis=1, keepdims=True)
    means = rest.mean(axis=0)
    rest = rest - means
    between, left = n * float(np.dot(means, means)), float(np.sum(rest**2))
    if left <= 1e-28 * x.size:
        return None, None
    spread = rest.T @ rest
    epsilon = float(np.trace(spread) ** 2 / ((k - 1) * np.sum(spread**2)))
    f = (n - 1) * between / left
    df1, df2 = epsilon * (k - 1), epsilon * (k - 1) * (n - 1)
    p = float(special.fdtrc(df1, df2, f))
    return Test(f, df1, df2, p, between / (between + left), "partial eta squared"), epsilon


def _friedman(x: Floats) -> Test | None:
    n, k = x.shape
    ranks = stats.rankdata(x, axis=1)
    off = ranks - (k + 1) / 2
    whole = float(np.sum(off**2))
    if whole == 0:
        return None
    statistic = (k - 1) * float(np.sum(off.sum(axis=0) ** 2)) / whole
    return Test(
        statistic, k - 1, None, float(special.chdtrc(k - 1, statistic)), statistic / (n * (k - 1)), "Kendall's W"
    )


def words_on_repeated(result: Repeated, *, unit: str) -> tuple[str, ...]:
    """Sentences on groups of the same units, which `unit` names."""
    said = [f"Over the {counted(result.n_units, 'unit')} ({unit}) that have all groups:"] if result.repeated else []
    if result.repeated is not None:
        said.append(f"by analysis of variance {sureness(result.repeated.p_value)} a difference of means;")
    if result.friedman is not None and result.friedman.effect is not None:
        said.append(
            f"by ranks within units (Friedman) {sureness(result.friedman.p_value)} a difference, Kendall's W "
            f"{fixed(result.friedman.effect, 2)}."
        )
    if result.n_left_out:
        lack = "lacks a group and is" if result.n_left_out == 1 else "lack a group and are"
        said.append(f"{counted(result.n_left_out, 'unit')} {lack} left out of these tests.")
    return tuple(said)
