"""Marks stand where their numbers say, by the ticks of the axes on the sheet itself."""

import re

import numpy as np
from heron import frequency, groups, relation
from heron.figure import styles
from playwright.sync_api import Locator, expect

from e2e.plating import PlateCase
from e2e.test_plates import LENGTH, TABLE, TRAYS

MASS = TABLE["shell_mass"].values
TRAY = np.array([TRAYS.levels[code] if code >= 0 else "" for code in TRAYS.codes])
NUMBERS = re.compile(r"-?\d+(?:\.\d+)?")
# Where the two outermost ticks of an axis stand, in points of the sheet, and what they say.
TICKS = """(g) => [...g.querySelectorAll(':scope > g[data-words]:not([data-part])')].map((t) => {
  const [x, y] = t.getAttribute('transform').match(/-?[\\d.]+/g).map(Number);
  const text = t.querySelector('text:last-of-type');
  const wide = t.getBBox();
  return [t.dataset.words, x + wide.x + wide.width / 2, y + wide.y + wide.height / 2];
})"""


class Marks(PlateCase):
    def scale(self, side: str, *, log: bool = False):
        """From values to points of the sheet, by the lines of the ticks."""
        words = self.at(f"0:{side}").evaluate(TICKS)
        d = self.at(f"0:{side}").locator("> path").first.get_attribute("d")
        move = re.findall(r"M(-?[\d.]+) (-?[\d.]+)([vh])", d)
        places = sorted({float(y if side == "up" else x) for x, y, _ in move}, reverse=side == "up")
        values = [float(text.replace("\u2212", "-").replace("\u202f", "")) for text, _, _ in words]
        self.assertEqual(len(values), len(places))
        given = np.log10(values) if log else np.array(values)
        slope, start = np.polyfit(given, places, 1)
        np.testing.assert_allclose(start + slope * given, places, atol=0.05)
        return lambda value: start + slope * (np.log10(value) if log else np.asarray(value))

    def marks(self, role: str, series: str = "") -> Locator:
        return self.sheet.locator(f"[data-role='{role}'][data-series='{series}']")

    def numbers(self, locator: Locator, name: str = "d") -> np.ndarray:
        return np.array([float(each) for each in NUMBERS.findall(locator.get_attribute(name) or "")])

    def test_boxes_bars_and_points_of_groups(self):
        drawn = {"marks": ["points", "box", "centre", "from zero"], "points": "line", "caps": True}
        self.open_plate(self.groups(drawn=drawn))
        up = self.scale("up")
        for tray in TRAYS.levels:
            own = LENGTH[(tray == TRAY) & ~np.isnan(LENGTH)]
            box = groups.box(own).groups[0]
            rect = self.marks("box", tray).locator("rect")
            top, height = (float(rect.get_attribute(name)) for name in ("y", "height"))
            np.testing.assert_allclose((top, top + height), up([box.q3, box.q1]), atol=0.05)
            whiskers = self.numbers(self.marks("box", tray).locator("path").first)
            np.testing.assert_allclose(whiskers[[1, 5]], up([box.whisker_low, box.whisker_high]), atol=0.05)
            median = self.numbers(self.marks("box", tray).locator("path").last)
            self.assertAlmostEqual(median[1], up(box.median), delta=0.05)
            bar = self.numbers(self.marks("bars", tray).locator("path").nth(1))
            mean, sd = own.mean(), own.std(ddof=1)
            np.testing.assert_allclose(bar[1:3], up([mean - sd, mean + sd]), atol=0.05)
            body = self.numbers(self.marks("from zero", tray).locator("path").last)
            np.testing.assert_allclose(sorted({body[1], body[3]}), sorted(up([0, mean])), atol=0.05)
            places = [self.numbers(each)[1] for each in self.marks("points", tray).locator("path").all()[:25]]
            self.assertTrue(np.all(np.isfinite(places)))
            self.assertEqual(self.marks("points", tray).locator("path").count(), own.size)

    def test_classes_curve_and_box_share_their_axis(self):
        source = {"kind": "shape", "table": str(self.table.pk), "variable": "shell_mass", "measure": "counts"}
        layers = ["classes", "density", "normal", "box", "rug"]
        self.open_plate({**source, "shape": {"width": 5, "start": 0}, "layers": layers})
        across, up = self.scale("across"), self.scale("up")
        cut = frequency.classify(MASS, width=5, start=0)
        outline = self.marks("classes").locator("path").last.get_attribute("d")
        blocks = [[float(n) for n in NUMBERS.findall(part)] for part in outline.split("Z") if part]
        np.testing.assert_allclose([each[0] for each in blocks], across(cut.boundaries[:-1]), atol=0.05)
        np.testing.assert_allclose([each[1] for each in blocks], up(cut.counts), atol=0.05)
        self.assertAlmostEqual(blocks[0][3], up(0), delta=0.05)
        rug = np.sort(self.numbers(self.marks("rug").locator("path"))[::4])
        np.testing.assert_allclose(rug, np.sort(across(MASS[~np.isnan(MASS)])), atol=0.05)
        rect = self.marks("box").locator("rect")
        left, width = (float(rect.get_attribute(name)) for name in ("x", "width"))
        q1, q3 = np.nanquantile(MASS, [0.25, 0.75])
        np.testing.assert_allclose((left, left + width), across([q1, q3]), atol=0.05)
        self.assertIn("0.1 2.4", self.marks("normal").locator("path").get_attribute("stroke-dasharray"))

    def test_a_line_on_logs_with_its_band(self):
        asked = {"lines": ["least-squares"], "x_scale": "log10", "y_scale": "log10"}
        self.open_plate(self.pair(pair=asked))
        across, up = self.scale("across", log=True), self.scale("up", log=True)
        fit = relation.fit_line(LENGTH, MASS, x_scale="log10", y_scale="log10")
        line = self.numbers(self.marks("fit").locator("path")).reshape(-1, 2)
        np.testing.assert_allclose(line, np.column_stack((across(fit.curve_x), up(fit.curve_y))), atol=0.06)
        band = self.numbers(self.marks("band").locator("path")).reshape(-1, 2)
        np.testing.assert_allclose(band[: fit.low.size, 1], up(fit.low), atol=0.06)
        known = ~np.isnan(LENGTH) & ~np.isnan(MASS)
        self.assertEqual(self.marks("points").locator("path").count(), int(known.sum()))

    def test_estimates_on_a_ratio_axis_with_the_line_of_no_difference(self):
        table = self.study.tables.get(name="Cleaning trials")
        asked = {"of": ["ratio"], "limits": ["lower", "upper"], "label": "label"}
        source = {"kind": "estimates", "table": str(table.pk), "estimates": asked, "none": 1.0, "combined": [14]}
        self.open_plate({"source": source, "across": {"scale": "log2"}})
        across = self.scale("across", log=True)
        none = self.numbers(self.marks("limits").locator("path"))
        self.assertAlmostEqual(none[0], across(1.0), delta=0.05)
        names = self.at("0:up").locator("> g[data-words]").evaluate_all("(all) => all.map((g) => g.dataset.words)")
        self.assertEqual((len(names), names[-1]), (14, "Weekly brush"))
        self.assertEqual(self.marks("combined").locator("path").count(), 1)
        self.assertEqual(self.marks("bars").locator("> g").count(), 13)

    def test_shades_have_a_key_and_hatches_stay_inside_their_marks(self):
        self.open_plate(self.pair(), name="Points")
        self.open_plate({**self.pair(), "shown": "hexagons"}, name="Shades")
        key = self.sheet.locator("[data-key]")
        expect(key).to_contain_text("Pairs in a hexagon")
        self.assertRegex(
            self.marks("tiles").locator("path").first.get_attribute("d"), r"^M[^LV]+L[^LV]+V[^LV]+L[^LV]+L"
        )
        tiles = self.marks("tiles").locator("path")
        colours = set(tiles.evaluate_all("(all) => all.map((p) => p.getAttribute('fill'))"))
        self.assertGreater(len(colours), 4)
        self.assertTrue(all(re.fullmatch(r"#[0-9a-f]{6}", each) for each in colours), colours)
        right = self.sheet.evaluate("(s) => s.viewBox.baseVal.width")
        box = key.evaluate("(g) => { const b = g.getBBox(); return [b.x, b.x + b.width]; }")
        self.assertLessEqual(box[1], right + 0.5)
        style = {**styles.IN_PRINT, "hatches": True, "colours": "graphite"}
        source = {"kind": "shape", "table": str(self.table.pk), "variable": "shell_length"}
        self.open_plate({**source, "shape": {"by": "tray_type"}, "layers": ["density"]}, style=style, name="Hatched")
        for tray in TRAYS.levels:
            mark = self.marks("density", tray)
            clip = mark.locator("clipPath").get_attribute("id")
            expect(mark.locator(f"g[clip-path='url(#{clip})'] path")).to_have_count(1)
        dashes = {
            self.marks("density", tray).locator("> path").last.get_attribute("stroke-dasharray")
            for tray in TRAYS.levels
        }
        self.assertEqual(len(dashes), 3)
        expect(self.at("0:legend").locator("clipPath")).to_have_count(3)
        self.choose_part("the legend")
        self.part.get_by_label("Legend", exact=True).select_option("none")
        expect(self.at("0:legend")).to_have_count(0)
