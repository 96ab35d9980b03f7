"""What a careful eye looks for in a table before anything is computed from it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron.checks import Ints
from heron.columns import Column, Table
from heron.formatting import counted, fixed, grouped

MOST_PATTERNS = 12
MOST_ROWS = 1_000
_HEAPING_SPAN = 20  # steps between the smallest and the largest value below which ends of five say nothing
_HEAPING_SHARE = 0.3
_HEAPING_SD = 5.0

Bounds = tuple[float | None, float | None]


@dataclass(frozen=True)
class Pattern:
    """Variables that are missing together, and how many rows have just these missing; none is the complete rows."""

    symbols: tuple[str, ...]
    n: int


@dataclass(frozen=True)
class Finding:
    """Something that deserves a look. rows: (k,) row positions, at most 1,000 of the `count` concerned."""

    code: str
    words: str
    symbol: str
    rows: Ints
    count: int


@dataclass(frozen=True)
class Audit:
    """n_complete: rows with no value missing; patterns: the most frequent ones first; n_patterns: of all there are."""

    n_rows: int
    n_columns: int
    n_complete: int
    patterns: tuple[Pattern, ...]
    n_patterns: int
    findings: tuple[Finding, ...]


@dataclass(frozen=True)
class ColumnFacts:
    """What is looked for in a column, or in a part of it.

    n_known: values; one: the value that all have, several: whether they differ; known, beyond, fives: (k,) at most
    1,000 positions of values, of those beyond what it can be, and of those that end in 0 or 5 at their last decimal,
    with the numbers of these; low, high: the fewest and most steps of that decimal, where it is known.
    """

    n_known: int
    one: str
    several: bool
    known: Ints
    n_beyond: int
    beyond: Ints
    n_fives: int
    fives: Ints
    low: float
    high: float


def facts_of(column: Column, bounds: Bounds, first: int = 0) -> ColumnFacts:
    """The facts of a column, or of a part that begins at a position."""
    known = np.flatnonzero(column.reasons == 0)
    values = _values(column)[known]
    several = known.size > 0 and bool(values.min() < values.max())
    beyond, fives, low, high = known[:0], known[:0], np.inf, -np.inf
    if column.numbers is not None:
        least, most = (end if end is not None else side for end, side in zip(bounds, (-np.inf, np.inf), strict=True))
        beyond = known[(values < least) | (values > most)]
        if column.kind in ("continuous", "count") and column.decimals is not None and known.size:
            with np.errstate(over="ignore"):
                steps = np.rint(np.abs(values) * 10.0**column.decimals)
            low, high = float(steps.min()), float(steps.max())
            fives = known[steps % 5 == 0] if np.isfinite(high) else fives
    return ColumnFacts(
        known.size, "" if several or not known.size else str(column.values[known[0]]), several,
        known[:MOST_ROWS] + first, beyond.size, beyond[:MOST_ROWS] + first, fives.size, fives[:MOST_ROWS] + first,
        low, high,
    )  # fmt: skip


def joined_facts(parts: Sequence[ColumnFacts]) -> ColumnFacts:
    """The facts of a column from those of its parts, in their order."""
    ones = {part.one for part in parts if part.n_known and not part.several}
    several = any(part.several for part in parts) or len(ones) > 1

    def rows(name: str) -> Ints:
        return np.asarray(np.concatenate([getattr(part, name) for part in parts])[:MOST_ROWS])

    return ColumnFacts(
        sum(part.n_known for part in parts), "" if several else next(iter(ones), ""), several, rows("known"),
        sum(part.n_beyond for part in parts), rows("beyond"), sum(part.n_fives for part in parts), rows("fives"),
        min(part.low for part in parts), max(part.high for part in parts),
    )  # fmt: skip


def patterns_of(columns: Sequence[Column]) -> dict[str, int]:
    """How many rows lack just some variables, by the places of these: "" for complete rows, "0 3"."""
    missing = np.array([column.reasons > 0 for column in columns])
    if missing.size == 0:
        return {}
    if len(columns) <= 62:  # whole numbers sort much faster than strings of bytes
        keys = (missing.T * (1 << np.arange(len(columns), dtype=np.int64))).sum(axis=1)
    else:
        packed = np.ascontiguousarray(np.packbits(missing, axis=0).T)
        keys = packed.view(np.dtype((np.void, packed.shape[1]))).ravel()
    _, first, counts = np.unique(keys, return_index=True, return_counts=True)
    return {
        " ".join(map(str, np.flatnonzero(missing[:, at]))): n
        for at, n in zip(first.tolist(), counts.tolist(), strict=True)
    }


def audit(table: Table, *, bounds: Mapping[str, Bounds] | None = None) -> Audit:
    """Return what is complete, what is missing together, and what deserves a look.

    Parameters: table; bounds: the lowest and highest value that a variable can take, by symbol, None for no bound.
    Notes: heaping is found where over 30 % of the values, and over 5 SD more than the 20 % that would be by chance, end
    in 0 or 5 at their last recorded decimal.
    """
    columns = list(table.columns.values())
    facts = [facts_of(column, (bounds or {}).get(column.symbol, (None, None))) for column in columns]
    found = audit_of_facts(columns, facts, patterns_of(columns), table.n_rows)
    repeated = [
        *_repeated_rows(columns, table.n_rows),
        *(finding for column in columns for finding in _repeated_identifiers(column)),
    ]
    return replace(found, findings=(*repeated, *found.findings))


def audit_of_facts(
    columns: Sequence[Column], facts: Sequence[ColumnFacts], patterns: Mapping[str, int], n_rows: int
) -> Audit:
    """The audit of a table by the facts of its columns, of which only what is said of them is asked; rows and
    identifiers that repeat others are not looked for."""
    shown = sorted(patterns.items(), key=lambda pattern: -pattern[1])[:MOST_PATTERNS]
    findings: list[Finding] = []
    for column, told in zip(columns, facts, strict=True):
        findings += [*_constant(column, told, n_rows), *_impossible(column, told), *_heaped(column, told)]
    return Audit(
        n_rows, len(columns), patterns.get("", 0),
        tuple(Pattern(tuple(columns[int(i)].symbol for i in places.split()), n) for places, n in shown),
        len(patterns), tuple(findings),
    )  # fmt: skip


def _finding(code: str, words: str, symbol: str, rows: Ints) -> Finding:
    return Finding(code, words, symbol, rows[:MOST_ROWS], int(rows.size))


def _values(column: Column) -> NDArray[Any]:
    """(n_rows,) whatever tells values apart."""
    values = column.numbers if column.numbers is not None else column.codes
    assert values is not None
    return values


def _codes(column: Column) -> Ints:
    """(n_rows,) whole numbers, equal where the values are, missing ones by their code."""
    if column.codes is not None:
        values = column.codes.astype(np.int64)
    else:
        assert column.numbers is not None
        values = np.unique(np.nan_to_num(column.numbers), return_inverse=True)[1].astype(np.int64)
    return np.where(column.reasons > 0, -1 - column.reasons.astype(np.int64), values)


def _repeated_rows(columns: list[Column], n_rows: int) -> list[Finding]:
    told = [column for column in columns if column.kind != "identifier"]
    if n_rows < 2 or not told:
        return []
    group = np.zeros(n_rows, dtype=np.int64)
    for column in told:
        codes = _codes(column)
        # Pairs of group and code, numbered anew at each step, so that nothing grows beyond n_rows groups.
        group = np.unique(group * (codes.max() - codes.min() + 1) + (codes - codes.min()), return_inverse=True)[1]
        if group.max() == n_rows - 1:
            return []
    repeats = np.bincount(group)[group] > 1
    later = np.flatnonzero(repeats)
    extra = later.size - np.unique(group[later]).size
    words = f"{counted(extra, 'row')} {'repeats' if extra == 1 else 'repeat'} another in every value but an identifier."
    return [_finding("repeated-rows", words, "", later)]


def _constant(column: Column, told: ColumnFacts, n_rows: int) -> list[Finding]:
    if told.n_known == 0 and n_rows:
        return [Finding("no-values", f"{column.label} has no value at all.", column.symbol, told.known, 0)]
    if told.n_known < 2 or told.several:
        return []
    words = f"{column.label} is the same in every row."
    return [Finding("constant", words, column.symbol, told.known, told.n_known)]


def _repeated_identifiers(column: Column) -> list[Finding]:
    if column.kind != "identifier" or column.codes is None:
        return []
    known = column.codes[column.codes >= 0]
    often = np.bincount(known, minlength=len(column.levels)) > 1
    if not often.any():
        return []
    rows = np.flatnonzero((column.codes >= 0) & often[column.codes])
    occur = "occurs" if often.sum() == 1 else "occur"
    words = f"{counted(int(often.sum()), 'value')} of {column.label} {occur} more than once."
    return [_finding("repeated-identifiers", words, column.symbol, rows)]


def _impossible(column: Column, told: ColumnFacts) -> list[Finding]:
    if not told.n_beyond:
        return []
    lie = "lies" if told.n_beyond == 1 else "lie"
    words = f"{counted(told.n_beyond, 'value')} of {column.label} {lie} beyond what it can be."
    return [Finding("impossible", words, column.symbol, told.beyond, told.n_beyond)]


def _heaped(column: Column, told: ColumnFacts) -> list[Finding]:
    n = told.n_known
    if n < 50 or not told.high - told.low >= _HEAPING_SPAN or told.high > 2**52:
        return []
    share = told.n_fives / n
    if share < _HEAPING_SHARE or (share - 0.2) / np.sqrt(0.16 / n) < _HEAPING_SD:
        return []
    words = (
        f"{fixed(100 * share, 0)} % of the {grouped(n)} values of {column.label} end in 0 or 5, where 20 % would by "
        "chance: they may have been rounded by hand."
    )
    return [Finding("heaped", words, column.symbol, told.fives, told.n_fives)]
