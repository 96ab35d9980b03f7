"""A study as a whole: how far it has come, run again, handed on."""

import json
from typing import Any
from uuid import UUID

from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import Router, Schema
from ninja.security import SessionAuth

from server.accounts import events
from server.accounts.requests import SignedIn
from server.accounts.sessions import require_confirmed
from server.documenting import file_of
from server.ledger.request_params import table_of_request
from server.plates.models import Plate, TablePlate
from server.records import answering, leaving, packages, routines, scripts, selectors
from server.records.documents import Routine, published_schema
from server.records.schemas import (
    FitIn,
    FitOut,
    OpenedPackageOut,
    OwnedOut,
    PackageIn,
    PulseOut,
    RanOut,
    RemoveIn,
    RunIn,
    ScriptIn,
    ScriptOut,
)
from server.records.tasks import defer_answering
from server.studies import selectors as studies
from server.studies.models import Job, Study, Upload
from server.studies.schemas import JobOut, job_out

router = Router(tags=["records"])


@router.get("/studies/{study_id}/pulse", response=PulseOut)
def pulse(request: SignedIn, study_id: UUID) -> Any:
    """How far a study has come, and who else has it open."""
    return selectors.pulse(request.user, studies.study(request.user, study_id))


@router.get("/routines/schema", response=None, openapi_extra=file_of("application/schema+json"))
def routine_schema(request: SignedIn) -> Any:
    """The JSON Schema of a routine."""
    return HttpResponse(json.dumps(published_schema(), indent=1), content_type="application/schema+json")


@router.get("/tables/{table_id}/routine", response=Routine)
def routine(request: SignedIn, table_id: UUID) -> Any:
    """What was done with a table, to be done again with another file."""
    result = routines.routine_of(table_of_request(request, table_id).row)
    return HttpResponse(json.dumps(result, ensure_ascii=False, indent=1), content_type="application/json")


@router.post("/studies/{study_id}/routines/fit", response={200: FitOut, 202: JobOut})
def fit(request: SignedIn, study_id: UUID, asked: FitIn) -> Any:
    """A routine beside a file: which variables are which, and what is in the way. Nothing is changed. Of a large file
    the job that finds it out; GET jobs/{id}/fit tells it then."""
    return _answered(request, _upload(request, study_id, asked.upload), Job.Purpose.FIT, asked, 200)


@router.post("/studies/{study_id}/routines/run", response={201: RanOut, 202: JobOut})
def run(request: SignedIn, study_id: UUID, asked: RunIn) -> Any:
    """Do with a file what a routine says: a new table with its ledger, the tables made of it, the plates. With a large
    file the job that does it; GET jobs/{id}/ran tells what came of it."""
    return _answered(request, _upload(request, study_id, asked.upload), Job.Purpose.RUN, asked, 201)


@router.get("/jobs/{job_id}/fit", response=FitOut)
def fit_of_job(request: SignedIn, job_id: UUID) -> Any:
    return answering.of_job(studies.job(request.user, job_id), FitOut)


@router.get("/jobs/{job_id}/ran", response=RanOut)
def ran_of_job(request: SignedIn, job_id: UUID) -> Any:
    return answering.of_job(studies.job(request.user, job_id), RanOut)


@router.get("/jobs/{job_id}/opened", response=OpenedPackageOut)
def opened_of_job(request: SignedIn, job_id: UUID) -> Any:
    return answering.of_job(studies.job(request.user, job_id), OpenedPackageOut)


def _answered(request: SignedIn, upload: Upload, purpose: Job.Purpose, asked: Schema | None, status: int) -> Any:
    told = answering.answered(request.user, upload, purpose, asked, defer_answering)
    return (202, job_out(told)) if isinstance(told, Job) else (status, told)


@router.post("/studies/{study_id}/package", response=None, openapi_extra=file_of("application/zip"))
def package(request: SignedIn, study_id: UUID, asked: PackageIn) -> Any:
    """The whole study as a Data Package: data with their schema, files as they came, Ledger, routines, plates, methods.

    Posted, since the pictures of its plates are drawn by a page and come along."""
    study = studies.study(request.user, study_id)
    sink = packages.write(request.user, study, asked.pictures)
    name = f"{packages.slug(study.title, 0)[3:]}.zip"
    return FileResponse(sink, as_attachment=True, filename=name, content_type="application/zip")


@router.post("/studies/{study_id}/script/text", response=ScriptOut)
def script_text(request: SignedIn, study_id: UUID, asked: ScriptIn) -> Any:
    """A Python script that repeats the study's decisions and redraws plates, and what it cannot carry."""
    study = studies.study(request.user, study_id)
    made, tables = scripts.script_of(request.user, study, _kept(study, asked))
    return ScriptOut(text=made.text, notes=list(made.notes), files=[table.path for table in tables if table.path])


@router.post("/studies/{study_id}/script", response=None, openapi_extra=file_of("application/zip"))
def script(request: SignedIn, study_id: UUID, asked: ScriptIn) -> Any:
    """The script as a zip, with the files that it reads and the core as a wheel."""
    study = studies.study(request.user, study_id)
    body = scripts.zipped(request.user, study, _kept(study, asked))
    response = HttpResponse(body, content_type="application/zip")
    response["Content-Disposition"] = f'attachment; filename="{packages.slug(study.title, 0)[3:]}-script.zip"'
    return response


def _kept(study: Study, asked: ScriptIn) -> tuple[list[Plate], list[TablePlate]]:
    plates, of_numbers = study.plates.all(), study.table_plates.all()
    if asked.plates is None:
        return list(plates), list(of_numbers)
    return list(plates.filter(pk__in=asked.plates)), list(of_numbers.filter(pk__in=asked.plates))


@router.post("/uploads/{upload_id}/open", response={201: OpenedPackageOut, 202: JobOut})
def open_package(request: SignedIn, upload_id: UUID) -> Any:
    """Open a package that was brought in: as the study that it holds, or all its tables in the study at hand. Of a
    large one the job that does it; GET jobs/{id}/opened tells what came of it."""
    return _answered(request, studies.upload(request.user, upload_id), Job.Purpose.OPEN, None, 201)


def _upload(request: SignedIn, study_id: UUID, upload_id: UUID) -> Upload:
    """A file that was brought into this very study."""
    study = studies.study(request.user, study_id)
    return get_object_or_404(study.uploads.select_related("file", "study"), pk=upload_id)


@router.get("/session/export", response=None, auth=SessionAuth(), openapi_extra=file_of("application/zip"))
def export(request: SignedIn) -> Any:
    """All that is kept of the person, with a package of each study."""
    require_confirmed(request)
    events.record("exported", request, request.user)
    made = leaving.export(request.user)
    return FileResponse(made, as_attachment=True, filename="velvet-heron-account.zip", content_type="application/zip")


@router.get("/session/owned", response=list[OwnedOut], auth=SessionAuth())
def owned(request: SignedIn) -> Any:
    """Studies that end with the account, unless they are handed over."""
    return leaving.owned_by(request.user)


@router.post("/session/remove", response={204: None}, auth=SessionAuth())
def remove_account(request: SignedIn, said: RemoveIn) -> Any:
    """End the account: studies go to whom they are handed, or are removed; decisions elsewhere stay without a name."""
    leaving.remove_account(request, request.user, said.password, said.handed)
    return 204, None
