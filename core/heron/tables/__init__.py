"""Tables of numbers for publication: what they are of, what stands in them, how they are written and leave."""

from heron.tables.build import build
from heron.tables.laid import Head, Laid, Line, laid_out
from heron.tables.methods import uses_of
from heron.tables.record import Cell, Column, Figure, Footnote, NumberTable, Row
from heron.tables.source import TableSource, from_json
from heron.tables.words import TableFinding, alternative, caption, check

__all__ = [
    "Cell",
    "Column",
    "Figure",
    "Footnote",
    "Head",
    "Laid",
    "Line",
    "NumberTable",
    "Row",
    "TableFinding",
    "TableSource",
    "alternative",
    "build",
    "caption",
    "check",
    "from_json",
    "laid_out",
    "uses_of",
]
