from datetime import datetime
from itertools import islice
from typing import Annotated, Any, Literal, Self, cast

from heron import derived, numbering
from heron.columns import Kind
from heron.formatting import typeset
from heron.ledger import Kind as EntryKind
from heron.routine import derivation_words, description_words
from ninja import Field, Schema
from pydantic import RootModel, model_validator

from server.fields import PlainText, RowNumber
from server.ledger import selectors
from server.ledger.models import Entry
from server.studies.snapshots import TableSnapshot


class EntryOut(Schema):
    """brought_by: who opened the package that the entry came with, "" where it was made here. said: what a description
    says, or what is made of others, in words."""

    number: int
    kind: EntryKind
    rows: list[int]
    n_rows: int
    variable: str
    of: int
    changes: dict[str, dict[str, Any]]
    said: str
    report: list[str]
    reason: str
    author: str
    brought_by: str
    made: datetime
    stands: bool
    revision: int


class LedgerOut(Schema):
    """Entries of a ledger, in their order: a page of them, or those that a decision added or changed. n_entries: how
    many there are."""

    entries: list[EntryOut]
    n_entries: int
    can_undo: bool
    can_redo: bool


class DigestOut(Schema):
    """Of what the table stands on, without who decided, and when: the same steps on the same file, the same."""

    digest: str


class DecisionIn(Schema):
    kind: Literal["set-aside", "put-back", "keep"]
    rows: list[int] = Field(min_length=1, max_length=1_000_000)
    variable: PlainText = Field(default="", max_length=60)
    reason: PlainText = Field(default="", max_length=2_000)
    revision: int


Bound = Annotated[float, Field(allow_inf_nan=False)] | None


class Description(Schema):
    """What is left out stays as it is; null takes a bound, limit or target away."""

    label: PlainText = Field(default="", min_length=1, max_length=200)
    unit: PlainText = Field(default="", max_length=60)
    lower: Bound = None
    upper: Bound = None
    note: PlainText = Field(default="", max_length=2_000)
    kind: Kind | None = None
    decimals: Annotated[int, Field(ge=0, le=12)] | None = None
    missing_codes: list[PlainText] = Field(default=[], max_length=200)
    true_zero: bool | None = None
    detection_limit: Bound = None
    below_limit: Literal["missing", "limit", "half"] = "missing"
    spec_lower: Bound = None
    spec_upper: Bound = None
    target: Bound = None
    levels: list[PlainText] = Field(default=[], max_length=1_000)
    level_labels: dict[PlainText, PlainText] = Field(default={}, max_length=1_000)
    level_numbers: dict[PlainText, Bound] = Field(default={}, max_length=1_000)


class DescribeIn(Schema):
    """The same changes for one variable or many; unit_variable and weight_variable speak of the table, ""
    for none."""

    variables: list[PlainText] = Field(default=[], max_length=10_000)
    changes: Description | None = None
    unit_variable: PlainText | None = Field(default=None, max_length=60)
    weight_variable: PlainText | None = Field(default=None, max_length=60)
    revision: int

    def by_symbol(self) -> dict[str, dict[str, Any]]:
        said = self.changes.model_dump(exclude_unset=True) if self.changes else {}
        result = {symbol: said for symbol in self.variables if said}
        of_table = {"unit_variable": self.unit_variable, "weight_variable": self.weight_variable}
        of_table = {name: symbol for name, symbol in of_table.items() if symbol is not None}
        return {**result, "": of_table} if of_table else result


class LossesIn(Schema):
    variable: PlainText = Field(max_length=60)
    changes: Description


class CellIn(Schema):
    variable: PlainText = Field(max_length=60)
    row: RowNumber
    text: PlainText = Field(max_length=2_000)


class CorrectIn(Schema):
    cells: list[CellIn] = Field(min_length=1, max_length=100_000)
    reason: PlainText = Field(default="", max_length=2_000)
    revision: int


Number = Annotated[float, Field(allow_inf_nan=False)]
_Power = Annotated[float, Field(ge=-1000, le=1000)]


class ClassesWay(Schema):
    """Classes between ascending boundaries; closed: the side that belongs to a class; names: a label for each, equal
    ones for one level; others: a label for what lies outside."""

    how: Literal["classes"]
    boundaries: list[Number] = Field(min_length=2, max_length=513)
    closed: Literal["left", "right"] = "left"
    names: list[PlainText] | None = Field(default=None, max_length=512)
    others: PlainText | None = Field(default=None, max_length=200)


class PowerSetting(Schema):
    way: Literal["power", "box-cox", "yeo-johnson"]
    power: _Power


class LogSetting(Schema):
    way: Literal["log"]
    base: Literal["10", "2", "e"] = "10"
    offset: Number = 0


class LogitSetting(Schema):
    """squeeze: 0 and 1 are pulled in by (x (n - 1) + 1/2)/n."""

    way: Literal["logit"]
    squeeze: bool = False


class CentreSetting(Schema):
    way: Literal["centre"]
    at: Literal["mean", "median"] | Number = "mean"


class PlainSetting(Schema):
    way: Literal["arcsine-root", "z", "robust-z", "rank", "normal-score"]


Setting = Annotated[PowerSetting | LogSetting | LogitSetting | CentreSetting | PlainSetting, Field(discriminator="way")]


class ScaleWay(Schema):
    how: Literal["scale"]
    setting: Setting


