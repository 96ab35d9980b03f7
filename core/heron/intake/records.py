"""JSON: a list of records, one record after the other, or one list a column."""

import json
from collections.abc import Iterator

import pyarrow as pa

from heron.errors import ReadError
from heron.intake.found import Guess
from heron.intake.raw import Raw, text_column
from heron.intake.sniff import MOST_COLUMNS

_SHAPES = "A list of records, one record a line, or an object with one list a column can be read."
_BATCH = 50_000  # records that are held as such at a time
_SPACE = " \t\r\n"
_decoder = json.JSONDecoder(parse_float=str, parse_int=str, parse_constant=lambda word: word)


def parse(text: bytes) -> Raw:
    """Return the records of a JSON text; what is nested stays as JSON in its cell. Numbers keep their digits."""
    shape, records = _records(text.decode())
    columns: dict[str, list[pa.Array]] = {}
    rows, batch = 0, []
    for record in records:
        batch.append(record)
        if len(batch) == _BATCH:
            rows = _take(batch, columns, rows)
    rows = _take(batch, columns, rows)
    if not columns:
        raise ReadError("empty-file", "The file holds no record with a field.", remedy="Choose another file.")
    whole: list[pa.ChunkedArray] = [pa.chunked_array(parts, pa.string()) for parts in columns.values()]
    return Raw(whole, tuple(columns), {"format": Guess("JSON", shape)})


def _take(batch: list[dict[str, object]], columns: dict[str, list[pa.Array]], rows: int) -> int:
    """Put a batch of records, which is emptied, behind the columns; return how many rows these have then."""
    for name in dict.fromkeys(name for record in batch for name in record):
        columns.setdefault(name, [pa.repeat("", rows)] if rows else [])
        if len(columns) > MOST_COLUMNS:
            raise ReadError("too-many-columns", f"The records have over {MOST_COLUMNS} different fields.")
    for name, parts in columns.items():
        parts.append(text_column([_cell(record.get(name)) for record in batch], rows))
    rows += len(batch)
    batch.clear()
    return rows


def _records(text: str) -> tuple[str, Iterator[dict[str, object]]]:
    begin = _behind_space(text, 0)
    if text[begin : begin + 1] == "[":
        first = _behind_space(text, begin + 1)
        if text[first : first + 1] == "]":
            raise ReadError("empty-file", "The list is empty.", remedy="Choose another file.")
        return "a list of records", _checked(text, _listed(text, begin + 1), "Item")
    try:
        whole, end = _decoder.raw_decode(text, begin)
    except (ValueError, RecursionError):
        whole, end = None, 0
    if not isinstance(whole, dict) or _behind_space(text, end) < len(text):
        return "one record a line", _checked(text, _after_each_other(text, begin), "Record")
    lists = {name: part for name, part in whole.items() if isinstance(part, list)}
    if len(lists) == 1 and all(isinstance(item, dict) for item in next(iter(lists.values()))):
        name, records = next(iter(lists.items()))
        return f"a list of records under {name!r}", iter(records)
    if lists and len(lists) == len(whole) and len({len(part) for part in lists.values()}) == 1:
        rows = zip(*lists.values(), strict=True)
        return "one list a column", (dict(zip(lists, row, strict=True)) for row in rows)
    return "one record", iter([whole])


def _checked(text: str, values: Iterator[object], called: str) -> Iterator[dict[str, object]]:
    """The values where they are records; ReadError at the first that is none."""
    number = 0
    try:
        for number, value in enumerate(values, 1):
            if not isinstance(value, dict):
                what = "a list" if isinstance(value, list) else "a single value"
                raise ReadError("not-records", f"{called} {number} is {what}, no record.", remedy=_SHAPES)
            yield value
    except (ValueError, RecursionError):
        raise ReadError("not-records", f"{called} {number + 1} is no JSON record.", remedy=_SHAPES) from None


def _listed(text: str, at: int) -> Iterator[object]:
    """The items of a list, one by one; ValueError where it breaks off. at: behind its bracket."""
    mark = ","
    while mark == ",":
        value, at = _decoder.raw_decode(text, _behind_space(text, at))
        yield value
        at = _behind_space(text, at)
        mark, at = text[at : at + 1], at + 1
    if mark != "]" or _behind_space(text, at) < len(text):
        raise ValueError


def _after_each_other(text: str, at: int) -> Iterator[object]:
    while at < len(text):
        value, at = _decoder.raw_decode(text, at)
        yield value
        at = _behind_space(text, at)


def _behind_space(text: str, at: int) -> int:
    while at < len(text) and text[at] in _SPACE:
        at += 1
    return at


def _cell(value: object) -> object:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else value
