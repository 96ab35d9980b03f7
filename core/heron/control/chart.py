"""Values in the order in which a process gave them, with their limits and the runs rules that they break."""

import math
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron import studentized
from heron.checks import Floats, Ints, as_values, choose
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.formatting import counted, significant, there_are
from heron.grouping import By, groups_of
from heron.results import Result

Chart = Literal["individuals", "range", "sd"]
CHARTS: dict[str, Choice] = by_id(
    (
        Choice(
            id="individuals",
            label="single values",
            help="Each value for itself; its spread from the ranges of neighbours.",
            definition="Limits mean ∓ 3 s, s the mean moving range of two neighbours over d₂(2) = 1.128.",
            caption="single values, limits from the moving range of two",
            methods="a control chart of single values has limits of 3 SDs from the mean moving range",
            sources=("shewhart-1931", "montgomery-2013"),
            rank=1,
        ),
        Choice(
            id="range",
            label="means, spread by ranges",
            help="Means of subgroups; their spread from the ranges within them, for up to about 10 values each.",
            definition="Limits mean ∓ 3 s/√n, s the mean of the ranges within subgroups, each over d₂(n).",
            caption="means of subgroups, limits from the ranges within them",
            methods="a control chart of subgroup means has limits of 3 standard errors from the ranges within "
            "subgroups",
            sources=("shewhart-1931", "montgomery-2013"),
            rank=2,
        ),
        Choice(
            id="sd",
            label="means, spread by SDs",
            help="Means of subgroups; their spread from the SDs within them, for subgroups of any size.",
            definition="Limits mean ∓ 3 s/√n, s the mean of the SDs within subgroups, each over c₄(n).",
            caption="means of subgroups, limits from the SDs within them",
            methods="a control chart of subgroup means has limits of 3 standard errors from the SDs within subgroups",
            sources=("shewhart-1931", "montgomery-2013"),
            rank=3,
        ),
    )
)
_OF_LIMITS = 3.0  # standard errors from the centre
LARGEST = 1e150
MOST_SUBGROUP = 300  # values, of which a range says little long before


@dataclass(frozen=True)
class RunsRule:
    """So many of a few points in a row that lie beyond a distance on one side, in standard errors."""

    label: str
    needed: int
    of: int
    beyond: float


RUNS_RULES: dict[str, RunsRule] = {
    "beyond": RunsRule("1 point beyond a limit", 1, 1, 3.0),
    "two-of-three": RunsRule("2 of 3 points beyond two thirds of the way to a limit, on one side", 2, 3, 2.0),
    "four-of-five": RunsRule("4 of 5 points beyond a third of the way to a limit, on one side", 4, 5, 1.0),
    "eight": RunsRule("8 points in a row on one side of the centre", 8, 8, 0.0),
}


@dataclass(frozen=True)
class Signal:
    """A rule that points break. places: (k,) the points, from 0, at which it is complete."""

    rule: str
    label: str
    places: Ints


@dataclass(frozen=True)
class ControlChart(Result, columns=("centres", "lower", "upper", "spreads", "spread_lower", "spread_upper")):
    """A process in its order. centres: (k,) values, or means of subgroups, with the limits of each about `centre`;
    spreads: (k,) moving ranges (NaN for the first), ranges or SDs, with theirs about spread_centres (k,); sigma: the SD
    within subgroups, on df degrees of freedom. labels: of subgroups, empty for single values; rows: (k,) positions of
    single values; baseline: how many points the limits rest on; spread_beyond: (m,) places of spreads beyond a limit.
    None with the reason where there are no limits."""

    chart: Chart
    centres: Floats
    lower: Floats
    upper: Floats
    centre: float | None
    spreads: Floats
    spread_lower: Floats
    spread_upper: Floats
    spread_centres: Floats
    sigma: float | None
    df: float
    sizes: Ints
    labels: tuple[str, ...]
    rows: Ints
    signals: tuple[Signal, ...]
    spread_beyond: Ints
    baseline: int
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@lru_cache(maxsize=MOST_SUBGROUP)
def range_constants(n: int) -> tuple[float, float]:
    """The mean of the range of n standard normal values, d2, and its SD, d3, by quadrature."""
    nodes, weights = studentized.nodes(160)
    w = 8 * (nodes + 1)
    tail = studentized.range_tail(w, n)
    mean = float(8 * weights @ tail)
    return mean, math.sqrt(float(8 * weights @ (2 * w * tail)) - mean**2)


def sd_constant(n: int) -> float:
    """The mean of the SD of n standard normal values, c4."""
    return math.sqrt(2 / (n - 1)) * math.exp(math.lgamma(n / 2) - math.lgamma((n - 1) / 2))


