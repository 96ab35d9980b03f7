"""The normal Q-Q plot and its bands."""

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import ArrayLike, NDArray
from scipy import special

from heron.checks import Checked, Floats, Ints, as_values, choose, to_the_largest, within
from heron.errors import InputError
from heron.formatting import grouped, significant, there_are
from heron.normality.scores import blom_score, blom_scores
from heron.quantiles import of_sorted
from heron.results import Result

Singles = NDArray[np.float32]
Line = Literal["moments", "quartiles"]
SIMULATED_UP_TO = 2_000
SIMULATIONS = 4_000
LARGE_SAMPLE_POSITIONS = 400
STABLE_UP_TO = 20_000
_SEED = 20_250_611


@dataclass(frozen=True)
class QQ(Result, columns=("scores", "ordered", "rows", "point_low", "point_high")):
    """A normal Q-Q plot: the i-th smallest value against the score expected of it.

    All arrays have one entry per row of the input (with frequencies, per unit of frequency), values ascending, rows
    without a value last with NaN. scores: standard normal; ordered and all limits: unit of x; rows: the row that each
    entry came from. simultaneous limits are NaN above 2,000 values, with the reason in `undefined`.
    """

    scores: Floats
    ordered: Floats
    rows: Ints
    slope: float
    intercept: float
    point_low: Floats
    point_high: Floats
    simultaneous_low: Floats
    simultaneous_high: Floats
    level: float
    line: Line
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def quantile_plot(
    x: ArrayLike,
    *,
    level: float = 0.95,
    family: Literal["normal"] = "normal",
    line: Line = "moments",
    weights: ArrayLike | None = None,
) -> QQ:
    """Return the points, line and bands of a normal Q-Q plot.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    level : float, optional
        Of both bands, between 0 and 1.
    family : {"normal"}, optional
        What the values are set against; others are in `fit_family`.
    line : {"moments", "quartiles"}, optional
        Through mean and SD, or through the quartiles.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    QQ
        Normal scores (in SDs) and ordered values (in the unit of x), with the row of each.

    Raises
    ------
    InputError
        For fewer than 3 values or no spread.
    ChoiceError
        For a choice that there is not.

    Notes
    -----
    Positions are Blom's, (i - 3/8)/(n + 1/4). To 2,000 values the bands come of 4,000 seeded normal samples, each
    brought to its own line, so that they allow for the estimated mean and SD; simultaneous by equal local levels on the
    same samples. Above, pointwise z +/- c sqrt((p (1 - p)/phi(z)^2 - 1 - z^2/2)/n).

    References
    ----------
    blom-1958
    aldor-noiman-2013, for the idea of equal local levels

    Examples
    --------
    >>> plot = quantile_plot([5.1, 3.9, 4.4])
    >>> plot.ordered.tolist(), plot.rows.tolist()
    ([3.9, 4.4, 5.1], [1, 2, 0])
    """
    checked = as_values(x, weights=weights)
    choose(family, ("normal",), where="family")
    choose(line, ("moments", "quartiles"), where="line")
    within(level, above=0, below=1, where="level")
    n = checked.n
    if n < 3:
        raise InputError("too-few-values", f"A Q-Q plot needs at least 3 values; {there_are(n)}.", where="x")
    # Which of equal values stands first means nothing; with few of them it is the one of the first row.
    order = np.argsort(checked.values, kind="stable" if n <= STABLE_UP_TO else None)
    ordered = checked.values[order]
    if ordered[0] == ordered[-1]:
        raise InputError(
            "no-spread",
            f"A Q-Q plot needs at least 2 different values; all {n} are {significant(ordered[0])}.",
            where="x",
        )
    scores = blom_scores(n)
    intercept, slope = _line(ordered, line)
    if slope == 0:
        raise InputError(
            "no-quartile-spread",
            "The quartiles are equal, so no line goes through them.",
            where="line",
            remedy="Use the line through mean and SD.",
        )
    undefined: dict[str, str] = {}
    if n <= SIMULATED_UP_TO:
        bands = _simulated_bands(n, level, line)
    else:
        half = _large_sample_half_width(scores, n, level)
        bands = np.stack((scores - half, scores + half))
        reason = (
            f"The simultaneous band is simulated for up to {grouped(SIMULATED_UP_TO)} values; there are {grouped(n)}."
        )
        undefined = {"simultaneous_low": reason, "simultaneous_high": reason}
    with np.errstate(over="ignore"):
        limits = to_the_largest(intercept + slope * bands)
    none = np.full(n, np.nan)
    return QQ(
        scores=_padded(scores, checked),
        ordered=_padded(ordered, checked),
        rows=_all_rows(checked, order),
        slope=slope,
        intercept=intercept,
        point_low=_padded(limits[0], checked),
        point_high=_padded(limits[1], checked),
        simultaneous_low=_padded(limits[2] if len(limits) > 2 else none, checked),
        simultaneous_high=_padded(limits[3] if len(limits) > 2 else none, checked),
        level=level,
        line=line,
        n=n,
        n_missing=checked.n_missing,
        undefined=undefined,
    )


