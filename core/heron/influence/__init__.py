"""A fitted linear relation: its coefficients, and what each row does to them."""

from heron.influence.design import Design, Terms, check_levels, check_rank, check_size, design_of, predictor_of
from heron.influence.fit import (
    Base,
    Cutoffs,
    Diagnosis,
    LinearFit,
    RowMeasures,
    RowSums,
    added_variable,
    base_of,
    cutoffs_of,
    diagnose_fit,
    fit_of,
    measured,
    measured_rows,
)
from heron.influence.refit import Pulled, refit_of, refit_without
from heron.influence.words import report, words_on_fit

__all__ = [
    "Base",
    "Cutoffs",
    "Design",
    "Diagnosis",
    "LinearFit",
    "Pulled",
    "RowMeasures",
    "RowSums",
    "Terms",
    "added_variable",
    "base_of",
    "check_levels",
    "check_rank",
    "check_size",
    "cutoffs_of",
    "design_of",
    "diagnose_fit",
    "fit_of",
    "measured",
    "measured_rows",
    "predictor_of",
    "refit_of",
    "refit_without",
    "report",
    "words_on_fit",
]
