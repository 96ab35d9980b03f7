"""From a column of text to a typed column: numbers, dates or labels, and which kind of variable they make."""

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
from numpy.typing import NDArray

from heron.checks import Floats
from heron.columns import Column, Kind
from heron.formatting import counted
from heron.intake import long, questions
from heron.intake.dates import DateOrder, read_dates
from heron.intake.found import Problem, Remedy
from heron.intake.missing import TOKENS, WORD_TOKENS, limited_text, number_codes
from heron.intake.names import is_unit
from heron.intake.questions import MOST_CODES, Cells

_IDENTIFIER_NAME = re.compile(r"(^|_)(id|nr|no|tag|index|key|code|label|name)$")
_BEFORE_UNIT = re.compile(
    r"([-+\u2212]?\d[\d.,'\u2019\u00a0\u2009\u202f]*)([ \u00a0\u202f]?)([^\W\d_]{1,7}|%|\u00b0[CF]?)"
)
_MOST_SPELT = 1_000  # labels; texts that hardly repeat have no usual spelling
_FIRST = 2_000  # values by which a column's decimals are told


@dataclass(frozen=True)
class ColumnSettings:
    """What is known of a column before its values are looked at."""

    symbol: str
    label: str
    unit: str
    decimal: str
    kind: Kind | None
    missing_codes: tuple[str, ...] | None
    date_order: DateOrder | None = None
    one_spelling: bool = False  # whether labels that differ in capitals or blanks only are one
    limited: bool = False  # whether "<0.5" is a value known to lie below a limit, kept as a code of its own


def typed(text: pa.ChunkedArray | pa.Array, settings: ColumnSettings) -> tuple[Column, list[Problem]]:
    """Return the column with its values typed, and what looks wrong with it."""
    if isinstance(text, pa.ChunkedArray):
        text = text.combine_chunks()
    blank = pc.equal(text, "")
    numbers = (
        None
        if settings.kind in ("category", "text", "identifier", "date-time")
        or (settings.kind is None and _padded(text).any())
        else _fast_numbers(text, blank, settings)
    )
    if numbers is not None and settings.missing_codes is None:
        return _number_column(numbers, np.isnan(numbers).astype(np.uint8), ["blank"], text, settings, [])
    text = pc.utf8_trim_whitespace(text)
    return (_long(text, settings) if len(text) >= long.LONG else None) or _with_codes(text, settings)


def _long(text: pa.Array, settings: ColumnSettings) -> tuple[Column, list[Problem]] | None:
    """The column where it is one of those that `long` reads."""
    if settings.kind in ("category", "text", "identifier") or settings.limited:
        return None
    given, values = _given(settings)
    if settings.kind != "date-time" and not (settings.kind is None and _padded(text).any()):
        wanted = settings.kind in ("continuous", "count")
        found = long.numbers_with_codes(text, settings.decimal, given, values, wanted=wanted)
        if found is not None:
            return _number_column(*found, text, settings, [])
        if wanted:
            return None
    found = long.dates_with_codes(text, given)
    if found is None:
        return None
    seconds, reasons, codes = found
    return _date_column(seconds, reasons, codes, settings), []


def _date_column(seconds: Floats, reasons: NDArray[np.uint8], codes: Sequence[str], settings: ColumnSettings) -> Column:
    return Column(
        settings.symbol, settings.label, settings.unit, "date-time", seconds, None, (), reasons, tuple(codes)
    )  # fmt: skip


def _given(settings: ColumnSettings) -> tuple[set[str] | None, set[float]]:
    """The words that mean missing, in lower case, and the numbers that do; None for the well-known words."""
    if settings.missing_codes is None:
        return None, set()
    given = {code.strip().lower() for code in settings.missing_codes}
    plain = [code.replace("\u2212", "-") for code in given]
    return given, {float(code) for code in plain if re.fullmatch(long.NUMBER, code)}


def _fast_numbers(text: pa.Array, blank: pa.Array, settings: ColumnSettings) -> Floats | None:
    """The whole column as numbers where every value but blanks is one; else None."""
    if settings.decimal == ",":
        text = pc.replace_substring(text, ",", ".")
    first = text.slice(0, 50).to_pylist()
    if any(first) and not any(re.match(long.NUMBER, value) for value in first if value):
        return None
    if pc.any(blank).as_py():
        text = pc.if_else(blank, pa.scalar(None, pa.string()), text)
    if text.null_count == len(text):
        return None
    try:
        numbers = pc.cast(text, pa.float64()).to_numpy(zero_copy_only=False)
    except pa.ArrowInvalid:
        return None
    known = text.is_valid().to_numpy(zero_copy_only=False) if text.null_count else True
    # "nan" and "inf" are words here, not numbers.
    return numbers if np.all(np.isfinite(numbers) | ~np.asarray(known)) else None


