"""Rows of one variable that rules name, and rows that lie far over several variables together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron import outliers, sensitivity, thinning
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.grouping import Grouping, groups_of
from heron.ledger import TableView, VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.subject import Subject, series_of, subject_of

MOST_ROWS = 300
_MOST_GROUPS = 60


@dataclass(frozen=True)
class RuleFound:
    """What one rule says. low, high: limits in the unit of the data; limits_low, limits_high: (n_groups,) the limits
    within each group, NaN where there are none; cutoff: of its scores; why: why it says nothing, "" where it does."""

    rule: outliers.Rule
    n_flagged: int
    low: float | None
    high: float | None
    limits_low: Floats
    limits_high: Floats
    cutoff: float | None
    p_value: float | None
    assumes: str
    cautions: tuple[str, ...]
    why: str


@dataclass(frozen=True)
class FlaggedRows:
    """What rules name among the n_rows of a variable. values: (n_rows,); labels: the levels that rows are taken within;
    groups: (n_rows,) the place of each row among them, -1 for none. named, scores: (n_rows, n_rules). flagged: (k,)
    positions of the rows named by some rule; first: those of them named by most rules, and most strongly, first.
    shown: positions of the points of a plot, at most so many, with at least the first 300 of those flagged."""

    values: Floats
    labels: tuple[str, ...]
    groups: Ints
    rules: tuple[RuleFound, ...]
    named: NDArray[np.bool_]
    scores: Floats
    flagged: Ints
    first: Ints
    shown: Ints


@dataclass(frozen=True)
class LeftOut:
    """A statistic without each row: positions (n_sent,) from 1, values (n_sent,); furthest: the row without which it
    moves most."""

    subject: Subject
    statistic: sensitivity.Statistic
    whole: float | None
    positions: Ints
    values: Floats
    furthest: int | None
    undefined: dict[str, str]


def left_out_of(variable: VariableView, statistic: sensitivity.Statistic) -> LeftOut:
    result = sensitivity.leave_one_out(numbers(variable), statistic)
    known = np.flatnonzero(~np.isnan(result.values))
    sent = thinning.points(known, result.values[known])
    furthest = None if result.furthest is None else result.furthest + 1
    return LeftOut(
        subject_of(variable), statistic, result.whole, sent + 1, result.values[sent], furthest, result.undefined
    )


def numbers(variable: VariableView) -> Floats:
    """(n_rows,) the numbers of a variable, row by row; refused where rows are weighted."""
    return series_of(variable, weights="refuse").numbers(variable.symbol)


def grouping_of(by: VariableView | None, n_rows: int) -> Grouping:
    """The levels that rows are taken within; one group of all rows without `by`."""
    if by is None:
        return groups_of(None, n_rows)
    result = series_of(by, weights="ignore").grouping(by.symbol)
    if len(result.labels) > _MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {len(result.labels)} levels; at most {_MOST_GROUPS} are looked at one by one.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    return result


def flagged_rows(
    variable: VariableView,
    by: VariableView | None,
    rules: Sequence[outliers.Rule],
    options: Mapping[str, Any],
    cancellation: Cancellation,
) -> FlaggedRows:
    """What rules name, worked once."""
    question = "flagged", variable.symbol, "" if by is None else by.symbol, tuple(rules), tuple(sorted(options.items()))
    flagged_rows: FlaggedRows = variable.table.remembered(
        question, lambda: _flagged(variable, by, rules, options, cancellation)
    )
    return flagged_rows


def _flagged(
    variable: VariableView,
    by: VariableView | None,
    rules: Sequence[outliers.Rule],
    options: Mapping[str, Any],
    cancellation: Cancellation,
) -> FlaggedRows:
    x = numbers(variable)
    grouping = grouping_of(by, x.size)
    labels, index = grouping.labels, grouping.places
    named = np.zeros((x.size, len(rules)), dtype=bool)
    scores = np.full((x.size, len(rules)), np.nan)
    result = []
    for rule_index, rule in enumerate(rules):
        cancellation.check()
        offered = {option.name for option in outliers.RULES[rule].options}
        chosen = {name: value for name, value in options.items() if name in offered}
        low, high = np.full(len(labels), np.nan), np.full(len(labels), np.nan)
        flags = outliers.flag_outliers(x, None if by is None else grouping, rule=rule, **chosen)
        for i in range(len(labels)):
            limits = flags if by is None else outliers.flag_outliers(x[index == i], rule=rule, **chosen)
            low[i], high[i] = _number(limits.low), _number(limits.high)
        named[flags.flagged, rule_index] = True
        scores[:, rule_index] = flags.scores
        result.append(
            RuleFound(
                rule,
                int(flags.flagged.size),
                flags.low,
                flags.high,
                low,
                high,
                flags.cutoff,
                flags.p_value,
                outliers.RULES[rule].help,
                flags.cautions,
                flags.undefined.get("scores", ""),
            )
        )
    flagged = np.flatnonzero(named.any(axis=1))
    strength = np.nan_to_num(np.abs(scores) / [_number(told.cutoff) or 1 for told in result], nan=0).max(
        axis=1, initial=0
    )
    known = np.flatnonzero(~np.isnan(x) & (index >= 0))
    return FlaggedRows(
        x,
        labels,
        index,
        tuple(result),
        named,
        scores,
        flagged,
        flagged[np.lexsort((-strength[flagged], -named[flagged].sum(axis=1)))],
        np.union1d(thinning.points(known, x[known]), flagged[:MOST_ROWS]),
    )


def _number(value: float | None) -> float:
    return np.nan if value is None else value


@dataclass(frozen=True)
class FarRows:
    """Distances over several variables. first: positions of the rows beyond the cut-off, the farthest first; shown:
    positions of the points of a plot, with at least the first 300 of those."""

    variables: tuple[VariableView, ...]
    found: outliers.Distances
    first: Ints
    shown: Ints


def far_rows(table: TableView, symbols: Sequence[str], cancellation: Cancellation) -> FarRows:
    """Rows far over several variables together, worked once."""
    far_rows: FarRows = table.remembered(("far", tuple(symbols)), lambda: _far(table, symbols, cancellation))
    return far_rows


def _far(table: TableView, symbols: Sequence[str], cancellation: Cancellation) -> FarRows:
    variables = [table.variable(symbol) for symbol in dict.fromkeys(symbols)]
    columns = {variable.label: numbers(variable) for variable in variables}
    cancellation.check()
    result = outliers.robust_distances(columns, progress=cancellation.progress)
    first = result.flagged[np.argsort(-result.robust[result.flagged])]
    known = np.flatnonzero(~np.isnan(result.robust))
    shown = np.union1d(thinning.points(known, result.robust[known]), first[:MOST_ROWS])
    return FarRows(tuple(variables), result, first, shown)
