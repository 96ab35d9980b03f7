"""The normal curve of a mean and SD."""

import math
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, within


@dataclass(frozen=True)
class NormalCurve:
    """The density of a normal distribution: x and density (points,), in the unit of the mean and its inverse."""

    mean: float
    sd: float
    x: Floats
    density: Floats


def curve(mean: float, sd: float, *, points: int = 201) -> NormalCurve:
    """Return the normal curve of a mean and SD, from 4 SD below to 4 SD above.

    Parameters: mean; sd above 0, in the same unit; points of the curve.
    Raises: InputError for an SD that is not above 0, or too extreme to draw.
    """
    within(sd, above=1e-290, below=1e290, where="sd")
    score = np.linspace(-4, 4, points)
    return NormalCurve(mean, sd, mean + sd * score, np.exp(-(score**2) / 2) / (math.sqrt(2 * math.pi) * sd))
