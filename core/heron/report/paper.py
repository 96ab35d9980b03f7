"""Pages of paper (PDF), and pictures of them: nothing is fetched but what is handed over."""

import io
import threading
from collections.abc import Mapping
from typing import Any

from heron.errors import NotInstalled
from heron.report.html import FACES, for_paper, type_rules
from heron.report.record import Report

MOST_PIXELS = 120_000_000
_POINTS_PER_INCH = 72.0
_SCHEME = "held:"
_one_at_a_time = threading.Lock()  # what reads pages is not made for threads


def as_pdf(report: Report, pictures: Mapping[str, str], faces: Mapping[str, bytes]) -> bytes:
    """A report as tagged PDF, its type inside. pictures: SVG of each figure, by the id of its plate; faces: the bytes
    of each face of type, by "sans-400" and so on."""
    return _printed(for_paper(report, lambda name: f"{_SCHEME}{name}"), pictures, faces)


def picture_of(svg: str, width: float, height: float, dpi: int, faces: Mapping[str, bytes]) -> bytes:
    """A picture in so many dots per inch, as PNG. width, height: in mm."""
    dpi = min(dpi, int((MOST_PIXELS / max(width * height / 25.4**2, 1e-9)) ** 0.5))
    style = (
        f"@page{{size:{width:g}mm {height:g}mm;margin:0}} html,body{{margin:0}} img{{display:block;width:{width:g}mm}}"
    )
    rules = type_rules(FACES, lambda name: f"{_SCHEME}{name}")
    page = (
        f'<html lang="en"><title>picture</title><style>{rules}{style}</style><img alt="picture" src="{_SCHEME}picture">'
    )
    return pictures_of(_printed(page, {"picture": svg}, faces), dpi)[0]


def pictures_of(pdf: bytes, dpi: int) -> list[bytes]:
    """The pages of a file as PNG."""
    result = []
    with _one_at_a_time, _opened(pdf) as document:
        for page in document:
            sink = io.BytesIO()
            page.render(scale=dpi / _POINTS_PER_INCH).to_pil().save(sink, "PNG", dpi=(dpi, dpi))
            result.append(sink.getvalue())
    return result


def _opened(pdf: bytes) -> Any:
    try:
        from pypdfium2 import PdfDocument  # imported on first use
    except ModuleNotFoundError as error:
        raise NotInstalled("pypdfium2", "reports") from error
    return PdfDocument(pdf)


def _printed(page: str, pictures: Mapping[str, str], faces: Mapping[str, bytes]) -> bytes:
    try:
        from weasyprint import HTML  # imported on first use: all of it takes a second
        from weasyprint.text.fonts import FontConfiguration
        from weasyprint.urls import URLFetcher, URLFetcherResponse
    except ModuleNotFoundError as error:
        raise NotInstalled("weasyprint", "reports") from error
    held = {name: (svg.encode(), "image/svg+xml") for name, svg in pictures.items()}
    held |= {name: (body, "font/ttf") for name, body in faces.items()}

    class Held(URLFetcher):  # type: ignore[misc]
        """Hands out what is held, and nothing else."""

        def fetch(self, url: str, headers: Any = None) -> Any:
            body, kind = held[url.removeprefix(_SCHEME)]
            return URLFetcherResponse(url, body, {"Content-Type": kind})

    made = HTML(string=page, url_fetcher=Held()).write_pdf(font_config=FontConfiguration(), pdf_variant="pdf/ua-1")
    return bytes(made)
