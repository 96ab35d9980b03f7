"""Statistics of tables too long to be held at once: of each part a small record, and of all records one answer."""

from heron.chunked.counts import Counted, Levels, outside, used_in
from heron.chunked.packing import pack, unpack
from heron.chunked.values import Basics, ChunkedValues

__all__ = [
    "Basics",
    "ChunkedValues",
    "Counted",
    "Levels",
    "outside",
    "pack",
    "unpack",
    "used_in",
]
