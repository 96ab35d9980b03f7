"""What a panel is of: a table, its variables in their roles, and every choice that a stage offers.

A source is plain data. Each kind of picture has one record; its fields are what the address of a stage holds, what a
plate's document keeps, and what a script is written with. Nothing else can be drawn, so nothing chosen can be lost.
"""

import math
from collections.abc import Mapping
from dataclasses import MISSING, asdict, dataclass, fields
from typing import Annotated, Any, ClassVar, Literal, TypeVar
from uuid import UUID

from annotated_types import Ge, Gt, Le, Lt, MaxLen, Predicate

from heron import outliers
from heron.agreement import DifferenceScale
from heron.bivariate import WidthRule
from heron.control import Chart
from heron.density import BandwidthRule, Kernel
from heron.differences import Effect, Spreads
from heron.errors import InputError
from heron.frequency import ClassRule
from heron.groups import Bars, Centre, Whiskers
from heron.normality import Family
from heron.quantiles import Definition
from heron.relation import LineKind
from heron.relation import Scale as PairScale
from heron.sensitivity import Statistic
from heron.times import Unit

Symbol = Annotated[str, MaxLen(60)]
Share = Annotated[float, Ge(0), Le(1)]
Level = Annotated[float, Gt(0), Lt(1)]
Percent = Annotated[float, Ge(0), Le(100)]
Place = Annotated[int, Ge(0), Le(1_000)]
Places = Annotated[tuple[Place, ...], MaxLen(1_000)]
Finite = Annotated[float, Predicate(math.isfinite)]
Positive = Annotated[float, Gt(0), Predicate(math.isfinite)]
Bandwidth = BandwidthRule | Positive
AxisScale = Literal["linear", "log"]
Measure = Literal["density", "counts", "percents"]
ShapeLayer = Literal["classes", "density", "normal", "bumps", "rug", "box", "violin", "points", "limits"]
BoxMark = Literal["fences", "notch", "mean", "widths"]
OrderMark = Literal["joined", "quartiles", "run", "jumps", "limits"]
GroupMark = Literal["points", "violin", "box", "centre", "joined", "from zero"]
_REACH, _SUSPECTS, _LEVEL = (outliers.OPTIONS[name] for name in ("reach", "suspects", "level"))


@dataclass(frozen=True)
class Only:
    """Only the rows at one level of a variable."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}
    by: Symbol
    level: Annotated[str, MaxLen(200)]


@dataclass(frozen=True, kw_only=True)
class OfTable:
    """table: its id; only: the rows of one level."""

    __pydantic_config__: ClassVar = {"extra": "forbid"}
    SYMBOLS: ClassVar[tuple[str, ...]] = ()
    table: UUID
    only: Only | None = None

    @property
    def symbols(self) -> set[str]:
        """The variables that the panel stands on."""
        result = {self.only.by} if self.only else set()
        for name in self.SYMBOLS:
            value = getattr(self, name)
            result |= {value} if isinstance(value, str) else set(value)
        return result - {""}

    @property
    def lacking(self) -> tuple[str, ...]:
        """Roles that must be filled, and are not."""
        needed = [field.name for field in fields(self) if field.default is MISSING]
        return tuple(name for name in needed if not getattr(self, name))

    def to_json(self) -> dict[str, Any]:
        """The source as JSON can hold it."""
        given = {field.name: getattr(self, field.name) for field in fields(self)}
        written = {name: list(value) if isinstance(value, tuple) else value for name, value in given.items()}
        return {**written, "table": str(self.table), "only": asdict(self.only) if self.only else None}


@dataclass(frozen=True, kw_only=True)
class _OfVariable(OfTable):
    """variable: whose values are shown; as_if: a way of making a variable of it that is tried, as JSON."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable",)
    variable: Symbol
    as_if: Annotated[str, MaxLen(40_000)] | None = None


