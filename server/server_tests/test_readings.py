"""Readings over HTTP: the core's own results, sent once, known by their tag, dropped when overtaken."""

import csv
import io
from unittest.mock import patch

import heron
import numpy as np
from django.test import SimpleTestCase
from heron import density, frequency, intake, limits, normality, summary, thinning

from server.accounts import rates
from server.accounts.models import Attempt
from server.problems import Refusal
from server.readings.answers import envelope, plain
from server.readings.cancellation import ViewCancellation
from server.server_tests.cases import SMALL, StudyCase, stored_in, unpacked

MASS = intake.read(SMALL.encode()).table["mass"].numbers


class Readings(StudyCase):
    def test_a_spread_is_the_cores_summary_box_and_points(self):
        result = self.reading("spread", "mass", quantile_definition=6)
        expected = summary.summarize(MASS, quantile_definition=6)
        for name in ("mean", "sd", "q1", "median_low", "skewness", "geometric_mean"):
            self.assertEqual(result["summary"][name], getattr(expected, name))
        self.assert_used(result, {"n": 29, "missing": 1, "missing_counts": {"n/r": 1}, "set_aside": 0})
        self.assertEqual((result["subject"]["unit"], result["subject"]["decimals"]), ("g", 2))
        values, rows, _ = self.points("mass")
        np.testing.assert_array_equal(values, MASS[rows.astype(int) - 1])
        self.assertNotIn(5, rows)
        self.assertIn("right-skewed", result["words"][0]["text"])
        self.assertAlmostEqual(result["normal_mean"], expected.mean)
        self.assertEqual(
            self.reading("spread", "mass", quantile_definition="hinges")["summary"]["quantile_definition"], "hinges"
        )

    def test_classes_density_and_normality(self):
        classes = self.reading("classes", "mass", width=10, closed="right")["classes"]
        self.assertEqual(classes["counts"], frequency.classify(MASS, width=10, closed="right").counts.tolist())
        curve = self.reading("density", "mass", bandwidth=2.5, kernel="biweight")["density"]
        np.testing.assert_array_equal(
            curve["density"], density.kernel_density(MASS, bandwidth=2.5, kernel="biweight").density
        )
        result = self.reading("normality", "mass")
        expected = normality.check_normality(MASS)
        self.assertEqual(result["check"]["shapiro_wilk"]["p_value"], expected.shapiro_wilk.p_value)
        plot = normality.quantile_plot(MASS)
        _, rows, ordered = self.points("mass", kind="quantiles")
        np.testing.assert_array_equal(ordered, plot.ordered[:29])
        np.testing.assert_array_equal(rows, plot.rows[:29] + 1)

    def test_the_first_look_brings_the_usual_classes_and_curve(self):
        result = self.reading("spread", "mass", closed="right", kernel="uniform")
        alone = self.reading("classes", "mass", closed="right")["classes"]
        self.assertEqual(
            (result["classes"]["counts"].tolist(), result["classes"]["rule"]), (alone["counts"], alone["rule"])
        )
        curve = self.reading("density", "mass", kernel="uniform")["density"]
        np.testing.assert_array_equal(result["density"]["density"], curve["density"])
        flat = stored_in(self.study, "flat\n5\n5\n5\n5\n", "Flat", kinds={"flat": "continuous"})
        same = self.reading("spread", "flat", flat)
        self.assertEqual((same["classes"]["counts"].tolist(), same["density"]), ([4], None))

    def test_the_usual_classes_suit_the_kind(self):
        eggs = self.reading("classes", "eggs")["classes"]
        self.assertEqual((eggs["rule"], eggs["boundaries"][0]), ("integers", -0.5))
        waits = stored_in(self.study, "wait (min)\n" + "\n".join(str(i % 9 + i % 5) for i in range(4_000)))
        heaped = self.reading("classes", "wait", waits)["classes"]
        self.assertEqual((heaped["width"], heaped["boundaries"][0]), (1, -0.5))

    def test_rows_behind_a_mark(self):
        def rows(**limits):
            return self.reading("rows", "mass", **limits)["rows"].tolist()

        on = float(MASS[10])
        self.assertEqual(rows(low=on, high=on), [11])
        self.assertEqual(rows(low=on, high=float(MASS[12]), closed="left"), [11, 12])
        self.assertEqual(rows(low=on, high=float(MASS[12]), closed="right"), [12, 13])
        self.assertEqual(rows(high=float(MASS[1])), [1, 2])
        self.assertEqual(rows(missing=True), [5])
        self.assertEqual(self.reading("rows", "tray", level="b")["rows"].tolist(), list(range(2, 31, 2)))
        refused = self.client.get(self.address("rows"), {"variable": "tray", "level": "c"})
        self.assert_problem(refused, 422, "no-level")

    def test_words_are_counted_and_numbers_asked_of_them_refused(self):
        rows = self.reading("counts", "tray")["counts"]["rows"]
        self.assertEqual([(row["value"], row["count"], row["percent"]) for row in rows], [("a", 15, 50), ("b", 15, 50)])
        said = self.assert_problem(self.client.get(self.address("spread"), {"variable": "tray"}), 422, "not-numeric")
        self.assertIn("Choose a continuous", said["remedy"])
        self.assert_problem(self.client.get(self.address("spread"), {"variable": "nothing"}), 404, "no-variable")
        wrong = {"variable": "mass", "bandwidth": "-1"}
        self.assert_problem(self.client.get(self.address("density"), wrong), 422, "invalid-request")

    def test_quartiles_under_every_definition(self):
        result = self.reading("definitions", "mass")["definitions"]
        self.assertEqual([line["definition"] for line in result], [*range(1, 10), "hinges"])
        known = np.sort(MASS[~np.isnan(MASS)])
        self.assertAlmostEqual(result[6]["q1"], np.quantile(known, 0.25), places=12)

    def test_numbers_as_a_file(self):
        response = self.client.get(self.address("numbers.csv"), {"variable": "mass", "width": 20})
        self.assertEqual(response["Content-Type"], "text/csv; charset=utf-8")
        rows = list(csv.reader(io.StringIO(response.content.decode())))
        lines = {row[0]: row for row in rows if row}
        self.assertAlmostEqual(float(lines["mean"][1]), np.nanmean(MASS), places=12)
        self.assertEqual(lines["missing"][1:4:2], ["1", "n/r 1"])
        self.assertIn("definition 7", lines["q1"][3])
        classes = rows[rows.index([]) + 2 :]
        self.assertEqual(sum(int(row[2]) for row in classes), 29)

    def test_degenerate_variables_are_answered(self):
        table = stored_in(
            self.study,
            "flat,none,huge,one\n"
            + "\n".join(f"5.5,,{h},{o}" for h, o in (("1e308", 2.5), ("-1e308", ""), ("3", ""), ("4", ""))),
            kinds={"none": "continuous"},
        )
        flat = self.reading("spread", "flat", table)
        self.assertEqual((flat["words"][0]["text"], flat["normal_sd"]), ("All 4 values are the same.", None))
        self.assertIn("at least 2 different", self.reading("normality", "flat", table)["qq_reason"])
        self.assertEqual(self.reading("classes", "flat", table)["classes"]["counts"], [4])
        self.assert_problem(self.client.get(self.address("density", table), {"variable": "flat"}), 422, "no-spread")
        self.assertEqual(self.reading("spread", "huge", table)["summary"]["maximum"], 1e308)
        self.assert_problem(self.client.get(self.address("density", table), {"variable": "huge"}), 422, "range-extreme")
        self.assertEqual(self.reading("spread", "one", table)["used"]["missing"], 3)


