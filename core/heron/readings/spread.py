"""One variable: its numbers, classes, curve, box and points; its levels; what is said of its quartiles."""

import json
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any, Literal, get_args

import numpy as np

from heron import density, frequency, groups, limits, normality, quantiles, rescale, summary, thinning
from heron.checks import Floats, Ints, as_values
from heron.chunked import Basics, cells_in, outside
from heron.columns import KINDS, NUMBER_KINDS
from heron.errors import InputError, all_rows_at_once
from heron.formatting import counted
from heron.intervals import Interval, Resampled, percent_point_interval, resampled_interval
from heron.ledger import Of, Used, VariableView, in_rounds
from heron.ordered import Ordered, ends, sd_of
from heron.readings.cancellation import Cancellation
from heron.readings.subject import (
    ALL,
    Numbers,
    Subject,
    Whose,
    in_parts,
    look_first,
    n_limited_of,
    n_missing_of,
    numbers_of,
    ordered_of,
    series_of,
    subject_of,
    used_of,
)
from heron.readings.words import Sentence, words_on_shape

MOST_ASIDE = 2_000
Axis = Literal["linear", "log"]


@dataclass(frozen=True)
class BoxSettings:
    """How a box is drawn, as heron.groups.box takes it."""

    quantile_definition: quantiles.Definition = 7
    percents: tuple[float, ...] = ()
    reach: float = 1.5
    whiskers: groups.Whiskers = "fences"
    share: float = 0.05

    def words(self) -> str:
        """To where the whiskers go."""
        low = 100 * self.share
        return groups.WHISKERS[self.whiskers].told(reach=self.reach, low=low, high=100 - low)


@dataclass(frozen=True)
class Back:
    """The mean and its limits, back-transformed to the scale of the source: what they are then called, and its unit."""

    name: str
    mean: float | None
    low: float | None
    high: float | None
    unit: str


@dataclass(frozen=True)
class Spread:
    """The numbers of one variable, and what is said of it.

    normal_mean, normal_sd: of its normal curve, None where there is none. classes, density: by the usual rules, None
    where they cannot be had. On a log axis they and the normal curve are of log10 of the values, laid back on their
    scale, with heights per power of ten. aside_values, aside_rows: (n_aside,) what is set aside, as it was; rows
    counted from 1. percent_points: of the percents asked for, NaN where one lies within the share below a limit.
    """

    subject: Subject
    used: Used
    words: tuple[Sentence, ...]
    summary: summary.Summary
    percent_points: Floats
    whiskers: str
    normal_mean: float | None
    normal_sd: float | None
    aside_values: Floats
    aside_rows: Ints
    classes: frequency.Classes | None
    density: density.Density | None
    beyond: limits.Beyond | None
    back: Back | None
    axis: Axis


@dataclass(frozen=True)
class Intervals:
    """Limits that hold a share of the population, and reference intervals, with and without a normal distribution;
    surely: numbers of the variable with their limits."""

    subject: Subject
    used: Used
    tolerance: tuple[limits.Tolerance, ...]
    reference: tuple[limits.Reference, ...]
    surely: tuple[Interval, ...]


@dataclass(frozen=True)
class Comparison:
    """Quartiles under one definition."""

    definition: quantiles.Definition
    q1: float
    median: float
    q3: float


