"""Differences of groups: published examples, kept libraries, and plain counting of pairs."""

import itertools
import math
import sys
import unittest

import numpy as np
import pandas as pd
from heron.differences import (
    EFFECTS,
    cliffs_delta,
    compare_groups,
    compare_repeated,
    compare_spreads,
    hedges_g,
    mean_difference,
    median_difference,
    ratio_of_geometric_means,
    shift,
    trimmed_mean_difference,
)
from heron.errors import InputError
from heron.many_to_one import Largest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate, special, stats

from core_tests.cases import in_rows, pairs, two

# Kruskal and Wallis (1952), table 1: daily bottle-caps of three machines; H = 5.656.
CAPS = {"standard": [340, 345, 330, 342, 338], "first": [339, 333, 344], "second": [347, 343, 349, 355]}
rng = np.random.default_rng(12)
A, B = rng.lognormal(1, 0.4, 14), rng.lognormal(1.3, 0.6, 20)
some = st.lists(st.integers(0, 9), min_size=2, max_size=12)


class TwoGroups(unittest.TestCase):
    def test_a_ratio_beyond_all_numbers_is_the_largest(self):
        far = [1e150, 2e149, 1e140], [1e-300, 1e-299, 3e-300]
        paired = pairs(*far)
        for groups in ({**paired, "unit": None}, paired):
            ratio = ratio_of_geometric_means(**groups)
            self.assertTrue(1e308 < ratio.estimate == ratio.high <= sys.float_info.max)

    def test_welchs_interval_and_its_ratio(self):
        mean = mean_difference(*two([*A, np.nan], B), level=0.9)
        theirs = stats.ttest_ind(A, B, equal_var=False)
        limits = theirs.confidence_interval(0.9)
        np.testing.assert_allclose([mean.estimate, mean.low, mean.high], [A.mean() - B.mean(), *limits])
        self.assertAlmostEqual(mean.p_value, theirs.pvalue)
        logs = stats.ttest_ind(np.log(A), np.log(B), equal_var=False).confidence_interval(0.9)
        ratio = ratio_of_geometric_means(*two(A, B), level=0.9)
        np.testing.assert_allclose([ratio.low, ratio.high], np.exp(limits_of(logs)))
        self.assertAlmostEqual(ratio.estimate, stats.gmean(A) / stats.gmean(B))
        self.assertEqual((mean.n, mean.n_missing), (34, 1))

    def test_hedges_g_by_its_definition(self):
        result = hedges_g(*two(A, B))
        n, m = A.size, B.size
        pooled = math.sqrt(((n - 1) * A.var(ddof=1) + (m - 1) * B.var(ddof=1)) / (n + m - 2))
        d, df = (A.mean() - B.mean()) / pooled, n + m - 2
        # The correction makes d unbiased: it is 1 over the mean of sqrt(df)/chi.
        mean = integrate.quad(lambda x: math.sqrt(df / x) * stats.chi2.pdf(x, df), 0, np.inf)[0]
        self.assertAlmostEqual(result.estimate, d / mean)
        scale = math.sqrt(n * m / (n + m))
        for end, share in ((result.low, 0.975), (result.high, 0.025)):
            self.assertAlmostEqual(special.nctdtr(df, end * mean * scale, d * scale), share, places=6)

    @settings(max_examples=60)
    @given(some, some)
    def test_cliffs_delta_by_counting_every_pair(self, x, y):
        x, y = np.array(x, dtype=float), np.array(y, dtype=float)
        result = cliffs_delta(*two(x, y))
        d = np.sign(x[:, None] - y[None, :])
        delta, n, m = d.mean(), x.size, y.size
        self.assertAlmostEqual(result.estimate, delta)
        across = np.sum((d - delta) ** 2)
        rows, columns = d.mean(axis=1), d.mean(axis=0)
        variance = m**2 * np.sum((rows - delta) ** 2) + n**2 * np.sum((columns - delta) ** 2) - across
        variance = max(variance / (n * m * (n - 1) * (m - 1)), (1 - delta**2) / (n * m - 1))
        z = stats.norm.ppf(0.975)
        under = 1 - delta**2 + z**2 * variance
        if under > 0:
            reach = z * math.sqrt(variance * ((1 - delta**2) ** 2 + z**2 * variance))
            self.assertAlmostEqual(result.low, max((delta - delta**3 - reach) / under, -1))
            self.assertAlmostEqual(result.high, min((delta - delta**3 + reach) / under, 1))

    def test_a_median_difference_holds_the_truth_about_as_often_as_it_says(self):
        source, hits = np.random.default_rng(3), 0
        for i in range(120):
            median = median_difference(*two(source.normal(2, 1, 25), source.normal(0, 2, 30)), seed=i)
            hits += median.low <= 2 <= median.high
        self.assertGreater(hits, 106)
        again = median_difference(*two(A, B), seed=4)
        self.assertEqual(again, median_difference(*two(A, B), seed=4))

    def test_pairs_are_of_their_differences(self):
        x, y = B[:14] + A, A
        result = mean_difference(**pairs([*x, 1.0], [*y, np.nan]))
        theirs = stats.ttest_rel(x, y)
        limits = theirs.confidence_interval()
        np.testing.assert_allclose([result.low, result.high], limits_of(limits))
        self.assertAlmostEqual(result.p_value, theirs.pvalue)
        d = x - y
        j = math.exp(math.lgamma(13 / 2) - math.lgamma(6)) / math.sqrt(13 / 2)
        self.assertAlmostEqual(hedges_g(**pairs(x, y)).estimate, j * d.mean() / d.std(ddof=1))
        self.assertEqual((result.n, result.n_missing), (14, 1))
        told = []
        middle = median_difference(**pairs(x, y), progress=told.append)
        self.assertEqual((middle.estimate, told[-1]), (np.median(d), 1.0))

    def test_limits_of_complete_separation_are_those_with_one_pair_turned_round(self):
        # By hand for three and three: delta 7/9, its own values 1, 1, 1/3 on both sides, variance 4/81, z 1.96.
        z, delta, variance = stats.norm.ppf(0.975), 7 / 9, 4 / 81
        root = math.sqrt((1 - delta**2) ** 2 + z**2 * variance)
        low = (delta - delta**3 - z * math.sqrt(variance) * root) / (1 - delta**2 + z**2 * variance)
        above = cliffs_delta(*two([5.0, 6, 8], [1.0, 2, 2]))
        np.testing.assert_allclose([above.estimate, above.low, above.high], [1, low, 1])
        below = cliffs_delta(*two([1.0, 2, 2], [5.0, 6, 8]))
        np.testing.assert_allclose([below.estimate, below.low, below.high], [-1, -1, -low])

    def test_trimmed_means_against_a_kept_library_and_by_hand_for_pairs(self):
        result = trimmed_mean_difference(*two(A, B), trim=0.2, level=0.9)
        theirs = stats.ttest_ind(A, B, equal_var=False, trim=0.2)
        np.testing.assert_allclose([result.low, result.high], limits_of(theirs.confidence_interval(0.9)))
        self.assertAlmostEqual(result.p_value, theirs.pvalue)
        self.assertAlmostEqual(result.estimate, stats.trim_mean(A, 0.2) - stats.trim_mean(B, 0.2))
        # Differences 0, 1, 2, 3, 99: one cut at each end, mean 2; winsorized 1, 1, 2, 3, 3; squares 4 over 3 * 2.
        paired = trimmed_mean_difference(**pairs([0.0, 1, 2, 3, 99], [0.0] * 5), trim=0.2)
        reach = stats.t.ppf(0.975, 2) * math.sqrt(4 / 6)
        np.testing.assert_allclose([paired.estimate, paired.low, paired.high], [2, 2 - reach, 2 + reach])

    def test_data_without_spread_sign_or_number(self):
        flat = mean_difference(*two([2.0, 2, 2], [5.0, 5]))
        self.assertEqual((flat.estimate, flat.low, flat.high, flat.p_value), (-3, None, None, None))
        self.assertEqual(cliffs_delta(*two([2.0, 2, 2], [5.0, 5])).estimate, -1)
        for effect, first, second, why in (
            (hedges_g, [2.0, 2, 2], [5.0, 5], "Neither group has any spread"),
            (ratio_of_geometric_means, [0.0, 1], [1.0, 3], "values above 0"),
        ):
            with self.assertRaisesRegex(InputError, why):
                effect(*two(first, second))
        with self.assertRaisesRegex(InputError, "not paired"):
            cliffs_delta(**pairs([1.0, 2], [1.0, 3]))
        for effect in (record.measure for record in EFFECTS.values()):
            for bad in (([1.0], [2.0, 3]), ([], [])):
                with self.assertRaises(InputError):
                    effect(*two(*bad))
        with self.assertRaisesRegex(InputError, "2 groups; there are 3"):
            mean_difference([1.0, 2, 3], ["a", "b", "c"])


