"""A long table stored part by part: each is there for good once it is stored, so that work that was broken off goes on
behind the last."""

from collections.abc import Callable, Mapping
from typing import Any

from django.db import transaction
from heron.chunked import Basics, Cells, Counted
from heron.columns import NUMBER_KINDS, Column, joined_columns
from heron.columns import Table as CoreTable
from heron.ledger import Look, Of, TableState, Used
from heron.thinning import sample

from server import room
from server.studies import store
from server.studies.column_summary import summary_of
from server.studies.models import Chunk, Job, PartRecord, Table, Variable
from server.studies.parts import StoredChunks, keep_records
from server.studies.snapshots import STATE_FIELDS, materialize_state

# Makes, or reads, the rows of a table from one position to before another.
MakePart = Callable[[int, int], CoreTable]
Check = Callable[[float], None]


class _AtHand(store.StoredImports):
    """The import of a table of which one part is still in memory."""

    def __init__(self, table: Table, number: int, columns: Mapping[str, Column]) -> None:
        super().__init__(table)
        self._number = number
        self._columns = columns

    def part(self, version: int, symbol: str, number: int) -> Column:
        return self._columns[symbol] if number == self._number else super().part(version, symbol, number)


def receive(job: Job, n_rows: int, make: MakePart, origin: dict[str, Any], check: Check) -> Table:
    """Store the parts of a table that are not stored yet; its rows are not seen before it is complete."""
    bounds = store.bounds_of(n_rows)
    table = Table.every.filter(arriving=job).first()
    n_stored = 0 if table is None else _n_parts_stored(table)
    for number in range(n_stored, len(bounds) - 1):
        check(number / (len(bounds) - 1))
        made = make(*bounds[number : number + 2])
        room.require(made.n_rows * len(made.columns))
        with transaction.atomic():
            if table is None:
                table = _begun(job, n_rows, made, origin)
            _store_part(table, number, made)
    assert table is not None
    return table


def _begun(job: Job, n_rows: int, first: CoreTable, origin: dict[str, Any]) -> Table:
    imports = [{"choices": {}, "n_rows": n_rows, "said": {}}]
    table = Table.every.create(
        study=job.study, name=job.name, n_rows=n_rows, imports=imports, origin=origin, arriving=job
    )
    Variable.objects.bulk_create(
        Variable(
            table=table, position=position, symbol=column.symbol, label=column.label, unit=column.unit,
            kind=column.kind, levels=list(column.levels), missing_codes=list(column.missing_codes),
            decimals=column.decimals,
        )
        for position, column in enumerate(first.columns.values())
    )  # fmt: skip
    return table


def _n_parts_stored(table: Table) -> int:
    last = Variable.objects.filter(table=table).last()
    return -(-Chunk.objects.filter(variable=last).count() // store.CHUNKS_PER_PART)


def _store_part(table: Table, number: int, made: CoreTable) -> None:
    state = TableState(imports=_AtHand(table, number, made.columns))
    first = number * store.CHUNKS_PER_PART * store.ROWS_PER_CHUNK
    positions = sample(store.bounds_of(table.n_rows)) if state.is_long else None
    for variable in table.variables.all():
        column = made[variable.symbol]
        Chunk.objects.bulk_create(
            Chunk(variable=variable, position=number * store.CHUNKS_PER_PART + position, data=data)
            for position, data in enumerate(store.encode(column, fast=state.is_long))
        )
        if positions is None:
            continue
        here = positions[(positions >= first) & (positions < first + made.n_rows)] - first
        sampled = PartRecord(
            table=table, key=_sample_key(variable, number), data=store.encoded(column.at(here)), lasting=True
        )
        PartRecord.objects.bulk_create([sampled])
        keep_records(state, table, number, _looks(variable))


def _looks(variable: Variable) -> list[Look[Any]]:
    """What is asked first of a variable."""
    if variable.kind in NUMBER_KINDS or variable.kind == "date-time":
        return [Counted(variable.symbol), Basics(Of(variable.symbol))]
    return [Counted(variable.symbol), Cells((variable.symbol,))]


def _sample_key(variable: Variable, number: int) -> str:
    return f"sample {variable.pk} part {number}"


def complete(table: Table) -> None:
    """Show a table all of whose parts are stored, with what lists say of its variables."""
    n_parts = len(store.bounds_of(table.n_rows)) - 1
    state = TableState(imports=store.StoredImports(table))
    for variable in table.variables.all():
        if not state.is_long:
            for name, value in summary_of(store.load(variable)).items():
                setattr(variable, name, value)
            variable.save()
            continue
        keys = [_sample_key(variable, number) for number in range(n_parts)]
        kept = PartRecord.objects.filter(key__in=keys)
        by_key = {record.key: bytes(record.data) for record in kept}
        column = joined_columns([store.decode(variable, [by_key[key]]) for key in keys])
        used: Used = StoredChunks(state, table).over(Counted(variable.symbol))[0]
        for name, value in (summary_of(column) | {"levels": variable.levels, "decimals": variable.decimals}).items():
            setattr(variable, name, value)
        variable.missing_counts, variable.n_missing = used.missing_counts, used.missing
        variable.save()
        kept.delete()
        store.keep_sample(variable, state.bounds, column)
    table.arriving = None
    table.save(update_fields=["arriving"])
    materialize_state(table, TableState(imports=store.StoredImports(table)))
    table.save(update_fields=STATE_FIELDS)


def forget(job: Job) -> None:
    """What a job has stored of a table that it did not complete."""
    Table.every.filter(arriving=job).delete()


def forget_broken_off() -> None:
    """What jobs have stored of tables that they did not complete, and will not."""
    ended = (Job.State.DONE, Job.State.STOPPED, Job.State.FAILED, Job.State.INTERRUPTED)
    Table.every.filter(arriving__state__in=ended).delete()
