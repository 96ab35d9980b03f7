"""What stands out: planted features are found, and nothing in plain data."""

import unittest

import numpy as np
import pandas as pd
from heron import Table
from heron.audit import audit
from heron.glance import MOST, glance


def told(frame, bounds=None):
    table = Table.from_frame(frame)
    return {(one.code, one.symbols): one for one in glance(table, audit(table, bounds=bounds))}


class Glances(unittest.TestCase):
    def setUp(self):
        self.rng = np.random.default_rng(7)

    def test_plain_data_say_nothing(self):
        for seed in range(12):
            rng = np.random.default_rng(seed)
            frame = pd.DataFrame(
                {"a": rng.normal(50, 5, 300), "b": rng.normal(0, 1, 300), "g": rng.choice(list("xyz"), 300)}
            )
            with self.subTest(seed):
                self.assertEqual(told(frame), {})

    def test_what_was_planted_is_found(self):
        n = 400
        skewed = np.exp(self.rng.normal(2, 0.9, n))
        peaks = np.where(self.rng.random(n) < 0.5, self.rng.normal(10, 1, n), self.rng.normal(18, 1, n))
        group = self.rng.choice(["calm", "wild"], n)
        spread = self.rng.normal(0, 1, n) * np.where(group == "wild", 5, 1)
        plain = self.rng.normal(100, 10, n)
        plain[17] = 400
        lacking = self.rng.random(n) < 0.1
        one, other = self.rng.normal(0, 1, n), self.rng.normal(0, 1, n)
        one[lacking], other[lacking] = np.nan, np.nan
        frame = pd.DataFrame({
            "skewed": skewed, "peaks": peaks, "group": group, "spread": spread, "plain": plain, "one": one,
            "other": other,
        })  # fmt: skip
        found = told(frame)
        self.assertLessEqual(len(found), MOST)
        self.assertEqual(found["far", ("plain",)].rows, (17,))
        self.assertIn("logarithmic", found["skew", ("skewed",)].words)
        self.assertIn("two peaks, near ", found["peaks", ("peaks",)].words)
        self.assertIn(("spreads", ("spread", "group")), found)
        self.assertIn(("together", ("one", "other")), found)

    def test_impossible_values_come_first(self):
        frame = pd.DataFrame({"age": [*self.rng.normal(40, 5, 60), -3.0]})
        found = list(told(frame, {"age": (0.0, 120.0)}).values())
        self.assertEqual((found[0].code, found[0].rows), ("impossible", (60,)))

    def test_degenerate_tables(self):
        for values in ([], [1.0], [2.0] * 50, [np.nan] * 50, [1e308, -1e308] * 30, [1e15 + i % 3 for i in range(90)]):
            with self.subTest(values[:2]):
                told(pd.DataFrame({"x": np.array(values, dtype=float), "g": ["a"] * len(values)}))
