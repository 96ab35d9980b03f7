"""Density estimates against the direct sum, the published rules, and a slow plug-in of its own."""

import math
import unittest

import numpy as np
from heron.density import KERNELS, kernel_density
from heron.errors import ChoiceError, InputError
from scipy import integrate, optimize, stats

rng = np.random.default_rng(20)
SKEWED = rng.gamma(2.0, 3.0, 800)

UNIT_KERNELS = {
    "gaussian": lambda z: np.exp(-z * z / 2) / math.sqrt(2 * math.pi),
    "epanechnikov": lambda z: np.where(np.abs(z) < 5**0.5, 0.75 * (1 - z * z / 5) / 5**0.5, 0),
    "triangular": lambda z: np.where(np.abs(z) < 6**0.5, (1 - np.abs(z) / 6**0.5) / 6**0.5, 0),
    "uniform": lambda z: np.where(np.abs(z) <= 3**0.5, 0.5 / 3**0.5, 0),
    "biweight": lambda z: np.where(np.abs(z) < 7**0.5, 15 / 16 * (1 - z * z / 7) ** 2 / 7**0.5, 0),
}


def direct(x, grid, h, kernel="gaussian"):
    return UNIT_KERNELS[kernel]((grid[:, None] - x[None, :]) / h).mean(axis=1) / h


class Kernels(unittest.TestCase):
    def test_each_has_area_one_and_sd_one(self):
        self.assertEqual(set(KERNELS), set(UNIT_KERNELS))
        for kernel in KERNELS:
            bump = kernel_density([0.0], bandwidth=1.0, kernel=kernel, points=20_001)
            step = bump.x[1] - bump.x[0]
            self.assertAlmostEqual(bump.density.sum() * step, 1, places=3)
            self.assertAlmostEqual((bump.x**2 * bump.density).sum() * step, 1, delta=0.01)

    def test_the_direct_sum_for_few_values(self):
        for kernel in KERNELS:
            result = kernel_density(SKEWED, bandwidth=0.7, kernel=kernel)
            np.testing.assert_allclose(result.density, direct(SKEWED, result.x, 0.7, kernel), atol=1e-12)

    def test_binned_within_a_thousandth_of_the_peak_for_many(self):
        rng = np.random.default_rng(20)
        x = np.r_[rng.gamma(2, 3, 9_000), rng.normal(30, 0.5, 3_000)]
        for kernel in KERNELS:
            result = kernel_density(x, kernel=kernel)
            error = np.abs(result.density - direct(x, result.x, result.bandwidth, kernel)).max()
            self.assertLess(error, 1e-3 * result.density.max(), kernel)


