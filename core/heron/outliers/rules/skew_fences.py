"""Fences with more room on the longer side of a skewed sample."""

import math
from dataclasses import replace

import numpy as np

from heron.checks import Checked
from heron.outliers.medcouple import medcouple
from heron.outliers.rules.flags import EMPTY, Flags, OutlierRule, between_limits, nothing_flagged
from heron.quantiles import of_sorted


def _flag(checked: Checked) -> Flags:
    if checked.n == 0:
        return nothing_flagged("skew-fences", checked, EMPTY)
    q1, q3 = of_sorted(np.sort(checked.values), np.array([0.25, 0.75]), 7).tolist()
    skew = medcouple(checked.values) or 0.0
    down, up = (-4.0, 3.0) if skew >= 0 else (-3.0, 4.0)
    low, high = (side * 1.5 * math.exp(k * skew) * (q3 - q1) for side, k in ((-1, down), (1, up)))
    result = between_limits("skew-fences", checked, q1, q3, q1 + low, q3 + high, 1.5)
    cautions = () if abs(skew) <= 0.6 else ("The medcouple is beyond 0.6, outside what the rule was made for.",)
    return replace(result, cautions=cautions)


SKEW_FENCES = OutlierRule(
    id="skew-fences",
    label="skew-adjusted fences",
    help="Makes room on the longer side by the medcouple; meant for skewed samples with one peak.",
    definition="Q1 − 1.5 e^(−4 MC) IQR and Q3 + 1.5 e^(3 MC) IQR for a medcouple MC ≥ 0; e^(−3 MC) and e^(4 MC) below "
    "0. The medcouple is the median of ((b − m) − (m − a))/(b − a) over pairs about the median m.",
    caption="fences adjusted for skewness by the medcouple",
    methods="rows were screened by fences adjusted for skewness",
    sources=("brys-2004", "hubert-vandervieren-2008"),
    rank=60,
    compute=_flag,
    settled=True,
)
