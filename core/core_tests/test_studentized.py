"""The studentized range: published points, a kept library, and the exact case of two groups."""

import itertools
import unittest

import numpy as np
from heron.studentized import _tail, point, range_tail, upper_tail
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

    def test_two_groups_are_students_t_far_into_the_tail(self):
        for df, share in itertools.product((1, 1.2, 2, 17.5, 90), (0.05, 1e-3, 1e-6, 1e-10)):
            q = 2**0.5 * stats.t.isf(share / 2, df)
            self.assertAlmostEqual(upper_tail(q, 2, df) / share, 1, places=8)
            self.assertAlmostEqual(point(1 - share, 2, df) / q, 1, places=5)

    def test_few_degrees_against_sums_over_a_fine_grid(self):
        z, u = np.linspace(-9, 9, 1_201), np.linspace(-25, 3, 2_801)
        for k, df, q in ((3, 1.3, 40.0), (6, 2.0, 25.0)):
            gap = stats.norm.cdf(z) - stats.norm.cdf(z - q * np.exp(u)[:, None])
            beyond = 1 - k * np.trapezoid(stats.norm.pdf(z) * gap ** (k - 1), z)
            density = stats.chi.pdf(np.exp(u) * df**0.5, df) * df**0.5 * np.exp(u)
            result = np.trapezoid(density * beyond, u)
            self.assertAlmostEqual(upper_tail(q, k, df) / result, 1, places=7)
            self.assertAlmostEqual(point(1 - result, k, df), q, places=5)

    def test_the_table_reads_as_the_quadrature_that_it_is_made_from(self):
        w = np.concatenate(([0, 1e-9, 29.999, 30, 31], np.random.default_rng(4).uniform(0, 31, 500)))
        for k in (2, 3, 25, 300, 4_000):
            np.testing.assert_allclose(_tail(k)(w), range_tail(w, k), rtol=2e-12)

    def test_the_ends(self):
        self.assertEqual(upper_tail(0, 5, 10), 1)
        self.assertLess(upper_tail(1_000, 5, 10), 1e-10)
        self.assertLess(upper_tail(1e300, 5, 1), 1e-200)
        self.assertLess(point(1 - 1e-15, 3, 1), 1e16)
        result = [point(share, 4, 7.7) for share in (5e-324, 1e-17, 1e-12, 1e-6, 0.5, 1 - 1e-12, 1 - 1e-16)]
        self.assertEqual(result, sorted(result))
        self.assertGreater(point(0.95, 300, 3), point(0.95, 3, 3))
