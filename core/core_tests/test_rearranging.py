"""Tables made of tables, against what a hand would write."""

import unittest
from dataclasses import replace

import numpy as np
from heron import intake
from heron.errors import InputError
from heron.rearranging import Condition, join, longer, look_up, split, stack, stems, subset, wider
from heron.variables import apply_description
from hypothesis import given
from hypothesis import strategies as st

WIDE = intake.read(
    b"tile,kiln,strength_1 (MPa),strength_2 (MPa),strength_3 (MPa)\n"
    b"T1,north,31.2,30.8,n/r\nT2,south,28.1,,27.9\nT3,north,33.0,32.5,31.1\n",
    "tiles.csv",
).table
LONG = (
    b"tile,kiln,firing,strength (MPa)\nT1,north,1,31.2\nT1,north,2,30.8\nT1,north,3,n/r\n"
    b"T2,south,1,28.1\nT2,south,2,\nT2,south,3,27.9\nT3,north,1,33.0\nT3,north,2,32.5\nT3,north,3,31.1\n"
)


def cells(table):
    return {symbol: column.values.tolist() for symbol, column in table.columns.items()}


def same(one, other):
    for symbol in one:
        left, right = one[symbol].values, other[symbol].values
        if left.dtype == object:
            assert left.tolist() == right.tolist(), symbol
        else:
            np.testing.assert_array_equal(left, right, symbol)
        assert one[symbol].missing_counts == other[symbol].missing_counts, symbol


class Longer(unittest.TestCase):
    def test_stems_are_found_by_names_kinds_and_units(self):
        (result,) = stems(WIDE)
        self.assertEqual((result.label, result.marks), ("strength", ("1", "2", "3")))
        self.assertEqual(result.symbols, ("strength_1", "strength_2", "strength_3"))
        self.assertEqual(stems(intake.read(b"a1,b2,c\n1,2,3\n").table), ())

    def test_what_tells_columns_apart_is_the_number_as_it_stands(self):
        cases = {
            "id,dose 0.5,dose 1.5": [("value", ("0.5", "1.5"), "dose")],
            "id,10,20,30": [("value", ("10", "20", "30"), "")],
            "id,0 h,4.5 h": [("value", ("0", "4.5"), "at (h)")],
            "id,-5 \u00b0C,5 \u00b0C": [("value", ("-5", "5"), "at (\u00b0C)")],
            "id,t0,t12,t0 SE,t12 SE": [("value", ("0", "12"), "t"), ("value SE", ("0", "12"), "t")],
            "id,0 h,4 h,0 h SE,4 h SE": [("value", ("0", "4"), "at (h)"), ("value SE", ("0", "4"), "at (h)")],
            "id,x-1,x-2": [("x", ("1", "2"), "")],
            "id,CO2,NO2,O3": [],
        }
        for header, expected in cases.items():
            n = header.count(",")
            rows = "".join(f"{i}{',2.5' * n}\n" for i in range(3))
            found = stems(intake.read(f"{header}\n{rows}".encode()).table)
            self.assertEqual([(stem.label, stem.marks, stem.mark_name) for stem in found], expected, header)
        table = intake.read(b"id,dose 0.5,dose 1.5\n1,2,3\n2,4,5\n").table
        (stem,) = stems(table)
        made = longer(table, {"rate": stem.symbols}, marks=stem.marks, mark_name="dose").table
        self.assertEqual(made["dose"].values.tolist(), [0.5, 1.5, 0.5, 1.5])
        with self.assertRaisesRegex(InputError, "0.5 stands for several columns: dose 0.5, dose 1.5"):
            longer(table, {"rate": stem.symbols}, marks=["0.5", "0.5"], mark_name="dose")

    def test_repeated_columns_become_rows_with_unit_codes_and_order(self):
        (stem,) = stems(WIDE)
        made = longer(WIDE, {"strength": stem.symbols}, marks=stem.marks, mark_name="firing")
        same(made.table, intake.read(LONG, kinds={"firing": "ordered"}).table)
        self.assertEqual((made.table["strength"].unit, made.table["firing"].kind), ("MPa", "ordered"))
        self.assertEqual(made.origins.tolist(), list(range(9)))

    def test_several_measurements_go_side_by_side(self):
        table = intake.read(b"id,m_1,h_1,m_2,h_2\nx1,1.5,10.5,2.5,20.5\nx2,3.5,30.5,4.5,40.5\n").table
        made = longer(table, {"m": ["m_1", "m_2"], "h": ["h_1", "h_2"]}, marks=["1", "2"], mark_name="visit").table
        self.assertEqual(made["m"].values.tolist(), [1.5, 2.5, 3.5, 4.5])
        self.assertEqual(made["h"].values.tolist(), [10.5, 20.5, 30.5, 40.5])

    def test_there_and_back_is_where_one_was(self):
        made = longer(
            WIDE, {"strength": ["strength_1", "strength_2", "strength_3"]}, marks=["1", "2", "3"], mark_name="firing"
        )
        back = wider(made.table, keys=["tile"], mark="firing", values=["strength"])
        same(back.table, WIDE)
        self.assertEqual(list(back.table), list(WIDE))

    def test_what_cannot_be_is_refused(self):
        with self.assertRaises(InputError):
            longer(WIDE, {"strength": ["strength_1"]}, marks=["1", "2"], mark_name="firing")
        with self.assertRaises(InputError):
            longer(WIDE, {"s": ["gone_1", "gone_2"]}, marks=["1", "2"], mark_name="firing")
        twice = intake.read(LONG.replace(b"T2,south,3", b"T2,south,2")).table
        with self.assertRaises(InputError) as refused:
            wider(twice, keys=["tile"], mark="firing", values=["strength"])
        self.assertEqual(refused.exception.rows, (5,))


