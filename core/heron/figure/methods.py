"""The methods that a panel uses, for a methods section."""

import json
from collections.abc import Callable
from typing import Any

from heron import differences, outliers
from heron.choices import Use
from heron.control import CHARTS
from heron.density import BANDWIDTH_RULES
from heron.figure.choices import WIDTH_RULES
from heron.figure.source import (
    ControlSource,
    DifferencesSource,
    GroupsSource,
    InfluenceSource,
    PairSource,
    QuantilesSource,
    RulesSource,
    ShapeSource,
    SharesSource,
    Source,
)
from heron.formatting import fixed, percent, significant
from heron.frequency import CLASS_RULES
from heron.frequency import USUAL as USUAL_RULE
from heron.groups import BARS, CENTRES, WHISKERS
from heron.ledger import TableView
from heron.methods import meant
from heron.normality import FAMILIES
from heron.quantiles import QUANTILE_DEFINITIONS
from heron.relation import LINES, SCALES
from heron.rescale import WAYS


def uses_of(source: Source, table: TableView) -> list[Use]:
    """The methods that a panel of a table uses, some of them for what its variables hold."""
    maker = _USES.get(source.kind)
    return [*(maker(source) if maker else []), *map(meant, _for_what_it_holds(source, table))]


def _for_what_it_holds(source: Source, table: TableView) -> list[str]:
    """The methods that values below a limit, units and specification limits call for."""
    if not isinstance(source, ShapeSource | GroupsSource | ControlSource) or source.variable not in table.state.symbols:
        return []
    said = table.variable(source.variable).properties
    if isinstance(source, ShapeSource):
        return ["detection"] if said.get("n_limited") else []
    if isinstance(source, GroupsSource):
        return ["components"] if table.state.description("").get("unit_variable") and not source.units else []
    limited = said.get("spec_lower") is not None or said.get("spec_upper") is not None
    return ["capability"] if limited and source.plot == "centres" else []


def _shape(source: ShapeSource) -> list[Use]:
    uses = []
    if "box" in source.layers:
        uses.append(QUANTILE_DEFINITIONS[str(source.quantile_definition)].used())
        uses.append(
            WHISKERS[source.whiskers].used(reach=source.reach, low=100 * source.share, high=100 - 100 * source.share)
        )
    if "density" in source.layers:
        if isinstance(source.bandwidth, str):
            uses.append(BANDWIDTH_RULES[source.bandwidth].used(kernel=source.kernel))
        else:
            uses.append(meant("bandwidth-set", kernel=source.kernel, width=f"{source.bandwidth:g}"))
    if "classes" in source.layers:
        by_hand = source.width or source.count or source.boundaries
        uses.append(meant("classes-set") if by_hand else CLASS_RULES[source.rule or USUAL_RULE].used())
    return [*uses, *_scale(source)]


def _scale(source: ShapeSource | GroupsSource | QuantilesSource) -> list[Use]:
    """The transformation that is tried, where one is."""
    way = json.loads(source.as_if).get("setting", {}).get("way", "") if source.as_if else ""
    return [WAYS[way].used()] if way else []


def _groups(source: GroupsSource) -> list[Use]:
    marks, uses = source.marks, []
    if "centre" in marks or "from zero" in marks:
        centre = CENTRES[source.centre].label
        percents = {"low_percent": source.low_percent, "high_percent": source.high_percent}
        uses.append(BARS[source.bars].used(centre=centre, level=source.level, **percents))
    if source.units:
        uses.append(meant("units", unit="unit"))
    if "box" in marks:
        uses += [QUANTILE_DEFINITIONS["7"].used(), WHISKERS["fences"].used()]
    if "violin" in marks:
        uses.append(BANDWIDTH_RULES["silverman"].used(kernel="gaussian"))
    return [*uses, *_scale(source)]


def _differences(source: DifferencesSource) -> list[Use]:
    effect = differences.EFFECTS[source.measure]
    tests = ("repeated", "friedman") if source.pair else ("welch", "kruskal-wallis")
    if effect.of_means and not source.pair:
        equal = source.spreads == "equal"
        tests = ("classical", "kruskal-wallis") if equal else tests
        how = differences.limits_of(together=source.together, equal=equal, reference=bool(source.reference))
        used = how.used(level=source.level)
    else:
        told = differences.told_of(source.measure, paired=bool(source.pair))
        used = told.used(level=source.level, trim=significant(100 * source.trim))
    return [used, *(differences.GROUP_TESTS[test].used() for test in tests)]


def _shares(source: SharesSource) -> list[Use]:
    bars = [] if source.stacked else [BARS["wilson-interval"].used(level=source.level)]
    return [*bars, meant("association")]


def _pair(source: PairSource) -> list[Use]:
    uses = []
    if source.shown != "points":
        by_rule = source.width_x is None and source.width_y is None
        rule = WIDTH_RULES[source.width_rule].label
        width = f" with the {rule} bandwidth" if by_rule else " with a bandwidth of one's own"
        uses.append(meant(f"pairs-{source.shown}", across=str(source.across), width=width))
    scaled = [
        SCALES[scale].told(variable=variable)
        for scale, variable in ((source.x_scale, "x"), (source.y_scale, "y"))
        if scale != "as-is"
    ]
    settings = {"scales": f" on {' and '.join(scaled)}" if scaled else "", "span": fixed(100 * source.span, 0)}
    uses += [LINES[line].used(**settings) for line in LINES if line in source.lines]
    return [*uses, meant("robust")] if "least-squares" in source.lines else uses


def _rules(source: RulesSource) -> list[Use]:
    options = {name: getattr(source, name) for name in outliers.OPTIONS}
    return [outliers.RULES[rule].used(**options) for rule in source.rules]


def _quantiles(source: QuantilesSource) -> list[Use]:
    if source.family != "normal":
        return [FAMILIES[source.family].used()]
    return [meant("quantile-plot"), *_scale(source)]


def _influence(source: InfluenceSource) -> list[Use]:
    shared = [meant("partial"), meant("inflation")] if len(source.predictors) > 1 else []
    return [meant("influence"), meant("robust"), *shared]


_USES: dict[str, Callable[[Any], list[Use]]] = {
    "shape": _shape,
    "groups": _groups,
    "shares": _shares,
    "differences": _differences,
    "quantiles": _quantiles,
    "pair": _pair,
    "rules": _rules,
    "control": lambda source: [CHARTS[source.chart].used()],
    "agreement": lambda source: [meant("agreement", level=percent(source.level))],
    "distances": lambda source: [meant("distances")],
    "influence": _influence,
}
