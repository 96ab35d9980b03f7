"""Reports: figures, tables and words in an order, and the files in which they leave."""

from typing import Any
from uuid import UUID

from django.http import HttpResponse
from heron.report import TYPES
from ninja import Router

from server.accounts.requests import SignedIn
from server.documenting import file_of
from server.plates import services as plating
from server.plates.schemas import PlaceIn
from server.problems import Refusal
from server.reports import selectors, services
from server.reports.schemas import (
    ComposedIn,
    ComposedOut,
    Form,
    PagesOut,
    ReportChange,
    ReportIn,
    ReportLine,
    ReportOut,
    composed_out,
    line_of,
    report_out,
)
from server.reports.tasks import defer_writing
from server.studies import selectors as studies
from server.studies.schemas import JobOut, job_out

router = Router(tags=["reports"])


@router.get("/studies/{study_id}/reports", response=list[ReportLine])
def reports(request: SignedIn, study_id: UUID) -> Any:
    return [line_of(report) for report in selectors.reports(studies.study(request.user, study_id))]


@router.post("/studies/{study_id}/reports", response={201: ReportOut})
def keep_report(request: SignedIn, study_id: UUID, asked: ReportIn) -> Any:
    study = studies.study(request.user, study_id)
    return 201, report_out(services.keep(request.user, study, asked.name, asked.document))


@router.get("/reports/{report_id}", response=ReportOut)
def report(request: SignedIn, report_id: UUID) -> Any:
    return report_out(selectors.report(request.user, report_id))


@router.put("/reports/{report_id}", response=ReportOut)
def change_report(request: SignedIn, report_id: UUID, asked: ReportChange) -> Any:
    held = selectors.report(request.user, report_id)
    return report_out(services.change(request.user, held, asked.name, asked.document, asked.version))


@router.delete("/reports/{report_id}", response={204: None})
def take_report_away(request: SignedIn, report_id: UUID) -> Any:
    plating.take_away(request.user, selectors.report(request.user, report_id))
    return 204, None


@router.post("/reports/{report_id}/duplicate", response={201: ReportOut})
def duplicate_report(request: SignedIn, report_id: UUID) -> Any:
    return 201, report_out(services.duplicate(request.user, selectors.report(request.user, report_id)))


@router.post("/reports/{report_id}/place", response={204: None})
def place_report(request: SignedIn, report_id: UUID, asked: PlaceIn) -> Any:
    plating.move(request.user, selectors.report(request.user, report_id), asked.before)
    return 204, None


@router.post("/studies/{study_id}/reports/composed", response=ComposedOut)
def composed(request: SignedIn, study_id: UUID, asked: ComposedIn) -> Any:
    """What a report comes to as the study now stands; a question that changes nothing, posted since documents may be
    long."""
    made = selectors.composed(request.user, studies.study(request.user, study_id), asked.document)
    return composed_out(made, asked.document)


@router.post("/reports/{report_id}/files", response={202: JobOut})
def make_file(request: SignedIn, report_id: UUID, form: Form) -> Any:
    """Have a report made in a form, as it stands; its job says when it is done."""
    held = selectors.report(request.user, report_id)
    return 202, job_out(services.begin(request.user, held, form, defer_writing))


@router.get("/reports/{report_id}/files/{form}", response=None, openapi_extra=file_of(*TYPES.values()))
def file(request: SignedIn, report_id: UUID, form: Form) -> Any:
    """A report as it was last made in a form."""
    made = selectors.file_of(selectors.report(request.user, report_id), form)
    return HttpResponse(bytes(made.body), content_type=TYPES[form])


@router.get("/reports/{report_id}/pages", response=PagesOut)
def pages(request: SignedIn, report_id: UUID) -> Any:
    """How many pages a report had as it was last made as PDF."""
    made = selectors.report(request.user, report_id).files.filter(form="pdf").defer("body").first()
    return PagesOut(n=made.pages.count() if made else 0, key=made.key if made else "")


@router.get("/reports/{report_id}/pages/{number}", response=None, openapi_extra=file_of("image/png"))
def page(request: SignedIn, report_id: UUID, number: int) -> Any:
    """A page of a report, from 1, as it was last made as PDF."""
    made = selectors.file_of(selectors.report(request.user, report_id), "pdf")
    shown = made.pages.filter(number=number).first()
    if shown is None:
        raise Refusal(404, "no-page", f"The report has no page {number}.", where="number")
    return HttpResponse(bytes(shown.body), content_type="image/png")
