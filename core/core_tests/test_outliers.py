"""Rules for far values: published examples, plain recomputation, and data on which they must give up."""

import itertools
import math
import unittest
import warnings

import numpy as np
from heron.errors import ChoiceError, InputError
from heron.outliers import RULES, flag_outliers, medcouple, robust_distances
from heron.outliers.mcd import consistency, mcd
from hypothesis import given
from hypothesis import strategies as st
from scipy import special, stats
from sklearn.datasets import load_iris

# Rosner (1983), table 1: 54 values.
ROSNER = [
    -0.25, 0.68, 0.94, 1.15, 1.20, 1.26, 1.26, 1.34, 1.38, 1.43, 1.49, 1.49, 1.55, 1.56, 1.58, 1.65, 1.69, 1.70,
    1.76, 1.77, 1.81, 1.91, 1.94, 1.96, 1.99, 2.06, 2.09, 2.10, 2.14, 2.15, 2.23, 2.24, 2.26, 2.35, 2.37, 2.40,
    2.47, 2.54, 2.62, 2.64, 2.90, 2.92, 2.92, 2.93, 3.21, 3.26, 3.30, 3.59, 3.68, 4.30, 4.64, 5.34, 5.42, 6.01,
]  # fmt: skip
whole = st.lists(st.integers(-20, 20), min_size=1, max_size=30)


class Published(unittest.TestCase):
    def test_rosners_example_step_by_step(self):
        result = flag_outliers(ROSNER, rule="esd", suspects=10)
        statistics = [3.118, 2.942, 3.179, 2.810, 2.815, 2.848, 2.279, 2.310, 2.101, 2.067]
        criticals = [3.158, 3.151, 3.143, 3.136, 3.128, 3.120, 3.111, 3.103, 3.094, 3.085]
        np.testing.assert_allclose([step.statistic for step in result.steps], statistics, atol=0.0011)
        np.testing.assert_allclose([step.critical for step in result.steps], criticals, atol=0.0011)
        self.assertEqual(result.flagged.tolist(), [51, 52, 53])
        self.assertIn("hid each other", result.cautions[0])
        self.assertEqual(flag_outliers(ROSNER, rule="grubbs").flagged.tolist(), [])  # masked by the other two

    def test_grubbs_table_and_example(self):
        # Uranium isotope ratios of a handbook of engineering statistics; Grubbs and Beck (1972), n = 8, 2.5 %: 2.126.
        result = flag_outliers([199.31, 199.53, 200.19, 200.82, 201.92, 201.95, 202.18, 245.57], rule="grubbs")
        self.assertAlmostEqual(result.scores[7], 2.46876461121245, places=10)
        self.assertAlmostEqual(result.cutoff, 2.126, delta=0.001)
        self.assertEqual(result.flagged.tolist(), [7])
        self.assertLess(result.p_value, 1e-6)

    def test_modified_z_by_hand_where_z_is_masked(self):
        # Median 2.45, absolute deviations 0.05 to 5.85 with a median of 0.15.
        x = [2.1, 2.6, 2.4, 2.5, 2.3, 2.1, 2.3, 2.6, 8.2, 8.3]
        result = flag_outliers(x, rule="robust-z")
        np.testing.assert_allclose(result.scores[-2:], [0.6745 * 5.75 / 0.15, 0.6745 * 5.85 / 0.15], rtol=1e-12)
        self.assertEqual(result.flagged.tolist(), [8, 9])
        z = flag_outliers(x, rule="z")
        self.assertEqual(z.flagged.size, 0)
        self.assertIn("cannot exceed 2.85", z.cautions[0])

    def test_robust_distances_of_the_iris_measurements(self):
        # The lowest determinant is that of published fits: 51 rows lie beyond by four measurements, 50 by three.
        flowers = load_iris().data
        for k, n_flagged in ((4, 51), (3, 50)):
            for seed in (1, 20_240):
                result = robust_distances(dict(enumerate(flowers[:, :k].T)), seed=seed)
                self.assertEqual(result.flagged.size, n_flagged)
                self.assertEqual(result.flagged[:50].tolist(), list(range(50)))

    def test_the_search_finds_the_smallest_determinant(self):
        rng = np.random.default_rng(8)
        for _ in range(3):
            x = rng.normal(size=(11, 2))
            x[:3] += 4
            sizes = [np.linalg.det(np.cov(x[list(rows)].T, bias=True)) for rows in itertools.combinations(range(11), 7)]
            _, covariance = mcd(x, seed=1)
            self.assertAlmostEqual(np.linalg.det(covariance / consistency(7 / 11, 2)), min(sizes), places=12)

    def test_few_rows_are_referred_to_normal_samples(self):
        rng = np.random.default_rng(9)
        shares = []
        for _ in range(60):
            result = robust_distances(dict(enumerate(rng.normal(size=(30, 4)).T)))
            shares.append(result.flagged.size / 30)
        self.assertIn("300 normal samples of 30 rows", result.reference)
        self.assertAlmostEqual(np.mean(shares), 0.025, delta=0.012)

    def test_esd_limits_hold_their_level_on_normal_samples(self):
        rng = np.random.default_rng(5)
        named = [flag_outliers(rng.normal(size=30), rule="esd", suspects=3).flagged.size > 0 for _ in range(1_500)]
        self.assertLess(abs(np.mean(named) - 0.05), 0.02)


