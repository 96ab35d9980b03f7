"""Code for panels of one variable. In each, `t` is the frame of the table, and `scene` is what it comes to."""

from collections.abc import Mapping
from typing import Any

from heron.figure.scene import Scene
from heron.script.code import call, indented
from heron.script.spec import TableSpec

Source = Mapping[str, Any]
METHODS = {
    1: "inverted_cdf", 2: "averaged_inverted_cdf", 3: "closest_observation", 4: "interpolated_inverted_cdf", 5: "hazen",
    6: "weibull", 7: "linear", 8: "median_unbiased", 9: "normal_unbiased",
}  # fmt: skip
KNOWN = "own[~np.isnan(own)]"


def facts(scene: Scene) -> str:
    return call("Facts", repr(scene.facts.subject), bars=scene.facts.bars or None)


def taken(symbol: str) -> list[str]:
    """x, the values of a variable, and rows_of, the number of the row of each."""
    return [f"x, rows_of = values(t, {symbol!r}), t.index.to_numpy()"]


def split(by: str) -> list[str]:
    return [f"labels, index = levels(t, {by!r})" if by else 'labels, index = [""], np.zeros(x.size, dtype=int)']


def quartiles(definition: int | str) -> str:
    """q1, median and q3 of `known`, by numpy where it has the definition."""
    if definition == "hinges":
        return "q1, median, q3 = quantiles.hinges(known).lower, np.median(known), quantiles.hinges(known).upper"
    return f"q1, median, q3 = np.quantile(known, [0.25, 0.5, 0.75], method={METHODS[int(definition)]!r})"


