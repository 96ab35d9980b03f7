"""Levels set together, values in order, times, families, slips, percent points and weights, as a person sees them."""

import re
from pathlib import Path

import numpy as np
from heron import control_chart, intake, normality, ordering, quantiles, times
from playwright.sync_api import expect

from e2e.browser import BrowserCase

DEMO = Path(__file__).parents[1] / "demo"
OYSTERS = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
KILN = intake.read(DEMO / "tile_kiln.csv").table
TIDES = intake.read(DEMO / "tide_pair.csv").table
mass = OYSTERS["shell_mass"].numbers


class Choosing(BrowserCase):
    def pick(self, label: str, option: str) -> None:
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        self.page.get_by_role("option", name=re.compile(f"^{option}")).click()


class Levels(Choosing):
    def test_lanes_ridges_overlay_and_upright_violins(self):
        self.open_demo_table()
        self.pick("Split by", "tray type")
        picture = self.page.get_by_role("region", name="Within each tray type")
        expect(self.words("up").filter(has_text="basket")).to_have_count(1)
        self.pick("Levels set", "as ridges")
        expect(self.page).to_have_url(re.compile("form=ridges"))
        self.pick("Levels set", "one over the other")
        expect(self.sheet.locator("[data-series=mesh] path").first).to_be_attached()
        self.pick("Levels set", "in lanes")
        self.pick("Direction", "vertical")
        self.button("violin").click()
        expect(self.words("across").filter(has_text="basket")).to_have_count(1)
        expect(self.marks("violin")).to_have_count(3)
        self.pick("Curves scaled", "area by count")
        expect(self.page).to_have_url(re.compile("scaling=count"))
        picture.get_by_role("application").press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("basket")
        picture.get_by_role("application").press("Enter")
        expect(self.strip).to_contain_text("138 rows selected: basket")
        self.button("Download").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("Violin: the density and its mirror image")

    def test_all_rows_stand_upright_too(self):
        self.open_demo_table()
        self.pick("Direction", "vertical")
        upright = self.page.get_by_role("region", name="All rows, vertical")
        expect(upright.get_by_role("application")).to_be_visible()
        expect(self.words("up").filter(has_text="Shell mass (g)")).to_have_count(1)
        self.button("whiskers to 1.5 IQR").click()
        self.page.get_by_role("dialog").get_by_role("button", name="the range").click()
        self.page.keyboard.press("Escape")
        expect(self.button("whiskers over the range")).to_be_visible()
        self.button("Download").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("whiskers to the smallest and the largest value")
        self.page.keyboard.press("Escape")
        self.pick("Direction", "horizontal")
        expect(self.plot).to_be_visible()

    def test_two_levels_stand_back_to_back(self):
        self.open_demo_table()
        self.page.goto("/")
        expect(self.plot).to_be_visible()
        rows = "\n".join(f"{'up' if i % 2 else 'down'},{i * i % 37 + i % 2 * 5}" for i in range(60))
        self.paste_table("side,x\n" + rows)
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of x")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="x").click()
        self.pick("Split by", "side")
        self.pick("Levels set", "back to back")
        picture = self.page.get_by_role("region", name="Within each side").get_by_role("application")
        expect(self.sheet.locator("[data-part='0:legend'] [data-words=down]")).to_have_count(1)
        expect(self.words("up").filter(has_text="\u2212")).to_have_count(0)
        picture.press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("down")


class Orders(Choosing):
    def test_a_series_in_the_order_of_time_with_its_runs(self):
        self.open_demo_table("north_gauge", "Tide pair")
        self.pick("Looked at", "in order")
        self.pick("Order", "time")
        result = ordering.in_order(TIDES["north_gauge"].numbers, TIDES["time"].numbers)
        for said in result.words:
            expect(self.reading).to_contain_text(said)
        plot = self.page.get_by_role("application", name=re.compile("in order"))
        plot.press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("2026-03-02 00:00")
        plot.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")

    def test_a_process_within_its_limits(self):
        self.open_demo_table("water_absorption", "Tile kiln")
        self.pick("Looked at", "as a control chart")
        values = KILN["water_absorption"].numbers
        expected = control_chart(values)
        reading = self.page.get_by_role("region", name="Reading")
        expect(reading).to_contain_text(f"Centre {expected.centre:.5g}, SD within {expected.sigma:.4g}")
        expect(reading.get_by_role("button", name=f"row {expected.signals[0].places[0] + 1}")).to_be_visible()
        self.pick("Points", "means, spread by SDs")
        self.pick("Subgroup", "kiln")
        lots = control_chart(values, chart="sd", subgroup=KILN["kiln"].values)
        expect(reading).to_contain_text(f"Of {len(lots.labels)} subgroups the limits rest on all")
        expect(self.page.get_by_role("region", name="Capability")).to_contain_text("declared under its description")

    def test_times_by_the_day(self):
        self.open_demo_table("north_gauge", "Tide pair")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="time").click()
        self.pick("Unit of time", "day")
        plot = self.page.get_by_role("application", name=re.compile("spans"))
        counts = times.summarize(TIDES["time"].numbers, unit="day").counts
        expect(plot).to_have_attribute("aria-label", re.compile(f"arrows walk {counts.size} spans"))
        plot.press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("2026-03-02 to 2026-03-03")


