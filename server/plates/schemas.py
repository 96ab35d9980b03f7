from typing import Annotated, Any
from uuid import UUID

from heron import tables
from heron.figure import colours, styles
from heron.figure.scene import Scene
from heron.formatting import USUAL_NUMBERS
from heron.tables import Laid, NumberTable, TableFinding
from ninja import Schema
from pydantic import Field, TypeAdapter, ValidationError

from server.fields import NumberForm, PlainText
from server.plates.documents import (
    MOST_PANELS,
    Name,
    PanelSource,
    PlateDocument,
    PlatePanel,
    StyleBody,
    TablePlateDocument,
)
from server.plates.models import Plate, TablePlate
from server.problems import Refusal
from server.readings.answers import plain, schema_of

SceneOut = schema_of(Scene)


class ScenesIn(Schema):
    sources: list[PanelSource] = Field(min_length=1, max_length=48)
    numbers: NumberForm = USUAL_NUMBERS


class ScenesOut(Schema):
    """revisions: of each table that the scenes stand on."""

    scenes: list[SceneOut]  # type: ignore[valid-type]
    revisions: dict[str, int]


class FigureOut(Schema):
    """What a stage shows: its panels with all their settings and scenes, its words, and what deserves a look."""

    panels: list[PlatePanel]
    scenes: list[SceneOut]  # type: ignore[valid-type]
    caption: str
    alternative: str
    findings: list["FindingOut"]


_PANELS = TypeAdapter(Annotated[list[PlatePanel], Field(min_length=1, max_length=MOST_PANELS)])


def panels_of_request(written: str, table: UUID) -> list[PlatePanel]:
    """The panels that an address holds, of the table that it names."""
    try:
        panels = _PANELS.validate_json(written)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(map(str, first["loc"]))
        raise Refusal(422, "invalid-request", f"panels, {where}: {first['msg']}.", where="panels") from None
    if any(panel.source.table != table for panel in panels):
        raise Refusal(422, "invalid-request", "panels, source.table: is another table.", where="panels")
    return panels


class PlateIn(Schema):
    name: Name = Field(min_length=1)
    group: Name = ""
    document: PlateDocument


class PlateChange(Schema):
    """version: that which was changed; a plate changed by somebody else since is refused."""

    version: int
    name: Name = Field(min_length=1)
    document: PlateDocument


class PageIn(Schema):
    """width: of the picture, in mm."""

    width: Annotated[float, Field(ge=20, le=600)]
    caption: Annotated[PlainText, Field(max_length=20_000)] = ""
    alternative: Annotated[PlainText, Field(max_length=20_000)] = ""


class PlaceIn(Schema):
    before: UUID | None = None


class Moved(Schema):
    """A number that is no longer what it was when the plate was last looked at; null where it has gone, or is new."""

    name: str
    before: float | None
    after: float | None
    unit: str


class PlateLine(Schema):
    """A plate in the gallery. stale: some table has another revision than when it was last looked at; readings: what
    its panels are of."""

    id: UUID
    name: str
    group: str
    stages: list[str]
    revisions: dict[str, int]
    stale: bool
    frozen: bool
    version: int
    document: PlateDocument


class PlateOut(PlateLine):
    study: UUID
    moved: list[Moved]


class TablePlateIn(Schema):
    name: Name = Field(min_length=1)
    document: TablePlateDocument


class TablePlateChange(Schema):
    """version: that which was changed; a table changed by somebody else since is refused."""

    version: int
    name: Name = Field(min_length=1)
    document: TablePlateDocument


class TablePlateLine(Schema):
    """A table of numbers in the gallery."""

    id: UUID
    name: str
    kind: str
    revisions: dict[str, int]
    stale: bool
    frozen: bool
    version: int
    document: TablePlateDocument


class TablePlateOut(TablePlateLine):
    study: UUID
    moved: list[Moved]


class ShownIn(Schema):
    """plate: the one that is looked at, whose numbers stay where it is frozen."""

    document: TablePlateDocument
    plate: UUID | None = None


class PartOut(Schema):
    """A row or a column that there is, shown or not. under: whether it stands under a heading, heading: is one."""

    key: str
    label: str
    under: bool
    heading: bool


LaidOut = schema_of(Laid)
TableFindingOut = schema_of(TableFinding)


