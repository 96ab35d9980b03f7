"""A study's routine: made of what was done with a table, looked at beside another file, and run on it."""

import json
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.db import transaction
from heron import intake
from heron.columns import Table as CoreTable
from heron.errors import HeronError, ReadError
from heron.numbering import n_rows_of
from heron.routine import Conflict, Step, conflicts, fitted
from heron.routine.fit import rows_of

from server import reader
from server.accounts.models import User
from server.ledger import making
from server.ledger import selectors as ledger
from server.ledger import services as deciding
from server.plates import services as plating
from server.plates.documents import PlateDocument, TablePlateDocument
from server.problems import Refusal
from server.records.documents import Routine, RoutinePlate, RoutineTable, RoutineTablePlate, step_document
from server.studies import selectors as studies
from server.studies import services as studying
from server.studies.models import SourceFile, Study, Table, Upload
from server.studies.permissions import require_editor
from server.studies.snapshots import TableSnapshot

Report = Callable[[float], None]
# What of a reading follows from how a file is laid out; another file may be laid out otherwise.
_LAYOUT = ("delimiter", "decimal", "encoding", "above", "header", "sheet", "block")


def routine_of(table: Table) -> dict[str, Any]:
    """What was done with a table, and with those made of it alone, and the plates that stand on them, as a document."""
    result = [table]
    for other in table.study.tables.exclude(pk=table.pk):
        of = {UUID(key) for key in (other.origin or {}).get("of", [])}
        if of and of <= {one.pk for one in result}:
            result.append(other)
    keys = {str(source.pk): _key(i) for i, source in enumerate(result)}
    plates = []
    for plate in table.study.plates.all():
        document = PlateDocument.model_validate(plate.document)
        if {str(source.table) for source in document.sources} <= keys.keys():
            plates.append({"name": plate.name, "group": plate.group, "document": _renamed(plate.document, keys)})
    of_numbers = [
        {"name": plate.name, "document": _renamed(plate.document, keys)}
        for plate in table.study.table_plates.all() if plate.document["source"]["table"] in keys
    ]  # fmt: skip
    tables = [_table_document(source, keys, root=source is table) for source in result]
    return {
        "format": "velvet-heron-routine", "version": 1, "name": table.name, "tables": tables, "plates": plates,
        "table_plates": of_numbers,
    }  # fmt: skip


def _key(number: int) -> str:
    """What a routine calls its tables, the same however often it is made."""
    return str(UUID(int=number + 1))


def _renamed(document: Any, keys: Mapping[str, str]) -> Any:
    """A document with other ids of tables, wherever they stand: in sources and in addresses."""
    text = json.dumps(document)
    for old, new in keys.items():
        text = text.replace(old, new)
    return json.loads(text)


def _table_document(table: Table, keys: Mapping[str, str], *, root: bool) -> dict[str, Any]:
    made = table.origin or {}
    wish = None
    if not root:
        wish = {"of": [keys[key] for key in made["of"]], "options": {"how": made["how"], **made["options"]}}
    variables = [
        {
            "symbol": v.symbol, "label": v.label, "unit": v.unit, "kind": v.kind, "lower": v.lower, "upper": v.upper,
            "levels": v.levels if v.kind in ("category", "ordered") and len(v.levels) <= 1_000 else [],
        }
        for v in TableSnapshot.of(table).variables if not v.recipe
    ]  # fmt: skip
    return {
        "key": keys[str(table.pk)], "name": table.name, "made": wish, "variables": variables,
        "source_name": table.source.name if table.source else "",
        "source_digest": table.source.sha256 if table.source else "",
        "choices": table.imports[table.import_version].get("choices", {}) if root else {},
        "steps": [step_document(step) for step in ledger.steps(table)],
    }  # fmt: skip


@dataclass(frozen=True)
class Fit:
    """How a routine stands beside a file. read: the file with its own symbols; table: with the routine's, read by the
    choices; matched: which of the file's variables each of the routine's is; at_rest: the steps that are not taken
    unless somebody says so."""

    read: intake.Intake
    table: CoreTable
    choices: dict[str, Any]
    matched: dict[str, str]
    used: set[str]
    same_file: bool
    layout: str
    conflicts: list[Conflict]
    steps: list[Step]
    at_rest: set[int]


def fit(
    upload: Upload, routine: Routine, names: Mapping[str, str] | None = None, *, report: Report | None = None
) -> Fit:
    """A routine beside a file. names: the file's own symbol for each of the routine's; None: those that are alike;
    report: is told what share is read."""
    table = routine.tables[0]
    as_read, own_choices, layout = _as_found(upload.file, table, report)
    present = set(as_read.table.columns)
    matched = (
        _alike(table, present) if names is None else {mine: name for mine, name in names.items() if name in present}
    )
    choices = table.choices.given()
    for name in ("symbols", *(_LAYOUT if layout else ())):
        choices.pop(name, None)
    symbols = {name: mine for mine, name in matched.items() if name != mine}
    if symbols:
        choices["symbols"] = symbols
    # A long file is not read a second time for nothing.
    read = as_read if choices == own_choices else _read(upload.file, choices, report)
    same_file = bool(table.source_digest) and upload.file.sha256 == table.source_digest
    steps = table.as_steps()
    used = used_by(table, steps, routine.kept)
    result = conflicts([variable.known() for variable in table.variables], steps, used, read.table, same_file=same_file)
    at_rest = {number for trouble in result if trouble.code == "other-rows" for number in trouble.steps}
    return Fit(as_read, read.table, choices, matched, used, same_file, layout, result, steps, at_rest)


