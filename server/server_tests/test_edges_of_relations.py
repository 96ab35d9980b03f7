"""Pairs, groups and results of columns at the edge: a sensible answer or a plain sentence."""

import itertools
import json

import numpy as np
from heron import relation

from server.server_tests.cases import StudyCase, person, stored_in, unpacked
from server.server_tests.test_extremes import COLUMNS, text_of
from server.studies.services import create_study

NAMES = list(COLUMNS)
PAIRS = list(itertools.permutations(("one", "three", "constant", "two_values", "huge", "tiny", "near", "heaped"), 2))


class Edges(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.study = create_study(cls.owner, "Edges")
        kinds = dict.fromkeys(COLUMNS, "continuous")
        cls.table = stored_in(cls.study, text_of(COLUMNS), "Edges", kinds=kinds)

    def answer(self, name, **asked):
        response = self.client.get(self.address(name), asked)
        self.assertIn(response.status_code, (200, 422), (name, asked, response.content[:300]))
        if response.status_code == 422:
            said = response.json()
            self.assertTrue(said["problem"].endswith("."), said)
            return None
        is_binary = response["Content-Type"] == "application/octet-stream"
        result = unpacked(response.content) if is_binary else response.json()
        self.assertNotIn("NaN", json.dumps(result, default=lambda array: None))
        return result

    def test_every_pair_in_every_form(self):
        said = 0
        for x, y in PAIRS:
            for name, asked in (
                ("pairs", {}),
                ("correlations", {"by": "two_values"}),
                ("fits", {"lines": ["least-squares", "median", "smooth"]}),
                ("straighten", {}),
                ("predict", {"value": 1}),
            ):
                with self.subTest(f"{name} of {y} on {x}"):
                    said += self.answer(name, x=x, y=y, **asked) is not None
        self.assertGreater(said, 180)

    def test_every_scale_of_every_pair(self):
        for (x, y), scales in itertools.product(PAIRS[::5], itertools.product(relation.SCALES, repeat=2)):
            result = self.answer("fits", x=x, y=y, x_scale=scales[0], y_scale=scales[1])
            for group in result["groups"] if result else []:
                self.assertTrue(group["fit"] is not None or group["why"], (x, y, scales))

    def test_a_variable_with_itself_and_one_without_values(self):
        result = self.answer("correlations", x="heaped", y="heaped")
        self.assertEqual(result["groups"][0]["found"]["pearson"]["estimate"], 1)
        empty = self.answer("pairs", x="heaped", y="none")["series"][0]
        self.assertEqual((empty["n_pairs"], empty["lost"]), (0, [{"why": "without none", "n": 12}]))
        lost = self.answer("correlations", x="none", y="heaped")
        self.assertIn("fewer than 2 pairs", lost["words"][0])
        whole = self.answer("matrix", variables=NAMES[2:8])
        self.assertEqual(len(whole["cells"]), 15)

    def test_groups_by_each_value_of_a_number(self):
        for variable, by in PAIRS[::3]:
            for asked in (
                {},
                {"bars": "sd", "line": "rows", "log": True},
                {"centre": "median", "bars": "median-interval", "pair": "two_values", "line": "centres"},
                {"centre": "geometric-mean", "bars": "se"},
            ):
                with self.subTest(f"{variable} by {by} {asked}"):
                    self.answer("compare", variable=variable, by=by, **asked)
            self.answer("differences", variable=variable, by=by, together=False)

    def test_shares_and_results_of_numbers(self):
        for variable, by in PAIRS[::3]:
            self.answer("shares", variable=variable, by=by, neutral=0)
            self.answer("estimates", of=variable, widths=by)
            self.answer("estimates", of=variable, limits=[by, "heaped"], weight="two_values", label="near")
        result = self.answer("estimates", of="huge", limits=["huge", "huge"])
        self.assertEqual(len(result["rows"]), 12)

    def test_what_cannot_be_asked(self):
        pair = {"x": "three", "y": "heaped"}
        for name, asked in (
            ("fits", {**pair, "span": 0}),
            ("fits", {**pair, "lines": ["straight"]}),
            ("fits", {**pair, "level": 1}),
            ("fits", {**pair, "x_scale": "log2"}),
            ("matrix", {"variables": ["three"]}),
            ("matrix", {"variables": ["three"] * 13}),
            ("predict", {**pair, "value": "inf"}),
            ("estimates", {"of": "three", "limits": ["one", "two", "near"]}),
            ("shares", {"variable": "three", "by": "heaped", "level": 0}),
            ("compare", {"variable": "three", "by": "heaped", "trim": 0.5}),
            ("compare", {"variable": "three", "by": "heaped", "low_percent": -1}),
        ):
            with self.subTest(f"{name} {asked}"):
                response = self.client.get(self.address(name), asked)
                self.assertEqual(response.status_code, 422, response.content[:200])
        for corners in ([[0, 1], [0, 1]], [[0, 1, 2], [0, 1]], [["a", 1, 2], [0, 1, 2]]):
            body = {**pair, "outline_x": corners[0], "outline_y": corners[1]}
            response = self.act(f"tables/{self.table.pk}/readings/enclosed", body)
            self.assertEqual(response.status_code, 422, response.content[:200])


class Kept(StudyCase):
    def test_a_relation_is_designed_anew_once_a_row_is_set_aside(self):
        rng = np.random.default_rng(6)
        rows = "\n".join(f"{x:.3f},{2 * x + e:.3f}" for x, e in rng.normal(size=(40, 2)))
        table = stored_in(self.study, f"x,y\n{rows}\n", "Pulled", kinds={"x": "continuous", "y": "continuous"})
        self.table = table
        asked = {"response": "y", "predictors": ["x"]}

        def pull(row):
            body = {**asked, "rows": [row]}
            return self.act(f"tables/{table.pk}/readings/pull", body).json()["pulled"]

        first, again = pull(1), pull(2)
        self.assertEqual((first["n"], first["n_without"], again["n"]), (40, 39, 40))
        self.on_table("", kind="set-aside", rows=[5], reason="broken")
        self.assertEqual(pull(1)["n"], 39)
        self.on_table("/undo")
        self.assertEqual(pull(1)["coefficients"], first["coefficients"])
