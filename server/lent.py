"""What a process of a lent machine does: it looks at parts of a long table, which it reads from the database itself."""

import pickle
from typing import Any
from uuid import UUID

import django
from django.apps import apps


def found(task: bytes, table_id: UUID, written: dict[str, Any], level: tuple[str, str] | None) -> list[bytes]:
    """What is found in a part. task: a part and the looks at it, packed, so that a scheduler need not know them."""
    if not apps.ready:
        django.setup()
    from server.studies.models import Table
    from server.studies.parts import packed_records, state_of

    looked = pickle.loads(task)  # noqa: S301 - packed by the server; whoever reaches a scheduler can run code anyway
    return packed_records(state_of(Table.objects.get(pk=table_id), written, level), looked)
