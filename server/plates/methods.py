"""The methods paragraph of a study: its tables as they stand, and what the plates chosen use."""

import platform
from collections.abc import Callable, Sequence
from contextlib import suppress
from importlib.metadata import version
from typing import Any
from uuid import UUID

import heron
from heron import methods, numbering
from heron.figure.source import (
    DifferencesSource,
    GroupsSource,
    PairSource,
    QuantilesSource,
    RulesSource,
    ShapeSource,
    SharesSource,
    Source,
)
from heron.ledger import decisions_in_force
from heron.methods import Decided, TableUsed, Use
from heron.recipes import recipe_words
from heron.routine import described_words
from heron.wording import counted, typeset

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.ledger.models import Entry
from server.plates.documents import PlateDocument
from server.plates.models import Plate
from server.plates.selectors import table_of
from server.problems import Refusal
from server.studies.snapshots import TableSnapshot

_PACKAGES = ("numpy", "scipy", "statsmodels", "scikit-learn")
_CENTRES = {"geometric-mean": "geometric mean", "trimmed-mean": "trimmed mean"}
_TOLD = ("set-aside", "correct", "describe", "reread")


def methods_of(user: User, plates: Sequence[Plate]) -> methods.Methods:
    """What was read, decided and computed for plates, in words for a paper."""
    panels = [panel for plate in plates for panel in PlateDocument.model_validate(plate.document).panels]
    sources = [panel.source for panel in panels]
    tables: dict[UUID, TableSnapshot] = {}
    for key in dict.fromkeys(source.table for source in sources):
        with suppress(Refusal):  # a table that was removed since has nothing to tell
            tables[key] = table_of(user, key)
    sources = [source for source in sources if source.table in tables]
    used: dict[Any, set[str]] = {key: set() for key in tables}
    for source in sources:
        used[source.table] |= source.symbols
    software = {"Velvet Heron": heron.__version__, "Python": platform.python_version()}
    software |= {name: version(name) for name in _PACKAGES}
    described = [_table(table, used[key]) for key, table in tables.items()]
    return methods.describe(described, [use for source in sources for use in uses_of(source)], software)


def _table(table: TableSnapshot, symbols: set[str]) -> TableUsed:
    there = table.variables
    own = [variable for variable in there if variable.symbol in symbols]
    missing: dict[str, int] = {}
    for variable in own:
        for code, n in variable.missing_counts.items():
            missing[code] = missing.get(code, 0) + n
    by_number = {entry.number: entry for entry in ledger.entries(table.row)}
    labels = {variable.symbol: typeset(variable.label) for variable in there}
    decided = []
    for each in decisions_in_force(ledger.decisions(list(by_number.values()))):
        entry = by_number[each.number]
        if each.kind in _TOLD and _concerns(entry, symbols):
            decided.append(Decided(each.number, each.kind, entry.n_rows, _words(entry, labels), _reason(entry)))
    derived = tuple(
        f"{labels[variable.symbol]} is {recipe_words(variable.recipe, labels)}" for variable in own if variable.recipe
    )
    file = table.source
    how = f"read from {file.name}" if file else table.origin.get("how", "made here")
    return TableUsed(
        table.name, how, file.sha256 if file else "", table.n_rows, len(there), tuple(sorted(missing.items())),
        tuple(decided), derived,
    )  # fmt: skip


def _reason(entry: Entry) -> str:
    return entry.reason.strip().rstrip(".")


def _concerns(entry: Entry, symbols: set[str]) -> bool:
    """Whether a decision is on rows, or on a variable that is used."""
    if entry.kind == "set-aside":
        return not entry.variable or entry.variable in symbols
    return entry.kind == "reread" or bool(symbols & set(entry.changes)) or "" in entry.changes


def _words(entry: Entry, labels: dict[str, str]) -> str:
    if entry.kind == "set-aside":
        named = ", ".join(map(str, numbering.first_rows(entry.rows, 6))) + (" and more" if entry.n_rows > 6 else "")
        if entry.variable:
            of = labels.get(entry.variable, entry.variable)
            return f"{counted(entry.n_rows, 'value')} of {of} ({'row' if entry.n_rows == 1 else 'rows'} {named})"
        return f"{counted(entry.n_rows, 'row')} ({named})"
    own = ", ".join(labels.get(symbol, symbol) or "the table" for symbol in entry.changes)
    if entry.kind == "correct":
        cells = sum(len(cells) for cells in entry.changes.values() if isinstance(cells, dict))
        return f"{counted(cells, 'cell')} of {own} {'was' if cells == 1 else 'were'} corrected"
    return "the file was read again" if entry.kind == "reread" else described_words(entry.changes, labels)


