"""Cells on their way out: what a spreadsheet would run as a formula leaves as text, whichever file it leaves in."""

import csv
import re
from collections.abc import Iterable, Sequence
from typing import Any

MARK = "'"
# A spreadsheet takes text that begins so for a formula, and runs it; text that begins so behind marks of ours is marked
# once more, so that taking one mark off gives back what it was.
_RUNS = re.compile(r"'*[=+\-@\t\r\n\uff0b\uff0d\uff1d\uff20]")
_NO_FORMULA = re.compile(r"[+\-](?:(?:\d+\.?\d*|\.\d+)(?:[eE][+\-]?\d+)?)?")  # a number, or a dash alone


def safe(text: str) -> str:
    """Return a text with an apostrophe before it where a spreadsheet would run it; numbers and a lone dash stay."""
    return MARK + text if _RUNS.match(text) and not _NO_FORMULA.fullmatch(text) else text


def unsafe(text: str) -> str:
    """Return the text that `safe` was given."""
    return text[1:] if text.startswith(MARK) and _RUNS.match(text) else text


def written(cell: Any) -> Any:
    """A cell as a sheet takes it: text safe, numbers with every digit they have, blank for None."""
    if isinstance(cell, str):
        return safe(cell)
    if cell is None:
        return ""
    return repr(cell) if isinstance(cell, float) else cell


def delimited(rows: Iterable[Sequence[Any]], *, mark: str = ",", line_end: str = "\n") -> str:
    """Return rows as delimited text; a cell that holds a line end of any kind is quoted, so that none begins a row."""
    lines: list[str] = []
    # What the writer knows as the end of a line is what it quotes.
    writer = csv.writer(_Lines(lines, line_end), delimiter=mark, lineterminator="\r\n")
    writer.writerows([written(cell) for cell in row] for row in rows)
    return "".join(lines)


class _Lines:
    """Takes the lines that a writer writes, each with another end."""

    def __init__(self, lines: list[str], end: str) -> None:
        self._lines, self._end = lines, end

    def write(self, line: str) -> None:
        self._lines.append(line.removesuffix("\r\n") + self._end)
