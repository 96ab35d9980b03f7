"""Whole workflows of groups and of results, from a file to a figure that leaves, each in so few actions as
docs/workflows.md says."""

import re

import numpy as np
from playwright.sync_api import expect

from e2e.walking import WorkflowCase


class GroupsWorkflows(WorkflowCase):
    def test_wide_replicates_become_means_with_sds_a_line_and_its_equation(self):
        doses, rng = [0.5, 1.0, 2.0, 4.0], np.random.default_rng(8)
        values = np.round(3 + 2 * np.array(doses) + rng.normal(0, 0.4, (6, 4)), 2)
        text = "plant," + ",".join(f"dose {dose:g}" for dose in doses) + "\n"
        self.begin(
            "growth.csv", text + "".join(f"p{i}," + ",".join(map(str, row)) + "\n" for i, row in enumerate(values))
        )
        self.store()
        self.press("1")
        self.click(self.page.get_by_role("link", name=re.compile("^rearrange", re.IGNORECASE)))
        self.fill("What they measure", "height")
        self.click(self.button("Make the table"))
        expect(self.sentence).to_contain_text(", longer")
        expect(self.sentence).to_contain_text("Spread of")
        self.press("5")
        expect(self.sentence).to_contain_text("Compare height in Growth, longer across dose")
        self.pick("Bars", "SD")
        self.click(self.button("display"))
        dialog = self.page.get_by_role("dialog")
        self.click(dialog.get_by_role("group", name="Fitted line").get_by_role("button", name="through all rows"))
        self.press("Escape")
        slope, intercept = np.polyfit(np.tile(doses, 6), values.ravel(), 1)
        card = self.page.get_by_role("region", name="Groups")
        expect(card).to_contain_text(f"height = {intercept:.4g} + {slope:.4g} × dose, R² =")
        expect(card).to_contain_text("one SD to each side")
        self.leave("Groups")
        self.assertEqual(len(self.drawn("fit")), 1)
        self.assertEqual(len(self.drawn("points")), 24)

    def test_six_ready_estimates_on_a_log_axis(self):
        ratios = [(0.5, 0.2, 1.3), (0.9, 0.6, 1.4), (1.2, 0.5, 3), (2, 1.1, 3.8), (0.3, 0.05, 1.8), (0.8, 0.7, 0.95)]
        self.begin(
            "trials.csv",
            "trial,ratio,lower,upper\n" + "".join(f"T{i},{r},{a},{b}\n" for i, (r, a, b) in enumerate(ratios)),
        )
        self.store()
        self.press("5")
        expect(self.sentence).to_contain_text("limits in the columns lower, upper")
        self.click(self.button("logarithmic"))
        expect(self.page.get_by_text("The axis is logarithmic.")).to_be_visible()
        self.leave("Groups")
        self.assertIn("0.30 (0.05 to 1.80)", self.said)
        # Each bar lies on a wider one in the colour of the paper, and under its mark.
        lengths = np.array([right - left for left, _, right in self.drawn("bars")[::3]])
        spans = np.array([np.log(b / a) for _, a, b in ratios])
        np.testing.assert_allclose(lengths / lengths.max(), spans / spans.max(), atol=0.02)

    def test_medians_with_quartile_bars_over_time_in_two_groups_with_value_labels(self):
        rng = np.random.default_rng(3)
        scores = {(arm, week): np.round(rng.normal(50 + week * (arm == "new"), 6, 9), 1)
                  for arm in ("old", "new") for week in (0, 2, 4, 8)}  # fmt: skip
        rows = [f"{arm},{week},{score}\n" for (arm, week), own in scores.items() for score in own]
        self.begin("course.csv", "arm,week,score\n" + "".join(rows))
        self.store()
        self.press("5")
        self.pick("Groups", "week")
        self.pick("Second grouping", "arm")
        self.pick("Centre", "median")
        self.pick("Bars", "quartile span")
        self.toggle("display")
        values = self.page.get_by_role("dialog").get_by_role("group", name="Values as labels")
        self.click(values.get_by_role("button", name="1", exact=True))
        expect(self.page.get_by_text("Numbers: the median of each group.")).to_be_visible()
        self.leave("Groups")
        for own in scores.values():
            self.assertIn(f"{np.median(own):.1f}", self.said)
        for arm in ("new", "old"):
            self.assertEqual(len(self.drawn("joined", arm)), 1)
            # The line turns at its weeks, which are not evenly apart.
            at = np.array(self.drawn("joined", arm)[0])[::2]
            self.assertAlmostEqual((at[3] - at[2]) / (at[1] - at[0]), 2, places=2)
