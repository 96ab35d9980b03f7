"""What each number of a reading means: one table for the interface, the documents and the methods paragraph."""

import sys
from dataclasses import dataclass

from heron import outliers
from heron.choices import Choice
from heron.control import CHARTS, RUNS_RULES
from heron.density import BANDWIDTH_RULES
from heron.differences import EFFECTS, GROUP_TESTS, LIMITS
from heron.frequency import CLASS_RULES
from heron.groups import BARS
from heron.normality import TESTS
from heron.relation import LINES
from heron.rescale import WAYS
from heron.sources import cited, short
from heron.statistics import LISTED


@dataclass(frozen=True)
class Meaning:
    """A statistic, rule or check: its name, its definition as a formula in words and signs, and the keys of its
    sources in heron.sources."""

    id: str
    name: str
    definition: str
    sources: tuple[str, ...] = ()


def _meaning_of(choice: Choice, before: str, after: str = "") -> Meaning:
    name = choice.label[:1].upper() + choice.label[1:] + after
    return Meaning(before + choice.id.replace("-", "_"), name, choice.definition, choice.sources)


NUMBERS = (
    Meaning("n", "n", "How many values are used: rows with a value that are not set aside."),
    Meaning(
        "frequency_weights",
        "Frequency weights",
        "Where the table names a variable of weights, each row counts as often as it says, and one without a "
        "weight, or of weight 0, for nothing: all numbers, pictures and plates of Spread, Rescale, Compare and "
        "Relate are those of the table with its rows repeated. What speaks of rows one by one refuses weights: "
        "rules of outliers, results with and without rows, leaving out each row, distances over several variables,"
        " influence, values in their order, and rows that are results. Where the weights are themselves looked at,"
        " each row counts once.",
    ),
    *(Meaning(record.id, record.label, record.definition, record.sources) for record in LISTED.values()),
    Meaning("se", "SE of the mean", "SD/√n."),
    *(_meaning_of(chart, "control_", ", control chart") for chart in CHARTS.values()),
    Meaning(
        "runs_rules",
        "Runs rules",
        f"{'; '.join(rule.label for rule in RUNS_RULES.values())}. A limit lies 3 standard errors from the centre.",
        ("western-electric-1956",),
    ),
    Meaning(
        "capability",
        "Capability",
        "Cp = (U − L)/(6 s) and Cpk the smaller of (U − m)/(3 s) and (m − L)/(3 s), s within subgroups, only where "
        "the order shows no signal; Pp, Ppk with the SD of all. Limits by chi-square, and z √(1/(9 n) + C²/(2 df)). "
        "By percentiles of a fitted distribution P99.865 − P0.135 stands for 6 s.",
        ("bissell-1990", "iso-22514-2"),
    ),
    Meaning(
        "percent_point_interval",
        "Limits of a percent point",
        "Two order statistics about it, by the binomial number of values below it, with at least the confidence.",
        ("hahn-meeker-1991",),
    ),
    Meaning(
        "resampled_interval",
        "Limits of SD, coefficient of variation and skewness",
        "9,999 resamples, bias-corrected and accelerated, for up to 10,000 values.",
        ("efron-1987",),
    ),
    Meaning(
        "percent_point",
        "Percent point",
        "The value below which that share lies, by the same definition.",
        ("hyndman-fan-1996",),
    ),
    Meaning(
        "below_detection",
        "Mean, SD and median with values below a limit",
        "Kaplan and Meier, turned round: from the largest value down each keeps its share of those that are or may be "
        "as low, and what is left below the lowest value known stands at the lowest limit. Regression on order "
        "statistics: logs on normal scores of plotting positions that count what lies below each limit, those below "
        "taken from the line. A number in their place is given for comparison only.",
        ("kaplan-meier-1958", "helsel-cohn-1988", "helsel-2012"),
    ),
    Meaning(
        "below_limit",
        "Values below a limit",
        "The limit, half of it, or nothing stands for each, as chosen; quantiles that lie within their share are not "
        "given, and neither are IQR and MAD.",
    ),
    Meaning("modes", "Mode", "The most frequent values, where some value repeats."),
)