@dataclass(frozen=True, kw_only=True)
class _InClasses(_OfVariable):
    """rule, count, width, start, boundaries, closed: how classes are set."""

    rule: ClassRule | None = None
    count: Annotated[int, Ge(1), Le(512)] | None = None
    width: Positive | None = None
    start: Finite | None = None
    boundaries: Annotated[tuple[Finite, ...], MaxLen(513)] = ()
    closed: Literal["left", "right"] = "left"


@dataclass(frozen=True, kw_only=True)
class ShapeSource(_InClasses):
    """One variable, or its levels by another: classes, curves, box and points.

    layers: what is drawn; box_marks: what more on a box; rings: rows beyond its whiskers; measure: what heights are.
    form: how levels are set together; scaling: what their curves have in common; upright: values go up. bandwidth,
    kernel: of the density; quantile_definition, reach, whiskers, share: of the box; level: of the limits of the
    mean."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["shape"] = "shape"
    by: Symbol = ""
    layers: Annotated[tuple[ShapeLayer, ...], MaxLen(9)] = ("classes", "density", "box", "points")
    box_marks: Annotated[tuple[BoxMark, ...], MaxLen(4)] = ()
    rings: bool = True
    measure: Measure = "density"
    axis: AxisScale = "linear"
    form: Literal["lanes", "ridges", "overlay", "facing"] = "overlay"
    scaling: Literal["area", "height", "count"] = "area"
    upright: bool = False
    bandwidth: Bandwidth = "silverman"
    kernel: Kernel = "gaussian"
    quantile_definition: Definition = 7
    reach: Annotated[float, Ge(0), Le(100)] = 1.5
    whiskers: Whiskers = "fences"
    share: Annotated[float, Gt(0), Lt(0.5)] = 0.05
    level: Annotated[float, Gt(0.5), Lt(1)] = 0.95


@dataclass(frozen=True, kw_only=True)
class CumulativeSource(_InClasses):
    """Rows up to each value. lines: a step at each value, or a polygon over classes; measure: what is counted;
    at_least: rows at or above each value instead."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["cumulative"] = "cumulative"
    by: Symbol = ""
    lines: Annotated[tuple[Literal["polygon", "steps"], ...], MaxLen(2)] = ("steps",)
    measure: Literal["counts", "percents"] = "percents"
    at_least: bool = False


@dataclass(frozen=True, kw_only=True)
class CountsSource(_OfVariable):
    """How often each value or level occurs. written: counts and percents stand beside their bars."""

    kind: Literal["counts"] = "counts"
    measure: Measure = "density"
    written: bool = False


@dataclass(frozen=True, kw_only=True)
class TimesSource(_OfVariable):
    """Rows in each unit of time; None for one that suits."""

    kind: Literal["times"] = "times"
    unit: Unit | None = None


@dataclass(frozen=True, kw_only=True)
class QuantilesSource(_OfVariable):
    """Values over the quantiles of a distribution. plot: quantiles, their distances from the line, or the shares that
    lie below; bands: the limits at each point, and those of all points together; by: the variable from whose levels'
    means distances are taken."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["quantiles"] = "quantiles"
    family: Family = "normal"
    plot: Literal["quantiles", "off the line", "shares"] = "quantiles"
    bands: Annotated[tuple[Literal["pointwise", "simultaneous"], ...], MaxLen(2)] = ("simultaneous",)
    level: Annotated[float, Gt(0.5), Lt(1)] = 0.95
    by: Symbol = ""


@dataclass(frozen=True, kw_only=True)
class OrderedSource(_OfVariable):
    """Values in the order of their rows, or of another variable. marks: what is drawn besides the values."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "along")
    kind: Literal["ordered"] = "ordered"
    along: Symbol = ""
    marks: Annotated[tuple[OrderMark, ...], MaxLen(5)] = ("joined",)


