"""The line of least squares against a kept library, and far from zero."""

import unittest

import numpy as np
from heron.least_squares import simple, unfit
from scipy import stats


class Line(unittest.TestCase):
    def test_a_kept_library_agrees(self):
        rng = np.random.default_rng(2)
        u = rng.normal(size=40)
        v = 3 - 2 * u + rng.normal(size=40)
        ours, theirs = simple(u, v), stats.linregress(u, v)
        self.assertAlmostEqual(ours.slope, theirs.slope, 12)
        self.assertAlmostEqual(ours.intercept, theirs.intercept, 12)
        self.assertAlmostEqual(ours.r_squared, theirs.rvalue**2, 12)
        self.assertAlmostEqual(ours.sigma / np.sqrt(ours.spread_u), theirs.stderr, 12)

    def test_far_from_zero_as_at_zero(self):
        u = np.array([0.0, 1, 2, 3, 4])
        v = np.array([1.0, 3, 4, 8, 9])
        far = simple(u + 2.0**45, v + 2.0**45)
        self.assertEqual((far.slope, far.rss), (simple(u, v).slope, simple(u, v).rss))

    def test_what_no_line_can_be_put_through(self):
        one = np.ones(4)
        self.assertIn("same x", unfit(one, np.arange(4.0)))
        self.assertIn("needs 3 pairs", unfit(one[:2], one[:2]))
        self.assertIn("cannot be squared", unfit(np.arange(4.0), 1e200 * np.arange(4.0)))
        self.assertEqual(unfit(np.arange(4.0), one), "")
        self.assertIsNone(simple(np.arange(4.0), one).r_squared)