class Wider(unittest.TestCase):
    def test_what_differs_within_a_row_is_left_out_and_said(self):
        table = intake.read(b"id,week,day,x\na,1,mon,1.5\na,2,tue,2.5\nb,1,mon,3.5\n", kinds={"id": "category"}).table
        made = wider(table, keys=["id"], mark="week", values=["x"])
        self.assertEqual(made.notes, ("Left out, since they differ within a row: day.",))
        np.testing.assert_array_equal(made.table["x_2"].values, [2.5, np.nan])
        self.assertEqual(made.table["x_2"].missing_counts, {"blank": 1})


class Parts(unittest.TestCase):
    def test_text_is_split_and_joined_again(self):
        table = intake.read(b"code,x\nA-10-left,1\nB-7,2\n,3\nA-10-left,4\n", kinds={"code": "category"}).table
        made = split(table, "code", at="-", names=["bed", "depth", "side"])
        self.assertEqual(made.table["bed"].values.tolist(), ["A", "B", None, "A"])
        np.testing.assert_array_equal(made.table["depth"].values, [10, 7, np.nan, 10])
        self.assertEqual(made.notes, ("1 row has fewer than 3 parts.",))
        joined = join(made.table, ["bed", "depth"], between="-", name="bed and depth").table
        self.assertEqual(joined["bed_and_depth"].values.tolist(), ["A-10", "B-7", None, "A-10"])
        with self.assertRaises(InputError):
            split(table, "code", at="/")


