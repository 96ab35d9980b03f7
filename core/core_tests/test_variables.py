"""What is said of a variable, and the column that follows."""

import unittest

import numpy as np
from heron import intake
from heron.errors import ChoiceError, InputError
from heron.formatting import fixed, typeset
from heron.variables import apply_corrections, apply_description, can_hold, losses, written, zero_means_none
from hypothesis import given
from hypothesis import strategies as st

TEXT = (
    b"tray,mass,code,when,grade\na,1.5,7,2026-03-01,low\nb,n/r,8,2026-03-02,mid\n"
    b"a,-99,9,2026-02-30,high\nb,2.25,8,2026-03-04 06:30,low\n"
)
TABLE = intake.read(
    TEXT, missing_codes=["n/r", "-99"], kinds={"code": "count", "grade": "ordered", "when": "text"}
).table


class Kinds(unittest.TestCase):
    def test_labels_become_numbers_and_what_is_none_is_missing_by_its_text(self):
        mixed = intake.read(b"x\n1.50\nlots\n3\n\u22124\nlots\n".decode("unicode_escape").encode(), delimiter="").table[
            "x"
        ]
        numbers = apply_description(mixed, {"kind": "continuous"})
        np.testing.assert_array_equal(numbers.numbers, [1.5, np.nan, 3, -4, np.nan])
        self.assertEqual((numbers.missing_counts, numbers.decimals), ({"lots": 2}, 2))
        loss = losses(mixed, numbers)
        self.assertEqual((loss.n, loss.rows.tolist()), (2, [1, 4]))
        self.assertEqual(loss.words[0], "2 values of 5 would count as missing: lots 2.")

    def test_numbers_become_names_and_back(self):
        names = apply_description(TABLE["mass"], {"kind": "category"})
        self.assertEqual(names.values.tolist(), ["1.5", None, None, "2.25"])
        self.assertEqual(names.missing_counts, {"n/r": 1, "-99": 1})
        self.assertIn("no mean", losses(TABLE["mass"], names).words[0])
        back = apply_description(names, {"kind": "continuous"})
        np.testing.assert_array_equal(back.numbers, TABLE["mass"].numbers)

    def test_text_becomes_times_where_there_is_such_a_day(self):
        when = apply_description(TABLE["when"], {"kind": "date-time"})
        self.assertEqual(written(when, 3), "2026-03-04 06:30:00")
        self.assertEqual(when.missing_counts, {"2026-02-30": 1})
        self.assertEqual(apply_description(when, {"kind": "text"}).levels[0], "2026-03-01 00:00:00")
        for column, kind in ((TABLE["mass"], "date-time"), (when, "count"), (TABLE["mass"], "colour")):
            with self.assertRaises(ChoiceError):
                apply_description(column, {"kind": kind})

    def test_counts_with_decimals_are_named(self):
        self.assertIn(
            "2 values with decimals",
            losses(TABLE["mass"], apply_description(TABLE["mass"], {"kind": "count"})).words[0],
        )

    @given(st.lists(st.one_of(st.integers(-5, 5).map(str), st.sampled_from(["", "n/r", "x", "1e3"])), min_size=1))
    def test_nothing_is_lost_on_the_way_to_names(self, cells):
        column = intake.read(("h\n" + "\n".join(cells or [""]) + "\nend\n").encode(), delimiter="").table["h"]
        for kind in ("category", "ordered", "text", "identifier"):
            self.assertEqual(losses(column, apply_description(column, {"kind": kind})).n, 0)


class MissingCodes(unittest.TestCase):
    def test_codes_are_declared_and_taken_back_with_their_values(self):
        only = apply_description(TABLE["mass"], {"missing_codes": ["n/r", "1.5"]})
        np.testing.assert_array_equal(only.numbers, [np.nan, np.nan, -99, 2.25])
        self.assertEqual(only.missing_counts, {"n/r": 1, "1.5": 1})
        trays = apply_description(TABLE["tray"], {"missing_codes": ["A"]})
        self.assertEqual((trays.values.tolist(), trays.levels), ([None, "b", None, "b"], ("b",)))
        # A word cannot be a number: it stays missing, by its own code.
        self.assertEqual(apply_description(TABLE["mass"], {"missing_codes": []}).missing_counts, {"n/r": 1})


