"""The table of meanings: every source is known, every statistic is in it, and the document is what the code says."""

import re
import unittest
from pathlib import Path

import heron
from heron.definitions import CHAPTERS, as_markdown
from heron.sources import cited, short

DOCUMENT = Path(__file__).parents[2] / "docs" / "methods" / "statistics.md"


class Meanings(unittest.TestCase):
    def test_the_document_is_what_the_code_says(self):
        self.assertEqual(DOCUMENT.read_text(), as_markdown())

    def test_every_source_that_the_core_names_is_known(self):
        named = {key for meanings in CHAPTERS.values() for meaning in meanings for key in meaning.sources}
        for file in Path(heron.__file__).parent.rglob("*.py"):
            for said in re.findall(r"^ *References: (.*)$", file.read_text(), re.M):
                named.update(re.findall(r"\b[a-z]+(?:-[a-z]+)*-\d{4}\b", said))
        self.assertGreater(len(named), 20)
        self.assertEqual({source for source in named if cited(source) == source and " (" not in source}, set())

    def test_sources_are_named_by_their_authors(self):
        self.assertEqual(short("joanes-gill-1998"), "Joanes and Gill (1998)")
        self.assertEqual(short("buja-2009"), "Buja and others (2009)")
        self.assertEqual(short("holm-1979"), "Holm (1979)")

    def test_each_meaning_is_said_once_under_a_plain_id(self):
        meant = [meaning.id for meanings in CHAPTERS.values() for meaning in meanings]
        self.assertEqual(len(meant), len(set(meant)))  # each is said once
        for each in meant:
            self.assertRegex(each, r"^[a-z0-9_]+$")
