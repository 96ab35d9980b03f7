"""A report as a file."""

from collections.abc import Callable, Mapping

from heron.choices import Display, displays
from heron.report.docx import as_docx
from heron.report.html import as_html
from heron.report.odt import as_odt
from heron.report.paper import as_pdf, picture_of
from heron.report.record import Figure, Report
from heron.tables.writing import TYPES as TABLE_TYPES

FORMS: dict[str, Display] = displays(
    {
        "docx": ("Word processor (.docx)", "Headings, captions and references are the word processor's own."),
        "odt": ("Open document (.odt)", "The same, as an open standard."),
        "html": ("HTML", "One file for a browser, with figures as vectors."),
        "pdf": ("PDF", "Pages as they are printed."),
    }
)
TYPES = {
    "docx": TABLE_TYPES["docx"],
    "odt": "application/vnd.oasis.opendocument.text",
    "html": TABLE_TYPES["html"],
    "pdf": "application/pdf",
}
DPI = 600


def write(
    report: Report,
    form: str,
    pictures: Mapping[str, str],
    faces: Mapping[str, bytes],
    on_progress: Callable[[float], None] = lambda share: None,
) -> bytes:
    """A report in a format.

    Parameters: pictures, the SVG of each figure by the id of its plate; faces, the bytes of each face of type by
    "sans-400" and so on; on_progress, called with the share that is done.
    """
    if form == "html":
        return as_html(report, pictures, faces)
    if form == "pdf":
        return as_pdf(report, pictures, faces)
    figures = [block for block in report.blocks if isinstance(block, Figure)]
    drawn: dict[str, bytes] = {}
    for done, figure in enumerate(figures):
        on_progress(done / len(figures))
        if figure.plate not in drawn:
            shown = figure.shown
            drawn[figure.plate] = picture_of(pictures[figure.plate], shown.width, shown.height, DPI, faces)
    return (as_docx if form == "docx" else as_odt)(report, drawn)
