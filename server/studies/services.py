"""State changes of studies: one function each, with rights, work and one transaction."""

import hashlib
import logging
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import timedelta
from itertools import chain
from threading import Event, Thread
from time import monotonic
from typing import Any
from uuid import uuid4

from django.conf import settings
from django.db import DatabaseError, InterfaceError, OperationalError, connection, transaction
from django.db.models import F, QuerySet
from django.utils import timezone
from heron import frequency, intake
from heron.columns import Table as CoreTable
from heron.errors import HeronError, ReadError
from heron.ledger import TableState
from psycopg.errors import DiskFull

from server import reader, room
from server.accounts.models import User
from server.accounts.services import refuse_guest, require_account
from server.problems import Refusal, check_text, disk_full, oversize
from server.studies import batches, inbox, quotas, selectors, store
from server.studies.column_summary import summary_of
from server.studies.models import (
    Chunk,
    ClassStructure,
    Job,
    Membership,
    Piece,
    SourceFile,
    Study,
    Table,
    Upload,
    Variable,
)
from server.studies.permissions import require_editor, require_owner
from server.studies.snapshots import STATE_FIELDS, materialize_state

_ENCODERS = 2
_BETWEEN_REPORTS = 0.3
UPLOADS_KEPT = timedelta(days=1)
MOST_LOOKED_AT = 20
MOST_TRIES = 3
_BEAT = 10  # seconds
logger = logging.getLogger(__name__)


Check = Callable[[float], None]
Finish = Callable[[Job, intake.Intake, Check], Table]
Defer = Callable[[Job], None]


@dataclass(frozen=True)
class Looked:
    """A file that was looked at, and what it holds. whole: whether that is all of it."""

    upload: Upload
    read: intake.Intake
    whole: bool


class _Stopped(Exception):
    """The person asked for the job to stop."""


@transaction.atomic
def create_study(owner: User, title: str) -> Study:
    refuse_guest(owner)
    return begun_study(owner, title)


def begun_study(owner: User, title: str) -> Study:
    """A new study, for somebody whose rights were looked at before."""
    study = Study.objects.create(owner=owner, title=title.strip() or "Untitled study")
    Membership.objects.create(study=study, user=owner, role=Membership.Role.OWNER)
    return study


def rename_study(user: User, study: Study, title: str) -> Study:
    require_owner(user, study)
    require_account(user)
    study.title = title.strip() or study.title
    study.save(update_fields=["title"])
    return study


@transaction.atomic
def remove_study(user: User, study: Study) -> None:
    """Remove a study for everybody: its tables with their files and ledgers, its plates, its links and their guests."""
    require_owner(user, study)
    require_account(user)
    _remove_study(user, study)


@transaction.atomic
def remove_all(user: User) -> None:
    """Remove every study of somebody who goes."""
    for study in Study.objects.filter(owner=user):
        _remove_study(user, study)


def _remove_study(user: User, study: Study) -> None:
    at_work = study.jobs.filter(state__in=(Job.State.WAITING, Job.State.RUNNING))
    if at_work.exclude(pk__in=selectors.silent_jobs()).exists():
        raise Refusal(409, "at-work", "A file is still being stored in this study.", remedy="Stop it, or wait for it.")
    for table in study.tables.select_related("source"):
        remove_table(user, table)
    _forget_uploads(study.uploads.all())
    User.objects.filter(guest=True, memberships__study=study).delete()
    study.delete()


@transaction.atomic
def keep_classes(user: User, study: Study, name: str, boundaries: list[float], closed: str) -> ClassStructure:
    """Keep classes under a name; what had that name before is replaced."""
    require_editor(user, study)
    frequency.interval_labels(boundaries)  # refused here when they are not ascending
    if study.class_structures.exclude(name=name).count() >= _MOST_CLASS_STRUCTURES:
        raise Refusal(422, "too-many", f"A study keeps at most {_MOST_CLASS_STRUCTURES} named classes.", where="name")
    said = {"boundaries": boundaries, "closed": closed}
    return ClassStructure.objects.update_or_create(study=study, name=name, defaults=said)[0]


def remove_classes(user: User, structure: ClassStructure) -> None:
    require_editor(user, structure.study)
    structure.delete()


