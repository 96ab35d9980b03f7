"""What a careful eye looks for in a table before anything is computed from it."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints
from heron.columns import Column, Table
from heron.formatting import counted, grouped

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


def audit(table: Table, *, bounds: Mapping[str, Bounds] | None = None) -> Audit:
    """Return what is complete, what is missing together, and what deserves a look.

    Parameters: table; bounds: the lowest and highest value that a variable can take, by symbol, None for no bound.
    Notes: heaping is found where over 30 % of the values, and over 5 SD more than the 20 % that would be by chance, end
    in 0 or 5 at their last recorded decimal.
    """
    columns = list(table.columns.values())
    missing = np.array([column.reasons > 0 for column in columns]).reshape(len(columns), table.n_rows)
    shown, total = _patterns(missing, [column.symbol for column in columns])
    findings = [*_repeated_rows(columns, table.n_rows)]
    for column in columns:
        findings += _constant(column)
        findings += _repeated_identifiers(column)
        findings += _impossible(column, (bounds or {}).get(column.symbol, (None, None)))
        findings += _heaped(column)
    complete = int((~missing.any(axis=0)).sum())
    return Audit(table.n_rows, len(columns), complete, shown, total, tuple(findings))


def _finding(code: str, words: str, symbol: str, rows: Ints) -> Finding:
    return Finding(code, words, symbol, rows[:MOST_ROWS], int(rows.size))


def _patterns(missing: np.ndarray, symbols: list[str]) -> tuple[tuple[Pattern, ...], int]:
    if missing.size == 0:
        return (), 0
    if len(symbols) <= 62:  # whole numbers sort much faster than strings of bytes
        keys = (missing.T * (1 << np.arange(len(symbols), dtype=np.int64))).sum(axis=1)
    else:
        packed = np.ascontiguousarray(np.packbits(missing, axis=0).T)
        keys = packed.view(np.dtype((np.void, packed.shape[1]))).ravel()
    _, first, counts = np.unique(keys, return_index=True, return_counts=True)
    order = np.argsort(-counts, kind="stable")[:MOST_PATTERNS]
    result = tuple(
        Pattern(tuple(symbols[i] for i in np.flatnonzero(missing[:, first[k]])), int(counts[k])) for k in order
    )
    return result, int(counts.size)


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


def _constant(column: Column) -> list[Finding]:
    known = np.flatnonzero(column.reasons == 0)
    if known.size == 0 and column.n_rows:
        return [_finding("no-values", f"{column.label} has no value at all.", column.symbol, known)]
    if known.size < 2:
        return []
    values: Ints | Floats = _codes(column)[known]
    if values.min() == values.max():
        return [_finding("constant", f"{column.label} is the same in every row.", column.symbol, known)]
    return []


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


def _impossible(column: Column, bounds: Bounds) -> list[Finding]:
    low, high = bounds
    if column.numbers is None or (low is None and high is None):
        return []
    with np.errstate(invalid="ignore"):
        beyond = (column.numbers < (-np.inf if low is None else low)) | (
            column.numbers > (np.inf if high is None else high)
        )
    rows = np.flatnonzero(beyond)
    if not rows.size:
        return []
    words = (
        f"{counted(rows.size, 'value')} of {column.label} {'lies' if rows.size == 1 else 'lie'} beyond what it can be."
    )
    return [_finding("impossible", words, column.symbol, rows)]


def _heaped(column: Column) -> list[Finding]:
    if column.numbers is None or column.kind not in ("continuous", "count") or column.decimals is None:
        return []
    known = np.flatnonzero(~np.isnan(column.numbers))
    steps = np.rint(np.abs(column.numbers[known]) * 10.0**column.decimals)
    if known.size < 50 or not np.all(np.isfinite(steps)) or np.ptp(steps) < _HEAPING_SPAN or steps.max() > 2**52:
        return []
    at_fives = steps % 5 == 0
    share = float(at_fives.mean())
    if share < _HEAPING_SHARE or (share - 0.2) / np.sqrt(0.16 / known.size) < _HEAPING_SD:
        return []
    words = (
        f"{100 * share:.0f} % of the {grouped(known.size)} values of {column.label} end in 0 or 5, where 20 % would by "
        "chance: they may have been rounded by hand."
    )
    return [_finding("heaped", words, column.symbol, known[at_fives])]
