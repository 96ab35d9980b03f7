"""Checks of normality against published examples, and bands against fresh samples."""

import math
import unittest

import numpy as np
from heron.errors import InputError
from heron.normality import (
    blom_scores,
    check_normality,
    curve,
    holm,
    line_up,
    quantile_plot,
    shapiro_wilk,
    simulated,
)
from scipy import special, stats
from statsmodels.stats.diagnostic import lilliefors
from statsmodels.stats.multitest import multipletests

# Weights of 11 men, Shapiro and Wilk (1965), p. 606: W = 0.79.
MEN = [148, 154, 158, 160, 161, 162, 166, 170, 182, 195, 236]
# Weights of 20 chicks, D'Agostino and Stephens (1986), section 4.3: A2 = 0.214 with mean 209.6 and SD 30.65 estimated.
CHICKS = [
    156, 162, 168, 182, 186, 190, 190, 196, 202, 210, 214, 220, 226, 230, 230, 236, 236, 242, 246, 270,
]  # fmt: skip


class PublishedExamples(unittest.TestCase):
    def test_shapiro_wilk(self):
        result = check_normality(MEN)
        self.assertAlmostEqual(result.shapiro_wilk.statistic, 0.79, places=2)
        self.assertLess(result.shapiro_wilk.p_value, 0.01)
        self.assertEqual((result.evidence, result.judged_by), ("strong", "shapiro_wilk"))

    def test_anderson_darling(self):
        result = check_normality(CHICKS)
        self.assertAlmostEqual(result.anderson_darling.statistic, 0.214, places=3)
        self.assertEqual(result.evidence, "little")
        # Table 4.9: A2 (1 + 0.75/n + 2.25/n2) of 0.752 is the upper 5 % point, of 1.035 the 1 % point.
        for corrected, p in ((0.752, 0.05), (1.035, 0.01)):
            self.assertAlmostEqual(math.exp(1.2937 - 5.709 * corrected + 0.0186 * corrected**2), p, delta=0.001)

    def test_blom_scores(self):
        # Blom's approximation to the expected normal order statistics of n = 10: 1.547, 1.000, 0.655, 0.375, 0.123.
        np.testing.assert_allclose(blom_scores(10)[5:], [0.123, 0.375, 0.655, 1.000, 1.547], atol=1e-3)


