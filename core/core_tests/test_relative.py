"""Percents of a baseline, changes along an order, what to add before a log, and units of expressions."""

import math
import unittest

import numpy as np
from heron import intake
from heron.derived import NO_BASELINE, NONE_BEFORE, circle, compute_derived, in_order, title_of
from heron.errors import ChoiceError, InputError, LengthMismatch
from heron.grouping import Grouping
from heron.rescale import along, of_baseline, offsets, parse, unit_of
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

CSV = b"who,week,mass (g)\na,0,10\nb,0,20\na,2,n/r\nb,2,30\na,4,25\nb,4,15\na,4,5\n"
TABLE = intake.read(CSV, missing_codes=["n/r"]).table
some = st.floats(-100, 100).map(lambda v: round(v, 2)) | st.just(math.nan)


class Baselines(unittest.TestCase):
    def test_each_group_has_a_baseline_of_its_own(self):
        result = of_baseline([10, 20, 5, 30, 8], ["a", "b", "a", "b", None], baseline=[True, True, False, False, False])
        np.testing.assert_allclose(result, [100, 100, 50, 150, np.nan])
        np.testing.assert_allclose(
            of_baseline([1, 2, 6, 3], baseline=[1, 1, 1, 0], centre="median"), [50, 100, 300, 150]
        )
        self.assertTrue(np.isnan(of_baseline([0, 3], baseline=[True, False])).all())  # nothing is a percent of 0
        self.assertTrue(np.isnan(of_baseline([1, 3], baseline=[False, False])).all())
        np.testing.assert_allclose(of_baseline([1e308, 1.5e308], baseline=[1, 1])[0], 80)
        self.assertEqual(of_baseline([], baseline=[]).size, 0)
        with self.assertRaises(ChoiceError):
            of_baseline([1], baseline=[True], centre="mode")
        with self.assertRaises(LengthMismatch):
            of_baseline([1, 2], baseline=[True])

    @given(st.lists(st.tuples(some, st.booleans(), st.integers(-1, 2)), max_size=30))
    def test_against_a_loop_over_rows(self, rows):
        x, at, group = (np.array([row[i] for row in rows]) for i in range(3))
        result = of_baseline(x, Grouping(tuple("abc"), group.astype(int)), baseline=at)
        for i, (value, _, group_of) in enumerate(rows):
            base = [v for v, is_base, g in rows if is_base and g == group_of and not math.isnan(v)]
            mean = math.fsum(base) / len(base) if base else 0
            if group_of < 0 or not base or math.isnan(value) or abs(mean) < 1e-9:
                self.assertTrue(math.isnan(result[i]) or abs(mean) < 1e-9)
            else:
                self.assertAlmostEqual(result[i], 100 * value / mean, delta=1e-6 * abs(result[i]) + 1e-9)


class AnOrder(unittest.TestCase):
    def test_steps_stay_within_a_group_and_gaps_keep_their_place(self):
        x, week, who = [1, 10, 4, np.nan, 9, 40], [0, 0, 1, 1, 2, 2], [0, 1, 0, 1, 0, 1]
        np.testing.assert_allclose(
            along(x, who, at=week, take="difference").values, [np.nan, np.nan, 3, np.nan, 5, np.nan]
        )
        np.testing.assert_allclose(along(x, who, at=week, take="earlier").values, [np.nan, np.nan, 1, 10, 4, np.nan])
        np.testing.assert_allclose(along(x, who, at=week, take="ratio", steps=2).values[4:], [9, 4])
        np.testing.assert_allclose(along(x, take="percent-change").values[:3], [np.nan, 900, -60])
        tied = along([1, 2, 3, 4], at=[5, 5, 6, np.nan], take="earlier")
        self.assertEqual(tied.tied.tolist(), [0, 1])
        np.testing.assert_allclose(tied.values, [np.nan, 1, 2, np.nan])
        for wrong in (0, 10_001):
            with self.assertRaises(InputError):
                along([1, 2], take="ratio", steps=wrong)

    @given(st.lists(st.tuples(some, st.integers(0, 5), st.integers(-1, 2)), max_size=30), st.integers(1, 3))
    def test_against_a_loop_over_groups(self, rows, steps):
        x, order_by, group = (np.array([row[i] for row in rows], dtype=float) for i in range(3))
        result = along(x, Grouping(tuple("abc"), group.astype(int)), at=order_by, take="earlier", steps=steps).values
        expected = np.full(len(rows), np.nan)
        for one_group in (0, 1, 2):
            order = sorted((i for i, row in enumerate(rows) if row[2] == one_group), key=lambda i: (order_by[i], i))
            for before, after in zip(order, order[steps:], strict=False):
                expected[after] = x[before]
        np.testing.assert_array_equal(result, expected)


