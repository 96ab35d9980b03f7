"""A study saved whole by the page, and opened again."""

import io
import json
import tempfile
import zipfile
from pathlib import Path

from playwright.sync_api import expect

from e2e.plating import PlateCase
from server.plates.models import Plate
from server.studies.models import Study, Table


class Packages(PlateCase):
    def setUp(self) -> None:
        super().setUp()
        self.folder = Path(tempfile.mkdtemp())

    def test_the_whole_study_is_saved_and_opens_as_the_same(self):
        self.set_aside(78)
        self.made(self.groups(), name="Lengths")
        self.made(self.pair(), name="Pairs")
        self.page.goto(f"/studies/{self.study.pk}/record?as=package")
        with self.page.expect_download() as download:
            self.button("Save the package").click()
        self.assertEqual(download.value.suggested_filename, "ellery-sound.zip")
        saved = self.folder / "study.zip"
        download.value.save_as(saved)
        expect(self.page.get_by_role("status").filter(has_text="Saved.")).to_be_visible()
        with zipfile.ZipFile(io.BytesIO(saved.read_bytes())) as archive:
            names = archive.namelist()
            picture = archive.read("plates/01-lengths.svg").decode()
            resources = json.loads(archive.read("datapackage.json"))["resources"]
        self.assertIn("plates/02-pairs.svg", names)
        self.assertIn("Shell length (mm)", picture)
        self.assertIn("@font-face", picture)
        self.assertEqual(len(resources), 5)
        self.page.get_by_label("Choose a package from this machine").set_input_files(saved)
        expect(self.page.get_by_text("It holds the whole study Ellery Sound: 5 tables")).to_be_visible()
        self.button("Open the study").click()
        expect(self.sentence).to_contain_text("Spread of")
        copy = Study.objects.exclude(pk=self.study.pk).get()
        self.assertIn(str(copy.tables.all()[0].pk), self.page.url)
        self.page.get_by_role("button", name="Ledger").click()
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text("brought in by ada")
        expect(ledger).to_contain_text("Set aside row 78")
        self.page.goto(f"/studies/{copy.pk}/plates")
        expect(self.sentence).to_contain_text("2 plates of Ellery Sound")
        expect(self.sentence).not_to_contain_text("moved")
        one, two = Plate.objects.filter(name="Lengths")
        self.assertEqual(one.last_reviewed["numbers"], two.last_reviewed["numbers"])
        self.page.goto(f"/plates/{two.pk}")
        expect(self.sheet.locator("[data-panel]").first).to_be_attached()
        # The sentence names its study: it is called something else, another is chosen, one is begun and one removed.
        self.page.goto(f"/studies/{copy.pk}/record?as=package")
        self.study_word("Ellery Sound")
        expect(self.page.get_by_role("option")).to_have_count(2)
        self.titled("Call it something else", "Ellery Sound, read again", "Rename it")
        expect(self.sentence).to_contain_text("Share Ellery Sound, read again as")
        self.study_word("Ellery Sound, read again")
        self.titled("Begin a study", "Reefs", "Begin it")
        expect(self.sentence).to_contain_text("Bring a table into Reefs")
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Compare").click()
        expect(self.sentence).to_contain_text("Bring a table into Reefs")  # it has no table to compare yet
        self.page.goto(self.page.url.split("/intake")[0] + "/record?as=routine")
        expect(self.button("Choose its .json")).to_be_visible()
        expect(self.page.get_by_role("button", disabled=True)).to_have_count(0)
        self.page.go_back()
        self.study_word("Reefs")
        self.page.get_by_role("option", name="Ellery Sound, read again").click()
        expect(self.sentence).to_contain_text("Bring a table into Ellery Sound, read again")
        self.study_word("Ellery Sound, read again")
        self.button("Remove it").click()
        expect(self.page.get_by_text("its 5 tables and 2 plates")).to_be_visible()
        self.button("Remove Ellery Sound, read again for good").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.assertEqual({each.title for each in Study.objects.all()}, {"Ellery Sound", "Reefs"})

    def study_word(self, title: str) -> None:
        self.page.get_by_role("button", name=f"Study: {title}", exact=True).click()

    def titled(self, deed: str, title: str, button: str) -> None:
        self.button(deed).click()
        self.page.get_by_label("Title of the study").fill(title)
        self.button(button).click()

    def test_a_package_from_elsewhere_opens_as_tables_from_intake(self):
        described = {"resources": [{"name": "sites", "path": "a.csv"}, {"name": "visits", "path": "b.csv"}]}
        saved = self.folder / "other.zip"
        with zipfile.ZipFile(saved, "w") as archive:
            archive.writestr("datapackage.json", json.dumps(described))
            archive.writestr("a.csv", "site,depth\nnorth,4\nsouth,7\n")
            archive.writestr("b.csv", "day,n\n2026-01-01,4\n")
        self.page.goto(f"/studies/{self.study.pk}/intake")
        self.page.get_by_label("Choose a file from this machine").set_input_files(saved)
        expect(self.page.get_by_text("It holds 2 tables.")).to_be_visible()
        self.button("Open all 2").click()
        expect(self.sentence).to_contain_text("in sites")
        self.assertEqual(
            list(Table.objects.order_by("created").values_list("name", flat=True))[-2:], ["sites", "visits"]
        )


class Scripts(PlateCase):
    def test_the_script_is_seen_before_it_leaves_with_all_it_needs(self):
        self.page.goto(f"/studies/{self.study.pk}/record?as=script")
        expect(self.page.get_by_text("There is no plate yet.")).to_be_visible()
        self.set_aside(78)
        self.made(self.groups(), name="Lengths")
        self.made(self.pair(), name="Pairs")
        self.page.reload()
        text = self.page.locator("pre")
        expect(text).to_contain_text("# Plate: Pairs")
        expect(text).to_contain_text("'set-aside', rows(78)")
        expect(text).to_contain_text("np.mean(known)")
        self.page.get_by_label("Pairs", exact=True).click()
        expect(text).not_to_contain_text("# Plate: Pairs")
        with self.page.expect_download() as download:
            self.button("Save with its files as .zip").click()
        self.assertEqual(download.value.suggested_filename, "ellery-sound-script.zip")
        with zipfile.ZipFile(download.value.path()) as archive:
            names = archive.namelist()
            study = archive.read("study.py").decode()
        self.assertIn("files/01-oyster_nursery.csv", names)
        self.assertIn("plates/01-lengths.json", names)
        self.assertTrue(any(name.endswith("-py3-none-any.whl") for name in names))
        self.assertEqual(study.strip(), text.inner_text().strip())
        compile(study, "study.py", "exec")
