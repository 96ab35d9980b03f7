"""Tables written and read again: nothing is lost on the way out."""

import csv
import io
import json
import re
import unittest
import zipfile
from dataclasses import replace
from unittest.mock import patch

import numpy as np
import openpyxl
from heron import cells, intake, writing
from heron.errors import ChoiceError, InputError
from hypothesis import given
from hypothesis import strategies as st

TEXT = (
    "tag,shell mass (g),eggs,bed,when,remark\n"
    'A1,1.5,3,north,2026-03-01 08:00:00,"said ""yes"", twice"\n'
    "A2,n/r,0,south,2026-03-02 09:30:00,=1+1\n"
    "A3,0.1234567890123456,,north,,@cmd\n"
    "A4,-99,12,,2026-03-04 00:00:00,-x\n"
    "A5,1e-07,7,south,2026-03-05 23:59:59,Å µ 水\n"
)
TABLE = intake.read(TEXT.encode(), "Beds.csv", missing_codes=["n/r", "-99"], kinds={"remark": "text"}).table


class RoundTrips(unittest.TestCase):
    def again(self, form, **choices):
        return intake.read(writing.write(TABLE, form), f"beds.{form}", **choices).table

    def test_numbers_times_and_labels_come_back_from_every_format(self):
        for form in writing.FORMATS:
            with self.subTest(form):
                table = self.again(form, missing_codes=["n/r", "-99"])
                mass = table["mass"] if "mass" in table.columns else table["shell_mass"]
                np.testing.assert_array_equal(mass.values, TABLE["shell_mass"].values)
                np.testing.assert_array_equal(table["eggs"].values, TABLE["eggs"].values)
                self.assertEqual(table["bed"].values.tolist(), TABLE["bed"].values.tolist())
                np.testing.assert_array_equal(table["when"].values, TABLE["when"].values)

    def test_missing_codes_units_and_labels_where_the_format_holds_them(self):
        for form in ("csv", "tsv", "xlsx", "ods", "package"):
            with self.subTest(form):
                mass = self.again(form, missing_codes=["n/r", "-99"])["shell_mass"]
                self.assertEqual(mass.missing_counts, {"n/r": 1, "-99": 1})
                self.assertEqual((mass.label, mass.unit), ("shell mass", "g"))
        package = self.again("package")  # which says itself what means missing
        self.assertEqual(package["shell_mass"].missing_counts, {"n/r": 1, "-99": 1})
        self.assertEqual(package.name, "Beds")

    def test_every_digit_is_kept(self):
        rng = np.random.default_rng(3)
        values = np.r_[rng.normal(size=50) * 10.0 ** rng.integers(-300, 300, 50), 5e-324, 1.7e308, -0.1]
        column = replace(TABLE["shell_mass"], numbers=values, reasons=np.zeros(values.size, np.uint8))
        table = replace(TABLE, n_rows=values.size, columns={"shell_mass": column})
        for form in ("csv", "tsv", "parquet", "json", "package", "ods"):
            back = intake.read(writing.write(table, form), f"x.{form}").table
            np.testing.assert_array_equal(next(iter(back.columns.values())).values, values, form)


class Safety(unittest.TestCase):
    def test_a_spreadsheet_runs_no_cell(self):
        rows = list(csv.reader(io.StringIO(writing.write(TABLE, "csv").decode())))
        remarks = [row[5] for row in rows[1:]]
        self.assertEqual(remarks[1:4], ["'=1+1", "'@cmd", "'-x"])
        self.assertEqual([row[1] for row in rows[1:]][3], "-99")  # a code stays the number that it is
        named = replace(TABLE["eggs"], label="=evil()")
        head = writing.write(replace(TABLE, columns={"eggs": named}), "csv").decode().splitlines()[0]
        self.assertEqual(head, "'=evil()")

    def test_json_says_null_for_what_is_missing(self):
        records = json.loads(writing.write(TABLE, "json"))
        self.assertEqual([record["shell_mass"] for record in records], [1.5, None, 0.1234567890123456, None, 1e-07])
        self.assertEqual(records[1]["remark"], "=1+1")

    def test_refusals(self):
        with self.assertRaises(ChoiceError):
            writing.write(TABLE, "xls")
        with patch.object(writing, "SHEET_ROWS", 3), self.assertRaises(InputError) as raised:
            writing.write(TABLE, "xlsx")
        self.assertIn("Choose CSV or Parquet", raised.exception.remedy)


