"""Understanding one variable, as a person does it: look, choose, drag, ask, take away."""

import csv
import io
import re
import struct
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
from heron import density, frequency, groups, intake, summary
from playwright.sync_api import expect

from e2e.browser import BrowserCase
from server.server_tests.cases import stored_in
from server.studies.services import create_study

OYSTERS = intake.read(Path(__file__).parents[1] / "demo" / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
MASS = OYSTERS["shell_mass"].numbers


class FirstLook(BrowserCase):
    def test_from_the_front_door_to_a_skewed_distribution(self):
        self.page.goto("/")
        self.button("Open the demo study").click()
        expect(self.sentence).to_contain_text("Spread of shell mass (g) in Oyster nursery")
        expect(self.plot).to_be_visible()
        expect(self.reading).to_contain_text("Strongly right-skewed")
        expect(self.page.get_by_text("415 rows used")).to_be_visible()
        self.assert_nothing_scrolls_sideways()
        self.assertEqual(self.page.title(), "Velvet Heron")
        address = self.page.url
        self.page.goto("/")
        expect(self.page).to_have_url(address)


class Choosing(BrowserCase):
    def test_another_variable_with_its_numbers_and_its_normality(self):
        self.open_demo_table()
        line = self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="shell length")
        expect(line).to_contain_text("5 missing")
        line.click()
        length = OYSTERS["shell_length"].numbers
        result = summary.summarize(length)
        expect(self.sentence).to_contain_text("shell length (mm)")
        self.assertIn("variable=shell_length", self.page.url)
        expect(self.reading.get_by_role("definition").first).to_have_text(f"{result.mean:.2f}")
        normal = self.page.get_by_role("region", name="Is a normal model defensible?")
        expect(normal).to_contain_text("evidence against a normal distribution (Shapiro-Wilk W =")
        expect(normal.get_by_role("application")).to_be_visible()
        normal.get_by_role("button", name="all tests").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("It needs at least 2000 values; there are 411.")
        self.page.keyboard.press("Escape")
        self.page.get_by_role("button", name="5 missing").click()
        expect(self.strip).to_contain_text("5 rows selected: missing in shell length")
        self.page.go_back()
        expect(self.sentence).to_contain_text("shell mass (g)")

    def test_the_sentence_and_the_shortcuts_by_keyboard_alone(self):
        self.open_demo_table()
        self.type_choice("/", "Variable", "sal")
        expect(self.sentence).to_contain_text("salinity (psu)")
        self.page.keyboard.press("[")
        expect(self.sentence).to_contain_text("vigour")
        self.type_choice("Control+k", "Find or do", "night bus")
        expect(self.sentence).to_contain_text("in Night bus")
        self.page.keyboard.press("1")
        expect(self.sentence).to_contain_text("Bring a table into Ellery Sound")
        self.page.keyboard.press("2")
        expect(self.sentence).to_contain_text("Spread of")

    def test_words_and_times_have_their_own_pictures(self):
        self.open_demo_table("shell_mass")
        self.page.get_by_role("link", name="tray type").click()
        levels = self.page.get_by_role("region", name="Rows at each level")
        expect(levels).to_contain_text("slotted")
        levels.get_by_role("application").press("ArrowDown")
        levels.get_by_role("application").press("Enter")
        expect(self.strip).to_contain_text("rows selected: basket")
        self.page.get_by_role("button", name=re.compile("^Table:")).click()
        self.page.get_by_role("option", name="Tide pair").click()
        self.page.get_by_role("link", name="time").click()
        expect(self.reading).to_contain_text("1008 times from 2026-03-02 00:00 to 2026-03-08 23:50")


