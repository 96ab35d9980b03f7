"""A whole study as a Data Package: data with their schema, files as they came, Ledger, routines, plates, methods."""

import hashlib
import html
import json
import re
import tempfile
import zipfile
from collections.abc import Mapping
from typing import IO, Any
from uuid import UUID

from django.conf import settings
from django.utils import timezone
from heron import figure, intake, writing
from heron.errors import HeronError
from heron.formatting import fixed
from heron.report import write as write_report
from heron.tables import caption, laid_out
from heron.tables.writing import as_html

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.making import refresh_if_stale
from server.ledger.models import Entry
from server.plates import selectors as plating
from server.plates.methods import used_by
from server.plates.models import Plate, TablePlate
from server.problems import Refusal
from server.records.opening import DIGESTS, try_opening
from server.records.routines import routine_of
from server.reports import selectors as reporting
from server.reports.models import Report
from server.studies import selectors as studies
from server.studies import store
from server.studies.models import Chunk, SourceFile, Study, Table, Variable
from server.studies.snapshots import TableSnapshot

_VARIABLE = (
    "position", "symbol", "label", "unit", "kind", "levels", "missing_codes", "missing_counts",
    "n_missing", "decimals", "lower", "upper", "note", "properties", "shape",
)  # fmt: skip


def slug(name: str, number: int) -> str:
    """A name for a file: its place among its like, and its words."""
    words = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower()[:60]
    return f"{number:02d}-{words or 'unnamed'}"


def write(user: User, study: Study, pictures: Mapping[UUID, str]) -> IO[bytes]:
    """Return a file with the whole of a study, which opens again here.

    Parameters: pictures, the SVG of each plate that has one, as the page drew it.
    """
    sink, size = whole(user, study, pictures)
    _can_be_brought_in(size)
    try_opening(user, iter(lambda: sink.read(1_000_000), b""))
    sink.seek(0)
    return sink


def whole(user: User, study: Study, pictures: Mapping[UUID, str]) -> tuple[IO[bytes], int]:
    """The same of any size, and its size: it may be too large for this server to open again."""
    for svg in pictures.values():
        if "<svg" not in svg[:1_000]:
            raise Refusal(422, "no-picture", "A picture is no SVG.", where="pictures")
    for table in study.tables.all():
        refresh_if_stale(table)
    sink = tempfile.TemporaryFile()  # noqa: SIM115  it is handed on, and closed with the answer
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as zipped:
        archive = _Archive(zipped)
        _fill(archive, user, study, pictures)
        zipped.writestr(DIGESTS, archive.digests())
    size = sink.tell()
    sink.seek(0)
    return sink, size


def _can_be_brought_in(size: int) -> None:
    if size > settings.UPLOAD_LIMIT:
        raise Refusal(
            413, "too-large-package",
            f"The package is {fixed(size / 1e6, 0)} MB; "
            f"at most {fixed(settings.UPLOAD_LIMIT / 1e6, 0)} MB are opened again here.",
            remedy="Remove tables that are not needed, or ask who runs this server to allow larger files.",
        )  # fmt: skip