class Together(unittest.TestCase):
    def test_rows_of_several_tables_with_what_they_lack_as_blanks(self):
        one = intake.read(b"x,grade\n1.5,a\n2.5,b\n", "one.csv").table
        two = intake.read(b"grade,x,y\nc,3.25,9\n", "two.csv").table
        made = stack([one, two])
        self.assertEqual(made.table["table"].values.tolist(), ["one", "one", "two"])
        np.testing.assert_array_equal(made.table["x"].values, [1.5, 2.5, 3.25])
        self.assertEqual((made.table["grade"].values.tolist(), made.table["x"].decimals), (["a", "b", "c"], 2))
        np.testing.assert_array_equal(made.table["y"].values, [np.nan, np.nan, 9])
        self.assertEqual(made.notes, ("y is blank in the rows of one, which has none.",))
        mixed = stack([one, intake.read(b"x,grade\nlots,a\nfew,b\n", "two.csv").table]).table["x"]
        self.assertEqual(mixed.values.tolist(), ["1.5", "2.5", "lots", "few"])

    def test_columns_looked_up_by_a_key_with_the_unmatched_and_the_repeated_listed(self):
        beds = intake.read(b"bed,depth (m)\n1,2.5\n2,3.5\n2,9\n7,4\n", "beds.csv", kinds={"bed": "count"}).table
        rows = intake.read(b"bed,x\n1.0,1\n2.0,2\n3.0,3\n,4\n1.0,5\n", kinds={"bed": "category"}).table
        both = intake.read(b"plot,year,rain\n1,2001,10\n1,2002,20\n2,2001,30\n2,2001,40\n", "rain.csv").table
        asked = intake.read(b"year,plot\n2002,1\n2001,2\n2002,2\n,1\n").table
        made = look_up(asked, both, key=["plot", "year"], other_key=["plot", "year"], symbols=["rain"])
        np.testing.assert_array_equal(made.table["rain"].values, [20, 30, np.nan, np.nan])
        self.assertEqual(made.rows, (2, 3))
        self.assertIn("2 rows without a partner: 2 2002.", made.notes)
        self.assertIn("1 key more than once in rain, the first row taken: 2 2001.", made.notes)
        with self.assertRaises(InputError):
            look_up(asked, both, key=["plot", "year"], other_key="plot", symbols=["rain"])
        made = look_up(rows, beds, key="bed", other_key="bed", symbols=["depth"])
        np.testing.assert_array_equal(made.table["depth"].values, [2.5, 3.5, np.nan, np.nan, 2.5])
        self.assertEqual((made.rows, made.table["depth"].unit), ((2, 3), "m"))
        self.assertEqual(made.notes[0], "2 rows without a partner: 3.0.")
        self.assertIn("1 key more than once in beds, the first row taken: 2.", made.notes)
        self.assertIn("1 key of beds not asked for: 7.", made.notes)


class Narrowed(unittest.TestCase):
    def test_rows_that_meet_all_conditions_keep_their_keys(self):
        made = subset(
            WIDE,
            [Condition("strength_1", "between", low=30), Condition("kiln", "levels", levels=("north",))],
            symbols=["tile"],
        )
        self.assertEqual((cells(made.table), made.origins.tolist()), ({"tile": ["T1", "T3"]}, [0, 2]))
        self.assertEqual(subset(WIDE, [Condition("strength_2", "missing")]).origins.tolist(), [1])
        self.assertEqual(
            subset(WIDE, [Condition("strength_1", "between", high=1)]).notes, ("No row meets all conditions.",)
        )
        with self.assertRaises(InputError):
            subset(WIDE, [Condition("kiln", "between", low=1)])


