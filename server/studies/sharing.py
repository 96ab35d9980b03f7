"""Who works on a study: members, links that let others look, and who is here now."""

import hashlib
import secrets
from dataclasses import dataclass
from datetime import timedelta
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone

from server.accounts import services as accounts
from server.accounts.models import User
from server.problems import Refusal
from server.studies.models import Link, Membership, Study
from server.studies.permissions import require_owner

MOST_MEMBERS = 200
MOST_LINKS = 50
_HERE_FOR = timedelta(seconds=12)
_SAID_EVERY = timedelta(seconds=4)


def members(study: Study) -> list[Membership]:
    """Owners and members in the order in which they came, without those who came by a link."""
    return list(study.memberships.filter(link=None).select_related("user").order_by("pk"))


@transaction.atomic
def invite(user: User, study: Study, name: str, role: str) -> None:
    """Let somebody with an account look at a study, or change it; a second invitation changes the first."""
    require_owner(user, study)
    accounts.require_account(user)
    result = User.objects.filter(username__iexact=name.strip(), guest=False, demo=False, is_active=True).first()
    if result is None:
        raise Refusal(
            404, "nobody", f"Nobody here is called {name.strip()}.", where="name",
            remedy="Ask them for the name that they sign in with, or make a link.",
        )  # fmt: skip
    if study.memberships.filter(link=None).count() >= MOST_MEMBERS:
        raise Refusal(422, "too-many", f"A study has at most {MOST_MEMBERS} members.", where="name")
    owns = study.memberships.filter(user=result, role=Membership.Role.OWNER).exists()
    if owns:
        raise Refusal(422, "own-study", f"{result.get_username()} owns this study.", where="name")
    said = {"role": role, "link": None, "until": None}
    Membership.objects.update_or_create(study=study, user=result, defaults=said)


def dismiss(user: User, study: Study, name: str) -> None:
    """End somebody's membership; members may end their own. What they decided stays, under their name."""
    result = get_object_or_404(study.memberships, user__username=name, link=None)
    if result.user_id != user.pk:
        require_owner(user, study)
    if result.role == Membership.Role.OWNER:
        raise Refusal(422, "own-study", f"{name} owns this study, and stays.", where="name")
    result.delete()


def _digest(text: str) -> str:
    return hashlib.sha256(text.encode()).hexdigest()


@transaction.atomic
def make_link(user: User, study: Study, name: str, days: int) -> tuple[Link, str]:
    """A link for looking, and its secret, which is told this once."""
    require_owner(user, study)
    accounts.require_account(user)
    if study.links.count() >= MOST_LINKS:
        raise Refusal(422, "too-many", f"A study has at most {MOST_LINKS} links.", remedy="Revoke one first.")
    text = secrets.token_urlsafe(32)
    expires = timezone.now() + timedelta(days=days)
    link = Link.objects.create(study=study, name=name.strip(), digest=_digest(text), made_by=user, expires=expires)
    guest = accounts.make_guest()
    Membership.objects.create(study=study, user=guest, role=Membership.Role.VIEWER, link=link, until=expires)
    return link, text


@transaction.atomic
def revoke(user: User, link_id: UUID) -> Study:
    """End a link, and the view of everybody who came by it."""
    link = get_object_or_404(Link.objects.filter(study__memberships__user=user).select_related("study"), pk=link_id)
    require_owner(user, link.study)
    User.objects.filter(guest=True, memberships__link=link).delete()
    link.delete()
    return link.study


@transaction.atomic
def open_link(user: User | None, text: str) -> tuple[Study, User]:
    """The study that a link leads to, and as whom: the person who is signed in, or else the link's guest."""
    link = Link.objects.select_related("study").filter(digest=_digest(text), expires__gt=timezone.now()).first()
    if link is None:
        raise Refusal(
            404, "no-link", "This link leads nowhere: it was revoked, or its time is over.",
            remedy="Ask for a new one.",
        )  # fmt: skip
    Link.objects.filter(pk=link.pk).update(opened=timezone.now())
    if user is None or not user.own:
        return link.study, User.objects.get(guest=True, memberships__link=link)
    said = {"role": Membership.Role.VIEWER, "link": link, "until": link.expires}
    held = study_membership(user, link.study)
    if held is None or (held.until is not None and held.until < link.expires):
        Membership.objects.update_or_create(study=link.study, user=user, defaults=said)
    return link.study, user


def study_membership(user: User, study: Study) -> Membership | None:
    return study.memberships.filter(user=user).first()


@dataclass(frozen=True)
class Present:
    """Somebody before whom the study is open."""

    name: str
    guest: bool


def arrive(user: User, study: Study) -> list[Present]:
    """Say that a person has the study open; who else has."""
    now = timezone.now()
    membership = study.memberships.filter(user=user)
    membership.exclude(here__gt=now - _SAID_EVERY).update(here=now)
    others = study.memberships.filter(here__gt=now - _HERE_FOR).exclude(user=user).select_related("user", "link")
    return [
        Present(other.link.name if other.link and other.user.guest else other.user.get_username(), other.user.guest)
        for other in others
    ]  # fmt: skip
