"""Whole workflows of pairs, from a file to a figure that leaves, each in so few actions as docs/workflows.md says."""

import re

import numpy as np
from playwright.sync_api import expect

from e2e.walking import WorkflowCase


class PairsWorkflows(WorkflowCase):
    def test_five_means_with_their_sds_joined_over_a_true_number_axis(self):
        rates = [(10, 1.2, 0.2), (15, 2.1, 0.35), (20, 3.9, 0.4), (30, 5.2, 0.8), (45, 3.1, 0.6)]
        self.begin(
            "rates.csv", "temperature (°C),mean rate (mg/h),SD\n" + "".join(f"{t},{m},{s}\n" for t, m, s in rates)
        )
        self.store()
        self.press("6")
        expect(self.sentence).to_contain_text("Relate mean rate (mg/h) alone to temperature")
        expect(self.sentence).to_contain_text("bars of SD")
        self.click(self.button("joined in order"))
        caption = self.page.get_by_role("region", name="Pairs", exact=True)
        expect(caption).to_contain_text("Mean rate (mg/h) on temperature (°C). Points: rows. Bars: SD to each side.")
        expect(caption).to_contain_text("Thin lines join values in the order of x")
        self.leave("Pairs")
        self.assertEqual(len(self.drawn("points")), 5)
        ends = np.array(self.drawn("point bars"))
        # x from temperatures that are unevenly spaced, and lengths that are two SDs.
        self.assertAlmostEqual((ends[4, 0] - ends[3, 0]) / (ends[1, 0] - ends[0, 0]), 3, places=1)
        np.testing.assert_allclose(np.abs(ends[:, 2] - ends[:, 1]) / abs(ends[3, 2] - ends[3, 1]),
                                   np.array([s for _, _, s in rates]) / 0.8, atol=0.02)  # fmt: skip

    def test_two_treatments_with_the_se_of_each_point_from_a_second_block(self):
        self.begin(
            "course.csv",
            "treatment,0 h,1 h,4 h,12 h\ncontrol,2,2.4,3.1,3.6\ntreated,2.1,3.2,5.1,6\n\n"
            "treatment,0 h SE,1 h SE,4 h SE,12 h SE\ncontrol,.2,.3,.25,.4\ntreated,.2,.3,.35,.5\n",
        )
        self.click(self.button("Joined by treatment"))
        expect(self.page.get_by_text("Nothing looks wrong")).to_be_visible()
        self.store()
        self.press("1")
        self.click(self.page.get_by_role("link", name=re.compile("^rearrange", re.IGNORECASE)))
        self.fill("What the first columns measure", "score")
        self.fill("What the second columns measure", "score SE")
        self.fill("What tells them apart is called", "time (h)")
        self.click(self.button("Make the table"))
        expect(self.sentence).to_contain_text(", longer")
        expect(self.sentence).to_contain_text("Spread of")
        self.press("6")
        expect(self.sentence).to_contain_text("Relate score alone to time")
        expect(self.sentence).to_contain_text("coloured by treatment")
        expect(self.sentence).to_contain_text("bars of score SE")
        self.click(self.button("joined in order"))
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        expect(card).to_contain_text("Thin lines join values in the order of x")
        expect(card).to_contain_text("n: control 4, treated 4.")
        self.leave("Pairs")
        for series, reach in (("control", [0.2, 0.3, 0.25, 0.4]), ("treated", [0.2, 0.3, 0.35, 0.5])):
            self.assertEqual(len(self.drawn("points", series)), 4)
            self.assertEqual(len(self.drawn("joined", series)), 1)
            lengths = np.abs([ends[2] - ends[1] for ends in self.drawn("point bars", series)])
            np.testing.assert_allclose(lengths / lengths[3], np.array(reach) / reach[3], atol=0.02)

    def test_pairs_of_whole_numbers_in_three_groups_that_hide_none(self):
        rng = np.random.default_rng(4)
        rows = [(g, *rng.integers(1, 5, 2).tolist()) for g in "abc" for _ in range(60)]
        self.begin("answers.csv", "class,first,second\n" + "".join(f"{g},{x},{y}\n" for g, x, y in rows))
        self.store()
        self.press("6")
        expect(self.sentence).to_contain_text("Relate")
        self.pick("Coloured by", "class")
        self.pick("Pairs as", "counts at one place")
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        counts = {g: len({(x, y) for h, x, y in rows if h == g}) for g in "abc"}
        expect(card).to_contain_text("groups stand side by side about it. n: a 60, b 60, c 60.")
        self.leave("Pairs")
        for group, places in counts.items():
            self.assertEqual(len(self.drawn("counted", group)), places)

    def test_very_many_pairs_as_a_density_with_sparse_points_and_margins(self):
        rng = np.random.default_rng(6)
        x = rng.normal(0, 1, 12_000)
        y = 0.6 * x + rng.normal(0, 0.8, x.size)
        self.begin("many.csv", "x,y\n" + "".join(f"{a:.3f},{b:.3f}\n" for a, b in zip(x, y, strict=True)))
        self.store()
        self.press("6")
        expect(self.sentence).to_contain_text("Relate y to x")
        self.pick("Pairs as", "shades of density")
        self.toggle("display")
        self.fill("Sparsest points on top", "200")
        self.press("Enter")
        self.toggle("histograms")
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        expect(card).to_contain_text("Points: the 200 pairs in the sparsest places. Along the axes: classes.")
        self.leave("Pairs")
        self.assertEqual(len(self.drawn("points")), 200)
        r = np.corrcoef(np.round(x, 3), np.round(y, 3))[0, 1]
        expect(self.page.get_by_role("region", name="Correlations")).to_contain_text(f"{r:.3f}")

    def test_points_told_apart_by_shape_colour_and_size(self):
        rng = np.random.default_rng(2)
        rows = [("abc"[i % 3], *rng.uniform(5, 50, 2).round(1).tolist(), int(rng.integers(2, 30))) for i in range(60)]
        self.begin(
            "plants.csv", "species,length (cm),mass (g),leaves\n" + "".join(f"{s},{a},{b},{n}\n" for s, a, b, n in rows)
        )
        self.store()
        self.press("6")
        self.pick("Coloured by", "species")
        self.pick("Sized by", "leaves")
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        expect(card).to_contain_text("The area of a point follows leaves. n: a 20, b 20, c 20.")
        self.leave("Pairs")
        marks = self.sheet_here.locator("[data-role='points'] path")
        colours = marks.evaluate_all("paths => paths.map((path) => getComputedStyle(path).fill)")
        shapes = {re.sub(r"[-\d. ]+", "", self.outlines("points", species)[0]) for species in "abc"}
        self.assertEqual((len(set(colours)), len(shapes)), (3, 3))
        for species in "abc":
            leaves = np.sort([n for s, _, _, n in rows if s == species])
            areas = np.sort(self.widths("points", species)) ** 2
            np.testing.assert_allclose(areas / areas[-1], leaves / leaves[-1], atol=0.03)

    def test_six_orders_of_magnitude_straightened_and_carried_back(self):
        rng = np.random.default_rng(4)
        powers = np.arange(19) / 3 - 6
        dose = [float(f"{10**power:.6g}") for power in powers]
        response = [float(f"{10**power:.4g}") for power in 0.7 * powers + 2 + rng.normal(0, 0.1, 19)]
        self.begin(
            "doses.csv",
            "dose (M),response (nM)\n" + "".join(f"{a:g},{b:g}\n" for a, b in zip(dose, response, strict=True)),
        )
        self.store()
        self.press("6")
        expect(self.sentence).to_contain_text("Relate response (nM) to dose")
        self.toggle("straighten", "Take the proposed scales")
        slope, intercept = np.polyfit(np.log10(dose), np.log10(response), 1)
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        expect(card).to_contain_text(f"log10(response) = {intercept:.4g} + {slope:.4g} × log10(dose)")
        expect(card).to_contain_text(f"In their own units: response = {10**intercept:.4g} × dose")
        self.leave("Pairs")
        self.assertEqual((len(self.drawn("fit")), len(self.drawn("points"))), (1, 19))

    def test_four_columns_logged_at_once_and_a_line_whose_equation_stands_in_the_caption(self):
        rng = np.random.default_rng(11)
        size = rng.normal(2, 0.8, 50)
        columns = {
            "mass (g)": size, "height (cm)": 0.4 * size + rng.normal(1, 0.1, 50),
            "area (cm2)": 0.7 * size + rng.normal(0, 0.2, 50), "depth (m)": rng.normal(0, 0.3, 50),
        }  # fmt: skip
        values = np.round(np.exp(np.column_stack(list(columns.values()))), 3)
        self.begin("trees.csv", ",".join(columns) + "\n" + "".join(",".join(map(str, row)) + "\n" for row in values))
        self.store()
        first = self.page.get_by_role("button", name=re.compile("^Variable:"))
        y, *others = sorted(columns, key=lambda name: name != first.inner_text())
        self.press("3")
        # Both come above what opens the choice, and move it.
        expect(self.page.get_by_role("region", name="What changes").get_by_text("Shapiro-Wilk p")).to_be_visible()
        expect(self.page.get_by_label("Name of the new variable")).not_to_have_value("")
        self.toggle("other variables likewise")
        for other in others:
            self.click(self.page.get_by_role("checkbox", name=other, exact=True))
        self.click(self.button("Adopt 4"))
        expect(self.page.get_by_text("4 variables stand among the others")).to_be_visible()
        self.click(self.page.get_by_role("link", name="its relation to the second"))
        expect(self.sentence).to_contain_text(f"Relate log10 {y.split(' (')[0]} (")
        self.toggle("least squares")
        logs = {name: np.log10(values[:, i]) for i, name in enumerate(columns)}
        slope, intercept = np.polyfit(logs[others[0]], logs[y], 1)
        card = self.page.get_by_role("region", name="Pairs", exact=True)
        y, x = (name.split(" (")[0] for name in (y, others[0]))
        said = f"log10 {y} = {intercept:.4g} + {slope:.4g} × log10 {x}, R²"
        expect(card).to_contain_text(said.replace("-", "\u2212"))
        self.leave("Pairs")
        self.assertEqual(len(self.drawn("points")), 50)

    def test_missing_codes_and_the_same_correlation_with_codes_blanks_and_a_cleaned_file(self):
        rng = np.random.default_rng(8)
        depth = rng.uniform(1, 40, 70).round(1)
        salt = (30 + 0.1 * depth + rng.normal(0, 0.8, 70)).round(1)
        lost = (np.arange(70) % 15 == 2) | (np.arange(70) % 17 == 5)
        r = np.corrcoef(depth[~lost], salt[~lost])[0, 1]
        head = "depth (m),salt (psu)\n"

        def rows(no_depth: str, no_salt: str) -> str:
            cells = [
                (no_depth if i % 15 == 2 else str(d), no_salt if i % 17 == 5 else str(s))
                for i, (d, s) in enumerate(zip(depth, salt, strict=True))
            ]
            return head + "".join(f"{d},{s}\n" for d, s in cells)

        clean = head + "".join(f"{d},{s}\n" for d, s in zip(depth[~lost], salt[~lost], strict=True))
        self.enter()
        for name, text in (("codes", rows("-99", "999")), ("blanks", rows("", "")), ("clean", clean)):
            self.bring_in(f"{name}.csv", text)
            if name == "codes":
                # Both are answered at once: the second stands on the first, which is still being read.
                answers = self.page.get_by_role("button", name="It means missing")
                expect(answers).to_have_count(2)
                answers.evaluate_all("buttons => buttons.forEach((button) => button.click())")
                self.actions += 2
                expect(self.page.get_by_text("Nothing looks wrong")).to_be_visible()
            self.store()
            self.press("6")
            expect(self.page.get_by_role("region", name="Correlations")).to_contain_text(f"{r:.3f}")
            self.leave("Pairs")
            self.assertEqual(len(self.drawn("points")), np.count_nonzero(~lost))

    def test_two_series_with_a_legend_and_a_note_at_coordinates(self):
        rng = np.random.default_rng(1)
        rows = [
            (pond, day, round(8 + (1 if pond == "north" else -1) * 0.2 * day + rng.normal(0, 0.2), 2))
            for pond in ("north", "south") for day in range(0, 15, 2)
        ]  # fmt: skip
        self.begin("ponds.csv", "pond,day,oxygen (mg/L)\n" + "".join(f"{p},{d},{o}\n" for p, d, o in rows))
        self.store()
        self.press("6")
        expect(self.sentence).to_contain_text("Relate oxygen (mg/L) to day")
        expect(self.sentence).to_contain_text("coloured by pond")
        self.toggle("joined in order")
        self.open_kept()
        self.pick("Add", "a note")
        self.fill("Across", "10")
        self.fill("Up", "8")
        self.click(self.page.get_by_label("Text", exact=True))
        self.page.keyboard.type("aerator on")
        self.leave_as_plate()
        for words in ("north", "south", "aerator on"):
            self.assertIn(words, self.said)
        for pond in ("north", "south"):
            self.assertEqual(len(self.drawn("joined", pond)), 1)
