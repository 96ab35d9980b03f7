"""The routine as it is kept, sent and published: its schema stands in docs/routine.schema.json."""

from typing import Annotated, Any, Literal
from uuid import UUID

from heron.columns import Kind
from heron.numbering import Runs, joined, to_runs
from heron.routine import Known, Step
from ninja import Schema
from pydantic import ConfigDict, Field

from server.fields import PlainText, RowNumber
from server.ledger.making_schemas import TableRecipeIn
from server.ledger.schemas import Description, Way
from server.plates.documents import PlateDocument, TablePlateDocument
from server.studies.schemas import Choices

Name = Annotated[PlainText, Field(min_length=1, max_length=200)]
Symbol = Annotated[PlainText, Field(pattern=r"^[^\W\d]\w{0,59}$")]
SymbolOrNone = Annotated[PlainText, Field(pattern=r"^([^\W\d]\w{0,59})?$")]
Reason = Annotated[PlainText, Field(max_length=2_000)]
Run = Annotated[list[RowNumber], Field(min_length=2, max_length=2)]
Number = Annotated[float, Field(allow_inf_nan=False)]


class _Part(Schema):
    model_config = ConfigDict(extra="forbid")


class _Step(_Part):
    reason: Reason = ""


class RowsStep(_Step):
    """Rows set aside, put back, or looked at and kept: runs of row numbers, both ends belong. variable: the symbol of
    the one whose values are meant, "" for whole rows."""

    kind: Literal["set-aside", "put-back", "keep"]
    rows: list[Run] = Field(min_length=1, max_length=1_000_000)
    variable: SymbolOrNone = ""

    def step(self, number: int) -> Step:
        return Step(number, self.kind, _runs(self.rows), self.variable, {}, self.reason)


class TableSaid(_Part):
    """What is said of a table: the variable that names the unit which n counts, and the one that weights its rows; ""
    for none."""

    unit_variable: SymbolOrNone | None = None
    weight_variable: SymbolOrNone | None = None


class DescribeStep(_Step):
    """What is said of variables, by symbol, and of the table; what is left out stays as it is."""

    kind: Literal["describe"]
    variables: dict[Symbol, Description] = Field(default={}, max_length=10_000)
    table: TableSaid | None = None

    def step(self, number: int) -> Step:
        said = {symbol: part.model_dump(exclude_unset=True) for symbol, part in self.variables.items()}
        if self.table:
            said[""] = self.table.model_dump(exclude_none=True)
        return Step(number, "describe", (), "", said, self.reason)


class CellChange(_Part):
    old: Annotated[PlainText, Field(max_length=4_000)] = ""
    new: Annotated[PlainText, Field(max_length=4_000)]


class CorrectStep(_Step):
    """New text in cells, by symbol and row number."""

    kind: Literal["correct"]
    cells: dict[Symbol, dict[Annotated[str, Field(pattern=r"^[1-9]\d{0,8}$")], CellChange]] = Field(
        min_length=1, max_length=10_000
    )

    def step(self, number: int) -> Step:
        cells = {symbol: {row: cell.model_dump() for row, cell in part.items()} for symbol, part in self.cells.items()}
        rows = sorted({int(row) for part in self.cells.values() for row in part})
        return Step(number, "correct", to_runs(rows), "", cells, self.reason)


class Recipe(_Part):
    """How a variable follows from others, `of`."""

    of: Symbol | Annotated[list[Symbol], Field(max_length=200)]
    label: Name
    unit: Annotated[PlainText, Field(max_length=60)] = ""
    way: Way

    def recipe(self) -> dict[str, Any]:
        return {"of": self.of, "label": self.label, "unit": self.unit, **self.way.model_dump(exclude_none=True)}


class DeriveStep(_Step):
    """Variables that follow from others, by their symbol; null: one that is taken away."""

    kind: Literal["derive"]
    variables: dict[Symbol, Recipe | None] = Field(min_length=1, max_length=1_000)

    def step(self, number: int) -> Step:
        made = {symbol: how.recipe() if how else None for symbol, how in self.variables.items()}
        return Step(number, "derive", (), "", made, self.reason)


AnyStep = Annotated[RowsStep | DescribeStep | CorrectStep | DeriveStep, Field(discriminator="kind")]


class RoutineVariable(_Part):
    """What a variable was when the routine was made: the steps and plates expect one like it."""

    symbol: Symbol
    label: Annotated[PlainText, Field(max_length=500)]
    unit: Annotated[PlainText, Field(max_length=60)] = ""
    kind: Kind
    levels: list[PlainText] = Field(default=[], max_length=1_000)
    lower: Number | None = None
    upper: Number | None = None

    def known(self) -> Known:
        said = self.model_dump()
        return Known(**{**said, "levels": tuple(said["levels"])})


class RoutineTable(_Part):
    """A table and what was decided on it. key: by which others and plates name it; source: the name and SHA-256 of its
    file; choices: how the file was read; made: how a table was made of others, by their keys."""

    key: UUID
    name: Name
    source_name: Annotated[PlainText, Field(max_length=255)] = ""
    source_digest: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    choices: Choices = Choices()
    made: TableRecipeIn | None = None
    variables: list[RoutineVariable] = Field(default=[], max_length=10_000)
    steps: list[AnyStep] = Field(default=[], max_length=20_000)

    def as_steps(self) -> list[Step]:
        return [step.step(number) for number, step in enumerate(self.steps, 1)]


class RoutinePlate(_Part):
    """A plate; the sources of its panels name tables by their keys."""

    name: Name
    group: Annotated[PlainText, Field(max_length=200)] = ""
    document: PlateDocument


class RoutineTablePlate(_Part):
    """A table of numbers; its source names its table by its key."""

    name: Name
    document: TablePlateDocument


class Routine(_Part):
    """What was done with a table, to be done again with another file: decisions, variables that follow, tables made of
    it, and plates with the readings that they stand on. The first table is the one that a file takes the place of."""

    format: Literal["velvet-heron-routine"] = "velvet-heron-routine"
    version: Literal[1] = 1
    name: Name
    tables: list[RoutineTable] = Field(min_length=1, max_length=200)
    plates: list[RoutinePlate] = Field(default=[], max_length=2_000)
    table_plates: list[RoutineTablePlate] = Field(default=[], max_length=2_000)

    @property
    def kept(self) -> list[RoutinePlate | RoutineTablePlate]:
        """Its plates and its tables of numbers."""
        return [*self.plates, *self.table_plates]


def _runs(rows: list[Run]) -> Runs:
    return joined((first, last) for first, last in rows)


def step_document(step: Step) -> dict[str, Any]:
    """A step as a routine writes it."""
    said: dict[str, Any] = {"kind": step.kind, "reason": step.reason}
    if step.kind == "describe":
        said["variables"] = {symbol: said_of for symbol, said_of in step.changes.items() if symbol}
        said["table"] = step.changes.get("")
    elif step.kind == "correct":
        said["cells"] = step.changes
    elif step.kind == "derive":
        said["variables"] = {symbol: how and _recipe_document(how) for symbol, how in step.changes.items()}
    else:
        said |= {"rows": step.rows, "variable": step.variable}
    return {name: value for name, value in said.items() if value not in (None, "")}


def _recipe_document(how: dict[str, Any]) -> dict[str, Any]:
    way = {name: value for name, value in how.items() if name not in ("of", "label", "unit")}
    return {"of": how["of"], "label": how["label"], "unit": how.get("unit", ""), "way": way}


def published_schema() -> dict[str, Any]:
    """The JSON Schema of a routine."""
    result = Routine.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **result}
