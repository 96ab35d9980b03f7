"""Panels of groups: side by side, their shares, rows that are results, and how groups differ."""

from dataclasses import replace
from typing import Any

import numpy as np

from heron.errors import InputError
from heron.figure import groups as side_by_side
from heron.figure.build.place import (
    CENTRES,
    NOBODY,
    Place,
    left_out,
    named,
    number,
    r_words,
    signed,
    titled,
    variable_at,
)
from heron.figure.scene import Facts, Number, Scale, Scene
from heron.figure.source import DifferencesSource, EstimatesSource, GroupsSource, SharesSource
from heron.groups.words import bar_words
from heron.readings import estimates, shares
from heron.readings import groups as compare
from heron.wording import counted, typeset


def compared(place: Place, source: GroupsSource) -> Scene:
    variable = variable_at(place, source)
    by, second, pair = place.table.variable(source.by), variable.beside(source.second), variable.beside(source.pair)
    percents = source.low_percent, source.high_percent
    found = compare.compared(
        variable,
        compare.CompareSettings(
            by, second, source.center, source.bars, source.level, source.units, percents,
            source.trim, pair, source.line, source.log,
        ),
        NOBODY,
    )  # fmt: skip
    unit = found.subject.unit
    scale: Scale = "log10" if source.log else "linear"
    shown = _order(found, source)
    if not shown:
        raise InputError("no-groups", "No group has a row.", where="by", remedy="Choose another variable.")
    parts = []
    for i in shown:
        group = found.groups[i]
        own = np.flatnonzero(found.of_group == i)
        own = own[found.values[own] > 0] if source.log else own
        inside = _inside(group)
        parts.append(
            side_by_side.Part(
                group.label, group.place, group.second_place, group.number, group.centred.n, group.centred.center,
                _above(group.centred.low, log=source.log), group.centred.high, group.box, group.x[inside],
                group.heights[inside], found.values[own], found.positions[own],
            )
        )  # fmt: skip
    bars = bar_words(source.bars, source.level, found.percents)
    centre = CENTRES[source.center]
    if source.center == "trimmed-mean":
        centre = f"{100 * found.trim:g} % trimmed mean"
    marks = []
    if "centre" in source.marks:
        half = {"up": ", upper half only", "down": ", lower half only"}.get(source.side, "")
        seeded = f" (9\u202f999 resamples, seed {found.seed})" if found.seed is not None else ""
        marks.append(f"Open marks: {centre}; bars: {bars}{seeded}{half}.")
    if "from zero" in source.marks:
        marks.append(f"Bodies reach from zero to the {centre}.")
    if "violin" in source.marks:
        of = " of log10" if source.log else ""
        marks.append(f"Violins: density{of} by Silverman's rule, of equal area, cut at the range of the data.")
    if "box" in source.marks:
        beyond = any(found.groups[i].box.outlier_rows.size for i in shown)
        rings = "; ringed: rows beyond" if beyond and "points" not in source.marks else ""
        marks.append(
            f"Boxes: quartiles by definition 7, whiskers to the outermost values within 1.5 IQR of them{rings}."
        )
    if "points" in source.marks:
        n_all = sum(each.centred.n_rows for each in found.groups)
        sample = (
            f"a random sample of {counted(found.values.size, 'row')} of {n_all}"
            if found.values.size < n_all
            else "rows"
        )
        side = {"scattered": ", scattered sideways", "apart": ", set apart sideways", "line": ""}[source.points]
        marks.append(f"Points: {sample}{side}.")
    if "joined" in source.marks:
        marks.append(f"Lines join each {centre}.")
    notes = []
    if pair is not None:
        notes.append(f"Thin lines join the values of one {found.pair_label} ({found.n_joined} joined).")
    lines = []
    for line in found.lines:
        if line.found is None:
            continue
        of = f" of {found.second_labels[line.second_place]}" if found.second_labels else ""
        lines.append((line.second_place, line.found.intercept, line.found.slope))
        left = f"log10({found.subject.label})" if source.log else found.subject.label
        notes.append(
            f"Line{of}: {left} = {signed(line.found.intercept, line.found.slope, found.by)}"
            f"{r_words(line.found.r_squared)}, through {'rows' if source.line == 'rows' else 'centres'}."
        )
    if source.log:
        notes.append("The axis is logarithmic.")
    lost = sum(found.groups[i].n_lost for i in shown)
    hidden = [found.groups[i].label for i in range(len(found.groups)) if i not in shown]
    if hidden:
        notes.append(f"Not shown: {', '.join(dict.fromkeys(hidden))}.")
    numbers: list[Number] = []
    for i in shown:
        group = found.groups[i]
        name = f"{group.label} {group.second}".strip()
        numbers += number(f"{centre}, {name}", group.centred.center, unit)
        numbers += number(f"n, {name}", float(group.centred.n))
        numbers += number(f"lower end, {name}", _above(group.centred.low, log=source.log), unit)
        numbers += number(f"upper end, {name}", group.centred.high, unit)
    by_words = f"{found.by}{f' and {found.second}' if found.second else ''}"
    facts = Facts(
        titled(place.words(f"{named(found.subject.label, unit)} by {by_words}")), tuple(marks),
        bars if "centre" in source.marks else "", tuple(notes),
        tuple((f"{found.groups[i].label} {found.groups[i].second}".strip(), found.groups[i].centred.n) for i in shown),
        f"each {found.unit_label}, its rows averaged first" if found.unit_label else "",
        **left_out(found.used),
        cannot=(f"{counted(lost, 'value')} of 0 or below cannot stand on the logarithmic axis.",) if lost else (),
    )  # fmt: skip
    values = found.pair_values.reshape(-1, len(found.groups))[:, shown] if pair is not None else None
    return side_by_side.compared(
        parts, (titled(found.by), found.by_unit), titled(found.subject.label), unit, facts,
        side_by_side.Drawn(
            source.marks, source.points, source.jitter, source.violin, source.side, source.caps, source.on_numbers,
            source.upright,
        ),
        seconds=(found.second, found.second_labels), pairs=values, lines=lines, scale=scale, lost=lost, numbers=numbers,
    )  # fmt: skip


