"""Work for the job worker: reports made into files."""

from procrastinate.contrib.django import app

from server.reports import services
from server.studies.models import Job
from server.studies.tasks import AGAIN, defer_once


@app.task(name="write-report", queue="reports")
def write_report(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        services.run(job)


def defer_writing(job: Job) -> None:
    defer_once(write_report, job)


AGAIN[Job.Purpose.WRITE] = defer_writing
