"""JSON: a list of records, one record a line, or one list a column."""

import json

from heron.errors import ReadError
from heron.intake.found import Guess
from heron.intake.raw import Raw, text_column
from heron.intake.sniff import MOST_COLUMNS

_SHAPES = "A list of records, one record a line, or an object with one list a column can be read."


def parse(text: bytes) -> Raw:
    """Return the records of a JSON text; what is nested stays as JSON in its cell. Numbers keep their digits."""
    shape, records = _records(text)
    names: dict[str, None] = {}
    for record in records:
        names.update(dict.fromkeys(record))
        if len(names) > MOST_COLUMNS:
            raise ReadError("too-many-columns", f"The records have over {MOST_COLUMNS} different fields.")
    if not names:
        raise ReadError("empty-file", "The file holds no record with a field.", remedy="Choose another file.")
    columns = [text_column([_cell(record.get(name)) for record in records]) for name in names]
    return Raw(columns, tuple(names), {"format": Guess("JSON", shape)})


def _records(text: bytes) -> tuple[str, list[dict[str, object]]]:
    whole = _loaded(text)
    if isinstance(whole, dict):
        lists = {name: part for name, part in whole.items() if isinstance(part, list)}
        if len(lists) == 1 and all(isinstance(item, dict) for item in next(iter(lists.values()))):
            name, records = next(iter(lists.items()))
            return f"a list of records under {name!r}", records
        if lists and len(lists) == len(whole) and len({len(part) for part in lists.values()}) == 1:
            rows = zip(*lists.values(), strict=True)
            return "one list a column", [dict(zip(lists, row, strict=True)) for row in rows]
        return "one record", [whole]
    if isinstance(whole, list):
        if whole and all(isinstance(item, dict) for item in whole):
            return "a list of records", whole
        if not whole:
            raise ReadError("empty-file", "The list is empty.", remedy="Choose another file.")
        raise ReadError("not-records", f"The list holds {_named(whole)}, not records.", remedy=_SHAPES)
    lines = [line for line in text.splitlines() if line.strip()]
    records = []
    for number, line in enumerate(lines, 1):
        record = _loaded(line)
        if not isinstance(record, dict):
            raise ReadError("not-records", f"Line {number} is no JSON record.", remedy=_SHAPES)
        records.append(record)
    return "one record a line", records


def _loaded(text: bytes) -> object:
    """The value, numbers as their own digits; None where this is no single JSON value."""
    try:
        return json.loads(text, parse_float=str, parse_int=str, parse_constant=lambda word: word)
    except (ValueError, RecursionError):
        return None


def _named(items: list[object]) -> str:
    odd = next(item for item in items if not isinstance(item, dict))
    return "lists" if isinstance(odd, list) else "single values"


def _cell(value: object) -> object:
    return json.dumps(value, ensure_ascii=False) if isinstance(value, dict | list) else value