def spread(
    variable: VariableView,
    box: BoxSettings,
    level: float,
    cancellation: Cancellation,
    *,
    closed: Literal["left", "right"] = "left",
    kernel: density.Kernel = "gaussian",
    axis: Axis = "linear",
) -> Spread:
    look_first(variable)
    result = numbers_of(variable)
    on_axis(result, axis)  # what cannot stand there is refused before anything is drawn
    cancellation.check()
    in_rounds(
        variable.table.chunks,
        lambda: numbers_with(variable, result, box, level),
        lambda: box_with(variable, result, replace(box, **_USUAL_FENCES)),
        lambda: _usual_pictures(variable, closed, kernel, axis, cancellation),
        lambda: percent_points(variable, result, box),
        lambda: _beyond(variable, result),
    )
    numbers = numbers_with(variable, result, box, level)
    cancellation.check()
    # What is said of fences is said of Tukey's, however far the whiskers go.
    words = words_on_shape(numbers, box_with(variable, result, replace(box, **_USUAL_FENCES)))
    normal = normal_curve_of(variable, result, numbers, axis)
    return Spread(
        result.subject,
        result.whole,
        words,
        replace(numbers, modes=numbers.modes[:12]),
        percent_points(variable, result, box),
        box.words(),
        None if normal is None else normal.mean,
        None if normal is None else normal.sd,
        *_aside(variable),
        *_usual_pictures(variable, closed, kernel, axis, cancellation),
        _beyond(variable, result),
        back_on_source(variable, numbers),
        axis,
    )


def numbers_with(
    variable: VariableView, result: Numbers, settings: BoxSettings, level: float, whose: Whose = ALL
) -> summary.Summary:
    """The numbers of a variable, worked once however often a picture of it is drawn."""

    def compute() -> summary.Summary:
        ordered = ordered_of(variable, result, whose)
        numbers = summary.summary_of_ordered(
            ordered, n_missing_of(ordered, result), settings.quantile_definition, level, 0.1, variable.zero_means_none
        )
        return summary.above_limited(numbers, n_limited_of(ordered, result))

    question = "numbers", variable.symbol, whose, result.used.weighted_by, settings.quantile_definition, level
    numbers: summary.Summary = variable.table.remembered(question, compute)
    return numbers


def percent_points(variable: VariableView, numbers: Numbers, settings: BoxSettings, whose: Whose = ALL) -> Floats:
    """The percents asked for as values; hinges know only quarters, so they then follow definition 7."""
    shares = np.array(settings.percents, dtype=np.float64) / 100
    if shares.size == 0:
        return shares
    by = 7 if settings.quantile_definition == "hinges" else settings.quantile_definition
    ordered = ordered_of(variable, numbers, whose)
    points = np.asarray(quantiles.of_sorted(ordered, shares, by), dtype=np.float64)
    limited = n_limited_of(ordered, numbers)
    return np.where(shares * ordered.size <= limited, np.nan, points) if limited else points


_USUAL_FENCES: dict[str, Any] = {"whiskers": "fences", "reach": 1.5}


def back_on_source(variable: VariableView, numbers: summary.Summary) -> Back | None:
    how = variable.recipe
    if how.get("how") != "scale" or numbers.mean is None:
        return None
    setting = how["setting"]
    given = [np.nan if end is None else end for end in (numbers.mean, numbers.mean_low, numbers.mean_high)]
    result = rescale.back(np.array(given), setting)
    if result is None or not np.isfinite(result[0]):
        return None
    log = setting["way"] == "log" or (setting["way"] == "power" and setting["power"] == 0)
    name = "Geometric mean" if log and not setting.get("offset") else "Mean, back on the scale of the data"
    mean, low, high = (float(end) if np.isfinite(end) else None for end in result)
    return Back(name, mean, low, high, variable.sources[0].unit)


def box_with(variable: VariableView, numbers: Numbers, settings: BoxSettings, whose: Whose = ALL) -> groups.Box:
    """The box of a variable, with its rows counted from 1; worked once."""

    def compute() -> groups.Box:
        how = groups.BoxHow(settings.quantile_definition, settings.reach, settings.whiskers, settings.share)
        chunks = variable.table.chunks
        if chunks is None:
            box = groups.box_of(numbers.values, how, ordered_of(variable, numbers, whose))
            return groups.with_rows(box, numbers.positions(np.arange(numbers.values.size)) + 1)
        ordered = in_parts(variable, chunks, whose)

        def beyond(limits: groups.Limits) -> groups.Beyond:
            return outside(chunks, ordered.of, limits, ordered.n_beyond(*limits[:2]))

        box = groups.box_of_ordered("", ordered, ordered.basis.n_missing, how, beyond)
        return replace(box, outlier_rows=box.outlier_rows + 1, far_rows=box.far_rows + 1)

    question = "box", variable.symbol, whose, numbers.used.weighted_by, replace(settings, percents=())
    box: groups.Box = variable.table.remembered(question, compute)
    return box


