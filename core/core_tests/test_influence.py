"""Least squares and influence: certified and published values, and plain refits without each row."""

import unittest

import numpy as np
from heron.errors import InputError
from heron.influence import added_variable, base_of, design_of, diagnose_fit, refit_without, words_on_fit
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

# Longley (1967): deflator, product, unemployed, armed forces, population, year; employed.
LONGLEY = np.array([
    [83.0, 234289, 2356, 1590, 107608, 1947, 60323], [88.5, 259426, 2325, 1456, 108632, 1948, 61122],
    [88.2, 258054, 3682, 1616, 109773, 1949, 60171], [89.5, 284599, 3351, 1650, 110929, 1950, 61187],
    [96.2, 328975, 2099, 3099, 112075, 1951, 63221], [98.1, 346999, 1932, 3594, 113270, 1952, 63639],
    [99.0, 365385, 1870, 3547, 115094, 1953, 64989], [100.0, 363112, 3578, 3350, 116219, 1954, 63761],
    [101.2, 397469, 2904, 3048, 117388, 1955, 66019], [104.6, 419180, 2822, 2857, 118734, 1956, 67857],
    [108.4, 442769, 2936, 2798, 120445, 1957, 68169], [110.8, 444546, 4681, 2637, 121950, 1958, 66513],
    [112.6, 482704, 3813, 2552, 123366, 1959, 68655], [114.2, 502601, 3931, 2514, 125368, 1960, 69564],
    [115.7, 518173, 4806, 2572, 127852, 1961, 69331], [116.9, 554894, 4007, 2827, 130081, 1962, 70551],
])  # fmt: skip
# Greene (1993): what 50 states spent on schools per head, and their income per head, both in dollars.
SCHOOLS = np.array([
    [275, 6247], [821, 10851], [339, 7374], [275, 6183], [387, 8850], [452, 8001], [531, 8914], [424, 8604],
    [428, 10022], [316, 7505], [265, 6700], [403, 8380], [304, 6813], [437, 8745], [345, 7696], [431, 7873],
    [355, 8001], [260, 6615], [316, 6640], [327, 6333], [427, 8306], [427, 8063], [466, 8442], [477, 7847],
    [259, 5736], [274, 7342], [433, 7051], [294, 7391], [359, 9032], [279, 7277], [423, 8818], [388, 6505],
    [447, 8267], [335, 6607], [311, 7478], [322, 7812], [320, 6951], [397, 7839], [412, 7733], [342, 7526],
    [315, 6242], [321, 6841], [268, 6489], [315, 7697], [417, 6622], [353, 6541], [356, 7624], [415, 8450],
    [320, 6456], [500, 9096],
], dtype=float)  # fmt: skip
NAMES = ("deflator", "product", "unemployed", "forces", "population", "year")


def refit(y, x):
    """Plain least squares with an intercept: coefficients, residual SD and hat matrix."""
    full = np.column_stack((np.ones(len(y)), x))
    b = np.linalg.lstsq(full, y, rcond=None)[0]
    e = y - full @ b
    inverse = np.linalg.inv(full.T @ full)
    return b, np.sqrt(e @ e / (len(y) - full.shape[1])), full, inverse


class Published(unittest.TestCase):
    def test_longleys_certified_values_and_cooks_own_example(self):
        result = diagnose_fit(LONGLEY[:, 6], dict(zip(NAMES, LONGLEY.T[:6], strict=True)))
        # Certified by the statistical reference datasets.
        certified = [
            -3482258.63459582, 15.0618722713733, -0.0358191792925910, -2.02022980381683, -1.03322686717359,
            -0.0511041056535807, 1829.15146461355,
        ]  # fmt: skip
        np.testing.assert_allclose(result.coefficients, certified, rtol=1e-10)
        self.assertAlmostEqual(result.se[0], 890420.383607373, delta=1e-4)
        self.assertAlmostEqual(result.sigma, 304.854073561965, places=7)
        self.assertAlmostEqual(result.r_squared, 0.995479004577296, places=12)
        # Cook (1977), table 1: 1951 has the largest distance, 0.61; then 1962, 0.47; 1956 and 1950 follow.
        self.assertEqual(np.argsort(-result.cooks)[:2].tolist(), [4, 15])
        np.testing.assert_allclose(result.cooks[[4, 15]], [0.61, 0.47], atol=0.006)