class Delivery(StudyCase):
    def test_an_answer_is_known_by_its_tag(self):
        first = self.client.get(self.address("spread"), {"variable": "mass"})
        again = self.client.get(self.address("spread"), {"variable": "mass"}, headers={"If-None-Match": first["ETag"]})
        self.assertEqual((again.status_code, again.content), (304, b""))
        other = self.client.get(self.address("spread"), {"variable": "mass", "level": 0.9})
        self.assertNotEqual(other["ETag"], first["ETag"])
        self.table.revision = 2
        self.table.save()
        fresh = self.client.get(self.address("spread"), {"variable": "mass"}, headers={"If-None-Match": first["ETag"]})
        self.assertEqual(fresh.status_code, 200)

    def test_an_overtaken_question_is_dropped(self):
        def ask(number, level):
            headers = {"X-Heron-View": f"me-{self.id()}:{number}"}
            return self.client.get(self.address("spread"), {"variable": "mass", "level": level}, headers=headers)

        self.assertEqual(ask(2, 0.91).status_code, 200)
        self.assert_problem(ask(1, 0.92), 409, "overtaken")
        self.assertEqual(ask(3, 0.92).status_code, 200)

    def test_long_work_says_how_far_it_is_and_can_be_stopped(self):
        view = f"me-{self.id()}"
        wanted = ViewCancellation(self.owner.pk, f"{view}:1")
        ask = lambda: self.client.get("/api/readings/progress", {"view": view}).json()  # noqa: E731
        self.assertEqual(ask(), {"share": None, "note": ""})
        with patch("server.readings.cancellation.BETWEEN_LOOKS", -1):
            wanted.progress(0.25)
        self.assertEqual(ask(), {"share": 0.25, "note": ""})
        self.assertEqual(self.act("readings/stop", {"view": view}).status_code, 204)
        self.assertEqual(ask(), {"share": None, "note": ""})
        with self.assertRaises(Refusal) as ended, patch("server.readings.cancellation.BETWEEN_LOOKS", -1):
            wanted.progress(0.5)
        self.assertEqual((ended.exception.status, ended.exception.code), (409, "overtaken"))
        ViewCancellation(self.owner.pk, f"{view}:2").check()  # the next question is worked again

    def test_views_do_not_overtake_each_other(self):
        me, somebody = self.owner.pk, self.owner.pk + 1
        ViewCancellation(me, "a:5")
        ViewCancellation(me, "b:1").check()
        ViewCancellation(somebody, "a:4").check()
        with self.assertRaises(Refusal):
            ViewCancellation(me, "a:4").check()
        for odd in (None, "nonsense", "a:" + "9" * 30, "a" * 300 + ":1"):
            ViewCancellation(me, odd).check()


