"""Quantiles: each definition by its formula in exact arithmetic, and the hinges of the five-number summary."""

import math
import unittest
from fractions import Fraction

import numpy as np
from heron.errors import ChoiceError, InputError
from heron.quantiles import DEFINITIONS, distribution, hinges, quantile
from hypothesis import given, settings
from hypothesis import strategies as st


def reference(values: list[int], p: Fraction, definition: int) -> Fraction:
    """Q(p) = (1 - g) x[j] + g x[j + 1], j = floor(pn + m), as in Hyndman and Fan (1996), p. 362 and table 1."""
    n, ordered = len(values), sorted(values)
    half = Fraction(1, 2)
    m = {
        1: 0, 2: 0, 3: -half, 4: 0, 5: half, 6: p, 7: 1 - p, 8: p / 3 + Fraction(1, 3), 9: p / 4 + Fraction(3, 8),
    }[definition]  # fmt: skip
    j = math.floor(p * n + m)
    g = p * n + m - j
    if definition == 1:
        g = Fraction(int(g > 0))
    elif definition == 2:
        g = half if g == 0 else Fraction(1)
    elif definition == 3:
        g = Fraction(0) if g == 0 and j % 2 == 0 else Fraction(1)
    at = lambda k: Fraction(ordered[min(max(k, 1), n) - 1])  # noqa: E731
    return (1 - g) * at(j) + g * at(j + 1)


class Definitions(unittest.TestCase):
    @settings(max_examples=150)
    @given(st.lists(st.integers(-50, 50), min_size=1, max_size=13), st.integers(0, 40))
    def test_all_nine_agree_with_exact_arithmetic(self, values, fortieths):
        p = Fraction(fortieths, 40)
        for definition in range(1, 10):
            expected = float(reference(values, p, definition))
            self.assertAlmostEqual(quantile(values, float(p), definition=definition), expected, places=11)

    def test_quartiles_by_hand(self):
        # 1 to 10: (n + 1) p = 2.75 under definition 6, (n - 1) p + 1 = 3.25 under 7, np + 1/2 = 3 under 5.
        values = np.arange(1, 11)
        expected = {1: 3, 2: 3, 3: 2, 4: 2.5, 5: 3, 6: 2.75, 7: 3.25, 8: 2.9166666666666665, 9: 2.9375, "hinges": 3}
        self.assertEqual(tuple(expected), DEFINITIONS)
        for definition, q1 in expected.items():
            self.assertAlmostEqual(quantile(values, 0.25, definition=definition), q1, places=14)

    def test_a_whole_depth_is_whole_in_spite_of_rounding(self):
        self.assertEqual(quantile([10, 20, 30, 40, 50, 60, 70, 80, 90], 0.1, definition=6), 10)
        self.assertEqual(quantile(range(1, 101), 0.29, definition=1), 29)

    def test_many_shares_at_once_and_large_values(self):
        self.assertEqual(quantile([1, 2, np.nan, 3], [0, 0.5, 1]).tolist(), [1, 2, 3])
        self.assertAlmostEqual(quantile([1e308, 1.7e308], 0.5) / 1.35e308, 1, places=14)

    def test_refusals(self):
        with self.assertRaises(ChoiceError):
            quantile([1, 2], 0.5, definition="median")
        with self.assertRaises(InputError):
            quantile([1, 2], 1.2)
        with self.assertRaises(InputError) as raised:
            quantile([1, 2], 0.1, definition="hinges")
        self.assertIn("0.25", raised.exception.problem)


class Hinges(unittest.TestCase):
    def test_medians_of_halves_that_share_the_median(self):
        # Tukey (1977), chapter 2: the median belongs to both halves when n is odd.
        for values, lower, upper in (
            ([1, 2, 3, 4, 5], 2, 4),
            ([1, 2, 3, 4, 5, 6], 2, 5),
            ([1, 2, 3, 4, 5, 6, 7], 2.5, 5.5),
            ([1, 2, 3, 4, 5, 6, 7, 8], 2.5, 6.5),
        ):
            result = hinges(values)
            self.assertEqual((result.lower, result.upper), (lower, upper))

    def test_none_where_there_is_no_value(self):
        self.assertEqual((hinges([]).lower, hinges([]).undefined["lower"]), (None, "There is no value."))


class EmpiricalDistribution(unittest.TestCase):
    def test_shares_up_to_each_distinct_value(self):
        result = distribution([3, 1, 1, np.nan, 2])
        self.assertEqual((result.x.tolist(), result.share.tolist()), ([1, 2, 3], [0.5, 0.75, 1]))
        self.assertEqual((result.n, result.n_missing), (4, 1))
        self.assertIn("x", distribution([np.nan]).undefined)
