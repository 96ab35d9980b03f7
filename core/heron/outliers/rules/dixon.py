"""Dixon's ratio test of the farthest value of a small sample."""

import math
from dataclasses import replace
from functools import lru_cache

import numpy as np
from scipy import optimize, special

from heron.checks import Checked, Floats, within
from heron.outliers.rules.flags import FLAT, LEVEL, Flags, OutlierRule, flags_of, nothing_flagged

FEWEST, MOST = 3, 30
# From how many values: the gap is to the j-th neighbour, the range leaves i - 1 values at the other end out.
_RATIOS = ((3, 1, 1), (8, 1, 2), (11, 2, 2), (14, 2, 3))
_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(96)
_FARTHEST = 8.5  # SDs; beyond lies less of a normal distribution than rounding loses


def _flag(checked: Checked, level: float = 0.05) -> Flags:
    within(level, above=0, below=1, where="level")
    n = checked.n
    if not FEWEST <= n <= MOST:
        return nothing_flagged("dixon", checked, f"It is for {FEWEST} to {MOST} values; there are {n}.")
    order = np.argsort(checked.values, kind="stable")
    x = checked.values[order] / 2  # halved, so that no difference overflows
    if x[0] == x[-1]:
        return nothing_flagged("dixon", checked, FLAT)
    j, i = _ratio_for(n)
    high, low = _ratio(x, j, i), _ratio(-x[::-1], j, i)
    far, ratio = (n - 1, high) if high >= low else (0, low)
    scores = np.zeros(n)
    scores[order[0]], scores[order[-1]] = -low, high
    critical = _critical(n, level)
    beyond = np.zeros(n, dtype=bool)
    beyond[order[far]] = ratio > critical
    p = min(1.0, 2 * _beyond(n, ratio))
    result = flags_of("dixon", checked, scores, beyond, 0, 0, critical)
    return replace(result, low=None, high=None, p_value=p)


def _ratio_for(n: int) -> tuple[int, int]:
    return next((j, i) for least, j, i in reversed(_RATIOS) if n >= least)


def _ratio(x: Floats, j: int, i: int) -> float:
    """(x(n) - x(n - j))/(x(n) - x(i)) of ascending values; 0 where all of them but those left out are the same."""
    span = float(x[-1] - x[i - 1])
    return float(x[-1] - x[-1 - j]) / span if span > 0 else 0.0


def _beyond(n: int, ratio: float) -> float:
    """How likely the ratio of the largest of n normal values exceeds one: an integral over x(n) and x(i).

    Between both lie n - i - 1 values, of which j - 1 beside the largest; where these lie is integrated in closed form.
    """
    j, i = _ratio_for(n)
    top = _FARTHEST * _NODES[:, None]
    span = _FARTHEST * (_NODES[None, :] + 1)
    bottom = top - span
    a, b = special.ndtr(bottom), special.ndtr(top)
    inner, whole = np.maximum(special.ndtr(top - ratio * span) - a, 0), b - a
    m = n - j - i  # values between x(i) and the neighbour, and that one
    shares = inner**m / m if j == 1 else whole * inner**m / m - inner ** (m + 1) / (m + 1)
    normal = np.exp(-(top**2 + bottom**2) / 2) / (2 * math.pi)
    ways = math.factorial(n) / (math.factorial(i - 1) * math.factorial(m - 1) * math.factorial(j - 1))
    areas = _WEIGHTS[:, None] * _WEIGHTS[None, :] * _FARTHEST**2
    return float(np.sum(areas * ways * a ** (i - 1) * normal * shares))


@lru_cache(maxsize=256)
def _critical(n: int, level: float) -> float:
    """What the larger of the two ratios exceeds with a chance of at most the level."""
    return float(optimize.brentq(lambda ratio: 2 * _beyond(n, ratio) - level, 0.0, 1.0, xtol=1e-10))


DIXON = OutlierRule(
    id="dixon",
    label="Dixon's ratio test",
    help="For 3 to 30 values, of which all but one are normal; it tests the farthest by its gap from the next.",
    definition="The gap to the next value over the range, for 3 to 7 values; from 8 without the other end, from 11 "
    "with the gap to the second next, from 14 without two at the other end. Two-sided, at a level of 0.05 "
    "unless chosen otherwise; its distribution is integrated.",
    caption="Dixon's ratio test at {percent}",
    methods="rows were screened by Dixon's ratio test at {percent}",
    sources=(
        "Dixon, W. J. (1953). Processing data for outliers. Biometrics 9, 74-89.",
        "Rorabacher, D. B. (1991). Statistical treatment for rejection of deviant values: critical values of Dixon's "
        "Q parameter and related subrange ratios at the 95 % confidence level. Analytical Chemistry 63, 139-146.",
    ),
    options=(LEVEL,),
    rank=45,
    compute=_flag,
)
