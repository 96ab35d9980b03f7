"""How far, and how surely, a variable departs from a normal distribution."""

from heron.normality.checks import (
    TESTS,
    Normality,
    TestChoice,
    TestResult,
    check_normality,
    check_of_ordered,
    shapiro_of_ordered,
    shapiro_wilk,
)
from heron.normality.curve import NormalCurve, curve
from heron.normality.families import FAMILIES, Family, FamilyChoice, Fitted, fit_family, percent_points
from heron.normality.lineup import LineUp, line_up
from heron.normality.many import holm
from heron.normality.plot import QQ, SIMULATED_UP_TO, LargeBand, large_band, quantile_plot
from heron.normality.scores import blom_score, blom_scores

__all__ = [
    "FAMILIES",
    "QQ",
    "SIMULATED_UP_TO",
    "TESTS",
    "Family",
    "FamilyChoice",
    "Fitted",
    "LargeBand",
    "LineUp",
    "NormalCurve",
    "Normality",
    "TestChoice",
    "TestResult",
    "blom_score",
    "blom_scores",
    "check_normality",
    "check_of_ordered",
    "curve",
    "fit_family",
    "holm",
    "large_band",
    "line_up",
    "percent_points",
    "quantile_plot",
    "shapiro_of_ordered",
    "shapiro_wilk",
]