class _Archive:
    """A zip that is being written, and the digest of each of its entries."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive
        self._digests: dict[str, str] = {}

    def writestr(self, path: str, data: str | bytes, kind: int = zipfile.ZIP_DEFLATED) -> None:
        body = data.encode() if isinstance(data, str) else data
        self._digests[path] = hashlib.sha256(body).hexdigest()
        self._archive.writestr(path, body, kind)

    def digests(self) -> str:
        """A line for each entry, as the usual command-line tools check them."""
        return "".join(f"{digest}  {path}\n" for path, digest in self._digests.items())


def _fill(archive: _Archive, user: User, study: Study, pictures: Mapping[UUID, str]) -> None:
    tables = list(study.tables.select_related("source"))
    plates = list(study.plates.all())
    files = {table.source.pk: table.source for table in tables if table.source}
    listed = [_file(archive, file, number) for number, file in enumerate(files.values(), 1)]
    resources, documents = [], []
    for number, table in enumerate(tables, 1):
        name = slug(table.name, number)
        described, text = writing.resource(ledger.marked(TableSnapshot.of(table)), name, f"data/{name}.csv")
        archive.writestr(described["path"], text)
        resources.append({**described, "hash": f"sha256:{hashlib.sha256(text).hexdigest()}", "bytes": len(text)})
        source = list(files).index(table.source.pk) if table.source else None
        documents.append(_table(archive, table, name, source))
        if not (table.origin or {}).get("of"):
            _json(archive, f"routines/{name}.json", routine_of(table))
    said = {
        "format": "velvet-heron-study", "version": 1, "title": study.title, "files": listed, "tables": documents,
        "plates": [_plate(archive, user, plate, number, pictures) for number, plate in enumerate(plates, 1)],
        "table_plates": [
            _table_plate(archive, user, plate, number) for number, plate in enumerate(study.table_plates.all(), 1)
        ],
        "reports": [
            _report(archive, user, report, number, pictures) for number, report in enumerate(study.reports.all(), 1)
        ],
        "class_structures": list(study.class_structures.values("name", "boundaries", "closed")),
    }  # fmt: skip
    _json(archive, "study.json", said)
    _json(archive, "ledger.json", {
        "format": "velvet-heron-ledger", "version": 1,
        "tables": [{"key": str(table.pk), "entries": [_entry(e) for e in ledger.entries(table)]} for table in tables],
    })  # fmt: skip
    methods = used_by(user, plates, list(study.table_plates.all())).section
    archive.writestr("methods.md", methods.markdown(f"Methods of {study.title}"))
    _json(archive, "datapackage.json", {
        "name": slug(study.title, 1)[3:], "title": study.title, "created": timezone.now().isoformat(),
        "resources": resources, intake.MARK: {"study": "study.json", "ledger": "ledger.json"},
    })  # fmt: skip


def _json(archive: _Archive, path: str, said: Any) -> None:
    archive.writestr(path, json.dumps(said, ensure_ascii=False, indent=1, allow_nan=False) + "\n")


def _file(archive: _Archive, file: SourceFile, number: int) -> dict[str, Any]:
    path = f"files/{number:02d}-{re.sub(r'[^A-Za-z0-9._-]+', '-', file.name)[-100:]}"
    archive.writestr(path, studies.file_bytes(file))
    return {"name": file.name, "sha256": file.sha256, "size": file.size, "path": path}


def _table(archive: _Archive, table: Table, name: str, source: int | None) -> dict[str, Any]:
    origins = None
    if table.row_origins is not None:
        origins = f"stored/{name}/origins"
        archive.writestr(origins, bytes(table.row_origins))
    made = dict(table.origin or {})
    if made:
        wish = {"of": made.pop("of", []), "options": {"how": made.pop("how"), **made.pop("options")}}
        made = {"wish": wish, **made}
    readings = [{"choices": {}, "said": {}, **reading} for reading in table.imports]
    variables = table.variables.order_by("import_version", "position")
    return {
        "key": str(table.pk), "name": table.name, "revision": table.revision, "readings": readings,
        "variables": [_variable(archive, variable, name) for variable in variables], "made": made or None,
        "origins": origins, "source": source, "data": f"data/{name}.csv", "digest": ledger.digest(table),
    }  # fmt: skip


def _variable(archive: _Archive, variable: Variable, name: str) -> dict[str, Any]:
    paths = []
    for number, data in enumerate(store.fetch_bytes(Chunk.objects.filter(variable=variable).values_list("data"))):
        paths.append(f"stored/{name}/{variable.import_version}-{variable.position:04d}-{number:04d}.arrow")
        # It is compressed already.
        archive.writestr(paths[-1], data, zipfile.ZIP_STORED)
    said = {name: getattr(variable, name) for name in _VARIABLE}
    return {"reading": variable.import_version, **said, "chunks": paths}


def _plate(archive: _Archive, user: User, plate: Plate, number: int, pictures: Mapping[UUID, str]) -> dict[str, Any]:
    name = slug(plate.name, number)
    if plate.pk in pictures:
        archive.writestr(f"plates/{name}.svg", pictures[plate.pk])
    archive.writestr(f"plates/{name}.md", f"# {plate.name}\n\n{_caption(user, plate)}\n")
    frozen = None
    if plate.frozen is not None:
        frozen = f"plates/{name}.frozen"
        archive.writestr(frozen, bytes(plate.frozen))
    return {
        "key": str(plate.pk), "name": plate.name, "group": plate.group, "place": plate.place,
        "version": plate.version, "document": plate.document, "seen": plate.last_reviewed, "frozen": frozen,
    }  # fmt: skip


def _table_plate(archive: _Archive, user: User, plate: TablePlate, number: int) -> dict[str, Any]:
    archive.writestr(f"tables/{slug(plate.name, number)}.html", _page_of(user, plate))
    return {
        "key": str(plate.pk), "name": plate.name, "place": plate.place, "version": plate.version,
        "document": plate.document, "seen": plate.last_reviewed, "frozen": plate.frozen,
    }  # fmt: skip


def _report(archive: _Archive, user: User, report: Report, number: int, pictures: Mapping[UUID, str]) -> dict[str, Any]:
    made = reporting.composed(user, report.study, reporting.document_of(report))
    given = {str(plate): svg for plate, svg in pictures.items()}
    drawn = given if set(made.shown) <= set(given) else {**reporting.pictures_of(made), **given}
    page = write_report(made.report, "html", {plate: drawn[plate] for plate in made.shown}, reporting.faces())
    archive.writestr(f"reports/{slug(report.name, number)}.html", page)
    return {
        "key": str(report.pk), "name": report.name, "place": report.place, "version": report.version,
        "document": report.document,
    }  # fmt: skip


def _page_of(user: User, plate: TablePlate) -> str:
    document = plating.table_document_of(plate)
    try:
        table = plating.shown_by(user, plate, document)
    except (HeronError, Refusal) as error:
        return f"<p>{html.escape(error.problem)}</p>\n"
    said = document.caption.text if document.caption.text is not None else caption(table)
    return as_html(laid_out(table, document.model_dump(mode="json")), said)


def _caption(user: User, plate: Plate) -> str:
    document = plating.document_of(plate)
    if document.caption.text is not None:
        return document.caption.text
    try:
        result, _ = plating.shown_scenes(user, plate, document)
    except (HeronError, Refusal) as error:
        return error.problem
    return figure.caption(document.model_dump(mode="json"), result)


def _entry(entry: Entry) -> dict[str, Any]:
    return {
        "number": entry.number, "kind": entry.kind, "rows": entry.rows, "variable": entry.variable,
        "changes": entry.changes, "of": entry.of, "reason": entry.reason, "author": entry.by_whom,
        "made": entry.made.isoformat(),
    }  # fmt: skip
