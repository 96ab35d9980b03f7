"""What is said of a variable, and the column that follows: its kind, missing codes, limits, levels, corrected cells."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints, choose
from heron.columns import KINDS, SET_ASIDE, Column, Kind
from heron.errors import ChoiceError, InputError
from heron.formatting import counted
from heron.intake import limited_text
from heron.intake.dates import read_dates

Description = Mapping[str, Any]
SHAPING = frozenset(
    {"kind", "missing_codes", "below_limit", "detection_limit", "levels", "level_labels", "level_numbers"}
)
BELOW_LIMIT = ("missing", "limit", "half")
MOST_LEVELS = 1_000
_NUMBER = re.compile(r"[-+]?(\d+(\.\d*)?|\.\d+)([eE][-+]?\d+)?")
_MOST_CODES = 200
# Scales whose zero is a convention.
_ARBITRARY_ZERO = frozenset({"°c", "°f", "c", "f", "degc", "deg c", "degf", "ph", "db", "year"})


@dataclass(frozen=True)
class Loss:
    """What a description would take away. words: a sentence each; n: values that would count as missing; rows: their
    positions, from 0."""

    words: tuple[str, ...]
    n: int
    rows: Ints


def apply_description(column: Column, said: Description) -> Column:
    """Return the column as its description has it.

    Parameters: said, any of label, unit, decimals; kind; missing_codes, the texts that mean missing (blank always
    does); below_limit, what stands for a value known only to lie below a limit, such as "<0.5": "missing" (default),
    "limit" or "half" of it; detection_limit, below which numbers are taken for values below the limit; levels, all in
    their order; level_labels, new words by level; level_numbers, a number by level, for a number axis.
    Returns: Column; a value that the kind cannot hold counts as missing, by the text it was.
    Raises: ChoiceError for a kind or treatment that the column cannot take; InputError for levels that are not its own.
    """
    if "missing_codes" in said:
        column = _with_missing_codes(column, said["missing_codes"] or ())
    if said.get("kind"):
        column = _of_kind(column, choose(said["kind"], KINDS, where="kind"))
    treatment = choose(said.get("below_limit") or "missing", BELOW_LIMIT, where="below_limit")
    limit = said.get("detection_limit")
    if column.numbers is not None and column.kind != "date-time" and (limit is not None or treatment != "missing"):
        column = _with_limit(column, limit, treatment)
    if column.codes is not None:
        column = _with_levels(column, said)
    elif column.kind == "ordered" and said.get("level_labels"):
        words = tuple(str(said["level_labels"].get(level) or level) for level in column.levels)
        column = replace(column, levels=words, level_numbers=tuple(float(level) for level in column.levels))
    return replace(
        column,
        label=said.get("label", column.label),
        unit=said.get("unit", column.unit),
        decimals=column.decimals if said.get("decimals") is None else said["decimals"],
    )


def losses(before: Column, after: Column) -> Loss:
    """What is lost from one form of a column to another, in words."""
    rows = np.flatnonzero((before.reasons == 0) & (after.reasons > 0))
    words = []
    if rows.size:
        by_code = np.bincount(after.reasons[rows] - 1, minlength=len(after.missing_codes))
        often = np.argsort(-by_code, kind="stable")[:5]
        listed = ", ".join(f"{after.missing_codes[i][:24]} {by_code[i]}" for i in often if by_code[i])
        words.append(
            f"{counted(rows.size, 'value')} of {before.n_rows - before.n_missing} would count as missing: {listed}."
        )
    if before.numbers is not None and after.numbers is None:
        words.append("Numbers become names: their distances are no longer used, so there is no mean and no histogram.")
    if before.kind == "ordered" and after.kind in ("category", "text", "identifier"):
        words.append("The order of the levels is no longer used.")
    if after.kind == "count" and after.numbers is not None:
        parts = np.flatnonzero(after.numbers != np.rint(after.numbers))
        parts = parts[after.reasons[parts] == 0]
        if parts.size:
            words.append(f"{counted(parts.size, 'value')} with decimals {'is' if parts.size == 1 else 'are'} no count.")
    return Loss(tuple(words), int(rows.size), rows)


def apply_corrections(column: Column, cells: Mapping[int, str]) -> Column:
    """Return the column with other text in some cells, by position from 0, read as the column's kind reads it."""
    if not cells:
        return column
    codes, levels = list(column.missing_codes), list(column.levels)
    numbers = None if column.numbers is None else column.numbers.copy()
    labels = None if column.codes is None else column.codes.copy()
    limits = None if column.limits is None else column.limits.copy()
    reasons = column.reasons.copy()
    for position, text in cells.items():
        if limits is not None:
            limits[position] = np.nan
        value = _value(column.kind, numbers is not None, text.strip())
        code = _missing_code(codes, text)
        if code is None and value is None:
            code = text.strip()
            codes.append(code)
        reasons[position] = 0 if code is None else codes.index(code) + 1
        if numbers is not None:
            numbers[position] = np.nan if code is not None else value
        elif labels is not None:
            if code is None and value not in levels:
                levels.append(str(value))
            labels[position] = -1 if code is not None else levels.index(str(value))
    changed = replace(
        column,
        numbers=numbers,
        codes=labels,
        limits=limits,
        reasons=reasons,
        missing_codes=tuple(codes),
        levels=tuple(levels),
    )
    return (
        changed if column.numbers is None or column.kind != "ordered" else replace(changed, levels=_levels_of(changed))
    )


