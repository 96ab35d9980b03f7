"""Files that are broken, odd, or made to hurt whoever opens them; each is made when it is asked for."""

import io
import json
import struct
import zipfile
from collections.abc import Callable, Iterator

import numpy as np
import openpyxl
import pyarrow as pa
from pyarrow import parquet

Make = Callable[[], bytes]
_ODS = b"application/vnd.oasis.opendocument.spreadsheet"
_OFFICE = 'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0"'
_TABLE = 'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0"'
_TEXT = 'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"'
_SHEET = "http://schemas.openxmlformats.org/spreadsheetml/2006/main"


def files() -> Iterator[tuple[str, Make]]:
    """Each by its name, which says what is wrong with it."""
    for family in (_texts, _numbers, _json, _zips, _ods, _xlsx, _packages, _arrow, _parquet):
        yield from family().items()


def zipped(entries: dict[str, bytes | str], kind: int = zipfile.ZIP_DEFLATED) -> bytes:
    sink = io.BytesIO()
    with zipfile.ZipFile(sink, "w", kind, compresslevel=1) as archive:
        for path, body in entries.items():
            archive.writestr(path, body)
    return sink.getvalue()


def _texts() -> dict[str, Make]:
    noise = np.random.default_rng(1)
    return {
        "empty.csv": lambda: b"",
        "blanks.csv": lambda: b" \t\r\n" * 1_000,
        "byte-order-mark.csv": lambda: b"\xef\xbb\xbf",
        "wide-mark.csv": lambda: b"\xff\xfe",
        "half-a-wide-character.csv": lambda: "a,b\n1,2\n".encode("utf-16") + b"\x31",
        "nul.csv": lambda: b"a,b\n1,\x00\n",
        "all-nul.csv": lambda: bytes(100_000),
        "every-byte.csv": lambda: bytes(range(256)) * 40,
        "noise.csv": lambda: noise.bytes(100_000),
        "noise-without-nul.csv": lambda: noise.bytes(200_000).replace(b"\x00", b"\x01"),
        "one-character.csv": lambda: b"a",
        "one-comma.csv": lambda: b",",
        "commas.csv": lambda: b"," * 1_000_000,
        "lines.csv": lambda: b"\n" * 10_000_000,
        "carriage-returns.csv": lambda: b"a\r1\r" * 100_000,
        "quote.csv": lambda: b'a,b\n"1,2\n3,4\n',
        "quotes.csv": lambda: b'"' * 1_000_000,
        "quotes-and-lines.csv": lambda: b'"\n' * 300_000,
        "one-long-field.csv": lambda: b'a,b\n"' + b"x" * 9_000_000 + b'",1\n',
        "one-long-line.csv": lambda: b"x" * 30_000_000,
        "wide.csv": lambda: b",".join(b"c%d" % i for i in range(200_000)) + b"\n1,2\n",
        "ragged.csv": lambda: b"".join(b"1," * (i % 90) + b"2\n" for i in range(560_000)),
        "ragged-and-wide.csv": lambda: b"a,b\n1,2\n" + b"1," * 9_000 + b"\n",
        "one-name-often.csv": lambda: b",".join([b"a"] * 4_000) + b"\n" + b",".join([b"1"] * 4_000),
        "long-name.csv": lambda: b"n" * 100_000 + b",b\n1,2\n",
        "long-unit.csv": lambda: b"width (" + b"m" * 5_000 + b")\n1\n",
        "header-alone.csv": lambda: b"a,b,c\n",
        "comments.csv": lambda: b"# nothing\n" * 10_000,
        "right-to-left.csv": lambda: "\u202ea,\u200fb\n1,2\n".encode(),
        "words-to-run.csv": lambda: b"=1+1,@x\n=cmd,+1\n-2+3,-x\n",
        "two-encodings.csv": lambda: "a,b\né,1\n".encode() + "ü,2\n".encode("latin-1"),
        "labels-all-unlike.csv": lambda: b"a\n" + b"\n".join(b"w%d" % i for i in range(300_000)),
        "blanks-between.csv": lambda: (b"a" + b" " * 500 + b"b\n") * 2_000,
        "script.csv": lambda: b"<script>alert(1)</script>,b\n1,2\n",
        "picture.csv": lambda: b"\x89PNG\r\n\x1a\n" + noise.bytes(1_000),
        "document.csv": lambda: b"%PDF-1.7 " + noise.bytes(1_000),
        "old-office.xls": lambda: b"\xd0\xcf\x11\xe0" + noise.bytes(5_000),
        "gzip.csv": lambda: b"\x1f\x8b" + noise.bytes(100),
    }


