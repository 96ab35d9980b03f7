"""One variable within the levels of another: each level with its numbers, its box, its classes and its curve."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from heron import density, frequency, groups, normality, summary
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.ledger import Used
from heron.readings import Cancellation, Numbers, Subject, numbers_of
from heron.readings.spread import (
    Axis,
    Back,
    BoxSettings,
    back_on_source,
    bounds_on,
    box_of,
    classes_of,
    numbers_with,
    on_axis,
    percent_points,
    rows_from_one,
)

from server.studies.snapshots import VariableSnapshot

MOST_GROUPS = 300
_CURVE_POINTS = 160
_RUG = 400


@dataclass(frozen=True)
class CurveSettings:
    """How curves and classes are drawn."""

    bandwidth: float | density.BandwidthRule = "silverman"
    kernel: density.Kernel = "gaussian"
    axis: Axis = "straight"


@dataclass(frozen=True)
class GroupSpread:
    """The values of one level.

    box: its rows counted from 1. x, heights: (n_points,) its density, empty
    where it cannot be drawn, with the reason. counts: (n_classes,) of the classes that all levels share. rug: (k,) at
    most 400 of its values. shapiro: W and p, None where they do not hold.
    """

    label: str
    n: int
    missing: int
    summary: summary.Summary
    percent_points: Floats
    box: groups.Box
    x: Floats
    heights: Floats
    no_curve: str
    counts: Ints
    rug: Floats
    shapiro_w: float | None
    shapiro_p: float | None
    back: Back | None


@dataclass(frozen=True)
class ByLevels:
    """A variable by the levels of another, in their order; by "" as one. boundaries: (n_classes + 1,) of the classes,
    empty where there are none. without_level: rows with a value but no level."""

    subject: Subject
    by: str
    used: Used
    groups: tuple[GroupSpread, ...]
    whiskers: str
    boundaries: Floats
    class_width: float | None
    bandwidth_rule: str
    kernel: density.Kernel
    axis: Axis
    without_level: int
    n_levels: int


def split(
    variable: VariableSnapshot,
    by: VariableSnapshot | None,
    box: BoxSettings,
    curve: CurveSettings,
    cut: dict[str, Any],
    level: float,
    cancellation: Cancellation,
) -> ByLevels:
    """The variable within each level of another that has a row; an InputError where there are too many levels."""
    found = numbers_of(variable, by)
    if by is None:
        levels, index = ["all rows"], np.zeros(found.values.size, dtype=np.int64)
    else:
        levels, index = found.series.levels(by.symbol)
    here = np.flatnonzero(np.bincount(index[index >= 0], minlength=len(levels)))
    if here.size > MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label if by else ''} has {here.size} levels; at most {MOST_GROUPS} are set side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    drawn = replace(found, values=on_axis(found, curve.axis))
    try:
        shared = classes_of(found, curve.axis, cut)
    except InputError:
        shared = None
    order = np.argsort(index, kind="stable")
    starts = np.searchsorted(index[order], np.arange(len(levels) + 1))
    parts = []
    for i in here.tolist():
        cancellation.check()
        own = order[starts[i] : starts[i + 1]]
        parts.append(_group(variable, levels[i], found, drawn, own, box, curve, shared, level))
    without = int(np.count_nonzero((index < 0) & ~np.isnan(found.values)))
    rule = curve.bandwidth if isinstance(curve.bandwidth, str) else f"{curve.bandwidth:g}"
    return ByLevels(
        found.subject,
        by.label if by else "",
        found.used,
        tuple(parts),
        box.words(),
        np.empty(0) if shared is None else shared.boundaries,
        None if shared is None else shared.width,
        rule,
        curve.kernel,
        curve.axis,
        without,
        here.size,
    )


def _group(
    variable: VariableSnapshot,
    label: str,
    found: Numbers,
    drawn: Numbers,
    own: Ints,
    box: BoxSettings,
    curve: CurveSettings,
    shared: frequency.Classes | None,
    level: float,
) -> GroupSpread:
    values = found.values[own]
    part = replace(found, values=values, at=found.positions(own))
    numbers = numbers_with(variable, part, box, level)
    glyph = box_of(values, box)
    x, heights, why = np.empty(0), np.empty(0), ""
    low, high = bounds_on(variable, curve.axis)
    try:
        estimate = density.estimate(
            drawn.values[own],
            bandwidth=curve.bandwidth,
            kernel=curve.kernel,
            lower=low,
            upper=high,
            points=_CURVE_POINTS,
        )
        x, heights = estimate.x if curve.axis == "straight" else 10.0**estimate.x, estimate.density
    except InputError as error:
        why = error.problem
    counts = np.empty(0, dtype=np.int64)
    if shared is not None:
        place = frequency.places(values, shared.boundaries, closed=shared.closed)
        counts = np.bincount(place[place >= 0], minlength=shared.counts.size)
    known = np.sort(values[~np.isnan(values)])
    rug = known[np.linspace(0, known.size - 1, _RUG).astype(int)] if known.size > _RUG else known
    check = normality.shapiro_wilk(values)
    return GroupSpread(
        label,
        numbers.n,
        numbers.n_missing,
        replace(numbers, modes=numbers.modes[:3]),
        percent_points(part, box),
        rows_from_one(glyph, part),
        x,
        heights,
        why,
        counts,
        rug,
        check.statistic,
        check.p_value,
        back_on_source(variable, numbers),
    )
