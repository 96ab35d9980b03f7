"""Rows of a long table that rules flag: how many there are, and those by which most rules stand, or all where few."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from heron.checks import Floats, Ints
from heron.ledger import Part
from heron.outliers import Verdict

MOST_FIRST = 300  # that are named where there are too many for all


@dataclass(frozen=True)
class Flagged:
    """What verdicts say of values.

    n: values that were judged; n_flagged: by some verdict; n_agreed: by all; n_above: flagged ones above a middle;
    by_rule: (n_rules,) how many each flags. positions, values, groups: (k,) of flagged rows, all of them or the first;
    named, scores: (k * n_rules,) row by row.
    """

    n: int
    n_flagged: int
    n_agreed: int
    n_above: int
    by_rule: Ints
    positions: Ints
    values: Floats
    groups: Ints
    named: NDArray[np.bool_]
    scores: Floats

    def at(self, places: Ints) -> "Flagged":
        """With these of its rows alone."""
        k = self.by_rule.size
        named, scores = self.named.reshape(-1, k)[places], self.scores.reshape(-1, k)[places]
        return Flagged(
            self.n, self.n_flagged, self.n_agreed, self.n_above, self.by_rule, self.positions[places],
            self.values[places], self.groups[places], named.ravel(), scores.ravel(),
        )  # fmt: skip


@dataclass(frozen=True)
class FlaggedBy:
    """A look at the rows that rules flag. by: the variable within whose levels values are judged, "" for all together;
    verdicts: of each level, of each rule; middle: what flagged values lie above or below; most: how many rows are named
    at most, where there are more the first."""

    symbol: str
    by: str
    levels: tuple[str, ...]
    verdicts: tuple[tuple[Verdict, ...], ...]
    middle: float
    most: int = MOST_FIRST

    @property
    def symbols(self) -> tuple[str, ...]:
        return (self.symbol, self.by) if self.by else (self.symbol,)

    def partial(self, part: Part) -> Flagged:
        series = part.rows_of(*self.symbols)
        values, groups = series.numbers(self.symbol), np.zeros(series.n, dtype=np.int64)
        if self.by:
            labels, places = series.levels(self.by)
            at = [self.levels.index(label) if label in self.levels else -1 for label in labels]
            groups = np.array([*at, -1], dtype=np.int64)[places]
        known = ~np.isnan(values)
        k = len(self.verdicts[0])
        named, scores = np.zeros((values.size, k), dtype=bool), np.full((values.size, k), np.nan)
        for group, verdicts in enumerate(self.verdicts):
            rows = np.flatnonzero(known & (groups == group))
            for rule, verdict in enumerate(verdicts):
                if not verdict.why:
                    scores[rows, rule] = verdict.scores(values[rows])
                    named[rows, rule] = verdict.beyond(values[rows])
        rows = np.flatnonzero(named.any(axis=1))
        found = Flagged(
            int(np.count_nonzero(known)), rows.size, int(np.count_nonzero(named[rows].all(axis=1))),
            int(np.count_nonzero(values[rows] > self.middle)), np.asarray(np.count_nonzero(named[rows], axis=0)),
            rows + part.first, values[rows], groups[rows], named[rows].ravel(), scores[rows].ravel(),
        )  # fmt: skip
        return self._held(found)

    def merge(self, records: Sequence[Flagged]) -> Flagged:
        def joined(name: str) -> Any:
            return np.concatenate([getattr(record, name) for record in records])

        return self._held(
            Flagged(
                sum(record.n for record in records),
                sum(record.n_flagged for record in records),
                sum(record.n_agreed for record in records),
                sum(record.n_above for record in records),
                np.asarray(np.sum([record.by_rule for record in records], axis=0)),
                *map(joined, ("positions", "values", "groups", "named", "scores")),
            )
        )

    def _held(self, found: Flagged) -> Flagged:
        if found.n_flagged <= self.most:
            return found
        return found.at(self.first(found)[:MOST_FIRST])

    def first(self, found: Flagged) -> Ints:
        """The order of rows by which those named by most rules, and most strongly, come first."""
        k = len(self.verdicts[0])
        cutoffs = np.array([verdict.cutoff or 1.0 for verdict in self.verdicts[0]])
        return strongest(found.named.reshape(-1, k), found.scores.reshape(-1, k), cutoffs)


def strongest(named: NDArray[np.bool_], scores: Floats, cutoffs: Floats) -> Ints:
    """The order of flagged rows, those named by most rules first, and then most strongly. named, scores: (k, n_rules);
    cutoffs: (n_rules,)."""
    strength = np.nan_to_num(np.abs(scores) / cutoffs, nan=0).max(axis=1, initial=0)
    return np.lexsort((-strength, -named.sum(axis=1)))
