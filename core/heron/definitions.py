"""What each number of a reading means: one table for the interface, the documents and the methods paragraph."""

import sys
from dataclasses import dataclass

from heron.sources import SOURCES


@dataclass(frozen=True)
class Meaning:
    """A statistic, rule or check: its name, its definition as a formula in words and signs, and the keys of its
    sources in heron.sources."""

    id: str
    name: str
    definition: str
    sources: tuple[str, ...] = ()


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
    Meaning("mean", "Mean", "Sum of the values over n."),
    Meaning("se", "SE of the mean", "SD/√n."),
    Meaning("mean_interval", "Mean, interval", "Mean ± t SE, with t of n − 1 degrees of freedom at the level stated."),
    Meaning(
        "sd",
        "SD",
        "√(Σ(x − mean)²/(n − 1)). Beside it, the chi-square interval, right only if normal; on skewed data it covers "
        "far less than it says.",
    ),
    Meaning("variance", "Variance", "The square of the SD, in squared units."),
    Meaning("cv", "CV", "SD/mean; given only where zero means none and the mean is above 0."),
    Meaning(
        "median",
        "Median",
        "The value with as many below as above. Beside it, the interval from order statistics x(k) to x(n + 1 − k) "
        "whose exact coverage is at least the level; none below 6 values at 95 %.",
    ),
    Meaning(
        "quartiles",
        "Q1, Q3",
        "The values below which a quarter and three quarters lie, by the quantile definition chosen: "
        "Q(p) = (1 − g) x(j) + g x(j + 1), j = ⌊np + m⌋, with m and g by definition; the usual one is 7. Hinges are "
        "the medians of the two halves, the middle value in both.",
        ("hyndman-fan-1996", "tukey-1977"),
    ),
    Meaning("iqr", "IQR", "Q3 − Q1.", ("hyndman-fan-1996",)),
    Meaning(
        "percent_point",
        "Percent point",
        "The value below which that share lies, by the same definition.",
        ("hyndman-fan-1996",),
    ),
    Meaning("extremes", "Min, max", "The smallest and the largest value."),
    Meaning("range", "Range", "Maximum − minimum."),
    Meaning("mad", "MAD, scaled", "Median of |x − median|; over 0.67449 it estimates the SD of a normal variable."),
    Meaning("trimmed", "Trimmed mean", "Mean without ⌊share × n⌋ values at each end; 10 % unless said otherwise."),
    Meaning("winsorized", "Winsorized mean", "Mean with ⌊share × n⌋ values at each end pulled in to the next one."),
    Meaning(
        "geometric", "Geometric mean", "exp of the mean of ln x; its SD is a factor. Only where all values are above 0."
    ),
    Meaning(
        "geometric_interval", "Geom. mean, interval", "exp of the t limits of the mean of ln x; it is not symmetric."
    ),
    Meaning(
        "skewness",
        "Skewness",
        "G1 = g1 √(n(n − 1))/(n − 2). The SE, √(6n(n − 1)/((n − 2)(n + 1)(n + 3))), holds if normal: a yardstick for "
        "departure, no error of the estimate.",
        ("joanes-gill-1998",),
    ),
    Meaning(
        "kurtosis",
        "Excess kurtosis",
        "G2 = (n − 1)/((n − 2)(n − 3)) ((n + 1) g2 + 6); 0 for a normal distribution. The SE holds if normal.",
        ("joanes-gill-1998",),
    ),
    Meaning(
        "back",
        "Mean, brought back",
        "The mean on this scale put through the scale's inverse, in the unit of the source: of logs it is the "
        "geometric mean. It follows the middle of the data more than their mean does.",
    ),
    Meaning(
        "back_interval",
        "Mean, brought back, interval",
        "The t limits of the mean on this scale put through the inverse; it is not symmetric.",
    ),
    Meaning("total", "Sum", "All values added up."),
    Meaning("modes", "Mode", "The most frequent values, where some value repeats."),
)