class IndependentComputation(unittest.TestCase):
    def test_the_other_tests_from_their_formulas(self):
        x = np.random.default_rng(11).gamma(9, 1, 2_500)
        n, result = x.size, check_normality(x)
        z = (x - x.mean()) / x.std()
        skew, excess = (z**3).mean(), (z**4).mean() - 3
        self.assertAlmostEqual(result.jarque_bera.statistic, n / 6 * (skew**2 + excess**2 / 4), places=8)
        # D'Agostino and Pearson (1973) after D'Agostino, Belanger and D'Agostino (1990), equations 13 to 20.
        y = skew * math.sqrt((n + 1) * (n + 3) / (6 * (n - 2)))
        beta = 3 * (n * n + 27 * n - 70) * (n + 1) * (n + 3) / ((n - 2) * (n + 5) * (n + 7) * (n + 9))
        w2 = -1 + math.sqrt(2 * (beta - 1))
        z1 = math.asinh(y / math.sqrt(2 / (w2 - 1))) / math.sqrt(math.log(math.sqrt(w2)))
        mean = 3 * (n - 1) / (n + 1)
        sd = math.sqrt(24 * n * (n - 2) * (n - 3) / ((n + 1) ** 2 * (n + 3) * (n + 5)))
        root = (
            6 * (n * n - 5 * n + 2) / ((n + 7) * (n + 9)) * math.sqrt(6 * (n + 3) * (n + 5) / (n * (n - 2) * (n - 3)))
        )
        a = 6 + 8 / root * (2 / root + math.sqrt(1 + 4 / root**2))
        t = (1 - 2 / a) / (1 + (excess + 3 - mean) / sd * math.sqrt(2 / (a - 4)))
        z2 = (1 - 2 / (9 * a) - np.cbrt(t)) / math.sqrt(2 / (9 * a))
        self.assertAlmostEqual(result.dagostino_pearson.statistic, z1**2 + z2**2, places=6)
        # Anderson-Darling and Lilliefors from the definition of the statistic.
        p = stats.norm.cdf(np.sort((x - x.mean()) / x.std(ddof=1)))
        i = np.arange(1, n + 1)
        a2 = -n - np.mean((2 * i - 1) * (np.log(p) + np.log1p(-p[::-1])))
        self.assertAlmostEqual(result.anderson_darling.statistic, a2, places=8)
        self.assertAlmostEqual(result.lilliefors.statistic, max((i / n - p).max(), (p - (i - 1) / n).max()), places=10)

    def test_k_squared_of_a_symmetric_sample_is_of_its_kurtosis_alone(self):
        counted = np.repeat(np.arange(7.0), [1, 3, 6, 9, 6, 3, 1])
        n = counted.size
        off = counted - counted.mean()
        b2 = np.mean(off**4) / np.mean(off**2) ** 2
        # Anscombe and Glynn (1983), step by step.
        mean, variance = 3 * (n - 1) / (n + 1), 24 * n * (n - 2) * (n - 3) / ((n + 1) ** 2 * (n + 3) * (n + 5))
        x = (b2 - mean) / np.sqrt(variance)
        third = 6 * (n**2 - 5 * n + 2) / ((n + 7) * (n + 9)) * np.sqrt(6 * (n + 3) * (n + 5) / (n * (n - 2) * (n - 3)))
        a = 6 + 8 / third * (2 / third + np.sqrt(1 + 4 / third**2))
        z = (1 - 2 / (9 * a) - ((1 - 2 / a) / (1 + x * np.sqrt(2 / (a - 4)))) ** (1 / 3)) / np.sqrt(2 / (9 * a))
        self.assertAlmostEqual(check_normality(counted).dagostino_pearson.statistic, z**2, 9)
        self.assertAlmostEqual(z**2, 0.0023, 4)

    def test_lilliefors_p_values_are_those_of_fresh_samples_and_of_the_published_points(self):
        for n, count in ((7, 4_000), (20, 4_000), (350, 1_500)):
            samples = np.random.default_rng(3).standard_normal((count, n))
            p = np.array([simulated.lilliefors_p(d, n) for d in simulated.farthest(samples)])
            for level in (0.05, 0.2, 0.5):
                self.assertAlmostEqual(np.mean(p < level), level, delta=4 * math.sqrt(level * (1 - level) / count))
        # Stephens (1974), table 1A, case 3: percent points of D (sqrt(n) - 0.01 + 0.85/sqrt(n)).
        for point, level in ((0.775, 0.15), (0.819, 0.10), (0.895, 0.05), (0.955, 0.025), (1.035, 0.01)):
            d = point / (math.sqrt(20) - 0.01 + 0.85 / math.sqrt(20))
            self.assertAlmostEqual(simulated.lilliefors_p(d, 20) / level, 1, delta=0.06)
        self.assertLess(simulated.lilliefors_p(0.3, 100), 1e-5)

    def test_nineteen_of_twenty_normal_samples_reach_the_usual_correlation(self):
        for n in (5, 12, 100, 4_000):
            samples = np.sort(np.random.default_rng(n).standard_normal((1_000, n)), axis=1)
            reached = [
                np.corrcoef(sample, blom_scores(n))[0, 1] >= simulated.usual_correlation(n) for sample in samples
            ]
            self.assertAlmostEqual(np.mean(reached), 0.95, delta=0.03)
        # Looney and Gulledge (1985) give 0.918 for 10 values and 0.977 for 50.
        self.assertAlmostEqual(simulated.usual_correlation(10), 0.918, delta=0.001)
        self.assertAlmostEqual(simulated.usual_correlation(50), 0.977, delta=0.001)

    def test_a_departure_that_normal_samples_show_is_called_no_other(self):
        sample = np.random.default_rng(8).standard_normal(10)
        self.assertIn("Normal samples of 10 values depart as much", check_normality(sample).words[1])
        self.assertIn("The departure is large", check_normality([*sample, 30.0]).words[1])

    def test_far_values_do_not_overflow_the_tails(self):
        result = check_normality(np.r_[np.random.default_rng(1).standard_normal(6000), 60.0, -75.0])
        self.assertTrue(math.isfinite(result.anderson_darling.statistic))
        self.assertEqual(result.judged_by, "anderson_darling")
        extreme = check_normality(np.r_[np.zeros(9000), np.arange(600)])
        self.assertLess(extreme.anderson_darling.p_value, 1e-4)


