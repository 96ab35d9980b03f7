"""Two categories together, and two shares: published examples, kept libraries, and their definitions solved anew."""

import unittest

import numpy as np
from heron import associate
from heron.association import of_counts, words_on_association
from heron.groups import two_shares, wilson
from hypothesis import assume, given
from hypothesis import strategies as st
from scipy import optimize, stats

# Agresti (2002), table 3.2: party by gender of 2,757 people.
PARTY = np.array([[762, 327, 468], [484, 239, 477]])


class Associations(unittest.TestCase):
    def test_published_examples(self):
        party = of_counts(PARTY)
        self.assertAlmostEqual(party.chi_square, 30.07, places=2)
        self.assertEqual((party.df, party.n, party.n_small), (2, 2_757, 0))
        np.testing.assert_allclose(party.expected[:3], [703.7, 319.6, 533.7], atol=0.05)
        self.assertAlmostEqual(party.v, np.sqrt(30.07 / 2_757), places=4)
        self.assertEqual(of_counts(PARTY.T).v_low, party.v_low)
        tea = of_counts(np.array([[3, 1], [1, 3]]))  # Fisher's own
        self.assertAlmostEqual(tea.exact_p, 34 / 70)
        self.assertEqual((tea.drawn, tea.n_small), (0, 4))
        self.assertIn("rather than its p take the exact one (p 0.49)", words_on_association(tea, "milk", "told")[1])

    def test_the_drawn_p_is_near_the_one_of_all_tables(self):
        table = np.array([[4, 1, 0], [1, 3, 2]])
        lines, columns = table.sum(axis=1), table.sum(axis=0)
        drawing, chi, p = stats.random_table(lines, columns), of_counts(table).chi_square, 0.0
        for a in range(6):
            for b in range(6):
                other = np.array([[a, b, 5 - a - b], [0, 0, 0]])
                other[1] = columns - other[0]
                if other.min() >= 0 and of_counts(other).chi_square >= chi - 1e-9:
                    p += drawing.pmf(other)
        self.assertAlmostEqual(of_counts(table).exact_p, p, delta=0.015)  # of 9,999, three times its SD

    def test_the_corrected_v_of_independent_categories_is_about_none(self):
        source, held = np.random.default_rng(3), []
        for _ in range(200):
            held.append(associate(source.integers(0, 4, 60), source.integers(0, 3, 60)))
        self.assertGreater(np.mean([each.v for each in held]), 0.17)
        self.assertLess(np.mean([each.v_corrected for each in held]), 0.09)
        self.assertLess(np.mean([each.p_value < 0.05 for each in held]), 0.09)
        close = associate(list("aabbcc") * 9, list("xxyyzz") * 9)
        np.testing.assert_allclose([close.v, close.v_corrected, close.v_low], 1)

    def test_levels_without_a_row_and_too_few_levels(self):
        wide = of_counts(np.array([[762, 0, 327, 468], [0, 0, 0, 0], [484, 0, 239, 477]]))
        self.assertEqual((wide.chi_square, wide.df), (of_counts(PARTY).chi_square, 2))
        lone = associate(["a", "a", None], ["x", "y", "y"])
        self.assertEqual((lone.chi_square, lone.n, lone.n_missing), (None, 2, 1))
        self.assertIn("two levels", lone.undefined["v"])
        self.assertEqual(words_on_association(lone, "a", "b"), ())
        self.assertEqual(of_counts(np.zeros((2, 2), dtype=int)).n, 0)


share = st.tuples(st.integers(0, 30), st.integers(1, 30)).filter(lambda pair: pair[0] <= pair[1])


def odds_of(p):
    return p / (1 - p)


def solved(first, second):
    """The factors t at which the limits of p - t q, both intervals put together, end at 0."""
    (p, low_p, high_p), (q, low_q, high_q) = first, second
    lower = optimize.brentq(lambda t: p - t * q - np.hypot(p - low_p, t * (high_q - q)), 0, p / q)
    return lower, optimize.brentq(lambda t: p - t * q + np.hypot(high_p - p, t * (q - low_q)), p / q, 1e7)


class TwoShares(unittest.TestCase):
    def test_a_published_example(self):
        # The trial of aspirin and heart attacks, Agresti (2002), table 2.3: 189 of 11,034 and 104 of 11,037.
        two = two_shares([189, 104], [11_034, 11_037])
        self.assertAlmostEqual(two.ratio, 1.82, places=2)
        self.assertAlmostEqual(two.odds_ratio, 1.83, places=2)
        np.testing.assert_allclose([two.ratio_low, two.ratio_high], [1.43, 2.31], atol=0.01)
        np.testing.assert_allclose([two.odds_low, two.odds_high], [1.44, 2.33], atol=0.01)

    @given(share, share)
    def test_limits_of_ratios_are_where_the_limits_of_a_difference_end_at_0(self, first, second):
        (a, m), (b, n) = first, second
        two = two_shares([a, b], [m, n])
        self.assertTrue(two.difference_low <= two.difference <= two.difference_high)
        for estimate, low, high in (
            (two.ratio, two.ratio_low, two.ratio_high), (two.odds_ratio, two.odds_low, two.odds_high),
        ):  # fmt: skip
            ends = [end for end in (low, estimate, high) if end is not None]
            self.assertEqual(ends, sorted(ends))
        assume(0 < a < m and 0 < b < n)
        same = lambda p: p  # noqa: E731
        for made, low, high in ((same, two.ratio_low, two.ratio_high), (odds_of, two.odds_low, two.odds_high)):
            lower, upper = solved(*((made(k / of), *map(made, wilson(k, of))) for k, of in (first, second)))
            self.assertAlmostEqual(low / lower, 1, places=6)
            self.assertAlmostEqual(high / upper, 1, places=6)

    def test_no_share_and_all(self):
        none = two_shares([0, 5], [10, 10])
        self.assertEqual((none.ratio, none.ratio_low), (0, 0))
        self.assertGreater(none.ratio_high, 0)
        other = two_shares([5, 0], [10, 10])
        self.assertEqual((other.ratio, other.ratio_high), (None, None))
        self.assertAlmostEqual(other.ratio_low, 1 / none.ratio_high)
        all_of = two_shares([10, 5], [10, 10])
        self.assertEqual((all_of.odds_ratio, all_of.odds_high), (None, None))
        self.assertGreater(all_of.odds_low, 1)
        self.assertIn("leaves no ratio", two_shares([0, 0], [4, 4]).undefined["ratio"])