_MOST_CLASS_STRUCTURES = 200


@transaction.atomic
def keep_file(name: str, pieces: Iterable[bytes]) -> SourceFile:
    """Keep a file byte for byte, in pieces; refuse it when it grows beyond the limit."""
    check_text(name)
    file = SourceFile.objects.create(name=name[-255:], sha256="", size=0)
    digest = hashlib.sha256()
    size = position = 0
    waiting = b""
    for part in pieces:
        digest.update(part)
        size += len(part)
        room.require(len(part))
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
def bring_in(user: User, study: Study, name: str, pieces: Iterable[bytes], defer: Defer) -> Looked | Job:
    """Keep a file to be looked at, with its first preview; one that cannot be read is not kept."""
    require_editor(user, study)
    _make_room(study)
    upload = Upload.objects.create(study=study, file=keep_file(name, pieces))
    quotas.require_bytes(study)
    return look_at(user, upload, {}, defer)


@transaction.atomic
def look_again(user: User, table: Table, defer: Defer) -> Looked | Job:
    """A stored table's own file, to be read with other settings."""
    require_editor(user, table.study)
    if table.source is None:
        raise Refusal(
            422, "no-file", f"{table.name} did not come from a file.", remedy="Make it anew where it was made."
        )
    upload = Upload.objects.create(study=table.study, file=table.source, again=table)
    return look_at(user, upload, table.imports[table.import_version]["choices"], defer)


def forget_old_uploads() -> None:
    """Files that were looked at and never stored go after a day, but for those that a job is about to read; so does
    what was found in them."""
    Job.objects.filter(purpose=Job.Purpose.LOOK, touched__lt=timezone.now() - UPLOADS_KEPT).delete()
    _forget_uploads(_unused(Upload.objects.filter(created__lt=timezone.now() - UPLOADS_KEPT)))
    batches.forget_broken_off()


def _make_room(study: Study) -> None:
    """Of files that are looked at a study holds a few: the oldest makes room for the next."""
    newest = study.uploads.order_by("-created").values_list("pk", flat=True)[: MOST_LOOKED_AT - 1]
    _forget_uploads(_unused(study.uploads.exclude(pk__in=list(newest))))


def _unused(uploads: QuerySet[Upload]) -> QuerySet[Upload]:
    at_work = Job.objects.filter(state__in=(Job.State.WAITING, Job.State.RUNNING), upload__isnull=False)
    return uploads.exclude(pk__in=at_work.values("upload_id"))


def _forget_uploads(uploads: QuerySet[Upload]) -> None:
    files = list(uploads.values_list("file_id", flat=True))
    uploads.delete()
    SourceFile.objects.filter(pk__in=files, tables=None).delete()


def look_at(user: User, upload: Upload, choices: dict[str, Any], defer: Defer) -> Looked | Job:
    """What a file holds, read with choices; where that takes long, the job that finds it out."""
    require_editor(user, upload.study)
    try:
        return preview(upload, choices, at_most=settings.PREVIEW_SECONDS)
    except reader.TookLonger:
        job = Job.objects.create(
            study=upload.study, author=user, upload=upload, name=upload.file.name[:200], choices=choices,
            purpose=Job.Purpose.LOOK,
        )  # fmt: skip
        transaction.on_commit(lambda: defer(job))
        return job


def preview(
    upload: Upload, choices: dict[str, Any], *, at_most: float | None = None, on_progress: Check | None = None
) -> Looked:
    """What a file holds; of a long text what its first 4 MB do. at_most: seconds, after which TookLonger is raised."""
    pieces = selectors.file_pieces(upload.file)
    first = next(pieces, b"")
    whole = len(first) >= upload.file.size
    if not whole and (first[:2] == b"PK" or intake.format_of(first, upload.file.name) != "delimited text"):
        whole = True
    if not whole and b"\n" in first:
        first = first[: first.rindex(b"\n") + 1]
    given = chain([first], pieces if whole else ())
    read = reader.read(given, upload.file.name, choices, at_most=at_most, on_progress=on_progress)
    return Looked(upload, read, whole)


