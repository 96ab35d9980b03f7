"""Q-Q and P-P plots against normal, log-normal, Weibull, exponential and gamma distributions."""

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike
from scipy import special

from heron.checks import Floats, Ints, as_values, choose, within
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.formatting import grouped, significant, there_are
from heron.results import Result

Family = Literal["normal", "log-normal", "weibull", "exponential", "gamma"]
BANDS_UP_TO = 2_000
SIMULATIONS = 499
_SEED = 20_250_907
_FEWEST = 3


@dataclass(frozen=True)
class Fitted(Result, columns=("expected", "ordered", "rows", "low", "high")):
    """A distribution fitted to values, and both plots against it; all arrays (n,), in order of the values.

    parameters: by name, maximum likelihood (the normal SD with divisor n - 1). ordered: the values; rows: the row of
    each; expected: the quantiles at Blom's positions; low, high: between which `level` of samples of the fitted
    distribution lie at each position, fitted anew each time, NaN above 2,000 values. positions: Blom's; probabilities:
    of the values under the fitted distribution. correlation: of ordered and expected, an effect size.
    """

    family: Family
    parameters: dict[str, float]
    ordered: Floats
    rows: Ints
    expected: Floats
    low: Floats
    high: Floats
    positions: Floats
    probabilities: Floats
    correlation: float
    level: float
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


Samples = Floats  # (n_samples, n)
Parameters = tuple[Floats, ...]  # (n_samples,) each


@dataclass(frozen=True, kw_only=True)
class FamilyChoice(Choice):
    """A family of distributions. names: of its parameters; positive: whether 0 itself is out of reach; bounded: whether
    it has no values below 0; fit: parameters of each sample, (n_samples,) each; quantile and share
    by parameters of one sample."""

    names: tuple[str, ...]
    positive: bool
    bounded: bool
    fit: Callable[[Samples], Parameters]
    quantile: Callable[..., Floats]
    share: Callable[..., Floats]


def fit_family(x: ArrayLike, *, family: Family = "normal", level: float = 0.95) -> Fitted:
    """Return a distribution fitted to a variable, with its Q-Q and P-P plots.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    family : str, optional
        "normal", "log-normal", "weibull", "exponential" or "gamma".
    level : float, optional
        Of the pointwise band, between 0 and 1.

    Returns
    -------
    Fitted
        Its parameters by name, and for each value what is expected in its place, in the unit of x.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For fewer than 3 values, no spread, or values that the family cannot have.

    Notes
    -----
    By maximum likelihood. Log-normal: mean and SD (divisor n - 1) of ln x; Weibull and gamma: shape and scale, from 0;
    exponential: mean, from 0. Positions are Blom's, (i - 3/8)/(n + 1/4). The band is a parametric bootstrap of 499
    seeded samples, each fitted anew and laid on the observed fit.

    References
    ----------
    blom-1958
    minka-2002, for the gamma shape

    Examples
    --------
    >>> fit_family([1.0, 2.0, 3.0, 6.0], family="exponential").parameters
    {'mean': 3.0}
    """
    choose(family, FAMILIES, where="family")
    within(level, above=0, below=1, where="level")
    checked = as_values(x)
    n, how = checked.n, FAMILIES[family]
    if n < _FEWEST:
        raise InputError("too-few-values", f"It needs at least {_FEWEST} values; {there_are(n)}.", where="x")
    order = np.argsort(checked.values, kind="stable")
    ordered = checked.values[order]
    if ordered[0] == ordered[-1]:
        raise InputError("no-spread", f"All {n} values are {significant(ordered[0])}.", where="x")
    _check_range(checked.values, checked.positions, family, how)
    # Parameters are found on values near 1, and scaled back: scale families, and the normal by its SD.
    unit = float(np.max(np.abs(ordered)))
    parameters = tuple(float(p[0]) for p in how.fit(ordered[None, :] / unit))
    positions = np.asarray((np.arange(1, n + 1) - 0.375) / (n + 0.25), dtype=np.float64)
    expected = how.quantile(positions, *parameters) * unit
    probabilities = how.share(ordered / unit, *parameters)
    low, high = np.full(n, np.nan), np.full(n, np.nan)
    undefined: dict[str, str] = {}
    if n <= BANDS_UP_TO:
        with np.errstate(over="ignore"):
            low, high = (side * unit for side in _band(family, parameters, n, level))
    else:
        reason = f"The band is simulated for up to {grouped(BANDS_UP_TO)} values; there are {grouped(n)}."
        undefined = {"low": reason, "high": reason}
    return Fitted(
        family,
        dict(zip(how.names, _in_unit(family, parameters, unit), strict=True)),
        ordered,
        checked.positions[order],
        expected,
        low,
        high,
        positions,
        probabilities,
        float(np.corrcoef(ordered / unit, expected / unit)[0, 1]),
        level,
        n,
        checked.n_missing,
        undefined,
    )


def percent_points(fitted: Fitted, shares: ArrayLike) -> Floats:
    """Return the values below which shares of a fitted distribution lie."""
    return FAMILIES[fitted.family].quantile(np.asarray(shares, dtype=np.float64), *fitted.parameters.values())


def _check_range(values: Floats, rows: Ints, family: Family, how: FamilyChoice) -> None:
    if not how.bounded:
        return
    outside = values <= 0 if how.positive else values < 0
    if outside.any():
        least = "above 0" if how.positive else "of 0 or more"
        count = int(np.count_nonzero(outside))
        raise InputError(
            "out-of-family",
            f"A {family} distribution has only values {least}; {count} {'is' if count == 1 else 'are'} not.",
            where="x",
            rows=rows[outside][:100].tolist(),
            remedy="Choose another distribution, or set them aside.",
        )


