"""Routines: made of a ledger, run on the same file and on others, and refused where they are no routine."""

import json
from pathlib import Path
from unittest.mock import patch

from heron.errors import ChoiceError
from heron.figure import styles

from server.ledger.models import Entry
from server.plates.models import Plate
from server.records import answering
from server.records.documents import Routine, published_schema
from server.server_tests.cases import SMALL, StudyCase, person, signed_in
from server.studies.models import Job, Table, Upload
from server.studies.services import bring_in, create_study

LOG = {"how": "scale", "setting": {"way": "log"}}


class RoutineCase(StudyCase):
    def brought_in(self, text: str = SMALL, name: str = "small.csv") -> str:
        return str(bring_in(self.owner, self.study, name, [text.encode()], print).upload.pk)

    def worked_on(self) -> dict:
        """The table with decisions of every kind, a table made of it, plates on both; and its routine."""
        self.on_table("", kind="set-aside", rows=[3, 4], reason="cracked")
        self.on_table("", kind="set-aside", rows=[9], reason="a detour")
        self.on_table("/undo")
        self.describe("mass", label="wet mass", unit="mg", lower=0.5, upper=70)
        self.describe("tray", levels=["b", "a"], level_labels={"a": "upper"})
        self.on_table("/correct", cells=[{"variable": "eggs", "row": 2, "text": "7"}], reason="misread")
        self.on_table("/derive", of="mass", label="log mass", way=LOG)
        self.on_table("/derive", of="mass", label="twice", way={"how": "expression", "text": "2 * mass + eggs"})
        self.on_table("", kind="keep", rows=[30], variable="mass", reason="the largest, weighed twice")
        self.on_table("/line-up", variable="mass", seed=4, place=2, seen_before=False)
        wish = {"how": "part", "conditions": [{"variable": "eggs", "test": "between", "low": 3}], "symbols": []}
        made = self.act(
            f"studies/{self.study.pk}/made", {"name": "Small, with eggs", "of": [str(self.table.pk)], "options": wish}
        )
        self.assertEqual(made.status_code, 200, made.content)
        part = Table.objects.get(name="Small, with eggs")
        self.keep_plate("Masses", {"table": str(self.table.pk), "kind": "groups", "variable": "mass", "by": "tray"})
        self.keep_plate("Of the part", {"table": str(part.pk), "kind": "shape", "variable": "mass"})
        return self.client.get(f"/api/tables/{self.table.pk}/routine").json()

    def keep_plate(self, name: str, source: dict) -> None:
        document = {
            "style": styles.ON_SCREEN,
            "panels": [{"source": source, "address": f"/tables/{source['table']}/spread"}],
        }
        kept = self.act(f"studies/{self.study.pk}/plates", {"name": name, "document": document})
        self.assertEqual(kept.status_code, 201, kept.content)

    def fit(self, routine: dict, upload: str, **more):
        return self.act(f"studies/{self.study.pk}/routines/fit", {"routine": routine, "upload": upload, **more})

    def run_on(self, routine: dict, upload: str, name: str = "Again", **more):
        return self.act(
            f"studies/{self.study.pk}/routines/run", {"routine": routine, "upload": upload, "name": name, **more}
        )

    def digest_of(self, table: str) -> str:
        return self.client.get(f"/api/tables/{table}/ledger/digest").json()["digest"]

    def numbers(self, plate: Plate) -> list:
        return plate.last_reviewed["numbers"]


