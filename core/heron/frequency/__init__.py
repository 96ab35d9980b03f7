"""Counts: of each value, and of classes of a continuous variable."""

from heron.frequency.classes import (
    MOST_CLASSES,
    Classes,
    CrossCounts,
    CrossRow,
    Usual,
    ValueCount,
    ValueCounts,
    class_labels,
    classes_of_ordered,
    classify,
    count_values,
    cross_counts,
    interval_labels,
    places,
    usual,
    usual_of_ordered,
)
from heron.frequency.rules import CLASS_RULES, USUAL, ClassChoice, ClassRule

__all__ = [
    "CLASS_RULES",
    "MOST_CLASSES",
    "USUAL",
    "ClassChoice",
    "ClassRule",
    "Classes",
    "CrossCounts",
    "CrossRow",
    "Usual",
    "ValueCount",
    "ValueCounts",
    "class_labels",
    "classes_of_ordered",
    "classify",
    "count_values",
    "cross_counts",
    "interval_labels",
    "places",
    "usual",
    "usual_of_ordered",
]
