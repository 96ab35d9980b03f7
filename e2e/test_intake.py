"""Bringing in one's own table, and keeping it one's own."""

import io
import re
from pathlib import Path

import openpyxl
from django.test import override_settings
from playwright.sync_api import expect

from e2e.browser import PASSWORD, BrowserCase
from server.studies.models import Job, Table
from server.studies.services import create_study, run_storing
from server.studies.tasks import look_at_upload

ODD = "bed;mass (g)\n" + "".join(f"{'ab'[i % 2]};{i},5\n" for i in range(1, 30)) + "a;<0,5\nb;<0,5\na;-99\n"


class Bringing(BrowserCase):
    def setUp(self):
        super().setUp()
        user = self.person()
        study = create_study(user, "My reefs")
        self.enter_as(user)
        self.page.goto(f"/studies/{study.pk}/intake")

    def choose(self, name: str, data: str | bytes) -> None:
        content = data if isinstance(data, bytes) else data.encode()
        self.page.get_by_label("Choose a file from this machine").set_input_files(
            {"name": name, "mimeType": "text/csv", "buffer": content}
        )

    def test_a_file_is_understood_asked_about_and_stored(self):
        self.choose("odd_one.csv", ODD)
        expect(self.sentence).to_contain_text("Read odd_one.csv into My reefs")
        understood = self.page.get_by_role("region", name="How the file was read")
        for word in ("semicolon", "comma", "UTF-8", "names"):
            expect(understood.get_by_role("button", name=re.compile(word)).first).to_be_visible()
        questions = self.page.get_by_role("region", name=re.compile("before it is stored"))
        expect(questions).to_contain_text("2 texts among numbers: <0,5 2")
        questions.get_by_role("button", name="They mean missing").click()
        expect(questions).to_contain_text("−99 stands 1 time, far from all else")
        questions.get_by_role("button", name="It means missing").click()
        expect(questions).to_contain_text("Nothing looks wrong")
        rows = self.page.get_by_role("region", name="First rows as they will be read")
        expect(rows).to_contain_text("<0,5 2, −99 1")
        self.assertFalse(Table.objects.exists())
        self.page.get_by_label("Name of the table").fill("Second reef")
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of mass (g) in Second reef")
        expect(self.page.get_by_text("29 rows used")).to_be_visible()
        self.assertEqual(Table.objects.get().source.name, "odd_one.csv")

    def test_pasted_rows_with_another_reading_of_them(self):
        self.page.get_by_label("Or paste rows").fill(
            "dose\tyield (kg)\n" + "".join(f"{i}\t{i * 1.5}\n" for i in range(9))
        )
        self.button("Preview").click()
        rows = self.page.get_by_role("region", name="First rows")
        expect(rows).to_contain_text("kg")
        self.page.get_by_role("button", name=re.compile("^Header row:")).click()
        self.page.get_by_role("option", name="values already").click()
        expect(rows.get_by_role("rowheader")).to_have_count(10)
        self.button("as found").click()
        expect(rows.get_by_role("rowheader")).to_have_count(9)
        rows.get_by_role("button", name="Kind of dose: count").click()
        self.page.get_by_role("option", name="category").click()
        expect(rows.get_by_role("button", name="Kind of dose: category")).to_be_visible()
        self.button("Store the table").click()
        expect(self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="dose")).to_contain_text(
            "9 levels"
        )

    def test_a_workbook_is_read_from_the_sheet_and_cells_that_are_chosen(self):
        book = openpyxl.Workbook()
        book.active.append(["a note"])
        page = book.create_sheet("Beds")
        for row in (["Made up", None], [], ["bed", "mass (g)"], *(["a", i + 0.5] for i in range(12))):
            page.append(row)
        file = io.BytesIO()
        book.save(file)
        self.choose("beds.xlsx", file.getvalue())
        understood = self.page.get_by_role("region", name="How the file was read")
        expect(understood).to_contain_text("workbook (.xlsx)")
        understood.get_by_role("button", name="Sheet: Sheet").click()
        self.page.get_by_role("option", name="Beds").click()
        rows = self.page.get_by_role("region", name="First rows")
        expect(rows.get_by_role("rowheader")).to_have_count(12)
        expect(rows).to_contain_text("mass")
        understood.get_by_role("button", name="Cells: rows 3 to 15, columns 1 to 2").click()
        self.page.get_by_label("last row").fill("8")
        self.page.get_by_role("dialog").get_by_role("button", name="Set").click()
        expect(rows.get_by_role("rowheader")).to_have_count(5)
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.page.keyboard.press("1")
        self.button("Download Beds").click()
        with self.page.expect_download() as waiting:
            self.page.get_by_role("link", name="CSV").click()
        self.assertEqual(Path(waiting.value.path()).read_text().splitlines()[:2], ["bed,mass (g)", "a,0.5"])

    def test_what_cannot_be_read_says_what_was_found_and_loses_nothing_typed(self):
        self.page.get_by_label("Or paste rows").fill("kept\n1\n")
        for name, data, words in (
            ("empty.csv", b"", "The file is empty"),
            ("report.pdf", b"%PDF-1.7 rest", "This is a PDF document"),
            ("blob.csv", b"a,b\n1,\x00\x01", "NUL characters"),
        ):
            self.choose(name, data)
            expect(self.page.get_by_role("alert")).to_contain_text(words)
        expect(self.page.get_by_label("Or paste rows")).to_have_value("kept\n1\n")

    @override_settings(STORE_AT_ONCE_BYTES=0)
    def test_long_work_shows_its_progress_and_can_be_stopped(self):
        self.choose("odd_one.csv", ODD)
        self.button("Store the table").click()
        expect(self.page.get_by_role("progressbar")).to_be_visible()
        self.button("Stop").click()
        expect(self.page.get_by_text("Stopped; nothing was stored.")).to_be_visible()
        self.button("Store the table").click()
        expect(self.page.get_by_role("progressbar")).to_be_visible()
        run_storing(Job.objects.get(state="waiting"))  # as the worker does
        expect(self.sentence).to_contain_text("in Odd one")

    @override_settings(PREVIEW_SECONDS=0.0)
    def test_a_file_that_takes_long_to_look_at_says_so_and_can_be_stopped(self):
        self.choose("reef.csv", ODD)
        expect(self.page.get_by_text("Reading reef.csv …")).to_be_visible()
        look_at_upload(str(Job.objects.get().pk))
        expect(self.sentence).to_contain_text("Read reef.csv into My reefs")
        self.button("Cancel").click()
        self.choose("reef.csv", ODD)
        self.button("Stop").click()
        expect(self.page.get_by_text("Stopped; the file was not read.")).to_be_visible()

    def test_a_table_is_removed_only_when_asked_twice(self):
        self.choose("odd_one.csv", ODD)
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.page.keyboard.press("1")
        self.button("Remove Odd one").click()
        self.button("cancel").click()
        self.button("Remove Odd one").click()
        self.button("Remove").click()
        expect(self.page.get_by_text("None yet.")).to_be_visible()
        self.assertFalse(Table.objects.exists())


