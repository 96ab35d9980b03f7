"""Reads of plates: what they show, and what moved since somebody last looked."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any
from uuid import UUID

import numpy as np
from django.db.models import QuerySet
from django.http import Http404
from django.shortcuts import get_object_or_404
from heron import figure, tables
from heron.errors import HeronError
from heron.figure.build import build
from heron.figure.scene import Scene
from heron.figure.source import Source
from heron.figure.styles import ON_SCREEN
from heron.figure.words import letters
from heron.formatting import numbers_as, numbers_now
from heron.ledger import TableView
from heron.readings import Cancellation
from heron.tables import NumberTable
from pydantic import TypeAdapter

from server.accounts.models import User
from server.caching import Kept
from server.ledger import selectors as ledger
from server.ledger.making import refresh_if_stale
from server.plates.documents import PlateDocument, PlatePanel, Sheet, StyleBody, TablePlateDocument
from server.plates.earlier import scenes_as_now
from server.plates.models import Plate, Style, TablePlate
from server.problems import Refusal
from server.readings.answers import unwrapped
from server.studies.models import Study, Table
from server.studies.permissions import visible_studies, visible_to
from server.studies.snapshots import TableSnapshot

_kept: Kept[Scene] = Kept(96)


def plates(study: Study) -> QuerySet[Plate]:
    return study.plates.all()


def plate(user: User, plate_id: UUID) -> Plate:
    return get_object_or_404(Plate.objects.filter(study__in=visible_studies(user)).select_related("study"), pk=plate_id)


def styles(user: User) -> list[dict[str, Any]]:
    return list(Style.objects.filter(owner=user).values_list("body", flat=True))


def scenes(user: User, sources: Sequence[Source], numbers: str) -> tuple[list[Scene], dict[str, int]]:
    """What panels show now, with numbers in a style; and the revision of each table that they stand on."""
    tables: dict[UUID, TableSnapshot] = {}
    for source in sources:
        if source.table not in tables:
            tables[source.table] = table_of(user, source.table)
    with numbers_as(numbers):
        result = [scene_of(tables[source.table], source) for source in sources]
    return result, {str(key): table.revision for key, table in tables.items()}


def shown_scenes(user: User, plate: Plate | None, document: PlateDocument) -> tuple[list[Scene], dict[str, int]]:
    """What a document shows, of a frozen plate what it showed then; and the revision of each table in it."""
    if plate is None or plate.frozen is None or document.sources != document_of(plate).sources:
        return scenes(user, document.sources, document.numbers)
    held = scenes_as_now(bytes(plate.frozen))
    return unwrapped(held, Scene, "scenes"), plate.last_reviewed.get("revisions", {})


def drawn_of(plate: Plate, revisions: Mapping[str, int]) -> str:
    """What a picture of a plate is drawn of: its version, and the revisions of its tables where it follows them."""
    stands_on = sorted(revisions.items()) if plate.frozen is None else []
    return json.dumps([plate.version, stands_on])


def table_of(user: User, table_id: UUID) -> TableSnapshot:
    """The table as it stands, made anew where its sources changed."""
    try:
        result = ledger.snapshot(user, table_id)
    except Http404:
        raise Refusal(
            404, "no-table", "A table that it stands on is not here any more.", where="source",
            remedy="Bring it in again and keep the plate anew, or take the plate away.",
        ) from None  # fmt: skip
    return ledger.snapshot(user, table_id) if refresh_if_stale(result.row) else result


def scene_of(table: TableSnapshot, source: Source, cancellation: Cancellation | None = None) -> Scene:
    """A panel's scene, kept while its table stands as it is."""
    return _kept.answer((table.key, source, numbers_now()), lambda: _built(table, source, cancellation))


def figure_of(
    table: TableSnapshot, panels: list[PlatePanel], cancellation: Cancellation, *, sketch: bool = False
) -> dict[str, Any]:
    """What a stage shows: the scenes of panels with their words, and what deserves a look."""
    seen = _sketched if sketch else scene_of
    shown = [seen(table, panel.source, cancellation) for panel in panels]
    sheet = Sheet(letters="none")
    said = PlateDocument(sheet=sheet, style=StyleBody(**ON_SCREEN), panels=panels, numbers=numbers_now())
    document = said.model_dump(mode="json")
    caption = figure.caption(document, shown)
    return {
        "panels": document["panels"],
        "scenes": shown,
        "caption": caption,
        "alternative": figure.alternative(document, shown),
        "findings": figure.check(document, shown, caption),
    }


def _sketched(table: TableSnapshot, source: Source, cancellation: Cancellation) -> Scene:
    """A panel's scene as a sample of the rows of a long table gives it."""
    scene = build(source, TableView(table.name, table.state.sampled, table.revision), cancellation)
    rows = np.concatenate(([0], table.state.sample_rows + 1))
    layers = tuple(replace(layer, rows=rows[layer.rows]) for layer in scene.layers)
    return replace(scene, layers=layers, facts=replace(scene.facts, sampled=rows.size - 1))


