"""What figures show, in data units; the words that go with them; what is checked before they leave."""

import csv
import io
from dataclasses import replace
from unittest import TestCase
from uuid import uuid4

import numpy as np
from heron import density, figure, groups
from heron.errors import HeronError
from heron.figure import colours, styles
from heron.figure import groups as side_by_side
from heron.figure import pairs as related
from heron.figure.checking import ends_of
from heron.figure.scene import Axis, Layer, Scene, SceneSeries, aired, least_above_zero, reach, turned
from heron.figure.source import PairSource, Standing
from hypothesis import example, given
from hypothesis import strategies as st
from hypothesis.extra import numpy as arrays

from core_tests.drawn import AXIS, FACTS, document, layer, panel


def part(label, index, values, **said):
    values = np.asarray(values, dtype=np.float64)
    try:
        curve = density.kernel_density(values, points=40)
        drawn = curve.x, curve.density
    except HeronError:
        drawn = np.empty(0), np.empty(0)
    mean, sd = float(values.mean()), float(values.std(ddof=1)) if values.size > 1 else 0.0
    box = groups.boxes(values).groups[0]
    given = {"group": index, "second": 0, "number": None, **said}
    return side_by_side.Part(
        given["group"], label, index, given["second"], given["number"], values.size, mean, mean - sd, mean + sd, box,
        *drawn, values, np.arange(values.size) + 1,
    )  # fmt: skip


A, B = np.array([1.0, 2.0, 4.0]), np.array([3.0, 5.0, 6.0, 9.0])


def compared(marks, parts=None, facts=FACTS, **drawn):
    parts = parts or [part("a", 0, A), part("b", 1, B)]
    more = {name: drawn.pop(name) for name in ("seconds", "pairs", "lines", "scale") if name in drawn}
    return side_by_side.scene_of_groups(
        parts, ("Bed", ""), "Mass", "g", facts, Standing(marks=tuple(marks), **drawn), **more
    )


