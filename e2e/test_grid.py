"""Every row of a table, as a person looks for one."""

import re

import numpy as np
from playwright.sync_api import expect

from e2e.browser import BrowserCase
from server.server_tests.cases import stored_in
from server.studies.services import create_study


class Rows(BrowserCase):
    @property
    def grid(self):
        return self.page.get_by_role("grid")

    def first_rows(self, count: int = 3) -> list[str]:
        expect(self.grid.get_by_role("rowheader").first).to_have_text(re.compile(r"\d"))
        return [text.replace("\u202f", "") for text in self.grid.get_by_role("rowheader").all_text_contents()[:count]]

    def open_rows(self) -> None:
        self.open_demo_table()
        self.page.keyboard.press("g")
        expect(self.sentence).to_have_text("Rows of Oyster nursery, as they came")

    def test_sorted_narrowed_and_found(self):
        self.open_rows()
        self.assertEqual(self.first_rows(), ["1", "2", "3"])
        self.assert_nothing_scrolls_sideways()
        heads = self.grid.get_by_role("columnheader")
        heads.filter(has_text="shell mass").get_by_role("button", name="shell mass", exact=True).click()
        expect(self.sentence).to_contain_text("by shell mass, smallest first")
        heads.filter(has_text="shell mass").get_by_role("button", name=re.compile("^shell mass")).click()
        expect(self.sentence).to_contain_text("largest first")
        expect(self.grid.get_by_role("rowheader").first).to_have_text("390")
        self.page.get_by_label("Go to row").fill("207")
        self.button("Go").click()
        expect(self.grid.get_by_role("row").filter(has_text=re.compile("^207"))).to_be_visible()
        self.button("All rows, as they came").click()
        self.button("Choose rows by salinity: all").click()
        self.button("Only rows where it is missing").click()
        expect(self.page.get_by_text("19 of 416 rows")).to_be_visible()
        expect(self.grid).to_contain_text("−99")
        expect(self.grid).to_contain_text("blank")
        self.page.get_by_label("Go to row").fill("1")
        self.button("Go").click()
        expect(self.page.get_by_text("Row 1 is not among these.")).to_be_visible()
        self.page.go_back()
        self.button("Choose rows by tray type: all").click()
        self.page.get_by_role("dialog").get_by_role("button", name="basket").click()
        expect(self.sentence).to_contain_text("with tray type basket")

    def test_rows_are_selected_here_and_everywhere_and_set_aside(self):
        self.open_rows()
        self.assertEqual(self.first_rows(2), ["1", "2"])
        self.grid.get_by_role("row").nth(2).click()
        expect(self.strip).to_contain_text("1 row selected")
        self.grid.press("ArrowDown")
        self.grid.press("Control+Space")
        self.grid.press("Shift+ArrowDown")
        expect(self.strip).to_contain_text("3 rows selected")
        self.page.keyboard.press("x")
        self.page.get_by_label("Reason").fill("lost labels")
        self.page.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(self.page.get_by_text("3 set aside, struck through")).to_be_visible()
        expect(self.grid.get_by_role("row").nth(2)).to_have_class(re.compile("line-through"))
        self.page.keyboard.press("2")
        expect(self.page.get_by_role("button", name="3 set aside")).to_be_visible()

    def test_the_audit_names_what_deserves_a_look_and_opens_its_rows(self):
        self.open_rows()
        self.page.get_by_role("button", name="complete, no problems found").click()
        audit = self.page.get_by_role("dialog", name="Audit")
        lines = audit.get_by_role("row")
        expect(lines.filter(has_text=re.compile("there")).first).to_be_visible()
        expect(audit).to_contain_text("No row repeats")
        self.page.keyboard.press("Escape")
        expect(audit).to_have_count(0)
        self.open_other("Night bus")
        self.page.get_by_role("button", name=re.compile("complete, 2 findings")).click()
        expect(audit).to_contain_text("of wait end in 0 or 5, where 20 % would by chance")
        audit.get_by_role("button", name="show them").first.click()
        expect(self.strip).to_contain_text("1000 rows selected")

    def open_other(self, name: str) -> None:
        self.type_choice("Control+k", "Find or do", f"table {name}")
        expect(self.sentence).to_contain_text(f"in {name}")
        self.page.keyboard.press("g")
        expect(self.sentence).to_contain_text(f"Rows of {name}")

    def test_the_keys_move_as_in_any_table(self):
        self.open_rows()
        self.grid.focus()
        self.grid.press("Control+End")
        expect(self.grid.get_by_role("rowheader").last).to_have_text("416")
        self.grid.press("Control+Home")
        expect(self.grid.get_by_role("rowheader").first).to_have_text("1")
        self.grid.press("PageDown")
        self.grid.press("End")
        self.grid.press("Space")
        expect(self.strip.get_by_role("rowheader")).to_have_count(1)

    def cell(self, row: int, column: int):
        return self.grid.get_by_role("row").nth(row).get_by_role("gridcell").nth(column)

    def test_cells_are_corrected_with_a_reason_and_the_old_values_can_be_looked_back_at(self):
        self.open_rows()
        self.assertEqual(self.first_rows(2), ["1", "2"])
        self.cell(1, 5).dblclick()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type("4.55")
        self.page.keyboard.press("Enter")
        self.page.keyboard.press("Delete")  # the cell below
        expect(self.cell(2, 5)).to_have_text("blank")
        self.page.keyboard.press("ArrowDown")
        self.paste(self.grid, "7.5\tn/r\n8.5\t9.25")
        expect(self.cell(4, 6)).to_have_text("9.25")
        bar = self.page.get_by_role("form", name="Corrections")
        expect(bar).to_contain_text("6 cells changed")
        self.page.keyboard.press("2")  # digits correct the cell they are typed in
        self.page.keyboard.press("Escape")
        bar.get_by_label("Reason for the corrections").fill("read again from the sheet")
        bar.get_by_role("button", name="Record the corrections").click()
        expect(bar).to_have_count(0)
        expect(self.cell(1, 5)).to_have_text("4.55")
        self.page.get_by_role("button", name="Ledger").click()
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text("shell mass 4.03 → 4.55")
        ledger.get_by_text("As it came").get_by_role("button").click()
        expect(self.page.get_by_text("as it stood when it came")).to_be_visible()
        expect(self.cell(1, 5)).to_have_text("4.03")
        ledger.get_by_role("button", name="return to now").click()
        expect(self.cell(1, 5)).to_have_text("4.55")
        self.page.keyboard.press("Control+z")
        expect(self.cell(1, 5)).to_have_text("4.03")

    def test_what_a_kind_cannot_hold_is_refused_and_stays_typed(self):
        self.open_rows()
        self.assertEqual(self.first_rows(1), ["1"])
        self.cell(1, 5).click()
        self.page.keyboard.press("Enter")
        self.page.keyboard.type(" or so")
        self.page.keyboard.press("Enter")
        self.page.get_by_label("Reason for the corrections").fill("a guess")
        self.button("Record the correction").click()
        expect(self.page.get_by_role("alert")).to_contain_text("'4.03 or so' in row 1 is none.")
        expect(self.cell(1, 5)).to_have_text("4.03 or so")

    def test_columns_are_widened_and_kept_in_sight_and_texts_are_found(self):
        self.open_rows()
        head = self.grid.get_by_role("columnheader").filter(has_text="tag")
        before = head.bounding_box()["width"]
        edge = self.grid.locator("[data-width-of=tag]").bounding_box()
        self.page.mouse.move(edge["x"] + 4, edge["y"] + 20)
        self.page.mouse.down()
        self.page.mouse.move(edge["x"] + 304, edge["y"] + 20)
        self.page.mouse.up()
        self.assertAlmostEqual(head.bounding_box()["width"], before + 300, delta=2)
        self.button("Choose rows by shell mass: all").click()
        self.button("Pin").click()
        self.page.keyboard.press("Escape")
        self.grid.evaluate("(box) => { box.scrollLeft = box.scrollWidth }")
        expect(self.grid.get_by_role("columnheader").nth(1)).to_contain_text("shell mass")
        expect(self.grid.get_by_role("columnheader").nth(1)).to_be_in_viewport()
        self.page.get_by_label("Find", exact=True).fill("n/r")
        self.button("Next").click()
        expect(self.page.get_by_text(re.compile(r"\d+ rows with it"))).to_be_visible()
        expect(self.grid.locator("[data-at-hand=true]")).to_have_text("n/r")

    def test_six_hundred_thousand_rows_scroll_from_end_to_end(self):
        user = self.person()
        values = np.random.default_rng(2).permutation(600_000)
        table = stored_in(create_study(user, "Large"), "x\n" + "\n".join(map(str, values)), "Large")
        self.enter_as(user)
        self.page.goto(f"/tables/{table.pk}/grid")
        self.assertEqual(self.first_rows(), ["1", "2", "3"])
        self.grid.evaluate("(box) => { box.scrollTop = box.scrollHeight }")
        expect(self.grid.get_by_role("rowheader").last).to_have_text("600\u202f000")
        self.grid.evaluate("(box) => { box.scrollTop = (box.scrollHeight - box.clientHeight) / 2 }")
        expect(self.grid.get_by_role("rowheader").nth(8)).to_have_text(re.compile("^300\u202f|^299\u202f"))
        self.page.get_by_label("Go to row").fill("123456")
        self.button("Go").click()
        row = self.grid.get_by_role("row").filter(has_text="123\u202f456")
        expect(row).to_contain_text(str(values[123_455]))
        box, frame = row.bounding_box(), self.grid.bounding_box()
        self.assertTrue(frame["y"] < box["y"] < frame["y"] + frame["height"])