class Accounts(BrowserCase):
    def fill(self, name: str, password: str) -> None:
        self.page.get_by_label("Name").fill(name)
        self.page.get_by_label(re.compile("^Password")).fill(password)

    def test_sign_up_out_and_in_and_see_only_ones_own(self):
        other = self.person("ben", with_demo=True)
        theirs = Table.objects.filter(study__owner=other).first()
        self.page.goto("/")
        self.button("Create an account").click()
        self.fill("ada", "short")
        self.button("Create account").click()
        expect(self.page.get_by_role("alert")).to_contain_text("at least 12 characters")
        self.fill("ada", PASSWORD)
        self.button("Create account").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.page.goto(f"/tables/{theirs.pk}/spread")
        expect(self.page.get_by_role("alert")).to_contain_text("There is no such table here")
        self.button("ada").click()
        self.button("Sign out").click()
        expect(self.button("Open the demo study")).to_be_visible()
        self.fill("ada", "not the password")
        self.button("Sign in").click()
        expect(self.page.get_by_role("alert")).to_contain_text("Name and password do not match.")
        self.fill("ada", PASSWORD)
        self.button("Sign in").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.assertEqual(Table.objects.filter(study__owner__username="ada").count(), 5)


class Dropping(BrowserCase):
    def test_a_file_is_dropped_and_left_again_without_a_trace(self):
        user = self.person()
        study = create_study(user, "My reefs")
        self.enter_as(user)
        self.page.goto(f"/studies/{study.pk}/intake")
        zone = self.page.get_by_text("Drop a file here, or").locator("xpath=..")
        data = self.page.evaluate_handle(
            """() => {
              const moved = new DataTransfer();
              moved.items.add(new File(["a;b\\n1;2\\n3;4\\n"], "dropped.csv", { type: "text/csv" }));
              return moved;
            }"""
        )
        zone.dispatch_event("dragover", {"dataTransfer": data})
        zone.dispatch_event("drop", {"dataTransfer": data})
        expect(self.sentence).to_contain_text("Read dropped.csv into My reefs")
        self.page.keyboard.press("2")  # another stage, and back: what was being looked at is still there
        self.page.keyboard.press("1")
        expect(self.sentence).to_contain_text("Read dropped.csv into My reefs")
        self.button("Cancel").click()
        expect(self.sentence).to_contain_text("Bring a table into My reefs")
        self.assertFalse(Table.objects.exists())