class FarValues(unittest.TestCase):
    def test_a_slip_of_ten_thousand_million_leaves_the_next_step_its_figures(self):
        normal = np.random.default_rng(0).normal(size=50)
        steps = flag_outliers(np.array([*normal, 8.0, 1e10]), rule="esd", suspects=4).steps
        rest = np.array([*normal, 8.0])
        self.assertEqual([step.row for step in steps[:2]], [51, 50])
        self.assertAlmostEqual(steps[1].statistic, (8 - rest.mean()) / rest.std(ddof=1), 12)
        third = normal - normal.mean()
        self.assertAlmostEqual(steps[2].statistic, np.abs(third).max() / third.std(ddof=1), 12)

    def test_far_from_zero_as_at_zero(self):
        values = np.array([0.0, 1, 2, 3, 5, 8, 9, 4, 7, 30])
        for offset in (0.0, 1e15, -1e15):
            self.assertEqual(flag_outliers(values + offset, rule="esd").flagged.tolist(), [9])


class Plain(unittest.TestCase):
    @given(whole)
    def test_the_medcouple_is_the_median_over_all_pairs(self, values):
        x = np.sort(np.array(values, dtype=float))
        median = float(np.median(x))
        above, below = [v for v in x[::-1] if v >= median], [v for v in x[::-1] if v <= median]
        ties = int(np.count_nonzero(x == median))
        pairs = []
        for (i, b), (j, a) in itertools.product(enumerate(above), enumerate(below)):
            if a == b:
                pairs.append(float(np.sign(ties - 1 - (i - (len(above) - ties)) - j)))
            else:
                pairs.append(((b - median) - (median - a)) / (b - a))
        self.assertAlmostEqual(medcouple(x), float(np.median(pairs)), places=12)

    def test_the_medcouple_of_many_is_that_of_a_kept_library(self):
        from statsmodels.stats.stattools import medcouple as theirs

        rng = np.random.default_rng(2)
        for x in (rng.lognormal(size=3_001), rng.integers(0, 9, 4_000).astype(float)):
            with warnings.catch_warnings():
                warnings.simplefilter("ignore")
                self.assertAlmostEqual(medcouple(x), float(theirs(x)), places=12)

    @given(whole, st.sampled_from(list(RULES)))
    def test_named_rows_are_those_beyond_what_the_result_says(self, values, rule):
        x = np.array([*values, np.nan], dtype=float)
        result = flag_outliers(x, rule=rule)
        self.assertEqual((result.n, result.n_missing, result.scores.size), (len(values), 1, x.size))
        if result.low is not None:
            self.assertEqual(result.flagged.tolist(), np.flatnonzero((x < result.low) | (x > result.high)).tolist())
        elif result.cutoff is not None and rule == "grubbs":
            far = np.nanargmax(np.abs(result.scores))
            self.assertEqual(result.flagged.tolist(), [far] if abs(result.scores[far]) > result.cutoff else [])
        moved = flag_outliers(-3 * x + 7, rule=rule)
        if rule != "esd":  # of two equally far values the upper one is taken first
            self.assertEqual(moved.flagged.tolist(), result.flagged.tolist())

    def test_skew_fences_take_each_sign_of_the_medcouple(self):
        x = np.random.default_rng(3).lognormal(0, 0.7, 400)
        for values, down, up in ((x, -4, 3), (-x, -3, 4)):
            result, mc = flag_outliers(values, rule="skew-fences"), medcouple(values)
            q1, q3 = np.quantile(values, [0.25, 0.75])
            self.assertAlmostEqual(result.low, q1 - 1.5 * math.exp(down * mc) * (q3 - q1))
            self.assertAlmostEqual(result.high, q3 + 1.5 * math.exp(up * mc) * (q3 - q1))
        self.assertLess(result.flagged.size, flag_outliers(-x, rule="fences").flagged.size)

    def test_within_groups_as_group_by_group(self):
        rng = np.random.default_rng(4)
        group = rng.integers(-1, 4, 200)
        x = rng.normal(size=200) * (1 + group)
        for rule in RULES:
            result = flag_outliers(x, group, rule=rule)
            expected = []
            for part in range(4):
                rows = np.flatnonzero(group == part)
                expected += rows[flag_outliers(x[rows], rule=rule).flagged].tolist()
            self.assertEqual(result.flagged.tolist(), sorted(expected))
            self.assertTrue(np.isnan(result.scores[group < 0]).all())

    def test_values_without_spread_or_number_are_no_reason_to_fail(self):
        for x in ([], [np.nan], [3.0], [2.0, 2.0, 2.0, 2.0], [1e308, -1e308, 1e308], [0, 0, 0, 0, 9.0]):
            for rule in RULES:
                result = flag_outliers(x, rule=rule)
                self.assertTrue(result.undefined or result.flagged.size <= 1)
        self.assertIn("MAD is 0", flag_outliers([0, 0, 0, 9.0], rule="robust-z").undefined["scores"])
        self.assertEqual(flag_outliers([0, 0, 0, 0, 0, 9.0], rule="fences").flagged.tolist(), [5])
        with self.assertRaises(ChoiceError):
            flag_outliers([1.0], rule="guess")
        with self.assertRaises(ChoiceError):
            flag_outliers([1.0], rule="z", reach=2)
        with self.assertRaises(InputError):
            flag_outliers([1.0], rule="fences", reach=-1)