def _in_unit(family: Family, parameters: tuple[float, ...], unit: float) -> tuple[float, ...]:
    if family == "normal":
        return parameters[0] * unit, parameters[1] * unit
    if family == "log-normal":
        return parameters[0] + math.log(unit), parameters[1]
    if family == "exponential":
        return (parameters[0] * unit,)
    return parameters[0], parameters[1] * unit


@lru_cache(maxsize=64)
def _band(family: Family, parameters: tuple[float, ...], n: int, level: float) -> tuple[Floats, Floats]:
    """(n,) lower and upper limits on the axis of the values."""
    how = FAMILIES[family]
    samples = how.quantile(np.random.default_rng([_SEED, n]).random((SIMULATIONS, n)), *parameters)
    samples.sort(axis=1)
    fitted = how.fit(samples)
    # Each sample is laid on the observed fit: its values by its own distribution, then back by the observed one.
    columns = tuple(parameter[:, None] for parameter in fitted)
    shares = np.clip(how.share(samples, *columns), 1e-300, 1 - 1e-16)
    limits = np.quantile(shares, [(1 - level) / 2, (1 + level) / 2], axis=0)
    return how.quantile(limits[0], *parameters), how.quantile(limits[1], *parameters)


def _fit_normal(samples: Samples) -> Parameters:
    return samples.mean(axis=1), samples.std(axis=1, ddof=1)


def _fit_log_normal(samples: Samples) -> Parameters:
    return _fit_normal(np.log(samples))


def _fit_exponential(samples: Samples) -> Parameters:
    return (samples.mean(axis=1),)


def _fit_gamma(samples: Samples) -> Parameters:
    """Newton's method on ln(k) - digamma(k) = ln(mean) - mean(ln), in 1/k (Minka 2002)."""
    mean = samples.mean(axis=1)
    s = np.maximum(np.log(mean) - np.log(samples).mean(axis=1), 1e-14)
    k = (3 - s + np.sqrt((s - 3) ** 2 + 24 * s)) / (12 * s)
    for _ in range(12):
        gap = np.log(k) - special.digamma(k) - s
        k = 1 / (1 / k + gap / (k**2 * (1 / k - special.polygamma(1, k))))
    return k, mean / k


def _fit_weibull(samples: Samples) -> Parameters:
    """Newton's method on sum(x^k ln x)/sum(x^k) - 1/k = mean(ln x), on values over the largest of each sample."""
    top = samples.max(axis=1, keepdims=True)
    logs = np.log(samples / top)
    mean = logs.mean(axis=1)
    k = np.pi / np.sqrt(6) / np.maximum(logs.std(axis=1), 1e-12)
    for _ in range(40):
        powers = np.exp(k[:, None] * logs)
        total = powers.sum(axis=1)
        first = (powers * logs).sum(axis=1) / total
        second = (powers * logs**2).sum(axis=1) / total
        step = (first - 1 / k - mean) / (second - first**2 + 1 / k**2)
        k = np.maximum(k - step, k / 4)
        if np.all(np.abs(step) < 1e-13 * k):
            break
    scale = np.exp(np.log(np.exp(k[:, None] * logs).mean(axis=1)) / k)
    return k, scale * top[:, 0]


def _family(identity: Family, label: str, help_text: str, **of_it: Any) -> FamilyChoice:
    clause = f"a {label} distribution was fitted by maximum likelihood"
    sources = ("minka-2002",) if identity == "gamma" else ()
    return FamilyChoice(
        id=identity, label=label, help=help_text, caption=label, methods=clause, sources=sources, **of_it
    )  # fmt: skip


FAMILIES: dict[str, FamilyChoice] = by_id(
    (
        _family(
            "normal", "normal", "Mean and SD; symmetric, without an end.", names=("mean", "SD"), positive=False,
            bounded=False, fit=_fit_normal,
            quantile=lambda p, mean, sd: mean + sd * special.ndtri(p),
            share=lambda x, mean, sd: special.ndtr((x - mean) / sd),
        ),
        _family(
            "log-normal", "log-normal", "Logs are normal; values above 0.", names=("mean of ln", "SD of ln"),
            positive=True, bounded=True, fit=_fit_log_normal,
            quantile=lambda p, mean, sd: np.exp(mean + sd * special.ndtri(p)),
            share=lambda x, mean, sd: special.ndtr((np.log(x) - mean) / sd),
        ),
        _family(
            "weibull", "Weibull", "Times to failure and strengths; values above 0.", names=("shape", "scale"),
            positive=True, bounded=True, fit=_fit_weibull,
            quantile=lambda p, k, scale: scale * (-np.log1p(-p)) ** (1 / k),
            share=lambda x, k, scale: -np.expm1(-((x / scale) ** k)),
        ),
        _family(
            "exponential", "exponential", "Times between events at a constant rate; values from 0.", names=("mean",),
            positive=False, bounded=True, fit=_fit_exponential,
            quantile=lambda p, mean: -mean * np.log1p(-p),
            share=lambda x, mean: -np.expm1(-x / mean),
        ),
        _family(
            "gamma", "gamma", "Sums of waiting times; values above 0.", names=("shape", "scale"), positive=True,
            bounded=True, fit=_fit_gamma,
            quantile=lambda p, k, scale: scale * special.gammaincinv(k, p),
            share=lambda x, k, scale: special.gammainc(k, x / scale),
        ),
    )
)  # fmt: skip
