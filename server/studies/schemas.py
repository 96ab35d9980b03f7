from datetime import datetime
from typing import Annotated, Any, Literal, cast
from uuid import UUID

from django.utils import timezone
from heron import numbering, writing
from heron.columns import Kind
from heron.derived import sources_of
from heron.formatting import typeset
from heron.intake import Intake
from heron.recipes import recipe_words
from heron.variables import apply_description, cell_text, zero_means_none
from ninja import Field, Schema

from server.accounts.models import User
from server.fields import PlainText
from server.studies import selectors
from server.studies.column_summary import shape
from server.studies.models import Job, Link, Study, Table
from server.studies.services import Looked, said_at_first
from server.studies.snapshots import TableSnapshot, VariableSnapshot
from server.studies.store import is_long

Role = Literal["owner", "editor", "viewer"]
JobState = Literal["waiting", "running", "done", "stopped", "failed", "interrupted"]
PREVIEW_ROWS = 200


class TableLine(Schema):
    """forms: the kinds of files in which it can leave."""

    id: UUID
    name: str
    n_rows: int
    forms: list[writing.Format]
    source: str
    has_file: bool


class StudyOut(Schema):
    """role: what the person who asks may do with it: a viewer looks, an editor changes it, an owner shares it too."""

    id: UUID
    title: str
    role: Role
    tables: list[TableLine]


class StudyIn(Schema):
    title: PlainText = Field(min_length=1, max_length=200)


class VariableOut(Schema):
    """typed_label, typed_unit: as somebody wrote them; label and unit as they are shown, powers raised. follows: how it
    is made of others, in words."""

    symbol: str
    label: str
    unit: str
    typed_label: str
    typed_unit: str
    kind: Kind
    levels: list[str]
    n_levels: int
    level_numbers: list[float]
    missing_codes: list[str]
    missing_counts: dict[str, int]
    n_missing: int
    decimals: int | None
    lower: float | None
    upper: float | None
    note: str
    true_zero: bool
    below_limit: Literal["missing", "limit", "half"]
    detection_limit: float | None
    n_limited: int
    spec_lower: float | None
    spec_upper: float | None
    target: float | None
    follows_from: list[str]
    recipe: dict[str, Any]
    follows: str
    shape: list[float]


class MadeOut(Schema):
    """How a table without a file was made; of: the names of the tables that it follows, by id."""

    how: str
    words: str
    of: dict[str, str]
    notes: list[str]
    trouble: str


class TableOut(Schema):
    """is_long: it is looked at in parts, which takes its time; what looks at rows one by one is not asked of it."""

    id: UUID
    study_id: UUID
    name: str
    n_rows: int
    is_long: bool
    revision: int
    source: str
    source_sha256: str
    n_aside: int
    made: MadeOut | None
    unit_variable: str
    weight_variable: str
    latest_revision: int
    variables: list[VariableOut]


class RowOut(Schema):
    row: int
    cells: list[str]
    aside: bool
    aside_values: list[str]


Symbol = Annotated[PlainText, Field(pattern=r"^[^\W\d]\w{0,59}$")]


class Choices(Schema):
    """symbols: other symbols for variables, by the ones that their headers give; the other choices go by these.
    levels: their order; levels that it does not name stand behind."""

    delimiter: Literal[",", ";", "\t", "|", " ", ""] | None = None
    decimal: Literal[".", ","] | None = None
    encoding: Literal["utf-8", "utf-16", "latin-1", "windows-1252"] | None = None
    header: Literal["names", "names-and-units", "groups-and-names", "none"] | None = None
    above: Annotated[int, Field(ge=0, le=100)] | None = None
    sheet: PlainText | None = None
    block: Annotated[list[int], Field(min_length=4, max_length=4)] | None = None
    parts: Annotated[str, Field(pattern=r"^(one|apart|joined|stacked|[1-9]\d?)$")] | None = None
    totals: Literal["left-out"] | None = None
    missing_codes: list[PlainText] | None = Field(default=None, max_length=250)
    kinds: dict[PlainText, Kind] | None = None
    below_limits: dict[PlainText, Literal["missing", "limit", "half"]] | None = None
    date_orders: dict[PlainText, Literal["day-first", "month-first"]] | None = Field(default=None, max_length=5_000)
    one_spelling: list[PlainText] | None = Field(default=None, max_length=5_000)
    symbols: dict[PlainText, Symbol] | None = Field(default=None, max_length=10_000)
    levels: dict[PlainText, list[PlainText]] | None = Field(default=None, max_length=10_000)

    def given(self) -> dict[str, Any]:
        return self.model_dump(exclude_none=True)


