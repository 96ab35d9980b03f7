"""Several at once: decisions that race, and the demo study as a person finds it."""

import json
from concurrent.futures import ThreadPoolExecutor

from django.db import connections
from django.test import TransactionTestCase
from heron.numbering import as_text, joined

from demo.generate import FOLDER
from server.demo import services as demo
from server.ledger.models import Entry
from server.ledger.services import RowDecision, decide
from server.problems import Refusal
from server.server_tests.cases import StudyCase, person, signed_in, stored
from server.studies.models import Study, Table


class Races(TransactionTestCase):
    def test_of_decisions_made_at_once_those_that_meet_are_told_and_the_others_stand(self):
        owner = person("ada")
        table = stored(owner)

        def one(row: int) -> str:
            try:
                decide(owner, Table.objects.get(pk=table.pk), RowDecision("set-aside", [row, 30], "", "at once", 1))
            except Refusal as refused:
                return refused.code
            finally:
                connections.close_all()
            return "stands"

        with ThreadPoolExecutor(4) as pool:
            said = sorted(pool.map(one, range(1, 5)))
        self.assertEqual(said, ["changed-meanwhile"] * 3 + ["stands"])
        entry = Entry.objects.get()
        table.refresh_from_db()
        self.assertEqual((table.revision, table.state["aside"][""]), (2, as_text(entry.rows)))

        def apart(row: int) -> None:
            try:
                decide(owner, Table.objects.get(pk=table.pk), RowDecision("set-aside", [row], "", "apart", 2))
            finally:
                connections.close_all()

        with ThreadPoolExecutor(4) as pool:
            list(pool.map(apart, range(5, 25)))  # each knows of nobody else's
        table.refresh_from_db()
        numbers = list(Entry.objects.values_list("number", "revision_after"))
        self.assertEqual(numbers, [(i, i + 1) for i in range(1, 22)])
        self.assertEqual(table.state["aside"][""], as_text(joined([*entry.rows, (5, 24)])))


class DemoStudy(StudyCase):
    """What was planted in the demo data can be found with the tool."""

    @classmethod
    def setUpTestData(cls) -> None:
        cls.owner = person("ada")
        cls.study = demo.load(cls.owner)
        cls.truth = json.loads((FOLDER / "truth.json").read_text())
        cls.table = cls.study.tables.get(name="Oyster nursery")

    def table_named(self, name: str) -> Table:
        return self.study.tables.get(name=name)

    def test_it_is_loaded_once(self):
        self.assertEqual(demo.load(self.owner).pk, self.study.pk)
        self.assertEqual(Study.objects.count(), 1)
        other = signed_in(person("ben"))
        self.assertEqual(other.get(f"/api/tables/{self.table.pk}").status_code, 404)

    def test_missing_values_are_declared_by_their_codes(self):
        variables = {v["symbol"]: v for v in self.client.get(f"/api/tables/{self.table.pk}").json()["variables"]}
        self.assertEqual(variables["salinity"]["missing_counts"], {"-99": 7, "blank": 12})
        self.assertEqual(variables["condition_index"]["missing_counts"], {"blank": 8, "n/r": 3})
        kinds = [variable["kind"] for variable in variables.values()]
        self.assertEqual(kinds[:3] + kinds[7:9], ["identifier", "category", "ordered", "count", "ordered"])

    def test_the_entry_mistakes_stand_at_the_ends_and_the_influential_row_does_not(self):
        for mistake in self.truth["oyster_nursery"]["mistakes"]:
            values, rows, _ = self.points(mistake["variable"])
            ends = set(rows[values.argsort()[[0, 1, -2, -1]]])
            beyond = set(self.points(mistake["variable"], layers=["box"])[1])
            if mistake["variable"] != "shell_mass":  # a wet weighing is no record among heavy shells
                self.assertIn(mistake["row"], ends, mistake)
        influential = self.truth["oyster_nursery"]["influential"][0]["row"]
        self.assertNotIn(influential, beyond)  # it is odd for two variables together, not for one

    def test_two_kilns_make_two_peaks_and_heaps_stand_at_fives(self):
        strength = self.reading("density", "strength_1", self.table_named("Tile kiln"))["density"]["density"]
        inner = strength[1:-1]
        self.assertEqual(int(((inner > strength[:-2]) & (inner > strength[2:])).sum()), 2)
        waits = self.reading("classes", "wait", self.table_named("Night bus"), rule="integers")["classes"]
        counts = dict(zip([edge + 0.5 for edge in waits["boundaries"]], waits["counts"], strict=False))
        for five in (10, 15, 20):
            self.assertGreater(counts[five], 2 * counts[five - 1])

    def test_gaps_stand_where_they_were_planted(self):
        tide = self.table_named("Tide pair")
        for header, spans in self.truth["tide_pair"]["gaps"].items():
            rows = self.reading("rows", header.split(" (")[0].replace(" ", "_"), tide, missing=True)["rows"]
            planted = [row for first, last in spans for row in range(first, last + 1)]
            self.assertEqual(rows.tolist(), planted)
