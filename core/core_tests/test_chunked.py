"""A table looked at in parts gives what the same table gives in memory: to 12 digits, and quantiles to the last."""

import math
import unittest
from dataclasses import dataclass, fields, replace
from fractions import Fraction
from itertools import combinations, pairwise, product
from unittest import mock

import numpy as np
from heron import bivariate, density, frequency, groups, limits, normality, relation
from heron.audit import audit, audit_of_facts
from heron.chunked import (
    Audited,
    Basics,
    ChunkedValues,
    Feels,
    InCells,
    InHexagons,
    NoPairs,
    Of2,
    Outlined,
    Paging,
    Products,
    board_in,
    density_in,
    line_in,
    outside,
    pack,
    ranked_in,
    unpack,
    used_in,
)
from heron.columns import Column, Table
from heron.errors import InputError
from heron.influence import cutoffs_of
from heron.ledger import Chunks, Decision, Of, Part, TablesAsImports, TableState, TableView, load_series
from heron.listing import Listing, holding, listed, sort_values
from heron.moments import joined, moments_of
from heron.ordered import InOrder, ends
from heron.readings import Cancellation, spread
from heron.readings.influence import (
    RelationSettings,
    measured,
    n_beyond_of,
    normal_scores,
    pulled_out,
    relation_in,
)
from heron.readings.ordering import in_order
from heron.readings.outliers import far_rows, n_far_of
from heron.summary import summarize, summary_of_ordered
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

N = 9_000
BOUNDS = (0, 0, 1, 2, 700, 701, 4_000, 4_000, N)  # parts that are empty, of one row, and uneven
rng = np.random.default_rng(24)


def with_gaps(values, share=0.2):
    return np.where(rng.random(values.size) < share, np.nan, values)


VALUES = {
    "normal": with_gaps(rng.normal(50, 10, N)),
    "about zero": rng.normal(0, 1, N),
    "counts": with_gaps(rng.poisson(3, N).astype(float)),
    "constant": np.full(N, 3.5),
    "near the largest": rng.normal(0, 1, N) * 1e306,
    "1e15 and a little": 1e15 + rng.integers(0, 9, N),
    "near the smallest": rng.normal(0, 1, N) * 1e-310,
    "one value": np.concatenate(([5.0], np.full(N - 1, np.nan))),
    "no value": np.full(N, np.nan),
    "skewed": np.exp(rng.normal(0, 3, N)),
    "pressures": 1013 + rng.normal(0, 0.001, N),
    "two ends": np.where(np.arange(N) % 3, 1.7e308, -1.7e308),
    "two values": np.concatenate(([7.0], np.full(N - 2, np.nan), [-0.0])),
}
VALUES["doubled"] = 2 * VALUES["about zero"] + 1
BED = rng.integers(0, 4, N)


def column(symbol, values, kind="continuous"):
    return Column(symbol, symbol, "", kind, values.copy(), None, (), np.isnan(values).astype(np.uint8))


def table(bounds=BOUNDS):
    beds = Column("bed", "bed", "", "category", None, BED.astype(np.int32), ("a", "b", "c", "d"), np.zeros(N, np.uint8))
    columns = {name: column(name, values) for name, values in VALUES.items()}
    whole = Table("many", N, {**columns, "bed": beds})
    return TableState(imports=TablesAsImports(whole, bounds=bounds))


class Alike(unittest.TestCase):
    def same(self, one, other, *, but=()):
        """Every number to 12 digits."""
        for field in fields(one):
            if field.name in but:
                continue
            a, b = getattr(one, field.name), getattr(other, field.name)
            with self.subTest(field=field.name):
                if isinstance(a, np.ndarray):
                    np.testing.assert_allclose(a, b, rtol=1e-12, atol=1e-12 * np.abs(a).max(initial=0))
                elif isinstance(a, float) and isinstance(b, float):
                    self.assertTrue(math.isclose(a, b, rel_tol=1e-12, abs_tol=1e-15), (a, b))
                else:
                    self.assertEqual(a, b)

    def near(self, one, other, relative):
        """The numbers and curves of two fits, but for their rows."""
        for field in fields(one):
            a, b = getattr(one, field.name), getattr(other, field.name)
            if field.name in ("lost_rows", "off_scale_rows", "rows", "line"):
                continue
            with self.subTest(field=field.name):
                if isinstance(a, dict) and all(isinstance(each, float) for each in a.values()):
                    self.assertEqual(list(a), list(b))
                    a, b = np.array([*a.values()]), np.array([*b.values()])
                if isinstance(a, float | tuple | np.ndarray) and np.asarray(a).dtype.kind == "f":
                    most = np.nanmax(np.abs(np.nan_to_num(a)), initial=0)
                    np.testing.assert_allclose(b, a, rtol=relative, atol=max(relative * most, 1e-12))
                else:
                    self.assertEqual(a, b)


