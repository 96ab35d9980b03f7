"""Two variables: certified lines, published examples, kept libraries, and curves that come back to their units."""

import itertools
import math
import unittest

import numpy as np
from heron import influence, relation
from heron.errors import InputError
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

# Anscombe (1973): four sets of one line.
X = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
STRAIGHT = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]
BENT = [9.14, 8.14, 8.74, 8.77, 9.26, 8.10, 6.13, 3.10, 9.13, 7.26, 4.74]
# NIST, "Norris": calibration of ozone monitors, certified to 15 digits.
NORRIS_Y = [
    0.1, 338.8, 118.1, 888.0, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8, 339.3, 448.9, 10.8,
    557.7, 228.3, 998.0, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888.0, 998.5, 778.9, 10.2, 117.6, 228.9, 668.4, 449.2,
    0.2,
]  # fmt: skip
NORRIS_X = [
    0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777.0, 558.2, 0.4, 0.6, 775.5, 666.9, 338.0, 447.5,
    11.6, 556.0, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999.0, 779.0, 11.1, 118.3, 229.2, 669.1,
    448.9, 0.5,
]  # fmt: skip


class Lines(unittest.TestCase):
    def test_the_certified_line(self):
        result = relation.fit_line(NORRIS_X, NORRIS_Y)
        for got, certified in (
            (result.intercept, -0.262323073774029),
            (result.slope, 1.00211681802045),
            (result.intercept_se, 0.232818234301152),
            (result.slope_se, 0.429796848199937e-03),
            (result.sigma, 0.884796396144373),
            (result.r_squared, 0.999993745883712),
        ):
            self.assertAlmostEqual(got / certified, 1, places=11)

    def test_bends_and_fans_are_told_as_by_the_fit_of_screen(self):
        for y in (STRAIGHT, BENT):
            result = relation.fit_line(X, y)
            self.assertAlmostEqual(result.slope, 0.5, places=2)
            self.assertAlmostEqual(result.r_squared, 0.67, places=2)
            expected = influence.diagnose_fit(y, {"x": X})
            self.assertAlmostEqual(result.curvature_p, expected.curvature_p)
            self.assertAlmostEqual(result.fanning_p, expected.fanning_p)
        self.assertLess(relation.fit_line(X, BENT).curvature_p, 1e-6)

    def test_robust_limits_of_the_slope_are_those_of_the_fit_of_screen(self):
        rng = np.random.default_rng(16)
        x = rng.normal(size=40)
        y = x + rng.normal(size=40) * np.abs(x)
        line, other = relation.fit_line(x, y, level=0.9), influence.diagnose_fit(y, {"x": x}, level=0.9)
        np.testing.assert_allclose(
            [line.slope_robust_low, line.slope_robust_high], [other.robust_low[1], other.robust_high[1]]
        )
        lone = relation.fit_line([1.0, 1, 1, 9], [2.0, 3, 4, 5])
        self.assertEqual((lone.slope_robust_low, lone.slope_robust_high), (None, None))

    def test_bands_and_limits(self):
        result = relation.fit_line(X, STRAIGHT, level=0.9)
        expected = stats.linregress(X, STRAIGHT)
        t = stats.t.ppf(0.95, 9)
        np.testing.assert_allclose(
            [result.slope_low, result.slope_high], expected.slope + np.array([-1, 1]) * t * expected.stderr
        )
        np.testing.assert_allclose(result.intercept_low, expected.intercept - t * expected.intercept_stderr)
        at = relation.predict(result, 12)
        x = np.array(X, dtype=float)
        h = 1 / 11 + (12 - x.mean()) ** 2 / np.sum((x - x.mean()) ** 2)
        middle = expected.intercept + 12 * expected.slope
        np.testing.assert_allclose(
            [at.y, at.low, at.one_high],
            [middle, middle - t * result.sigma * math.sqrt(h), middle + t * result.sigma * math.sqrt(1 + h)],
        )
        self.assertTrue(relation.predict(result, 15).outside)

    def test_a_power_law_comes_back_to_its_units(self):
        rng = np.random.default_rng(4)
        x = np.linspace(1, 50, 80)
        noise = rng.normal(0, 0.05, 80)
        result = relation.fit_line(x, 0.02 * x**2.5 * 10**noise, x_scale="log10", y_scale="log10")
        expected = stats.linregress(np.log10(x), np.log10(0.02 * x**2.5) + noise)
        np.testing.assert_allclose([result.slope, result.intercept], [expected.slope, expected.intercept])
        np.testing.assert_allclose(result.curve_y, 10**expected.intercept * result.curve_x**expected.slope)
        left = np.log10(0.02 * x**2.5) + noise - expected.intercept - expected.slope * np.log10(x)
        self.assertAlmostEqual(result.smearing, np.mean(10**left))  # Duan (1983)
        y = 0.02 * x**2.5 * 10**noise
        missed = np.sum((y - 10**expected.intercept * x**expected.slope) ** 2)
        self.assertAlmostEqual(result.original_r_squared, 1 - missed / np.sum((y - y.mean()) ** 2))
        words = relation.carried_back(result, "length", "mass")
        self.assertEqual(words, f"mass = {10**expected.intercept:.4g} × length^{{{expected.slope:.4g}}}")
        at = relation.predict(result, 10)
        self.assertAlmostEqual(at.mean, at.y * result.smearing)

    def test_every_pair_of_scales_comes_back(self):
        x = np.linspace(0.5, 9, 40)
        for x_scale in relation.SCALES:
            for y_scale in relation.SCALES:
                forward = relation.fit.forth(x_scale, x)
                y = relation.fit.back(y_scale, 2 + 0.3 * forward)
                result = relation.fit_line(x, y, x_scale=x_scale, y_scale=y_scale)
                np.testing.assert_allclose([result.intercept, result.slope], [2, 0.3], rtol=1e-9, err_msg=x_scale)
                three = relation.fit.forth(x_scale, np.array([3.0]))
                expected = relation.fit.back(y_scale, 2 + 0.3 * three)[0]
                np.testing.assert_allclose(relation.predict(result, 3.0).y, expected)
                self.assertAlmostEqual(result.original_r_squared, 1)
                self.assertTrue(np.all(result.one_low <= result.curve_y + 1e-9))

    def test_what_cannot_stand_on_a_scale_is_named(self):
        result = relation.fit_line([1, 2, 3, 0, -1, np.nan, 4], [1, 2, 4, 5, 6, 7, 8], x_scale="log10")
        self.assertEqual((result.off_scale_rows.tolist(), result.lost_rows.tolist(), result.n_pairs), ([3, 4], [5], 4))
        for x, y in (([1, 2], [1, 2]), ([1, 1, 1], [1, 2, 3]), ([1e200, 2e200, 3e200], [1, 2, 4])):
            with self.assertRaises(InputError):
                relation.fit_line(x, y)
        with self.assertRaises(InputError):
            relation.predict(result, -1)


