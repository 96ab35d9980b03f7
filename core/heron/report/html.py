"""A report as a page of HTML: for a browser, and for pages of paper."""

import base64
import html
from collections.abc import Callable, Mapping

from heron.report.record import MARGIN, Block, Figure, Heading, Listed, Paragraph, Report, Run, Table
from heron.tables.writing import as_html as table_as_html

FACES = ("sans", "serif")
WEIGHTS = (400, 600)
_KEPT_WHOLE = 24  # lines of a table that stay on one page
_STYLE = """
body{{font-family:'Heron {face}';font-size:11pt;line-height:1.45;color:#1f1a24;hyphens:manual}}
h1{{font-size:20pt;line-height:1.2;font-weight:600;margin:0 0 4pt}}
h2{{font-size:14pt;font-weight:600;margin:18pt 0 6pt}} h3{{font-size:12pt;font-weight:600;margin:14pt 0 4pt}}
h4{{font-size:11pt;font-weight:600;margin:12pt 0 3pt}} h2,h3,h4{{break-after:avoid}}
p{{margin:0 0 7pt;overflow-wrap:anywhere}} p.authors{{margin-bottom:16pt}} ul,ol{{margin:0 0 7pt;padding-left:18pt}}
sup{{line-height:0}} li{{margin-bottom:2pt;overflow-wrap:anywhere}} a{{color:inherit}}
figure{{margin:12pt 0;break-inside:avoid}} figure img{{display:block;max-width:100%;height:auto}}
figcaption,caption{{font-size:10pt;line-height:1.4;text-align:left}} figcaption{{margin-top:5pt}}
caption{{padding-bottom:5pt}} strong{{font-weight:600}}
div.table{{margin:12pt 0;font-size:9.5pt}} tfoot{{display:table-row-group}} tr{{break-inside:avoid}}
div.whole{{break-inside:avoid}} thead{{break-inside:avoid;break-after:avoid}}
"""
_SCREEN = "div.table{overflow-x:auto} main{max-width:48em;margin:2em auto;padding:0 1.5em} body{background:#fff}"
_PAPER = (
    "@page{{size:{paper};margin:{margin:g}mm;@bottom-center{{content:counter(page) ' of ' counter(pages);"
    "font:9pt 'Heron {face}'}}}} a{{text-decoration:none}}"
)


def as_html(report: Report, pictures: Mapping[str, str], faces: Mapping[str, bytes]) -> bytes:
    """One file that needs no other. pictures: SVG of each figure, by the id of its plate; faces: the bytes of each
    face of type, by "sans-400" and so on."""
    held = {plate: _as_data(with_type(svg, faces).encode(), "image/svg+xml") for plate, svg in pictures.items()}
    rules = type_rules((report.font,), lambda face: _as_data(faces[face], "font/ttf"))
    return _page(report, held.__getitem__, rules + _SCREEN).encode()


def for_paper(report: Report, address_of: Callable[[str], str]) -> str:
    """The page from which pages of paper are made. address_of: of a picture, by the id of its plate, and of a face."""
    paper = _PAPER.format(paper=report.paper, margin=MARGIN, face=report.font.title())
    return _page(report, address_of, type_rules(FACES, address_of) + paper)


def type_rules(faces: tuple[str, ...], address_of: Callable[[str], str]) -> str:
    """The rules of a style sheet by which type is found."""
    return "".join(_rule(face, weight, address_of(f"{face}-{weight}")) for face in faces for weight in WEIGHTS)


def _rule(face: str, weight: int, address: str) -> str:
    return f"@font-face{{font-family:'Heron {face.title()}';font-weight:{weight};src:url({address})}}"


def with_type(svg: str, faces: Mapping[str, bytes]) -> str:
    """A picture that carries the type that it uses."""
    used = tuple(face for face in FACES if f"Heron {face.title()}" in svg)
    if not used:
        return svg
    rules = type_rules(used, lambda face: _as_data(faces[face], "font/ttf"))
    at = svg.index(">", svg.index("<svg")) + 1
    return f"{svg[:at]}<style>{rules}text{{font-kerning:none;white-space:pre}}</style>{svg[at:]}"


def _as_data(body: bytes, kind: str) -> str:
    return f"data:{kind};base64,{base64.b64encode(body).decode()}"


def _page(report: Report, address_of: Callable[[str], str], rules: str) -> str:
    style = rules + _STYLE.format(face=report.font.title())
    title = html.escape(report.title or "Report")
    lines = [
        f'<!DOCTYPE html>\n<html lang="en"><head><meta charset="utf-8"><title>{title}</title>',
        f"<style>{style}</style></head><body><main>",
    ]
    if report.title:
        lines.append(f"<h1>{html.escape(report.title)}</h1>")
    if report.authors:
        lines.append(f'<p class="authors">{html.escape(report.authors)}</p>')
    lines += [_block(block, address_of) for block in report.blocks]
    return "\n".join([*lines, "</main></body></html>", ""])


def _block(block: Block, address_of: Callable[[str], str]) -> str:
    if isinstance(block, Heading):
        return f"<h{block.level + 1}>{html.escape(block.text)}</h{block.level + 1}>"
    if isinstance(block, Paragraph):
        return f"<p>{_runs(block.runs)}</p>"
    if isinstance(block, Listed):
        tag = "ol" if block.ordered else "ul"
        return f"<{tag}>{''.join(f'<li>{_runs(item)}</li>' for item in block.items)}</{tag}>"
    if isinstance(block, Figure):
        shown = block.shown
        words = html.escape(shown.alternative)
        picture = f'<img src="{address_of(block.plate)}" alt="{words}" style="width:{shown.width:g}mm">'
        caption = f"<strong>{block.label}.</strong> {html.escape(shown.caption)}"
        return f'<figure id="{block.key}">{picture}<figcaption>{caption}</figcaption></figure>'
    if isinstance(block, Table):
        made = table_as_html(block.shown.laid, block.shown.caption, f"{block.label}. ")
        whole = " whole" if len(block.shown.laid.lines) <= _KEPT_WHOLE else ""
        return f'<div class="table{whole}" id="{block.key}">{made}</div>'
    return f"<p><em>{html.escape(block.words)}</em></p>"


def _runs(runs: tuple[Run, ...]) -> str:
    return "".join(_run(run) for run in runs)


def _run(run: Run) -> str:
    words = html.escape(run.text)
    if run.refers:
        words = f'<a href="#{run.refers}">{words}</a>'
    if run.emphasis:
        words = f"<em>{words}</em>"
    return f"<strong>{words}</strong>" if run.strong else words