class InParts(Alike):
    def chunks(self):
        return Chunks(table())

    def test_numbers_of_one_variable_and_of_its_levels(self):
        chunks = self.chunks()
        for gathered, name, level in product((2**18, 1), VALUES, ("", "c")):
            values = VALUES[name] if not level else VALUES[name][BED == 2]
            # With few values gathered at once, ranks are found by ever finer bins.
            with (
                self.subTest(name, gathered=gathered, level=level),
                mock.patch("heron.chunked.values._GATHERED", gathered),
            ):
                ordered = ChunkedValues(chunks, Of(name, (("bed", level),) if level else ()))
                expected = summarize(values)
                given = summary_of_ordered(ordered, ordered.basis.n_missing, 7, 0.95, 0.1, True)
                self.same(expected, given)
                known = np.sort(values[~np.isnan(values)])
                ranks = np.unique(np.linspace(0, max(known.size - 1, 0), 400).astype(int))[: known.size]
                np.testing.assert_array_equal(ordered[ranks], known[ranks])

    def test_classes_curves_boxes_and_limits(self):
        chunks = self.chunks()
        for name in ("normal", "about zero", "counts", "1e15 and a little", "skewed", "pressures"):
            x, ordered = VALUES[name], ChunkedValues(chunks, Of(name))
            missing = ordered.basis.n_missing
            with self.subTest(name):
                for how in ({"rule": "scott"}, {"count": 9, "closed": "right"}, {"rule": "freedman-diaconis"}):
                    self.same(frequency.classify(x, **how), frequency.classes_of_ordered(ordered, missing, **how))
                kind = "count" if name == "counts" else "continuous"
                self.same(
                    frequency.usual(x, kind=kind, decimals=0),
                    frequency.usual_of_ordered(ordered, kind=kind, decimals=0),
                )
                for rule in density.BANDWIDTH_RULES:
                    self.same(
                        density.kernel_density(x, bandwidth=rule),
                        density.density_of_ordered(ordered, missing, bandwidth=rule),
                    )
                for whiskers in groups.WHISKERS:
                    how = groups.BoxHow(7, 1.5, whiskers, 0.05)
                    box = groups.box_of_ordered(
                        "", ordered, missing, how, lambda ends, name=name: outside(chunks, Of(name), ends, N)
                    )
                    self.same(groups.box_of(x, how, InOrder(np.sort(x[~np.isnan(x)]))), box)
                self.same(limits.beyond(x, lower=1, upper=60), limits.beyond_of_ordered(ordered, lower=1, upper=60))

    def test_normality_by_moments_and_by_400_quantiles(self):
        for name in ("normal", "skewed", "pressures"):
            x, ordered = VALUES[name], ChunkedValues(self.chunks(), Of(name))
            expected, given = normality.check_normality(x), normality.check_of_ordered(ordered, 0)
            with self.subTest(name):
                for test in ("jarque_bera", "dagostino_pearson"):
                    self.same(getattr(expected, test), getattr(given, test))
                self.assertAlmostEqual(given.skewness, expected.skewness, places=11)
                self.assertAlmostEqual(given.kurtosis, expected.kurtosis, places=9)
                self.assertEqual(given.judged_by, "jarque_bera")
                known = x[~np.isnan(x)]
                self.assertAlmostEqual(stats.normaltest(known).statistic, given.dagostino_pearson.statistic, places=6)
                self.assertEqual(ends(ordered), (known.min(), known.max()))
        self.assertGreater(
            normality.check_of_ordered(ChunkedValues(self.chunks(), Of("normal")), 0).qq_correlation, 0.999
        )

    def test_pairs_and_where_they_lie(self):
        chunks = self.chunks()
        for x, y, scales in (
            ("normal", "about zero", ("as-is", "as-is")), ("skewed", "normal", ("log10", "square-root")),
            ("1e15 and a little", "counts", ("as-is", "as-is")), ("near the largest", "skewed", ("as-is", "log10")),
        ):  # fmt: skip
            of = Of2(x, y, (("bed", "b"),), scales)
            a, b = (np.where(BED == 1, VALUES[name], np.nan) for name in (x, y))
            with self.subTest(x=x, y=y), np.errstate(all="ignore"):
                a, b = (relation.forth(scale, values) for scale, values in zip(scales, (a, b), strict=True))
                sums = chunks.over(Products(of))[0]
                expected = relation.correlate(a, b)
                self.assertEqual(sums.n, expected.n_pairs)
                self.same(expected.pearson, relation.pearson_of(sums.r, sums.n, 0.95))
                whole = [np.where(BED == 1, VALUES[name], np.nan) for name in (x, y)]
                if x in ("normal", "skewed"):
                    line = relation.fit_line(*whole, x_scale=scales[0], y_scale=scales[1])
                    n_pairs = np.count_nonzero(np.isfinite(whole[0]) & np.isfinite(whole[1]))
                    self.near(line, line_in(chunks, of, n_pairs, 0.95), 1e-7)
                known = np.isfinite(a) & np.isfinite(b)
                ends = [(float(v[known].min()), float(v[known].max())) for v in (a, b)]
                self.assertEqual(list(zip(sums.lows, sums.highs, strict=True)), ends)
                if x != "near the largest":
                    grid = bivariate.hexagon_grid(*ends, 20, 0.7)
                    self.same(bivariate.hexagons(a, b, across=20), grid.hexagons(chunks.over(InHexagons(of, grid))[0]))
                window = (*ends[0], *ends[1])
                counts = bivariate.window(
                    a, b, x_from=window[0], x_to=window[1], y_from=window[2], y_to=window[3], columns=9, rows=7
                )
                np.testing.assert_array_equal(chunks.over(InCells(of, window, 9, 7))[0], counts.ravel())
        for look in (Products(Of2("normal", "counts")), Basics(Of("counts")), NoPairs("normal", "counts")):
            found = chunks.over(look)[0]
            self.assertEqual(pack(unpack(pack(found))), pack(found))

    def test_the_board_of_scales_is_that_of_all_pairs(self):
        for x, y in (("skewed", "normal"), ("normal", "skewed"), ("counts", "about zero"), ("about zero", "counts"),
                     ("normal", "counts"), ("constant", "normal"), ("two ends", "normal"), ("normal", "doubled"),
                     ("about zero", "doubled"), ("one value", "normal")):  # fmt: skip
            with self.subTest(x=x, y=y):
                one, other = relation.board(VALUES[x], VALUES[y]), board_in(self.chunks(), x, y)
                self.same(one, other, but=("cells",))
                for cell, in_parts in zip(one.cells, other.cells, strict=True):
                    self.near(cell, in_parts, 1e-6)

    def test_correlations_by_ranks_are_exact_or_within_what_is_told(self):
        chunks, names = self.chunks(), ("normal", "counts", "skewed", "pressures", "1e15 and a little", "two ends")
        half = np.arange(0, N, 2)
        for (one, other), distinct, bins in product(combinations(names, 2), (65_536, 50), (8_192, 100)):
            for at, held in (((), slice(None)), ((("bed", "b"),), BED == 1)):
                forgetful = Chunks(table())  # of whose records none is kept
                with (
                    self.subTest(one=one, other=other, distinct=distinct, bins=bins, at=at),
                    mock.patch("heron.chunked.values.MOST_DISTINCT", distinct),
                    mock.patch("heron.chunked.values._TRIED", 40),
                    mock.patch("heron.chunked.ranks._BINS", bins),
                ):
                    found = ranked_in(forgetful, Of2(one, other, at), (VALUES[one][half], VALUES[other][half]))
                    expected = relation.correlate(VALUES[one][held], VALUES[other][held])
                    self.assertEqual(found.n, expected.n_pairs)
                    self.assertLessEqual(abs(found.rho - expected.spearman.estimate), found.off_by + 1e-12)
                    self.assertLess(found.off_by, 3 / bins + 0.003)
                    if distinct > N:
                        self.assertEqual(found.off_by, 0)
        nothing = ranked_in(chunks, Of2("constant", "normal"), (VALUES["constant"], VALUES["normal"]))
        self.assertIsNone(nothing.rho)

    def test_the_density_of_pairs_encloses_its_shares(self):
        chunks = self.chunks()
        for one, other, scales in (
            ("normal", "skewed", ("as-is", "log10")), ("counts", "about zero", ("as-is", "as-is")),
            ("1e15 and a little", "pressures", ("as-is", "as-is")),
        ):  # fmt: skip
            a, b = VALUES[one], VALUES[other] if scales[1] == "as-is" else np.log10(VALUES[other])
            known = np.isfinite(a) & np.isfinite(b)
            half = np.flatnonzero(known)[::2]
            of, shares = Of2(one, other, (), scales), (0.25, 0.5, 0.95)
            for rule in ("normal-reference", "plug-in"):
                asked = {"bandwidths": (None, None), "rule": rule, "shares": shares, "sparse": 7}
                found, lowest = density_in(
                    chunks, of, chunks.over(Products(of))[0], (a[half], b[half]), points=60, **asked
                )
                # A plug-in width stands on all values of a variable, a pair being there or not.
                widths = (found.bandwidth_x, found.bandwidth_y)
                whole = bivariate.pair_density(a, b, grid=60, shares=shares, sparse=7, bandwidths=widths)
                with self.subTest(one=one, other=other, rule=rule):
                    np.testing.assert_allclose(
                        found.density, whole.density, rtol=1e-9, atol=1e-12 * whole.density.max()
                    )
                    np.testing.assert_array_equal(found.sparse_rows, whole.sparse_rows)
                    np.testing.assert_array_equal(lowest.x, a[whole.sparse_rows])
                    grid = bivariate.density_grid(
                        *((float(v[known].min()), float(v[known].max())) for v in (a, b)), widths, 60
                    )
                    heights = grid.heights(whole.density, a[known], b[known])
                    for share, level in zip(shares, found.levels, strict=True):
                        self.assertAlmostEqual(float(np.mean(heights >= level)), share, delta=0.0012)
                if rule == "normal-reference":
                    self.same(whole, bivariate.pair_density(a, b, grid=60, shares=shares, sparse=7))

    def test_rows_beyond_a_limit_are_counted_and_the_outermost_named(self):
        with mock.patch("heron.chunked.counts._MOST_NAMED", 100), mock.patch("heron.chunked.counts._OUTERMOST", 20):
            found = outside(self.chunks(), Of("about zero"), (-1.0, 1.0, -3.0, 3.0), N)
        x = VALUES["about zero"]
        beyond = np.flatnonzero(np.abs(x) > 1)
        self.assertEqual((found.n, found.n_far), (beyond.size, np.count_nonzero(np.abs(x) > 3)))
        self.assertLess(found.rows.size, 300)
        order = np.argsort(x)
        self.assertLessEqual({*order[:20].tolist(), *order[-20:].tolist()}, set(found.rows.tolist()))
        np.testing.assert_array_equal(found.values, x[found.rows])

    @given(st.lists(st.lists(st.floats(-1e6, 1e6, width=32), max_size=9), min_size=1, max_size=6))
    @settings(max_examples=150, deadline=None)
    def test_moments_are_joined_as_fractions_say(self, parts):
        every = [Fraction(x) for part in parts for x in part]
        result = joined([moments_of(np.array(part, dtype=np.float64), 1.0) for part in parts])
        self.assertEqual(result.n, len(every))
        if not every:
            return
        mean = sum(every) / len(every)
        largest = float(max(abs(x) for x in every)) or 1.0
        self.assertAlmostEqual((result.mean + result.rest) / largest, float(mean) / largest, places=14)
        for power, sums in ((2, result.m2), (3, result.m3), (4, result.m4)):
            expected = float(sum((x - mean) ** power for x in every))
            self.assertAlmostEqual(sums / largest**power, expected / largest**power, places=12)


