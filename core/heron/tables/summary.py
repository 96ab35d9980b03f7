"""The summary table: variables down, groups across, each variable by the statistics that suit it."""

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from heron.association import Association, of_counts
from heron.checks import Ints
from heron.chunked import cells_in
from heron.columns import NUMBER_KINDS
from heron.differences import EFFECTS, GROUP_TESTS, Effect
from heron.errors import InputError
from heron.figure.build.context import Context, named, titled
from heron.formatting import counted, decimals_for, grouped, percent, typeset
from heron.groups import two_shares
from heron.ledger import Used, VariableView
from heron.readings import differences as differing
from heron.readings import numbers_of, spread
from heron.readings.groups import grouped_rows
from heron.readings.subject import ALL, Whose, series_of, used_of
from heron.summary import Summary
from heron.tables.record import Cell, Column, Footnote, NumberTable, Row, cell, count_of, p_of, share_of
from heron.tables.source import LINES, SummarySource

MOST_ACROSS = 30
_SKEWED = 1.0  # skewness, by its size, from where medians are told
_LISTED = 12  # variables of which a footnote names what is missing, one by one


def _decimals(variable: VariableView, summary: Summary) -> int:
    return decimals_for(variable.decimals, summary.sd)


_Written = Callable[[Summary, int, int], Cell]
# Of a summary, the decimals that suit its statistics, and those that values were recorded with.
_CELLS: dict[str, _Written] = {
    "mean_sd": lambda s, d, r: cell("{} ({})", s.mean, s.sd, decimals=d, se=s.se),
    "mean_se": lambda s, d, r: cell("{} ({})", s.mean, s.se, decimals=d + 1, se=s.se),
    "mean_interval": lambda s, d, r: cell("{} ({} to {})", s.mean, s.mean_low, s.mean_high, decimals=d, se=s.se),
    "median_quartiles": lambda s, d, r: cell("{} ({} to {})", s.median, s.q1, s.q3, decimals=d, se=s.se),
    "geometric": lambda s, d, r: cell("{} ({})", s.geometric_mean, s.geometric_sd, decimals=max(d, 2), se=s.se),
    "range": lambda s, d, r: cell("{} to {}", s.minimum, s.maximum, decimals=r, se=s.se),
    "n": lambda s, d, r: count_of(s.n),
    "missing": lambda s, d, r: count_of(s.n_missing),
}


@dataclass(frozen=True)
class _Across:
    """The columns: one for each level, and one for all rows."""

    by: VariableView | None
    labels: tuple[str, ...]
    sizes: tuple[int, ...]
    n: int

    def whose(self, label: str) -> Whose:
        return ((self.by.symbol, label),) if self.by is not None else ALL


def summary_table(context: Context, source: SummarySource) -> NumberTable:
    """The summary table of a source."""
    table = context.table
    variables = [table.variable(symbol) for symbol in dict.fromkeys(source.variables) if symbol != source.by]
    by = table.variable(source.by) if source.by else None
    across = _across(by, variables, turned=source.turned)
    compared = source.difference or source.standardized
    if compared and len(across.labels) != 2:
        raise InputError(
            "two-groups", f"A difference is of two groups; there are {len(across.labels)}.", where="difference",
            remedy="Leave the difference out, or show two levels.",
        )  # fmt: skip
    rows, uses = [], _Uses()
    for variable in variables:
        context.cancellation.check()
        rows += list(_rows_of(context, source, variable, across, uses))
    columns = [
        Column(f"level:{label}", typeset(label), n) for label, n in zip(across.labels, across.sizes, strict=True)
    ]
    if by is None:
        columns = []
    if source.total or by is None:
        columns.append(Column("total", "all" if by is not None else "value", across.n))
    if by is not None and source.difference:
        columns.append(Column("difference", "difference", None, ("difference",)))
    if by is not None and source.standardized:
        columns.append(Column("standardized", "standardized difference", None, ("standardized",)))
    if by is not None and source.test:
        columns.append(Column("p", "p", None, ("test",)))
    said = f"{_listed([typeset(variable.label) for variable in variables])}"
    subject = context.words(f"{titled(said)}{f' by {typeset(by.label)}' if by is not None else ''}")
    result = NumberTable(
        "summary", subject, "", tuple(columns), tuple(rows),
        tuple(uses.notes(source, across, [(variable, _used(variable)) for variable in variables])),
        titled(typeset(by.label)) if by is not None else "", tuple(uses.methods),
    )  # fmt: skip
    return result.turned() if source.turned else result


