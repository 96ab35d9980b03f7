"""The numbers of one variable within the levels of another."""

from dataclasses import dataclass, replace

import numpy as np
from heron import normality, summary
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.ledger import Used
from heron.readings import Cancellation, Numbers, Subject, numbers_of
from heron.readings.spread import Back, BoxSettings, back_on_source, numbers_with, percent_points
from heron.readings.subject import Whose

from server.studies.snapshots import VariableSnapshot

MOST_GROUPS = 300


@dataclass(frozen=True)
class GroupSpread:
    """The numbers of one level. shapiro: W and p, None where they do not hold."""

    label: str
    n: int
    missing: int
    summary: summary.Summary
    percent_points: Floats
    shapiro_w: float | None
    shapiro_p: float | None
    back: Back | None


@dataclass(frozen=True)
class ByLevels:
    """A variable by the levels of another, in their order."""

    subject: Subject
    by: str
    used: Used
    groups: tuple[GroupSpread, ...]


def split(
    variable: VariableSnapshot, by: VariableSnapshot, settings: BoxSettings, level: float, cancellation: Cancellation
) -> ByLevels:
    """The variable within each level of another that has a row; an InputError where there are too many levels."""
    result = numbers_of(variable, by)
    levels, index = result.series.levels(by.symbol)
    occurring = np.flatnonzero(np.bincount(index[index >= 0], minlength=len(levels)))
    if occurring.size > MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {occurring.size} levels; at most {MOST_GROUPS} are set side by side.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    order = np.argsort(index, kind="stable")
    starts = np.searchsorted(index[order], np.arange(len(levels) + 1))
    parts = []
    for i in occurring.tolist():
        cancellation.check()
        rows = order[starts[i] : starts[i + 1]]
        parts.append(_group(variable, ((by.symbol, levels[i]),), result, rows, settings, level))
    return ByLevels(result.subject, by.label, result.used, tuple(parts))


def _group(
    variable: VariableSnapshot, whose: Whose, result: Numbers, rows: Ints, settings: BoxSettings, level: float
) -> GroupSpread:
    part = result.among(rows)
    numbers = numbers_with(variable, part, settings, level, whose)
    check = normality.shapiro_wilk(part.values)
    return GroupSpread(
        whose[0][1],
        numbers.n,
        numbers.n_missing,
        replace(numbers, modes=numbers.modes[:3]),
        percent_points(variable, part, settings, whose),
        check.statistic,
        check.p_value,
        back_on_source(variable, numbers),
    )
