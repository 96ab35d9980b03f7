import json
from collections.abc import Collection
from copy import copy
from dataclasses import dataclass
from hashlib import sha256
from typing import Any
from uuid import UUID

import numpy as np
from heron import derived, numbering, record
from heron.checks import Ints
from heron.columns import Column
from heron.columns import Table as CoreTable
from heron.errors import HeronError
from heron.record import Decision
from heron.routine import Step, steps_of
from heron.routine import digest as routine_digest
from heron.variables import SHAPING

from server.accounts.models import User
from server.ledger.models import Entry
from server.problems import Refusal
from server.studies import selectors as studies
from server.studies import shapes, store
from server.studies.models import Table, Variable


def entries(table: Table) -> list[Entry]:
    return list(table.entries.select_related("author"))


def decisions(found: list[Entry]) -> list[Decision]:
    """The entries as the core replays them."""
    return [
        Decision(
            entry.number,
            entry.kind,  # type: ignore[arg-type]
            tuple((a, b) for a, b in entry.rows),
            entry.variable,
            entry.of,
            entry.changes,
        )
        for entry in found
    ]


def steps(table: Table) -> tuple[Step, ...]:
    """What the decisions on a table come to, as steps that can be taken again."""
    found = entries(table)
    return steps_of(decisions(found), {entry.number: entry.reason for entry in found})


def digest(table: Table) -> str:
    """The digest of what a table stands on: its source, how it was read, the steps; not who took them, and when."""
    if table.source is not None:
        source = table.source.sha256
    else:
        made = table.made or {}
        of = Table.objects.filter(study=table.study_id).select_related("source").in_bulk(made.get("of", []))
        own = [
            made.get("how"),
            made.get("options"),
            [digest(of[UUID(each)]) for each in made.get("of", []) if UUID(each) in of],
        ]
        source = sha256(json.dumps(own, sort_keys=True).encode()).hexdigest()
    return routine_digest(source, table.readings[table.reading].get("choices", {}), steps(table))


def table(user: User, table_id: UUID, at: int | None = None) -> Table:
    """The table as it stands, or as it stood at a revision; never to be saved when it is looked back at."""
    found = studies.table(user, table_id)
    if at is None or at == found.revision:
        return found
    taken = [entry for entry in entries(found) if entry.revision_after <= at]
    if at < 1 or (taken[-1].revision_after if taken else 1) != at:
        raise Refusal(
            404, "no-such-point", f"{found.name} has no revision {at}.", remedy="Choose an entry of its ledger."
        )
    found.__dict__["newest"] = found.revision
    take_effect(found, decisions(taken))
    found.revision = at
    return found


def variable(user: User, table_id: UUID, symbol: str, at: int | None = None) -> Variable:
    """A variable as its table stands, or stood at a revision."""
    if at is None:
        return studies.variable(user, table_id, symbol)
    past = table(user, table_id, at)
    found = next((each for each in studies.variables(past) if each.symbol == symbol), None)
    if found is None:
        raise Refusal(404, "no-variable", f"{past.name} had no variable {symbol!r} then.", where="variable")
    return found


@dataclass(frozen=True)
class LookedAt:
    """What was last decided on each row. deeds: "kept", "set aside", "corrected" or "pulled in", with its entry;
    of_row: (n_rows,) 0 where nothing was, else 1 + the place of the deed."""

    deeds: tuple[tuple[str, Entry], ...]
    of_row: Ints


def looked_at(table: Table, symbols: Collection[str]) -> LookedAt:
    """What was decided on the rows of a table, or on their values of the variables named."""
    found = [entry for entry in entries(table) if entry.revision_after <= table.revision]
    by_number = {entry.number: entry for entry in found}
    most = max([table.n_rows, *(reading["n_rows"] for reading in table.readings)])
    deeds: list[tuple[str, Entry]] = []
    of_row = np.zeros(most, dtype=np.int64)
    for decision in record.standing(decisions(found)):
        changes = decision.changes
        rows, deed = numbering.from_runs(decision.rows), ""
        if decision.kind in ("keep", "set-aside", "put-back"):
            deed = {"keep": "kept", "set-aside": "set aside"}.get(decision.kind, "")
            rows = rows if decision.variable in ("", *symbols) else rows[:0]
        elif decision.kind == "correct":
            deed = "corrected"
            rows = np.unique(np.array([int(row) for each in symbols for row in changes.get(each, {})], dtype=np.int64))
        elif decision.kind == "derive":
            deed = "pulled in"
            named = [how["rows"] for how in changes.values() if how and _pulls(how, symbols)]
            rows = np.unique(np.concatenate([*map(np.array, named), np.empty(0)])).astype(np.int64)
        elif decision.kind in ("reread", "follow"):
            moved = np.zeros_like(of_row)
            for first, last, new in changes["moves"]:
                moved[new - 1 : new + last - first] = of_row[first - 1 : last]
            of_row = moved
            continue
        else:
            continue
        if rows.size:
            deeds.append((deed, by_number[decision.number]))
            of_row[rows[rows <= most] - 1] = len(deeds) if deed else 0
    return LookedAt(tuple(deeds), of_row[: table.n_rows])


