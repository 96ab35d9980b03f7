import json
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass
from hashlib import sha256
from typing import Any
from uuid import UUID

import numpy as np
from heron import numbering
from heron.checks import Ints
from heron.columns import Column
from heron.columns import Table as CoreTable
from heron.ledger import Decision, TableView, decisions_in_force, replay_decisions, revocable, undone_last
from heron.numbering import Moves
from heron.routine import Step, steps_of
from heron.routine import digest as routine_digest

from server.accounts.models import User
from server.ledger.models import Entry
from server.problems import Refusal
from server.studies import selectors as studies
from server.studies.models import Table
from server.studies.snapshots import TableSnapshot


def entries(table: Table) -> list[Entry]:
    return list(table.entries.select_related("author"))


def decisions(entries: list[Entry]) -> list[Decision]:
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
        for entry in entries
    ]


@dataclass(frozen=True)
class Page:
    """Entries of a ledger, in their order, of n_entries; undone: the numbers of those that were taken back."""

    entries: list[Entry]
    n_entries: int
    undone: Collection[int]
    can_undo: bool
    can_redo: bool


ENTRIES_ON_A_PAGE = 100


def page(table: Table, before: int | None = None) -> Page:
    """The last entries of a ledger, or the last before a number."""
    entries = table.entries.select_related("author")
    if before is not None:
        entries = entries.filter(number__lt=before)
    return _page(table, list(entries.order_by("-number")[:ENTRIES_ON_A_PAGE])[::-1])


def changed_by(entry: Entry, since: int) -> Page:
    """What a ledger holds more than at a revision, now that a decision was taken: its entry, those of others that came
    before it, and the one that it takes back or makes again."""
    if entry.revision_before > since:
        later = entry.table.entries.select_related("author").filter(revision_after__gt=since)
        return Page(list(later), entry.number, (), can_undo=True, can_redo=False)
    if entry.of:
        changed = entry.table.entries.select_related("author").filter(number__in=[entry.of, entry.number])
        return _page(entry.table, list(changed))
    return Page([entry], entry.number, (), can_undo=True, can_redo=False)


def _page(table: Table, entries: list[Entry]) -> Page:
    every = [
        Decision(number, kind, of=of)  # type: ignore[arg-type]
        for number, kind, of in table.entries.values_list("number", "kind", "of")
    ]
    in_force = {decision.number for decision in decisions_in_force(every)}
    undone = {entry.number for entry in entries} - in_force
    return Page(entries, len(every), undone, bool(revocable(every)), undone_last(every) is not None)


def steps(table: Table) -> tuple[Step, ...]:
    """What the decisions on a table come to, as steps that can be taken again."""
    result = entries(table)
    return steps_of(decisions(result), {entry.number: entry.reason for entry in result})


def digest(table: Table) -> str:
    """The digest of what a table stands on: its source, how it was read, the steps; not who took them, and when."""
    if table.source is not None:
        source = table.source.sha256
    else:
        made = table.origin or {}
        of = Table.objects.filter(study=table.study_id).select_related("source").in_bulk(made.get("of", []))
        recipe = [
            made.get("how"),
            made.get("options"),
            [digest(of[UUID(key)]) for key in made.get("of", []) if UUID(key) in of],
        ]
        source = sha256(json.dumps(recipe, sort_keys=True).encode()).hexdigest()
    return routine_digest(source, table.imports[table.import_version].get("choices", {}), steps(table))


def snapshot(user: User, table_id: UUID, at: int | None = None) -> TableSnapshot:
    """The table as it stands, or as it stood at a revision."""
    now = TableSnapshot.of(studies.table(user, table_id, whole=True))
    if at is None or at == now.revision:
        return now
    taken = [entry for entry in entries(now.row) if entry.revision_after <= at]
    if at < 1 or (taken[-1].revision_after if taken else 1) != at:
        raise Refusal(
            404, "no-such-point", f"{now.name} has no revision {at}.", remedy="Choose an entry of its ledger."
        )
    state = replay_decisions(decisions(taken), now.state.imports)
    return TableSnapshot(now.row.name, state.settled(), at, row=now.row)


@dataclass(frozen=True)
class RowDecisions:
    """What was last decided on rows. actions: "kept", "set aside", "corrected" or "pulled in", with its entry; rows:
    (k,) the numbers of rows on which something was, ascending; of: (k,) the place of the deed."""

    actions: tuple[tuple[str, Entry], ...]
    rows: Ints
    of: Ints

    def at(self, positions: Ints) -> Ints:
        """The places of the deeds on rows by their positions, from 0; -1 where nothing was decided."""
        if self.rows.size == 0:
            return np.full(positions.size, -1)
        found = np.minimum(np.searchsorted(self.rows, positions + 1), self.rows.size - 1)
        return np.where(self.rows[found] == positions + 1, self.of[found], -1)


