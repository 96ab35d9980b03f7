"""Tables written and read again: nothing is lost on the way out."""

import csv
import io
import json
import unittest
from dataclasses import replace
from unittest.mock import patch

import numpy as np
from heron import intake, writing
from heron.errors import ChoiceError, InputError

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
