"""The other tables: groups with their bars and differences, correlations, frequencies, percent points."""

from collections.abc import Iterator

import numpy as np

from heron.checks import Floats, Ints
from heron.chunked import cells_in
from heron.columns import NUMBER_KINDS
from heron.differences import EFFECTS, GROUP_TESTS, LIMITS
from heron.errors import InputError
from heron.figure.build.context import Context, named, titled
from heron.formatting import counted, decimals_for, grouped, percent, significant, typeset
from heron.groups.bars import BARS, CENTRES, told_bars
from heron.ledger import VariableView
from heron.readings import differences as differing
from heron.readings import groups as comparing
from heron.readings import numbers_of, spread
from heron.readings.groups import grouped_rows
from heron.readings.pairs import correlated
from heron.readings.subject import series_of, used_of
from heron.relation import Coefficient
from heron.tables.laid import p_written
from heron.tables.record import Cell, Column, Figure, Footnote, NumberTable, Row, cell, count_of, p_of, share_of
from heron.tables.source import (
    CorrelationSource,
    FrequencySource,
    GroupSource,
    PairsOfGroupsSource,
    QuantileSource,
)

MOST_ACROSS = 40


def group_table(context: Context, source: GroupSource) -> NumberTable:
    """Groups with their centres and bars, and how each differs from a reference."""
    table = context.table
    variable, by = table.variable(source.variable), table.variable(source.by)
    second = table.variable(source.second) if source.second else None
    settings = comparing.CompareSettings(
        by, second, source.centre, source.bars, source.level, source.units, (source.low_percent, source.high_percent),
        source.trim, None, "none", log=False,
    )  # fmt: skip
    found = comparing.groups_reading(variable, settings, context.cancellation)
    centre, unit = CENTRES[source.centre], found.subject.unit
    bar = told_bars(source.bars, level=source.level, percents=(source.low_percent, source.high_percent))
    alone = source.bars in ("sd", "se")
    columns = [
        Column("n", "n"), Column("centre", named(centre.label, unit)),
        Column("bar", BARS[source.bars].label, None, ("bar",)),
    ]  # fmt: skip
    differences = _against(context, source, variable, by, found)
    if differences:
        columns += [Column("difference", _effect_named(source, unit), None, ("difference",)), Column("p", "p")]
    rows: list[Row] = []
    for group in found.groups:
        centred = group.centred
        decimals = decimals_for(variable.decimals, centred.summary.sd)
        cells = [count_of(centred.n), cell("{}", centred.centre, decimals=decimals, se=centred.summary.se)]
        reach = None if centred.high is None or centred.centre is None else centred.high - centred.centre
        cells.append(
            cell("{}", reach, decimals=decimals + (source.bars == "se"), se=centred.summary.se) if alone
            else cell("{} to {}", centred.low, centred.high, decimals=decimals, se=centred.summary.se)
        )  # fmt: skip
        if differences:
            cells += differences.get(group.label, [Cell(), Cell()])
        key = f"group:{group.label}"
        if second is not None and (not rows or not rows[-1].key.startswith(f"{key}:")):
            rows.append(Row(key, group.label))
        inner = f"{key}:{group.second}" if second is not None else key
        label, depth = (group.second, 1) if second is not None else (group.label or "all", 0)
        rows.append(Row(inner, label, tuple(cells), depth, variable.decimals))
    notes = [Footnote("bar", f"{titled(bar)}.")]
    if differences:
        notes.append(Footnote("difference", _difference_words(source)))
    if found.unit_label:
        notes.append(Footnote("", f"n counts {found.unit_label}."))
    notes += [Footnote("", words) for words in _gaps(variable)]
    subject = f"{titled(centre.label)} of {named(found.subject.label, unit)} by {found.by}"
    subject += f" and {found.second}" if found.second else ""
    return NumberTable("groups", context.words(subject), found.by, tuple(columns), tuple(rows), tuple(notes))


def _effect_named(source: GroupSource, unit: str) -> str:
    record = EFFECTS[_effect(source)]
    return named(record.label, unit if record.with_unit else "")


def _effect(source: GroupSource) -> str:
    return source.effect or "mean"


