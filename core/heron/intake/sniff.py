"""What a delimited text looks like: delimiter, header, decimal mark, from its first lines."""

import csv
import io
import re
from collections import Counter
from dataclasses import dataclass
from itertools import pairwise, zip_longest
from typing import Literal

from heron.errors import ReadError
from heron.intake.found import Guess

Delimiter = Literal[",", ";", "\t", "|", " ", ""]
DELIMITERS: tuple[Delimiter, ...] = (",", ";", "\t", "|", " ", "")
Header = Literal["names", "names-and-units", "groups-and-names", "none"]
HEADERS: tuple[Header, ...] = ("names", "names-and-units", "groups-and-names", "none")
DELIMITER_WORDS = {
    ",": "comma", ";": "semicolon", "\t": "tab", "|": "vertical bar", " ": "blanks", "": "nothing: one column",
}  # fmt: skip
MOST_COLUMNS = 5_000
_HEAD_BYTES = 256 * 1024
_HEAD_RECORDS = 200

NUMBER = re.compile(r"[-+\u2212]?(\d+([.,]\d*)?|[.,]\d+)([eE][-+]?\d+)?")
_TELLS_DELIMITER = re.compile(r"\"?sep=([,;\t|])\"?[ \t]*\n", re.IGNORECASE)
_TAIL = r"([eE][-+]?\d+)?(\s?([^\W\d]{1,7}|%))?"
_DECIMAL_COMMA = re.compile(r"[-+\u2212]?(\d*|\d{1,3}(\.\d{3})+),\d+" + _TAIL)
_DECIMAL_POINT = re.compile(r"[-+\u2212]?(\d*|\d{1,3}(,\d{3})+)\.\d+" + _TAIL)


@dataclass(frozen=True)
class Layout:
    """How the text is laid out: each guess, the names and units of the columns, and the line with which they end."""

    delimiter: Guess
    above: Guess
    header: Guess
    decimal: Guess
    names: tuple[str, ...]
    units: tuple[str, ...]
    header_lines: int


def layout(
    text: bytes, delimiter: str | None, header: str | None, decimal: str | None, above: int | None = None
) -> Layout:
    """Return the layout found in UTF-8 text, with what was chosen taken as given."""
    head = text[:_HEAD_BYTES]
    if len(text) > _HEAD_BYTES and b"\n" in head:
        head = head[: head.rindex(b"\n") + 1]
    lines = head.decode("utf-8", errors="replace")
    told = _TELLS_DELIMITER.match(lines)
    if delimiter is not None:
        parted = Guess(delimiter, "as you said")
    else:
        parted = Guess(told[1], "the first line says so") if told else _delimiter(lines)
    records, ends = _records(lines, parted.value)
    if not records:
        raise ReadError("empty-file", "The file holds no value.", remedy="Choose another file.")
    n_title = sum(end <= above for end in ends) if above is not None else _n_title(records, header, bool(told))
    if n_title == len(records):
        raise ReadError(
            "nothing-below", f"Below line {above} there is no value.", where="above", remedy="Leave out fewer lines."
        )
    over = ends[n_title - 1] if n_title else 0
    title = Guess(over, "they hold less than the lines below") if n_title else Guess(0, "the table begins at the top")
    title = title if above is None else Guess(above, "as you said")
    records, ends = records[n_title:], ends[n_title:]
    width = max(len(record) for record in records)
    if width > MOST_COLUMNS:
        raise ReadError(
            "too-many-columns",
            f"The file has {width} columns; at most {MOST_COLUMNS} are read.",
            where="delimiter",
            remedy="Check the delimiter, or split the file.",
        )
    top = Guess(header, "as you said") if header is not None else header_of(records)
    n_header = {"none": 0, "names": 1}.get(top.value, 2)
    names = records[0] if n_header else []
    second = records[1] if n_header == 2 and len(records) > 1 else []
    units = second if top.value == "names-and-units" else []
    if top.value == "groups-and-names":
        names = [" ".join(filter(None, pair)) for pair in zip_longest(_spread_out(names), second, fillvalue="")]
    mark = Guess(decimal, "as you said") if decimal is not None else _decimal(records[n_header:], parted.value)
    return Layout(
        parted,
        title,
        top,
        mark,
        tuple(_filled(names, width)),
        tuple(_filled(units, width)),
        ends[min(n_header, len(ends)) - 1] if n_header else max(over, title.value),
    )


def _n_title(records: list[list[str]], header: str | None, told: bool) -> int:
    """How many records stand above the names: a title, or pairs of a word and what it says, with gaps to their right.

    They are told by holding far less than most of the records do; and only where names are found below them. told:
    whether the first one only says what parts the values.
    """
    if told and len(records) > 1:
        return 1 + _n_title(records[1:], header, False)
    filled = [sum(bool(cell.strip()) for cell in record) for record in records]
    held = Counter(n for n in filled if n)
    usual = max(held, key=lambda n: (held[n], n), default=0)

    numbers = any(
        _is_number(cell) for record in records[1:] for cell in record
    )  # two words a line are names or a title

    def is_above(record: list[str], n: int) -> bool:
        few = usual > 2 * n if len(record) > 1 or usual > 2 else usual == 2 and numbers
        return n == 0 or (n <= 2 and few and all(cell.strip() for cell in record[:n]))

    below = next((i for i, (record, n) in enumerate(zip(records, filled, strict=True)) if not is_above(record, n)), 0)
    if header == "none" or not any(filled[:below]) or header_of(records[below:]).value == "none":
        return 0
    return below


