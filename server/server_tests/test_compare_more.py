"""Pairs, lines over numbers, shares of answers, and rows that are results already."""

import json

import heron
import numpy as np
from heron import differences, groups

from server.server_tests.cases import StudyCase, person, signed_in, stored, unpacked

rng = np.random.default_rng(8)
X = np.round(rng.lognormal(2, 0.4, 60), 3)
WEEK, TAG = np.repeat([0, 3, 12], 20), np.tile(np.arange(20), 3)
ENDS = WEEK != 12
STATE = np.array(["alive", "weak", "dead"])[rng.integers(0, 3, 60)]
BED = np.array(["low", "mid"])[TAG % 2]
TEXT = "mass (g),week,tag,state,bed\n" + "\n".join(
    f"{x},{w},t{t},{s},{b}" for x, w, t, s, b in zip(X, WEEK, TAG, STATE, BED, strict=True)
)


class More(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells", kinds={"tag": "category"})
        cls.study = cls.table.study

    def test_pairs_are_joined_across_groups_and_compared_as_pairs(self):
        result = self.reading("compare", "mass", by="week", pair="tag")
        panel = {
            "source": {"kind": "groups", "table": str(self.table.pk), "variable": "mass", "by": "week", "pair": "tag"}
        }
        drawn = unpacked(
            self.client.get(f"/api/tables/{self.table.pk}/figure", {"panels": json.dumps([panel])}).content
        )
        thin = next(each for each in drawn["scenes"][0]["layers"] if each["role"] == "pairs")
        table = np.array(thin["y"]).reshape(20, 4)
        self.assertEqual(
            {tuple(row) for row in table[:, :3].tolist()}, {tuple(X[tag == TAG].tolist()) for tag in set(TAG)}
        )
        self.assertEqual((result["n_joined"], result["n_alone"], result["pair_label"]), (20, 0, "tag"))
        differ = self.reading("differences", "mass", by="week", pair="tag")
        expected = differences.mean_difference(X[ENDS], WEEK[ENDS], unit=TAG[ENDS])
        pair = next(each for each in differ["pairs"] if {each["first"], each["second"]} == {"0", "3"})
        self.assertAlmostEqual(abs(pair["estimate"]), abs(expected.estimate))
        self.assertAlmostEqual(pair["high"] - pair["low"], expected.high - expected.low)
        self.assertEqual((differ["paired"], differ["limits"], pair["n_pairs"]), ("tag", "", 20))
        alone = self.reading("differences", "mass", by="week", together=False)
        plain = differences.mean_difference(X[ENDS], WEEK[ENDS])
        self.assertAlmostEqual(alone["pairs"][0]["high"] - alone["pairs"][0]["low"], plain.high - plain.low)
        self.assertEqual(alone["limits"], "welch")

    def test_a_line_over_the_numbers_of_the_levels(self):
        for through, places, values in (
            ("rows", WEEK, X),
            ("centres", [0, 3, 12], [X[week == WEEK].mean() for week in (0, 3, 12)]),
        ):
            result = self.reading("compare", "mass", by="week", line=through)
            slope, intercept = np.polyfit(places, values, 1)
            line = result["lines"][0]["found"]
            np.testing.assert_allclose([line["slope"], line["intercept"]], [slope, intercept])
            self.assertAlmostEqual(line["r_squared"], np.corrcoef(places, values)[0, 1] ** 2)
        apart = self.reading("compare", "mass", by="week", second="bed", line="rows", log=True)
        rows = BED == "mid"
        slope = np.polyfit(WEEK[rows], np.log10(X[rows]), 1)[0]
        self.assertAlmostEqual(apart["lines"][1]["found"]["slope"], slope)
        self.assertEqual(self.reading("compare", "mass", by="state", line="rows")["lines"], [])
        by_number = self.reading("compare", "week", by="mass")
        self.assertEqual(len(by_number["groups"]), len(set(X.tolist())))

    def test_percents_and_the_trim_are_typed(self):
        result = self.reading("compare", "mass", by="bed", bars="percentiles", low_percent=10, high_percent=75)
        low, high = np.quantile(X[BED == "low"], [0.1, 0.75])
        answered = result["groups"][0]["centred"]
        np.testing.assert_allclose([answered["low"], answered["high"]], [low, high])
        self.assertIn("from the 10 to the 75 percent point", result["words"][0])
        cut = self.reading("compare", "mass", by="bed", centre="trimmed-mean", bars="range", trim=0.25)
        trimmed = np.sort(X[BED == "low"])[7:-7]
        self.assertAlmostEqual(cut["groups"][0]["centred"]["centre"], trimmed.mean())
        wrong = {"variable": "mass", "by": "bed", "bars": "percentiles", "low_percent": 80, "high_percent": 20}
        self.assert_problem(self.client.get(self.address("compare"), wrong), 422, "out-of-range")

    def test_shares_of_answers(self):
        result = self.reading("shares", "state", by="bed", chosen=[1, 2], neutral=1)
        self.assertEqual(result["answers"], ["alive", "dead", "weak"])
        for each in result["groups"]:
            in_group = STATE[each["found"]["label"] == BED]
            taken = int(np.count_nonzero(in_group != "alive"))
            low, high = groups.wilson(taken, in_group.size)
            self.assertEqual((each["found"]["chosen"], each["found"]["n"]), (taken, in_group.size))
            np.testing.assert_allclose([each["found"]["low"], each["found"]["high"]], [low, high])
            middle = (each["edges"][1] + each["edges"][2]) / 2
            self.assertAlmostEqual(middle, 0)
        self.assertIn("percentage points", result["words"][1])
        counts = [each["found"]["chosen"] for each in result["groups"]]
        two = groups.two_shares(counts, [each["found"]["n"] for each in result["groups"]])
        self.assertEqual((result["two"]["odds_ratio"], result["two"]["ratio_high"]), (two.odds_ratio, two.ratio_high))
        in_group = heron.associate(BED, STATE)
        self.assertEqual(result["association"]["p_value"], in_group.p_value)
        crossed = self.reading("cross", "state", by="bed", missing=True)
        told = [crossed["association"][name] for name in ("p_value", "exact_p", "v_low", "n_small")]
        self.assertEqual(told, [in_group.p_value, in_group.exact_p, in_group.v_low, in_group.n_small])
        self.assertEqual(crossed["table"]["rows"][0]["expected"][:2], list(in_group.expected.reshape(2, 3)[:, 0]))
        last = self.reading("shares", "state", by="week")
        self.assertEqual(last["chosen"], [2])
        gone = self.client.get(self.address("shares"), {"variable": "state", "by": "week", "chosen": [9]})
        self.assert_problem(gone, 422, "no-level")
        self.client = signed_in(person("bob"))
        self.assertEqual(self.client.get(self.address("shares"), {"variable": "state", "by": "bed"}).status_code, 404)


class Results(StudyCase):
    TEXT = (
        "what,ratio,upper,lower,weight,family\n"
        "one,1.2,1.5,1.0,3,A\ntwo,0.8,0.7,0.9,5,A\nthree,0.9,1.1,0.6,,B\nfour,,2,1,1,B\nfive,2,,1,1,B\nsix,3,2,1,1,B\n"
    )

    def use(self, text, name):
        self.table = stored(person(f"owner of {name}"), text, name=name)
        self.client = signed_in(self.table.study.owner)

    def estimates(self, **asked):
        return self.client.get(self.address("estimates"), asked)

    def test_estimates_with_limits_in_any_order_and_what_is_odd_about_them(self):
        self.use(self.TEXT, "results")
        result = self.estimates(
            of="ratio", limits=["upper", "lower"], label="what", weight="weight", heading="family"
        ).json()
        rows = {each["label"]: each for each in result["rows"]}
        self.assertEqual((rows["one"]["low"], rows["one"]["high"], rows["one"]["weight"]), (1.0, 1.5, 3))
        self.assertEqual((rows["two"]["low"], rows["two"]["high"], rows["two"]["heading"]), (0.7, 0.9, "A"))
        self.assertEqual((rows["five"]["low"], rows["three"]["weight"]), (None, None))
        said = " ".join(result["words"])
        for words in ("left out: row 4", "Without limits: row 5", "not enclose the estimate: row 6", "turned: row 2"):
            self.assertIn(words, said)
        self.assert_problem(self.estimates(of="ratio", limits="upper"), 422, "two-limits")
        self.assert_problem(self.estimates(of="nothing"), 404, "no-variable")
        self.on_table("", kind="set-aside", rows=[1], reason="broken")
        left = self.estimates(of="ratio", limits=["upper", "lower"], label="what").json()
        self.assertNotIn("one", [each["label"] for each in left["rows"]])
        self.client = signed_in(person("bob"))
        self.assertEqual(self.estimates(of="ratio").status_code, 404)

    def test_two_blocks_of_a_wide_summary_are_matched_by_name(self):
        head = "week,basket mean,mesh mean,net mean,mesh SD,basket SD\n"
        self.use(head + "0,10,20,30,2,1\n6,11,22,33,4,3\n", "wide")
        symbols = [each["symbol"] for each in self.client.get(f"/api/tables/{self.table.pk}").json()["variables"]]
        result = self.estimates(of=symbols[1:4], widths=symbols[4:], label="week").json()
        shown = [(each["name"], each["centre"], each["width"]) for each in result["matches"]]
        self.assertEqual(
            shown,
            [("basket", "basket mean", "basket SD"), ("mesh", "mesh mean", "mesh SD"), ("", "net mean", "")],
        )
        cells = {(each["label"], result["series"][each["series"]]): each for each in result["rows"]}
        self.assertEqual((cells["6", "mesh"]["low"], cells["6", "mesh"]["high"]), (18, 26))
        self.assertEqual(cells["0", "net mean"]["low"], None)
        self.assertIn("Without a partner: net mean.", result["words"])
