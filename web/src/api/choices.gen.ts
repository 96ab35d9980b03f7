// Written by scripts/choices.py from the records of the core; not by hand.

export const OUTLIER_RULES = {
  "fences": {
    "label": "fences",
    "help": "Assumes little: about 0.7 % of a normal sample lies beyond, and far more of a skewed one.",
    "options": {
      "reach": {
        "label": "Reach in IQRs",
        "usual": 1.5,
        "low": 0,
        "high": 100,
        "whole": false
      }
    }
  },
  "z": {
    "label": "z",
    "help": "Assumes a normal distribution; far values widen the SD and hide themselves, and z cannot exceed (n - 1)/√n."
  },
  "robust-z": {
    "label": "robust z",
    "help": "Assumes a symmetric middle; half the values may be wrong before it fails."
  },
  "grubbs": {
    "label": "Grubbs' test",
    "help": "Assumes that all values but one are normal; it tests only the farthest, and two can hide each other.",
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.05,
        "low": 1e-06,
        "high": 0.5,
        "whole": false
      }
    }
  },
  "dixon": {
    "label": "Dixon's ratio test",
    "help": "For 3 to 30 values, of which all but one are normal; it tests the farthest by its gap from the next.",
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.05,
        "low": 1e-06,
        "high": 0.5,
        "whole": false
      }
    }
  },
  "esd": {
    "label": "generalized ESD test",
    "help": "Assumes that all but at most k values are normal; advised from 25 values.",
    "options": {
      "suspects": {
        "label": "Suspects",
        "usual": 10,
        "low": 1,
        "high": 1000,
        "whole": true
      },
      "level": {
        "label": "Level",
        "usual": 0.05,
        "low": 1e-06,
        "high": 0.5,
        "whole": false
      }
    }
  },
  "skew-fences": {
    "label": "skew-adjusted fences",
    "help": "Makes room on the longer side by the medcouple; meant for skewed samples with one peak."
  }
} as const;

export const CENTRES = {
  "mean": {
    "label": "mean",
    "help": "The sum of the values over n; far values pull it.",
    "bars": "mean-interval",
    "effect": "mean",
    "among_values": true,
    "fitting": [
      "sd",
      "se",
      "mean-interval",
      "bootstrap-interval",
      "quartile-span",
      "range",
      "percentiles",
      "within-unit-interval"
    ]
  },
  "median": {
    "label": "median",
    "help": "The value with as many below as above; far values do not move it.",
    "bars": "median-interval",
    "effect": "median",
    "among_values": true,
    "fitting": [
      "bootstrap-interval",
      "quartile-span",
      "range",
      "percentiles",
      "median-interval"
    ]
  },
  "geometric-mean": {
    "label": "geometric mean",
    "help": "The mean of logs, back-transformed: for values above 0 that differ by factors.",
    "bars": "mean-interval",
    "effect": "ratio",
    "among_values": true,
    "fitting": [
      "sd",
      "se",
      "mean-interval",
      "bootstrap-interval",
      "quartile-span",
      "range",
      "percentiles"
    ]
  },
  "trimmed-mean": {
    "label": "trimmed mean",
    "help": "The mean without a share of the values at each end.",
    "bars": "bootstrap-interval",
    "effect": "trimmed",
    "among_values": true,
    "fitting": [
      "bootstrap-interval",
      "quartile-span",
      "range",
      "percentiles"
    ]
  },
  "sd": {
    "label": "SD",
    "help": "How far values scatter, where that is what is compared; the values themselves are not drawn.",
    "bars": "sd-interval",
    "effect": "mean",
    "among_values": false,
    "fitting": [
      "sd-interval"
    ]
  },
  "share": {
    "label": "share",
    "help": "Answers chosen over answers given.",
    "bars": "wilson-interval",
    "effect": "mean",
    "among_values": true,
    "fitting": [
      "wilson-interval"
    ]
  }
} as const;

