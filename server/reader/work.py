"""What is done with a file in the process that opens it; nothing of it reaches the rest but a parcel or a refusal."""

import codecs
import hashlib
import json
from collections.abc import Callable
from typing import IO, Any

import pandas as pd
import pyarrow as pa
import pyarrow.compute as pc
from heron import intake
from heron.errors import ReadError

from server.reader.parcel import Packing, pack_intakes

MOST_TABLES = 200
MOST_ENTRIES = 20_000
DOCUMENT_BYTES = 64_000_000
Report = Callable[[float], None]

# No module can be loaded once the limits stand: these are what reading loads when it first needs them.
for _encoding in ("cp437", "cp1252", "latin-1", "utf-16", "utf-16-le", "utf-16-be", "utf-8-sig"):
    codecs.lookup(_encoding)
pc.strftime(pa.array([pd.Timestamp(0)]), "%Y").to_pylist()


def read(file: IO[bytes], said: dict[str, Any], packing: Packing, report: Report) -> Any:
    """A table, as its choices say."""
    found = intake.read(file, said["name"], on_progress=report, **said["choices"])
    return pack_intakes(packing, [found])


def tables(file: IO[bytes], said: dict[str, Any], packing: Packing, report: Report) -> Any:
    """All tables of a package."""
    data = file.read()
    names = intake.tables_in_package(data)
    if len(names) > MOST_TABLES:
        raise ReadError(
            "too-many-tables", f"The package holds {len(names)} tables; at most {MOST_TABLES} are opened at once.",
            remedy="Choose one of them beside “Table of” and store it.",
        )  # fmt: skip
    result = []
    for done, name in enumerate(names, 1):
        result += pack_intakes(packing, [intake.read(data, said["name"], sheet=name)])
        report(done / len(names))
    return result


def unpack(file: IO[bytes], said: dict[str, Any], packing: Packing, report: Report) -> Any:
    """The entries of a package and their digests, with every stored column among them decoded once, so that whoever
    decodes it again knows what it takes. study: the title of the study that it holds whole, "" where it holds none."""
    data = file.read()
    if intake.format_of(data, said["name"]) != "Data Package":
        raise ReadError("no-package", f"{said['name']} is no Data Package.", remedy="Store it as a table.")
    study = intake.study_in_package(data)
    if not study:
        return {"study": "", "entries": {}}
    entries = {}
    with intake.open_archive(data) as archive:
        names = archive.namelist()
        if len(names) > MOST_ENTRIES:
            raise ReadError(
                "too-many-entries", f"The package holds {len(names)} files; at most {MOST_ENTRIES} are opened."
            )
        documents = _documents(archive)
        chunks = _chunks(documents)
        for done, name in enumerate(names, 1):
            content = intake.read_entry(archive, name)
            if name in chunks:
                _check_chunk(name, content)
            entries[name] = {"place": packing.put(content), "digest": hashlib.sha256(content).hexdigest()}
            if done % 100 == 0:
                report(done / len(names))
    return {"study": study, "entries": entries}


def _documents(archive: Any) -> list[Any]:
    """The documents of a package that are read as JSON, each once and none too long for that."""
    described = _json(archive, "datapackage.json")
    mark = described.get(intake.MARK) if isinstance(described, dict) else None
    names = [str(mark.get(part)) for part in ("study", "ledger")] if isinstance(mark, dict) else []
    return [_json(archive, name) for name in names]


def _json(archive: Any, name: str) -> Any:
    content = intake.read_entry(archive, name, DOCUMENT_BYTES + 1)
    if len(content) > DOCUMENT_BYTES:
        raise ReadError("too-large-inside", f"{name} has more than {DOCUMENT_BYTES // 10**6} MB.")
    try:
        return json.loads(content)
    except (ValueError, RecursionError):
        raise ReadError("broken-package", f"{name} is no JSON text.") from None


def _chunks(documents: list[Any]) -> set[str]:
    """The entries that hold stored columns, as the study says."""
    tables = [table for study in documents[:1] for table in _listed(study, "tables")]
    variables = [variable for table in tables for variable in _listed(table, "variables")]
    return {str(path) for variable in variables for path in _listed(variable, "chunks")}


def _listed(said: Any, name: str) -> list[Any]:
    """What an object lists under a name; nothing where it is none, or lists nothing."""
    listed = said.get(name) if isinstance(said, dict) else None
    return listed if isinstance(listed, list) else []


def _check_chunk(name: str, content: bytes) -> None:
    try:
        with pa.ipc.open_stream(content) as stream:
            stream.read_all().validate(full=True)
    except MemoryError:
        raise
    except (pa.ArrowException, OSError, ValueError):
        raise ReadError("broken-package", f"{name} does not hold values.") from None


WORK = {"read": read, "tables": tables, "unpack": unpack}
