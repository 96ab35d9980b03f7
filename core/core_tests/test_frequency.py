"""Classes and counts, worked by hand, and their properties."""

import math
import unittest

import numpy as np
from heron.errors import ChoiceError, InputError
from heron.frequency import MOST_CLASSES, class_labels, classify, count_values, usual
from hypothesis import given, settings
from hypothesis import strategies as st


class Rules(unittest.TestCase):
    def test_each_width_from_its_formula(self):
        x = np.random.default_rng(5).gamma(3, 2, 400)
        q1, q3 = np.quantile(x, [0.25, 0.75])
        expected = {
            "freedman-diaconis": 2 * (q3 - q1) / 400 ** (1 / 3),
            "scott": 3.49 * np.std(x, ddof=1) / 400 ** (1 / 3),
            "sturges": np.ptp(x) / (math.ceil(math.log2(400)) + 1),
            "square-root": np.ptp(x) / 20,
        }
        for rule, width in expected.items():
            exact = classify(x, rule=rule, rounding="exact")
            self.assertAlmostEqual(exact.width, width, places=10)
            self.assertEqual(exact.boundaries[0], x.min())
            nice = classify(x, rule=rule)
            self.assertIn(round(nice.width / 10 ** math.floor(math.log10(nice.width) + 1e-9), 6), (1, 2, 2.5, 5))
            self.assertTrue(0.6 < nice.width / width < 1.6)
            self.assertAlmostEqual(nice.boundaries[0] % nice.width, 0)

    def test_freedman_diaconis_without_an_iqr_falls_back_and_says_so(self):
        result = classify([0] * 30 + [1, 2, 10])
        self.assertEqual(result.rule, "freedman-diaconis: the IQR is 0, so sturges")
        self.assertEqual(result.counts.sum(), 33)

    def test_a_measurement_in_whole_numbers_has_the_usual_classes(self):
        rng = np.random.default_rng(15)
        for spread, kind in ((500, "continuous"), (500, "count"), (40, "ordered"), (9_000, "count")):
            values = rng.integers(0, spread, 51)
            how = usual(values, kind=kind, decimals=0)
            result = classify(values, rule=how.rule, step=how.step)
            self.assertEqual((how.rule, how.step), ("freedman-diaconis", 1.0))
            self.assertLess(result.counts.size, 20)
            self.assertEqual(result.width % 1, 0)
            self.assertTrue(np.all(result.boundaries % 1 == 0))

    def test_few_values_have_a_class_each_called_by_the_value(self):
        for values, kind in (([2, 3, 3, 5, 9], "count"), ([1, 2, 3, 4, 5] * 4, "ordered"), ([7] * 5, "continuous")):
            how = usual(values, kind=kind, decimals=0)
            result = classify(values, rule=how.rule, step=how.step)
            self.assertEqual(how.rule, "integers")
            self.assertEqual(class_labels(result), tuple(str(each) for each in range(min(values), max(values) + 1)))
        self.assertEqual(usual(np.arange(31), kind="count", decimals=0).rule, "freedman-diaconis")
        self.assertEqual(usual([0, 31], kind="count", decimals=0).rule, "freedman-diaconis")

    @given(st.integers(0, 3), st.lists(st.integers(-5_000, 5_000), min_size=1, max_size=200))
    def test_usual_classes_are_whole_steps_wide(self, decimals, steps):
        values = np.array([float(f"{step}e-{decimals}") for step in steps])
        how = usual(values, kind="continuous", decimals=decimals)
        result = classify(values, rule=how.rule, step=how.step)
        self.assertEqual(how.step, 10.0**-decimals)
        if result.rule == "freedman-diaconis":
            self.assertAlmostEqual(result.width / how.step, round(result.width / how.step), places=6)
        self.assertEqual(int(result.counts.sum()), values.size)

    def test_what_was_recorded_in_no_steps_has_none(self):
        for values, kind, decimals in (
            ([0.5, 1.25], "continuous", 1), ([0.5, 1.5], "continuous", None), ([], "count", 0), ([1.0], "date-time", 0),
            ([1e308, -1e308], "continuous", 2), ([1e15 + 0.5, 1e15], "continuous", 0),
        ):  # fmt: skip
            how = usual(values, kind=kind, decimals=decimals)
            self.assertIsNone(how.step, values) if abs(max(values, default=0)) < 1e300 else None
            if values:
                self.assertEqual(int(classify(values, rule=how.rule, step=how.step).counts.sum()), len(values))

    def test_integers_are_centred(self):
        result = classify([0, 1, 1, 3], rule="integers")
        self.assertEqual(result.boundaries.tolist(), [-0.5, 0.5, 1.5, 2.5, 3.5])
        self.assertEqual(result.counts.tolist(), [1, 2, 0, 1])

    def test_one_slip_among_many_does_not_ask_for_a_million_classes(self):
        result = classify(np.r_[np.linspace(1, 2, 2000), 1e7])
        self.assertLessEqual(result.counts.size, MOST_CLASSES)
        self.assertIn("widened", result.rule)
        self.assertEqual(result.counts.sum(), 2001)


