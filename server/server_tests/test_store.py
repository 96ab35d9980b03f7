"""Columns and files in PostgreSQL: what goes in comes out."""

import hashlib
from dataclasses import replace

import numpy as np
from django.test import TestCase, override_settings
from heron import intake

from server.problems import Refusal
from server.server_tests.cases import person, stored
from server.studies import selectors, services, store
from server.studies.models import Chunk, Piece, SourceFile, Table

MIXED = "n,word,time\n" + "\n".join(
    f"{i * 0.5 if i % 7 else 'n/r'},w{i % 3},2026-01-01 00:00:{i % 60:02d}" for i in range(140_000)
)


class Columns(TestCase):
    def test_every_kind_comes_back_as_it_was_in_three_chunks(self):
        read = intake.read(MIXED.encode()).table
        table = stored(person("ada"), MIXED)
        self.assertEqual(Chunk.objects.filter(variable__table=table).count(), 9)
        for variable in table.variables.all():
            column, before = store.load(variable), read[variable.symbol]
            self.assertEqual(
                (column.kind, column.levels, column.missing_codes), (before.kind, before.levels, before.missing_codes)
            )
            np.testing.assert_array_equal(column.reasons, before.reasons)
            np.testing.assert_array_equal(column.values, before.values)

    def test_an_empty_column_stays_what_it_was(self):
        column = intake.read(b"a,b\n1,x\n", header="names").table["a"]
        empty = replace(column, numbers=column.numbers[:0], reasons=column.reasons[:0])
        variable = stored(person("ada"), "a\n1\n").variables.get()
        self.assertEqual(store.decode(variable, list(store.encode(empty))).n_rows, 0)

    def test_the_small_pictures(self):
        shapes = {
            v.symbol: v.shape
            for v in stored(
                person("ada"),
                "tag,size,sort,flat\n" + "\n".join(f"T{i},{i**3 / 8},{'ab'[i % 3 == 0]},5.5" for i in range(60)),
            ).variables.all()
        }
        self.assertEqual(shapes["tag"], [])
        self.assertEqual(shapes["sort"], [1.0, 0.5])
        self.assertEqual((len(shapes["size"]), max(shapes["size"])), (32, 1.0))
        self.assertGreater(shapes["size"][0], shapes["size"][-1])
        self.assertEqual(shapes["flat"], [1.0])


class Files(TestCase):
    def test_a_file_is_kept_byte_for_byte_with_its_digest(self):
        data = np.random.default_rng(1).bytes(9_000_001)
        file = services.keep_file("noise.bin", [data[i : i + 700_000] for i in range(0, len(data), 700_000)])
        self.assertEqual((file.size, Piece.objects.filter(file=file).count()), (9_000_001, 3))
        self.assertEqual(file.sha256, hashlib.sha256(data).hexdigest())
        self.assertEqual(selectors.file_bytes(file), data)
        self.assertEqual(list(map(len, selectors.file_pieces(file)))[:1], [4_000_000])

    @override_settings(UPLOAD_LIMIT=1_000_000)
    def test_a_file_that_grows_beyond_the_limit_leaves_nothing(self):
        with self.assertRaises(Refusal) as raised:
            services.keep_file("big.csv", [b"x" * 600_000] * 3)
        self.assertEqual(raised.exception.status, 413)
        self.assertFalse(SourceFile.objects.exists())

    def test_removing_a_table_removes_its_file_unless_another_came_from_it(self):
        table = stored(person("ada"))
        twin = Table.objects.create(study=table.study, name="twin", n_rows=1, source=table.source)
        services.remove_table(table.study.owner, table)
        self.assertTrue(SourceFile.objects.exists())
        services.remove_table(twin.study.owner, twin)
        self.assertFalse(SourceFile.objects.exists() or Piece.objects.exists() or Chunk.objects.exists())
