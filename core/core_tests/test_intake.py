"""Delimited text in its many forms: what is found, what is asked, what is refused."""

import csv
import io
import json
import unittest
from datetime import datetime
from pathlib import Path
from unittest.mock import patch

import numpy as np
import pyarrow as pa
from heron import intake
from heron.errors import ChoiceError, ReadError
from heron.intake import long
from heron.intake.kinds import ColumnSettings, typed
from hypothesis import given, settings
from hypothesis import strategies as st

DEMO = Path(__file__).parents[2] / "demo"


def read(text: str | bytes, **choices):
    return intake.read(text if isinstance(text, bytes) else text.encode(), "a table.csv", **choices)


def values(result, symbol):
    return result.table[symbol].values.tolist()


class Layouts(unittest.TestCase):
    def test_delimiters_and_decimal_marks(self):
        for text, delimiter, decimal in (
            ("a,b\n1.5,x\n2.5,y\n", ",", "."),
            ("a;b\n1,5;x\n2,5;y\n", ";", ","),
            ("a\tb\n1,5\tx\n2,5\ty\n", "\t", ","),
            ("a|b\n1.5|x\n2.5|y\n", "|", "."),
            ("a   b\n1.5   x\n2.5   y\n", " ", "."),
            ("a\n1.5\n2.5\n", "", "."),
        ):
            with self.subTest(text):
                result = read(text)
                self.assertEqual((result.found["delimiter"].value, result.found["decimal"].value), (delimiter, decimal))
                self.assertEqual(values(result, "a"), [1.5, 2.5])
                self.assertTrue(result.found["delimiter"].why)

    def test_encodings(self):
        text = "Größe (µm);Ort\n1,5;Åre\n2,5;Łódź\n"
        for data, encoding in (
            (text.encode(), "utf-8"),
            (text.encode("utf-8-sig"), "utf-8"),
            (text.encode("utf-16"), "utf-16"),
            (text.encode("utf-16-le"), "utf-16"),
            (text.replace("Łódź", "Ørsta").encode("latin-1"), "latin-1"),
            (text.replace("Łódź", "“Ørsta”").encode("cp1252"), "windows-1252"),
        ):
            with self.subTest(encoding):
                result = read(data)
                self.assertEqual(result.found["encoding"].value, encoding)
                self.assertEqual((result.table["größe"].unit, values(result, "größe")), ("µm", [1.5, 2.5]))
                self.assertEqual(values(result, "ort")[0], "Åre")

    def test_headers(self):
        units = read("mass,len\n(g),mm\n1.5,3\n2.5,4\n")
        self.assertEqual(units.found["header"].value, "names-and-units")
        self.assertEqual([column.unit for column in units.table.columns.values()], ["g", "mm"])
        none = read("1,2\n3,4\n")
        self.assertEqual((none.found["header"].value, list(none.table)), ("none", ["column_1", "column_2"]))
        forced = read("1,2\n3,4\n", header="names")
        self.assertEqual((forced.n, forced.found["header"].why), (1, "as you said"))

    def test_what_stands_above_the_names_is_left_out_and_can_be_said(self):
        table = "bed;mass (g);n\nA;1,5;3\nB;2,5;4\nC;3,5;5\n"
        for above, lines in (
            ("Log of the beds\n", 1),
            ("Log of 2026;;\n\n", 1),
            (";;\nLog;;\n;;\n", 3),
            ('"Log of\ntwo lines";;\n', 2),
            ("", 0),
        ):
            with self.subTest(above):
                result = read(above + table)
                self.assertEqual(result.found["above"].value, lines)
                self.assertEqual((values(result, "mass"), result.table["mass"].unit), ([1.5, 2.5, 3.5], "g"))
        pairs = "station;North\ntaken by;Ines\n\n" + "a;b;c;d;e\n" + "1;2;3;4;5\n" * 4
        self.assertEqual((read(pairs).found["above"].value, list(read(pairs).table)), (2, list("abcde")))
        self.assertEqual(read("Log;;\n" + table, above=0, header="names").n, 4)
        self.assertEqual(read("x;y;z\n1;2;3\n" + table, above=2).table["n"].numbers.tolist(), [3, 4, 5])
        self.assertEqual(read("1\n2\n3\n", above=2).n, 1)
        with self.assertRaises(ReadError):
            read("a,b\n1,2\n", above=9)
        # Groups of names, values with gaps, and one name of two are no title.
        for text in (
            "city\nOslo;a\nBergen;b\n",
            "size,,,where,\na,b,c,d,e\n1,2,3,4,5\n1,2,3,4,5\n",
            "9,,,,\n1,2,3,4,5\n1,2,3,4,5\n",
        ):
            self.assertEqual(read(text).found["above"].value, 0)

    def test_names_units_and_symbols(self):
        result = read(
            "shell mass (g),len_mm,temp [°C],depth, m,class,2nd,mass,mass,width mm,vitamin k,dry weight g,item t,"
            + "area_km2,CO_2\n"
            + "1,2,3,4,5,6,7,8,9,10,11,12,13,14,15\n" * 2
        )
        labels = {symbol: (column.label, column.unit) for symbol, column in result.table.columns.items()}
        self.assertEqual(labels["shell_mass"], ("shell mass", "g"))
        self.assertEqual(labels["len"], ("len", "mm"))
        self.assertEqual(labels["temp"], ("temp", "°C"))
        self.assertEqual((labels["width"], labels["dry_weight"]), (("width", "mm"), ("dry weight", "g")))
        self.assertEqual((labels["vitamin_k"], labels["item_t"]), (("vitamin k", ""), ("item t", "")))
        self.assertIn("v_class", labels)
        self.assertIn("v_2nd", labels)
        self.assertEqual((labels["area"], labels["co_2"]), (("area", "km^2"), ("CO_2", "")))
        self.assertEqual((labels["mass"], labels["mass_2"]), (("mass", ""), ("mass 2", "")))
        self.assertIn("duplicate-name", [problem.code for problem in result.problems])

    def test_comments_quotes_and_line_ends(self):
        result = read('# made up\r\na,b\r\n"1,5 kg","he said ""no"""\r\n# more\r\n2,"two\r\nlines"\r\n')
        self.assertEqual(result.found["comments"].value, 2)
        self.assertEqual(values(result, "b"), ['he said "no"', "two\nlines"])
        self.assertEqual(values(read("a,b\r1,2\r3,4"), "b"), [2, 4])

    def test_lines_of_unlike_length_lose_nothing(self):
        result = read("a,b\n1,2\n3\n4,5,extra\n6,7\n")
        self.assertEqual(values(result, "a"), [1, 3, 4, 6])
        self.assertTrue(np.isnan(result.table["b"].values[1]))
        self.assertEqual(values(result, "column_3"), [None, None, "extra", None])
        problem = next(problem for problem in result.problems if problem.code == "unlike-lines")
        self.assertEqual((problem.count, problem.rows), (2, (1, 2)))


