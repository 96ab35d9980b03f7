"""Centres with bars: published intervals, other routes to the same numbers, and what bars mean."""

import sys
import unittest

import numpy as np
from heron import resampling
from heron.errors import ChoiceError, InputError
from heron.grouping import Grouping
from heron.groups import BARS, CENTRES, fitting, group_centres, wilson
from heron.groups.bars.records import OF_VALUES
from heron.summary import summarize as describe
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

rng = np.random.default_rng(21)
X = rng.lognormal(1, 0.5, 60)
BED = np.repeat(["north", "south", "west"], 20)


class Published(unittest.TestCase):
    def test_wilsons_interval_as_newcombe_tabulates_it(self):
        # Newcombe (1998), table I, method 3.
        for k, n, low, high in (
            (81, 263, 0.2553, 0.3662),
            (15, 148, 0.0624, 0.1605),
            (0, 20, 0, 0.1611),
            (1, 29, 0.0061, 0.1718),
        ):
            np.testing.assert_allclose(wilson(k, n), [low, high], atol=5e-5)
        result = group_centres([1.0] * 81 + [0.0] * 182, centre="share", bars="wilson-interval").groups[0]
        self.assertAlmostEqual(result.centre, 81 / 263)
        self.assertAlmostEqual(result.high, 0.3662, places=4)


class EachBar(unittest.TestCase):
    def one(self, centre, bars, **more):
        return group_centres(X, centre=centre, bars=bars, **more).groups[0]

    def test_bars_are_what_they_say(self):
        expected, logs = describe(X), describe(np.log(X))
        for centre, bars, low, high in (
            ("mean", "sd", expected.mean - expected.sd, expected.mean + expected.sd),
            ("mean", "se", expected.mean - expected.se, expected.mean + expected.se),
            ("mean", "mean-interval", expected.mean_low, expected.mean_high),
            ("mean", "quartile-span", expected.q1, expected.q3),
            ("median", "range", expected.minimum, expected.maximum),
            ("median", "median-interval", expected.median_low, expected.median_high),
            ("geometric-mean", "mean-interval", expected.geometric_low, expected.geometric_high),
            ("geometric-mean", "sd", np.exp(logs.mean - logs.sd), np.exp(logs.mean + logs.sd)),
            ("trimmed-mean", "percentiles", *np.quantile(X, [0.05, 0.95])),
        ):
            result = self.one(centre, bars)
            np.testing.assert_allclose([result.low, result.high], [low, high], err_msg=f"{centre} {bars}")
        self.assertAlmostEqual(self.one("trimmed-mean", "range").centre, stats.trim_mean(X, 0.1))
        for n in (1, 2, 7, 8):  # however much is cut, the middle stays
            result = group_centres(X[:n], centre="trimmed-mean", bars="range", trim=0.49999999999999994)
            self.assertAlmostEqual(result.groups[0].centre, np.median(X[:n]))

    def test_changing_the_bars_moves_only_the_bars(self):
        for centre in OF_VALUES:
            centres = {self.one(centre, bars).centre for bars in fitting(centre) if bars != "within-unit-interval"}
            self.assertEqual(len(centres), 1)

    def test_the_bootstrap_is_the_published_one(self):
        result = self.one("mean", "bootstrap-interval", level=0.9)
        theirs = stats.bootstrap((X,), np.mean, confidence_level=0.9, n_resamples=20_000, rng=5).confidence_interval
        np.testing.assert_allclose([result.low, result.high], [theirs.low, theirs.high], rtol=0.01)
        self.assertEqual(result.low, self.one("mean", "bootstrap-interval", level=0.9).low)
        with self.assertRaises(InputError):
            group_centres(np.arange(resampling.MOST_VALUES + 1.0), bars="bootstrap-interval")

    def test_a_bootstrap_interval_knows_no_unit(self):
        one = group_centres(X, bars="bootstrap-interval").groups[0]
        for unit in (1e300, 1e-300):
            other = group_centres(unit * np.asarray(X), bars="bootstrap-interval").groups[0]
            np.testing.assert_allclose((other.low, other.high), (unit * one.low, unit * one.high), rtol=1e-9)

    def test_bars_that_do_not_belong_are_refused_with_those_that_do(self):
        with self.assertRaises(InputError) as caught:
            group_centres(X, centre="median", bars="sd")
        self.assertIn("quartile-span", caught.exception.remedy)
        with self.assertRaises(ChoiceError):
            group_centres(X, centre="mode")
        self.assertEqual({bars for centre in CENTRES for bars in fitting(centre)}, set(BARS))


