"""A routine: the decisions that stand, as steps that can be taken again on another table."""

from heron.routine.fit import Conflict, Known, conflicts, fitted
from heron.routine.steps import Step, as_decisions, digest, steps_of
from heron.routine.words import derivation_words, described_words, description_words, words_of

__all__ = [
    "Conflict",
    "Known",
    "Step",
    "as_decisions",
    "conflicts",
    "derivation_words",
    "described_words",
    "description_words",
    "digest",
    "fitted",
    "steps_of",
    "words_of",
]
