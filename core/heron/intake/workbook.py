"""Workbooks (.xlsx, .ods): the block of cells that holds a table, found on a sheet."""

import io
from collections.abc import Sequence
from datetime import date, datetime, time, timedelta

import python_calamine as calamine

from heron.checks import choose
from heron.errors import ReadError
from heron.formatting import counted
from heron.intake.archive import open_archive
from heron.intake.extent import check_extent
from heron.intake.found import Guess
from heron.intake.raw import Raw, text_column
from heron.intake.sniff import HEADERS, MOST_COLUMNS, Header, header_of

Block = tuple[int, int, int, int]  # first and last row, first and last column, counted from 1


def parse(data: bytes, name: str, *, sheet: str | None, block: Block | None, header: Header | None) -> Raw:
    """Return the cells of a sheet's table, with what was found.

    The first sheet that holds cells, unless one is named; its filled block, less the lines of a title above it, unless
    a block is given.
    """
    with open_archive(data) as archive:
        check_extent(archive)
    try:
        book = calamine.load_workbook(io.BytesIO(data))
        names = book.sheet_names
        chosen = choose(sheet, names, where="sheet") if sheet is not None else _first_filled(book, names)
        page = book.get_sheet_by_name(chosen)
        cells = page.to_python(skip_empty_area=False)
        merged = _merged(page)
    except (calamine.CalamineError, calamine.PasswordError, calamine.XmlError, calamine.ZipError, OSError) as error:
        raise ReadError(
            "broken-workbook", f"The workbook cannot be opened: {str(error).rstrip('.')}.", remedy="Save it again."
        ) from error
    except BaseException as error:
        if type(error).__name__ != "PanicException":  # of the reader's own language: no Exception in ours
            raise
        raise ReadError("broken-workbook", "The workbook cannot be opened.", remedy="Save it again.") from error
    where, why = _block(cells, chosen) if block is None else (_checked_block(block, cells), "as you said")
    first_row, last_row, first, last = where
    if last - first + 1 > MOST_COLUMNS:
        raise ReadError(
            "too-many-columns", f"The sheet has {last - first + 1} columns; at most {MOST_COLUMNS} are read."
        )
    rows = [_filled(row, first, last) for row in cells[first_row - 1 : last_row]]
    words = [[_shown(cell) for cell in row] for row in rows[:200]]
    top = Guess(header, "as you said") if header is not None else _header(words, merged, where)
    n_header = {"none": 0, "names": 1}.get(choose(top.value, HEADERS, where="header"), 2)
    headers, units = _names(words, top.value, merged, where)
    records = rows[n_header:]
    body = [row for row in records if not all(_is_blank(cell) for cell in row)]
    empty = len(records) - len(body)
    why += (
        f"; {counted(empty, 'empty row')} in it {'is no record' if empty == 1 else 'are no records'}" if empty else ""
    )
    which = "as you said" if sheet else "the first that holds cells" if len(names) > 1 else "the only one"
    result = {
        "format": Guess(name, "its contents say so"),
        "sheet": Guess(chosen, which),
        "sheets": Guess(list(names), "in the order of the workbook"),
        "block": Guess(list(where), why),
        "header": top,
    }
    columns = [text_column([_plain(row[i]) for row in body]) for i in range(last - first + 1)]
    return Raw(columns, headers, result, units=units, title=chosen if len(names) > 1 else "")


def _first_filled(book: calamine.CalamineWorkbook, names: Sequence[str]) -> str:
    for name in names:
        if book.get_sheet_by_name(name).height > 0:
            return name
    raise ReadError("empty-file", "No sheet of the workbook holds a cell.", remedy="Choose another file.")


def _merged(page: calamine.CalamineSheet) -> list[tuple[tuple[int, int], tuple[int, int]]]:
    return list(page.merged_cell_ranges or [])


def _is_blank(cell: object) -> bool:
    return cell is None or (isinstance(cell, str) and not cell.strip())


def _block(cells: Sequence[Sequence[object]], sheet: str) -> tuple[Block, str]:
    """The filled block, less the rows above the first one that is as wide as most."""
    widths = [sum(not _is_blank(cell) for cell in row) for row in cells[:1000]]
    filled = [i for i, row in enumerate(cells) if any(not _is_blank(cell) for cell in row)]
    if not filled:
        raise ReadError(
            "empty-file", f"The sheet {sheet} holds no value.", where="sheet", remedy="Choose another sheet."
        )
    usual = max({w for w in widths if w}, key=lambda w: (widths.count(w), w))
    start = next((i for i, w in enumerate(widths) if w >= max(1, 0.6 * usual)), filled[0])
    used = [j for row in cells[start : start + 1000] for j, cell in enumerate(row) if not _is_blank(cell)]
    skipped = sum(1 for i in filled if i < start)
    why = f"{counted(skipped, 'line')} above it no part of the table" if skipped else "all cells that are filled"
    return (start + 1, filled[-1] + 1, min(used) + 1, max(used) + 1), why


def _checked_block(block: Block, cells: Sequence[Sequence[object]]) -> Block:
    first_row, last_row, first, last = (int(part) for part in block)
    if not (1 <= first_row <= last_row and 1 <= first <= last):
        raise ReadError(
            "wrong-block", "A block runs from a first to a last row and column, counted from 1.", where="block"
        )
    last_row, last = min(last_row, len(cells)), min(last, max((len(row) for row in cells), default=0))
    if last_row < first_row or last < first:
        raise ReadError("wrong-block", f"The sheet ends at row {len(cells)}, before this block.", where="block")
    return first_row, last_row, first, last


def _filled(row: Sequence[object], first: int, last: int) -> list[object]:
    part = list(row[first - 1 : last])
    return part + [""] * (last - first + 1 - len(part))


def _plain(cell: object) -> object:
    """Dates and times as ISO text, spans of time in seconds; the rest as it is."""
    if isinstance(cell, datetime):
        return cell.isoformat(sep=" ") if cell.time() != time() else cell.date().isoformat()
    if isinstance(cell, date | time):
        return cell.isoformat()
    return cell.total_seconds() if isinstance(cell, timedelta) else cell


def _shown(cell: object) -> str:
    plain = _plain(cell)
    return "" if plain is None else str(plain).strip()


def _header(words: list[list[str]], merged: list[tuple[tuple[int, int], tuple[int, int]]], where: Block) -> Guess:
    spans = [span for span in merged if span[0][0] == where[0] - 1 and span[1][1] > span[0][1]]
    if spans and len(words) > 2 and not any(cell.replace(".", "").isdigit() for cell in words[1]):
        return Guess("groups-and-names", "merged cells stand above the names")
    return header_of(words)


def _names(
    words: list[list[str]], header: str, merged: list[tuple[tuple[int, int], tuple[int, int]]], where: Block
) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Names and units from the header rows; a merged cell above gives its words to each name below it."""
    width = where[3] - where[2] + 1
    blank = [""] * width
    if header == "none":
        return tuple(blank), ()
    top, second = (words[i] if i < len(words) else blank for i in (0, 1))
    if header == "names":
        return tuple(top), ()
    if header == "names-and-units":
        return tuple(top), tuple(second)
    groups = list(top)
    for (row, left), (_, right) in merged:
        begins = left - where[2] + 1
        if row == where[0] - 1 and 0 <= begins < width:
            for column in range(begins, min(right - where[2] + 1, width - 1) + 1):
                groups[column] = top[begins]
    return tuple(" ".join(filter(None, pair)) for pair in zip(groups, second, strict=True)), ()
