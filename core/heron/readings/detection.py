"""A variable of which some values are only known to lie below a limit."""

from dataclasses import dataclass

import numpy as np

from heron.detection import BelowDetection, below_detection, words_on_detection
from heron.ledger import VariableView
from heron.readings.subject import Numbers, Subject, numbers_of, subject_of
from heron.variables import limits_in


@dataclass(frozen=True)
class DetectionReading:
    """What is said of all values, those below a limit with them."""

    subject: Subject
    found: BelowDetection
    words: tuple[str, ...]


def below(numbers: Numbers) -> BelowDetection:
    """What can be said of all values of a variable, whatever stands for those below a limit."""
    limits = limits_in(numbers.column)
    limits = limits if numbers.at is None else limits[numbers.at]
    return below_detection(np.where(np.isnan(limits), numbers.values, np.nan), limits)


def detection_reading(variable: VariableView) -> DetectionReading:
    found = below(numbers_of(variable))
    return DetectionReading(subject_of(variable), found, words_on_detection(found))
