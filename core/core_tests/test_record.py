"""Decisions and their replay."""

import unittest
from itertools import pairwise

import numpy as np
from heron import intake, summary
from heron.errors import InputError
from heron.record import Decision, aside_after, described_after, from_runs, replay, standing, to_runs, undone_last
from hypothesis import given, settings
from hypothesis import strategies as st

TABLE = intake.read(b"bed,mass\na,1.5\nb,n/r\na,4\nb,8\na,16\nb,2\n").table


def entry(number, kind, rows=(), variable="", of=0):
    return Decision(number, kind, to_runs(rows), variable, of)


class Runs(unittest.TestCase):
    @given(st.lists(st.integers(1, 60)))
    def test_runs_hold_the_rows_and_nothing_else(self, rows):
        runs = to_runs(rows)
        self.assertEqual(from_runs(runs).tolist(), sorted(set(rows)))
        for (_, end), (start, _) in pairwise(runs):
            self.assertGreater(start, end + 1)


class SettingAside(unittest.TestCase):
    def test_rows_and_single_values(self):
        table = replay([entry(1, "set-aside", [3, 4]), entry(2, "set-aside", [5], "mass")], TABLE)
        self.assertEqual(table["mass"].missing_counts, {"n/r": 1, "set aside": 3})
        self.assertEqual(table["bed"].missing_counts, {"set aside": 2})
        self.assertEqual(table["bed"].values.tolist(), ["a", "b", None, None, "a", "b"])
        self.assertEqual(summary.summarize(table["mass"].numbers).mean, (1.5 + 2) / 2)
        self.assertEqual(TABLE["mass"].n_missing, 1)  # data are never overwritten

    def test_put_back_undo_and_redo(self):
        taken = [entry(1, "set-aside", [1, 2, 3]), entry(2, "put-back", [2])]
        self.assertEqual(aside_after(taken).rows, ((1, 1), (3, 3)))
        undone = [*taken, entry(3, "undo", of=2)]
        self.assertEqual((aside_after(undone).rows, undone_last(undone)), (((1, 3),), 2))
        again = [*undone, entry(4, "redo", of=2)]
        self.assertEqual((aside_after(again).rows, undone_last(again)), (((1, 1), (3, 3)), None))
        branched = [*undone, entry(4, "set-aside", [6])]
        self.assertEqual((aside_after(branched).rows, undone_last(branched)), (((1, 3), (6, 6)), None))
        self.assertEqual([decision.number for decision in standing(branched)], [1, 4])

    def test_a_missing_value_set_aside_keeps_its_own_code_when_put_back(self):
        both = [entry(1, "set-aside", [2]), entry(2, "put-back", [2])]
        self.assertEqual(replay(both[:1], TABLE)["mass"].missing_counts, {"set aside": 1})
        self.assertEqual(replay(both, TABLE)["mass"].missing_counts, {"n/r": 1})

    def test_variables_are_described_and_the_words_taken_back(self):
        first = Decision(1, "describe", variable="mass", changes={"label": "wet mass", "lower": 0.0})
        second = Decision(2, "describe", variable="mass", changes={"unit": "g", "label": "mass, wet"})
        said = [first, second]
        self.assertEqual(described_after(said), {"mass": {"label": "mass, wet", "unit": "g", "lower": 0.0}})
        column = replay(said, TABLE)["mass"]
        self.assertEqual((column.label, column.unit), ("mass, wet", "g"))
        undone = [*said, entry(3, "undo", of=2)]
        self.assertEqual(described_after(undone), {"mass": {"label": "wet mass", "lower": 0.0}})
        self.assertEqual((aside_after(undone).rows, undone_last(undone)), ((), 2))

    def test_what_the_table_does_not_have_is_refused(self):
        for wrong in (entry(1, "set-aside", [7]), entry(1, "set-aside", [0]), entry(1, "set-aside", [1], "width")):
            with self.assertRaises(InputError):
                replay([wrong], TABLE)

    @settings(max_examples=100, deadline=None)
    @given(st.lists(st.tuples(st.booleans(), st.sets(st.integers(1, 6)), st.sampled_from(["", "mass"])), max_size=8))
    def test_replay_is_the_decisions_one_by_one(self, steps):
        rows, values = set(), set()
        decisions = []
        for number, (aside, named, variable) in enumerate(steps, 1):
            decisions.append(entry(number, "set-aside" if aside else "put-back", named, variable))
            held = values if variable else rows
            held.update(named) if aside else held.difference_update(named)
        table = replay(decisions, TABLE)
        codes = [None, *table["mass"].missing_codes]
        gone = [codes[reason] == "set aside" for reason in table["mass"].reasons]
        self.assertEqual(gone, [row in rows | values for row in range(1, 7)])
        back = [entry(99, "put-back", range(1, 7)), entry(100, "put-back", range(1, 7), "mass")]
        kept = replay([*decisions, *back], TABLE)
        np.testing.assert_array_equal(kept["mass"].numbers, TABLE["mass"].numbers)  # bit for bit
