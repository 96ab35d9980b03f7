"""Classes set by hand, named, used elsewhere, kept as a variable, and counted within levels."""

import re
from pathlib import Path
from urllib.parse import parse_qs, urlparse

import numpy as np
from heron import intake
from playwright.sync_api import expect

from e2e.browser import BrowserCase

OYSTERS = intake.read(Path(__file__).parents[1] / "demo" / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
mass = OYSTERS["shell_mass"].numbers
tray_of = OYSTERS["tray_type"].values


class ByHand(BrowserCase):
    def open_classes(self):
        self.page.get_by_role("button", name="Classes: ").click()
        return self.page.get_by_role("dialog", name="Classes")

    def test_boundaries_are_moved_named_used_again_and_kept_as_a_variable(self):
        self.open_demo_table()
        dialog = self.open_classes()
        dialog.get_by_label("Boundaries, from the lowest").fill("0 10 20 80")
        dialog.get_by_label("Boundaries, from the lowest").press("Enter")
        self.page.keyboard.press("Escape")
        grip = self.page.get_by_role("slider", name="Boundary 2 of 4")
        box, left = grip.bounding_box(), self.page.get_by_role("slider", name="Boundary 1 of 4").bounding_box()
        middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        self.page.mouse.move(*middle)
        self.page.mouse.down()
        self.page.mouse.move(middle[0] + (box["x"] - left["x"]) / 2, middle[1], steps=6)  # from 10 to 15
        self.page.mouse.up()
        moved = self.page.get_by_role("slider", name="Boundary 2 of 4")
        expect(self.page).to_have_url(re.compile(r"boundaries=0\+1[45]"))
        edge = float(parse_qs(urlparse(self.page.url).query)["boundaries"][0].split()[1])
        expect(moved).to_have_attribute("aria-valuenow", f"{edge:g}")
        self.assertAlmostEqual(edge, 15, delta=0.3)
        self.page.get_by_role("slider", name="Boundary 3 of 4").press("Delete")
        expect(self.page.get_by_role("slider", name="Boundary 3 of 3")).to_be_visible()
        dialog = self.open_classes()
        dialog.get_by_label("These classes under a name").fill("light and heavy")
        dialog.get_by_role("button", name="Save").click()
        dialog.get_by_label("As a new ordered variable").fill("weight")
        dialog.get_by_role("button", name="Make").click()
        expect(dialog.get_by_role("status")).to_contain_text("follows shell mass")
        self.page.keyboard.press("Escape")
        line = self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="weight")
        line.click()
        light = int(np.count_nonzero(mass < edge))
        expect(self.reading).to_contain_text(f"{max(light, 416 - light)} rows")
        self.page.goto(self.page.url.replace("variable=weight", "variable=shell_length"))
        self.open_classes().get_by_role("button", name="light and heavy", exact=True).click()
        expect(self.page).to_have_url(re.compile(r"boundaries=0\+"))
