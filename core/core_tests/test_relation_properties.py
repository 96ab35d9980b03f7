"""What must hold of relations whatever the numbers: units, order, gaps, and what one line says of another."""

import math
import unittest

import numpy as np
from heron import bivariate, estimates, relation
from heron.errors import InputError
from heron.groups import line
from hypothesis import given, settings
from hypothesis import strategies as st

seeds = st.integers(0, 100_000)
units = st.floats(1e-6, 1e6)


def pairs_of(seed, n=25):
    rng = np.random.default_rng(seed)
    x = rng.lognormal(1, 0.5, n)
    return rng, x, 3 * x**1.3 * np.exp(rng.normal(0, 0.2, n))


class OfLines(unittest.TestCase):
    @given(seeds, units, units)
    @settings(max_examples=30)
    def test_units_change_the_coefficients_as_they_should(self, seed, a, b):
        _, x, y = pairs_of(seed)
        plain, scaled = relation.fit_line(x, y), relation.fit_line(a * x, b * y)
        self.assertAlmostEqual(scaled.slope / (plain.slope * b / a), 1)
        self.assertAlmostEqual(scaled.r_squared, plain.r_squared)
        self.assertAlmostEqual(scaled.original_r_squared, plain.original_r_squared)
        np.testing.assert_allclose(scaled.one_high, b * plain.one_high, rtol=1e-7)
        self.assertAlmostEqual(scaled.fanning_p, plain.fanning_p)
        powers = [relation.fit_line(*each, x_scale="log10", y_scale="log10") for each in ((x, y), (a * x, b * y))]
        self.assertAlmostEqual(powers[0].slope, powers[1].slope)
        self.assertAlmostEqual(powers[0].smearing, powers[1].smearing)

    @given(seeds)
    @settings(max_examples=30)
    def test_the_order_of_rows_and_gaps_among_them_do_not_matter(self, seed):
        rng, x, y = pairs_of(seed)
        turn = rng.permutation(25)
        holed = np.insert(x[turn], 3, np.nan), np.insert(y[turn], 3, 7.0)
        plain, other = relation.fit_line(x, y), relation.fit_line(*holed)
        self.assertAlmostEqual(plain.slope, other.slope)
        self.assertEqual(other.lost_rows.tolist(), [3])
        np.testing.assert_allclose(plain.curve_y, other.curve_y)
        board, same = relation.board(x, y), relation.board(*holed)
        self.assertEqual(board.proposed, same.proposed)
        for a, b in zip(board.cells, same.cells, strict=True):
            self.assertAlmostEqual(a.r_squared, b.r_squared)

    @given(seeds)
    @settings(max_examples=30)
    def test_every_point_of_the_curve_is_what_the_line_predicts(self, seed):
        _, x, y = pairs_of(seed)
        for x_scale in relation.SCALES:
            for y_scale in relation.SCALES:
                fit = relation.fit_line(x, y, x_scale=x_scale, y_scale=y_scale)
                for i in (0, 40, 160):
                    at = relation.predict(fit, float(fit.curve_x[i]))
                    for got, drawn in (
                        (at.y, fit.curve_y[i]),
                        (at.low, fit.low[i]),
                        (at.one_high, fit.one_high[i]),
                    ):
                        if np.isfinite(drawn) and got is not None:
                            self.assertAlmostEqual(got / drawn if drawn else 1 + got, 1, places=6)

    @given(seeds)
    @settings(max_examples=30)
    def test_a_line_through_rows_of_equal_groups_goes_through_their_means(self, seed):
        rng = np.random.default_rng(seed)
        places = np.repeat([0.0, 3, 7, 20], 6)
        values = rng.normal(places, 2)
        means = values.reshape(4, 6).mean(axis=1)
        rows, centres = line(places, values), line([0, 3, 7, 20], means)
        self.assertAlmostEqual(rows.slope, centres.slope)
        self.assertAlmostEqual(rows.intercept, centres.intercept)
        self.assertLessEqual(rows.r_squared, centres.r_squared + 1e-12)

    @given(seeds, st.floats(-1e3, 1e3))
    @settings(max_examples=30)
    def test_the_median_of_slopes_bears_a_far_point(self, seed, far):
        rng = np.random.default_rng(seed)
        x = np.arange(30.0)
        y = 2 * x + rng.normal(0, 0.1, 30)
        y[rng.integers(0, 30)] += 100 * far
        self.assertLess(abs(relation.theil_sen(x, y).slope - 2), 0.05)

    def test_words_for_a_line_and_its_curve(self):
        x = np.array([1.0, 2, 3, 4])
        for x_scale, y_scale, y, words, back in (
            ("as-is", "as-is", 3 - 2 * x, "b = 3 − 2 × a", ""),
            ("as-is", "square-root", (1 + x) ** 2, "√(b) = 1 + 1 × a", "b = (1 + 1 × a)^{2}"),
            ("log10", "as-is", 5 + 2 * np.log10(x), "b = 5 + 2 × log10(a)", ""),
            ("as-is", "log10", 2 * 10 ** (0.5 * x), "log10(b) = 0.301 + 0.5 × a", "b = 2 × 10^{0.5 × a}"),
            ("as-is", "reciprocal", 1 / (1 + 2 * x), "1/(b) = 1 + 2 × a", "b = 1/(1 + 2 × a)"),
            ("log10", "log10", 4 * x**-2, "log10(b) = 0.6021 − 2 × log10(a)", "b = 4 × a^{−2}"),
        ):
            fit = relation.fit_line(x, y, x_scale=x_scale, y_scale=y_scale)
            self.assertEqual(relation.equation(fit, "a", "b"), words)
            self.assertEqual(relation.carried_back(fit, "a", "b"), back)