class Dragging(BrowserCase):
    def pull(self, name: str, by: float) -> None:
        box = self.page.get_by_role("slider", name=name, exact=True).bounding_box()
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + by, y, steps=6)

    def curve(self) -> str:
        return self.marks("density").locator("path").get_attribute("d")

    def test_the_class_width_follows_the_hand_and_stays_in_the_address(self):
        self.open_demo_table()
        classes = self.page.get_by_role("button", name=re.compile("^Classes:"))
        expect(classes).to_contain_text("25 classes of 2.5 g")
        self.pull("Class width", 60)
        expect(classes).not_to_contain_text("25 classes")  # while the hand still holds it
        self.assertNotIn("width=", self.page.url)
        self.page.mouse.up()
        expect(self.page).to_have_url(re.compile("width="))
        width, start = (float(re.search(f"{name}=([-.0-9]+)", self.page.url)[1]) for name in ("width", "start"))
        expected = frequency.classify(MASS, width=width, start=start)
        expect(classes).to_contain_text(f"{expected.counts.size} classes of {width:g} g")
        self.assertEqual((expected.below, expected.counts.sum()), (0, 416))
        self.page.reload()
        expect(classes).to_contain_text(f"{expected.counts.size} classes of {width:g} g")

    def test_the_bandwidth_follows_the_hand_and_has_a_keyboard_twin(self):
        self.open_demo_table()
        before = self.curve()
        self.pull("Bandwidth", 40)
        expect(self.marks("density").locator("path")).not_to_have_attribute("d", before)
        self.page.mouse.up()
        expect(self.page).to_have_url(re.compile("bandwidth="))
        bandwidth = float(re.search("bandwidth=([.0-9]+)", self.page.url)[1])
        self.assertGreater(bandwidth, density.kernel_density(MASS).bandwidth)
        handle = self.page.get_by_role("slider", name="Bandwidth", exact=True)
        handle.focus()
        handle.press("Shift+ArrowLeft")
        expect(handle).not_to_have_attribute("aria-valuenow", f"{bandwidth:g}")
        self.page.get_by_role("button", name=re.compile("^Density:")).click()
        self.page.get_by_label("By hand (g)").fill("0.8")
        self.page.get_by_role("dialog").get_by_role("button", name="Set").click()
        expect(handle).to_have_attribute("aria-valuetext", "0.8 g")


