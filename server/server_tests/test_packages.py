"""A whole study as a package: opened again it is the same study; what was changed on the way is refused."""

import hashlib
import io
import json
import zipfile
from dataclasses import replace
from typing import Any

import numpy as np

from server.ledger.models import Entry
from server.plates.models import Plate
from server.records import answering, opening
from server.server_tests.cases import SMALL, as_file, person, signed_in
from server.server_tests.test_routines import RoutineCase
from server.studies.models import ClassStructure, Job, SourceFile, Study, Table, Upload
from server.studies.snapshots import TableSnapshot

SVG = '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0"/></svg>'


def contents(package: bytes) -> dict[str, bytes]:
    with zipfile.ZipFile(io.BytesIO(package)) as archive:
        assert archive.testzip() is None
        return {name: archive.read(name) for name in archive.namelist()}


def zipped(files: dict[str, bytes], *, forged: bool = True) -> bytes:
    """A zip of files; forged: with the digests that a package of these files would have."""
    if forged and opening.DIGESTS in files:
        lines = [
            f"{hashlib.sha256(data).hexdigest()}  {name}\n" for name, data in files.items() if name != opening.DIGESTS
        ]
        files = {**files, opening.DIGESTS: "".join(lines).encode()}
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return sink.getvalue()


class PackageCase(RoutineCase):
    def rich_study(self) -> None:
        """Decisions of every kind, a file read again, tables made and simulated, plates, one frozen, named classes."""
        self.worked_on()
        self.read_again(missing_codes=["n/r", "0"])
        self.on_table("", kind="put-back", rows=[4], reason="not cracked after all")
        simulated = {
            "how": "simulated",
            "variable": {"distribution": "normal"},
            "groups": [{"n": 20, "name": "a"}],
            "seed": 4,
        }
        self.act(f"studies/{self.study.pk}/made", {"name": "Simulated", "options": simulated})
        self.act(f"studies/{self.study.pk}/classes", {"name": "tens", "boundaries": [0, 10, 20], "closed": "left"})
        self.client.get(f"/api/tables/{Table.objects.get(name='Small, with eggs').pk}")  # it follows its source
        self.client.post(f"/api/plates/{Plate.objects.get(name='Masses').pk}/freeze?on=true")

    def read_again(self, **choices: Any) -> None:
        looked = self.act(f"tables/{self.table.pk}/uploads", {}).json()
        stored = self.act(f"uploads/{looked['upload_id']}/store-again", {"choices": choices})
        self.assertEqual(stored.json()["state"], "done", stored.content)

    def package(self, study: Study | None = None, **pictures: str) -> bytes:
        answer = self.act(f"studies/{(study or self.study).pk}/package", {"pictures": pictures})
        self.assertEqual(answer.status_code, 200, answer)
        return b"".join(answer.streaming_content)

    def bring(self, package: bytes, name: str = "study.zip") -> dict[str, Any]:
        sent = self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(package, name)})
        self.assertEqual(sent.status_code, 200, sent.content[:500])
        return sent.json()

    def open(self, package: bytes):
        return self.act(f"uploads/{self.bring(package)['upload_id']}/open", {})

    def same_package(self, first: dict[str, bytes], again: dict[str, bytes]) -> None:
        """That two packages say the same, but for their ids and when they were written."""
        self.assertEqual(again.keys(), first.keys())
        ids = self.pairs(first, again)
        for name in first.keys() - {opening.DIGESTS}:
            data, other = first[name], again[name]
            for old, new in ids.items():
                other = other.replace(new.encode(), old.encode())
            if name == "datapackage.json":
                self.assertEqual({**json.loads(other), "created": ""}, {**json.loads(data), "created": ""})
            else:
                self.assertEqual(other, data, name)

    def pairs(self, first: dict[str, bytes], again: dict[str, bytes]) -> dict[str, str]:
        said = [json.loads(files["study.json"]) for files in (first, again)]
        result = {
            one["key"]: two["key"]
            for part in ("tables", "plates")
            for one, two in zip(said[0][part], said[1][part], strict=True)
        }
        made = [[each["made"]["wish"]["of"] for each in one["tables"] if each["made"]] for one in said]
        return result | {
            one: two for ones, twos in zip(*made, strict=True) for one, two in zip(ones, twos, strict=True)
        }

    def same_table(self, one: Table, two: Table) -> None:
        for name in (
            "name",
            "n_rows",
            "revision",
            "state",
            "imports",
            "import_version",
        ):
            self.assertEqual(getattr(one, name), getattr(two, name), name)
        self.assertEqual(one.row_origins and bytes(one.row_origins), two.row_origins and bytes(two.row_origins))
        first, second = TableSnapshot.of(one), TableSnapshot.of(two)
        self.assertEqual([replace(v, table=first) for v in second.variables], list(first.variables))
        for symbol in first.state.symbols:
            for view in ("imported", "described", "active"):
                a, b = first.state.column(symbol, view), second.state.column(symbol, view)
                for part in ("numbers", "codes", "reasons", "limits"):
                    left, right = getattr(a, part), getattr(b, part)
                    self.assertEqual(left is None, right is None)
                    if left is not None:
                        self.assertEqual((left.dtype, left.tobytes()), (right.dtype, right.tobytes()))
                self.assertEqual(
                    (a.label, a.unit, a.kind, a.levels, a.missing_codes),
                    (b.label, b.unit, b.kind, b.levels, b.missing_codes),
                )
        for mine, theirs in zip(one.entries.all(), two.entries.all(), strict=True):
            for name in (
                "number",
                "kind",
                "rows",
                "n_rows",
                "variable",
                "changes",
                "of",
                "reason",
                "made",
                "revision_before",
                "revision_after",
            ):
                self.assertEqual(getattr(mine, name), getattr(theirs, name), name)
            self.assertEqual((theirs.by_whom, theirs.author), (mine.author.get_username(), self.owner))


