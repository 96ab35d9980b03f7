"""The commands, the files they stand on, copies of the database, and the examples of docs/api.md as they stand."""

import ast
import json
import os
import re
import shutil
import socket
import subprocess
import sys
import tempfile
from importlib.metadata import distribution, packages_distributions
from pathlib import Path
from unittest import skipUnless

from django.db import connection
from django.test import LiveServerTestCase, SimpleTestCase, TransactionTestCase
from packaging.requirements import Requirement
from packaging.utils import canonicalize_name

from server.accounts import services
from server.accounts.models import User
from server.ledger.services import RowDecision, decide
from server.plates import methods
from server.plates.models import Plate
from server.server_tests.cases import person, stored
from server.studies import selectors
from server.studies.models import Study, Table
from server.studies.services import remove_table
from server.studies.snapshots import TableSnapshot

ROOT = Path(__file__).parents[2]


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

    def test_a_server_needs_no_more_than_its_own_list(self):
        """Nothing of requirements/dev.txt: neither what its code imports, nor what that needs in turn."""
        listed = {line.split("==")[0] for line in (ROOT / "requirements/base.txt").read_text().split()}
        own = {"server", "heron", "demo", *sys.stdlib_module_names}
        of_module = packages_distributions()
        for file in [*ROOT.glob("server/**/*.py"), *ROOT.glob("core/heron/**/*.py")]:
            if "server_tests" in file.parts or file.name == "development.py":
                continue
            for node in ast.walk(ast.parse(file.read_text())):
                named = [node.module or ""] if isinstance(node, ast.ImportFrom) and not node.level else []
                named += [each.name for each in node.names] if isinstance(node, ast.Import) else []
                for module in {name.split(".")[0] for name in named} - own - {""}:
                    brought = {canonicalize_name(name) for name in of_module.get(module, [module])}
                    self.assertTrue(brought & listed, f"{file} imports {module}")
        self.assertLessEqual(set(methods._PACKAGES), listed)  # whose versions a methods paragraph tells
        for name in listed:
            for needed in map(Requirement, distribution(name).requires or []):
                if needed.marker is None or needed.marker.evaluate({"extra": ""}):
                    self.assertIn(canonicalize_name(needed.name), {canonicalize_name(each) for each in listed}, name)

    def test_the_licences_of_what_is_shipped_are_shipped(self):
        shipped = (ROOT / "web/dist/licences.txt").read_text()
        for part in ("react", "dejavu-fonts-ttf", "@fontsource"):
            self.assertRegex(shipped, rf"(?m)^{part}\S* [\d.]+ \(")

    def test_nothing_comes_from_elsewhere_at_run_time(self):
        built = [*(ROOT / "web/dist").rglob("*.css"), ROOT / "web/dist/index.html"]
        for file in built:
            self.assertNotRegex(file.read_text(), r"(src|href|url\()\s*=?\s*[\"']?https?://", file.name)


class Deployment(SimpleTestCase):
    """What is written of a server: settings that exist, units that systemd takes, files that are there."""

    def test_each_setting_is_explained_and_exists(self):
        known = set(re.findall(r'"(HERON_\w+)"', (ROOT / "server/settings.py").read_text()))
        explained = set(re.findall(r"(?m)^(?:# )?(HERON_\w+)=", (ROOT / "deploy/velvet-heron.env").read_text()))
        self.assertEqual(explained, known)
        shell = "".join(
            file.read_text() for file in [ROOT / "serve", *ROOT.glob("deploy/*"), *ROOT.glob("scripts/*.sh")]
        )
        for page in ("docs/deploy.md", "docs/security.md", "docs/asvs.md"):
            for name in re.findall(r"HERON_\w+", (ROOT / page).read_text()):
                self.assertTrue(name in known or name in shell, f"{page} names {name}")

    @skipUnless(shutil.which("systemd-analyze"), "systemd is not on this machine")
    def test_systemd_takes_the_units(self):
        with tempfile.TemporaryDirectory() as folder:
            for file in ROOT.glob("deploy/velvet-heron*.*"):
                text = file.read_text().replace("/opt/velvet-heron", str(ROOT))
                (Path(folder) / file.name).write_text(text)
            units = [str(file) for file in Path(folder).iterdir() if file.suffix != ".env"]
            said = subprocess.run(
                ["systemd-analyze", "verify", *units], capture_output=True, text=True, timeout=60, check=False
            )
        self.assertEqual((said.returncode, said.stderr), (0, ""))

    def test_pages_name_tests_that_are_there(self):
        for page in ("docs/security.md", "docs/asvs.md"):
            for name in re.findall(r"`((?:e2e/|core_tests/)?test_\w+)`", (ROOT / page).read_text()):
                folder = "core" if name.startswith("core_tests") else "." if "/" in name else "server/server_tests"
                self.assertTrue((ROOT / folder / f"{name}.py").exists(), f"{page} names {name}")