def labels_of(column: Column) -> tuple[list[str], Ints]:
    """The levels of a column, in their order and as text, and the index of each row among them, -1 where missing."""
    if column.codes is None:
        column = apply_description(column, {"kind": "category"})
    assert column.codes is not None
    return list(column.levels), column.codes.astype(np.int64)


def can_hold(column: Column, text: str) -> bool:
    """Whether a cell of the column can hold the text: as a value of its kind, or as one of its missing codes."""
    known = _missing_code(list(column.missing_codes), text) is not None
    return known or _value(column.kind, column.numbers is not None, text.strip()) is not None


def zero_means_none(column: Column) -> bool:
    """Whether zero can be taken to mean none, as long as nobody says: no value below it, no scale with another zero."""
    if column.numbers is None or column.kind not in ("continuous", "count"):
        return False
    known = column.numbers[column.reasons == 0]
    return bool(known.size and known.min() >= 0 and column.unit.strip().lower() not in _ARBITRARY_ZERO)


def cell_text(column: Column, position: int) -> str:
    """A cell as text; a missing one as its code, blank as nothing; a value below a limit as that."""
    reason = int(column.reasons[position])
    if reason:
        code = column.missing_codes[reason - 1]
        return "" if code == "blank" else code
    if column.limits is not None and not np.isnan(column.limits[position]):
        return f"<{column.limits[position]:g}"
    return written(column, position)


def holds(column: Column, position: int, text: str) -> bool:
    """Whether a cell holds what a text says, however either is written."""
    if cell_text(column, position) == text:
        return True
    below = column.limits is not None and not np.isnan(column.limits[position])
    if column.numbers is None or column.reasons[position] or below:
        return False
    return bool(_value(column.kind, True, text.strip()) == column.numbers[position])


def written(column: Column, position: int) -> str:
    """The value in a cell as text; empty where it is missing."""
    if column.reasons[position]:
        return ""
    if column.codes is not None:
        return column.levels[int(column.codes[position])]
    assert column.numbers is not None
    if column.kind == "date-time":
        moment = np.rint(column.numbers[position] * 1000).astype("datetime64[ms]")
        return f"{moment.astype('datetime64[D]' if column.whole_days else 'datetime64[s]')}".replace("T", " ")
    value = float(column.numbers[position])
    if column.level_numbers and value in column.level_numbers:
        return column.levels[column.level_numbers.index(value)]
    if column.decimals is not None and abs(value) < 1e15 and round(value, column.decimals) == value:
        return f"{value:.{column.decimals}f}"
    return repr(value)


def _value(kind: Kind, numeric: bool, text: str) -> float | str | None:
    """The text as a value of the kind: a number, seconds since 1970, or a label; None where it is none."""
    if not text:
        return None
    if kind == "date-time":
        moment = float(read_dates([text]).moments[0])
        return None if np.isnan(moment) else moment
    if not numeric:
        return text
    plain = text.replace("\u2212", "-")
    return float(plain) if _NUMBER.fullmatch(plain) and np.isfinite(float(plain)) else None


def _missing_code(codes: Sequence[str], text: str) -> str | None:
    if not text.strip():
        return "blank"
    return next((code for code in codes if code.lower() == text.strip().lower() and code != "blank"), None)


