"""Tables at the edge in every view: a picture or a plain sentence, nothing that is no number, nothing thrown."""

import re
from itertools import product

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from server.server_tests.cases import stored_in
from server.server_tests.test_extremes import COLUMNS, NAMES, text_of
from server.studies.services import create_study

# What the API answers of all of them is tried without a browser.
HARDEST = ("one", "constant", "huge", "tiny")
NO_NUMBER = re.compile(r"\bNaN\b|undefined|Infinity|\bnull\b")


class Edges(BrowserCase):
    tolerated = re.compile("status of 422")

    def open_table(self, text, **choices):
        user = self.person()
        self.enter_as(user)
        return stored_in(create_study(user, "Edges"), text, "Edges", **choices)

    def look(self, table, variable, **asked):
        query = "&".join(f"{name}={value}" for name, value in {"variable": variable, **asked}.items())
        self.page.goto(f"/tables/{table.pk}/spread?{query}")
        expect(self.sentence).to_be_visible()
        expect(self.page.locator("main svg, main [role=alert], main table, main p").first).to_be_visible()
        self.page.wait_for_load_state("networkidle")
        self.assertIsNone(NO_NUMBER.search(self.page.locator("main").inner_text()), (variable, asked))

    def test_the_hardest_columns_in_every_view(self):
        table = self.open_table(text_of(COLUMNS), kinds=dict.fromkeys(COLUMNS, "continuous"))
        for variable, view in product(HARDEST, ("shape", "table", "cumulative", "order")):
            self.look(table, variable, **{"as": view})
        every = "classes+density+normal+bumps+rug+box+violin+notch+mean+points"
        for variable in ("one", "huge"):
            self.look(table, variable, layers=every, slip="0+0")
            self.look(table, variable, upright="yes", layers="box+violin")

    def test_names_of_every_script_in_every_form(self):
        quoted = ['"' + name.replace('"', '""') + '"' for name in NAMES]
        text = "g,x\n" + "\n".join(f"{quoted[i % 6]},{i * 7 % 11}" for i in range(60))
        table = self.open_table(text, delimiter=",")
        for form in ("lanes", "ridges", "overlay"):
            self.look(table, "x", by="g", form=form)
            expect(self.sheet).to_contain_text("oyster")
            self.assert_nothing_scrolls_sideways()
        self.assertEqual(self.page.locator("main b").count(), 0)  # what is typed is data
        self.look(table, "x", by="g", **{"as": "table"})
        expect(self.page.get_by_role("columnheader", name=NAMES[0])).to_be_attached()

    def test_three_hundred_levels(self):
        rows = "\n".join(f"level {i % 300:03d},{i * 37 % 101 / 7:.2f}" for i in range(900))
        table = self.open_table("g,x\n" + rows)
        self.look(table, "x", by="g")
        expect(self.sheet).to_contain_text("level 299")
        self.look(table, "x", by="g", form="overlay", upright="yes")
        self.look(table, "x", by="g", **{"as": "table"})
        expect(self.page.get_by_role("alert")).to_contain_text("300 levels; at most 60 stand side by side")
