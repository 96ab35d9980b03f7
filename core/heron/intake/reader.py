"""From a file of any known format to a table, with what was understood and what looks wrong."""

from collections.abc import Callable, Collection, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from pathlib import Path
from typing import IO

import numpy as np

from heron.checks import choose
from heron.columns import KINDS, Column, Kind, Table
from heron.errors import ReadError
from heron.formatting import counted
from heron.intake import columnar, delimited, package, records, workbook
from heron.intake.dates import DATE_ORDERS, DateOrder
from heron.intake.formats import format_of
from heron.intake.found import Guess, Intake, Problem
from heron.intake.kinds import ColumnSettings, typed
from heron.intake.long import LONG
from heron.intake.names import bare_unit, label_and_unit
from heron.intake.names import symbols as safe_symbols
from heron.intake.raw import Raw, check_storable, is_blank
from heron.intake.sheet_parts import PARTS, Totals, taken_apart
from heron.intake.sniff import DELIMITERS, HEADERS, Delimiter, Header
from heron.intake.text import ENCODINGS, Encoding, to_utf8
from heron.intake.workbook import Block

_THREADS = 2
_MOST_OF_UNIT = 60


def read(
    source: str | Path | bytes | IO[bytes],
    filename: str = "",
    *,
    delimiter: Delimiter | None = None,
    decimal: str | None = None,
    encoding: Encoding | None = None,
    header: Header | None = None,
    above: int | None = None,
    sheet: str | None = None,
    block: Block | None = None,
    parts: str | None = None,
    totals: Totals | None = None,
    missing_codes: Sequence[str] | None = None,
    kinds: Mapping[str, Kind] | None = None,
    below_limits: Collection[str] = (),
    date_orders: Mapping[str, DateOrder] | None = None,
    one_spelling: Collection[str] = (),
    symbols: Mapping[str, str] | None = None,
    levels: Mapping[str, Sequence[str]] | None = None,
    on_progress: Callable[[float], None] | None = None,
) -> Intake:
    r"""Return the table that a file holds, what was understood and what looks wrong.

    Parameters
    ----------
    source : str, Path, bytes or binary file
        A path, the bytes of a file, or one that is open.
    filename : str, optional
        For the table's name where no path is given.
    delimiter : str, optional
        Between cells: "" for one column, " " for runs of blanks.
    decimal : {".", ","}, optional
        The decimal mark.
    encoding : str, optional
        Of the text.
    header : {"names", "names-and-units", "groups-and-names", "none"}, optional
        What the first lines hold.
    above : int, optional
        How many lines stand over the table that are no part of it, comment lines not counted.
    sheet : str, optional
        Of a workbook or package, by name.
    block : (int, int, int, int), optional
        First and last row, first and last column of a sheet, counted from 1.
    parts : str, optional
        Where a sheet holds several tables: "one" as they stand, "apart" for each by itself, "joined" side by side,
        "stacked" one below the other, or the number of one of them, from 1.
    totals : {"left-out"}, optional
        What becomes of rows that are sums or means of the others.
    missing_codes : sequence of str, optional
        The values that mean missing in every column (blank always does), in place of the well-known ones.
    kinds : mapping of str to str, optional
        Of variables, by symbol.
    below_limits : collection of str, optional
        Symbols in which a text such as "<0.5" is a value below a limit: a missing code of its own.
    date_orders : mapping of str to str, optional
        "day-first" or "month-first" by symbol, for dates such as 03/04/2026.
    one_spelling : collection of str, optional
        Symbols in which labels that differ only in capitals or blanks are one, spelt as most are.
    symbols : mapping of str to str, optional
        Other symbols for variables, by those that their headers give; the other choices go by these.
    levels : mapping of str to sequence of str, optional
        Their order by symbol; levels that it does not name stand behind.
    on_progress : callable, optional
        Told the share that is done, from 0 to 1; what it raises stops the reading.

    Returns
    -------
    Intake
        The table, every guess with its reason, and the questions that remain; row i of the table is record i + 1 of the
        source (comment and empty lines are no records) unless it was put together of parts, or totals were left out.

    Raises
    ------
    ReadError
        Saying what was found in place of a table.
    ChoiceError
        For a choice that there is not.
    NotInstalled
        Without the packages of velvet-heron[files].

    Notes
    -----
    Each choice overrides what was understood of the file, where the format has it.

    Examples
    --------
    >>> result = read(b"bed,shell mass (g)\nlow,1.5\nlow,2.1\nhigh,n/a\n", "shells.csv")
    >>> result.table
    Table shells: 3 rows
    bed: bed, category, 0 missing
    shell_mass: shell mass (g), continuous, 1 missing
    """
    name = filename or Path(source).name if isinstance(source, str | Path) else filename
    choose(delimiter, (None, *DELIMITERS), where="delimiter")
    choose(decimal, (None, ".", ","), where="decimal")
    choose(encoding, (None, *ENCODINGS), where="encoding")
    choose(header, (None, *HEADERS), where="header")
    choose(None if parts and parts.isdecimal() else parts, (None, *PARTS), where="parts")
    choose(totals, (None, "left-out"), where="totals")
    for kind in (kinds or {}).values():
        choose(kind, KINDS, where="kinds")
    for order in (date_orders or {}).values():
        choose(order, DATE_ORDERS, where="date_orders")
    data = Path(source).read_bytes() if isinstance(source, str | Path) else source
    if not isinstance(data, bytes):
        data = data.read()
    kind_of_file = format_of(data, name)
    if kind_of_file.startswith("workbook"):
        raw = workbook.parse(data, kind_of_file, sheet=sheet, block=block, header=header)
    elif kind_of_file == "Data Package":
        raw = package.parse(data, sheet=sheet)
    elif kind_of_file in ("Parquet", "Arrow"):
        raw = columnar.parse(data, kind_of_file)
    elif kind_of_file == "JSON":
        raw = records.parse(to_utf8(data, encoding, by_lines=False).data)
    else:
        raw = delimited.parse(data, delimiter=delimiter, decimal=decimal, encoding=encoding, header=header, above=above)
    del data
    if not raw.columns:  # a study that was saved before it had a table
        return Intake(Table(raw.title[:200], 0, {}), raw.found, (), 0, 0)
    report = on_progress or (lambda share: None)
    raw, beside, asked = taken_apart(raw, parts, totals)

    def assembled(one: Raw) -> Intake:
        return _assembled(
            one, Path(name).stem, missing_codes, kinds or {}, below_limits, date_orders or {}, one_spelling,
            symbols or {}, levels or {}, report,
        )  # fmt: skip

    result = assembled(raw)
    others = tuple(assembled(other).table for other in beside)
    return replace(result, problems=(*asked, *result.problems), beside=others)