def start_storing(
    user: User,
    upload: Upload,
    name: str,
    choices: dict[str, Any],
    defer: Defer,
    finish: Finish | None = None,
) -> Job:
    """Store the table that an upload holds: at once when it is small, else by the job worker."""
    require_editor(user, upload.study)
    if upload.again_id and finish is None:
        raise Refusal(
            422, "again", f"{upload.file.name} is being read again into its table.", remedy="Bring it in as a new file."
        )
    title = name.strip()[:200] or "Untitled table"
    if upload.again_id is None:
        quotas.require_table(upload.study)
    quotas.require_job(user)
    job = Job.objects.create(study=upload.study, author=user, upload=upload, name=title, choices=choices)
    if upload.file.size <= settings.STORE_AT_ONCE_BYTES:
        run_storing(job, finish)
    else:
        defer(job)
    return job


def run_storing(job: Job, finish: Finish | None = None) -> None:
    """Read the whole file and finish with it in one transaction; a stop or a failure leaves nothing behind."""

    def work() -> None:
        upload = upload_of(job)
        read = reader.read(
            selectors.file_pieces(upload.file), upload.file.name, job.choices,
            on_progress=lambda share: _report(job, 0.5 * share),
        )  # fmt: skip
        with transaction.atomic():
            table = (finish or _as_new_table)(job, read, Outside(job).report)
            if not _end(job, Job.State.DONE, progress=1.0, table=table):
                raise _Stopped
            upload.delete()

    _run(job, work)


def run_looking(job: Job, shown: Callable[[Looked], Any]) -> None:
    """Look at a file for as long as it takes, and keep what is shown of it; one that cannot be read is not kept."""

    def work() -> None:
        looked = preview(upload_of(job), job.choices, on_progress=lambda share: _report(job, share))
        _end(job, Job.State.DONE, progress=1.0, preview=shown(looked))

    _run(job, work)
    if job.state == Job.State.FAILED and job.upload and not job.choices and not job.upload.again_id:
        _forget_uploads(Upload.objects.filter(pk=job.upload.pk))


def upload_of(job: Job) -> Upload:
    """The file that a job is about; refused where it is gone."""
    if job.upload is None:
        raise ReadError("no-file", "The file is no longer here.", remedy="Bring it in again.")
    return job.upload


def run_making(job: Job, part: Callable[[int, int], CoreTable], n_rows: int, origin: dict[str, Any]) -> None:
    """Store a long table part by part. part: makes its rows from one position to before another."""

    def work() -> None:
        _arrived(job, batches.receive(job, n_rows, part, origin, lambda share: _report(job, share)))

    _run(job, work)


def run_long(job: Job, work: Callable[[Callable[[float], None]], None]) -> None:
    """Do what makes no table. work: is handed what it reports its share to, which also stops it."""

    def done() -> None:
        work(lambda share: _report(job, share))
        _end(job, Job.State.DONE, progress=1.0)

    _run(job, done)


def begin_from_inbox(user: User, study: Study, file: str, name: str, defer: Defer) -> Job:
    """Have a file on this server read, part by part, into a new table."""
    require_editor(user, study)
    require_account(user)
    said = inbox.path_of(file).stat()
    choices = {"file": file, "size": said.st_size, "changed": said.st_mtime_ns}
    quotas.require_table(study)
    quotas.require_job(user)
    job = Job.objects.create(
        study=study, author=user, name=name.strip()[:200] or file[:200], choices=choices, purpose=Job.Purpose.MAKE
    )
    transaction.on_commit(lambda: defer(job))
    return job


def run_from_inbox(job: Job) -> None:
    """Read a file on this server twice: for what its columns are, and part by part for its rows."""

    def work() -> None:
        path = inbox.path_of(job.choices["file"])
        said = path.stat()
        if (said.st_size, said.st_mtime_ns) != (job.choices["size"], job.choices["changed"]):
            raise ReadError("changed", f"{path.name} was changed meanwhile.", remedy="Choose it again.")
        found = intake.look_through(path, lambda share: _report(job, _LOOKED * share))
        bounds = store.bounds_of(found.n_rows)
        coming: Iterator[CoreTable] | None = None

        def part(first: int, end: int) -> CoreTable:
            nonlocal coming
            coming = coming or found.rows(bounds, bounds.index(first))
            return next(coming)

        notes = list(found.notes)
        words = f"Read from {path.name} on this server, {said.st_size} bytes."
        origin = {"how": "inbox", "words": words, "of": [], "options": job.choices, "notes": notes}
        table = batches.receive(
            job, found.n_rows, part, origin, lambda share: _report(job, _LOOKED + (1 - _LOOKED) * share)
        )
        _arrived(job, table)

    _run(job, work)


