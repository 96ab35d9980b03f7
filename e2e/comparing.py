"""What the tests of Compare have in common."""

import re

from playwright.sync_api import Locator, expect

from e2e.browser import BrowserCase
from server.studies.services import create_study


class ComparingCase(BrowserCase):
    def open_compare(self, variable="shell_mass", table="Oyster nursery"):
        self.open_demo_table(variable, table)
        self.page.keyboard.press("5")
        expect(self.sentence).to_contain_text("Compare")

    def pick(self, label, option):
        self.page.get_by_role("button", name=re.compile(f"^{label}:")).click()
        self.page.get_by_role("option", name=re.compile(f"^{option}")).click()

    def drawn(self, *choices: str) -> None:
        """Ways of drawing, chosen one after the other; the choice is closed again."""
        self.button("display").click()
        dialog = self.page.get_by_role("dialog")
        for choice in choices:
            group, name = choice.split(": ")
            dialog.get_by_role("group", name=group).get_by_role("button", name=name, exact=True).click()
        self.page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)

    @property
    def numbers(self) -> Locator:
        return self.page.get_by_role("region", name="Numbers")

    @property
    def groups(self) -> Locator:
        return self.page.get_by_role("region", name="Groups")

    @property
    def picture(self) -> Locator:
        return self.page.get_by_role("application", name=re.compile(" by "))

    def line(self, name: str) -> Locator:
        return self.numbers.get_by_role("row", name=re.compile(f"^{name}"))

    @property
    def sheet(self) -> Locator:
        """The picture as it is drawn, without what is laid over it."""
        return self.groups.locator("svg:has(> [data-paper])")

    def expect_levels(self, *names: str, side: str = "across", within: float = 30_000) -> None:
        """The names of levels, in the order in which they stand."""
        result = self.words(side).filter(has_text=re.compile(f"^({'|'.join(map(re.escape, names))})$"))
        # An axis that goes up is written from its foot.
        expect(result).to_have_text(list(names if side == "across" else reversed(names)), timeout=within)

    def bring(self, name: str, data: bytes) -> None:
        """A file of one's own, stored: two actions of a person."""
        user = self.person()
        study = create_study(user, "Mine")
        self.enter_as(user)
        self.page.goto(f"/studies/{study.pk}/intake")
        self.page.get_by_label("Choose a file from this machine").set_input_files(
            {"name": name, "mimeType": "text/csv", "buffer": data}
        )
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of")
