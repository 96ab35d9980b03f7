"""What normal samples of each size look like, by simulation (scripts/normal_samples.py)."""

import json
import math
from functools import lru_cache
from importlib.resources import files
from typing import Literal

import numpy as np
from scipy import special

from heron.checks import Floats


def farthest(x: Floats) -> Floats:
    """(n_samples,) Lilliefors' statistic: the largest gap between the shares of values and those of the normal
    distribution with the mean and SD of each row of x (n_samples, n)."""
    ordered = np.sort(x, axis=1)
    ordered -= ordered.mean(axis=1, keepdims=True)
    return gaps(special.ndtr(ordered / ordered.std(axis=1, ddof=1, keepdims=True)))


def gaps(shares: Floats) -> Floats:
    """The largest gap between the shares of ascending values, on the last axis, and those of a distribution."""
    n = shares.shape[-1]
    above = shares - shares_before(n)
    return np.asarray(np.maximum(1 / n - above.min(axis=-1), above.max(axis=-1)))


@lru_cache(maxsize=8)
def shares_before(n: int) -> Floats:
    """(n,) the share of n values that lies before each of them, in their order."""
    return np.arange(n) / n


def scaled(d: float, n: int) -> float:
    """Lilliefors' statistic on a scale on which its distribution hardly depends on n (Stephens 1974)."""
    return float(d) * (math.sqrt(n) - 0.01 + 0.85 / math.sqrt(n))


@lru_cache(maxsize=2)
def _table(of: Literal["lilliefors", "correlation"]) -> tuple[Floats, Floats, Floats]:
    """log n of the sizes, ascending; the probabilities, falling; (n_sizes, n_probabilities) what is exceeded."""
    told = json.loads(files("heron.normality").joinpath("simulated.json").read_text())
    sizes = sorted(map(int, told[of]))
    return np.log(sizes), np.array(told["probabilities"]), np.array([told[of][str(n)] for n in sizes])


def _of_size(of: Literal["lilliefors", "correlation"], n: int) -> tuple[Floats, Floats]:
    """What is exceeded in samples of n values with each probability."""
    sizes, probabilities, exceeded = _table(of)
    # Beyond the largest size the scaled statistic stays as it is, and 1 less the correlation falls as 1/n.
    beyond = min(1.0, math.exp(float(sizes[-1])) / n) if of == "correlation" else 1.0
    return np.exp([np.interp(math.log(n), sizes, column) for column in np.log(exceeded).T]) * beyond, probabilities


def lilliefors_p(d: float, n: int) -> float:
    """How often normal samples of n values, 4 or more, give at least such a statistic: up to 0.999; below 0.001 the
    tail is carried on."""
    exceeded, probabilities = _of_size("lilliefors", n)
    at, logs = scaled(d, n), np.log(probabilities)
    if at <= exceeded[-1]:
        return float(np.exp(np.interp(at, exceeded, logs)))
    # The logarithm of such a tail falls with the square of the statistic.
    squares = exceeded[-2:] ** 2
    return float(np.exp(logs[-1] + (logs[-1] - logs[-2]) / (squares[1] - squares[0]) * (at**2 - squares[1])))


def usual_correlation(n: int, share: float = 0.95) -> float:
    """What the Q-Q correlation of such a share of normal samples of n values, 4 or more, is at least."""
    exceeded, probabilities = _of_size("correlation", n)
    return 1 - float(np.interp(1 - share, probabilities[::-1], exceeded[::-1]))
