"""What is to be asked about the cells of a column before it is stored."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from heron.checks import Ints
from heron.formatting import counted
from heron.intake.dates import Dates
from heron.intake.found import Problem, Remedy

MOST_CODES = 250
_ROWS = 100
_WAYS = {1: "the year first", 2: "the year last", 3: "a month's name"}


@dataclass(frozen=True)
class Cells:
    """The cells of a column: its distinct words, how often each occurs, and which of them stands in each row."""

    symbol: str
    words: list[str]
    counts: Ints
    index: NDArray[np.signedinteger]

    def example(self, of: NDArray[np.bool_]) -> str:
        """The word that occurs most of those marked."""
        return self.words[int(np.argmax(np.where(of, self.counts, 0)))]

    def problem(self, code: str, said: str, of: NDArray[np.bool_], *remedies: Remedy) -> Problem:
        """A problem with the rows that hold the words marked."""
        return problem_of_rows(self.symbol, code, said, np.flatnonzero(of[self.index]), *remedies)

    def n_rows(self, of: NDArray[np.bool_]) -> int:
        return int(self.counts[of].sum())

    @property
    def as_text(self) -> Remedy:
        return Remedy("Keep as text", {"kinds": {self.symbol: "text"}})


def problem_of_rows(symbol: str, code: str, said: str, rows: Ints, *remedies: Remedy) -> Problem:
    return Problem(code, said, symbol, tuple(rows[:_ROWS].tolist()), int(rows.size), remedies)


def text_among(
    cells: Cells, left: NDArray[np.bool_], expected: str, known: Sequence[str], *, below_limit: bool
) -> Problem:
    """Texts where numbers or dates are expected. known: the codes that mean missing already."""
    often = np.flatnonzero(left)[np.argsort(-cells.counts[left], kind="stable")]
    listed = ", ".join(f"{cells.words[i][:24]} {cells.counts[i]}" for i in often[:5])
    listed += " …" if often.size > 5 else ""
    missing = [*known, *(cells.words[i] for i in often[:MOST_CODES])]
    remedies = [Remedy("They mean missing", {"missing_codes": missing}), cells.as_text]
    if below_limit:
        remedies = [Remedy("They lie below a limit", {"below_limits": {cells.symbol: "limit"}}), *remedies]
    n = cells.n_rows(left)
    said = f"{counted(n, 'text')} among {expected}: {listed}. The variable is kept as text."
    return cells.problem("text-among-" + expected, said, left, *remedies)


def leading_zeros(cells: Cells, padded: NDArray[np.bool_]) -> Problem:
    """Digits behind a 0, as codes have them: numbers would lose it."""
    said = (
        f"{counted(cells.n_rows(padded), 'value')} with a 0 in front, as in {cells.example(padded)}: codes rather than "
        "numbers, which would lose it. The variable is kept as text."
    )
    they_are = Remedy("They are numbers", {"kinds": {cells.symbol: "count"}})
    return cells.problem("leading-zeros", said, padded, cells.as_text, they_are)


def thousands(cells: Cells, grouped: NDArray[np.bool_]) -> Problem:
    n = cells.n_rows(grouped)
    said = (
        f"{counted(n, 'value')} {'has' if n == 1 else 'have'} marks between thousands, such as "
        f"{cells.example(grouped)}; read without them."
    )
    they_are = Remedy("They are numbers", {"keep": "thousands"})
    return cells.problem("thousands-marks", said, grouped, they_are, cells.as_text)


def unit_behind(cells: Cells, numeric: NDArray[np.bool_], unit: str) -> Problem:
    n = cells.n_rows(numeric)
    said = (
        f"{counted(n, 'value')} {'has its unit behind it' if n == 1 else 'have their unit behind them'}, such as "
        f"{cells.example(numeric)}; read as numbers, in {unit}."
    )
    return cells.problem("unit-in-cells", said, numeric, Remedy("They are numbers", {"keep": "unit"}), cells.as_text)


def of_dates(cells: Cells, dates: Dates) -> list[Problem]:
    """An order of day and month that is open, several zones, several ways of writing."""
    if dates.open.any():
        open_is = (
            "In some only the day can stand first, in others only the month."
            if dates.disagreeing
            else "The day or the month may stand first."
        )
        n = cells.n_rows(dates.open)
        said = f"{counted(n, 'date')} such as {cells.example(dates.open)}. {open_is} The variable is kept as text."
        day = Remedy("The day is first", {"date_orders": {cells.symbol: "day-first"}})
        month = Remedy("The month is first", {"date_orders": {cells.symbol: "month-first"}})
        return [cells.problem("day-or-month", said, dates.open, day, month, cells.as_text)]
    they_are = Remedy("They are dates", {"keep": "dates"})
    result = []
    if len(dates.zones) > 1:
        listed = ", ".join(dates.zones[:4]) + (" …" if len(dates.zones) > 4 else "")
        said = f"Times are given in zones ({listed}); read as universal time."
        result.append(cells.problem("zones", said, dates.ways > 0, they_are, cells.as_text))
    ways = {way: how for way, how in _WAYS.items() if np.any(dates.ways == way)}
    if len(ways) > 1:
        listed = "; ".join(f"with {how}, such as {cells.example(dates.ways == way)}" for way, how in ways.items())
        rare = dates.ways == min(ways, key=lambda way: cells.n_rows(dates.ways == way))
        said = f"Dates are written in {len(ways)} ways: {listed}. All are read."
        result.append(cells.problem("ways-of-dates", said, rare, they_are, cells.as_text))
    return result


def spellings(words: Sequence[str], counts: Ints) -> dict[str, str]:
    """Words that differ from a more frequent one only in capitals or blanks, and that one."""
    usual: dict[str, int] = {}
    keys = ["".join(word.casefold().split()) for word in words]
    for i in sorted(range(len(words)), key=lambda i: (-int(counts[i]), words[i])):
        usual.setdefault(keys[i], i)
    return {word: words[usual[key]] for word, key in zip(words, keys, strict=True) if words[usual[key]] != word}


def alike(cells: Cells, other: Mapping[str, str]) -> Problem:
    """Labels in several spellings. other: the more frequent spelling of each that is rarer."""
    odd = np.array([word in other for word in cells.words])
    often = sorted(other, key=lambda word: (-int(cells.counts[cells.words.index(word)]), word))[:3]
    listed = "; ".join(f"{word[:24]} and {other[word][:24]}" for word in often) + (" …" if len(other) > 3 else "")
    said = f"{counted(len(other), 'label')} {'differs' if len(other) == 1 else 'differ'} from another only in capitals "
    said += f"or blanks: {listed}."
    one = Remedy("They are one", {"one_spelling": [cells.symbol]})
    return cells.problem("labels-alike", said, odd, one, Remedy("They differ", {"keep": "spellings"}))


def repeated(cells: Cells, twice: NDArray[np.bool_], first: str) -> Problem:
    """Identifiers that occur more than once. first: one of them."""
    said = f"{int(twice.sum())} identifiers occur more than once, such as {first[:40]}."
    category = Remedy("It is a category", {"kinds": {cells.symbol: "category"}})
    return cells.problem("repeated-identifiers", said, twice, category)