class StoreIn(Schema):
    name: PlainText = Field(min_length=1, max_length=200)
    choices: Choices


class StoreAgainIn(Schema):
    choices: Choices


class PasteIn(Schema):
    text: str = Field(min_length=1, max_length=10_000_000)
    name: Literal["pasted.txt", "typed.txt"] = "pasted.txt"


class GuessOut(Schema):
    value: str | int | list[int] | list[str]
    why: str


class RemedyOut(Schema):
    words: str
    missing_codes: list[str] | None
    kinds: dict[str, Kind] | None
    below_limits: dict[str, Literal["missing", "limit", "half"]] | None
    date_orders: dict[str, Literal["day-first", "month-first"]] | None
    one_spelling: list[str] | None
    parts: str | None
    totals: Literal["left-out"] | None
    keep: str | None


class ProblemOut(Schema):
    code: str
    problem: str
    symbol: str
    rows: list[int]
    count: int
    remedies: list[RemedyOut]


class PackageOut(Schema):
    """What a Data Package holds. study: the title of a whole study that was saved here, "" for tables alone."""

    study: str
    n_tables: int


class PreviewOut(Schema):
    """again: the table that is read again, with what would come of it in match."""

    upload_id: UUID
    again: UUID | None
    match: list[str]
    choices: Choices
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
    package: PackageOut | None


class JobOut(Schema):
    """preview: what was found in a file that is looked at, once it is done."""

    id: UUID
    name: str
    state: JobState
    progress: float
    table_id: UUID | None
    preview: PreviewOut | None
    problem: str
    remedy: str


class MemberIn(Schema):
    name: PlainText = Field(min_length=1, max_length=150)
    role: Literal["editor", "viewer"]


class MemberOut(Schema):
    name: str
    role: Role
    you: bool


class LinkIn(Schema):
    """name: for whom or what it is; days: for how long it leads to the study."""

    name: PlainText = Field(min_length=1, max_length=100)
    days: int = Field(default=30, ge=1, le=366)


class LinkOut(Schema):
    """opened: when it was last followed, null for never."""

    id: UUID
    name: str
    created: datetime
    expires: datetime
    ended: bool
    opened: datetime | None


class MadeLinkOut(LinkOut):
    """path: the address after that of the server, shown this once."""

    path: str


class PeopleOut(Schema):
    """role: what the person who asks may do; links are listed for owners alone."""

    members: list[MemberOut]
    links: list[LinkOut]
    role: Role


class OpenLinkIn(Schema):
    secret: PlainText = Field(min_length=1, max_length=200)


class OpenedOut(Schema):
    """table: the study's first, null where it has none."""

    study: UUID
    table: UUID | None


def link_out(link: Link) -> LinkOut:
    return LinkOut(
        id=link.id, name=link.name, created=link.created, expires=link.expires, ended=link.expires <= timezone.now(),
        opened=link.opened,
    )  # fmt: skip


def study_out(study: Study, user: User) -> StudyOut:
    lines = [
        TableLine(
            id=t.id,
            name=t.name,
            n_rows=t.n_rows,
            forms=list(writing.PARTWISE if is_long(t.n_rows) else writing.FORMATS),
            source=source_words(t),
            has_file=t.source is not None,
        )
        for t in study.tables.all()
    ]
    role = next((membership.role for membership in study.memberships.all() if membership.user_id == user.pk), "viewer")
    return StudyOut(id=study.id, title=study.title, role=cast(Role, role), tables=lines)


MOST_LEVELS_SENT = 500


def _variable_out(variable: VariableSnapshot, labels: dict[str, str]) -> VariableOut:
    said, recipe = variable.properties, dict(variable.recipe)
    return VariableOut(
        symbol=variable.symbol,
        label=typeset(variable.label),
        unit=typeset(variable.unit),
        typed_label=variable.label,
        typed_unit=variable.unit,
        kind=cast(Kind, variable.kind),
        levels=variable.levels[:MOST_LEVELS_SENT],
        n_levels=len(variable.levels),
        level_numbers=said.get("numbers", []),
        missing_codes=[code for code in variable.missing_codes if code != "blank"],
        missing_counts=variable.missing_counts,
        n_missing=variable.n_missing,
        decimals=variable.decimals,
        lower=variable.lower,
        upper=variable.upper,
        note=variable.note,
        true_zero=variable.zero_means_none,
        below_limit=said.get("below_limit") or "missing",
        detection_limit=said.get("detection_limit"),
        n_limited=said.get("n_limited", 0),
        spec_lower=said.get("spec_lower"),
        spec_upper=said.get("spec_upper"),
        target=said.get("target"),
        follows_from=list(sources_of(recipe)) if recipe else [],
        recipe=recipe,
        follows=recipe_words(recipe, labels) if recipe else "",
        shape=variable.shape,
    )


