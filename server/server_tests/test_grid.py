"""The grid: every row in its place, in any order, under any condition."""

import numpy as np

from server.server_tests.cases import StudyCase, stored_in
from server.studies.models import Table


class Pages(StudyCase):
    def page(self, table: Table | None = None, **asked):
        response = self.client.get(f"/api/tables/{(table or self.table).pk}/grid", asked)
        self.assertEqual(response.status_code, 200, response.content[:300])
        return response.json()

    def numbers(self, **asked) -> list[int]:
        return [row["row"] for row in self.page(**asked)["rows"]]

    def test_pages_in_the_tables_own_order(self):
        page = self.page(start=3, count=3)
        self.assertEqual((page["n"], page["start"], [row["row"] for row in page["rows"]]), (30, 3, [4, 5, 6]))
        self.assertEqual(page["rows"][1]["cells"], ["a", "n/r", "0", "2026-03-05"])
        self.assertEqual(page["rows"][1]["missing"], [False, True, False, False])
        self.assertEqual(self.page(start=29, count=10)["rows"][0]["row"], 30)
        self.assertEqual(self.page(start=100)["rows"], [])

    def test_sorted_both_ways_with_missing_last_and_ties_in_their_order(self):
        up = self.numbers(sort="eggs")
        self.assertEqual(up[:8], [1, 5, 9, 13, 17, 21, 25, 29])
        self.assertEqual(self.numbers(sort="eggs", descending=True)[:7], [4, 8, 12, 16, 20, 24, 28])
        self.assertEqual(self.numbers(sort="mass", descending=True)[:2] + self.numbers(sort="mass")[-1:], [30, 29, 5])
        self.assertEqual(self.numbers(sort="mass", descending=True)[-1], 5)
        self.assertEqual(self.numbers(sort="tray")[:3], [1, 3, 5])
        self.assertEqual(sorted(up), list(range(1, 31)))

    def test_rows_under_a_condition(self):
        self.assertEqual(self.numbers(variable="mass", missing=True), [5])
        self.assertEqual(self.numbers(variable="eggs", low=6, high=8), [3, 7, 11, 15, 19, 23, 27])
        self.assertEqual(self.page(variable="tray", level="b")["n"], 15)
        self.assertEqual(self.page(variable="tray", level="nothing")["n"], 0)
        self.assertEqual(self.numbers(variable="tray", level="b", sort="mass", descending=True)[:2], [30, 28])
        self.assert_problem(self.client.get(f"/api/tables/{self.table.pk}/grid", {"sort": "width"}), 422, "no-variable")
        asked = {"variable": "tray", "low": 1}
        self.assert_problem(self.client.get(f"/api/tables/{self.table.pk}/grid", asked), 422, "not-numeric")

    def test_a_row_is_found_in_any_order(self):
        self.assertEqual(self.page(find=7)["place"], 6)
        self.assertEqual(self.page(find=30, sort="mass", descending=True)["place"], 0)
        self.assertEqual(self.page(find=1, variable="tray", level="b")["place"], None)
        self.assertEqual(self.page(find=99)["place"], None)

    def test_what_is_set_aside_stays_to_be_seen(self):
        for body in ({"rows": [2, 9]}, {"rows": [4], "variable": "mass"}):
            revision = Table.objects.get(pk=self.table.pk).revision
            asked = {"kind": "set-aside", "reason": "a slip", "revision": revision, **body}
            self.client.post(f"/api/tables/{self.table.pk}/ledger", asked, content_type="application/json")
        rows = self.page()["rows"]
        self.assertEqual([row["row"] for row in rows if row["aside"]], [2, 9])
        self.assertEqual((rows[3]["aside_values"], rows[1]["cells"][1]), (["mass"], "1.15"))
        self.assertEqual(self.numbers(set_aside=True), [2, 9])

    def test_a_text_is_found_from_row_to_row(self):
        def sought(text, after=-1, **view):
            address = f"/api/tables/{self.table.pk}/grid/sought"
            result = self.client.get(address, {"text": text, "after": after, **view}).json()
            return result["n"], result["row"], result["variable"]

        self.assertEqual(sought("N/R"), (1, 5, "mass"))
        self.assertEqual(
            [sought("9", after) for after in (-1, 3, 29)], [(7, 4, "eggs"), (7, 8, "eggs"), (7, 4, "eggs")]
        )
        self.assertEqual(sought("2026-03-09"), (1, 9, "when"))
        self.assertEqual(sought("b", sort="mass", descending=True), (15, 30, "tray"))
        self.assertEqual(sought("nowhere"), (0, None, ""))

    def test_deep_in_a_large_table(self):
        values = np.random.default_rng(5).permutation(200_000)
        table = stored_in(self.study, "x\n" + "\n".join(map(str, values)), "Large")
        page = self.page(table, sort="x", start=150_000, count=2)
        self.assertEqual([row["cells"] for row in page["rows"]], [["150000"], ["150001"]])
        self.assertEqual(values[page["rows"][0]["row"] - 1], 150_000)


class Audits(StudyCase):
    def test_the_audit_follows_the_decisions_and_names_rows_from_one(self):
        address = f"/api/tables/{self.table.pk}/audit"
        result = self.client.get(address)
        self.assertEqual(
            (result.json()["n_rows"], result.json()["n_complete"], result.json()["findings"]), (30, 29, [])
        )
        self.assertEqual(result.json()["patterns"][1], {"symbols": ["mass"], "n": 1})
        self.assertEqual(self.client.get(address, headers={"If-None-Match": result["ETag"]}).status_code, 304)
        self.describe(upper=50)
        (impossible,) = self.client.get(address).json()["findings"]
        self.assertEqual((impossible["code"], impossible["rows"]), ("impossible", [29, 30]))
