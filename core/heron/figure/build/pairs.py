"""Panels of two variables."""

from collections.abc import Iterator
from contextlib import suppress
from dataclasses import replace

import numpy as np

from heron import bivariate, density, groups, relation
from heron.checks import Floats, Ints
from heron.errors import InputError
from heron.figure import pairs as related
from heron.figure.build.along import Pairs, Way
from heron.figure.build.context import DAY, Context, named, number, r_words, signed, titled
from heron.figure.build.thick import thick
from heron.figure.scene import Axis, Facts, Number, Scene, aired
from heron.figure.source import PairSource
from heron.figure.spread import scatter
from heron.formatting import counted, fixed, grouped, percent, significant, typeset
from heron.readings import lines as fits
from heron.readings import pairs
from heron.readings.subject import Subject


def panel_of_pairs(context: Context, source: PairSource) -> Scene:
    if source.also and source.shown != "points":
        raise InputError(
            "too-many-variables", "Several variables on one axis are drawn as points.", where="shown",
            remedy="Choose points, or one variable.",
        )  # fmt: skip
    if (source.bars_x or source.bars_y) and source.shown != "points":
        raise InputError("no-bars", "Bars belong to points.", where="shown", remedy="Choose points, or no bars.")
    by = "" if source.also else source.by
    settings = pairs.PairsSettings(source.x, [source.y, *source.also], by, source.size, source.bars_x, source.bars_y)
    drawn = pairs.drawn(context.table, settings, context.cancellation)
    told = drawn.told
    if not any(series.n_pairs for series in told.series):
        x, y = told.x.label, told.series[0].subject.label
        raise InputError("no-pairs", f"No row has both {x} and {y}.", where="y", remedy="Choose others.")
    if told.x_is_time and source.x_axis == "log":
        raise InputError("no-log", "Times have no logarithm.", where="x_axis", remedy="Choose a linear axis.")
    x_way, y_way = Way(source.x_axis == "log", 1 / DAY if told.x_is_time else 1.0), Way(source.y_axis == "log")
    of = Pairs(context, source, drawn, x_way, y_way, x_way.forth(drawn.x), tuple(map(y_way.forth, drawn.ys)))
    if source.plot == "residuals":
        return related.residuals(_residuals(of), source, max(len(_n_by_level(of)), 1))
    return related.scene_of_pairs(_related(of), source)


def _related(of: Pairs) -> related.Related:
    source, told, drawn = of.source, of.told, of.drawn
    clouds, most, step = _stacked(of) if source.shown == "counts" else (_clouds(of), 1.0, 0.0)
    curves, marks, notes, numbers, equations = _curves(of)
    joined = _joined(of) if source.joined != "no" else []
    tiles, enclosing, sparse, said = thick(of)
    sized = ""
    if source.size and source.shown == "points":
        size = of.context.table.variable(source.size)
        sized = titled(named(typeset(size.label), typeset(size.unit)))
    labels = [cloud.label for cloud in clouds]
    notes = [*notes, *told.bars_words]
    marks = [*_point_words(of, clouds, most), *said, *_joined_words(source), *marks, *_margin_words(source, labels)]
    if not source.also:
        numbers = [*numbers, *number("pairs", float(told.series[0].n_pairs))]
    counts = source.shown == "counts"
    return related.Related(
        clouds, [*joined, *curves], *_axes(of), *_reach(of, step * len(clouds) / 2), _facts(of, marks, notes),
        tiles=tiles, enclosing=enclosing, sparse=sparse, margins=list(_margins(of, clouds)), series_title=told.by,
        numbers=numbers, sizes_title="Pairs" if counts else sized, sizes_step=step,
        sizes_high=most if counts else _largest(drawn) if sized else 1.0,
        equations=equations if source.equation else (),
    )  # fmt: skip


