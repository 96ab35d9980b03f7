"""State changes of studies: one function each, with rights, work and one transaction."""

import hashlib
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta
from typing import Any

import numpy as np
from django.conf import settings
from django.db import connection, transaction
from django.utils import timezone
from heron import density, frequency, intake
from heron.columns import Column
from heron.columns import Table as CoreTable
from heron.errors import HeronError, InputError, ReadError

from server.accounts.models import User
from server.problems import oversize
from server.studies import selectors, store
from server.studies.models import Chunk, Job, Membership, Piece, SourceFile, Study, Table, Upload, Variable
from server.studies.permissions import require_owner

_SHAPE_POINTS = 32
_SHAPE_VALUES = 20_000
_SHAPE_LEVELS = 12
_ENCODERS = 2
PREVIEW_BYTES = 4_000_000
UPLOADS_KEPT = timedelta(days=1)


class _Stopped(Exception):
    """The person asked for the job to stop."""


@transaction.atomic
def create_study(owner: User, title: str) -> Study:
    study = Study.objects.create(owner=owner, title=title.strip() or "Untitled study")
    Membership.objects.create(study=study, user=owner, role=Membership.Role.OWNER)
    return study


@transaction.atomic
def keep_file(name: str, pieces: Iterable[bytes]) -> SourceFile:
    """Keep a file byte for byte, in pieces; refuse it when it grows beyond the limit."""
    file = SourceFile.objects.create(name=name[-255:], sha256="", size=0)
    digest = hashlib.sha256()
    size = position = 0
    waiting = b""
    for part in pieces:
        digest.update(part)
        size += len(part)
        if size > settings.UPLOAD_LIMIT:
            raise oversize(size / 1e6)
        waiting += part
        while len(waiting) >= selectors.PIECE_BYTES:
            Piece.objects.create(file=file, position=position, data=waiting[: selectors.PIECE_BYTES])
            waiting = waiting[selectors.PIECE_BYTES :]
            position += 1
    if waiting or position == 0:
        Piece.objects.create(file=file, position=position, data=waiting)
    file.sha256, file.size = digest.hexdigest(), size
    file.save()
    return file


@transaction.atomic
def bring_in(user: User, study: Study, name: str, pieces: Iterable[bytes]) -> tuple[Upload, intake.Intake, bool]:
    """Keep a file to be looked at, with its first preview; one that cannot be read is not kept."""
    require_owner(user, study)
    _forget_old_uploads(study)
    upload = Upload.objects.create(study=study, file=keep_file(name, pieces))
    return upload, *preview(upload, {})


def _forget_old_uploads(study: Study) -> None:
    old = Upload.objects.filter(study=study, created__lt=timezone.now() - UPLOADS_KEPT)
    files = list(old.values_list("file_id", flat=True))
    old.delete()
    SourceFile.objects.filter(pk__in=files, tables=None).delete()


def preview(upload: Upload, choices: dict[str, Any]) -> tuple[intake.Intake, bool]:
    """What the file holds; of a long text from its first 4 MB, and the flag says whether that is all of it."""
    data = selectors.file_bytes(upload.file, PREVIEW_BYTES - 1)
    whole = len(data) >= upload.file.size
    if not whole and (data[:2] == b"PK" or intake.format_of(data, upload.file.name) != "delimited text"):
        data, whole = selectors.file_bytes(upload.file), True
    if not whole and b"\n" in data:
        data = data[: data.rindex(b"\n") + 1]
    return intake.read(data, upload.file.name, **choices), whole


def start_storing(user: User, upload: Upload, name: str, choices: dict[str, Any], defer: Callable[[str], None]) -> Job:
    """Store the table that an upload holds: at once when it is small, else by the job worker."""
    require_owner(user, upload.study)
    title = name.strip()[:200] or "Untitled table"
    job = Job.objects.create(study=upload.study, upload=upload, name=title, choices=choices)
    if upload.file.size <= settings.STORE_AT_ONCE_BYTES:
        run_storing(job)
    else:
        defer(str(job.pk))
    return job


