"""The bootstrap interval of the SD: another library's, what it does to units, and data of which it cannot be had."""

import unittest

import numpy as np
from heron.errors import InputError
from heron.groups import group_centres
from scipy import stats


def bar(values, **settings):
    return group_centres(values, centre="sd", bars="sd-interval", **settings).groups[0]


class SpreadBars(unittest.TestCase):
    def test_another_librarys_interval(self):
        # Both resample at random, so that the ends agree to a few hundredths of the SD.
        for draw in (np.random.default_rng(3).normal, np.random.default_rng(4).exponential):
            x = draw(size=40)
            theirs = stats.bootstrap(
                (x,), lambda sample, axis: sample.std(axis=axis, ddof=1), n_resamples=9_999, method="BCa",
                rng=np.random.default_rng(1),
            ).confidence_interval  # fmt: skip
            ours = bar(x)
            self.assertAlmostEqual(ours.centre, x.std(ddof=1), places=12)
            np.testing.assert_allclose((ours.low, ours.high), theirs, atol=0.04)

    def test_it_covers_skewed_populations_better_than_the_normal_one(self):
        rng = np.random.default_rng(8)
        covered = {"bootstrap": 0, "normal": 0}
        for _ in range(60):
            x = rng.exponential(size=50)
            ours = bar(x)
            low, high = (49 * x.var(ddof=1) / stats.chi2.ppf([0.975, 0.025], 49)) ** 0.5
            covered["bootstrap"] += ours.low <= 1 <= ours.high
            covered["normal"] += low <= 1 <= high
        self.assertGreater(covered["bootstrap"], covered["normal"])

    def test_shift_and_unit(self):
        x = np.random.default_rng(5).normal(size=25)
        one, moved = bar(x), bar(1e6 + 1e3 * x)
        np.testing.assert_allclose((moved.low, moved.high), (1e3 * one.low, 1e3 * one.high), rtol=1e-6)
        huge = bar(1e300 * x)
        np.testing.assert_allclose((huge.low, huge.high), (1e300 * one.low, 1e300 * one.high), rtol=1e-9)

    def test_too_few_and_flat(self):
        self.assertEqual(bar([4.0]).undefined["centre"], "It needs 2 values.")
        self.assertIsNone(bar([4.0, 5.0]).low)
        self.assertEqual(bar([4.0, 4.0, 4.0]).undefined["low"], "It has no spread.")
        with self.assertRaises(InputError):
            group_centres([1.0, 2.0], centre="mean", bars="sd-interval")