class ExpressionWay(Schema):
    how: Literal["expression"]
    text: str = Field(max_length=20_000)


class RecodeWay(Schema):
    """New labels by old; others: a label for all the rest, null to leave them without one."""

    how: Literal["recode"]
    labels: dict[PlainText, PlainText] = Field(max_length=1_000)
    others: PlainText | None = Field(default=None, max_length=200)


Symbol = Annotated[PlainText, Field(min_length=1, max_length=60)]


class PercentWay(Schema):
    """Percent of the rows at a level of `by`, or of the value in a row; within: each level has its own baseline."""

    how: Literal["percent"]
    by: Symbol | None = None
    level: PlainText | None = Field(default=None, max_length=200)
    row: RowNumber | None = None
    within: Symbol | None = None
    centre: Literal["mean", "median"] = "mean"

    @model_validator(mode="after")
    def has_a_baseline(self) -> Self:
        if self.row is None and (self.by is None or self.level is None):
            raise ValueError("A baseline is a row, or a level of a variable")
        return self


class AlongWay(Schema):
    """Each value against the one so many steps before along an order, by default that of the rows."""

    how: Literal["along"]
    take: Literal["earlier", "difference", "ratio", "percent-change"]
    steps: Annotated[int, Field(ge=1, le=10_000)] = 1
    order: Symbol | None = None
    within: Symbol | None = None


class PulledInWay(Schema):
    """Values beyond a limit are set to it, in the rows named, or in all."""

    how: Literal["pulled-in"]
    low: Bound = None
    high: Bound = None
    rows: list[RowNumber] | None = Field(default=None, max_length=100_000)


AnyWay = ClassesWay | ScaleWay | ExpressionWay | RecodeWay | PercentWay | AlongWay | PulledInWay
Way = Annotated[AnyWay, Field(discriminator="how")]


class AsIf(RootModel[Way]):
    """A way of making a variable, as it stands in an address."""


def recipe_of(of: str, way: AnyWay) -> dict[str, Any]:
    """A way with the variables that it is made of: those that an expression names, else the one at hand and those that
    it names besides."""
    return derived.recipe_of(of, way.model_dump(exclude_none=True))


class DeriveIn(Schema):
    """A variable that follows from another, `of`, or from those that an expression names. also: others that are put on
    the same way, under the names proposed. instead: a variable that follows, whose way this is from now on."""

    of: PlainText = Field(max_length=60)
    also: list[PlainText] = Field(default=[], max_length=500)
    instead: PlainText = Field(default="", max_length=60)
    label: PlainText = Field(min_length=1, max_length=200)
    unit: PlainText = Field(default="", max_length=60)
    reason: PlainText = Field(default="", max_length=2_000)
    way: Way
    revision: int

    def recipes(self) -> list[dict[str, Any]]:
        """The recipe named, and those still without a name."""
        named = {**recipe_of(self.of, self.way), "label": self.label, "unit": self.unit}
        return [named, *(recipe_of(other, self.way) for other in dict.fromkeys(self.also) if other != self.of)]


class DeriveOut(Schema):
    """The symbols of what was made, the one asked for first."""

    symbol: str
    also: list[str]


class TakeAwayIn(Schema):
    variable: PlainText = Field(max_length=60)
    revision: int


class PickIn(Schema):
    variable: PlainText = Field(max_length=60)
    seed: Annotated[int, Field(ge=0, le=2**53)]
    place: Annotated[int, Field(ge=0, lt=20)]
    seen_before: bool
    revision: int


class PickOut(Schema):
    """The place of the data among the panels, from 0."""

    place: int


class RevisionIn(Schema):
    revision: int


_ROWS_SENT = 1_000
_CELLS_SENT = 50


def _changes_sent(entry: Entry) -> dict[str, dict[str, Any]]:
    """What was said by variable, or the first corrected cells by variable and row."""
    if entry.kind not in (Entry.Kind.CORRECT, Entry.Kind.LINE_UP):
        return {}
    return {symbol: dict(islice((cells or {}).items(), _CELLS_SENT)) for symbol, cells in entry.changes.items()}


def _said(entry: Entry, labels: dict[str, str]) -> str:
    say = {"describe": description_words, "derive": derivation_words}.get(entry.kind)
    words = say(entry.changes, labels, past=True) if say else ""
    return words[:1].upper() + words[1:]


def ledger_out(table: TableSnapshot, page: selectors.Page) -> LedgerOut:
    labels = {variable.symbol: typeset(variable.label) for variable in table.variables}
    return LedgerOut(
        entries=[
            EntryOut(
                number=entry.number,
                kind=cast(EntryKind, entry.kind),
                rows=numbering.first_rows(entry.rows, _ROWS_SENT),
                n_rows=entry.n_rows,
                variable=entry.variable,
                of=entry.of,
                changes=_changes_sent(entry),
                said=_said(entry, labels),
                report=entry.changes.get("report", []),
                reason=entry.reason,
                author=entry.by_whom,
                brought_by=entry.author.get_username() if entry.brought_from else "",
                made=entry.made,
                stands=entry.kind not in ("undo", "redo") and entry.number not in page.undone,
                revision=entry.revision_after,
            )
            for entry in page.entries
        ],
        n_entries=page.n_entries,
        can_undo=page.can_undo,
        can_redo=page.can_redo,
    )