def uses_of(source: Source) -> list[Use]:
    """The methods that a panel uses, by their keys."""
    maker = _USES.get(source.kind)
    return [use for use in maker(source) if use.key in methods.MEANT] if maker else []


def _use(key: str, **said: str) -> Use:
    return Use(key, tuple(said.items()))


def _percent(level: float) -> str:
    return f"{100 * level:g}"


def _shape(source: ShapeSource) -> list[Use]:
    found = []
    if "box" in source.layers:
        found.append(_use("quartiles", definition=str(source.quantile_definition)))
        whiskers = {"low": f"{100 * source.share:g}", "high": f"{100 - 100 * source.share:g}"}
        reach = {"reach": f"{source.reach:g}"}
        found.append(
            _use(f"box-{source.whiskers}", **{"fences": reach, "percentiles": whiskers}.get(source.whiskers, {}))
        )
    if "density" in source.layers:
        if isinstance(source.bandwidth, str):
            found.append(_use(f"bandwidth-{source.bandwidth}", kernel=source.kernel))
        else:
            found.append(_use("bandwidth-set", kernel=source.kernel, width=f"{source.bandwidth:g}"))
    if "classes" in source.layers:
        by_hand = source.width or source.count or source.boundaries
        rule = source.rule or "freedman-diaconis"
        found.append(_use("classes-set" if by_hand or f"classes-{rule}" not in methods.MEANT else f"classes-{rule}"))
    return [*found, *_scale(source)]


def _scale(source: ShapeSource | GroupsSource | QuantilesSource) -> list[Use]:
    return [_use(f"scale-{way}") for way in ("box-cox", "yeo-johnson") if source.as_if and f'"{way}"' in source.as_if]


def _groups(source: GroupsSource) -> list[Use]:
    marks = source.marks
    found = []
    if "centre" in marks or "from zero" in marks:
        centre = _CENTRES.get(source.center, source.center)
        level, low, high = _percent(source.level), f"{source.low_percent:g}", f"{source.high_percent:g}"
        found.append(_use(f"bars-{source.bars}", centre=centre, level=level, low=low, high=high))
    if source.units:
        found.append(_use("units", unit="unit"))
    if "box" in marks:
        found += [_use("quartiles", definition="7"), _use("box-fences", reach="1.5")]
    if "violin" in marks:
        found.append(_use("bandwidth-silverman", kernel="gaussian"))
    return [*found, *_scale(source)]


def _differences(source: DifferencesSource) -> list[Use]:
    level = _percent(source.level)
    together = source.together and not source.pair
    means = _use("games-howell" if together else "welch", level=level)
    by_measure = {"mean": means, "median": _use("medians")}
    return [by_measure.get(source.measure) or _use(source.measure), _use("groups-tests")]


def _pair(source: PairSource) -> list[Use]:
    found = []
    if source.shown != "points":
        by_rule = source.width_x is None and source.width_y is None
        width = " with the normal-reference bandwidth" if by_rule else " with a bandwidth of one's own"
        found.append(_use(f"pairs-{source.shown}", across=str(source.across), width=width))
    if "least-squares" in source.lines:
        scaled = [
            f"{scale} of {which}" for scale, which in ((source.x_scale, "x"), (source.y_scale, "y")) if scale != "as-is"
        ]
        found.append(_use("least-squares", scales=f" on {' and '.join(scaled)}" if scaled else ""))
    if "median" in source.lines:
        found.append(_use("median-line"))
    if "smooth" in source.lines:
        found.append(_use("smooth", span=f"{100 * source.span:.0f}"))
    return found


def _rules(source: RulesSource) -> list[Use]:
    return [_use(rule, reach=f"{source.reach:g}") if rule == "fences" else _use(rule) for rule in source.rules]


def _shares(source: SharesSource) -> list[Use]:
    return [] if source.stacked else [_use("shares", level=_percent(source.level))]


_USES: dict[str, Callable[[Any], list[Use]]] = {
    "shape": _shape,
    "groups": _groups,
    "shares": _shares,
    "differences": _differences,
    "quantiles": lambda source: [_use("quantile-plot"), *_scale(source)],
    "pair": _pair,
    "rules": _rules,
    "distances": lambda source: [_use("distances")],
    "influence": lambda source: [_use("influence")],
}