def _as_found(
    file: SourceFile, table: RoutineTable, report: Report | None
) -> tuple[intake.Intake, dict[str, Any], str]:
    """The file read as the routine's own was, or as it is laid out itself; how, and what is to be said of that."""
    choices = {key: value for key, value in table.choices.given().items() if key not in ("symbols", "kinds")}
    try:
        return _read(file, choices, report), choices, ""
    except ReadError:
        choices = {key: value for key, value in choices.items() if key not in _LAYOUT}
        as_other = f"as {table.source_name or 'the file of the routine'} was"
        return _read(file, choices, report), choices, f"{file.name} is not laid out {as_other}; it is read as it is."


def _read(file: SourceFile, choices: Mapping[str, Any], report: Report | None) -> intake.Intake:
    return reader.read(studies.file_pieces(file), file.name, choices, on_progress=report)


def _alike(table: RoutineTable, present: Collection[str]) -> dict[str, str]:
    """The file's own symbol for each variable of the routine that it has."""
    before = {mine: name for name, mine in (table.choices.symbols or {}).items()}
    wished = {
        variable.symbol: variable.symbol if variable.symbol in present else before.get(variable.symbol, "")
        for variable in table.variables
    }
    return {mine: name for mine, name in wished.items() if name in present}


def used_by(table: RoutineTable, steps: Sequence[Step], plates: Sequence[RoutinePlate | RoutineTablePlate]) -> set[str]:
    """The variables of a table that its steps, the tables made of it and the plates speak of."""
    named = {variable.symbol for variable in table.variables}
    result: set[str] = set()
    for step in steps:
        result |= {step.variable, *(step.changes if step.kind != "derive" else ())}
        for how in step.changes.values() if step.kind == "derive" else ():
            result |= set(_strings(how))
    for plate in plates:
        for source in plate.document.sources:
            if source.table == table.key:
                result |= source.symbols
    return result & named


def _strings(value: Any) -> list[str]:
    if isinstance(value, str):
        return [value]
    if isinstance(value, Mapping):
        return [string for inner in value.values() for string in _strings(inner)]
    return [string for inner in value for string in _strings(inner)] if isinstance(value, list | tuple) else []


@dataclass(frozen=True)
class Ran:
    """What running a routine made, and what it could not, a sentence each."""

    table: Table
    n_steps: int
    n_plates: int
    left_out: list[str]


@transaction.atomic
def run(
    user: User, study: Study, upload: Upload, routine: Routine, name: str,
    *, names: Mapping[str, str] | None = None, leave_out: Collection[int] | None = None, report: Report | None = None,
) -> Ran:  # fmt: skip
    """Do with a file what a routine says, all of it or nothing.

    leave_out: numbers of steps that are not taken; None: those that name rows of another file.
    """
    require_editor(user, study)
    result = fit(upload, routine, names, report=report)
    out = result.at_rest if leave_out is None else set(leave_out)
    first = studying.store_table(study, name.strip(), result.table, upload.file, choices=result.choices)
    taken = fitted(result.steps, result.table, out)
    listed = ", ".join(map(str, sorted(out)))
    left = (
        [f"{'Step' if len(out) == 1 else 'Steps'} {listed} {'was' if len(out) == 1 else 'were'} left out."]
        if out
        else []
    )
    left += [conflict.words for conflict in result.conflicts if conflict.hinders and not set(conflict.steps) <= out]
    deciding.repeat(user, first, taken)
    made: dict[str, Table] = {str(routine.tables[0].key): first}
    n_steps = len(taken)
    for table in routine.tables[1:]:
        first_table, n = _make(user, study, table, made, renamed=(routine.tables[0].name, first.name))
        if first_table is None:
            left.append(f"{table.name} could not be made.")
        else:
            made[str(table.key)] = first_table
            n_steps += n
    n_plates = 0
    for plate in routine.kept:
        why = _keep(user, study, plate, {key: str(table.pk) for key, table in made.items()})
        n_plates += not why
        left += [f"Plate {plate.name}: {why}"] if why else []
    upload.delete()
    first.refresh_from_db()
    return Ran(first, n_steps, n_plates, left)


def _make(
    user: User, study: Study, table: RoutineTable, made: Mapping[str, Table], renamed: tuple[str, str]
) -> tuple[Table | None, int]:
    """A table made of those made before, with its own steps taken; none where it cannot be."""
    if table.made is None or not {str(source) for source in table.made.of} <= made.keys():
        return None, 0
    wish = table.made.wish()
    name = table.name.replace(*renamed)
    try:
        with transaction.atomic():
            of = tuple(made[str(source)].pk for source in wish.of)
            result = making.make(user, study, name, making.TableRecipe(wish.how, of, wish.options))
            steps = fitted(table.as_steps(), TableSnapshot.of(result).described(), ())
            deciding.repeat(user, result, steps)
    except (HeronError, Refusal):
        return None, 0
    return result, len(steps)


def _keep(user: User, study: Study, plate: RoutinePlate | RoutineTablePlate, ids: Mapping[str, str]) -> str:
    """Keep a plate on the tables that were made; why it could not be, "" where it could."""
    if not {str(source.table) for source in plate.document.sources} <= ids.keys():
        return "a table that it stands on could not be made."
    try:
        with transaction.atomic():
            said = _renamed(plate.document.model_dump(mode="json"), ids)
            if isinstance(plate, RoutineTablePlate):
                plating.keep_table(user, study, plate.name, TablePlateDocument.model_validate(said))
            else:
                plating.keep(user, study, plate.name, plate.group, PlateDocument.model_validate(said))
    except (HeronError, Refusal) as error:
        return error.problem
    return ""


def names_rows(step: Step) -> int:
    """How many rows a step names."""
    return n_rows_of(rows_of(step))