def _beyond(variable: VariableView, numbers: Numbers) -> limits.Beyond | None:
    low, high = variable.properties.get("spec_lower"), variable.properties.get("spec_upper")
    if low is None and high is None:
        return None
    return limits.beyond_of_ordered(ordered_of(variable, numbers), lower=low, upper=high)


def intervals(
    variable: VariableView, share: float, level: float, percent: float, cancellation: Cancellation
) -> Intervals:
    result = numbers_of(variable)
    return Intervals(
        result.subject,
        result.used,
        tuple(
            limits.tolerance_limits(result.values, share=share, level=level, method=method) for method in limits.METHODS
        ),
        tuple(limits.reference_limits(result.values, method=method) for method in limits.METHODS),
        (
            percent_point_interval(result.values, percent, level=level),
            *(
                resampled_interval(
                    result.values,
                    statistic,
                    level=level,
                    true_zero=variable.zero_means_none,
                    progress=cancellation.progress,
                )
                for statistic in get_args(Resampled)
            ),
        ),
    )


def sent_places(variable: VariableView, numbers: Numbers) -> Ints:
    """The places of the values that are sent as points, the same for every picture of the variable."""
    question = "points", variable.symbol, numbers.used.weighted_by
    return variable.table.remembered(question, lambda: _sample(numbers))


def _sample(numbers: Numbers) -> Ints:
    known = np.flatnonzero(~np.isnan(numbers.values))
    return thinning.points(known, numbers.values[known])


def _usual_pictures(
    variable: VariableView,
    closed: Literal["left", "right"],
    kernel: density.Kernel,
    axis: Axis,
    cancellation: Cancellation,
) -> tuple[frequency.Classes | None, density.Density | None]:
    """Classes and curve as they are first shown; where one cannot be had, its own question says why."""
    cancellation.check()
    numbers = numbers_of(variable, kinds=(*NUMBER_KINDS, "date-time"))
    in_rounds(
        variable.table.chunks,
        lambda: classes_of(variable, numbers, axis, {"closed": closed}),
        lambda: density_with(variable, numbers, "silverman", kernel, axis),
    )
    try:
        counted = classes_of(variable, numbers, axis, {"closed": closed})
    except InputError:
        return None, None
    try:
        return counted, density_with(variable, numbers, "silverman", kernel, axis)
    except InputError:
        return counted, None


def _aside(variable: VariableView) -> tuple[Floats, Ints]:
    """The values that are set aside and their rows, from 1; at most 2,000; of a long table those of a sample."""
    whole = variable.table.state
    state = whole.sampled if whole.is_long else whole
    before = state.column(variable.symbol, "described")
    positions = state.positions_aside(variable.symbol, before.n_rows)
    if before.numbers is None or positions.size == 0:
        return np.empty(0), positions
    known = positions[before.reasons[positions] == 0][:MOST_ASIDE]
    return before.numbers[known], (whole.sample_rows[known] if whole.is_long else known) + 1


def normal_curve_of(
    variable: VariableView, result: Numbers, numbers: summary.Summary, axis: Axis, whose: Whose = ALL
) -> normality.NormalCurve | None:
    """The normal curve of the mean and SD, on a log axis of the logs; None where it cannot be drawn."""
    return _normal_curve(numbers) if axis == "linear" else _log_normal_curve(variable, result, whose)