def _axes(of: Pairs) -> tuple[Axis, Axis]:
    """Both axes with their words, their ends still to be found."""
    told, source = of.told, of.source
    units = {series.subject.unit for series in told.series}
    lost = [
        int(np.count_nonzero(np.isfinite(raw) & ~np.isfinite(stood)))
        for raw, stood in ((of.drawn.x, of.u), (of.drawn.ys[0], of.vs[0]))
    ]
    across = Axis(
        titled(told.x.label), "" if told.x_is_time else told.x.unit, "time" if told.x_is_time else "number",
        "log10" if source.x_axis == "log" else "linear", lost=lost[0],
    )  # fmt: skip
    up = Axis(
        titled(", ".join(series.subject.label for series in told.series)), units.pop() if len(units) == 1 else "",
        scale="log10" if source.y_axis == "log" else "linear", lost=lost[1],
    )  # fmt: skip
    return across, up


def _reach(of: Pairs, beside: float = 0.0) -> tuple[Floats, Floats]:
    """The least and the largest values of both axes, of all pairs that can stand there, and so much beside them."""
    known = [np.isfinite(of.u) & np.isfinite(v) for v in of.vs]
    drawn = of.drawn.points
    stands = [np.isfinite(of.x_way.forth(points.x)) & np.isfinite(of.y_way.forth(points.y)) for points in drawn]
    bars_x, bars_y = (
        np.concatenate(
            [np.empty(0), *(forth(ends[on].ravel()) for ends, on in zip(held, stands, strict=True) if ends.size)]
        )
        for forth, held in (
            (of.x_way.forth, [points.bars_x for points in drawn]), (of.y_way.forth, [points.bars_y for points in drawn])
        )
    )  # fmt: skip
    ends_x = [end for drawable in known if drawable.any() for end in (of.u[drawable].min(), of.u[drawable].max())]
    ends_y = [
        end
        for drawable, v in zip(known, of.vs, strict=True)
        if drawable.any()
        for end in (v[drawable].min(), v[drawable].max())
    ]
    if of.sums is not None and of.sums.n:
        ends_x += [of.sums.lows[0], of.sums.highs[0]]
        ends_y += [of.sums.lows[1], of.sums.highs[1]]
    ends_x = [min(ends_x) - beside, max(ends_x) + beside] if ends_x else []
    ends_x += bars_x[np.isfinite(bars_x)].tolist()
    ends_y += bars_y[np.isfinite(bars_y)].tolist()
    return of.x_way.back(np.array(ends_x)), of.y_way.back(np.array(ends_y))


_FURTHEST = 0.05  # of an axis: how far points are scattered at most, both ways together


def _clouds(of: Pairs) -> list[related.Cloud]:
    """The points that are drawn: of each variable, or of each level; those without a level have no place."""
    source, drawn = of.source, of.drawn
    largest = _largest(drawn)
    result = []
    for i, (points, series) in enumerate(zip(drawn.points, of.told.series, strict=True)):
        x = points.x * of.x_way.factor
        size = np.clip(points.size / largest, 0, None) if source.size and largest > 0 else np.empty(0)
        loose = source.shown == "points"
        aside = (
            _aside(of.x_way, x, of.u, source.jitter_x if loose else 0.0, points.positions),
            _aside(of.y_way, points.y, of.vs[i], source.jitter_y if loose else 0.0, points.positions + 7_919),
        )
        if source.also:
            parts = [(series.subject.label, i, np.arange(x.size))]
        elif of.told.levels:
            parts = [(label, k, np.flatnonzero(points.group == k)) for k, label in enumerate(of.told.levels)]
        else:
            parts = [("", 0, np.arange(x.size))]
        for label, k, at in parts:
            if at.size or not of.told.levels:
                sized, off_x, off_y = (values[at] if values.size else values for values in (size, *aside))
                bars_x, bars_y = (ends[at] if ends.size else ends for ends in (points.bars_x, points.bars_y))
                result.append(
                    related.Cloud(
                        label, k, x[at], points.y[at], points.positions[at], sized, off_x, off_y, bars_x=bars_x,
                        bars_y=bars_y,
                    )
                )  # fmt: skip
    return result


def _largest(drawn: pairs.PairsDrawn) -> float:
    return max((float(np.nanmax(points.size, initial=0.0)) for points in drawn.points), default=0.0)


