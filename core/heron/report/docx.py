"""A report as a file of a word processor (.docx): headings, captions with fields, references that renumber."""

from collections.abc import Callable, Mapping
from typing import Any

from heron.report.record import (
    MARGIN,
    OFFICE_FACES,
    PAPERS,
    Figure,
    Heading,
    Listed,
    Paragraph,
    Report,
    Run,
    Table,
)
from heron.tables.laid import titled_caption
from heron.tables.page import add_figure, add_table, begun, written

_HEADINGS = (("Heading 1", 14), ("Heading 2", 12), ("Heading 3", 11))


def as_docx(report: Report, pictures: Mapping[str, bytes]) -> bytes:
    """A report as .docx. pictures: PNG of each figure, by the id of its plate."""
    page = begun()
    _styled(page, report)
    marks = {key: f"_Ref{1_000 + number}" for number, key in enumerate(report.labels)}
    if report.title:
        page.add_paragraph(report.title, style="Title")
    if report.authors:
        page.add_paragraph(report.authors, style="Subtitle")
    for block in report.blocks:
        if isinstance(block, Heading):
            page.add_heading(block.text, block.level)
        elif isinstance(block, Paragraph):
            _fill(page.add_paragraph(), block.runs, marks)
        elif isinstance(block, Listed):
            _add_list(page, block, marks)
        elif isinstance(block, Figure):
            say = _captioner(block, block.shown.caption, marks)
            add_figure(page, pictures[block.plate], block.shown.width, block.shown.alternative, say)
        elif isinstance(block, Table):
            said = titled_caption(block.shown.laid, block.shown.caption)
            add_table(page, block.shown.laid, _captioner(block, said, marks))
            page.add_paragraph()
        else:
            page.add_paragraph(block.words).runs[0].italic = True
    return written(page)


def _styled(page: Any, report: Report) -> None:
    """The paper, the face and the ink of all styles in use."""
    from docx.oxml.ns import qn
    from docx.shared import Mm, Pt, RGBColor

    section = page.sections[0]
    section.page_width, section.page_height = (Mm(side) for side in PAPERS[report.paper])
    section.left_margin = section.right_margin = section.top_margin = section.bottom_margin = Mm(MARGIN)
    page.core_properties.title, page.core_properties.author = report.title[:255], report.authors[:255]
    page.core_properties.language = "en-GB"
    for name, size in (("Normal", 11), ("Title", 20), ("Subtitle", 11), ("Caption", 10), *_HEADINGS):
        style = page.styles[name]
        style.font.name, style.font.size, style.font.color.rgb = OFFICE_FACES[report.font], Pt(size), RGBColor(0, 0, 0)
        fonts = style.element.get_or_add_rPr().get_or_add_rFonts()
        for where in ("asciiTheme", "hAnsiTheme", "eastAsiaTheme", "cstheme"):
            fonts.attrib.pop(qn(f"w:{where}"), None)
    title = page.styles["Title"].element.get_or_add_pPr()
    for rule in title.findall(qn("w:pBdr")):
        title.remove(rule)
    page.styles["Subtitle"].font.italic = False


def _fill(paragraph: Any, runs: tuple[Run, ...], marks: Mapping[str, str]) -> None:
    """marks: the bookmarks of figures and tables, by their keys."""
    for run in runs:
        if run.refers:
            _field(paragraph, f"REF {marks[run.refers]} \\h", run.text)
            continue
        added = paragraph.add_run(run.text)
        added.bold, added.italic = run.strong or None, run.emphasis or None


def _add_list(page: Any, block: Listed, marks: Mapping[str, str]) -> None:
    """A list of its own: one with numbers begins with 1."""
    counting = _counted_anew(page) if block.ordered else None
    for runs in block.items:
        paragraph = page.add_paragraph(style="List Number" if block.ordered else "List Bullet")
        _fill(paragraph, runs, marks)
        if counting is not None:
            properties = paragraph._p.get_or_add_pPr().get_or_add_numPr()
            properties.get_or_add_ilvl().val = 0
            properties.get_or_add_numId().val = counting


def _counted_anew(page: Any) -> int:
    """The number of a numbering that follows the style of numbered lists and begins with 1."""
    numbering = page.part.numbering_part.numbering_definitions._numbering
    style = page.styles["List Number"].element.pPr.numPr.numId.val
    first = next(num for num in numbering.num_lst if num.numId == style)
    made = numbering.add_num(first.abstractNumId.val)
    made.add_lvlOverride(0).add_startOverride(1)
    return int(made.numId)


def _field(paragraph: Any, instruction: str, shown: str, *, bold: bool | None = None) -> None:
    """Words that the word processor works out anew."""
    from docx.oxml import OxmlElement
    from docx.oxml.ns import qn

    for step in ("begin", "instruction", "separate", "shown", "end"):
        run = paragraph.add_run(shown if step == "shown" else "")
        run.bold = bold
        if step == "instruction":
            said = OxmlElement("w:instrText")
            said.set(qn("xml:space"), "preserve")
            said.text = f" {instruction} "
            run._r.append(said)
        elif step != "shown":
            mark = OxmlElement("w:fldChar")
            mark.set(qn("w:fldCharType"), step)
            run._r.append(mark)


def _captioner(block: Figure | Table, words: str, marks: Mapping[str, str]) -> Callable[[Any], None]:
    """What says a caption in a paragraph: a label, numbered by a field within a bookmark, and its words."""
    name, number = block.label.split(" ")
    mark = marks[block.key]

    def say(paragraph: Any) -> None:
        from docx.oxml import OxmlElement
        from docx.oxml.ns import qn

        ends = [OxmlElement("w:bookmarkStart"), OxmlElement("w:bookmarkEnd")]
        for end in ends:
            end.set(qn("w:id"), mark.removeprefix("_Ref"))
        ends[0].set(qn("w:name"), mark)
        paragraph._p.append(ends[0])
        paragraph.add_run(f"{name} ").bold = True
        _field(paragraph, f"SEQ {name} \\* ARABIC", number, bold=True)
        paragraph._p.append(ends[1])
        paragraph.add_run(". ").bold = True
        paragraph.add_run(words)

    return say
