"""Files of any length, part by part: what comes is what reading them at once gives."""

import tempfile
import unittest
from pathlib import Path

import numpy as np
import pyarrow as pa
from heron.columns import joined_columns
from heron.errors import ReadError
from heron.intake import look_through, read
from pyarrow import parquet

N = 5_000
rng = np.random.default_rng(7)
NUMBERS = np.round(rng.normal(20, 4, N), 2)
BOUNDS = (0, 1, 700, 700, 4_096, N)


def text(delimiter=",", decimal="."):
    """A file whose words for missing, decimals and last level stand only near its end."""
    lines = [delimiter.join(("mass (g)", "eggs", "bed", "day"))]
    for i, mass in enumerate(NUMBERS.tolist()):
        written = "n/r" if i == N - 2 else f"{mass:.2f}".replace(".", decimal)
        bed = "zone 9" if i == N - 1 else "ab"[i % 2]
        lines.append(delimiter.join((written, "" if i % 50 == 0 else str(i % 7), bed, f"2026-01-{i % 28 + 1:02d}")))
    return "\n".join(lines) + "\n"


class PartByPart(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def whole(self, path, start=0):
        """The file put together of its parts, from one of them on."""
        parts = list(look_through(path).rows(BOUNDS, start))
        self.assertEqual([part.n_rows for part in parts], np.diff(BOUNDS)[start:].tolist())
        return {symbol: joined_columns([part[symbol] for part in parts]) for symbol in parts[0]}

    def assert_alike(self, columns, table, start=0):
        self.assertEqual(list(columns), list(table))
        for symbol, column in columns.items():
            expected = table[symbol].rows(BOUNDS[start], N)
            with self.subTest(symbol):
                self.assertEqual(
                    (column.kind, column.label, column.unit), (expected.kind, expected.label, expected.unit)
                )
                self.assertEqual(column.decimals, expected.decimals)
                np.testing.assert_array_equal(column.values.astype(str), expected.values.astype(str))
                self.assertEqual(column.missing_counts, expected.missing_counts)

    def test_delimited_text_with_what_stands_only_at_its_end(self):
        for delimiter, decimal in ((",", "."), (";", ","), ("\t", ".")):
            path = self.folder / "beds.csv"
            path.write_text(text(delimiter, decimal))
            with self.subTest(delimiter=delimiter):
                self.assert_alike(self.whole(path), read(path).table)
                self.assert_alike(self.whole(path, 3), read(path).table, 3)

    def test_parquet_and_arrow_with_their_types(self):
        masses = np.where(np.arange(N) == 3, np.nan, NUMBERS)
        table = pa.table({
            "mass (g)": masses, "eggs": pa.array(np.arange(N) % 7, pa.int16()),
            "bed": pa.array(["ab"[i % 2] for i in range(N)]).dictionary_encode(),
            "day": pa.array(np.datetime64("2026-01-01") + np.arange(N) % 28),
        })  # fmt: skip
        paths = [self.folder / name for name in ("beds.parquet", "beds.arrow", "stream.arrows")]
        parquet.write_table(table, paths[0], row_group_size=999)
        with pa.OSFile(str(paths[1]), "wb") as sink, pa.ipc.new_file(sink, table.schema) as writer:
            writer.write_table(table, max_chunksize=1_234)
        with pa.OSFile(str(paths[2]), "wb") as sink, pa.ipc.new_stream(sink, table.schema) as writer:
            writer.write_table(table, max_chunksize=1_234)
        for path in paths:
            with self.subTest(path.suffix):
                self.assert_alike(self.whole(path), read(path).table)

    def test_what_cannot_be_read_in_parts_is_refused_or_left_out_in_words(self):
        path = self.folder / "x.json"
        path.write_text('[{"a": 1}, {"a": 2}]')
        with self.assertRaises(ReadError) as refused:
            look_through(path)
        self.assertEqual(refused.exception.code, "not-in-parts")
        many = self.folder / "many.parquet"
        parquet.write_table(pa.table({"name": [f"row {i}" for i in range(70_000)], "x": range(70_000)}), many)
        found = look_through(many)
        self.assertEqual([column.symbol for column in found.columns], ["x"])
        self.assertIn("name was left out", found.notes[0])
        broken = self.folder / "broken.parquet"
        broken.write_bytes(many.read_bytes()[:-30] + b"PAR1")
        with self.assertRaises(ReadError):
            look_through(broken)
