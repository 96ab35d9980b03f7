"""The specification of a plate as it is kept, sent and published: its schema stands in docs/plate.schema.json."""

from typing import Annotated, Any, Literal, TypeVar

from heron.figure.source import Source
from heron.formatting import USUAL_NUMBERS
from heron.tables import TableSource
from ninja.schema import DjangoGetter
from pydantic import AfterValidator, BaseModel, ConfigDict, Field, model_validator

from server.fields import OWN_ADDRESS, NumberForm, PlainText, storable, texts_of
from server.ledger.schemas import AsIf
from server.plates.earlier import as_now

Number = Annotated[float, Field(allow_inf_nan=False)]
Share = Annotated[float, Field(ge=0, le=1)]
MOST_PANELS = 48
Words = Annotated[PlainText, Field(max_length=600)]
Name = Annotated[PlainText, Field(max_length=200)]
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
Points = Annotated[float, Field(gt=0, le=200)]
# A stage of this application, with what was chosen there; nothing that leads elsewhere.


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


_AnySource = TypeVar("_AnySource", Source, TableSource)


def _may_be_kept(source: _AnySource) -> _AnySource:
    """A source whose texts may be stored, and whose way is one."""
    for text in texts_of(source.to_json()):
        storable(text)
    as_if = getattr(source, "as_if", None)
    if as_if:
        AsIf.model_validate_json(as_if)
    return source


PanelSource = Annotated[Source, Field(discriminator="kind"), AfterValidator(_may_be_kept)]


class AxisSettings(_Part):
    """How an axis is drawn; null: as it follows from the data. every, at: ticks by step or as a list; minor: ticks
    between two; crosses: where on this axis the other one stands; gap_from, gap_to: what a visible break leaves out.
    names: other words for what stands at a tick, by what would stand there."""

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
    names: dict[Name, Words] = Field(default={}, max_length=600)


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
    source: PanelSource
    address: Annotated[PlainText, Field(max_length=8_000, pattern=OWN_ADDRESS)] = ""
    title: Words = ""
    across: AxisSettings = AxisSettings()
    up: AxisSettings = AxisSettings()
    series: dict[Name, MarkSettings] = Field(default={}, max_length=300)
    marks: dict[Name, MarkSettings] = Field(default={}, max_length=40)
    legend: Legend = Legend()
    furniture: list[Furniture] = Field(default=[], max_length=100)


class Sheet(_Part):
    """In millimetres. columns: panels side by side; heights: of the rows beside each other, 1 where nothing is said;
    letters: what panels are called."""

    width: Annotated[float, Field(ge=20, le=600)] = 85
    height: Annotated[float, Field(ge=20, le=600)] = 70
    columns: Annotated[int, Field(ge=1, le=12)] = 1
    heights: list[Annotated[float, Field(gt=0, le=100)]] = Field(default=[], max_length=MOST_PANELS)
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
    version: Literal[4] = 4
    sheet: Sheet = Sheet()
    style: StyleBody
    panels: list[PlatePanel] = Field(min_length=1, max_length=MOST_PANELS)
    numbers: NumberForm = USUAL_NUMBERS
    caption: Text = Text()
    alternative: Text = Text()

    @property
    def sources(self) -> list[Source]:
        """What its panels are of."""
        return [panel.source for panel in self.panels]

    @model_validator(mode="before")
    @classmethod
    def read_as_now(cls, given: Any) -> Any:
        # The API hands its own wrapper of what was sent.
        return as_now(given._obj) if isinstance(given, DjangoGetter) else as_now(given)


NumbersSource = Annotated[TableSource, Field(discriminator="kind"), AfterValidator(_may_be_kept)]
_Key = Annotated[PlainText, Field(max_length=400)]
MOST_LINES = 3_000


class Rounding(_Part):
    """How the numbers of a row or a column are rounded: to so many decimals, to so many digits of their own, or of the
    standard error."""

    by: Literal["fixed", "significant", "se"]
    digits: Annotated[int, Field(ge=0, le=12)]


class TablePlateDocument(_Part):
    """A table of numbers for publication. labels: other words for rows, columns and the first column ("stub"), by their
    keys; hidden: keys of rows and columns that are not shown; order: keys of rows that come first; decimals: of rows
    and columns; sizes: whether heads say n; note: words of one's own below."""

    format: Literal["velvet-heron-table"] = "velvet-heron-table"
    version: Literal[1] = 1
    source: NumbersSource
    address: Annotated[PlainText, Field(max_length=8_000, pattern=OWN_ADDRESS)] = ""
    title: Words = ""
    labels: dict[_Key, Words] = Field(default={}, max_length=MOST_LINES)
    hidden: list[_Key] = Field(default=[], max_length=MOST_LINES)
    order: list[_Key] = Field(default=[], max_length=MOST_LINES)
    decimals: dict[_Key, Rounding] = Field(default={}, max_length=MOST_LINES)
    sizes: bool = True
    numbers: NumberForm = USUAL_NUMBERS
    note: Annotated[PlainText, Field(max_length=4_000)] = ""
    caption: Text = Text()
    alternative: Text = Text()

    @property
    def sources(self) -> list[TableSource]:
        """What it is of."""
        return [self.source]


def published_schema() -> dict[str, Any]:
    """The JSON Schema of a specification."""
    result = PlateDocument.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **result}
