"""What is said of groups, of their differences and of fits: each sentence where it belongs, and only there."""

import unittest

import numpy as np
from heron import differences, groups, influence
from heron.outliers import Decided

from core_tests.cases import in_rows

rng = np.random.default_rng(19)
EVEN = {"low": rng.normal(10, 2, 40), "mid": rng.normal(10, 2, 40), "high": rng.normal(10, 2, 40)}
APART = {"low": rng.normal(5, 1, 40), "mid": rng.normal(10, 1, 40), "high": rng.normal(20, 6, 40)}


def said_of_groups(values, labels, **how):
    return " ".join(groups.words_on_groups(groups.group_centres(values, labels, **how), unit="g"))


def said_of_differences(parts):
    values, by = in_rows(parts)
    return differences.words_on_differences(
        differences.compare_groups(values, by), differences.compare_spreads(values, by)
    )


class OfGroups(unittest.TestCase):
    X = np.concatenate([np.arange(1.0, 7), [2.0, 2, 3, 40], [5.0]])
    BY = ["wide"] * 6 + ["skewed"] * 4 + ["alone"]

    def test_bars_are_named_with_their_level_and_ends(self):
        for bars, words in (
            ("sd", "one SD to each side"),
            ("se", "one standard error to each side"),
            ("mean-interval", "the 90 % t interval"),
            ("quartile-span", "from the first to the third quartile"),
            ("range", "from the smallest to the largest value"),
            ("percentiles", "from the 20 to the 70 percent point"),
            ("bootstrap-interval", "the 90 % bootstrap interval"),
        ):
            said = said_of_groups(self.X, self.BY, bars=bars, level=0.9, percents=(20, 70))
            self.assertIn(f"3 groups; bars are {words}.", said)

    def test_the_widest_bar_is_pointed_to(self):
        said = said_of_groups(self.X, self.BY, bars="range")
        self.assertIn("The widest is that of skewed, 38 g.", said)

    def test_overlap_is_no_test_where_bars_invite_to_it(self):
        for bars, warns in (("se", True), ("mean-interval", True), ("sd", False), ("range", False)):
            said = said_of_groups(self.X, self.BY, bars=bars)
            self.assertEqual("Whether bars overlap is no test of a difference." in said, warns, bars)

    def test_a_mean_of_few_skewed_values_is_questioned_and_others_are_not(self):
        rng = np.random.default_rng(19)
        result = groups.group_centres(self.X, self.BY)
        self.assertEqual(groups.fits_badly(result), ("skewed",))
        self.assertIn("strong skew (skewed)", " ".join(groups.words_on_groups(result, unit="")))
        middle = groups.group_centres(self.X, self.BY, centre="median", bars="range")
        self.assertEqual(groups.fits_badly(middle), ())
        many = np.concatenate([rng.lognormal(0, 1, 200)])
        self.assertEqual(groups.fits_badly(groups.group_centres(many, ["a"] * 200)), ())

    def test_a_group_without_a_bar_says_why(self):
        self.assertIn("No bar can be drawn for alone. It needs 2 values.", said_of_groups(self.X, self.BY))
        nothing = groups.group_centres([np.nan, np.nan], ["a", None])
        self.assertNotIn("widest", " ".join(groups.words_on_groups(nothing, unit="")))
        self.assertEqual(
            groups.words_on_groups(groups.group_centres([], []), unit=""), ("There is no group with a row.",)
        )


