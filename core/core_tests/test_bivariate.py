"""Many pairs: density against direct sums, hexagons and windows that lose nobody, outlines by the even-odd rule."""

import unittest

import numpy as np
from heron import bivariate
from heron.density import kernel_density
from heron.errors import ChoiceError, InputError
from hypothesis import given, settings
from hypothesis import strategies as st


class Density(unittest.TestCase):
    def test_widths_by_the_plug_in_rule_show_two_clouds_that_the_normal_reference_makes_one(self):
        rng = np.random.default_rng(6)
        x = np.concatenate((rng.normal(0, 1, 400), rng.normal(7, 1, 400)))
        y = rng.normal(size=800)
        by_rule = {rule: bivariate.pair_density(x, y, rule=rule) for rule in ("normal-reference", "plug-in")}
        self.assertAlmostEqual(by_rule["normal-reference"].bandwidth_x, x.std(ddof=1) * 800 ** (-1 / 6))
        alone = kernel_density(x, bandwidth="plug-in").bandwidth
        self.assertAlmostEqual(by_rule["plug-in"].bandwidth_x, alone * 800 ** (1 / 5 - 1 / 6))
        self.assertLess(by_rule["plug-in"].bandwidth_x, by_rule["normal-reference"].bandwidth_x / 2)
        self.assertEqual(bivariate.pair_density(x, y, rule="plug-in", bandwidths=(0.5, None)).bandwidth_x, 0.5)
        with self.assertRaises(ChoiceError):
            bivariate.pair_density(x, y, rule="best")

    def test_it_is_the_direct_sum_of_kernels(self):
        rng = np.random.default_rng(12)
        x, y = rng.normal(size=(2, 500))
        y = 0.4 * x + y
        result = bivariate.pair_density(x, y)
        self.assertAlmostEqual(result.bandwidth_x, x.std(ddof=1) * 500 ** (-1 / 6))
        for i, j in ((60, 90), (100, 100), (140, 80)):
            u = (result.x[j] - x) / result.bandwidth_x
            v = (result.y[i] - y) / result.bandwidth_y
            direct = np.mean(np.exp(-0.5 * (u * u + v * v))) / (2 * np.pi * result.bandwidth_x * result.bandwidth_y)
            self.assertAlmostEqual(result.density[i, j] / result.density.max(), direct / result.density.max(), places=3)
        step = (result.x[1] - result.x[0]) * (result.y[1] - result.y[0])
        self.assertAlmostEqual(result.density.sum() * step, 1, places=3)

    def test_a_kernel_narrower_than_the_grids_steps_is_widened_and_that_is_told(self):
        x = np.append(np.random.default_rng(4).normal(0, 0.01, 400), [50.0])
        result = bivariate.pair_density(x, x, grid=50, bandwidths=(0.01, 3.0))
        self.assertEqual((result.bandwidth_x, result.bandwidth_y), (0.01, 3.0))
        step = result.x[1] - result.x[0]
        self.assertAlmostEqual(result.drawn_with[0], 0.6 * step)
        self.assertEqual(result.drawn_with[1], 3.0)
        area = step * (result.y[1] - result.y[0])
        self.assertAlmostEqual(float(result.density.sum() * area), 1, delta=0.01)

    def test_levels_enclose_their_shares_as_of_a_normal(self):
        rng = np.random.default_rng(12)
        x, y = rng.normal(size=(2, 200_000))
        result = bivariate.pair_density(x, y, bandwidths=(0.1, 0.1), shares=(0.5, 0.9))
        # Of two independent normals with variance 1.01 the share s lies within r^2 = -2 1.01 log(1 - s).
        heights = np.array([0.5, 0.1]) / (2 * np.pi * 1.01)
        np.testing.assert_allclose(result.levels, heights, rtol=0.05)

    def test_the_sparsest_pairs_are_the_far_ones_and_gaps_take_no_part(self):
        rng = np.random.default_rng(12)
        x, y = rng.normal(size=(2, 2_000))
        x[:3], y[:3] = [9, -9, np.nan], [9, -8, 0]
        result = bivariate.pair_density(x, y, sparse=2)
        self.assertEqual((result.sparse_rows.tolist(), result.n, result.n_missing), ([0, 1], 1_999, 1))
        for a, b in (([1, 1, 1], [1, 2, 3]), ([1.0, 2], [1.0, 2])):
            with self.assertRaises(InputError):
                bivariate.pair_density(a, b)
        with self.assertRaises(InputError):
            bivariate.pair_density(x, y, bandwidths=(0, 1))


class Counted(unittest.TestCase):
    def test_each_pair_lies_in_its_nearest_hexagon(self):
        rng = np.random.default_rng(12)
        x, y = rng.normal(size=(2, 3_000))
        result = bivariate.hexagons(x, y, across=20)
        self.assertEqual(result.counts.sum(), 3_000)
        # In units in which hexagons are regular, the nearest middle of the whole lattice is that of its hexagon.
        across, up = result.radius_x * 2, result.radius_y * 1.5
        u, v = result.x / across, result.y / up * np.sqrt(3) / 2
        a, b = x / across, y / up * np.sqrt(3) / 2
        nearest = np.argmin((a[:, None] - u) ** 2 + (b[:, None] - v) ** 2, axis=1)
        np.testing.assert_array_equal(np.bincount(nearest, minlength=u.size), result.counts)

    def test_a_window_counts_what_it_shows(self):
        rng = np.random.default_rng(12)
        x, y = rng.normal(size=(2, 5_000))
        x[0] = np.nan
        result = bivariate.window(x, y, x_from=-1, x_to=1, y_from=-2, y_to=2, columns=8, rows=10)
        expected = np.histogram2d(y[1:], x[1:], bins=(10, 8), range=((-2, 2), (-1, 1)))[0]
        np.testing.assert_array_equal(result, expected)

    def test_stacks_are_the_equal_places(self):
        result = bivariate.stacks([1, 1, 2, np.nan, 1], [5, 5, 5, 5, 6])
        self.assertEqual(result.counts.tolist(), [2, 1, 1])
        self.assertEqual(list(zip(result.x, result.y, result.rows, strict=True)), [(1, 5, 0), (1, 6, 4), (2, 5, 2)])


class Outlined(unittest.TestCase):
    @given(st.integers(0, 10_000))
    @settings(max_examples=15)
    def test_the_mask_says_what_edge_by_edge_says(self, seed):
        rng = np.random.default_rng(seed)
        x, y = rng.uniform(-1, 1, (2, 60_000))
        turn = np.sort(rng.uniform(0, 2 * np.pi, int(rng.integers(3, 30))))
        reach = rng.uniform(0.2, 1, turn.size)
        px, py = reach * np.cos(turn), reach * np.sin(turn)
        result = bivariate.inside(x, y, px, py)
        inside = np.zeros(x.size, dtype=bool)
        for i in range(px.size):
            j = (i + 1) % px.size
            crosses = (py[i] > y) != (py[j] > y)
            with np.errstate(all="ignore"):
                inside ^= crosses & (x < px[i] + (y - py[i]) / (py[j] - py[i]) * (px[j] - px[i]))
        np.testing.assert_array_equal(result, np.flatnonzero(inside))

    def test_a_square_and_no_outline(self):
        result = bivariate.inside([0.5, 2, np.nan, 0.1], [0.5, 0.5, 0.5, 0.9], [0, 1, 1, 0], [0, 0, 1, 1])
        self.assertEqual(result.tolist(), [0, 3])
        with self.assertRaises(InputError):
            bivariate.inside([0], [0], [0, 1], [0, 1])
