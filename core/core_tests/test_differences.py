"""Differences of groups: published examples, kept libraries, and plain counting of pairs."""

import itertools
import math
import sys
import unittest

import numpy as np
from heron.differences import (
    EFFECTS,
    cliffs_delta,
    compare_groups,
    compare_spreads,
    hedges_g,
    mean_difference,
    median_difference,
    ratio_of_geometric_means,
)
from heron.errors import InputError
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


class ManyGroups(unittest.TestCase):
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
