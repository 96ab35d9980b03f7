"""Whatever is asked, the answer is one in words: no question may break the server."""

import csv
import errno
import io
import itertools
import json
import re
import zipfile
from unittest.mock import patch

from django.db import OperationalError
from django.test import override_settings
from heron.figure import styles
from psycopg.errors import DiskFull

from server.limits import LONG_QUESTION
from server.problems import Refusal
from server.server_tests.cases import SMALL, StudyCase, as_file, signed_in
from server.server_tests.test_packages import zipped
from server.studies import selectors, services
from server.studies.models import Table

ODD = [
    "",
    "0",
    "-1",
    "1e400",
    "nan",
    "inf",
    "1e308",
    "5e-324",
    "'; drop table",
    "\x00",
    "é",
    "[]",
    "99999999999999999999",
]


class Questions(StudyCase):
    def setUp(self):
        super().setUp()
        self.client = signed_in(self.owner)
        self.client.raise_request_exception = False

    def ask(self, address: str, query: dict) -> None:
        response = self.client.get(address, query)
        said = f"{address} {query}: {response.status_code}"
        self.assertTrue(response.status_code == 200 or 400 <= response.status_code < 500, said)
        if response.status_code != 200:
            self.assertEqual(response["Content-Type"], "application/problem+json", said)

    def test_a_host_that_is_not_ours_is_refused_as_a_broken_request(self):
        answer = self.client.get("/api/studies", headers={"host": "elsewhere.example"})
        self.assert_problem(answer, 400, "broken-request")

    def test_readings_with_odd_options(self):
        options = {
            "spread": ["level", "quantile_definition"],
            "classes": ["width", "start", "count", "rule", "closed", "boundaries"],
            "density": ["bandwidth", "kernel"],
            "normality": ["level"],
            "rows": ["low", "high", "closed", "level", "missing"],
            "counts": [],
            "definitions": [],
            "numbers.csv": ["width", "level", "boundaries"],
            "split": ["by", "level", "quantile_definition"],
            "intervals": ["share", "level"],
            "line-up": ["seed"],
            "overview": ["quantile_definition"],
        }
        for name, names in options.items():
            for variable in ("mass", "tray", "when", "eggs", "", "\x00", "mass'--"):
                self.ask(self.address(name), {"variable": variable})
            for option, value in itertools.product(names, ODD):
                self.ask(self.address(name), {"variable": "mass", option: value})
            self.ask(self.address(name), {})

    def test_rows_with_odd_numbers(self):
        for numbers in (*ODD, "1,2,3", ",".join(["1"] * 5_000), "1;2", "-5,+3"):
            self.ask(f"/api/tables/{self.table.pk}/rows", {"numbers": numbers})

    def test_searching_and_looking_back_with_odd_words(self):
        for word in ODD:
            self.ask(f"/api/tables/{self.table.pk}/grid/sought", {"text": word, "after": word, "sort": word})
            self.ask(f"/api/tables/{self.table.pk}/grid/sought", {"text": word})
            self.ask(f"/api/tables/{self.table.pk}", {"at": word})
            self.ask(f"/api/tables/{self.table.pk}/grid", {"at": word})

    def revision(self) -> int:
        return Table.objects.get(pk=self.table.pk).revision

    def tell(self, address: str, body: object) -> None:
        response = self.client.post(f"/api/{address}", body, content_type="application/json")
        self.assertTrue(400 <= response.status_code < 500, f"{address} {body}: {response.status_code}")
        self.assertEqual(response["Content-Type"], "application/problem+json", f"{address} {body}")

    def test_odd_descriptions_change_nothing(self):
        fields = (
            "kind",
            "decimals",
            "lower",
            "upper",
            "true_zero",
            "missing_codes",
            "levels",
            "level_numbers",
            "below_limit",
        )
        for field, value in itertools.product(
            fields, ([], {}, "x\x00", 1e400, -1, [None], {"a": "b"}, {"a": {"b": 1}}, ["a"] * 2)
        ):
            body = {"variables": ["mass"], "changes": {field: value}, "revision": self.revision()}
            response = self.client.post(
                f"/api/tables/{self.table.pk}/ledger/describe", json.dumps(body), content_type="application/json"
            )
            self.assertTrue(response.status_code == 200 or 400 <= response.status_code < 500, f"{field} {value}")
            if response.status_code == 200:  # some of them mean something: none of it may hurt a reading
                self.ask(self.address("spread"), {"variable": "mass"})
                self.assertEqual(self.on_table("/undo").status_code, 200)

    def test_odd_corrections_and_wishes_are_refused(self):
        ledger = f"tables/{self.table.pk}/ledger"
        for cells in (
            [],
            [{}],
            [{"variable": "mass", "row": 0, "text": ""}],
            [{"variable": "mass", "row": 1, "text": "\x00"}],
            [{"variable": "x", "row": 1, "text": ""}],
            [{"variable": "mass", "row": 2**40, "text": "1"}],
        ):
            self.tell(f"{ledger}/correct", {"cells": cells, "reason": "odd", "revision": 1})
        for seed, panel in ((-1, 0), (2**60, 0), (1, 20), (1, -1), ("x", 1)):
            self.tell(
                f"{ledger}/line-up",
                {"variable": "mass", "seed": seed, "place": panel, "seen_before": True, "revision": 1},
            )
        of = [str(self.table.pk)]
        made = f"studies/{self.study.pk}/made"
        for options in (
            {},
            {"how": "longer", "sets": {}, "marks": [], "mark_name": ""},
            {"how": "longer", "sets": {"x": ["mass"]}, "marks": ["1", "2"], "mark_name": "m"},
            {"how": "longer", "sets": {"": ["mass", "eggs"]}, "marks": ["1", "2"], "mark_name": " "},
            {"how": "wider", "keys": ["tray"], "mark": "eggs", "values": ["mass"]},
            {"how": "wider", "keys": ["tray"], "mark": "mass", "values": ["gone"]},
            {"how": "split", "variable": "tray", "at": ""},
            {"how": "join", "variables": ["tray"], "name": "x"},
            {"how": "stack"},
            {"how": "part", "conditions": [{"variable": "tray", "test": "between", "low": 1}]},
            {"how": "part", "symbols": ["gone"]},
            {
                "how": "simulated",
                "variable": {"distribution": "normal", "parameters": {"SD": -1}},
                "groups": [{"n": 5}],
                "seed": 1,
            },
            {"how": "look-up", "key": "tray", "other_key": "tray", "symbols": ["mass"]},
            {"how": "simulated", "variable": {"distribution": "gamma"}, "groups": [{"n": 0}], "seed": 1},
            {"how": "simulated", "variable": {"distribution": "lumpy"}, "groups": [{"n": 5}], "seed": 1},
        ):
            for address in (made, f"{made}/preview"):
                self.tell(address, {"of": of, "options": options, "name": "Odd"})
        self.assertEqual(Table.objects.count(), 1)

    def test_odd_addresses_and_bodies(self):
        for address in (
            "/api/tables/1",
            "/api/tables/x/rows",
            "/api/jobs/--",
            "/api/nothing",
            "/api/tables//readings/spread",
        ):
            self.assertIn(self.client.get(address).status_code, (404, 405, 422), address)
        for body in ("", "{", "[]", '{"text": 5}', '{"text": ""}', "null"):
            response = self.client.post(f"/api/studies/{self.study.pk}/pastes", body, content_type="application/json")
            self.assertIn(response.status_code, (400, 422), body)
        self.assertEqual(Table.objects.count(), 1)

    def test_no_text_that_cannot_be_stored_reaches_the_database(self):
        for address, body in (
            ("studies", {"title": "a\x00"}),
            ("studies", {"title": "a\ud800"}),
            (
                "plates/scenes",
                {"sources": [{"table": str(self.table.pk), "kind": "cumulative", "variable": "\udfff"}]},
            ),
            ("session/sign-up", {"name": "a\x00", "password": "x" * 12}),
        ):
            response = self.client.post(f"/api/{address}", body, content_type="application/json")
            self.assert_problem(response, 422, "invalid-request")

    def test_names_are_data(self):
        name = "<script>alert(1)</script> ' \" \u202e"
        made = self.client.post("/api/studies", {"title": name}, content_type="application/json").json()
        self.assertEqual(made["title"], name.strip())
        self.assertEqual(self.client.get("/api/studies").json()[-1]["title"], name.strip())

    def test_bodies_and_headers_that_are_none(self):
        pastes, package = f"/api/studies/{self.study.pk}/pastes", f"/api/studies/{self.study.pk}/package"
        bodies = [
            b'{"text": "a\\ud800,b\\n1,2"}',
            b'{"text": "a\\u0000,b\\n1,2"}',
            b"\xff{}",
            b"{}{}",
            b"[" * 100_000,
        ]
        for body in bodies:
            sent = self.client.post(pastes, body, content_type="application/json")
            self.assertIn(sent.status_code, (400, 422), sent.content)
            self.assertEqual(sent["Content-Type"], "application/problem+json")
        half = json.dumps({"pictures": {str(self.table.pk): "<svg>\ud800</svg>"}})
        self.assert_problem(self.client.post(package, half, content_type="application/json"), 422, "invalid-request")
        for view in ("v:" + "9" * 5_000, "v:\u00b2", ":", "v:-1"):
            asked = self.client.get(self.address("spread"), {"variable": "mass"}, headers={"X-Heron-View": view})
            self.assertEqual(asked.status_code, 200, asked.content)
        question = {"headers": {LONG_QUESTION: "1"}, "content_type": "text/plain"}
        asked = self.client.post(self.address("spread"), "variable=mass&level=\u00e9\u2013".encode(), **question)
        self.assert_problem(asked, 422, "invalid-request")
        asked = self.client.post(self.address("spread"), "variable=mass&more=\u00e9".encode() + b"\xff", **question)
        self.assertEqual(asked.status_code, 200)

    def test_files_whose_names_or_titles_are_none(self):
        address = f"/api/studies/{self.study.pk}/uploads"
        with self.assertRaises(Refusal):
            services.keep_file("a\x00.csv", [b"a,b\n1,2\n"])
        described = {"resources": [{"path": "a.csv", "title": "t" * 1_000_000}, {"path": "b.csv"}]}
        package = zipped(
            {"datapackage.json": json.dumps(described).encode(), "a.csv": b"a\n1\n2\n", "b.csv": b"b\n1\n"}
        )
        preview = self.client.post(address, {"file": as_file(package, "p.zip")}).json()
        opened = self.client.post(f"/api/uploads/{preview['upload_id']}/open")
        self.assertEqual(opened.status_code, 201, opened.content)
        for mark in ([], "x", {"study": 5}, {"study": "a.csv", "ledger": "a.csv"}):
            described = {"resources": [{"path": "a.csv"}], "velvet-heron": mark}
            odd = zipped({"datapackage.json": json.dumps(described).encode(), "a.csv": b"a\n1\n2\n"})
            preview = self.client.post(address, {"file": as_file(odd, "p.zip")}).json()
            opened = self.client.post(f"/api/uploads/{preview['upload_id']}/open")
            self.assertIn(opened.status_code, (201, 422), opened.content)

    def test_what_nobody_foresaw_is_a_problem_with_a_number_that_stands_in_the_log(self):
        for error, where in ((ZeroDivisionError("odd"), "studies"), (KeyError("odd"), "study")):
            with (
                patch.object(selectors, where, side_effect=error),
                self.assertLogs("server.problems", "ERROR") as logged,
            ):
                address = "/api/studies" if where == "studies" else f"/api/studies/{self.study.pk}/classes"
                said = self.assert_problem(self.client.get(address), 500, "unexpected")
            number = re.search("number ([0-9a-f]{8})", said["problem"])[1]
            self.assertIn(number, logged.output[0])
            self.assertIn(type(error).__name__, logged.output[0])

    def test_a_database_that_is_away_is_said_to_be(self):
        for where in ("server.studies.selectors.studies", "server.limits.UploadLimit.__call__"):
            with patch(where, side_effect=OperationalError("gone")), self.assertLogs("server.problems", "WARNING"):
                answer = self.client.get("/api/studies")
            self.assert_problem(answer, 503, "away")
            self.assertEqual(answer["Retry-After"], "5")

    def test_a_disk_that_is_nearly_full_takes_nothing_more_and_is_read_on(self):
        bring = f"/api/studies/{self.study.pk}/uploads"
        upload = self.client.post(bring, {"file": as_file(SMALL, "x.csv")}).json()["upload_id"]
        with override_settings(DATABASE_DISK="/", RESERVE_BYTES=10**18):
            refused = self.client.post(bring, {"file": as_file(SMALL, "y.csv")})
            self.assert_problem(refused, 503, "disk-full")
            self.assertEqual(refused["Retry-After"], "30")
            job = self.act(f"uploads/{upload}/store", {"name": "x", "choices": {}}).json()
            self.assertEqual((job["state"], "nearly full" in job["problem"]), ("failed", True))
            told = {"variables": ["mass"], "changes": {"label": "x"}, "revision": self.revision()}
            self.assert_problem(self.act(f"tables/{self.table.pk}/ledger/describe", told), 503, "disk-full")
            self.assertEqual(self.client.get(self.address("spread"), {"variable": "mass"}).status_code, 200)
            self.assertEqual(self.client.delete(f"/api/tables/{self.table.pk}").status_code, 204)
        full = OperationalError("no space")
        full.__cause__ = DiskFull()
        for error in (full, OSError(errno.ENOSPC, "no space")):
            with patch.object(selectors, "studies", side_effect=error), self.assertLogs("server.problems", "ERROR"):
                self.assert_problem(self.client.get("/api/studies"), 503, "disk-full")

    def test_no_way_out_leaves_a_formula(self):
        evil = "=1+1"
        self.describe("mass", label=evil, unit="@x", missing_codes=["n/r"])
        self.describe("tray", label="+cmd", level_labels={"a": evil, "b": "-2+3"})
        table = str(self.table.pk)
        source = {"table": table, "kind": "groups", "variable": "mass", "by": "tray"}
        document = {"style": styles.ON_SCREEN, "panels": [{"source": source}]}
        texts = [self.act("plates/data", {"document": document}).content.decode()]
        file = f"/api/tables/{table}/file?form=csv&marked="
        texts += [self.client.get(f"{file}{marked}").content.decode() for marked in (0, 1)]
        texts += [
            self.client.get(self.address("numbers.csv"), {"variable": variable}).content.decode()
            for variable in ("mass", "tray", "when")
        ]
        package = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        with zipfile.ZipFile(io.BytesIO(b"".join(package.streaming_content))) as archive:
            texts += [archive.read(name).decode() for name in archive.namelist() if name.startswith("data/")]
        for text in texts:
            self.assertIn("'" if text is not texts[5] else "count", text)
            for row in csv.reader(io.StringIO(text)):
                for cell in row:
                    self.assertFalse(re.match(r"[=+@]|-[^\d.]|-\d+[^\d.e]", cell), cell)

    def test_an_address_leads_nowhere_else(self):
        source = {"table": str(self.table.pk), "kind": "counts", "variable": "tray"}
        for address in (
            "https://elsewhere.example",
            "//elsewhere.example/x",
            "javascript:alert(1)",
            "/api/studies",
            f"/tables/{self.table.pk}/../../x",
            f"/tables/{self.table.pk}/spread\\x",
        ):
            document = {"style": styles.ON_SCREEN, "panels": [{"source": source, "address": address}]}
            kept = self.act(f"studies/{self.study.pk}/plates", {"name": "x", "document": document})
            self.assert_problem(kept, 422, "invalid-request")