class Words(unittest.TestCase):
    def test_careful_at_every_size(self):
        normal = stats.norm.ppf((np.arange(1, 401) - 0.5) / 400)
        words = check_normality(normal).words
        self.assertTrue(words[0].startswith("Little evidence against a normal distribution"))
        self.assertIn("small departures", words[-1])
        self.assertIn("even large departures can hide", check_normality(CHICKS[:12]).words[-1])
        self.assertNotIn("is normal", " ".join(words))
        big = check_normality(np.r_[normal, np.random.default_rng(2).standard_normal(5_000)])
        self.assertIn("Anderson-Darling", big.words[0])
        self.assertIn("5000", big.shapiro_wilk.reason)

    def test_nothing_can_be_said_of_too_little(self):
        for values in ([], [1.0], [1.0, 2.0], [3.0] * 30):
            result = check_normality(values)
            self.assertIsNone(result.evidence)
            self.assertTrue(result.words[0].startswith("Normality cannot be judged"))
            self.assertIsNone(result.qq_correlation)
        self.assertEqual(check_normality([3.0] * 30).undefined["skewness"], "All values are the same.")


class Plots(unittest.TestCase):
    def test_points_line_and_rows(self):
        x = [3.0, np.nan, 1.0, 2.0, 10.0]
        result = quantile_plot(x)
        self.assertEqual(result.ordered[:4].tolist(), [1, 2, 3, 10])
        self.assertEqual(result.rows.tolist(), [2, 3, 0, 4, 1])
        self.assertTrue(np.isnan(result.ordered[4]))
        np.testing.assert_allclose(result.scores[:4], special.ndtri((np.arange(1, 5) - 0.375) / 4.25))
        self.assertAlmostEqual(result.intercept, 4)
        self.assertAlmostEqual(result.slope, np.std([1, 2, 3, 10], ddof=1))
        quartiles = quantile_plot(np.arange(1.0, 100), line="quartiles")
        self.assertAlmostEqual(quartiles.intercept + quartiles.slope * special.ndtri(0.75), 74.5)

    def test_the_bands_hold_what_they_promise(self):
        fresh = np.random.default_rng(99)
        for n in (15, 150):
            band = quantile_plot(fresh.standard_normal(n))
            samples = np.sort(fresh.standard_normal((3000, n)), axis=1)
            samples = (samples - samples.mean(axis=1, keepdims=True)) / samples.std(axis=1, ddof=1, keepdims=True)
            limits = [(getattr(band, name) - band.intercept) / band.slope for name in ("point_low", "point_high")]
            at_each = np.mean((samples >= limits[0]) & (samples <= limits[1]), axis=0)
            np.testing.assert_allclose(at_each, 0.95, atol=0.025)
            low, high = (
                (getattr(band, f"simultaneous_{side}") - band.intercept) / band.slope for side in ("low", "high")
            )
            together = np.mean(((samples >= low) & (samples <= high)).all(axis=1))
            self.assertAlmostEqual(together, 0.95, delta=0.02)

    def test_the_pointwise_band_of_large_samples_continues_the_simulated_one(self):
        # Near the middle an order statistic of n normal values, standardized, has SD sqrt((pi/2 - 1)/n).
        band = quantile_plot(np.random.default_rng(4).standard_normal(2_501))
        middle = 1_250
        half = (band.point_high[middle] - band.point_low[middle]) / 2 / band.slope
        self.assertAlmostEqual(half, 1.96 * math.sqrt((math.pi / 2 - 1) / 2_501), places=4)
        self.assertTrue(np.isnan(band.simultaneous_low).all())
        self.assertIn("2000", band.undefined["simultaneous_low"])

    def test_refusals(self):
        for values, code in (([1, 2], "too-few-values"), ([5, 5, 5], "no-spread")):
            with self.assertRaises(InputError) as raised:
                quantile_plot(values)
            self.assertEqual(raised.exception.code, code)
        with self.assertRaises(InputError) as raised:
            quantile_plot([0, 5, 5, 5, 9], line="quartiles")
        self.assertEqual(raised.exception.code, "no-quartile-spread")

    def test_the_normal_curve(self):
        result = curve(170.0, 21.5)
        np.testing.assert_allclose(result.density, stats.norm.pdf(result.x, 170, 21.5), rtol=1e-12)
        self.assertEqual((result.x[0], result.x[-1]), (84, 256))
        self.assertTrue(np.isfinite(curve(3e280, 2e280).density).all())
        for sd in (0, -1, 1e300):
            with self.assertRaises(InputError):
                curve(1, sd)


