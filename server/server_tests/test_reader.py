"""Files are opened apart: what comes back is what the core reads, and what goes wrong stays with the file."""

import os
import signal
import subprocess
import sys
import time
from contextlib import suppress
from pathlib import Path
from unittest import TestCase
from unittest.mock import patch

import numpy as np
from django.test import override_settings
from heron import intake, writing
from heron.errors import HeronError

from server import reader
from server.reader import asking, bounds
from server.server_tests.cases import SMALL, StudyCase, as_file
from server.server_tests.hostile_files import files
from server.studies import services
from server.studies.models import Job, Upload
from server.studies.schemas import preview_out

ODD = "mass (g);when;tray;limit\n1,5;2026-01-02;a;<0,5\nn/a;2026-01-03;;2\n2,25;2026-02-03;A;3\n"
WHILE_IT_RUNS = """
import os, socket
from server.reader import bounds, standby
bounds.confine(standby._all_taken())
for forbidden in (socket.socket, lambda: open("/etc/hostname"), lambda: os.popen("true"), lambda: bytearray(2 * 10**9)):
    try:
        forbidden()
        print("done")
    except (OSError, MemoryError) as error:
        print(type(error).__name__)
"""


def children(of: int) -> list[int]:
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        with suppress(OSError):  # one that ended just now
            if int(stat.read_text().rpartition(")")[2].split()[1]) == of:
                found.append(int(stat.parent.name))
    return found


class Reader(TestCase):
    def assert_same(self, one: intake.Intake, other: intake.Intake) -> None:
        for name in ("found", "problems", "n", "n_missing"):
            self.assertEqual(getattr(one, name), getattr(other, name))
        for mine, theirs in zip([one.table, *one.beside], [other.table, *other.beside], strict=True):
            self.assertEqual((mine.name, mine.n_rows, [*mine]), (theirs.name, theirs.n_rows, [*theirs]))
            for column, same in zip(mine.columns.values(), theirs.columns.values(), strict=True):
                for name in vars(same).keys() - {"whole_days"}:
                    np.testing.assert_equal(getattr(column, name), getattr(same, name), name)

    def test_what_comes_back_is_what_the_core_reads(self):
        table = intake.read(SMALL.encode(), "small.csv").table
        made = {f"small.{form}": writing.write(table, form) for form in writing.FORMATS}
        made |= {"odd.csv": ODD.encode("latin-1"), "one.csv": b"a\n1\n", "wide.csv": ODD.encode("utf-16")}
        for name, data in made.items():
            with self.subTest(name):
                choices = {"below_limits": ["limit"]} if name == "odd.csv" else {}
                apart = reader.read([data[:10], data[10:]], name, choices)
                self.assert_same(apart, intake.read(data, name, **choices))

    def test_a_file_that_takes_too_much_memory_or_time_or_breaks_what_opens_it_is_told_so(self):
        cells = b"[" + b'{"a": "' + b"x" * 400_000_000 + b'"}]'
        with self.assertRaises(HeronError) as raised:
            reader.read([cells], "a.json", {})
        self.assertIn("1.5 GB", raised.exception.problem)
        for status, words in ((24, "60 s"), (11, "broke off"), (0, "broke off")):
            self.assertIn(words, bounds.ended(status).problem)

    def test_nothing_is_opened_beside_the_file(self):
        said = subprocess.run([sys.executable, "-c", WHILE_IT_RUNS], capture_output=True, text=True, check=False)
        self.assertEqual(said.stdout.split(), ["OSError", "OSError", "OSError", "MemoryError"], said.stderr)

    def killed(self, standing: int, *, guard: bool) -> intake.Intake:
        """What is read while the process that reads is killed once, or the guard beside it."""
        done = []

        def kill(share: float) -> None:
            guards = children(standing)
            workers = children(guards[0]) if guards else []
            if workers and not done:
                os.kill(guards[0] if guard else workers[0], signal.SIGKILL)
                done.append(share)

        try:
            return reader.read([b"a\n", b"1234,\n" * 8_000_000], "a.csv", {}, on_progress=kill)
        finally:
            self.assertEqual(len(done), 1)

    def test_it_dies_alone_and_another_stands_by(self):
        reader.warm()
        standing = asking._standing_by[0]
        self.assertNotIn("HERON", Path(f"/proc/{standing.pid}/environ").read_text())
        with self.assertRaises(HeronError) as raised:
            self.killed(standing.pid, guard=False)
        self.assertEqual(raised.exception.code, "broke-off")
        self.assertEqual(self.killed(standing.pid, guard=True).n, 8_000_000)  # nothing says that it was the file
        standing.kill()
        standing.wait()
        self.assertEqual(reader.read([b"a\n1\n"], "a.csv", {}).n, 1)

    def test_who_stops_waiting_ends_it(self):
        reader.warm()
        standing = asking._standing_by[0].pid

        class Enough(Exception):
            pass

        def stop(share):
            if children(standing):
                raise Enough

        with self.assertRaises(Enough):
            reader.read([SMALL.encode() * 20_000], "a.csv", {}, on_progress=stop)
        ends = time.monotonic() + 20
        while children(standing) and time.monotonic() < ends:
            time.sleep(0.02)
        self.assertEqual(children(standing), [])


