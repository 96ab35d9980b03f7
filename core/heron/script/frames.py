"""What a script stands on: cells as numbers, labels and times in pandas frames, and frames as the core takes them.

A frame has the symbols of variables as its columns and row numbers, from 1, as its index. frame.attrs["said"] holds, by
symbol, what is said of a variable: label, unit, kind, decimals, level_numbers and, for numbers that are levels, levels.
"""

from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any, Literal

import numpy as np
import pandas as pd

from heron import derived
from heron.checks import Floats, Ints
from heron.columns import Column, Kind, Table
from heron.errors import InputError
from heron.variables import apply_description, labels_of

Words = Mapping[str, str]


def as_text(cells: pd.DataFrame) -> pd.DataFrame:
    """Cells of a workbook, or of typed columns, as the text that they would be in a text file; blank for none."""

    def text(value: Any) -> str:
        if value is None or value is pd.NaT or (isinstance(value, float) and np.isnan(value)):
            return ""
        if isinstance(value, bool | np.bool_):
            return "true" if value else "false"
        if isinstance(value, float | np.floating):
            number = float(value)
            return repr(int(number)) if number.is_integer() and abs(number) < 1e15 else repr(number)
        return str(value)

    return cells.astype(object).map(text)


def as_numbers(
    text: "pd.Series[str]",
    missing: Sequence[str] = (),
    *,
    decimal: str = ".",
    below: Literal["missing", "limit", "half"] = "missing",
    detection_limit: float | None = None,
) -> "pd.Series[float]":
    """Cells as numbers: blank ones, and the texts that mean missing, are NaN.

    below: what stands for a cell such as "<0.5", and for numbers below the detection limit: nothing, the limit, or half
    of it.
    """
    cells = text.str.strip()
    share = {"missing": np.nan, "limit": 1.0, "half": 0.5}[below]
    limited = cells.str.startswith("<") & ~cells.isin(missing) if below == "missing" else cells.str.startswith("<")
    known = ~cells.isin(["", *missing]) & ~limited
    found = pd.Series(np.nan, index=text.index)
    found[known] = [float(cell.replace(decimal, ".")) for cell in cells[known]]
    if below != "missing":
        found[limited] = [share * float(cell[1:].strip().replace(decimal, ".")) for cell in cells[limited]]
    if detection_limit is not None:
        found[found < detection_limit] = share * detection_limit
    return found


def as_labels(
    text: "pd.Series[str]",
    missing: Sequence[str] = (),
    *,
    levels: Sequence[str] | None = None,
    words: Words | None = None,
    ordered: bool = False,
) -> "pd.Series[Any]":
    """Cells as labels with their levels in order, by default as they sort; words: what stands for a label instead."""
    cells = text.str.strip()
    found = cells.where(~cells.isin(["", *missing])).replace(dict(words or {}))
    return pd.Series(pd.Categorical(found, categories=levels, ordered=ordered), index=text.index)


def as_times(text: "pd.Series[str]", missing: Sequence[str] = (), *, written: str = "ISO8601") -> "pd.Series[Any]":
    """Cells as dates and times, without a zone; written: how, in pandas' words."""
    cells = text.str.strip().str.removesuffix("Z")
    return pd.to_datetime(cells.where(~cells.isin(["", *missing])), format=written).astype("datetime64[us]")


def attempt(function: Callable[..., Any], *given: Any, **settings: Any) -> Any:
    """What a function gives; None where nothing can be computed of what it is given."""
    try:
        return function(*given, **settings)
    except (InputError, ValueError):
        return None


def rows(*runs: int | tuple[int, int]) -> list[int]:
    """Row numbers: each by itself, or from one to another, both belong."""
    found: list[int] = []
    for run in runs:
        found += [run] if isinstance(run, int) else range(run[0], run[1] + 1)
    return found


def column(frame: pd.DataFrame, symbol: str) -> Column:
    """A column of a frame as the core takes it."""
    said = frame.attrs.get("said", {}).get(symbol, {})
    series = frame[symbol]
    reasons = series.isna().to_numpy().astype(np.uint8)
    label, unit = said.get("label", symbol), said.get("unit", "")
    if isinstance(series.dtype, pd.CategoricalDtype):
        kind: Kind = said.get("kind") or ("ordered" if series.cat.ordered else "category")
        levels = tuple(str(level) for level in series.cat.categories)
        codes = series.cat.codes.to_numpy().astype(np.int32)
        return Column(
            symbol, label, unit, kind, None, codes, levels, reasons, level_numbers=tuple(said.get("level_numbers", ()))
        )
    if series.dtype.kind == "M":
        seconds = series.astype("datetime64[us]").to_numpy().astype(np.int64) / 1e6
        return Column(symbol, label, unit, "date-time", np.where(reasons > 0, np.nan, seconds), None, (), reasons)
    return Column(
        symbol, label, unit, said.get("kind") or "continuous", series.to_numpy(dtype=np.float64), None,
        tuple(said.get("levels", ())), reasons, decimals=said.get("decimals"),
        level_numbers=tuple(said.get("level_numbers", ())),
    )  # fmt: skip