class WhatNCounts(unittest.TestCase):
    def test_groups_in_the_order_asked_with_what_is_missing(self):
        values = X.copy()
        values[[0, 25]] = np.nan
        result = group_centres(values, [*BED[:-1], None], order=["west", "south", "north"])
        self.assertEqual(
            [(group.label, group.n, group.n_missing) for group in result.groups],
            [("west", 19, 0), ("south", 19, 1), ("north", 19, 1)],
        )
        self.assertAlmostEqual(result.groups[2].centre, np.nanmean(values[:20]))
        self.assertEqual((result.n, result.n_missing), (57, 3))

    def test_groups_and_units_as_numbers_are_the_same(self):
        unit = [f"u{i // 4}" for i in range(60)]
        names, codes = np.unique(BED, return_inverse=True)
        a = group_centres(X, BED, unit=unit).groups
        b = group_centres(X, Grouping(tuple(names), codes), unit=np.arange(60) // 4).groups
        self.assertEqual([(each.label, each.low, each.n) for each in a], [(each.label, each.low, each.n) for each in b])

    def test_units_are_averaged_first(self):
        unit = [f"u{i // 4}" for i in range(60)]
        result = group_centres(X, BED, unit=unit, bars="se")
        averages = X[:20].reshape(5, 4).mean(axis=1)
        first = result.groups[0]
        self.assertEqual((first.n, first.n_rows), (5, 20))
        np.testing.assert_allclose([first.centre, first.high - first.centre], [averages.mean(), stats.sem(averages)])

    def test_intervals_within_units_after_morey(self):
        rng = np.random.default_rng(21)
        table = rng.normal(0, 5, (8, 1)) + np.array([0.0, 1, 3]) + rng.normal(0, 0.5, (8, 3))
        values, unit = table.ravel(), np.repeat([f"u{i}" for i in range(8)], 3)
        group = np.tile(["a", "b", "c"], 8)
        result = group_centres([*values, 9.0], [*group, "a"], unit=[*unit, "alone"], bars="within-unit-interval")
        shifted = table - table.mean(axis=1, keepdims=True) + table.mean()
        reach = stats.t.ppf(0.975, 7) * shifted.std(axis=0, ddof=1) * np.sqrt(3 / 2) / np.sqrt(8)
        np.testing.assert_allclose([(each.high - each.low) / 2 for each in result.groups], reach)
        self.assertEqual(result.left_out, 1)
        with self.assertRaises(InputError):
            group_centres(values, group, bars="within-unit-interval")

    def test_bars_of_a_geometric_mean_end_at_the_largest_number(self):
        for bars in ("mean-interval", "bootstrap-interval", "sd"):
            (result,) = group_centres([1.0, 4e-215, 1e300], list("ggg"), centre="geometric-mean", bars=bars).groups
            self.assertTrue(0 <= result.low < result.centre < result.high <= sys.float_info.max, bars)

    @given(st.lists(st.floats(-1e6, 1e6), max_size=6), st.sampled_from(list(BARS)), st.sampled_from(OF_VALUES))
    def test_few_values_give_a_bar_or_the_reason_why_not(self, values, bars, centre):
        if bars not in fitting(centre) or bars == "within-unit-interval":
            return
        for group in group_centres(values, ["g"] * len(values), centre=centre, bars=bars).groups:
            if group.centre is None:
                self.assertIn("centre", group.undefined)
            elif group.low is None:
                self.assertIn("low", group.undefined)
            else:
                self.assertLessEqual(group.low, group.high)