class Hostile(TestCase):
    def test_no_hostile_file_leaves_without_words_or_takes_more_than_it_may(self):
        told = {}
        with patch.object(asking.logger, "info", lambda words, name, said: told.update(said)):
            for name, make in files():
                with self.subTest(name):
                    data = make()
                    for way in self.ways(name, data):
                        try:
                            way()
                        except HeronError as error:
                            self.assertNotIn(error.code, ("unforeseen", "broke-off"), error)
                            self.assertRegex(error.problem, r"^\S.*[^.]\.$")
                    self.assertLess(told["memory"], bounds.MEMORY)
                    self.assertLess(told["seconds"], bounds.PROCESSOR_SECONDS)

    def ways(self, name, data):
        yield lambda: reader.read([data], name, {})
        if name.endswith(".zip"):
            yield lambda: reader.tables_of([data], name)
            yield lambda: reader.unpacked([data], name)


class LookedAtLater(StudyCase):
    def bring(self, data: bytes):
        with override_settings(PREVIEW_SECONDS=0.0), self.captureOnCommitCallbacks():
            sent = self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(data, "a.csv")})
        self.assertEqual(sent.status_code, 202, sent.content)
        return Job.objects.get(pk=sent.json()["id"])

    def test_a_file_that_takes_longer_is_looked_at_by_a_job(self):
        job = self.bring(SMALL.encode())
        self.assertEqual(self.client.get(f"/api/jobs/{job.pk}").json()["preview"], None)
        services.run_looking(job, self.shown)
        done = self.client.get(f"/api/jobs/{job.pk}").json()
        self.assertEqual((done["state"], done["preview"]["n_rows"]), ("done", 30))
        now = self.act(f"uploads/{done['preview']['upload_id']}/preview", {}).json()
        self.assertEqual(done["preview"], now)

    def test_one_that_cannot_be_read_is_not_kept_and_one_that_is_stopped_says_so(self):
        job = self.bring(b"a,b\n\x00,1\n")
        services.run_looking(job, self.shown)
        self.assertEqual((job.state, Upload.objects.count()), ("failed", 0))
        self.assertIn("NUL", self.client.get(f"/api/jobs/{job.pk}").json()["problem"])
        job = self.bring(SMALL.encode())
        self.client.post(f"/api/jobs/{job.pk}/stop")
        services.run_looking(job, self.shown)
        job.refresh_from_db()
        self.assertEqual((job.state, job.preview), ("stopped", None))

    def shown(self, looked):
        return preview_out(looked, {}).model_dump(mode="json")
