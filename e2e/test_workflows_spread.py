"""Whole workflows of one variable, from a file to a figure that leaves, each in so few actions as docs/workflows.md
says."""

import io
import re
import zipfile

import numpy as np
from playwright.sync_api import expect

from e2e.walking import WorkflowCase, plain


def column(head: str, values: np.ndarray, decimals: int) -> str:
    return head + "\n" + "".join(f"{value:.{decimals}f}\n" for value in values)


class SpreadWorkflows(WorkflowCase):
    def test_a_violin_of_a_dozen_values_with_its_bumps(self):
        lengths = np.array([4.1, 4.3, 4.4, 4.6, 5.0, 6.8, 7.0, 7.1, 7.3, 7.4, 9.9, 10.1])
        self.begin("dozen.csv", column("length (mm)", lengths, 1))
        self.store()
        self.toggle("violin", "bumps", "classes", "density", "normal")
        self.pick("Direction", "vertical")
        expect(self.marks("bumps").locator("path")).to_have_count(1)
        self.leave_from_menu()
        self.assertEqual(self.outlines("bumps")[0].count("M"), 12)
        # The violin ends at the least and the greatest value, where the points do.
        violin = np.array(self.drawn("violin")[0])[1::2]
        points = np.array([point[1] for point in self.drawn("points")])
        self.assertEqual(points.size, 12)
        self.assertAlmostEqual(np.ptp(violin), np.ptp(points), delta=0.02 * np.ptp(points))

    def test_a_chosen_five_number_summary_with_box_and_slip(self):
        growth = np.array([4.1, 4.3, 4.4, 4.6, 5.0, 6.8, 7.0, 7.1, 7.3, 7.4, 9.9, 10.1, 30.0])
        self.begin("growth.csv", column("growth (cm)", growth, 1))
        self.store()
        self.toggle("statistics", "none")
        for statistic in ("Median", "Q1, Q3", "Min, max"):
            self.click(self.page.get_by_role("checkbox", name=statistic, exact=True))
        self.press("Escape")
        self.toggle("classes", "density", "normal", "number slip")
        expect(self.sheet).to_contain_text("third quartile")
        self.leave_from_menu()
        words = re.sub(r"\s+", " ", self.said)
        for name, share in (
            ("minimum", 0), ("first quartile", 0.25), ("median", 0.5), ("third quartile", 0.75), ("maximum", 1)
        ):  # fmt: skip
            self.assertIn(f"{np.quantile(growth, share):.4g} cm", words)
            self.assertIn(name, words)
        self.assertNotIn("mean", words)
        self.assertEqual(len(self.drawn("beyond")), 1)

    def test_frequencies_in_three_classes_by_group_with_the_missing_ones(self):
        rng = np.random.default_rng(3)
        ages = [("ab"[i % 2], None if i % 9 == 0 else int(rng.integers(1, 60))) for i in range(60)]
        self.begin("ages.csv", "site,age (y)\n" + "".join(f"{s},{'' if a is None else a}\n" for s, a in ages))
        self.store()
        self.pick("Looked at", "as a table")
        self.pick("Split by", "site")
        self.click(self.page.get_by_role("button", name=re.compile("^Classes:")))
        self.fill("Number of classes", "3")
        self.press("Enter")
        self.click(self.page.get_by_label("with missing values"))
        card = self.page.get_by_role("region", name="Rows by age and site")
        expect(card.get_by_role("row")).to_have_count(6)
        lines = self.taken(card.get_by_role("button", name="CSV", exact=True)).read_text().splitlines()
        self.assertEqual(lines[0].split(",")[-4:], ["a", "b", "missing", "all"])
        cells = [[int(cell) for cell in line.split(",")[-4:]] for line in lines[1:]]
        low = [0, 20, 40]
        for i, (from_, to) in enumerate(zip(low, [20, 40, 61], strict=True)):
            counts = [sum(s == site and a is not None and from_ <= a < to for s, a in ages) for site in "ab"]
            self.assertEqual(cells[i], [*counts, 0, sum(counts)])
        missing = [sum(s == site and a is None for s, a in ages) for site in "ab"]
        self.assertEqual(cells[3], [*missing, 0, 7])

    def test_a_histogram_with_its_normal_curve_then_of_the_logs(self):
        values = np.exp(np.random.default_rng(5).normal(1, 0.5, 150))
        self.begin("levels.csv", column("level (mg/L)", values, 3))
        self.store()
        self.toggle("density", "box", "points")
        self.leave_from_menu()
        peaks = [self.peak(log=False)]
        self.press("Escape")
        self.pick("Axis", "logarithmic")
        expect(self.reading).to_contain_text("not of their logarithms")
        expect(self.page.get_by_text("Are the logs normal?")).to_be_visible()
        self.leave_from_menu()
        self.assertIn("per decade", self.said)
        peaks.append(self.peak(log=True))
        # The curve stands highest over the mean: of the values, then of their logarithms.
        self.assertAlmostEqual(peaks[0] / values.mean(), 1, delta=0.03)
        self.assertAlmostEqual(peaks[1] / np.exp(np.log(values).mean()), 1, delta=0.03)

    def peak(self, *, log: bool) -> float:
        """The value over which the normal curve is highest, by the last two numbers on its axis."""
        curve = np.array(self.drawn("normal")[0]).reshape(-1, 2)
        highest = curve[np.argmin(curve[:, 1]), 0]
        ends = self.sheet.evaluate(
            "(sheet) => [...sheet.querySelectorAll(\"[data-part='0:across'] [data-words]\")]"
            ".map((words) => [words.getAttribute('data-words'), words.getBoundingClientRect()])"
            ".map(([text, box]) => [text, box.x + box.width / 2 - sheet.getBoundingClientRect().x])"
        )
        ticks = [(float(text), at) for text, at in ends if re.fullmatch(r"[\d.]+", text)]
        (one, a), (other, b) = ticks[-2], ticks[-1]
        share = (highest - a) / (b - a)
        return float(one * (other / one) ** share if log else one + share * (other - one))

    def test_simulated_values_with_a_fitted_curve_and_a_script(self):
        self.enter()
        self.pick("How it comes", "by simulating")
        self.fill("Rows", "200")
        self.fill("mean", "50")
        self.fill("SD", "8")
        self.click(self.button("Make the table"))
        expect(self.sentence).to_contain_text("Spread of value")
        self.leave_from_menu()
        self.assertIn("Density", self.said)
        self.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.click(self.page.get_by_role("link", name="Share"))
        self.pick("Form", "a script")
        expect(self.page.get_by_text("study.py").first).to_be_visible()
        packed = zipfile.ZipFile(io.BytesIO(self.taken(self.button("Save with its files as .zip")).read_bytes()))
        script = next(name for name in packed.namelist() if name.endswith("study.py"))
        self.assertIn("normal", packed.read(script).decode())

    def test_the_cumulative_polygon_of_counts_from_zero(self):
        waits = np.random.default_rng(2).exponential(5, 80)
        self.begin("waits.csv", column("wait (min)", waits, 1))
        self.store()
        self.pick("Looked at", "as shares")
        self.toggle("each value")
        self.pick("Heights", "counts")
        self.leave_from_menu()
        self.assertEqual(len(self.drawn("steps")), 0)
        polygon = np.array(self.drawn("polygon")[0]).reshape(-1, 2)
        heights = (polygon[0, 1] - polygon[:, 1]) / (polygon[0, 1] - polygon[-1, 1]) * 80
        edges = polygon[:, 0] / (polygon[1, 0] - polygon[0, 0])
        classes = self.page.get_by_role("button", name=re.compile("^Classes:")).inner_text()
        edges = (edges - edges[0]) * float(re.search(r"of ([\d.]+) min", classes)[1])
        counts = [np.count_nonzero(np.round(waits, 1) < edge) for edge in edges[:-1]]
        np.testing.assert_allclose(heights[:-1], counts, atol=0.5)

    def test_own_boundaries_bounds_a_power_in_the_unit_outline_and_fill(self):
        yields = np.clip(np.random.default_rng(7).normal(6, 1.2, 80), 3, 9)
        self.begin("yields.csv", column("yield (t ha^{-1})", yields, 2))
        self.store()
        self.click(self.page.get_by_role("button", name=re.compile("^Classes:")))
        self.fill("Boundaries, from the lowest to the highest", "0 4; 5, 6 7 8 12")
        self.press("Enter")
        self.press("Escape")
        self.open_kept()
        self.pick("Part", "all classes")
        self.click(self.page.get_by_role("button", name="Colour #702751", exact=True))
        self.click(self.page.get_by_label("outlined in ink"))
        self.leave_as_plate()
        self.assertIn("Yield(tha\u22121)", plain(self.said))
        left, top, right, bottom = self.blocks().T
        edges = np.array([0, 4, 5, 6, 7, 8, 12])
        np.testing.assert_allclose((right - left) / (right[-1] - left[0]), np.diff(edges) / 12, atol=0.005)
        # Areas, not heights, are the counts.
        areas = (right - left) * (bottom - top)
        counts = np.histogram(np.round(yields, 2), edges)[0]
        np.testing.assert_allclose(areas / areas.sum(), counts / 80, atol=0.01)

    def test_a_tab_separated_file_its_n_checked_a_density_histogram_and_a_log_scale(self):
        flows = np.exp(np.random.default_rng(9).normal(2, 0.9, 90))
        rows = "".join(f"{i}\t{'' if i % 20 == 3 else f'{flow:.2f}'}\n" for i, flow in enumerate(flows))
        self.begin("flows.tsv", "id\tflow (L/s)\n" + rows)
        self.store()
        expect(self.page.get_by_text("85 rows used")).to_be_visible()
        expect(self.page.get_by_text("5 missing: blank 5")).to_be_visible()
        known = np.array([round(flow, 2) for i, flow in enumerate(flows) if i % 20 != 3])
        expect(self.reading).to_contain_text(f"Mean{known.mean():.2f}")
        expect(self.reading).to_contain_text(f"SD{known.std(ddof=1):.2f}")
        self.pick("Axis", "logarithmic")
        expect(self.page.get_by_text("Are the logs normal?")).to_be_visible()
        self.leave_from_menu()
        self.assertIn("Density (per decade)", self.said)
        left, top, right, bottom = self.blocks().T
        areas = (right - left) * (bottom - top) / np.sum((right - left) * (bottom - top)) * 85
        np.testing.assert_allclose(areas, np.round(areas), atol=0.15)