def limits_of(interval):
    return [interval.low, interval.high]


# Hollander and Wolfe (1999): permeability of membranes at term and before it (table 4.1), and depression scores of nine
# patients at two visits (table 3.1), with their answers.
TERM, BEFORE = [0.80, 0.83, 1.89, 1.04, 1.45, 1.38, 1.91, 1.64, 0.73, 1.46], [1.15, 0.88, 0.90, 0.74, 1.21]
FIRST = [1.83, 0.50, 1.62, 2.48, 1.68, 1.88, 1.55, 3.06, 1.30]
SECOND = [0.878, 0.647, 0.598, 2.05, 1.06, 1.29, 1.06, 3.14, 1.29]


class Shifts(unittest.TestCase):
    def test_published_examples(self):
        apart = shift(*two(TERM, BEFORE), level=0.959)
        np.testing.assert_allclose([apart.estimate, apart.low, apart.high], [0.305, -0.15, 0.76])
        self.assertAlmostEqual(apart.p_value, 2 * 0.1272, places=4)
        paired = shift(**pairs(FIRST, SECOND), level=0.958)
        np.testing.assert_allclose([paired.estimate, paired.low, paired.high], [0.46, 0.010, 0.786])
        self.assertAlmostEqual(paired.p_value, 0.039, places=3)
        self.assertEqual(shift(*two([1.0, 2, 3], [4.0, 5, 6])).low, None)  # 20 orders cannot hold 95 %

    @settings(max_examples=60)
    @given(some, some)
    def test_p_values_are_those_of_a_kept_library_with_and_without_ties(self, first, second):
        x, y = np.array(first, dtype=float), np.array(second, dtype=float)
        for a, b in ((x, y), (x + np.arange(x.size) / 1e3, y + np.arange(y.size) / 1e3 + 5e-4)):
            result = shift(*two(a, b))
            self.assertAlmostEqual(result.estimate, float(np.median(np.subtract.outer(a, b))))
            exact = np.unique([*a, *b]).size == a.size + b.size
            if exact or np.ptp([*a, *b]) > 0:
                theirs = stats.mannwhitneyu(a, b, method="exact" if exact else "asymptotic").pvalue
                self.assertAlmostEqual(result.p_value, theirs, places=10)

    def test_many_values_are_counted_as_few_are_laid_out(self):
        source = np.random.default_rng(5)
        x, y = source.normal(0.3, 1, 2_100), source.normal(0, 1, 2_000)
        laid = np.sort(np.subtract.outer(x, y), axis=None)
        result = shift(*two(x, y))
        k = math.floor(x.size * y.size / 2 - 1.959964 * math.sqrt(x.size * y.size * 4_101 / 12))
        expected = [np.median(laid), laid[k - 1], laid[-k]]
        np.testing.assert_allclose([result.estimate, result.low, result.high], expected, atol=1e-12)
        off = source.normal(0.1, 1, 2_900)
        rows, columns = np.triu_indices(off.size)
        means = np.sort((off[rows] + off[columns]) / 2)
        paired = shift(**pairs(off, np.zeros(off.size)))
        theirs = stats.wilcoxon(off, correction=True, method="asymptotic")
        self.assertAlmostEqual(paired.estimate, float(np.median(means)), places=12)
        self.assertAlmostEqual(paired.p_value, theirs.pvalue)
        n = off.size
        k = math.floor(n * (n + 1) / 4 - 1.959964 * math.sqrt(n * (n + 1) * (2 * n + 1) / 24))
        np.testing.assert_allclose([paired.low, paired.high], [means[k - 1], means[-k]], atol=1e-12)