def _against(
    context: Context, source: GroupSource, variable: VariableView, by: VariableView, found: comparing.Comparison
) -> dict[str, list[Cell]]:
    """Of each group its difference from the reference, and the p value of that."""
    if not source.effect or source.second or len(found.groups) < 2:
        return {}
    reference = source.reference or found.groups[0].label
    settings = differing.DifferenceSettings(
        source.effect, reference, source.level, source.units, None, True, "unequal", source.trim
    )
    told = differing.differed(variable, by, settings, context.cancellation)
    result = {reference: [Cell(text="reference"), Cell()]}
    for pair in told.pairs:
        turned = pair.first == reference
        if reference not in (pair.first, pair.second):
            continue
        ends = (pair.estimate, pair.low, pair.high)
        factor = EFFECTS[source.effect].factor
        if turned and None not in ends:
            least, low, high = (1 / end if factor and end else -end for end in ends if end is not None)
            ends = (least, high, low)
        spread_of = None if ends[1] is None or ends[2] is None else (ends[2] - ends[1]) / 4
        decimals = decimals_for(variable.decimals, spread_of) if EFFECTS[source.effect].with_unit else 2
        p = pair.p_value if pair.holm_p is None else pair.holm_p
        result[pair.second if turned else pair.first] = [cell("{} ({} to {})", *ends, decimals=decimals), p_of(p)]
    return result


def _difference_words(source: GroupSource) -> str:
    record = EFFECTS[_effect(source)]
    said = f"Against the reference, with {percent(source.level)} limits"
    said += " for all pairs together" if record.of_means else ", each pair for itself; p adjusted after Holm"
    return f"{said}."


def _gaps(*variables: VariableView) -> Iterator[str]:
    for variable in variables:
        used = used_of(variable, series_of(variable))
        parts = [f"{grouped(used.missing)} without a value"] if used.missing else []
        parts += [f"{grouped(used.set_aside)} set aside"] if used.set_aside else []
        if parts:
            yield f"Rows left out of {typeset(variable.label)}: {' and '.join(parts)}."


def difference_table(context: Context, source: PairsOfGroupsSource) -> NumberTable:
    """Each pair of groups with its difference, and the tests of all groups below."""
    table = context.table
    variable, by = table.variable(source.variable), table.variable(source.by)
    settings = differing.DifferenceSettings(
        source.measure, source.reference, source.level, source.units, variable.beside(source.pair), source.together,
        source.spreads, source.trim,
    )  # fmt: skip
    told = differing.differed(variable, by, settings, context.cancellation)
    if not told.pairs:
        why = told.undefined.get("pairs", "No two groups have the values that it needs.")
        raise InputError("no-pairs", why, where="by", remedy="Choose another measure.")
    adjusted = any(pair.holm_p is not None for pair in told.pairs)
    record = EFFECTS[source.measure]
    unit = typeset(variable.unit) if record.with_unit else ""
    rows = []
    for pair in told.pairs:
        spread_of = None if pair.low is None or pair.high is None else (pair.high - pair.low) / 4
        decimals = decimals_for(variable.decimals, spread_of) if record.with_unit else 2
        cells = [
            cell("{}", pair.estimate, decimals=decimals), cell("{} to {}", pair.low, pair.high, decimals=decimals),
            p_of(pair.p_value), *([p_of(pair.holm_p)] if adjusted else []),
        ]  # fmt: skip
        sign = "/" if record.factor else "\u2212"
        precision = variable.decimals if record.with_unit else None
        rows.append(
            Row(f"pair:{pair.first}:{pair.second}", f"{pair.first} {sign} {pair.second}", tuple(cells), 0, precision)
        )
    columns = [
        Column("difference", named(told.label, unit)),
        Column("limits", f"{percent(source.level)} limits", None, ("limits",)), Column("p", "p"),
        *([Column("holm", "p after Holm")] if adjusted else []),
    ]  # fmt: skip
    limits = LIMITS[told.limits].label if told.limits else "each pair for itself"
    notes = [Footnote("limits", f"{titled(limits)}.")]
    notes += [
        Footnote("", f"{titled(GROUP_TESTS[test.id].caption)}: {_p_said(test.found.p_value)}.") for test in told.tests
    ]
    notes += [Footnote("", f"Pairs are joined by {told.paired}.")] if told.paired else []
    if told.sampled:
        notes.append(Footnote("", f"Told from {counted(told.sampled, 'row')} drawn at random."))
    notes += [Footnote("", words) for words in _gaps(variable)]
    subject = f"{titled(told.label)}: {named(typeset(variable.label), typeset(variable.unit))} by {typeset(by.label)}"
    return NumberTable("group-differences", context.words(subject), "", tuple(columns), tuple(rows), tuple(notes))


def _p_said(p: float | None) -> str:
    return "none" if p is None else f"p {p_written(p)}" if p < 0.001 else f"p = {p_written(p)}"


