"""Results without rows: against summaries of what is left, row by row."""

import unittest

import numpy as np
from heron.errors import ChoiceError, InputError
from heron.normality import shapiro_wilk
from heron.sensitivity import MOST_FOR_W, STATISTICS, leave_one_out, results_without
from heron.summary import summarize
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats


def plain(values, statistic):
    return shapiro_wilk(values).statistic if statistic == "shapiro_w" else getattr(summarize(values), statistic)


class EachRow(unittest.TestCase):
    @settings(max_examples=60)
    @given(
        st.lists(st.floats(-50, 50).map(lambda v: round(v, 1)), min_size=5, max_size=14),
        st.sampled_from(list(STATISTICS)),
    )
    def test_against_the_summary_of_what_is_left(self, values, statistic):
        x = np.array([*values, np.nan])
        result = leave_one_out(x, statistic)
        for i in range(len(values)):
            expected = plain(np.delete(x, i), statistic)
            if expected is None:
                self.assertTrue(np.isnan(result.values[i]))
            else:
                self.assertAlmostEqual(result.values[i], expected, delta=1e-5 * max(1, abs(expected)))
        self.assertTrue(np.isnan(result.values[-1]))

    def test_what_is_left_of_rounding_is_no_spread(self):
        for statistic in ("skewness", "kurtosis"):
            result = leave_one_out([32.0, 32.0, 32.0, 1.5, 32.0], statistic).values
            self.assertEqual(np.isnan(result).tolist(), [False, False, False, True, False])

    def test_without_a_row_that_is_nearly_all_of_the_spread(self):
        rest = np.random.default_rng(4).normal(size=50)
        for far in (1e5, -1e9):
            for statistic, expected in (
                ("kurtosis", stats.kurtosis(rest, bias=False)),
                ("skewness", stats.skew(rest, bias=False)),
                ("sd", rest.std(ddof=1)),
            ):
                result = leave_one_out(np.array([*rest, far]), statistic)
                np.testing.assert_allclose(result.values[-1], expected, rtol=1e-5)

    def test_the_row_that_carries_the_result(self):
        x = np.random.default_rng(1).normal(50, 2, 200)
        x[17] = 90
        for statistic in ("mean", "sd", "skewness", "kurtosis", "shapiro_w"):
            self.assertEqual(leave_one_out(x, statistic).furthest, 17)

    def test_too_few_too_many_and_too_large(self):
        self.assertIn("values", leave_one_out([3.0], "mean").undefined)
        self.assertIsNone(leave_one_out([2.0, 2, 2], "sd").furthest)
        np.testing.assert_allclose(
            leave_one_out([1e308, -1e308, 1.5e308], "mean").values, [2.5e307, 1.25e308, 0], atol=1e294
        )
        with self.assertRaises(InputError):
            leave_one_out(np.arange(MOST_FOR_W + 1.0), "shapiro_w")
        with self.assertRaises(ChoiceError):
            leave_one_out([1.0, 2], "mode")


class SomeRows(unittest.TestCase):
    def test_with_and_without(self):
        x = np.array([1.0, 2, 3, 4, 5, 40, np.nan, 6])
        group = [*"aabbabb", None]
        result = {(each.name, each.group): each for each in results_without(x, group, without=np.array([5]))}
        left = np.delete(x, 5)
        for name in ("mean", "sd", "median", "skewness", "geometric_mean"):
            self.assertAlmostEqual(result[name, ""].with_all, getattr(summarize(x), name))
            self.assertAlmostEqual(result[name, ""].without, getattr(summarize(left), name))
        whole = summarize(x)
        self.assertAlmostEqual(result["mean", ""].in_ses, (summarize(left).mean - whole.mean) / whole.se)
        gap = result["difference", "b"]
        self.assertAlmostEqual((gap.with_all), 47 / 3 - 8 / 3)
        self.assertAlmostEqual(gap.without, 3.5 - 8 / 3)
        none = results_without([1.0, 2], without=np.array([0, 1]))
        self.assertEqual((none[0].with_all, none[0].without), (1.5, None))
