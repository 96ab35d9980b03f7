"""Where the definitions come from, by the key that docstrings and results use."""

SOURCES: dict[str, str] = {
    "aldor-noiman-2013": "Aldor-Noiman, S., Brown, L. D., Buja, A., Rolke, W. and Stine, R. A. (2013). The power to "
    "see: a new graphical test of normality. The American Statistician 67, 249-260.",
    "anhoej-olesen-2014": "Anhoej, J. and Olesen, A. V. (2014). Run charts revisited: a simulation study of run chart "
    "rules for detection of non-random variation in health care processes. PLoS ONE 9, e113825.",
    "blom-1958": "Blom, G. (1958). Statistical Estimates and Transformed Beta-Variables. Wiley.",
    "botev-2010": "Botev, Z. I., Grotowski, J. F. and Kroese, D. P. (2010). Kernel density estimation via diffusion. "
    "Annals of Statistics 38, 2916-2957.",
    "box-cox-1964": "Box, G. E. P. and Cox, D. R. (1964). An analysis of transformations. Journal of the Royal "
    "Statistical Society B 26, 211-252.",
    "buja-2009": "Buja, A., Cook, D., Hofmann, H., Lawrence, M., Lee, E.-K., Swayne, D. F. and Wickham, H. (2009). "
    "Statistical inference for exploratory data analysis and model diagnostics. Philosophical Transactions of the "
    "Royal Society A 367, 4361-4383.",
    "clsi-2008": "Clinical and Laboratory Standards Institute (2008). Defining, Establishing, and Verifying Reference "
    "Intervals in the Clinical Laboratory, third edition.",
    "dagostino-pearson-1973": "D'Agostino, R. and Pearson, E. S. (1973). Tests for departure from normality. "
    "Biometrika 60, 613-622.",
    "dagostino-stephens-1986": "D'Agostino, R. B. and Stephens, M. A. (1986). Goodness-of-Fit Techniques. Dekker, "
    "table 4.9 and section 4.8.5.",
    "freedman-diaconis-1981": "Freedman, D. and Diaconis, P. (1981). On the histogram as a density estimator: L2 "
    "theory. Zeitschrift fuer Wahrscheinlichkeitstheorie 57, 453-476.",
    "hahn-meeker-1991": "Hahn, G. J. and Meeker, W. Q. (1991). Statistical Intervals. Wiley.",
    "holm-1979": "Holm, S. (1979). A simple sequentially rejective multiple test procedure. Scandinavian Journal of "
    "Statistics 6, 65-70.",
    "hyndman-fan-1996": "Hyndman, R. J. and Fan, Y. (1996). Sample quantiles in statistical packages. "
    "The American Statistician 50, 361-365.",
    "jarque-bera-1987": "Jarque, C. M. and Bera, A. K. (1987). A test for normality of observations and regression "
    "residuals. International Statistical Review 55, 163-172.",
    "joanes-gill-1998": "Joanes, D. N. and Gill, C. A. (1998). Comparing measures of sample skewness and kurtosis. "
    "The Statistician 47, 183-189.",
    "lilliefors-1967": "Lilliefors, H. W. (1967). On the Kolmogorov-Smirnov test for normality with mean and variance "
    "unknown. Journal of the American Statistical Association 62, 399-402.",
    "mcgill-1978": "McGill, R., Tukey, J. W. and Larsen, W. A. (1978). Variations of box plots. The American "
    "Statistician 32, 12-16.",
    "minka-2002": "Minka, T. P. (2002). Estimating a gamma distribution. Note, Massachusetts Institute of Technology.",
    "royston-1995": "Royston, P. (1995). Remark AS R94: a remark on algorithm AS 181. Applied Statistics 44, 547-551.",
    "scott-1979": "Scott, D. W. (1979). On optimal and data-based histograms. Biometrika 66, 605-610.",
    "scott-1992": "Scott, D. W. (1992). Multivariate Density Estimation. Wiley, p. 131.",
    "silverman-1986": "Silverman, B. W. (1986). Density Estimation. Chapman and Hall, equation 3.31.",
    "sturges-1926": "Sturges, H. A. (1926). The choice of a class interval. Journal of the American Statistical "
    "Association 21, 65-66.",
    "tukey-1977": "Tukey, J. W. (1977). Exploratory Data Analysis. Addison-Wesley, chapter 2.",
    "wald-wolfowitz-1940": "Wald, A. and Wolfowitz, J. (1940). On a test whether two samples are from the same "
    "population. Annals of Mathematical Statistics 11, 147-162.",
    "yeo-johnson-2000": "Yeo, I.-K. and Johnson, R. A. (2000). A new family of power transformations to improve "
    "normality or symmetry. Biometrika 87, 954-959.",
}
