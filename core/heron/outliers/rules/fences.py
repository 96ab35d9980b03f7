"""Fences: values far beyond the quartiles, counted in IQRs."""

from typing import Any

import numpy as np

from heron.checks import choose
from heron.choices import Option
from heron.errors import InputError
from heron.formatting import significant
from heron.ordered import Ordered
from heron.outliers.rules.flags import OutlierRule, Verdict, between, judged
from heron.quantiles import DEFINITION_WORDS, DEFINITIONS, of_sorted


def _judge(ordered: Ordered, reach: float = 1.5, quantile_definition: Any = 7) -> Verdict:
    choose(quantile_definition, DEFINITIONS, where="quantile_definition")
    if not reach >= 0:
        raise InputError("out-of-range", f"reach must be 0 or more; it is {significant(reach)}.", where="reach")
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), quantile_definition).tolist()
    inner = reach * (q3 - q1)
    return between(q1, q3, q1 - inner, q3 + inner, reach)


FENCES = OutlierRule(
    id="fences",
    label="fences",
    help="Assumes little: about 0.7 % of a normal sample lies beyond, and far more of a skewed one.",
    definition="Strictly beyond Q1 − 1.5 IQR or Q3 + 1.5 IQR, reach and quantile definition as chosen. Scored in IQRs "
    "from the nearer quartile.",
    caption="fences at {reach:g} IQR (quartiles: {quantile_definition})",
    methods="rows were screened by fences at {reach:g} interquartile ranges beyond the quartiles",
    sources=("tukey-1977",),
    options=(
        Option("reach", "Reach in IQRs", 1.5, 0, 100),
        Option("quantile_definition", "Quartiles", 7, words=DEFINITION_WORDS),
    ),
    rank=10,
    compute=judged("fences", _judge),
    judge=_judge,
)
