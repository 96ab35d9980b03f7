"""The methods that a table of numbers uses, for a methods section."""

from typing import Any

from heron.choices import Use
from heron.differences import GROUP_TESTS
from heron.errors import InputError
from heron.figure.methods import uses_of as uses_of_picture
from heron.figure.source import DifferencesSource, GroupsSource, InfluenceSource
from heron.figure.source import Source as Picture
from heron.ledger import TableView
from heron.methods import meant
from heron.quantiles import QUANTILE_DEFINITIONS
from heron.tables.build import build
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
        try:
            made = build(source, table)
        except InputError:  # what cannot be made uses nothing
            return []
        return [_used(method, source) for method in made.methods]
    if isinstance(source, RegressionSource):
        return [meant("robust")] if source.robust else []
    if isinstance(source, QuantileSource):
        return [QUANTILE_DEFINITIONS[str(source.quantile_definition)].used()]
    return []


def _used(method: str, source: SummarySource) -> Use:
    if method == "quartiles":
        return QUANTILE_DEFINITIONS[str(source.quantile_definition)].used()
    return GROUP_TESTS[method].used() if method in GROUP_TESTS else meant(method)


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
    if isinstance(source, InfluenceTableSource):
        return InfluenceSource(
            **whose, response=source.response, predictors=source.predictors, product=source.product
        )  # fmt: skip
    return None