class LineUps(unittest.TestCase):
    def test_the_data_stand_among_samples_that_are_rounded_alike(self):
        x = np.append(np.round(np.random.default_rng(4).lognormal(size=60), 1), np.nan)
        result = line_up(x, seed=9, decimals=1)
        np.testing.assert_array_equal(result.panels[result.place], np.sort(x[:60]))
        np.testing.assert_array_equal(np.round(result.panels, 1), result.panels)
        self.assertEqual((result.panels.shape, result.n_missing), ((20, 60), 1))
        again = line_up(x, seed=9, decimals=1)
        np.testing.assert_array_equal(result.panels, again.panels)

    def test_the_data_can_stand_anywhere_and_the_samples_are_of_the_fitted_normal(self):
        x = np.random.default_rng(1).normal(50, 3, 400)
        places = {line_up(x, seed=seed).place for seed in range(200)}
        self.assertEqual(len(places), 20)
        result = line_up(x, seed=3)
        others = np.delete(result.panels, result.place, axis=0)
        self.assertAlmostEqual(others.mean(), x.mean(), delta=0.1)
        self.assertAlmostEqual(others.std(), x.std(ddof=1), delta=0.1)

    def test_large_data_are_sampled_and_small_or_constant_ones_refused(self):
        x = np.random.default_rng(1).normal(size=5_000)
        result = line_up(x, seed=1)
        self.assertEqual((result.n, result.n_shown), (5_000, 2_000))
        self.assertTrue(np.isin(result.panels[result.place], x).all())
        for few in ([1, 2, 3, 4], [7.0] * 30):
            with self.assertRaises(InputError):
                line_up(few, seed=1)


class ManyAtOnce(unittest.TestCase):
    def test_holms_steps_by_hand_and_against_another_hand(self):
        # 0.01 * 4, 0.02 * 3, 0.03 * 2 raised to 0.06, 0.2.
        np.testing.assert_allclose(holm([0.03, 0.01, 0.2, 0.02]), [0.06, 0.04, 0.2, 0.06], rtol=1e-14)
        p = np.random.default_rng(1).random(30) ** 3
        np.testing.assert_allclose(holm(p), multipletests(p, method="holm")[1], rtol=1e-12)
        self.assertEqual(holm([]), [])


class AgainstTheLibraries(unittest.TestCase):
    def test_the_tests_that_are_put_together_here_are_those_of_the_libraries(self):
        for seed, n in ((1, 40), (2, 2_500), (3, 6_000)):
            x = np.random.default_rng(seed).gamma(8, 2, n)
            result = check_normality(x)
            self.assertAlmostEqual(result.lilliefors.statistic, lilliefors(x, dist="norm")[0], places=12)
            if n >= 2_000:
                expected = stats.jarque_bera(x)
                self.assertAlmostEqual(result.jarque_bera.statistic, expected.statistic, places=6)
                self.assertAlmostEqual(result.jarque_bera.p_value, expected.pvalue, places=9)
            self.assertEqual(shapiro_wilk(x), result.shapiro_wilk)

    def test_above_twenty_thousand_values_the_plot_still_names_the_row_of_each(self):
        x = np.random.default_rng(4).normal(size=30_000).round(2)
        x[17] = np.nan
        result = quantile_plot(x)
        np.testing.assert_array_equal(x[result.rows[: result.n]], result.ordered[: result.n])
        self.assertEqual(sorted(result.rows.tolist()), list(range(30_000)))
        self.assertEqual((result.rows[-1], result.n), (17, 29_999))
