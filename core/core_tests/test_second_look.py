"""What is said of far rows, of fits and of groups, and what decisions on them come to."""

import unittest

import numpy as np
from heron import differences, groups, influence, intake, outliers, summary
from heron.derived import compute_derived, title_of
from heron.errors import InputError
from heron.ledger import Decision, replay, replay_decisions
from heron.outliers import Decided

from core_tests.cases import in_rows

X = np.array([4.0, 5, 6, 5, 4, 6, 5, 40])
NAMED = np.zeros((8, 2), dtype=bool)
NAMED[7] = True


def said_of_differences(parts):
    values, by = in_rows(parts)
    return differences.words_on_differences(
        differences.compare_groups(values, by), differences.compare_spreads(values, by)
    )


class OfFarValues(unittest.TestCase):
    def say(self, named, rules=("fences", "z"), x=X):
        rows = np.flatnonzero(named.any(axis=1))
        agreed, above = (int(np.count_nonzero(each)) for each in (named[rows].all(axis=1), x[rows] > np.median(x)))
        counts = outliers.FlagCounts(int(np.count_nonzero(~np.isnan(x))), rows.size, agreed, above)
        few = [(int(row) + 1, float(x[row])) for row in rows[::-1]]
        return " ".join(outliers.words_on_flags(rules, counts, few, unit="g", label="mass"))

    def test_one_far_value_is_given_with_its_row_and_a_question_for_its_cause(self):
        words = self.say(NAMED)
        self.assertIn("Of 8 values of mass 1 is flagged by fences or z.", words)
        self.assertIn("It is 40 g in row 8.", words)
        self.assertTrue(words.endswith("look for its cause."))
        self.assertNotIn("mistake", words)

    def test_none_many_and_disagreement(self):
        self.assertIn("none is flagged", self.say(np.zeros((8, 2), dtype=bool)))
        some = NAMED.copy()
        some[0] = True, False
        self.assertIn("All rules agree on 1.", self.say(some))
        self.assertIn("They are 40 g in row 8, 4 g in row 1.", self.say(some))
        apart = np.zeros((8, 2), dtype=bool)
        apart[0, 0] = apart[7, 1] = True
        self.assertIn("All rules agree on none.", self.say(apart))
        skewed = np.sort(np.random.default_rng(1).lognormal(0, 1, 200))
        named = np.zeros((200, 1), dtype=bool)
        named[outliers.flag_outliers(skewed, rule="fences").flagged] = True
        self.assertIn("They lie on one side", self.say(named, ("fences",), skewed))
        self.assertEqual(self.say(np.zeros((8, 0), dtype=bool), ()), "Choose a rule.")
        self.assertIn("no value", self.say(np.zeros((1, 1), dtype=bool), ("z",), np.array([np.nan])))

    def test_rows_far_together(self):
        rng = np.random.default_rng(2)
        y = rng.normal(size=(120, 2))
        y[:30] = y[:30] / 5 + 8
        hidden = outliers.words_on_distances(outliers.robust_distances({"a": y[:, 0], "b": y[:, 1]}))
        self.assertIn("would not be flagged: far rows widen the covariance", " ".join(hidden))
        self.assertIn("try logs", " ".join(hidden))
        calm = rng.normal(size=(12, 2))
        words = outliers.words_on_distances(outliers.robust_distances({"a": calm[:, 0], "b": calm[:, 1]}))
        self.assertIn("None of 12 rows lies beyond", words[0])
        many = rng.normal(size=(6_000, 2))
        self.assertIn(
            "Fitted on 3000 rows",
            " ".join(outliers.words_on_distances(outliers.robust_distances(dict(enumerate(many.T))))),
        )


