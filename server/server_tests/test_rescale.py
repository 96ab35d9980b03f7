"""Other scales: tried without a trace, adopted as a decision, back on the scale of the data."""

import json
import math

import numpy as np
from heron import rescale, summary
from heron.ledger import replay

from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.server_tests.cases import StudyCase, stored
from server.studies.models import Table
from server.studies.snapshots import TableSnapshot

LOG = {"how": "scale", "setting": {"way": "log"}}


class Trying(StudyCase):
    def mass(self):
        return self.points("mass")[0]

    def test_the_ladder_is_the_cores_with_rows_from_one(self):
        result = self.reading("ladder", "eggs")["ladder"]
        expected = rescale.power_ladder([i % 4 * 3 for i in range(30)])
        for a, b in zip(result["steps"], expected.steps, strict=True):
            self.assertEqual((a["power"], a["n"], a["lost"].tolist()), (b.power, b.n, (b.lost + 1).tolist()))
            if b.qq_correlation is not None:
                self.assertAlmostEqual(a["qq_correlation"], b.qq_correlation)
        within = self.reading("ladder", "mass", by="tray")
        self.assertEqual(within["within"], "tray")
        self.assertIsNotNone(within["ladder"]["spread_power"])

    def test_every_reading_answers_as_if_without_leaving_a_trace(self):
        as_if, untouched = json.dumps(LOG), list(Table.objects.values_list("state", flat=True))
        result = self.reading("spread", "mass", as_if=as_if)
        logs = np.log10(self.mass())
        self.assertEqual((result["subject"]["label"], result["subject"]["unit"]), ("log10 mass", "log10 g"))
        np.testing.assert_allclose(self.points("mass", as_if=as_if)[0], logs)
        self.assertAlmostEqual(result["summary"]["skewness"], summary.summarize(logs).skewness)
        self.assertEqual(result["used"]["missing_counts"], {"n/r": 1})
        back, expected = result["back"], summary.summarize(logs)
        self.assertEqual((back["name"], back["unit"]), ("Geometric mean", "g"))
        limits = [10**each for each in (expected.mean, expected.mean_low, expected.mean_high)]
        np.testing.assert_allclose([back["mean"], back["low"], back["high"]], limits)
        for name in ("normality", "classes", "density", "definitions", "order", "against"):
            self.reading(name, "mass", as_if=as_if)
        self.assertEqual((list(Table.objects.values_list("state", flat=True)), Entry.objects.count()), (untouched, 0))

    def test_what_would_be_made_is_shown_with_what_is_lost_and_the_ways_out(self):
        result = self.reading("tried", "eggs", as_if=json.dumps(LOG))
        self.assertEqual((result["n"], result["n_lost"], result["lost"][:2]), (22, 8, [1, 5]))
        self.assertIn("add an offset, log(x + c)", result["ways_out"])
        self.assertEqual(result["rows"][1], {"row": 2, "before": ["3"], "after": f"{math.log10(3):.6g}"})
        text = "mass / (eggs + 1) if tray == 'a' else 0"
        made = self.reading("tried", "mass", as_if=json.dumps({"how": "expression", "text": text}))
        self.assertEqual((sorted(made["of"]), made["n"]), (["eggs", "mass", "tray"], 29))
        labels = {"how": "recode", "labels": {"a": "north"}, "others": "elsewhere"}
        recoded = self.reading("tried", "tray", as_if=json.dumps(labels))
        self.assertEqual((recoded["levels"], recoded["level_counts"]), (["north", "elsewhere"], [15, 15]))

    def test_variables_ranked_by_what_the_ladder_would_bring(self):
        result = self.client.get(self.address("ladders")).json()["variables"]
        self.assertEqual([each["subject"]["symbol"] for each in result], ["mass", "eggs"])
        self.assertEqual(result[0]["power"], 0)
        self.assertGreater(result[0]["then"], result[0]["now"])

    def test_the_ladder_counts_each_row_as_often_as_it_stands_for(self):
        self.table = stored(self.owner, "x,times\n1,3\n2,1\n4,2\n9,1\n0,0\n", name="Counted")
        self.on_table("/describe", weight_variable="times")
        result = self.reading("ladder", "x")["ladder"]
        expected = rescale.power_ladder([1, 1, 1, 2, 4, 4, 9])
        self.assertEqual((result["n"], result["best"]), (7, expected.best))
        for a, b in zip(result["steps"], expected.steps, strict=True):
            self.assertAlmostEqual(a["skewness"], b.skewness)
            self.assertAlmostEqual(a["shapiro_w"], b.shapiro_w)

    def test_classes_are_tried_too_and_a_table_of_names_gains_nothing(self):
        way = {"how": "classes", "boundaries": [0, 4, 60], "closed": "right"}
        result = self.reading("tried", "mass", as_if=json.dumps(way))
        self.assertEqual((result["kind"], result["levels"]), ("ordered", ["[0, 4]", "(4, 60]"]))
        self.assertEqual((sum(result["level_counts"]), result["n_lost"], result["lost"]), (28, 1, [30]))
        self.assertIn("outside the classes", result["why"])
        names = stored(self.owner, "a,b\nx,y\nz,x\nx,y\n", name="Names")
        self.assertEqual(self.client.get(self.address("ladders", names)).json(), {"variables": []})
        split = self.reading("split", "mass", by="tray", as_if=json.dumps(LOG))
        logs = np.log10(self.mass())
        self.assertEqual(split["subject"]["label"], "log10 mass")
        self.assertAlmostEqual(min(group["summary"]["minimum"] for group in split["groups"]), logs.min())

    def test_what_cannot_be_read_points_to_the_place(self):
        cases = [
            ("mass", {"how": "expression", "text": "mass + "}, "expression"),
            ("mass", {"how": "expression", "text": "weight"}, "expression"),
            ("tray", LOG, "not-numeric"),
            ("mass", {"how": "scale", "setting": {"way": "power", "power": 9999}}, "invalid-request"),
            ("mass", {"how": "magic"}, "invalid-request"),
        ]
        for variable, way, code in cases:
            response = self.client.get(self.address("tried"), {"variable": variable, "as_if": json.dumps(way)})
            self.assertEqual(response.status_code, 422, way)
            self.assert_problem(response, 422, code)
        for as_if in ("{", "[]", '"' * 50, "null"):
            response = self.client.get(self.address("spread"), {"variable": "mass", "as_if": as_if})
            self.assert_problem(response, 422, "invalid-request")
        self.assert_problem(self.client.get(self.address("tried"), {"variable": "mass"}), 422, "nothing-tried")