class RunAgain(RoutineCase):
    def test_on_the_same_file_it_gives_the_same_table_ledger_digest_plates_and_routine(self):
        routine = self.worked_on()
        Routine.model_validate(routine)
        self.assertEqual(len(routine["tables"][0]["steps"]), 7)  # neither the detour nor the line-up
        result = self.fit(routine, self.brought_in()).json()
        self.assertEqual((result["same_file"], result["conflicts"]), (True, []))
        self.assertEqual([each["at_rest"] for each in result["steps"]], [False] * 7)
        self.assertEqual(result["steps"][0]["words"], "sets aside rows 3 and 4")
        self.assertEqual(result["steps"][4]["words"], "makes log mass: log₁₀ of wet mass")
        ran = self.run_on(routine, self.brought_in(), "Small").json()
        self.assertEqual((ran["n_steps"], ran["n_plates"], ran["left_out"]), (7, 2, []))
        self.assertEqual(ran["digest"], self.digest_of(str(self.table.pk)))
        self.assertEqual(ran["digest"], self.digest_of(ran["table"]))
        first, again = (
            self.client.get(f"/api/tables/{each}/file?form=csv&marked=1") for each in (self.table.pk, ran["table"])
        )
        self.assertEqual(first.content, again.content)
        told = self.client.get(f"/api/tables/{ran['table']}/routine").json()
        for plate in told["plates"]:
            plate["name"] = plate["name"].removesuffix(" 2")  # the study has plates of these names already
        self.assertEqual(told, routine)
        for name in ("Masses", "Of the part"):
            one, two = (Plate.objects.get(name=each) for each in (name, f"{name} 2"))
            self.assertEqual(self.numbers(one), self.numbers(two))
            self.assertNotEqual(
                one.document["panels"][0]["source"]["table"], two.document["panels"][0]["source"]["table"]
            )
            self.assertIn(two.document["panels"][0]["source"]["table"], two.document["panels"][0]["address"])
        one, two = Table.objects.filter(name="Small, with eggs")
        self.assertEqual((two.origin["of"], two.n_rows), ([ran["table"]], one.n_rows))
        # It is a ledger like any other: what it did can be taken back.
        back = self.act(f"tables/{ran['table']}/ledger/undo", {"revision": Table.objects.get(pk=ran["table"]).revision})
        self.assertEqual(back.json()["entries"][-1]["of"], 7)
        self.assertNotEqual(self.digest_of(ran["table"]), ran["digest"])

    def test_twice_on_another_file_gives_one_digest(self):
        routine = self.worked_on()
        other = SMALL.replace("a,", "c,", 1)
        runs = [self.run_on(routine, self.brought_in(other, "next.csv")).json() for _ in range(2)]
        self.assertEqual(runs[0]["digest"], runs[1]["digest"])
        self.assertNotEqual(runs[0]["digest"], self.digest_of(str(self.table.pk)))
        self.assertEqual(runs[0]["left_out"], ["Steps 1, 4, 7 were left out."])

    def test_another_persons_reading_of_the_same_ledger_has_the_same_digest(self):
        self.on_table("", kind="set-aside", rows=[3], reason="cracked")
        mine = self.digest_of(str(self.table.pk))
        bo = person("bo")
        upload = bring_in(bo, create_study(bo, "theirs"), "renamed.csv", [SMALL.encode()], print).upload
        client = signed_in(bo)
        body = {"name": "Small", "choices": {}}
        job = client.post(f"/api/uploads/{upload.pk}/store", body, content_type="application/json").json()
        decision = {"kind": "set-aside", "rows": [3], "reason": "cracked", "revision": 1}
        client.post(f"/api/tables/{job['table_id']}/ledger", decision, content_type="application/json")
        theirs = client.get(f"/api/tables/{job['table_id']}/ledger/digest").json()
        self.assertEqual(theirs["digest"], mine)


