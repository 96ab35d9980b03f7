"""What was chosen in a stage comes along to its plate, choice by choice, and leads back to where it was."""

import re
from typing import Any

from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.models import Plate


class Choices(PlateCase):
    def kept_from(self, address: str, beside: str = "") -> list[dict[str, Any]]:
        """The panels of the plate that an address makes."""
        self.page.goto(f"/tables/{self.table.pk}/{address}")
        expect(self.page.get_by_role("button", name="keep as plate").first).to_be_visible()
        before = Plate.objects.count()
        if beside:
            card = self.page.get_by_role("region", name=beside)
            card.get_by_role("button", name="keep as plate").click()
        else:
            self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.assertEqual(Plate.objects.count(), before + 1)
        return Plate.objects.latest("place").document["panels"]

    def test_groups_with_all_their_choices(self):
        panel = self.kept_from(
            "compare?variable=shell_length&by=week&second=tray_type&center=trimmed-mean&trim=0.2&bars=percentiles"
            "&low=10&high=90&level=0.9&marks=points,violin,joined&points=apart&jitter=0.3&violin=ridges&side=up&caps=yes"
            "&upright=no&axis=numbers&scale=log&floor=5&ceiling=120&order=n&hidden=0"
        )[0]
        source, asked, drawn = panel["source"], panel["source"]["groups"], panel["source"]["drawn"]
        self.assertEqual((source["kind"], source["variable"]), ("groups", "shell_length"))
        expected = {
            "by": "week", "second": "tray_type", "center": "trimmed-mean", "trim": 0.2, "bars": "percentiles",
            "low_percent": 10, "high_percent": 90, "level": 0.9, "log": True,
        }  # fmt: skip
        self.assertEqual({name: asked[name] for name in expected}, expected)
        looks = {
            "marks": ["points", "violin", "joined"], "points": "apart", "jitter": 0.3, "violin": "ridges", "side": "up",
            "caps": True, "upright": False, "on_numbers": True, "order": "n", "hidden": [0],
        }  # fmt: skip
        self.assertEqual({name: drawn[name] for name in looks}, looks)
        self.assertEqual((panel["across"]["low"], panel["across"]["high"]), (5, 120))
        self.assertIn("violin=ridges", panel["address"])

    def test_a_shape_with_its_classes_curve_box_and_slip(self):
        panel = self.kept_from(
            "spread?variable=shell_mass&layers=classes+box+rug&boundaries=0+10+20+70&closed=right&bandwidth=1.5"
            "&kernel=biweight&whiskers=percentiles&share=0.1&definition=hinges&measure=percent&slip=0.5+0.1"
        )[0]
        shape = panel["source"]["shape"]
        self.assertEqual((shape["boundaries"], shape["closed"], shape["bandwidth"]), ([0, 10, 20, 70], "right", 1.5))
        self.assertEqual((shape["kernel"], shape["whiskers"], shape["share"]), ("biweight", "percentiles", 0.1))
        self.assertEqual((shape["quantile_definition"], panel["source"]["measure"]), ("hinges", "percents"))
        self.assertEqual(panel["source"]["layers"], ["classes", "box", "rug"])
        slip = panel["furniture"][0]
        self.assertEqual((slip["kind"], slip["x"], slip["names"]), ("slip", 0.5, ["n", "mean", "SD", "median"]))

    def test_levels_differences_and_residuals(self):
        lanes = self.kept_from("spread?variable=shell_length&by=tray_type&form=ridges&layers=density+box")[0]["source"]
        self.assertEqual((lanes["kind"], lanes["drawn"]["violin"]), ("groups", "ridges"))
        self.assertEqual(lanes["drawn"]["marks"], ["violin", "box"])
        cross = self.kept_from("spread?variable=vigour&by=tray_type&as=table")[0]["source"]
        self.assertEqual((cross["kind"], cross["stacked"], cross["shares"]["by"]), ("shares", True, "tray_type"))
        told = "compare?variable=shell_length&by=tray_type&measure=hedges-g&reference=mesh&limits=each&level=0.99"
        apart = self.kept_from(told, "Differences")[0]["source"]["differences"]
        self.assertEqual((apart["measure"], apart["reference"], apart["together"]), ("hedges-g", "mesh", False))
        self.assertEqual(apart["level"], 0.99)

    def test_pairs_with_lines_scales_and_a_window(self):
        panel = self.kept_from(
            "relate?variable=shell_mass&x=shell_length&by=tray_type&size=shell_width&lines=least-squares+smooth&span=0.4"
            "&xs=log10&ys=square-root&bands=line&window=20+80+1+60&xlog=yes&joined=x"
        )[0]
        source = panel["source"]
        self.assertEqual((source["pair"]["x_scale"], source["pair"]["y_scale"]), ("log10", "square-root"))
        self.assertEqual((source["pair"]["lines"], source["pair"]["span"]), (["least-squares", "smooth"], 0.4))
        self.assertEqual((source["size"], source["pair"]["by"], source["bands"]), ("shell_width", "tray_type", True))
        self.assertEqual((panel["across"]["low"], panel["up"]["high"], panel["across"]["scale"]), (20, 60, "log10"))
        self.assertTrue(source["joined"])
        also = self.kept_from("relate?variable=shell_mass&x=shell_length&also=shell_width")[0]["source"]
        self.assertEqual((also["also"], also["shown"]), (["shell_width"], "points"))
        for more, shown in (
            ("form=hexagons&across=20", "hexagons"),
            ("form=image", "cells"),
            ("form=hexagons&xlog=yes", "points"),
        ):
            kept = self.kept_from(f"relate?variable=shell_mass&x=shell_length&{more}")[0]["source"]
            self.assertEqual((kept["shown"], kept["across"]), (shown, 20 if "across" in more else 40))

    def test_its_reading_leads_back_to_the_stage_as_it_was(self):
        self.kept_from("compare?variable=shell_length&by=tray_type&marks=box&bars=range&center=median")
        self.page.get_by_role("status").get_by_role("link").click()
        self.page.get_by_role("link", name="its reading").click()
        expect(self.page).to_have_url(re.compile("marks=box.*bars=range|bars=range.*marks=box"))
        expect(self.sentence).to_contain_text("median")
        # What is kept twice is two plates of one reading.
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        one, two = Plate.objects.order_by("place")
        self.assertEqual(one.document["panels"][0]["source"], two.document["panels"][0]["source"])
