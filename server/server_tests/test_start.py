"""./start keeps its parts running: whatever is killed comes back, and is said to."""

import os
import re
import signal
import subprocess
import time
import urllib.error
import urllib.request
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase

from server.server_tests.supervised import ROOT, a_folder_of_its_own


class Supervised(TestCase):
    def setUp(self):
        self.var, self.port, environment = a_folder_of_its_own(self)
        self.said = (self.var / "said").open("w+")
        self.addCleanup(self.said.close)
        self.start = subprocess.Popen(
            ["./start", "--port", str(self.port)], cwd=ROOT, stdout=self.said, stderr=subprocess.STDOUT,
            env={**environment, "HERON_DEMO": "off"},
        )  # fmt: skip
        self.addCleanup(self.stop)

    def stop(self) -> None:
        self.start.send_signal(signal.SIGTERM)
        self.start.wait(60)

    def soon(self, holds: Callable[[], object], what: str) -> None:
        for _ in range(1_800):
            if holds():
                return
            time.sleep(0.1)
        self.fail(f"{what}\n{(self.var / 'said').read_text()}")

    def asks(self) -> int:
        """What a question that needs the database is answered by; 0 where nobody answers."""
        request = urllib.request.Request(
            f"http://127.0.0.1:{self.port}/api/studies", headers={"Authorization": "Bearer heron_nobody"}
        )
        try:
            with urllib.request.urlopen(request, timeout=10) as answer:
                return answer.status
        except urllib.error.HTTPError as error:
            return error.code
        except (OSError, urllib.error.URLError):
            return 0

    def parts(self) -> dict[str, int]:
        """The parts that run, by what they are called with, as supervisord's children."""
        result = {}
        for folder in Path("/proc").glob("[0-9]*"):
            try:
                if f"HERON_RUN={self.var}".encode() not in (folder / "environ").read_bytes().split(b"\0"):
                    continue
                called = (folder / "cmdline").read_bytes().decode().replace("\0", " ")
                parent = re.search(r"^PPid:\s+(\d+)", (folder / "status").read_text(), re.M)
            except OSError:
                continue
            for part, mark in (("web", "server.serving"), ("jobs", "procrastinate"), ("database", "bin/postgres ")):
                if mark in called and parent:
                    result.setdefault(part, int(folder.name))
        return result

    def test_what_is_killed_comes_back_and_all_of_it_ends_together(self):
        self.soon(lambda: self.asks() == 401, "It does not start.")
        for part, words in (("web", "The web part runs again."), ("database", "The database runs again.")):
            before = self.parts()[part]
            os.kill(before, signal.SIGKILL)
            self.soon(lambda words=words: words in (self.var / "said").read_text(), f"{part} is not said to run again.")
            self.soon(lambda: self.asks() == 401, f"{part} does not come back.")
            self.assertNotEqual(self.parts()[part], before)
        self.stop()
        self.soon(lambda: not self.parts(), "Something was left running.")