class Asking(BrowserCase):
    def at(self, value: float, y: float) -> tuple[float, float]:
        """The place of a value on the screen, found between two ticks of the axis."""
        places = {}
        for word in self.words("across").all():
            if re.fullmatch(r"[\u2212\d.]+", word.get_attribute("data-words")):
                box = word.bounding_box()
                places[float(word.get_attribute("data-words").replace("\u2212", "-"))] = box["x"] + box["width"] / 2
        (a, ax), *_, (b, bx) = places.items()
        frame = self.plot.bounding_box()
        return ax + (value - a) / (b - a) * (bx - ax), frame["y"] + y

    def test_a_mark_says_what_it_is_and_selects_its_rows_everywhere(self):
        self.open_demo_table()
        self.page.mouse.move(*self.at(8.7, 300))
        readout = self.page.get_by_role("status")
        inside = np.flatnonzero((MASS >= 7.5) & (MASS < 10))
        expect(readout).to_contain_text("[7.5, 10.0) g")
        expect(readout).to_contain_text(f"{inside.size} rows, {100 * inside.size / 416:.1f} %")
        self.page.mouse.click(*self.at(8.7, 300))
        expect(self.strip).to_contain_text(f"{inside.size} rows selected: [7.5, 10.0) g")
        self.assertEqual(self.strip.get_by_role("rowheader").first.inner_text(), str(inside[0] + 1))
        for picture in (self.plot, self.page.get_by_role("application", name=re.compile("Q-Q plot"))):
            dots = picture.locator("[data-dots=selected]").get_attribute("d")
            self.assertEqual(dots.count("M"), inside.size)
        self.page.keyboard.press("Escape")
        expect(self.strip).to_have_count(0)

    def test_the_box_the_points_and_the_rows_by_name(self):
        self.open_demo_table()
        box = groups.boxes(MASS).groups[0]
        frame = self.plot.bounding_box()
        lane = self.marks("box").locator("[data-of=quartiles]").bounding_box()
        middle = lane["y"] + lane["height"] / 2 - frame["y"]
        self.page.mouse.move(*self.at(box.median, middle))
        expect(self.page.get_by_role("status")).to_contain_text(f"median {box.median:.3f} g")
        far = int(box.far_rows[0])
        self.page.mouse.move(*self.at(MASS[far], middle))
        expect(self.page.get_by_role("status")).to_contain_text(f"row {far + 1}")
        expect(self.page.get_by_role("status")).to_contain_text("beyond an outer fence")
        self.page.mouse.click(*self.at(MASS[far], middle))
        expect(self.strip.get_by_role("rowheader")).to_have_text([str(far + 1)])
        self.reading.get_by_role("button", name="show them").click()
        expect(self.strip).to_contain_text(f"{box.outlier_rows.size - 1} rows selected")
        self.reading.get_by_role("button", name=f"row {far + 1}").click()
        expect(self.strip).to_contain_text("1 row selected")

    def test_the_marks_are_walked_with_the_arrow_keys(self):
        self.open_demo_table()
        readout = self.page.get_by_role("status")
        self.plot.press("ArrowRight")
        expect(readout).to_contain_text("[0.0, 2.5) g")
        self.plot.press("ArrowRight")
        expect(readout).to_contain_text("[2.5, 5.0) g")
        self.plot.press("ArrowDown")
        expect(readout).to_contain_text("whisker")
        self.plot.press("ArrowDown")
        expect(readout).to_contain_text("row ")
        self.plot.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")

    def test_statistics_are_chosen_once_and_definitions_compared(self):
        self.open_demo_table()
        self.button("statistics").click()
        self.page.get_by_label("Trimmed mean").check()
        self.page.keyboard.press("Escape")
        expect(self.reading).to_contain_text("Trimmed mean")
        self.button("definitions").click()
        table = self.page.get_by_role("dialog").get_by_role("table")
        expect(table.get_by_role("row")).to_have_count(11)
        table.get_by_role("button", name=re.compile("^6")).click()
        expect(self.sentence).to_contain_text("quartiles by definition 6")
        self.page.reload()
        expect(self.reading).to_contain_text("Trimmed mean")


class Layers(BrowserCase):
    def test_layers_go_and_come_and_heights_change_their_measure(self):
        self.open_demo_table()
        box = self.marks("box")
        expect(box).to_be_visible()
        self.button("box").click()
        expect(box).to_have_count(0)
        expect(self.page).to_have_url(re.compile("layers=classes\\+density\\+normal\\+points"))
        self.button("box").click()
        self.button("whiskers to 1.5 IQR").click()
        dialog = self.page.get_by_role("dialog", name="Box")
        dialog.get_by_label("fences").click()
        expect(self.marks("fences")).to_have_count(2)
        dialog.get_by_role("button", name="percent points").click()
        expect(self.page).to_have_url(re.compile("whiskers=percentiles"))
        self.page.keyboard.press("Escape")
        expect(self.button("whiskers from 5 to 95 %")).to_be_visible()
        readout = self.page.get_by_role("status")

        def walk_to_the_whisker():
            self.plot.blur()
            self.plot.press("ArrowRight")
            self.plot.press("ArrowDown")  # the smallest value, beyond the whisker
            for _ in range(int(np.count_nonzero(np.quantile(MASS, 0.05) > MASS))):
                self.plot.press("ArrowRight")
            expect(readout).to_contain_text(f"lower whisker {np.quantile(MASS, 0.05):.3f} g", timeout=1000)

        self.soon(walk_to_the_whisker)
        expect(readout).to_contain_text("the 5 and 95 percent points")
        self.page.get_by_role("button", name="Heights: density").click()
        self.page.get_by_role("option", name="counts").click()
        expect(self.words("up")).to_contain_text(["60", "Rows"])  # the fullest class holds 69 rows
        for layer in ("classes", "density", "normal", "box", "points"):
            self.button(layer).click()
        expect(self.marks("density")).to_have_count(0)

    def test_the_q_q_plot_is_walked_and_selects_too(self):
        self.open_demo_table()
        plot = self.page.get_by_role("application", name=re.compile("Q-Q plot"))
        plot.press("ArrowRight")  # begins at the largest value
        readout = self.page.get_by_role("status")
        expect(readout).to_contain_text("row 390")
        expect(readout).to_contain_text("60.83 g")
        plot.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")
        plot.press("Shift+ArrowLeft")
        expect(readout).not_to_contain_text("row 390")

    def test_many_rows_are_listed_in_part_and_said(self):
        self.open_demo_table("wait", "Night bus")
        self.reading.get_by_role("button", name="show them").last.click()
        expect(self.strip).to_contain_text("670 rows selected")
        expect(self.strip).to_contain_text("the first 100 are listed")
        expect(self.strip.get_by_role("rowheader")).to_have_count(100)

    def test_ten_thousand_points_are_painted_on_screen_and_drawn_in_the_file(self):
        self.open_demo_table("easting", "Night bus")
        expect(self.sheet.locator("canvas")).to_have_count(1)
        self.button("Download").click()
        with self.page.expect_download() as waiting:
            self.button("Plot as SVG").click()
        svg = Path(waiting.value.path()).read_text()
        self.assertNotIn("<canvas", svg)
        self.assertNotIn("foreignObject", svg)
        dots = [path.get("d", "") for path in ET.fromstring(svg).iter("{http://www.w3.org/2000/svg}path")]
        self.assertEqual(sum(path.count("M") for path in dots if "h0M" in path), 10_400)


