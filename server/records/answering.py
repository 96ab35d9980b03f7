"""What is asked about a file that was brought in: at once where the file is small, else by the job worker.

A routine beside a file, a routine run on it, a package opened: each reads all of a file, some make many tables of it.
"""

from collections.abc import Callable
from typing import Any, TypeVar

from django.conf import settings
from django.db import transaction
from pydantic import BaseModel

from server.accounts.models import User
from server.ledger import selectors as ledger
from server.problems import Refusal
from server.records import opening, routines
from server.records.schemas import FitIn, FitOut, OpenedPackageOut, RanOut, RunIn, fit_out, ran_out
from server.studies import quotas
from server.studies import services as studying
from server.studies.models import Job, Upload
from server.studies.permissions import require_editor

Answer = TypeVar("Answer", bound=BaseModel)
Defer = Callable[[Job], None]
Report = Callable[[float], None]


def _fit(upload: Upload, asked: FitIn, report: Report | None) -> FitOut:
    found = routines.fit(upload, asked.routine, asked.names, report=report)
    return fit_out(upload.file.name, asked.routine, found)


def _run(user: User, upload: Upload, asked: RunIn, report: Report | None) -> RanOut:
    ran = routines.run(
        user, upload.study, upload, asked.routine, asked.name, names=asked.names, leave_out=asked.leave_out,
        report=report,
    )  # fmt: skip
    return ran_out(ran, ledger.digest(ran.table))


def _open(user: User, upload: Upload) -> OpenedPackageOut:
    began_in = upload.study_id
    study, tables = opening.open_upload(user, upload)
    return OpenedPackageOut(study=study.pk, tables=[table.pk for table in tables], whole=study.pk != began_in)


def answered(
    user: User, upload: Upload, purpose: Job.Purpose, asked: BaseModel | None, defer: Defer
) -> BaseModel | Job:
    """The answer of a purpose about a file, or the job that finds it; small files are answered at once."""
    if upload.file.size <= settings.STORE_AT_ONCE_BYTES:
        return _answer(user, upload, purpose, asked)
    require_editor(user, upload.study)
    quotas.require_job(user)
    said = asked.model_dump(mode="json", exclude_unset=True) if asked is not None else {}
    job = Job.objects.create(
        study=upload.study, author=user, upload=upload, name=upload.file.name[:200], choices=said, purpose=purpose
    )
    transaction.on_commit(lambda: defer(job))
    return job


def run_job(job: Job) -> None:
    """Answer by the job worker: what is made and the answer are there together, or neither."""

    def work(_: Report) -> None:
        upload = studying.upload_of(job)
        if job.author is None:
            raise Refusal(409, "nobody", "Whoever asked for it has left.")
        purpose = Job.Purpose(job.purpose)
        kinds: dict[Job.Purpose, type[BaseModel]] = {Job.Purpose.FIT: FitIn, Job.Purpose.RUN: RunIn}
        asked = kinds[purpose].model_validate(job.choices) if purpose in kinds else None
        with transaction.atomic():
            answer = _answer(job.author, upload, purpose, asked, studying.Outside(job, 0).report)
            studying.check_stop(job)  # what was asked to stop leaves nothing behind
            Job.objects.filter(pk=job.pk).update(answer=answer.model_dump(mode="json"))

    studying.run_long(job, work)


def _answer(user: User, upload: Upload, purpose: Job.Purpose, asked: Any, report: Report | None = None) -> BaseModel:
    if purpose == Job.Purpose.FIT:
        return _fit(upload, asked, report)
    return _run(user, upload, asked, report) if purpose == Job.Purpose.RUN else _open(user, upload)


def of_job(job: Job, kind: type[Answer]) -> Answer:
    """What a job was asked for, once it is done."""
    if job.answer is None:
        problem = (job.problem or {}).get("problem", "It has not been answered.")
        raise Refusal(409, "no-answer", problem, remedy=(job.problem or {}).get("remedy", "Ask again."))
    return kind.model_validate(job.answer)
