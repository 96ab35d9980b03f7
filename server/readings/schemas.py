from typing import Annotated, Any, Literal

from heron import definitions
from heron.audit import Audit
from heron.density import Density
from heron.frequency import Classes, ValueCounts
from heron.quantiles import Definition
from ninja import Schema
from pydantic import BeforeValidator, Field

from server.plain_text import PlainText
from server.readings.answers import schema_of
from server.readings.cross import Cross
from server.readings.grid import Grid, Sought, View
from server.readings.ladder import Gains, LadderReading, Tried
from server.readings.lineup import LineUpShown
from server.readings.normal import Against, NormalityReading
from server.readings.ordered import OrderReading, TimesReading
from server.readings.overview import Overview
from server.readings.selectors import Subject, Used, Within
from server.readings.split import ByLevels, CurveAsked
from server.readings.spread import BoxAsked, Bumps, Comparison, Intervals, Spread

SpreadOut = schema_of(Spread)
NormalityOut = schema_of(NormalityReading)
WithinOut = schema_of(Within)
ByLevelsOut = schema_of(ByLevels)
AgainstOut = schema_of(Against)
BumpsOut = schema_of(Bumps)
LadderOut = schema_of(LadderReading)
GainsOut = schema_of(Gains, list[float | None])
TriedOut = schema_of(Tried, list[float | None])
OrderOut = schema_of(OrderReading)
TimesOut = schema_of(TimesReading, list[float | None])
LineUpOut = schema_of(LineUpShown)
_Short = list[float | None]
CrossOut = schema_of(Cross, _Short)
IntervalsOut = schema_of(Intervals, _Short)
OverviewOut = schema_of(Overview, _Short)

BandwidthIn = Literal["silverman", "scott", "plug-in"] | Annotated[float, Field(gt=0, allow_inf_nan=False)]


class ClassesOut(Schema):
    subject: schema_of(Subject, _Short)  # type: ignore[valid-type]
    used: schema_of(Used, _Short)  # type: ignore[valid-type]
    classes: schema_of(Classes, _Short)  # type: ignore[valid-type]


class DensityOut(Schema):
    subject: schema_of(Subject)  # type: ignore[valid-type]
    used: schema_of(Used)  # type: ignore[valid-type]
    density: schema_of(Density)  # type: ignore[valid-type]


class CountsOut(Schema):
    subject: schema_of(Subject, _Short)  # type: ignore[valid-type]
    used: schema_of(Used, _Short)  # type: ignore[valid-type]
    counts: schema_of(ValueCounts, _Short)  # type: ignore[valid-type]


class DefinitionsOut(Schema):
    definitions: list[schema_of(Comparison, _Short)]  # type: ignore[valid-type]


AxisIn = Literal["straight", "log"]


class TryingIn(Schema):
    """as_if: a way of making a variable, as JSON: the answer is as if the variable were made so already."""

    as_if: str | None = Field(default=None, max_length=40_000)


class ClassesIn(TryingIn):
    rule: Literal["freedman-diaconis", "scott", "sturges", "square-root", "integers"] | None = None
    count: Annotated[int, Field(ge=1, le=512)] | None = None
    width: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    start: Annotated[float, Field(allow_inf_nan=False)] | None = None
    boundaries: list[Annotated[float, Field(allow_inf_nan=False)]] = Field(default=[], max_length=513)
    closed: Literal["left", "right"] = "left"
    axis: AxisIn = "straight"

    def cut(self) -> dict[str, Any]:
        """How classes are set, as the core takes it."""
        said = {name: getattr(self, name) for name in ("rule", "count", "width", "start", "closed")}
        return {**said, "boundaries": self.boundaries or None}


def _number_where_one(text: object) -> object:
    """An address holds text; definitions 1 to 9 are numbers."""
    return int(text) if isinstance(text, str) and text.isdigit() else text


class SpreadIn(TryingIn):
    quantile_definition: Annotated[Definition, BeforeValidator(_number_where_one)] = 7
    level: Annotated[float, Field(gt=0.5, lt=1)] = 0.95


