"""The transformations: each with what it can take, its inverse, and the words for label and unit."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats, Ints, as_values, choose
from heron.errors import InputError
from heron.normality import blom_scores
from heron.quantiles import of_sorted

Setting = Mapping[str, Any]
MAD_TO_SD = 1 / float(special.ndtri(0.75))


@dataclass(frozen=True)
class Rescaled:
    """Values on another scale. values: (n_rows,) NaN for missing; lost: (k,) the rows whose value the scale cannot
    take, with why in words and what can be done about it."""

    values: Floats
    lost: Ints
    why: str
    ways_out: tuple[str, ...]


@dataclass(frozen=True)
class _Way:
    """forward: values to values; takes: which values it can take; why: in words why not the others; inverse: back, None
    where there is none; label, unit: the words for them, from the variable's own."""

    forward: Callable[[Floats, Setting], Floats]
    label: Callable[[str, Setting], str]
    unit: Callable[[str, Setting], str]
    takes: Callable[[Floats, Setting], np.ndarray[tuple[int], np.dtype[np.bool_]]] | None = None
    why: str = ""
    ways_out: tuple[str, ...] = ()
    inverse: Callable[[Floats, Setting], Floats] | None = None
    check: Callable[[Setting], None] | None = None


def rescale(x: ArrayLike, setting: Setting) -> Rescaled:
    """Return a variable on another scale.

    Parameters: x (n_rows,) floats, NaN for missing; setting: "way", one of WAYS, and what it needs: power, "power"
    (negative ones as -x^p, so that order is kept; 0 is log10); log, "base" 10, 2 or "e", and "offset" c of log(x + c);
    box-cox and yeo-johnson, "power"; logit, "squeeze" whether 0 and 1 are pulled in by (x (n - 1) + 1/2)/n; centre,
    "at" "mean", "median" or a number; z, robust-z, rank, normal-score, arcsine-root and logit need nothing more.
    Returns: Rescaled; what the scale cannot take is NaN and named. Raises: ChoiceError; InputError.
    References: box-cox-1964; yeo-johnson-2000; blom-1958 for normal scores.
    """
    way = _WAYS[choose(str(setting.get("way")), _WAYS, where="way")]
    if way.check is not None:
        way.check(setting)
    checked = as_values(x)
    values: Floats = np.full(checked.length, np.nan)
    inside = np.ones(checked.n, dtype=bool) if way.takes is None else way.takes(checked.values, setting)
    with np.errstate(over="ignore", divide="ignore", invalid="ignore"):
        result = way.forward(checked.values[inside], setting) if inside.any() else np.empty(0)
    rows = checked.positions[inside]
    finite = np.isfinite(result)
    values[rows[finite]] = result[finite]
    lost = np.sort(np.concatenate((checked.positions[~inside], rows[~finite])))
    why = way.why if (~inside).any() else "It is beyond the largest number that can be written." if lost.size else ""
    return Rescaled(values, lost, why, way.ways_out if (~inside).any() else ())


def back(values: ArrayLike, setting: Setting) -> Floats | None:
    """Return values of a scale on the original one; None where the transformation has no inverse of single values."""
    way = _WAYS[choose(str(setting.get("way")), _WAYS, where="way")]
    if way.inverse is None:
        return None
    with np.errstate(over="ignore", invalid="ignore"):
        result: Floats = way.inverse(np.asarray(values, dtype=np.float64), setting)
    return result


def title_of(label: str, unit: str, setting: Setting) -> tuple[str, str]:
    """Return label and unit of the rescaled variable: "log10 shell mass", "log10 g"."""
    way = _WAYS[choose(str(setting.get("way")), _WAYS, where="way")]
    return way.label(label, setting), way.unit(unit, setting)


def _number(setting: Setting, name: str, *, least: float = -math.inf, most: float = math.inf) -> float:
    given = setting.get(name)
    if isinstance(given, bool) or not isinstance(given, int | float) or not least <= given <= most:
        raise InputError("out-of-range", f"{name} must be a number from {least:g} to {most:g}.", where=name)
    return float(given)


