"""Where pairs lie thickest: hexagons, cells and densities along the axes of a panel."""

from collections.abc import Iterator
from typing import Any

import contourpy
import numpy as np

from heron import bivariate
from heron.checks import Floats
from heron.chunked import InCells, InHexagons, density_in
from heron.errors import InputError
from heron.figure import pairs as related
from heron.figure.build.along import Pairs
from heron.figure.choices import WIDTH_RULES
from heron.formatting import counted, grouped, percent, significant


def thick(
    of: Pairs,
) -> tuple[related.Tiles | None, list[related.Enclosing], related.Cloud | None, list[str]]:
    """Where pairs lie thickest, the pairs where they are sparsest, and what is said of both."""
    source = of.source
    if source.shown in ("points", "counts"):
        return None, [], None, []
    u, v = of.u, of.vs[0]
    known = np.isfinite(u) & np.isfinite(v)
    if not known.any() or u[known].min() == u[known].max() or v[known].min() == v[known].max():
        raise InputError("no-spread", "Shades need both variables to vary.", where="shown", remedy="Draw points.")
    if source.shown == "hexagons":
        many = _hexagons(of)
        wide, tall = many.radius_x, many.radius_y
        ends = (many.x - wide, many.y - tall, many.x + wide, many.y + tall)
        return _tiles(of, ends, many.counts.astype(np.float64), "Pairs in a hexagon", "hexagons"), [], None, [
            "Shade: pairs in a hexagon, in steps of equal ratio."
        ]  # fmt: skip
    if source.shown == "cells":
        cells = _cells(of, known)
        n = of.sums.n if of.sums else int(known.sum())
        part = f", {grouped(int(cells.value.sum()))} of {counted(n, 'pair')}" if source.window else ""
        return cells, [], None, [f"Shade: pairs in a cell{part}, in steps of equal ratio."]
    result, sparse = _density(of, bivariate.SHARES if source.shown == "contours" else ())
    said = _density_words(of, result)
    if source.shown == "contours":
        return None, list(_contours(of, result)), sparse, said
    steps = float(result.x[1] - result.x[0]), float(result.y[1] - result.y[0])
    heights = result.density.ravel()
    kept = heights > heights.max() * 0.004
    at_x, at_y = np.tile(result.x, result.y.size)[kept], np.repeat(result.y, result.x.size)[kept]
    ends = (at_x - steps[0] / 2, at_y - steps[1] / 2, at_x + steps[0] / 2, at_y + steps[1] / 2)
    return _tiles(of, ends, heights[kept], "Density of pairs", counted_=False), [], sparse, said


def _density(of: Pairs, shares: tuple[float, ...]) -> tuple[bivariate.PairDensity, related.Cloud | None]:
    """The density of the pairs, of a long table that of all, and the pairs in its sparsest places."""
    source, sums, chunks = of.source, of.sums, of.context.table.chunks
    u, v = of.u, of.vs[0]
    widths = (source.width_x, source.width_y)
    if sums is None or chunks is None:
        result = bivariate.pair_density(
            u, v, bandwidths=widths, rule=source.width_rule, grid=source.grid, shares=shares, sparse=source.sparse
        )
        rows = result.sparse_rows
        x, y, at = of.drawn.x[rows] * of.x_way.factor, of.drawn.ys[0][rows], of.drawn.rows[rows]
    else:
        known = np.isfinite(u) & np.isfinite(v)
        result, lowest = density_in(
            chunks, of.of_all, sums, (u[known], v[known]), bandwidths=widths, rule=source.width_rule,
            points=source.grid, shares=shares, sparse=source.sparse,
        )  # fmt: skip
        x, y, at = lowest.x, lowest.y, lowest.positions + 1
    return result, related.Cloud("", 0, x, y, at, np.empty(0)) if at.size else None


def _hexagons(of: Pairs) -> bivariate.Hexagons:
    """The pairs in hexagons, of a long table all of them."""
    source, sums, chunks = of.source, of.sums, of.context.table.chunks
    if sums is None or chunks is None:
        return bivariate.hexagons(of.u, of.vs[0], across=source.across, aspect=source.aspect)
    x, y = ((sums.lows[i], sums.highs[i]) for i in (0, 1))
    grid = bivariate.hexagon_grid(x, y, source.across, source.aspect)
    return grid.hexagons(chunks.over(InHexagons(of.of_all, grid))[0])