class Correlated(unittest.TestCase):
    def test_p_values_of_few_pairs_are_shares_of_all_orders(self):
        def share(a, b, coefficient):
            expected = abs(coefficient(a, b)[0])
            orders = list(itertools.permutations(b))
            return sum(abs(coefficient(a, order)[0]) >= expected - 1e-9 for order in orders) / len(orders)

        for a, b in (
            ([1, 2, 3, 4, 5], [2, 1, 4, 3, 5]),
            ([1, 1, 2, 3, 3, 4], [2, 1, 1, 3, 5, 4]),
            ([3, 1, 2], [6, 2, 4]),
        ):
            result = relation.correlate(a, b)
            self.assertAlmostEqual(result.spearman.p_value, share(a, b, stats.spearmanr))
            self.assertAlmostEqual(result.kendall.p_value, share(a, b, stats.kendalltau))
        self.assertGreater(relation.correlate([1, 2, 3], [1, 2, 3]).spearman.p_value, 0.3)
        many = np.arange(12.0)
        self.assertAlmostEqual(relation.correlate(many, many**3).spearman.p_value / (2 / math.factorial(12)), 1)

    def test_anscombe_and_limits_by_their_formulas(self):
        result = relation.correlate(X, STRAIGHT)
        self.assertAlmostEqual(result.pearson.estimate, 0.816, places=3)
        expected = stats.pearsonr(X, STRAIGHT)
        np.testing.assert_allclose([result.pearson.low, result.pearson.high], expected.confidence_interval())
        self.assertAlmostEqual(result.pearson.p_value, expected.pvalue)
        rho, tau = stats.spearmanr(X, STRAIGHT), stats.kendalltau(X, STRAIGHT)
        self.assertAlmostEqual(result.spearman.estimate, rho.statistic)
        self.assertAlmostEqual(result.spearman.p_value, rho.pvalue)
        reach = 1.959963985 * math.sqrt((1 + rho.statistic**2 / 2) / 8)  # Bonett and Wright
        self.assertAlmostEqual(result.spearman.high, math.tanh(math.atanh(rho.statistic) + reach))
        reach = 1.959963985 * math.sqrt(0.437 / 7)  # Fieller, Hartley and Pearson
        self.assertAlmostEqual(result.kendall.low, math.tanh(math.atanh(tau.statistic) - reach))

    @given(st.integers(0, 10_000), st.floats(-300, 300), st.floats(-300, 300))
    def test_units_do_not_matter_and_gaps_are_lost_together(self, seed, a, b):
        rng = np.random.default_rng(seed)
        x, y = rng.normal(size=(2, 12))
        x[0], y[1] = np.nan, np.nan
        result = relation.correlate(x, y)
        scaled = relation.correlate(x * 10**a, y * 10**b)
        self.assertEqual((result.lost_rows.tolist(), result.n_pairs), ([0, 1], 10))
        for name in ("pearson", "spearman", "kendall"):
            self.assertAlmostEqual(getattr(result, name).estimate, getattr(scaled, name).estimate)

    def test_without_spread_or_pairs(self):
        self.assertIsNone(relation.correlate([1, 1, 1], [1, 2, 3]).pearson)
        self.assertIn("no spread", relation.correlate([1, 1, 1], [1, 2, 3]).undefined["kendall"])
        exact = relation.correlate([1, 2, 3, 4], [2, 4, 6, 8]).pearson
        self.assertEqual((exact.estimate, exact.high, exact.p_value), (1, 1, 0))


