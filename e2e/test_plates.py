"""Kept from every stage by one key; following its data, saying what moved; the gallery, sets, contact sheets."""

import io
import json
import re
import zipfile

import numpy as np
from heron import intake
from playwright.sync_api import expect

from demo.generate import FOLDER
from e2e.plating import PlateCase
from server.plates.models import Plate

TABLE = intake.read(
    (FOLDER / "oyster_nursery.csv").read_bytes(), "oyster_nursery.csv", missing_codes=["n/r", "-99"]
).table
LENGTH = TABLE["shell_length"].values
TRAYS = TABLE["tray_type"]


class Keeping(PlateCase):
    def press_p(self, address: str) -> None:
        self.page.goto(address)
        expect(self.page.get_by_role("button", name="keep as plate").first).to_be_visible()
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()

    def test_p_keeps_what_each_stage_shows(self):
        at = f"/tables/{self.table.pk}"
        addresses = {
            f"{at}/spread?variable=shell_mass&axis=log&measure=count&width=0.1": "shape",
            f"{at}/spread?variable=shell_mass&by=tray_type&form=overlay": "shape",
            f"{at}/spread?variable=shell_mass&as=order": "ordered",
            f"{at}/spread?variable=shell_mass&as=cumulative": "cumulative",
            f"{at}/spread?variable=tray_type": "counts",
            f"{at}/rescale?variable=shell_mass": "shape shape",
            f"{at}/screen?variable=shell_mass&rules=fences+grubbs": "rules",
            f"{at}/screen?variable=shell_mass&mode=relation&plot=order&measure=dffits": "influence",
            f"{at}/screen?variable=shell_mass&mode=together": "distances",
            f"{at}/compare?variable=vigour&by=tray_type&centre=share": "shares",
            f"{at}/compare?variable=shell_length&by=tray_type&marks=box,centre&bars=range&floor=20": "groups",
            f"{at}/relate?variable=shell_mass&x=shell_length&lines=smooth&form=hexagons": "pair",
            f"{at}/relate?view=matrix&together=shell_mass+shell_length+shell_width": "pair pair pair",
        }
        for address, kinds in addresses.items():
            self.press_p(address)
            document = Plate.objects.latest("place").document
            self.assertEqual(" ".join(each["source"]["kind"] for each in document["panels"]), kinds, address)
            self.assertIn(document["panels"][0]["address"].split("?")[0], address)
        result = {
            panel["source"]["kind"]: panel
            for plate in Plate.objects.order_by("-place")
            for panel in plate.document["panels"]
        }
        self.assertEqual(result["shape"]["source"]["width"], 0.1)
        self.assertEqual((result["groups"]["up"]["low"], result["groups"]["source"]["bars"]), (20, "range"))
        self.assertEqual(result["influence"]["source"]["row_measure"], "dffits")
        self.assertEqual(result["rules"]["source"]["rules"], ["fences", "grubbs"])
        self.assertTrue(
            json.loads(Plate.objects.get(name__endswith="before and after").document["panels"][1]["source"]["as_if"])
        )
        self.page.goto(f"{at}/variables")
        self.page.get_by_role("heading", level=1).wait_for()
        self.page.keyboard.press("p")
        expect(self.page.get_by_text("There is no picture here to keep.")).to_be_visible()

    def test_pictures_beside_the_main_one_are_kept_by_their_word(self):
        at = f"/tables/{self.table.pk}"
        self.page.goto(f"{at}/spread?variable=shell_mass")
        normal = self.page.get_by_role("region", name=re.compile("normal model"))
        normal.get_by_role("button", name="keep as plate").click()
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.assertEqual(Plate.objects.get().document["panels"][0]["source"]["kind"], "quantiles")
        self.page.goto(f"{at}/compare?variable=shell_length&by=tray_type&measure=median")
        self.page.get_by_role("region", name="Differences").get_by_role("button", name="keep as plate").click()
        link = self.page.get_by_role("status").get_by_role("link", name=re.compile("^Difference of medians"))
        link.click()
        expect(self.at("0:up").locator('[data-words*=" − "]')).to_have_count(3)
        expect(self.at("0:across:title")).to_have_attribute("data-words", re.compile("Difference of medians"))
        self.page.get_by_role("link", name="Open in its stage").click()
        expect(self.page).to_have_url(re.compile("compare.*measure=median"))

    def test_its_reading_leads_back_to_the_stage_as_it_was(self):
        told = "variable=shell_length&by=tray_type&marks=box&bars=range&centre=median"
        self.page.goto(f"/tables/{self.table.pk}/compare?{told}")
        expect(self.page.get_by_role("button", name="keep as plate").first).to_be_visible()
        self.page.keyboard.press("p")
        self.page.get_by_role("status").get_by_role("link").click()
        self.page.get_by_role("link", name="Open in its stage").click()
        expect(self.page).to_have_url(re.compile("marks=box.*bars=range|bars=range.*marks=box"))
        expect(self.sentence).to_contain_text("median")
        # What is kept twice is two plates of one reading.
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        one, two = Plate.objects.order_by("place")
        self.assertEqual(one.document["panels"][0]["source"], two.document["panels"][0]["source"])

    def test_it_follows_says_what_moved_and_can_be_frozen(self):
        plate = self.open_plate()
        expect(self.caption).to_have_value(re.compile("n: basket 135, mesh 138, slotted 138"))
        smallest = int(np.nanargmin(LENGTH)) + 1
        tray = TRAYS.levels[TRAYS.codes[smallest - 1]]
        in_group = LENGTH[np.asarray(TRAYS.codes) == TRAYS.levels.index(tray)]
        bar = self.at(f"0:series:{tray}").and_(self.page.locator('[data-role="bars"]'))
        before = bar.bounding_box()["y"]
        self.set_aside(smallest)
        self.page.reload()
        moved = self.page.get_by_role("region", name="What moved")
        old, new = np.nanmean(in_group), np.nanmean(np.delete(in_group, np.nanargmin(in_group)))
        expect(moved).to_contain_text(f"mean, {tray} {old:.4g}")
        expect(moved).to_contain_text(f"→ {new:.4g} mm")
        expect(moved).to_contain_text(f"n, {tray} 135 → 134")
        expect(self.caption).to_have_value(re.compile(r"1 row set aside \(Ledger 1\)"))
        self.assertNotEqual(bar.bounding_box()["y"], before)
        self.page.get_by_role("navigation", name="Plates").get_by_text("has moved").wait_for()
        self.button("I have seen it").click()
        expect(moved).to_have_count(0)
        self.button("freeze with its numbers").click()
        expect(self.sentence).to_contain_text("numbers frozen")
        bar_at = bar.bounding_box()["y"]
        self.set_aside(int(np.nanargmax(LENGTH)) + 1)
        self.page.reload()
        expect(self.sheet.locator("[data-panel]")).to_be_attached()
        expect(moved).to_have_count(0)
        self.assertAlmostEqual(bar.bounding_box()["y"], bar_at, delta=0.1)
        self.button("let it follow again").click()
        expect(self.sentence).to_contain_text("follows its data")
        expect(self.caption).to_have_value(re.compile(r"2 rows set aside \(Ledger 1, 2\)"))
        self.assertIsNone(Plate.objects.get(pk=plate.pk).frozen)


