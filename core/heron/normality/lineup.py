"""The line-up: the data hidden among samples of the fitted normal distribution."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, as_values
from heron.errors import InputError
from heron.formatting import there_are
from heron.normality.scores import blom_scores

PANELS = 20
MOST_SHOWN = 2_000
FEWEST = 5


@dataclass(frozen=True)
class LineUp:
    """panels: (20, n_shown) ascending values, one row of them the data; place: which, from 0; scores: (n_shown,) the
    standard normal scores expected of ordered values; n: values there are; n_shown: those used, a random sample of
    them above 2,000."""

    panels: Floats
    place: int
    scores: Floats
    mean: float
    sd: float
    n: int
    n_shown: int
    n_missing: int
    seed: int


def line_up(x: ArrayLike, *, seed: int, decimals: int | None = None) -> LineUp:
    """Return the data among 19 samples of the normal distribution of the same mean and SD, in random order.

    Parameters: x (n_rows,) floats, NaN for missing; seed, of samples and order; decimals, to which the data were
    recorded, so that samples are rounded alike (None for no rounding).
    Raises: InputError for fewer than 5 values or none that differ.
    Notes: if the data were normal, a viewer who has not seen them would pick them with probability 1/20.
    References: buja-2009.
    """
    checked = as_values(x)
    n = checked.n
    if n < FEWEST:
        raise InputError("too-few-values", f"A line-up needs at least {FEWEST} values; {there_are(n)}.", where="x")
    rng = np.random.default_rng(seed)
    values = checked.values if n <= MOST_SHOWN else rng.choice(checked.values, MOST_SHOWN, replace=False)
    mean, sd = float(np.mean(values)), float(np.std(values, ddof=1))
    if not (np.isfinite(sd) and sd > 0):
        raise InputError("no-spread", "A line-up needs values that differ.", where="x")
    panels = mean + sd * rng.standard_normal((PANELS, values.size))
    panel = int(rng.integers(PANELS))
    panels[panel] = values
    if decimals is not None:
        panels = np.round(panels, decimals)
    panels.sort(axis=1)
    return LineUp(panels, panel, blom_scores(values.size), mean, sd, n, values.size, checked.n_missing, seed)