class Groups(TestCase):
    def test_bars_stand_at_their_levels_and_bodies_on_zero(self):
        scene = compared(["from zero", "centre"], caps=True)
        self.assertEqual((scene.across.levels, scene.across.counts), (("a", "b"), (3, 4)))
        for index, (label, values) in enumerate((("a", A), ("b", B))):
            bar, body = layer(scene, "bars", label), layer(scene, "from zero", label)
            mean, sd = values.mean(), values.std(ddof=1)
            np.testing.assert_allclose(
                (bar.x[0], bar.y[0], bar.low[0], bar.high[0]), (index, mean, mean - sd, mean + sd)
            )
            self.assertEqual((body.y[0], body.high_y[0]), (0, mean))
            self.assertAlmostEqual((body.x[0] + body.high_x[0]) / 2, index)
        self.assertEqual((scene.up.low, scene.up.from_zero), (0, True))
        self.assertTrue(scene.told_by_place)
        up, down = compared(["centre"], side="up"), compared(["centre"], side="down")
        self.assertEqual((layer(up, "bars").low[0], layer(down, "bars").high[0]), (A.mean(), A.mean()))

    def test_second_groups_stand_side_by_side_within_their_level(self):
        parts = [
            part("a", 0, A, second=0),
            part("a", 0, B, second=1),
            part("b", 1, B, second=0),
            part("b", 1, A, second=1),
        ]
        scene = compared(["points", "centre", "joined"], parts, points="line", seconds=("site", ("n", "s")))
        self.assertEqual([(each.key, each.n) for each in scene.series], [("n", 7), ("s", 7)])
        self.assertFalse(scene.told_by_place)
        places = {
            (each.series, round(float(each.x[0]))): float(each.x[0]) for each in scene.layers if each.role == "bars"
        }
        self.assertAlmostEqual(places["n", 0] + places["s", 0], 0)
        self.assertLess(places["n", 1], 1)
        joined = layer(scene, "joined", "s")
        np.testing.assert_allclose(joined.y, (B.mean(), A.mean()))
        self.assertEqual(scene.across.counts, (7, 7))

    def test_violins_have_equal_area_and_half_ones_one_side(self):
        for form in ("whole", "half", "ridges"):
            scene = compared(["violin"], violin=form)
            areas = []
            for label in "ab":
                x, y = layer(scene, "violin", label).x, layer(scene, "violin", label).y
                areas.append(0.5 * abs(np.dot(x, np.roll(y, 1)) - np.dot(y, np.roll(x, 1))))
            self.assertAlmostEqual(areas[0], areas[1], delta=0.02 * areas[0])
            half = layer(scene, "violin", "b").x
            self.assertEqual(half.min() < 0.99, form != "half")

    def test_points_set_apart_do_not_cover_each_other(self):
        rng = np.random.default_rng(3)
        values = np.sort(rng.normal(50, 8, 90))
        off = side_by_side.apart(values, 0.8, values.min(), values.max())
        strip = np.floor((values - values.min()) / np.ptp(values) * 46)
        for each in np.unique(strip):
            offsets = np.sort(off[strip == each])
            if offsets.size > 1:
                self.assertGreater(np.diff(offsets).min(), 0.02)
        self.assertLessEqual(np.abs(off).max(), 0.4)

    def test_levels_at_their_numbers_with_a_line(self):
        parts = [part("1", 0, A, number=1.0), part("4", 1, B, number=4.0)]
        scene = compared(["centre"], parts, on_numbers=True, lines=[(0, 1.0, 2.0)])
        line = layer(scene, "fit")
        np.testing.assert_array_equal((line.x, line.y), ((1, 4), (3, 9)))
        self.assertEqual(scene.across.kind, "number")
        self.assertEqual(({layer.series for layer in scene.layers}, scene.series), ({""}, ()))
        log = compared(["centre"], parts, on_numbers=True, lines=[(0, 0.0, 1.0)], scale="log10")
        np.testing.assert_allclose(layer(log, "fit").y, (10, 10_000))

    def test_turned_figures_say_the_same_along_the_other_axis(self):
        upright, along = compared(["points", "box", "centre"]), compared(["points", "box", "centre"], upright=False)
        self.assertEqual(along.up.levels, upright.across.levels[::-1])
        for role in ("box", "bars"):
            one, other = layer(upright, role, "b"), layer(along, role, "b")
            np.testing.assert_array_equal(one.y, other.x)
            np.testing.assert_array_equal(one.low, other.low)
            self.assertFalse(other.upright)
            self.assertEqual(along.up.levels[int(other.y[0])], "b")
        again = turned(turned(upright))
        self.assertEqual((again.across, again.up), (upright.across, upright.up))

    def test_pairs_are_joined_and_broken_between_units(self):
        scene = compared(["points"], pairs=np.array([[1.0, 3.0], [2.0, np.nan]]))
        thin = layer(scene, "pairs")
        np.testing.assert_array_equal(thin.y, (1, 3, np.nan, 2, np.nan, np.nan))

    def test_stacked_answers_lie_about_the_neutral_one_and_take_their_rank(self):
        edges = [np.array([-40.0, 10.0, 60.0]), np.array([-20.0, 20.0, 80.0])]
        how = {"ordered": True, "neutral": 0}
        stacked = side_by_side.stacked(["a", "b"], [5, 5], edges, ["no", "yes"], "Bed", FACTS, **how)
        yes = layer(stacked, "answers", "yes")
        np.testing.assert_array_equal(np.sort(yes.high_x - yes.x), (50, 60))
        self.assertEqual(sorted(yes.texts), ["50\u202f%", "60\u202f%"])
        self.assertLess(stacked.across.low, -40)
        self.assertEqual(([each.rank for each in stacked.series], stacked.ramp), ([0.5, 0.96], "diverging"))

    def test_estimates_stand_under_their_headings_with_their_numbers_beside(self):
        made = side_by_side.Estimate
        rows = [made("one", 1.2, 0.8, 1.9, weight=1.0, beside="1.2", heading="A", row=7),
                made("two", 2.0, None, 3.0, weight=4.0, heading="B"),
                made("all", 1.1, 1.0, 1.2, combined=True)]  # fmt: skip
        result = side_by_side.estimates(rows, "Ratio", "", FACTS, none=1.0, none_words="no effect", scale="log10")
        self.assertEqual(result.up.levels, ("all", "two", "B", "one", "A"))
        self.assertEqual((sorted(result.up.heads), result.up.beside[3]), ([2, 4], "1.2"))
        self.assertEqual((layer(result, "combined").y[0], result.across.scale), (0, "log10"))
        np.testing.assert_array_equal(layer(result, "limits").x, (1, 1))
        self.assertEqual(layer(result, "limits").texts, ("no effect",))
        bars = layer(result, "bars")
        np.testing.assert_array_equal((bars.size, bars.y), ((0.25, 1.0), (3, 1)))
        self.assertTrue(np.isnan(bars.low[1]))
        self.assertEqual((result.lanes[0].group, result.lanes[0].at), (7, 3))

    def test_values_are_written_beside_their_centres_and_rings_are_a_choice(self):
        far = part("a", 0, [1.0, 2.0, 2.5, 3.0, 40.0])
        scene = compared(["centre", "box"], [far, part("b", 1, B)], values=2, side="up")
        words = layer(scene, "values")
        self.assertEqual(words.texts, (f"{far.centre:.2f}", f"{B.mean():.2f}"))
        np.testing.assert_allclose(words.low, (far.centre, B.mean()))
        np.testing.assert_array_equal(layer(scene, "beyond").rows, [4])
        self.assertGreater(scene.up.high, 40)
        without = compared(["box"], [far, part("b", 1, B)], rings=False)
        self.assertNotIn("beyond", [each.role for each in without.layers])

    def test_densities_back_to_back_share_one_foot(self):
        scene = compared(["violin"], violin="facing")
        a, b = layer(scene, "violin", "a"), layer(scene, "violin", "b")
        self.assertEqual((a.x.max(), b.x.min()), (0.5, 0.5))
        parts = [part("a", 0, A, second=0), part("a", 0, B, second=1)]
        scene = compared(["violin"], parts, violin="facing", seconds=("site", ("n", "s")))
        self.assertAlmostEqual(layer(scene, "violin", "n").x.max(), layer(scene, "violin", "s").x.min())

    def test_lanes_say_where_each_group_stands_upright_and_along(self):
        upright, along = compared(["centre"]), compared(["centre"], upright=False)
        self.assertEqual([(lane.group, lane.at) for lane in upright.lanes], [(0, 0), (1, 1)])
        self.assertEqual([(lane.group, lane.at) for lane in along.lanes], [(0, 1), (1, 0)])
        self.assertEqual([lane.value for lane in along.lanes], [A.mean(), B.mean()])


