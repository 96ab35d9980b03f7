"""Which format a file has, by its first bytes and, where they leave it open, by its name."""

from typing import Literal

from heron.errors import ReadError
from heron.intake.archive import open_archive, read_entry

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
    with open_archive(data) as archive:
        names = set(archive.namelist())
        kind = read_entry(archive, "mimetype", 80) if "mimetype" in names else b""
    if "xl/workbook.xml" in names:
        return "workbook (.xlsx)"
    if kind == b"application/vnd.oasis.opendocument.spreadsheet":
        return "workbook (.ods)"
    if "datapackage.json" in names:
        return "Data Package"
    raise ReadError("unknown-format", "This is a zip archive, not a table.", remedy=READABLE)
