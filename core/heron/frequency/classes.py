"""Counts: of each value, and of classes of a continuous variable."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, as_values, choose, same_length, to_the_largest, within
from heron.errors import InputError
from heron.frequency.rules import CLASS_RULES, USUAL, ClassRule
from heron.grouping import By, groups_of
from heron.ordered import InOrder, Ordered, ends
from heron.results import Result

MOST_CLASSES = 512


@dataclass(frozen=True)
class Classes(Result):
    """Contiguous half-open classes.

    boundaries: (n_classes + 1,) in the unit of x; counts, percents (of the rows inside), densities (area 1 over the
    rows inside), cumulative_counts: (n_classes,); below, above: rows outside the boundaries; closed: which side belongs
    to the class (the last, or first, class is closed on both); width: of every class, None when they differ; rule: the
    name of what set the classes, with any fallback said.
    """

    boundaries: Floats
    counts: Ints
    percents: Floats
    densities: Floats
    cumulative_counts: Ints
    below: int
    above: int
    rule: str
    closed: Literal["left", "right"]
    width: float | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class ValueCount:
    """One value (within one group, when counted by a group). The cumulative fields follow the order of the rows."""

    value: float | str | None
    count: int
    percent: float
    cumulative_count: int
    cumulative_percent: float
    group: str | None = None
    row_percent: float | None = None
    column_percent: float | None = None


@dataclass(frozen=True)
class ValueCounts(Result, rows="rows"):
    """Counts of each distinct value, ascending; percents are of n, or of n + n_missing with missing included."""

    rows: tuple[ValueCount, ...]
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def classify(
    x: ArrayLike,
    *,
    rule: ClassRule | None = None,
    count: int | None = None,
    width: float | None = None,
    start: float | None = None,
    boundaries: ArrayLike | None = None,
    closed: Literal["left", "right"] = "left",
    rounding: Literal["nice", "exact"] = "nice",
    step: float | None = None,
    weights: ArrayLike | None = None,
) -> Classes:
    """Return a variable's counts in classes.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    rule : str, optional
        The rule that sets the classes, "freedman-diaconis" by default; its records are in
        `heron.frequency.CLASS_RULES`.
    count : int, optional
        How many equal classes hold all values, in the place of a rule: between ends of few figures, or with rounding
        "exact" from the minimum to the maximum.
    width : float, optional
        How wide they are, in the unit of x, in the place of a rule.
    start : float, optional
        Where the first one begins; by default at a multiple of the width.
    boundaries : array_like of float, optional
        Where classes end and begin, ascending, in the place of a rule.
    closed : {"left", "right"}, optional
        The end that belongs to a class.
    rounding : {"nice", "exact"}, optional
        Whether a rule's width is rounded to 1, 2, 2.5 or 5 times a power of ten and starts at a multiple of it.
    step : float, optional
        In which the values were recorded; a rule's rounded width is a whole number of them.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    Classes
        Boundaries in the unit of x, counts, percents, densities per unit; never more than 512 classes.

    Raises
    ------
    InputError
        For two ways to set classes, or when there is no value to set a rule by.
    ChoiceError
        For a choice that there is not.

    Notes
    -----
    What each rule is stands in its record.

    References
    ----------
    freedman-diaconis-1981
    scott-1979
    sturges-1926

    Examples
    --------
    >>> classify([1, 2, 2, 3, 7], width=2, start=0).counts.tolist()
    [1, 3, 0, 1]
    """
    checked = as_values(x, weights=weights)
    return classes_of_ordered(
        InOrder(np.sort(checked.values)), checked.n_missing, rule=rule, count=count, width=width,
        boundaries=boundaries, start=start, closed=closed, rounding=rounding, step=step,
    )  # fmt: skip


def classes_of_ordered(
    ordered: Ordered,
    n_missing: int,
    *,
    rule: ClassRule | None = None,
    count: int | None = None,
    width: float | None = None,
    boundaries: ArrayLike | None = None,
    start: float | None = None,
    closed: Literal["left", "right"] = "left",
    rounding: Literal["nice", "exact"] = "nice",
    step: float | None = None,
) -> Classes:
    """The classes of values that are known by their order, as `classify` has them."""
    choose(closed, ("left", "right"), where="closed")
    choose(rounding, ("nice", "exact"), where="rounding")
    given = [name for name, setting in (("rule", rule), ("count", count), ("width", width)) if setting is not None]
    given += ["boundaries"] if boundaries is not None else []
    if len(given) > 1:
        raise InputError(
            "two-class-settings",
            f"Classes are set by one choice; {' and '.join(given)} were given.",
            where=given[0],
            remedy="Keep one of them.",
        )
    if boundaries is not None:
        edges, name = _checked_boundaries(boundaries), "boundaries"
    elif ordered.size == 0:
        raise InputError("no-values", "There is no value to set classes by.", where="x", remedy="Give boundaries.")
    else:
        with np.errstate(over="ignore"):  # boundaries beyond the largest number are clipped to it
            edges, name = _edges(ordered, rule, count, width, start, rounding, step)
    return _count(ordered, edges, name, closed, n_missing)


@dataclass(frozen=True)
class Usual:
    """How classes are cut where nobody says: the rule, and the step in which the values were recorded, None where they
    were in none."""

    rule: ClassRule
    step: float | None


_MOST_VALUES = 30  # distinct values, and steps between the ends, for which each value has a class of its own


def usual(x: ArrayLike, *, kind: str, decimals: int | None) -> Usual:
    """Return how the classes of a variable are cut where nobody says.

    Parameters: x (n_rows,) floats, NaN for missing; kind, as a column has it; decimals with which it was recorded.
    Notes: the usual rule, with a width that is a whole number of recording steps. Counts and ordered values have a
    class for each value where at most 30 distinct values lie within 30 steps; so have measurements, where the rule asks
    for no wider classes.
    """
    values = np.asarray(x, dtype=np.float64)
    return usual_of_ordered(InOrder(np.sort(values[np.isfinite(values)])), kind=kind, decimals=decimals)


def usual_of_ordered(ordered: Ordered, *, kind: str, decimals: int | None) -> Usual:
    """How the classes of values are cut that are known by their order, as `usual` says."""
    counted = kind in ("count", "ordered")
    step = 10.0**-decimals if decimals is not None and decimals < 13 else 1.0 if counted else None
    if kind not in ("continuous", "count", "ordered") or step is None or ordered.size == 0:
        return Usual(USUAL, None)
    if not ordered.in_steps(step):
        return Usual(USUAL, None)
    low, high = ends(ordered)
    if step == 1.0 and high - low <= _MOST_VALUES:
        between = ordered.reached([whole - 0.5 for whole in range(round(low), round(high) + 2)], right=False)
        seen = np.count_nonzero(np.diff(between))
        if seen <= _MOST_VALUES and (counted or low == high or _nice(CLASS_RULES[USUAL].width(ordered)[0], 1.0) == 1):
            return Usual("integers", step)
    return Usual(USUAL, step)


def class_labels(classes: Classes) -> tuple[str, ...]:
    """Return what classes are called: by the value, where each holds one whole number, else as intervals."""
    if classes.rule == "integers" and classes.width == 1:
        return tuple(f"{low + 0.5:.0f}" for low in classes.boundaries[:-1].tolist())
    return interval_labels(classes.boundaries, closed=classes.closed)


def count_values(
    values: ArrayLike | Sequence[str | float | None],
    by: By | None = None,
    *,
    order: Sequence[object] | None = None,
    levels: Sequence[str] | None = None,
    include_missing: bool = False,
    weights: ArrayLike | None = None,
) -> ValueCounts:
    """Return how often each value occurs.

    Parameters
    ----------
    values : (n_rows,) array_like of float or str
        Numbers, NaN for missing, or labels, None for missing.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; rows of no group take no part. By default all rows
        are one group.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    levels : sequence of str, optional
        The labels in their order, each once; one that does not occur counts 0.
    include_missing : bool, optional
        Whether missing has a row of its own, the last.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    ValueCounts
        A row for each value and group, values ascending; row_percent is the share within the value, column_percent
        within the group.

    Raises
    ------
    ChoiceError
        For a value that is not among the levels.

    Notes
    -----
    Percents are of the rows that are counted.

    Examples
    --------
    >>> [(row.value, row.count) for row in count_values(["b", "a", "b", None]).rows]
    [('a', 1), ('b', 2)]
    """
    array = np.asarray(values)
    numeric = array.dtype.kind in "fiub"
    if numeric:
        array = array.astype(np.float64)
        missing = np.isnan(array)
    else:
        missing = np.array([value is None or value != value for value in array], dtype=bool)
    counts = np.ones(array.size) if weights is None else np.asarray(weights, dtype=np.float64)
    same_length(array.size, counts.size, where="weights")
    distinct, codes = np.unique(array[~missing] if numeric else array[~missing].astype(str), return_inverse=True)
    if levels is not None:
        names = distinct.tolist()
        seen = {str(label): index for index, label in enumerate(levels)}
        for name in names:
            choose(str(name), seen, where="levels")
        codes = np.array([seen[str(name)] for name in names], dtype=np.int64)[codes]
        distinct = np.array(list(seen), dtype=object)
    code = np.full(array.size, distinct.size)
    code[~missing] = codes
    grouping = groups_of(by, array.size, order=order)
    groups: list[str | None] = [None] if by is None else list(grouping.labels)
    group = grouping.places
    used = group >= 0
    cells = np.zeros((distinct.size + 1, len(groups)))
    np.add.at(cells, (code[used], group[used]), counts[used])
    n_missing = int(cells[-1].sum())
    labelled: list[float | str | None] = [float(value) if numeric else str(value) for value in distinct]
    if include_missing:
        labelled.append(None)
    else:
        cells = cells[:-1]
    return ValueCounts(
        tuple(_value_rows(cells, labelled, groups)), int(cells.sum()) - n_missing * include_missing, n_missing
    )


@dataclass(frozen=True)
class CrossRow:
    """One value of the first variable, or all of them, within each level of the second, and in any of them.

    counts, row_percents (of the row), column_percents (of the level), percents (of all counted), expected (the counts
    of independent variables): (n_levels,), NaN where there is nothing to take a share of; total, total_percent: over
    all levels.
    """

    label: str
    counts: Ints
    row_percents: Floats
    column_percents: Floats
    percents: Floats
    expected: Floats
    total: int
    total_percent: float | None


@dataclass(frozen=True)
class CrossCounts:
    """How often the values of two variables occur together; totals holds the sums of the columns."""

    columns: tuple[str, ...]
    rows: tuple[CrossRow, ...]
    totals: CrossRow
    n: int


def cross_counts(
    rows: ArrayLike,
    row_labels: Sequence[str],
    columns: ArrayLike,
    column_labels: Sequence[str],
    *,
    weights: ArrayLike | None = None,
) -> CrossCounts:
    """Return how often the values of two variables occur together, with row, column and total percents.

    Parameters: rows, columns (n_rows,) the place of each row's value among the labels, -1 where it takes no part; a
    row takes part where both do; weights (n_rows,) frequencies.
    """
    first, second = np.asarray(rows, dtype=np.int64), np.asarray(columns, dtype=np.int64)
    same_length(first.size, second.size, where="columns")
    both = (first >= 0) & (second >= 0)
    width = len(column_labels)
    row_weights = None if weights is None else np.asarray(weights, dtype=np.float64)[both]
    cells = np.bincount(first[both] * width + second[both], weights=row_weights, minlength=len(row_labels) * width)
    cells = cells.astype(np.int64).reshape(len(row_labels), width)
    sums, n = cells.sum(axis=0), int(cells.sum())

    def line(label: str, counts: Ints) -> CrossRow:
        total = int(counts.sum())
        with np.errstate(invalid="ignore", divide="ignore"):
            shares = (100 * counts / total, 100 * counts / sums, 100 * counts / n, total * (sums / n))
        return CrossRow(label, counts, *shares, total, 100 * total / n if n else None)

    lines = tuple(line(label, counts) for label, counts in zip(row_labels, cells, strict=True))
    return CrossCounts(tuple(column_labels), lines, line("all", sums), n)


def places(x: ArrayLike, boundaries: ArrayLike, *, closed: Literal["left", "right"] = "left") -> Ints:
    """Return the class of each row, from 0; -1 where the value is missing or outside the boundaries.

    Parameters: x (n_rows,) floats, NaN for missing; boundaries ascending; closed: the side that belongs to a class (the
    last, or first, class is closed on both).
    """
    choose(closed, ("left", "right"), where="closed")
    values, edges = np.asarray(x, dtype=np.float64), _checked_boundaries(boundaries)
    side: Literal["left", "right"] = "right" if closed == "left" else "left"
    result = np.searchsorted(edges, values, side=side) - 1
    result[values == (edges[-1] if closed == "left" else edges[0])] = edges.size - 2 if closed == "left" else 0
    result[~((values >= edges[0]) & (values <= edges[-1]))] = -1
    return result


def interval_labels(boundaries: ArrayLike, *, closed: Literal["left", "right"] = "left") -> tuple[str, ...]:
    """Return the classes in interval notation, "[10, 12)"; the last, or first, is closed on both sides."""
    edges = _checked_boundaries(boundaries).tolist()
    decimals = max(len(f"{edge:.10g}".partition(".")[2].partition("e")[0]) for edge in edges)
    ends = [f"{edge:.{decimals}f}" if abs(edge) < 1e10 else f"{edge:g}" for edge in edges]
    last = len(edges) - 2
    return tuple(
        f"{'[' if closed == 'left' or i == 0 else '('}{ends[i]}, {ends[i + 1]}"
        f"{']' if closed == 'right' or i == last else ')'}"
        for i in range(last + 1)
    )


def _value_rows(cells: Floats, labelled: list[float | str | None], groups: list[str | None]) -> list[ValueCount]:
    rows = []
    whole = cells.sum()
    for column, group in enumerate(groups):
        cumulative = np.cumsum(cells[:, column])
        column_total = cumulative[-1] if cumulative.size else 0
        base = whole if group is None else column_total
        for i, value in enumerate(labelled if cells.size else []):
            count, row_total = cells[i, column], cells[i].sum()
            rows.append(
                ValueCount(
                    value=value,
                    count=int(count),
                    percent=float(100 * count / whole) if whole else 0.0,
                    cumulative_count=int(cumulative[i]),
                    cumulative_percent=float(100 * cumulative[i] / base) if base else 0.0,
                    group=group,
                    row_percent=None if group is None or not row_total else float(100 * count / row_total),
                    column_percent=None if group is None or not column_total else float(100 * count / column_total),
                )
            )
    return rows


def _checked_boundaries(boundaries: ArrayLike) -> Floats:
    edges = np.asarray(boundaries, dtype=np.float64)
    if edges.ndim != 1 or edges.size < 2 or not np.all(np.isfinite(edges)) or not np.all(np.diff(edges) > 0):
        raise InputError(
            "boundaries-order",
            "Boundaries must be at least two finite numbers in ascending order.",
            where="boundaries",
            remedy="Sort them and take out repeats.",
        )
    if edges.size > MOST_CLASSES + 1:
        raise InputError(
            "too-many-classes",
            f"At most {MOST_CLASSES} classes are counted; {edges.size - 1} were given.",
            where="boundaries",
        )
    return edges


def _edges(
    ordered: Ordered,
    rule: ClassRule | None,
    count: int | None,
    width: float | None,
    start: float | None,
    rounding: Literal["nice", "exact"],
    step: float | None,
) -> tuple[Floats, str]:
    low, high = ends(ordered)
    if width is not None:
        within(width, above=0, below=math.inf, where="width")
        return _from_width(width, low, high, start, "width")
    if count is not None:
        if not 1 <= count <= MOST_CLASSES:
            raise InputError(
                "out-of-range",
                f"The number of classes must be from 1 to {MOST_CLASSES}; it is {count}.",
                where="count",
            )
        if low == high:
            return _around(low), "count: all values are the same"
        return _even(low, high, count) if rounding == "exact" else _readable(low, high, count, step), "count"
    name = choose(rule or USUAL, CLASS_RULES, where="rule")
    if low == high and name != "integers":
        return _around(low), f"{name}: all values are the same"
    if name == "integers":
        whole = max(1.0, math.ceil((high / MOST_CLASSES) - (low / MOST_CLASSES)))
        first = math.floor(low) - (0.5 if whole == 1 else 0.0)
        return _from_width(whole, low, high, first, name)
    target, name_used = CLASS_RULES[name].width(ordered)
    if rounding == "exact":
        return _from_width(target, low, high, low, name_used)
    return _from_width(_nice(target, step), low, high, None, name_used, step)


def _nice(width: float, step: float | None = None) -> float:
    """The nearest, by ratio, of 1, 2, 2.5 and 5 times a power of ten; of those that are a whole number of steps."""
    if step is not None and width <= step:
        return step
    width = min(width, 5e307)
    power = math.floor(math.log10(width))
    candidates = [_decimal(step, power + shift) for shift in (0, 1) for step in (1.0, 2.0, 2.5, 5.0)]
    fits = [c for c in candidates if 0 < c < math.inf and (step is None or _is_whole(c / step))]
    return min(fits, key=lambda c: abs(math.log(c / width)))


def _is_whole(ratio: float) -> bool:
    return ratio > 0.5 and abs(ratio - round(ratio)) < 1e-6


def _decimal(mantissa: float, power: int) -> float:
    """mantissa x 10^power, correctly rounded, so that 3 x 0.1 is the 0.3 that a file holds."""
    return float(f"{mantissa!r}e{power}")


def _from_width(
    width: float, low: float, high: float, start: float | None, name: str, step: float | None = None
) -> tuple[Floats, str]:
    begin = low if start is None else start
    with np.errstate(invalid="ignore"):
        asked = float(np.float64(high) / width - np.float64(begin) / width + 1)
    if not asked <= MOST_CLASSES:  # beyond what can be counted for a width near 0
        spanned = max(high / 2 - begin / 2, width)
        width = _nice_at_least(spanned / (MOST_CLASSES / 2 - 1), step)
        name += f": widened to stay within {MOST_CLASSES} classes"
    if start is None:
        first = math.floor(low / width)
        last = max(math.floor(high / width) + 1, first + 1)
        if last - first > 1 and (last - 1) * width == high:
            last -= 1  # the last class is closed on both sides
        edges = _multiples(np.arange(first, last + 1, dtype=np.float64), width)
    else:
        classes = max(1, math.ceil(high / width - start / width))
        if start + classes * width < high:
            classes += 1
        if classes > MOST_CLASSES:
            classes = MOST_CLASSES
        edges = _offsets(start, width, classes)
    # Near the largest number the clipped boundaries may coincide.
    distinct = np.unique(np.clip(edges, -np.finfo(float).max, np.finfo(float).max))
    # Where the width is near what numbers so large can tell apart, the last multiple may fall short of the values.
    if start is None and distinct[-1] < high:
        distinct = np.append(distinct, high)
    if distinct.size < 2:
        raise InputError(
            "out-of-range",
            f"A width of {width:g} is lost beside values as large as {begin:g}.",
            where="width",
            remedy="Give a wider class, or a start nearer to the values.",
        )
    return distinct, name


def _offsets(start: float, width: float, classes: int) -> Floats:
    digits = _digits(width)
    edges: Floats = start + width * np.arange(classes + 1, dtype=np.float64)
    return edges if digits is None or abs(start) >= 1e9 else edges.round(digits + 2)


def _multiples(indices: Floats, width: float) -> Floats:
    digits = _digits(width)
    if digits is None or digits > 22:
        return indices * width
    # A whole number divided by a power of ten is the decimal that a file would hold.
    return np.asarray(indices * round(width * 10**digits) / 10.0**digits, dtype=np.float64)


def _digits(width: float) -> int | None:
    """Decimals that write the width exactly, or None."""
    for digits in range(0, 23):
        if float(round(width * 10**digits)) / 10.0**digits == width and round(width * 10**digits) > 0:
            return digits
    return None


def _nice_at_least(width: float, step: float | None) -> float:
    nice = _nice(width, step)
    return nice if nice >= width else _nice(width * 2.5, step)


def _readable(low: float, high: float, count: int, step: float | None) -> Floats:
    """Ends of so many equal classes that hold all values: multiples of the roundest unit for which these are hardly
    wider than they must be."""
    wide = high / count - low / count
    with np.errstate(all="ignore"):
        power = math.floor(math.log10(wide)) if 0 < wide < math.inf else 0
        for unit in (_decimal(mantissa, power - shift) for mantissa, shift in _UNITS):
            if unit == 0 or max(abs(low), abs(high)) / unit > _MOST_OF_UNITS or (step and not _is_whole(unit / step)):
                continue
            first, each = math.floor(low / unit + _NEAR), math.ceil(wide / unit - _NEAR)
            while first + each * count < high / unit - _NEAR:
                each += 1
            edges = _multiples(first + each * np.arange(count + 1, dtype=np.float64), unit)
            held = np.all(np.isfinite(edges)) and np.all(np.diff(edges) > 0) and edges[0] <= low and edges[-1] >= high
            if held and (each * unit <= _HARDLY * wide or unit == step):
                return edges
    return _even(low, high, count)


_UNITS = ((1.0, 0), (5.0, 1), (2.0, 1), (1.0, 1), (5.0, 2), (2.0, 2), (1.0, 2))
_HARDLY = 1.12
_MOST_OF_UNITS = 1e12  # beyond which ends cannot be told apart
_NEAR = 1e-9


def _even(low: float, high: float, count: int) -> Floats:
    shares: Floats = np.linspace(0, 1, count + 1)
    edges: Floats = low * (1 - shares) + high * shares
    edges[0], edges[-1] = low, high
    return edges


def _around(value: float) -> Floats:
    half = 0.5 if abs(value) < 1e15 else max(abs(value) * 1e-3, 1.0)
    limit = float(np.finfo(float).max)
    return np.array([max(value - half, -limit), min(value + half, limit)])


def _count(ordered: Ordered, edges: Floats, rule: str, closed: Literal["left", "right"], n_missing: int) -> Classes:
    # The last class, or the first, holds both its ends: its outer one is read with the next number beyond it.
    outer = edges.copy()
    if closed == "left":
        outer[-1] = np.nextafter(edges[-1], math.inf)
    else:
        outer[0] = np.nextafter(edges[0], -math.inf)
    reached = ordered.reached(outer, right=closed == "right")
    counts = np.diff(reached)
    inside = int(counts.sum())
    share = counts / max(inside, 1)
    with np.errstate(over="ignore"):
        widths = np.diff(edges)
        densities = to_the_largest(share / widths)
    regular = bool(np.allclose(widths, widths[0], rtol=1e-9, atol=0))
    return Classes(
        boundaries=edges,
        counts=counts.astype(np.int64),
        percents=100 * share,
        densities=densities,
        cumulative_counts=np.cumsum(counts).astype(np.int64),
        below=int(reached[0]),
        above=int(ordered.size - reached[-1]),
        rule=rule,
        closed=closed,
        width=float(f"{widths[0]:.12g}") if regular and math.isfinite(widths[0]) else None,
        n=ordered.size,
        n_missing=n_missing,
    )