def _built(table: TableSnapshot, source: Source, cancellation: Cancellation | None) -> Scene:
    """A panel's scene, with the entries of the Ledger by which rows were set aside."""
    scene = build(source, table, cancellation)
    if not scene.facts.aside:
        return scene
    looked = ledger.row_decisions(table, source.symbols)
    standing = [looked.actions[int(i)] for i in np.unique(looked.of)]
    entries = tuple(sorted({entry.number for deed, entry in standing if deed == "set aside"}))
    return replace(scene, facts=replace(scene.facts, entries=entries))


def document_of(plate: Plate) -> PlateDocument:
    return PlateDocument.model_validate(plate.document)


def numbers_of(document: PlateDocument, scenes: Sequence[Scene]) -> list[list[Any]]:
    """The numbers that a plate stands on, by name, those of several panels with its letter."""
    named = letters(len(scenes), document.sheet.letters)
    return [
        [f"{letter}: {number.name}" if letter else number.name, number.value, number.unit]
        for letter, scene in zip(named, scenes, strict=True) for number in scene.numbers
    ]  # fmt: skip


def moved(before: Sequence[Sequence[Any]], after: Sequence[Sequence[Any]]) -> list[dict[str, Any]]:
    """The numbers that changed, by more than their last digits."""
    was = {name: (value, unit) for name, value, unit in before}
    now = {name: (value, unit) for name, value, unit in after}
    result = []
    for name in [*was, *(number for number in now if number not in was)]:
        old, new = was.get(name), now.get(name)
        if old is None or new is None or abs(old[0] - new[0]) > 1e-9 * max(abs(old[0]), abs(new[0])):
            unit = (new or old or (0, ""))[1]
            pair = {"before": old[0] if old else None, "after": new[0] if new else None}
            result.append({"name": name, **pair, "unit": unit})
    return result


def revisions_now(user: User, plates: Sequence[Plate | TablePlate]) -> dict[str, int]:
    """The revision of every table that plates stand on, of those that may be seen."""
    asked = {table for plate in plates for table in plate.last_reviewed.get("revisions", {})}
    tables = Table.objects.filter(visible_to(user, "study__"), pk__in=asked)
    return {str(key): revision for key, revision in tables.values_list("pk", "revision")}


_shown: Kept[NumberTable] = Kept(96)
_TABLES = TypeAdapter(NumberTable)


def table_plates(study: Study) -> QuerySet[TablePlate]:
    return study.table_plates.all()


def table_plate(user: User, plate_id: UUID) -> TablePlate:
    shown = TablePlate.objects.filter(study__in=visible_studies(user)).select_related("study")
    return get_object_or_404(shown, pk=plate_id)


def table_document_of(plate: TablePlate) -> TablePlateDocument:
    return TablePlateDocument.model_validate(plate.document)


def number_table(user: User, document: TablePlateDocument) -> tuple[NumberTable, dict[str, int]]:
    """What a table plate shows now, kept while its table stands as it is; and the revision of that."""
    source = document.source
    table = table_of(user, source.table)
    with numbers_as(document.numbers):
        made = _shown.answer((table.key, source, document.numbers), lambda: tables.build(source, table))
    return made, {str(table.pk): table.revision}


def frozen_as_json(table: NumberTable, revisions: dict[str, int]) -> dict[str, Any]:
    return {"table": _TABLES.dump_python(table, mode="json"), "revisions": revisions}


def frozen_from_json(written: Any) -> NumberTable:
    """Raises: ValueError for what was never written."""
    return _TABLES.validate_python(written["table"])


def shown_by(user: User, plate: TablePlate | None, document: TablePlateDocument) -> NumberTable:
    """What a document shows, of a frozen plate what stood in it."""
    if plate is not None and plate.frozen is not None:
        return frozen_from_json(plate.frozen)
    return number_table(user, document)[0]


def numbers_in(table: NumberTable) -> list[list[Any]]:
    """The numbers that a table holds, by name."""
    return [[number.name, number.value, number.unit] for number in table.numbers]


def moved_in(user: User, plate: TablePlate) -> list[dict[str, Any]]:
    """The same of a table plate."""
    if plate.frozen is not None:
        return []
    try:
        result, revisions = number_table(user, table_document_of(plate))
    except (HeronError, Refusal):
        return []
    if revisions == plate.last_reviewed.get("revisions"):
        return []
    return moved(plate.last_reviewed.get("numbers", []), json.loads(json.dumps(numbers_in(result))))


def moved_of(user: User, plate: Plate) -> list[dict[str, Any]]:
    """What moved since a plate was last looked at; nothing while it is frozen, or can no longer be made."""
    if plate.frozen is not None:
        return []
    document = document_of(plate)
    try:
        result, revisions = scenes(user, document.sources, document.numbers)
    except Refusal:
        return []
    if revisions == plate.last_reviewed.get("revisions"):
        return []
    return moved(plate.last_reviewed.get("numbers", []), json.loads(json.dumps(numbers_of(document, result))))
