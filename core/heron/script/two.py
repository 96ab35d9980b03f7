"""Code for panels of two variables, and of what rows do to a fit; `t` is the frame, and `scene` what it comes to."""

from heron.figure.scene import Scene
from heron.script.alone import Source, facts
from heron.script.code import call, indented
from heron.script.spec import TableSpec


def paired(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked = source["pair"]
    across = f"({scene.across.title!r}, {scene.across.unit!r})"
    up = f"({scene.up.title!r}, {scene.up.unit!r})"
    time = scene.across.kind == "time"
    factor = " / 86400" if time else ""
    lines = [f"x, numbers_of = values(t, {asked['x']!r}), t.index.to_numpy()"]
    if source["also"]:
        inner = [
            "y = values(t, symbol)", *_order(), f"curve_x = np.insert(x[order]{factor}, breaks, np.nan)",
            "clouds_of.append(clouds.Cloud(label, place, x[order]" + factor + ", y[order], numbers_of[order], np.empty(0)))",
        ]  # fmt: skip
        if source["joined"]:
            inner += [
                "curves.append(clouds.Curve(label, 'joined', curve_x, np.insert(y[order], breaks, np.nan), np.empty(0), np.empty(0)))"
            ]
        symbols = [asked["y"], *source["also"]]
        named = [(symbol, table.label(symbol)) for symbol in symbols]
        return [
            *lines, "clouds_of, curves = [], []", f"for place, (symbol, label) in enumerate({named!r}):", *indented(inner),
            f"scene = clouds.paired(clouds_of, curves, {across}, {up}, {facts(scene)}, time={time!r})",
        ]  # fmt: skip
    lines += [f"y = values(t, {asked['y']!r})", *_order()]
    lines += (
        [f"labels, group = levels(t, {asked['by']!r})", "labels = [typeset(label) for label in labels]"]
        if asked["by"]
        else ["labels, group = [], np.zeros(x.size, dtype=int)"]
    )
    size = "np.empty(0)"
    if source["size"]:
        lines += [f"sizes = values(t, {source['size']!r})[order]", "sizes = sizes / sizes.max()"]
        size = "sizes[of]"
    lines += [
        "clouds_of = []",
        'for place, label in enumerate(labels or [""]):',
        "    of = np.flatnonzero(group[order] == place) if labels else np.arange(order.size)",
        "    if of.size or not labels:",
        f"        clouds_of.append(clouds.Cloud(label, place, x[order][of]{factor}, y[order][of], numbers_of[order[of]], {size}))",
        "curves, numbers = [], []",
    ]
    if source["joined"]:
        lines += [
            f"curves.append(clouds.Curve('', 'joined', np.insert(x[order]{factor}, breaks, np.nan), "
            "np.insert(y[order], breaks, np.nan), np.empty(0), np.empty(0)))"
        ]
    if asked["lines"] and not time:
        lines += _fitted(source)
    logs = [s if asked["lines"] and s == "log10" else "linear" for s in (asked["x_scale"], asked["y_scale"])]
    lost = [f"np.count_nonzero({v}[order] <= 0)" for v, s in zip("xy", logs, strict=True) if s == "log10"]
    tiles = "None"
    if source["shown"] != "points":
        lines += _tiles(source["shown"], source["across"])
        tiles = "tiles"
    return [
        *lines,
        'numbers += number("pairs", known.size)',
        f"scene = clouds.paired(clouds_of, curves, {across}, {up}, {facts(scene)}, tiles={tiles},",
        f"                      series_title={scene.series_title!r}, scales={tuple(logs)!r}, time={time!r},",
        f"                      lost=int({' + '.join(lost) or 0}), numbers=numbers)",
    ]


def _order() -> list[str]:
    """order: the rows of the pairs as they are drawn, in the order of x; breaks: where a row without y lies between."""
    return [
        "known = np.flatnonzero(np.isfinite(x) & np.isfinite(y))",
        "order = known[np.argsort(x[known], kind='stable')]",
        "few = np.sort(thinning.points(known, y[known])) if known.size > thinning.MOST_POINTS else known",
        "thinned = few.size < order.size",
        "order = order[np.isin(order, few)]",
        "holes = np.sort(x[np.isfinite(x) & ~np.isfinite(y)])",
        "before = np.searchsorted(holes, x[order])",
        "breaks = np.flatnonzero(np.diff(before, prepend=before[:1]) > 0) if not thinned else np.empty(0, dtype=int)",
    ]


def _fitted(source: Source) -> list[str]:
    asked = source["pair"]
    inner = ["own = group == place if labels else np.ones(x.size, dtype=bool)", 'tail = f", {label}" if label else ""']
    none, before = "np.empty(0), np.empty(0)", ""
    if "least-squares" in asked["lines"]:
        scales = {"x_scale": asked["x_scale"], "y_scale": asked["y_scale"], "level": asked["level"]}
        band = "fit.low, fit.high" if source["bands"] else none
        inner += [
            f"fit = {call('attempt', 'relation.fit_line', 'x[own]', 'y[own]', **scales)}",
            "if fit is not None:",
            f"    curves.append(clouds.Curve(label, 'fit', fit.curve_x, fit.curve_y, {band}))",
        ]
        if asked["x_scale"] == asked["y_scale"] == "as-is":
            inner += [
                "    both = own & np.isfinite(x) & np.isfinite(y)",
                "    line = stats.linregress(x[both], y[both])",
                '    numbers += number(f"slope{tail}", line.slope) + number(f"intercept{tail}", line.intercept)',
                '    numbers += number(f"R\u00b2{tail}", line.rvalue**2 if np.ptp(y[both]) > 0 else fit.r_squared)',
            ]
        else:
            inner += [
                '    numbers += number(f"slope{tail}", fit.slope) + number(f"intercept{tail}", fit.intercept)',
                '    numbers += number(f"R\u00b2{tail}", fit.r_squared)',
            ]
        before = " if fit is not None else None"
    if "median" in asked["lines"]:
        inner += [
            f"median = attempt(relation.theil_sen, x[own], y[own], level={asked['level']!r}){before}",
            "if median is not None:",
            "    ends = np.array([x[known].min(), x[known].max()])",
            f"    curves.append(clouds.Curve(label, 'median line', ends, median.intercept + median.slope * ends, {none}))",
        ]
        before = " if median is not None else None"
    if "smooth" in asked["lines"]:
        inner += [
            f"smooth = attempt(relation.smooth, x[own], y[own], span={asked['span']!r}){before}",
            "if smooth is not None:",
            "    smooth = relation.thinned(smooth)",
            f"    curves.append(clouds.Curve(label, 'smooth', smooth.x, smooth.y, {none}))",
        ]
    return ['for place, label in enumerate(labels or [""]):', *indented(inner)]


def _tiles(shown: str, across: int) -> list[str]:
    if shown == "hexagons":
        return [
            f"many = cloud.hexagons(x, y, across={across!r}, aspect=1.0)",
            "wide, tall = many.radius_x, many.radius_y",
            "tiles = clouds.Tiles(many.x - wide, many.y - tall, many.x + wide, many.y + tall,",
            "                     many.counts.astype(float), 'Pairs in a hexagon', 'hexagons')",
        ]
    if shown == "density":
        return [
            "thick = cloud.pair_density(x, y, grid=90, shares=(0.5,), sparse=0)",
            "step_x, step_y = thick.x[1] - thick.x[0], thick.y[1] - thick.y[0]",
            "height = thick.density.ravel()",
            "at_x, at_y = np.tile(thick.x, thick.y.size), np.repeat(thick.y, thick.x.size)",
            "kept = height > height.max() * 0.004",
            "at_x, at_y, height = at_x[kept], at_y[kept], height[kept]",
            "tiles = clouds.Tiles(at_x - step_x / 2, at_y - step_y / 2, at_x + step_x / 2, at_y + step_y / 2, height, 'Density of pairs', counted=False)",
        ]
    return [
        "a, b, c, d = x[known].min(), x[known].max(), y[known].min(), y[known].max()",
        "many = cloud.window(x, y, x_from=a, x_to=b, y_from=c, y_to=d, columns=40, rows=30)",
        "step_x, step_y = (b - a) / 40, (d - c) / 30",
        "columns, lines = np.meshgrid(np.arange(40), np.arange(30))",
        "at_x, at_y = a + (columns.ravel() + 0.5) * step_x, c + (lines.ravel() + 0.5) * step_y",
        "tiles = clouds.Tiles(at_x - step_x / 2, at_y - step_y / 2, at_x + step_x / 2, at_y + step_y / 2,",
        "                     many.ravel().astype(float), 'Pairs in a cell')",
    ]


def distances(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    symbols = list(dict.fromkeys(source["distances"]["variables"]))
    return [
        f"found = outliers.distances({{symbol: values(t, symbol) for symbol in {symbols!r}}})",
        "known = np.flatnonzero(~np.isnan(found.robust))",
        "far = found.flagged[np.argsort(-found.robust[found.flagged])]",
        "shown = np.union1d(thinning.points(known, found.robust[known]), far[:300])",
        "beyond = (found.robust[shown] > found.cutoff).astype(float)",
        f"scene = clouds.examined(found.classical[shown], found.robust[shown], shown + 1, beyond, ({scene.across.title!r}, ''),",
        f"                        ({scene.up.title!r}, ''), {facts(scene)}, limits=[found.cutoff])",
    ]


def influence(source: Source, scene: Scene, table: TableSpec) -> list[str]:
    asked, view = source["influence"], source["view"]
    taken = []
    for symbol in asked["predictors"]:
        made = f"labels_for(t, {symbol!r})" if table.is_labels(symbol) else f"values(t, {symbol!r})"
        taken.append(f"    {table.raw_label(symbol)!r}: {made},")
    product = [tuple(table.raw_label(symbol) for symbol in asked["product"])] if asked["product"] else []
    lines = [
        f"y = values(t, {asked['response']!r})", "predictors = {", *taken, "}",
        f"found = influence.diagnose(y, predictors, interactions={product!r})",
        "cut, reach = found.cutoffs, found.cutoffs.external_all or np.inf",
        "p = found.coefficients.size",
        f"at = min({source['coefficient']!r}, p - 1)",
        "used = np.flatnonzero(~np.isnan(found.fitted))",
        "far = np.abs(found.external) > reach",
        "rows_at = np.arange(1, y.size + 1).astype(float)",
        "trend, words = None, ()",
    ]  # fmt: skip
    if view in ("residuals", "size"):
        lines += [
            "from statsmodels.nonparametric.smoothers_lowess import lowess",
            "trend_y = found.residuals[used]"
            if view == "residuals"
            else "trend_y = np.sqrt(np.abs(found.internal[used]))",
            "trend_x = found.fitted[used]",
            "kept = np.flatnonzero(~np.isnan(trend_x) & ~np.isnan(trend_y))",
            "by_x = kept[np.argsort(trend_x[kept], kind='stable')]",
            "by_x = by_x if by_x.size <= 2000 else by_x[np.linspace(0, by_x.size - 1, 2000).astype(int)]",
            "wide = np.ptp(trend_x[by_x]) if by_x.size > 7 else 0",
            "if wide > 0:",
            "    smooth = lowess(trend_y[by_x], trend_x[by_x], frac=2 / 3, it=3, delta=0.01 * wide)",
            "    trend = (smooth[:, 0], smooth[:, 1])",
        ]
    lines += {
        "residuals": ["a, b, limits, beyond = found.fitted, found.residuals, [0.0], far"],
        "size": ["a, b, limits, beyond = found.fitted, np.sqrt(np.abs(found.external)), [], far"],
        "qq": [
            "b, limits, beyond = found.external, [], far",
            "a = np.full(y.size, np.nan)",
            "known = np.flatnonzero(np.isfinite(b))",
            "a[known] = stats.norm.ppf((stats.rankdata(b[known], method='ordinal') - 0.375) / (known.size + 0.25))",
        ],
        "dfbetas": [
            "a, b = rows_at, found.dfbetas[:, at]",
            "limits, beyond = [-cut.dfbetas, cut.dfbetas], np.abs(b) > cut.dfbetas",
        ],
        "partial": [
            f"made = influence.design_of(y, predictors, interactions={product!r})",
            "part = influence.partial(made, max(at, 1))",
            "a, b, limits, beyond = part.x, part.y, [], far",
        ],
        "order": [
            f"a, b = rows_at, found.{source['row_measure']}",
            "limits = "
            + {
                "cooks": "[cut.cooks]", "leverage": "[cut.high_leverage]", "external": "[-reach, reach]",
                "dffits": "[-cut.dffits, cut.dffits]", "covratio": "[1 - cut.covratio, 1 + cut.covratio]",
            }[source["row_measure"]],
            "beyond = (b > limits[-1]) | ((b < limits[0]) if len(limits) > 1 else False)",
        ],
    }.get(view, [
        "a, b, limits = found.leverage, found.external, [-reach, reach]",
        "beyond = far | (found.leverage > cut.high_leverage) | (found.cooks > cut.cooks)",
    ])  # fmt: skip
    across, up = (f"({axis.title!r}, {axis.unit!r})" for axis in (scene.across, scene.up))
    return [
        *lines,
        *_shown(),
        f"scene = clouds.examined(a[shown], b[shown], shown + 1, np.asarray(beyond[shown], dtype=float), {across}, {up},",
        f"                        {facts(scene)}, limits=limits, trend=trend)",
        f'scene = replace(scene, numbers=tuple(number("R\u00b2", found.r_squared) + number("residual SD", found.sigma, {table.unit(asked["response"])!r})))',
    ]


def _shown() -> list[str]:
    """Which rows are drawn: all, or of very many a sample with those that weigh most."""
    return [
        "shown = used",
        "if used.size > thinning.MOST_POINTS:",
        "    past = (found.leverage > cut.high_leverage) | far | (found.cooks > cut.cooks) | (np.abs(found.dffits) > cut.dffits)",
        "    by_weight = np.argsort(-np.nan_to_num(found.cooks, nan=-1), kind='stable')",
        "    by_weight = by_weight[~np.isnan(found.fitted[by_weight])]",
        "    first = by_weight[np.argsort(~past[by_weight], kind='stable')][:60]",
        "    shown = np.union1d(thinning.points(used, np.nan_to_num(found.external[used])), first)",
    ]
