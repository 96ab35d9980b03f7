"""Variables that follow from others, named classes, and counts of two variables together."""

import json
from urllib.parse import urlencode

from django.test import Client

from server.server_tests.cases import StudyCase, person, signed_in
from server.studies.models import ClassStructure, Membership, Table


class Following(StudyCase):
    def derive(self, label="size", of="mass", boundaries=(0, 4, 60), **more):
        way = {"how": "classes", "boundaries": list(boundaries), "closed": "left"}
        return self.on_table("/derive", of=of, label=label, way=way, **more)

    def variable(self, symbol):
        result = self.client.get(f"/api/tables/{self.table.pk}").json()["variables"]
        return next((each for each in result if each["symbol"] == symbol), None)

    def test_it_is_a_variable_like_others_and_follows_its_source(self):
        self.assertEqual(self.derive().json(), {"symbol": "size", "also": []})
        variable = self.variable("size")
        self.assertEqual(
            (variable["kind"], variable["levels"], variable["follows_from"]),
            ("ordered", ["[0, 4)", "[4, 60]"], ["mass"]),
        )
        self.assertEqual(variable["missing_counts"], {"n/r": 1, "outside the classes": 1})  # the last mass is 63
        before = {row["value"]: row["count"] for row in self.reading("counts", "size")["counts"]["rows"]}
        self.on_table("/correct", cells=[{"variable": "mass", "row": 1, "text": "59"}], reason="misread")
        self.on_table("", kind="set-aside", rows=[2], reason="broken", variable="mass")
        after = self.reading("counts", "size")
        counts = {row["value"]: row["count"] for row in after["counts"]["rows"]}
        self.assertEqual(counts, {"[0, 4)": before["[0, 4)"] - 2, "[4, 60]": before["[4, 60]"] + 1})
        self.assertEqual(after["used"]["set_aside"], 1)
        grid = self.client.get(f"/api/tables/{self.table.pk}/grid", {"count": 3}).json()
        self.assertIn("[4, 60]", str(grid))
        split = self.reading("split", "mass", by="size")
        self.assertEqual([group["n"] for group in split["groups"]], list(counts.values()))

    def test_it_is_undone_made_again_and_looked_back_at(self):
        self.derive()
        self.derive(label="size of size", of="mass", boundaries=(0, 100))
        self.on_table("/undo")
        self.assertIsNone(self.variable("size_of_size"))
        self.assertIsNotNone(self.variable("size"))
        self.on_table("/undo")
        self.assertIsNone(self.variable("size"))
        gone = self.client.get(self.address("counts"), {"variable": "size"})
        self.assert_problem(gone, 404, "no-variable")
        self.on_table("/redo")
        revision = Table.objects.get(pk=self.table.pk).revision
        self.on_table("/take-away", variable="size")
        self.assertIsNone(self.variable("size"))
        self.assertEqual(self.reading("counts", "size", at=revision)["counts"]["n"], 28)

    def test_what_cannot_be_is_refused_with_its_reason(self):
        self.assert_problem(self.derive(of="tray"), 422, "not-numeric")
        self.assert_problem(self.derive(of="nothing"), 422, "no-variable")
        self.assert_problem(self.derive(boundaries=(3, 1)), 422, "boundaries-order")
        self.assert_problem(self.derive(label="tray"), 422, "label-taken")
        self.assert_problem(self.on_table("/take-away", variable="mass"), 422, "not-derived")
        self.derive()
        cells = [{"variable": "size", "row": 1, "text": "[0, 4)"}]
        self.assert_problem(self.on_table("/correct", cells=cells, reason="x"), 422, "follows")
        self.assert_problem(self.describe("mass", kind="category"), 409, "stands-on")
        self.assertEqual(self.variable("mass")["kind"], "continuous")
        self.assertEqual(self.describe("size", label="how heavy").status_code, 200)
        self.assertEqual(self.variable("size")["label"], "how heavy")


