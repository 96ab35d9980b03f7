"""A table in one of its states: the decisions in force, what is tried over them, and the columns that follow.

A state is the only thing that applies a decision. Replaying a ledger, looking back at a revision, trying a scale,
narrowing to one level, following derived variables and the scripts all ask a state for its columns.
"""

import json
from collections.abc import Callable, Collection, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property
from hashlib import sha256
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from heron.columns import Column, Table, joined_columns
from heron.derived import by_row, compute_derived, in_order, sources_of, title_of
from heron.errors import HeronError, InputError, all_rows_at_once
from heron.ledger.decisions import Decision, decisions_in_force, moved_recipe
from heron.numbering import Moves, Runs, as_text, from_runs, from_text, joined, moved, renumbered, to_runs, without
from heron.thinning import sample
from heron.variables import SHAPING, apply_corrections, apply_description, labels_of

View = Literal["imported", "described", "active"]
Descriptions = Mapping[str, Mapping[str, Any]]
TRIED = "tried"  # the symbol of a variable that is only tried


class Imports:
    """Where the columns of a table come from: its import versions, the first being 0. These hold nothing, for states of
    which only the decisions are of interest."""

    def symbols(self, version: int) -> Collection[str]:
        """The variables of a version, in their order."""
        return ()

    def described(self, version: int) -> Descriptions:
        """What was said of them when the version was imported, beyond their values."""
        return {}

    def identity(self, version: int, symbol: str) -> str:
        """A name for a column that no other column has, as long as its values stay."""
        return symbol

    def column(self, version: int, symbol: str) -> Column:
        """A column as it was imported."""
        raise KeyError(symbol)

    def remembered(self, key: str, compute: Callable[[], Column]) -> Column:
        """The column of a key, from an earlier question or else computed."""
        return compute()

    def bounds(self, version: int) -> Sequence[int]:
        """Where the parts begin in which a long version is looked at, and where the last ends: positions of rows."""
        return (0,)

    def part(self, version: int, symbol: str, number: int) -> Column:
        """A column's rows in one of these parts."""
        raise KeyError(symbol)

    def sample(self, version: int, symbol: str) -> Column:
        """A column's rows at `thinning.sample` of these parts."""
        parts = range(len(self.bounds(version)) - 1)
        positions, bounds = sample(self.bounds(version)), self.bounds(version)
        here = np.searchsorted(positions, bounds)
        return joined_columns(
            [
                self.part(version, symbol, number).at(positions[here[number] : here[number + 1]] - bounds[number])
                for number in parts
            ]
        )


class PartOfImports(Imports):
    """One part of each version of a table, as a table of its own."""

    def __init__(self, whole: Imports, number: int) -> None:
        self._whole = whole
        self._number = number

    def symbols(self, version: int) -> Collection[str]:
        return self._whole.symbols(version)

    def described(self, version: int) -> Descriptions:
        return self._whole.described(version)

    def identity(self, version: int, symbol: str) -> str:
        return f"{self._whole.identity(version, symbol)} part {self._number}"

    def column(self, version: int, symbol: str) -> Column:
        return self._whole.part(version, symbol, self._number)


class SampleOfImports(Imports):
    """A sample of the rows of each version of a table, as a table of its own."""

    def __init__(self, whole: Imports) -> None:
        self._whole = whole

    def symbols(self, version: int) -> Collection[str]:
        return self._whole.symbols(version)

    def described(self, version: int) -> Descriptions:
        return self._whole.described(version)

    def identity(self, version: int, symbol: str) -> str:
        return f"{self._whole.identity(version, symbol)} sample"

    def column(self, version: int, symbol: str) -> Column:
        return self._whole.sample(version, symbol)

    def remembered(self, key: str, compute: Callable[[], Column]) -> Column:
        return self._whole.remembered(key, compute)


class TablesAsImports(Imports):
    """Tables in memory as the import versions of one. bounds: of the parts in which they are looked at."""

    def __init__(self, *tables: Table, bounds: Sequence[int] = ()) -> None:
        self._tables = tables
        self._bounds = bounds
        self._columns: dict[str, Column] = {}

    def bounds(self, version: int) -> Sequence[int]:
        return self._bounds or (0, self._tables[version].n_rows)

    def part(self, version: int, symbol: str, number: int) -> Column:
        return self.column(version, symbol).rows(*self.bounds(version)[number : number + 2])

    def symbols(self, version: int) -> Collection[str]:
        return list(self._tables[version].columns)

    def column(self, version: int, symbol: str) -> Column:
        return self._tables[version][symbol]

    def remembered(self, key: str, compute: Callable[[], Column]) -> Column:
        if key not in self._columns:
            self._columns[key] = compute()
        return self._columns[key]


