"""Panels of two variables."""

from typing import Any

import numpy as np

from heron.errors import InputError
from heron.figure import pairs as related
from heron.figure.build.place import DAY, Place, named, number, r_words, signed, titled
from heron.figure.scene import Facts, Number, Scale, Scene
from heron.figure.source import PairSource
from heron.ledger import VariableView
from heron.readings import lines as fits
from heron.readings import pairs
from heron.wording import counted, grouped


def paired(place: Place, source: PairSource) -> Scene:
    table = place.table
    if source.also:
        return _several(place, source)
    found = pairs.paired(table, pairs.PairsSettings(source.x, [source.y], source.by, source.size), place.cancellation)
    own = found.series[0]
    x, y = table.variable(source.x), table.variable(source.y)
    factor = 1 / DAY if found.x_is_time else 1.0
    if own.n_pairs == 0:
        raise InputError("no-pairs", f"No row has both {x.label} and {y.label}.", where="y", remedy="Choose others.")
    sizes = own.size / own.size.max() if source.size and own.size.size and own.size.max() > 0 else np.empty(0)
    levels = found.levels or ("",)
    clouds = []
    for i, label in enumerate(levels):
        at = np.flatnonzero(own.group == i) if found.levels else np.arange(own.x.size)
        if at.size or not found.levels:
            clouds.append(
                related.Cloud(
                    label, i, own.x[at] * factor, own.y[at], own.positions[at], sizes[at] if sizes.size else sizes
                )
            )
    logs: tuple[Scale, Scale] = (
        "log10" if source.x_scale == "log10" and source.lines else "linear",
        "log10" if source.y_scale == "log10" and source.lines else "linear",
    )
    curves, marks, notes, numbers = _curves(place, x, y, source, found)
    if source.joined:
        nan = np.insert(own.x * factor, own.broken, np.nan), np.insert(own.y, own.broken, np.nan)
        curves.insert(0, related.Curve("", "joined", *nan, np.empty(0), np.empty(0)))
        marks.append("Thin lines join values in order.")
    tiles = _tiles(x, y, source) if source.shown != "points" else None
    if tiles is not None:
        steps = ", in steps of equal ratio" if tiles.counted else ""
        marks.insert(0, f"Shade: {tiles.title.lower()}{steps}.")
    elif own.thinned:
        marks.insert(0, f"Points: a random sample of {counted(own.x.size, 'row')} of {grouped(own.n_pairs)}.")
    else:
        marks.insert(0, f"Points: rows{f', sized by {found.size}' if found.size else ''}.")
    lost = sum(int(np.count_nonzero(v <= 0)) for v, s in zip((own.x, own.y), logs, strict=True) if s == "log10")
    aside = next((each.n for each in own.lost if each.why == "set aside"), 0)
    left = [each for each in own.lost if each.why != "set aside"]
    of = f" by {found.by}" if found.by else ""
    what = named(own.subject.label, own.subject.unit)
    facts = Facts(
        titled(place.words(f"{what} on {named(found.x.label, found.x.unit)}{of}")),
        tuple(marks), notes=tuple(notes),
        n=tuple((cloud.label, int(np.count_nonzero(own.group == cloud.place))) for cloud in clouds)
        if found.by and not own.thinned else (("pairs", own.n_pairs),),
        missing=sum(each.n for each in left), aside=aside,
        cannot=(f"{counted(lost, 'value')} of 0 or below cannot stand on the logarithmic axis.",) if lost else (),
    )  # fmt: skip
    return related.paired(
        clouds, curves, (titled(found.x.label), "" if found.x_is_time else found.x.unit),
        (titled(own.subject.label), own.subject.unit), facts, tiles=tiles, series_title=found.by, scales=logs,
        time=found.x_is_time, lost=lost, numbers=[*numbers, *number("pairs", float(own.n_pairs))],
    )  # fmt: skip


def _several(place: Place, source: PairSource) -> Scene:
    """Several measured variables on one axis, each a series of its own."""
    found = pairs.paired(
        place.table, pairs.PairsSettings(source.x, [source.y, *source.also], "", ""), place.cancellation
    )
    factor = 1 / DAY if found.x_is_time else 1.0
    none = np.empty(0)
    clouds, curves = [], []
    for i, own in enumerate(found.series):
        clouds.append(related.Cloud(own.subject.label, i, own.x * factor, own.y, own.positions, none))
        if source.joined:
            line = np.insert(own.x * factor, own.broken, np.nan), np.insert(own.y, own.broken, np.nan)
            curves.append(related.Curve(own.subject.label, "joined", *line, none, none))
    labels = [own.subject.label for own in found.series]
    units = {own.subject.unit for own in found.series}
    facts = Facts(
        titled(place.words(f"{', '.join(labels)} on {named(found.x.label, found.x.unit)}")),
        ("Points: rows.", *(["Thin lines join values in order."] if source.joined else [])),
        n=tuple((own.subject.label, own.n_pairs) for own in found.series),
    )
    up = (titled(", ".join(labels)), units.pop() if len(units) == 1 else "")
    across = (titled(found.x.label), "" if found.x_is_time else found.x.unit)
    return related.paired(clouds, curves, across, up, facts, time=found.x_is_time)