@dataclass(frozen=True, kw_only=True)
class ControlSource(_OfVariable):
    """A control chart of values in the order of their rows, or of another variable. subgroup: what means are of;
    baseline: how many of the first points the limits rest on, None for all; plot: the values or means, or what spread
    each has."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "along", "subgroup")
    kind: Literal["control"] = "control"
    along: Symbol = ""
    chart: Chart = "individuals"
    subgroup: Symbol = ""
    baseline: Annotated[int, Ge(2)] | None = None
    plot: Literal["centres", "spreads"] = "centres"


@dataclass(frozen=True, kw_only=True)
class Standing:
    """How groups stand and are drawn. marks: what is drawn of each; rings: rows beyond the whiskers of a box; values:
    centres written out with so many decimals. points: how they stand in their lane, by jitter as a share of it. side,
    caps: of bars. on_numbers: levels stand at their numbers. order: of the levels, hand: their places by hand; hidden:
    places of those that are not drawn."""

    marks: Annotated[tuple[GroupMark, ...], MaxLen(6)] = ("points", "centre")
    rings: bool = True
    values: Annotated[int, Ge(0), Le(6)] | None = None
    points: Literal["scattered", "apart", "line"] = "scattered"
    jitter: Share = 0.6
    violin: Literal["whole", "half", "ridges", "facing"] = "whole"
    side: Literal["both", "up", "down"] = "both"
    caps: bool = False
    upright: bool = True
    on_numbers: bool = False
    order: Literal["levels", "centre", "n", "hand"] = "levels"
    hand: Places = ()
    hidden: Places = ()


@dataclass(frozen=True, kw_only=True)
class GroupsSource(Standing, _OfVariable):
    """Groups of rows side by side: across the levels of `by`, and of `second` within each.

    centre, trim: what a centre is; bars, level, low_percent, high_percent: what its bar is; units: whether n counts the
    table's units; pair: what joins values across groups; line: through what a line over the numbers of the levels goes;
    log: values stand on a logarithmic axis."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by", "second", "pair")
    kind: Literal["groups"] = "groups"
    by: Symbol
    second: Symbol = ""
    centre: Centre = "mean"
    bars: Bars = "mean-interval"
    level: Level = 0.95
    units: bool = False
    low_percent: Percent = 5.0
    high_percent: Percent = 95.0
    trim: Annotated[float, Ge(0), Lt(0.5)] = 0.1
    pair: Symbol = ""
    line: Literal["none", "rows", "centres"] = "none"
    log: bool = False


@dataclass(frozen=True, kw_only=True)
class SharesSource(Standing, _OfVariable):
    """The share of some answers in each group, or all answers as parts of one bar. chosen: places of the levels whose
    share is told, the last where none is; neutral: the level about which stacked parts are centred."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["shares"] = "shares"
    by: Symbol
    chosen: Annotated[tuple[Place, ...], MaxLen(60)] = ()
    neutral: Place | None = None
    level: Level = 0.95
    stacked: bool = False


@dataclass(frozen=True, kw_only=True)
class EstimatesSource(Standing, OfTable):
    """Rows that are results already, one under the other, or side by side where there are blocks of them.

    of: columns of estimates; limits: two columns of their ends, or widths: of their widths to each side; label,
    heading, weight: columns that name, head and size them. sort: the order of rows, hand: rows by hand. none,
    none_words: the value that means no difference, and its words; combined: rows that were put together elsewhere; log:
    a logarithmic axis."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("of", "limits", "widths", "label", "weight", "heading")
    kind: Literal["estimates"] = "estimates"
    of: Annotated[tuple[Symbol, ...], MaxLen(60)]
    limits: Annotated[tuple[Symbol, ...], MaxLen(2)] = ()
    widths: Annotated[tuple[Symbol, ...], MaxLen(60)] = ()
    label: Symbol = ""
    weight: Symbol = ""
    heading: Symbol = ""
    sort: Literal["table", "estimate", "label", "hand"] = "table"
    none: Finite | None = None
    none_words: Annotated[str, MaxLen(200)] = ""
    combined: Annotated[tuple[Annotated[int, Ge(1)], ...], MaxLen(600)] = ()
    log: bool = False