@dataclass(frozen=True)
class TableState:
    """A table as its decisions leave it.

    import_version: which import of its file is in force. aside: runs of row numbers (from 1) that are set aside, by
    variable, "" for whole rows. described: what decisions say, by symbol, "" of the table. corrected: new text by
    symbol and row. derived: recipes by symbol, each behind those that it is made of. kept: rows that were looked at and
    stay, by variable. level: an overlay, the variable and its level to which rows are narrowed, None for all rows.
    imports: where columns come from.
    """

    import_version: int = 0
    aside: Mapping[str, Runs] = field(default_factory=dict)
    described: Descriptions = field(default_factory=dict)
    corrected: Mapping[str, Mapping[int, str]] = field(default_factory=dict)
    derived: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    kept: Mapping[str, Runs] = field(default_factory=dict)
    level: tuple[str, str] | None = None
    imports: Imports = field(default_factory=Imports, compare=False, repr=False)

    @cached_property
    def symbols(self) -> tuple[str, ...]:
        """The variables of the table, those that were imported first."""
        return (*self.imports.symbols(self.import_version), *self.derived)

    def description(self, symbol: str) -> dict[str, Any]:
        """What is said of a variable, or under "" of the table: when it was imported, and since."""
        first = self.imports.described(self.import_version).get(symbol, {})
        return {**first, **self.described.get(symbol, {})}

    def weights_of(self, symbols: Collection[str]) -> str:
        """The variable that says how often each row counts where others are looked at; "" for none."""
        by = str(self.description("").get("weight_variable") or "")
        return by if by in self.symbols and by not in symbols else ""

    def decided(self, decision: Decision) -> "TableState":
        """The state after one more decision, which is neither undo nor redo."""
        builder = _Builder(self)
        builder.take(decision)
        return builder.state()

    def tried(self, recipe: Mapping[str, Any], label: str = "") -> "TableState":
        """The state with one more variable, TRIED, that a recipe makes, named as would be proposed, or else by label.
        Raises: HeronError where the recipe makes nothing."""
        sources = {symbol: self.column(symbol, "described") for symbol in sources_of(recipe) if symbol in self.symbols}
        whole = len(sources) == len(sources_of(recipe))
        title, unit = title_of(recipe, sources) if whole else (label, "")
        return replace(self, derived={**self.derived, TRIED: {**recipe, "label": title, "unit": unit}})

    def narrowed(self, by: str, level: str) -> "TableState":
        """The state of only the rows at one level of a variable, whatever is set aside of them; an InputError for a
        level that it does not have."""
        column = self.column(by, "described")
        if level not in labels_of(column)[0]:
            raise InputError(
                "no-level", f"{column.label} has no level {level}.", where="only", remedy="Choose another."
            )
        return replace(self, level=(by, level))

    @property
    def bounds(self) -> Sequence[int]:
        """Where the parts begin in which a long table is looked at, and where the last ends."""
        return self.imports.bounds(self.import_version)

    def part(self, number: int) -> "TableState":
        """The state of the rows of one part, numbered from 1 again; columns are then those rows of the whole's, and
        their keys hang on nothing that is said of other rows."""
        first, end = self.bounds[number : number + 2]
        moves = ((first + 1, end, 1),)
        return replace(
            self,
            aside={symbol: renumbered(runs, first + 1, end) for symbol, runs in self.aside.items()},
            corrected={
                symbol: {row - first: text for row, text in cells.items() if first < row <= end}
                for symbol, cells in self.corrected.items()
            },
            derived={symbol: moved_recipe(recipe, moves) for symbol, recipe in self.derived.items()},
            kept={},
            imports=PartOfImports(self.imports, number),
        )

    @property
    def is_long(self) -> bool:
        """Whether the table is looked at in parts, since it is too long to be held at once."""
        return len(self.bounds) > 2

    @cached_property
    def sample_rows(self) -> NDArray[np.int64]:
        """The positions of the rows of `sampled`, ascending."""
        return sample(self.bounds)

    @cached_property
    def sampled(self) -> "TableState":
        """The state of a sample of the rows of a long table, numbered from 1 again."""
        rows = self.sample_rows + 1
        named = any(self.corrected.values()) or any(recipe.get("rows") for recipe in self.derived.values())
        places = {row: place for place, row in enumerate(rows.tolist(), 1)} if named else {}
        return replace(
            self,
            aside={symbol: _sampled_runs(runs, rows) for symbol, runs in self.aside.items()},
            corrected={
                symbol: {places[row]: text for row, text in cells.items() if row in places}
                for symbol, cells in self.corrected.items()
            },
            derived={symbol: _sampled_recipe(recipe, places) for symbol, recipe in self.derived.items()},
            kept={},
            imports=SampleOfImports(self.imports),
        )

    def glimpsed(self, symbol: str) -> Column:
        """A column as it is described, of a long table in its sample.
        Raises: HeronError where a recipe makes nothing, or nothing row by row of a long table."""
        if not self.is_long:
            return self.column(symbol, "described")
        self.check_by_row(symbol)
        return self.sampled.column(symbol, "described")

    def check_by_row(self, symbol: str) -> None:
        """Refuse, by an InputError, a derived variable whose values hang on other rows too."""
        recipe = self.derived.get(symbol)
        if recipe is None:
            return
        if not by_row(recipe):
            raise all_rows_at_once(f"{recipe.get('label') or symbol} is made of all rows together, and")
        for source in sources_of(recipe):
            self.check_by_row(source)

    @cached_property
    def shown(self) -> NDArray[np.bool_] | None:
        """(n_rows,) whether a row is at the level to which the state is narrowed; None where it is not."""
        if self.level is None:
            return None
        labels, index = labels_of(self.column(self.level[0], "described"))
        return np.asarray(index == labels.index(self.level[1]))

    def positions_aside(self, symbol: str, n_rows: int) -> NDArray[np.int64]:
        """The positions, from 0, of a variable's values that are set aside, with their row or alone."""
        gone = np.union1d(from_runs(self.aside.get("", ())), from_runs(self.aside.get(symbol, ()))) - 1
        return gone[gone < n_rows]

    def column(self, symbol: str, view: View) -> Column:
        """Return a column of the table.

        Parameters: view, "imported": as its file holds it, or as its recipe makes it; "described": as it is described
        and corrected, with what is set aside still in it; "active": without that.
        Returns: Column, whole, whatever level the state is narrowed to.
        Raises: KeyError for a variable that the table does not have; HeronError where a recipe makes nothing;
        InputError for a table that is too long to be held.
        """
        if self.is_long:
            raise all_rows_at_once("This")
        if view == "active":
            if not self.aside:
                return self.column(symbol, "described")
            return self.imports.remembered(self.column_key(symbol, view), lambda: self._active(symbol))
        if view == "imported":
            if symbol not in self.derived:
                return self.imports.column(self.import_version, symbol)
            return self.imports.remembered(self.column_key(symbol, view), lambda: self._computed(symbol, "described"))
        column, said = self.column(symbol, "imported"), self.description(symbol)
        if symbol not in self.corrected and not said.keys() & SHAPING:
            return apply_description(column, said) if said else column
        return self.imports.remembered(self.column_key(symbol, view), lambda: self._described(column))

    def _computed(self, symbol: str, view: View) -> Column:
        recipe = self.derived[symbol]
        sources = {of: self.column(of, view) for of in sources_of(recipe) if of in self.symbols}
        return compute_derived(symbol, recipe, sources)

    def _described(self, column: Column) -> Column:
        """A column as it is described and corrected, with what is set aside still in it."""
        cells = self.corrected.get(column.symbol, {})
        said = apply_description(column, self.description(column.symbol))
        return apply_corrections(said, {row - 1: text for row, text in cells.items() if row <= column.n_rows})

    def _active(self, symbol: str) -> Column:
        derived = symbol in self.derived
        column = self._described(self._computed(symbol, "active")) if derived else self.column(symbol, "described")
        return column.set_aside(self.positions_aside(symbol, column.n_rows))

    @cached_property
    def key(self) -> str:
        """A digest of everything that the state is made of but the columns themselves."""
        return _digest([self.to_json(), self.level])

    @cached_property
    def _keys(self) -> dict[tuple[str, View], str]:
        return {}

    def column_key(self, symbol: str, view: View) -> str:
        """A digest of everything that a column stands on: two states with the same key have the same column."""
        known = self._keys.get((symbol, view))
        if known is not None:
            return known
        parts: list[Any] = [view]
        if symbol in self.derived:
            recipe = self.derived[symbol]
            below: View = "active" if view == "active" else "described"
            parts += [symbol, recipe]
            parts += [self.column_key(of, below) for of in sources_of(recipe) if of in self.symbols]
        else:
            parts.append(self.imports.identity(self.import_version, symbol))
        if view != "imported":
            parts += [self.description(symbol), sorted(self.corrected.get(symbol, {}).items())]
        if view == "active":
            parts += [self.aside.get("", ()), self.aside.get(symbol, ())]
        self._keys[symbol, view] = _digest(parts)
        return self._keys[symbol, view]

    def with_sources(self) -> "TableState":
        """The state without derived variables that the import in force lacks a source of, or has under their name."""
        present, derived = set(self.imports.symbols(self.import_version)), {}
        for symbol, recipe in self.derived.items():
            if symbol not in present and set(sources_of(recipe)) <= present:
                derived[symbol] = recipe
                present.add(symbol)
        return replace(self, derived=derived)

    def settled(self, known: Collection[str] = ()) -> "TableState":
        """The state without derived variables that cannot be made any more. known: keys of columns that were made."""
        state = self.with_sources()
        for symbol in state.derived:
            try:
                if state.column_key(symbol, "described") not in known:
                    state.glimpsed(symbol)
            except HeronError:
                left = {other: recipe for other, recipe in state.derived.items() if other != symbol}
                return replace(state, derived=left).settled(known)
        return state

    def to_json(self) -> dict[str, Any]:
        """The state without its overlay, as JSON can hold it."""
        return {
            "import_version": self.import_version,
            "aside": {symbol: as_text(runs) for symbol, runs in self.aside.items()},
            "described": {symbol: dict(said) for symbol, said in self.described.items()},
            "corrected": {s: {str(row): text for row, text in cells.items()} for s, cells in self.corrected.items()},
            "derived": [[symbol, dict(recipe)] for symbol, recipe in self.derived.items()],
            "kept": {symbol: as_text(runs) for symbol, runs in self.kept.items()},
        }  # fmt: skip

    @classmethod
    def from_json(cls, written: Mapping[str, Any], imports: Imports) -> "TableState":
        """The state that `to_json` wrote; one of no decisions where nothing is written."""
        return cls(
            written.get("import_version", 0),
            {symbol: from_text(text) for symbol, text in written.get("aside", {}).items()},
            written.get("described", {}),
            {
                symbol: {int(r): text for r, text in cells.items()}
                for symbol, cells in written.get("corrected", {}).items()
            },
            dict(written.get("derived", ())),
            {symbol: from_text(text) for symbol, text in written.get("kept", {}).items()},
            imports=imports,
        )


