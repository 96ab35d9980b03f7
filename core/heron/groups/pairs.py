"""Repeated measures: which values belong together across groups."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, same_length


@dataclass(frozen=True)
class Paired:
    """values: (n_units, n_groups) the mean of each unit in each group, NaN where it has none; units: (n_units,) which,
    by their code; n_joined: units with a value in 2 groups or more; n_alone: the others."""

    units: Ints
    values: Floats
    n_joined: int
    n_alone: int


def paired_across(values: ArrayLike, group: Ints, unit: Ints, n_groups: int) -> Paired:
    """Return the values of each unit side by side.

    Parameters: values (n_rows,) floats, NaN for missing; group, unit (n_rows,) codes, -1 for none.
    """
    x = np.asarray(values, dtype=np.float64)
    same_length(x.size, group.size, where="group")
    same_length(x.size, unit.size, where="unit")
    known = np.flatnonzero(np.isfinite(x) & (group >= 0) & (unit >= 0))
    units, code = np.unique(unit[known], return_inverse=True)
    place = code * n_groups + group[known]
    size = units.size * n_groups
    sums = np.bincount(place, weights=x[known] / 2, minlength=size)
    counts = np.bincount(place, minlength=size)
    table = np.full(size, np.nan)
    table[counts > 0] = sums[counts > 0] / counts[counts > 0] * 2
    side_by_side = table.reshape(units.size, n_groups)
    joined = int(np.count_nonzero((~np.isnan(side_by_side)).sum(axis=1) > 1))
    return Paired(units, side_by_side, joined, int(units.size) - joined)