class RoundTrip(PackageCase):
    def test_what_it_holds(self):
        self.rich_study()
        plate = Plate.objects.get(name="Of the part")
        files = contents(self.package(**{str(plate.pk): SVG}))
        described = json.loads(files["datapackage.json"])
        first = described["resources"][0]
        fields = {field["name"]: field for field in first["schema"]["fields"]}
        self.assertEqual(list(fields), ["tray", "mass", "eggs", "when", "log_mass", "twice", "set_aside"])
        self.assertEqual(
            (fields["mass"]["unit"], fields["mass"]["kind"], fields["mass"]["title"]), ("mg", "continuous", "wet mass")
        )
        self.assertEqual((fields["tray"]["categories"], fields["tray"]["categoriesOrdered"]), (["b", "upper"], False))
        self.assertIn("n/r", fields["mass"]["missingValues"])
        self.assertEqual(files["files/01-small.csv"], SMALL.encode())
        self.assertEqual(files["plates/02-of-the-part.svg"].decode(), SVG)
        self.assertIn("Wet mass (mg)", files["plates/01-masses.md"].decode())
        self.assertIn("## References", files["methods.md"].decode())
        self.assertEqual(
            {name for name in files if name.startswith("routines/")},
            {"routines/01-small.json", "routines/03-simulated.json"},
        )
        entries = json.loads(files["ledger.json"])["tables"][0]["entries"]
        self.assertEqual(
            [entry["author"] for entry in entries], ["ada"] * Entry.objects.filter(table=self.table).count()
        )

    def test_opened_again_it_is_the_same_study(self):
        self.rich_study()
        package = self.package()
        before = SourceFile.objects.count()
        preview = self.bring(package)
        self.assertEqual(preview["package"], {"study": self.study.title, "n_tables": 3})
        bo = person("bo")
        opened = self.act(f"uploads/{preview['upload_id']}/open", {}).json()
        self.assertTrue(opened["whole"])
        study = Study.objects.get(pk=opened["study"])
        self.assertEqual((study.title, study.owner), (self.study.title, self.owner))
        self.assertEqual(
            SourceFile.objects.count(), before + 1
        )  # the file of the table; the package itself is not kept
        for one, two in zip(self.study.tables.all(), study.tables.all(), strict=True):
            self.same_table(one, two)
        self.assertEqual(list(study.class_structures.values_list("name", "boundaries")), [("tens", [0, 10, 20])])
        # Whatever stands in a package of the copy stands in that of the first, under the new ids.
        self.same_package(contents(package), contents(self.package(study)))
        self.assertEqual(signed_in(bo).get(f"/api/tables/{opened['tables'][0]}").status_code, 404)

    def test_decisions_can_be_taken_back_and_made_in_the_copy(self):
        self.rich_study()
        table = self.open(self.package()).json()["tables"][0]
        revision = Table.objects.get(pk=table).revision
        back = self.act(f"tables/{table}/ledger/undo", {"revision": revision}).json()
        self.assertEqual((back["entries"][-1]["author"], back["entries"][-1]["brought_by"]), ("ada", ""))
        self.assertEqual(back["entries"][0]["brought_by"], "ada")
        self.assertEqual(
            np.flatnonzero(TableSnapshot.of(Table.objects.get(pk=table)).active()["mass"].reasons)[:2].tolist(),
            [2, 3],
        )

    def test_an_empty_study_too(self):
        empty = Study.objects.get(pk=self.act("studies", {"title": "Empty"}).json()["id"])
        files = contents(self.package(empty))
        self.assertEqual(json.loads(files["datapackage.json"])["resources"], [])

    def test_a_plate_whose_table_is_gone_stays_and_says_so(self):
        self.rich_study()
        self.client.delete(f"/api/tables/{Table.objects.get(name='Small, with eggs').pk}")
        package = self.package()
        self.assertIn(
            "A table that it stands on is not here any more.", contents(package)["plates/02-of-the-part.md"].decode()
        )
        opened = self.open(package).json()
        lines = self.client.get(f"/api/studies/{opened['study']}/plates").json()
        self.assertEqual([line["name"] for line in lines], ["Masses", "Of the part"])
        script = self.act(f"studies/{self.study.pk}/script/text", {}).json()
        self.assertEqual(
            script["notes"],
            [
                "Masses is frozen with its numbers; the script computes them anew.",
                "Of the part is not in the script: A table that it stands on is not here any more.",
            ],
        )
        self.assertIn("# Plate: Masses", script["text"])


