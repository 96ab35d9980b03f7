"""A table as a file: delimited text, workbook, Parquet, JSON records or Data Package."""

import io
import json
import re
import zipfile
from collections.abc import Callable, Iterable, Iterator
from typing import Any, Literal

import numpy as np
import pyarrow as pa
from pyarrow import parquet

from heron import cells
from heron.checks import choose
from heron.columns import Column, Table
from heron.errors import InputError

Format = Literal["csv", "tsv", "xlsx", "ods", "parquet", "json", "package"]
PartwiseFormat = Literal["csv", "tsv", "parquet", "json"]
PARTWISE: tuple[PartwiseFormat, ...] = ("csv", "tsv", "parquet", "json")  # written part by part, however long
FORMATS: tuple[Format, ...] = ("csv", "tsv", "xlsx", "ods", "parquet", "json", "package")
SHEET_ROWS = 1_048_575
_SCHEMA_TYPES = {"continuous": "number", "count": "integer", "date-time": "datetime"}
# What the XML of workbooks cannot hold, and the longest text of a cell.
_CONTROL = re.compile("[\x00-\x08\x0b\x0c\x0e-\x1f]")
_LONGEST_CELL = 32_767


def write(table: Table, form: Format) -> bytes:
    r"""Return a table as the bytes of a file.

    Parameters
    ----------
    table : Table
        What is written.
    form : {"csv", "tsv", "xlsx", "ods", "parquet", "json", "package"}
        Delimited text, a workbook, Parquet, JSON records, or a Data Package.

    Returns
    -------
    bytes
        The file.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        Where a workbook cannot hold so many rows, or a text.
    NotInstalled
        Without the packages of velvet-heron[files].

    Notes
    -----
    Headers carry the unit, as in "shell mass (g)". A missing value is written as the code that it carried (blank as
    nothing); in Parquet and JSON as null. Numbers keep all their digits. In CSV, TSV, workbooks and the CSV of a Data
    Package, text that a spreadsheet would run as a formula gets an apostrophe before it.

    Examples
    --------
    >>> import pandas as pd
    >>> from heron import Table
    >>> write(Table.from_frame(pd.DataFrame({"mass": [1.5, None]}), units={"mass": "g"}), "csv")
    b'mass (g)\n1.5\n""\n'
    """
    choose(form, FORMATS, where="form")
    if form in ("xlsx", "ods") and table.n_rows > SHEET_ROWS:
        raise InputError(
            "too-many-rows",
            f"A sheet holds {SHEET_ROWS} rows; the table has {table.n_rows}.",
            where="form",
            remedy="Choose CSV or Parquet.",
        )
    if form in PARTWISE:
        return b"".join(write_parts([table], form))
    writers: dict[Format, Callable[[Table], bytes]] = {"xlsx": _xlsx, "ods": _ods, "package": _package}
    return writers[form](table)


def write_parts(parts: Iterable[Table], form: PartwiseFormat) -> Iterator[bytes]:
    """The bytes of a file, piece by piece, of a table that is given in parts, of which there is at least one.

    Raises: ChoiceError for a form that is not written in parts.
    """
    choose(form, PARTWISE, where="form")
    match form:
        case "parquet":
            return _parquet(parts)
        case "json":
            return _json(parts)
    return _delimited(parts, "," if form == "csv" else "\t")


def header(column: Column) -> str:
    return f"{column.label} ({column.unit})" if column.unit else column.label


def _cells(column: Column) -> list[Any]:
    """(n_rows,) numbers as int or float, times as ISO text, labels; missing ones as their code, blank as None."""
    codes = [None if code == "blank" else code for code in column.missing_codes]
    if column.codes is not None:
        plain: list[Any] = np.array([*column.levels, None], dtype=object)[column.codes].tolist()
    elif column.kind == "date-time":
        plain = [str(stamp)[:19].replace("T", " ") for stamp in column.values]
    else:
        assert column.numbers is not None
        plain = [int(x) if x == x and x.is_integer() and abs(x) < 1e15 else x for x in column.numbers.tolist()]
    for row in np.flatnonzero(column.reasons):
        plain[row] = codes[column.reasons[row] - 1]
    return plain


def _rows(table: Table) -> Iterator[tuple[Any, ...]]:
    yield from zip(*map(_cells, table.columns.values()), strict=True)


def _headers(table: Table) -> tuple[str, ...]:
    return tuple(header(column) for column in table.columns.values())


def _delimited(parts: Iterable[Table], mark: str) -> Iterator[bytes]:
    for number, table in enumerate(parts):
        if number == 0:
            yield cells.delimited([_headers(table)], mark=mark).encode()
        yield cells.delimited(_rows(table), mark=mark).encode()