def _sampled_runs(runs: Runs, rows: NDArray[np.int64]) -> Runs:
    """The places, from 1, of those of some ascending rows that lie in runs."""
    if not runs:
        return ()
    ends = np.array(runs)
    run = np.searchsorted(ends[:, 1], rows)
    inside = run < len(ends)
    inside[inside] = ends[run[inside], 0] <= rows[inside]
    return to_runs(np.flatnonzero(inside) + 1)


def _sampled_recipe(recipe: Mapping[str, Any], places: Mapping[int, int]) -> Mapping[str, Any]:
    if not recipe.get("rows"):
        return recipe
    return {**recipe, "rows": [places[row] for row in recipe["rows"] if row in places] or [0]}


def _digest(parts: Any) -> str:
    return sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()


class _RowsByVariable:
    """Rows by variable that grow and shrink; what is added is joined once, however many runs it came in."""

    def __init__(self, runs: Mapping[str, Runs]) -> None:
        self._runs = dict(runs)
        self._added: dict[str, list[tuple[int, int]]] = {}

    def add(self, variable: str, rows: Runs) -> None:
        self._added.setdefault(variable, []).extend(rows)

    def remove(self, variable: str, rows: Runs) -> None:
        self._runs[variable] = without(self._joined(variable), rows)

    def move(self, moves: Moves) -> None:
        self._runs = {variable: moved(runs, moves) for variable, runs in self.runs().items()}

    def runs(self) -> dict[str, Runs]:
        """The rows of each variable that has some, variables in the order of their symbols."""
        every = {variable: self._joined(variable) for variable in sorted({*self._runs, *self._added})}
        return {variable: runs for variable, runs in every.items() if runs}

    def _joined(self, variable: str) -> Runs:
        added = self._added.pop(variable, None)
        if added:
            self._runs[variable] = joined((*self._runs.get(variable, ()), *added))
        return self._runs.get(variable, ())


