"""Reads. Whatever a person may not see does not exist."""

from datetime import timedelta
from uuid import UUID

from django.db.models import F, Prefetch, Q, QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from heron import intake
from heron.columns import Table as CoreTable
from heron.variables import cell_text
from heron.variables import zero_means_none as column_zero

from server.accounts.models import User
from server.problems import Refusal
from server.studies import store
from server.studies.models import ClassStructure, Job, Piece, SourceFile, Study, Table, Upload, Variable
from server.studies.permissions import seen_by, visible_studies

SILENT_AFTER = timedelta(seconds=45)  # whoever is at a job says so every ten


def studies(user: User) -> QuerySet[Study]:
    tables = Prefetch("tables", Table.objects.select_related("source"))
    return visible_studies(user).prefetch_related(tables, "memberships")


def study(user: User, study_id: UUID) -> Study:
    return get_object_or_404(visible_studies(user), pk=study_id)


def table(user: User, table_id: UUID) -> Table:
    tables = Table.objects.filter(seen_by(user, "study__")).select_related("source", "study")
    return get_object_or_404(tables, pk=table_id)


def variable(user: User, table_id: UUID, symbol: str) -> Variable:
    """A variable with its table, in one query; a table that may not be seen does not exist, with or without it."""
    visible = Variable.objects.filter(seen_by(user, "table__study__"), table_id=table_id)
    there = Q(reading=F("table__reading"), derived=False) | Q(derived=True)
    found = visible.filter(there, symbol=symbol).select_related("table").first()
    if found is None or (found.derived and not store.recipe(found)):
        name = table(user, table_id).name
        raise Refusal(
            404, "no-variable", f"{name} has no variable {symbol!r}.", where="variable", remedy="Choose another."
        )
    return as_described(found)


def variable_of(table: Table, symbol: str) -> Variable:
    """A variable of a table at hand, as the table stands; a Refusal where it has none such."""
    found = next((each for each in variables(table) if each.symbol == symbol), None)
    if found is None:
        raise Refusal(404, "no-variable", f"{table.name} has no variable {symbol!r}.", where="variable")
    return found


def class_structure(user: User, structure_id: UUID) -> ClassStructure:
    return get_object_or_404(ClassStructure, study__in=visible_studies(user), pk=structure_id)


def upload(user: User, upload_id: UUID) -> Upload:
    return get_object_or_404(
        Upload.objects.filter(study__in=visible_studies(user)).select_related("file", "again"), pk=upload_id
    )


def job(user: User, job_id: UUID) -> Job:
    return get_object_or_404(Job.objects.filter(study__in=visible_studies(user)), pk=job_id)


def silent_jobs() -> QuerySet[Job]:
    """Jobs that somebody began and nobody is at any more, or that wait longer than most."""
    return Job.objects.filter(
        state__in=(Job.State.WAITING, Job.State.RUNNING), touched__lt=timezone.now() - SILENT_AFTER
    )


def file_bytes(file: SourceFile, at_most: int | None = None) -> bytes:
    """The file as it came, or whole pieces of its beginning."""
    pieces = Piece.objects.filter(file=file).order_by("position").values_list("data")
    if at_most is not None:
        pieces = pieces.filter(position__lte=at_most // PIECE_BYTES)
    return b"".join(store.fetch_bytes(pieces))


PIECE_BYTES = 4_000_000


def whole(table: Table) -> CoreTable:
    """The table as it stands, for a file of its own."""
    columns = {variable.symbol: store.column(variable) for variable in variables(table)}
    return CoreTable(table.name, table.n_rows, columns)


def variables(table: Table) -> list[Variable]:
    """The table's variables in their order, each with the table at hand."""
    derived = [symbol for symbol, _ in table.derived]
    found = list(table.variables.filter(Q(reading=table.reading, derived=False) | Q(derived=True, symbol__in=derived)))
    for variable in found:
        variable.table = table
        as_described(variable)
    return found


def as_described(variable: Variable) -> Variable:
    """The variable with what the ledger says of it; for reading, never saved."""
    store.came_as(variable)
    if variable.derived:
        how = store.recipe(variable)
        variable.label, variable.unit = how.get("label", variable.label), how.get("unit", variable.unit)
    said = variable.table.described.get(variable.symbol, {})
    for name in ("label", "unit", "lower", "upper", "note"):
        if name in said:
            setattr(variable, name, said[name])
    for name, fact in variable.table.facts.get(variable.symbol, {}).items():
        setattr(variable, name, fact)
    if said.get("decimals") is not None:
        variable.decimals = said["decimals"]
    variable.properties = {**variable.properties, **said}
    return variable


def rows(table: Table, numbers: list[int]) -> list[list[str]]:
    """The cells of rows by number (from 1), as text, in the order of the variables; missing ones as their code."""
    columns = [store.original(variable) for variable in variables(table)]
    return [[cell_text(column, number - 1) for column in columns] for number in numbers]


def zero_means_none(variable: Variable) -> bool:
    """Whether zero means none: as somebody said, or else as the values and the unit suggest."""
    said = variable.properties.get("true_zero")
    if said is None:
        said = variable.properties.get("zero_means_none")
    return column_zero(store.original(variable)) if said is None else bool(said)


def match_words(table: Table, read: intake.Intake) -> list[str]:
    """What would come of reading a table so again, a sentence each."""
    before = CoreTable(table.name, table.n_rows, {v.symbol: store.original(v) for v in variables(table)})
    return list(intake.match(before, read.table).words)
