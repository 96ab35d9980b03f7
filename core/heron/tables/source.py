"""What a table of numbers is of: a table, its variables in their roles, and every choice that is offered."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

from annotated_types import Ge, Le, Lt, MaxLen

from heron.choices import displays, ids_of
from heron.differences import Effect, Spreads
from heron.figure.source import Level, OfTable, Percent, Symbol, read_as
from heron.groups import Bars, Centre
from heron.quantiles import Definition

# What a line of a summary table holds, for a variable that is a number.
LINES = displays(
    {
        "mean_sd": ("mean (SD)", "Centre and spread of values that lie evenly about their middle."),
        "mean_se": ("mean (SE)", "The mean, and how sure it is."),
        "mean_interval": ("mean with limits", "The mean with the limits of its interval."),
        "median_quartiles": ("median (quartiles)", "For skewed values, and for ordered ones."),
        "geometric": ("geometric mean (SD factor)", "For values that vary by factors; all above 0."),
        "range": ("minimum to maximum", "The least and the largest value."),
        "n": ("n", "How many values there are."),
        "missing": ("missing", "How many rows have no value."),
    }
)
PERCENTS = displays({"columns": "of a column", "rows": "of a line", "all": "of all rows", "none": "none"})
COEFFICIENTS = displays({"pearson": "Pearson's r", "spearman": "Spearman's, by ranks"})
ABOVE = displays({"none": "nothing above", "n": "numbers of pairs", "p": "p values"})
Line = ids_of(LINES)
Percents = Literal["columns", "rows", "all", "none"]
Coefficient = Literal["pearson", "spearman"]
Above = Literal["none", "n", "p"]
_Variables = Annotated[tuple[Symbol, ...], MaxLen(200)]


@dataclass(frozen=True, kw_only=True)
class SummarySource(OfTable):
    """Variables down, the levels of another across. lines: of variables that are numbers, none for what suits each;
    total: a column of all rows; missing: a line of missing values under each variable that has some; difference,
    standardized: of two groups; test: a p value for each variable; turned: groups down, variables across."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variables", "by")
    kind: Literal["summary"] = "summary"
    variables: _Variables
    by: Symbol = ""
    lines: Annotated[tuple[Line, ...], MaxLen(8)] = ()  # type: ignore[valid-type]
    total: bool = True
    missing: bool = True
    difference: bool = False
    standardized: bool = False
    test: bool = False
    turned: bool = False
    level: Level = 0.95
    quantile_definition: Definition = 7


@dataclass(frozen=True, kw_only=True)
class GroupSource(OfTable):
    """The groups of Compare with their bars. effect: by what each is set against a reference, "" for not at all."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by", "second")
    kind: Literal["groups"] = "groups"
    variable: Symbol
    by: Symbol
    second: Symbol = ""
    centre: Centre = "mean"
    bars: Bars = "mean-interval"
    level: Level = 0.95
    units: bool = False
    low_percent: Percent = 25
    high_percent: Percent = 75
    trim: Annotated[float, Ge(0), Lt(0.5)] = 0.1
    effect: Effect | Literal[""] = ""
    reference: Annotated[str, MaxLen(200)] = ""


@dataclass(frozen=True, kw_only=True)
class PairsOfGroupsSource(OfTable):
    """How groups differ, pair by pair, or each from a reference. measure: by what; pair: what joins values across
    groups; units: whether n counts the table's units; together, spreads: whether limits hold for all pairs at once, and
    whether spreads are taken for equal, where the measure knows how; trim: what trimmed means cut."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by", "pair")
    kind: Literal["group-differences"] = "group-differences"
    variable: Symbol
    by: Symbol
    pair: Symbol = ""
    measure: Effect = "mean"
    reference: Annotated[str, MaxLen(200)] = ""
    level: Level = 0.95
    units: bool = False
    together: bool = True
    spreads: Spreads = "unequal"
    trim: Annotated[float, Ge(0), Lt(0.5)] = 0.1


@dataclass(frozen=True, kw_only=True)
class CorrelationSource(OfTable):
    """Each variable with each, below the diagonal. above: what stands above it."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variables",)
    kind: Literal["correlations"] = "correlations"
    variables: Annotated[tuple[Symbol, ...], MaxLen(30)]
    coefficient: Coefficient = "pearson"
    above: Above = "none"


@dataclass(frozen=True, kw_only=True)
class FrequencySource(OfTable):
    """How often each level, value or class occurs; within the levels of another, which stand across. percents: of which
    whole; missing: whether rows without a value have a line."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variable", "by")
    kind: Literal["frequencies"] = "frequencies"
    variable: Symbol
    by: Symbol = ""
    percents: Percents = "columns"
    missing: bool = False


@dataclass(frozen=True, kw_only=True)
class _OfRelation(OfTable):
    """A response on predictors, and on the product of two of them."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("response", "predictors")
    response: Symbol
    predictors: Annotated[tuple[Symbol, ...], MaxLen(12)]
    product: Annotated[tuple[Symbol, ...], MaxLen(2)] = ()


@dataclass(frozen=True, kw_only=True)
class RegressionSource(_OfRelation):
    """A fitted relation. robust: standard errors by HC3, which hold where spreads differ."""

    kind: Literal["regression"] = "regression"
    robust: bool = False


@dataclass(frozen=True, kw_only=True)
class InfluenceTableSource(_OfRelation):
    """The rows that move a fitted relation most."""

    kind: Literal["influential"] = "influential"
    rows: Annotated[int, Ge(1), Le(60)] = 10


@dataclass(frozen=True, kw_only=True)
class QuantileSource(OfTable):
    """Percent points of variables, or of one within the levels of another."""

    SYMBOLS: ClassVar[tuple[str, ...]] = ("variables", "by")
    kind: Literal["percent-points"] = "percent-points"
    variables: _Variables
    by: Symbol = ""
    percents: Annotated[tuple[Percent, ...], MaxLen(20)] = (5, 25, 50, 75, 95)
    quantile_definition: Definition = 7


TableSource = (
    SummarySource
    | GroupSource
    | PairsOfGroupsSource
    | CorrelationSource
    | FrequencySource
    | RegressionSource
    | InfluenceTableSource
    | QuantileSource
)
KINDS: dict[str, type[TableSource]] = {kind.kind: kind for kind in TableSource.__args__}


def from_json(written: Mapping[str, Any]) -> TableSource:
    """The source that `to_json` wrote; an InputError for a kind that there is not."""
    return read_as(KINDS, written, "table")