class _Builder:
    """A state that takes decisions; what it began with is left as it was."""

    def __init__(self, state: TableState) -> None:
        self._begun = state
        self._version = state.import_version
        self._aside, self._kept = _RowsByVariable(state.aside), _RowsByVariable(state.kept)
        self._described = {symbol: dict(said) for symbol, said in state.described.items()}
        self._corrected = {symbol: dict(cells) for symbol, cells in state.corrected.items()}
        self._derived = dict(state.derived)

    def take(self, decision: Decision) -> None:
        changes = decision.changes
        match decision.kind:
            case "set-aside":
                self._aside.add(decision.variable, decision.rows)
            case "put-back":
                self._aside.remove(decision.variable, decision.rows)
            case "keep":
                self._kept.add(decision.variable, decision.rows)
            case "describe":
                for symbol, said in changes.items():
                    self._described.setdefault(symbol, {}).update(said)
            case "correct":
                for symbol, cells in changes.items():
                    new = {int(row): str(cell["new"]) for row, cell in cells.items()}
                    self._corrected.setdefault(symbol, {}).update(new)
            case "derive":
                for symbol, recipe in changes.items():
                    self._derive(symbol, recipe)
            case "reread" | "follow":
                self._version = int(changes.get("reading", self._version))
                self._renumber(changes["moves"])

    def _derive(self, symbol: str, recipe: Mapping[str, Any] | None) -> None:
        if recipe is None:
            self._derived.pop(symbol, None)
            return
        self._derived[symbol] = recipe
        # A new recipe names the variable anew, over what was said of it.
        for name in ("label", "unit"):
            self._described.get(symbol, {}).pop(name, None)

    def _renumber(self, moves: Moves) -> None:
        self._aside.move(moves)
        self._kept.move(moves)
        self._derived = {symbol: dict(moved_recipe(recipe, moves)) for symbol, recipe in self._derived.items()}
        self._corrected = {
            symbol: {
                row - first + new: text
                for row, text in cells.items() for first, last, new in moves if first <= row <= last
            }
            for symbol, cells in self._corrected.items()
        }  # fmt: skip

    def state(self) -> TableState:
        return TableState(
            self._version,
            self._aside.runs(),
            {symbol: said for symbol, said in self._described.items() if said},
            {symbol: cells for symbol, cells in sorted(self._corrected.items()) if cells},
            in_order(self._derived),
            self._kept.runs(),
            self._begun.level,
            self._begun.imports,
        )


