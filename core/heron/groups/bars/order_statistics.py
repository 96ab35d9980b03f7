"""The interval of the median by order statistics."""

from heron.groups.bars.records import LEVEL, BarChoice, Ends, Sample


def _ends(sample: Sample) -> Ends | None:
    low, high = sample.summary.median_low, sample.summary.median_high
    return None if low is None or high is None else (low, high)


MEDIAN_INTERVAL = BarChoice(
    id="median-interval",
    label="interval of the median",
    help="Where the median of the population lies, whatever the shape; from 6 values at 95 %.",
    definition="From order statistics x(k) to x(n + 1 − k) whose exact coverage is at least the level.",
    caption="the {percent} interval of the median",
    methods="bars are {percent} intervals of the median by order statistics",
    sources=("hahn-meeker-1991",),
    options=(LEVEL,),
    rank=80,
    fits=("median",),
    ends=_ends,
)