class Adopting(StudyCase):
    def derive(self, way, of="mass", label="log10 mass", unit="log10 g"):
        return self.on_table("/derive", of=of, label=label, unit=unit, way=way)

    def test_a_scale_is_adopted_and_follows(self):
        symbol = self.derive(LOG).json()["symbol"]
        self.assertEqual(symbol, "log10_mass")
        before, *_ = self.points(symbol)
        self.on_table("/correct", cells=[{"variable": "mass", "row": 1, "text": "100"}], reason="misread")
        after = self.reading("spread", symbol)
        self.assertEqual((before[0], self.points(symbol)[0][0]), (0, 2))
        self.assertEqual(after["back"]["name"], "Geometric mean")
        self.derive({"how": "expression", "text": "10^log10_mass - mass"}, label="nothing", unit="")
        nothing, *_ = self.points("nothing")
        np.testing.assert_allclose(nothing, 0, atol=1e-9)
        stands = self.on_table("/take-away", variable=symbol)
        self.assert_problem(stands, 409, "stands-on")

    def test_lost_values_are_named_for_ever(self):
        self.derive(LOG, of="eggs", label="log eggs")
        used = self.reading("spread", "log_eggs")["used"]
        self.assertEqual(used["missing_counts"], {"not on this scale": 8})

    def test_a_name_that_says_nothing_is_refused(self):
        table = stored(self.owner, "a\n1\n2\n", name="Tiny")
        self.table = table
        self.assert_problem(self.derive({"how": "expression", "text": "1 + 1"}, of="a"), 422, "expression")
        self.assert_problem(self.derive({"how": "expression", "text": "a + b"}, of="a"), 422, "no-variable")
        self.assert_problem(self.derive({"how": "expression", "text": "a +"}, of="a"), 422, "expression")

    def test_the_ledger_replayed_by_the_core_gives_the_same_columns_bit_for_bit(self):
        original = TableSnapshot.of(self.table).active()
        self.derive(LOG)
        self.derive({"how": "expression", "text": "log10_mass * eggs"}, label="both", unit="")
        self.derive(
            {"how": "recode", "labels": {"a": "north"}, "others": "elsewhere"}, of="tray", label="side", unit=""
        )
        self.on_table("/correct", cells=[{"variable": "mass", "row": 2, "text": "0"}], reason="a slip")
        self.on_table("", kind="set-aside", rows=[3, 4], reason="broken")
        self.describe("side", label="which side")
        table = Table.objects.get(pk=self.table.pk)
        stored = TableSnapshot.of(table).active()
        replayed = replay(ledger.decisions(ledger.entries(table)), original)
        self.assertEqual(list(stored), list(replayed))
        for symbol in stored:
            a, b = stored[symbol], replayed[symbol]
            self.assertEqual((a.label, a.kind, a.levels, a.missing_codes), (b.label, b.kind, b.levels, b.missing_codes))
            np.testing.assert_array_equal(a.reasons, b.reasons)
            for values, others in ((a.numbers, b.numbers), (a.codes, b.codes)):
                if values is not None:
                    np.testing.assert_array_equal(values, others)

    def test_it_leaves_with_the_table_and_stands_in_tables_made_of_it(self):
        self.derive({"how": "expression", "text": "eggs * 2"}, label="twice", unit="")
        lines = self.client.get(f"/api/tables/{self.table.pk}/file", {"form": "csv"}).content.decode().splitlines()
        self.assertEqual(lines[0].split(",")[-1], "twice")
        self.assertEqual(lines[2].split(",")[-1], "6")
        part = {"how": "part", "conditions": [{"variable": "twice", "test": "between", "low": 7}]}
        wish = {"of": [str(self.table.pk)], "options": part}
        made = self.act(f"studies/{self.study.pk}/made", {**wish, "name": "Many"}).json()
        self.assertEqual(made["n_rows"], 14)
        self.on_table("/correct", cells=[{"variable": "eggs", "row": 1, "text": "9"}], reason="recounted")
        self.assertEqual(self.client.get(f"/api/tables/{made['id']}").json()["n_rows"], 15)

    def test_a_name_given_up_can_be_given_again_to_another_recipe(self):
        self.derive(LOG, label="y")
        revision = Table.objects.get(pk=self.table.pk).revision
        first, *_ = self.points("y")
        self.on_table("/take-away", variable="y")
        self.derive({"how": "expression", "text": "mass * 0 + 1"}, label="y", unit="")
        self.assertEqual(set(self.points("y")[0].tolist()), {1.0})
        np.testing.assert_array_equal(self.points("y", at=revision)[0], first)

    def test_the_variable_says_how_it_was_made_and_is_bounded_by_what_it_is(self):
        symbol = self.derive({"how": "scale", "setting": {"way": "logit"}}, label="odds", unit="").json()["symbol"]
        [made] = [
            each for each in self.client.get(f"/api/tables/{self.table.pk}").json()["variables"] if each["follows_from"]
        ]
        self.assertEqual((made["symbol"], made["follows_from"], made["kind"]), (symbol, ["mass"], "continuous"))
        self.assertEqual(made["recipe"]["setting"], {"way": "logit", "squeeze": False})
        self.assertEqual(made["missing_counts"], {"n/r": 1, "not on this scale": 29})
        self.assertEqual(self.reading("spread", symbol)["words"][0]["text"], "There is no value to describe.")
        [entry] = self.client.get(f"/api/tables/{self.table.pk}/ledger").json()["entries"]
        self.assertEqual((entry["kind"], entry["said"]), ("derive", "Made odds: logit of mass"))
        self.assert_problem(self.derive(LOG, label="odds"), 422, "label-taken")
        self.assert_problem(self.derive(LOG, label="  "), 422, "no-label")

    def test_two_persons_deciding_at_once(self):
        way = {"how": "scale", "setting": {"way": "z"}}
        late = {"of": "mass", "label": "z", "unit": "SD", "way": way, "revision": 1}
        self.derive(LOG)
        response = self.act(f"tables/{self.table.pk}/ledger/derive", late)
        self.assert_problem(response, 409, "changed-meanwhile")
        self.assertEqual(len(Table.objects.get(pk=self.table.pk).state["derived"]), 1)
