"""Reports kept, changed, and made into files."""

from collections.abc import Callable
from typing import Any

from django.db import transaction
from django.db.models import Min, QuerySet
from heron import report as core
from heron.formatting import fixed
from heron.report.paper import pictures_of

from server import room
from server.accounts.models import User
from server.plates.services import beside, changed, free_name, held_by, new_of, require_version
from server.problems import Refusal
from server.reports import selectors
from server.reports.documents import ReportDocument
from server.reports.models import Report, ReportFile, ReportPage
from server.studies import services as studies
from server.studies.models import Job, Study
from server.studies.permissions import require_editor

MOST_BYTES = 400_000_000
PAGE_DPI = 110  # of the pictures of pages


@transaction.atomic
def keep(user: User, study: Study, name: str, document: ReportDocument) -> Report:
    """Keep a report as the last one of a study."""
    return Report.objects.create(
        **new_of(user, study, study.reports.all(), name), document=document.model_dump(mode="json")
    )


@transaction.atomic
def change(user: User, report: Report, name: str, document: ReportDocument, version: int) -> Report:
    """A report as it was edited. Refused where somebody else changed it since."""
    held = held_by(user, report)
    require_version(held, version)
    if name.strip() != held.name:
        held.name = free_name(beside(held), name.strip())
    held.document = document.model_dump(mode="json")
    return changed(held)


def duplicate(user: User, report: Report) -> Report:
    """A second report like it, right behind."""
    require_editor(user, report.study)
    after = beside(report).filter(place__gt=report.place).aggregate(next=Min("place"))["next"]
    position = report.place + 1 if after is None else (report.place + after) / 2
    return Report.objects.create(
        study=report.study, name=free_name(beside(report), f"{report.name}, again"[:200]), place=position,
        document=report.document, author=user,
    )  # fmt: skip


def begin(user: User, report: Report, form: str, defer: Callable[[Job], None]) -> Job:
    """Have a report made in a form; at once there where it was made of the same before."""
    room.require_a_little()
    made = selectors.composed(user, report.study, selectors.document_of(report))
    there = report.files.filter(form=form, key=made.key).exists()
    choices = {"report": str(report.pk), "form": form}
    _let_go(Job.objects.filter(study=report.study, author=user, purpose=Job.Purpose.WRITE, choices=choices))
    job = Job.objects.create(
        study=report.study, author=user, name=report.name[:200], choices=choices,
        purpose=Job.Purpose.WRITE, **({"state": Job.State.DONE, "progress": 1.0} if there else {}),
    )  # fmt: skip
    if not there:
        transaction.on_commit(lambda: defer(job))
    return job


def _let_go(jobs: QuerySet[Job]) -> None:
    """What was asked for before is no longer wanted."""
    jobs.filter(state=Job.State.RUNNING).update(stop_requested=True)
    jobs.filter(state=Job.State.WAITING).update(state=Job.State.STOPPED)


def run(job: Job) -> None:
    """Make the file that a job asks for."""

    def work(on_progress: Callable[[float], None]) -> None:
        report = Report.objects.select_related("study").filter(pk=job.choices["report"]).first()
        if report is None or job.author is None:
            raise Refusal(404, "not-found", f"{job.name} was taken away meanwhile.", remedy="Go back to the gallery.")
        on_progress(0.02)
        made = selectors.composed(job.author, report.study, selectors.document_of(report))
        on_progress(0.1)
        pictures = selectors.pictures_of(made)
        on_progress(0.3)
        body = core.write(
            made.report, job.choices["form"], pictures, selectors.faces(), lambda share: on_progress(0.3 + 0.6 * share)
        )
        if len(body) > MOST_BYTES:
            raise Refusal(
                413, "too-large",
                f"The report is {fixed(len(body) / 1e6, 0)} MB; at most {fixed(MOST_BYTES / 1e6, 0)} MB are kept.",
                remedy="Take some figures out, or make two reports of it.",
            )  # fmt: skip
        on_progress(0.9)
        pages = pictures_of(body, PAGE_DPI) if job.choices["form"] == "pdf" else []
        said: dict[str, Any] = {"key": made.key, "body": body}
        with transaction.atomic():
            file, _ = ReportFile.objects.update_or_create(report=report, form=job.choices["form"], defaults=said)
            file.pages.all().delete()
            ReportPage.objects.bulk_create(
                ReportPage(file=file, number=number, body=page) for number, page in enumerate(pages, 1)
            )

    studies.run_long(job, work)
