"""Code that recomputes the numbers of a panel in plain numpy, scipy and pandas, of `table`, into `numbers` by name."""

from collections.abc import Callable, Sequence
from typing import Any

from heron import differences, groups
from heron.figure.source import (
    AgreementSource,
    ControlSource,
    CountsSource,
    DifferencesSource,
    EstimatesSource,
    GroupsSource,
    InfluenceSource,
    PairSource,
    QuantilesSource,
    ShapeSource,
    SharesSource,
    Source,
)
from heron.formatting import typeset
from heron.ledger import TableView
from heron.quantiles import QUANTILE_DEFINITIONS
from heron.relation import SCALES
from heron.script.code import call, indented

_MOST_FOR_SHAPIRO = 5_000


def code(source: Source, table: TableView) -> list[str]:
    """The lines for a source of a table; none where nothing of it is a number."""
    maker = _MAKERS.get(source.kind)
    return maker(source, table) if maker else []


def _frame(*symbols: str) -> str:
    return call("t = frame", "table", *(repr(symbol) for symbol in dict.fromkeys(symbols) if symbol))


def _split(by: Sequence[str], of: str) -> str:
    """A loop over groups with their values."""
    return f"for group, known in t.groupby({list(by)!r}, observed=True)[{of!r}]:"


def _shape(source: ShapeSource, table: TableView) -> list[str]:
    symbol = _symbol(source)
    head = [f"{_frame(symbol, source.by)}.dropna()"]
    loop = (
        [_split([source.by], symbol), '    of = f", {called(group)}"']
        if source.by
        else [f"for known in [t[{symbol!r}]]:", '    of = ""']
    )
    inner = [
        'numbers |= {f"mean{of}": np.mean(known), f"SD{of}": np.std(known, ddof=1), f"n{of}": known.size}',
        'numbers |= {f"minimum{of}": known.min(), f"maximum{of}": known.max(), f"SE of the mean{of}": stats.sem(known)}',
        f"low, high = stats.t.interval({source.level!r}, known.size - 1, np.mean(known), stats.sem(known))",
        'numbers |= {f"lower limit of the mean{of}": low, f"upper limit of the mean{of}": high}',
        'numbers |= {f"range{of}": np.ptp(known), f"sum{of}": np.sum(known), f"variance{of}": np.var(known, ddof=1)}',
        'numbers |= {f"MAD, scaled{of}": stats.median_abs_deviation(known, scale="normal")}',
        'numbers |= {f"CV{of}": np.std(known, ddof=1) / np.mean(known), f"trimmed mean{of}": stats.trim_mean(known, 0.1)}',
        f"ends = stats.chi2.ppf([{(1 + source.level) / 2!r}, {(1 - source.level) / 2!r}], known.size - 1)",
        "low, high = (known.size - 1) * np.var(known, ddof=1) / ends",
        'numbers |= {f"lower limit of the SD{of}": np.sqrt(low), f"upper limit of the SD{of}": np.sqrt(high)}',
        'numbers |= {f"skewness{of}": stats.skew(known, bias=False), f"excess kurtosis{of}": stats.kurtosis(known, bias=False)}',
    ]
    method = QUANTILE_DEFINITIONS[str(source.quantile_definition)].method
    if method:
        inner += [
            f"q1, median, q3 = np.quantile(known, [0.25, 0.5, 0.75], method={method!r})",
            'numbers |= {f"first quartile{of}": q1, f"median{of}": np.median(known), f"third quartile{of}": q3}',
            'numbers |= {f"IQR{of}": q3 - q1}',
            "ends = q1 - 1.5 * (q3 - q1), q3 + 1.5 * (q3 - q1)",
            'numbers |= {f"lower fence{of}": ends[0], f"upper fence{of}": ends[1]}',
        ]
    return [*head, *loop, *indented(inner)]


def _symbol(source: Any) -> str:
    return "tried" if source.as_if else str(source.variable)


def _groups(source: GroupsSource, table: TableView) -> list[str]:
    symbol, by = _symbol(source), [source.by, *([source.second] if source.second else [])]
    unit = str(table.state.description("").get("unit_variable") or "") if source.units else ""
    lines = [f"{_frame(symbol, *by, unit)}.dropna()"]
    if unit:
        lines.append(
            f"t = t.groupby({[*by, unit]!r}, observed=True)[{symbol!r}].mean().reset_index()  # n counts units"
        )
    inner = ['numbers[f"n, {called(group)}"] = known.size']
    centre = groups.CENTRES[source.centre]
    if centre.code:
        inner.append(f'numbers[f"{centre.label}, {{called(group)}}"] = {centre.code}')
    ends = _ends(source)
    if ends:
        inner.append(
            f'numbers[f"lower end, {{called(group)}}"], numbers[f"upper end, {{called(group)}}"] = {ends}',
        )
    return [*lines, _split(by, symbol), *indented(inner), *([] if unit else _intraclass(table, symbol, by))]