class Sides(unittest.TestCase):
    def test_a_value_on_a_boundary_goes_to_the_closed_side(self):
        x = [0, 1, 1, 2, 3]
        left = classify(x, boundaries=[0, 1, 2, 3])
        self.assertEqual(left.counts.tolist(), [1, 2, 2])  # [0, 1) [1, 2) [2, 3]
        right = classify(x, boundaries=[0, 1, 2, 3], closed="right")
        self.assertEqual(right.counts.tolist(), [3, 1, 1])  # [0, 1] (1, 2] (2, 3]

    def test_decimal_boundaries_are_those_that_a_file_holds(self):
        result = classify([0.1, 0.2, 0.3, 0.3, 0.7], width=0.1)
        self.assertEqual(result.boundaries.tolist(), [0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7])
        self.assertEqual(result.counts.tolist(), [1, 1, 2, 0, 0, 1])

    def test_classes_asked_for_by_number_have_readable_ends(self):
        values = [66, 310, 500, 839]
        # 773/8 = 96.6 is hardly less than 100, 773/7 = 110.4 than 120 from 60 on.
        for count, first, width in ((8, 60, 100), (7, 60, 120), (12, 60, 70)):
            result = classify(values, count=count)
            self.assertEqual(result.boundaries.tolist(), [first + width * i for i in range(count + 1)])
        self.assertEqual(classify([0.1, 0.2, 0.35], count=5).boundaries.tolist(), [0.1, 0.15, 0.2, 0.25, 0.3, 0.35])
        self.assertEqual(classify(values, count=3, rounding="exact").boundaries[[0, -1]].tolist(), [66, 839])

    @settings(max_examples=80)
    @given(
        st.lists(st.floats(-1e6, 1e6, allow_subnormal=False), min_size=2, max_size=60, unique=True),
        st.integers(1, 60),
    )
    def test_so_many_classes_hold_all_values(self, values, count):
        result = classify(values, count=count)
        self.assertEqual((len(result.counts), result.counts.sum()), (count, len(values)))

    def test_values_outside_are_counted_and_heights_belong_to_those_inside(self):
        result = classify([-5, 0, 1, 2, 3, 99, 100, np.nan], boundaries=[0, 2, 4])
        self.assertEqual((result.below, result.above, result.n, result.n_missing), (1, 2, 7, 1))
        self.assertEqual(result.percents.tolist(), [50, 50])
        self.assertEqual(result.densities.tolist(), [0.25, 0.25])
        self.assertEqual(result.cumulative_counts.tolist(), [2, 4])

    @settings(max_examples=80)
    @given(
        st.lists(st.floats(-1e6, 1e6, allow_subnormal=False), min_size=1, max_size=60),
        st.sampled_from(["freedman-diaconis", "scott", "sturges", "square-root", "integers"]),
        st.sampled_from(["left", "right"]),
    )
    def test_every_value_is_in_one_class(self, values, rule, closed):
        result = classify(values, rule=rule, closed=closed)
        self.assertEqual(result.counts.sum() + result.below + result.above, len(values))
        self.assertEqual(result.below + result.above, 0)
        self.assertTrue(np.all(np.diff(result.boundaries) > 0))
        self.assertAlmostEqual(float(np.sum(result.densities * np.diff(result.boundaries))), 1, places=9)