def control_chart(
    x: ArrayLike, *, chart: Chart = "individuals", subgroup: By | None = None, baseline: int | None = None
) -> ControlChart:
    """Return a control chart of values in their order.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in the order in which they came, NaN for missing.
    chart : {"individuals", "range", "sd"}, optional
        Single values, or means of subgroups with their spread by ranges or by SDs.
    subgroup : (n_rows,) labels, optional
        The subgroup of each row, for means; subgroups stand in the order in which they first appear, and those of one
        value have no spread.
    baseline : int, optional
        How many of the first points the limits rest on; by default all.

    Returns
    -------
    ControlChart
        Points with limits of 3 standard errors in the unit of x, their spreads with limits, and the runs rules broken.

    Raises
    ------
    ChoiceError
        For a chart that there is not.
    InputError
        For infinite values or such beyond 1e150, means without subgroups, or a baseline below 2.

    Notes
    -----
    d2 and d3 are mean and SD of the range of n standard normal values, c4 the mean of their SD. Limits of ranges are R
    -/+ 3 d3 s, of SDs c4 s -/+ 3 s sqrt(1 - c4^2), no less than 0. Signals: one point beyond a limit, two of three
    beyond two standard errors, four of five beyond one, eight in a row on one side.

    References
    ----------
    shewhart-1931
    western-electric-1956, for the runs rules
    montgomery-2013, chapter 6

    Examples
    --------
    >>> result = control_chart([5.0, 5.2, 4.9, 5.1, 5.0, 9.0], baseline=5)
    >>> round(float(result.upper[0]), 3), [signal.rule for signal in result.signals]
    (5.572, ['beyond'])
    """
    choose(chart, CHARTS, where="chart")
    checked = as_values(x)
    values, rows = checked.values, checked.positions
    missing = checked.length - values.size
    if values.size and float(np.abs(values).max()) > LARGEST:
        problem = f"Values beyond {significant(LARGEST)} have no limits here."
        raise InputError("too-large", problem, where="x", remedy="Put the variable in a larger unit.")
    if baseline is not None and baseline < 2:
        raise InputError("out-of-range", "Limits rest on 2 points or more.", where="baseline")
    if chart == "individuals":
        labels: tuple[str, ...] = ()
        sizes = np.ones(values.size, dtype=np.int64)
        centres = values
        spreads = np.concatenate(([np.nan], np.abs(np.diff(values)))) if values.size else values
    else:
        if subgroup is None:
            raise InputError("no-subgroup", "Means need subgroups.", where="subgroup", remedy="Choose what they are.")
        grouping = groups_of(subgroup, checked.length, where="subgroup")
        codes = grouping.places[rows]
        values, rows, codes = values[codes >= 0], rows[codes >= 0], codes[codes >= 0]
        missing = checked.length - values.size
        found, first, which = np.unique(codes, return_index=True, return_inverse=True)
        order = np.argsort(first)  # as they came
        sorted_rows = np.argsort(which, kind="stable")
        by_place = np.split(values[sorted_rows], np.cumsum(np.bincount(which, minlength=found.size))[:-1])
        parts = [by_place[at] for at in order.tolist()] if values.size else []
        labels = tuple(grouping.labels[code] for code in found[order].tolist())
        sizes = np.array([part.size for part in parts], dtype=np.int64)
        if sizes.size and int(sizes.max()) > MOST_SUBGROUP:
            raise InputError(
                "too-many-values", f"A subgroup has {int(sizes.max())} values; at most {MOST_SUBGROUP} are taken.",
                where="subgroup",
            )  # fmt: skip
        centres = np.array([part.mean() for part in parts])
        spreads = np.array([_spread(part, chart) for part in parts])
    return _charted(
        chart, centres, spreads, sizes, labels, rows if chart == "individuals" else _none(), baseline, missing
    )


def _none() -> Ints:
    return np.empty(0, dtype=np.int64)


def _spread(part: Floats, chart: Chart) -> float:
    if part.size < 2:
        return math.nan
    return float(part.max() - part.min()) if chart == "range" else float(part.std(ddof=1))


