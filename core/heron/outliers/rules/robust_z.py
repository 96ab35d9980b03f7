"""Distances from the median in MADs."""

import numpy as np

from heron.checks import Checked
from heron.outliers.rules.flags import EMPTY, Flags, OutlierRule, flags_of, nothing_flagged
from heron.quantiles import of_sorted

_ROBUST_Z = 3.5
_AS_PUBLISHED = 0.6745  # rounded in the source, with the limit of 3.5 set for it


def _flag(checked: Checked) -> Flags:
    if checked.n == 0:
        return nothing_flagged("robust-z", checked, EMPTY)
    top = float(np.abs(checked.values).max()) or 1.0  # so that no difference overflows
    scaled = checked.values / top
    median = float(of_sorted(np.sort(scaled), np.array([0.5]), 7)[0])
    off = scaled - median
    mad = float(of_sorted(np.sort(np.abs(off)), np.array([0.5]), 7)[0])
    if mad == 0:
        return nothing_flagged("robust-z", checked, "The MAD is 0: half the values are the same.")
    reach = _ROBUST_Z * mad / _AS_PUBLISHED
    z = _AS_PUBLISHED * off / mad
    low, high = (median - reach) * top, (median + reach) * top
    return flags_of("robust-z", checked, z, np.abs(z) > _ROBUST_Z, low, high, _ROBUST_Z)


ROBUST_Z = OutlierRule(
    id="robust-z",
    label="robust z",
    help="Assumes a symmetric middle; half the values may be wrong before it fails.",
    definition="0.6745 (x − median)/MAD beyond 3.5; none where the MAD is 0.",
    caption="a robust z beyond 3.5",
    methods="rows were screened by robust z scores beyond 3.5",
    sources=("iglewicz-hoaglin-1993",),
    rank=30,
    compute=_flag,
    settled=True,
)
