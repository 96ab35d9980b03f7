"""Answers that are levels: how large a share of each group gave which."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints, choose, within
from heron.grouping import By, groups_of, label_of
from heron.groups.bars import wilson


@dataclass(frozen=True)
class Share:
    """One group. counts: (n_levels,) how often each answer was given; share: of the chosen answers among those given,
    from 0 to 1, with its score interval; None without an answer. n: answers; n_missing: rows of the group without."""

    label: str
    counts: Ints
    n: int
    n_missing: int
    chosen: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Shares:
    """The groups in their order. levels: the answers; chosen: the places of those that count. difference_*: of the
    shares of the first two groups, by Newcombe's score interval; None for other than two groups with answers."""

    groups: tuple[Share, ...]
    levels: tuple[str, ...]
    chosen: tuple[int, ...]
    level: float
    difference: float | None
    difference_low: float | None
    difference_high: float | None


def shares(
    answers: By,
    by: By | None = None,
    *,
    order: Sequence[object] | None = None,
    levels: Sequence[object] | None = None,
    chosen: Sequence[object],
    level: float = 0.95,
) -> Shares:
    """Return the share of the chosen answers in each group.

    Parameters: answers (n_rows,) and levels, their order, as `by` and `order` of `groups_of`; chosen: the answers that
    count, each once however often it is named.
    Raises: ChoiceError for a chosen answer that is none of the levels.
    References: wilson-1927; newcombe-1998; newcombe-1998-difference.
    """
    within(level, above=0, below=1, where="level")
    answered = groups_of(answers, order=levels, where="answers")
    grouping = groups_of(by, answered.places.size, order=order)
    taken = [answered.labels.index(choose(label_of(answer), answered.labels, where="chosen")) for answer in chosen]
    places = tuple(dict.fromkeys(taken))
    n_levels, n_groups = len(answered.labels), len(grouping.labels)
    group = grouping.places
    here = group >= 0
    given = here & (answered.places >= 0)
    size = n_groups * n_levels
    table = np.bincount(group[given] * n_levels + answered.places[given], minlength=size).reshape(n_groups, n_levels)
    rows = np.bincount(group[here], minlength=n_groups)
    result = []
    for label, counts, n_rows in zip(grouping.labels, table, rows.tolist(), strict=True):
        n = int(counts.sum())
        k = int(counts[[*places]].sum())
        ends = wilson(k, n, level) if n else (None, None)
        result.append(Share(label, counts, n, n_rows - n, k, k / n if n else None, *ends))
    filled = [each for each in result if each.n]
    gap = _difference(*filled) if len(filled) == 2 else (None, None, None)
    return Shares(tuple(result), answered.labels, places, level, *gap)


def _difference(a: Share, b: Share) -> tuple[float, float, float]:
    """Newcombe's method 10: the two score intervals put together."""
    p, low_p, high_p = a.share or 0.0, a.low or 0.0, a.high or 0.0
    q, low_q, high_q = b.share or 0.0, b.low or 0.0, b.high or 0.0
    down = np.hypot(p - low_p, high_q - q)
    up = np.hypot(high_p - p, q - low_q)
    return p - q, p - q - float(down), p - q + float(up)


def balance(counts: Ints, neutral: int | None) -> Floats:
    """Where each answer's part of a stacked bar begins and ends, as shares, (n_levels + 1,): from 0, or so that the
    middle of the neutral answer lies at 0."""
    edges = np.concatenate(([0.0], np.cumsum(counts) / max(int(counts.sum()), 1)))
    return edges if neutral is None else edges - (edges[neutral] + edges[neutral + 1]) / 2
