"""The answers that the interface's own tests draw from are those that the server gives today.

HERON_WRITE=1 writes them anew, to be looked at and committed with what changed them.
"""

import json
import math
import os
import re
from pathlib import Path
from typing import Any

import numpy as np
from heron.figure import styles

from server.server_tests.cases import StudyCase, person, stored, unpacked
from server.server_tests.test_extremes import COLUMNS, text_of

FILE = Path(__file__).parents[2] / "web" / "src" / "testing" / "answers.gen.json"
N = 36
LENGTH = [round(20 + 1.1 * i + 6 * math.sin(i), 1) for i in range(N)]
MASS = [round(0.002 * length**2.4, 2) for length in LENGTH]
LINES = [
    f"{'n/r' if i == 7 else LENGTH[i]},{MASS[i]},{round(LENGTH[i] / 2, 1)},{('basket', 'mesh', 'slotted')[i % 3]},"
    f"{i // 12},{('low', 'middle', 'high')[i * i % 3]},2026-03-{1 + i // 2:02d}"
    for i in range(N)
]
TEXT = "shell length (mm),shell mass (g),shell width (mm),tray type,week,vigour,day\n" + "\n".join(LINES)
RESULTS = "trial,ratio,lower,upper\nBrush,1.5,1.1,2.1\nRinse,0.8,0.5,1.25\nBoth,2.2,1.4,3.4\nAll,1.4,1.1,1.7\n"