class NamedClasses(StudyCase):
    def test_kept_replaced_and_removed_by_those_who_may(self):
        address = f"studies/{self.study.pk}/classes"
        self.act(address, {"name": "bands", "boundaries": [0, 1, 5]})
        self.act(address, {"name": "bands", "boundaries": [0, 2], "closed": "right"})
        [kept] = self.client.get(f"/api/{address}").json()
        self.assertEqual((kept["name"], kept["boundaries"], kept["closed"]), ("bands", [0, 2], "right"))
        self.assert_problem(self.act(address, {"name": "x", "boundaries": [2, 1]}), 422, "boundaries-order")
        viewer = person("vera")
        Membership.objects.create(study=self.study, user=viewer, role=Membership.Role.VIEWER)
        self.assertEqual(signed_in(viewer).delete(f"/api/classes/{kept['id']}").status_code, 403)
        self.client.delete(f"/api/classes/{kept['id']}")
        self.assertFalse(ClassStructure.objects.exists())


class Together(StudyCase):
    def test_classes_within_levels_with_what_is_missing(self):
        asked = {"by": "tray", "boundaries": [0, 4, 60]}
        result = self.reading("cross", "mass", **asked)
        self.assertEqual(result["table"]["columns"], ["a", "b"])
        self.assertEqual([row["label"] for row in result["table"]["rows"]], ["[0, 4)", "[4, 60]"])
        self.assertEqual((result["table"]["n"], result["outside"]), (28, 1))
        with_missing = self.reading("cross", "mass", **asked, missing=True)["table"]
        self.assertEqual(with_missing["rows"][-1]["counts"], [1, 0, 0])  # row 5, tray a
        self.assertEqual(with_missing["rows"][-1]["total_percent"], 100 / 29)

    def test_levels_within_levels(self):
        result = self.reading("cross", "tray", by="eggs")["table"]
        self.assertEqual(result["columns"], ["0", "3", "6", "9"])
        self.assertEqual([row["counts"] for row in result["rows"]], [[8, 0, 7, 0], [0, 8, 0, 7]])
        self.assertEqual(result["rows"][0]["row_percents"][0], 800 / 15)