class ForAMethodsSection(unittest.TestCase):
    def tell(self, decided, before=X, after=X, rules=("fences", "esd"), undecided=0, within=""):
        options = {"reach": 3, "quantile_definition": "hinges", "suspects": 4}
        said = outliers.report(
            "mass",
            "g",
            rules,
            options,
            within,
            2,
            undecided,
            decided,
            summary.summarize(before),
            summary.summarize(after),
        )
        return " ".join(said)

    def test_rules_with_their_settings(self):
        words = self.tell([], within="bed")
        self.assertIn("Mass was screened within each bed by fences at 3 IQR (quartiles: hinges)", words)
        self.assertIn("the generalized ESD test for up to 4 values at 5 %; 2 values were flagged.", words)
        every = self.tell([], rules=list(outliers.RULES))
        for part in ("|z| above 3", "a robust z beyond 3.5", "Grubbs' test", "the medcouple"):
            self.assertIn(part, every)

    def test_decisions_with_reasons_entries_and_what_moved(self):
        aside = Decided("set aside", [8], ["40"], "broken shell.", 3)
        kept = Decided("kept", [1, 5], ["4", "4"], "", 4)
        words = self.tell([aside, kept], after=X[:7], undecided=1)
        self.assertIn("Row 8 (40 g) was set aside: broken shell (ledger 3).", words)
        self.assertIn("Rows 1 (4 g) and 5 (4 g) were kept (ledger 4).", words)
        self.assertIn("1 is still to be decided on.", words)
        self.assertIn("This moves the mean from 9.375 to 5 g and the SD from 12.4 to 0.8165 g (n 8 to 7).", words)
        many = Decided("pulled in", list(range(1, 9)), ["1"] * 8, "overloaded", 5)
        unmoved = self.tell([many])
        self.assertIn("8 rows were pulled in to the limit in a variable of its own: overloaded (ledger 5).", unmoved)
        self.assertIn("The mean and the SD are as they were.", unmoved)
        corrected = X.copy()
        corrected[7] = 4
        self.assertTrue(self.tell([Decided("corrected", [8], ["40"], "slip", 6)], after=corrected).endswith("g."))


class OfFits(unittest.TestCase):
    def test_bends_fans_and_the_row_that_moves_most(self):
        rng = np.random.default_rng(3)
        x = np.linspace(1, 10, 80)
        y = x**2 + rng.normal(0, x)
        y[5] = 90
        result = influence.diagnose_fit(y, {"x": x})
        self.assertEqual(int(np.argmax(result.cooks)), 5)
        words = " ".join(influence.words_on_fit(result, 3, (6, result.cooks[5])))
        self.assertIn("The residuals bend", words)
        self.assertIn("row 6 moves it most", words)
        straight = influence.diagnose_fit(2 * x + rng.normal(0, 0.1, 80), {"x": x})
        calm = " ".join(influence.words_on_fit(straight, 0, None))
        self.assertIn("No row passes a cut-off", calm)
        self.assertNotIn("bend", calm)
        fans = influence.diagnose_fit(2 * x + rng.normal(0, x**2), {"x": x})
        self.assertIn("spread changes along the fit", " ".join(influence.words_on_fit(fans, 3, (1, 0.4))))
        perfect = influence.diagnose_fit(2 * x, {"x": x})
        self.assertIn("perfect", influence.words_on_fit(perfect, 0, None)[0])

    def test_levels_keep_the_order_they_come_with(self):
        class Labels(list):
            categories = ("small", "large")

        y = np.array([1.0, 2, 1.5, 4, 5, 4.4])
        result = influence.diagnose_fit(y, {"size": Labels(["small", "small", "small", "large", "large", "large"])})
        self.assertEqual((result.names[1], result.baselines), ("size large", {"size": "small"}))
        self.assertAlmostEqual(result.coefficients[1], y[3:].mean() - y[:3].mean())


