"""Data Package zips: tables as delimited text with their schema beside them (the open Table Schema standard)."""

import json
import zipfile
from typing import Any

import pyarrow as pa
import pyarrow.compute as pc

from heron import cells
from heron.checks import choose
from heron.columns import KINDS, Kind
from heron.errors import ReadError
from heron.intake import delimited
from heron.intake.archive import open_archive, read_entry
from heron.intake.found import Guess
from heron.intake.raw import Cells, Raw
from heron.intake.sniff import DELIMITERS

MARK = "velvet-heron"  # what datapackage.json says of a whole study, besides its tables
_KINDS: dict[str, Kind] = {"boolean": "category", "date": "date-time", "datetime": "date-time"}


def parse(data: bytes, *, sheet: str | None) -> Raw:
    """Return one table of a Data Package, with the names, titles, units and missing values that its schema declares."""
    with open_archive(data) as archive:
        resources = _resources(archive)
        if not resources:
            return Raw([], (), _found(archive, None, []), title=_study_title(archive))
        names = [str(resource.get("name") or resource["path"]) for resource in resources]
        chosen = names[0] if sheet is None else choose(sheet, names, where="sheet")
        resource = resources[names.index(chosen)]
        try:
            text = read_entry(archive, str(resource["path"]))
        except ReadError as error:
            raise ReadError("broken-package", f"The table {chosen} names a file that cannot be read.") from error
        result = _found(archive, sheet, names)
    dialect = _object(resource.get("dialect"))
    raw = delimited.parse(
        text,
        delimiter=choose(dialect.get("delimiter"), (None, *DELIMITERS), where="delimiter"),
        decimal=None,
        encoding=None,
        header="none" if dialect.get("header") is False else "names",
        above=0,
    )
    plain = cells.unsafe if resource.get("safe") == cells.MARK else str
    schema = _object(resource.get("schema"))
    listed = schema.get("fields")
    fields = [field for field in (listed if isinstance(listed, list) else []) if isinstance(field, dict)]
    by_place = list(enumerate(fields[: len(raw.columns)]))
    missing = schema.get("missingValues")
    return Raw(
        [_plain(column) for column in raw.columns] if plain is cells.unsafe else raw.columns,
        tuple(str(field.get("name", "")) for field in fields) or raw.names,
        {**raw.found, **result},
        units=tuple(str(field.get("unit") or "") for field in fields),
        decimal=str(fields[0].get("decimalChar", ".")) if fields else raw.decimal,
        problems=raw.problems,
        labels={i: str(field["title"]) for i, field in by_place if field.get("title")},
        kinds={i: kind for i, field in by_place if (kind := _kind(field))},
        levels={i: tuple(map(plain, levels)) for i, field in by_place if (levels := _levels(field))},
        codes={
            i: tuple(map(plain, _codes(field["missingValues"])))
            for i, field in by_place
            if isinstance(field.get("missingValues"), list)
        },
        missing_codes=tuple(map(plain, _codes(missing))) if isinstance(missing, list) else None,
        title=str(resource.get("title") or chosen),
    )


def study_title(data: bytes) -> str:
    """The title of the study that a package holds whole, since it was saved here; "" where it was not."""
    with open_archive(data) as archive:
        return _study_title(archive)


def _study_title(archive: zipfile.ZipFile) -> str:
    described = _described(archive)
    return str(described.get("title") or "Untitled study")[:200] if isinstance(described.get(MARK), dict) else ""


def _found(archive: zipfile.ZipFile, sheet: str | None, names: list[str]) -> dict[str, Guess]:
    result = {
        "format": Guess("Data Package", "it holds a datapackage.json"),
        "sheet": Guess(sheet or (names[0] if names else ""), "as you said" if sheet else "the first table of it"),
        "sheets": Guess(names, "in the order of the package"),
    }
    study = _study_title(archive)
    return {**result, "study": Guess(study, "it was saved here as a whole")} if study else result


def names(data: bytes) -> list[str]:
    """The names of the tables that a Data Package describes."""
    with open_archive(data) as archive:
        return [str(resource.get("name") or resource["path"]) for resource in _resources(archive)]


def _plain(column: Cells) -> Cells:
    """The texts of a column without the mark by which they were kept from being run."""
    marked = pc.starts_with(column, cells.MARK)
    if not pc.any(marked).as_py():
        return column
    return pa.array([cells.unsafe(text) for text in column.to_pylist()], pa.string())


def _object(said: Any) -> dict[str, Any]:
    """What a package says where an object belongs; nothing where it says something else."""
    return said if isinstance(said, dict) else {}


def _kind(field: dict[str, Any]) -> Kind | None:
    """What a field is: as its "kind" says where we wrote it, else as its type says."""
    if field.get("kind") in KINDS:
        return field["kind"]  # type: ignore[no-any-return]
    if _levels(field):
        return "ordered" if field.get("categoriesOrdered") else "category"
    return _KINDS.get(str(field.get("type")))


def _levels(field: dict[str, Any]) -> tuple[str, ...]:
    """The categories of a field, by their labels where it gives values and labels."""
    listed = field.get("categories")
    if not isinstance(listed, list):
        return ()
    return tuple(str(code.get("value", "") if isinstance(code, dict) else code) for code in listed)


def _codes(missing: list[Any]) -> tuple[str, ...]:
    codes = [str(code.get("value", "") if isinstance(code, dict) else code) for code in missing]
    return tuple(code for code in codes if code)


def _described(archive: zipfile.ZipFile) -> dict[str, Any]:
    try:
        described = json.loads(read_entry(archive, "datapackage.json"))
    except (ValueError, RecursionError) as error:
        raise ReadError("broken-package", "datapackage.json is no JSON text.") from error
    return described if isinstance(described, dict) else {}


def _resources(archive: zipfile.ZipFile) -> list[dict[str, Any]]:
    listed = _described(archive).get("resources")
    tables = [
        item
        for item in (listed if isinstance(listed, list) else [])
        if isinstance(item, dict) and isinstance(item.get("path"), str)
    ]
    if not tables and not _study_title(archive):
        raise ReadError("empty-file", "The package describes no table with a file of its own.")
    return tables
