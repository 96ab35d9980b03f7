"""Every error of the core.

HeronError
├── InputError          the numbers given cannot be used
│   └── LengthMismatch  two arrays that belong together differ in length
├── ReadError           a file or text cannot be read as a table
├── ChoiceError         an option was given a value that it does not know
└── NotInstalled        a package that is needed is not there
"""

from collections.abc import Iterable, Sequence
from typing import Any


class HeronError(Exception):
    """Nothing can be computed. Says what happened, where, in which rows, and what to do.

    `code` is stable and meant for programs; `problem` and `remedy` are sentences for people; `rows` are row
    positions, counted from 0, of the offending values.
    """

    def __init__(self, code: str, problem: str, *, where: str = "", rows: Sequence[int] = (), remedy: str = "") -> None:
        super().__init__(f"{problem} {remedy}".strip())
        self.code = code
        self.problem = problem
        self.where = where
        self.rows = tuple(int(row) for row in rows)
        self.remedy = remedy


class InputError(HeronError):
    """The numbers given cannot be used."""


def all_rows_at_once(what: str) -> InputError:
    """Something that needs all values of a table that is too long for that."""
    return InputError(
        "all-rows-at-once",
        f"{what} needs all rows at once, which a table this long does not allow.",
        where="variable",
        remedy="Take some of its rows as a table of their own.",
    )


class LengthMismatch(InputError):
    """Two arrays that belong together differ in length."""


class ReadError(HeronError):
    """A file or text cannot be read as a table."""


class ChoiceError(HeronError):
    """An option was given a value that it does not know."""

    def __init__(self, given: object, allowed: Iterable[Any], *, where: str) -> None:
        listed = ", ".join(sorted(str(choice) for choice in allowed))
        super().__init__(
            "unknown-choice",
            f"{where} cannot be {given!r}.",
            where=where,
            remedy=f"Choose one of: {listed}.",
        )


class NotInstalled(HeronError, ImportError):
    """A package that is needed is not there."""

    def __init__(self, package: str, extra: str) -> None:
        super().__init__(
            "not-installed",
            f"This needs the package {package}.",
            where=package,
            remedy=f"Install it with: pip install 'velvet-heron[{extra}]'.",
        )
