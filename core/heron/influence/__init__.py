"""A fitted linear relation: its coefficients, and what each row does to them."""

from heron.influence.design import Design, design_of
from heron.influence.fit import Cutoffs, Diagnosis, diagnose_fit, measured, partial
from heron.influence.refit import Pulled, refit_without
from heron.influence.words import report, words_on_fit

__all__ = [
    "Cutoffs",
    "Design",
    "Diagnosis",
    "Pulled",
    "design_of",
    "diagnose_fit",
    "measured",
    "partial",
    "refit_without",
    "report",
    "words_on_fit",
]
