"""One variable, and what rows do to a fit, in data units: shapes, shares, counts, orders, quantiles, diagnostics."""

from dataclasses import replace
from unittest import TestCase
from uuid import uuid4

import numpy as np
from heron import density, figure, frequency, groups, normality
from heron.figure import pairs as related
from heron.figure import shapes, spread
from heron.figure.build.screen import cooks_contours
from heron.figure.scene import Axis, Layer, Scene
from heron.figure.source import CumulativeSource, ShapeSource

from core_tests.drawn import FACTS, document, layer, panel


def shaped(parts, by="", limits=(), **said):
    source = ShapeSource(table=uuid4(), variable="w", by=by, **said)
    return shapes.shape(parts, "Wait", "min", FACTS, source, by=by, limits=limits)


class One(TestCase):
    def shape(self, values, label="", edges=None, **said):
        cut = frequency.classify(values, **({"rule": "sturges"} if edges is None else {"boundaries": edges}))
        curve, box = density.kernel_density(values), groups.boxes(values).groups[0]
        rows = np.arange(values.size) + 1
        return shapes.Shape(
            label, 0, values.size, values, rows, low=values.min(), high=values.max(), mean=values.mean(), classes=cut,
            density=curve, box=box, **said,
        )  # fmt: skip

    def test_heights_are_on_one_measure_and_the_rest_stands_in_strips(self):
        rng = np.random.default_rng(3)
        values = rng.gamma(3, 2, 400)
        shape = self.shape(values)
        for measure, area in (("density", 1.0), ("counts", 400.0), ("percents", 100.0)):
            scene = shaped([shape], measure=measure)
            blocks, curve = layer(scene, "classes"), layer(scene, "density")
            width = (blocks.high_x - blocks.x)[0]
            total = (blocks.high_y * (blocks.high_x - blocks.x)).sum() / (1 if measure == "density" else width)
            self.assertAlmostEqual(total, area, places=6)
            under = np.trapezoid(curve.y, curve.x) / (1 if measure == "density" else width)
            self.assertAlmostEqual(under, area, delta=0.01 * area)
            self.assertEqual((layer(scene, "box").strip, layer(scene, "points").strip), (0, 1))
            self.assertLess(np.abs(layer(scene, "points").y).max(), 0.5)
            self.assertEqual((scene.up.low, len(scene.up.strips)), (0, 2))
        self.assertEqual(scene.up.title, "Percent of rows")
        self.assertTrue(scene.up.from_zero)
        turned_up = shaped([shape], upright=True)
        self.assertEqual((turned_up.up.title, len(turned_up.across.strips)), ("Wait", 2))
        np.testing.assert_array_equal(layer(turned_up, "points").y, values)
        self.assertEqual(shaped([shape], layers=("violin", "box")).up.kind, "bare")

    def test_rows_keep_their_places_and_repeated_ones_have_several(self):
        at = spread.scatter(np.array([5, 9, 9, 12]))
        np.testing.assert_array_equal(at[[0, 1, 3]], spread.scatter(np.array([5, 9, 12])))
        self.assertNotEqual(at[1], at[2])
        many = spread.scatter(np.arange(1, 4001))
        self.assertTrue(-0.5 <= many.min() < -0.49 and 0.49 < many.max() < 0.5 and abs(many.mean()) < 0.02)

    def test_levels_share_classes_in_lanes_as_ridges_over_one_another_or_back_to_back(self):
        rng = np.random.default_rng(3)
        edges = np.arange(-1.0, 14.0)
        a = self.shape(rng.normal(5, 1, 80), "a", edges)
        b = self.shape(rng.normal(7, 2, 20), "b", edges)
        lanes = shaped([a, b], "Bed", form="lanes")
        self.assertEqual((lanes.up.levels, lanes.told_by_place), (("b", "a"), True))
        self.assertEqual([(lane.label, lane.at) for lane in lanes.lanes], [("a", 1), ("b", 0)])
        for each in lanes.layers:
            at = 1 if each.series == "a" else 0
            ends = np.concatenate((each.y, each.high_y))
            self.assertTrue((np.abs(ends[np.isfinite(ends)] - at) <= 0.5).all(), each.role)
        upright = shaped([a, b], "Bed", form="lanes", upright=True)
        self.assertEqual((upright.across.levels, [lane.at for lane in upright.lanes]), (("a", "b"), [0, 1]))
        ridges = shaped([a, b], "Bed", form="ridges", layers=("box",))
        self.assertEqual({layer.role for layer in ridges.layers}, {"density"})
        self.assertAlmostEqual(max(float(layer.y.max()) for layer in ridges.layers) % 1, (1 - 0.4 + shapes.RIDGE) % 1)
        facing = shaped([a, b], "Bed", form="facing", layers=("density", "box"))
        tops = {
            layer.series: np.abs(layer.y).max() * np.sign(layer.y.sum())
            for layer in facing.layers
            if layer.form == "area"
        }
        self.assertTrue(tops["a"] > 0 > tops["b"] and facing.up.mirrored and facing.up.low == -facing.up.high)
        over = shaped([a, b], "Bed", layers=("density",), scaling="count")
        areas = [np.trapezoid(layer.y, layer.x) for layer in over.layers]
        np.testing.assert_allclose(areas, (80, 20), rtol=0.02)
        even = shaped([a, b], "Bed", layers=("density",), scaling="height")
        np.testing.assert_allclose([layer.y.max() for layer in even.layers], (1, 1))

    def test_a_box_shows_what_is_asked_for_and_a_violin_ends_with_its_values(self):
        values = np.array([1.0, 2, 3, 4, 5, 6, 7, 8, 9, 40, 16])
        shape = self.shape(values)
        scene = shaped([shape], layers=("violin", "box"), box_marks=("fences", "notch", "mean", "widths"))
        box, beyond = layer(scene, "box"), layer(scene, "beyond")
        self.assertEqual((box.notch_low.size, layer(scene, "mean").x[0]), (1, values.mean()))
        self.assertEqual(
            dict(zip(beyond.x, beyond.far, strict=True)), {40.0: 1.0, 16.0: 0.0} if beyond.x.size > 1 else {40.0: 1.0}
        )
        outline = layer(scene, "violin")
        self.assertEqual((outline.x.min(), outline.x.max()), (1, 40))
        np.testing.assert_allclose(outline.y, -outline.y[::-1])
        fences = next(each for each in scene.layers if each.role == "fences" and each.texts)
        q1, q3 = np.quantile(values, (0.25, 0.75))
        np.testing.assert_allclose(
            fences.x, [q1 - 3 * (q3 - q1), q1 - 1.5 * (q3 - q1), q3 + 1.5 * (q3 - q1), q3 + 3 * (q3 - q1)]
        )
        bare = shaped([shape], layers=("violin",))
        np.testing.assert_allclose(layer(bare, "quartiles").x[::3], (q1, np.median(values), q3))
        self.assertFalse(any(each.role == "beyond" for each in shaped([shape], rings=False).layers))

    def test_bumps_laid_one_on_the_other_are_the_curve_and_know_their_rows(self):
        values = np.array([3.0, 1.0, 8.0])
        scene = shaped([self.shape(values, bumps=density.bumps(values))], layers=("bumps", "density"))
        piled, bumps = layer(scene, "piled"), layer(scene, "bumps")
        n = piled.x.size // 3
        curve = layer(scene, "density")
        np.testing.assert_allclose(piled.y[2 * n : 3 * n - 1], np.interp(piled.x[: n - 1], curve.x, curve.y), atol=2e-3)
        self.assertEqual((bumps.rows.size, np.unique(bumps.rows).size), (bumps.x.size, 3))
        alone = shaped([self.shape(values, bumps=density.bumps(values))], layers=("bumps",))
        self.assertEqual((alone.across.low, alone.across.high), (scene.across.low, scene.across.high))

    def test_declared_limits_widen_the_axis_and_a_normal_curve_does_not(self):
        rng = np.random.default_rng(3)
        values = rng.gamma(2, 1, 200)
        normal = normality.curve(0.0, 15.0)
        scene = shaped(
            [self.shape(values, normal=normal)], layers=("normal", "density", "limits"), limits=[(25.0, "target")]
        )
        self.assertGreater(scene.across.low, -5)
        self.assertGreater(scene.across.high, 25)
        self.assertEqual(layer(scene, "limits").texts, ("target",))

    def test_distribution_functions_are_steps_in_percent(self):
        values = np.array([2.0, 1.0, 2.0, 5.0])
        part = spread.Rising("", values, frequency.classify(values, boundaries=[0, 2, 6]))

        def rising(**said):
            source = CumulativeSource(table=uuid4(), variable="x", lines=("polygon", "steps"), **said)
            return spread.cumulative([part], "X", "", FACTS, source, "")

        polygon, steps = rising().layers
        np.testing.assert_array_equal(steps.x, (1, 1, 2, 2, 5, 5))
        np.testing.assert_array_equal(steps.y, (0, 25, 25, 75, 75, 100))
        np.testing.assert_array_equal((polygon.x, polygon.y), ((0, 2, 6), (0, 25, 100)))
        polygon, steps = rising(measure="counts", at_least=True).layers
        np.testing.assert_array_equal(steps.y, (4, 3, 3, 1, 1, 0))
        np.testing.assert_array_equal(polygon.y, (4, 3, 0))

    def test_counts_run_along_the_first_on_top(self):
        result = frequency.count_values(["b", "a", "b"])
        scene = spread.counted(result, "Bed", FACTS, percents=False, written=True)
        self.assertEqual(layer(scene, "values").texts, ("1  (33.3\u202f%)", "2  (66.7\u202f%)"))
        self.assertEqual(scene.up.levels, ("b", "a"))
        blocks = scene.layers[0]
        self.assertEqual(dict(zip(np.round((blocks.y + blocks.high_y) / 2), blocks.high_x, strict=True)), {1: 1, 0: 2})

    def test_order_breaks_where_a_value_is_missing_and_rings_what_is_beyond(self):
        places, values = np.arange(4.0), np.array([1.0, 2.0, 9.0, 3.0])
        in_order = spread.InOrder(
            places, values, np.arange(4), np.array([2]), ((2.5, "median"),), ((12.0, "upper limit"),), (1, 3),
            np.array([3]), np.array([2]),
        )  # fmt: skip
        scene = spread.ordered(in_order, Axis("Row"), "X", "", FACTS)
        run = layer(scene, "run")
        self.assertEqual((run.x[0], run.high_x[0], run.y[0]), (1, 3, scene.up.low))
        self.assertEqual((layer(scene, "jumps").rows.tolist(), layer(scene, "level lines").y[0]), ([3], 2.5))
        self.assertGreater(scene.up.high, 12)
        np.testing.assert_array_equal(layer(scene, "joined").y, (1, 2, np.nan, 9, 3))
        np.testing.assert_array_equal(layer(scene, "beyond").y, (9,))
        self.assertEqual(layer(scene, "points").x.size, 3)
        np.testing.assert_array_equal(layer(scene, "limits").y, (12, 12))


