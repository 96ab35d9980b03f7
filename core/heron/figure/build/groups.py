"""Panels of groups: side by side, their shares, rows that are results, and how groups differ."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import partial
from typing import Any

import numpy as np

from heron import density, groups, thinning
from heron.checks import Floats
from heron.differences import EFFECTS, GROUP_TESTS, LIMITS
from heron.errors import InputError
from heron.figure import groups as side_by_side
from heron.figure.build.context import (
    Context,
    left_out,
    named,
    number,
    r_words,
    signed,
    titled,
    variable_at,
)
from heron.figure.scene import Facts, Number, Scale, Scene
from heron.figure.source import DifferencesSource, EstimatesSource, GroupsSource, SharesSource, Standing
from heron.formatting import counted, fixed, grouped, p_words, percent, significant, typeset
from heron.groups.bars import BARS, CENTRES, told_bars
from heron.ledger import VariableView, in_rounds
from heron.ordered import ends
from heron.readings import Cancellation, estimates, numbers_of, shares, spread
from heron.readings import differences as differing
from heron.readings import groups as compare
from heron.readings.subject import ordered_of

MOST_PAIR_LINES = 1_000
_OF_CENTRES = ("centre", "joined", "from zero")
_CURVE_POINTS = 120


def panel_of_groups(context: Context, source: GroupsSource) -> Scene:
    """Groups by their values, or by a number of these that does not lie among them, which then stands alone."""
    among = CENTRES[source.centre].among_values
    if not among:
        line = "none" if source.line == "rows" else source.line
        source = replace(source, marks=tuple(m for m in source.marks if m in _OF_CENTRES), line=line, pair="")
    # A line is over the numbers of levels, so these stand at their numbers.
    source = replace(source, on_numbers=source.on_numbers or source.line != "none")
    variable = variable_at(context, source)
    by, second, pair = context.table.variable(source.by), variable.beside(source.second), variable.beside(source.pair)
    settings = compare.CompareSettings(
        by, second, source.centre, source.bars, source.level, source.units, (source.low_percent, source.high_percent),
        source.trim, pair, source.line, source.log,
    )  # fmt: skip
    result = compare.groups_reading(variable, settings, context.cancellation)
    unit = result.subject.unit
    if not result.groups:
        raise InputError("no-groups", "No group has a row.", where="by", remedy="Choose another variable.")
    rows = _Rows(variable, settings, source, context.cancellation)
    bare = [_bare(i, group, log=source.log) for i, group in enumerate(result.groups)]
    in_rounds(context.table.chunks, *(partial(rows.filled, part) for part in bare))
    parts = [rows.filled(part) for part in _standing(bare, source)]
    shown = [part.group for part in parts]
    centre = CENTRES[source.centre].told(trim=significant(100 * result.trim))
    numbers: list[Number] = []
    for i in shown:
        group = result.groups[i]
        numbers += number(f"{centre}, {group.name}", group.centred.centre, unit)
        numbers += number(f"n, {group.name}", float(group.centred.n))
        numbers += number(f"lower end, {group.name}", _above(group.centred.low, log=source.log), unit)
        numbers += number(f"upper end, {group.name}", group.centred.high, unit)
    numbers += number("intraclass correlation", result.components.intraclass if result.components else None)
    lost = sum(result.groups[i].n_lost for i in shown)
    label = result.subject.label if among else f"{centre} of {result.subject.label}"
    what = named(label, unit)
    facts = Facts(
        titled(context.words(f"{what} by {result.by}{f' and {result.second}' if result.second else ''}")),
        tuple(_mark_words(result, source, parts, centre, rows)),
        told_bars(source.bars, level=source.level, percents=result.percents) if "centre" in source.marks else "",
        tuple(_notes(result, source, shown)),
        tuple((result.groups[i].name, result.groups[i].centred.n) for i in shown),
        f"each {result.unit_label}, its rows averaged first" if result.unit_label else "",
        **left_out(result.used),
        cannot=(f"{counted(lost, 'value')} of 0 or below cannot stand on the logarithmic axis.",) if lost else (),
        named=(("up", what), ("across", result.by), ("series", result.second)),
        unmarked=0 if source.rings or "points" in source.marks else _n_beyond(parts),
    )  # fmt: skip
    return side_by_side.scene_of_groups(
        parts, (titled(result.by), result.by_unit), titled(label), unit, facts, source,
        seconds=(result.second, result.second_labels), pairs=rows.pairs(shown),
        lines=[(line.second_place, line.found.intercept, line.found.slope) for line in result.lines if line.found],
        scale="log10" if source.log else "linear", lost=lost, numbers=numbers,
    )  # fmt: skip


class _Rows:
    """What is drawn of the rows of groups, each kind of mark only where it is drawn."""

    def __init__(
        self,
        variable: VariableView,
        settings: compare.CompareSettings,
        source: GroupsSource,
        cancellation: Cancellation,
    ) -> None:
        self._laid = compare.grouped_rows(variable, settings.by, settings.second, settings.pair)
        self._variable, self._pair, self._source, self._cancellation = variable, settings.pair, source, cancellation
        self._entries = self._laid.entries() if {"violin", "box"} & set(source.marks) else []
        known = np.flatnonzero(~np.isnan(self._laid.values) & (self._laid.of_rows >= 0))
        self.n, self._sent = known.size, known[:0]
        if variable.table.chunks is not None:
            found = compare.groups_reading(variable, settings, cancellation)
            self.n = sum(group.centred.n_rows for group in found.groups)
        if "points" in source.marks:
            self._sent = thinning.points(known, self._laid.values[known])

    @property
    def n_sent(self) -> int:
        """How many of the n rows are drawn as points."""
        return self._sent.size

    def filled(self, part: side_by_side.Part) -> side_by_side.Part:
        """A group with what is drawn of its rows."""
        self._cancellation.check()
        log, marks, series, i = self._source.log, self._source.marks, self._laid.series, part.group
        if self._variable.table.chunks is not None:
            part = self._of_all_rows(part)
        elif self._entries:
            values = self._laid.values[self._entries[i]]
            if "box" in marks:
                box = groups.with_rows(groups.boxes(values).groups[0], series.positions(self._entries[i]) + 1)
                part = replace(part, box=box)
            if "violin" in marks and values.size:
                x, heights = _curve(values[values > 0] if log else values, self._variable, log=log)
                inside = (x >= values.min()) & (x <= values.max())
                part = replace(part, x=x[inside], heights=heights[inside])
        sent = self._sent[self._laid.of_rows[self._sent] == i]
        sent = sent[self._laid.values[sent] > 0] if log else sent
        return replace(part, values=self._laid.values[sent], rows=series.positions(sent) + 1)

    def _of_all_rows(self, part: side_by_side.Part) -> side_by_side.Part:
        """A group of a long table with what is drawn of all its rows."""
        log, marks, whose = self._source.log, self._source.marks, self._laid.whose(part.group)
        numbers = numbers_of(self._variable)
        if "box" in marks:
            part = replace(part, box=spread.box_with(self._variable, numbers, spread.BoxSettings(), whose))
        if "violin" in marks:
            try:
                curve = spread.density_with(
                    self._variable, numbers, "silverman", "gaussian", "log" if log else "linear", whose
                )
            except InputError:
                return part
            low, high = ends(ordered_of(self._variable, numbers, whose))
            inside = (curve.x >= low) & (curve.x <= high)
            part = replace(part, x=curve.x[inside], heights=curve.density[inside])
        return part

    def pairs(self, shown: Sequence[int]) -> Floats | None:
        """The values of units that are joined across the groups drawn, of at most so many units."""
        result = compare.paired_values(self._laid, self._pair)
        return None if result is None else result.values[:MOST_PAIR_LINES][:, list(shown)]


def _bare(i: int, group: compare.ComparedGroup, *, log: bool) -> side_by_side.Part:
    """A group with its centre and bar alone."""
    centred = group.centred
    return side_by_side.Part(
        i, group.label, group.place, group.second_place, group.number, centred.n, centred.centre,
        _above(centred.low, log=log), centred.high,
    )  # fmt: skip


def _curve(values: Floats, variable: VariableView, *, log: bool) -> tuple[Floats, Floats]:
    """A density, of log10 and per power of ten where values stand on a logarithmic axis; empty where it has none."""
    try:
        if log:
            result = density.kernel_density(np.log10(values), points=_CURVE_POINTS)
            return 10**result.x, result.density
        result = density.kernel_density(values, points=_CURVE_POINTS, lower=variable.lower, upper=variable.upper)
    except InputError:
        return np.empty(0), np.empty(0)
    return result.x, result.density


_FORMS = {"whole": "Violins", "half": "Half violins", "ridges": "Ridges", "facing": "Densities back to back"}


def _mark_words(
    comparison: compare.Comparison, source: GroupsSource, parts: Sequence[side_by_side.Part], centre: str, rows: _Rows
) -> Iterator[str]:
    """A sentence on each kind of mark."""
    marks = source.marks
    if "centre" in marks:
        half = {"up": ", upper half only", "down": ", lower half only"}.get(source.side, "")
        seeded = f" (9\u202f999 resamples, seed {comparison.seed})" if comparison.seed is not None else ""
        bars = told_bars(source.bars, level=source.level, percents=comparison.percents)
        yield f"Open marks: {centre}; bars: {bars}{seeded}{half}."
    if "from zero" in marks:
        yield f"Bars reach from zero to the {centre}."
    if "violin" in marks:
        of = " of log10" if source.log else ""
        n_facing = len(comparison.second_labels) or len({part.place for part in parts})
        form = "whole" if source.violin == "facing" and n_facing != 2 else source.violin
        yield f"{_FORMS[form]}: density{of} by Silverman's rule, of equal area, cut at the range of the data."
    if "box" in marks:
        n_beyond = _n_beyond(parts)
        rings = ""
        if n_beyond and not source.rings:
            rings = f"; {counted(n_beyond, 'row')} beyond {'is' if n_beyond == 1 else 'are'} not marked"
        elif n_beyond and ("points" not in marks or rows.n_sent < rows.n):
            rings = "; ringed: rows beyond"
        yield f"Boxes: quartiles by definition 7, whiskers to the outermost values within 1.5 IQR of them{rings}."
    if "points" in marks:
        sample = (
            f"a random sample of {counted(rows.n_sent, 'row')} of {grouped(rows.n)}" if rows.n_sent < rows.n else "rows"
        )
        scattered = f", scattered sideways over {percent(source.jitter)} of their lane" if source.jitter else ""
        side = {"scattered": scattered, "apart": ", set apart sideways", "line": ""}[source.points]
        yield f"Points: {sample}{side}."
    if "joined" in marks:
        yield f"Lines join each {centre}."
    if source.values is not None:
        yield f"Numbers: the {centre} of each group."


def _n_beyond(parts: Sequence[side_by_side.Part]) -> int:
    """How many rows lie beyond the whiskers of boxes."""
    return sum(part.box.n_outliers for part in parts if part.box is not None)


def _notes(comparison: compare.Comparison, source: GroupsSource, shown: Sequence[int]) -> Iterator[str]:
    """How rows of one unit resemble each other, what is joined and fitted, what is not shown, and bars that a
    logarithmic axis cannot hold."""
    alike = comparison.components
    if alike is not None and alike.intraclass is not None and alike.low is not None and alike.high is not None:
        yield (
            f"n counts rows; those of one {comparison.repeated} correlate by {fixed(alike.intraclass, 2)} "
            f"({fixed(alike.low, 2)} to {fixed(alike.high, 2)})."
        )
    if comparison.pair_label:
        alone = f"{comparison.n_alone} in one group only"
        yield f"Thin lines join the values of one {comparison.pair_label} ({comparison.n_joined} joined, {alone})."
    for line in comparison.lines:
        of = f" of {comparison.second_labels[line.second_place]}" if comparison.second_labels else ""
        if line.found is None:
            yield f"No line{of}: {line.why}"
            continue
        left = f"log10({comparison.subject.label})" if source.log else comparison.subject.label
        equation = (
            f"{left} = {signed(line.found.intercept, line.found.slope, comparison.by)}{r_words(line.found.r_squared)}"
        )
        yield f"Line{of}: {equation}, through {counted(line.found.n, 'row' if source.line == 'rows' else 'centre')}."
    if any(line.found for line in comparison.lines):
        yield (
            "That centres may bend away from a line does not show in R\u00b2."
            if source.line == "rows"
            else "R\u00b2 through centres leaves out how rows scatter within groups."
        )
    hidden = [group for i, group in enumerate(comparison.groups) if i not in shown]
    if hidden:
        names = ", ".join(dict.fromkeys(group.label for group in hidden))
        yield f"Not shown: {names} (n\u00a0=\u00a0{sum(group.centred.n for group in hidden)})."
    lows = [comparison.groups[i].centred.low for i in shown] if source.log and "centre" in source.marks else []
    cut = sum(1 for low in lows if low is not None and low <= 0)
    if cut:
        yield f"{counted(cut, 'bar')} {'reaches' if cut == 1 else 'reach'} to 0 or below, and off the axis."


def _above(low: float | None, *, log: bool) -> float | None:
    return None if log and low is not None and low <= 0 else low


def answers(context: Context, source: SharesSource) -> Scene:
    variable, by = variable_at(context, source), context.table.variable(source.by)
    result = shares.shared(variable, by, source.chosen, source.neutral, source.level, context.cancellation)
    chosen = " or ".join(result.answers[i] for i in result.chosen)
    n = [group.found.n for group in result.groups]
    labels = [group.found.label for group in result.groups]
    counts = tuple(zip(labels, n, strict=True))
    notes, tested = _association(result)
    if source.stacked:
        marks = ["Parts: percent of each answer."]
        if result.neutral is not None:
            marks.append(f"Zero stands in the middle of {result.answers[result.neutral]}.")
        subject = titled(context.words(f"{result.subject.label} by {result.by}"))
        facts = Facts(subject, tuple(marks), notes=notes, n=counts, named=(("up", result.by),), **left_out(result.used))
        edges = [np.array(group.edges) * 100 for group in result.groups]
        scene = side_by_side.stacked(
            labels, n, edges, result.answers, titled(result.by), facts, ordered=result.subject.kind == "ordered",
            neutral=result.neutral,
        )  # fmt: skip
        return replace(scene, numbers=(*scene.numbers, *tested))
    bars = BARS["wilson-interval"].told(level=source.level)
    marks = [f"Open marks: share of rows; bars: {bars}."] if "centre" in source.marks else []
    marks += ["Bars reach from zero to the share."] if "from zero" in source.marks else []
    marks += ["Lines join the shares."] if "joined" in source.marks else []
    what = f"share of {chosen} in {result.subject.label}"
    facts = Facts(
        titled(context.words(f"{what} by {result.by}")), tuple(marks), bars if "centre" in source.marks else "", notes,
        n=counts, named=(("up", what), ("across", result.by)), **left_out(result.used),
    )  # fmt: skip
    parts = []
    for i, group in enumerate(result.groups):
        told = group.found.share, group.found.low, group.found.high
        share, low, high = (None if end is None else 100 * end for end in told)
        parts.append(side_by_side.Part(i, group.found.label, i, 0, None, group.found.n, share, low, high))
    shown = _standing(parts, source)
    numbers = [Number(f"share, {part.label}", part.centre, "%") for part in shown if part.centre is not None]
    numbers += tested
    return side_by_side.scene_of_groups(
        shown, (titled(result.by), ""), titled(f"share of {chosen}"), "%", facts, source, numbers=numbers, begins=0.0
    )


def _association(result: shares.SharesReading) -> tuple[tuple[str, ...], list[Number]]:
    """What a caption says of two categories together, and the numbers of it."""
    told = result.association
    if told.chi_square is None or told.p_value is None or told.v is None or told.v_corrected is None:
        return (), []
    limits = ""
    if told.v_low is not None and told.v_high is not None:
        limits = f" ({fixed(told.v_low, 2)} to {fixed(told.v_high, 2)})"
    note = (
        f"Chi-square {significant(told.chi_square, 4)} with {told.df} df, p {p_words(told.p_value)}; Cramér's V "
        f"{fixed(told.v_corrected, 2)}{limits}."
    )
    return (note,), [
        *number("chi-square", told.chi_square), *number("p of chi-square", told.p_value), *number("Cramér's V", told.v),
    ]  # fmt: skip


def _standing(parts: Sequence[side_by_side.Part], source: Standing) -> list[side_by_side.Part]:
    """Groups in the order in which they stand, without those that are hidden."""
    places = list(dict.fromkeys(part.place for part in parts))
    of_level = {level: [part for part in parts if part.place == level] for level in places}
    if source.order == "centre":
        places.sort(key=lambda level: np.mean([-np.inf if p.centre is None else p.centre for p in of_level[level]]))
    elif source.order == "n":
        places.sort(key=lambda level: -sum(part.n for part in of_level[level]))
    elif source.order == "hand":
        hand = source.hand
        places.sort(key=lambda level: hand.index(level) if level in hand else len(hand) + level)
    kept = [level for level in places if level not in source.hidden] or places
    return [part for level in kept for part in of_level[level]]


def results(context: Context, source: EstimatesSource) -> Scene:
    result = estimates.estimated(
        context.table,
        estimates.EstimatesSettings(
            source.of, source.limits, source.widths, source.label, source.weight, source.heading
        ),
        context.cancellation,
    )
    if not result.rows:
        raise InputError("no-estimates", "No row has an estimate in this column.", where="of")
    title = result.title or "estimate"
    bars = f"{result.limits}, as they came" if any(row.low is not None for row in result.rows) else ""
    what = named(title, result.unit)
    subject = titled(context.words(f"{what}{f' by {result.label}' if result.label else ''}"))
    marks = [f"Open marks: estimates{f'; bars: {bars}' if bars else ''}."]
    n = (("estimates", len(result.rows)),)
    scale: Scale = "log10" if source.log else "linear"
    ends = [end for row in result.rows for end in (row.estimate, row.low) if end is not None]
    off = sum(1 for end in ends if end <= 0) if source.log else 0
    cannot = (f"{counted(off, 'estimate or limit', 'estimates and limits')} of 0 or below cannot stand on the axis.",)
    if len(result.series) > 1:
        facts = Facts(subject, tuple(marks), bars, n=n, cannot=cannot if off else (), named=(("up", what),))
        return side_by_side.scene_of_groups(
            _standing(_blocks(result), source), (titled(result.label or "row"), ""), titled(title), result.unit, facts,
            source, seconds=("block", result.series), scale=scale, lost=off,
        )  # fmt: skip
    none = source.none if source.none is not None or not source.log else 1.0
    if none is not None:
        said = f": {source.none_words}" if source.none_words else ""
        marks.append(f"The dashed line stands at {significant(none)}{said}.")
    marks += [f"The area of a mark follows {result.weight}."] if result.weight else []
    marks += ["Diamonds were put together elsewhere."] if source.combined else []
    facts = Facts(subject, tuple(marks), bars, n=n, cannot=cannot if off else (), named=(("across", what),))
    rows = [
        side_by_side.Estimate(
            row.label, row.estimate, row.low, row.high, row.row in source.combined, row.weight,
            _beside(row.estimate, row.low, row.high, result.decimals), row.heading, row.row,
        )
        for row in _sorted(result, source)
    ]  # fmt: skip
    return side_by_side.estimates(
        rows, titled(title), result.unit, facts, none=none, none_words=source.none_words, scale=scale
    )


def _blocks(estimates_reading: estimates.EstimatesReading) -> list[side_by_side.Part]:
    """Estimates of several blocks as groups: a level for each row, the blocks side by side within it."""
    labels = list(dict.fromkeys(row.label for row in estimates_reading.rows))
    return [
        side_by_side.Part(
            i, row.label, labels.index(row.label), row.series,
            _number(row.label) if estimates_reading.numeric_labels else None, 1,
            row.estimate, row.low, row.high,
        )
        for i, row in enumerate(sorted(estimates_reading.rows, key=lambda row: (labels.index(row.label), row.series)))
    ]  # fmt: skip


def _number(text: str) -> float | None:
    try:
        return float(text.replace("\u2212", "-"))
    except ValueError:
        return None


def _sorted(estimates_reading: estimates.EstimatesReading, source: EstimatesSource) -> list[estimates.EstimateRow]:
    """Rows in the order chosen, those under one heading together, combined ones last under it."""
    headings = list(dict.fromkeys(row.heading for row in estimates_reading.rows))
    hand = {row: rank for rank, row in enumerate(source.hand)}

    def key(row: estimates.EstimateRow) -> tuple[Any, ...]:
        value: Any = 0
        if source.sort == "estimate":
            value = row.estimate
        elif source.sort == "label":
            value = row.label
        last = row.row in source.combined and source.sort != "hand"
        position = hand.get(row.row, len(hand) + row.row) if source.sort == "hand" else row.row
        return headings.index(row.heading), last, value, position

    return sorted(estimates_reading.rows, key=key)


def _beside(value: float, low: float | None, high: float | None, decimals: int) -> str:
    """An estimate with its limits, written out."""
    limits = "" if low is None or high is None else f" ({fixed(low, decimals)} to {fixed(high, decimals)})"
    return f"{fixed(value, decimals)}{limits}"


def differences(context: Context, source: DifferencesSource) -> Scene:
    variable, by = variable_at(context, source), context.table.variable(source.by)
    pair = context.table.variable(source.pair) if source.pair else None
    settings = differing.DifferenceSettings(
        source.measure,
        source.reference,
        source.level,
        source.units,
        pair,
        source.together,
        source.spreads,
        source.trim,
    )
    result = differing.differed(variable, by, settings, context.cancellation)
    if not result.pairs:
        raise InputError("no-pairs", next(iter(result.undefined.values()), "There are no two groups."), where="by")
    decimals = estimates.decimals_of_limits([(told.estimate, told.low, told.high) for told in result.pairs])
    between = " : " if EFFECTS[source.measure].factor else " \u2212 "
    rows = [
        side_by_side.Estimate(
            f"{told.first}{between}{told.second}",
            told.estimate,
            told.low,
            told.high,
            beside=_pair_words(told, decimals),
        )
        for told in result.pairs
    ]
    how = f", {LIMITS[result.limits].caption}" if result.limits else ", each for itself"
    bars = f"the {percent(source.level)} interval{how}"
    what = named(typeset(variable.label), result.unit)
    told_tests = [(GROUP_TESTS[test.id], test.found) for test in result.tests]
    tests = [
        f"{titled(record.caption)}: statistic {significant(test.statistic, 4)}, p {significant(test.p_value, 2)}."
        for record, test in told_tests
        if record.of != "spreads"
    ]
    title = titled(result.label)
    facts = Facts(
        context.words(f"{title} of {what} between levels of {typeset(by.label)}"),
        (f"Open marks: estimates; bars: {bars}.",), bars, tuple(tests), n=(("pairs of groups", len(result.pairs)),),
        sampled=result.sampled,
    )  # fmt: skip
    factor = EFFECTS[source.measure].factor
    positive = all(end is None or end > 0 for told in result.pairs for end in (told.estimate, told.low))
    scale: Scale = "log10" if factor and positive else "linear"
    scene = side_by_side.estimates(rows, title, result.unit, facts, none=1.0 if factor else 0.0, scale=scale)
    more = [
        told
        for record, test in told_tests
        for told in (
            *number(f"statistic of {record.caption}", test.statistic), *number(f"p of {record.caption}", test.p_value),
        )
    ]  # fmt: skip
    return replace(scene, numbers=(*scene.numbers, *more))


def _pair_words(pair: differing.PairFound, decimals: int) -> str:
    """A difference with its limits and its p, written out."""
    p = "" if pair.p_value is None else f", p {p_words(pair.p_value)}"
    p += "" if pair.holm_p is None else f" ({p_words(pair.holm_p)} after Holm)"
    n = "" if pair.n_pairs is None else f", {pair.n_pairs} pairs"
    return f"{_beside(pair.estimate, pair.low, pair.high, decimals)}{p}{n}"