def _sheet_rows(table: Table) -> Iterator[list[Any]]:
    """The rows as a workbook takes them; refused where one holds what none can."""
    for column in table.columns.values():
        for text in (header(column), *column.levels, *column.missing_codes):
            sign = _CONTROL.search(text)
            if sign or len(text) > _LONGEST_CELL:
                what = f"the control character U+{ord(sign[0]):04X}" if sign else f"a text of {len(text)} characters"
                raise InputError(
                    "no-cell",
                    f"{column.label[:40]} holds {what}, which no cell of a workbook can.",
                    where="form",
                    remedy="Choose CSV or Parquet.",
                )
    for row in (_headers(table), *_rows(table)):
        yield [cells.safe(cell) if isinstance(cell, str) else cell for cell in row]


def _xlsx(table: Table) -> bytes:
    from openpyxl import Workbook  # slow to import, and seldom needed

    book = Workbook(write_only=True)
    sheet = book.create_sheet(_sheet_name(table.name))
    for row in _sheet_rows(table):
        sheet.append(row)
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def _sheet_name(name: str) -> str:
    return "".join(c for c in _CONTROL.sub("", name) if c not in r"[]:*?/\\'")[:31].strip() or "Table"


def _ods(table: Table) -> bytes:
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table as Sheet
    from odf.table import TableCell, TableRow
    from odf.text import P

    document = OpenDocumentSpreadsheet()
    sheet = Sheet(name=_sheet_name(table.name))
    for row in _sheet_rows(table):
        line = TableRow()
        for cell in row:
            if isinstance(cell, int | float):
                written = TableCell(valuetype="float", value=repr(cell))
            else:
                written = TableCell(valuetype="string")
            if cell is not None:
                written.addElement(P(text=str(cell)))
            line.addElement(written)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    file = io.BytesIO()
    document.save(file)
    return file.getvalue()


def _parquet(parts: Iterable[Table]) -> Iterator[bytes]:
    sink, writer = io.BytesIO(), None
    for table in parts:
        written = pa.table({header(column): _arrow(column) for column in table.columns.values()})
        if writer is None:
            writer = parquet.ParquetWriter(sink, written.schema, compression="zstd")
        writer.write_table(written)
        yield sink.getvalue()
        sink.seek(0)
        sink.truncate()
    assert writer is not None
    writer.close()
    yield sink.getvalue()


def _arrow(column: Column) -> Any:
    missing = column.reasons > 0
    if column.kind == "date-time":
        return pa.array(column.values.astype("datetime64[ms]"), mask=missing)
    if column.numbers is not None:
        return pa.array(column.numbers, mask=missing)
    assert column.codes is not None
    named = pa.DictionaryArray.from_arrays(pa.array(column.codes, mask=missing), pa.array(column.levels, pa.string()))
    return named.cast(pa.string())


def _json(parts: Iterable[Table]) -> Iterator[bytes]:
    begun = False
    for table in parts:
        columns = {}
        for column in table.columns.values():
            plain = _cells(column)
            for row in np.flatnonzero(column.reasons):
                plain[row] = None
            columns[column.symbol] = plain
        records = [dict(zip(columns, row, strict=True)) for row in zip(*columns.values(), strict=True)]
        if records:
            text = json.dumps(records, ensure_ascii=False, indent=1, allow_nan=False)
            yield f"{',' if begun else '['}{text[1:-2]}".encode()
            begun = True
    yield b"\n]" if begun else b"[]"


def _package(table: Table) -> bytes:
    described, text = resource(table, "table", "table.csv")
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("datapackage.json", json.dumps({"resources": [described]}, ensure_ascii=False, indent=1))
        archive.writestr("table.csv", text)
    return sink.getvalue()


def resource(table: Table, name: str, path: str) -> tuple[dict[str, Any], bytes]:
    """Return a table as a Data Package has it: its description with the schema of its fields, and its cells as CSV.

    Parameters: name and path of the resource. A field says its kind, unit, levels in their order, and the texts that
    mean missing in it (Table Schema, version 2).
    """
    columns = list(table.columns.values())
    head = [column.symbol for column in columns]
    text = cells.delimited([head, *zip(*map(_cells, columns), strict=True)])
    codes = dict.fromkeys(code for column in columns for code in column.missing_codes if code != "blank")
    described = {
        "name": name,
        "title": table.name,
        "path": path,
        "format": "csv",
        "encoding": "utf-8",
        "safe": cells.MARK,  # before texts that a spreadsheet would run, in cells and in what is said of them
        "schema": {"fields": [_field(column) for column in columns], "missingValues": ["", *map(cells.safe, codes)]},
    }
    return described, text.encode()


def _field(column: Column) -> dict[str, Any]:
    field: dict[str, Any] = {
        "name": column.symbol,
        "type": _SCHEMA_TYPES.get(column.kind, "number" if column.numbers is not None else "string"),
        "title": column.label,
        "kind": column.kind,
        "missingValues": ["", *(cells.safe(code) for code in column.missing_codes if code != "blank")],
    }
    if column.unit:
        field["unit"] = column.unit
    if column.codes is not None and column.kind in ("category", "ordered") and column.levels:
        field["categories"] = list(map(cells.safe, column.levels))
        field["categoriesOrdered"] = column.kind == "ordered"
    return field