def _numbers() -> dict[str, Make]:
    def column(*cells: str) -> Make:
        return lambda: "\n".join(["a", *cells]).encode()

    return {
        "beyond.csv": column("1e400", "-1e400", "1e-400", "1"),
        "long-digits.csv": column("1" * 100_000, "2"),
        "words-for-numbers.csv": column("nan", "inf", "-inf", "NaN", "Infinity"),
        "other-digits.csv": column("٣", "४", "１", "²"),
        "signs.csv": column("+", "-", "--1", "+-1", "1e", "e5", ".", "1.2.3"),
        "thousands.csv": column("1,000,000.5", "1.000.000,5", "1'000", "1 000"),
        "limits.csv": column("<", "<1e999", "<<1", "< 0.5", ">3"),
        "dates-that-are-none.csv": column("2026-13-45", "0000-00-00", "9999-99-99", "2026-02-30"),
        "far-dates.csv": column("0001-01-01", "9999-12-31", "99999-01-01", "1899-12-30"),
        "zones.csv": column("2026-01-01T00:00+99:99", "2026-01-01T00:00Z", "2026-01-01T24:00"),
        "months.csv": column("1 Foo 2026", "Jan 99, 2026", "31 February 2026"),
        "alternate.csv": column(*(str(i) if i % 2 else f"x{i}" for i in range(50_000))),
    }


def _json() -> dict[str, Make]:
    def text(said: object) -> Make:
        return lambda: json.dumps(said).encode()

    return {
        "deep-list.json": lambda: b"[" * 200_000 + b"]" * 200_000,
        "deep-object.json": lambda: b'{"a":' * 200_000 + b"1" + b"}" * 200_000,
        "deep-cell.json": lambda: b'[{"a":' + b"[" * 100_000 + b"]" * 100_000 + b"}]",
        "rather-deep-cell.json": lambda: b'[{"a":' + b"[" * 900 + b"]" * 900 + b"}]",
        "broken-off.json": lambda: b'[{"a": 1}, {"a": ',
        "behind-the-list.json": lambda: b'[{"a": 1}] [',
        "no-comma.json": lambda: b'[{"a": 1} {"a": 2}]',
        "brackets.json": lambda: b"[{}, {}, {}]",
        "object.json": text({}),
        "list.json": text([]),
        "values.json": text([1, "a", None]),
        "lists.json": text([[1, 2], [3, 4]]),
        "mixed.json": text([{"a": 1}, 2]),
        "unlike-lists.json": text({"a": [1, 2], "b": [1]}),
        "words-for-numbers.json": lambda: b'[{"a": NaN, "b": Infinity, "c": -Infinity}]',
        "long-number.json": lambda: b'[{"a": ' + b"9" * 500_000 + b"}]",
        "exponent.json": lambda: b'[{"a": 1e999999999}]',
        "half-a-character.json": lambda: b'[{"a": "\\ud800"}, {"\\udfff": 1}]',
        "nul.json": lambda: b'[{"a": "\\u0000"}]',
        "nul-in-a-name.json": lambda: b'[{"a\\u0000": 1}]',
        "wide.json": lambda: json.dumps([{f"c{i}": 1 for i in range(20_000)}]).encode(),
        "new-names-each-time.json": lambda: json.dumps([{f"c{i}": 1} for i in range(6_000)]).encode(),
        "one-name-twice.json": lambda: b'[{"a": 1, "a": 2}]',
        "empty-name.json": text([{"": 1, " ": 2}]),
        "wide-characters.json": lambda: '[{"a": 1}]'.encode("utf-16"),
        "long-list.json": lambda: b"[" + b"{}," * 2_000_000 + b'{"a": 1}]',
        "cells-of-lists.json": lambda: json.dumps([{"a": list(range(50))}] * 20_000).encode(),
        "no-record-a-line.jsonl": lambda: b'{"a": 1}\n[2]\n',
    }