class InATable(unittest.TestCase):
    def test_a_percent_of_each_ones_own_first_week(self):
        made = {"how": "percent", "of": ["mass", "week", "who"], "by": "week", "level": "0", "within": "who"}
        column = compute_derived("rel", made, TABLE.columns)
        np.testing.assert_allclose(column.numbers, [100, 100, np.nan, 150, 250, 75, 50])
        self.assertEqual(column.missing_counts, {"n/r": 1})
        self.assertEqual(title_of(made, TABLE.columns), ("mass, % of week 0", "%"))
        row = {"how": "percent", "of": "mass", "row": 3}
        self.assertEqual(compute_derived("rel", row, TABLE.columns).missing_counts, {"n/r": 1, NO_BASELINE: 6})
        for wrong in ({**made, "level": "9"}, {**row, "row": 8}):
            with self.assertRaises(InputError):
                compute_derived("rel", wrong, TABLE.columns)

    def test_a_change_along_weeks_says_why_a_row_has_none(self):
        made = {"how": "along", "of": ["mass", "week", "who"], "take": "difference", "order": "week", "within": "who"}
        column = compute_derived("gain", made, TABLE.columns)
        np.testing.assert_allclose(column.numbers, [np.nan, np.nan, np.nan, 10, np.nan, -15, -20])
        self.assertEqual(column.missing_counts, {"n/r": 1, NONE_BEFORE: 3})
        self.assertEqual(title_of(made, TABLE.columns), ("change in mass", "g"))
        by_name = compute_derived(
            "lag", {"how": "along", "of": ["mass", "who"], "take": "earlier", "order": "who"}, TABLE.columns
        )
        np.testing.assert_allclose(by_name.numbers, [np.nan, 5, 10, 20, np.nan, 30, 25])

    def test_ranges_are_given_labels_of_which_equal_ones_are_one(self):
        made = {"how": "classes", "of": "mass", "boundaries": [0, 10, 20, 26], "names": ["few", "many", "few"]}
        column = compute_derived("size", {**made, "others": "else"}, TABLE.columns)
        self.assertEqual(column.levels, ("few", "many", "else"))
        self.assertEqual(column.values.tolist(), ["many", "few", None, "else", "few", "many", "few"])
        with self.assertRaises(InputError):
            compute_derived("size", {**made, "names": ["one"]}, TABLE.columns)

    def test_recipes_stand_behind_what_they_are_made_of_and_never_in_a_circle(self):
        recipes = {"c": {"of": ["a", "b"]}, "b": {"of": "a"}, "x": {"of": "y"}, "y": {"of": ["x"]}}
        self.assertEqual(list(in_order(recipes)), ["b", "c"])
        self.assertEqual(circle(recipes, "x"), ("x", "y", "x"))
        self.assertEqual((circle(recipes, "c"), circle(recipes, "nothing")), ((), ()))


class BeforeALog(unittest.TestCase):
    def test_both_reasons_for_a_number_to_add(self):
        z = stats.norm.ppf((np.arange(1, 200) - 0.375) / 199.25)
        x = np.exp(z) - 3.0  # log(x + 3) is straight
        result = offsets(x)
        self.assertAlmostEqual(result.straightest, 3, delta=0.1)
        self.assertGreater(result.straightest_correlation, 0.9999)
        low = np.sort(x)
        self.assertAlmostEqual(result.half_least, (low[1] - low[0]) / 2 - low[0])
        counts = offsets([0, 0, 1, 2, 2, 5, 9, 4, np.nan])
        self.assertEqual(counts.half_least, 0.5)
        self.assertIn("straightest", offsets([0, 1, 2]).undefined)
        self.assertEqual(offsets([]).undefined["half_least"], "There is no value.")
        self.assertIn("too large", offsets([1e308, -1e308, 0] * 4).undefined["straightest"])
        self.assertIn("too near", offsets([i * 5e-324 for i in range(12)]).undefined["half_least"])
        self.assertEqual(offsets([2, 2]).undefined["straightest"], "All values are the same.")


UNITS = {"mass": "g", "length": "mm", "wide": "mm", "count": "", "rate": "g/m^2", "heat": "\u00b0C"}


class Units(unittest.TestCase):
    def check(self, text, unit, *doubts):
        result = unit_of(parse(text), UNITS)
        self.assertEqual(
            (result.unit, [(doubt.at, doubt.problem) for doubt in result.doubts]), (unit, list(doubts)), text
        )

    def test_units_as_worked_by_hand(self):
        self.check("1e6 * mass / length^3", "g/mm^{3}")
        self.check("(length + wide) / 2", "mm")
        self.check("length / wide", "")
        self.check("sqrt(length * wide)", "mm")
        self.check("mass / (rate * count)", None)
        self.check("mass / rate", "m^{2}")
        self.check("ln(mass)", "ln g")
        self.check("exp(ln(mass))", None)
        self.check("rank(mass) + 1", "")
        self.check("max(length, wide, 3)", "mm")
        self.check("mass if length > 3 and not wide == 2 else 0", "g")
        self.check("heat - 3", "\u00b0C")
        self.check("mass ^ (1/3)", "g^{1/3}")
        self.check("round(-mass, 1)", "g")
        self.check("1 / length", "1/mm")
        self.check("mass / (length * heat)", "g/(mm \u00b0C)")

    def test_what_does_not_go_together_is_pointed_to(self):
        self.check("mass + length", None, (7, "g and mm are added here."))
        self.check("3 * (mass < wide)", "", (5, "g and mm are compared here."))
        self.check("exp(mass)", None, (0, "exp needs a plain number, not one in g."))
        self.check("2 ^ mass", "", (4, "An exponent is a plain number, not one in g."))