class Partial(unittest.TestCase):
    def test_given_the_others_is_of_what_they_leave(self):
        rng = np.random.default_rng(15)
        z, w = rng.normal(size=(2, 30))
        x, y = z + 0.5 * w + rng.normal(size=30), z - w + rng.normal(size=30)
        columns = np.array([x, y, z, w])
        columns[1, 4] = np.nan
        result = relation.correlate_partially(columns, level=0.9)[1][0]
        kept = np.delete(columns, 4, axis=1)
        others = np.column_stack((np.ones(29), kept[2], kept[3]))
        left = [v - others @ np.linalg.lstsq(others, v, rcond=None)[0] for v in kept[:2]]
        r = np.corrcoef(*left)[0, 1]
        self.assertAlmostEqual(result.pearson.estimate, r)
        reach = stats.norm.ppf(0.95) / np.sqrt(29 - 2 - 3)
        np.testing.assert_allclose(
            [result.pearson.low, result.pearson.high], np.tanh(np.arctanh(r) + np.array([-reach, reach]))
        )
        t = r * np.sqrt(25 / (1 - r * r))
        self.assertAlmostEqual(result.pearson.p_value, 2 * stats.t.sf(abs(t), 25))
        self.assertEqual((result.n_pairs, result.lost_rows.tolist()), (29, [4]))
        ranks = np.array([stats.rankdata(v) for v in kept])
        self.assertAlmostEqual(result.spearman.estimate, relation.correlate_partially(ranks)[1][0].pearson.estimate)

    def test_the_marks_of_five_subjects_as_published(self):
        # Mardia, Kent and Bibby (1979), 88 students: mechanics, vectors, algebra, analysis, statistics; their partial
        # correlations are in Whittaker (1990).
        plain = [0.553, 0.547, 0.610, 0.409, 0.485, 0.711, 0.389, 0.437, 0.665, 0.607]
        published = [0.33, 0.23, 0.28, 0.00, 0.08, 0.43, 0.02, 0.02, 0.36, 0.25]
        below = np.tril_indices(5, -1)
        matrix = np.eye(5)
        matrix[below] = matrix.T[below] = plain
        apart = np.linalg.qr(stats.zscore(np.random.default_rng(1).normal(size=(88, 5))))[0]  # uncorrelated
        result = relation.correlate_partially(np.linalg.cholesky(matrix) @ apart.T)
        estimates = [result[i][j].pearson.estimate for i, j in zip(*below, strict=True)]
        np.testing.assert_allclose(estimates, published, atol=0.006)

    def test_what_follows_from_the_others_or_is_too_little_says_so(self):
        x = np.arange(9.0)
        self.assertIn("follows from", relation.correlate_partially([x, x**2, x + x**2])[2][0].undefined["pearson"])
        self.assertIn("no spread", relation.correlate_partially([x, x**2, x * 0])[1][0].undefined["pearson"])
        self.assertIn(
            "5 complete rows", relation.correlate_partially([x[:3], x[:3] ** 2, [1, 5, 2]])[1][0].undefined["spearman"]
        )


