"""The methods paragraph: whatever is said has a source where it needs one, and nothing is said twice."""

import re
import tomllib
from pathlib import Path
from string import Formatter
from unittest import TestCase
from uuid import UUID

import heron
import pandas as pd
from heron import methods
from heron.columns import Table
from heron.figure import from_json, uses_of
from heron.groups import WHISKERS
from heron.ledger import Decision, TablesAsImports, TableView, replay_decisions
from heron.methods import MEANT, Decided, TableUsed, meant, methods_section
from heron.outliers import RULES
from heron.quantiles import QUANTILE_DEFINITIONS
from heron.relation import LINES
from heron.sources import SOURCES, short

TABLE = TableUsed(
    "Oysters", "read from oysters.csv", "ab" * 32, 416, 10, (("blank", 4), ("n/r", 7)),
    (
        Decided(1, "set-aside", 2, "2 rows (3, 9)", "broken shells"),
        Decided(2, "correct", 1, "1 cell of mass was corrected", "decimal slip"),
        Decided(4, "set-aside", 1, "1 row (12)", "wet"),
        Decided(5, "set-aside", 1, "1 row (40)", "broken shells"),
    ),
    ("log10 of mass is made of mass",),
)  # fmt: skip


def viewed(**said):
    table = Table.from_frame(pd.DataFrame({"mass": [2.0, 3.0], "lead": [1.0, 0.5], "bed": ["a", "b"]}))
    decided = [Decision(1, "describe", changes=said)] if said else []
    return TableView("Oysters", replay_decisions(decided, TablesAsImports(table)))


PLAIN = viewed()
HOLDING = viewed(
    lead={"detection_limit": 0.8, "below_limit": "half"}, mass={"spec_upper": 4.0}, **{"": {"unit_variable": "bed"}}
)


def fields(words):
    return {name for _, name, _, _ in Formatter().parse(words) if name}


class Data(TestCase):
    def test_what_was_read_and_decided_stands_in_one_paragraph(self):
        said = methods_section([TABLE], [], {"numpy": "2.4"}).paragraphs
        self.assertEqual(
            said[0],
            "Oysters: 416 rows of 10 variables, read from oysters.csv, SHA-256 beginning abababababab. "
            "Missing values by code: blank 4, n/r 7. "
            "Set aside: 2 rows (3, 9); 1 row (40) as “broken shells” (Ledger 1, 5); 1 row (12) as “wet” (Ledger 4). "
            "1 cell of mass was corrected (decimal slip) (Ledger 2). Log10 of mass is made of mass.",
        )
        self.assertEqual(said[1:], ("Computed with numpy 2.4.",))

    def test_nothing_missing_and_nothing_decided_is_said_too(self):
        plain = TableUsed("Tide", "simulated", "", 12, 2, (), (), ())
        self.assertEqual(
            methods_section([plain], [], {}).paragraphs[0],
            "Tide: 12 rows of 2 variables, simulated. No value is missing. No row was set aside.",
        )


class Analyses(TestCase):
    def test_each_method_has_its_sentence_and_its_sources(self):
        for key, (words, sources) in MEANT.items():
            with self.subTest(key):
                said = methods_section([], [meant(key, **{name: f"<{name}>" for name in fields(words)})], {})
                sentence = said.paragraphs[0]
                self.assertTrue(sentence[0].isupper() and sentence.endswith("."), sentence)
                self.assertNotRegex(sentence, r"[{}]")
                for source in sources:
                    self.assertIn(short(source).replace(" (", " ").rstrip(")"), sentence)
                    self.assertIn(SOURCES[source], said.citations)
                self.assertEqual(len(said.citations), len(sources))

    def test_what_several_plates_share_is_said_once_in_their_order(self):
        box, quartiles = WHISKERS["fences"].used(), QUANTILE_DEFINITIONS["7"].used()
        said = methods_section([], [quartiles, box, quartiles, LINES["smooth"].used(span="67")], {})
        self.assertEqual(
            said.paragraphs[0],
            "Quartiles follow definition 7 (Hyndman and Fan 1996). Whiskers of boxes reach the outermost values within "
            "1.5 interquartile ranges (Tukey 1977). Lowess curves are robust local lines over 67 % of the pairs "
            "(Cleveland 1979).",
        )
        other = methods_section([], [box, WHISKERS["fences"].used(reach=3)], {})
        self.assertEqual(other.paragraphs[0].count("Whiskers"), 2)
        self.assertEqual(list(said.citations), sorted(said.citations))

    def test_it_is_written_as_markdown(self):
        text = methods_section([TABLE], [RULES["esd"].used()], {"numpy": "2.4"}).markdown("Methods of Ellery Sound")
        self.assertTrue(text.startswith("# Methods of Ellery Sound\n\nOysters: 416 rows"))
        self.assertIn("\n\n## References\n\n- Rosner, B. (1983).", text)
        self.assertNotIn("References", methods_section([TABLE], [], {}).markdown("x"))


