"""Work for the job worker: what is asked about large files."""

from procrastinate.contrib.django import app

from server.records import answering
from server.studies.models import Job
from server.studies.tasks import AGAIN, defer_once


@app.task(name="answer-about-file", queue="imports")
def answer_about_file(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        answering.run_job(job)


def defer_answering(job: Job) -> None:
    defer_once(answer_about_file, job)


AGAIN |= dict.fromkeys((Job.Purpose.FIT, Job.Purpose.RUN, Job.Purpose.OPEN), defer_answering)
