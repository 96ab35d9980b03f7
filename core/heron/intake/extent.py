"""How large the sheets of a workbook are, found by reading through them before anything is laid out in memory."""

import re
import zipfile
from collections.abc import Mapping
from typing import IO
from xml.parsers import expat

from heron.errors import ReadError
from heron.formatting import grouped
from heron.intake.archive import BROKEN

MOST_SHEET_CELLS = 20_000_000
_ROWS, _COLUMNS = 1_048_576, 16_384  # of a sheet
_STEP = 1_000_000
_REFERENCE = re.compile(r"([A-Za-z]{1,7})([0-9]{1,12})")
_ATTRIBUTE = re.compile(rb"""r\s*=\s*["']([^"']*)""")  # the names of others may end so too
_PLAIN = re.compile(rb"(?:[A-Za-z]{0,3}[1-9][0-9]{0,6}(?:,|\Z))*")
_LETTERS, _DIGITS = re.compile(rb"[A-Za-z]+"), re.compile(rb"[0-9]+")
_CELLS = tuple(begin + b"c" + end for begin in (b"<", b":") for end in (b" ", b">", b"/", b"\n", b"\t", b"\r"))
_MOST_STRINGS = 50_000_000


def check_extent(archive: zipfile.ZipFile) -> None:
    """Refuse a workbook with a sheet that spans more cells than can be held, or names a cell that no sheet has.

    Raises: ReadError, which names the cell.
    """
    for entry in archive.infolist():
        try:
            if _plainly_small(archive, entry):
                continue
            with archive.open(entry) as file:
                _read_through(file, entry)
        except BROKEN as error:
            raise ReadError(
                "broken-zip", f"{entry.filename} in the workbook cannot be read.", remedy="Save it again."
            ) from error