def _above(low: float | None, *, log: bool) -> float | None:
    return None if log and low is not None and low <= 0 else low


def _inside(group: compare.ComparedGroup) -> Any:
    """Where a density lies within the range of its data."""
    numbers = group.centred.summary
    if numbers.minimum is None or numbers.maximum is None:
        return slice(0, 0)
    return (group.x >= numbers.minimum) & (group.x <= numbers.maximum)


def _order(found: compare.Comparison, source: GroupsSource) -> list[int]:
    places = sorted({group.place for group in found.groups})
    own = {place: [group for group in found.groups if group.place == place] for place in places}
    if source.order == "centre":
        places.sort(
            key=lambda place: np.mean([-np.inf if g.centred.center is None else g.centred.center for g in own[place]])
        )
    elif source.order == "n":
        places.sort(key=lambda place: -sum(group.centred.n for group in own[place]))
    elif source.order == "hand":
        places.sort(key=lambda place: source.hand.index(place) if place in source.hand else len(source.hand) + place)
    kept = [place for place in places if place not in source.hidden] or places
    return [i for place in kept for i, group in enumerate(found.groups) if group.place == place]


def answers(place: Place, source: SharesSource) -> Scene:
    variable, by = variable_at(place, source), place.table.variable(source.by)
    found = shares.shared(variable, by, tuple(source.chosen), source.neutral, source.level, NOBODY)
    chosen = " or ".join(found.answers[i] for i in found.chosen)
    n = [group.found.n for group in found.groups]
    labels = [group.label for group in found.groups]
    bars = "" if source.stacked else bar_words("wilson-interval", source.level)
    subject = (
        f"{found.subject.label} by {found.by}" if source.stacked else f"{found.subject.label}, {chosen}, by {found.by}"
    )
    marks = ["Parts: percent of each answer."] if source.stacked else [f"Open marks: share of rows; bars: {bars}."]
    if source.stacked and found.neutral is not None:
        marks.append(f"Zero stands in the middle of {found.answers[found.neutral]}.")
    facts = Facts(
        titled(place.words(subject)), tuple(marks), bars, n=tuple(zip(labels, n, strict=True)),
        **left_out(found.used),
    )  # fmt: skip
    if source.stacked:
        edges = [np.array(group.edges) * 100 for group in found.groups]
        return side_by_side.stacked(
            labels, n, edges, found.answers, titled(found.by), facts, about=found.neutral is not None
        )
    numbers = [
        Number(f"share, {group.label}", 100 * group.found.share, "%")
        for group in found.groups if group.found.share is not None
    ]  # fmt: skip
    told = [(group.found.share, group.found.low, group.found.high) for group in found.groups]
    return side_by_side.shares(labels, n, told, titled(chosen), titled(found.by), facts, numbers)


