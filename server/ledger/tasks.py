"""Work for the job worker: files read again, and whatever a killed worker left undone."""

from asgiref.sync import sync_to_async
from procrastinate import JobContext
from procrastinate.contrib.django import app
from procrastinate.jobs import Status

from server.ledger import making, services
from server.studies import services as studies
from server.studies.models import Job
from server.studies.selectors import SILENT_AFTER
from server.studies.tasks import AGAIN, defer_looking, defer_once, defer_storing


@app.task(name="store-reading", queue="imports")
def store_reading(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        studies.run_storing(job, services.add_reading)


@app.task(name="make-table", queue="imports")
def make_table(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job and "file" in job.choices:
        studies.run_from_inbox(job)
    elif job:
        making.run_making(job)


def defer_making(job: Job) -> None:
    defer_once(make_table, job)


def defer_reading(job: Job) -> None:
    defer_once(store_reading, job)


def take_up_jobs() -> None:
    studies.take_up(_defer)


def _defer(job: Job) -> None:
    if job.purpose in AGAIN:
        AGAIN[job.purpose](job)
    elif job.purpose == Job.Purpose.LOOK:
        defer_looking(job)
    elif job.purpose == Job.Purpose.MAKE:
        defer_making(job)
    elif job.upload and job.upload.again_id:
        defer_reading(job)
    else:
        defer_storing(job)


@app.periodic(cron="* * * * * */15")  # seconds stand last
@app.task(name="take-up", queue="imports", queueing_lock="take-up", pass_context=True)
async def take_up(context: JobContext, timestamp: int) -> None:
    """Every quarter of a minute, and so right after a worker starts: what a killed worker left is begun again."""
    workers = context.app.job_manager
    for stalled in await workers.get_stalled_jobs(seconds_since_heartbeat=SILENT_AFTER.total_seconds()):
        await workers.finish_job(stalled, Status.FAILED, delete_job=True)
    await sync_to_async(take_up_jobs)()
