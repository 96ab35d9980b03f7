"""Statistics of tables too long to be held at once: of each part a small record, and of all records one answer."""

from heron.chunked.audited import Audited
from heron.chunked.counts import Cells, Counted, cells_in, outside, used_in
from heron.chunked.far import Far, FarFrom, far_from
from heron.chunked.flagged import Flagged, FlaggedBy, strongest
from heron.chunked.influence import (
    BelowEach,
    Feels,
    Felt,
    Fitted,
    Rows,
    RowsAt,
    Solved,
    counted_beyond,
    joined_rows,
    solved,
    strongest_first,
    triangle_of,
)
from heron.chunked.lines import line_in
from heron.chunked.packing import pack, unpack
from heron.chunked.paging import Paging
from heron.chunked.pairs import InCells, InHexagons, NoPairs, Of2, PairSums, Products, lost_rows
from heron.chunked.ranks import Ranked, ranked_in
from heron.chunked.rows import MOST_LISTED, Holding, Listed, rows_holding, within
from heron.chunked.sequence import InRows, Outlined, outline
from heron.chunked.straighten import board_in
from heron.chunked.thick import density_in
from heron.chunked.values import Basics, ChunkedValues

__all__ = [
    "MOST_LISTED",
    "Audited",
    "Basics",
    "BelowEach",
    "Cells",
    "ChunkedValues",
    "Counted",
    "Far",
    "FarFrom",
    "Feels",
    "Felt",
    "Fitted",
    "Flagged",
    "FlaggedBy",
    "Holding",
    "InCells",
    "InHexagons",
    "InRows",
    "Listed",
    "NoPairs",
    "Of2",
    "Outlined",
    "Paging",
    "PairSums",
    "Products",
    "Ranked",
    "Rows",
    "RowsAt",
    "Solved",
    "board_in",
    "cells_in",
    "counted_beyond",
    "density_in",
    "far_from",
    "joined_rows",
    "line_in",
    "lost_rows",
    "outline",
    "outside",
    "pack",
    "ranked_in",
    "rows_holding",
    "solved",
    "strongest",
    "strongest_first",
    "triangle_of",
    "unpack",
    "used_in",
    "within",
]