def correlation_table(context: Context, source: CorrelationSource) -> NumberTable:
    """Coefficients below the diagonal, and n or p above it."""
    variables = [context.table.variable(symbol) for symbol in dict.fromkeys(source.variables)]
    if len(variables) < 2:
        raise InputError("too-few-variables", "Correlations need two variables or more.", where="variables")
    found: dict[tuple[int, int], tuple[Coefficient | None, int]] = {}
    for i in range(len(variables)):
        for j in range(i):
            context.cancellation.check()
            told = correlated(variables[j], variables[i], None, 0.95, context.cancellation).groups[0].found
            found[i, j] = getattr(told, source.coefficient), told.n_pairs
    columns = tuple(Column(f"variable:{each.symbol}", str(i + 1)) for i, each in enumerate(variables))
    rows = []
    for i, variable in enumerate(variables):
        cells = []
        for j in range(len(variables)):
            coefficient, n = found.get((max(i, j), min(i, j)), (None, 0))
            if i == j:
                cells.append(Cell(text="1"))
            elif j < i:
                cells.append(cell("{}", coefficient.estimate if coefficient else None, decimals=2))
            elif source.above == "n":
                cells.append(count_of(n))
            elif source.above == "p":
                cells.append(p_of(coefficient.p_value if coefficient else None))
            else:
                cells.append(Cell())
        rows.append(Row(f"variable:{variable.symbol}", f"{i + 1}. {typeset(variable.label)}", tuple(cells)))
    name = {"pearson": "Pearson's r", "spearman": "Spearman's rank correlation"}[source.coefficient]
    sizes = [n for _, n in found.values()]
    pairs = f"{grouped(min(sizes))} to {grouped(max(sizes))}" if min(sizes) < max(sizes) else grouped(sizes[0])
    notes = [Footnote("", f"{name}, of {pairs} pairs.")]
    if source.above != "none":
        notes.append(Footnote("", f"Above the diagonal: {'numbers of pairs' if source.above == 'n' else 'p values'}."))
    subject = context.words(f"Correlations between {len(variables)} variables")
    return NumberTable("correlations", subject, "", columns, tuple(rows), tuple(notes))


def frequency_table(context: Context, source: FrequencySource) -> NumberTable:
    """How often each level, value or class occurs."""
    table = context.table
    variable = table.variable(source.variable)
    if not source.by:
        return _alone(context, source, variable)
    name = typeset(variable.label)
    by = table.variable(source.by)
    labels, levels, counts = _crossed(variable, by)
    if len(levels) > MOST_ACROSS:
        raise InputError(
            "too-many-groups", f"{by.label} has {len(levels)} levels; at most {MOST_ACROSS} stand side by side.",
            where="by", remedy="Choose a variable with fewer levels.",
        )  # fmt: skip
    wholes = {
        "columns": np.broadcast_to(counts.sum(axis=0), counts.shape),
        "rows": np.broadcast_to(counts.sum(axis=1)[:, None], counts.shape),
        "all": np.full(counts.shape, counts.sum()),
    }.get(source.percents)
    rows = []
    for i, label in enumerate(labels):
        made = [
            count_of(int(n)) if wholes is None else share_of(int(n), int(wholes[i, j]))
            for j, n in enumerate(counts[i])
        ]  # fmt: skip
        total = int(counts[i].sum())
        whole = int(counts.sum()) if source.percents in ("columns", "all") else total
        made.append(count_of(total) if wholes is None else share_of(total, whole))
        rows.append(Row(f"level:{label}", typeset(label), tuple(made)))
    columns = [
        Column(f"level:{level}", typeset(level), int(n)) for level, n in zip(levels, counts.sum(axis=0), strict=True)
    ]
    columns.append(Column("total", "all", int(counts.sum())))
    said = {"columns": "Percents are of the rows of a column.", "rows": "Percents are of the rows of a line.",
            "all": "Percents are of all rows."}.get(source.percents)  # fmt: skip
    notes = [Footnote("", said)] if said else []
    notes += [Footnote("", words) for words in _gaps(variable, by)]
    subject = context.words(f"{titled(name)} by {typeset(by.label)}: counts{'' if wholes is None else ' (percent)'}")
    return NumberTable("frequencies", subject, name, tuple(columns), tuple(rows), tuple(notes))


def _crossed(variable: VariableView, by: VariableView) -> tuple[list[str], list[str], Ints]:
    """Levels of both, and (n_levels, n_levels_by) how often they occur together."""
    series, chunks = series_of(variable, by), variable.table.chunks
    (own, places), (others, columns) = (series.levels_or_numbers(each.symbol) for each in (variable, by))
    if chunks is None:
        known = (places >= 0) & (columns >= 0)
        sums = np.bincount(places[known] * len(others) + columns[known], minlength=len(own) * len(others))
        counts = sums.reshape(len(own), len(others))
    else:
        found = cells_in(chunks, variable.symbol, by.symbol)
        own = [*own, *sorted({one for one, _ in found} - set(own))]
        others = [*others, *sorted({other for _, other in found} - set(others))]
        counts = np.zeros((len(own), len(others)), dtype=np.int64)
        for (one, other), n in found.items():
            counts[own.index(one), others.index(other)] = n
    kept, across = np.flatnonzero(counts.sum(axis=1)), np.flatnonzero(counts.sum(axis=0))
    if kept.size > 300:
        raise InputError(
            "too-many-values", f"{variable.label} has {kept.size} different values; at most 300 have a line each.",
            where="variable", remedy="Put it in classes under Spread first, and keep these as a variable.",
        )  # fmt: skip
    return [own[i] for i in kept], [others[i] for i in across], counts[np.ix_(kept, across)]


