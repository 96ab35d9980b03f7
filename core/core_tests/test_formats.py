"""Workbooks, columns, records and packages: the same table out of each, and clear words for what is none."""

import io
import json
import unittest
import zipfile
from datetime import date, datetime, time
from unittest.mock import patch

import numpy as np
import openpyxl
import pyarrow as pa
from heron import intake
from heron.errors import ChoiceError, ReadError
from heron.intake import columnar, extent
from odf.opendocument import OpenDocumentSpreadsheet
from odf.table import Table, TableCell, TableRow
from odf.text import P
from pyarrow import parquet


def workbook(*sheets, merged=()) -> bytes:
    book = openpyxl.Workbook()
    book.remove(book.active)
    for name, rows in sheets:
        page = book.create_sheet(name)
        for row in rows:
            page.append(row)
        for span in merged:
            page.merge_cells(span)
    file = io.BytesIO()
    book.save(file)
    return file.getvalue()


def open_document(rows) -> bytes:
    document = OpenDocumentSpreadsheet()
    sheet = Table(name="Beds")
    for row in rows:
        line = TableRow()
        for value in row:
            if isinstance(value, int | float):
                cell = TableCell(valuetype="float", value=str(value))
            else:
                cell = TableCell(valuetype="string")
            cell.addElement(P(text=str(value)))
            line.addElement(cell)
        sheet.addElement(line)
    document.spreadsheet.addElement(sheet)
    file = io.BytesIO()
    document.save(file)
    return file.getvalue()


def package(schema: dict, text: str, **resource) -> bytes:
    file = io.BytesIO()
    with zipfile.ZipFile(file, "w") as archive:
        described = {"name": "beds", "path": "data/beds.csv", "schema": schema, **resource}
        archive.writestr("datapackage.json", json.dumps({"resources": [described]}))
        archive.writestr("data/beds.csv", text)
    return file.getvalue()


ROWS = [["bed", "mass (g)", "eggs"], ["a", 1.5, 3], ["b", "n/r", 0], ["a", 0.123456789012, 12], ["b", 2.25, None]]


class Workbooks(unittest.TestCase):
    def check(self, result):
        mass = result.table["mass"]
        self.assertEqual((mass.unit, mass.missing_counts), ("g", {"n/r": 1}))
        np.testing.assert_array_equal(mass.values, [1.5, np.nan, 0.123456789012, 2.25])
        self.assertEqual((result.table["eggs"].kind, result.table["eggs"].missing_counts), ("count", {"blank": 1}))
        self.assertEqual(result.table["bed"].values.tolist(), ["a", "b", "a", "b"])

    def test_the_same_table_from_xlsx_and_ods(self):
        xlsx = intake.read(workbook(("Beds", ROWS)), "beds.xlsx")
        self.check(xlsx)
        self.assertEqual((xlsx.found["format"].value, xlsx.found["sheet"].value), ("workbook (.xlsx)", "Beds"))
        rows = [["" if cell is None else cell for cell in row] for row in ROWS]
        ods = intake.read(open_document(rows), "beds.ods")
        self.check(ods)
        self.assertEqual(ods.found["format"].value, "workbook (.ods)")

    def test_the_block_is_found_below_a_title_and_beside_blanks(self):
        rows = [["Beds of the sound"], [], *[[None, *row] for row in ROWS[:3]], [], [None, *ROWS[3]], [None, *ROWS[4]]]
        result = intake.read(workbook(("Beds", rows)))
        self.check(result)
        self.assertEqual(result.found["block"].value, [3, 8, 2, 4])
        self.assertIn("1 line above it no part", result.found["block"].why)
        self.assertIn("1 empty row in it is no record", result.found["block"].why)
        part = intake.read(workbook(("Beds", rows)), block=(4, 5, 2, 3), header="none")
        self.assertEqual([len(part.table.columns), part.n], [2, 2])

    def test_the_sheet_is_chosen(self):
        data = workbook(("Notes", []), ("One", ROWS), ("Two", [["x"], [1], [2], [4]]))
        self.check(intake.read(data))
        self.assertEqual(intake.read(data).found["sheets"].value, ["Notes", "One", "Two"])
        two = intake.read(data, sheet="Two")
        self.assertEqual((two.table.name, two.table["x"].values.tolist()), ("Two", [1, 2, 4]))
        with self.assertRaises(ChoiceError):
            intake.read(data, sheet="Three")
        with self.assertRaises(ReadError) as raised:
            intake.read(data, sheet="Notes")
        self.assertIn("The sheet Notes holds no value", raised.exception.problem)

    def test_merged_cells_above_the_names_give_them_their_words(self):
        rows = [["batch", "strength", None, None, "kiln"], ["", "one", "two", "three", ""]]
        rows += [[1, 30.5, 31, 32, "A"], [2, 33, 34, 35, "B"]]
        expected = ["batch", "strength one", "strength two", "strength three"]
        result = intake.read(workbook(("Tiles", rows), merged=["B1:D1"]))
        self.assertEqual(result.found["header"].value, "groups-and-names")
        self.assertEqual([column.label for column in result.table.columns.values()][:4], expected)
        text = intake.read(b"batch,strength,,\n,one,two,three\n1,2,3,4\n", header="groups-and-names")
        self.assertEqual([column.label for column in text.table.columns.values()], expected)

    def test_dates_times_and_truths(self):
        rows = [["when", "day", "at", "dry"]]
        rows += [[datetime(2026, 3, i, 8, 30), date(2026, 3, i), time(9, i), i % 2 == 0] for i in range(1, 9)]
        table = intake.read(workbook(("Times", rows))).table
        self.assertEqual(str(table["when"].values[0])[:16], "2026-03-01T08:30")
        self.assertEqual((table["when"].kind, table["day"].kind), ("date-time", "date-time"))
        self.assertEqual(table["dry"].levels, ("false", "true"))


