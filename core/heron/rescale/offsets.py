"""What to add before a logarithm where values are not above 0, and what speaks for it."""

import math
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import ArrayLike
from scipy import optimize

from heron.checks import Floats, as_values
from heron.normality import blom_scores

_FEWEST = 8
_LARGEST = 1e300


@dataclass(frozen=True)
class Offsets:
    """Numbers c for log(x + c).

    half_least: half the smallest distance above the lowest value (above 0 where none lies below it), by which the
    lowest value stands a half-step below the next; straightest: the c whose Q-Q correlation with normal scores is
    highest; each with that correlation. None, with why in `undefined`, where it cannot be had.
    """

    half_least: float | None
    half_least_correlation: float | None
    straightest: float | None
    straightest_correlation: float | None
    undefined: dict[str, str] = field(default_factory=dict)


def offsets(x: ArrayLike) -> Offsets:
    """Return what can be added to a variable so that all its values stand on a log scale.

    Parameters: x (n_rows,) floats, NaN for missing, of which some are not above 0.
    Notes: what is added is a choice, not a fact of the data: results on the log scale depend on it, so that two
    reasons are given rather than one number. The straightest is sought between a hundredth of half_least and ten times
    the range, and is not given below 8 values, nor where the best lies at an end of what was searched.
    """
    values = np.sort(as_values(x).values)
    undefined: dict[str, str] = {}
    if values.size == 0 or values[0] == values[-1]:
        reason = "All values are the same." if values.size else "There is no value."
        return Offsets(None, None, None, None, {"half_least": reason, "straightest": reason})
    if not max(abs(float(values[0])), abs(float(values[-1]))) < _LARGEST:
        reason = "The values are too large to be moved."
        return Offsets(None, None, None, None, {"half_least": reason, "straightest": reason})
    low = min(float(values[0]), 0.0)
    above = values[values > low] - low
    if above.size and not above[0] / 200 > 0:
        reason = "The smallest values lie too near to each other to be moved apart."
        return Offsets(None, None, None, None, {"half_least": reason, "straightest": reason})
    half = float(above[0]) / 2 - low if above.size else None
    if half is None:
        undefined["half_least"] = "No value lies above 0."
    straightest = None
    if values.size < _FEWEST or half is None:
        undefined["straightest"] = f"It is sought from {_FEWEST} values on."
    else:
        scores = blom_scores(values.size)
        ends = (math.log((half + low) / 100), math.log(10 * float(values[-1] / 2 - values[0] / 2) * 2))
        result = optimize.minimize_scalar(
            lambda t: -_correlation(values, math.exp(t) - low, scores), bounds=ends, method="bounded"
        )
        span = ends[1] - ends[0]
        if ends[0] + 0.02 * span < result.x < ends[1] - 0.02 * span:
            straightest = float(f"{math.exp(result.x) - low:.2g}")
        else:
            undefined["straightest"] = "No number added makes the logs straighter than ever smaller or larger ones do."
    correlations = [
        None if c is None else _correlation(values, c, blom_scores(values.size)) for c in (half, straightest)
    ]
    return Offsets(half, correlations[0], straightest, correlations[1], undefined)


def _correlation(ordered: Floats, c: float, scores: Floats) -> float:
    shifted = ordered + c
    if shifted[0] <= 0:
        return 0.0
    y = np.log(shifted)
    y = y - y.mean()
    size = float(np.dot(y, y))
    return float(np.dot(y, scores)) / math.sqrt(size * float(np.dot(scores, scores))) if size > 0 else 0.0
