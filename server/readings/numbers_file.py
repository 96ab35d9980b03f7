"""The numbers of a reading as a CSV file: every statistic with its definition, then the classes."""

import csv
import io
from collections.abc import Iterable
from math import isnan

import numpy as np
from heron.frequency import Classes, ValueCounts
from heron.summary import Summary
from heron.times import Times

from server.readings.selectors import Subject, Used

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
    file = io.StringIO()
    write = csv.writer(file, lineterminator="\r\n").writerow
    write([subject.symbol, "count", "percent", "cumulative count", "cumulative percent"])
    for row in counts.rows:
        write([row.value, row.count, repr(row.percent), row.cumulative_count, repr(row.cumulative_percent)])
    for code, count in used.missing_counts.items():
        write([f"missing: {code}", count, "", "", ""])
    return file.getvalue()


def times_csv(found: Times) -> str:
    """How many times fall into each unit of time."""
    file = io.StringIO()
    write = csv.writer(file, lineterminator="\r\n").writerow
    write(["from", "to", "count"])
    edges = np.rint(found.boundaries).astype("datetime64[s]").astype(str)
    for i, count in enumerate(found.counts.tolist()):
        write([edges[i], edges[i + 1], count])
    return file.getvalue()


def numbers_csv(
    subject: Subject,
    used: Used,
    numbers: Summary,
    classes: Classes | None,
    points: Iterable[tuple[float, float]] = (),
) -> str:
    """Every statistic, then the percent points asked for, as (percent, value), then the classes."""
    file = io.StringIO()
    write = csv.writer(file, lineterminator="\r\n").writerow
    write(["statistic", "value", "unit", "definition"])
    write(["variable", subject.symbol, subject.unit, subject.label])
    write(["n", used.n, "", "values used"])
    write(["missing", used.missing, "", "; ".join(f"{code} {count}" for code, count in used.missing_counts.items())])
    for name in Summary.__dataclass_fields__:
        if name in _SETTINGS:
            continue
        value = getattr(numbers, name)
        write([name, "" if value is None else repr(value), _unit(name, subject.unit), _note(name, numbers)])
    for percent, value in points:
        write([f"{percent:g} %", "" if isnan(value) else repr(value), subject.unit, _note("q1", numbers)])
    if classes:
        write([])
        write(["from", "to", "count", "percent", "density", "closed"])
        for i, count in enumerate(classes.counts.tolist()):
            low, high = classes.boundaries[i : i + 2].tolist()
            write(
                [
                    repr(low),
                    repr(high),
                    count,
                    repr(float(classes.percents[i])),
                    repr(float(classes.densities[i])),
                    classes.closed,
                ]
            )
    return file.getvalue()


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