def _aside(way: Way, values: Floats, along: Floats, share: float, seeds: Ints) -> Floats:
    """How far from its place each value is drawn, at random but always alike, in the unit of the axis."""
    if share == 0 or not np.isfinite(along).any():
        return np.empty(0)
    scaled = np.log10(np.where(values > 0, values, np.nan)) if way.log else values
    return np.asarray(way.back(scaled + _part(along, share * _FURTHEST) * scatter(seeds)) - values)


_BESIDE = 0.8  # of the room between two neighbouring places: what the stacks of groups share side by side
MOST_PLACES = 20_000


def _stacked(of: Pairs) -> tuple[list[related.Cloud], float, float]:
    """Pairs counted at each place, those of several groups side by side about it; the largest count, and how far apart
    two neighbours stand."""
    drawn, levels = of.drawn, of.told.levels or ("",)
    x = drawn.x * of.x_way.factor
    parts = []
    for code, label in enumerate(levels):
        in_group = drawn.group == code if of.told.levels else np.ones(x.size, dtype=bool)
        found = bivariate.stacks(x[in_group], drawn.ys[0][in_group])
        if found.x.size or not of.told.levels:
            parts.append((label, code, found))
    n = sum(result.x.size for _, _, result in parts)
    if n > MOST_PLACES:
        raise InputError(
            "too-many-places", f"The pairs lie at {grouped(n)} different places, hardly two at one.", where="shown",
            remedy="Use hexagons or contours.",
        )  # fmt: skip
    most = float(max((result.counts.max(initial=1) for _, _, result in parts), default=1))
    clouds = []
    step = _BESIDE * _gap(of.u[np.isfinite(of.u) & np.isfinite(of.vs[0])]) / len(parts) if len(parts) > 1 else 0.0
    way = of.x_way
    for code, (label, group, found) in enumerate(parts):
        beside = (code - (len(parts) - 1) / 2) * step
        aside = way.back(way.forth(found.x / way.factor) + beside) - found.x if step else np.empty(0)
        # The largest first, so that small ones are not hidden.
        order = np.argsort(-found.counts, kind="stable")
        counts = found.counts.astype(np.float64)[order]
        aside_x = aside[order] if aside.size else aside
        nobody = np.empty(0, dtype=np.int64)
        clouds.append(
            related.Cloud(label, group, found.x[order], found.y[order], nobody, counts / most, aside_x, counts=counts)
        )
    return clouds, most, step


def _gap(along: Floats) -> float:
    """The room between the two nearest places along an axis; all of it for a single one."""
    places = np.unique(along)
    return float(np.diff(places).min()) if places.size > 1 else 1.0


def _part(along: Floats, share: float) -> float:
    """A share of the range of values; halves of it may be told where the whole is too large."""
    known = along[np.isfinite(along)]
    return float(known.max() / 2 - known.min() / 2) * (2 * share) if known.size else 0.0


def _point_words(of: Pairs, clouds: list[related.Cloud], most: float) -> list[str]:
    source, told = of.source, of.told
    if source.shown == "counts":
        about = "; groups stand side by side about it" if len(clouds) > 1 else ""
        return [f"The area of a point counts the pairs at its place, {grouped(int(most))} at most{about}."]
    if source.shown != "points":
        return []
    sized = f" The area of a point follows {told.size}." if told.size else ""
    thinned = [series for series in told.series if series.thinned]
    n = sum(cloud.x.size for cloud in clouds)
    whole = sum(series.n_pairs for series in told.series)
    sample = f"a random sample of {counted(n, 'row')} of {grouped(whole)}" if thinned else "rows"
    result = [f"Points: {sample}.{sized}"]
    result += [f"Bars: {told.bars}."] if told.bars else []
    scattered = [
        _scattered(way, along, share, subject)
        for way, along, share, subject in (
            (of.x_way, of.u, source.jitter_x, told.x), (of.y_way, of.vs[0], source.jitter_y, told.series[0].subject)
        ) if share
    ]  # fmt: skip
    if scattered:
        result.append(f"Points are scattered at random by up to {' and '.join(scattered)} to each side.")
    return result


