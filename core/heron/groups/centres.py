"""Centres of groups with bars that say what they are."""

from collections.abc import Sequence
from dataclasses import dataclass, field, fields, replace

import numpy as np
from numpy.typing import ArrayLike

from heron import resampling, summary
from heron.checks import TOO_LARGE_TO_WRITE, Floats, Ints, as_values, choose, within
from heron.errors import InputError
from heron.formatting import significant
from heron.grouping import By, groups_of
from heron.groups.bars import BARS, CENTRES, BarChoice, Bars, Centre, CentreChoice, Sample, fitting
from heron.ordered import InOrder, Ordered
from heron.quantiles import Definition
from heron.results import Result


@dataclass(frozen=True)
class Centred:
    """One group, in the unit of the data. n: values, or units where one is named, that the centre is of; n_rows: rows
    with a value; low, high: ends of the bar, None where they cannot be had, with the reason."""

    label: str
    n: int
    n_rows: int
    n_missing: int
    centre: float | None
    low: float | None
    high: float | None
    summary: summary.Summary
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Centres(Result, rows="groups"):
    """All groups in their order. seed: of resampling, None where there was none; left_out: units that a within-unit
    interval passed over, since a group lacks them."""

    groups: tuple[Centred, ...]
    centre: Centre
    bars: Bars
    level: float
    percents: tuple[float, float]
    trim: float
    seed: int | None
    left_out: int
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def group_centres(
    values: ArrayLike,
    by: By | None = None,
    *,
    order: Sequence[object] | None = None,
    centre: Centre = "mean",
    bars: Bars = "sd",
    level: float = 0.95,
    unit: By | None = None,
    percents: tuple[float, float] = (5, 95),
    trim: float = 0.1,
    quantile_definition: Definition = 7,
    seed: int = 20_240,
    progress: resampling.Progress | None = None,
) -> Centres:
    """Return the centre of each group with a bar.

    Parameters
    ----------
    values : (n_rows,) array_like of float
        Values in their unit, NaN for missing; for the share 1 for yes and 0 for no.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; rows of no group take no part. By default all rows
        are one group.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    centre : str, optional
        One of `heron.groups.CENTRES`.
    bars : str, optional
        One of `heron.groups.BARS` that goes with the centre, as `heron.groups.fitting` lists them.
    level : float, optional
        Of intervals, between 0 and 1.
    unit : (n_rows,) labels, optional
        What each row is of: values are then averaged within it first, and n counts units.
    percents : (float, float), optional
        The ends of the percentile bar, from 0 to 100.
    trim : float, optional
        The share that the trimmed mean cuts at each end.
    quantile_definition : int or "hinges", optional
        Of medians and quartiles.
    seed : int, optional
        Of what is drawn at random.
    progress : callable, optional
        Told the share that is done, from 0 to 1; what it raises ends the work.

    Returns
    -------
    Centres
        For each group its n, centre, and the ends of its bar in the unit of the data, with the reason where there is
        none.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For bars that do not go with the centre.

    Notes
    -----
    What each centre and bar is stands in its record.

    References
    ----------
    morey-2008
    wilson-1927
    efron-1987

    Examples
    --------
    >>> result = group_centres([4.0, 6.0, 1.0, 3.0], ["a", "a", "b", "b"], bars="se")
    >>> [(group.label, group.centre, group.low, group.high) for group in result.groups]
    [('a', 5.0, 4.0, 6.0), ('b', 2.0, 1.0, 3.0)]
    """
    _check_choices(centre, bars, level, percents)
    checked = as_values(values, where="values")
    if centre == "share" and not np.isin(checked.values, (0, 1)).all():
        odd = checked.positions[~np.isin(checked.values, (0, 1))]
        problem = f"A share is of values that are 1 or 0; {odd.size} of {checked.n} are neither."
        raise InputError(
            "not-yes-or-no", problem, where="values", rows=odd[:100].tolist(), remedy="Choose another centre."
        )
    grouping = groups_of(by, checked.length, order=order)
    names, group = grouping.labels, grouping.places
    rows_in = np.bincount(group[group >= 0], minlength=len(names))
    own_group = group[checked.positions]
    units = None if unit is None else groups_of(unit, checked.length, where="unit").places[checked.positions]
    parts, rows = [], []
    for i in range(len(names)):
        in_group = own_group == i
        rows.append(int(np.count_nonzero(in_group)))
        parts.append(
            checked.values[in_group] if units is None else _averaged(checked.values[in_group], units[in_group])[0]
        )
    how = _Settings(BARS[bars], CENTRES[centre], level, percents, trim, quantile_definition, seed, _part_of(None, 0, 1))
    left_out, shifted = 0, None
    if bars == "within-unit-interval":
        if units is None:
            raise InputError("no-unit", "A within-unit interval needs to know what a row is of.", where="unit")
        shifted, left_out = _within_units(checked.values, own_group, units, len(names))
    filled = sum(part.size > 0 for part in parts)
    ends = np.cumsum([0, *(part.size for part in parts)]) / max(sum(part.size for part in parts), 1)
    groups = tuple(
        _centred(
            name,
            InOrder(np.sort(part)),
            part,
            n_rows,
            int(rows_in[i]) - n_rows,
            replace(how, progress=_part_of(progress, float(ends[i]), float(ends[i + 1]))),
            None if shifted is None else shifted[i],
            filled,
        )
        for i, (name, part, n_rows) in enumerate(zip(names, parts, rows, strict=True))
    )
    n = sum(centred.n for centred in groups)
    used_seed = seed if BARS[bars].seeded else None
    return Centres(groups, centre, bars, level, percents, trim, used_seed, left_out, n, checked.length - sum(rows))


