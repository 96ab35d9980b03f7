"""Two variables that measure the same: how far they lie apart."""

from dataclasses import dataclass, replace

import numpy as np

from heron import agreement
from heron.checks import Ints
from heron.columns import NUMBER_KINDS
from heron.formatting import typeset
from heron.ledger import VariableView
from heron.readings.cancellation import Cancellation
from heron.readings.pairs import Lost, lost_pairs
from heron.readings.subject import Subject, series_of, subject_of


@dataclass(frozen=True)
class AgreementSettings:
    """margin: the bias that does no harm, None for none."""

    scale: agreement.DifferenceScale
    margin: float | None
    level: float


@dataclass(frozen=True)
class AgreementReading:
    """first less second, or over it, in numbers."""

    first: Subject
    second: Subject
    numbers: agreement.Agreement
    lost: tuple[Lost, ...]
    words: tuple[str, ...]


@dataclass(frozen=True)
class AgreementDrawn:
    """The same with its pairs. rows: (n_pairs,) from 1."""

    told: AgreementReading
    found: agreement.Agreement
    rows: Ints


def agreement_reading(
    first: VariableView, second: VariableView, settings: AgreementSettings, cancellation: Cancellation
) -> AgreementReading:
    return drawn(first, second, settings, cancellation).told


def drawn(
    first: VariableView, second: VariableView, settings: AgreementSettings, cancellation: Cancellation
) -> AgreementDrawn:
    """How two variables agree, worked once for its picture and its numbers."""
    question = "agreement", first.symbol, second.symbol, settings.scale, settings.margin, settings.level
    agreement_drawn: AgreementDrawn = first.table.remembered(question, lambda: _drawn(first, second, settings))
    cancellation.check()
    return agreement_drawn


_NONE = np.empty(0)


def _drawn(first: VariableView, second: VariableView, settings: AgreementSettings) -> AgreementDrawn:
    loaded = series_of(first, second)
    a, b = (loaded.numbers(variable.symbol, NUMBER_KINDS) for variable in (first, second))
    found = agreement.agree(a, b, scale=settings.scale, margin=settings.margin, level=settings.level)
    names = typeset(first.label), typeset(second.label)
    none = _NONE.astype(np.int64)
    short = replace(found, means=_NONE, differences=_NONE, beyond=none, rows=none, lost_rows=none)
    told = AgreementReading(
        subject_of(first),
        subject_of(second),
        short,
        lost_pairs(loaded, first, second),
        agreement.words_on_agreement(found, *names, typeset(first.unit)),
    )
    return AgreementDrawn(told, found, loaded.positions(found.rows) + 1)