class Shared(unittest.TestCase):
    def test_longleys_inflation_as_published(self):
        # As given of these data in the books on collinearity, such as Fox and Monette's.
        result = diagnose_fit(LONGLEY[:, 6], dict(zip(NAMES, LONGLEY.T[:6], strict=True)))
        published = (135.53, 1788.51, 33.62, 3.59, 399.15, 758.98)
        for name, times in zip(NAMES, published, strict=True):
            self.assertAlmostEqual(result.inflation[name] / times, 1, delta=0.002)
        words = " ".join(words_on_fit(result, 0, None))
        tiny = diagnose_fit(LONGLEY[:, 6], dict(zip(NAMES, LONGLEY.T[:6] * 1e-290, strict=True)))
        self.assertAlmostEqual(tiny.inflation["deflator"] / result.inflation["deflator"], 1)
        self.assertIn("Deflator, product, unemployed, population and year follow much from the other", words)

    def test_robust_standard_errors_as_published(self):
        spent, income = SCHOOLS.T / [[1], [10_000]]
        result = diagnose_fit(spent, {"income": income, "its square": income**2})
        # Cribari-Neto (2004), of the same fit.
        np.testing.assert_allclose(result.se, [327.29, 828.99, 519.08], atol=0.005)
        np.testing.assert_allclose(result.robust_se, [1095.00, 2975.41, 1995.24], atol=0.005)

    def test_robust_limits_partial_correlations_and_categories_by_their_definitions(self):
        from statsmodels.api import OLS

        rng = np.random.default_rng(14)
        bed = np.repeat(["a", "b", "c"], 12)
        x = rng.normal(size=36) + (bed == "b") * 2
        y = 1 + x + (bed == "c") + rng.normal(size=36) * (1 + np.abs(x))
        result = diagnose_fit(y, {"x": x, "bed": bed}, level=0.9)
        full = np.column_stack((np.ones(36), x, bed == "b", bed == "c")).astype(float)
        theirs = OLS(y, full).fit(cov_type="HC3", use_t=True)
        np.testing.assert_allclose(result.robust_se, theirs.bse)
        np.testing.assert_allclose(result.robust_p, theirs.pvalues)
        np.testing.assert_allclose(np.column_stack((result.robust_low, result.robust_high)), theirs.conf_int(0.1))
        others = full[:, [0, 2, 3]]
        left = [v - others @ np.linalg.lstsq(others, v, rcond=None)[0] for v in (x, y)]
        self.assertAlmostEqual(result.partial_r[1], np.corrcoef(*left)[0, 1])
        self.assertAlmostEqual(result.inflation["x"], np.var(x) / np.var(left[0]))
        # Of the category: how much smaller the ellipse of its two columns is once x is taken out of them.
        both = full[:, 2:]
        without = both - full[:, :2] @ np.linalg.lstsq(full[:, :2], both, rcond=None)[0]
        times = np.linalg.det(np.cov(both.T)) / np.linalg.det(np.cov(without.T))
        self.assertAlmostEqual(result.inflation["bed"], np.sqrt(times))


