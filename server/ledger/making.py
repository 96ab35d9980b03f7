"""Tables that no file holds: simulated ones, and tables made of tables, which follow their sources."""

import zlib
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

import numpy as np
from django.db import transaction
from heron import numbering, simulation
from heron import rearranging as rearrange
from heron.columns import Table as CoreTable
from heron.errors import HeronError

from server.accounts.models import User
from server.ledger import services
from server.problems import Refusal
from server.studies import quotas
from server.studies import services as studying
from server.studies.models import Job, Study, Table
from server.studies.permissions import require_editor
from server.studies.snapshots import TableSnapshot


@dataclass(frozen=True)
class TableRecipe:
    """How a table is to be made. of: the tables that it stands on; options: as the maker of that name takes them."""

    how: str
    of: tuple[UUID, ...]
    options: dict[str, Any]


def _conditions(options: dict[str, Any]) -> list[rearrange.Condition]:
    return [
        rearrange.Condition(**{**option, "levels": tuple(option.get("levels") or ())})
        for option in options["conditions"]
    ]


_MAKERS: dict[str, Callable[[list[CoreTable], dict[str, Any]], rearrange.Made]] = {
    "longer": lambda of, o: rearrange.longer(of[0], o["sets"], marks=o["marks"], mark_name=o["mark_name"]),
    "wider": lambda of, o: rearrange.wider(of[0], keys=o["keys"], mark=o["mark"], values=o["values"]),
    "split": lambda of, o: rearrange.split(of[0], o["variable"], at=o["at"], names=o["names"]),
    "join": lambda of, o: rearrange.join(of[0], o["variables"], between=o["between"], name=o["name"]),
    "stack": lambda of, o: rearrange.stack(of, name=o["name"]),
    "look-up": lambda of, o: rearrange.look_up(
        of[0], of[1], key=o["key"], other_key=o["other_key"], symbols=o["symbols"]
    ),
    "part": lambda of, o: rearrange.subset(of[0], _conditions(o), symbols=o["symbols"]),
}
_WORDS = {
    "longer": "{0}, repeated columns as rows",
    "wider": "{0}, levels as columns",
    "split": "{0}, a variable split",
    "join": "{0}, variables joined",
    "stack": "{all}, stacked",
    "look-up": "{0}, with variables of {1}",
    "part": "{0}, a part of it",
}


def preview(user: User, study: Study, wish: TableRecipe) -> rearrange.Made:
    """What would be made, nothing stored."""
    require_editor(user, study)
    if wish.how == "simulated":
        return _glimpse(wish.options)
    return _made(_sources(study, wish.of), wish)


@transaction.atomic
def begin(user: User, study: Study, name: str, wish: TableRecipe, defer: studying.Defer) -> Table | Job:
    """Make a table as `make` does, or where it is long the job that will."""
    if wish.how != "simulated" or _n_rows(wish.options) <= simulation.MOST_AT_ONCE:
        return make(user, study, name, wish)
    require_editor(user, study)
    _glimpse(wish.options)  # what cannot be made is refused at once
    quotas.require_table(study)
    quotas.require_job(user)
    job = Job.objects.create(
        study=study, author=user, name=_title(name), choices=wish.options, purpose=Job.Purpose.MAKE
    )
    transaction.on_commit(lambda: defer(job))
    return job


def _title(name: str) -> str:
    return name.strip()[:200] or "Untitled table"


@transaction.atomic
def make(user: User, study: Study, name: str, wish: TableRecipe) -> Table:
    """Make a table and store it; one made of tables follows them from here on."""
    require_editor(user, study)
    title = _title(name)
    if wish.how == "simulated":
        made = {"how": "simulated", "options": wish.options, "words": _simulation_words(wish.options)}
        return studying.store_table(study, title, _simulated(wish.options).table, None, origin=made)
    sources = _sources(study, wish.of)
    result = _made(sources, wish)
    names = [source.name for source in sources]
    kept = {
        "how": wish.how,
        "of": [str(source.pk) for source in sources],
        "seen": {str(source.pk): source.revision for source in sources},
        "options": wish.options,
        "words": _WORDS[wish.how].format(*names, all=" and ".join(names)),
        "notes": list(result.notes),
    }
    table = studying.store_table(study, title, result.table, None, origin=kept)
    table.row_origins = _packed(result.origins)
    table.save(update_fields=["row_origins"])
    return table


def run_making(job: Job) -> None:
    """Make the long table that a job is about."""
    variable, groups, more = _simulation(job.choices)
    made = {"how": "simulated", "options": job.choices, "words": _simulation_words(job.choices)}

    def part(first: int, end: int) -> CoreTable:
        return simulation.simulate_part(variable, groups, first, end, decimals=job.choices["decimals"], **more)

    studying.run_making(job, part, _n_rows(job.choices), made)


