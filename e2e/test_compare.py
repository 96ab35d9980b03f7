"""Groups side by side: centres with bars that say what they are, and how the groups differ."""

import re
from pathlib import Path

import numpy as np
from heron import differences, groups, intake
from playwright.sync_api import Locator, expect

from e2e.comparing import ComparingCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
mass, length, week = (OYSTERS[name].numbers for name in ("shell_mass", "shell_length", "week"))
TRAYS = OYSTERS["tray_type"].values


class Comparing(ComparingCase):
    def test_lengths_over_weeks_by_tray_in_under_ten_actions(self):
        self.open_demo_table("shell_length")
        self.page.keyboard.press("5")  # 1
        self.pick("Groups", "week")  # 2, 3
        self.pick("Second grouping", "tray type")  # 4, 5
        self.drawn("Axis of groups: on a number axis")  # 6, 7
        self.button("joined").click()  # 8
        expect(self.sentence).to_contain_text(
            "Compare shell length (mm) in Oyster nursery across week, split by tray type"
        )
        first = length[(week == 0) & (TRAYS == "basket")]
        line = self.numbers.get_by_role("row", name=re.compile("^0, basket"))
        expect(line).to_contain_text(f"{np.nanmean(first):.2f}")
        picture = self.page.get_by_role("application", name=re.compile("Shell length"))
        picture.press("ArrowRight")
        status = self.page.get_by_role("status")
        expect(status).to_contain_text("0, basket")
        expect(status).to_contain_text(f"n {np.count_nonzero(~np.isnan(first))}")
        picture.press("Enter")
        expect(self.strip).to_contain_text("rows selected: 0, basket")

    def test_marks_together_and_the_picture_taken_away(self):
        self.open_compare()
        for mark in ("violin", "box", "joined"):
            self.button(mark).click()
        region = self.page.get_by_role("region", name="Groups")
        expect(region).to_contain_text("Boxes: quartiles by definition 7")
        expect(region).to_contain_text("Violins: density by Silverman's rule")
        with self.page.expect_download() as taken:
            region.get_by_role("button", name="SVG").click()
        text = Path(taken.value.path()).read_text()
        self.assertIn("95 % t interval", text)
        self.assertIn("n = 138", text)

    def test_differences_by_measure_and_from_a_reference(self):
        self.open_compare()
        card = self.page.get_by_role("region", name="Differences")
        result = differences.compare_groups(mass, TRAYS)
        for pair in result.pairs:
            expect(card).to_contain_text(f"{pair.first} − {pair.second}")
        expect(card).to_contain_text("Limits at 95 %, for all pairs together (Games and Howell)")
        expect(card).to_contain_text(f"{result.pairs[1].low:.2f} to {result.pairs[1].high:.2f}".replace("-", "−"))
        self.pick("Measure", "Cliff's delta")
        self.pick("Reference", "from mesh")
        expected = differences.cliffs_delta(mass[TRAYS != "slotted"], TRAYS[TRAYS != "slotted"])
        expect(card).to_contain_text(f"{expected.estimate:.3f} ({expected.low:.3f} to".replace("-", "−"))
        expect(card).to_contain_text("Limits at 95 %, each for itself.")
        expect(card).not_to_contain_text("basket − slotted")

    def test_n_counts_units_once_the_table_names_them(self):
        self.open_compare()
        self.page.keyboard.press("v")
        self.pick("What n counts", "each tray type")
        expect(self.page.get_by_role("button", name="What n counts: each tray type")).to_be_visible()
        self.page.keyboard.press("5")
        self.pick("Variable", "shell mass")
        self.pick("Groups", "week")
        reading = self.page.get_by_role("region", name="Reading")
        expect(reading).to_contain_text("Rows are not independent: a tray type has several in a group")
        reading.get_by_role("button", name="let n count each tray type").click()
        expected = groups.group_centres(mass, week.astype(int), unit=TRAYS.tolist(), bars="mean-interval")
        first = next(group for group in expected.groups if group.n)
        line = self.numbers.get_by_role("row", name=re.compile("^0 3"))
        expect(line).to_contain_text(f"{first.low:.3f}")
        expect(self.sentence).to_contain_text("n counting each tray type")
        self.pick("Bars", "interval within units")
        inner = groups.group_centres(mass, week.astype(int), unit=TRAYS.tolist(), bars="within-unit-interval")
        expect(line).to_contain_text(f"{next(group for group in inner.groups if group.n).low:.3f}")

    def test_levels_and_rows_are_renamed_where_they_stand_and_put_back(self):
        rows = "".join(f"{arm},{k + len(arm)}.5\n" for arm in ("old", "new", "none") for k in range(5))
        self.bring("arms.csv", f"arm,score\n{rows}".encode())
        self.page.keyboard.press("5")
        self.expect_levels("new", "none", "old")
        self.rename("none", "Usual care")
        self.expect_levels("new", "Usual care", "old")
        expect(self.numbers).to_contain_text("Usual care")
        name = self.rename("new", "Usual care")
        expect(self.page.get_by_role("alert")).to_contain_text("Two levels would be called")
        name.press("Escape")
        expect(name).to_have_count(0)
        # By the keyboard: a group at hand, its name, and back.
        self.picture.focus()
        for key in ("ArrowRight", "ArrowRight", "F2"):
            self.page.keyboard.press(key)
        expect(self.page.get_by_label("Name of Usual care")).to_be_focused()
        self.button("reset").click()
        self.expect_levels("new", "none", "old")
        self.open_compare_results()
        self.rename("T2", "Second")
        self.expect_levels("T1", "Second", "T3", side="up")

    def rename(self, name: str, words: str) -> Locator:
        label = self.groups.locator("[data-level]").filter(has_text=re.compile(f"^{name}$"))
        expect(self.groups.get_by_role("application")).to_be_visible()
        self.stays(label)
        label.dblclick(force=True)
        box = self.page.get_by_label(f"Name of {name}")
        box.fill(words)
        box.press("Enter")
        return box

    def open_compare_results(self) -> None:
        self.page.keyboard.press("1")
        self.paste_table("trial,ratio,lower,upper\n" + "".join(f"T{k},{k},{k - 0.5},{k + 1}\n" for k in range(1, 9)))
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.page.keyboard.press("5")
        self.expect_levels("T1", "T2", "T3", side="up")