def paired(clouds, curves, **said):
    reach = [np.concatenate([np.empty(0), *(getattr(cloud, name) for cloud in clouds)]) for name in ("x", "y")]
    plot = related.Related(clouds, curves, Axis("X"), Axis("Y", "g"), *reach, FACTS, **said)
    return related.scene_of_pairs(plot, PairSource(table=uuid4(), x="x", y="y"))


class Pairs(TestCase):
    def test_axes_follow_what_was_seen_not_what_was_drawn_through_it(self):
        cloud = related.Cloud("", 0, np.array([1.0, 2.0]), np.array([1.0, 2.0]), np.array([1, 2]), np.empty(0))
        low, high = np.array([-50.0, np.nan]), np.array([90.0, np.nan])
        curve = related.Curve("", "fit", np.array([1.0, 2.0]), np.array([-20.0, 40.0]), (("band", low, high),))
        scene = paired([cloud], [curve])
        self.assertEqual(aired([np.array([1.0, 2.0])], 0.04), (scene.up.low, scene.up.high))
        self.assertEqual(layer(scene, "band").x.size, 2)  # where both limits are known
        self.assertEqual([each.role for each in scene.layers], ["band", "points", "fit"])

    def test_shades_leave_out_empty_cells(self):
        value = np.array([0.0, 3.0, 1.0])
        edge = np.arange(3.0)
        tiles = related.Tiles(edge, edge, edge + 1, edge + 1, value, "Pairs in a cell")
        scene = paired([], [], tiles=tiles)
        self.assertEqual((scene.layers[0].value.tolist(), scene.values_high), ([3, 1], 3))
        self.assertEqual((scene.values_low, scene.values_scale), (1, "log10"))


