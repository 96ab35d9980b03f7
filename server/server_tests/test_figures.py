"""One picture: what a stage is given is what its plate shows, mark by mark, whatever was chosen."""

import json
from dataclasses import MISSING, fields
from typing import Any, get_args, get_origin, get_type_hints

import numpy as np
from heron.figure.source import (
    AgreementSource,
    ControlSource,
    CountsSource,
    CumulativeSource,
    DifferencesSource,
    DistancesSource,
    EstimatesSource,
    GroupsSource,
    InfluenceSource,
    LeftOutSource,
    OrderedSource,
    PairSource,
    QuantilesSource,
    RulesSource,
    ShapeSource,
    SharesSource,
    TimesSource,
)
from heron.groups import CENTRES, fitting

from server.server_tests.cases import unpacked
from server.server_tests.test_plates import PlateCase

OVER = (
    GroupsSource, SharesSource, EstimatesSource, DifferencesSource, ShapeSource, CumulativeSource, CountsSource,
    TimesSource, QuantilesSource, OrderedSource, RulesSource, LeftOutSource, DistancesSource, InfluenceSource,
    PairSource, AgreementSource, ControlSource,
)  # fmt: skip
ROLES: dict[str, list[dict[str, Any]]] = {
    "groups": [
        {"variable": "mass", "by": "bed", "second": "site"}, {"variable": "length", "by": "day"},
        {"variable": "mass", "by": "bed", "pair": "day"}, {"variable": "mass", "by": "site", "only": ("bed", "mid")},
    ],
    "shares": [{"variable": "bed", "by": "site"}, {"variable": "site", "by": "bed"}],
    "estimates": [
        {"of": ["mean"], "limits": ["low", "high"], "label": "day"},
        {"of": ["mean", "length"], "widths": ["mass", "low"]},
        {"of": ["length"], "widths": ["mass"], "heading": "bed", "weight": "mass", "combined": [3]},
    ],
    "shape": [
        {"variable": "mass"}, {"variable": "mass", "by": "bed"}, {"variable": "length", "by": "site"},
        {"variable": "length", "by": "site", "only": ("bed", "mid")},
    ],
    "cumulative": [{"variable": "mass"}, {"variable": "length", "by": "site"}],
    "counts": [{"variable": "bed"}, {"variable": "site"}], "times": [{"variable": "day"}],
    "quantiles": [{"variable": "mass"}, {"variable": "mass", "by": "bed", "family": "normal", "plot": "quantiles"}],
    "rules": [{"variable": "mass"}, {"variable": "length", "by": "bed"}], "left-out": [{"variable": "mass"}],
    "control": [
        {"variable": "mass", "subgroup": "bed", "baseline": None},
        {"variable": "length", "along": "day", "subgroup": "site", "baseline": 2},
    ],
    "agreement": [{"x": "length", "y": "mass"}, {"x": "length", "y": "mass", "scale": "log"}],
    "distances": [{"variables": ["mass", "length"]}],
    "influence": [
        {"response": "mass", "predictors": ["length"]}, {"response": "mass", "predictors": ["length", "bed"]},
        {"response": "mass", "predictors": ["length", "bed"], "product": ["length", "bed"]},
    ],
    "ordered": [{"variable": "mass"}, {"variable": "length", "along": "mass"}],
    "pair": [
        {"x": "length", "y": "mass"}, {"x": "length", "y": "mass", "by": "bed"}, {"x": "day", "y": "mass"},
        {"x": "length", "y": "mass", "size": "mean", "only": ("bed", "mid")},
        {"x": "day", "y": "mass", "also": ["length"], "shown": "points"},
    ],
    "differences": [{"variable": "mass", "by": "bed"}, {"variable": "length", "by": "bed", "pair": "day"}],
}  # fmt: skip


def drawn_value(hint: Any, rng: np.random.Generator) -> Any:
    """A value of a field by its type; what a field holds of the table is given apart."""
    origin, args = get_origin(hint), get_args(hint)
    if origin is not None and str(origin).endswith("Literal"):
        return args[rng.integers(len(args))]
    if origin is tuple:
        inner = [drawn_value(args[0], rng) for _ in range(rng.integers(0, 4))]
        return list(dict.fromkeys(inner))
    if args:
        return drawn_value(args[rng.integers(len(args))], rng)
    if hint is bool:
        return bool(rng.integers(2))
    if hint is int:
        return int(rng.integers(1, 4))
    return None if hint is type(None) else float(np.round(rng.uniform(0.05, 0.45), 2))


