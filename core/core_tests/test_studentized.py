"""The studentized range: published points, a kept library, and the exact case of two groups."""

import itertools
import unittest

from heron.studentized import point, upper_tail
from scipy import stats


class Range(unittest.TestCase):
    def test_points_as_tabulated(self):
        # Upper 5 % points of the published tables (Pearson and Hartley, Biometrika Tables for Statisticians, table 29).
        for k, df, q in ((3, 10, 3.88), (5, 20, 4.23), (10, 60, 4.65), (4, 5, 5.22), (20, 30, 5.48)):
            self.assertAlmostEqual(point(0.95, k, df), q, delta=0.006)

    def test_against_a_kept_library(self):
        for k, df, q in itertools.product((2, 3, 8, 40), (2.5, 7, 33.3, 400), (0.5, 2.0, 3.5, 6.0)):
            self.assertAlmostEqual(upper_tail(q, k, df), stats.studentized_range.sf(q, k, df), places=7)
        self.assertAlmostEqual(point(0.9, 6, 12.5), stats.studentized_range.ppf(0.9, 6, 12.5), places=6)

    def test_two_groups_are_students_t(self):
        for df in (3, 17.5, 90):
            self.assertAlmostEqual(upper_tail(3, 2, df), 2 * stats.t.sf(3 / 2**0.5, df), places=9)
            self.assertAlmostEqual(point(0.99, 2, df), 2**0.5 * stats.t.ppf(0.995, df), places=6)

    def test_the_ends(self):
        self.assertEqual(upper_tail(0, 5, 10), 1)
        self.assertLess(upper_tail(1_000, 5, 10), 1e-10)
        self.assertGreater(point(0.95, 300, 3), point(0.95, 3, 3))
