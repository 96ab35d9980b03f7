"""Values in the order in which they came: runs about the median, and jumps from one to the next."""

import math
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, Ints, as_values, same_length
from heron.formatting import counted, grouped, p_with_sign
from heron.quantiles import of_sorted

EXACT_UP_TO = 200
MOST_JUMPS = 5
_FEWEST_FOR_JUMPS = 12


@dataclass(frozen=True)
class InOrder:
    """Values in their order. order: (n,) the row position of each; places: (n,) where each stands along the order.

    runs: of values on one side of the median, those equal to it left out; expected_runs, and p_value, two-sided, of so
    many or so few where the order tells nothing. longest: values in the longest run, from row longest_first to row
    longest_last; long_from: the length from which a run is longer than chance would have it. jumps: (k,) the rows
    whose step from the value before lies beyond the outer fence of all steps, the largest first, at most 5.
    """

    order: Ints
    places: Floats
    n: int
    n_missing: int
    jumps: Ints
    words: tuple[str, ...]
    q1: float | None = None
    median: float | None = None
    q3: float | None = None
    runs: int | None = None
    expected_runs: float | None = None
    p_value: float | None = None
    longest: int | None = None
    longest_first: int | None = None
    longest_last: int | None = None
    long_from: int | None = None
    undefined: dict[str, str] = field(default_factory=dict)


def in_order(x: ArrayLike, along: ArrayLike | None = None) -> InOrder:
    """Return a variable's values in the order of the rows, or of another variable, with its runs and jumps.

    Parameters: x (n_rows,) floats, NaN for missing; along (n_rows,) the variable that sets the order, NaN for missing
    (such rows take no part); rows of equal place keep their order.
    Notes: R runs of n1 values above and n2 below the median are expected to be 1 + 2 n1 n2/(n1 + n2); the exact
    distribution of R to 200 values, the normal one with continuity correction above. A run is long when it exceeds
    log2(n1 + n2) + 3, rounded. A jump is a step |x(i) - x(i-1)| strictly beyond Q3 + 3 IQR of all steps.
    References: wald-wolfowitz-1940; anhoej-olesen-2014 for the longest run; tukey-1977 for the outer fence.
    """
    checked = as_values(x)
    rows, values = checked.positions, checked.values
    places = np.asarray(rows + 1.0, dtype=np.float64)
    if along is not None:
        other = np.asarray(along, dtype=np.float64)
        same_length(checked.length, other.size, where="along")
        known = np.isfinite(other[rows])
        rows, values = rows[known], values[known]
        places = other[rows]
        by_place = np.argsort(places, kind="stable")
        rows, values, places = rows[by_place], values[by_place], places[by_place]
    n = values.size
    missing = checked.length - n
    none = np.empty(0, dtype=np.int64)
    if n == 0:
        why = dict.fromkeys(("median", "runs", "longest"), "There is no value.")
        return InOrder(rows, places, 0, missing, none, ("There is no value to look at in order.",), undefined=why)
    q1, median, q3 = of_sorted(np.sort(values), np.array([0.25, 0.5, 0.75]), 7).tolist()
    jumps, jump_words = _jumps(values, rows)
    whole = InOrder(rows, places, n, missing, jumps, jump_words, q1, median, q3)
    off = np.flatnonzero(values != median)
    if off.size == 0:
        return with_runs(whole, None, reordered=along is not None)
    side = values[off] > median
    starts = np.concatenate(([0], np.flatnonzero(side[1:] != side[:-1]) + 1))
    lengths = np.diff(np.concatenate((starts, [off.size])))
    longest, first = int(lengths.max()), int(starts[lengths.argmax()])
    above = int(side.sum())
    ends = int(rows[off[first]]), int(rows[off[first + longest - 1]])
    told = Runs(int(starts.size), above, int(side.size) - above, longest, bool(side[first]), ends)
    return with_runs(whole, told, reordered=along is not None)


@dataclass(frozen=True)
class Runs:
    """Runs about the median: how many; values above and below it; the longest, whether above, from and to which row."""

    n: int
    n_above: int
    n_below: int
    longest: int
    is_above: bool
    ends: tuple[int, int]