Kernel = Literal["gaussian", "epanechnikov", "triangular", "uniform", "biweight"]


class MeaningOut(Schema):
    id: str
    name: str
    definition: str
    source: str


class ChapterOut(Schema):
    name: str
    meanings: list[MeaningOut]


def chapters_out() -> list[ChapterOut]:
    """What each number means, chapter by chapter."""
    return [
        ChapterOut(
            name=name,
            meanings=[
                MeaningOut(
                    id=each.id,
                    name=each.name,
                    definition=each.definition,
                    source="; ".join(map(definitions.short, each.sources)),
                )
                for each in meanings
            ],
        )
        for name, meanings in definitions.CHAPTERS.items()
    ]


class CrossIn(ClassesIn):
    missing: bool = False


class IntervalsIn(Schema):
    share: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    level: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95


class BoxIn(SpreadIn):
    percents: list[Annotated[float, Field(ge=0, le=100)]] = Field(default=[], max_length=40)
    reach: Annotated[float, Field(ge=0, le=100)] = 1.5
    whiskers: Literal["fences", "range", "percentiles"] = "fences"
    share: Annotated[float, Field(gt=0, lt=0.5)] = 0.05

    def box(self) -> BoxAsked:
        return BoxAsked(self.quantile_definition, tuple(self.percents), self.reach, self.whiskers, self.share)


class WholeSpreadIn(BoxIn):
    closed: Literal["left", "right"] = "left"
    kernel: Kernel = "gaussian"
    axis: AxisIn = "straight"


class DensityIn(TryingIn):
    bandwidth: BandwidthIn = "silverman"
    kernel: Kernel = "gaussian"
    axis: AxisIn = "straight"


class SplitIn(BoxIn, ClassesIn, DensityIn):
    by: PlainText = ""

    def curve(self) -> CurveAsked:
        return CurveAsked(self.bandwidth, self.kernel, self.axis)


class NumbersIn(BoxIn, ClassesIn):
    """What a file of numbers holds."""


class NormalityIn(TryingIn):
    level: Annotated[float, Field(gt=0.5, lt=1)] = 0.95
    by: PlainText = ""


class LadderIn(Schema):
    by: PlainText = ""


class AgainstIn(Schema):
    family: Literal["normal", "log-normal", "weibull", "exponential", "gamma"] = "normal"
    level: Annotated[float, Field(gt=0.5, lt=1)] = 0.95


class OrderIn(Schema):
    along: PlainText = ""


class TimesIn(Schema):
    unit: Literal["second", "minute", "hour", "day", "week", "month", "quarter", "year"] | None = None


GridOut = schema_of(Grid)
SoughtOut = schema_of(Sought)
AuditOut = schema_of(Audit, _Short)


class ViewIn(Schema):
    sort: PlainText = ""
    descending: bool = False
    variable: PlainText = ""
    low: Annotated[float, Field(allow_inf_nan=False)] | None = None
    high: Annotated[float, Field(allow_inf_nan=False)] | None = None
    level: PlainText | None = None
    missing: bool = False
    set_aside: bool = False

    def view(self) -> View:
        return View(**{name: getattr(self, name) for name in ViewIn.model_fields})


class GridIn(ViewIn):
    start: Annotated[int, Field(ge=0, le=2_000_000_000)] = 0
    count: Annotated[int, Field(ge=1, le=500)] = 100
    find: Annotated[int, Field(ge=0, le=2_000_000_000)] | None = None


class SeekIn(ViewIn):
    text: PlainText = Field(min_length=1, max_length=200)
    after: Annotated[int, Field(ge=-1, le=2_000_000_000)] = -1


class WithinIn(Schema):
    low: Annotated[float, Field(allow_inf_nan=False)] | None = None
    high: Annotated[float, Field(allow_inf_nan=False)] | None = None
    closed: Literal["left", "right", "both"] = "both"
    level: PlainText | None = None
    missing: bool = False
    set_aside: bool = False
