"""The transformations: each with what it can take, its inverse, and the words for label and unit."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import Floats, Ints, as_values, choose
from heron.choices import Choice, Display, by_id, displays
from heron.errors import InputError
from heron.quantiles import of_sorted
from heron.results import Result

Setting = Mapping[str, Any]
MAD_TO_SD = 1 / float(special.ndtri(0.75))


@dataclass(frozen=True)
class Rescaled(Result, columns=("values",)):
    """Values on another scale. values: (n_rows,) NaN for missing; lost: (k,) the rows whose value the scale cannot
    take, with why in words and what can be done about it."""

    values: Floats
    lost: Ints
    why: str
    ways_out: tuple[str, ...]


@dataclass(frozen=True, kw_only=True)
class WayChoice(Choice):
    """A transformation. forward: values to values; takes: which values it can take; why: in words why not the others;
    ways_out: what can be done about them; inverse: back, None where there is none; title, unit: the words for the new
    variable's label and unit, from the variable's own; check: of its setting; by_row: whether what becomes of a value
    does not hang on the others."""

    forward: Callable[[Floats, Setting], Floats]
    title: Callable[[str, Setting], str]
    unit: Callable[[str, Setting], str]
    takes: Callable[[Floats, Setting], np.ndarray[tuple[int], np.dtype[np.bool_]]] | None = None
    why: str = ""
    ways_out: tuple[str, ...] = ()
    inverse: Callable[[Floats, Setting], Floats] | None = None
    check: Callable[[Setting], None] | None = None
    by_row: Callable[[Setting], bool] = lambda setting: True


def transform(x: ArrayLike, setting: Setting) -> Rescaled:
    """Return a variable on another scale.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in their unit, NaN for missing.
    setting : mapping
        "way", one of `heron.rescale.WAYS`, and what it needs. power: "power" (negative ones as -x^p, so that order is
        kept; 0 is log10). log: "base" 10, 2 or "e", and "offset" c of log(x + c). box-cox and yeo-johnson: "power".
        logit: "squeeze", whether 0 and 1 are pulled in by (x (n - 1) + 1/2)/n. centre: "at" "mean", "median" or a
        number. z, robust-z, rank, normal-score and arcsine-root: nothing more.

    Returns
    -------
    Rescaled
        The values on the new scale; what it cannot take is NaN, and its rows are named.

    Raises
    ------
    ChoiceError
        For a choice that there is not.
    InputError
        For a setting that the way does not take.

    Notes
    -----
    What each way is stands in its record.

    References
    ----------
    box-cox-1964
    yeo-johnson-2000
    blom-1958, for normal scores

    Examples
    --------
    >>> transform([1, 10, 100, 0], {"way": "log", "base": 10}).values.tolist()
    [0.0, 1.0, 2.0, nan]
    """
    way = WAYS[choose(str(setting.get("way")), WAYS, where="way")]
    if way.check is not None:
        way.check(setting)
    checked = as_values(x)
    values: Floats = np.full(checked.length, np.nan)
    inside = np.ones(checked.n, dtype=bool) if way.takes is None else way.takes(checked.values, setting)
    with np.errstate(over="ignore", divide="ignore", invalid="ignore"):
        taken = checked.values if inside.all() else checked.values[inside]
        result = way.forward(taken, setting) if taken.size else taken
    if result.size == values.size and np.isfinite(result).all():
        return Rescaled(result, np.empty(0, dtype=np.int64), "", ())
    rows = checked.positions[inside]
    finite = np.isfinite(result)
    values[rows[finite]] = result[finite]
    lost = np.sort(np.concatenate((checked.positions[~inside], rows[~finite])))
    why = way.why if (~inside).any() else "It is beyond the largest number that can be written." if lost.size else ""
    return Rescaled(values, lost, why, way.ways_out if (~inside).any() else ())


def back(values: ArrayLike, setting: Setting) -> Floats | None:
    """Return values of a scale on the original one; None where the transformation has no inverse of single values."""
    way = WAYS[choose(str(setting.get("way")), WAYS, where="way")]
    if way.inverse is None:
        return None
    with np.errstate(over="ignore", invalid="ignore"):
        result: Floats = way.inverse(np.asarray(values, dtype=np.float64), setting)
    return result


def title_of(label: str, unit: str, setting: Setting) -> tuple[str, str]:
    """Return label and unit of the rescaled variable: "log10 shell mass", "log10 g"."""
    way = WAYS[choose(str(setting.get("way")), WAYS, where="way")]
    return way.title(label, setting), way.unit(unit, setting)


def _number(setting: Setting, name: str, *, least: float = -math.inf, most: float = math.inf) -> float:
    given = setting.get(name)
    if isinstance(given, bool) or not isinstance(given, int | float) or not least <= given <= most:
        raise InputError("out-of-range", f"{name} must be a number from {least:g} to {most:g}.", where=name)
    return float(given)


def _power(setting: Setting) -> float:
    return _number(setting, "power", least=-1000, most=1000)


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


@dataclass(frozen=True, kw_only=True)
class PowerName(Display):
    """A power with a name. label: its name; help: as it is written; of: before the label of a variable."""

    of: str


def _named_power(power: float, label: str, written: str, of: str) -> PowerName:
    return PowerName(id=f"{power:.16g}", label=label, help=written, of=of, rank=round(60 * power))


# By their powers as texts, from the lowest.
POWERS: dict[str, PowerName] = by_id(
    (
        _named_power(-2, "negative reciprocal square", "−1/x²", "negative reciprocal square of"),
        _named_power(-1, "negative reciprocal", "−1/x", "negative reciprocal of"),
        _named_power(-0.5, "negative reciprocal root", "−1/√x", "negative reciprocal root of"),
        _named_power(0, "log₁₀", "log x", "log10"),
        _named_power(1 / 3, "cube root", "∛x", "cube root of"),
        _named_power(0.5, "square root", "√x", "root of"),
        _named_power(1, "as measured", "x", ""),
        _named_power(2, "square", "x²", "square of"),
        _named_power(3, "cube", "x³", "cube of"),
    )
)
LOG_BASES = displays(
    {
        "10": ("log₁₀", "A step is a tenfold."),
        "2": ("log₂", "A step is a doubling."),
        "e": ("ln", "The natural logarithm."),
    }
)


def _power_label(label: str, s: Setting) -> str:
    p = _power(s)
    name = POWERS.get(f"{p:.16g}")
    return f"{name.of} {label}".strip() if name else f"{label} to the power {p:g}"


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
    return np.asarray(special.ndtri((ranks - 0.375) / (x.size + 0.25)), dtype=np.float64)


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


def _never(s: Setting) -> bool:
    return False


def _none(unit: str, s: Setting) -> str:
    return ""


def _named(words: str) -> Callable[[str, Setting], str]:
    return lambda label, s: f"{words} {label}"


_NO_Z = "All values are the same, so there is no z."
WAYS: dict[str, WayChoice] = by_id(
    (
        WayChoice(
            id="power",
            label="power",
            definition="x to the power p; of negative powers −x^p, so that order is kept; power 0 is log₁₀.",
            help="A step of the ladder: squares, roots, reciprocals.",
            caption="power",
            methods="values were raised to a power, negative ones as −x^p",
            rank=1,
            forward=_powers,
            title=_power_label,
            unit=_power_unit,
            takes=_power_takes,
            why=_ABOVE_0,
            ways_out=_SHIFT,
            inverse=_power_back,
            check=lambda s: (_power(s), None)[1],
        ),
        WayChoice(
            id="log",
            label="log",
            definition="Logarithm to base 10, 2 or e of x, or of x + c where a number is added first.",
            help="For what grows by factors; values above 0, or above 0 with a number added.",
            caption="log",
            methods="logarithms of the values were taken",
            rank=2,
            forward=lambda x, s: np.log(x + _offset(s)) / math.log(_base(s)),
            title=lambda label, s: f"{_log_name(s)} {_with_offset(label, s)}",
            unit=lambda unit, s: f"{_log_name(s)} {unit}" if unit else "",
            takes=lambda x, s: x + _offset(s) > 0,
            why=_ABOVE_0,
            ways_out=_SHIFT,
            inverse=lambda y, s: np.asarray(_base(s) ** y - _offset(s), dtype=np.float64),
            check=lambda s: (_base(s), _offset(s), None)[2],
        ),
        WayChoice(
            id="box-cox",
            label="Box-Cox",
            definition="(x^p − 1)/p, ln x at p = 0, for values above 0.",
            help="(x^p − 1)/p, the power of largest likelihood; values above 0.",
            caption="Box-Cox",
            methods="power transformations follow Box and Cox",
            sources=("box-cox-1964",),
            rank=3,
            forward=_box_cox,
            title=lambda label, s: f"{label}, Box-Cox {_power(s):g}",
            unit=_none,
            takes=lambda x, s: x > 0,
            why="Box and Cox's transformation needs values above 0.",
            ways_out=("Yeo and Johnson's transformation takes them", *_SHIFT[1:]),
            inverse=lambda y, s: np.asarray(special.inv_boxcox(y, _power(s)), dtype=np.float64),
            check=lambda s: (_power(s), None)[1],
        ),
        WayChoice(
            id="yeo-johnson",
            label="Yeo-Johnson",
            definition="((x + 1)^p − 1)/p from 0 on, −((1 − x)^(2 − p) − 1)/(2 − p) below; logarithms where a "
            "power is 0.",
            help="As Box-Cox, for values of both signs.",
            caption="Yeo-Johnson",
            methods="power transformations follow Yeo and Johnson",
            sources=("yeo-johnson-2000",),
            rank=4,
            forward=lambda x, s: np.asarray(stats.yeojohnson(x, _power(s)), dtype=np.float64),
            title=lambda label, s: f"{label}, Yeo-Johnson {_power(s):g}",
            unit=_none,
            inverse=_yeo_johnson_back,
            check=lambda s: (_power(s), None)[1],
        ),
        WayChoice(
            id="logit",
            label="logit",
            definition="ln(x/(1 − x)) for shares between 0 and 1; 0 and 1 are pulled in by (x (n − 1) + 1/2)/n "
            "only where asked.",
            help="Shares; a model for proportions is often better.",
            caption="logit",
            methods="logits of shares were taken",
            rank=5,
            forward=_logit,
            by_row=lambda s: not s.get("squeeze"),
            title=_named("logit of"),
            unit=_none,
            takes=_logit_takes,
            why="A logit needs shares between 0 and 1, neither of them reached.",
            ways_out=("pull 0 and 1 in by (x (n - 1) + 1/2)/n", "choose another scale", "set these values aside"),
            inverse=lambda y, s: np.asarray(special.expit(y), dtype=np.float64),
        ),
        WayChoice(
            id="arcsine-root",
            label="arcsine root",
            definition="Arcsine of √x, for shares from 0 to 1.",
            help="Shares; the logit is easier to read.",
            caption="arcsine root",
            methods="arcsine roots of shares were taken",
            rank=6,
            forward=lambda x, s: np.arcsin(np.sqrt(x)),
            title=_named("arcsine root of"),
            unit=lambda unit, s: "rad",
            takes=lambda x, s: (x >= 0) & (x <= 1),
            why="An arcsine root needs shares from 0 to 1.",
            ways_out=("choose another scale", "set these values aside"),
            inverse=lambda y, s: np.sin(y) ** 2,
        ),
        WayChoice(
            id="z",
            label="z score",
            definition="(x − mean)/SD.",
            help="Distance from the mean in SDs.",
            caption="z score",
            methods="values are given as distances from the mean in standard deviations",
            rank=7,
            forward=_z,
            title=_named("z of"),
            unit=lambda unit, s: "SD",
            by_row=_never,
            why=_NO_Z,
        ),
        WayChoice(
            id="robust-z",
            label="robust z score",
            definition="(x − median)/(MAD/0.67449).",
            help="Distance from the median in scaled MADs.",
            caption="robust z score",
            methods="values are given as distances from the median in scaled median absolute deviations",
            rank=8,
            forward=_robust_z,
            title=_named("robust z of"),
            unit=lambda unit, s: "scaled MAD",
            by_row=_never,
        ),
        WayChoice(
            id="rank",
            label="rank",
            definition="1 for the smallest value to n for the largest; equal values share their mean rank.",
            help="Order alone.",
            caption="rank",
            methods="values were replaced by their ranks",
            rank=9,
            forward=lambda x, s: np.asarray(stats.rankdata(x)),
            title=_named("rank of"),
            unit=_none,
            by_row=_never,
        ),
        WayChoice(
            id="normal-score",
            label="normal score",
            definition="Normal quantile of (rank − 3/8)/(n + 1/4); equal values share the score of their mean rank.",
            help="Order, laid on a normal curve.",
            caption="normal score",
            methods="values were replaced by normal scores of their ranks",
            sources=("blom-1958",),
            rank=10,
            forward=_normal_scores,
            title=_named("normal score of"),
            unit=_none,
            by_row=_never,
        ),
        WayChoice(
            id="centre",
            label="distance from a centre",
            definition="x less the mean, the median, or a number.",
            help="The same unit, 0 at the mean, the median or a value of one's own.",
            caption="distance from a centre",
            methods="values are given as distances from a centre",
            rank=11,
            forward=_centre,
            title=_centre_label,
            unit=_same,
            by_row=lambda s: s.get("at", "mean") not in ("mean", "median"),
        ),
    )
)
