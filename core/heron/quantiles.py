"""Quantiles under every definition in use, hinges, and the empirical distribution function."""

from dataclasses import dataclass, field
from itertools import starmap
from typing import Literal, overload

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, as_values, choose
from heron.choices import Choice, by_id
from heron.errors import InputError
from heron.ordered import Ordered

Definition = Literal[1, 2, 3, 4, 5, 6, 7, 8, 9, "hinges"]
DEFINITIONS: tuple[Definition, ...] = (1, 2, 3, 4, 5, 6, 7, 8, 9, "hinges")


@dataclass(frozen=True, kw_only=True)
class QuantileChoice(Choice):
    """A definition. method: what numpy calls it, "" where it has none."""

    method: str


def _definition(identity: str, method: str, help_text: str) -> QuantileChoice:
    if identity == "hinges":
        clause, sources = "quartiles are the medians of the two halves", ("tukey-1977",)
    else:
        clause, sources = f"quartiles follow definition {identity}", ("hyndman-fan-1996",)
    label = identity if identity == "hinges" else f"definition {identity}"
    return QuantileChoice(
        id=identity, label=label, help=help_text, caption=label, methods=clause, sources=sources, method=method
    )


_BY_RANK = "Straight lines through the steps, rank n p. In some databases and older programs."
# What each is, and who uses it.
_USES = (
    ("1", "inverted_cdf", "A value that occurred: the first at or above the share. In official statistics, databases."),
    ("2", "averaged_inverted_cdf", "As 1, halfway between two values at a step. In many textbooks, for work by hand."),
    ("3", "closest_observation", "The value of the nearest rank. In some older packages and survey handbooks."),
    ("4", "interpolated_inverted_cdf", _BY_RANK),
    ("5", "hazen", "Straight lines through the middles of the steps. In engineering and hydrology handbooks."),
    ("6", "weibull", "Rank (n + 1) p. In handbooks of quality control and many packages for social science."),
    ("7", "linear", "Rank (n − 1) p + 1. In spreadsheets and most programming languages."),
    ("8", "median_unbiased", "Nearly median-unbiased whatever the distribution; what Hyndman and Fan recommend."),
    ("9", "normal_unbiased", "Nearly unbiased for normal values; the positions of many Q-Q plots."),
    ("hinges", "", "Medians of the two halves, the middle value in both. Box plots drawn by hand."),
)
QUANTILE_DEFINITIONS = by_id(starmap(_definition, _USES))
DEFINITION_WORDS = {identity: record.label for identity, record in QUANTILE_DEFINITIONS.items()}

# Each continuous definition by its (alpha, beta) in m = alpha + p (1 - alpha - beta), Hyndman and Fan (1996), p. 363.
_PLOTTING = {4: (0.0, 1.0), 5: (0.5, 0.5), 6: (0.0, 0.0), 7: (1.0, 1.0), 8: (1 / 3, 1 / 3), 9: (3 / 8, 3 / 8)}


@dataclass(frozen=True)
class Hinges:
    """The middle three of the five-number summary, in the unit of the data; None where there is no value."""

    lower: float | None
    median: float | None
    upper: float | None
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Distribution:
    """The empirical distribution function: `share[i]` of the values are `x[i]` or less; x (distinct,) ascending."""

    x: Floats
    share: Floats
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


@overload
def quantile(x: ArrayLike, p: float, *, definition: Definition = ..., weights: ArrayLike | None = ...) -> float: ...
@overload
def quantile(
    x: ArrayLike, p: ArrayLike, *, definition: Definition = ..., weights: ArrayLike | None = ...
) -> float | Floats: ...
def quantile(
    x: ArrayLike, p: ArrayLike, *, definition: Definition = 7, weights: ArrayLike | None = None
) -> float | Floats:
    """Return the quantiles of a variable.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    p : float or array_like of float
        Shares, from 0 to 1.
    definition : int or "hinges", optional
        1 to 9 as Hyndman and Fan number them, or Tukey's hinges.
    weights : (n_rows,) array_like of int, optional
        How often each row counts: whole numbers of 0 or more.

    Returns
    -------
    float or ndarray
        In the unit of x: one number for one p, else an array of p's shape; NaN when x has no value.

    Raises
    ------
    ChoiceError
        For an unknown definition.
    InputError
        For p outside 0 to 1, or for hinges at another p than 0, 1/4, 1/2, 3/4 and 1.

    Notes
    -----
    Q(p) = (1 - g) x(j) + g x(j + 1) with j = floor(n p + m); m and g are the definition's.

    References
    ----------
    hyndman-fan-1996, table 1
    tukey-1977, for hinges

    Examples
    --------
    >>> quantile([1, 2, 3, 4], 0.25), quantile([1, 2, 3, 4], 0.25, definition=6)
    (1.75, 1.25)
    """
    checked = as_values(x, weights=weights)
    shares = np.asarray(p, dtype=np.float64)
    if not np.all((shares >= 0) & (shares <= 1)):
        raise InputError("share-range", "A quantile needs shares from 0 to 1.", where="p", remedy="Write 25 % as 0.25.")
    choose(definition, DEFINITIONS, where="definition")
    result = of_sorted(np.sort(checked.values), shares, definition)
    return float(result) if shares.ndim == 0 else result


