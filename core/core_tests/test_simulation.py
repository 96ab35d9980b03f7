"""Simulated values follow the distribution that they are said to follow."""

import unittest

import numpy as np
from heron.errors import ChoiceError, InputError
from heron.simulation import DISTRIBUTIONS, Group, Simulated, described, simulate
from scipy import stats

N = 20_000
# The distributions as the textbooks write them, with other numbers than the defaults.
KNOWN = {
    "normal": ({"mean": 3, "SD": 2}, stats.norm(3, 2)),
    "log-normal": ({"mean of logs": 1, "SD of logs": 0.7}, stats.lognorm(0.7, scale=np.e)),
    "uniform": ({"from": -2, "to": 5}, stats.uniform(-2, 7)),
    "exponential": ({"mean": 4}, stats.expon(scale=4)),
    "gamma": ({"shape": 3, "scale": 2}, stats.gamma(3, scale=2)),
    "beta": ({"first shape": 2, "second shape": 3}, stats.beta(2, 3)),
    "binomial": ({"trials": 12, "share": 0.25}, stats.binom(12, 0.25)),
    "Poisson": ({"mean": 6.5}, stats.poisson(6.5)),
    "t": ({"degrees of freedom": 4, "centre": 1, "scale": 2}, stats.t(4, 1, 2)),
}


def made(name, parameters, n=N, **more):
    return simulate(Simulated("x", name, parameters), [Group("", n)], seed=11, decimals=9, **more)


class Distributions(unittest.TestCase):
    def test_values_follow_their_distribution(self):
        for name, (parameters, known) in KNOWN.items():
            x = made(name, parameters)["x"].numbers
            if DISTRIBUTIONS[name].whole:
                values, counts = np.unique(x, return_counts=True)
                expected = N * known.pmf(values)
                big = expected > 10
                z = (counts[big] - expected[big]) / np.sqrt(expected[big])
                self.assertLess(np.abs(z).max(), 4, name)
            else:
                self.assertGreater(stats.kstest(x, known.cdf).pvalue, 0.001, name)

    def test_mixtures_and_contamination_follow_their_moments(self):
        x = made("mixture of two normals", {"second mean": 6, "share of second": 0.25})["x"].numbers
        self.assertAlmostEqual(x.mean(), 1.5, delta=0.1)
        self.assertAlmostEqual(x.var(), 1 + 36 * 0.25 * 0.75, delta=0.2)
        y = made("contaminated normal", {"share contaminated": 0.1, "factor": 4})["x"].numbers
        self.assertAlmostEqual(y.var(), 0.9 + 0.1 * 16, delta=0.15)

    def test_two_variables_correlate_as_asked_through_their_normal_scores(self):
        table = made("log-normal", {}, second=Simulated("y", "normal", {"mean": 5}), correlation=-0.6)
        scores = np.log(table["x"].numbers)
        self.assertAlmostEqual(np.corrcoef(scores, table["y"].numbers)[0, 1], -0.6, delta=0.02)

    def test_groups_have_their_own_parameters_and_a_seed_makes_the_same_table(self):
        groups = [Group("calm", 400), Group("swell", 600, {"mean": 9})]
        one, two = (simulate(Simulated("height", "normal"), groups, seed=5) for _ in range(2))
        self.assertEqual(one["height"].numbers.tobytes(), two["height"].numbers.tobytes())
        swell = one["height"].numbers[one["group"].codes == 1]
        self.assertEqual((swell.size, one["height"].decimals), (600, 3))
        self.assertAlmostEqual(swell.mean(), 9, delta=0.2)
        self.assertIn("swell n 600 (mean 9)", described(Simulated("height", "normal"), groups, seed=5))

    def test_what_cannot_be_simulated_is_refused(self):
        for name, parameters in (
            ("normal", {"SD": 0}),
            ("binomial", {"share": 1.5}),
            ("uniform", {"from": 2}),
            ("log-normal", {"mean of logs": 1e6}),
        ):
            with self.assertRaises(InputError):
                made(name, parameters, 10)
        with self.assertRaises(ChoiceError):
            made("lumpy", {}, 10)
        for n in (0, 1_000_001):
            with self.assertRaises(InputError):
                made("normal", {}, n)
