"""Lines of Python, written safely: whatever somebody typed stands in a literal or in a comment of one line."""

import textwrap
from collections.abc import Iterable, Mapping
from typing import Any


def comment(text: str, width: int = 110) -> list[str]:
    """Text as lines of comment."""
    plain = " ".join(text.split())
    return [f"# {line}" for line in textwrap.wrap(plain, width, break_long_words=False)] or ["#"]


def call(name: str, *given: str, **settings: Any) -> str:
    """A call; settings of None are left out."""
    said = [*given, *(f"{key}={value!r}" for key, value in settings.items() if value is not None)]
    return f"{name}({', '.join(said)})"


def indented(lines: Iterable[str], by: int = 1) -> list[str]:
    return ["    " * by + line if line else line for line in lines]


def runs(result: Iterable[Iterable[int]]) -> str:
    """Runs of row numbers as rows(...) takes them."""
    parts = [str(first) if first == last else f"({first}, {last})" for first, last in result]
    return f"rows({', '.join(parts)})"


def name_of(text: str, taken: Mapping[str, Any] | set[str]) -> str:
    """A Python name from words, unlike those taken."""
    from heron.intake import symbols

    made = symbols([*taken, text])[-1]
    return made if made.isascii() and made.isidentifier() else name_of("table", taken)
