"""From the reading that a panel stands on to what it shows: axes, marks in data units, and the facts of its caption."""

from collections.abc import Callable
from dataclasses import replace

from heron.figure.scene import Scene
from heron.wording import typeset

from server.plates.documents import Source, symbols_of
from server.plates.scenes import groups, pairs, screen, spread
from server.plates.scenes.place import Place, place_of, table_of
from server.studies.snapshots import TableSnapshot

_BUILDERS: dict[str, Callable[[Place, Source], Scene]] = {
    "shape": spread.shape,
    "cumulative": spread.cumulative,
    "counts": spread.counts,
    "times": spread.times,
    "quantiles": spread.quantiles,
    "ordered": spread.ordered_rows,
    "groups": groups.compared,
    "shares": groups.answers,
    "estimates": groups.results,
    "differences": groups.differences,
    "pair": pairs.paired,
    "rules": screen.rules,
    "distances": screen.distances,
    "influence": screen.influence,
}


def made(table: TableSnapshot, source: Source) -> Scene:
    scene = _BUILDERS[source.kind](place_of(table, source.only), source)
    weights = table.state.weights_of(symbols_of(source.model_copy(update={"only": None})))
    if not weights:
        return scene
    note = f"Each row counts as often as {typeset(table.variable(weights).label)} says."
    return replace(scene, facts=replace(scene.facts, notes=(*scene.facts.notes, note)))


__all__ = ["made", "table_of"]