class Copies(TransactionTestCase):
    """Of the test's own database, on the same server, by the two commands."""

    def run_script(self, name: str, *arguments: str) -> subprocess.CompletedProcess[str]:
        settings = connection.settings_dict
        names = ("HOST", "PORT", "NAME", "USER", "PASSWORD")
        said = {each: str(settings[each]) for each in names}
        env = {**os.environ, **{f"HERON_DB_{each}": value for each, value in said.items()}}
        return subprocess.run(
            [f"scripts/{name}.sh", *arguments],
            cwd=ROOT,
            env=env,
            capture_output=True,
            text=True,
            timeout=120,
            check=False,
        )

    def test_everything_comes_back_as_it_was_copied(self):
        user = User.objects.create_user("ada", password="a long enough password")
        table = stored(user)
        decide(user, table, RowDecision(kind="set-aside", rows=[4], variable="", reason="odd", revision=1))
        before = TableSnapshot.of(Table.objects.get()).active()["mass"]
        source = selectors.file_bytes(Table.objects.get().source)
        with tempfile.TemporaryDirectory() as folder:
            copy = Path(folder) / "copy.dump"
            made = self.run_script("backup", str(copy))
            self.assertEqual(made.returncode, 0, made.stderr)
            self.assertEqual(copy.stat().st_mode & 0o077, 0)
            self.assertIn("is there already", self.run_script("backup", str(copy)).stderr)
            remove_table(user, table)
            Study.objects.all().delete()
            User.objects.create_user("eve", password="a long enough password")
            connection.close()
            back = self.run_script("restore", str(copy))
            self.assertEqual(back.returncode, 0, back.stderr)
            broken = Path(folder) / "broken.dump"
            broken.write_bytes(copy.read_bytes()[:200])
            refused = self.run_script("restore", str(broken))
            self.assertEqual((refused.returncode, refused.stderr.count("\n")), (1, 1))
            self.assertIn("is no copy made by", refused.stderr)
        self.assertEqual(list(User.objects.values_list("username", flat=True)), ["ada"])
        self.assertTrue(User.objects.get().check_password("a long enough password"))
        table = Table.objects.get()
        entry = table.entries.get()
        self.assertEqual((entry.reason, entry.rows, table.revision), ("odd", [[4, 4]], 2))
        self.assertEqual(selectors.file_bytes(table.source), source)
        after = TableSnapshot.of(table).active()["mass"]
        self.assertEqual(
            (after.numbers.tobytes(), after.missing_counts), (before.numbers.tobytes(), before.missing_counts)
        )

    def test_what_is_missing_is_one_clear_line(self):
        for name, arguments in (
            ("backup", []),
            ("backup", ["/no/such/folder/x"]),
            ("restore", ["/no/such"]),
            ("restore", []),
        ):
            said = self.run_script(name, *arguments)
            self.assertEqual((said.returncode, said.stderr.count("\n")), (1, 1), said.stderr)
            self.assertTrue(said.stderr.startswith("velvet heron: "))


class Examples(LiveServerTestCase):
    def example(self, language: str) -> str:
        text = (ROOT / "docs" / "api.md").read_text()
        return re.findall(rf"```{language}\n(.*?)```", text, re.S)[-1]

    def run_example(self, *command: str) -> str:
        user = person("lin" if command[0] == "bash" else "kim")
        token = services.make_token(user, "example")[1]
        with tempfile.TemporaryDirectory() as folder:
            said = subprocess.run(
                command, cwd=folder, env={**os.environ, "HERON": self.live_server_url, "TOKEN": token},
                capture_output=True, text=True, timeout=60, check=False,
            )  # fmt: skip
            self.assertEqual(said.returncode, 0, said.stderr + said.stdout)
            files = sorted(path.name for path in Path(folder).iterdir())
        plate = Plate.objects.get(author=user)
        self.assertEqual((plate.name, plate.study.owner), ("Mass by bed", user))
        self.assertIn(
            "Mass (g) by bed. Points: rows, scattered sideways over 60 % of their lane.",
            said.stdout.replace("Open marks: mean; bars: one SD to each side. ", ""),
        )
        return f"{said.stdout}{files}"

    def test_the_example_for_curl_runs_as_it_stands(self):
        said = self.run_example("bash", "-euo", "pipefail", "-c", self.example("sh"))
        self.assertIn('"value": "high", "count": 3', said)
        self.assertIn("['plate-data.csv', 'plate.json', 'shells.csv', 'table.json', 'table.md']", said)

    def test_the_example_for_python_runs_as_it_stands(self):
        said = self.run_example(sys.executable, "-c", self.example("python"))
        self.assertIn("'value': 'high', 'count': 3", said)
        self.assertIn(",bars,high,,high,6.16666", said)
