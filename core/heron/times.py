"""Dates and times: their range, how many fall into each unit of time, and the gaps between them."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, as_values, choose
from heron.errors import InputError
from heron.quantiles import of_sorted

Unit = Literal["second", "minute", "hour", "day", "week", "month", "quarter", "year"]
_SECONDS: dict[Unit, float] = {
    "second": 1,
    "minute": 60,
    "hour": 3_600,
    "day": 86_400,
    "week": 604_800,
    "month": 2_629_746,
    "quarter": 7_889_238,
    "year": 31_556_952,
}
UNITS: tuple[Unit, ...] = tuple(_SECONDS)
MOST_UNITS = 2_000
MOST_GAPS = 8
_MONDAY = 4 * 86_400  # 5 January 1970 in seconds


@dataclass(frozen=True)
class Times:
    """Times in seconds since 1970, without a zone. first, median, last: None where there is no time.

    unit: of the counts; boundaries (n_units + 1,), counts (n_units,). gap_from, gap_to: (k,) the gaps between times
    that follow each other which stand out, the longest first; usual_step: the median of all of them.
    """

    first: float | None
    median: float | None
    last: float | None
    unit: Unit
    boundaries: Floats
    counts: Ints
    gap_from: Floats
    gap_to: Floats
    usual_step: float | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def summarize(seconds: ArrayLike, *, unit: Unit | None = None) -> Times:
    """Return what is to be said of dates and times.

    Parameters: seconds (n_rows,) since 1970, NaN for missing; unit of the counts, by default the coarsest that gives 12
    spans or more, else the finest that gives no more than 2,000. Months, quarters and years are those of the calendar;
    weeks begin on Monday.
    Raises: ChoiceError; InputError for a unit that would give more than 2,000 spans.
    Notes: a gap is an interval between different times that follow each other, longer than both Q3 + 3 IQR of all such
    intervals and 1.5 times their median.
    """
    checked = as_values(seconds, where="seconds")
    if unit is not None:
        choose(unit, UNITS, where="unit")
    none = np.empty(0)
    if checked.n == 0:
        return Times(None, None, None, unit or "day", none, none.astype(np.int64), none, none, None, 0, checked.length)
    ordered = np.sort(checked.values)
    first, last = float(ordered[0]), float(ordered[-1])
    unit = unit or _suited(last - first)
    if (last - first) / _SECONDS[unit] > MOST_UNITS:
        raise InputError(
            "too-many-spans",
            f"By the {unit} there would be more than {MOST_UNITS} spans.",
            where="unit",
            remedy="Choose a longer unit.",
        )
    edges = _edges(first, last, unit)
    counts = np.diff(np.searchsorted(ordered, edges, side="left"))
    distinct = np.unique(ordered)
    steps = np.diff(distinct)
    gaps, usual = np.empty(0, dtype=np.int64), None
    if steps.size > 2:
        q1, usual, q3 = of_sorted(np.sort(steps), np.array([0.25, 0.5, 0.75]), 7).tolist()
        gaps = np.flatnonzero(steps > max(q3 + 3 * (q3 - q1), 1.5 * usual))
        gaps = gaps[np.argsort(-steps[gaps], kind="stable")][:MOST_GAPS]
    median = float(ordered[(ordered.size - 1) // 2] / 2 + ordered[ordered.size // 2] / 2)
    return Times(
        first,
        median,
        last,
        unit,
        edges,
        counts.astype(np.int64),
        distinct[gaps],
        distinct[gaps + 1],
        usual,
        checked.n,
        checked.n_missing,
    )


def _suited(span: float) -> Unit:
    for unit in reversed(UNITS):
        if span / _SECONDS[unit] >= 12:
            return unit
    return "second"


def _edges(first: float, last: float, unit: Unit) -> Floats:
    """The beginnings of all units from the first time to behind the last."""
    if unit in ("month", "quarter", "year"):
        months = {"month": 1, "quarter": 3, "year": 12}[unit]
        from_month, to_month = (
            int(np.datetime64(int(t // 1), "s").astype("datetime64[M]").astype(int)) for t in (first, last)
        )
        begin = from_month // months * months
        at = np.arange(begin, to_month // months * months + months + 1, months)
        return at.astype("datetime64[M]").astype("datetime64[s]").astype(np.float64)
    step = _SECONDS[unit]
    origin = _MONDAY if unit == "week" else 0.0
    begin_at, end_at = np.floor((first - origin) / step), np.floor((last - origin) / step) + 1
    return np.asarray(np.arange(begin_at, end_at + 1) * step + origin, dtype=np.float64)
