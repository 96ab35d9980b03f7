"""Reports: text as people type it, numbers that follow the order, files without anything else."""

import unittest

from heron.formatting import visible
from heron.report import Heading, KeptFigure, KeptTable, Listed, Paragraph, Run, compose, write
from heron.report.html import as_html
from heron.report.text import blocks_of, keys_in, runs_in
from heron.tables import Head, Laid, Line
from hypothesis import given
from hypothesis import strategies as st

SVG = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9" width="85mm" height="70mm"/>'
LINE = Line("r", "mass & size", "", 0, ("−1.5",), (0,))
LAID = Laid("", "bed", (Head("a", "north <i>", "n = 3", "a"),), (LINE,), (("a", "x"),))


def document(*parts, **more):
    return {"title": "T", "authors": "", "paper": "A4", "font": "serif", "parts": list(parts), **more}


class Text(unittest.TestCase):
    def test_paragraphs_lists_and_looks(self):
        text = "One *two* **three *four***.\ngoes on\n\n- a\n- b\n  still b\n\n1. x\n2. y"
        first, dashes, numbers = blocks_of(text, {})
        looks = [(run.text, run.strong, run.emphasis) for run in first.runs]
        self.assertEqual(looks[:3], [("One ", False, False), ("two", False, True), (" ", False, False)])
        self.assertIn(("four", True, True), looks)
        self.assertEqual(looks[-1], (". goes on", False, False))
        self.assertEqual([item[0].text for item in dashes.items], ["a", "b still b"])
        self.assertTrue(numbers.ordered)

    def test_what_is_no_mark_stays_as_typed(self):
        for text in ("2*3*4", "a * b * c", "**", "*", "p*", r"{Not a key}", "5 < 6 & 7", "* ", "{}", "a {"):
            with self.subTest(text):
                self.assertEqual("".join(run.text for run in runs_in(text, {})), text)
        self.assertEqual(runs_in(r"\*so\* \{x\}", {"x": "Figure 1"}), (Run("*so* {x}"),))

    def test_references_are_written_by_number(self):
        runs = runs_in("see **{one}** and {two}", {"one": "Figure 3"})
        self.assertEqual(runs[1], Run("Figure 3", strong=True, refers="one"))
        self.assertEqual(runs[2].text, " and {two}")
        self.assertEqual(keys_in("**{one}** {two} \\{three}"), ["one", "two"])

    @given(st.text(alphabet="ab *{}\\-1.\n\té🐚א", max_size=60))
    def test_any_text_is_read(self, text):
        blocks = list(blocks_of(text, {"a": "Figure 1"}))
        said = "".join(run.text for block in blocks for run in _runs(block))
        letters = [c for c in text.replace("{a}", "") if c in "bé🐚א"]
        self.assertEqual([c for c in said.replace("Figure 1", "") if c in "bé🐚א"], letters)


def _runs(block):
    return block.runs if isinstance(block, Paragraph) else [run for item in block.items for run in item]


class Composing(unittest.TestCase):
    def test_each_kind_is_numbered_by_its_own_order(self):
        shown = KeptFigure("F", "c", "a", 85, 70)
        parts = [{"kind": "figure", "key": key, "plate": "p"} for key in ("x", "y")]
        table = {"kind": "table", "key": "t", "plate": "q"}
        report = compose(document(parts[1], table, parts[0]), {"p": shown, "q": KeptTable("T", "c", LAID)}, {})
        self.assertEqual(report.labels, {"y": "Figure 1", "t": "Table 1", "x": "Figure 2"})

    def test_a_part_without_anything_to_say_is_left_out(self):
        parts = [{"kind": "methods", "heading": "Methods"}, {"kind": "references", "heading": "References"}]
        report = compose(document(*parts), {}, {"methods": (), "references": (Listed(((Run("A"),),)),)})
        self.assertEqual(report.blocks[0], Heading("References"))


class Files(unittest.TestCase):
    def test_words_are_words_in_html(self):
        parts = [
            {"kind": "text", "text": "<script>alert(1)</script>"}, {"kind": "table", "key": "t", "plate": "q"},
            {"kind": "figure", "key": "f", "plate": "p"},
        ]  # fmt: skip
        kept = {"q": KeptTable("T", '"c"<', LAID), "p": KeptFigure("F", "<b>", '" onerror="x', 85, 70)}
        faces = {f"serif-{weight}": b"x" for weight in (400, 600)}
        page = as_html(compose(document(*parts, title="<img>"), kept, {}), {"p": SVG}, faces).decode()
        self.assertNotIn("<script", page)
        self.assertNotIn('" onerror', page)
        self.assertNotIn("<img>", page)
        self.assertIn("&lt;script&gt;", page)

    def test_every_form_takes_long_words_and_any_script(self):
        long = "word" * 200 + " مرحبا 🐚 \x0b\x1b" + "x" * 300
        shown = visible(long)  # as tables are laid out
        laid = Laid(shown, shown, LAID.heads, tuple(Line(f"{i}", shown, "", 0, (shown,), (0,)) for i in range(60)), ())
        parts = [{"kind": "text", "text": long}, {"kind": "table", "key": "t", "plate": "q"}]
        report = compose(document(*parts, title=long), {"q": KeptTable("T", long, laid)}, {})
        faces = dict.fromkeys(("serif-400", "serif-600"), b"")
        for form, begins in (("docx", b"PK"), ("odt", b"PK"), ("html", b"<!DOCTYPE"), ("pdf", b"%PDF")):
            with self.subTest(form):
                self.assertTrue(write(report, form, {}, faces).startswith(begins))

    def test_pages_fetch_nothing(self):
        outside = SVG.replace("/>", '><image href="file:///etc/passwd" width="9" height="9"/></svg>')
        report = compose(
            document({"kind": "figure", "key": "f", "plate": "p"}), {"p": KeptFigure("F", "c", "a", 85, 70)}, {}
        )
        with self.assertLogs("weasyprint", "ERROR") as told:
            write(report, "pdf", {"p": outside}, {})
        self.assertIn("/etc/passwd", " ".join(told.output))
