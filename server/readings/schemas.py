from typing import Annotated, Any, Literal

from heron import agreement, control, definitions, differences, groups, normality, outliers, relation
from heron.audit import Audit
from heron.density import BandwidthRule, Density, Kernel
from heron.frequency import Classes, ClassRule, ValueCounts
from heron.ledger import Used
from heron.listing import Listing
from heron.normality import Family
from heron.quantiles import Definition
from heron.readings import Subject, estimates, pairs, shares
from heron.readings import differences as differing
from heron.readings import groups as compare
from heron.readings import lines as fits
from heron.readings.agreement import AgreementReading
from heron.readings.control import ControlReading
from heron.readings.cross import Cross
from heron.readings.detection import DetectionReading
from heron.readings.influence import MOST_PREDICTORS, RelationSettings
from heron.readings.normality import Against, NormalityReading
from heron.readings.ordering import OrderReading, TimesReading
from heron.readings.spread import BoxSettings, Comparison, Intervals, Spread
from heron.sources import short
from heron.times import Unit
from ninja import Schema
from pydantic import BeforeValidator, Field

from server.fields import PlainText, RowNumber
from server.readings.answers import schema_of
from server.readings.grid import Grid, Sought
from server.readings.ladder import Gains, LadderReading, Tried
from server.readings.lineup import LineUpShown
from server.readings.overview import Overview
from server.readings.relation import PulledReading, RelationReading
from server.readings.screen import ScreenReading, TogetherReading, Weighed
from server.readings.selectors import Glance, Within
from server.readings.split import ByLevels
from server.studies.snapshots import VariableSnapshot

SpreadOut = schema_of(Spread)
NormalityOut = schema_of(NormalityReading)
WithinOut = schema_of(Within)
ByLevelsOut = schema_of(ByLevels)
AgainstOut = schema_of(Against)
LadderOut = schema_of(LadderReading)
GainsOut = schema_of(Gains, list[float | None])
TriedOut = schema_of(Tried, list[float | None])
OrderOut = schema_of(OrderReading)
TimesOut = schema_of(TimesReading, list[float | None])
LineUpOut = schema_of(LineUpShown)
ComparedOut = schema_of(compare.Comparison)
EstimatesOut = schema_of(estimates.EstimatesReading)
MatrixOut = schema_of(pairs.MatrixReading)
EnclosedOut = schema_of(pairs.Enclosed)
BoardOut = schema_of(pairs.BoardReading)
ScreenOut = schema_of(ScreenReading)
TogetherOut = schema_of(TogetherReading)
RelationOut = schema_of(RelationReading)
_Short = list[float | None]
WeighedOut = schema_of(Weighed, _Short)
PulledOut = schema_of(PulledReading, _Short)
PairsOut = schema_of(pairs.PairsReading, _Short)
DetectionOut = schema_of(DetectionReading, _Short)
ControlOut = schema_of(ControlReading, _Short)
AgreementOut = schema_of(AgreementReading, _Short)
FitsOut = schema_of(fits.FitsReading, _Short)
CorrelatedOut = schema_of(pairs.CorrelationsReading, _Short)
PredictedOut = schema_of(relation.Predicted)
DifferedOut = schema_of(differing.DifferenceReading, _Short)
SharesOut = schema_of(shares.SharesReading, _Short)
CrossOut = schema_of(Cross, _Short)
IntervalsOut = schema_of(Intervals, _Short)
OverviewOut = schema_of(Overview, _Short)

BandwidthIn = BandwidthRule | Annotated[float, Field(gt=0, allow_inf_nan=False)]


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


AxisIn = Literal["linear", "log"]


class TryingIn(Schema):
    """as_if: a way of making a variable, as JSON: the answer is as if the variable were made so already."""

    as_if: PlainText | None = Field(default=None, max_length=40_000)


class ClassesIn(TryingIn):
    rule: ClassRule | None = None
    count: Annotated[int, Field(ge=1, le=512)] | None = None
    width: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    start: Annotated[float, Field(allow_inf_nan=False)] | None = None
    boundaries: list[Annotated[float, Field(allow_inf_nan=False)]] = Field(default=[], max_length=513)
    closed: Literal["left", "right"] = "left"
    axis: AxisIn = "linear"

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
                    id=meaning.id,
                    name=meaning.name,
                    definition=meaning.definition,
                    source="; ".join(map(short, meaning.sources)),
                )
                for meaning in meanings
            ],
        )
        for name, meanings in definitions.CHAPTERS.items()
    ]


class CrossIn(ClassesIn):
    missing: bool = False


class ControlIn(Schema):
    """along: what sets the order; subgroup: what means are of; baseline: how many of the first points the limits rest
    on; family: whose percentiles capability is measured by too."""

    along: PlainText = Field(default="", max_length=60)
    chart: control.Chart = "individuals"
    subgroup: PlainText = Field(default="", max_length=60)
    baseline: Annotated[int, Field(ge=2, le=1_000_000)] | None = None
    family: normality.Family = "normal"


