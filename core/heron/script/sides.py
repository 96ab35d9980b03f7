"""Code for panels of groups, of shares, of results and of differences; `t` is the frame, and `scene` what it comes to."""

from heron.differences import EFFECTS
from heron.figure.scene import Scene
from heron.script.alone import Source, facts
from heron.script.code import call, comment, indented
from heron.script.spec import TableSpec

CENTRES = {"mean": "np.mean(known)", "median": "np.median(known)"}
_CENTRE_WORDS = {"mean": "mean", "median": "median", "geometric-mean": "geometric mean", "share": "share"}


def bars_in_sight(asked: Source) -> str | None:
    """The ends of a bar by calls of numpy and scipy, where these are what it is; None for the core's."""
    if asked["units"] or asked["center"] not in CENTRES:
        return None
    spans = {
        "quartile-span": "np.quantile(known, [0.25, 0.75])",
        "range": "np.min(known), np.max(known)",
        "percentiles": f"np.quantile(known, [{asked['low_percent'] / 100!r}, {asked['high_percent'] / 100!r}])",
    }
    if asked["bars"] in spans:
        return spans[asked["bars"]]
    if asked["center"] != "mean":
        return None
    return {
        "sd": "centre - np.std(known, ddof=1), centre + np.std(known, ddof=1)",
        "se": "centre - stats.sem(known), centre + stats.sem(known)",
        "mean-interval": f"stats.t.interval({asked['level']!r}, known.size - 1, centre, stats.sem(known))",
    }.get(asked["bars"])


