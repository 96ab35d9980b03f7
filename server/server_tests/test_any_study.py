"""Whatever was done in a study, its package opens again, and packs to the same."""

from typing import Any
from unittest.mock import patch

from django.db import transaction
from django.test import override_settings
from heron.figure import styles
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from server.records import packages
from server.server_tests.test_packages import PackageCase, contents
from server.studies.models import Study, Table

SYMBOLS = ["tray", "mass", "eggs", "when", "log_mass", "v_1", "v_2", "column_2", "column_3", "value", "group"]
ROWS = st.lists(st.integers(1, 31), min_size=1, max_size=4)
SYMBOL = st.sampled_from(SYMBOLS)
WORDS = st.sampled_from(["=1+1", "cracked", "n/r", "0.5", "a", "b", "é \u202e", "-2", '"x", y', "'"])
DESCRIPTIONS = st.fixed_dictionaries(
    {},
    optional={
        "label": WORDS,
        "unit": st.sampled_from(["mg", "=a", ""]),
        "lower": st.sampled_from([None, 0.5]),
        "upper": st.sampled_from([None, 70.0]),
        "note": WORDS,
        "kind": st.sampled_from(["continuous", "count", "ordered", "category", "text", "identifier"]),
        "decimals": st.integers(0, 4),
        "missing_codes": st.lists(WORDS, max_size=3),
        "true_zero": st.booleans(),
        "levels": st.sampled_from([["b", "a"], ["a", "b"]]),
        "level_labels": st.dictionaries(st.sampled_from("ab"), WORDS, max_size=2),
        "level_numbers": st.dictionaries(st.sampled_from("ab"), st.floats(0, 9), max_size=2),
        "below_limit": st.sampled_from(["missing", "limit", "half"]),
        "target": st.sampled_from([None, 3.0]),
    },
)
WAYS = st.sampled_from(
    [
        {"how": "scale", "setting": {"way": "log"}},
        {"how": "scale", "setting": {"way": "rank"}},
        {"how": "classes", "boundaries": [0, 5, 10, 50], "others": "more"},
        {"how": "recode", "labels": {"a": "x", "b": "x"}},
        {"how": "expression", "text": "2 * mass + eggs"},
        {"how": "along", "take": "difference"},
        {"how": "percent", "row": 3},
        {"how": "pulled-in", "high": 20.0, "rows": [1, 30, 12]},
    ]
)
CHOICES = st.fixed_dictionaries(
    {},
    optional={
        "header": st.sampled_from(["none", "names"]),
        "above": st.integers(0, 3),
        "missing_codes": st.lists(WORDS, max_size=2),
        "kinds": st.sampled_from([{"eggs": "ordered"}, {"mass": "text"}]),
        "below_limits": st.sampled_from([{"eggs": "half"}]),
    },
)
MADE = st.sampled_from(
    [
        {"how": "longer", "sets": {"value": ["mass", "eggs"]}, "marks": ["m", "e"], "mark_name": "which"},
        {"how": "wider", "keys": ["when"], "mark": "tray", "values": ["mass"]},
        {"how": "split", "variable": "when", "at": "-"},
        {"how": "join", "variables": ["tray", "when"], "between": " ", "name": "both"},
        {"how": "stack", "name": "from"},
        {"how": "look-up", "key": "when", "other_key": "when", "symbols": ["mass"]},
        {"how": "part", "conditions": [{"variable": "eggs", "test": "between", "low": 3}], "symbols": []},
        {"how": "simulated", "variable": {"distribution": "normal"}, "groups": [{"n": 5, "name": "=g"}], "seed": 1},
    ]
)
PLATES = st.sampled_from(
    [
        {"kind": "shape", "variable": "mass"},
        {"kind": "groups", "variable": "mass", "by": "tray"},
        {"kind": "pair", "x": "eggs", "y": "mass", "lines": []},
        {"kind": "shape", "variable": "value"},
    ]
)
# Decisions by far the most; each with what it may say. The first number chooses a table.
DEEDS = st.one_of(
    st.tuples(st.sampled_from(["set-aside", "put-back", "keep"]), ROWS, st.one_of(st.just(""), SYMBOL)),
    st.tuples(st.just("describe"), SYMBOL, DESCRIPTIONS),
    st.tuples(st.just("of it"), st.sampled_from(["unit_variable", "weight_variable"]), st.sampled_from(["eggs", ""])),
    st.tuples(st.just("correct"), SYMBOL, st.tuples(st.integers(1, 30), WORDS)),
    st.tuples(st.just("derive"), SYMBOL, WAYS),
    st.tuples(st.just("take-away"), SYMBOL, st.none()),
    st.tuples(st.sampled_from(["undo", "redo"]), st.none(), st.none()),
    st.tuples(st.just("line-up"), SYMBOL, st.none()),
    st.tuples(st.just("reread"), CHOICES, st.none()),
    st.tuples(st.just("make"), MADE, st.integers(0, 3)),
    st.tuples(st.just("remove"), st.none(), st.none()),
    st.tuples(st.just("plate"), PLATES, st.none()),
    st.tuples(st.just("freeze"), st.booleans(), st.none()),
    st.tuples(st.just("classes"), WORDS, st.none()),
)  # fmt: skip


