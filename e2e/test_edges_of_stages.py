"""Tables at the edge in Rescale, Screen and Compare: a picture or a plain sentence, and what was decided seen there."""

import json
import re

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from e2e.test_edges import HARDEST, NO_NUMBER
from server.server_tests.cases import stored_in
from server.server_tests.test_extremes import COLUMNS, NAMES, text_of
from server.studies.services import create_study

RULES = "fences+z+robust-z+grubbs+esd+skew-fences"


class Edges(BrowserCase):
    tolerated = re.compile("status of 4(22|09)")

    def open_table(self, text, **choices):
        user = self.person()
        self.enter_as(user)
        return stored_in(create_study(user, "Edges"), text, "Edges", **choices)

    def look(self, table, stage, variable, **asked):
        query = "&".join(f"{name}={value}" for name, value in {"variable": variable, **asked}.items())
        self.page.goto(f"/tables/{table.pk}/{stage}?{query}")
        expect(self.page.locator("main h1, main p").first).to_be_visible()
        self.page.wait_for_load_state("networkidle")
        self.assertIsNone(NO_NUMBER.search(self.page.locator("main").inner_text()), (stage, variable, asked))

    def test_the_hardest_columns_screened_by_every_rule(self):
        table = self.open_table(text_of(COLUMNS), kinds=dict.fromkeys(COLUMNS, "continuous"))
        for variable in HARDEST:
            self.look(table, "screen", variable, rules=RULES)
        for variable in ("one", "huge"):
            self.look(table, "screen", variable, without="skewness")
            self.look(table, "screen", variable, mode="together")
            self.look(table, "screen", variable, mode="relation")

    def test_the_hardest_columns_rescaled(self):
        table = self.open_table(text_of(COLUMNS), kinds=dict.fromkeys(COLUMNS, "continuous"))
        ways = (
            '{"how":"scale","setting":{"way":"log","base":"10","offset":0}}',
            '{"how":"along","take":"ratio","steps":1}',
            '{"how":"percent","row":1,"centre":"mean"}',
            '{"how":"classes","boundaries":[],"closed":"left"}',
        )
        for variable, way in zip(HARDEST * 2, [*ways, *ways[1:], ways[0]], strict=True):
            self.look(table, "rescale", variable, way=way)

    def test_groups_at_the_edge_compared(self):
        rows = ["5,only,u", "1,pair,u", "2,pair,v", "3,flat,u", "3,flat,v", ",empty,u", "7,,v"]
        table = self.open_table(
            "x,g,h\n" + "\n".join(rows), kinds={"x": "continuous", "g": "category", "h": "category"}
        )
        every = "points,violin,box,centre,joined,from zero"
        for asked in (
            {"marks": "points,centre"},
            {"marks": every, "second": "h", "points": "apart", "values": 2},
            {"marks": every, "scale": "log", "upright": "no", "violin": "ridges"},
            {"marks": every, "violin": "facing", "second": "h", "pair": "h"},
            {"marks": every, "floor": 100, "ceiling": 200, "caps": "yes", "side": "up"},
        ):
            self.look(table, "compare", "x", by="g", **asked)
        self.look(table, "compare", "x", by="g")
        reading = self.page.get_by_role("region", name="Reading")
        expect(reading).to_contain_text("No bar can be drawn for only. It needs 2 values.")
        expect(reading).to_contain_text("1 value of no group is left out.")
        numbers = self.page.get_by_role("region", name="Numbers")
        expect(numbers.get_by_role("row", name=re.compile("^flat"))).to_contain_text("3.0")
        expect(numbers.get_by_role("row", name=re.compile("^empty"))).to_contain_text("none")

    def test_names_of_every_script_and_three_hundred_groups(self):
        quoted = ['"' + name.replace('"', '""') + '"' for name in NAMES]
        text = "g,x\n" + "\n".join(f"{quoted[i % 6]},{i * 7 % 11}" for i in range(60))
        table = self.open_table(text, delimiter=",")
        self.look(table, "compare", "x", by="g")
        self.look(table, "screen", "x", by="g", rules=RULES)
        self.assertEqual(self.page.locator("main b").count(), 0)  # what is typed is data
        rows = "\n".join(f"level {i % 300:03d},{i * 37 % 101 / 7:.2f}" for i in range(900))
        many = stored_in(table.study, "g,x\n" + rows, "Many")
        self.look(many, "compare", "x", by="g", marks="points,box,centre")
        expect(self.page.get_by_role("region", name="Reading")).to_contain_text("300 groups")
        expect(self.page.get_by_role("region", name="Differences")).to_contain_text("choose a reference")
        self.look(many, "screen", "x", by="g")
        expect(self.page.get_by_role("alert").first).to_contain_text("at most 60")

    def test_a_table_without_numbers_or_levels_says_what_is_needed(self):
        words = self.open_table("name,place\nann,here\nbob,there\nann,here\n")
        for stage, said in (
            ("rescale", "there is no scale to change"),
            ("screen", "no row can be far from the others"),
        ):
            self.page.goto(f"/tables/{words.pk}/{stage}")
            expect(self.page.get_by_text(said)).to_be_visible()
        self.look(words, "compare", "place", by="name")
        expect(self.page.get_by_role("region", name="Reading")).to_contain_text("The share of there is largest in bob")
        self.look(words, "compare", "place", by="name", form="stacked", neutral=0)
        alone = stored_in(words.study, "x\n1.5\n2.5\n4\n", "Alone", kinds={"x": "continuous"})
        self.page.goto(f"/tables/{alone.pk}/compare")
        expect(self.page.get_by_text("there are no groups to compare")).to_be_visible()
        self.page.goto(f"/tables/{alone.pk}/screen?mode=relation")
        expect(self.page.get_by_text("A relation needs another variable")).to_be_visible()

    def test_results_at_the_edge(self):
        text = (
            "what,est,low,high,sd,weight\na,1,0,2,1,0\nb,-1,-2,,0,5\nc,,1,2,,1\nd,1e300,-1e300,1e305,2,\ne,5,5,5,0,2\n"
        )
        table = self.open_table(text)
        reading = self.page.get_by_role("region", name="Reading")
        for asked in ({}, {"scale": "log"}, {"weight": "weight", "sort": "estimate", "combined": "5 1"}):
            self.look(table, "compare", "est", mode="results", of="est", ends="two low high", label="what", **asked)
            expect(reading).to_contain_text("1 row without an estimate left out: row 3")
            expect(reading).to_contain_text("Without limits: row 2")
        self.look(table, "compare", "est", mode="results", of="est", ends="width sd", label="none")
        expect(self.page.get_by_role("region", name="Numbers")).to_contain_text("row 5")
        self.look(table, "compare", "est", mode="results", of="est sd", ends="width weight low")
        expect(self.page.get_by_text("A width to each side cannot be below 0")).to_be_visible()
        empty = stored_in(table.study, "what,est,low,high\na,,1,2\nb,,1,2\n", "Empty", kinds={"est": "continuous"})
        self.look(empty, "compare", "est", mode="results", of="est", ends="two low high")
        expect(self.page.get_by_text("No row has an estimate in this column.")).to_be_visible()


class Away(BrowserCase):
    tolerated = re.compile("status of 503")

    def test_where_nobody_answers_it_is_said_and_asked_again_by_itself(self):
        self.open_demo_table()
        away = {"code": "away", "problem": "The database does not answer.", "remedy": "", "where": "", "rows": []}
        self.page.route(
            "**/api/**",
            lambda route: route.fulfill(status=503, content_type="application/problem+json", body=json.dumps(away)),
        )
        self.page.keyboard.press("5")
        notice = self.page.get_by_text("It is asked again every few seconds")
        expect(notice).to_contain_text("The database does not answer.")
        expect(self.sentence).to_contain_text("Compare shell mass")
        self.page.unroute("**/api/**")
        expect(notice).to_have_count(0)
        expect(self.page.get_by_role("region", name="Groups").locator("[data-role='bars']").first).to_be_attached()