def _intraclass(table: TableView, symbol: str, by: Sequence[str]) -> list[str]:
    """How much rows of one unit resemble each other, by restricted likelihood."""
    unit = str(table.state.description("").get("unit_variable") or "")
    if not unit or unit in (symbol, *by):
        return []
    return [
        f"{_frame(symbol, *by, unit)}.dropna()",
        f"units, k = pd.factorize(t[{unit!r}])[0], t.groupby({list(by)!r}, observed=True).ngroup().to_numpy()",
        f"both = np.column_stack([np.eye(k.max() + 1)[k], t[{symbol!r}]])",
        "sizes, sums = np.bincount(units), np.array([np.bincount(units, own) for own in both.T])",
        "",
        "",
        "def lack(share):  # of likelihood, where so much of the variance lies between units",
        "    odds = share / (1 - share)",
        "    inner = both.T @ both - sums * (odds / (1 + odds * sizes)) @ sums.T",
        "    left = inner[-1, -1] - inner[-1, :-1] @ np.linalg.solve(inner[:-1, :-1], inner[:-1, -1])",
        "    rest = np.linalg.slogdet(inner[:-1, :-1])[1] + np.log(1 + odds * sizes).sum()",
        "    return (len(both) - both.shape[1] + 1) * np.log(left) + rest",
        "",
        "",
        "best = optimize.minimize_scalar(lack, bounds=(0, 1 - 1e-9), method='bounded', options={'xatol': 1e-11})",
        "numbers['intraclass correlation'] = best.x if best.fun < lack(0) else 0.0",
    ]


def _ends(source: GroupsSource) -> str:
    """The ends of a bar; "" where no short call of a library is what it is."""
    code = groups.BARS[source.bars].code or {}
    settings = {"level": source.level, "low_percent": source.low_percent, "high_percent": source.high_percent}
    return code.get(source.centre, code.get("", "")).format_map(settings)


def _shares(source: SharesSource, table: TableView) -> list[str]:
    symbol = _symbol(source)
    lines = [f"{_frame(symbol, source.by)}.dropna()"]
    if not source.stacked:
        chosen = f"list({list(source.chosen)!r})" if source.chosen else "[-1]"
        lines += [
            f"answers = levels(t[{symbol!r}])[{chosen}]",
            f"for group, given in t.groupby({[source.by]!r}, observed=True)[{symbol!r}]:",
            '    numbers[f"share, {called(group)}"] = 100 * given.isin(answers).mean()',
        ]
    return [
        *lines,
        f"counts = pd.crosstab(t[{source.by!r}].astype(str), t[{symbol!r}].astype(str))",
        "if min(counts.shape) > 1:",
        "    test = stats.chi2_contingency(counts, correction=False)",
        '    numbers |= {"chi-square": test.statistic, "p of chi-square": test.pvalue}',
        '    numbers["Cramér\'s V"] = np.sqrt(test.statistic / counts.to_numpy().sum() / (min(counts.shape) - 1))',
    ]


def _estimates(source: EstimatesSource, table: TableView) -> list[str]:
    if len(source.of) > 1 or not source.label:
        return []
    of = source.of[0]
    return [
        _frame(of, source.label),
        f"numbers |= {{called([name]): value for value, name in t[[{of!r}, {source.label!r}]].dropna().to_numpy()}}",
    ]


def _differences(source: DifferencesSource, table: TableView) -> list[str]:
    symbol = _symbol(source)
    unit = str(table.state.description("").get("unit_variable") or "") if source.units else ""
    effect = differences.EFFECTS[source.measure]
    if source.pair or not effect.code:
        return []
    lines = [f"{_frame(symbol, source.by, unit)}.dropna()"]
    if unit:
        lines.append(
            f"t = t.groupby({[source.by, unit]!r}, observed=True)[{symbol!r}].mean().reset_index()  # n counts units"
        )
    between = " : " if effect.factor else " \u2212 "
    return [
        *lines,
        f"known = {{called(group): own for group, own in t.groupby({[source.by]!r}, observed=True)[{symbol!r}] if "
        f"own.size > 1}}",
        "for first, a in known.items():",
        "    for second, b in known.items():",
        f'        numbers[f"{{first}}{between}{{second}}"] = {effect.code.format(trim=source.trim)}',
        "if len(known) > 1:",
        "    ranks = stats.kruskal(*known.values())",
        '    numbers |= {"statistic of Kruskal and Wallis\' test": ranks.statistic, "p of Kruskal and Wallis\' test": ranks.pvalue}',
    ]


