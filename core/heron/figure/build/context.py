"""Where the rows of a panel come from, and the words that all kinds of panels share."""

import json
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from heron.derived import recipe_of
from heron.figure.scene import Number
from heron.figure.source import Only
from heron.formatting import fixed, significant, typeset
from heron.ledger import TableView, Used, VariableView
from heron.readings import Cancellation

DAY = 86_400.0


@dataclass(frozen=True)
class Context:
    """Where a panel's rows come from: the table, narrowed to one level where only that is shown."""

    table: TableView
    only: Only | None = None
    cancellation: Cancellation = field(default_factory=Cancellation)

    def words(self, text: str) -> str:
        """What is shown, with the level to which it is narrowed."""
        if self.only is None:
            return text
        return f"{text}, {typeset(self.table.variable(self.only.by).label)} {typeset(self.only.level)}"

    @property
    def n_hidden(self) -> int:
        """How many rows are not at the level; readings row by row have them as missing."""
        shown = self.table.state.shown
        return 0 if shown is None else int(np.count_nonzero(~shown))


def context_of(table: TableView, only: Only | None, cancellation: Cancellation) -> Context:
    return Context(table if only is None else table.narrowed(only.by, only.level), only, cancellation)


def variable_at(context: Context, source: Any) -> VariableView:
    """The variable of a source, as if its way had made it where it has one."""
    if not source.as_if:
        return context.table.variable(source.variable)
    return context.table.tried(source.variable, recipe_of(source.variable, json.loads(source.as_if)))


def titled(text: str) -> str:
    return text[:1].upper() + text[1:]


def named(label: str, unit: str) -> str:
    return f"{label} ({unit})" if unit else label


def left_out(used: Used) -> dict[str, Any]:
    codes = tuple(used.missing_counts.items())
    return {
        "missing": used.missing,
        "codes": codes,
        "aside": used.set_aside,
        "weighted": used.weighted_by,
        "sampled": used.sampled,
    }


def number(name: str, value: float | None, unit: str = "") -> list[Number]:
    return [] if value is None or not np.isfinite(value) else [Number(name, float(value), unit)]


def signed(intercept: float, slope: float, name: str) -> str:
    sign = "\u2212" if slope < 0 else "+"
    return f"{significant(intercept, 4)} {sign} {significant(abs(slope), 4)} \u00d7 {name}"


def r_words(r_squared: float | None) -> str:
    return "" if r_squared is None else f", R\u00b2 = {fixed(r_squared, 3)}"
