"""The centres of values, and of answers."""

import numpy as np

from heron import resampling, summary
from heron.checks import Floats
from heron.groups.bars.records import CentreChoice


def _trimmed(x: Floats, trim: float) -> Floats:
    cut = summary.cut_of(trim, x.shape[1])
    return np.asarray(np.sort(x, axis=1)[:, cut : x.shape[1] - cut].mean(axis=1) if cut else x.mean(axis=1))


def _mean(x: Floats, _trim: float) -> Floats:
    return np.asarray(x.mean(axis=1))


MEAN = CentreChoice(
    id="mean",
    label="mean",
    help="The sum of the values over n; far values pull it.",
    caption="mean",
    methods="groups are shown by their means",
    rank=10,
    middle=lambda numbers: numbers.mean,
    bars="mean-interval",
    resampled=_mean,
    code="np.mean(known)",
)
MEDIAN = CentreChoice(
    id="median",
    label="median",
    help="The value with as many below as above; far values do not move it.",
    caption="median",
    methods="groups are shown by their medians",
    rank=20,
    middle=lambda numbers: numbers.median,
    bars="median-interval",
    effect="median",
    resampled=lambda x, trim: np.asarray(np.median(x, axis=1)),
    code="np.median(known)",
)
GEOMETRIC_MEAN = CentreChoice(
    id="geometric-mean",
    label="geometric mean",
    help="The mean of logs, back-transformed: for values above 0 that differ by factors.",
    caption="geometric mean",
    methods="groups are shown by their geometric means",
    rank=30,
    middle=lambda numbers: numbers.geometric_mean,
    bars="mean-interval",
    effect="ratio",
    lacking="It needs values above 0.",
    resampled=_mean,
    on_logs=True,
    code="stats.gmean(known)",
)
TRIMMED_MEAN = CentreChoice(
    id="trimmed-mean",
    label="trimmed mean",
    help="The mean without a share of the values at each end.",
    caption="{trim} % trimmed mean",
    methods="groups are shown by means without {trim} % of the values at each end",
    rank=40,
    middle=lambda numbers: numbers.trimmed_mean,
    bars="bootstrap-interval",
    effect="trimmed",
    resampled=_trimmed,
    without_each=lambda x, trim: resampling.trimmed_without_each(x, summary.cut_of(trim, x.size - 1)),
)
SHARE = CentreChoice(
    id="share",
    label="share",
    help="Answers chosen over answers given.",
    caption="share",
    methods="groups are shown by shares of answers",
    rank=90,
    middle=lambda numbers: numbers.mean,
    bars="wilson-interval",
)