class OfDifferences(unittest.TestCase):
    def say(self, parts):
        return " ".join(said_of_differences(parts))

    def test_the_size_comes_before_how_sure_it_is(self):
        said = self.say(APART)
        self.assertRegex(said, r"^Groups account for about \d+ % of the variance \(omega squared\)")
        self.assertLess(said.index("omega"), said.index("evidence"))
        self.assertIn("there is strong evidence for a difference of means", said)
        self.assertIn("there is strong evidence for unequal spreads", said)
        equal = differences.compare_groups(*in_rows(APART), spreads="equal")
        words = differences.words_on_differences(equal, differences.compare_spreads(*in_rows(APART)))[0]
        self.assertIn("by analysis of variance, spreads taken for equal, there is strong evidence", words)

    def test_little_evidence_is_said_as_that_and_never_as_equality(self):
        said = self.say(EVEN)
        self.assertIn("there is little evidence for a difference", said)
        for word in ("significant", "equal means", "no difference", "prove"):
            self.assertNotIn(word, said)

    def test_groups_too_small_say_nothing_of_them(self):
        result = differences.compare_groups(*in_rows({"a": [1.0], "b": [2.0]}))
        self.assertEqual(
            differences.words_on_differences(result, differences.compare_spreads(*in_rows({"a": [1.0], "b": [2.0]}))),
            (),
        )
        self.assertIn("2 groups of 2 values", result.undefined["pairs"])

    def test_values_that_cannot_be_squared_are_compared_by_rank_alone(self):
        huge = {"a": [1e308, 2.0, 3.0], "b": [-1e308, 5.0, 6.0]}
        result = differences.compare_groups(*in_rows(huge))
        self.assertIsNone(result.welch)
        self.assertIn("cannot be squared", result.undefined["pairs"])
        self.assertIsNotNone(result.kruskal_wallis)
        self.assertIn("cannot be squared", differences.compare_spreads(*in_rows(huge)).undefined["levene"])

    def test_degrees_of_freedom_hold_for_the_smallest_spreads(self):
        tiny = {"a": np.array([1.0, 2, 3]) * 1e-120, "b": np.array([2.0, 4, 7]) * 1e-120}
        plain = {label: values * 1e120 for label, values in tiny.items()}
        a, b = (differences.mean_difference(*in_rows(parts)) for parts in (tiny, plain))
        self.assertAlmostEqual(a.p_value, b.p_value)
        self.assertAlmostEqual(a.low * 1e120, b.low)


class OfFits(unittest.TestCase):
    def setUp(self):
        rng = np.random.default_rng(19)
        self.x = rng.normal(size=50)
        self.y = 3 * self.x + rng.normal(size=50)
        self.y[7] += 20
        self.found = influence.diagnose_fit(self.y, {"length": self.x})

    def report(self, decided=(), before=None, named=1, undecided=1):
        return influence.report("mass", "g", ["length"], self.found, named, undecided, decided, before)

    def test_a_screening_without_decisions_tells_what_was_looked_at(self):
        said = self.report()
        self.assertEqual(len(said), 2)
        self.assertEqual(said[0], "Mass was fitted on length by least squares (n = 50).")
        self.assertIn(f"beyond {self.found.cutoffs.external_all:.2f} (Bonferroni)", said[1])
        self.assertIn("1 row passed a cut-off", said[1])
        self.assertIn("no rows passed a cut-off", self.report(named=0)[1])

    def test_decisions_tell_their_reason_their_entry_and_what_they_moved(self):
        kept = np.delete(np.arange(50), 7)
        after = influence.diagnose_fit(self.y[kept], {"length": self.x[kept]})
        before, self.found = self.found, after
        said = self.report([Decided("set aside", [8], ["23.1"], "wet balance.", 4)], before, undecided=2)
        self.assertEqual(said[2], "Row 8 (23.1 g) was set aside: wet balance (ledger 4).")
        self.assertEqual(said[3], "2 are still to be decided on.")
        slopes = f"from {before.coefficients[1]:.4g} to {after.coefficients[1]:.4g}"
        self.assertIn(f"the coefficient of length {slopes}", said[4])
        self.assertTrue(said[4].endswith("(n 50 to 49)."))

    def test_measures_from_a_design_are_those_of_the_fit_in_blocks_too(self):
        rng = np.random.default_rng(19)
        n = 40_000  # more than two blocks
        x, g = rng.normal(size=n), rng.integers(0, 3, n)
        y = x + g + rng.normal(size=n)
        made = influence.design_of(y, {"x": x, "g": np.array(["a", "b", "c"])[g]})
        result = influence.measured(made)
        columns = np.column_stack((np.ones(n), x, g == 1, g == 2))
        q = np.linalg.qr(columns)[0]
        h = np.einsum("ij,ij->i", q, q)
        residuals = y - q @ (q.T @ y)
        s = np.sqrt(residuals @ residuals / (n - 4))
        inner = residuals / (s * np.sqrt(1 - h))
        np.testing.assert_allclose(result.cooks, inner**2 * h / (1 - h) / 4, rtol=1e-8, atol=1e-18)
        outer = inner * np.sqrt((n - 5) / (n - 4 - inner**2))
        np.testing.assert_allclose(result.external, outer, rtol=1e-9, atol=1e-12)
        np.testing.assert_allclose(result.dffits, outer * np.sqrt(h / (1 - h)), rtol=1e-8, atol=1e-14)
