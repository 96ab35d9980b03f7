"""Weights, orders, times, families, bumps, levels and axes as the API gives them."""

import numpy as np
from heron import density, frequency, groups, normality, ordering, summary

from server.server_tests.cases import StudyCase, stored
from server.studies.models import Table

COUNTED = "length (mm),eggs\n1.5,3\n2.0,0\n2.5,4\n,2\n9.0,1\n3.0,\n"
STANDS_FOR = np.array([1.5] * 3 + [2.5] * 4 + [9.0])


class Weighted(StudyCase):
    """A table of value and count is read as the rows it stands for."""

    def setUp(self):
        super().setUp()
        self.table = stored(self.owner, COUNTED, name="Counted")
        self.on_table("/describe", weight_variable="eggs")

    def test_numbers_box_classes_and_curve_are_those_of_the_rows_it_stands_for(self):
        result = self.reading("spread", "length")
        expected = summary.summarize(STANDS_FOR)
        for name in ("n", "mean", "sd", "median", "q1", "q3", "skewness"):
            self.assertAlmostEqual(result["summary"][name], getattr(expected, name), msg=name)
        used = result["used"]
        self.assertEqual((used["n"], used["missing"], used["weighted_by"], used["weightless"]), (8, 2, "eggs", 2))
        self.assertEqual(self.points("length")[1].tolist(), [1, 1, 1, 3, 3, 3, 3, 5])
        self.assertEqual(self.points("length", layers=["box"])[1].tolist(), [5])
        cut = self.reading("classes", "length", boundaries=[1, 2, 3, 10])["classes"]
        self.assertEqual(cut["counts"], [3, 4, 1])
        curve = self.reading("density", "length")["density"]
        np.testing.assert_allclose(curve["density"], density.kernel_density(STANDS_FOR).density)
        _, rows, ordered = self.points("length", kind="quantiles")
        np.testing.assert_allclose(ordered, STANDS_FOR)
        self.assertEqual(rows.tolist(), [1, 1, 1, 3, 3, 3, 3, 5])

    def test_levels_tables_and_every_variable_at_once_are_weighted_too(self):
        table = stored(self.owner, "side,length,eggs\nl,1,3\nr,2,2\nl,4,1\n,5,4\nr,,2\n", name="Sides")
        self.table = table
        self.on_table("/describe", weight_variable="eggs")
        counts = {row["value"]: row["count"] for row in self.reading("counts", "side")["counts"]["rows"]}
        self.assertEqual(counts, {"l": 4, "r": 4})
        split = self.reading("split", "length", by="side")
        self.assertEqual([(group["label"], group["n"]) for group in split["groups"]], [("l", 4), ("r", 2)])
        self.assertEqual([group["summary"]["mean"] for group in split["groups"]], [7 / 4, 2])
        shown = self.figure({"kind": "shape", "table": str(table.pk), "variable": "length", "by": "side"})
        self.assertIn("4 rows with a value but no side not shown.", shown["caption"])
        cross = self.reading("cross", "length", by="side", boundaries=[0, 3, 6])["table"]
        self.assertEqual([row["counts"] for row in cross["rows"]], [[3, 2], [1, 0]])
        [length, eggs] = self.client.get(f"/api/tables/{table.pk}/readings/overview").json()["variables"]
        self.assertEqual((length["used"]["n"], length["used"]["missing"], eggs["used"]["n"]), (10, 2, 5))
        left = np.array([1, 1, 1, 4]) - 7 / 4
        residuals = self.points("length", kind="quantiles", by="side")[2]
        np.testing.assert_allclose(residuals, np.sort([*left, 0, 0]), atol=1e-12)

    def test_it_is_a_decision_that_can_be_taken_back_and_must_be_frequencies(self):
        self.on_table("/undo")
        self.assertEqual(self.reading("spread", "length")["summary"]["n"], 5)
        refused = self.on_table("/describe", weight_variable="length")
        self.assert_problem(refused, 422, "not-frequencies")
        self.assertEqual(self.reading("spread", "eggs")["used"]["weighted_by"], "")


class InOrder(StudyCase):
    def test_by_row_and_along_a_time(self):
        x, rows, _ = self.points("mass")
        by_row = self.reading("order", "mass")
        expected = ordering.in_order(np.insert(x, 4, np.nan))  # row 5 is missing
        self.assertEqual((by_row["found"]["runs"], by_row["found"]["words"]), (expected.runs, list(expected.words)))
        drawn = self.points("mass", kind="ordered")
        self.assertEqual((drawn[1].tolist(), drawn[2].tolist()), (rows.tolist(), x.tolist()))
        joined = self.layers("mass", kind="ordered")["joined"]
        self.assertEqual(np.flatnonzero(np.isnan(joined["y"])).tolist(), [4])  # where row 5 is missing
        along = self.reading("order", "mass", along="when")
        self.assertEqual((along["along"], along["along_kind"]), ("when", "date-time"))
        self.assertEqual(self.points("mass", kind="ordered", along="when")[1].tolist(), rows.tolist())
        self.assert_problem(
            self.client.get(self.address("order"), {"variable": "mass", "along": "tray"}), 422, "not-numeric"
        )

    def test_a_long_series_is_sent_as_its_outline(self):
        values = np.random.default_rng(1).normal(size=50_000).round(4)
        table = stored(self.owner, "x\n" + "\n".join(map(str, values)), name="Long")
        drawn = self.points("x", table, kind="ordered")[2]
        self.assertLessEqual(drawn.size, 8_000)
        self.assertEqual((drawn.min(), drawn.max()), (values.min(), values.max()))

    def test_times_by_a_unit(self):
        result = self.reading("times", "when", unit="week")["times"]
        self.assertEqual((result["unit"], sum(result["counts"])), ("week", 30))
        self.assert_problem(self.client.get(self.address("times"), {"variable": "mass"}), 422, "not-times")


