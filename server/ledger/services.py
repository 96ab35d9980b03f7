"""Decisions: each is one entry, one new revision of its table, one transaction."""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from django.db import transaction
from django.db.models import Max, QuerySet
from heron import intake, normality, numbering
from heron.checks import frequencies
from heron.columns import NUMBER_KINDS
from heron.derived import by_row, circle, compute_derived, sources_of, title_of
from heron.errors import ReadError, all_rows_at_once
from heron.intake import symbols
from heron.ledger import Decision, load_series, meet, replay_decisions, revocable, undone_last
from heron.routine import Step
from heron.variables import apply_description, can_hold, cell_text, losses

from server import room
from server.accounts.models import User
from server.ledger import selectors
from server.ledger.models import Entry
from server.problems import Refusal
from server.studies import services as studying
from server.studies.models import Job, Table, Upload, Variable
from server.studies.permissions import require_editor
from server.studies.snapshots import STATE_FIELDS, TableSnapshot, VariableSnapshot, decided_state, materialize_state

MOST_MEANWHILE = 1_000  # entries that are looked through


@dataclass(frozen=True)
class RowDecision:
    """What a person wants recorded, and the revision of the table that they were looking at."""

    kind: str
    rows: Sequence[int]
    variable: str
    reason: str
    revision: int


@dataclass(frozen=True)
class Decided:
    """A decision that was taken: its entry, and the table as it stands since."""

    entry: Entry
    table: TableSnapshot


@dataclass(frozen=True)
class Cell:
    """New text for a cell. row: its number, from 1."""

    variable: str
    row: int
    text: str


@dataclass(frozen=True)
class Picked:
    """A panel of a line-up, by its place from 0; seen_before: whether the viewer had seen the data's plot."""

    variable: str
    seed: int
    place: int
    seen_before: bool


@transaction.atomic
def decide(user: User, table: Table, asked: RowDecision) -> Decided:
    """Set rows or values aside, put them back, or say that they were looked at and stay."""
    if not asked.rows:
        raise Refusal(422, "no-rows", "No row was named.", where="rows", remedy="Select rows first.")
    # What is beyond every table is refused with it, below.
    rows = numbering.to_runs(row for row in asked.rows if 0 < row < 2**31)
    locked = _locked(user, table, asked.revision, Decision(0, asked.kind, rows, asked.variable))  # type: ignore[arg-type]
    if min(asked.rows) < 1 or max(asked.rows) > locked.n_rows:
        raise Refusal(422, "no-such-row", f"The table has rows 1 to {locked.n_rows}.", where="rows")
    if asked.variable:
        _known(locked, [asked.variable])
    if asked.kind == Entry.Kind.SET_ASIDE:
        _reasoned(asked.reason)
    return _add(
        user,
        locked,
        kind=asked.kind,
        rows=rows,
        variable=asked.variable,
        reason=asked.reason.strip(),
    )


@transaction.atomic
def describe(
    user: User, table: Table, changes: dict[str, dict[str, Any]], revision: int, *, reason: str = ""
) -> Decided:
    """Say what variables are, by symbol: label, unit, kind, levels, limits; under "" what the table's unit is."""
    locked = _locked(user, table, revision, Decision(0, "describe", changes=changes))
    _known(locked, changes.keys() - {""})
    if not any(changes.values()):
        raise Refusal(422, "no-change", "Nothing was changed.", remedy="Change a word or a bound first.")
    named = [changes.get("", {}).get(name) for name in ("unit_variable", "weight_variable")]
    _known(locked, filter(None, named))
    if named[1]:
        _refuse_others_than_frequencies(locked.variable(named[1]))
    said_before = {symbol: locked.state.description(symbol) for symbol in changes}
    changes = {symbol: _by_own_levels(said_before[symbol], changed) for symbol, changed in changes.items()}
    for symbol, changed in changes.items():
        said = {**said_before[symbol], **changed}
        for low, high, words in (
            ("lower", "upper", "The lower bound must lie below the upper one."),
            ("spec_lower", "spec_upper", "The lower specification limit must lie below the upper one."),
        ):
            if said.get(low) is not None and said.get(high) is not None and not said[low] < said[high]:
                raise Refusal(422, "bounds-order", words, where=low)
    return _add(user, locked, kind=Entry.Kind.DESCRIBE, changes=changes, reason=reason.strip())


def _refuse_others_than_frequencies(variable: VariableSnapshot) -> None:
    """Refuse to weight by what is no frequency, before it stands in every reading."""
    column = load_series(variable.table.state, [variable.symbol]).columns[variable.symbol]
    if column.numbers is None or column.kind not in NUMBER_KINDS:
        raise Refusal(422, "not-numeric", f"{variable.label} has no numbers to weight by.", where="weight_variable")
    frequencies(np.nan_to_num(column.numbers, nan=0.0), column.n_rows)