PICTURES = (
    Meaning(
        "freedman_diaconis",
        "Freedman-Diaconis rule",
        "Class width 2 IQR n^(−1/3), rounded to 1, 2, 2.5 or 5 times a power of ten; Sturges' rule where the IQR is 0.",
        ("freedman-diaconis-1981",),
    ),
    Meaning("scott_classes", "Scott's rule, classes", "Class width 3.49 SD n^(−1/3).", ("scott-1979",)),
    Meaning("sturges", "Sturges' rule", "⌈log₂ n⌉ + 1 classes.", ("sturges-1926",)),
    Meaning("square_root", "Square-root rule", "⌈√n⌉ classes."),
    Meaning(
        "silverman",
        "Silverman's rule",
        "Bandwidth 0.9 min(SD, IQR/1.34) n^(−1/5); the bandwidth is the kernel's SD.",
        ("silverman-1986",),
    ),
    Meaning("scott_bandwidth", "Scott's rule, bandwidth", "Bandwidth 1.06 SD n^(−1/5).", ("scott-1992",)),
    Meaning(
        "plug_in",
        "Plug-in bandwidth",
        "The fixed point of the diffusion estimator, without a normal reference.",
        ("botev-2010",),
    ),
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
        "Correlation of ordered values and scores: how far from normal, not how sure.",
    ),
    Meaning("shapiro_wilk", "Shapiro-Wilk W", "For 3 to 5,000 values.", ("royston-1995",)),
    Meaning(
        "anderson_darling",
        "Anderson-Darling A²",
        "Mean and SD estimated, times 1 + 0.75/n + 2.25/n²; from 8 values.",
        ("dagostino-stephens-1986",),
    ),
    Meaning(
        "lilliefors",
        "Lilliefors D",
        "Largest distance of the two distribution functions, for estimated mean and SD. The plain Kolmogorov-Smirnov p "
        "value holds only for a mean and SD known beforehand and would be far too large, so it is not given.",
        ("lilliefors-1967",),
    ),
    Meaning(
        "k2", "D'Agostino-Pearson K²", "Skewness and kurtosis together; from 20 values.", ("dagostino-pearson-1973",)
    ),
    Meaning("jarque_bera", "Jarque-Bera", "n/6 (g1² + g2²/4); from 2,000 values.", ("jarque-bera-1987",)),
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
    Meaning(
        "screen_fences",
        "Fences",
        "Strictly beyond Q1 − 1.5 IQR or Q3 + 1.5 IQR, reach and quantile definition as chosen. Scored in IQRs from "
        "the nearer quartile.",
        ("tukey-1977",),
    ),
    Meaning("z", "z", "|x − mean|/SD above 3; it cannot exceed (n − 1)/√n.", ("shiffler-1988",)),
    Meaning(
        "robust_z",
        "Robust z",
        "0.6745 (x − median)/MAD beyond 3.5; none where the MAD is 0.",
        ("iglewicz-hoaglin-1993",),
    ),
    Meaning(
        "grubbs",
        "Grubbs",
        "The farthest value in SDs against (n − 1)/√n · √(t²/(n − 2 + t²)), t at 0.05/(2n) with n − 2 degrees of "
        "freedom.",
        ("grubbs-1969",),
    ),
    Meaning(
        "esd",
        "Generalized ESD",
        "Grubbs' measure for up to k suspects, each taken out before the next; as many are named as the last step that "
        "exceeds its limit.",
        ("rosner-1983",),
    ),
    Meaning(
        "skew_fences",
        "Skew-adjusted fences",
        "Q1 − 1.5 e^(−4 MC) IQR and Q3 + 1.5 e^(3 MC) IQR for a medcouple MC ≥ 0; e^(−3 MC) and e^(4 MC) below 0. The "
        "medcouple is the median of ((b − m) − (m − a))/(b − a) over pairs about the median m.",
        ("brys-2004", "hubert-vandervieren-2008"),
    ),
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
        "fanning",
        "Changing spread",
        "n R² of the squared residuals on the predictors, chi-square(p − 1).",
        ("koenker-1981",),
    ),
)