class Wire(SimpleTestCase):
    def test_arrays_travel_in_an_envelope_on_multiples_of_eight(self):
        body = envelope({"a": np.array([1.5, np.nan]), "rows": np.arange(3), "deep": [{"x": float("inf")}], "s": "µ"})
        self.assertEqual(len(body) % 8, 0)
        result = unpacked(body)
        self.assertTrue(np.isnan(result["a"][1]))
        self.assertEqual(result["rows"].tolist(), [0, 1, 2])
        self.assertEqual((result["deep"], result["s"]), ([{"x": None}], "µ"))
        self.assertEqual(plain({"x": np.array([np.inf, 1])}), {"x": [None, 1.0]})

    def test_at_most_twenty_thousand_points_are_sent_fairly_and_always_the_extremes(self):
        rows = np.arange(0, 300_000, 2)
        values = np.random.default_rng(1).lognormal(2, 0.7, rows.size)  # thousands of them beyond a fence
        sent = thinning.points(rows, values)
        self.assertTrue(set(rows[values.argsort()[:10]]) <= set(sent.tolist()) <= set(rows.tolist()))
        self.assertIn(rows[values.argmax()], sent)
        self.assertLessEqual(sent.size, thinning.MOST_POINTS + 20)
        np.testing.assert_array_equal(sent, thinning.points(rows, values))
        far = np.quantile(values, 0.95)
        self.assertAlmostEqual(np.mean(values[sent // 2] > far), 0.05, delta=0.012)  # no bulge among the far ones
        np.testing.assert_array_equal(thinning.points(rows[:9], values[:9]), rows[:9])
        places = thinning.positions(1_000_000)
        self.assertTrue(set(range(60)) <= set(places.tolist()) and 999_999 in places)
        self.assertLessEqual(places.size, thinning.MOST_POSITIONS)


class Split(StudyCase):
    def split(self, variable="mass", by="tray", **more):
        return self.reading("split", variable, by=by, **more)

    def test_each_level_has_the_numbers_of_its_own_rows(self):
        result = self.split()
        self.assertEqual(
            [(group["label"], group["n"], group["missing"]) for group in result["groups"]], [("a", 14, 1), ("b", 15, 0)]
        )
        for group, rows in zip(result["groups"], (MASS[::2], MASS[1::2]), strict=True):
            alone = summary.summarize(rows)
            self.assertEqual((group["summary"]["mean"], group["summary"]["sd"]), (alone.mean, alone.sd))
        self.assertEqual(result["groups"][1]["shapiro_w"], normality.check_normality(MASS[1::2]).shapiro_wilk.statistic)
        values, rows, _ = self.points("mass", by="tray", layers=["box"])
        np.testing.assert_array_equal(MASS[rows.astype(int) - 1], values)

    def test_numbers_can_be_levels_and_rows_without_one_are_counted(self):
        table = stored_in(
            self.study, "x,g\n1,a\n2,\n3,b\n4,b\n,a\n", "Gaps", missing_codes=[""], kinds={"x": "continuous"}
        )
        result = self.reading("split", "x", table, by="g")
        self.assertEqual([group["n"] for group in result["groups"]], [1, 2])
        shown = self.figure({"kind": "shape", "table": str(table.pk), "variable": "x", "by": "g"})
        self.assertIn("1 row with a value but no g not shown.", shown["caption"])
        self.assertEqual([group["label"] for group in self.split(by="eggs")["groups"]], ["0", "3", "6", "9"])

    def test_too_many_levels_are_refused_in_words(self):
        text = "x,g\n" + "\n".join(f"{i},level {i}" for i in range(301))
        table = stored_in(self.study, text, "Many", kinds={"g": "category"})
        answer = self.client.get(self.address("split", table), {"variable": "x", "by": "g"})
        self.assert_problem(answer, 422, "too-many-groups")
        self.assertEqual(
            len(
                self.reading(
                    "split",
                    "x",
                    stored_in(self.study, text.rsplit("\n", 1)[0], "Fewer", kinds={"g": "category"}),
                    by="g",
                )["groups"]
            ),
            300,
        )

    def test_limits_and_what_lies_beyond_them(self):
        self.assertIsNone(self.reading("spread", "mass")["beyond"])
        self.describe(spec_lower=2, spec_upper=40, target=10)
        result = self.reading("spread", "mass")
        known = MASS[~np.isnan(MASS)]
        self.assertEqual(
            (result["beyond"]["n_below"], result["beyond"]["n_above"]), (np.sum(known < 2), np.sum(known > 40))
        )
        self.assertEqual((result["subject"]["spec_upper"], result["subject"]["target"]), (40, 10))
        intervals = self.reading("intervals", "mass", share=0.9, level=0.9, percent=40)
        surely = {told["name"]: told for told in intervals["surely"]}
        self.assertEqual(list(surely), ["40 % point", "SD", "coefficient of variation", "skewness"])
        sd = heron.resampled_interval(known, "sd", level=0.9)
        self.assertEqual((surely["SD"]["low"], surely["40 % point"]["estimate"]), (sd.low, heron.quantile(known, 0.4)))
        normal, free = intervals["tolerance"]
        self.assertEqual(normal["low"], limits.tolerance_limits(known, share=0.9, level=0.9).low)
        self.assertEqual((free["low"], free["n"]), (None, 29))
        self.assertIn("120 values", intervals["reference"][1]["undefined"]["low"])

    def test_a_process_in_its_order_and_what_it_is_capable_of(self):
        self.describe(spec_lower=2, spec_upper=40)
        result = self.reading("control", "mass", family="log-normal", baseline=10)
        expected = heron.control_chart(MASS, baseline=10)
        self.assertEqual(
            (result["centre"], result["sigma"], result["n_points"]), (expected.centre, expected.sigma, expected.n)
        )
        rows = {signal["label"]: signal["rows"] for signal in result["signals"]}
        self.assertEqual(rows, {told.label: (expected.rows[told.places] + 1).tolist() for told in expected.signals})
        capable = heron.capability(MASS, lower=2, upper=40)
        self.assertEqual((result["capability"]["ppk"], result["capability"]["cpk"]), (capable.ppk, capable.cpk))
        centre, spread = heron.fit_family(MASS, family="log-normal").parameters.values()
        low, middle, high = (np.exp(centre + z * spread) for z in (-3, 0, 3))
        least = min((40 - middle) / (high - middle), (middle - 2) / (middle - low))
        self.assertAlmostEqual(result["capability"]["percentile_ppk"], least, places=4)
        source = {"kind": "control", "table": str(self.table.pk), "variable": "mass", "along": ""}
        self.assertRegex(self.figure(source)["caption"], r"Cpk|Ppk \S+ \(")
        asked = {"variable": "mass", "chart": "sd"}
        self.assert_problem(self.client.get(self.address("control"), asked), 422, "no-subgroup")

    def test_all_variables_at_once_with_p_values_adjusted_for_their_number(self):
        result = self.client.get(f"/api/tables/{self.table.pk}/readings/overview").json()
        self.assertEqual([each["subject"]["symbol"] for each in result["variables"]], ["mass", "eggs"])
        mass = result["variables"][0]
        alone = normality.check_normality(MASS)
        self.assertEqual((mass["p_value"], mass["qq_correlation"]), (alone.shapiro_wilk.p_value, alone.qq_correlation))
        self.assertEqual((result["n_judged"], mass["summary"]["mean"]), (2, summary.summarize(MASS).mean))
        self.assertEqual(
            [each["holm"] for each in result["variables"]],
            normality.holm([each["p_value"] for each in result["variables"]]),
        )

    def test_boundaries_are_typed_and_what_lies_outside_is_counted(self):
        classes = self.reading("classes", "mass", boundaries=[2, 10, 50])["classes"]
        self.assertEqual((classes["boundaries"], classes["width"]), ([2, 10, 50], None))
        known = MASS[~np.isnan(MASS)]
        self.assertEqual((classes["below"], classes["above"]), (np.sum(known < 2), np.sum(known > 50)))
        wrong = self.client.get(self.address("classes"), {"variable": "mass", "boundaries": [5, 2]})
        self.assertEqual(wrong.status_code, 422)

    def test_who_has_too_many_long_readings_made_waits_and_keeps_those_that_were(self):
        with patch.object(rates, "LONG_SECONDS", -1.0):
            self.reading("spread", "mass", level=0.91)
        (counted,) = Attempt.objects.filter(kind="long-reading")
        self.assertEqual(counted.name, self.owner.username)
        more = [Attempt(kind=counted.kind, name=counted.name, address="") for _ in range(rates.LONG_READING.by_name)]
        Attempt.objects.bulk_create(more)
        refused = self.client.get(self.address("spread"), {"variable": "mass", "level": 0.92})
        self.assertIn("over 5 s", self.assert_problem(refused, 429, "too-often")["problem"])
        self.reading("spread", "mass", level=0.91)