class AnyStudy(PackageCase):
    def take(self, deed: str, first: Any, second: Any, at: int) -> None:
        """One deed on one of the tables; it may be refused, but in words."""
        tables = list(self.study.tables.all())
        if not tables:
            return
        table = tables[at % len(tables)]
        ledger = f"tables/{table.pk}/ledger"
        now = {"revision": table.revision, "reason": "so"}
        if deed in ("set-aside", "put-back", "keep"):
            said = self.act(ledger, {"kind": deed, "rows": first, "variable": second, **now})
        elif deed == "describe":
            said = self.act(f"{ledger}/describe", {"variables": [first], "changes": second, **now})
        elif deed == "of it":
            said = self.act(f"{ledger}/describe", {first: second, **now})
        elif deed == "correct":
            cells = [{"variable": first, "row": second[0], "text": second[1]}]
            said = self.act(f"{ledger}/correct", {"cells": cells, **now})
        elif deed == "derive":
            said = self.act(f"{ledger}/derive", {"of": first, "label": f"of {first}", "way": second, **now})
        elif deed == "take-away":
            said = self.act(f"{ledger}/take-away", {"variable": first, **now})
        elif deed == "line-up":
            said = self.act(f"{ledger}/line-up", {"variable": first, "seed": 3, "place": 2, "seen_before": True, **now})
        elif deed == "reread":
            said = self.act(f"tables/{table.pk}/uploads", {})
            if said.status_code == 200:
                said = self.act(f"uploads/{said.json()['upload_id']}/store-again", {"choices": first})
        elif deed == "make":
            of = [] if first["how"] == "simulated" else [str(table.pk)]
            of += [str(tables[second % len(tables)].pk)] if first["how"] in ("stack", "look-up") else []
            said = self.act(f"studies/{self.study.pk}/made", {"name": f"={first['how']}", "of": of, "options": first})
        elif deed == "remove":
            said = self.client.delete(f"/api/tables/{table.pk}")
        elif deed == "plate":
            document = {"style": styles.ON_SCREEN, "panels": [{"source": {"table": str(table.pk), **first}}]}
            said = self.act(f"studies/{self.study.pk}/plates", {"name": "=a plate", "document": document})
        elif deed == "freeze":
            plate = self.study.plates.first()
            said = plate and self.act(f"plates/{plate.pk}/freeze?on={str(first).lower()}", {})
        elif deed == "classes":
            body = {"name": first, "boundaries": [0, 1, 2], "closed": "left"}
            said = self.act(f"studies/{self.study.pk}/classes", body)
        else:
            said = self.act(f"{ledger}/{deed}", now)
        self.assertTrue(said is None or said.status_code < 500, said and said.content[:500])

    def test_its_package_opens_again_and_packs_to_the_same(self):
        @settings(max_examples=20, suppress_health_check=list(HealthCheck), phases=[Phase.explicit, Phase.generate])
        @given(st.lists(st.tuples(DEEDS, st.integers(0, 3)), min_size=1, max_size=14))
        def holds(actions):
            self.setUp()  # caches go by revisions, which each study reaches by another way
            with transaction.atomic():
                for (deed, first, second), at in actions:
                    self.take(deed, first, second, at)
                self.opens_and_packs_to_the_same()
                transaction.set_rollback(True)

        holds()

    def opens_and_packs_to_the_same(self) -> None:
        for table in self.study.tables.all():
            marked = self.client.get(f"/api/tables/{table.pk}/file?form=csv&marked=true")
            self.assertEqual(marked.status_code, 200)
        package = self.package()
        opened = self.open(package)
        self.assertEqual(opened.status_code, 201, opened.content)
        copy = Study.objects.get(pk=opened.json()["study"])
        for one, two in zip(self.study.tables.all(), copy.tables.all(), strict=True):
            self.same_table(one, two)
        self.same_package(contents(package), contents(self.package(copy)))

    def test_a_table_whose_source_was_removed(self):
        self.take("make", {"how": "part", "conditions": [], "symbols": ["mass"]}, 0, 0)
        part = Table.objects.get(name="=part")
        self.take("remove", None, None, 0)
        opened = self.open(self.package())
        self.assertEqual(opened.status_code, 201, opened.content)
        copy = Table.objects.get(pk=opened.json()["tables"][0])
        self.same_table(part, copy)
        self.assertNotEqual(copy.origin["of"], part.origin["of"])  # so that it cannot name a table of somebody else

    def test_a_value_set_aside_of_a_variable_that_another_reading_lacks(self):
        self.take("set-aside", [2], "mass", 0)
        self.take("reread", {"header": "none"}, None, 0)
        marked = self.client.get(f"/api/tables/{self.table.pk}/file?form=csv&marked=true")
        self.assertEqual((marked.status_code, marked.content.count(b"set aside")), (200, 1))
        self.assertEqual(self.open(self.package()).status_code, 201)

    def test_a_study_without_a_table(self):
        empty = Study.objects.get(pk=self.act("studies", {"title": "Empty"}).json()["id"])
        package = self.package(empty)
        preview = self.bring(package)
        self.assertEqual((preview["package"], preview["variables"]), ({"study": "Empty", "n_tables": 0}, []))
        refused = self.act(f"uploads/{preview['upload_id']}/store", {"name": "x", "choices": {}})
        self.assertEqual((refused.json()["state"], refused.json()["problem"]), ("failed", "The table has no variable."))
        opened = self.open(package).json()
        self.assertEqual((opened["whole"], opened["tables"]), (True, []))
        self.assertEqual(Study.objects.get(pk=opened["study"]).title, "Empty")

    def test_one_too_large_to_be_brought_in_again_is_told_of(self):
        with override_settings(UPLOAD_LIMIT=1_000):
            said = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        self.assert_problem(said, 413, "too-large-package")

    def test_a_package_that_would_not_open_is_not_handed_over(self):
        with patch.object(packages, "_VARIABLE", ("symbol", "label")):
            said = self.act(f"studies/{self.study.pk}/package", {"pictures": {}})
        self.assert_problem(said, 500, "unsound-package")
        self.assertEqual(Study.objects.count(), 1)