class Limits(unittest.TestCase):
    def setUp(self):
        self.lead = intake.read(b"lead\n<0.5\n2.5\n<1\n4\n0.2\n", below_limits={"lead"}).table["lead"]

    def test_a_limit_half_of_it_or_nothing_stands_for_a_value_below_it(self):
        self.assertEqual(self.lead.missing_counts, {"<0.5": 1, "<1": 1})
        for treatment, values in (("limit", [0.5, 2.5, 1, 4, 0.2]), ("half", [0.25, 2.5, 0.5, 4, 0.2])):
            column = apply_description(self.lead, {"below_limit": treatment})
            np.testing.assert_array_equal(column.numbers, values)
            np.testing.assert_array_equal(column.limits, [0.5, np.nan, 1, np.nan, np.nan])
            self.assertEqual((column.n_limited, column.n_missing), (2, 0))

    def test_a_declared_limit_takes_numbers_below_it(self):
        column = apply_description(self.lead, {"below_limit": "half", "detection_limit": 0.5})
        self.assertEqual((column.numbers[4], column.n_limited), (0.25, 3))
        gone = apply_description(self.lead, {"detection_limit": 0.5})
        self.assertEqual(gone.missing_counts, {"<0.5": 2, "<1": 1})

    def test_the_way_out_is_offered_where_all_odd_texts_are_limits(self):
        for text, offered in ((b"lead\n<0.5\n2.5\n3\n", True), (b"lead\n<0.5\n2.5\n3\nlots\n7\n", False)):
            (problem,) = intake.read(text).problems
            self.assertEqual(any("below_limits" in remedy.choices for remedy in problem.remedies), offered)


class Levels(unittest.TestCase):
    def test_order_words_and_numbers(self):
        said = {"levels": ["low", "mid", "high"], "level_labels": {"mid": "middling"}}
        grade = apply_description(TABLE["grade"], said)
        self.assertEqual(
            (grade.levels, grade.values.tolist()), (("low", "middling", "high"), ["low", "middling", "high", "low"])
        )
        placed = apply_description(TABLE["grade"], {**said, "level_numbers": {"low": 1, "mid": 2, "high": 4.5}})
        np.testing.assert_array_equal(placed.numbers, [1, 2, 4.5, 1])
        self.assertEqual((written(placed, 2), placed.decimals), ("high", 1))
        weeks = apply_description(TABLE["code"], {"kind": "ordered", "level_labels": {"8": "the eighth"}})
        self.assertEqual([written(weeks, row) for row in range(4)], ["7", "the eighth", "9", "the eighth"])

    def test_levels_that_are_none_of_its_own_or_become_one_are_refused(self):
        for said in (
            {"levels": ["low", "huge"]},
            {"levels": ["low", "low"]},
            {"level_labels": {"mid": "low"}},
            {"level_numbers": {"low": 1, "mid": 1, "high": 2}},
        ):
            with self.assertRaises(InputError):
                apply_description(TABLE["grade"], said)


class Cells(unittest.TestCase):
    def test_what_a_cell_can_hold(self):
        for symbol, text, held in (
            ("mass", "3,5", False),
            ("mass", " 3.5 ", True),
            ("mass", "N/R", True),
            ("mass", "1e999", False),
            ("tray", "anything", True),
            ("tray", "", True),
        ):
            self.assertEqual(can_hold(TABLE[symbol], text), held, (symbol, text))

    def test_a_new_label_is_a_new_level(self):
        trays = apply_corrections(TABLE["tray"], {0: "c", 1: ""})
        self.assertEqual((trays.levels, trays.values.tolist()), (("a", "b", "c"), ["c", None, "a", "b"]))
        self.assertEqual(TABLE["tray"].values.tolist(), ["a", "b", "a", "b"])

    def test_zero_means_none_unless_values_or_scale_say_otherwise(self):
        warm = intake.read(b"water (\xc2\xb0C),mass (g),shift\n4,1.5,-1\n9,2.5,2.5\n").table
        self.assertEqual([zero_means_none(column) for column in warm.columns.values()], [False, True, False])