BELOW = (
    "treatment,t0,t4\ncontrol,2,3.1\ntreated,2.1,5.1\n\n"
    "treatment,t0 SE,t4 SE\ntreated,.2,.35\ncontrol,.3,.25\nfree,.1,.1\n"
)
TITLED = "time (h),control,treated\n0,2,2.1\n4,3.1,5.1\nSE,,\ntime (h),control,treated\n0,.2,.3\n4,.25,.35\n"
BESIDE = "time,control,,time,control\n0,2,,0,.2\n4,3.1,,4,.25\n,,,9,.4\n"


class SeveralTables(unittest.TestCase):
    def frames(self, text: str, **choices):
        result = read(text, **choices)
        tables = [result.table, *result.beside]
        return [{s: [None if c != c else c for c in column.values] for s, column in t.columns.items()} for t in tables]

    def asked(self, text: str, **choices):
        return {p.code: [next(iter(r.choices.values())) for r in p.remedies] for p in read(text, **choices).problems}

    def test_tables_on_one_sheet_are_noticed_and_taken_as_is_said(self):
        self.assertEqual(self.asked(BELOW)["several-tables"], ["joined", "apart", "one"])
        self.assertEqual(self.asked(TITLED)["several-tables"], ["joined", "stacked", "apart", "one"])
        self.assertEqual(self.asked(BESIDE)["several-tables"], ["joined", "stacked", "apart", "one"])
        self.assertNotIn("several-tables", self.asked(BELOW, parts="one"))
        (joined,) = self.frames(BELOW, parts="joined")
        self.assertEqual(joined["treatment"], ["control", "treated", "free"])
        self.assertEqual((joined["t4"], joined["t4_se"]), ([3.1, 5.1, None], [0.25, 0.35, 0.1]))
        (joined,) = self.frames(TITLED, parts="joined")
        self.assertEqual(list(joined), ["time", "control", "treated", "control_se", "treated_se"])
        self.assertEqual((joined["time"], joined["treated_se"]), ([0, 4], [0.3, 0.35]))
        (joined,) = self.frames(BESIDE, parts="joined")
        self.assertEqual((joined["time"], joined["control_2"]), ([0, 4, 9], [0.2, 0.25, 0.4]))
        apart = self.frames(BELOW, parts="apart")
        self.assertEqual([list(frame) for frame in apart], [["treatment", "t0", "t4"], ["treatment", "t0_se", "t4_se"]])
        self.assertEqual(self.frames(BELOW, parts="2"), apart[1:])
        (stacked,) = self.frames(TITLED, parts="stacked")
        self.assertEqual((stacked["control"], stacked["table"]), ([2, 3.1, 0.2, 0.25], ["1", "1", "SE", "SE"]))
        self.assertEqual(read(TITLED, parts="joined").table["time"].unit, "h")

    def test_what_cannot_be_put_together_is_refused_and_one_table_is_left_alone(self):
        for text, parts, why in (
            (BELOW, "stacked", "different columns"), (BELOW, "3", "holds 2 tables"),
            ("a,b\n1,2\n3,4\n", "apart", "one table"),
            (BELOW.replace("free", "control"), "joined", "belong together"),
        ):  # fmt: skip
            with self.assertRaisesRegex(ReadError, why):
                read(text, parts=parts)
        for text in (
            "a,b\n1,2\nn/a,missing\n3,4\n5,6\n", "a,b\n1,2\nx,x\n3,4\n5,6\n", "g,a\nu,1\nv,2\nw,n/r\nx,3\n",
            "a,b,c\n1,,2\n3,,4\n",
        ):  # fmt: skip
            self.assertNotIn("several-tables", self.asked(text))

    def test_totals_and_means_of_the_others_are_asked_about(self):
        text = "site,a,b\nx,1,2.5\ny,3,4\nz,5,6\nTotal,9,12.5\nMean,3,4.17\n"
        self.assertEqual(self.asked(text)["total-rows"], ["left-out", "totals"])
        self.assertEqual(read(text, totals="left-out").table["a"].values.tolist(), [1, 3, 5])
        self.assertNotIn("total-rows", self.asked(text.replace("9,12.5", "8,10").replace("3,4.17", "1,1")))