class OfGroups(unittest.TestCase):
    def test_bars_are_defined_and_badly_fitting_means_are_said(self):
        values = [1.0, 1.1, 1.2, 1.1, 1.0, 9.0, 4, 5, 6, 5, 4, 5]
        by = ["a"] * 6 + ["b"] * 6
        words = " ".join(groups.words_on_groups(groups.group_centres(values, by, bars="mean-interval"), unit="g"))
        self.assertIn("2 groups; bars are the 95 % t interval.", words)
        self.assertIn("The widest is that of a", words)
        self.assertIn("strong skew (a) a mean with bars says little", words)
        self.assertIn("no test of a difference", words)
        alone = " ".join(groups.words_on_groups(groups.group_centres([1.0, 2, 3], ["a", "b", "b"]), unit=""))
        self.assertIn("No bar can be drawn for a. It needs 2 values.", alone)
        self.assertEqual(
            groups.words_on_groups(groups.group_centres([], []), unit=""), ("There is no group with a row.",)
        )
        for bars in groups.BARS:
            self.assertTrue(groups.told_bars(bars, level=0.9, percents=(5, 95)))

    def test_differences_give_the_size_before_the_sureness(self):
        rng = np.random.default_rng(4)
        parts = {"a": rng.normal(0, 1, 40), "b": rng.normal(3, 1, 40), "c": rng.normal(0, 4, 40)}
        words = said_of_differences(parts)
        self.assertLess(words[0].index("omega squared"), words[0].index("evidence"))
        self.assertIn("strong evidence for unequal spreads", words[2])
        same = {"a": rng.normal(0, 1, 40), "b": rng.normal(0, 1, 40)}
        self.assertIn(
            "little evidence",
            said_of_differences(same)[0],
        )


TABLE = intake.read(b"bed,mass\na,1.5\nb,n/r\na,4\nb,8\na,16\nb,2\n", missing_codes=["n/r"]).table


class Deciding(unittest.TestCase):
    def test_rows_that_were_kept_are_moved_with_their_table_and_undone(self):
        keep = Decision(1, "keep", ((2, 3),), "mass")
        more = Decision(2, "keep", ((5, 5),), "mass")
        whole = Decision(3, "keep", ((1, 1),))
        state = replay_decisions([keep, more, whole])
        self.assertEqual(state.kept, {"": ((1, 1),), "mass": ((2, 3), (5, 5))})
        moved = replay_decisions([keep, more, Decision(3, "reread", changes={"reading": 1, "moves": [(3, 6, 1)]})])
        self.assertEqual(moved.kept, {"mass": ((1, 1), (3, 3))})
        self.assertEqual(replay_decisions([keep, Decision(2, "undo", of=1)]).kept, {})
        kept = replay([keep], TABLE)
        np.testing.assert_array_equal(kept["mass"].numbers, TABLE["mass"].numbers)

    def test_values_pulled_in_follow_their_rows_through_another_reading(self):
        made = {"how": "pulled-in", "of": "mass", "low": 2, "high": 10, "rows": [1, 5]}
        column = compute_derived("in", made, TABLE.columns)
        np.testing.assert_array_equal(column.numbers, [2, np.nan, 4, 8, 10, 2])
        self.assertEqual(column.missing_counts, {"n/r": 1})
        self.assertEqual(title_of(made, TABLE.columns), ("mass, pulled in", ""))
        everywhere = compute_derived("in", {**made, "rows": None, "high": None, "low": 3}, TABLE.columns)
        np.testing.assert_array_equal(everywhere.numbers, [3, np.nan, 4, 8, 16, 3])
        derive = Decision(1, "derive", changes={"in": made})
        again = Decision(2, "reread", changes={"reading": 1, "moves": [(4, 6, 1)]})
        self.assertEqual(replay_decisions([derive, again]).derived["in"]["rows"], [2])
        with self.assertRaises(InputError):
            compute_derived("in", {**made, "low": None, "high": None}, TABLE.columns)

    def test_a_recipe_changed_where_it_stands_names_the_variable_anew(self):
        first = Decision(1, "derive", changes={"y": {"how": "expression", "of": ["mass"], "text": "mass + 1"}})
        upon = Decision(2, "derive", changes={"z": {"how": "expression", "of": ["y"], "text": "y * 2"}})
        said = Decision(3, "describe", changes={"y": {"label": "mine", "note": "kept"}})
        changed = {"how": "expression", "of": ["mass"], "text": "mass + 2", "label": "anew"}
        state = replay_decisions([first, upon, said, Decision(4, "derive", changes={"y": changed})])
        self.assertEqual((list(state.derived), state.described), (["y", "z"], {"y": {"note": "kept"}}))
        table = replay([first, upon, Decision(3, "derive", changes={"y": changed})], TABLE)
        self.assertEqual((table["y"].label, table["z"].numbers[0]), ("anew", 7))
        turned = {"how": "expression", "of": ["z"], "text": "z"}
        self.assertEqual(replay_decisions([first, upon, Decision(3, "derive", changes={"y": turned})]).derived, {})
