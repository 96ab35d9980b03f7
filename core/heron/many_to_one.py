"""The distribution of the largest of several comparisons with one group, by quadrature."""

import math

import numpy as np
from scipy import optimize, special

from heron import studentized
from heron.checks import Floats, Ints

_REACH = 14.0  # SDs of the common part that are looked at, to both sides


class Largest:
    """The largest of |t_1| to |t_k|.

    shares: (k,) of each comparison, which part of its variance is that of the common group.

    Notes: given the common group's mean and the SD the comparisons are independent, so that the tail is one minus an
    integral over both, of the product of the probabilities that each lies inside. References: dunnett-1955.
    """

    def __init__(self, shares: Floats) -> None:
        self._n = n = shares.size
        distinct, counts = np.unique(shares, return_counts=True)
        # So far out no two lie at once, to all figures that are asked for.
        self._tail = studentized.Tail(
            lambda limits: _outside(limits, distinct, counts), pieces=24, degree=10,
            beyond=lambda limits: np.asarray(2 * n * special.ndtr(-limits)),
        )  # fmt: skip

    def upper_tail(self, q: float, df: float) -> float:
        """The probability that it exceeds q; df: degrees of freedom of the SD that all are divided by."""
        if not q > 0:
            return 1.0
        sds, weights = studentized.sds(2, df, float(special.stdtr(df, -q)))
        return min(max(float(np.dot(weights, self._tail(q * sds))), 0.0), 1.0)

    def point(self, level: float, df: float) -> float:
        """What it stays below with that probability.

        Notes: it lies between the point of one comparison and that of all by Bonferroni's inequality, both of them t's.
        """
        beyond = 1 - level
        one, all_together = (-float(special.stdtrit(df, beyond / (2 * n))) for n in (1, self._n))
        if self._n == 1:
            return one

        def over(q: float) -> float:
            return self.upper_tail(q, df) - beyond

        if over(one) <= 0 or over(all_together) >= 0:  # as near as the quadrature can tell
            return one if over(one) <= 0 else all_together
        return float(optimize.brentq(over, one, all_together, xtol=1e-10))


def _outside(limits: Floats, shares: Floats, counts: Ints) -> Floats:
    """The probability that one of several normal values, correlated through a common part, lies beyond each limit;
    counts: how many have each share."""
    # The larger the common part, the more sharply a value passes a limit as that moves.
    sharp = math.sqrt((1 - float(shares.max())) / float(shares.max()))
    nodes, weights = studentized.nodes(int(min(max(_REACH / (0.1 * sharp), 160), 4_000)))
    z = _REACH * nodes
    phi = _REACH * weights * np.exp(-(z**2) / 2) / math.sqrt(2 * math.pi)
    inside = np.zeros((limits.size, z.size))  # the logarithm of the product
    for share, count in zip(shares.tolist(), counts.tolist(), strict=True):
        common, spread = math.sqrt(share) * z, math.sqrt(1 - share)
        up, down = (limits[:, None] - common) / spread, (-limits[:, None] - common) / spread
        with np.errstate(divide="ignore"):
            inside += count * np.log1p(-np.minimum(special.ndtr(-up) + special.ndtr(down), 1.0))
    return np.asarray(-np.expm1(inside) @ phi)
