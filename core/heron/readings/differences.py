"""How groups differ: pair by pair, and all of them together."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from heron import differences, groups
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.formatting import typeset
from heron.grouping import Grouping
from heron.ledger import VariableView
from heron.normality import holm
from heron.readings.cancellation import Cancellation
from heron.readings.groups import levels_of, unit_of
from heron.readings.subject import sample_words, series_of


@dataclass(frozen=True)
class PairFound:
    """holm_p: of all pairs, adjusted after Holm; dunn_p: the same by the mean ranks of groups apart."""

    first: str
    second: str
    estimate: float
    low: float | None
    high: float | None
    p_value: float | None
    holm_p: float | None
    dunn_p: float | None
    n_pairs: int | None


@dataclass(frozen=True)
class TestFound:
    """A test of all groups, by the id of its record."""

    id: str
    found: differences.Test


@dataclass(frozen=True)
class DifferenceReading:
    """How groups differ by one measure. limits: how those of means are had, a key of LIMITS, "" where each pair stands
    for itself; label: what the numbers are; paired: what joins values across groups, "" where nothing does; epsilon:
    Greenhouse and Geisser's, of pairs; sampled: how many rows were looked at, drawn at random, 0 for all."""

    measure: differences.Effect
    label: str
    pairs: tuple[PairFound, ...]
    limits: str
    paired: str
    level: float
    tests: tuple[TestFound, ...]
    sd_ratio: float | None
    epsilon: float | None
    unit: str
    undefined: dict[str, str]
    words: tuple[str, ...]
    sampled: int


@dataclass(frozen=True)
class DifferenceSettings:
    """How groups are to be told apart. pair: joins values across groups; units: whether n counts the table's units;
    together: whether limits hold for all pairs at once, and spreads: whether they are taken for equal, where the
    measure knows how; trim: what trimmed means cut."""

    measure: differences.Effect
    reference: str
    level: float
    units: bool
    pair: VariableView | None
    together: bool
    spreads: differences.Spreads
    trim: float


def differed(
    variable: VariableView, by: VariableView, settings: DifferenceSettings, cancellation: Cancellation
) -> DifferenceReading:
    """How the groups differ: means with limits for all pairs or for themselves, other measures each for itself."""
    own_unit = unit_of(variable)
    series = series_of(variable, by, settings.pair, own_unit)
    x = series.numbers(variable.symbol)
    labels, index, _ = levels_of(series, by)
    record = differences.EFFECTS[settings.measure]
    repeated, side_by_side = None, None
    if settings.pair is not None:
        joins, all_groups = series.grouping(settings.pair.symbol), Grouping(tuple(labels), index)
        side_by_side = groups.paired_across(x, all_groups, unit=joins).values
        repeated = differences.compare_repeated(x, all_groups, unit=joins)
    if settings.units and own_unit is not None:
        x, index = _averaged(x, index, series.levels(own_unit.symbol)[1], len(labels))
    many = np.flatnonzero(np.bincount(index[(index >= 0) & ~np.isnan(x)], minlength=len(labels)) > 1)
    known = np.flatnonzero(np.isin(index, many) & ~np.isnan(x))
    kept = [labels[code] for code in many.tolist()]
    values, by_label = x[known], Grouping(tuple(kept), np.searchsorted(many, index[known]))
    of_means = record.of_means and side_by_side is None
    cancellation.check()
    whole = differences.compare_groups(
        values,
        by_label,
        level=settings.level,
        reference=settings.reference or None,
        together=settings.together and of_means,
        spreads=settings.spreads if of_means else "unequal",
    )
    cancellation.check()
    spreads = differences.compare_spreads(values, by_label)
    undefined = {name: why for name, why in whole.undefined.items() if name == "pairs"}
    if side_by_side is None:
        columns = dict(zip(kept, (values[rows] for rows in by_label.rows()), strict=True))
    else:
        columns = {label: side_by_side[:, code] for code, label in enumerate(labels)}
    if of_means:
        pairs = [_pair_found(pair) for pair in whole.pairs]
    else:
        pairs = _each_pair(whole.pairs, columns, settings, undefined, cancellation)
    if repeated is None:
        tests = _tests(whole, spreads)
        words = differences.words_on_differences(whole, spreads)
    else:
        tests = _tests(repeated)
        undefined |= {name: why for name, why in repeated.undefined.items() if not tests}
        words = differences.words_on_repeated(repeated, unit=typeset(settings.pair.label if settings.pair else ""))
    return DifferenceReading(
        settings.measure,
        differences.told_of(settings.measure, paired=side_by_side is not None).label,
        tuple(pairs if differences.LIMITS[whole.limits].together else _adjusted(pairs)),
        whole.limits if of_means else "",
        typeset(settings.pair.label) if settings.pair else "",
        settings.level,
        tests,
        spreads.sd_ratio if repeated is None else None,
        repeated.epsilon if repeated else None,
        typeset(variable.unit) if record.with_unit else "",
        undefined,
        (*words, *sample_words(series)),
        0 if series.sampled is None else series.n,
    )