def _pulls(how: dict[str, Any], symbols: Collection[str]) -> bool:
    return how["how"] == "pulled-in" and bool(how.get("rows")) and how["of"] in symbols


TRIED = "tried"


def tried(variable: Variable, recipe: dict[str, Any]) -> Variable:
    """A variable as if a recipe had made it of this one, for readings before it is adopted; never to be saved."""
    table = copy(variable.table)
    table.derived = [*table.derived, [TRIED, recipe]]
    found = Variable(table=table, symbol=TRIED, derived=True, kind="continuous")
    columns = {each.symbol: store.original(each) for each in store.sources(found)}
    whole = len(columns) == len(derived.sources_of(recipe))
    label, unit = derived.title_of(recipe, columns) if whole else (variable.label, "")
    table.derived[-1][1] = {**recipe, "label": label, "unit": unit}
    table.facts = {**table.facts, TRIED: shapes.facts(store.original(found))}
    return studies.as_described(found)


def marked(table: Table) -> CoreTable:
    """The table with every value still in it, and what is set aside named in a last column."""
    columns = {variable.symbol: store.original(variable) for variable in studies.variables(table)}
    said = np.full(table.n_rows, "", dtype=object)
    for symbol, runs in table.aside.get("values", {}).items():
        rows = numbering.from_runs(runs)
        # Another reading of the file may lack the variable; its values then rest.
        for row in rows[rows <= table.n_rows] if symbol in columns else ():
            said[row - 1] += (", " if said[row - 1] else "") + columns[symbol].label
    rows = numbering.from_runs(table.aside.get("rows", ()))
    said[rows[rows <= table.n_rows] - 1] = "row"
    levels, codes = np.unique(said, return_inverse=True)
    names = tuple(str(level) for level in levels if level)
    index = codes.astype(np.int32) - (1 if "" in levels else 0)
    symbol = "set_aside" if "set_aside" not in columns else "set_aside_here"
    reasons = (index < 0).astype(np.uint8)
    columns[symbol] = Column(symbol, "set aside", "", "category", None, index, names, reasons)
    return CoreTable(table.name, table.n_rows, columns)


def take_effect(table: Table, taken: list[Decision]) -> None:
    """Lay what the decisions come to into the table, with what follows for the variables that they speak of."""
    state = record.after(taken)
    reading = table.readings[state.reading]
    said = {symbol: dict(own) for symbol, own in reading.get("said", {}).items()}
    for symbol, own in state.described.items():
        said[symbol] = said.get(symbol, {}) | own
    cells = {symbol: {str(row): text for row, text in own.items()} for symbol, own in state.corrected.items()}
    before = (table.reading, table.described, table.corrected)

    def as_before(symbol: str) -> bool:
        now = (said.get(symbol), cells.get(symbol))
        return (before[1].get(symbol), before[2].get(symbol)) == now and before[0] == state.reading

    table.aside = {"rows": state.aside.rows, "values": state.aside.values} if state.aside != record.Aside() else {}
    table.described, table.corrected, table.reading, table.n_rows = said, cells, state.reading, reading["n_rows"]
    shaped = {symbol for symbol, own in said.items() if own.keys() & SHAPING} | set(cells)
    kept = {symbol: fact for symbol, fact in table.facts.items() if symbol in shaped and as_before(symbol)}
    found = table.variables.filter(reading=table.reading, derived=False, symbol__in=shaped - set(kept))
    for variable in found:
        variable.table = table
        column = record.spoken_of(store.stored(variable), store.state_of(table))
        kept[variable.symbol] = shapes.facts(column)
    for symbol, column in _followed(table, state).items():
        kept[symbol] = shapes.facts(column)
    table.facts = kept


def _followed(table: Table, state: record.Standing) -> dict[str, Column]:
    """The variables that follow from others; one whose source is gone, or can no longer be followed, is left out."""
    came = {variable.symbol: variable for variable in table.variables.filter(reading=table.reading, derived=False)}
    table.derived = []
    found: dict[str, Column] = {}
    for symbol, recipe in state.derived.items():
        sources = {}
        for of in derived.sources_of(recipe):
            if of in found:
                sources[of] = found[of]
            elif of in came:
                came[of].table = table
                sources[of] = record.spoken_of(store.stored(came[of]), state)
        if len(sources) == len(derived.sources_of(recipe)) and symbol not in came:
            try:
                found[symbol] = record.spoken_of(derived.follow(symbol, recipe, sources), state)
            except HeronError:
                continue
            table.derived.append([symbol, recipe])
    return found
