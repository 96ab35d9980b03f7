"""Bootstrap intervals: they hold the truth about as often as they say, and stay what they are."""

import unittest

import numpy as np
from heron import resampling
from heron.errors import InputError
from heron.groups import group_centres
from scipy import stats


def mean(block):
    return np.asarray(block.mean(axis=1))


def bca_of_mean(x, result, level):
    return resampling.bca(x.mean(), resampling.mean_without_each(x), result, level)


class Bootstrap(unittest.TestCase):
    def test_blocks_make_no_difference_to_what_is_drawn(self):
        x = np.random.default_rng(1).exponential(1, 30)
        result = resampling.resampled(x, mean, seed=4)
        self.assertEqual(result.size, resampling.RESAMPLES)
        self.assertAlmostEqual(result.mean(), x.mean(), delta=0.01)
        self.assertAlmostEqual(result.std(), x.std() / np.sqrt(30), delta=0.005)
        np.testing.assert_array_equal(result, resampling.resampled(x, mean, seed=4))
        self.assertFalse(np.array_equal(result, resampling.resampled(x, mean, seed=5)))

    def test_bca_leans_to_the_longer_side_of_skewed_data(self):
        x = np.random.default_rng(2).lognormal(0, 1, 40)
        result = resampling.resampled(x, mean, seed=1)
        low, high = bca_of_mean(x, result, 0.95)
        plain_low, plain_high = resampling.percentile(result, 0.95)
        self.assertGreater(high - x.mean(), x.mean() - low)
        self.assertGreater(high, plain_high)
        self.assertGreater(low, plain_low)

    def test_bca_of_symmetric_data_is_the_plain_interval(self):
        x = np.concatenate((np.arange(1.0, 16), -np.arange(1.0, 16)))
        result = resampling.resampled(x, mean, seed=3)
        np.testing.assert_allclose(bca_of_mean(x, result, 0.9), resampling.percentile(result, 0.9), atol=0.15)

    def test_coverage_is_about_what_it_says(self):
        rng, hits = np.random.default_rng(4), 0
        for i in range(150):
            x = rng.exponential(1, 40)
            result = resampling.resampled(x, mean, seed=i, resamples=1_999)
            low, high = bca_of_mean(x, result, 0.9)
            hits += low <= 1 <= high
        self.assertLess(abs(hits / 150 - 0.9), 0.07)

    def test_acceleration_is_by_leaving_out_each_value_of_any_number(self):
        x = np.random.default_rng(5).lognormal(0, 1, 61)
        for cut in (0, 1, 6, 29):
            plain = [np.sort(np.delete(x, i))[cut : 60 - cut].mean() for i in range(61)]
            np.testing.assert_allclose(resampling.trimmed_without_each(x, cut), plain)
        np.testing.assert_allclose(resampling.mean_without_each(x), [np.delete(x, i).mean() for i in range(61)])
        np.testing.assert_allclose(resampling.sd_without_each(x), [np.delete(x, i).std(ddof=1) for i in range(61)])
        many = np.random.default_rng(6).exponential(1, 4_000)
        result = resampling.resampled(many, mean, seed=1, resamples=4_999)
        low, high = bca_of_mean(many, result, 0.95)
        # Efron (1987): of a mean the acceleration is its skewness over 6 sqrt(n).
        a = stats.skew(many) / (6 * np.sqrt(many.size))
        bias = stats.norm.ppf(np.mean(result < many.mean()))
        for end, share in ((low, 0.025), (high, 0.975)):
            z = bias + stats.norm.ppf(share)
            self.assertAlmostEqual(end, np.quantile(result, stats.norm.cdf(bias + z / (1 - a * z))), places=9)

    def test_nothing_to_resample(self):
        flat = np.full(6, 2.0)
        self.assertIsNone(bca_of_mean(flat, resampling.resampled(flat, mean, seed=1), 0.95))
        with self.assertRaises(InputError) as caught:
            resampling.resampled(np.zeros(resampling.MOST_VALUES + 1), mean, seed=1)
        self.assertIn("t interval", caught.exception.remedy)

    def test_progress_is_told_in_order_and_may_end_it(self):
        told = []
        resampling.resampled(np.zeros(50_000), mean, seed=1, resamples=400, progress=told.append)
        self.assertEqual((told[0], told[-1], sorted(told)), (0.2, 1.0, told))

        def enough(share):
            raise InterruptedError

        with self.assertRaises(InterruptedError):
            resampling.resampled(np.zeros(50_000), mean, seed=1, progress=enough)
        groups_told = []
        group_centres([1.0, 2, 3, 4, 5, 6], list("aabbbb"), bars="bootstrap-interval", progress=groups_told.append)
        np.testing.assert_allclose(groups_told, [1 / 3, 1])
