"""One variable within the levels of another: each level with its numbers, its box and its curve."""

from dataclasses import dataclass, replace

import numpy as np
from heron import density, groups, normality, quantiles, summary
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.variables import labels_of

from server.readings.overtaken import Wanted
from server.readings.selectors import Subject, Used, numbers_of
from server.studies import store
from server.studies.models import Variable
from server.studies.selectors import zero_means_none

MOST_GROUPS = 300
_CURVE_POINTS = 160


@dataclass(frozen=True)
class GroupSpread:
    """The values of one level.

    outlier_values: (k,) of the box's outlier_rows, rows counted from 1. x, heights: (n_points,) its density, empty
    where it cannot be drawn, with the reason. shapiro: W and p, None where they do not hold.
    """

    label: str
    n: int
    missing: int
    summary: summary.Summary
    box: groups.Box
    outlier_values: Floats
    x: Floats
    heights: Floats
    no_curve: str
    shapiro_w: float | None
    shapiro_p: float | None


@dataclass(frozen=True)
class ByLevels:
    """A variable by the levels of another, in their order. without_level: rows with a value but no level."""

    subject: Subject
    by: str
    used: Used
    groups: tuple[GroupSpread, ...]
    without_level: int
    n_levels: int


def split(variable: Variable, by: Variable, definition: quantiles.Definition, level: float, wanted: Wanted) -> ByLevels:
    """The variable within each level of another that has a row; an InputError where there are too many levels."""
    subject, column, used = numbers_of(variable)
    levels, index = labels_of(store.column(by))
    here = np.flatnonzero(np.bincount(index[index >= 0], minlength=len(levels)))
    if here.size > MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {here.size} levels; at most {MOST_GROUPS} are set side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    assert column.numbers is not None
    order = np.argsort(index, kind="stable")
    starts = np.searchsorted(index[order], np.arange(len(levels) + 1))
    found = []
    for i in here.tolist():
        wanted.check()
        rows = order[starts[i] : starts[i + 1]]
        found.append(_group(variable, levels[i], column.numbers[rows], rows, definition, level))
    without = int(np.count_nonzero((index < 0) & (column.reasons == 0)))
    return ByLevels(subject, by.label, used, tuple(found), without, here.size)


def _group(
    variable: Variable, label: str, values: Floats, rows: Ints, definition: quantiles.Definition, level: float
) -> GroupSpread:
    numbers = summary.summarize(
        values, quantile_definition=definition, level=level, true_zero=zero_means_none(variable)
    )
    box = groups.box(values, quantile_definition=definition).groups[0]
    x, heights, why = np.empty(0), np.empty(0), ""
    try:
        curve = density.estimate(values, lower=variable.lower, upper=variable.upper, points=_CURVE_POINTS)
        x, heights = curve.x, curve.density
    except InputError as error:
        why = error.problem
    check = normality.check(values).shapiro_wilk
    return GroupSpread(
        label,
        numbers.n,
        numbers.n_missing,
        _few_modes(numbers),
        _rows_of(box, rows),
        values[box.outlier_rows],
        x,
        heights,
        why,
        check.statistic,
        check.p_value,
    )


def _few_modes(numbers: summary.Summary) -> summary.Summary:
    return replace(numbers, modes=numbers.modes[:3])


def _rows_of(box: groups.Box, rows: Ints) -> groups.Box:
    return replace(box, outlier_rows=rows[box.outlier_rows] + 1, far_rows=rows[box.far_rows] + 1)
