from datetime import datetime
from typing import Annotated, Literal, Self
from uuid import UUID

from heron import rearranging, simulation
from heron.columns import Kind
from heron.rearranging import Made
from heron.variables import cell_text
from ninja import Field, Schema
from pydantic import model_validator

from server.fields import PlainText
from server.ledger.making import TableRecipe
from server.studies.column_summary import shape
from server.studies.schemas import PREVIEW_ROWS

Symbols = list[Annotated[PlainText, Field(max_length=60)]]
Number = Annotated[float, Field(allow_inf_nan=False)]
Name = Annotated[PlainText, Field(max_length=200)]


class Longer(Schema):
    how: Literal["longer"]
    sets: dict[Name, Symbols] = Field(min_length=1, max_length=200)
    marks: list[Name] = Field(min_length=1, max_length=2_000)
    mark_name: Name


class Wider(Schema):
    how: Literal["wider"]
    keys: Symbols = Field(min_length=1)
    mark: Name
    values: Symbols = Field(min_length=1)


class Split(Schema):
    how: Literal["split"]
    variable: Name
    at: Annotated[PlainText, Field(max_length=20)]
    names: list[Name] = Field(default=[], max_length=50)


class Join(Schema):
    how: Literal["join"]
    variables: Symbols = Field(min_length=1)
    between: Annotated[PlainText, Field(max_length=20)] = ""
    name: Name


class Stack(Schema):
    how: Literal["stack"]
    name: Name = "table"


class LookUp(Schema):
    how: Literal["look-up"]
    key: Name | Annotated[list[Name], Field(min_length=1, max_length=6)]
    other_key: Name | Annotated[list[Name], Field(min_length=1, max_length=6)]
    symbols: Symbols = Field(min_length=1)


class ConditionIn(Schema):
    variable: Name
    test: Literal["between", "levels", "missing", "known"]
    low: Number | None = None
    high: Number | None = None
    levels: list[PlainText] = Field(default=[], max_length=1_000)


class Part(Schema):
    how: Literal["part"]
    conditions: list[ConditionIn] = Field(default=[], max_length=50)
    symbols: Symbols = Field(default=[])


class SimulatedIn(Schema):
    name: Name = "value"
    distribution: simulation.DistributionName
    parameters: dict[Name, Number] = Field(default={}, max_length=20)


class GroupIn(Schema):
    name: Name = ""
    n: Annotated[int, Field(ge=1, le=simulation.MOST_ROWS)]
    parameters: dict[Name, Number] = Field(default={}, max_length=20)


class Simulation(Schema):
    how: Literal["simulated"]
    variable: SimulatedIn
    groups: list[GroupIn] = Field(min_length=1, max_length=300)
    second: SimulatedIn | None = None
    correlation: Annotated[float, Field(ge=-1, le=1)] = 0.0
    decimals: Annotated[int, Field(ge=0, le=12)] = 3
    seed: Annotated[int, Field(ge=0, le=2**53)]


class TableRecipeIn(Schema):
    """How a table is to be made, and of which tables, in their order."""

    of: list[UUID] = Field(default=[], max_length=50)
    options: Annotated[Longer | Wider | Split | Join | Stack | LookUp | Part | Simulation, Field(discriminator="how")]

    @model_validator(mode="after")
    def names_both(self) -> Self:
        if self.options.how == "look-up" and len(self.of) != 2:
            raise ValueError("Variables are looked up in a second table")
        return self

    def wish(self) -> TableRecipe:
        return TableRecipe(self.options.how, tuple(self.of), self.options.model_dump(exclude={"how"}))


class MakeIn(TableRecipeIn):
    name: PlainText = Field(min_length=1, max_length=200)


class InboxFileOut(Schema):
    """size: in bytes."""

    name: str
    size: int
    changed: datetime


class InboxIn(Schema):
    file: PlainText = Field(min_length=1, max_length=255)
    name: PlainText = Field(min_length=1, max_length=200)


class MadeColumn(Schema):
    symbol: str
    label: str
    unit: str
    kind: Kind
    n_missing: int
    shape: list[float]


class MadePreview(Schema):
    """The first rows of what would be made; rows: of its first source, from 1, that the notes speak of."""

    name: str
    n_rows: int
    columns: list[MadeColumn]
    cells: list[list[str]]
    notes: list[str]
    rows: list[int]


class StemOut(Schema):
    label: str
    symbols: list[str]
    marks: list[str]
    mark_name: str


class ParameterOut(Schema):
    name: str
    default: float


class DistributionOut(Schema):
    name: simulation.DistributionName
    parameters: list[ParameterOut]


def made_preview(made: Made) -> MadePreview:
    columns = list(made.table.columns.values())
    shown = range(min(made.table.n_rows, PREVIEW_ROWS))
    return MadePreview(
        name=made.table.name,
        n_rows=made.table.n_rows,
        columns=[
            MadeColumn(symbol=c.symbol, label=c.label, unit=c.unit, kind=c.kind, n_missing=c.n_missing, shape=shape(c))
            for c in columns
        ],
        cells=[[cell_text(column, i) for column in columns] for i in shown],
        notes=list(made.notes),
        rows=[row + 1 for row in made.rows],
    )


def stems_out(stems: tuple[rearranging.Stem, ...]) -> list[StemOut]:
    return [StemOut(label=s.label, mark_name=s.mark_name, symbols=list(s.symbols), marks=list(s.marks)) for s in stems]


def distributions_out() -> list[DistributionOut]:
    return [
        DistributionOut(
            name=name, parameters=[ParameterOut(name=p.name, default=p.default) for p in distribution.parameters]
        )
        for name, distribution in simulation.DISTRIBUTIONS.items()
    ]
