"""What of a whole study stands in its package besides data and pictures: study.json and ledger.json."""

import json
from datetime import datetime
from typing import Annotated, Any, Literal, cast
from uuid import UUID

from heron.columns import Kind
from heron.ledger import Kind as EntryKind
from heron.routine import Step
from ninja import Schema
from pydantic import ConfigDict, Field, TypeAdapter

from server.fields import PlainText
from server.ledger.making_schemas import TableRecipeIn
from server.ledger.models import Entry
from server.plates.documents import PlateDocument, TablePlateDocument
from server.records.documents import AnyStep, Run, Symbol, step_document
from server.reports.documents import ReportDocument
from server.studies.schemas import Choices

Name = Annotated[PlainText, Field(min_length=1, max_length=200)]
Path = Annotated[PlainText, Field(min_length=1, max_length=400)]
Short = Annotated[PlainText, Field(max_length=60)]
Count = Annotated[int, Field(ge=0, le=2_000_000_000)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Digest = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]


class _Part(Schema):
    model_config = ConfigDict(extra="forbid")


class FileDocument(_Part):
    name: Annotated[PlainText, Field(min_length=1, max_length=255)]
    sha256: Digest
    size: int
    path: Path


class VariableDocument(_Part):
    """A variable as it was stored. reading: the import version that it belongs to. chunks: its values in turn, as Arrow
    streams of "values" and "reasons". derived: in packages of earlier versions, one without chunks that is made of
    others; what the Ledger says makes it now."""

    reading: Count = 0
    derived: bool = False
    position: Count
    symbol: Symbol
    label: Annotated[PlainText, Field(max_length=10_000)]
    unit: Short = ""
    kind: Kind | Literal[""]
    levels: list[PlainText] = Field(default=[])
    missing_codes: list[PlainText] = Field(default=[], max_length=255)
    missing_counts: dict[str, Count] = Field(default={})
    n_missing: Count = 0
    decimals: Annotated[int, Field(ge=0, le=300)] | None = None
    lower: Number | None = None
    upper: Number | None = None
    note: PlainText = ""
    properties: dict[str, Any] = Field(default={})
    shape: list[Number] = Field(default=[], max_length=1_000)
    chunks: list[Path] = Field(default=[])


class ReadingDocument(_Part):
    choices: Choices = Choices()
    n_rows: Count
    said: dict[Symbol, "SaidAtFirst"] = Field(default={})


class SaidAtFirst(_Part):
    """What was chosen for a variable as its file was read, beyond its values."""

    below_limit: Literal["missing", "limit", "half"]


class MadeDocument(_Part):
    """How a table without a file was made: as the wish says; seen: the revisions of its sources then."""

    wish: TableRecipeIn
    seen: dict[str, Count] = Field(default={})
    words: PlainText = ""
    notes: list[PlainText] = Field(default=[])
    trouble: PlainText = ""


class TableDocument(_Part):
    """digest: of its ledger; source: the place of its file among the files; origins: the path of the keys of the rows
    of a table made of others; data: the path of the table as it stands, as CSV."""

    key: UUID
    name: Name
    revision: Annotated[int, Field(ge=1, le=200_001)]
    readings: list[ReadingDocument] = Field(min_length=1, max_length=1_000)
    variables: list[VariableDocument] = Field(max_length=100_000)
    made: MadeDocument | None = None
    origins: Path | None = None
    source: Count | None = None
    data: Path
    digest: Digest


class PlateOfStudy(_Part):
    key: UUID
    name: Name
    group: Annotated[PlainText, Field(max_length=200)] = ""
    place: Number
    version: Annotated[int, Field(ge=1, le=2_000_000_000)]
    document: PlateDocument
    seen: dict[str, Any] = Field(default={})
    frozen: Path | None = None


class TablePlateOfStudy(_Part):
    key: UUID
    name: Name
    place: Number
    version: Annotated[int, Field(ge=1, le=2_000_000_000)]
    document: TablePlateDocument
    seen: dict[str, Any] = Field(default={})
    frozen: dict[str, Any] | None = None


class ReportOfStudy(_Part):
    key: UUID
    name: Name
    place: Number
    version: Annotated[int, Field(ge=1, le=2_000_000_000)]
    document: ReportDocument


class ClassesDocument(_Part):
    name: Annotated[PlainText, Field(min_length=1, max_length=100)]
    boundaries: list[Number] = Field(min_length=2, max_length=513)
    closed: Literal["left", "right"]


class StudyDocument(_Part):
    format: Literal["velvet-heron-study"] = "velvet-heron-study"
    version: Literal[1] = 1
    title: Name
    files: list[FileDocument] = Field(default=[])
    tables: list[TableDocument] = Field(default=[], max_length=10_000)
    plates: list[PlateOfStudy] = Field(default=[], max_length=2_000)
    table_plates: list[TablePlateOfStudy] = Field(default=[], max_length=2_000)
    reports: list[ReportOfStudy] = Field(default=[], max_length=2_000)
    class_structures: list[ClassesDocument] = Field(default=[], max_length=1_000)


class EntryDocument(_Part):
    """An entry of a ledger, as the ledger has it."""

    number: Annotated[int, Field(ge=1)]
    kind: Entry.Kind
    rows: list[Run] = Field(default=[])
    variable: Short = ""
    changes: dict[str, Any] = Field(default={})
    of: Count = 0
    reason: PlainText = ""
    author: Annotated[PlainText, Field(min_length=1, max_length=150)]
    made: datetime


class LedgerOfTable(_Part):
    key: UUID
    entries: list[EntryDocument] = Field(default=[], max_length=200_000)


class LedgerDocument(_Part):
    format: Literal["velvet-heron-ledger"] = "velvet-heron-ledger"
    version: Literal[1] = 1
    tables: list[LedgerOfTable] = Field(default=[], max_length=10_000)


class _Moves(_Part):
    reading: Count = 0
    moves: list[Annotated[list[Count], Field(min_length=3, max_length=3)]] = Field(default=[])
    report: list[PlainText] = Field(default=[])


class _Picked(_Part):
    seed: Annotated[int, Field(ge=0, le=2**53)]
    picked: Count
    data: Count
    seen_before: bool


_step: TypeAdapter[Any] = TypeAdapter(AnyStep)
_picked: TypeAdapter[Any] = TypeAdapter(dict[str, _Picked])


def is_entry(entry: EntryDocument, readings: int) -> bool:
    """Whether an entry says what one of its kind can say, and nothing else. Raises ValidationError where it does not.

    readings: how often the file of its table was read.
    """
    if entry.kind in (Entry.Kind.UNDO, Entry.Kind.REDO):
        return 0 < entry.of < entry.number and not entry.changes
    if entry.kind in (Entry.Kind.REREAD, Entry.Kind.FOLLOW):
        return _Moves.model_validate(entry.changes).reading < readings
    if entry.kind == Entry.Kind.LINE_UP:
        return bool(_picked.validate_python(entry.changes))
    rows = tuple((run[0], run[1]) for run in entry.rows)
    said = Step(entry.number, cast(EntryKind, entry.kind.value), rows, entry.variable, entry.changes, entry.reason)
    read = _step.validate_python(json.loads(json.dumps(step_document(said)))).step(entry.number)
    return bool(read.changes == entry.changes and read.rows == rows)