class LeaveOneOut(unittest.TestCase):
    def setUp(self):
        rng = np.random.default_rng(1)
        self.x = rng.normal(size=(24, 2)) + np.array([100, 0])
        self.group = rng.choice(["ash", "beech", "cedar"], 24)
        dummies = np.column_stack([self.group == "beech", self.group == "cedar"]).astype(float)
        self.full_x = np.column_stack((self.x, dummies))
        self.y = self.x @ [2, -1] + dummies @ [3, 0] + rng.normal(size=24)
        self.predictors = {"a": self.x[:, 0], "b": self.x[:, 1], "tree": self.group.tolist()}

    def test_every_measure_is_that_of_a_refit_without_the_row(self):
        result = diagnose_fit(self.y, self.predictors)
        self.assertEqual(result.names, ("intercept", "a", "b", "tree beech", "tree cedar"))
        b, s, full, inverse = refit(self.y, self.full_x)
        p = 5
        for i in range(24):
            left = np.delete(np.arange(24), i)
            b_i, s_i, _full_i, inverse_i = refit(self.y[left], self.full_x[left])
            h = full[i] @ inverse @ full[i]
            e = self.y[i] - full[i] @ b
            self.assertAlmostEqual(result.leverage[i], h, places=8)
            self.assertAlmostEqual(result.external[i], e / (s_i * np.sqrt(1 - h)), places=6)
            moved = full @ (b - b_i)
            self.assertAlmostEqual(result.cooks[i], moved @ moved / (p * s**2), places=6)
            self.assertAlmostEqual(result.dffits[i], moved[i] / (s_i * np.sqrt(h)), places=6)
            np.testing.assert_allclose(result.dfbetas[i], (b - b_i) / (s_i * np.sqrt(np.diag(inverse))), atol=1e-6)
            ratio = np.linalg.slogdet(s_i**2 * inverse_i)[1] - np.linalg.slogdet(s**2 * inverse)[1]
            self.assertAlmostEqual(np.log(result.covratio[i]), ratio, places=5)

    def test_rows_pulled_out_leave_what_a_refit_gives(self):
        made = design_of(self.y, self.predictors)
        for rows in ([3], [0, 5, 9, 17], list(range(12))):
            left = np.setdiff1d(np.arange(24), rows)
            b, s, _, inverse = refit(self.y[left], self.full_x[left])
            result = refit_without(made, np.array(rows))
            if result.without is None:
                self.assertLess(np.linalg.matrix_rank(self.full_x[left] - self.full_x[left].mean(0)), 4)
                continue
            np.testing.assert_allclose(result.without, b, rtol=1e-7, atol=1e-7)
            np.testing.assert_allclose(result.without_se, s * np.sqrt(np.diag(inverse)), rtol=1e-6)
            y = self.y[left]
            share = 1 - s**2 * (left.size - 5) / np.sum((y - y.mean()) ** 2)
            self.assertAlmostEqual(result.without_r_squared, share, places=10)
        same = refit_without(made, np.array([], dtype=int))
        np.testing.assert_allclose(same.without, same.coefficients)
        none = refit_without(made, np.arange(20))
        self.assertIn("do not determine", none.undefined["without"])

    def test_a_partial_plot_has_the_coefficients_slope_and_the_fits_residuals(self):
        made = design_of(self.y, self.predictors)
        result = diagnose_fit(self.y, self.predictors)
        for index in (1, 2, 3):
            x, y = added_variable(base_of(made)[0], made.q, result.residuals, index)
            slope, intercept, *_ = stats.linregress(x, y)
            self.assertAlmostEqual(slope, result.coefficients[index])
            np.testing.assert_allclose(y - slope * x - intercept, result.residuals, atol=1e-9)
            others = np.delete(self.full_x, index - 1, axis=1)
            b, _, full, _ = refit(self.full_x[:, index - 1], others)
            np.testing.assert_allclose(x, self.full_x[:, index - 1] - full @ b, atol=1e-8)

    def test_products_of_two_predictors(self):
        result = diagnose_fit(self.y, self.predictors, interactions=[("b", "tree")])
        self.assertEqual(result.names[-2:], ("b × tree beech", "b × tree cedar"))
        product = self.full_x[:, 2:] * self.x[:, 1:2]
        b = refit(self.y, np.column_stack((self.full_x, product)))[0]
        np.testing.assert_allclose(result.coefficients, b, rtol=1e-7)

    def test_fanning_and_curvature_as_auxiliary_fits_find_them(self):
        result = diagnose_fit(self.y, self.predictors)
        e2 = result.residuals**2
        b, _, full, _ = refit(e2, self.full_x)
        share = 1 - np.sum((e2 - full @ b) ** 2) / np.sum((e2 - e2.mean()) ** 2)
        self.assertAlmostEqual(result.fanning_p, stats.chi2(4).sf(24 * share))
        b, s, full, inverse = refit(self.y, np.column_stack((self.full_x, result.fitted**2)))
        t = b[-1] / (s * np.sqrt(inverse[-1, -1]))
        self.assertAlmostEqual(result.curvature_p, 2 * stats.t(24 - 6).sf(abs(t)), places=4)


