from typing import Any
from uuid import UUID

from django.http import HttpResponse
from ninja import File, Router, UploadedFile

from server.accounts import rates
from server.accounts.requests import SignedIn
from server.accounts.sessions import require_confirmed
from server.studies import selectors, services
from server.studies.models import Job
from server.studies.permissions import require_owner
from server.studies.schemas import (
    Choices,
    ClassStructureIn,
    ClassStructureOut,
    JobOut,
    PasteIn,
    PreviewOut,
    StoreIn,
    StudyIn,
    StudyOut,
    job_out,
    preview_out,
    study_out,
)
from server.studies.tasks import defer_looking, defer_storing

router = Router(tags=["studies"])


@router.get("/studies", response=list[StudyOut])
def studies(request: SignedIn) -> Any:
    return [study_out(study, request.user) for study in selectors.studies(request.user)]


@router.post("/studies", response=StudyOut)
def create_study(request: SignedIn, study: StudyIn) -> Any:
    return study_out(services.create_study(request.user, study.title), request.user)


@router.patch("/studies/{study_id}", response=StudyOut)
def rename_study(request: SignedIn, study_id: UUID, study: StudyIn) -> Any:
    result = selectors.study(request.user, study_id)
    return study_out(services.rename_study(request.user, result, study.title), request.user)


@router.delete("/studies/{study_id}", response={204: None})
def remove_study(request: SignedIn, study_id: UUID) -> Any:
    """Remove a study for everybody, with all that is in it; only its owner may, and there is no way back."""
    study = selectors.study(request.user, study_id)
    require_owner(request.user, study)
    require_confirmed(request)
    services.remove_study(request.user, study)
    return HttpResponse(status=204)


@router.get("/studies/{study_id}/classes", response=list[ClassStructureOut])
def class_structures(request: SignedIn, study_id: UUID) -> Any:
    return list(selectors.study(request.user, study_id).class_structures.all())


@router.post("/studies/{study_id}/classes", response=ClassStructureOut)
def keep_classes(request: SignedIn, study_id: UUID, kept: ClassStructureIn) -> Any:
    return services.keep_classes(
        request.user, selectors.study(request.user, study_id), kept.name.strip(), kept.boundaries, kept.closed
    )


@router.delete("/classes/{structure_id}", response={204: None})
def remove_classes(request: SignedIn, structure_id: UUID) -> Any:
    services.remove_classes(request.user, selectors.class_structure(request.user, structure_id))
    return HttpResponse(status=204)


def _taken(request: SignedIn) -> None:
    rates.require(rates.UPLOAD, request, request.user.username)
    rates.count(rates.UPLOAD, request, request.user.username)


_PREVIEWED = {200: PreviewOut, 202: JobOut}


def _previewed(looked: services.Looked | Job, choices: dict[str, Any]) -> Any:
    """What a file holds, or the job that finds it out where that takes longer."""
    return (202, job_out(looked)) if isinstance(looked, Job) else (200, preview_out(looked, choices))


@router.post("/studies/{study_id}/uploads", response=_PREVIEWED)
def bring_in(request: SignedIn, study_id: UUID, file: File[UploadedFile]) -> Any:
    study = selectors.study(request.user, study_id)
    _taken(request)
    pieces = file.chunks(1_000_000)
    return _previewed(services.bring_in(request.user, study, file.name or "table.csv", pieces, defer_looking), {})


@router.post("/studies/{study_id}/pastes", response=_PREVIEWED)
def paste(request: SignedIn, study_id: UUID, pasted: PasteIn) -> Any:
    study = selectors.study(request.user, study_id)
    _taken(request)
    looked = services.bring_in(request.user, study, pasted.name, [pasted.text.encode()], defer_looking)
    return _previewed(looked, {})


@router.post("/tables/{table_id}/uploads", response=_PREVIEWED)
def look_again(request: SignedIn, table_id: UUID) -> Any:
    table = selectors.table(request.user, table_id)
    choices = table.imports[table.import_version]["choices"]
    return _previewed(services.look_again(request.user, table, defer_looking), choices)


@router.post("/uploads/{upload_id}/preview", response=_PREVIEWED)
def preview(request: SignedIn, upload_id: UUID, choices: Choices) -> Any:
    upload = selectors.upload(request.user, upload_id)
    return _previewed(services.look_at(request.user, upload, choices.given(), defer_looking), choices.given())


@router.post("/uploads/{upload_id}/store", response=JobOut)
def store(request: SignedIn, upload_id: UUID, asked: StoreIn) -> Any:
    upload = selectors.upload(request.user, upload_id)
    return job_out(services.start_storing(request.user, upload, asked.name, asked.choices.given(), defer_storing))


@router.get("/jobs/{job_id}", response=JobOut)
def job(request: SignedIn, job_id: UUID) -> Any:
    return job_out(selectors.job(request.user, job_id))


@router.post("/jobs/{job_id}/stop", response=JobOut)
def stop(request: SignedIn, job_id: UUID) -> Any:
    return job_out(services.stop(request.user, selectors.job(request.user, job_id)))