def _normal_curve(numbers: summary.Summary) -> normality.NormalCurve | None:
    if not numbers.sd or numbers.mean is None:
        return None
    try:
        return normality.curve(numbers.mean, numbers.sd)
    except InputError:  # too extreme to draw
        return None


def _log_normal_curve(variable: VariableView, numbers: Numbers, whose: Whose) -> normality.NormalCurve | None:
    """The normal curve of the logs, laid back on the scale of the values; its mean and SD are of log10."""
    try:
        ordered = ordered_on(variable, numbers, "log", whose)
        if ordered.size < 2:
            return None
        low, high = ends(ordered)
        sd, mean = sd_of(ordered), ordered.moments(1.0).mean
        curve = normality.curve(mean, sd) if low < high else None
    except InputError:
        return None
    return replace(curve, x=from_log10(curve.x)) if curve else None


def ordered_on(variable: VariableView, numbers: Numbers, axis: Axis, whose: Whose = ALL) -> Ordered:
    """The values by their order as they stand on the axis; an InputError where some cannot."""
    if axis == "linear":
        return ordered_of(variable, numbers, whose)
    if variable.table.chunks is None:
        on_axis(numbers, axis)
    else:
        whole = ordered_of(variable, numbers, whose)
        if whole.size and whole.n_to(0.0):
            raise _not_above_zero(whole.n_to(0.0), whole.size, ())
    return ordered_of(variable, numbers, whose, "log10")


def on_axis(numbers: Numbers, axis: Axis) -> Floats:
    """The values as they stand on the axis: themselves, or log10 of them."""
    if axis == "linear":
        return numbers.values
    low = np.flatnonzero(numbers.values <= 0)
    if low.size:
        raise _not_above_zero(low.size, numbers.used.n, numbers.positions(low)[:100].tolist())
    logs: Floats = np.log10(numbers.values)
    return logs


def _not_above_zero(low: int, n: int, rows: Sequence[int]) -> InputError:
    return InputError(
        "not-above-zero",
        f"{counted(low, 'value')} of {n} {'is' if low == 1 else 'are'} 0 or less, and cannot stand on a log axis.",
        where="axis",
        rows=rows,
        remedy="Choose the linear axis, or set them aside.",
    )


def from_log10(logs: Floats) -> Floats:
    """Logs as the values that they are of, held at the largest number there is."""
    with np.errstate(over="ignore"):
        return np.minimum(10.0**logs, np.finfo(float).max)


def classes(
    variable: VariableView, *, axis: Axis = "linear", **options: Any
) -> tuple[Subject, Used, frequency.Classes]:
    """A variable in classes; on a log axis of equal ratio, with `width` in powers of ten."""
    result = numbers_of(variable, kinds=(*NUMBER_KINDS, "date-time"))
    return result.subject, result.whole, classes_of(variable, result, axis, options)


def classes_of(
    variable: VariableView, numbers: Numbers, axis: Axis, options: dict[str, Any], whose: Whose = ALL
) -> frequency.Classes:
    """A variable in classes; worked once."""

    def compute() -> frequency.Classes:
        column, asked = numbers.column, dict(options)
        ordered = ordered_on(variable, numbers, axis, whose)
        n_missing = n_missing_of(ordered, numbers)
        if axis == "log":
            for name in ("boundaries", "start"):
                given = asked.get(name)
                if given is not None:
                    if np.min(given) <= 0:
                        raise InputError("not-above-zero", f"{name} on a log axis must lie above 0.", where=name)
                    asked[name] = np.log10(given)
            cut = frequency.classes_of_ordered(ordered, n_missing, **asked)
            edges = np.array([float(f"{edge:.12g}") for edge in from_log10(cut.boundaries)])
            return replace(cut, boundaries=edges)
        if any(asked.get(name) is not None for name in ("count", "width", "boundaries")):
            return frequency.classes_of_ordered(ordered, n_missing, **asked)
        usual = frequency.usual_of_ordered(ordered, kind=column.kind, decimals=column.decimals)
        asked |= {"rule": asked.get("rule") or usual.rule, "step": usual.step}
        return frequency.classes_of_ordered(ordered, n_missing, **asked)

    question = "classes", variable.symbol, whose, numbers.used.weighted_by, axis, json.dumps(options, default=list)
    cut: frequency.Classes = variable.table.remembered(question, compute)
    return cut


