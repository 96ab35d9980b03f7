"""Tables of simulated values: known distributions, groups, two correlated variables, from a seed."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal

import numpy as np
from scipy import special, stats

from heron.checks import Floats, choose
from heron.columns import Column, Table
from heron.errors import InputError
from heron.formatting import significant
from heron.intake import symbols

MOST_ROWS = 100_000_000
MOST_AT_ONCE = 1_000_000
_Draw = Callable[[Floats, Mapping[str, float], np.random.Generator], Floats]


DistributionName = Literal[
    "normal",
    "log-normal",
    "uniform",
    "exponential",
    "gamma",
    "beta",
    "binomial",
    "Poisson",
    "t",
    "mixture of two normals",
    "contaminated normal",
]


@dataclass(frozen=True)
class Parameter:
    """One parameter of a distribution; low and high are limits that it must lie between (open where `open`)."""

    name: str
    default: float
    low: float = -np.inf
    high: float = np.inf


@dataclass(frozen=True)
class Distribution:
    """How values are made of standard normal ones. whole: whether they are whole numbers."""

    parameters: tuple[Parameter, ...]
    draw: _Draw
    whole: bool = False


@dataclass(frozen=True)
class Simulated:
    """One simulated variable: its distribution and its parameters; groups may have other parameters."""

    name: str
    distribution: DistributionName
    parameters: Mapping[str, float] = field(default_factory=dict)


@dataclass(frozen=True)
class Group:
    """A group of n rows; parameters: those of the first variable in which it differs."""

    name: str
    n: int
    parameters: Mapping[str, float] = field(default_factory=dict)


def _by_quantile(frozen: Callable[[Mapping[str, float]], Any]) -> _Draw:
    return lambda z, p, rng: np.asarray(frozen(p).ppf(special.ndtr(z)), dtype=np.float64)


def _mixture(z: Floats, p: Mapping[str, float], rng: np.random.Generator) -> Floats:
    second = rng.random(z.size) < p["share of second"]
    return np.where(second, p["second mean"] + p["second SD"] * z, p["mean"] + p["SD"] * z)


def _contaminated(z: Floats, p: Mapping[str, float], rng: np.random.Generator) -> Floats:
    wide = rng.random(z.size) < p["share contaminated"]
    return p["mean"] + p["SD"] * np.where(wide, p["factor"] * z, z)


_MEAN, _SD = Parameter("mean", 0), Parameter("SD", 1, 0)
_SHARE = (0.0, 1.0)
DISTRIBUTIONS: dict[DistributionName, Distribution] = {
    "normal": Distribution((_MEAN, _SD), lambda z, p, rng: p["mean"] + p["SD"] * z),
    "log-normal": Distribution(
        (Parameter("mean of logs", 0), Parameter("SD of logs", 0.5, 0)),
        lambda z, p, rng: np.exp(p["mean of logs"] + p["SD of logs"] * z),
    ),
    "uniform": Distribution(
        (Parameter("from", 0), Parameter("to", 1)),
        lambda z, p, rng: p["from"] + (p["to"] - p["from"]) * special.ndtr(z),
    ),
    "exponential": Distribution((Parameter("mean", 1, 0),), lambda z, p, rng: -p["mean"] * special.log_ndtr(-z)),
    "gamma": Distribution(
        (Parameter("shape", 2, 0), Parameter("scale", 1, 0)),
        _by_quantile(lambda p: stats.gamma(p["shape"], scale=p["scale"])),
    ),
    "beta": Distribution(
        (Parameter("first shape", 2, 0), Parameter("second shape", 5, 0)),
        _by_quantile(lambda p: stats.beta(p["first shape"], p["second shape"])),
    ),
    "binomial": Distribution(
        (Parameter("trials", 10, 0), Parameter("share", 0.3, *_SHARE)),
        _by_quantile(lambda p: stats.binom(round(p["trials"]), p["share"])),
        whole=True,
    ),
    "Poisson": Distribution((Parameter("mean", 4, 0),), _by_quantile(lambda p: stats.poisson(p["mean"])), whole=True),
    "t": Distribution(
        (Parameter("degrees of freedom", 5, 0), Parameter("centre", 0), Parameter("scale", 1, 0)),
        _by_quantile(lambda p: stats.t(p["degrees of freedom"], loc=p["centre"], scale=p["scale"])),
    ),
    "mixture of two normals": Distribution(
        (
            _MEAN,
            _SD,
            Parameter("second mean", 4),
            Parameter("second SD", 1, 0),
            Parameter("share of second", 0.4, *_SHARE),
        ),
        _mixture,
    ),
    "contaminated normal": Distribution(
        (_MEAN, _SD, Parameter("share contaminated", 0.05, *_SHARE), Parameter("factor", 5, 0)), _contaminated
    ),
}


def simulate(
    variable: Simulated,
    groups: Sequence[Group],
    *,
    seed: int,
    second: Simulated | None = None,
    correlation: float = 0.0,
    decimals: int = 3,
) -> Table:
    """Return a table of simulated values, the same for the same settings.

    Parameters: variable, and its groups with their numbers of rows (one group of any name makes no group variable).
    second: another variable for each row, whose normal scores correlate with those of the first by `correlation`
    before both are brought to their distributions (a normal copula). decimals: to which values are rounded; whole
    numbers stay whole. Scales are those of the parameters' names: "SD of logs" is on the natural log scale, the
    exponential has its mean, the gamma its shape and scale.
    Raises: ChoiceError for an unknown distribution; InputError for a parameter out of its range or too many rows.
    """
    n = _checked_size(groups, MOST_AT_ONCE)
    return _simulated(variable, groups, n, np.random.default_rng(seed), second, correlation, decimals)


def simulate_part(
    variable: Simulated,
    groups: Sequence[Group],
    first: int,
    end: int,
    *,
    seed: int,
    second: Simulated | None = None,
    correlation: float = 0.0,
    decimals: int = 3,
) -> Table:
    """Return some rows of a table of more simulated values than are made at once, from one position to before another;
    the same for the same settings and first position. Parameters, Raises: as `simulate`."""
    n = _checked_size(groups, MOST_ROWS)
    starts = np.cumsum([0, *(group.n for group in groups)])
    held = [
        replace(group, n=max(min(end, stop) - max(first, start), 0))
        for group, start, stop in zip(groups, starts[:-1].tolist(), starts[1:].tolist(), strict=True)
    ]
    rng = np.random.default_rng([seed, first])
    return _simulated(variable, held, min(end, n) - first, rng, second, correlation, decimals)


def _checked_size(groups: Sequence[Group], most: int) -> int:
    n = sum(group.n for group in groups)
    if not groups or any(group.n < 1 for group in groups) or n > most:
        raise InputError(
            "bad-size",
            f"Between 1 and {most} rows can be made; {n} are asked for.",
            where="n",
            remedy="Give each group at least one row.",
        )
    return n


def _simulated(
    variable: Simulated,
    groups: Sequence[Group],
    n: int,
    rng: np.random.Generator,
    second: Simulated | None,
    correlation: float,
    decimals: int,
) -> Table:
    if not -1 <= correlation <= 1:
        raise InputError(
            "out-of-range", f"A correlation lies from -1 to 1; it is {significant(correlation)}.", where="correlation"
        )
    z = rng.standard_normal(n)
    other = correlation * z + np.sqrt(1 - correlation**2) * rng.standard_normal(n)
    names = [variable.name.strip() or "value", *([second.name.strip() or "second value"] if second else [])]
    safe = symbols(["group", *names])
    columns: dict[str, Column] = {}
    which = np.repeat(np.arange(len(groups)), [group.n for group in groups])
    none_missing = np.zeros(n, dtype=np.uint8)
    if len(groups) > 1:
        labels = [group.name.strip() or f"group {i}" for i, group in enumerate(groups, 1)]
        levels = tuple(dict.fromkeys(labels))
        code = np.array([levels.index(label) for label in labels], dtype=np.int32)[which]
        columns["group"] = Column("group", "group", "", "category", None, code, levels, none_missing)
    values = np.empty(n)
    start = 0
    for group in groups:
        rows = slice(start, start + group.n)
        if group.n:
            values[rows] = _drawn(variable, {**variable.parameters, **group.parameters}, z[rows], rng)
        start += group.n
    columns[safe[1]] = _column(safe[1], names[0], variable.distribution, values, decimals, none_missing)
    if second:
        drawn = _drawn(second, second.parameters, other, rng)
        columns[safe[2]] = _column(safe[2], names[1], second.distribution, drawn, decimals, none_missing)
    return Table("Simulated", n, columns)


def _drawn(variable: Simulated, given: Mapping[str, float], z: Floats, rng: np.random.Generator) -> Floats:
    choose(variable.distribution, DISTRIBUTIONS, where="distribution")
    distribution = DISTRIBUTIONS[variable.distribution]
    parameters = {
        parameter.name: float(given.get(parameter.name, parameter.default)) for parameter in distribution.parameters
    }
    for parameter in distribution.parameters:
        number = parameters[parameter.name]
        share = parameter.low == 0 and parameter.high == 1
        fits = parameter.low <= number <= parameter.high if share else parameter.low < number < parameter.high
        if not fits:
            limits = (
                "from 0 to 1"
                if share
                else f"above {significant(parameter.low)}"
                if parameter.low > -np.inf
                else "finite"
            )
            raise InputError(
                "out-of-range",
                f"The {parameter.name} of a {variable.distribution} distribution must be {limits}; "
                f"it is {significant(number)}.",
                where=parameter.name,
            )
    if variable.distribution == "uniform" and not parameters["from"] < parameters["to"]:
        raise InputError("out-of-range", "A uniform distribution must go from less to more.", where="from")
    with np.errstate(over="ignore"):
        drawn = distribution.draw(z, parameters, rng)
    if not np.all(np.isfinite(drawn)):
        raise InputError("too-extreme", "These parameters give values too large to hold.", where="parameters")
    return drawn


def _column(
    symbol: str, label: str, distribution: DistributionName, values: Floats, decimals: int, none_missing: Any
) -> Column:
    if DISTRIBUTIONS[distribution].whole:
        return Column(symbol, label, "", "count", values, None, (), none_missing, decimals=0)
    return Column(
        symbol, label, "", "continuous", np.round(values, decimals), None, (), none_missing, decimals=decimals
    )


def described(
    variable: Simulated,
    groups: Sequence[Group],
    *,
    seed: int,
    second: Simulated | None = None,
    correlation: float = 0.0,
) -> str:
    """How a table was simulated, in one sentence."""

    def of(simulated: Simulated, given: Mapping[str, float]) -> str:
        listed = [(p.name, given.get(p.name, p.default)) for p in DISTRIBUTIONS[simulated.distribution].parameters]
        return ", ".join(f"{name} {value:g}" for name, value in listed)

    parts = [f"{variable.name.strip() or 'value'} {variable.distribution} ({of(variable, variable.parameters)})"]
    if len(groups) > 1:
        parts.append(
            "groups "
            + ", ".join(
                f"{group.name} n {group.n}"
                + (f" ({', '.join(f'{k} {v:g}' for k, v in group.parameters.items())})" if group.parameters else "")
                for group in groups
            )
        )
    if second:
        parts.append(
            f"{second.name.strip() or 'second value'} {second.distribution} ({of(second, second.parameters)}), "
            f"correlation of normal scores {correlation:g}"
        )
    return f"Simulated with seed {seed}: {'; '.join(parts)}."
