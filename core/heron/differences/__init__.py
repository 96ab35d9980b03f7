"""How groups differ: two of them by an effect size, all of them by centre and by spread."""

from heron.differences.effects import EFFECTS, Effect, EffectChoice, told_of
from heron.differences.limits import LIMITS, SPREADS, LimitsChoice, Spreads, limits_of
from heron.differences.many import (
    GroupsCompared,
    Pair,
    SpreadsCompared,
    compare_groups,
    compare_spreads,
    words_on_differences,
)
from heron.differences.means import hedges_g, mean_difference, ratio_of_geometric_means, trimmed_mean_difference
from heron.differences.ranks import cliffs_delta, median_difference, shift
from heron.differences.repeated import Repeated, compare_repeated, words_on_repeated
from heron.differences.tests import GROUP_TESTS, GroupTest, Test
from heron.differences.two import Estimate

__all__ = [
    "EFFECTS",
    "GROUP_TESTS",
    "LIMITS",
    "SPREADS",
    "Effect",
    "EffectChoice",
    "Estimate",
    "GroupTest",
    "GroupsCompared",
    "LimitsChoice",
    "Pair",
    "Repeated",
    "Spreads",
    "SpreadsCompared",
    "Test",
    "cliffs_delta",
    "compare_groups",
    "compare_repeated",
    "compare_spreads",
    "hedges_g",
    "limits_of",
    "mean_difference",
    "median_difference",
    "ratio_of_geometric_means",
    "shift",
    "told_of",
    "trimmed_mean_difference",
    "words_on_differences",
    "words_on_repeated",
]