class FromElsewhere(PackageCase):
    def test_all_its_tables_open(self):
        fields = [
            {"name": "site", "type": "string", "title": "Site", "categories": ["south", "north"]},
            {"name": "depth", "type": "number", "unit": "m", "missingValues": ["", "-9"]},
        ]
        described = {
            "resources": [
                {"name": "sites", "title": "Sites", "path": "a.csv", "schema": {"fields": fields}},
                {"name": "visits", "path": "b/visits.csv"},
            ]
        }
        package = zipped(
            {
                "datapackage.json": json.dumps(described).encode(),
                "a.csv": b"site,depth\nnorth,4\nsouth,-9\n",
                "b/visits.csv": b"day,n\n2026-01-01,4\n2026-01-02,-9\n",
            }
        )
        preview = self.bring(package)
        self.assertEqual(preview["package"], {"study": "", "n_tables": 2})
        with self.settings(STORE_AT_ONCE_BYTES=0):  # as a large one
            job = Job.objects.get(pk=self.act(f"uploads/{preview['upload_id']}/open", {}).json()["id"])
        answering.run_job(job)
        opened = self.client.get(f"/api/jobs/{job.pk}/opened").json()
        self.assertEqual((opened["whole"], opened["study"]), (False, str(self.study.pk)))
        sites, visits = (Table.objects.get(pk=each) for each in opened["tables"])
        self.assertEqual((sites.name, visits.name), ("Sites", "visits"))
        site, depth = TableSnapshot.of(sites).active().columns.values()
        self.assertEqual(
            (site.levels, site.kind, depth.unit, depth.missing_counts), (("south", "north"), "category", "m", {"-9": 1})
        )
        other = list(TableSnapshot.of(visits).active().columns.values())[1]
        self.assertEqual(other.n_missing, 0)  # the code is that of another field
        self.assertEqual(sites.source_id, visits.source_id)
        self.assertFalse(Upload.objects.exists())

    def test_what_is_no_package_is_refused(self):
        upload = self.bring(SMALL.encode(), "small.csv")["upload_id"]
        self.assert_problem(self.act(f"uploads/{upload}/open", {}), 422, "no-package")
        self.assertEqual(signed_in(person("eve")).post(f"/api/uploads/{upload}/open").status_code, 404)


