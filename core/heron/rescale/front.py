"""The scales by name, as scripts, axes and fits call them."""

from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from numpy.typing import ArrayLike

from heron.checks import Floats, Ints, choose
from heron.errors import InputError
from heron.rescale.ways import Setting, back, title_of, transform

Scale = Literal[
    "as-is", "log10", "ln", "log2", "log-plus", "square-root", "cube-root", "square", "reciprocal", "power",
    "yeo-johnson", "logit", "arcsine-root", "z", "robust-z", "rank", "normal-score",
]  # fmt: skip
_POWERS = {"as-is": 1.0, "square-root": 0.5, "cube-root": 1 / 3, "square": 2.0, "reciprocal": -1.0}
_LOGS = {"log10": "10", "ln": "e", "log2": "2"}
_PLAIN = ("logit", "arcsine-root", "z", "robust-z", "rank", "normal-score")
SCALES: tuple[str, ...] = (*_POWERS, *_LOGS, "log-plus", "power", "yeo-johnson", *_PLAIN)


@dataclass(frozen=True)
class Applied:
    """Values on a scale. values: (n_rows,) NaN for missing; label, unit: of the new variable, from those given;
    lost_rows: (k,) positions whose value the scale cannot take, why, and what can be done about it."""

    values: Floats
    label: str
    unit: str
    lost_rows: Ints
    why: str
    ways_out: tuple[str, ...]
    n: int
    n_missing: int
    undefined: dict[str, str] = field(default_factory=dict)


def apply(x: ArrayLike, name: str, *, label: str = "", unit: str = "", **options: Any) -> Applied:
    """Return a variable on the scale of that name.

    Parameters: x (n_rows,) floats, NaN for missing; name, one of SCALES; label and unit of x; options: "power" for
    power and yeo-johnson, "c" for log-plus (log10 of x + c), "squeeze" for logit.
    Returns: Applied; n counts the values that the scale takes. Raises: ChoiceError; InputError.
    Notes: negative powers, the reciprocal too, as -x^p, so that order is kept.
    """
    setting = setting_of(name, **options)
    result = transform(x, setting)
    words = title_of(label, unit, setting)
    n = int(np.count_nonzero(~np.isnan(result.values)))
    missing = result.values.size - n - result.lost.size
    return Applied(result.values, *words, result.lost, result.why, result.ways_out, n, missing)


def invert(values: ArrayLike, name: str, **options: Any) -> Floats:
    """Return values of a scale on the original one.

    Raises: ChoiceError; InputError for a scale that needs all the data to go back (z, robust z, ranks, normal scores).
    """
    result = back(values, setting_of(name, **options))
    if result is None:
        raise InputError("no-way-back", f"{name} has no inverse of single values.", where="name")
    return result


def setting_of(name: str, **options: Any) -> Setting:
    """The setting, as rescale takes it, of a scale by name."""
    choose(name, SCALES, where="name")
    taken = {"power": ("power",), "yeo-johnson": ("power",), "log-plus": ("c",), "logit": ("squeeze",)}.get(name, ())
    for option in options:
        choose(option, taken, where=f"options of {name}")
    if name in _POWERS:
        return {"way": "power", "power": _POWERS[name]}
    if name in _LOGS:
        return {"way": "log", "base": _LOGS[name]}
    if name == "log-plus":
        return {"way": "log", "base": "10", "offset": options.get("c", 0)}
    return {"way": name, **options}