def of_sorted(ordered: Floats | Ordered, shares: Floats, definition: Definition) -> Floats:
    """Quantiles of values in ascending order whose arguments are checked already; NaN where there are none."""
    n = ordered.size
    if n == 0:
        return np.full(shares.shape, np.nan)
    if definition == "hinges":
        depth = _hinge_depths(shares, n)
    elif definition in _PLOTTING:
        alpha, beta = _PLOTTING[definition]
        depth = n * shares + alpha + shares * (1 - alpha - beta)
    else:
        return _step_quantile(ordered, shares, definition)
    # A depth that is whole but for rounding is whole: otherwise definition 6 at p = 0.1, n = 9 picks the wrong pair.
    near = np.rint(depth)
    depth = np.where(np.abs(depth - near) < 4 * np.finfo(float).eps * n, near, depth)
    below = np.floor(depth)
    part = depth - below
    low = ordered[np.clip(below.astype(np.int64) - 1, 0, n - 1)]
    high = ordered[np.clip(below.astype(np.int64), 0, n - 1)]
    # Weights before the sum, so that the mean of two values near 1e308 does not overflow.
    return np.where(low == high, low, (1 - part) * low + part * high)


def _step_quantile(ordered: Floats | Ordered, shares: Floats, definition: int | str) -> Floats:
    """Definitions 1 to 3, discontinuous."""
    n = ordered.size
    depth = n * shares - (0.5 if definition == 3 else 0.0)
    near = np.rint(depth)
    depth = np.where(np.abs(depth - near) < 4 * np.finfo(float).eps * n, near, depth)
    below = np.floor(depth)
    whole = depth == below
    if definition == 1:
        part = np.where(whole, 0.0, 1.0)
    elif definition == 2:
        part = np.where(whole, 0.5, 1.0)
    else:
        part = np.where(whole & (below % 2 == 0), 0.0, 1.0)
    low = ordered[np.clip(below.astype(np.int64) - 1, 0, n - 1)]
    high = ordered[np.clip(below.astype(np.int64), 0, n - 1)]
    return np.where(part == 0, low, np.where(part == 1, high, 0.5 * low + 0.5 * high))


def _hinge_depths(shares: Floats, n: int) -> Floats:
    hinge = (np.floor((n + 1) / 2) + 1) / 2
    known = {0.0: 1.0, 0.25: hinge, 0.5: (n + 1) / 2, 0.75: n + 1 - hinge, 1.0: float(n)}
    flat = [known.get(float(share)) for share in shares.ravel()]
    if any(depth is None for depth in flat):
        raise InputError(
            "hinges-share",
            "Hinges exist for the shares 0, 0.25, 0.5, 0.75 and 1 only.",
            where="p",
            remedy="Choose one of the definitions 1 to 9 for other shares.",
        )
    return np.array(flat, dtype=np.float64).reshape(shares.shape)


def hinges(x: ArrayLike) -> Hinges:
    """Return the hinges and median: medians of the lower and upper half, the median in both when n is odd.

    Parameters: x (n_rows,) floats, NaN for missing. References: tukey-1977, chapter 2.
    """
    checked = as_values(x)
    if checked.n == 0:
        why = "There is no value."
        return Hinges(None, None, None, 0, checked.n_missing, {"lower": why, "median": why, "upper": why})
    lower, median, upper = of_sorted(np.sort(checked.values), np.array([0.25, 0.5, 0.75]), "hinges").tolist()
    return Hinges(lower, median, upper, checked.n, checked.n_missing)


def distribution(x: ArrayLike) -> Distribution:
    """Return the empirical distribution function at each distinct value.

    Parameters: x (n_rows,) floats, NaN for missing. Returns shares in (0, 1]; empty arrays when there is no value.
    """
    checked = as_values(x)
    distinct, counts = np.unique(checked.values, return_counts=True)
    undefined = {} if checked.n else {"x": "There is no value.", "share": "There is no value."}
    return Distribution(distinct, np.cumsum(counts) / max(checked.n, 1), checked.n, checked.n_missing, undefined)