PICTURES = (
    *(_meaning_of(rule, "classes_", ", classes") for rule in CLASS_RULES.values()),
    *(_meaning_of(rule, "bandwidth_", ", bandwidth") for rule in BANDWIDTH_RULES.values()),
    Meaning(
        "density",
        "Density",
        "Σ K((x − xᵢ)/h)/(nh); at declared bounds the curve is turned back, so that nothing leaks past them.",
        ("silverman-1986",),
    ),
    Meaning(
        "fences",
        "Fences",
        "Q1 − 1.5 IQR and Q3 + 1.5 IQR (inner), twice as far (outer); a row lies beyond only strictly.",
        ("tukey-1977",),
    ),
    Meaning("notch", "Notch", "Median ± 1.57 IQR/√n.", ("mcgill-1978",)),
    Meaning("violin", "Violin", "The density and its mirror image, cut at the range of the values."),
)

CHECKS = (
    Meaning(
        "qq",
        "Q-Q plot",
        "Ordered values against the scores of positions (i − 3/8)/(n + 1/4); line y = mean + SD z; bands from samples "
        "whose mean and SD are estimated too.",
        ("blom-1958", "aldor-noiman-2013"),
    ),
    Meaning(
        "qq_correlation",
        "Q-Q correlation",
        "Correlation of ordered values and scores: how far from normal, not how sure. Beside it stands what 19 of 20 "
        "normal samples of as many values reach, by simulation.",
        ("filliben-1975",),
    ),
    *(_meaning_of(test, "", f" {test.letter}") for test in TESTS.values()),
    Meaning(
        "holm",
        "Holm's adjustment",
        "For m p values in ascending order, the i-th times m − i + 1, never falling.",
        ("holm-1979",),
    ),
    Meaning(
        "families",
        "Other distributions",
        "Log-normal, Weibull, exponential and gamma by maximum likelihood; the band from 499 samples of the fit, each "
        "fitted anew.",
        ("minka-2002",),
    ),
    Meaning(
        "line_up",
        "Line-up",
        "The data among 19 samples of the fitted normal distribution, rounded alike: fresh eyes pick it by chance once "
        "in 20.",
        ("buja-2009",),
    ),
)

ORDER_AND_LIMITS = (
    Meaning(
        "runs",
        "Runs about the median",
        "Stretches on one side of the median; 1 + 2 n₁n₂/(n₁ + n₂) are expected where the order tells nothing.",
        ("wald-wolfowitz-1940",),
    ),
    Meaning("longest_run", "Long run", "One of more than log₂ n + 3 values, rounded.", ("anhoej-olesen-2014",)),
    Meaning("jump", "Jump", "A step from one value to the next beyond Q3 + 3 IQR of all steps.", ("tukey-1977",)),
    Meaning(
        "beyond",
        "Shares beyond limits",
        "Rows strictly beyond a specification limit, and the share of the normal distribution of the same mean and SD.",
    ),
    Meaning(
        "tolerance",
        "Tolerance interval",
        "Holds at least a share of the population with a stated confidence: mean ± k SD, k exact, or order statistics.",
        ("hahn-meeker-1991",),
    ),
    Meaning(
        "reference",
        "Reference interval",
        "From the 2.5 to the 97.5 percent point of the population, with an interval for each end.",
        ("hahn-meeker-1991", "clsi-2008"),
    ),
)

SECOND_LOOK = (
    *(_meaning_of(rule, "screen_") for rule in outliers.RULES.values()),
    Meaning(
        "robust_distance",
        "Robust distance",
        "Distance by the minimum covariance determinant over h = (n + p + 1)/2 rows (500 random starts, two "
        "concentration steps, the ten best carried on), made consistent; squared against chi-square(p) at 0.975 from "
        "500 rows on (reweighted once), F after Hardin and Rocke below, and 300 normal samples of the same size below "
        "10 rows for each variable, where that F does not hold.",
        ("rousseeuw-van-driessen-1999", "hardin-rocke-2005"),
    ),
    Meaning("leverage", "Leverage", "h, the diagonal of the hat matrix; 2p/n and 3p/n are drawn.", ("belsley-1980",)),
    Meaning(
        "external",
        "Studentized residual",
        "e/(s(i) √(1 − h)), with s(i) the residual SD without the row; 2, and t(1 − 0.05/(2n), n − p − 1) over all "
        "rows.",
        ("belsley-1980",),
    ),
    Meaning("cooks", "Cook's distance", "internal² h/((1 − h) p); 4/n and 1 are drawn.", ("cook-1977",)),
    Meaning("dffits", "DFFITS", "external √(h/(1 − h)); beyond 2 √(p/n).", ("belsley-1980",)),
    Meaning(
        "dfbetas",
        "DFBETAS",
        "How far a coefficient moves without the row, in its standard errors with s(i); beyond 2/√n.",
        ("belsley-1980",),
    ),
    Meaning("covratio", "COVRATIO", "(s(i)/s)^(2p)/(1 − h); further than 3p/n from 1.", ("belsley-1980",)),
    Meaning(
        "robust_se",
        "Robust standard errors",
        "HC3: (X'X)⁻¹ X' diag(e²/(1 − h)²) X (X'X)⁻¹, with Student's t on n − p df; they hold where spreads differ.",
        ("mackinnon-white-1985", "long-ervin-2000"),
    ),
    Meaning(
        "inflation",
        "Variance inflation",
        "1/(1 − R²) of a predictor on the others; of a category det(C₁) det(C₂)/det(C) of correlations to the power of "
        "one over its columns.",
        ("fox-monette-1992",),
    ),
    Meaning(
        "partial_r",
        "Partial correlation",
        "Of what the other variables leave of both: −C_ij/√(C_ii C_jj) of the inverse C of the correlations; limits by "
        "Fisher's z with 1/√(n − k − 3), k variables given.",
        ("fisher-1924",),
    ),
    Meaning(
        "fanning",
        "Changing spread",
        "n R² of the squared residuals on the predictors, chi-square(p − 1).",
        ("koenker-1981",),
    ),
)