class Columns(unittest.TestCase):
    table = pa.table(
        {
            "mass (g)": pa.array([1.5, None, 0.1 + 0.2, float("nan")]),
            "eggs": pa.array([3, 0, 12, 5], pa.int16()),
            "bed": pa.array(["a", "b", None, "a"]).dictionary_encode(),
            "when": pa.array([datetime(2026, 3, 1, 8), None, datetime(2026, 3, 2), datetime(2026, 3, 3)]),
            "tags": pa.array([["x"], [], None, ["y", "z"]]),
            "small": pa.array([0.1, 0.2, 0.3, 0.4], pa.float32()),
        }
    )

    def check(self, data, name):
        result = intake.read(data, "beds")
        self.assertEqual(result.found["format"].value, name)
        self.assertEqual(result.table["mass"].missing_counts, {"blank": 1, "nan": 1})
        self.assertEqual(result.table["mass"].values[2], 0.1 + 0.2)
        self.assertEqual(result.table["eggs"].values.tolist(), [3, 0, 12, 5])
        self.assertEqual(result.table["bed"].values.tolist(), ["a", "b", None, "a"])
        self.assertEqual(str(result.table["when"].values[0])[:13], "2026-03-01T08")
        self.assertEqual(result.table["small"].values[0], np.float64(np.float32(0.1)))
        self.assertEqual(result.table["tags"].values[0], "['x']")

    def test_parquet_and_both_kinds_of_arrow(self):
        sink = io.BytesIO()
        parquet.write_table(self.table, sink)
        self.check(sink.getvalue(), "Parquet")
        for new in (pa.ipc.new_file, pa.ipc.new_stream):
            sink = io.BytesIO()
            with new(sink, self.table.schema) as writer:
                writer.write_table(self.table)
            self.check(sink.getvalue(), "Arrow")

    def test_a_broken_one_is_refused(self):
        sink = io.BytesIO()
        parquet.write_table(self.table, sink)
        for data in (sink.getvalue()[:-30], b"PAR1" + b"\x00" * 50, b"ARROW1\x00\x00junk"):
            with self.assertRaises(ReadError) as raised:
                intake.read(data)
            self.assertEqual(raised.exception.code, "broken-file")


