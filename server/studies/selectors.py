"""Reads. Whatever a person may not see does not exist."""

from collections.abc import Iterator
from datetime import timedelta
from uuid import UUID

from django.db.models import Prefetch, QuerySet
from django.shortcuts import get_object_or_404
from django.utils import timezone
from heron import intake

from server.accounts.models import User
from server.studies import store
from server.studies.models import ClassStructure, Job, Piece, SourceFile, Study, Table, Upload
from server.studies.permissions import visible_studies, visible_to
from server.studies.snapshots import TableSnapshot

SILENT_AFTER = timedelta(seconds=35)  # whoever is at a job says so every ten


def studies(user: User) -> QuerySet[Study]:
    tables = Prefetch("tables", Table.objects.select_related("source"))
    return visible_studies(user).prefetch_related(tables, "memberships")


def study(user: User, study_id: UUID) -> Study:
    return get_object_or_404(visible_studies(user), pk=study_id)


def table(user: User, table_id: UUID, *, whole: bool = False) -> Table:
    """A table that may be seen; unless it is wanted whole, its state is fetched when it is asked for."""
    tables = Table.objects.filter(visible_to(user, "study__")).select_related("source", "study")
    return get_object_or_404(tables if whole else tables.defer("state", "summaries"), pk=table_id)


def class_structure(user: User, structure_id: UUID) -> ClassStructure:
    return get_object_or_404(ClassStructure, study__in=visible_studies(user), pk=structure_id)


def upload(user: User, upload_id: UUID) -> Upload:
    return get_object_or_404(
        Upload.objects.filter(study__in=visible_studies(user)).select_related("file", "again"), pk=upload_id
    )


def job(user: User, job_id: UUID) -> Job:
    return get_object_or_404(Job.objects.filter(study__in=visible_studies(user)), pk=job_id)


def silent_jobs() -> QuerySet[Job]:
    """Jobs that somebody began and nobody is at any more, or that wait longer than most."""
    return Job.objects.filter(
        state__in=(Job.State.WAITING, Job.State.RUNNING), touched__lt=timezone.now() - SILENT_AFTER
    )


def file_bytes(file: SourceFile) -> bytes:
    """The file as it came."""
    return b"".join(file_pieces(file))


def file_pieces(file: SourceFile) -> Iterator[bytes]:
    """The file as it came, piece by piece."""
    pieces = Piece.objects.filter(file=file)
    for position in range(-(-file.size // PIECE_BYTES) or 1):
        yield from store.fetch_bytes(pieces.filter(position=position).values_list("data"))


PIECE_BYTES = 4_000_000


def match_words(table: Table, read: intake.Intake) -> list[str]:
    """What would come of reading a table so again, a sentence each."""
    return list(intake.match(TableSnapshot.of(table).described(), read.table).words)