class Tampered(PackageCase):
    def test_every_change_is_refused_and_leaves_nothing(self):
        self.rich_study()
        good = contents(self.package())
        studies, entries = Study.objects.count(), Entry.objects.count()

        def with_json(name: str, change) -> dict[str, bytes]:
            said = json.loads(good[name])
            change(said)
            return {**good, name: json.dumps(said).encode()}

        def entry(index: int, **changes):
            return with_json("ledger.json", lambda said: said["tables"][0]["entries"][index].update(changes))

        def table(**changes):
            return with_json("study.json", lambda said: said["tables"][0].update(changes))

        chunk = next(name for name in good if name.endswith("0-0000-0000.arrow"))
        other = next(name for name in good if name.endswith("0-0001-0000.arrow"))
        short = {name: data for name, data in good.items() if name != chunk}
        cases = {
            "data": {**good, "data/01-small.csv": good["data/01-small.csv"].replace(b"2026-03-07", b"2026-03-08")},
            "file": {**good, "files/01-small.csv": SMALL.encode() + b"a,1,2,2026-01-01\n"},
            "reason": entry(0, reason="another reason"),
            "rows": entry(0, rows=[[3, 5]]),
            "rows in disorder": entry(0, rows=[[5, 3]]),
            "kind": entry(0, kind="keep"),
            "number": entry(0, number=2),
            "undo of what comes": entry(2, of=40),
            "changes": entry(0, changes={"x": 1}),
            "recipe": entry(6, changes={"log_mass": {"how": "eval", "of": "mass", "label": "x", "text": "__import__"}}),
            "description": entry(3, changes={"mass": {"label": ["x"]}}),
            "moves": entry(10, changes={"moves": [[1]], "reading": 1}),
            "missing": short,
            "no Arrow": {**good, chunk: b"nonsense"},
            "another's values": {**good, chunk: good[other]},
            "no rows": table(readings=[]),
            "fewer rows": table(readings=[{"n_rows": 29, "choices": {}, "said": {}}] * 2),
            "a reading of rows that nobody sent": table(
                readings=[{"n_rows": 2_000_000_000, "choices": {}, "said": {}}] * 3
            ),
            "revision": table(revision=99),
            "source": table(source=7),
            "digest": table(digest="0" * 64),
            "version": with_json("study.json", lambda said: said.update(version=2)),
            "more": with_json("study.json", lambda said: said.update(more=1)),
            "symbol": with_json(
                "study.json", lambda said: said["tables"][0]["variables"][0].update(symbol="a\nimport os")
            ),
            "no study": with_json("datapackage.json", lambda said: said["velvet-heron"].pop("study")),
        }
        for name, files in cases.items():
            with self.subTest(name):
                said = self.assert_problem(self.open(zipped(files)), 422, "broken-package")
                self.assertTrue(said["remedy"])
                self.assertEqual((Study.objects.count(), Entry.objects.count()), (studies, entries))
        # As packages of earlier versions had it: what the Ledger makes stood among the variables.
        derived = {"derived": True, "position": 1_000_000, "symbol": "log_mass", "label": "log mass", "kind": ""}
        earlier = with_json("study.json", lambda said: said["tables"][0]["variables"].append(derived))
        for files in (good, earlier):
            self.assertEqual(self.open(zipped(files)).status_code, 201)
        self.assertEqual(ClassStructure.objects.count(), 3)

    def test_any_entry_that_was_changed_added_or_taken_out_is_told_of(self):
        self.rich_study()
        good = contents(self.package(**{str(Plate.objects.first().pk): SVG}))
        for name, data in good.items():
            changed = {**good, name: data[:-2] + bytes([data[-2] ^ 1]) + data[-1:]}
            del (without := dict(good))[name]
            for files in (changed, without, {**good, f"{name}.more": b"x"}):
                with self.subTest(name):
                    self.refused(zipped(files, forged=False))

    def refused(self, package: bytes) -> None:
        """A package is refused as it is brought in, or as it is opened."""
        file = {"file": as_file(package, "study.zip")}
        sent = self.client.post(f"/api/studies/{self.study.pk}/uploads", file)
        if sent.status_code == 200:
            sent = self.act(f"uploads/{sent.json()['upload_id']}/open", {})
        self.assertIn(sent.status_code, (400, 422))
        self.assertTrue(sent.json()["problem"])

    def test_a_picture_that_is_none_is_refused(self):
        sent = self.act(f"studies/{self.study.pk}/package", {"pictures": {str(self.table.pk): "<html>"}})
        self.assert_problem(sent, 422, "no-picture")
