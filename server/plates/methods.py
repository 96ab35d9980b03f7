"""The methods paragraph of a study: its tables as they stand, and what the plates chosen use."""

import platform
from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass
from importlib.metadata import version
from typing import Any
from uuid import UUID

import heron
from heron import methods, numbering, tables
from heron.choices import Use
from heron.figure import uses_of
from heron.figure.source import Source
from heron.formatting import counted, typeset
from heron.ledger import decisions_in_force
from heron.methods import Decided, TableUsed
from heron.recipes import recipe_words
from heron.routine import described_words
from heron.tables import TableSource

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.plates.documents import PlateDocument, TablePlateDocument
from server.plates.models import Plate, TablePlate
from server.plates.selectors import table_of
from server.problems import Refusal
from server.studies.snapshots import TableSnapshot

_PACKAGES = ("numpy", "scipy", "statsmodels")
_TOLD = ("set-aside", "correct", "describe", "reread")


@dataclass(frozen=True)
class Used:
    """What plates and tables of numbers use. section: in words for a paper; tables: each as it stands."""

    section: methods.Methods
    tables: tuple[tuple[TableSnapshot, TableUsed], ...]
    software: dict[str, str]


def used_by(user: User, plates: Sequence[Plate], of_numbers: Sequence[TablePlate] = ()) -> Used:
    """What was read, decided and computed for plates and tables of numbers."""
    sources: list[Source | TableSource] = []
    for plate in plates:
        sources += PlateDocument.model_validate(plate.document).sources
    for numbers in of_numbers:
        sources += TablePlateDocument.model_validate(numbers.document).sources
    known: dict[UUID, TableSnapshot] = {}
    for key in dict.fromkeys(source.table for source in sources):
        with suppress(Refusal):  # a table that was removed since has nothing to tell
            known[key] = table_of(user, key)
    sources = [source for source in sources if source.table in known]
    used: dict[Any, set[str]] = {key: set() for key in known}
    for source in sources:
        used[source.table] |= source.symbols
    software = {"Velvet Heron": heron.__version__, "Python": platform.python_version()}
    software |= {name: version(name) for name in _PACKAGES}
    uses = [use for source in sources for use in _uses(source, known[source.table])]
    described = [_table(table, used[key]) for key, table in known.items()]
    section = methods.methods_section(described, uses, software)
    return Used(section, tuple(zip(known.values(), described, strict=True)), software)


def _uses(source: Source | TableSource, table: TableSnapshot) -> list[Use]:
    return tables.uses_of(source, table) if isinstance(source, TableSource) else uses_of(source, table)


def _table(table: TableSnapshot, symbols: set[str]) -> TableUsed:
    variables = table.variables
    used = [variable for variable in variables if variable.symbol in symbols]
    missing: dict[str, int] = {}
    for variable in used:
        for code, n in variable.missing_counts.items():
            missing[code] = missing.get(code, 0) + n
    by_number = {entry.number: entry for entry in ledger.entries(table.row)}
    labels = {variable.symbol: typeset(variable.label) for variable in variables}
    decided = []
    for decision in decisions_in_force(ledger.decisions(list(by_number.values()))):
        entry = by_number[decision.number]
        if decision.kind in _TOLD and _concerns(entry, symbols):
            decided.append(Decided(decision.number, decision.kind, entry.n_rows, _words(entry, labels), _reason(entry)))
    derived = tuple(
        f"{labels[variable.symbol]} is {recipe_words(variable.recipe, labels)}" for variable in used if variable.recipe
    )
    file = table.source
    how = f"read from {file.name}" if file else table.origin.get("how", "made here")
    return TableUsed(
        table.name, how, file.sha256 if file else "", table.n_rows, len(variables), tuple(sorted(missing.items())),
        tuple(decided), derived,
    )  # fmt: skip


def _reason(entry: Entry) -> str:
    return entry.reason.strip().rstrip(".")


def _concerns(entry: Entry, symbols: set[str]) -> bool:
    """Whether a decision is on rows, or on a variable that is used."""
    if entry.kind == "set-aside":
        return not entry.variable or entry.variable in symbols
    return entry.kind == "reread" or bool(symbols & set(entry.changes)) or "" in entry.changes


def _words(entry: Entry, labels: dict[str, str]) -> str:
    if entry.kind == "set-aside":
        named = ", ".join(map(str, numbering.first_rows(entry.rows, 6))) + (" and more" if entry.n_rows > 6 else "")
        if entry.variable:
            of = labels.get(entry.variable, entry.variable)
            return f"{counted(entry.n_rows, 'value')} of {of} ({'row' if entry.n_rows == 1 else 'rows'} {named})"
        return f"{counted(entry.n_rows, 'row')} ({named})"
    names = ", ".join(labels.get(symbol, symbol) or "the table" for symbol in entry.changes)
    if entry.kind == "correct":
        cells = sum(len(cells) for cells in entry.changes.values() if isinstance(cells, dict))
        return f"{counted(cells, 'cell')} of {names} {'was' if cells == 1 else 'were'} corrected"
    return "the file was read again" if entry.kind == "reread" else described_words(entry.changes, labels)
