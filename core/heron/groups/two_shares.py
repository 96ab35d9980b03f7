"""How two shares differ: by their difference, their ratio and the ratio of their odds."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

from heron.checks import within
from heron.groups.bars import wilson
from heron.results import Result


@dataclass(frozen=True)
class TwoShares(Result):
    """Of the share of one group from that of another: their difference, their ratio, and the ratio of their odds, each
    with limits; None with the reason where there is none."""

    difference: float
    difference_low: float
    difference_high: float
    ratio: float | None
    ratio_low: float | None
    ratio_high: float | None
    odds_ratio: float | None
    odds_low: float | None
    odds_high: float | None
    level: float
    undefined: dict[str, str] = field(default_factory=dict)


def two_shares(counts: Sequence[int], sizes: Sequence[int], *, level: float = 0.95) -> TwoShares:
    """Return how two shares differ.

    Parameters
    ----------
    counts : sequence of 2 int
        How many of each group count.
    sizes : sequence of 2 int
        Of how many, 1 or more.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    TwoShares
        Difference, ratio and odds ratio of the first group from the second.

    Raises
    ------
    InputError
        For a level outside its range.

    Notes
    -----
    All limits put the two score intervals together: of the difference by Newcombe's method 10, of ratios those at which
    the first share less so many times the second would have 0 as a limit (Donner and Zou).

    References
    ----------
    newcombe-1998-difference
    donner-zou-2012

    Examples
    --------
    >>> result = two_shares([56, 48], [70, 80])
    >>> round(result.difference_low, 4), round(result.difference_high, 4), round(result.ratio, 4)
    (0.0524, 0.3339, 1.3333)
    """
    within(level, above=0, below=1, where="level")
    given = ((k / n, wilson(k, n, level)) for k, n in zip(counts, sizes, strict=True))
    (p, (low_p, high_p)), (q, (low_q, high_q)) = given
    difference = p - q
    down, up = math.hypot(p - low_p, high_q - q), math.hypot(high_p - p, q - low_q)
    undefined: dict[str, str] = {}
    ratio = _ratio((p, low_p, high_p), (q, low_q, high_q))
    odds = _ratio_of_odds((p, low_p, high_p), (q, low_q, high_q))
    for name, (estimate, _, high), lack in (("ratio", ratio, "share"), ("odds_ratio", odds, "odds")):
        if estimate is None and high is None:
            undefined[name] = f"A {lack} of 0, or of all, leaves no ratio."
    return TwoShares(difference, difference - down, difference + up, *ratio, *odds, level, undefined)


_Three = tuple[float, float, float]
_Ratio = tuple[float | None, float | None, float | None]


def _ratio(first: _Three, second: _Three) -> _Ratio:
    """The ratio of two numbers of 0 or more, with limits from theirs."""
    (p, low_p, high_p), (q, low_q, high_q) = first, second
    if q == 0:
        if p == 0:
            return None, None, None
        _, _, above = _ratio(second, first)
        return None, None if above is None else 1 / above, None

    # At a limit t the difference p - t q has 0 as a limit: a t^2 - 2 p q t + c = 0.
    a, c = high_q * (2 * q - high_q), low_p * (2 * p - low_p)
    low = c / (p * q + math.sqrt(max((p * q) ** 2 - a * c, 0.0))) if c else 0.0
    a, c = low_q * (2 * q - low_q), high_p * (2 * p - high_p)
    high = (p * q + math.sqrt(max((p * q) ** 2 - a * c, 0.0))) / a if a else None
    return p / q, low, high


def _ratio_of_odds(first: _Three, second: _Three) -> _Ratio:
    """The same of the odds: where a share is 1 the odds against it are compared, the other way round."""
    if first[0] == 1 or second[0] == 1:
        other, one = (((1 - p), (1 - high), (1 - low)) for p, low, high in (second, first))
        return _ratio(_odds(other), _odds(one)) if first[0] < 1 or second[0] < 1 else (None, None, None)
    return _ratio(_odds(first), _odds(second))


def _odds(share: _Three) -> _Three:
    p, low, high = (part / (1 - part) if part < 1 else math.inf for part in share)
    return p, low, high
