"""Delimited text in its many forms, parted into columns."""

import csv
import io

import numpy as np
import pyarrow as pa
from pyarrow import csv as arrow_csv

from heron.errors import ReadError
from heron.formatting import counted
from heron.intake.found import Guess, Problem
from heron.intake.raw import Raw
from heron.intake.sniff import (
    DELIMITER_WORDS,
    MOST_COLUMNS,
    Delimiter,
    Header,
    Layout,
    layout,
    split_blanks,
)
from heron.intake.text import LONGEST_LINE, Encoding, to_utf8


def parse(
    data: bytes,
    *,
    delimiter: Delimiter | None,
    decimal: str | None,
    encoding: Encoding | None,
    header: Header | None,
    above: int | None,
) -> Raw:
    """Return the columns of a delimited text, and how it was parted. Comment and empty lines are no records."""
    plain = to_utf8(data, encoding)
    result = layout(plain.data, delimiter, header, decimal, above)
    columns, ragged = _parse(plain.data, result)
    guesses = {
        "format": Guess("delimited text", "it is text"),
        "delimiter": result.delimiter,
        "decimal": result.decimal,
        "encoding": plain.encoding,
        "above": result.above,
        "header": result.header,
        "comments": Guess(plain.n_comments, "lines that begin with # are no records"),
    }
    return Raw(columns, result.names, guesses, result.units, result.decimal.value, tuple(ragged))


def _parse(text: bytes, layout: Layout) -> tuple[list[pa.ChunkedArray], list[Problem]]:
    mark = layout.delimiter.value
    if mark == " ":
        text, mark = split_blanks(text), "\t"
    quoted = b'"' in text
    width = len(layout.names)
    if not mark:
        mark = "\x1f"  # a control character that no text holds
    names = [str(i) for i in range(width)]
    try:
        table = arrow_csv.read_csv(
            pa.BufferReader(text),
            read_options=arrow_csv.ReadOptions(
                column_names=names, skip_rows=layout.header_lines, block_size=min(max(len(text) // 8, 1 << 20), 1 << 26)
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
        return _parse_ragged(text, mark, layout)
    return table.columns, []


def _parse_ragged(text: bytes, mark: str, layout: Layout) -> tuple[list[pa.ChunkedArray], list[Problem]]:
    csv.field_size_limit(LONGEST_LINE)
    reader = csv.reader(io.StringIO(text.decode()), delimiter=mark)
    try:
        records = [record for record in reader if record and reader.line_num > layout.header_lines]
    except csv.Error as error:
        raise ReadError("not-a-table", f"Line {reader.line_num} cannot be parted into values: {error}.") from error
    lengths = np.array([len(record) for record in records], dtype=np.int64)
    expected = int(np.bincount(lengths).argmax()) if lengths.size else len(layout.names)
    width = max(len(layout.names), int(lengths.max(initial=0)))
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
    word = DELIMITER_WORDS.get(layout.delimiter.value, "mark")
    problem = Problem(
        "unlike-lines",
        f"{counted(odd.size, 'line')} of {lengths.size} {'has' if odd.size == 1 else 'have'} more or fewer than the "
        f"{expected} values of the others (separated by {word}). Gaps were filled with blanks; what is too much stands "
        "in columns of its own.",
        "",
        tuple(odd[:100].tolist()),
        int(odd.size),
        (),
    )
    return columns, [problem]