def results(place: Place, source: EstimatesSource) -> Scene:
    found = estimates.estimated(
        place.table,
        estimates.EstimatesSettings(
            source.of, source.limits, source.widths, source.label, source.weight, source.heading
        ),
        NOBODY,
    )
    if not found.rows:
        raise InputError("no-estimates", "There is no estimate to show.", where="of")
    rows = [
        side_by_side.Estimate(
            row.label, row.estimate, row.low, row.high, row.row in source.combined,
            found.series[row.series] if len(found.series) > 1 else "", row.weight,
        )
        for row in found.rows
    ]  # fmt: skip
    title = found.title or "Estimate"
    bars = found.limits if any(row.low is not None for row in found.rows) else ""
    facts = Facts(
        titled(place.words(f"{named(title, found.unit)}{f' by {found.label}' if found.label else ''}")),
        (f"Open marks: estimates{f'; bars: {bars}' if bars else ''}.",
         *([f"Marks are sized by {found.weight}."] if found.weight else [])),
        bars, n=(("estimates", len(found.rows)),),
    )  # fmt: skip
    return side_by_side.estimates(rows, titled(title), found.unit, facts, none=source.none)


_MEASURES = {
    "mean": "Difference of means", "median": "Difference of medians", "ratio": "Ratio of geometric means",
    "hedges-g": "Hedges' g", "cliffs-delta": "Cliff's delta",
}  # fmt: skip


def differences(place: Place, source: DifferencesSource) -> Scene:
    variable, by = variable_at(place, source), place.table.variable(source.by)
    pair = place.table.variable(source.pair) if source.pair else None
    settings = compare.DifferenceSettings(
        source.measure, source.reference, source.level, source.units, pair, source.together
    )
    found = compare.differed(variable, by, settings, NOBODY)
    if not found.pairs:
        raise InputError("no-pairs", next(iter(found.undefined.values()), "There are no two groups."), where="by")
    rows = [
        side_by_side.Estimate(f"{each.first} \u2212 {each.second}", each.estimate, each.low, each.high)
        for each in found.pairs
    ]
    if source.measure == "ratio":
        rows = [replace(row, label=row.label.replace(" \u2212 ", " : ")) for row in rows]
    how = ", for all pairs together (Games and Howell)" if found.simultaneous else ", each for itself"
    bars = f"the {100 * source.level:g} % interval{how}"
    what = named(typeset(variable.label), found.unit)
    tests = [
        f"{name}: statistic {test.statistic:.4g}, p {test.p_value:.2g}."
        for name, test in (("Welch's test", found.welch), ("Kruskal and Wallis' test", found.kruskal_wallis))
        if test is not None and test.statistic is not None and test.p_value is not None
    ]  # fmt: skip
    facts = Facts(
        place.words(f"{_MEASURES[source.measure]} of {what} between levels of {typeset(by.label)}"),
        (f"Open marks: estimates; bars: {bars}.",), bars, tuple(tests), n=(("pairs of groups", len(found.pairs)),),
    )  # fmt: skip
    none = 1.0 if source.measure == "ratio" else 0.0
    scene = side_by_side.estimates(rows, _MEASURES[source.measure], found.unit, facts, none=none)
    more: list[Number] = []
    for name, test in (("Welch's test", found.welch), ("Kruskal and Wallis' test", found.kruskal_wallis)):
        if test is not None:
            more += number(f"statistic of {name}", test.statistic) + number(f"p of {name}", test.p_value)
    return replace(scene, numbers=(*scene.numbers, *more))
