from typing import Annotated
from uuid import UUID

from heron.routine import Conflict, words_of
from ninja import Field, Schema

from server.fields import PlainText
from server.records.documents import Routine, Symbol
from server.records.routines import Fit, Ran, names_rows


class PresentOut(Schema):
    """Somebody before whom the study is open; a guest goes by the name of the link."""

    name: str
    guest: bool


class PulseOut(Schema):
    """Revisions of tables and versions of plates by id: what others changed shows by a number that rose."""

    tables: dict[str, int]
    plates: dict[str, int]
    here: list[PresentOut]


Names = dict[Symbol, Annotated[PlainText, Field(max_length=60)]]


class FitIn(Schema):
    """upload: a file that was brought in, to be looked at. names: the file's own symbol for each of the routine's
    variables, "" for none; left out, those alike are taken."""

    upload: UUID
    routine: Routine
    names: Names | None = Field(default=None, max_length=10_000)


class RunIn(FitIn):
    """name: of the table. leave_out: numbers of steps that are not taken; left out, those that name rows of another
    file."""

    name: Annotated[PlainText, Field(min_length=1, max_length=200)]
    leave_out: list[int] | None = Field(default=None, max_length=20_000)


class FileVariable(Schema):
    symbol: str
    label: str
    unit: str
    kind: str


class MatchOut(Schema):
    """A variable of the routine and the file's own symbol for it, null for none; used: by a step or plate."""

    symbol: str
    label: str
    unit: str
    kind: str
    used: bool
    matched: str | None


class ConflictOut(Schema):
    """What is in the way. hinders: the steps cannot be taken, or not wholly; rows: the first hundred of n_rows."""

    code: str
    variable: str
    steps: list[int]
    hinders: bool
    words: str
    rows: list[int]
    n_rows: int


class StepOut(Schema):
    """at_rest: not taken unless somebody says so, since it names rows of another file."""

    number: int
    kind: str
    words: str
    reason: str
    n_rows: int
    at_rest: bool


class FitPlateOut(Schema):
    """missing: the variables that the plate needs and the file has not, of those that the file itself has to give."""

    name: str
    missing: list[str]


class FitOut(Schema):
    """layout: what is to be said where the file is laid out otherwise than the routine's own was."""

    file: str
    n_rows: int
    same_file: bool
    layout: str
    variables: list[FileVariable]
    matches: list[MatchOut]
    conflicts: list[ConflictOut]
    steps: list[StepOut]
    plates: list[FitPlateOut]
    n_tables: int


class RanOut(Schema):
    """left_out: what could not be done, a sentence each; digest: of the ledger of the table."""

    table: UUID
    n_steps: int
    n_plates: int
    left_out: list[str]
    digest: str


def fit_out(name: str, routine: Routine, fit: Fit) -> FitOut:
    table = routine.tables[0]
    labels = {variable.symbol: variable.label for variable in table.variables}
    missing = {variable.symbol for variable in table.variables} - set(fit.matched)
    columns = fit.read.table.columns.values()
    return FitOut(
        file=name,
        n_rows=fit.read.table.n_rows,
        same_file=fit.same_file,
        layout=fit.layout,
        variables=[FileVariable(symbol=c.symbol, label=c.label, unit=c.unit, kind=c.kind) for c in columns],
        matches=[
            MatchOut(
                symbol=variable.symbol, label=variable.label, unit=variable.unit, kind=variable.kind,
                used=variable.symbol in fit.used,
                matched=fit.matched.get(variable.symbol),
            )
            for variable in table.variables
        ],
        conflicts=[_conflict_out(conflict) for conflict in fit.conflicts],
        steps=[
            StepOut(
                number=step.number, kind=step.kind, words=words_of(step, labels), reason=step.reason,
                n_rows=names_rows(step), at_rest=step.number in fit.at_rest,
            )
            for step in fit.steps
        ],
        plates=[
            FitPlateOut(name=plate.name, missing=sorted(_needed(plate, table.key) & missing))
            for plate in routine.kept
        ],
        n_tables=len(routine.tables),
    )  # fmt: skip


def _needed(plate, table: UUID) -> set[str]:  # type: ignore[no-untyped-def]
    return {symbol for source in plate.document.sources if source.table == table for symbol in source.symbols}


def _conflict_out(conflict: Conflict) -> ConflictOut:
    return ConflictOut(
        code=conflict.code, variable=conflict.variable, steps=list(conflict.steps), hinders=conflict.hinders,
                words=conflict.words,
        rows=list(conflict.rows), n_rows=conflict.n_rows,
    )  # fmt: skip


def ran_out(ran: Ran, digest: str) -> RanOut:
    return RanOut(table=ran.table.pk, n_steps=ran.n_steps, n_plates=ran.n_plates, left_out=ran.left_out, digest=digest)


class PackageIn(Schema):
    """pictures: the plates as SVG, as a page drew them, by their ids; a plate without one goes with its words alone."""

    pictures: dict[UUID, str] = Field(default={}, max_length=2_000)


class OpenedPackageOut(Schema):
    """whole: whether it was a whole study, which is now one of its own; else its tables are in the study at hand."""

    study: UUID
    tables: list[UUID]
    whole: bool


class ScriptIn(Schema):
    """plates: of plates and tables of numbers, their ids, by default all of the study."""

    plates: list[UUID] | None = Field(default=None, max_length=2_000)


class ScriptOut(Schema):
    """The script before it leaves. notes: what it cannot carry, a sentence each; files: those that go with it."""

    text: str
    notes: list[str]
    files: list[str]


class OwnedOut(Schema):
    """A study that a person owns. others: who works on it besides."""

    id: UUID
    title: str
    others: list[str]


class RemoveIn(Schema):
    """password: of an account that has one; handed: to whom each study goes, by its id; one that is not named is
    removed."""

    password: Annotated[PlainText, Field(max_length=128)] = ""
    handed: dict[UUID, Annotated[PlainText, Field(max_length=150)]] = Field(default={}, max_length=2_000)
