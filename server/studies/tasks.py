"""Work for the job worker."""

from procrastinate.contrib.django import app

from server.studies import services
from server.studies.models import Job


@app.task(name="store-upload", queue="imports")
def store_upload(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        services.run_storing(job)