def _with_missing_codes(column: Column, given: Sequence[str]) -> Column:
    """Only blanks and the codes given are missing: others get their value back, as far as the column can hold it."""
    wanted = [code.strip() for code in given if code.strip()]
    lower = {code.lower() for code in wanted}
    numeric = column.numbers is not None
    back = {
        index + 1: value
        for index, code in enumerate(column.missing_codes)
        if code.lower() not in {*lower, "blank", SET_ASIDE}
        and (value := _value(column.kind, numeric, code)) is not None
    }
    codes = [*column.missing_codes, *(code for code in wanted if code not in column.missing_codes)]
    reasons = column.reasons.copy()
    numbers = None if column.numbers is None else column.numbers.copy()
    labels = None if column.codes is None else column.codes.copy()
    levels = list(column.levels)
    for reason, value in back.items():
        at = column.reasons == reason
        reasons[at] = 0
        if numbers is not None:
            numbers[at] = value
        elif labels is not None:
            if value not in levels:
                levels.append(str(value))
            labels[at] = levels.index(str(value))
    for code in wanted:
        if numbers is not None:
            value = _value(column.kind, numeric, code)
            at = (numbers == value) & (reasons == 0) if value is not None else np.zeros(reasons.size, dtype=bool)
            numbers[at] = np.nan
        else:
            assert labels is not None
            meant = [i for i, level in enumerate(levels) if level.lower() == code.lower()]
            at = np.isin(labels, meant)
            labels[at] = -1
        reasons[at] = codes.index(code) + 1
    return _tidy(
        replace(
            column, numbers=numbers, codes=labels, reasons=reasons, missing_codes=tuple(codes), levels=tuple(levels)
        )
    )


def _tidy(column: Column) -> Column:
    """The column without levels that no longer occur, and ordered numbers with the levels that they have."""
    if column.codes is None:
        return replace(column, levels=_levels_of(column)) if column.kind == "ordered" else column
    used = np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels)) > 0
    if used.all():
        return column
    new_code = np.append(np.cumsum(used) - 1, -1).astype(np.int32)
    kept = tuple(level for level, is_used in zip(column.levels, used, strict=True) if is_used)
    return replace(column, codes=new_code[column.codes], levels=kept)


def _levels_of(column: Column) -> tuple[str, ...]:
    assert column.numbers is not None
    distinct = np.unique(column.numbers[column.reasons == 0])
    return tuple(f"{value:.15g}" for value in distinct[:MOST_LEVELS])


def _of_kind(column: Column, kind: Kind) -> Column:
    if kind == column.kind:
        return column
    numeric = ("continuous", "count", "ordered")
    if column.kind == "date-time" or column.numbers is None:
        if kind == "date-time" or (kind in ("continuous", "count") and column.kind != "date-time"):
            return _parsed(column, kind)
        if kind in ("continuous", "count"):
            raise ChoiceError(kind, ("date-time", "text", "category", "ordered"), where=f"The kind of {column.label}")
        return _as_labels(column, kind) if column.kind == "date-time" else replace(column, kind=kind)
    if kind == "date-time":
        raise ChoiceError(kind, (*numeric, "text", "category", "identifier"), where=f"The kind of {column.label}")
    if kind in numeric:
        levels = _levels_of(column) if kind == "ordered" else ()
        decimals = 0 if column.decimals is None else column.decimals
        return replace(column, kind=kind, levels=levels, decimals=decimals)
    return _as_labels(column, kind)


def _as_labels(column: Column, kind: Kind) -> Column:
    assert column.numbers is not None
    known = column.reasons == 0
    distinct, index = np.unique(column.numbers[known], return_inverse=True)
    codes = np.full(column.n_rows, -1, dtype=np.int32)
    codes[known] = index
    at = {value: int(position) for value, position in zip(index, np.flatnonzero(known), strict=True)}
    levels = tuple(
        written(column, at[i]) if column.kind == "date-time" else f"{value:.15g}" for i, value in enumerate(distinct)
    )
    return replace(column, kind=kind, numbers=None, codes=codes, levels=levels, limits=None)