class IntervalsIn(Schema):
    """percent: of a percent point that is wanted with its limits."""

    share: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    level: Annotated[float, Field(ge=0.5, le=0.999)] = 0.95
    percent: Annotated[float, Field(gt=0, lt=100)] = 50


class BoxIn(SpreadIn):
    percents: list[Annotated[float, Field(ge=0, le=100)]] = Field(default=[], max_length=40)
    reach: Annotated[float, Field(ge=0, le=100)] = 1.5
    whiskers: groups.Whiskers = "fences"
    share: Annotated[float, Field(gt=0, lt=0.5)] = 0.05

    def box(self) -> BoxSettings:
        return BoxSettings(self.quantile_definition, tuple(self.percents), self.reach, self.whiskers, self.share)


class WholeSpreadIn(BoxIn):
    closed: Literal["left", "right"] = "left"
    kernel: Kernel = "gaussian"
    axis: AxisIn = "linear"


class DensityIn(TryingIn):
    bandwidth: BandwidthIn = "silverman"
    kernel: Kernel = "gaussian"
    axis: AxisIn = "linear"


class SplitIn(BoxIn):
    by: PlainText


class NumbersIn(BoxIn, ClassesIn):
    """What a file of numbers holds."""


class NormalityIn(TryingIn):
    level: Annotated[float, Field(gt=0.5, lt=1)] = 0.95
    by: PlainText = ""


class LadderIn(Schema):
    by: PlainText = ""


class AgainstIn(Schema):
    family: Family = "normal"
    level: Annotated[float, Field(gt=0.5, lt=1)] = 0.95


class OrderIn(Schema):
    along: PlainText = ""


class TimesIn(Schema):
    unit: Unit | None = None


GridOut = schema_of(Grid)
SoughtOut = schema_of(Sought)
AuditOut = schema_of(Audit, _Short)
GlanceOut = schema_of(Glance)


class ListingIn(Schema):
    sort: PlainText = ""
    descending: bool = False
    variable: PlainText = ""
    low: Annotated[float, Field(allow_inf_nan=False)] | None = None
    high: Annotated[float, Field(allow_inf_nan=False)] | None = None
    level: PlainText | None = None
    missing: bool = False
    set_aside: bool = False

    def listing(self) -> Listing:
        return Listing(**{name: getattr(self, name) for name in ListingIn.model_fields})


class GridIn(ListingIn):
    start: Annotated[int, Field(ge=0, le=2_000_000_000)] = 0
    count: Annotated[int, Field(ge=1, le=500)] = 100
    find: Annotated[int, Field(ge=0, le=2_000_000_000)] | None = None


class SeekIn(ListingIn):
    text: PlainText = Field(min_length=1, max_length=200)
    after: Annotated[int, Field(ge=-1, le=2_000_000_000)] = -1


class WithinIn(Schema):
    low: Annotated[float, Field(allow_inf_nan=False)] | None = None
    high: Annotated[float, Field(allow_inf_nan=False)] | None = None
    closed: Literal["left", "right", "both"] = "both"
    level: PlainText | None = None
    missing: bool = False
    set_aside: bool = False


_Symbol = Annotated[PlainText, Field(min_length=1, max_length=60)]
RowsIn = list[RowNumber]
_REACH, _SUSPECTS, _LEVEL = (outliers.OPTIONS[name] for name in ("reach", "suspects", "level"))


class ScreenIn(Schema):
    """by: the variable within whose levels each value is judged, "" for none; rules, with their settings."""

    by: PlainText = Field(default="", max_length=60)
    rules: list[outliers.Rule] = Field(default=list(outliers.USUAL), max_length=len(outliers.RULES))
    reach: Annotated[float, Field(ge=_REACH.low, le=_REACH.high)] = _REACH.usual
    quantile_definition: Definition = 7
    suspects: Annotated[int, Field(ge=_SUSPECTS.low, le=_SUSPECTS.high)] = _SUSPECTS.usual
    level: Annotated[float, Field(ge=_LEVEL.low, le=_LEVEL.high)] = _LEVEL.usual

    def options(self) -> dict[str, Any]:
        return {name: getattr(self, name) for name in outliers.OPTIONS}


class TogetherIn(Schema):
    variables: list[_Symbol] = Field(min_length=1, max_length=50)


class RelationIn(Schema):
    """product: two of the predictors whose products take part too."""

    response: _Symbol
    predictors: list[_Symbol] = Field(min_length=1, max_length=MOST_PREDICTORS)
    product: list[_Symbol] = Field(default=[], max_length=2)

    def asked(self) -> RelationSettings:
        return RelationSettings(self.response, self.predictors, self.product)


class PullIn(RelationIn):
    rows: RowsIn = Field(max_length=100_000)


class WeighIn(Schema):
    variable: _Symbol
    by: PlainText = Field(default="", max_length=60)
    rows: RowsIn = Field(max_length=100_000)


