"""The public page: sorted, documented by its own examples, and with results that can be read and laid out."""

import doctest
import importlib
import inspect
import unittest
import warnings
from dataclasses import fields, is_dataclass
from functools import partial

import heron
import numpy as np
import pandas as pd
from heron import density, differences, frequency, groups, outliers, sensitivity
from heron.errors import NotInstalled
from heron.results import Result
from heron.sources import SOURCES
from numpydoc.docscrape import FunctionDoc
from numpydoc.validate import validate

FUNCTIONS = [name for name in heron.__all__ if not inspect.isclass(getattr(heron, name))]
# What a docstring must have; the rest of the validator's list is of style, or asks for cross-references.
ASKED = {"GL03", "GL06", "GL07", "GL08", "SS01", "SS02", "SS03", "SS06", "PR01", "PR02", "PR03", "PR04", "PR07", "RT01",
         "RT03", "YD01", "EX01"}  # fmt: skip
rng = np.random.default_rng(5)
X, Y, BED = rng.lognormal(2, 0.4, 30), rng.normal(5, 1, 30), ["low", "mid", "high"] * 10

BASE = np.random.default_rng(1).normal(size=24)
HARD = {
    "near the largest number": BASE / np.abs(BASE).max() * 1.7e308,
    "near it and above 0": np.abs(BASE) / np.abs(BASE).max() * 1.7e308 + 1e300,
    "whose squares vanish": BASE * 1e-160,
    "near the smallest number": BASE * 1e-310,
    "far from 0": 1e15 + np.arange(24.0),
    "farther than their digits": 1e12 + BASE,
    "of few levels": np.array([1.0, 1, 1, 1, 2, 1] * 4),
    "with one that dwarfs all": np.r_[BASE[:23], 1e300],
    "constant": np.full(24, 3.0),
}


def place_of(name):
    return f"{getattr(heron, name).__module__}.{name}"


class Page(unittest.TestCase):
    def test_names_are_sorted_and_there(self):
        self.assertEqual(heron.__all__, sorted(heron.__all__))
        self.assertLessEqual(len(heron.__all__), 70)
        for name in heron.__all__:
            self.assertTrue(inspect.getdoc(getattr(heron, name)), name)
        with self.assertRaises(AttributeError):
            _ = heron.mode

    def test_every_function_is_documented_as_numpydoc_asks(self):
        for name in FUNCTIONS:
            said = validate(place_of(name))["errors"]
            self.assertEqual([(code, words) for code, words in said if code in ASKED], [], name)
            self.assertTrue(FunctionDoc(getattr(heron, name))["Raises"], name)
            for source in FunctionDoc(getattr(heron, name))["References"]:
                self.assertIn(source.split(",")[0].strip(), SOURCES, name)

    def test_every_function_has_an_example_that_holds(self):
        for name in FUNCTIONS:
            module = importlib.import_module(getattr(heron, name).__module__)
            (example,) = doctest.DocTestFinder(recurse=False).find(getattr(heron, name), name, module)
            self.assertTrue(example.examples, name)
            told = []
            doctest.DocTestRunner().run(example, out=told.append)
            self.assertEqual("".join(told), "", name)


