"""Plates over HTTP: what they show follows the data, says what moved, keeps its words; who may see and change them."""

import csv
import io
import json
import zipfile
from pathlib import Path

import numpy as np
from docx import Document
from heron import groups, relation
from heron.figure import styles
from PIL import Image

from server.caching import forget_everything
from server.plates.documents import PlateDocument, published_schema
from server.plates.earlier import reviewed_as_now
from server.plates.models import Plate
from server.readings.answers import reread
from server.server_tests.cases import StudyCase, person, signed_in, stored, unpacked

rng = np.random.default_rng(29)
LEN = np.round(rng.uniform(10, 60, 120), 1)
MASS = np.round(0.002 * LEN**2.4 * 10 ** rng.normal(0, 0.05, 120), 3)
BED = np.array(["low", "mid", "high"])[np.arange(120) % 3]
SITE = np.array(["north", "south"])[np.arange(120) // 60]
DAY = [f"2026-03-{1 + i // 4:02d}" for i in range(120)]
CELLS = [str(value) for value in MASS]
CELLS[4] = "n/r"
MASS[4] = np.nan
HEAD = "length (mm),mass (g),bed,site,day,mean,low,high\n"
LINES = zip(LEN, CELLS, BED, SITE, DAY, strict=True)
TEXT = HEAD + "\n".join(f"{x},{y},{b},{s},{d},{i},{i - 1},{i + 2}" for i, (x, y, b, s, d) in enumerate(LINES))


class PlateCase(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells", missing_codes=["n/r"])
        cls.study = cls.table.study

    def source(self, kind, **said):
        return {"table": str(self.table.pk), "kind": kind, **said}

    def groups(self, **said):
        return self.source("groups", variable="mass", by="bed", centre="mean", bars="sd", **said)

    def document(self, *sources, **said):
        panels = [{"source": each, "address": ""} for each in sources or (self.groups(),)]
        return {"style": styles.ON_SCREEN, "panels": panels, **said}

    def scene(self, source, status=200):
        response = self.act("plates/scenes", {"sources": [source]})
        self.assertEqual(response.status_code, status, response.content[:600])
        return unpacked(response.content)["scenes"][0] if status == 200 else response

    def layer(self, scene, role, series=None):
        result = [each for each in scene["layers"] if each["role"] == role and series in (None, each["series"])]
        self.assertTrue(result, f"no {role} of {series}")
        return result[0]

    def keep(self, document=None, name="Mass by bed"):
        said = {"name": name, "document": document or self.document()}
        response = self.act(f"studies/{self.study.pk}/plates", said)
        self.assertEqual(response.status_code, 201, response.content[:600])
        return response.json()

    def words(self, document):
        response = self.act("plates/words", {"document": document})
        self.assertEqual(response.status_code, 200, response.content[:600])
        return response.json()

    def finding(self, document, code):
        return next(word for word in self.words(document)["findings"] if word["code"] == code)


class Scenes(PlateCase):
    def test_groups_with_their_bars_points_and_boxes(self):
        drawn = {"marks": ["points", "violin", "box", "centre", "joined"], "hidden": [0], "order": "n"}
        scene = self.scene(self.groups(**drawn))
        result = groups.group_centres(MASS, BED.tolist(), centre="mean", bars="sd", order=["low", "mid", "high"])
        self.assertEqual(len(scene["across"]["levels"]), 2)
        for group in result.groups:
            if group.label not in scene["across"]["levels"]:
                hidden = group.label
                continue
            bar = self.layer(scene, "bars", group.label)
            np.testing.assert_allclose(
                (bar["y"][0], bar["low"][0], bar["high"][0]), (group.centre, group.low, group.high)
            )
            lane = scene["across"]["levels"].index(group.label)
            self.assertEqual((bar["x"][0], scene["across"]["counts"][lane]), (lane, group.n))
            points = self.layer(scene, "points", group.label)
            self.assertTrue(np.all(np.abs(points["x"] - lane) < 0.5))
            np.testing.assert_array_equal(points["y"], MASS[points["rows"] - 1])
            violin = self.layer(scene, "violin", group.label)
            in_group = MASS[(group.label == BED) & ~np.isnan(MASS)]
            self.assertTrue(in_group.min() <= violin["y"].min() and violin["y"].max() <= in_group.max())
        self.assertIn(f"Not shown: {hidden} (n\u00a0=\u00a040).", scene["facts"]["notes"])
        self.assertEqual((scene["up"]["title"], scene["up"]["unit"], scene["across"]["title"]), ("Mass", "g", "Bed"))
        scene_levels = self.scene(self.groups())["across"]["levels"]
        along = self.scene(self.groups(marks=["centre", "from zero"], upright=False))
        self.assertEqual(along["up"]["levels"], scene_levels[::-1])
        bars = self.layer(along, "bars")
        self.assertFalse(bars["upright"])
        self.assertTrue(along["across"]["from_zero"])
        self.assertEqual(along["across"]["low"], 0)

    def test_a_shape_has_its_classes_curve_and_box_on_the_same_rows(self):
        source = self.source("shape", variable="mass", by="site", axis="log", measure="counts",
                             layers=["classes", "density", "normal", "box", "points", "rug"])  # fmt: skip
        scene = self.scene(source)
        self.assertEqual((scene["across"]["scale"], len(scene["series"])), ("log10", 2))
        for label in ("north", "south"):
            in_group = MASS[(label == SITE) & ~np.isnan(MASS)]
            self.assertEqual(self.layer(scene, "classes", label)["high_y"].sum(), in_group.size)
            box = self.layer(scene, "box", label)
            self.assertAlmostEqual(box["x"][0], np.median(in_group))
            self.assertIn(box["strip"], (2, 3))  # below the heights, under the rug
            np.testing.assert_array_equal(np.sort(self.layer(scene, "points", label)["x"]), np.sort(in_group))
        self.assertEqual(dict(map(tuple, scene["facts"]["n"])), {"north": 59, "south": 60})
        curve = self.layer(self.scene(self.source("shape", variable="mass", layers=["density"])), "density")
        inside = curve["x"][1:-1]
        self.assertAlmostEqual(np.trapezoid(curve["y"][1:-1], inside), 1, delta=0.01)

    def test_every_other_kind_shows_what_the_core_says(self):
        steps = self.layer(self.scene(self.source("cumulative", variable="length")), "steps")
        self.assertEqual((steps["y"][0], steps["y"][-1]), (0, 100))
        counted = self.layer(self.scene(self.source("counts", variable="bed")), "classes")
        self.assertEqual(sorted(counted["high_x"]), [40, 40, 40])
        quantiles = self.layer(self.scene(self.source("quantiles", variable="mass")), "points")
        np.testing.assert_array_equal(quantiles["y"], np.sort(MASS[~np.isnan(MASS)]))
        gamma = self.scene(self.source("quantiles", variable="mass", family="weibull"))
        self.assertIn("weibull", gamma["across"]["title"].lower())
        ordered = self.scene(self.source("ordered", variable="mass", along="day"))
        self.assertEqual(ordered["across"]["kind"], "time")
        self.assertEqual(
            ordered["layers"][-1]["x"].min(), (np.datetime64("2026-03-01") - np.datetime64("1970-01-01")).astype(int)
        )
        share = self.scene(self.source("shares", variable="site", by="bed", chosen=[0]))
        self.assertEqual([round(each["y"][0]) for each in share["layers"]], [50, 50, 50])
        stacked = self.scene(self.source("shares", variable="site", by="bed", stacked=True))
        self.assertEqual({float(v) for each in stacked["layers"] for v in each["high_x"]}, {50.0, 100.0})
        results = self.scene(self.source("estimates", of=["mean"], limits=["low", "high"], label="day"))
        interval = self.layer(results, "bars")
        np.testing.assert_array_equal(interval["high"] - interval["low"], np.full(120, 3.0))
        apart = self.scene(self.source("differences", variable="mass", by="bed"))
        self.assertEqual((len(apart["up"]["levels"]), len(self.layer(apart, "limits")["x"])), (3, 2))
        rules = self.scene(self.source("rules", variable="mass", rules=["fences"]))
        upper = np.quantile(MASS[~np.isnan(MASS)], 0.75)
        self.assertGreater(max(rule["y"][0] for rule in rules["layers"] if rule["role"] == "limits"), upper)
        far = self.scene(self.source("distances", variables=["mass", "length"]))
        self.assertEqual(sum(each["x"].size for each in far["layers"] if each["form"] == "points"), 119)
        days = self.scene(self.source("times", variable="day", unit="day"))
        self.assertEqual(set(self.layer(days, "classes")["high_y"]), {4})
        several = self.source("pair", x="day", y="mean", lines=[], also=["low", "high"], joined="x")
        self.assertEqual([each["n"] for each in self.scene(several)["series"]], [120] * 3)
        for view in ("leverage", "residuals", "size", "qq", "order", "dfbetas", "partial"):
            asked = {"response": "mass", "predictors": ["length"]}
            scene = self.scene(self.source("influence", **asked, view=view))
            self.assertEqual(sum(each["x"].size for each in scene["layers"] if each["form"] == "points"), 119)

    def test_a_relation_on_logs_is_carried_back_with_its_band(self):
        logs = {"x_axis": "log", "y_axis": "log"}
        asked = {"x": "length", "y": "mass", "x_scale": "log10", "y_scale": "log10", "by": "", **logs}
        scene = self.scene(self.source("pair", **asked))
        fit = relation.fit_line(LEN, MASS, x_scale="log10", y_scale="log10")
        line = self.layer(scene, "fit")
        np.testing.assert_allclose(line["y"], 10 ** (fit.intercept + fit.slope * np.log10(line["x"])))
        said = self.words(self.document(self.source("pair", **asked)))["caption"]
        self.assertIn(f"R² = {fit.r_squared:.3f}", said)
        self.assertIn("Both axes are logarithmic.", said)
        self.assertEqual((scene["across"]["scale"], self.layer(scene, "band")["form"]), ("log10", "area"))
        both = int((~np.isnan(LEN) & ~np.isnan(MASS)).sum())
        for shown, form in (("hexagons", "hexagons"), ("cells", "blocks"), ("density", "blocks")):
            pair = {"x": "length", "y": "mass", "lines": []}
            tiles = self.layer(self.scene(self.source("pair", **pair, shown=shown, across=9)), "tiles")
            self.assertEqual((tiles["form"], tiles["value"].size), (form, tiles["high_x"].size))
            self.assertTrue(np.all(tiles["value"] > 0))
            if shown != "density":
                self.assertEqual(tiles["value"].sum(), both)
        byed = self.scene(self.source("pair", x="day", y="mass", by="bed", lines=[], joined="x"))
        self.assertEqual({each["label"] for each in byed["series"]}, {"low", "mid", "high"})

    def test_only_one_level_leaves_the_others_out_without_setting_them_aside(self):
        self.on_table("", kind="set-aside", rows=[1, 2, 61], reason="broken")
        forget_everything()
        scene = self.scene(self.groups(only={"by": "site", "level": "north"}))
        self.assertEqual(sum(scene["across"]["counts"]), 60 - 2 - 1)
        self.assertEqual((scene["facts"]["aside"], scene["facts"]["entries"]), (2, [1]))
        self.assertTrue(scene["facts"]["subject"].endswith("site north"))
        self.assert_problem(self.scene(self.groups(only={"by": "site", "level": "east"}), 422), 422, "no-level")

    def test_what_cannot_be_drawn_is_said(self):
        self.assert_problem(self.scene(self.source("groups", variable="mass"), 422), 422, "invalid-request")
        self.assert_problem(self.scene(self.source("shape", variable="bed"), 422), 422, "not-numeric")
        self.assert_problem(self.scene(self.source("shape", variable="nothing"), 404), 404, "no-variable")
        pair = {"x": "mean", "y": "mean", "lines": []}
        self.assertEqual(self.scene(self.source("pair", **pair))["facts"]["n"], [["pairs", 120]])


class Keeping(PlateCase):
    def test_a_plate_follows_its_data_says_what_moved_and_can_be_frozen(self):
        plate = self.keep()
        self.assertEqual((plate["stale"], plate["moved"], plate["stages"]), (False, [], ["Compare"]))
        frozen = self.keep(name="As it was")
        self.act(f"plates/{frozen['id']}/freeze", {})
        top = int(np.nanargmax(MASS)) + 1
        self.on_table("", kind="set-aside", rows=[top], reason="too heavy")
        now = self.client.get(f"/api/plates/{plate['id']}").json()
        self.assertTrue(now["stale"])
        moved = {each["name"]: each for each in now["moved"]}
        in_group = BED[top - 1] == BED
        name = f"mean, {BED[top - 1]}"
        of = BED[top - 1]
        self.assertEqual(set(moved), {name, f"n, {of}", f"lower end, {of}", f"upper end, {of}"})
        self.assertAlmostEqual(moved[name]["before"], np.nanmean(MASS[in_group]))
        in_group[top - 1] = False
        self.assertAlmostEqual(moved[name]["after"], np.nanmean(MASS[in_group]))
        self.assertEqual(self.act(f"plates/{plate['id']}/reviewed", {}).json()["moved"], [])
        kept = self.client.get(f"/api/plates/{frozen['id']}").json()
        self.assertEqual((kept["stale"], kept["moved"], kept["frozen"]), (False, [], True))
        body = unpacked(self.client.get(f"/api/plates/{frozen['id']}/frozen").content)
        self.assertEqual(sum(body["scenes"][0]["across"]["counts"]), 119)
        thawed = self.act(f"plates/{frozen['id']}/freeze?on=false", {}).json()
        self.assertEqual((thawed["frozen"], thawed["stale"]), (False, False))

    def test_a_box_without_points_shows_the_rows_beyond_its_whiskers(self):
        far = [7, 8, 50]
        for row, value in zip(far, ("900", "950", "0.0001"), strict=True):
            self.on_table("/correct", cells=[{"variable": "mass", "row": row, "text": value}], reason="made far")
        mass = MASS.copy()
        mass[[row - 1 for row in far]] = [900, 950, 0.0001]
        drawn = {"marks": ["box"]}
        for source, axis in (
            (self.groups(**drawn), "up"), (self.groups(**drawn, upright=False), "across"),
            (self.source("shape", variable="mass", layers=["box"]), "across"),
            (self.source("shape", variable="mass", by="bed", layers=["box", "density"]), "across"),
        ):  # fmt: skip
            scene = self.scene(source)
            rows, values = [], []
            for layer in scene["layers"]:
                if layer["role"] == "beyond":
                    rows += layer["rows"].tolist()
                    values += (layer["y"] if axis == "up" else layer["x"]).tolist()
            self.assertTrue({7, 8} <= set(rows), source)
            np.testing.assert_array_equal(values, mass[np.array(rows) - 1])
            self.assertGreaterEqual(scene[axis]["high"], 950)
            self.assertIn("ringed: rows beyond", " ".join(scene["facts"]["marks"]))
            text = self.act("plates/data", {"document": self.document(source)}).content.decode()
            self.assertIn("beyond", text)
            self.assertIn("950.0", text)
        both = self.scene(self.groups(marks=["box", "points"]))
        self.assertNotIn("beyond", [layer["role"] for layer in both["layers"]])

    def test_a_plate_frozen_by_an_earlier_version_is_drawn_with_what_scenes_hold_now(self):
        frozen = self.keep(name="As it was")
        self.act(f"plates/{frozen['id']}/freeze", {})
        address = f"/api/plates/{frozen['id']}/frozen"
        now = self.client.get(address).content
        later = {
            "strips",
            "aside_x",
            "aside_y",
            "notch_low",
            "far",
            "strip",
            "equations",
            "sizes_title",
            "ramp",
            "rank",
        }

        def bare(value):
            if isinstance(value, dict):
                return {name: bare(each) for name, each in value.items() if name not in later}
            return [bare(each) for each in value] if isinstance(value, list) else value

        Plate.objects.filter(pk=frozen["id"]).update(frozen=reread(now, bare))
        scene, before = (unpacked(body)["scenes"][0] for body in (self.client.get(address).content, now))
        self.assertEqual(sorted(scene), sorted(before))
        self.assertEqual((scene["across"], scene["facts"]), (before["across"], before["facts"]))
        for mine, theirs in zip(scene["layers"], before["layers"], strict=True):
            self.assertEqual(sorted(mine), sorted(theirs))
            np.testing.assert_array_equal(mine["y"], theirs["y"])
            self.assertEqual(mine["aside_x"].size, 0)

    def test_a_frozen_plate_keeps_what_its_panels_show(self):
        plate = self.keep()
        frozen = self.act(f"plates/{plate['id']}/freeze", {}).json()
        put = {"content_type": "application/json"}

        def change(document):
            said = {"version": frozen["version"], "name": "Frozen", "document": document}
            return self.client.put(f"/api/plates/{plate['id']}", said, **put)

        for source in (self.source("pair", x="mass", y="mean"), self.groups(only={"by": "site", "level": "north"})):
            self.assert_problem(change(self.document(source)), 422, "frozen")
        self.assertEqual(change({**plate["document"], "caption": {"text": "as it was"}}).status_code, 200)

    def test_a_plate_without_its_question_is_told_of_and_stops_nothing(self):
        plate = self.keep()
        kinds = ("pair", "shape", "groups", "rules", "differences")
        document = {**self.document(*(self.source(kind) for kind in kinds)), "version": 1}
        keeping = self.act(f"studies/{self.study.pk}/plates", {"name": "Odd", "document": document})
        self.assert_problem(keeping, 422, "lacking")
        # One that an earlier version took.
        document = PlateDocument.model_validate(document).model_dump(mode="json")
        Plate.objects.filter(pk=plate["id"]).update(document=document, frozen=b"")
        for answer in (
            self.act(f"studies/{self.study.pk}/methods", {}), self.act(f"studies/{self.study.pk}/script/text", {}),
            self.client.get(f"/api/studies/{self.study.pk}/plates"), self.client.get(f"/api/plates/{plate['id']}"),
        ):  # fmt: skip
            self.assertEqual(answer.status_code, 200, answer.content[:500])
        Plate.objects.update(frozen=None)
        package = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        files = zipfile.ZipFile(io.BytesIO(b"".join(package.streaming_content)))
        self.assertIn(
            "A picture of kind pair needs a variable in the role 'x'.", files.read("plates/01-mass-by-bed.md").decode()
        )

    def test_two_people_do_not_overwrite_each_other(self):
        plate = self.keep()
        said = {"version": plate["version"], "name": "Mass, by bed", "document": plate["document"]}
        put = {"content_type": "application/json"}
        self.assertEqual(
            self.client.put(f"/api/plates/{plate['id']}", said, **put).json()["version"], plate["version"] + 1
        )
        self.assert_problem(self.client.put(f"/api/plates/{plate['id']}", said, **put), 409, "changed-since")
        self.assertEqual(Plate.objects.get().name, "Mass, by bed")

    def test_order_duplicates_styles_and_what_is_taken_away(self):
        first, second = self.keep(name="One"), self.keep(name="Two")
        copy = self.act(f"plates/{first['id']}/duplicate", {}).json()
        names = [each["name"] for each in self.client.get(f"/api/studies/{self.study.pk}/plates").json()]
        self.assertEqual(names, ["One", "One, again", "Two"])
        two = Plate.objects.get(name="Two")
        change = {"name": "One", "document": two.document, "version": two.version}
        changed = self.client.put(f"/api/plates/{two.pk}", change, content_type="application/json")
        self.assertEqual(changed.json()["name"], "One 2")
        self.act(f"plates/{second['id']}/place", {"before": first["id"]})
        self.client.delete(f"/api/plates/{copy['id']}")
        style = {**styles.IN_PRINT, "name": "ours", "type_size": 8}
        put = {"content_type": "application/json"}
        kept = self.client.put("/api/plates/styles", style, **put).json()
        self.assertEqual([each["name"] for each in kept["kept"]], ["ours"])
        lines = self.client.put(f"/api/studies/{self.study.pk}/plates/style", style, **put).json()
        self.assertEqual([line["name"] for line in lines], ["One 2", "One"])
        self.assertEqual({line["document"]["style"]["type_size"] for line in lines}, {8})
        self.assertEqual(self.client.delete("/api/plates/styles?name=ours").json()["kept"], [])

    def test_nobody_else_sees_or_changes_a_plate(self):
        plate = self.keep()
        other = signed_in(person("eve"))
        posted = {"content_type": "application/json"}
        address = f"/api/plates/{plate['id']}"
        tries = [
            other.get(address), other.delete(address), other.get(f"{address}/frozen"),
            *(other.post(f"{address}/{deed}", {}, **posted) for deed in ("reviewed", "freeze", "duplicate", "place")),
            other.get(f"/api/studies/{self.study.pk}/plates"),
            other.post("/api/plates/scenes", {"sources": [self.groups()]}, **posted),
            other.post("/api/plates/words", {"document": self.document()}, **posted),
            other.post(f"/api/studies/{self.study.pk}/plates", {"name": "x", "document": self.document()}, **posted),
        ]  # fmt: skip
        self.assertEqual({each.status_code for each in tries}, {404})
        self.study.memberships.create(user=person("vi"), role="viewer")
        viewer = signed_in(self.study.memberships.get(role="viewer").user)
        self.assertEqual(viewer.get(address).status_code, 200)
        self.assertEqual(viewer.delete(address).status_code, 403)

    def test_a_document_that_says_more_than_it_may_is_refused(self):
        document = self.document()
        for change in (
            {"sheet": {"width": 1e9}},
            {"panels": []},
            {"more": 1},
            {"style": {**styles.ON_SCREEN, "ink": "red"}},
        ):
            response = self.act(f"studies/{self.study.pk}/plates", {"name": "x", "document": {**document, **change}})
            self.assertEqual(response.status_code, 422, change)
        published = Path(__file__).parents[2] / "docs" / "plate.schema.json"
        self.assertEqual(json.loads(published.read_text()), published_schema())
        self.assertEqual(self.client.get("/api/plates/schema").json(), published_schema())


class Earlier(PlateCase):
    def test_specifications_of_the_first_version_show_what_they_showed(self):
        box = {"quantile_definition": 6, "whiskers": "range", "reach": 1.5, "share": 0.05, "level": 0.9, "percents": []}
        shape = {
            **box,
            "by": "bed",
            "axis": "log",
            "width": 0.2,
            "kernel": "biweight",
            "bandwidth": "scott",
            "as_if": None,
        }
        compared = {"by": "bed", "second": "site", "bars": "range", "units": False, "log": True}
        drawn = {
            "marks": ["box", "violin"],
            "violin": "half",
            "upright": False,
            "hidden": [1],
            "order": "n",
            "hand": [],
        }
        relation = {"response": "mass", "predictors": ["length"], "product": []}
        pair = {"x": "length", "y": "mass", "lines": ["median"], "by": "", "x_scale": "as-is", "y_scale": "log10"}
        empty = {"also": [], "size": "", "bands": True, "combined": [], "stacked": False, "measure": "density"}
        way = '{"how": "scale", "setting": {"way": "log"}}'
        flat = {name: value for name, value in shape.items() if name not in ("percents", "as_if")}
        for kind, said, now in (
            ("shape", {"variable": "mass", "shape": shape, "layers": ["classes", "box"], "measure": "counts"},
             {**flat, "variable": "mass", "layers": ["classes", "box"], "measure": "counts"}),
            ("cumulative", {"variable": "mass", "shape": shape}, {"variable": "mass", "by": "bed"}),
            ("counts", {"variable": "bed", "measure": "percents"}, {"variable": "bed", "measure": "percents"}),
            ("times", {"variable": "day", "times": {"unit": "week"}}, {"variable": "day", "unit": "week"}),
            ("quantiles", {"variable": "mass", "normal": {"by": "bed", "level": 0.9}, "as_if": way},
             {"variable": "mass", "by": "bed", "level": 0.9, "as_if": way}),
            ("quantiles", {"variable": "mass", "quantiles": {"family": "gamma"}},
             {"variable": "mass", "family": "gamma"}),
            ("ordered", {"variable": "mass", "ordered": {"along": "day"}}, {"variable": "mass", "along": "day"}),
            ("groups", {"variable": "mass", "groups": {**compared, "center": "median"}, "drawn": drawn},
             {"variable": "mass", **compared, "centre": "median", **drawn}),
            ("shares", {"variable": "bed", "shares": {"by": "site", "neutral": 1}, "stacked": True},
             {"variable": "bed", "by": "site", "neutral": 1, "stacked": True}),
            ("estimates", {"estimates": {"of": ["mean"], "limits": ["low", "high"]}, "combined": [2], "none": 4.0},
             {"of": ["mean"], "limits": ["low", "high"], "combined": [2], "none": 4.0}),
            ("differences", {"variable": "mass", "differences": {"by": "bed", "measure": "median", "reference": "low"}},
             {"variable": "mass", "by": "bed", "measure": "median", "reference": "low"}),
            ("pair", {"pair": pair, "bands": False, "joined": True},
             {**pair, "bands": "none", "joined": "x", "y_axis": "log"}),
            ("pair", {"pair": {**pair, "lines": []}, "shown": "hexagons", "across": 9},
             {**pair, "lines": [], "shown": "hexagons", "across": 9, "aspect": 1.0}),
            ("pair", {"pair": {**pair, "y_scale": "as-is"}, "shown": "density"},
             {**pair, "y_scale": "as-is", "shown": "density", "grid": 90}),
            ("rules", {"variable": "mass", "rules": {"rules": ["z"], "by": "bed"}},
             {"variable": "mass", "rules": ["z"], "by": "bed"}),
            ("distances", {"distances": {"variables": ["mass", "length"]}}, {"variables": ["mass", "length"]}),
            ("influence", {"influence": relation, "view": "order", "row_measure": "dffits"},
             {**relation, "view": "order", "row_measure": "dffits"}),
        ):  # fmt: skip
            with self.subTest(kind=kind):
                first = {**self.document(self.source(kind, **{"drawn": {}, **empty, **said})), "version": 1}
                kept = self.keep(first, name=kind)["document"]
                self.assertEqual(kept["version"], 4)
                self.assertEqual(kept, self.keep(self.document(self.source(kind, **now)), name=kind)["document"])

    def test_specifications_of_the_third_version_are_read_in_the_words_of_today(self):
        said = {"variable": "mass", "by": "bed", "bars": "range", "marks": ["centre"]}
        before = {**self.document(self.source("groups", **said)), "version": 3}
        panel = before["panels"][0]
        panel["source"] = {"center": "median", **{n: v for n, v in panel["source"].items() if n != "centre"}}
        panel["address"] = f"/tables/{self.table.pk}/compare?by=bed&center=median&bars=range"
        panel["furniture"] = [{"kind": "slip", "names": ["mean, brought back", "upper limit, brought back", "n"]}]
        kept = self.keep(before, name="Of the third version")["document"]["panels"][0]
        self.assertEqual(kept["source"]["centre"], "median")
        self.assertIn("&centre=median&", kept["address"])
        self.assertEqual(
            kept["furniture"][0]["names"],
            ["back-transformed mean", "upper limit of the back-transformed mean", "n"],
        )
        pair = {"x": "length", "y": "mass", "x_axis": "straight", "y_axis": "log"}
        kept = self.keep({**self.document(self.source("pair", **pair)), "version": 3}, name="Pairs")["document"]
        self.assertEqual([kept["panels"][0]["source"][f"{side}_axis"] for side in "xy"], ["linear", "log"])
        numbers = [["A: mean, brought back, bed low", 2.0, "g"], ["n", 3, ""]]
        self.assertEqual(
            reviewed_as_now({"revisions": {}, "numbers": numbers})["numbers"][0][0], "A: back-transformed mean, bed low"
        )
        self.assertEqual(reviewed_as_now({}), {})


class Words(PlateCase):
    def test_the_caption_tells_rules_with_their_settings(self):
        rules = self.source("rules", variable="mass", rules=["fences", "grubbs"], reach=3, level=0.1)
        self.assertIn(
            "flagged by fences at 3 IQR (quartiles: definition 7), Grubbs' test at 10 %.",
            self.words(self.document(rules))["caption"],
        )

    def test_the_caption_tells_what_is_shown_and_follows(self):
        caption = self.words(self.document())["caption"]
        self.assertTrue(caption.startswith("Mass (g) by bed."))
        for part in (
            "Open marks: mean; bars: one SD to each side.",
            "n: high 40, low 40, mid 39.",
            "1 row without a value (n/r 1).",
        ):
            self.assertIn(part, caption)
        self.on_table("", kind="set-aside", rows=[10, 11], reason="broken")
        self.assertIn("2 rows set aside (Ledger 1).", self.words(self.document())["caption"])
        two = self.document(self.groups(), self.source("shape", variable="length"), sheet={"columns": 2})
        caption = self.words(two)["caption"]
        self.assertIn("(A) Mass (g) by bed.", caption)
        self.assertIn("(B) Length (mm).", caption)
        self.assertEqual(caption.count("set aside"), 1)
        said = self.words(two)["alternative"]
        self.assertIn("Panel A: Mass (g) by bed, drawn as points and centres with bars.", said)
        self.assertIn("Up: Mass from", said)

    def test_checks_find_what_is_wrong_and_mend_it(self):
        document = self.document(self.groups(marks=["from zero", "centre"]))
        self.assertTrue(all(word["holds"] for word in self.words(document)["findings"]))
        panel = document["panels"][0]
        panel["up"] = {"low": 3, "high": 9}
        panel["legend"] = {"shown": "yes"}
        document["style"] = {**styles.ON_SCREEN, "type_size": 5, "axis_line": 0.2}
        document["caption"] = {"text": "Shells.", "written": ""}
        result = {word["code"]: word for word in self.words(document)["findings"] if not word["holds"]}
        self.assertEqual(set(result), {"type", "line", "cut", "zero", "bars", "n"})
        for each in result.values():
            self.assertTrue(each["mend"])
            for change in each["changes"]:
                *way, last = change["path"]
                at = document
                for step in way:
                    at = at[step] if isinstance(at, list) else at.setdefault(step, {})
                at[last] = change["value"]
            if each["say"]:
                document["caption"]["text"] += " " + each["say"]
        self.assertEqual([word["code"] for word in self.words(document)["findings"] if not word["holds"]], [])

    def test_lines_that_merge_in_grey_are_told_apart_by_dashes(self):
        source = self.source("shape", variable="mass", by="site", layers=["density"])
        document = self.document(source, style={**styles.ON_SCREEN, "shapes": False})
        document["panels"][0]["series"] = {"north": {"colour": "#336699"}, "south": {"colour": "#346898"}}
        self.assertIn("merge for all readers", self.finding(document, "merge")["words"])
        document["style"] = {**styles.ON_SCREEN, "hatches": True}
        self.assertTrue(self.finding(document, "merge")["holds"])
        empty = self.document(self.source("shape", variable="mass", layers=["points"]))
        empty["panels"][0]["across"] = {"high": 900}
        self.assertFalse(self.finding(empty, "empty")["holds"])
        log = self.document(self.source("pair", x="mean", y="mass", lines=[]))
        log["panels"][0]["across"] = {"scale": "log10"}
        self.assertIn("1 value of 0 or below", self.finding(log, "lost")["words"])


class Leaving(PlateCase):
    def test_the_data_behind_it_are_the_numbers_that_it_draws(self):
        response = self.act("plates/data", {"document": self.document(self.groups(), self.groups())})
        lines = list(csv.DictReader(io.StringIO(response.content.decode())))
        self.assertEqual({line["panel"] for line in lines}, {"A", "B"})
        bars = {line["series"]: line for line in lines if line["mark"] == "bars" and line["panel"] == "A"}
        for bed, bar in bars.items():
            self.assertEqual(bar["x"], bed)
            np.testing.assert_allclose(float(bar["y"]), np.nanmean(MASS[bed == BED]), rtol=1e-12)
        points = [line for line in lines if line["mark"] == "points" and line["panel"] == "B"]
        self.assertEqual(
            {int(point["row"]): float(point["y"]) for point in points}, {i + 1: v for i, v in enumerate(MASS) if v == v}
        )

    def test_pictures_have_their_dots_per_inch(self):
        drawn = io.BytesIO()
        Image.new("RGBA", (60, 40), (10, 20, 30, 0)).save(drawn, "PNG")
        for form in ("png", "tiff"):
            drawn.seek(0)
            drawn.name = "plate.png"
            response = self.client.post(f"/api/plates/picture?form={form}&dpi=300", {"picture": drawn})
            self.assertEqual(response.status_code, 200, response.content[:300])
            with Image.open(io.BytesIO(response.content)) as read:
                self.assertEqual((read.format, read.size, read.mode), (form.upper(), (60, 40), "RGB"))
                self.assertEqual([round(float(each)) for each in read.info["dpi"]], [300, 300])
                self.assertEqual(read.getpixel((3, 3)), (255, 255, 255))
        drawn.seek(0)
        words = {"width": 85, "caption": "Mass by bed.", "alternative": "A figure"}
        answer = self.client.post("/api/plates/page", {"picture": drawn, **words})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        page = Document(io.BytesIO(answer.content))
        self.assertEqual((page.paragraphs[-1].text, page.paragraphs[-1].style.name), ("Mass by bed.", "Caption"))
        (shape,) = page.inline_shapes
        self.assertEqual((round(shape.width.mm), shape._inline.docPr.get("descr")), (85, "A figure"))
        broken = io.BytesIO(b"\x89PNG no picture")
        broken.name = "plate.png"
        self.assert_problem(self.client.post("/api/plates/picture", {"picture": broken}), 422, "no-picture")
