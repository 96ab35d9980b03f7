"""Grubbs' test of the farthest value."""

import math
from dataclasses import replace

import numpy as np
from scipy import special

from heron.checks import Checked, within
from heron.outliers.rules.flags import (
    FLAT,
    LEVEL,
    Flags,
    OutlierRule,
    flags_of,
    mean_and_sd,
    nothing_flagged,
    standardized,
)


def _flag(checked: Checked, level: float = 0.05) -> Flags:
    within(level, above=0, below=1, where="level")
    mean, sd = mean_and_sd(checked)
    n = checked.n
    if n < 3 or sd == 0:
        return nothing_flagged("grubbs", checked, "It needs 3 values." if n < 3 else FLAT)
    z = standardized(checked, mean, sd)
    far = int(np.argmax(np.abs(z)))
    t = float(special.stdtrit(n - 2, 1 - level / (2 * n)))
    critical = (n - 1) / math.sqrt(n) * math.sqrt(t * t / (n - 2 + t * t))
    left = max((n - 1) ** 2 - n * z[far] ** 2, 0.0)
    studentized = math.sqrt(n * (n - 2) * z[far] ** 2 / left) if left > 0 else math.inf
    p = min(1.0, 2 * n * float(special.stdtr(n - 2, -studentized)))
    beyond = np.zeros(n, dtype=bool)
    beyond[far] = abs(z[far]) > critical
    result = flags_of("grubbs", checked, z, beyond, 0, 0, critical)
    others = int(np.count_nonzero(np.abs(np.delete(z, far)) > 0.9 * abs(z[far]))) if n < 1_000_000 else 0
    masked = () if not others else ("Another value lies nearly as far: two such values can hide each other.",)
    return replace(result, low=None, high=None, p_value=p, cautions=masked)


GRUBBS = OutlierRule(
    id="grubbs",
    label="Grubbs' test",
    help="Assumes that all values but one are normal; it tests only the farthest, and two can hide each other.",
    definition="The farthest value in SDs against (n − 1)/√n · √(t²/(n − 2 + t²)), t at level/(2n) with n − 2 degrees "
    "of freedom; level 0.05 unless chosen otherwise.",
    caption="Grubbs' test at {percent}",
    methods="rows were screened by Grubbs' test at {percent}",
    sources=("grubbs-1969",),
    options=(LEVEL,),
    rank=40,
    compute=_flag,
)