def _across(by: VariableView | None, variables: Sequence[VariableView], *, turned: bool) -> _Across:
    if not variables:
        raise InputError("no-variables", "A summary table needs a variable.", where="variables", remedy="Choose one.")
    if by is None:
        used = _used(variables[0])
        return _Across(None, (), (), used.n + used.missing)
    _, used, counts = spread.counts(by)
    labels = tuple(str(row.value) if isinstance(row.value, str) else f"{row.value:.12g}" for row in counts.rows)
    if len(labels) > MOST_ACROSS and not turned:
        raise InputError(
            "too-many-groups", f"{by.label} has {len(labels)} groups; at most {MOST_ACROSS} stand side by side.",
            where="by", remedy="Put groups down and variables across, or choose a variable with fewer levels.",
        )  # fmt: skip
    return _Across(by, labels, tuple(row.count for row in counts.rows), used.n + used.missing)


def _used(variable: VariableView) -> Used:
    return used_of(variable, series_of(variable))


def _listed(words: Sequence[str]) -> str:
    if len(words) > 6:
        return f"{words[0]} and {len(words) - 1} other variables"
    return " and ".join(filter(None, (", ".join(words[:-1]), words[-1])))


class _Uses:
    """What was written, and must be explained below."""

    def __init__(self) -> None:
        self.lines: dict[str, None] = {}
        self.effects: dict[str, None] = {}
        self.tests: dict[str, None] = {}
        self.methods: dict[str, None] = {}
        self.shares = False
        self.points = False
        self.sampled = 0

    def notes(
        self, source: SummarySource, across: _Across, used: Sequence[tuple[VariableView, Used]]
    ) -> Iterator[Footnote]:
        level = percent(source.level)
        told = [LINES[line].label for line in self.lines if line not in ("n", "missing")]
        if self.shares:
            told.append("n (percent)")
        if told:
            said = f"Values are {_listed(told)}."
            if "mean_interval" in self.lines:
                said += f" Limits: {level} of the mean."
            if "median_quartiles" in self.lines:
                hinges = source.quantile_definition == "hinges"
                how = "hinges" if hinges else f"definition {source.quantile_definition}"
                said += f" Quartiles by {how}."
            yield Footnote("", said)
        if source.difference and across.by is not None:
            first, second = map(typeset, across.labels)
            ways = [EFFECTS[effect].label for effect in self.effects]
            ways += ["difference of shares in percent points"] if self.points else []
            said = f"{first} against {second}, with {level} limits"
            yield Footnote("difference", f"{said}: {_listed(ways)}." if ways else "No variable has one.")
        if source.standardized:
            yield Footnote("standardized", f"{EFFECTS['hedges-g'].label}, with {level} limits.")
        if source.test:
            yield Footnote("test", f"{titled(_listed([*self.tests]))}." if self.tests else "No test can be had.")
        if self.sampled:
            yield Footnote("", f"Differences and tests are told from {counted(self.sampled, 'row')} drawn at random.")
        yield from _left_out(used)


def _left_out(used: Sequence[tuple[VariableView, Used]]) -> Iterator[Footnote]:
    """What is missing and what was set aside of each variable."""
    gaps = [
        (typeset(variable.label), rows.missing, rows.set_aside) for variable, rows in used
        if rows.missing or rows.set_aside
    ]  # fmt: skip
    if not gaps:
        return
    if len(gaps) > _LISTED:
        most = max(missing + aside for _, missing, aside in gaps)
        yield Footnote("", f"{len(gaps)} variables have up to {grouped(most)} rows without a value or set aside.")
        return
    said = []
    for label, missing, aside in gaps:
        parts = [f"{grouped(missing)} missing"] if missing else []
        parts += [f"{grouped(aside)} set aside"] if aside else []
        said.append(f"{label} {' and '.join(parts)}")
    yield Footnote("", f"Rows left out: {'; '.join(said)}.")


def _rows_of(
    context: Context, source: SummarySource, variable: VariableView, across: _Across, uses: _Uses
) -> Iterator[Row]:
    if variable.kind in NUMBER_KINDS and series_of(variable).columns[variable.symbol].numbers is not None:
        yield from _number_rows(context, source, variable, across, uses)
    elif variable.kind in ("category", "ordered"):
        yield from _level_rows(source, variable, across, uses)
    else:
        raise InputError(
            "no-statistics", f"{variable.label} is {variable.kind}, of which no summary table tells.",
            where="variables", remedy="Take another variable, or describe this one as another kind in Intake.",
        )  # fmt: skip


