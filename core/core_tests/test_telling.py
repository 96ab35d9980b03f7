"""What figures are told to show: planted shapes, orders and trends, and what is degenerate."""

import unittest

import numpy as np
import pandas as pd
from heron import Table
from heron.figure.picture import picture
from heron.figure.telling import what_it_shows

rng = np.random.default_rng(7)
N = 400
Z = rng.normal(size=N)
FRAME = pd.DataFrame({
    "one": np.exp(0.7 * Z), "two": np.where(np.arange(N) % 2, 10.0, 30.0) + Z, "x": np.linspace(1, 2, N),
    "up": np.linspace(1, 2, N) ** 3 + 0.01 * Z, "noise": np.sin(np.arange(N) * 12.9898) * 43758.5453 % 1,
    "level": np.array(["low", "mid", "high"])[np.arange(N) % 3],
    "shift": np.array([0.0, 5.0, 9.0])[np.arange(N) % 3] + 0.1 * Z,
    "answer": np.array(["yes", "no", "no", "no"])[np.arange(N) % 4], "flat": 1.0,
    "day": pd.Timestamp("2026-03-01") + pd.to_timedelta(np.sort(np.arange(N) % 40), unit="D"),
})  # fmt: skip
TABLE = Table.from_frame(FRAME, units={"one": "g", "two": "mm"})


def told(kind, **choices):
    return " ".join(what_it_shows(picture(TABLE, kind, **choices).scene))


class Shows(unittest.TestCase):
    def test_shape_centre_and_tails(self):
        said = told("shape", variable="one")
        self.assertRegex(said, r"^One peak, near 0\.\d+ g\.")
        self.assertIn("Median 0.9", said)
        self.assertIn("the longer tail is on the high side", said)
        self.assertRegex(said, r"\d+ points are ringed, from [\d.]+ g \(row \d+\) to [\d.]+ g \(row \d+\)\.")
        said = told("shape", variable="two")
        self.assertRegex(said, r"2 peaks, near (9\.[5-9]|10)[\d.]* mm and (29|30)[\d.]* mm")
        self.assertNotIn("tail", said)
        self.assertRegex(told("shape", variable="one", layers=("classes",)), r"^Most in the class from 0")
        self.assertRegex(
            told("cumulative", variable="x"),
            r"Half are reached at 1\.(5|499), a quarter at 1\.2[45]\d*, three quarters",
        )
        said = told("quantiles", variable="one")
        self.assertIn("At the low end the points lie above the line, at the high end above it.", said)
        self.assertNotIn("rank correlation", said)

    def test_groups_and_counts(self):
        said = told("groups", variable="shift", by="level")
        self.assertRegex(said, r"The highest centre: high (9|8\.99|9\.00)\d*; the lowest: low -?.?0")
        said = told("groups", variable="shift", by="level", marks=("box",))
        self.assertRegex(said, r"The highest median: high [\d.]+; the lowest: low")
        self.assertEqual(told("counts", variable="answer"), "Most at no: 300; fewest at yes: 100.")
        said = told("differences", variable="shift", by="level")
        self.assertRegex(said, r"Of 3 bars ([12]) lie above 0, [12] below it, and 0 hold it")
        self.assertRegex(told("times", variable="day"), r"2026-03-|alike")

    def test_trends_by_rank(self):
        self.assertIn("oints rise closely from left to right (rank correlation 1", told("pair", x="x", y="up"))
        self.assertIn("oints neither rise nor fall", told("pair", x="x", y="noise"))
        self.assertRegex(told("ordered", variable="up"), "oints rise closely")

    def test_what_is_degenerate_is_told_or_left(self):
        for kind, choices in (
            ("shape", {"variable": "flat"}), ("groups", {"variable": "flat", "by": "level"}),
            ("ordered", {"variable": "flat"}), ("counts", {"variable": "flat"}), ("cumulative", {"variable": "flat"}),
        ):  # fmt: skip
            with self.subTest(kind):
                self.assertNotIn("nan", told(kind, **choices))
        self.assertIn("All 3 stand alike: centre 1.", told("groups", variable="flat", by="level"))
        one = Table.from_frame(FRAME.head(1))
        self.assertIn("1 point, too few", " ".join(what_it_shows(picture(one, "ordered", variable="x").scene)))
