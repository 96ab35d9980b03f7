"""What stands out in a table at first sight: at most seven findings by rule, each with its evidence."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from heron.audit import Audit
from heron.checks import Floats
from heron.columns import NUMBER_KINDS, Column, Table
from heron.density import kernel_density
from heron.differences import compare_spreads
from heron.errors import HeronError
from heron.formatting import counted, fixed, grouped, p_words, significant
from heron.rescale import power_ladder

MOST = 7
MOST_OF_A_KIND = 2
MOST_VALUES = 20_000  # of a variable, drawn at random, that are looked at
_FEWEST = 20
_FEWEST_OF_PEAKS = 60
_FEWEST_OF_GROUP = 8
_MOST_GROUPS = 12
_GROUPING = ("category", "ordered")
_SKEWED = 0.8  # without the outermost values
_FAR = 8.0  # MADs from the median, on the straighter scale
_VALLEY, _LESSER = 0.7, 0.3  # how deep the valley between two peaks is, and how high the lesser one stands
_WIDER = 1.25  # bandwidths of Silverman's rule at which both peaks stay
_RATIO, _SURE = 2.0, 0.001  # of SDs, and the p over all comparisons
_TOGETHER = 5
_SCALES = {
    -2.0: "the scale −1/x²", -1.0: "the scale −1/x", -0.5: "the scale −1/√x", 0.0: "a logarithmic scale",
    0.5: "the scale √x", 2.0: "the scale x²", 3.0: "the scale x³",
}  # fmt: skip


@dataclass(frozen=True)
class StandsOut:
    """A finding. code: "impossible", "far", "together", "skew", "peaks", "spreads", "heaped", "constant" or what an
    audit calls it; words: what was found; evidence: the numbers behind it; symbols: of the variables that it is of;
    rows: (k,) positions of rows that it names, at most 20."""

    code: str
    words: str
    evidence: str
    symbols: tuple[str, ...]
    rows: tuple[int, ...] = ()


_ORDER = ("impossible", "far", "together", "skew", "peaks", "spreads", "no-values", "constant", "heaped")


def glance(table: Table, audited: Audit, check: Callable[[], None] = lambda: None) -> tuple[StandsOut, ...]:
    """Return what stands out in a table: impossible values and heaping as an audit finds them, values far from all
    others, variables missing together, strong skewness with the scale that lessens it, two peaks, and groups with
    unequal spread.

    Parameters: check, called between variables, which may stop the work.
    Notes: skewness is judged without the outermost values, and over 0.8 there; far is more than 8 scaled MADs from the
    median, on the straighter scale where there is one; two peaks stay when the bandwidth is a quarter wider than
    Silverman's, have a valley below 70 % of the lesser one, and are not looked for among heaped values; spreads are
    unequal where SDs differ by a factor of 2 and Brown and Forsythe's test, for all comparisons together after
    Bonferroni, gives p < 0.001.
    """
    found = [*_audited(audited), *_together(table, audited)]
    numbers = [
        column for column in table.columns.values() if column.kind in NUMBER_KINDS and column.numbers is not None
    ]
    for column in numbers:
        check()
        heaped = any(one.code == "heaped" and one.symbols == (column.symbol,) for one in found)
        found += [one for one in _of_values(column) if one.code != "peaks" or not heaped]
    found += _spreads(table, numbers, check)
    found.sort(key=lambda one: _ORDER.index(one.code) if one.code in _ORDER else len(_ORDER))
    taken: list[StandsOut] = []
    for one in found:
        if sum(other.code == one.code for other in taken) < MOST_OF_A_KIND:
            taken.append(one)
    return tuple(taken[:MOST])


def _audited(audited: Audit) -> Iterator[StandsOut]:
    for finding in audited.findings:
        rows = tuple(finding.rows[:20].tolist())
        yield StandsOut(
            finding.code, finding.words, f"{counted(finding.count, 'row')} of {grouped(audited.n_rows)}",
            (finding.symbol,) if finding.symbol else (), rows,
        )  # fmt: skip


def _together(table: Table, audited: Audit) -> Iterator[StandsOut]:
    """Variables that lack their values in the same rows, more often than chance would have it."""
    n = audited.n_rows
    for pattern in audited.patterns:
        if len(pattern.symbols) < 2 or pattern.n < _TOGETHER:
            continue
        columns = [table.columns[symbol] for symbol in pattern.symbols]
        expected = n * float(np.prod([float((column.reasons > 0).mean()) for column in columns]))
        if pattern.n > 3 * expected + _TOGETHER and pattern.n < n:
            names = [column.label for column in columns]
            said = f"{', '.join(names[:3])}{' and others' if len(names) > 3 else ''}"
            yield StandsOut(
                "together", f"{said} are missing in the same rows.",
                f"{counted(pattern.n, 'row')}, where chance would have about {fixed(expected, 0)}", pattern.symbols,
            )  # fmt: skip


def _of_values(column: Column) -> list[StandsOut]:
    assert column.numbers is not None
    rows = np.flatnonzero(column.reasons == 0)
    if rows.size > MOST_VALUES:
        rows = np.sort(np.random.default_rng(0).choice(rows, MOST_VALUES, replace=False))
    values = column.numbers[rows]
    if values.size < _FEWEST or not values.min() < values.max():
        return []
    try:
        power, skewed = _skew(column, values)
        return [*skewed, *_far(column, rows, _scaled(values, power)), *_peaks(column, values)]
    except HeronError:  # numbers too large for squares and the like
        return []


def _skew(column: Column, values: Floats) -> tuple[float, list[StandsOut]]:
    """The power of the straighter scale, 1 for the one as it is, and what is said of it. It is judged without the
    outermost values, which a single mistake would decide."""
    cut = max(1, values.size // 100)
    inner = power_ladder(np.sort(values)[cut:-cut])
    rungs = {rung.power: rung for rung in inner.steps}
    now, best = rungs[1.0].skewness, None if inner.best is None else rungs[inner.best]
    if now is None or abs(now) <= _SKEWED or best is None or best.skewness is None or best.power == 1:
        return 1.0, []
    whole = {rung.power: rung for rung in power_ladder(values).steps}
    before, after = whole[1.0].skewness, whole[best.power].skewness
    if abs(best.skewness) >= abs(now) / 2 or before is None or after is None or whole[best.power].lost.size:
        return 1.0, []
    side = "right" if now > 0 else "left"
    words = f"{column.label} is strongly {side}-skewed; {_SCALES[best.power]} lessens it."
    evidence = f"skewness {_short(before)}, there {_short(after)}"
    return best.power, [StandsOut("skew", words, evidence, (column.symbol,))]


def _short(value: float) -> str:
    return fixed(round(value, 1) + 0.0, 1)


def _scaled(values: Floats, power: float) -> Floats:
    scaled = np.log(values) if power == 0 else np.sign(power) * values**power
    return np.asarray(scaled, dtype=np.float64)


def _far(column: Column, rows: np.ndarray[tuple[int], np.dtype[np.int64]], values: Floats) -> Iterator[StandsOut]:
    middle = float(np.median(values))
    mad = 1.4826 * float(np.median(np.abs(values - middle)))
    if not 0 < mad < np.inf:
        return
    away = np.abs(values - middle) / mad
    far = np.flatnonzero(away > _FAR)
    if 0 < far.size <= 5:
        named = rows[far[np.argsort(-away[far])]]
        first = ", ".join(grouped(int(row) + 1) for row in named[:3])
        named_in_words = f"{first}{' and more' if far.size > 3 else ''} of {column.label}"
        said = f"Rows {named_in_words} lie" if far.size > 1 else f"Row {named_in_words} lies"
        yield StandsOut(
            "far", f"{said} far from all others.", f"{fixed(float(away.max()), 0)} scaled MADs from the median",
            (column.symbol,), tuple(named.tolist()),
        )  # fmt: skip


def _peaks(column: Column, values: Floats) -> Iterator[StandsOut]:
    if values.size < _FEWEST_OF_PEAKS or np.unique(values).size < _FEWEST:
        return
    width = kernel_density(values).bandwidth
    curve = kernel_density(values, bandwidth=_WIDER * width)
    heights = curve.density
    tops = np.flatnonzero((heights[1:-1] > heights[:-2]) & (heights[1:-1] >= heights[2:])) + 1
    if tops.size < 2:
        return
    one, other = np.sort(tops[np.argsort(-heights[tops])][:2])
    lesser, valley = min(heights[one], heights[other]), float(heights[one : other + 1].min())
    if valley < _VALLEY * lesser and lesser > _LESSER * heights.max():
        places = [significant(curve.x[at], 3) for at in (one, other)]
        yield StandsOut(
            "peaks", f"{column.label} has two peaks, near {places[0]} and {places[1]}.",
            f"between them the density falls to {fixed(100 * valley / lesser, 0)} % of the lesser one",
            (column.symbol,),
        )  # fmt: skip


def _spreads(table: Table, numbers: list[Column], check: Callable[[], None]) -> list[StandsOut]:
    groupings = [
        column for column in table.columns.values()
        if column.codes is not None and column.kind in _GROUPING and 2 <= len(column.levels) <= _MOST_GROUPS
    ]  # fmt: skip
    n_comparisons = len(groupings) * len(numbers)
    found = []
    for by in groupings:
        assert by.codes is not None
        for column in numbers:
            check()
            assert column.numbers is not None
            known = np.flatnonzero((column.reasons == 0) & (by.codes >= 0))[:MOST_VALUES]
            groups = by.codes[known]
            sizes = np.bincount(groups, minlength=len(by.levels))
            if (sizes >= _FEWEST_OF_GROUP).sum() < 2:
                continue
            large = sizes[groups] >= _FEWEST_OF_GROUP
            compared = compare_spreads(column.numbers[known][large], groups[large].tolist())
            test, ratio = compared.brown_forsythe, compared.sd_ratio
            if test is None or ratio is None or ratio < _RATIO or test.p_value * n_comparisons > _SURE:
                continue
            words = f"{column.label} is not equally spread in the groups of {by.label}."
            told = f"the largest SD is {fixed(ratio, 1)} times the smallest; "
            told += f"Brown and Forsythe's test, p {p_words(test.p_value)}"
            found.append((ratio, StandsOut("spreads", words, told, (column.symbol, by.symbol))))
    return [one for _, one in sorted(found, key=lambda pair: -pair[0])]
