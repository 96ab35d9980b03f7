"""The statistics of one variable that are listed, and that figures name: one record for each."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from heron.choices import Display, by_id


@dataclass(frozen=True, kw_only=True)
class Statistic(Display):
    """A statistic. definition: the formula, in words and signs. numbers: what figures call its numbers, least first, by
    the fields of a Summary; besides: those that stand beside it. in_unit: whether it is in the unit of the data. usual:
    whether it is listed until somebody chooses. back: whether it is of the scale that a variable was made from, by the
    fields of heron.readings.Back."""

    definition: str
    sources: tuple[str, ...] = ()
    numbers: Mapping[str, str]
    besides: Mapping[str, str] = field(default_factory=dict)
    in_unit: bool = True
    usual: bool = False
    back: bool = False


LISTED: dict[str, Statistic] = by_id(
    (
        Statistic(
            id="mean",
            label="Mean",
            definition="Sum of the values over n.",
            numbers={"mean": "mean"},
            besides={"se": "SE of the mean"},
            usual=True,
            rank=1,
        ),
        Statistic(
            id="mean_interval",
            label="Mean, interval",
            definition="Mean ± t SE, with t of n − 1 degrees of freedom at the level stated.",
            numbers={"mean_low": "lower limit of the mean", "mean_high": "upper limit of the mean"},
            rank=2,
        ),
        Statistic(
            id="sd",
            label="SD",
            definition="√(Σ(x − mean)²/(n − 1)). Beside it, the chi-square interval, right only if normal; on skewed "
            "data it covers far less than it says.",
            numbers={"sd": "SD"},
            besides={"sd_low": "lower limit of the SD", "sd_high": "upper limit of the SD"},
            usual=True,
            rank=3,
        ),
        Statistic(
            id="median",
            label="Median",
            definition="The value with as many below as above. Beside it, the interval from order statistics x(k) to "
            "x(n + 1 − k) whose exact coverage is at least the level; none below 6 values at 95 %.",
            numbers={"median": "median"},
            besides={"median_low": "lower limit of the median", "median_high": "upper limit of the median"},
            usual=True,
            rank=4,
        ),
        Statistic(
            id="quartiles",
            label="Q1, Q3",
            definition="The values below which a quarter and three quarters lie, by the quantile definition chosen: "
            "Q(p) = (1 − g) x(j) + g x(j + 1), j = ⌊np + m⌋, with m and g by definition; the usual one is 7."
            " Hinges are the medians of the two halves, the middle value in both.",
            sources=("hyndman-fan-1996", "tukey-1977"),
            numbers={"q1": "first quartile", "q3": "third quartile"},
            usual=True,
            rank=5,
        ),
        Statistic(
            id="iqr",
            label="IQR",
            definition="Q3 − Q1.",
            sources=("hyndman-fan-1996",),
            numbers={"iqr": "IQR"},
            usual=True,
            rank=6,
        ),
        Statistic(
            id="inner_fences",
            label="Inner fences",
            definition="Q1 − 1.5 IQR and Q3 + 1.5 IQR, beyond which values are drawn one by one.",
            sources=("tukey-1977",),
            numbers={"fence_low": "lower fence", "fence_high": "upper fence"},
            rank=21,
        ),
        Statistic(
            id="whiskers",
            label="Whiskers",
            definition="The smallest and the largest value within the fences of 1.5 IQR.",
            sources=("tukey-1977",),
            numbers={"whisker_low": "lower whisker", "whisker_high": "upper whisker"},
            rank=22,
        ),
        Statistic(
            id="extremes",
            label="Min, max",
            definition="The smallest and the largest value.",
            numbers={"minimum": "minimum", "maximum": "maximum"},
            usual=True,
            rank=7,
        ),
        Statistic(
            id="range",
            label="Range",
            definition="Maximum − minimum.",
            numbers={"range": "range"},
            rank=8,
        ),
        Statistic(
            id="mad",
            label="MAD, scaled",
            definition="Median of |x − median|; over 0.67449 it estimates the SD of a normal variable.",
            numbers={"mad_scaled": "MAD, scaled"},
            usual=True,
            rank=9,
        ),
        Statistic(
            id="trimmed",
            label="Trimmed mean",
            definition="Mean without ⌊share × n⌋ values at each end; 10 % unless said otherwise.",
            numbers={"trimmed_mean": "trimmed mean"},
            rank=10,
        ),
        Statistic(
            id="winsorized",
            label="Winsorized mean",
            definition="Mean with ⌊share × n⌋ values at each end pulled in to the next one.",
            numbers={"winsorized_mean": "winsorized mean"},
            rank=11,
        ),
        Statistic(
            id="geometric",
            label="Geometric mean",
            definition="exp of the mean of ln x; its SD is a factor. Only where all values are above 0.",
            numbers={"geometric_mean": "geometric mean"},
            usual=True,
            rank=12,
        ),
        Statistic(
            id="geometric_interval",
            label="Geom. mean, interval",
            definition="exp of the t limits of the mean of ln x; it is not symmetric.",
            numbers={
                "geometric_low": "lower limit of the geometric mean",
                "geometric_high": "upper limit of the geometric mean",
            },
            rank=13,
        ),
        Statistic(
            id="skewness",
            label="Skewness",
            definition="G1 = g1 √(n(n − 1))/(n − 2). The SE, √(6n(n − 1)/((n − 2)(n + 1)(n + 3))), holds if normal: a "
            "yardstick for departure, no error of the estimate.",
            sources=("joanes-gill-1998",),
            numbers={"skewness": "skewness"},
            in_unit=False,
            usual=True,
            rank=14,
        ),
        Statistic(
            id="kurtosis",
            label="Excess kurtosis",
            definition="G2 = (n − 1)/((n − 2)(n − 3)) ((n + 1) g2 + 6); 0 for a normal distribution. The SE holds if "
            "normal.",
            sources=("joanes-gill-1998",),
            numbers={"kurtosis": "excess kurtosis"},
            in_unit=False,
            usual=True,
            rank=15,
        ),
        Statistic(
            id="cv",
            label="CV",
            definition="SD/mean; given only where zero means none and the mean is above 0.",
            numbers={"cv": "CV"},
            in_unit=False,
            rank=16,
        ),
        Statistic(
            id="back",
            label="Back-transformed mean",
            definition="The mean on this scale put through the scale's inverse, in the unit of the source: of logs it "
            "is the geometric mean. It follows the middle of the data more than their mean does.",
            numbers={"mean": "back-transformed mean"},
            usual=True,
            back=True,
            rank=17,
        ),
        Statistic(
            id="back_interval",
            label="Back-transformed mean, interval",
            definition="The t limits of the mean on this scale put through the inverse; it is not symmetric.",
            numbers={
                "low": "lower limit of the back-transformed mean",
                "high": "upper limit of the back-transformed mean",
            },
            usual=True,
            back=True,
            rank=18,
        ),
        Statistic(
            id="total",
            label="Sum",
            definition="All values added up.",
            numbers={"total": "sum"},
            rank=19,
        ),
        Statistic(
            id="variance",
            label="Variance",
            definition="The square of the SD, in squared units.",
            numbers={"variance": "variance"},
            in_unit=False,
            rank=20,
        ),
    )
)
# Every number of a Summary that a figure can name, by its field: how many values, then the statistics in turn.
NAMES: dict[str, tuple[str, bool]] = {"n": ("n", False)} | {
    name: (words, statistic.in_unit)
    for statistic in LISTED.values()
    if not statistic.back
    for name, words in {**statistic.numbers, **statistic.besides}.items()
}
