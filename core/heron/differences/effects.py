"""One record for each measure of how two groups differ."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from heron.choices import Choice, Option, by_id
from heron.differences.means import hedges_g, mean_difference, ratio_of_geometric_means, trimmed_mean_difference
from heron.differences.ranks import cliffs_delta, median_difference, shift
from heron.differences.two import Estimate

Effect = Literal["mean", "hedges-g", "cliffs-delta", "ratio", "median", "shift", "trimmed"]


TRIM = Option("trim", "Share cut at each end", 0.1, 0, 0.499)


@dataclass(frozen=True, kw_only=True)
class EffectChoice(Choice):
    """An effect size. measure: of two groups; code: an expression of a script that gives it of `a` and `b`, "" for
    none; factor: whether it is a factor, so that 1 means no difference; with_unit: whether it is in the unit of the
    data; resampled: whether it takes a while, and says how far it is; of_means: whether all pairs can have limits
    together; paired: what it is of pairs, where that is another thing."""

    measure: Callable[..., Estimate]
    code: str = ""
    factor: bool = False
    with_unit: bool = False
    resampled: bool = False
    of_means: bool = False
    paired: Choice | None = None


EFFECTS: dict[str, EffectChoice] = by_id(
    (
        EffectChoice(
            id="mean",
            label="difference of means",
            help="In the unit of the data.",
            definition="Its limits: for all pairs together or each for itself, as chosen.",
            caption="difference of means",
            methods="groups are compared by the differences of their means",
            rank=1,
            measure=mean_difference,
            code="np.mean(a) - np.mean(b)",
            with_unit=True,
            of_means=True,
            paired=Choice(
                id="mean-paired",
                label="mean of the differences",
                help="In the unit of the data, over pairs.",
                definition="Student's t of the differences of units that have a value in both groups, each by its "
                "mean there.",
                caption="mean of the differences",
                methods="means of paired differences have {percent} limits by Student's t",
            ),
        ),
        EffectChoice(
            id="trimmed",
            label="difference of trimmed means",
            help="In the unit of the data, without a share of the values at each end.",
            definition="Of n values floor(trim n) are cut at each end and h stay; squared standard errors are the "
            "sums of squares of the winsorized values over h(h − 1), limits Welch's with h in place of n. Of pairs, "
            "those of their differences.",
            caption="difference of trimmed means",
            methods="differences of means without {trim} % of the values at each end have {percent} limits by Yuen",
            sources=("yuen-1974", "tukey-mclaughlin-1963"),
            rank=2,
            options=(TRIM,),
            measure=trimmed_mean_difference,
            code="stats.trim_mean(a, {trim}) - stats.trim_mean(b, {trim})",
            with_unit=True,
        ),
        EffectChoice(
            id="median",
            label="difference of medians",
            help="In the unit of the data; far values do not move it.",
            definition="Percentile bootstrap interval of the difference.",
            caption="difference of medians",
            methods="differences of medians have bootstrap limits",
            sources=("efron-tibshirani-1993",),
            rank=3,
            measure=median_difference,
            code="np.median(a) - np.median(b)",
            with_unit=True,
            resampled=True,
        ),
        EffectChoice(
            id="shift",
            label="shift by ranks",
            help="In the unit of the data: the median of all differences between values of the two groups.",
            definition="Hodges and Lehmann's median of the n₁ n₂ differences; limits are those differences, in order, "
            "between which Mann and Whitney's U would not tell the groups apart: counted out for up to 50 values a "
            "group without ties, else by the normal distribution with ties taken out. p by the same test.",
            caption="shift by ranks",
            methods="shifts between groups have {percent} limits by Hodges and Lehmann, and p values by Mann and "
            "Whitney",
            sources=("hodges-lehmann-1963", "mann-whitney-1947", "hollander-wolfe-1999"),
            rank=4,
            measure=shift,
            code="np.median(np.subtract.outer(np.asarray(a), np.asarray(b)))",
            with_unit=True,
            paired=Choice(
                id="shift-paired",
                label="shift by signed ranks",
                help="In the unit of the data: the median of the means of any two differences.",
                definition="The median of the means of any two differences of pairs; limits and p by Wilcoxon's signed "
                "ranks, counted out for up to 50 pairs without ties or zeros.",
                caption="shift by signed ranks",
                methods="shifts of paired values have {percent} limits by Hodges and Lehmann, and p values by "
                "Wilcoxon's signed ranks",
                sources=("hodges-lehmann-1963", "wilcoxon-1945", "hollander-wolfe-1999"),
            ),
        ),
        EffectChoice(
            id="ratio",
            label="ratio of geometric means",
            help="A factor, for values above 0.",
            definition="Welch's interval of the difference of mean logs, back-transformed.",
            caption="ratio of geometric means",
            methods="differences are given as ratios of geometric means",
            rank=5,
            measure=ratio_of_geometric_means,
            code="stats.gmean(a) / stats.gmean(b)",
            factor=True,
        ),
        EffectChoice(
            id="hedges-g",
            label="Hedges' g",
            help="In SDs, for results in different units.",
            definition="(mean − mean)/pooled SD times the exact gamma correction; limits by the noncentral t.",
            caption="Hedges' g",
            methods="differences are given as Hedges' g",
            sources=("hedges-1981", "steiger-fouladi-1997"),
            rank=6,
            measure=hedges_g,
            paired=Choice(
                id="d-z",
                label="mean in SDs of the differences, d_z",
                help="Of pairs: it is not to be compared with g of groups apart.",
                definition="Mean/SD of the differences times the exact gamma correction; limits by the noncentral t. "
                "Its unit is the SD of differences, not of values, so that it does not compare with g of groups apart.",
                caption="mean in SDs of the differences, d_z",
                methods="paired differences are given as d_z, in SDs of the differences, which do not compare with g "
                "of groups apart",
                sources=("hedges-1981", "steiger-fouladi-1997"),
            ),
        ),
        EffectChoice(
            id="cliffs-delta",
            label="Cliff's delta",
            help="How often a value of the first group is the larger; needs order alone.",
            definition="Share of pairs in which the first is larger less that in which it is smaller; limits are not "
            "symmetric, at −1 and 1 those with one pair the other way round.",
            caption="Cliff's delta",
            methods="differences are given as Cliff's delta",
            sources=("feng-cliff-2004",),
            rank=7,
            measure=cliffs_delta,
            code="2 * stats.mannwhitneyu(a, b).statistic / (a.size * b.size) - 1",
        ),
    )
)


def told_of(measure: Effect, *, paired: bool) -> Choice:
    """The record that speaks of an effect: of groups apart, or of pairs."""
    record = EFFECTS[measure]
    return record.paired or record if paired else record