def _plainly_small(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bool:
    """Whether all that a file could take for references of cells, each of them plain, spans few enough cells. Where it
    does not, the file is read through as XML, ten times as slowly."""
    rows, columns, left = 0, 0, b""
    with archive.open(entry) as file:
        if b"worksheet" not in file.peek(_STEP)[:2_000]:  # type: ignore[attr-defined]
            return False
        while part := file.read(_STEP):
            text = left + part
            end = text.rfind(b">") + 1
            text, left = text[:end], text[end:]
            listed = b",".join(_ATTRIBUTE.findall(text))
            if b":" in listed:  # the address of a namespace
                listed = b",".join(item for item in listed.split(b",") if b":" not in item)
            named = _LETTERS.findall(listed)
            if len(left) > _STEP or b"\x00" in text or not _PLAIN.fullmatch(listed):
                return False
            if sum(map(text.count, _CELLS)) != len(named):  # some stand where they are counted to
                return False
            rows = max([rows, *map(int, _DIGITS.findall(listed))])
            columns = max([columns, *(_column(letters.decode()) for letters in set(named))])
    return rows <= _ROWS and columns <= _COLUMNS and rows * columns <= MOST_SHEET_CELLS


def _read_through(file: IO[bytes], entry: zipfile.ZipInfo) -> None:
    parser = expat.ParserCreate()
    reader = _Reader(entry.file_size)
    parser.StartElementHandler = reader.start
    parser.EndElementHandler = reader.end
    try:
        while not reader.done and (part := file.read(_STEP)):
            parser.Parse(part, False)
    except expat.ExpatError:
        return  # no XML: the reader of workbooks says so where it matters


class _Reader:
    """What one file of a workbook spans: a sheet of .xlsx by the references of its cells, one of .ods by counting."""

    def __init__(self, size: int) -> None:
        self._size = size
        self.done = False
        self._root = ""
        self._cells_before = 0  # in the sheets of .ods before the one at hand
        self._restart()

    def _restart(self) -> None:
        self._row = self._column = 0  # where the cell at hand stands
        self._rows = self._columns = 0  # as far as cells are filled
        self._repeated_rows = self._repeated_columns = 1
        self._filled_to = 0  # in the current row
        self._within = False

    def start(self, name: str, attributes: Mapping[str, str]) -> None:
        local = name.rpartition(":")[2]
        if not self._root:
            self._root = local
            if local == "sst":
                self._check_strings(attributes)
            if local not in ("worksheet", "document-content"):
                self.done = True
        elif self._root == "worksheet":
            self._in_sheet(local, attributes)
        else:
            self._in_document(local, attributes)

    def _in_sheet(self, local: str, attributes: Mapping[str, str]) -> None:
        if local == "row":
            self._row = _whole(attributes.get("r"), self._row + 1)
            self._column = 0
        elif local == "c":
            self._column += 1
            reference = attributes.get("r")
            if reference is not None:
                self._row, self._column = _place(reference)
        elif local in ("v", "is"):
            self._filled(self._row, self._column)

    def _in_document(self, local: str, attributes: Mapping[str, str]) -> None:
        if local == "table":
            self._cells_before += self._rows * self._columns
            self._restart()
        elif local == "table-row":
            self._repeated_rows = _repeats(attributes, "number-rows-repeated")
            self._column = self._filled_to = 0
        elif local in ("table-cell", "covered-table-cell"):
            self._repeated_columns = _repeats(attributes, "number-columns-repeated")
            self._column += self._repeated_columns
            self._within = True
            if any(key.endswith(":value-type") for key in attributes):
                self._filled_to = self._column
        elif self._within and local == "p":
            self._filled_to = self._column

    def end(self, name: str) -> None:
        local = name.rpartition(":")[2]
        if local in ("table-cell", "covered-table-cell"):
            self._within = False
        elif local == "table-row" and self._root == "document-content":
            self._row += self._repeated_rows
            if self._filled_to:
                self._filled(min(self._row, _ROWS), min(self._filled_to, _COLUMNS))

    def _filled(self, row: int, column: int) -> None:
        if row > self._rows or column > self._columns:
            self._rows, self._columns = max(self._rows, row), max(self._columns, column)
            self.check()

    def check(self) -> None:
        rows, columns = self._rows, self._columns
        if rows > _ROWS or columns > _COLUMNS:
            raise ReadError(
                "no-such-cell",
                f"The workbook names a cell in row {grouped(rows)}, column {grouped(columns)}; a sheet has "
                f"{grouped(_ROWS)} rows and {grouped(_COLUMNS)} columns.",
                remedy="Save it again.",
            )
        cells = self._cells_before + rows * columns
        if cells > MOST_SHEET_CELLS:
            raise ReadError(
                "too-many-cells",
                f"The workbook has values as far as row {grouped(rows)}, column {grouped(columns)} of a sheet: "
                f"{grouped(cells)} cells; at most {grouped(MOST_SHEET_CELLS)} are read.",
                remedy="Delete what stands far from the table, or save the table as delimited text.",
            )

    def _check_strings(self, attributes: Mapping[str, str]) -> None:
        said = _whole(attributes.get("uniqueCount"), 0)
        if said > min(self._size, _MOST_STRINGS):
            raise ReadError(
                "broken-workbook",
                f"The workbook says that it holds {said} texts, and does not.",
                remedy="Save it again.",
            )


def _whole(text: str | None, otherwise: int) -> int:
    if text is None:
        return otherwise
    return int(text) if text.isascii() and text.isdecimal() and len(text) < 13 else 10**12


def _repeats(attributes: Mapping[str, str], name: str) -> int:
    return _whole(next((value for key, value in attributes.items() if key.endswith(name)), None), 1)


def _place(reference: str) -> tuple[int, int]:
    """Row and column of a reference such as B7, counted from 1."""
    result = _REFERENCE.fullmatch(reference)
    if result is None:
        raise ReadError("no-such-cell", f"{reference[:20]!r} is no cell of a sheet.", remedy="Save the workbook again.")
    return int(result[2]), _column(result[1])


def _column(letters: str) -> int:
    column = 0
    for letter in letters.upper():
        column = 26 * column + ord(letter) - 64
    return column
