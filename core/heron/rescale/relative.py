"""Values relative to others of the same variable: to a baseline, or to the one before along an order."""

from dataclasses import dataclass
from typing import Literal, get_args

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, choose, same_length, within
from heron.choices import displays
from heron.grouping import By, groups_of
from heron.quantiles import of_sorted

Centre = Literal["mean", "median"]
Take = Literal["earlier", "difference", "ratio", "percent-change"]
TAKES = displays(
    {
        "difference": "difference from",
        "ratio": "ratio to",
        "percent-change": "percent change from",
        "earlier": "value of",
    }
)
_MOST_STEPS = 10_000


@dataclass(frozen=True)
class Along:
    """values: (n_rows,) NaN where there is none before. tied: (k,) rows that share their place in the order with
    another of their group, so that the order of rows decided."""

    values: Floats
    tied: Ints


def of_baseline(values: ArrayLike, by: By | None = None, *, baseline: ArrayLike, centre: Centre = "mean") -> Floats:
    """Return each value as a percent of the baseline.

    Parameters: values (n_rows,) floats, NaN for missing; by: groups, as `groups_of` takes them, each of which then has
    a baseline of its own; baseline (n_rows,) truths, the rows that it is made of; centre of the baseline's values.
    Returns: (n_rows,) 100 x / centre; NaN where the group has no baseline, or it is 0. Raises: ChoiceError; InputError
    for arrays of unequal length.
    """
    choose(centre, get_args(Centre), where="centre")
    x, at = np.asarray(values, dtype=np.float64), np.asarray(baseline, dtype=bool)
    same_length(x.size, at.size, where="baseline")
    index = groups_of(by, x.size).places
    base = np.full(int(index.max(initial=-1)) + 2, np.nan)  # the last is for rows without a group
    used = np.flatnonzero(at & ~np.isnan(x) & (index >= 0))
    order = used[np.argsort(index[used], kind="stable")]
    for part in np.split(order, np.flatnonzero(np.diff(index[order])) + 1):
        if part.size:
            part_values = x[part]
            middle = np.sort(part_values) if centre == "median" else part_values
            result = of_sorted(middle, np.array([0.5]), 7)[0] if centre == "median" else (part_values / 2).mean() * 2
            base[index[part[0]]] = result
    with np.errstate(all="ignore"):
        result = 100 * (x / base[index])
    return np.where(np.isfinite(result), result, np.nan)


def along(values: ArrayLike, by: By | None = None, *, at: ArrayLike | None = None, take: Take, steps: int = 1) -> Along:
    """Return each value against the one so many steps before it along an order.

    Parameters: values (n_rows,) floats, NaN for missing; by: groups, as `groups_of` takes them: steps then stay within
    a group; at (n_rows,) numbers to put the rows in order by, that of the rows where there is none; take: the "earlier"
    value itself, the "difference" from it, the "ratio" to it, or the "percent-change" from it.
    Raises: ChoiceError; InputError for steps outside 1 to 10,000 or arrays of unequal length.
    Notes: a missing value keeps its place, so that what follows a gap has none before it. Rows at the same place of the
    order stand in the order of the rows.
    """
    choose(take, TAKES, where="take")
    within(steps, above=0, below=_MOST_STEPS + 1, where="steps")
    x = np.asarray(values, dtype=np.float64)
    places = np.arange(x.size, dtype=np.float64) if at is None else np.asarray(at, dtype=np.float64)
    same_length(x.size, places.size, where="at")
    index = groups_of(by, x.size).places
    used = np.flatnonzero(~np.isnan(places) & (index >= 0))
    rows = used[np.lexsort((places[used], index[used]))]
    same = (np.diff(index[rows]) == 0) & (np.diff(places[rows]) == 0)
    shared = np.zeros(rows.size, dtype=bool)
    shared[1:] |= same
    shared[:-1] |= same
    before = np.full(x.size, np.nan)
    if rows.size > steps:
        same_group = index[rows[steps:]] == index[rows[:-steps]]
        before[rows[steps:][same_group]] = x[rows[:-steps][same_group]]
    with np.errstate(all="ignore"):
        if take == "earlier":
            result = before
        elif take == "difference":
            result = x - before
        else:
            result = x / before if take == "ratio" else 100 * (x / before - 1)
    return Along(np.where(np.isfinite(result), result, np.nan), np.sort(rows[shared]))