class TakingAway(BrowserCase):
    def take(self, role: str, name: str) -> bytes:
        with self.page.expect_download() as waiting:
            self.page.get_by_role(role, name=name).click()
        return Path(waiting.value.path()).read_bytes()

    def test_the_plot_as_svg_and_png_and_the_numbers_as_csv(self):
        self.open_demo_table()
        self.button("Download").click()
        svg = self.take("button", "Plot as SVG").decode()
        root = ET.fromstring(svg)
        words = "".join(root.itertext())
        for said in (
            "n\u00a0=\u00a0416",
            "Classes 2.5 g wide",
            "SD 2.26 g by Silverman's rule",
            "whiskers to the outermost",
        ):
            self.assertIn(said, words)
        self.assertIn("data:font/ttf", svg)
        self.assertNotRegex(svg, r'var\(--|class=|<script|tabindex|href="http')
        marks = [path.get("d", "") for path in root.iter("{http://www.w3.org/2000/svg}path")]
        self.assertEqual(sum("A2.2 2.2" in mark for mark in marks), 416)
        png = self.take("button", "Plot as PNG, 300 dpi")
        self.assertEqual(png[:8], b"\x89PNG\r\n\x1a\n")
        width = struct.unpack(">I", png[16:20])[0]
        self.assertAlmostEqual(width / float(root.get("width").removesuffix("mm")), 300 / 25.4, places=2)
        rows = list(csv.reader(io.StringIO(self.take("link", "Numbers as CSV").decode())))
        figures = {row[0]: row[1] for row in rows if row}
        self.assertAlmostEqual(float(figures["mean"]), MASS.mean(), places=10)


class HardCases(BrowserCase):
    def open_table(self, text: str, variable: str, **choices) -> None:
        user = self.person()
        table = stored_in(create_study(user, "Hard"), text, **choices)
        self.enter_as(user)
        self.page.goto(f"/tables/{table.pk}/spread?variable={variable}")

    def test_an_address_that_leads_nowhere_says_so(self):
        self.enter_as(self.person(with_demo=True))
        self.page.goto("/tables/00000000-0000-0000-0000-000000000000/spread")
        expect(self.page.get_by_role("alert")).to_contain_text("There is no such table here")
        self.page.goto("/no/such/page")
        expect(self.sentence).to_contain_text("Spread of")


class Night(BrowserCase):
    width = 1024

    def test_the_theme_stays_and_1024_pixels_are_enough(self):
        self.open_demo_table()
        self.assert_nothing_scrolls_sideways()
        self.button("ada").click()
        self.button("dark").click()
        self.page.reload()
        expect(self.page.locator("html")).to_have_attribute("data-theme", "dark")


