"""Repeated measures: which values belong together across groups."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints
from heron.grouping import By, groups_of


@dataclass(frozen=True)
class Paired:
    """values: (n_units, n_groups) the mean of each unit in each group, NaN where it has none; units: (n_units,) which,
    by their code; n_joined: units with a value in 2 groups or more; n_alone: the others."""

    units: Ints
    values: Floats
    n_joined: int
    n_alone: int


def paired_across(values: ArrayLike, by: By, *, order: Sequence[object] | None = None, unit: By) -> Paired:
    """Return the values of each unit side by side.

    Parameters: values (n_rows,) floats, NaN for missing; by and order, the groups, and unit, what a row is of, as
    `groups_of` takes them.
    """
    x = np.asarray(values, dtype=np.float64)
    grouping = groups_of(by, x.size, order=order)
    group, unit_of = grouping.places, groups_of(unit, x.size, where="unit").places
    n_groups = len(grouping.labels)
    known = np.flatnonzero(np.isfinite(x) & (group >= 0) & (unit_of >= 0))
    units, code = np.unique(unit_of[known], return_inverse=True)
    cell = code * n_groups + group[known]
    size = units.size * n_groups
    sums = np.bincount(cell, weights=x[known] / 2, minlength=size)
    counts = np.bincount(cell, minlength=size)
    table = np.full(size, np.nan)
    table[counts > 0] = sums[counts > 0] / counts[counts > 0] * 2
    side_by_side = table.reshape(units.size, n_groups)
    joined = int(np.count_nonzero((~np.isnan(side_by_side)).sum(axis=1) > 1))
    return Paired(units, side_by_side, joined, int(units.size) - joined)
