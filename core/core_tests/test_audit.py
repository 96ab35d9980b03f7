"""The audit of a table, on data whose faults are known."""

import json
import unittest
from dataclasses import replace
from pathlib import Path

import numpy as np
from heron import intake
from heron.audit import MOST_PATTERNS, audit
from heron.columns import Table

DEMO = Path(__file__).parents[2] / "demo"


def of(text: str, **choices):
    return intake.read(text.encode(), **choices).table


def findings(table, **more):
    return {(finding.code, finding.symbol): finding for finding in audit(table, **more).findings}


class Missing(unittest.TestCase):
    def test_what_is_missing_together(self):
        table = of("a,b,c\n1,2,3\n,,3\n1,,3\n,,4\n5,6,7\n1,1,n/r\n", missing_codes=["n/r"])
        result = audit(table)
        self.assertEqual((result.n_rows, result.n_columns, result.n_complete, result.n_patterns), (6, 3, 2, 4))
        patterns = {pattern.symbols: pattern.n for pattern in result.patterns}
        self.assertEqual(patterns, {(): 2, ("a", "b"): 2, ("b",): 1, ("c",): 1})
        self.assertEqual(result.patterns[0].n, 2)

    def test_many_patterns_are_cut_and_counted(self):
        rng = np.random.default_rng(4)
        cells = np.where(rng.random((400, 8)) < 0.4, "", "7")
        table = of("a,b,c,d,e,f,g,h\n" + "\n".join(",".join(row) for row in cells))
        result = audit(table)
        self.assertEqual(len(result.patterns), MOST_PATTERNS)
        self.assertGreater(result.n_patterns, 100)
        self.assertEqual(result.n_complete, int((cells != "").all(axis=1).sum()))
        counts = [pattern.n for pattern in result.patterns]
        self.assertEqual(counts, sorted(counts, reverse=True))

    def test_more_columns_than_a_whole_number_has_bits(self):
        cells = [["" if (i + j) % 70 == 0 else "1" for j in range(70)] for i in range(6)]
        text = ",".join(f"c{j}" for j in range(70)) + "\n" + "\n".join(",".join(row) for row in cells)
        result = audit(of(text))
        self.assertEqual((result.n_complete, result.n_patterns), (0, 6))
        self.assertIn(("c0",), [pattern.symbols for pattern in result.patterns])

    def test_an_empty_table(self):
        result = audit(Table("none", 0, {}))
        self.assertEqual((result.n_complete, result.patterns, result.findings), (0, (), ()))


class Findings(unittest.TestCase):
    def test_rows_that_repeat_but_for_their_identifier(self):
        names = "".join(f"T{i},{i % 3},{'xy'[i % 2]}\n" for i in range(6))
        table = of("tag,a,b\n" + names + "T7,0,x\nT8,,x\nT9,,x\nTA,9,y\n", kinds={"tag": "identifier"})
        result = findings(table)["repeated-rows", ""]
        self.assertEqual((result.rows.tolist(), result.count), ([0, 6, 7, 8], 4))
        self.assertIn("2 rows repeat another", result.words)
        self.assertNotIn(("repeated-rows", ""), findings(of("a\n1\n2\n3\n")))

    def test_a_missing_value_repeats_only_one_of_the_same_code(self):
        table = of("a,b\nn/r,1\n,1\nn/r,1\n5,2\n7,3\n8,4\n", missing_codes=["n/r"])
        self.assertEqual(findings(table)["repeated-rows", ""].rows.tolist(), [0, 2])

    def test_constants_and_columns_without_a_value(self):
        table = of(
            "flat,none,word,fine\n" + "".join(f"5.5,,same,{i}\n" for i in range(4)), kinds={"none": "continuous"}
        )
        result = findings(table)
        self.assertEqual(
            {key for key in result if key[0] in ("constant", "no-values")},
            {("constant", "flat"), ("no-values", "none"), ("constant", "word")},
        )
        self.assertEqual(result["constant", "flat"].count, 4)

    def test_identifiers_that_repeat(self):
        table = of("tag\n" + "\n".join([*(f"E{i}" for i in range(20)), "E3", "E4"]), kinds={"tag": "identifier"})
        result = findings(table)["repeated-identifiers", "tag"]
        self.assertEqual(result.rows.tolist(), [3, 4, 20, 21])
        self.assertIn("2 values of tag occur more than once", result.words)

    def test_values_beyond_declared_bounds(self):
        table = of("a\n-1.5\n0\n3\n12\n\n")
        self.assertEqual(findings(table, bounds={"a": (0, 10)})["impossible", "a"].rows.tolist(), [0, 3])
        self.assertEqual(findings(table, bounds={"a": (None, 10)})["impossible", "a"].rows.tolist(), [3])
        self.assertEqual(findings(table, bounds={"a": (-2, 12)}), {})

    def test_heaping_is_found_where_it_is_and_nowhere_else(self):
        rng = np.random.default_rng(9)
        honest = rng.integers(0, 100, 500)
        heaped = np.where(rng.random(500) < 0.4, 5 * np.rint(honest / 5), honest).astype(int)
        tenths = np.where(rng.random(500) < 0.5, np.rint(honest / 5) * 0.5, honest / 10)
        text = "honest,heaped,tenths,few\n" + "".join(
            f"{a},{b},{c:.1f},{a % 7}\n" for a, b, c in zip(honest, heaped, tenths, strict=True)
        )
        result = findings(of(text))
        self.assertEqual({symbol for code, symbol in result if code == "heaped"}, {"heaped", "tenths"})
        self.assertTrue(np.all(heaped[result["heaped", "heaped"].rows] % 5 == 0))

    def test_the_demo_tables(self):
        truth = json.loads((DEMO / "truth.json").read_text())
        bus = intake.read(DEMO / "night_bus.csv").table
        heaped = {symbol for code, symbol in findings(bus) if code == "heaped"}
        self.assertEqual(heaped, set(truth["night_bus"]["heaped_at_fives"]))
        oysters = intake.read(DEMO / "oyster_nursery.csv", missing_codes=["n/r", "-99"]).table
        self.assertEqual(findings(oysters), {})
        self.assertEqual(
            audit(oysters).n_complete,
            416
            - len(
                {r for codes in truth["oyster_nursery"]["missing"].values() for rows in codes.values() for r in rows}
            ),
        )

    def test_rows_are_cut_at_a_thousand_and_counted_whole(self):
        column = of("a\n" + "5\n" * 3000)["a"]
        result = findings(Table("t", 3000, {"a": replace(column, kind="continuous")}))["constant", "a"]
        self.assertEqual((result.rows.size, result.count), (1000, 3000))