class Ends(TestCase):
    @example(np.array([1.79589724e308]))
    @example(np.array([5e-324]))
    @given(arrays.arrays(np.float64, st.integers(0, 6), elements=st.floats(allow_nan=True, allow_infinity=True)))
    def test_every_axis_has_finite_ends_about_its_values(self, values):
        for scale in ("linear", "log10"):
            low, high = aired([values], 0.03, scale)
            self.assertTrue(np.isfinite(low) and np.isfinite(high) and low < high, (low, high))
            known = values[np.isfinite(values) & ((values > 0) | (scale == "linear"))]
            self.assertTrue(np.all((known >= low) & (known <= high)))
        least = least_above_zero([values])
        self.assertEqual(least > 0, bool(np.any(np.isfinite(values) & (values > 0))))

    def test_reach_knows_bars_boxes_and_bodies(self):
        bar = Layer(
            "interval",
            "bars",
            x=np.array([1.0]),
            y=np.array([5.0]),
            low=np.array([2.0]),
            high=np.array([9.0]),
            width=0.4,
        )
        x, y = reach(bar)
        self.assertEqual((x.min(), x.max(), y.min(), y.max()), (0.8, 1.2, 2, 9))


class Words(TestCase):
    def test_a_caption_tells_n_by_group_and_what_was_set_aside(self):
        facts = replace(FACTS, missing=2, aside=3, entries=(4, 7), notes=("The axis is logarithmic.",))
        text = figure.caption(document(), [compared(["centre"], facts=facts)])
        self.assertEqual(
            text,
            "Mass (g) by bed. Open marks: mean; bars: one SD to each side. The axis is logarithmic. n: a 3, b 4. "
            "2 rows without a value. 3 rows set aside (Ledger 4, 7).",
        )
        many = replace(FACTS, n=tuple((str(i), 10 + i) for i in range(20)))
        self.assertIn(
            "n\u00a0=\u00a0390 in 20 groups of 10 to 29.",
            figure.caption(document(), [compared(["centre"], facts=many)]),
        )
        unit = replace(FACTS, n=(("", 12),), counts_of="each oyster, its rows averaged first")
        self.assertIn(
            "n\u00a0=\u00a012, counting each oyster", figure.caption(document(), [compared(["centre"], facts=unit)])
        )

    def test_panels_are_lettered_and_tell_what_they_share_once(self):
        other = replace(FACTS, subject="Length (mm) by bed", aside=1)
        scenes = [compared(["centre"], facts=replace(FACTS, aside=1)), compared(["centre"], facts=other)]
        text = figure.caption(document(panel(), panel()), scenes)
        self.assertTrue(text.startswith("(A) Mass (g) by bed. (B) Length (mm) by bed. Open marks: mean"))
        self.assertEqual(text.count("set aside"), 1)
        small = figure.caption({**document(panel(), panel()), "sheet": {"letters": "a"}}, scenes)
        self.assertIn("(b) Length", small)

    def test_titles_names_and_scales_that_were_set_are_what_the_caption_says(self):
        facts = replace(FACTS, named=(("up", "Mass (g)"), ("across", "bed"), ("series", "")))
        across, up = {**AXIS, "title": "Tide pool"}, {**AXIS, "title": "Weight of 5% of shells", "scale": "log10"}
        said = figure.caption(
            document(panel(across=across, up=up, series={"a": {"name": "Alpha"}})), [compared(["centre"], facts=facts)]
        )
        self.assertTrue(said.startswith("Weight of 5% of shells by Tide pool."))
        self.assertIn("The axis is logarithmic.", said)
        self.assertIn("Alpha 3", said)
        turned_facts = compared(["centre"], facts=facts, upright=False).facts.named
        self.assertEqual(turned_facts[0], ("across", "Mass (g)"))
        plain = figure.caption(document(panel(up={**AXIS, "scale": "linear"})), [compared(["centre"], scale="log10")])
        self.assertNotIn("logarithmic", plain)

    def test_names_typed_at_ticks_are_what_the_words_say(self):
        across = {**AXIS, "names": {"a": "upper bed"}}
        drawn = document(panel(across=across))
        self.assertIn("n: upper bed 3, b 4.", figure.caption(drawn, [compared(["centre"])]))
        self.assertIn("upper bed, b.", figure.alternative(drawn, [compared(["centre"])]))
        told = next(each for each in figure.check(drawn, [compared(["centre"])], "None.") if each.code == "n")
        self.assertEqual(told.say, "n: upper bed 3, b 4.")

    def test_references_are_named_in_the_caption(self):
        lined = panel(furniture=[{"kind": "line", "text": "limit^{2}"}, {"kind": "note", "text": "no"}])
        self.assertIn("Reference: limit².", figure.caption(document(lined), [compared(["centre"])]))

    def test_an_alternative_text_gives_kind_axes_and_numbers(self):
        scene = replace(compared(["points", "centre"]), numbers=(figure.Number("mean, a", -2.5, "g"),))
        text = figure.alternative(document(), [scene])
        self.assertIn("drawn as points and centres with bars.", text)
        self.assertIn("Across: Bed: a, b.", text)
        self.assertIn("mean, a \u22122.5 g.", text)
        log = panel(up={**AXIS, "scale": "log10", "low": 1.0, "high": 20.0})
        self.assertIn("Up: Mass from 1 to 20 g, logarithmic.", figure.alternative(document(log), [scene]))


