"""From what a panel is of to what it shows: axes, marks in data units, and the facts of its caption."""

from dataclasses import replace
from typing import Any

from heron.errors import InputError
from heron.figure.build import agreement, control, groups, pairs, screen, shapes, spread
from heron.figure.build.context import context_of
from heron.figure.scene import Scene
from heron.figure.source import Source
from heron.formatting import typeset
from heron.ledger import TableView
from heron.readings import Cancellation

_BUILDERS: dict[str, Any] = {
    "shape": shapes.shapes,
    "cumulative": spread.cumulative,
    "counts": spread.counts,
    "times": spread.times,
    "quantiles": spread.quantiles,
    "ordered": spread.ordered_rows,
    "groups": groups.panel_of_groups,
    "shares": groups.answers,
    "estimates": groups.results,
    "differences": groups.differences,
    "pair": pairs.panel_of_pairs,
    "rules": screen.rules,
    "left-out": screen.without_each,
    "agreement": agreement.agreed,
    "control": control.control_chart,
    "distances": screen.distances,
    "influence": screen.influence,
}


def build(source: Source, table: TableView, cancellation: Cancellation | None = None) -> Scene:
    """Return what a source shows of its table, in one of its states.

    Parameters: cancellation, whether it is still wanted; asked between steps, and told how much is done.
    Raises: InputError where it cannot be shown, with what to do instead.
    """
    if source.lacking:
        role = source.lacking[0]
        raise InputError(
            "lacking", f"A picture of kind {source.kind} needs a variable in the role {role!r}.", where=role,
            remedy="Choose one.",
        )  # fmt: skip
    scene: Scene = _BUILDERS[source.kind](context_of(table, source.only, cancellation or Cancellation()), source)
    weights = table.state.weights_of(source.symbols - ({source.only.by} if source.only else set()))
    if not weights:
        return scene
    note = f"Each row counts as often as {typeset(table.variable(weights).label)} says."
    return replace(scene, facts=replace(scene.facts, notes=(*scene.facts.notes, note)))


__all__ = ["build"]
