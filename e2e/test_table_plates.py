"""A table of a stage kept as a table plate, edited where it stands, and taken away."""

import io

from docx import Document
from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.models import TablePlate


class TablePlates(PlateCase):
    def test_from_a_stage_to_a_page_of_a_word_processor(self):
        page = self.page
        page.goto(f"/tables/{self.table.pk}/compare?variable=shell_length&by=tray_type")
        numbers = page.get_by_role("region", name="Numbers", exact=True)
        numbers.get_by_role("button", name="keep as table").focus()
        page.keyboard.press("p")
        page.get_by_role("status").get_by_role("link").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("follows its data")
        table = page.get_by_role("table")
        expect(table.get_by_role("rowheader")).to_have_text(["basket", "mesh", "slotted"])

        table.get_by_role("button", name="Other words for basket").click()
        page.get_by_role("textbox", name="Words for basket").fill("Basket trays")
        page.keyboard.press("Enter")
        expect(table.get_by_role("rowheader").first).to_have_text("Basket trays")
        page.get_by_role("button", name="Bars: t interval").click()
        page.get_by_role("option", name="SD", exact=True).click()
        expect(table.get_by_role("columnheader").nth(3)).to_contain_text("SD")
        page.get_by_role("button", name="Columns", exact=True).click()
        page.get_by_role("button", name="Decimals of mean (mm): as the data").click()
        page.get_by_role("option", name="1 decimal", exact=True).click()
        expect(table.get_by_role("cell", name="52.4", exact=True)).to_be_visible()
        expect(page.get_by_text("saved", exact=True)).to_be_visible()
        kept = TablePlate.objects.get().document
        self.assertEqual((kept["labels"], kept["source"]["bars"]), ({"group:basket": "Basket trays"}, "sd"))

        page.get_by_role("button", name="Download…").click()
        with page.expect_download() as leaving:
            page.get_by_role("button", name="Word processor (.docx)").click()
        with open(leaving.value.path(), "rb") as file:
            made = Document(io.BytesIO(file.read()))
        self.assertEqual(
            [cell.text.strip("\u2007") for cell in made.tables[0].rows[1].cells][:3], ["Basket trays", "135", "52.4"]
        )
        page.keyboard.press("Escape")

        page.keyboard.press("Control+z")
        expect(table.get_by_role("cell", name="52.44", exact=True)).to_be_visible()
        page.get_by_role("link", name="Plates", exact=True).last.click()
        shelf = page.get_by_role("region", name="Tables")
        expect(shelf.get_by_role("link", name="Open Shell length (mm) by tray type")).to_be_visible()
        shelf.get_by_role("button", name="delete").click()
        shelf.get_by_role("button", name="Delete for good").click()
        expect(shelf).to_have_count(0)