def _pair(source: PairSource, table: TableView) -> list[str]:
    if source.also or source.plot == "residuals":
        return []
    by = [source.by] if source.by and source.each else []
    lines = [
        f"{_frame(source.x, source.y)}.dropna()",
        "numbers['pairs'] = len(t)",
    ]
    if "least-squares" not in source.lines or table.variable(source.x).kind == "date-time":
        return lines
    x, y = (
        SCALES[scale].code.format(f"own[{symbol!r}]")
        for scale, symbol in ((source.x_scale, source.x), (source.y_scale, source.y))
    )
    inner = [
        f"x, y = {x}, {y}",
        "kept = np.isfinite(x) & np.isfinite(y)",
        "if x[kept].nunique() > 1:",
        "    line = stats.linregress(x[kept], y[kept])",
        "    off, left = x[kept] - x[kept].mean(), y[kept] - line.intercept - line.slope * x[kept]",
        "    leverage = 1 / len(off) + off**2 / (off @ off)",
        "    if len(off) > 2 and leverage.max() < 1 - 1e-12:",
        "        robust = np.sqrt(((off * left / (1 - leverage)) ** 2).sum()) / (off @ off)",
        f"        reach = stats.t.ppf({(1 + source.level) / 2!r}, len(off) - 2) * robust",
        '        numbers |= {f"lower limit of the slope by HC3{of}": line.slope - reach}',
        '        numbers |= {f"upper limit of the slope by HC3{of}": line.slope + reach}',
        '    numbers |= {f"slope{of}": line.slope, f"intercept{of}": line.intercept, f"R\u00b2{of}": line.rvalue**2}',
    ]
    loop = (
        [f"{_frame(source.x, source.y, *by)}.dropna()", f"for group, own in t.groupby({by!r}, observed=True):"]
        if by
        else ["for group, own in [((), t)]:"]
    )
    return [*lines, *loop, '    of = f", {called(group)}" if group else ""', *indented(inner)]


def _quantiles(source: QuantilesSource, table: TableView) -> list[str]:
    symbol = _symbol(source)
    if source.family != "normal":
        return []
    lines = [f"{_frame(symbol, source.by)}.dropna()", f"known = t[{symbol!r}]"]
    if source.by:
        lines.append(f"known = known - t.groupby({source.by!r}, observed=True)[{symbol!r}].transform('mean')")
    return [
        *lines,
        f"if 3 <= known.size <= {_MOST_FOR_SHAPIRO} and known.nunique() > 1:",
        '    numbers |= dict(zip(["Shapiro and Wilk\'s W", "p of W"], stats.shapiro(known), strict=True))',
    ]


def _counts(source: CountsSource, table: TableView) -> list[str]:
    symbol = _symbol(source)
    share = ", normalize=True) * 100" if source.measure == "percents" else ")"
    name = "f'{value:g}' if isinstance(value, float) else str(value)"
    return [
        _frame(symbol),
        f"numbers |= {{{name}: n for value, n in (t[{symbol!r}].value_counts(sort=False{share}).items()}}",
    ]


def _influence(source: InfluenceSource, table: TableView) -> list[str]:
    return [
        f"{_frame(source.response, *source.predictors)}.dropna()",
        "columns = {'': [np.ones(len(t))]}",
        f"for name in {list(dict.fromkeys(source.predictors))!r}:",
        "    labelled = isinstance(t[name].dtype, pd.CategoricalDtype)",
        "    made = pd.get_dummies(t[name].cat.remove_unused_categories(), drop_first=True) if labelled else t[[name]]",
        "    columns[name] = list(made.to_numpy(dtype=float).T)",
        *(
            [
                f"first, second = (columns[name] for name in {list(source.product)!r})",
                "columns['both'] = [a * b for a in first for b in second]",
            ]
            if source.product
            else []
        ),
        "design = np.column_stack([column for made in columns.values() for column in made])",
        f"y = t[{source.response!r}].to_numpy()",
        "residuals = y - design @ np.linalg.lstsq(design, y, rcond=None)[0]",
        "numbers['R\u00b2'] = 1 - residuals @ residuals / ((y - y.mean()) @ (y - y.mean()))",
        "numbers['residual SD'] = np.sqrt(residuals @ residuals / (len(y) - design.shape[1]))",
        "toward = np.linalg.pinv(design)",
        "apart = residuals / (1 - np.einsum('ij,ji->i', design, toward))",
        "names = [name for name, made in columns.items() for _ in made]",
        f"for symbol, label in {_labels(source, table)!r}.items():",
        "    at = names.index(symbol)",
        "    rest = np.delete(design, at, axis=1)",
        "    own, other = (v - rest @ np.linalg.lstsq(rest, v, rcond=None)[0] for v in (y, design[:, at]))",
        '    numbers[f"standard error by HC3, {label}"] = np.sqrt(((toward[at] * apart) ** 2).sum())',
        '    numbers[f"partial correlation, {label}"] = own @ other / np.sqrt(own @ own * (other @ other))',
        '    numbers[f"variance inflation, {label}"] = design[:, at].var() * len(y) / (other @ other)',
    ]


