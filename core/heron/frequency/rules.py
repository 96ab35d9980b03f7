"""Rules for the classes of a histogram: one record for each."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np

from heron.choices import Choice, by_id
from heron.ordered import Ordered, ends, sd_of
from heron.quantiles import of_sorted

ClassRule = Literal["freedman-diaconis", "scott", "sturges", "square-root", "integers"]
USUAL: ClassRule = "freedman-diaconis"


@dataclass(frozen=True, kw_only=True)
class ClassChoice(Choice):
    """A rule. width: of a class of values in order that are not all the same, and the rule that was used in the
    end."""

    width: Callable[[Ordered], tuple[float, str]]


def _half_range(ordered: Ordered) -> float:
    """Halves, so that the range of values near +-1e308 does not overflow."""
    low, high = ends(ordered)
    return high / 2 - low / 2


def _sturges_classes(n: int) -> int:
    return math.ceil(math.log2(n)) + 1


def _freedman_diaconis(ordered: Ordered) -> tuple[float, str]:
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7)
    half_range = _half_range(ordered)
    if q3 > q1:
        return float(min(4 * (q3 / 2 - q1 / 2) * ordered.size ** (-1 / 3), 2 * half_range)), "freedman-diaconis"
    return half_range / _sturges_classes(ordered.size) * 2, "freedman-diaconis: the IQR is 0, so sturges"


def _scott(ordered: Ordered) -> tuple[float, str]:
    return 3.49 * sd_of(ordered) * ordered.size ** (-1 / 3), "scott"


def _sturges(ordered: Ordered) -> tuple[float, str]:
    return _half_range(ordered) / _sturges_classes(ordered.size) * 2, "sturges"


def _square_root(ordered: Ordered) -> tuple[float, str]:
    return _half_range(ordered) / math.ceil(math.sqrt(ordered.size)) * 2, "square-root"


CLASS_RULES: dict[str, ClassChoice] = by_id(
    (
        ClassChoice(
            id="freedman-diaconis",
            label="Freedman-Diaconis rule",
            help="2 IQR n^(−1/3), rounded",
            definition="Class width 2 IQR n^(−1/3), rounded to 1, 2, 2.5 or 5 times a power of ten; Sturges' rule "
            "where the IQR is 0.",
            caption="Freedman and Diaconis' rule",
            methods="classes of histograms follow Freedman and Diaconis",
            sources=("freedman-diaconis-1981",),
            rank=1,
            width=_freedman_diaconis,
        ),
        ClassChoice(
            id="scott",
            label="Scott's rule",
            help="3.49 SD n^(−1/3), rounded",
            definition="Class width 3.49 SD n^(−1/3).",
            caption="Scott's rule",
            methods="classes of histograms follow Scott's rule",
            sources=("scott-1979",),
            rank=2,
            width=_scott,
        ),
        ClassChoice(
            id="sturges",
            label="Sturges' rule",
            help="⌈log₂ n⌉ + 1 classes",
            definition="⌈log₂ n⌉ + 1 classes.",
            caption="Sturges' rule",
            methods="classes of histograms follow Sturges' rule",
            sources=("sturges-1926",),
            rank=3,
            width=_sturges,
        ),
        ClassChoice(
            id="square-root",
            label="square-root rule",
            help="⌈√n⌉ classes",
            definition="⌈√n⌉ classes.",
            caption="the square-root rule",
            methods="histograms have as many classes as the square root of n",
            rank=4,
            width=_square_root,
        ),
        ClassChoice(
            id="integers",
            label="a class for each whole number",
            help="from one half below it to one half above",
            definition="A class for each whole number, from one half below it to one half above; wider ones where "
            "there would be more than 512.",
            caption="one for each value",
            methods="histograms have a class for each whole number",
            rank=5,
            width=lambda ordered: (1.0, "integers"),
        ),
    )
)