@dataclass(frozen=True, kw_only=True)
class DifferencesSource(_OfVariable):
    """How groups differ, each pair with its limits. reference: the level that all are compared with, "" for all pairs;
    together: limits that hold for all pairs at once, and spreads: whether these are taken for equal, where the measure
    knows how; trim: the share that trimmed means cut at each end."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by", "pair")
    kind: Literal["differences"] = "differences"
    by: Symbol
    measure: Effect = "mean"
    reference: Annotated[str, MaxLen(200)] = ""
    level: Level = 0.95
    units: bool = False
    pair: Symbol = ""
    together: bool = True
    spreads: Spreads = "unequal"
    trim: Annotated[float, Ge(0), Lt(0.5)] = 0.1


@dataclass(frozen=True, kw_only=True)
class PairSource(OfTable):
    """Two variables, y on x. also: further variables on the y axis, each a series; by, size: what colours and sizes the
    points; bars_x, bars_y: the column of the widths of their bars to each side, or the two of their limits.

    shown: points, or what counts or thickens them; jitter_x, jitter_y: how far points stand aside, as shares of the
    most; across, aspect: of hexagons and cells, how many stand across, and height over width of all; window: the part
    whose cells are counted (x from and to, y from and to), all of it where empty; width_x, width_y: the kernel's SDs,
    None for the width_rule; grid: points of the density on each axis; sparse: so many pairs in the sparsest places are
    drawn on top; shade: the colours. x_axis, y_axis: how axes are drawn. joined: points of one level joined in order of
    x or of rows. lines, x_scale, y_scale, span, level: what is fitted, and how; each: a line for each level of `by`;
    bands: of the line, and of one more value; equation: it stands on the picture. margins: each variable by itself
    along its axis. plot: the pairs, or what the line leaves of them over the same x."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("x", "y", "by", "size", "also", "bars_x", "bars_y")
    kind: Literal["pair"] = "pair"
    x: Symbol
    y: Symbol
    also: Annotated[tuple[Symbol, ...], MaxLen(11)] = ()
    by: Symbol = ""
    size: Symbol = ""
    bars_x: Annotated[tuple[Symbol, ...], MaxLen(2)] = ()
    bars_y: Annotated[tuple[Symbol, ...], MaxLen(2)] = ()
    shown: Literal["points", "counts", "hexagons", "cells", "density", "contours"] = "points"
    jitter_x: Share = 0.0
    jitter_y: Share = 0.0
    across: Annotated[int, Ge(4), Le(200)] = 40
    aspect: Annotated[float, Ge(0.1), Le(10)] = 0.7
    window: Annotated[tuple[Finite, ...], MaxLen(4)] = ()
    width_rule: WidthRule = "normal-reference"
    width_x: Positive | None = None
    width_y: Positive | None = None
    grid: Annotated[int, Ge(32), Le(400)] = 200
    sparse: Annotated[int, Ge(0), Le(5_000)] = 0
    shade: Literal["heron", "moss", "ember", "lagoon", "ink"] = "heron"
    x_axis: AxisScale = "linear"
    y_axis: AxisScale = "linear"
    joined: Literal["no", "x", "rows"] = "no"
    lines: Annotated[tuple[LineKind, ...], MaxLen(3)] = ("least-squares",)
    each: bool = True
    x_scale: PairScale = "as-is"
    y_scale: PairScale = "as-is"
    span: Annotated[float, Ge(0.02), Le(1)] = 2 / 3
    level: Level = 0.95
    bands: Literal["none", "line", "both"] = "line"
    equation: bool = False
    margins: Literal["none", "histograms", "densities", "boxes", "rugs"] = "none"
    plot: Literal["pairs", "residuals"] = "pairs"