def _parsed(column: Column, kind: Kind) -> Column:
    """Labels read as numbers or times; what cannot be read counts as missing, by the text it was."""
    assert column.codes is not None
    values: list[Any] = [_value(kind, True, level) for level in column.levels]
    if kind == "date-time":  # together, since one tells the order of day and month in the other
        values = [None if np.isnan(moment) else moment for moment in read_dates(column.levels).moments.tolist()]
    unread = [level for level, value in zip(column.levels, values, strict=True) if value is None]
    kept = unread[: _MOST_CODES - len(column.missing_codes)]
    codes = [*column.missing_codes, *kept]
    if len(kept) < len(unread):
        codes.append("other text")
    reason_of = [
        0 if value is not None else codes.index(level if level in kept else "other text") + 1
        for level, value in zip(column.levels, values, strict=True)
    ]
    reasons = np.where(column.codes >= 0, np.array([*reason_of, 0], dtype=np.uint8)[column.codes], column.reasons)
    numbers: Floats = np.array([*(np.nan if v is None else v for v in values), np.nan], dtype=np.float64)[column.codes]
    places = [
        len(level.lower().partition("e")[0].partition(".")[2])
        for level, v in zip(column.levels, values, strict=True)
        if v is not None
    ]
    return replace(
        column,
        kind=kind,
        numbers=numbers,
        codes=None,
        levels=(),
        reasons=reasons.astype(np.uint8),
        missing_codes=tuple(codes),
        decimals=max(places, default=0) if kind != "date-time" else None,
    )


def limits_in(column: Column) -> Floats:
    """(n_rows,) the limit below which a value is only known to lie, whether or not something stands for it; NaN where
    there is none."""
    if column.limits is not None:
        return column.limits
    result = np.full(column.n_rows, np.nan)
    for index, code in enumerate(column.missing_codes):
        named = limited_text(code)
        if named is not None:
            result[column.reasons == index + 1] = named
    return result


def _with_limit(column: Column, limit: float | None, treatment: str) -> Column:
    """The values below a limit, known by their text or by a declared limit, as what stands for them."""
    assert column.numbers is not None
    numbers, reasons = column.numbers.copy(), column.reasons.copy()
    limit_of = limits_in(column)
    codes = column.missing_codes
    if limit is not None:
        under = (reasons == 0) & (numbers < limit)
        limit_of[under] = limit
        if treatment == "missing" and under.any():
            word = f"<{limit:g}"
            codes = codes if word in codes else (*codes, word)
            reasons[under] = codes.index(word) + 1
            numbers[under] = np.nan
    below = ~np.isnan(limit_of)
    if treatment == "missing" or not below.any():
        return replace(column, numbers=numbers, reasons=reasons, missing_codes=codes)
    numbers[below] = limit_of[below] * (0.5 if treatment == "half" else 1.0)
    reasons[below] = 0
    return replace(column, numbers=numbers, reasons=reasons, limits=np.where(below, limit_of, np.nan))


def _with_levels(column: Column, said: Description) -> Column:
    order = said.get("levels")
    if order:
        strange = [level for level in order if level not in column.levels]
        if strange or len(set(order)) < len(order):
            raise InputError(
                "no-level",
                f"{column.label} has no level {strange[0]!r}." if strange else "A level is named twice.",
                where="levels",
                remedy="Name each of its levels once.",
            )
        # Levels that came since, by a correction or another reading, stand last.
        column = column.with_levels([*order, *(level for level in column.levels if level not in order)])
    numbers, words = said.get("level_numbers") or {}, said.get("level_labels") or {}
    labels = tuple(str(words.get(level) or level) for level in column.levels)
    if len(set(labels)) < len(labels):
        twice = next(label for label in labels if labels.count(label) > 1)
        raise InputError("level-twice", f"Two levels would be called {twice!r}.", where="level_labels")
    if column.kind != "ordered" or any(numbers.get(level) is None for level in column.levels):
        return replace(column, levels=labels)
    places = tuple(float(numbers[level]) for level in column.levels)
    if len(set(places)) < len(places):
        raise InputError("number-twice", "Two levels have one number.", where="level_numbers")
    assert column.codes is not None
    values: NDArray[np.float64] = np.array([*places, np.nan])[column.codes]
    return replace(
        column, numbers=values, codes=None, levels=labels, level_numbers=places, decimals=_decimals_of(places)
    )


def _decimals_of(values: Sequence[float]) -> int:
    return max(len(f"{value:.10g}".partition(".")[2]) for value in values)
