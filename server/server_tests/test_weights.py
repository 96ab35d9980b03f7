"""A table with frequency weights gives what the table with its rows repeated gives, or refuses in words."""

import re
from pathlib import Path
from typing import Any

import numpy as np
from heron import ledger

from server.api import api
from server.server_tests.cases import StudyCase, stored, unpacked
from server.studies.snapshots import TableSnapshot

PAIR = {"x": "length", "y": "mass"}
LENGTH = {"variable": "length"}
TAKEN: dict[str, dict[str, Any]] = {
    "overview": {}, "spread": LENGTH, "split": {**LENGTH, "by": "side"}, "classes": LENGTH, "density": LENGTH,
    "cross": {**LENGTH, "by": "side", "boundaries": [0, 3, 6, 20]}, "against": LENGTH,
    "normality": {**LENGTH, "by": "side"}, "ladder": {**LENGTH, "by": "side"}, "ladders": {},
    "times": {"variable": "when"}, "counts": {"variable": "side"}, "definitions": LENGTH,
    "line-up": {**LENGTH, "seed": 3}, "intervals": LENGTH,
    "compare": {**LENGTH, "by": "side", "second": "sort", "pair": "bed", "centre": "median", "bars": "quartile-span"},
    "differences": {**LENGTH, "by": "side"}, "shares": {"variable": "sort", "by": "side"}, "numbers.csv": LENGTH,
    "pairs": {"x": "length", "y": ["mass"], "by": "side", "size": "length"}, "correlations": {**PAIR, "by": "side"},
    "matrix": {"variables": ["length", "mass"]}, "straighten": PAIR, "agreement": PAIR, "detection": LENGTH,
    "fits": {**PAIR, "by": "side", "lines": ["least-squares", "median", "smooth"]}, "predict": {**PAIR, "value": 9},
}  # fmt: skip
# What speaks of rows one by one.
REFUSED: dict[str, dict[str, Any]] = {
    "order": LENGTH, "control": LENGTH, "screen": LENGTH,
    "together": {"variables": ["length", "mass"]}, "relation": {"response": "length", "predictors": ["mass"]},
    "estimates": {"of": ["length"]}, "weigh": {**LENGTH, "rows": [1]},
    "pull": {"response": "length", "predictors": ["mass"], "rows": [1]},
}  # fmt: skip
LISTS_ROWS = {"rows", "enclosed", "tried", "group-rows"}
PANELS: list[dict[str, Any]] = [
    {"kind": "shape", "variable": "length", "by": "side"},
    {"kind": "cumulative", "variable": "length", "by": "side"},
    {"kind": "quantiles", "variable": "length"}, {"kind": "counts", "variable": "side"},
    {"kind": "times", "variable": "when"},
    {"kind": "groups", "variable": "length", "by": "side"},
    {"kind": "shares", "variable": "sort", "by": "side"},
    {"kind": "differences", "variable": "length", "by": "side"},
    {"kind": "pair", **PAIR, "lines": ["least-squares"]}, {"kind": "agreement", **PAIR},
]  # fmt: skip
# Row numbers; all other whole numbers are counts.
ROWS = {
    "rows", "row", "positions", "outlier_rows", "far_rows", "lost", "residual_rows", "sparse_rows", "off_scale_rows",
    "lost_rows", "modes_rows",
}  # fmt: skip
# What differs: of the table, or adjusted for how many variables it has.
OTHERWISE = {"revision", "weighted_by", "weightless", "key", "holm"}
# On which axis values stand where points are scattered along the other.
SIDEWAYS = {"shape": "x", "groups": "y"}


