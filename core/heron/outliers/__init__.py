"""Values and rows that deserve a second look: rules for one variable, and robust distances over several."""

from heron.outliers.distances import Distances, Middle, middle_of, robust_distances
from heron.outliers.medcouple import medcouple
from heron.outliers.report import Decided, decided_words, report
from heron.outliers.rules import OPTIONS, RULES, USUAL, EsdStep, Flags, OutlierRule, Rule, Verdict, flag_outliers
from heron.outliers.words import FEW_FLAGGED, FlagCounts, words_on_distances, words_on_far_rows, words_on_flags

__all__ = [
    "FEW_FLAGGED",
    "OPTIONS",
    "RULES",
    "USUAL",
    "Decided",
    "Distances",
    "EsdStep",
    "FlagCounts",
    "Flags",
    "Middle",
    "OutlierRule",
    "Rule",
    "Verdict",
    "decided_words",
    "flag_outliers",
    "medcouple",
    "middle_of",
    "report",
    "robust_distances",
    "words_on_distances",
    "words_on_far_rows",
    "words_on_flags",
]
