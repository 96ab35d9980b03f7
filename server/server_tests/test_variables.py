"""What is said of variables, corrected cells, reading a file again, and looking back: each seen by every reading."""

import heron
import numpy as np
from heron import intake
from heron.ledger import replay

from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.server_tests.cases import SMALL, StudyCase, stored_in
from server.studies import selectors
from server.studies.models import Table, Variable
from server.studies.snapshots import TableSnapshot


class Variables(StudyCase):
    def variable(self, symbol="mass", **where):
        variables = self.client.get(f"/api/tables/{self.table.pk}", where).json()["variables"]
        return next(variable for variable in variables if variable["symbol"] == symbol)

    def test_a_kind_says_what_it_loses_then_everything_follows(self):
        asked = {"variable": "tray", "changes": {"kind": "continuous"}}
        said = self.act(f"tables/{self.table.pk}/ledger/losses", asked).json()
        self.assertEqual(said, ["30 values of 30 would count as missing: a 15, b 15."])
        self.assertEqual(self.describe("eggs", kind="category").status_code, 200)
        self.assertEqual((self.variable("eggs")["kind"], self.variable("eggs")["n_levels"]), ("category", 4))
        counted = self.reading("counts", "eggs")["counts"]["rows"]
        self.assertEqual([row["count"] for row in counted], [8, 8, 7, 7])
        self.assert_problem(self.client.get(self.address("spread"), {"variable": "eggs"}), 422, "not-numeric")
        self.on_table("/undo")
        self.assertEqual(self.reading("spread", "eggs")["used"]["n"], 30)

    def test_levels_codes_decimals_and_limits_of_many_at_once(self):
        self.describe("tray", levels=["b", "a"], level_labels={"a": "deep"})
        self.assertEqual(self.variable("tray")["levels"], ["b", "deep"])
        self.describe("tray", levels=["deep", "b"], level_labels={"deep": "deeper", "b": "flat"})
        self.assertEqual(self.variable("tray")["levels"], ["deeper", "flat"])
        self.describe("mass", "eggs", decimals=3, target=6, spec_upper=9, detection_limit=1.5, below_limit="half")
        mass = self.variable()
        self.assertEqual((mass["decimals"], mass["target"], mass["n_limited"]), (3, 6, 3))
        self.assertEqual(self.variable("eggs")["spec_upper"], 9)
        self.assertEqual(self.reading("spread", "mass")["summary"]["minimum"], 0.75)
        rows = self.client.get(f"/api/tables/{self.table.pk}/rows?numbers=1").json()
        self.assertEqual(rows[0]["cells"][1], "<1.5")
        self.describe("mass", missing_codes=["n/r", "2.04"], detection_limit=None)
        self.assertEqual(self.variable()["missing_counts"], {"n/r": 1, "2.04": 1})
        self.assertEqual(Entry.objects.count(), 4)

    def test_what_cannot_be_is_refused_in_words(self):
        for wrong, code in (
            ({"levels": ["c"]}, "no-level"),
            ({"kind": "date-time"}, "unknown-choice"),
            ({"spec_lower": 3, "spec_upper": 2}, "bounds-order"),
        ):
            self.assert_problem(self.describe("tray" if code == "no-level" else "mass", **wrong), 422, code)
        self.assert_problem(self.describe("width", label="x"), 422, "no-variable")
        self.assert_problem(self.on_table("/describe", unit_variable="width"), 422, "no-variable")
        self.assertEqual(self.on_table("/describe", unit_variable="tray").status_code, 200)
        self.assertEqual(self.client.get(f"/api/tables/{self.table.pk}").json()["unit_variable"], "tray")

    def test_a_ratio_to_the_mean_needs_a_zero_that_means_none(self):
        self.assertIsNotNone(self.reading("spread", "mass")["summary"]["cv"])
        self.describe(true_zero=False)
        self.assertIsNone(self.reading("spread", "mass")["summary"]["cv"])

    def test_a_correction_keeps_the_old_value_and_is_read_everywhere(self):
        cells = [{"variable": "mass", "row": 5, "text": "2.5"}, {"variable": "tray", "row": 1, "text": "c"}]
        answer = self.on_table("/correct", cells=cells, reason="read from the sheet")
        self.assertEqual(answer.status_code, 200, answer.content)
        self.assertEqual(answer.json()["entries"][0]["changes"]["mass"]["5"], {"old": "n/r", "new": "2.5"})
        self.assertEqual((self.reading("spread", "mass")["used"]["n"], self.variable()["n_missing"]), (30, 0))
        self.assertEqual(self.variable("tray")["levels"], ["a", "b", "c"])
        page = self.client.get(f"/api/tables/{self.table.pk}/grid?count=5").json()
        self.assertEqual(page["rows"][4]["cells"][1], "2.50")
        for text, row, code in (("heavy", 1, "not-of-its-kind"), ("2.50", 5, "no-change"), ("1", 31, "no-such-row")):
            wrong = self.on_table("/correct", cells=[{"variable": "mass", "row": row, "text": text}], reason="x")
            self.assert_problem(wrong, 422, code) if code != "no-change" else self.assertEqual(wrong.status_code, 422)
        self.assert_problem(self.on_table("/correct", cells=cells, reason=" "), 422, "no-reason")
        self.on_table("/undo")
        self.assertEqual((self.variable()["n_missing"], self.variable("tray")["levels"]), (1, ["a", "b"]))

    def test_a_table_is_read_again_from_its_own_file_and_decisions_follow_their_rows(self):
        self.on_table("", kind="set-aside", rows=[2, 5], reason="a slip")
        preview = self.act(f"tables/{self.table.pk}/uploads", {}).json()
        self.assertEqual((preview["again"], preview["match"]), (str(self.table.pk), ["30 rows matched."]))
        other = self.act(f"uploads/{preview['upload_id']}/preview", {"header": "none"}).json()
        self.assertEqual(other["match"][0], "30 rows matched, each numbered 1 more than before.")
        address = f"uploads/{preview['upload_id']}/store-again"
        job = self.act(address, {"choices": {"header": "none"}}).json()
        self.assertEqual((job["state"], job["table_id"]), ("done", str(self.table.pk)))
        table = self.client.get(f"/api/tables/{self.table.pk}").json()
        self.assertEqual((table["n_rows"], table["revision"], table["n_aside"]), (31, 3, 2))
        rows = self.client.get(f"/api/tables/{self.table.pk}/rows?numbers=1,3,6").json()
        self.assertEqual([row["aside"] for row in rows], [False, True, True])
        self.assertEqual(rows[0]["cells"][0], "tray")
        fresh = selectors.table(self.owner, self.table.pk)
        read = [intake.read(SMALL.encode(), header=header).table for header in (None, "none")]
        replayed = replay(ledger.decisions(ledger.entries(fresh)), *read)
        for symbol, column in TableSnapshot.of(fresh).active().columns.items():
            np.testing.assert_array_equal(column.reasons, replayed[symbol].reasons)
        past = self.client.get(f"/api/tables/{self.table.pk}", {"at": 2}).json()
        self.assertEqual((past["n_rows"], past["revision"], past["latest_revision"]), (30, 2, 3))
        self.on_table("/undo")
        self.assertEqual(self.reading("spread", "mass")["used"]["set_aside"], 2)
        self.assertEqual(Variable.objects.filter(table=self.table).count(), 8)  # nothing read is thrown away

    def test_values_below_a_limit_are_kept_from_the_first_reading_on(self):
        pasted = {"text": "lead\n<0.5\n2.5\n3\n4\n"}
        preview = self.act(f"studies/{self.study.pk}/pastes", pasted).json()
        remedy = preview["problems"][0]["remedies"][0]
        choices = {"below_limits": remedy["below_limits"]}
        shown = self.act(f"uploads/{preview['upload_id']}/preview", choices).json()
        self.assertEqual((shown["variables"][0]["n_limited"], shown["rows"][0]["cells"]), (1, ["<0.5"]))
        job = self.act(f"uploads/{preview['upload_id']}/store", {"name": "Lead", "choices": choices}).json()
        table = Table.objects.get(pk=job["table_id"])
        spread = self.reading("spread", "lead", table)
        self.assertEqual((spread["used"]["n"], spread["summary"]["minimum"]), (4, 0.5))
        self.assertIsNone(spread["summary"]["q1"])  # a quarter of the values is only known to lie below it
        self.assertIn("25 %", spread["summary"]["undefined"]["q1"])
        self.assertEqual(spread["subject"]["n_limited"], 1)
        expected = heron.below_detection([np.nan, 2.5, 3, 4], [0.5, np.nan, np.nan, np.nan])
        for below_limit in ("half", "missing"):  # whatever stands for it
            self.act(
                f"tables/{table.pk}/ledger/describe",
                {"variables": ["lead"], "changes": {"below_limit": below_limit},
                 "revision": Table.objects.get(pk=table.pk).revision},
            )  # fmt: skip
            shown = self.figure({"kind": "shape", "table": str(table.pk), "variable": "lead"})["caption"]
            self.assertEqual("by Kaplan-Meier mean 2.5, SD 1.472" in shown, below_limit == "half", shown)
            found = self.reading("detection", "lead", table)["found"]
            self.assertEqual((found["n_below"], found["ways"][0]["mean"]), (1, expected.ways[0].mean))

    def test_every_point_of_the_ledger_can_be_looked_back_at(self):
        self.on_table("", kind="set-aside", rows=[2], reason="a slip")
        self.on_table("/correct", cells=[{"variable": "mass", "row": 5, "text": "2.5"}], reason="read again")
        self.describe("mass", label="wet mass", kind="text")
        used = [self.reading("spread", "mass", at=at)["used"] for at in (1, 2, 3)]
        self.assertEqual([(each["n"], each["set_aside"]) for each in used], [(29, 0), (28, 1), (29, 1)])
        self.assertEqual(self.variable(at=3)["label"], "mass")
        self.assertEqual((self.variable()["label"], self.variable()["kind"]), ("wet mass", "text"))
        page = self.client.get(f"/api/tables/{self.table.pk}/grid?count=5&at=2").json()
        self.assertEqual(page["rows"][4]["cells"][1], "n/r")
        for wrong, code in ((9, "no-such-point"), (0, "no-such-point"), ("x", "invalid-request")):
            answer = self.client.get(f"/api/tables/{self.table.pk}", {"at": wrong})
            self.assertEqual(answer.json()["code"], code)

    def test_a_file_can_mark_what_is_set_aside(self):
        self.on_table("", kind="set-aside", rows=[2], reason="a slip")
        self.on_table("", kind="set-aside", rows=[3], variable="mass", reason="a slip")
        lines = self.client.get(f"/api/tables/{self.table.pk}/file?form=csv&marked=true").content.decode().split("\n")
        self.assertEqual([line.split(",")[-1] for line in lines[:5]], ["set aside", "", "row", "mass", ""])
        self.assertEqual(lines[2].split(",")[1], "1.15")


