"""Statistics of tables too long to be held at once: of each part a small record, and of all records one answer."""

from heron.chunked.audited import Audited
from heron.chunked.counts import Cells, Counted, cells_in, outside, used_in
from heron.chunked.flagged import Flagged, FlaggedBy, strongest
from heron.chunked.lines import line_in
from heron.chunked.packing import pack, unpack
from heron.chunked.paging import Paging
from heron.chunked.pairs import InCells, InHexagons, NoPairs, Of2, PairSums, Products, lost_rows
from heron.chunked.ranks import Ranked, ranked_in
from heron.chunked.rows import MOST_LISTED, Holding, Listed, rows_holding, within
from heron.chunked.thick import density_in
from heron.chunked.values import Basics, ChunkedValues

__all__ = [
    "MOST_LISTED",
    "Audited",
    "Basics",
    "Cells",
    "ChunkedValues",
    "Counted",
    "Flagged",
    "FlaggedBy",
    "Holding",
    "InCells",
    "InHexagons",
    "Listed",
    "NoPairs",
    "Of2",
    "Paging",
    "PairSums",
    "Products",
    "Ranked",
    "cells_in",
    "density_in",
    "line_in",
    "lost_rows",
    "outside",
    "pack",
    "ranked_in",
    "rows_holding",
    "strongest",
    "unpack",
    "used_in",
    "within",
]
