"""Values below a limit of detection: a published example, and what they are where nothing is hidden."""

import unittest

import numpy as np
from heron import below_detection
from heron.detection import words_on_detection
from heron.errors import InputError
from hypothesis import given
from hypothesis import strategies as st

# Arsenic in 24 streams of Oahu, as Helsel (2012) gives it: with 13 values below 0.9, 1 or 2.
KNOWN = [0.5, 0.5, 0.5, 0.6, 0.7, 0.7, 0.9, 1.5, 1.7, 2.8, 3.2]
LIMITS = [0.9, *[1.0] * 4, *[2.0] * 8]
nan = np.nan


def ways(known, limits):
    result = below_detection([*known, *[nan] * len(limits)], [*[nan] * len(known), *limits])
    return {way.name: way for way in result.ways}


class Detected(unittest.TestCase):
    def test_the_published_example(self):
        expected = ways(KNOWN, LIMITS)
        km, ros = expected["Kaplan-Meier"], expected["log-normal regression"]
        self.assertEqual((round(km.mean, 3), km.median), (0.949, 0.7))
        self.assertEqual((round(ros.mean, 3), round(ros.sd, 3), round(ros.median, 1)), (0.972, 0.718, 0.7))
        self.assertAlmostEqual(expected["half the limit"].mean, (sum(KNOWN) + sum(LIMITS) / 2) / 24)

    @given(st.lists(st.integers(2, 30), min_size=3, max_size=40))
    def test_limits_below_all_values_hide_only_what_lies_there(self, known):
        x = np.array(known, dtype=float)
        km = ways(x, [1.0])["Kaplan-Meier"]
        whole = np.append(x, 1.0)
        np.testing.assert_allclose([km.mean, km.sd], [whole.mean(), whole.std(ddof=1)])
        # A limit above all values says nothing of where it lies: it shares out as they do.
        above = ways(x, [31.0])["Kaplan-Meier"]
        self.assertAlmostEqual(above.mean, x.mean())

    def test_regression_finds_a_log_normal_again(self):
        rng = np.random.default_rng(8)
        x = rng.lognormal(1, 0.8, 4_000)
        limit = np.where(np.arange(4_000) % 2, 2.0, 3.0)
        hidden = x < limit
        result = below_detection(np.where(hidden, nan, x), np.where(hidden, limit, nan))
        ros = result.ways[1]
        np.testing.assert_allclose([ros.mean, ros.sd], [x.mean(), x.std()], rtol=0.03)
        self.assertEqual((result.n, result.n_below, result.n_limits), (4_000, int(hidden.sum()), 2))

    def test_what_cannot_be_said(self):
        self.assertIn("No value", below_detection([1.0, 2, 3], [nan] * 3).undefined["ways"])
        self.assertIn("3 values", below_detection([1.0, nan], [nan, 2]).undefined["ways"])
        rough = below_detection([5.0, 6, 7, *[nan] * 20], [nan, nan, nan, *[4.0] * 20])
        self.assertIsNone(rough.ways[0].median)
        self.assertIn("for rough", words_on_detection(rough)[-1])
        zero = ways([1.0, 2, 3], [0.0])["log-normal regression"]
        self.assertIn("above 0", zero.why)
        with self.assertRaises(InputError):
            below_detection([1.0], [nan, nan])
