"""Values in their order: runs against the published table and against every arrangement; times and their gaps."""

import itertools
import unittest

import numpy as np
from heron import times
from heron.errors import InputError
from heron.ordering import _distribution, in_order
from hypothesis import given
from hypothesis import strategies as st


class Runs(unittest.TestCase):
    def test_the_published_table_of_ten_and_ten(self):
        # Swed and Eisenhart (1943): 6 runs or fewer, with ten of each, 0.019; the distribution is symmetric about 11.
        chances = _distribution(10, 10)
        self.assertEqual(round(sum(chances[:7]), 3), 0.019)
        self.assertAlmostEqual(sum(chances[16:]), sum(chances[:7]))
        self.assertAlmostEqual(sum(chances), 1)

    @given(st.integers(1, 5), st.integers(1, 5))
    def test_the_distribution_is_that_of_all_arrangements(self, above, below):
        ways = list(itertools.combinations(range(above + below), above))
        counted = np.zeros(above + below + 1)
        for where in ways:
            side = [i in where for i in range(above + below)]
            counted[1 + sum(a != b for a, b in itertools.pairwise(side))] += 1
        result = np.array(_distribution(above, below))
        np.testing.assert_allclose(result[: counted.size], counted[: result.size] / len(ways), atol=1e-12)

    def test_above_two_hundred_values_the_normal_distribution_joins_on(self):
        x = np.random.default_rng(3).normal(size=202)
        exact = _distribution(101, 101)
        result = in_order(x)
        tail = min(sum(exact[: result.runs + 1]), sum(exact[result.runs :]))
        self.assertAlmostEqual(result.p_value, min(1, 2 * tail), delta=0.01)

    def test_a_drift_has_few_runs_and_says_so(self):
        result = in_order(np.arange(40.0))
        self.assertEqual((result.runs, result.longest, result.longest_first, result.longest_last), (2, 20, 0, 19))
        self.assertEqual((result.expected_runs, result.median), (21, 19.5))
        self.assertIn("neighbours are alike", result.words[0])
        self.assertIn("from row 1 to row 20: longer than chance", result.words[1])

    def test_alternation_has_many(self):
        self.assertIn("values alternate", in_order(np.tile([1.0, 2.0], 20)).words[0])

    def test_a_jump_is_named_by_its_rows(self):
        x = np.random.default_rng(1).normal(size=60)
        x[30:] += 40
        result = in_order(x)
        self.assertEqual(result.jumps.tolist(), [30])
        self.assertIn("from row 30 to row 31", result.words[-1])

    def test_the_order_of_another_variable_with_ties_and_holes(self):
        result = in_order([5, 6, np.nan, 8, 9], [3, 1, 2, 1, np.nan])
        self.assertEqual((result.order.tolist(), result.places.tolist()), ([1, 3, 0], [1, 1, 3]))
        self.assertEqual((result.n, result.n_missing), (3, 2))

    def test_little_or_nothing(self):
        for x in ([], [np.nan], [4.0], [4.0] * 9, [1.0, 2.0], [1e308, -1e308, 1e308, -1e308]):
            result = in_order(x)
            self.assertTrue(result.words)
            self.assertEqual(result.n, np.count_nonzero(~np.isnan(x)))
        self.assertIn("runs", in_order([4.0] * 9).undefined)


def seconds(*texts):
    return np.array([np.datetime64(text, "s").astype(float) for text in texts])


class Times(unittest.TestCase):
    def test_months_are_those_of_the_calendar(self):
        result = times.summarize(seconds("2024-01-31", "2024-02-29", "2024-02-01", "2024-04-01"), unit="month")
        self.assertEqual(result.counts.tolist(), [1, 2, 0, 1])
        self.assertEqual(
            result.boundaries.tolist(), seconds("2024-01", "2024-02", "2024-03", "2024-04", "2024-05").tolist()
        )

    def test_weeks_begin_on_monday_and_quarters_on_the_first(self):
        monday = times.summarize(seconds("2026-11-22T23:59:59", "2026-11-23"), unit="week")
        self.assertEqual((monday.counts.tolist(), monday.boundaries[1]), ([1, 1], seconds("2026-11-23")[0]))
        quarter = times.summarize(seconds("1969-12-31", "1970-03-31", "1970-04-01"), unit="quarter")
        self.assertEqual(quarter.counts.tolist(), [1, 1, 1])

    def test_gaps_stand_out_from_the_usual_step(self):
        days = [1, 2, 3, 4, 5, 6, 7, 15, 16, 17, 18, 19]
        result = times.summarize(seconds(*(f"2026-03-{day:02d}" for day in days)))
        self.assertEqual(result.usual_step, 86_400)
        self.assertEqual(result.gap_from.tolist(), seconds("2026-03-07").tolist())
        self.assertEqual(result.gap_to.tolist(), seconds("2026-03-15").tolist())
        self.assertEqual((result.unit, result.median), ("day", seconds("2026-03-06T12")[0]))

    def test_every_time_is_counted_whatever_the_unit(self):
        x = seconds("2026-03-01T10:00:00", "2026-03-01T10:00:59", "2026-03-01T10:03:00", "2026-03-02T00:00:00")
        for unit in times.UNITS[1:]:
            self.assertEqual(times.summarize(np.append(x, np.nan), unit=unit).counts.sum(), 4, unit)
        with self.assertRaises(InputError):
            times.summarize(seconds("1900-01-01", "2026-01-01"), unit="hour")

    def test_none_and_one(self):
        self.assertIsNone(times.summarize([]).first)
        one = times.summarize(seconds("2026-03-01"))
        self.assertEqual((one.counts.tolist(), one.first, one.gap_from.size), ([1], one.last, 0))