def _by_own_levels(standing: dict[str, Any], said: dict[str, Any]) -> dict[str, Any]:
    """The changes with levels named as the source names them, whatever words stand for them by now."""
    words = standing.get("level_labels", {})
    named = {word: level for level, word in words.items()}
    changes = dict(said)
    if "levels" in said:
        changes["levels"] = [named.get(level, level) for level in said["levels"]]
    for name in ("level_labels", "level_numbers"):
        if name in said:
            changes[name] = {**standing.get(name, {}), **{named.get(k, k): v for k, v in said[name].items()}}
    return changes


def would_lose(table: Table, symbol: str, changes: dict[str, Any]) -> list[str]:
    """What a description would take away, in words, before it is made."""
    variable = TableSnapshot.of(table).variable(symbol)
    said = {**variable.table.state.description(symbol), **changes}
    return list(losses(variable.described, apply_description(variable.imported, said)).words)


@transaction.atomic
def correct(user: User, table: Table, cells: Sequence[Cell], reason: str, revision: int) -> Decided:
    """Write other text into cells; the old text stays in the entry."""
    symbols_changed = {cell.variable: None for cell in cells}
    about = Decision(0, "correct", numbering.to_runs(cell.row for cell in cells), changes=symbols_changed)
    locked = _locked(user, table, revision, about)
    _reasoned(reason)
    _known(locked, symbols_changed)
    changes: dict[str, dict[str, Any]] = {}
    for symbol in dict.fromkeys(cell.variable for cell in cells):
        variable = locked.variable(symbol)
        if variable.recipe:
            of = " and ".join(source.label for source in variable.sources)
            raise Refusal(
                422,
                "follows",
                f"{variable.label} follows from {of}.",
                where="cells",
                remedy=f"Correct {of}; {variable.label} follows.",
            )
        for cell in cells:
            if cell.variable != symbol:
                continue
            if not 1 <= cell.row <= locked.n_rows:
                raise Refusal(422, "no-such-row", f"The table has rows 1 to {locked.n_rows}.", where="cells")
            column, place = locked.described_at(cell.row - 1, symbol)
            if not can_hold(column, cell.text):
                raise Refusal(
                    422,
                    "not-of-its-kind",
                    f"{column.label} is {column.kind}: {cell.text[:40]!r} in row {cell.row} is none.",
                    where="cells",
                    remedy="Give a value of its kind, leave the cell blank, or change the variable's kind first.",
                )
            old = cell_text(column, place)
            if old != cell.text.strip():
                changes.setdefault(symbol, {})[str(cell.row)] = {"old": old, "new": cell.text.strip()}
    if not changes:
        raise Refusal(422, "no-change", "Nothing was changed.", remedy="Type another value first.")
    rows = numbering.to_runs(int(row) for changed in changes.values() for row in changed)
    return _add(user, locked, kind=Entry.Kind.CORRECT, rows=rows, changes=changes, reason=reason.strip())


def start_rereading(user: User, upload: Upload, choices: dict[str, Any], defer: Callable[[Job], None]) -> Job:
    """Read a table again from its own file, as a new revision of it."""
    if upload.again is None:
        raise Refusal(
            422, "not-again", f"{upload.file.name} is not a table's own file.", remedy="Store it as a new table."
        )
    return studying.start_storing(user, upload, upload.again.name, choices, defer, add_reading)


def add_reading(job: Job, read: intake.Intake, check: Callable[[float], None]) -> Table:
    """The table with another reading of its file in force; within the transaction of its job."""
    assert job.upload is not None
    assert job.upload.again is not None
    assert job.author is not None
    if read.beside:
        raise ReadError(
            "several-tables", "A table that is read again stays one table.", where="parts",
            remedy="Choose one of its parts, or bring the file in as a new one.",
        )  # fmt: skip
    table = Table.objects.select_for_update().get(pk=job.upload.again.pk)
    before = TableSnapshot.of(table)
    match = intake.match(replace(before, state=replace(before.state, derived={})).described(), read.table)
    number = len(table.imports)
    studying.store_variables(table, read.table, number, check)
    said = studying.said_at_first(job.choices)
    table.imports = [*table.imports, {"choices": job.choices, "n_rows": read.table.n_rows, "said": said}]
    table.save(update_fields=["imports"])
    recipes = before.state.derived
    present = {*read.table, *recipes}
    gone = [how["label"] for symbol, how in recipes.items() if symbol in read.table or {*sources_of(how)} - present]
    lost = [f"{label} can no longer follow: a variable that it is made of is gone." for label in gone]
    changes = {"reading": number, "moves": match.moves, "report": [*match.words, *lost]}
    _add(job.author, before, kind=Entry.Kind.REREAD, changes=changes)
    return table