GROUPS = (
    *(_meaning_of(bar, "bars_", ", bars") for bar in BARS.values()),
    Meaning(
        "intraclass",
        "Intraclass correlation, design effect",
        "Variance between units over that between and within, by restricted maximum likelihood with the means of "
        "groups; limits where twice the log-likelihood falls by chi-square(1). Design effect 1 + (m − 1) r, m = Σ "
        "rows²/Σ rows of units.",
        ("patterson-thompson-1971", "kish-1965"),
    ),
    *(_meaning_of(effect, "effect_") for effect in EFFECTS.values()),
    *(_meaning_of(effect.paired, "effect_") for effect in EFFECTS.values() if effect.paired),
    *(_meaning_of(how, "limits_", ", limits of means") for how in LIMITS.values()),
    *(_meaning_of(test, "test_") for test in GROUP_TESTS.values()),
    Meaning(
        "share",
        "Share of answers",
        "Answers chosen over answers given; score interval.",
        ("wilson-1927",),
    ),
    Meaning(
        "two_shares",
        "Difference, ratio and odds ratio of two shares",
        "Limits put both score intervals together: of the difference by Newcombe's method 10; of ratios those at which "
        "the first share less so many times the second would have 0 as a limit.",
        ("newcombe-1998", "newcombe-1998-difference", "donner-zou-2012"),
    ),
    Meaning(
        "chi_square",
        "Chi-square",
        "Σ (count − expected)²/expected, expected = line total · column total/n, without a correction for continuity, "
        "on (r − 1)(c − 1) df. Exact p: Fisher's for two by two levels, else the share of 9,999 tables with the same "
        "margins that depart as far.",
        ("pearson-1900", "fisher-1935"),
    ),
    Meaning(
        "cramers_v",
        "Cramér's V",
        "√(chi-square/(n min(r − 1, c − 1))), its bias taken out after Bergsma; limits are percent points of that in "
        "9,999 tables drawn with the shares seen.",
        ("cramer-1946", "bergsma-2013"),
    ),
    Meaning(
        "level_line",
        "Line over numeric levels",
        "Least squares through all rows, or through the centres, of groups that stand at numbers. Through centres R² "
        "leaves out how rows scatter within groups.",
    ),
    Meaning(
        "dunn",
        "Dunn's test",
        "Of the difference of two mean ranks among all, with ties taken out of the variance; p adjusted after Holm.",
        ("dunn-1964", "holm-1979"),
    ),
    Meaning("pairs_across", "Values joined across groups", "The mean of each unit in each group, side by side."),
)

