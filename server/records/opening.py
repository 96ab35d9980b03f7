"""A package opened: one of ours as the study that it was, one from elsewhere as tables."""

import io
import json
import zipfile
from collections.abc import Sequence
from typing import Any
from uuid import UUID, uuid4

import numpy as np
import pyarrow as pa
from django.db import transaction
from heron import intake, numbering, writing
from heron.errors import HeronError
from pydantic import ValidationError

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.plates.models import Plate
from server.problems import Refusal
from server.records.study_documents import (
    EntryDocument,
    LedgerDocument,
    StudyDocument,
    TableDocument,
    VariableDocument,
    is_entry,
)
from server.studies import selectors as studies
from server.studies import services as studying
from server.studies.models import Chunk, ClassStructure, SourceFile, Study, Table, Upload, Variable
from server.studies.permissions import require_editor


def broken(words: str) -> Refusal:
    return Refusal(
        422, "broken-package", words, remedy="Take the package as it was saved; or open its tables from data/ alone."
    )


@transaction.atomic
def open_upload(user: User, upload: Upload) -> tuple[Study, list[Table]]:
    """Open a package: as a study of its own where it holds one whole, else all its tables in the study at hand."""
    require_editor(user, upload.study)
    data = studies.file_bytes(upload.file)
    if intake.format_of(data, upload.file.name) != "Data Package":
        raise Refusal(422, "no-package", f"{upload.file.name} is no Data Package.", remedy="Store it as a table.")
    intake.check_zip(data)
    if intake.study_in_package(data):
        study = _opened(user, data)
        file = upload.file
        upload.delete()
        file.delete()
        return study, list(study.tables.all())
    tables = []
    for name in intake.tables_in_package(data):
        read = intake.read(data, upload.file.name, sheet=name)
        tables.append(
            studying.store_table(upload.study, read.table.name, read.table, upload.file, choices={"sheet": name})
        )
    study = upload.study
    upload.delete()
    return study, tables


def _opened(user: User, data: bytes) -> Study:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        files = _Files(archive)
        try:
            described = json.loads(files.read("datapackage.json"))
            said = StudyDocument.model_validate_json(files.read(str(described[intake.MARK].get("study"))))
            entries = LedgerDocument.model_validate_json(files.read(str(described[intake.MARK].get("ledger"))))
        except ValidationError as error:
            first = error.errors()[0]
            raise broken(f"{'.'.join(map(str, first['loc']))}: {first['msg']}.") from None
        except (KeyError, TypeError, ValueError, RecursionError):
            raise broken("What the package says of its study cannot be read.") from None
        return _Opening(user, files, said, entries, described).study()


class _Files:
    """The files of a package by their paths; one that is not there is a broken package."""

    def __init__(self, archive: zipfile.ZipFile) -> None:
        self._archive = archive

    def read(self, path: str) -> bytes:
        try:
            return self._archive.read(path)
        except (KeyError, RuntimeError, zipfile.BadZipFile):
            raise broken(f"The package lacks {path}.") from None


