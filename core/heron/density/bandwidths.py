"""Rules for the bandwidth of a density: one record for each."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy import fft, optimize

from heron.checks import choose, within
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.formatting import significant
from heron.ordered import InOrder, Ordered, ends, sd_of
from heron.quantiles import of_sorted

BandwidthRule = Literal["silverman", "scott", "plug-in"]


@dataclass(frozen=True, kw_only=True)
class BandwidthChoice(Choice):
    """A rule. width: the bandwidth of values in order, and the rule that was used in the end."""

    width: Callable[[Ordered], tuple[float, str]]


def bandwidth_of(values: Ordered, low: float, high: float, by: float | str) -> tuple[float, str, tuple[str, ...]]:
    """The bandwidth of values in order, what set it, and what to know of it."""
    if not isinstance(by, str):
        return within(by, above=1e-290, below=1e300, where="bandwidth"), "by hand", ()
    choose(by, BANDWIDTH_RULES, where="bandwidth")
    if low == high:
        raise InputError(
            "no-spread",
            "A density needs at least 2 different values; "
            + (
                f"there is one, {significant(low)}."
                if values.size == 1
                else f"all {values.size} are {significant(low)}."
            ),
            where="x",
            remedy="Give a bandwidth as a number to draw one bump.",
        )
    width, rule = BANDWIDTH_RULES[by].width(values)
    step = _recording_step(values)
    if width < step / 2:
        caution = (
            f"The values stand in steps of {significant(step)}; the bandwidth was raised to half a step, "
            "so that the curve does not show the steps."
        )
        return step / 2, f"{rule}, raised to half a recording step", (caution,)
    return width, rule, ()


def _smaller_spread(ordered: Ordered, sd: float) -> float:
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7).tolist()
    return sd if q3 == q1 else min(sd, (q3 - q1) / 1.34)


def _recording_step(values: Ordered) -> float:
    """The smallest gap between different values where at least half of them repeat another, else 0."""
    if isinstance(values, InOrder):  # a few of them tell most often, without telling all apart
        thinned = values.values[:: max(1, values.size // 4_000)]
        if np.unique(thinned).size > 0.5 * thinned.size:
            return 0.0
    distinct = values.distinct()
    if distinct is None or distinct.size < 2 or distinct.size > 0.5 * values.size:
        return 0.0
    return float(f"{np.diff(distinct).min():.9g}")


def _plug_in(values: Ordered) -> tuple[float, str]:
    """The improved Sheather-Jones fixed point on 2^14 bins of the range widened by a tenth at each end."""
    low, high = ends(values)
    bins = 2**14
    margin = (high - low) / 10
    span = high - low + 2 * margin
    reached = values.reached(low + np.linspace(-margin, high - low + margin, bins + 1), right=False)
    shares = np.diff(reached) / values.size
    squared = (fft.dct(shares)[1:] / 2) ** 2
    frequencies = np.arange(1, bins, dtype=np.float64) ** 2
    different = values.distinct()
    distinct = values.size if different is None else different.size

    def norm(order: int, time: float) -> float:
        terms = frequencies**order * squared * np.exp(-frequencies * np.pi**2 * time)
        return 2 * math.pi ** (2 * order) * float(terms.sum())

    def gap(time: float) -> float:
        f = norm(7, time)
        for order in range(6, 1, -1):
            odd = math.prod(range(1, 2 * order, 2)) / math.sqrt(2 * math.pi)
            factor = (1 + 0.5 ** (order + 0.5)) / 3
            f = norm(order, (2 * factor * odd / (distinct * f)) ** (2 / (3 + 2 * order)))
        return float(time - (2 * distinct * math.sqrt(math.pi) * f) ** -0.4)

    try:
        with np.errstate(all="ignore"):
            time = float(optimize.brentq(gap, 1e-12, 0.1))
    except (ValueError, ZeroDivisionError, OverflowError):
        return _silverman(values)[0], "plug-in found no solution, so silverman"
    return math.sqrt(time) * span, "plug-in"


def _silverman(values: Ordered) -> tuple[float, str]:
    return 0.9 * _smaller_spread(values, sd_of(values)) * values.size**-0.2, "silverman"


def _scott(values: Ordered) -> tuple[float, str]:
    return 1.06 * sd_of(values) * values.size**-0.2, "scott"


BANDWIDTH_RULES: dict[str, BandwidthChoice] = by_id(
    (
        BandwidthChoice(
            id="silverman",
            label="Silverman's rule",
            help="0.9 min(SD, IQR/1.34) n^(−1/5)",
            definition="Bandwidth 0.9 min(SD, IQR/1.34) n^(−1/5), the SD alone where the IQR is 0; the bandwidth is "
            "the kernel's SD.",
            caption="Silverman's rule",
            methods="densities have a {kernel} kernel with Silverman's bandwidth",
            sources=("silverman-1986",),
            rank=1,
            width=_silverman,
        ),
        BandwidthChoice(
            id="scott",
            label="Scott's rule",
            help="1.06 SD n^(−1/5)",
            definition="Bandwidth 1.06 SD n^(−1/5).",
            caption="Scott's rule",
            methods="densities have a {kernel} kernel with Scott's bandwidth",
            sources=("scott-1992",),
            rank=2,
            width=_scott,
        ),
        BandwidthChoice(
            id="plug-in",
            label="plug-in rule",
            help="Botev, Grotowski and Kroese (2010)",
            definition="The fixed point of the diffusion estimator, without a normal reference.",
            caption="the plug-in rule",
            methods="densities have a {kernel} kernel with a plug-in bandwidth",
            sources=("botev-2010",),
            rank=3,
            width=_plug_in,
        ),
    )
)