class Records(unittest.TestCase):
    def test_records_in_three_shapes_keep_their_digits(self):
        listed = b'[{"a": 1.10, "b": "x"}, {"a": null, "c": {"d": [1]}}, {"a": 123456789012345678}]'
        lines = b'{"a": 1.10, "b": "x"}\n{"a": null, "c": {"d": [1]}}\n\n{"a": 123456789012345678}\n'
        under = b'{"data": ' + listed + b"}"
        for data in (listed, lines, under):
            result = intake.read(data, "x.json")
            self.assertEqual((result.n, list(result.table)), (3, ["a", "b", "c"]))
            self.assertEqual(result.table["a"].n_missing, 1)
            self.assertEqual(result.table["c"].values[1], '{"d": ["1"]}')
        columns = intake.read(b'{"a": [1, 2, 3], "b": ["x", "y", null]}')
        self.assertEqual(columns.table["a"].values.tolist(), [1, 2, 3])
        self.assertEqual(columns.found["format"].why, "one list a column")

    def test_numbers_beyond_all_bounds_stay_what_was_written(self):
        result = intake.read(b'[{"a": 1e400}, {"a": 2}, {"a": 3}]')
        self.assertEqual((result.table["a"].kind, result.table["a"].values[0]), ("text", "1e400"))

    def test_what_is_no_record_is_said(self):
        for data, words in (
            (b"[1, 2]", "a single value"),
            (b"[[1], [2]]", "a list"),
            (b"[]", "empty"),
            (b'{"a": 1}\n{"a": \n', "Record 2"),
            (b"[" * 100_000, "Item 1"),
            (b"[{}, {}]", "no record with a field"),
        ):
            with self.subTest(words), self.assertRaises(ReadError) as raised:
                intake.read(data, "x.json")
            self.assertIn(words, raised.exception.problem)

    def test_text_that_only_begins_like_json_stays_text(self):
        self.assertEqual(intake.read(b"[m],b\n1,2\n3,4\n").found["format"].value, "delimited text")


class Packages(unittest.TestCase):
    def test_the_schema_is_respected(self):
        schema = {
            "fields": [
                {"name": "m", "type": "number", "title": "shell mass", "unit": "g"},
                {"name": "day", "type": "date"},
                {"name": "dry", "type": "boolean"},
            ],
            "missingValues": ["", "?", "-99"],
        }
        result = intake.read(package(schema, "m,day,dry\n1.5,2026-03-01,true\n?,2026-03-02,false\n-99,,true\n"))
        mass = result.table["m"]
        self.assertEqual((mass.label, mass.unit, mass.missing_counts), ("shell mass", "g", {"?": 1, "-99": 1}))
        self.assertEqual([result.table[name].kind for name in ("day", "dry")], ["date-time", "category"])
        self.assertEqual(result.found["missing_codes"].why, "the file says so")
        semicolons = package(schema, "m;day;dry\n1.5;2026-03-01;true\n", dialect={"delimiter": ";"}, title="Beds")
        self.assertEqual((intake.read(semicolons).table.name, intake.read(semicolons).n), ("Beds", 1))

    def test_broken_ones(self):
        def archive(**files):
            file = io.BytesIO()
            with zipfile.ZipFile(file, "w") as inside:
                for name, text in files.items():
                    inside.writestr(name.replace("_", "."), text)
            return file.getvalue()

        for data, code in (
            (archive(readme_txt="hello"), "unknown-format"),
            (archive(datapackage_json="{"), "broken-package"),
            (archive(datapackage_json="{}"), "empty-file"),
            (archive(datapackage_json='{"resources": [{"path": "../../etc/passwd"}]}'), "broken-package"),
        ):
            with self.assertRaises(ReadError) as raised:
                intake.read(data)
            self.assertEqual(raised.exception.code, code)


SHEETS = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"


def zipped(files: dict[str, bytes]) -> bytes:
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return sink.getvalue()