def _spread_out(groups: list[str]) -> list[str]:
    """Names of groups, each standing over the gaps to its right too."""
    spread, last = [], ""
    for group in groups:
        last = group.strip() or last
        spread.append(last)
    return spread


def split_blanks(text: bytes) -> bytes:
    """Blank-separated text with single tabs in place of runs of blanks."""
    return re.sub(rb"(?m)^\t|\t$", b"", re.sub(rb"[ \t]+", b"\t", text))


def _filled(cells: list[str], width: int) -> list[str]:
    return [cell.strip() for cell in cells] + [""] * (width - len(cells))


def _records(lines: str, delimiter: str) -> tuple[list[list[str]], list[int]]:
    """The first records that are not empty, and the line on which each ends."""
    if delimiter == " ":
        lines = split_blanks(lines.encode()).decode()
    records, ends = [], []
    # A delimiter that no text holds makes a record of the whole line.
    reader = csv.reader(io.StringIO(lines), delimiter={"": "\x1f", " ": "\t"}.get(delimiter, delimiter))
    try:
        for record in reader:
            if record:
                records.append(record)
                ends.append(reader.line_num)
            if len(records) >= _HEAD_RECORDS:
                break
    except csv.Error as error:
        raise ReadError("not-a-table", f"Line {reader.line_num} cannot be parted into values: {error}.") from error
    return records, ends


def _delimiter(lines: str) -> Guess:
    best: tuple[float, str, str] = (0.0, "", "")
    for mark in ("\t", ";", "|", ",", " "):
        if (mark if mark != " " else " ") not in lines:
            continue
        try:
            widths = Counter(len(record) for record in _records(lines, mark)[0])
        except ReadError:
            continue
        width, count = max(widths.items(), key=lambda item: (item[1], item[0]))
        if width < 2:
            continue
        total = sum(widths.values())
        # Blanks also part words within values, so they must part all lines alike to win.
        share = count / total if mark != " " or count == total else 0.0
        if share > best[0] + 0.02:
            best = (share, mark, f"it parts {count} of the first {total} lines into {width} values")
    if best[0] < 0.5:
        return Guess("", "no mark parts the lines alike")
    return Guess(best[1], best[2])


def _is_number(cell: str) -> bool:
    return NUMBER.fullmatch(cell.strip()) is not None


def _value(cell: str) -> float:
    return float(cell.strip().replace(",", ".").replace("\u2212", "-"))


def _names_are_numbers(first: list[str], body: list[list[str]]) -> bool:
    """Whether a line such as "id, 10, 20, 30" names columns: words, then numbers that rise, unlike those below."""
    words = [i for i, cell in enumerate(first) if not _is_number(cell)]
    numbers = [cell for cell in first if _is_number(cell)]
    if (
        not body
        or len(numbers) < 2
        or words != list(range(len(words)))
        or not words
        or not any(first[i] for i in words)
    ):
        return False
    values = [_value(cell) for cell in numbers]
    if any(later <= earlier for earlier, later in pairwise(values)):
        return False
    above_numbers = any(_is_number(record[0].strip()) for record in body if record)
    below = [record[i].strip() for record in body for i in range(len(words), min(len(record), len(first)))]
    finer = all(value.is_integer() for value in values) and any(
        _is_number(cell) and not _value(cell).is_integer() for cell in below
    )
    return above_numbers or finer


def header_of(records: list[list[str]]) -> Guess:
    """What the first lines of some records are: names, names and units, or values already."""
    first = [cell.strip() for cell in records[0]]
    if any(_is_number(cell) for cell in first):
        if _names_are_numbers(first, records[1:]):
            return Guess("names", "the first line holds a word, and numbers in their order above others")
        return Guess("none", "the first line holds numbers")
    if len(records) == 1:
        return Guess("names", "the only line holds no number")
    body = records[2:] if len(records) > 2 else records[1:]
    columns = range(min(len(record) for record in records))
    numeric = [
        c
        for c in columns
        if body and sum(_is_number(r[c]) for r in body) > 0.5 * sum(bool(r[c].strip()) for r in body) > 0
    ]
    if numeric:
        second = [records[1][c].strip() for c in numeric]
        if (
            len(records) > 2
            and any(second)
            and not any(_is_number(cell) for cell in second)
            and all(_may_be_unit(cell) for cell in second)
        ):
            return Guess("names-and-units", "the second line holds words above columns of numbers")
        return Guess("names", "the first line holds words above columns of numbers")
    if len(set(first)) < len(first) or "" in first:
        return Guess("none", "the first line repeats itself or has gaps")
    if any(first[c] in {record[c].strip() for record in records[1:]} for c in columns):
        return Guess("none", "words of the first line occur below it")
    return Guess("names", "the words of the first line occur nowhere below")


def _may_be_unit(cell: str) -> bool:
    return len(cell) <= 12 and cell.lower() not in _GAPS and not re.match(r"[\d<>]", cell)


_GAPS = frozenset({"", "na", "n/a", "n/r", "nan", "-", "--", ".", "?"})


def _decimal(records: list[list[str]], delimiter: str) -> Guess:
    cells = [cell.strip() for record in records for cell in record]
    commas = sum(_DECIMAL_COMMA.fullmatch(cell) is not None for cell in cells)
    points = sum(_DECIMAL_POINT.fullmatch(cell) is not None for cell in cells)
    if commas > points and delimiter != ",":
        return Guess(",", f"{commas} values are written with a comma, {points} with a point")
    return Guess(".", f"{points} values are written with a point" if points else "no value has a decimal mark")
