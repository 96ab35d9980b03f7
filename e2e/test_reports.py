"""A report begun in the gallery, written, renumbered, made into pages and taken away."""

import io
import re

from docx import Document
from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.documents import TablePlateDocument
from server.plates.models import PlatePicture
from server.plates.services import keep_table
from server.reports import services
from server.reports.models import Report
from server.studies.models import Job


class Reports(PlateCase):
    def setUp(self):
        super().setUp()
        self.made(name="Lengths")
        self.made(self.pair(), name="Mass and length")
        source = {"kind": "summary", "table": str(self.table.pk), "variables": ["shell_mass"], "by": "tray_type"}
        document = TablePlateDocument.model_validate({"source": source})
        keep_table(self.user, self.study, "Masses", document)

    def work(self, form: str = "") -> None:
        """Make what was asked for last, or last in a form, as the worker does."""
        for _ in range(100):
            asked = Job.objects.filter(state="waiting")
            job = (asked.filter(choices__form=form) if form else asked).last()
            if job:
                services.run(job)
                return
            self.page.wait_for_timeout(100)
        self.fail("nothing was asked for")

    def test_from_the_gallery_to_a_page_of_a_word_processor(self):
        page = self.page
        page.goto(f"/studies/{self.study.pk}/plates")
        page.get_by_role("button", name="New report").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Report")
        parts = page.get_by_role("region", name="Parts")
        labels = parts.get_by_text(re.compile(r"^(Figure|Table) \d$"))
        expect(labels).to_have_text(["Table 1", "Figure 1", "Figure 2"])
        pages = page.get_by_role("list", name="Pages").get_by_role("img")
        self.work()
        expect(pages.first).to_be_visible()
        self.assertEqual(PlatePicture.objects.count(), 2)  # as this page drew them
        expect(page.get_by_text("The text does not refer to Table 1, Figure 1, Figure 2.")).to_be_visible()

        text = parts.get_by_role("textbox", name="Text", exact=True)
        text.fill("Mass grows with length, see ")
        parts.get_by_role("button", name="Refer to").click()
        page.get_by_role("option", name=re.compile("Figure 2")).click()
        expect(text).to_have_value("Mass grows with length, see {mass-and-length}")
        expect(parts.get_by_text("{mass-and-length} is Figure 2")).to_be_visible()
        word = parts.get_by_role("textbox", name="Word in text for Figure 2")
        word.fill("lengths-")  # another one's, and not whole
        word.press("Enter")
        expect(text).to_have_value("Mass grows with length, see {lengths-2}")
        page.get_by_role("button", name="Undo").click()
        expect(text).to_have_value("Mass grows with length, see {mass-and-length}")
        parts.get_by_role("button", name="Move part 5 up").click()
        expect(parts.get_by_text("{mass-and-length} is Figure 1")).to_be_visible()
        expect(labels).to_have_text(["Table 1", "Figure 1", "Figure 2"])
        parts.get_by_role("button", name="Take part 3 out").click()
        expect(labels).to_have_text(["Figure 1", "Figure 2"])
        page.get_by_role("button", name="Undo").click()
        expect(labels).to_have_text(["Table 1", "Figure 1", "Figure 2"])
        parts.get_by_role("button", name="Add… at the end").click()
        page.get_by_role("button", name="Heading", exact=True).click()
        parts.get_by_role("textbox", name="Heading", exact=True).last.fill("Thanks")
        self.kept()
        document = Report.objects.get().document
        self.assertEqual(document["parts"][-1], {"kind": "heading", "text": "Thanks", "level": 1})

        page.get_by_role("button", name="Download…").click()
        with page.expect_download() as leaving:
            page.get_by_role("button", name="Word processor (.docx)").click()
            self.work("docx")
        with open(leaving.value.path(), "rb") as file:
            made = Document(io.BytesIO(file.read()))
        said = [paragraph.text for paragraph in made.paragraphs]
        self.assertIn("Mass grows with length, see Figure 1", said)
        self.assertEqual(len(made.inline_shapes), 2)
        page.keyboard.press("Escape")

        page.get_by_role("link", name="Plates", exact=True).last.click()
        shelf = page.get_by_role("region", name="Reports")
        expect(shelf.locator("img")).to_be_attached()
        shelf.get_by_role("button", name="duplicate").click()
        expect(shelf.get_by_role("listitem")).to_have_count(2)
        shelf.get_by_role("button", name="delete").first.click()
        shelf.get_by_role("button", name="Delete for good").click()
        expect(shelf.get_by_role("listitem")).to_have_count(1)

    def test_a_report_is_written_and_taken_away_by_keyboard_alone(self):
        page = self.page
        page.goto(f"/studies/{self.study.pk}/plates")
        expect(page.get_by_role("heading", level=1)).to_be_visible()
        self.tab_to("New report")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Report")
        parts = page.get_by_role("region", name="Parts")
        expect(parts.get_by_text("Figure 2")).to_be_visible()
        self.tab_to("^Title")
        page.keyboard.type("Two years of trays")
        self.tab_to("^Text ")
        page.keyboard.type("Mass grows with length.")
        self.tab_to("Move part 5 up")
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Move part 4 up")).to_be_focused()
        self.tab_to("Add… at the end")
        page.keyboard.press("Enter")
        self.tab_to("^ ?Heading")
        page.keyboard.press("Enter")
        heading = parts.get_by_role("textbox", name="Heading", exact=True).last
        expect(heading).to_be_focused()
        page.keyboard.type("Thanks")
        self.kept()
        document = Report.objects.get().document
        self.assertEqual(document["title"], "Two years of trays")
        self.assertEqual(document["parts"][-1], {"kind": "heading", "text": "Thanks", "level": 1})
        self.assertIn({"kind": "text", "text": "Mass grows with length."}, document["parts"])
        self.tab_to("^ ?Download…")
        page.keyboard.press("Enter")
        self.tab_to("^ ?HTML")
        with page.expect_download() as leaving:
            page.keyboard.press("Enter")
            self.work("html")
        self.assertTrue(leaving.value.suggested_filename.endswith(".html"))
