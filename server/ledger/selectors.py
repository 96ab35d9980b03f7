from heron.record import Decision

from server.ledger.models import Entry
from server.studies.models import Table


def entries(table: Table) -> list[Entry]:
    return list(table.entries.select_related("author"))


def decisions(found: list[Entry]) -> list[Decision]:
    """The entries as the core replays them."""
    return [
        Decision(
            entry.number,
            entry.kind,  # type: ignore[arg-type]
            tuple((a, b) for a, b in entry.rows),
            entry.variable,
            entry.of,
            entry.changes,
        )
        for entry in found
    ]
