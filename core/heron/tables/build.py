"""From what a table of numbers is of to what stands in it."""

from typing import Any

from heron.errors import InputError
from heron.figure.build.context import context_of
from heron.ledger import TableView
from heron.readings import Cancellation
from heron.tables import fits, kinds, summary
from heron.tables.record import NumberTable
from heron.tables.source import TableSource

_BUILDERS: dict[str, Any] = {
    "summary": summary.summary_table,
    "groups": kinds.group_table,
    "group-differences": kinds.difference_table,
    "correlations": kinds.correlation_table,
    "frequencies": kinds.frequency_table,
    "regression": fits.regression_table,
    "influential": fits.influence_table,
    "percent-points": kinds.quantile_table,
}


def build(source: TableSource, table: TableView, cancellation: Cancellation | None = None) -> NumberTable:
    """Return the table of numbers of a source, of its table in one of its states.

    Raises: InputError where it cannot be made, with what to do instead.
    """
    if source.lacking:
        role = source.lacking[0]
        raise InputError(
            "lacking", f"This table needs a variable in the role {role!r}.", where=role, remedy="Choose one."
        )
    made: NumberTable = _BUILDERS[source.kind](context_of(table, source.only, cancellation or Cancellation()), source)
    return made
