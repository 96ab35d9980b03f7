"""A linear relation over all rows of a long table: its triangle part by part, then what each row does to it."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Any

import numpy as np

from heron.checks import Floats, Ints
from heron.columns import KINDS
from heron.influence import Base, Cutoffs, RowSums, Terms, check_rank, check_size, measured_rows, predictor_of
from heron.ledger import Chunks, Part, Series

MOST_FIRST = 60
COUNTED = ("leverage", "external", "cooks", "dffits")  # of many coefficients nearly every row moves one by 2/sqrt(n)
_BLOCK = 65_536  # rows


@dataclass(frozen=True)
class Fitted:
    """Which variables are fitted on which. response: its symbol; predictors: of each its symbol, its label, and of a
    category all its levels, None of a number."""

    response: str
    predictors: tuple[tuple[str, str, tuple[str, ...] | None], ...]

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.response, *(symbol for symbol, _, _ in self.predictors))

    def complete(self, part: Part) -> "Rows":
        """The complete rows of a part."""
        rows: Rows = part.once(self, lambda: self.rows_of(part.rows_of(*self.symbols), part.first))
        return rows

    def rows_of(self, series: Series, first: int = 0) -> "Rows":
        """The complete rows of a series, before which there are so many of the table."""
        y = series.numbers(self.response)
        values = []
        for symbol, _, levels in self.predictors:
            if levels is None:
                values.append(series.numbers(symbol, KINDS))
                continue
            labels, index = series.levels(symbol)
            places = [float(levels.index(label)) if label in levels else math.nan for label in labels]
            values.append(np.array([*places, math.nan])[index])
        known = np.flatnonzero(np.isfinite(y) & np.isfinite(values).all(axis=0))
        x = np.concatenate([each[known] for each in values])
        return Rows(series.n, series.positions(known) + first, y[known], x)

    def values(self, rows: "Rows") -> dict[str, Floats]:
        """Of each predictor by its label, as its terms take them."""
        each = rows.x.reshape(len(self.predictors), -1)
        return {label: each[i] for i, (_, label, _) in enumerate(self.predictors)}


@dataclass(frozen=True)
class Rows:
    """Complete rows of n. positions: in the table; y: (k,) the response; x: (n_predictors * k,) one predictor after the
    other."""

    n: int
    positions: Ints
    y: Floats
    x: Floats

    def at(self, places: Ints) -> "Rows":
        width = self.positions.size
        x = self.x.reshape(-1, width) if width else self.x.reshape(0, 0)
        return Rows(self.n, self.positions[places], self.y[places], x[:, places].ravel())


def joined_rows(parts: Sequence[Rows], n_predictors: int) -> Rows:
    """The rows of parts, in their order."""
    x = np.concatenate([each.x.reshape(n_predictors, -1) for each in parts], axis=1)
    positions, y = (np.concatenate([getattr(each, name) for each in parts]) for name in ("positions", "y"))
    return Rows(sum(each.n for each in parts), positions, y, x.ravel())


@dataclass(frozen=True)
class Levels:
    """The look at which levels complete rows have: of each category by its label, how many rows at each place."""

    fitted: Fitted

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def partial(self, part: Part) -> dict[str, list[int]]:
        values = self.fitted.values(self.fitted.complete(part))
        return {
            label: np.bincount(values[label].astype(np.int64), minlength=len(levels)).tolist()
            for _, label, levels in self.fitted.predictors if levels is not None
        }  # fmt: skip

    def merge(self, records: Sequence[dict[str, list[int]]]) -> dict[str, list[int]]:
        return {label: np.sum([record[label] for record in records], axis=0).tolist() for label in records[0]}


@dataclass(frozen=True)
class Triangle:
    """Complete rows as what their least squares come from. n_rows: with the others; means: (k + 1,) of the columns and
    the response; triangle: ((k + 1)^2,) R of these, centred; largest: of the columns and
    of the response, by size; low, high: of the first predictor."""

    n: int
    n_rows: int
    means: Floats
    triangle: Floats
    largest: float
    largest_y: float
    low: float
    high: float


@dataclass(frozen=True)
class Triangles:
    """The look at the columns of a relation: the QR decomposition of each part, one on the other."""

    fitted: Fitted
    terms: Terms

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def partial(self, part: Part) -> Triangle:
        rows = self.fitted.complete(part)
        blocks = [self._of(rows.at(np.arange(start, min(start + _BLOCK, rows.y.size))))
                  for start in range(0, rows.y.size, _BLOCK)]  # fmt: skip
        k = len(self.terms.names)
        none = Triangle(0, 0, np.zeros(k), np.zeros(k * k), 0.0, 0.0, math.inf, -math.inf)
        return replace(self.merge(blocks or [none]), n_rows=rows.n)

    def _of(self, rows: Rows) -> Triangle:
        x = np.concatenate((self.terms.columns(self.fitted.values(rows)), rows.y[None, :]))
        first = rows.x[: rows.y.size]
        ends = float(np.abs(x[:-1]).max(initial=0)), float(np.abs(rows.y).max()), float(first.min()), float(first.max())
        with np.errstate(all="ignore"):
            means = x.mean(axis=1)
            x = x - means[:, None]
        return Triangle(rows.y.size, rows.n, means, _triangle(x.T).ravel(), *ends)

    def merge(self, records: Sequence[Triangle]) -> Triangle:
        held = [record for record in records if record.n]
        n, n_rows = sum(record.n for record in records), sum(record.n_rows for record in records)
        largest, largest_y, high = (
            max(getattr(each, name) for each in records) for name in ("largest", "largest_y", "high")
        )
        ends = largest, largest_y, min(each.low for each in records), high
        if len(held) < 2:
            one = held[0] if held else records[0]
            return Triangle(n, n_rows, one.means, one.triangle, *ends)
        k = held[0].means.size
        shares = np.array([record.n / n for record in held])
        means = np.array([math.fsum(each) for each in (shares[:, None] * [record.means for record in held]).T])
        stacked = [record.triangle.reshape(k, k) for record in held]
        with np.errstate(all="ignore"):
            off = np.array([record.means - means for record in held]) * np.sqrt([[record.n] for record in held])
        return Triangle(n, n_rows, means, _triangle(np.concatenate([*stacked, off])).ravel(), *ends)


def _triangle(rows: Floats) -> Floats:
    """(k, k) R of rows, with nothing below where they are fewer than columns; NaN where they cannot be squared."""
    k = rows.shape[1]
    if not np.isfinite(rows).all():
        return np.full((k, k), np.nan)
    triangle = np.asarray(np.linalg.qr(rows, mode="r"), dtype=np.float64)
    return np.concatenate((triangle, np.zeros((k - len(triangle), k))))


@dataclass(frozen=True)
class Solved:
    """What a fit comes from, in plain values."""

    terms: Terms
    n: int
    r: tuple[tuple[float, ...], ...]
    means: tuple[float, ...]
    b: tuple[float, ...]
    mean: float
    rss: float
    tss: float
    squares: float

    @cached_property
    def base(self) -> Base:
        r = np.array(self.r).reshape(len(self.r), len(self.r))
        return Base(
            self.terms, self.n, r, np.array(self.means), np.array(self.b), self.mean, self.rss, self.tss, self.squares
        )

    def columns(self, fitted: Fitted, rows: Rows) -> tuple[Floats, Floats]:
        """The orthonormal columns (n, k) of rows, and their residuals."""
        q = self.base.orthonormal(self.terms.columns(fitted.values(rows)))
        return q, (rows.y - self.mean) - q @ self.base.b


def solved(terms: Terms, found: Triangle) -> Solved:
    """The fit of all rows, from their triangle.

    Raises: InputError as `heron.influence.design_of`.
    """
    check_size(terms, found.n, found.largest, found.largest_y)
    k = len(terms.names) - 1
    whole = found.triangle.reshape(k + 1, k + 1)
    r, means, mean = whole[:k, :k], found.means[:k], float(found.means[k])
    check_rank(terms, r, means, found.n)
    tss = float(np.dot(whole[:, k], whole[:, k]))
    return Solved(
        terms, found.n, tuple(map(tuple, r.tolist())), tuple(means.tolist()), tuple(whole[:k, k].tolist()), mean,
        float(whole[k, k]) ** 2, tss, tss + found.n * mean**2,
    )  # fmt: skip


@dataclass(frozen=True)
class Felt:
    """What rows do to a fit. n_beyond: how many pass a cut-off; first: of these, and then of the others, the ones that
    move it most; most: the largest Cook's distance, and the position of its row; n_known, mean, squares: of the
    studentized residuals, how many there are, their mean and the sum of squares about it; largest: leverage."""

    sums: RowSums
    n_beyond: int
    first: Rows
    most: float
    most_at: int
    n_known: int
    mean: float
    squares: float
    largest: float


@dataclass(frozen=True)
class Feels:
    """The look at what each row does to a fit."""

    fitted: Fitted
    solved: Solved
    cutoffs: Cutoffs

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def partial(self, part: Part) -> Felt:
        rows = self.fitted.complete(part)
        k = self.solved.base.p
        if rows.y.size == 0:
            none = np.zeros(k - 1)
            sums = RowSums(np.zeros(k), 0.0, 0.0, none, 0.0, 0.0, 0.0, none, 0)
            return Felt(sums, 0, rows, -math.inf, -1, 0, 0.0, 0.0, 0.0)
        measures, sums = measured_rows(self.solved.base, *self.solved.columns(self.fitted, rows))
        beyond = counted_beyond(measures.beyond(self.cutoffs))
        cooks = np.nan_to_num(measures.cooks, nan=-np.inf)
        most = int(np.argmax(cooks))
        known = measures.external[np.isfinite(measures.external)]
        mean = float(known.mean()) if known.size else 0.0
        return Felt(
            sums, int(np.count_nonzero(beyond)), rows.at(strongest_first(cooks, beyond)), float(cooks[most]),
            int(rows.positions[most]), known.size, mean, float(np.sum((known - mean) ** 2)),
            float(np.max(measures.leverage)),
        )  # fmt: skip

    def merge(self, records: Sequence[Felt]) -> Felt:
        first = joined_rows([record.first for record in records], len(self.fitted.predictors))
        if first.y.size:
            measures, _ = measured_rows(self.solved.base, *self.solved.columns(self.fitted, first))
            cooks = np.nan_to_num(measures.cooks, nan=-np.inf)
            first = first.at(strongest_first(cooks, counted_beyond(measures.beyond(self.cutoffs))))
        most = max(records, key=lambda record: record.most)
        n_known = sum(record.n_known for record in records)
        mean = math.fsum(record.n_known * record.mean for record in records) / max(n_known, 1)
        squares = math.fsum(record.squares + record.n_known * (record.mean - mean) ** 2 for record in records)
        return Felt(
            RowSums.joined([record.sums for record in records]), sum(record.n_beyond for record in records), first,
            most.most, most.most_at, n_known, mean, squares, max(record.largest for record in records),
        )  # fmt: skip


def counted_beyond(beyond: Mapping[str, Any]) -> Any:
    """Which rows pass the cut-off of some measure that counts them."""
    return np.any([beyond[measure] for measure in COUNTED], axis=0)


def strongest_first(cooks: Floats, beyond: Any) -> Ints:
    """The places of the 60 rows that move a fit most, those beyond a cut-off first. cooks: -inf where undefined."""
    order = np.argsort(-cooks, kind="stable")
    return order[np.argsort(~beyond[order], kind="stable")][:MOST_FIRST]


@dataclass(frozen=True)
class RowsAt:
    """The look at some rows by their positions, ascending: those that are complete."""

    fitted: Fitted
    positions: tuple[int, ...]

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def partial(self, part: Part) -> Rows:
        wanted = np.array(self.positions, dtype=np.int64)
        wanted = wanted[(wanted >= part.first) & (wanted < part.first + part.n_rows)]
        if wanted.size == 0:  # whose columns need not be read
            return Rows(0, wanted, np.empty(0), np.empty(0))
        rows = self.fitted.complete(part)
        return rows.at(np.flatnonzero(np.isin(rows.positions, wanted)))

    def merge(self, records: Sequence[Rows]) -> Rows:
        return joined_rows(records, len(self.fitted.predictors))


@dataclass(frozen=True)
class BelowEach:
    """The look at how many studentized residuals lie below each of some, ascending."""

    fitted: Fitted
    solved: Solved
    values: tuple[float, ...]

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def partial(self, part: Part) -> Ints:
        rows = self.fitted.complete(part)
        if rows.y.size == 0:
            return np.zeros(len(self.values), dtype=np.int64)
        measures, _ = measured_rows(self.solved.base, *self.solved.columns(self.fitted, rows))
        known = measures.external[np.isfinite(measures.external)]
        # Of each residual, which is the first of the values that it lies below.
        first = np.searchsorted(np.array(self.values), known, side="right")
        return np.asarray(np.cumsum(np.bincount(first, minlength=len(self.values) + 1))[:-1])

    def merge(self, records: Sequence[Ints]) -> Ints:
        return np.asarray(np.sum(records, axis=0))


def triangle_of(chunks: Chunks, fitted: Fitted, products: Sequence[tuple[str, str]]) -> tuple[Terms, Triangle]:
    """What a relation is fitted on, and the triangle of all complete rows."""
    counts: dict[str, list[int]] = {}
    if any(levels is not None for _, _, levels in fitted.predictors):
        counts = chunks.over(Levels(fitted))[0]
    terms = Terms(
        tuple(predictor_of(label, levels, np.flatnonzero(counts.get(label, ())))
              for _, label, levels in fitted.predictors),
        tuple(products),
    )  # fmt: skip
    found: Triangle = chunks.over(Triangles(fitted, terms))[0]
    return terms, found