class OfCoefficients(unittest.TestCase):
    @given(seeds)
    @settings(max_examples=40)
    def test_they_are_alike_from_either_side_and_turn_with_a_variable(self, seed):
        rng = np.random.default_rng(seed)
        x, y = rng.integers(0, 8, (2, 20)).astype(float)
        result, other, turned = (
            relation.correlate(x, y),
            relation.correlate(y, x),
            relation.correlate(-x, y),
        )
        for name in ("pearson", "spearman", "kendall"):
            a, b, c = (getattr(each, name) for each in (result, other, turned))
            if a is None:
                continue
            self.assertAlmostEqual(a.estimate, b.estimate)
            self.assertAlmostEqual(a.low, -c.high)
            self.assertTrue(a.low <= a.estimate <= a.high)

    @given(seeds)
    @settings(max_examples=40)
    def test_ranks_do_not_see_a_rising_scale(self, seed):
        _, x, y = pairs_of(seed)
        plain, bent = relation.correlate(x, y), relation.correlate(np.log(x), y**3)
        self.assertAlmostEqual(plain.spearman.estimate, bent.spearman.estimate)
        self.assertAlmostEqual(plain.kendall.p_value, bent.kendall.p_value)

    def test_the_square_of_pearsons_is_the_lines_share(self):
        _, x, y = pairs_of(3)
        self.assertAlmostEqual(relation.correlate(x, y).pearson.estimate ** 2, relation.fit_line(x, y).r_squared)


class OfClouds(unittest.TestCase):
    @given(seeds, units, units)
    @settings(max_examples=15)
    def test_a_density_is_per_unit_and_its_areas_stay(self, seed, a, b):
        _, x, y = pairs_of(seed, 60)
        plain, scaled = bivariate.pair_density(x, y, grid=40), bivariate.pair_density(a * x, b * y, grid=40)
        np.testing.assert_allclose(scaled.density * a * b, plain.density, rtol=1e-6, atol=1e-9)
        np.testing.assert_allclose(scaled.levels * a * b, plain.levels, rtol=1e-6)
        self.assertTrue(np.all(np.diff(plain.levels) <= 0))

    @given(seeds, st.integers(4, 60))
    @settings(max_examples=30)
    def test_hexagons_and_places_lose_nobody(self, seed, across):
        rng = np.random.default_rng(seed)
        x, y = rng.normal(size=(2, 300))
        x[rng.integers(0, 300, 9)] = np.nan
        n = np.count_nonzero(~np.isnan(x))
        result = bivariate.hexagons(x, y, across=across)
        self.assertEqual((result.counts.sum(), result.n), (n, n))
        self.assertEqual(bivariate.stacks(np.round(x), np.round(y)).counts.sum(), n)
        shown = bivariate.window(x, y, x_from=-9, x_to=9, y_from=-9, y_to=9, columns=9, rows=5)
        self.assertEqual(shown.sum(), n)

    @given(seeds)
    @settings(max_examples=20)
    def test_an_outline_turned_the_other_way_holds_the_same(self, seed):
        rng = np.random.default_rng(seed)
        x, y = rng.uniform(-1, 1, (2, 400))
        px, py = rng.uniform(-1, 1, (2, 6))
        forward = bivariate.inside(x, y, px, py)
        np.testing.assert_array_equal(forward, bivariate.inside(x, y, px[::-1], py[::-1]))
        np.testing.assert_array_equal(forward, bivariate.inside(x, y, np.roll(px, 2), np.roll(py, 2)))


class OfResults(unittest.TestCase):
    @given(seeds)
    @settings(max_examples=40)
    def test_limits_in_either_order_are_the_same_limits(self, seed):
        rng = np.random.default_rng(seed)
        estimate, one, other = rng.normal(size=(3, 12))
        one[rng.random(12) < 0.2] = np.nan
        a, b = estimates.with_limits(estimate, one, other), estimates.with_limits(estimate, other, one)
        np.testing.assert_array_equal(a.low, b.low)
        np.testing.assert_array_equal(a.outside, b.outside)
        known = ~np.isnan(a.low)
        self.assertTrue(np.all(a.low[known] <= a.high[known]))
        self.assertEqual(a.bare.tolist(), np.flatnonzero(~known).tolist())

    def test_a_width_is_the_limits_half_as_far(self):
        result = estimates.with_width([1.0, 5.0], [0.0, 2.0])
        np.testing.assert_array_equal([result.low, result.high], [[1, 3], [1, 7]])

    def test_names_of_blocks_that_say_nothing_are_not_guessed_at(self):
        result = estimates.match(["mean", "mean"], ["SD", "SD", "SD"])
        self.assertEqual((result.pairs, result.alone, result.left), ((), (0, 1), (0, 1, 2)))
        twice = estimates.match(["bed a mean", "bed a average"], ["bed a sd", "bed b sd"])
        self.assertEqual(twice.names, ("bed a", "bed a"))  # by their places, both blocks being of one size

    def test_what_cannot_be_squared_is_said(self):
        for x, y in (([0, 5e-324, 1e-323, 1.5e-323], [1, 2, 3, 5]), ([1, 2, 3, 4], [1e308, 2, 3, 1])):
            with self.assertRaises(InputError) as refused:
                relation.fit_line(x, y)
            self.assertIn("cannot be squared", refused.exception.problem)
            self.assertTrue(math.isfinite(len(relation.board(x, y).cells)))