class Gallery(PlateCase):
    def names(self):
        return self.page.get_by_role("main").get_by_role("listitem").locator("[data-name]")

    def test_order_names_marks_duplicates_and_two_compared(self):
        for name, bars in (("One", "sd"), ("Two", "se"), ("Three", "range")):
            self.made(self.groups(bars=bars, centre="mean" if bars != "range" else "median"), name=name)
        self.page.goto(f"/studies/{self.study.pk}/plates")
        expect(self.names()).to_have_text(["One", "Two", "Three"])
        expect(self.page.locator("svg:has(> [data-paper])")).to_have_count(3)
        self.button("Move forward: One").click()
        expect(self.names()).to_have_text(["Two", "One", "Three"])
        cards = self.page.get_by_role("main").get_by_role("listitem")
        cards.nth(2).drag_to(cards.nth(0))
        expect(self.names()).to_have_text(["Three", "Two", "One"])
        cards.nth(1).get_by_role("button", name="duplicate").click()
        expect(self.names()).to_have_text(["Three", "Two", "Two, again", "One"])
        cards.nth(2).get_by_role("button", name="delete").click()
        self.button("Delete for good").click()
        expect(self.names()).to_have_text(["Three", "Two", "One"])
        expect(cards.nth(0)).to_contain_text("Compare, revision 1")
        self.page.get_by_label("Choose Three").click()
        self.page.get_by_label("Choose One").click()
        self.button("Compare the two").click()
        numbers = self.page.get_by_role("region", name="Numbers")
        basket = LENGTH[np.asarray(TRAYS.codes) == TRAYS.levels.index("basket")]
        expect(numbers).to_contain_text(f"{np.nanmedian(basket):.4g}".rstrip("0"))
        expect(numbers).to_contain_text(f"{np.nanmean(basket):.4g}".rstrip("0"))
        self.set_aside(int(np.nanargmin(LENGTH)) + 1)
        self.page.reload()
        expect(self.sentence).to_contain_text("3 have moved")

    def test_the_same_plate_for_other_variables_and_levels_as_a_set(self):
        self.open_plate(self.groups(only=None), name="Lengths")
        self.button("repeat for others").click()
        dialog = self.page.get_by_role("dialog", name="Repeat")
        labels = dialog.get_by_role("checkbox")
        n = labels.count()
        dialog.get_by_label("salinity", exact=True).click()
        dialog.get_by_role("button", name=f"Make {n - 1} plates").click()
        expect(dialog.get_by_role("status")).to_contain_text("They stand in the gallery as one set.")
        made = Plate.objects.filter(group="Lengths, repeated")
        self.assertEqual(made.count(), n - 1)
        self.assertEqual({each.document["panels"][0]["source"]["by"] for each in made}, {"tray_type"})
        self.assertNotIn("salinity", [each.document["panels"][0]["source"]["variable"] for each in made])
        dialog.get_by_label("For each").select_option("week")
        dialog.get_by_role("button", name=re.compile("^Make")).click()
        expect(dialog.get_by_role("link", name="to the gallery")).to_be_visible()
        self.soon(lambda: self.assertGreater(Plate.objects.filter(group__contains="by week").count(), 2))
        expect(dialog.get_by_role("button", name=re.compile("^Make"))).to_be_visible()
        weeks = Plate.objects.filter(group__contains="by week")
        self.assertEqual({week.document["panels"][0]["source"]["only"]["by"] for week in weeks}, {"week"})
        dialog.get_by_role("link", name="to the gallery").click()
        group = self.page.get_by_role("region", name="Lengths, repeated")
        with self.page.expect_download(timeout=60_000) as download:
            group.get_by_role("button", name="download the set").click()
        with zipfile.ZipFile(io.BytesIO(download.value.path().read_bytes())) as zipped:
            names = zipped.namelist()
            self.assertEqual(len([name for name in names if name.endswith(".svg")]), n - 1)
            self.assertIn("contact-sheet.pdf", names)
            captions = zipped.read("captions.md").decode()
            self.assertTrue(zipped.read("contact-sheet.pdf").startswith(b"%PDF"))
        for each in made:
            self.assertIn(f"## {each.name}", captions)

    def test_a_repeat_can_be_stopped(self):
        self.open_plate(self.groups(), name="Lengths")
        self.page.route("**/api/studies/*/plates", lambda route: (self.page.wait_for_timeout(150), route.continue_()))
        self.button("repeat for others").click()
        dialog = self.page.get_by_role("dialog", name="Repeat")
        dialog.get_by_role("button", name=re.compile("^Make")).click()
        dialog.get_by_role("button", name="Stop").click()
        expect(dialog.get_by_role("status")).to_contain_text("Stopped")
        self.assertLess(Plate.objects.filter(group="Lengths, repeated").count(), 6)