class ShownOut(Schema):
    """A table as it is written, with its words, what deserves a look, and all the rows and columns that there are."""

    laid: LaidOut  # type: ignore[valid-type]
    caption: str
    alternative: str
    findings: list[TableFindingOut]  # type: ignore[valid-type]
    rows: list[PartOut]
    columns: list[PartOut]


def shown_out(table: NumberTable, document: TablePlateDocument) -> dict[str, Any]:
    said = document.model_dump(mode="json")
    return {
        "laid": plain(tables.laid_out(table, said)),
        "caption": tables.caption(table),
        "alternative": tables.alternative(table, said),
        "findings": plain(tables.check(table, said)),
        "rows": [
            {"key": row.key, "label": row.label, "under": row.depth > 0, "heading": not row.cells} for row in table.rows
        ],
        "columns": [
            {"key": column.key, "label": column.label, "under": False, "heading": False} for column in table.columns
        ],
    }


class MethodsIn(Schema):
    """plates: the plates and tables of numbers that are covered, by id; null for all of the study."""

    plates: list[UUID] | None = Field(default=None, max_length=2_000)


class MethodsOut(Schema):
    paragraphs: list[str]
    citations: list[str]
    markdown: str


class WordsIn(Schema):
    """plate: the one that is looked at, whose numbers stay where it is frozen."""

    document: PlateDocument
    plate: UUID | None = None


class DrawnIn(Schema):
    """A plate as a page drew it: of which of its versions, on which revisions of its tables."""

    version: int
    revisions: dict[str, int] = Field(max_length=MOST_PANELS)
    svg: str = Field(max_length=40_000_000)


class ChangeOut(Schema):
    path: list[str | int]
    value: Any


class FindingOut(Schema):
    code: str
    panel: int
    holds: bool
    words: str
    mend: str
    changes: list[ChangeOut]
    say: str


class WordsOut(Schema):
    """caption, alternative: as the data now say; findings: the checks, with the caption as it would leave."""

    caption: str
    alternative: str
    findings: list[FindingOut]


class ColourSetOut(Schema):
    name: str
    words: str
    colours: list[str]
    fills: list[str]


class FurnishingsOut(Schema):
    """What plates are furnished with: colour sets, styles built in and kept, sheet widths, and how colours are seen."""

    sets: list[ColourSetOut]
    built_in: list[StyleBody]
    kept: list[StyleBody]
    widths: dict[str, float]
    views: dict[str, list[list[float]]]


def furnishings_out(kept: list[dict[str, Any]]) -> FurnishingsOut:
    return FurnishingsOut(
        sets=[
            ColourSetOut(
                name=colour_set.name,
                words=colour_set.words,
                colours=list(colour_set.colours),
                fills=list(colour_set.fills),
            )
            for colour_set in colours.SETS
        ],
        built_in=[StyleBody(**style) for style in styles.STYLES],
        kept=[StyleBody(**style) for style in kept],
        widths=styles.WIDTHS,
        views={name: [list(row) for row in matrix] for name, matrix in colours.VIEWS.items()},
    )


_STAGES = {
    "shape": "Spread", "cumulative": "Spread", "counts": "Spread", "times": "Spread", "quantiles": "Spread",
    "ordered": "Spread", "control": "Spread",
    "groups": "Compare", "shares": "Compare", "estimates": "Compare", "differences": "Compare", "pair": "Relate",
    "agreement": "Relate",
    "rules": "Screen", "left-out": "Screen", "distances": "Screen", "influence": "Screen",
}  # fmt: skip


def table_line_of(plate: TablePlate, now: dict[str, int]) -> dict[str, Any]:
    return {**_line_of(plate, now), "kind": plate.document["source"]["kind"]}


def line_of(plate: Plate, now: dict[str, int]) -> dict[str, Any]:
    panels = plate.document["panels"]
    stages = ["Rescale" if panel["source"].get("as_if") else _STAGES[panel["source"]["kind"]] for panel in panels]
    return {**_line_of(plate, now), "group": plate.group, "stages": list(dict.fromkeys(stages))}


def _line_of(plate: Plate | TablePlate, now: dict[str, int]) -> dict[str, Any]:
    reviewed = plate.last_reviewed.get("revisions", {})
    return {
        "id": plate.pk,
        "name": plate.name,
        "revisions": reviewed,
        "stale": plate.frozen is None and any(now.get(table, -1) != revision for table, revision in reviewed.items()),
        "frozen": plate.frozen is not None,
        "version": plate.version,
        "document": plate.document,
    }
