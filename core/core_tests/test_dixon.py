"""Dixon's ratio test: published limits, a closed form, simulation, and what it refuses."""

import math
import unittest

import numpy as np
from heron.outliers import flag_outliers

# Dixon (1953), one-sided at 5 %: the two-sided test at 10 %. Printed to three decimals, and rounded there.
DIXON_1953 = {
    3: 0.941, 4: 0.765, 5: 0.642, 6: 0.560, 7: 0.507, 8: 0.554, 9: 0.512, 10: 0.477, 11: 0.576, 12: 0.546, 13: 0.521,
    14: 0.546, 15: 0.525, 16: 0.507, 20: 0.450, 25: 0.406, 30: 0.376,
}  # fmt: skip
# Rorabacher (1991), two-sided at 5 %.
RORABACHER_1991 = {3: 0.970, 4: 0.829, 5: 0.710, 6: 0.625, 7: 0.568}


class Dixon(unittest.TestCase):
    def test_the_published_limits(self):
        for level, table in ((0.1, DIXON_1953), (0.05, RORABACHER_1991)):
            for n, limit in table.items():
                cutoff = flag_outliers(np.arange(float(n)), rule="dixon", level=level).cutoff
                self.assertAlmostEqual(cutoff, limit, delta=0.003, msg=f"{n} at {level}")

    def test_three_values_in_closed_form(self):
        # The density of the ratio of three normal values is 3 sqrt(3)/(2 pi (1 - r + r^2)).
        for ratio in (0.55, 0.8, 0.97):
            beyond = 1 - 3 / math.pi * (math.atan((2 * ratio - 1) / math.sqrt(3)) + math.pi / 6)
            result = flag_outliers([0.0, 1 - ratio, 1.0], rule="dixon")
            self.assertAlmostEqual(result.p_value, 2 * beyond, places=9)
            self.assertAlmostEqual(result.scores[2], ratio, places=12)

    def test_a_sample_by_hand(self):
        # Ten values leave the other end out: (0.177 - 0.167)/(0.187 - 0.167), whatever the order and the unit.
        x = np.array([0.189, 0.167, 0.187, 0.183, 0.186, 0.182, 0.181, 0.184, 0.181, 0.177])
        result = flag_outliers(x, rule="dixon")
        self.assertAlmostEqual(result.scores[1], -0.5, places=12)
        self.assertEqual(result.flagged.size, 0)
        self.assertEqual(flag_outliers(x, rule="dixon", level=0.1).flagged.tolist(), [1])
        self.assertAlmostEqual(flag_outliers(1e300 * x, rule="dixon").p_value, result.p_value, places=9)
        self.assertAlmostEqual(flag_outliers(5 - x, rule="dixon").p_value, result.p_value, places=9)

    def test_the_level_holds_on_normal_samples(self):
        rng = np.random.default_rng(6)
        for n in (6, 12, 20):
            flagged = np.mean([flag_outliers(rng.normal(size=n), rule="dixon").flagged.size for _ in range(2_000)])
            self.assertLess(abs(flagged - 0.05), 0.02)

    def test_too_few_too_many_and_no_spread(self):
        for x, why in (([1.0, 2.0], "3 to 30 values; there are 2"), (np.arange(31.0), "there are 31"),
                       ([4.0] * 5, "no spread"), ([], "there are 0")):  # fmt: skip
            result = flag_outliers(x, rule="dixon")
            self.assertIn(why, result.undefined["scores"])
            self.assertEqual(result.flagged.size, 0)
        ties = flag_outliers([1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 9.0], rule="dixon")  # all but one the same
        self.assertEqual(ties.flagged.tolist(), [7])
