"""What a rule finds, and what rules share."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from heron.checks import Checked, Floats, Ints, to_the_largest
from heron.choices import Choice, Option
from heron.results import Result

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True)
class EsdStep:
    """One step: the farthest value that is left, in SDs of those left, and what it must exceed."""

    row: int
    statistic: float
    critical: float


@dataclass(frozen=True)
class Flags(Result):
    """What a rule flags.

    flagged: (k,) row positions, ascending. scores: (n_rows,) how far each row lies, by the rule's own measure, below
    as negative; NaN where it was not used (esd: where it was no suspect). low, high: limits in the unit of the data
    beyond which rows are flagged, None where the rule has none. cutoff: of the scores. p_value: of a test. steps: of
    esd. cautions: what to know of this rule on these data.
    """

    rule: str
    flagged: Ints
    scores: Floats
    low: float | None
    high: float | None
    cutoff: float | None
    p_value: float | None
    steps: tuple[EsdStep, ...]
    cautions: tuple[str, ...]
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)

    def to_frame(self) -> "pd.DataFrame":
        """Return the flagged rows, counted from 0, with their scores, as a pandas table."""
        import pandas as pd

        return pd.DataFrame({"row": self.flagged, "score": self.scores[self.flagged]})


@dataclass(frozen=True, kw_only=True)
class OutlierRule(Choice):
    """A rule that flags values of one variable. compute: what it finds among checked values, under its settings;
    settled: whether the cutoff of its scores is the same for all samples."""

    compute: Callable[..., Flags]
    settled: bool = False


LEVEL = Option("level", "Level", 0.05, 0.000_001, 0.5)
FLAT = "There is no spread."
EMPTY = "There is no value."


def nothing_flagged(rule: str, checked: Checked, why: str) -> Flags:
    """No value, and why the rule says nothing."""
    empty = np.full(checked.length, np.nan)
    return Flags(
        rule, np.empty(0, dtype=np.int64), empty, None, None, None, None, (), (), checked.n, checked.n_missing,
        {"scores": why},
    )  # fmt: skip


def flags_of(
    rule: str, checked: Checked, scores: Floats, is_beyond: Any, low: float, high: float, cutoff: float
) -> Flags:
    """The values that lie beyond, with scores and limits."""
    whole = np.full(checked.length, np.nan)
    whole[checked.positions] = scores
    low, high = to_the_largest(np.array([low, high])).tolist()
    flagged = checked.positions[np.asarray(is_beyond)]
    return Flags(rule, flagged, whole, low, high, cutoff, None, (), (), checked.n, checked.n_missing)


def between_limits(rule: str, checked: Checked, q1: float, q3: float, low: float, high: float, cutoff: float) -> Flags:
    """Flagged beyond two limits; scored in IQRs from the nearer quartile, 0 between them."""
    x, iqr = checked.values, q3 / 2 - q1 / 2
    off = np.where(x > q3, x / 2 - q3 / 2, np.where(x < q1, x / 2 - q1 / 2, 0.0))
    result = flags_of(rule, checked, off / iqr if iqr > 0 else off * np.nan, (x < low) | (x > high), low, high, cutoff)
    return result if iqr > 0 else replace(result, undefined={"scores": "The IQR is 0: half the values are the same."})


def standardized(checked: Checked, mean: float, sd: float) -> Floats:
    """The values in SDs from their mean, without overflow."""
    return np.asarray((checked.values / 2 - mean / 2) / (sd / 2))


def mean_and_sd(checked: Checked) -> tuple[float, float]:
    """Mean and SD, without overflow; SD 0 where there is none."""
    if checked.n == 0:
        return 0.0, 0.0
    top = float(np.abs(checked.values).max(initial=0)) or 1.0
    scaled = checked.values / top
    return float(scaled.mean() * top), float(scaled.std(ddof=1) * top) if checked.n > 1 else 0.0
