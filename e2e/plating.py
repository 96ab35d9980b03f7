"""What the tests of Plates have in common."""

import re
from typing import Any

from heron.figure import styles
from playwright.sync_api import Locator, expect

from e2e.browser import BrowserCase
from server.ledger.services import RowDecision, decide
from server.plates.documents import PlateDocument
from server.plates.models import Plate
from server.plates.services import keep

POINTS_PER_MM = 72 / 25.4


class PlateCase(BrowserCase):
    """A person with the demo study; plates are made through the services, as a stage would."""

    def setUp(self) -> None:
        super().setUp()
        self.user = self.person(with_demo=True)
        self.enter_as(self.user)
        self.study = self.user.memberships.get().study
        self.table = self.study.tables.get(name="Oyster nursery")

    def groups(self, **said: Any) -> dict[str, Any]:
        usual = {"variable": "shell_length", "by": "tray_type", "centre": "mean", "bars": "sd"}
        return {"kind": "groups", "table": str(self.table.pk), **usual, **said}

    def pair(self, **said: Any) -> dict[str, Any]:
        usual = {"x": "shell_length", "y": "shell_mass", "lines": []}
        return {"kind": "pair", "table": str(self.table.pk), **usual, **said}

    def made(
        self, *sources: dict[str, Any], name: str = "Lengths", style: dict[str, Any] | None = None, **said: Any
    ) -> Plate:
        panels = [each if "source" in each else {"source": each} for each in sources or (self.groups(),)]
        document = PlateDocument.model_validate({"style": style or styles.ON_SCREEN, "panels": panels, **said})
        return keep(self.user, self.study, name, "", document)

    def open_plate(self, *sources: dict[str, Any], **said: Any) -> Plate:
        plate = self.made(*sources, **said)
        self.page.goto(f"/plates/{plate.pk}")
        expect(self.sheet.locator("[data-panel]").first).to_be_attached()
        return plate

    @property
    def sheet(self) -> Locator:
        return self.page.locator("svg:has(> [data-paper]):not([data-style='screen'])")

    @property
    def part(self) -> Locator:
        return self.page.get_by_role("region", name="Part")

    @property
    def checks(self) -> Locator:
        return self.page.get_by_role("list", name="Checks")

    @property
    def words(self) -> Locator:
        return self.page.get_by_role("region", name="Caption")

    @property
    def caption(self) -> Locator:
        return self.page.get_by_role("textbox", name="Caption", exact=True)

    def at(self, part: str) -> Locator:
        return self.sheet.locator(f'[data-part="{part}"]')

    def choose_part(self, name: str) -> None:
        self.page.get_by_role("button", name=re.compile("^Part:")).click()
        self.page.get_by_role("option", name=name, exact=True).click()

    def set_to(self, label: str, text: str) -> None:
        box = self.part.get_by_label(label, exact=True)
        box.fill(text)
        box.blur()

    def kept(self) -> None:
        """What was changed has reached the study."""
        expect(self.page.get_by_role("status").filter(has_text=re.compile("^saved$"))).to_be_visible()

    def document(self, plate: Plate) -> dict[str, Any]:
        self.kept()
        return Plate.objects.get(pk=plate.pk).document

    def ticks(self, side: str) -> dict[str, tuple[float, float]]:
        """The numbers of an axis and where each stands on the screen."""
        result = (
            self.at(f"0:{side}")
            .locator("> g[data-words]:not([data-part])")
            .evaluate_all(
                "(all) => all.map((g) => { const b = g.getBoundingClientRect();"
                " return [g.dataset.words, b.x + b.width / 2, b.y + b.height / 2]; })"
            )
        )
        return {text.replace("\u2212", "-"): (x, y) for text, x, y in result}

    def drag(self, grip: Locator, dx: float, dy: float) -> None:
        box = grip.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        for step in range(1, 9):
            self.page.mouse.move(x + dx * step / 8, y + dy * step / 8)
        self.page.mouse.up()

    def set_aside(self, row: int) -> None:
        self.table.refresh_from_db()
        asked = RowDecision(kind="set-aside", rows=[row], variable="", reason="odd", revision=self.table.revision)
        decide(self.user, self.table, asked)
