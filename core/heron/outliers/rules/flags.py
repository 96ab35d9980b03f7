"""What a rule finds, and what rules share."""

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from heron.checks import Checked, Floats, Ints, to_the_largest
from heron.choices import Choice, Option
from heron.ordered import InOrder
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


@dataclass(frozen=True)
class Verdict:
    """By what a rule judges each value, once it has seen their order: how far it lies from the nearer of two places, in
    steps. A value is flagged whose score lies beyond the cutoff, or that lies beyond the limits where these decide.

    from_low, from_high: the places; half_step: half of what one is counted in, 0 where there is none; low, high: limits
    in the unit of the data. why: why it flags nothing, "" where it may; unscored: why values have no score.
    """

    from_low: float = 0.0
    from_high: float = 0.0
    half_step: float = 0.0
    low: float | None = None
    high: float | None = None
    cutoff: float | None = None
    by_limits: bool = False
    why: str = ""
    unscored: str = ""
    cautions: tuple[str, ...] = ()

    def scores(self, values: Floats) -> Floats:
        """How far values lie, below as negative; NaN where there is no step."""
        if not self.half_step:
            return np.full(values.size, np.nan)
        off = np.where(values > self.from_high, values / 2 - self.from_high / 2, values / 2 - self.from_low / 2)
        off[(values >= self.from_low) & (values <= self.from_high)] = 0.0
        return off / self.half_step

    def beyond(self, values: Floats) -> NDArray[np.bool_]:
        """Which values are flagged."""
        if self.cutoff is None or self.low is None or self.high is None:
            return np.zeros(values.size, dtype=bool)
        if self.by_limits:
            return np.asarray((values < self.low) | (values > self.high))
        return np.asarray(np.abs(self.scores(values)) > self.cutoff)


Judge = Callable[..., Verdict]


@dataclass(frozen=True, kw_only=True)
class OutlierRule(Choice):
    """A rule that flags values of one variable. compute: what it finds among checked values, under its settings; judge:
    by what it judges each of values that are known by their order, however many; None where it tests values together.
    The cutoff of the scores of a rule that judges is the same for all samples."""

    compute: Callable[..., Flags]
    judge: Judge | None = None


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


def judged(rule: str, judge: Judge) -> Callable[..., Flags]:
    """How a rule that judges each value flags checked ones."""

    def compute(checked: Checked, **options: Any) -> Flags:
        verdict = judge(InOrder(np.sort(checked.values)), **options) if checked.n else Verdict(why=EMPTY)
        if verdict.why:
            return nothing_flagged(rule, checked, verdict.why)
        assert verdict.low is not None
        assert verdict.high is not None
        assert verdict.cutoff is not None
        result = flags_of(
            rule,
            checked,
            verdict.scores(checked.values),
            verdict.beyond(checked.values),
            verdict.low,
            verdict.high,
            verdict.cutoff,
        )
        undefined = {"scores": verdict.unscored} if verdict.unscored else {}
        return replace(result, cautions=verdict.cautions, undefined=undefined)

    return compute


def between(q1: float, q3: float, low: float, high: float, cutoff: float, cautions: tuple[str, ...] = ()) -> Verdict:
    """Flagged beyond two limits; scored in IQRs from the nearer quartile, 0 between them."""
    half = q3 / 2 - q1 / 2
    unscored = "" if half > 0 else "The IQR is 0: half the values are the same."
    return Verdict(q1, q3, half, low, high, cutoff, by_limits=True, unscored=unscored, cautions=cautions)


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