def _tiles(
    of: Pairs,
    ends: tuple[Any, Any, Any, Any],
    values: Floats,
    title: str,
    form: str = "blocks",
    *,
    counted_: bool = True,
) -> related.Tiles:
    ways = (of.x_way, of.y_way) * 2
    x, y, high_x, high_y = (way.back(end) for way, end in zip(ways, ends, strict=True))
    return related.Tiles(x, y, high_x, high_y, values, title, "hexagons" if form == "hexagons" else "blocks", counted_)


_ROWS_OF_CELLS = 0.75


def _cells(of: Pairs, known: np.ndarray) -> related.Tiles:
    """Pairs counted in cells of the window, or of all that there is."""
    source = of.source
    u, v = of.u[known], of.vs[0][known]
    columns, rows = source.across, max(round(_ROWS_OF_CELLS * source.across), 1)
    sums, chunks = of.sums, of.context.table.chunks
    ends = [u.min(), u.max(), v.min(), v.max()]
    if sums is not None:
        ends = [sums.lows[0], sums.highs[0], sums.lows[1], sums.highs[1]]
    if source.window:
        ends = _window(of)
    x0, x1, y0, y1 = map(float, ends)
    if sums is None or chunks is None:
        counts = bivariate.window(u, v, x_from=x0, x_to=x1, y_from=y0, y_to=y1, columns=columns, rows=rows)
    else:
        counts = chunks.over(InCells(of.of_all, (x0, x1, y0, y1), columns, rows))[0].reshape(rows, columns)
    at_y, at_x = np.nonzero(counts)
    across, up = related.steps(x0, x1, columns), related.steps(y0, y1, rows)
    corners = (across[at_x], up[at_y], across[at_x + 1], up[at_y + 1])
    return _tiles(of, corners, counts[at_y, at_x].astype(np.float64), "Pairs in a cell")


def _window(of: Pairs) -> list[float]:
    """The part whose cells are counted, along the axes."""
    window = of.source.window
    ways = (of.x_way, of.x_way, of.y_way, of.y_way)
    if len(window) == len(ways):
        # A window stands on the axis already: its times are days.
        along = [float(way.forth(np.array([end / way.factor]))[0]) for way, end in zip(ways, window, strict=True)]
        if along[0] < along[1] and along[2] < along[3]:
            return along
    raise InputError(
        "window", "A window has four ends that its axes can hold, each way the lower one first.", where="window"
    )


def _density_words(of: Pairs, pair_density: bivariate.PairDensity) -> list[str]:
    source = of.source
    drawn = (
        f"areas enclose {', '.join(significant(100 * share) for share in pair_density.shares[:-1])} and "
        if pair_density.shares
        else ""
    )
    what = (
        f"Shades: {drawn}{percent(pair_density.shares[-1])} of the pairs"
        if pair_density.shares
        else "Shade: density of pairs"
    )
    rule = f" by the {WIDTH_RULES[source.width_rule].label} rule"
    widths = [
        f"{significant(width, 3)}{' of the logarithm' if way.log else ''} along {label}{'' if chosen else rule}"
        for width, way, label, chosen in (
            (pair_density.bandwidth_x, of.x_way, of.told.x.label, source.width_x),
            (pair_density.bandwidth_y, of.y_way, of.told.series[0].subject.label, source.width_y),
        )
    ]
    said = [
        f"{what}; product normal kernel of SD {widths[0]} and {widths[1]}, on {source.grid} by {source.grid} points."
    ]
    names = (of.told.x.label, of.told.series[0].subject.label)
    asked = (pair_density.bandwidth_x, pair_density.bandwidth_y)
    for label, width, drawn_with in zip(names, asked, pair_density.drawn_with, strict=True):
        if drawn_with > width:
            said.append(
                f"Along {label} the grid is too coarse for it: there it is widened to {significant(drawn_with, 3)}."
            )
    if pair_density.sparse_rows.size:
        said.append(f"Points: the {counted(pair_density.sparse_rows.size, 'pair')} in the sparsest places.")
    return said


def _contours(of: Pairs, pair_density: bivariate.PairDensity) -> Iterator[related.Enclosing]:
    """Outlines of what lies above each level, holes turned the other way."""
    traced = contourpy.contour_generator(pair_density.x, pair_density.y, pair_density.density)
    for share, level in zip(pair_density.shares, pair_density.levels, strict=True):
        rings = traced.lines(float(level))
        gap = np.full((1, 2), np.nan)
        outline = np.concatenate([part for ring in rings for part in (ring, gap)]) if rings else np.empty((0, 2))
        yield related.Enclosing(share, of.x_way.back(outline[:-1, 0]), of.y_way.back(outline[:-1, 1]))
