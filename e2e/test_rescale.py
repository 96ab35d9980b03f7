"""The ladder, before and after, an expression, what a scale cannot take, and a scale adopted."""

import re
from pathlib import Path

import numpy as np
from heron import intake, rescale, summary
from playwright.sync_api import expect

from e2e.browser import BrowserCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
mass = OYSTERS["shell_mass"].numbers


class Rescaling(BrowserCase):
    def open_rescale(self, variable="shell_mass"):
        self.open_demo_table(variable)
        self.page.keyboard.press("3")
        expect(self.sentence).to_contain_text("Rescale")

    def pick(self, label, option):
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        self.page.get_by_role("option", name=re.compile(f"^{option}")).click()

    @property
    def changes(self):
        return self.page.get_by_role("region", name="What changes")

    def test_the_ladder_shows_every_step_and_the_likeliest_power(self):
        self.open_rescale()
        result = rescale.power_ladder(mass)
        ladder = self.page.get_by_role("region", name="The ladder of powers")
        for rung in result.steps:
            expect(ladder).to_contain_text(f"Q-Q {rung.qq_correlation:.3f}")
            expect(ladder).to_contain_text(f"W {rung.shapiro_w:.3f}")
        power = result.estimate.power
        expect(ladder.get_by_role("img", name=re.compile(f"Box-Cox power {power:.3g}"))).to_be_visible()
        log = ladder.get_by_role("button", name=re.compile("^log x"))
        expect(log).to_have_attribute("aria-pressed", "true")
        log.press("ArrowRight")
        self.page.keyboard.press("Enter")
        expect(self.sentence).to_contain_text("as square root")
        skewness = summary.summarize(np.sqrt(mass)).skewness - summary.summarize(mass).skewness
        change = f"{skewness:.2f}".replace("-", "\u2212")
        expect(self.changes.get_by_role("row", name="Skewness")).to_contain_text(change)
        self.assert_nothing_scrolls_sideways()

    def test_a_scale_is_adopted_and_its_mean_brought_back(self):
        self.open_rescale()
        logs = np.log10(mass)
        expect(self.changes).to_contain_text(f"Geometric mean {10 ** logs.mean():.2f}")
        self.button("Adopt").click()
        self.page.get_by_role("link", name="its spread").click()
        expect(self.sentence).to_contain_text("Spread of log10 shell mass (log10 g)")
        expect(self.reading.get_by_role("definition").first).to_have_text(f"{logs.mean():.4f}")
        self.page.keyboard.press("v")
        line = self.page.get_by_role("row", name=re.compile("log₁₀ of shell mass"))
        expect(line).to_be_visible()
        self.page.keyboard.press("Control+z")
        expect(line).to_have_count(0)

    def test_values_that_cannot_stand_there_are_named_with_ways_out(self):
        self.open_rescale("drill_holes")
        self.pick("Scale", "log₁₀")
        holes = OYSTERS["drill_holes"].numbers
        zeros = int(np.count_nonzero(holes == 0))
        adopt = self.page.get_by_role("region", name="Adopt this scale")
        expect(adopt).to_contain_text(f"{zeros} values cannot stand on this scale")
        adopt.get_by_role("button", name="Select these rows").click()
        expect(self.strip).to_contain_text("rows selected: values that this scale cannot take")
        self.page.keyboard.press("Escape")
        adopt.get_by_role("button", name="log(x + 0.5)").click()
        expect(self.sentence).to_contain_text("as log₁₀(x + 0.5)")
        expect(adopt).not_to_contain_text("cannot stand")

    def test_the_stage_by_keyboard_alone_and_as_q_q_plots(self):
        self.open_rescale()
        self.page.keyboard.press("]")
        expect(self.sentence).to_contain_text("Rescale condition index")
        self.page.keyboard.press("[")
        expect(self.sentence).to_contain_text("Rescale shell mass")
        self.type_choice("/", "Variable", "shell width")
        expect(self.sentence).to_contain_text("Rescale shell width (mm)")
        self.button("Q-Q plot").click()
        expect(self.button("Q-Q plot")).to_have_attribute("aria-pressed", "true")
        after = self.page.get_by_role("region", name="After: log₁₀").get_by_role("application")
        after.press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("normal score")
        after.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")

    def test_settings_are_kept_from_variable_to_variable_and_a_value_is_typed(self):
        self.open_rescale()
        self.pick("Scale", "distance from 0")
        self.page.get_by_label("The value that becomes 0").fill("12.5")
        self.button("Set").click()
        expect(self.sentence).to_contain_text("as distance from 12.5")
        adopt = self.page.get_by_role("region", name="Adopt this scale")
        expect(adopt.get_by_role("row").nth(1)).to_contain_text(f"{mass[0] - 12.5:.6g}".replace("-", "-"))
        self.button("Q-Q plot").click()
        self.page.get_by_role("navigation", name="Variables").get_by_role(
            "link", name=re.compile("shell width")
        ).click()
        expect(self.sentence).to_contain_text("Rescale shell width (mm) in Oyster nursery as distance from 12.5")
        expect(self.button("Q-Q plot")).to_have_attribute("aria-pressed", "true")

    def test_judged_within_groups_and_ranked_by_gain(self):
        self.open_rescale()
        self.pick("Judged within", "within each week")
        ladder = self.page.get_by_role("region", name="The ladder of powers")
        expect(ladder).to_contain_text("judged within week")
        expect(ladder).to_contain_text("would even them")
        self.button("which variables gain most").click()
        gains = self.page.get_by_role("region", name="Which variables gain most from the ladder")
        gains.get_by_role("link", name="salinity").click()
        expect(self.sentence).to_contain_text("Rescale salinity (psu)")
        expect(self.sentence).to_contain_text("as cube")