_LOOKED = 0.3  # of all the work is the first reading


def _arrived(job: Job, table: Table) -> None:
    with transaction.atomic():
        if not _end(job, Job.State.DONE, progress=1.0, table=table):
            raise _Stopped
        batches.complete(table)


def _run(job: Job, work: Callable[[], None]) -> None:
    """Do the work of a job, and say of it how it ended.

    Whoever begins a job counts its tries up; where somebody else has begun it since, what was done here is dropped.
    """
    begun = {"state": Job.State.RUNNING, "tries": F("tries") + 1, "touched": timezone.now()}
    if not Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(**begun):
        return
    job.refresh_from_db()
    try:
        with _alive(job):
            work()
    except _Stopped:
        _end(job, Job.State.STOPPED)
    except (HeronError, Refusal) as error:
        rows = [row + 1 for row in error.rows] if isinstance(error, HeronError) else []
        said = {"problem": error.problem, "remedy": error.remedy, "rows": rows}
        _end(job, Job.State.FAILED, problem=said)
    except (OperationalError, InterfaceError) as error:
        if not isinstance(error.__cause__, DiskFull):  # the database is away: the job is taken up when it is back
            raise
        full = disk_full()
        _end(job, Job.State.FAILED, problem={"problem": full.problem, "remedy": full.remedy, "rows": []})
    except Exception:
        number = uuid4().hex[:8]
        said = {"problem": f"The work failed unexpectedly (number {number}); nothing was stored.", "rows": []}
        _end(
            job,
            Job.State.FAILED,
            problem={**said, "remedy": "Try again; if it fails again, tell who runs this server."},
        )
        logger.error("job %s failed, number %s", job.pk, number)
        raise
    finally:
        with suppress(Job.DoesNotExist):  # its study was removed meanwhile
            job.refresh_from_db()
            if job.state != Job.State.RUNNING:
                batches.forget(job)


def _end(job: Job, state: str, **said: Any) -> bool:
    """Whether the job ended so: not where somebody else has begun it since."""
    mine = Job.objects.filter(pk=job.pk, state=Job.State.RUNNING, tries=job.tries)
    return bool(mine.update(state=state, touched=timezone.now(), **said))


@contextmanager
def _alive(job: Job) -> Iterator[None]:
    """Says every ten seconds that somebody is at the job, however long one step of it takes."""
    ended = Event()

    def say() -> None:
        while not ended.wait(_BEAT):
            with suppress(DatabaseError):  # a database that is away for a moment
                Job.objects.filter(pk=job.pk, tries=job.tries).update(touched=timezone.now())
            connection.close()

    speaker = Thread(target=say, daemon=True)
    speaker.start()
    try:
        yield
    finally:
        ended.set()
        speaker.join()


def take_up(defer: Defer) -> None:
    """Jobs that nobody is at any more wait again; those that ended whoever was at them too often, or that were to stop,
    end."""
    for job in selectors.silent_jobs():
        if job.stop_requested:
            ended = {"state": Job.State.STOPPED}
        elif job.tries >= MOST_TRIES:
            ended = {"state": Job.State.INTERRUPTED}
        else:
            ended = {"state": Job.State.WAITING}
        same = Job.objects.filter(pk=job.pk, state=job.state, touched=job.touched)
        if same.update(touched=timezone.now(), **ended) and ended["state"] == Job.State.WAITING:
            defer(job)


def _as_new_table(job: Job, read: intake.Intake, check: Check) -> Table:
    """The table of a file, or of its first part, with its other parts as tables of their own."""
    assert job.upload is not None
    file, choices = job.upload.file, job.choices
    if not read.beside:
        return store_table(job.study, job.name, read.table, file, check, choices)
    stored = store_table(job.study, job.name, read.table, file, check, {**choices, "parts": "1"})
    for number, other in enumerate(read.beside, 2):
        called = other.name if other.name != read.table.name else str(number)
        name = f"{job.name[: 190 - len(called[:100])]}, {called[:100]}"
        store_table(job.study, name, other, file, check, {**choices, "parts": str(number)})
    return stored


