"""Answers that are levels: how large a share of each group gave which."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints, same_length, within
from heron.errors import InputError
from heron.groups.bars import wilson


@dataclass(frozen=True)
class Share:
    """One group. counts: (n_levels,) how often each answer was given; share: of the chosen answers among those given,
    from 0 to 1, with its score interval; None without an answer. n: answers; n_missing: rows of the group without."""

    counts: Ints
    n: int
    n_missing: int
    chosen: int
    share: float | None
    low: float | None
    high: float | None


@dataclass(frozen=True)
class Shares:
    """The groups in their order. difference_* : of the shares of the first two groups, by Newcombe's score interval;
    None for other than two groups with answers."""

    groups: tuple[Share, ...]
    chosen: tuple[int, ...]
    level: float
    difference: float | None
    difference_low: float | None
    difference_high: float | None


def shares(
    answers: Ints, group: Ints, *, n_levels: int, n_groups: int, chosen: Sequence[int], level: float = 0.95
) -> Shares:
    """Return the share of the chosen answers in each group.

    Parameters: answers, group (n_rows,) places of the levels, -1 for missing; chosen: places of the answers that count,
    each once however often it is named.
    Raises: InputError for a chosen place that is none.
    References: wilson-1927; newcombe-1998; newcombe-1998-difference.
    """
    within(level, above=0, below=1, where="level")
    same_length(answers.size, group.size, where="group")
    if any(not 0 <= place < n_levels for place in chosen):
        raise InputError("no-level", "A chosen answer is none of the levels.", where="chosen")
    chosen = tuple(dict.fromkeys(chosen))
    here = group >= 0
    given = here & (answers >= 0)
    size = n_groups * n_levels
    table = np.bincount(group[given] * n_levels + answers[given], minlength=size).reshape(n_groups, n_levels)
    rows = np.bincount(group[here], minlength=n_groups)
    result = []
    for counts, n_rows in zip(table, rows.tolist(), strict=True):
        n = int(counts.sum())
        taken = int(counts[[*chosen]].sum())
        ends = wilson(taken, n, level) if n else (None, None)
        result.append(Share(counts, n, n_rows - n, taken, taken / n if n else None, *ends))
    filled = [each for each in result if each.n]
    gap = _difference(*filled) if len(filled) == 2 else (None, None, None)
    return Shares(tuple(result), chosen, level, *gap)


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
