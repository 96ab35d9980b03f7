"""Decisions: each is one entry, one new revision of its table, one transaction."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from heron import record

from server.accounts.models import User
from server.ledger import selectors
from server.ledger.models import Entry
from server.problems import Refusal
from server.studies.models import Table
from server.studies.permissions import require_owner


@dataclass(frozen=True)
class Asked:
    """What a person wants recorded, and the revision of the table that they were looking at."""

    kind: str
    rows: Sequence[int]
    variable: str
    reason: str
    revision: int


@transaction.atomic
def decide(user: User, table: Table, asked: Asked) -> Entry:
    """Set rows or values aside, or put them back."""
    locked = _locked(user, table, asked.revision)
    runs = record.to_runs(asked.rows)
    if not runs:
        raise Refusal(422, "no-rows", "No row was named.", where="rows", remedy="Select rows first.")
    if runs[0][0] < 1 or runs[-1][1] > locked.n_rows:
        raise Refusal(422, "no-such-row", f"The table has rows 1 to {locked.n_rows}.", where="rows")
    if asked.variable and not locked.variables.filter(symbol=asked.variable).exists():
        raise Refusal(422, "no-variable", f"The table has no variable {asked.variable!r}.", where="variable")
    if asked.kind == Entry.Kind.SET_ASIDE and not asked.reason.strip():
        raise Refusal(422, "no-reason", "A reason is needed.", where="reason", remedy="Say why, in a word or two.")
    return _add(user, locked, kind=asked.kind, rows=runs, variable=asked.variable, reason=asked.reason.strip())


@transaction.atomic
def describe(user: User, table: Table, variable: str, changes: dict[str, Any], revision: int) -> Entry:
    """Say what a variable is: its label, unit, the bounds of what it can be, a note."""
    locked = _locked(user, table, revision)
    if not locked.variables.filter(symbol=variable).exists():
        raise Refusal(422, "no-variable", f"The table has no variable {variable!r}.", where="variable")
    if not changes:
        raise Refusal(422, "no-change", "Nothing was changed.", remedy="Change a word or a bound first.")
    said = {**locked.described.get(variable, {}), **changes}
    low, high = said.get("lower"), said.get("upper")
    if low is not None and high is not None and not low < high:
        raise Refusal(422, "bounds-order", "The lower bound must lie below the upper one.", where="lower")
    return _add(user, locked, kind=Entry.Kind.DESCRIBE, variable=variable, changes=changes)


@transaction.atomic
def undo(user: User, table: Table, revision: int) -> Entry:
    """Take back one's own last decision, unless another's stands on it."""
    locked = _locked(user, table, revision)
    found = selectors.entries(locked)
    standing = record.standing(selectors.decisions(found))
    if not standing:
        raise Refusal(422, "nothing-to-undo", "There is no decision to take back.")
    last = next(entry for entry in found if entry.number == standing[-1].number)
    if last.author_id != user.pk:
        raise Refusal(409, "stands-on", f"The last decision is {last.author.get_username()}'s, not yours.")
    return _add(user, locked, kind=Entry.Kind.UNDO, of=last.number)


@transaction.atomic
def redo(user: User, table: Table, revision: int) -> Entry:
    """Make again the decision that was taken back last."""
    locked = _locked(user, table, revision)
    number = record.undone_last(selectors.decisions(selectors.entries(locked)))
    if number is None:
        raise Refusal(422, "nothing-to-redo", "There is no decision to make again.")
    return _add(user, locked, kind=Entry.Kind.REDO, of=number)


def _locked(user: User, table: Table, revision: int) -> Table:
    """The table, held until the entry stands; refused when somebody decided something meanwhile."""
    require_owner(user, table.study)
    locked = Table.objects.select_for_update().get(pk=table.pk)
    if locked.revision != revision:
        last = locked.entries.select_related("author").last()
        who = last.author.get_username() if last else "Somebody"
        raise Refusal(
            409,
            "changed-meanwhile",
            f"{who} changed this table meanwhile: entry {last.number if last else 0} of the ledger.",
            remedy="Look at it, then decide again; what you typed is kept.",
        )
    return locked


def _add(
    user: User,
    table: Table,
    *,
    kind: str,
    rows: record.Runs = (),
    variable: str = "",
    reason: str = "",
    of: int = 0,
    changes: dict[str, Any] | None = None,
) -> Entry:
    found = selectors.entries(table)
    entry = Entry.objects.create(
        table=table,
        number=len(found) + 1,
        kind=kind,
        rows=rows,
        n_rows=record.from_runs(rows).size,
        variable=variable,
        of=of,
        changes=changes or {},
        reason=reason,
        author=user,
        revision_before=table.revision,
        revision_after=table.revision + 1,
    )
    decisions = selectors.decisions([*found, entry])
    aside = record.aside_after(decisions)
    table.aside = {"rows": aside.rows, "values": aside.values} if aside.rows or aside.values else {}
    table.described = record.described_after(decisions)
    table.revision += 1
    table.save(update_fields=["aside", "described", "revision"])
    return entry
