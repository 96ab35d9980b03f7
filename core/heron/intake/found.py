"""What reading a file tells: the table, each guess with its reason, and the questions that remain."""

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from heron.columns import Table
from heron.results import Result

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True)
class Guess:
    """Something that was understood from the file, and why; `value` is what `read` takes to say otherwise."""

    value: Any
    why: str


@dataclass(frozen=True)
class Remedy:
    """One way out of a problem: the words for it, and the choices that `read` takes to do it."""

    words: str
    choices: dict[str, Any]


@dataclass(frozen=True)
class Problem:
    """Something that looks wrong; rows are row positions, counted from 0, at most 100 of the `count` concerned."""

    code: str
    problem: str
    symbol: str
    rows: tuple[int, ...]
    count: int
    remedies: tuple[Remedy, ...] = ()


@dataclass(frozen=True)
class Intake(Result):
    """A table as read. n: rows; n_missing: cells without a value; beside: other tables of the same sheet."""

    table: Table
    found: dict[str, Guess]
    problems: tuple[Problem, ...]
    n: int
    n_missing: int
    beside: tuple[Table, ...] = ()
    undefined: dict[str, str] = field(default_factory=dict)

    def to_frame(self) -> "pd.DataFrame":
        """Return the variables as a pandas table, a row for each."""
        import pandas as pd

        columns = self.table.columns.values()
        return pd.DataFrame(
            {
                "label": [column.label for column in columns],
                "unit": [column.unit for column in columns],
                "kind": [column.kind for column in columns],
                "missing": [column.n_missing for column in columns],
            },
            index=list(self.table),
        )

    def __repr__(self) -> str:
        asked = [f"{problem.symbol}: {problem.problem}" for problem in self.problems]
        return "\n".join([repr(self.table), *asked])