class Other(unittest.TestCase):
    def test_the_median_of_slopes_as_a_kept_library_has_it(self):
        rng = np.random.default_rng(4)
        x, y = rng.normal(size=(2, 60))
        y += np.round(x, 1)
        result = relation.theil_sen(np.round(x, 1), y)
        expected = stats.theilslopes(y, np.round(x, 1), method="joint")
        np.testing.assert_allclose(
            [result.slope, result.intercept, result.low, result.high],
            [expected.slope, expected.intercept, expected.low_slope, expected.high_slope],
        )
        many = rng.normal(size=(2, 4_000))
        sampled = relation.theil_sen(many[0], 3 * many[0] + many[1])
        self.assertTrue(sampled.sampled)
        self.assertLess(abs(sampled.slope - 3), 0.06)
        self.assertLess(sampled.low, sampled.slope)

    def test_a_smooth_follows_a_line_exactly_and_a_curve_nearly(self):
        rng = np.random.default_rng(4)
        x = rng.uniform(0, 10, 300)
        line = relation.smooth_line(x, 2 - 3 * x)
        np.testing.assert_allclose(line.y, 2 - 3 * line.x, atol=1e-8)
        # A local line misses a curve by half its second derivative (at most 1) times the weights' second moment,
        # 35/243 h² (tricube, h = 0.75 here): 0.041; at the ends, where h doubles and one side is empty, by 0.098.
        x = np.linspace(0, 10, 301)
        wave = relation.smooth_line(x, np.sin(x), span=0.15)
        missed = np.abs(wave.y - np.sin(wave.x))
        self.assertLess(missed.max(), 0.1)
        self.assertLess(missed[(wave.x > 1) & (wave.x < 9)].max(), 0.045)

    def test_slopes_are_compared_as_by_the_interaction(self):
        rng = np.random.default_rng(4)
        parts = {name: (rng.normal(size=30), rng.normal(size=30)) for name in "abc"}
        for i, (x, y) in enumerate(parts.values()):
            y += i * x
        g = np.repeat([0, 1, 2], 30)
        x, y = (np.concatenate([part[k] for part in parts.values()]) for k in (0, 1))
        result = relation.compare_slopes(x, y, np.array(list(parts))[g])
        dummies = (g[:, None] == [0, 1, 2]).astype(float)
        small = np.column_stack((dummies, x))
        large = np.column_stack((dummies, dummies * x[:, None]))
        rss = [float(np.linalg.lstsq(m, y, rcond=None)[1][0]) for m in (small, large)]
        f = (rss[0] - rss[1]) / 2 / (rss[1] / (90 - 6))
        self.assertAlmostEqual(result.statistic, f)
        self.assertAlmostEqual(result.p_value, stats.f.sf(f, 2, 84))
        first = result.pairs[0]
        expected = [stats.linregress(*parts[name]) for name in "ab"]
        self.assertAlmostEqual(first.difference, expected[0].slope - expected[1].slope)

    def test_the_curve_lies_inside_its_limits_on_every_scale(self):
        for seed in range(40):
            rng = np.random.default_rng(seed)
            x = rng.uniform(1, 10, 12)
            sign = rng.choice([-1, 1])
            y = sign / np.abs(0.05 + rng.normal(0, 0.08, 12) + 0.01 * x)
            for y_scale in relation.SCALES if sign > 0 else ("as-is", "reciprocal"):
                fit = relation.fit_line(x, y, y_scale=y_scale)
                for low, high in ((fit.low, fit.high), (fit.one_low, fit.one_high)):
                    known = np.isfinite(fit.curve_y)
                    below, above = np.isfinite(low) & known, np.isfinite(high) & known
                    slack = 1e-9 * np.abs(fit.curve_y)
                    self.assertTrue(np.all(low[below] <= (fit.curve_y + slack)[below]), (seed, y_scale))
                    self.assertTrue(np.all(high[above] >= (fit.curve_y - slack)[above]), (seed, y_scale))

    def test_limits_of_reciprocals_on_both_sides_of_0_have_no_end_on_the_side_of_the_curve(self):
        x, y = [1.0, 2, 3, 4, 5, 6], [1 / u for u in (0.4, -0.2, 0.5, 0.3, -0.1, 0.6)]
        at = relation.predict(relation.fit_line(x, y, y_scale="reciprocal"), 3.5)
        expected = stats.linregress(x, [0.4, -0.2, 0.5, 0.3, -0.1, 0.6])
        middle = expected.intercept + 3.5 * expected.slope
        spread = np.sqrt(np.sum((1 / np.array(y) - expected.intercept - expected.slope * np.array(x)) ** 2) / 4)
        reach = stats.t.ppf(0.975, 4) * spread / np.sqrt(6)
        self.assertLess(middle - reach, 0)
        self.assertAlmostEqual(at.low, 1 / (middle + reach))
        self.assertEqual((at.high, at.one_high), (None, None))
        self.assertLess(at.low, at.y)

    def test_power_laws_over_many_orders_of_magnitude_give_log_on_log(self):
        result = []
        for slope in (-2.5, -1.7, -1.0, -0.6, 0.4, 0.75, 1.3, 2.2, 3.0):
            for decades, noise in ((2, 0.1), (4, 0.3), (8, 0.3), (8, 1.0)):
                rng = np.random.default_rng(int(100 * abs(slope)) + decades)
                x = 10 ** rng.uniform(-decades / 2, decades / 2, 300)
                y = 3 * x**slope * np.exp(rng.normal(0, noise, 300))
                board = relation.board(x, y)
                result.append(board.proposed is not None and board.cells[board.proposed])
        self.assertEqual({(cell.x_scale, cell.y_scale) for cell in result}, {("log10", "log10")})

    def test_likelihoods_are_those_of_y_in_its_own_units(self):
        rng = np.random.default_rng(4)
        x, y = rng.lognormal(0, 1, 60), rng.lognormal(1, 0.8, 60)
        board = relation.board(x, y)

        def by_hand(cell):
            forth = {"as-is": lambda z: z, "square-root": np.sqrt, "log10": np.log10, "reciprocal": lambda z: 1 / z}
            u, v = forth[cell.x_scale](x), forth[cell.y_scale](y)
            fitted = np.polynomial.Polynomial.fit(u, v, 1)(u)
            density = stats.norm.pdf(v, fitted, np.sqrt(np.mean((v - fitted) ** 2)))
            step = 1e-6 * y  # the derivative of the scale, by a difference
            slope = np.abs(forth[cell.y_scale](y + step) - forth[cell.y_scale](y - step)) / (2 * step)
            return np.log(density * slope).sum()

        for cell in board.cells:
            self.assertAlmostEqual(cell.gain, by_hand(cell) - by_hand(board.cells[0]), delta=1e-5)

    def test_pairs_that_a_scale_cannot_use_are_left_out_of_the_comparison(self):
        rng = np.random.default_rng(4)
        x = np.r_[0.0, rng.lognormal(1, 1, 99)]
        y = np.r_[0.0, 2 * x[1:] ** 1.5 * np.exp(rng.normal(0, 0.2, 99))]
        board = relation.board(x, y)
        cell = board.cells[board.proposed]
        self.assertEqual((cell.x_scale, cell.y_scale, cell.n_lost, board.n_compared), ("log10", "log10", 1, 99))
        half = relation.board(rng.normal(size=50), rng.normal(size=50))
        self.assertEqual({cell.y_scale for cell in half.cells if cell.gain is not None}, {"as-is", "reciprocal"})

    def test_the_board_proposes_what_straightens(self):
        rng = np.random.default_rng(4)
        x = rng.lognormal(1, 0.6, 400)
        power = 3 * x**-1.7 * np.exp(rng.normal(0, 0.1, 400))
        result = relation.board(x, power)
        cell = result.cells[result.proposed]
        self.assertEqual((cell.x_scale, cell.y_scale), ("log10", "log10"))
        expected = stats.linregress(np.log10(x), np.log10(power))
        self.assertAlmostEqual(cell.r_squared, expected.rvalue**2)
        root = relation.board(x, (2 + x + rng.normal(0, 0.1, 400)) ** 2)
        best = root.cells[root.proposed]
        self.assertEqual((best.x_scale, best.y_scale), ("as-is", "square-root"))
        self.assertIsNone(relation.board(x, 2 + x + rng.normal(0, 0.3, 400)).proposed)
        lost = relation.board([-1, 1, 2, 3, 4, 5], [0, 1, 2, 2, 3, 1])
        self.assertEqual([cell.n_lost for cell in lost.cells[:4]], [0, 1, 1, 0])
        flat = relation.board([1, 2, 3, 4], [5, 5, 5, 5])
        self.assertIsNone(flat.proposed)
        self.assertIn("same y", flat.cells[0].why)