class MissingValues(unittest.TestCase):
    def test_a_unit_behind_each_number_is_that_of_the_variable(self):
        text = "a;b;c;d (kg);e\n" + "".join(f"1.23{i},5 mm;{i} %;{i}a;{i} g;{i} mm\n" for i in range(3)) + ";n/r;;;4\n"
        result = read(text)
        a = result.table["a"]
        self.assertEqual((a.unit, a.numbers[1], a.decimals), ("mm", 1231.5, 1))
        self.assertEqual((result.table["b"].unit, result.table["b"].missing_counts), ("%", {"n/r": 1}))
        self.assertEqual([result.table[symbol].numbers for symbol in "cde"], [None] * 3)
        self.assertEqual([p.symbol for p in result.problems if p.code == "unit-in-cells"], ["a", "b"])

    def test_a_column_without_name_and_value_is_none(self):
        result = read("sep=;\na;;b;\n1;;2;\n3;;4; \n")
        self.assertEqual((list(result.table), result.found["blank_columns"].value), (["a", "b"], [2, 4]))
        self.assertEqual(result.found["delimiter"].why, "the first line says so")
        self.assertEqual(list(read("a;;b\n1;;2\n3;x;4\n").table), ["a", "column_2", "b"])

    def test_words_that_mean_missing_among_numbers_are_counted_by_kind(self):
        column = read("a\n1\nn/r\n\n3\nNA\nn/r\n4\n5\n6\n").table["a"]
        self.assertEqual(column.kind, "count")
        self.assertEqual(column.missing_counts, {"blank": 1, "n/r": 2, "NA": 1})
        self.assertEqual(column.n_missing, 4)

    def test_numbers_that_act_as_codes_are_asked_about_and_can_be_declared(self):
        text = "salt\n" + "\n".join(
            ["31.2", "30.9", "32.0", "31.7", "-99", "30.1", "31", "31.1", "30.5", "31.3", "-99"]
        )
        result = read(text)
        (problem,) = result.problems
        self.assertEqual((problem.code, problem.count, problem.rows), ("number-as-code", 2, (4, 10)))
        declared = read(text, **problem.remedies[0].choices)
        self.assertEqual(declared.table["salt"].missing_counts, {"-99": 2})
        self.assertEqual(declared.problems, ())
        self.assertEqual(read(text.replace("-99", "33")).problems, ())

    def test_text_among_numbers_is_asked_about_with_its_ways_out(self):
        result = read("mass\n1.5\n2.5\n<0.5\n3.5\n<0.5\n4.5\n")
        (problem,) = result.problems
        self.assertIn("2 texts among numbers: <0.5 2", problem.problem)
        self.assertEqual((result.table["mass"].kind, problem.rows), ("text", (2, 4)))
        _, missing, text = (read("mass\n1.5\n2.5\n<0.5\n3.5\n<0.5\n4.5\n", **way.choices) for way in problem.remedies)
        self.assertEqual(missing.table["mass"].missing_counts, {"<0.5": 2})
        self.assertEqual((text.table["mass"].kind, text.problems), ("text", ()))

    def test_rows_without_any_value_are_kept_and_said(self):
        result = read("a,b\n1,2\n,\n3,4\n")
        self.assertEqual((result.n, result.problems[0].code, result.problems[0].rows), (3, "blank-rows", (1,)))

    def test_words_are_not_missing_among_words(self):
        self.assertEqual(read("answer\nnone\nsome\nnone\nall\nsome\nall\n").table["answer"].n_missing, 0)


