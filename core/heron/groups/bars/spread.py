"""The spread of groups, where it is what is compared: their SDs with bootstrap intervals."""

import numpy as np

from heron import resampling, summary
from heron.checks import Floats
from heron.groups.bars.records import LEVEL, BarChoice, CentreChoice, Ends, Sample


def _sds(x: Floats, _trim: float = 0.0) -> Floats:
    """(n_resamples,) the SD of each resample, without overflow."""
    top = float(np.abs(x).max()) or 1.0
    return np.asarray((x / top).std(axis=1, ddof=1) * top)


def _sd(numbers: summary.Summary) -> float | None:
    return numbers.sd


def _ends(sample: Sample) -> Ends | None:
    sds = resampling.resampled(sample.values, _sds, seed=sample.seed, progress=sample.progress)
    # On a scale of its own, on which no square overflows; the acceleration has no unit.
    left = resampling.sd_without_each(sample.values / (float(np.abs(sample.values).max()) or 1.0))
    return resampling.bca(float(_sds(sample.values[None, :])[0]), left, sds, sample.level)


SD_OF_GROUP = CentreChoice(
    id="sd",
    label="SD",
    help="How far values scatter, where that is what is compared; the values themselves are not drawn.",
    definition="√(Σ(x − mean)²/(n − 1)).",
    caption="SD",
    methods="groups are shown by their standard deviations",
    rank=50,
    middle=_sd,
    lacking="It needs 2 values.",
    bars="sd-interval",
    among_values=False,
    code="np.std(known, ddof=1)",
)
SD_INTERVAL = BarChoice(
    id="sd-interval",
    label="bootstrap interval of the SD",
    help="Where the SD of the population lies, without a normal shape; by resampling.",
    definition="9,999 resamples with the seed kept; bias-corrected and accelerated.",
    caption="the {percent} bootstrap interval of the SD",
    methods="bars are {percent} bias-corrected and accelerated bootstrap intervals of the SD (9\u202f999 resamples)",
    sources=("efron-1987",),
    options=(LEVEL,),
    rank=110,
    fits=("sd",),
    ends=_ends,
    least=3,
    estimates=True,
    seeded=True,
)
