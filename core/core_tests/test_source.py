"""What a picture is of: kept without loss, and refused in words where a role is not filled."""

import json
import unittest
from dataclasses import MISSING, fields
from typing import Any, get_args, get_origin, get_type_hints
from uuid import UUID

from heron.columns import Table
from heron.errors import InputError
from heron.figure import build, from_json
from heron.figure.source import KINDS, Only
from heron.ledger import TablesAsImports, TableState, TableView
from hypothesis import given, settings
from hypothesis import strategies as st

TABLE = UUID("7b7f6c9e-0000-4000-8000-000000000000")


def values_of(hint: Any) -> st.SearchStrategy[Any]:
    """Values of a field, by its type."""
    origin, args = get_origin(hint), get_args(hint)
    if hint is UUID:
        return st.uuids()
    if hint is Only:
        return st.builds(Only, by=st.text(max_size=9), level=st.text(max_size=9))
    if origin is tuple:
        return st.lists(values_of(args[0]), max_size=4).map(tuple)
    if origin is not None and str(origin).endswith("Literal"):
        return st.sampled_from(args)
    if args:
        return st.one_of([values_of(arg) for arg in args])
    simple = {str: st.text(max_size=9), int: st.integers(0, 99), bool: st.booleans(), type(None): st.none()}
    return simple.get(hint, st.floats(0.01, 0.99))


def sources(kind: Any) -> st.SearchStrategy[Any]:
    hints = get_type_hints(kind)
    return st.builds(
        kind, **{field.name: values_of(hints[field.name]) for field in fields(kind) if field.name != "kind"}
    )


class Sources(unittest.TestCase):
    @settings(max_examples=60)
    @given(st.sampled_from(list(KINDS.values())).flatmap(sources))
    def test_are_written_and_read_without_loss(self, source: Any) -> None:
        self.assertEqual(from_json(json.loads(json.dumps(source.to_json()))), source)
        self.assertLessEqual(set(source.SYMBOLS), set(source.to_json()))

    def test_of_each_kind_one_whose_roles_are_empty_is_refused_with_the_role(self) -> None:
        state = TableState(imports=TablesAsImports(Table("t", 0, {})))
        for name, kind in KINDS.items():
            needed = [field.name for field in fields(kind) if field.default is MISSING and field.name != "table"]
            self.assertTrue(needed, name)
            with self.assertRaises(InputError) as caught:
                build(kind(table=TABLE, **dict.fromkeys(needed, "")), TableView("t", state))
            self.assertEqual((caught.exception.code, caught.exception.where), ("lacking", needed[0]), name)

    def test_a_kind_that_there_is_not_is_refused(self) -> None:
        with self.assertRaises(InputError) as caught:
            from_json({"kind": "pie", "table": str(TABLE)})
        self.assertEqual(caught.exception.code, "no-kind")
