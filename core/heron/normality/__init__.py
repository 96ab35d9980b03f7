"""How far, and how surely, a variable departs from a normal distribution."""

from heron.normality.checks import TESTS, Normality, TestChoice, TestResult, check_normality, shapiro_wilk
from heron.normality.curve import NormalCurve, curve
from heron.normality.families import FAMILIES, Family, FamilyChoice, Fitted, fit_family, percent_points
from heron.normality.lineup import LineUp, line_up
from heron.normality.many import holm
from heron.normality.plot import QQ, quantile_plot
from heron.normality.scores import blom_scores

__all__ = [
    "FAMILIES",
    "QQ",
    "TESTS",
    "Family",
    "FamilyChoice",
    "Fitted",
    "LineUp",
    "NormalCurve",
    "Normality",
    "TestChoice",
    "TestResult",
    "blom_scores",
    "check_normality",
    "curve",
    "fit_family",
    "holm",
    "line_up",
    "percent_points",
    "quantile_plot",
    "shapiro_wilk",
]
