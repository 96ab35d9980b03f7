"""Two variables of a table: their pairs, how closely they move together, and what lies where there are many."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import Any

import numpy as np

from heron import bivariate, ledger, relation, thinning
from heron.checks import Floats, Ints
from heron.chunked import NoPairs, Of2, PairSums, Products, Ranked, board_in, lost_rows, ranked_in
from heron.columns import NUMBER_KINDS
from heron.errors import InputError
from heron.formatting import counted, fixed, grouped, typeset
from heron.ledger import Chunks, Levels, TableView, VariableView, in_rounds
from heron.readings.cancellation import Cancellation
from heron.readings.estimates import bars_named, ends_in, odd_ends
from heron.readings.subject import Subject, sample_words, series_of, subject_of

MOST_GROUPS = 60
MOST_SERIES = 12
_SMALL = 400  # points of a cell of the board
_FEW = 10


@dataclass(frozen=True)
class Lost:
    """Rows that are no pair: why, and how many."""

    why: str
    n: int


@dataclass(frozen=True)
class Series:
    """One measured variable against x. thinned: whether only a sample of the pairs is drawn as points."""

    subject: Subject
    n_pairs: int
    lost: tuple[Lost, ...]
    thinned: bool


@dataclass(frozen=True)
class PairsReading:
    """weighted_by: the variable that says how often each row counts, "" for none; bars: what bars of the points are,
    "" for none; bars_words: rows whose limits are odd; sampled: how many rows were looked at, drawn at random, 0 for
    all."""

    x: Subject
    x_is_time: bool
    series: tuple[Series, ...]
    by: str
    levels: tuple[str, ...]
    size: str
    weighted_by: str
    bars: str
    bars_words: tuple[str, ...]
    sampled: int


@dataclass(frozen=True)
class Points:
    """The pairs of one measured variable that are drawn. positions, x, y, group, size: (n_drawn,) the rows, from 1, in
    the order of x; group is the place of the level, -1 for none; bars_x, bars_y: (n_drawn, 2) the ends of the bar of
    each, NaN where it has none, without rows where bars are not drawn."""

    positions: Ints
    x: Floats
    y: Floats
    group: Ints
    size: Floats
    bars_x: Floats
    bars_y: Floats


@dataclass(frozen=True)
class PairsDrawn:
    """What pictures of pairs are made of. x, group: (n,) of all rows; ys: (n,) of each measured variable; points: of
    each, those that are drawn."""

    told: PairsReading
    x: Floats
    ys: tuple[Floats, ...]
    group: Ints
    rows: Ints
    points: tuple[Points, ...]


@dataclass(frozen=True)
class PairsSettings:
    """Symbols: x, one or several y, what colours the points and what sizes them, "" for nothing; bars_x, bars_y: the
    column of their widths to each side, or the two of their limits."""

    x: str
    y: Sequence[str]
    by: str = ""
    size: str = ""
    bars_x: Sequence[str] = ()
    bars_y: Sequence[str] = ()


ON_AN_AXIS = (*NUMBER_KINDS, "date-time")


def pairs_of(x: VariableView, y: VariableView, *others: VariableView | None) -> tuple[ledger.Series, Floats, Floats]:
    """Two variables entry by entry, x also as times in seconds, with others loaded beside them."""
    loaded = series_of(x, y, *others)
    return loaded, loaded.numbers(x.symbol, ON_AN_AXIS), loaded.numbers(y.symbol)


def levels_of(loaded: ledger.Series, by: VariableView | None) -> tuple[tuple[str, ...], Ints]:
    """The levels that points are told apart by, and the place of each entry among them; no levels without `by`."""
    if by is None:
        return (), np.zeros(loaded.n, dtype=np.int64)
    labels, index = loaded.levels(by.symbol)
    if len(labels) > MOST_GROUPS:
        raise InputError(
            "too-many-groups",
            f"{by.label} has {len(labels)} levels; at most {MOST_GROUPS} take colours.",
            where="by",
            remedy="Choose a variable with fewer levels.",
        )
    return tuple(map(typeset, labels)), index


def pairs_reading(table: TableView, settings: PairsSettings, cancellation: Cancellation) -> PairsReading:
    return drawn(table, settings, cancellation).told


def drawn(table: TableView, settings: PairsSettings, cancellation: Cancellation) -> PairsDrawn:
    """The pairs of a table with what is told of them, worked once however they are drawn."""
    question = (
        "pairs",
        settings.x,
        tuple(settings.y),
        settings.by,
        settings.size,
        *settings.bars_x,
        "",
        *settings.bars_y,
    )
    pairs_drawn: PairsDrawn = table.remembered(question, lambda: _drawn(table, settings, cancellation))
    return pairs_drawn


def _drawn(table: TableView, settings: PairsSettings, cancellation: Cancellation) -> PairsDrawn:
    own_x, measured = table.variable(settings.x), [table.variable(symbol) for symbol in settings.y]
    by, sized = (table.variable(symbol) if symbol else None for symbol in (settings.by, settings.size))
    bars_x, bars_y = ([table.variable(symbol) for symbol in symbols] for symbols in (settings.bars_x, settings.bars_y))
    if bars_x and own_x.kind == "date-time":
        raise InputError("no-bars", "Times take no bars.", where="bars_x", remedy="Choose bars along y alone.")
    if bars_y and len(measured) > 1:
        raise InputError(
            "no-bars", "Bars belong to one variable; several stand on this axis.", where="bars_y",
            remedy="Choose one variable, or no bars.",
        )  # fmt: skip
    loaded = series_of(own_x, *measured, by, sized, *bars_x, *bars_y)
    x = loaded.numbers(own_x.symbol, ON_AN_AXIS)
    levels, group = levels_of(loaded, by)
    sizes = loaded.numbers(sized.symbol) if sized else np.ones(x.size)
    ends_x, odd_x = _bars(loaded, own_x, bars_x, x)
    series, points, ys = [], [], []
    bars_words = list(odd_x)
    for variable in measured:
        cancellation.check()
        y = loaded.numbers(variable.symbol)
        known = np.flatnonzero(np.isfinite(x) & np.isfinite(y))
        sent = thinning.points(known, y[known])
        order = sent[np.argsort(x[sent], kind="stable")]
        ends_y, odd_y = _bars(loaded, variable, bars_y, y)
        bars_words += odd_y
        ys.append(y)
        drawn_ends = (ends[order] if ends.size else ends for ends in (ends_x, ends_y))
        points.append(Points(loaded.positions(order) + 1, x[order], y[order], group[order], sizes[order], *drawn_ends))
        lost, n = lost_pairs(loaded, own_x, variable), known.size
        if table.chunks is not None:
            lost, n = _lost_in_parts(table.chunks, own_x, variable), sums_of(own_x, variable).n
        series.append(Series(subject_of(variable), n, lost, sent.size < n))
    bars = [
        f"{bars_named(columns)}{f' along {typeset(variable.label)}' if bars_x and bars_y else ''}"
        for columns, variable in ((bars_y, measured[0]), (bars_x, own_x)) if columns
    ]  # fmt: skip
    told = PairsReading(
        subject_of(own_x), own_x.kind == "date-time", tuple(series), typeset(by.label) if by else "", levels,
        typeset(sized.label) if sized else "", typeset(loaded.weighted_by), " and ".join(bars), tuple(bars_words),
        0 if loaded.sampled is None else loaded.n,
    )  # fmt: skip
    return PairsDrawn(told, x, tuple(ys), group, loaded.positions(np.arange(x.size)) + 1, tuple(points))


def _bars(
    loaded: ledger.Series, variable: VariableView, columns: Sequence[VariableView], values: Floats
) -> tuple[Floats, list[str]]:
    """(n, 2) the ends of the bars of a variable, and what is odd about them; nothing where it has none."""
    if not columns:
        return np.empty((0, 2)), []
    result = ends_in(loaded, values, columns)
    return np.column_stack((result.low, result.high)), odd_ends(result, typeset(variable.label))


def lost_pairs(loaded: ledger.Series, x: VariableView, y: VariableView) -> tuple[Lost, ...]:
    """Which rows are no pair, by what they lack."""
    gone = [loaded.reasons(variable.symbol) > 0 for variable in (x, y)]
    aside = loaded.is_aside(x.symbol) | loaded.is_aside(y.symbol)
    return _why(x, y, [int(np.count_nonzero(rows)) for rows in lost_rows(gone[0], gone[1], aside)])


def _lost_in_parts(chunks: Chunks, x: VariableView, y: VariableView) -> tuple[Lost, ...]:
    return _why(x, y, chunks.over(NoPairs(x.symbol, y.symbol))[0].tolist())


def _why(x: VariableView, y: VariableView, counts: Sequence[int]) -> tuple[Lost, ...]:
    names = [typeset(variable.label) for variable in (x, y)]
    whys = (f"without {names[0]}", f"without {names[1]}", "without both", "set aside")
    return tuple(Lost(why, n) for why, n in zip(whys, counts, strict=True) if n)


def sums_of(x: VariableView, y: VariableView, **which: Any) -> PairSums:
    """The sums of all pairs of a long table, or of those at some levels, as Of2 has them; worked once."""
    chunks, of = x.table.chunks, Of2(x.symbol, y.symbol, **which)
    assert chunks is not None
    sums: PairSums = x.table.remembered(("sums of pairs", of), lambda: chunks.over(Products(of))[0])
    return sums


@dataclass(frozen=True)
class Group:
    """The whole, or one level, with its coefficients; n_each: of how many pairs that of each with each is, of a long
    table those of a sample."""

    label: str
    found: relation.Correlations
    n_each: int


@dataclass(frozen=True)
class CorrelationsReading:
    groups: tuple[Group, ...]
    words: tuple[str, ...]


def correlated(
    x: VariableView, y: VariableView, by: VariableView | None, level: float, cancellation: Cancellation
) -> CorrelationsReading:
    loaded, a, b = pairs_of(x, y, by)
    levels, index = levels_of(loaded, by)
    raw = loaded.levels(by.symbol)[0] if by is not None else []
    whose: list[Levels] = [(), *(((by.symbol, label),) for label in raw if by is not None)]
    chunks, result, off_by = x.table.chunks, [], 0.0
    if chunks is not None:
        ranked = [partial(_ranked, x, y, at, (a, b)) for at in whose]
        in_rounds(chunks, *(partial(sums_of, x, y, at=at) for at in whose), *ranked)
    for code, (label, at) in enumerate(zip(("", *levels), whose, strict=True), -1):
        cancellation.check()
        held = index == code if at else np.ones(a.size, dtype=bool)
        found = _short(relation.correlate(a[held], b[held], level=level))
        n_each = found.n_pairs
        if chunks is not None:
            of_all = _ranked(x, y, at, (a, b))
            off_by = max(off_by, of_all.off_by)
            found = _of_all(found, sums_of(x, y, at=at), of_all, level)
        result.append(Group(label, found, n_each))
    notes = [f"Kendall's: {words[:1].lower()}{words[1:]}" for words in sample_words(loaded)]
    if off_by:
        notes.insert(0, f"Spearman's is of ranks in bins, within {_at_most(off_by)} of that of all ranks.")
    return CorrelationsReading(tuple(result), (*_words(result), *notes))


def _ranked(x: VariableView, y: VariableView, at: Levels, sample: tuple[Floats, Floats]) -> Ranked:
    """The correlation by ranks of all pairs of a long table, or of those at a level; worked once."""
    chunks = x.table.chunks
    assert chunks is not None
    question = "ranked", x.symbol, y.symbol, at
    return x.table.remembered(question, lambda: ranked_in(chunks, Of2(x.symbol, y.symbol, at), sample))


def _of_all(found: relation.Correlations, sums: PairSums, ranked: Ranked, level: float) -> relation.Correlations:
    """The correlations of a sample with Pearson's and Spearman's of all pairs in their place."""
    if sums.n < 2 or not sums.squares[0] or not sums.squares[1] or ranked.rho is None:
        return replace(found, n_pairs=sums.n)
    return replace(
        found,
        pearson=relation.pearson_of(sums.r, sums.n, level),
        spearman=relation.spearman_of(ranked.rho, sums.n, level),
        n_pairs=sums.n,
        undefined={name: why for name, why in found.undefined.items() if name == "kendall"},
    )


def _at_most(bound: float) -> str:
    """A small number in one digit, rounded up."""
    decimals = -math.floor(math.log10(bound))
    return fixed(math.ceil(bound * 10.0**decimals - 1e-9) / 10.0**decimals, decimals)


def _short(correlations: relation.Correlations) -> relation.Correlations:
    """Without the rows lost, which the pairs tell already."""
    return relation.Correlations(
        correlations.pearson,
        correlations.spearman,
        correlations.kendall,
        correlations.level,
        correlations.n_pairs,
        correlations.lost_rows[:0],
        correlations.undefined,
    )


def _words(groups: list[Group]) -> tuple[str, ...]:
    whole = groups[0].found
    if whole.pearson is None or whole.spearman is None:
        return (whole.undefined.get("pearson", ""),)
    r, rho = whole.pearson.estimate, whole.spearman.estimate
    strength = (
        "hardly" if abs(rho) < 0.1 else "weakly" if abs(rho) < 0.35 else "clearly" if abs(rho) < 0.7 else "closely"
    )
    way = "rise and fall together" if rho > 0 else "one falls as the other rises"
    said = [
        f"By rank they move together {strength} ({way})." if abs(rho) >= 0.1 else "By rank they hardly move together."
    ]
    if abs(rho) - abs(r) > 0.1:
        said.append("Ranks agree better than values: the relation bends, or far rows weaken the line.")
    elif abs(r) - abs(rho) > 0.1:
        said.append("Values agree better than ranks: a few far rows may carry the line.")
    known = [group for group in groups[1:] if group.found.pearson is not None]
    signs = {np.sign(group.found.pearson.estimate) for group in known if group.found.pearson}
    if len(known) > 1 and signs == {-np.sign(r)}:
        said.append("Within each group the relation goes the other way: the groups make the whole.")
    few = [group.label for group in groups[1:] if group.found.n_pairs < _FEW]
    if few:
        said.append(f"Fewer than {_FEW} pairs in {', '.join(few[:4])}.")
    return tuple(said)


@dataclass(frozen=True)
class MatrixCell:
    """why: what a coefficient lacks, "" where it has one."""

    first: int
    second: int
    n_pairs: int
    pearson: float | None
    spearman: float | None
    low: float | None
    high: float | None
    why: str


@dataclass(frozen=True)
class MatrixReading:
    """Each pair of variables. values: (n_variables * n_sent,) variable after variable, of a sample of rows, for small
    scatters; positions: (n_sent,) their rows from 1; alike: whether only rows complete in all were used; partial:
    whether each coefficient is given all the other variables."""

    subjects: tuple[Subject, ...]
    cells: tuple[MatrixCell, ...]
    alike: bool
    partial: bool
    n_rows: int
    values: Floats
    positions: Ints


def matrix(
    table: TableView, symbols: Sequence[str], alike: bool, partial: bool, level: float, cancellation: Cancellation
) -> MatrixReading:
    alike = alike or partial
    variables = [table.variable(symbol) for symbol in symbols]
    loaded = series_of(*variables)
    columns = np.array([loaded.numbers(symbol, ON_AN_AXIS) for symbol in symbols], dtype=np.float64)
    whole = np.isfinite(columns).all(axis=0)
    used = columns[:, whole] if alike else columns
    given_others = relation.correlate_partially(used, level=level) if partial else None
    cells = []
    for i in range(len(variables)):
        for j in range(i):
            cancellation.check()
            result = given_others[i][j] if given_others else relation.correlate(used[j], used[i], level=level)
            r, rho = result.pearson, result.spearman
            cells.append(
                MatrixCell(
                    i,
                    j,
                    result.n_pairs,
                    None if r is None else r.estimate,
                    None if rho is None else rho.estimate,
                    None if r is None else r.low,
                    None if r is None else r.high,
                    result.undefined.get("pearson", ""),
                )
            )
    rows = np.flatnonzero(whole) if alike else np.arange(columns.shape[1])
    if rows.size > _SMALL:
        rows = np.sort(np.random.default_rng(7).choice(rows, _SMALL, replace=False))
    return MatrixReading(
        tuple(subject_of(variable) for variable in variables),
        tuple(cells),
        alike,
        partial,
        int(np.count_nonzero(whole)) if alike else columns.shape[1],
        columns[:, rows].ravel(),
        loaded.positions(rows) + 1,
    )


@dataclass(frozen=True)
class Enclosed:
    """rows: (k,) inside the outline, from 1."""

    rows: Ints


def enclosed(x: VariableView, y: VariableView, outline_x: Sequence[float], outline_y: Sequence[float]) -> Enclosed:
    loaded = series_of(x, y, weights="ignore")
    places = loaded.numbers(x.symbol, ON_AN_AXIS), loaded.numbers(y.symbol)
    return Enclosed(bivariate.inside(*places, outline_x, outline_y) + 1)


def _gain(gain: float) -> str:
    return fixed(gain, 1) if gain < 1_000 else grouped(round(gain))


@dataclass(frozen=True)
class BoardReading:
    """The board with the points of its small pictures: x, y (n_sent,)."""

    board: relation.Board
    x: Floats
    y: Floats
    words: tuple[str, ...]


def straighten(x: VariableView, y: VariableView) -> BoardReading:
    _, a, b = pairs_of(x, y)
    chunks = x.table.chunks
    result = relation.board(a, b) if chunks is None else board_in(chunks, x.symbol, y.symbol)
    known = relation.pairs(a, b)[2]
    if known.size > _SMALL:
        known = np.sort(np.random.default_rng(7).choice(known, _SMALL, replace=False))
    said = [*_board_words(result, typeset(x.label), typeset(y.label))]
    said.append("R squared is of y on its own scale: compare it along a row of the board, never between rows.")
    return BoardReading(result, a[known], b[known], tuple(said))


def _board_words(board: relation.Board, x: str, y: str) -> Iterator[str]:
    plain = board.cells[0]
    if plain.gain is None:
        yield f"Untransformed, the scales cannot be compared with others. {plain.why}".strip()
        return
    odd = " and ".join(
        words for words, is_so in (("bends", plain.bends), ("changes its spread along x", plain.fans)) if is_so
    )
    if board.proposed is None and not odd:
        yield "The untransformed scales serve: no others are likelier, and the line there neither bends nor fans."
    elif board.proposed is None:
        yield f"Untransformed the line {odd}, but no other scales are likelier."
    else:
        cell = board.cells[board.proposed]
        scales = f"{x} {relation.SCALES[cell.x_scale].words} and {y} {relation.SCALES[cell.y_scale].words}"
        yield (f"Untransformed the line {odd}. " if odd else "") + (
            f"With {scales} the values of {y} are likeliest: a log-likelihood {_gain(cell.gain or 0.0)} above that of "
            "the untransformed scales."
        )
        left = " and ".join(words for words, is_so in (("bends", cell.bends), ("fans", cell.fans)) if is_so)
        if left:
            yield f"It still {left} there."
        if cell.n_lost:
            yield f"{counted(cell.n_lost, 'pair')} cannot stand there."
    if board.n_compared < board.n_pairs:
        yield f"Compared over the {counted(board.n_compared, 'pair')} that all these scales can use."
