"""Decisions as a person makes them: set aside, see it everywhere, take it back, and meet another's."""

import numpy as np
from heron import summary
from playwright.sync_api import expect

from e2e.browser import BrowserCase
from e2e.test_spread import MASS
from server.ledger.models import Entry


class SettingAside(BrowserCase):
    @property
    def ledger(self):
        return self.page.get_by_role("complementary", name="Ledger")

    def set_aside(self, reason: str) -> None:
        self.page.keyboard.press("x")
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_label("Reason").fill(reason)
        dialog.get_by_role("button", name="Set aside", exact=True).click()
        expect(dialog).to_have_count(0)

    def mean(self, without: list[int]) -> str:
        return f"{summary.summarize(np.delete(MASS, [row - 1 for row in without])).mean:.3f}"

    def test_a_row_is_set_aside_with_a_reason_and_everything_follows(self):
        self.open_demo_table()
        mean = self.reading.get_by_role("definition").first
        expect(mean).to_have_text(self.mean([]))
        self.reading.get_by_role("button", name="row 390").click()
        self.page.keyboard.press("x")
        expect(self.page.get_by_role("dialog")).to_contain_text("Why is this row set aside?")
        self.button("entry mistake").click()
        self.page.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(mean).to_have_text(self.mean([390]))
        expect(self.page.get_by_text("415 rows used")).to_be_visible()
        expect(self.plot.locator("[data-aside]")).to_have_count(1)  # still to be seen, as a dashed ring
        self.page.get_by_role("button", name="1 set aside").click()
        expect(self.strip.locator("[data-aside=true]")).to_have_count(1)
        expect(self.strip).to_contain_text("60.83")
        self.page.get_by_role("link", name="shell width").click()
        expect(self.page.get_by_role("button", name="1 set aside")).to_be_visible()
        self.button("Put back 1 row").click()
        expect(self.page.get_by_text("416 rows used")).to_be_visible()
        self.assertEqual(
            list(Entry.objects.values_list("kind", "reason")), [("set-aside", "entry mistake"), ("put-back", "")]
        )

    def test_one_value_only_and_back_and_forth_by_keyboard(self):
        self.open_demo_table()
        self.reading.get_by_role("button", name="row 390").click()
        self.page.keyboard.press("x")
        self.page.get_by_label("only the value of shell mass").check()
        self.page.get_by_label("Reason").fill("weighed wet")
        self.page.keyboard.press("Enter")
        mean = self.reading.get_by_role("definition").first
        expect(mean).to_have_text(self.mean([390]))
        self.page.keyboard.press("Control+z")
        expect(mean).to_have_text(self.mean([]))
        expect(self.ledger.get_by_role("listitem").first).to_contain_text("Took back entry 1")
        expect(self.ledger.get_by_role("listitem").nth(-2)).to_contain_text("undone")
        self.page.keyboard.press("Control+Shift+z")
        expect(mean).to_have_text(self.mean([390]))
        expect(self.ledger.get_by_role("listitem").nth(-2)).to_contain_text("Set aside the shell mass of row 390")
        self.page.keyboard.press("Escape")
        expect(self.ledger).to_have_count(0)
        self.page.get_by_role("link", name="shell width").click()
        expect(self.page.get_by_text("416 rows used")).to_be_visible()

    def test_a_variable_is_described_and_its_density_kept_within_its_bound(self):
        self.open_demo_table()
        self.button("describe").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_label("Label").fill("wet mass")
        dialog.get_by_label("Cannot be below").fill("0")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)
        expect(self.sentence).to_contain_text("Spread of wet mass (g)")
        expect(self.page.get_by_role("navigation", name="Variables")).to_contain_text("wet mass")
        self.button("Download").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("turned back at 0 g")
        self.page.keyboard.press("Escape")
        self.button("describe").click()
        dialog.get_by_label("Cannot be below").fill("5")
        dialog.get_by_role("button", name="Save").click()
        expect(dialog).to_have_count(0)
        expect(self.page.get_by_role("alert")).to_contain_text("values lie beyond the declared bounds")
        self.page.get_by_role("alert").get_by_role("button", name="show them").click()
        expect(self.strip).to_contain_text("rows selected")
        self.page.keyboard.press("Control+z")
        expect(self.page.get_by_role("alert")).to_have_count(0)
        expect(self.ledger).to_contain_text("Described wet mass: label wet mass; not below 0")

    def test_two_tabs_on_one_table(self):
        self.open_demo_table()
        self.reading.get_by_role("button", name="row 390").click()
        other = self.new_page()
        other.route("**/pulse", lambda route: None)  # or it would hear of the change before it decides
        other.goto(self.page.url)
        other.get_by_role("region", name="Reading").get_by_role("button", name="row 390").click()
        self.set_aside("here first")
        other.keyboard.press("x")
        dialog = other.get_by_role("dialog")
        dialog.get_by_label("Reason").fill("typed at leisure")
        dialog.get_by_role("button", name="Set aside", exact=True).click()
        expect(dialog).to_contain_text("ada changed this table meanwhile: entry 1")
        expect(dialog.get_by_label("Reason")).to_have_value("typed at leisure")
        expect(other.get_by_role("region", name="Reading").get_by_role("definition").first).to_have_text(
            self.mean([390])
        )
        self.assertEqual(Entry.objects.count(), 1)
        dialog.get_by_role("button", name="Set aside", exact=True).click()  # having seen it, decide again
        expect(dialog).to_have_count(0)
        self.assertEqual(Entry.objects.count(), 2)
