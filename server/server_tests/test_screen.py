"""Rows that deserve a second look, what would change without them, and what was decided on them."""

import json
import math
from typing import Any

import numpy as np
from heron import influence, outliers, sensitivity

from server.ledger.models import Entry
from server.server_tests.cases import StudyCase, person, signed_in, stored
from server.studies.models import Table

rng = np.random.default_rng(11)
LENGTH = rng.normal(50, 8, 60)
MASS = 0.4 * LENGTH + rng.normal(0, 1, 60)
MASS[[7, 31]] = 60, 2
LENGTH[31] = 90
ROWS = [(f"{a:.3f}", f"{b:.3f}", "ab"[i % 2]) for i, (a, b) in enumerate(zip(LENGTH, MASS, strict=True))]
TEXT = "len (mm),mass (g),bed\n" + "\n".join(",".join(row) for row in ROWS)
LENGTH, MASS = (np.array([float(row[i]) for row in ROWS]) for i in (0, 1))
RELATION = {"response": "mass", "predictors": ["len"]}


class Screening(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells")
        cls.study = cls.table.study

    def post(self, name, **body):
        return self.client.post(self.address(name), body, content_type="application/json")

    def screen(self, **more):
        return self.reading("screen", "mass", rules=["fences", "robust-z", "esd"], **more)

    def test_the_rules_are_the_cores_with_rows_from_one(self):
        result = self.screen()
        for each in result["rules"]:
            expected = outliers.flag_outliers(MASS, rule=each["rule"])
            self.assertEqual(
                (each["n_flagged"], each["low"], each["high"]), (expected.flagged.size, expected.low, expected.high)
            )
            self.assertEqual(each["assumes"], outliers.RULES[each["rule"]].help)
        first = result["rows"][0]
        self.assertEqual((first["row"], first["flagged"], first["text"]), (8, [True] * 3, "60.000"))
        self.assertEqual(result["n_undecided"], result["n_flagged"])
        self.assertIn("look for its cause", result["words"][-1])
        within = self.screen(by="bed", reach=3)
        for side, i in (("limits_low", 0), ("limits_high", 1)):
            expected = [outliers.flag_outliers(MASS[k::2], rule="fences", reach=3) for k in (0, 1)]
            np.testing.assert_allclose(within["rules"][0][side], [(each.low, each.high)[i] for each in expected])
        self.assertEqual({row["group"] for row in within["rows"]}, {"b"})

    def test_what_was_decided_stands_beside_each_row_and_is_undone(self):
        self.on_table("", kind="keep", rows=[8], variable="mass", reason="weighed twice")
        result = self.screen()
        self.assertEqual((result["rows"][0]["deed"], result["rows"][0]["note"]), ("kept", "weighed twice"))
        self.assertEqual(result["n_undecided"], result["n_flagged"] - 1)
        self.on_table("", kind="set-aside", rows=[32], reason="broken")
        result = self.screen()
        self.assertIn("Row 32 (2.000 g) was set aside: broken (ledger 2)", " ".join(result["report"]))
        self.assertIn("Row 8 (60.000 g) was kept: weighed twice (ledger 1)", " ".join(result["report"]))
        gone = result["rows"][-1]
        self.assertEqual(
            (gone["row"], gone["deed"], gone["value"], gone["flagged"]), (32, "set aside", 2.0, [False] * 3)
        )
        self.on_table("/undo")
        self.on_table("/correct", cells=[{"variable": "mass", "row": 32, "text": "2.5"}], reason="misread")
        actions = {row["row"]: row["deed"] for row in self.screen()["rows"]}
        self.assertEqual((actions[8], actions[32]), ("kept", "corrected"))
        self.on_table("/undo")
        self.on_table("/undo")
        self.assertEqual({row["deed"] for row in self.screen()["rows"]}, {""})

    def test_values_are_pulled_in_with_a_reason_as_a_variable_of_their_own(self):
        way = {"how": "pulled-in", "low": 10, "high": 40, "rows": [8]}
        asked = {"of": "mass", "label": "mass, pulled in", "way": way}
        self.assert_problem(self.on_table("/derive", **asked), 422, "no-reason")
        self.on_table("/derive", **asked, reason="scale overloaded")
        values, *_ = self.points("mass_pulled_in")
        np.testing.assert_allclose(values, np.where(np.arange(60) == 7, 40, MASS))
        self.assertEqual(self.screen()["rows"][0]["deed"], "pulled in")
        self.assertEqual(Entry.objects.get(table=self.table, kind="derive").reason, "scale overloaded")

    def test_results_with_and_without_rows_and_without_each(self):
        result = self.post("weigh", variable="mass", by="bed", rows=[8, 32, 99]).json()
        expected = sensitivity.results_without(MASS, np.array(["a", "b"])[np.arange(60) % 2], without=np.array([7, 31]))
        self.assertEqual([each["name"] for each in result["changes"]], [each.name for each in expected])
        for a, b in zip(result["changes"], expected, strict=True):
            self.assertAlmostEqual(a["without"], b.without)
        self.assertEqual((result["rows"], result["first_group"]), (2, "a"))
        shown = self.figure(
            {"kind": "left-out", "table": str(self.table.pk), "variable": "mass", "statistic": "skewness"}
        )
        layers = {each["role"]: each for each in shown["scenes"][0]["layers"]}
        self.assertEqual(layers["beyond"]["rows"].tolist(), [8])
        expected = sensitivity.leave_one_out(MASS, "skewness").values
        np.testing.assert_allclose(layers["points"]["y"], np.delete(expected, 7))
        self.assertIn("Ringed: without row 8 it moves most.", shown["caption"])

    def test_a_relation_and_its_rows(self):
        result = self.reading("relation", "mass", **RELATION)
        expected = influence.diagnose_fit(MASS, {"len": LENGTH})
        np.testing.assert_allclose([each["value"] for each in result["coefficients"]], expected.coefficients)
        by_row = {row["row"]: row for row in result["rows"]}
        for i in (7, 31):
            self.assertAlmostEqual(by_row[i + 1]["cooks"], expected.cooks[i])
            np.testing.assert_allclose(by_row[i + 1]["dfbetas"], expected.dfbetas[i])
        source = {"kind": "influence", "table": str(self.table.pk), **RELATION, "view": "order"}
        points = [each for each in self.figure(source)["scenes"][0]["layers"] if each["form"] == "points"]
        drawn = dict(zip(*(np.concatenate([point[name] for point in points]) for name in ("rows", "y")), strict=True))
        np.testing.assert_allclose([drawn[i + 1] for i in range(60)], expected.cooks)
        self.assertEqual({row["row"] for row in result["rows"][:2]}, {8, 32})
        self.assertIn("leverage", result["rows"][0]["beyond"] + result["rows"][1]["beyond"])
        with_bed = self.reading("relation", "mass", response="mass", predictors=["len", "bed"], product=["len", "bed"])
        self.assertEqual(
            [each["name"] for each in with_bed["coefficients"]], ["intercept", "len", "bed b", "len × bed b"]
        )
        pulled = self.post("pull", **RELATION, rows=[8, 32]).json()
        left = np.delete(np.arange(60), [7, 31])
        np.testing.assert_allclose(pulled["pulled"]["without"], np.polyfit(LENGTH[left], MASS[left], 1)[::-1])
        self.assertEqual(pulled["without_rows"], 2)
        self.assertIn("Mass was fitted on len by least squares", result["report"][0])
        self.assertEqual(len(result["report"]), 2)
        self.on_table("", kind="set-aside", rows=[3], reason="broken shell")
        left = self.reading("relation", "mass", **RELATION)
        self.assertIn("was set aside: broken shell (ledger 1)", left["report"][2])
        moved = [part["coefficients"][1]["value"] for part in (result, left)]
        self.assertIn(f"the coefficient of len from {moved[0]:.4g} to {moved[1]:.4g}", left["report"][-1])
        self.assertIn(f"(n {result['n']} to {result['n'] - 1})", left["report"][-1])
        self.on_table("/undo")
        wrong = self.client.get(self.address("relation"), {"response": "mass", "predictors": ["mass"]})
        self.assert_problem(wrong, 422, "itself")

    def test_several_variables_together(self):
        result = self.reading("together", "mass", variables=["len", "mass"])
        expected = outliers.robust_distances({"len": LENGTH, "mass": MASS})
        source = {"kind": "distances", "table": str(self.table.pk), "variables": ["len", "mass"]}
        points = [each for each in self.figure(source)["scenes"][0]["layers"] if each["form"] == "points"]
        robust = dict(zip(*(np.concatenate([point[name] for point in points]) for name in ("rows", "y")), strict=True))
        np.testing.assert_allclose([robust[i + 1] for i in range(expected.robust.size)], expected.robust)
        self.assertEqual({row["row"] for row in result["rows"][:2]}, {8, 32})
        self.assertTrue(math.isclose(result["cutoff"], expected.cutoff))
        alone = self.client.get(self.address("together"), {"variables": ["len"]})
        self.assert_problem(alone, 422, "too-few-variables")
        names = self.client.get(self.address("together"), {"variables": ["len", "bed"]})
        self.assert_problem(names, 422, "not-numeric")

    def test_the_last_decision_on_a_row_is_the_one_that_stands(self):
        def deed(row):
            return next(each["deed"] for each in self.screen()["rows"] if each["row"] == row)

        self.on_table("", kind="set-aside", rows=[8], variable="mass", reason="broken")
        self.assertEqual(deed(8), "set aside")
        self.on_table("", kind="put-back", rows=[8], variable="mass")
        self.assertEqual(deed(8), "")
        self.on_table("", kind="keep", rows=[8])
        self.assertEqual(deed(8), "kept")
        self.on_table("", kind="keep", rows=[32], variable="len")  # said of another variable
        self.assertEqual(deed(32), "")
        revision = Table.objects.get(pk=self.table.pk).revision
        self.on_table("", kind="set-aside", rows=[8], reason="broken after all")
        self.assertEqual(deed(8), "set aside")
        past = self.screen(at=revision)
        self.assertEqual(next(each["deed"] for each in past["rows"] if each["row"] == 8), "kept")
        nothing = self.on_table("", kind="keep", rows=[61], variable="mass")
        self.assert_problem(nothing, 422, "no-such-row")

    def test_questions_that_cannot_be_answered_say_where_and_why(self):
        for reading, options, code in (
            ("screen", {"variable": "bed"}, "not-numeric"),
            ("screen", {"variable": "mass", "rules": ["guess"]}, "invalid-request"),
            ("together", {"variables": ["len", "nowhere"]}, "no-variable"),
            ("relation", {"response": "bed", "predictors": ["len"]}, "not-numeric"),
            ("relation", {**RELATION, "product": ["len", "bed"]}, "product"),
            ("relation", {"response": "mass", "predictors": ["nowhere"]}, "no-variable"),
        ):
            with self.subTest(reading=reading, **options):
                response = self.client.get(self.address(reading), options)
                said = self.assert_problem(response, response.status_code, code)
                self.assertIn(response.status_code, (404, 422))
                self.assertTrue(said["where"])

    def test_nobody_else_sees_or_pulls(self):
        self.client = signed_in(person("bob"))
        self.assertEqual(self.client.get(self.address("screen"), {"variable": "mass"}).status_code, 404)
        self.assertEqual(self.post("pull", **RELATION, rows=[1]).status_code, 404)
        self.assertEqual(self.post("weigh", variable="mass", rows=[1]).status_code, 404)


VIEWS = ("leverage", "residuals", "size", "order", "qq", "dfbetas", "partial", "fit")


class Degenerate(StudyCase):
    def test_every_question_has_an_answer_or_a_sentence(self):
        header = "x,y,z,g\n"
        tables = {
            "empty": header,
            "one row": header + "1,2,3,a\n",
            "all missing": header + ",,,a\n,,,b\n,,,a\n",
            "constant": header + "5,5,5,a\n" * 30,
            "a line": header + "".join(f"{i},{2 * i},{3 * i},{'ab'[i % 2]}\n" for i in range(30)),
            "huge": header + "".join(f"{i % 7}e307,{i}e-300,{i * i},{i}\n" for i in range(40)),
        }
        for name, text in tables.items():
            kinds = {"kinds": {"x": "continuous", "y": "continuous", "z": "continuous"}}
            self.table = stored(person(f"owner of {name}"), text, name=name, **kinds)
            self.client = signed_in(self.table.study.owner)
            asked = [
                ("screen", {"variable": "x", "rules": list(outliers.RULES)}),
                ("screen", {"variable": "x", "rules": list(outliers.RULES), "by": "g"}),
                ("together", {"variables": ["x", "y", "z"]}),
                ("relation", {"response": "y", "predictors": ["x"]}),
                ("relation", {"response": "y", "predictors": ["x", "g"]}),
            ]
            pictures: list[dict[str, Any]] = [
                {"kind": "rules", "variable": "x", "rules": list(outliers.RULES), "form": "lanes"},
                {"kind": "rules", "variable": "x", "rules": list(outliers.RULES), "form": "lanes", "by": "g"},
                {"kind": "distances", "variables": ["x", "y", "z"]},
                *({"kind": "left-out", "variable": "x", "statistic": each} for each in sensitivity.STATISTICS),
                *({"kind": "influence", "response": "y", "predictors": ["x"], "view": view} for view in VIEWS),
                *({"kind": "influence", "response": "y", "predictors": ["x", "g"], "view": view} for view in VIEWS),
            ]
            for picture in pictures:
                panels = json.dumps([{"source": {**picture, "table": str(self.table.pk)}}])
                response = self.client.get(f"/api/tables/{self.table.pk}/figure", {"panels": panels})
                with self.subTest(table=name, picture=picture):
                    self.assertIn(response.status_code, (200, 422), response.content[:300])
                    if response.status_code == 422:
                        self.assertTrue(response.json()["problem"])
            for reading, options in asked:
                response = self.client.get(self.address(reading), options)
                with self.subTest(table=name, reading=reading, **options):
                    self.assertIn(response.status_code, (200, 422), response.content[:300])
                    if response.status_code == 422:
                        self.assertTrue(response.json()["problem"])
