"""The whole way by keyboard alone, and every control named for those who hear it."""

from playwright.sync_api import expect

from e2e.browser import PASSWORD, BrowserCase
from server.studies.services import create_study

UNNAMED = """() => [...document.querySelectorAll(
    'button, a, input, textarea, [role=slider], [role=application], [role=grid]')]
  .filter((part) => part.checkVisibility() && !part.closest('[aria-hidden=true]'))
  .filter((part) => !(part.getAttribute('aria-label') || part.textContent?.trim() || part.labels?.length ||
    part.getAttribute('placeholder') || part.querySelector('img[alt]:not([alt=""])')))
  .map((part) => part.outerHTML.slice(0, 120))"""
SMALL = """() => [...document.querySelectorAll('button, a[href], input:not([type=file])')]
  .filter((part) => part.checkVisibility() && !part.closest('.sr-only') && !part.classList.contains('sr-only'))
  .filter((part) => !part.closest('p, li, td, h1, label, dd, th, [role=columnheader]'))
  .map((part) => [part.getBoundingClientRect(), part])
  .filter(([box]) => box.height > 0 && box.height < 24)
  .map(([box, part]) => box.height + ' ' + part.outerHTML.slice(0, 100))"""


class ByKeyboard(BrowserCase):
    def press(self, *keys: str) -> None:
        for key in keys:
            self.page.keyboard.press(key)

    def test_from_signing_in_to_taking_a_figure_away(self):
        self.person(with_demo=True)
        self.page.goto("/")
        self.page.get_by_label("Name").focus()
        self.page.keyboard.type("ada")
        self.press("Tab")
        self.page.keyboard.type(PASSWORD)
        self.press("Enter")
        expect(self.sentence).to_contain_text("shell mass")
        self.press("/")
        expect(self.page.get_by_role("combobox", name="Variable")).to_be_focused()
        self.page.keyboard.type("length")
        self.press("Enter")
        expect(self.sentence).to_contain_text("shell length")
        expect(self.plot).to_be_visible()
        self.tab_to("arrows walk the marks")
        outline = self.plot.evaluate(
            "(part) => getComputedStyle(part).outlineStyle + getComputedStyle(part).outlineWidth"
        )
        self.assertEqual(outline, "solid2px")
        self.press("ArrowRight", "Enter")
        expect(self.strip).to_contain_text("selected")
        self.press("Escape")
        self.tab_to("^Class width")
        before = self.page.locator("*:focus").get_attribute("aria-valuenow")
        self.press("Shift+ArrowRight")
        expect(self.page.get_by_role("slider", name="Class width")).not_to_have_attribute("aria-valuenow", before)
        self.tab_to("^ ?Download")
        self.press("Enter")
        with self.page.expect_download() as waiting:
            self.page.keyboard.press("Enter")
        self.assertTrue(waiting.value.suggested_filename.endswith(".svg"))

    def test_every_control_has_a_name_and_a_size_to_be_hit(self):
        user = self.person(with_demo=True)
        study = user.memberships.get().study
        empty = create_study(user, "Empty")
        table = study.tables.get(name="Oyster nursery").pk
        self.page.goto("/")
        self.check("welcome")
        self.enter_as(user)
        for address, wait_for in (
            (f"/tables/{table}/spread?variable=shell_mass", "Download"),
            (f"/tables/{table}/spread?variable=tray_type", "Download"),
            (f"/tables/{table}/grid", "Go"),
            (f"/studies/{study.pk}/intake", "Choose a file"),
            (f"/studies/{empty.pk}/intake", "Choose a file"),
        ):
            self.page.goto(address)
            expect(self.page.get_by_role("button", name=wait_for, exact=True)).to_be_visible()
            self.check(address)

    def check(self, where: str) -> None:
        self.assertEqual(self.page.evaluate(UNNAMED), [], where)
        self.assertEqual(self.page.evaluate(SMALL), [], where)

    def test_single_keys_can_be_switched_off(self):
        self.open_demo_table()
        self.button("ada").click()
        self.page.get_by_label("Single keys are shortcuts").uncheck()
        self.press("Escape", "1")
        expect(self.sentence).to_contain_text("Spread of")
        self.press("Control+k")
        expect(self.page.get_by_role("combobox", name="Find or do")).to_be_focused()