class Kinds(unittest.TestCase):
    def test_each_kind_is_recognized(self):
        rows = [
            [
                f"K-{i:02d}",
                1.5 * i,
                i * 37 % 50,
                i % 5 + 1,
                "ab"[i % 2],
                f"2026-03-{i + 1:02d} 08:00",
                f"words {i // 2}",
            ]
            for i in range(25)
        ]
        file = io.StringIO()
        csv.writer(file).writerows([["code", "size", "eggs", "vigour", "bed", "when", "remark"], *rows])
        result = read(file.getvalue())
        kinds = [column.kind for column in result.table.columns.values()]
        self.assertEqual(kinds, ["identifier", "continuous", "count", "ordered", "category", "date-time", "text"])
        self.assertEqual(str(result.table["when"].values[1]), "2026-03-02T08:00:00.000")
        self.assertEqual(result.table["vigour"].levels, ("1", "2", "3", "4", "5"))
        self.assertEqual(result.table["size"].decimals, 1)

    def test_dates_as_people_write_them(self):
        days = [datetime(2026, 3, 31), datetime(2024, 2, 29, 7, 5), datetime(1969, 12, 31, 23, 59, 58)]
        seconds = [(day - datetime(1970, 1, 1)).total_seconds() for day in days]
        for form in (
            "%Y-%m-%dT%H:%M:%SZ", "%Y-%m-%d %H:%M:%S.250", "%Y/%m/%d %H:%M:%S", "%d.%m.%Y %H:%M:%S",
            "%d/%m/%Y %H:%M:%S", "%m/%d/%Y %H:%M:%S", "%d-%m-%Y %H:%M:%S", "%m/%d/%Y %I:%M:%S %p",
            "%Y-%m-%d %H:%M:%S+0200", "%d %b %Y %H:%M:%S", "%d-%B-%Y %H:%M:%S", "%B %d, %Y %H:%M:%S",
        ):  # fmt: skip
            with self.subTest(form):
                column = read("when\n" + "\n".join(f'"{day.strftime(form)}"' for day in days)).table["when"]
                more = 0.25 if ".250" in form else 0
                self.assertEqual((column.kind, column.numbers.tolist()), ("date-time", [s + more for s in seconds]))

    def test_dates_whose_order_is_open_are_asked_about(self):
        for text, disagree in (("03/04/2026\n05/06/2026", "may"), ("13/04/2026\n04/13/2026\n04/14/2026", "only")):
            result = read(f"when\n{text}\n")
            self.assertNotEqual(result.table["when"].kind, "date-time")
            asked = result.problems[0]
            self.assertEqual((asked.code, len(asked.remedies)), ("day-or-month", 3))
            self.assertIn(disagree, asked.problem)
        for order, days in (("day-first", [3, 5]), ("month-first", [4, 6])):
            column = read("when\n03/04/2026\n05/06/2026\n", date_orders={"when": order}).table["when"]
            self.assertEqual([stamp.item().day for stamp in column.values], days)
        told = read("when\n03/04/2026\n13/06/2026\nn/r\n").table["when"]  # one tells it of the other
        self.assertEqual((told.kind, told.values[0].item().month, told.missing_counts), ("date-time", 4, {"n/r": 1}))
        mixed = read("when\n2026-04-03\n2026-04-04\n05.04.2026\n")
        self.assertEqual((mixed.table["when"].kind, mixed.problems[0].code), ("date-time", "ways-of-dates"))
        self.assertEqual((mixed.problems[0].rows, mixed.table["when"].values[2].item().day), ((2,), 5))

    def test_times_of_several_zones_are_universal(self):
        texts = ["2026-03-29T01:30:00+01:00", "2026-03-29T03:30:00+02:00", "2026-03-29T03:30:00Z"]
        result = read("when\n" + "\n".join(texts))
        expected = [datetime.fromisoformat(text).timestamp() for text in texts]
        self.assertEqual((result.table["when"].numbers.tolist(), result.problems[0].code), (expected, "zones"))

    def test_a_day_that_does_not_exist_is_no_date(self):
        result = read(
            "when\n2026-02-28\n2026-02-30\n2026-03-01\n2026-03-02T24:00\n2026-03-03 12:59 PM\n2026-03-04 11:00\n"
        )
        self.assertEqual((result.problems[0].code, result.problems[0].rows), ("text-among-dates", (1, 3)))
        self.assertEqual(read("v\n1.2.3\n1.10.0\n2.0.1\n").problems, ())

    def test_codes_with_a_zero_in_front_stay_as_they_are_until_somebody_says(self):
        data = b"id,zip,x,t\n007,01234,0,0.5\n00701,98765,10,00.5\n701,01234,20,0\n"
        intake = read(data)
        self.assertEqual(intake.table["id"].values.tolist(), ["007", "00701", "701"])
        self.assertEqual(intake.table["zip"].values.tolist(), ["01234", "98765", "01234"])
        self.assertEqual([intake.table[symbol].kind for symbol in ("x", "t")], ["count", "continuous"])
        asked = {problem.symbol: problem for problem in intake.problems}
        self.assertEqual((asked["zip"].count, asked["zip"].rows), (2, (0, 2)))
        as_text, as_numbers = asked["zip"].remedies
        self.assertEqual(read(data, **as_text.choices).table["zip"].values[0], "01234")
        self.assertEqual(read(data, **as_numbers.choices).table["zip"].numbers.tolist(), [1234, 98765, 1234])
        for choice in (as_text, as_numbers):
            self.assertNotIn("zip", [problem.symbol for problem in read(data, **choice.choices).problems])

    def test_a_kind_can_be_said(self):
        result = read("a\n1\n2\n2\n", kinds={"a": "category"})
        self.assertEqual((result.table["a"].levels, values(result, "a")), (("1", "2"), ["1", "2", "2"]))
        with self.assertRaises(ChoiceError):
            read("a\n1\n", kinds={"a": "number"})

    def test_a_kind_that_the_values_cannot_be_is_not_forced(self):
        blank = read("a,b\n,1\n,2\n", kinds={"a": "continuous"})
        self.assertTrue(np.isnan(blank.table["a"].numbers).all())
        words = read("a\nx\ny\n3\n", kinds={"a": "count"})
        self.assertEqual((words.table["a"].kind, values(words, "a")), ("text", ["x", "y", "3"]))
        self.assertEqual((words.problems[0].code, words.problems[0].count), ("text-among-numbers", 2))
        self.assertEqual(read("a\nx\ny\n", kinds={"a": "date-time"}).table["a"].kind, "category")

    def test_spellings_of_a_label_are_asked_about(self):
        text = "diver\n" + "Ines\nines\nINES\nTor\nInes\nTor\nn/r\nto r\n" * 3
        result = read(text)
        self.assertEqual(result.table["diver"].levels, ("INES", "Ines", "Tor", "ines", "to r"))
        asked = result.problems[0]
        self.assertEqual((asked.code, asked.count, asked.rows[:3]), ("labels-alike", 9, (1, 2, 7)))
        one = read(text, **asked.remedies[0].choices)
        self.assertEqual((one.table["diver"].levels, one.problems), (("Ines", "Tor"), ()))
        self.assertEqual(values(one, "diver")[:8], ["Ines", "Ines", "Ines", "Tor", "Ines", "Tor", None, "Tor"])
        self.assertEqual(read(text, kinds={"diver": "text"}).problems, ())

    def test_repeated_identifiers_are_asked_about(self):
        names = [f"EL-{i}" for i in range(40)] + ["EL-3"]
        result = read("tag\n" + "\n".join(names))
        self.assertEqual(result.problems[0].code, "repeated-identifiers")
        self.assertEqual(result.problems[0].rows, (3, 40))

    def test_extreme_numbers_stay_numbers_and_impossible_ones_do_not(self):
        self.assertEqual(values(read("a\n1e308\n-1.7e308\n5e-324\n"), "a"), [1e308, -1.7e308, 5e-324])
        self.assertEqual(read("a\n1e999\n2\n3\n").table["a"].kind, "text")
        self.assertEqual(read("a\n\u22121.5\n2\n").table["a"].values.tolist(), [-1.5, 2])


