"""Fewer points for the screen: a fair sample, the same each time, with the ends."""

import unittest

import numpy as np
from heron import thinning


class Points(unittest.TestCase):
    def test_few_are_all_sent(self):
        rows = np.arange(3, thinning.MOST_POINTS)
        np.testing.assert_array_equal(thinning.points(rows, np.zeros(rows.size)), rows)

    def test_of_many_a_fair_sample_with_the_ends_in_order_and_the_same_each_time(self):
        values = np.random.default_rng(2).normal(size=200_000)
        rows = np.arange(values.size) * 2
        sent = thinning.points(rows, values)
        np.testing.assert_array_equal(sent, thinning.points(rows, values))
        self.assertTrue(np.all(np.diff(sent) > 0))
        self.assertLessEqual(sent.size, thinning.MOST_POINTS + 2 * thinning.EACH_EXTREME)
        order = np.argsort(values)
        self.assertTrue({*rows[order[:10]].tolist(), *rows[order[-10:]].tolist()} <= set(sent.tolist()))
        # A sample of 20,000 puts about half of them below the median: 5 standard errors of a share are 0.018.
        self.assertAlmostEqual(np.mean(values[sent // 2] < np.median(values)), 0.5, delta=0.018)

    def test_positions_keep_both_tails(self):
        result = thinning.positions(1_000_000)
        self.assertLessEqual(result.size, thinning.MOST_POSITIONS)
        np.testing.assert_array_equal(result[:60], np.arange(60))
        np.testing.assert_array_equal(result[-60:], np.arange(999_940, 1_000_000))
        np.testing.assert_array_equal(thinning.positions(5), np.arange(5))