def compared(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, drawn, symbol = source["groups"], source["drawn"], source["variable"]
    low, high = table.bounds(symbol)
    second, log = asked["second"], asked["log"]
    lines = [f"x, numbers_of = values(t, {symbol!r}), t.index.to_numpy()"]
    lines += [f"labels, first, stands = groups_of(t, {asked['by']!r})"]
    lines += (
        [f"others, other, _ = groups_of(t, {second!r})"]
        if second
        else ['others, other = [""], np.zeros(x.size, dtype=int)']
    )
    lines += [
        "joined = np.where((first < 0) | (other < 0), -1, first * len(others) + other)",
        "here = np.flatnonzero(np.bincount(joined[joined >= 0], minlength=len(labels) * len(others)))",
        "group = np.full(len(labels) * len(others) + 1, -1)",
        "group[here] = np.arange(here.size)",
        "group = group[joined]  # of each row, -1 for none",
    ]
    ends = bars_in_sight(asked)
    if ends is None:
        settings = {"center": asked["center"], "bars": asked["bars"], "level": asked["level"], "trim": asked["trim"]}
        unit = ""
        if asked["units"] and table.unit_variable:
            lines += comment(f"n counts each {table.unit_variable}: its rows are averaged first.")
            unit = f", unit=levels(t, {table.unit_variable!r})[1]"
        made = call(
            "groups.summarize", "x", "group", **settings, percents=(asked["low_percent"], asked["high_percent"])
        )
        lines += [f"found = {made[:-1]}{unit}, order=[str(each) for each in here]).groups"]
    lines += [
        "known_at = np.flatnonzero(~np.isnan(x) & (group >= 0))",
        "sent = np.zeros(x.size, dtype=bool)",
        "sent[thinning.points(known_at, x[known_at])] = True",
    ]
    inner = ["rows_of = np.flatnonzero((group == i) & ~np.isnan(x))", "known = x[rows_of]"]
    if ends is None:
        inner += ["centre, low, high, n = found[i].center, found[i].low, found[i].high, found[i].n"]
    else:
        inner += [
            f"n, centre = known.size, {CENTRES[asked['center']]} if known.size else None",
            f"low, high = ({ends}) if known.size > 1 else ({'centre, centre' if asked['bars'] in ('range', 'percentiles', 'quartile-span') else 'None, None'})",
        ]
    inner += ["low = None if low is not None and low <= 0 else low"] if log else []
    inner += ["shown = known[known > 0]"] if log else ["shown = known"]
    values = "np.log10(shown)" if log else "shown"
    settings = {} if log else {"lower": low, "upper": high}
    curve = call("attempt", "density.estimate", values, points=120, **settings)
    inner += [
        "curve_x = heights = np.empty(0)",
        f"curve = {curve}",
        "if curve is not None:",
        f"    curve_x, heights = {'10**curve.x' if log else 'curve.x'}, curve.density",
        "    inside = (curve_x >= known.min()) & (curve_x <= known.max())",
        "    curve_x, heights = curve_x[inside], heights[inside]",
        f"drawn_at = np.flatnonzero(sent & (group == i){' & (x > 0)' if log else ''})",
        "place, kind = divmod(int(g), len(others))",
        "parts.append(sides.Part(typeset(labels[place]), place, kind, stands[place], n, centre, low, high,",
        "                        groups.with_rows(groups.box(known).groups[0], numbers_of[rows_of]), curve_x, heights, x[drawn_at], numbers_of[drawn_at]))",
    ]
    lines += ["parts = []", "for i, g in enumerate(here):", *indented(inner), *_order(drawn)]
    name = _CENTRE_WORDS.get(asked["center"]) or f"{100 * asked['trim']:g} % trimmed mean"
    unit = table.unit(symbol)
    lines += [
        "numbers = []", "for i in shown:",
        '    name = f"{parts[i].label} {typeset(others[parts[i].second])}".strip()',
        f'    numbers += number(f"{name}, {{name}}", parts[i].center, {unit!r}) + number(f"n, {{name}}", parts[i].n)',
        f'    numbers += number(f"lower end, {{name}}", parts[i].low, {unit!r}) + number(f"upper end, {{name}}", parts[i].high, {unit!r})',
    ]  # fmt: skip
    pairs, fitted = "None", "()"
    if asked["pair"]:
        lines += [
            f"paired = groups.paired(x, group, levels(t, {asked['pair']!r})[1], here.size)",
            "joined_values = paired.values[:1000][:, shown]",
        ]
        pairs = "joined_values"
    if asked["line"] != "none":
        lines += _lines(asked, log=log)
        fitted = "fitted"
    settings_drawn = [
        drawn[each] for each in ("marks", "points", "jitter", "violin", "side", "caps", "on_numbers", "upright")
    ]
    by_axis = scene.across if drawn["upright"] else scene.up
    up_axis = scene.up if drawn["upright"] else scene.across
    seconds = f"({scene.series_title!r}, [typeset(each) for each in others])" if second else '("", ())'
    lost = " + ".join(["sum(int(np.count_nonzero(x[group == i] <= 0)) for i in shown)"]) if log else "0"
    return [
        *lines,
        f"how = sides.Drawn({', '.join(map(repr, settings_drawn))})",
        f"scene = sides.compared([parts[i] for i in shown], ({by_axis.title!r}, {by_axis.unit!r}), {up_axis.title!r}, {unit!r},",
        f"                       {facts(scene)}, how, seconds={seconds}, pairs={pairs}, lines={fitted},",
        f"                       scale={'log10' if log else 'linear'!r}, lost={lost}, numbers=numbers)",
    ]


def _order(drawn: Source) -> list[str]:
    """In which order groups stand, and which."""
    lines = ["order = sorted({part.place for part in parts})"]
    if drawn["order"] == "centre":
        lines += [
            "centre_of = {p: np.mean([-np.inf if q.center is None else q.center for q in parts if q.place == p]) for p in order}",
            "order.sort(key=centre_of.get)",
        ]
    elif drawn["order"] == "n":
        lines += ["order.sort(key=lambda place: -sum(part.n for part in parts if part.place == place))"]
    elif drawn["order"] == "hand":
        lines += [
            f"by_hand = {list(drawn['hand'])!r}",
            "order.sort(key=lambda place: by_hand.index(place) if place in by_hand else len(by_hand) + place)",
        ]
    if drawn["hidden"]:
        lines += [f"order = [place for place in order if place not in {list(drawn['hidden'])!r}] or order"]
    return [*lines, "shown = [i for place in order for i, part in enumerate(parts) if part.place == place]"]


def _lines(asked: Source, *, log: bool) -> list[str]:
    through = (
        ["    at = np.flatnonzero(np.isin(group, own))", "    across, up = np.array(stands, dtype=float)[[parts[i].place for i in group[at]]], x[at]"]
        if asked["line"] == "rows"
        else ["    across = np.array([stands[parts[i].place] for i in own], dtype=float)",
              "    up = np.array([np.nan if parts[i].center is None else parts[i].center for i in own])"]
    )  # fmt: skip
    logs = ["    up = np.log10(up, where=up > 0, out=np.full(up.size, np.nan))"] if log else []
    return [
        "fitted = []",
        "for kind in sorted({part.second for part in parts}) if None not in stands else ():",
        "    own = [i for i, part in enumerate(parts) if part.second == kind]",
        *through,
        *logs,
        "    known = ~np.isnan(across) & ~np.isnan(up)",
        "    if np.unique(across[known]).size > 1:",
        "        line = stats.linregress(across[known], up[known])",
        "        fitted.append((kind, line.intercept, line.slope))",
    ]


def shares(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, symbol = source["shares"], source["variable"]
    chosen = list(asked["chosen"]) or [-1]
    lines = [
        f"answers, given = levels(t, {symbol!r})", f"labels, index = levels(t, {asked['by']!r})",
        "counts = [np.bincount(given[(index == i) & (given >= 0)], minlength=len(answers)) for i in range(len(labels))]",
    ]  # fmt: skip
    names = "[typeset(label) for label in labels]"
    by = scene.up.title if source["stacked"] else scene.across.title
    if source["stacked"]:
        neutral = asked["neutral"]
        return [
            *lines,
            f"middle = {neutral!r} if {neutral!r} < len(answers) else None" if neutral is not None else "middle = None",
            "edges = [100 * np.array(groups.balance(each, middle)) for each in counts]",
            f"scene = sides.stacked({names}, [int(each.sum()) for each in counts], edges, [typeset(a) for a in answers],",
            f"                      {by!r}, {facts(scene)}, about={neutral is not None!r})",
        ]
    return [
        *lines,
        "told, numbers = [], []",
        "for label, each in zip(labels, counts, strict=True):",
        "    n = int(each.sum())",
        f"    k = int(each[{chosen!r}].sum())",
        "    if not n:",
        "        told.append((None, None, None))",
        "        continue",
        f'    wilson = stats.binomtest(k, n).proportion_ci({asked["level"]!r}, method="wilson")',
        "    told.append((k / n, wilson.low, wilson.high))",
        '    numbers += number(f"share, {typeset(label)}", 100 * k / n, "%")',
        f"scene = sides.shares({names}, [int(each.sum()) for each in counts], told, {scene.up.title!r}, {by!r}, {facts(scene)}, numbers)",
    ]


def results(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked = source["estimates"]
    lines = [f"centres = [values(t, symbol) for symbol in {list(asked['of'])!r}]"]
    lines += [f"widths = [values(t, symbol) for symbol in {list(asked['widths'])!r}]"]
    names = [table.label(symbol) for symbol in asked["of"]]
    if asked["widths"] and not (len(asked["of"]) == 1 and len(asked["widths"]) == 1):
        others = [table.label(symbol) for symbol in asked["widths"]]
        lines += [
            f"labels = {names!r}",
            f"matched = estimates.match(labels, {others!r})",
            "pairs = [*matched.pairs, *((i, None) for i in matched.alone)]",
            "names = [*matched.names, *(labels[i] for i in matched.alone)]",
        ]
    else:
        lines += [f"names = {names!r}", f"pairs = [(i, {0 if asked['widths'] else None}) for i in range(len(centres))]"]
    label = f"[written(column(t, {asked['label']!r}), i) for i in range(len(t))]" if asked["label"] else '[""] * len(t)'
    lines += [f"called = {label}"]
    lines += [f"weights = values(t, {asked['weight']!r})"] if asked["weight"] else ["weights = np.full(len(t), np.nan)"]
    limits = list(asked["limits"])
    made = (
        f"estimates.with_limits(centres[i], values(t, {limits[0]!r}), values(t, {limits[1]!r}))"
        if limits
        else "estimates.with_width(centres[i], widths[j]) if j is not None else "
        "estimates.with_limits(centres[i], np.full(len(t), np.nan), np.full(len(t), np.nan))"
    )
    return [
        *lines,
        "rows_drawn = []",
        "for name, (i, j) in zip(names, pairs, strict=True):",
        f"    found = {made}",
        "    for place in np.flatnonzero(~np.isnan(found.estimate)):",
        "        low, high, weight = (None if np.isnan(v[place]) else float(v[place]) for v in (found.low, found.high, weights))",
        '        rows_drawn.append(sides.Estimate(typeset(called[place]) or f"row {place + 1}", float(found.estimate[place]), low, high,',
        f'                                         place + 1 in {list(source["combined"])!r}, name if len(pairs) > 1 else "", weight))',
        f"scene = sides.estimates(rows_drawn, {scene.across.title!r}, {scene.across.unit!r}, {facts(scene)}, none={source['none']!r})",
    ]


def differences(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, symbol = source["differences"], source["variable"]
    effect = EFFECTS[asked["measure"]].__name__
    lines = [f"x = values(t, {symbol!r})", f"labels, index, _ = groups_of(t, {asked['by']!r})"]
    if asked["units"] and table.unit_variable:
        lines += [
            f"unit = levels(t, {table.unit_variable!r})[1]",
            "known = (index >= 0) & (unit >= 0) & ~np.isnan(x)",
            "means = pd.Series(x[known]).groupby([unit[known], index[known]]).mean()",
            "x, index = means.to_numpy(), np.array([group for _, group in means.index])",
        ]
    lines += [
        "parts = {label: x[(index == i) & ~np.isnan(x)] for i, label in enumerate(labels)}",
        "parts = {label: own for label, own in parts.items() if own.size > 1}",
        call("whole = differences.compare_groups", "parts", level=asked["level"], reference=asked["reference"] or None),
        "drawn = []",
    ]
    together = asked["measure"] == "mean" and asked["together"] and not asked["pair"]
    between = " : " if asked["measure"] == "ratio" else " \u2212 "
    add = 'drawn.append(sides.Estimate(f"{typeset(each.first)}' + between + '{typeset(each.second)}", '
    if together:
        lines += ["for each in whole.pairs:", f"    {add}each.difference, each.low, each.high))"]
    elif asked["pair"]:
        lines += [
            f"unit = levels(t, {asked['pair']!r})[1]",
            f"paired = groups.paired(values(t, {symbol!r}), groups_of(t, {asked['by']!r})[1], unit, len(labels)).values",
            "for each in whole.pairs:",
            "    a, b = (paired[:, labels.index(label)] for label in (each.first, each.second))",
            f"    found = attempt(differences.{effect}, a, b, level={asked['level']!r}, paired=True)",
            "    if found is not None:",
            f"        {add}found.estimate, found.low, found.high))",
        ]
    else:
        lines += [
            "for each in whole.pairs:",
            f"    found = attempt(differences.{effect}, parts[each.first], parts[each.second], level={asked['level']!r})",
            "    if found is not None:",
            f"        {add}found.estimate, found.low, found.high))",
        ]
    none = 1.0 if asked["measure"] == "ratio" else 0.0
    return [
        *lines,
        f"scene = sides.estimates(drawn, {scene.across.title!r}, {scene.across.unit!r}, {facts(scene)}, none={none!r})",
        "welch = attempt(stats.f_oneway, *parts.values(), equal_var=False)",
        "ranks = attempt(stats.kruskal, *parts.values())",
        "more = []",
        'for name, test in (("Welch\'s test", welch), ("Kruskal and Wallis\' test", ranks)):',
        "    if test is not None:",
        '        more += number(f"statistic of {name}", test.statistic) + number(f"p of {name}", test.pvalue)',
        "scene = replace(scene, numbers=(*scene.numbers, *more))",
    ]
