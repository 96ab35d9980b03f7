"""What whoever runs a server decides about people."""

from collections.abc import Mapping

from django.conf import settings
from django.db import transaction
from django.http import HttpRequest

from server.accounts import events, second, sessions
from server.accounts.models import User
from server.accounts.requests import SignedIn
from server.problems import Refusal


def require_operator(request: SignedIn) -> None:
    """Refuse whoever does not run this server, as if nothing were here; and whoever does by a password alone."""
    if not request.user.is_staff:
        raise Refusal(404, "not-found", "There is nothing here.")
    if settings.OPERATORS_TWICE and request.user.has_usable_password() and not second.is_on(request.user):
        raise Refusal(
            403, "second-factor-needed", "Who runs a server signs in with a second factor.",
            remedy="Set it up on the page of your account, under your name.",
        )  # fmt: skip


QUOTAS = {"quota_mb", "quota_tables", "quota_jobs"}


def turn_off_second_factor(request: HttpRequest, person_id: int) -> None:
    """Let somebody in by their password alone who lost what makes their codes."""
    second.turn_off(request, User.objects.get(pk=person_id))


@transaction.atomic
def change(
    request: HttpRequest, operator: User, person_id: int, quotas: Mapping[str, int | None], *, active: bool
) -> None:
    """Let a person in or not, and say how much they may keep: quota_mb, quota_tables, quota_jobs; None as everybody."""
    person = User.objects.select_for_update().filter(pk=person_id, guest=False).first()
    if person is None:
        raise Refusal(404, "not-found", "There is no such person.")
    if not active and (person == operator or person.demo):
        raise Refusal(422, "own-account", f"{person.get_username()} stays.", where="active")
    said = {"is_active": active, **quotas}
    if said == {name: getattr(person, name) for name in said}:
        return
    for name, value in said.items():
        setattr(person, name, value)
    person.save(update_fields=list(said))
    if not active:
        sessions.end(person)
    limits = ", ".join(f"{name.removeprefix('quota_')} {value}" for name, value in quotas.items() if value is not None)
    detail = "; ".join(filter(None, ("let in" if active else "shut out", limits)))
    events.record("person-changed", request, person, detail=detail)
