"""Room on the disk of the database: what would take the last of it is refused, so that all else goes on."""

import shutil
from contextlib import suppress

from django.conf import settings

from server.problems import disk_full

_OF_DECISIONS = 0.2  # of the reserve, which what is small may go into


def require(size: int = 0) -> None:
    """Refuse what stores a table or a file where less than the reserve would be left. size: bytes that it takes."""
    _require(settings.RESERVE_BYTES + size)


def require_a_little() -> None:
    """Refuse a decision, or a plate, where nothing but the last of the reserve is left."""
    _require(settings.RESERVE_BYTES * _OF_DECISIONS)


def _require(size: float) -> None:
    if settings.DATABASE_DISK:
        with suppress(OSError):  # a folder that may not be looked into says nothing of its disk
            if shutil.disk_usage(settings.DATABASE_DISK).free < size:
                raise disk_full()