class Replays(StudyCase):
    def test_replaying_all_kinds_of_decisions_gives_the_same_table_bit_for_bit(self):
        self.on_table("/correct", cells=[{"variable": "mass", "row": 7, "text": ""}], reason="smudged")
        self.describe("eggs", kind="ordered", level_labels={"3": "three"})
        self.describe("mass", missing_codes=["n/r", "1.15"], detection_limit=2, below_limit="limit")
        self.on_table("", kind="set-aside", rows=[4, 9], variable="mass", reason="a slip")
        self.on_table("/undo")
        self.on_table("/redo")
        table = selectors.table(self.owner, self.table.pk)
        stands = TableSnapshot.of(table).active()
        first = {variable.symbol: variable.imported for variable in TableSnapshot.of(table).variables}
        replayed = replay(ledger.decisions(ledger.entries(table)), type(stands)(table.name, 30, first))
        for symbol, column in stands.columns.items():
            again = replayed[symbol]
            self.assertEqual((column.levels, column.missing_codes), (again.levels, again.missing_codes))
            np.testing.assert_array_equal(column.reasons, again.reasons)
            if column.numbers is not None:
                self.assertEqual(column.numbers.tobytes(), again.numbers.tobytes())
        self.assertEqual(stored_in(self.study, SMALL, "Fresh").revision, 1)
