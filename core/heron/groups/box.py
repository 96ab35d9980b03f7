"""Groups side by side."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Checked, Floats, Ints, as_values, choose, to_the_largest, within
from heron.choices import Choice, Option, by_id
from heron.errors import InputError
from heron.formatting import significant
from heron.grouping import By, Grouping, groups_of
from heron.ordered import InOrder, Ordered, ends
from heron.quantiles import DEFINITIONS, Definition, of_sorted
from heron.results import Result

OUTER_REACH_FACTOR = 2.0  # Tukey's outer fences lie twice as far out as the inner ones: 3 IQR for 1.5 IQR


Whiskers = Literal["fences", "range", "percentiles"]
WHISKERS: dict[str, Choice] = by_id(
    (
        Choice(
            id="fences",
            label="within a number of IQRs",
            help="To the outermost values within so many IQRs of the quartiles; what lies beyond is ringed.",
            definition="Whiskers reach the outermost values not beyond Q1 − 1.5 IQR and Q3 + 1.5 IQR, or as many IQRs "
            "as chosen.",
            caption="the outermost values within {reach:g} IQR of the quartiles",
            methods="whiskers of boxes reach the outermost values within {reach:g} interquartile ranges",
            sources=("tukey-1977",),
            options=(Option("reach", "Reach in IQRs", 1.5, 0, 100),),
            rank=1,
        ),
        Choice(
            id="range",
            label="the range",
            help="From the smallest to the largest value.",
            definition="Whiskers reach the smallest and the largest value.",
            caption="the smallest and the largest value",
            methods="whiskers of boxes reach the smallest and the largest value",
            rank=2,
        ),
        Choice(
            id="percentiles",
            label="percent points",
            help="From one percent point to the one as far from the other end.",
            definition="Whiskers reach two percent points, as far from either end.",
            caption="the {low:g} and {high:g} percent points",
            methods="whiskers of boxes reach the {low:g} and {high:g} percent points",
            options=(Option("share", "Share at each end", 0.05, 0, 0.5),),
            rank=3,
        ),
    )
)


@dataclass(frozen=True)
class Fences:
    """Limits beyond which a value deserves a second look, in the unit of the data; outer ones reach twice as far."""

    inner_low: float
    inner_high: float
    outer_low: float
    outer_high: float


@dataclass(frozen=True)
class Box:
    """One box, in the unit of the data; None where the group has no value.

    whisker_low, whisker_high: the outermost values not beyond the inner fences; outlier_rows: (k,) the rows strictly
    beyond a whisker's limit, outlier_values: (k,) theirs; far_rows: (j,) those of them strictly beyond an outer fence
    (none where the whiskers do not follow fences); n_outliers, n_far: how many there are, of which a table too long to
    be held names the outermost and some others. notch_low, notch_high: an interval about the median by which two
    boxes can be compared.
    """

    label: str
    n: int
    n_missing: int
    q1: float | None
    median: float | None
    q3: float | None
    whisker_low: float | None
    whisker_high: float | None
    fences: Fences | None
    outlier_rows: Ints
    outlier_values: Floats
    far_rows: Ints
    n_outliers: int = 0
    n_far: int = 0
    notch_low: float | None = None
    notch_high: float | None = None
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Boxes(Result, rows="groups"):
    """The boxes of all groups, in order of label; one without a label when no grouping was given."""

    groups: tuple[Box, ...]
    reach: float
    whiskers: Whiskers
    share: float
    quantile_definition: Definition
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def boxes(
    values: ArrayLike,
    by: By | None = None,
    *,
    order: Sequence[object] | None = None,
    quantile_definition: Definition = 7,
    reach: float = 1.5,
    whiskers: Whiskers = "fences",
    share: float = 0.05,
) -> Boxes:
    """Return the box of a variable, or one for each group.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; rows of no group take no part. By default all rows
        are one group.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    quantile_definition : int or "hinges", optional
        Of the quartiles.
    reach : float, optional
        Of the inner fences in IQRs, 0 or more.
    whiskers : {"fences", "range", "percentiles"}, optional
        To the outermost values not beyond the fences, over the whole range, or to two percent points.
    share : float, optional
        What the percent points leave out at each end, between 0 and 0.5.

    Returns
    -------
    Boxes
        Quartiles, whiskers, fences, notches and the rows beyond, in the unit of the data.

    Raises
    ------
    InputError
        For infinite values, or an option outside its range.
    ChoiceError
        For a choice that there is not.

    Notes
    -----
    The notch is median +/- 1.57 IQR/sqrt(n). A value is beyond a fence only strictly: x < Q1 - reach IQR or x > Q3 +
    reach IQR.

    References
    ----------
    tukey-1977
    mcgill-1978, for the notch
    hyndman-fan-1996, for the quartiles

    Examples
    --------
    >>> box = boxes([1, 2, 3, 4, 5, 20]).groups[0]
    >>> box.q1, box.median, box.q3, box.whisker_high, box.outlier_rows.tolist()
    (2.25, 3.5, 4.75, 5.0, [5])
    """
    choose(quantile_definition, DEFINITIONS, where="quantile_definition")
    if not reach >= 0:
        raise InputError("out-of-range", f"reach must be 0 or more; it is {significant(reach)}.", where="reach")
    choose(whiskers, WHISKERS, where="whiskers")
    within(share, above=0, below=0.5, where="share")
    checked = as_values(values, where="values")
    how = BoxHow(quantile_definition, reach, whiskers, share)
    if by is None:
        ordered = InOrder(np.sort(checked.values))
        one = _box("", checked.values, ordered, checked.positions, checked.length - checked.n, how)
        return Boxes((one,), reach, whiskers, share, quantile_definition, one.n, one.n_missing)
    grouping = groups_of(by, checked.length, order=order)
    n_rows = np.bincount(grouping.places[grouping.places >= 0], minlength=len(grouping.labels)).tolist()
    made = []
    for label, n, rows in zip(grouping.labels, n_rows, _members(grouping, checked), strict=True):
        part = checked.values[rows]
        made.append(_box(label, part, InOrder(np.sort(part)), checked.positions[rows], n - rows.size, how))
    return Boxes(
        tuple(made), reach, whiskers, share, quantile_definition, sum(box.n for box in made),
        checked.length - sum(box.n for box in made),
    )  # fmt: skip


def _members(grouping: Grouping, checked: Checked) -> list[Ints]:
    """Of each group, where its values stand among those that take part."""
    return Grouping(grouping.labels, grouping.places[checked.positions]).rows()


def with_rows(box: Box, rows: Ints) -> Box:
    """Return the box with its outliers named by other numbers, each once. rows: (n,) of each value it is made of."""
    named, first = np.unique(rows[box.outlier_rows], return_index=True)
    return replace(
        box,
        outlier_rows=named,
        outlier_values=box.outlier_values[first],
        far_rows=np.unique(rows[box.far_rows]),
    )


@dataclass(frozen=True)
class BoxHow:
    """How a box is drawn, as `boxes` takes it."""

    definition: Definition
    reach: float
    whiskers: Whiskers
    share: float


@dataclass(frozen=True)
class Beyond:
    """What lies beyond two limits, rows ascending, and beyond two further ones; kept: the outermost values that do not
    lie beyond the nearer ones, None where all do."""

    rows: Ints
    values: Floats
    far_rows: Ints
    n: int
    n_far: int
    kept: tuple[float, float] | None


# Low and high limit, and a further low and high one.
Limits = tuple[float, float, float, float]


def box_of(values: Floats, how: BoxHow, ordered: Ordered) -> Box:
    """The box of finite values, NaN for missing, of which the order is known; rows are their places."""
    checked = as_values(values, where="values")
    return _box("", checked.values, ordered, checked.positions, checked.n_missing, how)


def _box(label: str, values: Floats, ordered: Ordered, positions: Ints, n_missing: int, how: BoxHow) -> Box:
    return box_of_ordered(label, ordered, n_missing, how, lambda limits: _beyond(values, ordered, positions, limits))


def _beyond(values: Floats, ordered: Ordered, positions: Ints, limits: Limits) -> Beyond:
    low, high, far_low, far_high = limits
    first, end = int(ordered.reached([low], right=False)[0]), int(ordered.reached([high], right=True)[0])
    beyond = np.empty(0, dtype=np.int64)
    if end - first < ordered.size:
        beyond = np.flatnonzero((values < low) | (values > high))
    outlying, by_row = values[beyond], np.argsort(positions[beyond], kind="stable")
    far = np.sort(positions[beyond[(outlying < far_low) | (outlying > far_high)]])
    return Beyond(
        positions[beyond][by_row], outlying[by_row], far, beyond.size, far.size,
        tuple(ordered[np.array([first, end - 1])].tolist()) if first < end else None,
    )  # fmt: skip


def box_of_ordered(
    label: str, ordered: Ordered, n_missing: int, how: BoxHow, beyond: Callable[[Limits], Beyond]
) -> Box:
    """The box of values that are known by their order. beyond: looks for the rows outside of limits."""
    none = np.empty(0, dtype=np.int64)
    if ordered.size == 0:
        why = dict.fromkeys(("q1", "median", "q3", "whisker_low", "whisker_high", "fences"), "There is no value.")
        return Box(label, 0, n_missing, None, None, None, None, None, None, none, np.empty(0), none, undefined=why)
    q1, median, q3 = of_sorted(ordered, np.array([0.25, 0.5, 0.75]), how.definition).tolist()
    inner, outer = how.reach * (q3 - q1), OUTER_REACH_FACTOR * how.reach * (q3 - q1)
    fences = Fences(*to_the_largest(np.array([q1 - inner, q3 + inner, q1 - outer, q3 + outer])).tolist())
    limits: Limits = (fences.inner_low, fences.inner_high, fences.outer_low, fences.outer_high)
    if how.whiskers == "range":
        limits = (*ends(ordered), -math.inf, math.inf)
    elif how.whiskers == "percentiles":
        # Hinges know only quarters; the ends then follow definition 7.
        by = 7 if how.definition == "hinges" else how.definition
        low, high = of_sorted(ordered, np.array([how.share, 1 - how.share]), by).tolist()
        limits = (low, high, -math.inf, math.inf)
    found = beyond(limits)
    # Whiskers end on data, inside the box where none of these lie outside it; without any, at the quartiles.
    low, high = limits[:2] if how.whiskers == "percentiles" else found.kept or (q1, q3)
    half = 1.57 * (q3 / 2 - q1 / 2) * 2 / ordered.size**0.5
    return Box(
        label, ordered.size, n_missing, q1, median, q3, low, high, fences, found.rows, found.values, found.far_rows,
        found.n, found.n_far, median - half, median + half,
    )  # fmt: skip
