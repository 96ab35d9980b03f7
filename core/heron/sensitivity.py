"""How much the results of one variable move when rows are left out."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray

from heron import normality, summary
from heron.checks import Floats, Ints, as_values, choose
from heron.choices import displays
from heron.errors import InputError
from heron.grouping import By, groups_of
from heron.results import Result

Statistic = Literal["mean", "sd", "median", "skewness", "kurtosis", "shapiro_w"]
STATISTICS = displays(
    {
        "mean": "mean",
        "sd": "SD",
        "median": "median",
        "skewness": "skewness",
        "kurtosis": "excess kurtosis",
        "shapiro_w": "Shapiro-Wilk W",
    }
)
MOST_FOR_W = 500
_WEIGHED = ("mean", "mean_low", "mean_high", "sd", "median", "iqr", "geometric_mean", "skewness", "kurtosis")
_MOST_GROUPS = 8


@dataclass(frozen=True)
class Change:
    """A result with all rows and without some: None where it is undefined. in_ses: by how many of its standard errors,
    as they are with all rows, a mean moves; None for the rest. name: a field of the summary, "shapiro_w", "shapiro_p",
    or "difference" of the mean of `group` from that of the first group."""

    name: str
    group: str
    with_all: float | None
    without: float | None
    in_ses: float | None


@dataclass(frozen=True)
class LeaveOneOut(Result, columns=("values",)):
    """A statistic without each single row. values: (n_rows,) NaN where the row was not used; whole: with all;
    furthest: the position of the row without which it moves most, None where nothing can be had."""

    statistic: Statistic
    whole: float | None
    values: Floats
    furthest: int | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def results_without(
    values: ArrayLike, by: By | None = None, *, order: Sequence[object] | None = None, without: Ints
) -> tuple[Change, ...]:
    """Return what a variable's results are with all its values and without some.

    Parameters: values (n_rows,) floats, NaN for missing; by and order, groups as `groups_of` takes them: the
    differences of group means from the first are compared too (for up to 8); without, positions of the rows left out.
    """
    x = np.asarray(values, dtype=np.float64)
    left = x.copy()
    left[without] = np.nan
    tests = [normality.shapiro_wilk(side) for side in (x, left)]
    grouping = groups_of(by, x.size, order=order)
    means = [[_mean(side[part]) for part in grouping.rows()] for side in (x, left)]
    both = (summary.summarize(x), summary.summarize(left))
    return changes_of(both, [(test.statistic, test.p_value) for test in tests], grouping.labels, means)


def changes_of(
    both: tuple[summary.Summary, summary.Summary],
    tests: Sequence[tuple[float | None, float | None]],
    labels: Sequence[str],
    means: Sequence[Sequence[float | None]],
) -> tuple[Change, ...]:
    """The changes from all values to some of them: of their summaries, of W and its p, of the means of groups."""
    result = [
        Change(name, "", getattr(both[0], name), getattr(both[1], name), _moved(both) if name == "mean" else None)
        for name in _WEIGHED
    ]
    for name, before, after in zip(("shapiro_w", "shapiro_p"), *tests, strict=True):
        result.append(Change(name, "", before, after, None))
    if 2 <= len(labels) <= _MOST_GROUPS:
        for i, label in enumerate(labels[1:], 1):
            before, after = (_gap(side[i], side[0]) for side in means)
            result.append(Change("difference", label, before, after, None))
    return tuple(result)


def _moved(both: tuple[summary.Summary, summary.Summary]) -> float | None:
    a, b = both
    return None if a.mean is None or b.mean is None or not a.se else (b.mean - a.mean) / a.se


def _mean(values: Floats) -> float | None:
    known = values[~np.isnan(values)]
    return float((known / 2).mean() * 2) if known.size else None


def _gap(a: float | None, b: float | None) -> float | None:
    return None if a is None or b is None else a - b


def leave_one_out(x: ArrayLike, statistic: Statistic) -> LeaveOneOut:
    """Return a statistic of a variable without each of its values in turn.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    statistic : {"mean", "sd", "median", "skewness", "kurtosis", "shapiro_w"}
        Which one, as `summarize` defines it.

    Returns
    -------
    LeaveOneOut
        The statistic with all values and without each row, NaN for rows without a value; the row that moves it most.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For W of more than 500 values.

    Notes
    -----
    Moments come from sums of powers about the mean, from which the row's own part is taken and the mean moved; without
    a row that is most of the spread the rest are summed anew.

    References
    ----------
    joanes-gill-1998

    Examples
    --------
    >>> leave_one_out([1.0, 2.0, 9.0], "mean").values.tolist()
    [5.5, 5.0, 1.5]
    """
    choose(statistic, STATISTICS, where="statistic")
    checked = as_values(x)
    n = checked.n
    if statistic == "shapiro_w" and n > MOST_FOR_W:
        raise InputError(
            "too-many-values",
            f"W without each row is worked for up to {MOST_FOR_W} values; there are {n}.",
            where="statistic",
            remedy="Choose another statistic.",
        )
    values = np.full(checked.length, np.nan)
    if n < 2:
        return LeaveOneOut(statistic, None, values, None, n, checked.n_missing, {"values": "It needs two values."})
    # A power of two, so that the scale costs no digit.
    top = math.ldexp(1.0, max(math.frexp(float(np.abs(checked.values).max()) or 1.0)[1] - 1, -1000))
    scaled = checked.values / top
    centre = float(scaled.mean())
    without = _WITHOUT[statistic](scaled - centre)
    if statistic in ("mean", "median"):
        without = without + centre
    if statistic in ("mean", "sd", "median"):
        without = without * top
    whole = _whole(checked.values, statistic)
    values[checked.positions] = without
    off = np.abs(values - whole) if whole is not None else np.full(values.size, np.nan)
    furthest = int(np.nanargmax(off)) if np.isfinite(off).any() and np.nanmax(off) > 0 else None
    undefined = {"values": "Without a row it cannot be had."} if np.isnan(without).all() else {}
    return LeaveOneOut(statistic, whole, values, furthest, n, checked.n_missing, undefined)


def _whole(values: Floats, statistic: Statistic) -> float | None:
    if statistic == "shapiro_w":
        return normality.shapiro_wilk(values).statistic
    result: float | None = getattr(summary.summarize(values), statistic)
    return result


_CANCELS = 1e-3  # of the second moment: there are few such rows, since each is most of the spread


def _moments(z: Floats) -> tuple[int, Floats, Floats, Floats]:
    """n - 1, and the second, third and fourth moments about the mean without each row; z about the mean of all."""
    m = z.size - 1
    mean = -z / m
    squares = z * z
    raw = [(float(part.sum()) - part) / m for part in (squares, squares * z, squares * squares)]
    second = raw[0] - mean**2
    third = raw[1] - 3 * mean * raw[0] + 2 * mean**3
    fourth = raw[2] - 4 * mean * raw[1] + 6 * mean**2 * raw[0] - 3 * mean**4
    # A far row takes nearly all of the sums with it, and what is left of them is rounding: then the rest are summed.
    for i in np.flatnonzero(second < _CANCELS * (raw[0] + squares / m)).tolist():
        rest = np.delete(z, i)
        off = rest - rest.mean()
        second[i], third[i], fourth[i] = (float(np.mean(off**power)) for power in (2, 3, 4))
    return m, np.where(second > 1e-15 * raw[0], second, 0.0), third, fourth


def _sd(z: Floats) -> Floats:
    m, second, _, _ = _moments(z)
    if m < 2:
        return np.full(z.size, np.nan)
    return np.asarray(np.sqrt(second * (m / (m - 1))), dtype=np.float64)


def _skewness(z: Floats) -> Floats:
    m, second, third, _ = _moments(z)
    if m < 3:
        return np.full(z.size, np.nan)
    with np.errstate(all="ignore"):
        result = third / second**1.5 * (math.sqrt(m * (m - 1)) / (m - 2))
    return np.where(_alike(z) | (second <= 0), np.nan, result)


def _alike(z: Floats) -> NDArray[np.bool_]:
    """(n,) whether all values are the same without each: what is left of rounding is no spread."""
    ordered = np.sort(z)
    low = np.where((z == ordered[0]) & (ordered[1] > ordered[0]), ordered[1], ordered[0])
    high = np.where((z == ordered[-1]) & (ordered[-2] < ordered[-1]), ordered[-2], ordered[-1])
    return np.asarray(low == high)


def _kurtosis(z: Floats) -> Floats:
    m, second, _, fourth = _moments(z)
    if m < 4:
        return np.full(z.size, np.nan)
    with np.errstate(all="ignore"):
        excess = fourth / second**2 - 3
    result = (m - 1) / ((m - 2) * (m - 3)) * ((m + 1) * excess + 6)
    return np.where(_alike(z) | (second <= 0), np.nan, result)


def _median(z: Floats) -> Floats:
    order = np.argsort(z, kind="stable")
    ordered, m = z[order], z.size - 1
    index = np.arange(z.size)

    def rank(k: int) -> Floats:
        """The k-th smallest, from 0, of those left without each."""
        return np.asarray(np.where(index <= k, ordered[min(k + 1, m)], ordered[k]), dtype=np.float64)

    result = np.empty(z.size)
    result[order] = rank(m // 2) if m % 2 else (rank(m // 2 - 1) + rank(m // 2)) / 2
    return result


def _shapiro(z: Floats) -> Floats:
    result = (normality.shapiro_wilk(np.delete(z, i)).statistic for i in range(z.size))
    return np.array([np.nan if value is None else value for value in result])


_WITHOUT: dict[str, Callable[[Floats], Floats]] = {
    "mean": lambda z: -z / (z.size - 1),
    "sd": _sd,
    "median": _median,
    "skewness": _skewness,
    "kurtosis": _kurtosis,
    "shapiro_w": _shapiro,
}