class Refusals(unittest.TestCase):
    def test_what_was_found_is_said(self):
        for data, code, words in (
            (b"", "empty-file", "0 bytes"),
            (b"\n \n", "empty-file", "no value"),
            (b"# only\n# this\n", "empty-file", "2 comment lines"),
            (b"PK\x03\x04rest", "broken-zip", "cut off or broken"),
            (b"\x1f\x8b\x08rest", "unknown-format", "gzip archive"),
            (b"%PDF-1.7", "unknown-format", "PDF document"),
            (b"a,b\n1,\x002\n", "nul-characters", "line 2"),
            (b"a," * 5_001 + b"a\n", "too-many-columns", "5002 columns"),
            (b"a\n" + b"x" * 10_000_001, "line-too-long", "Line 2"),
        ):
            with self.subTest(code), self.assertRaises(ReadError) as raised:
                read(data)
            self.assertEqual(raised.exception.code, code)
            self.assertIn(words, raised.exception.problem)

    def test_a_wrong_encoding_is_refused_where_it_fails(self):
        with self.assertRaises(ReadError) as raised:
            read("a\nÅre\n".encode("latin-1"), encoding="utf-8")
        self.assertIn("byte 3", raised.exception.problem)
        with self.assertRaises(ChoiceError):
            read("a\n1\n", encoding="ebcdic")


