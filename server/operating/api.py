"""For whoever runs a server; for everybody else there is nothing here."""

from typing import Any

from django.conf import settings
from ninja import Router
from ninja.security import SessionAuth

from server.accounts import events, invitations
from server.accounts.models import Event, Invitation, Letter
from server.accounts.requests import SignedIn
from server.accounts.sessions import require_confirmed
from server.operating import selectors, services
from server.operating.schemas import InvitationIn, MadeInvitationOut, OverviewOut, PersonChange

router = Router(tags=["operating"], auth=SessionAuth())


def _invitation(one: Invitation) -> dict[str, Any]:
    used = one.used_by.get_username() if one.used_by else None
    return {"id": one.pk, "name": one.name, "created": one.created, "expires": one.expires, "used_by": used}


@router.get("/operating", response=OverviewOut)
def overview(request: SignedIn) -> Any:
    """Everybody with an account and what they keep; invitations, letters, and what happened to accounts."""
    services.require_operator(request)
    return {
        "sign_up": settings.SIGN_UP, "mail": bool(settings.MAIL_HOST), "quota_mb": settings.QUOTA_MB,
        "quota_tables": settings.QUOTA_TABLES, "quota_jobs": settings.QUOTA_JOBS,
        "people": selectors.people(),
        "invitations": [_invitation(one) for one in Invitation.objects.select_related("used_by")[:200]],
        "letters": list(Letter.objects.all()[:200]),
        "events": [
            {"name": one.name, "what": events.KINDS.get(one.kind, one.kind), "detail": one.detail,
             "address": one.address, "at": one.at} for one in Event.objects.all()[:300]
        ],
    }  # fmt: skip


@router.put("/operating/people/{person_id}", response={204: None})
def change_person(request: SignedIn, person_id: int, said: PersonChange) -> Any:
    services.require_operator(request)
    require_confirmed(request)
    services.change(request, request.user, person_id, said.model_dump(include=services.QUOTAS), active=said.active)
    if not said.second_factor:
        services.turn_off_second_factor(request, person_id)
    return 204, None


@router.post("/operating/invitations", response={201: MadeInvitationOut})
def invite(request: SignedIn, said: InvitationIn) -> Any:
    """An invitation by which somebody makes an account, once; its address is told this once."""
    services.require_operator(request)
    made, secret = invitations.make(request.user, said.name, said.days)
    events.record("invited", request, request.user, detail=made.name)
    return 201, {**_invitation(made), "path": f"/join/{secret}"}


@router.delete("/operating/invitations/{invitation_id}", response={204: None})
def revoke_invitation(request: SignedIn, invitation_id: int) -> Any:
    services.require_operator(request)
    Invitation.objects.filter(pk=invitation_id, used_by=None).delete()
    return 204, None


@router.delete("/operating/letters/{letter_id}", response={204: None})
def remove_letter(request: SignedIn, letter_id: int) -> Any:
    """A letter that was handed over goes."""
    services.require_operator(request)
    Letter.objects.filter(pk=letter_id).delete()
    return 204, None
