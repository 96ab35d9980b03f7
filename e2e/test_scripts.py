"""The two commands and the files they stand on."""

import json
import re
import socket
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import SimpleTestCase

ROOT = Path(__file__).parents[1]


def run(*command: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(command, cwd=ROOT, capture_output=True, text=True, timeout=60, check=False)


class Start(SimpleTestCase):
    def test_a_busy_port_is_one_clear_line(self):
        with socket.socket() as busy:
            busy.bind(("127.0.0.1", 0))
            busy.listen()
            port = str(busy.getsockname()[1])
            said = run("./start", "--port", port)
        self.assertEqual(said.returncode, 1)
        self.assertEqual(said.stderr, f"velvet heron: port {port} is busy; choose another with ./start --port N\n")

    def test_a_wrong_option_is_one_clear_line(self):
        for options in (["--prot", "1"], ["--port"], ["--port", "eight"]):
            said = run("./start", *options)
            self.assertEqual((said.returncode, said.stderr.count("\n")), (1, 1), said.stderr)
            self.assertTrue(said.stderr.startswith("velvet heron: "))
        self.assertEqual(run("./check", "everything").returncode, 1)


class CountingTests(SimpleTestCase):
    def count(self, log: str) -> str:
        with tempfile.NamedTemporaryFile("w", suffix=".log") as file:
            file.write(log)
            file.flush()
            return run(sys.executable, "scripts/count_tests.py", file.name).stdout.strip()

    def test_a_run_that_found_nothing_or_broke_off_has_failed(self):
        self.assertEqual(self.count("Ran 12 tests in 3.1s\n\nOK\n"), "12 0")
        self.assertEqual(self.count("Ran 12 tests in 3.1s\n\nFAILED (failures=2, errors=1)\n"), "9 3")
        self.assertEqual(self.count("Ran 0 tests in 0.0s\n\nOK\n"), "0 1")
        self.assertEqual(self.count("Traceback …\nImportError: no such thing\n"), "0 1")


class FilesThatMakeAnInstall(SimpleTestCase):
    def test_no_lock_file_names_where_packages_come_from(self):
        lock = (ROOT / "web/package-lock.json").read_text()
        self.assertNotIn('"resolved"', lock)
        self.assertNotRegex(lock, r"https?://[^\"]*\.tgz")
        platforms = [name for name in json.loads(lock)["packages"] if "/@biomejs/cli-" in name]
        self.assertGreater(len(platforms), 4)  # it installs on other machines than the one that wrote it
        for file in (ROOT / "requirements").glob("*.txt"):
            lines = [line for line in file.read_text().splitlines() if line and not line.lstrip().startswith("#")]
            self.assertTrue(all(re.match(r"^[\w.\[\]-]+==[\w.]+( ;.*)?$", line) for line in lines), file.name)

    def test_nothing_comes_from_elsewhere_at_run_time(self):
        built = [*(ROOT / "web/dist").rglob("*.css"), ROOT / "web/dist/index.html"]
        for file in built:
            self.assertNotRegex(file.read_text(), r"(src|href|url\()\s*=?\s*[\"']?https?://", file.name)
