"""Fences with more room on the longer side of a skewed sample."""

import math

import numpy as np

from heron.formatting import grouped
from heron.ordered import Ordered
from heron.outliers.medcouple import medcouple
from heron.outliers.rules.flags import OutlierRule, Verdict, between, judged
from heron.quantiles import of_sorted

_MOST_PAIRED = 2_000_000
_RANKS = 10_001


def _judge(ordered: Ordered) -> Verdict:
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7).tolist()
    n, cautions = ordered.size, []
    ranks = np.arange(n)
    if n > _MOST_PAIRED:
        ranks = np.rint(np.linspace(0, n - 1, _RANKS)).astype(np.int64)
        cautions.append(f"The medcouple is of {grouped(_RANKS)} values at even ranks.")
    skew = medcouple(ordered[ranks]) or 0.0
    down, up = (-4.0, 3.0) if skew >= 0 else (-3.0, 4.0)
    low, high = (side * 1.5 * math.exp(k * skew) * (q3 - q1) for side, k in ((-1, down), (1, up)))
    if abs(skew) > 0.6:
        cautions.append("The medcouple is beyond 0.6, outside what the rule was made for.")
    return between(q1, q3, q1 + low, q3 + high, 1.5, tuple(cautions))


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
    compute=judged("skew-fences", _judge),
    judge=_judge,
)
