"""Decisions on a table, the state to which they come, and the arrays that statistics are computed from."""

from heron.ledger.decisions import (
    KEPT_ONLY,
    Decision,
    Kind,
    decisions_in_force,
    meet,
    moved_recipe,
    revocable,
    undone_last,
)
from heron.ledger.looks import Chunks, Levels, Look, Of, Part, Watch, Way, in_rounds, record_part, watched
from heron.ledger.series import Series, Used, load_series
from heron.ledger.state import (
    TRIED,
    Imports,
    TablesAsImports,
    TableState,
    View,
    replay,
    replay_decisions,
)
from heron.ledger.views import TableView, VariableView

__all__ = [
    "KEPT_ONLY",
    "TRIED",
    "Chunks",
    "Decision",
    "Imports",
    "Kind",
    "Levels",
    "Look",
    "Of",
    "Part",
    "Series",
    "TableState",
    "TableView",
    "TablesAsImports",
    "Used",
    "VariableView",
    "View",
    "Watch",
    "Way",
    "decisions_in_force",
    "in_rounds",
    "load_series",
    "meet",
    "moved_recipe",
    "record_part",
    "replay",
    "replay_decisions",
    "revocable",
    "undone_last",
    "watched",
]