@transaction.atomic
def derive(
    user: User, table: Table, recipes: list[dict[str, Any]], revision: int, *, instead: str = "", reason: str = ""
) -> list[str]:
    """Add variables that follow from others of the table, in one entry; return their symbols. Recipes without a name
    are given the one proposed. instead: the symbol of a variable that follows, whose recipe the first is from now on.
    """
    locked = _locked(user, table, revision)
    present, recipes_before = locked.by_symbol, locked.state.derived
    if instead and instead not in recipes_before:
        raise Refusal(422, "not-derived", f"No variable {instead!r} follows from another here.", where="instead")
    made: dict[str, dict[str, Any]] = {}
    for recipe in recipes:
        _known(locked, sources_of(recipe))
        columns = load_series(locked.state, sources_of(recipe)).columns
        label, unit = recipe["label"].strip(), recipe.get("unit", "")
        if recipe is not recipes[0]:
            label, unit = title_of(recipe, columns)
        if not label:
            raise Refusal(422, "no-label", "The new variable needs a name.", where="label", remedy="Type one.")
        symbol = instead if instead and not made else _new_symbol(locked, [*present, *made], label)
        others = [variable.label for variable in present.values() if variable.symbol != symbol]
        if label in [*others, *(made_variable["label"] for made_variable in made.values())]:
            raise Refusal(422, "label-taken", f"There is a variable {label!r} already.", where="label")
        made[symbol] = {**recipe, "label": label, "unit": unit}
        loop = circle({**recipes_before, **made}, symbol)
        if loop:
            names = " from ".join(present[link].label if link in present else label for link in loop)
            raise Refusal(422, "circular", f"It would follow from itself: {names}.", where="of")
        # Refused here, before anything is kept.
        compute_derived(symbol, made[symbol], columns)
        if locked.state.is_long and not by_row(made[symbol]):
            raise all_rows_at_once(f"{label} is made of all rows together, and")
    if any(recipe["how"] == "pulled-in" for recipe in recipes):
        _reasoned(reason)
    _add(user, locked, kind=Entry.Kind.DERIVE, changes=made, reason=reason.strip())
    return list(made)


def _new_symbol(table: TableSnapshot, existing: list[str], label: str) -> str:
    taken = Variable.objects.filter(table=table.row).values_list("symbol", flat=True)
    return symbols([*taken, *existing, label])[-1]


@transaction.atomic
def take_away(user: User, table: Table, symbol: str, revision: int) -> Decided:
    """Remove a variable that follows from another, unless a third follows from it."""
    locked = _locked(user, table, revision)
    recipes = locked.state.derived
    if symbol not in recipes:
        raise Refusal(422, "not-derived", f"No variable {symbol!r} follows from another here.", where="variable")
    upon = " and ".join(recipe["label"] for recipe in recipes.values() if symbol in sources_of(recipe))
    if upon:
        words = f"{upon} follow{'' if ' and ' in upon else 's'} from it."
        raise Refusal(409, "stands-on", words, where="variable", remedy=f"Take {upon} away first.")
    return _add(user, locked, kind=Entry.Kind.DERIVE, changes={symbol: None})


@transaction.atomic
def repeat(user: User, table: Table, steps: Sequence[Step]) -> None:
    """Take the steps of a routine on a table, each an entry of its ledger, in one go."""
    row = _locked(user, table, table.revision).row
    held = selectors.entries(row)
    made = Entry.objects.bulk_create(
        Entry(
            table=row, number=len(held) + number, kind=step.kind, rows=step.rows, variable=step.variable,
            n_rows=numbering.n_rows_of(step.rows), changes=step.changes, reason=step.reason, author=user,
            revision_before=row.revision + number - 1, revision_after=row.revision + number,
        )
        for number, step in enumerate(steps, 1)
    )  # fmt: skip
    materialize_state(row, replay_decisions(selectors.decisions([*held, *made]), decided_state(row).imports))
    row.revision += len(made)
    row.save(update_fields=[*STATE_FIELDS, "revision"])


@transaction.atomic
def follow(table: Table, moves: numbering.Moves, words: str) -> None:
    """Record that a derived table was made anew and how its rows are numbered since."""
    owner = table.study.owner
    _add(owner, TableSnapshot.of(table), kind=Entry.Kind.FOLLOW, changes={"moves": moves, "report": [words]})


@transaction.atomic
def pick(user: User, table: Table, picked: Picked, revision: int) -> int:
    """Record which panel of a line-up somebody took for the data; return the place of the data."""
    locked = _locked(user, table, revision)
    _known(locked, [picked.variable])
    values = load_series(locked.state, [picked.variable]).numbers(picked.variable)
    panel = normality.line_up(values, seed=picked.seed, decimals=locked.variable(picked.variable).decimals).place
    said = {"seed": picked.seed, "picked": picked.place + 1, "data": panel + 1, "seen_before": picked.seen_before}
    _add(user, locked, kind=Entry.Kind.LINE_UP, changes={picked.variable: said})
    return panel


