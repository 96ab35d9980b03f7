"""Pictures of two variables: each mark where its numbers say, on straight and on logarithmic axes."""

import unittest
from typing import Any
from uuid import UUID

import numpy as np
from heron import bivariate, relation
from heron.columns import Column, Table
from heron.errors import InputError
from heron.figure import build, caption, check, data
from heron.figure.scene import Scene
from heron.figure.source import PairSource
from heron.ledger import TablesAsImports, TableState, TableView

from core_tests.drawn import document, layer

TABLE = UUID("7b7f6c9e-0000-4000-8000-000000000000")
N = 600
RNG = np.random.default_rng(11)
LENGTH = RNG.gamma(9, 6, N).round(1)
MASS = (0.002 * LENGTH**2.2 * RNG.lognormal(0, 0.2, N)).round(3)
BED = RNG.integers(0, 3, N)
BEDS = ("low", "mid", "top")
GRADES = RNG.integers(1, 6, (2, N)).astype(float)
HOLED = np.where(np.arange(N) == 20, np.nan, MASS)
NUMBERS = {
    "length": LENGTH, "mass": MASS, "first": GRADES[0], "second": GRADES[1], "holed": HOLED,
    "zero": np.where(BED == 0, 0.0, MASS), "day": LENGTH * 86_400,
}  # fmt: skip


def table() -> TableView:
    made = {
        name: Column(name, name, "", "date-time" if name == "day" else "continuous", values, None, (),
                     np.isnan(values).astype(np.uint8))
        for name, values in NUMBERS.items()
    }  # fmt: skip
    made["bed"] = Column("bed", "bed", "", "category", None, BED.astype(np.int32), BEDS, np.zeros(N, dtype=np.uint8))
    return TableView("t", TableState(imports=TablesAsImports(Table("t", N, made))))


def inside(x: np.ndarray, y: np.ndarray, area: Any) -> float:
    """The share of pairs within an area of several rings, holes left out."""
    gaps = np.flatnonzero(np.isnan(area.x))
    within = np.zeros(x.size, dtype=int)
    for ring in np.split(np.arange(area.x.size), gaps):
        corners = ring[~np.isnan(area.x[ring])]
        within[bivariate.inside(x, y, area.x[corners], area.y[corners])] += 1
    return float(np.mean(within % 2))