class Drawn(StudyCase):
    def mass(self):
        return self.points("mass")[0]

    def test_another_family_and_the_residuals_within_levels(self):
        expected = self.points("mass", kind="quantiles", family="log-normal")[0]
        np.testing.assert_allclose(expected, normality.fit_family(self.mass(), family="log-normal").expected)
        residual = self.reading("normality", "mass", by="tray")
        x, rows, _ = self.points("mass")
        even = rows % 2 == 0
        left = np.where(even, x - x[even].mean(), x - x[~even].mean())
        self.assertEqual(residual["within"], "tray")
        self.assertAlmostEqual(
            residual["check"]["shapiro_wilk"]["statistic"], normality.check_normality(left).shapiro_wilk.statistic
        )

    def test_bumps_and_whiskers(self):
        piled = self.layers("mass", layers=["bumps"])["piled"]["y"].reshape(29, 257)[:, :-1]
        np.testing.assert_allclose(piled[-1], density.kernel_density(self.mass(), points=256).density)
        box = self.reading("spread", "mass", whiskers="percentiles", share=0.1)
        usual = self.reading("spread", "mass")
        self.assertEqual([said["text"] for said in box["words"]], [said["text"] for said in usual["words"]])
        expected = groups.boxes(self.mass(), whiskers="percentiles", share=0.1).groups[0]
        drawn = self.layers("mass", layers=["box"], whiskers="percentiles", share=0.1)["box"]
        self.assertEqual((drawn["low"][0], box["whiskers"]), (expected.whisker_low, "the 10 and 90 percent points"))

    def test_a_log_axis_shows_classes_and_curves_of_the_logs(self):
        result = self.reading("spread", "mass", axis="log")
        logs = np.log10(self.mass())
        expected = frequency.classify(logs)
        np.testing.assert_allclose(result["classes"]["boundaries"], 10**expected.boundaries)
        self.assertEqual(result["classes"]["counts"].tolist(), expected.counts.tolist())
        self.assertAlmostEqual(result["normal_mean"], logs.mean())
        self.assertAlmostEqual(result["summary"]["mean"], self.mass().mean())
        refused = self.client.get(self.address("density"), {"variable": "eggs", "axis": "log"})
        self.assertIn("8 values of 30 are 0 or less", self.assert_problem(refused, 422, "not-above-zero")["problem"])

    def test_levels_share_their_classes(self):
        source = {"kind": "shape", "table": str(self.table.pk), "variable": "mass", "by": "tray", "reach": 3.0}
        shown = self.figure({**source, "boundaries": [0, 4, 80], "layers": ["classes", "box"]})
        layers = shown["scenes"][0]["layers"]
        self.assertEqual(sum(layer["value"].sum() for layer in layers if layer["role"] == "classes"), 29)
        self.assertIn("whiskers to the outermost values within 3 IQR of the quartiles", shown["caption"])
        self.assertEqual(self.figure({**source, "by": ""})["scenes"][0]["facts"]["n"], [["", 29]])
        self.assertEqual(Table.objects.count(), 1)

    def test_boundaries_on_a_log_axis_are_given_on_the_scale_of_the_values(self):
        result = self.reading("classes", "mass", axis="log", boundaries=[1, 10, 100], closed="right")["classes"]
        self.assertEqual(result["boundaries"], [1, 10, 100])
        x = self.mass()
        self.assertEqual(result["counts"], [int(np.sum(x <= 10)), int(np.sum(x > 10))])
        np.testing.assert_allclose(result["densities"], np.array(result["counts"]) / x.size)  # a power of ten each
        refused = self.client.get(self.address("classes"), {"variable": "mass", "axis": "log", "boundaries": [0, 1]})
        self.assert_problem(refused, 422, "not-above-zero")


class Files(StudyCase):
    def lines(self, variable, **asked):
        response = self.client.get(self.address("numbers.csv"), {"variable": variable, **asked})
        self.assertEqual((response.status_code, response["Content-Type"]), (200, "text/csv; charset=utf-8"))
        return [line.split(",") for line in response.content.decode().split("\r\n") if line]

    def test_numbers_of_every_kind_can_be_taken_away(self):
        mass = {line[0]: line[1] for line in self.lines("mass", percents=[10, 90])}
        x, *_ = self.points("mass")
        np.testing.assert_allclose([float(mass["10 %"]), float(mass["90 %"])], np.quantile(x, [0.1, 0.9]))
        levels = self.lines("tray")
        self.assertEqual(levels[1:], [["a", "15", "50.0", "15", "50.0"], ["b", "15", "50.0", "30", "100.0"]])
        days = self.lines("when")
        self.assertEqual(days[1], ["2026-03-01T00:00:00", "2026-03-02T00:00:00", "1"])
        self.assertEqual(sum(int(day[2]) for day in days[1:]), 30)