export const BARS = {
  "sd": {
    "label": "SD",
    "help": "How values scatter about their mean.",
    "level": false
  },
  "se": {
    "label": "standard error",
    "help": "How sure the mean is: the SD over √n.",
    "level": false
  },
  "mean-interval": {
    "label": "t interval",
    "help": "Where the mean of the population lies, at the level chosen.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  },
  "bootstrap-interval": {
    "label": "bootstrap interval",
    "help": "Where the centre of the population lies, without a normal shape; by resampling.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  },
  "quartile-span": {
    "label": "quartile span",
    "help": "From the first to the third quartile: the middle half of the values.",
    "level": false
  },
  "range": {
    "label": "range",
    "help": "From the smallest to the largest value.",
    "level": false
  },
  "percentiles": {
    "label": "percent points",
    "help": "From one percent point to another, such as from 5 to 95.",
    "level": false,
    "options": {
      "low_percent": {
        "label": "From",
        "usual": 5,
        "low": 0,
        "high": 100,
        "whole": false
      },
      "high_percent": {
        "label": "To",
        "usual": 95,
        "low": 0,
        "high": 100,
        "whole": false
      }
    }
  },
  "median-interval": {
    "label": "interval of the median",
    "help": "Where the median of the population lies, whatever the shape; from 6 values at 95 %.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  },
  "within-unit-interval": {
    "label": "interval within units",
    "help": "For units measured in every group: what differs between units is taken out.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  },
  "wilson-interval": {
    "label": "Wilson interval",
    "help": "Where the share of the population lies; right for few answers and near 0 or 1 too.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  },
  "sd-interval": {
    "label": "bootstrap interval of the SD",
    "help": "Where the SD of the population lies, without a normal shape; by resampling.",
    "level": true,
    "options": {
      "level": {
        "label": "Level",
        "usual": 0.95,
        "low": 0.5,
        "high": 0.999,
        "whole": false
      }
    }
  }
} as const;

export const WHISKERS = {
  "fences": {
    "label": "within a number of IQRs",
    "help": "To the outermost values within so many IQRs of the quartiles; what lies beyond is ringed.",
    "options": {
      "reach": {
        "label": "Reach in IQRs",
        "usual": 1.5,
        "low": 0,
        "high": 100,
        "whole": false
      }
    }
  },
  "range": {
    "label": "the range",
    "help": "From the smallest to the largest value."
  },
  "percentiles": {
    "label": "percent points",
    "help": "From one percent point to the one as far from the other end.",
    "options": {
      "share": {
        "label": "Share at each end",
        "usual": 0.05,
        "low": 0,
        "high": 0.5,
        "whole": false
      }
    }
  }
} as const;

export const BANDWIDTH_RULES = {
  "silverman": {
    "label": "Silverman's rule",
    "help": "0.9 min(SD, IQR/1.34) n^(−1/5)"
  },
  "scott": {
    "label": "Scott's rule",
    "help": "1.06 SD n^(−1/5)"
  },
  "plug-in": {
    "label": "plug-in rule",
    "help": "Botev, Grotowski and Kroese (2010)"
  }
} as const;

export const KERNELS = {
  "gaussian": {
    "label": "gaussian",
    "help": "A normal curve at each value: smooth everywhere."
  },
  "epanechnikov": {
    "label": "epanechnikov",
    "help": "A parabola at each value; ends at √5 bandwidths."
  },
  "triangular": {
    "label": "triangular",
    "help": "A triangle at each value; ends at √6 bandwidths."
  },
  "uniform": {
    "label": "uniform",
    "help": "A block at each value: a moving count."
  },
  "biweight": {
    "label": "biweight",
    "help": "A smooth hump at each value; ends at √7 bandwidths."
  }
} as const;

export const CLASS_RULES = {
  "freedman-diaconis": {
    "label": "Freedman-Diaconis rule",
    "help": "2 IQR n^(−1/3), rounded"
  },
  "scott": {
    "label": "Scott's rule",
    "help": "3.49 SD n^(−1/3), rounded"
  },
  "sturges": {
    "label": "Sturges' rule",
    "help": "⌈log₂ n⌉ + 1 classes"
  },
  "square-root": {
    "label": "square-root rule",
    "help": "⌈√n⌉ classes"
  },
  "integers": {
    "label": "a class for each whole number",
    "help": "from one half below it to one half above"
  }
} as const;

export const QUANTILE_DEFINITIONS = {
  "1": {
    "label": "definition 1",
    "help": "A value that occurred: the first at or above the share. In official statistics, databases."
  },
  "2": {
    "label": "definition 2",
    "help": "As 1, halfway between two values at a step. In many textbooks, for work by hand."
  },
  "3": {
    "label": "definition 3",
    "help": "The value of the nearest rank. In some older packages and survey handbooks."
  },
  "4": {
    "label": "definition 4",
    "help": "Straight lines through the steps, rank n p. In some databases and older programs."
  },
  "5": {
    "label": "definition 5",
    "help": "Straight lines through the middles of the steps. In engineering and hydrology handbooks."
  },
  "6": {
    "label": "definition 6",
    "help": "Rank (n + 1) p. In handbooks of quality control and many packages for social science."
  },
  "7": {
    "label": "definition 7",
    "help": "Rank (n − 1) p + 1. In spreadsheets and most programming languages."
  },
  "8": {
    "label": "definition 8",
    "help": "Nearly median-unbiased whatever the distribution; what Hyndman and Fan recommend."
  },
  "9": {
    "label": "definition 9",
    "help": "Nearly unbiased for normal values; the positions of many Q-Q plots."
  },
  "hinges": {
    "label": "hinges",
    "help": "Medians of the two halves, the middle value in both. Box plots drawn by hand."
  }
} as const;

export const FAMILIES = {
  "normal": {
    "label": "normal",
    "help": "Mean and SD; symmetric, without an end."
  },
  "log-normal": {
    "label": "log-normal",
    "help": "Logs are normal; values above 0."
  },
  "weibull": {
    "label": "Weibull",
    "help": "Times to failure and strengths; values above 0."
  },
  "exponential": {
    "label": "exponential",
    "help": "Times between events at a constant rate; values from 0."
  },
  "gamma": {
    "label": "gamma",
    "help": "Sums of waiting times; values above 0."
  }
} as const;

export const EFFECTS = {
  "mean": {
    "label": "difference of means",
    "help": "In the unit of the data.",
    "of_means": true,
    "paired": "mean of the differences"
  },
  "trimmed": {
    "label": "difference of trimmed means",
    "help": "In the unit of the data, without a share of the values at each end.",
    "of_means": false,
    "paired": "difference of trimmed means",
    "options": {
      "trim": {
        "label": "Share cut at each end",
        "usual": 0.1,
        "low": 0,
        "high": 0.499,
        "whole": false
      }
    }
  },
  "median": {
    "label": "difference of medians",
    "help": "In the unit of the data; far values do not move it.",
    "of_means": false,
    "paired": "difference of medians"
  },
  "shift": {
    "label": "shift by ranks",
    "help": "In the unit of the data: the median of all differences between values of the two groups.",
    "of_means": false,
    "paired": "shift by signed ranks"
  },
  "ratio": {
    "label": "ratio of geometric means",
    "help": "A factor, for values above 0.",
    "of_means": false,
    "paired": "ratio of geometric means"
  },
  "hedges-g": {
    "label": "Hedges' g",
    "help": "In SDs, for results in different units.",
    "of_means": false,
    "paired": "mean in SDs of the differences, d_z"
  },
  "cliffs-delta": {
    "label": "Cliff's delta",
    "help": "How often a value of the first group is the larger; needs order alone.",
    "of_means": false,
    "paired": "Cliff's delta"
  }
} as const;

export const LIMITS = {
  "games-howell": {
    "label": "for all pairs together, spreads may differ",
    "help": "Games and Howell: of all pairs at once, each with its own standard error.",
    "equal": false,
    "together": true,
    "to_reference": false,
    "caption": "for all pairs together (Games and Howell)"
  },
  "tukey-kramer": {
    "label": "for all pairs together, spreads taken for equal",
    "help": "Tukey and Kramer: of all pairs at once, with one SD for all groups.",
    "equal": true,
    "together": true,
    "to_reference": false,
    "caption": "for all pairs together, spreads taken for equal (Tukey and Kramer)"
  },
  "hasler-hothorn": {
    "label": "for all together, spreads may differ",
    "help": "As Dunnett's for comparisons with one group, each with its own standard error.",
    "equal": false,
    "together": true,
    "to_reference": true,
    "caption": "for all comparisons with the reference together (Hasler and Hothorn)"
  },
  "dunnett": {
    "label": "for all together, spreads taken for equal",
    "help": "Dunnett: of all comparisons with one group, with one SD for all groups.",
    "equal": true,
    "together": true,
    "to_reference": true,
    "caption": "for all comparisons with the reference together, spreads taken for equal (Dunnett)"
  },
  "welch": {
    "label": "each for itself, spreads may differ",
    "help": "Welch: each pair alone, with its own standard error.",
    "equal": false,
    "together": false,
    "to_reference": false,
    "caption": "each for itself (Welch)"
  },
  "pooled": {
    "label": "each for itself, spreads taken for equal",
    "help": "Student's t: each pair alone, with one SD for all groups.",
    "equal": true,
    "together": false,
    "to_reference": false,
    "caption": "each for itself, spreads taken for equal"
  }
} as const;

export const GROUP_TESTS = {
  "welch": {
    "label": "Welch's analysis of variance",
    "help": "Whether means differ; spreads may.",
    "letter": "F"
  },
  "classical": {
    "label": "Analysis of variance, equal spreads",
    "help": "Whether means differ, where all groups spread alike.",
    "letter": "F"
  },
  "kruskal-wallis": {
    "label": "Kruskal and Wallis, by ranks",
    "help": "Whether values of some group lie higher, by their ranks among all.",
    "letter": "H"
  },
  "levene": {
    "label": "Levene, of spreads about means",
    "help": "Whether spreads differ, by the distances from the groups' means.",
    "letter": "F"
  },
  "brown-forsythe": {
    "label": "Brown and Forsythe, about medians",
    "help": "Whether spreads differ, by the distances from the groups' medians.",
    "letter": "F"
  },
  "repeated": {
    "label": "Analysis of variance of repeated measures",
    "help": "Whether means differ over the same units.",
    "letter": "F"
  },
  "friedman": {
    "label": "Friedman, by ranks within units",
    "help": "Whether some group ranks higher within the same units.",
    "letter": "χ²"
  }
} as const;

export const FIT_SCALES = {
  "as-is": {
    "label": "untransformed",
    "help": "As it was measured."
  },
  "square-root": {
    "label": "square root",
    "help": "For counts, and areas that grow with a length."
  },
  "log10": {
    "label": "log",
    "help": "For what grows by factors; values above 0."
  },
  "reciprocal": {
    "label": "reciprocal",
    "help": "Times as rates, rates as times."
  }
} as const;

export const LINES = {
  "least-squares": {
    "label": "least squares",
    "help": "The line with the smallest sum of squared residuals; far points pull it."
  },
  "median": {
    "label": "Theil-Sen line",
    "help": "The median of the slopes of all pairs; far points hardly move it."
  },
  "smooth": {
    "label": "lowess",
    "help": "Local lines: how the middle of y follows x, without a straight line.",
    "options": {
      "span": {
        "label": "Share of the pairs",
        "usual": 0.67,
        "low": 0.05,
        "high": 1,
        "whole": false
      }
    }
  }
} as const;

export const CHARTS = {
  "individuals": {
    "label": "single values",
    "help": "Each value for itself; its spread from the ranges of neighbours."
  },
  "range": {
    "label": "means, spread by ranges",
    "help": "Means of subgroups; their spread from the ranges within them, for up to about 10 values each."
  },
  "sd": {
    "label": "means, spread by SDs",
    "help": "Means of subgroups; their spread from the SDs within them, for subgroups of any size."
  }
} as const;

export const DIFFERENCE_SCALES = {
  "as-is": {
    "label": "differences",
    "help": "The first method less the second, in their unit."
  },
  "log": {
    "label": "ratios",
    "help": "The first method over the second: for values above 0 whose differences grow with them."
  }
} as const;

export const NORMALITY_TESTS = {
  "shapiro_wilk": {
    "label": "Shapiro-Wilk",
    "help": "Royston (1995), 3 to 5,000 values",
    "letter": "W"
  },
  "anderson_darling": {
    "label": "Anderson-Darling",
    "help": "mean and SD estimated; D'Agostino and Stephens (1986), from 8 values",
    "letter": "A²"
  },
  "lilliefors": {
    "label": "Lilliefors",
    "help": "Kolmogorov-Smirnov for estimated mean and SD; the plain p value would be far too large",
    "letter": "D"
  },
  "dagostino_pearson": {
    "label": "D'Agostino-Pearson",
    "help": "skewness and kurtosis together, from 20 values",
    "letter": "K²"
  },
  "jarque_bera": {
    "label": "Jarque-Bera",
    "help": "skewness and kurtosis together, from 2,000 values",
    "letter": "JB"
  }
} as const;

export const WAYS = {
  "power": {
    "label": "power",
    "help": "A step of the ladder: squares, roots, reciprocals."
  },
  "log": {
    "label": "log",
    "help": "For what grows by factors; values above 0, or above 0 with a number added."
  },
  "box-cox": {
    "label": "Box-Cox",
    "help": "(x^p − 1)/p, the power of largest likelihood; values above 0."
  },
  "yeo-johnson": {
    "label": "Yeo-Johnson",
    "help": "As Box-Cox, for values of both signs."
  },
  "logit": {
    "label": "logit",
    "help": "Shares; a model for proportions is often better."
  },
  "arcsine-root": {
    "label": "arcsine root",
    "help": "Shares; the logit is easier to read."
  },
  "z": {
    "label": "z score",
    "help": "Distance from the mean in SDs."
  },
  "robust-z": {
    "label": "robust z score",
    "help": "Distance from the median in scaled MADs."
  },
  "rank": {
    "label": "rank",
    "help": "Order alone."
  },
  "normal-score": {
    "label": "normal score",
    "help": "Order, laid on a normal curve."
  },
  "centre": {
    "label": "distance from a centre",
    "help": "The same unit, 0 at the mean, the median or a value of one's own."
  }
} as const;

export const POWERS = {
  "-2": {
    "label": "negative reciprocal square",
    "help": "−1/x²"
  },
  "-1": {
    "label": "negative reciprocal",
    "help": "−1/x"
  },
  "-0.5": {
    "label": "negative reciprocal root",
    "help": "−1/√x"
  },
  "0": {
    "label": "log₁₀",
    "help": "log x"
  },
  "0.3333333333333333": {
    "label": "cube root",
    "help": "∛x"
  },
  "0.5": {
    "label": "square root",
    "help": "√x"
  },
  "1": {
    "label": "as measured",
    "help": "x"
  },
  "2": {
    "label": "square",
    "help": "x²"
  },
  "3": {
    "label": "cube",
    "help": "x³"
  }
} as const;

export const LOG_BASES = {
  "10": {
    "label": "log₁₀",
    "help": "A step is a tenfold."
  },
  "2": {
    "label": "log₂",
    "help": "A step is a doubling."
  },
  "e": {
    "label": "ln",
    "help": "The natural logarithm."
  }
} as const;

export const STATISTICS = {
  "mean": {
    "label": "mean",
    "help": ""
  },
  "sd": {
    "label": "SD",
    "help": ""
  },
  "median": {
    "label": "median",
    "help": ""
  },
  "skewness": {
    "label": "skewness",
    "help": ""
  },
  "kurtosis": {
    "label": "excess kurtosis",
    "help": ""
  },
  "shapiro_w": {
    "label": "Shapiro-Wilk W",
    "help": ""
  }
} as const;

export const LISTED = {
  "mean": {
    "label": "Mean",
    "help": "",
    "numbers": {
      "mean": "mean"
    },
    "usual": true,
    "back": false
  },
  "mean_interval": {
    "label": "Mean, interval",
    "help": "",
    "numbers": {
      "mean_low": "lower limit of the mean",
      "mean_high": "upper limit of the mean"
    },
    "usual": false,
    "back": false
  },
  "sd": {
    "label": "SD",
    "help": "",
    "numbers": {
      "sd": "SD"
    },
    "usual": true,
    "back": false
  },
  "median": {
    "label": "Median",
    "help": "",
    "numbers": {
      "median": "median"
    },
    "usual": true,
    "back": false
  },
  "quartiles": {
    "label": "Q1, Q3",
    "help": "",
    "numbers": {
      "q1": "first quartile",
      "q3": "third quartile"
    },
    "usual": true,
    "back": false
  },
  "iqr": {
    "label": "IQR",
    "help": "",
    "numbers": {
      "iqr": "IQR"
    },
    "usual": true,
    "back": false
  },
  "extremes": {
    "label": "Min, max",
    "help": "",
    "numbers": {
      "minimum": "minimum",
      "maximum": "maximum"
    },
    "usual": true,
    "back": false
  },
  "range": {
    "label": "Range",
    "help": "",
    "numbers": {
      "range": "range"
    },
    "usual": false,
    "back": false
  },
  "mad": {
    "label": "MAD, scaled",
    "help": "",
    "numbers": {
      "mad_scaled": "MAD, scaled"
    },
    "usual": true,
    "back": false
  },
  "trimmed": {
    "label": "Trimmed mean",
    "help": "",
    "numbers": {
      "trimmed_mean": "trimmed mean"
    },
    "usual": false,
    "back": false
  },
  "winsorized": {
    "label": "Winsorized mean",
    "help": "",
    "numbers": {
      "winsorized_mean": "winsorized mean"
    },
    "usual": false,
    "back": false
  },
  "geometric": {
    "label": "Geometric mean",
    "help": "",
    "numbers": {
      "geometric_mean": "geometric mean"
    },
    "usual": true,
    "back": false
  },
  "geometric_interval": {
    "label": "Geom. mean, interval",
    "help": "",
    "numbers": {
      "geometric_low": "lower limit of the geometric mean",
      "geometric_high": "upper limit of the geometric mean"
    },
    "usual": false,
    "back": false
  },
  "skewness": {
    "label": "Skewness",
    "help": "",
    "numbers": {
      "skewness": "skewness"
    },
    "usual": true,
    "back": false
  },
  "kurtosis": {
    "label": "Excess kurtosis",
    "help": "",
    "numbers": {
      "kurtosis": "excess kurtosis"
    },
    "usual": true,
    "back": false
  },
  "cv": {
    "label": "CV",
    "help": "",
    "numbers": {
      "cv": "CV"
    },
    "usual": false,
    "back": false
  },
  "back": {
    "label": "Back-transformed mean",
    "help": "",
    "numbers": {
      "mean": "back-transformed mean"
    },
    "usual": true,
    "back": true
  },
  "back_interval": {
    "label": "Back-transformed mean, interval",
    "help": "",
    "numbers": {
      "low": "lower limit of the back-transformed mean",
      "high": "upper limit of the back-transformed mean"
    },
    "usual": true,
    "back": true
  },
  "total": {
    "label": "Sum",
    "help": "",
    "numbers": {
      "total": "sum"
    },
    "usual": false,
    "back": false
  },
  "variance": {
    "label": "Variance",
    "help": "",
    "numbers": {
      "variance": "variance"
    },
    "usual": false,
    "back": false
  },
  "inner_fences": {
    "label": "Inner fences",
    "help": "",
    "numbers": {
      "fence_low": "lower fence",
      "fence_high": "upper fence"
    },
    "usual": false,
    "back": false
  },
  "whiskers": {
    "label": "Whiskers",
    "help": "",
    "numbers": {
      "whisker_low": "lower whisker",
      "whisker_high": "upper whisker"
    },
    "usual": false,
    "back": false
  }
} as const;

export const TAKES = {
  "difference": {
    "label": "difference from",
    "help": ""
  },
  "ratio": {
    "label": "ratio to",
    "help": ""
  },
  "percent-change": {
    "label": "percent change from",
    "help": ""
  },
  "earlier": {
    "label": "value of",
    "help": ""
  }
} as const;

export const ROLES = {
  "points": {
    "label": "points",
    "help": ""
  },
  "beyond": {
    "label": "ringed points",
    "help": ""
  },
  "classes": {
    "label": "classes",
    "help": ""
  },
  "density": {
    "label": "densities",
    "help": ""
  },
  "normal": {
    "label": "normal curves",
    "help": ""
  },
  "box": {
    "label": "boxes",
    "help": ""
  },
  "bars": {
    "label": "centres with bars",
    "help": ""
  },
  "point bars": {
    "label": "bars of points",
    "help": ""
  },
  "from zero": {
    "label": "bars from zero",
    "help": ""
  },
  "violin": {
    "label": "violins",
    "help": ""
  },
  "joined": {
    "label": "joining lines",
    "help": ""
  },
  "pairs": {
    "label": "lines of pairs",
    "help": ""
  },
  "fit": {
    "label": "fitted lines",
    "help": ""
  },
  "median line": {
    "label": "Theil-Sen lines",
    "help": ""
  },
  "smooth": {
    "label": "lowess curves",
    "help": ""
  },
  "band": {
    "label": "bands",
    "help": ""
  },
  "steps": {
    "label": "steps",
    "help": ""
  },
  "polygon": {
    "label": "polygons",
    "help": ""
  },
  "tiles": {
    "label": "shaded cells",
    "help": ""
  },
  "limits": {
    "label": "limit lines",
    "help": ""
  },
  "stepped limits": {
    "label": "limits of each point",
    "help": ""
  },
  "rug": {
    "label": "rugs",
    "help": ""
  },
  "answers": {
    "label": "parts of bars",
    "help": ""
  },
  "combined": {
    "label": "combined estimates",
    "help": ""
  },
  "values": {
    "label": "values written out",
    "help": ""
  },
  "bumps": {
    "label": "bumps",
    "help": ""
  },
  "piled": {
    "label": "piled bumps",
    "help": ""
  },
  "quartiles": {
    "label": "quartiles of violins",
    "help": ""
  },
  "mean": {
    "label": "means of boxes",
    "help": ""
  },
  "fences": {
    "label": "fences",
    "help": ""
  },
  "limited": {
    "label": "open points",
    "help": ""
  },
  "level lines": {
    "label": "median and quartiles",
    "help": ""
  },
  "run": {
    "label": "the shaded run",
    "help": ""
  },
  "jumps": {
    "label": "rings of jumps",
    "help": ""
  },
  "rule limits": {
    "label": "limits of rules",
    "help": ""
  },
  "contours": {
    "label": "contours",
    "help": ""
  },
  "counted": {
    "label": "points that count",
    "help": ""
  },
  "enclosed": {
    "label": "areas that enclose shares",
    "help": ""
  },
  "one more": {
    "label": "bands of one more value",
    "help": ""
  }
} as const;

export const TABLE_LINES = {
  "mean_sd": {
    "label": "mean (SD)",
    "help": "Centre and spread of values that lie evenly about their middle."
  },
  "mean_se": {
    "label": "mean (SE)",
    "help": "The mean, and how sure it is."
  },
  "mean_interval": {
    "label": "mean with limits",
    "help": "The mean with the limits of its interval."
  },
  "median_quartiles": {
    "label": "median (quartiles)",
    "help": "For skewed values, and for ordered ones."
  },
  "geometric": {
    "label": "geometric mean (SD factor)",
    "help": "For values that vary by factors; all above 0."
  },
  "range": {
    "label": "minimum to maximum",
    "help": "The least and the largest value."
  },
  "n": {
    "label": "n",
    "help": "How many values there are."
  },
  "missing": {
    "label": "missing",
    "help": "How many rows have no value."
  }
} as const;

export const TABLE_PERCENTS = {
  "columns": {
    "label": "of a column",
    "help": ""
  },
  "rows": {
    "label": "of a line",
    "help": ""
  },
  "all": {
    "label": "of all rows",
    "help": ""
  },
  "none": {
    "label": "none",
    "help": ""
  }
} as const;

export const TABLE_COEFFICIENTS = {
  "pearson": {
    "label": "Pearson's r",
    "help": ""
  },
  "spearman": {
    "label": "Spearman's, by ranks",
    "help": ""
  }
} as const;

export const TABLE_ABOVE = {
  "none": {
    "label": "nothing above",
    "help": ""
  },
  "n": {
    "label": "numbers of pairs",
    "help": ""
  },
  "p": {
    "label": "p values",
    "help": ""
  }
} as const;

export const TABLE_FORMS = {
  "docx": {
    "label": "Word processor (.docx)",
    "help": "A table with its caption, as text that can be edited."
  },
  "html": {
    "label": "HTML",
    "help": "For a page, or to be pasted."
  },
  "latex": {
    "label": "LaTeX",
    "help": "For the booktabs package."
  },
  "markdown": {
    "label": "Markdown",
    "help": "Pipes and dashes."
  },
  "xlsx": {
    "label": "Sheet (.xlsx)",
    "help": "Texts as they stand in the table."
  },
  "csv": {
    "label": "CSV",
    "help": "Every number with all its digits."
  }
} as const;

export const REPORT_FORMS = {
  "docx": {
    "label": "Word processor (.docx)",
    "help": "Headings, captions and references are the word processor's own."
  },
  "odt": {
    "label": "Open document (.odt)",
    "help": "The same, as an open standard."
  },
  "html": {
    "label": "HTML",
    "help": "One file for a browser, with figures as vectors."
  },
  "pdf": {
    "label": "PDF",
    "help": "Pages as they are printed."
  }
} as const;

export const REPORT_SECTIONS = {
  "methods": {
    "label": "Methods",
    "help": "What was read, decided and computed, in the words of a methods section."
  },
  "aside": {
    "label": "What was set aside",
    "help": "Every decision on the tables in use, with its reason."
  },
  "references": {
    "label": "References",
    "help": "Who described the methods in use."
  },
  "versions": {
    "label": "Versions",
    "help": "Files with their digests, tables with their revisions, programs with their versions."
  }
} as const;

export const AXIS_SCALES = {
  "linear": {
    "label": "linear",
    "help": "equal steps are equal differences"
  },
  "log": {
    "label": "logarithmic",
    "help": "equal steps are equal ratios"
  }
} as const;

export const MEASURES = {
  "density": {
    "label": "density",
    "help": "area 1"
  },
  "counts": {
    "label": "counts",
    "help": "rows in each class"
  },
  "percents": {
    "label": "percent",
    "help": "of the rows used"
  }
} as const;

export const SHAPE_LAYERS = {
  "classes": {
    "label": "classes",
    "help": "bars of a histogram; a class is also called a bin"
  },
  "density": {
    "label": "density",
    "help": "a smooth curve of area 1"
  },
  "normal": {
    "label": "normal",
    "help": "the normal curve of the same mean and SD"
  },
  "bumps": {
    "label": "bumps",
    "help": "what each value adds to the density"
  },
  "rug": {
    "label": "rug",
    "help": "a stroke at each value"
  },
  "box": {
    "label": "box",
    "help": "quartiles, median, whiskers"
  },
  "violin": {
    "label": "violin",
    "help": "the density and its mirror image"
  },
  "points": {
    "label": "points",
    "help": "each value"
  },
  "limits": {
    "label": "limits",
    "help": "specification limits and target"
  }
} as const;

export const BOX_MARKS = {
  "fences": {
    "label": "fences, inner and outer",
    "help": ""
  },
  "notch": {
    "label": "notch: median ± 1.57 IQR/√n, to compare two medians by",
    "help": ""
  },
  "mean": {
    "label": "mean, as a diamond",
    "help": ""
  },
  "widths": {
    "label": "width by the root of n",
    "help": ""
  }
} as const;

export const FORMS = {
  "lanes": {
    "label": "in lanes",
    "help": ""
  },
  "ridges": {
    "label": "as ridges",
    "help": ""
  },
  "overlay": {
    "label": "one over the other",
    "help": ""
  },
  "facing": {
    "label": "back to back",
    "help": ""
  }
} as const;

export const SCALINGS = {
  "area": {
    "label": "equal area",
    "help": "each level counts alike"
  },
  "height": {
    "label": "equal height",
    "help": "shapes alone are compared"
  },
  "count": {
    "label": "area by count",
    "help": "as many rows, as much area"
  }
} as const;

export const CUMULATIVE_LINES = {
  "polygon": {
    "label": "polygon of the classes",
    "help": ""
  },
  "steps": {
    "label": "each value",
    "help": ""
  }
} as const;

export const ORDER_MARKS = {
  "joined": {
    "label": "joined",
    "help": "a line from value to value"
  },
  "quartiles": {
    "label": "quartiles",
    "help": "the middle half of all values"
  },
  "run": {
    "label": "run",
    "help": "the longest run on one side of the median"
  },
  "jumps": {
    "label": "jumps",
    "help": "unusually large steps"
  },
  "limits": {
    "label": "limits",
    "help": "specification limits and target"
  }
} as const;

export const QUANTILE_PLOTS = {
  "quantiles": {
    "label": "Q-Q plot",
    "help": ""
  },
  "off the line": {
    "label": "detrended Q-Q plot",
    "help": ""
  },
  "shares": {
    "label": "P-P plot",
    "help": ""
  }
} as const;

export const GROUP_MARKS = {
  "points": {
    "label": "points",
    "help": "each value"
  },
  "violin": {
    "label": "violin",
    "help": "the density"
  },
  "box": {
    "label": "box",
    "help": "quartiles, median, whiskers"
  },
  "centre": {
    "label": "centre",
    "help": "the centre with its bar"
  },
  "joined": {
    "label": "joined",
    "help": "a line from centre to centre"
  },
  "from zero": {
    "label": "bars from zero",
    "help": "only where zero means none"
  }
} as const;

export const POINTS = {
  "scattered": {
    "label": "jittered at random",
    "help": ""
  },
  "apart": {
    "label": "apart, none over another",
    "help": ""
  },
  "line": {
    "label": "in a line",
    "help": ""
  }
} as const;

export const VIOLINS = {
  "whole": {
    "label": "whole",
    "help": ""
  },
  "half": {
    "label": "half",
    "help": ""
  },
  "ridges": {
    "label": "ridges",
    "help": ""
  },
  "facing": {
    "label": "back to back",
    "help": ""
  }
} as const;

export const SIDES = {
  "both": {
    "label": "both ways",
    "help": ""
  },
  "up": {
    "label": "up only",
    "help": ""
  },
  "down": {
    "label": "down only",
    "help": ""
  }
} as const;

export const LEVEL_LINES = {
  "none": {
    "label": "none",
    "help": ""
  },
  "rows": {
    "label": "through all rows",
    "help": ""
  },
  "centres": {
    "label": "through the centres",
    "help": ""
  }
} as const;

export const GROUP_ORDERS = {
  "levels": {
    "label": "as the levels stand",
    "help": ""
  },
  "centre": {
    "label": "by centre",
    "help": ""
  },
  "n": {
    "label": "by n",
    "help": ""
  },
  "hand": {
    "label": "by hand",
    "help": ""
  }
} as const;

export const ESTIMATE_ORDERS = {
  "table": {
    "label": "as in the table",
    "help": ""
  },
  "estimate": {
    "label": "by estimate",
    "help": ""
  },
  "label": {
    "label": "by label",
    "help": ""
  },
  "hand": {
    "label": "by hand",
    "help": ""
  }
} as const;

export const PAIR_FORMS = {
  "points": {
    "label": "points",
    "help": ""
  },
  "counts": {
    "label": "counts at one place",
    "help": ""
  },
  "hexagons": {
    "label": "hexagons",
    "help": ""
  },
  "cells": {
    "label": "cells",
    "help": ""
  },
  "density": {
    "label": "shades of density",
    "help": ""
  },
  "contours": {
    "label": "contours of density",
    "help": ""
  }
} as const;

export const SHADES = {
  "heron": {
    "label": "blue to plum",
    "help": ""
  },
  "moss": {
    "label": "moss",
    "help": ""
  },
  "ember": {
    "label": "ochre to brown",
    "help": ""
  },
  "lagoon": {
    "label": "green to night",
    "help": ""
  },
  "ink": {
    "label": "greys",
    "help": ""
  }
} as const;

export const WIDTH_RULES = {
  "normal-reference": {
    "label": "normal-reference",
    "help": "SD n^(-1/6): right for one normal cloud, too wide for several"
  },
  "plug-in": {
    "label": "plug-in",
    "help": "from the data's own curvature, each variable by itself; shows several clouds"
  }
} as const;

export const JOINS = {
  "no": {
    "label": "not joined",
    "help": ""
  },
  "x": {
    "label": "in the order of x",
    "help": ""
  },
  "rows": {
    "label": "in the order of rows",
    "help": ""
  }
} as const;

export const LINE_BANDS = {
  "none": {
    "label": "no band",
    "help": ""
  },
  "line": {
    "label": "of the line",
    "help": ""
  },
  "both": {
    "label": "of the line and of one more value",
    "help": ""
  }
} as const;

export const MARGINS = {
  "none": {
    "label": "none",
    "help": ""
  },
  "histograms": {
    "label": "histograms",
    "help": ""
  },
  "densities": {
    "label": "densities",
    "help": ""
  },
  "boxes": {
    "label": "boxes",
    "help": ""
  },
  "rugs": {
    "label": "rugs",
    "help": ""
  }
} as const;

export const DIAGNOSTICS = {
  "residuals": {
    "label": "residuals against fitted",
    "help": ""
  },
  "size": {
    "label": "size of residual against fitted",
    "help": ""
  },
  "qq": {
    "label": "Q-Q plot of residuals",
    "help": ""
  },
  "leverage": {
    "label": "residual against leverage",
    "help": ""
  },
  "order": {
    "label": "by row order",
    "help": ""
  },
  "dfbetas": {
    "label": "DFBETAS of a coefficient",
    "help": ""
  },
  "partial": {
    "label": "partial plot of a coefficient",
    "help": ""
  },
  "fit": {
    "label": "data and fitted line",
    "help": ""
  }
} as const;

export const ROW_MEASURES = {
  "cooks": {
    "label": "Cook's distance",
    "help": ""
  },
  "external": {
    "label": "studentized residual",
    "help": ""
  },
  "leverage": {
    "label": "leverage",
    "help": ""
  },
  "dffits": {
    "label": "DFFITS",
    "help": ""
  },
  "covratio": {
    "label": "covariance ratio",
    "help": ""
  }
} as const;

export const RULE_FORMS = {
  "rows": {
    "label": "by row",
    "help": ""
  },
  "lanes": {
    "label": "in lanes of the levels",
    "help": ""
  }
} as const;

export const CONTROL_PLOTS = {
  "centres": {
    "label": "values or means",
    "help": ""
  },
  "spreads": {
    "label": "their spread",
    "help": ""
  }
} as const;

export const PAIR_PLOTS = {
  "pairs": {
    "label": "the pairs",
    "help": ""
  },
  "residuals": {
    "label": "what the lines leave",
    "help": ""
  }
} as const;

export const QUANTILE_BANDS = {
  "pointwise": {
    "label": "at each point",
    "help": ""
  },
  "simultaneous": {
    "label": "over all points",
    "help": ""
  }
} as const;

export const CLOSED_SIDES = {
  "left": {
    "label": "left, [a, b)",
    "help": ""
  },
  "right": {
    "label": "right, (a, b]",
    "help": ""
  }
} as const;

export const TIME_UNITS = {
  "second": {
    "label": "second",
    "help": ""
  },
  "minute": {
    "label": "minute",
    "help": ""
  },
  "hour": {
    "label": "hour",
    "help": ""
  },
  "day": {
    "label": "day",
    "help": ""
  },
  "week": {
    "label": "week",
    "help": ""
  },
  "month": {
    "label": "month",
    "help": ""
  },
  "quarter": {
    "label": "quarter",
    "help": ""
  },
  "year": {
    "label": "year",
    "help": ""
  }
} as const;

export const NUMBER_STYLES = {
  "space-point": {
    "thousands": " ",
    "decimal": ".",
    "least": 5
  },
  "space-comma": {
    "thousands": " ",
    "decimal": ",",
    "least": 5
  },
  "comma-point": {
    "thousands": ",",
    "decimal": ".",
    "least": 4
  },
  "point-comma": {
    "thousands": ".",
    "decimal": ",",
    "least": 4
  },
  "apostrophe-point": {
    "thousands": "’",
    "decimal": ".",
    "least": 4
  },
  "none-point": {
    "thousands": "",
    "decimal": ".",
    "least": 4
  },
  "none-comma": {
    "thousands": "",
    "decimal": ",",
    "least": 4
  }
} as const;
