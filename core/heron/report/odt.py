"""A report as an open document (.odt): headings, captions with sequences, references that renumber."""

import io
from collections.abc import Mapping
from typing import Any

from heron.errors import NotInstalled
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
from heron.tables.laid import Laid, titled_caption

_HEADINGS = {1: "14pt", 2: "12pt", 3: "11pt"}


def as_odt(report: Report, pictures: Mapping[str, bytes]) -> bytes:
    """A report as .odt. pictures: PNG of each figure, by the id of its plate."""
    try:
        from odf.opendocument import OpenDocumentText  # imported on first use
    except ModuleNotFoundError as error:
        raise NotInstalled("odfpy", "files") from error
    return _Writer(OpenDocumentText(), report, pictures).written()


class _Writer:
    def __init__(self, document: Any, report: Report, pictures: Mapping[str, bytes]) -> None:
        self._document = document
        self._report = report
        self._pictures = pictures
        self._n_tables = 0
        self._styles()

    def written(self) -> bytes:
        from odf.dc import Title
        from odf.text import H, P, SequenceDecl, SequenceDecls

        body = self._document.text
        declared = SequenceDecls()
        for name in ("Figure", "Table"):
            declared.addElement(SequenceDecl(displayoutlinelevel=0, name=name))
        body.addElement(declared)
        if self._report.title:
            self._document.meta.addElement(Title(text=self._report.title))
            body.addElement(P(stylename="Title", text=self._report.title))
        if self._report.authors:
            body.addElement(P(stylename="Subtitle", text=self._report.authors))
        for block in self._report.blocks:
            if isinstance(block, Heading):
                body.addElement(H(outlinelevel=block.level, stylename=f"Heading{block.level}", text=block.text))
            elif isinstance(block, Paragraph):
                body.addElement(self._paragraph(block.runs))
            elif isinstance(block, Listed):
                body.addElement(self._list(block))
            elif isinstance(block, Figure):
                self._figure(block)
            elif isinstance(block, Table):
                body.addElement(
                    self._caption(block, titled_caption(block.shown.laid, block.shown.caption), before=True)
                )
                self._table(block.shown.laid)
            else:
                body.addElement(self._paragraph((Run(block.words, emphasis=True),)))
        sink = io.BytesIO()
        self._document.write(sink)
        return sink.getvalue()

    def _styles(self) -> None:
        from odf.style import (
            FontFace,
            ListLevelProperties,
            MasterPage,
            PageLayout,
            PageLayoutProperties,
            ParagraphProperties,
            Style,
            TableCellProperties,
            TextProperties,
        )
        from odf.text import ListLevelStyleBullet, ListLevelStyleNumber, ListStyle

        document, face = self._document, OFFICE_FACES[self._report.font]
        width, height = (f"{side:g}mm" for side in PAPERS[self._report.paper])
        document.fontfacedecls.addElement(FontFace(name=face, fontfamily=face))
        layout = PageLayout(name="Page")
        layout.addElement(PageLayoutProperties(pagewidth=width, pageheight=height, margin=f"{MARGIN:g}mm"))
        document.automaticstyles.addElement(layout)
        document.masterstyles.addElement(MasterPage(name="Standard", pagelayoutname=layout))

        def paragraph(name: str, size: str, weight: str = "normal", **layout: str) -> None:
            shown = {"heading": "Heading"}.get(name, name)
            style = Style(name=name, displayname=shown, family="paragraph")
            style.addElement(ParagraphProperties(**{"marginbottom": "2.5mm", **layout}))
            style.addElement(TextProperties(fontname=face, fontsize=size, fontweight=weight, color="#000000"))
            document.styles.addElement(style)

        paragraph("Standard", "11pt")
        paragraph("Title", "20pt", "bold")
        paragraph("Subtitle", "11pt", marginbottom="6mm")
        for level, size in _HEADINGS.items():
            paragraph(f"Heading{level}", size, "bold", margintop="5mm", keepwithnext="always")
        paragraph("FigureCaption", "10pt", marginbottom="5mm")
        paragraph("TableCaption", "10pt", keepwithnext="always")
        paragraph("Picture", "10pt", keepwithnext="always", marginbottom="1mm")
        paragraph("Cell", "10pt", marginbottom="0mm")
        paragraph("Inset", "10pt", marginbottom="0mm", marginleft="4mm")
        paragraph("Note", "9pt", marginbottom="0mm")
        for name, said in (
            ("Strong", {"fontweight": "bold"}), ("Emphasis", {"fontstyle": "italic"}),
            ("Both", {"fontweight": "bold", "fontstyle": "italic"}), ("Raised", {"textposition": "super 65%"}),
        ):  # fmt: skip
            style = Style(name=name, family="text")
            style.addElement(TextProperties(**said))
            document.styles.addElement(style)
        for name, borders in (
            ("Plain", {}), ("Head", {"bordertop": "1.5pt solid #000000", "borderbottom": "0.75pt solid #000000"}),
            ("Last", {"borderbottom": "1.5pt solid #000000"}),
        ):  # fmt: skip
            style = Style(name=f"Cell{name}", family="table-cell")
            style.addElement(TableCellProperties(padding="0.6mm", **borders))
            document.automaticstyles.addElement(style)
        for name, level in (
            ("Bullets", ListLevelStyleBullet(level=1, bulletchar="•")),
            ("Numbers", ListLevelStyleNumber(level=1, numformat="1", numsuffix=".", startvalue=1)),
        ):
            level.addElement(ListLevelProperties(spacebefore="4mm", minlabelwidth="5mm"))
            style = ListStyle(name=name)
            style.addElement(level)
            document.styles.addElement(style)

    def _paragraph(self, runs: tuple[Run, ...], style: str = "Standard") -> Any:
        from odf.text import BookmarkRef, P, Span

        paragraph = P(stylename=style)
        for run in runs:
            if run.refers:
                paragraph.addElement(BookmarkRef(refname=run.refers, referenceformat="text", text=run.text))
            elif run.strong or run.emphasis:
                name = "Both" if run.strong and run.emphasis else "Strong" if run.strong else "Emphasis"
                paragraph.addElement(Span(stylename=name, text=run.text))
            else:
                paragraph.addText(run.text)
        return paragraph

    def _list(self, block: Listed) -> Any:
        from odf.text import List, ListItem

        made = List(stylename="Numbers" if block.ordered else "Bullets")
        for runs in block.items:
            item = ListItem()
            item.addElement(self._paragraph(runs))
            made.addElement(item)
        return made

    def _caption(self, block: Figure | Table, words: str, *, before: bool) -> Any:
        from odf.text import BookmarkEnd, BookmarkStart, P, Sequence, Span

        name, number = block.label.split(" ")
        made = P(stylename="TableCaption" if before else "FigureCaption")
        made.addElement(BookmarkStart(name=block.key))
        made.addElement(Span(stylename="Strong", text=f"{name} "))
        counted = Span(stylename="Strong")
        counted.addElement(
            Sequence(name=name, refname=f"of-{block.key}", formula=f"ooow:{name}+1", numformat="1", text=number)
        )
        made.addElement(counted)
        made.addElement(BookmarkEnd(name=block.key))
        made.addElement(Span(stylename="Strong", text=". "))
        made.addText(words)
        return made

    def _figure(self, block: Figure) -> None:
        from odf.draw import Frame, Image
        from odf.svg import Desc
        from odf.text import P

        shown = block.shown
        share = min(1.0, (PAPERS[self._report.paper][0] - 2 * MARGIN) / shown.width)
        address = self._document.addPicture(
            f"{block.key}.png", mediatype="image/png", content=self._pictures[block.plate]
        )
        frame = Frame(
            name=block.label,
            anchortype="as-char",
            width=f"{share * shown.width:g}mm",
            height=f"{share * shown.height:g}mm",
        )
        frame.addElement(Image(href=address, type="simple", show="embed", actuate="onLoad"))
        frame.addElement(Desc(text=shown.alternative))
        holder = P(stylename="Picture")
        holder.addElement(frame)
        self._document.text.addElement(holder)
        self._document.text.addElement(self._caption(block, shown.caption, before=False))

    def _table(self, laid: Laid) -> None:
        from odf.table import Table as OdfTable
        from odf.table import TableColumn, TableHeaderRows, TableRow

        self._n_tables += 1
        made = OdfTable(name=f"Table{self._n_tables}")
        made.addElement(TableColumn(numbercolumnsrepeated=len(laid.heads) + 1))
        head, repeated = TableRow(), TableHeaderRows()
        head.addElement(self._cell("Head", laid.stub, strong=True))
        for each in laid.heads:
            head.addElement(self._cell("Head", each.with_n, each.markers, strong=True))
        repeated.addElement(head)
        made.addElement(repeated)
        for i, line in enumerate(laid.lines):
            style = "Last" if i == len(laid.lines) - 1 else "Plain"
            row = TableRow()
            row.addElement(self._cell(style, line.label, line.markers, inset=line.depth > 0))
            for k in range(len(laid.heads)):
                row.addElement(self._cell(style, "" if line.is_heading else line.led(k)))
            made.addElement(row)
        self._document.text.addElement(made)
        for marker, words in laid.notes:
            self._document.text.addElement(self._noted(marker, words))
        self._document.text.addElement(self._paragraph(()))

    def _cell(self, style: str, text: str, markers: str = "", *, strong: bool = False, inset: bool = False) -> Any:
        from odf.table import TableCell
        from odf.text import LineBreak, P, Span

        cell, paragraph = (
            TableCell(stylename=f"Cell{style}", valuetype="string"),
            P(stylename="Inset" if inset else "Cell"),
        )
        for i, part in enumerate(text.split("\n")):
            if i:
                paragraph.addElement(LineBreak())
            paragraph.addElement(Span(stylename="Strong", text=part)) if strong else paragraph.addText(part)
        if markers:
            paragraph.addElement(Span(stylename="Raised", text=markers))
        cell.addElement(paragraph)
        return cell

    def _noted(self, marker: str, words: str) -> Any:
        from odf.text import P, Span

        made = P(stylename="Note")
        if marker:
            made.addElement(Span(stylename="Raised", text=marker))
        made.addText(words)
        return made
