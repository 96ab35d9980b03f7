"""Pages of a word processor: a table, or a figure, with its caption."""

import io
from collections.abc import Callable
from typing import Any

from heron.errors import NotInstalled
from heron.formatting import visible
from heron.tables.laid import Laid, titled_caption


def page_of_table(laid: Laid, caption: str) -> bytes:
    """A table with its caption."""
    page = begun()
    add_table(page, laid, lambda said: said.add_run(titled_caption(laid, visible(caption))))
    return written(page)


def page_of_figure(picture: bytes, width: float, caption: str, alternative: str) -> bytes:
    """A figure with its caption below. picture: as PNG; width: in mm, no more than the page has room for."""
    page = begun()
    add_figure(page, picture, width, visible(alternative), lambda said: said.add_run(visible(caption)))
    return written(page)


def add_figure(page: Any, picture: bytes, width: float, alternative: str, add_caption: Callable[[Any], object]) -> None:
    """A picture with its caption below, on one page. add_caption: says it in a paragraph."""
    from docx.shared import Mm

    section = page.sections[0]
    room = section.page_width - section.left_margin - section.right_margin
    shown = page.add_picture(io.BytesIO(picture), width=min(Mm(width), room))
    shown._inline.docPr.set("descr", alternative)
    page.paragraphs[-1].paragraph_format.keep_with_next = True
    add_caption(page.add_paragraph(style="Caption"))


def begun() -> Any:
    """An empty page of A4, whose captions are set in ink."""
    try:
        from docx import Document  # imported on first use
        from docx.shared import Mm, Pt, RGBColor
    except ModuleNotFoundError as error:
        raise NotInstalled("python-docx", "files") from error
    page = Document()
    page.sections[0].page_width, page.sections[0].page_height = Mm(210), Mm(297)
    caption = page.styles["Caption"].font
    caption.bold, caption.size, caption.color.rgb = False, Pt(10), RGBColor(0, 0, 0)
    return page


def written(page: Any) -> bytes:
    sink = io.BytesIO()
    page.save(sink)
    return sink.getvalue()


def add_table(page: Any, laid: Laid, add_caption: Callable[[Any], object]) -> None:
    """Caption, head repeated over pages, rules, notes. add_caption: says it in a paragraph."""
    from docx.enum.table import WD_TABLE_ALIGNMENT
    from docx.shared import Pt

    said = page.add_paragraph(style="Caption")
    said.paragraph_format.keep_with_next = True
    add_caption(said)
    made = page.add_table(rows=1, cols=len(laid.heads) + 1)
    made.alignment, made.autofit = WD_TABLE_ALIGNMENT.LEFT, True
    heads = made.rows[0]
    _repeat(heads)
    _fill(heads.cells[0], laid.stub, bold=True)
    for cell, head in zip(heads.cells[1:], laid.heads, strict=True):
        _fill(cell, head.with_n, head.markers, bold=True)
    for line in laid.lines:
        row = made.add_row()
        _fill(row.cells[0], line.label, line.markers, inset=line.depth)
        for i in range(len(line.cells)):
            _fill(row.cells[i + 1], line.led(i))
    _ruled(heads, "top", 12)
    _ruled(heads, "bottom", 6)
    _ruled(made.rows[-1], "bottom", 12)
    for marker, words in laid.notes:
        note = page.add_paragraph()
        note.paragraph_format.space_after = Pt(0)
        if marker:
            raised = note.add_run(marker)
            raised.font.superscript, raised.font.size = True, Pt(9)
        note.add_run(words).font.size = Pt(9)


def _fill(cell: Any, text: str, markers: str = "", *, bold: bool = False, inset: int = 0) -> None:
    from docx.shared import Pt

    paragraph = cell.paragraphs[0]
    paragraph.paragraph_format.space_after = Pt(0)
    if inset:
        paragraph.paragraph_format.left_indent = Pt(12 * inset)
    run = paragraph.add_run(text)
    run.bold, run.font.size = bold, Pt(10)
    if markers:
        raised = paragraph.add_run(markers)
        raised.font.superscript, raised.font.size = True, Pt(10)


def _repeat(row: Any) -> None:
    """Have a row stand again at the head of each page."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    mark = OxmlElement("w:tblHeader")
    mark.set(qn("w:val"), "true")
    row._tr.get_or_add_trPr().append(mark)


def _ruled(row: Any, side: str, eighths: int) -> None:
    """A rule above or below a row, in eighths of a point."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    for cell in row.cells:
        properties = cell._tc.get_or_add_tcPr()
        borders = properties.find(qn("w:tcBorders"))
        if borders is None:
            borders = OxmlElement("w:tcBorders")
            properties.append(borders)
        line = OxmlElement(f"w:{side}")
        for name, value in (("val", "single"), ("sz", str(eighths)), ("color", "auto"), ("space", "0")):
            line.set(qn(f"w:{name}"), value)
        borders.append(line)
