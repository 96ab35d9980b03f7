"""A table as it leaves: HTML, LaTeX, Markdown, CSV, a sheet, a page of a word processor."""

import html
import io
from collections.abc import Callable, Mapping
from typing import Any

from heron.cells import delimited, written
from heron.choices import Display, displays
from heron.tables.laid import FIGURE_SPACE, Laid, laid_out, titled_caption
from heron.tables.page import page_of_table
from heron.tables.record import NumberTable

FORMS: dict[str, Display] = displays(
    {
        "docx": ("Word processor (.docx)", "A table with its caption, as text that can be edited."),
        "html": ("HTML", "For a page, or to be pasted."),
        "latex": ("LaTeX", "For the booktabs package."),
        "markdown": ("Markdown", "Pipes and dashes."),
        "xlsx": ("Sheet (.xlsx)", "Texts as they stand in the table."),
        "csv": ("CSV", "Every number with all its digits."),
    }
)
TYPES = {
    "docx": "application/vnd.openxmlformats-officedocument.wordprocessingml.document",
    "html": "text/html; charset=utf-8",
    "latex": "application/x-tex; charset=utf-8",
    "markdown": "text/markdown; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "csv": "text/csv; charset=utf-8",
}
ENDINGS = {"docx": "docx", "html": "html", "latex": "tex", "markdown": "md", "xlsx": "xlsx", "csv": "csv"}


def write(table: NumberTable, document: Mapping[str, Any], form: str, caption: str) -> bytes:
    """A table in a format, with its caption."""
    if form == "csv":
        return as_csv(table, document).encode()
    made = _WRITERS[form](laid_out(table, document), caption)
    return made if isinstance(made, bytes) else made.encode()


def as_html(laid: Laid, caption: str, label: str = "") -> str:
    """A table of its own, styled by what stands in it alone, so that it can be pasted. label: what its caption begins
    with."""
    cell = "padding:2px 10px 2px 0;text-align:left;vertical-align:top;font-variant-numeric:tabular-nums"
    rule = "border-bottom:1px solid"
    lines = ['<table style="border-collapse:collapse;border-top:1.5px solid;border-bottom:1.5px solid">']
    said = f"{f'<strong>{html.escape(label)}</strong>' if label else ''}{html.escape(titled_caption(laid, caption))}"
    lines.append(f'<caption style="caption-side:top;text-align:left">{said}</caption>')
    lines.append(f'<thead><tr><th scope="col" style="{cell};{rule}">{html.escape(laid.stub)}</th>')
    for head in laid.heads:
        n = f"<br>{html.escape(head.n)}" if head.n else ""
        lines.append(f'<th scope="col" style="{cell};{rule}">{html.escape(head.label)}{_raised(head.markers)}{n}</th>')
    lines.append("</tr></thead><tbody>")
    for line in laid.lines:
        inset = f";padding-left:{1.2 * line.depth}em" if line.depth else ""
        label = f'<th scope="row" style="{cell};font-weight:normal{inset}">{html.escape(line.label)}'
        cells = "".join(f'<td style="{cell}">{html.escape(line.led(i))}</td>' for i in range(len(line.cells)))
        if line.is_heading:
            cells = f'<td colspan="{len(laid.heads)}"></td>' if laid.heads else ""
        lines.append(f"<tr>{label}{_raised(line.markers)}</th>{cells}</tr>")
    lines.append("</tbody>")
    if laid.notes:
        said = "<br>".join(f"{_raised(marker)}{html.escape(words)}" for marker, words in laid.notes)
        lines.append(f'<tfoot><tr><td colspan="{len(laid.heads) + 1}" style="{cell};border-top:1px solid">{said}</td>')
        lines.append("</tr></tfoot>")
    return "\n".join([*lines, "</table>", ""])


def _raised(markers: str) -> str:
    return f"<sup>{html.escape(markers)}</sup>" if markers else ""


_TEX = {
    "\\": r"\textbackslash{}", "&": r"\&", "%": r"\%", "$": r"\$", "#": r"\#", "_": r"\_", "{": r"\{", "}": r"\}",
    "~": r"\textasciitilde{}", "^": r"\textasciicircum{}", "<": "$<$", ">": "$>$", "\u2212": "$-$", "×": r"$\times$",
    "\u202f": r"\,", FIGURE_SPACE: r"\phantom{0}", "–": "--", "²": "$^2$", "³": "$^3$", "µ": r"\textmu{}",
    "°": r"\textdegree{}", "±": r"$\pm$",
}  # fmt: skip


def _tex(text: str) -> str:
    return "".join(_TEX.get(char, char) for char in text)