def with_sheet(xml: str, path: str = "xl/worksheets/sheet1.xml") -> bytes:
    """A workbook, one of whose files is replaced."""
    with zipfile.ZipFile(io.BytesIO(workbook(("Beds", ROWS)))) as whole:
        return zipped({**{name: whole.read(name) for name in whole.namelist()}, path: xml.encode()})


def ods(rows: str) -> bytes:
    names = ("office", "table", "text")
    spaces = " ".join(f'xmlns:{name}="urn:oasis:names:tc:opendocument:xmlns:{name}:1.0"' for name in names)
    sheet = f"<table:table table:name='S'>{rows}</table:table>"
    body = f"<office:body><office:spreadsheet>{sheet}</office:spreadsheet></office:body>"
    manifest = '<m:manifest xmlns:m="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0"/>'
    return zipped({
        "mimetype": b"application/vnd.oasis.opendocument.spreadsheet", "META-INF/manifest.xml": manifest.encode(),
        "content.xml": f"<office:document-content {spaces}>{body}</office:document-content>".encode(),
    })  # fmt: skip


def arrow(batch: pa.RecordBatch, compression: str | None = None) -> bytes:
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, batch.schema, options=pa.ipc.IpcWriteOptions(compression=compression)) as writer:
        writer.write_batch(batch)
    return sink.getvalue().to_pybytes()