class OnAnotherFile(RoutineCase):
    def test_everything_in_the_way_is_listed_before_anything_runs(self):
        routine = self.worked_on()
        other = "bed,wet weight (mg),eggs,when\n" + "\n".join(
            f"{'abz'[i % 3]},{i * 4},{i},2026-04-{i + 1:02d}" for i in range(20)
        )
        upload = self.brought_in(other, "next.csv")
        tables, entries = Table.objects.count(), Entry.objects.count()
        result = self.fit(routine, upload).json()
        matched = {each["symbol"]: each["matched"] for each in result["matches"]}
        self.assertEqual(matched, {"tray": None, "mass": None, "eggs": "eggs", "when": "when"})
        self.assertEqual(
            {each["code"] for each in result["conflicts"]},
            {"missing-variable", "no-such-row", "other-cell", "other-rows"},
        )
        self.assertEqual(result["plates"][0], {"name": "Masses", "missing": ["mass", "tray"]})
        names = {"tray": "bed", "mass": "wet_weight", "eggs": "eggs", "when": "when"}
        result = self.fit(routine, upload, names=names).json()
        self.assertEqual(result["plates"][0]["missing"], [])
        by_code = {each["code"]: each for each in result["conflicts"]}
        self.assertEqual(
            set(by_code),
            {"new-level", "out-of-bounds", "no-such-row", "other-cell", "other-rows", "cannot-follow"} & set(by_code),
        )
        self.assertEqual((by_code["new-level"]["n_rows"], by_code["new-level"]["rows"][0]), (6, 3))
        self.assertEqual(by_code["out-of-bounds"]["rows"], [1, 19, 20])
        self.assertEqual((by_code["no-such-row"]["rows"], by_code["no-such-row"]["steps"]), ([30], [7]))
        self.assertEqual((tables, entries), (Table.objects.count(), Entry.objects.count()))
        ran = self.run_on(routine, upload, "April", names=names, leave_out=[7]).json()
        self.assertEqual((ran["n_steps"], ran["n_plates"]), (6, 2))
        columns = {v["symbol"]: v for v in self.client.get(f"/api/tables/{ran['table']}").json()["variables"]}
        self.assertEqual(list(columns), ["tray", "mass", "eggs", "when", "log_mass", "twice"])
        self.assertEqual((columns["mass"]["label"], columns["mass"]["unit"]), ("wet mass", "mg"))
        self.assertEqual(columns["tray"]["levels"], ["b", "upper", "z"])
        self.assertEqual(columns["log_mass"]["n_missing"], 1)  # 0 is on no log scale
        self.assertEqual(
            Table.objects.get(pk=ran["table"]).imports[0]["choices"]["symbols"], {"bed": "tray", "wet_weight": "mass"}
        )
        self.assertFalse(Upload.objects.filter(pk=upload).exists())

    def test_far_more_rows_than_there_are_cost_nothing(self):
        rows = [[1, 200_000_000]] * 2 + [[5, 199_999_999]]
        steps = [{"kind": "set-aside", "rows": rows, "reason": "all of them"}]
        routine = {"name": "x", "tables": [{"key": str(self.table.pk), "name": "x", "steps": steps}]}
        upload = self.brought_in()
        result = self.fit(routine, upload).json()
        beyond = {each["code"]: each for each in result["conflicts"]}["no-such-row"]
        self.assertEqual((beyond["n_rows"], beyond["rows"][:2]), (200_000_000 - 30, [31, 32]))
        ran = self.run_on(routine, upload, "All", leave_out=[]).json()
        self.assertEqual(Entry.objects.get(table_id=ran["table"]).rows, [[1, 30]])

    def test_the_next_file_of_that_kind_matches_by_itself(self):
        routine = self.worked_on()
        text = SMALL.replace("mass (g)", "weight (g)")
        names = {"tray": "tray", "mass": "weight", "eggs": "eggs", "when": "when"}
        ran = self.run_on(routine, self.brought_in(text, "may.csv"), names=names).json()
        second = self.client.get(f"/api/tables/{ran['table']}/routine").json()
        result = self.fit(second, self.brought_in(text, "june.csv")).json()
        self.assertEqual({m["symbol"]: m["matched"] for m in result["matches"]}, names)
        again = self.run_on(second, self.brought_in(text, "june.csv")).json()
        self.assertEqual(again["digest"], ran["digest"])

    def test_a_file_that_is_laid_out_otherwise_is_read_as_it_is(self):
        self.describe("mass", unit="mg")
        routine = self.client.get(f"/api/tables/{self.table.pk}/routine").json()
        routine["tables"][0]["choices"] = {"sheet": "March"}
        result = self.fit(
            routine, self.brought_in(json.dumps([{"tray": "a", "mass": 2, "eggs": 1, "when": "2026-03-01"}]), "x.json")
        )
        self.assertEqual(result.status_code, 200, result.content)

    def test_a_number_where_the_routine_knew_labels(self):
        routine = self.worked_on()
        result = self.fit(routine, self.brought_in(SMALL.replace("a,", "1,").replace("b,", "2,"))).json()
        self.assertIn("other-kind", {each["code"] for each in result["conflicts"]})


