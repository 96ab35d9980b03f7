"""Rows far over several variables together in a long table."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints
from heron.chunked.influence import Fitted, Rows, Triangle, Triangles, joined_rows
from heron.influence import Terms, predictor_of
from heron.ledger import Chunks, Part
from heron.outliers import Middle

MOST_FIRST = 300


@dataclass(frozen=True)
class Far:
    """n: complete rows, of n_rows; n_flagged: beyond the cut-off, n_hidden: of these those that the plain distance does
    not name; first: the farthest."""

    n: int
    n_rows: int
    n_flagged: int
    n_hidden: int
    first: Rows


@dataclass(frozen=True)
class FarFrom:
    """The look at rows far from a middle. mean (p,), covariance (p, p): of all rows, for the plain distance."""

    fitted: Fitted
    middle: Middle
    mean: tuple[float, ...]
    covariance: tuple[tuple[float, ...], ...]

    @property
    def symbols(self) -> tuple[str, ...]:
        return self.fitted.symbols

    def distances(self, rows: Rows) -> tuple[Floats, Floats]:
        """(n,) robust and plain."""
        x = np.column_stack((rows.y, rows.x.reshape(len(self.fitted.predictors), -1).T))
        return self.middle.robust(x), self.middle.classical(x, np.array(self.mean), np.array(self.covariance))

    def partial(self, part: Part) -> Far:
        rows = self.fitted.complete(part)
        robust, classical = self.distances(rows)
        far = np.flatnonzero(robust > self.middle.cutoff)
        hidden = int(np.count_nonzero(classical[far] <= self.middle.cutoff))
        return Far(rows.y.size, rows.n, far.size, hidden, rows.at(far[_farthest(robust[far])]))

    def merge(self, records: Sequence[Far]) -> Far:
        first = joined_rows([record.first for record in records], len(self.fitted.predictors))
        n, n_rows, n_flagged, n_hidden = (
            sum(getattr(record, name) for record in records) for name in ("n", "n_rows", "n_flagged", "n_hidden")
        )
        return Far(n, n_rows, n_flagged, n_hidden, first.at(_farthest(self.distances(first)[0])))


def _farthest(robust: Floats) -> Ints:
    return np.argsort(-robust, kind="stable")[:MOST_FIRST]


def far_from(chunks: Chunks, symbols: Sequence[str], middle: Middle) -> FarFrom:
    """The look at rows far from a middle, with the mean and the covariance of all complete rows."""
    fitted = Fitted(symbols[0], tuple((symbol, symbol, None) for symbol in symbols[1:]))
    terms = Terms(tuple(predictor_of(symbol, None, np.empty(0, dtype=np.int64)) for symbol in symbols[1:]))
    found: Triangle = chunks.over(Triangles(fitted, terms))[0]
    k = found.means.size
    triangle = found.triangle.reshape(k, k)
    order = [k - 1, *range(k - 1)]  # the first variable stands behind the others there
    covariance = (triangle.T @ triangle / (found.n - 1))[np.ix_(order, order)]
    return FarFrom(fitted, middle, tuple(found.means[order].tolist()), tuple(map(tuple, covariance.tolist())))
