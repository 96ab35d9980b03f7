"""What several tests are written with."""

import numpy as np


def in_rows(parts):
    """Groups, by label, as values and the label of each."""
    values = np.concatenate([np.asarray(part, dtype=float) for part in parts.values()] or [[]])
    return values, [label for label, part in parts.items() for _ in part]


def two(first, second):
    """Two groups as values and the label of each."""
    return in_rows({"1": first, "2": second})


def pairs(first, second):
    """Two groups as values, the label of each, and the pair that it is of."""
    values, by = two(first, second)
    return {"values": values, "by": by, "unit": [*range(len(first)), *range(len(second))]}