class CompareIn(Schema):
    """by, second: variables whose levels are compared; units: whether n counts the table's units; pair: what joins
    values across groups; line: through what a line over the numbers of the levels goes; log: for a log axis."""

    by: _Symbol
    second: PlainText = Field(default="", max_length=60)
    centre: groups.Centre = "mean"
    bars: groups.Bars = "mean-interval"
    level: Annotated[float, Field(gt=0, lt=1)] = 0.95
    units: bool = False
    low_percent: Annotated[float, Field(ge=0, le=100)] = 5
    high_percent: Annotated[float, Field(ge=0, le=100)] = 95
    trim: Annotated[float, Field(ge=0, lt=0.5)] = 0.1
    pair: PlainText = Field(default="", max_length=60)
    line: Literal["none", "rows", "centres"] = "none"
    log: bool = False


class GroupRowsIn(Schema):
    """group: its place among the groups of `by`, and of `second` within each."""

    by: _Symbol
    second: PlainText = Field(default="", max_length=60)
    group: Annotated[int, Field(ge=0, lt=1_000)]


class ProgressOut(Schema):
    """share: from 0 to 1, null where the answer does not say, or is there; note: what is to be known of how it is
    worked."""

    share: float | None
    note: str


class StopIn(Schema):
    view: PlainText = Field(max_length=120)


class DifferIn(Schema):
    """together: limits that hold for all pairs at once, and spreads: whether these are taken for equal, where the
    measure knows how; trim: the share that trimmed means cut at each end."""

    by: _Symbol
    measure: differences.Effect = "mean"
    reference: PlainText = Field(default="", max_length=200)
    level: Annotated[float, Field(gt=0, lt=1)] = 0.95
    units: bool = False
    pair: PlainText = Field(default="", max_length=60)
    together: bool = True
    spreads: differences.Spreads = "unequal"
    trim: Annotated[float, Field(ge=0, lt=0.5)] = 0.1


class SharesIn(Schema):
    """chosen: places of the levels whose share is told, by default the last; neutral: the level about which stacked
    parts are centred."""

    by: _Symbol
    chosen: list[Annotated[int, Field(ge=0, lt=1_000)]] = Field(default=[], max_length=60)
    neutral: Annotated[int, Field(ge=0, lt=1_000)] | None = None
    level: Annotated[float, Field(gt=0, lt=1)] = 0.95


class EstimatesIn(Schema):
    """Columns by symbol: estimates, two of limits or as many widths, and what labels, weighs and groups the rows."""

    of: list[_Symbol] = Field(min_length=1, max_length=60)
    limits: list[_Symbol] = Field(default=[], max_length=2)
    widths: list[_Symbol] = Field(default=[], max_length=60)
    label: PlainText = Field(default="", max_length=60)
    weight: PlainText = Field(default="", max_length=60)
    heading: PlainText = Field(default="", max_length=60)

    def asked(self) -> estimates.EstimatesSettings:
        return estimates.EstimatesSettings(
            tuple(self.of), tuple(self.limits), tuple(self.widths), self.label, self.weight, self.heading
        )


_Scale = relation.Scale
_Share = Annotated[float, Field(gt=0, lt=1)]


class PairIn(Schema):
    """Two variables by symbol."""

    x: _Symbol
    y: _Symbol


class PairsIn(Schema):
    """x, one or several y, by: a variable that colours, size: one that sizes the points."""

    x: _Symbol
    y: list[_Symbol] = Field(min_length=1, max_length=pairs.MOST_SERIES)
    by: PlainText = Field(default="", max_length=60)
    size: PlainText = Field(default="", max_length=60)

    def asked(self) -> pairs.PairsSettings:
        return pairs.PairsSettings(self.x, self.y, self.by, self.size)


class CorrelatedIn(PairIn):
    by: PlainText = Field(default="", max_length=60)
    level: _Share = 0.95


class MatrixIn(Schema):
    """alike: only rows that are complete in all variables; else each pair for itself. partial: each coefficient given
    all the other variables, of such rows."""

    variables: list[_Symbol] = Field(min_length=2, max_length=pairs.MOST_SERIES)
    alike: bool = False
    partial: bool = False
    level: _Share = 0.95


class AgreementIn(PairIn):
    """y less x, or over it; margin: the bias that does no harm."""

    scale: agreement.DifferenceScale = "as-is"
    margin: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    level: _Share = 0.95


class EnclosedIn(PairIn):
    """The corners of a closed outline, in the units of the variables."""

    outline_x: list[float] = Field(min_length=3, max_length=2_000)
    outline_y: list[float] = Field(min_length=3, max_length=2_000)


class FitsIn(PairIn):
    lines: list[Literal["least-squares", "median", "smooth"]] = Field(default=["least-squares"], max_length=3)
    by: PlainText = Field(default="", max_length=60)
    x_scale: _Scale = "as-is"
    y_scale: _Scale = "as-is"
    level: _Share = 0.95
    span: Annotated[float, Field(ge=0.02, le=1)] = 2 / 3

    def asked(self, x: VariableSnapshot) -> fits.FitSettings:
        return fits.FitSettings(self.lines, x.beside(self.by), self.x_scale, self.y_scale, self.level, self.span)


class PredictIn(PairIn):
    value: float
    x_scale: _Scale = "as-is"
    y_scale: _Scale = "as-is"
    level: _Share = 0.95