def by_chance(kind: Any, roles: dict[str, Any], rng: np.random.Generator) -> dict[str, Any]:
    """A source with random choices of all that its kind offers."""
    hints = get_type_hints(kind)
    named = {*kind.SYMBOLS, "kind", "table", "only", "as_if", "reference", "combined", "none_words", "product"}
    said = {
        field.name: drawn_value(hints[field.name], rng)
        for field in fields(kind)
        if field.name not in named and field.default is not MISSING and rng.random() < 0.6
    }
    if kind is GroupsSource:
        centres = [centre for centre in CENTRES if centre != "share"]
        said["centre"] = centres[rng.integers(len(centres))]
        offered = [bars for bars in fitting(said["centre"]) if bars != "within-unit-interval"]
        said["bars"] = offered[rng.integers(len(offered))]
        said |= {"low_percent": 10.0, "high_percent": 80.0, "units": False}
    if "level" in said:
        said["level"] = 0.1 if kind is RulesSource else 0.9
    if kind is PairSource:
        if said.get("shown", "points") == "points" and not roles.get("also"):
            said |= {"bars_x": [[], [roles["x"]]][rng.integers(2)]}
            said |= {"bars_y": [[], [roles["y"]], [roles["x"], roles["y"]]][rng.integers(3)]}
        said |= {"across": 9, "aspect": 0.8, "grid": 40, "window": [[], [3.0, 9.0, 2.0, 8.0]][rng.integers(2)]}
    if kind in (ShapeSource, CumulativeSource):
        for name in ("rule", "count", "width", "start", "boundaries"):
            said.pop(name, None)
        cuts: list[dict[str, Any]] = [
            {}, {"count": 5}, {"rule": "sturges"}, {"width": 2.0, "start": 0.0}, {"boundaries": [0.0, 5.0, 9.0]},
        ]  # fmt: skip
        # Ends of classes at 0 cannot stand on a log axis.
        said |= cuts[rng.integers(3 if said.get("axis") == "log" else 5)]
    given = dict(roles)
    if "only" in given:
        given["only"] = {"by": given["only"][0], "level": given["only"][1]}
    return {**said, **given}


class Figures(PlateCase):
    def test_a_stage_and_its_plate_show_the_same_marks_and_words_whatever_was_chosen(self):
        rng = np.random.default_rng(19)
        drawn = 0
        for kind in OVER:
            for roles in ROLES[kind.kind] * 6:
                source = self.source(kind.kind, **by_chance(kind, roles, rng))
                with self.subTest(source=source):
                    asked = {"panels": json.dumps([{"source": source}])}
                    stage = self.client.get(f"/api/tables/{self.table.pk}/figure", asked)
                    keeping = {"name": "Kept", "document": self.document(source)}
                    response = self.act(f"studies/{self.study.pk}/plates", keeping)
                    if stage.status_code == 422:
                        self.assertEqual((response.status_code, response.json()), (422, stage.json()))
                        continue
                    self.assertEqual((stage.status_code, response.status_code), (200, 201), stage.content[:300])
                    shown, plate = unpacked(stage.content), response.json()
                    self.assertEqual(shown["panels"][0], plate["document"]["panels"][0])
                    scene = self.scene(plate["document"]["panels"][0]["source"])
                    self.assertEqual(str(shown["scenes"][0]), str(scene))
                    for mine, theirs in zip(shown["scenes"][0]["layers"], scene["layers"], strict=True):
                        for name in ("x", "y", "low", "high", "rows"):
                            np.testing.assert_array_equal(mine[name], theirs[name])
                    self.assertEqual(shown["caption"], self.words(plate["document"])["caption"])
                    drawn += 1
        self.assertGreater(drawn, 100)

    def test_a_panel_is_of_the_table_that_is_asked_and_follows_it_back_in_time(self):
        panel = {"panels": json.dumps([{"source": self.groups()}])}
        address = f"/api/tables/{self.table.pk}/figure"
        before = unpacked(self.client.get(address, panel).content)
        self.on_table("", kind="set-aside", rows=[1, 4], reason="broken")
        after = unpacked(self.client.get(address, panel).content)
        self.assertEqual((after["scenes"][0]["facts"]["aside"], after["scenes"][0]["facts"]["entries"]), (2, [1]))
        self.assertIn("2 rows set aside (Ledger 1).", after["caption"])
        past = unpacked(self.client.get(address, {**panel, "at": 1}).content)
        self.assertEqual(past["caption"], before["caption"])
        other = {"panels": json.dumps([{"source": {**self.groups(), "table": "7b7f6c9e-0000-4000-8000-000000000000"}}])}
        self.assert_problem(self.client.get(address, other), 422, "invalid-request")
        for wrong in ("{", json.dumps([{"source": {**self.groups(), "kind": "pie"}}]), json.dumps([{"more": 1}]), "[]"):
            self.assert_problem(self.client.get(address, {"panels": wrong}), 422, "invalid-request")
