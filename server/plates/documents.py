"""The specification of a plate as it is kept, sent and published: its schema stands in docs/plate.schema.json."""

from typing import Annotated, Any, Literal
from uuid import UUID

from ninja import Schema
from pydantic import ConfigDict, Field

from server.fields import PlainText
from server.readings.schemas import (
    AgainstIn,
    CompareIn,
    DifferIn,
    EstimatesIn,
    FitsIn,
    NormalityIn,
    OrderIn,
    RelationIn,
    ScreenIn,
    SharesIn,
    SplitIn,
    TimesIn,
    TogetherIn,
)

Number = Annotated[float, Field(allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1)]
Words = Annotated[PlainText, Field(max_length=600)]
Name = Annotated[PlainText, Field(max_length=200)]
Symbol = Annotated[PlainText, Field(max_length=60)]
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Points = Annotated[float, Field(gt=0, le=200)]
# A stage of this application, with what was chosen there; nothing that leads elsewhere.
_OWN = r"^(/tables/[0-9a-fA-F-]{36}/[a-z-]+(\?[^\s\\]*)?)?$"
Kind = Literal[
    "shape", "cumulative", "counts", "times", "quantiles", "ordered", "groups", "shares", "estimates", "differences",
    "pair", "rules", "distances", "influence",
]  # fmt: skip


class _Part(Schema):
    model_config = ConfigDict(extra="forbid")


class Only(_Part):
    """Only the rows at one level of a variable."""

    by: Annotated[Symbol, Field(min_length=1)]
    level: Name


class GroupsDrawn(_Part):
    marks: list[Literal["points", "violin", "box", "centre", "joined", "from zero"]] = Field(
        default=["points", "centre"], max_length=6
    )
    points: Literal["scattered", "apart", "line"] = "scattered"
    jitter: Share = 0.6
    violin: Literal["whole", "half", "ridges", "facing"] = "whole"
    side: Literal["both", "up", "down"] = "both"
    caps: bool = False
    on_numbers: bool = False
    upright: bool = True
    order: Literal["levels", "centre", "n", "hand"] = "levels"
    hand: list[Annotated[int, Field(ge=0)]] = Field(default=[], max_length=300)
    hidden: list[Annotated[int, Field(ge=0)]] = Field(default=[], max_length=300)


class Source(_Part):
    """The reading that a panel shows: of which table and variable, asked how. The question that belongs to its kind is
    given, others are null. as_if: a scale that is tried, as JSON; only: the rows of one level; across: how many
    hexagons stand across."""

    table: UUID
    kind: Kind
    variable: Symbol = ""
    as_if: Annotated[str, Field(max_length=40_000)] | None = None
    only: Only | None = None
    shape: SplitIn | None = None
    layers: list[Literal["classes", "density", "normal", "box", "points", "rug"]] = Field(
        default=["classes", "density", "box", "points"], max_length=6
    )
    measure: Literal["density", "counts", "percents"] = "density"
    quantiles: AgainstIn | None = None
    normal: NormalityIn | None = None
    ordered: OrderIn | None = None
    times: TimesIn | None = None
    groups: CompareIn | None = None
    drawn: GroupsDrawn = GroupsDrawn()
    shares: SharesIn | None = None
    stacked: bool = False
    estimates: EstimatesIn | None = None
    combined: list[Annotated[int, Field(ge=1)]] = Field(default=[], max_length=600)
    none: Number | None = None
    differences: DifferIn | None = None
    pair: FitsIn | None = None
    also: list[Symbol] = Field(default=[], max_length=11)
    size: Symbol = ""
    shown: Literal["points", "hexagons", "cells", "density"] = "points"
    across: Annotated[int, Field(ge=4, le=200)] = 40
    bands: bool = True
    joined: bool = False
    rules: ScreenIn | None = None
    influence: RelationIn | None = None
    distances: TogetherIn | None = None
    view: Literal["leverage", "residuals", "size", "order", "qq", "dfbetas", "partial"] = "leverage"
    row_measure: Literal["cooks", "leverage", "external", "dffits", "covratio"] = "cooks"
    coefficient: Annotated[int, Field(ge=0, le=200)] = 1

    @property
    def is_whole(self) -> bool:
        """Whether the question that belongs to its kind was given."""
        name = "shape" if self.kind == "cumulative" else self.kind
        return self.kind in ("counts", "quantiles") or getattr(self, name) is not None


def symbols_of(source: Source) -> set[str]:
    """The variables that a panel stands on."""
    found = {source.variable, source.size, *source.also}
    if source.only:
        found.add(source.only.by)
    for question in (source.shape, source.groups, source.shares, source.differences, source.rules, source.normal):
        for name in ("by", "second", "pair"):
            found.add(getattr(question, name, ""))
    if source.pair:
        found |= {source.pair.x, source.pair.y, source.pair.by}
    if source.influence:
        found |= {source.influence.response, *source.influence.predictors}
    if source.distances:
        found |= set(source.distances.variables)
    if source.estimates:
        found |= {*source.estimates.of, *source.estimates.limits, *source.estimates.widths, source.estimates.label}
    return found - {""}