class PairsStayPairs(unittest.TestCase):
    """The pairs that are complete are the same whether the file was cleaned by hand or its codes were declared."""

    @given(
        st.lists(
            st.tuples(
                st.integers(-40, 40),
                st.integers(-40, 40),
                st.sampled_from(["", "x", "y", "xy"]),
                st.sampled_from(["", "n/r", "-99", "999", "--"]),
            ),
            min_size=3,
            max_size=40,
        )
    )
    def test_correlations_of_the_cleaned_file_and_of_the_file_with_codes_agree_to_the_last_digit(self, rows):
        coded, cleaned = ["x,y,row"], ["x,y,row"]
        for i, (x, y, lost, code) in enumerate([*rows, (1, 2, "", ""), (2, 5, "", ""), (4, 3, "", "")]):
            coded.append(f"{code if 'x' in lost else x / 4},{code if 'y' in lost else y / 4},{i}")
            if not lost:
                cleaned.append(f"{x / 4},{y / 4},{i}")
        codes = {
            "missing_codes": ["n/r", "-99", "999", "--"],
            "kinds": {"x": "continuous", "y": "continuous", "row": "count"},
        }
        both = []
        for lines in (coded, cleaned):
            table = intake.read("\n".join(lines).encode(), **codes).table
            known = subset(table, [Condition("x", "known"), Condition("y", "known")]).table
            with np.errstate(invalid="ignore"):
                both.append(
                    (known["row"].values.tolist(), np.corrcoef(known["x"].numbers, known["y"].numbers).tobytes())
                )
        self.assertEqual(both[0], both[1])


class AgainstPlainRearranging(unittest.TestCase):
    """The same by dictionaries and loops, for any small table."""

    CELLS = st.sampled_from(["", "n/r", "1.5", "-2", "7", "30.25"])

    @staticmethod
    def read(lines, **more):
        return intake.read("\n".join(lines).encode(), missing_codes=["n/r"], **more).table

    @given(st.lists(st.tuples(CELLS, CELLS, CELLS), min_size=2, max_size=12))
    def test_longer(self, rows):
        lines = ["id,m_1,m_2,m_3", *(f"t{i},{','.join(row)}" for i, row in enumerate(rows))]
        kinds = {"id": "identifier", "m_1": "continuous", "m_2": "continuous", "m_3": "continuous"}
        table = self.read(lines, kinds=kinds)
        made = longer(table, {"m": ["m_1", "m_2", "m_3"]}, marks=["1", "2", "3"], mark_name="visit").table
        plain = [(f"t{i}", mark, cell) for i, row in enumerate(rows) for mark, cell in enumerate(row, 1)]
        self.assertEqual(made.n_rows, len(plain))
        for index, (tag, mark, cell) in enumerate(plain):
            self.assertEqual((made["id"].values[index], made["visit"].values[index]), (tag, mark))
            value = made["m"].values[index]
            if cell in ("", "n/r"):
                reason = made["m"].missing_codes[made["m"].reasons[index] - 1]
                self.assertEqual(reason, cell or "blank")
            else:
                self.assertEqual(value, float(cell))
        back = wider(made, keys=["id"], mark="visit", values=["m"])
        same(back.table, table)

    @given(st.lists(st.integers(0, 9), min_size=1, max_size=15), st.lists(st.integers(0, 9), min_size=1, max_size=15))
    def test_look_up(self, mine, theirs):
        table = self.read(
            ["key,row", *(f"{key},{i}" for i, key in enumerate(mine))], kinds={"key": "count", "row": "count"}
        )
        lines = ["key,depth", *(f"{key},{i}.5" for i, key in enumerate(theirs))]
        other = self.read(lines, kinds={"key": "count", "depth": "continuous"})
        made = look_up(table, other, key="key", other_key="key", symbols=["depth"])
        first = {}
        for i, key in enumerate(theirs):
            first.setdefault(key, i + 0.5)
        expected = [first.get(key, np.nan) for key in mine]
        np.testing.assert_array_equal(made.table["depth"].values, expected)
        self.assertEqual(list(made.rows), [i for i, key in enumerate(mine) if key not in first])
        self.assertEqual(any("more than once" in note for note in made.notes), len(set(theirs)) < len(theirs))

    @given(
        st.lists(st.tuples(CELLS, st.sampled_from("abc")), min_size=1, max_size=15),
        st.floats(-5, 40),
        st.floats(-5, 40),
        st.sets(st.sampled_from("abc")),
    )
    def test_part(self, rows, low, high, levels):
        lines = ["x,g,row", *(f"{x},{g},{i}" for i, (x, g) in enumerate(rows))]
        table = self.read(lines, kinds={"x": "continuous", "g": "category", "row": "count"})
        conditions = [
            Condition("x", "between", low=low, high=high),
            Condition("g", "levels", levels=tuple(levels)),
        ]
        made = subset(table, conditions)
        plain = [i for i, (x, g) in enumerate(rows) if x not in ("", "n/r") and low <= float(x) <= high and g in levels]
        self.assertEqual(made.table["row"].values.tolist(), plain)
        self.assertEqual(made.origins.tolist(), plain)

    @given(
        st.lists(st.lists(st.sampled_from(["a", "bb", "7", "x y"]), min_size=1, max_size=3), min_size=1, max_size=10)
    )
    def test_what_is_split_and_joined_is_what_it_was(self, parts):
        texts = ["/".join(part) for part in parts]
        if not any("/" in text for text in texts):
            texts[0] += "/q"
        table = self.read(["code,row", *(f"{text},{i}" for i, text in enumerate(texts))], kinds={"code": "text"})
        made = split(table, "code", at="/").table
        names = [symbol for symbol in made if symbol.startswith("code_")]
        for index, text in enumerate(texts):
            result = []
            for name in names:
                column = made[name]
                if not column.reasons[index]:
                    value = column.values[index]
                    result.append(f"{value:g}" if isinstance(value, float) else str(value))
            self.assertEqual("/".join(result), text)
        whole = [i for i, text in enumerate(texts) if text.count("/") == len(names) - 1]
        if len(names) > 1:
            joined = join(made, names, between="/", name="again").table["again"]
            for index in whole:
                self.assertEqual(str(joined.values[index]), texts[index])