class Typesetting(unittest.TestCase):
    def test_powers_and_indices_are_raised_and_lowered_and_names_left_alone(self):
        for typed, shown in (
            ("g m^{-3}", "g m⁻³"),
            ("m^2 s^-1", "m² s⁻¹"),
            ("CO_{2}", "CO₂"),
            ("strength_1", "strength_1"),
            ("wet_mass", "wet_mass"),
            ("x^{q}", "x^{q}"),
        ):
            self.assertEqual(typeset(typed), shown)

    def test_numbers_too_large_for_decimals_are_powers_of_ten(self):
        for value, shown in ((-0.5, "−0.50"), (0.05, "0.05"), (1e300, "1.000 × 10³⁰⁰"), (-2.5e9, "−2.500 × 10⁹")):
            self.assertEqual(fixed(value, 2), shown)


class AgainstPlainReading(unittest.TestCase):
    """Cells read one by one, for any small column and any description."""

    CELLS = st.lists(st.sampled_from(["", "n/r", "1.5", "-2", "7", "7.0", "lots", "<0.5", "2026-03-01"]), min_size=2)

    @staticmethod
    def column(cells):
        # A last word keeps the column a column of words, a last code makes the code known.
        lines = ["h", *(cell or '""' for cell in cells), "word", "n/r"]
        settings = {"delimiter": "", "header": "names", "missing_codes": ["n/r"], "kinds": {"h": "text"}}
        return intake.read("\n".join(lines).encode(), **settings).table["h"]

    @given(CELLS)
    def test_words_as_numbers(self, cells):
        column = apply_description(self.column(cells), {"kind": "continuous"})
        for index, cell in enumerate(cells):
            try:
                self.assertEqual(column.numbers[index], float(cell))
            except ValueError:
                self.assertTrue(np.isnan(column.numbers[index]))
                self.assertEqual(column.missing_codes[column.reasons[index] - 1], cell or "blank")
        limited = apply_description(self.column(cells), {"kind": "continuous", "below_limit": "half"})
        self.assertEqual(limited.n_limited, cells.count("<0.5"))
        self.assertEqual(limited.n_missing, column.n_missing - cells.count("<0.5"))

    @given(CELLS, st.lists(st.sampled_from(["n/r", "lots", "7", "1.5"]), unique=True))
    def test_codes_declared_and_withdrawn(self, cells, codes):
        column = self.column(cells)
        declared = apply_description(column, {"missing_codes": codes})
        for index, cell in enumerate(cells):
            self.assertEqual(declared.reasons[index] > 0, cell == "" or cell in codes, cell)
            if cell and cell not in codes:
                self.assertEqual(declared.values[index], cell)
        self.assertEqual(sum(declared.missing_counts.values()), declared.n_missing)

    @given(CELLS, st.dictionaries(st.integers(0, 1), st.sampled_from(["", "9.25", "n/r", "lots", "new"]), max_size=2))
    def test_corrected_cells_are_as_if_the_file_had_held_them(self, cells, texts):
        other = [texts.get(index, cell) for index, cell in enumerate(cells)]
        patched, fresh = apply_corrections(self.column(cells), texts), self.column(other)
        self.assertEqual(patched.values.tolist(), fresh.values.tolist())
        self.assertEqual(patched.missing_counts, fresh.missing_counts)
        as_numbers = [apply_description(column, {"kind": "continuous"}) for column in (patched, fresh)]
        np.testing.assert_array_equal(as_numbers[0].numbers, as_numbers[1].numbers)


class Ordered(unittest.TestCase):
    def test_corrected_numbers_keep_their_levels_up_to_date(self):
        weeks = apply_description(TABLE["code"], {"kind": "ordered"})
        self.assertEqual(weeks.levels, ("7", "8", "9"))
        changed = apply_corrections(weeks, {0: "12", 2: ""})
        self.assertEqual((changed.levels, changed.missing_counts), (("8", "12"), {"blank": 1}))

    def test_a_level_that_came_since_stands_last_in_a_declared_order(self):
        grade = apply_corrections(TABLE["grade"], {0: "fair"})
        self.assertEqual(
            apply_description(grade, {"levels": ["high", "low", "mid"]}).levels, ("high", "low", "mid", "fair")
        )

    def test_a_level_without_a_number_stays_a_word(self):
        placed = apply_description(TABLE["grade"], {"level_numbers": {"low": 1, "mid": 2, "high": None}})
        self.assertIsNone(placed.numbers)
