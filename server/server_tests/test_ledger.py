"""Decisions: recorded, honoured everywhere, taken back, and never in each other's way."""

import numpy as np
from django.db import DatabaseError, connection, transaction
from heron import normality, summary
from heron.ledger import load_series

from server.ledger.models import Entry
from server.server_tests.cases import StudyCase, person, signed_in
from server.studies.models import Membership, Table
from server.studies.snapshots import TableSnapshot


class Deciding(StudyCase):
    def decide(self, kind="set-aside", rows=(2, 3), *, client=None, revision=None, path="", **more):
        fresh = Table.objects.get(pk=self.table.pk)
        body = {"kind": kind, "rows": list(rows), "reason": "a slip", "revision": revision or fresh.revision, **more}
        return (client or self.client).post(
            f"/api/tables/{self.table.pk}/ledger{path}", body, content_type="application/json"
        )

    def used(self, variable="mass"):
        return self.reading("spread", variable)["used"]

    def test_rows_set_aside_leave_every_reading_and_come_back(self):
        before = self.reading("spread", "mass")
        values, positions, _ = self.points("mass")
        self.assertEqual(self.decide().status_code, 200)
        result = self.reading("spread", "mass")
        self.assert_used(result, {"n": 27, "missing": 1, "missing_counts": {"n/r": 1}, "set_aside": 2})
        self.assertEqual((result["aside_rows"].tolist(), result["aside_values"].size), ([2, 3], 2))
        kept = ~np.isin(positions, [2, 3])
        self.assertEqual(self.points("mass")[1].tolist(), positions[kept].tolist())
        self.assertAlmostEqual(result["summary"]["mean"], summary.summarize(values[kept]).mean)
        self.assertEqual(sum(self.reading("classes", "mass")["classes"]["counts"]), 27)
        self.assertEqual(self.reading("counts", "tray")["used"]["set_aside"], 2)
        self.assertEqual(self.reading("rows", "mass", set_aside=True)["rows"].tolist(), [2, 3])
        self.assertEqual(self.reading("rows", "mass", missing=True)["rows"].tolist(), [5])
        rows = self.client.get(f"/api/tables/{self.table.pk}/rows?numbers=2,4").json()
        self.assertEqual([row["aside"] for row in rows], [True, False])
        self.assertNotEqual(rows[0]["cells"][1], "")  # still to be seen
        self.decide("put-back", [2, 3])
        again = self.reading("spread", "mass")
        self.assertEqual(again["summary"]["sd"], before["summary"]["sd"])
        self.assertEqual((self.points("mass")[1].tolist(), again["aside_rows"].size), (positions.tolist(), 0))

    def test_one_value_leaves_only_its_own_variable(self):
        self.decide(rows=[7], variable="mass")
        self.assertEqual((self.used()["set_aside"], self.used("eggs")["set_aside"]), (1, 0))

    def test_an_old_answer_is_not_given_for_a_new_revision(self):
        address = self.address("spread")
        tag = self.client.get(address, {"variable": "mass"})["ETag"]
        self.decide()
        self.assertEqual(
            self.client.get(address, {"variable": "mass"}, headers={"If-None-Match": tag}).status_code, 200
        )

    def test_undo_and_redo_are_entries_too(self):
        self.decide()
        self.decide(rows=[9])
        answer = self.decide(path="/undo").json()
        changed = [(entry["number"], entry["kind"], entry["stands"]) for entry in answer["entries"]]
        self.assertEqual(changed, [(2, "set-aside", False), (3, "undo", False)])
        self.assertEqual((answer["n_entries"], answer["can_undo"], answer["can_redo"]), (3, True, True))
        page = self.client.get(f"/api/tables/{self.table.pk}/ledger", {"before": 3}).json()
        self.assertEqual([entry["stands"] for entry in page["entries"]], [True, False])
        self.assertEqual(self.used()["set_aside"], 2)
        self.assertEqual(self.decide(path="/redo").json()["can_redo"], False)
        self.assertEqual(self.used()["set_aside"], 3)
        self.decide(path="/undo")
        self.decide(path="/undo")
        self.assertEqual(self.used()["set_aside"], 0)
        self.assert_problem(self.decide(path="/undo"), 422, "nothing-to-undo")
        self.decide(rows=[1])  # another branch: the abandoned one can be read, not made again
        self.assert_problem(self.decide(path="/redo"), 422, "nothing-to-redo")
        self.assertEqual(Entry.objects.count(), 7)
        numbers = list(Entry.objects.values_list("revision_before", "revision_after"))
        self.assertEqual(numbers, [(i, i + 1) for i in range(1, 8)])

    def test_the_second_writer_is_told_and_nothing_is_lost(self):
        seen = self.table.revision
        self.decide(rows=[9, 12])
        said = self.assert_problem(self.decide(rows=[9], revision=seen), 409, "changed-meanwhile")
        self.assertIn("ada changed this table meanwhile: entry 1", said["problem"])
        self.assertEqual(Entry.objects.count(), 1)
        # What is about other rows is taken, and its answer brings what came between; it is not, once all has changed.
        taken = self.decide(rows=[3], revision=seen).json()
        self.assertEqual([entry["number"] for entry in taken["entries"]], [1, 2])
        self.decide(path="/undo")
        self.assert_problem(self.decide(rows=[4], revision=seen), 409, "changed-meanwhile")
        self.assert_problem(self.decide(rows=[4], revision=99), 409, "changed-meanwhile")

    def test_nobody_takes_back_what_another_decided(self):
        ben = person("ben")
        Membership.objects.create(study=self.study, user=ben, role=Membership.Role.OWNER)
        self.decide(client=signed_in(ben))
        said = self.assert_problem(self.decide(path="/undo"), 409, "stands-on")
        self.assertIn("ben's", said["problem"])
        vera = person("vera")
        Membership.objects.create(study=self.study, user=vera, role=Membership.Role.VIEWER)
        self.assert_problem(self.decide(client=signed_in(vera)), 403, "not-allowed")

    def test_refusals_in_words(self):
        for wrong, code in (
            ({"rows": [31]}, "no-such-row"),
            ({"rows": [0]}, "no-such-row"),
            ({"rows": [2**63]}, "no-such-row"),
            ({"variable": "width"}, "no-variable"),
            ({"reason": "  "}, "no-reason"),
            ({"rows": []}, "invalid-request"),
            ({"kind": "delete"}, "invalid-request"),
        ):
            self.assert_problem(self.decide(**wrong), 422, code)
        self.assertEqual(Table.objects.get(pk=self.table.pk).revision, 1)

    def test_a_variable_is_described_and_everything_says_so(self):
        self.assertEqual(self.describe(label="wet mass", unit="mg", note="in the shell").status_code, 200)
        result = self.reading("spread", "mass")["subject"]
        self.assertEqual((result["label"], result["unit"]), ("wet mass", "mg"))
        variable = self.client.get(f"/api/tables/{self.table.pk}").json()["variables"][1]
        self.assertEqual((variable["label"], variable["note"], variable["lower"]), ("wet mass", "in the shell", None))
        self.assertTrue(
            self.client.get(f"/api/tables/{self.table.pk}/file?form=csv").content.startswith(b"tray,wet mass (mg)")
        )
        self.decide(path="/undo")
        self.assertEqual(self.reading("spread", "mass")["subject"]["label"], "mass")

    def test_a_density_does_not_leak_past_a_declared_bound(self):
        self.assertLess(self.reading("spread", "mass")["density"]["x"][0], 0)
        self.describe(lower=0)
        bounded = self.reading("density", "mass")["density"]
        self.assertEqual(bounded["x"][0], 0)
        area = np.sum((bounded["density"][1:] + bounded["density"][:-1]) / 2 * np.diff(bounded["x"]))
        self.assertAlmostEqual(area, 1, places=3)
        self.describe(lower=2)
        said = self.assert_problem(self.client.get(self.address("density"), {"variable": "mass"}), 422, "beyond-bound")
        self.assertEqual(said["rows"], [1, 2, 3, 4])
        self.assert_problem(self.describe(upper=1), 422, "bounds-order")
        self.describe(lower=None)
        self.assertLess(self.reading("density", "mass")["density"]["x"][0], 0)

    def test_descriptions_are_refused_in_words(self):
        self.assert_problem(self.describe(), 422, "no-change")
        self.assert_problem(self.describe(label=""), 422, "invalid-request")
        self.assert_problem(self.describe(label="x", revision=9), 409, "changed-meanwhile")

    def test_a_line_up_hides_the_data_and_keeps_what_was_picked(self):
        shown = self.reading("line-up", "mass", seed=5)
        expected = normality.line_up(
            load_series(TableSnapshot.of(self.table).state, ["mass"]).numbers("mass"), seed=5, decimals=2
        )
        self.assertEqual(len(shown["panels"]), 20)
        for panel, values in zip(shown["panels"], expected.panels, strict=True):
            np.testing.assert_array_equal(panel["ordered"], values)
            self.assertEqual(panel["counts"].sum(), 29)
        self.assertNotIn("place", shown)
        answer = self.on_table("/line-up", variable="mass", seed=5, place=3, seen_before=False)
        self.assertEqual(answer.json(), {"place": expected.place})
        (entry,) = self.client.get(f"/api/tables/{self.table.pk}/ledger").json()["entries"]
        self.assertEqual(
            entry["changes"]["mass"], {"seed": 5, "picked": 4, "data": expected.place + 1, "seen_before": False}
        )
        self.assert_problem(self.decide(path="/undo"), 422, "nothing-to-undo")  # evidence, not a decision
        self.assert_problem(
            self.on_table("/line-up", variable="tray", seed=5, place=3, seen_before=False), 422, "not-numeric"
        )

    def test_entries_cannot_be_changed_behind_the_ledgers_back(self):
        self.decide()
        with connection.cursor() as cursor:
            for statement in ("UPDATE ledger_entry SET reason = 'other'", "DELETE FROM ledger_entry"):
                with self.assertRaisesMessage(DatabaseError, "only ever added"), transaction.atomic():
                    cursor.execute(statement)

        self.assertEqual(self.client.delete(f"/api/tables/{self.table.pk}").status_code, 204)
        self.assertFalse(Entry.objects.exists())  # with their table they go
