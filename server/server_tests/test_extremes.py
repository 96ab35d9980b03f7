"""Every reading of tables at the edge: a sensible answer or a plain sentence, never a fault."""

import itertools
import json

import numpy as np

from server.server_tests.cases import StudyCase, person, signed_in, stored_in, unpacked
from server.studies.services import create_study

LARGE = 1e308
COLUMNS = {
    "none": [None] * 12,
    "one": [None] * 5 + [3.0] + [None] * 6,
    "two": [1.0, 2.0] + [None] * 10,
    "three": [1.0, 2.0, 5.0] + [None] * 9,
    "constant": [4.0] * 12,
    "two_values": [0.0, 1.0] * 6,
    "huge": [LARGE, -LARGE, 0.0] * 4,
    "tiny": [i * 5e-324 for i in range(12)],
    "near": [1e7 + i * 1e-9 for i in range(12)],
    "heaped": [10.0] * 5 + [20.0] * 5 + [13.0, 17.0],
}
NAMES = ["x" * 200, "مجموعة طويلة", "🦪 oyster", 'a "quoted", one', "<b>bold</b>", "tab	inside"]
READINGS = (
    "spread",
    "classes",
    "density",
    "normality",
    "counts",
    "definitions",
    "intervals",
    "order",
    "against",
)


EVERY = ["classes", "density", "normal", "bumps", "rug", "box", "violin", "points", "limits"]
PICTURES = (
    ("shape", {"layers": EVERY, "box_marks": ["fences", "notch", "mean", "widths"], "measure": "counts"}),
    ("shape", {"layers": EVERY, "axis": "log", "upright": True, "whiskers": "percentiles"}),
    ("shape", {"layers": ["classes", "density"], "boundaries": [0.0, 15.0, 30.0], "whiskers": "range"}),
    ("shape", {"layers": ["box"], "scaling": "height"}), ("cumulative", {"lines": ["polygon", "steps"]}),
    ("ordered", {"marks": ["joined", "quartiles", "run", "jumps", "limits"]}), ("counts", {"written": True}),
    ("quantiles", {"bands": ["pointwise", "simultaneous"], "plot": "off the line"}),
    ("quantiles", {"family": "gamma", "plot": "shares"}),
)  # fmt: skip


def text_of(columns):
    names = list(columns)
    rows = zip(*columns.values(), strict=True)
    lines = [",".join("" if value is None else repr(value) for value in row) for row in rows]
    return "\n".join([",".join(names), *lines])


class Edges(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.study = create_study(cls.owner, "Edges")
        kinds = dict.fromkeys(COLUMNS, "continuous")
        cls.table = stored_in(cls.study, text_of(COLUMNS), "Edges", kinds=kinds)

    def answers(self, address, **asked):
        response = self.client.get(address, asked)
        self.assertIn(response.status_code, (200, 422), (address, asked, response.content[:300]))
        if response.status_code == 422:
            said = response.json()
            self.assertTrue(said["problem"].endswith("."), said)
            return None
        if response["Content-Type"] == "application/octet-stream":
            result = unpacked(response.content)
        else:
            result = response.json()
        self.assertNotIn("NaN", json.dumps(result, default=lambda array: None))
        return result

    def test_every_reading_of_every_column(self):
        said = 0
        for name, variable in itertools.product(READINGS, COLUMNS):
            with self.subTest(f"{name} of {variable}"):
                said += self.answers(self.address(name), variable=variable) is not None
        self.assertGreater(said, 60)
        for variable, axis, whiskers in itertools.product(COLUMNS, ("linear", "log"), ("range", "percentiles")):
            asked = {"variable": variable, "axis": axis, "whiskers": whiskers, "percents": [0, 50, 100]}
            self.answers(self.address("spread"), **asked)
        drawn = 0
        for variable, (kind, said) in itertools.product(COLUMNS, PICTURES):
            source = {"kind": kind, "table": str(self.table.pk), "variable": variable, **said}
            with self.subTest(source=source):
                panels = json.dumps([{"source": source}])
                drawn += self.answers(f"/api/tables/{self.table.pk}/figure", panels=panels) is not None
        self.assertGreater(drawn, 60)
        for family, variable in itertools.product(("log-normal", "weibull", "exponential", "gamma"), COLUMNS):
            self.answers(self.address("against"), variable=variable, family=family)

    def test_none_one_and_constant_say_so(self):
        words = {name: self.answers(self.address("spread"), variable=name)["words"][0]["text"] for name in COLUMNS}
        self.assertEqual(words["none"], "There is no value to describe.")
        self.assertEqual(words["one"], "There is one value.")
        self.assertEqual(words["constant"], "All 12 values are the same.")

    def test_what_cannot_be_asked_is_refused(self):
        for asked in (
            {"reach": "nan"},
            {"reach": -1},
            {"share": 0.5},
            {"percents": ["x"]},
            {"percents": [101]},
            {"axis": "slanted"},
            {"whiskers": "none"},
            {"percents": [1] * 41},
        ):
            response = self.client.get(self.address("spread"), {"variable": "heaped", **asked})
            self.assert_problem(response, 422, "invalid-request")
        for name, asked in (
            ("order", {"along": "nobody"}),
            ("split", {"by": "nobody"}),
            ("normality", {"by": "nobody"}),
        ):
            response = self.client.get(self.address(name), {"variable": "heaped", **asked})
            self.assert_problem(response, 404, "no-variable")


class ManyLevels(StudyCase):
    def test_three_hundred_levels_and_one_too_many(self):
        rng = np.random.default_rng(2)
        for levels, status in ((300, 200), (301, 422)):
            text = "g,x\n" + "\n".join(
                f"level {i % levels:03d},{value:.3f}" for i, value in enumerate(rng.normal(size=1_204))
            )
            table = stored_in(self.study, text, f"Levels {levels}")
            response = self.client.get(self.address("split", table), {"variable": "x", "by": "g"})
            self.assertEqual(response.status_code, status)
        self.assertIn("301 levels; at most 300", response.json()["problem"])

    def test_names_of_any_script_and_length_come_back_as_they_were(self):
        quoted = ['"' + name.replace('"', '""') + '"' for name in NAMES]
        text = "g,x\n" + "\n".join(f"{quoted[i % 6]},{i * 7 % 11}" for i in range(60))
        table = stored_in(self.study, text, "Names", delimiter=",")
        result = self.reading("split", "x", table, by="g")
        self.assertEqual(sorted(group["label"] for group in result["groups"]), sorted(NAMES))
        crossed = self.reading("cross", "x", table, by="g")
        self.assertEqual(sorted(crossed["table"]["columns"]), sorted(NAMES))
        rows = self.reading("rows", "g", table, level=NAMES[1])["rows"]
        self.assertEqual(rows.tolist(), list(range(2, 60, 6)))
        self.assertEqual(signed_in(self.owner).get("/api/meanings").status_code, 200)
