"""The core as anyone would install it: alone, and with what scripts need."""

import json
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path
from unittest import TestCase

import pandas as pd
from heron import Table, picture

from server.plates.documents import PlateDocument

ROOT = Path(__file__).parents[2]
PLAIN = Path(os.environ.get("HERON_PLAIN_PYTHON") or ROOT / "var" / "plain" / "bin" / "python")
SCRIPT = Path(os.environ.get("HERON_SCRIPT_PYTHON") or ROOT / "var" / "script" / "bin" / "python")


class Installed(TestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, self.folder)

    def run_in(self, python: Path, *arguments: object) -> str:
        self.assertTrue(python.exists(), f"{python} is made by ./check server")
        ran = subprocess.run(
            [python, *map(str, arguments)], cwd=self.folder, capture_output=True, text=True, check=False,
            env={"PATH": os.environ["PATH"], "HOME": str(self.folder), "MPLBACKEND": "agg"},
        )  # fmt: skip
        self.assertEqual((ran.returncode, ran.stderr), (0, ""), ran.stdout)
        return ran.stdout

    def install(self, python: Path) -> None:
        """Build wheel and source, and put the wheel where what it needs is already."""
        making = [sys.executable, "-m", "build", "--no-isolation", "--outdir", self.folder, ROOT / "core"]
        subprocess.run(making, check=True, capture_output=True)
        (wheel,), (source,) = self.folder.glob("*.whl"), self.folder.glob("*.tar.gz")
        self.assertGreater(source.stat().st_size, 100_000)
        quietly = ("-m", "pip", "-q", "--disable-pip-version-check")
        self.run_in(python, *quietly, "install", "--no-index", "--force-reinstall", "--no-deps", wheel)
        self.run_in(python, "-m", "pip", "check")

    def test_a_plain_installation_stands_on_numpy_scipy_and_pandas(self):
        self.install(PLAIN)
        self.assertEqual(self.run_in(PLAIN, "-I", "-c", _ALONE), "all hold\n")

    def test_the_walks_from_file_to_figure_hold(self):
        self.install(SCRIPT)
        self.addCleanup(self.run_in, SCRIPT, "-m", "pip", "-q", "uninstall", "-y", "velvet-heron")
        shutil.copy(ROOT / "demo" / "oyster_nursery.csv", self.folder)
        for walk in ("docs/library.md", "core/README.md"):
            self.assertEqual(self.run_in(SCRIPT, "-I", "-c", _WALKED, ROOT / walk), "holds\n", walk)
        self.assertTrue((self.folder / "trays.pdf").read_bytes().startswith(b"%PDF"))


class Pictures(TestCase):
    def test_a_picture_is_drawn_as_a_plate_that_nobody_has_edited(self):
        shells = Table.from_frame(pd.DataFrame({"mass": [1.0, 2.0, 4.0]}))
        document = picture(shells, "shape", variable="mass").document
        read = PlateDocument.model_validate(json.loads(json.dumps(document))).model_dump(mode="json")
        self.assertEqual(read, json.loads(json.dumps(document)))


# Every example that needs no extra, and what the others say.
_ALONE = """
import doctest, importlib, inspect, heron
assert "site-packages" in heron.__file__
extras = {"read": "files", "write": "files", "picture": "script", "smooth_line": "script"}
for name in heron.__all__:
    if name in extras:
        try:
            asked = getattr(heron, name)
            asked([0, 1, 2, 3, 4], [0, 1, 2, 3, 5])
        except heron.NotInstalled as error:
            assert f"velvet-heron[{extras[name]}]" in str(error), error
        else:
            raise AssertionError(f"{name} needs no extra")
    elif not inspect.isclass(getattr(heron, name)):
        module = importlib.import_module(getattr(heron, name).__module__)
        for example in doctest.DocTestFinder(recurse=False).find(getattr(heron, name), name, module):
            assert doctest.DocTestRunner().run(example).failed == 0, name
assert heron.check_normality(range(20)).lilliefors.p_value > 0.1
heron.group_centres([1, 2, 4], ["a", "a", "b"]).to_frame()
print("all hold")
"""
_WALKED = """
import doctest, heron, sys
assert "site-packages" in heron.__file__
told = doctest.testfile(sys.argv[1], module_relative=False)
assert told.attempted > 4 and told.failed == 0, told
print("holds")
"""
