"""Whole workflows, from a file to a figure that leaves, each in so few actions as docs/workflows.md says."""

import re
import xml.etree.ElementTree as ET

import numpy as np
from playwright.sync_api import Locator, expect

from e2e.browser import BrowserCase
from server.studies.services import create_study

SVG = "{http://www.w3.org/2000/svg}"
MOST = 15


class Workflows(BrowserCase):
    def begin(self, name: str, text: str) -> None:
        """A file of one's own is chosen on the first stage: two actions."""
        user = self.person()
        study = create_study(user, "Mine")
        self.enter_as(user)
        self.page.goto(f"/studies/{study.pk}/intake")
        self.actions = 0
        with self.page.expect_file_chooser() as chooser:
            self.click(self.button("Choose a file"))
        self.actions += 1
        chooser.value.set_files([{"name": name, "mimeType": "text/csv", "buffer": text.encode()}])

    def click(self, what: Locator) -> None:
        self.actions += 1
        what.click()

    def fill(self, label: str, text: str) -> None:
        self.actions += 1
        self.page.get_by_label(label).fill(text)

    def press(self, key: str) -> None:
        self.actions += 1
        self.page.keyboard.press(key)

    def pick(self, label: str, option: str) -> None:
        self.click(self.page.get_by_role("button", name=re.compile(f"^{label}:")))
        self.click(self.page.get_by_role("option", name=re.compile(f"^{option}")))

    def store(self) -> None:
        self.click(self.button("Store the table"))
        expect(self.sentence).to_contain_text("Spread of")

    def leave(self, card: str) -> None:
        """The picture of a card as a file: as many marks as stand on the page, and the words of its axes."""
        region = self.page.get_by_role("region", name=card, exact=True)
        self.sheet_here = region.locator("svg:has(> [data-paper])")
        with self.page.expect_download(timeout=60_000) as download:
            self.click(region.get_by_role("button", name="SVG", exact=True))
        self.assertLessEqual(self.actions, MOST)
        root = ET.parse(download.value.path()).getroot()
        self.assertGreaterEqual(
            sum(1 for _ in root.iter(f"{SVG}path")), self.sheet_here.locator("[data-role] path").count()
        )
        said = " ".join("".join(text.itertext()) for text in root.iter(f"{SVG}text"))
        for side in ("across", "up"):
            title = self.sheet_here.locator(f"[data-part='0:{side}'] [data-words]").last.get_attribute("data-words")
            self.assertIn(title, said)

    def drawn(self, role: str, series: str | None = None) -> list[list[float]]:
        """The numbers in the outlines of the marks of a role, of all series or of one."""
        of = "" if series is None else f"[data-series='{series}']"
        marks = self.sheet_here.locator(f"[data-role='{role}']{of} path")
        outlines = marks.evaluate_all("paths => paths.map((path) => path.getAttribute('d'))")
        return [[float(number) for number in re.findall(r"-?[\d.]+", d)] for d in outlines]

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