class Answers(StudyCase):
    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, "Nursery", missing_codes=["n/r"])
        cls.study = cls.table.study
        cls.results = stored(cls.owner, RESULTS, "Trials")
        cells = {**COLUMNS, "g": ["p", "q", "p", "r"] * 3}
        cls.odd = stored(cls.owner, text_of(cells), "Odd", kinds=dict.fromkeys(COLUMNS, "continuous"))

    def source(self, kind: str, **said: Any) -> dict[str, Any]:
        return {"table": str(self.table.pk), "kind": kind, **said}

    def pair(self, **said: Any) -> dict[str, Any]:
        return {"x": "shell_length", "y": "shell_mass", "lines": [], **said}

    def sources(self) -> dict[str, dict[str, Any]]:
        by_tray = {"by": "tray_type", "centre": "mean", "bars": "sd"}
        every = {"marks": ["points", "box", "centre", "from zero"], "points": "line", "caps": True}
        estimates = {"of": ["ratio"], "limits": ["lower", "upper"], "label": "trial"}
        return {
            "groups": self.source("groups", variable="shell_length", **by_tray, **every),
            "shape": self.source(
                "shape", variable="shell_mass", width=5, start=0, measure="counts",
                layers=["classes", "density", "normal", "box", "rug"],
            ),
            "densities": self.source("shape", variable="shell_length", by="tray_type", layers=["density"]),
            "pair": self.source("pair", **self.pair()),
            "logs": self.source(
                "pair", **self.pair(lines=["least-squares"], x_scale="log10", y_scale="log10"), x_axis="log",
                y_axis="log", equation=True,
            ),
            "contours": self.source("pair", **self.pair(shown="contours", grid=40, sparse=4, margins="histograms")),
            "counted": self.source("pair", **self.pair(x="week", shown="counts", by="tray_type")),
            "boxed": self.source(
                "pair", **self.pair(by="tray_type", margins="boxes", jitter_x=1.0, size="shell_width")
            ),
            "hexagons": self.source("pair", **self.pair(), shown="hexagons"),
            "days": self.source("pair", **self.pair(x="day")),
            "trays": self.source("pair", **self.pair(by="tray_type")),
            "estimates": {
                "kind": "estimates", "table": str(self.results.pk), **estimates, "none": 1.0, "combined": [4],
            },
        }  # fmt: skip

    def at_the_edge(self) -> list[dict[str, Any]]:
        """Columns that are hard to draw, in pictures of each kind; some of these the server refuses in words."""
        table = {"table": str(self.odd.pk)}
        every = ["points", "violin", "box", "centre", "from zero"]
        return [
            {**table, **source}
            for symbol in ("one", "constant", "huge", "tiny", "near")
            for source in (
                {"kind": "shape", "variable": symbol, "measure": "counts"},
                {"kind": "groups", "variable": symbol, "by": "g", "marks": every},
                {"kind": "pair", "x": "heaped", "y": symbol, "lines": []},
                {"kind": "quantiles", "variable": symbol},
            )
        ]

    def given(self) -> dict[str, Any]:
        scenes = {}
        for name, source in self.sources().items():
            answer = self.act("plates/scenes", {"sources": [source]})
            self.assertEqual(answer.status_code, 200, answer.content[:600])
            note = {"kind": "note", "x": 0, "y": 0, "text": "a note"}
            panel = {"source": source, "address": "", "furniture": [note] if name == "days" else []}
            document = {"style": styles.ON_SCREEN, "panels": [panel]}
            kept = self.act(f"studies/{self.study.pk}/plates", {"name": name, "document": document})
            self.assertEqual(kept.status_code, 201, kept.content[:600])
            scenes[name] = {"document": kept.json()["document"], "scene": unpacked(answer.content)["scenes"][0]}
        edges = []
        for source in self.at_the_edge():
            answer = self.act("plates/scenes", {"sources": [source]})
            if answer.status_code == 200:
                edges.append({"source": source, "scene": unpacked(answer.content)["scenes"][0]})
        self.assertGreater(len(edges), 8)
        compare = {"by": "tray_type", "centre": "mean", "bars": "sd"}
        return {
            "table": self.client.get(f"/api/tables/{self.table.pk}").json(),
            "furnishings": self.client.get("/api/plates/furnishings").json(),
            "plates": scenes,
            "edges": edges,
            "spread": self.reading("spread", "shell_length"),
            "compare": self.reading("compare", "shell_length", **compare),
        }

    def test_they_are_what_the_server_gives(self) -> None:
        text = _written(self.given())
        named = {self.table: "nursery", self.results: "trials", self.odd: "odd", self.study: "sound"}
        for each, name in named.items():
            text = text.replace(str(each.pk), name)
        given = json.loads(text)
        if os.environ.get("HERON_WRITE"):
            text = json.dumps(given, indent=1, ensure_ascii=False, allow_nan=False)
            FILE.write_text(re.sub(r"\[[\s\d.,e+-]*(?:null[\s\d.,e+-]*)*\]", _in_one_line, text) + "\n")
        self.assert_same(json.loads(FILE.read_text()), given, "")

    def assert_same(self, known: Any, given: Any, at: str) -> None:
        """The same to twelve figures, as machines compute it."""
        if isinstance(known, dict) and isinstance(given, dict):
            self.assertEqual(sorted(known), sorted(given), at)
            for key, value in known.items():
                self.assert_same(value, given[key], f"{at}/{key}")
        elif isinstance(known, list) and isinstance(given, list):
            self.assertEqual(len(known), len(given), at)
            for i, (one, two) in enumerate(zip(known, given, strict=True)):
                self.assert_same(one, two, f"{at}/{i}")
        elif isinstance(known, float) and isinstance(given, float):
            self.assertTrue(math.isclose(known, given, rel_tol=1e-9, abs_tol=1e-12), f"{at}: {known} and {given}")
        else:
            self.assertEqual(known, given, at)


def _written(given: Any) -> str:
    def plain(value: Any) -> Any:
        if isinstance(value, np.ndarray):
            return {"numbers": [float(each) if np.isfinite(each) else None for each in value]}
        raise TypeError(value)

    return json.dumps(given, default=plain)


def _in_one_line(result: re.Match[str]) -> str:
    return re.sub(r"\s+", " ", result[0]).replace("[ ", "[").replace(" ]", "]")
