"""Summaries against certified reference data, published examples and plain re-computation."""

import math
import unittest
from fractions import Fraction

import numpy as np
from heron import boxes
from heron.errors import ChoiceError, InputError
from heron.summary import above_limited, summarize
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

SAMPLE = [2.1, 3.4, 3.9, 4.4, 4.4, 5.0, 5.8, 7.7, 9.2, 15.6]


class CertifiedReferenceData(unittest.TestCase):
    """Univariate data of the Statistical Reference Datasets (NIST), with certified mean and SD."""

    def check(self, values, mean, sd, digits):
        result = summarize(values)
        self.assertLess(abs(result.mean - mean), 1e-14 * abs(mean))
        self.assertLess(abs(result.sd - sd) / sd, 10.0**-digits)

    def test_three_large_whole_numbers(self):
        self.check([10000001, 10000003, 10000002], 10000002, 1, 15)

    def test_small_spread_on_large_values(self):
        for base, digits in ((1.2, 13), (1000000.2, 9), (10000000.2, 8)):
            low, high = base - 0.1, base + 0.1
            self.check(np.r_[base, np.tile([low, high], 500)], base, 0.1, digits)


class PublishedExamples(unittest.TestCase):
    def test_moments_of_heights_in_classes(self):
        # Heights of 100 students in five classes (Spiegel, Theory and Problems of Statistics, 1999, ch. 5).
        result = summarize([61, 64, 67, 70, 73], weights=[5, 18, 42, 27, 8])
        self.assertEqual((result.n, result.mean), (100, 67.45))
        self.assertAlmostEqual(result.skewness, -0.1098, places=4)
        self.assertAlmostEqual(result.kurtosis, -0.2091, places=4)
        self.assertAlmostEqual(result.skewness_se, 0.2414, places=4)

    def test_interval_of_the_median_by_order_statistics(self):
        # Ranks and coverage from the binomial table (Conover, Practical Nonparametric Statistics, 1999, table A3).
        for n, k, level in ((6, 1, 0.9688), (10, 2, 0.9785), (20, 6, 0.9586), (25, 8, 0.9567)):
            result = summarize(np.arange(1.0, n + 1))
            self.assertEqual((result.median_low, result.median_high), (k, n + 1 - k))
            self.assertAlmostEqual(result.median_level, level, places=4)
        five = summarize([1, 2, 3, 4, 5])
        self.assertIsNone(five.median_low)
        self.assertIn("more than 5", five.undefined["median_low"])

    def test_factor_of_the_mad(self):
        result = summarize([1, 1, 2, 2, 4, 6, 9])  # the textbook example: median 2, distances 1 1 0 0 2 4 7
        self.assertEqual((result.median, result.mad), (2, 1))
        self.assertAlmostEqual(result.mad_scaled, 1.482602218505602, places=14)


class Fences(unittest.TestCase):
    def test_fences_and_whiskers_are_those_of_the_box_and_vanish_with_the_quartiles(self):
        for values in (SAMPLE, [1, 2, 3, 40], [5.0], [2, 2, 2, 9], [-1.7e308, 0, 1e308, 1.7e308]):
            result, drawn = summarize(values), boxes(values).groups[0]
            self.assertEqual((result.whisker_low, result.whisker_high), (drawn.whisker_low, drawn.whisker_high))
        self.assertEqual((summarize([1, 2, 3, 40]).fence_low, summarize([1, 2, 3, 40]).fence_high), (-14.0, 28.0))
        self.assertIn("beyond the largest", summarize([-1.7e308, -1.6e308, 1.6e308, 1.7e308]).undefined["fence_high"])


