"""Which format a file has, by its first bytes and, where they leave it open, by its name."""

import io
import zipfile
from typing import Literal

from heron.errors import ReadError

Format = Literal["delimited text", "workbook (.xlsx)", "workbook (.ods)", "Data Package", "Parquet", "Arrow", "JSON"]
READABLE = "Delimited text, workbooks (.xlsx, .ods), Parquet, Arrow, JSON records and Data Package zips can be read."
_REFUSED = {
    b"%PDF": "a PDF document",
    b"\xd0\xcf\x11\xe0": "an old office document",
    b"\x89PNG": "a picture",
    b"\xff\xd8\xff": "a picture",
    b"\x1f\x8b": "a gzip archive",
}
_ZIP = b"PK\x03\x04"


def format_of(data: bytes, filename: str) -> Format:
    """The format of a file, or ReadError naming what it is and what can be read."""
    for signature, name in _REFUSED.items():
        if data.startswith(signature):
            raise ReadError("unknown-format", f"This is {name}, not a table.", remedy=READABLE)
    if data.startswith(_ZIP):
        return _inside_zip(data)
    if data.startswith(b"PAR1"):
        return "Parquet"
    if data.startswith((b"ARROW1", b"\xff\xff\xff\xff")):
        return "Arrow"
    begins = data[:64].removeprefix(b"\xef\xbb\xbf").lstrip()
    named = filename.lower().endswith((".json", ".ndjson", ".jsonl"))
    if begins.startswith((b"{", b"[")) and (named or begins[1:].lstrip().startswith((b'"', b"{", b"}", b"]"))):
        return "JSON"
    return "delimited text"


def _inside_zip(data: bytes) -> Format:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            names = set(archive.namelist())
            kind = archive.read("mimetype")[:80] if "mimetype" in names else b""
    except (zipfile.BadZipFile, OSError, ValueError, RuntimeError) as error:
        raise ReadError(
            "broken-zip", "The file begins as a zip does, but is cut off or broken.", remedy="Save it again."
        ) from error
    if "xl/workbook.xml" in names:
        return "workbook (.xlsx)"
    if kind == b"application/vnd.oasis.opendocument.spreadsheet":
        return "workbook (.ods)"
    if "datapackage.json" in names:
        return "Data Package"
    raise ReadError("unknown-format", "This is a zip archive, not a table.", remedy=READABLE)
