from typing import Any, Literal
from uuid import UUID

from heron import record
from heron.columns import Kind
from heron.intake import Intake
from ninja import Field, Schema

from server.plain_text import PlainText
from server.studies import selectors
from server.studies.models import Job, Study, Table, Upload, Variable
from server.studies.services import shape

JobState = Literal["waiting", "running", "done", "stopped", "failed", "interrupted"]
PREVIEW_ROWS = 200


class TableLine(Schema):
    id: UUID
    name: str
    n_rows: int
    source: str


class StudyOut(Schema):
    id: UUID
    title: str
    tables: list[TableLine]


class StudyIn(Schema):
    title: PlainText = Field(min_length=1, max_length=200)


class VariableOut(Schema):
    symbol: str
    label: str
    unit: str
    kind: Kind
    levels: list[str]
    n_levels: int
    missing_counts: dict[str, int]
    n_missing: int
    decimals: int | None
    lower: float | None
    upper: float | None
    note: str
    shape: list[float]


class TableOut(Schema):
    id: UUID
    study_id: UUID
    name: str
    n_rows: int
    revision: int
    source: str
    source_sha256: str
    n_aside: int
    variables: list[VariableOut]


class RowOut(Schema):
    row: int
    cells: list[str]
    aside: bool
    aside_values: list[str]


class Choices(Schema):
    delimiter: Literal[",", ";", "\t", "|", " ", ""] | None = None
    decimal: Literal[".", ","] | None = None
    encoding: Literal["utf-8", "utf-16", "latin-1", "windows-1252"] | None = None
    header: Literal["names", "names-and-units", "groups-and-names", "none"] | None = None
    sheet: PlainText | None = None
    block: tuple[int, int, int, int] | None = None
    missing_codes: list[PlainText] | None = Field(default=None, max_length=250)
    kinds: dict[PlainText, Kind] | None = None

    def given(self) -> dict[str, Any]:
        return self.model_dump(exclude_none=True)


class StoreIn(Schema):
    name: PlainText = Field(min_length=1, max_length=200)
    choices: Choices


class PasteIn(Schema):
    text: str = Field(min_length=1, max_length=10_000_000)


class GuessOut(Schema):
    value: str | int | list[int] | list[str]
    why: str


class RemedyOut(Schema):
    words: str
    missing_codes: list[str] | None
    kinds: dict[str, Kind] | None
    keep: str | None


class ProblemOut(Schema):
    code: str
    problem: str
    symbol: str
    rows: list[int]
    count: int
    remedies: list[RemedyOut]


class PreviewOut(Schema):
    upload_id: UUID
    file_name: str
    size: int
    sha256: str
    whole: bool
    n_rows: int
    found: dict[str, GuessOut]
    problems: list[ProblemOut]
    variables: list[VariableOut]
    rows: list[RowOut]
    missing: list[list[bool]]


class JobOut(Schema):
    id: UUID
    name: str
    state: JobState
    progress: float
    table_id: UUID | None
    problem: str
    remedy: str


def study_out(study: Study) -> StudyOut:
    lines = [TableLine(id=t.id, name=t.name, n_rows=t.n_rows, source=t.source.name) for t in study.tables.all()]
    return StudyOut(id=study.id, title=study.title, tables=lines)


MOST_LEVELS_SENT = 500


def _variable_out(variable: Variable) -> VariableOut:
    return VariableOut(
        symbol=variable.symbol,
        label=variable.label,
        unit=variable.unit,
        kind=variable.kind,
        levels=variable.levels[:MOST_LEVELS_SENT],
        n_levels=len(variable.levels),
        missing_counts=variable.missing_counts,
        n_missing=variable.n_missing,
        decimals=variable.decimals,
        lower=variable.lower,
        upper=variable.upper,
        note=variable.note,
        shape=variable.shape,
    )


def table_out(table: Table) -> TableOut:
    return TableOut(
        id=table.id,
        study_id=table.study_id,
        name=table.name,
        n_rows=table.n_rows,
        revision=table.revision,
        source=table.source.name,
        source_sha256=table.source.sha256,
        n_aside=record.from_runs(table.aside.get("rows", ())).size,
        variables=[_variable_out(variable) for variable in selectors.variables(table)],
    )


def preview_out(upload: Upload, read: Intake, whole: bool) -> PreviewOut:
    columns = list(read.table.columns.values())
    shown = range(min(read.n, PREVIEW_ROWS))
    return PreviewOut(
        upload_id=upload.id,
        file_name=upload.file.name,
        size=upload.file.size,
        sha256=upload.file.sha256,
        whole=whole,
        n_rows=read.n,
        found={name: GuessOut(value=guess.value, why=guess.why) for name, guess in read.found.items()},
        problems=[
            ProblemOut(
                code=problem.code,
                problem=problem.problem,
                symbol=problem.symbol,
                rows=[row + 1 for row in problem.rows],
                count=problem.count,
                remedies=[
                    RemedyOut(
                        words=remedy.words,
                        missing_codes=remedy.choices.get("missing_codes"),
                        kinds=remedy.choices.get("kinds"),
                        keep=remedy.choices.get("keep"),
                    )
                    for remedy in problem.remedies
                ],
            )
            for problem in read.problems
        ],
        variables=[
            VariableOut(
                symbol=column.symbol,
                label=column.label,
                unit=column.unit,
                kind=column.kind,
                levels=list(column.levels[:8]),
                n_levels=len(column.levels),
                missing_counts=column.missing_counts,
                n_missing=column.n_missing,
                decimals=column.decimals,
                lower=None,
                upper=None,
                note="",
                shape=shape(column),
            )
            for column in columns
        ],
        rows=[
            RowOut(row=i + 1, cells=[selectors.cell(column, i) for column in columns], aside=False, aside_values=[])
            for i in shown
        ],
        missing=[[bool(column.reasons[i]) for column in columns] for i in shown],
    )


def job_out(job: Job) -> JobOut:
    said = job.problem or {}
    return JobOut(
        id=job.id,
        name=job.name,
        state=job.state,
        progress=job.progress,
        table_id=job.table_id,
        problem=said.get("problem", ""),
        remedy=said.get("remedy", ""),
    )