def _padded(text: pa.Array) -> NDArray[np.bool_]:
    """Which values are digits behind a 0, as codes are: 007."""
    starts = pc.starts_with(text, "0")
    if not pc.any(starts).as_py():
        return np.zeros(len(text), dtype=bool)
    return np.asarray(pc.match_substring_regex(text, r"^0[0-9]+$").to_numpy(zero_copy_only=False))


def _with_codes(text: pa.Array, settings: ColumnSettings) -> tuple[Column, list[Problem]]:
    n = len(text)
    encoded = text.dictionary_encode()
    words = [str(word) for word in encoded.dictionary.to_pylist()]
    index = encoded.indices.to_numpy(zero_copy_only=False)
    counts = np.bincount(index, minlength=len(words))
    cells = Cells(settings.symbol, words, counts, index)
    wordy = settings.kind in ("category", "text", "identifier")
    bare, unit = (words, "") if wordy else _without_unit(words, settings)
    plain, grouped = _without_thousands(bare, settings)
    numeric = pc.match_substring_regex(plain, long.NUMBER).to_numpy(zero_copy_only=False)
    dates = read_dates(words, settings.date_order)
    dated = dates.ways > 0
    blank = np.array([word == "" for word in words], dtype=bool)
    # A value known to lie below a limit speaks for numbers, whatever is made of it.
    below = [word if word[:1] == "<" and limited_text(word) is not None else "" for word in plain.to_pylist()]
    limited = np.array([word != "" for word in below], dtype=bool)
    numeric_rows, dated_rows = int(counts[numeric | limited].sum()), int(counts[dated].sum())
    filled = n - int(counts[blank].sum())
    numbers_wanted = settings.kind in ("continuous", "count")
    padded = _padded(encoded.dictionary) if settings.kind is None else np.zeros_like(blank)
    as_numbers = numbers_wanted or (
        not wordy and not padded.any() and settings.kind != "date-time" and numeric_rows * 2 > filled
    )
    as_dates = not wordy and not as_numbers and dated_rows * 2 > filled
    code_of = _codes(words, plain.to_pylist(), numeric, as_numbers, as_dates, settings)
    if settings.limited and as_numbers:
        code_of = [code or limit for code, limit in zip(code_of, below, strict=True)]
    codes = ["blank", *dict.fromkeys(code for code in code_of if code and code != "blank")][: MOST_CODES + 1]
    reason_of = np.array([codes.index(code) + 1 if code in codes else 0 for code in code_of], dtype=np.uint8)
    left = (reason_of == 0) & ~(numeric if as_numbers else dated if as_dates else np.ones_like(blank))
    problems: list[Problem] = []
    reasons = reason_of[index] if n else np.empty(0, dtype=np.uint8)
    known = settings.missing_codes or ()
    if (as_numbers or as_dates) and left.any():
        expected = "numbers" if as_numbers else "dates"
        problems.append(questions.text_among(cells, left, expected, known, below_limit=bool(limited[left].all())))
        as_numbers = as_dates = False
    if as_dates:
        if reason_of.any():  # what means missing tells nothing of the order of the others
            coded = ["" if reason else word for word, reason in zip(words, reason_of, strict=True)]
            dates = read_dates(coded, settings.date_order)
        problems += questions.of_dates(cells, dates)
        as_dates = not dates.open.any()
    if padded.any() and not as_dates:
        problems.append(questions.leading_zeros(cells, padded))
    if as_numbers and grouped.any():
        problems.append(questions.thousands(cells, grouped))
    if as_numbers and unit:
        problems.append(questions.unit_behind(cells, numeric, unit))
    if as_numbers:
        parsed = np.full(len(words), np.nan)
        parsed[numeric] = pc.cast(plain.filter(pa.array(numeric)), pa.float64()).to_numpy()
        parsed[reason_of > 0] = np.nan
        too_large = np.isinf(parsed)
        if too_large.any():
            problems.append(questions.text_among(cells, too_large, "numbers", known, below_limit=False))
        else:
            if unit:
                settings = replace(settings, unit=unit)
                text = pa.array([bare[i] for i in index[:_FIRST]], pa.string())
            return _number_column(parsed[index], reasons, codes, text, settings, problems)
    elif as_dates and n:
        seconds = np.where(reason_of > 0, np.nan, dates.moments)
        return _date_column(seconds[index], reasons, codes, settings), problems
    return _label_column(cells, reason_of, reasons, codes, settings, problems)


