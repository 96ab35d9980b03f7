"""What Compare draws: every mark where its number says, in the forms and orders that a person asks for."""

import re
from pathlib import Path

import numpy as np
from heron import differences, intake
from playwright.sync_api import expect

from e2e.comparing import ComparingCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
mass, length, week = (OYSTERS[name].numbers for name in ("shell_mass", "shell_length", "week"))
TRAYS = OYSTERS["tray_type"].values


class Pictures(ComparingCase):
    def test_an_axis_that_cuts_says_what_and_bars_from_zero_need_a_zero_that_means_none(self):
        self.open_compare()
        self.button("bars from zero").click()
        self.button("display").click()
        self.page.get_by_label("Axis from").fill("10")
        self.page.get_by_role("dialog").get_by_role("button", name="Set", exact=True).click()
        cut = int(np.count_nonzero(mass < 10))
        alert = self.page.get_by_role("alert")
        expect(alert).to_contain_text("the bars from zero of basket, mesh, slotted")
        expect(alert).to_contain_text(f"{cut} points")
        self.page.keyboard.press("Escape")
        alert.get_by_role("button", name="show all").click()
        expect(alert).to_have_count(0)
        self.pick("Variable", "vigour")
        expect(self.button("bars from zero")).to_have_count(0)
        self.button("display").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("only where zero means none; of vigour it does not")

    def test_levels_are_ordered_dragged_and_hidden_and_stay_counted(self):
        self.open_compare()
        self.expect_levels("basket", "mesh", "slotted")
        self.drawn("Order of groups: by centre")
        self.expect_levels("slotted", "mesh", "basket")

        def drag_to_the_end():
            ends = (
                self.words("across").filter(has_text=re.compile(f"^{name}$")).bounding_box()
                for name in ("slotted", "basket")
            )
            source, target = ends
            self.page.mouse.move(source["x"] + 8, source["y"] + 6)
            self.page.mouse.down()
            self.page.mouse.move(target["x"] + 8, target["y"] + 6, steps=4)
            self.page.mouse.up()
            self.expect_levels("mesh", "basket", "slotted", within=3_000)

        self.soon(drag_to_the_end)
        self.button("display").click()
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_role("button", name="slotted before").click()
        self.expect_levels("mesh", "slotted", "basket")
        dialog.get_by_role("checkbox", name="basket").click()
        self.page.keyboard.press("Escape")
        expect(self.groups).to_contain_text(f"Not shown: basket (n = {np.count_nonzero(TRAYS == 'basket')})")
        self.expect_levels("mesh", "slotted")
        expect(self.line("basket")).to_be_visible()

    def test_pairs_are_joined_and_a_line_goes_over_the_numbers(self):
        self.open_compare("shell_length")
        self.pick("Groups", "week")
        self.drawn("Fitted line: through all rows")
        slope, intercept = np.polyfit(week[~np.isnan(length)], length[~np.isnan(length)], 1)
        expect(self.groups).to_contain_text(f"shell length = {intercept:.4g} + {slope:.4g} × week")
        expect(self.groups).to_contain_text("That centres may bend away from a line does not show in R²")
        expect(self.sheet.locator("[data-role='fit']")).to_have_count(1)
        self.pick("Joined by", "tray type")
        expect(self.groups).to_contain_text(
            "Thin lines join the values of one tray type (3 joined, 0 in one group only)"
        )
        card = self.page.get_by_role("region", name="Differences")
        expect(card).to_contain_text("of the values that one tray type has in both")
        ends = (week == 0) | (week == 6)
        expected = differences.mean_difference(length[ends], week[ends], unit=TRAYS[ends])
        expect(card).to_contain_text(
            f"{expected.estimate:.1f} ({expected.low:.1f} to {expected.high:.1f})".replace("-", "−")
        )
        expect(card).to_contain_text("3 pairs")
        card.get_by_role("button", name="tests").click()
        tests = differences.compare_repeated(length, week, unit=TRAYS)
        expect(card.get_by_role("row", name=re.compile("^Analysis of variance of repeated"))).to_contain_text(
            f"F {tests.repeated.statistic:.4g}"
        )
        expect(card.get_by_role("row", name=re.compile("^Friedman"))).to_contain_text("Kendall's W")