class Together(unittest.TestCase):
    def test_the_fit_is_the_half_of_smallest_determinant(self):
        rng = np.random.default_rng(6)
        x = rng.normal(size=(14, 2))
        x[:3] += 12
        result = robust_distances({"a": x[:, 0], "b": x[:, 1]})
        half = (14 + 2 + 1) // 2
        best = min(
            itertools.combinations(range(14), half), key=lambda rows: np.linalg.det(np.cov(x[list(rows)], rowvar=False))
        )
        np.testing.assert_allclose(result.centre, x[list(best)].mean(axis=0), atol=1e-9)
        # The factor of consistency by its definition: the variance of a standard normal pair within the central share.
        share = half / 14
        limit = stats.chi2(2).ppf(share)
        factor = share / stats.chi2(4).cdf(limit)
        expected = np.cov(x[list(best)], rowvar=False, ddof=0) * factor
        np.testing.assert_allclose(result.covariance, expected, rtol=1e-6)
        self.assertEqual(np.argsort(-result.robust)[:3].tolist(), np.argsort(-result.robust[:3]).tolist())

    def test_about_the_share_promised_lies_beyond_and_masked_rows_are_found(self):
        rng = np.random.default_rng(7)
        x = rng.normal(size=(20_000, 3)) @ np.array([[2, 1, 0], [0, 1, 1], [0, 0, 3.0]])
        result = robust_distances(dict(enumerate(x.T)))
        self.assertEqual((result.n_fitted, result.reference), (3_000, "chi-square(3)"))
        self.assertLess(abs(result.flagged.size / 20_000 - 0.025), 0.006)
        moved = robust_distances({name: 1e3 * column + 1e6 for name, column in enumerate(x.T)})
        np.testing.assert_allclose(moved.robust, result.robust, rtol=1e-6)
        y = rng.normal(size=(120, 2))
        y[:30] = y[:30] / 5 + 8
        hidden = robust_distances({"a": y[:, 0], "b": y[:, 1]})
        self.assertTrue(set(range(30)) <= set(hidden.flagged.tolist()))
        self.assertLess(np.nanmax(hidden.classical[:30]), math.sqrt(special.chdtri(2, 0.025)))

    def test_refusals_say_which_variable(self):
        rng = np.random.default_rng(8)
        a, b = rng.normal(size=(2, 40))
        for columns, code in (
            ({"a": a}, "too-few-variables"),
            ({"a": a[:9], "b": b[:9]}, "too-few-rows"),
            ({"a": a, "b": np.ones(40)}, "no-spread"),
            ({"a": a, "b": 2 * a + 1}, "collinear"),
            ({"a": a, "b": np.where(np.arange(40) < 30, 0, b)}, "half-alike"),
        ):
            with self.assertRaises(InputError) as caught:
                robust_distances(columns)
            self.assertEqual(caught.exception.code, code)
        gaps = robust_distances({"a": np.where(np.arange(40) < 5, np.nan, a), "b": b})
        self.assertEqual((gaps.n, gaps.n_missing, np.isnan(gaps.robust[:5]).all()), (35, 5, True))
