"""What a process is capable of within its specification limits."""

import math
from dataclasses import dataclass, field
from typing import Any

from numpy.typing import ArrayLike
from scipy import special, stats

from heron.checks import as_values, within
from heron.control.chart import Chart, control_chart
from heron.errors import InputError
from heron.formatting import counted
from heron.grouping import By
from heron.results import Result


@dataclass(frozen=True)
class Capability(Result):
    """What a process is capable of within its limits. cp, cpk: from the SD within subgroups, only where the order shows
    no signal; pp, ppk: from the SD of all values; each with limits. percentile_pp, percentile_ppk: by percentiles of
    a fitted distribution (`family`) instead. None with the reason where there is none."""

    cp: float | None
    cp_low: float | None
    cp_high: float | None
    cpk: float | None
    cpk_low: float | None
    cpk_high: float | None
    pp: float | None
    pp_low: float | None
    pp_high: float | None
    ppk: float | None
    ppk_low: float | None
    ppk_high: float | None
    percentile_pp: float | None
    percentile_ppk: float | None
    family: str
    sigma_within: float | None
    sigma_overall: float | None
    level: float
    n: int
    undefined: dict[str, str] = field(default_factory=dict)


_MOST = 1e12  # standard deviations from a limit, beyond which there is as good as no spread


def capability(
    x: ArrayLike,
    *,
    lower: float | None = None,
    upper: float | None = None,
    chart: Chart = "individuals",
    subgroup: By | None = None,
    percentiles: tuple[float, float, float] | None = None,
    family: str = "normal",
    level: float = 0.95,
) -> Capability:
    """Return what a process is capable of within its specification limits.

    Parameters
    ----------
    x : (n_rows,) array_like of float
        Values in the order in which they came, NaN for missing.
    lower, upper : float, optional
        The specification limits in the unit of x; one at least.
    chart : {"individuals", "range", "sd"}, optional
        By what the SD within subgroups is had, as in `control_chart`.
    subgroup : (n_rows,) labels, optional
        The subgroup of each row.
    percentiles : tuple of 3 float, optional
        The 0.135, 50 and 99.865 % points of a distribution fitted to x, for variables that are skewed.
    family : str, optional
        What that distribution is called.
    level : float, optional
        Of the limits, between 0 and 1.

    Returns
    -------
    Capability
        Cp, Cpk, Pp and Ppk with limits; Cp and Pp need both specification limits.

    Raises
    ------
    ChoiceError
        For a chart that there is not.
    InputError
        Without a specification limit, or where the lower one is not below the upper one.

    Notes
    -----
    Cp = (U - L)/(6 s), Cpk the smaller of (U - m)/(3 s) and (m - L)/(3 s), with s within subgroups; Pp and Ppk with the
    SD of all. Limits of Cp and Pp by chi-square, of Cpk and Ppk z sqrt(1/(9 n) + C^2/(2 df)) (Bissell). By percentiles
    (U - L)/(P99.865 - P0.135), and the smaller of (U - P50)/(P99.865 - P50) and (P50 - L)/(P50 - P0.135).

    References
    ----------
    bissell-1990
    iso-22514-2, for percentiles

    Examples
    --------
    >>> result = capability([9.8, 10.1, 10.0, 9.9, 10.2, 10.0, 9.9, 10.1], lower=9.4, upper=10.6)
    >>> round(result.pp, 3), round(result.ppk, 3)
    (1.528, 1.528)
    """
    within(level, above=0, below=1, where="level")
    if lower is None and upper is None:
        raise InputError("no-limits", "Capability needs a specification limit.", where="lower")
    if lower is not None and upper is not None and not lower < upper:
        raise InputError("out-of-range", "The lower limit must lie below the upper one.", where="lower")
    charted = control_chart(x, chart=chart, subgroup=subgroup)
    values = as_values(x).values
    n = values.size
    undefined: dict[str, str] = {}
    one_side = "It needs both limits."
    told: dict[str, float | None] = {}
    if n < 2 or values.min() == values.max():
        overall = None
        undefined |= dict.fromkeys(("pp", "ppk"), "It needs 2 values or more with some spread.")
    else:
        overall = float(values.std(ddof=1))
    signals = len(charted.signals) + bool(charted.spread_beyond.size)
    if signals:
        steady = f"The order shows {counted(signals, 'signal')}: spread within subgroups does not tell what comes."
    elif charted.sigma:
        steady = ""
    else:
        steady = charted.undefined.get("sigma", "There is no spread within subgroups.")
    for name, sigma, df, why in (
        ("cp", charted.sigma, charted.df, steady),
        ("pp", overall, n - 1.0, undefined.get("pp", "")),
    ):
        if why or not sigma:
            undefined |= dict.fromkeys((name, f"{name}k"), why)
            continue
        indices = _indices(name, float(values.mean()), sigma, df, n, lower, upper, level)
        if indices is None:
            undefined |= dict.fromkeys((name, f"{name}k"), "Beside these limits there is as good as no spread.")
            continue
        told |= indices
        if lower is None or upper is None:
            undefined[name] = one_side
    told |= _by_percentiles(percentiles, lower, upper)
    names = [f"{name}{end}" for name in ("cp", "cpk", "pp", "ppk") for end in ("", "_low", "_high")]
    numbers: dict[str, Any] = {name: told.get(name) for name in (*names, "percentile_pp", "percentile_ppk")}
    within_groups = None if steady else charted.sigma
    return Capability(
        **numbers, family=family, sigma_within=within_groups, sigma_overall=overall, level=level, n=n,
        undefined=undefined,
    )  # fmt: skip


def _indices(
    name: str, mean: float, sigma: float, df: float, n: int, lower: float | None, upper: float | None, level: float
) -> dict[str, float | None] | None:
    """An index and its smaller half with their limits; None where the spread is as good as none."""
    if max(abs(limit - mean) for limit in (lower, upper) if limit is not None) > _MOST * sigma:
        return None
    told: dict[str, float | None] = {}
    if lower is not None and upper is not None:
        index = (upper - lower) / (6 * sigma)
        low, high = (math.sqrt(float(stats.chi2.ppf(end, df)) / df) for end in ((1 - level) / 2, (1 + level) / 2))
        told |= {name: index, f"{name}_low": index * low, f"{name}_high": index * high}
    sides = [side for side in (_over(upper, mean, sigma), _over(lower, mean, -sigma)) if side is not None]
    least = min(sides)
    reach = float(special.ndtri(0.5 + level / 2)) * math.sqrt(1 / (9 * n) + least**2 / (2 * df))
    return told | {f"{name}k": least, f"{name}k_low": least - reach, f"{name}k_high": least + reach}


def _over(limit: float | None, middle: float, sigma: float) -> float | None:
    return None if limit is None else (limit - middle) / (3 * sigma)


def _by_percentiles(
    percentiles: tuple[float, float, float] | None, lower: float | None, upper: float | None
) -> dict[str, float | None]:
    if percentiles is None:
        return {}
    low, middle, high = percentiles
    if not low < middle < high:
        return {}
    sides = []
    if upper is not None:
        sides.append((upper - middle) / (high - middle))
    if lower is not None:
        sides.append((middle - lower) / (middle - low))
    whole = (upper - lower) / (high - low) if lower is not None and upper is not None else None
    return {"percentile_pp": whole, "percentile_ppk": min(sides)}