# Dunnett (1955), table 2: blood counts of animals without and with two drugs.
BLOOD = {
    "none": [7.40, 8.50, 7.20, 8.24, 9.84, 8.32],
    "A": [9.76, 8.80, 7.68, 9.36],
    "B": [12.80, 9.68, 12.16, 9.20, 10.55],
}
# Hollander and Wolfe (1999), table 7.1: seconds that 22 players take to round first base in three ways.
ROUNDING = [
    5.40, 5.50, 5.55, 5.85, 5.70, 5.75, 5.20, 5.60, 5.50, 5.55, 5.50, 5.40, 5.90, 5.85, 5.70, 5.45, 5.55, 5.60,
    5.40, 5.40, 5.35, 5.45, 5.50, 5.35, 5.25, 5.15, 5.00, 5.85, 5.80, 5.70, 5.25, 5.20, 5.10, 5.65, 5.55, 5.45,
    5.60, 5.35, 5.45, 5.05, 5.00, 4.95, 5.50, 5.50, 5.40, 5.45, 5.55, 5.50, 5.55, 5.55, 5.35, 5.45, 5.50, 5.55,
    5.50, 5.45, 5.25, 5.65, 5.60, 5.40, 5.70, 5.65, 5.55, 6.30, 6.30, 6.25,
]  # fmt: skip


