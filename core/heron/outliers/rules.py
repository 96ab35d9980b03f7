"""Rules that name values of one variable for a second look; none of them says that a value is wrong."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Checked, Floats, Ints, as_values, choose, same_length, within
from heron.errors import InputError
from heron.outliers.medcouple import medcouple
from heron.quantiles import DEFINITIONS, of_sorted

Rule = Literal["fences", "z", "robust-z", "grubbs", "esd", "skew-fences"]
RULES: tuple[Rule, ...] = ("fences", "z", "robust-z", "grubbs", "esd", "skew-fences")
ASSUMES: dict[str, str] = {
    "fences": "Assumes little: about 0.7 % of a normal sample lies beyond, and far more of a skewed one.",
    "z": "Assumes a normal distribution; far values widen the SD and hide themselves, and z cannot exceed (n - 1)/√n.",
    "robust-z": "Assumes a symmetric middle; half the values may be wrong before it fails.",
    "grubbs": "Assumes that all values but one are normal; it tests only the farthest, and two can hide each other.",
    "esd": "Assumes that all but at most k values are normal; advised from 25 values.",
    "skew-fences": "Makes room on the longer side by the medcouple; meant for skewed samples with one peak.",
}
OPTIONS = {"fences": ("reach", "quantile_definition"), "grubbs": ("level",), "esd": ("suspects", "level")}
_Z, _ROBUST_Z = 3.0, 3.5
_AS_PUBLISHED = 0.6745  # rounded in the source, with the limit of 3.5 set for it


@dataclass(frozen=True)
class EsdStep:
    """One step: the farthest value that is left, in SDs of those left, and what it must exceed."""

    row: int
    statistic: float
    critical: float


@dataclass(frozen=True)
class Flags:
    """What a rule names.

    flagged: (k,) row positions, ascending. scores: (n_rows,) how far each row lies, by the rule's own measure, below
    as negative; NaN where it was not used (esd: where it was no suspect). low, high: limits in the unit of the data
    beyond which rows are named, None where the rule has none. cutoff: of the scores. p_value: of grubbs. steps: of esd.
    cautions: what to know of this rule on these data.
    """

    rule: Rule
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


def flag(x: ArrayLike, rule: Rule, **options: Any) -> Flags:
    """Return which values of a variable a rule names.

    Parameters: x (n_rows,) floats, NaN for missing. rule: "fences", strictly beyond Q1 - reach IQR or Q3 + reach IQR
    (reach 1.5, quantile_definition 7), scores in IQRs from the nearer quartile; "z", |x - mean|/SD > 3; "robust-z",
    0.6745 (x - median)/MAD beyond 3.5; "grubbs", the farthest value at level 0.05, two-sided; "esd", up to `suspects`
    (10) values at level 0.05; "skew-fences", fences with 1.5 exp(-4 MC) IQR below and 1.5 exp(3 MC) IQR above for a
    medcouple MC >= 0, and exp(-3 MC), exp(4 MC) for one below 0.
    Raises: ChoiceError; InputError.
    References: tukey-1977; shiffler-1988; iglewicz-hoaglin-1993; grubbs-1969; rosner-1983; hubert-vandervieren-2008.
    """
    choose(rule, RULES, where="rule")
    for option in options:
        choose(option, OPTIONS.get(rule, ()), where=f"options of {rule}")
    return _RULES[rule](as_values(x), **options)


def flag_within(x: ArrayLike, group: ArrayLike, rule: Rule, **options: Any) -> Flags:
    """Return which values a rule names within each group, as one result; limits and steps are then None and empty.

    Parameters: as for `flag`; group (n_rows,) whole numbers, -1 for none (such rows take no part).
    """
    values, index = np.asarray(x, dtype=np.float64), np.asarray(group, dtype=np.int64)
    same_length(values.size, index.size, where="group")
    scores, flagged, cautions = np.full(values.size, np.nan), [np.empty(0, dtype=np.int64)], {}
    order = np.argsort(index, kind="stable")
    order = order[index[order] >= 0]
    parts = np.split(order, np.flatnonzero(np.diff(index[order])) + 1) if order.size else []
    undefined: dict[str, str] = {}
    n, cutoff = 0, None
    for part in parts:
        found = flag(values[part], rule, **options)
        scores[part] = found.scores
        flagged.append(part[found.flagged])
        cautions.update(dict.fromkeys(found.cautions))
        undefined |= {"scores": "Some groups are too small or have no spread."} if found.undefined else {}
        cutoff = found.cutoff if rule in ("fences", "z", "robust-z", "skew-fences") else None
        n += found.n
    rows = np.sort(np.concatenate(flagged))
    missing = values.size - n
    return Flags(rule, rows, scores, None, None, cutoff, None, (), tuple(cautions), n, missing, undefined)


def _none(rule: Rule, checked: Checked, why: str) -> Flags:
    empty = np.full(checked.length, np.nan)
    return Flags(
        rule, np.empty(0, dtype=np.int64), empty, None, None, None, None, (), (), checked.n, checked.n_missing,
        {"scores": why},
    )  # fmt: skip


def _named(rule: Rule, checked: Checked, scores: Floats, beyond: Any, low: float, high: float, cutoff: float) -> Flags:
    whole = np.full(checked.length, np.nan)
    whole[checked.positions] = scores
    flagged = checked.positions[np.asarray(beyond)]
    return Flags(rule, flagged, whole, low, high, cutoff, None, (), (), checked.n, checked.n_missing)


def _between(rule: Rule, checked: Checked, q1: float, q3: float, low: float, high: float, cutoff: float) -> Flags:
    """Named beyond two limits; scored in IQRs from the nearer quartile, 0 between them."""
    x, iqr = checked.values, q3 / 2 - q1 / 2
    off = np.where(x > q3, x / 2 - q3 / 2, np.where(x < q1, x / 2 - q1 / 2, 0.0))
    found = _named(rule, checked, off / iqr if iqr > 0 else off * np.nan, (x < low) | (x > high), low, high, cutoff)
    return found if iqr > 0 else replace(found, undefined={"scores": "The IQR is 0: half the values are the same."})


def _fences(checked: Checked, reach: float = 1.5, quantile_definition: Any = 7) -> Flags:
    choose(quantile_definition, DEFINITIONS, where="quantile_definition")
    if not reach >= 0:
        raise InputError("out-of-range", f"reach must be 0 or more; it is {reach:g}.", where="reach")
    if checked.n == 0:
        return _none("fences", checked, "There is no value.")
    q1, q3 = of_sorted(np.sort(checked.values), np.array([0.25, 0.75]), quantile_definition).tolist()
    inner = reach * (q3 - q1)
    return _between("fences", checked, q1, q3, q1 - inner, q3 + inner, reach)


def _skew_fences(checked: Checked) -> Flags:
    if checked.n == 0:
        return _none("skew-fences", checked, "There is no value.")
    q1, q3 = of_sorted(np.sort(checked.values), np.array([0.25, 0.75]), 7).tolist()
    skew = medcouple(checked.values) or 0.0
    down, up = (-4.0, 3.0) if skew >= 0 else (-3.0, 4.0)
    low, high = (side * 1.5 * math.exp(k * skew) * (q3 - q1) for side, k in ((-1, down), (1, up)))
    found = _between("skew-fences", checked, q1, q3, q1 + low, q3 + high, 1.5)
    cautions = () if abs(skew) <= 0.6 else ("The medcouple is beyond 0.6, outside what the rule was made for.",)
    return replace(found, cautions=cautions)


def _spread(checked: Checked) -> tuple[float, float]:
    """Mean and SD, without overflow; SD 0 where there is none."""
    if checked.n == 0:
        return 0.0, 0.0
    top = float(np.abs(checked.values).max(initial=0)) or 1.0
    scaled = checked.values / top
    return float(scaled.mean() * top), float(scaled.std(ddof=1) * top) if checked.n > 1 else 0.0


_FLAT = "There is no spread."


def _z(checked: Checked) -> Flags:
    mean, sd = _spread(checked)
    if sd == 0:
        return _none("z", checked, _FLAT)
    z = (checked.values - mean) / sd
    most = (checked.n - 1) / math.sqrt(checked.n)
    found = _named("z", checked, z, np.abs(z) > _Z, mean - _Z * sd, mean + _Z * sd, _Z)
    if most > _Z:
        return found
    return replace(found, cautions=(f"With {checked.n} values z cannot exceed {most:.2f}, so that it names none.",))


def _robust_z(checked: Checked) -> Flags:
    if checked.n == 0:
        return _none("robust-z", checked, "There is no value.")
    top = float(np.abs(checked.values).max()) or 1.0  # so that no difference overflows
    scaled = checked.values / top
    median = float(of_sorted(np.sort(scaled), np.array([0.5]), 7)[0])
    off = scaled - median
    mad = float(of_sorted(np.sort(np.abs(off)), np.array([0.5]), 7)[0])
    if mad == 0:
        return _none("robust-z", checked, "The MAD is 0: half the values are the same.")
    reach = _ROBUST_Z * mad / _AS_PUBLISHED
    z = _AS_PUBLISHED * off / mad
    low, high = (median - reach) * top, (median + reach) * top
    return _named("robust-z", checked, z, np.abs(z) > _ROBUST_Z, low, high, _ROBUST_Z)


def _grubbs(checked: Checked, level: float = 0.05) -> Flags:
    within(level, above=0, below=1, where="level")
    mean, sd = _spread(checked)
    n = checked.n
    if n < 3 or sd == 0:
        return _none("grubbs", checked, "It needs 3 values." if n < 3 else _FLAT)
    z = (checked.values - mean) / sd
    far = int(np.argmax(np.abs(z)))
    t = float(special.stdtrit(n - 2, 1 - level / (2 * n)))
    critical = (n - 1) / math.sqrt(n) * math.sqrt(t * t / (n - 2 + t * t))
    left = max((n - 1) ** 2 - n * z[far] ** 2, 0.0)
    own = math.sqrt(n * (n - 2) * z[far] ** 2 / left) if left > 0 else math.inf
    p = min(1.0, 2 * n * float(special.stdtr(n - 2, -own)))
    beyond = np.zeros(n, dtype=bool)
    beyond[far] = abs(z[far]) > critical
    found = _named("grubbs", checked, z, beyond, 0, 0, critical)
    others = int(np.count_nonzero(np.abs(np.delete(z, far)) > 0.9 * abs(z[far]))) if n < 1_000_000 else 0
    masked = () if not others else ("Another value lies nearly as far: two such values can hide each other.",)
    return replace(found, low=None, high=None, p_value=p, cautions=masked)


def _esd(checked: Checked, suspects: int = 10, level: float = 0.05) -> Flags:
    within(level, above=0, below=1, where="level")
    within(suspects, above=0, below=10_001, where="suspects")
    n = checked.n
    if n < 3:
        return _none("esd", checked, "It needs 3 values.")
    if _spread(checked)[1] == 0:
        return _none("esd", checked, _FLAT)
    taken = min(int(suspects), n - 2)
    order = np.argsort(checked.values, kind="stable")
    # From the middle value, which is exact however far from 0 they lie; halved, so that nothing runs over.
    ordered = checked.values[order] / 2
    ordered = ordered - ordered[n // 2]
    ordered = ordered / float(np.abs(ordered).max())
    low, high, (mean, squares) = 0, n - 1, _moments(ordered)
    steps, scores = [], np.full(checked.length, np.nan)
    for i in range(taken):
        left = n - i
        sd = math.sqrt(squares / (left - 1))
        if sd == 0:
            break
        at = high if ordered[high] - mean >= mean - ordered[low] else low
        statistic = abs(ordered[at] - mean) / sd
        t = float(special.stdtrit(left - 2, 1 - level / (2 * left)))
        critical = (left - 1) * t / math.sqrt((left - 2 + t * t) * left)
        row = int(checked.positions[order[at]])
        steps.append(EsdStep(row, float(statistic), critical))
        scores[row] = math.copysign(statistic, ordered[at] - mean)
        low, high = (low, high - 1) if at == high else (low + 1, high)
        off = float(ordered[at]) - mean
        without = mean - off / (left - 1)
        less = squares - off * (float(ordered[at]) - without)
        # What a far value leaves of the sum is what rounding left: then the rest are summed again.
        mean, squares = (without, less) if less > squares / 2 else _moments(ordered[low : high + 1])
    last = max((i + 1 for i, step in enumerate(steps) if step.statistic > step.critical), default=0)
    flagged = np.sort(np.array([step.row for step in steps[:last]], dtype=np.int64))
    cautions = [] if n >= 25 else [f"It is advised from 25 values; there are {n}."]
    if last == taken and last:
        cautions.append(f"All {taken} suspects are named: there may be more, so raise their number.")
    if last and any(step.statistic <= step.critical for step in steps[:last]):
        cautions.append("A single test would have stopped early: far values hid each other.")
    cutoff = steps[max(last - 1, 0)].critical if steps else None
    return Flags("esd", flagged, scores, None, None, cutoff, None, tuple(steps), tuple(cautions), n, checked.n_missing)


def _moments(values: Floats) -> tuple[float, float]:
    """The mean, and the sum of squares about it."""
    mean = float(values.mean())
    off = values - mean
    return mean, float(np.dot(off, off))


_RULES: dict[str, Callable[..., Flags]] = {
    "fences": _fences,
    "z": _z,
    "robust-z": _robust_z,
    "grubbs": _grubbs,
    "esd": _esd,
    "skew-fences": _skew_fences,
}