def _number_rows(
    context: Context, source: SummarySource, variable: VariableView, across: _Across, uses: _Uses
) -> Iterator[Row]:
    settings = spread.BoxSettings(source.quantile_definition)
    whole = numbers_of(variable)
    all_rows = spread.numbers_with(variable, whole, settings, source.level)
    summaries = []
    if across.by is not None:
        rows = grouped_rows(variable, across.by, None)
        places = dict(zip((rows.labels[i] for i in rows.cells.tolist()), rows.entries(), strict=True))
        nothing = np.empty(0, dtype=np.int64)
        summaries = [
            spread.numbers_with(
                variable, whole.among(places.get(label, nothing)), settings, source.level, across.whose(label)
            ) for label in across.labels
        ]  # fmt: skip
    lines = list(source.lines) or [_suited(variable, all_rows)]
    if source.missing and "missing" not in lines and whole.used.missing:
        lines.append("missing")
    told = [line for line in lines if line not in ("n", "missing")]
    uses.lines |= dict.fromkeys(lines)
    uses.methods |= {"quartiles": None} if "median_quartiles" in lines else {}
    beside = _beside(context, source, variable, across, "median_quartiles" in told[:1], uses)
    decimals, recorded = _decimals(variable, all_rows), variable.decimals or 0
    label, key = named(typeset(variable.label), typeset(variable.unit)), f"variable:{variable.symbol}"

    def cells(line: str) -> tuple[Cell, ...]:
        made = [_CELLS[line](summary, decimals, recorded) for summary in summaries]
        total = [_CELLS[line](all_rows, decimals, recorded)] if source.total or across.by is None else []
        if line == "missing":
            made = [count_of(_missing_at(variable, across, i, summaries[i].n)) for i in range(len(made))]
            total = [count_of(whole.used.missing)] if total else []
        return (*made, *total, *(beside if line == lines[0] else [Cell()] * len(beside)))

    if len(lines) == 1:
        yield Row(key, f"{label}, {LINES[lines[0]].label}", cells(lines[0]), 0, variable.decimals)
        return
    yield Row(key, label)
    for line in lines:
        yield Row(f"{key}:{line}", LINES[line].label, cells(line), 1, variable.decimals)


def _missing_at(variable: VariableView, across: _Across, place: int, n: int) -> int:
    """How many rows at a level have no value. n: those that have one."""
    assert across.by is not None
    if variable.table.chunks is not None:
        return across.sizes[place] - n
    label, series = across.labels[place], series_of(variable, across.by)
    labels, places = series.levels_or_numbers(across.by.symbol)
    held = places == (labels.index(label) if label in labels else -2)
    return int(np.count_nonzero(held & (series.reasons(variable.symbol) > 0) & ~series.is_aside(variable.symbol)))


def _suited(variable: VariableView, summary: Summary) -> str:
    """The line that suits a variable: medians where it is ordered or skewed."""
    skewed = summary.skewness is not None and abs(summary.skewness) > _SKEWED
    return "median_quartiles" if skewed or variable.kind == "ordered" else "mean_sd"


def _beside(
    context: Context, source: SummarySource, variable: VariableView, across: _Across, by_ranks: bool, uses: _Uses
) -> list[Cell]:
    """Difference, standardized difference and p of a variable that is a number."""
    if across.by is None or not (source.difference or source.standardized or source.test):
        return []
    made = []
    asked: tuple[tuple[Effect, bool], ...] = (
        ("shift" if by_ranks else "mean", source.difference), ("hedges-g", source.standardized)
    )  # fmt: skip
    for effect, wanted in asked:
        if not wanted:
            continue
        found = _differed(context, source, variable, across.by, effect)
        pair = found.pairs[0] if found is not None and found.pairs else None
        uses.effects |= {effect: None} if pair and effect != "hedges-g" else {}
        uses.sampled = max(uses.sampled, found.sampled if found else 0)
        decimals = 2 if effect == "hedges-g" else decimals_for(variable.decimals, _spread_of(pair))
        made.append(
            cell("{} ({} to {})", *((pair.estimate, pair.low, pair.high) if pair else (None,)), decimals=decimals)
        )
    if source.test:
        found = _differed(context, source, variable, across.by, "mean")
        wanted_test = "kruskal-wallis" if by_ranks else "welch"
        test = next((each for each in found.tests if each.id == wanted_test), None) if found else None
        uses.tests |= {GROUP_TESTS[wanted_test].caption: None} if test else {}
        uses.methods |= {wanted_test: None} if test else {}
        uses.sampled = max(uses.sampled, found.sampled if found else 0)
        made.append(p_of(test.found.p_value if test else None))
    return made