def with_runs(whole: InOrder, runs: Runs | None, *, reordered: bool) -> InOrder:
    """What is told of values in order, with their runs and words on them before its own. runs: None where no value lies
    off the median; reordered: whether another variable sets the order."""
    size = runs.n_above + runs.n_below if runs else 0
    if runs is None or size < 2 or whole.n < 3:
        why = dict.fromkeys(("runs", "longest"), "Runs need at least 2 values off the median.")
        return replace(
            whole, words=("Too few values lie off the median to speak of runs.", *whole.words), undefined=why
        )  # fmt: skip
    expected = 1 + 2 * runs.n_above * runs.n_below / size
    p = _p_value(runs.n, runs.n_above, runs.n_below)
    long_from = round(math.log2(size) + 3) + 1
    said = (
        _runs_words(runs.n, expected, p),
        _longest_words(runs.longest, long_from, runs.is_above, runs.ends, reordered),
    )
    return replace(
        whole, words=(*said, *whole.words), runs=runs.n, expected_runs=expected, p_value=p, longest=runs.longest,
        longest_first=runs.ends[0], longest_last=runs.ends[1], long_from=long_from,
    )  # fmt: skip


def _p_value(runs: int, above: int, below: int) -> float:
    """Two-sided: twice the smaller tail, at most 1."""
    n = above + below
    if n <= EXACT_UP_TO:
        chances = _distribution(above, below)
        low, high = sum(chances[: runs + 1]), sum(chances[runs:])
        return min(1.0, 2 * min(low, high))
    mean = 1 + 2 * above * below / n
    variance = (mean - 1) * (mean - 2) / (n - 1)
    if variance <= 0:
        return 1.0
    distance = max(abs(runs - mean) - 0.5, 0.0) / math.sqrt(variance)
    return float(2 * special.ndtr(-distance))


def _distribution(above: int, below: int) -> list[float]:
    """The chance of 0, 1, 2 ... runs."""
    total = math.comb(above + below, above)
    chances = [0.0, 0.0]
    for runs in range(2, 2 * min(above, below) + 2):
        k = runs // 2
        if runs % 2 == 0:
            ways = 2 * math.comb(above - 1, k - 1) * math.comb(below - 1, k - 1)
        else:
            ways = math.comb(above - 1, k) * math.comb(below - 1, k - 1)
            ways += math.comb(above - 1, k - 1) * math.comb(below - 1, k)
        chances.append(ways / total)
    if min(above, below) == 0:
        chances = [0.0, 1.0]
    return chances


def _runs_words(runs: int, expected: float, p: float) -> str:
    said = f"{counted(runs, 'run')} above and below the median; about {grouped(round(expected))} would be expected"
    if p >= 0.05:
        return f"{said}: the order tells little."
    kind = "fewer: neighbours are alike, as in a drift or in blocks" if runs < expected else "more: values alternate"
    return f"{said}, so there are {kind} (p {p_with_sign(p)})."


def _longest_words(longest: int, long_from: int, above: bool, ends: tuple[int, int], reordered: bool) -> str:
    where = f"from row {grouped(ends[0] + 1)} to row {grouped(ends[1] + 1)}" + (" in that order" if reordered else "")
    side = "above" if above else "below"
    said = f"The longest run is {grouped(longest)} values {side} the median, {where}"
    return f"{said}: longer than chance would have it." if longest >= long_from else f"{said}."


def _jumps(values: Floats, rows: Ints) -> tuple[Ints, tuple[str, ...]]:
    if values.size < _FEWEST_FOR_JUMPS:
        return np.empty(0, dtype=np.int64), ()
    steps = np.abs(values[1:] / 2 - values[:-1] / 2)
    q1, q3 = of_sorted(np.sort(steps), np.array([0.25, 0.75]), 7).tolist()
    beyond = np.flatnonzero(steps > q3 + 3 * (q3 - q1))
    if beyond.size == 0:
        return np.empty(0, dtype=np.int64), ("No step from one value to the next stands out.",)
    largest = beyond[np.argsort(-steps[beyond], kind="stable")][:MOST_JUMPS]
    at = int(largest[0])
    said = (
        f"{counted(beyond.size, 'jump')} from one value to the next {'stands' if beyond.size == 1 else 'stand'} out; "
        f"the largest is from row {grouped(int(rows[at]) + 1)} to row {grouped(int(rows[at + 1]) + 1)}."
    )
    return rows[largest + 1], (said,)
