"""What tests of figures have in common: facts, a panel and a document as a plate has them, and a layer by its role."""

from heron.figure import styles
from heron.figure.scene import Facts

FACTS = Facts(
    "Mass (g) by bed", ("Open marks: mean; bars: one SD to each side.",), "one SD to each side", n=(("a", 3), ("b", 4))
)
AXIS = {"title": None, "low": None, "high": None, "scale": None}


def panel(**said):
    legend = {"shown": "auto", "title": None, **said.pop("legend", {})}
    return {"across": dict(AXIS), "up": dict(AXIS), "series": {}, "legend": legend, "furniture": [], **said}


def document(*panels, **said):
    return {
        "sheet": {"letters": "A"},
        "style": styles.ON_SCREEN,
        "numbers": "space-point",
        "panels": list(panels or (panel(),)),
        **said,
    }


def layer(scene, role, series=None):
    return next(layer for layer in scene.layers if layer.role == role and series in (None, layer.series))
