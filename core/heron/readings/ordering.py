"""A variable in the order of its rows or of another variable, and dates and times in units of time."""

from dataclasses import dataclass, replace

import numpy as np

from heron import ordering, times
from heron.checks import Floats, Ints
from heron.chunked import InRows, Outlined, outline
from heron.errors import InputError
from heron.ledger import Chunks, Series, Used, VariableView, load_series
from heron.quantiles import of_sorted
from heron.readings.subject import Subject, in_parts, numbers_of, series_of, subject_of, used_of

MOST_POINTS = 20_000
STRETCHES = 4_000
TIMED = ("continuous", "count", "ordered", "date-time")


@dataclass(frozen=True)
class OrderReading:
    """What is told of a variable in order. along, along_kind, along_unit: what sets the order, "" for the rows
    themselves. Rows within `found` are counted from 1; its order and places are left out."""

    subject: Subject
    used: Used
    along: str
    along_kind: str
    along_unit: str
    found: ordering.InOrder


@dataclass(frozen=True)
class Ordered:
    """The values in that order. places, values, rows: (n_sent,), rows from 1; above 20,000 the smallest and largest of
    each of 4,000 stretches. after_hole: places among those sent before which a row without a value lies, none for an
    outline."""

    places: Floats
    values: Floats
    rows: Ints
    after_hole: Ints


@dataclass(frozen=True)
class TimesReading:
    """Dates and times of a variable."""

    subject: Subject
    used: Used
    times: times.Times


def order(variable: VariableView, along: VariableView | None) -> OrderReading:
    return in_order(variable, along)[0]


def in_order(variable: VariableView, along: VariableView | None) -> tuple[OrderReading, Ordered]:
    """What is told of an order, and the values in it; worked once."""
    question = "order", variable.symbol, "" if along is None else along.symbol
    answer: tuple[OrderReading, Ordered] = variable.table.remembered(question, lambda: _in_order(variable, along))
    return answer


def _in_order(variable: VariableView, along: VariableView | None) -> tuple[OrderReading, Ordered]:
    chunks = variable.table.chunks
    if chunks is not None and along is None:
        return _in_order_in(variable, chunks)
    series = series_of(variable, along, weights="refuse")
    numbers = series.numbers(variable.symbol)
    setting = None if along is None else places_of(series, along)
    result = ordering.in_order(numbers, setting)
    values = numbers[result.order]
    sent = _outline(values)
    shown = replace(
        result,
        order=result.order[:0],
        places=result.places[:0],
        jumps=result.jumps + 1,
        longest_first=None if result.longest_first is None else result.longest_first + 1,
        longest_last=None if result.longest_last is None else result.longest_last + 1,
    )
    said = OrderReading(
        subject_of(variable),
        used_of(variable, series),
        "" if along is None else subject_of(along).label,
        "" if along is None else along.kind,
        "" if along is None else subject_of(along).unit,
        shown,
    )
    holes = _after_holes(numbers, setting, result.places) if sent.size == result.n else sent[:0]
    return said, Ordered(result.places[sent], values[sent], result.order[sent] + 1, holes)


_NO_JUMPS = "Jumps from one value to the next are not looked for in a table this long."


def _in_order_in(variable: VariableView, chunks: Chunks) -> tuple[OrderReading, Ordered]:
    """The same of all rows of a long table, in their own order."""
    load_series(chunks.state.part(0), [variable.symbol], weights="refuse")
    series = series_of(variable)
    series.numbers(variable.symbol)  # which refuses what is no number
    used = replace(used_of(variable, series), sampled=0)
    values = in_parts(variable, chunks, ())
    none = np.empty(0, dtype=np.int64)
    whole = ordering.InOrder(none, np.empty(0), values.size, values.basis.n_missing, none, (_NO_JUMPS,))
    if values.size == 0:
        why = dict.fromkeys(("median", "runs", "longest"), "There is no value.")
        found = replace(whole, words=("There is no value to look at in order.",), undefined=why)
        return OrderReading(subject_of(variable), used, "", "", "", found), Ordered(
            np.empty(0), np.empty(0), none, none
        )
    q1, median, q3 = of_sorted(values, np.array([0.25, 0.5, 0.75]), 7).tolist()
    told: InRows = chunks.over(Outlined(variable.symbol, median, max(STRETCHES // chunks.n_parts, 1)))[0]
    longest = told.longest
    runs = ordering.Runs(
        told.runs, told.n_above, told.n_below, longest.length, longest.above, (longest.first, longest.last)
    )
    found = ordering.with_runs(
        replace(whole, q1=q1, median=median, q3=q3), runs if told.runs else None, reordered=False
    )
    if found.longest_first is not None and found.longest_last is not None:
        found = replace(found, longest_first=found.longest_first + 1, longest_last=found.longest_last + 1)
    drawn = Ordered(told.positions.astype(np.float64) + 1, told.values, told.positions + 1, none)
    return OrderReading(subject_of(variable), used, "", "", "", found), drawn


def _after_holes(values: Floats, setting: Floats | None, places: Floats) -> Ints:
    holes = np.flatnonzero(np.isnan(values))
    at = np.sort(holes + 1.0 if setting is None else setting[holes])
    before = np.searchsorted(at[~np.isnan(at)], places)
    return np.flatnonzero(np.diff(before, prepend=0))


def places_of(series: Series, along: VariableView) -> Floats:
    """Where each entry stands along a number or a time."""
    if series.columns[along.symbol].numbers is None or along.kind not in TIMED:
        raise InputError(
            "not-numeric",
            f"{along.label} has no numbers or times to set an order by.",
            where="along",
            remedy="Choose a number, or a date and time.",
        )
    return series.numbers(along.symbol, TIMED)


def _outline(values: Floats) -> Ints:
    """All places, or the smallest and the largest value of each stretch, in order."""
    if values.size <= MOST_POINTS:
        return np.arange(values.size)
    return outline(values, STRETCHES)


def in_time(variable: VariableView, unit: times.Unit | None) -> TimesReading:
    if variable.kind != "date-time":
        raise InputError("not-times", f"{variable.label} holds no dates or times.", where="variable")
    result = numbers_of(variable, kinds=("date-time",))
    return TimesReading(result.subject, result.used, times.summarize(result.values, unit=unit))
