"""Many tests at once."""

from collections.abc import Sequence

import numpy as np


def holm(p_values: Sequence[float]) -> list[float]:
    """Return p values adjusted for being the pick of many: at most level alpha of any false alarm, by Holm's steps.

    The i-th smallest of m is multiplied by m - i + 1, never falls below the one before, and never exceeds 1.
    References: holm-1979.
    """
    p = np.asarray(p_values, dtype=np.float64)
    order = np.argsort(p, kind="stable")
    stepped = np.minimum(np.maximum.accumulate(p[order] * np.arange(p.size, 0, -1)), 1.0)
    adjusted = np.empty_like(stepped)
    adjusted[order] = stepped
    return [float(value) for value in adjusted]