def _labels(source: InfluenceSource, table: TableView) -> dict[str, str]:
    """The labels of predictors that are one column each, by their symbols."""
    variables = {symbol: table.variable(symbol) for symbol in source.predictors}
    return {
        symbol: typeset(variable.label)
        for symbol, variable in variables.items()
        if variable.described.numbers is not None
    }


def _agreement(source: AgreementSource, table: TableView) -> list[str]:
    logs = source.scale == "log"
    lines = [f"{_frame(source.x, source.y)}.dropna()"]
    if logs:
        lines.append("t = np.log(t[(t > 0).all(axis=1)])")
    carried = "np.exp({})" if logs else "{}"
    ends = ("off.mean()", "off.mean() - 1.959963984540054 * off.std()", "off.mean() + 1.959963984540054 * off.std()")
    bias, low, high = (carried.format(end) for end in ends)
    limits = f'"lower limit of agreement": {low}, "upper limit of agreement": {high}'
    return [
        *lines,
        f"off = t[{source.y!r}] - t[{source.x!r}]",
        f'numbers |= {{"pairs": len(off), "bias": {bias}}}',
        "if off.nunique() > 1:",
        f"    numbers |= {{{limits}}}",
    ]


def _control(source: ControlSource, table: TableView) -> list[str]:
    symbol, subgroup = _symbol(source), "" if source.chart == "individuals" else source.subgroup
    lines = [f"{_frame(*dict.fromkeys(filter(None, (symbol, source.along, subgroup))))}"]
    if source.along:
        lines.append(f"t = t.dropna(subset=[{source.along!r}]).sort_values({source.along!r}, kind='stable')")
    lines.append("t = t.dropna()")
    if not subgroup:
        first = f"known = t[{symbol!r}]" + (f"[:{source.baseline}]" if source.baseline else "")
        within = "known.diff().abs().mean() / 2 * np.sqrt(np.pi)"
        told = f'numbers |= {{"centre": known.mean(), "SD within": {within}}}'
        return [*lines, first, told, *_capability(source, table, f"t[{symbol!r}]")]
    lines += [
        f"lots = t.groupby({subgroup!r}, sort=False, observed=True)[{symbol!r}]",
        "kept = lots.ngroup()" + (f" < {source.baseline}" if source.baseline else " >= 0"),
        f"lots = t[kept].groupby({subgroup!r}, sort=False, observed=True)[{symbol!r}]",
        "sizes = lots.size()[lots.size() > 1]",
    ]
    if source.chart == "sd":
        lines += [
            "c4 = stats.chi.mean(sizes - 1) / np.sqrt(sizes - 1)",
            "within = (lots.std()[sizes.index] / c4).mean()",
        ]
    else:
        lines += [
            "steps = np.linspace(-8, 8, 4001)  # of standard normal values, whose mean range is this integral",
            "tails = [1 - stats.norm.cdf(steps) ** n - stats.norm.sf(steps) ** n for n in sizes]",
            "spans = (lots.max() - lots.min())[sizes.index]",
            "within = (spans / np.trapezoid(tails, steps)).mean()",
        ]
    return [
        *lines,
        f'numbers |= {{"centre": t[kept][{symbol!r}].mean(), "SD within": within}}',
        *_capability(source, table, f"t[{symbol!r}]"),
    ]


def _capability(source: ControlSource, table: TableView, of: str) -> list[str]:
    """Capability from the spread of all values, where a specification limit is declared."""
    said = table.variable(source.variable).properties
    low, high = said.get("spec_lower"), said.get("spec_upper")
    if source.plot != "centres" or source.as_if or (low is None and high is None):
        return []
    sides = [
        *([f"{high!r} - own.mean()"] if high is not None else []),
        *([f"own.mean() - {low!r}"] if low is not None else []),
    ]
    least = f"min({', '.join(sides)})" if len(sides) > 1 else f"({sides[0]})"
    both = [f'    numbers["Pp"] = ({high!r} - {low!r}) / (6 * own.std())'] if len(sides) > 1 else []
    return [f"own = {of}", "if own.nunique() > 1:", f'    numbers["Ppk"] = {least} / (3 * own.std())', *both]


_MAKERS: dict[str, Callable[[Any, TableView], list[str]]] = {
    "shape": _shape, "groups": _groups, "shares": _shares, "estimates": _estimates, "differences": _differences,
    "pair": _pair, "quantiles": _quantiles, "counts": _counts, "influence": _influence,
    "agreement": _agreement, "control": _control,
}  # fmt: skip
