"""Delimited text in its many forms, read into a table."""

import csv
import io
from collections.abc import Callable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv

from heron.checks import choose
from heron.columns import KINDS, Column, Kind, Table
from heron.errors import ReadError
from heron.intake.found import Guess, Intake, Problem
from heron.intake.kinds import ColumnSettings, typed
from heron.intake.names import label_and_unit, symbols
from heron.intake.sniff import (
    DELIMITER_WORDS,
    DELIMITERS,
    HEADERS,
    MOST_COLUMNS,
    Delimiter,
    Header,
    Layout,
    layout,
    split_blanks,
)
from heron.intake.text import ENCODINGS, LONGEST_LINE, Encoding, to_utf8
from heron.wording import counted

_THREADS = 2


def read(
    source: str | Path | bytes,
    filename: str = "",
    *,
    delimiter: Delimiter | None = None,
    decimal: str | None = None,
    encoding: Encoding | None = None,
    header: Header | None = None,
    missing_codes: Sequence[str] | None = None,
    kinds: Mapping[str, Kind] | None = None,
    on_progress: Callable[[float], None] | None = None,
) -> Intake:
    """Return the table that a delimited text holds, what was understood and what looks wrong.

    Parameters: source, a path or the bytes; filename, for the table's name when bytes are given. Each choice overrides
    what was found: delimiter ("" for one column, " " for runs of blanks); decimal "." or ","; encoding; header "names",
    "names-and-units" or "none"; missing_codes, the values that mean missing in every column (blank always does), in
    place of the well-known ones; kinds by symbol. on_progress is called with the share done, from 0 to 1; what it
    raises stops the reading.
    Returns: Intake; row i of the table is record i + 1 of the text: comment and empty lines are no records.
    Raises: ReadError, saying what was found in place of a table; ChoiceError.
    """
    path = None if isinstance(source, bytes) else Path(source)
    data = path.read_bytes() if path else source
    assert isinstance(data, bytes)
    _check_choices(delimiter, decimal, encoding, header, kinds)
    report = on_progress or (lambda share: None)
    plain = to_utf8(data, encoding)
    del data
    report(0.1)
    found = layout(plain.data, delimiter, header, decimal)
    columns_text, ragged = _parse(plain.data, found)
    report(0.3)
    headers = [label_and_unit(name) for name in found.names]
    headers += [("", "")] * (len(columns_text) - len(headers))
    names = symbols([label for label, _ in headers])
    settings = [
        ColumnSettings(
            symbol,
            label or symbol.replace("_", " "),
            (found.units[i].strip("()[] ") if i < len(found.units) and found.units[i] else unit),
            found.decimal.value,
            (kinds or {}).get(symbol),
            None if missing_codes is None else tuple(missing_codes),
        )
        for i, (symbol, (label, unit)) in enumerate(zip(names, headers, strict=True))
    ]
    columns: dict[str, Column] = {}
    problems: list[Problem] = [*_duplicate_names(found, names), *ragged]
    with ThreadPoolExecutor(_THREADS) as pool:
        for done, (column, own) in enumerate(pool.map(typed, columns_text, settings), 1):
            columns[column.symbol] = column
            problems += own
            report(0.3 + 0.7 * done / len(settings))
    n_rows = len(columns_text[0])
    problems += _blank_rows(columns, n_rows)
    title = Path(filename or (path.name if path else "")).stem
    guesses = {
        "delimiter": found.delimiter,
        "decimal": found.decimal,
        "encoding": plain.encoding,
        "header": found.header,
        "missing_codes": _codes_guess(columns, missing_codes),
        "comments": Guess(plain.n_comments, "lines that begin with # are no records"),
    }
    n_missing = sum(column.n_missing for column in columns.values())
    return Intake(Table(title, n_rows, columns), guesses, tuple(problems), n_rows, n_missing)


def _check_choices(
    delimiter: str | None,
    decimal: str | None,
    encoding: str | None,
    header: str | None,
    kinds: Mapping[str, Kind] | None,
) -> None:
    choose(delimiter, (None, *DELIMITERS), where="delimiter")
    choose(decimal, (None, ".", ","), where="decimal")
    choose(encoding, (None, *ENCODINGS), where="encoding")
    choose(header, (None, *HEADERS), where="header")
    for kind in (kinds or {}).values():
        choose(kind, KINDS, where="kinds")


