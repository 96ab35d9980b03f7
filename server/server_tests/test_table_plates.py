"""Tables of numbers: kept, edited, followed, frozen, in files that other programs read, in packages and routines."""

import csv
import io
import shutil
import subprocess
import tempfile
import zipfile
from unittest import skipUnless
from uuid import uuid4

from server.plates.models import TablePlate
from server.server_tests.cases import StudyCase, as_file, person, signed_in, stored

SHELLS = "bed,mass (g),size (mm)\n" + "\n".join(
    f"{'north' if i % 2 else 'south'},{3 + i % 7 + (i % 2) / 2:.1f},{20 + (i * 7) % 13}" for i in range(40)
)


def told(*how):
    """What a program answers."""
    return subprocess.run(how, capture_output=True, check=True, timeout=60, text=True).stdout


class Tables(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, SHELLS, name="Shells")
        cls.study = cls.table.study

    def setUp(self):
        super().setUp()
        self.source = {
            "kind": "summary", "table": str(self.table.pk), "variables": ["mass", "size"], "by": "bed"
        }  # fmt: skip

    def put(self, address, body):
        return self.client.put(f"/api/{address}", body, content_type="application/json")

    def keep(self, name="Shells by bed", **document):
        body = {"name": name, "document": {"source": self.source, **document}}
        return self.act(f"studies/{self.study.pk}/table-plates", body)

    def shown(self, document, plate=None):
        return self.act("table-plates/shown", {"document": document, "plate": plate}).json()

    def file(self, document, form):
        answer = self.act(f"table-plates/file?form={form}", {"document": document})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        return answer.content

    def test_a_table_is_kept_edited_moved_and_deleted(self):
        kept = self.keep().json()
        again = self.keep().json()
        self.assertEqual([kept["name"], again["name"]], ["Shells by bed", "Shells by bed 2"])
        document = {**kept["document"], "title": "Shells", "hidden": ["total"], "labels": {"level:north": "North"}}
        change = {"version": kept["version"], "name": "Beds", "document": document}
        changed = self.put(f"table-plates/{kept['id']}", change).json()
        self.assertEqual((changed["name"], changed["version"]), ("Beds", 2))
        self.assert_problem(self.put(f"table-plates/{kept['id']}", change), 409, "changed-since")
        laid = self.shown(changed["document"])["laid"]
        self.assertEqual([head["label"] for head in laid["heads"]], ["North", "south"])
        self.assertEqual(laid["title"], "Shells")
        self.assertEqual(self.act(f"table-plates/{again['id']}/place", {"before": kept["id"]}).status_code, 204)
        copy = self.act(f"table-plates/{kept['id']}/duplicate", {}).json()
        listed = self.client.get(f"/api/studies/{self.study.pk}/table-plates").json()
        self.assertEqual([line["id"] for line in listed], [again["id"], kept["id"], copy["id"]])
        self.assertEqual(self.client.delete(f"/api/table-plates/{copy['id']}").status_code, 204)
        self.assertEqual(TablePlate.objects.count(), 2)

    def test_it_follows_its_data_says_what_moved_and_can_be_frozen(self):
        kept = self.keep().json()
        frozen = self.act(f"table-plates/{self.keep('Frozen').json()['id']}/freeze?on=true", {}).json()
        before = self.shown(kept["document"])["laid"]["lines"][0]["cells"]
        self.on_table("", kind="set-aside", rows=[1, 2, 3], reason="chipped")
        now = self.client.get(f"/api/table-plates/{kept['id']}").json()
        self.assertTrue(now["stale"])
        self.assertIn("mass (g), mean (SD), south", [moved["name"] for moved in now["moved"]])
        after = self.shown(kept["document"], kept["id"])
        self.assertNotEqual(after["laid"]["lines"][0]["cells"], before)
        self.assertEqual([head["n"] for head in after["laid"]["heads"]], ["n = 19", "n = 18", "n = 37"])
        self.assertIn("set aside", " ".join(words for _, words in after["laid"]["notes"]))
        self.assertEqual(self.shown(frozen["document"], frozen["id"])["laid"]["lines"][0]["cells"], before)
        changed = {**frozen["document"], "source": {**self.source, "variables": ["mass"]}}
        refused = self.put(f"table-plates/{frozen['id']}", {"version": 2, "name": "x", "document": changed})
        self.assert_problem(refused, 422, "frozen")
        seen = self.act(f"table-plates/{kept['id']}/reviewed", {}).json()
        self.assertEqual((seen["stale"], seen["moved"]), (False, []))

    def test_what_cannot_be_made_is_refused_in_words(self):
        for source, code in (
            ({**self.source, "variables": []}, "lacking"),
            ({**self.source, "by": "size", "difference": True}, "two-groups"),
            ({**self.source, "variables": ["gone"]}, "no-variable"),
            ({**self.source, "table": str(uuid4())}, "no-table"),
        ):
            with self.subTest(code):
                answer = self.act("table-plates/shown", {"document": {"source": source}})
                self.assertEqual(answer.json()["code"], code)
        self.assertEqual(self.keep(labels={"x": "a\u0000"}).status_code, 422)

    def test_nobody_else_has_it(self):
        kept = self.keep().json()
        self.client = signed_in(person("bo"))
        for ask in (
            self.client.get(f"/api/table-plates/{kept['id']}"),
            self.act("table-plates/shown", {"document": kept["document"]}),
            self.act("table-plates/file?form=csv", {"document": kept["document"], "plate": kept["id"]}),
            self.client.delete(f"/api/table-plates/{kept['id']}"),
            self.client.get(f"/api/studies/{self.study.pk}/table-plates"),
        ):
            self.assertEqual(ask.status_code, 404)

    def test_files_hold_the_numbers_of_the_readings_to_the_digit(self):
        document = self.keep().json()["document"]
        groups = self.reading("split", "mass", by="bed")["groups"]
        mean = next(group["summary"]["mean"] for group in groups if group["label"] == "north")
        (head, first, *_) = list(csv.reader(io.StringIO(self.file(document, "csv").decode())))
        self.assertEqual(float(first[head.index("north")]), mean)
        self.assertIn(b"<table", self.file(document, "html"))
        self.assertIn(b"| mass (g), mean (SD)", self.file(document, "markdown"))
        self.assertTrue(zipfile.is_zipfile(io.BytesIO(self.file(document, "xlsx"))))

    @skipUnless(shutil.which("pandoc"), "pandoc is not here")
    def test_another_program_reads_the_pages(self):
        document = self.keep(title="Shells & beds", note="50 % of them").json()["document"]
        cells = [cell for line in self.shown(document)["laid"]["lines"] for cell in line["cells"] if cell]
        for form in ("docx", "latex", "html", "markdown"):
            with self.subTest(form), tempfile.NamedTemporaryFile() as page:
                page.write(self.file(document, form))
                page.flush()
                read = {"markdown": "gfm"}.get(form, form)
                self.assertIn('"t":"Table"', told("pandoc", "-f", read, "-t", "json", page.name))
                plain = told("pandoc", "-f", read, "-t", "plain", "--columns=400", page.name)
                for cell in cells:
                    self.assertIn(cell.split(" ")[0], plain)
                self.assertIn("Shells & beds", plain)
                self.assertIn("50 % of them", plain.replace("\u00a0", " "))

    def test_a_package_and_a_routine_bring_it_along(self):
        kept = self.keep(title="As it was").json()
        self.act(f"table-plates/{kept['id']}/freeze?on=true", {})
        package = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        body = b"".join(package.streaming_content) if package.streaming else package.content
        with zipfile.ZipFile(io.BytesIO(body)) as archive:
            page = next(name for name in archive.namelist() if name.startswith("tables/"))
            self.assertIn(b"mass (g)", archive.read(page))
        sent = self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(body, "study.zip")}).json()
        opened = self.act(f"uploads/{sent['upload_id']}/open", {})
        self.assertEqual(opened.status_code, 201, opened.content[:300])
        study = TablePlate.objects.exclude(study=self.study).get().study_id
        (line,) = self.client.get(f"/api/studies/{study}/table-plates").json()
        self.assertEqual(
            (line["name"], line["frozen"], line["document"]["title"]), ("Shells by bed", True, "As it was")
        )
        self.assertNotEqual(line["document"]["source"]["table"], str(self.table.pk))
        routine = self.client.get(f"/api/tables/{self.table.pk}/routine").json()
        self.assertEqual([plate["name"] for plate in routine["table_plates"]], ["Shells by bed"])
