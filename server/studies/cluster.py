"""Parts of long tables looked at by the workers of a cluster, which read them from the database themselves."""

import pickle
from contextlib import suppress
from functools import cache
from math import inf
from time import monotonic
from typing import Any

from distributed import Client, as_completed
from distributed.client import FutureCancelledError
from distributed.comm.core import CommClosedError
from distributed.scheduler import KilledWorker
from django.conf import settings
from heron.ledger import TableState, Watch

from server.lent import found
from server.studies.models import Table
from server.studies.parts import Task

_PATIENCE = 5  # seconds until a cluster that does not answer is away
_LEFT_ALONE = 60  # seconds in which one that is away is not asked again
_TRIES = 3
_away_since: dict[str, float] = {}


class Away(Exception):
    """Nobody works in the cluster."""


@cache
def _client(address: str) -> Client:
    return Client(address, timeout=_PATIENCE, set_as_default=False)


def worked(row: Table, state: TableState, tasks: list[Task], watch: Watch) -> list[list[bytes]]:
    """What the workers find; the work of one that dies is done again by another."""
    address = settings.CLUSTER
    if monotonic() - _away_since.get(address, -inf) < _LEFT_ALONE:
        raise Away("it was a moment ago")
    futures: list[Any] = []
    client = None
    try:
        client = _client(address)
        workers = sorted(client.nthreads()) if client.status == "running" else []
        if not workers:
            raise Away("it has no worker")
        written = state.to_json()  # with each task, so that no worker is needed for what another does
        futures = [
            client.submit(
                found,
                pickle.dumps(task),
                pure=False,
                retries=_TRIES,
                workers=[workers[task[0] % len(workers)]],  # which may hold that part from the last time
                allow_other_workers=True,
                table_id=row.pk,
                written=written,
                level=state.level,
            )
            for task in tasks
        ]
        for done, _ in enumerate(as_completed(futures, loop=client.loop), 1):
            watch(done / len(tasks))
        return list(client.gather(futures))
    except (Away, OSError, TimeoutError, CommClosedError, FutureCancelledError, KilledWorker) as error:
        # A client that has lost its scheduler does not find it again.
        _away_since[address] = monotonic()
        _client.cache_clear()
        if client is not None:
            with suppress(OSError, TimeoutError, CommClosedError):
                client.close(timeout=0)
            client = None
        raise Away(str(error)) from error
    finally:
        if client is not None and client.status == "running":
            client.cancel(futures)
