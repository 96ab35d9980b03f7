"""Limits: against published factors, against counting, and against fresh samples."""

import unittest

import numpy as np
from heron import limits
from heron.errors import ChoiceError, InputError
from scipy import stats


class BeyondLimits(unittest.TestCase):
    def test_observed_and_under_the_fitted_normal(self):
        x = [1, 2, 3, 4, 5, np.nan]
        result = limits.beyond(x, lower=1, upper=4.5)
        self.assertEqual((result.n, result.n_below, result.n_above), (5, 0, 1))
        self.assertAlmostEqual(result.normal_above, stats.norm.sf(1.5 / np.std([1, 2, 3, 4, 5], ddof=1)))
        self.assertIsNone(limits.beyond(x, upper=2).n_below)
        self.assertIsNone(limits.beyond([2, 2], upper=1).normal_above)


class ToleranceIntervals(unittest.TestCase):
    def test_the_extremes_hold_95_percent_from_93_values_on(self):
        # The well-known sample size of Wilks (1941) for the range.
        self.assertIsNone(limits.tolerance_limits(np.arange(92), method="distribution-free").low)
        result = limits.tolerance_limits(np.arange(93), method="distribution-free")
        self.assertEqual((result.low, result.high), (0, 92))
        self.assertAlmostEqual(result.achieved, 1 - 93 * 0.95**92 + 92 * 0.95**93, places=12)
        refused = limits.tolerance_limits(np.arange(50), method="distribution-free").undefined["low"]
        self.assertIn("at least 93 values", refused)

    def test_normal_factors_make_the_stated_confidence(self):
        rng = np.random.default_rng(3)
        for n, share, level in ((5, 0.9, 0.95), (12, 0.95, 0.95), (43, 0.9, 0.99)):
            k = limits.normal_factor(n, share, level)
            means = rng.standard_normal(200_000) / np.sqrt(n)
            sds = np.sqrt(rng.chisquare(n - 1, 200_000) / (n - 1))
            content = stats.norm.cdf(means + k * sds) - stats.norm.cdf(means - k * sds)
            self.assertAlmostEqual(np.mean(content >= share), level, delta=0.0025)

    def test_large_samples_meet_the_approximation_and_the_quantile(self):
        self.assertAlmostEqual(
            limits.normal_factor(2_000, 0.95, 0.95) / limits.normal_factor(2_001, 0.95, 0.95), 1, places=4
        )
        self.assertAlmostEqual(limits.normal_factor(10**8, 0.95, 0.5), 1.959964, places=4)


class ReferenceIntervals(unittest.TestCase):
    def test_ends_lie_where_they_should_and_their_intervals_cover(self):
        rng = np.random.default_rng(8)
        for method, n in (("normal", 30), ("distribution-free", 150)):
            hits = 0
            for _ in range(1_500):
                result = limits.reference_limits(rng.standard_normal(n), method=method)
                hits += result.high_from <= 1.959964 <= result.high_to
            floor = 0.9 - 0.02
            self.assertGreater(hits / 1_500, floor, method)
            if method == "normal":
                self.assertLess(hits / 1_500, 0.92)

    def test_intervals_of_the_ends_hold_by_the_binomial_or_are_not_given(self):
        for n in range(120, 260, 7):
            for level in (0.9, 0.95, 0.99):
                result = limits.reference_limits(np.arange(1, n + 1), level=level, method="distribution-free")
                if result.low_from is None:  # none of the other values could make up for no value below
                    self.assertGreater(0.975**n, 1 - level)
                    self.assertIn("No two of", result.undefined["low_from"])
                    continue
                below = stats.binom(n, 0.025)
                held = below.cdf(result.low_to - 1) - below.cdf(result.low_from - 1)
                self.assertGreaterEqual(held, level - 1e-12, (n, level))

    def test_symmetry_and_refusals(self):
        x = np.random.default_rng(1).normal(size=200)
        up, down = limits.reference_limits(x), limits.reference_limits(-x)
        self.assertEqual((up.low_from, up.high_to), (-down.high_to, -down.low_from))
        self.assertAlmostEqual(up.low, -down.high, places=12)
        self.assertIn("120", limits.reference_limits(np.arange(119)).undefined["low"])
        self.assertIsNone(limits.reference_limits([1.0], method="normal").low)
        with self.assertRaises(ChoiceError):
            limits.tolerance_limits(x, method="best")
        with self.assertRaises(InputError):
            limits.tolerance_limits(x, share=1)


class AgainstCounting(unittest.TestCase):
    def test_order_statistics_hold_the_share_as_often_as_they_say(self):
        rng = np.random.default_rng(12)
        n, share, level = 60, 0.8, 0.9
        result = limits.tolerance_limits(np.arange(n), share=share, level=level, method="distribution-free")
        low, high = int(result.low), int(result.high)
        # The content of an interval of order statistics is the same for every distribution: uniform values show it.
        ordered = np.sort(rng.random((40_000, n)), axis=1)
        held = np.mean(ordered[:, high] - ordered[:, low] >= share)
        self.assertAlmostEqual(held, result.achieved, delta=0.006)
        narrower = np.mean(ordered[:, high - 1] - ordered[:, low + 1] >= share)
        self.assertLess(narrower, level)  # the largest r that still holds

    def test_shares_beyond_are_those_that_one_counts(self):
        x = np.random.default_rng(2).lognormal(2, 0.5, 500)
        result = limits.beyond(x, lower=4, upper=12)
        self.assertEqual((result.n_below, result.n_above), (sum(v < 4 for v in x), sum(v > 12 for v in x)))
        self.assertAlmostEqual(result.normal_below, stats.norm(x.mean(), x.std(ddof=1)).cdf(4), places=12)
        huge = limits.beyond(np.array([1e308, -1e308, 5e307]), upper=0)
        self.assertTrue(0 < huge.normal_above < 1)

    def test_the_ends_of_a_reference_interval_are_ranks_that_a_table_gives(self):
        # For 120 values the 90 % interval of the lower end runs from the first to the seventh (CLSI 2008, table 8).
        result = limits.reference_limits(np.arange(1, 121))
        self.assertEqual((result.low_from, result.low_to), (1, 7))
        self.assertEqual((result.high_from, result.high_to), (114, 120))