def replay_decisions(decisions: Sequence[Decision], imports: Imports | None = None) -> TableState:
    """Return the state to which all decisions come, taken in their order."""
    builder = _Builder(TableState(imports=imports or Imports()))
    for decision in decisions_in_force(decisions):
        builder.take(decision)
    return builder.state()


def replay(decisions: Sequence[Decision], original: Table, *imported_again: Table) -> Table:
    """Return the table that the decisions make of the original: described, corrected, with what they set aside marked
    as missing, by the code "set aside", and with the variables that follow from others behind.

    Parameters: original, the table as first imported; imported_again, its later import versions in their order.
    Raises: InputError where a decision names a row or variable that the table does not have.
    """
    versions = (original, *imported_again)
    state = replay_decisions(decisions, TablesAsImports(*versions))
    if state.import_version >= len(versions):
        words = f"The file was read {state.import_version + 1} times."
        raise InputError("no-such-reading", words, where="imported_again")
    # A row or variable may have been there in an earlier import only.
    last, symbols = max(table.n_rows for table in versions), {symbol for table in versions for symbol in table}
    symbols |= {symbol for decision in decisions if decision.kind == "derive" for symbol in decision.changes}
    for decision in decisions:
        _check(decision, last, symbols)
    state = state.with_sources()
    columns = {symbol: state.column(symbol, "active") for symbol in state.symbols}
    return replace(versions[state.import_version], columns=columns)


def _check(decision: Decision, last: int, symbols: set[str]) -> None:
    named = decision.rows or ((1, 1),)
    wrong = next((row for row in (named[0][0], named[-1][1]) if not 1 <= row <= max(last, 1)), None)
    if wrong is not None:
        raise InputError(
            "no-such-row",
            f"Entry {decision.number} names row {wrong}; the table has rows 1 to {last}.",
            where="rows",
        )
    described = {decision.variable, *(decision.changes if decision.kind in ("describe", "correct") else ())} - {""}
    for symbol in sorted(described - symbols):
        raise InputError(
            "no-such-variable",
            f"Entry {decision.number} names {symbol!r}, which the table does not have.",
            where="variable",
        )