class Fits(Choosing):
    def test_other_distributions_plots_and_axes_and_what_is_left_of_levels(self):
        self.open_demo_table()
        card = self.page.get_by_role("region", name="Is a normal model defensible?")
        self.pick("Distribution", "gamma")
        expect(card).to_contain_text(f"correlation {normality.fit_family(mass, family='gamma').correlation:.3f}")
        self.pick("Plot", "P-P plot")
        expect(card.get_by_role("application", name=re.compile("^P-P plot"))).to_be_visible()
        self.pick("Distribution", "normal")
        self.pick("Plot", "detrended Q-Q plot")
        plot = card.get_by_role("application", name=re.compile("^Detrended"))
        plot.press("ArrowRight")
        expect(self.page.get_by_role("status")).to_contain_text("row 390")
        self.pick("Axis", "logarithmic")
        expect(self.words("up").filter(has_text="Density (per decade)")).to_have_count(1)
        self.page.goto(self.page.url.replace("shell_mass", "drill_holes"))
        expect(self.page.get_by_role("alert").first).to_contain_text("cannot stand on a log axis")
        self.page.goto(self.page.url.split("?")[0] + "?variable=shell_mass")
        self.pick("Split by", "tray type")
        tray = OYSTERS["tray_type"].values
        left = mass - np.array([mass[tray == each].mean() for each in tray])
        residuals = self.page.get_by_role("region", name="Residuals within tray type")
        expect(residuals).to_contain_text(f"W = {normality.check_normality(left).shapiro_wilk.statistic:.3f}")


class Reading(Choosing):
    def test_a_table_of_value_and_count_is_read_as_what_it_stands_for(self):
        self.open_demo_table()
        self.paste_table("length (mm)\ttimes\n1.5\t2\n1.5\t1\n2.5\t4\n9\t1\n")
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of length")
        self.button("bumps").click()
        self.soon(lambda: self.assertEqual(self.marks("bumps").locator("path").get_attribute("d").count("M"), 4))
        self.page.keyboard.press("v")
        self.pick("How often a row counts", "as often as times says")
        expect(self.page.get_by_role("heading", level=1)).to_contain_text("as often as times says")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="length").click()
        expect(self.page.get_by_text("8 counted by times")).to_be_visible()
        expect(self.reading).to_contain_text(f"{(3 * 1.5 + 4 * 2.5 + 9) / 8:.2f}")
        self.page.keyboard.press("4")
        expect(self.page.get_by_role("alert").first).to_contain_text("count as often as times says")

    def test_a_number_slip_leaves_with_the_picture_and_percents_are_typed(self):
        self.open_demo_table()
        self.button("statistics").click()
        self.page.get_by_label("Percent points").fill("5 95")
        self.page.get_by_label("Percent points").press("Enter")
        p5, p95 = quantiles.quantile(mass, [0.05, 0.95])
        expect(self.reading).to_contain_text(f"5 % point{p5:.3f}")
        expect(self.reading).to_contain_text(f"95 % point{p95:.3f}")
        self.page.keyboard.press("Escape")
        self.button("number slip").click()
        grip = self.page.get_by_role("slider", name="Number slip")
        before = int(grip.get_attribute("aria-valuenow"))
        grip.press("ArrowLeft")
        expect(grip).to_have_attribute("aria-valuenow", str(before - 1))
        grip.press("PageDown")
        expect(grip).to_have_attribute("aria-valuenow", str(before - 1))
        self.button("Download").click()
        with self.page.expect_download() as download:
            self.button("Plot as SVG").click()
        self.assertIn(f">{mass.mean():.4g} g<", Path(download.value.path()).read_text())
