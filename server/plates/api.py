"""Plates: figures for publication, the words that go with them, the checks before they leave."""

import json
from typing import Annotated, Any, Literal
from uuid import UUID

from django.http import HttpResponse
from heron import figure, tables
from heron.figure.words import letters
from heron.readings import Cancellation
from heron.tables import writing
from ninja import File, Form, Router
from ninja.files import UploadedFile
from pydantic import Field

from server.accounts.requests import SignedIn
from server.documenting import ENVELOPED, file_of
from server.fields import PlainText
from server.ledger.request_params import table_of_request
from server.plates import selectors, services
from server.plates.documents import StyleBody, published_schema
from server.plates.earlier import scenes_as_now
from server.plates.methods import used_by
from server.plates.models import Plate, TablePlate
from server.plates.schemas import (
    DrawnIn,
    FigureOut,
    FurnishingsOut,
    MethodsIn,
    MethodsOut,
    PageIn,
    PlaceIn,
    PlateChange,
    PlateIn,
    PlateLine,
    PlateOut,
    ScenesIn,
    ScenesOut,
    ShownIn,
    ShownOut,
    TablePlateChange,
    TablePlateIn,
    TablePlateLine,
    TablePlateOut,
    WordsIn,
    WordsOut,
    furnishings_out,
    line_of,
    panels_of_request,
    shown_out,
    table_line_of,
)
from server.problems import Refusal
from server.readings.answers import envelope, plain
from server.readings.delivery import answer_of
from server.studies import selectors as studies

router = Router(tags=["plates"])


def _out(request: SignedIn, plate: Plate) -> dict[str, Any]:
    now = selectors.revisions_now(request.user, [plate])
    return {**line_of(plate, now), "study": plate.study_id, "moved": selectors.moved_of(request.user, plate)}


@router.get("/plates/schema", response=None, openapi_extra=file_of("application/schema+json"))
def schema(request: SignedIn) -> Any:
    """The JSON Schema of a specification."""
    return HttpResponse(json.dumps(published_schema(), indent=1), content_type="application/schema+json")


@router.get("/plates/furnishings", response=FurnishingsOut)
def furnishings(request: SignedIn) -> Any:
    return furnishings_out(selectors.styles(request.user))


@router.put("/plates/styles", response=FurnishingsOut)
def keep_style(request: SignedIn, body: StyleBody) -> Any:
    services.keep_style(request.user, body)
    return furnishings_out(selectors.styles(request.user))


@router.delete("/plates/styles", response=FurnishingsOut)
def forget_style(request: SignedIn, name: str) -> Any:
    services.forget_style(request.user, name)
    return furnishings_out(selectors.styles(request.user))


@router.get("/tables/{table_id}/figure", response=FigureOut, openapi_extra=ENVELOPED)
def figure_of(
    request: SignedIn, table_id: UUID, panels: Annotated[PlainText, Field(max_length=60_000)], sketch: bool = False
) -> Any:
    """What a stage shows of a table, in data units with its words. panels: as in a plate's document, as JSON; sketch:
    of a sample of the rows of a long table, to be shown while all of them are looked at."""
    asked = panels_of_request(panels, table_id)
    table = table_of_request(request, table_id)

    def compute(cancellation: Cancellation) -> Any:
        return selectors.figure_of(table, asked, cancellation, sketch=sketch and table.state.is_long)

    return answer_of(request, table, compute, binary=True)


@router.post("/plates/scenes", response=ScenesOut, openapi_extra=ENVELOPED)
def scenes(request: SignedIn, asked: ScenesIn) -> Any:
    """What panels show, in data units; a question that changes nothing, posted since sources may be long."""
    result, revisions = selectors.scenes(request.user, asked.sources, asked.numbers)
    body = envelope({"scenes": result, "revisions": revisions})
    return HttpResponse(body, content_type="application/octet-stream")


@router.post("/plates/words", response=WordsOut)
def words(request: SignedIn, asked: WordsIn) -> Any:
    """The caption and the alternative text as the data now say, and the checks of the plate as it would leave."""
    document = asked.document
    plate = None if asked.plate is None else selectors.plate(request.user, asked.plate)
    result, _ = selectors.shown_scenes(request.user, plate, document)
    said = document.model_dump(mode="json")
    caption = figure.caption(said, result)
    leaving = document.caption.text if document.caption.text is not None else caption
    return {
        "caption": caption,
        "alternative": figure.alternative(said, result),
        "findings": plain(figure.check(said, result, leaving)),
    }