def shape(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, symbol = source["shape"], source["variable"]
    log, by = asked["axis"] == "log", asked["by"]
    low, high = table.bounds(symbol, log=log)
    lines = [*taken(symbol), *split(by)]
    lines += ["on_axis = np.log10(x)" if log else "on_axis = x", "sent = np.zeros(x.size, dtype=bool)"]
    lines += ["known_at = np.flatnonzero(~np.isnan(x))", "sent[thinning.points(known_at, x[known_at])] = True"]
    cut = "classes" in source["layers"] or source["measure"] != "density"
    if cut:
        lines += _cut(asked, table, symbol, log=log)
    inner = ["own_at = np.flatnonzero(index == i)", "own = x[own_at]", f"known = {KNOWN}"]
    inner += ["if not known.size:", "    continue"] if by else []
    inner += ["n, mean, sd = known.size, np.mean(known), np.std(known, ddof=1) if known.size > 1 else np.nan"]
    inner += [quartiles(asked["quantile_definition"])]
    box = {name: asked[name] for name in ("quantile_definition", "reach", "whiskers", "share")}
    inner += [f"box = groups.with_rows({call('groups.box', 'own', **box)}.groups[0], rows_of[own_at])"]
    settings = {"bandwidth": asked["bandwidth"], "kernel": asked["kernel"], "lower": low, "upper": high}
    inner += [f"curve = {call('attempt', 'density.estimate', 'on_axis[own_at]', **settings)}"]
    inner += ["curve = curve and replace(curve, x=10**curve.x)"] if log else []
    inner += ["normal_x = normal_heights = None"]
    if "normal" in source["layers"]:
        of = "np.log10(known)" if log else "known"
        inner += [
            f"normal = attempt(normality.curve, np.mean({of}), np.std({of}, ddof=1)) if n > 1 and sd > 0 else None",
            "if normal is not None:",
            f"    normal_x, normal_heights = {'10**normal.x' if log else 'normal.x'}, normal.density",
        ]
    inner += ["counted = None"]
    if cut:
        edges = "np.log10(cut.boundaries)" if log else "cut.boundaries"
        inner += [
            "place = frequency.places(own, cut.boundaries, closed=cut.closed)",
            "counts = np.bincount(place[place >= 0], minlength=cut.counts.size)",
            "total = max(int(counts.sum()), 1)",
            f"heights = counts / total / np.diff({edges})",
            "counted = replace(cut, counts=counts, percents=100 * counts / total, densities=heights)",
        ]
    inner += [
        "here = own_at[sent[own_at]]",
        "parts.append(shapes.Shape(typeset(labels[i]), x[here], rows_of[here], counted, curve, box, normal_x, normal_heights))",
        'of = f", {typeset(labels[i])}"' if by else 'of = ""',
    ]
    unit = table.unit(symbol)
    for name, value, in_unit in (
        ("mean", "mean", unit), ("SD", "sd", unit), ("median", "median", unit), ("first quartile", "q1", unit),
        ("third quartile", "q3", unit), ("n", "n", ""),
    ):  # fmt: skip
        inner.append(f'numbers += number(f"{name}{{of}}", {value}, {in_unit!r})')
    inner += [
        "if n > 1:",
        f"    low, high = stats.t.interval({asked['level']!r}, n - 1, mean, stats.sem(known)) if sd > 0 else (mean, mean)",
        f'    numbers += number(f"SE of the mean{{of}}", stats.sem(known), {unit!r})',
        f'    numbers += number(f"lower limit of the mean{{of}}", low, {unit!r}) + number(f"upper limit of the mean{{of}}", high, {unit!r})',
        f'numbers += number(f"minimum{{of}}", known.min(), {unit!r}) + number(f"maximum{{of}}", known.max(), {unit!r})',
        "if sd > 0:",
        '    numbers += number(f"skewness{of}", stats.skew(known, bias=False))',
        '    numbers += number(f"excess kurtosis{of}", stats.kurtosis(known, bias=False))',
    ]
    lines += ["parts, numbers = [], []", "for i in range(len(labels)):", *indented(inner)]
    made = call(
        "shapes.shape", "parts", repr(scene.across.title), repr(unit), facts(scene), layers=list(source["layers"]),
        measure=source["measure"], scale="log10" if log else "linear", series_title=scene.series_title,
    )  # fmt: skip
    return [*lines, f"scene = {made[:-1]}, numbers=numbers)"]


def _cut(asked: Mapping[str, Any], table: TableSpec, symbol: str, *, log: bool) -> list[str]:
    said = {name: asked[name] for name in ("rule", "count", "width", "start", "closed")}
    said["boundaries"] = asked["boundaries"] or None
    if log:
        for name in ("boundaries", "start"):
            if said[name] is not None:
                said[name] = "np.log10(...)"
        text = call("frequency.classify", "on_axis", **said).replace("'np.log10(...)'", "{}")
        given = [f"np.log10({asked[name]!r})" for name in ("start", "boundaries") if asked[name]]
        return [
            f"cut = {text.format(*given)}",
            "cut = replace(cut, boundaries=np.array([float(f'{edge:.12g}') for edge in 10**cut.boundaries]))",
        ]
    if not any(said[name] for name in ("count", "width", "boundaries")):
        usual = table.usual_classes(symbol)
        said["rule"], said["step"] = said["rule"] or usual.rule, usual.step
    return [f"cut = {call('frequency.classify', 'x', **said)}"]


def cumulative(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, symbol = source["shape"], source["variable"]
    made = call(
        "shapes.cumulative", "parts", repr(scene.across.title), repr(table.unit(symbol)), facts(scene),
        series_title=scene.series_title,
    )  # fmt: skip
    return [
        *taken(symbol), *split(asked["by"]), "parts = []", "for i in range(len(labels)):",
        "    own = np.flatnonzero((index == i) & ~np.isnan(x))", "    if own.size:",
        "        parts.append(shapes.Shape(typeset(labels[i]), x[own], rows_of[own]))", f"scene = {made}",
    ]  # fmt: skip


def counts(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    symbol, percents = source["variable"], source["measure"] == "percents"
    axis = scene.up if scene.up.kind == "levels" else scene.across
    lines = [f"column_of = t[{symbol!r}]"]
    if table.is_labels(symbol):
        lines += [
            "by_level = column_of.value_counts(sort=False)",
            "by_level = by_level[by_level > 0]",
            "names = [str(level) for level in by_level.index]",
            "found = frequency.count_values(names, weights=by_level.to_numpy(dtype=float), order=names)",
        ]
    else:
        lines.append("found = frequency.count_values(column_of.to_numpy(dtype=float))")
    return [
        *lines,
        'said = [f"{row.value:g}" if isinstance(row.value, float) else str(row.value) for row in found.rows]',
        "found = replace(found, rows=tuple(replace(r, value=typeset(s)) for r, s in zip(found.rows, said, strict=True)))",
        f"scene = shapes.counted(found, {axis.title!r}, {facts(scene)}, percents={percents!r})",
    ]


def moments(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    """Rows in each unit of time."""
    unit = source["times"]["unit"]
    return [
        f"found = {call('times.summarize', 'values(t, ' + repr(source['variable']) + ')', unit=unit)}",
        f"scene = shapes.in_time(found.boundaries / 86400, found.counts, {scene.across.title!r}, {facts(scene)})",
    ]


def in_order(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    symbol, along = source["variable"], source["ordered"]["along"]
    axis = call("Axis", repr(scene.across.title), repr(scene.across.unit), repr(scene.across.kind))
    lines = [f"x = values(t, {symbol!r})", f"along = {f'values(t, {along!r})' if along else None}"]
    lines += [
        "found = ordering.in_order(x, along)",
        "ordered = x[found.order]",
        "holes = np.flatnonzero(np.isnan(x))",
        "hole_at = np.sort(holes + 1.0 if along is None else along[holes])",
        "before = np.searchsorted(hole_at[~np.isnan(hole_at)], found.places)",
        "breaks = np.flatnonzero(np.diff(before, prepend=0))",
        "places = "
        + (
            "found.places + 1"
            if not along
            else "found.places / 86400"
            if scene.across.kind == "time"
            else "found.places"
        ),
    ]
    made = call(
        "shapes.ordered",
        "places",
        "ordered",
        "found.order + 1",
        "breaks",
        axis,
        repr(scene.up.title),
        repr(scene.up.unit),
        facts(scene),
    )
    return [*lines, f"scene = {made}"]


def quantile_plot(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    symbol, against = source["variable"], source["quantiles"]
    lines = taken(symbol)
    titles = f"{scene.up.title!r}, {table.unit(symbol)!r}, {scene.across.title!r}, {facts(scene)}"
    shown = [
        "sent = np.zeros(x.size, dtype=bool)", "known_at = np.flatnonzero(~np.isnan(x))",
        "sent[thinning.points(known_at, x[known_at])] = True",
    ]  # fmt: skip
    if against is not None and against["family"] != "normal":
        return [
            *lines, *shown,
            f"found = {call('normality.fitted', 'x', family=against['family'], level=against['level'])}",
            "here = np.flatnonzero(sent[found.rows])",
            "drawn = shapes.Quantiles(found.expected[here], found.ordered[here], rows_of[found.rows[here]], 1.0, 0.0, "
            "found.expected[here], found.low[here], found.high[here])",
            f"scene = shapes.quantiles(drawn, {titles})",
            "scene = replace(scene, numbers=tuple(Number(name, value) for name, value in found.parameters.items()))",
        ]  # fmt: skip
    by = (source["normal"] or {}).get("by", "")
    level = source["normal"]["level"] if source["normal"] else against["level"] if against else 0.95
    lines += shown
    if by:
        lines += [
            f"group = levels(t, {by!r})[1]",
            "means = pd.Series(x).groupby(group).transform('mean').to_numpy()",
            "x = np.where(group >= 0, x - means, np.nan)",
        ]
    return [
        *lines,
        f"qq = normality.qq(x, level={level!r})",
        "w, p = stats.shapiro(x[~np.isnan(x)])" if not table.many else "check = normality.check(x).shapiro_wilk",
        *(["w, p = check.statistic, check.p_value"] if table.many else []),
        "points = np.flatnonzero(sent[qq.rows[: qq.n]])",
        "few = thinning.positions(qq.n)",
        "low, high = qq.simultaneous_low[few], qq.simultaneous_high[few]",
        "if not np.isfinite(low).any():",
        "    low, high = qq.point_low[few], qq.point_high[few]",
        "drawn = shapes.Quantiles(qq.scores[points], qq.ordered[points], rows_of[qq.rows[points]], qq.slope, qq.intercept, "
        "qq.scores[few], low, high)",
        f"scene = shapes.quantiles(drawn, {titles})",
        'scene = replace(scene, numbers=tuple(number("Shapiro and Wilk\'s W", w) + number("p of W", p)))',
    ]


def rules(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, symbol = source["rules"], source["variable"]
    by, options = asked["by"], {name: asked[name] for name in ("reach", "quantile_definition", "suspects")}
    lines = [
        f"x = values(t, {symbol!r})",
        "named = np.zeros(x.size, dtype=bool)",
        "limits, scores, cutoffs, times_named = [], [], [], np.zeros(x.size, dtype=int)",
    ]
    lines += [f"labels, index = levels(t, {by!r})"] if by else []
    for rule in asked["rules"]:
        own = table.options_of(rule, options)
        flagged = (
            call("outliers.flag_within", "x", "index", repr(rule), **own)
            if by
            else call("outliers.flag", "x", repr(rule), **own)
        )
        lines += [
            f"flags = {flagged}", "named[flags.flagged] = True", "times_named[flags.flagged] += 1",
            "scores.append(flags.scores)", "cutoffs.append(flags.cutoff or 1)",
        ]  # fmt: skip
        if not by:
            lines.append(
                f"limits += [(float(end), {rule!r}) for end in (flags.low, flags.high) if end is not None and np.isfinite(end)]"
            )
    made = call(
        "shapes.ordered", "(shown + 1).astype(float)", "x[shown]", "shown + 1", "np.empty(0, dtype=int)", 'Axis("Row")',
        repr(scene.up.title), repr(scene.up.unit), facts(scene),
    )  # fmt: skip
    return [
        *lines,
        "flagged = np.flatnonzero(named)",
        "strength = np.max([np.nan_to_num(np.abs(s) / c) for s, c in zip(scores, cutoffs, strict=True)], axis=0, initial=0)",
        "first = flagged[np.lexsort((-strength[flagged], -times_named[flagged]))][:300]",
        f"known = np.flatnonzero(~np.isnan(x){' & (index >= 0)' if by else ''})",
        "shown = np.union1d(thinning.points(known, x[known]), flagged[:300])",
        f"scene = {made[:-1]}, limits=limits, beyond=np.flatnonzero(np.isin(shown, first)), joined=False)",
        'scene = replace(scene, numbers=tuple(number("rows named", flagged.size)))',
    ]
