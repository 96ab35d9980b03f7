"""What a careful colleague would say of far rows: which, by what, and to look for a cause."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.formatting import counted, fixed, grouped, significant
from heron.outliers.distances import Distances
from heron.outliers.rules import RULES, Rule

_CAUSE = "Far is no reason to leave a row out: look for its cause."
FEW_FLAGGED = 4


@dataclass(frozen=True)
class FlagCounts:
    """Of a variable: n values; how many rules flag, some or all of them; how many flagged ones lie above the median."""

    n: int
    flagged: int
    agreed: int
    above: int


def words_on_flags(
    rules: Sequence[Rule], counts: FlagCounts, few: Sequence[tuple[int, float]], *, unit: str, label: str
) -> tuple[str, ...]:
    """Sentences on the rows that rules flag. few: the number from 1 and the value of each where there are at most
    FEW_FLAGGED, the farthest first."""
    n, n_flagged = counts.n, counts.flagged
    if not rules:
        return ("Choose a rule.",)
    if n == 0:
        return ("There is no value to look at.",)
    by = " or ".join(RULES[rule].label for rule in rules)
    if n_flagged == 0:
        return (f"Of {counted(n, 'value')} of {label} none is flagged by {by}.",)
    verb = "is" if n_flagged == 1 else "are"
    said = [f"Of {counted(n, 'value')} of {label} {grouped(n_flagged)} {verb} flagged by {by}."]
    if len(rules) > 1:
        said.append(
            f"All rules agree on {grouped(counts.agreed) if counts.agreed else 'none'}." if n_flagged > 1 else ""
        )
    if n_flagged <= FEW_FLAGGED:
        listed = ", ".join(f"{significant(value, 6)}{' ' + unit if unit else ''} in row {row}" for row, value in few)
        said.append(f"{'It is' if n_flagged == 1 else 'They are'} {listed}.")
    one_sided = not 0.1 <= counts.above / n_flagged <= 0.9
    if n_flagged > max(0.015 * n, FEW_FLAGGED) and "skew-fences" not in rules and one_sided:
        said.append("They lie on one side: on a skewed variable fences flag honest values; try another scale first.")
    said.append(_CAUSE)
    return tuple(sentence for sentence in said if sentence)


def words_on_distances(distances: Distances) -> tuple[str, ...]:
    """Sentences on the rows beyond the cut-off of the robust distance."""
    hidden = int(np.count_nonzero(distances.classical[distances.flagged] <= distances.cutoff))
    return words_on_far_rows(
        distances.n, int(distances.flagged.size), hidden, cutoff=distances.cutoff, n_fitted=distances.n_fitted
    )


def words_on_far_rows(n: int, far: int, hidden: int, *, cutoff: float, n_fitted: int) -> tuple[str, ...]:
    """The same of n rows, of which `far` lie beyond the cut-off, `hidden` of these not by the plain distance."""
    if far == 0:
        return (f"None of {counted(n, 'row')} lies beyond {fixed(cutoff, 2)}, where 2.5 % of normal data would.",)
    said = [f"{counted(far, 'row')} of {grouped(n)} {'lies' if far == 1 else 'lie'} beyond {fixed(cutoff, 2)}; "]
    said[0] += f"of normal data about {grouped(round(0.025 * n))} would."
    if far > 0.1 * n:
        said.append("So many speak for a skewed or bent shape rather than for far rows: try logs of these variables.")
    if hidden:
        said.append(
            f"By the plain distance {grouped(hidden)} of them would not be flagged: far rows widen the covariance and "
            "so hide."
        )
    if n_fitted < n:
        said.append(f"Fitted on {n_fitted} rows drawn at random, then applied to all.")
    said.append(_CAUSE)
    return tuple(said)
