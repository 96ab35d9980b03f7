"""Boxes, worked by hand."""

import unittest

import numpy as np
from heron.errors import InputError, LengthMismatch
from heron.groups import boxes
from heron.readings import words_on_shape
from heron.summary import summarize


class OneBox(unittest.TestCase):
    def test_fences_are_strict_and_whiskers_end_at_values(self):
        # Quartiles 2 and 4, IQR 2: inner fences -1 and 7, outer -4 and 10.
        values = [-4.1, -1, 2, 2, 2, 3, 3, 4, 4, 4, 7, 7.5, 10]
        result = boxes(values).groups[0]
        self.assertEqual((result.q1, result.median, result.q3), (2, 3, 4))
        self.assertEqual((result.whisker_low, result.whisker_high), (-1, 7))
        self.assertEqual((result.fences.inner_low, result.fences.outer_high), (-1, 10))
        self.assertEqual(result.outlier_rows.tolist(), [0, 11, 12])
        self.assertEqual(result.far_rows.tolist(), [0])

    def test_rows_are_those_of_the_table_in_spite_of_missing_ones(self):
        result = boxes([np.nan, 1, 2, np.nan, 3, 4, 100]).groups[0]
        self.assertEqual((result.outlier_rows.tolist(), result.n, result.n_missing), ([6], 5, 2))

    def test_the_reach_and_the_definition_matter(self):
        values = np.arange(1.0, 11)
        self.assertEqual(boxes(values, quantile_definition=6).groups[0].q1, 2.75)
        self.assertEqual(boxes([*values, 20], reach=3).groups[0].outlier_rows.size, 0)
        self.assertEqual(boxes([*values, 20], reach=1).groups[0].outlier_rows.tolist(), [10])
        with self.assertRaises(InputError):
            boxes(values, reach=-1)

    def test_degenerate_groups(self):
        empty = boxes([np.nan]).groups[0]
        self.assertEqual((empty.n, empty.q1, empty.undefined["q1"]), (0, None, "There is no value."))
        one = boxes([5.0]).groups[0]
        self.assertEqual((one.q1, one.whisker_high, one.outlier_rows.size), (5, 5, 0))
        # Whiskers end on data, though the quartile lies further out.
        self.assertEqual(boxes([1.0, 2, 3, 40]).groups[0].whisker_high, 3)
        constant = boxes([3.0, 3, 3, 3, 9]).groups[0]
        self.assertEqual((constant.whisker_high, constant.outlier_rows.tolist()), (3, [4]))


class SeveralBoxes(unittest.TestCase):
    def test_each_group_has_its_own_fences_and_rows(self):
        values = [1, 2, 3, 4, 50, 10, 20, 30, np.nan, 7]
        by = ["a"] * 5 + ["b"] * 4 + [None]
        result = boxes(values, by=by)
        self.assertEqual([group.label for group in result.groups], ["a", "b"])
        self.assertEqual(result.groups[0].outlier_rows.tolist(), [4])
        self.assertEqual((result.groups[1].n, result.groups[1].n_missing), (3, 1))
        self.assertEqual((result.n, result.n_missing), (8, 2))

    def test_three_hundred_groups_are_those_taken_one_by_one(self):
        rng = np.random.default_rng(8)
        values, by = rng.normal(size=3000), rng.integers(0, 300, 3000).astype(str)
        for group in boxes(values, by=by).groups[::37]:
            in_group = np.flatnonzero(by == group.label)
            alone = boxes(values[in_group]).groups[0]
            self.assertEqual((group.q1, group.n), (alone.q1, alone.n))
            self.assertEqual(group.outlier_rows.tolist(), in_group[alone.outlier_rows].tolist())

    def test_labels_must_match(self):
        with self.assertRaises(LengthMismatch):
            boxes([1, 2, 3], by=["a", "b"])


class ReadingWords(unittest.TestCase):
    def say(self, values):
        return words_on_shape(summarize(values), boxes(values).groups[0])

    def test_shape_and_rows_beyond(self):
        words = self.say([*np.linspace(1, 2, 40), 9.0, 2.9])
        self.assertIn("right-skewed", words[0].text)
        self.assertEqual([said.rows.tolist() for said in words[1:]], [[40], [41]])
        self.assertEqual(self.say([-1.0, *np.linspace(1, 2, 40), 4.0])[0].text, "Roughly symmetric.")
        self.assertIn("two-peaked", self.say([*np.linspace(1, 2, 40), *np.linspace(8, 9, 40)])[0].text)

    def test_too_little_to_judge(self):
        self.assertEqual(self.say([np.nan])[0].text, "There is no value to describe.")
        self.assertEqual(self.say([4.0])[0].text, "There is one value.")
        self.assertEqual(self.say([4.0] * 12)[0].text, "All 12 values are the same.")
        self.assertIn("cannot be judged", self.say([1.0, 2, 9])[0].text)
