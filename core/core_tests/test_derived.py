"""Variables that follow from others, and counts of two variables together."""

import unittest

import numpy as np
from heron import intake
from heron.derived import NO_LABEL, NO_RESULT, NOT_ON_SCALE, OUTSIDE, compute_derived
from heron.errors import ChoiceError, InputError
from heron.frequency import classify, cross_counts, interval_labels, places
from heron.ledger import Decision, replay, replay_decisions
from hypothesis import given
from hypothesis import strategies as st

TABLE = intake.read(b"bed,mass\na,1.5\nb,n/r\na,4\nb,8\na,16\nb,2\n").table
CLASSES = {"how": "classes", "of": "mass", "boundaries": [0, 2, 8], "closed": "left", "label": "mass, in classes"}


class Classes(unittest.TestCase):
    def test_each_value_goes_to_its_class_and_those_outside_are_named(self):
        column = compute_derived("mass_classes", CLASSES, TABLE.columns)
        self.assertEqual(column.levels, ("[0, 2)", "[2, 8]"))
        self.assertEqual(column.values.tolist(), ["[0, 2)", None, "[2, 8]", "[2, 8]", None, "[2, 8]"])
        self.assertEqual(column.missing_counts, {"n/r": 1, OUTSIDE: 1})
        self.assertEqual((column.kind, column.label), ("ordered", "mass, in classes"))

    @given(
        st.lists(st.integers(-9, 9) | st.none(), max_size=40),
        st.lists(st.integers(-9, 9), min_size=2, max_size=6, unique=True),
        st.sampled_from(["left", "right"]),
    )
    def test_places_are_the_classes_that_are_counted(self, values, edges, closed):
        x = np.array([np.nan if value is None else value for value in values], dtype=float)
        result = places(x, sorted(edges), closed=closed)
        counted = classify(x, boundaries=sorted(edges), closed=closed)
        self.assertEqual(np.bincount(result[result >= 0], minlength=len(edges) - 1).tolist(), counted.counts.tolist())

    def test_labels_carry_the_decimals_of_the_finest_boundary(self):
        self.assertEqual(interval_labels([-1, 0.25, 3], closed="right"), ("[-1.00, 0.25]", "(0.25, 3.00]"))

    def test_names_have_no_classes_and_ways_are_known(self):
        with self.assertRaises(InputError):
            compute_derived("x", {**CLASSES, "of": "bed"}, TABLE.columns)
        with self.assertRaises(ChoiceError):
            compute_derived("x", {"how": "guess", "of": "mass"}, TABLE.columns)


class Following(unittest.TestCase):
    def test_it_follows_corrections_and_what_is_set_aside_until_it_is_taken_away(self):
        derive = Decision(1, "derive", changes={"size": CLASSES})
        corrected = Decision(2, "correct", changes={"mass": {"2": {"old": "n/r", "new": "1"}}})
        aside = Decision(3, "set-aside", ((1, 1),), "mass")
        table = replay([derive, corrected, aside], TABLE)
        self.assertEqual(table["size"].values.tolist(), [None, "[0, 2)", "[2, 8]", "[2, 8]", None, "[2, 8]"])
        self.assertEqual(table["size"].missing_counts, {"set aside": 1, OUTSIDE: 1})
        named = Decision(4, "describe", changes={"size": {"label": "size", "level_labels": {"[0, 2)": "small"}}})
        self.assertEqual(replay([derive, named], TABLE)["size"].levels, ("small", "[2, 8]"))
        gone = [derive, Decision(2, "derive", changes={"size": None})]
        self.assertEqual((list(replay(gone, TABLE)), replay_decisions(gone).derived), (["bed", "mass"], {}))


