"""The numbers of a reading as a CSV file: every statistic with its definition, then the classes."""

from collections.abc import Iterable, Sequence
from math import isnan
from typing import Any

import numpy as np
from heron import cells
from heron.frequency import Classes, ValueCounts
from heron.ledger import Used
from heron.readings import Subject
from heron.summary import Summary
from heron.times import Times

_NOTES = {
    "sd": "divisor n - 1",
    "se": "SD / sqrt(n)",
    "sd_low": "chi-square, if normal",
    "sd_high": "chi-square, if normal",
    "mean_low": "t interval",
    "mean_high": "t interval",
    "median_low": "order statistics",
    "median_high": "order statistics",
    "median_level": "coverage reached",
    "mad": "median absolute deviation from the median",
    "mad_scaled": "MAD / 0.67449",
    "skewness": "adjusted Fisher-Pearson G1",
    "kurtosis": "excess, G2",
    "skewness_se": "if normal",
    "kurtosis_se": "if normal",
    "geometric_sd": "a factor",
    "geometric_low": "t interval of logs",
    "geometric_high": "t interval of logs",
    "cv": "SD / mean",
}
_SETTINGS = {"n", "n_missing", "modes", "level", "trim", "quantile_definition", "undefined"}


def counts_csv(subject: Subject, used: Used, counts: ValueCounts) -> str:
    """How often each value or level occurs."""
    lines: list[Sequence[Any]] = []
    lines.append([subject.symbol, "count", "percent", "cumulative count", "cumulative percent"])
    for row in counts.rows:
        lines.append([row.value, row.count, repr(row.percent), row.cumulative_count, repr(row.cumulative_percent)])
    for code, count in used.missing_counts.items():
        lines.append([f"missing: {code}", count, "", "", ""])
    return cells.delimited(lines, line_end="\r\n")


def times_csv(times: Times) -> str:
    """How many times fall into each unit of time."""
    lines: list[Sequence[Any]] = []
    lines.append(["from", "to", "count"])
    edges = np.rint(times.boundaries).astype("datetime64[s]").astype(str)
    for i, count in enumerate(times.counts.tolist()):
        lines.append([edges[i], edges[i + 1], count])
    return cells.delimited(lines, line_end="\r\n")


def numbers_csv(
    subject: Subject,
    used: Used,
    numbers: Summary,
    classes: Classes | None,
    points: Iterable[tuple[float, float]] = (),
) -> str:
    """Every statistic, then the percent points asked for, as (percent, value), then the classes."""
    lines: list[Sequence[Any]] = []
    lines.append(["statistic", "value", "unit", "definition"])
    lines.append(["variable", subject.symbol, subject.unit, subject.label])
    lines.append(["n", used.n, "", "values used"])
    lines.append(
        ["missing", used.missing, "", "; ".join(f"{code} {count}" for code, count in used.missing_counts.items())]
    )
    for name in Summary.__dataclass_fields__:
        if name in _SETTINGS:
            continue
        value = getattr(numbers, name)
        lines.append([name, "" if value is None else repr(value), _unit(name, subject.unit), _note(name, numbers)])
    for percent, value in points:
        lines.append([f"{percent:g} %", "" if isnan(value) else repr(value), subject.unit, _note("q1", numbers)])
    if classes:
        lines.append([])
        lines.append(["from", "to", "count", "percent", "density", "closed"])
        for i, count in enumerate(classes.counts.tolist()):
            low, high = classes.boundaries[i : i + 2].tolist()
            lines.append(
                [
                    repr(low),
                    repr(high),
                    count,
                    repr(float(classes.percents[i])),
                    repr(float(classes.densities[i])),
                    classes.closed,
                ]
            )
    return cells.delimited(lines, line_end="\r\n")


def _unit(name: str, unit: str) -> str:
    if name.startswith(("skewness", "kurtosis")) or name in {"cv", "geometric_sd", "median_level"}:
        return ""
    return f"({unit})^2" if name == "variance" and unit else unit


def _note(name: str, numbers: Summary) -> str:
    if name in numbers.undefined:
        return f"not given: {numbers.undefined[name]}"
    if name in {"q1", "median", "q3", "iqr"}:
        return f"quantile definition {numbers.quantile_definition} of Hyndman and Fan"
    if name in {"trimmed_mean", "winsorized_mean"}:
        return f"{100 * numbers.trim:g} % at each end"
    note = _NOTES.get(name, "")
    return f"{note}, level {numbers.level:g}" if "interval" in note else note
