"""Several tables on one sheet, one below or beside another, and rows that are totals of the others."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import pyarrow as pa

from heron.errors import ReadError
from heron.formatting import counted
from heron.intake.found import Guess, Problem, Remedy
from heron.intake.missing import TOKENS
from heron.intake.raw import Raw
from heron.intake.sniff import NUMBER

MOST_ROWS, MOST_COLUMNS, MOST_PARTS = 20_000, 400, 12
PARTS = ("one", "apart", "joined", "stacked")
Totals = Literal["left-out"]
_TOTAL = re.compile(r"(grand )?(total|sum|subtotal|mean|average|overall|all)s?\b", re.IGNORECASE)
_CLOSE = 5e-3  # of a sum of rounded values


@dataclass(frozen=True)
class Part:
    """One table of a sheet: its cells by column, the names above them, and what stands over it, "" for nothing."""

    names: tuple[str, ...]
    cells: tuple[tuple[str, ...], ...]
    title: str
    rows: tuple[int, int]

    @property
    def n_rows(self) -> int:
        return len(self.cells[0]) if self.cells else 0


def taken_apart(raw: Raw, parts: str | None, totals: str | None) -> tuple[Raw, tuple[Raw, ...], tuple[Problem, ...]]:
    """The table that a sheet holds with the others beside it, and what is to be asked of them.

    Parameters: parts, "one", "apart", "joined", "stacked", or the number of one of them from 1, None where nobody has
    said; totals, "left-out" for rows that are totals of the others.
    """
    if not raw.columns or len(raw.columns[0]) > MOST_ROWS or len(raw.columns) > MOST_COLUMNS:
        return raw, (), ()
    cells = tuple(tuple(cell.strip() for cell in column.to_pylist()) for column in raw.columns)
    known = _below(raw, cells) or _beside(raw, cells)
    problems: tuple[Problem, ...] = ()
    others: tuple[Raw, ...] = ()
    if len(known) > 1:
        why = "as you said" if parts else "names stand above columns of numbers more than once"
        raw = replace(raw, found={**raw.found, "parts": Guess(parts or "one", why)})
    if len(known) > 1 and parts is None:
        problems = (_several(known),)
    elif len(known) > 1 and parts != "one":
        made = _made(known, parts or "one")
        raw, others = _raw(raw, made[0]), tuple(_raw(raw, part) for part in made[1:])
        cells = made[0].cells
    elif parts is not None and parts != "one":
        raise ReadError("no-parts", "This sheet holds one table only.", where="parts", remedy="Read it as one.")
    rows = _totals(cells)
    if rows and totals == "left-out":
        kept = [i for i in range(len(cells[0])) if i not in rows]
        found = {**raw.found, "totals": Guess("left-out", "as you said")}
        columns = [column.take(pa.array(kept, pa.int64())) for column in raw.columns]
        raw = replace(raw, columns=columns, found=found)
    elif rows:
        problems += (_of_totals(cells, rows),)
    return raw, others, problems


def _is_number(cell: str) -> bool:
    return NUMBER.fullmatch(cell) is not None


def _mostly_numbers(cells: Sequence[Sequence[str]]) -> list[int]:
    """The columns of which half the cells or more are numbers."""
    return [
        i for i, column in enumerate(cells)
        if 2 * sum(map(_is_number, column)) >= sum(map(bool, column)) and sum(map(_is_number, column)) > 1
    ]  # fmt: skip


def _below(raw: Raw, cells: Sequence[Sequence[str]]) -> list[Part]:
    """Tables one below another: names stand above columns of numbers once more."""
    numeric = _mostly_numbers(cells)
    if not numeric:
        return []
    n = len(cells[0])
    heads = [i for i in range(n) if _is_head(raw, cells, numeric, i)]
    if not heads or len(heads) >= MOST_PARTS:
        return []
    blank = [all(not column[i] for column in cells) for i in range(n)]
    alone = [sum(bool(column[i]) for column in cells) == 1 and bool(cells[0][i]) for i in range(n)]
    result, title = [], ""
    for number, start in enumerate([-1, *heads]):
        end = heads[number] if number < len(heads) else n
        own_title, stop = "", end
        while number < len(heads) and stop - 1 > start and (blank[stop - 1] or (alone[stop - 1] and not own_title)):
            own_title = own_title or cells[0][stop - 1]
            stop -= 1
        first = start + 1
        while first < stop and blank[first]:
            first += 1
        while stop > first and blank[stop - 1]:
            stop -= 1
        names = tuple(raw.names) if start < 0 else tuple(column[start] for column in cells)
        used = [i for i in range(len(cells)) if (i < len(names) and names[i]) or any(cells[i][first:stop])]
        if stop > first and used:
            named = tuple(names[i] if i < len(names) else "" for i in used)
            result.append(Part(named, tuple(tuple(cells[i][first:stop]) for i in used), title, (first, stop)))
        title = own_title
    return result if len(result) > 1 else []


def _is_head(raw: Raw, cells: Sequence[Sequence[str]], numeric: Sequence[int], i: int) -> bool:
    """Whether a row holds names: words alone, no two alike, above what is numbers elsewhere."""
    words = [cells[j][i] for j in numeric if cells[j][i]]
    if any(map(_is_number, words)) or any(word.lower() in TOKENS for word in words):
        return False
    every = [column[i] for column in cells if column[i]]
    if len(set(every)) < len(every) or len(words) < min(2, len(numeric)) or 2 * len(words) < len(numeric):
        return False
    return len(words) > 1 or every == [name for name in raw.names if name]


def _beside(raw: Raw, cells: Sequence[Sequence[str]]) -> list[Part]:
    """Tables side by side: between blank columns, or with the same names once more."""
    names = [raw.names[i].strip() if i < len(raw.names) else "" for i in range(len(cells))]
    gaps = [i for i, column in enumerate(cells) if not names[i] and not any(column)]
    runs: list[list[int]] = []
    run: list[int] = []
    for i in range(len(cells) + 1):
        if i in gaps or i == len(cells):
            runs += [run] if run else []
            run = []
        else:
            run.append(i)
    if len(runs) == 1:
        k = next((k for k in range(2, len(names) // 2 + 1) if names == names[:k] * (len(names) // k)), 0)
        runs = [list(range(i, i + k)) for i in range(0, len(names), k)] if k else runs
    if not 1 < len(runs) <= MOST_PARTS or any(len(run) < 2 or not any(names[i] for i in run) for run in runs):
        return []
    result = []
    for run in runs:
        stop = max((r + 1 for i in run for r, cell in enumerate(cells[i]) if cell), default=0)
        result.append(Part(tuple(names[i] for i in run), tuple(tuple(cells[i][:stop]) for i in run), "", (0, stop)))
    return result


def _plain(name: str) -> str:
    return " ".join(name.lower().split())


def _keys(parts: Sequence[Part]) -> list[str]:
    """The names, in lower case, of the columns that say which row of each part is of the same."""
    shared = [name for name in map(_plain, parts[0].names) if all(name in map(_plain, p.names) for p in parts[1:])]
    words = [name for name in shared if name and not any(_numbers_in(part, name) for part in parts)]
    first = _plain(parts[0].names[0])
    keys = [*words, *([first] if first in shared and first not in words else [])]
    return keys if keys and all(_is_unique(part, keys) for part in parts) else []


def _column(part: Part, name: str) -> tuple[str, ...]:
    return part.cells[[_plain(own) for own in part.names].index(name)]


def _numbers_in(part: Part, name: str) -> bool:
    return bool(_mostly_numbers([_column(part, name)]))


def _rows(part: Part, keys: Sequence[str]) -> list[tuple[str, ...]]:
    return list(zip(*(_column(part, key) for key in keys), strict=True))


def _is_unique(part: Part, keys: Sequence[str]) -> bool:
    rows = _rows(part, keys)
    return len(set(rows)) == len(rows)


def _are_alike(parts: Sequence[Part]) -> bool:
    return len({tuple(map(_plain, part.names)) for part in parts}) == 1


def _several(parts: Sequence[Part]) -> Problem:
    below = parts[0].rows[1] <= parts[1].rows[0]
    where = "below" if below else "beside"
    listed = "; ".join(
        f"{f'{part.title}, ' if part.title else ''}{counted(part.n_rows, 'row')} of "
        f"{', '.join([name for name in part.names if name][:5])}" for part in parts
    )  # fmt: skip
    remedies = [Remedy("As a table each", {"parts": "apart"}), Remedy("They are one table", {"parts": "one"})]
    keys = _keys(parts)
    if keys:
        by = " and ".join(name for name in parts[0].names if _plain(name) in keys)
        remedies.insert(0, Remedy(f"Joined by {by}", {"parts": "joined"}))
    if _are_alike(parts):
        remedies.insert(1 if keys else 0, Remedy("Rows of one table, one below the other", {"parts": "stacked"}))
    said = f"There seem to be {len(parts)} tables, one {where} the other: {listed}."
    return Problem("several-tables", said, "", (), len(parts), tuple(remedies))


def _made(parts: Sequence[Part], how: str) -> list[Part]:
    if how == "apart":
        return list(parts)
    if how.isdecimal():
        if not 1 <= int(how) <= len(parts):
            raise ReadError("no-part", f"The sheet holds {len(parts)} tables.", where="parts")
        return [parts[int(how) - 1]]
    makers: dict[str, Callable[[Sequence[Part]], Part]] = {"joined": _joined, "stacked": _stacked}
    return [makers[how](parts)]


def _joined(parts: Sequence[Part]) -> Part:
    """Parts side by side by their keys: rows of the first in its order, then those that only others have."""
    keys = _keys(parts)
    if not keys:
        raise ReadError(
            "no-key", "No column says which rows of the tables belong together.", where="parts",
            remedy="Take each as a table of its own.",
        )  # fmt: skip
    rows = list(dict.fromkeys(row for part in parts for row in _rows(part, keys)))
    names = [name for name in parts[0].names if _plain(name) in keys]
    order = [_plain(name) for name in names]
    columns = [tuple(row[keys.index(key)] for row in rows) for key in order]
    for number, part in enumerate(parts, 1):
        place = {row: i for i, row in enumerate(_rows(part, keys))}
        for name, column in zip(part.names, part.cells, strict=True):
            if _plain(name) not in keys:
                taken = any(_plain(name) == _plain(other) for other in names)
                names.append(f"{name} {part.title or number}" if taken else name)
                columns.append(tuple(column[place[row]] if row in place else "" for row in rows))
    return Part(tuple(names), tuple(columns), "", (0, len(rows)))


def _stacked(parts: Sequence[Part]) -> Part:
    """Parts of the same columns one below the other; what stands over each becomes a column where it is said."""
    if not _are_alike(parts):
        raise ReadError(
            "unlike-parts",
            "The tables have different columns.",
            where="parts",
            remedy="Take each as a table of its own.",
        )
    columns = [tuple(cell for part in parts for cell in part.cells[i]) for i in range(len(parts[0].names))]
    names = parts[0].names
    if any(part.title for part in parts):
        names = (*names, "table")
        columns.append(tuple(part.title or str(i) for i, part in enumerate(parts, 1) for _ in range(part.n_rows)))
    return Part(names, tuple(columns), "", (0, sum(part.n_rows for part in parts)))


def _raw(raw: Raw, part: Part) -> Raw:
    columns = [pa.array(column, pa.string()) for column in part.cells]
    return replace(raw, columns=columns, names=part.names, units=(), title=part.title or raw.title)


def _totals(cells: Sequence[Sequence[str]]) -> list[int]:
    """Rows called total or mean whose numbers are the sum or the mean of the others."""
    numeric = _mostly_numbers(cells)
    words = [column for i, column in enumerate(cells) if i not in numeric]
    if not numeric or not words:
        return []
    named = [i for i in range(len(cells[0])) if any(_TOTAL.match(column[i]) for column in words)]
    others = [i for i in range(len(cells[0])) if i not in named]
    return [i for i in named if len(others) > 1 and _sums_up([cells[j] for j in numeric], i, others)]


def _sums_up(columns: Sequence[Sequence[str]], row: int, others: Sequence[int]) -> bool:
    """Whether a row has the sums or the means of other rows, column by column, as far as they are numbers."""
    agree = []
    for column in columns:
        values = [_value(column[i]) for i in others if _is_number(column[i])]
        if _is_number(column[row]) and values:
            own, total = _value(column[row]), sum(values)
            near = _CLOSE * max(abs(own), 1e-300)
            agree.append(abs(own - total) <= near or abs(own - total / len(values)) <= near)
    return bool(agree) and 2 * sum(agree) > len(agree)


def _value(cell: str) -> float:
    return float(cell.replace(",", ".").replace("\u2212", "-"))


def _of_totals(cells: Sequence[Sequence[str]], rows: Sequence[int]) -> Problem:
    called = ", ".join(next(column[i] for column in cells if _TOTAL.match(column[i])) for i in rows[:4])
    are = "is the sum or the mean" if len(rows) == 1 else "are sums or means"
    leave, keep = (
        Remedy("Leave them out", {"totals": "left-out"}),
        Remedy("They are rows like others", {"keep": "totals"}),
    )
    said = f"{counted(len(rows), 'row')} ({called}) {are} of the others."
    return Problem("total-rows", said, "", tuple(rows[:100]), len(rows), (leave, keep))
