"""Groups side by side: what the core says, by rows or by units, and how they differ."""

import numpy as np
from heron import differences, groups

from server.server_tests.cases import StudyCase, person, signed_in, stored, unpacked

rng = np.random.default_rng(31)
VALUES = [float(f"{each:.3f}") for each in rng.lognormal(2, 0.4, 48)]
BED = [("low", "mid", "high")[i % 3] for i in range(48)]
WEEK = [(0, 6)[i // 24] for i in range(48)]
TAG = [f"t{i % 12}" for i in range(48)]
TEXT = "mass (g),bed,week,tag\n" + "\n".join(
    f"{v},{b},{w},{t}" for v, b, w, t in zip(VALUES, BED, WEEK, TAG, strict=True)
)
X, BED_OF, TAG_OF = np.array(VALUES), np.array(BED), np.array(TAG)


class Comparing(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells")
        cls.study = cls.table.study

    def centred(self, result):
        return {each["centred"]["label"]: each["centred"] for each in result["groups"]}

    def test_centres_and_bars_are_the_cores(self):
        result = self.reading("compare", "mass", by="bed", centre="geometric-mean", bars="mean-interval", level=0.9)
        expected = groups.group_centres(X, BED, centre="geometric-mean", bars="mean-interval", level=0.9)
        for group in expected.groups:
            answered = self.centred(result)[group.label]
            self.assertEqual((answered["n"], answered["centre"], answered["low"]), (16, group.centre, group.low))
        for index, group in enumerate(result["groups"]):
            asked = {"variable": "mass", "by": "bed", "group": index}
            rows = unpacked(self.client.get(self.address("group-rows"), asked).content)["rows"]
            self.assertEqual(rows.tolist(), [i + 1 for i, bed in enumerate(BED) if bed == group["label"]])
        beyond = self.client.get(self.address("group-rows"), {"variable": "mass", "by": "bed", "group": 3})
        self.assert_problem(beyond, 422, "no-group")
        self.assertIn("90 % t interval", result["words"][0])
        wrong = self.client.get(
            self.address("compare"), {"variable": "mass", "by": "bed", "centre": "median", "bars": "sd"}
        )
        self.assert_problem(wrong, 422, "bars-for-centre")

    def test_two_groupings_and_numbers_to_stand_on(self):
        result = self.reading("compare", "mass", by="week", second="bed", bars="sd")
        self.assertEqual({(each["label"], each["number"]) for each in result["groups"]}, {("0", 0.0), ("6", 6.0)})
        self.assertEqual(len(result["groups"]), 6)
        first = next(each for each in result["groups"] if (each["label"], each["second"]) == ("6", "mid"))
        in_group = X[(np.array(WEEK) == 6) & (BED_OF == "mid")]
        self.assertAlmostEqual(first["centred"]["high"], in_group.mean() + in_group.std(ddof=1))

    def test_units_count_once_they_are_named_and_are_asked_for_before(self):
        self.on_table("/describe", unit_variable="tag")
        by_rows = self.reading("compare", "mass", by="bed")
        self.assertEqual(by_rows["repeated"], "tag")
        of_units = groups.components(X, BED, unit=TAG)
        self.assertEqual(by_rows["components"]["intraclass"], of_units.intraclass)
        source = {"kind": "groups", "table": str(self.table.pk), "variable": "mass", "by": "bed"}
        self.assertIn(f"those of one tag correlate by {of_units.intraclass:.2f}", self.figure(source)["caption"])
        self.assertNotIn("correlate", self.figure({**source, "units": True})["caption"])
        result = self.reading("compare", "mass", by="bed", units=True, bars="se")
        of_units = groups.group_centres(X, BED, unit=TAG, bars="se").groups[0]
        answered = self.centred(result)[of_units.label]
        self.assertEqual((answered["n"], answered["n_rows"], answered["low"]), (4, 16, of_units.low))
        self.assertEqual((result["unit_label"], result["repeated"]), ("tag", ""))
        averages = {
            bed: [X[(t == TAG_OF) & (bed == BED_OF)].mean() for t in sorted(set(TAG_OF[bed == BED_OF]))]
            for bed in set(BED)
        }
        differ = self.reading("differences", "mass", by="bed", units=True)
        expected = differences.compare_groups(
            np.concatenate(list(averages.values())),
            np.repeat(list(averages), [len(average) for average in averages.values()]),
        )
        self.assertAlmostEqual(self.found_by(differ)["welch"]["p_value"], expected.welch.p_value)

    def found_by(self, differ):
        return {test["id"]: test["found"] for test in differ["tests"]}

    def test_differences_by_each_measure_and_from_a_reference(self):
        for measure, effect in ((record.id, record.measure) for record in differences.EFFECTS.values()):
            if measure == "mean":  # simultaneous, below
                continue
            result = self.reading("differences", "mass", by="bed", measure=measure, reference="mid")
            self.assertEqual(
                [(each["first"], each["second"]) for each in result["pairs"]], [("high", "mid"), ("low", "mid")]
            )
            expected = effect(X[BED_OF != "low"], BED_OF[BED_OF != "low"])
            self.assertAlmostEqual(result["pairs"][0]["low"], expected.low)
        means = self.reading("differences", "mass", by="bed")
        self.assertEqual(means["limits"], "games-howell")
        self.assertEqual(len(means["pairs"]), 3)
        self.assertAlmostEqual(means["sd_ratio"], differences.compare_spreads(X, BED_OF).sd_ratio)
        self.assertIn("omega squared", means["words"][0])
        for together, spreads, limits in (
            (True, "equal", "dunnett"),
            (False, "equal", "pooled"),
            (False, "unequal", "welch"),
        ):
            how = {"reference": "mid", "together": together, "spreads": spreads}
            result = self.reading("differences", "mass", by="bed", **how)
            expected = differences.compare_groups(X, BED_OF, **how)
            self.assertEqual(result["limits"], limits)
            self.assertEqual([pair["low"] for pair in result["pairs"]], [pair.low for pair in expected.pairs])
            self.assertEqual([pair["holm_p"] is None for pair in result["pairs"]], [together] * 2)
        gone = self.client.get(self.address("differences"), {"variable": "mass", "by": "bed", "reference": "none"})
        self.assert_problem(gone, 422, "no-group")


class Degenerate(StudyCase):
    HEADER = "x,g,h,who\n"

    def compare(self, **more):
        return self.client.get(self.address("compare"), {"variable": "x", "by": "g", **more})

    def use(self, name, rows):
        text = self.HEADER + "".join(",".join(map(str, row)) + "\n" for row in rows)
        self.table = stored(person(f"owner of {name}"), text, name=name, kinds={"x": "continuous"})
        self.client = signed_in(self.table.study.owner)

    def test_groups_of_one_row_of_none_and_without_spread(self):
        self.use("few", [(1, "a", "u", 1), (5, "b", "u", 2), (5, "b", "u", 3), ("", "c", "u", 4), (2, "", "u", 5)])
        result = unpacked(self.compare().content)
        shown = {each["label"]: each["centred"] for each in result["groups"]}
        self.assertEqual({label: each["n"] for label, each in shown.items()}, {"a": 1, "b": 2, "c": 0})
        self.assertIn("low", shown["a"]["undefined"])
        self.assertEqual((shown["b"]["low"], shown["b"]["high"]), (5, 5))
        self.assertIn("centre", shown["c"]["undefined"])
        self.assertEqual(result["without_group"], 1)
        differ = self.reading("differences", "x", by="g")
        self.assertEqual((differ["pairs"], differ["tests"]), ([], []))
        self.assertIn("2 groups", differ["undefined"]["pairs"])

    def test_pairs_have_tests_over_their_units(self):
        rows = [
            (f"{who + i * 0.5 + (who * i) % 3:.2f}", "abc"[i], "u", f"w{who}") for who in range(6) for i in range(3)
        ]
        self.use("pairs", rows)
        x, g, who = (np.array([row[column] for row in rows]) for column in (0, 1, 3))
        result = self.reading("differences", "x", by="g", pair="who", measure="hedges-g")
        expected = differences.compare_repeated(x.astype(float), g, unit=who)
        self.assertEqual((result["label"], result["limits"]), ("mean in SDs of the differences, d_z", ""))
        tests = {test["id"]: test["found"] for test in result["tests"]}
        self.assertEqual(list(tests), ["repeated", "friedman"])
        self.assertAlmostEqual(tests["repeated"]["p_value"], expected.repeated.p_value)
        self.assertEqual((result["epsilon"], result["sd_ratio"]), (expected.epsilon, None))
        self.assertTrue(all(pair["dunn_p"] is None and pair["n_pairs"] == 6 for pair in result["pairs"]))

    def test_three_hundred_groups_are_drawn_and_more_are_refused(self):
        self.use("many", [(i % 7 + i / 1000, f"g{i % 300:03d}", f"h{i % 3}", i) for i in range(1_200)])
        result = unpacked(self.compare(bars="sd").content)
        self.assertEqual(len(result["groups"]), 300)
        self.use("too many", [(i, f"g{i % 150}", f"h{i // 150}", i) for i in range(450)])
        self.assert_problem(self.compare(second="h"), 422, "too-many-groups")
        self.use("many again", [(i % 7 + i / 1000, f"g{i % 300:03d}", "u", i) for i in range(1_200)])
        differ = self.reading("differences", "x", by="g")
        self.assertIn("choose a reference", differ["undefined"]["pairs"])
        from_one = self.reading("differences", "x", by="g", reference="g005", measure="cliffs-delta")
        self.assertEqual(len(from_one["pairs"]), 299)

    def test_every_centre_with_every_bar_that_belongs_to_it(self):
        self.use("all", [(i % 9 + 1, "ab"[i % 2], "u", i // 4) for i in range(40)])
        for centre, fitting in ((centre, groups.fitting(centre)) for centre in groups.CENTRES):
            for bars in fitting:
                if bars in ("within-unit-interval", "wilson-interval"):
                    continue
                with self.subTest(centre=centre, bars=bars):
                    result = unpacked(self.compare(centre=centre, bars=bars).content)
                    expected = groups.group_centres(
                        [i % 9 + 1.0 for i in range(40)], ["ab"[i % 2] for i in range(40)], centre=centre, bars=bars
                    )
                    for a, b in zip(result["groups"], expected.groups, strict=True):
                        self.assertEqual((a["centred"]["low"], a["centred"]["high"]), (b.low, b.high))
        self.assert_problem(self.compare(bars="within-unit-interval"), 422, "no-unit")

    def test_set_aside_rows_leave_at_once_and_come_back_in_the_past(self):
        self.use("past", [(i, "ab"[i % 2], "u", i) for i in range(20)])
        before = unpacked(self.compare().content)
        self.on_table("", kind="set-aside", rows=[1, 3], reason="broken")
        after = unpacked(self.compare().content)
        self.assertEqual([each["centred"]["n"] for each in before["groups"]], [10, 10])
        self.assertEqual([each["centred"]["n"] for each in after["groups"]], [8, 10])
        self.assertEqual(after["used"]["set_aside"], 2)
        past = unpacked(self.compare(at=1).content)
        self.assertEqual(past["groups"][0]["centred"]["centre"], before["groups"][0]["centred"]["centre"])

    def test_nobody_else_compares(self):
        self.use("mine", [(i, "ab"[i % 2], "u", i) for i in range(6)])
        self.client = signed_in(person("bob"))
        self.assertEqual(self.compare().status_code, 404)
        response = self.client.get(self.address("differences"), {"variable": "x", "by": "g"})
        self.assertEqual(response.status_code, 404)