def _codes_guess(columns: dict[str, Column], asked: Sequence[str] | None) -> Guess:
    seen = dict.fromkeys(code for column in columns.values() for code in column.missing_codes if code != "blank")
    if asked is not None:
        return Guess(list(asked), "as you said")
    return Guess(list(seen), "words that often mean missing, among numbers" if seen else "only blanks are missing")


def _parse(text: bytes, found: Layout) -> tuple[list[pa.ChunkedArray], list[Problem]]:
    mark = found.delimiter.value
    if mark == " ":
        text, mark = split_blanks(text), "\t"
    quoted = b'"' in text
    width = len(found.names)
    if not mark:
        mark = "\x1f"  # a control character that no text holds
    names = [str(i) for i in range(width)]
    try:
        table = arrow_csv.read_csv(
            pa.BufferReader(text),
            read_options=arrow_csv.ReadOptions(
                column_names=names, skip_rows=found.header_lines, block_size=min(max(len(text) // 8, 1 << 20), 1 << 26)
            ),
            parse_options=arrow_csv.ParseOptions(
                delimiter=mark, newlines_in_values=quoted, ignore_empty_lines=width > 1
            ),
            convert_options=arrow_csv.ConvertOptions(
                column_types=dict.fromkeys(names, pa.string()), strings_can_be_null=False
            ),
        )
    except pa.ArrowInvalid:
        # Lines of unlike length, or a block with one very long line: the patient reader loses nothing.
        return _parse_ragged(text, mark, found)
    return table.columns, []


def _parse_ragged(text: bytes, mark: str, found: Layout) -> tuple[list[pa.ChunkedArray], list[Problem]]:
    csv.field_size_limit(LONGEST_LINE)
    reader = csv.reader(io.StringIO(text.decode()), delimiter=mark)
    try:
        records = [record for record in reader if record and reader.line_num > found.header_lines]
    except csv.Error as error:
        raise ReadError("not-a-table", f"Line {reader.line_num} cannot be parted into values: {error}.") from error
    lengths = np.array([len(record) for record in records], dtype=np.int64)
    expected = int(np.bincount(lengths).argmax()) if lengths.size else len(found.names)
    width = max(len(found.names), int(lengths.max(initial=0)))
    if width > MOST_COLUMNS:
        raise ReadError(
            "too-many-columns", f"A line has {width} values; at most {MOST_COLUMNS} are read.", where="delimiter"
        )
    columns = [
        pa.chunked_array([pa.array([record[i] if i < len(record) else "" for record in records], pa.string())])
        for i in range(width)
    ]
    odd = np.flatnonzero(lengths != expected)
    if not odd.size:
        return columns, []
    word = DELIMITER_WORDS.get(found.delimiter.value, "mark")
    problem = Problem(
        "unlike-lines",
        f"{counted(odd.size, 'line')} of {lengths.size} {'has' if odd.size == 1 else 'have'} more or fewer than the "
        f"{expected} values of the others (parted by {word}). Gaps were filled with blanks; what is too much stands in "
        "columns of its own.",
        "",
        tuple(odd[:100].tolist()),
        int(odd.size),
        (),
    )
    return columns, [problem]


def _duplicate_names(found: Layout, names: list[str]) -> list[Problem]:
    seen: dict[str, int] = {}
    problems = []
    for i, name in enumerate(found.names):
        if name and name in seen:
            problems.append(
                Problem("duplicate-name", f"{name} heads two columns; this one is now {names[i]}.", names[i], (), 1)
            )
        seen[name] = i
    return problems


def _blank_rows(columns: dict[str, Column], n_rows: int) -> list[Problem]:
    empty = np.ones(n_rows, dtype=bool)
    for column in columns.values():
        empty &= column.reasons == 1
        if not empty.any():
            return []
    rows = np.flatnonzero(empty)
    return [
        Problem(
            "blank-rows",
            f"{counted(rows.size, 'row')} without any value; kept, and counted as missing.",
            "",
            tuple(rows[:100].tolist()),
            int(rows.size),
        )
    ]