def _scattered(way: Way, along: Floats, share: float, subject: Subject) -> str:
    """How far points are scattered to each side: in the unit of the values, or on a logarithmic axis as a factor."""
    reach = _part(along, share * _FURTHEST) / 2
    if way.log:
        return f"a factor of {significant(10.0**reach, 3)} of {subject.label}"
    unit = "days" if way.factor != 1 else subject.unit
    return f"{significant(reach, 2)}{f' {unit}' if unit else ''} of {subject.label}"


def _joined(of: Pairs) -> list[related.Curve]:
    """The points of each variable, or of each level, joined in the order of x, or of their rows, broken where a row of
    theirs has no value."""
    drawn, result = of.drawn, []
    for points, series, y in zip(drawn.points, of.told.series, drawn.ys, strict=True):
        one = series.subject.label if len(drawn.points) > 1 else ""
        levels = [(label, points.group == code, drawn.group == code) for code, label in enumerate(of.told.levels)]
        every = np.ones(points.x.size, dtype=bool), np.ones(y.size, dtype=bool)
        for label, shown, of_level in levels or [(one, *every)]:
            known_x, known = np.isfinite(drawn.x), np.isfinite(drawn.x) & np.isfinite(y)
            if of.source.joined == "rows":
                along, holes = points.positions[shown], drawn.rows[of_level & ~known]
            else:
                along, holes = points.x[shown], drawn.x[of_level & known_x & ~known]
            order = np.argsort(along, kind="stable")
            # A sample of points is joined as it is.
            before = np.searchsorted(np.sort(holes[:0] if series.thinned else holes), along[order])
            breaks = np.flatnonzero(np.diff(before) > 0) + 1
            at = np.flatnonzero(shown)[order]
            x, heights = points.x[at] * of.x_way.factor, points.y[at]
            result.append(
                related.Curve(label, "joined", np.insert(x, breaks, np.nan), np.insert(heights, breaks, np.nan))
            )
    return result


def _joined_words(source: PairSource) -> list[str]:
    order = {"x": "of x", "rows": "of their rows"}.get(source.joined)
    return [f"Thin lines join values in the order {order} and break where one is missing."] if order else []


def _settings(of: Pairs) -> fits.FitSettings:
    source = of.source
    by = of.context.table.variable(source.x).beside(source.by) if source.each else None
    return fits.FitSettings(source.lines, by, source.x_scale, source.y_scale, source.level, source.span)


def _fitted(of: Pairs) -> fits.LinesDrawn | None:
    """The lines; none over several variables."""
    source, table = of.source, of.context.table
    if not source.lines or source.also:
        return None
    return fits.drawn(table.variable(source.x), table.variable(source.y), _settings(of), of.context.cancellation)