def stop(user: User, job: Job) -> Job:
    require_editor(user, job.study)
    Job.objects.filter(pk=job.pk).update(stop_requested=True)
    Job.objects.filter(pk=job.pk, state=Job.State.WAITING).update(state=Job.State.STOPPED)
    job.refresh_from_db()
    return job


def _report(job: Job, progress: float) -> None:
    check_stop(job)
    job.progress = progress
    job.save(update_fields=["progress", "touched"])


def check_stop(job: Job) -> None:
    if Job.objects.filter(pk=job.pk, stop_requested=True).exists():
        raise _Stopped


class Outside:
    """Reports of progress from within a transaction, whose own words nobody sees before it ends: by a connection of
    their own, at most a few in a second. begun: the share that was done before."""

    def __init__(self, job: Job, begun: float = 0.5) -> None:
        self._job, self._begun = job, begun
        self._said = monotonic()

    def report(self, share: float) -> None:
        check_stop(self._job)
        if monotonic() - self._said < _BETWEEN_REPORTS:
            return
        self._said = monotonic()
        with ThreadPoolExecutor(1) as pool:
            pool.submit(self._write, self._begun + (1 - self._begun) * share).result()

    def _write(self, progress: float) -> None:
        try:
            Job.objects.filter(pk=self._job.pk).update(progress=progress, touched=timezone.now())
        finally:
            connection.close()


def said_at_first(choices: dict[str, Any]) -> dict[str, Any]:
    """What the choices made at reading say of variables beyond their values."""
    return {symbol: {"below_limit": treatment} for symbol, treatment in (choices.get("below_limits") or {}).items()}


@transaction.atomic
def store_table(
    study: Study,
    name: str,
    table: CoreTable,
    source: SourceFile | None,
    on_progress: Check | None = None,
    choices: dict[str, Any] | None = None,
    *,
    origin: dict[str, Any] | None = None,
) -> Table:
    """Store a table that was read from a file, or made."""
    if not table.columns:
        raise ReadError("no-columns", "The table has no variable.")
    quotas.require_table(study)
    said = said_at_first(choices or {})
    stored = Table.objects.create(
        study=study,
        name=name,
        n_rows=table.n_rows,
        source=source,
        imports=[{"choices": choices or {}, "n_rows": table.n_rows, "said": said}],
        origin=origin,
    )
    store_variables(stored, table, 0, on_progress)
    materialize_state(stored, TableState(imports=store.StoredImports(stored)))
    stored.save(update_fields=STATE_FIELDS)
    return stored


def store_variables(stored: Table, table: CoreTable, import_version: int, on_progress: Check | None = None) -> None:
    """Store the columns of a table as one of its import versions."""
    columns = list(table.columns.values())
    room.require(table.n_rows * len(columns))
    variables = Variable.objects.bulk_create(
        Variable(
            table=stored,
            import_version=import_version,
            position=position,
            symbol=column.symbol,
            label=column.label,
            unit=column.unit,
            **summary_of(column),
        )
        for position, column in enumerate(columns)
    )
    with ThreadPoolExecutor(_ENCODERS) as pool:
        # The next columns are compressed while PostgreSQL takes in this one.
        encoded = pool.map(lambda column: list(store.encode(column)), columns)
        for done, (variable, chunks) in enumerate(zip(variables, encoded, strict=True), 1):
            room.require()
            Chunk.objects.bulk_create(
                Chunk(variable=variable, position=position, data=data) for position, data in enumerate(chunks)
            )
            if on_progress:
                on_progress(done / len(columns))


@transaction.atomic
def remove_table(user: User, table: Table) -> None:
    """Remove a table, and its file when no other table came from it."""
    require_editor(user, table.study)
    source = table.source
    with connection.cursor() as cursor:  # entries of the ledger go only with their table
        cursor.execute("SELECT set_config('heron.removing_table', %s, true)", [str(table.pk)])
    table.delete()
    if source and not source.tables.exists():
        source.delete()
