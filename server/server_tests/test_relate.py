"""Two variables over HTTP: what the core says of their pairs, and who may ask."""

import json

import heron
import numpy as np
from heron import relation

from server.server_tests.cases import StudyCase, person, signed_in, stored, unpacked

rng = np.random.default_rng(17)
LEN = np.round(rng.uniform(10, 60, 90), 1)
MASS = np.round(0.002 * LEN**2.4 * 10 ** rng.normal(0, 0.05, 90), 3)
BED = np.array(["low", "mid", "high"])[np.arange(90) % 3]
DAY = [f"2024-03-{1 + i // 4:02d} {6 * (i % 4):02d}:00" for i in range(90)]
CELLS = [str(value) for value in MASS]
CELLS[4], CELLS[7] = "", "n/r"
TEXT = "length (mm),mass (g),bed,day\n" + "\n".join(
    f"{'' if i == 7 else x},{y},{b},{d}" for i, (x, y, b, d) in enumerate(zip(LEN, CELLS, BED, DAY, strict=True))
)
X, Y = LEN.copy(), MASS.copy()
X[7] = Y[4] = Y[7] = np.nan
PAIR = {"x": "length", "y": "mass"}


class Relating(StudyCase):
    @classmethod
    def setUpTestData(cls):
        cls.owner = person("ada")
        cls.table = stored(cls.owner, TEXT, name="Shells", missing_codes=["n/r"])
        cls.study = cls.table.study

    def ask(self, name, **asked):
        response = self.client.get(self.address(name), asked)
        self.assertEqual(response.status_code, 200, response.content[:400])
        return unpacked(response.content) if "octet" in response["Content-Type"] else response.json()

    def test_pairs_with_what_was_lost_and_why(self):
        self.on_table("", kind="set-aside", rows=[1, 2], reason="broken")
        result = self.ask("pairs", x="length", y="mass", by="bed")
        series = result["series"][0]
        self.assertEqual((series["n_pairs"], series["thinned"], result["levels"]), (86, False, ["high", "low", "mid"]))
        lost = {each["why"]: each["n"] for each in series["lost"]}
        self.assertEqual(lost, {"without mass": 1, "without both": 1, "set aside": 2})
        drawn = self.picture(x="length", y="mass", by="bed", margins="boxes")
        for points in (each for each in drawn["layers"] if each["role"] == "points"):
            rows = points["rows"] - 1
            np.testing.assert_array_equal([points["x"], points["y"]], [X[rows], Y[rows]])
            self.assertEqual(set(BED[rows]), {points["series"]})
        in_group = ~np.isnan(X) & ~np.isnan(Y) & (np.arange(90) > 1)
        boxes = [each for each in drawn["layers"] if each["role"] == "box"]
        for box in boxes:
            values = (Y if box["upright"] else X)[in_group & (box["series"] == BED)]
            self.assertAlmostEqual((box["y"] if box["upright"] else box["x"])[0], np.median(values))
        self.assertEqual(len(boxes), 6)

    def picture(self, **said):
        source = {"kind": "pair", "table": str(self.table.pk), "lines": [], **said}
        address = f"/api/tables/{self.table.pk}/figure"
        response = self.client.get(address, {"panels": json.dumps([{"source": source}])})
        self.assertEqual(response.status_code, 200, response.content[:400])
        return unpacked(response.content)["scenes"][0]

    def test_several_over_time_break_where_rows_lack_a_value(self):
        self.assertTrue(self.ask("pairs", x="day", y=["mass", "length"])["x_is_time"])
        drawn = self.picture(x="day", y="mass", also=["length"], joined="x")
        mass, length = (each for each in drawn["layers"] if each["role"] == "points")
        self.assertEqual(mass["rows"].tolist(), [i + 1 for i in range(90) if i not in (4, 7)])
        gaps = [np.flatnonzero(np.isnan(each["x"])).tolist() for each in drawn["layers"] if each["role"] == "joined"]
        self.assertEqual(gaps, [[4, 7], [7]])
        self.assertEqual(length["series"], "length")

    def test_correlations_of_all_and_within_groups(self):
        result = self.ask("correlations", **PAIR, by="bed")
        expected = relation.correlate(X, Y)
        whole = result["groups"][0]["found"]
        self.assertAlmostEqual(whole["spearman"]["low"], expected.spearman.low)
        self.assertAlmostEqual(whole["kendall"]["p_value"], expected.kendall.p_value)
        mid = next(each for each in result["groups"] if each["label"] == "mid")["found"]
        self.assertAlmostEqual(
            mid["pearson"]["estimate"], relation.correlate(X[BED == "mid"], Y[BED == "mid"]).pearson.estimate
        )
        alike = self.ask("matrix", variables=["length", "mass", "day"], alike=True)
        self.assertEqual({cell["n_pairs"] for cell in alike["cells"]}, {88})
        apart = self.ask("matrix", variables=["length", "mass", "day"])
        self.assertEqual([cell["n_pairs"] for cell in apart["cells"]], [88, 89, 88])

    def test_lines_on_scales_with_residuals_and_a_prediction(self):
        scales = {"x_scale": "log10", "y_scale": "log10"}
        result = self.ask("fits", **PAIR, **scales, lines=["least-squares", "median", "smooth"], span=0.5)
        line = relation.fit_line(X, Y, x_scale="log10", y_scale="log10")
        group = result["groups"][0]
        self.assertAlmostEqual(group["fit"]["slope"], line.slope)
        start, power = 10**line.intercept, line.slope
        self.assertEqual(group["carried_back"], f"mass = {start:.4g} × length^{{{power:.4g}}}")
        self.assertAlmostEqual(group["median"]["slope"], relation.theil_sen(X, Y).slope)
        shown = {**PAIR, **scales, "lines": ["least-squares", "smooth"], "span": 0.5, "bands": "both"}
        drawn = {each["role"]: each for each in self.picture(**shown)["layers"]}
        self.assertEqual(drawn["one more"]["y"].max(), line.one_high.max())
        np.testing.assert_allclose(drawn["smooth"]["y"], relation.smooth_line(X, Y, span=0.5).y)
        left = self.picture(**shown, plot="residuals")["layers"][1]
        rows = left["rows"] - 1
        self.assertEqual(rows.size, 88)
        expected = np.log10(Y[rows]) - line.intercept - line.slope * np.log10(X[rows])
        np.testing.assert_allclose(left["y"], expected, atol=1e-12)
        self.assertIn("smearing factor", " ".join(result["words"]))
        at = self.ask("predict", **PAIR, **scales, value=80)
        self.assertAlmostEqual(at["y"], start * 80**power)
        self.assertTrue(at["outside"])
        each = self.ask("fits", **PAIR, by="bed")
        self.assertEqual([group["label"] for group in each["groups"]], ["high", "low", "mid"])
        slopes = relation.compare_slopes(X, Y, BED)
        self.assertAlmostEqual(each["slopes"]["p_value"], slopes.p_value)

    def test_the_board_proposes_logs(self):
        result = self.ask("straighten", **PAIR)
        cell = result["board"]["cells"][result["board"]["proposed"]]
        self.assertEqual((cell["x_scale"], cell["y_scale"]), ("log10", "log10"))
        self.assertIn("length on logs and mass on logs", result["words"][0])
        self.assertEqual(result["x"].size, 88)

    def test_the_pairs_inside_an_outline(self):
        outline = {"outline_x": [20, 40, 40, 20], "outline_y": [0, 0, 200, 200]}
        inside = unpacked(self.act(f"tables/{self.table.pk}/readings/enclosed", {**PAIR, **outline}).content)
        self.assertEqual(inside["rows"].tolist(), [i + 1 for i in range(90) if 20 < X[i] < 40 and not np.isnan(Y[i])])

    def test_how_two_methods_agree_and_what_is_left_given_others(self):
        result = self.ask("agreement", x="length", y="mass", scale="log", margin=2)
        expected = heron.agree(Y, X, scale="log", margin=2)
        told = [result["numbers"][name] for name in ("bias", "low_to", "margin_p", "n_pairs")]
        self.assertEqual(told, [expected.bias, expected.low_to, expected.margin_p, 88])
        self.assertEqual({lost["why"]: lost["n"] for lost in result["lost"]}, {"without mass": 1, "without both": 1})
        refused = self.client.get(self.address("agreement"), {**PAIR, "scale": "log", "margin": 0.5})
        self.assert_problem(refused, 422, "out-of-range")
        given = self.ask("matrix", variables=["length", "mass", "day"], partial=True)
        days = np.array([np.datetime64(day.replace(" ", "T")).astype(float) for day in DAY])
        partial = relation.correlate_partially([X, Y, days])
        self.assertAlmostEqual(given["cells"][0]["pearson"], partial[1][0].pearson.estimate)
        self.assertEqual((given["alike"], given["cells"][0]["n_pairs"], given["cells"][0]["why"]), (True, 88, ""))

    def test_what_cannot_be_asked(self):
        for name, asked, status, code in (
            ("pairs", {"x": "nowhere", "y": "mass"}, 404, "no-variable"),
            ("fits", {"x": "bed", "y": "mass"}, 422, "not-numeric"),
            ("predict", {**PAIR, "x_scale": "log10", "value": -1}, 422, "off-scale"),
        ):
            response = self.client.get(self.address(name), asked)
            self.assert_problem(response, status, code)
        self.client = signed_in(person("bob"))
        for name in ("pairs", "fits", "correlations", "straighten"):
            self.assertEqual(self.client.get(self.address(name), PAIR).status_code, 404)
        body = {**PAIR, "outline_x": [1, 2, 3], "outline_y": [1, 2, 3]}
        self.assertEqual(self.act(f"tables/{self.table.pk}/readings/enclosed", body).status_code, 404)