def row_decisions(table: TableSnapshot, symbols: Collection[str]) -> RowDecisions:
    """What was decided on the rows of a table, or on their values of the variables named."""
    result = [entry for entry in entries(table.row) if entry.revision_after <= table.revision]
    by_number = {entry.number: entry for entry in result}
    actions: list[tuple[str, Entry]] = []
    decided = of = np.empty(0, dtype=np.int64)
    for decision in decisions_in_force(decisions(result)):
        changes = decision.changes
        rows, deed = numbering.from_runs(decision.rows), ""
        if decision.kind in ("keep", "set-aside", "put-back"):
            deed = {"keep": "kept", "set-aside": "set aside"}.get(decision.kind, "")
            rows = rows if decision.variable in ("", *symbols) else rows[:0]
        elif decision.kind == "correct":
            deed = "corrected"
            rows = np.unique(
                np.array([int(row) for symbol in symbols for row in changes.get(symbol, {})], dtype=np.int64)
            )
        elif decision.kind == "derive":
            deed = "pulled in"
            named = [how["rows"] for how in changes.values() if how and _pulls(how, symbols)]
            rows = np.unique(np.concatenate([*map(np.array, named), np.empty(0)])).astype(np.int64)
        elif decision.kind in ("reread", "follow"):
            decided, of = _moved_rows(decided, of, changes["moves"])
            continue
        else:
            continue
        if rows.size:
            actions.append((deed, by_number[decision.number]))
            others = ~np.isin(decided, rows)
            decided = np.concatenate((decided[others], rows))
            of = np.concatenate((of[others], np.full(rows.size, len(actions) - 1 if deed else -1)))
            order = np.argsort(decided, kind="stable")
            decided, of = decided[order], of[order]
    standing = (of >= 0) & (decided <= table.n_rows)
    return RowDecisions(tuple(actions), decided[standing], of[standing])


def _moved_rows(rows: Ints, of: Ints, moves: Moves) -> tuple[Ints, Ints]:
    """Rows by their numbers after another import, ascending; without those that it lacks."""
    found = [(held := (rows >= first) & (rows <= last), rows[held] - first + new) for first, last, new in moves]
    moved = np.concatenate([*(numbers for _, numbers in found), np.empty(0, dtype=np.int64)])
    deeds = np.concatenate([*(of[held] for held, _ in found), np.empty(0, dtype=np.int64)])
    order = np.argsort(moved, kind="stable")
    return moved[order], deeds[order]


def _pulls(how: dict[str, Any], symbols: Collection[str]) -> bool:
    return how["how"] == "pulled-in" and bool(how.get("rows")) and how["of"] in symbols


def parts_of(table: TableSnapshot, whole: Callable[[TableView], CoreTable]) -> Iterator[CoreTable]:
    """A long table part by part; an InputError where it has a variable that hangs on all rows."""
    for symbol in table.state.symbols:
        table.state.check_by_row(symbol)
    parts = range(len(table.state.bounds) - 1)
    return (whole(TableView(table.name, table.state.part(number), table.revision)) for number in parts)


def marked(table: TableView) -> CoreTable:
    """The table with every value still in it, and what is set aside named in a last column."""
    columns = dict(table.described().columns)
    said = np.full(table.n_rows, "", dtype=object)
    for symbol, runs in table.state.aside.items():
        rows = numbering.from_runs(runs)
        # Another import of the file may lack the variable; its values then rest.
        for row in rows[rows <= table.n_rows] if symbol in columns else ():
            said[row - 1] += (", " if said[row - 1] else "") + columns[symbol].label
    rows = numbering.from_runs(table.state.aside.get("", ()))
    said[rows[rows <= table.n_rows] - 1] = "row"
    levels, codes = np.unique(said, return_inverse=True)
    names = tuple(str(level) for level in levels if level)
    index = codes.astype(np.int32) - (1 if "" in levels else 0)
    symbol = "set_aside" if "set_aside" not in columns else "set_aside_here"
    reasons = (index < 0).astype(np.uint8)
    columns[symbol] = Column(symbol, "set aside", "", "category", None, index, names, reasons)
    return CoreTable(table.name, table.n_rows, columns)