def _without_unit(words: list[str], settings: ColumnSettings) -> tuple[list[str], str]:
    """The words without the unit that stands behind all their numbers, and that unit; "" where there is none."""
    if not any(_BEFORE_UNIT.fullmatch(word) for word in words[:200]):
        return words, ""
    result = [_BEFORE_UNIT.fullmatch(word) for word in words]
    units = {match[3] for match in result if match}
    unit = next(iter(units), "")
    spaced = all(match[2] for match in result if match)
    if len(units) != 1 or not is_unit(unit, spaced=spaced) or settings.unit not in ("", unit):
        return words, ""
    if any(re.fullmatch(long.NUMBER, word) for word in words):  # numbers without it may be in another one
        return words, ""
    return [match[1] if match else word for match, word in zip(result, words, strict=True)], unit


def _without_thousands(words: list[str], settings: ColumnSettings) -> tuple[pa.Array, NDArray[np.bool_]]:
    """The words with a point for the decimal mark and no marks between thousands, and which of them had such marks."""
    between = "[.'\u2019\u00a0\u2009\u202f ]" if settings.decimal == "," else "[,'\u2019\u00a0\u2009\u202f ]"
    pattern = re.compile(rf"[-+\u2212]?[1-9]\d{{0,2}}({between})\d{{3}}(\1\d{{3}})*({re.escape(settings.decimal)}\d+)?")
    plain = pa.array(words, pa.string())
    may_be = pc.match_substring_regex(plain, f"^[-+\u2212]?[1-9]\\d{{0,2}}{between}\\d{{3}}")
    grouped = np.array(may_be.to_numpy(zero_copy_only=False))
    for i in np.flatnonzero(grouped):
        grouped[i] = pattern.fullmatch(words[i]) is not None
    if grouped.any():
        bare = [re.sub(between, "", word) if marked else word for word, marked in zip(words, grouped, strict=True)]
        plain = pa.array(bare, pa.string())
    if settings.decimal == ",":
        plain = pc.replace_substring(plain, ",", ".")
    return pc.replace_substring(plain, "\u2212", "-"), grouped


def _codes(
    words: list[str],
    plain: list[str],
    numeric: NDArray[np.bool_],
    as_numbers: bool,
    as_dates: bool,
    settings: ColumnSettings,
) -> list[str]:
    """The missing code that each distinct word is, or an empty text."""
    given, values = _given(settings)
    if given is None:
        tokens = TOKENS if as_numbers or as_dates else WORD_TOKENS
        shown = (word.lower() if as_numbers or as_dates else word for word in words)
        return [
            "blank" if not word else word if token in tokens else "" for word, token in zip(words, shown, strict=True)
        ]
    result = []
    for word, number, is_number in zip(words, plain, numeric, strict=True):
        if not word:
            result.append("blank")
        elif word.lower() in given or (is_number and float(number) in values):
            result.append(word)
        else:
            result.append("")
    return result


def _number_column(
    numbers: Floats,
    reasons: NDArray[np.uint8],
    codes: list[str],
    text: pa.Array,
    settings: ColumnSettings,
    problems: list[Problem],
) -> tuple[Column, list[Problem]]:
    kind = settings.kind or number_kind(numbers, settings)
    for code, rows in number_codes(numbers).items():
        named = [name for name in codes if name != "blank"]
        said = f"{code.replace('-', chr(0x2212))} stands {counted(rows.size, 'time')}, far from all else."
        missing = Remedy("It means missing", {"missing_codes": [*named, code]})
        value = Remedy("It is a value", {"keep": code})
        problems.append(questions.problem_of_rows(settings.symbol, "number-as-code", said, rows, missing, value))
    if kind == "identifier":
        distinct, index = np.unique(numbers, return_inverse=True)
        words = ["" if np.isnan(value) else f"{value:.15g}" for value in distinct]
        counts = np.bincount(index, minlength=len(words))
        reason_of = np.array([0 if word else 1 for word in words], dtype=np.uint8)
        cells = Cells(settings.symbol, words, counts, index)
        return _label_column(cells, reason_of, reasons, codes, settings, problems)
    levels: tuple[str, ...] = ()
    if kind in ("ordered", "category"):
        levels = tuple(f"{value:.15g}" for value in np.unique(numbers[~np.isnan(numbers)]))
    if kind == "category":
        position = {level: i for i, level in enumerate(levels)}
        distinct, index = np.unique(numbers, return_inverse=True)
        level_of = np.array([position.get(f"{value:.15g}", -1) for value in distinct], dtype=np.int32)[index]
        column = Column(
            settings.symbol, settings.label, settings.unit, kind, None, level_of, levels, reasons, tuple(codes)
        )
        return column, problems
    column = Column(
        settings.symbol,
        settings.label,
        settings.unit,
        kind,
        numbers,
        None,
        levels,
        reasons,
        tuple(codes),
        _decimals(text, settings.decimal),
    )
    return column, problems