@router.post("/plates/data", response=None, openapi_extra=file_of("text/csv"))
def data(request: SignedIn, asked: WordsIn) -> Any:
    """The numbers behind a plate, as CSV."""
    plate = None if asked.plate is None else selectors.plate(request.user, asked.plate)
    result, _ = selectors.shown_scenes(request.user, plate, asked.document)
    named = letters(len(result), asked.document.sheet.letters)
    return HttpResponse(figure.data(result, named), content_type="text/csv; charset=utf-8")


@router.post("/plates/picture", response=None, openapi_extra=file_of("image/png", "image/tiff"))
def picture(
    request: SignedIn,
    picture: File[UploadedFile],
    form: Literal["png", "tiff"] = "png",
    dpi: Annotated[int, Field(ge=30, le=1200)] = 300,
) -> Any:
    """A picture as PNG or TIFF with its dots per inch recorded."""
    body = services.rastered(picture.read(), form, dpi)
    return HttpResponse(body, content_type=f"image/{form}")


@router.post("/plates/page", response=None, openapi_extra=file_of(writing.TYPES["docx"]))
def page(request: SignedIn, picture: File[UploadedFile], words: Form[PageIn]) -> Any:
    """A picture with its caption as a page of a word processor."""
    body = services.paged(picture.read(), words.width, words.caption, words.alternative)
    return HttpResponse(body, content_type=writing.TYPES["docx"])


@router.get("/studies/{study_id}/plates", response=list[PlateLine])
def plates(request: SignedIn, study_id: UUID) -> Any:
    result = list(selectors.plates(studies.study(request.user, study_id)))
    now = selectors.revisions_now(request.user, result)
    return [line_of(plate, now) for plate in result]


@router.post("/studies/{study_id}/plates", response={201: PlateOut})
def keep(request: SignedIn, study_id: UUID, asked: PlateIn) -> Any:
    study = studies.study(request.user, study_id)
    return 201, _out(request, services.keep(request.user, study, asked.name, asked.group, asked.document))


@router.put("/studies/{study_id}/plates/style", response=list[PlateLine])
def style_all(request: SignedIn, study_id: UUID, body: StyleBody) -> Any:
    """Put a style on every plate of a study."""
    services.style_all(request.user, studies.study(request.user, study_id), body)
    return plates(request, study_id)


@router.post("/studies/{study_id}/methods", response=MethodsOut)
def methods(request: SignedIn, study_id: UUID, asked: MethodsIn) -> Any:
    """A methods paragraph of a study: what was read, decided and computed for its plates, with citations."""
    study = studies.study(request.user, study_id)
    result = selectors.plates(study)
    chosen = result if asked.plates is None else result.filter(pk__in=asked.plates)
    of_numbers = selectors.table_plates(study)
    chosen_tables = of_numbers if asked.plates is None else of_numbers.filter(pk__in=asked.plates)
    said = used_by(request.user, list(chosen), list(chosen_tables)).section
    title = f"Methods of {study.title}"
    return {"paragraphs": said.paragraphs, "citations": said.citations, "markdown": said.markdown(title)}


def _table_out(request: SignedIn, plate: TablePlate) -> dict[str, Any]:
    now = selectors.revisions_now(request.user, [plate])
    return {**table_line_of(plate, now), "study": plate.study_id, "moved": selectors.moved_in(request.user, plate)}


@router.get("/studies/{study_id}/table-plates", response=list[TablePlateLine])
def table_plates(request: SignedIn, study_id: UUID) -> Any:
    """The tables of numbers of a study."""
    result = list(selectors.table_plates(studies.study(request.user, study_id)))
    now = selectors.revisions_now(request.user, result)
    return [table_line_of(plate, now) for plate in result]


@router.post("/studies/{study_id}/table-plates", response={201: TablePlateOut})
def keep_table(request: SignedIn, study_id: UUID, asked: TablePlateIn) -> Any:
    study = studies.study(request.user, study_id)
    return 201, _table_out(request, services.keep_table(request.user, study, asked.name, asked.document))


def _of_request(request: SignedIn, asked: ShownIn) -> TablePlate | None:
    return None if asked.plate is None else selectors.table_plate(request.user, asked.plate)


@router.post("/table-plates/shown", response=ShownOut)
def shown(request: SignedIn, asked: ShownIn) -> Any:
    """A table of numbers as it is written, with its words and checks; a question that changes nothing, posted since
    documents may be long."""
    table = selectors.shown_by(request.user, _of_request(request, asked), asked.document)
    return shown_out(table, asked.document)


@router.post("/table-plates/file", response=None, openapi_extra=file_of(*writing.TYPES.values()))
def table_file(
    request: SignedIn, asked: ShownIn, form: Literal["docx", "html", "latex", "markdown", "xlsx", "csv"]
) -> Any:
    """A table of numbers as a file."""
    table = selectors.shown_by(request.user, _of_request(request, asked), asked.document)
    caption = asked.document.caption.text if asked.document.caption.text is not None else tables.caption(table)
    body = writing.write(table, asked.document.model_dump(mode="json"), form, caption)
    return HttpResponse(body, content_type=writing.TYPES[form])


