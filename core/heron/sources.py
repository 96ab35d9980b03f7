"""Where the definitions come from, by the key that docstrings and results use."""

SOURCES: dict[str, str] = {
    "aldor-noiman-2013": "Aldor-Noiman, S., Brown, L. D., Buja, A., Rolke, W. and Stine, R. A. (2013). The power to "
    "see: a new graphical test of normality. The American Statistician 67, 249-260.",
    "anhoej-olesen-2014": "Anhoej, J. and Olesen, A. V. (2014). Run charts revisited: a simulation study of run chart "
    "rules for detection of non-random variation in health care processes. PLoS ONE 9, e113825.",
    "anscombe-glynn-1983": "Anscombe, F. J. and Glynn, W. J. (1983). Distribution of the kurtosis statistic b2 for "
    "normal samples. Biometrika 70, 227-234.",
    "belsley-1980": "Belsley, D. A., Kuh, E. and Welsch, R. E. (1980). Regression Diagnostics. Wiley, chapter 2.",
    "bergsma-2013": "Bergsma, W. (2013). A bias-correction for Cramér's V and Tschuprow's T. Journal of the Korean "
    "Statistical Society 42, 323-328.",
    "bissell-1990": "Bissell, A. F. (1990). How reliable is your capability index? Applied Statistics 39, 331-340.",
    "bland-altman-1986": "Bland, J. M. and Altman, D. G. (1986). Statistical methods for assessing agreement between "
    "two methods of clinical measurement. Lancet 327, 307-310.",
    "bland-altman-1999": "Bland, J. M. and Altman, D. G. (1999). Measuring agreement in method comparison studies. "
    "Statistical Methods in Medical Research 8, 135-160.",
    "blom-1958": "Blom, G. (1958). Statistical Estimates and Transformed Beta-Variables. Wiley.",
    "bonett-wright-2000": "Bonett, D. G. and Wright, T. A. (2000). Sample size requirements for estimating Pearson, "
    "Kendall and Spearman correlations. Psychometrika 65, 23-28.",
    "botev-2010": "Botev, Z. I., Grotowski, J. F. and Kroese, D. P. (2010). Kernel density estimation via diffusion. "
    "Annals of Statistics 38, 2916-2957.",
    "box-cox-1964": "Box, G. E. P. and Cox, D. R. (1964). An analysis of transformations. Journal of the Royal "
    "Statistical Society B 26, 211-252.",
    "brown-forsythe-1974": "Brown, M. B. and Forsythe, A. B. (1974). Robust tests for the equality of variances. "
    "Journal of the American Statistical Association 69, 364-367.",
    "brys-2004": "Brys, G., Hubert, M. and Struyf, A. (2004). A robust measure of skewness. Journal of Computational "
    "and Graphical Statistics 13, 996-1017.",
    "buja-2009": "Buja, A., Cook, D., Hofmann, H., Lawrence, M., Lee, E.-K., Swayne, D. F. and Wickham, H. (2009). "
    "Statistical inference for exploratory data analysis and model diagnostics. Philosophical Transactions of the "
    "Royal Society A 367, 4361-4383.",
    "carr-1987": "Carr, D. B., Littlefield, R. J., Nicholson, W. L. and Littlefield, J. S. (1987). Scatterplot matrix "
    "techniques for large N. Journal of the American Statistical Association 82, 424-436.",
    "cleveland-1979": "Cleveland, W. S. (1979). Robust locally weighted regression and smoothing scatterplots. Journal "
    "of the American Statistical Association 74, 829-836.",
    "clsi-2008": "Clinical and Laboratory Standards Institute (2008). Defining, Establishing, and Verifying Reference "
    "Intervals in the Clinical Laboratory, third edition.",
    "cook-1977": "Cook, R. D. (1977). Detection of influential observation in linear regression. Technometrics 19, "
    "15-18.",
    "cramer-1946": "Cramér, H. (1946). Mathematical Methods of Statistics. Princeton University Press, chapter 21.",
    "dagostino-1970": "D'Agostino, R. B. (1970). Transformation to normality of the null distribution of g1. "
    "Biometrika 57, 679-681.",
    "dagostino-stephens-1986": "D'Agostino, R. B. and Stephens, M. A. (1986). Goodness-of-Fit Techniques. Dekker, "
    "table 4.9 and section 4.8.5.",
    "donner-zou-2012": "Donner, A. and Zou, G. Y. (2012). Closed-form confidence intervals for functions of the "
    "normal mean and standard deviation. Statistical Methods in Medical Research 21, 347-359.",
    "duan-1983": "Duan, N. (1983). Smearing estimate: a nonparametric retransformation method. Journal of the "
    "American Statistical Association 78, 605-610.",
    "dunn-1964": "Dunn, O. J. (1964). Multiple comparisons using rank sums. Technometrics 6, 241-252.",
    "dunnett-1955": "Dunnett, C. W. (1955). A multiple comparison procedure for comparing several treatments with a "
    "control. Journal of the American Statistical Association 50, 1096-1121.",
    "efron-1987": "Efron, B. (1987). Better bootstrap confidence intervals. Journal of the American Statistical "
    "Association 82, 171-185.",
    "efron-tibshirani-1993": "Efron, B. and Tibshirani, R. J. (1993). An Introduction to the Bootstrap. Chapman and "
    "Hall.",
    "feng-cliff-2004": "Feng, D. and Cliff, N. (2004). Monte Carlo evaluation of ordinal d with improved confidence "
    "interval. Journal of Modern Applied Statistical Methods 3, 322-332.",
    "fieller-1957": "Fieller, E. C., Hartley, H. O. and Pearson, E. S. (1957). Tests for rank correlation "
    "coefficients. I. Biometrika 44, 470-481.",
    "filliben-1975": "Filliben, J. J. (1975). The probability plot correlation coefficient test for normality."
    " Technometrics 17, 111-117.",
    "fisher-1921": "Fisher, R. A. (1921). On the probable error of a coefficient of correlation deduced from a "
    "small sample. Metron 1, 3-32.",
    "fisher-1924": "Fisher, R. A. (1924). The distribution of the partial correlation coefficient. Metron 3, 329-332.",
    "fisher-1935": "Fisher, R. A. (1935). The Design of Experiments. Oliver and Boyd, chapter 2.",
    "fox-monette-1992": "Fox, J. and Monette, G. (1992). Generalized collinearity diagnostics. Journal of the "
    "American Statistical Association 87, 178-183.",
    "freedman-diaconis-1981": "Freedman, D. and Diaconis, P. (1981). On the histogram as a density estimator: L2 "
    "theory. Zeitschrift fuer Wahrscheinlichkeitstheorie 57, 453-476.",
    "friedman-1937": "Friedman, M. (1937). The use of ranks to avoid the assumption of normality implicit in the "
    "analysis of variance. Journal of the American Statistical Association 32, 675-701.",
    "games-howell-1976": "Games, P. A. and Howell, J. F. (1976). Pairwise multiple comparison procedures with unequal "
    "n's and/or variances. Journal of Educational Statistics 1, 113-125.",
    "greenhouse-geisser-1959": "Greenhouse, S. W. and Geisser, S. (1959). On methods in the analysis of profile data. "
    "Psychometrika 24, 95-112.",
    "grubbs-1969": "Grubbs, F. E. (1969). Procedures for detecting outlying observations in samples. Technometrics "
    "11, 1-21.",
    "hahn-meeker-1991": "Hahn, G. J. and Meeker, W. Q. (1991). Statistical Intervals. Wiley.",
    "hardin-rocke-2005": "Hardin, J. and Rocke, D. M. (2005). The distribution of robust distances. Journal of "
    "Computational and Graphical Statistics 14, 928-946.",
    "hasler-hothorn-2008": "Hasler, M. and Hothorn, L. A. (2008). Multiple contrast tests in the presence of "
    "heteroscedasticity. Biometrical Journal 50, 793-800.",
    "hays-1963": "Hays, W. L. (1963). Statistics for Psychologists. Holt, Rinehart and Winston.",
    "hedges-1981": "Hedges, L. V. (1981). Distribution theory for Glass's estimator of effect size and related "
    "estimators. Journal of Educational Statistics 6, 107-128.",
    "helsel-2012": "Helsel, D. R. (2012). Statistics for Censored Environmental Data, second edition. Wiley.",
    "helsel-cohn-1988": "Helsel, D. R. and Cohn, T. A. (1988). Estimation of descriptive statistics for multiply "
    "censored water quality data. Water Resources Research 24, 1997-2004.",
    "hodges-lehmann-1963": "Hodges, J. L. and Lehmann, E. L. (1963). Estimates of location based on rank tests. "
    "Annals of Mathematical Statistics 34, 598-611.",
    "hollander-wolfe-1999": "Hollander, M. and Wolfe, D. A. (1999). Nonparametric Statistical Methods, second "
    "edition. Wiley, chapters 3 and 4.",
    "holm-1979": "Holm, S. (1979). A simple sequentially rejective multiple test procedure. Scandinavian Journal of "
    "Statistics 6, 65-70.",
    "hubert-vandervieren-2008": "Hubert, M. and Vandervieren, E. (2008). An adjusted boxplot for skewed "
    "distributions. Computational Statistics and Data Analysis 52, 5186-5201.",
    "hyndman-1996": "Hyndman, R. J. (1996). Computing and graphing highest density regions. The American "
    "Statistician 50, 120-126.",
    "hyndman-fan-1996": "Hyndman, R. J. and Fan, Y. (1996). Sample quantiles in statistical packages. The American "
    "Statistician 50, 361-365.",
    "iglewicz-hoaglin-1993": "Iglewicz, B. and Hoaglin, D. C. (1993). How to Detect and Handle Outliers. ASQC Quality "
    "Press.",
    "iso-22514-2": "International Organization for Standardization (2017). ISO 22514-2, Statistical methods in "
    "process management: capability and performance, part 2.",
    "jarque-bera-1987": "Jarque, C. M. and Bera, A. K. (1987). A test for normality of observations and regression "
    "residuals. International Statistical Review 55, 163-172.",
    "joanes-gill-1998": "Joanes, D. N. and Gill, C. A. (1998). Comparing measures of sample skewness and kurtosis. "
    "The Statistician 47, 183-189.",
    "kaplan-meier-1958": "Kaplan, E. L. and Meier, P. (1958). Nonparametric estimation from incomplete observations. "
    "Journal of the American Statistical Association 53, 457-481.",
    "kelley-1935": "Kelley, T. L. (1935). An unbiased correlation ratio measure. Proceedings of the National"
    " Academy of Sciences 21, 554-559.",
    "kendall-smith-1939": "Kendall, M. G. and Babington Smith, B. (1939). The problem of m rankings. Annals of "
    "Mathematical Statistics 10, 275-287.",
    "kish-1965": "Kish, L. (1965). Survey Sampling. Wiley, chapter 5.",
    "koenker-1981": "Koenker, R. (1981). A note on studentizing a test for heteroscedasticity. Journal of "
    "Econometrics 17, 107-112.",
    "kramer-1956": "Kramer, C. Y. (1956). Extension of multiple range tests to group means with unequal numbers of "
    "replications. Biometrics 12, 307-310.",
    "kruskal-wallis-1952": "Kruskal, W. H. and Wallis, W. A. (1952). Use of ranks in one-criterion variance analysis. "
    "Journal of the American Statistical Association 47, 583-621.",
    "levene-1960": "Levene, H. (1960). Robust tests for equality of variances. In Contributions to Probability and "
    "Statistics, Stanford University Press, 278-292.",
    "lilliefors-1967": "Lilliefors, H. W. (1967). On the Kolmogorov-Smirnov test for normality with mean and variance "
    "unknown. Journal of the American Statistical Association 62, 399-402.",
    "long-ervin-2000": "Long, J. S. and Ervin, L. H. (2000). Using heteroscedasticity consistent standard errors in "
    "the linear regression model. The American Statistician 54, 217-224.",
    "mackinnon-white-1985": "MacKinnon, J. G. and White, H. (1985). Some heteroskedasticity-consistent covariance "
    "matrix estimators with improved finite sample properties. Journal of Econometrics 29, 305-325.",
    "mann-whitney-1947": "Mann, H. B. and Whitney, D. R. (1947). On a test of whether one of two random variables is "
    "stochastically larger than the other. Annals of Mathematical Statistics 18, 50-60.",
    "mcgill-1978": "McGill, R., Tukey, J. W. and Larsen, W. A. (1978). Variations of box plots. The American "
    "Statistician 32, 12-16.",
    "minka-2002": "Minka, T. P. (2002). Estimating a gamma distribution. Note, Massachusetts Institute of Technology.",
    "montgomery-2013": "Montgomery, D. C. (2013). Introduction to Statistical Quality Control, seventh edition. Wiley.",
    "morey-2008": "Morey, R. D. (2008). Confidence intervals from normalized data: a correction to Cousineau (2005). "
    "Tutorials in Quantitative Methods for Psychology 4, 61-64.",
    "newcombe-1998": "Newcombe, R. G. (1998). Two-sided confidence intervals for the single proportion: comparison of "
    "seven methods. Statistics in Medicine 17, 857-872.",
    "newcombe-1998-difference": "Newcombe, R. G. (1998). Interval estimation for the difference between independent "
    "proportions: comparison of eleven methods. Statistics in Medicine 17, 873-890.",
    "patterson-thompson-1971": "Patterson, H. D. and Thompson, R. (1971). Recovery of inter-block information when "
    "block sizes are unequal. Biometrika 58, 545-554.",
    "pearson-1900": "Pearson, K. (1900). On the criterion that a given system of deviations from the probable in the "
    "case of a correlated system of variables is such that it can be reasonably supposed to have arisen from random "
    "sampling. Philosophical Magazine 50, 157-175.",
    "pebay-2008": "Pébay, P. (2008). Formulas for robust, one-pass parallel computation of covariances and "
    "arbitrary-order statistical moments. Report SAND2008-6212, Sandia National Laboratories.",
    "rosner-1983": "Rosner, B. (1983). Percentage points for a generalized ESD many-outlier procedure. Technometrics "
    "25, 165-172.",
    "rousseeuw-van-driessen-1999": "Rousseeuw, P. J. and Van Driessen, K. (1999). A fast algorithm for the minimum "
    "covariance determinant estimator. Technometrics 41, 212-223.",
    "royston-1995": "Royston, P. (1995). Remark AS R94: a remark on algorithm AS 181. Applied Statistics 44, 547-551.",
    "schuirmann-1987": "Schuirmann, D. J. (1987). A comparison of the two one-sided tests procedure and the power "
    "approach for assessing the equivalence of average bioavailability. Journal of Pharmacokinetics and "
    "Biopharmaceutics 15, 657-680.",
    "scott-1979": "Scott, D. W. (1979). On optimal and data-based histograms. Biometrika 66, 605-610.",
    "scott-1992": "Scott, D. W. (1992). Multivariate Density Estimation. Wiley, p. 131.",
    "sen-1968": "Sen, P. K. (1968). Estimates of the regression coefficient based on Kendall's tau. Journal of "
    "the American Statistical Association 63, 1379-1389.",
    "shewhart-1931": "Shewhart, W. A. (1931). Economic Control of Quality of Manufactured Product. Van Nostrand.",
    "shiffler-1988": "Shiffler, R. E. (1988). Maximum Z scores and outliers. The American Statistician 42, 79-80.",
    "silverman-1986": "Silverman, B. W. (1986). Density Estimation. Chapman and Hall, equation 3.31.",
    "steiger-fouladi-1997": "Steiger, J. H. and Fouladi, R. T. (1997). Noncentrality interval estimation and the "
    "evaluation of statistical models. In L. L. Harlow, S. A. Mulaik and J. H. Steiger (eds),"
    " What If There Were No Significance Tests? Erlbaum, 221-257.",
    "sturges-1926": "Sturges, H. A. (1926). The choice of a class interval. Journal of the American Statistical "
    "Association 21, 65-66.",
    "theil-1950": "Theil, H. (1950). A rank-invariant method of linear and polynomial regression analysis. "
    "Proceedings of the Royal Netherlands Academy of Sciences 53, 386-392, 521-525, "
    "1397-1412.",
    "tukey-1953": "Tukey, J. W. (1953). The problem of multiple comparisons. In: The Collected Works of John W. Tukey "
    "VIII (1994). Chapman and Hall, 1-300.",
    "tukey-1977": "Tukey, J. W. (1977). Exploratory Data Analysis. Addison-Wesley, chapter 2.",
    "tukey-mclaughlin-1963": "Tukey, J. W. and McLaughlin, D. H. (1963). Less vulnerable confidence and significance "
    "procedures for location based on a single sample: trimming/winsorization 1. Sankhya A 25, 331-352.",
    "wald-wolfowitz-1940": "Wald, A. and Wolfowitz, J. (1940). On a test whether two samples are from the same "
    "population. Annals of Mathematical Statistics 11, 147-162.",
    "welch-1947": "Welch, B. L. (1947). The generalization of Student's problem when several different population "
    "variances are involved. Biometrika 34, 28-35.",
    "welch-1951": "Welch, B. L. (1951). On the comparison of several mean values: an alternative approach. Biometrika "
    "38, 330-336.",
    "western-electric-1956": "Western Electric Company (1956). Statistical Quality Control Handbook. Indianapolis.",
    "wilcoxon-1945": "Wilcoxon, F. (1945). Individual comparisons by ranking methods. Biometrics Bulletin 1, 80-83.",
    "wilson-1927": "Wilson, E. B. (1927). Probable inference, the law of succession, and statistical inference. "
    "Journal of the American Statistical Association 22, 209-212.",
    "yeo-johnson-2000": "Yeo, I.-K. and Johnson, R. A. (2000). A new family of power transformations to improve "
    "normality or symmetry. Biometrika 87, 954-959.",
    "yuen-1974": "Yuen, K. K. (1974). The two-sample trimmed t for unequal population variances. Biometrika 61, "
    "165-170.",
}


def cited(source: str) -> str:
    """The whole citation of a source: by its key, or as it was given where it is one itself."""
    return SOURCES.get(source, source)


def short(source: str) -> str:
    """A source as it is named in a sentence: Joanes and Gill (1998)."""
    authors, _, rest = cited(source).partition(" (")
    names = [
        name
        for name in authors.replace(" and ", ", ").split(", ")
        if not name.rstrip(".").replace(".", "").replace("-", "").replace(" ", "").isupper()
    ]
    said = (
        names[0] if len(names) == 1 else f"{names[0]} and {names[1]}" if len(names) == 2 else f"{names[0]} and others"
    )
    return f"{said} ({rest[:4]})"