def _spread_of(pair: differing.PairFound | None) -> float | None:
    return None if pair is None or pair.low is None or pair.high is None else (pair.high - pair.low) / 4


def _differed(
    context: Context, source: SummarySource, variable: VariableView, by: VariableView, effect: Effect
) -> differing.DifferenceReading | None:
    settings = differing.DifferenceSettings(effect, "", source.level, False, None, False, "unequal", 0.1)
    try:
        return differing.differed(variable, by, settings, context.cancellation)
    except InputError:
        return None


def _level_rows(source: SummarySource, variable: VariableView, across: _Across, uses: _Uses) -> Iterator[Row]:
    uses.shares = True
    label, key = typeset(variable.label), f"variable:{variable.symbol}"
    used = _used(variable)
    _, _, alone = spread.counts(variable)
    labels = [str(row.value) for row in alone.rows]
    by_level = _joint(variable, labels, across)
    yield Row(key, label, (), 0, None)
    sizes = by_level.sum(axis=0)
    beside = _shares_beside(source, across, by_level, uses)
    for i, row in enumerate(alone.rows):
        made = [share_of(int(n), int(of)) for n, of in zip(by_level[i], sizes, strict=True)]
        total = [share_of(row.count, alone.n)] if source.total or across.by is None else []
        yield Row(f"{key}:level:{labels[i]}", typeset(labels[i]), (*made, *total, *beside[i]), 1)
    if source.missing and used.missing:
        made = [count_of(_missing_at(variable, across, i, int(sizes[i]))) for i in range(len(across.labels))]
        total = [count_of(used.missing)] if source.total or across.by is None else []
        yield Row(f"{key}:missing", "missing", (*made, *total, *[Cell()] * len(beside[0] if beside else [])), 1)


def _joint(variable: VariableView, labels: Sequence[str], across: _Across) -> Ints:
    """(n_labels, n_levels) how many rows have each level of a variable at each level across."""
    counts = np.zeros((len(labels), len(across.labels)), dtype=np.int64)
    if across.by is None:
        return counts
    chunks = variable.table.chunks
    if chunks is not None:
        found = cells_in(chunks, variable.symbol, across.by.symbol)
    else:
        series = series_of(variable, across.by)
        (own, places), (others, columns) = (series.levels_or_numbers(each.symbol) for each in (variable, across.by))
        known = (places >= 0) & (columns >= 0)
        sums = np.bincount(places[known] * len(others) + columns[known], minlength=len(own) * len(others))
        found = {(own[i // len(others)], others[i % len(others)]): int(sums[i]) for i in np.flatnonzero(sums).tolist()}
    for (level, other), n in found.items():
        if level in labels and other in across.labels:
            counts[labels.index(level), across.labels.index(other)] = n
    return counts


def _shares_beside(source: SummarySource, across: _Across, counts: Ints, uses: _Uses) -> list[list[Cell]]:
    """The same of a category: the difference of two shares, in percent points, and the p of its association."""
    made: list[list[Cell]] = [[] for _ in range(counts.shape[0])]
    if across.by is None:
        return made
    if source.difference:
        sizes = counts.sum(axis=0)
        for i, row in enumerate(made):
            if sizes.min() == 0:
                row.append(Cell(text="–"))
                continue
            found = two_shares(counts[i].tolist(), sizes.tolist(), level=source.level)
            uses.points = True
            ends = (100 * each for each in (found.difference, found.difference_low, found.difference_high))
            row.append(cell("{} ({} to {})", *ends, decimals=1))
    if source.standardized:
        for row in made:
            row.append(Cell(text=""))
    if source.test:
        found_together = of_counts(counts)
        p, name = _tested(found_together)
        uses.tests |= {name: None} if p is not None else {}
        uses.methods |= {"chi-square" if name == _CHI_SQUARE else "exact": None} if p is not None else {}
        for i, row in enumerate(made):
            row.append(p_of(p) if i == 0 else Cell())
    return made


def _tested(found: Association) -> tuple[float | None, str]:
    """The p of an association, and by what: exactly where chi-square expects too little."""
    if found.n_small and found.exact_p is not None:
        return found.exact_p, "Fisher's exact test" if not found.drawn else "an exact test by tables drawn at random"
    p = found.p_value
    return (None if p is None or math.isnan(p) else p), _CHI_SQUARE


_CHI_SQUARE = "the chi-square test"
