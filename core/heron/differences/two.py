"""Two groups, or the pairs of two, without what is missing; and what is said of how they differ."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, as_values, within
from heron.errors import InputError
from heron.formatting import significant
from heron.grouping import By, groups_of
from heron.groups import paired_across
from heron.results import Result

LARGEST = 1e150
TOO_LARGE = f"Values beyond {significant(LARGEST)} cannot be squared, and so not be compared."


@dataclass(frozen=True)
class Estimate(Result):
    """A difference of the first group from the second, with its limits.

    p_value: of no difference, None where none is given. n: how many values it is of, or how many pairs; n_missing: how
    many values, or pairs, are left out.
    """

    estimate: float
    low: float | None
    high: float | None
    p_value: float | None = None
    n: int = 0
    n_missing: int = 0


@dataclass(frozen=True)
class Two:
    """Two groups without what is missing; paired, those pairs that are whole."""

    x: Floats
    y: Floats
    n_missing: int
    paired: bool

    @property
    def n(self) -> int:
        return self.x.size if self.paired else self.x.size + self.y.size

    def estimate(self, estimate: float, low: float | None, high: float | None, p: float | None = None) -> Estimate:
        return Estimate(estimate, low, high, p, self.n, self.n_missing)


def two_groups(values: ArrayLike, by: By, order: Sequence[object] | None, unit: By | None, level: float) -> Two:
    within(level, above=0, below=1, where="level")
    x = as_values(values, where="values")
    grouping = groups_of(by, x.length, order=order)
    if len(grouping.labels) != 2:
        problem = f"A difference is of 2 groups; there {_are(len(grouping.labels))}."
        raise InputError("not-two-groups", problem, where="by", remedy="Keep the rows of two groups.")
    if unit is not None:
        side_by_side = paired_across(values, grouping, unit=unit).values
        whole = np.isfinite(side_by_side).all(axis=1)
        first, second = side_by_side[whole].T
        two = Two(first, second, int(np.count_nonzero(~whole)), paired=True)
        few = "A paired difference needs 2 pairs."
    else:
        places = grouping.places[x.positions]
        one, other = x.values[places == 0], x.values[places == 1]
        in_groups = int(np.count_nonzero(grouping.places >= 0))
        two = Two(one, other, in_groups - one.size - other.size, paired=False)
        few = "A difference needs 2 values in each group."
    if min(two.x.size, two.y.size) < 2:
        raise InputError("too-few-values", few, where="values")
    if max(float(np.abs(two.x).max()), float(np.abs(two.y).max())) > LARGEST:
        raise InputError("too-large", TOO_LARGE, where="values", remedy="Put the variable in a larger unit.")
    return two


def _are(n: int) -> str:
    return "is 1" if n == 1 else f"are {n}"


def no_effect(words: str) -> InputError:
    return InputError("no-effect", words, where="measure", remedy="Choose another measure of the difference.")
