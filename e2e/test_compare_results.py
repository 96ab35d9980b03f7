"""Shares of answers, results that came as they are, and the walks from a file to a finished comparison."""

import re

import numpy as np
from heron import groups, intake
from playwright.sync_api import expect

from e2e.comparing import ComparingCase
from e2e.test_compare_pictures import DEMO
from server.server_tests.cases import stored_in
from server.studies.services import create_study


class Results(ComparingCase):
    tolerated = re.compile("status of 409")

    def test_cleaning_trials_become_an_interval_plot_on_a_log_axis_in_six_actions(self):
        self.bring("cleaning_trials.csv", (DEMO / "cleaning_trials.csv").read_bytes())  # 1, 2
        self.page.keyboard.press("5")  # 3
        self.button("logarithmic").click()  # 4
        self.pick("Sorted", "by estimate")  # 5, 6
        table = intake.read(DEMO / "cleaning_trials.csv").table
        labels, ratio, low, high = (table[name].values for name in ("label", "ratio", "lower", "upper"))
        order = [labels[i] for i in np.argsort(ratio, kind="stable")]
        self.expect_levels(*order, side="up")
        expect(self.words("up").filter(has_text=f"{ratio[0]:.2f} ({low[0]:.2f} to {high[0]:.2f})")).to_have_count(1)
        expect(self.groups).to_contain_text("The dashed line stands at 1")
        below = np.count_nonzero(high < 1)
        expect(self.page.get_by_role("region", name="Reading")).to_contain_text(f"Wholly below 1: {below}; ")
        self.button("display").click()
        self.page.get_by_label("Its label").fill("no effect")
        self.page.get_by_role("dialog").get_by_role("button", name="Set", exact=True).click()
        self.page.get_by_role("dialog").get_by_label("All of these").click()
        self.page.keyboard.press("Escape")
        expect(self.sheet).to_contain_text("no effect")
        self.expect_levels(*(each for each in order if each != "All of these"), "All of these", side="up")
        expect(self.sheet.locator("[data-role='combined'] path")).to_have_attribute("d", re.compile("Z$"))
        with self.page.expect_download() as taken:
            self.groups.get_by_role("button", name="SVG").click()
        with open(taken.value.path()) as file:
            self.assertIn("0.54 to 0.71", file.read())

    def test_results_under_headings_sized_by_weight_and_moved_by_hand(self):
        rows = [
            "north,0.8,0.5,1.1,40,cold",
            "south,1.4,1.1,1.8,10,warm",
            "east,1.0,0.9,1.2,90,cold",
            "all,1.1,1,1.2,,warm",
        ]
        self.bring("places.csv", ("place,ratio,low,high,weight,water\n" + "\n".join(rows) + "\n").encode())
        self.page.keyboard.press("5")
        self.expect_levels("north", "south", "east", "all", side="up")
        self.pick("Headings", "under headings of water")
        self.expect_levels("cold", "north", "east", "warm", "south", "all", side="up")
        self.button("display").click()
        self.page.get_by_label("Line at").fill("1")
        self.page.get_by_role("dialog").get_by_role("button", name="Set", exact=True).click()
        self.pick("Sizes", "sized by weight")
        self.page.keyboard.press("Escape")
        expect(self.groups).to_contain_text("The area of a mark follows weight.")
        self.pick("Headings", "without headings")
        self.pick("Sorted", "by estimate")
        self.expect_levels("north", "east", "all", "south", side="up")
        taken, row = (
            self.words("up").filter(has_text=re.compile(f"^{name}$")).bounding_box() for name in ("south", "north")
        )
        self.page.mouse.move(taken["x"] + 5, taken["y"] + 5)
        self.page.mouse.down()
        self.page.mouse.move(row["x"] + 5, row["y"] + 2, steps=4)
        self.page.mouse.up()
        self.expect_levels("south", "north", "east", "all", side="up")
        expect(self.sentence).to_contain_text("sorted by hand")
        self.pick("Limits stand", "left out")
        expect(self.sheet).not_to_contain_text(" to ")
        expect(self.numbers).to_contain_text("none")

    def test_the_kiln_file_becomes_a_comparison_of_kilns_by_shift_in_nine_actions(self):
        self.bring("tile_kiln.csv", (DEMO / "tile_kiln.csv").read_bytes())  # 1, 2
        self.page.keyboard.press("1")  # 3
        self.page.get_by_role("listitem").filter(has_text="tile_kiln.csv").get_by_role(
            "link", name="rearrange"
        ).click()  # 4
        self.button("Make the table").click()  # 5
        expect(self.sentence).to_contain_text("Spread of")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="strength").click()  # 6
        expect(self.sentence).to_contain_text("Spread of strength")
        self.page.keyboard.press("5")  # 7
        self.pick("Second grouping", "shift")  # 8, 9
        expect(self.sentence).to_contain_text("across kiln, split by shift")
        kiln = intake.read(DEMO / "tile_kiln.csv").table
        strength = np.column_stack([kiln[f"strength_{i}"].numbers for i in range(1, 6)])
        values = strength[(kiln["kiln"].values == "A") & (kiln["shift"].values == "early")]
        result = groups.group_centres(values.ravel(), bars="mean-interval").groups[0]
        line = self.line("A, early")
        expect(line).to_contain_text(f"{result.centre:.2f}")
        expect(line).to_contain_text(f"{result.low:.2f}")

    def test_shares_of_answers_with_wilson_bars_and_stacked_about_the_middle(self):
        self.open_compare("wait", "Night bus")
        self.pick("Variable", "satisfaction")
        self.pick("Centre", "share")
        self.page.get_by_role("button", name=re.compile("^Answers:")).click()
        self.page.get_by_role("dialog").get_by_label("6", exact=True).click()
        self.page.keyboard.press("Escape")
        expect(self.sentence).to_contain_text("Compare the share of 6 or 7 among satisfaction")
        bus = intake.read(DEMO / "night_bus.csv").table
        answers = bus["satisfaction"].numbers
        in_group = answers[bus["district"].values == "Quayside"]
        in_group = in_group[~np.isnan(in_group)]
        low, high = groups.wilson(np.count_nonzero(in_group >= 6), in_group.size)
        line = self.line("Quayside")
        expect(line).to_contain_text(f"{100 * np.mean(in_group >= 6):.1f} %")
        expect(line).to_contain_text(f"{100 * low:.1f} % {100 * high:.1f} %".replace(" % ", " %"))
        self.button("stacked percents").click()
        self.pick("Parts begin", "about the middle of 4")
        expect(self.sheet).to_contain_text(f"{100 * np.mean(in_group == 5):.0f}\u202f%")
        expect(self.groups).to_contain_text("Zero stands in the middle of 4")
        self.assert_nothing_scrolls_sideways()

    def test_long_resampling_shows_how_far_it_is_and_can_be_stopped(self):
        user = self.person()
        self.enter_as(user)
        rng = np.random.default_rng(3)
        rows = "\n".join(f"{'ab'[i % 2]},{value:.2f}" for i, value in enumerate(rng.normal(10, 2, 60_000)))
        table = stored_in(create_study(user, "Long"), f"g,x\n{rows}\n", "Long", kinds={"x": "continuous"})
        self.page.goto(f"/tables/{table.pk}/compare?variable=x&bars=bootstrap-interval")
        bar = self.page.get_by_role("progressbar", name="Resampling").first
        expect(bar).to_be_visible()
        self.groups.get_by_role("button", name="stop").click()
        expect(self.groups).to_contain_text("It was stopped before it was done.")
        self.pick("Bars", "SD")
        expect(self.line("a")).to_be_visible()