class Results(unittest.TestCase):
    def test_each_can_be_read_and_laid_out(self):
        line = heron.fit_line(X, Y)
        results = [
            heron.summarize(X), heron.classify(X), heron.count_values(BED), heron.kernel_density(X),
            heron.check_normality(X), heron.fit_family(X), heron.quantile_plot(X), heron.flag_outliers(X),
            heron.flag_outliers(X, BED), heron.robust_distances({"x": X, "y": Y}),
            heron.transform(X, {"way": "rank"}), heron.power_ladder(X), heron.box_cox(X), heron.group_centres(X, BED),
            heron.boxes(X, BED), heron.shares(BED, chosen=["low"]), heron.compare_groups(X, BED),
            heron.compare_spreads(X, BED), heron.mean_difference(X, np.array(BED) == "low"), heron.correlate(X, Y),
            line, heron.predict(line, 3.0), heron.theil_sen(X, Y), heron.smooth_line(X, Y),
            heron.compare_slopes(X, Y, BED), heron.pair_density(X, Y), heron.diagnose_fit(Y, {"x": X}),
            heron.tolerance_limits(X), heron.reference_limits(X), heron.leave_one_out(X, "mean"),
            heron.associate(BED, ["u", "v"] * (len(X) // 2)), heron.shift(X, np.array(BED) == "low"),
            heron.compare_repeated(X, BED, unit=np.arange(len(X)) // 3), heron.summarize([]),
            heron.group_centres([], []), heron.compare_groups([1.0], ["a"]),
            heron.correlate([1.0, 1, 1], [1.0, 2, 3]),
        ]  # fmt: skip
        for result in results:
            self.assertIsInstance(result, Result)
            frame = result.to_frame()
            self.assertIsInstance(frame, pd.DataFrame)
            self.assertIn(type(result).__name__, repr(result))
            self.assertLess(len(repr(result).splitlines()), 80, type(result).__name__)
        centres = heron.group_centres(X, BED, order=["low", "mid", "high"]).to_frame()
        self.assertEqual(centres["label"].tolist(), ["low", "mid", "high"])
        np.testing.assert_allclose(centres["centre"], [X[i::3].mean() for i in range(3)])
        self.assertEqual(heron.summarize(X).to_frame().loc["mean", "value"], X.mean())
        self.assertIn("median_low: ", repr(heron.summarize([1.0, 2.0])))

    def test_a_pandas_table_becomes_one_of_ours_and_back(self):
        frame = pd.DataFrame(
            {"mass": [1.5, None], "n": [1, 2], "bed": ["low", None], "day": pd.to_datetime(["2026-03-04", None])}
        )
        table = heron.Table.from_frame(frame, name="shells", units={"mass": "g"})
        kinds = {symbol: table[symbol].kind for symbol in table}
        self.assertEqual(kinds, {"mass": "continuous", "n": "count", "bed": "category", "day": "date-time"})
        self.assertEqual([table[symbol].n_missing for symbol in table], [1, 0, 1, 1])
        back = table.to_frame()
        self.assertEqual(back["bed"].tolist()[0], "low")
        self.assertTrue(back.isna().equals(frame.isna()))
        self.assertEqual(str(back["day"][0]), "2026-03-04 00:00:00")
        self.assertIn("mass: mass (g), continuous, 1 missing", repr(table))
        self.assertIn("1 missing", repr(table["mass"]))
        self.assertEqual(heron.summarize(table["mass"]).n_missing, 1)


class Extremes(unittest.TestCase):
    def test_no_number_on_the_page_is_infinite_and_no_error_is_another_than_ours(self):
        by, i = ["a", "b"] * 12, np.arange(24.0)
        tried = [
            heron.summarize, heron.classify, heron.check_normality, heron.quantile_plot, heron.power_ladder,
            heron.box_cox, heron.yeo_johnson, heron.tolerance_limits, heron.boxes,
            lambda x: heron.reference_limits(x, method="normal"), lambda x: heron.compare_groups(x, by),
            lambda x: heron.compare_spreads(x, by), lambda x: heron.smooth_line(i, x), lambda x: heron.theil_sen(i, x),
            lambda x: heron.correlate(x, i), lambda x: heron.fit_line(i, x), lambda x: heron.fit_line(x, i),
            lambda x: heron.diagnose_fit(x, {"i": i}), lambda x: heron.pair_density(i, x),
            lambda x: heron.agree(x, i), lambda x: heron.agree(i, x, scale="log"), heron.control_chart,
            lambda x: heron.control_chart(x, chart="sd", subgroup=by), lambda x: heron.capability(x, upper=3.0),
            lambda x: heron.components(x, unit=np.arange(24) // 4), lambda x: heron.percent_point_interval(x, 40),
            lambda x: heron.below_detection(x, np.where(np.arange(24) % 5 == 0, 2.0, np.nan)),
            lambda x: heron.compare_repeated(x, by, unit=np.arange(24) // 2),
            *(partial(heron.resampled_interval, statistic=name) for name in ("sd", "cv", "skewness")),
            *(partial(heron.flag_outliers, rule=rule) for rule in outliers.RULES),
            *(partial(heron.kernel_density, bandwidth=rule) for rule in density.BANDWIDTH_RULES),
            *(partial(heron.classify, rule=rule) for rule in frequency.CLASS_RULES),
            *(partial(heron.leave_one_out, statistic=name) for name in sensitivity.STATISTICS),
            *(partial(record.measure, by=by) for record in differences.EFFECTS.values()),
            *(
                partial(heron.group_centres, by=by, centre=centre, bars=bars)
                for centre in groups.CENTRES for bars in groups.fitting(centre)
            ),
        ]  # fmt: skip
        for name, values in HARD.items():
            for function in tried:
                with self.subTest(values=name, function=getattr(function, "func", function), more=str(function)[:200]):
                    try:
                        with warnings.catch_warnings(action="ignore"):
                            result = function(values)
                    except heron.HeronError:
                        continue
                    self.assertEqual(list(infinite(result)), [])


def infinite(part, name=""):
    """The fields of a result that hold an infinity."""
    if is_dataclass(part):
        for field in fields(part):
            yield from infinite(getattr(part, field.name), f"{name}.{field.name}")
    elif isinstance(part, tuple | list):
        for inner in part:
            yield from infinite(inner, name)
    elif isinstance(part, float | np.ndarray) and np.asarray(part).dtype.kind == "f" and np.isinf(part).any():
        yield name


class Errors(unittest.TestCase):
    def test_what_is_not_installed_is_named_with_the_way_to_it(self):
        error = NotInstalled("pyarrow", "files")
        self.assertIn("pip install 'velvet-heron[files]'", str(error))
        self.assertIsInstance(error, ImportError)

    def test_a_picture_says_which_of_its_choices_it_does_not_know(self):
        table = heron.Table.from_frame(pd.DataFrame({"mass": X, "bed": BED}))
        drawn = heron.picture(table, "groups", variable="mass", by="bed", marks=["box"])
        self.assertIn("n: high 10, low 10, mid 10", drawn.caption)
        self.assertTrue(drawn.alternative and drawn.data and repr(drawn))
        for wrong in ({"kind": "pie"}, {"marks": ["blob"]}, {"colour": "red"}, {"centre": "mode"}):
            with self.assertRaises(heron.ChoiceError):
                heron.picture(table, **{"kind": "groups", "variable": "mass", "by": "bed", **wrong})
        with self.assertRaises(heron.HeronError):
            heron.picture(table, "groups", variable="mass", by="no such")