@dataclass(frozen=True, kw_only=True)
class RulesSource(_OfVariable):
    """Values with the limits of rules, the rows that these flag ringed: by row, or in lanes of the levels within which
    values are judged, by `by`."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["rules"] = "rules"
    by: Symbol = ""
    rules: Annotated[tuple[outliers.Rule, ...], MaxLen(len(outliers.RULES))] = outliers.USUAL
    reach: Annotated[float, Ge(_REACH.low), Le(_REACH.high)] = _REACH.usual
    quantile_definition: Definition = 7
    suspects: Annotated[int, Ge(_SUSPECTS.low), Le(_SUSPECTS.high)] = _SUSPECTS.usual
    level: Annotated[float, Ge(_LEVEL.low), Le(_LEVEL.high)] = _LEVEL.usual
    form: Literal["rows", "lanes"] = "rows"


@dataclass(frozen=True, kw_only=True)
class LeftOutSource(_OfVariable):
    """A statistic without each row in turn."""

    kind: Literal["left-out"] = "left-out"
    statistic: Statistic = "mean"


@dataclass(frozen=True, kw_only=True)
class AgreementSource(OfTable):
    """How far two methods of measuring the same lie apart, y from x, over what both measured. margin: the
    bias that does no harm."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("x", "y")
    kind: Literal["agreement"] = "agreement"
    x: Symbol
    y: Symbol
    scale: DifferenceScale = "as-is"
    margin: Annotated[float, Gt(0)] | None = None
    level: Level = 0.95


@dataclass(frozen=True, kw_only=True)
class DistancesSource(OfTable):
    """Robust over plain distances of rows, over several variables."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variables",)
    kind: Literal["distances"] = "distances"
    variables: Annotated[tuple[Symbol, ...], MaxLen(50)]


@dataclass(frozen=True, kw_only=True)
class InfluenceSource(OfTable):
    """A diagnostic plot of a fitted relation. view: which; row_measure: what is drawn in the order of rows;
    coefficient: of which DFBETAS or partial residuals are."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("response", "predictors")
    kind: Literal["influence"] = "influence"
    response: Symbol
    predictors: Annotated[tuple[Symbol, ...], MaxLen(12)]
    product: Annotated[tuple[Symbol, ...], MaxLen(2)] = ()
    view: Literal["leverage", "residuals", "size", "order", "qq", "dfbetas", "partial", "fit"] = "leverage"
    row_measure: Literal["cooks", "leverage", "external", "dffits", "covratio"] = "cooks"
    coefficient: Annotated[int, Ge(0), Le(200)] = 1


Source = (
    ShapeSource
    | CumulativeSource
    | CountsSource
    | TimesSource
    | QuantilesSource
    | OrderedSource
    | ControlSource
    | GroupsSource
    | SharesSource
    | EstimatesSource
    | DifferencesSource
    | PairSource
    | AgreementSource
    | RulesSource
    | LeftOutSource
    | DistancesSource
    | InfluenceSource
)
KINDS: dict[str, type[Source]] = {kind.kind: kind for kind in Source.__args__}


def from_json(written: Mapping[str, Any]) -> Source:
    """The source that `to_json` wrote. Its values are taken as they are; an InputError for a kind that there is not."""
    return read_as(KINDS, written, "picture")


AnySource = TypeVar("AnySource", bound=OfTable)


def read_as(kinds: Mapping[str, type[AnySource]], written: Mapping[str, Any], what: str) -> AnySource:
    """The record of some kinds that `to_json` wrote. what: what such a record is of, in words."""
    kind = kinds.get(str(written.get("kind")))
    if kind is None:
        raise InputError("no-kind", f"There is no {what} of kind {written.get('kind')!r}.", where="kind")
    given: dict[str, Any] = {name: tuple(v) if isinstance(v, list) else v for name, v in written.items()}
    if given.get("only"):
        given["only"] = Only(**given["only"])
    return kind(**{**given, "table": UUID(str(given["table"]))})
