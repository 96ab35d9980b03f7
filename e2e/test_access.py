"""Every view by the rules of axe, in both themes, at the widths that it must hold; help and findings in place."""

import re
from pathlib import Path

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from server.demo.services import load_worked

AXE = (Path(__file__).parent.parent / "web/node_modules/axe-core/axe.min.js").read_text()
RUN = """async (theme) => {
  document.documentElement.dataset.theme = theme;
  // By night only colours are others.
  const rules = theme === "dark" ? { runOnly: ["color-contrast", "link-in-text-block"] } : {};
  const found = await axe.run(document, { resultTypes: ["violations"], ...rules });
  return found.violations.filter(({ impact }) => ["serious", "critical"].includes(impact))
    .map(({ id, nodes }) => `${id}: ${nodes.slice(0, 3).map(({ html }) => html.slice(0, 160)).join(" | ")}`);
}"""
CUT = """() => {
  const scrolled = document.documentElement.scrollWidth > innerWidth + 1;
  const cut = [...document.querySelectorAll("header button, header a")]
    .filter((one) => one.getBoundingClientRect().right > innerWidth + 1).map((one) => one.textContent);
  return scrolled ? [document.documentElement.scrollWidth, ...cut] : cut;
}"""


class Access(BrowserCase):
    def setUp(self):
        super().setUp()
        user = self.person()
        self.enter_as(user)
        study = load_worked(user)
        at = {table.name: f"/tables/{table.pk}" for table in study.tables.all()}
        oysters, bus, gauges = at["Oyster nursery"], at["Night bus"], at["Tide pair"]
        self.oysters = oysters
        self.trials = study.plates.get(name="Trials of cleaning").pk
        self.views = [
            f"/studies/{study.pk}/intake", f"{oysters}/grid", f"{oysters}/variables", f"{oysters}/rearrange",
            f"{oysters}/overview", f"{oysters}/spread?variable=shell_mass", f"{oysters}/spread?variable=vigour",
            f"{oysters}/spread?variable=shell_mass&as=cumulative", f"{gauges}/spread?variable=north_gauge&as=order",
            f"{gauges}/spread?variable=north_gauge&as=control", f"{gauges}/spread?variable=time",
            f"{oysters}/line-up?variable=shell_mass", f"{oysters}/rescale?variable=shell_mass",
            f"{oysters}/screen?variable=shell_mass", f"{oysters}/screen?variable=shell_mass&mode=together",
            f"{oysters}/screen?variable=shell_mass&mode=relation",
            f"{oysters}/compare?variable=shell_mass&by=tray_type",
            f"{bus}/compare?variable=satisfaction&by=age_band", f"{at['Cleaning trials']}/compare?mode=results",
            f"{oysters}/relate?variable=shell_mass&x=shell_length", f"{oysters}/relate?view=matrix",
            f"{oysters}/relate?variable=shell_mass&x=shell_length&view=board",
            f"{gauges}/relate?variable=north_gauge&x=south_gauge&view=agreement", f"/studies/{study.pk}/plates",
            f"/plates/{study.plates.first().pk}", f"/table-plates/{study.table_plates.first().pk}",
            f"/reports/{study.reports.first().pk}", f"/studies/{study.pk}/record", "/help", "/help/shortcuts",
            "/reference",
        ]  # fmt: skip

    def settled(self, view: str) -> None:
        self.page.goto(view)
        expect(self.page.get_by_role("main").get_by_role("heading").first).to_be_visible()
        self.page.wait_for_load_state("networkidle")

    def test_every_view_passes_in_both_themes_and_fits_its_window(self):
        for view in self.views:
            self.page.set_viewport_size({"width": 1280, "height": 800})
            self.settled(view)
            self.page.evaluate(AXE)
            for theme in ("light", "dark"):
                with self.subTest(view, theme=theme):
                    self.assertEqual(self.page.evaluate(RUN, theme), [])
            for width in (1024, 640, 390):
                with self.subTest(view, width=width):
                    self.page.set_viewport_size({"width": width, "height": 800})
                    # On a phone, and where the page is enlarged, the stages scroll by themselves.
                    cut = [one for one in self.page.evaluate(CUT) if width == 1024 or isinstance(one, int)]
                    self.assertEqual(cut, [])

    def test_a_question_is_answered_on_ones_own_table_and_by_keys_alone(self):
        page = self.page
        self.settled(f"{self.oysters}/spread?variable=shell_mass")
        page.get_by_role("button", name="About Reading").press("Enter")
        expect(page.get_by_role("dialog", name="About Reading")).to_contain_text("What people get wrong")
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name="About Reading")).to_be_focused()
        page.keyboard.press("Control+k")
        page.keyboard.type("eror bar")
        page.keyboard.press("Enter")
        expect(page.get_by_role("listbox", name="Bars")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("button", name=re.compile("^Bars:"))).to_be_focused()
        page.keyboard.press("Control+k")
        page.keyboard.type("from a question")
        page.keyboard.press("Enter")
        page.get_by_role("link", name="Do two variables go together?").press("Enter")
        expect(page.get_by_role("heading", level=1)).to_contain_text("Relate")
        expect(page.get_by_role("main")).to_be_focused()
        page.get_by_role("link", name="Help", exact=True).press("Enter")
        page.get_by_role("textbox", name="Find in help").fill("cook")
        page.get_by_role("navigation", name="Help").get_by_role("link").first.press("Enter")
        expect(page.get_by_role("article")).to_contain_text("Cook's distance")

    def test_what_stands_out_and_what_to_try(self):
        page = self.page
        self.settled(f"{self.oysters}/overview")
        findings = page.get_by_role("region", name="What stands out here")
        findings.get_by_role("link", name=re.compile("Shell mass is strongly right-skewed")).click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("shell mass")
        tasks = page.get_by_role("region", name="Try this")
        expect(tasks.get_by_role("listitem").nth(1)).to_contain_text("done")
        tasks.get_by_role("button", name="close for good").click()
        expect(tasks).to_have_count(0)
        page.reload()
        expect(page.get_by_role("heading", level=1)).to_contain_text("shell mass")
        expect(tasks).to_have_count(0)

    def test_numbers_are_written_and_read_as_the_person_chooses(self):
        page = self.page
        self.settled(f"{self.oysters}/spread?variable=shell_mass")
        page.keyboard.press("Control+k")
        page.keyboard.type("decimal coma")
        page.get_by_role("option", name="Numbers as 12.345,6").click()
        reading = page.get_by_role("region", name="Reading")
        expect(reading).to_contain_text("13,422")
        expect(page.get_by_role("region", name="Is a normal model defensible?")).to_contain_text("W = 0,901")
        expect(page.locator("svg").get_by_text("0,05", exact=True)).to_be_visible()
        page.get_by_role("button", name=re.compile("^Density: bandwidth")).click()
        hand = page.get_by_role("textbox", name="By hand (g)")
        expect(hand).to_have_value(re.compile(r"^2,2\d*$"))
        hand.fill("0,75")
        hand.press("Enter")
        expect(page).to_have_url(re.compile(r"bandwidth=0\.75"))
        expect(page.get_by_role("button", name="Density: bandwidth 0,75 g")).to_be_visible()
        page.reload()
        expect(reading).to_contain_text("13,422")
        # A plate says for itself how its numbers are written.
        page.goto(f"/plates/{self.trials}")
        sheet = page.locator("svg:has(> [data-paper])")
        expect(sheet.get_by_text("0.5", exact=True)).to_be_visible()
        page.get_by_role("button", name=re.compile("^Part: ")).click()
        page.get_by_role("option", name="the style").click()
        page.get_by_role("button", name=re.compile("^Numbers: 12.345\\.6$")).click()
        page.get_by_role("option", name=re.compile("^12.345,6$")).first.click()
        expect(sheet.get_by_text("0,5", exact=True)).to_be_visible()

    def test_a_study_is_read_by_its_accessibility_tree_alone(self):
        """What is heard, and nothing that is seen: from a pasted table to the answers planted in it."""
        page = self.page
        self.context.set_default_timeout(30_000)
        rows = "\n".join(f"{i},{20 + 2 * (i % 30) + (40 if i % 3 == 2 else 0)},{'abc'[i % 3]}" for i in range(1, 121))
        heard = page.get_by_role("main")
        page.goto("/")
        expect(heard).to_match_aria_snapshot("- heading /Spread of/ [level=1]")
        page.get_by_role("link", name="Intake", exact=True).press("Enter")
        page.get_by_role("textbox", name="Or paste rows").fill(f"day,mass (g),bed\n{rows}")
        page.get_by_role("button", name="Preview").press("Enter")
        expect(heard).to_match_aria_snapshot("- heading /Read/ [level=1]")
        expect(heard).to_be_focused()  # what was pressed is gone; the place is not
        page.get_by_role("button", name="Store the table").press("Enter")
        page.get_by_role("navigation", name="Variables").get_by_role("link", name=re.compile("^mass")).press("Enter")
        expect(heard).to_match_aria_snapshot("""
          - heading /Spread of .*mass/ [level=1]
          - region "Shape on one axis":
            - paragraph: /Mass \\(g\\), drawn as a histogram.*peak.*Median .* half between/
        """)
        page.get_by_role("link", name="Compare", exact=True).press("Enter")
        expect(heard).to_match_aria_snapshot("""
          - heading /Compare .*mass.* across .*bed/ [level=1]
          - region "Groups":
            - paragraph: /The highest centre. c .* the lowest. [ab]/
        """)
        page.get_by_role("link", name="Relate", exact=True).press("Enter")
        expect(heard).to_match_aria_snapshot("""
          - region "Pairs":
            - img /c. points .* from left to right .rank correlation/
        """)

    def test_forced_colours_keep_pictures_on_paper_and_choices_framed(self):
        page = self.page
        page.emulate_media(forced_colors="active")
        self.settled(f"{self.oysters}/spread?variable=shell_mass")
        sheet = page.locator("svg[data-style]").first
        self.assertEqual(sheet.evaluate("(part) => getComputedStyle(part).forcedColorAdjust"), "none")
        paper, ink = sheet.evaluate(
            "(part) => [getComputedStyle(part).backgroundColor, getComputedStyle(part.querySelector('text')).fill]"
        )
        self.assertNotIn(paper, (ink, "rgba(0, 0, 0, 0)"))
        chosen = page.get_by_role("link", name=re.compile("shell mass")).first
        self.assertEqual(chosen.evaluate("(part) => getComputedStyle(part).outlineStyle"), "solid")