class Refused(RoutineCase):
    def test_what_is_no_routine_and_what_is_not_ones_own(self):
        routine = {"name": "x", "tables": [{"key": str(self.table.pk), "name": "x"}]}
        upload = self.brought_in()
        self.assertEqual(self.fit(routine, upload).status_code, 200)
        for broken in (
            {**routine, "version": 2},
            {**routine, "format": "other"},
            {**routine, "more": 1},
            {**routine, "tables": []},
            {**routine, "tables": [{**routine["tables"][0], "steps": [{"kind": "undo"}]}]},
            {
                **routine,
                "tables": [{**routine["tables"][0], "steps": [{"kind": "keep", "rows": [[1, 1]], "variable": "a b"}]}],
            },
            {**routine, "tables": [{**routine["tables"][0], "steps": [{"kind": "set-aside", "rows": [[0, 3]]}]}]},
            {
                **routine,
                "tables": [
                    {**routine["tables"][0], "steps": [{"kind": "correct", "cells": {"mass": {"x": {"new": ""}}}}]}
                ],
            },
        ):
            self.assert_problem(self.fit(broken, upload), 422, "invalid-request")
        eve = signed_in(person("eve"))
        body = {"routine": routine, "upload": upload, "name": "x"}
        for deed in ("fit", "run"):
            address = f"/api/studies/{self.study.pk}/routines/{deed}"
            self.assertEqual(eve.post(address, body, content_type="application/json").status_code, 404)
        self.assertEqual(eve.get(f"/api/tables/{self.table.pk}/routine").status_code, 404)

    def test_with_a_large_file_a_job_finds_out_the_same_and_can_be_stopped(self):
        routine = self.worked_on()
        at_once = self.fit(routine, self.brought_in()).json()
        with self.settings(STORE_AT_ONCE_BYTES=0):
            looking = self.fit(routine, upload := self.brought_in())
            self.assertEqual(looking.status_code, 202)
            job = Job.objects.get(pk=looking.json()["id"])
            self.assert_problem(self.client.get(f"/api/jobs/{job.pk}/fit"), 409, "no-answer")
            answering.run_job(job)
            self.assertEqual(self.client.get(f"/api/jobs/{job.pk}/fit").json(), at_once)
            stopped = Job.objects.get(pk=self.run_on(routine, upload, "Stopped").json()["id"])
            Job.objects.filter(pk=stopped.pk).update(stop_requested=True)
            answering.run_job(stopped)
            self.assertEqual(stopped.state, Job.State.STOPPED)
            self.assertFalse(Table.objects.filter(name="Stopped").exists())
            running = Job.objects.get(pk=self.run_on(routine, upload).json()["id"])
            answering.run_job(running)
        self.assertEqual(running.state, Job.State.DONE, running.problem)
        ran = self.client.get(f"/api/jobs/{running.pk}/ran").json()
        self.assertEqual(ran["table"], str(Table.objects.get(name="Again").pk))
        self.assertEqual(ran["n_plates"], 2)
        self.assertFalse(Upload.objects.filter(pk=upload).exists())

    def test_a_run_that_fails_leaves_nothing(self):
        steps = [{"kind": "describe", "variables": {"tray": {"kind": "continuous", "levels": ["q"]}}}]
        routine = {"name": "x", "tables": [{"key": str(self.table.pk), "name": "x", "steps": steps}]}
        before = Table.objects.count()
        with patch("server.ledger.services.repeat", side_effect=ChoiceError("q", "ab", where="levels")):
            answer = self.run_on(routine, self.brought_in())
        self.assert_problem(answer, 422, "unknown-choice")
        self.assertEqual((Table.objects.count(), Entry.objects.count()), (before, 0))

    def test_the_published_schema_is_the_one_in_force(self):
        published = json.loads((Path(__file__).parents[2] / "docs" / "routine.schema.json").read_text())
        self.assertEqual(published, published_schema())
        self.assertEqual(self.client.get("/api/routines/schema").json(), published)
