"""A package opened: one of ours as the study that it was, one from elsewhere as tables."""

import json
from collections.abc import Iterable, Sequence
from typing import Any
from uuid import UUID, uuid4

import numpy as np
import pyarrow as pa
from django.db import transaction
from heron import intake, numbering, writing
from heron.columns import KINDS, Column
from heron.errors import HeronError, ReadError
from heron.ledger import replay_decisions
from pydantic import ValidationError

from server import reader
from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.plates.earlier import reviewed_as_now
from server.plates.models import Plate, TablePlate
from server.plates.selectors import frozen_from_json
from server.problems import Refusal
from server.readings.answers import is_envelope
from server.records.study_documents import (
    EntryDocument,
    LedgerDocument,
    ReportOfStudy,
    StudyDocument,
    TableDocument,
    TablePlateOfStudy,
    VariableDocument,
    is_entry,
)
from server.reports.models import Report
from server.studies import quotas, store
from server.studies import selectors as studies
from server.studies import services as studying
from server.studies.column_summary import summary_of
from server.studies.models import Chunk, ClassStructure, SourceFile, Study, Table, Upload, Variable
from server.studies.permissions import require_editor
from server.studies.snapshots import TableSnapshot, materialize_state

DIGESTS = "SHA256SUMS"


def broken(words: str) -> Refusal:
    return Refusal(
        422, "broken-package", words, remedy="Take the package as it was saved; or open its tables from data/ alone."
    )


@transaction.atomic
def open_upload(user: User, upload: Upload) -> tuple[Study, list[Table]]:
    """Open a package: as a study of its own where it holds one whole, else all its tables in the study at hand."""
    require_editor(user, upload.study)
    file = upload.file
    package = _unpacked(studies.file_pieces(file), file.name)
    if package.study:
        study = _opening(user, package).study()
        upload.delete()
        file.delete()
        return study, list(study.tables.all())
    tables = []
    for read in reader.tables_of(studies.file_pieces(file), file.name):
        choices = {"sheet": read.found["sheet"].value}
        tables.append(studying.store_table(upload.study, read.table.name, read.table, file, choices=choices))
    study = upload.study
    upload.delete()
    return study, tables


def try_opening(user: User, pieces: Iterable[bytes]) -> None:
    """Open a package that was just written, and take it back: whatever is handed over opens again."""
    try:
        with transaction.atomic():
            _opening(user, _unpacked(pieces, "package.zip")).study()
            transaction.set_rollback(True)
    except (HeronError, Refusal) as error:
        raise Refusal(
            500, "unsound-package", f"The package would not open again, so it was not handed over: {error.problem}",
            remedy="Your study is as it was. Tell who runs this server; each table can be downloaded by itself.",
        ) from error  # fmt: skip


def _unpacked(pieces: Iterable[bytes], name: str) -> reader.Package:
    try:
        return reader.unpacked(pieces, name)
    except ReadError as error:
        if error.code == "no-package":
            raise Refusal(422, error.code, error.problem, remedy=error.remedy) from None
        raise broken(error.problem) from None


def _opening(user: User, package: reader.Package) -> "_Opening":
    files = _Files(package)
    try:
        described = json.loads(files.read("datapackage.json"))
        said = StudyDocument.model_validate_json(files.read(str(described[intake.MARK].get("study"))))
        entries = LedgerDocument.model_validate_json(files.read(str(described[intake.MARK].get("ledger"))))
    except ValidationError as error:
        first = error.errors()[0]
        raise broken(f"{'.'.join(map(str, first['loc']))}: {first['msg']}.") from None
    except (KeyError, TypeError, ValueError, AttributeError, RecursionError):
        raise broken("What the package says of its study cannot be read.") from None
    return _Opening(user, files, said, entries)


class _Files:
    """The files of a package by their paths: those that its digests name and no others, each as it was then."""

    def __init__(self, package: reader.Package) -> None:
        self._package = package
        try:
            lines = self.read(DIGESTS).decode().splitlines()
            digests = {path: digest for digest, path in (line.split("  ", 1) for line in lines)}
        except ValueError:
            raise broken(f"{DIGESTS} cannot be read.") from None
        names = package.digests.keys() - {DIGESTS}
        for path in sorted(names ^ set(digests)):
            raise broken(f"{path} was {'added' if path in names else 'taken out'} after the package was saved.")
        for path, digest in digests.items():
            if package.digests[path] != digest:
                raise broken(f"{path} was changed after the package was saved.")

    def read(self, path: str) -> bytes:
        if path not in self._package.digests:
            raise broken(f"The package lacks {path}.")
        return self._package.read(path)


