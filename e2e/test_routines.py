"""A routine saved, run on the next file through its matching screen, and the same Ledger at the end."""

import json
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from demo.generate import FOLDER
from e2e.plating import PlateCase
from server.ledger.services import describe
from server.plates.models import Plate
from server.studies.models import Table


class RunAgain(PlateCase):
    def setUp(self) -> None:
        super().setUp()
        self.made(self.groups(), name="Lengths")
        self.set_aside(78)
        table = Table.objects.get(pk=self.table.pk)
        describe(self.user, table, {"shell_length": {"unit": "mm", "upper": 200.0}}, table.revision)
        self.folder = Path(tempfile.mkdtemp())
        self.page.goto(f"/studies/{self.study.pk}/record?as=routine")

    def choose_data(self, text: str, name: str = "next.csv") -> None:
        (self.folder / name).write_text(text)
        self.page.get_by_label("Choose the file to run it on").set_input_files(self.folder / name)

    def digest(self, table: str) -> str:
        self.page.goto(f"/tables/{table}/spread")
        self.page.get_by_role("button", name="Ledger").click()
        return self.page.get_by_role("complementary", name="Ledger").locator("code").inner_text()

    def test_a_routine_that_was_saved_runs_on_the_next_file_and_twice_gives_one_digest(self):
        with self.page.expect_download() as download:
            self.button("Save it as .json").click()
        self.assertEqual(download.value.suggested_filename, "oyster-nursery-routine.json")
        saved = self.folder / "routine.json"
        download.value.save_as(saved)
        self.assertEqual(json.loads(saved.read_text())["format"], "velvet-heron-routine")
        self.page.get_by_label("Choose a routine from this machine").set_input_files(saved)
        text = (FOLDER / "oyster_nursery.csv").read_text().replace("shell length (mm)", "length of shell (mm)")
        self.choose_data(text.replace(",mesh,", ",net,"))
        in_the_way = self.page.get_by_role("list", name="To resolve first")
        expect(in_the_way).to_contain_text("The file has no variable shell_length: shell length (mm).")
        expect(self.page.get_by_role("list", name="Plates made again")).to_contain_text("Lengths lacks shell_length")
        self.page.get_by_label("shell length is").select_option(label="length of shell (mm)")
        expect(in_the_way).not_to_contain_text("no variable")
        expect(in_the_way).to_contain_text("tray type has 1 level that the routine does not know: net")
        expect(in_the_way).to_contain_text("1 step names rows by number; in another file these are others. It rests")
        steps = self.page.get_by_role("list", name="Steps").get_by_role("checkbox")
        expect(steps.nth(0)).not_to_be_checked()
        expect(steps.nth(1)).to_be_checked()
        self.page.get_by_label("Name of the new table").fill("Nursery, next year")
        self.button("Run it").click()
        said = self.page.get_by_role("region", name="It has run")
        expect(said).to_contain_text("1 decision taken, 1 plate kept.")
        expect(said).to_contain_text("Step 1 was left out.")
        first = said.locator("code").inner_text()
        self.assertEqual(sorted(Plate.objects.values_list("name", flat=True)), ["Lengths", "Lengths 2"])
        self.button("Run it on one more file").click()
        self.choose_data(text.replace(",mesh,", ",net,"), "again.csv")
        self.page.get_by_label("shell length is").select_option(label="length of shell (mm)")
        expect(in_the_way).not_to_contain_text("no variable")
        self.button("Run it").click()
        expect(said.locator("code")).to_have_text(first)
        said.get_by_role("link", name="look at the table").click()
        expect(self.sentence).to_contain_text("in again")

    def test_what_is_no_routine_is_refused_in_words(self):
        (self.folder / "x.json").write_text("not json")
        chooser = self.page.get_by_label("Choose a routine from this machine")
        chooser.set_input_files(self.folder / "x.json")
        expect(self.page.get_by_role("alert")).to_contain_text("x.json is no JSON text, so no routine.")
        (self.folder / "y.json").write_text('{"format": "something", "tables": []}')
        chooser.set_input_files(self.folder / "y.json")
        self.choose_data("a,b\n1,2\n")
        expect(self.page.get_by_role("alert")).to_contain_text("Choose another routine or file.")