def _charted(
    chart: Chart,
    centres: Floats,
    spreads: Floats,
    sizes: Ints,
    labels: tuple[str, ...],
    rows: Ints,
    baseline: int | None,
    missing: int,
) -> ControlChart:
    k = centres.size
    used = min(baseline or k, k)
    n = int(sizes.sum())
    nothing = np.full(k, np.nan)

    def without(why: str) -> ControlChart:
        return ControlChart(
            chart, centres, nothing, nothing, None, spreads, nothing, nothing, nothing, None, 0.0, sizes, labels,
            rows, (), _none(), used, n, missing, {"centre": why, "sigma": why},
        )  # fmt: skip

    known = np.flatnonzero(~np.isnan(spreads[:used]))
    if used < 2 or known.size == 0:
        kind = "values" if chart == "individuals" else "subgroups of 2 values or more"
        return without(f"Limits rest on 2 points or more, with a spread; {there_are(known.size)} {kind}.")
    width = np.maximum(sizes, 2) if chart == "individuals" else sizes
    means, deviations = (np.array(part) for part in zip(*(_constants(chart, int(size)) for size in width), strict=True))
    sigma = float(np.mean(spreads[known] / means[known]))
    centre = float(np.average(centres[:used], weights=sizes[:used]))
    errors = sigma / np.sqrt(sizes)
    spread_centres = means * sigma
    reach = _OF_LIMITS * deviations * sigma
    lower, upper = np.maximum(spread_centres - reach, 0), spread_centres + reach
    with np.errstate(invalid="ignore", divide="ignore"):
        z = (centres - centre) / errors
        beyond = np.flatnonzero((spreads > upper) | (spreads < lower))
    signals = tuple(Signal(rule, RUNS_RULES[rule].label, at) for rule in RUNS_RULES if (at := _broken(z, rule)).size)
    return ControlChart(
        chart, centres, centre - _OF_LIMITS * errors, centre + _OF_LIMITS * errors, centre, spreads, lower, upper,
        spread_centres, sigma, _degrees(chart, sizes[known], known.size), sizes, labels, rows,
        signals if sigma > 0 else (), beyond if sigma > 0 else _none(), used, n, missing,
    )  # fmt: skip


def _constants(chart: Chart, n: int) -> tuple[float, float]:
    """Mean and SD of the spread of n standard normal values; NaN for one."""
    if n < 2:
        return math.nan, math.nan
    if chart == "sd":
        c4 = sd_constant(n)
        return c4, math.sqrt(1 - c4**2)
    return range_constants(n)


def _degrees(chart: Chart, sizes: Ints, k: int) -> float:
    """Degrees of freedom of the SD within subgroups: those whose chi would vary as much."""
    if chart == "individuals":
        # Ranges that share a value go together: E|a b| of differences with correlation -1/2 is 1.4360.
        d2, d3 = range_constants(2)
        rho = -0.5
        shared = 4 / math.pi * (math.sqrt(1 - rho**2) + rho * math.asin(rho)) - d2**2
        variance = (k * d3**2 + 2 * (k - 1) * shared) / (k * d2) ** 2
    else:
        variance = (
            sum((constants[1] / constants[0]) ** 2 for constants in (_constants(chart, int(size)) for size in sizes))
            / k**2
        )
    return 1 / (2 * variance)


def _broken(z: Floats, rule: str) -> Ints:
    """Where a rule is complete: the last of its points, which lies there itself."""
    record = RUNS_RULES[rule]
    result = np.zeros(z.size, dtype=bool)
    for side in (-1, 1):
        past = side * z > record.beyond
        counts = np.convolve(past.astype(np.int64), np.ones(record.of, dtype=np.int64))[: z.size]
        result |= past & (counts >= record.needed)
    return np.flatnonzero(result)


def words_on_control(result: ControlChart) -> tuple[str, ...]:
    """Sentences on a process in its order."""
    if result.centre is None:
        return tuple(dict.fromkeys(result.undefined.values()))
    noun = "value" if result.chart == "individuals" else "subgroup"
    said = [
        f"Of {counted(result.centres.size, noun)} the limits rest on "
        f"{'all' if result.baseline == result.centres.size else f'the first {result.baseline}'}."
    ]
    if result.signals:
        points = int(np.unique(np.concatenate([signal.places for signal in result.signals])).size)
        rules = counted(len(result.signals), "rule")
        breaks = "breaks" if points == 1 else "break"
        said.append(f"{counted(points, 'point')} {breaks} {rules}: look for what was different then.")
    if result.spread_beyond.size:
        kinds = {"individuals": "moving range", "range": "range", "sd": "SD"}
        said.append(f"{counted(int(result.spread_beyond.size), kinds[result.chart])} beyond a limit.")
    if result.sigma == 0:
        said.append("There is no spread, so that no limit tells anything.")
    elif not result.signals and not result.spread_beyond.size:
        said.append("No rule is broken: nothing in the order speaks against a steady process.")
    return tuple(said)
