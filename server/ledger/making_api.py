"""Tables made here: of other tables, or simulated."""

from typing import Any
from uuid import UUID

from heron import rearranging
from ninja import Router

from server.accounts.requests import SignedIn
from server.ledger import making
from server.ledger.making_schemas import (
    DistributionOut,
    InboxFileOut,
    InboxIn,
    MadePreview,
    MakeIn,
    StemOut,
    TableRecipeIn,
    distributions_out,
    made_preview,
    stems_out,
)
from server.ledger.request_params import table_of_request
from server.ledger.tasks import defer_making
from server.studies import inbox
from server.studies import selectors as studies
from server.studies.models import Job
from server.studies.schemas import JobOut, TableOut, job_out, table_out
from server.studies.services import begin_from_inbox
from server.studies.snapshots import TableSnapshot

router = Router(tags=["making"])


@router.post("/studies/{study_id}/made/preview", response=MadePreview)
def preview(request: SignedIn, study_id: UUID, asked: TableRecipeIn) -> Any:
    study = studies.study(request.user, study_id)
    return made_preview(making.preview(request.user, study, asked.wish()))


@router.post("/studies/{study_id}/made", response={200: TableOut, 202: JobOut})
def make(request: SignedIn, study_id: UUID, asked: MakeIn) -> Any:
    study = studies.study(request.user, study_id)
    made = making.begin(request.user, study, asked.name, asked.wish(), defer_making)
    return (202, job_out(made)) if isinstance(made, Job) else (200, table_out(TableSnapshot.of(made)))


@router.get("/studies/{study_id}/inbox", response=list[InboxFileOut])
def inbox_files(request: SignedIn, study_id: UUID) -> Any:
    """Files on this server, which its operator offers to be read in place."""
    studies.study(request.user, study_id)
    return inbox.files()


@router.post("/studies/{study_id}/inbox", response={202: JobOut})
def read_inbox(request: SignedIn, study_id: UUID, asked: InboxIn) -> Any:
    study = studies.study(request.user, study_id)
    return 202, job_out(begin_from_inbox(request.user, study, asked.file, asked.name, defer_making))


@router.get("/tables/{table_id}/stems", response=list[StemOut])
def stems(request: SignedIn, table_id: UUID) -> Any:
    """The columns of a table that seem to repeat one measurement."""
    return stems_out(rearranging.stems(table_of_request(request, table_id).active()))


@router.get("/distributions", response=list[DistributionOut])
def distributions(request: SignedIn) -> Any:
    return distributions_out()
