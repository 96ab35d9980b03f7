"""A variable as a process gave it: its control chart, and what it is capable of."""

from dataclasses import dataclass, replace

import numpy as np

from heron import control, limits, normality
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.formatting import grouped, there_are
from heron.grouping import Grouping
from heron.ledger import Used, VariableView
from heron.readings.ordering import places_of
from heron.readings.subject import Subject, series_of, subject_of, used_of

MOST_POINTS = 20_000
_FAR = (0.00135, 0.5, 0.99865)  # percentiles that hold what 3 SDs hold of a normal distribution


@dataclass(frozen=True)
class ControlSettings:
    """along: what sets the order, None for the rows; subgroup: what means are of; baseline: how many of the first
    points the limits rest on, None for all; family: whose percentiles capability is measured by too."""

    along: VariableView | None
    chart: control.Chart
    subgroup: VariableView | None
    baseline: int | None
    family: normality.Family = "normal"


@dataclass(frozen=True)
class SignalTold:
    """A rule that points break. rows: (k,) of single values, from 1; labels: of subgroups."""

    label: str
    rows: Ints
    labels: tuple[str, ...]


@dataclass(frozen=True)
class ControlReading:
    """A control chart in numbers. along, subgroup: what sets the order, and what means are of, "" for rows and for
    single values; n_points: how many stand on the chart; capability, beyond: where there is a specification limit."""

    subject: Subject
    used: Used
    along: str
    subgroup: str
    chart: control.Chart
    n_points: int
    centre: float | None
    sigma: float | None
    spread_centre: float | None
    baseline: int
    signals: tuple[SignalTold, ...]
    capability: control.Capability | None
    beyond: limits.Beyond | None
    undefined: dict[str, str]
    words: tuple[str, ...]


@dataclass(frozen=True)
class ControlDrawn:
    """The same with its points. places: (k,) along the order, times in seconds; rows: (k,) from 1, of single values."""

    told: ControlReading
    found: control.ControlChart
    places: Floats
    rows: Ints
    along_kind: str
    along_unit: str


def control_reading(variable: VariableView, settings: ControlSettings) -> ControlReading:
    return controlled(variable, settings).told


def controlled(variable: VariableView, settings: ControlSettings) -> ControlDrawn:
    """A control chart, worked once for its pictures and its numbers."""
    roles = (role and role.symbol for role in (settings.along, settings.subgroup))
    question = "control", variable.symbol, *roles, settings.chart, settings.baseline, settings.family
    drawn: ControlDrawn = variable.table.remembered(question, lambda: _controlled(variable, settings))
    return drawn


def _controlled(variable: VariableView, settings: ControlSettings) -> ControlDrawn:
    along, subgroup = settings.along, settings.subgroup if settings.chart != "individuals" else None
    if settings.chart != "individuals" and subgroup is None:
        raise InputError(
            "no-subgroup", "Means need subgroups.", where="subgroup", remedy="Choose the variable that names them."
        )
    series = series_of(variable, along, subgroup, weights="refuse")
    numbers = series.numbers(variable.symbol)
    setting: Floats = np.arange(1.0, numbers.size + 1) if along is None else places_of(series, along)
    order = np.argsort(setting, kind="stable")
    order = order[~np.isnan(setting[order])]
    labels = None
    if subgroup is not None:
        whole = series.grouping(subgroup.symbol)
        labels = Grouping(whole.labels, whole.places[order])
    x = numbers[order]
    found = control.control_chart(x, chart=settings.chart, subgroup=labels, baseline=settings.baseline)
    if found.centres.size > MOST_POINTS:
        raise InputError(
            "too-many-points",
            f"A control chart holds up to {grouped(MOST_POINTS)} points; {there_are(found.centres.size)}.",
            where="chart", remedy="Put values together in subgroups.",
        )  # fmt: skip
    rows = order[found.rows] + 1 if subgroup is None else found.rows
    places: Floats = setting[order[found.rows]] if subgroup is None else np.arange(1.0, found.centres.size + 1)
    signals = tuple(
        SignalTold(
            signal.label,
            rows[signal.places] if rows.size else rows,
            tuple(found.labels[at] for at in signal.places.tolist()) if found.labels else (),
        )
        for signal in found.signals
    )
    low, high = variable.properties.get("spec_lower"), variable.properties.get("spec_upper")
    limited = low is not None or high is not None
    told = ControlReading(
        subject_of(variable),
        used_of(variable, series),
        "" if along is None else subject_of(along).label,
        "" if subgroup is None else subject_of(subgroup).label,
        settings.chart,
        found.centres.size,
        found.centre,
        found.sigma,
        float(np.nanmean(found.spread_centres)) if found.sigma is not None else None,
        found.baseline,
        signals,
        _capability(x, settings, labels, low, high) if limited else None,
        limits.beyond(x, lower=low, upper=high) if limited else None,
        found.undefined,
        control.words_on_control(found),
    )
    kind = ("row", "") if along is None else (along.kind, subject_of(along).unit)
    return ControlDrawn(told, found, places, rows, *(("subgroup", "") if subgroup is not None else kind))


def _capability(
    x: Floats, settings: ControlSettings, labels: Grouping | None, low: float | None, high: float | None
) -> control.Capability:
    percentiles, why = None, ""
    if settings.family != "normal":
        try:
            first, middle, last = normality.percent_points(
                normality.fit_family(x, family=settings.family), _FAR
            ).tolist()
            percentiles = (first, middle, last)
        except InputError as error:
            why = error.problem
    result = control.capability(
        x, lower=low, upper=high, chart=settings.chart, subgroup=labels, percentiles=percentiles, family=settings.family
    )
    return replace(result, undefined=result.undefined | ({"percentile_ppk": why} if why else {}))
