"""How groups differ: two of them by an effect size, all of them by centre and by spread."""

from heron.differences.effects import (
    EFFECTS,
    Effect,
    EffectChoice,
    Estimate,
    cliffs_delta,
    hedges_g,
    mean_difference,
    median_difference,
    ratio_of_geometric_means,
)
from heron.differences.many import (
    GroupsCompared,
    Pair,
    Spreads,
    Test,
    compare_groups,
    compare_spreads,
    words_on_differences,
)

__all__ = [
    "EFFECTS",
    "Effect",
    "EffectChoice",
    "Estimate",
    "GroupsCompared",
    "Pair",
    "Spreads",
    "Test",
    "cliffs_delta",
    "compare_groups",
    "compare_spreads",
    "hedges_g",
    "mean_difference",
    "median_difference",
    "ratio_of_geometric_means",
    "words_on_differences",
]
