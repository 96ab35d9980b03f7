"""What the tests of whole workflows have in common: a file of one's own is brought in, each action is counted, and a
figure leaves."""

import re
import unicodedata
import xml.etree.ElementTree as ET
from pathlib import Path

import numpy as np
from playwright.sync_api import Locator, expect

from e2e.browser import BrowserCase
from server.studies.services import create_study

SVG = "{http://www.w3.org/2000/svg}"
MOST = 15


def plain(words: str) -> str:
    """Words without their spaces, and powers as numbers: as a file may write them in parts."""
    return re.sub(r"\s", "", unicodedata.normalize("NFKC", words))


class WorkflowCase(BrowserCase):
    def begin(self, name: str, text: str) -> None:
        self.enter()
        self.bring_in(name, text)

    def bring_in(self, name: str, text: str) -> None:
        """A file of one's own is chosen on the first stage: two actions."""
        self.page.goto(self.intake)
        self.actions = 0
        with self.page.expect_file_chooser() as chooser:
            self.click(self.button("Choose a file"))
        self.actions += 1
        chooser.value.set_files([{"name": name, "mimeType": "text/csv", "buffer": text.encode()}])

    def enter(self) -> None:
        user = self.person()
        study = create_study(user, "Mine")
        self.enter_as(user)
        self.intake = f"/studies/{study.pk}/intake"
        self.page.goto(self.intake)
        self.actions = 0

    def click(self, what: Locator) -> None:
        self.actions += 1
        what.click()

    def toggle(self, *names: str) -> None:
        for name in names:
            self.click(self.button(name))

    def fill(self, label: str, text: str) -> None:
        self.actions += 1
        self.page.get_by_label(label, exact=True).fill(text)

    def press(self, key: str) -> None:
        self.actions += 1
        self.page.keyboard.press(key)

    def pick(self, label: str, option: str) -> None:
        self.click(self.page.get_by_role("button", name=re.compile(f"^{label}:")))
        self.click(self.page.get_by_role("option", name=re.compile(f"^{option}")))

    def store(self) -> None:
        self.click(self.button("Store the table"))
        expect(self.sentence).to_contain_text("Spread of")

    def open_kept(self) -> None:
        """The picture is kept as a plate, and the plate opened."""
        self.press("p")
        notice = self.page.get_by_role("status").filter(has_text="Kept as plate")
        self.click(notice.get_by_role("link"))
        self.sheet_here = self.page.locator("svg:has(> [data-paper]):not([data-style='screen'])")
        expect(self.sheet_here.locator("[data-panel]").first).to_be_attached()

    def leave(self, card: str) -> None:
        """The picture of a card as a file."""
        region = self.page.get_by_role("region", name=card, exact=True)
        self.sheet_here = region.locator("svg:has(> [data-paper])")
        self.take(region.get_by_role("button", name="SVG", exact=True))

    def leave_from_menu(self) -> None:
        """The picture of Spread as a file."""
        self.sheet_here = self.sheet
        self.click(self.button("Download"))
        self.take(self.button("Plot as SVG"))

    def leave_as_plate(self) -> None:
        self.click(self.button("Download…"))
        self.take(self.page.get_by_role("dialog", name="Download").get_by_role("button", name="SVG", exact=True))

    def take(self, what: Locator) -> None:
        """A file that holds as many marks as stand on the page, and the words of its axes."""
        root = ET.parse(self.taken(what)).getroot()
        self.drawn_anew()
        self.assertGreaterEqual(
            sum(1 for _ in root.iter(f"{SVG}path")), self.sheet_here.locator("[data-role] path").count()
        )
        self.said = " ".join("".join(text.itertext()) for text in root.iter(f"{SVG}text"))
        for side in ("across", "up"):
            for title in self.sheet_here.locator(f"[data-part='0:{side}'] [data-words]").all()[-1:]:
                self.assertIn(plain(title.get_attribute("data-words") or ""), plain(self.said))

    def taken(self, what: Locator) -> Path:
        with self.page.expect_download(timeout=60_000) as download:
            self.click(what)
        self.assertLessEqual(self.actions, MOST)
        return Path(download.value.path())

    def outlines(self, role: str, series: str | None = None) -> list[str]:
        """The outlines of the marks of a role, of all series or of one."""
        self.drawn_anew()
        of = "" if series is None else f"[data-series='{series}']"
        marks = self.sheet_here.locator(f"[data-role='{role}']{of} path")
        return marks.evaluate_all("paths => paths.map((path) => path.getAttribute('d'))")

    def drawn(self, role: str, series: str | None = None) -> list[list[float]]:
        """The numbers in them."""
        return [[float(number) for number in re.findall(r"-?[\d.]+", d)] for d in self.outlines(role, series)]

    def blocks(self) -> np.ndarray:
        """(n_classes, 4) left, top, right, bottom of each class."""
        pieces = self.outlines("classes")[0].split("M")[1:]
        return np.array([[float(number) for number in re.findall(r"-?[\d.]+", piece)][:4] for piece in pieces])

    def widths(self, role: str, series: str) -> np.ndarray:
        """(n_marks,) how wide each mark is."""
        marks = self.sheet_here.locator(f"[data-role='{role}'][data-series='{series}'] path")
        return np.array(marks.evaluate_all("paths => paths.map((path) => path.getBBox().width)"))
