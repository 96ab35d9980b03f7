"""Plates of data at the edge, and by the keyboard alone."""

import re

from heron.figure import styles
from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.models import Plate


class Edges(PlateCase):
    def test_a_sheet_too_small_for_its_words_says_so(self):
        self.open_plate(self.groups(), sheet={"width": 24, "height": 20}, style={**styles.ON_SCREEN, "type_size": 12})
        expect(self.checks.locator("[data-code='text']")).to_contain_text("lie over one another")


class ByKeys(PlateCase):
    def test_a_plate_is_kept_edited_and_taken_away_by_keys_alone(self):
        self.page.goto(f"/tables/{self.table.pk}/compare?variable=shell_length&by=tray_type")
        expect(self.page.get_by_role("button", name="keep as plate").first).to_be_visible()
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.page.keyboard.press("7")
        expect(self.sentence).to_contain_text("1 plate of Ellery Sound")
        opening = self.page.get_by_role("link", name=re.compile("^Open Shell length"))
        opening.focus()
        self.page.keyboard.press("Enter")
        expect(self.sheet.locator("[data-panel]")).to_be_attached()
        choice = self.page.get_by_role("button", name=re.compile("^Part:"))
        choice.focus()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("combobox", name="Part")).to_be_focused()
        self.page.keyboard.type("axis up")
        self.page.keyboard.press("Enter")
        top = self.part.get_by_label("To", exact=True)
        top.focus()
        before = float(top.get_attribute("placeholder"))
        self.page.keyboard.press("Shift+ArrowUp")
        self.soon(lambda: self.assertGreater(float(top.input_value() or before), before))
        self.page.get_by_role("button", name=re.compile("^Add:")).focus()
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("note")
        self.page.keyboard.press("Enter")
        note = self.at("0:furniture:0")
        expect(note).to_contain_text("note")
        x = note.bounding_box()["x"]
        self.page.get_by_role("group", name=re.compile("^Sheet:")).focus()
        self.page.keyboard.press("Shift+ArrowRight")
        self.soon(lambda: self.assertGreater(note.bounding_box()["x"], x + 4))
        self.button("Download…").focus()
        self.page.keyboard.press("Enter")
        take = self.page.get_by_role("dialog", name="Download").get_by_role("button", name="Caption", exact=True)
        take.focus()
        with self.page.expect_download() as download:
            self.page.keyboard.press("Enter")
        self.assertIn("# Shell length by tray type", download.value.path().read_text())
        self.page.keyboard.press("Escape")
        small = self.page.evaluate(
            "[...document.querySelectorAll('main button, main input, main select')]"
            ".filter((e) => e.offsetParent && e.type !== 'checkbox' && !e.closest('.sr-only'))"
            ".map((e) => [e.getAttribute('aria-label') || e.textContent, e.getBoundingClientRect().height])"
            ".filter(([, h]) => h < 24)"
        )
        self.assertEqual(small, [])
        self.assert_nothing_scrolls_sideways()
        self.assertEqual(Plate.objects.count(), 1)