class Hidden(TestCase):
    def test_points_wholly_under_others_are_counted_and_set_apart(self):
        spots = np.repeat(np.arange(20.0), 3)
        piled = Scene(Axis("A"), Axis("B"), (Layer("points", "points", "", spots, spots, rows=np.arange(60)),), FACTS)

        def hidden(scene, **source):
            said = document(panel(source=source))
            return [each for each in figure.check(said, [scene]) if each.code == "hidden"]

        (finding,) = hidden(piled, kind="groups", points="line")
        self.assertEqual((finding.holds, finding.changes[0].value), (False, "apart"))
        self.assertIn("40 of 60 points lie wholly under another", finding.words)
        self.assertEqual(hidden(piled, kind="ordered")[0].changes, ())
        loose = replace(piled, layers=(replace(piled.layers[0], y=np.arange(60.0)),))
        self.assertEqual(hidden(loose, kind="groups"), [])

    def test_counts_over_classes_of_unequal_width_become_densities(self):
        values = np.array([1.0, 2, 3, 8])
        part = One().shape(values, edges=[0, 2, 10])
        scene = shaped([part], measure="counts")
        said = document(panel(source={"kind": "shape", "measure": "counts"}))
        (finding,) = [each for each in figure.check(said, [scene]) if each.code == "unequal"]
        self.assertEqual((finding.holds, finding.changes[0].value), (False, "density"))
        even = shaped([One().shape(values, edges=[0, 5, 10])], measure="counts")
        self.assertEqual([each for each in figure.check(said, [even]) if each.code == "unequal"], [])


