"""Row numbers in runs, against sets of single numbers."""

import unittest
from itertools import pairwise

from heron.numbering import as_text, first_rows, from_runs, from_text, joined, moved, n_rows_of, to_runs, up_to, without
from hypothesis import given
from hypothesis import strategies as st

RUNS = st.lists(st.tuples(st.integers(1, 60), st.integers(1, 60)))


def held(runs):
    return {row for first, last in runs for row in range(first, last + 1)}


class Runs(unittest.TestCase):
    @given(st.lists(st.integers(1, 60)))
    def test_runs_hold_the_rows_and_nothing_else(self, rows):
        runs = to_runs(rows)
        self.assertEqual(from_runs(runs).tolist(), sorted(set(rows)))
        for (_, end), (start, _) in pairwise(runs):
            self.assertGreater(start, end + 1)

    @given(RUNS, RUNS, st.integers(0, 70))
    def test_runs_in_any_order_are_a_set_of_rows(self, runs, others, end):
        rows = sorted(held(runs))
        self.assertEqual(joined(runs), to_runs(rows))
        self.assertEqual(from_text(as_text(joined(runs))), joined(runs))
        self.assertEqual((from_runs(runs).tolist(), n_rows_of(runs), first_rows(runs, 4)), (rows, len(rows), rows[:4]))
        self.assertEqual(without(runs, others), to_runs(held(runs) - held(others)))
        self.assertEqual(up_to(runs, end), to_runs(row for row in rows if row <= end))

    @given(RUNS, st.permutations(range(1, 61)), st.sets(st.integers(1, 60)))
    def test_rows_move_to_their_new_numbers(self, runs, numbers, gone):
        by_number = {old: new for old, new in enumerate(numbers, 1) if old not in gone}
        moves = [(old, old, new) for old, new in by_number.items()]
        self.assertEqual(moved(runs, moves), to_runs(by_number[row] for row in held(runs) if row in by_number))
        shifted = [(1, 20, 41), (21, 40, 1), (45, 60, 25)]
        self.assertEqual(
            moved(runs, shifted[::-1]),
            to_runs(row - first + new for row in held(runs) for first, last, new in shifted if first <= row <= last),
        )

    def test_a_thousand_million_rows_cost_no_more_than_one(self):
        most = 10**12
        self.assertEqual(n_rows_of([(1, most)] * 1_000), most)
        self.assertEqual(without([(1, most)], [(5, 5)]), ((1, 4), (6, most)))
        self.assertEqual(first_rows(up_to([(3, most)], 4), 9), [3, 4])