GROUPS = (
    Meaning(
        "bars_sd",
        "Bars: SD, SE, t interval",
        "Centre ± SD, ± SD/√n, ± t SD/√n; on logs for the geometric mean, and then not symmetric.",
    ),
    Meaning(
        "bars_bootstrap",
        "Bars: bootstrap interval",
        "9,999 resamples with the seed kept; bias-corrected and accelerated, by percentiles for the median.",
        ("efron-1987",),
    ),
    Meaning(
        "bars_within",
        "Bars: interval within units",
        "The t interval after each unit's mean is taken out and the grand mean put in, widened by √(k/(k − 1)) for k "
        "groups; units that lack a group are left out.",
        ("morey-2008",),
    ),
    Meaning(
        "welch_difference",
        "Difference of means",
        "Welch's interval; all pairs together by Games and Howell.",
        ("welch-1947", "games-howell-1976"),
    ),
    Meaning(
        "hedges_g",
        "Hedges' g",
        "(mean − mean)/pooled SD times the exact gamma correction; limits by the noncentral t.",
        ("hedges-1981",),
    ),
    Meaning(
        "cliffs_delta",
        "Cliff's delta",
        "Share of pairs in which the first is larger less that in which it is smaller; asymmetric limits.",
        ("feng-cliff-2004",),
    ),
    Meaning(
        "omega_squared",
        "Omega squared",
        "df1 (F − 1)/(df1 (F − 1) + n) of Welch's analysis of variance, no less than 0.",
        ("welch-1951",),
    ),
    Meaning("epsilon_squared", "Epsilon squared", "H/(n − 1) of Kruskal and Wallis' H.", ("kruskal-wallis-1952",)),
    Meaning(
        "levene",
        "Levene, Brown-Forsythe",
        "Analysis of variance of the distances from the group's mean, or median.",
        ("levene-1960", "brown-forsythe-1974"),
    ),
    Meaning(
        "share",
        "Share of answers",
        "Answers chosen over answers given; score interval. Of two groups the difference by both intervals together.",
        ("wilson-1927", "newcombe-1998", "newcombe-1998-difference"),
    ),
    Meaning(
        "level_line",
        "Line over numeric levels",
        "Least squares through all rows, or through the centres, of groups that stand at numbers. Through centres R² "
        "leaves out how rows scatter within groups.",
    ),
    Meaning("pairs_across", "Values joined across groups", "The mean of each unit in each group, side by side."),
)

RELATIONS: tuple[Meaning, ...] = (
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
        "least_squares",
        "Line of least squares",
        "On the scales chosen, worked about the means; bands of the line and of one more value by t with n − 2 degrees "
        "of freedom, carried back to the unit of y.",
    ),
    Meaning(
        "original_r_squared",
        "R² in its units",
        "1 − SSE/SST of the curve drawn on the data as measured; below 0 where it tells less than the mean. R² on "
        "different scales of y are never ranked.",
    ),
    Meaning(
        "smearing",
        "Smearing factor",
        "Mean of 10^residual of a line on log y: the curve follows the median of y, times this its mean.",
        ("duan-1983",),
    ),
    Meaning(
        "median_slope",
        "Median of slopes",
        "Median of the slopes of all pairs of points (a seeded sample of 2,000,000 above 2,000 rows), Sen's limits; "
        "intercept the median of y − slope x.",
        ("sen-1968",),
    ),
    Meaning("smooth", "Smooth", "Local lines over a share of the pairs, three robust passes.", ("cleveland-1979",)),
    Meaning("curvature", "Bending", "F test of a squared term added to the line."),
    Meaning(
        "pair_density",
        "Density of pairs",
        "Product of normal kernels of SD × n^(−1/6) on each axis, or as typed; areas enclose shares of the pairs, each "
        "taken at its own height.",
        ("hyndman-1996",),
    ),
)

CHAPTERS: dict[str, tuple[Meaning, ...]] = {
    "Numbers": NUMBERS,
    "Classes, curves and boxes": PICTURES,
    "Is it normal?": CHECKS,
    "Order and limits": ORDER_AND_LIMITS,
    "Rows that deserve a second look": SECOND_LOOK,
    "Groups and their differences": GROUPS,
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
        for each in meanings:
            definition = each.definition.replace("|", "\\|")
            lines.append(f"| {each.name} | {definition} | {'; '.join(map(short, each.sources))} |")
        parts += [f"## {chapter}", "\n".join(lines)]
    used = sorted({key for meanings in CHAPTERS.values() for each in meanings for key in each.sources})
    parts += ["## Sources", "\n".join(f"- {SOURCES[key]}" for key in used)]
    return "\n\n".join(parts) + "\n"


def short(key: str) -> str:
    """A source as it is named in a sentence: Joanes and Gill (1998)."""
    authors, _, rest = SOURCES[key].partition(" (")
    names = [
        name
        for name in authors.replace(" and ", ", ").split(", ")
        if not name.rstrip(".").replace(".", "").replace("-", "").replace(" ", "").isupper()
    ]
    said = (
        names[0] if len(names) == 1 else f"{names[0]} and {names[1]}" if len(names) == 2 else f"{names[0]} and others"
    )
    return f"{said} ({rest[:4]})"


if __name__ == "__main__":
    sys.stdout.write(as_markdown())
