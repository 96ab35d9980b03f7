"""Long tables looked at part by part: by threads of this process, or by the workers of a cluster.

What is found in a part is kept under a digest of all that it stands on, so that a decision on some rows has only their
parts looked at again.
"""

import hashlib
import logging
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from dataclasses import replace
from functools import cache
from pathlib import Path
from threading import Barrier, RLock
from typing import Any
from uuid import UUID

import heron
from dask.base import compute
from dask.callbacks import Callback
from dask.delayed import delayed
from django.conf import settings
from django.db import connection
from django.db.models.functions import Length
from heron.chunked import pack, unpack
from heron.ledger import Chunks, Look, TableState, Watch, record_part

from server.studies.models import PartRecord, Table
from server.studies.store import StoredImports

MOST_BYTES = 1_000_000  # of a record that is kept
MOST_KEPT = 400_000_000  # bytes of a table, besides what came with its parts
_AT_ONCE = 100  # records that are stored together
_PATIENCE = 0.3  # seconds between two looks at whether an answer is still wanted
_TOPICS = (
    "chunked", "ledger", "moments.py", "ordered.py", "columns.py", "variables.py", "derived.py", "listing.py",
    "rescale", "outliers", "audit.py", "bivariate", "relation", "influence",
)  # fmt: skip
logger = logging.getLogger(__name__)
_turns: dict[UUID, RLock] = {}


class StoredChunks(Chunks):
    """A table in the database that is looked at in parts. Of several questions about one table the second waits, and
    finds what the first had kept."""

    def __init__(self, state: TableState, row: Table) -> None:
        super().__init__(state)
        self._row = row

    def taken(self, looks: Sequence[Look[Any]]) -> list[Any]:
        turn = _turns.setdefault(self._row.pk, RLock())
        while not turn.acquire(timeout=_PATIENCE):
            self.watch()(0)  # which ends it where nobody waits for it any more
        try:
            records = self._records(looks)
        finally:
            turn.release()
        return [look.merge([records[number, i] for number in range(self.n_parts)]) for i, look in enumerate(looks)]

    def _records(self, looks: Sequence[Look[Any]]) -> dict[tuple[int, int], Any]:
        """The records by part and look: those that are kept, and the others worked."""
        said = [_said(look) for look in looks]
        keys = {
            (number, i): _key(part, look, said[i])
            for number in range(self.n_parts) for part in (self.state.part(number),) for i, look in enumerate(looks)
        }  # fmt: skip
        kept = _kept(keys.values())
        records = {place: unpack(kept[key]) for place, key in keys.items() if key in kept}
        wanted = {
            number: [i for i in range(len(looks)) if (number, i) not in records] for number in range(self.n_parts)
        }
        tasks = [(number, [looks[i] for i in missing]) for number, missing in wanted.items() if missing]
        new = []
        for (number, _), found in zip(tasks, self._worked(tasks), strict=True):
            for i, data in zip(wanted[number], found, strict=True):
                records[number, i] = unpack(data)
                if len(data) <= MOST_BYTES:
                    new.append(PartRecord(table_id=self._row.pk, key=keys[number, i], data=data))
        PartRecord.objects.bulk_create(new, batch_size=_AT_ONCE, ignore_conflicts=True)
        if new:
            _make_room(self._row)
        return records

    def _worked(self, tasks: list["Task"]) -> list[list[bytes]]:
        if not tasks:
            return []
        watch = self.watch()
        if connection.in_atomic_block:  # nobody else sees yet what is in it
            result = []
            for done, task in enumerate(tasks, 1):
                result.append(packed_records(self.state, task))
                watch(done / len(tasks))
            return result
        if settings.CLUSTER:
            from server.studies import cluster

            try:
                return cluster.worked(self._row, self.state, tasks, watch)
            except cluster.Away as away:
                logger.warning("the cluster %s is away (%s): this machine works", settings.CLUSTER, away)
                self.tell("The other machines do not answer, so this one works alone.")
        return _in_threads(self.state, tasks, watch)