def as_latex(laid: Laid, caption: str) -> str:
    """A floating table of the booktabs package; with the longtable package where it runs over a page."""
    long = len(laid.lines) > 45
    columns = "l" * (len(laid.heads) + 1)
    kind = "longtable" if long else "tabular"
    marks = {name: f"\\textsuperscript{{{name}}}" for name in "abcdefghijklmnopqrstuvwxyz"}

    def marked(markers: str) -> str:
        return "".join(marks.get(mark, mark) for mark in markers)

    first = [_tex(laid.stub), *(_tex(head.label) + marked(head.markers) for head in laid.heads)]
    heads = [" & ".join(first) + r" \\"]
    if any(head.n for head in laid.heads):
        heads.append(" & ".join(["", *(_tex(head.n) for head in laid.heads)]) + r" \\")
    lines = []
    for line in laid.lines:
        label = r"\quad " * line.depth + _tex(line.label) + marked(line.markers)
        cells = [""] * len(laid.heads) if line.is_heading else [_tex(line.led(i)) for i in range(len(line.cells))]
        lines.append(" & ".join([label, *cells]) + r" \\")
    notes = [rf"\textsuperscript{{{marker}}}{_tex(words)}" if marker else _tex(words) for marker, words in laid.notes]
    said = r"\caption{" + _tex(titled_caption(laid, caption)) + "}"
    below = [r"\par\smallskip\footnotesize " + r"\\ ".join(notes)] if notes else []
    body = [r"\toprule", *heads, r"\midrule", *([r"\endhead"] if long else []), *lines, r"\bottomrule"]
    if long:
        parts = [rf"\begin{{longtable}}{{{columns}}}", said + r" \\", *body, r"\end{longtable}", *below]
    else:
        parts = [
            r"\begin{table}", r"\centering", said, rf"\begin{{{kind}}}{{{columns}}}", *body, rf"\end{{{kind}}}", *below,
            r"\end{table}",
        ]  # fmt: skip
    needs = "booktabs and longtable" if long else "booktabs"
    return "\n".join([f"% needs the packages {needs}" if long else f"% needs the package {needs}", *parts, ""])


def as_markdown(laid: Laid, caption: str) -> str:
    """A table of pipes, with its caption before and its notes behind."""

    def plain(text: str) -> str:
        return text.replace("\\", "\\\\").replace("|", "\\|").replace("\n", " ")

    def marked(markers: str) -> str:
        return f"<sup>{markers}</sup>" if markers else ""

    heads = [
        plain(head.label) + marked(head.markers) + (f"<br>{plain(head.n)}" if head.n else "") for head in laid.heads
    ]
    lines = [plain(titled_caption(laid, caption)), "", f"| {' | '.join([plain(laid.stub), *heads])} |"]
    lines.append(f"|{'|'.join([':---'] * (len(heads) + 1))}|")
    for line in laid.lines:
        label = "&emsp;" * line.depth + plain(line.label) + marked(line.markers)
        cells = [plain(line.led(i)) for i in range(len(line.cells))] or [""] * len(heads)
        lines.append(f"| {' | '.join([label, *cells])} |")
    lines.append("")
    lines += [f"{marked(marker)}{plain(words)}  " for marker, words in laid.notes]
    return "\n".join([*lines, ""])


def as_csv(table: NumberTable, document: Mapping[str, Any]) -> str:
    """Every figure with all its digits: a column for each figure of a cell."""
    laid = laid_out(table, document)
    cells = {row.key: dict(zip((c.key for c in table.columns), row.cells, strict=False)) for row in table.rows}
    lines = [line for line in laid.lines if line.cells]
    widths = {
        head.key: max((len(cells[line.key][head.key].figures) or 1 for line in lines), default=1) for head in laid.heads
    }  # fmt: skip
    head = ["", *(f"{h.label}{f' {i + 1}' if i else ''}" for h in laid.heads for i in range(widths[h.key]))]
    rows, heading = [], ""
    for line in laid.lines:
        if line.is_heading:
            heading = line.label
            continue
        row = [f"{heading}: {line.label}" if line.depth else line.label]
        for h in laid.heads:
            held = cells[line.key][h.key]
            given: list[Any] = [_number(float(figure.value)) for figure in held.figures] or [held.text]
            row += [*given, *[""] * (widths[h.key] - len(given))]
        rows.append(row)
    return delimited([head, *rows])


def _number(value: float) -> float | int:
    return int(value) if value.is_integer() and abs(value) < 1e15 else value


def as_sheet(laid: Laid, caption: str) -> bytes:
    """A sheet with texts as they stand in the table, its head bold, and its notes below."""
    from openpyxl import Workbook  # imported on first use
    from openpyxl.styles import Alignment, Border, Font, Side

    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "table"
    sheet.append([written(titled_caption(laid, caption))])
    sheet.append([])
    sheet.append([written(laid.stub), *(written(head.with_n) for head in laid.heads)])
    for one in sheet[3]:
        one.font, one.alignment = Font(bold=True), Alignment(wrap_text=True, vertical="top")
        one.border = Border(top=Side(style="medium"), bottom=Side(style="thin"))
    for line in laid.lines:
        label = written(line.label)
        sheet.append([label, *(written(text) for text in line.cells)])
        sheet.cell(sheet.max_row, 1).alignment = Alignment(indent=line.depth)
        for k in range(len(line.cells)):
            sheet.cell(sheet.max_row, k + 2).alignment = Alignment(horizontal="right")
    for marker, words in laid.notes:
        sheet.append([written(f"{marker} {words}" if marker else words)])
    sheet.column_dimensions["A"].width = min(max((len(line.label) for line in laid.lines), default=10) + 4, 60)
    for k in range(len(laid.heads)):
        sheet.column_dimensions[sheet.cell(3, k + 2).column_letter].width = 22
    sink = io.BytesIO()
    book.save(sink)
    return sink.getvalue()


_WRITERS: dict[str, Callable[[Laid, str], str | bytes]] = {
    "docx": page_of_table,
    "html": as_html,
    "latex": as_latex,
    "markdown": as_markdown,
    "xlsx": as_sheet,
}
