"""Statistics of tables too long to be held at once: of each part a small record, of all records one answer."""

from heron.chunked.looks import Chunks, Look, Of, Part, check_looks, not_in_parts, record_part
from heron.chunked.values import Basics, ChunkedValues, Ends, Reached

__all__ = [
    "Basics",
    "ChunkedValues",
    "Chunks",
    "Ends",
    "Look",
    "Of",
    "Part",
    "Reached",
    "check_looks",
    "not_in_parts",
    "record_part",
]
