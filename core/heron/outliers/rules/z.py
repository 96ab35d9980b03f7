"""Distances from the mean in SDs."""

import math

from heron.formatting import fixed
from heron.ordered import Ordered, ends, mean_and_sd
from heron.outliers.rules.flags import FLAT, OutlierRule, Verdict, judged

_Z = 3.0


def _judge(ordered: Ordered) -> Verdict:
    low, high = ends(ordered)
    mean, sd = mean_and_sd(ordered) if low < high else (low, 0.0)
    if sd == 0:
        return Verdict(why=FLAT)
    n = ordered.size
    most = (n - 1) / math.sqrt(n)
    cautions = () if most > _Z else (f"With {n} values z cannot exceed {fixed(most, 2)}, so that it flags none.",)
    return Verdict(mean, mean, sd / 2, mean - _Z * sd, mean + _Z * sd, _Z, cautions=cautions)


Z = OutlierRule(
    id="z",
    label="z",
    help="Assumes a normal distribution; far values widen the SD and hide themselves, and z cannot exceed (n - 1)/√n.",
    definition="|x − mean|/SD above 3; it cannot exceed (n − 1)/√n.",
    caption="|z| above 3",
    methods="rows were screened by z scores beyond 3",
    sources=("shiffler-1988",),
    rank=20,
    compute=judged("z", _judge),
    judge=_judge,
)
