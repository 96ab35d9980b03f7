"""The methods paragraph: whatever is said has a source where it needs one, and nothing is said twice."""

import re
import tomllib
from pathlib import Path
from string import Formatter
from unittest import TestCase

import heron
from heron import methods
from heron.definitions import short
from heron.methods import MEANT, Decided, TableUsed, Use, describe
from heron.sources import SOURCES

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


def fields(words):
    return {name for _, name, _, _ in Formatter().parse(words) if name}


class Data(TestCase):
    def test_what_was_read_and_decided_stands_in_one_paragraph(self):
        said = describe([TABLE], [], {"numpy": "2.4"}).paragraphs
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
            describe([plain], [], {}).paragraphs[0],
            "Tide: 12 rows of 2 variables, simulated. No value is missing. No row was set aside.",
        )


class Analyses(TestCase):
    def test_each_method_has_its_sentence_and_its_sources(self):
        for key, (words, sources) in MEANT.items():
            with self.subTest(key):
                use = Use(key, tuple((name, f"<{name}>") for name in fields(words)))
                said = describe([], [use], {})
                sentence = said.paragraphs[0]
                self.assertTrue(sentence[0].isupper() and sentence.endswith("."), sentence)
                self.assertNotRegex(sentence, r"[{}]")
                for source in sources:
                    self.assertIn(short(source).replace(" (", " ").rstrip(")"), sentence)
                    self.assertIn(SOURCES[source], said.citations)
                self.assertEqual(len(said.citations), len(sources))

    def test_what_several_plates_share_is_said_once_in_their_order(self):
        box = Use("box-fences", (("reach", "1.5"),))
        quartiles = Use("quartiles", (("definition", "7"),))
        said = describe([], [quartiles, box, quartiles, Use("smooth", (("span", "67"),))], {})
        self.assertEqual(
            said.paragraphs[0],
            "Quartiles follow definition 7 (Hyndman and Fan 1996). Whiskers of boxes reach the outermost values within "
            "1.5 interquartile ranges (Tukey 1977). Smooth curves are robust local lines over 67 % of the pairs "
            "(Cleveland 1979).",
        )
        other = describe([], [box, Use("box-fences", (("reach", "3"),))], {})
        self.assertEqual(other.paragraphs[0].count("Whiskers"), 2)
        self.assertEqual(list(said.citations), sorted(said.citations))

    def test_it_is_written_as_markdown(self):
        text = describe([TABLE], [Use("esd")], {"numpy": "2.4"}).markdown("Methods of Ellery Sound")
        self.assertTrue(text.startswith("# Methods of Ellery Sound\n\nOysters: 416 rows"))
        self.assertIn("\n\n## References\n\n- Rosner, B. (1983).", text)
        self.assertNotIn("References", describe([TABLE], [], {}).markdown("x"))


class Version(TestCase):
    def test_the_version_stands_once(self):
        read = tomllib.loads((Path(heron.__file__).parents[2] / "pyproject.toml").read_text())
        self.assertRegex(heron.__version__, r"^\d+\.\d+\.\d+$")
        self.assertNotIn("version", read["project"])  # it stands once
        self.assertEqual(read["tool"]["setuptools"]["dynamic"]["version"], {"attr": "heron.__version__"})

    def test_every_key_is_plain(self):
        self.assertTrue(all(re.fullmatch(r"[a-z-]+", key) for key in methods.MEANT))