class OtherViews(BrowserCase):
    def look(self, view: str) -> None:
        self.page.get_by_role("button", name=re.compile("^Looked at:")).click()
        self.page.get_by_role("option", name=view).click()

    def test_frequencies_as_a_table_with_missing_values_and_rows_that_open(self):
        self.open_demo_table("shell_length")
        self.look("as a table of frequencies")
        table = self.page.get_by_role("region", name="Frequencies")
        expect(table.get_by_role("row").last).to_contain_text("411")
        table.get_by_label("with n/r").check()
        expect(table.get_by_role("row").last).to_contain_text("416")
        table.get_by_role("button", name="missing: n/r").click()
        expect(self.strip).to_contain_text("5 rows selected")
        first = table.get_by_role("row").nth(1)
        first.get_by_role("button").click()
        counted = first.get_by_role("cell").first.text_content()
        expect(self.strip).to_contain_text(f"{counted} row")
        table.get_by_role("button", name="largest first").click()
        counts = [int(row.get_by_role("cell").first.text_content()) for row in table.get_by_role("row").all()[1:6]]
        self.assertEqual(counts, sorted(counts, reverse=True))
        self.page.get_by_role("button", name=re.compile("^Classes:")).click()
        self.page.get_by_label("Boundaries").fill("30 40 55")
        self.page.get_by_role("dialog").get_by_role("button", name="Set", exact=True).last.click()
        expect(table).to_contain_text("[40, 55]")
        expect(table).to_contain_text("below the first boundary")

    def test_split_by_a_variable_each_level_has_its_lane_and_its_numbers(self):
        self.open_demo_table()
        self.page.get_by_role("button", name="Split by: nothing").click()
        self.page.get_by_role("option", name="tray type").click()
        numbers = self.page.get_by_role("region", name="Numbers by tray type")
        for level in ("basket", "mesh", "slotted"):
            expect(numbers).to_contain_text(level)
        lanes = self.page.get_by_role("application", name="Shell mass (g) by tray type")
        expect(self.words("up").filter(has_text="n = 138")).to_have_count(1)
        lanes.focus()
        lanes.press("ArrowDown")
        lanes.press("Enter")
        expect(self.strip).to_contain_text("138 rows selected: basket")
        self.assert_nothing_scrolls_sideways()

    def test_the_data_are_looked_for_among_normal_samples(self):
        self.open_demo_table()
        self.page.get_by_role("link", name="line-up").click()
        expect(self.sentence).to_contain_text("Which of these is shell mass (g)")
        panels = self.page.get_by_role("listbox", name="Panels")
        expect(panels.get_by_role("option")).to_have_count(20)
        panels.focus()
        panels.press("ArrowRight")
        panels.press("Enter")
        expect(self.page.get_by_text(re.compile("You picked"))).to_be_visible()
        expect(panels.get_by_role("option", name=re.compile("the data"))).to_have_count(1)
        self.page.keyboard.press("l")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text("Line-up of shell mass:")
        expect(ledger).to_contain_text("by eyes that had seen the plot")

    def test_all_variables_side_by_side_least_normal_first(self):
        self.open_demo_table()
        self.page.get_by_role("button", name="Variable: shell mass (g)").click()
        self.page.get_by_role("option", name="all numeric variables").click()
        expect(self.sentence).to_have_text("Spread of all numeric variables in Oyster nursery")
        rows = self.page.get_by_role("main").get_by_role("row")
        expect(rows).to_have_count(9)
        self.button("least normal first").click()
        departures = [float(row.get_by_role("cell").nth(2).text_content()) for row in rows.all()[1:]]
        self.assertEqual(departures, sorted(departures))
        self.button("variables across").click()
        expect(rows.nth(1)).to_contain_text("n")
        self.page.get_by_role("main").get_by_role("link", name="salinity").click()
        expect(self.sentence).to_contain_text("Spread of salinity (psu)")