SCALES = (
    *(_meaning_of(way, "scale_") for way in WAYS.values()),
    Meaning(
        "ladder",
        "Ladder of powers",
        "Powers −2 to 3 side by side, each judged by the Q-Q correlation of the rescaled values, within groups of "
        "their "
        "distances from the group's mean; the best is the one with the largest among those that lose no value.",
        ("tukey-1977",),
    ),
    Meaning(
        "power_of_largest_likelihood",
        "Power of largest likelihood",
        "The power of Box and Cox, or Yeo and Johnson's where values are not all above 0, whose rescaled values "
        "are most "
        "likely to be normal; its interval holds all powers whose log-likelihood lies within χ²/2 of the largest. Both "
        "are looked for until they are enclosed.",
        ("box-cox-1964", "yeo-johnson-2000"),
    ),
    Meaning(
        "spread_power",
        "Power for equal spreads",
        "1 − slope of log₁₀ IQR on log₁₀ median over groups of 4 values or more.",
        ("tukey-1977",),
    ),
    Meaning(
        "percent_of_baseline",
        "Percent of a baseline",
        "100 x over the mean or median of the rows chosen, in each group.",
    ),
    Meaning(
        "along_an_order",
        "Change along an order",
        "Each value against the one so many steps before it in the order: that value, the difference, the ratio, "
        "or the "
        "change in percent. A missing value keeps its place.",
    ),
)

RELATIONS: tuple[Meaning, ...] = (
    Meaning(
        "agreement",
        "Limits of agreement",
        "Mean ∓ 1.96 SD of the differences of two methods, their intervals by the noncentral t; of ratios the same of "
        "the differences of logs, carried back. A bias within a margin by two one-sided t tests, of whose p values "
        "the larger counts.",
        ("bland-altman-1986", "bland-altman-1999", "schuirmann-1987"),
    ),
    Meaning("pearson", "Pearson's r", "Limits by Fisher's z, 1/√(n − 3).", ("fisher-1921",)),
    Meaning(
        "spearman",
        "Spearman's rho",
        "Pearson's r of the mid-ranks; limits by Fisher's z with √((1 + r²/2)/(n − 3)).",
        ("bonett-wright-2000",),
    ),
    Meaning(
        "kendall",
        "Kendall's tau-b",
        "Ties taken out of both; limits by Fisher's z with √(0.437/(n − 4)).",
        ("fieller-1957",),
    ),
    Meaning(
        "rank_p_values",
        "p of rho and tau",
        "Exact, by all orders, for up to 9 pairs; above, rho by t of n − 2 degrees of freedom, tau by its normal "
        "approximation with ties.",
    ),
    *(_meaning_of(line, "line_") for line in LINES.values()),
    Meaning(
        "compared_slopes",
        "Slopes compared",
        "F of separate slopes over one common slope with separate intercepts; of two lines t of the difference "
        "with both "
        "standard errors, degrees of freedom after Welch and Satterthwaite, p after Holm.",
        ("welch-1947", "holm-1979"),
    ),
    Meaning(
        "original_r_squared",
        "R² on the original scale",
        "1 − SSE/SST of the curve drawn on the data as measured; below 0 where it tells less than the mean. R² on "
        "different scales of y are never ranked.",
    ),
    Meaning(
        "smearing",
        "Smearing factor",
        "Mean of 10^residual of a line on log y: the curve follows the median of y, times this its mean.",
        ("duan-1983",),
    ),
    Meaning("curvature", "Bending", "F test of a squared term added to the line."),
    Meaning(
        "pair_density",
        "Density of pairs",
        "Product of normal kernels of SD × n^(−1/6) on each axis, or as typed; areas enclose shares of the pairs, each "
        "taken at its own height.",
        ("scott-1992", "hyndman-1996"),
    ),
)

CHAPTERS: dict[str, tuple[Meaning, ...]] = {
    "Numbers": NUMBERS,
    "Classes, curves and boxes": PICTURES,
    "Is it normal?": CHECKS,
    "Order and limits": ORDER_AND_LIMITS,
    "Rows that deserve a second look": SECOND_LOOK,
    "Groups and their differences": GROUPS,
    "Other scales": SCALES,
    "Two variables": RELATIONS,
}


def as_markdown() -> str:
    """The table as it stands in docs/methods, with the sources it names."""
    parts = [
        "# What each number means",
        "The definitions that the core computes, as the interface shows them. This page is written by "
        "`python -m heron.definitions`.",
    ]
    for chapter, meanings in CHAPTERS.items():
        lines = ["| name | definition | source |", "| --- | --- | --- |"]
        for meaning in meanings:
            definition = meaning.definition.replace("|", "\\|")
            lines.append(f"| {meaning.name} | {definition} | {'; '.join(map(short, meaning.sources))} |")
        parts += [f"## {chapter}", "\n".join(lines)]
    used = sorted({cited(key) for meanings in CHAPTERS.values() for meaning in meanings for key in meaning.sources})
    parts += ["## Sources", "\n".join(f"- {citation}" for citation in used)]
    return "\n\n".join(parts) + "\n"


if __name__ == "__main__":
    sys.stdout.write(as_markdown())
