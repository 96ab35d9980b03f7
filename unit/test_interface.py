"""Vitest is run once; what it says of each of its tests is a test of its own here."""

import json
import re
import subprocess
import tempfile
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

WEB = Path(__file__).resolve().parent.parent / "web"


def load_tests(loader: unittest.TestLoader, tests: unittest.TestSuite, pattern: str | None) -> unittest.TestSuite:
    """One case for each file of tests, one test for each that it holds; a run that broke off is a test that failed."""
    with tempfile.TemporaryDirectory() as folder:
        said = Path(folder) / "said.json"
        ran = subprocess.run(
            ["npx", "--no-install", "vitest", "run", "--reporter=json", f"--outputFile={said}"],
            cwd=WEB, capture_output=True, text=True, check=False,
        )  # fmt: skip
        files = json.loads(said.read_text())["testResults"] if said.exists() else []
    cases: dict[str, dict[str, Callable[[unittest.TestCase], None]]] = {}
    for file in files:
        path = Path(file["name"]).relative_to(WEB)
        own = cases.setdefault(named(str(path.with_suffix("").with_suffix(""))), {})
        for one in file["assertionResults"]:
            own[f"test_{named(one['fullName'])}"] = _told(one["status"] == "passed", one["failureMessages"])
        if not file["assertionResults"] or file["message"]:
            own["test_the_file_runs"] = _told(False, [file["message"] or "It holds no test."])
    if not cases:
        cases["vitest"] = {"test_it_runs": _told(False, [ran.stdout, ran.stderr])}
    suite = unittest.TestSuite()
    for name, own in cases.items():
        case: Any = type(name, (unittest.TestCase,), {"__module__": __name__, **own})
        suite.addTests(loader.loadTestsFromTestCase(case))
    return suite


def named(words: str) -> str:
    """Words as a name."""
    return re.sub(r"\W+", "_", words).strip("_")


def _told(passed: bool, messages: list[str]) -> Callable[[unittest.TestCase], None]:
    def test(self: unittest.TestCase) -> None:
        if not passed:
            self.fail("\n".join(messages))

    return test
