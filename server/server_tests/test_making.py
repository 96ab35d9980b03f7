"""Tables made of tables follow them; simulated ones say how they were made."""

from unittest.mock import patch

from server.ledger import making
from server.ledger.models import Entry
from server.server_tests.cases import StudyCase, person, signed_in
from server.studies import services
from server.studies.models import Table

WIDE = "tile,kiln,strength_1 (MPa),strength_2 (MPa)\nT1,north,31.2,30.8\nT2,south,28.1,n/r\nT3,north,33.0,32.5\n"
SIMULATED = {
    "how": "simulated",
    "variable": {"name": "height", "distribution": "normal", "parameters": {"mean": 5}},
    "groups": [{"name": "calm", "n": 40}, {"name": "swell", "n": 60, "parameters": {"mean": 9}}],
    "seed": 7,
    "decimals": 2,
}


class Making(StudyCase):
    def setUp(self):
        super().setUp()
        preview = self.act(f"studies/{self.study.pk}/pastes", {"text": WIDE}).json()
        job = self.act(f"uploads/{preview['upload_id']}/store", {"name": "Tiles", "choices": {}}).json()
        self.wide = Table.objects.get(pk=job["table_id"])

    def make(self, options, of=None, name="Made", path=""):
        of = [str(table.pk) for table in ([self.wide] if of is None else of)]
        return self.act(f"studies/{self.study.pk}/made{path}", {"of": of, "options": options, "name": name})

    def longer(self):
        (stem,) = self.client.get(f"/api/tables/{self.wide.pk}/stems").json()
        options = {
            "how": "longer",
            "sets": {stem["label"]: stem["symbols"]},
            "marks": stem["marks"],
            "mark_name": "firing",
        }
        return self.make(options).json()

    def decide(self, table, deed="", **body):
        revision = self.client.get(f"/api/tables/{table}").json()["revision"]
        answer = self.act(f"tables/{table}/ledger{deed}", {"revision": revision, **body})
        self.assertEqual(answer.status_code, 200, answer.content)
        return answer

    def test_what_would_be_made_is_shown_before_it_is(self):
        before = Table.objects.count()
        options = {
            "how": "longer",
            "sets": {"strength": ["strength_1", "strength_2"]},
            "marks": ["1", "2"],
            "mark_name": "firing",
        }
        shown = self.make(options, path="/preview").json()
        self.assertEqual((shown["n_rows"], shown["cells"][3]), (6, ["T2", "south", "2", "n/r"]))
        self.assertEqual(Table.objects.count(), before)

    def test_a_derived_table_follows_its_source_and_keeps_its_own_decisions(self):
        made = self.longer()
        self.assertEqual(made["made"]["words"], "Tiles, repeated columns as rows")
        self.decide(made["id"], kind="set-aside", rows=[6], reason="cracked")
        cells = [{"variable": "strength_2", "row": 2, "text": "29.5"}]
        self.decide(self.wide.pk, "/correct", cells=cells, reason="found on the sheet")
        self.decide(self.wide.pk, kind="set-aside", rows=[1], reason="not of this kiln")
        table = Table.objects.get(pk=made["id"])
        result = self.reading("spread", "strength", table)
        self.assert_used(result, {"n": 3, "missing": 0, "missing_counts": {}, "set_aside": 3})
        self.assertEqual(self.points("strength", table)[0].tolist(), [28.1, 29.5, 33.0])
        self.assertEqual(self.reading("rows", "strength", table, set_aside=True)["rows"].tolist(), [1, 2, 6])
        said = self.client.get(f"/api/tables/{made['id']}/ledger").json()["entries"]
        self.assertEqual([entry["kind"] for entry in said], ["set-aside", "follow"])
        self.assertEqual(said[1]["report"], ["Made anew, since Tiles changed."])
        self.assertTrue(said[0]["stands"])
        # Recomputed when what it stands on changes, and only then.
        with patch.object(making, "_make_anew") as again:
            self.reading("normality", "strength", table)
            again.assert_not_called()
        self.assertEqual(self.decide(made["id"], "/undo").json()["can_undo"], False)

    def test_rows_of_a_part_keep_their_decisions_under_new_numbers(self):
        part = self.make(
            {"how": "part", "conditions": [{"variable": "strength_1", "test": "between", "low": 30}]}
        ).json()
        self.decide(part["id"], kind="set-aside", rows=[2], reason="T3")
        self.decide(self.wide.pk, "/correct", cells=[{"variable": "strength_1", "row": 2, "text": "30.5"}], reason="x")
        rows = self.client.get(f"/api/tables/{part['id']}/grid").json()["rows"]
        self.assertEqual(
            [(row["cells"][0], row["aside"]) for row in rows], [("T1", False), ("T2", False), ("T3", True)]
        )

    def test_a_chain_follows_to_its_end_and_a_source_that_no_longer_serves_is_said(self):
        made = self.longer()
        options = {"how": "part", "conditions": [{"variable": "kiln", "test": "levels", "levels": ["north"]}]}
        part = self.make(options, of=[Table.objects.get(pk=made["id"])], name="North").json()
        self.assertEqual(part["n_rows"], 4)
        self.decide(self.wide.pk, "/correct", cells=[{"variable": "kiln", "row": 2, "text": "north"}], reason="x")
        self.assertEqual(self.client.get(f"/api/tables/{part['id']}").json()["n_rows"], 6)
        between = {"how": "part", "conditions": [{"variable": "strength_1", "test": "between", "low": 30}]}
        strong = self.make(between, name="Strong").json()
        self.decide(self.wide.pk, "/describe", variables=["strength_1"], changes={"kind": "text"})
        said = self.client.get(f"/api/tables/{strong['id']}").json()
        self.assertIn("no numbers to compare", said["made"]["trouble"])
        self.decide(self.wide.pk, "/undo")
        self.assertEqual(self.client.get(f"/api/tables/{strong['id']}").json()["made"]["trouble"], "")

    def test_a_table_outlives_its_source(self):
        made = self.longer()
        self.assertEqual(self.client.delete(f"/api/tables/{self.wide.pk}").status_code, 204)
        left = self.client.get(f"/api/tables/{made['id']}").json()
        self.assertEqual((left["n_rows"], left["made"]["of"], left["source"]), (6, {}, made["source"]))
        self.assertEqual(self.reading("spread", "strength", Table.objects.get(pk=made["id"]))["used"]["n"], 5)
        self.decide(made["id"], kind="set-aside", rows=[1], reason="still decided on")

    def test_a_simulated_table_is_the_same_for_the_same_seed(self):
        values = []
        for name in ("One", "Two"):
            made = self.make(SIMULATED, [], name=name).json()
            values.append(self.points("height", Table.objects.get(pk=made["id"]))[0].tolist())
        self.assertEqual(values[0], values[1])
        self.assertEqual(len(values[0]), 100)

    def test_every_way_of_making(self):
        small = [self.table, self.wide]
        for options, of, n in (
            ({"how": "stack"}, small, 33),
            ({"how": "look-up", "key": "tray", "other_key": "kiln", "symbols": ["strength_1"]}, small, 30),
            ({"how": "join", "variables": ["tile", "kiln"], "between": " ", "name": "both"}, None, 3),
            ({"how": "split", "variable": "tile", "at": "T"}, None, 3),
            ({"how": "wider", "keys": ["tile"], "mark": "kiln", "values": ["strength_1"]}, None, 3),
            (SIMULATED, [], 100),
        ):
            made = self.make(options, of)
            self.assertEqual(made.status_code, 200, made.content)
            self.assertEqual(made.json()["n_rows"], n, options["how"])
        self.assertIn("seed 7: height normal (mean 5, SD 1)", made.json()["source"])
        self.assertEqual(len(self.client.get("/api/distributions").json()), 11)

    def test_refusals_in_words(self):
        self.assert_problem(self.make({"how": "split", "variable": "tile", "at": "/"}), 422, "nothing-to-split")
        self.assert_problem(self.make({"how": "melt"}), 422, "invalid-request")
        stranger = person("eve")
        theirs = services.create_study(stranger, "Theirs")
        for client, study in ((signed_in(stranger), theirs), (signed_in(stranger), self.study)):
            body = {"of": [str(self.wide.pk)], "options": {"how": "stack"}, "name": "Mine"}
            answer = client.post(f"/api/studies/{study.pk}/made", body, content_type="application/json")
            self.assertEqual(answer.status_code, 404)
        self.assertFalse(Entry.objects.exists())
        self.assert_problem(self.act(f"tables/{self.make(SIMULATED, []).json()['id']}/uploads", {}), 422, "no-file")