def _padded(values: Floats, checked: Checked) -> Floats:
    if values.size >= checked.length:
        return values
    return np.concatenate((values, np.full(max(checked.length - values.size, 0), np.nan)))


def _all_rows(checked: Checked, order: Ints) -> Ints:
    used = checked.positions[order] if checked.rows is not None else order
    if used.size >= checked.length:
        return used
    rest = np.ones(checked.length, dtype=bool)
    rest[used] = False
    return np.concatenate((used, np.flatnonzero(rest)[: max(checked.length - used.size, 0)]))


def _line(ordered: Floats, line: Line) -> tuple[float, float]:
    """(intercept, slope)."""
    if line == "moments":
        half = ordered[-1] / 2 - ordered[0] / 2
        return float((ordered / half).mean() * half), float((ordered / half).std(ddof=1) * half)
    q1, q3 = of_sorted(ordered, np.array([0.25, 0.75]), 7).tolist()
    return 0.5 * q1 + 0.5 * q3, (q3 - q1) / (2 * float(special.ndtri(0.75)))


@lru_cache(maxsize=512)
def _simulated_bands(n: int, level: float, line: Line) -> Floats:
    """(4, n) standardized limits: pointwise low and high, simultaneous low and high; kept for the next call."""
    # Single precision is far finer than 4,000 samples can tell, and halves the time.
    samples = np.random.default_rng([_SEED, n]).standard_normal((SIMULATIONS, n), dtype=np.float32)
    samples.sort(axis=1)
    if line == "moments":
        samples -= samples.mean(axis=1, keepdims=True)
        samples /= samples.std(axis=1, ddof=1, keepdims=True)
    else:
        quartiles = np.quantile(samples, [0.25, 0.75], axis=1)
        samples -= quartiles.mean(axis=0)[:, None]
        samples /= ((quartiles[1] - quartiles[0]) / (2 * special.ndtri(0.75)))[:, None]
    by_position = np.ascontiguousarray(samples.T)
    ordered = np.sort(by_position, axis=1)
    k = _shallowest(by_position, ordered, level)
    tails = np.array([(1 - level) / 2, (1 + level) / 2]) * (SIMULATIONS - 1)
    whole = np.floor(tails).astype(int)
    part = tails - whole
    point = [
        ordered[:, i] * (1 - f) + ordered[:, min(i + 1, SIMULATIONS - 1)] * f for i, f in zip(whole, part, strict=True)
    ]
    return np.stack([*point, ordered[:, k - 1], ordered[:, SIMULATIONS - k]]).astype(np.float64)


def _large_sample_half_width(scores: Floats, n: int, level: float) -> Floats:
    """(k,) c sqrt((p(1-p)/phi(z)^2 - 1 - z^2/2)/n), worked at 400 scores and joined by straight lines; scores
    ascending, from the first of n to the last."""
    z = np.linspace(scores[0], scores[-1], LARGE_SAMPLE_POSITIONS)
    variance = np.exp(special.log_ndtr(z) + special.log_ndtr(-z) + z**2) * 2 * np.pi - 1 - z**2 / 2
    half = special.ndtri((1 + level) / 2) * np.sqrt(np.maximum(variance, 0) / n)
    return np.asarray(np.interp(scores, z, half), dtype=np.float64)


@dataclass(frozen=True)
class LargeBand:
    """The line of a Q-Q plot of many values, and its pointwise band at some scores."""

    scores: Floats
    low: Floats
    high: Floats
    intercept: float
    slope: float


def large_band(mean: float, sd: float, n: int, ranks: Ints, level: float) -> LargeBand:
    """The band of more than 2,000 values about the line through mean and SD, at ascending ranks from the first to
    the last."""
    scores = blom_score(ranks, n)
    half = _large_sample_half_width(scores, n, level)
    with np.errstate(over="ignore"):
        low, high = to_the_largest(mean + sd * (scores - half)), to_the_largest(mean + sd * (scores + half))
    return LargeBand(scores, low, high, mean, sd)


def _shallowest(samples: Singles, ordered: Singles, level: float) -> int:
    """The largest k for which at least `level` of the samples stay between the k-th smallest and k-th largest value
    at every position; samples and ordered (n, SIMULATIONS), the latter ascending. Coverage falls with k."""
    inside, outside = 1, SIMULATIONS // 2
    while outside - inside > 1:
        k = (inside + outside) // 2
        within_band = (samples >= ordered[:, k - 1, None]) & (samples <= ordered[:, SIMULATIONS - k, None])
        if np.count_nonzero(within_band.all(axis=0)) >= level * SIMULATIONS:
            inside = k
        else:
            outside = k
    return inside