class Cells(unittest.TestCase):
    """No text that somebody else chose begins as a formula does, whichever way it leaves."""

    EVIL = ("=1+1", "+1+cmd", "-2+3+cmd|' /C calc'!A0", "@SUM(A1)", "\t=1", "\r=1", "'=1", "\uff1d1")

    def evil(self, text: str):
        """A table in which a label, a unit, a symbol's words, a level and a missing code are one text."""
        codes = np.array([0, 1, -1], dtype=np.int32)
        reasons = np.array([0, 0, 2], dtype=np.uint8)
        label = replace(
            TABLE["bed"], symbol="bed", label=text, codes=codes, levels=("ok", text), reasons=reasons,
            missing_codes=("blank", f"{text}!"),
        )  # fmt: skip
        values = np.array([1.5, -2.5, np.nan])
        mass = replace(
            TABLE["shell_mass"], label=text, unit=text, numbers=values, reasons=reasons,
            missing_codes=("blank", f"{text}?"),
        )  # fmt: skip
        return replace(TABLE, name=text, n_rows=3, columns={"bed": label, "shell_mass": mass})

    def assert_harmless(self, text: str):
        number = re.fullmatch(r"[+-]?\d+(\.\d*)?(e[+-]?\d+)?|[+-]", text)
        self.assertFalse(text[:1] in tuple("=+-@\t\r\n\uff1d") and not number, repr(text))

    def test_in_delimited_text_and_the_csv_of_a_package(self):
        for text in self.EVIL:
            for form, mark in (("csv", ","), ("tsv", "\t"), ("package", ",")):
                data = writing.write(self.evil(text), form)
                if form == "package":
                    with zipfile.ZipFile(io.BytesIO(data)) as archive:
                        data = archive.read("table.csv")
                for row in csv.reader(io.StringIO(data.decode(), newline=""), delimiter=mark):
                    for cell in row:
                        self.assert_harmless(cell)

    def test_in_workbooks(self):
        for text in self.EVIL[:-1]:
            book = openpyxl.load_workbook(io.BytesIO(writing.write(self.evil(text), "xlsx")))
            for row in book.active.iter_rows():
                for cell in row:
                    self.assertNotEqual(cell.data_type, "f", text)
                    if isinstance(cell.value, str):
                        self.assert_harmless(cell.value)
            with zipfile.ZipFile(io.BytesIO(writing.write(self.evil(text), "ods"))) as archive:
                self.assertNotIn(b"table:formula", archive.read("content.xml"))

    def test_a_package_reads_back_as_it_was(self):
        for text in (*self.EVIL[:4], *self.EVIL[6:]):
            table = self.evil(text)
            back = intake.read(writing.write(table, "package"), "x.zip").table
            self.assertEqual(back["bed"].values.tolist(), ["ok", text, None])
            self.assertEqual(back["bed"].missing_counts, {f"{text}!": 1})
            self.assertEqual(back["shell_mass"].missing_counts, {f"{text}?": 1})
            self.assertEqual((back["bed"].label, back["shell_mass"].unit), (text, text))

    @given(st.text(alphabet="'=+-@1a.e \t", max_size=6))
    def test_the_mark_is_taken_off_again(self, text):
        self.assertEqual(cells.unsafe(cells.safe(text)), text)
        self.assert_harmless(cells.safe(text))

    def test_numbers_stay_numbers(self):
        for text in ("-99", "+1.5", "-1e-07", "-.5", "-", "n/r", "a=b", ""):
            self.assertEqual(cells.safe(text), text)

    def test_what_no_cell_of_a_workbook_can_hold_is_refused(self):
        for text in ("a\x01b", "x" * 40_000):
            for form in ("xlsx", "ods"):
                with self.assertRaises(InputError) as raised:
                    writing.write(self.evil(text), form)
                self.assertEqual(raised.exception.code, "no-cell")
            self.assertIn(text.encode(), writing.write(self.evil(text), "csv"))
