"""Answers that are levels: how large a share of each group gave which."""

from dataclasses import dataclass, replace

import numpy as np

from heron import groups
from heron.association import Association, of_counts, words_on_association
from heron.errors import InputError
from heron.formatting import counted, fixed, percent, typeset
from heron.groups import TwoShares
from heron.ledger import Used, VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.subject import Subject, series_of, subject_of, used_of

MOST_GROUPS = 300
MOST_ANSWERS = 60


@dataclass(frozen=True)
class SharedGroup:
    """One group as it is shown. edges: where each answer's part of a stacked bar begins and ends, from 0, or about the
    neutral one."""

    found: groups.Share
    edges: tuple[float, ...]


@dataclass(frozen=True)
class SharesReading:
    """Groups in the order of the levels; answers: all levels of the variable; chosen: those whose share is told."""

    subject: Subject
    used: Used
    by: str
    answers: tuple[str, ...]
    chosen: tuple[int, ...]
    neutral: int | None
    groups: tuple[SharedGroup, ...]
    level: float
    without_group: int
    two: TwoShares | None
    association: Association
    words: tuple[str, ...]


def shared(
    variable: VariableView,
    by: VariableView,
    chosen: tuple[int, ...],
    neutral: int | None,
    level: float,
    cancellation: Cancellation,
) -> SharesReading:
    series = series_of(variable, by)
    (answers, given), (labels, index) = series.levels(variable.symbol), series.levels(by.symbol)
    for n, most, of, where in (
        (len(answers), MOST_ANSWERS, variable, "variable"),
        (len(labels), MOST_GROUPS, by, "by"),
    ):
        if n > most:
            raise InputError(
                "too-many-levels",
                f"{of.label} has {n} levels; at most {most} are set side by side.",
                where=where,
                remedy="Merge levels under Rescale, or choose another variable.",
            )
    taken = chosen or ((len(answers) - 1,) if answers else ())
    if max(taken, default=0) >= max(len(answers), 1):
        raise InputError("no-level", "A chosen answer is none of the levels.", where="chosen")
    cancellation.check()
    result = groups.shares(
        series.grouping(variable.symbol), series.grouping(by.symbol), chosen=[answers[i] for i in taken], level=level
    )
    cancellation.check()
    together = of_counts(np.array([group.counts for group in result.groups]).reshape(len(labels), -1), level=level)
    middle = neutral if neutral is not None and neutral < len(answers) else None
    parts = tuple(
        SharedGroup(replace(group, label=typeset(label)), tuple(groups.balance(group.counts, middle).tolist()))
        for label, group in zip(labels, result.groups, strict=True)
    )
    return SharesReading(
        subject_of(variable),
        used_of(variable, series),
        typeset(by.label),
        tuple(map(typeset, answers)),
        taken,
        middle,
        parts,
        level,
        int(np.count_nonzero((given >= 0) & (index < 0))),
        result.two,
        together,
        (
            *_words(parts, [typeset(answers[answer]) for answer in taken], level, result),
            *words_on_association(together, typeset(variable.label), typeset(by.label)),
        ),
    )


def _words(parts: tuple[SharedGroup, ...], chosen: list[str], level: float, shares: groups.Shares) -> tuple[str, ...]:
    known = [(part.found.share, part) for part in parts if part.found.share is not None]
    if not known:
        return ("No group has an answer.",)
    most, least = max(known, key=lambda pair: pair[0]), min(known, key=lambda pair: pair[0])
    what = " or ".join(chosen)
    said = [
        f"{counted(len(known), 'group')} with answers. The share of {what} is largest in {most[1].found.label} "
        f"({_percent(most[0])}, {most[1].found.chosen} of {most[1].found.n}) and smallest in {least[1].found.label} "
        f"({_percent(least[0])}, {least[1].found.chosen} of {least[1].found.n})."
    ]
    if shares.two is not None:
        two = shares.two
        said.append(
            f"They differ by {fixed(100 * two.difference, 1)} percentage points, "
            f"{fixed(100 * two.difference_low, 1)} to {fixed(100 * two.difference_high, 1)} at {percent(level)}."
        )
    few = [part.found.label for part in parts if 0 < part.found.n < 10]
    if few:
        said.append(f"Fewer than 10 answers in {', '.join(few[:5])}: their shares say little.")
    empty = [part.found.label for part in parts if part.found.n == 0]
    if empty:
        said.append(f"No answer in {', '.join(empty[:5])}.")
    return tuple(said)


def _percent(share: float) -> str:
    return f"{fixed(100 * share, 1)} %"
