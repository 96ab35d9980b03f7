"""Answers that are levels: how large a share of each group gave which."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from heron.checks import Floats, Ints, choose, within
from heron.grouping import By, groups_of, label_of
from heron.groups.bars import wilson
from heron.groups.two_shares import TwoShares, two_shares
from heron.results import Result


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
class Shares(Result, rows="groups"):
    """The groups in their order. levels: the answers; chosen: the places of those that count. two: of the shares of
    the first two groups; None for other than two groups with answers."""

    groups: tuple[Share, ...]
    levels: tuple[str, ...]
    chosen: tuple[int, ...]
    level: float
    two: TwoShares | None


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

    Parameters
    ----------
    answers : (n_rows,) labels
        The answer of each row, in any form that `groups_of` takes.
    by : (n_rows,) labels, optional
        The group of each row, in any form that `groups_of` takes; rows of no group take no part. By default all rows
        are one group.
    order : sequence of labels, optional
        The groups in their order; by default as their labels bring it, or sort.
    levels : sequence of labels, optional
        The answers in their order.
    chosen : sequence of labels
        The answers that count, each once however often it is named.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Shares
        For each group how often each answer was given, and the share of the chosen ones with its score interval, from 0
        to 1; of two groups also how they differ.

    Raises
    ------
    ChoiceError
        For a chosen answer that is none of the levels.

    Notes
    -----
    Wilson's score interval; for two groups `heron.groups.two_shares`.

    References
    ----------
    wilson-1927
    newcombe-1998
    newcombe-1998-difference, table II

    Examples
    --------
    56 of 70 against 48 of 80, which Newcombe gives as 0.0524 to 0.3339:

    >>> answers = ["yes"] * 56 + ["no"] * 14 + ["yes"] * 48 + ["no"] * 32
    >>> result = shares(answers, ["a"] * 70 + ["b"] * 80, chosen=["yes"])
    >>> round(result.two.difference_low, 4), round(result.two.difference_high, 4)
    (0.0524, 0.3339)
    """
    within(level, above=0, below=1, where="level")
    answered = groups_of(answers, order=levels, where="answers")
    grouping = groups_of(by, answered.places.size, order=order)
    taken = [answered.labels.index(choose(label_of(answer), answered.labels, where="chosen")) for answer in chosen]
    places = tuple(dict.fromkeys(taken))
    n_levels, n_groups = len(answered.labels), len(grouping.labels)
    group = grouping.places
    in_group = group >= 0
    given = in_group & (answered.places >= 0)
    size = n_groups * n_levels
    table = np.bincount(group[given] * n_levels + answered.places[given], minlength=size).reshape(n_groups, n_levels)
    rows = np.bincount(group[in_group], minlength=n_groups)
    result = []
    for label, counts, n_rows in zip(grouping.labels, table, rows.tolist(), strict=True):
        n = int(counts.sum())
        k = int(counts[[*places]].sum())
        ends = wilson(k, n, level) if n else (None, None)
        result.append(Share(label, counts, n, n_rows - n, k, k / n if n else None, *ends))
    filled = [share for share in result if share.n]
    taken_of, sizes = [share.chosen for share in filled], [share.n for share in filled]
    two = two_shares(taken_of, sizes, level=level) if len(filled) == 2 else None
    return Shares(tuple(result), answered.labels, places, level, two)


def balance(counts: Ints, neutral: int | None) -> Floats:
    """Where each answer's part of a stacked bar begins and ends, as shares, (n_levels + 1,): from 0, or so that the
    middle of the neutral answer lies at 0."""
    edges = np.concatenate(([0.0], np.cumsum(counts) / max(int(counts.sum()), 1)))
    return edges if neutral is None else edges - (edges[neutral] + edges[neutral + 1]) / 2