def _curves(of: Pairs) -> tuple[list[related.Curve], list[str], list[str], list[Number], list[str]]:
    """Lines with their bands, what is said of them, their numbers and their equations."""
    source = of.source
    curves: list[related.Curve] = []
    notes: list[str] = []
    numbers: list[Number] = []
    equations: list[str] = []
    fitted = _fitted(of)
    if fitted is None:
        return curves, [], notes, numbers, equations
    factor = of.x_way.factor
    x_name, y_name = of.told.x.label, of.told.series[0].subject.label
    for group in fitted.groups:
        whose = f" of {group.label}" if group.label else ""
        if group.fit is not None:
            fit = group.fit
            bands = [("one more", fit.one_low, fit.one_high)] if source.bands == "both" else []
            bands += [("band", fit.low, fit.high)] if source.bands != "none" else []
            curves.append(related.Curve(group.label, "fit", fit.curve_x * factor, fit.curve_y, tuple(bands)))  # type: ignore[arg-type]
            notes.append(f"Line of least squares{whose}: {_flat(group.equation)}{r_words(fit.r_squared)}.")
            if group.carried_back:
                r_words_there = (
                    "" if fit.original_r_squared is None else f", R\u00b2 there {fixed(fit.original_r_squared, 3)}"
                )
                notes.append(
                    f"In their own units{whose}: {_flat(group.carried_back)}{r_words_there}.".replace(" -", " \u2212")
                )
            equations.append(
                f"{group.label + ': ' if group.label else ''}{group.carried_back or group.equation}"
                f"{r_words(fit.r_squared)}"
            )
            tail = f", {group.label}" if group.label else ""
            numbers += [Number(f"slope{tail}", fit.slope), Number(f"intercept{tail}", fit.intercept)]
            numbers += number(f"R\u00b2{tail}", fit.r_squared)
            numbers += number(f"lower limit of the slope by HC3{tail}", fit.slope_robust_low)
            numbers += number(f"upper limit of the slope by HC3{tail}", fit.slope_robust_high)
        if group.median is not None:
            known = of.u[np.isfinite(of.u)]
            at = of.x_way.back(np.linspace(known.min(), known.max(), relation.CURVE_POINTS)) if known.size else known
            y = group.median.intercept + group.median.slope * at / factor
            curves.append(related.Curve(group.label, "median line", at, y))
            equation = signed(group.median.intercept, group.median.slope, x_name)
            notes.append(f"Theil-Sen line{whose}: {y_name} = {equation}.")
        if group.smooth is not None:
            curves.append(related.Curve(group.label, "smooth", group.smooth.x * factor, group.smooth.y))
    marks = []
    together = len({curve.role for curve in curves}) > 1 and not any(curve.label for curve in curves)
    if any(curve.role == "median line" for curve in curves) and together:
        marks.append("Dashed: Theil-Sen line (median of slopes).")
    if any(curve.role == "smooth" for curve in curves):
        which = ", dashes and dots" if together else ""
        marks.append(f"Lowess{which}: local lines over {fixed(100 * source.span, 0)} % of the pairs.")
    if any(curve.bands for curve in curves):
        more = ", and wider of one more value" if source.bands == "both" else ""
        marks.append(f"Bands: {percent(source.level)} limits of the line{more}.")
    return curves, marks, notes, numbers, equations


def _flat(equation: str) -> str:
    """An equation with raised powers where nothing can be raised: what has no such characters stands in brackets."""
    return typeset(equation).replace("^{", "^(").replace("}", ")")


def _margins(of: Pairs, clouds: list[related.Cloud]) -> Iterator[related.Margin]:
    """Each variable of each group by itself, over the pairs that can stand on both axes."""
    source, drawn = of.source, of.drawn
    if source.margins == "none":
        return
    for i, points in enumerate(clouds):
        of.context.cancellation.check()
        column = i if source.also else 0
        known = np.isfinite(of.u) & np.isfinite(of.vs[column])
        if of.told.levels:
            known &= drawn.group == points.place
        at = np.flatnonzero(known)
        x = drawn.x * of.x_way.factor
        yield from _margin(related.Margin("x", points.label), of, of.x_way, (x, of.u, points.x), at)
        ys = drawn.ys[column], of.vs[column], points.y
        yield from _margin(related.Margin("y", points.label), of, of.y_way, ys, at)


def _margin(
    bare: related.Margin, of: Pairs, way: Way, values: tuple[Floats, Floats, Floats], at: Ints
) -> Iterator[related.Margin]:
    """One variable of one group. values: of all rows, as they are and along the axis, and those drawn; at: its rows."""
    values_of, along, seen = values
    if of.source.margins == "rugs":
        yield replace(bare, values=seen)
    elif of.source.margins == "boxes":
        yield replace(bare, box=groups.with_rows(groups.boxes(values_of[at]).groups[0], of.drawn.rows[at]))
    elif of.source.margins == "histograms":
        edges = np.unique(related.steps(*aired([along], 0.0), _CLASSES))
        yield replace(bare, edges=way.back(edges), counts=np.histogram(along[at], edges)[0].astype(np.float64))
    else:
        with suppress(InputError):  # values without a density have none drawn
            curve = density.kernel_density(along[at], points=_CURVE_POINTS)
            yield replace(bare, x=way.back(curve.x), heights=curve.density)


_CLASSES = 28
_CURVE_POINTS = 80


_MARGINS = {"histograms": "classes", "densities": "densities", "boxes": "box plots", "rugs": "strokes at the values"}


