"""The methods that a table of numbers uses, for a methods section."""

from typing import Any

from heron.choices import Use
from heron.differences import GROUP_TESTS
from heron.figure.methods import uses_of as uses_of_picture
from heron.figure.source import DifferencesSource, GroupsSource, InfluenceSource
from heron.figure.source import Source as Picture
from heron.ledger import TableView
from heron.methods import meant
from heron.quantiles import QUANTILE_DEFINITIONS
from heron.tables.source import (
    GroupSource,
    InfluenceTableSource,
    PairsOfGroupsSource,
    QuantileSource,
    RegressionSource,
    SummarySource,
    TableSource,
)


def uses_of(source: TableSource, table: TableView) -> list[Use]:
    """The methods that a table of numbers uses: those of the picture of the same numbers, where there is one."""
    picture = _picture_of(source)
    if picture is not None:
        return uses_of_picture(picture, table)
    if isinstance(source, SummarySource):
        quartiles = "median_quartiles" in source.lines or not source.lines
        uses = [QUANTILE_DEFINITIONS[str(source.quantile_definition)].used()] if quartiles else []
        tests = [GROUP_TESTS[test].used() for test in ("welch", "kruskal-wallis")] if source.test else []
        return [*uses, *tests, *([meant("association")] if source.test else [])]
    if isinstance(source, QuantileSource):
        return [QUANTILE_DEFINITIONS[str(source.quantile_definition)].used()]
    return []


def _picture_of(source: TableSource) -> Picture | None:
    whose: dict[str, Any] = {"table": source.table, "only": source.only}
    if isinstance(source, GroupSource):
        return GroupsSource(
            **whose, variable=source.variable, by=source.by, second=source.second, centre=source.centre,
            bars=source.bars, level=source.level, units=source.units, low_percent=source.low_percent,
            high_percent=source.high_percent, trim=source.trim, marks=("centre",),
        )  # fmt: skip
    if isinstance(source, PairsOfGroupsSource):
        return DifferencesSource(
            **whose, variable=source.variable, by=source.by, pair=source.pair, measure=source.measure,
            reference=source.reference, level=source.level, units=source.units, together=source.together,
            spreads=source.spreads, trim=source.trim,
        )  # fmt: skip
    if isinstance(source, RegressionSource | InfluenceTableSource):
        return InfluenceSource(
            **whose, response=source.response, predictors=source.predictors, product=source.product
        )  # fmt: skip
    return None