def number_kind(numbers: Floats, settings: ColumnSettings) -> Kind:
    """Which kind of variable these numbers make: whole numbers of few levels are ordered, others are counts."""
    known = numbers[~np.isnan(numbers)]
    if known.size == 0 or not np.all(known[:2000] == np.floor(known[:2000])) or not np.all(known == np.floor(known)):
        return "continuous"
    if settings.unit in ("count", "n", "number"):
        return "count"
    low, high = float(known.min()), float(known.max())
    distinct = np.unique(known) if high - low < 1e6 or known.size < 100_000 else None
    if distinct is not None:
        if _IDENTIFIER_NAME.search(settings.symbol) and distinct.size == known.size:
            return "identifier"
        if distinct.size == 2 and low == 0 and high == 1:
            return "category"
        few = distinct.size <= 12 and known.size >= 4 * distinct.size
        regular = np.unique(np.diff(distinct)).size <= 1
        if few and low >= 0 and distinct.size > 2 and regular and (low == 1 or distinct[1] - distinct[0] > 1):
            return "ordered"
    return "count" if low >= 0 and not settings.unit else "continuous"


def _label_column(
    cells: Cells,
    reason_of: NDArray[np.uint8],
    reasons: NDArray[np.uint8],
    codes: list[str],
    settings: ColumnSettings,
    problems: list[Problem],
) -> tuple[Column, list[Problem]]:
    words, index, counts = cells.words, cells.index, cells.counts
    kept = np.flatnonzero(reason_of == 0)
    other = questions.spellings([words[i] for i in kept], counts[kept]) if kept.size <= _MOST_SPELT else {}
    if other and settings.one_spelling:
        code_of = {word: i for i, word in enumerate(words)}
        usual = np.array([code_of[other[word]] if word in other else i for i, word in enumerate(words)], dtype=np.int64)
        index = usual[index]
        counts = np.bincount(index, minlength=len(words))
        kept = np.flatnonzero((reason_of == 0) & (counts > 0))
    order = sorted(kept.tolist(), key=lambda i: words[i])
    position = np.full(len(words), -1, dtype=np.int32)
    position[order] = np.arange(len(order), dtype=np.int32)
    code = position[index] if len(index) else np.empty(0, dtype=np.int32)
    n_known = int(counts[kept].sum())
    # Words cannot be the numbers or times that were asked for; the problem says why.
    kind = None if settings.kind in ("continuous", "count", "date-time") else settings.kind
    if kind is None:
        if problems:
            kind = "text"
        elif n_known >= 10 and (
            kept.size == n_known or (kept.size > 0.9 * n_known and _IDENTIFIER_NAME.search(settings.symbol))
        ):
            kind = "identifier"
        else:
            kind = "category" if kept.size <= max(2, min(300, n_known // 2)) else "text"
    if kind == "identifier" and kept.size < n_known:
        twice = (counts > 1) & (reason_of == 0)
        problems.append(questions.repeated(cells, twice, words[next(i for i in order if twice[i])]))
    if other and not settings.one_spelling and kind == "category":
        problems.append(questions.alike(cells, other))
    levels = tuple(words[i] for i in order)
    column = Column(settings.symbol, settings.label, settings.unit, kind, None, code, levels, reasons, tuple(codes))
    return column, problems


def _decimals(text: pa.Array, decimal: str) -> int:
    """Decimals to which the values were recorded: those that all but one in a hundred of the first ones keep to."""
    places = []
    for value in text.slice(0, _FIRST).to_pylist():
        mantissa = (value or "").lower().partition("e")[0]
        places.append(len(mantissa.partition(decimal)[2]))
    return int(np.quantile(places, 0.99, method="higher")) if places else 0