def _margin_words(source: PairSource, labels: list[str]) -> list[str]:
    if source.margins == "none":
        return []
    of_groups = " of each group" if len(labels) > 1 else ""
    crowded = source.margins in ("boxes", "rugs") and len(labels) > related.MOST_IN_ROOMS
    first = f", of the first {related.MOST_IN_ROOMS}" if crowded else ""
    return [f"Along the axes: {_MARGINS[source.margins]}{of_groups}{first}."]


def _facts(of: Pairs, marks: list[str], notes: list[str]) -> Facts:
    told = of.told
    across = named(told.x.label, "" if told.x_is_time else told.x.unit)
    first = told.series[0]
    if of.source.also:
        what = ", ".join(series.subject.label for series in told.series)
        n = tuple((series.subject.label, series.n_pairs) for series in told.series)
    else:
        what = named(first.subject.label, first.subject.unit)
        n = _n_by_level(of) or (("pairs", first.n_pairs),)
    by = f" by {told.by}" if told.by else ""
    lost = sum(axis.lost for axis in _axes(of))
    aside = next((loss.n for loss in first.lost if loss.why == "set aside"), 0)
    without = first.n_pairs - sum(n for _, n in n) if told.levels else 0
    cannot = []
    if lost:
        cannot.append(f"{counted(lost, 'value')} of 0 or below cannot stand on the logarithmic axis.")
    if without > 0:
        cannot.append(f"{counted(without, 'pair')} without {told.by} not shown.")
    return Facts(
        titled(of.context.words(f"{what} on {across}{by}")), tuple(marks), told.bars, notes=tuple(notes), n=n,
        missing=0 if of.source.also else sum(loss.n for loss in first.lost if loss.why != "set aside"), aside=aside,
        cannot=tuple(cannot), sampled=told.sampled if _rests_on_sample(of) else 0,
        named=(("across", across), ("up", what), *((("series", told.by),) if told.by else ())),
    )  # fmt: skip


def _rests_on_sample(of: Pairs) -> bool:
    """Whether more than the points of a long table is drawn from a sample of its rows."""
    source = of.source
    of_all = source.shown != "counts" and not (set(source.lines) - {"least-squares"} or source.by or source.also)
    return not of_all or source.margins != "none" or source.joined != "no" or source.plot == "residuals"


def _n_by_level(of: Pairs) -> tuple[tuple[str, int], ...]:
    """How many pairs each level has that has any."""
    if not of.told.levels:
        return ()
    known = np.isfinite(of.drawn.x) & np.isfinite(of.drawn.ys[0]) & (of.drawn.group >= 0)
    counts = np.bincount(of.drawn.group[known], minlength=len(of.told.levels))
    return tuple((label, int(n)) for label, n in zip(of.told.levels, counts, strict=True) if n)


def _residuals(of: Pairs) -> related.Related:
    """What the lines of least squares leave of each pair."""
    source, told = of.source, of.told
    result = _fitted(of)
    if result is None or not any(group.fit for group in result.groups):
        why = next((group.why for group in result.groups if group.why), "") if result else ""
        raise InputError(
            "no-line", why or "There is no line of least squares, so that nothing is left of it.", where="lines",
            remedy="Draw that line.",
        )  # fmt: skip
    x = result.residual_x * of.x_way.factor
    clouds = []
    for each in result.groups:
        at = np.flatnonzero(result.residual_group == each.place)
        if at.size:
            rows = result.residual_rows[at]
            clouds.append(related.Cloud(each.label, each.place, x[at], result.residuals[at], rows, np.empty(0)))
    scaled = relation.scaled(source.y_scale, told.series[0].subject.label)
    unit = told.series[0].subject.unit if source.y_scale == "as-is" else ""
    n = sum(group.fit.n_pairs for group in result.groups if group.fit is not None)
    facts = Facts(
        titled(of.context.words(f"residuals of {scaled} on {relation.scaled(source.x_scale, told.x.label)}")),
        ("Points: what the line leaves; line at 0: the fit.",), n=(("pairs", n),),
    )  # fmt: skip
    across, _ = _axes(of)
    return related.Related(clouds, (), across, Axis("Residual", unit), _reach(of)[0], np.empty(0), facts)
