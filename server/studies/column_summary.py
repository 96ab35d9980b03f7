"""What a list says of a column at a glance: counts, levels, a small picture."""

from typing import Any

import numpy as np
from heron import density, frequency
from heron.columns import Column
from heron.errors import InputError
from heron.variables import zero_means_none

_SHAPE_POINTS = 32
_SHAPE_VALUES = 20_000
_SHAPE_LEVELS = 12


def summary_of(column: Column) -> dict[str, Any]:
    """What is kept of a column beside its values, under the names that a Variable has for it."""
    return {
        "kind": column.kind,
        "levels": list(column.levels),
        "missing_codes": list(column.missing_codes),
        "missing_counts": column.missing_counts,
        "n_missing": column.n_missing,
        "decimals": column.decimals,
        "shape": shape(column),
        "properties": {
            "zero_means_none": zero_means_none(column),
            "n_limited": column.n_limited,
            "numbers": list(column.level_numbers),
        },
    }


def shape(column: Column) -> list[float]:
    """Heights from 0 to 1 for the small picture: bars for levels and counts, else the density of the middle 99 %."""
    if column.codes is not None:
        if column.kind not in ("category", "ordered"):
            return []
        return _heights(np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))[:_SHAPE_LEVELS])
    assert column.numbers is not None
    known = column.numbers[~np.isnan(column.numbers)]
    known = known[:: max(1, known.size // _SHAPE_VALUES)]
    if column.kind == "ordered":
        return _heights(np.unique(known, return_counts=True)[1][:_SHAPE_LEVELS])
    if known.size < 2:
        return []
    low, high = np.quantile(known, [0.005, 0.995], method="closest_observation")
    middle = known[(known >= low) & (known <= high)]
    if column.kind == "count":
        how = frequency.usual(middle, kind=column.kind, decimals=column.decimals)
        result = frequency.classify(middle, rule=how.rule, step=how.step)
        if result.counts.size > _SHAPE_POINTS:
            whole = np.ceil((middle.max() - middle.min() + 1) / _SHAPE_POINTS)
            result = frequency.classify(middle, width=float(whole), start=float(middle.min()))
        return _heights(result.counts)
    try:
        return _heights(density.kernel_density(middle, points=_SHAPE_POINTS, lower=low, upper=high).density)
    except InputError:  # no spread, or too much of it for a curve
        return [1.0]


def _heights(counts: np.ndarray) -> list[float]:
    top = counts.max(initial=0)
    return [round(float(count / top), 3) for count in counts] if top else []