def _tests(*results: object) -> tuple[TestFound, ...]:
    """The tests that results hold, in the order of their records."""
    fields = {identity: identity.replace("-", "_") for identity in differences.GROUP_TESTS}
    given = ((identity, getattr(result, name, None)) for identity, name in fields.items() for result in results)
    return tuple(TestFound(identity, test) for identity, test in given if test is not None)


def _pair_found(pair: differences.Pair) -> PairFound:
    named = typeset(pair.first), typeset(pair.second)
    return PairFound(*named, pair.difference, pair.low, pair.high, pair.p_value, None, pair.dunn_p, None)


def _adjusted(pairs: Sequence[PairFound]) -> list[PairFound]:
    """With p values adjusted after Holm beside those that each pair has for itself."""
    given = [pair.p_value for pair in pairs if pair.p_value is not None]
    adjusted = iter(holm(given) if len(given) > 1 else [])
    return [replace(pair, holm_p=next(adjusted, None) if pair.p_value is not None else None) for pair in pairs]


def _each_pair(
    pairs: Sequence[differences.Pair],
    columns: Mapping[str, Floats],
    settings: DifferenceSettings,
    undefined: dict[str, str],
    cancellation: Cancellation,
) -> list[PairFound]:
    """Each pair of groups by the measure, for itself; why one has none goes to `undefined`."""
    record, paired = differences.EFFECTS[settings.measure], settings.pair is not None
    options: dict[str, Any] = {option.name: getattr(settings, option.name) for option in record.options}
    result = []
    for i, pair in enumerate(pairs):
        cancellation.check()
        named = (typeset(pair.first), typeset(pair.second))
        a, b = columns[pair.first], columns[pair.second]
        told = {"progress": partial(_part_done, cancellation, i, len(pairs))} if record.resampled else {}
        try:
            difference = record.measure(
                np.concatenate((a, b)),
                Grouping(("first", "second"), np.repeat([0, 1], [a.size, b.size])),
                unit=np.tile(np.arange(a.size), 2) if paired else None,
                level=settings.level,
                **options,
                **told,
            )
        except InputError as error:
            undefined["pairs"] = f"{named[0]} and {named[1]}: {error.problem}"
            continue
        dunn, n_pairs = (None, difference.n) if paired else (pair.dunn_p, None)
        result.append(
            PairFound(
                *named, difference.estimate, difference.low, difference.high, difference.p_value, None, dunn, n_pairs
            )
        )
    return result


def _averaged(x: Floats, index: Ints, units: Ints, k: int) -> tuple[Floats, Ints]:
    """The mean of each unit in each group, and its group."""
    known = np.flatnonzero(~np.isnan(x) & (index >= 0) & (units >= 0))
    keys, codes = np.unique(index[known] + units[known] * k, return_inverse=True)
    means = np.bincount(codes, weights=x[known] / 2) / np.bincount(codes) * 2
    return means, keys % k


def _part_done(cancellation: Cancellation, part: int, parts: int, share: float) -> None:
    cancellation.progress((part + share) / parts)
