from datetime import datetime
from typing import Annotated, Literal

from heron import record
from ninja import Field, Schema

from server.ledger import selectors
from server.ledger.models import Entry
from server.plain_text import PlainText


class EntryOut(Schema):
    number: int
    kind: Literal["set-aside", "put-back", "describe", "undo", "redo"]
    rows: list[int]
    n_rows: int
    variable: str
    of: int
    changes: dict[str, str | float | None]
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


Bound = Annotated[float, Field(allow_inf_nan=False)] | None


class Description(Schema):
    """What is left out stays as it is; a bound of null is taken away."""

    label: PlainText = Field(default="", min_length=1, max_length=200)
    unit: PlainText = Field(default="", max_length=60)
    lower: Bound = None
    upper: Bound = None
    note: PlainText = Field(default="", max_length=2_000)


class DescribeIn(Schema):
    variable: PlainText = Field(max_length=60)
    changes: Description
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
                changes=entry.changes,
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
