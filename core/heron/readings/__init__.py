"""Questions about a table in one of its states, each answered by one function from its variables."""

from heron.readings.cancellation import Cancellation
from heron.readings.subject import Numbers, Subject, numbers_of, series_of, subject_of, used_of
from heron.readings.words import Sentence, words_on_shape

__all__ = [
    "Cancellation",
    "Numbers",
    "Sentence",
    "Subject",
    "numbers_of",
    "series_of",
    "subject_of",
    "used_of",
    "words_on_shape",
]