class WhatComesAlong(unittest.TestCase):
    def test_limits_and_what_is_set_aside_in_the_source_stay_what_they_are(self):
        table = intake.read(b"id,a_1,a_2\nx,<0.5,2\ny,3,4\n", below_limits={"a_1"}, kinds={"a_2": "continuous"}).table
        kept = {
            "a_1": apply_description(table["a_1"], {"below_limit": "half"}),
            "a_2": table["a_2"].set_aside(np.array([1])),
        }
        table = replace(table, columns={**table.columns, **kept})
        made = longer(table, {"a": ["a_1", "a_2"]}, marks=["1", "2"], mark_name="visit").table["a"]
        np.testing.assert_array_equal(made.values, [0.25, 2, 3, np.nan])
        np.testing.assert_array_equal(made.limits, [0.5, np.nan, np.nan, np.nan])
        self.assertEqual(made.missing_counts, {"set aside": 1})
        stacked = stack([replace(table, name="one"), replace(table, name="two")]).table
        self.assertEqual((stacked["a_1"].n_limited, stacked["a_2"].missing_counts), (2, {"set aside": 2}))

    def test_times_stay_times_and_unlike_kinds_become_labels(self):
        times = intake.read(b"t,x\n2026-01-01,1\n2026-01-02,2\n", "one.csv").table
        other = intake.read(b"t,x\n2026-02-01,a\n2026-02-02,b\n", "two.csv").table
        made = stack([times, other]).table
        self.assertEqual((made["t"].kind, str(made["t"].values[3])[:10]), ("date-time", "2026-02-02"))
        self.assertEqual(made["x"].values.tolist(), ["1", "2", "a", "b"])

    def test_an_empty_part_of_a_table_can_be_rearranged_too(self):
        empty = subset(WIDE, [Condition("strength_1", "between", low=1e9)]).table
        made = longer(empty, {"s": ["strength_1", "strength_2"]}, marks=["1", "2"], mark_name="firing")
        self.assertEqual((made.table.n_rows, made.origins.size), (0, 0))
        self.assertEqual(stack([empty, WIDE]).table.n_rows, 3)
        self.assertEqual(look_up(empty, WIDE, key="tile", other_key="tile", symbols=["kiln"]).table.n_rows, 0)
