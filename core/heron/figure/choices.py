"""The ways in which a panel can be drawn: their names, for whoever chooses.

What is worked out has its record beside the function that works it out.
"""

from heron.choices import displays

AXIS_SCALES = displays(
    {
        "linear": ("linear", "equal steps are equal differences"),
        "log": ("logarithmic", "equal steps are equal ratios"),
    }
)
MEASURES = displays(
    {
        "density": ("density", "area 1"),
        "counts": ("counts", "rows in each class"),
        "percents": ("percent", "of the rows used"),
    }
)
SHAPE_LAYERS = displays(
    {
        "classes": ("classes", "bars of a histogram; a class is also called a bin"),
        "density": ("density", "a smooth curve of area 1"),
        "normal": ("normal", "the normal curve of the same mean and SD"),
        "bumps": ("bumps", "what each value adds to the density"),
        "rug": ("rug", "a stroke at each value"),
        "box": ("box", "quartiles, median, whiskers"),
        "violin": ("violin", "the density and its mirror image"),
        "points": ("points", "each value"),
        "limits": ("limits", "specification limits and target"),
    }
)
BOX_MARKS = displays(
    {
        "fences": "fences, inner and outer",
        "notch": "notch: median ± 1.57 IQR/√n, to compare two medians by",
        "mean": "mean, as a diamond",
        "widths": "width by the root of n",
    }
)
FORMS = displays(
    {"lanes": "in lanes", "ridges": "as ridges", "overlay": "one over the other", "facing": "back to back"}
)
SCALINGS = displays(
    {
        "area": ("equal area", "each level counts alike"),
        "height": ("equal height", "shapes alone are compared"),
        "count": ("area by count", "as many rows, as much area"),
    }
)
CUMULATIVE_LINES = displays({"polygon": "polygon of the classes", "steps": "each value"})
ORDER_MARKS = displays(
    {
        "joined": ("joined", "a line from value to value"),
        "quartiles": ("quartiles", "the middle half of all values"),
        "run": ("run", "the longest run on one side of the median"),
        "jumps": ("jumps", "unusually large steps"),
        "limits": ("limits", "specification limits and target"),
    }
)
QUANTILE_PLOTS = displays({"quantiles": "Q-Q plot", "off the line": "detrended Q-Q plot", "shares": "P-P plot"})
GROUP_MARKS = displays(
    {
        "points": ("points", "each value"),
        "violin": ("violin", "the density"),
        "box": ("box", "quartiles, median, whiskers"),
        "centre": ("centre", "the centre with its bar"),
        "joined": ("joined", "a line from centre to centre"),
        "from zero": ("bars from zero", "only where zero means none"),
    }
)
POINTS = displays(
    {"scattered": "jittered at random", "apart": "apart, none over another", "line": "in a line"}
)  # fmt: skip
VIOLINS = displays({"whole": "whole", "half": "half", "ridges": "ridges", "facing": "back to back"})
SIDES = displays({"both": "both ways", "up": "up only", "down": "down only"})
LEVEL_LINES = displays({"none": "none", "rows": "through all rows", "centres": "through the centres"})
GROUP_ORDERS = displays({"levels": "as the levels stand", "centre": "by centre", "n": "by n", "hand": "by hand"})
ESTIMATE_ORDERS = displays(
    {"table": "as in the table", "estimate": "by estimate", "label": "by label", "hand": "by hand"}
)
PAIR_FORMS = displays(
    {
        "points": "points",
        "counts": "counts at one place",
        "hexagons": "hexagons",
        "cells": "cells",
        "density": "shades of density",
        "contours": "contours of density",
    }
)
SHADES = displays(
    {"heron": "blue to plum", "moss": "moss", "ember": "ochre to brown", "lagoon": "green to night", "ink": "greys"}
)
WIDTH_RULES = displays(
    {
        "normal-reference": ("normal-reference", "SD n^(-1/6): right for one normal cloud, too wide for several"),
        "plug-in": ("plug-in", "from the data's own curvature, each variable by itself; shows several clouds"),
    }
)
JOINS = displays({"no": "not joined", "x": "in the order of x", "rows": "in the order of rows"})
LINE_BANDS = displays({"none": "no band", "line": "of the line", "both": "of the line and of one more value"})
MARGINS = displays(
    {"none": "none", "histograms": "histograms", "densities": "densities", "boxes": "boxes", "rugs": "rugs"}
)
DIAGNOSTICS = displays(
    {
        "residuals": "residuals against fitted",
        "size": "size of residual against fitted",
        "qq": "Q-Q plot of residuals",
        "leverage": "residual against leverage",
        "order": "by row order",
        "dfbetas": "DFBETAS of a coefficient",
        "partial": "partial plot of a coefficient",
        "fit": "data and fitted line",
    }
)
ROW_MEASURES = displays(
    {
        "cooks": "Cook's distance",
        "external": "studentized residual",
        "leverage": "leverage",
        "dffits": "DFFITS",
        "covratio": "covariance ratio",
    }
)
RULE_FORMS = displays({"rows": "by row", "lanes": "in lanes of the levels"})
CONTROL_PLOTS = displays({"centres": "values or means", "spreads": "their spread"})
PAIR_PLOTS = displays({"pairs": "the pairs", "residuals": "what the lines leave"})
QUANTILE_BANDS = displays({"pointwise": "at each point", "simultaneous": "over all points"})
CLOSED_SIDES = displays({"left": "left, [a, b)", "right": "right, (a, b]"})
TIME_UNITS = displays(
    {unit: unit for unit in ("second", "minute", "hour", "day", "week", "month", "quarter", "year")}
)  # fmt: skip
