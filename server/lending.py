"""A machine lent to the readings of long tables: python -m server.lending --scheduler tcp://host:port"""

import argparse
import asyncio
import logging
import os
import sys

from distributed import Nanny, Scheduler

_MEMORY_MB = 2_000
_QUIET = {"DASK_LOGGING__DISTRIBUTED": "warning"}


def main() -> None:
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
    said = argparse.ArgumentParser(description="Look at parts of long tables for a scheduler, or be that scheduler.")
    which = said.add_mutually_exclusive_group(required=True)
    which.add_argument("--scheduler", help="where the scheduler listens, as tcp://host:port")
    which.add_argument("--schedule", help="listen there for workers, and for the server")
    said.add_argument("--threads", type=int, default=os.cpu_count() or 1)
    said.add_argument("--memory-mb", type=int, default=_MEMORY_MB)
    given = said.parse_args()
    logging.getLogger("distributed").setLevel(logging.WARNING)
    os.environ.update(_QUIET)  # for the processes that a nanny begins
    if given.schedule:
        asyncio.run(_schedule(given.schedule))
    else:
        asyncio.run(_lend(given.scheduler, given.threads, given.memory_mb))


async def _schedule(address: str) -> None:
    protocol, _, rest = address.partition("://")
    host, _, port = rest.rpartition(":")
    async with Scheduler(protocol=f"{protocol}://", host=host, port=int(port), dashboard=False) as scheduler:
        sys.stdout.write(f"Workers come to {scheduler.address}\n")
        sys.stdout.flush()
        await scheduler.finished()


async def _lend(scheduler: str, threads: int, memory_mb: int) -> None:
    """Work until the scheduler ends; what takes more memory, or dies, is begun anew."""
    nanny = Nanny(scheduler, nthreads=threads, memory_limit=memory_mb * 10**6, dashboard=False)
    async with nanny:
        sys.stdout.write(f"Lent to {scheduler} with {threads} threads\n")
        sys.stdout.flush()
        await nanny.finished()


if __name__ == "__main__":
    main()
