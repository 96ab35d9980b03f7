"""Bars that reach from one of the values to another."""

import numpy as np

from heron.choices import Option
from heron.groups.bars.records import OF_VALUES, BarChoice, Ends, Sample
from heron.ordered import ends
from heron.quantiles import of_sorted


def _quartiles(sample: Sample) -> Ends | None:
    q1, q3 = sample.summary.q1, sample.summary.q3
    return (q1, q3) if q1 is not None and q3 is not None else None


def _percent_points(sample: Sample) -> Ends:
    definition = 7 if sample.definition == "hinges" else sample.definition
    low, high = of_sorted(sample.ordered, np.array(sample.percents) / 100, definition).tolist()
    return low, high


QUARTILE_SPAN = BarChoice(
    id="quartile-span",
    label="quartile span",
    help="From the first to the third quartile: the middle half of the values.",
    definition="From the first to the third quartile.",
    caption="from the first to the third quartile",
    methods="bars reach from the first to the third quartile about the {centre}",
    rank=50,
    fits=OF_VALUES,
    ends=_quartiles,
    code={"": "np.quantile(known, [0.25, 0.75])"},
)
RANGE = BarChoice(
    id="range",
    label="range",
    help="From the smallest to the largest value.",
    definition="From the smallest to the largest value.",
    caption="from the smallest to the largest value",
    methods="bars reach from the smallest to the largest value about the {centre}",
    rank=60,
    fits=OF_VALUES,
    ends=lambda sample: ends(sample.ordered),
    code={"": "known.min(), known.max()"},
)
PERCENTILES = BarChoice(
    id="percentiles",
    label="percent points",
    help="From one percent point to another, such as from 5 to 95.",
    definition="From one percent point to another, by the quantile definition chosen.",
    caption="from the {low_percent:g} to the {high_percent:g} percent point",
    methods="bars reach from the {low_percent:g} to the {high_percent:g} percent point about the {centre}",
    options=(Option("low_percent", "From", 5, 0, 100), Option("high_percent", "To", 95, 0, 100)),
    rank=70,
    fits=OF_VALUES,
    ends=_percent_points,
    code={"": "np.quantile(known, [{low_percent!r} / 100, {high_percent!r} / 100])"},
)
