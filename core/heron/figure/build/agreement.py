"""A panel of two methods that measure the same."""

from dataclasses import replace

import numpy as np

from heron import thinning
from heron.errors import InputError
from heron.figure import pairs as related
from heron.figure.build.context import Context, number, titled
from heron.figure.scene import Facts, Scene
from heron.figure.source import AgreementSource
from heron.formatting import grouped, percent, significant
from heron.readings import agreement as agreements
from heron.readings.agreement import AgreementSettings


def agreed(context: Context, source: AgreementSource) -> Scene:
    """How far two methods lie apart, over what both measured."""
    first, second = context.table.variable(source.y), context.table.variable(source.x)
    settings = AgreementSettings(source.scale, source.margin, source.level)
    made = agreements.drawn(first, second, settings, context.cancellation)
    told, found = made.told, made.found
    if found.bias is None:
        raise InputError("no-agreement", next(iter(found.undefined.values())), where="y", remedy="Choose others.")
    sent = thinning.points(np.arange(found.differences.size), found.differences)
    names, unit = (told.first.label, told.second.label), told.first.unit
    ratio = source.scale == "log"
    up = f"{names[0]} / {names[1]}" if ratio else f"{names[0]} \u2212 {names[1]}"
    level = percent(source.level)
    lines = ("bias", "low", "high")
    guides = [(end, getattr(found, end)) for end in lines]
    ends = np.array([found.means.min(), found.means.max()])
    intervals = (
        (found.low_from, found.low_to), (found.bias_low, found.bias_high), (found.high_from, found.high_to)
    )  # fmt: skip
    bands = [
        (ends, np.full(2, low), np.full(2, high)) for low, high in intervals if low is not None and high is not None
    ]
    margin = () if source.margin is None else (1 / source.margin if ratio else -source.margin, source.margin)
    facts = Facts(
        context.words(f"{'Ratio' if ratio else 'Difference'} of {names[0]} and {names[1]} over their mean"),
        (
            f"Lines: mean and limits of agreement, between which 95 % of {'ratios' if ratio else 'differences'} lie; "
            f"bands: their {level} intervals. Ringed: outside of these limits.",
            *([f"The margin is {source.margin:g}."] if source.margin is not None else []),
            *([f"Points: a random sample of {grouped(sent.size)} pairs."] if sent.size < found.n_pairs else []),
        ),
        n=(("pairs", found.n_pairs),),
    )  # fmt: skip
    plot = related.Examined(
        found.means[sent], found.differences[sent], made.rows[sent], found.beyond[sent] > 0,
        ("Geometric mean of both" if ratio else "Mean of both", unit), (titled(up), "" if ratio else unit),
        guides=(
            *(("up", value, significant(value, 3)) for _, value in guides if value is not None),
            *(("up", value, "margin") for value in margin), ("up", 1.0 if ratio else 0.0, ""),
        ),
        bands=tuple(bands), log=ratio, bands_reach=True, air=0.1,
    )  # fmt: skip
    numbers = number("pairs", float(found.n_pairs))
    for name, value in (
        ("bias", found.bias), ("lower limit of agreement", found.low), ("upper limit of agreement", found.high)
    ):  # fmt: skip
        numbers += number(name, value, "" if ratio else unit)
    return replace(related.examined(plot, facts), numbers=tuple(numbers))