class Hard(unittest.TestCase):
    def test_designs_that_determine_nothing_are_refused_by_name(self):
        x = np.arange(10.0)
        for predictors, words in (
            ({"a": x, "b": 2 * x + 1}, "b follows from"),
            ({"a": np.ones(10)}, "a has no spread"),
            ({"a": x, "g": [str(i) for i in range(10)]}, "need more than"),
        ):
            with self.assertRaises(InputError) as caught:
                diagnose_fit(x, predictors)
            self.assertIn(words, caught.exception.problem)

    def test_levels_without_a_complete_row_are_left_out_and_named(self):
        x = np.array([1.0, 2, 3, 4, 5, 6, 7])
        y = np.array([np.nan, 2, 4, 3, 6, 5, 9])
        bed = np.array(["a", "b", "b", "c", "c", "c", "b"], dtype=object)  # the only row of a has no y
        result = diagnose_fit(y, {"x": x, "bed": bed})
        plain = np.column_stack((x[1:], bed[1:] == "c")).astype(float)
        np.testing.assert_allclose(result.coefficients, refit(y[1:], plain)[0])
        self.assertEqual((result.names, result.baselines), (("intercept", "x", "bed c"), {"bed": "b"}))
        self.assertEqual(result.without_rows, {"bed": ("a",)})
        self.assertIn("No complete row has a in bed: left out.", words_on_fit(result, 0, None))
        crossed = diagnose_fit([*y, 4.0, 1.0], {"x": [*x, 2, 9], "bed": [*bed, "b", "c"]}, interactions=[("x", "bed")])
        self.assertEqual(crossed.names[-1], "x × bed c")

    def test_a_row_alone_at_its_level_has_leverage_1_and_no_measures(self):
        y = np.array([1.0, 2.5, 3, 4.2, 9, 5])
        result = diagnose_fit(y, {"x": np.arange(6.0), "g": ["a", "a", "a", "a", "b", "a"]})
        self.assertAlmostEqual(result.leverage[4], 1)
        self.assertTrue(np.isnan([result.external[4], result.cooks[4], result.covratio[4]]).all())
        self.assertIn("leverage", result.undefined)

    def test_a_perfect_fit_has_no_residual_to_measure_by(self):
        x = np.arange(8.0)
        result = diagnose_fit(3 + 2 * x, {"x": x})
        np.testing.assert_allclose(result.coefficients, [3, 2])
        self.assertEqual((result.sigma, result.r_squared), (0, 1))
        self.assertIn("perfect", result.undefined["external"])
        self.assertIsNone(diagnose_fit(np.full(8, 2.0), {"x": x}).r_squared)

    def test_values_too_large_to_square_are_refused_with_a_way_out(self):
        x = np.arange(1.0, 9)
        for y, predictor in ((x * 1e200, x), (x, x * -1e307)):
            with self.assertRaises(InputError) as caught:
                diagnose_fit(y, {"x": predictor})
            self.assertEqual(caught.exception.code, "too-large")
            self.assertIn("larger unit", caught.exception.remedy)
        bent = x**1.5
        small = diagnose_fit(bent * 1e-100, {"x": x})
        self.assertAlmostEqual(small.r_squared, diagnose_fit(bent, {"x": x}).r_squared)
        np.testing.assert_allclose(small.cooks, diagnose_fit(bent, {"x": x}).cooks)

    def test_missing_values_and_far_means(self):
        x = np.array([1.0, np.nan, 3, 4, 5, 7])
        y = np.array([2.0, 1, np.nan, 3, 6, 5])
        result = diagnose_fit(y, {"x": x})
        self.assertEqual((result.n, result.n_missing, np.isnan(result.residuals).tolist()), (4, 2, [0, 1, 1, 0, 0, 0]))
        rng = np.random.default_rng(2)
        u, noise = rng.normal(size=(2, 500))
        far = diagnose_fit(noise + u, {"x": u + 1e6})
        self.assertAlmostEqual(far.coefficients[1], diagnose_fit(noise + u, {"x": u}).coefficients[1], places=8)

    @settings(max_examples=40)
    @given(st.integers(4, 40), st.integers(0, 10_000))
    def test_leverages_add_up_to_the_coefficients(self, n, seed):
        rng = np.random.default_rng(seed)
        result = diagnose_fit(rng.normal(size=n), {"x": rng.normal(size=n)})
        self.assertAlmostEqual(result.leverage.sum(), 2)
        self.assertAlmostEqual(float(result.residuals.sum()), 0, places=8)
