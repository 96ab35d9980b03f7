"""Who works on a study: members, and links that let others look."""

from typing import Any, cast
from uuid import UUID

from ninja import Router
from ninja.security import SessionAuth

from server.accounts import events
from server.accounts.api import anyone
from server.accounts.requests import SignedIn
from server.accounts.services import open_session
from server.accounts.sessions import require_confirmed
from server.studies import selectors, sharing
from server.studies.models import Study
from server.studies.permissions import require_owner
from server.studies.schemas import (
    LinkIn,
    MadeLinkOut,
    MemberIn,
    MemberOut,
    OpenedOut,
    OpenLinkIn,
    PeopleOut,
    Role,
    link_out,
)

router = Router(tags=["sharing"])


def people_out(request: SignedIn, study: Study) -> PeopleOut:
    result = sharing.members(study)
    mine = next((member.role for member in result if member.user_id == request.user.pk), "viewer")
    return PeopleOut(
        members=[
            MemberOut(
                name=member.user.get_username(), role=cast(Role, member.role), you=member.user_id == request.user.pk
            )
            for member in result
        ],
        # Links are the owner's affair.
        links=[link_out(link) for link in study.links.all()] if mine == "owner" else [],
        role=cast(Role, mine),
    )


@router.get("/studies/{study_id}/people", response=PeopleOut)
def people(request: SignedIn, study_id: UUID) -> Any:
    return people_out(request, selectors.study(request.user, study_id))


@router.put("/studies/{study_id}/people", response=PeopleOut)
def invite(request: SignedIn, study_id: UUID, asked: MemberIn) -> Any:
    """Let somebody with an account look at a study, or change it."""
    study = selectors.study(request.user, study_id)
    sharing.invite(request.user, study, asked.name, asked.role)
    return people_out(request, study)


@router.delete("/studies/{study_id}/people", response={204: None})
def dismiss(request: SignedIn, study_id: UUID, name: str) -> Any:
    sharing.dismiss(request.user, selectors.study(request.user, study_id), name)
    return 204, None


@router.post("/studies/{study_id}/links", response={201: MadeLinkOut}, auth=SessionAuth())
def make_link(request: SignedIn, study_id: UUID, asked: LinkIn) -> Any:
    """A link for looking; its secret is told this once. It takes a person who is signed in, and their password."""
    study = selectors.study(request.user, study_id)
    require_owner(request.user, study)
    require_confirmed(request)
    link, text = sharing.make_link(request.user, study, asked.name, asked.days)
    events.record("link-made", request, request.user, detail=f"{study.title}: {link.name}")
    return 201, MadeLinkOut(**link_out(link).model_dump(), path=f"/look/{text}")


@router.delete("/links/{link_id}", response={204: None})
def revoke(request: SignedIn, link_id: UUID) -> Any:
    study = sharing.revoke(request.user, link_id)
    events.record("link-revoked", request, request.user, detail=study.title)
    return 204, None


@router.post("/session/link", response=OpenedOut, auth=anyone)
def open_link(request: SignedIn, asked: OpenLinkIn) -> Any:
    """Open a study by a link: as oneself where one is signed in, else as a guest who may look."""
    visitor = request.user if request.user.is_authenticated else None
    study, user = sharing.open_link(visitor, asked.secret)
    if user != visitor:
        open_session(request, user)
    return OpenedOut(study=study.id, table=study.tables.values_list("pk", flat=True).first())