def run_storing(job: Job) -> None:
    """Read the whole file and store its table in one transaction; a stop or a failure leaves nothing behind."""
    if not Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.RUNNING):
        return
    job.refresh_from_db()
    assert job.upload is not None
    try:
        data = selectors.file_bytes(job.upload.file)
        read = intake.read(
            data, job.upload.file.name, on_progress=lambda share: _report(job, 0.6 * share), **job.choices
        )
        del data
        with transaction.atomic():
            job.table = store_table(
                job.study, job.name, read.table, job.upload.file, lambda share: _check_stop(job, 0.6 + 0.4 * share)
            )
            job.state, job.progress = Job.State.DONE, 1.0
            job.save()
            job.upload.delete()
    except _Stopped:
        job.table = None
        job.state = Job.State.STOPPED
        job.save()
    except HeronError as error:
        job.table = None
        job.state = Job.State.FAILED
        job.problem = {"problem": error.problem, "remedy": error.remedy, "rows": [row + 1 for row in error.rows]}
        job.save()


def stop(user: User, job: Job) -> Job:
    require_owner(user, job.study)
    Job.objects.filter(pk=job.pk).update(stop_asked=True)
    Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.STOPPED)
    job.refresh_from_db()
    return job


def _report(job: Job, progress: float) -> None:
    _check_stop(job, progress)
    job.progress = progress
    job.save(update_fields=["progress", "touched"])


def _check_stop(job: Job, progress: float) -> None:
    if Job.objects.filter(pk=job.pk, stop_asked=True).exists():
        raise _Stopped


@transaction.atomic
def store_table(
    study: Study, name: str, table: CoreTable, source: SourceFile, on_progress: Callable[[float], None] | None = None
) -> Table:
    if not table.columns:
        raise ReadError("no-columns", "The table has no variable.")
    stored = Table.objects.create(study=study, name=name, n_rows=table.n_rows, source=source)
    columns = list(table.columns.values())
    variables = Variable.objects.bulk_create(
        Variable(
            table=stored,
            position=position,
            symbol=column.symbol,
            label=column.label,
            unit=column.unit,
            kind=column.kind,
            levels=list(column.levels),
            missing_codes=list(column.missing_codes),
            missing_counts=column.missing_counts,
            n_missing=column.n_missing,
            decimals=column.decimals,
            shape=shape(column),
        )
        for position, column in enumerate(columns)
    )
    with ThreadPoolExecutor(_ENCODERS) as pool:
        # The next columns are compressed while PostgreSQL takes in this one.
        encoded = pool.map(lambda column: list(store.encode(column)), columns)
        for done, (variable, chunks) in enumerate(zip(variables, encoded, strict=True), 1):
            Chunk.objects.bulk_create(
                Chunk(variable=variable, position=position, data=data) for position, data in enumerate(chunks)
            )
            if on_progress:
                on_progress(done / len(columns))
    return stored


def shape(column: Column) -> list[float]:
    """Heights from 0 to 1 for the small picture: bars for levels and counts, else the density of the middle 99 %."""
    if column.codes is not None:
        if column.kind not in ("category", "ordered"):
            return []
        return _heights(np.bincount(column.codes[column.codes >= 0], minlength=len(column.levels))[:_SHAPE_LEVELS])
    known = column.numbers[~np.isnan(column.numbers)]
    known = known[:: max(1, known.size // _SHAPE_VALUES)]
    if column.kind == "ordered":
        return _heights(np.unique(known, return_counts=True)[1][:_SHAPE_LEVELS])
    if known.size < 2:
        return []
    low, high = np.quantile(known, [0.005, 0.995], method="closest_observation")
    middle = known[(known >= low) & (known <= high)]
    if column.kind == "count":
        return _heights(frequency.classify(middle, rule="integers").counts[:_SHAPE_POINTS])
    try:
        return _heights(density.estimate(middle, points=_SHAPE_POINTS, lower=low, upper=high).density)
    except InputError:  # no spread, or too much of it for a curve
        return [1.0]


def _heights(counts: np.ndarray) -> list[float]:
    top = counts.max(initial=0)
    return [round(float(count / top), 3) for count in counts] if top else []


@transaction.atomic
def remove_table(user: User, table: Table) -> None:
    """Remove a table, and its file when no other table came from it."""
    require_owner(user, table.study)
    source = table.source
    with connection.cursor() as cursor:  # entries of the ledger go only with their table
        cursor.execute("SELECT set_config('heron.removing_table', %s, true)", [str(table.pk)])
    table.delete()
    if not source.tables.exists():
        source.delete()
