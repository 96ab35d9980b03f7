"""What a script is made of: tables with where they come from and what was decided, and plates with what they show."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from heron.figure.source import Source
from heron.ledger import TableView
from heron.routine import Step
from heron.tables import TableSource


@dataclass(frozen=True)
class TableSpec:
    """A table. key: by which plates and other tables name it; python: its name in the script; path: of its file in the
    script's folder, "" for none; digest: the file's SHA-256; choices: how it was read; said: what was said of variables
    when it was read, by symbol; origin: how a table without a file was made: "how", "of" (keys), "options"; view: the
    table as it stands; steps: the decisions on it, to be taken again."""

    key: str
    name: str
    python: str
    path: str
    digest: str
    choices: Mapping[str, Any]
    said: Mapping[str, Mapping[str, Any]]
    origin: Mapping[str, Any]
    view: TableView
    steps: tuple[Step, ...]


@dataclass(frozen=True)
class PlateSpec:
    """A plate: its document as JSON, what each of its panels is of, and its caption."""

    name: str
    document: Mapping[str, Any]
    sources: tuple[Source, ...]
    caption: str


@dataclass(frozen=True)
class NumbersSpec:
    """A table of numbers: its document as JSON, what it is of, and its caption."""

    name: str
    document: Mapping[str, Any]
    source: TableSource
    caption: str


@dataclass(frozen=True)
class Script:
    """text: of the script; documents: what it draws plates and writes tables by, as JSON by path; notes: what it cannot carry, a sentence
    each."""

    text: str
    documents: Mapping[str, str]
    notes: tuple[str, ...]