class RoundTrips(unittest.TestCase):
    cell = st.text(st.characters(codec="utf-8", exclude_characters="\x00\r", exclude_categories=["Cs"]), max_size=8)

    @settings(max_examples=80)
    @given(st.lists(st.tuples(cell, cell), min_size=1, max_size=12))
    def test_text_comes_back_as_it_was_written(self, rows):
        file = io.StringIO()
        csv.writer(file, lineterminator="\n", quoting=csv.QUOTE_ALL).writerows([("first", "second"), *rows])
        result = read(
            file.getvalue(), delimiter=",", header="names", kinds={"first": "text", "second": "text"}, missing_codes=[]
        )
        for index, symbol in enumerate(("first", "second")):
            self.assertEqual(values(result, symbol), [row[index].strip() or None for row in rows])

    def test_progress_is_told_and_can_stop_the_reading(self):
        told = []
        read("a,b\n1,2\n", on_progress=told.append)
        self.assertEqual(told[-1], 1)
        self.assertEqual(told, sorted(told))

        class Stop(Exception):
            pass

        def stop(share):
            raise Stop

        with self.assertRaises(Stop):
            read("a,b\n1,2\n", on_progress=stop)


class DemoData(unittest.TestCase):
    """The demo files hold what the truth file says was planted."""

    def test_oysters(self):
        truth = json.loads((DEMO / "truth.json").read_text())["oyster_nursery"]
        table = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
        self.assertEqual(table.n_rows, 416)
        units = {symbol: column.unit for symbol, column in table.columns.items() if column.unit}
        self.assertEqual((units["shell_mass"], units["salinity"]), ("g", "psu"))
        for header, planted in truth["missing"].items():
            symbol = header.split(" (")[0].replace(" ", "_")
            for code, rows in planted.items():
                column = table[symbol]
                reason = column.missing_codes.index(code) + 1
                self.assertEqual((np.flatnonzero(column.reasons == reason) + 1).tolist(), rows)
        for mistake in truth["mistakes"]:
            value = table[mistake["variable"]].values[mistake["row"] - 1]
            typical = np.nanmedian(table[mistake["variable"]].values[-104:])
            self.assertTrue(value < typical / 4 or value > typical * 1.5, mistake)

    def test_every_demo_table_reads_without_a_choice(self):
        for file in DEMO.glob("*.csv"):
            self.assertGreater(intake.read(file).n, 10)