class AxisSettings(_Part):
    """How an axis is drawn; null: as it follows from the data. every, at: ticks by step or as a list; minor: ticks
    between two; crosses: where on this axis the other one stands; gap_from, gap_to: what a visible break leaves out."""

    title: Words | None = None
    low: Number | None = None
    high: Number | None = None
    scale: Literal["linear", "log10", "log2"] | None = None
    every: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None
    at: list[Number] | None = Field(default=None, max_length=100)
    minor: Annotated[int, Field(ge=0, le=9)] = 0
    format: Literal["plain", "percent", "scientific", "thousands"] = "plain"
    decimals: Annotated[int, Field(ge=0, le=12)] | None = None
    rotation: Literal[0, 45, 90] = 0
    crosses: Number | None = None
    grid: bool | None = None
    gap_from: Number | None = None
    gap_to: Number | None = None
    counts: bool = True


class MarkSettings(_Part):
    """How the marks of a series, or of one kind, look; null: as the style says."""

    name: Words | None = None
    colour: Colour | None = None
    shape: Annotated[int, Field(ge=0, le=7)] | None = None
    size: Points | None = None
    outline: Colour | None = None
    fill: bool | None = None
    line: Points | None = None
    dash: Annotated[int, Field(ge=0, le=5)] | None = None
    hatch: Annotated[int, Field(ge=0, le=5)] | None = None
    opacity: Share | None = None
    hidden: bool = False


class Legend(_Part):
    """x, y: its upper left corner as shares of the data area, from the left and from the top."""

    shown: Literal["auto", "yes", "no", "ends"] = "auto"
    x: Annotated[float, Field(ge=-1, le=2)] | None = None
    y: Annotated[float, Field(ge=-1, le=2)] | None = None
    title: Words | None = None


class Furniture(_Part):
    """What stands on a panel besides its data, at data coordinates. line, band: on the axis named, at `at` (to `to`).
    note: text at x, y, with an arrow to arrow_x, arrow_y. bracket: over `at` to `to` on the levels, at height y.
    slip: a box of numbers, by name, at shares x, y of the data area."""

    kind: Literal["line", "band", "note", "bracket", "slip"]
    axis: Literal["across", "up"] = "up"
    at: Number | None = None
    to: Number | None = None
    x: Number | None = None
    y: Number | None = None
    arrow_x: Number | None = None
    arrow_y: Number | None = None
    text: Words = ""
    names: list[Name] = Field(default=[], max_length=40)
    colour: Colour | None = None


class PlatePanel(_Part):
    source: Source
    address: Annotated[PlainText, Field(max_length=8_000, pattern=_OWN)] = ""
    title: Words = ""
    across: AxisSettings = AxisSettings()
    up: AxisSettings = AxisSettings()
    series: dict[Name, MarkSettings] = Field(default={}, max_length=300)
    marks: dict[Name, MarkSettings] = Field(default={}, max_length=40)
    legend: Legend = Legend()
    furniture: list[Furniture] = Field(default=[], max_length=100)


class Sheet(_Part):
    """In millimetres. columns: panels side by side; letters: what panels are called."""

    width: Annotated[float, Field(ge=20, le=600)] = 85
    height: Annotated[float, Field(ge=20, le=600)] = 70
    columns: Annotated[int, Field(ge=1, le=12)] = 1
    letters: Literal["A", "a", "none"] = "A"
    share_across: bool = False
    share_up: bool = False
    title: Words = ""


class StyleBody(_Part):
    """Sizes in points."""

    name: Annotated[PlainText, Field(min_length=1, max_length=60)]
    font: Literal["sans", "serif"] = "sans"
    type_size: Points
    title_size: Points
    letter_size: Points
    axis_line: Points
    mark_line: Points
    point_size: Points
    opacity: Share
    colours: Annotated[PlainText, Field(max_length=60)]
    frame: Literal["open", "closed"] = "open"
    ticks: Literal["out", "in"] = "out"
    gridlines: bool = False
    bold_titles: bool = False
    shapes: bool = True
    dashes: bool = False
    hatches: bool = False
    ink: Colour = "#1F1A24"
    paper: Colour = "#FFFFFF"


class Text(_Part):
    """Words in step with the data while text is null; once edited, as they are. written: what they would have been
    then, so that a change of the data is offered."""

    text: Annotated[PlainText, Field(max_length=20_000)] | None = None
    written: Annotated[PlainText, Field(max_length=20_000)] = ""


class PlateDocument(_Part):
    """A figure for publication: a sheet, a style, and panels, each on a reading of its own."""

    format: Literal["velvet-heron-plate"] = "velvet-heron-plate"
    version: Literal[1] = 1
    sheet: Sheet = Sheet()
    style: StyleBody
    panels: list[PlatePanel] = Field(min_length=1, max_length=48)
    caption: Text = Text()
    alternative: Text = Text()


def published_schema() -> dict[str, Any]:
    """The JSON Schema of a specification."""
    found = PlateDocument.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **found}
