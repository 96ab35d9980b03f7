"""Intervals of percent points, spread and shape: a published table, exact coverage, and a kept library."""

import unittest

import numpy as np
from heron import percent_point_interval, resampled_interval
from heron.errors import InputError
from heron.intervals import RESAMPLED
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats


class PercentPoints(unittest.TestCase):
    def test_medians_as_tabulated(self):
        # Order statistics about the median at 95 %, from the usual tables of the sign test.
        for n, low, high, level in ((10, 2, 9, 0.9785), (20, 6, 15, 0.9586), (100, 40, 61, 0.9648)):
            result = percent_point_interval(range(1, n + 1), 50)
            self.assertEqual((result.low, result.high, round(result.achieved, 4)), (low, high, level))
        self.assertIn("No two of 5 values", percent_point_interval(range(5), 50).undefined["low"])

    @given(st.integers(2, 400), st.floats(1, 99), st.sampled_from([0.8, 0.95, 0.99]))
    def test_the_coverage_is_what_the_places_give(self, n, percent, level):
        result = percent_point_interval(range(1, n + 1), percent, level=level)
        if result.achieved is None:
            # Then neither do the smallest and the largest.
            self.assertLess(1 - (percent / 100) ** n - (1 - percent / 100) ** n, level)
            return
        share, below = percent / 100, stats.binom(n, percent / 100)
        self.assertAlmostEqual(result.achieved, below.cdf(result.high - 1) - below.cdf(result.low - 1))
        self.assertGreaterEqual(result.achieved, level)
        mirrored = percent_point_interval(range(1, n + 1), 100 - percent, level=level)
        if share != 0.5:
            self.assertEqual((n + 1 - mirrored.high, n + 1 - mirrored.low), (result.low, result.high))

    def test_what_cannot_be(self):
        for percent in (0, 100):
            with self.assertRaises(InputError):
                percent_point_interval([1.0, 2], percent)
        self.assertEqual(percent_point_interval([np.nan], 50).n_missing, 1)


class Resampling(unittest.TestCase):
    def test_limits_are_near_those_of_a_kept_library(self):
        x = np.random.default_rng(3).lognormal(1, 0.4, 50)
        made = {
            "sd": lambda v, axis: v.std(axis=axis, ddof=1),
            "cv": lambda v, axis: v.std(axis=axis, ddof=1) / v.mean(axis=axis),
            "skewness": lambda v, axis: stats.skew(v, axis=axis, bias=False),
        }
        for statistic, of in made.items():
            result = resampled_interval([*x, np.nan], statistic, level=0.9)
            theirs = stats.bootstrap((x,), of, confidence_level=0.9, method="BCa", rng=1).confidence_interval
            self.assertAlmostEqual(result.estimate, of(x, 0))
            width = theirs.high - theirs.low
            np.testing.assert_allclose([result.low, result.high], theirs, atol=0.05 * width)
            self.assertEqual((result.n, result.n_missing), (50, 1))

    def test_limits_as_published(self):
        # Efron and Tibshirani (1993), chapter 14: the variance (over n) of the first test of 26 children, at 90 %, by
        # 2,000 resamples and by the approximation without any.
        tests = [48, 36, 20, 29, 42, 42, 20, 42, 22, 41, 45, 14, 6, 0, 33, 28, 34, 4, 32, 24, 47, 41, 24, 26, 30, 41]
        result = resampled_interval(tests, "sd", level=0.9)
        over_n = [25 / 26 * value**2 for value in (result.estimate, result.low, result.high) if value is not None]
        for published in ((171.5, 115.8, 259.6), (171.5, 116.7, 260.9)):
            np.testing.assert_allclose(over_n, published, rtol=0.015)

    def test_units_do_not_matter_even_at_the_largest(self):
        x = np.random.default_rng(4).lognormal(1, 0.4, 30)
        for statistic in RESAMPLED:
            small, large = (resampled_interval(x * times, statistic) for times in (1, 2.0**1000))
            times = 2.0**1000 if statistic == "sd" else 1
            np.testing.assert_allclose([large.low / times, large.high / times], [small.low, small.high], rtol=1e-9)

    def test_why_there_is_none(self):
        for values, statistic, why in (
            ([1.0, 1, 1], "sd", "no spread"), ([1.0], "sd", "2"), ([-1.0, -2, -4], "cv", "above 0"),
            (np.arange(20_000.0), "sd", "10000 values"),
        ):  # fmt: skip
            self.assertIn(why, resampled_interval(values, statistic).undefined["low"])
        self.assertIn("does not mean none", resampled_interval([1.0, 2, 4], "cv", true_zero=False).undefined["low"])
