"""Distances from the mean in SDs."""

import math
from dataclasses import replace

import numpy as np

from heron.checks import Checked
from heron.outliers.rules.flags import FLAT, Flags, OutlierRule, flags_of, mean_and_sd, nothing_flagged, standardized

_Z = 3.0


def _flag(checked: Checked) -> Flags:
    mean, sd = mean_and_sd(checked)
    if sd == 0:
        return nothing_flagged("z", checked, FLAT)
    z = standardized(checked, mean, sd)
    most = (checked.n - 1) / math.sqrt(checked.n)
    result = flags_of("z", checked, z, np.abs(z) > _Z, mean - _Z * sd, mean + _Z * sd, _Z)
    if most > _Z:
        return result
    return replace(result, cautions=(f"With {checked.n} values z cannot exceed {most:.2f}, so that it flags none.",))


Z = OutlierRule(
    id="z",
    label="z",
    help="Assumes a normal distribution; far values widen the SD and hide themselves, and z cannot exceed (n - 1)/√n.",
    definition="|x − mean|/SD above 3; it cannot exceed (n − 1)/√n.",
    caption="|z| above 3",
    methods="rows were screened by z scores beyond 3",
    sources=("shiffler-1988",),
    rank=20,
    compute=_flag,
    settled=True,
)
