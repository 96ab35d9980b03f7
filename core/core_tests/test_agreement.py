"""Agreement of two methods: the published example, its logs, margins, and how often intervals hold."""

import math
import unittest

import numpy as np
from heron import agree
from heron.agreement import words_on_agreement
from heron.errors import InputError
from scipy import stats

# Bland and Altman (1986), table 1: peak flow of 17 people by two meters, the first reading of each, in l/min.
LARGE = [494, 395, 516, 434, 476, 557, 413, 442, 650, 433, 417, 656, 267, 478, 178, 423, 427]
MINI = [512, 430, 520, 428, 500, 600, 364, 380, 658, 445, 432, 626, 260, 477, 259, 350, 451]


class Agrees(unittest.TestCase):
    def test_the_published_example(self):
        result = agree(LARGE, MINI)
        self.assertEqual((round(result.bias, 1), round(result.sd, 1)), (-2.1, 38.8))
        np.testing.assert_allclose([result.bias_low, result.bias_high], [-22.0, 17.8], atol=0.06)
        z = stats.norm.ppf(0.975)
        np.testing.assert_allclose(
            [result.low, result.high], [result.bias - z * result.sd, result.bias + z * result.sd]
        )
        self.assertEqual(result.beyond.sum(), 1)
        line = stats.linregress(result.means, result.differences)
        np.testing.assert_allclose([result.slope, result.slope_p], [line.slope, line.pvalue])
        words = " ".join(words_on_agreement(result, "large", "mini", "l/min"))
        self.assertIn("large \u2212 mini is \u22122.12 l/min (\u221222 to 17.8)", words)
        self.assertNotIn("change with", words)

    def test_ratios_are_those_of_logs_and_units_do_not_matter(self):
        result = agree(LARGE, MINI, scale="log", margin=1.2)
        logs = agree(np.log(LARGE), np.log(MINI), margin=math.log(1.2))
        for name in ("bias", "bias_low", "low", "low_from", "low_to", "high", "high_to"):
            self.assertAlmostEqual(getattr(result, name), math.exp(getattr(logs, name)))
        self.assertEqual(result.margin_p, logs.margin_p)
        other = agree(np.array(LARGE) * 60, np.array(MINI) * 60, scale="log")
        self.assertAlmostEqual(other.high, result.high)
        lost = agree([*LARGE, 0, np.nan], [*MINI, 5, 3], scale="log")
        self.assertEqual((lost.n_pairs, lost.n_off_scale, lost.lost_rows.tolist()), (17, 1, [18]))

    def test_a_margin_by_two_one_sided_tests(self):
        off = np.array(LARGE) - np.array(MINI)
        result = agree(LARGE, MINI, margin=20)
        one = stats.ttest_1samp(off, -20, alternative="greater").pvalue
        other = stats.ttest_1samp(off, 20, alternative="less").pvalue
        self.assertAlmostEqual(result.margin_p, max(one, other))
        self.assertIn("a bias within \u221220 and 20", " ".join(words_on_agreement(result, "a", "b", "")))
        for scale, margin in (("as-is", 0), ("log", 1)):
            with self.assertRaises(InputError):
                agree(LARGE, MINI, scale=scale, margin=margin)

    def test_intervals_of_limits_hold_as_often_as_they_say(self):
        rng, held = np.random.default_rng(2), 0
        for _ in range(400):
            x = rng.normal(10, 3, 15)
            result = agree(x + rng.normal(1, 2, 15), x)
            held += result.low_from <= 1 - 2 * stats.norm.ppf(0.975) <= result.low_to
        self.assertTrue(366 <= held <= 394, held)  # 380 expected, 4.4 its SD

    def test_too_few_pairs_and_no_difference(self):
        few = agree([1.0, 2], [1.0, 3])
        self.assertEqual(few.bias, None)
        self.assertIn("3 pairs", words_on_agreement(few, "a", "b", "")[0])
        same = agree([1.0, 2, 3, 4], [1.0, 2, 3, 4], margin=1)
        self.assertEqual((same.bias, same.sd, same.bias_low, same.low, same.margin_p), (0, 0, None, None, None))
        self.assertEqual(words_on_agreement(same, "a", "b", "g"), ("a \u2212 b is 0 g in all of 4 pairs.",))