class OtherWays(unittest.TestCase):
    def scale(self, **setting):
        return compute_derived("y", {"how": "scale", "of": "mass", "setting": setting}, TABLE.columns)

    def test_a_scale_keeps_why_a_value_is_missing_and_names_what_it_cannot_take(self):
        column = self.scale(way="log", offset=-1.5)
        self.assertEqual(column.missing_counts, {"n/r": 1, NOT_ON_SCALE: 1})
        self.assertAlmostEqual(column.numbers[3], np.log10(6.5))
        self.assertEqual((column.kind, column.decimals), ("continuous", 4))
        self.assertEqual(self.scale(way="rank").decimals, 0)
        self.assertEqual(self.scale(way="power", power=1).label, "y")

    def test_an_expression_is_missing_for_the_reason_of_its_first_source_that_is(self):
        made = {"how": "expression", "of": ["mass", "bed"], "text": "10 - mass if bed == 'a' else ln(mass - 2)"}
        column = compute_derived("y", made, {symbol: TABLE[symbol] for symbol in ("mass", "bed")})
        self.assertEqual(column.missing_counts, {"n/r": 1, NO_RESULT: 1})  # row 6 is ln(0)
        self.assertEqual(column.numbers[[0, 2, 4]].tolist(), [8.5, 6, -6])
        truths = compute_derived("y", {"how": "expression", "of": "mass", "text": "mass > 3"}, {"mass": TABLE["mass"]})
        self.assertEqual((truths.kind, truths.levels), ("category", ("no", "yes")))
        names = {"how": "expression", "of": ["bed"], "text": "'first' if bed == 'a' else bed"}
        labels = compute_derived("y", names, {"bed": TABLE["bed"]})
        self.assertEqual(labels.values.tolist(), ["first", "b", "first", "b", "first", "b"])
        seen = {"how": "expression", "of": ["mass"], "text": "mass if known(mass) else 0"}
        self.assertEqual(compute_derived("y", seen, {"mass": TABLE["mass"]}).n_missing, 0)

    def test_levels_are_renamed_and_merged_and_the_rest_is_said(self):
        made = {"how": "recode", "of": "bed", "labels": {"a": "north"}, "others": "elsewhere"}
        column = compute_derived("side", made, TABLE.columns)
        self.assertEqual(column.values.tolist(), ["north", "elsewhere"] * 3)
        self.assertEqual(column.levels, ("north", "elsewhere"))
        some = compute_derived("side", {**made, "others": None}, TABLE.columns)
        self.assertEqual(some.missing_counts, {NO_LABEL: 3})
        merged = compute_derived("side", {**made, "labels": {"a": "both", "b": "both"}, "others": None}, TABLE.columns)
        self.assertEqual((merged.levels, merged.n_missing), (("both",), 0))
        with self.assertRaises(InputError):
            compute_derived("side", {**made, "of": "mass"}, TABLE.columns)

    def test_one_may_follow_from_another_that_follows(self):
        derive = Decision(1, "derive", changes={"half": {"how": "expression", "of": ["mass"], "text": "mass / 2"}})
        again = Decision(2, "derive", changes={"size": {**CLASSES, "of": "half", "boundaries": [0, 1, 10]}})
        table = replay([derive, again], TABLE)
        self.assertEqual(table["size"].values.tolist(), ["[0, 1)", None, "[1, 10]", "[1, 10]", "[1, 10]", "[1, 10]"])
        lost = replay([derive, again, Decision(3, "derive", changes={"half": None})], TABLE)
        self.assertEqual(list(lost), ["bed", "mass"])  # what stood on it is gone with it


class TwoTogether(unittest.TestCase):
    def test_a_table_worked_by_hand(self):
        result = cross_counts([0, 0, 1, 1, 1, -1, 0], ["yes", "no"], [0, 1, 1, 1, 0, 0, -1], ["a", "b", "c"])
        self.assertEqual([line.counts.tolist() for line in result.rows], [[1, 1, 0], [1, 2, 0]])
        self.assertEqual((result.n, result.totals.counts.tolist(), result.totals.total), (5, [2, 3, 0], 5))
        first = result.rows[0]
        self.assertEqual(first.row_percents.tolist(), [50, 50, 0])
        np.testing.assert_allclose(first.column_percents, [50, 100 / 3, np.nan])
        np.testing.assert_allclose(first.percents, [20, 20, 0])
        self.assertEqual((first.total, first.total_percent), (2, 40))

    def test_nothing_to_count(self):
        result = cross_counts([], ["a"], [], ["b"])
        self.assertEqual((result.n, result.rows[0].total_percent), (0, None))

    @given(st.lists(st.tuples(st.integers(-1, 3), st.integers(-1, 2), st.integers(0, 4)), max_size=60))
    def test_cells_and_shares_against_counting_one_by_one(self, rows):
        first, second, weights = (np.array([row[i] for row in rows], dtype=np.int64) for i in range(3))
        result = cross_counts(first, list("abcd"), second, list("xyz"), weights=weights)
        kept = [(a, b) for a, b, w in rows if a >= 0 and b >= 0 for _ in range(w)]
        for i, line in enumerate(result.rows):
            for j in range(3):
                cell = kept.count((i, j))
                self.assertEqual(line.counts[j], cell)
                across, down = [a for a, _ in kept].count(i), [b for _, b in kept].count(j)
                if across:
                    self.assertAlmostEqual(line.row_percents[j], 100 * cell / across)
                if down:
                    self.assertAlmostEqual(line.column_percents[j], 100 * cell / down)
        self.assertEqual((result.n, result.totals.total), (len(kept), len(kept)))