def _make_room(row: Table) -> None:
    """The oldest of what was found in a table makes room for the newest, but for what came with its parts."""
    records = PartRecord.objects.filter(table=row, lasting=False).annotate(size=Length("data")).order_by("-pk")
    held, gone = 0, []
    for pk, size in records.values_list("pk", "size"):
        held += size
        if held > MOST_KEPT:
            gone.append(pk)
    PartRecord.objects.filter(pk__in=gone).delete()


def keep_records(state: TableState, row: Table, number: int, looks: Sequence[Look[Any]]) -> None:
    """Keep what is found in a part as it is stored, so that it need not be looked at when it is first asked for."""
    keys = [_key(state.part(number), look, _said(look)) for look in looks]
    found = packed_records(state, (number, list(looks)))
    records = [PartRecord(table=row, key=key, data=data, lasting=True) for key, data in zip(keys, found, strict=True)]
    PartRecord.objects.bulk_create(records, ignore_conflicts=True)


# A part by its number, and the looks at it.
Task = tuple[int, list[Look[Any]]]


def packed_records(state: TableState, task: Task) -> list[bytes]:
    """What is found in a part."""
    number, looks = task
    return [pack(record) for record in record_part(state, looks, number)]


def _in_threads(state: TableState, tasks: list[Task], watch: Watch) -> list[list[bytes]]:
    """The work of threads of this process."""
    done = [0]

    def posttask(*_: Any) -> None:
        done[0] += 1
        watch(min(done[0] / len(tasks), 1.0))

    with _threads() as pool, Callback(posttask=posttask):
        work = [delayed(packed_records, pure=False, traverse=False)(state, task) for task in tasks]
        return list(compute(*work, scheduler="threads", pool=pool, optimize_graph=False))


@contextmanager
def _threads() -> Iterator[ThreadPoolExecutor]:
    """Threads whose connections to the database are closed behind them."""
    n = settings.PART_THREADS
    with ThreadPoolExecutor(n) as pool:
        try:
            yield pool
        finally:
            together = Barrier(n)

            def close() -> None:
                connection.close()
                together.wait()

            for closed in [pool.submit(close) for _ in range(n)]:
                closed.result()


def _said(look: Look[Any]) -> str:
    """A digest of a look and of the code behind it."""
    return hashlib.sha256(repr((_code(), type(look).__name__, look)).encode()).hexdigest()


def _key(part: TableState, look: Look[Any], said: str) -> str:
    """A digest of all that the record of a part stands on."""
    symbols = [*look.symbols, part.weights_of(look.symbols), part.level[0] if part.level else ""]
    stands_on = [part.aside.get("", ()), *(part.column_key(symbol, "active") for symbol in symbols if symbol)]
    return hashlib.sha256(repr((said, stands_on, part.level)).encode()).hexdigest()


@cache
def _code() -> str:
    """A digest of the code by which parts are looked at."""
    digest, folder = hashlib.sha256(), Path(heron.__file__).parent
    for topic in _TOPICS:
        path = folder / topic
        for file in sorted(path.rglob("*.py")) if path.is_dir() else [path]:
            digest.update(file.read_bytes())
    return digest.hexdigest()


def _kept(keys: Any) -> dict[str, bytes]:
    rows = PartRecord.objects.filter(key__in=list(keys))
    sql, parameters = rows.values_list("key", "data").query.sql_with_params()
    connection.ensure_connection()
    with connection.connection.cursor(binary=True) as cursor:
        cursor.execute(sql, parameters)
        return {key: bytes(data) for key, data in cursor}


def state_of(row: Table, written: dict[str, Any], level: tuple[str, str] | None) -> TableState:
    """The state that is to be looked at, where it was sent to."""
    return replace(TableState.from_json(written, StoredImports(row)), level=level)