def _zips() -> dict[str, Make]:
    whole = zipped({"mimetype": _ODS, "content.xml": b"<a/>"})

    def changed(at: int, to: bytes) -> Make:
        return lambda: whole[:at] + to + whole[at + len(to) :]

    def twice() -> bytes:
        sink = io.BytesIO()
        with zipfile.ZipFile(sink, "w") as archive:
            archive.writestr("mimetype", _ODS)
            archive.comment = b"c" * 60_000
        return sink.getvalue().replace(b"mimetype", b"mimetyp\x00")

    said = whole.index(b"PK\x01\x02")
    return {
        "begins-as-zip.zip": lambda: b"PK\x03\x04" + bytes(100),
        "nothing-in-it.zip": lambda: zipped({}),
        "cut-off.zip": lambda: whole[: len(whole) // 2],
        "unknown-method.zip": changed(said + 10, struct.pack("<H", 99)),
        "locked.zip": changed(said + 8, struct.pack("<H", 1)),
        "false-digest.zip": changed(said + 16, b"\x00\x00\x00\x00"),
        "false-size.zip": changed(said + 24, struct.pack("<I", 2**31)),
        "false-packed-size.zip": changed(said + 20, struct.pack("<I", 2**31)),
        "false-place.zip": changed(said + 42, struct.pack("<I", 2**31)),
        "name-with-nul.zip": twice,
        "many-entries.zip": lambda: zipped({f"{i}": b"" for i in range(120_000)}, zipfile.ZIP_STORED),
        "zip-in-zip.zip": lambda: zipped({"xl/workbook.xml": zipped({"a": bytes(10_000_000)})}),
        "other-things.zip": lambda: zipped({"../../etc/passwd": b"x", "/root": b"y", "a\\b": b"z"}),
        "large-kind.zip": lambda: zipped({"mimetype": bytes(100_000_000)}),
    }


def _ods() -> dict[str, Make]:
    def book(rows: str, before: str = "") -> Make:
        body = (
            f"{before}<office:document-content {_OFFICE} {_TABLE} {_TEXT}><office:body><office:spreadsheet>"
            f'<table:table table:name="S">{rows}</table:table>'
            "</office:spreadsheet></office:body></office:document-content>"
        )
        return lambda: zipped({"mimetype": _ODS, "content.xml": body, "META-INF/manifest.xml": "<m/>"})

    cell = '<table:table-cell office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell>'
    row = f"<table:table-row>{cell}</table:table-row>"
    often = '<table:table-row table:number-rows-repeated="%d">%s</table:table-row>'
    wide = '<table:table-cell office:value-type="float" office:value="1" table:number-columns-repeated="%d"/>'
    laughs = "".join(f'<!ENTITY l{i} "{f"&l{i - 1};" * 10}">' for i in range(1, 10))
    entities = f'<?xml version="1.0"?><!DOCTYPE d [<!ENTITY l0 "ha">{laughs}]>'
    return {
        "rows-repeated.ods": book(often % (2**31, cell)),
        "rows-repeated-often.ods": book((often % (1_000_000, cell)) * 40),
        "columns-repeated.ods": book(f"<table:table-row>{wide % 2**31}</table:table-row>"),
        "both-repeated.ods": book(often % (100_000, wide % 10_000)),
        "repeated-less-than-never.ods": book(often % (-5, cell)),
        "repeated-words.ods": book(
            row.replace("<table:table-row>", '<table:table-row table:number-rows-repeated="x">')
        ),
        "entities.ods": book(row.replace("<text:p>1", "<text:p>&l9;"), entities),
        "outside-entity.ods": book(row, '<!DOCTYPE d [<!ENTITY x SYSTEM "file:///etc/passwd">]>'),
        "deep.ods": book("<table:table-row-group>" * 50_000),
        "no-sheet.ods": lambda: zipped({"mimetype": _ODS, "content.xml": "<a/>"}),
        "no-content.ods": lambda: zipped({"mimetype": _ODS}),
        "no-xml.ods": lambda: zipped({"mimetype": _ODS, "content.xml": b"\x00\xff" * 1_000}),
        "blank-content.ods": lambda: zipped({"mimetype": _ODS, "content.xml": bytes(200_000_000)}),
        "number-beyond.ods": book(row.replace('value="1"', 'value="1e999"')),
        "date-that-is-none.ods": book(row.replace('"float"', '"date"').replace("office:value=", "office:date-value=")),
        "empty-sheet.ods": book(""),
    }


def _xlsx() -> dict[str, Make]:
    sink = io.BytesIO()
    openpyxl.Workbook().save(sink)
    with zipfile.ZipFile(sink) as archive:
        whole: dict[str, bytes | str] = {name: archive.read(name) for name in archive.namelist()}

    def book(sheet: str, strings: str = "") -> Make:
        changed = {"xl/worksheets/sheet1.xml": f'<worksheet xmlns="{_SHEET}">{sheet}</worksheet>'}
        if strings:
            changed["xl/sharedStrings.xml"] = f'<sst xmlns="{_SHEET}" count="4000000000">{strings}</sst>'
        return lambda: zipped(whole | changed)

    def rows(*cells: str) -> str:
        return f'<sheetData><row r="1">{"".join(cells)}</row></sheetData>'

    one = '<c r="A1"><v>1</v></c>'
    return {
        "says-it-is-huge.xlsx": book('<dimension ref="A1:XFD1048576"/>' + rows(one)),
        "two-corners.xlsx": book(
            f'<sheetData><row r="1">{one}</row><row r="1048576"><c r="XFD1048576"><v>2</v></c></row></sheetData>'
        ),
        "beyond-the-sheet.xlsx": book(rows(one, '<c r="ZZZZZZ99999999"><v>2</v></c>')),
        "no-reference.xlsx": book(rows("<c><v>1</v></c>", '<c r="??"><v>2</v></c>')),
        "reference-zero.xlsx": book(rows('<c r="A0"><v>1</v></c>')),
        "missing-string.xlsx": book(rows('<c r="A1" t="s"><v>99</v></c>')),
        "string-less-than-none.xlsx": book(rows('<c r="A1" t="s"><v>-1</v></c>')),
        "many-strings.xlsx": book(
            rows('<c r="A1" t="s"><v>0</v></c>'),
            "<si><t>x</t></si>" * 400_000,
        ),
        "errors.xlsx": book(rows('<c r="A1" t="e"><v>#DIV/0!</v></c>', '<c r="B1" t="e"><v>#what?</v></c>')),
        "merged.xlsx": book(rows(one) + '<mergeCells><mergeCell ref="A1:XFD1048576"/></mergeCells>'),
        "merged-nonsense.xlsx": book(rows(one) + '<mergeCells><mergeCell ref="B2:A1"/></mergeCells>'),
        "number-beyond.xlsx": book(rows('<c r="A1"><v>1e999</v></c>', '<c r="B1"><v>x</v></c>')),
        "date-beyond.xlsx": book(rows('<c r="A1" t="d"><v>99999-99-99</v></c>')),
        "cut-off.xlsx": book("<sheetData><row r='1'><c r='A1'><v>1"),
        "no-sheet.xlsx": lambda: zipped(whole | {"xl/workbook.xml": "<workbook/>"}),
        "blank-book.xlsx": lambda: zipped({"xl/workbook.xml": bytes(200_000_000)}),
        "deep.xlsx": book("<a>" * 100_000),
        "formula.xlsx": book(rows('<c r="A1"><f>WEBSERVICE("http://x.example")</f><v>1</v></c>')),
        "long-text.xlsx": book(rows('<c r="A1" t="inlineStr"><is><t>' + "x" * 5_000_000 + "</t></is></c>")),
    }


def _packages() -> dict[str, Make]:
    def package(described: object, **files: bytes) -> Make:
        said = {"datapackage.json": json.dumps(described).encode()}
        return lambda: zipped(said | {f"{name}.csv": body for name, body in files.items()})

    table = {"name": "a", "path": "a.csv"}
    small = b"a,b\n1,2\n3,4\n"

    def of(**more: object) -> Make:
        return package({"resources": [{**table, **more}]}, a=small)

    mark = {"study": "study.json", "ledger": "ledger.json"}

    def study(said: bytes, ledger: bytes = b"{}", **files: bytes) -> Make:
        described = json.dumps({"velvet-heron": mark, "resources": [table]})
        whole = {"datapackage.json": described.encode(), "study.json": said, "ledger.json": ledger, "a.csv": small}
        return lambda: zipped(whole | {f"stored/{name}": body for name, body in files.items()})

    chunk = json.dumps({"tables": [{"variables": [{"chunks": ["stored/0"]}]}]}).encode()
    return {
        "no-json.zip": lambda: zipped({"datapackage.json": b"{"}),
        "deep-json.zip": lambda: zipped({"datapackage.json": b"[" * 500_000}),
        "long-json.zip": lambda: zipped({"datapackage.json": b'{"a": "' + b"x" * 200_000_000}),
        "a-list.zip": package([]),
        "no-tables.zip": package({"resources": {}}),
        "odd-tables.zip": package({"resources": [1, None, {"path": 5}, {"path": ["a.csv"]}]}),
        "path-away.zip": package({"resources": [{"path": "../../etc/passwd"}]}),
        "path-of-a-server.zip": package({"resources": [{"path": "https://elsewhere.example/a.csv"}]}),
        "path-of-itself.zip": package({"resources": [{"path": "datapackage.json"}]}),
        "odd-schema.zip": of(schema={"fields": 5, "missingValues": "x"}),
        "odd-fields.zip": of(schema={"fields": [1, {"name": 5, "type": [], "categories": [None, {}]}]}),
        "many-fields.zip": of(schema={"fields": [{"name": f"f{i}"} for i in range(50_000)]}),
        "odd-dialect.zip": of(dialect={"delimiter": "ab", "header": "no"}),
        "long-codes.zip": of(schema={"fields": [], "missingValues": [str(i) for i in range(5_000)]}),
        "named-twice.zip": package({"resources": [table, {**table, "path": "b.csv"}]}, a=small, b=small),
        "400-tables.zip": package(
            {"resources": [{"name": f"t{i}", "path": f"t{i}.csv"} for i in range(400)]},
            **{f"t{i}": small for i in range(400)},
        ),
        "20000-tables.zip": package(
            {"resources": [{"name": f"t{i}", "path": f"t{i}.csv"} for i in range(20_000)]}, t0=small
        ),
        "opens-to-a-billion.zip": package({"resources": [table]}, a=b"1,2\n" * 250_000_000),
        "odd-study.zip": study(b"[]"),
        "study-no-json.zip": study(b"\x00"),
        "deep-study.zip": study(b'{"tables":' + b"[" * 300_000),
        "long-study.zip": study(b'{"title": "' + b"x" * 200_000_000 + b'"}'),
        "odd-tables-in-study.zip": study(b'{"tables": [1, {"variables": 2}, {"variables": [3]}]}'),
        "no-chunk.zip": study(chunk, **{"0": b"\xff\xff\xff\xff" + bytes(40)}),
        "chunk-that-opens-wide.zip": study(chunk, **{"0": _stream(_zeros(200_000_000), "zstd")}),
        "many-files.zip": study(b'{"tables": []}', **{str(i): b"x" for i in range(30_000)}),
    }


def _zeros(n: int) -> pa.RecordBatch:
    return pa.record_batch([pa.array(np.zeros(n))], names=["a"])


def _stream(batch: pa.RecordBatch, packed: str | None = None) -> bytes:
    sink = pa.BufferOutputStream()
    with pa.ipc.new_stream(sink, batch.schema, options=pa.ipc.IpcWriteOptions(compression=packed)) as stream:
        stream.write_batch(batch)
    return sink.getvalue().to_pybytes()


def _flipped(whole: bytes, name: str, n: int) -> dict[str, Make]:
    """One file with a byte changed, n times."""

    def flip(at: int) -> Make:
        return lambda: whole[:at] + bytes([whole[at] ^ 0x5F]) + whole[at + 1 :]

    return {f"byte-{at}-changed.{name}": flip(at) for at in np.linspace(8, len(whole) - 1, n).astype(int)}


def _of(name: str, array: pa.Array) -> dict[str, Make]:
    return {f"{name}.arrow": lambda: _stream(pa.record_batch([array], names=["a"]))}


def _arrow() -> dict[str, Make]:
    words = pa.DictionaryArray.from_arrays(pa.array(np.zeros(900, np.int8)), pa.array(["x" * 2_000_000]))
    nested = pa.array([[1]])
    for _ in range(60):
        nested = pa.ListArray.from_arrays(pa.array([0, 1], pa.int32()), nested)
    small = _stream(pa.record_batch([pa.array([1.0, 2.0]), pa.array(["x", None])], names=["a", "b"]))
    return {
        "one-long-word-often.arrow": lambda: _stream(pa.record_batch([words], names=["a"]), "zstd"),
        "zeros.arrow": lambda: _stream(_zeros(300_000_000), "zstd"),
        "cut-off.arrow": lambda: small[: len(small) // 2],
        "no-columns.arrow": lambda: _stream(pa.record_batch([], names=[])),
        "no-rows.arrow": lambda: _stream(pa.record_batch([pa.array([], pa.float64())], names=["a"])),
        "wide.arrow": lambda: _stream(
            pa.record_batch([pa.array([1])] * 20_000, names=[f"c{i}" for i in range(20_000)])
        ),
        "one-name-twice.arrow": lambda: _stream(pa.record_batch([pa.array([1])] * 2, names=["a", "a"])),
        **_of("deep", nested),
        **_of("nulls", pa.nulls(1_000)),
        **_of("far-times", pa.array([2**62, -(2**62)], pa.timestamp("s"))),
        **_of("spans", pa.array([2**62], pa.duration("s"))),
        **_of("long-decimals", pa.array([10**70], pa.decimal256(76, 2))),
        **_of("bytes", pa.array([b"\xff\x00", None])),
        **_of("structures", pa.array([{"x": [{"y": 2}]}] * 10)),
        **_of(
            "union", pa.UnionArray.from_sparse(pa.array([0, 1], pa.int8()), [pa.array([1, 2]), pa.array(["a", "b"])])
        ),
        **_of("runs", pa.RunEndEncodedArray.from_arrays(pa.array([2**30], pa.int32()), pa.array([1.5]))),
        **_of("nul-in-text", pa.array(["a\x00b"])),
        **_flipped(small, "arrow", 16),
    }


def _parquet() -> dict[str, Make]:
    def written(table: pa.Table, **how: object) -> bytes:
        sink = io.BytesIO()
        parquet.write_table(table, sink, **how)
        return sink.getvalue()

    small = written(pa.table({"a": [1.0, 2.0, None], "b": ["x", "y", None]}))
    return {
        "150-million-equal-numbers.parquet": lambda: written(pa.table({"a": pa.repeat(1.5, 150_000_000)})),
        "long-word-often.parquet": lambda: written(pa.table({"a": pa.repeat("x" * 100_000, 10_000)})),
        "no-columns.parquet": lambda: written(pa.table({})),
        "no-rows.parquet": lambda: written(pa.table({"a": pa.array([], pa.float64())})),
        "foot-alone.parquet": lambda: b"PAR1" + struct.pack("<I", 2**31) + b"PAR1",
        "cut-off.parquet": lambda: small[:-20],
        **_flipped(small, "parquet", 16),
    }
