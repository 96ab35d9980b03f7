"""A person's own data, taken away whole; and an account that ends."""

import json
import shutil
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from tempfile import TemporaryFile
from typing import IO, Any
from uuid import UUID

from allauth.socialaccount.models import SocialAccount
from django.contrib.auth import logout
from django.db import transaction
from django.db.models import QuerySet
from django.http import HttpRequest
from heron.errors import HeronError

from server.accounts import events, passwords, second, services, sessions
from server.accounts.models import User
from server.plates.models import Style
from server.problems import Refusal
from server.records import packages
from server.studies.models import Membership, Study
from server.studies.services import remove_study


def export(user: User) -> IO[bytes]:
    """A zip of what is kept of a person: the account with what happened to it, and a package of each study."""
    services.require_account(user)
    result = TemporaryFile()  # noqa: SIM115, returned open
    with zipfile.ZipFile(result, "w") as archive:
        archive.writestr("account.json", json.dumps(_account(user), indent=1, ensure_ascii=False))
        studies = Study.objects.filter(memberships__user=user, memberships__link=None)
        for number, study in enumerate(studies, 1):
            name = packages.slug(study.title, number)
            try:
                package, _ = packages.whole(user, study, {})
            except (Refusal, HeronError) as error:
                archive.writestr(f"{name}-is-not-here.txt", f"{study.title}: {error.problem} {error.remedy}\n")
                continue
            # A package is compressed already.
            with package, archive.open(f"{name}.zip", "w", force_zip64=True) as entry:
                shutil.copyfileobj(package, entry)
    result.seek(0)
    return result


def _said(rows: QuerySet[Any], *names: str) -> list[dict[str, str]]:
    return [{name: str(row[name]) for name in names} for row in rows.values(*names)]


def _account(user: User) -> dict[str, Any]:
    return {
        "name": user.get_username(), "address": user.email, "joined": str(user.date_joined), "listed": user.listed,
        "second_factor": second.is_on(user),
        "institution": _said(SocialAccount.objects.filter(user=user), "uid", "date_joined"),
        "sessions": _said(user.open_sessions.all(), "address", "browser", "began", "seen"),
        "tokens": _said(user.tokens.all(), "name", "ending", "created", "ends", "scope", "used"),
        "events": _said(user.events.all(), "kind", "detail", "address", "at"),
        "styles": list(Style.objects.filter(owner=user).values_list("body", flat=True)),
        "studies": _said(user.memberships.filter(link=None), "study__title", "role"),
    }  # fmt: skip


@dataclass(frozen=True)
class Owned:
    """A study that a person owns. others: who works on it besides, the ones who may change it first."""

    id: UUID
    title: str
    others: tuple[str, ...]


def owned_by(user: User) -> list[Owned]:
    """What ends with an account, unless it is handed over."""
    services.require_account(user)
    mine = Study.objects.filter(memberships__user=user, memberships__role=Membership.Role.OWNER)
    return [Owned(study.pk, study.title, tuple(_others(user, study))) for study in mine]


def _others(user: User, study: Study) -> list[str]:
    held = study.memberships.filter(link=None, user__is_active=True).exclude(user=user).select_related("user")
    return [one.user.get_username() for one in sorted(held, key=lambda one: (one.role != "editor", one.pk))]


@transaction.atomic
def remove_account(request: HttpRequest, user: User, password: str, handed: Mapping[UUID, str]) -> None:
    """End an account. Each of its studies goes to whom it is handed, by name, or is removed for everybody; what the
    person decided in studies of others stays there, without their name."""
    services.require_account(user)
    if user.has_usable_password():
        passwords.check(request, user, password)
    else:
        sessions.require_confirmed(request)
    for owned in owned_by(user):
        study = Study.objects.get(pk=owned.id)
        heir = handed.get(owned.id)
        if heir is None:
            remove_study(user, study)
            continue
        if heir not in owned.others:
            raise Refusal(422, "nobody", f"{heir} does not work on {owned.title}.", where="handed")
        study.memberships.filter(user=user).delete()
        held = study.memberships.get(user__username=heir, link=None)
        held.role = Membership.Role.OWNER
        held.save(update_fields=["role"])
        study.owner = held.user
        study.save(update_fields=["owner"])
    name = user.get_username()
    logout(request)
    sessions.end(user)
    user.tokens.all().delete()
    user.memberships.all().delete()
    user.events.all().delete()
    SocialAccount.objects.filter(user=user).delete()
    second.forget(user)
    Style.objects.filter(owner=user).delete()
    user.username, user.email, user.listed = f"former-{user.pk}", "", {}
    user.is_active = user.is_staff = False
    user.set_unusable_password()
    user.save()
    events.record("removed", request, None, name=name)
