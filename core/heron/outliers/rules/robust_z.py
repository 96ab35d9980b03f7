"""Distances from the median in MADs."""

import math

from heron.checks import TOO_LARGE_TO_WRITE
from heron.ordered import Ordered
from heron.outliers.rules.flags import OutlierRule, Verdict, judged
from heron.summary import median_and_mad

_ROBUST_Z = 3.5
_AS_PUBLISHED = 0.6745  # rounded in the source, with the limit of 3.5 set for it


def _judge(ordered: Ordered) -> Verdict:
    median, mad = median_and_mad(ordered)
    if mad == 0:
        return Verdict(why="The MAD is 0: half the values are the same.")
    if math.isinf(mad):
        return Verdict(why=f"The MAD has no number. {TOO_LARGE_TO_WRITE}")
    reach = _ROBUST_Z / _AS_PUBLISHED * mad
    return Verdict(median, median, mad / _AS_PUBLISHED / 2, median - reach, median + reach, _ROBUST_Z)


ROBUST_Z = OutlierRule(
    id="robust-z",
    label="robust z",
    help="Assumes a symmetric middle; half the values may be wrong before it fails.",
    definition="0.6745 (x − median)/MAD beyond 3.5; none where the MAD is 0.",
    caption="a robust z beyond 3.5",
    methods="rows were screened by robust z scores beyond 3.5",
    sources=("iglewicz-hoaglin-1993",),
    rank=30,
    compute=judged("robust-z", _judge),
    judge=_judge,
)
