"""Parts of long tables looked at by the workers of a cluster, which read them from the database themselves."""

import pickle
from functools import cache
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
_TRIES = 3


class Away(Exception):
    """Nobody works in the cluster."""


@cache
def _client(address: str) -> Client:
    return Client(address, timeout=_PATIENCE, set_as_default=False)


def worked(row: Table, state: TableState, tasks: list[Task], watch: Watch) -> list[list[bytes]]:
    """What the workers find; the work of one that dies is done again by another."""
    futures: list[Any] = []
    client = None
    try:
        client = _client(settings.CLUSTER)
        if client.status != "running" or not client.scheduler_info()["workers"]:
            raise Away("it has no worker")
        written = state.to_json()  # with each task, so that no worker is needed for what another does
        futures = client.map(
            found,
            [pickle.dumps(task) for task in tasks],
            pure=False,
            retries=_TRIES,
            table_id=row.pk,
            written=written,
            level=state.level,
        )
        for done, _ in enumerate(as_completed(futures, loop=client.loop), 1):
            watch(done / len(tasks))
        return list(client.gather(futures))
    except (OSError, TimeoutError, CommClosedError, FutureCancelledError, KilledWorker) as error:
        _client.cache_clear()
        if client is not None:
            client.close(timeout=0)
            client = None
        raise Away(str(error)) from error
    finally:
        if client is not None and client.status == "running":
            client.cancel(futures)
