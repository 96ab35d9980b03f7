"""What a careful colleague would say of far rows: which, by what, and to look for a cause."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from heron.checks import Floats
from heron.formatting import counted
from heron.outliers.distances import Distances
from heron.outliers.rules import RULES, Rule

_CAUSE = "Far is no reason to leave a row out: look for its cause."
_FEW = 4


def words_on_flags(named: Any, rules: Sequence[Rule], x: Floats, *, unit: str, label: str) -> tuple[str, ...]:
    """Sentences on the rows that rules flag. named: (n_rows, n_rules) truths."""
    n = int(np.count_nonzero(~np.isnan(x)))
    if not rules:
        return ("Choose a rule.",)
    if n == 0:
        return ("There is no value to look at.",)
    rows = np.flatnonzero(named.any(axis=1))
    by = " or ".join(RULES[rule].label for rule in rules)
    if rows.size == 0:
        return (f"Of {counted(n, 'value')} of {label} none is flagged by {by}.",)
    said = [f"Of {counted(n, 'value')} of {label} {rows.size} {'is' if rows.size == 1 else 'are'} flagged by {by}."]
    if len(rules) > 1:
        agreed = int(np.count_nonzero(named.all(axis=1)))
        said.append(f"All rules agree on {agreed or 'none'}." if rows.size > 1 else "")
    far = rows[np.argsort(-np.abs(x[rows] - np.nanmedian(x)), kind="stable")]
    if rows.size <= _FEW:
        listed = ", ".join(f"{x[i]:.6g}{' ' + unit if unit else ''} in row {i + 1}" for i in far)
        said.append(f"{'It is' if rows.size == 1 else 'They are'} {listed}.")
    if rows.size > max(0.015 * n, _FEW) and "skew-fences" not in rules and _one_sided(named, x):
        said.append("They lie on one side: on a skewed variable fences flag honest values; try another scale first.")
    said.append(_CAUSE)
    return tuple(sentence for sentence in said if sentence)


def _one_sided(named: Any, x: Floats) -> bool:
    side = x[named.any(axis=1)] > np.nanmedian(x)
    return bool(side.size and (side.mean() > 0.9 or side.mean() < 0.1))


def words_on_distances(distances: Distances) -> tuple[str, ...]:
    """Sentences on the rows beyond the cut-off of the robust distance."""
    n, far = distances.n, int(distances.flagged.size)
    if far == 0:
        return (f"None of {counted(n, 'row')} lies beyond {distances.cutoff:.2f}, where 2.5 % of normal data would.",)
    hidden = int(np.count_nonzero(distances.classical[distances.flagged] <= distances.cutoff))
    said = [f"{counted(far, 'row')} of {n} {'lies' if far == 1 else 'lie'} beyond {distances.cutoff:.2f}; "]
    said[0] += f"of normal data about {0.025 * n:.0f} would."
    if far > 0.1 * n:
        said.append("So many speak for a skewed or bent shape rather than for far rows: try logs of these variables.")
    if hidden:
        said.append(
            f"By the plain distance {hidden} of them would not be flagged: far rows widen the covariance and so hide."
        )
    if distances.n_fitted < n:
        said.append(f"Fitted on {distances.n_fitted} rows drawn at random, then applied to all.")
    said.append(_CAUSE)
    return tuple(said)
