"""What a script is made of: tables with where they come from and what was decided, and plates with what they show."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from heron import frequency, outliers
from heron.columns import Column
from heron.figure.scene import Scene
from heron.ledger import TableState
from heron.routine import Step
from heron.wording import typeset

_MANY = 5_000


@dataclass(frozen=True)
class TableSpec:
    """A table. key: by which plates and other tables name it; python: the name of its frame; path: of its file in the
    script's folder, "" for none; data: the bytes of the file; choices: how it was read; digest: its SHA-256; origin: how
    a table without a file was made: "how", "of" (keys), "options"; columns: as they stand, what is set aside still in
    them, by symbol, in their order; original: the symbols of those that the file itself holds; bounds_of: (lower, upper)
    by symbol; state: to which its decisions come; steps: those, to be taken again."""

    key: str
    name: str
    python: str
    path: str
    data: bytes
    choices: Mapping[str, Any]
    digest: str
    origin: Mapping[str, Any]
    columns: Mapping[str, Column]
    original: tuple[str, ...]
    bounds_of: Mapping[str, tuple[float | None, float | None]]
    state: TableState
    steps: tuple[Step, ...]

    @property
    def unit_variable(self) -> str:
        return str(self.state.description("").get("unit_variable") or "")

    @property
    def many(self) -> bool:
        """Whether there are more rows than scipy's W is meant for."""
        return next(iter(self.columns.values())).n_rows > _MANY

    def bounds(self, symbol: str, *, log: bool = False) -> tuple[float | None, float | None]:
        import math

        low, high = self.bounds_of.get(symbol, (None, None))
        if not log:
            return low, high
        return tuple(math.log10(end) if end and end > 0 else None for end in (low, high))  # type: ignore[return-value]

    def unit(self, symbol: str) -> str:
        return typeset(self.columns[symbol].unit)

    def label(self, symbol: str) -> str:
        return typeset(self.columns[symbol].label)

    def raw_label(self, symbol: str) -> str:
        return self.columns[symbol].label

    def is_labels(self, symbol: str) -> bool:
        return self.columns[symbol].codes is not None

    def usual_classes(self, symbol: str) -> frequency.Usual:
        """How classes are cut where nobody says."""
        column = self.columns[symbol]
        return frequency.usual(
            () if column.numbers is None else column.numbers, kind=column.kind, decimals=column.decimals
        )

    def options_of(self, rule: str, options: Mapping[str, Any]) -> dict[str, Any]:
        return {name: value for name, value in options.items() if name in outliers.OPTIONS.get(rule, ())}


@dataclass(frozen=True)
class PlateSpec:
    """A plate: its document as JSON, what each of its panels shows, and its caption."""

    name: str
    document: Mapping[str, Any]
    scenes: tuple[Scene, ...]
    caption: str


@dataclass(frozen=True)
class Script:
    """text: of the script; documents: what it draws plates by, as JSON by path; notes: what it cannot carry, a sentence
    each."""

    text: str
    documents: Mapping[str, str]
    notes: tuple[str, ...]
