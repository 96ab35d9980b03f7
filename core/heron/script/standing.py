"""What a script stands on: tables as their decisions leave them, their rows in pandas, and numbers compared."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import replace
from typing import Any

import numpy as np
import pandas as pd

from heron.columns import Table
from heron.derived import recipe_of
from heron.figure import Scene
from heron.formatting import typeset
from heron.ledger import Decision, TablesAsImports, TableView, load_series, replay_decisions

_CLOSE = 1e-6  # of fits that are found step by step; plain sums agree to about 1e-12


def rows(*runs: int | tuple[int, int]) -> tuple[tuple[int, int], ...]:
    """Runs of row numbers: each by itself, or from one to another, both belong."""
    return tuple((run, run) if isinstance(run, int) else run for run in runs)


def table_of(name: str, table: Table, decisions: Sequence[Decision] = ()) -> TableView:
    """A table as its decisions leave it."""
    state = replay_decisions(decisions, TablesAsImports(replace(table, name=name)))
    return TableView(name, state.with_sources())


def tried(view: TableView, symbol: str, way: Mapping[str, Any]) -> TableView:
    """The table with a variable more, "tried", that a way makes of one of its own."""
    return view.tried(symbol, recipe_of(symbol, way)).table


def frame(view: TableView, *symbols: str) -> pd.DataFrame:
    """Variables of a table as columns, each row as often as it counts: numbers, seconds since 1970, or levels as words
    in their order. Its index holds the numbers of the rows."""
    series = load_series(view.state, symbols)
    made: dict[str, Any] = {}
    for symbol in symbols:
        if series.columns[symbol].codes is None:
            made[symbol] = series.entries(_numbers(series.columns[symbol].numbers))
        else:
            labels, index = series.levels(symbol)
            made[symbol] = pd.Categorical.from_codes(index, [typeset(label) for label in labels])
    return pd.DataFrame(made, index=series.positions(np.arange(series.n)) + 1)


def _numbers(values: Any) -> Any:
    assert values is not None
    return values


def levels(column: "pd.Series[Any]") -> Any:
    """The levels of a column in their order; of numbers, each that occurs."""
    return column.cat.categories if isinstance(column.dtype, pd.CategoricalDtype) else np.unique(column.dropna())


def called(levels: Iterable[Any]) -> str:
    """Levels as a group is called by them: numbers as short as they can be written."""
    return " ".join(f"{level:.12g}" if isinstance(level, float) else str(level) for level in levels)


def agree(scene: Scene, recomputed: Mapping[str, Any], close: float = _CLOSE) -> str:
    """In words, how many of a scene's numbers were recomputed, and which of these differ."""
    known = {name: float(value) for name, value in recomputed.items() if np.isfinite(value)}
    both = {number.name: (number.value, known[number.name]) for number in scene.numbers if number.name in known}
    apart = [
        f"{name}: {drawn!r}, recomputed {again!r}"
        for name, (drawn, again) in both.items()
        if not abs(drawn - again) <= close * max(abs(drawn), abs(again), 1e-12)
    ]
    said = f"{len(both)} of {len(scene.numbers)} numbers recomputed"
    return f"{said}; they differ in {'; '.join(apart)}" if apart else f"{said}; all agree" if both else said