class Checks(TestCase):
    def found(self, scene, *panels, text=None, **said):
        return {
            each.code: each for each in figure.check(document(*panels, **said), [scene] * max(len(panels), 1), text)
        }

    def test_all_holds_for_a_plain_figure(self):
        result = self.found(compared(["points", "centre"]))
        self.assertTrue(all(each.holds for each in result.values()), result)
        self.assertTrue({"type", "line", "cut", "merge", "bars", "n"} <= set(result))

    def test_rows_without_a_mark_and_densities_of_few_values_are_told_and_mended(self):
        bare = compared(["box"], facts=replace(FACTS, unmarked=2))
        rings = self.found(bare, panel(source={"rings": False}))["rings"]
        self.assertEqual((rings.words, rings.changes[0].value), ("2 rows beyond the whiskers have no mark.", True))
        few = self.found(compared(["violin", "centre"]), panel(source={"marks": ["violin", "centre"]}))["few"]
        self.assertEqual(few.words, "The density of a, b stands on fewer than 5 values.")
        self.assertEqual(few.changes[0].value, ["points", "centre"])
        self.assertNotIn("few", self.found(compared(["centre"]), panel()))

    def test_notes_and_lines_beyond_an_axis_are_told_with_a_way_to_widen_it(self):
        scene = compared(["points", "centre"])
        low, high = scene.up.low, scene.up.high
        line = {"kind": "line", "axis": "up", "at": high + 5, "text": "limit"}
        note = {"kind": "note", "x": 0, "y": low - 1, "text": ""}
        told = self.found(scene, panel(furniture=[line, note]))["beyond"]
        self.assertEqual(told.words, "The line \u201climit\u201d and the note lie beyond the axes.")
        ends = {change.path[-2:]: change.value for change in told.changes}
        air = 0.04 * (high - low)
        self.assertEqual(ends, {("up", "high"): high + 5 + air, ("up", "low"): low - 1 - air})
        widened = panel(up={**AXIS, "low": low - 2, "high": high + 6}, furniture=[line, note])
        self.assertTrue(self.found(scene, widened)["beyond"].holds)

    def test_what_an_axis_cuts_is_counted(self):
        scene = compared(["points", "centre"])
        cut = self.found(scene, panel(up={**AXIS, "high": 5.5}))["cut"]
        self.assertEqual((cut.holds, cut.mend), (False, "show all"))
        self.assertIn("2 points and the bar of b", cut.words)
        self.assertEqual({change.value for change in cut.changes}, {None})
        self.assertEqual(ends_of(scene.up, {**AXIS, "high": 5.5})[1], 5.5)

    def test_bars_from_elsewhere_than_zero(self):
        scene = compared(["from zero"])
        for settings in ({"low": 1.0}, {"scale": "log10"}):
            self.assertFalse(self.found(scene, panel(up={**AXIS, **settings}))["zero"].holds)
        self.assertTrue(self.found(scene, panel())["zero"].holds)
        self.assertNotIn("zero", self.found(compared(["centre"])))

    def test_values_that_a_log_axis_loses(self):
        cloud = related.Cloud("", 0, np.array([0.0, 2.0, 3.0]), np.array([1.0, 2.0, 3.0]), np.arange(3), np.empty(0))
        scene = paired([cloud], [])
        lost = self.found(scene, panel(across={**AXIS, "scale": "log2"}))["lost"]
        self.assertEqual((lost.holds, lost.mend), (False, "make it straight"))
        adopted = replace(scene, across=replace(scene.across, scale="log10", lost=4))
        lost = self.found(adopted, panel())["lost"]
        self.assertEqual((lost.say[:8], lost.mend), ("4 values", "say it in the caption"))
        self.assertTrue(self.found(adopted, panel(), text=f"n = 3. {lost.say}")["lost"].holds)

    def test_a_box_down_to_zero_runs_off_a_log_axis_and_is_not_said_to_be_cut(self):
        boxed = part("a", 0, [0.0, 0.5, 1.0, 3.0, 9.0, 12.0])
        scene = compared(["box"], [boxed], scale="log10")
        self.assertLess(scene.up.low, boxed.box.q1)
        self.assertTrue(self.found(scene, panel())["cut"].holds)
        by_hand = self.found(compared(["box"], [boxed]), panel(up={**AXIS, "scale": "log10"}))
        self.assertEqual((by_hand["lost"].holds, by_hand["lost"].mend), (False, "make it straight"))
        self.assertIn("1 bar or box of 0 or below", by_hand["lost"].words)

    def test_words_missing_from_a_caption_of_ones_own(self):
        result = self.found(compared(["centre"]), panel(), text="Masses.")
        self.assertEqual((result["bars"].holds, result["n"].holds), (False, False))
        self.assertIn("one SD to each side", result["bars"].say)
        self.assertEqual(result["n"].say, "n: a 3, b 4.")
        told = self.found(compared(["centre"]), panel(), text="Masses; bars one SD to each side, n = 7.")
        self.assertTrue(told["bars"].holds and told["n"].holds)

    def test_type_lines_legends_and_empty_halves(self):
        thin = {**styles.ON_SCREEN, "type_size": 5.0, "mark_line": 0.3}
        result = self.found(compared(["centre"]), panel(series={"a": {"line": 0.1}}), style=thin)
        self.assertEqual([change.path for change in result["type"].changes], [("style", "type_size")])
        self.assertEqual(len(result["line"].changes), 2)
        one = compared(["centre"], [part("a", 0, A)])
        self.assertEqual(self.found(one, panel(legend={"shown": "yes"}))["legend"].changes[0].value, "no")
        wide = self.found(compared(["points"]), panel(up={**AXIS, "low": -40.0, "high": 90.0}))
        self.assertEqual((wide["empty"].holds, wide["empty"].mend), (False, "fit the axes"))
        self.assertNotIn("empty", self.found(compared(["points"])))
        self.assertEqual(self.found(compared([]))["empty"].words, "No mark is drawn.")

    def test_series_that_merge_are_told_apart_by_another_look(self):
        lines = tuple(Layer("line", "density", key, np.arange(3.0), np.arange(3.0)) for key in ("p", "q"))
        series = (SceneSeries("p", "p", 0, 3), SceneSeries("q", "q", 1, 3))
        axis = Axis("X", low=0, high=2)
        scene = Scene(axis, axis, lines, FACTS, series)
        close = panel(series={"p": {"colour": "#AA3333"}, "q": {"colour": "#AC3535"}})
        merging = self.found(scene, close)["merge"]
        self.assertIn("p and q merge for all readers", merging.words)
        self.assertTrue(self.found(scene, close, style={**styles.ON_SCREEN, "dashes": True})["merge"].holds)
        red_green = panel(series={"p": {"colour": "#C05030"}, "q": {"colour": "#6F7A20"}})
        self.assertIn("cones", self.found(scene, red_green)["merge"].words)
        self.assertTrue(self.found(scene, panel())["merge"].holds)


