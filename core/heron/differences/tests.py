"""The tests of all groups together: what each gives, and one record for each."""

from dataclasses import dataclass
from typing import Literal

from heron.choices import Choice, by_id


@dataclass(frozen=True)
class Test:
    """A test's statistic with its degrees of freedom and p value, and an effect size by name, with limits where these
    are known."""

    statistic: float
    df1: float
    df2: float | None
    p_value: float
    effect: float | None = None
    effect_name: str = ""
    effect_low: float | None = None
    effect_high: float | None = None


@dataclass(frozen=True, kw_only=True)
class GroupTest(Choice):
    """A test of all groups. letter: of its statistic; of: what it tells apart."""

    letter: str
    of: Literal["centres", "spreads", "repeated"]


GROUP_TESTS: dict[str, GroupTest] = by_id(
    (
        GroupTest(
            id="welch",
            label="Welch's analysis of variance",
            help="Whether means differ; spreads may.",
            definition="Welch's F with his degrees of freedom. Omega squared is df1 (F − 1)/(df1 (F − 1) + n), no less "
            "than 0; its limits by the noncentral F.",
            caption="Welch's test",
            methods="groups were compared by Welch's analysis of variance",
            sources=("welch-1951", "hays-1963", "steiger-fouladi-1997"),
            rank=1,
            letter="F",
            of="centres",
        ),
        GroupTest(
            id="classical",
            label="Analysis of variance, equal spreads",
            help="Whether means differ, where all groups spread alike.",
            definition="F of the mean squares between and within groups. Omega squared is df1 (F − 1)/(df1 (F − 1) + "
            "n), no less than 0; its limits by the noncentral F.",
            caption="analysis of variance",
            methods="groups were compared by analysis of variance, spreads taken for equal",
            sources=("hays-1963", "steiger-fouladi-1997"),
            rank=2,
            letter="F",
            of="centres",
        ),
        GroupTest(
            id="kruskal-wallis",
            label="Kruskal and Wallis, by ranks",
            help="Whether values of some group lie higher, by their ranks among all.",
            definition="H of the ranks, ties taken out. Epsilon squared is H/(n − 1); its limits are percent points of "
            "999 resamples of each group, for up to 10,000 values.",
            caption="Kruskal and Wallis' test",
            methods="groups were compared by ranks",
            sources=("kruskal-wallis-1952", "kelley-1935"),
            rank=3,
            letter="H",
            of="centres",
        ),
        GroupTest(
            id="levene",
            label="Levene, of spreads about means",
            help="Whether spreads differ, by the distances from the groups' means.",
            definition="Analysis of variance of the distances from the group's mean.",
            caption="Levene's test",
            methods="spreads were compared by Levene's test",
            sources=("levene-1960",),
            rank=4,
            letter="F",
            of="spreads",
        ),
        GroupTest(
            id="brown-forsythe",
            label="Brown and Forsythe, about medians",
            help="Whether spreads differ, by the distances from the groups' medians.",
            definition="Analysis of variance of the distances from the group's median.",
            caption="Brown and Forsythe's test",
            methods="spreads were compared by Brown and Forsythe's test",
            sources=("brown-forsythe-1974",),
            rank=5,
            letter="F",
            of="spreads",
        ),
        GroupTest(
            id="repeated",
            label="Analysis of variance of repeated measures",
            help="Whether means differ over the same units.",
            definition="F of the mean squares between groups and of what is left beside units and groups, over the "
            "units that have all groups; both degrees of freedom times Greenhouse and Geisser's epsilon. Partial eta "
            "squared is the sum of squares between groups over itself and the rest.",
            caption="analysis of variance of repeated measures",
            methods="groups of the same units were compared by analysis of variance of repeated measures, its degrees "
            "of freedom after Greenhouse and Geisser",
            sources=("greenhouse-geisser-1959",),
            rank=6,
            letter="F",
            of="repeated",
        ),
        GroupTest(
            id="friedman",
            label="Friedman, by ranks within units",
            help="Whether some group ranks higher within the same units.",
            definition="Chi-square of the ranks within each unit that has all groups, ties taken out. Kendall's W is "
            "it over n (k − 1): 1 where all units rank the groups alike.",
            caption="Friedman's test",
            methods="groups of the same units were compared by their ranks within units",
            sources=("friedman-1937", "kendall-smith-1939"),
            rank=7,
            letter="χ²",
            of="repeated",
        ),
    )
)