@router.get("/table-plates/{plate_id}", response=TablePlateOut)
def table_plate(request: SignedIn, plate_id: UUID) -> Any:
    return _table_out(request, selectors.table_plate(request.user, plate_id))


@router.put("/table-plates/{plate_id}", response=TablePlateOut)
def change_table(request: SignedIn, plate_id: UUID, asked: TablePlateChange) -> Any:
    result = selectors.table_plate(request.user, plate_id)
    return _table_out(request, services.change(request.user, result, asked.name, asked.document, asked.version))


@router.delete("/table-plates/{plate_id}", response={204: None})
def take_table_away(request: SignedIn, plate_id: UUID) -> Any:
    services.take_away(request.user, selectors.table_plate(request.user, plate_id))
    return 204, None


@router.post("/table-plates/{plate_id}/reviewed", response=TablePlateOut)
def table_reviewed(request: SignedIn, plate_id: UUID) -> Any:
    return _table_out(request, services.review(request.user, selectors.table_plate(request.user, plate_id)))


@router.post("/table-plates/{plate_id}/freeze", response=TablePlateOut)
def freeze_table(request: SignedIn, plate_id: UUID, on: bool = True) -> Any:
    return _table_out(request, services.freeze(request.user, selectors.table_plate(request.user, plate_id), on=on))


@router.post("/table-plates/{plate_id}/duplicate", response={201: TablePlateOut})
def duplicate_table(request: SignedIn, plate_id: UUID) -> Any:
    return 201, _table_out(request, services.duplicate(request.user, selectors.table_plate(request.user, plate_id)))


@router.post("/table-plates/{plate_id}/place", response={204: None})
def place_table(request: SignedIn, plate_id: UUID, asked: PlaceIn) -> Any:
    services.move(request.user, selectors.table_plate(request.user, plate_id), asked.before)
    return 204, None


@router.get("/plates/{plate_id}", response=PlateOut)
def plate(request: SignedIn, plate_id: UUID) -> Any:
    return _out(request, selectors.plate(request.user, plate_id))


@router.put("/plates/{plate_id}", response=PlateOut)
def change(request: SignedIn, plate_id: UUID, asked: PlateChange) -> Any:
    result = selectors.plate(request.user, plate_id)
    return _out(request, services.change(request.user, result, asked.name, asked.document, asked.version))


@router.delete("/plates/{plate_id}", response={204: None})
def take_away(request: SignedIn, plate_id: UUID) -> Any:
    services.take_away(request.user, selectors.plate(request.user, plate_id))
    return 204, None


@router.get("/plates/{plate_id}/frozen", response=ScenesOut, openapi_extra=ENVELOPED)
def frozen(request: SignedIn, plate_id: UUID) -> Any:
    """The scenes with which a plate was frozen."""
    result = selectors.plate(request.user, plate_id)
    if not result.frozen:
        raise Refusal(404, "not-frozen", "This plate follows its data, and is not frozen.")
    return HttpResponse(scenes_as_now(bytes(result.frozen)), content_type="application/octet-stream")


@router.put("/plates/{plate_id}/drawn", response={204: None})
def drawn(request: SignedIn, plate_id: UUID, asked: DrawnIn) -> Any:
    """Keep a picture of a plate as a page drew it, for reports."""
    plate = selectors.plate(request.user, plate_id)
    services.keep_picture(request.user, plate, asked.version, asked.revisions, asked.svg)
    return 204, None


@router.post("/plates/{plate_id}/reviewed", response=PlateOut)
def reviewed(request: SignedIn, plate_id: UUID) -> Any:
    return _out(request, services.review(request.user, selectors.plate(request.user, plate_id)))


@router.post("/plates/{plate_id}/freeze", response=PlateOut)
def freeze(request: SignedIn, plate_id: UUID, on: bool = True) -> Any:
    return _out(request, services.freeze(request.user, selectors.plate(request.user, plate_id), on=on))


@router.post("/plates/{plate_id}/duplicate", response={201: PlateOut})
def duplicate(request: SignedIn, plate_id: UUID) -> Any:
    return 201, _out(request, services.duplicate(request.user, selectors.plate(request.user, plate_id)))


@router.post("/plates/{plate_id}/place", response={204: None})
def place(request: SignedIn, plate_id: UUID, asked: PlaceIn) -> Any:
    services.move(request.user, selectors.plate(request.user, plate_id), asked.before)
    return 204, None
