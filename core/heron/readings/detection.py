"""A variable of which some values are only known to lie below a limit."""

from dataclasses import dataclass

import numpy as np

from heron.detection import BelowDetection, below_detection, words_on_detection
from heron.ledger import VariableView
from heron.readings.subject import Subject, numbers_of, subject_of
from heron.variables import limits_in


@dataclass(frozen=True)
class DetectionReading:
    """What is said of all values, those below a limit with them."""

    subject: Subject
    found: BelowDetection
    words: tuple[str, ...]


def detection_reading(variable: VariableView) -> DetectionReading:
    numbers = numbers_of(variable)
    limits = limits_in(numbers.column)
    limits = limits if numbers.at is None else limits[numbers.at]
    found = below_detection(np.where(np.isnan(limits), numbers.values, np.nan), limits)
    return DetectionReading(subject_of(variable), found, words_on_detection(found))