def table(frame: pd.DataFrame, name: str) -> Table:
    """A frame as a table of the core."""
    return Table(name, len(frame), {str(symbol): column(frame, str(symbol)) for symbol in frame.columns})


def frame_of(found: Table) -> pd.DataFrame:
    """A table of the core as a frame."""
    made = {symbol: _series(each) for symbol, each in found.columns.items()}
    frame = pd.DataFrame(made, index=pd.RangeIndex(1, found.n_rows + 1))
    frame.attrs["said"] = {symbol: said_of(each) for symbol, each in found.columns.items()}
    return frame


def said_of(each: Column) -> dict[str, Any]:
    """What is said of a column, as a frame holds it."""
    said: dict[str, Any] = {"label": each.label, "unit": each.unit, "kind": each.kind}
    if each.decimals is not None:
        said["decimals"] = each.decimals
    if each.level_numbers:
        said["level_numbers"] = list(each.level_numbers)
    if each.numbers is not None and each.levels:
        said["levels"] = list(each.levels)
    return said


def _series(each: Column) -> "pd.Series[Any]":
    index = pd.RangeIndex(1, each.n_rows + 1)
    if each.codes is not None:
        made = pd.Categorical.from_codes(each.codes, list(each.levels), ordered=each.kind == "ordered")
        return pd.Series(made, index=index)
    assert each.numbers is not None
    if each.kind == "date-time":
        stamps = pd.to_datetime(pd.Series(each.numbers * 1e6).round().astype("Int64"), unit="us")
        return pd.Series(stamps.to_numpy(), index=index).astype("datetime64[us]")
    return pd.Series(each.numbers, index=index)


def follow(frame: pd.DataFrame, symbol: str, recipe: Mapping[str, Any]) -> "pd.Series[Any]":
    """A variable made of others by a recipe, as heron.derived has it; what is said of it is kept with the frame."""
    found = derived.compute_derived(symbol, recipe, {each: column(frame, each) for each in derived.sources_of(recipe)})
    frame.attrs.setdefault("said", {})[symbol] = said_of(found)
    return pd.Series(_series(found).array, index=frame.index)


def only(frame: pd.DataFrame, by: str, level: str) -> pd.DataFrame:
    """The frame with every row blank that is not at a level."""
    names, index = labels_of(column(frame, by))
    found = frame.copy()
    found.attrs = frame.attrs
    found.loc[index != names.index(level)] = None
    return found


def values(frame: pd.DataFrame, symbol: str) -> Floats:
    """A variable as numbers; dates and times in seconds since 1970."""
    found = column(frame, symbol).numbers
    assert found is not None
    return found


def groups(frame: pd.DataFrame, symbol: str) -> tuple[list[str], Ints, list[float | None]]:
    """The levels of a variable, the place of each row among them (-1 for none), and the number that each stands for;
    each value of a number is a level of its own."""
    each = column(frame, symbol)
    if each.numbers is None:
        names, place = labels_of(each)
        return names, place, [float(number) for number in each.level_numbers] or [None] * len(names)
    known = np.unique(each.numbers[~np.isnan(each.numbers)])
    place = np.where(np.isnan(each.numbers), -1, np.searchsorted(known, each.numbers))
    return [f"{value:.12g}" for value in known.tolist()], place.astype(np.int64), list(known.tolist())


def levels(frame: pd.DataFrame, symbol: str) -> tuple[list[str], Ints]:
    """The levels of a variable as they are named, and the place of each row among them, -1 for none."""
    return labels_of(column(frame, symbol))


def repeated(frame: pd.DataFrame, weights: str) -> pd.DataFrame:
    """The frame with each row as often as a variable says; its index still holds the number of each row."""
    often = np.nan_to_num(values(frame, weights)).astype(np.int64)
    found = frame.iloc[np.repeat(np.arange(len(frame)), often)]
    found.attrs = frame.attrs
    return found


class _Labels(list):  # type: ignore[type-arg]
    """Labels of rows with the order of their levels, the first of which the others are compared with."""

    def __init__(self, found: Iterable[str | None], categories: Sequence[str]) -> None:
        super().__init__(found)
        self.categories = categories


def labels_for(frame: pd.DataFrame, symbol: str) -> list[str | None]:
    """The labels of a variable, row by row, as a predictor."""
    names, index = labels_of(column(frame, symbol))
    return _Labels([names[place] if place >= 0 else None for place in index.tolist()], names)


def described(frame: pd.DataFrame, symbol: str, said: Mapping[str, Any]) -> "pd.Series[Any]":
    """A variable as it is described: of another kind, its levels in another order or by other words."""
    found = apply_description(column(frame, symbol), said)
    return pd.Series(_series(found).array, index=frame.index)