class Degenerate(unittest.TestCase):
    def test_a_constant_stands_in_one_class_around_it(self):
        for value in (5.0, 0.0, -1e308, 1e300):
            result = classify([value] * 4)
            self.assertEqual(result.counts.tolist(), [4])
            self.assertIn("all values are the same", result.rule)

    def test_values_near_the_largest_number(self):
        result = classify([-1.7e308, 0, 1.7e308], count=4)
        self.assertEqual(result.counts.sum(), 3)
        self.assertTrue(np.all(np.isfinite(result.boundaries)))

    def test_a_width_near_zero_is_widened(self):
        for width in (5e-324, 1e-300, 1e-9):
            result = classify([1.0, 2.5, 8.0], width=width)
            self.assertIn("widened", result.rule)
            self.assertEqual(result.counts.sum(), 3)
        with self.assertRaises(InputError) as raised:
            classify([1.0, 2.0], width=1, start=1e308)
        self.assertIn("lost beside", raised.exception.problem)

    def test_refusals(self):
        for wrong, code in (
            ({"count": 3, "width": 1}, "two-class-settings"),
            ({"count": 0}, "out-of-range"),
            ({"width": 0}, "out-of-range"),
            ({"boundaries": [1, 1, 2]}, "boundaries-order"),
            ({"boundaries": np.arange(1000)}, "too-many-classes"),
        ):
            with self.subTest(wrong), self.assertRaises(InputError) as raised:
                classify([1, 2, 3], **wrong)
            self.assertEqual(raised.exception.code, code)
        with self.assertRaises(InputError) as raised:
            classify([np.nan])
        self.assertEqual(raised.exception.code, "no-values")
        with self.assertRaises(ChoiceError):
            classify([1, 2], rule="doane")


class ValueCounts(unittest.TestCase):
    def test_values_with_missing_as_a_row_of_its_own(self):
        rows = count_values([2, 1, np.nan, 2], include_missing=True).rows
        self.assertEqual([(row.value, row.count, row.percent) for row in rows], [(1, 1, 25), (2, 2, 50), (None, 1, 25)])
        without = count_values([2, 1, np.nan, 2])
        self.assertEqual((without.n, without.n_missing), (3, 1))
        self.assertAlmostEqual(without.rows[1].cumulative_percent, 100)

    def test_a_cross_table_by_hand(self):
        values = ["mesh", "mesh", "slotted", "mesh", None, "slotted"]
        by = ["a", "b", "b", "b", "b", None]
        rows = {(row.group, row.value): row for row in count_values(values, by=by).rows}
        self.assertEqual(rows["b", "mesh"].count, 2)
        self.assertAlmostEqual(rows["b", "mesh"].row_percent, 200 / 3)
        self.assertAlmostEqual(rows["b", "mesh"].column_percent, 200 / 3)
        self.assertAlmostEqual(rows["b", "mesh"].percent, 50)
        self.assertEqual(rows["a", "slotted"].count, 0)

    def test_the_order_of_levels_is_kept_and_unseen_ones_count_none(self):
        rows = count_values(["high", "low", "high"], levels=["low", "middle", "high"]).rows
        self.assertEqual([(row.value, row.count) for row in rows], [("low", 1), ("middle", 0), ("high", 2)])
        with self.assertRaises(ChoiceError):
            count_values(["odd"], levels=["low"])
        self.assertEqual(count_values([]).rows, ())