class OfPanels(TestCase):
    def test_every_kind_of_panel_names_its_variables_and_methods(self):
        kinds = {
            "groups": (
                {
                    "by": "bed",
                    "second": "site",
                    "bars": "bootstrap-interval",
                    "units": True,
                    "marks": ["box", "violin", "centre"],
                    "variable": "mass",
                },
                {"mass", "bed", "site"},
                [
                    "bars are 95 % bootstrap intervals of the mean",
                    "values of one",
                    "quartiles follow definition 7",
                    "whiskers of",
                    "densities have a gaussian",
                ],
            ),
            "shares": (
                {"by": "bed", "variable": "site"},
                {"bed", "site"},
                ["shares have 95 % score", "whether answers go"],
            ),
            "differences": (
                {"by": "bed", "measure": "hedges-g", "variable": "mass"},
                {"mass", "bed"},
                [
                    "differences are given as Hedges' g",
                    "groups were compared by Welch's",
                    "groups were compared by ranks",
                ],
            ),
            "pair": (
                {
                    "x": "length",
                    "y": "mass",
                    "lines": ["least-squares", "median", "smooth"],
                    "by": "bed",
                    "size": "mean",
                },
                {"length", "mass", "bed", "mean"},
                [
                    "lines were fitted by least squares",
                    "Theil-Sen",
                    "lowess curves are robust local lines over 67 %",
                    "limits of coefficients",
                ],
            ),
            "quantiles": (
                {"variable": "mass", "as_if": '{"how":"scale","setting":{"way":"box-cox","power":0.2}}'},
                {"mass"},
                ["normality was judged", "power transformations follow Box"],
            ),
            "rules": (
                {"variable": "mass", "rules": ["fences", "esd"]},
                {"mass"},
                [
                    "rows were screened by fences at 1.5",
                    "rows were screened by the generalized ESD test for up to 10 values at 5 %",
                ],
            ),
            "control": ({"variable": "mass", "along": "day"}, {"mass", "day"}, ["a control chart of single values"]),
            "agreement": ({"x": "length", "y": "mass"}, {"mass", "length"}, ["agreement of methods was judged"]),
            "distances": ({"variables": ["mass", "length"]}, {"mass", "length"}, ["robust distances"]),
            "influence": (
                {"response": "mass", "predictors": ["length", "bed"]},
                {"mass", "length", "bed"},
                ["influence was", "limits of coefficients", "how closely the response", "what predictors share"],
            ),
            "estimates": ({"of": ["mean"], "limits": ["low", "high"]}, {"mean", "low", "high"}, []),
            "shape": (
                {"variable": "mass", "bandwidth": 2.5, "width": 3, "whiskers": "percentiles"},
                {"mass"},
                [
                    "quartiles follow",
                    "whiskers of boxes reach the 5 and 95 percent",
                    "densities have a gaussian kernel of SD 2.5",
                    "classes of histograms were set by hand",
                ],
            ),
        }
        told = {
            "detection": {"kind": "shape", "variable": "lead", "layers": []},
            "components": {"kind": "groups", "variable": "mass", "by": "bed", "marks": []},
            "capability": {"kind": "control", "variable": "mass"},
        }
        for key, said in told.items():  # what the variables of the table hold calls for it
            source = from_json({"table": UUID(int=1), **said})
            self.assertIn(meant(key), uses_of(source, HOLDING), key)
            self.assertNotIn(meant(key), uses_of(source, PLAIN), key)
        for kind, (said, symbols, clauses) in kinds.items():
            source = from_json({"kind": kind, "table": UUID(int=1), **said})
            self.assertEqual(source.symbols, symbols, kind)
            told = [use.clause for use in uses_of(source, PLAIN)]
            self.assertEqual(len(told), len(clauses), kind)
            for clause, beginning in zip(told, clauses, strict=True):
                self.assertTrue(clause.startswith(beginning), f"{kind}: {clause}")
                self.assertNotRegex(clause, r"[{}]")
            only = from_json({**source.to_json(), "only": {"by": "day", "level": "x"}})
            self.assertEqual(only.symbols, symbols | {"day"})


class Version(TestCase):
    def test_the_version_stands_once(self):
        read = tomllib.loads((Path(heron.__file__).parents[1] / "pyproject.toml").read_text())
        self.assertRegex(heron.__version__, r"^\d+\.\d+\.\d+$")
        self.assertNotIn("version", read["project"])  # it stands once
        self.assertEqual((read["project"]["dynamic"], read["tool"]["flit"]["module"]), (["version"], {"name": "heron"}))

    def test_every_key_is_plain(self):
        self.assertTrue(all(re.fullmatch(r"[a-z-]+", key) for key in methods.MEANT))
