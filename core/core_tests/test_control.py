"""Control charts and capability: published constants and an example, rules by plain loops, and intervals that hold."""

import math
import unittest

import numpy as np
from heron import capability, control_chart
from heron.control import RUNS_RULES, range_constants, sd_constant, words_on_control
from heron.errors import InputError
from hypothesis import given
from hypothesis import strategies as st

# The handbook of engineering statistics, 6.3.2.2: flow of ten batches, with limits of 45.8159 and 55.8041.
FLOW = [49.6, 47.6, 49.9, 51.3, 47.8, 51.2, 52.6, 52.4, 53.6, 52.1]


def broken(z, rule):
    """The points at which a rule is complete, by looking at each window."""
    record, result = RUNS_RULES[rule], []
    for i, last in enumerate(z):
        window = z[max(i - record.of + 1, 0) : i + 1]
        for side in (-1, 1):
            past = sum(side * value > record.beyond for value in window)
            if side * last > record.beyond and past >= record.needed:
                result.append(i)
    return result


class Charts(unittest.TestCase):
    def test_constants_as_tabulated(self):
        # d2, d3 and c4, from the usual tables.
        for n, d2, d3, c4 in ((2, 1.128, 0.853, 0.7979), (5, 2.326, 0.864, 0.9400), (10, 3.078, 0.797, 0.9727)):
            np.testing.assert_allclose([*range_constants(n), sd_constant(n)], [d2, d3, c4], atol=5.1e-4)

    def test_the_published_chart_of_single_values(self):
        chart = control_chart(FLOW)
        self.assertAlmostEqual(chart.centre, 50.81)
        np.testing.assert_allclose([chart.lower[0], chart.upper[0]], [45.8159, 55.8041], atol=2e-3)
        self.assertAlmostEqual(chart.spread_centres[0], 1.8778, places=4)
        self.assertAlmostEqual(chart.spread_upper[0], 3.267 * 1.8778, places=2)
        self.assertEqual((chart.signals, chart.spread_beyond.tolist()), ((), []))
        self.assertIn("No rule is broken", words_on_control(chart)[-1])

    def test_means_by_ranges_and_by_sds_by_hand(self):
        lot = ["b", "b", "b", "a", "a", "c", "c", "c"]
        x = [1.0, 3, 2, 4, 5, 2, 2, 5]
        ranges = control_chart(x, chart="range", subgroup=lot)
        self.assertEqual(ranges.labels, ("b", "a", "c"))  # as they came
        np.testing.assert_allclose(ranges.centres, [2, 4.5, 3])
        sigma = np.mean([2 / 1.692569, 1 / 1.128379, 3 / 1.692569])
        self.assertAlmostEqual(ranges.sigma, sigma, places=5)
        centre = np.mean(x)
        np.testing.assert_allclose(ranges.upper - centre, 3 * sigma / np.sqrt([3, 2, 3]), rtol=1e-5)
        sds = control_chart([*x, np.nan], chart="sd", subgroup=[*lot, "c"])
        expected = [1, math.sqrt(0.5), math.sqrt(3)]
        self.assertAlmostEqual(
            sds.sigma, np.mean(np.array(expected) / [sd_constant(3), sd_constant(2), sd_constant(3)])
        )
        self.assertEqual((sds.n, sds.n_missing), (8, 1))

    @given(st.lists(st.sampled_from([-3.5, -2.5, -1.5, -0.5, 0, 0.5, 1.5, 2.5, 3.5]), min_size=4, max_size=40))
    def test_rules_are_those_of_plain_loops(self, steps):
        steady = [0.0, 1.128379167] * 60  # of mean moving range 1.128, so that sigma is 1
        x = np.array([*(np.array(steady) - np.mean(steady)), *steps])
        chart = control_chart(x, baseline=120)
        z = (x - chart.centre) / chart.sigma
        for rule in RUNS_RULES:
            places = next((signal.places.tolist() for signal in chart.signals if signal.rule == rule), [])
            self.assertEqual(places, broken(z, rule))

    def test_a_steady_process_breaks_the_first_rule_as_rarely_as_it_should(self):
        x = np.random.default_rng(5).normal(10, 2, 40_000)
        first = next(signal for signal in control_chart(x).signals if signal.rule == "beyond")
        self.assertTrue(70 < first.places.size < 150, first.places.size)  # 108 expected, 10.4 its SD

    def test_why_there_are_no_limits(self):
        self.assertIn("2 points or more", control_chart([1.0]).undefined["centre"])
        alone = control_chart([1.0, 2, 3], chart="sd", subgroup=list("abc"))
        self.assertIn("there is 0", words_on_control(alone)[0].replace("there are 0", "there is 0"))
        with self.assertRaisesRegex(InputError, "need subgroups"):
            control_chart([1.0, 2], chart="range")
        flat = control_chart([2.0, 2, 2])
        self.assertEqual(flat.signals, ())
        self.assertIn("no spread", words_on_control(flat)[-1])


class Capable(unittest.TestCase):
    def test_indices_by_their_formulas(self):
        result = capability(FLOW, lower=45, upper=57)
        overall = np.std(FLOW, ddof=1)
        self.assertAlmostEqual(result.pp, 12 / (6 * overall))
        self.assertAlmostEqual(result.ppk, (50.81 - 45) / (3 * overall))
        within = np.mean(np.abs(np.diff(FLOW))) / range_constants(2)[0]
        self.assertAlmostEqual(result.cpk, (50.81 - 45) / (3 * within))
        one = capability(FLOW, upper=57)
        self.assertEqual((one.cp, one.pp), (None, None))
        self.assertAlmostEqual(one.ppk, (57 - 50.81) / (3 * overall))
        self.assertIn("both limits", one.undefined["pp"])

    def test_without_a_steady_order_there_is_no_cp(self):
        result = capability([*FLOW, 90.0], lower=45, upper=57)
        self.assertEqual((result.cp, result.cpk), (None, None))
        self.assertIn("signal", result.undefined["cpk"])
        self.assertIsNotNone(result.ppk)

    def test_by_percentiles_of_a_normal_it_is_pp(self):
        mean, sd = np.mean(FLOW), np.std(FLOW, ddof=1)
        result = capability(FLOW, lower=45, upper=57, percentiles=(mean - 3 * sd, mean, mean + 3 * sd))
        np.testing.assert_allclose([result.percentile_pp, result.percentile_ppk], [result.pp, result.ppk])

    def test_intervals_hold_about_as_often_as_they_say(self):
        rng, held = np.random.default_rng(6), np.zeros(3)
        for _ in range(400):
            lot = np.repeat(np.arange(20), 5)
            result = capability(rng.normal(10, 1, 100), lower=6, upper=13, chart="range", subgroup=lot)
            if result.cp is not None:
                held += [1, result.cp_low <= 7 / 6 <= result.cp_high, result.cpk_low <= 1 <= result.cpk_high]
        self.assertGreater(held[0], 150)
        self.assertTrue((held[1:] > 0.92 * held[0]).all(), held)

    def test_what_cannot_be_asked(self):
        for limits in ({}, {"lower": 2, "upper": 1}):
            with self.assertRaises(InputError):
                capability(FLOW, **limits)
        self.assertIn("spread", capability([1.0, 1, 1], lower=0).undefined["ppk"])