def _assembled(
    raw: Raw,
    title: str,
    missing_codes: Sequence[str] | None,
    kinds: Mapping[str, Kind],
    below_limits: Collection[str],
    date_orders: Mapping[str, DateOrder],
    one_spelling: Collection[str],
    renamed: Mapping[str, str],
    order: Mapping[str, Sequence[str]],
    report: Callable[[float], None],
) -> Intake:
    """The columns typed, with the questions that remain."""
    check_storable(raw)
    report(0.3)
    codes = tuple(missing_codes) if missing_codes is not None else raw.missing_codes
    parted = [label_and_unit(raw.names[i] if i < len(raw.names) else "") for i in range(len(raw.columns))]
    names = _named(safe_symbols([label for label, _ in parted]), renamed)
    used, unused = _used(raw)
    settings = [
        ColumnSettings(
            symbol,
            raw.labels.get(i) or label or symbol.replace("_", " "),
            bare_unit(raw.units[i]) if i < len(raw.units) and raw.units[i] else unit,
            raw.decimal,
            kinds.get(symbol) or raw.kinds.get(i),
            codes if missing_codes is not None else raw.codes.get(i, codes),
            date_orders.get(symbol),
            symbol in one_spelling,
            symbol in below_limits,
        )
        for i, (symbol, (label, unit)) in enumerate(zip(names, parted, strict=True))
        if i in used
    ]
    long = next((setting for setting in settings if len(setting.unit) > _MOST_OF_UNIT), None)
    if long is not None:
        raise ReadError(
            "long-unit",
            f"The unit of {long.label[:40]} has {len(long.unit)} characters; a unit has at most {_MOST_OF_UNIT}.",
            where="header",
            remedy="Shorten it, or say that the header is one line of names.",
        )
    columns: dict[str, Column] = {}
    problems: list[Problem] = [*_duplicate_names(settings), *raw.problems]
    settings = _told_apart(settings)
    n_rows = len(raw.columns[0])
    with ThreadPoolExecutor(_THREADS if n_rows < LONG else 1) as pool:  # one after the other takes half the room
        typing = pool.map(typed, [raw.columns[i] for i in used], settings)
        raw.columns.clear()  # each goes once it is typed
        for done, (i, (column, in_column)) in enumerate(zip(used, typing, strict=True), 1):
            declared = raw.levels.get(i, ())
            columns[column.symbol] = _in_order(column, order.get(column.symbol, declared))
            problems += in_column
            report(0.3 + 0.7 * done / len(settings))
    if not columns:
        raise ReadError("empty-file", "The file holds no value.", remedy="Choose another file.")
    problems += _blank_rows(columns, n_rows)
    why = "as you said" if missing_codes is not None else "the file says so"
    result = {**raw.found, "missing_codes": _codes_guess(columns, codes, why)}
    if unused:
        result["blank_columns"] = Guess([i + 1 for i in unused], "they have neither a name nor a value")
    n_missing = sum(column.n_missing for column in columns.values())
    return Intake(Table((raw.title or title)[:200], n_rows, columns), result, tuple(problems), n_rows, n_missing)