class HostileFiles(unittest.TestCase):
    def refused(self, data: bytes, code: str) -> None:
        with self.assertRaises(ReadError) as raised:
            intake.read(data, "x")
        self.assertEqual(raised.exception.code, code)
        self.assertTrue(raised.exception.problem.endswith("."))

    def test_truncated_and_emptied_workbooks(self):
        data = workbook(("Beds", ROWS))
        for cut in (100, len(data) // 2, len(data) - 10):
            self.refused(data[:cut], "broken-zip")
        with zipfile.ZipFile(io.BytesIO(data)) as whole:
            hollow = io.BytesIO()
            with zipfile.ZipFile(hollow, "w") as archive:
                for name in whole.namelist():
                    archive.writestr(name, b"" if "sheet1" in name else whole.read(name))
        self.refused(hollow.getvalue(), "broken-workbook")

    def test_a_zip_bomb_is_not_opened(self):
        file = io.BytesIO()
        with zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.writestr("xl/workbook.xml", "<workbook/>")
            archive.writestr("xl/worksheets/sheet1.xml", bytes(60_000_000))
        self.assertLess(len(file.getvalue()), 100_000)
        with patch.object(intake.archive, "MOST_UNPACKED", 50_000_000):
            self.refused(file.getvalue(), "too-large-inside")

    def test_an_entity_bomb_is_not_opened(self):
        data = workbook(("Beds", ROWS))
        entities = "".join(f'<!ENTITY e{i} "{f"&e{i - 1};" * 10}">' for i in range(1, 10))
        bomb = f'<?xml version="1.0"?><!DOCTYPE w [<!ENTITY e0 "ha">{entities}]><w>&e9;</w>'
        file = io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(data)) as whole, zipfile.ZipFile(file, "w") as archive:
            for name in whole.namelist():
                archive.writestr(name, bomb if "sheet1" in name else whole.read(name))
        self.refused(file.getvalue(), "empty-file")

    def test_a_sheet_as_tall_as_sheets_can_be(self):
        cells = "".join(f'<row r="{row}"><c r="A{row}"><v>{row}</v></c></row>' for row in range(2, 1_048_577))
        head = '<row r="1"><c r="A1" t="inlineStr"><is><t>x</t></is></c></row>'
        kind = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"
        file = io.BytesIO()
        with (
            zipfile.ZipFile(io.BytesIO(workbook(("Tall", [["x"]])))) as whole,
            zipfile.ZipFile(file, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive,
        ):
            for name in whole.namelist():
                tall = f'<worksheet xmlns="{kind}"><sheetData>{head}{cells}</sheetData></worksheet>'
                archive.writestr(name, tall if "sheet1" in name else whole.read(name))
        read = intake.read(file.getvalue(), "tall.xlsx")
        self.assertEqual((read.n, read.n_missing, read.table["x"].numbers[-1]), (1_048_575, 0, 1_048_576))

    def test_cells_far_from_the_table_are_refused_before_memory_is_taken(self):
        def sheet(*references: str) -> bytes:
            cells = "".join(f'<x:c r="{reference}"><x:v>1</x:v></x:c>' for reference in references)
            return with_sheet(
                f'<x:worksheet xmlns:x="{SHEETS}"><x:sheetData><x:row>{cells}</x:row></x:sheetData></x:worksheet>'
            )

        for reference, code in (
            ("A4000000000", "no-such-cell"), ("ZZZZZZZ2", "no-such-cell"), ("&#65;4000000", "no-such-cell"),
            ("A", "no-such-cell"), ("XFD1048576", "too-many-cells"), ("S1048576", None),
        ):  # fmt: skip
            with self.subTest(reference):
                if code:
                    self.refused(sheet("A1", reference), code)
                else:
                    extent.check_extent(intake.open_archive(sheet("A1", reference)))
        styled = f'<worksheet xmlns="{SHEETS}"><sheetData><row r="1"><c r="A1"><v>1</v></c><c r="B1"><v>2</v></c></row>'
        styled += '<row r="1048576"><c r="XFD1048576" s="0"/></row></sheetData></worksheet>'
        self.assertEqual(intake.read(with_sheet(styled), "x").n, 1)  # a cell without a value is none
        self.refused(
            with_sheet(f'<sst xmlns="{SHEETS}" uniqueCount="4000000000"/>', "xl/sharedStrings.xml"), "broken-workbook"
        )

    def test_cells_said_to_repeat_are_counted_first(self):
        cell = '<table:table-cell office:value-type="float" office:value="1" table:number-columns-repeated="{}"/>'
        row = '<table:table-row table:number-rows-repeated="{}">{}</table:table-row>'
        self.refused(ods(row.format(2_000_000_000, cell.format(2_000_000_000))), "too-many-cells")
        sheets = "</table:table><table:table table:name='T'>".join([row.format(1_000_000, cell.format(11))] * 2)
        self.refused(ods(sheets), "too-many-cells")
        blank = row.format(1, cell.format(2)) * 2 + row.format(2_000_000_000, "<table:table-cell/>")
        self.assertEqual(intake.read(ods(blank), "x").n, 2)

    def test_a_false_size_in_a_zip(self):
        listed = {"datapackage.json": b'{"resources": [{"path": "a.csv"}]}', "a.csv": b"a,b\n1,2\n3,4\n5,6\n7,8\n"}
        for data, needed in ((workbook(("Beds", ROWS)), b"xl/worksheets/sheet1.xml"), (zipped(listed), b"a.csv")):
            at = data.rindex(needed) - 46  # where the archive's list says of it how large it is
            for size in (1, 10, 900_000):
                false = data[: at + 24] + size.to_bytes(4, "little") + data[at + 28 :]
                if size < 20:
                    with self.assertRaises(ReadError):
                        intake.read(false, "x")
                else:  # it holds less than it says
                    self.assertEqual(intake.read(false, "x").n, intake.read(data, "x").n)

    def test_text_that_no_table_can_hold(self):
        title = b'{"resources": [{"path": "a.csv", "title": "\\u0000"}]}'
        for data in (
            b'[{"a": "\\ud800"}]', b'[{"\\ud800": 1}]', b'[{"a": "x\\u0000"}]', b'[{"a\\u0000": 1}]',
            b'{"a": ["\\udfff"]}', json.dumps([{"a" * 5_000: 1}]).encode(),
            zipped({"datapackage.json": title, "a.csv": b"a,b\n1,2\n"}),
        ):  # fmt: skip
            self.refused(data, "unstorable-text")

    def test_a_unit_that_is_none(self):
        data = f"mass,length\n({'u' * 61}),mm\n1,2\n3,4\n".encode()
        with self.assertRaises(ReadError) as raised:
            intake.read(data, header="names-and-units")
        self.assertEqual((raised.exception.code, raised.exception.where), ("long-unit", "header"))
        self.assertEqual(intake.read(data.replace(b"u" * 61, b"u" * 60), header="names-and-units").n, 2)

    def test_package_fields_that_are_not_what_they_must_be(self):
        def package(**resource: object) -> bytes:
            described = {"resources": [{"path": "a.csv", "name": "a", **resource}]}
            return zipped({"datapackage.json": json.dumps(described).encode(), "a.csv": b"a,b\n1,2\n"})

        fields = [{"name": [], "title": {}, "unit": []}, {"missingValues": 5, "categories": {"a": 1}, "kind": {}}]
        for odd in ("x", 5, [], [5], {"fields": "x"}, {"fields": fields, "missingValues": "x"}):
            self.assertEqual(intake.read(package(schema=odd), "x").n, 1, odd)
        self.assertEqual(len(intake.read(package(title="t" * 1_000_000), "x").table.name), 200)
        for delimiter in ("," * 100, 5, ["a"], "\x00"):
            with self.assertRaises(ChoiceError):
                intake.read(package(dialect={"delimiter": delimiter}), "x")

    def test_arrow_that_is_not_what_it_says(self):
        letters = pa.array(["abcdefgh"] * 4)
        wrong = [
            pa.Array.from_buffers(pa.string(), 1, [None, pa.py_buffer(b"\0\0\0\0\2\0\0\0"), pa.py_buffer(b"\xff\xfe")]),
            pa.DictionaryArray.from_arrays(pa.array([0, 99], pa.int32()), pa.array(["x"]), safe=False),
        ]
        for array in wrong:
            self.refused(arrow(pa.record_batch([array], ["a"])), "broken-file")
        self.refused(arrow(pa.record_batch([pa.nulls(2_000_000_000)], ["a"])), "too-many-cells")
        long = pa.DictionaryArray.from_arrays(pa.array(np.zeros(100_000, np.int32)), pa.array(["x" * 1_000_000]))
        self.refused(arrow(pa.record_batch([long], ["a"])), "too-large-inside")
        sink = io.BytesIO()
        parquet.write_table(pa.table({"a": long}), sink)
        self.assertLess(sink.tell(), 2_000_000)
        self.refused(sink.getvalue(), "too-large-inside")
        packed = arrow(pa.record_batch([letters], ["a"]), compression="zstd")
        self.assertEqual(intake.read(packed, "x").n, 4)
        with patch.object(columnar, "MOST_UNPACKED", 40):
            self.refused(packed, "too-large-inside")

    def test_a_sheet_of_very_many_columns(self):
        self.refused(workbook(("Wide", [list(range(5_001)), list(range(5_001))])), "too-many-columns")


class ThousandsMarks(unittest.TestCase):
    def test_marks_between_thousands_are_read_and_said(self):
        for text, decimal in (
            ('a;b\n1,204;x\n950;y\n"12,000.5";z\n', "."),
            ("a;b\n1 204,0;x\n950,0;y\n12 000,5;z\n", ","),
            ("a;b\n1'204;x\n950;y\n12'000.5;z\n", "."),
        ):
            result = intake.read(text.encode(), decimal=decimal)
            self.assertEqual(result.table["a"].values.tolist(), [1204, 950, 12000.5])
            problem = result.problems[0]
            self.assertEqual((problem.code, problem.rows), ("thousands-marks", (0, 2)))
            kept = intake.read(text.encode(), decimal=decimal, **problem.remedies[1].choices)
            self.assertEqual(kept.table["a"].kind, "text")

    def test_marks_elsewhere_are_no_thousands(self):
        result = intake.read(b"a;b\n1,20;x\n12,0000;y\n0,123;z\n", decimal=".")
        self.assertIsNone(result.table["a"].numbers)
        self.assertEqual(result.problems, ())
