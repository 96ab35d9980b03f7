"""A study's script as a zip: the script, the files that it reads, the core as a wheel, and what to install."""

import io
import re
import zipfile
from collections.abc import Mapping, Sequence
from dataclasses import replace
from functools import lru_cache
from pathlib import Path
from tempfile import TemporaryDirectory

import heron
from build import ProjectBuilder
from heron import figure, script
from heron.errors import HeronError
from heron.script.code import name_of
from heron.tables import caption
from pyproject_hooks import quiet_subprocess_runner

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.making import refresh_if_stale
from server.plates import selectors as plating
from server.plates.models import Plate, TablePlate
from server.problems import Refusal
from server.records.packages import slug
from server.studies import selectors as studies
from server.studies.models import Study, Table
from server.studies.snapshots import TableSnapshot

Kept = tuple[Sequence[Plate], Sequence[TablePlate]]


def script_of(user: User, study: Study, kept: Kept) -> tuple[script.Script, list[script.TableSpec]]:
    """The script of some plates and tables of numbers of a study, with the tables that they stand on."""
    plates, of_numbers = kept
    documents = [plating.document_of(plate) for plate in plates]
    wanted = {str(source.table) for document in documents for source in document.sources}
    wanted |= {plate.document["source"]["table"] for plate in of_numbers}
    tables = _in_order(study, wanted)
    taken: list[str] = []
    for table in tables:
        taken.append(name_of(table.name, {*taken, *script.RESERVED}))
    named = [_table(table, number, taken[number - 1]) for number, table in enumerate(tables, 1)]
    result, notes = [], []
    for number, (plate, document) in enumerate(zip(plates, documents, strict=True), 1):
        said = document.model_dump(mode="json")
        sources = document.sources
        try:
            scenes, _ = plating.scenes(user, sources, document.numbers)
        except (HeronError, Refusal) as error:
            notes.append(f"{plate.name} is not in the script: {error.problem}")
            continue
        if plate.frozen is not None:
            notes.append(f"{plate.name} is frozen with its numbers; the script computes them anew.")
        words = document.caption.text if document.caption.text is not None else figure.caption(said, scenes)
        result.append((slug(plate.name, number), script.PlateSpec(plate.name, said, tuple(sources), words)))
    written = []
    for number, numbers in enumerate(of_numbers, 1):
        try:
            written.append((slug(numbers.name, number), _numbers(user, numbers)))
        except (HeronError, Refusal) as error:
            notes.append(f"{numbers.name} is not in the script: {error.problem}")
        if numbers.frozen is not None:
            notes.append(f"{numbers.name} is frozen with its numbers; the script computes them anew.")
    made = script.write(study.title, heron.__version__, named, result, written)
    return replace(made, notes=(*notes, *made.notes)), named


def _numbers(user: User, plate: TablePlate) -> script.NumbersSpec:
    document = plating.table_document_of(plate)
    table, _ = plating.number_table(user, document)
    said = document.caption.text if document.caption.text is not None else caption(table)
    return script.NumbersSpec(plate.name, document.model_dump(mode="json"), document.source, said)


def _in_order(study: Study, wanted: set[str]) -> list[Table]:
    """The tables wanted and those that they are made of, each behind its sources."""
    tables = {str(table.pk): table for table in study.tables.select_related("source")}
    result: dict[str, Table] = {}

    def take(key: str) -> None:
        if key in result or key not in tables:
            return
        for of in (tables[key].origin or {}).get("of", []):
            take(of)
        if refresh_if_stale(tables[key]):
            tables[key].refresh_from_db()
        result[key] = tables[key]

    for key in sorted(wanted, key=lambda key: list(tables).index(key) if key in tables else -1):
        take(key)
    return list(result.values())


def _table(row: Table, number: int, python: str) -> script.TableSpec:
    table, source = TableSnapshot.of(row), row.source
    said = {
        symbol: dict(said_of) for symbol, said_of in table.state.imports.described(table.state.import_version).items()
    }
    for variable in table.variables:
        ends = {name: end for name, end in (("lower", variable.lower), ("upper", variable.upper)) if end is not None}
        if ends and not variable.recipe:
            said[variable.symbol] = {**said.get(variable.symbol, {}), **ends}
    return script.TableSpec(
        key=str(table.pk), name=table.name, python=python, path=_path(source.name, number) if source else "",
        digest=source.sha256 if source else "", choices=table.choices, said=said, origin=table.origin, view=table,
        steps=ledger.steps(row),
    )  # fmt: skip


def _path(name: str, number: int) -> str:
    return f"files/{number:02d}-{re.sub(r'[^A-Za-z0-9._-]+', '-', name)[-100:]}"


def zipped(user: User, study: Study, kept: Kept) -> bytes:
    """The script with everything that it needs, as a zip."""
    made, tables = script_of(user, study, kept)
    files = {str(row.pk): row.source for row in study.tables.select_related("source") if row.source}
    wheel_name, wheel = core_wheel()
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("study.py", made.text)
        archive.writestr("requirements.txt", f"./{wheel_name}[script]\n")
        archive.writestr("README.md", _readme(study.title, made.notes))
        archive.writestr(wheel_name, wheel, zipfile.ZIP_STORED)
        for path, text in made.documents.items():
            archive.writestr(path, text)
        for table in tables:
            if table.path:
                archive.writestr(table.path, studies.file_bytes(files[table.key]))
    return sink.getvalue()


def _readme(title: str, notes: Sequence[str]) -> str:
    said = "".join(f"- {note}\n" for note in notes)
    left = f"\nWhat it cannot carry:\n\n{said}" if notes else ""
    return (
        f"# {title}\n\nPython 3.11 or later.\n\n"
        "    python -m venv here && here/bin/pip install -r requirements.txt && here/bin/python study.py\n\n"
        "study.py reads files/, repeats every decision of the Ledger, recomputes the numbers of the plates and draws\n"
        f"them; results go to out/. The wheel is the computing core of Velvet Heron, without its server.\n{left}"
    )


@lru_cache(maxsize=1)
def core_wheel() -> tuple[str, bytes]:
    """The core as a wheel, made by its build backend: its name and its bytes."""
    with TemporaryDirectory() as folder:
        made = ProjectBuilder(Path(heron.__file__).parents[1], runner=_at_one_time).build("wheel", folder)
        return Path(made).name, Path(made).read_bytes()


def _at_one_time(cmd: Sequence[str], cwd: str | None = None, extra_environ: Mapping[str, str] | None = None) -> None:
    """Run the backend with one date for all files, so that the same core is the same wheel."""
    quiet_subprocess_runner(cmd, cwd, {**(extra_environ or {}), "SOURCE_DATE_EPOCH": "1767225600"})