class HostileFiles(unittest.TestCase):
    """Whatever comes in, it is read or refused in words; nothing else may happen."""

    ragged = st.text(st.sampled_from(list('a1.5,;\t| "\n\r#-é\u2212')), max_size=200)

    def check(self, data: bytes, **choices) -> None:
        try:
            result = intake.read(data, "x", **choices)
        except ReadError as refused:
            self.assertTrue(refused.problem.endswith("."))
            return
        self.assertEqual({column.n_rows for column in result.table.columns.values()}, {result.n})
        self.assertEqual(result.n_missing, sum(column.n_missing for column in result.table.columns.values()))
        for column in result.table.columns.values():
            self.assertEqual(len(column.values), result.n)
            if column.numbers is not None:
                np.testing.assert_array_equal(np.isnan(column.numbers), column.reasons > 0)
        for problem in result.problems:
            self.assertTrue(problem.count >= 1 and all(0 <= row < result.n for row in problem.rows), problem)

    @settings(max_examples=200)
    @given(st.binary(max_size=300))
    def test_any_bytes(self, data):
        self.check(data)

    @settings(max_examples=300)
    @given(ragged)
    def test_any_text(self, text):
        self.check(text.encode())

    @settings(max_examples=150)
    @given(
        ragged,
        st.sampled_from([",", ";", "\t", " ", ""]),
        st.sampled_from([".", ","]),
        st.sampled_from(["names", "names-and-units", "none"]),
        st.sampled_from([None, [], ["1", "-"], ["a"]]),
        st.sampled_from([None, 0, 1, 4]),
    )
    def test_any_text_under_any_choices(self, text, delimiter, decimal, header, codes, above):
        choices = {"delimiter": delimiter, "decimal": decimal, "header": header, "missing_codes": codes, "above": above}
        self.check(text.encode(), **choices)

    def test_a_remedy_always_mends_what_it_was_offered_for(self):
        text = "a,b,c,d,e\n"
        for i in range(40):
            text += f"{i},{'x' if i == 7 else i / 2},{-99 if i == 3 else i % 7},"
            text += f"0{i % 9 + 1}/04/2026,{'13/2' if i else '3/13'}/2026\n"
        for problem in read(text).problems:
            for remedy in problem.remedies:
                if "keep" in remedy.choices:
                    continue
                after = read(text, **remedy.choices).problems
                self.assertNotIn((problem.code, problem.symbol), [(left.code, left.symbol) for left in after])