def _check_choices(centre: Centre, bars: Bars, level: float, percents: tuple[float, float]) -> None:
    choose(centre, CENTRES, where="centre")
    choose(bars, BARS, where="bars")
    if bars not in fitting(centre):
        raise InputError(
            "bars-for-centre",
            f"{bars} does not belong to a {centre}.",
            where="bars",
            remedy=f"Choose {', '.join(fitting(centre))}.",
        )
    within(level, above=0, below=1, where="level")
    if not 0 <= percents[0] < percents[1] <= 100:
        raise InputError(
            "out-of-range",
            f"The lower percent point must lie below the upper, from 0 to 100; they are {significant(percents[0])} and "
            f"{significant(percents[1])}.",
            where="percents",
        )


@dataclass(frozen=True)
class OrderedGroup:
    """A group whose values are known by their order. values: a sample of them."""

    label: str
    ordered: Ordered
    n_missing: int
    values: Floats


def centres_of_ordered(
    groups: Sequence[OrderedGroup],
    *,
    centre: Centre,
    bars: Bars,
    level: float,
    percents: tuple[float, float],
    trim: float,
    n_missing: int,
    seed: int = 20_240,
    progress: resampling.Progress | None = None,
) -> Centres:
    """The centres of groups of a long table, as `group_centres` has them; bars by resampling rest on the sample."""
    _check_choices(centre, bars, level, percents)
    how = _Settings(BARS[bars], CENTRES[centre], level, percents, trim, 7, seed, _part_of(progress, 0, 1))
    filled = sum(group.ordered.size > 0 for group in groups)
    made = tuple(
        _centred(group.label, group.ordered, group.values, group.ordered.size, group.n_missing, how, None, filled)
        for group in groups
    )
    used_seed = seed if BARS[bars].seeded else None
    return Centres(made, centre, bars, level, percents, trim, used_seed, 0, sum(one.n for one in made), n_missing)


@dataclass(frozen=True)
class _Settings:
    """What is the same for all groups."""

    bar: BarChoice
    centre: CentreChoice
    level: float
    percents: tuple[float, float]
    trim: float
    definition: Definition
    seed: int
    progress: resampling.Progress


def _part_of(progress: resampling.Progress | None, start: float, end: float) -> resampling.Progress:
    """Progress of one group as a part of all."""
    return lambda share: progress(start + share * (end - start)) if progress is not None else None


def _averaged(values: Floats, units: Ints) -> tuple[Floats, Ints]:
    """The mean of each unit, and the units; values of no unit are left out."""
    known = units >= 0
    names, codes = np.unique(units[known], return_inverse=True)
    sums = np.bincount(codes, weights=values[known] / 2, minlength=names.size)
    return sums / np.maximum(np.bincount(codes, minlength=names.size), 1) * 2, names


def _within_units(values: Floats, group: Ints, units: Ints, k: int) -> tuple[list[Floats], int]:
    """Unit averages of each group with the unit's own mean taken out and the grand mean put in, for the units that
    every group has; and how many units that leaves out."""
    means: list[dict[int, float]] = []
    for i in range(k):
        averages, unit_of = _averaged(values[group == i], units[group == i])
        means.append(dict(zip(unit_of.tolist(), averages.tolist(), strict=True)))
    used = [i for i, mean in enumerate(means) if mean]  # a group without a value asks for no unit
    whole = sorted(set.intersection(*(set(means[i]) for i in used))) if used else []
    everyone: set[int] = set().union(*means)
    shifted = [np.empty(0) for _ in range(k)]
    if whole:
        table = np.array([[means[i][unit] for unit in whole] for i in used])
        for i, row in zip(used, table - table.mean(axis=0) + table.mean(), strict=True):
            shifted[i] = row
    return shifted, len(everyone) - len(whole)


def _centred(
    label: str,
    ordered: Ordered,
    values: Floats,
    n_rows: int,
    n_missing: int,
    how: _Settings,
    shifted: Floats | None,
    n_groups: int,
) -> Centred:
    numbers = summary.summary_of_ordered(ordered, 0, how.definition, how.level, how.trim, True)
    middle = how.centre.middle(numbers)
    if middle is None:
        why = {"centre": how.centre.lacking if ordered.size else "There is no value."}
        return Centred(label, ordered.size, n_rows, n_missing, None, None, None, numbers, why)
    given = {field.name: getattr(how, field.name) for field in fields(how) if field.name != "bar"}
    ends = None
    if ordered.size >= how.bar.least:
        ends = how.bar.ends(Sample(ordered, values, numbers, middle, shifted=shifted, n_groups=n_groups, **given))
    undefined = {}
    if ends is None:
        few = numbers.undefined.get("median_low", "") if how.bar.id == "median-interval" else ""
        undefined = dict.fromkeys(
            ("low", "high"), few or ("It needs 2 values." if ordered.size < 2 else "It has no spread.")
        )
    low, high = ends or (None, None)
    if low is not None and high is not None and not (np.isfinite(low) and np.isfinite(high)):
        low = high = None
        undefined = dict.fromkeys(("low", "high"), TOO_LARGE_TO_WRITE)
    return Centred(label, ordered.size, n_rows, n_missing, middle, low, high, numbers, undefined)
