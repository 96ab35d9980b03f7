from datetime import datetime
from typing import Literal

from heron import record
from ninja import Field, Schema

from server.ledger import selectors
from server.ledger.models import Entry
from server.plain_text import PlainText


class EntryOut(Schema):
    number: int
    kind: Literal["set-aside", "put-back", "undo", "redo"]
    rows: list[int]
    n_rows: int
    variable: str
    of: int
    reason: str
    author: str
    made: datetime
    stands: bool


class LedgerOut(Schema):
    entries: list[EntryOut]
    can_undo: bool
    can_redo: bool


class DecisionIn(Schema):
    kind: Literal["set-aside", "put-back"]
    rows: list[int] = Field(min_length=1, max_length=1_000_000)
    variable: PlainText = Field(default="", max_length=60)
    reason: PlainText = Field(default="", max_length=2_000)
    revision: int


class RevisionIn(Schema):
    revision: int


_ROWS_SENT = 1_000


def ledger_out(entries: list[Entry]) -> LedgerOut:
    decisions = selectors.decisions(entries)
    standing = {decision.number for decision in record.standing(decisions)}
    return LedgerOut(
        entries=[
            EntryOut(
                number=entry.number,
                kind=entry.kind,
                rows=record.from_runs(entry.rows)[:_ROWS_SENT].tolist(),
                n_rows=entry.n_rows,
                variable=entry.variable,
                of=entry.of,
                reason=entry.reason,
                author=entry.author.get_username(),
                made=entry.made,
                stands=entry.number in standing,
            )
            for entry in entries
        ],
        can_undo=bool(standing),
        can_redo=record.undone_last(decisions) is not None,
    )