class ManyGroups(unittest.TestCase):
    def test_dunnetts_points_and_his_example(self):
        published = {5: (2.57, 3.03, 3.29, 3.48), 10: (2.23, 2.57, 2.76, 2.89), 20: (2.09, 2.38, 2.54, 2.65)}
        for df, row in published.items():
            for k, point in enumerate(row, 1):
                self.assertAlmostEqual(Largest(np.full(k, 0.5)).point(0.95, df), point, delta=0.0051)
        for shares in ([0.99, 0.99], [0.9, 0.2, 0.4]):
            common = np.sqrt(np.outer(shares, shares))
            np.fill_diagonal(common, 1)
            box = stats.multivariate_normal(cov=common).cdf(np.full(len(shares), 1.4), lower_limit=[-1.4] * len(shares))
            self.assertAlmostEqual(Largest(np.array(shares)).upper_tail(1.4, 1e7), 1 - box, places=5)
        result = compare_groups(*in_rows(BLOOD), order=list(BLOOD), reference="none", spreads="equal")
        theirs = stats.dunnett(BLOOD["A"], BLOOD["B"], control=BLOOD["none"], random_state=1)
        limits = theirs.confidence_interval()
        np.testing.assert_allclose([pair.p_value for pair in result.pairs], theirs.pvalue, atol=1e-4)
        np.testing.assert_allclose([pair.low for pair in result.pairs], limits.low, atol=1e-2)
        self.assertEqual([(pair.first, pair.second) for pair in result.pairs], [("A", "none"), ("B", "none")])

    def test_limits_with_a_reference_hold_together_where_spreads_differ(self):
        source, held, lost = np.random.default_rng(8), 0, 0
        for _ in range(200):
            groups = {"r": source.normal(0, 3, 12), "a": source.normal(0, 1, 20), "b": source.normal(0, 5, 9)}
            pairs_found = compare_groups(*in_rows(groups), reference="r").pairs
            held += all(pair.low <= 0 <= pair.high for pair in pairs_found)
            lost += any(pair.p_value < 0.05 for pair in pairs_found)
        self.assertEqual(held + lost, 200)
        self.assertTrue(181 <= held <= 198, held)  # 190 expected, 3.1 its SD

    def test_equal_spreads_against_a_kept_library(self):
        groups = {"a": A, "b": B, "c": B[:9] * 1.5}
        result = compare_groups(*in_rows(groups), level=0.9, spreads="equal")
        tukey = stats.tukey_hsd(*groups.values())
        limits = tukey.confidence_interval(0.9)
        for pair, (i, j) in zip(result.pairs, itertools.combinations(range(3), 2), strict=True):
            np.testing.assert_allclose([pair.low, pair.high], [limits.low[i, j], limits.high[i, j]], rtol=1e-5)
            self.assertAlmostEqual(pair.p_value, tukey.pvalue[i, j], places=6)
        theirs = stats.f_oneway(*groups.values())
        self.assertAlmostEqual(result.classical.statistic, theirs.statistic)
        self.assertAlmostEqual(result.classical.p_value, theirs.pvalue)
        # Limits of omega squared: the F seen is a percent point of F with each as its noncentrality.
        for end, share in ((result.classical.effect_low, 0.95), (result.classical.effect_high, 0.05)):
            noncentral = end * 43 / (1 - end)
            self.assertAlmostEqual(stats.ncf.cdf(theirs.statistic, 2, 40, noncentral), share, places=6)
        each = compare_groups(*in_rows(groups), spreads="equal", together=False).pairs[0]
        pooled = math.sqrt(sum((x.size - 1) * x.var(ddof=1) for x in groups.values()) / 40)
        reach = stats.t.ppf(0.975, 40) * pooled * math.sqrt(1 / 14 + 1 / 20)
        self.assertAlmostEqual(each.high - each.difference, reach)
        two_groups = {"a": A, "b": B}
        alone = compare_groups(*in_rows(two_groups), together=False).pairs[0]
        self.assertAlmostEqual(alone.p_value, stats.ttest_ind(A, B, equal_var=False).pvalue)

    def test_limits_of_epsilon_squared_hold_what_is_so_about_as_often_as_they_say(self):
        source, held = np.random.default_rng(4), 0
        # Of normal groups a distance apart: the share of the variance of ranks of a large sample.
        large = [source.normal(centre, 1, 40_000) for centre in (0, 0.7, 1.4)]
        ranks = stats.rankdata(np.concatenate(large)).reshape(3, -1)
        truth = float(ranks.mean(axis=1).var() / ranks.var())
        for _ in range(60):
            sample = compare_groups(*in_rows({str(i): source.choice(x, 40) for i, x in enumerate(large)}))
            held += sample.kruskal_wallis.effect_low <= truth <= sample.kruskal_wallis.effect_high
        self.assertGreater(held, 50)

    def test_repeated_measures_by_a_published_example_and_by_hand(self):
        by, unit = ["round", "narrow", "wide"] * 22, np.repeat(np.arange(22), 3)
        friedman = compare_repeated(ROUNDING, by, unit=unit).friedman
        self.assertAlmostEqual(friedman.statistic, 11.143, places=3)
        self.assertAlmostEqual(friedman.p_value, 0.003805, places=6)
        self.assertAlmostEqual(friedman.effect, 11.143 / 44, places=4)
        x = np.random.default_rng(6).normal(size=(9, 4)) + np.arange(4) * [[0.2]] + np.arange(9)[:, None]
        rows = {"values": x.ravel(), "by": list("abcd") * 9, "unit": np.repeat(np.arange(9), 4)}
        result = compare_repeated(**rows)
        from statsmodels.stats.anova import AnovaRM

        theirs = AnovaRM(pd.DataFrame(rows), "values", "unit", within=["by"]).fit().anova_table
        self.assertAlmostEqual(result.repeated.statistic, theirs["F Value"].item())
        # Greenhouse and Geisser's epsilon from the covariances, as Winer writes it.
        s = np.cov(x.T)
        spread = np.sum(s**2) - 8 * np.sum(s.mean(axis=1) ** 2) + 16 * s.mean() ** 2
        epsilon = 16 * (np.diag(s).mean() - s.mean()) ** 2 / (3 * spread)
        self.assertAlmostEqual(result.epsilon, epsilon)
        p = stats.f.sf(result.repeated.statistic, 3 * epsilon, 24 * epsilon)
        self.assertAlmostEqual(result.repeated.p_value, p)
        rows["values"][3] = np.nan
        self.assertEqual((compare_repeated(**rows).n_units, compare_repeated(**rows).n_left_out), (8, 1))
        paired = compare_repeated(**pairs(FIRST, SECOND))
        self.assertAlmostEqual(paired.repeated.p_value, stats.ttest_rel(FIRST, SECOND).pvalue)
        self.assertAlmostEqual(paired.epsilon, 1)

    def test_kruskal_and_wallis_own_example(self):
        result = compare_groups(*in_rows(CAPS))
        self.assertAlmostEqual(result.kruskal_wallis.statistic, 5.656, places=3)
        self.assertAlmostEqual(result.kruskal_wallis.effect, 5.656 / 11, places=3)

    def test_against_kept_libraries(self):
        from statsmodels.stats.oneway import anova_oneway

        groups = {"a": A, "b": B, "c": B[:9] * 1.5}
        result = compare_groups(*in_rows(groups), level=0.9)
        theirs = anova_oneway(list(groups.values()), use_var="unequal", welch_correction=True)
        self.assertAlmostEqual(result.welch.statistic, theirs.statistic)
        self.assertAlmostEqual(result.welch.df2, theirs.df_denom)
        self.assertAlmostEqual(result.welch.p_value, theirs.pvalue)
        tukey = stats.tukey_hsd(*groups.values(), equal_var=False)
        limits = tukey.confidence_interval(0.9)
        for pair, (i, j) in zip(result.pairs, itertools.combinations(range(3), 2), strict=True):
            np.testing.assert_allclose([pair.low, pair.high], [limits.low[i, j], limits.high[i, j]], rtol=1e-5)
            self.assertAlmostEqual(pair.p_value, tukey.pvalue[i, j], places=6)
        spreads = compare_spreads(*in_rows(groups))
        for test, centre in ((spreads.levene, "mean"), (spreads.brown_forsythe, "median")):
            other = stats.levene(*groups.values(), center=centre)
            self.assertAlmostEqual(test.statistic, other.statistic)
            self.assertAlmostEqual(test.p_value, other.pvalue)
        sds = [group.std(ddof=1) for group in groups.values()]
        self.assertAlmostEqual(spreads.sd_ratio, max(sds) / min(sds))

    def test_dunns_tests_with_ties_by_hand_and_only_with_a_reference(self):
        groups = {"a": [1, 2, 2, 3], "b": [2, 4, 5], "c": [5, 6, 6, 7]}
        joined = np.concatenate([np.array(group, dtype=float) for group in groups.values()])
        ranks = stats.rankdata(joined)
        means = [ranks[:4].mean(), ranks[4:7].mean(), ranks[7:].mean()]
        ties = sum(count**3 - count for count in np.unique(joined, return_counts=True)[1])
        variance = 11 * 12 / 12 - ties / (12 * 10)
        p = []
        for i, j in ((0, 1), (0, 2), (1, 2)):
            z = (means[i] - means[j]) / math.sqrt(variance * (1 / [4, 3, 4][i] + 1 / [4, 3, 4][j]))
            p.append(2 * stats.norm.sf(abs(z)))
        order = np.argsort(p)
        adjusted = np.minimum(np.maximum.accumulate(np.array(p)[order] * [3, 2, 1]), 1)
        result = compare_groups(*in_rows(groups))
        np.testing.assert_allclose([pair.dunn_p for pair in result.pairs], adjusted[np.argsort(order)])
        with_b = compare_groups(*in_rows(groups), reference="b").pairs
        self.assertEqual([(each.first, each.second) for each in with_b], [("a", "b"), ("c", "b")])
        with self.assertRaises(InputError):
            compare_groups(*in_rows(groups), reference="z")

    def test_groups_that_cannot_be_compared_say_why(self):
        self.assertIn("2 groups", compare_groups(*in_rows({"a": [1.0, 2]})).undefined["pairs"])
        flat = compare_groups(*in_rows({"a": [1.0, 1], "b": [1.0, 1]}))
        self.assertEqual((flat.welch, flat.kruskal_wallis), (None, None))
        many = compare_groups(*in_rows({str(i): [1.0, i, 2] for i in range(25)}))
        self.assertEqual(many.pairs, ())
        self.assertIn("reference", many.undefined["pairs"])
        self.assertIsNone(compare_spreads(*in_rows({"a": [1.0, 1], "b": [2.0, 3]})).sd_ratio)
