"""Shares, lines and pairs across groups; rows that are results already."""

import unittest

import numpy as np
from heron import estimates
from heron.errors import ChoiceError, InputError
from heron.grouping import Grouping
from heron.groups import balance, components, group_centres, line, paired_across, shares
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats


class Shared(unittest.TestCase):
    def test_two_shares_as_newcombe_compares_them(self):
        # Newcombe (1998b), table II, (a) 56/70 and 48/80, (d) 9/10 and 3/10, (g) 10/10 and 0/20: method 10.
        for a, m, b, n, low, high in (
            (56, 70, 48, 80, 0.0524, 0.3339),
            (9, 10, 3, 10, 0.1705, 0.8090),
            (10, 10, 0, 20, 0.6791, 1.0),
        ):
            answers = np.repeat([1, 0, 1, 0], [a, m - a, b, n - b])
            group = np.repeat([0, 1], [m, n])
            result = shares(answers, group, chosen=[1])
            two = result.two
            self.assertAlmostEqual(two.difference, a / m - b / n)
            np.testing.assert_allclose([two.difference_low, two.difference_high], [low, high], atol=5e-5)

    def test_answers_are_counted_by_group_and_missing_ones_apart(self):
        answers = np.array([0, 1, 2, 2, -1, 1, 0, -1])
        group = np.array([0, 0, 0, 0, 0, 1, -1, 2])
        answers, group = Grouping(tuple("012"), answers), Grouping(tuple("abc"), group)
        result = shares(answers, group, chosen=[1, 2])
        first, second, third = result.groups
        self.assertEqual((first.counts.tolist(), first.n, first.n_missing, first.chosen), ([1, 1, 2], 4, 1, 3))
        self.assertEqual((second.share, second.n), (1.0, 1))
        self.assertEqual(shares(answers, group, chosen=[2, 1, 2, 2]).groups[0].chosen, first.chosen)
        self.assertEqual((third.share, third.low, third.n, third.n_missing), (None, None, 0, 1))
        both = group_centres([1.0, 1, 1, 0], centre="share", bars="wilson-interval").groups[0]
        self.assertEqual((first.low, first.high), (both.low, both.high))
        with self.assertRaises(ChoiceError):
            shares(answers, group, chosen=[3])

    def test_a_stacked_bar_is_balanced_about_the_neutral_answer(self):
        np.testing.assert_allclose(balance(np.array([1, 2, 1]), None), [0, 0.25, 0.75, 1])
        np.testing.assert_allclose(balance(np.array([3, 2, 5]), 1), [-0.4, -0.1, 0.1, 0.6])
        self.assertEqual(balance(np.zeros(2, dtype=int), None).tolist(), [0, 0, 0])


class Lined(unittest.TestCase):
    def test_anscombes_first_set(self):
        # Anscombe (1973): y = 3.00 + 0.500 x, R squared 0.67.
        x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5]
        y = [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]
        result = line(x, y)
        self.assertAlmostEqual(result.slope, 0.500, places=3)
        self.assertAlmostEqual(result.intercept, 3.00, places=2)
        self.assertAlmostEqual(result.r_squared, 0.67, places=2)
        expected = stats.linregress(x, y)
        reach = stats.t.ppf(0.975, 9) * expected.stderr
        np.testing.assert_allclose(
            [result.slope_low, result.slope_high], [expected.slope - reach, expected.slope + reach]
        )

    def test_far_from_zero_with_gaps_and_without_spread(self):
        result = line([1e8, 1e8 + 1, 1e8 + 2, np.nan], [1e300, 2e300, 3e300, 0])
        np.testing.assert_allclose([result.slope, result.r_squared], [1e300, 1])
        flat = line([0, 1], [5, 5])
        self.assertEqual((flat.slope, flat.intercept, flat.r_squared, flat.slope_low), (0, 5, None, None))
        with self.assertRaises(InputError):
            line([2, 2, 2], [1, 2, 3])


class Paired(unittest.TestCase):
    @given(st.integers(0, 10_000))
    def test_each_cell_is_the_mean_of_its_rows(self, seed):
        rng = np.random.default_rng(seed)
        n = int(rng.integers(0, 30))
        values, group, unit = rng.normal(size=n), rng.integers(-1, 3, n), rng.integers(-1, 6, n)
        values[rng.random(n) < 0.2] = np.nan
        result = paired_across(values, Grouping(tuple("abc"), group), unit=Grouping(tuple("uvwxyz"), unit))
        for i, each in enumerate(result.units):
            for j in range(3):
                rows = values[(unit == each) & (group == j)]
                rows = rows[~np.isnan(rows)]
                np.testing.assert_allclose(result.values[i, j], rows.mean() if rows.size else np.nan)
        self.assertEqual(result.n_joined + result.n_alone, result.units.size)


