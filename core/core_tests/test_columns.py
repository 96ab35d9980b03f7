"""Columns and tables, errors and numbers in sentences: what everything else stands on."""

import unittest

import numpy as np
from heron import formatting, intake
from heron.checks import as_values, choose, within
from heron.columns import SET_ASIDE
from heron.errors import ChoiceError, HeronError, InputError, LengthMismatch, ReadError

TABLE = intake.read(
    b"band,size,when,tag\nlow,1.25,2026-03-01 08:00,A\nhigh,n/r,,B\nlow,3,2026-03-02,C\n,4.5,2026-03-03T09:30:15Z,D\n"
).table


class Columns(unittest.TestCase):
    def test_values_are_numbers_labels_or_times_with_what_stands_for_missing(self):
        self.assertEqual(TABLE["band"].values.tolist(), ["low", "high", "low", None])
        np.testing.assert_array_equal(TABLE["size"].values, [1.25, np.nan, 3, 4.5])
        self.assertEqual(str(TABLE["when"].values[3]), "2026-03-03T09:30:15.000")
        self.assertTrue(np.isnat(TABLE["when"].values[1]))
        self.assertEqual(TABLE["size"].decimals, 2)

    def test_levels_take_another_order_and_each_row_keeps_its_label(self):
        band = TABLE["band"]
        self.assertEqual(band.levels, ("high", "low"))
        ordered = band.with_levels(["low", "high"])
        self.assertEqual((ordered.levels, ordered.values.tolist()), (("low", "high"), band.values.tolist()))
        for wrong in (["low"], ["low", "high", "odd"], ["low", "low"]):
            with self.assertRaises(ChoiceError):
                band.with_levels(wrong)
        with self.assertRaises(ChoiceError):
            TABLE["size"].with_levels([])

    def test_setting_aside_takes_values_out_and_leaves_the_column_as_it_was(self):
        for symbol in ("band", "size", "when", "tag"):
            column = TABLE[symbol]
            aside = column.set_aside(np.array([0, 3]))
            self.assertEqual(aside.missing_counts[SET_ASIDE], 2)
            self.assertEqual(aside.n_missing, 2 + int(column.reasons[1:3].astype(bool).sum()))
            self.assertNotIn(SET_ASIDE, column.missing_codes)
            self.assertIs(column.set_aside(np.array([], dtype=np.int64)), column)
        twice = TABLE["size"].set_aside(np.array([0])).set_aside(np.array([2]))
        self.assertEqual(twice.missing_counts, {"n/r": 1, SET_ASIDE: 2})

    def test_a_table_is_asked_by_symbol(self):
        self.assertEqual((list(TABLE), TABLE.n_rows), (["band", "size", "when", "tag"], 4))
        with self.assertRaises(KeyError):
            TABLE["width"]


class Checks(unittest.TestCase):
    def test_values_that_take_part_with_their_rows(self):
        result = as_values([np.nan, 2, np.nan, 4])
        self.assertEqual((result.values.tolist(), result.positions.tolist(), result.n_missing), ([2, 4], [1, 3], 2))
        whole = as_values([2, 4])
        self.assertEqual((whole.positions.tolist(), whole.n), ([0, 1], 2))
        weighted = as_values([7, np.nan, 9], weights=[2, 3, 1])
        self.assertEqual(
            (weighted.values.tolist(), weighted.positions.tolist(), weighted.n_missing), ([7, 7, 9], [0, 0, 2], 3)
        )

    def test_what_is_no_column_of_numbers_is_refused(self):
        for wrong, code in (
            (["a", "b"], "not-numbers"),
            ([[1, 2]], "not-one-dimensional"),
            ([1, np.inf], "infinite-values"),
        ):
            with self.assertRaises(InputError) as raised:
                as_values(wrong)
            self.assertEqual(raised.exception.code, code)
        with self.assertRaises(LengthMismatch):
            as_values([1, 2], weights=[1])
        with self.assertRaises(InputError) as raised:
            as_values([1, 2], weights=[1e9, 1])
        self.assertEqual(raised.exception.code, "too-many-weighted")

    def test_choices_and_limits_say_what_is_allowed(self):
        with self.assertRaises(ChoiceError) as raised:
            choose("blue", ("red", "green"), where="colour")
        self.assertEqual(str(raised.exception), "colour cannot be 'blue'. Choose one of: green, red.")
        with self.assertRaises(InputError) as raised:
            within(2, above=0, below=1, where="share")
        self.assertIn("between 0 and 1; it is 2", raised.exception.problem)

    def test_errors_carry_their_facts(self):
        error = ReadError("a-code", "It broke.", where="line", rows=[3, 4], remedy="Mend it.")
        self.assertIsInstance(error, HeronError)
        self.assertEqual((error.code, error.rows, str(error)), ("a-code", (3, 4), "It broke. Mend it."))


class Formatting(unittest.TestCase):
    def test_numbers_in_sentences(self):
        self.assertEqual(formatting.counted(1, "row"), "1 row")
        self.assertEqual(formatting.counted(9999, "row"), "9999 rows")
        self.assertEqual(formatting.counted(10_400, "row"), "10\u202f400 rows")
        self.assertEqual(formatting.counted(2, "class", "classes"), "2 classes")
