"""What a report comes to now, and the files that were made of it."""

import hashlib
import json
import zlib
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any
from uuid import UUID

from django.conf import settings
from django.db.models import QuerySet
from django.shortcuts import get_object_or_404
from heron import figure, tables
from heron import report as core
from heron.errors import HeronError
from heron.figure.scene import Scene
from heron.formatting import numbers_as
from heron.report.composing import Kept
from heron.report.sections import Standing, sections_of

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.plates import selectors as plating
from server.plates.methods import used_by
from server.plates.models import Plate, PlatePicture, TablePlate
from server.problems import Refusal
from server.reports.documents import KeptPart, ReportDocument
from server.reports.models import Report, ReportFile
from server.studies.models import Study
from server.studies.permissions import visible_studies

_TYPE = settings.ROOT / "web" / "type"


def reports(study: Study) -> QuerySet[Report]:
    return study.reports.all()


def report(user: User, report_id: UUID) -> Report:
    shown = Report.objects.filter(study__in=visible_studies(user)).select_related("study")
    return get_object_or_404(shown, pk=report_id)


def document_of(report: Report) -> ReportDocument:
    return ReportDocument.model_validate(report.document)


def file_of(report: Report, form: str) -> ReportFile:
    made = report.files.filter(form=form).first()
    if made is None:
        raise Refusal(
            404, "not-made", f"{report.name} was not made as {form} yet.", remedy="Have it made first.", where="form"
        )
    return made


@dataclass(frozen=True)
class Composed:
    """What a report comes to. shown: scenes and documents of its figures, by plate; moved: keys of what moved since
    somebody looked; pictures: of plates as a page drew them, as they are now; key: a digest of all that it is made of;
    names: of its plates, by id."""

    report: core.Report
    shown: Mapping[str, tuple[dict[str, Any], list[Scene]]]
    moved: list[str]
    pictures: Mapping[str, str]
    names: Mapping[str, str]
    key: str

    @property
    def to_draw(self) -> list[str]:
        """The plates of which no page drew a picture as they are now."""
        return [plate for plate in self.shown if plate not in self.pictures]


def composed(user: User, study: Study, document: ReportDocument) -> Composed:
    """What a document comes to as the study now stands."""
    figures = _in_order(study.plates.select_related("picture").defer("picture__svg"), document.plates_in("figure"))
    numbers = _in_order(study.table_plates.all(), document.plates_in("table"))
    for plate in (*figures, *numbers):
        plate.study = study
    said = document.model_dump(mode="json")
    kept: dict[str, Kept] = {}
    shown, stands_on, pictures = {}, [], {}
    for plate in figures:
        key = str(plate.pk)
        try:
            scenes, revisions = plating.shown_scenes(user, plate, plating.document_of(plate))
        except (HeronError, Refusal) as error:
            kept[key] = core.Failed(error.problem)
            continue
        shown[key] = plating.document_of(plate).model_dump(mode="json"), scenes
        kept[key] = _figure(plate, *shown[key])
        drawn_of = plating.drawn_of(plate, revisions)
        picture = getattr(plate, "picture", None)
        if picture is not None and picture.key == drawn_of:
            pictures[key] = picture.pk
        stands_on.append([key, drawn_of, key in pictures])
    for plate in numbers:
        kept[str(plate.pk)] = _table(user, plate)
        stands_on.append([str(plate.pk), plate.version, plate.frozen is not None])
    with numbers_as(document.numbers):
        used = used_by(user, figures, numbers)
        standing = [Standing(told, table.revision, ledger.digest(table.row)[:16]) for table, told in used.tables]
        written = sections_of(used.section, standing, used.software)
    stands_on += [[str(table.pk), table.revision, table.name] for table, _ in used.tables]
    made = core.compose(said, kept, written)
    moved = {
        str(plate.pk) for plate in figures if plating.moved_of(user, plate)
    } | {str(plate.pk) for plate in numbers if plating.moved_in(user, plate)}  # fmt: skip
    keys = [part.key for part in document.parts if isinstance(part, KeptPart) and str(part.plate) in moved]
    digest = hashlib.sha256(json.dumps([said, stands_on, used.software], sort_keys=True).encode()).hexdigest()
    names = {str(plate.pk): plate.name for plate in (*figures, *numbers)}
    return Composed(made, shown, keys, pictures, names, digest)


def _in_order(of: QuerySet[Any], wanted: list[UUID]) -> list[Any]:
    found = {plate.pk: plate for plate in of.filter(pk__in=wanted)}
    return [found[key] for key in wanted if key in found]


def _figure(plate: Plate, said: dict[str, Any], scenes: list[Scene]) -> core.KeptFigure:
    caption, alternative = said["caption"]["text"], said["alternative"]["text"]
    return core.KeptFigure(
        plate.name,
        figure.caption(said, scenes) if caption is None else caption,
        figure.alternative(said, scenes) if alternative is None else alternative,
        said["sheet"]["width"],
        said["sheet"]["height"],
    )


def _table(user: User, plate: TablePlate) -> Kept:
    document = plating.table_document_of(plate)
    try:
        table = plating.shown_by(user, plate, document)
    except (HeronError, Refusal) as error:
        return core.Failed(error.problem)
    caption = tables.caption(table) if document.caption.text is None else document.caption.text
    return core.KeptTable(plate.name, caption, tables.laid_out(table, document.model_dump(mode="json")))


def pictures_of(made: Composed) -> dict[str, str]:
    """The picture of each figure: as a page drew it where one did, else drawn here."""
    held = PlatePicture.objects.in_bulk(list(made.pictures.values()))
    pictures = {plate: zlib.decompress(bytes(held[pk].svg)).decode() for plate, pk in made.pictures.items()}
    lacking = made.to_draw
    if lacking:
        from heron.figure.draw import svg_of  # imported on first use: all of it takes a second

        files = {face: _TYPE / f"{face}-400.ttf" for face in ("sans", "serif")}
        pictures |= {plate: svg_of(*made.shown[plate], files) for plate in lacking}
    return pictures


@cache
def faces() -> dict[str, bytes]:
    """The type of plates and reports, by its face and weight."""
    return {path.stem: path.read_bytes() for path in sorted(Path(_TYPE).glob("*.ttf"))}
