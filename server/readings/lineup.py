"""The line-up as it is shown: twenty panels, without a word on which of them are the data."""

from dataclasses import dataclass

import numpy as np
from heron import density, frequency, normality, thinning
from heron.checks import Floats
from heron.errors import InputError
from heron.ledger import Used
from heron.readings import Subject, numbers_of

from server.studies.snapshots import VariableSnapshot

_MOST_CLASSES = 24


@dataclass(frozen=True)
class Panel:
    """One panel: (n_points,) ascending values at the scores; (n_classes,) counts; x, heights: (n_curve,) a density."""

    ordered: Floats
    counts: Floats
    x: Floats
    heights: Floats


@dataclass(frozen=True)
class LineUpShown:
    """scores: (n_points,); boundaries: (n_classes + 1,) of the classes, the same in all panels."""

    subject: Subject
    used: Used
    scores: Floats
    boundaries: Floats
    panels: tuple[Panel, ...]
    n: int
    n_shown: int
    seed: int


def shown(variable: VariableSnapshot, seed: int) -> LineUpShown:
    numbers = numbers_of(variable)
    result = normality.line_up(numbers.values, seed=seed, decimals=variable.decimals)
    at = thinning.positions(result.n_shown)
    boundaries = _classes(result)
    panels = []
    for values in result.panels:
        x, heights = _curve(values)
        panels.append(Panel(values[at], np.histogram(values, boundaries)[0].astype(np.float64), x, heights))
    return LineUpShown(
        numbers.subject,
        numbers.used,
        result.scores[at],
        boundaries,
        tuple(panels),
        result.n,
        result.n_shown,
        result.seed,
    )


def _classes(line_up: normality.LineUp) -> Floats:
    """Classes that hold all panels, about as many as suit the data."""
    low, high = float(line_up.panels.min()), float(line_up.panels.max())
    usual = frequency.classify(line_up.panels[line_up.place], rule="sturges")
    width = usual.width or (high - low) / 10
    width = max(width, (high - low) / _MOST_CLASSES)
    first = np.floor(low / width)
    return np.arange(first, np.ceil(high / width) + 1.5) * width


def _curve(values: Floats) -> tuple[Floats, Floats]:
    try:
        curve = density.kernel_density(values, points=96)
    except InputError:
        return np.empty(0), np.empty(0)
    return curve.x, curve.density
