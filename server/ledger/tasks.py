"""Work for the job worker."""

from procrastinate.contrib.django import app

from server.ledger import services
from server.studies import services as studies
from server.studies.models import Job


@app.task(name="store-reading", queue="imports")
def store_reading(job_id: str) -> None:
    job = Job.objects.filter(pk=job_id).first()
    if job:
        studies.run_storing(job, services.add_reading)
