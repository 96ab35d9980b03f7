"""Plates of data at the edge, and by the keyboard alone."""

import re

from heron.errors import HeronError
from heron.figure import styles
from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.models import Plate
from server.problems import Refusal
from server.server_tests.cases import stored_in
from server.server_tests.test_extremes import COLUMNS, NAMES, text_of

BROKEN = """() => {
  const sheet = document.querySelector('svg:has(> [data-paper])');
  const found = [];
  for (const part of sheet.querySelectorAll('*'))
    for (const { name, value } of part.attributes)
      if (/^(d|x|y|width|height|rx|r|transform|viewBox)$/.test(name) && /NaN|Infinity|undefined/.test(value))
        found.push(`${part.tagName} ${name}="${value.slice(0, 60)}"`);
  return found;
}"""


class Edges(PlateCase):
    def drawn(self, source, **panel):
        """A plate of a source as the page draws it; whether it could be made at all."""
        try:
            plate = self.made({"source": source, **panel}, name="Edge")
        except (HeronError, Refusal) as error:
            self.assertTrue(error.problem.endswith("."), error)
            return False
        self.page.goto(f"/plates/{plate.pk}")
        expect(self.sheet.locator("[data-panel]")).to_be_attached()
        self.assertEqual(self.page.evaluate(BROKEN), [], source)
        plate.delete()
        return True

    def test_columns_at_the_edge_are_drawn_without_a_broken_mark(self):
        kinds = dict.fromkeys(COLUMNS, "continuous")
        table = stored_in(self.study, text_of({**COLUMNS, "g": ["p", "q", "p", "r"] * 3}), "Edges", kinds=kinds)
        base = {"table": str(table.pk)}
        n = 0
        for symbol in ("one", "two", "constant", "two_values", "huge", "tiny", "near"):
            for source in (
                {"kind": "shape", "variable": symbol, "shape": {}, "measure": "counts"},
                {
                    "kind": "groups", "variable": symbol, "groups": {"by": "g"},
                    "drawn": {"marks": ["points", "violin", "box", "centre", "from zero"]},
                },
                {"kind": "pair", "pair": {"x": "heaped", "y": symbol}},
                {"kind": "quantiles", "variable": symbol},
            ):  # fmt: skip
                n += self.drawn({**base, **source})
        self.assertGreater(n, 16)
        for settings in ({"scale": "log10"}, {"scale": "log2", "low": -5}, {"low": 9, "high": 2}, {"every": 1e-9}):
            pair = {**base, "kind": "pair", "pair": {"x": "heaped", "y": "two_values"}}
            self.assertTrue(self.drawn(pair, up=settings))

    def test_names_in_other_scripts_and_far_too_long_stay_on_the_sheet(self):
        levels = [name.replace(",", ";").replace('"', "'") for name in NAMES]
        cells = {"v": [float(i) for i in range(12)], levels[1]: levels * 2}
        table = stored_in(self.study, text_of(cells), "Odd")
        by = table.variables.last().symbol
        for upright in (True, False):
            source = {"table": str(table.pk), "kind": "groups", "variable": "v", "groups": {"by": by}}
            self.open_plate({**source, "drawn": {"upright": upright}}, name=f"Odd {upright}")
            words = self.at("0:across" if upright else "0:up").locator("[data-words]")
            said = " ".join(words.evaluate_all("(all) => all.map((g) => g.dataset.words)"))
            for level in levels[1:5]:
                self.assertIn(level.split()[0], said)
            data = self.sheet.locator("clipPath rect").first.evaluate("(r) => Number(r.getAttribute('width'))")
            self.assertGreater(data, 60)  # the data keep their room

    def test_three_hundred_groups_and_a_time_axis(self):
        lines = "\n".join(f"{i % 17},g{i % 300:03d},2025-{1 + i % 12:02d}-01" for i in range(600))
        table = stored_in(self.study, f"v,g,day\n{lines}", "Many")
        base = {"table": str(table.pk)}
        self.assertTrue(self.drawn({**base, "kind": "groups", "variable": "v", "groups": {"by": "g"}}))
        self.open_plate({**base, "kind": "pair", "pair": {"x": "day", "y": "v", "lines": []}}, name="Days")
        words = self.at("0:across").locator("[data-words]").evaluate_all("(all) => all.map((g) => g.dataset.words)")
        self.assertTrue(any(re.search("2025", each) for each in words), words)

    def test_a_sheet_too_small_for_its_words_says_so(self):
        self.open_plate(self.groups(), sheet={"width": 24, "height": 20}, style={**styles.ON_SCREEN, "type_size": 12})
        expect(self.checks.locator("[data-code='text']")).to_contain_text("lie over one another")
        self.assertEqual(self.page.evaluate(BROKEN), [])


class ByKeys(PlateCase):
    def test_a_plate_is_kept_edited_and_taken_away_by_keys_alone(self):
        self.page.goto(f"/tables/{self.table.pk}/compare?variable=shell_length&by=tray_type")
        expect(self.page.get_by_role("button", name="keep as plate").first).to_be_visible()
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.page.keyboard.press("7")
        expect(self.sentence).to_contain_text("1 plate of Ellery Sound")
        opening = self.page.get_by_role("link", name=re.compile("^Open Shell length"))
        opening.focus()
        self.page.keyboard.press("Enter")
        expect(self.sheet.locator("[data-panel]")).to_be_attached()
        choice = self.page.get_by_role("button", name=re.compile("^Part:"))
        choice.focus()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("combobox", name="Part")).to_be_focused()
        self.page.keyboard.type("axis up")
        self.page.keyboard.press("Enter")
        top = self.part.get_by_label("To", exact=True)
        top.focus()
        before = float(top.get_attribute("placeholder"))
        self.page.keyboard.press("Shift+ArrowUp")
        self.soon(lambda: self.assertGreater(float(top.input_value()), before))
        self.page.get_by_role("button", name=re.compile("^Add:")).focus()
        self.page.keyboard.press("Enter")
        self.page.keyboard.type("note")
        self.page.keyboard.press("Enter")
        note = self.at("0:furniture:0")
        expect(note).to_contain_text("note")
        x = note.bounding_box()["x"]
        self.page.get_by_role("group", name=re.compile("^Sheet:")).focus()
        self.page.keyboard.press("Shift+ArrowRight")
        self.soon(lambda: self.assertGreater(note.bounding_box()["x"], x + 4))
        self.button("Take away…").focus()
        self.page.keyboard.press("Enter")
        take = self.page.get_by_role("dialog", name="Take away").get_by_role("button", name="Caption", exact=True)
        take.focus()
        with self.page.expect_download() as download:
            self.page.keyboard.press("Enter")
        self.assertIn("# Shell length by tray type", download.value.path().read_text())
        self.page.keyboard.press("Escape")
        small = self.page.evaluate(
            "[...document.querySelectorAll('main button, main input, main select')]"
            ".filter((e) => e.offsetParent && e.type !== 'checkbox' && !e.closest('.sr-only'))"
            ".map((e) => [e.getAttribute('aria-label') || e.textContent, e.getBoundingClientRect().height])"
            ".filter(([, h]) => h < 24)"
        )
        self.assertEqual(small, [])
        self.assert_nothing_scrolls_sideways()
        self.assertEqual(Plate.objects.count(), 1)
