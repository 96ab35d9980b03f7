"""Bars by the standard deviation about the mean, on logs about the geometric mean."""

import math

from scipy import special

from heron import summary
from heron.groups.bars.records import LEVEL, BarChoice, Ends, Sample
from heron.ordered import sd_of

_FITS = ("mean", "geometric-mean")


def _sd(sample: Sample) -> float:
    """The SD of the values, or of their logs."""
    if not sample.centre.on_logs:
        return sd_of(sample.ordered)
    logs = sample.ordered.log_moments()
    return math.sqrt(logs.m2 / (logs.n - 1))


def _about(sample: Sample, reach: float) -> Ends:
    if not sample.centre.on_logs:
        return sample.middle - reach, sample.middle + reach
    middle = sample.ordered.log_moments().mean
    return summary.exponential(middle - reach), summary.exponential(middle + reach)


def _t(sample: Sample) -> float:
    return float(special.stdtrit(sample.ordered.size - 1, 0.5 + sample.level / 2))


SD = BarChoice(
    id="sd",
    label="SD",
    help="How values scatter about their mean.",
    definition="Centre ± SD; of logs about the geometric mean, and then not symmetric.",
    caption="one SD to each side",
    methods="bars show one standard deviation to each side of the {centre}",
    rank=10,
    fits=_FITS,
    ends=lambda sample: _about(sample, _sd(sample)),
    least=2,
    code={"mean": "np.mean(known) - known.std(), np.mean(known) + known.std()"},
)
SE = BarChoice(
    id="se",
    label="standard error",
    help="How sure the mean is: the SD over √n.",
    definition="Centre ± SD/√n; of logs about the geometric mean, and then not symmetric.",
    caption="one standard error to each side",
    methods="bars show one standard error to each side of the {centre}",
    rank=20,
    fits=_FITS,
    ends=lambda sample: _about(sample, _sd(sample) / math.sqrt(sample.ordered.size)),
    least=2,
    estimates=True,
    code={"mean": "np.mean(known) - stats.sem(known), np.mean(known) + stats.sem(known)"},
)
MEAN_INTERVAL = BarChoice(
    id="mean-interval",
    label="t interval",
    help="Where the mean of the population lies, at the level chosen.",
    definition="Centre ± t SD/√n, with n − 1 degrees of freedom; of logs about the geometric mean, and then not "
    "symmetric.",
    caption="the {percent} t interval",
    methods="bars are {percent} t intervals of the {centre}",
    options=(LEVEL,),
    rank=30,
    fits=_FITS,
    ends=lambda sample: _about(sample, _t(sample) * _sd(sample) / math.sqrt(sample.ordered.size)),
    least=2,
    estimates=True,
    code={"mean": "stats.t.interval({level!r}, known.size - 1, np.mean(known), stats.sem(known))"},
)
