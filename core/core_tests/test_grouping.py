"""One form for groups: whatever holds a label for each row."""

import unittest

import numpy as np
import pandas as pd
from heron import intake
from heron.errors import ChoiceError, InputError, LengthMismatch
from heron.grouping import Grouping, groups_of
from hypothesis import given
from hypothesis import strategies as st

SAME = [0, 1, -1, 0]


class Labels(unittest.TestCase):
    def test_every_holder_of_labels_gives_the_same_groups(self):
        words = ["a", "b", None, "a"]
        column = intake.read(b"bed,n\na,1\nb,2\n,3\na,4\n").table["bed"]
        for by in (words, np.array(words, dtype=object), pd.Series(words), pd.Categorical(words), column,
                   pd.Series(words, dtype="category"), Grouping(("a", "b"), np.array(SAME))):  # fmt: skip
            result = groups_of(by, 4)
            self.assertEqual((result.labels, result.places.tolist()), (("a", "b"), SAME), type(by))

    def test_numbers_stand_by_size_and_truths_are_labels(self):
        result = groups_of([10.0, 9.0, np.nan, 10.5], 4)
        self.assertEqual((result.labels, result.places.tolist()), (("9", "10", "10.5"), [1, 0, -1, 2]))
        self.assertEqual(groups_of(np.array([10, 9])).labels, ("9", "10"))
        self.assertEqual(groups_of([True, False]).labels, ("False", "True"))

    def test_the_order_is_kept_with_groups_of_no_row_and_refused_for_a_label_it_lacks(self):
        by = pd.Categorical(["mid", "low"], categories=["low", "mid", "high"])
        self.assertEqual(groups_of(by).labels, ("low", "mid", "high"))
        result = groups_of(by, order=["none", "mid", "low"])
        self.assertEqual((result.labels, result.places.tolist()), (("none", "mid", "low"), [1, 2]))
        self.assertEqual([rows.tolist() for rows in result.rows()], [[], [0], [1]])
        self.assertEqual(groups_of([2019, 2020], order=[2020, 2019]).places.tolist(), [1, 0])
        with self.assertRaises(ChoiceError):
            groups_of(by, order=["low"])
        for wrong, error in (({"order": ["low", "mid", "low"]}, InputError), ({"n_rows": 3}, LengthMismatch)):
            with self.assertRaises(error):
                groups_of(by, **wrong)
        with self.assertRaises(InputError):
            groups_of([["a"], ["b"]])

    def test_without_labels_all_rows_are_one_group(self):
        self.assertEqual(groups_of(None, 3).rows()[0].tolist(), [0, 1, 2])
        self.assertEqual(groups_of([], 0).rows(), [])

    @given(st.lists(st.sampled_from([None, "a", "b", "c"]), max_size=30))
    def test_each_row_with_a_label_is_in_its_group_once(self, by):
        result = groups_of(by, len(by))
        for label, rows in zip(result.labels, result.rows(), strict=True):
            self.assertEqual(rows.tolist(), [i for i, of_row in enumerate(by) if of_row == label])
