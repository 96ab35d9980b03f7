"""The methods paragraph over HTTP: what plates stand on, of which study, told from the Ledger as it stands."""

import numpy as np

from server.server_tests.cases import person, signed_in
from server.server_tests.test_plates import PlateCase


class Methods(PlateCase):
    def told(self, plates=None, client=None):
        address = f"/api/studies/{self.study.pk}/methods"
        response = (client or self.client).post(address, {"plates": plates}, content_type="application/json")
        self.assertEqual(response.status_code, 200, response.content[:400])
        return response.json()

    def test_decisions_on_what_is_used_are_told_and_others_are_not(self):
        self.keep()
        self.on_table("", kind="set-aside", rows=[10, 11], reason="broken")
        self.on_table("", kind="set-aside", rows=[12], reason="wet", variable="mass")
        self.on_table("", kind="set-aside", rows=[13], reason="elsewhere", variable="length")
        self.on_table("/describe", variables=["mass"], changes={"note": "weighed dry"})
        self.on_table("", kind="set-aside", rows=[20], reason="a mistake")
        self.on_table("/undo")
        data, analyses, software = self.told()["paragraphs"]
        self.assertTrue(data.startswith("Shells: 120 rows of 8 variables, read from shells.csv, SHA-256 beginning "))
        self.assertIn("Missing values by code: n/r 1.", data)
        self.assertIn("2 rows (10, 11) as “broken” (Ledger 1)", data)
        self.assertIn("1 value of mass (row 12) as “wet” (Ledger 2)", data)
        self.assertIn("Mass was described: note weighed dry (Ledger 4).", data)
        for part in ("elsewhere", "a mistake", "Ledger 5"):
            self.assertNotIn(part, data)
        self.assertEqual(analyses, "Bars show one standard deviation to each side of the mean.")
        self.assertIn(f"numpy {np.__version__}", software)
        self.assertIn("Velvet Heron 0.1.0, Python 3.", software)

    def test_it_covers_the_plates_chosen_with_their_citations(self):
        first = self.keep(self.document(self.source("differences", variable="mass", by="bed")))
        shape = self.source("shape", variable="length", bandwidth="plug-in", quantile_definition=8)
        second = self.keep(self.document(shape), name="Lengths")
        told = self.told([second["id"]])
        self.assertIn("definition 8", told["paragraphs"][1])
        self.assertIn("plug-in bandwidth", told["paragraphs"][1])
        self.assertNotIn("Games", " ".join(told["citations"]))
        whole = self.told()
        self.assertIn("Games and Howell 1976", whole["paragraphs"][1])
        self.assertEqual(whole["citations"], sorted(whole["citations"]))
        self.assertTrue(set(told["citations"]) < set(whole["citations"]))
        pairs = {"x": "length", "y": "mass", "lines": [], "shown": "hexagons", "across": 30}
        third = self.keep(self.document(self.source("pair", **pairs)), name="Pairs")
        told = self.told([third["id"]])
        self.assertEqual(told["paragraphs"][1], "Pairs are counted in hexagons, 30 across (Carr and others 1987).")
        self.assertTrue(whole["markdown"].startswith(f"# Methods of {self.study.title}\n\nShells"))
        self.assertEqual(self.told([])["citations"], [])
        self.assertEqual(first["stages"], ["Compare"])

    def test_variables_that_follow_from_others_are_told(self):
        way = {"how": "scale", "setting": {"way": "log", "base": "10", "offset": 0}}
        made = self.on_table("/derive", of="mass", label="log mass", way=way)
        self.assertEqual(made.status_code, 200, made.content[:300])
        symbol = next(
            each["symbol"]
            for each in self.client.get(f"/api/tables/{self.table.pk}").json()["variables"]
            if each["label"] == "log mass"
        )
        self.keep(self.document(self.source("shape", variable=symbol, layers=["density"])))
        self.assertIn("Log mass is log₁₀ of mass.", self.told()["paragraphs"][0])

    def test_nobody_else_is_told_anything(self):
        self.keep()
        other = signed_in(person("eve"))
        response = other.post(
            f"/api/studies/{self.study.pk}/methods", {"plates": None}, content_type="application/json"
        )
        self.assertEqual(response.status_code, 404)
