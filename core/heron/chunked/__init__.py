"""Statistics of tables too long to be held at once: of each part a small record, and of all records one answer."""

from heron.chunked.counts import Cells, Counted, cells_in, outside, used_in
from heron.chunked.packing import pack, unpack
from heron.chunked.values import Basics, ChunkedValues

__all__ = [
    "Basics",
    "Cells",
    "ChunkedValues",
    "Counted",
    "cells_in",
    "outside",
    "pack",
    "unpack",
    "used_in",
]