def _power(setting: Setting) -> float:
    return _number(setting, "power", least=-10, most=10)


def _powers(x: Floats, s: Setting) -> Floats:
    p = _power(s)
    if p == 0:
        return np.log10(x)
    return np.asarray(x**p if p > 0 else -(x**p), dtype=np.float64)


def _power_back(y: Floats, s: Setting) -> Floats:
    p = _power(s)
    if p == 0:
        return np.asarray(10.0**y, dtype=np.float64)
    return np.asarray(np.where(y >= 0, y, np.nan) ** (1 / p) if p > 0 else np.where(y < 0, -y, np.nan) ** (1 / p))


_NAMES = {1.0: "", 2.0: "square of", 3.0: "cube of", 0.5: "root of", 1 / 3: "cube root of", 0.0: "log10"}
_NAMES |= {-1.0: "negative reciprocal of", -0.5: "negative reciprocal root of", -2.0: "negative reciprocal square of"}


def _power_label(label: str, s: Setting) -> str:
    p = _power(s)
    return f"{_NAMES[p]} {label}".strip() if p in _NAMES else f"{label} to the power {p:g}"


def _power_unit(unit: str, s: Setting) -> str:
    p = _power(s)
    if not unit or p == 1:
        return unit
    if p == 0:
        return f"log10 {unit}"
    return f"({unit})^{{{p:g}}}" if p > 0 else f"-({unit})^{{{p:g}}}"


_WHOLE = {1.0, 2.0, 3.0}


def _power_takes(x: Floats, s: Setting) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    p = _power(s)
    if p in _WHOLE:
        # An even power folds what lies below 0 over, so that order is lost.
        return x >= 0 if p == 2 else np.ones(x.size, dtype=bool)
    return x > 0 if p <= 0 else x >= 0


def _base(s: Setting) -> float:
    return {"10": 10.0, "2": 2.0, "e": math.e}[choose(str(s.get("base", 10)), ("10", "2", "e"), where="base")]


def _offset(s: Setting) -> float:
    return _number(s, "offset") if s.get("offset") else 0.0


def _log_name(s: Setting) -> str:
    return {10.0: "log10", 2.0: "log2"}.get(_base(s), "ln")


def _with_offset(label: str, s: Setting) -> str:
    c = _offset(s)
    return label if c == 0 else f"({label} {'+' if c > 0 else '-'} {abs(c):g})"


def _box_cox(x: Floats, s: Setting) -> Floats:
    return np.asarray(special.boxcox(x, _power(s)), dtype=np.float64)


def _yeo_johnson_back(y: Floats, s: Setting) -> Floats:
    p = _power(s)
    up, down = np.maximum(y, 0), np.minimum(y, 0)
    above = np.expm1(up) if p == 0 else (p * up + 1) ** (1 / p) - 1
    below = -np.expm1(-down) if p == 2 else 1 - (-(2 - p) * down + 1) ** (1 / (2 - p))
    return np.asarray(np.where(y >= 0, above, below), dtype=np.float64)


def _logit(x: Floats, s: Setting) -> Floats:
    if s.get("squeeze") and ((x == 0) | (x == 1)).any():
        x = (x * (x.size - 1) + 0.5) / x.size
    return np.asarray(special.logit(x), dtype=np.float64)


def _logit_takes(x: Floats, s: Setting) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    return (x >= 0) & (x <= 1) if s.get("squeeze") else (x > 0) & (x < 1)


def _z(x: Floats, s: Setting) -> Floats:
    half = float(np.abs(x).max()) or 1.0
    scaled = x / half
    sd = float(scaled.std(ddof=1)) if x.size > 1 else 0.0
    return (scaled - scaled.mean()) / sd if sd > 0 else np.full(x.size, np.nan)


def _robust_z(x: Floats, s: Setting) -> Floats:
    median = _median(x)
    mad = _median(np.abs(x - median)) * MAD_TO_SD
    return (x - median) / mad if mad > 0 else np.full(x.size, np.nan)


def _median(x: Floats) -> float:
    return float(of_sorted(np.sort(x), np.array([0.5]), 7)[0])


