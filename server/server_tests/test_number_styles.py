"""How numbers are written: as the reader of a screen asks, and as each plate, table and report says for itself."""

import json

from heron.figure import styles
from heron.formatting import NUMBER_STYLES

from server.server_tests.cases import StudyCase, person, stored, unpacked

VALUES = [1000.5 + 37.25 * i * i for i in range(40)]
TEXT = "mass (g),bed\n" + "\n".join(f"{value},{'ab'[i % 2]}" for i, value in enumerate(VALUES))


class Written(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells")
        cls.study = cls.table.study
        cls.source = {
            "table": str(cls.table.pk),
            "kind": "shape",
            "variable": "mass",
            "layers": ["normal", "classes"],
            "width": 612.25,
        }

    def figure(self, style=None):
        asked = {"panels": json.dumps([{"source": self.source}])}
        more = {} if style is None else {"headers": {"X-Heron-Numbers": style}}
        return self.client.get(f"/api/tables/{self.table.pk}/figure", asked, **more)

    def test_a_screen_is_told_in_its_readers_marks_and_kept_apart(self):
        usual = self.figure()
        captions = {style: unpacked(self.figure(style).content)["caption"] for style in NUMBER_STYLES}
        self.assertEqual(captions["space-point"], unpacked(usual.content)["caption"])
        for style, signs in NUMBER_STYLES.items():
            self.assertIn(f"612{signs.decimal}2 g wide", captions[style])
            self.assertIn(f"mean (20{signs.thousands}128 g)", captions[style])
        self.assertNotEqual(usual["ETag"], self.figure("point-comma")["ETag"])
        self.assertEqual(self.figure("space-point")["ETag"], usual["ETag"])
        answer = self.figure("roman")
        self.assert_problem(answer, 400, "invalid-request")

    def test_plates_tables_and_reports_say_it_for_themselves(self):
        document = {"style": styles.ON_SCREEN, "panels": [{"source": self.source}], "numbers": "space-comma"}
        plate = self.act(f"studies/{self.study.pk}/plates", {"name": "Masses", "document": document}).json()
        words = self.act("plates/words", {"document": plate["document"]}).json()
        self.assertRegex(words["caption"], r"\d,\d")
        self.assertNotRegex(words["caption"], r"\d\.\d")
        numbers = {"source": {**self.source, "kind": "summary", "variables": ["mass"]}, "numbers": "point-comma"}
        numbers["source"] = {"table": str(self.table.pk), "kind": "summary", "variables": ["mass"]}
        shown = self.act("table-plates/shown", {"document": numbers}).json()["laid"]
        cells = " ".join(cell for line in shown["lines"] for cell in line["cells"])
        self.assertRegex(cells, r"\d\.\d{3} ")
        table = self.act(f"studies/{self.study.pk}/table-plates", {"name": "Sizes", "document": numbers}).json()
        self.assertEqual(table["document"]["numbers"], "point-comma")
        # What is frozen keeps its words, and so how its numbers are written.
        self.assertEqual(self.client.post(f"/api/plates/{plate['id']}/freeze?on=true").status_code, 200)
        frozen = self.client.get(f"/api/plates/{plate['id']}").json()
        other = {"version": frozen["version"], "name": "Masses", "document": {**document, "numbers": "none-point"}}
        answer = self.client.put(f"/api/plates/{plate['id']}", other, content_type="application/json")
        self.assert_problem(answer, 422, "frozen")