def density_curve(
    variable: VariableView,
    bandwidth: float | density.BandwidthRule,
    kernel: density.Kernel,
    axis: Axis = "linear",
) -> tuple[Subject, Used, density.Density]:
    result = numbers_of(variable)
    return result.subject, result.whole, density_with(variable, result, bandwidth, kernel, axis)


def density_with(
    variable: VariableView,
    numbers: Numbers,
    bandwidth: float | density.BandwidthRule,
    kernel: density.Kernel,
    axis: Axis,
    whose: Whose = ALL,
) -> density.Density:
    """The density of a variable, on a log axis of its logs, laid back on the scale of the values; worked once."""

    def compute() -> density.Density:
        low, high = bounds_on(variable, axis)
        ordered = ordered_on(variable, numbers, axis, whose)
        if variable.table.chunks is None:
            density.check_bounds(as_values(on_axis(numbers, axis)), low, high)
        curve = density.density_of_ordered(
            ordered, n_missing_of(ordered, numbers), bandwidth=bandwidth, kernel=kernel, lower=low, upper=high
        )
        return curve if axis == "linear" else replace(curve, x=from_log10(curve.x), peak=float(10.0**curve.peak))

    question = "density", variable.symbol, whose, numbers.used.weighted_by, bandwidth, kernel, axis
    curve: density.Density = variable.table.remembered(question, compute)
    return curve


def bounds_on(variable: VariableView, axis: Axis) -> tuple[float | None, float | None]:
    """The declared bounds as they stand on the axis; on a log axis nothing can lie at 0."""
    if axis == "linear":
        return variable.lower, variable.upper
    logs = [None if not bound or bound <= 0 else float(np.log10(bound)) for bound in (variable.lower, variable.upper)]
    return logs[0], logs[1]


def counts(variable: VariableView) -> tuple[Subject, Used, frequency.ValueCounts]:
    """How often each level or value occurs, levels in their order."""
    series, chunks = series_of(variable), variable.table.chunks
    used = used_of(variable, series)
    if series.columns[variable.symbol].codes is None:
        if chunks is None:
            return subject_of(variable), used, frequency.count_values(series.numbers(variable.symbol, KINDS))
        distinct = chunks.over(Basics(Of(variable.symbol)))[0].distinct
        if distinct is None:
            raise all_rows_at_once("A list of so many different values")
        return (
            subject_of(variable),
            replace(used, sampled=0),
            frequency.count_values(distinct.values, weights=distinct.counts),
        )
    levels, index = series.levels(variable.symbol)
    if chunks is None:
        by_level = np.bincount(index[index >= 0], minlength=len(levels))
    else:
        at_level = cells_in(chunks, variable.symbol)
        by_level = np.array([at_level.get((level,), 0) for level in levels], dtype=np.int64)
    kept = np.flatnonzero(by_level)[: frequency.MOST_CLASSES]
    labels = [levels[i] for i in kept]
    counted = frequency.count_values(labels, weights=by_level[kept], levels=labels)
    return subject_of(variable), replace(used, sampled=0), counted


def compare_definitions(variable: VariableView) -> list[Comparison]:
    """The quartiles under every definition, since programs and hands differ."""
    ordered = ordered_of(variable, numbers_of(variable))
    if ordered.size == 0:
        return []
    shares = np.array([0.25, 0.5, 0.75])
    return [
        Comparison(definition, *quantiles.of_sorted(ordered, shares, definition).tolist())
        for definition in quantiles.DEFINITIONS
    ]
