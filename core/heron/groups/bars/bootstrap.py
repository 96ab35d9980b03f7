"""Bars by resampling."""

import math

import numpy as np

from heron import resampling, summary
from heron.groups.bars.records import LEVEL, OF_VALUES, BarChoice, Ends, Sample


def _ends(sample: Sample) -> Ends | None:
    statistic = sample.centre.resampled
    if statistic is None:
        return None
    # Over a power of two near the largest, so that no sum overflows and no digit is lost.
    top = (
        1.0 if sample.centre.on_logs else math.ldexp(1.0, math.frexp(float(np.abs(sample.values).max()) or 1.0)[1] - 1)
    )
    values = np.log(sample.values) if sample.centre.on_logs else sample.values / top
    resamples = resampling.resampled(
        values, lambda x: statistic(x, sample.trim), seed=sample.seed, progress=sample.progress
    )
    if sample.centre.id == "median":  # leaving a value out says nothing of how it varies
        low, high = resampling.percentile(resamples, sample.level)
        return low * top, high * top
    left = sample.centre.without_each(values, sample.trim)
    ends = resampling.bca(float(statistic(values[None, :], sample.trim)[0]), left, resamples, sample.level)
    if ends is None:
        return None
    if not sample.centre.on_logs:
        return ends[0] * top, ends[1] * top
    return summary.exponential(ends[0]), summary.exponential(ends[1])


BOOTSTRAP_INTERVAL = BarChoice(
    id="bootstrap-interval",
    label="bootstrap interval",
    help="Where the centre of the population lies, without a normal shape; by resampling.",
    definition="9,999 resamples with the seed kept; bias-corrected and accelerated, by percentiles for the median.",
    caption="the {percent} bootstrap interval",
    methods="bars are {percent} bootstrap intervals of the {centre} (9\u202f999 resamples)",
    sources=("efron-1987",),
    options=(LEVEL,),
    rank=40,
    fits=OF_VALUES,
    ends=_ends,
    least=2,
    estimates=True,
    seeded=True,
)
