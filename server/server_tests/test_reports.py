"""Reports: kept, numbered, made into files that other programs read, in packages."""

import io
import shutil
import tempfile
import zipfile
from unittest import skipUnless
from uuid import uuid4

from docx import Document
from heron.figure import styles

from server.reports import services
from server.reports.models import ReportFile
from server.server_tests.cases import StudyCase, as_file, person, signed_in, stored, stored_in
from server.server_tests.test_table_plates import SHELLS, told
from server.studies.models import Job

WORDS = (
    "The mass of *shells* differs, see {masses} and {numbers}.\n\n"
    "- heavier in the north\n- **lighter** in the south\n\n1. weighed\n2. measured\n\nNothing is called {nothing}."
)


class Reports(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, SHELLS, name="Shells")
        cls.study = cls.table.study

    def setUp(self):
        super().setUp()
        table = str(self.table.pk)
        source = {"kind": "groups", "table": table, "variable": "mass", "by": "bed", "marks": ["box", "points"]}
        self.plate = self.act(
            f"studies/{self.study.pk}/plates",
            {"name": "Masses", "document": {"style": styles.IN_PRINT, "panels": [{"source": source}]}},
        ).json()
        numbers = {"source": {"kind": "summary", "table": table, "variables": ["mass", "size"], "by": "bed"}}
        self.numbers = self.act(f"studies/{self.study.pk}/table-plates", {"name": "Sizes", "document": numbers}).json()
        self.document = {
            "title": "Shells & beds", "authors": "A. Person",
            "parts": [
                {"kind": "heading", "text": "What was found", "level": 1},
                {"kind": "text", "text": WORDS},
                {"kind": "table", "key": "numbers", "plate": self.numbers["id"]},
                {"kind": "figure", "key": "masses", "plate": self.plate["id"]},
                *({"kind": kind} for kind in ("methods", "aside", "references", "versions")),
            ],
        }  # fmt: skip

    def keep(self, name="Report", **more):
        body = {"name": name, "document": {**self.document, **more}}
        answer = self.act(f"studies/{self.study.pk}/reports", body)
        self.assertEqual(answer.status_code, 201, answer.content[:300])
        return answer.json()

    def composed(self, document):
        return self.act(f"studies/{self.study.pk}/reports/composed", {"document": document}).json()

    def put(self, address, body):
        return self.client.put(f"/api/{address}", body, content_type="application/json")

    def drawn(self, svg):
        return {"version": self.plate["version"], "revisions": {str(self.table.pk): self.table.revision}, "svg": svg}

    def made(self, report, form):
        """The file, once its job is done, as the worker would do it."""
        job = self.act(f"reports/{report['id']}/files?form={form}", {}).json()
        services.run(Job.objects.get(pk=job["id"]))
        ended = self.client.get(f"/api/jobs/{job['id']}").json()
        self.assertEqual((ended["state"], ended["problem"]), ("done", ""))
        return self.client.get(f"/api/reports/{report['id']}/files/{form}").content

    def test_a_report_is_kept_changed_moved_and_deleted(self):
        kept = self.keep()
        self.assertEqual(kept["document"]["parts"][4]["heading"], "Methods")
        change = {"version": kept["version"], "name": "Final", "document": {**kept["document"], "paper": "letter"}}
        self.assertEqual(self.put(f"reports/{kept['id']}", change).json()["version"], 2)
        self.assert_problem(self.put(f"reports/{kept['id']}", change), 409, "changed-since")
        copy = self.act(f"reports/{kept['id']}/duplicate", {}).json()
        self.assertEqual(self.act(f"reports/{copy['id']}/place", {"before": kept["id"]}).status_code, 204)
        listed = self.client.get(f"/api/studies/{self.study.pk}/reports").json()
        self.assertEqual([line["name"] for line in listed], ["Final, again", "Final"])
        self.assertEqual(self.client.delete(f"/api/reports/{copy['id']}").status_code, 204)
        twice = {**self.document, "parts": [self.document["parts"][2], self.document["parts"][2]]}
        answer = self.act(f"studies/{self.study.pk}/reports", {"name": "Twice", "document": twice})
        self.assertEqual(answer.status_code, 422)

    def test_numbers_follow_the_order_and_checks_say_what_is_amiss(self):
        said = self.composed(self.document)
        self.assertEqual(
            [(one["key"], one["label"]) for one in said["kept"]], [("numbers", "Table 1"), ("masses", "Figure 1")]
        )
        self.assertEqual(said["to_draw"], [self.plate["id"]])
        found = {finding["code"]: finding for finding in said["findings"]}
        self.assertIn("{nothing}", found["unknown"]["words"])
        self.assertTrue(found["referred"]["holds"] and found["methods"]["holds"] and found["lost"]["holds"])
        second = {"kind": "figure", "key": "again", "plate": self.plate["id"]}
        gone = {"kind": "table", "key": "gone", "plate": str(uuid4())}
        parts = [second, *self.document["parts"][1:4], gone]
        said = self.composed({**self.document, "parts": parts})
        self.assertEqual([one["label"] for one in said["kept"]], ["Figure 1", "Table 1", "Figure 2", "Table 2"])
        found = {finding["code"]: finding["words"] for finding in said["findings"] if not finding["holds"]}
        self.assertEqual(set(found), {"lost", "unknown", "referred", "methods"})
        self.assertIn("Table 2 could not be made", found["lost"])
        self.assertEqual(found["referred"], "The text does not refer to Figure 1, Table 2.")
        self.on_table("", kind="set-aside", rows=[1, 2], reason="chipped")
        said = self.composed(self.document)
        self.assertTrue(all(one["moved"] for one in said["kept"]))

    def test_a_report_without_anything_is_a_page(self):
        kept = self.keep(title="", authors="", parts=[])
        self.assertTrue(self.made(kept, "pdf").startswith(b"%PDF"))

    @skipUnless(shutil.which("pandoc") and shutil.which("pdftotext"), "pandoc or pdftotext is not here")
    def test_other_programs_read_every_form(self):
        self.on_table("", kind="set-aside", rows=[5], reason="chipped")
        kept = self.keep()
        laid = self.act("table-plates/shown", {"document": self.numbers["document"]}).json()["laid"]
        cells = [cell.split(" ")[0] for line in laid["lines"] for cell in line["cells"] if cell]
        for form in ("docx", "odt", "html", "pdf"):
            with self.subTest(form), tempfile.NamedTemporaryFile() as page:
                page.write(self.made(kept, form))
                page.flush()
                if form == "pdf":
                    plain = told("pdftotext", "-layout", page.name, "-")
                    self.assertIn("Tagged:          yes", told("pdfinfo", page.name))
                    fonts = told("pdffonts", page.name).splitlines()[2:]
                    self.assertTrue(fonts and all(" yes " in font for font in fonts))
                else:
                    self.assertIn('"t":"Table"', told("pandoc", "-f", form, "-t", "json", page.name))
                    plain = told("pandoc", "-f", form, "-s", "-t", "plain", "--columns=400", page.name)
                plain = " ".join(plain.split())
                for cell in cells:
                    self.assertIn(cell, plain)
                words = ["Shells & beds", "see Figure 1 and Table 1", "heavier in the north", "Methods", "chipped"]
                for said in (*words, "References", "SHA-256"):
                    self.assertIn(said, plain)

    def test_a_word_processor_finds_headings_captions_and_pictures(self):
        page = Document(io.BytesIO(self.made(self.keep(), "docx")))
        styles = {paragraph.style.name for paragraph in page.paragraphs}
        self.assertLessEqual({"Title", "Heading 1", "Caption", "List Bullet", "List Number"}, styles)
        captions = [paragraph for paragraph in page.paragraphs if paragraph.style.name == "Caption"]
        self.assertEqual([paragraph.text.split(".")[0] for paragraph in captions], ["Table 1", "Figure 1"])
        fields = [mark.text.split()[0] for mark in page.element.iter() if mark.tag.endswith("}instrText")]
        self.assertEqual(sorted(fields), ["REF", "REF", "SEQ", "SEQ"])
        (shape,) = page.inline_shapes
        self.assertAlmostEqual(shape.width.mm, 85, delta=0.1)
        self.assertIn("Mass (g) by bed, drawn as", shape._inline.docPr.get("descr"))
        (table,) = page.tables
        self.assertEqual([cell.text.split("\n")[0] for cell in table.rows[0].cells][1:], ["north", "south", "all"])

    def test_pages_are_pictures_and_made_once(self):
        kept = self.keep()
        self.assertEqual(self.client.get(f"/api/reports/{kept['id']}/pages").json(), {"n": 0, "key": ""})
        self.assert_problem(self.client.get(f"/api/reports/{kept['id']}/pages/1"), 404, "not-made")
        self.made(kept, "pdf")
        pages = self.client.get(f"/api/reports/{kept['id']}/pages").json()
        self.assertGreater(pages["n"], 0)
        self.assertEqual(pages["key"], self.composed(kept["document"])["key"])
        picture = self.client.get(f"/api/reports/{kept['id']}/pages/1").content
        self.assertTrue(picture.startswith(b"\x89PNG"))
        self.assertEqual(self.client.get(f"/api/reports/{kept['id']}/pages/99").status_code, 404)
        again = self.act(f"reports/{kept['id']}/files?form=pdf", {}).json()
        self.assertEqual(again["state"], "done")
        self.on_table("", kind="set-aside", rows=[1], reason="chipped")
        after = self.act(f"reports/{kept['id']}/files?form=pdf", {}).json()
        self.assertEqual(after["state"], "waiting")
        self.act(f"reports/{kept['id']}/files?form=pdf", {})
        self.assertEqual(self.client.get(f"/api/jobs/{after['id']}").json()["state"], "stopped")

    def test_a_figure_is_what_the_page_drew_while_it_stands_so(self):
        svg = svg_with('<text x="1" y="5" font-size="1">drawn here</text>')
        kept = self.keep()
        body = self.drawn(svg)
        for bad in ("<p/>", "<!DOCTYPE svg><svg/>", "<svg"):
            refused = self.put(f"plates/{self.plate['id']}/drawn", {**body, "svg": bad})
            self.assert_problem(refused, 422, "no-picture")
        self.assertEqual(self.put(f"plates/{self.plate['id']}/drawn", body).status_code, 204)
        self.assertEqual(self.composed(kept["document"])["to_draw"], [])
        self.assertIn("drawn here", told_of(self.made(kept, "pdf")))
        self.on_table("", kind="set-aside", rows=[1], reason="chipped")
        self.assertEqual(self.composed(kept["document"])["to_draw"], [self.plate["id"]])
        self.assertNotIn("drawn here", told_of(self.made(kept, "pdf")))

    def test_a_picture_holds_what_plates_are_drawn_of_and_nothing_else(self):
        for inside, words in (
            ('<image href="file:///etc/passwd" width="9" height="9"/>', "holds image"),
            ("<script>1</script>", "holds script"),
            ('<g id="a"/><use href="#a"/>', "holds use"),
            ('<rect fill="url(http://elsewhere/x)"/>', "leads elsewhere"),
        ):
            with self.subTest(words):
                refused = self.put(f"plates/{self.plate['id']}/drawn", self.drawn(svg_with(inside)))
                self.assert_problem(refused, 422, "no-picture")
                self.assertIn(words, refused.json()["problem"])
        clipped = svg_with('<clipPath id="c"><rect width="9" height="9"/></clipPath><g clip-path="url(#c)"/>')
        self.assertEqual(self.put(f"plates/{self.plate['id']}/drawn", self.drawn(clipped)).status_code, 204)

    def test_a_frozen_figure_keeps_its_words(self):
        self.act(f"plates/{self.plate['id']}/freeze?on=true", {})
        before = self.composed(self.document)["kept"][1]["words"]
        self.on_table("", kind="set-aside", rows=[1, 2, 3], reason="chipped")
        self.assertEqual(self.composed(self.document)["kept"][1]["words"], before)
        words = self.act("plates/words", {"document": self.plate["document"], "plate": self.plate["id"]}).json()
        self.assertEqual(words["caption"], before)
        now = self.act("plates/words", {"document": self.plate["document"]}).json()
        self.assertNotEqual(now["caption"], before)

    def test_awkward_tables_run_over_pages(self):
        name = "مرحبا 🐚 " + "long " * 58
        rows = "\n".join(f"g{i % 300},{'' if i % 7 else i},5,0" for i in range(600))
        table = stored_in(self.study, f"group,{name},same,zero\n{rows}", name="Awkward")
        variables = [column["symbol"] for column in self.client.get(f"/api/tables/{table.pk}").json()["variables"]][1:]
        source = {"kind": "summary", "table": str(table.pk), "variables": variables, "by": "group", "turned": True}
        asked = {"name": "Awkward", "document": {"source": source}}
        numbers = self.act(f"studies/{self.study.pk}/table-plates", asked).json()
        kept = self.keep(parts=[{"kind": "table", "key": "awkward", "plate": numbers["id"]}])
        self.made(kept, "pdf")
        self.assertGreater(self.client.get(f"/api/reports/{kept['id']}/pages").json()["n"], 5)
        page = Document(io.BytesIO(self.made(kept, "docx")))
        self.assertEqual(len(page.tables[0].rows), 302)  # with its head, and all rows

    def test_nobody_else_has_it(self):
        kept = self.keep()
        self.made(kept, "pdf")
        self.client = signed_in(person("bo"))
        for ask in (
            self.client.get(f"/api/reports/{kept['id']}"),
            self.client.get(f"/api/reports/{kept['id']}/files/pdf"),
            self.client.get(f"/api/reports/{kept['id']}/pages/1"),
            self.act(f"reports/{kept['id']}/files?form=pdf", {}),
            self.act(f"studies/{self.study.pk}/reports/composed", {"document": self.document}),
            self.client.delete(f"/api/reports/{kept['id']}"),
        ):
            self.assertEqual(ask.status_code, 404)

    def test_a_package_brings_it_along(self):
        self.keep("Final")
        package = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        body = b"".join(package.streaming_content) if package.streaming else package.content
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            page = next(name for name in archive.namelist() if name.startswith("reports/"))
            self.assertIn(b"Shells &amp; beds", archive.read(page))
        sent = self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(body, "study.zip")}).json()
        opened = self.act(f"uploads/{sent['upload_id']}/open", {}).json()
        (line,) = self.client.get(f"/api/studies/{opened['study']}/reports").json()
        self.assertEqual(line["name"], "Final")
        said = self.act(f"studies/{opened['study']}/reports/composed", {"document": line["document"]}).json()
        self.assertFalse(any(one["fails"] for one in said["kept"]))

    def test_a_job_that_a_worker_left_is_taken_up(self):
        job = self.act(f"reports/{self.keep()['id']}/files?form=html", {}).json()
        from server.ledger.tasks import take_up_jobs
        from server.studies.selectors import SILENT_AFTER

        row = Job.objects.get(pk=job["id"])
        Job.objects.filter(pk=row.pk).update(state="running", tries=1, touched=row.touched - 2 * SILENT_AFTER)
        take_up_jobs()
        row.refresh_from_db()
        self.assertEqual(row.state, "waiting")
        services.run(row)
        self.assertEqual(ReportFile.objects.count(), 1)


def svg_with(inside):
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9" width="85mm" height="70mm">{inside}</svg>'


def told_of(pdf):
    with tempfile.NamedTemporaryFile() as page:
        page.write(pdf)
        page.flush()
        return told("pdftotext", page.name, "-")
