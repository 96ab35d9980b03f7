"""The score interval of a share."""

import math

from scipy import special

from heron.groups.bars.records import LEVEL, BarChoice


def wilson(successes: float, n: int, level: float = 0.95) -> tuple[float, float]:
    """The score interval of a share. References: wilson-1927; newcombe-1998."""
    if n == 0:
        return 0.0, 1.0
    z = float(special.ndtri(0.5 + level / 2))
    share = successes / n
    middle = (share + z * z / (2 * n)) / (1 + z * z / n)
    reach = z / (1 + z * z / n) * math.sqrt(share * (1 - share) / n + z * z / (4 * n * n))
    # Where none is one, or all are, the interval begins or ends there; rounding would leave a little.
    low = 0.0 if successes == 0 else max(middle - reach, 0.0)
    return low, 1.0 if successes == n else min(middle + reach, 1.0)


WILSON_INTERVAL = BarChoice(
    id="wilson-interval",
    label="Wilson interval",
    help="Where the share of the population lies; right for few answers and near 0 or 1 too.",
    definition="The score interval of a share.",
    caption="the {percent} Wilson interval",
    methods="shares have {percent} score intervals",
    sources=("wilson-1927", "newcombe-1998"),
    options=(LEVEL,),
    rank=100,
    fits=("share",),
    ends=lambda sample: wilson(sample.summary.total or 0.0, sample.ordered.size, sample.level),
)
