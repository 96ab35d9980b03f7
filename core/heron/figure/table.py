"""The numbers behind a figure, as lines of a table."""

from collections.abc import Sequence

import numpy as np

from heron import cells
from heron.checks import Floats, Ints
from heron.figure.scene import Layer, Scene

HEAD = ("panel", "mark", "series", "row", "x", "y", "to_x", "to_y", "low", "high", "q1", "q3", "value")
_FIELDS = ("rows", "x", "y", "high_x", "high_y", "low", "high", "q1", "q3", "value")


def data(scenes: Sequence[Scene], names: Sequence[str]) -> str:
    """All marks of all panels as CSV, a line each, numbers with every digit they have; levels by their names."""
    lines = [
        line
        for scene, name in zip(scenes, names, strict=True)
        for layer in scene.layers
        for line in _lines(layer, name, scene)
    ]
    return cells.delimited([HEAD, *lines])


def _lines(layer: Layer, name: str, scene: Scene) -> list[list[str]]:
    n = layer.x.size
    columns = [_texts(getattr(layer, field), n) for field in _FIELDS]
    if layer.strip is not None:
        columns[1 if layer.upright else 2] = [""] * n
    for column_at, axis in ((1, scene.across), (2, scene.up)):
        if axis.kind == "levels" and layer.form in ("interval", "box"):
            at = np.clip(np.round((layer.x, layer.y)[column_at - 1]), 0, len(axis.levels) - 1)
            columns[column_at] = [axis.levels[int(level)] for level in at]
    return [[name, layer.role, layer.series, *(column[i] for column in columns)] for i in range(n)]


def _texts(values: Floats | Ints, n: int) -> list[str]:
    if values.size != n:
        return [""] * n
    if values.dtype.kind in "iu":
        return [str(value) for value in values.tolist()]
    return ["" if value != value else repr(value) for value in values.tolist()]
