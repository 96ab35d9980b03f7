"""Variables made of others in other ways than a scale, changed where they stand, and several at once."""

import re
from pathlib import Path

import numpy as np
from heron import intake
from heron.rescale import along, offsets
from playwright.sync_api import expect

from e2e.browser import BrowserCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
mass = OYSTERS["shell_mass"].numbers


class Recipes(BrowserCase):
    def open_rescale(self, variable="shell_mass", scale=None):
        self.open_demo_table(variable)
        self.page.keyboard.press("3")
        expect(self.sentence).to_contain_text("Rescale")
        if scale:
            self.pick("Scale", scale)

    def pick(self, label, option):
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        self.page.get_by_role("option", name=re.compile(f"^{option}")).click()

    @property
    def adopt(self):
        return self.page.get_by_role("region", name=re.compile("^(Adopt|Change) "))

    def test_change_along_an_order_within_groups(self):
        self.open_rescale(scale="change along an order")
        self.pick("Taken", "percent change")
        self.pick("Order", "week")
        self.pick("Within", "within each tray type")
        result = along(mass, OYSTERS["tray_type"], at=OYSTERS["week"], take="percent-change")
        expect(self.adopt).to_contain_text(f"{np.isnan(result.values).sum()} values cannot stand")
        expect(self.adopt).to_contain_text("none before it")
        expect(self.adopt).to_contain_text(f"{result.tied.size} rows share their place in this order")
        self.button("Adopt").click()
        self.page.keyboard.press("v")
        expect(self.page.get_by_text("percent change from the row before, shell mass along week")).to_be_visible()

    def test_ranges_are_given_labels_and_changed_afterwards(self):
        self.open_rescale(scale="ranges with labels")
        self.page.get_by_label("From 2", exact=True).fill("10")
        self.page.get_by_label("From 3", exact=True).fill("20")
        self.page.get_by_label("Label 3").fill("large")
        self.button("Show").click()
        after = self.page.get_by_role("region", name="After: ranges with labels")
        large = int(np.count_nonzero(mass >= 20))
        expect(after.get_by_role("listitem").filter(has_text="large")).to_contain_text(str(large))
        self.adopt.get_by_label("Name of the new variable").fill("size")
        self.button("Adopt").click()
        expect(self.adopt.get_by_role("status")).to_contain_text("follows its source")
        self.page.keyboard.press("v")
        self.page.get_by_role("row", name=re.compile("3 classes of shell mass")).get_by_role(
            "link", name="change"
        ).click()
        expect(self.page.get_by_label("Label 3")).to_have_value("large")
        self.page.get_by_label("Label 3").fill("middle")
        self.button("Show").click()
        self.button("Change it").click()
        expect(self.adopt.get_by_role("status")).to_be_visible()
        self.page.keyboard.press("v")
        expect(self.page.get_by_text("2 classes of shell mass")).to_be_visible()
        self.page.keyboard.press("l")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text("Made size: 2 classes of shell mass")

    def test_an_expression_by_keyboard_alone_and_its_recipe_changed(self):
        self.open_rescale()
        self.page.keyboard.press("Control+k")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name=re.compile("^Scale:")).focus()
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("an expression")
        self.page.keyboard.press("Enter")
        line = self.page.get_by_label("Expression", exact=True)
        line.focus()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type("2 * shell_le")
        self.page.keyboard.press("Tab")
        expect(line).to_have_value("2 * shell_length")
        first = OYSTERS["shell_length"].numbers[0]
        expect(self.adopt.get_by_role("row").nth(1)).to_contain_text(f"{2 * first:.6g}")
        line.fill(f"3 {' ' * 5_000}* shell_length")  # more than an address holds
        expect(self.adopt.get_by_role("row").nth(1)).to_contain_text(f"{3 * first:.6g}")
        line.fill("2 * shell_length")
        expect(self.adopt.get_by_role("row").nth(1)).to_contain_text(f"{2 * first:.6g}")
        self.adopt.get_by_label("Name of the new variable").focus()
        self.page.keyboard.type("double length")
        self.page.keyboard.press("Enter")
        expect(self.adopt.get_by_role("status")).to_contain_text("follows its source")
        self.page.evaluate("document.activeElement.blur()")
        self.page.keyboard.press("v")
        row = self.page.get_by_role("row", name=re.compile("the expression 2 \\* shell_length"))
        row.get_by_role("link", name="change").click()
        expect(self.page.get_by_text("The recipe of double length is being changed")).to_be_visible()
        line.fill("3 * shell_length")
        expect(self.adopt.get_by_role("row").nth(1)).to_contain_text(f"{3 * OYSTERS['shell_length'].numbers[0]:.6g}")
        self.button("Change it").click()
        expect(self.adopt.get_by_role("status")).to_be_visible()
        self.page.keyboard.press("v")
        expect(self.page.get_by_role("row", name=re.compile("the expression 3 \\* shell_length"))).to_be_visible()

    def test_levels_renamed_are_renamed_otherwise(self):
        self.open_demo_table()
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name=re.compile("^tray type")).click()
        self.button("rename or merge levels").click()
        self.page.get_by_label("New label of basket").fill("hung")
        lost = int(np.count_nonzero(OYSTERS["tray_type"].values != "basket"))
        expect(self.page.get_by_role("dialog")).to_contain_text(f"{lost} rows would count as missing")
        self.page.get_by_label("All others").fill("flat")
        self.page.get_by_label("Name of the new variable").fill("way")
        self.button("Make").click()
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("v")
        row = self.page.get_by_role("row", name=re.compile("tray type, levels renamed: basket → hung"))
        row.get_by_role("link", name="change").click()
        expect(self.page.get_by_label("New label of basket")).to_have_value("hung")
        self.page.get_by_label("New label of mesh").fill("hung")
        self.button("Change it").click()
        expect(self.page.get_by_role("status")).to_contain_text("stands among the variables")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name=re.compile("^way")).click()
        hung = int(np.count_nonzero(np.isin(OYSTERS["tray_type"].values, ["basket", "mesh"])))
        expect(self.page.get_by_role("region", name=re.compile("Reading"))).to_contain_text(f"hung, {hung} rows")

    def test_percent_of_a_baseline_group(self):
        self.open_rescale(scale="percent of a baseline")
        trays = OYSTERS["tray_type"].values
        self.pick("Level", "basket")
        base = np.nanmean(mass[trays == "basket"])
        expect(self.adopt.get_by_role("row").nth(1)).to_contain_text(f"{100 * mass[0] / base:.6g}")
        self.button("Adopt").click()
        self.page.get_by_role("link", name="its spread").click()
        expect(self.sentence).to_contain_text("Spread of shell mass, % of tray type basket (%)")

    def test_variables_put_together_and_units_that_do_not_agree(self):
        self.open_rescale(scale="an expression")
        self.button("put variables together").click()
        together = self.page.get_by_role("dialog", name="Put variables together")
        together.get_by_role("button", name="sum").click()
        together.get_by_label("shell length (mm)").check()
        together.get_by_role("button", name="Write it").click()
        expect(self.page.get_by_label("Expression", exact=True)).to_have_value("shell_mass + shell_length")
        expect(self.adopt.get_by_role("status")).to_contain_text("g and mm are added here")

    def test_one_scale_for_several_and_what_is_added_before_a_log(self):
        self.open_rescale("drill_holes", scale="log₁₀")
        result = offsets(OYSTERS["drill_holes"].numbers)
        expect(self.adopt).to_contain_text(f"Q-Q correlation {result.straightest_correlation:.3f}")
        self.adopt.get_by_role("button", name="log(x + 0.5)").click()
        expect(self.sentence).to_contain_text("as log₁₀(x + 0.5)")
        self.button("other variables likewise").click()
        self.page.get_by_label("shell width (mm)").check()
        self.page.keyboard.press("Escape")
        self.button("Adopt 2").click()
        expect(self.adopt.get_by_role("status")).to_contain_text("2 variables stand among the others")
        expect(self.page.get_by_role("navigation", name="Variables")).to_contain_text("log10 (shell width + 0.5)")