class Colours(TestCase):
    def test_differences_are_those_published(self):
        # Sharma, Wu and Dalal (2005), table 1.
        for a, b, expected in (
            ((50, 2.6772, -79.7751), (50, 0, -82.7485), 2.0425),
            ((50, 3.1571, -77.2803), (50, 0, -82.7485), 2.8615),
            ((50, 2.8361, -74.0200), (50, 0, -82.7485), 3.4412),
            ((50, 0, 0), (50, -1, 2), 2.3669),
            ((50, 2.5, 0), (50, 0, -2.5), 4.3065),
            ((50, 2.5, 0), (73, 25, -18), 27.1492),
            ((50, 2.5, 0), (61, -5, 29), 22.8977),
            ((50, 2.5, 0), (56, -27, -3), 31.9030),
            ((50, 2.5, 0), (58, 24, 15), 19.4535),
            ((60.2574, -34.0099, 36.2677), (60.4626, -34.1751, 39.4387), 1.2644),
            ((2.0776, 0.0795, -1.1350), (0.9033, -0.0636, -0.5514), 0.9082),
        ):
            self.assertAlmostEqual(colours.difference(np.array(a), np.array(b)), expected, places=4)

    def test_the_scale_of_lightness_is_that_of_cie(self):
        np.testing.assert_allclose(colours.lab(colours.linear("#FFFFFF")), (100, 0, 0), atol=0.02)
        np.testing.assert_allclose(colours.lab(colours.linear("#000000")), (0, 0, 0), atol=1e-9)
        np.testing.assert_allclose(colours.lab(colours.linear("#777777"))[0], 50.03, atol=0.05)

    def test_our_sets_hold_what_they_promise(self):
        for each in colours.SETS:
            views = {result.view for result in colours.merged(each.colours)}
            self.assertLessEqual(views, {"grey"} if each.name == "notebook" else set(), each.name)
            self.assertEqual(len(each.colours), len(each.fills))
        for matrix in colours.VIEWS.values():
            # Greys stay as they are for every reader.
            np.testing.assert_allclose(np.sum(matrix, axis=1), 1, atol=1e-4)


