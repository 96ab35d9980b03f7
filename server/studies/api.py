import re
from uuid import UUID

from django.http import HttpRequest, HttpResponse
from heron import record, writing
from ninja import File, Router, UploadedFile

from server.studies import selectors, services
from server.studies.schemas import (
    Choices,
    JobOut,
    PasteIn,
    PreviewOut,
    RowOut,
    StoreIn,
    StudyIn,
    StudyOut,
    TableOut,
    job_out,
    preview_out,
    study_out,
    table_out,
)
from server.studies.tasks import store_upload

router = Router(tags=["studies"])


@router.get("/studies", response=list[StudyOut])
def studies(request: HttpRequest):
    return [study_out(study) for study in selectors.studies(request.user)]


@router.post("/studies", response=StudyOut)
def create_study(request: HttpRequest, study: StudyIn):
    return study_out(services.create_study(request.user, study.title))


@router.get("/tables/{table_id}", response=TableOut)
def table(request: HttpRequest, table_id: UUID):
    return table_out(selectors.table(request.user, table_id))


@router.delete("/tables/{table_id}", response={204: None})
def remove_table(request: HttpRequest, table_id: UUID):
    services.remove_table(request.user, selectors.table(request.user, table_id))
    return HttpResponse(status=204)


@router.get("/tables/{table_id}/rows", response=list[RowOut])
def rows(request: HttpRequest, table_id: UUID, numbers: str):
    found = selectors.table(request.user, table_id)
    asked = [int(number) for number in numbers.split(",")[:200] if number.isdecimal() and len(number) < 10]
    wanted = [number for number in asked if 1 <= number <= found.n_rows]
    cells = selectors.rows(found, wanted)
    aside = set(record.from_runs(found.aside.get("rows", ())).tolist())
    alone = {symbol: set(record.from_runs(runs).tolist()) for symbol, runs in found.aside.get("values", {}).items()}
    return [
        RowOut(
            row=number,
            cells=row,
            aside=number in aside,
            aside_values=[symbol for symbol, held in alone.items() if number in held],
        )
        for number, row in zip(wanted, cells, strict=True)
    ]


_MEDIA = {
    "csv": "text/csv; charset=utf-8",
    "tsv": "text/tab-separated-values; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "ods": "application/vnd.oasis.opendocument.spreadsheet",
    "parquet": "application/vnd.apache.parquet",
    "json": "application/json",
    "package": "application/zip",
}


@router.get("/tables/{table_id}/file", response=None)
def table_file(request: HttpRequest, table_id: UUID, form: writing.Format):
    table = selectors.table(request.user, table_id)
    response = HttpResponse(writing.write(selectors.whole(table), form), content_type=_MEDIA[form])
    name = re.sub(r"[^A-Za-z0-9]+", "-", table.name).strip("-").lower() or "table"
    response["Content-Disposition"] = f'attachment; filename="{name}.{"zip" if form == "package" else form}"'
    return response


@router.post("/studies/{study_id}/uploads", response=PreviewOut)
def bring_in(request: HttpRequest, study_id: UUID, file: UploadedFile = File(...)):  # noqa: B008
    study = selectors.study(request.user, study_id)
    return preview_out(*services.bring_in(request.user, study, file.name or "table.csv", file.chunks(1_000_000)))


@router.post("/studies/{study_id}/pastes", response=PreviewOut)
def paste(request: HttpRequest, study_id: UUID, pasted: PasteIn):
    study = selectors.study(request.user, study_id)
    return preview_out(*services.bring_in(request.user, study, "pasted.txt", [pasted.text.encode()]))


@router.post("/uploads/{upload_id}/preview", response=PreviewOut)
def preview(request: HttpRequest, upload_id: UUID, choices: Choices):
    upload = selectors.upload(request.user, upload_id)
    return preview_out(upload, *services.preview(upload, choices.given()))


@router.post("/uploads/{upload_id}/store", response=JobOut)
def store(request: HttpRequest, upload_id: UUID, asked: StoreIn):
    upload = selectors.upload(request.user, upload_id)
    defer = lambda job_id: store_upload.defer(job_id=job_id)  # noqa: E731
    return job_out(services.start_storing(request.user, upload, asked.name, asked.choices.given(), defer))


@router.get("/jobs/{job_id}", response=JobOut)
def job(request: HttpRequest, job_id: UUID):
    return job_out(selectors.job(request.user, job_id))


@router.post("/jobs/{job_id}/stop", response=JobOut)
def stop(request: HttpRequest, job_id: UUID):
    return job_out(services.stop(request.user, selectors.job(request.user, job_id)))
