"""Fitted distributions against scipy's own fits and published values; boxes and bumps by their definitions."""

import unittest

import numpy as np
from heron import density, groups, quantiles
from heron.errors import InputError
from heron.normality import FAMILIES, blom_scores, fit_family
from scipy import stats

rng = np.random.default_rng(12)
SAMPLES = {
    "normal": rng.normal(5, 2, 150),
    "log-normal": rng.lognormal(1, 0.6, 150),
    "weibull": rng.weibull(1.7, 150) * 12,
    "exponential": rng.exponential(30, 150),
    "gamma": rng.gamma(2.5, 4, 150),
}


class Fits(unittest.TestCase):
    def test_maximum_likelihood_as_an_independent_optimizer_finds_it(self):
        k, _, scale = stats.weibull_min.fit(SAMPLES["weibull"], floc=0)
        np.testing.assert_allclose(
            list(fit_family(SAMPLES["weibull"], family="weibull").parameters.values()), [k, scale], rtol=1e-4
        )
        k, _, scale = stats.gamma.fit(SAMPLES["gamma"], floc=0)
        np.testing.assert_allclose(
            list(fit_family(SAMPLES["gamma"], family="gamma").parameters.values()), [k, scale], rtol=1e-4
        )
        x = SAMPLES["log-normal"]
        result = fit_family(x, family="log-normal").parameters
        np.testing.assert_allclose(list(result.values()), [np.log(x).mean(), np.log(x).std(ddof=1)])
        self.assertAlmostEqual(
            fit_family(SAMPLES["exponential"], family="exponential").parameters["mean"], SAMPLES["exponential"].mean()
        )

    def test_published_ball_bearings(self):
        # Lieblein and Zelen (1956), 23 deep-groove ball bearings; Weibull by maximum likelihood, shape 2.10, scale 81.9
        # (Lawless 2003, example 5.2.2).
        x = [17.88, 28.92, 33.00, 41.52, 42.12, 45.60, 48.40, 51.84, 51.96, 54.12, 55.56, 67.80]
        x += [68.64, 68.64, 68.88, 84.12, 93.12, 98.64, 105.12, 105.84, 127.92, 128.04, 173.40]
        result = fit_family(x, family="weibull").parameters
        self.assertEqual((round(result["shape"], 2), round(result["scale"], 1)), (2.10, 81.9))

    def test_the_right_family_stays_within_its_band_and_near_its_line(self):
        for family in FAMILIES:
            result = fit_family(SAMPLES[family], family=family)
            inside = (result.ordered >= result.low) & (result.ordered <= result.high)
            self.assertGreater(inside.mean(), 0.8, family)
            self.assertGreater(result.correlation, 0.98, family)
            self.assertTrue(np.all(result.low <= result.high))
        self.assertLess(
            fit_family(SAMPLES["exponential"]).correlation,
            fit_family(SAMPLES["exponential"], family="exponential").correlation,
        )

    def test_normal_is_the_line_of_the_normal_plot(self):
        x = SAMPLES["normal"]
        result = fit_family(x)
        np.testing.assert_allclose(result.expected, x.mean() + x.std(ddof=1) * blom_scores(150))
        np.testing.assert_allclose(result.probabilities, stats.norm.cdf(np.sort(x), x.mean(), x.std(ddof=1)))

    def test_the_unit_does_not_matter(self):
        for family in FAMILIES:
            a, b = fit_family(SAMPLES[family], family=family), fit_family(SAMPLES[family] * 1e200, family=family)
            np.testing.assert_allclose(a.expected * 1e200, b.expected, rtol=1e-8)
            np.testing.assert_allclose(a.probabilities, b.probabilities, rtol=1e-8)

    def test_what_cannot_be_is_refused_with_its_rows(self):
        with self.assertRaises(InputError) as refused:
            fit_family([1, 2, 0, 4, -1], family="log-normal")
        self.assertEqual(refused.exception.rows, (2, 4))
        for x in ([1, 2], [3, 3, 3], []):
            with self.assertRaises(InputError):
                fit_family(x)
        self.assertIn("low", fit_family(np.random.default_rng(1).random(2_001)).undefined)


class Whiskers(unittest.TestCase):
    X = np.r_[np.arange(1.0, 20.0), 60.0]

    def test_over_the_range_to_percentiles_or_to_fences(self):
        whole = groups.boxes(self.X, whiskers="range").groups[0]
        self.assertEqual((whole.whisker_low, whole.whisker_high, whole.outlier_rows.size), (1, 60, 0))
        tenth = groups.boxes(self.X, whiskers="percentiles", share=0.1).groups[0]
        ends = quantiles.quantile(self.X, [0.1, 0.9])
        self.assertEqual([tenth.whisker_low, tenth.whisker_high], list(ends))
        self.assertEqual(tenth.outlier_rows.tolist(), [0, 1, 18, 19])
        self.assertEqual(tenth.far_rows.size, 0)
        wide = groups.boxes(self.X, reach=3).groups[0]
        self.assertEqual((wide.whisker_high, wide.outlier_rows.tolist()), (19, [19]))

    def test_the_notch(self):
        result = groups.boxes(self.X).groups[0]
        self.assertAlmostEqual(result.notch_high - result.median, 1.57 * (result.q3 - result.q1) / np.sqrt(20))
        self.assertAlmostEqual(result.notch_low + result.notch_high, 2 * result.median)


class Bumps(unittest.TestCase):
    def test_they_add_up_to_the_curve_also_at_a_bound(self):
        x = np.random.default_rng(2).exponential(2, 40)
        for settings in ({}, {"lower": 0.0}, {"kernel": "biweight", "bandwidth": 0.7}):
            curve = density.kernel_density(x, points=256, **settings)
            result = density.bumps(x, **settings)
            np.testing.assert_allclose(result.heights.reshape(40, 256).sum(axis=0), curve.density, atol=1e-12)
            np.testing.assert_array_equal(x[result.rows], np.sort(x))
        with self.assertRaises(InputError):
            density.bumps(np.arange(61.0))
