"""Rows of one variable that rules name, and rows that lie far over several variables together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron import outliers, sensitivity, thinning
from heron.checks import Floats, Ints, to_the_largest
from heron.chunked import (
    MOST_LISTED,
    Far,
    FarFrom,
    Flagged,
    FlaggedBy,
    Rows,
    RowsAt,
    cells_in,
    far_from,
    joined_rows,
    strongest,
)
from heron.errors import InputError
from heron.grouping import Grouping, groups_of
from heron.ledger import Chunks, TableView, VariableView, in_rounds, load_series
from heron.ordered import Ordered
from heron.quantiles import of_sorted
from heron.readings.cancellation import Cancellation
from heron.readings.subject import Subject, in_parts, series_of, subject_of

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
class Points:
    """Rows of a plot: (k,) their positions, their values and the places of their groups, -1 for none; whether some rule
    flags them."""

    positions: Ints
    values: Floats
    groups: Ints
    flagged: NDArray[np.bool_]


@dataclass(frozen=True)
class FlaggedRows:
    """What rules say of the rows of a variable.

    labels: the levels that rows are taken within. median: of the values. first: flagged rows, those named by most
    rules, and most strongly, first; all of them, but of more than 100,000 in a long table the first 300. named, scores:
    (k, n_rules) of these. shown: the points of a plot, at most so many, with at least the first 300 of those flagged;
    drawn: of how many rows, drawn at random, they are, 0 for all.
    """

    labels: tuple[str, ...]
    rules: tuple[RuleFound, ...]
    counts: outliers.FlagCounts
    median: float
    first: Points
    named: NDArray[np.bool_]
    scores: Floats
    shown: Points
    drawn: int = 0


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
    _check_groups(by, len(result.labels))
    return result


def levels_in(variable: VariableView, by: VariableView | None) -> tuple[str, ...]:
    """The levels in a long table that rows are taken within; one group of all rows without `by`."""
    chunks = variable.table.chunks
    if by is None or chunks is None:
        return ("",)
    of_sample = series_of(variable, by).grouping(by.symbol).labels
    found = {label for (label,) in cells_in(chunks, by.symbol)}
    _check_groups(by, len(found))
    return tuple([label for label in of_sample if label in found] + sorted(found - set(of_sample)))


def _check_groups(by: VariableView, n_levels: int) -> None:
    if n_levels > _MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {n_levels} levels; at most {_MOST_GROUPS} are looked at one by one.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )


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
    if variable.table.chunks is not None:
        return _flagged_in(variable.table.chunks, variable, by, rules, options)
    x = numbers(variable)
    grouping = grouping_of(by, x.size)
    labels, index = grouping.labels, grouping.places
    named = np.zeros((x.size, len(rules)), dtype=bool)
    scores = np.full((x.size, len(rules)), np.nan)
    result = []
    for rule_index, rule in enumerate(rules):
        cancellation.check()
        chosen = _settings(rule, options)
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
    cutoffs = np.array([_number(told.cutoff) or 1 for told in result])
    first = flagged[strongest(named[flagged], scores[flagged], cutoffs)]
    known = np.flatnonzero(~np.isnan(x) & (index >= 0))
    shown = np.union1d(thinning.points(known, x[known]), first[:MOST_ROWS])
    n = int(np.count_nonzero(~np.isnan(x)))
    median = float(of_sorted(np.sort(x[~np.isnan(x)]), np.array([0.5]), 7)[0])
    return FlaggedRows(
        labels,
        tuple(result),
        outliers.FlagCounts(
            n,
            flagged.size,
            int(np.count_nonzero(named[flagged].all(axis=1))),
            int(np.count_nonzero(x[flagged] > median)),
        ),
        median,
        Points(first, x[first], index[first], np.ones(first.size, dtype=bool)),
        named[first],
        scores[first],
        Points(shown, x[shown], index[shown], np.asarray(named[shown].any(axis=1))),
    )


def _settings(rule: outliers.Rule, options: Mapping[str, Any]) -> dict[str, Any]:
    offered = {option.name for option in outliers.RULES[rule].options}
    return {name: value for name, value in options.items() if name in offered}


_TESTS = "It tests the values of a sample together; in a table this long a rule that judges each value says more."


def _flagged_in(
    chunks: Chunks,
    variable: VariableView,
    by: VariableView | None,
    rules: Sequence[outliers.Rule],
    options: Mapping[str, Any],
) -> FlaggedRows:
    """The same of all rows of a long table, by the rules that judge each value by itself."""
    load_series(chunks.state.part(0), [variable.symbol], weights="refuse")
    series = series_of(variable, by)
    labels, index = levels_in(variable, by), np.zeros(series.n, dtype=np.int64)
    if by is not None:
        of_sample = series.grouping(by.symbol)
        at = [labels.index(label) if label in labels else -1 for label in of_sample.labels]
        index = np.array([*at, -1], dtype=np.int64)[of_sample.places]
    whole = in_parts(variable, chunks, ())
    groups = [in_parts(variable, chunks, ((by.symbol, label),)) for label in labels] if by is not None else [whole]

    def verdicts(values: Ordered) -> tuple[outliers.Verdict, ...]:
        return tuple(_verdict(rule, values, options) for rule in rules)

    in_rounds(chunks, lambda: of_sorted(whole, np.array([0.5]), 7), *(partial(verdicts, values) for values in groups))
    judged = tuple(map(verdicts, groups))
    median = float(of_sorted(whole, np.array([0.5]), 7)[0])
    look = FlaggedBy(variable.symbol, "" if by is None else by.symbol, labels, judged, median)
    flagged: Flagged = chunks.over(look)[0]
    if flagged.positions.size < flagged.n_flagged <= MOST_LISTED:
        flagged = chunks.over(replace(look, most=MOST_LISTED))[0]
    flagged = flagged.at(look.first(flagged))
    limits = to_the_largest(
        np.array([[[_number(v.low), _number(v.high)] for v in one] for one in judged]).reshape(
            len(labels), len(rules), 2
        )
    )
    told = [
        _rule_found(rule, int(flagged.by_rule[i]), [one[i] for one in judged], limits[:, i], by is None)
        for i, rule in enumerate(rules)
    ]
    x = series.numbers(variable.symbol)
    known = np.flatnonzero(~np.isnan(x) & (index >= 0))
    drawn = known[np.isin(known, thinning.points(known, x[known]))]
    first = Points(flagged.positions, flagged.values, flagged.groups, np.ones(flagged.positions.size, dtype=bool))
    beyond = np.zeros(x.size, dtype=bool)
    for i, one in enumerate(judged):
        rows = drawn[index[drawn] == i]
        for verdict in one:
            beyond[rows] |= verdict.beyond(x[rows])
    return FlaggedRows(
        labels,
        tuple(told),
        outliers.FlagCounts(flagged.n, flagged.n_flagged, flagged.n_agreed, flagged.n_above),
        median,
        first,
        flagged.named.reshape(-1, len(rules)),
        flagged.scores.reshape(-1, len(rules)),
        _with_first(Points(series.positions(drawn), x[drawn], index[drawn], beyond[drawn]), first),
        series.n,
    )


def _verdict(rule: outliers.Rule, values: Ordered, options: Mapping[str, Any]) -> outliers.Verdict:
    judge = outliers.RULES[rule].judge
    if judge is None:
        return outliers.Verdict(why=_TESTS)
    if values.size == 0:
        return outliers.Verdict(why="There is no value.")
    return judge(values, **_settings(rule, options))


def _rule_found(
    rule: outliers.Rule, n_flagged: int, verdicts: Sequence[outliers.Verdict], limits: Floats, alone: bool
) -> RuleFound:
    """limits: (n_groups, 2)."""
    why = next((verdict.why or verdict.unscored for verdict in verdicts if verdict.why or verdict.unscored), "")
    if why and not alone and outliers.RULES[rule].judge is not None:
        why = "Some groups are too small or have no spread."
    low, high = (float(limit) if alone and np.isfinite(limit) else None for limit in limits[0])
    cutoff = next((verdict.cutoff for verdict in verdicts if verdict.cutoff is not None), None)
    cautions = tuple(dict.fromkeys(caution for verdict in verdicts for caution in verdict.cautions))
    return RuleFound(
        rule, n_flagged, low, high, limits[:, 0], limits[:, 1], cutoff, None, outliers.RULES[rule].help, cautions, why
    )


def _with_first(drawn: Points, first: Points) -> Points:
    """Points with the first of the flagged rows, each row once, ascending."""
    both = [
        np.concatenate((getattr(drawn, name), getattr(first, name)[:MOST_ROWS]))
        for name in ("positions", "values", "groups", "flagged")
    ]
    places = np.unique(both[0], return_index=True)[1]
    return Points(*(each[places] for each in both))


def _number(value: float | None) -> float:
    return np.nan if value is None else value


@dataclass(frozen=True)
class FarRows:
    """Distances over several variables: of n complete rows how many lie beyond the cut-off, and how many of these the
    plain distance does not name; and rows loaded, all of the table, or of a long one a sample and the farthest.

    positions: of the rows loaded, ascending, robust and classical: their distances, NaN where a variable is missing;
    first: places of the rows beyond the cut-off, the farthest first; shown: of the points of a plot, with at least the
    first 300 of those. sampled: how many rows were drawn, 0 where all are loaded.
    """

    variables: tuple[VariableView, ...]
    cutoff: float
    reference: str
    n_fitted: int
    n: int
    n_missing: int
    n_flagged: int
    n_hidden: int
    positions: Ints
    robust: Floats
    classical: Floats
    first: Ints
    shown: Ints
    look: FarFrom | None = None
    sampled: int = 0


def far_rows(table: TableView, symbols: Sequence[str], cancellation: Cancellation) -> FarRows:
    """Rows far over several variables together, worked once."""
    chunks = table.chunks
    far_rows: FarRows = table.remembered(
        ("far", tuple(symbols)),
        lambda: _far(table, symbols, cancellation) if chunks is None else _far_in(table, chunks, symbols, cancellation),
    )
    return far_rows


def _far(table: TableView, symbols: Sequence[str], cancellation: Cancellation) -> FarRows:
    variables = [table.variable(symbol) for symbol in dict.fromkeys(symbols)]
    columns = {variable.label: numbers(variable) for variable in variables}
    cancellation.check()
    result = outliers.robust_distances(columns, progress=cancellation.progress)
    first = result.flagged[np.argsort(-result.robust[result.flagged])]
    known = np.flatnonzero(~np.isnan(result.robust))
    return FarRows(
        tuple(variables),
        result.cutoff,
        result.reference,
        result.n_fitted,
        result.n,
        result.n_missing,
        result.flagged.size,
        int(np.count_nonzero(result.classical[result.flagged] <= result.cutoff)),
        np.arange(result.robust.size),
        result.robust,
        result.classical,
        first,
        np.union1d(thinning.points(known, result.robust[known]), first[:MOST_ROWS]),
    )


def _far_in(table: TableView, chunks: Chunks, symbols: Sequence[str], cancellation: Cancellation) -> FarRows:
    """The same of all rows of a long table, from a middle that is found in its sample."""
    variables = [table.variable(symbol) for symbol in dict.fromkeys(symbols)]
    if len(variables) < 2:
        raise InputError("too-few-variables", "Distances need two variables or more.", where="columns")
    load_series(chunks.state.part(0), [variable.symbol for variable in variables], weights="refuse")
    series = series_of(*variables)
    x = np.column_stack([series.numbers(variable.symbol) for variable in variables])
    known = np.flatnonzero(np.isfinite(x).all(axis=1))
    cancellation.check()
    names = [variable.label for variable in variables]
    look = far_from(chunks, [variable.symbol for variable in variables], outliers.middle_of(names, x[known]))
    far: Far = chunks.over(look)[0]
    drawn = look.fitted.rows_of(series)
    others = far.first.at(np.flatnonzero(~np.isin(far.first.positions, drawn.positions)))
    rows = joined_rows([drawn, others], len(variables) - 1)
    rows = rows.at(np.argsort(rows.positions, kind="stable"))
    robust, classical = look.distances(rows)
    first = np.searchsorted(rows.positions, far.first.positions)
    loaded = np.arange(rows.y.size)
    middle = look.middle
    return FarRows(
        tuple(variables),
        middle.cutoff,
        middle.reference,
        middle.n_fitted,
        far.n,
        far.n_rows - far.n,
        far.n_flagged,
        far.n_hidden,
        rows.positions,
        robust,
        classical,
        first,
        np.union1d(thinning.points(loaded, robust), first[:MOST_ROWS]),
        look,
        series.n,
    )


def n_far_of(table: TableView, found: FarRows, positions: Ints) -> int:
    """How many of some rows lie beyond the cut-off."""
    chunks = table.chunks
    if chunks is None or found.look is None:
        return int(np.count_nonzero(found.robust[positions] > found.cutoff))
    rows: Rows = chunks.over(RowsAt(found.look.fitted, tuple(positions.tolist())))[0]
    return int(np.count_nonzero(found.look.distances(rows)[0] > found.cutoff)) if rows.y.size else 0