def source_words(table: Table) -> str:
    """Where a table came from, in a word or two."""
    return table.source.name if table.source else str((table.origin or {}).get("words", "made here"))


def table_out(table: TableSnapshot) -> TableOut:
    labels = {variable.symbol: typeset(variable.label) for variable in table.variables}
    said = table.state.description("")
    return TableOut(
        id=table.pk,
        study_id=table.row.study_id,
        name=table.name,
        n_rows=table.n_rows,
        is_long=table.state.is_long,
        revision=table.revision,
        source=source_words(table.row),
        source_sha256=table.source.sha256 if table.source else "",
        n_aside=numbering.n_rows_of(table.state.aside.get("", ())),
        made=made_out(table.row),
        unit_variable=said.get("unit_variable") or "",
        weight_variable=said.get("weight_variable") or "",
        latest_revision=table.row.revision,
        variables=[_variable_out(variable, labels) for variable in table.variables],
    )


def made_out(table: Table) -> MadeOut | None:
    if not table.origin:
        return None
    of = Table.objects.filter(study=table.study_id, pk__in=table.origin.get("of", []))
    return MadeOut(
        how=table.origin["how"],
        words=table.origin["words"],
        of={str(source_table.pk): source_table.name for source_table in of},
        notes=table.origin.get("notes", []),
        trouble=table.origin.get("trouble", ""),
    )


def _package_out(read: Intake) -> PackageOut | None:
    if read.found["format"].value != "Data Package":
        return None
    study, tables = read.found.get("study"), read.found["sheets"].value
    return PackageOut(study=str(study.value) if study else "", n_tables=len(tables) if isinstance(tables, list) else 1)


def preview_out(looked: Looked, given: dict[str, Any]) -> PreviewOut:
    upload, read, whole, choices = looked.upload, looked.read, looked.whole, Choices(**given)
    said = said_at_first(given)
    columns = [apply_description(column, said.get(symbol, {})) for symbol, column in read.table.columns.items()]
    shown = range(min(read.n, PREVIEW_ROWS))
    return PreviewOut(
        upload_id=upload.id,
        again=upload.again_id,
        match=selectors.match_words(upload.again, read) if upload.again and whole else [],
        choices=choices,
        package=_package_out(read),
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
                        below_limits=remedy.choices.get("below_limits"),
                        date_orders=remedy.choices.get("date_orders"),
                        one_spelling=remedy.choices.get("one_spelling"),
                        parts=remedy.choices.get("parts"),
                        totals=remedy.choices.get("totals"),
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
                label=typeset(column.label),
                unit=typeset(column.unit),
                typed_label=column.label,
                typed_unit=column.unit,
                kind=column.kind,
                levels=list(column.levels[:8]),
                n_levels=len(column.levels),
                level_numbers=[],
                missing_codes=list(column.missing_codes[1:]),
                missing_counts=column.missing_counts,
                n_missing=column.n_missing,
                decimals=column.decimals,
                lower=None,
                upper=None,
                note="",
                true_zero=zero_means_none(column),
                below_limit=said.get(column.symbol, {}).get("below_limit", "missing"),
                detection_limit=None,
                n_limited=column.n_limited,
                spec_lower=None,
                spec_upper=None,
                target=None,
                follows_from=[],
                recipe={},
                follows="",
                shape=shape(column),
            )
            for column in columns
        ],
        rows=[
            RowOut(row=i + 1, cells=[cell_text(column, i) for column in columns], aside=False, aside_values=[])
            for i in shown
        ],
        missing=[[bool(column.reasons[i]) for column in columns] for i in shown],
    )


class ClassStructureOut(Schema):
    id: UUID
    name: str
    boundaries: list[float]
    closed: Literal["left", "right"]


class ClassStructureIn(Schema):
    name: PlainText = Field(min_length=1, max_length=100)
    boundaries: list[Annotated[float, Field(allow_inf_nan=False)]] = Field(min_length=2, max_length=513)
    closed: Literal["left", "right"] = "left"


def job_out(job: Job) -> JobOut:
    said = job.problem or {}
    return JobOut(
        id=job.id,
        name=job.name,
        state=cast(JobState, job.state),
        progress=job.progress,
        table_id=job.table_id,
        preview=PreviewOut.model_validate(job.preview) if job.preview else None,
        problem=said.get("problem", ""),
        remedy=said.get("remedy", ""),
    )
