"""Tables too long to be held: looked at in parts, by threads or a cluster, with the same answers."""

import json
import os
import shutil
import socket
import socketserver
import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from io import BytesIO
from pathlib import Path
from threading import Thread
from typing import Any
from unittest import mock
from urllib.parse import urlencode

import numpy as np
import pyarrow.parquet as pq
from django.conf import settings
from django.db import connection
from django.test import TransactionTestCase, override_settings

from server.caching import forget_everything
from server.ledger import making
from server.ledger.tasks import make_table
from server.server_tests.cases import person, signed_in, unpacked
from server.studies import batches, cluster, parts
from server.studies.models import Chunk, Job, PartRecord, Table

ROOT = Path(__file__).resolve().parents[2]
N = 40_000
# A table of three parts, and from how many rows one is looked at in parts.
FAR_MORE, FAR_LESS = 1_100_000, 1_000_000


def wish(n: int) -> dict[str, Any]:
    """A table of so many rows in two groups."""
    return {
        "how": "simulated",
        "variable": {"name": "size", "distribution": "normal", "parameters": {"mean": 50, "SD": 10}},
        "groups": [
            {"name": "north", "n": n // 4, "parameters": {}},
            {"name": "south", "n": n - n // 4, "parameters": {"mean": 53}},
        ],
        "second": {"name": "mass", "distribution": "log-normal", "parameters": {}},
        "correlation": 0.6,
        "decimals": 3,
        "seed": 5,
    }


class Asking(TransactionTestCase):
    def setUp(self) -> None:
        self.addCleanup(forget_everything)
        self.user = person("ada")
        self.client = signed_in(self.user)
        self.study = self.client.post("/api/studies", {"title": "S"}, "application/json").json()["id"]

    def made(self, n: int = N) -> str:
        asked = {"name": "Many", "options": wish(n)}
        answer = self.client.post(f"/api/studies/{self.study}/made", asked, "application/json")
        self.assertEqual(answer.status_code, 202, answer.content)
        make_table(answer.json()["id"])
        job = self.client.get(f"/api/jobs/{answer.json()['id']}").json()
        self.assertEqual((job["state"], job["progress"]), ("done", 1.0), job)
        return str(job["table_id"])

    def ask(self, table: str, question: str) -> Any:
        answer = self.client.get(f"/api/tables/{table}{question and '/'}{question}")
        self.assertEqual(answer.status_code, 200, answer.content[:400])
        return unpacked(answer.content) if answer["Content-Type"] == "application/octet-stream" else answer.json()

    def answers(self, table: str) -> list[Any]:
        """What is asked of a table first, without what hangs on which rows were drawn."""
        spread = self.ask(table, "readings/spread?variable=size")
        groups = self.ask(table, "readings/compare?variable=mass&by=group&centre=median&bars=percentiles")
        related = self.ask(table, "readings/correlations?x=size&y=mass")["groups"][0]["found"]
        pair = {
            "kind": "pair",
            "table": table,
            "x": "size",
            "y": "mass",
            "shown": "hexagons",
            "y_axis": "log",
            "lines": [],
        }
        figure = self.ask(table, f"figure?{urlencode({'panels': json.dumps([{'source': pair}])})}")
        tiles = next(layer for layer in figure["scenes"][0]["layers"] if layer["form"] == "hexagons")
        self.assertNotIn("drawn at random", figure["caption"])
        told = related["pearson"], related["n_pairs"], tiles["value"], figure["caption"]
        return [spread["summary"], spread["classes"], spread["words"], groups["groups"], *told]

    def anew(self, table: str) -> None:
        """Forget all that was found in the table."""
        PartRecord.objects.filter(table_id=table).exclude(key__startswith="sample").delete()
        forget_everything()


class Long(Asking):
    """With parts of 4,000 rows, and tables of more than 10,000 rows long."""

    def setUp(self) -> None:
        small = (
            mock.patch("server.studies.store.ROWS_PER_CHUNK", 1_000),
            mock.patch("server.studies.store.CHUNKS_PER_PART", 4),
            mock.patch("heron.simulation.MOST_AT_ONCE", 10_000),
            mock.patch("heron.thinning.MOST_SAMPLED", 2_000),
            override_settings(LARGE_ROWS=10_000),
        )
        for changed in small:
            changed.__enter__()
            self.addCleanup(changed.__exit__, None, None, None)
        super().setUp()

    def test_a_long_table_gives_the_answers_of_the_same_table_in_memory(self) -> None:
        table = self.made()
        self.assertTrue(self.ask(table, "")["is_long"])
        long = self.answers(table)
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            self.assertFalse(self.ask(table, "")["is_long"])
            held = self.answers(table)
        same(self, held, long)

    def test_what_was_found_in_a_part_is_kept_until_a_decision_touches_its_rows(self) -> None:
        table = self.made()
        self.answers(table)
        asked: list[int] = []
        real = parts.packed_records

        def counted(state: Any, task: Any) -> Any:
            asked.append(task[0])
            return real(state, task)

        with mock.patch("server.studies.parts.packed_records", counted):
            forget_everything()
            first = self.answers(table)
            self.assertEqual(asked, [])
            said = {"kind": "set-aside", "rows": [4_100, 4_101], "variable": "size", "reason": "odd", "revision": 1}
            answer = self.client.post(f"/api/tables/{table}/ledger", said, "application/json")
            self.assertEqual(answer.status_code, 200, answer.content)
            after = self.answers(table)
        self.assertEqual(after[0]["n"], first[0]["n"] - 2)
        self.assertLess(asked.count(1), 12)
        # What stands on other quartiles is looked for anew; what stands on the rows alone is not.
        self.assertGreater(PartRecord.objects.filter(table_id=table).count(), 40)
        with mock.patch("server.studies.parts.MOST_KEPT", 0):
            self.ask(table, "readings/spread?variable=size&level=0.9")
        self.assertFalse(PartRecord.objects.filter(table_id=table, lasting=False).exists())

    def test_rows_are_read_and_corrected_where_they_stand(self) -> None:
        table = self.made()
        page = self.ask(table, "grid?start=7999&count=3")
        self.assertEqual((page["n"], [row["row"] for row in page["rows"]]), (N, [8_000, 8_001, 8_002]))
        audit = self.ask(table, "audit")
        self.assertEqual((audit["n_rows"], audit["n_complete"], audit["patterns"]), (N, N, [{"symbols": [], "n": N}]))
        selected = self.ask(table, "rows?numbers=8000,8002")
        self.assertEqual([row["cells"] for row in selected], [page["rows"][i]["cells"] for i in (0, 2)])
        cell = {"row": 8_001, "variable": "size", "text": "51.125"}
        said = {"cells": [cell], "reason": "misread", "revision": 1}
        answer = self.client.post(f"/api/tables/{table}/ledger/correct", said, "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        place = [variable["symbol"] for variable in self.ask(table, "")["variables"]].index("size")
        self.assertEqual(self.ask(table, "grid?start=8000&count=1")["rows"][0]["cells"][place], "51.125")

    def test_rows_are_listed_in_any_order_under_any_condition(self) -> None:
        table = self.made()
        asked = (
            "grid?sort=size&descending=true&start=17000&count=9&find=31000",
            "grid?variable=size&low=52&high=53&count=8",
            "grid?variable=group&level=south&sort=mass&start=29990&count=100", "grid?sort=group&start=9995&count=9",
            "grid/sought?text=south&after=100", "grid/sought?text=north&after=3&sort=mass",
        )  # fmt: skip
        long = [self.ask(table, question) for question in asked]
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            self.assertEqual([self.ask(table, question) for question in asked], long)
        self.assertEqual((len(long[0]["rows"]), long[2]["n"]), (9, 30_000))

    def test_a_file_of_all_rows_is_written_part_by_part(self) -> None:
        table = self.made()
        said = {"kind": "set-aside", "rows": [9, 20_000], "variable": "", "reason": "odd", "revision": 1}
        self.client.post(f"/api/tables/{table}/ledger", said, "application/json")
        asked = [f"file?form={form}&marked={marked}" for form in ("csv", "json") for marked in ("true", "false")]
        long = [self.client.get(f"/api/tables/{table}/{question}").getvalue() for question in asked]
        parquet = self.client.get(f"/api/tables/{table}/file?form=parquet").getvalue()
        refused = self.client.get(f"/api/tables/{table}/file?form=xlsx")
        self.assertEqual((refused.status_code, refused.json()["code"]), (422, "too-many-rows"))
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            held = [self.client.get(f"/api/tables/{table}/{question}").content for question in asked]
            self.assertEqual(held, long)
            again = self.client.get(f"/api/tables/{table}/file?form=parquet").content
        self.assertTrue(pq.read_table(BytesIO(parquet)).equals(pq.read_table(BytesIO(again))))
        self.assertEqual(long[0].count(b"\n"), N + 1)

    def test_the_rows_behind_a_mark_are_listed_as_long_as_they_are_few(self) -> None:
        table = self.made()
        asked = ("variable=size&low=80&high=90&closed=left", "variable=group&level=north", "variable=size&missing=true")
        long = [self.ask(table, f"readings/rows?{question}") for question in asked]
        with mock.patch("heron.chunked.rows.MOST_LISTED", 5):
            forget_everything()
            answer = self.client.get(f"/api/tables/{table}/readings/rows?{asked[1]}")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "too-many-rows"))
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            held = [self.ask(table, f"readings/rows?{question}") for question in asked]
        for one, other in zip(held, long, strict=True):
            np.testing.assert_array_equal(one["rows"], other["rows"])
        self.assertGreater(len(long[0]["rows"]), 20)

    def test_rules_flag_the_rows_of_a_long_table_and_these_are_set_aside(self) -> None:
        table = self.made()
        rules = "&rules=fences&rules=robust-z&rules=z&rules=skew-fences"
        asked = [f"readings/screen?variable={of}{rules}" for of in ("size", "mass&by=group", "size&by=group")]
        long = [self.ask(table, question) for question in asked]
        screened = {"kind": "rules", "table": table, "variable": "size", "by": "group", "rules": ["z", "fences"]}
        figure = self.ask(table, f"figure?{urlencode({'panels': json.dumps([{'source': screened}])})}")
        self.assertIn("rows drawn at random", figure["caption"])
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            held = [self.ask(table, question) for question in asked]
            same(self, held, long)
        for one, other in zip(held, long, strict=True):
            self.assertEqual([row["row"] for row in one["rows"]], [row["row"] for row in other["rows"]])
        forget_everything()
        tests = self.ask(table, "readings/screen?variable=size&rules=grubbs")
        self.assertIn("tests the values of a sample together", tests["rules"][0]["why"])
        flagged = long[0]["flagged"].tolist()
        self.assertGreater(len(flagged), 100)
        weigh = {"variable": "size", "by": "group", "rows": flagged}
        said = {"kind": "set-aside", "rows": flagged, "variable": "size", "reason": "beyond", "revision": 1}
        weighed = self.client.post(f"/api/tables/{table}/readings/weigh", weigh, "application/json").json()
        answer = self.client.post(f"/api/tables/{table}/ledger", said, "application/json")
        self.assertEqual(answer.status_code, 200, answer.content)
        after = [self.ask(table, "readings/spread?variable=size")["summary"], self.ask(table, asked[0])]
        self.assertEqual(after[0]["n"], N - len(flagged))
        moved = {change["name"]: change["without"] for change in weighed["changes"] if not change["group"]}
        self.assertEqual((moved["mean"], moved["iqr"]), (after[0]["mean"], after[0]["iqr"]))
        self.assertIn("set aside: beyond (ledger 1)", " ".join(after[1]["report"]))
        with override_settings(LARGE_ROWS=10**9):
            forget_everything()
            held = self.client.post(f"/api/tables/{table}/readings/weigh", weigh, "application/json").json()
            same(self, [self.ask(table, asked[0])], after[1:])
        self.assertEqual(len(held["changes"]), len(weighed["changes"]))
        with mock.patch("heron.readings.outliers.MOST_LISTED", 350):
            forget_everything()
            few = self.ask(table, asked[1])
        self.assertGreater(long[1]["n_flagged"], 350)
        self.assertEqual((few["n_flagged"], len(few["flagged"])), (long[1]["n_flagged"], 0))
        self.assertEqual([row["row"] for row in few["rows"]], [row["row"] for row in long[1]["rows"]])

    def test_a_picture_is_first_that_of_a_sample_with_the_rows_of_the_table(self) -> None:
        table = self.made()
        source = {"kind": "pair", "table": table, "x": "size", "y": "mass", "lines": []}
        asked = {"panels": json.dumps([{"source": source}]), "sketch": "true"}
        sketch = self.ask(table, f"figure?{urlencode(asked)}")
        self.assertIn("Told from 2000 rows drawn at random", sketch["caption"])
        points = next(layer for layer in sketch["scenes"][0]["layers"] if layer["form"] == "points")
        at = int(np.argmax(points["rows"]))
        row = int(points["rows"][at])
        self.assertGreater(row, N - 200)
        cells = self.ask(table, f"grid?start={row - 1}&count=1")["rows"][0]["cells"]
        self.assertIn(points["x"][at], [float(cell) for cell in cells[1:]])

    def test_what_needs_all_rows_at_once_is_refused_in_words(self) -> None:
        table = self.made()
        answer = self.client.get(f"/api/tables/{table}/readings/order?variable=size&along=mass")
        self.assertEqual((answer.status_code, answer.json()["code"]), (422, "all-rows-at-once"))

    def test_relations_far_rows_and_orders_are_of_all_rows_and_of_the_same_ones(self) -> None:
        table = self.made()
        asked = (
            "readings/relation?response=mass&predictors=size&predictors=group",
            "readings/together?variables=size&variables=mass",
            "readings/order?variable=size",
        )
        long = [self.ask(table, each) for each in asked]
        with self.settings(LARGE_ROWS=10**9):
            forget_everything()
            whole = [self.ask(table, each) for each in asked]
        for one, other in zip(long, whole, strict=True):
            n = [told["found"]["n"] if "found" in told else told["n"] for told in (one, other)]
            self.assertEqual(n, [N, N])
        for one, other in zip(long[0]["coefficients"], whole[0]["coefficients"], strict=True):
            self.assertAlmostEqual(one["value"] / other["value"], 1, places=10)
            self.assertAlmostEqual(one["robust_se"] / other["robust_se"], 1, places=10)
        self.assertEqual(long[0]["n_beyond"], whole[0]["n_beyond"])
        rows = [[row["row"] for row in told[0]["rows"]] for told in (long, whole)]
        self.assertEqual(*rows)
        # The middle is found in a sample, which is another one here.
        self.assertEqual(long[1]["rows"][0]["values"], whole[1]["rows"][0]["values"])
        self.assertAlmostEqual(long[1]["n_flagged"] / whole[1]["n_flagged"], 1, delta=0.3)
        self.assertEqual(long[2]["found"]["longest"], whole[2]["found"]["longest"])

    def test_work_that_was_broken_off_goes_on_behind_the_last_part(self) -> None:
        job = Job.objects.create(
            study_id=self.study, author=self.user, name="Many", choices=wish(N), purpose=Job.Purpose.MAKE
        )
        stored: list[int] = []
        died: list[int] = []
        real = batches._store_part

        def dying(table: Table, number: int, made: Any) -> None:
            if number == 3 and not died:
                died.append(number)
                raise SystemExit
            stored.append(number)
            real(table, number, made)

        with mock.patch("server.studies.batches._store_part", dying):
            with self.assertRaises(SystemExit):
                making.run_making(job)
            self.assertEqual(self.client.get("/api/studies").json()[0]["tables"], [])
            Job.objects.filter(pk=job.pk).update(state="waiting")
            making.run_making(job)
        self.assertEqual(stored, list(range(N // 4_000)))
        table = Table.objects.get(study_id=self.study)
        self.assertEqual(Chunk.objects.filter(variable__table=table).count(), 3 * N // 1_000)

    def test_a_file_on_this_server_is_read_in_place(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        rng = np.random.default_rng(3)
        lines = [f"{mass:.2f},{'ab'[i % 2] if i < N - 1 else 'late'}" for i, mass in enumerate(rng.normal(9, 2, N))]
        (Path(folder.name) / "beds.csv").write_text("mass (g),bed\n" + "\n".join(lines) + "\n")
        (Path(folder.name) / ".hidden").write_text("x")
        inbox = f"/api/studies/{self.study}/inbox"
        self.assertEqual(self.client.get(inbox).json(), [])
        with override_settings(INBOX=folder.name):
            self.assertEqual([file["name"] for file in self.client.get(inbox).json()], ["beds.csv"])
            for name in ("../beds.csv", "/etc/passwd", ".hidden", "other.csv"):
                answer = self.client.post(inbox, {"file": name, "name": "X"}, "application/json")
                self.assertEqual(answer.status_code, 404, name)
            answer = self.client.post(inbox, {"file": "beds.csv", "name": "Beds"}, "application/json")
            self.assertEqual(answer.status_code, 202, answer.content)
            make_table(answer.json()["id"])
        job = self.client.get(f"/api/jobs/{answer.json()['id']}").json()
        self.assertEqual(job["state"], "done", job)
        told = self.ask(job["table_id"], "")
        self.assertEqual((told["n_rows"], told["is_long"]), (N, True))
        self.assertEqual([variable["unit"] for variable in told["variables"]], ["g", ""])
        counts = self.ask(job["table_id"], "readings/counts?variable=bed")["counts"]["rows"]
        self.assertEqual(
            [(row["value"], row["count"]) for row in counts], [("a", N // 2), ("b", N // 2 - 1), ("late", 1)]
        )


@override_settings(LARGE_ROWS=FAR_LESS)
class OnACluster(Asking):
    def test_workers_of_a_cluster_answer_alike_also_when_one_dies(self) -> None:
        table = self.made(FAR_MORE)
        expected = self.answers(table)
        scheduler, address = self.process("--schedule", "tcp://127.0.0.1:0")
        workers = [self.process("--scheduler", address, "--threads", "1")[0] for _ in range(2)]
        with override_settings(CLUSTER=address):
            self.anew(table)
            dying = Thread(target=lambda: (time.sleep(0.3), workers[0].kill()))
            dying.start()
            same(self, expected, self.answers(table))
            dying.join()
            workers[1].terminate()
            scheduler.terminate()
            scheduler.wait(30)
            self.anew(table)
            with self.assertLogs("server.studies.parts", "WARNING") as said:
                same(self, expected, self.answers(table))
            self.assertIn("this machine works", said.output[0])
            view = {"x-heron-view": "me:1"}
            self.client.get(f"/api/tables/{table}/readings/spread?variable=size&level=0.8", headers=view)
            self.client.get(f"/api/tables/{table}/readings/classes?variable=size&width=0.7", headers=view)
            progress = self.client.get("/api/readings/progress?view=me").json()
            self.assertIn("this one works alone", progress["note"])
            self.process("--schedule", address)
            self.process("--scheduler", address, "--threads", "1")
            self.anew(table)
            patient = mock.patch.multiple("server.studies.cluster", _LEFT_ALONE=0, _PATIENCE=60)
            with patient, self.assertNoLogs("server.studies.parts"):
                same(self, expected, self.answers(table))

    def test_a_worker_on_another_host_answers_alike(self) -> None:
        here, there = self.another_host()
        table = self.made(FAR_MORE)
        expected = self.answers(table)
        _, address = self.process("--schedule", f"tcp://{here}:0")
        database = {"HERON_DB_HOST": here, "HERON_DB_PORT": str(self.database_on(here))}
        self.process("--scheduler", address, "--threads", "1", host=there, **database)
        patient = mock.patch("server.studies.cluster._PATIENCE", 60)
        with override_settings(CLUSTER=address), patient, self.assertNoLogs("server.studies.parts"):
            self.anew(table)
            same(self, expected, self.answers(table))
            (worker,) = cluster._client(address).nthreads()
        self.assertNotIn(here, worker)

    def another_host(self) -> tuple[str, str]:
        """The address of this machine as a network namespace sees it that stands for another, and that one's name."""
        number = os.getpid() % 60_000
        name, ends = f"heron{number}", (f"ha{number}", f"hb{number}")
        here, there = (f"10.213.{number // 256}.{end}" for end in (1, 2))
        steps = (
            f"netns add {name}", f"link add {ends[0]} type veth peer name {ends[1]} netns {name}",
            f"addr add {here}/24 dev {ends[0]}", f"link set {ends[0]} up",
            f"-n {name} addr add {there}/24 dev {ends[1]}", f"-n {name} link set {ends[1]} up",
            f"-n {name} link set lo up",
        )  # fmt: skip
        for step in steps:
            if not shutil.which("ip") or subprocess.run(["ip", *step.split()], capture_output=True).returncode:
                self.skipTest("No network namespace can be made here to stand for another host.")
            if step is steps[0]:
                self.addCleanup(subprocess.run, ["ip", "netns", "del", name], check=True)
        return here, name

    def database_on(self, address: str) -> int:
        """A port of that address by which the database is reached, which listens on loopback alone."""
        database = connection.settings_dict

        class Line(socketserver.BaseRequestHandler):
            def handle(self) -> None:
                with socket.create_connection((database["HOST"], int(database["PORT"]))) as far:
                    back = Thread(target=carry, args=(far, self.request))
                    back.start()
                    carry(self.request, far)
                    back.join()

        class Lines(socketserver.ThreadingTCPServer):
            daemon_threads = True

        lines = Lines((address, 0), Line)
        Thread(target=lines.serve_forever, daemon=True).start()
        self.addCleanup(lines.server_close)
        self.addCleanup(lines.shutdown)
        return int(lines.server_address[1])

    def process(self, *said: str, host: str = "", **database: str) -> tuple[subprocess.Popen[str], str]:
        """A scheduler, or a worker, and its address. host: the namespace in which it runs, "" for this machine."""
        environment = {
            **os.environ, "HERON_DB_NAME": str(connection.settings_dict["NAME"]), "HERON_SECURE": "0",
            "HERON_SECRET_KEY": settings.SECRET_KEY, "PYTHONPATH": f"{ROOT}:{ROOT / 'core'}",
            "DJANGO_SETTINGS_MODULE": "server.settings", "HERON_LARGE_ROWS": str(FAR_LESS), **database,
        }  # fmt: skip
        there = ["ip", "netns", "exec", host] if host else []
        process = subprocess.Popen(
            [*there, sys.executable, "-W", "ignore", "-m", "server.lending", *said],
            cwd=ROOT, env=environment, stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        self.addCleanup(process.stdout.close)  # type: ignore[union-attr]
        self.addCleanup(process.wait, 60)
        self.addCleanup(process.kill)
        line = process.stdout.readline()  # type: ignore[union-attr]
        self.assertTrue(line)
        return process, line.split()[-1].strip()


def carry(one: socket.socket, other: socket.socket) -> None:
    """What one end says to the other, until it has said all."""
    with suppress(OSError):
        while said := one.recv(65_536):
            other.sendall(said)
    with suppress(OSError):
        other.shutdown(socket.SHUT_WR)


def same(test: TransactionTestCase, one: Any, other: Any) -> None:
    """Every number to 12 digits."""
    if isinstance(one, dict):
        test.assertEqual(one.keys(), other.keys())
        for name in one:
            if name not in ("rows",):
                same(test, one[name], other[name])
    elif isinstance(one, list | tuple | np.ndarray):
        test.assertEqual(len(one), len(other))
        for a, b in zip(one, other, strict=True):
            same(test, a, b)
    elif isinstance(one, float) and isinstance(other, float):
        np.testing.assert_allclose(other, one, rtol=1e-12, atol=1e-13)
    else:
        test.assertEqual(one, other)