class IndependentComputation(unittest.TestCase):
    def test_every_statistic_from_its_definition(self):
        exact = [Fraction(str(x)) for x in SAMPLE]
        n = len(exact)
        mean = sum(exact) / n
        moments = [sum((x - mean) ** k for x in exact) / n for k in range(5)]
        variance = float(moments[2] * n / (n - 1))
        g1 = float(moments[3]) / float(moments[2]) ** 1.5
        g2 = float(moments[4] / moments[2] ** 2) - 3
        result = summarize(SAMPLE, trim=0.2)
        logs = np.log(SAMPLE)
        half = stats.t.ppf(0.975, n - 1)
        expected = {
            "mean": float(mean),
            "variance": variance,
            "sd": math.sqrt(variance),
            "se": math.sqrt(variance / n),
            "mean_low": float(mean) - half * math.sqrt(variance / n),
            "sd_high": math.sqrt((n - 1) * variance / stats.chi2.ppf(0.025, n - 1)),
            "skewness": g1 * math.sqrt(n * (n - 1)) / (n - 2),
            "kurtosis": (n - 1) / ((n - 2) * (n - 3)) * ((n + 1) * g2 + 6),
            "cv": math.sqrt(variance) / float(mean),
            "trimmed_mean": float(sum(exact[2:-2]) / 6),
            "winsorized_mean": float((sum(exact[2:-2]) + 2 * exact[2] + 2 * exact[-3]) / 10),
            "geometric_mean": math.exp(logs.mean()),
            "geometric_sd": math.exp(logs.std(ddof=1)),
            "geometric_high": math.exp(logs.mean() + half * logs.std(ddof=1) / math.sqrt(n)),
            "iqr": 7.225 - 4.025,
            "fence_low": 4.025 - 1.5 * 3.2,
            "fence_high": 7.225 + 1.5 * 3.2,
            "range": 13.5,
            "total": float(sum(exact)),
        }
        for name, value in expected.items():
            with self.subTest(name):
                self.assertAlmostEqual(getattr(result, name) / value, 1, delta=1e-12)
        self.assertEqual(result.modes.tolist(), [4.4])
        self.assertEqual(result.undefined, {})

    @settings(max_examples=60)
    @given(
        st.lists(st.integers(-(10**6), 10**6), min_size=5, max_size=40).filter(lambda v: len(set(v)) > 2),
        st.integers(-1000, 1000),
        st.sampled_from([0.5, 2.0, 4.0]),
    )
    def test_shift_and_scale(self, values, shift, factor):
        first, moved = summarize(values), summarize(np.array(values) * factor + shift)
        for name in ("mean", "median", "q1", "trimmed_mean", "winsorized_mean"):
            self.assertTrue(math.isclose(getattr(moved, name), getattr(first, name) * factor + shift, abs_tol=1e-6))
        for name in ("sd", "iqr", "mad", "range"):
            self.assertTrue(math.isclose(getattr(moved, name), getattr(first, name) * factor, rel_tol=1e-9))
        self.assertTrue(math.isclose(moved.skewness, first.skewness, rel_tol=1e-6, abs_tol=1e-9))

    def test_weights_are_repetitions(self):
        values, weights = [1.5, 2.5, np.nan, 9.0], [3, 0, 2, 4]
        weighted, repeated = summarize(values, weights=weights), summarize(np.repeat(values, weights))
        for name in ("n", "n_missing", "mean", "sd", "median", "mad", "total"):
            self.assertEqual(getattr(weighted, name), getattr(repeated, name))