class Parts(Alike):
    """The state of a part is what the whole's columns are there."""

    def states(self):
        decisions = (
            Decision(1, "set-aside", rows=((690, 705),)),
            Decision(2, "set-aside", variable="normal", rows=((1, 3), (4_000, 4_001), (8_999, 9_000))),
            Decision(3, "correct", changes={"normal": {"2": {"new": "7"}, "4500": {"new": "x"}}}),
            Decision(4, "describe", changes={"counts": {"missing_codes": ["0"]}, "bed": {"level_labels": {"a": "A"}}}),
            Decision(5, "derive", changes={
                "root": {"how": "expression", "of": ["counts"], "text": "sqrt(counts + 1)", "label": "root"},
                "held": {"how": "pulled-in", "of": "about zero", "high": 0.5, "rows": [2, 3, 7000], "label": ""},
            }),
        )  # fmt: skip
        states = []
        for bounds in (BOUNDS, ()):
            state = table(bounds)
            for decision in decisions:
                state = state.decided(decision)
            states.append(state)
        return states

    def test_a_part_has_the_columns_of_its_rows(self):
        long, whole = self.states()
        for symbol in ("normal", "counts", "bed", "root", "held"):
            expected = whole.column(symbol, "active")
            for number, (first, end) in enumerate(pairwise(BOUNDS)):
                with self.subTest(symbol, part=number):
                    part = long.part(number).column(symbol, "active")
                    rows = slice(first, end)
                    values = [str(value) for value in expected.values[rows]]
                    self.assertEqual([str(value) for value in part.values], values)
                    why = [(0, *expected.missing_codes)[reason] for reason in expected.reasons[rows]]
                    self.assertEqual([(0, *part.missing_codes)[reason] for reason in part.reasons], why)

    def test_a_decision_changes_the_keys_of_its_own_parts_alone(self):
        long = self.states()[0]
        after = long.decided(Decision(6, "set-aside", variable="normal", rows=((4_100, 4_100),)))
        changed = [
            number for number in range(len(BOUNDS) - 1)
            if long.part(number).column_key("normal", "active") != after.part(number).column_key("normal", "active")
        ]  # fmt: skip
        self.assertEqual(changed, [7])

    def test_a_sample_is_of_the_same_rows_and_says_which_these_are(self):
        with mock.patch("heron.thinning.MOST_SAMPLED", 500):
            long, whole = self.states()
            series = load_series(long, ["normal", "bed", "root", "held"])
            rows = series.positions(np.arange(series.n))
            self.assertLess(series.n, 520)
            for symbol in ("normal", "bed", "root", "held"):
                expected = whole.column(symbol, "active").at(rows)
                np.testing.assert_array_equal(series.columns[symbol].values.astype(str), expected.values.astype(str))
        self.assertEqual(used_in(Chunks(long), "normal"), load_series(whole, ["normal"]).used("normal"))

    def test_rows_are_paged_through_in_any_order_as_in_memory(self):
        long, whole = self.states()
        listings = [
            Listing(sort=sort, descending=descending)
            for sort in ("normal", "counts", "bed", "constant", "1e15 and a little", "two ends", "no value", "root")
            for descending in (False, True)
        ] + [
            Listing("normal", True, variable="bed", level="A"), Listing(variable="counts", low=2, high=4),
            Listing("counts", variable="normal", missing=True), Listing(set_aside=True),
            Listing("normal", set_aside=True), Listing(variable="bed", level="nothing"),
        ]  # fmt: skip

        def described(symbol):
            return whole.column(symbol, "described")

        for listing, gathered in product(listings, (2**17, 300)):
            places = np.flatnonzero(listed(listing, described, whole.positions_aside("", N), N))
            expected = places[np.argsort(sort_values(listing, described, places), kind="stable")]
            with self.subTest(listing, gathered=gathered), mock.patch("heron.chunked.paging._GATHERED", gathered):
                paging = Paging(Chunks(long), listing)
                self.assertEqual(paging.n, expected.size)
                for start, end in ((0, 7), (expected.size // 3, expected.size // 3 + 450), (expected.size - 3, N)):
                    np.testing.assert_array_equal(paging.rows(max(start, 0), end), expected[max(start, 0) : end])
                for row in (0, 700, 4_400, 8_999):
                    at = np.flatnonzero(expected == row)
                    self.assertEqual(paging.place_of(row), int(at[0]) if at.size else None)
                hit = holding(described("counts"), "4")[expected]
                found = np.flatnonzero(hit)
                for after in (-1, int(found[-1]) if found.size else 0, expected.size // 2):
                    behind = found[found > after]
                    place = int(behind[0] if behind.size else found[0]) if found.size else None
                    told = None if place is None else (found.size, place, int(expected[place]), "counts")
                    self.assertEqual(paging.sought("4", ["counts"], after), told)

    def test_the_audit_of_a_long_table_is_that_of_the_table_in_memory(self):
        long, whole = self.states()
        symbols = tuple(whole.symbols)
        bounds = {"normal": (20.0, 80.0), "counts": (None, 6.0)}
        ends = tuple(bounds.get(symbol, (None, None)) for symbol in symbols)
        columns = {symbol: whole.column(symbol, "active") for symbol in symbols}
        expected = audit(Table("many", N, columns), bounds=bounds)
        found = Chunks(long).over(Audited(symbols, ends, tuple(column.decimals for column in columns.values())))[0]
        given = audit_of_facts(list(columns.values()), found.facts, found.patterns, N)
        self.assertEqual((given.n_complete, given.patterns), (expected.n_complete, expected.patterns))
        looked_for = [finding for finding in expected.findings if finding.code != "repeated-rows"]
        self.assertEqual({finding.code for finding in looked_for}, {"no-values", "constant", "impossible", "heaped"})
        for one, other in zip(looked_for, given.findings, strict=True):
            self.assertEqual((one.words, one.count), (other.words, other.count))
            np.testing.assert_array_equal(one.rows, other.rows)

    def test_what_needs_all_rows_at_once_is_refused_in_words(self):
        long = self.states()[0]
        recipe = {"how": "scale", "of": "normal", "setting": {"way": "z"}, "label": "z of it", "unit": ""}
        z = long.decided(Decision(6, "derive", changes={"z": recipe}))
        for ask in (
            lambda: long.column("normal", "active"),
            lambda: load_series(long, ["normal"], weights="refuse"),
            lambda: load_series(z, ["z"]),
            lambda: Chunks(z).over(Basics(Of("z"))),
        ):
            with self.assertRaises(InputError) as refused:
                ask()
            self.assertEqual(refused.exception.code, "all-rows-at-once")

    def test_the_reading_of_a_variable_is_that_of_the_table_in_memory(self):
        long, whole = (TableView("many", state) for state in self.states())
        for symbol in ("normal", "counts", "root"):
            one, other = (
                spread.spread(view.variable(symbol) if view is whole else _variable(view, whole, symbol),
                              spread.BoxSettings(percents=(5, 95)), 0.95, Cancellation())
                for view in (whole, long)
            )  # fmt: skip
            with self.subTest(symbol):
                InParts.same(
                    self, one, other, but=("summary", "classes", "density", "aside_values", "aside_rows", "words")
                )
                for name in ("summary", "classes", "density"):
                    self.same(getattr(one, name), getattr(other, name))
                self.assertEqual([said.text for said in one.words], [said.text for said in other.words])

    def test_a_relation_is_that_of_the_table_in_memory(self):
        whole = TableView("many", table(bounds=()))
        long = Long("many", table(), whole=whole)
        asked = {
            "one": RelationSettings("about zero", ("normal",)),
            "category": RelationSettings("normal", ("bed", "counts", "skewed")),
            "products": RelationSettings("normal", ("bed", "about zero"), ("bed", "about zero")),
            "far off": RelationSettings("about zero", ("pressures", "counts")),
            "perfect": RelationSettings("doubled", ("about zero",)),
        }
        for name, wanted in asked.items():
            with self.subTest(name):
                one, other = (measured(view, wanted, Cancellation()) for view in (whole, long))
                near = 1e-7 if name == "far off" else 1e-9
                self.near(other.fit, one.fit, near)
                used = one.used
                np.testing.assert_array_equal(other.positions, used)
                self.near(one.measures.at(used), other.measures, near)
                self.assertEqual(
                    (one.n_beyond, one.most and one.most[0]), (other.n_beyond, other.most and other.most[0])
                )
                np.testing.assert_array_equal(one.first, other.positions[other.first])
                (scores, band), (of_parts, its_band) = (
                    normal_scores(view, wanted, found) for view, found in ((whole, one), (long, other))
                )
                np.testing.assert_allclose(scores[used], of_parts, rtol=1e-9)
                np.testing.assert_allclose(band or (), its_band or (), rtol=1e-9)
                taken = np.sort(one.first[:9])
                self.assertEqual(n_beyond_of(whole, wanted, one, taken), n_beyond_of(long, wanted, other, taken))
                out, out_of_parts = (pulled_out(view, wanted, taken) for view in (whole, long))
                self.near(out.pulled, out_of_parts.pulled, near)
                self.assertEqual(out.ends, out_of_parts.ends)
                record = long.chunks.over(Feels(*_looked_for(long, wanted)))[0]
                self.assertEqual(str(unpack(pack(record))), str(record))
        for response, predictors in (
            ("one value", ("normal",)),
            ("normal", ("constant",)),
            ("normal", ("two ends",)),
            ("normal", ("1e15 and a little",)),
        ):
            refusals = []
            for view in (whole, long):
                with self.assertRaises(InputError) as refused:
                    measured(view, RelationSettings(response, predictors), Cancellation())
                refusals.append((refused.exception.code, str(refused.exception)))
            self.assertEqual(*refusals)

    def test_values_in_the_order_of_their_rows_are_those_of_the_table_in_memory(self):
        whole = TableView("many", table(bounds=()))
        drift = np.round(np.cumsum(np.random.default_rng(5).normal(size=N)), 1)
        for bounds in (BOUNDS, tuple(range(0, N + 1, 500))):
            long = Long("many", table(bounds), whole=whole)
            for symbol in ("normal", "counts", "constant", "one value", "no value", "two values", "skewed"):
                with self.subTest(symbol, parts=len(bounds)):
                    (one, _), (other, drawn) = (in_order(view.variable(symbol), None) for view in (whole, long))
                    self.same(one.found, other.found, but=("order", "places", "jumps", "words"))
                    self.assertEqual([w for w in one.found.words if "jump" not in w and "step" not in w],
                                     [w for w in other.found.words if "Jumps" not in w])  # fmt: skip
                    self.same(one.used, other.used)
                    values = VALUES[symbol]
                    np.testing.assert_array_equal(drawn.values, values[drawn.rows - 1])
                    if drawn.values.size:
                        ends = np.nanmin(values), np.nanmax(values)
                        self.assertEqual((drawn.values.min(), drawn.values.max()), ends)
            records = [Outlined("normal", 50.0, 3).partial(Part(long.state, i)) for i in range(len(bounds) - 1)]
            self.assertEqual([str(unpack(pack(each))) for each in records], [str(each) for each in records])
        # A run that goes through several parts is one.
        column_of = lambda: Table("t", N, {"drift": column("drift", drift)})  # noqa: E731
        state = TableState(imports=TablesAsImports(column_of(), bounds=BOUNDS))
        found = Chunks(state).over(Outlined("drift", float(np.median(drift)), 5))[0]
        side = drift[drift != np.median(drift)] > np.median(drift)
        lengths = np.diff(np.flatnonzero(np.concatenate(([True], side[1:] != side[:-1], [True]))))
        self.assertEqual((found.runs, found.longest.length), (lengths.size, lengths.max()))

    def test_rows_far_over_several_variables_are_those_of_the_table_in_memory(self):
        whole = TableView("many", table(bounds=()))
        long = Long("many", table(), whole=whole)
        for symbols in (("normal", "skewed"), ("about zero", "counts", "pressures")):
            with self.subTest(symbols=symbols):
                one, other = (far_rows(view, symbols, Cancellation()) for view in (whole, long))
                for name in ("cutoff", "reference", "n_fitted", "n", "n_missing", "n_flagged", "n_hidden"):
                    self.assertEqual(getattr(one, name), getattr(other, name), name)
                known = np.flatnonzero(~np.isnan(one.robust))
                np.testing.assert_array_equal(other.positions, known)
                for name in ("robust", "classical"):
                    np.testing.assert_allclose(getattr(other, name), getattr(one, name)[known], rtol=1e-7)
                np.testing.assert_array_equal(other.positions[other.first], one.first[:300])
                some = np.sort(one.first[:5])
                some = np.append(some, np.flatnonzero(one.robust < 1)[:3])
                self.assertEqual([n_far_of(long, other, np.sort(some)), n_far_of(whole, one, some)], [5, 5])
                record = long.chunks.over(other.look)[0]
                self.assertEqual(str(unpack(pack(record))), str(record))
        for symbols, words in ((("normal",), "two variables"), (("normal", "constant"), "no spread")):
            for view in (whole, long):
                with self.assertRaisesRegex(InputError, words):
                    far_rows(view, symbols, Cancellation())


def _looked_for(long, wanted):
    relation = relation_in(long, long.chunks, wanted)
    return relation.fitted, relation.solved, cutoffs_of(relation.solved.n, relation.solved.base.p)


@dataclass(frozen=True)
class Long(TableView):
    """A long table of which its store knows what the whole table says."""

    whole: TableView | None = None

    def variable(self, symbol):
        return _variable(self, self.whole, symbol)


def _variable(long, whole, symbol):
    """What a long table's store knows of a variable: what the whole table says."""
    return replace(whole.variable(symbol), table=long)