class Changing(StudyCase):
    """A recipe changed where it stands, several variables at once, and ways that need other variables."""

    def derive(self, label="log mass", **more):
        way = {"how": "scale", "setting": {"way": "log"}}
        return self.on_table("/derive", **{"of": "mass", "label": label, "way": way, **more})

    def variable(self, symbol):
        result = self.client.get(f"/api/tables/{self.table.pk}").json()["variables"]
        return next((each for each in result if each["symbol"] == symbol), None)

    def test_a_changed_recipe_keeps_its_place_and_what_stands_on_it_follows(self):
        self.derive()
        self.derive("twice", of="log_mass", way={"how": "expression", "text": "2 * log_mass"})
        self.on_table("/describe", variables=["log_mass"], changes={"label": "logs"})
        before = self.reading("spread", "twice")["summary"]["mean"]
        way = {"how": "scale", "setting": {"way": "log", "base": "2"}}
        changed = self.derive("log2 mass", way=way, instead="log_mass").json()
        self.assertEqual(changed["symbol"], "log_mass")
        self.assertEqual(self.variable("log_mass")["label"], "log2 mass")
        after = self.reading("spread", "twice")["summary"]["mean"]
        self.assertAlmostEqual(after / before, 3.321928094887362)
        self.on_table("/undo")
        self.assertEqual(self.variable("log_mass")["label"], "logs")
        self.assertAlmostEqual(self.reading("spread", "twice")["summary"]["mean"], before)

    def test_circles_and_what_could_no_longer_follow_are_refused(self):
        self.derive()
        self.derive("twice", of="log_mass", way={"how": "expression", "text": "2 * log_mass"})
        circle = self.derive("log mass", way={"how": "expression", "text": "twice + 1"}, instead="log_mass")
        self.assert_problem(circle, 422, "circular")
        self.assertIn("twice", circle.json()["problem"])
        names = {"how": "classes", "boundaries": [0, 4, 70], "names": ["light", "heavy"]}
        self.assert_problem(self.derive("log mass", way=names, instead="log_mass"), 409, "stands-on")
        self.assert_problem(self.derive("mine", instead="mass"), 422, "not-derived")

    def test_one_scale_for_several_variables_is_one_entry(self):
        way = {"how": "scale", "setting": {"way": "centre"}}
        made = self.derive("mass from its mean", way=way, also=["eggs", "mass"]).json()
        self.assertEqual(made, {"symbol": "mass_from_its_mean", "also": ["eggs_from_its_mean"]})
        self.assertEqual(self.variable("eggs_from_its_mean")["label"], "eggs, from its mean")
        self.assertAlmostEqual(self.reading("spread", "eggs_from_its_mean")["summary"]["mean"], 0)
        self.on_table("/undo")
        self.assertIsNone(self.variable("eggs_from_its_mean"))

    def test_percents_and_changes_name_what_they_are_made_of(self):
        way = {"how": "percent", "by": "tray", "level": "a"}
        result = self.reading("tried", "mass", as_if=json.dumps(way))
        self.assertEqual((result["label"], result["unit"], result["of"]), ("mass, % of tray a", "%", ["mass", "tray"]))
        self.derive("relative", way=way)
        split = self.reading("split", "relative", by="tray")
        self.assertAlmostEqual(split["groups"][0]["summary"]["mean"], 100)
        lag = {"how": "along", "take": "earlier", "order": "eggs", "steps": 1}
        tried = self.reading("tried", "mass", as_if=json.dumps(lag))
        self.assertEqual((tried["n_tied"], tried["rows"][0]["after"]), (30, "none before it"))
        doubts = self.reading("tried", "mass", as_if=json.dumps({"how": "expression", "text": "1 + ln(mass)^mass"}))
        self.assertEqual([doubt["at"] for doubt in doubts["doubts"]], [13])
        none = self.client.get(self.address("tried"), {"variable": "mass", "as_if": json.dumps({"how": "percent"})})
        self.assert_problem(none, 422, "invalid-request")
        gone = {**way, "by": "nowhere"}
        missing = self.client.get(self.address("tried"), {"variable": "mass", "as_if": json.dumps(gone)})
        self.assert_problem(missing, 404, "no-variable")

    def test_a_question_too_long_for_an_address_is_sent_as_a_body(self):
        def sent(text: str):
            asked = urlencode({"variable": "mass", "as_if": json.dumps({"how": "expression", "text": text})})
            return Client(enforce_csrf_checks=True, headers={"x-heron-question": "long"}), asked

        def answer(text: str):
            client, asked = sent(text)
            client.force_login(self.owner)
            return client.post(self.address("tried"), asked, content_type="application/x-www-form-urlencoded")

        short = self.reading("tried", "mass", as_if=json.dumps({"how": "expression", "text": "mass + 0"}))
        self.assertEqual(answer("mass + 0").json(), short)
        long = answer(f"mass {' ' * 9_000}+ 0").json()
        self.assertEqual([row["after"] for row in long["rows"]], [row["after"] for row in short["rows"]])
        self.assert_problem(answer("0" * 400_001), 413, "too-large")
        # It is a question still: what would change something is not reached by it.
        self.assertEqual(
            self.client.post(
                f"/api/studies/{self.study.pk}/plates", "a=1", content_type="text/plain",
                headers={"x-heron-question": "long"},
            ).json(), [],
        )  # fmt: skip

    def test_what_can_be_added_before_a_log_is_argued_and_means_come_back_in_every_table(self):
        result = self.reading("tried", "eggs", as_if=json.dumps({"how": "scale", "setting": {"way": "log"}}))
        self.assertEqual(result["offsets"]["half_least"], 1.5)  # eggs are 0, 3, 6, 9
        self.derive()
        split = self.reading("split", "log_mass", by="tray")["groups"][0]
        self.assertAlmostEqual(split["back"]["mean"], 10 ** split["summary"]["mean"])
        overview = self.client.get(self.address("overview")).json()["variables"]
        backs = {each["subject"]["symbol"]: each["back"] for each in overview}
        self.assertEqual((backs["mass"], backs["log_mass"]["name"]), (None, "Geometric mean"))