class DegenerateData(unittest.TestCase):
    def test_nothing_one_and_two_values(self):
        empty = summarize([np.nan, np.nan])
        self.assertEqual((empty.n, empty.n_missing, empty.mean), (0, 2, None))
        self.assertEqual(empty.undefined["mean"], "There is no value.")
        one = summarize([3.0])
        self.assertEqual((one.mean, one.median, one.minimum, one.range, one.sd), (3, 3, 3, 0, None))
        self.assertIn("at least 2", one.undefined["sd"])
        two = summarize([1.0, 2.0])
        self.assertEqual((two.sd, two.skewness, two.kurtosis), (math.sqrt(0.5), None, None))

    def test_a_constant_has_no_shape(self):
        result = summarize([0.1] * 7)
        self.assertEqual((result.mean, result.sd, result.iqr, result.skewness), (0.1, 0, 0, None))
        self.assertEqual(result.undefined["skewness"], "All values are the same.")

    def test_the_largest_and_the_smallest_numbers(self):
        big = summarize([1e308, 1.2e308, 1.4e308, 1.7e308])
        self.assertAlmostEqual(big.mean / 1.325e308, 1, places=12)
        self.assertAlmostEqual(big.sd / 2.986078811194819e307, 1, places=12)
        self.assertAlmostEqual(big.median / 1.3e308, 1, places=12)
        self.assertIsNone(big.variance)
        self.assertIn("beyond the largest number", big.undefined["variance"])
        plain = summarize([1.0, 2.0, 4.0, 9.0, 20.0])
        tiny = summarize(np.array([1.0, 2.0, 4.0, 9.0, 20.0]) * 1e-300)
        self.assertAlmostEqual(tiny.skewness, plain.skewness, places=12)

    def test_zero_that_does_not_mean_none_and_values_not_above_zero(self):
        self.assertIsNone(summarize(SAMPLE, true_zero=False).cv)
        result = summarize([-1, 0, 5])
        self.assertEqual(result.undefined["geometric_mean"], "It needs values above 0; 2 of 3 are not.")
        self.assertIsNone(summarize([-4, -2, 1]).cv)

    def test_refusals(self):
        for wrong in ({"level": 1.0}, {"trim": 0.5}, {"weights": [1, 1.5, 1]}, {"weights": [1, -1, 1]}):
            with self.subTest(wrong), self.assertRaises(InputError):
                summarize([1, 2, 3], **wrong)
        with self.assertRaises(ChoiceError) as raised:
            summarize([1, 2], quantile_definition=10)
        self.assertIn("Choose one of: 1, 2, 3", raised.exception.remedy)
        with self.assertRaises(InputError) as raised:
            summarize([1, math.inf, 2, -math.inf])
        self.assertEqual((raised.exception.code, raised.exception.rows), ("infinite-values", (1, 3)))
        self.assertIn("2 of 4 are infinite", str(raised.exception))


class Intervals(unittest.TestCase):
    @given(st.integers(2, 3_000), st.sampled_from([0.8, 0.9, 0.95, 0.99]))
    @settings(max_examples=60)
    def test_limits_are_those_of_the_distributions(self, n, level):
        x = np.random.default_rng(n).normal(3, 2, n)
        result = summarize(x, level=level)
        mean, sd = x.mean(), x.std(ddof=1)
        low, high = stats.t.interval(level, n - 1, mean, sd / np.sqrt(n))
        np.testing.assert_allclose([result.mean_low, result.mean_high], [low, high], rtol=1e-9)
        ends = stats.chi2.ppf([(1 + level) / 2, (1 - level) / 2], n - 1)
        np.testing.assert_allclose([result.sd_low, result.sd_high], sd * np.sqrt((n - 1) / ends), rtol=1e-9)

    @given(st.integers(1, 3_000), st.sampled_from([0.5, 0.9, 0.95, 0.99]))
    @settings(max_examples=80)
    def test_the_interval_of_the_median_is_the_narrowest_that_covers_enough(self, n, level):
        ordered = np.arange(1.0, n + 1)
        result = summarize(ordered, level=level)
        covers = [1 - 2 * stats.binom.cdf(k - 1, n, 0.5) for k in range(1, n // 2 + 1)]
        enough = [k for k, cover in enumerate(covers, 1) if cover >= level]
        if not enough:
            self.assertIsNone(result.median_low)
            self.assertIn("needs more than", result.undefined["median_low"])
            return
        k = enough[-1]
        self.assertEqual((result.median_low, result.median_high), (k, n + 1 - k))
        self.assertAlmostEqual(result.median_level, covers[k - 1], places=9)


class BelowALimit(unittest.TestCase):
    def test_quantiles_within_the_share_below_a_limit_are_not_given(self):
        whole = summarize([0.5, 0.5, 0.5, 2, 3, 4, 5, 6, 7, 8])
        self.assertIs(above_limited(whole, 0), whole)
        few = above_limited(whole, 2)
        self.assertEqual((few.q1, few.median), (whole.q1, whole.median))
        some = above_limited(whole, 3)
        self.assertEqual((some.q1, some.iqr, some.median_low, some.median), (None, None, None, whole.median))
        self.assertIn("30 %", some.undefined["q1"])
        many = above_limited(whole, 6)
        self.assertEqual((many.q1, many.median, many.median_high, many.q3), (None, None, None, whole.q3))
        self.assertEqual(many.mean, whole.mean)
