"""The distribution of the studentized range, by quadrature: faster than the general routine, and exact in its tail."""

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np
from scipy import optimize, special

from heron.checks import Floats

_LEFT_OUT = 1e-12  # what is left outside at each end, as a share of the result
_LEAST = 1e-290


@lru_cache(maxsize=2)
def nodes(n: int) -> tuple[Floats, Floats]:
    x, w = np.polynomial.legendre.leggauss(n)
    return np.asarray(x), np.asarray(w)


def range_tail(w: Floats, k: int) -> Floats:
    """The probability that the range of k standard normal values exceeds each w: k times the integral over z of
    phi(z) (Phi(z)^(k - 1) - (Phi(z) - Phi(z - w))^(k - 1)), without the cancellation that 1 minus the rest brings."""
    t, weights = nodes(160)
    z = 9 * t
    phi = 9 * weights * np.exp(-(z**2) / 2) / math.sqrt(2 * math.pi)
    below = special.log_ndtr(z)
    share = np.minimum(np.exp(special.log_ndtr(z[None, :] - w[:, None]) - below[None, :]), 1)
    with np.errstate(divide="ignore"):
        lost = -np.expm1((k - 1) * np.log1p(-share))
    return np.asarray(k * (np.exp((k - 1) * below)[None, :] * lost) @ phi)


_PIECES, _WIDTH, _DEGREE = 60, 0.5, 20


class Tail:
    """A tail of w >= 0, (n,) to (n,), read from a table of its logarithm, Chebyshev series on pieces, where that
    reaches; by the usual table to twelve figures. beyond: what it is further out, by default as it is."""

    def __init__(
        self,
        exact: Callable[[Floats], Floats],
        *,
        pieces: int = _PIECES,
        degree: int = _DEGREE,
        beyond: Callable[[Floats], Floats] | None = None,
    ) -> None:
        self._pieces, self._beyond = pieces, beyond or exact
        nodes = np.polynomial.chebyshev.chebpts1(degree + 1)
        w = ((np.arange(pieces)[:, None] + (nodes + 1) / 2) * _WIDTH).ravel()
        logs = np.log(np.maximum(exact(w), _LEAST)).reshape(pieces, -1).T
        self._series = np.linalg.solve(np.polynomial.chebyshev.chebvander(nodes, degree), logs)

    def __call__(self, w: Floats) -> Floats:
        position = np.minimum(w / _WIDTH, self._pieces)
        piece = np.minimum(position, self._pieces - 1).astype(int)
        series = self._series[:, piece]
        result = np.exp(np.polynomial.chebyshev.chebval(2 * (position - piece) - 1, series, tensor=False))
        beyond = w > self._pieces * _WIDTH
        if beyond.any():
            result[beyond] = self._beyond(w[beyond])
        return np.asarray(result)


@lru_cache(maxsize=8)
def _tail(k: int) -> Tail:
    return Tail(lambda w: range_tail(w, k))


def upper_tail(q: float, k: int, df: float) -> float:
    """The probability that the range of k standard normal values, in SDs estimated with df degrees, exceeds q.

    Notes: the integral over u = log s of the density of the SD s times the tail of the range at q s, by Gauss and
    Legendre on pieces as wide as what they hold allows. Below and above them 1e-12 of the result is left out.
    """
    if not q > 0:
        return 1.0
    least = max(float(special.chdtr(df, df / q / q)), float(_tail(k)(np.array([q]))[0]))
    scales, shares = sds(k, df, least)
    return min(max(float(np.dot(shares, _tail(k)(q * scales))), 0.0), 1.0)


def sds(k: int, df: float, least: float) -> tuple[Floats, Floats]:
    """SDs with the share of each in an integral over all of them, for results of at least so much."""
    outside = max(_LEFT_OUT * 0.4 * least, _LEAST)
    low = math.log(max(2 * float(special.gammaincinv(df / 2, outside)), _LEAST) / df) / 2
    high = math.log(2 * float(special.gammainccinv(df / 2, outside)) / df) / 2
    width = min(1 / (1 + math.log(k / 2)), 2 / math.sqrt(2 * df))
    edges = np.linspace(low, high, math.ceil((high - low) / width) + 1)
    t, weights = nodes(10)
    half = np.diff(edges)[:, None] / 2
    u = ((edges[:-1, None] + edges[1:, None]) / 2 + half * t).ravel()
    log_density = math.log(2) + df / 2 * math.log(df / 2) - special.gammaln(df / 2) + df * u - df / 2 * np.exp(2 * u)
    return np.exp(u), np.exp(log_density) * (half * weights).ravel()


def point(share: float, k: int, df: float) -> float:
    """The studentized range that so large a share lies below.

    Notes: it lies between the point of one pair and that of all pairs by Bonferroni's inequality, both of them t's.
    """
    beyond = 1 - share
    one, all_pairs = (-math.sqrt(2) * float(special.stdtrit(df, beyond / n)) for n in (2, k * (k - 1)))
    if k == 2 or one <= 0:
        return one

    scales, shares = sds(k, df, beyond / 1_000)

    def over(log_q: float) -> float:
        return math.log(max(float(np.dot(shares, _tail(k)(math.exp(log_q) * scales))), _LEAST) / beyond)

    low, high = math.log(one), math.log(all_pairs)
    # Where share is next to 0 or 1, an end is as near as the quadrature can tell.
    if over(low) <= 0 or over(high) >= 0:
        return one if over(low) <= 0 else all_pairs
    return math.exp(float(optimize.brentq(over, low, high, xtol=1e-12)))