def _alone(context: Context, source: FrequencySource, variable: VariableView) -> NumberTable:
    _, used, counts = spread.counts(variable)
    name = typeset(variable.label)
    if len(counts.rows) > 300:
        raise InputError(
            "too-many-values", f"{variable.label} has {len(counts.rows)} different values; at most 300 have a line "
            "each.", where="variable", remedy="Put it in classes under Spread first, and keep these as a variable.",
        )  # fmt: skip
    rows = [
        Row(
            f"level:{row.value}", typeset(row.value) if isinstance(row.value, str) else f"{row.value:.12g}",
            (
                count_of(row.count), Cell(figures=(Figure(row.percent, "percent", 1),)),
                count_of(row.cumulative_count), Cell(figures=(Figure(row.cumulative_percent, "percent", 1),)),
            ),
        ) for row in counts.rows
    ]  # fmt: skip
    if source.missing and used.missing:
        rows.append(Row("missing", "missing", (count_of(used.missing), Cell(), Cell(), Cell())))
    columns = (
        Column("count", "count"), Column("percent", "percent"), Column("below", "count so far"),
        Column("share", "percent so far"),
    )  # fmt: skip
    notes = [Footnote("", f"n = {grouped(counts.n)}."), *(Footnote("", words) for words in _gaps(variable))]
    heading = named(name, typeset(variable.unit))
    subject = context.words(f"Frequencies of {heading}")
    return NumberTable("frequencies", subject, titled(heading), columns, tuple(rows), tuple(notes))


def quantile_table(context: Context, source: QuantileSource) -> NumberTable:
    """Percent points of variables, or of one within levels."""
    table = context.table
    variables = [table.variable(symbol) for symbol in dict.fromkeys(source.variables)]
    by = table.variable(source.by) if source.by else None
    if not variables or not source.percents:
        raise InputError("no-variables", "It needs a variable and a percent.", where="variables", remedy="Choose one.")
    settings = spread.BoxSettings(source.quantile_definition, tuple(source.percents))
    rows: list[Row] = []
    for variable in variables:
        if variable.kind not in NUMBER_KINDS:
            raise InputError("not-numeric", f"{variable.label} is {variable.kind}, not a number.", where="variables")
        whole = numbers_of(variable)
        name = named(typeset(variable.label), typeset(variable.unit))
        sd = spread.numbers_with(variable, whole, settings, 0.95).sd
        decimals = decimals_for(variable.decimals, sd)

        def line(points: Floats, n: int, decimals: int = decimals) -> tuple[Cell, ...]:
            return count_of(n), *(cell("{}", float(point), decimals=decimals) for point in points)

        key = f"variable:{variable.symbol}"
        points = spread.percent_points(variable, whole, settings)
        n = whole.used.n
        if by is None:
            rows.append(Row(key, name, line(points, n), 0, variable.decimals))
            continue
        rows.append(Row(key, name))
        laid = grouped_rows(variable, by, None)
        for i, entries in enumerate(laid.entries()):
            label = laid.labels[int(laid.cells[i])]
            among, whose = whole.among(entries), laid.whose(i)
            of_level = spread.numbers_with(variable, among, settings, 0.95, whose)
            points = spread.percent_points(variable, among, settings, whose)
            made = line(points, of_level.n)
            rows.append(Row(f"{key}:level:{label}", typeset(label), made, 1, variable.decimals))
    columns = (
        Column("n", "n"),
        *(Column(f"percent:{share:g}", f"{significant(share)} %") for share in source.percents),
    )
    how = "hinges" if source.quantile_definition == "hinges" else f"definition {source.quantile_definition}"
    notes = [Footnote("", f"Percent points by {how}."), *(Footnote("", words) for words in _gaps(*variables))]
    listed = ", ".join(typeset(variable.label) for variable in variables[:6])
    subject = context.words(f"Percent points of {listed}{f' by {typeset(by.label)}' if by else ''}")
    return NumberTable("percent-points", subject, "", columns, tuple(rows), tuple(notes))
