"""Programs: the page of the API; the methods paragraph."""

from pathlib import Path

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from e2e.plating import PlateCase

ROOT = Path(__file__).parents[1]


class Programs(BrowserCase):
    def test_the_page_lists_every_operation_and_finds_one(self):
        self.enter_as(self.person())
        self.page.goto("/reference")
        document = self.page.evaluate("fetch('/api/openapi.json').then((answer) => answer.json())")
        n = sum(len(methods) for methods in document["paths"].values())
        expect(self.sentence).to_contain_text(f"{n} operations")
        self.page.get_by_label("Find", exact=True).fill("post /api/plates/words")
        card = self.page.get_by_role("region", name="Plates")
        expect(card.get_by_role("listitem")).to_have_count(1)
        expect(card).to_contain_text("/api/plates/words")
        expect(card).to_contain_text("takes WordsIn; answers 200 WordsOut")
        self.assert_nothing_scrolls_sideways()


class MethodsInWords(PlateCase):
    def test_the_paragraph_covers_the_plates_chosen_and_is_saved(self):
        self.made(self.groups(bars="bootstrap-interval"), name="Lengths")
        self.made(self.pair(lines=["median"]), name="Pairs")
        self.set_aside(78)
        self.page.goto(f"/studies/{self.study.pk}/plates")
        self.page.get_by_role("link", name="methods paragraph").click()
        expect(self.sentence).to_contain_text("Share Ellery Sound as a methods paragraph")
        words = self.page.get_by_role("region", name="In words")
        expect(words).to_contain_text("Oyster nursery: 416 rows of 10 variables, read from oyster_nursery.csv")
        expect(words).to_contain_text("Set aside: 1 row (78) as “odd” (Ledger 1).")
        expect(words).to_contain_text("bootstrap intervals of the mean (9\u202f999 resamples) (Efron 1987).")
        expect(words).to_contain_text("Sen, P. K. (1968).")
        self.page.get_by_label("Pairs", exact=True).click()
        expect(self.page.get_by_role("region", name="Plates and tables covered")).to_contain_text("1 chosen")
        expect(words).not_to_contain_text("Sen, P. K.")
        with self.page.expect_download() as download:
            self.button("Save as .md").click()
        self.assertEqual(download.value.suggested_filename, "ellery-sound-methods.md")
        text = download.value.path().read_text()
        self.assertTrue(text.startswith("# Methods of Ellery Sound\n\nOyster nursery: 416 rows"))
        self.assertIn("## References\n\n- Efron, B. (1987).", text)
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.button("Copy").click()
        expect(self.page.get_by_role("status").filter(has_text="clipboard")).to_be_visible()
        self.assertEqual(self.page.evaluate("navigator.clipboard.readText()"), text)