def _normal_scores(x: Floats, s: Setting) -> Floats:
    ranks = stats.rankdata(x)
    # Equal values share the score of their mean rank.
    return np.asarray(np.interp(ranks, np.arange(1, x.size + 1), blom_scores(x.size)), dtype=np.float64)


def _centre(x: Floats, s: Setting) -> Floats:
    at = s.get("at", "mean")
    if at == "mean":
        return x - float((x / 2).mean()) * 2
    return x - (_median(x) if at == "median" else _number(s, "at"))


def _centre_label(label: str, s: Setting) -> str:
    at = s.get("at", "mean")
    return f"{label}, from its {at}" if at in ("mean", "median") else f"{label}, from {_number(s, 'at'):g}"


_ABOVE_0 = "A power or logarithm of this kind needs values above 0."
SHIFT = "add an offset, log(x + c)"
_SHIFT = (SHIFT, "choose another scale", "set these values aside")


def _same(unit: str, s: Setting) -> str:
    return unit


def _none(unit: str, s: Setting) -> str:
    return ""


def _named(words: str) -> Callable[[str, Setting], str]:
    return lambda label, s: f"{words} {label}"


_WAYS: dict[str, _Way] = {
    "power": _Way(
        _powers, _power_label, _power_unit, _power_takes, _ABOVE_0, _SHIFT, _power_back, lambda s: (_power(s), None)[1]
    ),
    "log": _Way(
        lambda x, s: np.log(x + _offset(s)) / math.log(_base(s)),
        lambda label, s: f"{_log_name(s)} {_with_offset(label, s)}",
        lambda unit, s: f"{_log_name(s)} {unit}" if unit else "",
        lambda x, s: x + _offset(s) > 0,
        _ABOVE_0,
        _SHIFT,
        lambda y, s: np.asarray(_base(s) ** y - _offset(s), dtype=np.float64),
        lambda s: (_base(s), _offset(s), None)[2],
    ),
    "box-cox": _Way(
        _box_cox,
        lambda label, s: f"{label}, Box-Cox {_power(s):g}",
        _none,
        lambda x, s: x > 0,
        "Box and Cox's transformation needs values above 0.",
        ("Yeo and Johnson's transformation takes them", *_SHIFT[1:]),
        lambda y, s: np.asarray(special.inv_boxcox(y, _power(s)), dtype=np.float64),
        lambda s: (_power(s), None)[1],
    ),
    "yeo-johnson": _Way(
        lambda x, s: np.asarray(stats.yeojohnson(x, _power(s)), dtype=np.float64),
        lambda label, s: f"{label}, Yeo-Johnson {_power(s):g}",
        _none,
        inverse=_yeo_johnson_back,
        check=lambda s: (_power(s), None)[1],
    ),
    "logit": _Way(
        _logit,
        _named("logit of"),
        _none,
        _logit_takes,
        "A logit needs shares between 0 and 1, neither of them reached.",
        ("pull 0 and 1 in by (x (n - 1) + 1/2)/n", "choose another scale", "set these values aside"),
        lambda y, s: np.asarray(special.expit(y), dtype=np.float64),
    ),
    "arcsine-root": _Way(
        lambda x, s: np.arcsin(np.sqrt(x)),
        _named("arcsine root of"),
        lambda unit, s: "rad",
        lambda x, s: (x >= 0) & (x <= 1),
        "An arcsine root needs shares from 0 to 1.",
        ("choose another scale", "set these values aside"),
        lambda y, s: np.sin(y) ** 2,
    ),
    "z": _Way(_z, _named("z of"), lambda unit, s: "SD", why="All values are the same, so there is no z."),
    "robust-z": _Way(_robust_z, _named("robust z of"), lambda unit, s: "scaled MAD"),
    "rank": _Way(lambda x, s: np.asarray(stats.rankdata(x)), _named("rank of"), _none),
    "normal-score": _Way(_normal_scores, _named("normal score of"), _none),
    "centre": _Way(_centre, _centre_label, _same),
}
WAYS = tuple(_WAYS)
