"""The generalized ESD test of several values."""

import math

import numpy as np
from scipy import special

from heron.checks import Checked, Floats, within
from heron.choices import Option
from heron.outliers.rules.flags import FLAT, LEVEL, EsdStep, Flags, OutlierRule, mean_and_sd, nothing_flagged


def _flag(checked: Checked, suspects: int = 10, level: float = 0.05) -> Flags:
    within(level, above=0, below=1, where="level")
    within(suspects, above=0, below=10_001, where="suspects")
    n = checked.n
    if n < 3:
        return nothing_flagged("esd", checked, "It needs 3 values.")
    if mean_and_sd(checked)[1] == 0:
        return nothing_flagged("esd", checked, FLAT)
    taken = min(int(suspects), n - 2)
    order = np.argsort(checked.values, kind="stable")
    # From the middle value, which is exact however far from 0 they lie; halved, so that nothing runs over.
    ordered = checked.values[order] / 2
    ordered = ordered - ordered[n // 2]
    ordered = ordered / float(np.abs(ordered).max())
    low, high, (mean, squares) = 0, n - 1, _moments(ordered)
    steps, scores = [], np.full(checked.length, np.nan)
    for i in range(taken):
        left = n - i
        sd = math.sqrt(squares / (left - 1))
        if sd == 0:
            break
        at = high if ordered[high] - mean >= mean - ordered[low] else low
        statistic = abs(ordered[at] - mean) / sd
        t = float(special.stdtrit(left - 2, 1 - level / (2 * left)))
        critical = (left - 1) * t / math.sqrt((left - 2 + t * t) * left)
        row = int(checked.positions[order[at]])
        steps.append(EsdStep(row, float(statistic), critical))
        scores[row] = math.copysign(statistic, ordered[at] - mean)
        low, high = (low, high - 1) if at == high else (low + 1, high)
        off = float(ordered[at]) - mean
        without = mean - off / (left - 1)
        less = squares - off * (float(ordered[at]) - without)
        # What a far value leaves of the sum is what rounding left: then the rest are summed again.
        mean, squares = (without, less) if less > squares / 2 else _moments(ordered[low : high + 1])
    last = max((i + 1 for i, step in enumerate(steps) if step.statistic > step.critical), default=0)
    flagged = np.sort(np.array([step.row for step in steps[:last]], dtype=np.int64))
    cautions = [] if n >= 25 else [f"It is advised from 25 values; there are {n}."]
    if last == taken and last:
        cautions.append(f"All {taken} suspects are flagged: there may be more, so raise their number.")
    if last and any(step.statistic <= step.critical for step in steps[:last]):
        cautions.append("A single test would have stopped early: far values hid each other.")
    cutoff = steps[max(last - 1, 0)].critical if steps else None
    return Flags("esd", flagged, scores, None, None, cutoff, None, tuple(steps), tuple(cautions), n, checked.n_missing)


def _moments(values: Floats) -> tuple[float, float]:
    """The mean, and the sum of squares about it."""
    mean = float(values.mean())
    off = values - mean
    return mean, float(np.dot(off, off))


ESD = OutlierRule(
    id="esd",
    label="generalized ESD test",
    help="Assumes that all but at most k values are normal; advised from 25 values.",
    definition="Grubbs' measure for up to k suspects, each taken out before the next; as many are flagged as the last "
    "step that exceeds its limit.",
    caption="the generalized ESD test for up to {suspects:g} values at {percent}",
    methods="rows were screened by the generalized ESD test for up to {suspects:g} values at {percent}",
    sources=("rosner-1983",),
    options=(Option("suspects", "Suspects", 10, 1, 1_000, whole=True), LEVEL),
    rank=50,
    compute=_flag,
)