class _Opening:
    """One package on its way in. Tables and plates get ids of their own; whatever names the old ones is told."""

    def __init__(self, user: User, files: _Files, said: StudyDocument, entries: LedgerDocument) -> None:
        self._user, self._files, self._said = user, files, said
        keys = [
            *(str(table.key) for table in said.tables),
            *(str(plate.key) for plate in said.plates),
            *(str(plate.key) for plate in said.table_plates),
            *(str(report.key) for report in said.reports),
        ]
        # A table may have been made of one that was removed since: it gets a name too, by which nothing is found.
        gone = [str(key) for table in said.tables if table.made for key in table.made.wish.of]
        self._ids = {key: str(uuid4()) for key in (*keys, *gone)}
        if len(set(keys)) < len(keys):
            raise broken("Two of its tables or plates have one key.")
        self._entries = {table.key: table.entries for table in entries.tables}

    def study(self) -> Study:
        said = self._said
        study = studying.begun_study(self._user, said.title)
        sources = [self._source(file) for file in said.files]
        tables = [self._table(study, document, sources) for document in said.tables]
        for table, document in zip(tables, said.tables, strict=True):
            self._check(table, document)
        for plate in said.plates:
            self._plate(study, plate)
        for numbers in said.table_plates:
            self._table_plate(study, numbers)
        for report in said.reports:
            self._report(study, report)
        ClassStructure.objects.bulk_create(
            ClassStructure(study=study, **class_structure.model_dump()) for class_structure in said.class_structures
        )
        return study

    def _told(self, value: Any) -> Any:
        """A value in which the tables and plates have their new ids."""
        text = json.dumps(value)
        for old, new in self._ids.items():
            text = text.replace(old, new)
        return json.loads(text)

    def _source(self, file: Any) -> SourceFile:
        result = studying.keep_file(file.name, [self._files.read(file.path)])
        if result.sha256 != file.sha256:
            raise broken(f"{file.name} is not the file that it was.")
        return result

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
        if {declared.reading for declared in said.variables if not declared.derived} != set(range(len(said.readings))):
            raise broken(f"A reading of {said.name} has no variables.")
        if len({(declared.reading, declared.symbol) for declared in said.variables}) < len(said.variables):
            raise broken(f"Two variables of {said.name} have one symbol.")
        imports = [reading.model_dump(exclude_unset=True) for reading in said.readings]
        quotas.require_table(study)
        table = Table.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, n_rows=said.readings[0].n_rows,
            imports=imports, origin=made, source=None if said.source is None else sources[said.source],
            row_origins=None if said.origins is None else self._files.read(said.origins),
        )  # fmt: skip
        for variable in said.variables:
            if not variable.derived:  # such a one is made of the Ledger
                self._variable(table, variable, [reading.n_rows for reading in said.readings])
        self._ledger(table, said)
        return table

    def _variable(self, table: Table, said: VariableDocument, n_rows: Sequence[int]) -> None:
        if said.reading >= len(n_rows) or not said.chunks:
            raise broken(f"The variable {said.symbol} of {table.name} has no values.")
        chunks = [self._files.read(path) for path in said.chunks]
        stored = said.model_dump(exclude={"chunks", "derived", "reading"})
        variable = Variable(table=table, import_version=said.reading, **stored)
        try:
            column = store.decode(variable, chunks)
            for name, what in summary_of(column).items():
                setattr(variable, name, what)
        except (HeronError, pa.ArrowException, LookupError, OSError, TypeError, ValueError, OverflowError):
            column = None
        if column is None or not _is_sound(column):
            raise broken(f"The values of {said.symbol} of {table.name} are not what they should be.")
        if column.n_rows != n_rows[said.reading]:
            words = f"The variable {said.symbol} of {table.name} has {column.n_rows} rows"
            raise broken(f"{words}, not {n_rows[said.reading]}.")
        variable.save()
        Chunk.objects.bulk_create(Chunk(variable=variable, position=i, data=data) for i, data in enumerate(chunks))

    def _ledger(self, table: Table, said: TableDocument) -> None:
        result = self._entries.get(said.key, [])
        for number, entry in enumerate(result, 1):
            self._check_entry(entry, number, table, len(said.readings))
        if said.revision != len(result) + 1:
            raise broken(f"The Ledger of {said.name} does not come to revision {said.revision}.")
        Entry.objects.bulk_create(
            Entry(
                table=table, number=each.number, kind=each.kind, rows=each.rows, variable=each.variable, of=each.of,
                n_rows=numbering.n_rows_of(each.rows), changes=self._told(each.changes), reason=each.reason,
                author=self._user, brought_from=each.author, made=each.made, revision_before=each.number,
                revision_after=each.number + 1,
            )
            for each in result
        )  # fmt: skip
        try:
            decided = replay_decisions(ledger.decisions(ledger.entries(table)), store.StoredImports(table))
            materialize_state(table, decided)
        except (HeronError, Refusal, LookupError, TypeError, ValueError, AttributeError) as error:
            raise broken(f"The Ledger of {said.name} cannot be taken: {error}") from None
        table.revision = said.revision
        table.save()

    def _check_entry(self, entry: EntryDocument, number: int, table: Table, readings: int) -> None:
        try:
            good = entry.number == number and is_entry(entry, readings)
        except (ValidationError, KeyError, TypeError, ValueError):
            good = False
        if not good:
            raise broken(f"Entry {number} of the Ledger of {table.name} is none.")

    def _check(self, table: Table, said: TableDocument) -> None:
        """Refuse a package whose data, or decisions, are no longer what it says they are."""
        table.refresh_from_db()
        _, text = writing.resource(ledger.marked(TableSnapshot.of(table)), "", said.data)
        if self._files.read(said.data) != text:
            raise broken(f"{said.data} was changed after the package was saved.")
        if ledger.digest(table) != said.digest:
            raise broken(f"The Ledger of {said.name} has another digest than the package says.")

    def _plate(self, study: Study, said: Any) -> None:
        document = self._told(said.document.model_dump(mode="json"))
        frozen = None
        if said.frozen is not None:
            frozen = self._files.read(said.frozen)
            if not is_envelope(frozen, ("scenes", "revisions")):
                raise broken(f"The numbers with which {said.name} was frozen cannot be read.")
            for old, new in self._ids.items():  # of one length, so that what stands behind stays in its place
                frozen = frozen.replace(old.encode(), new.encode())
        Plate.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, group=said.group, place=said.place,
            version=said.version, document=document, frozen=frozen, author=self._user,
            last_reviewed=reviewed_as_now(self._told(said.seen)),
        )  # fmt: skip

    def _table_plate(self, study: Study, said: TablePlateOfStudy) -> None:
        frozen = None if said.frozen is None else self._told(said.frozen)
        try:
            if frozen is not None:
                frozen_from_json(frozen)
        except (ValidationError, KeyError, TypeError, ValueError):
            raise broken(f"The numbers with which {said.name} was frozen cannot be read.") from None
        TablePlate.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, place=said.place, version=said.version,
            document=self._told(said.document.model_dump(mode="json")), frozen=frozen, author=self._user,
            last_reviewed=self._told(said.seen),
        )  # fmt: skip

    def _report(self, study: Study, said: ReportOfStudy) -> None:
        Report.objects.create(
            id=UUID(self._ids[str(said.key)]), study=study, name=said.name, place=said.place, version=said.version,
            document=self._told(said.document.model_dump(mode="json")), author=self._user,
        )  # fmt: skip


def _is_sound(column: Column) -> bool:
    """Whether a column that came from elsewhere is one as ours are."""
    values = column.codes if column.codes is not None else column.numbers
    assert values is not None
    known = column.reasons == 0
    if column.reasons.dtype != np.uint8 or values.size != column.n_rows or column.kind not in KINDS:
        return False
    codes, levels = column.missing_codes, column.levels
    if codes[:1] != ("blank",) or len(set(codes)) < len(codes) or len(set(levels)) < len(levels):
        return False
    if int(column.reasons.max(initial=0)) > len(codes):
        return False
    if column.codes is not None:
        inside = (column.codes >= 0) & (column.codes < len(levels))
        return column.kind not in ("continuous", "count", "date-time") and bool(np.array_equal(inside, known))
    return (
        values.dtype == np.float64
        and column.kind not in ("category", "text", "identifier")
        and bool(np.array_equal(np.isfinite(values), known))
    )