class Examined(TestCase):
    def test_quantile_plots_have_their_line_and_band(self):
        scores = np.array([-1.0, 0.0, 1.0])
        bands = ((scores, scores * 2 + 3, scores * 2 + 6),)
        quantiles = spread.Quantiles(scores, np.array([2.0, 5.0, 6.0]), np.array([3, 1, 2]), 2.0, 4.5, bands)
        scene = spread.quantiles(quantiles, "Mass", "g", "Normal scores", FACTS)
        self.assertEqual([each.role for each in scene.layers], ["band", "fit", "points"])
        np.testing.assert_array_equal(layer(scene, "fit").y, (2.5, 6.5))
        band = layer(scene, "band")
        np.testing.assert_array_equal(band.y, (1, 3, 5, 8, 6, 4))  # up along the lower limit, back along the upper
        off = spread.quantiles(quantiles.off_the_line(), "Mass", "g", "Normal scores", FACTS)
        np.testing.assert_array_equal(layer(off, "points").y, (-0.5, 0.5, -0.5))
        np.testing.assert_array_equal(layer(off, "band").y, (-1.5, -1.5, -1.5, 1.5, 1.5, 1.5))
        self.assertTrue(off.up.low < -1.5 and off.up.high > 1.5)
        bare = replace(quantiles, bands=((scores, np.full(3, np.nan), np.full(3, np.nan)),))
        self.assertEqual(len(spread.quantiles(bare, "Mass", "g", "Normal scores", FACTS).layers), 2)

    def test_diagnostic_plots_ring_rows_past_a_cut_off_and_leave_out_unknown_ones(self):
        x, y = np.array([0.1, 0.2, 0.9, np.nan]), np.array([1.0, -1.0, 4.0, 2.0])
        plot = related.Examined(
            x, y, np.array([1, 2, 3, 4]), np.array([False, False, True, True]), ("Leverage", ""), ("Residual", "g"),
            guides=(("up", -3.0, ""), ("up", 3.0, "limit"), ("across", 1.5, "high"), ("up", np.inf, "none")),
            trend=(np.array([0.1, 0.9]), np.array([0.0, 1.0])), sizes=np.array([0.0, 0.5, 1.0, 0.0]),
        )  # fmt: skip
        scene = related.examined(plot, FACTS)
        self.assertEqual(layer(scene, "beyond").rows.tolist(), [3])
        self.assertEqual(layer(scene, "points").rows.tolist(), [1, 2])
        self.assertEqual(layer(scene, "points").size.tolist(), [0, 0.5])
        limits = [(each.x[0] == each.x[1], each.texts) for each in scene.layers if each.role == "limits"]
        self.assertEqual(limits, [(False, ()), (False, ("limit",)), (True, ("high",))])
        np.testing.assert_array_equal(layer(scene, "smooth").x, (0.1, 0.9))
        self.assertTrue(scene.up.low < -3 and scene.across.high > 1.5)

    def test_contours_are_where_cooks_distance_has_their_value(self):
        n, p = 30, 3
        for h, t, _ in cooks_contours(n, p, 0.6):
            internal = t**2 * (n - p) / (n - p - 1 + t**2)
            distance = internal * h / ((1 - h) * p)
            self.assertLess(np.ptp(distance), 1e-9)
            self.assertIn(round(float(distance[0]), 9), (0.5, 1.0))

    def test_times_are_counted_in_days_since_1970(self):
        scene = spread.in_time(np.array([10.0, 11.0, 13.0]), np.array([4, 0]), "Day", FACTS)
        self.assertEqual((scene.across.kind, scene.up.from_zero), ("time", True))
        np.testing.assert_array_equal(scene.layers[0].high_y, (4, 0))
        self.assertIn("Across: Day.", figure.alternative(document(), [scene]))
