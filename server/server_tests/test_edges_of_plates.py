"""Plates of columns at the edge: every kind is drawn within finite axes, or says in a sentence why it cannot be."""

import itertools
import json

import numpy as np
from heron.figure import styles

from server.caching import forget_everything
from server.server_tests.cases import StudyCase, person, stored_in, unpacked
from server.server_tests.test_extremes import COLUMNS, NAMES, text_of
from server.studies.services import create_study

LAYERS = ["classes", "density", "normal", "box", "points", "rug"]
MARKS = ["points", "violin", "box", "centre", "joined", "from zero"]


class Edges(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.study = create_study(cls.owner, "Edges")
        kinds = dict.fromkeys(COLUMNS, "continuous")
        columns = {**COLUMNS, "g": ["p", "q", "p", "r"] * 3}
        cls.table = stored_in(cls.study, text_of(columns), "Edges", kinds={**kinds, "g": "category"})

    def setUp(self):
        super().setUp()
        forget_everything()

    def source(self, kind, **said):
        return {"table": str(self.table.pk), "kind": kind, **said}

    def drawn(self, source):
        """The scene of a source and all that is said of it; None where a sentence says why there is none."""
        response = self.act("plates/scenes", {"sources": [source]})
        self.assertIn(response.status_code, (200, 422), response.content[:400])
        if response.status_code == 422:
            self.assertTrue(response.json()["problem"].endswith("."), response.json())
            return None
        scene = unpacked(response.content)["scenes"][0]
        for side in ("across", "up"):
            low, high = scene[side]["low"], scene[side]["high"]
            self.assertTrue(low is not None and high is not None and low < high, (side, low, high))
        for layer in scene["layers"]:
            sizes = {np.size(layer[name]) for name in ("x", "y")} | {layer["x"].size}
            self.assertEqual(len(sizes), 1, layer["role"])
            if layer["form"] == "points":
                self.assertEqual(layer["rows"].size, 0 if layer["role"] == "counted" else layer["x"].size)
        document = {"style": styles.ON_SCREEN, "panels": [{"source": source}]}
        words = self.act("plates/words", {"document": document})
        self.assertEqual(words.status_code, 200, words.content[:400])
        said = words.json()
        self.assertTrue(said["caption"].endswith(".") and said["alternative"].endswith("."), said)
        self.assertNotIn("nan", json.dumps(said))
        self.assertEqual(self.act("plates/data", {"document": document}).status_code, 200)
        return scene

    def test_every_kind_of_one_variable(self):
        n = 0
        for symbol in COLUMNS:
            for source in (
                self.source("shape", variable=symbol, layers=LAYERS, measure="counts"),
                self.source("shape", variable=symbol, by="g", layers=LAYERS),
                self.source("shape", variable=symbol, axis="log", layers=LAYERS, measure="percents"),
                self.source("cumulative", variable=symbol, by="g"),
                self.source("counts", variable=symbol),
                self.source("quantiles", variable=symbol),
                self.source("quantiles", variable=symbol, family="gamma"),
                self.source("ordered", variable=symbol),
                self.source("rules", variable=symbol, rules=["fences", "z", "skew-fences"], by="g"),
            ):
                with self.subTest(f"{source['kind']} of {symbol}"):
                    n += self.drawn(source) is not None
        self.assertGreater(n, 45)

    def test_groups_in_every_form(self):
        n = 0
        centres = (("mean", "sd"), ("median", "quartile-span"), ("geometric-mean", "mean-interval"))
        for symbol, (centre, bars), log in itertools.product(COLUMNS, centres, (False, True)):
            asked = {"by": "g", "centre": centre, "bars": bars, "log": log}
            for drawn in (
                {"marks": MARKS, "points": "apart"},
                {"marks": MARKS, "violin": "half", "upright": False, "side": "up", "caps": True},
            ):
                with self.subTest(f"{centre} of {symbol}, {drawn}"):
                    n += self.drawn(self.source("groups", variable=symbol, **asked, **drawn)) is not None
        self.assertGreater(n, 60)
        for symbol, measure in itertools.product(COLUMNS, ("mean", "ratio", "cliffs-delta")):
            with self.subTest(f"{measure} of {symbol}"):
                self.drawn(self.source("differences", variable=symbol, by="g", measure=measure))

    def test_pairs_fits_and_results(self):
        n = 0
        for x, y in itertools.permutations(("one", "three", "constant", "two_values", "huge", "tiny", "near"), 2):
            pair = {"x": x, "y": y, "lines": ["least-squares", "smooth"]}
            for source in (
                self.source("pair", **pair, joined="x", margins="boxes", by="g"),
                self.source("pair", **pair, jitter_x=0.5, y_axis="log", margins="densities"),
                self.source("pair", **{**pair, "lines": [], "shown": "contours", "grid": 32, "sparse": 3}),
                self.source("pair", **{**pair, "lines": [], "shown": "cells", "margins": "histograms"}),
                self.source("pair", **{**pair, "shown": "counts", "by": "g"}),
                self.source("pair", **pair, plot="residuals", by="g"),
                self.source("pair", **{**pair, "by": "g", "lines": ["median"]}),
                self.source("pair", **pair, x_scale="log10", y_scale="log10"),
                self.source("pair", **{**pair, "lines": [], "shown": "density"}),
                self.source("pair", **{**pair, "lines": [], "shown": "hexagons", "size": "heaped"}),
                self.source("influence", response=y, predictors=[x], view="order"),
                self.source("influence", response=y, predictors=[x, "g"], view="partial"),
                self.source("distances", variables=[x, y]),
                self.source("estimates", of=[y], limits=[x, "heaped"]),
            ):
                with self.subTest(f"{source['kind']} of {y} on {x}"):
                    n += self.drawn(source) is not None
        self.assertGreater(n, 280)

    def test_names_that_are_long_odd_or_in_other_scripts(self):
        columns = {name: [float(i * j % 7) for i in range(12)] for j, name in enumerate(NAMES, 1)}
        levels = [name.replace(",", ";").replace('"', "'") for name in NAMES]
        table = stored_in(self.study, text_of({**columns, "مستوى": levels * 2}), "Odd")
        for variable in table.variables.all():
            source = {"table": str(table.pk), "variable": variable.symbol}
            for more in (
                {"kind": "groups", "by": table.variables.last().symbol},
                {"kind": "counts"},
            ):
                with self.subTest(f"{more['kind']} of {variable.label[:20]}"):
                    scene = self.drawn({**source, **more})
                    if scene and more["kind"] == "groups":
                        self.assertEqual(len(scene["across"]["levels"]), 6)

    def test_three_hundred_groups_are_drawn_and_told_in_short(self):
        lines = "\n".join(f"{i % 17},g{i % 300:03d}" for i in range(900))
        table = stored_in(self.study, f"v,g\n{lines}", "Many")
        source = {"table": str(table.pk), "kind": "groups", "variable": "v", "by": "g"}
        scene = self.drawn(source)
        self.assertEqual((len(scene["across"]["levels"]), sum(scene["across"]["counts"])), (300, 900))
        document = {"style": styles.ON_SCREEN, "panels": [{"source": source}]}
        caption = self.act("plates/words", {"document": document}).json()["caption"]
        self.assertIn("900 in 300 groups of 3 to 3", caption.replace("\u00a0", " "))
        self.assertLess(len(caption), 600)

    def test_a_hundred_thousand_rows_send_a_sample_of_points_and_numbers_of_all(self):
        rng = np.random.default_rng(1)
        values = rng.normal(10, 2, 100_000)
        table = stored_in(self.study, "v,w\n" + "\n".join(f"{v:.5f},{v * 2:.5f}" for v in values), "Long")
        base = {"table": str(table.pk)}
        scene = self.drawn({**base, "kind": "shape", "variable": "v", "measure": "counts"})
        points = next(each for each in scene["layers"] if each["role"] == "points")
        self.assertLessEqual(points["x"].size, 20_020)
        blocks = next(each for each in scene["layers"] if each["role"] == "classes")
        self.assertEqual(blocks["high_y"].sum(), 100_000)
        said = " ".join(scene["facts"]["marks"])
        self.assertIn("a random sample of", said)
        pair = self.drawn({**base, "kind": "pair", "x": "v", "y": "w", "lines": [], "shown": "hexagons"})
        self.assertEqual(pair["layers"][0]["value"].sum(), 100_000)