class Estimated(unittest.TestCase):
    def test_limits_stand_in_any_order(self):
        result = estimates.with_limits([1, 2, 3, np.nan, 5], [0, 1, 4, 0, np.nan], [2, 3, 2, 1, 6])
        np.testing.assert_allclose(result.low[:3], [0, 1, 2])
        np.testing.assert_allclose(result.high[:3], [2, 3, 4])
        self.assertEqual((result.exchanged.tolist(), result.empty.tolist(), result.bare.tolist()), ([2], [3], [4]))
        turned = estimates.with_limits([1, 2, 3], [2, 3, 2], [0, 1, 4])
        self.assertEqual(turned.exchanged.tolist(), [2])
        self.assertEqual(estimates.with_limits([9, 1], [0, 0], [2, 2]).outside.tolist(), [0])

    def test_a_width_goes_to_both_sides_and_is_never_below_zero(self):
        result = estimates.with_width([1, 2], [0.5, np.nan])
        np.testing.assert_allclose([result.low[0], result.high[0]], [0.5, 1.5])
        self.assertEqual(result.bare.tolist(), [1])
        with self.assertRaises(InputError) as refused:
            estimates.with_width([1, 2], [1, -1])
        self.assertEqual(refused.exception.rows, (1,))

    def test_blocks_are_matched_by_what_their_columns_are_of(self):
        result = estimates.match(["basket mean", "mesh mean", "slotted mean"], ["SD slotted", "SD basket", "SD net"])
        self.assertEqual((result.pairs, result.names), (((0, 1), (2, 0)), ("basket", "slotted")))
        self.assertEqual((result.alone, result.left), ((1,), (2,)))
        self.assertEqual(estimates.match(["mean_week_3"], ["se_week_3"]).names, ("week 3",))
        by_place = estimates.match(["one", "two"], ["first", "second"])
        self.assertEqual(by_place.pairs, ((0, 0), (1, 1)))
        self.assertEqual(estimates.match(["a", "b"], ["x"]).pairs, ())


# Davies and Goldsmith (1972): yield of dyestuff, six batches of five samples, whose components by restricted likelihood
# are 1764.05 and 2451.25.
DYESTUFF = [
    1545, 1440, 1440, 1520, 1580, 1540, 1555, 1490, 1560, 1495, 1595, 1550, 1605, 1510, 1560,
    1445, 1440, 1595, 1465, 1545, 1595, 1630, 1515, 1635, 1625, 1520, 1455, 1450, 1480, 1445,
]  # fmt: skip


class Units(unittest.TestCase):
    def test_the_published_components(self):
        result = components(DYESTUFF, unit=np.repeat(np.arange(6), 5))
        self.assertAlmostEqual(result.unit_sd**2, 1764.05, delta=0.1)
        self.assertAlmostEqual(result.rest_sd**2, 2451.25, delta=0.1)
        self.assertAlmostEqual(result.design_effect, 1 + 4 * 1764.05 / (1764.05 + 2451.25), places=4)
        far = components(np.array(DYESTUFF) * 1e-160, unit=np.repeat(np.arange(6), 5))
        self.assertAlmostEqual(far.intraclass, result.intraclass)

    def test_across_groups_as_a_kept_library_has_it(self):
        import pandas as pd
        from statsmodels.regression.mixed_linear_model import MixedLM

        rng = np.random.default_rng(3)
        unit = np.repeat(np.arange(25), rng.integers(1, 7, 25))
        by = rng.integers(0, 3, unit.size)
        y = rng.normal(size=25)[unit] + by + rng.normal(size=unit.size)
        result = components([*y, np.nan], [*by, 1], unit=[*unit, 0])
        frame = pd.DataFrame({"y": y, "by": by, "unit": unit})
        theirs = MixedLM.from_formula("y ~ C(by)", groups="unit", data=frame).fit(reml=True)
        self.assertAlmostEqual(result.unit_sd**2, float(theirs.cov_re.iloc[0, 0]), places=4)
        self.assertAlmostEqual(result.rest_sd**2, float(theirs.scale), places=4)
        self.assertEqual((result.n, result.n_units, result.n_missing), (unit.size, 25, 1))

    def test_limits_hold_about_as_often_as_they_say_and_units_alike_have_none(self):
        rng, unit = np.random.default_rng(4), np.repeat(np.arange(20), 4)
        held = 0
        for _ in range(200):
            result = components(rng.normal(size=20)[unit] + rng.normal(size=80), unit=unit)
            held += result.low <= 0.5 <= result.high
        self.assertTrue(180 <= held <= 199, held)
        same = components(rng.normal(size=80), unit=unit)
        self.assertLess(same.intraclass, 0.3)
        self.assertEqual(same.low, 0)
        for values, by in (([1.0, 2, 3], [1, 2, 3]), ([1.0, 1, 2, 2], [1, 1, 2, 2]), ([3.0, 3, 3, 3], [1, 1, 2, 2])):
            self.assertIn("intraclass", components(values, unit=by).undefined)