class PairsDrawn(unittest.TestCase):
    def drawn(self, **said: Any) -> Scene:
        usual: dict[str, Any] = {"x": "length", "y": "mass", "lines": ()}
        return build(PairSource(table=TABLE, **{**usual, **said}), table())

    def refused(self, where: str, **said: Any) -> None:
        with self.assertRaises(InputError) as caught:
            self.drawn(**said)
        self.assertEqual(caught.exception.where, where)

    def said(self, scene: Scene) -> str:
        return caption(document(), [scene])

    def test_areas_enclose_their_shares_whatever_the_axes(self) -> None:
        for axes in ({}, {"x_axis": "log"}, {"x_axis": "log", "y_axis": "log"}):
            scene = self.drawn(shown="contours", grid=120, sparse=30, **axes)
            areas = [each for each in scene.layers if each.role == "enclosed"]
            shares = [float(each.series.split()[0]) / 100 for each in areas]
            self.assertEqual(shares, [0.95, 0.9, 0.75, 0.5, 0.25])  # the smallest on top
            for area, share in zip(areas, shares, strict=True):
                self.assertAlmostEqual(inside(LENGTH, MASS, area), share, delta=0.012, msg=str(axes))
            self.assertEqual(layer(scene, "points").rows.size, 30)
            self.assertEqual(scene.series[0].rank, 0.75)
            whole = np.concatenate([area.y for area in areas])
            self.assertLessEqual(scene.up.low, np.nanmin(whole))
        logs = self.said(self.drawn(shown="contours", x_axis="log", width_x=0.03, grid=64))
        self.assertIn("SD 0.03 of the logarithm along length and", logs)
        self.assertIn("along mass by the normal-reference rule, on 64 by 64 points", logs)
        self.assertIn("The axis across is logarithmic.", logs)

    def test_each_pair_is_counted_once(self) -> None:
        for shown in ("hexagons", "cells"):
            for axis in ("linear", "log"):
                tiles = layer(self.drawn(shown=shown, across=9, x_axis=axis, y_axis=axis), "tiles")
                self.assertEqual(tiles.value.sum(), N)
                self.assertTrue(np.all(tiles.high_x > tiles.x) and np.all(tiles.y > 0 if axis == "log" else True))
        cells = layer(self.drawn(shown="cells", across=20, window=(30.0, 60.0, 2.0, 12.0)), "tiles")
        counts, x, y = np.histogram2d(LENGTH, MASS, (20, 15), ((30, 60), (2, 12)))
        at = np.searchsorted(x, cells.x + 1e-9) - 1, np.searchsorted(y, cells.y + 1e-9) - 1
        np.testing.assert_array_equal(cells.value, counts[at])
        self.assertEqual(cells.value.sum(), counts.sum())

    def test_pairs_at_one_place_are_one_point_with_the_area_of_their_count(self) -> None:
        pair = {"x": "first", "y": "second", "shown": "counts"}
        scene = self.drawn(**pair)
        places, counts = np.unique(GRADES, axis=1, return_counts=True)
        result = layer(scene, "counted")
        expected = dict(zip(zip(result.x, result.y, strict=True), result.value, strict=True))
        self.assertEqual(expected, dict(zip(zip(*places, strict=True), counts, strict=True)))
        np.testing.assert_allclose(result.size, result.value / counts.max())
        self.assertEqual((scene.sizes_title, scene.sizes_high), ("Pairs", counts.max()))
        grouped = self.drawn(**pair, by="bed")
        split = [each for each in grouped.layers if each.role == "counted"]
        self.assertEqual([each.value.sum() for each in split], [np.count_nonzero(k == BED) for k in range(3)])
        # Three groups share four fifths of the room between two grades, and none is wider than its part.
        for each, step in zip(split, (-1, 0, 1), strict=True):
            np.testing.assert_allclose(each.aside_x, step * 0.8 / 3, atol=1e-12)
        room = (grouped.across.high - grouped.across.low) * grouped.sizes_room
        self.assertAlmostEqual(room, 0.8 / 3)
        self.assertEqual(scene.sizes_room, 0)
        self.refused("shown", shown="counts", x="length", y="mass", also=("first",))

    def test_points_are_scattered_by_what_is_told_and_keep_their_values(self) -> None:
        scene = self.drawn(x="first", y="second", jitter_x=1.0, jitter_y=0.2)
        points = layer(scene, "points")
        self.assertEqual(sorted(points.rows), list(range(1, N + 1)))
        np.testing.assert_array_equal(points.x, GRADES[0][points.rows - 1])
        self.assertIn(
            "scattered at random by up to 0.1 of first and 0.02 of second to each side", " ".join(scene.facts.marks)
        )
        self.assertTrue(0.08 < np.abs(points.aside_x).max() <= 0.1)  # 2.5 % of a range of 4
        self.assertLess(np.abs(points.aside_y).max(), 0.0201)
        self.assertIn("by up to 0.1 of first and 0.02 of second to each side", self.said(scene))
        line = data([scene], [""]).splitlines()[1].split(",")
        self.assertIn(float(line[4]), {1.0, 2.0, 3.0, 4.0, 5.0})

    def test_lines_of_each_group_and_what_they_leave(self) -> None:
        line = {"lines": ("least-squares",), "by": "bed", "bands": "both"}
        scene = self.drawn(**line, equation=True)
        left = build(PairSource(table=TABLE, x="length", y="mass", plot="residuals", **line), table())  # type: ignore[arg-type]
        for k, bed in enumerate(BEDS):
            in_group = bed == np.array(BEDS)[BED]
            slope, intercept = np.polyfit(LENGTH[in_group], MASS[in_group], 1)
            fit = layer(scene, "fit", bed)
            np.testing.assert_allclose(fit.y, intercept + slope * fit.x, rtol=1e-9, atol=1e-9)
            narrow, wide = layer(scene, "band", bed), layer(scene, "one more", bed)
            self.assertGreater(np.ptp(wide.y), np.ptp(narrow.y))
            rest = layer(left, "points", bed)
            np.testing.assert_allclose(rest.y, (MASS - intercept - slope * LENGTH)[rest.rows - 1], rtol=1e-8, atol=1e-9)
            self.assertIn(f"{bed}: mass =", scene.equations[k])
        self.assertEqual((left.across.low, left.up.low), (scene.across.low, -left.up.high))
        self.assertEqual(len([each for each in self.drawn(**line, each=False).layers if each.role == "fit"]), 1)
        # x stands at the same places in both, whatever stands beside them.
        both = [self.drawn(**line, each=False, margins="boxes", plot=plot) for plot in ("pairs", "residuals")]
        self.assertEqual(both[0].across.strips, both[1].across.strips)
        self.refused("lines", plot="residuals", lines=("smooth",))
        power = self.drawn(lines=("least-squares",), x_scale="log10", y_scale="log10", equation=True)
        fit = relation.fit_line(LENGTH, MASS, x_scale="log10", y_scale="log10")
        self.assertIn(f"length^{{{fit.slope:.4g}}}", power.equations[0])
        self.assertNotIn("^", self.said(power))
        self.assertEqual(power.across.scale, "linear")  # where the line is straight is not how axes are drawn

    def test_each_variable_stands_by_itself_along_its_axis(self) -> None:
        for margins, roles in (
            ("histograms", {"classes"}), ("densities", {"density"}), ("boxes", {"box", "beyond"}), ("rugs", {"rug"}),
        ):  # fmt: skip
            scene = self.drawn(by="bed", margins=margins, x_axis="log")
            strips = [layer for layer in scene.layers if layer.strip is not None]
            self.assertEqual({each.role for each in strips}, roles)
            self.assertEqual(
                {(each.series, each.upright) for each in strips}, {(b, up) for b in BEDS for up in (True, False)}
            )
            n = len(scene.up.strips)
            self.assertEqual((n, len(scene.across.strips)), (n, 3 if margins in ("boxes", "rugs") else 1))
            self.assertTrue(all((each.strip < n) == each.upright for each in strips if each.strip is not None))
        classes = [layer for layer in self.drawn(by="bed", margins="histograms").layers if layer.strip is not None]
        self.assertEqual([class_.value.sum() for class_ in classes], [np.count_nonzero(k == BED) for k in range(3)] * 2)
        box = next(layer for layer in self.drawn(margins="boxes").layers if layer.role == "box" and not layer.upright)
        np.testing.assert_allclose([box.q1[0], box.x[0], box.q3[0]], np.quantile(LENGTH, [0.25, 0.5, 0.75]))

    def test_points_have_bars_of_columns_to_each_side_or_between_two_ends(self) -> None:
        scene = self.drawn(bars_x=("first",), bars_y=("zero", "second"), by="bed", joined="x")
        bars = [own for own in scene.layers if own.role == "point bars"]
        self.assertEqual(
            [(own.series, own.upright) for own in bars], [(bed, up) for bed in BEDS for up in (False, True)]
        )
        for code, bed in enumerate(BEDS):
            points = layer(scene, "points", bed)
            rows = points.rows - 1
            across, up = (own for own in bars if own.series == bed)
            for own in (across, up):
                np.testing.assert_array_equal(np.column_stack((own.x, own.y)), np.column_stack((points.x, points.y)))
            np.testing.assert_array_equal(across.low, (LENGTH - GRADES[0])[rows])
            np.testing.assert_array_equal(across.high, (LENGTH + GRADES[0])[rows])
            ends = np.sort(np.column_stack((NUMBERS["zero"], GRADES[1]))[rows], axis=1)
            np.testing.assert_array_equal(np.column_stack((up.low, up.high)), ends)
            line = layer(scene, "joined", bed)
            np.testing.assert_array_equal(line.x, np.sort(LENGTH[code == BED], kind="stable"))
        self.assertLessEqual(scene.across.low, (LENGTH - GRADES[0]).min())
        self.assertGreaterEqual(scene.up.high, GRADES[1].max())
        self.assertIn("Bars: zero and second along mass and first to each side along length.", scene.facts.marks)
        self.assertTrue(any("do not enclose" in note for note in scene.facts.notes))
        # A bar of a point that cannot stand is not drawn, and no axis is said to cut it.
        logged = self.drawn(y="zero", bars_y=("first",), y_axis="log")
        points, bars = layer(logged, "points"), layer(logged, "point bars")
        self.assertEqual(bars.x.size, np.count_nonzero(points.y > 0))
        self.assertTrue(all(finding.holds for finding in check(document(), [logged]) if finding.code == "cut"))
        self.refused("shown", bars_y=("first",), shown="hexagons")
        self.refused("bars_y", bars_y=("first",), also=("second",))
        self.refused("bars_x", bars_x=("first",), x="day")

    def test_joined_values_break_where_one_is_missing(self) -> None:
        for joined in ("x", "rows"):
            line = layer(self.drawn(y="holed", joined=joined), "joined")
            self.assertEqual((np.count_nonzero(np.isnan(line.y)), line.y.size), (1, N))
        np.testing.assert_array_equal(line.x[:20], LENGTH[:20])
        several = self.drawn(also=("first",), joined="x")
        self.assertEqual([each.series for each in several.layers], ["mass", "first"] * 2)

    def test_what_cannot_be_drawn_is_refused_or_told(self) -> None:
        self.refused("window", shown="cells", window=(1.0, 2.0))
        self.refused("window", shown="cells", window=(5.0, 2.0, 1.0, 2.0))
        self.refused("x_axis", x="day", x_axis="log")
        scene = self.drawn(y="zero", y_axis="log")
        self.assertIn(f"{np.count_nonzero(BED == 0)} values of 0 or below cannot stand", self.said(scene))
        day = self.drawn(x="day", lines=("least-squares",), shown="hexagons", across=8)
        self.assertEqual(day.across.kind, "time")
        np.testing.assert_allclose(layer(day, "fit").x[[0, -1]], [LENGTH.min(), LENGTH.max()])
        self.assertLess(layer(day, "tiles").high_x.max(), 1.2 * LENGTH.max())


if __name__ == "__main__":
    unittest.main()