def refresh_if_stale(table: Table) -> bool:
    """Make a derived table anew where one of its sources changed since; whether it was. The sources first."""
    made = table.origin or {}
    if not made.get("of"):
        return False
    sources = list(Table.objects.filter(pk__in=made["of"], study=table.study_id).select_related("study"))
    for source in sources:
        if refresh_if_stale(source):
            source.refresh_from_db()
    now = {str(source.pk): source.revision for source in sources}
    if now == made["seen"] or len(sources) < len(set(made["of"])):  # a source that was removed changes no more
        return False
    with transaction.atomic():
        locked = Table.objects.select_for_update().select_related("study__owner").get(pk=table.pk)
        if (locked.origin or {}).get("seen") == now:
            return True
        _make_anew(locked, sources, now)
    return True


def _make_anew(table: Table, sources: list[Table], now: dict[str, int]) -> None:
    made = dict(table.origin or {})
    by_id = {str(source.pk): source for source in sources}
    changed = " and ".join(by_id[pk].name for pk, revision in now.items() if made["seen"].get(pk) != revision)
    made["seen"] = now
    try:
        result = _made([by_id[pk] for pk in made["of"]], TableRecipe(made["how"], (), made["options"]))
    except HeronError as error:
        # It stays as it was, and says why, until the source allows it again.
        table.origin = {**made, "trouble": f"{error.problem} {error.remedy}".strip()}
        table.save(update_fields=["origin"])
        return
    moves = numbering.moves_between(_unpacked(table.row_origins), result.origins)
    table.origin = {name: value for name, value in made.items() if name != "trouble"} | {"notes": list(result.notes)}
    table.row_origins = _packed(result.origins)
    table.variables.all().delete()
    studying.store_variables(table, result.table, 0)
    table.imports = [{**table.imports[0], "n_rows": result.table.n_rows}]
    table.save(update_fields=["origin", "row_origins", "imports"])
    services.follow(table, moves, f"Made anew, since {changed} changed.")


def _sources(study: Study, of: tuple[UUID, ...]) -> list[Table]:
    result = {table.pk: table for table in Table.objects.filter(study=study, pk__in=of)}
    if len(result) < len(set(of)) or not of:
        raise Refusal(404, "not-found", "There is no such table in this study.", where="of")
    for table in result.values():
        if refresh_if_stale(table):
            table.refresh_from_db()
    return [result[pk] for pk in of]


def _made(sources: list[Table], wish: TableRecipe) -> rearrange.Made:
    return _MAKERS[wish.how]([TableSnapshot.of(source).active() for source in sources], wish.options)


def _simulation(options: dict[str, Any]) -> tuple[simulation.Simulated, list[simulation.Group], dict[str, Any]]:
    second = options.get("second")
    return (
        simulation.Simulated(**options["variable"]),
        [simulation.Group(**group) for group in options["groups"]],
        {
            "seed": options["seed"],
            "second": simulation.Simulated(**second) if second else None,
            "correlation": options["correlation"],
        },
    )


_GLIMPSED = 10_000


def _n_rows(options: dict[str, Any]) -> int:
    return sum(int(group["n"]) for group in options["groups"])


def _simulated(options: dict[str, Any]) -> rearrange.Made:
    variable, groups, more = _simulation(options)
    table = simulation.simulate(variable, groups, decimals=options["decimals"], **more)
    return rearrange.Made(table, np.arange(table.n_rows))


def _glimpse(options: dict[str, Any]) -> rearrange.Made:
    """What is shown of a simulated table: all of it, or of a long one some rows, as many of each group as its share."""
    n = _n_rows(options)
    if n <= simulation.MOST_AT_ONCE:
        return _simulated(options)
    few = [{**group, "n": max(1, group["n"] * _GLIMPSED // n)} for group in options["groups"]]
    made = _simulated({**options, "groups": few})
    return rearrange.Made(replace(made.table, n_rows=n), made.origins)


def _simulation_words(options: dict[str, Any]) -> str:
    variable, groups, more = _simulation(options)
    return simulation.described(variable, groups, **more)


def _packed(origins: np.ndarray) -> bytes:
    # Differences of keys are small and alike, so they take little room.
    return zlib.compress(np.diff(origins, prepend=0).astype("<i8").tobytes(), 1)


def _unpacked(kept: bytes | memoryview | None) -> np.ndarray:
    return np.cumsum(np.frombuffer(zlib.decompress(bytes(kept)), "<i8")) if kept else np.empty(0, dtype=np.int64)
