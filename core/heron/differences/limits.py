"""Limits of the differences of means, pair by pair: for all together or each for itself, spreads equal or not."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import special

from heron import studentized
from heron.checks import Floats
from heron.choices import Choice, by_id, displays
from heron.differences.means import satterthwaite
from heron.many_to_one import Largest

Spreads = Literal["unequal", "equal"]
SPREADS = displays(
    {
        "unequal": ("spreads may differ", "Each group with its own SD."),
        "equal": ("spreads taken for equal", "One SD, pooled over all groups: sharper where it holds, wrong else."),
    }
)
Three = tuple[float | None, float | None, float | None]  # from, to, p


@dataclass(frozen=True)
class Groups:
    """What limits rest on. sizes, means, squares: (k,) of the groups; squares are variances; pooled, df: the variance
    within all groups together, and its degrees of freedom."""

    sizes: Floats
    means: Floats
    squares: Floats
    pooled: float
    df: float

    def error(self, i: int, j: int, equal: bool) -> tuple[float, float]:
        """The standard error of a difference with its degrees of freedom."""
        if equal:
            return math.sqrt(self.pooled * (1 / self.sizes[i] + 1 / self.sizes[j])), self.df
        a, b = float(self.squares[i] / self.sizes[i]), float(self.squares[j] / self.sizes[j])
        return math.sqrt(a + b), satterthwaite(a, b, int(self.sizes[i]), int(self.sizes[j])) if a + b else 1.0


def groups_of_limits(parts: Sequence[Floats]) -> Groups:
    """The sizes, means and variances of groups of 2 values or more."""
    sizes = np.array([part.size for part in parts], dtype=np.float64)
    squares = np.array([part.var(ddof=1) for part in parts])
    df = float(sizes.sum()) - sizes.size
    return Groups(
        sizes, np.array([part.mean() for part in parts]), squares, float(np.dot(squares, (sizes - 1) / df)), df
    )


Reach = Callable[[Groups, list[tuple[int, int]], float], list[tuple[float, float]]]


@dataclass(frozen=True, kw_only=True)
class LimitsChoice(Choice):
    """How far limits reach. equal: whether spreads are taken for equal; reach: of the groups, the pairs (places) and
    the level, for each pair the factor of its standard error and its p value."""

    equal: bool
    together: bool
    to_reference: bool = False
    reach: Reach


def limits(groups: Groups, pairs: list[tuple[int, int]], how: LimitsChoice, level: float) -> list[Three]:
    """The limits of each pair of groups (by their places), and its p value; None where no group has any spread."""
    known = [pair for pair in pairs if groups.error(*pair, how.equal)[0] > 0]
    reached = dict(zip(known, how.reach(groups, known, level), strict=True))
    result: list[Three] = []
    for i, j in pairs:
        if (i, j) not in reached:
            result.append((None, None, None))
            continue
        factor, p = reached[i, j]
        gap, error = float(groups.means[i] - groups.means[j]), groups.error(i, j, how.equal)[0]
        result.append((gap - factor * error, gap + factor * error, p))
    return result


def _t(groups: Groups, pair: tuple[int, int], equal: bool) -> tuple[float, float]:
    """The size of a difference in its standard errors, and their degrees of freedom."""
    error, df = groups.error(*pair, equal)
    return abs(float(groups.means[pair[0]] - groups.means[pair[1]])) / error, df


def _each(equal: bool) -> Reach:
    def reach(groups: Groups, pairs: list[tuple[int, int]], level: float) -> list[tuple[float, float]]:
        told = (_t(groups, pair, equal) for pair in pairs)
        return [(float(special.stdtrit(df, 0.5 + level / 2)), 2 * float(special.stdtr(df, -t))) for t, df in told]

    return reach


def _of_all_pairs(equal: bool) -> Reach:
    """By the studentized range."""

    def reach(groups: Groups, pairs: list[tuple[int, int]], level: float) -> list[tuple[float, float]]:
        k, two = groups.sizes.size, math.sqrt(2)
        told = [_t(groups, pair, equal) for pair in pairs]
        points = {df: studentized.point(level, k, df) / two for df in {df for _, df in told}}
        return [(points[df], studentized.upper_tail(t * two, k, df)) for t, df in told]

    return reach


def _with_reference(equal: bool) -> Reach:
    """By the largest of several comparisons with one group, which stands second in each pair."""

    def reach(groups: Groups, pairs: list[tuple[int, int]], level: float) -> list[tuple[float, float]]:
        squares = np.full(groups.sizes.size, groups.pooled) if equal else groups.squares
        if not pairs:
            return []
        first_share, common = (np.array([(squares / groups.sizes)[pair[side]] for pair in pairs]) for side in (0, 1))
        shares = common / (first_share + common)
        told = [_t(groups, pair, equal) for pair in pairs]
        largest = Largest(shares)
        points = {df: largest.point(level, df) for df in {df for _, df in told}}
        return [(points[df], largest.upper_tail(t, df)) for t, df in told]

    return reach


LIMITS: Mapping[str, LimitsChoice] = by_id(
    (
        LimitsChoice(
            id="games-howell",
            label="for all pairs together, spreads may differ",
            help="Games and Howell: of all pairs at once, each with its own standard error.",
            definition="Difference ± q(level; k, df)/√2 · √(s₁²/n₁ + s₂²/n₂), q of the studentized range of all k "
            "groups, Welch's degrees of freedom.",
            caption="for all pairs together (Games and Howell)",
            methods="differences of means have simultaneous {percent} limits",
            sources=("games-howell-1976",),
            rank=1,
            equal=False,
            together=True,
            reach=_of_all_pairs(equal=False),
        ),
        LimitsChoice(
            id="tukey-kramer",
            label="for all pairs together, spreads taken for equal",
            help="Tukey and Kramer: of all pairs at once, with one SD for all groups.",
            definition="Difference ± q(level; k, N − k)/√2 · s √(1/n₁ + 1/n₂), s pooled over all k groups.",
            caption="for all pairs together, spreads taken for equal (Tukey and Kramer)",
            methods="differences of means have simultaneous {percent} limits, with one SD for all groups",
            sources=("tukey-1953", "kramer-1956"),
            rank=2,
            equal=True,
            together=True,
            reach=_of_all_pairs(equal=True),
        ),
        LimitsChoice(
            id="hasler-hothorn",
            label="for all together, spreads may differ",
            help="As Dunnett's for comparisons with one group, each with its own standard error.",
            definition="Difference ± d · √(s₁²/n₁ + s₀²/n₀), d the point of the largest |t| of all comparisons with "
            "the reference, correlated by its share of their variances, Welch's degrees of freedom.",
            caption="for all comparisons with the reference together (Hasler and Hothorn)",
            methods="differences of means from the reference have simultaneous {percent} limits",
            sources=("hasler-hothorn-2008", "dunnett-1955"),
            rank=3,
            equal=False,
            together=True,
            to_reference=True,
            reach=_with_reference(equal=False),
        ),
        LimitsChoice(
            id="dunnett",
            label="for all together, spreads taken for equal",
            help="Dunnett: of all comparisons with one group, with one SD for all groups.",
            definition="Difference ± d · s √(1/n₁ + 1/n₀), s pooled over all k groups, d the point of the largest |t| "
            "of all comparisons with the reference.",
            caption="for all comparisons with the reference together, spreads taken for equal (Dunnett)",
            methods="differences of means from the reference have simultaneous {percent} limits, with one SD for all "
            "groups",
            sources=("dunnett-1955",),
            rank=4,
            equal=True,
            together=True,
            to_reference=True,
            reach=_with_reference(equal=True),
        ),
        LimitsChoice(
            id="welch",
            label="each for itself, spreads may differ",
            help="Welch: each pair alone, with its own standard error.",
            definition="Difference ± t(level; df) √(s₁²/n₁ + s₂²/n₂), Welch's degrees of freedom.",
            caption="each for itself (Welch)",
            methods="differences of means have {percent} limits by Welch, each pair for itself",
            sources=("welch-1947",),
            rank=5,
            equal=False,
            together=False,
            reach=_each(equal=False),
        ),
        LimitsChoice(
            id="pooled",
            label="each for itself, spreads taken for equal",
            help="Student's t: each pair alone, with one SD for all groups.",
            definition="Difference ± t(level; N − k) s √(1/n₁ + 1/n₂), s pooled over all k groups.",
            caption="each for itself, spreads taken for equal",
            methods="differences of means have {percent} limits by Student's t, with one SD for all groups, each pair "
            "for itself",
            rank=6,
            equal=True,
            together=False,
            reach=_each(equal=True),
        ),
    )
)


def limits_of(*, together: bool, equal: bool, reference: bool) -> LimitsChoice:
    """The record of limits that hold together or each for itself, for all pairs or for those with a reference."""
    return next(
        record
        for record in LIMITS.values()
        if record.together == together and record.equal == equal and (not together or record.to_reference == reference)
    )