def _curves(
    place: Place, x: VariableView, y: VariableView, source: PairSource, found: pairs.PairsReading
) -> tuple[Any, ...]:
    """Lines with their bands, and what is said of them."""
    curves: list[related.Curve] = []
    marks: list[str] = []
    notes: list[str] = []
    numbers: list[Number] = []
    if not source.lines or found.x_is_time:
        return curves, marks, notes, numbers
    none = np.empty(0)
    settings = fits.FitSettings(
        source.lines, x.beside(source.by), source.x_scale, source.y_scale, source.level, source.span
    )
    fitted = fits.fits(x, y, settings, place.cancellation)
    for each in fitted.groups:
        of = f" of {each.label}" if each.label else ""
        if each.fit is not None:
            fit = each.fit
            band = (fit.low, fit.high) if source.bands else (none, none)
            curves.append(related.Curve(each.label, "fit", fit.curve_x, fit.curve_y, *band))
            notes.append(f"Line of least squares{of}: {each.equation}{r_words(fit.r_squared)}.")
            if each.carried_back:
                notes.append(f"In their own units{of}: {each.carried_back}.")
            tail = f", {each.label}" if each.label else ""
            numbers += [Number(f"slope{tail}", fit.slope), Number(f"intercept{tail}", fit.intercept)]
            numbers += number(f"R\u00b2{tail}", fit.r_squared)
        if each.median is not None:
            ends = np.array([found.x_low, found.x_high])
            curves.append(
                related.Curve(
                    each.label, "median line", ends, each.median.intercept + each.median.slope * ends, none, none
                )
            )
            equation = signed(each.median.intercept, each.median.slope, found.x.label)
            notes.append(f"Line of median slopes (Theil and Sen){of}: {found.series[0].subject.label} = {equation}.")
        if each.smooth is not None:
            curves.append(related.Curve(each.label, "smooth", each.smooth.x, each.smooth.y, none, none))
    if any(curve.role == "smooth" for curve in curves):
        marks.append(f"Smooth: local lines over {100 * source.span:.0f} % of the pairs.")
    if source.bands and any(curve.low.size for curve in curves):
        marks.append(f"Bands: {100 * source.level:g} % limits of the line.")
    return curves, marks, notes, numbers


def _tiles(x: VariableView, y: VariableView, source: PairSource) -> related.Tiles:
    """Where pairs lie thickest: hexagons or cells of a grid by their count, or a smooth density."""
    _, a, b = pairs.pairs_of(x, y)
    known = np.isfinite(a) & np.isfinite(b)
    low, high = (float(a[known].min()), float(b[known].min())), (float(a[known].max()), float(b[known].max()))
    if low[0] == high[0] or low[1] == high[1]:
        raise InputError("no-spread", "Shades need both variables to vary.", where="shown", remedy="Draw points.")
    if source.shown == "hexagons":
        # With its key beside it, the data area of a sheet of usual size is about square.
        many = pairs.hexagons(x, y, source.across, 1.0)
        wide, tall, counts = many.radius_x, many.radius_y, many.counts.astype(np.float64)
        return related.Tiles(
            many.x - wide, many.y - tall, many.x + wide, many.y + tall, counts, "Pairs in a hexagon", "hexagons"
        )
    if source.shown == "density":
        found = pairs.dense(x, y, None, 90, (0.5,), 0)
        grid_x, grid_y = found.found.x, found.found.y
        step_x, step_y = grid_x[1] - grid_x[0], grid_y[1] - grid_y[0]
        heights = found.heights
        at_x, at_y = np.tile(grid_x, grid_y.size), np.repeat(grid_y, grid_x.size)
        kept = heights > heights.max() * 0.004
        at_x, at_y, heights = at_x[kept], at_y[kept], heights[kept]
        title = "Density of pairs"
    else:
        found_counts = pairs.window(x, y, (low[0], high[0], low[1], high[1]), 40, 30)
        step_x, step_y = (high[0] - low[0]) / found_counts.columns, (high[1] - low[1]) / found_counts.rows
        columns, rows = np.meshgrid(np.arange(found_counts.columns), np.arange(found_counts.rows))
        at_x = np.asarray(low[0] + (columns.ravel() + 0.5) * step_x, dtype=np.float64)
        at_y = np.asarray(low[1] + (rows.ravel() + 0.5) * step_y, dtype=np.float64)
        heights = found_counts.counts.astype(np.float64)
        title = "Pairs in a cell"
    ends = (at_x - step_x / 2, at_y - step_y / 2, at_x + step_x / 2, at_y + step_y / 2)
    return related.Tiles(*ends, heights, title, counted=source.shown != "density")