class LongColumns(unittest.TestCase):
    """Columns that are typed without a list of their words are what they are with one."""

    NUMBERS = st.integers(-200, 200).map(str) | st.floats(-1e3, 1e3).map("{:.3f}".format) | st.just("-99.0")
    DATES = st.dates().map(str) | st.datetimes().map(lambda at: at.isoformat(timespec="seconds"))
    WORDS = st.sampled_from(["", "", "NA", "n/a", "-", "-99", "-99.00", "?", "NULL", "99", " 7 "])
    ODD = st.sampled_from(["x", "1,5", "1.5 kg", "<0.5", "007", "1.234,5", "2026-13-01", "1e999", "3.4.2026", "12:00"])

    def assert_same_both_ways(self, cells: list[str], settings: ColumnSettings) -> None:
        results = []
        for at_least in (0, 10**9):
            with patch.object(long, "LONG", at_least):
                results.append(typed(pa.array(cells, pa.string()), settings))
        (column, problems), (other, others) = results
        self.assertEqual(problems, others)
        for name in ("kind", "levels", "missing_codes", "decimals", "unit"):
            self.assertEqual(getattr(column, name), getattr(other, name), name)
        for name in ("numbers", "codes", "reasons"):
            np.testing.assert_equal(getattr(column, name), getattr(other, name), name)

    @given(
        cells=st.lists(st.one_of(NUMBERS, NUMBERS, NUMBERS, WORDS), min_size=1, max_size=30)
        | st.lists(st.one_of(DATES, DATES, DATES, WORDS), min_size=1, max_size=30)
        | st.lists(st.one_of(NUMBERS, DATES, WORDS, ODD), min_size=1, max_size=12),
        decimal=st.sampled_from([".", ","]),
        kind=st.sampled_from([None, None, None, "continuous", "count", "date-time", "ordered", "text"]),
        codes=st.sampled_from([None, None, (), ("-99",), ("NA", "-99", "99"), ("n/a", "x")]),
        limited=st.booleans(),
    )
    @settings(max_examples=400, deadline=None)
    def test_any_column(self, cells, decimal, kind, codes, limited):
        if decimal == ",":
            cells = [cell.replace(".", ",") for cell in cells]
        self.assert_same_both_ways(cells, ColumnSettings("a", "a", "", decimal, kind, codes, None, False, limited))