@transaction.atomic
def undo(user: User, table: Table, revision: int) -> Decided:
    """Take back one's own last decision, unless another's stands on it."""
    locked = _locked(user, table, revision)
    entries = selectors.entries(locked.row)
    in_force = revocable(selectors.decisions(entries))
    if not in_force:
        raise Refusal(422, "nothing-to-undo", "There is no decision to take back.")
    last = entries[in_force[-1].number - 1]
    if last.author_id != user.pk:
        raise Refusal(409, "stands-on", f"The last decision is {last.by_whom}'s, not yours.")
    return _add(user, locked, kind=Entry.Kind.UNDO, of=last.number, before=entries)


@transaction.atomic
def redo(user: User, table: Table, revision: int) -> Decided:
    """Make again the decision that was taken back last."""
    locked = _locked(user, table, revision)
    entries = selectors.entries(locked.row)
    number = undone_last(selectors.decisions(entries))
    if number is None:
        raise Refusal(422, "nothing-to-redo", "There is no decision to make again.")
    return _add(user, locked, kind=Entry.Kind.REDO, of=number, before=entries)


def _locked(user: User, table: Table, revision: int, deciding: Decision | None = None) -> TableSnapshot:
    """The table, held until the entry stands; refused when somebody decided something meanwhile, or, where it is known
    what is being decided, something that this is about too."""
    require_editor(user, table.study)
    room.require_a_little()
    locked = Table.objects.select_for_update().get(pk=table.pk)
    since = locked.entries.select_related("author").filter(revision_after__gt=revision)
    if locked.revision != revision and (deciding is None or revision > locked.revision or _meets(deciding, since)):
        last = locked.entries.select_related("author").last()
        who = last.by_whom if last else "Somebody"
        raise Refusal(
            409,
            "changed-meanwhile",
            f"{who} changed this table meanwhile: entry {last.number if last else 0} of the ledger.",
            remedy="Look at it, then decide again; what you typed is kept.",
        )
    return TableSnapshot.of(locked)


def _meets(deciding: Decision, since: QuerySet[Entry]) -> bool:
    meanwhile = list(since[: MOST_MEANWHILE + 1])
    return len(meanwhile) > MOST_MEANWHILE or any(meet(deciding, other) for other in selectors.decisions(meanwhile))


def _known(table: TableSnapshot, symbols: Iterable[str]) -> None:
    for symbol in sorted(set(symbols) - set(table.state.symbols)):
        raise Refusal(422, "no-variable", f"The table has no variable {symbol!r}.", where="variable")


def _reasoned(reason: str) -> None:
    if not reason.strip():
        raise Refusal(422, "no-reason", "A reason is needed.", where="reason", remedy="Say why, in a word or two.")


def _add(
    user: User,
    table: TableSnapshot,
    *,
    kind: str,
    rows: numbering.Runs = (),
    variable: str = "",
    reason: str = "",
    of: int = 0,
    changes: dict[str, Any] | None = None,
    before: Sequence[Entry] = (),
) -> Decided:
    """Add an entry and let it take effect. before: all entries there are, where one of them is undone or redone."""
    row = table.row
    entry = Entry.objects.create(
        table=row,
        number=(row.entries.aggregate(last=Max("number"))["last"] or 0) + 1,
        kind=kind,
        rows=rows,
        n_rows=numbering.n_rows_of(rows),
        variable=variable,
        of=of,
        changes=changes or {},
        reason=reason,
        author=user,
        revision_before=row.revision,
        revision_after=row.revision + 1,
    )
    if kind in (Entry.Kind.UNDO, Entry.Kind.REDO):
        decided = replay_decisions(selectors.decisions([*before, entry]), table.state.imports)
    else:
        before_it = decided_state(row) if row.state.get("resting") else table.state
        decided = before_it.decided(selectors.decisions([entry])[0])
    after = materialize_state(row, decided)
    derived = table.state.derived
    lost = next((symbol for symbol in derived if symbol in row.state["resting"]), None)
    if lost is not None and kind in (Entry.Kind.DESCRIBE, Entry.Kind.DERIVE):
        label = derived[lost]["label"]
        raise Refusal(
            409,
            "stands-on",
            f"{label} follows from {' and '.join(sources_of(derived[lost]))}, and could no longer.",
            remedy=f"Take {label} away first, or change nothing that it needs.",
        )
    row.revision += 1
    row.save(update_fields=[*STATE_FIELDS, "revision"])
    return Decided(entry, replace(after, revision=row.revision))