class _Opening:
    """One package on its way in. Tables and plates get ids of their own; whatever names the old ones is told."""

    def __init__(
        self, user: User, files: _Files, said: StudyDocument, entries: LedgerDocument, described: dict[str, Any]
    ) -> None:
        self._user, self._files, self._said, self._described = user, files, said, described
        self._ids = {str(each.key): str(uuid4()) for each in (*said.tables, *said.plates)}
        self._entries = {each.key: each.entries for each in entries.tables}

    def study(self) -> Study:
        said = self._said
        study = studying.create_study(self._user, said.title)
        sources = [self._source(each) for each in said.files]
        tables = [self._table(study, each, sources) for each in said.tables]
        for table, each in zip(tables, said.tables, strict=True):
            self._check(table, each)
        for plate in said.plates:
            self._plate(study, plate)
        ClassStructure.objects.bulk_create(
            ClassStructure(study=study, **each.model_dump()) for each in said.class_structures
        )
        return study

    def _told(self, value: Any) -> Any:
        """A value in which the tables and plates have their new ids."""
        text = json.dumps(value)
        for old, new in self._ids.items():
            text = text.replace(old, new)
        return json.loads(text)

    def _source(self, file: Any) -> SourceFile:
        found = studying.keep_file(file.name, [self._files.read(file.path)])
        if found.sha256 != file.sha256:
            raise broken(f"{file.name} is not the file that it was.")
        return found

    def _table(self, study: Study, said: TableDocument, sources: Sequence[SourceFile]) -> Table:
        if said.source is not None and said.source >= len(sources):
            raise broken(f"{said.name} names a file that is not there.")
        made = None
        if said.made:
            wish = said.made.wish.model_dump(mode="json")
            options = wish["options"]
            made = self._told({
                "how": options.pop("how"), "of": wish["of"], "options": options,
                **said.made.model_dump(exclude={"wish"}, exclude_unset=True),
            })  # fmt: skip
            if set(made["of"]) - set(self._ids.values()):
                raise broken(f"{said.name} was made of a table that is not there.")
        if {each.reading for each in said.variables if not each.derived} != set(range(len(said.readings))):
            raise broken(f"A reading of {said.name} has no variables.")
        readings = [each.model_dump(exclude_unset=True) for each in said.readings]
        table = Table.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, n_rows=said.readings[0].n_rows,
            readings=readings, made=made, source=None if said.source is None else sources[said.source],
            origins=None if said.origins is None else self._files.read(said.origins),
        )  # fmt: skip
        for variable in said.variables:
            self._variable(table, variable, [each.n_rows for each in said.readings])
        self._ledger(table, said)
        return table

    def _variable(self, table: Table, said: VariableDocument, n_rows: Sequence[int]) -> None:
        if said.reading >= len(n_rows) or (not said.derived and not said.chunks):
            raise broken(f"The variable {said.symbol} of {table.name} has no values.")
        variable = Variable.objects.create(table=table, **said.model_dump(exclude={"chunks"}))
        chunks = [self._files.read(path) for path in said.chunks]
        seen = sum(_rows_of(chunk, said, table.name) for chunk in chunks)
        if chunks and seen != n_rows[said.reading]:
            raise broken(f"The variable {said.symbol} of {table.name} has {seen} rows, not {n_rows[said.reading]}.")
        Chunk.objects.bulk_create(Chunk(variable=variable, position=i, data=data) for i, data in enumerate(chunks))

    def _ledger(self, table: Table, said: TableDocument) -> None:
        found = self._entries.get(said.key, [])
        for place, entry in enumerate(found, 1):
            self._check_entry(entry, place, table, len(said.readings))
        if said.revision != len(found) + 1:
            raise broken(f"The Ledger of {said.name} does not come to revision {said.revision}.")
        Entry.objects.bulk_create(
            Entry(
                table=table, number=each.number, kind=each.kind, rows=each.rows, variable=each.variable, of=each.of,
                n_rows=numbering.n_rows_of(each.rows), changes=self._told(each.changes), reason=each.reason,
                author=self._user, brought_from=each.author, made=each.made, revision_before=each.number,
                revision_after=each.number + 1,
            )
            for each in found
        )  # fmt: skip
        try:
            ledger.take_effect(table, ledger.decisions(ledger.entries(table)))
        except (HeronError, LookupError, TypeError, ValueError) as error:
            raise broken(f"The Ledger of {said.name} cannot be taken: {error}") from None
        table.revision = said.revision
        table.save()

    def _check_entry(self, entry: EntryDocument, place: int, table: Table, readings: int) -> None:
        try:
            good = entry.number == place and is_entry(entry, readings)
        except (ValidationError, KeyError, TypeError, ValueError):
            good = False
        if not good:
            raise broken(f"Entry {place} of the Ledger of {table.name} is none.")

    def _check(self, table: Table, said: TableDocument) -> None:
        """Refuse a package whose data, or decisions, are no longer what it says they are."""
        table.refresh_from_db()
        name = next((each for each in self._described.get("resources", []) if each.get("path") == said.data), {})
        _, text = writing.resource(ledger.marked(table), str(name.get("name")), said.data)
        if self._files.read(said.data) != text:
            raise broken(f"{said.data} was changed after the package was saved.")
        if ledger.digest(table) != said.digest:
            raise broken(f"The Ledger of {said.name} has another digest than the package says.")

    def _plate(self, study: Study, said: Any) -> None:
        document = self._told(said.document.model_dump(mode="json"))
        frozen = None
        if said.frozen is not None:
            frozen = self._files.read(said.frozen)
            for old, new in self._ids.items():  # of one length, so that what stands behind stays in its place
                frozen = frozen.replace(old.encode(), new.encode())
        Plate.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, group=said.group, place=said.place,
            version=said.version, document=document, seen=self._told(said.seen), frozen=frozen, author=self._user,
        )  # fmt: skip


def _rows_of(chunk: bytes, said: VariableDocument, table: str) -> int:
    """How many rows a chunk has; refused where it is none of its variable."""
    try:
        found = pa.ipc.open_stream(chunk).read_all()
        values, reasons = found["values"].to_numpy(), found["reasons"].to_numpy()
    except (pa.ArrowException, KeyError, OSError, ValueError):
        raise broken(f"The values of {said.symbol} of {table} cannot be read.") from None
    good = values.dtype in (np.float64, np.int32) and reasons.dtype == np.uint8
    if good and reasons.size:
        good = int(reasons.max()) <= len(said.missing_codes)
    if good and values.dtype == np.int32 and values.size:
        good = int(values.min()) >= -1 and int(values.max()) < len(said.levels)
    if not good:
        raise broken(f"The values of {said.symbol} of {table} are not what they should be.")
    return int(values.size)