class Bandwidths(unittest.TestCase):
    def test_the_rules_by_their_formulas(self):
        n, sd, iqr = SKEWED.size, SKEWED.std(ddof=1), np.subtract(*np.quantile(SKEWED, [0.75, 0.25]))
        self.assertAlmostEqual(kernel_density(SKEWED).bandwidth, 0.9 * min(sd, iqr / 1.34) * n**-0.2, places=12)
        self.assertAlmostEqual(kernel_density(SKEWED, bandwidth="scott").bandwidth, 1.06 * sd * n**-0.2, places=12)
        half_zero = [0.0] * 60 + [0.5, 1.7, 3.1]  # the IQR is 0, so the SD alone counts
        self.assertGreaterEqual(kernel_density(half_zero).bandwidth, 0.9 * np.std(half_zero, ddof=1) * 63**-0.2 - 1e-12)

    def test_plug_in_solves_the_published_fixed_point(self):
        rng = np.random.default_rng(20)
        x = np.r_[rng.normal(0, 1, 300), rng.normal(8, 0.7, 300)]
        result = kernel_density(x, bandwidth="plug-in")
        # Botev, Grotowski and Kroese (2010), section 5, with plain cosine sums in place of the fast transform.
        margin = np.ptp(x) / 10
        span = np.ptp(x) + 2 * margin
        k = np.arange(1, 400)
        cosines = np.cos(np.pi * k[:, None] * ((x - x.min() + margin) / span)[None, :]).mean(axis=1)

        def functional(order, t):
            terms = k.astype(float) ** (2 * order) * cosines**2 * np.exp(-(k**2) * np.pi**2 * t)
            return 2 * np.pi ** (2 * order) * terms.sum()

        def gap(t):
            f = functional(7, t)
            for s in range(6, 1, -1):
                factor = (1 + 0.5 ** (s + 0.5)) / 3 * np.prod(np.arange(1, 2 * s, 2)) * 2 / math.sqrt(2 * np.pi)
                f = functional(s, (factor / x.size / f) ** (2 / (3 + 2 * s)))
            return t - (2 * x.size * math.sqrt(np.pi) * f) ** -0.4

        expected = math.sqrt(optimize.brentq(gap, 1e-8, 0.1)) * span
        self.assertAlmostEqual(result.bandwidth / expected, 1, delta=0.02)
        self.assertLess(
            result.bandwidth, 0.5 * kernel_density(x).bandwidth
        )  # it sees two peaks where the rule sees one

    def test_recording_steps_are_smoothed_over_and_said(self):
        result = kernel_density(np.repeat(np.arange(10.0), 4000))
        self.assertGreaterEqual(result.bandwidth, 0.5)
        stepped = kernel_density(np.r_[np.repeat([5.0, 10.0, 15.0], 3000), 20.0])
        self.assertEqual(stepped.bandwidth, 2.5)
        self.assertIn("steps of 5", stepped.cautions[0])
        self.assertEqual(kernel_density(SKEWED).cautions, ())


class Curves(unittest.TestCase):
    def test_area_shift_and_scale(self):
        result = kernel_density(SKEWED)
        self.assertAlmostEqual(integrate.trapezoid(result.density, result.x), 1, places=3)
        moved = kernel_density(SKEWED * 10 - 7)
        np.testing.assert_allclose(moved.density * 10, result.density, rtol=1e-9, atol=1e-12)
        self.assertAlmostEqual(result.peak, result.x[result.density.argmax()])

    def test_reflection_keeps_the_area_within_the_bounds(self):
        rng = np.random.default_rng(20)
        share = rng.beta(1, 3, 5_000)
        result = kernel_density(share, lower=0, upper=1)
        self.assertEqual((result.x[0], result.x[-1] <= 1), (0, True))
        self.assertAlmostEqual(integrate.trapezoid(result.density, result.x), 1, places=3)
        self.assertGreater(result.density[0], 0.8 * stats.beta.pdf(0, 1, 3))  # unreflected it would be half of that

    def test_weights_are_repetitions(self):
        once = kernel_density([1, 2, 4.5], bandwidth=1, weights=[2, 0, 3])
        repeated = kernel_density([1, 1, 4.5, 4.5, 4.5], bandwidth=1)
        np.testing.assert_allclose(once.density, repeated.density)

    def test_refusals(self):
        for given_values, code in (
            ([np.nan], "no-values"),
            ([4, 4, 4], "no-spread"),
            ([-1e308, 1e308], "range-extreme"),
        ):
            with self.assertRaises(InputError) as raised:
                kernel_density(given_values)
            self.assertEqual(raised.exception.code, code)
        self.assertAlmostEqual(kernel_density([4, 4], bandwidth=0.5).peak, 4, places=1)  # a bump can be asked for
        with self.assertRaises(InputError) as raised:
            kernel_density([-1, 2, 3, -4], lower=0)
        self.assertIn("2 of 4", raised.exception.problem)
        with self.assertRaises(ChoiceError):
            kernel_density(SKEWED, bandwidth="normal")
        with self.assertRaises(InputError):
            kernel_density(SKEWED, bandwidth=0)