class Weights(StudyCase):
    def both(self, seed: int) -> None:
        """A table with frequency weights, and the same with each row as often as it counts; which row each came of."""
        head, rng = "side,sort,bed,length,mass,when", np.random.default_rng(seed)
        rows = [
            f"{'lr'[i % 2]},{rng.choice(['low', 'mid', 'high'])},b{i // 2},"
            f"{'' if rng.random() < 0.1 else f'{2 + rng.gamma(3):.2f}'},{rng.normal(9, 2):.1f},2026-03-{1 + i % 9:02d}"
            for i in range(26)
        ]
        times = rng.integers(0, 4, len(rows))
        times[:6] = np.maximum(times[:6], 1)  # every level has a row
        counted = "\n".join(f"{row},{n}" for row, n in zip(rows, times, strict=True))
        self.owner_of = np.repeat(np.arange(len(rows)), times) + 1
        self.one = stored(self.owner, f"{head},eggs\n{counted}", name="Table")
        self.two = stored(self.owner, "\n".join([head, *(rows[i - 1] for i in self.owner_of)]), name="Table")
        for table in (self.one, self.two):
            self.table = table
            self.describe("length", decimals=2)
            self.describe("mass", decimals=1)
        self.table = self.one
        self.on_table("/describe", weight_variable="eggs")
        self.one.refresh_from_db()

    def asked(self, name: str, query: dict[str, Any], table: Any) -> Any:
        answer = self.client.get(self.address(name, table), query)
        self.assertEqual(answer.status_code, 200, (name, answer.content[:400]))
        if answer["Content-Type"] == "application/octet-stream":
            return unpacked(answer.content)
        result = answer.json() if "json" in answer["Content-Type"] else answer.content.decode()
        if name in ("overview", "ladders"):  # of every variable: the weights are one here, and none there
            lines = next(iter(result.values()))
            return [line for line in lines if line["subject"]["symbol"] != "eggs"]
        return result

    def assert_alike(self, one: Any, two: Any, path: str) -> None:
        name = path.rsplit(".", 1)[-1]
        if isinstance(one, dict) and one.get("form") == "points" and path in SIDEWAYS:
            # Where a point lies sideways follows from its row, which is another one there; a ring stands for a row.
            values = [{round(float(each), 9) for each in layer[SIDEWAYS[path]]} for layer in (one, two)]
            self.assertEqual(*values, path)
            self.assert_alike(one["rows"], two["rows"], f"{path}.rows")
        elif isinstance(one, dict):
            self.assertEqual(list(one), list(two), path)
            for part in [part for part in one if part not in OTHERWISE]:
                self.assert_alike(one[part], two[part], f"{path}.{part}")
        elif name in ROWS and np.ndim(two) == 1 and np.asarray(two).dtype.kind == "i":
            rows = [self.owner_of[int(row) - 1] for row in two]
            self.assertEqual(sorted({int(row) for row in one}), sorted({int(row) for row in rows}), path)
        elif name == "outlier_values":  # each row's once
            self.assertEqual(set(one), set(two), path)
        elif isinstance(one, np.ndarray):
            np.testing.assert_allclose(one, two, rtol=1e-9, atol=1e-12, err_msg=path)
        elif isinstance(one, list):
            self.assertEqual(len(one), len(two), path)
            for mine, theirs in zip(one, two, strict=True):
                self.assert_alike(mine, theirs, path)
        elif isinstance(one, float):
            self.assertAlmostEqual(one, two, 9, msg=path)
        else:
            self.assertEqual(one, two, path)

    def test_every_reading_and_plate_takes_the_weights_or_refuses_them_in_words(self) -> None:
        prefix = "/api/tables/{table_id}/readings/"
        every = {path.removeprefix(prefix) for path in api.get_openapi_schema()["paths"] if path.startswith(prefix)}
        self.assertEqual(every, {*TAKEN, *REFUSED, *LISTS_ROWS})
        for seed in (13, 29):
            self.both(seed)
            for name, query in TAKEN.items():
                with self.subTest(name, seed=seed):
                    self.assert_alike(self.asked(name, query, self.one), self.asked(name, query, self.two), name)
            for name, query in REFUSED.items():
                ask = self.client.get if name not in ("weigh", "pull") else self.client.post
                more = {} if ask == self.client.get else {"content_type": "application/json"}
                self.assert_problem(ask(self.address(name, self.one), query, **more), 422, "weighted")
            for source in PANELS:
                with self.subTest(source["kind"], seed=seed):
                    first, second = (self.scene(table, source) for table in (self.one, self.two))
                    self.assert_alike(first["facts"]["n"], second["facts"]["n"], source["kind"])
                    self.assert_alike(first["numbers"], second["numbers"], source["kind"])
                    self.assert_alike(first["layers"], second["layers"], source["kind"])

    def scene(self, table: Any, source: dict[str, Any]) -> Any:
        answer = self.act("plates/scenes", {"sources": [{"table": str(table.pk), **source}]})
        self.assertEqual(answer.status_code, 200, (source["kind"], answer.content[:400]))
        return unpacked(answer.content)["scenes"][0]

    def test_values_without_what_is_set_aside_are_had_by_load_series_alone(self) -> None:
        server = Path(__file__).parents[1]
        every = [file for app in ("readings", "plates", "records") for file in (server / app).rglob("*.py")]
        around = re.compile(
            r"""state\.column\(|["']active["']|\.active\(|\.columns\[[^]]*\]\.(numbers|codes)\b(?! is)"""
        )
        result = [f"{file.name}: {line.strip()}" for file in every for line in file.read_text().splitlines()
                 if around.search(line)]  # fmt: skip
        self.assertEqual((result, len(every) > 40), ([], True))

    def test_rows_of_a_level_alone_are_weighted_too(self) -> None:
        self.both(13)
        only = {"only": {"by": "side", "level": "l"}, "kind": "cumulative", "variable": "mass"}
        first, second = (self.scene(table, only)["facts"] for table in (self.one, self.two))
        self.assertEqual(first["n"], second["n"])
        series = ledger.load_series(TableSnapshot.of(self.one).narrowed("side", "l").state, ["mass"])
        self.assertEqual(series.used("mass").weighted_by, "eggs")
        self.assertEqual(series.n, first["n"][0][1])