def _used(raw: Raw) -> tuple[list[int], list[int]]:
    """The places of the columns that are variables, and of those that have neither a name nor a value."""
    places = range(len(raw.columns))
    unused = [i for i in places if not (i < len(raw.names) and raw.names[i]) and is_blank(raw.columns[i])]
    return ([i for i in places if i not in unused], unused) if len(unused) < len(places) else (list(places), [])


def _in_order(column: Column, order: Sequence[str]) -> Column:
    if column.codes is None or not order:
        return column
    there = set(column.levels)
    known = dict.fromkeys(level for level in order if level in there)
    return column.with_levels([*known, *(level for level in column.levels if level not in known)])


def _named(names: list[str], renamed: Mapping[str, str]) -> list[str]:
    """The symbols with some of them renamed; one that would then be there twice gives way to the new one."""
    taken = {renamed[name] for name in names if name in renamed}
    if len(taken) < sum(name in renamed for name in names):
        raise ReadError("duplicate-name", "Two variables cannot have one symbol.", where="symbols")
    result: list[str] = []
    for name in names:
        symbol, number = renamed.get(name, name), 1
        while name not in renamed and symbol in taken:
            number += 1
            symbol = f"{name}_{number}"
        taken.add(symbol)
        result.append(symbol)
    return result


def _duplicate_names(settings: Sequence[ColumnSettings]) -> list[Problem]:
    return [
        Problem("duplicate-name", f"{old.label} heads two columns; this one is now {new.label}.", old.symbol, (), 1)
        for old, new in zip(settings, _told_apart(settings), strict=True) if old.label != new.label
    ]  # fmt: skip


def _told_apart(settings: Sequence[ColumnSettings]) -> list[ColumnSettings]:
    """Columns of one name and unit with a number behind the name from the second on."""
    seen: dict[tuple[str, str], int] = {}
    result = []
    for column in settings:
        key = column.label, column.unit
        seen[key] = seen.get(key, 0) + 1
        result.append(replace(column, label=f"{column.label} {seen[key]}") if seen[key] > 1 else column)
    return result


def _blank_rows(columns: dict[str, Column], n_rows: int) -> list[Problem]:
    empty = np.ones(n_rows, dtype=bool)
    for column in columns.values():
        empty &= column.reasons == 1
        if not empty.any():
            return []
    rows = np.flatnonzero(empty)
    return [
        Problem(
            "blank-rows",
            f"{counted(rows.size, 'row')} without any value; kept, and counted as missing.",
            "",
            tuple(rows[:100].tolist()),
            int(rows.size),
        )
    ]


def _codes_guess(columns: dict[str, Column], asked: Sequence[str] | None, why: str) -> Guess:
    seen = dict.fromkeys(code for column in columns.values() for code in column.missing_codes if code != "blank")
    if asked is not None:
        return Guess(list(asked), why)
    return Guess(list(seen), "words that often mean missing, among numbers" if seen else "only blanks are missing")
