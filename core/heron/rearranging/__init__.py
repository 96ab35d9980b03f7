"""Tables made of tables: longer, wider, split, joined, stacked, looked up, narrowed."""

from heron.rearranging.made import Made
from heron.rearranging.parts import join, split
from heron.rearranging.shape import Stem, longer, stems, wider
from heron.rearranging.tables import Condition, look_up, stack, subset

__all__ = [
    "Condition",
    "Made",
    "Stem",
    "join",
    "longer",
    "look_up",
    "split",
    "stack",
    "stems",
    "subset",
    "wider",
]
