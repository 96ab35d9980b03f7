"""Rows that deserve a second look: named, weighed, decided on, and told of."""

import json
import re
from pathlib import Path

import numpy as np
from heron import influence, intake, outliers, sensitivity, summary
from playwright.sync_api import expect

from e2e.browser import BrowserCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
TRUTH = json.loads((DEMO / "truth.json").read_text())["oyster_nursery"]
mass, length, width = (OYSTERS[name].numbers for name in ("shell_mass", "shell_length", "shell_width"))


class Screening(BrowserCase):
    def open_screen(self, variable="shell_mass"):
        self.open_demo_table(variable)
        self.page.keyboard.press("4")
        expect(self.sentence).to_contain_text("Screen")

    def pick(self, label, option):
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        self.page.get_by_role("option", name=re.compile(f"^{option}")).click()

    def tick(self, label, *names):
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        for name in names:
            self.page.get_by_role("dialog", name=label).get_by_label(name, exact=False).first.click()
        self.page.keyboard.press("Escape")

    def region(self, name):
        return self.page.get_by_role("region", name=name)

    @property
    def rows(self):
        return self.region("Rows flagged")

    @property
    def hand(self):
        return self.region("Decision on these rows")

    def take(self, row):
        self.rows.get_by_role("button", name=f"row {row}", exact=True).click()

    def weigh(self, row):
        """A row is taken, and what would change without it stands above the form, which it moves."""
        self.take(row)
        expect(self.hand).to_contain_text(f"Row {row} selected")
        expect(self.hand.get_by_role("rowheader", name="Shapiro-Wilk p")).to_be_visible()

    def test_rules_side_by_side_and_the_plot_by_keyboard(self):
        self.open_screen()
        self.tick("Rules", "generalized ESD", "skew-adjusted fences")
        result = {
            rule: outliers.flag_outliers(mass, rule=rule) for rule in ("fences", "robust-z", "esd", "skew-fences")
        }
        named = set(np.concatenate([each.flagged for each in result.values()]).tolist())
        expect(self.rows).to_contain_text(f"{len(named)} rows flagged")
        first = self.rows.get_by_role("row").nth(1)
        for each in result.values():
            expect(first).to_contain_text(f"{np.nanmax(each.scores):.2f} beyond")
        plot = self.page.get_by_role("application", name=re.compile("with the limits of the rules"))
        plot.press("ArrowDown")
        lowest = min(named, key=lambda i: mass[i])
        expect(self.page.get_by_role("status")).to_contain_text(f"row {lowest + 1}")
        expect(self.page.get_by_role("status")).to_contain_text("flagged by fences")
        plot.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")
        self.page.keyboard.press("Escape")
        self.pick("Judged within", "within each week")
        within = outliers.flag_outliers(mass, OYSTERS["week"], rule="fences")
        reading = self.region("Reading")
        expect(reading.get_by_text(str(within.flagged.size), exact=True).first).to_be_visible()
        self.assert_nothing_scrolls_sideways()

    def test_what_would_change_stands_there_before_a_decision(self):
        self.open_screen()
        tab = self.page.get_by_role("navigation", name="Stages").get_by_role("link", name=re.compile("Screen"))
        before = outliers.flag_outliers(mass, rule="fences").flagged.size
        expect(tab).to_contain_text(f"{before} undecided")
        self.weigh(390)
        changes = {change.name: change for change in sensitivity.results_without(mass, without=np.array([389]))}
        table = self.hand.get_by_role("table", name="Results with and without")
        expect(table.get_by_role("row", name="Skewness")).to_contain_text(f"{changes['skewness'].without:.3f}")
        expect(table.get_by_role("row", name=re.compile("^Mean"))).to_contain_text(f"{changes['mean'].without:.3f}")
        self.hand.get_by_label("Note (may be left out)").fill("measured twice")
        self.hand.get_by_role("button", name="Decide on 1 row").click()
        expect(self.rows.get_by_role("row", name=re.compile("^row 390"))).to_contain_text("kept entry 1")
        expect(tab).to_contain_text(f"{before - 1} undecided")
        self.weigh(343)
        self.hand.get_by_role("button", name="set the row aside").click()
        expect(self.hand.get_by_role("button", name="Decide on 1 row")).to_be_disabled()
        self.hand.get_by_role("button", name="not of this population").click()
        self.hand.get_by_role("button", name="Decide on 1 row").click()
        report = self.region("For a methods section")
        expect(report).to_contain_text("Row 343 (47.10 g) was set aside: not of this population (ledger 2)")
        left = summary.summarize(np.delete(mass, 342))
        expect(report).to_contain_text(f"from {summary.summarize(mass).mean:.4g} to {left.mean:.4g} g")
        self.page.keyboard.press("Control+z")
        expect(report).not_to_contain_text("set aside")
        self.page.keyboard.press("Escape")
        expect(report).to_contain_text("Row 390 (60.83 g) was kept: measured twice (ledger 1)")

    def test_a_value_is_corrected_and_others_pulled_in_to_the_fence(self):
        self.open_screen("shell_width")
        mistake = next(each["row"] for each in TRUTH["mistakes"] if each["variable"] == "shell_width")
        self.pick("Judged within", "within each week")
        expect(self.rows.get_by_role("columnheader", name="week")).to_be_visible()  # nothing moves any more
        self.weigh(mistake)
        self.hand.get_by_role("button", name="correct the value").click()
        self.hand.get_by_label("The right value").fill("19")
        self.hand.get_by_role("button", name="entry mistake").click()
        self.hand.get_by_role("button", name="Decide on 1 row").click()
        expect(self.region("For a methods section")).to_contain_text(f"Row {mistake} (1.9 mm) was corrected")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name=re.compile("shell mass")).click()
        expect(self.sentence).to_contain_text("within each week")  # the choice goes along
        self.pick("Judged within", "over all rows")
        expect(self.rows.get_by_role("columnheader", name="week")).to_have_count(0)
        self.weigh(390)
        self.hand.get_by_role("button", name="pull in to the fence").click()
        fence = outliers.flag_outliers(mass, rule="fences").high
        expect(self.hand).to_contain_text(f"{fence:.5g}")
        self.hand.get_by_label("Reason").fill("balance overloaded")
        self.hand.get_by_role("button", name="offer this reason from now on").click()
        self.hand.get_by_role("button", name="Decide on 1 row").click()
        expect(self.rows.get_by_role("row", name=re.compile("^row 390"))).to_contain_text("pulled in")
        expect(self.page.get_by_role("navigation", name="Variables")).to_contain_text("shell mass, pulled in")
        self.weigh(343)
        self.hand.get_by_role("button", name="set the value aside").click()
        expect(self.hand.get_by_role("button", name="balance overloaded")).to_be_visible()

    def pick_variables(self):
        self.page.get_by_role("button", name=re.compile("^Variables:")).click()
        dialog = self.page.get_by_role("dialog", name="Variables")
        wanted = {"shell mass", "shell length", "shell width"}
        for box in dialog.get_by_role("listitem").all():
            name = box.inner_text().split("\n")[0]
            box.get_by_role("checkbox").set_checked(name in wanted)
        self.page.keyboard.press("Escape")

    def test_a_relation_with_and_without_rows_and_each_plot_of_it(self):
        self.open_screen()
        self.button("a relation").click()
        expect(self.sentence).to_contain_text("relation of shell mass (g) to shell length")
        coefficients = self.region("Coefficients")
        result = influence.diagnose_fit(mass, {"length": length})
        expect(coefficients.get_by_role("row", name="shell length")).to_contain_text(f"{result.coefficients[1]:.4f}")
        row = TRUTH["influential"][0]["row"]
        self.take(row)
        pulled = influence.refit_without(influence.design_of(mass, {"length": length}), np.array([row - 1]))
        expect(coefficients.get_by_role("row", name="intercept")).to_contain_text(
            f"{pulled.without[0]:.2f}".replace("-", "−")
        )
        expect(self.page.get_by_label("the line without the selected rows")).to_be_attached()
        expect(coefficients).to_contain_text(f"{result.n - 1} of {result.n}")
        for name, title in (
            ("residuals against fitted", "Residual \\(g\\) against Fitted value"),
            ("size of residual", "Root of the size"),
            ("Q-Q plot", "Studentized residual against Normal score"),
            ("by row order", "Cook's distance against Row"),
            ("DFBETAS", "DFBETAS of shell length"),
            ("partial plot", "Shell mass, about its mean"),
        ):
            self.pick("Diagnostic plot", name)
            plot = self.page.get_by_role("application", name=re.compile(title))
            plot.press("ArrowDown")
            expect(self.page.get_by_role("status")).to_contain_text("Cook's distance")
        report = self.region("For a methods section")
        expect(report).to_contain_text(
            "Shell mass was fitted on shell length by least squares (n = 411, 5 rows left out"
        )
        self.hand.get_by_role("button", name="set the row aside").click()
        self.hand.get_by_role("button", name="entry mistake").click()
        self.hand.get_by_role("button", name="Decide on 1 row").click()
        expect(report).to_contain_text(f"Row {row} (")
        slope = f"from {result.coefficients[1]:.4g} to {pulled.without[1]:.4g}"
        expect(report).to_contain_text(f"the coefficient of shell length {slope}")
        self.tick("Predictors", "tray type")
        self.tick("Interaction", "shell length", "tray type")
        expect(coefficients).to_contain_text("shell length × tray type")
        expect(self.sentence).to_contain_text("with shell length × tray type")
        self.assert_nothing_scrolls_sideways()

    def test_rows_dragged_in_the_plot_are_pulled_out_together(self):
        self.open_screen()
        self.button("a relation").click()
        plot = self.page.get_by_role("application", name=re.compile("Shell mass \\(g\\) against"))
        box = plot.bounding_box()
        self.page.mouse.move(box["x"] + 62, box["y"] + 20)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + box["width"] - 20, box["y"] + 80, steps=4)
        self.page.mouse.up()
        expect(self.strip).to_contain_text("rows selected: rows within a box")
        expect(self.region("Coefficients")).to_contain_text(re.compile("Without [0-9]+ rows"))