class Data(TestCase):
    def test_every_mark_is_a_line_with_all_its_digits(self):
        scene = compared(["points", "centre", "box"])
        lines = list(csv.DictReader(io.StringIO(figure.data([scene], [""]))))
        points = [line for line in lines if line["mark"] == "points"]
        self.assertEqual(sorted(float(point["y"]) for point in points), sorted([*A, *B]))
        self.assertEqual(points[0]["row"], "1")
        box = next(line for line in lines if line["mark"] == "box" and line["series"] == "b")
        self.assertEqual((box["x"], float(box["q1"])), ("b", np.quantile(B, 0.25)))
        bar = next(line for line in lines if line["mark"] == "bars" and line["series"] == "a")
        self.assertEqual(float(bar["low"]), A.mean() - A.std(ddof=1))


class Ramps(TestCase):
    def test_each_falls_in_lightness_so_that_it_reads_in_grey_and_for_every_reader(self):
        for name, steps in colours.LOOK["ramps"].items():
            for view in ("", *colours.VIEWS) if name != "diverging" else ():
                lightness = [float(colours.seen(step, view)[0]) for step in steps]
                self.assertLess(float(np.diff(lightness).max()), -3, f"{name}, {view}")


class Sets(TestCase):
    def test_a_series_takes_its_colour_from_the_set_by_its_place_or_has_its_own(self):
        style = {**styles.ON_SCREEN, "colours": "graphite"}
        colours = styles.colours_of(style).colours
        self.assertEqual(styles.colour_of(style, 1), colours[1])
        self.assertEqual(styles.colour_of(style, len(colours)), colours[0])
        self.assertEqual(styles.colour_of(style, 1, "#123456"), "#123456")
        self.assertEqual(styles.colours_of({"colours": "gone"}).name, "notebook")

    def test_colours_of_ranks_run_along_their_ramp(self):
        self.assertEqual(colours.of_rank(0.0, "sequential", "notebook"), "#f5f1e6")
        self.assertEqual(colours.of_rank(1.0, "diverging", "notebook"), "#782e47")
        halfway = colours.of_rank(0.5, "sequential", "graphite")
        self.assertEqual(halfway[1:3], f"{round((0xFF + 0x1F) / 2):02x}")

    def test_both_built_in_styles_pass_their_own_checks(self):
        scene = compared(["points", "centre"])
        for style in styles.STYLES:
            result = figure.check(document(style=style), [scene])
            self.assertTrue(all(each.holds for each in result), [each.words for each in result if not each.holds])
            self.assertIn(style["colours"], [each.name for each in colours.SETS])
