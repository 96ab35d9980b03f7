"""Work for the job worker."""

from collections.abc import Callable
from typing import Any

from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued
from procrastinate.tasks import Task

from server.studies import services
from server.studies.models import Job
from server.studies.schemas import preview_out


@app.task(name="store-upload", queue="imports")
def store_upload(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        services.run_storing(job)


@app.task(name="look-at-upload", queue="imports")
def look_at_upload(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        services.run_looking(job, lambda looked: preview_out(looked, job.choices).model_dump(mode="json"))


# How a job of each purpose comes to the worker again, where an app above says so.
AGAIN: dict[str, Callable[[Job], None]] = {}


def defer_looking(job: Job) -> None:
    defer_once(look_at_upload, job)


def defer_storing(job: Job) -> None:
    defer_once(store_upload, job)


def defer_once(task: Task[..., Any, Any], job: Job) -> None:
    """Have the worker do a job; once, however often it is said while it waits."""
    try:
        task.configure(queueing_lock=str(job.pk)).defer(job_id=str(job.pk))
    except AlreadyEnqueued:
        return
