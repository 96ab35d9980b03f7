"""Data Package zips: tables as delimited text with their schema beside them (the open Table Schema standard)."""

import io
import json
import zipfile
from typing import Any

from heron.checks import choose
from heron.columns import Kind
from heron.errors import ReadError
from heron.intake import delimited
from heron.intake.found import Guess
from heron.intake.raw import Raw

_KINDS: dict[str, Kind] = {"boolean": "category", "date": "date-time", "datetime": "date-time"}


def parse(data: bytes, *, sheet: str | None) -> Raw:
    """Return one table of a Data Package, with the names, titles, units and missing values that its schema declares."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        resources = _resources(archive)
        names = [str(resource.get("name") or resource["path"]) for resource in resources]
        chosen = names[0] if sheet is None else choose(sheet, names, where="sheet")
        resource = resources[names.index(chosen)]
        try:
            text = archive.read(str(resource["path"]))
        except (KeyError, RuntimeError, zipfile.BadZipFile) as error:
            raise ReadError("broken-package", f"The table {chosen} names a file that cannot be read.") from error
    dialect = resource.get("dialect") or {}
    raw = delimited.parse(
        text,
        delimiter=dialect.get("delimiter"),
        decimal=None,
        encoding=None,
        header="none" if dialect.get("header") is False else "names",
    )
    schema = resource.get("schema") or {}
    fields = [field for field in schema.get("fields", []) if isinstance(field, dict)]
    by_place = list(enumerate(fields[: len(raw.columns)]))
    found = {
        **raw.found,
        "format": Guess("Data Package", "it holds a datapackage.json"),
        "sheet": Guess(chosen, "as you said" if sheet else "the first table of the package"),
        "sheets": Guess(names, "in the order of the package"),
    }
    missing = schema.get("missingValues")
    return Raw(
        raw.columns,
        tuple(str(field.get("name", "")) for field in fields) or raw.names,
        found,
        units=tuple(str(field.get("unit") or "") for field in fields),
        decimal=str(fields[0].get("decimalChar", ".")) if fields else raw.decimal,
        problems=raw.problems,
        labels={i: str(field["title"]) for i, field in by_place if field.get("title")},
        kinds={i: _KINDS[field["type"]] for i, field in by_place if field.get("type") in _KINDS},
        missing_codes=tuple(str(code) for code in missing if code != "") if isinstance(missing, list) else None,
        title=str(resource.get("title") or chosen),
    )


def _resources(archive: zipfile.ZipFile) -> list[dict[str, Any]]:
    try:
        described = json.loads(archive.read("datapackage.json"))
    except (ValueError, RecursionError) as error:
        raise ReadError("broken-package", "datapackage.json is no JSON text.") from error
    listed = described.get("resources") if isinstance(described, dict) else None
    tables = [item for item in listed or [] if isinstance(item, dict) and isinstance(item.get("path"), str)]
    if not tables:
        raise ReadError("empty-file", "The package describes no table with a file of its own.")
    return tables
